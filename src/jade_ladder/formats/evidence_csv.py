"""Evidence as CSV in, mastery values as CSV out: the calculations for people with a spreadsheet.

In: student,outcome,date,value. Out: student,outcome,value,evidence. A million rows are read in
one loop: every distinct date and value is checked once, and only what is out of order is sorted.
"""

from __future__ import annotations

import csv
import gc
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from datetime import date
from operator import itemgetter
from typing import TextIO

from jade_ladder.core.errors import Problem, Refused, RefusedMany
from jade_ladder.core.methods import Method, mastery_value
from jade_ladder.core.numbers import Hundredths, parse_hundredths, write_hundredths
from jade_ladder.core.scale import Scale

COLUMNS = ("student", "outcome", "date", "value")
RESULT_COLUMNS = ("student", "outcome", "value", "evidence")
MOST_PROBLEMS = 20
ROWS_BETWEEN_NEWS = 1 << 15


class _Group:
    """The evidence of one student and outcome, in the order of the file."""

    __slots__ = ("dates", "in_order", "outcome", "student", "values")

    def __init__(self, student: str, outcome: str) -> None:
        self.student = student
        self.outcome = outcome
        self.dates: list[str] = []
        self.values: list[Hundredths] = []
        self.in_order = True

    def ordered_values(self) -> list[Hundredths]:
        """Give the values by date; pieces of one day keep the order of the file."""
        if self.in_order:
            return self.values
        pairs = sorted(zip(self.dates, self.values, strict=True), key=itemgetter(0))
        return [value for _, value in pairs]


def calculate(
    lines: Iterable[str],
    method: Method,
    scale: Scale,
    as_of: date | None = None,
    news: Callable[[], None] | None = None,
) -> list[tuple[str, str, str, int]]:
    """Work out a mastery value per student and outcome, in the order they first appear.

    `scale` matters only to the most frequent method; `as_of` leaves out what is later, and whom
    nothing is left of; `news` is called now and then while reading. Raises RefusedMany naming
    each bad line (the first twenty), and then gives nothing.
    """
    with _rare_collection():
        groups = _read(lines, as_of, news)
        return [
            (
                group.student,
                group.outcome,
                write_hundredths(mastery_value(method, scale, group.ordered_values())),
                len(group.values),
            )
            for group in groups
            if group.values
        ]


def write_results(results: Iterable[tuple[str, str, str, int]], out: TextIO) -> None:
    """Write the results as CSV with headings."""
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(RESULT_COLUMNS)
    writer.writerows(results)


@contextmanager
def _rare_collection() -> Iterator[None]:
    """Keep the collector from walking millions of new objects again and again."""
    thresholds = gc.get_threshold()
    gc.set_threshold(1_000_000, 50, 100)
    try:
        yield
    finally:
        gc.set_threshold(*thresholds)


def _read(
    lines: Iterable[str], as_of: date | None, news: Callable[[], None] | None
) -> list[_Group]:
    rows = iter(lines)
    heading = next(rows, "")
    separator = max(",;\t", key=heading.count)
    reader = csv.reader(rows, delimiter=separator, strict=True)
    pick = _columns(next(csv.reader([heading], delimiter=separator), []))
    last_day = "9999-12-31" if as_of is None else as_of.isoformat()
    groups: dict[str, dict[str, _Group]] = {}
    order: list[_Group] = []
    dates: dict[str, str] = {}
    values: dict[str, Hundredths] = {}
    problems: list[Problem] = []
    until_news = ROWS_BETWEEN_NEWS
    try:
        for row in reader:
            try:
                student, outcome, day_text, value_text = pick(row)
                day = dates.get(day_text) or _new_date(day_text, dates)
                value = values.get(value_text)
                if value is None:
                    value = _new_value(value_text, values)
            except (IndexError, Refused) as error:
                _note(error, row, reader.line_num, problems)
                continue
            of_student = groups.get(student)
            if of_student is None:
                of_student = groups[student] = {}
            group = of_student.get(outcome)
            if group is None:
                if not student or not outcome:
                    blank = "outcome" if student else "student"
                    _note(Refused(f"the {blank} is missing"), row, reader.line_num, problems)
                    continue
                group = of_student[outcome] = _Group(student, outcome)
                order.append(group)
            if day > last_day:
                continue
            if group.in_order and group.dates and day < group.dates[-1]:
                group.in_order = False
            group.dates.append(day)
            group.values.append(value)
            until_news -= 1
            if not until_news:
                until_news = ROWS_BETWEEN_NEWS
                if news:
                    news()
    except csv.Error as error:
        raise Refused(f"line {reader.line_num + 1}: {error}") from error
    if problems:
        raise RefusedMany("Some lines are bad; nothing was written", problems)
    return order


def _columns(headings: list[str]) -> Callable[[list[str]], tuple[str, ...]]:
    names = [heading.strip().casefold().lstrip("\ufeff") for heading in headings]
    missing = [column for column in COLUMNS if column not in names]
    if missing:
        raise Refused(
            f"line 1: the headings must have {', '.join(COLUMNS)}; missing: {', '.join(missing)}"
        )
    return itemgetter(*(names.index(column) for column in COLUMNS))


def _new_date(text: str, dates: dict[str, str]) -> str:
    try:
        if len(text.strip()) != 10:
            raise ValueError
        dates[text] = date.fromisoformat(text.strip()).isoformat()
    except ValueError:
        raise Refused(f"“{text}” is not a date like 2026-11-25") from None
    return dates[text]


def _new_value(text: str, values: dict[str, Hundredths]) -> Hundredths:
    value = parse_hundredths(text)
    if value < 0:
        raise Refused(f"“{text}” is below 0")
    values[text] = value
    return value


def _note(error: IndexError | Refused, row: list[str], line: int, problems: list[Problem]) -> None:
    """Note a bad row; an empty line is none. Stop at twenty."""
    if not any(row):
        return
    begins = line - sum(text.count("\n") for text in row) + 1
    message = error.message if isinstance(error, Refused) else f"only {len(row)} of 4 columns"
    problems.append(Problem(f"line {begins}", message))
    if len(problems) == MOST_PROBLEMS:
        raise RefusedMany("Many lines are bad; nothing was written", problems)
