"""What was said in the finished marks of many students: remarks, and remarks on passages."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from jade_ladder.formats.annotation import read_place
from jade_ladder.store.shared.versions import in_version


class SaidRow(NamedTuple):
    """A remark in the finished version of a mark: on a criterion, by its title and the level that
    was chosen there, or on the whole (None); `quote` are the words that it is on, empty where it is
    on no passage or on something drawn (`drawn`).
    """

    task_id: int
    student_id: int
    number: int
    finished_at: str
    criterion: str | None
    level: str | None
    half_way: int
    text: str
    quote: str = ""
    drawn: bool = False


_FINISHED = "m.finished_version"
_MARKS = """json_each(:tasks) n JOIN task_student ts ON ts.task_id = n.value
            JOIN attempt a ON a.task_student_id = ts.id
            JOIN teachers_mark m ON m.attempt_id = a.id"""
_WHOSE = "ts.task_id, ts.student_id, a.number, m.first_finished_at"
_REMARKS = f"""
  SELECT {_WHOSE}, k.title, l.name, coalesce(c.half_way, 0), r.text
  FROM {_MARKS}
  JOIN mark_remark r ON r.mark_id = m.id AND r.text <> '' AND {in_version("r", _FINISHED)}
  LEFT JOIN criterion k ON k.id = r.criterion_id
  LEFT JOIN mark_choice c ON c.mark_id = m.id AND c.criterion_id = r.criterion_id
    AND {in_version("c", _FINISHED)}
  LEFT JOIN criterion_level l ON l.id = c.level_id
  ORDER BY ts.task_id, ts.student_id, a.number, k.position IS NULL, k.position, r.id"""
_PASSAGES = f"""
  SELECT {_WHOSE}, (SELECT k.title FROM mark_choice x JOIN criterion k ON k.id = x.criterion_id
                    WHERE x.mark_id = m.id AND k.key = p.criterion_key
                    ORDER BY x.id DESC LIMIT 1), p.text, p.place
  FROM {_MARKS}
  JOIN passage p ON p.mark_id = m.id AND p.place <> '' AND {in_version("p", _FINISHED)}
  ORDER BY ts.task_id, ts.student_id, a.number, p.id"""


def said_at_tasks(db: sqlite3.Connection, task_ids: Iterable[int]) -> Iterator[SaidRow]:
    """List what was said in the finished marks of tasks, task by task, student by student, attempt
    by attempt; first the remarks, then those on passages of all tasks.
    """
    wanted = {"tasks": json.dumps(list(task_ids))}
    for row in db.execute(_REMARKS, wanted):
        yield SaidRow(*row)
    for task, student, number, at, criterion, text, place in db.execute(_PASSAGES, wanted):
        quote = read_place(place).quote
        exact = "" if quote is None else quote.exact
        yield SaidRow(task, student, number, at, criterion, None, 0, text, exact, quote is None)
