"""What stalls a save: a school at work, students without pause, files that are hard to show."""

from __future__ import annotations

import http.client
import io
import json
import os
import random
import threading
import time
import zipfile
from collections.abc import Callable
from datetime import timedelta
from multiprocessing import get_context
from multiprocessing.queues import SimpleQueue
from pathlib import Path
from statistics import median

from PIL import Image
from scripts.bench.class_of_40 import fill
from scripts.bench.load import TEACHERS, THINKING, Marker, at, one_marker, previews, run
from scripts.bench.serving import serving

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.outside import clock
from jade_ladder.service.classes import students
from jade_ladder.service.people import sessions
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.shared.connection import Database

STUDENTS, PAUSE, ROUNDS, SECONDS, WARM_UP, FILES = 200, 10.0, 5, 5.0, 2.0, 45
Work = Callable[[float], None]


def bench_mixed(folder: Path) -> None:
    """Saves of forty teachers, alone and beside each of what could stall them."""
    database = Database.in_folder(folder / "mixed")
    class_id, _ = fill(database)
    administrator = Marker(1, sessions.begin_session(database, 1, clock.now()), ())
    task_id, writers = _students(database, class_id)
    markers = [one_marker(database, number) for number in range(TEACHERS)]
    database.close()
    with serving(folder / "mixed") as address:
        _compare(address, markers, administrator, class_id, task_id, writers)


def _students(database: Database, class_id: int) -> tuple[int, list[Marker]]:
    now = clock.now()
    teacher = Teacher(database, 1, now)
    with database.transaction():
        people = [
            students.add_student(teacher, class_id, StudentLine(n, "Many", str(n), from_list=True))
            for n in range(STUDENTS)
        ]
        rubric = tasks.class_tasks(teacher, class_id)[0].row.rubric_id
        words = TaskWords(
            "Now", "", TaskKind.HANDED_IN, rubric, now + timedelta(hours=8), None, False
        )
        task_id = tasks.make_task(teacher, class_id, words)
        return task_id, [
            Marker(one, sessions.begin_session(database, one, now), ()) for one in people
        ]


def _compare(
    address: str,
    markers: list[Marker],
    administrator: Marker,
    class_id: int,
    task_id: int,
    writers: list[Marker],
) -> None:
    run(address, markers[:4], 0.2, [], seconds=3)
    bad: list[str] = []
    wall = f"/api/classes/{class_id}/mastery"
    walls = [_again(address, administrator, "GET", wall, None, bad)]
    walls += [
        _again(address, administrator, "POST", path, body, bad)
        for path, body in previews(address, administrator, class_id)
    ]
    handing_in = [_handing_in(address, one, task_id, PAUSE, bad) for one in writers]
    without_pause = [_handing_in(address, one, task_id, 0.0, bad) for one in writers]
    files = {
        f"{FILES} documents of 700,000 paragraphs": ("card.docx", _endless_document()),
        f"{FILES} photographs of 12 megapixels": ("map.jpg", _photograph()),
        "8 texts of 1 MB in Markdown": ("notes.md", b"Some **plain** words, *again*. " * 32_000),
    }
    beside: dict[str, list[Work]] = {
        "students handing in, walls and previews": [*walls, *handing_in],
        "students without pause": without_pause,
    }
    for what, (name, content) in files.items():
        count = 8 if name.endswith(".md") else FILES
        beside[what] = [_sending(address, writers[0], task_id, name, content, count, bad)]
    print(
        f"p95 of a save of {TEACHERS} teachers beside what could stall it, to alone (at or under 3)"
    )
    for what, work in beside.items():
        rounds = [_round(address, markers, work, bad) for _ in range(ROUNDS)]
        ratio = median(at(times, 0.95) / at(alone, 0.95) for alone, times in rounds)
        both = ", ".join(f"{at(times, 0.95):.0f}/{at(alone, 0.95):.0f}" for alone, times in rounds)
        longest = max(times[-1] for _, times in rounds)
        print(f"  {what}: ratio {ratio:.1f}, of {both} ms; longest {longest:.2f} s")
    print(f"  faults: {len(bad)} {sorted(set(bad))[:5]}")


def _round(
    address: str, markers: list[Marker], work: list[Work], bad: list[str]
) -> tuple[list[float], list[float]]:
    """Give the times of saves alone and beside some work, one right after the other: a machine that
    is shared is not as quick at one time as at another.
    """
    alone, faults = run(address, markers, THINKING, [], SECONDS)
    until = time.monotonic() + SECONDS + WARM_UP
    going = threading.Thread(target=_apart(work, bad), args=(until,))
    going.start()
    # What comes all at once at the start is no load that lasts.
    time.sleep(WARM_UP)
    times, more = run(address, markers, THINKING, [], SECONDS)
    going.join()
    bad += [f"{status} of a save" for status in (*faults, *more)]
    return alone, times


def _apart(works: list[Work], bad: list[str]) -> Work:
    """Do them in a process of their own, so that the times of saves are not those of this one."""

    def all_of_them(until: float, told: SimpleQueue[list[str]]) -> None:
        # They are on machines of their own.
        os.nice(15)
        threads = [threading.Thread(target=work, args=(until,)) for work in works]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        told.put(bad)

    def work(until: float) -> None:
        context = get_context("fork")
        told: SimpleQueue[list[str]] = context.SimpleQueue()
        process = context.Process(target=all_of_them, args=(until, told))
        process.start()
        found = told.get()
        process.join()
        bad[:] = found

    return work


