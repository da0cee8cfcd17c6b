"""Saving what is marked: each choice and remark at once, and finishing.

A save answers with the state that changed, and costs what it changes: what it needs is loaded once
(`state.Marking`), and nothing is read again.
"""

from __future__ import annotations

from jade_ladder.core.alignment import chosen_points
from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.service.marking.bank_filling import bank_remark
from jade_ladder.service.marking.choices import Choice, choice_of, unmarked_criteria
from jade_ladder.service.marking.state import Marking, MarkState
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import check_begun
from jade_ladder.service.work.attempts import first_time
from jade_ladder.store.marking import marks as store
from jade_ladder.store.marking import remark_bank as bank_store
from jade_ladder.store.marking.marks import ChoiceRow, RemarkRow
from jade_ladder.store.rubrics import revisions as revision_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.work import attempts as attempt_store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.attempts import Dating

LONGEST_REMARK = 5000


def choose(
    caller: Teacher,
    task_id: int,
    student_id: int,
    criterion_id: int,
    choice: Choice,
    based_on: int,
    attempt: int = 1,
) -> MarkState:
    """Save a choice on one criterion; gives the mark as it then stands.

    The same choice sent twice is one. Raises Stale only when this very criterion was chosen
    differently after version `based_on`: choices on others never stand in each other's way.
    """
    with caller.transaction() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        stored = criterion_of(marking, criterion_id)
        check_choice(stored, choice)
        standing = marking.standing.choices.get(criterion_id)
        if _begins_nothing(marking, choice_of(standing) == choice):
            return marking.state()
        mark_id = begin(marking)
        if choice_of(standing) != choice:
            if standing and standing.since_version > based_on and not _was_carried(standing):
                raise Stale(
                    f"“{stored.criterion.title}” was marked differently in another tab",
                    marking.place.mark.version or 0,
                )
            put_choice(marking, mark_id, stored, choice)
        return marking.state()


def remark(
    caller: Teacher,
    task_id: int,
    student_id: int,
    criterion_id: int | None,
    text: str,
    based_on: int,
    attempt: int = 1,
) -> MarkState:
    """Save a remark on a criterion, or (None) on the whole; an empty one takes it back."""
    text = checked_remark(text)
    with caller.transaction() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        stored = None if criterion_id is None else criterion_of(marking, criterion_id)
        standing = marking.standing.remarks.get(criterion_id)
        if _begins_nothing(marking, not standing and not text):
            return marking.state()
        mark_id = begin(marking, choosing=False)
        if (standing.text if standing else "") != text:
            if standing and standing.since_version > based_on:
                raise Stale(
                    "This remark was changed in another tab", marking.place.mark.version or 0
                )
            put_remark(marking, mark_id, stored, text)
        return marking.state()


def _begins_nothing(marking: Marking, same: bool) -> bool:
    """Whether nothing is said where nothing stands: that begins no attempt and no mark."""
    return same and marking.place.mark.id is None


def finish(caller: Teacher, task_id: int, student_id: int, attempt: int = 1) -> MarkState:
    """Finish a mark: from now on this version counts. Refused while a criterion is unmarked."""
    with caller.transaction() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        mark_id = begin(marking)
        left = unmarked_criteria(marking.criteria, marking.choices)
        if left:
            raise Refused(f"Still to mark: {', '.join(one.title for one in left)}", "criteria")
        place = marking.place
        if place.attempt.id is not None and place.mark.finished_version != place.mark.version:
            store.finish(db, mark_id, caller.now)
            marking.saved(
                "mark",
                finished_version=place.mark.version,
                first_finished_at=place.mark.first_finished_at or caller.now,
            )
        return marking.state()


def checked_remark(text: str) -> str:
    """Give a remark as it is kept; Refused where it is too long."""
    if len(text) > LONGEST_REMARK:
        raise Refused(f"A remark has at most {LONGEST_REMARK} characters", "text")
    return text.strip()


def put_choice(marking: Marking, mark_id: int, stored: StoredCriterion, choice: Choice) -> None:
    """Let a choice stand on a criterion, whatever stood there. Part of a transaction."""
    db, caller = marking.db, marking.caller
    version = store.append_choice(
        db,
        mark_id,
        stored.id,
        choice.level_id,
        choice.half_way,
        choice.not_assessed,
        choice.carried_from,
        caller.now,
        caller.person_id,
    )
    bank_store.level_chosen(db, mark_id, stored.criterion.key, choice.level_id)
    chosen, carried = choice[:3], choice.carried_from
    marking.standing.choices[stored.id] = ChoiceRow(stored.id, *chosen, version, carried)
    marking.saved("mark", version=version, changed_at=caller.now)


