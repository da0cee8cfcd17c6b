"""The parts of work: what is told of them, files sent, and putting them in as a teacher."""

from __future__ import annotations

from datetime import datetime

from fastapi.responses import FileResponse
from pydantic import BaseModel

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.service.files.showing import Shown
from jade_ladder.service.work import collecting
from jade_ladder.service.work import parts as service
from jade_ladder.service.work.parts import PartFile
from jade_ladder.store.work.parts import PartKind, WorkPart
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Moment, Text, Whole

router = router_of("work")
SANDBOXED = "default-src 'none'; sandbox; frame-ancestors 'none'"


class WorkPartOut(BaseModel):
    """A part of work: a text, a link (its address is the text), or a file with its name, its kind
    and its bytes. `words` where they were counted; `by_student` where its student put it in;
    `replaced_at` since when other work stands in its place.
    """

    id: int
    kind: PartKind
    text: str
    file_name: str | None
    file_kind: FileKind | None
    size: int | None
    words: int | None
    by_student: bool
    replaced_at: datetime | None

    @classmethod
    def of(cls, part: WorkPart) -> WorkPartOut:
        """Show a part."""
        words = len(part.text.split()) if part.kind is PartKind.TEXT else part.words
        return cls(
            id=part.id,
            kind=part.kind,
            text=part.text,
            file_name=part.file_name,
            file_kind=part.file_kind,
            size=part.size,
            words=words,
            by_student=part.by_student,
            replaced_at=part.replaced_at,
        )


class ShownOut(BaseModel):
    """What is shown of a file: HTML that is safe to show (its pictures by number), a text, or the
    rows of a table. `notes` say what is not shown, `problem` why nothing is, `preparing` that
    nothing is yet: it is asked for again.
    """

    html: str
    text: str
    rows: list[list[str]]
    words: int | None
    notes: list[str]
    problem: str
    preparing: bool

    @classmethod
    def of(cls, shown: Shown) -> ShownOut:
        """Show what is shown."""
        return cls(
            html=shown.html,
            text=shown.text,
            rows=[list(row) for row in shown.rows],
            words=shown.words,
            notes=list(shown.notes),
            problem=shown.problem,
            preparing=shown.preparing,
        )


def sent(file: PartFile) -> FileResponse:
    """Send a file under its own name, to be saved: pages fetch it, and nothing opens it as a page
    or runs anything of it. It is asked for each time, so that nobody sees it who may not any more.
    """
    return FileResponse(
        file.path,
        media_type=file.media_type,
        filename=file.name,
        content_disposition_type="attachment",
        headers={"content-security-policy": SANDBOXED, "cache-control": "private, no-store"},
    )


class PartOfTaskOut(BaseModel):
    """A part of a student's newest attempt, without what stands in it."""

    id: int
    student_id: int
    kind: PartKind
    name: str | None
    file_kind: FileKind | None
    size: int | None
    words: int | None


@router.get("/tasks/{task_id:int}/work")
def read_parts_of_task(task_id: int, caller: AsTeacher) -> list[PartOfTaskOut]:
    """List the parts of every student's newest attempt at a task."""
    return [
        PartOfTaskOut(
            id=part.id,
            student_id=part.student_id,
            kind=part.kind,
            name=part.text if part.kind is PartKind.LINK else part.file_name,
            file_kind=part.file_kind,
            size=part.size,
            words=WorkPartOut.of(part).words,
        )
        for part in service.parts_of_task(caller, task_id)
    ]


class WorkFileIn(BaseModel):
    """A file that has arrived, for a student's work, or for an `entry` of other evidence; `done_at`
    is when it was handed in, or seen.
    """

    upload_id: Whole
    done_at: Moment | None = None
    entry: Whole | None = None


@router.post("/tasks/{task_id:int}/students/{student_id:int}/work/files", status_code=201)
def add_work_file(
    task_id: int, student_id: int, body: WorkFileIn, caller: AsTeacher
) -> WorkPartOut:
    """Put a file that has arrived into a student's work."""
    return WorkPartOut.of(
        service.add_work_file(
            caller, task_id, student_id, body.upload_id, body.done_at, number=body.entry
        )
    )


