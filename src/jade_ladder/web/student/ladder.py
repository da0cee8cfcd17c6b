"""One's own ladder, for the student and for their teacher."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from fastapi import Query
from fastapi.responses import FileResponse
from pydantic import BaseModel

from jade_ladder.core.evidence import note_value
from jade_ladder.core.scale import Scale
from jade_ladder.service.mastery import own_ladder as service
from jade_ladder.service.mastery.own_ladder import ClassLadder, Rung, ShownNote
from jade_ladder.service.notes.note_files import note_file
from jade_ladder.web.mastery.models import MasteryOut, SeenOtherwiseOut
from jade_ladder.web.mastery.trail_models import NextPieceOut, TrailPointOut
from jade_ladder.web.notes.models import NoteFileOut
from jade_ladder.web.outcomes.methods import MethodOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsStudent, AsTeacher
from jade_ladder.web.shared.fields import Day
from jade_ladder.web.shared.numbers import Value
from jade_ladder.web.student.models import ScaleForStudentOut
from jade_ladder.web.work.parts import sent

router = router_of("own ladder")
Since = Annotated[Day | None, Query(description="Also where one stood at the start of this day")]


class NoteForStudentOut(BaseModel):
    """A note that a student sees: what was seen of them, when and by whom."""

    id: int
    level: str
    half_way: bool
    words: str
    seen_at: datetime
    by: str
    files: list[NoteFileOut]

    @classmethod
    def of(cls, note: ShownNote, scale: Scale) -> NoteForStudentOut:
        """Show a note."""
        row = note.row
        same = len(scale.levels) == row.levels
        values = [level.value for level in scale.levels]
        value = note_value(row.level, row.levels, row.half_way, values)
        level = row.level if same else scale.level_of(value)
        return cls(
            id=row.id,
            level=scale.levels[level].name,
            half_way=same and row.half_way,
            words=row.words,
            seen_at=row.seen_at,
            by=row.writer,
            files=NoteFileOut.several(note.files),
        )


class RungOut(BaseModel):
    """An outcome, and where the student stands with it by what was handed back and shown; `aside`
    is how many pieces are set aside, `judged_because` why their teacher set the level by hand.
    """

    id: int
    code: str
    title: str
    description: str
    strand_id: int | None
    scale: ScaleForStudentOut
    mastery_cut: Value
    lowest: Value
    highest: Value
    minimum: int
    method: MethodOut
    mastery: MasteryOut
    before: MasteryOut | None
    first_reached: datetime | None
    held_since: datetime | None
    back: bool
    slipped_at: datetime | None
    points: list[TrailPointOut]
    next_piece: NextPieceOut | None
    notes: list[NoteForStudentOut]
    aside: int
    judged_because: str | None

    @classmethod
    def of(cls, rung: Rung) -> RungOut:
        """Show an outcome."""
        scale, trail = rung.rules.scale, rung.trail
        return cls(
            id=rung.outcome.id,
            code=rung.outcome.code,
            title=rung.outcome.title,
            description=rung.outcome.description,
            strand_id=rung.outcome.strand_id,
            scale=ScaleForStudentOut.of(scale),
            mastery_cut=scale.mastery_cut,
            lowest=scale.lowest,
            highest=scale.highest,
            minimum=rung.rules.minimum,
            method=MethodOut.of(rung.rules.method),
            mastery=MasteryOut.of(rung.mastery),
            before=None if rung.before is None else MasteryOut.of(rung.before),
            first_reached=trail.first_reached,
            held_since=trail.held_since,
            back=trail.back,
            slipped_at=trail.slipped_at,
            points=TrailPointOut.several(trail),
            next_piece=NextPieceOut.of(rung.next_piece, scale),
            notes=[NoteForStudentOut.of(note, scale) for note in rung.notes],
            aside=rung.aside,
            judged_because=rung.judgement and rung.judgement.reason,
        )


class StrandTitleOut(BaseModel):
    """A strand's title."""

    id: int
    title: str


class OwnLadderOut(BaseModel):
    """A ladder in one class: `mastered` of `of` outcomes, and how many it was before."""

    class_id: int
    class_name: str
    until: date | None
    mastered: int
    of: int
    mastered_before: int | None
    strands: list[StrandTitleOut]
    rungs: list[RungOut]

    @classmethod
    def shown(cls, ladder: ClassLadder) -> OwnLadderOut:
        """Show a ladder."""
        before = ladder.roll_up_before
        return cls(
            class_id=ladder.klass.id,
            class_name=ladder.klass.name,
            until=ladder.klass.until,
            mastered=ladder.roll_up.mastered,
            of=ladder.roll_up.of,
            mastered_before=None if before is None else before.mastered,
            strands=[
                StrandTitleOut(id=number, title=title) for number, title in ladder.strands.items()
            ],
            rungs=[RungOut.of(rung) for rung in ladder.rungs],
        )


class RungOtherwiseOut(SeenOtherwiseOut):
    """An outcome of which the student sees something else than their teachers."""

    id: int


class LadderSeenOut(BaseModel):
    """The ladder that a student sees, and of which outcomes teachers see otherwise."""

    ladder: OwnLadderOut
    otherwise: list[RungOtherwiseOut]


@router.get("/my/ladder")
def read_own_ladder(caller: AsStudent, since: Since = None) -> list[OwnLadderOut]:
    """Give one's own ladder in each class, those one is in first."""
    return [OwnLadderOut.shown(one) for one in service.own_ladder(caller, since)]


@router.get("/my/note-files/{file_id:int}/file", response_class=FileResponse)
def read_own_note_file(file_id: int, caller: AsStudent) -> FileResponse:
    """Give a recording or a file of a note that was shown to one."""
    return sent(note_file(caller, file_id))


@router.get("/classes/{class_id:int}/students/{student_id:int}/own-ladder")
def read_ladder_of_student(
    class_id: int, student_id: int, caller: AsTeacher, since: Since = None
) -> LadderSeenOut:
    """Give the ladder that a student sees, and where one sees otherwise oneself."""
    found = service.ladder_of_student(caller, class_id, student_id, since)
    return LadderSeenOut(
        ladder=OwnLadderOut.shown(found.ladder),
        otherwise=[
            RungOtherwiseOut(
                id=number,
                mastery=MasteryOut.of(one.mastery),
                slipped=one.slipped,
                teachers=MasteryOut.of(one.teachers),
            )
            for number, one in found.otherwise.items()
        ],
    )