def put_remark(marking: Marking, mark_id: int, stored: StoredCriterion | None, text: str) -> None:
    """Let a remark stand on a criterion or (None) on the whole, whatever stood there. Part of a
    transaction.
    """
    caller, criterion_id = marking.caller, None if stored is None else stored.id
    version = store.append_remark(
        marking.db, mark_id, criterion_id, text, caller.now, caller.person_id
    )
    bank_remark(marking, stored, text)
    marking.standing.remarks[criterion_id] = RemarkRow(criterion_id, text, version)
    marking.saved("mark", version=version, changed_at=caller.now)


def begin(marking: Marking, choosing: bool = True) -> int:
    """Begin the attempt and its mark where they are not there yet; with the teacher's first choice
    on it (`choosing`), it is decided by what time the attempt counts. Gives the mark's number. Part
    of a transaction.
    """
    db, caller, place = marking.db, marking.caller, marking.place
    if place.task.set_at is None:
        raise Refused("This task is a draft: set it before it is marked")
    undecided = place.attempt.id is None or place.attempt.dating is Dating.UNDECIDED
    if marking.counts and undecided:
        due_at = place.task.due_at if place.attempt.number == 1 else place.attempt.again_due_at
        done_at, dating = first_time(
            caller.now, place.task.kind, due_at, place.attempt.before, choosing
        )
        attempt_id = place.attempt.id
        if attempt_id is None:
            check_begun(db, caller, place.task.class_id)
            record = place.student.task_student_id
            if record is None:
                record = task_store.task_student(db, place.task.id, place.student.id)
            attempt_id = attempt_store.add_attempt(db, record, done_at, dating)
        elif choosing:
            attempt_store.date_attempt(db, attempt_id, done_at, dating)
        else:
            done_at, dating = place.attempt.dated_at or done_at, Dating.UNDECIDED
        marking.saved(
            "attempt",
            id=attempt_id,
            attempts=max(place.attempt.number, place.attempt.attempts),
            dated_at=done_at,
            done_at=done_at if place.attempt.corrected_at is None else place.attempt.done_at,
            dating=dating,
        )
    mark_id = marking.place.mark.id
    if mark_id is None:
        attempt_id = marking.place.attempt.id or 0
        mark_id = store.begin_mark(db, attempt_id, marking.right.role, caller.person_id, caller.now)
        version = 0
        if marking.carried:
            version = store.carry_in(db, mark_id, marking.carried, caller.now, caller.person_id)
        marking.saved("mark", id=mark_id, version=version, changed_at=caller.now)
    return mark_id


def criterion_of(marking: Marking, criterion_id: int) -> StoredCriterion:
    """Give a criterion that the task asks; NotFound where it asks none such."""
    for stored in marking.criteria:
        if stored.id == criterion_id:
            return stored
    place = marking.place
    found = revision_store.revision_of_criterion(marking.db, criterion_id)
    if found and found[0] == place.task.rubric_id:
        raise Refused(
            f"This task was put on revision {place.task.revision} of its rubric in the meantime: "
            "reload the page, and choose by that one"
        )
    raise NotFound("There is no such criterion in this task's rubric")


def _was_carried(row: ChoiceRow) -> bool:
    """Whether it stands since the mark was begun, as it was carried over: nobody chose it here."""
    return row.carried_from is not None and row.since_version == 1


def check_choice(stored: StoredCriterion, choice: Choice) -> None:
    """Refuse a choice that the criterion does not have."""
    if choice.level_id is None:
        if choice.half_way:
            raise Refused("Half-way stands between two levels: choose the lower one", "half_way")
        return
    if choice.not_assessed:
        raise Refused("A level or not assessed, not both", "not_assessed")
    if choice.level_id not in stored.level_ids:
        raise Refused("This level is of another criterion", "level_id")
    # Refuses half-way where it cannot be.
    chosen_points(stored.criterion, stored.level_ids.index(choice.level_id), choice.half_way)
