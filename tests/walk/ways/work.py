"""How tasks are set, and work collected, by teachers."""

from __future__ import annotations

from typing import Any

from tests.walk.ways.student import handed_back
from tests.walk.ways.walker import Plan, Walker, way

KINDS = ["handed-in", "observed", "other-evidence"]


def _words(w: Walker, klass: int, who: int, rubric: int | None = None) -> dict[str, Any]:
    """What a teacher says of a task."""
    if rubric is None:
        rubric = w.one(
            "SELECT r.id FROM rubric r WHERE r.owner_id = ? AND EXISTS (SELECT 1 FROM revision v "
            "WHERE v.rubric_id = r.id AND v.final_at IS NOT NULL) ORDER BY r.id",
            who,
        )
    due = w.due()
    return {
        "title": w.pick(["Chart", "Night walk", "Tide & wind"]),
        "instructions": w.pick(["", "Mind the *rocks*."]),
        "kind": w.pick(KINDS),
        "rubric_id": rubric,
        "due_at": due,
        "closes_at": None if due is None or w.chance(70) else w.moment(60, 90),
        "points": w.pick([None, "20"]),
        "practice": w.chance(12),
        "rubric_shown": not w.chance(20),
        "late_per_day": w.pick([0, 10]),
        "late_most": w.pick([100, 30]),
        "attempts_rule": w.pick(["latest", "highest", "mean", "every"]),
        "draft": w.chance(10),
        "set_at": w.pick([None, None, w.moment(0, 20)]),
        "student_ids": None if w.chance(75) else w.some(w.students(klass)),
        "criteria": None,
    }


@way()
def make_task(w: Walker) -> Plan:
    klass = w.klass()
    who = w.teacher(klass)
    return Plan(who, _words(w, klass, who), numbers={"class_id": klass})


def _changed(w: Walker) -> tuple[int, int, dict[str, Any]]:
    """A teacher, a task, and the task as it is but for one thing or several."""
    task, klass = w.task()
    who = w.teacher(klass)
    page = w.school.get(who, f"/tasks/{task}")
    asked = [one["key"] for one in page["criteria"] if one["asked"]]
    now = {
        name: page[name]
        for name in (
            *("title", "instructions", "kind", "due_at", "closes_at", "practice"),
            *("rubric_shown", "late_per_day", "late_most", "attempts_rule", "category"),
            *("student_ids", "starting_text", "set_at"),
        )
    }
    now |= {
        "rubric_id": page["rubric"]["id"],
        "points": page["own_points"],
        "criteria": None if page["all_criteria"] else asked,
        "draft": page["set_at"] is None,
        "version": page["version"],
    }
    other = _words(w, klass, who, page["rubric"]["id"])
    if asked and w.chance(10):
        other["criteria"] = w.some(asked)
    some = w.some(sorted(other))
    return who, task, {**now, **{name: other[name] for name in some[:3]}}


@way("change_task", "read_task_effects")
def change_task(w: Walker) -> Plan:
    who, task, body = _changed(w)
    return Plan(who, body, numbers={"task_id": task})


@way()
def delete_task(w: Walker) -> Plan:
    task, klass = w.task()
    return Plan(w.teacher(klass), numbers={"task_id": task})


@way()
def copy_task(w: Walker) -> Plan:
    task, klass = w.task()
    who = w.teacher(klass)
    into = w.one(
        "SELECT class_id FROM membership WHERE person_id = ? AND role = 'teacher' "
        "AND until IS NULL ORDER BY id",
        who,
    )
    return Plan(who, {"class_id": into}, numbers={"task_id": task})


@way("set_own_times", "read_own_times_effects")
def set_own_times(w: Walker) -> Plan:
    task, klass = w.task("handed-in")
    body = {
        "student_ids": w.some(w.students(klass)),
        "due_at": w.due(),
        "closes_at": w.pick([None, None, w.moment(60, 90)]),
    }
    return Plan(w.teacher(klass), body, numbers={"task_id": task})


