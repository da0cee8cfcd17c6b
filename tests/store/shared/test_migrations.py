"""A filled database of every earlier version comes to the newest, with every value as it was."""

from __future__ import annotations

import sqlite3
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest

from jade_ladder.core.methods import MethodKind
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.core.total import Adjustments, ByHand
from jade_ladder.service.changes.scales import put_on_scale
from jade_ladder.service.marking import again, desk, saving
from jade_ladder.service.marking.adjusting import adjust_total
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import outcome_page, trail, wall
from jade_ladder.service.mastery.judgements import Judged, judge
from jade_ladder.service.mastery.setting_aside import set_evidence_aside
from jade_ladder.service.notes import notes
from jade_ladder.service.notes.notes import NoteWords
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts, tasks
from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.outcomes.methods import MethodBefore, methods_before
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.migrations import known_migrations
from jade_ladder.store.shared.verify import faults
from tests.builders import Small, at, small

VERSIONS = [number for number, _ in known_migrations()]
EARLIER = {
    # Tables that had another name, and what their rows were.
    "work": "SELECT attempt_id, text, file_name, entered_at, entered_by FROM work_part",
    "evidence": "SELECT student_id, outcome_id, done_at, finished_at, source_id, task_id, number, "
    "value FROM evidence WHERE task_id IS NOT NULL",
}


def filled(caller: Teacher, version: int) -> Small:
    """A class with marks that are finished, changed since, half done and half-way; remarks; work
    that was handed in late; several tasks, one observed; and what else a version could hold: totals
    by hand, criteria carried over, evidence set aside, notes, judgements.
    """
    made = small(at(caller, -40), due=caller.now - timedelta(days=30))
    first, second = made.students
    handed_in = caller.now - timedelta(days=29)
    attempts.enter_work(at(caller, -28), made.task_id, first, "My route", None, handed_in)
    made.mark(first, 3, 2, caller=at(caller, -27))
    made.mark(second, 1, 4, caller=at(caller, -27))
    a, _ = desk.desk(caller, made.task_id).criteria
    half = Choice(a.level_ids[1], half_way=True)
    saving.choose(at(caller, -26), made.task_id, second, a.id, half, 10_000)
    saving.finish(at(caller, -26), made.task_id, second)
    saving.remark(at(caller, -25), made.task_id, first, a.id, "Look at the scale", 10_000)
    later = made.new_task("Second", due_at=caller.now - timedelta(days=10))
    made.mark(first, 4, 4, task_id=later, caller=at(caller, -9))
    saving.choose(at(caller, -8), later, second, a.id, Choice(a.level_ids[0]), 0)
    room = made.new_task("In the room", kind=TaskKind.OBSERVED)
    made.mark(second, 2, 3, task_id=room, caller=at(caller, -7))
    if version >= 22:
        by_hand = Adjustments((), by_hand=ByHand(250, "Spoken"))
        adjust_total(at(caller, -7), made.task_id, first, by_hand, 10_000)
    if version >= 31:
        which = made.task_id, [second]
        set_evidence_aside(at(caller, -6), *which, "Noisy", None, made.outcomes[1:])
        again.open_attempts(at(caller, -6), made.task_id, [first], "Once more")
        b = desk.desk(caller, made.task_id).criteria[1]
        saving.choose(at(caller, -5), made.task_id, first, b.id, Choice(b.level_ids[2]), 0, 2)
        saving.finish(at(caller, -5), made.task_id, first, 2)
    if version >= 34:
        said = NoteWords(1, half_way=True), NoteWords(3), NoteWords(2), NoteWords(0)
        counts, kept, gone, shown = (
            notes.write_notes(
                at(caller, -4 + n / 9),
                made.class_id,
                f"note-{n}-x",
                [second],
                made.outcomes[0],
                one,
            )[0].id
            for n, one in enumerate(said)
        )
        notes.change_note(at(caller, -3), counts, NoteWords(2, half_way=True), 1)
        notes.set_note_aside(at(caller, -3), kept, "Heard of, not seen")
        notes.withdraw_note(at(caller, -3), gone, 1)
        notes.show_note(at(caller, -3), shown, shown=True)
        put_on_scale(at(caller, -2), made.class_id, made.outcomes[0], made.scale_id)
        judge(at(caller, -2), made.class_id, [Judged(first, made.outcomes[1], 3)], "Seen at sea")
    return made


