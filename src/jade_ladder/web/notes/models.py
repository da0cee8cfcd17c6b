"""Observation notes as they are shown."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from pydantic import BaseModel

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.store.notes.note_files import NoteFileRow
from jade_ladder.store.notes.notes import NoteRow


class NoteFileOut(BaseModel):
    """A recording (so many seconds long) or a file of a note."""

    id: int
    kind: str
    name: str
    seconds: int
    size: int
    file_kind: FileKind

    @classmethod
    def several(cls, rows: Iterable[NoteFileRow]) -> list[NoteFileOut]:
        """Show files."""
        return [
            cls(
                id=row.id,
                kind=row.kind,
                name=row.name,
                seconds=row.seconds,
                size=row.size,
                file_kind=row.file_kind,
            )
            for row in rows
        ]


class NoteOut(BaseModel):
    """A note as it stands: its level counts from 0, of so many `levels` as the scale had when it
    was written; `shown_at` is since when its student sees it.
    """

    id: int
    version: int
    class_id: int
    student_id: int
    outcome_id: int
    level: int
    levels: int
    half_way: bool
    words: str
    seen_at: datetime
    written_at: datetime | None
    by: str
    shown_at: datetime | None
    withdrawn: bool
    files: list[NoteFileOut]

    @classmethod
    def of(cls, row: NoteRow, files: Iterable[NoteFileRow]) -> NoteOut:
        """Show a note."""
        return cls(
            id=row.id,
            version=row.version,
            class_id=row.class_id,
            student_id=row.student_id,
            outcome_id=row.outcome_id,
            level=row.level,
            levels=row.levels,
            half_way=row.half_way,
            words=row.words,
            seen_at=row.seen_at,
            written_at=row.written_at,
            by=row.writer,
            shown_at=row.shown_at,
            withdrawn=row.withdrawn,
            files=NoteFileOut.several(files),
        )
