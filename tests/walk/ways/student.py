"""How students ask: writing, handing in, reading what was handed back."""

from __future__ import annotations

from typing import Any

from tests.walk.school import GUESTS_SECRET
from tests.walk.ways.walker import NothingThere, Plan, Walker, way


def _own(w: Walker, *kinds: str) -> tuple[int, int, int]:
    """A student, a task of theirs, and the number under which they are at it (0: not yet)."""
    task, klass = w.task(*kinds)
    student = w.student(klass)
    found = w.school.rows(
        "SELECT id FROM task_student WHERE task_id = ? AND student_id = ?", task, student
    )
    return student, task, found[0] if found else 0


def _draft(w: Walker, record: int) -> tuple[str, int]:
    found = w.school.rows("SELECT text, version FROM draft_work WHERE task_student_id = ?", record)
    return found[0] if found else ("", 0)


@way()
def open_own_task(w: Walker) -> Plan:
    student, task, _ = _own(w)
    return Plan(student, numbers={"task_id": task})


@way()
def save_own_draft(w: Walker) -> Plan:
    student, task, record = _own(w, "handed-in")
    text = w.pick(["North, then east", "North by east, past the rock", "", "Ō tere <b>"])
    body = {"text": text, "version": _draft(w, record)[1]}
    return Plan(student, body, numbers={"task_id": task})


@way()
def write_on(w: Walker) -> Plan:
    student, task, _ = _own(w, "handed-in")
    return Plan(student, numbers={"task_id": task})


@way()
def take_own_work_back(w: Walker) -> Plan:
    """Mostly where something is handed in and not marked."""
    which = (
        ""
        if w.chance(10)
        else (
            "AND NOT EXISTS (SELECT 1 FROM mark m JOIN attempt a ON a.id = m.attempt_id "
            "WHERE a.task_student_id = ts.id AND a.number = h.attempt_number AND m.version > 0)"
        )
    )
    student, task = w.one(
        "SELECT ts.student_id, ts.task_id FROM hand_in h JOIN task_student ts "
        f"ON ts.id = h.task_student_id WHERE h.taken_back_at IS NULL {which} ORDER BY h.id DESC"
    )
    return Plan(student, numbers={"task_id": task})


@way()
def hand_in(w: Walker) -> Plan:
    student, task, record = _own(w, "handed-in")
    text, version = _draft(w, record)
    parts = w.school.rows(
        "SELECT id FROM work_part WHERE draft_of = ? AND kind <> 'text' ORDER BY id", record
    )
    # What stands handed in, which this would replace: that of the newest attempt.
    standing = w.school.rows(
        "SELECT max(h.id) FROM hand_in h WHERE h.task_student_id = ? AND h.taken_back_at IS NULL "
        "AND h.attempt_number = (SELECT max(number) FROM attempt WHERE task_student_id = ?)",
        record,
        record,
    )
    body = {
        "text": text or w.pick(["From the pier to the light", "Past two rocks"]),
        "version": version,
        "replaced": standing[0],
        "parts": parts,
    }
    return Plan(student, body, numbers={"task_id": task})


@way()
def undo_taking_back(w: Walker) -> Plan:
    student, task, receipt = w.one(
        "SELECT ts.student_id, ts.task_id, h.id FROM hand_in h "
        "JOIN task_student ts ON ts.id = h.task_student_id "
        "WHERE h.taken_back_at IS NOT NULL ORDER BY h.id DESC"
    )
    return Plan(student, {"receipt": receipt}, numbers={"task_id": task})


def _any_student(w: Walker) -> int:
    return int(w.one("SELECT id FROM person WHERE may_teach = 0 ORDER BY id"))


FILES = {"route.txt": "North, then east", "map.csv": "from,to\npier,light\n"}


def _upload(w: Walker, who: int) -> Plan:
    name = w.pick(list(FILES))
    return Plan(who, {"key": w.key("upload"), "name": name, "size": len(FILES[name])})


@way()
def begin_own_upload(w: Walker) -> Plan:
    return _upload(w, _any_student(w))


@way()
def begin_upload(w: Walker) -> Plan:
    return _upload(w, w.any_teacher())


def _on_its_way(w: Walker, teacher: bool) -> tuple[int, int, str]:
    who, number, name = w.one(
        "SELECT u.person_id, u.id, u.name FROM upload u JOIN person p ON p.id = u.person_id "
        "WHERE p.may_teach = ? ORDER BY u.id DESC",
        int(teacher),
    )
    return who, number, name


def _bytes(w: Walker, teacher: bool) -> Plan:
    who, number, name = _on_its_way(w, teacher)
    return Plan(who, raw=FILES.get(name, "?"), numbers={"upload_id": number})


@way()
def send_own_bytes(w: Walker) -> Plan:
    return _bytes(w, False)


@way()
def send_bytes(w: Walker) -> Plan:
    return _bytes(w, True)


@way("read_own_upload", "give_own_upload_up")
def give_own_upload_up(w: Walker) -> Plan:
    who, number, _ = _on_its_way(w, False)
    return Plan(who, numbers={"upload_id": number})


@way("read_upload", "give_upload_up")
def give_upload_up(w: Walker) -> Plan:
    who, number, _ = _on_its_way(w, True)
    return Plan(who, numbers={"upload_id": number})


