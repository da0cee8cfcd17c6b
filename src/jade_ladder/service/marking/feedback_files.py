"""Recordings and files that a mark is given back with."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, replace

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.service.files.recordings import bring_in_recording, check_length
from jade_ladder.service.files.showing import ready_path
from jade_ladder.service.files.uploads import bring_in, end_upload
from jade_ladder.service.marking.saving import LONGEST_REMARK, begin, criterion_of
from jade_ladder.service.marking.state import Marking, MarkState
from jade_ladder.service.shared.caller import Caller, Teacher
from jade_ladder.service.shared.forms import check_key
from jade_ladder.service.work.parts import PartFile
from jade_ladder.store.marking import feedback_files as store
from jade_ladder.store.marking.feedback_files import FeedbackFile, FeedbackKind

MOST_FILES = 40


@dataclass(frozen=True, slots=True)
class NewFeedback:
    """A recording or a file that has arrived, for a criterion, a passage (by its key), or neither:
    the whole.
    """

    upload_id: int
    kind: FeedbackKind
    criterion_id: int | None
    passage_key: str | None
    words: str
    seconds: int


def attach(
    caller: Teacher,
    task_id: int,
    student_id: int,
    key: str,
    new: NewFeedback,
    attempt: int = 1,
) -> MarkState:
    """Give a mark a recording or a file that has arrived, under a key of its own; sent twice, it is
    one. Refused for a recording that is none, is empty or too long.
    """
    _check(key, new.words)
    if new.kind is FeedbackKind.RECORDING:
        check_length(new.seconds)
    with caller.reading() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        if _there(db, marking, key):
            return marking.state()
        criterion = None if new.criterion_id is None else criterion_of(marking, new.criterion_id)
    is_recording = new.kind is FeedbackKind.RECORDING
    brought = (bring_in_recording if is_recording else bring_in)(caller, new.upload_id)
    with caller.transaction() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        if _there(db, marking, key):
            return marking.state()
        mark_id = begin(marking, choosing=False)
        if len(store.feedback_at(db, mark_id)) >= MOST_FILES:
            raise Refused(f"A mark has at most {MOST_FILES} recordings and files", "upload_id")
        row = brought.named(db, caller)
        feedback = FeedbackFile(
            new.kind,
            None if criterion is None else criterion.criterion.key,
            new.passage_key,
            brought.name,
            new.words.strip(),
            new.seconds if new.kind is FeedbackKind.RECORDING else 0,
            row.id,
        )
        _append(marking, mark_id, key, feedback, False)
        end_upload(caller, new.upload_id)
        return marking.state()


def change_feedback(
    caller: Teacher,
    task_id: int,
    student_id: int,
    key: str,
    words: str | None,
    based_on: int,
    attempt: int = 1,
) -> MarkState:
    """Write the words of a recording or a file anew, or (None) delete it; NotFound where there is
    none, Stale where it was changed after version `based_on` of the mark.
    """
    _check(key, words or "")
    with caller.transaction() as db:
        marking = Marking.load(db, caller, task_id, student_id, attempt)
        mark_id = marking.place.mark.id
        found, since = (None, 0) if mark_id is None else store.last_of_key(db, mark_id, key)
        if mark_id is None or since == 0:
            raise NotFound("There is no such recording or file")
        if found is None:
            if words is None:
                return marking.state()
            raise Stale("This was deleted in another tab", marking.place.mark.version or 0)
        if words is not None and words.strip() == found.words:
            return marking.state()
        if since > based_on:
            raise Stale("This was changed in another tab", marking.place.mark.version or 0)
        begin(marking, choosing=False)
        changed = found if words is None else replace(found, words=words.strip())
        _append(marking, mark_id, key, changed, words is None)
        return marking.state()


def _check(key: str, words: str) -> None:
    check_key(key)
    if len(words) > LONGEST_REMARK:
        raise Refused(f"At most {LONGEST_REMARK} characters", "words")


def _there(db: sqlite3.Connection, marking: Marking, key: str) -> bool:
    mark_id = marking.place.mark.id
    return mark_id is not None and store.last_of_key(db, mark_id, key)[1] > 0


def _append(
    marking: Marking, mark_id: int, key: str, feedback: FeedbackFile, deleted: bool
) -> None:
    caller = marking.caller
    version = store.append_feedback(
        marking.db, mark_id, key, feedback, deleted, caller.now, caller.person_id
    )
    marking.saved("mark", version=version, changed_at=caller.now)


def feedback_file(caller: Caller, number: int) -> PartFile:
    """Give a recording or a file that the caller may have now: a teacher of a mark in their class,
    a student of what was handed back to them. NotFound for any other, in the same words.
    """
    with caller.reading() as db:
        found = (
            store.feedback_of_teacher(db, caller.person_id, number)
            if isinstance(caller, Teacher)
            else store.feedback_of_student(db, caller.person_id, number, caller.now)
        )
    if found is None:
        raise NotFound("There is no such recording or file for you")
    path = ready_path(caller.database, found.file)
    return PartFile(path, found.name, found.file.media_type)
