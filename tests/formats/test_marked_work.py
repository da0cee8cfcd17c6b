"""Work taken along: numbers at the places of passages however a page lies, and the remarks."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from pypdf import PdfReader, PdfWriter, generic
from pypdf.generic import FloatObject, NameObject, RectangleObject

from jade_ladder.core.errors import Refused
from jade_ladder.core.passage import Piece, Place, Quote, Rect, Shape, ShapeKind, Span
from jade_ladder.formats.files.html_words import words_of_html
from jade_ladder.formats.paper.laying_over import lay_over
from jade_ladder.formats.paper.marked_work import (
    CriterionSaid,
    MarkedWork,
    NumberedPlace,
    PdfPart,
    PicturePart,
    RemarkPages,
    Said,
    TextPart,
    job_of,
    marked_lines,
    paragraphs,
)
from jade_ladder.formats.paper.setting import set_marked_work
from tests.samples import jpeg, locked_pdf, pdf

WIDE, HIGH = 595, 842
PLAIN = RemarkPages("Route card", ("Kaia Pohl",), (), ())


def marked(folder: Path, work: MarkedWork) -> PdfReader:
    # As it goes to the processes that do it.
    job = json.loads(json.dumps(job_of(work)))
    set_marked_work(job, folder / "drawn.pdf")
    lay_over(job, folder / "drawn.pdf", folder / "marked.pdf")
    return PdfReader(folder / "marked.pdf")


def places_of_numbers(page: Any) -> dict[str, tuple[float, float]]:
    """Where each number begins, in the file's own units of the page."""
    found: dict[str, tuple[float, float]] = {}

    def see(text: str, cm: list[float], tm: list[float], *_: object) -> None:
        if text.strip().isdigit():
            x, y = tm[4], tm[5]
            found[text.strip()] = (
                cm[0] * x + cm[2] * y + cm[4],
                cm[1] * x + cm[3] * y + cm[5],
            )

    page.extract_text(visitor_text=see)
    return found


@pytest.mark.parametrize("unit", [1.0, 2.0])
@pytest.mark.parametrize("crop", [(0, 0, WIDE, HIGH), (40, 90, 500, 700)])
@pytest.mark.parametrize("turned", [0, 90, 180, 270])
def test_a_number_stands_where_its_passage_ends_as_the_page_is_shown(
    tmp_path: Path, turned: int, crop: tuple[int, int, int, int], unit: float
) -> None:
    left, low, right, top = crop
    wide, high = (right - left) * unit, (top - low) * unit
    if turned in (90, 270):
        wide, high = high, wide
    # As it is seen: words from 60 to 140 across and 50 to 62 down from the upper left corner.
    place = Place(Quote("Leg one"), None, (Piece(1, Span(0, 7), (Rect(60, 50, 80, 12),)),))
    box = Place(shape=Shape(ShapeKind.BOX, 1, 200, 150, 100, 110, wide, high))
    writer = PdfWriter()
    (tmp_path / "plain.pdf").write_bytes(pdf(["Leg one", "Leg two"]))
    for page in PdfReader(tmp_path / "plain.pdf").pages:
        added = writer.add_page(page)
        added.cropbox = RectangleObject(crop)
        added[NameObject("/UserUnit")] = FloatObject(unit)
        added.rotate(turned)
    writer.write(tmp_path / "work.pdf")
    work = MarkedWork(
        (PdfPart(str(tmp_path / "work.pdf"), (NumberedPlace(1, place), NumberedPlace(2, box))),),
        PLAIN,
    )
    made = marked(tmp_path, work)
    assert len(made.pages) == 3
    assert made.pages[0].rotation == turned
    assert places_of_numbers(made.pages[1]) == {}
    numbers = places_of_numbers(made.pages[0])
    for number, (across, down) in {"1": (141, 46), "2": (100, 98)}.items():
        # By hand: back from the picture, turned clockwise, to the page as it lies.
        u, v = across / unit, down / unit
        x, y = {
            0: (left + u, top - v),
            90: (left + v, low + u),
            180: (right - u, low + v),
            270: (right - v, top - u),
        }[turned]
        assert numbers[number] == pytest.approx((x, y), abs=12)


