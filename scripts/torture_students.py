"""Students write, send files and hand in, a teacher marks and hands back, until the server is
killed under them: what was answered is there, every draft is read again, and every file is made
ready at last.
"""

from __future__ import annotations

import http.client
import json
import os
import random
import signal
import subprocess
import sys
import threading
import time
from datetime import timedelta
from pathlib import Path
from typing import Any

from tests.samples import docx, jpeg

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.demo.scenario import make_demo
from jade_ladder.outside import clock
from jade_ladder.service.files.preparing import prepare_all
from jade_ladder.service.people import sessions
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.files.keeping import file_faults
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.file import FILE_NAME
from jade_ladder.store.shared.verify import faults

MANY = 8
CALMLY = {200, 201, 204, 409, 422, 503}
"""What may be answered: done, overtaken by another, not now."""


class Students:
    """Eight students at a task, and their teacher."""

    def __init__(self, folder: Path, luck: random.Random) -> None:
        database = Database.in_folder(folder)
        made = make_demo(database)
        self.folder, self.luck = folder, luck
        now = clock.now()
        teacher = Teacher(database, 1, now)
        rubric = tasks.class_tasks(teacher, made.class_id)[0].row.rubric_id
        due = now + timedelta(days=3)
        words = TaskWords("Torture", "", TaskKind.HANDED_IN, rubric, due, None, False)
        self.task_id = tasks.make_task(teacher, made.class_id, words)
        self.people = made.students[:MANY]
        self.tokens = {one: sessions.begin_session(database, one, now) for one in (1, *self.people)}
        database.close()
        self.drafts: dict[int, str] = {}
        self.sent: dict[int, str] = {}
        self.receipts: set[int] = set()
        self.files: set[str] = set()
        self.unexpected: list[str] = []
        self.count = 0

    def round(self) -> list[str]:
        """One life of the server; says what was lost."""
        server = subprocess.Popen(
            [sys.executable, "-m", "jade_ladder", "serve", "--port", "0", "--data", self.folder],
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )
        assert server.stdout is not None
        address = server.stdout.readline().strip().rsplit("/", 1)[1]
        working = [
            threading.Thread(target=self._at_work, args=(address, one)) for one in self.people
        ]
        working.append(threading.Thread(target=self._handing_back, args=(address,)))
        for one in working:
            one.start()
        # Killed while all of them are at work: not before some are answered.
        begun, patience = self.count, time.monotonic() + 60
        while self.count < begun + MANY and time.monotonic() < patience:
            time.sleep(0.01)
        time.sleep(self.luck.random() * 3)
        os.kill(server.pid, signal.SIGKILL)
        server.wait()
        server.stdout.close()
        for one in working:
            one.join()
        return self._lost()

    def _call(
        self, connection: http.client.HTTPConnection, who: int, way: str, path: str, body: Any
    ) -> tuple[int, Any]:
        headers = {
            "cookie": f"jade_ladder_session={self.tokens[who]}",
            "jade-ladder-person": str(who),
            "content-type": "application/json",
        }
        sent = body if isinstance(body, bytes | None) else json.dumps(body)
        connection.request(way, path, sent, headers)
        answer = connection.getresponse()
        content = answer.read()
        if answer.status not in CALMLY:
            self.unexpected.append(f"{answer.status} to {way} {path}")
        self.count += 1
        return answer.status, json.loads(content) if content else None

    def _at_work(self, address: str, who: int) -> None:
        connection = http.client.HTTPConnection(address, timeout=20)
        place = f"/api/my/tasks/{self.task_id}"
        luck = random.Random()
        try:
            while True:
                _, page = self._call(connection, who, "GET", place, None)
                version = (page.get("draft") or {}).get("version", 0)
                text = f"Leg {luck.getrandbits(64)}"
                self.sent[who] = text
                body = {"text": text, "version": version}
                status, saved = self._call(connection, who, "PUT", f"{place}/draft", body)
                if status == 200:
                    self.drafts[who] = text
                self._send_file(connection, who, luck)
                _, page = self._call(connection, who, "GET", place, None)
                parts = [one["id"] for one in page["put_in"]]
                body = {"text": text, "version": (saved or {}).get("version", 0), "parts": parts}
                status, receipt = self._call(connection, who, "POST", f"{place}/hand-in", body)
                if status == 201:
                    self.receipts.add(receipt["number"])
                self._call(connection, who, "POST", f"{place}/take-back", None)
        except (OSError, http.client.HTTPException):
            return

    def _send_file(
        self, connection: http.client.HTTPConnection, who: int, luck: random.Random
    ) -> None:
        name, content = luck.choice(
            [
                ("leg.docx", docx(f"Leg {luck.getrandbits(64)}")),
                ("map.jpg", jpeg((64, 48), camera=f"A camera {luck.getrandbits(64)}")),
                ("leg.md", f"# Leg {luck.getrandbits(64)}".encode()),
            ]
        )
        # By a name of its own: a part that is handed in anew gets another number.
        name = f"{luck.getrandbits(64):016x}-{name}"
        begin = {"key": f"key-{luck.getrandbits(64):016x}", "name": name, "size": len(content)}
        status, begun = self._call(connection, who, "POST", "/api/my/uploads", begin)
        if status != 201:
            return
        bytes_at = f"/api/my/uploads/{begun['id']}/bytes?at=0"
        self._call(connection, who, "PUT", bytes_at, content)
        files = f"/api/my/tasks/{self.task_id}/draft/files"
        status, _ = self._call(connection, who, "POST", files, {"upload_id": begun["id"]})
        if status == 201:
            self.files.add(name)

    def _handing_back(self, address: str) -> None:
        """Finish what was observed and hand back what is finished, again and again."""
        connection = http.client.HTTPConnection(address, timeout=20)
        luck = random.Random()
        body = {"total_shown": True}
        try:
            while True:
                body["total_shown"] = not body["total_shown"]
                for task_id in (1, 3, 4):
                    path = f"/api/tasks/{task_id}/handing-back"
                    chosen = {**body, "student_ids": [luck.choice(self.people)]}
                    self._call(connection, 1, "POST", path, chosen)
                self._call(connection, 1, "POST", "/api/tasks/6/observation/finish", {})
        except (OSError, http.client.HTTPException):
            return

    def _lost(self) -> list[str]:
        database = Database.in_folder(self.folder)
        with database.reading() as db:
            written = dict(
                db.execute(
                    """SELECT ts.student_id, coalesce(d.text, (
                         SELECT h.text FROM hand_in h WHERE h.task_student_id = ts.id
                         ORDER BY h.id DESC LIMIT 1))
                       FROM task_student ts LEFT JOIN draft_work d ON d.task_student_id = ts.id
                       WHERE ts.task_id = ?""",
                    (self.task_id,),
                ).fetchall()
            )
            receipts = {number for (number,) in db.execute("SELECT id FROM hand_in")}
            there = "SELECT file_name FROM work_part UNION SELECT name FROM hand_in_part"
            named = {name for (name,) in db.execute(there)}
            wrong = evidence_faults(db)
        # What was being made ready, or waited, is made ready after all.
        prepare_all(database, clock.now())
        with database.reading() as db:
            # A picture of a camera would still say so.
            kept = db.execute("SELECT hash FROM file WHERE kind = 'picture'").fetchall()
        database.close()
        files = self.folder / "jade-ladder-files"
        cameras = [
            f"picture {hash} has what its camera wrote"
            for (hash,) in kept
            if b"A camera" in (files / hash[:2] / hash).read_bytes()
        ]
        lost = [
            f"draft of student {who}"
            for who, text in self.drafts.items()
            # What was sent last may have been stored without an answer.
            if written.get(who) not in (text, self.sent[who])
        ]
        lost += [f"receipt {number}" for number in self.receipts - receipts]
        lost += [f"file {name}" for name in self.files - named]
        lost += cameras + wrong + self.unexpected
        self.drafts = {who: written[who] for who in self.drafts if who in written}
        self.sent |= self.drafts
        self.receipts &= receipts
        self.files &= named
        self.unexpected = []
        path = self.folder / FILE_NAME
        return lost + faults(path) + file_faults(path)
