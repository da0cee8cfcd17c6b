"""Tasks and the work handed in."""

from __future__ import annotations

from datetime import date, datetime

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel

from jade_ladder.core.evidence import AttemptsRule
from jade_ladder.core.marking import DeskState
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.service.work import copying, setting
from jade_ladder.service.work import tasks as service
from jade_ladder.service.work.instructions import SHORT, rendered
from jade_ladder.service.work.setting import LONGEST_INSTRUCTIONS, TaskWords
from jade_ladder.service.work.standing import StudentAtTask
from jade_ladder.service.work.tasks import Stage, TaskLine, TaskView
from jade_ladder.store.work.attempts import Dating
from jade_ladder.web.rubrics.library import CriterionHeadOut
from jade_ladder.web.shared.apart import apart
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Moment, Text, Whole, YesNo
from jade_ladder.web.shared.models import Made
from jade_ladder.web.shared.numbers import ShortNumber, WrittenNumber
from jade_ladder.web.work.task_files import TaskFileOut

router = router_of("tasks")


class TaskIn(BaseModel):
    """A task as typed; a due time without a zone is by the school's clock; `criteria` are the keys
    of those that it asks (null: all of the rubric's).
    """

    title: Text
    instructions: Text = ""
    kind: TaskKind
    rubric_id: Whole | None = None
    due_at: Moment | None = None
    points: WrittenNumber | None = None
    practice: YesNo = False
    closes_at: Moment | None = None
    rubric_shown: YesNo = True
    late_per_day: Whole = 0
    late_most: Whole = 100
    attempts_rule: AttemptsRule = AttemptsRule.LATEST
    category: Text = ""
    draft: YesNo = False
    set_at: Moment | None = None
    student_ids: list[Whole] | None = None
    starting_text: Text = ""
    criteria: list[Text] | None = None

    def words(self) -> TaskWords:
        """Give it as the service knows it."""
        return TaskWords(
            self.title,
            self.instructions,
            self.kind,
            self.rubric_id,
            self.due_at,
            self.points,
            self.practice,
            self.closes_at,
            self.rubric_shown,
            self.late_per_day,
            self.late_most,
            self.attempts_rule,
            self.category,
            self.draft,
            self.set_at,
            None if self.student_ids is None else tuple(self.student_ids),
            self.starting_text,
            None if self.criteria is None else tuple(self.criteria),
        )


class TaskChange(TaskIn):
    """A change, with the version it was based on."""

    version: Whole


class StudentAtTaskOut(BaseModel):
    """Where one student stands with a task: `attempt` is the number of the newest attempt, 1 where
    there is none yet; `waits` for the teacher, `left` criteria to mark, `finished` where a mark is
    (it may be open again); the work has so many `parts`; `done_at` is what the
    evidence is dated by, `dating` how that came about unless a teacher `corrected` it; `left_on`
    is the first day no longer in the class, of those who have left and are in no count;
    `absent_on` the last day on which they were absent when others were observed.
    """

    id: int
    name: str
    sort_name: str
    attempt: int
    state: DeskState
    waits: bool
    left: int
    finished: bool
    has_work: bool
    parts: int
    done_at: datetime | None
    dating: Dating | None
    corrected: bool
    late_minutes: int
    left_on: date | None
    own_due_at: datetime | None
    own_closes_at: datetime | None
    absent_on: date | None

    @classmethod
    def of(cls, student: StudentAtTask) -> StudentAtTaskOut:
        """Show where one stands."""
        row = student.row
        return cls(
            id=row.student_id,
            name=row.name,
            sort_name=row.sort_name,
            attempt=row.number or 1,
            state=student.state,
            waits=student.waits,
            left=student.left,
            finished=row.finished_version is not None,
            has_work=row.has_work,
            parts=row.parts,
            done_at=None if row.dating is Dating.UNDECIDED else row.done_at,
            dating=row.dating,
            corrected=row.corrected_at is not None,
            late_minutes=student.late_minutes,
            left_on=row.left_on,
            own_due_at=row.own_due_at,
            own_closes_at=row.own_closes_at,
            absent_on=row.absent_on,
        )


class TaskRubricOut(BaseModel):
    """The rubric of a task, its revision that the task is on, and the newest final one."""

    id: int
    title: str
    revision: int
    newest_revision: int


class TaskCounts(BaseModel):
    """A task with its counts and its rubric (null: its kind has none); `asking` are students who
    asked for another attempt and have no answer.
    """

    id: int
    class_id: int
    title: str
    kind: TaskKind
    due_at: datetime | None
    set_at: datetime | None
    category: str
    practice: bool
    rubric: TaskRubricOut | None
    students: int
    handed_in: int
    done: int
    to_mark: int
    missing: int
    excused: int
    asking: int


class TaskLineOut(TaskCounts):
    """A task with its counts and its stage, as it stands in a list."""

    stage: Stage

    @classmethod
    def of(cls, line: TaskLine) -> TaskLineOut:
        """Show a task's line."""
        return cls(**_counts(line), stage=line.stage)


class AskedCriterionOut(CriterionHeadOut):
    """A criterion of a task's rubric, and whether the task asks it."""

    asked: bool

    @classmethod
    def all_of(cls, view: TaskView) -> list[AskedCriterionOut]:
        """Show the criteria of a task's rubric."""
        return [
            cls(key=one.key, title=one.title, bonus=one.bonus, asked=one.key in view.asked)
            for one in view.criteria
        ]