def test_several_files_keep_their_pages_and_the_remarks_say_all_of_it(tmp_path: Path) -> None:
    files = []
    for at, words in enumerate((["Leg one", "Leg two"], ["Tides"])):
        path = tmp_path / f"{at}.pdf"
        path.write_bytes(pdf(words))
        over = Place(
            Quote("Leg one Leg two"),
            None,
            (
                Piece(1, Span(0, 7), (Rect(60, 80, 50, 12),)),
                Piece(2, Span(0, 7), (Rect(60, 80, 50, 12),)),
            ),
        )
        arrow = Place(shape=Shape(ShapeKind.ARROW, 1, 300, 300, 100, 100, WIDE, HIGH))
        files.append((str(path), (NumberedPlace(at + 1, arrow if at else over),)))
    said = RemarkPages(
        "Route card",
        ("Kaia Pohl · Map Room",),
        (Said("Clear to walk by.\n#panic() $x$ \\ *not markup*"),),
        (
            CriterionSaid(
                "Plots each leg",
                "Arrived",
                "Each leg has a bearing",
                "Checks them backwards",
                2,
                4,
                2,
                (Said("Name the quay", "on “Leg one”, page 1 of a.pdf", 1),),
            ),
            CriterionSaid("Credits sources", "not assessed", "", "", None, 2, 1),
        ),
        "9.45 of 12",
        (("Criteria", "10.45"), ("Late, 1 day", "-1.00")),
    )
    made = marked(tmp_path, MarkedWork(tuple(PdfPart(*one) for one in files), said))
    for page, words in zip(made.pages, ("Leg one", "Leg two", "Tides"), strict=False):
        assert page.extract_text().startswith(words)
    # The number stands once, where the passage ends.
    assert [list(places_of_numbers(page)) for page in made.pages[:3]] == [[], ["1"], ["2"]]
    text = " ".join(made.pages[3].extract_text().split())
    for words in (
        *("Route card", "Kaia Pohl · Map Room", "9.45 of 12", "Late, 1 day", "Credits sources"),
        *("Plots each leg · Arrived", "Name the quay", "on “Leg one”, page 1 of a.pdf"),
        *("#panic() $x$ \\ *not markup*", "Checks them backwards"),
    ):
        assert words in text


def test_remarks_of_any_script_and_length_are_set(tmp_path: Path) -> None:
    (tmp_path / "a.pdf").write_bytes(pdf(["Leg one"]))
    box = Place(shape=Shape(ShapeKind.BOX, 1, 10, 10, 500, 800, WIDE, HIGH))
    scripts = "Thị Mai, تعليق جميل, הערה, अच्छा काम, 写得好, ภาษาไทย, ভালো, நன்று"
    said = [Said(scripts), Said("x" * 5_000), Said("a b " * 1_250)]
    said += [Said(f"Remark {number}", "", number) for number in range(1, 501)]
    places = tuple(NumberedPlace(number, box) for number in range(1, 501))
    work = MarkedWork(
        (PdfPart(str(tmp_path / "a.pdf"), places),), RemarkPages("T", (), tuple(said), ())
    )
    made = marked(tmp_path, work)
    text = "".join(page.extract_text() for page in made.pages[1:])
    assert "写得好" in text
    assert "Remark 500" in text
    # Nothing is cut off at the edge of the paper.
    assert text.count("x") >= 5_000


@pytest.mark.parametrize(
    ("line", "direction"),
    [("Clear", "ltr"), ("12: تعليق", "rtl"), ("(הערה) here", "rtl"), ("…", "ltr"), ("é", "ltr")],
)
def test_a_line_is_read_the_way_of_its_first_letter(line: str, direction: str) -> None:
    assert paragraphs(line) == [{"text": line, "dir": direction}]


ACTS = {"/AA", "/OpenAction", "/JS", "/JavaScript", "/EF", "/EmbeddedFiles", "/XFA", "/AF", "/PA"}
ACTIONS = "<< /S /JavaScript /JS (app.alert\\(1\\)) /Next << /S /URI /URI (https://x.example) >> >>"


