"""How marking, handing back, observing and notes are asked for."""

from __future__ import annotations

from typing import Any

from tests.walk.ways.walker import Plan, Walker, way


@way()
def choose(w: Walker) -> Plan:
    at = w.place("handed-in", "other-evidence") if w.chance(80) else w.place()
    criterion, half_way, levels = w.criterion(at.revision_id)
    body = {**w.choice(half_way, levels), "version": at.version}
    if w.chance(5):
        body = {"level_id": None, "version": at.version}
    return Plan(at.who, body, numbers=at.numbers(criterion_id=criterion))


@way()
def choose_before(w: Walker) -> Plan:
    return choose(w)


@way("remark_on_criterion", "remark_on_criterion_before")
def remark_on_criterion(w: Walker) -> Plan:
    at = w.place()
    criterion, _, _ = w.criterion(at.revision_id)
    body = {"text": w.pick([w.word(), "", "Zoe and Kai saw it"]), "version": at.version}
    return Plan(at.who, body, numbers=at.numbers(criterion_id=criterion))


@way("remark_on_whole", "remark_on_whole_before")
def remark_on_whole(w: Walker) -> Plan:
    at = w.place()
    return Plan(at.who, {"text": w.word(), "version": at.version}, numbers=at.numbers())


@way()
def adjust_total(w: Walker) -> Plan:
    at = w.marked()
    line = {"amount": w.pick(["1", "-0.5", "2.25"]), "reason": "Neat"}
    body: dict[str, Any] = {
        "lines": [line] if w.chance(50) else [],
        "waived": w.pick([None, "Ill"]),
        "by_hand": w.pick([None, {"amount": "7.5", "reason": "Spoken about"}]),
        "version": at.version,
    }
    return Plan(at.who, body, numbers=at.numbers())


@way("finish", "finish_before")
def finish(w: Walker) -> Plan:
    """Mostly of a mark that lacks nothing."""
    whole = (
        "NOT EXISTS (SELECT 1 FROM criterion c WHERE c.revision_id = t.revision_id AND c.bonus = 0 "
        "AND NOT EXISTS (SELECT 1 FROM mark_choice mc WHERE mc.mark_id = m.id "
        "AND mc.criterion_id = c.id AND mc.until_version IS NULL)) "
        "AND m.finished_version IS NOT m.version"
    )
    at = w.marked() if w.chance(30) else w.marked(whole)
    return Plan(at.who, numbers=at.numbers())


@way()
def remark_on_passage(w: Walker) -> Plan:
    task, klass, student, number, part, text = w.one(
        "SELECT t.id, t.class_id, ts.student_id, a.number, p.id, p.text FROM work_part p "
        "JOIN attempt a ON a.id = p.attempt_id JOIN task_student ts ON ts.id = a.task_student_id "
        "JOIN task t ON t.id = ts.task_id WHERE p.kind = 'text' AND length(p.text) > 3 "
        "ORDER BY p.id"
    )
    at = w.place_of(task, klass, student, number)
    criterion, _, _ = w.criterion(at.revision_id)
    end = min(len(text), 4)
    body = {
        "key": w.pick([f"passage-of-{part}", w.key("passage")]),
        "part_id": part,
        "criterion_id": w.pick([None, criterion]),
        "text": w.word(),
        "place": {
            "quote": {"exact": text[:end], "prefix": "", "suffix": text[end : end + 32]},
            "span": {"start": 0, "end": end},
            "pieces": [],
            "shape": None,
        },
        "deleted": w.chance(15),
        "version": at.version,
    }
    return Plan(at.who, body, numbers=at.numbers())


@way()
def offer_remarks(w: Walker) -> Plan:
    at = w.place()
    criterion, _, levels = w.criterion(at.revision_id)
    body = {"criterion_id": criterion, "level_id": w.pick([None, w.pick(levels)]), "search": ""}
    return Plan(at.who, body, numbers=at.numbers())


@way()
def add_to_bank(w: Walker) -> Plan:
    return Plan(w.any_teacher(), {"text": w.word()})


def _banked(w: Walker, more: str = "1") -> tuple[int, int]:
    found = w.one(f"SELECT teacher_id, id FROM bank_remark WHERE {more} ORDER BY id")
    return found[0], found[1]


@way()
def change_in_bank(w: Walker) -> Plan:
    who, number = _banked(w)
    body = {"text": w.word(), "pinned": w.chance(50)}
    return Plan(who, body, numbers={"remark_id": number})


@way("delete_from_bank", "restore_in_bank")
def delete_from_bank(w: Walker) -> Plan:
    who, number = _banked(w)
    return Plan(who, numbers={"remark_id": number})


@way("read_version_beside", "go_back")
def go_back(w: Walker) -> Plan:
    at = w.marked("m.version > 1")
    version = w.dice.number(1, max(1, at.version - 1))
    return Plan(at.who, {"version": at.version}, numbers=at.numbers(version=version))


