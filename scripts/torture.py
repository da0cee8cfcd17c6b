"""make torture: the server, a first start and a backup are killed two hundred times; nothing
that was answered may be lost, and nothing half done may stay. Prints what was lost: nothing, if all
is well.
"""

from __future__ import annotations

import http.client
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

from scripts.torture_students import Students

from jade_ladder.demo.scenario import make_demo
from jade_ladder.outside import clock
from jade_ladder.service.people import sessions
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.file import FILE_NAME
from jade_ladder.store.shared.verify import faults

KILLS = {"saves": 60, "phones": 40, "students": 60, "first start": 20, "backup": 20}
PROGRAM = [sys.executable, "-m", "jade_ladder"]


def start(*options: str) -> subprocess.Popen[str]:
    """Start a command of ours."""
    return subprocess.Popen(
        [*PROGRAM, *options], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
    )


def kill(process: subprocess.Popen[str]) -> None:
    """End it as a power cut would."""
    os.kill(process.pid, signal.SIGKILL)
    process.wait()
    if process.stdout is not None:
        process.stdout.close()


class Saves:
    """Chooses at the desk until the server is killed under it, and remembers what was answered."""

    def __init__(self, folder: Path, luck: random.Random) -> None:
        database = Database.in_folder(folder)
        made = make_demo(database)
        self.folder, self.luck = folder, luck
        self.token = sessions.begin_session(database, 1, clock.now())
        with database.reading() as db:
            self.criteria = db.execute(
                """SELECT c.id, group_concat(l.id) FROM task t
                   JOIN criterion c ON c.revision_id = t.revision_id
                   JOIN criterion_level l ON l.criterion_id = c.id
                   WHERE t.id = 8 GROUP BY c.id"""
            ).fetchall()
        self.students = made.students
        database.close()
        self.answered: dict[tuple[int, int], int] = {}
        self.sent: dict[tuple[int, int], int] = {}
        self.count = 0

    def round(self) -> list[str]:
        """One life of the server; says what was lost."""
        server = start("serve", "--port", "0", "--data", str(self.folder))
        assert server.stdout is not None
        address = server.stdout.readline().strip().rsplit("/", 1)[1]
        until = time.monotonic() + 0.2 + self.luck.random()
        try:
            self._save(address, until, server)
        finally:
            if server.poll() is None:
                kill(server)
        return self._lost()

    def _save(self, address: str, until: float, server: subprocess.Popen[str]) -> None:
        connection = http.client.HTTPConnection(address, timeout=20)
        headers = {"cookie": f"jade_ladder_session={self.token}", "jade-ladder-person": "1"}
        headers["content-type"] = "application/json"
        # Killed by a child, so that it comes in the middle of whatever the server is at.
        later = f"sleep {until - time.monotonic():.3f}; kill -9 {server.pid}"
        killer = subprocess.Popen(["sh", "-c", later])
        while True:
            student = self.luck.choice(self.students)
            criterion, levels = self.luck.choice(self.criteria)
            level = int(self.luck.choice(levels.split(",")))
            body = json.dumps({"level_id": level, "version": 1_000_000})
            path = f"/api/tasks/8/students/{student}/attempts/1/choices/{criterion}"
            try:
                self.sent[student, criterion] = level
                connection.request("PUT", path, body, headers)
                answer = connection.getresponse()
                content = answer.read()
            except (OSError, http.client.HTTPException):
                server.wait()
                killer.wait()
                return
            assert answer.status == 200, content
            self.answered[student, criterion] = level
            self.count += 1

    def _lost(self) -> list[str]:
        database = Database.in_folder(self.folder)
        with database.reading() as db:
            stands = {
                (student, criterion): level
                for student, criterion, level in db.execute(
                    """SELECT ts.student_id, c.criterion_id, c.level_id FROM task_student ts
                       JOIN attempt a ON a.task_student_id = ts.id
                       JOIN mark m ON m.attempt_id = a.id
                       JOIN mark_choice c ON c.mark_id = m.id
                       WHERE ts.task_id = 8 AND c.until_version IS NULL"""
                )
            }
        database.close()
        lost = [
            f"choice {level} of student {place[0]} on criterion {place[1]}"
            for place, level in self.answered.items()
            # What was sent last may have been stored without an answer.
            if stands.get(place) not in (level, self.sent[place])
        ]
        self.answered = {place: stands[place] for place in self.answered if place in stands}
        self.sent |= self.answered
        return lost + faults(self.folder / FILE_NAME)


