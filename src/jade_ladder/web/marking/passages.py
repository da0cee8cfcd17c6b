"""Remarks on passages of the work."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from jade_ladder.core import passage as core
from jade_ladder.core.passage import LARGEST_SIDE, Piece, Place, Quote, Rect, Shape, ShapeKind, Span
from jade_ladder.service.marking import passages as service
from jade_ladder.service.marking.passages import NewPassage, NumberedPassage
from jade_ladder.service.marking.saving import LONGEST_REMARK
from jade_ladder.web.marking.models import ATTEMPT, MarkOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole, YesNo

router = router_of("marking")

Length = Annotated[float, Field(strict=True, ge=0, le=LARGEST_SIDE, allow_inf_nan=False)]


class QuoteModel(BaseModel):
    """Words as they stand, with what stands before and after them."""

    exact: Text = Field(json_schema_extra={"maxLength": core.LONGEST_QUOTE})
    prefix: Text
    suffix: Text


class SpanModel(BaseModel):
    """From one character to before another, in Unicode code points from 0."""

    start: Whole
    end: Whole


class RectModel(BaseModel):
    """A rectangle on a page, in its units from its upper left corner."""

    x: Length
    y: Length
    width: Length
    height: Length


class PieceModel(BaseModel):
    """What a passage covers of one page of a PDF, from 1."""

    page: Whole
    span: SpanModel
    rects: list[RectModel]


class ShapeModel(BaseModel):
    """A box between two corners, or an arrow from the first point to the second, on a page (from 1)
    or a picture that is `width` by `height` units large.
    """

    kind: ShapeKind
    page: Whole
    x1: Length
    y1: Length
    x2: Length
    y2: Length
    width: Length
    height: Length


class PlaceModel(BaseModel):
    """Where a passage is: words with their span, of a PDF with a piece for each page, or a
    shape.
    """

    quote: QuoteModel | None
    span: SpanModel | None
    pieces: list[PieceModel]
    shape: ShapeModel | None

    def place(self) -> Place:
        """Give it as the core knows it."""
        quote, shape = self.quote, self.shape
        return Place(
            None if quote is None else Quote(quote.exact, quote.prefix, quote.suffix),
            _span(self.span),
            tuple(
                Piece(
                    one.page,
                    Span(one.span.start, one.span.end),
                    tuple(Rect(**rect.model_dump()) for rect in one.rects),
                )
                for one in self.pieces
            ),
            None if shape is None else Shape(**shape.model_dump()),
        )

    @classmethod
    def of(cls, place: Place) -> PlaceModel:
        """Show a place."""
        return cls.model_validate(place, from_attributes=True)


def _span(span: SpanModel | None) -> Span | None:
    return None if span is None else Span(span.start, span.end)


class PassageIn(BaseModel):
    """A remark on a passage, under its own key, with the version of the mark in which it was last
    seen (0: it is new); with `deleted` it goes, and the rest is as it was.
    """

    key: Text
    part_id: Whole
    criterion_id: Whole | None
    text: Text = Field(json_schema_extra={"maxLength": LONGEST_REMARK})
    place: PlaceModel
    deleted: YesNo = False
    version: Whole


class PassageOut(BaseModel):
    """A remark on a passage with its number; criterion null: on the work as a whole. `version` is
    since when it stands so.
    """

    key: str
    number: int
    part_id: int
    criterion_id: int | None
    text: str
    place: PlaceModel
    version: int

    @classmethod
    def of(cls, found: NumberedPassage) -> PassageOut:
        """Show a passage."""
        row = found.row
        return cls(
            key=row.key,
            number=found.number,
            part_id=row.part_id,
            criterion_id=found.criterion_id,
            text=row.text,
            place=PlaceModel.of(row.place),
            version=row.since_version,
        )


@router.put(f"{ATTEMPT}/passages")
def remark_on_passage(
    task_id: int, student_id: int, attempt: int, body: PassageIn, caller: AsTeacher
) -> MarkOut:
    """Save a remark on a passage, or delete it; sent twice, it is one."""
    new = None
    if not body.deleted:
        new = NewPassage(body.part_id, body.criterion_id, body.text, body.place.place())
    return MarkOut.of(
        service.remark_on_passage(caller, task_id, student_id, body.key, new, body.version, attempt)
    )
