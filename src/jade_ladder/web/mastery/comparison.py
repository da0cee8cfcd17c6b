"""Methods compared, and one applied."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel, Field

from jade_ladder.core.comparison import AGREEMENT_LEAST, SETTINGS, Agreement, written_range
from jade_ladder.core.mastery import State
from jade_ladder.service.mastery import comparison as service
from jade_ladder.service.mastery.comparison import ComparedCell, Comparison
from jade_ladder.web.outcomes.methods import MethodOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import Value

router = router_of("mastery", "/classes/{class_id:int}/comparison")


class ComparedStudentOut(BaseModel):
    """A student who is compared."""

    id: int
    name: str
    sort_name: str


class ComparedOutcomeOut(BaseModel):
    """An outcome that is compared; `present` is the place of its method among the settings."""

    id: int
    code: str
    title: str
    version: int
    scale_id: int
    own_method: bool
    minimum: int
    present: int


class ComparedCellOut(BaseModel):
    """One student with evidence (values in order) on one outcome, under each setting: the value,
    the level (a digit, 0 the lowest), whether it is mastered (1 or 0), and what would change: G
    gains mastery, L loses it, u a level up, d a level down, = nothing. `enough`: whether the
    evidence is.
    """

    student_id: int
    outcome_id: int
    evidence: list[Value]
    enough: bool
    values: list[Value]
    levels: str
    mastered: str
    changes: str
    judged: int | None

    @classmethod
    def of(cls, cell: ComparedCell) -> ComparedCellOut:
        """Show a cell."""
        return cls(
            student_id=cell.student_id,
            outcome_id=cell.outcome_id,
            evidence=list(cell.evidence),
            enough=cell.under[0].state is not State.NEEDS_EVIDENCE,
            values=[one.value for one in cell.under if one.value is not None],
            levels="".join(str(one.level) for one in cell.under),
            mastered="".join("01"[one.state is State.MASTERED] for one in cell.under),
            changes="".join(cell.changes),
            judged=cell.judged,
        )


class AgreementOut(BaseModel):
    """Which settings agree best with so many judgements: with `equal` levels, where the present one
    has `present_equal`; in words, and the first by its place. `as_good` are others as good as the
    present one, where that is best.
    """

    judgements: int
    best: list[str]
    setting: int
    as_good: list[str]
    equal: int
    present_equal: int

    @classmethod
    def of(cls, found: Agreement) -> AgreementOut:
        """Show it."""
        return cls(
            judgements=found.judgements,
            best=written_range(found.best),
            setting=SETTINGS.index(found.best[0]),
            as_good=written_range(found.as_good),
            equal=found.equal,
            present_equal=found.present_equal,
        )


class MethodComparisonOut(BaseModel):
    """Students on outcomes under every setting. From `judgements_needed` judgements on it is said
    which setting agrees best with them.
    """

    class_id: int
    version: int
    day: date
    method: MethodOut
    settings: list[MethodOut]
    students: list[ComparedStudentOut]
    outcomes: list[ComparedOutcomeOut]
    scales: list[ScaleOut]
    cells: list[ComparedCellOut]
    judgements: int
    judgements_needed: int = Field(default=AGREEMENT_LEAST)
    agrees: AgreementOut | None

    @classmethod
    def of(cls, found: Comparison) -> MethodComparisonOut:
        """Show a comparison."""
        used = {outcome.scale_id for outcome in found.outcomes}
        return cls(
            class_id=found.klass.id,
            version=found.klass.version,
            day=found.day,
            method=MethodOut.of(found.method),
            settings=[MethodOut.of(method) for method in SETTINGS],
            students=[
                ComparedStudentOut(id=one.id, name=one.name, sort_name=one.sort_name)
                for one in found.students
            ],
            outcomes=[
                ComparedOutcomeOut(
                    id=one.id,
                    code=one.code,
                    title=one.title,
                    version=one.version,
                    scale_id=one.scale_id,
                    own_method=one.method is not None,
                    minimum=one.minimum,
                    present=present,
                )
                for one, present in zip(found.outcomes, found.present, strict=True)
            ],
            scales=[ScaleOut.of(scale) for scale in found.scales.values() if scale.id in used],
            cells=[ComparedCellOut.of(cell) for cell in found.cells],
            judgements=found.judgements,
            agrees=found.agrees and AgreementOut.of(found.agrees),
        )


@router.get("")
@heavy
def compare_methods(
    class_id: int, caller: AsTeacher, outcome_id: int | None = None
) -> MethodComparisonOut:
    """Compare the methods for a class, or for one outcome of it."""
    return MethodComparisonOut.of(service.comparison(caller, class_id, outcome_id))
