"""Forty teachers who mark at once: how long a save takes, alone and while two others preview."""

from __future__ import annotations

import http.client
import json
import random
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path
from statistics import median
from typing import Any

from scripts.bench.class_of_40 import fill
from scripts.bench.serving import serving

from jade_ladder.core.rubric import Criterion, CriterionLevel
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.outside import clock
from jade_ladder.service.classes import classes, students
from jade_ladder.service.marking import desk
from jade_ladder.service.outcomes import outcomes
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people import sessions
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.people import people as people_store
from jade_ladder.store.shared.connection import Database

TEACHERS, SECONDS, THINKING = 40, 20.0, 1.0


@dataclass(frozen=True, slots=True)
class Marker:
    """A teacher at a desk: their session, and what they can choose, as path and body."""

    person: int
    token: str
    choices: tuple[tuple[str, dict[str, object]], ...]

    @property
    def headers(self) -> dict[str, str]:
        """What goes with every call."""
        return {
            "cookie": f"jade_ladder_session={self.token}",
            "content-type": "application/json",
            "jade-ladder-person": str(self.person),
        }


def one_marker(database: Database, number: int) -> Marker:
    """Make a teacher with a class of ten students, a rubric of four criteria and a task."""
    now = clock.now()
    with database.transaction() as db:
        person = people_store.add_person(db, "Marker", str(number), None, f"m{number}@t.example")
        people_store.make_teacher(db, person, "no password")
        caller = Teacher(database, person, now)
        first = (now - timedelta(days=60)).date()
        class_id = classes.make_class(caller, f"Class {number}", first, first + timedelta(days=200))
        aligned = [
            outcomes.add_outcome(caller, class_id, OutcomeWords(f"O{n}", "Outcome", "", None))
            for n in range(4)
        ]
        members = [
            students.add_student(caller, class_id, StudentLine(n, "S", f"{number} {n}"))
            for n in range(10)
        ]
        levels = tuple(CriterionLevel(f"l{n}", f"Level {n}", n * 100, "") for n in range(1, 5))
        drafts = [
            CriterionDraft(
                Criterion(f"c{one}", "Criterion", levels), (AlignmentDraft(one, 1, (None,) * 4),)
            )
            for one in aligned
        ]
        rubric = rubrics.make_rubric(caller, "Rubric")
        view = rubrics.save_draft(caller, rubric, 1, "Rubric", drafts)
        rubrics.make_final(caller, rubric, view.row.version)
        words = TaskWords("Task", "", TaskKind.HANDED_IN, rubric, None, None, False)
        task_id = tasks.make_task(caller, class_id, words)
        criteria = desk.desk(caller, task_id).criteria
    token = sessions.begin_session(database, person, now)
    choices = tuple(
        (
            f"/api/tasks/{task_id}/students/{student}/attempts/1/choices/{stored.id}",
            {"level_id": level, "version": 100_000},
        )
        for student in members
        for stored in criteria
        for level in stored.level_ids
    )
    return Marker(person, token, choices)


def mark(
    address: str, marker: Marker, until: float, thinking: float, times: list[float], bad: list[int]
) -> None:
    """Choose again and again; note how long each save took, and every answer that is a fault."""
    luck = random.Random(marker.person)
    connection = http.client.HTTPConnection(address, timeout=60)
    time.sleep(luck.random() * thinking)
    while time.monotonic() < until:
        path, body = luck.choice(marker.choices)
        began = time.perf_counter()
        connection.request("PUT", path, json.dumps(body), marker.headers)
        answer = connection.getresponse()
        answer.read()
        times.append(time.perf_counter() - began)
        if answer.status >= 400:
            bad.append(answer.status)
        if thinking:
            time.sleep(thinking * (0.5 + luck.random()))


def run(
    address: str,
    markers: list[Marker],
    thinking: float,
    beside: list[Callable[[float], None]],
    seconds: float = SECONDS,
) -> tuple[list[float], list[int]]:
    """Let all of them mark for a while, others beside them; gives the times sorted, and faults."""
    until = time.monotonic() + seconds
    times: list[float] = []
    bad: list[int] = []
    threads = [
        threading.Thread(target=mark, args=(address, marker, until, thinking, times, bad))
        for marker in markers
    ]
    threads += [threading.Thread(target=work, args=(until,)) for work in beside]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return sorted(times), bad


