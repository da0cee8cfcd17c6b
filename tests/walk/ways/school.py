"""How the school, its people and its classes are asked for, and every page that is only read."""

from __future__ import annotations

import re

from tests.walk.ways.walker import OPERATIONS, WAYS, NothingThere, Plan, Walker, way


@way()
def see_notice(w: Walker) -> Plan:
    who, number = w.one("SELECT person_id, id FROM notice ORDER BY id DESC")
    return Plan(who, numbers={"notice_id": number})


@way()
def undo_joining(w: Walker) -> Plan:
    who, number = w.one("SELECT person_id, id FROM notice WHERE kind = 'joined' ORDER BY id DESC")
    return Plan(who, numbers={"notice_id": number})


@way()
def grant_slips(w: Walker) -> Plan:
    who, number = w.one(
        "SELECT person_id, id FROM notice WHERE kind = 'slips-asked' ORDER BY id DESC"
    )
    return Plan(who, numbers={"notice_id": number})


@way()
def change_school(w: Walker) -> Plan:
    body = {"thin": w.pick([2, 3]), "language": w.pick([None, "mi"])}
    return Plan(w.administrator(), body)


@way()
def add_colleagues(w: Walker) -> Plan:
    person = {"given_name": "Rua", "family_name": "Kea", "email": f"{w.key('rua')}@tern.example"}
    return Plan(w.administrator(), {"people": [person]})


def _colleague(w: Walker) -> int:
    return int(w.one("SELECT id FROM person WHERE may_teach = 1 ORDER BY id DESC"))


@way()
def make_link(w: Walker) -> Plan:
    return Plan(w.administrator(), numbers={"person_id": _colleague(w)})


@way()
def set_administrator(w: Walker) -> Plan:
    numbers = {"person_id": _colleague(w)}
    return Plan(w.administrator(), {"administrator": w.chance(40)}, numbers=numbers)


@way()
def end_account(w: Walker) -> Plan:
    """Rarely of somebody who teaches."""
    number = w.one(
        "SELECT id FROM person p WHERE may_teach = 1 AND (ended_at IS NOT NULL OR NOT EXISTS "
        "(SELECT 1 FROM membership m WHERE m.person_id = p.id AND m.until IS NULL)) "
        "ORDER BY ended_at IS NULL, id DESC"
    )
    return Plan(w.administrator(), {"ended": w.chance(40)}, numbers={"person_id": number})


@way()
def change_own_account(w: Walker) -> Plan:
    who = w.any_teacher()
    given, email = w.school.rows("SELECT given_name, email FROM person WHERE id = ?", who)[0]
    family = w.pick(["Tan", "Tan-Reef"])
    return Plan(who, {"given_name": given, "family_name": family, "email": email})


@way()
def add_class_teacher(w: Walker) -> Plan:
    klass = w.klass()
    return Plan(w.teacher(klass), {"person_id": _colleague(w)}, numbers={"class_id": klass})


@way()
def hand_over_class(w: Walker) -> Plan:
    klass = w.klass()
    body = {"person_id": w.teacher(klass)}
    return Plan(w.teacher(klass), body, numbers={"class_id": klass})


@way()
def assign_class(w: Walker) -> Plan:
    klass, body = w.klass(), {"person_id": _colleague(w)}
    return Plan(w.administrator(), body, numbers={"class_id": klass})


@way()
def remove_class_teacher(w: Walker) -> Plan:
    klass = w.klass()
    numbers = {"class_id": klass, "person_id": w.teacher(klass)}
    return Plan(w.teacher(klass), numbers=numbers)


@way()
def copy_class(w: Walker) -> Plan:
    klass = w.klass()
    body = {
        "name": w.key("Next year"),
        "first_day": w.pick(["2027-03-01", "2028-02-01"]),
        "last_day": "2028-12-10",
        "students": w.chance(50),
        "tasks": w.chance(50),
    }
    return Plan(w.teacher(klass), body, numbers={"class_id": klass})