def _call(
    connection: http.client.HTTPConnection,
    who: Marker,
    method: str,
    path: str,
    body: object,
    bad: list[str],
) -> bytes:
    sent = body if isinstance(body, bytes) else None if body is None else json.dumps(body)
    try:
        connection.request(method, path, sent, who.headers)
        answer = connection.getresponse()
    except http.client.RemoteDisconnected:
        # The server ends a connection on which nothing was asked for long.
        connection.close()
        connection.request(method, path, sent, who.headers)
        answer = connection.getresponse()
    content = answer.read()
    if answer.status >= 400:
        bad.append(f"{answer.status} {method} {path.rsplit('/', 1)[-1]}")
    return content


def _again(address: str, who: Marker, way: str, path: str, body: object, bad: list[str]) -> Work:
    """Ask for the same again and again."""

    def work(until: float) -> None:
        connection = http.client.HTTPConnection(address, timeout=120)
        while time.monotonic() < until:
            _call(connection, who, way, path, body, bad)

    return work


def _handing_in(address: str, who: Marker, task_id: int, pause: float, bad: list[str]) -> Work:
    """Look at the task, write, hand in, take it back, and again."""

    def work(until: float) -> None:
        luck = random.Random(who.person)
        connection = http.client.HTTPConnection(address, timeout=120)
        time.sleep(luck.random() * pause)
        place = f"/api/my/tasks/{task_id}"
        while time.monotonic() < until:
            page = json.loads(_call(connection, who, "GET", place, None, bad))
            version = (page.get("draft") or {}).get("version", 0)
            draft = {"text": "Leg one, " * 40, "version": version}
            saved = json.loads(_call(connection, who, "PUT", f"{place}/draft", draft, bad))
            body = {"text": draft["text"], "version": saved.get("version", 0), "parts": []}
            _call(connection, who, "POST", f"{place}/hand-in", body, bad)
            _call(connection, who, "POST", f"{place}/take-back", None, bad)
            if pause:
                time.sleep(pause * (0.5 + luck.random() / 2))

    return work


def _sending(
    address: str, who: Marker, task_id: int, name: str, content: bytes, count: int, bad: list[str]
) -> Work:
    """Send files, five at a time, and look at each."""

    def one(number: int) -> None:
        connection = http.client.HTTPConnection(address, timeout=120)
        # No two the same: what is known is not made ready again.
        own = content + (b"\n%d" % number if name.endswith(".md") else b"")
        if name.endswith(".jpg"):
            own = content + b"\0" * (number + 1)
        if name.endswith(".docx"):
            own = _with_another(content, number)
        begin = {"key": f"{name[:3]}-{number:08}-{time.monotonic_ns()}", "name": name}
        begun = json.loads(
            _call(connection, who, "POST", "/api/my/uploads", {**begin, "size": len(own)}, bad)
        )
        _call(connection, who, "PUT", f"/api/my/uploads/{begun['id']}/bytes?at=0", own, bad)
        place = f"/api/my/tasks/{task_id}/draft/files"
        part = json.loads(_call(connection, who, "POST", place, {"upload_id": begun["id"]}, bad))
        if "id" in part:
            _call(connection, who, "GET", f"/api/my/work-parts/{part['id']}/shown", None, bad)
            _call(connection, who, "DELETE", f"/api/my/work-parts/{part['id']}", None, bad)

    def work(_: float) -> None:
        for first in range(0, count, 5):
            threads = [
                threading.Thread(target=one, args=(number,))
                for number in range(first, min(first + 5, count))
            ]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()

    return work


def _endless_document() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
        for name, content in _PARTS.items():
            archive.writestr(name, content)
        archive.writestr("word/document.xml", _HEAD + "<w:p/>" * 700_000 + _FOOT)
    return out.getvalue()


def _with_another(content: bytes, number: int) -> bytes:
    out = io.BytesIO(content)
    with zipfile.ZipFile(out, "a") as archive:
        archive.writestr("docProps/number.xml", f"<n>{number}</n>")
    return out.getvalue()


def _photograph() -> bytes:
    out = io.BytesIO()
    Image.effect_noise((4000, 3000), 40).convert("RGB").save(out, "JPEG", quality=80)
    return out.getvalue()


_PACKAGE = "http://schemas.openxmlformats.org/package/2006"
_OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
_WORD = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
_PARTS = {
    "[Content_Types].xml": f"<Types xmlns='{_PACKAGE}/content-types'>"
    "<Default Extension='rels' "
    "ContentType='application/vnd.openxmlformats-package.relationships+xml'/>"
    "<Default Extension='xml' ContentType='application/xml'/></Types>",
    "_rels/.rels": f"<Relationships xmlns='{_PACKAGE}/relationships'><Relationship Id='r1' "
    f"Type='{_OFFICE}/officeDocument' Target='word/document.xml'/></Relationships>",
}
_HEAD = f"<w:document xmlns:w='{_WORD}'><w:body>"
_FOOT = "</w:body></w:document>"
