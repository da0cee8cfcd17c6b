"""Marks: choices and remarks, appended version by version."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import NamedTuple

from jade_ladder.core.evidence import Combining
from jade_ladder.core.marking import MarkRole
from jade_ladder.core.names import Named
from jade_ladder.store.marking.adjustments import AdjustmentKind, AdjustmentRow, next_version
from jade_ladder.store.shared.rows import fetch, fetch_number, insert
from jade_ladder.store.work.attempts import effective_time


@dataclass(frozen=True, slots=True)
class ChoiceRow:
    """What stands on one criterion; neither a level nor not assessed: cleared. `carried_from` is
    the number of the attempt it was made in, where it was carried over from that.
    """

    criterion_id: int
    level_id: int | None
    half_way: bool
    not_assessed: bool
    since_version: int
    carried_from: int | None = None


@dataclass(frozen=True, slots=True)
class RemarkRow:
    """A remark on a criterion, or on the whole (criterion_id None)."""

    criterion_id: int | None
    text: str
    since_version: int


def begin_mark(
    db: sqlite3.Connection, attempt_id: int, role: MarkRole, marker_id: int, now: datetime
) -> int:
    """Begin the mark of an attempt by somebody in a role; give its number. Only with the teacher's
    has its marking begun.
    """
    if role is MarkRole.TEACHER:
        db.execute("UPDATE attempt SET mark_begun = 1 WHERE id = ?", (attempt_id,))
    return insert(
        db,
        "INSERT INTO mark (attempt_id, role, marker_id, changed_at) VALUES (?, ?, ?, ?)",
        (attempt_id, role, marker_id, now),
    )


@dataclass(frozen=True, slots=True)
class WhatStands:
    """What stands in a mark now: choices by criterion, remarks by criterion (None: on the whole),
    and what is said of the total; `counted` are the choices of the finished version.
    """

    choices: dict[int, ChoiceRow] = field(default_factory=dict)
    remarks: dict[int | None, RemarkRow] = field(default_factory=dict)
    counted: dict[int, ChoiceRow] = field(default_factory=dict)
    adjustments: list[AdjustmentRow] = field(default_factory=list)


def standing(db: sqlite3.Connection, mark_id: int, finished: int | None) -> WhatStands:
    """Give what stands in a mark now, and what counts by its finished version, in one statement
    that costs no more for a mark that was changed many times before it is finished.
    """
    found = WhatStands()
    rows = db.execute(
        """SELECT 'choice' AS what, criterion_id, level_id, half_way, not_assessed, since_version,
                  carried_from, NULL AS text, NULL AS kind, NULL AS amount, 1 AS now, id
           FROM mark_choice WHERE mark_id = ?1 AND until_version IS NULL
           UNION ALL
           SELECT 'choice', criterion_id, level_id, half_way, not_assessed, since_version,
                  carried_from, NULL, NULL, NULL, 0, id
           FROM mark_choice
           WHERE mark_id = ?1 AND until_version > ?2 AND since_version <= ?2
           UNION ALL
           SELECT 'remark', criterion_id, NULL, NULL, NULL, since_version,
                  NULL, text, NULL, NULL, 1, id
           FROM mark_remark WHERE mark_id = ?1 AND until_version IS NULL
           UNION ALL
           SELECT 'adjustment', NULL, NULL, NULL, NULL, since_version,
                  NULL, reason, kind, amount, 1, id
           FROM mark_adjustment WHERE mark_id = ?1 AND until_version IS NULL
           ORDER BY what, id""",
        (mark_id, finished),
    )
    for what, criterion, level, half, unmarked, since, carried, text, kind, amount, now, _ in rows:
        if what == "adjustment":
            found.adjustments.append(AdjustmentRow(AdjustmentKind(kind), amount, text, since))
        elif what == "remark":
            found.remarks[criterion] = RemarkRow(criterion, text, since)
        else:
            choice = ChoiceRow(criterion, level, bool(half), bool(unmarked), since, carried)
            if now:
                found.choices[criterion] = choice
            if finished is not None and since <= finished:
                found.counted[criterion] = choice
    return found


def append_choice(
    db: sqlite3.Connection,
    mark_id: int,
    criterion_id: int,
    level_id: int | None,
    half_way: bool,
    not_assessed: bool,
    carried_from: int | None,
    now: datetime,
    person_id: int,
) -> int:
    """Append a choice on one criterion as a new version of the mark; give the version."""
    version = next_version(db, mark_id, now)
    db.execute(
        """UPDATE mark_choice SET until_version = ?
           WHERE mark_id = ? AND criterion_id = ? AND until_version IS NULL""",
        (version, mark_id, criterion_id),
    )
    insert(
        db,
        """INSERT INTO mark_choice (mark_id, criterion_id, level_id, half_way, not_assessed,
                                    carried_from, since_version, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        (
            *(mark_id, criterion_id, level_id, half_way, not_assessed, carried_from),
            *(version, now, person_id),
        ),
    )
    return version


