"""Recordings and files that a mark is given back with."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from fastapi.responses import FileResponse
from pydantic import BaseModel, Field

from jade_ladder.formats.files.kind import FileKind
from jade_ladder.service.marking import feedback_files as service
from jade_ladder.service.marking.feedback_files import NewFeedback
from jade_ladder.service.marking.saving import LONGEST_REMARK
from jade_ladder.store.marking.feedback_files import FeedbackKind, FeedbackRow
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.web.marking.models import ATTEMPT, MarkOut
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Text, Whole, YesNo
from jade_ladder.web.work.parts import sent

router = router_of("marking")


class FeedbackOut(BaseModel):
    """A recording or a file: where it is in the mark (a criterion, a passage by its key, or
    neither: the whole), its words, and how many seconds a recording lasts. `version` is since when
    it stands so.
    """

    id: int
    key: str
    kind: FeedbackKind
    criterion_id: int | None
    passage_key: str | None
    name: str
    words: str
    seconds: int
    size: int
    file_kind: FileKind
    version: int

    @classmethod
    def several(
        cls, rows: Iterable[FeedbackRow], criteria: Sequence[StoredCriterion]
    ) -> list[FeedbackOut]:
        """Show what is given back, by the criteria of the revision that is shown."""
        records = {stored.criterion.key: stored.id for stored in criteria}
        return [
            cls(
                id=row.id,
                key=row.key,
                kind=row.kind,
                criterion_id=records.get(row.criterion_key or ""),
                passage_key=row.passage_key,
                name=row.name,
                words=row.words,
                seconds=row.seconds,
                size=row.size,
                file_kind=row.file_kind,
                version=row.since_version,
            )
            for row in rows
        ]


class FeedbackIn(BaseModel):
    """A recording or a file that has arrived, under a key of its own."""

    key: Text
    upload_id: Whole
    kind: FeedbackKind
    criterion_id: Whole | None
    passage_key: Text | None
    words: Text = Field(json_schema_extra={"maxLength": LONGEST_REMARK})
    seconds: Whole


class FeedbackWordsIn(BaseModel):
    """The words of a recording or a file anew, or that it is deleted, with the version of the mark
    in which it was last seen.
    """

    key: Text
    words: Text = Field(json_schema_extra={"maxLength": LONGEST_REMARK})
    deleted: YesNo = False
    version: Whole


@router.post(f"{ATTEMPT}/feedback", status_code=201)
def attach_feedback(
    task_id: int, student_id: int, attempt: int, body: FeedbackIn, caller: AsTeacher
) -> MarkOut:
    """Give a mark a recording or a file that has arrived; sent twice, it is one."""
    new = NewFeedback(
        body.upload_id, body.kind, body.criterion_id, body.passage_key, body.words, body.seconds
    )
    return MarkOut.of(service.attach(caller, task_id, student_id, body.key, new, attempt))


@router.put(f"{ATTEMPT}/feedback")
def change_feedback(
    task_id: int, student_id: int, attempt: int, body: FeedbackWordsIn, caller: AsTeacher
) -> MarkOut:
    """Write the words of a recording or a file anew, or delete it."""
    words = None if body.deleted else body.words
    return MarkOut.of(
        service.change_feedback(caller, task_id, student_id, body.key, words, body.version, attempt)
    )


@router.get("/feedback/{feedback_id:int}/file", response_class=FileResponse)
def read_feedback_file(feedback_id: int, caller: AsTeacher) -> FileResponse:
    """Give a recording or a file of a mark."""
    return sent(service.feedback_file(caller, feedback_id))