def previewing(
    address: str, headers: dict[str, str], path: str, body: object
) -> tuple[Callable[[float], None], list[float]]:
    """Preview something in a loop; gives the work, and the list of its times."""
    times: list[float] = []

    def work(until: float) -> None:
        connection = http.client.HTTPConnection(address, timeout=120)
        while time.monotonic() < until:
            began = time.perf_counter()
            connection.request("POST", path, json.dumps(body), headers)
            answer = connection.getresponse()
            content = answer.read()
            assert answer.status == 200, content
            times.append(time.perf_counter() - began)

    return work, times


def at(times: list[float], share: float) -> float:
    """Give the time at a share of sorted ones, in milliseconds."""
    return times[min(len(times) - 1, int(len(times) * share))] * 1000


def bench_load(folder: Path) -> None:
    """Saves of forty teachers with a second's thought each, without and with previews beside them;
    then flat out, against a single teacher.
    """
    database = Database.in_folder(folder / "load")
    class_id, _ = fill(database)
    administrator = Marker(1, sessions.begin_session(database, 1, clock.now()), ())
    markers = [one_marker(database, number) for number in range(TEACHERS)]
    database.close()
    with serving(folder / "load") as address:
        compare(address, markers, administrator, class_id)


def previews(
    address: str, administrator: Marker, class_id: int
) -> list[tuple[str, dict[str, object]]]:
    """Give the two previews, of a scale and of many outcomes, as path and body."""
    connection = http.client.HTTPConnection(address)

    def get(path: str) -> Any:
        connection.request("GET", path, headers=administrator.headers)
        return json.loads(connection.getresponse().read())

    first = get("/api/scales")[0]
    scale = {
        "name": first["name"],
        "levels": [{**level, "cut": level["value"]} for level in first["levels"]],
        "mastery_level": first["mastery_level"],
        "version": first["version"],
    }
    numbers = [one["id"] for one in get(f"/api/classes/{class_id}/outcomes")["outcomes"]]
    bulk = {"outcome_ids": numbers, "method": {"kind": "latest"}}
    return [
        (f"/api/scales/{first['id']}/preview", scale),
        (f"/api/classes/{class_id}/outcomes/bulk/preview", bulk),
    ]


def compare(address: str, markers: list[Marker], administrator: Marker, class_id: int) -> None:
    """Run all of it and print the ratios."""
    run(address, markers[:4], 0.2, [], seconds=2)
    alone, _ = run(address, markers, THINKING, [])
    works = [
        previewing(address, administrator.headers, path, body)
        for path, body in previews(address, administrator, class_id)
    ]
    beside, bad = run(address, markers, THINKING, [work for work, _ in works])
    ratio = at(beside, 0.95) / at(alone, 0.95)
    print(
        f"{len(markers)} teachers marking, {len(alone)} saves: p95 {at(alone, 0.95):.1f} ms; ",
        end="",
    )
    print(f"beside previews {at(beside, 0.95):.1f} ms, p50 {at(beside, 0.5):.1f}")
    for name, (_, times) in zip(("scale", "many outcomes"), works, strict=True):
        print(f"  {len(times)} previews of {name}, median {median(times) * 1000:.0f} ms")
    print(f"  ratio {ratio:.1f} (at or under 3), {len(bad)} faults (0)")
    single, _ = run(address, markers[:1], 0.0, [], seconds=6)
    flat, bad = run(address, markers, 0.0, [])
    tail, rate = at(flat, 0.99) / at(flat, 0.5), (len(flat) / SECONDS) / (len(single) / 6)
    print(
        f"flat out: p50 {at(flat, 0.5):.0f} ms, p99 {at(flat, 0.99):.0f} ms, {len(bad)} faults (0)"
    )
    print(f"  p99 over p50 {tail:.1f} (at or under 3), ", end="")
    print(f"{len(flat) / SECONDS:.0f} saves a second, {rate:.2f} of one teacher's (at least 0.8)")