def acting_pdf() -> bytes:
    """A PDF in which everything acts: the document, a page, a link, a field and its parent, a file,
    and a page that another page leads to.
    """
    writer = PdfWriter(clone_from=io.BytesIO(pdf(["Leg one", "Leg two"])))
    first, second = writer.pages
    action = generic.read_object(io.BytesIO(ACTIONS.encode()), writer)
    act = {NameObject("/O"): action, NameObject("/C"): action}
    rect = RectangleObject((10, 10, 90, 90))

    def annotation(kind: str, **more: Any) -> Any:
        named = {NameObject(f"/{name}"): one for name, one in more.items()}
        made = {NameObject("/Subtype"): NameObject(f"/{kind}"), NameObject("/Rect"): rect, **named}
        return writer._add_object(generic.DictionaryObject(made))

    parent = writer._add_object(
        generic.DictionaryObject({NameObject("/AA"): generic.DictionaryObject(act)})
    )
    to_second = generic.ArrayObject([second.indirect_reference, NameObject("/Fit")])
    first[NameObject("/Annots")] = generic.ArrayObject(
        [
            annotation("Link", A=action),
            annotation("Link", Dest=to_second),
            annotation("Widget", AA=generic.DictionaryObject(act), Parent=parent),
            annotation("FileAttachment", FS=generic.DictionaryObject()),
            annotation("Screen", A=action),
            annotation("Highlight", Popup=annotation("Popup", AA=generic.DictionaryObject(act))),
        ]
    )
    for page in (first, second):
        page[NameObject("/AA")] = generic.DictionaryObject(act)
    second[NameObject("/Annots")] = generic.ArrayObject([annotation("Link", A=action)])
    writer._root_object[NameObject("/OpenAction")] = action
    writer.add_attachment("evil.exe", b"MZ")
    made = io.BytesIO()
    writer.write(made)
    return made.getvalue()


def reached(found: Any, seen: set[int]) -> Iterator[generic.DictionaryObject]:
    """Every dictionary of a file that its catalogue leads to."""
    found = found.get_object() if found is not None else None
    if id(found) in seen:
        return
    seen.add(id(found))
    if isinstance(found, generic.DictionaryObject):
        yield found
    below = found.values() if isinstance(found, dict) else found
    for one in below if isinstance(found, dict | list) else ():
        yield from reached(one, seen)


def acting(reader: PdfReader) -> set[str]:
    """What can act in a file: the keys, wherever they stand, and the kinds of actions."""
    there: set[str] = set()
    for one in reached(reader.trailer["/Root"], set()):
        there |= ACTS & set(one)
        if "/A" in one and "/Subtype" in one:
            there.add("/A")
        if one.get("/S") in ("/JavaScript", "/URI", "/Launch", "/SubmitForm", "/GoToR"):
            there.add(str(one["/S"]))
    return there


def test_nothing_that_can_act_is_taken_along(tmp_path: Path) -> None:
    (tmp_path / "a.pdf").write_bytes(acting_pdf())
    before = acting(PdfReader(tmp_path / "a.pdf"))
    assert before >= {"/AA", "/OpenAction", "/JS", "/EF", "/A", "/JavaScript", "/URI"}
    reader = marked(tmp_path, MarkedWork((PdfPart(str(tmp_path / "a.pdf")),), PLAIN))
    assert [page.extract_text().strip() for page in reader.pages[:2]] == ["Leg one", "Leg two"]
    assert acting(reader) == set()
    kept = [one.get_object()["/Subtype"] for one in reader.pages[0]["/Annots"]]  # type: ignore[attr-defined]
    assert kept == ["/Link", "/Link", "/Widget", "/Highlight"]
    assert b"evil.exe" not in (tmp_path / "marked.pdf").read_bytes()
    assert b"app.alert" not in (tmp_path / "marked.pdf").read_bytes()