@way()
def set_class_aside(w: Walker) -> Plan:
    """What is set aside is soon taken up again."""
    aside = w.school.rows("SELECT id FROM school_class WHERE set_aside_at IS NOT NULL")
    klass = aside[0] if aside else w.klass()
    return Plan(w.teacher(klass), {"aside": not aside}, numbers={"class_id": klass})


@way()
def make_sample_class(w: Walker) -> Plan:
    """At most one at a time: it is as large as everything else together."""
    if w.school.rows("SELECT 1 FROM school_class WHERE sample = 1"):
        raise NothingThere
    return Plan(w.any_teacher())


def _sample(w: Walker) -> Plan:
    klass = w.one("SELECT id FROM school_class WHERE sample = 1")
    return Plan(w.teacher(klass), numbers={"class_id": klass})


way("delete_sample_class", "read_sample_size")(_sample)


@way()
def make_slips(w: Walker) -> Plan:
    klass = w.klass()
    body = {"student_ids": w.some(w.students(klass))}
    return Plan(w.teacher(klass), body, numbers={"class_id": klass})


@way()
def ask_for_slips(w: Walker) -> Plan:
    """Of who signs in already and was taken first by a class that the asker does not teach."""
    klass, student, who = w.one(
        "SELECT m.class_id, m.person_id, t.person_id FROM membership m "
        "JOIN person p ON p.id = m.person_id AND p.password_hash IS NOT NULL "
        "JOIN membership t ON t.class_id = m.class_id AND t.role = 'teacher' AND t.until IS NULL "
        "WHERE m.role = 'student' AND m.until IS NULL AND t.person_id NOT IN "
        "(SELECT o.person_id FROM membership o WHERE o.role = 'teacher' AND o.class_id = "
        "(SELECT f.class_id FROM membership f WHERE f.person_id = m.person_id ORDER BY f.id))"
    )
    return Plan(who, {"student_ids": [student]}, numbers={"class_id": klass})


# Pages that are only read: by whom, and of what, says their address.

_QUERIES = {
    "read_trail_under": {"kind": "latest"},
    "read_class_export": {"form": "csv"},
    "read_task_export": {"form": "csv"},
}
_ADMINISTRATORS = ("accounts", "classes-without-teacher", "/log", "/outbox")


def _page(name: str, path: str) -> None:
    parts = re.findall(r"\{(\w+)\}", path)

    def read(w: Walker) -> Plan:
        numbers: dict[str, int] = {}
        who = w.any_teacher()
        if "attempt" in parts:
            at = w.place()
            who, numbers = at.who, at.numbers()
        elif "task_id" in parts:
            task, klass = w.task()
            who, numbers = w.teacher(klass), {"task_id": task}
            if "student_id" in parts:
                numbers["student_id"] = w.student(klass)
        elif "class_id" in parts:
            who, klass, student, outcome = w.cell()
            numbers = {"class_id": klass, "student_id": student, "outcome_id": outcome}
        if path.startswith("/my/"):
            who = w.one("SELECT id FROM person WHERE may_teach = 0 ORDER BY id")
            if "task_id" in parts:
                task, klass = w.task()
                who, numbers = w.student(klass), {"task_id": task}
        if any(part in path for part in _ADMINISTRATORS):
            who = w.administrator()
        if "rubric_id" in parts:
            rubric, who, _ = w.rubric()
            numbers["rubric_id"] = rubric
        if "note_id" in parts:
            note, klass = w.one("SELECT id, class_id FROM note ORDER BY id")
            who, numbers = w.teacher(klass), {"note_id": note}
        assert set(parts) <= set(numbers), f"{name} has no way: {set(parts) - set(numbers)}"
        return Plan(who, query=_QUERIES.get(name), numbers=numbers)

    way(name)(read)


def pages_have_ways() -> None:
    """Give a way to each page that has none of its own."""
    for name, (method, path) in OPERATIONS.items():
        if method == "GET" and name not in WAYS:
            _page(name, path)
