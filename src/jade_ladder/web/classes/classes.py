"""Classes and their method."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel

from jade_ladder.core.mastery import Direction, Mastery, State
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.service.changes.what_if import LevelChange
from jade_ladder.service.classes import classes as service
from jade_ladder.service.marking import desk as marking
from jade_ladder.service.outcomes import methods
from jade_ladder.store.classes.classes import ClassRow
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsTeacher
from jade_ladder.web.shared.fields import Day, Text, Whole
from jade_ladder.web.shared.heavy import heavy
from jade_ladder.web.shared.numbers import Value

router = router_of("classes", "/classes")


class MethodIn(BaseModel):
    """A method with its settings: newest in whole per cent, last in pieces."""

    kind: MethodKind
    newest: Whole = 60
    last: Whole = 3

    def method(self) -> Method:
        """Give it as the core knows it."""
        return Method(self.kind, self.newest, self.last)


class MethodOut(BaseModel):
    """A method with its settings and in words."""

    kind: MethodKind
    newest: int
    last: int
    name: str

    @classmethod
    def of(cls, method: Method) -> MethodOut:
        """Show a method."""
        return cls(kind=method.kind, newest=method.newest, last=method.last, name=method.name)


class ClassIn(BaseModel):
    """What a teacher says of a class."""

    name: Text
    first_day: Day
    last_day: Day


class ClassChange(ClassIn):
    """A change, with the version it was based on."""

    version: Whole


class ClassOut(BaseModel):
    """A class; `to_mark` is how much waits for the teacher, `students` who is in it now."""

    id: int
    name: str
    first_day: date
    last_day: date
    scale_id: int
    method: MethodOut
    version: int
    students: int
    to_mark: int


class Made(BaseModel):
    """The number of what was made."""

    id: int


class MethodChange(BaseModel):
    """A new method for the class, with the version of the class it was based on."""

    method: MethodIn
    version: Whole


class MasteryOut(BaseModel):
    """Value, level (0 is the lowest) and state of one student and outcome."""

    state: State
    value: Value | None
    level: int | None
    pieces: int

    @classmethod
    def of(cls, mastery: Mastery) -> MasteryOut:
        """Show a mastery."""
        return cls(
            state=mastery.state,
            value=mastery.value,
            level=mastery.level,
            pieces=mastery.pieces,
        )


class LevelChangeOut(BaseModel):
    """A student whose level would change, in a class."""

    class_id: int
    class_name: str
    student: str
    code: str
    before_scale_id: int
    after_scale_id: int
    before: MasteryOut
    after: MasteryOut
    direction: Direction

    @classmethod
    def of(cls, change: LevelChange) -> LevelChangeOut:
        """Show a change."""
        return cls(
            class_id=change.klass.id,
            class_name=change.klass.name,
            student=change.student.name,
            code=change.outcome.code,
            before_scale_id=change.before_scale.id,
            after_scale_id=change.after_scale.id,
            before=MasteryOut.of(change.before),
            after=MasteryOut.of(change.after),
            direction=change.direction,
        )


class HardCutOut(BaseModel):
    """What mastery cut at the value means under an averaging method."""

    scale_id: int
    scale: str
    below: str
    level: str
    pieces: int | None


class MethodPreviewOut(BaseModel):
    """What a method would change."""

    changes: list[LevelChangeOut]
    hard_cuts: list[HardCutOut]

    @classmethod
    def of(cls, preview: methods.MethodPreview) -> MethodPreviewOut:
        """Show a preview."""
        return cls(
            changes=[LevelChangeOut.of(change) for change in preview.changes],
            hard_cuts=[
                HardCutOut(
                    scale_id=cut.scale_id,
                    scale=cut.scale_name,
                    below=cut.below,
                    level=cut.level,
                    pieces=cut.pieces,
                )
                for cut in preview.hard_cuts
            ],
        )


def _out(caller: AsTeacher, row: ClassRow) -> ClassOut:
    return ClassOut(
        id=row.id,
        name=row.name,
        first_day=row.first_day,
        last_day=row.last_day,
        scale_id=row.scale_id,
        method=MethodOut.of(Method(row.method, row.newest, row.last)),
        version=row.version,
        students=sum(s.until is None for s in service.students(caller, row.id)),
        to_mark=sum(view.to_mark for view in marking.pile(caller, row.id)),
    )


@router.get("")
def read_classes(caller: AsTeacher) -> list[ClassOut]:
    """List the classes one teaches."""
    return [_out(caller, row) for row in service.my_classes(caller)]


@router.post("", status_code=201)
def make_class(body: ClassIn, caller: AsTeacher) -> Made:
    """Make a class."""
    return Made(id=service.make_class(caller, body.name, body.first_day, body.last_day))


@router.get("/{class_id:int}")
def read_class(class_id: int, caller: AsTeacher) -> ClassOut:
    """Give one class."""
    return _out(caller, service.get_class(caller, class_id))


@router.patch("/{class_id:int}")
def change_class(class_id: int, body: ClassChange, caller: AsTeacher) -> ClassOut:
    """Change a class's name and days."""
    service.change_class(caller, class_id, body.version, body.name, body.first_day, body.last_day)
    return read_class(class_id, caller)


@router.put("/{class_id:int}/method")
def change_class_method(class_id: int, body: MethodChange, caller: AsTeacher) -> ClassOut:
    """Change how the class's mastery is worked out; no evidence is touched."""
    methods.change_class_method(caller, class_id, body.version, body.method.method())
    return read_class(class_id, caller)


@router.post("/{class_id:int}/method/preview")
@heavy
def preview_class_method(class_id: int, body: MethodIn, caller: AsTeacher) -> MethodPreviewOut:
    """Say whose level a method would change; nothing is changed."""
    return MethodPreviewOut.of(methods.preview_class_method(caller, class_id, body.method()))