def carry_in(
    db: sqlite3.Connection,
    mark_id: int,
    choices: Iterable[ChoiceRow],
    now: datetime,
    person_id: int,
) -> int:
    """Let a mark that was just begun begin with what is carried over into it; gives its version."""
    version = next_version(db, mark_id, now)
    db.executemany(
        """INSERT INTO mark_choice (mark_id, criterion_id, level_id, half_way, not_assessed,
                                    carried_from, since_version, made_at, made_by)
           VALUES (?, ?, ?, ?, 0, ?, ?, ?, ?)""",
        [
            (
                *(mark_id, one.criterion_id, one.level_id, one.half_way, one.carried_from),
                *(version, now, person_id),
            )
            for one in choices
        ],
    )
    return version


def append_remark(
    db: sqlite3.Connection,
    mark_id: int,
    criterion_id: int | None,
    text: str,
    now: datetime,
    person_id: int,
) -> int:
    """Append a remark (an empty one removes it) as a new version of the mark; give the version."""
    version = next_version(db, mark_id, now)
    db.execute(
        """UPDATE mark_remark SET until_version = ?
           WHERE mark_id = ? AND criterion_id IS ? AND until_version IS NULL""",
        (version, mark_id, criterion_id),
    )
    insert(
        db,
        """INSERT INTO mark_remark (mark_id, criterion_id, text, since_version, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?)""",
        (mark_id, criterion_id, text, version, now, person_id),
    )
    return version


def finish(db: sqlite3.Connection, mark_id: int, now: datetime) -> None:
    """Let the newest version be the one that counts."""
    db.execute(
        """UPDATE mark SET finished_version = version,
                           first_finished_at = coalesce(first_finished_at, ?)
           WHERE id = ?""",
        (now, mark_id),
    )


@dataclass(frozen=True, slots=True)
class TaskMark(Named):
    """The mark of an attempt at a task, with what evidence needs to know of the attempt."""

    id: int
    task_id: int
    student_id: int
    given_name: str
    family_name: str
    attempt_id: int
    number: int
    done_at: datetime
    excused: bool
    practice: bool
    version: int
    finished_version: int | None
    first_finished_at: datetime | None
    combining: Combining
    handed_in_at: datetime | None
    due_at: datetime | None


def marks_of_tasks(db: sqlite3.Connection, task_ids: Iterable[int]) -> list[TaskMark]:
    """List the marks of all attempts at these tasks, task by task, student by student."""
    return fetch(
        db,
        TaskMark,
        f"""SELECT m.id, ts.task_id, p.id AS student_id, p.given_name, p.family_name,
                  a.id AS attempt_id, a.number,
                  {effective_time()} AS done_at, ts.excused, t.practice,
                  m.version, m.finished_version, m.first_finished_at, k.combining,
                  CASE a.dating WHEN 'handed-in' THEN a.done_at END AS handed_in_at,
                  coalesce(ts.due_at, t.due_at) AS due_at
           FROM json_each(?) n JOIN task t ON t.id = n.value
           JOIN school_class k ON k.id = t.class_id
           JOIN task_student ts ON ts.task_id = t.id JOIN person p ON p.id = ts.student_id
           JOIN attempt a ON a.task_student_id = ts.id JOIN teachers_mark m ON m.attempt_id = a.id
           ORDER BY ts.task_id, p.family_name COLLATE names, p.given_name COLLATE names, p.id,
                    a.number""",
        (json.dumps(list(task_ids)),),
    )


