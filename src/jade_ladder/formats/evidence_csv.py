"""Evidence as CSV in, mastery values as CSV out: the calculations for people with a spreadsheet.

In: student,outcome,date,value. Out: student,outcome,value,evidence. Every distinct date and value
is checked once, and only what is out of order is sorted.
"""

from __future__ import annotations

import csv
import gc
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from datetime import date
from itertools import chain, islice
from operator import getitem, itemgetter
from typing import Any, NamedTuple, TextIO

from jade_ladder.core.errors import Problem, Refused, RefusedMany
from jade_ladder.core.methods import Method, mastery_value
from jade_ladder.core.numbers import Hundredths, parse_hundredths, write_hundredths
from jade_ladder.core.scale import Scale

COLUMNS = ("student", "outcome", "date", "value")
RESULT_COLUMNS = ("student", "outcome", "value", "evidence")
MOST_PROBLEMS = 20
ROWS_BETWEEN_NEWS = 1 << 15
# Characters: so few that the cells of a block stay in the processor's cache.
BLOCK = 1 << 15


class _Group:
    """The evidence of one student and outcome in the order of the file: day, value, day, value."""

    __slots__ = ("flat", "outcome", "student")

    def __init__(self, student: str, outcome: str) -> None:
        self.student = student
        self.outcome = outcome
        self.flat: list[Any] = []

    def values(self, last_day: str) -> list[Hundredths]:
        """Give the values by date, up to a day; pieces of one day keep the order of the file."""
        days: list[str] = self.flat[::2]
        values: list[Hundredths] = self.flat[1::2]
        if days == sorted(days) and days[-1:] <= [last_day]:
            return values
        pairs = sorted(zip(days, values, strict=True), key=itemgetter(0))
        return [value for day, value in pairs if day <= last_day]


class _Same(dict[str, str]):
    """Texts to the first text that is the same."""

    def __missing__(self, text: str) -> str:
        self[text] = text
        return text


class _Days(dict[str, str]):
    """Texts to days; a text seen for the first time is checked."""

    def __missing__(self, text: str) -> str:
        try:
            if len(text.strip()) != 10:
                raise ValueError
            day = self[text] = date.fromisoformat(text.strip()).isoformat()
        except ValueError:
            raise Refused(f"“{text}” is not a date like 2026-11-25") from None
        return day


class _Values(dict[str, Hundredths]):
    """Texts to values; a text seen for the first time is checked."""

    def __missing__(self, text: str) -> Hundredths:
        value = parse_hundredths(text)
        if value < 0:
            raise Refused(f"“{text}” is below 0")
        self[text] = value
        return value


class _Student(dict[str, list[Any]]):
    """One student's outcomes to their evidence; a new one is noted in the order of appearance."""

    def __init__(self, name: str, order: list[_Group]) -> None:
        super().__init__()
        self.name = name
        self.order = order

    def __missing__(self, outcome: str) -> list[Any]:
        if not self.name or not outcome:
            raise Refused(f"the {'outcome' if self.name else 'student'} is missing")
        group = _Group(self.name, outcome)
        self.order.append(group)
        self[outcome] = group.flat
        return group.flat


class _Students(dict[str, _Student]):
    """Students by name."""

    def __init__(self, order: list[_Group]) -> None:
        super().__init__()
        self.order = order

    def __missing__(self, name: str) -> _Student:
        student = self[name] = _Student(name, self.order)
        return student