@way()
def attach_feedback(w: Walker) -> Plan:
    at = w.place()
    criterion, _, _ = w.criterion(at.revision_id)
    body = {
        "key": w.key("feedback"),
        "upload_id": w.upload(at.who),
        "kind": "file",
        "criterion_id": w.pick([None, criterion]),
        "passage_key": None,
        "words": w.word(),
        "seconds": 0,
    }
    return Plan(at.who, body, numbers=at.numbers())


@way()
def change_feedback(w: Walker) -> Plan:
    at = w.marked("EXISTS (SELECT 1 FROM mark_file f WHERE f.mark_id = m.id)")
    key = w.one("SELECT key FROM mark_file WHERE mark_id = ?", at.mark_id)
    body = {"key": key, "words": w.word(), "deleted": w.chance(30), "version": at.version}
    return Plan(at.who, body, numbers=at.numbers())


@way()
def pin_exemplar(w: Walker) -> Plan:
    at = w.marked("m.finished_version IS NOT NULL")
    return Plan(at.who, {"title": w.word()}, numbers=at.numbers())


@way()
def unpin_exemplar(w: Walker) -> Plan:
    number, who = w.one("SELECT id, made_by FROM exemplar ORDER BY id")
    return Plan(who, numbers={"exemplar_id": number})


@way()
def take_tap(w: Walker) -> Plan:
    at = w.place("observed")
    criterion, half_way, levels = w.criterion(at.revision_id)
    body: dict[str, Any] = {
        "key": w.key("tap"),
        "waited_ms": w.pick([0, 0, 60_000, 3_600_000, 80_000_000]),
    }
    said = w.dice.number(0, 9)
    if said < 6:
        body |= {"criterion_id": criterion, "choice": w.choice(half_way, levels)}
    elif said < 7:
        body |= {"criterion_id": criterion, "choice": {"level_id": None}}
    elif said < 8:
        body |= {"criterion_id": criterion, "remark": w.word()}
    else:
        body |= {"absent": w.chance(70)}
    return Plan(at.who, body, numbers={"task_id": at.task_id, "student_id": at.student_id})


@way()
def finish_observed(w: Walker) -> Plan:
    task, klass = w.task("observed")
    return Plan(w.teacher(klass), numbers={"task_id": task})


@way()
def arrange_seats(w: Walker) -> Plan:
    klass = w.klass()
    order = w.students(klass)
    return Plan(
        w.teacher(klass),
        {"student_ids": order[::-1] if w.chance(50) else order},
        numbers={"class_id": klass},
    )


@way()
def write_notes(w: Walker) -> Plan:
    who, klass, student, outcome = w.cell()
    body = {
        "key": w.key("note"),
        "student_ids": [student] if w.chance(70) else w.some(w.students(klass)),
        "outcome_id": outcome,
        **_seen(w),
    }
    return Plan(who, body, numbers={"class_id": klass})


def _seen(w: Walker) -> dict[str, Any]:
    return {
        "level": w.dice.number(0, 3),
        "half_way": w.chance(20),
        "words": w.pick(["", w.word()]),
        "seen_at": w.pick([None, w.moment(-80, 0)]),
    }


def _note(w: Walker, more: str = "1") -> tuple[int, int, int, int]:
    """A teacher, a note they may see, its version, and its class."""
    number, version, klass = w.one(
        f"SELECT id, version, class_id FROM note n WHERE {more} ORDER BY id DESC"
    )
    return w.teacher(klass), number, version, klass


@way()
def change_note(w: Walker) -> Plan:
    who, number, version, _ = _note(w)
    return Plan(who, {**_seen(w), "version": version}, numbers={"note_id": number})


@way()
def withdraw_note(w: Walker) -> Plan:
    who, number, version, _ = _note(w)
    return Plan(who, {"withdrawn": w.chance(60), "version": version}, numbers={"note_id": number})


@way()
def set_note_aside(w: Walker) -> Plan:
    who, number, _, _ = _note(w)
    return Plan(who, {"reason": w.pick([None, "Noisy room"])}, numbers={"note_id": number})


@way()
def show_note(w: Walker) -> Plan:
    who, number, _, _ = _note(w)
    return Plan(who, {"shown": w.chance(70)}, numbers={"note_id": number})


@way()
def attach_to_note(w: Walker) -> Plan:
    who, number, _, _ = _note(w)
    body = {"key": w.key("file"), "upload_id": w.upload(who), "recording": False}
    return Plan(who, body, numbers={"note_id": number})


@way()
def delete_note_file(w: Walker) -> Plan:
    file, number, klass = w.one(
        "SELECT f.id, n.id, n.class_id FROM note_file f JOIN note n ON n.id = f.note_id"
    )
    return Plan(w.teacher(klass), numbers={"note_id": number, "file_id": file})


@way()
def read_note_effects(w: Walker) -> Plan:
    who, klass, student, outcome = w.cell()
    body = {**_seen(w), "student_ids": [student], "outcome_id": outcome}
    if w.chance(40):
        who, number, _, klass = _note(w)
        (found,) = w.school.rows("SELECT student_id, outcome_id FROM note WHERE id = ?", number)
        body |= {"student_ids": [found[0]], "outcome_id": found[1], "changes": number}
    return Plan(who, body, numbers={"class_id": klass})


