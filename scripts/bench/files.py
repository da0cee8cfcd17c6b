"""Files of work: an archive of a set, a long document, and a class that hands in at once."""

from __future__ import annotations

import http.client
import io
import json
import os
import shutil
import subprocess
import sys
import threading
import time
import zipfile
from datetime import timedelta
from pathlib import Path
from statistics import median, quantiles

from scripts.bench.class_of_40 import fill
from scripts.bench.timing import timed

from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.demo.files import document
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.outside import clock
from jade_ladder.service.classes import students
from jade_ladder.service.files import preparing, uploads
from jade_ladder.service.marking import desk
from jade_ladder.service.people import sessions
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import collecting, tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.shared.callers import COOKIE, PERSON_HEADER

FILES, WHOLE = 60, 200_000_000
MANY, AT_ONCE, EACH, WITHIN = 200, 20, 5_000_000, 50


def bench_files(folder: Path) -> None:
    """An archive, a document, many at once."""
    _bench_archive(folder / "archive")
    _bench_document(folder / "document")
    _bench_many(folder / "many-files")


def _task(database: Database, class_id: int) -> int:
    teacher = Teacher(database, 1, clock.now())
    rubric = tasks.class_tasks(teacher, class_id)[0].row.rubric_id
    due = teacher.now + timedelta(hours=1)
    words = TaskWords("Now", "", TaskKind.HANDED_IN, rubric, due, None, False)
    return tasks.make_task(teacher, class_id, words)


