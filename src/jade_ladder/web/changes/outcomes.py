"""Changing outcomes, one as a whole or many at once, and seeing first whose level that moves."""

from __future__ import annotations

from jade_ladder.service.changes import many_outcomes
from jade_ladder.service.changes import methods as method_changes
from jade_ladder.service.changes.many_outcomes import OutcomeChanges
from jade_ladder.web.changes.level_changes import LevelChangeOut
from jade_ladder.web.changes.methods import MethodEntries, MethodPreviewOut
from jade_ladder.web.outcomes.methods import MethodIn
from jade_ladder.web.outcomes.outcomes import OutcomeIn, OutcomeMethodIn, OutcomesIn
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Whole, YesNo
from jade_ladder.web.shared.heavy import heavy


class OutcomeRulesIn(OutcomeMethodIn):
    """By what an outcome is worked out: its method, minimum and scale."""

    scale_id: Whole


router = router_of("outcomes", "/classes/{class_id:int}/outcomes")


class OutcomeChange(OutcomeIn, OutcomeRulesIn):
    """An outcome as it is to be, with the version it was based on; its method from a day on, or
    (null) altogether.
    """

    version: int
    method_since: Day | None = None


class BulkIn(OutcomesIn):
    """What to change of several outcomes; what is not given stays as it is. A method or strand of
    null is the class's method, and no strand.
    """

    method: MethodIn | None = None
    method_since: Day | None = None
    minimum: Whole | None = None
    scale_id: Whole | None = None
    strand_id: Whole | None = None
    retired: YesNo | None = None

    def changes(self) -> OutcomeChanges:
        """Give it as the service knows it."""
        return OutcomeChanges(
            self.method.method() if self.method else None,
            "method" in self.model_fields_set and self.method is None,
            self.method_since,
            self.minimum,
            self.scale_id,
            self.strand_id,
            "strand_id" in self.model_fields_set and self.strand_id is None,
            self.retired,
        )


@router.put("/bulk")
def change_outcomes(class_id: int, body: BulkIn, caller: AsTeacher) -> MethodEntries:
    """Change several outcomes, all or none; gives by what a change of method is undone."""
    return MethodEntries(
        entries=many_outcomes.change_outcomes(caller, class_id, body.outcome_ids, body.changes())
    )


@router.post("/bulk/preview")
@heavy
def preview_outcomes(class_id: int, body: BulkIn, caller: AsTeacher) -> list[LevelChangeOut]:
    """Say whose level changing several outcomes would move; nothing is changed."""
    changes = many_outcomes.preview_changes(caller, class_id, body.outcome_ids, body.changes())
    return [LevelChangeOut.of(change) for change in changes]


@router.put("/{outcome_id:int}")
def change_outcome(
    class_id: int, outcome_id: int, body: OutcomeChange, caller: AsTeacher
) -> MethodEntries:
    """Change an outcome's words, strand, own method, minimum and scale, all or nothing; gives by
    what a change of method is undone.
    """
    entries = method_changes.change_outcome_whole(
        caller,
        class_id,
        outcome_id,
        body.version,
        body.words(),
        body.own(),
        body.minimum,
        body.scale_id,
        body.method_since,
    )
    return MethodEntries(entries=entries)


@router.post("/{outcome_id:int}/rules/preview")
@heavy
def preview_outcome(
    class_id: int, outcome_id: int, body: OutcomeRulesIn, caller: AsTeacher
) -> MethodPreviewOut:
    """Say whose level an own method, minimum and scale would change; nothing is changed."""
    return MethodPreviewOut.of(
        method_changes.preview_outcome(
            caller, class_id, outcome_id, body.own(), body.minimum, body.scale_id
        )
    )
