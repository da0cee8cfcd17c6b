"""All work of a task as one archive: a folder for each student, and the marks beside them."""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from jade_ladder.formats.plain_text import safe_file_name
from jade_ladder.formats.sheet import write_sheet
from jade_ladder.service.files.showing import ready_path
from jade_ladder.service.reports.sheets import task_sheet
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.parts import parts_of_task
from jade_ladder.store.classes import students as student_store
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.work import placed_parts as placed_store
from jade_ladder.store.work.parts import PartKind, PartOfTask


@contextmanager
def work_archive(caller: Teacher, task_id: int) -> Iterator[tuple[Path, str]]:
    """Make an archive (ZIP) of the newest attempts of all students at a task, with the marks as
    CSV; gives where it lies, for as long as it is needed, and what it is called.
    """
    view = tasks.get_task(caller, task_id)
    marks = write_sheet(task_sheet(caller, task_id))
    contents = Contents.of(caller.database)
    with caller.reading() as db:
        parts = parts_of_task(caller, task_id)
        files = {
            part.id: row
            for part in parts
            if (row := placed_store.file_of_part(db, part.id)) is not None
        }
        identifiers = {
            one.id: one.identifier for one in student_store.students(db, view.row.class_id)
        }
    title = safe_file_name(view.row.title)
    with contents.beside() as folder:
        path = folder / "work.zip"
        with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED) as archive:
            archive.writestr("marks.csv", marks)
            for student in view.students:
                own = [part for part in parts if part.student_id == student.row.student_id]
                place = f"{student.row.family_name} {student.row.given_name}"
                identifier = identifiers.get(student.row.student_id)
                within = safe_file_name(f"{place} {identifier}" if identifier else place)
                for name, part in _named(own):
                    target = f"{within}/{name}"
                    if part.kind is PartKind.FILE:
                        archive.write(ready_path(caller.database, files[part.id]), target)
                    else:
                        archive.writestr(target, part.text)
        yield path, f"{title}.zip"


def _named(parts: list[PartOfTask]) -> Iterator[tuple[str, PartOfTask]]:
    """Give each part a name that no other one of the folder has."""
    taken: set[str] = set()
    for part in parts:
        wanted = {
            PartKind.TEXT: part.file_name or "text.txt",
            PartKind.LINK: "link.txt",
            PartKind.FILE: part.file_name or "file",
        }[part.kind]
        stem, dot, ending = wanted.rpartition(".")
        name, number = wanted, 1
        while name.casefold() in taken:
            number += 1
            name = f"{stem} ({number}).{ending}" if dot else f"{wanted} ({number})"
        taken.add(name.casefold())
        yield name, part
