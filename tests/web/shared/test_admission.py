"""How many requests are worked on at once: nobody's flood holds anybody else's."""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable
from typing import TypeVar

import pytest
from anyio.from_thread import start_blocking_portal

from jade_ladder.core.errors import Unavailable
from jade_ladder.web.shared.admission import (
    MOST_WAITING,
    OF_A_PERSON,
    OF_STUDENTS,
    Admission,
)

FLOOD = 40
T = TypeVar("T")


def _run(what: Callable[[], Awaitable[T]]) -> T:
    """Run what is asynchronous in a thread of its own: a browser's loop may run in this one."""
    with start_blocking_portal() as portal:
        return portal.call(what)


async def _held(admission: Admission, people: list[int], student: bool) -> list[int]:
    """Let a request of each come at once; gives those that were let in while all are held."""
    let_in: list[int] = []
    done = asyncio.Event()

    async def request(person: int) -> None:
        async with admission.of(person, student):
            let_in.append(person)
            await done.wait()

    tasks = [asyncio.create_task(request(person)) for person in people]
    for _ in range(10):
        await asyncio.sleep(0)
    held = list(let_in)
    done.set()
    await asyncio.gather(*tasks)
    assert len(let_in) == len(people), "each has its turn"
    return held


def test_a_person_has_so_many_at_once_and_holds_nobody_else() -> None:
    async def flooded() -> list[int]:
        return await _held(Admission(), [1] * FLOOD + [2, 3], student=False)

    held = _run(flooded)
    assert (held.count(1), held.count(2), held.count(3)) == (OF_A_PERSON, 1, 1)


def test_all_students_together_have_so_many_and_teachers_are_let_in_beside() -> None:
    async def flooded() -> tuple[list[int], list[int]]:
        admission = Admission()
        students = asyncio.create_task(_held(admission, list(range(FLOOD)), student=True))
        await asyncio.sleep(0)
        return await _held(admission, [100, 101], student=False), await students

    teachers, students = _run(flooded)
    assert sorted(teachers) == [100, 101]
    assert len(students) == OF_STUDENTS


def test_who_asks_for_too_much_at_once_is_told_and_nothing_is_remembered_of_them() -> None:
    async def flooded() -> Admission:
        admission = Admission()
        with pytest.raises(Unavailable):
            await _held(admission, [1] * (OF_A_PERSON + MOST_WAITING + 1), student=False)
        for _ in range(200):
            await asyncio.sleep(0)
        return admission

    assert _run(flooded)._people == {}
