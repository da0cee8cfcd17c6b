"""Revisions of a rubric: side by side, what one would do to tasks, and applying it."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from jade_ladder.service.changes import revisions as service
from jade_ladder.service.changes.revision_effects import TaskEffect, revision_effects
from jade_ladder.service.changes.revisions import SideBySide
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.web.changes.level_changes import MovesOut
from jade_ladder.web.changes.totals import TotalMoveOut
from jade_ladder.web.rubrics.criteria import CriterionOut
from jade_ladder.web.rubrics.rubrics import RubricOut, VersionIn
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Whole
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import ShortNumber

router = router_of("revisions", "/rubrics/{rubric_id:int}")


class TasksIn(BaseModel):
    """Tasks to look at together; null: all that could be put on the revision."""

    tasks: list[Whole] | None = None


class ApplyIn(VersionIn):
    """The tasks to put on a revision, with the rubric's version that this is based on."""

    tasks: list[Whole]


class RevisionOut(BaseModel):
    """A revision and how many tasks use it."""

    number: int
    final_at: datetime | None
    tasks: int


class ComparedCriterionOut(BaseModel):
    """A criterion in two revisions, null where one has it not; `structure` says what differs
    besides the words.
    """

    title: str
    structure: list[str]
    old: CriterionOut | None
    new: CriterionOut | None


class SideBySideOut(BaseModel):
    """Two revisions of a rubric side by side, of all that there are."""

    revisions: list[RevisionOut]
    old: int
    new: int
    criteria: list[ComparedCriterionOut]

    @classmethod
    def of(cls, found: SideBySide) -> SideBySideOut:
        """Show two revisions."""
        old, new = found.old_criteria, found.new_criteria
        return cls(
            revisions=[
                RevisionOut(number=one.number, final_at=one.final_at, tasks=one.tasks)
                for one in found.revisions
            ],
            old=found.old.number,
            new=found.new.number,
            criteria=[
                ComparedCriterionOut(
                    title=one.title,
                    structure=list(one.structure),
                    old=_shown(old.get(one.old.criterion.key) if one.old else None),
                    new=_shown(new.get(one.new.criterion.key) if one.new else None),
                )
                for one in found.comparisons
            ],
        )


def _shown(stored: StoredCriterion | None) -> CriterionOut | None:
    return None if stored is None else CriterionOut.of(stored)


class CarriedTotalMoveOut(TotalMoveOut):
    """A total that moves since its mark is carried over; of a mark that `stays`, the total before
    counts until it is finished anew.
    """

    finished: bool
    stays: bool


class StayingOut(BaseModel):
    """A mark that goes on counting as it is until it is finished anew, and what it then needs."""

    student: str
    unmarked: list[str]


class TaskEffectOut(BaseModel):
    """What a revision would do to a task. Of its `marks`, `carried` are carried over as a whole;
    `staying` count as they are until finished anew; the rest was not finished yet.
    """

    id: int
    title: str
    class_name: str
    revision: int
    points_before: ShortNumber
    points_after: ShortNumber
    marks: int
    carried: int
    staying: list[StayingOut]
    totals: list[CarriedTotalMoveOut]
    moves: MovesOut

    @classmethod
    def of(cls, effect: TaskEffect) -> TaskEffectOut:
        """Show an effect."""
        before, after = effect.points
        return cls(
            id=effect.task.id,
            title=effect.task.title,
            class_name=effect.klass.name,
            revision=effect.task.revision,
            points_before=before,
            points_after=after,
            marks=len(effect.marks),
            carried=sum(mark.counts for mark in effect.marks),
            staying=[
                StayingOut(student=mark.mark.name, unmarked=list(mark.unmarked))
                for mark in effect.marks
                if mark.stays
            ],
            totals=[
                CarriedTotalMoveOut.of(move, finished=move.mark.counts, stays=move.mark.stays)
                for move in effect.totals
            ],
            moves=MovesOut.of(effect.moves),
        )


class RevisionEffectsOut(BaseModel):
    """What a revision would do, task by task and together. With `only_words` it is not needed:
    the words are changed in place. `elsewhere` counts tasks that stay since others teach them.
    """

    only_words: bool
    tasks: list[TaskEffectOut]
    together: MovesOut
    elsewhere: int


@router.get("/revisions")
def read_side_by_side(
    rubric_id: int, caller: AsTeacher, old: int | None = None, new: int | None = None
) -> SideBySideOut:
    """Lay two revisions side by side: the newest and the one before it, if not said."""
    return SideBySideOut.of(service.side_by_side(caller, rubric_id, old, new))


@router.delete("/revisions/draft")
def discard_revision(rubric_id: int, version: int, caller: AsTeacher) -> RubricOut:
    """Throw the draft of a later revision away."""
    return RubricOut.of(service.discard_revision(caller, rubric_id, version))


@router.post("/revisions/{number:int}/effects")
@heavy
def read_effects(
    rubric_id: int, number: int, body: TasksIn, caller: AsTeacher
) -> RevisionEffectsOut:
    """Say what putting tasks on a revision would do; nothing is changed."""
    found = revision_effects(caller, rubric_id, number, body.tasks)
    return RevisionEffectsOut(
        only_words=found.only_words,
        tasks=[TaskEffectOut.of(effect) for effect in found.tasks],
        together=MovesOut.of(found.together),
        elsewhere=found.elsewhere,
    )


@router.post("/revisions/{number:int}/apply")
def apply_revision(rubric_id: int, number: int, body: ApplyIn, caller: AsTeacher) -> RubricOut:
    """Put tasks on a revision, and make it final where it is a draft."""
    return RubricOut.of(service.apply_revision(caller, rubric_id, number, body.version, body.tasks))


@router.post("/draft")
def revise(rubric_id: int, body: VersionIn, caller: AsTeacher) -> RubricOut:
    """Open a final rubric for changes: as a draft again, or, where tasks use it, as the draft of a
    new revision.
    """
    return RubricOut.of(service.revise(caller, rubric_id, body.version))
