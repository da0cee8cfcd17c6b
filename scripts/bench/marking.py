"""What a save costs the server, and how looks grow with ten times the tasks."""

from __future__ import annotations

import http.client
import json
import os
import subprocess
import sys
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from functools import partial
from pathlib import Path
from statistics import median
from typing import Any

from scripts.bench.timing import timed

from jade_ladder.core.rubric import Criterion, CriterionLevel
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.outside import clock
from jade_ladder.service.classes import classes, students
from jade_ladder.service.marking import desk, pile, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.mastery import coverage, outcome_page, wall
from jade_ladder.service.outcomes import outcomes
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people import accounts, sessions
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.service.search import find
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.shared.connection import Database

STUDENTS, OUTCOMES, CRITERIA, CALLS = 40, 24, 5, 400


def fill(database: Database, many: int) -> tuple[Teacher, int, list[int]]:
    """Make a class of 40 with so many tasks, each with a rubric of its own aligned to a few of 24
    outcomes; all marked but the last. Gives the teacher, the class and the tasks.
    """
    now = clock.now()
    teacher = accounts.NewTeacher("Bench", "Mark", "bench@tern.example", "a long password")
    caller = Teacher(database, accounts.make_first_teacher(database, "S", "UTC", teacher), now)
    made = []
    with database.transaction():
        first = (now - timedelta(days=200)).date()
        class_id = classes.make_class(caller, "Bench", first, first + timedelta(days=300))
        aligned = [
            outcomes.add_outcome(caller, class_id, OutcomeWords(f"O{n}", "Outcome", "", None))
            for n in range(OUTCOMES)
        ]
        members = [
            students.add_student(caller, class_id, StudentLine(n, "S", str(n), from_list=True))
            for n in range(STUDENTS)
        ]
        levels = tuple(CriterionLevel(f"l{n}", f"Level {n}", n * 100, "") for n in range(1, 5))
        for number in range(many):
            drafts = [
                CriterionDraft(
                    Criterion(f"c{n}", f"Criterion {n}", levels),
                    (AlignmentDraft(aligned[(number * 3 + n) % OUTCOMES], 1, (None,) * 4),),
                )
                for n in range(CRITERIA)
            ]
            rubric = rubrics.make_rubric(caller, f"Rubric {number}")
            view = rubrics.save_draft(caller, rubric, 1, f"Rubric {number}", drafts)
            rubrics.make_final(caller, rubric, view.row.version)
            at = replace(caller, now=now - timedelta(days=150 - number))
            words = TaskWords(f"Task {number}", "", TaskKind.HANDED_IN, rubric, at.now, None, False)
            made.append(tasks.make_task(at, class_id, words))
            if number + 1 < many:
                mark_all(at, made[-1], members)
    return caller, class_id, made


def mark_all(caller: Teacher, task_id: int, members: list[int]) -> None:
    """Mark everybody on a task."""
    criteria = desk.desk(caller, task_id).criteria
    for student in members:
        for place, stored in enumerate(criteria):
            choice = Choice(stored.level_ids[(student + place + task_id) % 4])
            saving.choose(caller, task_id, student, stored.id, choice, 0)
        saving.finish(caller, task_id, student)


def bench_marking(folder: Path) -> None:
    """A save against reading the session, and looks with ten times the tasks."""
    few = Database(folder / "few" / "jade-ladder.sqlite3")
    caller, class_id, made = fill(few, 10)
    many = Database(folder / "many" / "jade-ladder.sqlite3")
    caller_many, class_many, made_many = fill(many, 100)
    for database, known, name in ((few, made, "10"), (many, made_many, "100")):
        own, bare, statements = _save(database, known[-1])
        print(f"save with {name} tasks: {own * 1000:.2f} ms of the server's CPU, session ", end="")
        print(f"{bare * 1000:.2f} ms, {statements} statements")
        print(f"  ratio {own / bare:.1f} (at or under 2.5)")
    shown: dict[str, Callable[[Any], int]] = {
        "outcome page": lambda page: len(page.tasks) + len(page.criteria),
        "coverage": lambda found: len(found.cells),
    }
    looks: dict[str, Callable[[Teacher, int], object]] = {
        "wall": wall.wall,
        "outcome page": lambda who, where: outcome_page.outcome_page(who, where, 1),
        "coverage": coverage.coverage,
        "pile": pile.pile,
        "what waits": lambda who, _: tasks.to_mark_by_class(who),
        "finder": lambda who, _: find.everything(who),
    }
    for name, look in looks.items():
        ten, one = [], []
        for _ in range(11):
            ten.append(timed(partial(look, caller_many, class_many)))
            one.append(timed(partial(look, caller, class_id)))
        large, little = median(ten), median(one)
        print(f"{name}: {little * 1000:.1f} ms with 10 tasks, {large * 1000:.1f} ms with 100")
        print(f"  ratio {large / little:.1f}", end="")
        if count := shown.get(name):
            grown = count(look(caller_many, class_many)) / count(look(caller, class_id))
            print(f" (at or under what is shown more: {grown:.1f})", end="")
        print()
    few.close()
    many.close()


def _save(database: Database, task_id: int) -> tuple[float, float, int]:
    """Give the server's CPU seconds of a save and of reading the session, and the statements."""
    token = sessions.begin_session(database, 1, clock.now())
    caller = Teacher(database, 1, clock.now())
    student, criteria = 2, desk.desk(caller, task_id).criteria
    choices = [(stored.id, level) for stored in criteria for level in stored.level_ids]
    counted: list[str] = []
    saving.choose(caller, task_id, student, choices[0][0], Choice(choices[0][1]), 0)
    with database.looking() as db:
        # What triggers do is told as the statement that they belong to, once more.
        db.set_trace_callback(lambda sql: None if sql in counted[-1:] else counted.append(sql))
        saving.choose(caller, task_id, student, choices[0][0], Choice(choices[1][1]), 100_000)
        db.set_trace_callback(None)
    server = subprocess.Popen(
        [
            *(sys.executable, "-m", "jade_ladder", "serve", "--port", "0"),
            *("--data", str(database.path.parent)),
        ],
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        assert server.stdout is not None
        address = server.stdout.readline().strip().rsplit("/", 1)[1]
        connection = http.client.HTTPConnection(address)
        headers = {
            "cookie": f"jade_ladder_session={token}",
            "content-type": "application/json",
            "jade-ladder-person": "1",
        }

        def save(number: int) -> None:
            criterion, level = choices[number % len(choices)]
            path = f"/api/tasks/{task_id}/students/{student}/attempts/1/choices/{criterion}"
            body = json.dumps({"level_id": level, "version": 100_000})
            connection.request("PUT", path, body, headers)
            answer = connection.getresponse()
            assert answer.status == 200, answer.read()
            answer.read()

        def session(_: int) -> None:
            connection.request("GET", "/api/session", headers=headers)
            connection.getresponse().read()

        own, bare = [], []
        for _ in range(3):
            own.append(_cpu(server.pid, save))
            bare.append(_cpu(server.pid, session))
        return median(own), median(bare), len(counted)
    finally:
        server.terminate()
        server.wait()


def _cpu(pid: int, call: Callable[[int], None]) -> float:
    for number in range(20):
        call(number)
    before = _used(pid)
    for number in range(CALLS):
        call(number)
    return (_used(pid) - before) / CALLS


def _used(pid: int) -> float:
    fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")
