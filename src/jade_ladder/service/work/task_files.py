"""Files that come with a task: attached by its teacher, looked at by whom the task is for."""

from __future__ import annotations

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.service.files.showing import ready_path
from jade_ladder.service.files.uploads import bring_in, end_upload
from jade_ladder.service.shared.caller import Caller, Student, Teacher
from jade_ladder.service.shared.guards import own_task
from jade_ladder.service.work.handing_in import task_of_student
from jade_ladder.service.work.parts import PartFile
from jade_ladder.store.work import task_files as store
from jade_ladder.store.work.task_files import TaskFile

MOST_FILES = 20


def attach_file(caller: Teacher, task_id: int, upload_id: int, starting: bool) -> TaskFile:
    """Let a file that has arrived come with a task; of a `starting` one each student who opens the
    task from now on gets a copy. Sent twice, it is one.
    """
    with caller.transaction() as db:
        own_task(db, caller, task_id)
        found = store.file_of_upload(db, caller.person_id, upload_id)
        if found is not None:
            return found
        if len(store.task_files(db, task_id)) >= MOST_FILES:
            raise Refused(f"A task has at most {MOST_FILES} files", "file")
    brought = bring_in(caller, upload_id)
    with caller.transaction() as db:
        own_task(db, caller, task_id)
        row = brought.named(db, caller)
        store.add_task_file(
            db,
            task_id,
            brought.name,
            row.id,
            brought.sent_hash,
            starting,
            upload_id,
            caller.now,
            caller.person_id,
        )
        end_upload(caller, upload_id)
        made = store.file_of_upload(db, caller.person_id, upload_id)
        assert made is not None, "it was added just now"
        return made


def detach_file(caller: Teacher, file_id: int) -> None:
    """Remove a file from a task; the copies that students have stay theirs."""
    with caller.transaction() as db:
        found = _found(store.task_file(db, file_id))
        try:
            own_task(db, caller, found.task_id)
        except NotFound:
            raise NotFound(_NONE) from None
        store.delete_task_file(db, found.id)


def task_file(caller: Caller, file_id: int) -> PartFile:
    """Give a file of a task that the caller may see now: one that they teach, or that is theirs to
    do. NotFound for any other, in the same words.
    """
    with caller.reading() as db:
        found = _found(store.task_file(db, file_id))
        try:
            if isinstance(caller, Teacher):
                own_task(db, caller, found.task_id)
            elif isinstance(caller, Student):
                task_of_student(db, caller, caller.person_id, found.task_id)
        except NotFound:
            raise NotFound(_NONE) from None
        row = store.content_of(db, file_id)
    assert row is not None, "a file of a task has content"
    return PartFile(ready_path(caller.database, row), found.name, row.media_type)


_NONE = "There is no such file of a task for you"


def _found(found: TaskFile | None) -> TaskFile:
    if found is None:
        raise NotFound(_NONE)
    return found