@way("correct_times", "read_time_effects")
def correct_times(w: Walker) -> Plan:
    at = w.marked()
    body = {
        "student_ids": [at.student_id],
        "done_at": w.pick([None, w.moment(-100, 0)]),
    }
    return Plan(at.who, body, numbers={"task_id": at.task_id})


@way()
def excuse(w: Walker) -> Plan:
    at = w.place()
    numbers = {"task_id": at.task_id, "student_id": at.student_id}
    return Plan(at.who, {"excused": w.chance(55)}, numbers=numbers)


@way()
def read_excuse_effects(w: Walker) -> Plan:
    at = w.place()
    numbers = {"task_id": at.task_id, "student_id": at.student_id}
    return Plan(at.who, query={"excused": w.pick(["true", "false"])}, numbers=numbers)


@way()
def enter_work(w: Walker) -> Plan:
    at = w.place("handed-in", "other-evidence", "other-evidence")
    form = {"text": w.pick(["Spoke of the wind", "North, on paper"])}
    if w.chance(30):
        form["done_at"] = w.moment(-60, 0)
    if w.chance(60):
        form["entry"] = str(w.dice.number(1, 3))
    numbers = {"task_id": at.task_id, "student_id": at.student_id}
    return Plan(at.who, form=form, numbers=numbers)


@way()
def delete_entry(w: Walker) -> Plan:
    """Mostly of one that nothing is marked on."""
    bare = "NOT EXISTS (SELECT 1 FROM mark m WHERE m.attempt_id = a.id)"
    task, klass, student, entry = w.one(
        "SELECT t.id, t.class_id, ts.student_id, a.number FROM attempt a JOIN task_student ts "
        "ON ts.id = a.task_student_id JOIN task t ON t.id = ts.task_id "
        f"WHERE t.kind = 'other-evidence' AND {'1' if w.chance(15) else bare} ORDER BY a.id DESC"
    )
    numbers = {"task_id": task, "student_id": student, "entry": entry}
    return Plan(w.teacher(klass), numbers=numbers)


@way()
def add_work_file(w: Walker) -> Plan:
    at = w.place("handed-in", "other-evidence")
    body = {"upload_id": w.upload(at.who)}
    return Plan(at.who, body, numbers={"task_id": at.task_id, "student_id": at.student_id})


@way()
def add_work_link(w: Walker) -> Plan:
    at = w.place("handed-in", "other-evidence")
    body = {"address": "https://tern.example/chart"}
    return Plan(at.who, body, numbers={"task_id": at.task_id, "student_id": at.student_id})


@way()
def match_files(w: Walker) -> Plan:
    task, klass = w.task("handed-in")
    who = w.teacher(klass)
    return Plan(who, {"upload_ids": [w.upload(who)]}, numbers={"task_id": task})


@way()
def collect_file(w: Walker) -> Plan:
    at = w.place("handed-in")
    body = {
        "upload_id": w.upload(at.who),
        "entry": 0,
        "student_id": at.student_id,
        "batch": f"batch-of-task-{at.task_id}",
    }
    return Plan(at.who, body, numbers={"task_id": at.task_id})


@way()
def undo_collecting(w: Walker) -> Plan:
    task, klass, batch = w.one(
        "SELECT DISTINCT t.id, t.class_id, p.batch FROM work_part p JOIN attempt a "
        "ON a.id = p.attempt_id JOIN task_student ts ON ts.id = a.task_student_id "
        "JOIN task t ON t.id = ts.task_id WHERE p.batch IS NOT NULL"
    )
    return Plan(w.teacher(klass), {"batch": batch}, numbers={"task_id": task})


_PART = (
    "SELECT p.id, t.class_id FROM work_part p JOIN attempt a ON a.id = p.attempt_id "
    "JOIN task_student ts ON ts.id = a.task_student_id JOIN task t ON t.id = ts.task_id"
)