def calculate(
    source: TextIO,
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
    last_day = "9999-12-31" if as_of is None else as_of.isoformat()
    with _no_collection():
        results = []
        for group in _read(source, news):
            values = group.values(last_day)
            if values:
                value = write_hundredths(mastery_value(method, scale, values))
                results.append((group.student, group.outcome, value, len(values)))
        return results


def write_results(results: Iterable[tuple[str, str, str, int]], out: TextIO) -> None:
    """Write the results as CSV with headings."""
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(RESULT_COLUMNS)
    writer.writerows(results)


@contextmanager
def _no_collection() -> Iterator[None]:
    """Keep the collector from walking new objects again and again: none of them is in a ring."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def _read(source: TextIO, news: Callable[[], None] | None) -> list[_Group]:
    heading = source.readline()
    separator = max(",;\t", key=heading.count)
    headings = next(csv.reader([heading], delimiter=separator), [])
    pick = _columns(headings)
    order: list[_Group] = []
    table = _Table(_Students(order), _Days(), _Values(), news)
    rows: Iterator[str] = source
    read = 1
    if [_plain(heading) for heading in headings] == list(COLUMNS):
        rest, read = _read_plain(source, separator, table)
        rows = chain(rest.splitlines(keepends=True), source)
    _read_rows(csv.reader(rows, delimiter=separator, strict=True), read, pick, table)
    return order


class _Table(NamedTuple):
    """What is read so far, and whom to tell."""

    students: _Students
    days: _Days
    values: _Values
    news: Callable[[], None] | None


def _read_plain(source: TextIO, separator: str, table: _Table) -> tuple[str, int]:
    """Read blocks of lines that are nothing but four columns, a third of the time of CSV: cells
    and look-ups go through the interpreter's own loops, a block at a time.

    Gives the first block with a line that is quoted, empty or in some way wrong, of which nothing
    is kept, and how many lines were read before it, with the heading.
    """
    students, days, values, news = table
    outcomes = _Same()
    read = 1
    while block := source.read(BLOCK) + source.readline():
        text = block.replace("\r\n", "\n") if "\r" in block else block
        if not text.endswith("\n"):
            text += "\n"
        lines = text.count("\n")
        cells = text.replace("\n", f"{separator}\n{separator}").split(separator)
        # Each line ends in its fifth cell; were one longer or shorter, the ends would not meet.
        if '"' in text or "\r" in text or cells[4::5].count("\n") != lines:
            return block, read
        try:
            of_days = list(map(days.__getitem__, cells[2::5]))
            of_values = list(map(values.__getitem__, cells[3::5]))
            # Column by column, since one table at a time stays in the processor's cache; and one
            # text per outcome, which is then found by identity.
            of_students = list(map(students.__getitem__, cells[0:-1:5]))
            of_outcomes = list(map(outcomes.__getitem__, cells[1::5]))
            evidence = list(map(getitem, of_students, of_outcomes))
        except Refused:
            return block, read
        deque(map(list.extend, evidence, zip(of_days, of_values, strict=True)), maxlen=0)
        read += lines
        if news:
            news()
    return "", read


def _read_rows(
    reader: Any, read: int, pick: Callable[[list[str]], tuple[str, ...]], table: _Table
) -> None:
    """Read rows of CSV, noting each bad one by the line it begins on."""
    students, days, values, news = table
    problems: list[Problem] = []
    row: list[str] = []
    more = True
    while more:
        more = False
        try:
            for row in islice(reader, ROWS_BETWEEN_NEWS):
                more = True
                student, outcome, day_text, value_text = pick(row)
                # Both are looked up, and so checked, before either is kept.
                piece = days[day_text], values[value_text]
                students[student][outcome] += piece
        except (IndexError, Refused) as error:
            _note(error, row, read + reader.line_num, problems)
        except csv.Error as error:
            raise Refused(f"line {read + reader.line_num}: {error}") from error
        if news:
            news()
    if problems:
        raise RefusedMany("Some lines are bad; nothing was written", problems)


def _columns(headings: list[str]) -> Callable[[list[str]], tuple[str, ...]]:
    names = [_plain(heading) for heading in headings]
    missing = [column for column in COLUMNS if column not in names]
    if missing:
        raise Refused(
            f"line 1: the headings must have {', '.join(COLUMNS)}; missing: {', '.join(missing)}"
        )
    return itemgetter(*(names.index(column) for column in COLUMNS))


def _plain(heading: str) -> str:
    return heading.strip().casefold().lstrip("\ufeff")


def _note(error: IndexError | Refused, row: list[str], line: int, problems: list[Problem]) -> None:
    """Note a bad row; an empty line is none. Stop at twenty."""
    if not any(row):
        return
    begins = line - sum(text.count("\n") for text in row)
    message = error.message if isinstance(error, Refused) else f"only {len(row)} of 4 columns"
    problems.append(Problem(f"line {begins}", message))
    if len(problems) == MOST_PROBLEMS:
        raise RefusedMany("Many lines are bad; nothing was written", problems)