@pytest.mark.parametrize(
    ("content", "why"),
    [
        (locked_pdf(), "password|damaged"),
        (b"%PDF-1.7 nothing", "damaged"),
        (pdf(["Leg one"])[:200], "damaged"),
        (pdf(["Leg one"]).replace(b"/Count 1", b"/Count 9999999"), None),
        (pdf(["Leg one"]).replace(b"/Parent 2 0 R", b"/Parent 3 0 R"), None),
    ],
)
def test_a_pdf_that_means_harm_is_refused_or_read(
    tmp_path: Path, content: bytes, why: str | None
) -> None:
    (tmp_path / "a.pdf").write_bytes(content)
    work = MarkedWork((PdfPart(str(tmp_path / "a.pdf")),), PLAIN)
    if why is None:
        assert len(marked(tmp_path, work).pages) == 2
    else:
        with pytest.raises(Refused, match=why):
            marked(tmp_path, work)


def at(text: str, words: str, start: int | None = None) -> Place:
    """A passage of a text: where its words are, or elsewhere."""
    where = text.index(words) if start is None else start
    return Place(Quote(words), Span(where, where + len(words)))


def test_all_parts_are_taken_along_in_their_order(tmp_path: Path) -> None:
    (tmp_path / "plan.pdf").write_bytes(pdf(["Leg one"]))
    (tmp_path / "photo").write_bytes(jpeg((300, 1200)))
    text = "From the slipway\n\nto the beacon\nمن المرفأ"
    box = Place(None, None, (), Shape(ShapeKind.BOX, 1, 30, 120, 150, 600, 300, 1200))
    places = (NumberedPlace(1, at(text, "slipway\n\nto")), NumberedPlace(2, at(text, "beacon")))
    work = MarkedWork(
        (
            TextPart("Text", text, places),
            PdfPart(str(tmp_path / "plan.pdf")),
            PicturePart("beacon.jpg", str(tmp_path / "photo"), "jpg", (NumberedPlace(3, box),)),
            TextPart("data.zip", "", note="This file is not shown on paper."),
            TextPart("long.txt", "Word and word.\n" * 200),
        ),
        PLAIN,
    )
    pages = [page.extract_text() for page in marked(tmp_path, work).pages]
    heads = [next(line for line in page.splitlines() if line.strip()) for page in pages]
    assert heads[:4] == ["Text", "Leg one", "beacon.jpg", "data.zip"]
    assert heads[4] == "long.txt"
    assert len(pages) > 6, "a long text goes on"
    assert heads[-1] == "Route card"
    assert list(places_of_numbers(marked(tmp_path, work).pages[0])) == ["1", "2"]
    assert list(places_of_numbers(marked(tmp_path, work).pages[2])) == ["3"]
    assert "not shown on paper" in pages[3]


@pytest.mark.parametrize(
    ("text", "places", "runs"),
    [
        ("", [], [[]]),
        ("ab", [], [["ab"]]),
        ("ab cd", [("cd", None)], [["ab ", "[cd]1"]]),
        ("ab\ncd", [("b\nc", None)], [["a", "[b]"], ["[c]1", "d"]]),
        # Over each other, and where the words are at another place by now.
        ("ab cd ef", [("ab cd", None), ("cd ef", None)], [["[ab ]", "[cd]1", "[ ef]2"]]),
        ("x ab", [("ab", 0)], [["x ", "[ab]1"]]),
        ("x ab", [("gone", 0)], [["x ab"]]),
    ],
)
def test_words_of_a_text_in_runs(
    text: str, places: list[tuple[str, int | None]], runs: list[list[str]]
) -> None:
    found = [
        NumberedPlace(number, at(text, words, start))
        for number, (words, start) in enumerate(places, 1)
    ]
    said = [
        [
            (f"[{run['text']}]" if run["marked"] else run["text"])
            + "".join(map(str, run["numbers"]))
            for run in line["runs"]
        ]
        for line in marked_lines(text, found)
    ]
    assert said == runs


def test_words_of_a_document_as_they_are_counted_where_it_is_shown() -> None:
    words = words_of_html("<h2>Tides</h2><p>High &amp; low<br>water</p><ul><li>one</li></ul>")
    assert words.text == "Tides\nHigh & low\nwater\none"
    assert [words.text[first:last] for first, last in words.headings] == ["Tides"]
    assert marked_lines(words.text, (), words.headings)[0]["heading"]
