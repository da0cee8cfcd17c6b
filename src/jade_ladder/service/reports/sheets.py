"""What is on a screen, as sheets to hand out."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

from jade_ladder.core.mastery import Mastery, State
from jade_ladder.core.numbers import write_hundredths, write_short
from jade_ladder.formats.sheet import Sheet, SheetCell, words
from jade_ladder.service.classes import classes
from jade_ladder.service.classes import students as student_service
from jade_ladder.service.marking import desk as desks
from jade_ladder.service.marking.task_marks import MarkTotal, totals_of_task
from jade_ladder.service.mastery import coverage as coverages
from jade_ladder.service.mastery.student_page import student_page
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.reports.words import STATES, chosen_level, result_word
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.store.outcomes.scales import StoredScale

_MASTERY_NOTE = (
    "✓ is mastered; no figure: no evidence; in brackets: too little evidence yet; judged: the "
    "teacher's own level."
)


def class_list_sheet(caller: Teacher, class_id: int) -> Sheet:
    """The students of a class who have not left, as a list that can be imported again."""
    klass = classes.get_class(caller, class_id)
    rows = [
        words(one.family_name, one.given_name, one.identifier, one.email)
        for one in student_service.students(caller, class_id)
        if one.until is None
    ]
    headings = ("Family name", "Given name", "Identifier", "E-mail")
    return Sheet(
        "Class list", klass.name, _day(caller), "", headings, tuple(tuple(row) for row in rows)
    )


def wall_sheet(
    caller: Teacher,
    class_id: int,
    as_of: date | None = None,
    only_students: Sequence[int] | None = None,
    only_outcomes: Sequence[int] | None = None,
) -> Sheet:
    """The mastery wall as of a day (today at first): students by outcomes, each with the value; of
    all, or of some in that order, as far as they are on that day's wall.
    """
    seen = wall(caller, class_id, as_of)
    down = _places([one.id for one in seen.students], only_students)
    across = _places([one.id for one in seen.outcomes], only_outcomes)
    rows = []
    for at in down:
        cells = [seen.cells[at][column] for column in across]
        values = [_mastery(cell.mastery) if cell.expected else SheetCell("n.e.") for cell in cells]
        count = SheetCell(f"{seen.roll_ups[at].mastered} of {seen.roll_ups[at].of}")
        rows.append((SheetCell(seen.students[at].name), *values, count))
    outcomes = [seen.outcomes[column] for column in across]
    codes = [outcome.code for outcome in outcomes]
    note = f"{_MASTERY_NOTE} n.e.: not expected of this student."
    if len(down) < len(seen.students) or len(across) < len(seen.outcomes):
        note = (
            f"{len(down)} of {len(seen.students)} students and {len(across)} of "
            f"{len(seen.outcomes)} outcomes are shown; “Mastered” counts all outcomes. {note}"
        )
    headings = ("Student", *codes, "Mastered")
    return Sheet(
        "Mastery",
        seen.klass.name,
        seen.as_of,
        note,
        headings,
        tuple(rows),
        wide=len(codes) > 7,
        key=tuple(f"{outcome.code}: {outcome.title}" for outcome in outcomes),
    )


def _places(there: Sequence[int], wanted: Sequence[int] | None) -> Sequence[int]:
    """Give where those that are wanted stand, in the order in which they are; all where None."""
    at = {number: place for place, number in enumerate(there)}
    return [
        at[number] for number in dict.fromkeys(there if wanted is None else wanted) if number in at
    ]


def student_sheet(caller: Teacher, class_id: int, student_id: int) -> Sheet:
    """The outcomes of one student: value, level, and how much evidence there is."""
    page = student_page(caller, class_id, student_id)
    strands = {one.id: one.title for one in page.wall.strands}
    # Who left on the day they came stands nowhere on any day.
    seen = zip(page.wall.outcomes, page.wall.cells[0], strict=True) if page.wall.cells else ()
    rows = [
        (
            *words(strands.get(outcome.strand_id or 0, ""), outcome.code, outcome.title),
            _mastery(cell.mastery) if cell.expected else SheetCell("not expected"),
            *words(_level_name(page.wall.scales[outcome.scale_id], cell.mastery)),
            *words(cell.mastery.pieces),
        )
        for outcome, cell in seen
    ]
    headings = ("Strand", "Code", "Outcome", "Mastery", "Level", "Pieces of evidence")
    of = f"{page.student.name}, {page.wall.klass.name}"
    return Sheet("Outcomes", of, page.wall.as_of, _MASTERY_NOTE, headings, tuple(rows))


def coverage_sheet(caller: Teacher, class_id: int) -> Sheet:
    """What is assessed when: outcomes by tasks, with how many students have evidence from each."""
    klass = classes.get_class(caller, class_id)
    found = coverages.coverage(caller, class_id)
    by_place = {(cell.outcome_id, cell.task_id): cell for cell in found.cells}
    rows = []
    for one in found.outcomes:
        cells = [by_place.get((one.outcome.id, task.id)) for task in found.tasks]
        rows.append(
            (
                SheetCell(f"{one.outcome.code} {one.outcome.title}"),
                *words(*("" if cell is None else cell.students for cell in cells)),
                *words(one.tasks, one.thin, one.without),
            )
        )
    headings = ("Outcome", *(task.title for task in found.tasks), "Tasks", "Thin", "None")
    note = "Under a task: how many students have evidence from it; 0: aligned, none yet."
    return Sheet(
        "What is assessed when", klass.name, _day(caller), note, headings, tuple(rows), wide=True
    )


def task_sheet(caller: Teacher, task_id: int) -> Sheet:
    """The marks of a task as they stand at the desk: a level for each criterion, and the total. Of
    other evidence there is a line for each entry.
    """
    desk = desks.desk(caller, task_id)
    several = desk.task.row.kind.entries
    totals = totals_of_task(caller, task_id)
    over = totals.over_attempts
    found = {(one.mark.student_id, one.mark.number): one for one in totals.marks}
    rows = []
    for student in desk.task.students:
        row = student.row
        last = row.number or 1
        entries = [number for one, number in found if one == row.student_id] or [last]
        for number in entries if several else [last]:
            mark = found.get((row.student_id, number))
            total = mark and mark.choices and mark.total
            points = (total.value, total.out_of) if total else ()
            cells = [SheetCell(write_short(point), number=True) for point in points]
            choices = mark.choices if mark else {}
            levels = [chosen_level(stored, choices.get(stored.id)) for stored in desk.criteria]
            entry = words(str(number) if mark else "") if several else ()
            state = words(STATES[student.state], *levels)
            said = words(_result(found, row.student_id, number if several else None))
            together = over.get(row.student_id)
            last_cells = [] if together is None else [SheetCell(write_short(together), number=True)]
            rows.append(
                (
                    *(SheetCell(row.name), *entry, *state, *(cells or words("", "")), *said),
                    *((last_cells or words("")) if over else ()),
                )
            )
    titles = (stored.criterion.title for stored in desk.criteria)
    entry_heading = ("Entry",) if several else ()
    headings = ("Student", *entry_heading, "State", *titles, "Total", "Out of", "Result")
    headings = (*headings, *(("Over attempts",) if over else ()))
    note = "Marks that are not done yet are as they stand."
    title = f"Marks: {desk.task.row.title}"
    return Sheet(
        title,
        desk.klass.name,
        _day(caller),
        note,
        headings,
        tuple(rows),
        wide=len(desk.criteria) > 3,
    )


def _result(found: Mapping[tuple[int, int], MarkTotal], student_id: int, number: int | None) -> str:
    """Say in a word what came of a student's newest finished attempt, or of an entry."""
    said = [
        mark.word
        for (student, attempt), mark in sorted(found.items())
        if student == student_id and attempt == (number or attempt) and mark.word is not None
    ]
    return result_word(said[-1] if said else None)


