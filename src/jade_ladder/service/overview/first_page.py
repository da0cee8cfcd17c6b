"""The first page: what waits for a teacher in all of their classes, and what is worth a look."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from itertools import chain

from jade_ladder.core.signs import LATELY
from jade_ladder.service.overview.worth_a_look import (
    JudgedBefore,
    ManyOn,
    Missing,
    Reached,
    Slipped,
    lines_of,
)
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import school_zone, start_of, today
from jade_ladder.service.work.tasks import TaskLine, lines_of_classes
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.overview.open_work import StoppedRow, ToHandBack, stopped_at, to_hand_back


@dataclass(frozen=True, slots=True)
class FirstPage:
    """What waits, where marking stopped, what is due within two weeks, and, over all classes that
    are not set aside, what is worth a look; `names` are those of the classes.
    """

    day: date
    names: dict[int, str]
    stopped: StoppedRow | None
    waiting: tuple[TaskLine, ...]
    coming: tuple[TaskLine, ...]
    to_hand_back: tuple[ToHandBack, ...]
    slipped: tuple[Slipped, ...]
    reached: tuple[Reached, ...]
    judged: tuple[JudgedBefore, ...]
    close: tuple[ManyOn, ...]
    thin: tuple[ManyOn, ...]
    missing: tuple[Missing, ...]


def first_page(caller: Teacher) -> FirstPage:
    """Give it, as of now."""
    with caller.reading() as db:
        day = today(db, caller)
        classes = [
            klass
            for klass in class_store.classes_of_teacher(db, caller.person_id)
            if klass.set_aside_at is None
        ]
        numbers = [klass.id for klass in classes]
        lines = lines_of_classes(db, caller, numbers)
        soon = start_of(day + timedelta(days=LATELY + 1), school_zone(db))
        coming = [
            line
            for line in lines
            if line.row.due_at is not None and caller.now < line.row.due_at < soon
        ]
        found = [lines_of(db, caller, klass, day) for klass in classes]
        return FirstPage(
            day,
            {klass.id: klass.name for klass in classes},
            stopped_at(db, caller.person_id, numbers),
            tuple(line for line in lines if line.to_mark or line.asking),
            tuple(coming),
            tuple(to_hand_back(db, numbers)),
            tuple(
                sorted(
                    chain.from_iterable(one.slipped for one in found),
                    key=lambda one: one.at,
                    reverse=True,
                )
            ),
            tuple(
                sorted(
                    chain.from_iterable(one.reached for one in found),
                    key=lambda one: one.at,
                    reverse=True,
                )
            ),
            tuple(chain.from_iterable(one.judged for one in found)),
            tuple(
                sorted(
                    chain.from_iterable(one.close for one in found), key=lambda one: -one.students
                )
            ),
            tuple(chain.from_iterable(one.thin for one in found)),
            tuple(chain.from_iterable(one.missing for one in found)),
        )