@way("remove_work_part", "read_part_shown")
def remove_work_part(w: Walker) -> Plan:
    part, klass = w.one(f"{_PART} ORDER BY p.id DESC")
    return Plan(w.teacher(klass), numbers={"part_id": part})


@way()
def read_part_file(w: Walker) -> Plan:
    part, klass = w.one(f"{_PART} WHERE p.kind = 'file' ORDER BY p.id DESC")
    return Plan(w.teacher(klass), numbers={"part_id": part})


@way()
def read_part_picture(w: Walker) -> Plan:
    part, klass = w.one(f"{_PART} ORDER BY p.id DESC")
    return Plan(w.teacher(klass), numbers={"part_id": part, "picture": 1})


_OWN_PART = (
    "SELECT ts.student_id, p.id FROM work_part p LEFT JOIN attempt a ON a.id = p.attempt_id "
    "JOIN task_student ts ON ts.id = coalesce(p.draft_of, a.task_student_id)"
)


@way("read_own_part_shown")
def read_own_part_shown(w: Walker) -> Plan:
    who, part = w.one(f"{_OWN_PART} ORDER BY p.id DESC")
    return Plan(who, numbers={"part_id": part})


@way()
def read_own_part_file(w: Walker) -> Plan:
    who, part = w.one(f"{_OWN_PART} WHERE p.kind = 'file' ORDER BY p.id DESC")
    return Plan(who, numbers={"part_id": part})


@way()
def read_own_part_picture(w: Walker) -> Plan:
    who, part = w.one(f"{_OWN_PART} ORDER BY p.id DESC")
    return Plan(who, numbers={"part_id": part, "picture": 1})


@way()
def attach_file(w: Walker) -> Plan:
    task, klass = w.task()
    who = w.teacher(klass)
    body = {"upload_id": w.upload(who), "starting": w.chance(40)}
    return Plan(who, body, numbers={"task_id": task})


@way("detach_file", "read_task_file")
def detach_file(w: Walker) -> Plan:
    file, klass = w.one(
        "SELECT f.id, t.class_id FROM task_file f JOIN task t ON t.id = f.task_id ORDER BY f.id"
    )
    return Plan(w.teacher(klass), numbers={"file_id": file})


@way()
def read_own_task_file(w: Walker) -> Plan:
    file, klass = w.one(
        "SELECT f.id, t.class_id FROM task_file f JOIN task t ON t.id = f.task_id ORDER BY f.id"
    )
    return Plan(w.student(klass), numbers={"file_id": file})


# What is read by a number that stands in no page's path before it.


@way()
def read_feedback_file(w: Walker) -> Plan:
    number, klass = w.one(
        "SELECT f.id, t.class_id FROM mark_file f JOIN mark m ON m.id = f.mark_id "
        "JOIN attempt a ON a.id = m.attempt_id JOIN task_student ts ON ts.id = a.task_student_id "
        "JOIN task t ON t.id = ts.task_id ORDER BY f.id"
    )
    return Plan(w.teacher(klass), numbers={"feedback_id": number})


@way()
def read_own_feedback_file(w: Walker) -> Plan:
    number, student = w.one(
        "SELECT f.id, ts.student_id FROM mark_file f JOIN mark m ON m.id = f.mark_id "
        "JOIN attempt a ON a.id = m.attempt_id JOIN task_student ts ON ts.id = a.task_student_id "
        "ORDER BY f.id"
    )
    return Plan(student, numbers={"feedback_id": number})


@way("read_note_file", "read_own_note_file")
def read_note_file(w: Walker) -> Plan:
    number, klass, student = w.one(
        "SELECT f.id, n.class_id, n.student_id FROM note_file f JOIN note n ON n.id = f.note_id"
    )
    return Plan(w.pick([w.teacher(klass), student]), numbers={"file_id": number})


@way("read_result", "read_newest_result", "read_own_marked_work")
def read_result(w: Walker) -> Plan:
    student, task, attempt = handed_back(w)
    return Plan(student, numbers={"task_id": task, "attempt": attempt})
