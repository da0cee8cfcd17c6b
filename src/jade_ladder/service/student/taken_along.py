"""A student's work taken along: its parts with the numbers of the remarks at their places, and the
remarks behind them.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from zoneinfo import ZoneInfo

from jade_ladder.core.errors import BeingPrepared, Refused
from jade_ladder.core.names import level_words
from jade_ladder.core.numbers import write_hundredths, write_short
from jade_ladder.core.passage import ShapeKind
from jade_ladder.core.total import LineKind, Total
from jade_ladder.formats.files.html_words import words_of_html
from jade_ladder.formats.files.kind import FileKind
from jade_ladder.formats.paper.marked_work import (
    CriterionSaid,
    MarkedWork,
    NumberedPlace,
    Part,
    PdfPart,
    PicturePart,
    RemarkPages,
    Said,
    TextPart,
)
from jade_ladder.formats.plain_text import safe_file_name
from jade_ladder.outside.conversion import mark_work
from jade_ladder.service.files.showing import ready_path, shown_of
from jade_ladder.service.marking.passages import NumberedPassage
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.shared.days import day_and_time, school_zone
from jade_ladder.service.student.criteria import ShownCriterion
from jade_ladder.service.student.results import Result, own_result, result_of_student
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.files.files import FileRow
from jade_ladder.store.marking.feedback_files import FeedbackKind, FeedbackRow
from jade_ladder.store.people import people as people_store
from jade_ladder.store.work import placed_parts as placed_store
from jade_ladder.store.work.parts import PartKind, WorkPart

_LONGEST_QUOTE = 60


@contextmanager
def own_marked_work(caller: Student, task_id: int, attempt: int) -> Iterator[tuple[Path, str]]:
    """Make one PDF of what was handed back to the caller of an attempt; gives where it lies, for as
    long as it is needed, and what it is called. Refused where none of the work is a PDF.
    """
    result = own_result(caller, task_id, attempt)
    with _made(caller, result, caller.person_id) as made:
        yield made


@contextmanager
def marked_work_of_student(
    caller: Teacher, task_id: int, student_id: int
) -> Iterator[tuple[Path, str]]:
    """Make one PDF of what a student of the caller's gets back, as `result_of_student` has it."""
    result = result_of_student(caller, task_id, student_id)
    with _made(caller, result, student_id) as made:
        yield made


@contextmanager
def _made(caller: Caller, result: Result, student_id: int) -> Iterator[tuple[Path, str]]:
    if not result.parts:
        raise Refused("Nothing was handed in here on screen: print the page instead")
    with caller.reading() as db:
        person = people_store.person(db, student_id)
        name = person.name if person else ""
        school = people_store.school(db)
        zone = school_zone(db)
        rows = {part.id: placed_store.file_of_part(db, part.id) for part in result.parts}
    parts = tuple(
        _part(
            caller,
            part,
            rows[part.id],
            tuple(
                NumberedPlace(one.number, one.row.place)
                for one in result.passages
                if one.row.part_id == part.id
            ),
        )
        for part in result.parts
    )
    about = (
        " · ".join([name, result.task.row.class_name, *([school.name] if school else [])]),
        _when(result, zone),
    )
    work = MarkedWork(parts, _remark_pages(result, about, name))
    with Contents.of(caller.database).beside() as folder:
        yield mark_work(work, folder), f"{safe_file_name(f'{result.task.row.title} {name}')}.pdf"


def _part(
    caller: Caller, part: WorkPart, row: FileRow | None, places: tuple[NumberedPlace, ...]
) -> Part:
    """Give a part as it goes on paper: a PDF, a picture, words, or that it is not shown."""
    title = part.file_name or ("Link" if part.kind is PartKind.LINK else "Text")
    if part.replaced_at is not None:
        title += ", which was replaced"
    if row is None:
        return TextPart(title, part.text, places)
    if row.kind is FileKind.PDF:
        return PdfPart(str(Contents.of(caller.database).path(row.hash)), places)
    if row.kind is FileKind.PICTURE:
        path = ready_path(caller.database, row)
        return PicturePart(title, str(path), _FORMS[row.media_type], places)
    shown = shown_of(caller, row)
    if shown.preparing:
        raise BeingPrepared("This file is being prepared. Try again in a moment.")
    notes = ". ".join(shown.notes)
    if shown.html:
        words = words_of_html(shown.html)
        return TextPart(title, words.text, places, words.headings, notes)
    if shown.rows:
        return TextPart(title, "\n".join(" · ".join(row) for row in shown.rows), places, (), notes)
    if shown.text:
        return TextPart(title, shown.text, places, (), notes)
    return TextPart(title, "", (), (), shown.problem or "This file is not shown on paper.")


_FORMS = {"image/png": "png", "image/jpeg": "jpg", "image/webp": "webp"}