def rubric_sheet(caller: Teacher, rubric_id: int) -> Sheet:
    """A rubric as students read it: criteria, and what each level looks like."""
    view = rubrics.get_rubric(caller, rubric_id)
    most = max((len(stored.criterion.levels) for stored in view.criteria), default=0)
    codes = {one.id: one.code for one in view.outcomes}
    rows = []
    for stored in view.criteria:
        cells = []
        for level in stored.criterion.levels:
            points = f" ({write_short(level.points)})" if view.row.points_shown else ""
            cells.append(f"{level.name}{points}: {level.descriptor}".removesuffix(": "))
        blank = [""] * (most - len(cells))
        aligned = ", ".join(codes.get(tie.outcome_id, "") for tie in stored.alignments)
        rows.append(tuple(words(stored.criterion.title, aligned, *cells, *blank)))
    headings = ("Criterion", "Outcomes", *(f"Level {n}" for n in range(1, most + 1)))
    note = "The levels of each criterion stand from the lowest to the highest."
    return Sheet(
        "Rubric", view.row.edited_title, _day(caller), note, headings, tuple(rows), wide=True
    )


def _mastery(mastery: Mastery) -> SheetCell:
    if mastery.value is None:
        return SheetCell("")
    text = write_hundredths(mastery.value)
    if mastery.state is State.NEEDS_EVIDENCE:
        return SheetCell(f"({text})")
    if mastery.judged:
        return SheetCell(f"{text} judged", mastered=mastery.state is State.MASTERED)
    return SheetCell(text, number=True, mastered=mastery.state is State.MASTERED)


def _level_name(scale: StoredScale, mastery: Mastery) -> str:
    return "" if mastery.level is None else scale.scale.levels[mastery.level].name


def _day(caller: Teacher) -> date:
    with caller.reading() as db:
        return today(db, caller)
