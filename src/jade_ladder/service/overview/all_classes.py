"""One outcome over all classes of a teacher that teach it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from jade_ladder.service.evidence.class_standing import ClassOnDay, Frame, WallCell
from jade_ladder.service.evidence.class_term import Term
from jade_ladder.service.evidence.rules import is_taught
from jade_ladder.service.outcomes.outcomes import own_outcome
from jade_ladder.service.overview.class_outcomes import (
    SINCE_AT_FIRST,
    OutcomeOverTerm,
    outcome_over_term,
)
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.store.classes.students import StudentRow
from jade_ladder.store.outcomes.outcomes import OutcomeRow


@dataclass(frozen=True, slots=True)
class InOneClass:
    """A class on the outcome over the term, as of each of its `days`; each of its students with
    what the class's wall shows of them.
    """

    klass: ClassRow
    method: str
    days: tuple[date, ...]
    over_term: OutcomeOverTerm
    students: tuple[tuple[StudentRow, WallCell], ...]


@dataclass(frozen=True, slots=True)
class OutcomeInAllClasses:
    """An outcome over the classes of a teacher, by name, that teach it today and are not set
    aside; `since` is the day from which is told who moved.
    """

    outcome: OutcomeRow
    since: date
    classes: tuple[InOneClass, ...]


def outcome_in_all_classes(caller: Teacher, class_id: int, outcome_id: int) -> OutcomeInAllClasses:
    """Look at an outcome that a class teaches in all of the caller's classes that teach it."""
    with caller.reading() as db:
        own_class(db, caller, class_id)
        outcome = own_outcome(db, caller, class_id, outcome_id)
        day = today(db, caller)
        since = day - timedelta(days=SINCE_AT_FIRST)
        found = []
        for klass in class_store.classes_of_teacher(db, caller.person_id):
            term = Term.load(db, klass, day, outcome_id)
            taught = [one for one in term.outcomes if is_taught(one, day)]
            if klass.set_aside_at is not None or not taught:
                continue
            standing = ClassOnDay.of(db, Frame.load(db, caller, klass, day, only=outcome_id))
            days = term.days()
            found.append(
                InOneClass(
                    klass,
                    standing.rules(outcome_id).method.name,
                    days,
                    outcome_over_term(
                        db, term, taught[0], days, max(since, min(day, klass.first_day))
                    ),
                    tuple(
                        (student, standing.cell(student.id, outcome_id))
                        for student in standing.students
                    ),
                )
            )
        return OutcomeInAllClasses(outcome, since, tuple(found))