def _students_of(w: Walker, task: int, klass: int) -> list[int]:
    """Some of those who have an attempt at a task, or some of the class."""
    there = w.school.rows(
        "SELECT DISTINCT ts.student_id FROM task_student ts JOIN attempt a "
        "ON a.task_student_id = ts.id WHERE ts.task_id = ? ORDER BY ts.student_id",
        task,
    )
    return w.some(there if there and w.chance(85) else w.students(klass))


@way()
def hand_back(w: Walker) -> Plan:
    at = w.marked("m.finished_version IS NOT NULL")
    who = None if w.chance(40) else _students_of(w, at.task_id, at.class_id)
    body = {
        "student_ids": who,
        "total_shown": not w.chance(20),
        "visible_at": w.pick([None, None, w.moment(1, 30)]),
    }
    return Plan(at.who, body, numbers={"task_id": at.task_id})


@way()
def take_back(w: Walker) -> Plan:
    at = w.marked(
        "EXISTS (SELECT 1 FROM hand_back h WHERE h.mark_id = m.id AND h.taken_back_at IS NULL)"
    )
    others = _students_of(w, at.task_id, at.class_id) if w.chance(30) else []
    body = {"student_ids": sorted({at.student_id, *others})}
    return Plan(at.who, body, numbers={"task_id": at.task_id})


@way()
def answer_wish(w: Walker) -> Plan:
    task, klass, student = w.one(
        "SELECT t.id, t.class_id, ts.student_id FROM wish w JOIN attempt a ON a.id = w.attempt_id "
        "JOIN task_student ts ON ts.id = a.task_student_id JOIN task t ON t.id = ts.task_id "
        "ORDER BY w.granted IS NOT NULL, w.id DESC"
    )
    body = {"granted": w.chance(60), "answer": w.pick(["", w.word()])}
    return Plan(w.teacher(klass), body, numbers={"task_id": task, "student_id": student})


@way()
def open_attempts(w: Walker) -> Plan:
    at = w.marked("m.finished_version IS NOT NULL")
    body = {
        "student_ids": [at.student_id],
        "words": w.pick(["", w.word()]),
        "due_at": w.due(),
        "carries": not w.chance(25),
    }
    return Plan(at.who, body, numbers={"task_id": at.task_id})


@way()
def withdraw_attempt(w: Walker) -> Plan:
    task, klass, student = w.one(
        "SELECT t.id, t.class_id, ts.student_id FROM wish w JOIN attempt a ON a.id = w.attempt_id "
        "JOIN task_student ts ON ts.id = a.task_student_id JOIN task t ON t.id = ts.task_id "
        "WHERE w.granted = 1 ORDER BY w.id DESC"
    )
    return Plan(w.teacher(klass), numbers={"task_id": task, "student_id": student})


@way()
def set_evidence_aside(w: Walker) -> Plan:
    task, student, attempt, outcome, klass = w.one(
        "SELECT e.task_id, e.student_id, a.number, e.outcome_id, t.class_id FROM evidence e "
        "JOIN attempt a ON a.id = e.source_id AND e.source_kind = 'attempt' "
        "JOIN task t ON t.id = e.task_id "
    )
    body = {
        "student_ids": [student],
        "attempt": w.pick([attempt, None]),
        "outcome_ids": w.pick([[outcome], None]),
        "reason": "Not their own",
    }
    return Plan(w.teacher(klass), body, numbers={"task_id": task})


@way()
def count_evidence_again(w: Walker) -> Plan:
    task, student, attempt, outcome, klass = w.one(
        "SELECT t.id, ts.student_id, a.number, s.outcome_id, t.class_id "
        "FROM evidence_set_aside s JOIN attempt a ON a.id = s.attempt_id "
        "JOIN task_student ts ON ts.id = a.task_student_id JOIN task t ON t.id = ts.task_id"
    )
    body = {
        "student_ids": [student],
        "attempt": w.pick([attempt, None]),
        "outcome_ids": w.pick([[outcome], None]),
    }
    return Plan(w.teacher(klass), body, numbers={"task_id": task})


def _reminder(w: Walker, klass: int) -> dict[str, Any]:
    audience = w.pick(["all", "missing", "below-on-outcome"])
    about = w.outcome(klass) if audience == "below-on-outcome" else None
    words = {"subject": "{task}", "text": "Dear {given name}, it is due {due}."}
    return {"audience": audience, "about": about, "level": None, **words}


@way()
def send_reminder(w: Walker) -> Plan:
    task, klass = w.task()
    body = {**_reminder(w, klass), "student_ids": w.some(w.students(klass))}
    return Plan(w.teacher(klass), body, numbers={"task_id": task})


@way()
def preview_reminder(w: Walker) -> Plan:
    task, klass = w.task()
    return Plan(w.teacher(klass), _reminder(w, klass), numbers={"task_id": task})
