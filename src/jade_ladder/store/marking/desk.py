"""What one student's mark is about, in one statement: the task, the attempt, the mark."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime

from jade_ladder.core.evidence import AttemptsRule, Combining
from jade_ladder.core.marking import MarkRole
from jade_ladder.core.methods import MethodKind
from jade_ladder.core.names import Named
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.store.shared.rows import fetch, fetch_number, fetch_one
from jade_ladder.store.work.attempts import Dating, effective_time
from jade_ladder.store.work.kinds import ENTRIES
from jade_ladder.store.work.standing import there_when_due


@dataclass(frozen=True, slots=True)
class TaskAtDesk:
    """The task of a mark, due for its student; `asked` are the keys of the criteria that it asks,
    as a JSON array (None: all).
    """

    id: int
    class_id: int
    revision_id: int
    revision: int
    rubric_id: int
    kind: TaskKind
    due_at: datetime | None
    points: int | None
    practice: bool
    attempts_rule: AttemptsRule
    late_per_day: int
    late_most: int
    set_at: datetime | None
    asked: str | None


@dataclass(frozen=True, slots=True)
class ClassAtDesk:
    """By what mastery is read in the class: `method`, `newest` and `last` are the class's method;
    of one that is `set_aside` nothing is changed.
    """

    combining: Combining
    method: MethodKind
    newest: int
    last: int
    time_zone: str
    set_aside: bool


@dataclass(frozen=True, slots=True)
class StudentAtDesk(Named):
    """The student, and what is known of them at the task; `left_on` is the first day no longer in
    the class, if they left.
    """

    id: int
    given_name: str
    family_name: str
    task_student_id: int | None
    excused: bool
    left_on: date | None
    own_due_at: datetime | None
    own_closes_at: datetime | None
    absent_on: date | None
    there_when_due: bool


@dataclass(frozen=True, slots=True)
class AttemptAtDesk:
    """The attempt of a number, of so many `attempts` that are there; what is not there yet is None.
    `before` is the time of the one before. Of other evidence, `other_open` is the number of the
    first other entry that is not finished. `opened` where it is a further attempt that was opened,
    to be done by `again_due_at`, `carries` where something is carried over into it, `next_opened`
    where another one was opened after the newest; `outcomes_aside` are the outcomes of which its
    evidence is set aside, as a JSON array.
    """

    id: int | None
    attempts: int
    number: int
    done_at: datetime | None
    dated_at: datetime | None
    dating: Dating | None
    corrected_at: datetime | None
    before: datetime | None
    parts: int
    other_open: int | None
    opened: bool
    again_due_at: datetime | None
    carries: bool
    next_opened: bool
    outcomes_aside: str | None

    @property
    def handed_in_at(self) -> datetime | None:
        """When it was handed in, if anybody said so: only then can it be late."""
        return self.dated_at if self.dating is Dating.HANDED_IN else None


@dataclass(frozen=True, slots=True)
class MarkAtDesk:
    """The mark of who looks at the attempt; all None where it is not begun."""

    id: int | None
    version: int | None
    changed_at: datetime | None
    finished_version: int | None
    first_finished_at: datetime | None


@dataclass(frozen=True, slots=True)
class DeskPlace:
    """One attempt of one student at one task, with the task, the class and the mark of who looks at
    it.
    """

    task: TaskAtDesk
    klass: ClassAtDesk
    student: StudentAtDesk
    attempt: AttemptAtDesk
    mark: MarkAtDesk


_THERE = there_when_due("coalesce(ts.due_at, t.due_at)", "t.class_id", "p.id")


_ASSIGNED = """a.id IS NOT NULL AND EXISTS (
      SELECT 1 FROM assigned_marker g
      WHERE g.attempt_id = a.id AND g.person_id = :marker AND g.role = :role)"""
_OWN = "SELECT id FROM mark WHERE attempt_id = a.id AND role = :role AND marker_id = :marker"
# The columns of each part of a place.
_TASK = """t.id, t.class_id, v.id AS revision_id, v.number AS revision, v.rubric_id, t.kind,
  coalesce(ts.due_at, t.due_at) AS due_at, t.points, t.practice, t.attempts_rule,
  t.late_per_day, t.late_most, t.set_at, t.asked"""
_CLASS = """k.combining, k.method, k.newest, k.last,
  coalesce((SELECT time_zone FROM school), 'UTC') AS time_zone,
  k.set_aside_at IS NOT NULL AS set_aside"""
_STUDENT = f"""p.id, p.given_name, p.family_name, ts.id AS task_student_id,
  coalesce(ts.excused, 0) AS excused,
  (SELECT l.until FROM membership l
   WHERE l.class_id = t.class_id AND l.person_id = p.id AND l.role = 'student'
   ORDER BY l.id DESC LIMIT 1) AS left_on,
  ts.due_at AS own_due_at, ts.closes_at AS own_closes_at,
  (SELECT max(day) FROM absence WHERE task_student_id = ts.id) AS absent_on,
  {_THERE} AS there_when_due"""
_ATTEMPT = f"""a.id, (SELECT count(*) FROM attempt WHERE task_student_id = ts.id) AS attempts,
  :number AS number, {effective_time()} AS done_at,
  a.done_at AS dated_at, a.dating, a.corrected_at,
  {effective_time("b")} AS before,
  (SELECT count(*) FROM work_part WHERE attempt_id = a.id) AS parts,
  CASE WHEN {ENTRIES} THEN (
    SELECT min(x.number) FROM attempt x
    WHERE x.task_student_id = ts.id AND x.number <> :number AND NOT EXISTS (
      SELECT 1 FROM teachers_mark y
      WHERE y.attempt_id = x.id AND y.finished_version = y.version))
  END AS other_open,
  EXISTS (SELECT 1 FROM wish WHERE attempt_id = b.id AND granted = 1) AS opened,
  (SELECT due_at FROM wish
   WHERE attempt_id = b.id AND granted = 1) AS again_due_at,
  EXISTS (SELECT 1 FROM carried_choice WHERE attempt_id = b.id) AS carries,
  EXISTS (SELECT 1 FROM attempt n JOIN wish w ON w.attempt_id = n.id
          WHERE n.task_student_id = ts.id AND w.granted = 1 AND n.number = (
            SELECT max(number) FROM attempt WHERE task_student_id = ts.id)
         ) AS next_opened,
  (SELECT json_group_array(outcome_id) FROM evidence_set_aside
   WHERE attempt_id = a.id AND counts_again_at IS NULL) AS outcomes_aside"""
_MARK = """m.id, m.version, m.changed_at, m.finished_version, m.first_finished_at"""
# By what right somebody marks in a role, and which mark of an attempt that is.
_TEACHES = """EXISTS (SELECT 1 FROM membership WHERE class_id = t.class_id
                         AND person_id = :marker AND role = 'teacher' AND until IS NULL)"""
_RIGHTS = {
    MarkRole.TEACHER: (_TEACHES, "SELECT id FROM teachers_mark WHERE attempt_id = a.id"),
    MarkRole.SELF: ("p.id = :marker AND a.id IS NOT NULL", _OWN),
    MarkRole.PEER: (_ASSIGNED, _OWN),
    MarkRole.SECOND_MARKER: (_ASSIGNED, _OWN),
}


def desk_place(
    db: sqlite3.Connection,
    role: MarkRole,
    marker_id: int,
    task_id: int,
    student_id: int,
    number: int,
) -> DeskPlace | None:
    """Give an attempt of a student at a task as who marks it in a role sees it: the teacher of its
    class one that is there or not yet, the student themselves and who was assigned to it one that
    is there. None where there
    is no such task or student, or where nobody marks by that right.
    """
    right, mark = _RIGHTS[role]
    return fetch_one(
        db,
        DeskPlace,
        f"""SELECT {_TASK}, {_CLASS}, {_STUDENT}, {_ATTEMPT}, {_MARK}
           FROM task t
           JOIN revision v ON v.id = t.revision_id
           JOIN school_class k ON k.id = t.class_id
           JOIN person p ON p.id = :student
           LEFT JOIN task_student ts ON ts.task_id = t.id AND ts.student_id = p.id
           LEFT JOIN attempt a ON a.task_student_id = ts.id AND a.number = :number
           LEFT JOIN attempt b ON b.task_student_id = ts.id AND b.number = :number - 1
           LEFT JOIN mark m ON m.id = ({mark})
           WHERE t.id = :task
             AND {right}
             AND EXISTS (SELECT 1 FROM membership WHERE class_id = t.class_id
                         AND person_id = :student AND role = 'student')""",
        {
            "task": task_id,
            "student": student_id,
            "number": number,
            "marker": marker_id,
            "role": role,
        },
    )


def assign_marker(db: sqlite3.Connection, role: MarkRole, person_id: int, attempt_id: int) -> None:
    """Let a person mark an attempt in a role from now on."""
    db.execute(
        "INSERT INTO assigned_marker (attempt_id, person_id, role) VALUES (?, ?, ?)",
        (attempt_id, person_id, role),
    )


def is_assigned(
    db: sqlite3.Connection, role: MarkRole, person_id: int, task_id: int, student_id: int
) -> bool:
    """Whether a person was assigned to an attempt of a student at a task in a role."""
    found = fetch_number(
        db,
        """SELECT 1 FROM assigned_marker g JOIN attempt a ON a.id = g.attempt_id
           JOIN task_student ts ON ts.id = a.task_student_id
           WHERE g.person_id = ? AND g.role = ? AND ts.task_id = ? AND ts.student_id = ?""",
        (person_id, role, task_id, student_id),
    )
    return found is not None


@dataclass(frozen=True, slots=True)
class OutcomeAtDesk:
    """An outcome that a mark moves: by what it is worked out, and its scale with the levels as
    JSON arrays of position, name, code, value, cut score and description.
    """

    id: int
    code: str
    scale_id: int
    method: MethodKind | None
    newest: int
    last: int
    minimum: int
    mastery: int
    levels: str


def outcomes_at_desk(
    db: sqlite3.Connection, class_id: int, student_id: int, outcome_ids: Iterable[int], day: date
) -> list[OutcomeAtDesk]:
    """List those of some outcomes that a class teaches on a day and that are expected of a student
    then, in the order of strands and their own.
    """
    return fetch(
        db,
        OutcomeAtDesk,
        """SELECT o.id, o.code, o.scale_id, co.method, co.newest, co.last, co.minimum, c.mastery,
                  (SELECT json_group_array(json_array(position, name, code, value, cut,
                                                      description))
                   FROM scale_level WHERE scale_id = o.scale_id) AS levels
           FROM class_outcome co JOIN outcome o ON o.id = co.outcome_id
           JOIN scale c ON c.id = o.scale_id
           LEFT JOIN strand s ON s.id = o.strand_id
           WHERE co.class_id = :class AND o.id IN (SELECT value FROM json_each(:outcomes))
             AND co.active_from <= :day AND (co.active_until IS NULL OR co.active_until > :day)
             AND NOT EXISTS (
               SELECT 1 FROM not_expected n WHERE n.student_id = :student AND n.outcome_id = o.id
                 AND n.since <= :day AND (n.until IS NULL OR n.until > :day))
           ORDER BY s.position IS NULL, s.position, s.id, co.position, o.id""",
        {
            "class": class_id,
            "student": student_id,
            "outcomes": json.dumps(list(outcome_ids)),
            "day": day,
        },
    )