@way()
def add_own_file(w: Walker) -> Plan:
    student, task, _ = _own(w, "handed-in")
    return Plan(student, {"upload_id": w.upload(student)}, numbers={"task_id": task})


@way()
def add_own_link(w: Walker) -> Plan:
    student, task, _ = _own(w, "handed-in")
    body = {"address": "https://tern.example/route"}
    return Plan(student, body, numbers={"task_id": task})


@way()
def remove_own_part(w: Walker) -> Plan:
    who, number = w.one(
        "SELECT ts.student_id, p.id FROM work_part p JOIN task_student ts ON ts.id = p.draft_of "
        "ORDER BY p.id"
    )
    return Plan(who, numbers={"part_id": number})


@way()
def put_own_part_back(w: Walker) -> Plan:
    who, number = w.one(
        "SELECT ts.student_id, p.id FROM removed_part p JOIN task_student ts ON ts.id = p.draft_of "
        "ORDER BY p.id DESC"
    )
    return Plan(who, numbers={"number": number})


def handed_back(w: Walker, more: str = "1") -> tuple[int, int, int]:
    """A student, a task and an attempt that was handed back to them."""
    found = w.one(
        "SELECT ts.student_id, ts.task_id, a.number FROM hand_back h "
        "JOIN mark m ON m.id = h.mark_id "
        "JOIN attempt a ON a.id = m.attempt_id JOIN task_student ts ON ts.id = a.task_student_id "
        f"WHERE h.taken_back_at IS NULL AND {more} ORDER BY h.id DESC"
    )
    return found[0], found[1], found[2]


@way()
def say_read(w: Walker) -> Plan:
    student, task, attempt = handed_back(w)
    body = {"next_word": w.pick(["", w.word()])}
    return Plan(student, body, numbers={"task_id": task, "attempt": attempt})


@way()
def ask_again(w: Walker) -> Plan:
    student, task, attempt = handed_back(w)
    body = {"words": w.pick(["", w.word()])}
    return Plan(student, body, numbers={"task_id": task, "attempt": attempt})


@way()
def change_own_email(w: Walker) -> Plan:
    student = _any_student(w)
    return Plan(student, {"email": w.pick([f"one-{student}@tern.example", ""])})


def _password(w: Walker, who: int) -> Plan:
    return Plan(who, {"current": "a long password", "password": "a longer password"})


@way()
def change_students_password(w: Walker) -> Plan:
    return _password(
        w, w.one("SELECT id FROM person WHERE may_teach = 0 AND password_hash IS NOT NULL")
    )


@way()
def change_own_password(w: Walker) -> Plan:
    return _password(w, w.any_teacher())


def _session(w: Walker, teacher: bool) -> Plan:
    """Where somebody is signed in besides."""
    number, who = w.one(
        "SELECT s.id, s.person_id FROM session s JOIN person p ON p.id = s.person_id "
        "WHERE p.may_teach = ? AND EXISTS (SELECT 1 FROM session o "
        "WHERE o.person_id = s.person_id AND o.id <> s.id) ORDER BY s.id DESC",
        int(teacher),
    )
    return Plan(who, numbers={"number": number})


@way()
def end_students_session(w: Walker) -> Plan:
    return _session(w, False)


@way()
def end_own_session(w: Walker) -> Plan:
    return _session(w, True)


@way()
def see_message(w: Walker) -> Plan:
    who, number = w.one("SELECT person_id, id FROM message ORDER BY id DESC")
    return Plan(who, numbers={"number": number})


@way()
def set_kind_mailed(w: Walker) -> Plan:
    kind = w.pick(["reminder", "handed-back", "attempt", "slip"])
    return Plan(_any_student(w), {"kind": kind, "mail": w.chance(50)})


# Coming in: each leaves everything else as it is.


@way()
def sign_in(w: Walker) -> Plan:
    email: str = w.one("SELECT email FROM person WHERE may_teach = 1 ORDER BY id")
    return Plan(w.any_teacher(), {"email": email, "password": "a long password"})


@way()
def sign_out(w: Walker) -> Plan:
    return Plan(w.pick([w.any_teacher(), _any_student(w)]))


@way()
def make_first_teacher(w: Walker) -> Plan:
    body = {"school": "Other", "time_zone": "UTC", "given_name": "Eve", "family_name": "Late"}
    return Plan(
        w.any_teacher(), {**body, "email": "eve@tern.example", "password": "a long password"}
    )


@way()
def sign_in_to_demo(w: Walker) -> Plan:
    return Plan(w.any_teacher(), {"person_id": w.any_teacher()})


@way()
def open_link(w: Walker) -> Plan:
    return Plan(w.any_teacher(), {"token": w.pick([GUESTS_SECRET, "another"])})


@way()
def leave(w: Walker) -> Plan:
    return Plan(w.any_teacher())


def _code(w: Walker) -> str:
    if not w.codes:
        raise NothingThere
    return w.pick(w.codes[::-1])


@way()
def read_invited(w: Walker) -> Plan:
    return Plan(w.any_teacher(), {"token": _code(w)})


@way()
def join(w: Walker) -> Plan:
    body: dict[str, Any] = {"token": _code(w), "password": "a long password"}
    return Plan(w.any_teacher(), {**body, "sign_in_name": w.key("name")})