class Phones:
    """Twenty phones tap in one class until the server is killed under them."""

    MANY = 20

    def __init__(self, folder: Path, luck: random.Random) -> None:
        database = Database.in_folder(folder)
        made = make_demo(database)
        self.folder, self.luck = folder, luck
        self.token = sessions.begin_session(database, 1, clock.now())
        with database.reading() as db:
            self.task_id, self.levels = db.execute(
                """SELECT t.id, json_group_array(json_array(c.id, l.id)) FROM task t
                   JOIN criterion c ON c.revision_id = t.revision_id
                   JOIN criterion_level l ON l.criterion_id = c.id
                   WHERE t.kind = 'observed' AND t.class_id = ? GROUP BY t.id
                   ORDER BY t.id DESC LIMIT 1""",
                (made.class_id,),
            ).fetchone()
        self.students = made.students
        database.close()
        self.answered: set[str] = set()
        self.count = 0

    def round(self) -> list[str]:
        """One life of the server; says which answered taps are not there, or there twice."""
        server = start("serve", "--port", "0", "--data", str(self.folder))
        assert server.stdout is not None
        address = server.stdout.readline().strip().rsplit("/", 1)[1]
        phones = [
            threading.Thread(target=self._tap, args=(address, random.Random(self.luck.random())))
            for _ in range(self.MANY)
        ]
        for phone in phones:
            phone.start()
        time.sleep(0.3 + self.luck.random())
        kill(server)
        for phone in phones:
            phone.join()
        return self._lost()

    def _tap(self, address: str, luck: random.Random) -> None:
        connection = http.client.HTTPConnection(address, timeout=20)
        headers = {"cookie": f"jade_ladder_session={self.token}", "jade-ladder-person": "1"}
        headers["content-type"] = "application/json"
        levels = json.loads(self.levels)
        while True:
            criterion, level = luck.choice(levels)
            key = f"tap-{luck.getrandbits(64):016x}"
            path = f"/api/tasks/{self.task_id}/students/{luck.choice(self.students)}/taps"
            body = {"key": key, "criterion_id": criterion, "choice": {"level_id": level}}
            try:
                connection.request("POST", path, json.dumps(body), headers)
                answer = connection.getresponse()
                content = answer.read()
            except (OSError, http.client.HTTPException):
                return
            assert answer.status in (200, 503), content
            if answer.status == 200:
                self.answered.add(key)
                self.count += 1

    def _lost(self) -> list[str]:
        database = Database.in_folder(self.folder)
        with database.reading() as db:
            there = {key for (key,) in db.execute("SELECT key FROM tap")}
        database.close()
        lost = [f"tap {key}" for key in self.answered - there]
        self.answered &= there
        return lost + faults(self.folder / FILE_NAME)


def first_start(folder: Path, luck: random.Random) -> list[str]:
    """Kill a first demo start at any moment; the next one must have everything."""
    shutil.rmtree(folder, ignore_errors=True)
    process = start("demo", "--port", "0", "--data", str(folder))
    time.sleep(luck.random() * 6)
    kill(process)
    again = start("demo", "--port", "0", "--data", str(folder))
    assert again.stdout is not None
    said = ""
    for line in again.stdout:
        said += line
        if line.startswith("Jade Ladder is at "):
            break
    kill(again)
    database = Database.in_folder(folder)
    with database.reading() as db:
        (classes,) = db.execute("SELECT count(*) FROM school_class").fetchone()
        (marks,) = db.execute("SELECT count(*) FROM mark").fetchone()
        # The demo makes it last of all.
        (talks,) = db.execute("SELECT count(*) FROM task WHERE kind = 'other-evidence'").fetchone()
    database.close()
    left = [path.name for path in folder.glob(".*.new")]
    whole = classes == 2 and marks > 100 and talks == 1 and not left
    return faults(folder / FILE_NAME) + ([] if whole else [f"a start was left half: {said}{left}"])


def backup(folder: Path, copies: Path, number: int, luck: random.Random) -> list[str]:
    """Kill a backup at any moment: there is a whole one, or none."""
    target = copies / f"{number}.sqlite3"
    process = start("backup", str(target), "--data", str(folder))
    time.sleep(0.05 + luck.random() * 0.6)
    if process.poll() is None:
        kill(process)
    return [f"a backup is not whole: {one}" for one in faults(target)] if target.exists() else []


def main() -> None:
    """Run all of it and print what was lost."""
    luck = random.Random()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        saves = Saves(folder / "saves", luck)
        phones = Phones(folder / "phones", luck)
        at_work = Students(folder / "students", luck)
        copies = folder / "copies"
        copies.mkdir()
        rounds: dict[str, Callable[[int], list[str]]] = {
            "saves": lambda _: saves.round(),
            "phones": lambda _: phones.round(),
            "students": lambda _: at_work.round(),
            "first start": lambda _: first_start(folder / "first", luck),
            "backup": lambda number: backup(folder / "saves", copies, number, luck),
        }
        lost = []
        for kind, run in rounds.items():
            for number in range(KILLS[kind]):
                lost += [f"{kind}: {one}" for one in run(number)]
        print(f"{sum(KILLS.values())} kills", end=", ")
        print(f"{saves.count:,} saves, {phones.count:,} taps", end=" and ")
        print(f"{at_work.count:,} calls of students and their teacher answered")
    print("\n".join(lost) or "nothing lost")
    sys.exit(bool(lost))


if __name__ == "__main__":
    main()
