"""Collecting: many files at once, or an archive, each to the student whose it is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.core.errors import Refused
from jade_ladder.formats.files.archive import leads_elsewhere
from jade_ladder.formats.plain_text import with_marks_shown
from jade_ladder.service.files.uploads import LARGEST_FILE, archive_in, standing_upload
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.shared.guards import own_task
from jade_ladder.service.work.matching import NOBODY, Match, match_file
from jade_ladder.service.work.parts import add_work_file
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.work import attempts as attempt_store
from jade_ladder.store.work import parts as store
from jade_ladder.store.work.parts import WorkPart

MOST_UPLOADS = 200


@dataclass(frozen=True, slots=True)
class ArrivedFile:
    """A file that has arrived, by itself or in an archive (`entry` counts its files from 1; 0: by
    itself), with whose it may be; with a `problem` it cannot be put in.
    """

    upload_id: int
    entry: int
    name: str
    folder: str
    size: int
    match: Match
    problem: str


def arrived_files(caller: Teacher, task_id: int, upload_ids: Sequence[int]) -> list[ArrivedFile]:
    """List the files of uploads that have arrived whole, archives unpacked, each with whose it may
    be among the students of the task. Nothing is put in.

    Raises Refused for an archive that cannot be read, with its name.
    """
    if len(upload_ids) > MOST_UPLOADS:
        raise Refused(f"At most {MOST_UPLOADS} files at once", "upload_ids")
    with caller.reading() as db:
        row, _ = own_task(db, caller, task_id)
        students = student_store.students(db, row.class_id, today(db, caller))
    found: list[ArrivedFile] = []
    for upload_id in dict.fromkeys(upload_ids):
        upload = standing_upload(caller, upload_id)
        name, size = upload.row.name, upload.row.size
        if not upload.whole:
            raise Refused(f"“{name}” has not arrived whole", "upload_ids")
        if not name.lower().endswith(".zip"):
            match = match_file(name, "", students)
            found.append(ArrivedFile(upload_id, 0, name, "", size, match, ""))
            continue
        with archive_in(caller, upload_id) as archive:
            for number, entry in enumerate(archive.entries, start=1):
                problem = _problem(entry.name, entry.size)
                match = NOBODY if problem else match_file(entry.file_name, entry.folder, students)
                found.append(
                    ArrivedFile(
                        upload_id,
                        number,
                        with_marks_shown(entry.file_name),
                        with_marks_shown(entry.folder),
                        entry.size,
                        match,
                        problem,
                    )
                )
    return found


def _problem(name: str, size: int) -> str:
    if leads_elsewhere(name):
        return "Its name leads out of the archive"
    if size == 0:
        return "It is empty"
    if size > LARGEST_FILE:
        return f"It is larger than {LARGEST_FILE // 1_000_000} MB"
    return ""


def collect_file(
    caller: Teacher,
    task_id: int,
    student_id: int,
    upload_id: int,
    entry: int,
    batch: str,
    done_at: datetime | None = None,
) -> WorkPart:
    """Put a file that has arrived into a student's work, as one of a batch that is undone as one;
    sent twice, it is one.
    """
    if not 8 <= len(batch) <= 64:
        raise Refused("A key of 8 to 64 characters", "batch")
    return add_work_file(caller, task_id, student_id, upload_id, done_at, entry, batch)


def undo_collecting(caller: Teacher, task_id: int, batch: str) -> int:
    """Remove the files of a batch, and the attempts that they began and nobody has marked since;
    gives how many files.
    """
    with caller.transaction() as db:
        own_task(db, caller, task_id)
        removed = store.delete_batch(db, task_id, caller.person_id, batch, caller.now)
        attempt_store.delete_empty(db, {one.attempt_id for one in removed})
        return len(removed)