def seen(caller: Teacher, made: Small) -> list[object]:
    """All that a teacher sees of it."""
    found: list[object] = [
        wall.wall(caller, made.class_id),
        *(
            trail.trail(caller, made.class_id, student, outcome)
            for student in made.students
            for outcome in made.outcomes
        ),
        *(outcome_page.outcome_page(caller, made.class_id, number) for number in made.outcomes),
    ]
    for line in tasks.class_tasks(caller, made.class_id):
        found.append(line)
        found += [desk.work_at_desk(caller, line.row.id, student) for student in made.students]
    return found


def as_of_version(number: int, source: Path, path: Path) -> None:
    """Make the database as an earlier version would have held it: its tables, filled with what
    they had columns for.
    """
    db = sqlite3.connect(path)
    db.execute("ATTACH ? AS newest", (str(source),))
    db.create_aggregate("combined", 5, _Never)  # type: ignore[arg-type]
    db.create_function("school_day", 2, _never)
    for done, sql in known_migrations()[:number]:
        db.executescript(sql)
        db.execute(f"PRAGMA main.user_version = {done}")
    # What is copied has been counted already.
    triggers = dict(db.execute("SELECT name, sql FROM main.sqlite_master WHERE type = 'trigger'"))
    for trigger in triggers:
        db.execute(f"DROP TRIGGER main.{trigger}")
    names = "SELECT name FROM {}.sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"
    newest = {name for (name,) in db.execute(names.format("newest"))}
    for (table,) in db.execute(names.format("main")).fetchall():
        if table not in newest and table not in EARLIER:
            continue
        columns = [row[1] for row in db.execute(f"PRAGMA main.table_info({table})")]
        there = {row[1] for row in db.execute(f"PRAGMA newest.table_info({table})")}
        if table in EARLIER and not there.issuperset(columns):
            rows = EARLIER[table].replace("FROM ", "FROM newest.")
        else:
            columns = [one for one in columns if one in there]
            rows = f"SELECT {', '.join(columns)} FROM newest.{table}"
        db.execute(f"INSERT OR REPLACE INTO main.{table} ({', '.join(columns)}) {rows}")
    db.executescript("".join(f"{trigger};" for trigger in triggers.values()))
    db.commit()
    db.close()


def _never(*_: object) -> str:
    raise AssertionError("nothing is there yet")


class _Never:
    """There is no evidence in an empty database."""

    def step(self, *_: object) -> None:
        raise AssertionError("nothing is there yet")

    def finalize(self) -> None:
        return None


@pytest.mark.parametrize("number", VERSIONS)
def test_every_value_is_as_it_was(number: int, caller: Teacher, tmp_path: Path) -> None:
    made = filled(caller, number)
    before = seen(caller, made)
    caller.database.close()
    path = tmp_path / f"version-{number}.sqlite3"
    as_of_version(number, caller.database.path, path)
    database = Database(path)
    with database.reading() as db:
        assert evidence_faults(db) == []
    after = seen(replace(caller, database=database), made)
    database.close()
    assert faults(path) == []
    assert after == before


def test_earlier_methods_in_the_log_become_those_that_held_until_a_day(
    caller: Teacher, tmp_path: Path
) -> None:
    """Logged in the evening of the school's day, in UTC on the day before or the same."""
    made = small(caller)
    caller.database.close()
    path = tmp_path / "version-33.sqlite3"
    as_of_version(33, caller.database.path, path)
    db = sqlite3.connect(path)
    db.execute("UPDATE school SET time_zone = 'Pacific/Auckland'")
    entries = [
        ("class-method", made.class_id, "2026-10-01T20:00:00.000000+00:00", '["mean", 60, 3]'),
        ("class-method", made.class_id, "2026-10-01T21:00:00.000000+00:00", '["latest", 60, 3]'),
        (f"outcome-method/{made.class_id}", made.outcomes[0], "2026-10-05T03:00:00+00:00", None),
        ("class-method", 99, "2026-10-01T20:00:00.000000+00:00", '["mean", 60, 3]'),
    ]
    for subject, number, when, before in entries:
        db.execute(
            "INSERT INTO log (at, subject, subject_id, before) VALUES (?, ?, ?, ?)",
            (when, subject, number, before),
        )
    db.commit()
    db.close()
    database = Database(path)
    with database.reading() as reading:
        assert methods_before(reading, made.class_id) == [
            MethodBefore(None, date(2026, 10, 2), MethodKind.MEAN, 60, 3),
            MethodBefore(made.outcomes[0], date(2026, 10, 5), None, 60, 3),
        ]
    database.close()
    assert faults(path) == []
