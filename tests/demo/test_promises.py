"""What the demo promises, whatever day and hour it is made at: a written list, held by the demo
made on seven days in a row.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from jade_ladder.core.marking import DeskState
from jade_ladder.demo.scenario import DemoClass, make_demo
from jade_ladder.demo.words import SIGNING_IN, STUDENTS
from jade_ladder.service.mastery.own_ladder import own_ladder
from jade_ladder.service.mastery.wall import Wall, wall
from jade_ladder.service.overview.first_page import FirstPage, first_page
from jade_ladder.service.shared.caller import Administrator, Student
from jade_ladder.service.work.handing_in import OwnTask, own_tasks
from jade_ladder.service.work.tasks import class_tasks
from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.shared.connection import Database

MONDAY = datetime(2026, 11, 30, tzinfo=UTC)
HOURS = (0.2, 6.5, 8, 12, 15.9, 20, 23.9)
"""Each day of the week has one of these: from just after midnight to just before the next."""


@dataclass(frozen=True, slots=True)
class Made:
    """The demo as its teacher and its first student to sign in see it on the day it was made."""

    first: FirstPage
    wall: Wall
    states: Counter[DeskState]
    own: list[OwnTask]
    rungs: int
    faults: list[str]

    @classmethod
    def of(cls, database: Database, made: DemoClass, now: datetime) -> Made:
        teacher = Administrator(database, 1, now)
        given = [given for given, _, _ in STUDENTS]
        farida = Student(database, made.students[given.index(next(iter(SIGNING_IN)))], now)
        states = sum((line.counts for line in class_tasks(teacher, made.class_id)), Counter())
        with database.reading() as db:
            faults = evidence_faults(db)
        return cls(
            first_page(teacher),
            wall(teacher, made.class_id),
            states,
            own_tasks(farida),
            sum(rung.mastery.value is not None for it in own_ladder(farida) for rung in it.rungs),
            faults,
        )

    @property
    def cells(self) -> list[object]:
        return [cell for row in self.wall.cells for cell in row]

    def count(self, what: str) -> int:
        return sum(bool(getattr(cell, what)) for cell in self.cells)


PROMISES: dict[str, Callable[[Made], bool]] = {
    "somebody slipped in the last two weeks": lambda it: len(it.first.slipped) >= 2,
    "somebody reached something in the last week": lambda it: len(it.first.reached) >= 1,
    "newer evidence came for exactly one judgement": lambda it: len(it.first.judged) == 1,
    "three judgements hold": lambda it: (
        sum(cell.mastery.judged for row in it.wall.cells for cell in row) == 3
    ),
    "many stand just below mastery": lambda it: len(it.first.close) >= 1 and it.count("close") >= 8,
    "somebody has thin evidence": lambda it: it.count("thin") >= 1,
    "somebody swings widely": lambda it: it.count("swings") >= 1,
    "somebody is missing again": lambda it: len(it.first.missing) >= 1,
    "evidence is set aside": lambda it: sum(it.wall.aside.values()) >= 1,
    "marking stopped in the middle of a set": lambda it: (
        it.first.stopped is not None and it.first.stopped.title == "Route card for Gull Head"
    ),
    "the same 26 pieces wait to be marked": lambda it: (
        sum(line.to_mark for line in it.first.waiting) == 26
    ),
    "work waits in each state": lambda it: (
        set(it.states)
        >= {
            DeskState.WAITING,
            DeskState.STARTED,
            DeskState.DONE,
            DeskState.MISSING,
            DeskState.NOT_YET,
            DeskState.EXCUSED,
        }
    ),
    "marked work waits to be handed back": lambda it: len(it.first.to_hand_back) == 3,
    "one task is due within two weeks": lambda it: (
        [line.row.title for line in it.first.coming] == ["Map for a visitor"]
    ),
    "a student has a task to hand in": lambda it: any(
        task.closed is None and not task.row.has_work for task in it.own
    ),
    "a student has another attempt open": lambda it: any(task.row.granted for task in it.own),
    "a student sees where they stand": lambda it: it.rungs >= 6,
    "what is kept as evidence is what the marks say": lambda it: it.faults == [],
}


@pytest.mark.parametrize("day", range(7), ids=lambda day: f"{MONDAY + timedelta(day):%A}")
def test_the_demo_keeps_what_it_promises_on_every_day_of_the_week(day: int, tmp_path: Path) -> None:
    now = MONDAY + timedelta(days=day, hours=HOURS[day])
    database = Database(tmp_path / "jade-ladder.sqlite3")
    made = make_demo(database, now)
    found = Made.of(database, made, now)
    database.close()
    assert [promise for promise, kept in PROMISES.items() if not kept(found)] == []
