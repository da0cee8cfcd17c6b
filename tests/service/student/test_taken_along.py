"""Work taken along as PDF: what was handed back, for its student and for their teacher."""

from __future__ import annotations

from contextlib import AbstractContextManager
from dataclasses import replace
from pathlib import Path

import pytest
from pypdf import PdfReader

from jade_ladder.core.errors import BeingPrepared, NotFound, Refused
from jade_ladder.core.passage import Piece, Place, Quote, Rect, Shape, ShapeKind, Span
from jade_ladder.service.files import preparing
from jade_ladder.service.marking import desk, handing_back, passages, saving
from jade_ladder.service.marking.passages import NewPassage
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student.taken_along import marked_work_of_student, own_marked_work
from jade_ladder.service.work import attempts, parts
from jade_ladder.store.files.contents import Contents
from tests.builders import Small, arrived, at, small
from tests.samples import jpeg, locked_pdf, pdf, zipped

ON_PAGE = Place(Quote("Leg one"), None, (Piece(1, Span(0, 7), (Rect(60, 65, 70, 20),)),))


@pytest.fixture
def made(caller: Teacher) -> Small:
    return replace(small(at(caller, -10)), caller=caller)


def own(made: Small) -> Student:
    return Student(made.caller.database, made.students[0], made.caller.now)


def put_in(made: Small, name: str, content: bytes) -> int:
    upload = arrived(made.caller, name, content)
    return parts.add_work_file(made.caller, made.task_id, made.students[0], upload).id


def read(made: AbstractContextManager[tuple[Path, str]]) -> tuple[str, list[str]]:
    """The name, and the words of every page."""
    with made as (path, name):
        return name, [page.extract_text() for page in PdfReader(path).pages]


def test_what_was_handed_back_is_taken_along_and_nothing_else(made: Small) -> None:
    task, student = made.task_id, made.students[0]
    plan = put_in(made, "plan.pdf", pdf(["Leg one", "Leg two"]))
    attempts.enter_work(made.caller, task, student, "From the slipway")
    made.mark(student, 3, 1)
    criteria = desk.desk(made.caller, task).criteria
    first = NewPassage(plan, criteria[0].id, "Which leg?", ON_PAGE)
    passages.remark_on_passage(made.caller, task, student, "first-passage", first, 0)
    saving.finish(made.caller, task, student)
    with pytest.raises(NotFound), own_marked_work(own(made), task, 1):
        pass
    name, pages = read(marked_work_of_student(made.caller, task, student))
    assert "As it would be, handed back now" in pages[-1]
    handing_back.hand_back(made.caller, task, None, False)
    second = replace(first, text="Not handed back")
    passages.remark_on_passage(made.caller, task, student, "other-passage", second, 0)
    name, pages = read(own_marked_work(own(made), task, 1))
    assert name.endswith(".pdf")
    assert len(pages) == 4
    assert "From the slipway" in pages[0]
    assert pages[1].replace("\n", "").startswith("Leg one")
    assert pages[1].rstrip().endswith("1")
    assert "Which leg?" in pages[3]
    assert "page 1 of plan.pdf" in pages[3]
    assert "Not handed back" not in pages[3]
    assert "Total" not in pages[3], "only the levels are shown"
    assert "Not handed back" in read(marked_work_of_student(made.caller, task, student))[1][-1]


def test_every_part_is_taken_along_with_its_passages(made: Small) -> None:
    """A text alone, too; a picture once it is written anew."""
    task, student = made.task_id, made.students[0]
    attempts.enter_work(made.caller, task, student, "From the slipway to the beacon")
    made.mark(student, 3, 1)
    text = desk.work_at_desk(made.caller, task, student).parts[0].id
    on_words = Place(Quote("slipway"), Span(9, 16))
    said = NewPassage(text, None, "Which one?", on_words)
    passages.remark_on_passage(made.caller, task, student, "first-passage", said, 0)
    saving.finish(made.caller, task, student)
    pages = read(marked_work_of_student(made.caller, task, student))[1]
    assert len(pages) == 2
    assert "Which one?" in pages[1]
    put_in(made, "chart.csv", b"leg,bearing\none,042")
    put_in(made, "notes.zip", zipped({"a.txt": b"a"}))
    photo = put_in(made, "beacon.jpg", jpeg((40, 30)))
    with pytest.raises(BeingPrepared), marked_work_of_student(made.caller, task, student):
        pass
    preparing.prepare_all(made.caller.database, made.caller.now)
    box = Place(None, None, (), Shape(ShapeKind.BOX, 1, 4, 4, 20, 20, 40, 30))
    boxed = NewPassage(photo, None, "Here", box)
    passages.remark_on_passage(made.caller, task, student, "other-passage", boxed, 0)
    saving.finish(made.caller, task, student)
    pages = read(marked_work_of_student(made.caller, task, student))[1]
    heads = [next(line for line in page.splitlines() if line.strip()) for page in pages]
    assert heads == ["Text", "chart.csv", "notes.zip", "beacon.jpg", "Route"]
    assert "one · 042" in pages[1]
    assert "2" in pages[3].split()


def test_work_that_is_none_or_cannot_be_read_is_refused_and_leaves_nothing(made: Small) -> None:
    task, student = made.task_id, made.students[0]
    made.mark(student, 3, 1)

    def refused(why: str) -> None:
        with pytest.raises(Refused, match=why), marked_work_of_student(made.caller, task, student):
            pass

    refused("Nothing was handed in here")
    put_in(made, "locked.pdf", locked_pdf())
    refused("print the page instead")
    incoming = Contents.of(made.caller.database).folder / "incoming"
    assert not list(incoming.glob("work-*"))
