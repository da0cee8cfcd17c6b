"""The state of a mark: what stands, what it comes to, and what is left, apart from the work."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import NotFound
from jade_ladder.core.marking import DeskState, MarkRole
from jade_ladder.core.rubric import task_points
from jade_ladder.core.total import Adjustments, LateRule, Total, late_rule
from jade_ladder.service.marking.carried_marks import CountingUnder, counting_under
from jade_ladder.service.marking.choices import (
    Choice,
    choice_of,
    total_of_choices,
    unmarked_criteria,
)
from jade_ladder.service.marking.moves import Move, moves
from jade_ladder.service.marking.rights import Right, as_teacher
from jade_ladder.service.shared.caller import Caller, Teacher
from jade_ladder.service.work.standing import Setting, StudentAtTask, student_at_task
from jade_ladder.store.marking import again as again_store
from jade_ladder.store.marking import desk as store
from jade_ladder.store.marking import marks as mark_store
from jade_ladder.store.marking.adjustments import adjustments_of
from jade_ladder.store.marking.again import CarriedRow
from jade_ladder.store.marking.desk import DeskPlace
from jade_ladder.store.marking.marks import ChoiceRow, RemarkRow, WhatStands
from jade_ladder.store.rubrics import criteria as criterion_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work.standing import TaskStudentRow


@dataclass(frozen=True, slots=True)
class MarkState:
    """One student's mark of an attempt as it stands; `counting` is what counts meanwhile, where
    that was given under an earlier revision of the rubric. `waited` is whether the student waited
    for the teacher before what was done just now; `attempts` how many
    attempts there are, one that was opened included.
    """

    student: StudentAtTask
    attempt: int
    version: int
    changed_at: datetime | None
    finished: bool
    choices: Mapping[int, Choice]
    remarks: Mapping[int | None, RemarkRow]
    unmarked: tuple[str, ...]
    total: Total | None
    adjustments: Adjustments
    moves: tuple[Move, ...]
    counting: CountingUnder | None
    waited: bool
    attempts: int

    @property
    def waits(self) -> bool:
        """Whether the student waits for the teacher."""
        return self.student.waits


@dataclass(slots=True)
class Marking:
    """A mark that is being looked at or changed: loaded once, and kept in step with what is saved
    by `place.mark` and `standing`, so that nothing is read again to answer. `right` says who
    marks, and in which role.
    """

    db: sqlite3.Connection
    right: Right
    place: DeskPlace
    criteria: Sequence[StoredCriterion]
    standing: WhatStands
    waited: bool = False

    @classmethod
    def load(
        cls, db: sqlite3.Connection, caller: Teacher, task_id: int, student_id: int, number: int
    ) -> Marking:
        """Load the teacher's mark, begun or not; NotFound where there is no such task or student of
        the caller's, or no such attempt. Part of a transaction or a reading.
        """
        return cls.load_by(db, as_teacher(caller), task_id, student_id, number)

    @classmethod
    def load_by(
        cls, db: sqlite3.Connection, right: Right, task_id: int, student_id: int, number: int
    ) -> Marking:
        """Load the mark that a caller makes by a right, begun or not; likewise."""
        marker = right.caller.person_id
        place = store.desk_place(db, right.role, marker, task_id, student_id, number)
        if place is None:
            right.check(db, task_id, student_id)
            raise NotFound("There is no such attempt")
        if place.klass.set_aside:
            # Refused, unless it is only looked at.
            right.check(db, task_id, student_id)
        # A further entry of other evidence, and an attempt that was opened, begin with the first
        # that is said of it.
        further = place.task.kind.entries or place.attempt.opened
        if not 1 <= number <= max(1, place.attempt.attempts + further):
            raise NotFound("There is no such attempt")
        criteria = criterion_store.criteria(db, place.task.revision_id, place.task.asked)
        if place.mark.id is not None:
            standing = mark_store.standing(db, place.mark.id, place.mark.finished_version)
        else:
            carried = _carried(db, place, criteria) if place.attempt.carries else {}
            standing = WhatStands(choices=carried)
        found = cls(db, right, place, criteria, standing)
        found.waited = found.student.waits
        return found

    @property
    def caller(self) -> Caller:
        """Who marks."""
        return self.right.caller

    @property
    def counts(self) -> bool:
        """Whether it is the mark that counts."""
        return self.right.role is MarkRole.TEACHER

    @property
    def carried(self) -> list[ChoiceRow]:
        """What stands and was carried over from an earlier attempt."""
        return [row for row in self.standing.choices.values() if row.carried_from is not None]

    @property
    def choices(self) -> dict[int, Choice]:
        """What is chosen, by the criterion's record."""
        return {number: choice_of(row) for number, row in self.standing.choices.items()}

    @property
    def student(self) -> StudentAtTask:
        """Where the student stands with the task."""
        place = self.place
        counting = {stored.id for stored in self.criteria if not stored.criterion.bonus}
        chosen = sum(
            number in counting and (row.level_id is not None or row.not_assessed)
            for number, row in self.standing.choices.items()
        )
        row = TaskStudentRow(
            place.student.id,
            place.student.given_name,
            place.student.family_name,
            place.student.excused,
            place.attempt.id,
            place.attempt.number,
            place.attempt.done_at,
            place.attempt.dated_at,
            place.attempt.dating,
            place.attempt.corrected_at,
            place.attempt.parts,
            place.mark.id,
            place.mark.version,
            place.mark.finished_version,
            chosen,
            place.student.left_on,
            place.student.own_due_at,
            place.student.own_closes_at,
            place.student.absent_on,
            place.student.there_when_due,
        )
        setting = Setting(place.task.kind, place.task.due_at, place.task.set_at)
        found = student_at_task(row, setting, len(counting), self.caller.now)
        if place.task.kind.watched and place.attempt.opened and place.attempt.id is None:
            # It waits for nobody until it is begun, as the counts have it.
            return replace(found, state=DeskState.NOT_YET)
        if not place.task.kind.entries or found.state is DeskState.EXCUSED:
            return found
        if place.attempt.id is None and place.attempt.attempts and place.attempt.other_open is None:
            # Nothing is said of a further entry yet: where the student stands, the others say.
            return replace(
                found, row=replace(row, number=place.attempt.attempts), state=DeskState.DONE
            )
        if place.attempt.other_open is None or found.waits:
            return found
        # Another entry is open: the student waits for that one.
        return replace(
            found,
            row=replace(row, number=place.attempt.other_open),
            state=DeskState.WAITING,
            left=0,
        )

    def saved(self, part: Literal["student", "attempt", "mark"], **changed: object) -> None:
        """Take over what was just stored of a part of the place."""
        now = replace(getattr(self.place, part), **changed)
        self.place = replace(self.place, **{part: now})

    @property
    def _is_entry(self) -> bool:
        return self.place.task.kind.entries

    def _late(self) -> LateRule | None:
        place = self.place
        zone = ZoneInfo(place.klass.time_zone)
        return late_rule(
            place.task.late_per_day,
            place.task.late_most,
            place.task.due_at,
            place.attempt.number,
            zone,
        )

    def state(self) -> MarkState:
        """Give the state of the mark."""
        place, choices = self.place, self.choices
        points = task_points(place.task.points, [stored.criterion for stored in self.criteria])
        moved = (
            moves(self.db, self.caller.now, place, self.criteria, choices) if self.counts else ()
        )
        version = place.mark.version or 0
        adjustments = adjustments_of(self.standing.adjustments)
        return MarkState(
            self.student,
            place.attempt.number,
            version,
            place.mark.changed_at if version else None,
            place.mark.finished_version is not None
            and place.mark.finished_version == place.mark.version,
            choices,
            self.standing.remarks,
            tuple(one.key for one in unmarked_criteria(self.criteria, choices)),
            total_of_choices(
                self.criteria,
                choices,
                points,
                self._late(),
                place.attempt.handed_in_at,
                adjustments,
            ),
            adjustments,
            tuple(moved),
            counting_under(self.db, place, self.criteria, self.standing.counted),
            self.waited,
            max(
                place.attempt.number,
                place.attempt.attempts + (place.attempt.next_opened and not self._is_entry),
            ),
        )


def _carried(
    db: sqlite3.Connection, place: DeskPlace, criteria: Sequence[StoredCriterion]
) -> dict[int, ChoiceRow]:
    """Give what is carried over into an attempt whose mark is not begun, by these criteria."""
    rows = again_store.carried_into(db, place.student.task_student_id or 0, place.attempt.number)
    return carried_choices(rows, criteria)


def carried_choices(
    rows: Iterable[CarriedRow], criteria: Sequence[StoredCriterion]
) -> dict[int, ChoiceRow]:
    """Give what is carried over by the records of criteria, as far as they have it still."""
    by_key = {stored.criterion.key: stored for stored in criteria}
    found: dict[int, ChoiceRow] = {}
    for row in rows:
        stored = by_key.get(row.criterion_key)
        if stored is None:
            continue
        keys = [level.key for level in stored.criterion.levels]
        if row.level_key in keys:
            level = stored.level_ids[keys.index(row.level_key)]
            found[stored.id] = ChoiceRow(stored.id, level, row.half_way, False, 0, row.from_number)
    return found
