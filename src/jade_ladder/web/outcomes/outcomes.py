"""Outcomes and strands of a class."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from pydantic import BaseModel

from jade_ladder.core.methods import Method
from jade_ladder.service.outcomes import outcomes as service
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.store.outcomes.outcomes import OutcomeRow
from jade_ladder.web.outcomes.methods import MethodIn, MethodOut
from jade_ladder.web.outcomes.strands import StrandOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsAdministrator, AsTeacher
from jade_ladder.web.shared.fields import Text, Whole, YesNo
from jade_ladder.web.shared.models import Added, Made, OrderIn

router = router_of("outcomes")


class OutcomeIn(BaseModel):
    """What a teacher writes of an outcome."""

    code: Text
    title: Text
    description: Text = ""
    strand_id: Whole | None = None

    def words(self) -> OutcomeWords:
        """Give it trimmed."""
        return OutcomeWords(
            self.code.strip(), self.title.strip(), self.description.strip(), self.strand_id
        )


class OutcomeMethodIn(BaseModel):
    """An outcome's own method (none: the class's) and minimum of evidence."""

    method: MethodIn | None
    minimum: Whole

    def own(self) -> Method | None:
        """Give the method as the core knows it."""
        return self.method.method() if self.method else None


class OutcomeOut(BaseModel):
    """An outcome as the class teaches it; `schools` where it is the school's and no teacher's."""

    id: int
    guid: str
    code: str
    title: str
    description: str
    strand_id: int | None
    scale_id: int
    method: MethodOut | None
    minimum: int
    retired: date | None
    version: int
    also_taught: list[str]
    schools: bool

    @classmethod
    def of(cls, row: OutcomeRow, also_taught: Sequence[str] = ()) -> OutcomeOut:
        """Show an outcome."""
        own = row.method and MethodOut.of(Method(row.method, row.newest, row.last))
        return cls(
            id=row.id,
            guid=row.guid,
            code=row.code,
            title=row.title,
            description=row.description,
            strand_id=row.strand_id,
            scale_id=row.scale_id,
            method=own or None,
            minimum=row.minimum,
            retired=row.active_until,
            version=row.version,
            also_taught=list(also_taught),
            schools=row.owner_id is None,
        )


class ClassOutcomesOut(BaseModel):
    """Strands in order, and the class's outcomes in order, retired ones too."""

    strands: list[StrandOut]
    outcomes: list[OutcomeOut]


class OwnerIn(BaseModel):
    """Whether an outcome is the school's."""

    schools: YesNo


class PlaceIn(BaseModel):
    """Where an outcome is to stand: in a strand, before another outcome or at the end."""

    strand_id: Whole | None
    before_id: Whole | None


class ElsewhereOut(BaseModel):
    """An outcome that the class could teach too; `classes` are those that do."""

    id: int
    code: str
    title: str
    strand: str
    classes: str


class OutcomesIn(BaseModel):
    """Some outcomes."""

    outcome_ids: list[Whole]


class RetireIn(BaseModel):
    """Whether it is retired."""

    retired: YesNo


@router.get("/classes/{class_id:int}/outcomes")
def read_outcomes(class_id: int, caller: AsTeacher) -> ClassOutcomesOut:
    """Give the strands and outcomes of a class."""
    found = service.outcomes_of_class(caller, class_id)
    return ClassOutcomesOut(
        strands=[StrandOut.of(strand) for strand in found.strands],
        outcomes=[OutcomeOut.of(row, found.also_taught.get(row.id, ())) for row in found.outcomes],
    )


@router.post("/classes/{class_id:int}/outcomes", status_code=201)
def add_outcome(class_id: int, body: OutcomeIn, caller: AsTeacher) -> Made:
    """Add an outcome."""
    return Made(id=service.add_outcome(caller, class_id, body.words()))


@router.put("/classes/{class_id:int}/outcomes/order", status_code=204)
def order_outcomes(class_id: int, body: OrderIn, caller: AsTeacher) -> None:
    """Put a class's outcomes in order."""
    service.order_outcomes(caller, class_id, body.order)


@router.get("/classes/{class_id:int}/outcomes/elsewhere")
def read_outcomes_elsewhere(class_id: int, caller: AsTeacher) -> list[ElsewhereOut]:
    """List one's outcomes that the class could teach too, or copy."""
    return [
        ElsewhereOut(
            id=one.id, code=one.code, title=one.title, strand=one.strand, classes=one.classes
        )
        for one in service.outcomes_elsewhere(caller, class_id)
    ]


@router.post("/classes/{class_id:int}/outcomes/teach", status_code=204)
def teach_outcomes(class_id: int, body: OutcomesIn, caller: AsTeacher) -> None:
    """Let the class teach outcomes of other classes: the same ones, with their evidence."""
    service.teach_outcomes(caller, class_id, body.outcome_ids)


@router.post("/classes/{class_id:int}/outcomes/copy", status_code=201)
def copy_outcomes(class_id: int, body: OutcomesIn, caller: AsTeacher) -> Added:
    """Copy outcomes of other classes, to be changed here."""
    return Added(added=len(service.copy_outcomes(caller, class_id, body.outcome_ids)))


@router.put("/classes/{class_id:int}/outcomes/{outcome_id:int}/place", status_code=204)
def place_outcome(class_id: int, outcome_id: int, body: PlaceIn, caller: AsTeacher) -> None:
    """Move an outcome into a strand, before another or to the end."""
    service.place_outcome(caller, class_id, outcome_id, body.strand_id, body.before_id)


@router.put("/classes/{class_id:int}/outcomes/{outcome_id:int}/owner", status_code=204)
def set_schools_outcome(
    class_id: int, outcome_id: int, body: OwnerIn, caller: AsAdministrator
) -> None:
    """Make an outcome the school's, or one's own again."""
    service.set_schools_outcome(caller, class_id, outcome_id, body.schools)


@router.put("/classes/{class_id:int}/outcomes/{outcome_id:int}/retired", status_code=204)
def retire_outcome(class_id: int, outcome_id: int, body: RetireIn, caller: AsTeacher) -> None:
    """Retire an outcome from today, or restore it."""
    service.retire_outcome(caller, class_id, outcome_id, body.retired)