def _when(result: Result, zone: ZoneInfo) -> str:
    seen = result.seen
    times = [("Handed in", seen.handed_in_at), ("Handed back", seen.visible_at)]
    if not seen.hand_back_id:
        times[1:] = [("As it would be, handed back now", None)]
    said = [f"{word} {day_and_time(when, zone)}" if when else word for word, when in times]
    return " · ".join(said if seen.handed_in_at else said[1:])


def _remark_pages(result: Result, about: tuple[str, ...], name: str) -> RemarkPages:
    there = {one.stored.id for one in result.criteria}
    whole = result.remarks.get(None)
    # What is on a criterion that is not asked any more is on the whole, too.
    loose = [one for one in result.passages if one.criterion_id not in there]
    said = [Said(whole.text)] if whole else []
    said += _passages(result, loose) + _feedback(result.feedback, None)
    total = result.total
    return RemarkPages(
        result.task.row.title,
        about,
        tuple(said),
        tuple(_criterion(result, one) for one in result.criteria),
        " · ".join(one for one in (_total(total), result.word and result.word.text) if one),
        _lines(total),
        f"{name} · {result.task.row.title}",
    )


def _criterion(result: Result, shown: ShownCriterion) -> CriterionSaid:
    stored = shown.stored
    levels = stored.criterion.levels
    choice = result.choices.get(stored.id)
    at = None
    if choice is not None and choice.level_id in stored.level_ids:
        at = stored.level_ids.index(choice.level_id)
    remark = result.remarks.get(stored.id)
    said = [Said(remark.text)] if remark else []
    said += _passages(result, [one for one in result.passages if one.criterion_id == stored.id])
    said += _feedback(result.feedback, stored.criterion.key)
    name = "not assessed"
    if choice is None and not result.seen.hand_back_id:
        name = "not marked yet"
    if at is not None:
        name = level_words(levels[at].name, choice is not None and choice.half_way)
    if choice is not None and choice.carried_from is not None:
        name += f", carried over from attempt {choice.carried_from}"
    return CriterionSaid(
        stored.criterion.title,
        name,
        "" if at is None else levels[at].descriptor,
        "" if at is None or at + 1 == len(levels) else levels[at + 1].descriptor,
        at,
        len(levels),
        len(levels) if shown.met_level is None else shown.met_level,
        tuple(said),
    )


def _passages(result: Result, passages: Iterable[NumberedPassage]) -> list[Said]:
    parts = {part.id: part for part in result.parts}
    found: list[Said] = []
    for one in passages:
        found.append(Said(one.row.text, _where(one, parts.get(one.row.part_id)), one.number))
        found += [_heard(file) for file in result.feedback if file.passage_key == one.row.key]
    return found


def _where(one: NumberedPassage, part: WorkPart | None) -> str:
    place = one.row.place
    if place.shape is not None:
        on = "a box" if place.shape.kind is ShapeKind.BOX else "an arrow"
        page: int | None = place.shape.page
    else:
        exact = " ".join(place.quote.exact.split()) if place.quote else ""
        on = f"“{exact[:_LONGEST_QUOTE]}{'…' if len(exact) > _LONGEST_QUOTE else ''}”"
        page = place.pieces[0].page if place.pieces else None
    within = (part.file_name if part else None) or "the text"
    replaced = ", which was replaced" if part and part.replaced_at else ""
    if page is not None and part is not None and part.file_kind is FileKind.PDF:
        return f"on {on}, page {page} of {within}{replaced}"
    return f"on {on} in {within}{replaced}"


def _feedback(files: Iterable[FeedbackRow], key: str | None) -> list[Said]:
    return [_heard(one) for one in files if one.passage_key is None and one.criterion_key == key]


def _heard(one: FeedbackRow) -> Said:
    if one.kind is FeedbackKind.FILE:
        return Said(one.words or one.name, "" if not one.words else one.name)
    length = f"{one.seconds // 60}:{one.seconds % 60:02}"
    return Said(one.words or "A spoken remark", f"Spoken remark, {length}")


def _total(total: Total | None) -> str:
    if total is None or not total.out_of:
        return ""
    return f"{write_hundredths(total.value)} of {write_short(total.out_of)}"


def _lines(total: Total | None) -> tuple[tuple[str, str], ...]:
    if total is None:
        return ()
    lines = [
        (
            "Criteria" if line.kind is LineKind.RUBRIC else line.reason,
            write_hundredths(line.amount),
        )
        for line in total.lines
    ]
    if total.waived is not None:
        lines.append((f"{total.waived.reason}, waived", write_hundredths(0)))
    if total.by_hand is not None:
        if total.calculated is not None:
            lines.append(("By calculation", write_hundredths(total.calculated)))
        lines.append((f"Set by the teacher: {total.by_hand.reason}", _total(total)))
    return tuple(lines) if len(lines) > 1 else ()
