"""Remarks on passages in the demo: in texts that are marked, on a PDF and on a sketch."""

from __future__ import annotations

import random

from jade_ladder.core.passage import Piece, Place, Quote, Rect, Shape, ShapeKind, Span
from jade_ladder.demo import files, kinds_of_work
from jade_ladder.service.marking import desk, feedback_files, passages
from jade_ladder.service.marking.feedback_files import NewFeedback
from jade_ladder.service.marking.passages import NewPassage
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.marking.feedback_files import FeedbackKind

# What is found in many texts, the place of the criterion among those of the rubric, the remark.
IN_TEXTS = (
    ("North is by compass, corrected", 0, "Say by how much, {name}: a stranger has no compass."),
    ("six symbols", 0, "Six are few enough to learn. Good."),
    ("about two metres", 1, "Where does this figure come from?"),
    ("a visitor does not look for them", 2, "This is the reason that counts."),
    ("two degrees of west variation", 1, "Right. Give the year of the sheet, too."),
    ("from both ends", 1, "This is how one knows."),
    ("between the two closed rings", 0, "Well seen: the rings say it before the numbers do."),
    ("the map on the wall", 3, "Which one? Three hang there."),
    ("five-metre line", 0, "Which sheet has it? The older one steps in tens."),
    ("drawn after a storm", 1, "This is the doubt that makes it an argument."),
    ("asked Mr. Olander", 3, "Name him in the credits, with the day."),
)
_TYPE = 6.2


def in_text(
    caller: Teacher,
    task_id: int,
    student_id: int,
    name: str,
    luck: random.Random,
    share: float = 0.4,
) -> None:
    """Remark on so many of the passages of a text that is being marked."""
    found = desk.work_at_desk(caller, task_id, student_id)
    if not found.parts or not found.parts[0].text:
        return
    part, criteria = found.parts[0], desk.desk(caller, task_id).criteria
    for number, (exact, place, words) in enumerate(IN_TEXTS):
        start = part.text.find(exact)
        if start < 0 or luck.random() > share:
            continue
        end = start + len(exact)
        quote = Quote(exact, part.text[max(0, start - 32) : start], part.text[end : end + 32])
        criterion = criteria[min(place, len(criteria) - 1)]
        _remark(
            caller,
            task_id,
            student_id,
            f"text-{number}",
            NewPassage(
                part.id, criterion.id, words.format(name=name), Place(quote, Span(start, end))
            ),
        )


def on_files(caller: Teacher, task_id: int, on_pdf: int, on_sketch: int) -> None:
    """Remark on words and with a box in a PDF, and with an arrow on a sketch."""
    criteria = desk.desk(caller, task_id).criteria
    pdf = desk.work_at_desk(caller, task_id, on_pdf).parts[0].id
    before = "Leg 2\nStile to saddle, 071 magnetic, 40 minutes\nWay out: "
    exact = "down to the road"
    span = Span(len(before), len(before) + len(exact))
    words = Rect(60 + _TYPE * len("Way out: "), 123, _TYPE * len(exact), 15)
    down = Place(Quote(exact), pieces=(Piece(2, span, (words,)),))
    bend = Place(shape=Shape(ShapeKind.BOX, 1, 170, 480, 340, 560, 595, 842))
    places = (
        (2, "By which path? It floods at springs.", down),
        (1, "The bend is missing in the list of legs.", bend),
    )
    for number, (place, text, where) in enumerate(places):
        new = NewPassage(pdf, criteria[place].id, text, where)
        _remark(caller, task_id, on_pdf, f"plan-{number}", new)
    sketch = next(
        one for one in desk.work_at_desk(caller, task_id, on_sketch).parts if one.file_name
    )
    arrow = Shape(ShapeKind.ARROW, 1, 860, 180, 640, 330, 1200, 800)
    new = NewPassage(
        sketch.id, criteria[0].id, "The lines crowd here: how steep is it?", Place(shape=arrow)
    )
    _remark(caller, task_id, on_sketch, "sketch-0", new)


def spoken(caller: Teacher, task_id: int, student_id: int) -> None:
    """Speak a remark on the first criterion."""
    key, content = f"demo-spoken-{task_id}-{student_id}", files.recording()
    upload = kinds_of_work.sent(caller, key, "Spoken remark.wav", content)
    criterion = desk.desk(caller, task_id).criteria[0]
    words = "Listen to how the bell counts: once for each contour you cross."
    new = NewFeedback(upload, FeedbackKind.RECORDING, criterion.id, None, words, 2)
    feedback_files.attach(caller, task_id, student_id, key, new)


def _remark(caller: Teacher, task_id: int, student_id: int, key: str, new: NewPassage) -> None:
    key = f"demo-{task_id}-{student_id}-{key}"
    passages.remark_on_passage(caller, task_id, student_id, key, new, 0)