class EverChosen(NamedTuple):
    """A choice that stands or stood, from one version of a mark to before another."""

    mark_id: int
    criterion_id: int
    level_id: int | None
    half_way: int
    not_assessed: int
    since: int
    until: int | None
    carried_from: int | None


class EverRemarked(NamedTuple):
    """A remark on a criterion that stands or stood."""

    mark_id: int
    criterion_id: int
    text: str
    since: int
    until: int | None


def ever_chosen(db: sqlite3.Connection, mark_ids: Iterable[int]) -> list[EverChosen]:
    """List every choice of these marks, the oldest first. Bare rows, since there are many."""
    return [
        EverChosen(*row)
        for row in db.execute(
            """SELECT c.mark_id, c.criterion_id, c.level_id, c.half_way, c.not_assessed,
                      c.since_version, c.until_version, c.carried_from
               FROM json_each(?) n JOIN mark_choice c ON c.mark_id = n.value
               ORDER BY c.id""",
            (json.dumps(list(mark_ids)),),
        )
    ]


def ever_remarked(db: sqlite3.Connection, mark_ids: Iterable[int]) -> list[EverRemarked]:
    """List every remark of these marks on a criterion, the oldest first."""
    return [
        EverRemarked(*row)
        for row in db.execute(
            """SELECT r.mark_id, r.criterion_id, r.text, r.since_version, r.until_version
               FROM json_each(?) n JOIN mark_remark r ON r.mark_id = n.value
               WHERE r.criterion_id IS NOT NULL ORDER BY r.id""",
            (json.dumps(list(mark_ids)),),
        )
    ]


def carry_over(
    db: sqlite3.Connection,
    mark_id: int,
    choices: Mapping[int, tuple[int | None, bool, bool, int | None]],
    remarks: Mapping[int, str],
    counts: bool,
    now: datetime,
    person_id: int,
) -> None:
    """Append a version of a mark in which these stand and nothing else does: by criterion, a level,
    half-way, not assessed and the attempt it is carried over from, and a remark. With `counts` it
    is what counts from now on. Where nothing stands and nothing would, the mark stays as it is.
    """
    if not choices and not remarks and not _anything_on_criteria(db, mark_id):
        return
    version = next_version(db, mark_id, now)
    db.execute(
        "UPDATE mark_choice SET until_version = ? WHERE mark_id = ? AND until_version IS NULL",
        (version, mark_id),
    )
    db.execute(
        """UPDATE mark_remark SET until_version = ?
           WHERE mark_id = ? AND criterion_id IS NOT NULL AND until_version IS NULL""",
        (version, mark_id),
    )
    db.executemany(
        """INSERT INTO mark_choice (mark_id, criterion_id, level_id, half_way, not_assessed,
                                    carried_from, since_version, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)""",
        [
            (mark_id, criterion, *choice, version, now, person_id)
            for criterion, choice in choices.items()
        ],
    )
    db.executemany(
        """INSERT INTO mark_remark (mark_id, criterion_id, text, since_version, made_at, made_by)
           VALUES (?, ?, ?, ?, ?, ?)""",
        [
            (mark_id, criterion, text, version, now, person_id)
            for criterion, text in remarks.items()
        ],
    )
    if counts:
        db.execute("UPDATE mark SET finished_version = version WHERE id = ?", (mark_id,))


def _anything_on_criteria(db: sqlite3.Connection, mark_id: int) -> bool:
    found = fetch_number(
        db,
        """SELECT EXISTS (SELECT 1 FROM mark_choice WHERE mark_id = ?1 AND until_version IS NULL)
             OR EXISTS (SELECT 1 FROM mark_remark WHERE mark_id = ?1 AND until_version IS NULL
                          AND criterion_id IS NOT NULL)""",
        (mark_id,),
    )
    return bool(found)