def _bench_archive(folder: Path) -> None:
    """A zip of 60 files read, matched and stored, over cp and sync of the same files."""
    folder.mkdir()
    database = Database(folder / "jade-ladder.sqlite3")
    class_id, members = fill(database, FILES, 2, 1)
    teacher = Teacher(database, 1, clock.now())
    task_id = _task(database, class_id)
    loose = folder / "loose"
    loose.mkdir()
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_STORED) as archive:
        for number in range(FILES):
            path = loose / f"{number}.bin"
            path.write_bytes(b"\0\1" + os.urandom(WHOLE // FILES))
            archive.write(path, path.name)
    content = packed.getvalue()
    upload = uploads.begin_upload(teacher, "a-bench-archive", "all.zip", len(content)).row
    _, receiving = uploads.receive(teacher, upload.id, 0)
    with receiving as take:
        take(content)
    del content, packed

    def collect() -> None:
        found = collecting.arrived_files(teacher, task_id, [upload.id])
        for number, one in enumerate(found):
            collecting.collect_file(
                teacher, task_id, members[number], upload.id, one.entry, "a-bench-batch"
            )

    def bare() -> None:
        shutil.copytree(loose, folder / "copied")
        os.sync()

    resting = _memory_now()
    took, other = timed(collect), timed(bare)
    most = _memory(os.getpid()) - resting
    print(f"a zip of {FILES} files, 200 MB, read, matched, stored: {took:.1f} s; ", end="")
    print(f"cp and sync {other:.1f} s\n  ratio {took / other:.1f} (at or under 3)")
    print(f"  memory at most +{most // 1000} MB (at or under 100)")
    database.close()


def _bench_document(folder: Path) -> None:
    """A document of 50 pages from arrival to shown, over mammoth and the start of Python."""
    folder.mkdir()
    database = Database(folder / "jade-ladder.sqlite3")
    fill(database, 1, 2, 1)
    teacher = Teacher(database, 1, clock.now())
    leg = "Leg one keeps the wall left and crosses the saddle where the contours crowd. " * 6
    bare = "import sys, mammoth; mammoth.convert_to_html(open(sys.argv[1], 'rb'))"
    ratios = []
    for turn in range(7):
        path = folder / f"{turn}.docx"
        path.write_bytes(document(f"Route {turn}", [leg] * 300))

        def bring(path: Path = path) -> None:
            content = path.read_bytes()
            row = uploads.begin_upload(
                teacher, f"bench-{path.stem:0>8}", path.name, len(content)
            ).row
            _, receiving = uploads.receive(teacher, row.id, 0)
            with receiving as take:
                take(content)
            brought = uploads.bring_in(teacher, row.id)
            with database.transaction() as db:
                brought.named(db, teacher)
            preparing.prepare_all(database, teacher.now)

        def alone(path: Path = path) -> None:
            subprocess.run([sys.executable, "-c", bare, str(path)], check=True)

        ratios.append((timed(bring), timed(alone)))
    own, other = (median(pair[which] for pair in ratios) for which in (0, 1))
    ratio = median(pair[0] / pair[1] for pair in ratios)
    print(f"a document of 50 pages to shown: {own:.2f} s, mammoth alone {other:.2f} s")
    print(f"  ratio {ratio:.2f} (at or under 1.3)")
    database.close()


def _bench_many(folder: Path) -> None:
    """200 students hand in 5 MB each, while a teacher marks: no error, none lost."""
    database = Database(folder / "jade-ladder.sqlite3")
    class_id, _ = fill(database, 1, 2, 1)
    now = clock.now()
    teacher = Teacher(database, 1, now)
    with database.transaction():
        people = [
            students.add_student(teacher, class_id, StudentLine(n, "Many", str(n), from_list=True))
            for n in range(MANY)
        ]
        task_id = _task(database, class_id)
        tokens = [sessions.begin_session(database, one, now) for one in people]
        own = sessions.begin_session(database, 1, now)
    criterion = desk.desk(teacher, task_id).criteria[0]
    database.close()
    server = subprocess.Popen(
        [sys.executable, "-m", "jade_ladder", "serve", "--port", "0", "--data", str(folder)],
        stdout=subprocess.PIPE,
        text=True,
    )
    assert server.stdout is not None
    address = server.stdout.readline().strip().rsplit("/", 1)[1]

    def call(
        connection: http.client.HTTPConnection,
        person: int,
        token: str,
        method: str,
        path: str,
        body: object,
    ) -> dict[str, int]:
        raw = isinstance(body, bytes)
        headers = {
            "cookie": f"{COOKIE}={token}",
            PERSON_HEADER: str(person),
            "content-type": "application/octet-stream" if raw else "application/json",
            "origin": f"http://{address}",
        }
        sent = body if raw else json.dumps(body)
        connection.request(method, path, sent, headers)  # type: ignore[arg-type]
        answer = connection.getresponse()
        content = answer.read()
        if answer.status >= 300:
            failed.append(answer.status)
            return {}
        found: dict[str, int] = json.loads(content)
        return found

    failed: list[int] = []
    waiting = list(zip(people, tokens, strict=True))
    going = threading.Event()

    def saves() -> list[float]:
        """Choose a level again and again, as a teacher does who marks: 40 times, or while going."""
        took: list[float] = []
        connection = http.client.HTTPConnection(address, timeout=60)
        path = f"/api/tasks/{task_id}/students/{people[0]}/attempts/1/choices/{criterion.id}"
        while going.is_set() or len(took) < 40:
            level = criterion.level_ids[len(took) % 2]
            began = time.perf_counter()
            call(connection, 1, own, "PUT", path, {"level_id": level, "version": 100_000})
            took.append(time.perf_counter() - began)
            time.sleep(0.05)
        return took

    def hand_in() -> None:
        while waiting:
            # Spread over most of a minute, as a class comes in before the bell.
            time.sleep(WITHIN * AT_ONCE / MANY)
            if not waiting:
                return
            person, token = waiting.pop()
            connection = http.client.HTTPConnection(address, timeout=120)
            body = b"\0\1" + person.to_bytes(8, "big") * (EACH // 8)
            begin = {"key": f"bench-{person:08}", "name": "work.bin", "size": len(body)}
            upload = call(connection, person, token, "POST", "/api/my/uploads", begin)
            path = f"/api/my/uploads/{upload.get('id')}/bytes?at=0"
            call(connection, person, token, "PUT", path, body)
            put = f"/api/my/tasks/{task_id}/draft/files"
            part = call(connection, person, token, "POST", put, {"upload_id": upload.get("id")})
            done = {"text": "", "version": 0, "parts": [part.get("id")]}
            call(connection, person, token, "POST", f"/api/my/tasks/{task_id}/hand-in", done)

    waiting = [one for one in waiting if one[0] != people[0]]
    alone = saves()
    before = _memory(server.pid)
    going.set()
    beside: list[float] = []
    marking = threading.Thread(target=lambda: beside.extend(saves()))
    marking.start()
    began = time.perf_counter()
    threads = [threading.Thread(target=hand_in) for _ in range(AT_ONCE)]
    for one in threads:
        one.start()
        time.sleep(WITHIN / MANY)
    for one in threads:
        one.join()
    whole = time.perf_counter() - began
    going.clear()
    marking.join()
    after = _memory(server.pid)
    server.terminate()
    server.wait()
    kept = Database(folder / "jade-ladder.sqlite3")
    with kept.reading() as db:
        stored = db.execute("SELECT count(*) FROM hand_in_part").fetchone()[0]
    kept.close()
    p95 = [quantiles(one, n=20)[-1] for one in (beside, alone)]
    print(
        f"{MANY - 1} students hand in 5 MB each, {AT_ONCE} waiting at a time: {whole:.0f} s, ",
        end="",
    )
    print(f"{len(failed)} errors, {MANY - 1 - stored} lost, memory +{(after - before) // 1000} MB")
    print(f"  a save meanwhile, p95: {p95[0] * 1000:.0f} ms, without {p95[1] * 1000:.0f} ms")
    print(f"  ratio {p95[0] / p95[1]:.1f} (at or under 3)")


def _memory_now() -> int:
    """The memory that this process has now, in kilobytes; the most so far begins anew with it."""
    Path("/proc/self/clear_refs").write_text("5")
    return _memory(os.getpid())


def _memory(process: int) -> int:
    """The most memory that a process had so far, in kilobytes."""
    status = Path(f"/proc/{process}/status").read_text()
    return int(status.split("VmHWM:")[1].split()[0])