class WorkLinkIn(BaseModel):
    """A link for a student's work, or for an `entry` of other evidence; `done_at` is when it was
    handed in, or seen.
    """

    address: Text
    done_at: Moment | None = None
    entry: Whole | None = None


@router.post("/tasks/{task_id:int}/students/{student_id:int}/work/links", status_code=201)
def add_work_link(
    task_id: int, student_id: int, body: WorkLinkIn, caller: AsTeacher
) -> WorkPartOut:
    """Put a link into a student's work; nothing is fetched from it."""
    return WorkPartOut.of(
        service.add_work_link(caller, task_id, student_id, body.address, body.done_at, body.entry)
    )


class CollectIn(BaseModel):
    """Uploads that have arrived: files, and archives of them."""

    upload_ids: list[Whole]


class ArrivedFileOut(BaseModel):
    """A file that has arrived (`entry` from 1: in an archive, 0: by itself), and whose it may be,
    the likeliest first; `sure` where nothing speaks for anybody else, `by_identifier` where that
    says so. With a `problem` it cannot be put in.
    """

    upload_id: int
    entry: int
    name: str
    folder: str
    size: int
    student_ids: list[int]
    sure: bool
    by_identifier: bool
    problem: str


class CollectFileIn(BaseModel):
    """A file that has arrived, and whose it is; `batch` is the key of what is put in at once."""

    upload_id: Whole
    entry: Whole
    student_id: Whole
    batch: Text
    done_at: Moment | None = None


class BatchIn(BaseModel):
    """The key of what was put in at once."""

    batch: Text


class RemovedOut(BaseModel):
    """How many files were removed."""

    removed: int


@router.post("/tasks/{task_id:int}/collect")
def match_files(task_id: int, body: CollectIn, caller: AsTeacher) -> list[ArrivedFileOut]:
    """List files that have arrived, each with whose it may be; nothing is put in."""
    return [
        ArrivedFileOut(
            upload_id=one.upload_id,
            entry=one.entry,
            name=one.name,
            folder=one.folder,
            size=one.size,
            student_ids=list(one.match.student_ids),
            sure=one.match.sure,
            by_identifier=one.match.by_identifier,
            problem=one.problem,
        )
        for one in collecting.arrived_files(caller, task_id, body.upload_ids)
    ]


@router.post("/tasks/{task_id:int}/collect/files", status_code=201)
def collect_file(task_id: int, body: CollectFileIn, caller: AsTeacher) -> WorkPartOut:
    """Put a file that has arrived into the work of the student whose it is."""
    part = collecting.collect_file(
        caller, task_id, body.student_id, body.upload_id, body.entry, body.batch, body.done_at
    )
    return WorkPartOut.of(part)


@router.post("/tasks/{task_id:int}/collect/undo")
def undo_collecting(task_id: int, body: BatchIn, caller: AsTeacher) -> RemovedOut:
    """Remove what was put in at once."""
    return RemovedOut(removed=collecting.undo_collecting(caller, task_id, body.batch))


@router.delete("/work-parts/{part_id:int}", status_code=204)
def remove_work_part(part_id: int, caller: AsTeacher) -> None:
    """Remove a part that a teacher has put in."""
    service.remove_work_part(caller, part_id)


@router.get("/work-parts/{part_id:int}/shown")
def read_part_shown(part_id: int, caller: AsTeacher) -> ShownOut:
    """Give what is shown of a file where it is marked."""
    return ShownOut.of(service.part_shown(caller, part_id))


@router.get("/work-parts/{part_id:int}/file", response_class=FileResponse)
def read_part_file(part_id: int, caller: AsTeacher) -> FileResponse:
    """Send a file."""
    return sent(service.part_file(caller, part_id))


@router.get("/work-parts/{part_id:int}/pictures/{picture:int}", response_class=FileResponse)
def read_part_picture(part_id: int, picture: int, caller: AsTeacher) -> FileResponse:
    """Send a picture of a document."""
    return sent(service.part_picture(caller, part_id, picture))