class TaskOut(TaskCounts):
    """A task whole: `asked` are the instructions as HTML that is safe to show; `points` are those
    that count, `own_points` those set, if any. After `closes_at` nothing is handed in any more;
    students see the rubric beforehand where it is `rubric_shown`, and the task from `set_at` on
    (null: a draft). It is for all, or for those of `student_ids`. It asks
    `all_criteria` of its rubric, also those that come with a revision, or those that are `asked`.
    """

    instructions: str
    asked: str
    points: ShortNumber
    own_points: ShortNumber | None
    closes_at: datetime | None
    rubric_shown: bool
    total_shown: bool
    late_per_day: int
    late_most: int
    attempts_rule: AttemptsRule
    student_ids: list[int] | None
    starting_text: str
    criteria: list[AskedCriterionOut]
    all_criteria: bool
    files: list[TaskFileOut]
    version: int
    where: list[StudentAtTaskOut]

    @classmethod
    def of(cls, view: TaskView) -> TaskOut:
        """Show a task."""
        return cls(
            **_counts(view),
            instructions=view.row.instructions,
            asked=view.instructions,
            points=view.points,
            own_points=view.row.points,
            closes_at=view.row.closes_at,
            rubric_shown=view.row.rubric_shown,
            total_shown=view.row.total_shown,
            late_per_day=view.row.late_per_day,
            late_most=view.row.late_most,
            attempts_rule=view.row.attempts_rule,
            student_ids=None if view.row.for_all else list(view.chosen),
            starting_text=view.row.starting_text,
            criteria=AskedCriterionOut.all_of(view),
            all_criteria=view.row.asked is None,
            files=[TaskFileOut.of(one) for one in view.files],
            version=view.row.version,
            where=[StudentAtTaskOut.of(student) for student in view.students],
        )


def _counts(view: TaskLine) -> dict[str, object]:
    row, counts = view.row, view.counts
    return {
        "id": row.id,
        "class_id": row.class_id,
        "title": row.title,
        "kind": row.kind,
        "due_at": row.due_at,
        "set_at": row.set_at,
        "category": row.category,
        "practice": row.practice,
        "rubric": None
        if row.rubric_id is None
        else {
            "id": row.rubric_id,
            "title": row.rubric_title,
            "revision": row.revision,
            "newest_revision": row.newest,
        },
        "students": counts.total(),
        "handed_in": view.handed_in,
        "done": counts[DeskState.DONE],
        "to_mark": view.to_mark,
        "missing": counts[DeskState.MISSING],
        "excused": counts[DeskState.EXCUSED],
        "asking": view.asking,
    }


class OwnTimesIn(BaseModel):
    """Times of their own for these students; null: those of the task."""

    student_ids: list[Whole]
    due_at: Moment | None
    closes_at: Moment | None = None


@router.get("/classes/{class_id:int}/tasks")
def read_tasks(class_id: int, caller: AsTeacher) -> list[TaskLineOut]:
    """List a class's tasks by due time."""
    return [TaskLineOut.of(view) for view in service.class_tasks(caller, class_id)]


async def _render_apart(request: Request, body: TaskIn) -> None:
    """Render instructions before they are saved, where that may take a while."""
    if SHORT < len(body.instructions) <= LONGEST_INSTRUCTIONS:
        await apart(request, lambda: rendered(body.instructions))


@router.post("/classes/{class_id:int}/tasks", status_code=201)
async def make_task(class_id: int, body: TaskIn, request: Request, caller: AsTeacher) -> Made:
    """Set a task."""
    await _render_apart(request, body)
    return Made(id=await run_in_threadpool(service.make_task, caller, class_id, body.words()))


@router.get("/tasks/{task_id:int}")
def read_task(task_id: int, caller: AsTeacher) -> TaskOut:
    """Give one task and where everybody stands."""
    return TaskOut.of(service.get_task(caller, task_id))


@router.put("/tasks/{task_id:int}", status_code=204)
async def change_task(task_id: int, body: TaskChange, request: Request, caller: AsTeacher) -> None:
    """Change a task."""
    await _render_apart(request, body)
    await run_in_threadpool(service.change_task, caller, task_id, body.version, body.words())


class CopyIn(BaseModel):
    """The class that a task is copied into."""

    class_id: Whole


class CopiedTaskOut(BaseModel):
    """The copy, and the codes of outcomes of its rubric that the class does not teach."""

    id: int
    unmatched: list[str]


@router.post("/tasks/{task_id:int}/copy", status_code=201)
def copy_task(task_id: int, body: CopyIn, caller: AsTeacher) -> CopiedTaskOut:
    """Copy a task as a draft, into its class or another."""
    made = copying.copy_task(caller, task_id, body.class_id)
    return CopiedTaskOut(id=made.task_id, unmatched=list(made.unmatched))


@router.delete("/tasks/{task_id:int}", status_code=204)
def delete_task(task_id: int, caller: AsTeacher) -> None:
    """Delete a task that nobody has work or a mark on."""
    service.delete_task(caller, task_id)


@router.put("/tasks/{task_id:int}/own-times", status_code=204)
def set_own_times(task_id: int, body: OwnTimesIn, caller: AsTeacher) -> None:
    """Give students times of their own, or the task's again."""
    setting.set_own_times(caller, task_id, body.student_ids, body.due_at, body.closes_at)
