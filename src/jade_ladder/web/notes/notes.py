"""Observation notes: written, looked at, changed, set aside, withdrawn and shown."""

from __future__ import annotations

from datetime import datetime

from fastapi.responses import FileResponse
from pydantic import BaseModel, Field

from jade_ladder.service.notes import note_files, notes
from jade_ladder.service.notes.notes import NoteWords, WholeNote
from jade_ladder.web.notes.models import NoteOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Moment, Text, Whole, YesNo
from jade_ladder.web.work.parts import sent

router = router_of("notes")


class NoteWordsIn(BaseModel):
    """What a note says: a level of the outcome's scale (0 the lowest), half-way above it or not,
    words, and when it was seen (null: now, or as it was), by the school's clock without a zone.
    """

    level: Whole
    half_way: YesNo = False
    words: Text = Field(default="", json_schema_extra={"maxLength": notes.LONGEST_WORDS})
    seen_at: Moment | None = None

    def said(self) -> NoteWords:
        """Give it as the service knows it."""
        return NoteWords(self.level, self.half_way, self.words, self.seen_at)


class NotesIn(NoteWordsIn):
    """The same note of one student or several, under a key of its own."""

    key: Text
    student_ids: list[Whole]
    outcome_id: Whole


class NoteChange(NoteWordsIn):
    """A change, with the version it was based on."""

    version: Whole


class NoteVersionIn(BaseModel):
    """Whether a note is withdrawn, with the version that this was based on."""

    withdrawn: YesNo
    version: Whole


class NoteAsideIn(BaseModel):
    """Why a note does not count (null: it counts again)."""

    reason: Text | None


class NoteShownIn(BaseModel):
    """Whether a note is shown to its student."""

    shown: YesNo


class NoteFileIn(BaseModel):
    """A recording (so many seconds long) or a file that has arrived, under a key of its own."""

    key: Text
    upload_id: Whole
    recording: YesNo
    seconds: Whole = 0


class PastNoteOut(BaseModel):
    """What a note said in a version, who made it and when."""

    version: int
    level: int
    levels: int
    half_way: bool
    words: str
    seen_at: datetime
    withdrawn: bool
    aside: str | None
    at: datetime | None
    by: str


class WholeNoteOut(BaseModel):
    """A note with all of its versions, the newest first."""

    note: NoteOut
    history: list[PastNoteOut]

    @classmethod
    def of(cls, found: WholeNote) -> WholeNoteOut:
        """Show a note with its history."""
        return cls(
            note=NoteOut.of(found.row, found.files),
            history=[
                PastNoteOut(
                    version=one.version,
                    level=one.level,
                    levels=one.levels,
                    half_way=one.half_way,
                    words=one.words,
                    seen_at=one.seen_at,
                    withdrawn=one.withdrawn,
                    aside=one.aside,
                    at=one.made_at,
                    by=one.maker,
                )
                for one in found.versions
            ],
        )


@router.post("/classes/{class_id:int}/notes", status_code=201)
def write_notes(class_id: int, body: NotesIn, caller: AsTeacher) -> list[NoteOut]:
    """Write a note of one student or several; sent twice, it is one."""
    found = notes.write_notes(
        caller, class_id, body.key, body.student_ids, body.outcome_id, body.said()
    )
    return [NoteOut.of(row, ()) for row in found]


@router.get("/notes/{note_id:int}")
def read_note(note_id: int, caller: AsTeacher) -> WholeNoteOut:
    """Give a note with its history."""
    return WholeNoteOut.of(notes.get_note(caller, note_id))


@router.put("/notes/{note_id:int}")
def change_note(note_id: int, body: NoteChange, caller: AsTeacher) -> WholeNoteOut:
    """Let a note say something else."""
    return WholeNoteOut.of(notes.change_note(caller, note_id, body.said(), body.version))


@router.put("/notes/{note_id:int}/withdrawn")
def withdraw_note(note_id: int, body: NoteVersionIn, caller: AsTeacher) -> WholeNoteOut:
    """Withdraw a note, or restore it; it stays on record."""
    return WholeNoteOut.of(notes.withdraw_note(caller, note_id, body.version, body.withdrawn))


@router.put("/notes/{note_id:int}/aside")
def set_note_aside(note_id: int, body: NoteAsideIn, caller: AsTeacher) -> WholeNoteOut:
    """Set a note aside, or let it count again."""
    return WholeNoteOut.of(notes.set_note_aside(caller, note_id, body.reason))


@router.put("/notes/{note_id:int}/shown")
def show_note(note_id: int, body: NoteShownIn, caller: AsTeacher) -> WholeNoteOut:
    """Show a note to its student, or not any more."""
    return WholeNoteOut.of(notes.show_note(caller, note_id, body.shown))


@router.post("/notes/{note_id:int}/files", status_code=201)
def attach_to_note(note_id: int, body: NoteFileIn, caller: AsTeacher) -> WholeNoteOut:
    """Give a note a recording or a file that has arrived; sent twice, it is one."""
    return WholeNoteOut.of(
        note_files.attach_to_note(
            caller, note_id, body.key, body.upload_id, body.recording, body.seconds
        )
    )


@router.delete("/notes/{note_id:int}/files/{file_id:int}")
def delete_note_file(note_id: int, file_id: int, caller: AsTeacher) -> WholeNoteOut:
    """Delete a recording or a file of a note."""
    return WholeNoteOut.of(note_files.delete_note_file(caller, note_id, file_id))


@router.get("/note-files/{file_id:int}/file", response_class=FileResponse)
def read_note_file(file_id: int, caller: AsTeacher) -> FileResponse:
    """Give a recording or a file of a note."""
    return sent(note_files.note_file(caller, file_id))
