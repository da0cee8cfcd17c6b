"""Observation notes: written in passing, changed, set aside, withdrawn, shown to their student
(docs/calculations.md, “Observation note”).
"""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone, time_of_evidence
from jade_ladder.service.shared.forms import check_key, needed
from jade_ladder.service.shared.guards import own_class, own_student
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.notes import note_files as file_store
from jade_ladder.store.notes import notes as store
from jade_ladder.store.notes.note_files import NoteFileRow
from jade_ladder.store.notes.notes import NoteRow, NoteVersion, PastVersion
from jade_ladder.store.outcomes import outcomes as outcome_store
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.shared.log import LogSubject

LONGEST_WORDS = 5_000
LONGEST_REASON = 1_000
MOST_STUDENTS = 200


@dataclass(frozen=True, slots=True)
class NoteWords:
    """What a note says: a level of the outcome's scale (0 the lowest), half-way above it or not,
    words, and when it was seen (None: now; by the school's clock where it has no zone).
    """

    level: int
    half_way: bool = False
    words: str = ""
    seen_at: datetime | None = None


def write_notes(
    caller: Teacher,
    class_id: int,
    key: str,
    student_ids: Sequence[int],
    outcome_id: int,
    said: NoteWords,
) -> list[NoteRow]:
    """Write the same note of one student or several, each a note of its own; gives them in that
    order. Sent twice under one key, it is one.
    """
    check_key(key)
    if not student_ids:
        raise Refused("Choose the students it is about", "student_ids")
    if len(student_ids) > MOST_STUDENTS:
        raise Refused(f"At most {MOST_STUDENTS} students at once", "student_ids")
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        taught = {one.id: one for one in outcome_store.class_outcomes(db, class_id)}
        if outcome_id not in taught:
            raise Refused("This class does not teach this outcome", "outcome_id")
        version = checked_note(db, caller, klass, taught[outcome_id].scale_id, said, caller.now)
        day = version.seen_at.astimezone(school_zone(db)).date()
        found = []
        for student_id in dict.fromkeys(student_ids):
            there = store.note_of_key(db, caller.person_id, key, student_id)
            if there is None:
                name = own_student(db, class_id, student_id).name
                left = student_store.latest_membership(db, class_id, student_id).until
                if left is not None and left <= day:
                    raise Refused(f"{name} left the class on {left.isoformat()}", "student_ids")
                number = store.add_note(
                    *(db, key, class_id, student_id, outcome_id, version),
                    *(caller.now, caller.person_id),
                )
                there = store.note(db, number)
            if there is not None:
                found.append(there)
        return found


def checked_note(
    db: sqlite3.Connection,
    caller: Teacher,
    klass: ClassRow,
    scale_id: int,
    said: NoteWords,
    otherwise: datetime,
) -> NoteVersion:
    """Give what a note would say, seen at a time that is said or `otherwise`; Refused, at the
    field, where it cannot be. Part of a transaction or a reading.
    """
    words = said.words.strip()
    if len(words) > LONGEST_WORDS:
        raise Refused(f"At most {LONGEST_WORDS:,} characters", "words")
    levels = len(scale_store.scales(db)[scale_id].scale.levels)
    if not 0 <= said.level < levels:
        raise Refused("Choose a level of the outcome's scale", "level")
    if said.half_way and said.level == levels - 1:
        raise Refused("Above the highest level there is no half-way", "half_way")
    when = otherwise
    if said.seen_at is not None:
        when = time_of_evidence(db, caller, klass, said.seen_at, "seen_at")
    return NoteVersion(said.level, levels, said.half_way, words, when)


@dataclass(frozen=True, slots=True)
class WholeNote:
    """A note as it stands, with its files and all of its versions, the newest first."""

    row: NoteRow
    files: tuple[NoteFileRow, ...]
    versions: tuple[PastVersion, ...]


def own_note(db: sqlite3.Connection, caller: Teacher, number: int) -> NoteRow:
    """Give a note in a class that the caller teaches; NotFound for any other. Part of a transaction
    or a reading.
    """
    row = store.note(db, number)
    if row is None:
        raise NotFound("There is no such note in your classes")
    try:
        own_class(db, caller, row.class_id)
    except NotFound as error:
        raise NotFound("There is no such note in your classes") from error
    return row


def _standing_note(db: sqlite3.Connection, caller: Teacher, number: int) -> NoteRow:
    """Give a note that is not withdrawn; Refused where it is."""
    row = own_note(db, caller, number)
    if row.withdrawn:
        raise Refused("This note was withdrawn: restore it before you change it")
    return row


def get_note(caller: Teacher, number: int) -> WholeNote:
    """Give a note with its history."""
    with caller.reading() as db:
        return _whole(db, own_note(db, caller, number))


def _whole(db: sqlite3.Connection, row: NoteRow) -> WholeNote:
    return WholeNote(
        row, tuple(file_store.note_files(db, [row.id])), tuple(store.versions(db, row.id))
    )


def change_note(caller: Teacher, number: int, said: NoteWords, based_on: int) -> WholeNote:
    """Let a note say something else, as a new version; without a time the one it has stays. Raises
    Stale where it was changed after version `based_on`.
    """
    with caller.transaction() as db:
        row = _standing_note(db, caller, number)
        klass = own_class(db, caller, row.class_id)
        version = checked_note(db, caller, klass, row.scale_id, said, row.seen_at)
        version = replace(version, aside=row.aside, aside_at=row.aside_at, aside_by=row.aside_by)
        return _append(db, caller, row, version, based_on)


def withdraw_note(caller: Teacher, number: int, based_on: int, withdrawn: bool = True) -> WholeNote:
    """Withdraw a note, or (not `withdrawn`) restore it; it stays on record."""
    with caller.transaction() as db:
        row = own_note(db, caller, number)
        return _append(db, caller, row, replace(_said(row), withdrawn=withdrawn), based_on)


def set_note_aside(caller: Teacher, number: int, reason: str | None) -> WholeNote:
    """Set a note aside with a reason, so that it does not count, or (None) let it count again."""
    if reason is not None:
        needed(reason, "reason", "A reason", LONGEST_REASON)
    with caller.transaction() as db:
        row = _standing_note(db, caller, number)
        said = replace(_said(row), aside=None, aside_at=None, aside_by=None)
        if reason is not None:
            said = replace(
                said, aside=reason.strip(), aside_at=caller.now, aside_by=caller.person_id
            )
        return _append(db, caller, row, said, row.version)


def show_note(caller: Teacher, number: int, shown: bool) -> WholeNote:
    """Show a note to its student from now on, or not any more."""
    with caller.transaction() as db:
        row = _standing_note(db, caller, number)
        if shown is (row.shown_at is None):
            store.set_shown(db, number, caller.now if shown else None)
            caller.log(db, LogSubject.NOTE_SHOWN, number, not shown, shown)
        return _whole(db, own_note(db, caller, number))


def _said(row: NoteRow) -> NoteVersion:
    """Give what a note says as it stands."""
    return NoteVersion(
        row.level,
        row.levels,
        row.half_way,
        row.words,
        row.seen_at,
        row.withdrawn,
        row.aside,
        row.aside_at,
        row.aside_by,
    )


def _append(
    db: sqlite3.Connection, caller: Teacher, row: NoteRow, said: NoteVersion, based_on: int
) -> WholeNote:
    if said != _said(row):
        if row.version > based_on:
            raise Stale("This note was changed in another tab", row.version)
        store.append_version(db, row, said, caller.now, caller.person_id)
    return _whole(db, own_note(db, caller, row.id))
