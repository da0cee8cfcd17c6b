"""The student's side: many hand in at once, a ladder is looked at, a class is handed back to."""

from __future__ import annotations

import http.client
import json
import subprocess
import sys
import threading
import time
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from statistics import median

from scripts.bench.class_of_40 import fill
from scripts.bench.timing import timed

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.outside import clock
from jade_ladder.service.classes import students
from jade_ladder.service.marking.handing_back import hand_back
from jade_ladder.service.mastery.own_ladder import own_ladder
from jade_ladder.service.people import sessions
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.evidence.pieces import shown_evidence
from jade_ladder.store.outcomes.outcomes import class_outcomes
from jade_ladder.store.outcomes.scales import scales
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.shared.callers import COOKIE, PERSON_HEADER

MANY, AT_ONCE = 500, 40


def bench_students(folder: Path) -> None:
    """Hand in, look at a ladder, hand back."""
    _bench_ladder_and_hand_back(folder / "ladder")
    _bench_handing_in(folder / "many")


def _bench_ladder_and_hand_back(folder: Path) -> None:
    """The ladder of 60 outcomes over its bare SELECTs, and handing back 200 results."""
    database = Database(folder / "jade-ladder.sqlite3")
    class_id, members = fill(database, 200, 60, 6)
    teacher = Teacher(database, 1, clock.now())
    lines = tasks.class_tasks(teacher, class_id)
    seconds = [
        timed(lambda number=line.row.id: (hand_back(teacher, number, None, True), None)[1])
        for line in lines
    ]
    statements: list[str] = []
    with database.looking() as db:
        db.set_trace_callback(statements.append)
        hand_back(teacher, lines[0].row.id, members, False)
        db.set_trace_callback(None)
    print(f"handing back 200 results: {median(seconds):.2f} s, in one transaction, ", end="")
    print(f"{len(statements) / len(members):.1f} statements for each")
    caller = Student(database, members[0], clock.now())

    def ladder() -> None:
        (found,) = own_ladder(caller)
        assert len(found.rungs) == 60

    def bare() -> None:
        with database.reading() as db:
            scales(db)
            taught = [one.id for one in class_outcomes(db, class_id)]
            assert len(shown_evidence(db, [caller.person_id], taught, caller.now)) == 360

    pairs = [(timed(ladder), timed(bare)) for _ in range(15)]
    own, other = (median(pair[which] for pair in pairs) for which in (0, 1))
    ratio = median(pair[0] / pair[1] for pair in pairs)
    print(f"a student's ladder of 60 outcomes: {own * 1000:.0f} ms, bare SELECTs ", end="")
    print(f"{other * 1000:.0f} ms\n  ratio {ratio:.1f} (at or under 3)")
    database.close()


def _bench_handing_in(folder: Path) -> None:
    """Many students hand in at once before closing: no error, none lost."""
    database = Database(folder / "jade-ladder.sqlite3")
    class_id, _ = fill(database, 1, 2, 1)
    now = clock.now()
    teacher = Teacher(database, 1, now)
    with database.transaction():
        people = [
            students.add_student(teacher, class_id, StudentLine(n, "Many", str(n), from_list=True))
            for n in range(MANY)
        ]
        rubric = tasks.class_tasks(teacher, class_id)[0].row.rubric_id
        words = TaskWords(
            "Now", "", TaskKind.HANDED_IN, rubric, now + timedelta(hours=1), None, False
        )
        task_id = tasks.make_task(replace(teacher, now=now), class_id, words)
        tokens = [sessions.begin_session(database, one, now) for one in people]
    database.close()
    server = subprocess.Popen(
        [sys.executable, "-m", "jade_ladder", "serve", "--port", "0", "--data", str(folder)],
        stdout=subprocess.PIPE,
        text=True,
    )
    assert server.stdout is not None
    address = server.stdout.readline().strip().rsplit("/", 1)[1]
    took: list[float] = []
    failed: list[int] = []
    waiting = list(zip(people, tokens, strict=True))

    def work() -> None:
        connection = http.client.HTTPConnection(address, timeout=60)
        while waiting:
            person, token = waiting.pop()
            headers = {
                "cookie": f"{COOKIE}={token}",
                PERSON_HEADER: str(person),
                "content-type": "application/json",
                "origin": f"http://{address}",
            }
            body = json.dumps({"text": f"The work of {person}. " * 60, "version": 0})
            began = time.perf_counter()
            connection.request("POST", f"/api/my/tasks/{task_id}/hand-in", body, headers)
            answer = connection.getresponse()
            answer.read()
            took.append(time.perf_counter() - began)
            if answer.status != 201:
                failed.append(answer.status)

    began = time.perf_counter()
    threads = [threading.Thread(target=work) for _ in range(AT_ONCE)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    whole = time.perf_counter() - began
    server.terminate()
    server.wait()
    kept = Database(folder / "jade-ladder.sqlite3")
    with kept.reading() as db:
        stored = db.execute(
            """SELECT count(*) FROM hand_in h JOIN task_student ts ON ts.id = h.task_student_id
               JOIN attempt a ON a.task_student_id = ts.id JOIN work_part w ON w.attempt_id = a.id
               WHERE ts.task_id = ? AND w.text = h.text""",
            (task_id,),
        ).fetchone()[0]
    kept.close()
    p95 = sorted(took)[len(took) * 95 // 100]
    print(f"{MANY} students hand in, {AT_ONCE} at once: {whole:.1f} s in all, ", end="")
    print(f"p95 {p95 * 1000:.0f} ms, {len(failed)} errors, {MANY - stored} lost")
