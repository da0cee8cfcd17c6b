"""The mastery wall."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel

from jade_ladder.core.mastery import State
from jade_ladder.core.rollup import StrandRollup
from jade_ladder.core.trail import Direction
from jade_ladder.service.mastery import wall as service
from jade_ladder.service.mastery.wall import Wall
from jade_ladder.web.outcomes.methods import MethodOut
from jade_ladder.web.outcomes.scales import ScaleOut
from jade_ladder.web.outcomes.strands import StrandOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import Value

router = router_of("mastery", "/classes/{class_id:int}/mastery")


class WallStudentOut(BaseModel):
    """A student down the side: mastered `mastered` of `of`."""

    id: int
    name: str
    sort_name: str
    identifier: str | None
    mastered: int
    of: int
    without: int
    needing: int


class WallOutcomeOut(BaseModel):
    """An outcome across the top, with its class ladder: students at each level, lowest first."""

    id: int
    code: str
    title: str
    strand_id: int | None
    scale_id: int
    method: MethodOut
    own_method: bool
    minimum: int
    at_level: list[int]
    mastered: int
    counted: int
    needing: int
    without: int
    median: Value | None
    mean: Value | None


class WallAsideOut(BaseModel):
    """How many pieces of evidence of a student on an outcome are set aside."""

    student_id: int
    outcome_id: int
    pieces: int


class WallJudgedOut(BaseModel):
    """A cell that is judged: the value worked out beside it, and whether the evidence changed since
    the teacher judged.
    """

    student_id: int
    outcome_id: int
    calculated: Value | None
    evidence_changed: bool


class WallStrandOut(BaseModel):
    """A strand for each student, in their order: `mastered` of `of` outcomes at any depth, and,
    where they share one scale, their mean or the lowest of them (`strand_roll_up` of the wall).
    """

    id: int
    mastered: list[int]
    of: list[int]
    value: list[Value | None]


class WallOut(BaseModel):
    """Students by outcomes; the cells stand in columns of their own, row by row. `slipped`: was
    mastered before, is not now; not `expected`: lifted for the student, who is not counted.
    `close`, `thin` (evidence from fewer than `thin_below` tasks and notes) and `swings` are the
    places of the cells of which that is so.
    `aside` are the cells of which something is set aside, `judged` those that are judged.
    """

    class_id: int
    as_of: date
    method: MethodOut
    students: list[WallStudentOut]
    strands: list[StrandOut]
    outcomes: list[WallOutcomeOut]
    scales: list[ScaleOut]
    state: list[State]
    value: list[Value | None]
    level: list[int | None]
    pieces: list[int]
    direction: list[Direction]
    slipped: list[bool]
    expected: list[bool]
    strand_roll_ups: list[WallStrandOut]
    strand_roll_up: StrandRollup
    class_version: int
    close: list[int]
    thin: list[int]
    swings: list[int]
    thin_below: int
    first_day: date
    aside: list[WallAsideOut]
    judged: list[WallJudgedOut]

    @classmethod
    def of(cls, wall: Wall) -> WallOut:
        """Show a wall."""
        cells = [cell for row in wall.cells for cell in row]
        used = {outcome.scale_id for outcome in wall.outcomes}
        return cls(
            class_id=wall.klass.id,
            as_of=wall.as_of,
            method=MethodOut.of(wall.class_method),
            students=students_of(wall),
            strands=[StrandOut.of(strand) for strand in wall.strands],
            outcomes=_outcomes(wall),
            scales=[ScaleOut.of(scale) for scale in wall.scales.values() if scale.id in used],
            state=[cell.mastery.state for cell in cells],
            value=[cell.mastery.value for cell in cells],
            level=[cell.mastery.level for cell in cells],
            pieces=[cell.mastery.pieces for cell in cells],
            direction=[cell.direction for cell in cells],
            slipped=[cell.slipped for cell in cells],
            expected=[cell.expected for cell in cells],
            aside=[
                WallAsideOut(student_id=student, outcome_id=outcome, pieces=pieces)
                for (student, outcome), pieces in wall.aside.items()
            ],
            judged=_judged(wall),
            strand_roll_ups=[
                WallStrandOut(
                    id=one.strand.id,
                    mastered=[roll_up.mastered for roll_up in one.roll_ups],
                    of=[roll_up.of for roll_up in one.roll_ups],
                    value=list(one.values),
                )
                for one in wall.strand_roll_ups
            ],
            strand_roll_up=wall.klass.strand_roll_up,
            class_version=wall.klass.version,
            close=[at for at, cell in enumerate(cells) if cell.close],
            thin=[at for at, cell in enumerate(cells) if cell.thin],
            swings=[at for at, cell in enumerate(cells) if cell.swings],
            thin_below=wall.thin_below,
            first_day=wall.klass.first_day,
        )


def _judged(wall: Wall) -> list[WallJudgedOut]:
    return [
        WallJudgedOut(
            student_id=student.id,
            outcome_id=outcome.id,
            calculated=cell.mastery.calculated,
            evidence_changed=cell.mastery.evidence_changed,
        )
        for student, row in zip(wall.students, wall.cells, strict=True)
        for outcome, cell in zip(wall.outcomes, row, strict=True)
        if cell.mastery.judged and cell.expected
    ]


def students_of(wall: Wall) -> list[WallStudentOut]:
    """Show the students of a wall, with how many outcomes each has mastered."""
    return [
        WallStudentOut(
            id=student.id,
            name=student.name,
            sort_name=student.sort_name,
            identifier=student.identifier,
            mastered=roll_up.mastered,
            of=roll_up.of,
            without=roll_up.without,
            needing=roll_up.needing,
        )
        for student, roll_up in zip(wall.students, wall.roll_ups, strict=True)
    ]


def _outcomes(wall: Wall) -> list[WallOutcomeOut]:
    columns = zip(wall.outcomes, wall.rules, wall.pictures, strict=True)
    return [
        WallOutcomeOut(
            id=outcome.id,
            code=outcome.code,
            title=outcome.title,
            strand_id=outcome.strand_id,
            scale_id=outcome.scale_id,
            method=MethodOut.of(rules.method),
            own_method=outcome.id in wall.own_methods,
            minimum=outcome.minimum,
            at_level=list(picture.at_level),
            mastered=picture.mastered,
            counted=picture.counted,
            needing=picture.needing,
            without=picture.without,
            median=picture.median,
            mean=picture.mean,
        )
        for outcome, rules, picture in columns
    ]


@router.get("")
@heavy
def read_wall(class_id: int, caller: AsTeacher, as_of: Day | None = None) -> WallOut:
    """Give the mastery wall as of a day."""
    return WallOut.of(service.wall(caller, class_id, as_of))
