"""Recordings and photographs of observation notes."""

from __future__ import annotations

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.files.recordings import bring_in_recording, check_length
from jade_ladder.service.files.showing import ready_path
from jade_ladder.service.files.uploads import bring_in, end_upload
from jade_ladder.service.notes.notes import WholeNote, get_note, own_note
from jade_ladder.service.shared.caller import Caller, Teacher
from jade_ladder.service.shared.forms import check_key
from jade_ladder.service.work.parts import PartFile
from jade_ladder.store.notes import note_files as store
from jade_ladder.store.shared.log import LogSubject

MOST_FILES = 10


def attach_to_note(
    caller: Teacher, number: int, key: str, upload_id: int, recording: bool, seconds: int = 0
) -> WholeNote:
    """Give a note a recording (so many seconds long) or a file that has arrived, under a key of its
    own; sent twice, it is one. Refused for a recording that is none, is empty or too long.
    """
    check_key(key)
    if recording:
        check_length(seconds)
    with caller.reading() as db:
        own_note(db, caller, number)
        if store.has_key(db, number, key):
            return get_note(caller, number)
    brought = (bring_in_recording if recording else bring_in)(caller, upload_id)
    with caller.transaction() as db:
        own_note(db, caller, number)
        if not store.has_key(db, number, key):
            if len(store.note_files(db, [number])) >= MOST_FILES:
                raise Refused(f"A note has at most {MOST_FILES} files", "upload_id")
            row = brought.named(db, caller)
            store.add_file(
                *(db, number, key, "recording" if recording else "file", brought.name),
                *(seconds if recording else 0, row.id, caller.now, caller.person_id),
            )
            end_upload(caller, upload_id)
    return get_note(caller, number)


def delete_note_file(caller: Teacher, number: int, file_id: int) -> WholeNote:
    """Delete a recording or a file of a note."""
    with caller.transaction() as db:
        own_note(db, caller, number)
        if file_id not in {one.id for one in store.note_files(db, [number])}:
            raise NotFound("There is no such recording or file of this note")
        store.delete_file(db, file_id)
        caller.log(db, LogSubject.NOTE_FILE, number, {"file": file_id}, None)
        return get_note(caller, number)


def note_file(caller: Caller, file_id: int) -> PartFile:
    """Give a recording or a file that the caller may have now: a teacher of a note in their class,
    a student of a note that was shown to them. NotFound for any other, in the same words.
    """
    with caller.reading() as db:
        found = (
            store.file_of_teacher(db, caller.person_id, file_id)
            if isinstance(caller, Teacher)
            else store.file_of_student(db, caller.person_id, file_id, caller.now)
        )
    if found is None:
        raise NotFound("There is no such recording or file for you")
    name, file = found
    return PartFile(ready_path(caller.database, file), name, file.media_type)
