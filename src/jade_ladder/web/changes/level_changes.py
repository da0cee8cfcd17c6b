"""Whose level a change would move, as it is shown."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.core.trail import Direction
from jade_ladder.service.changes.what_if import Effects, LevelChange
from jade_ladder.web.mastery.models import MasteryOut


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


class ClassLevelChangesOut(BaseModel):
    """Whose level would change in one of one's classes."""

    class_id: int
    class_name: str
    changes: list[LevelChangeOut]

    @classmethod
    def all_of(cls, effects: Effects) -> list[ClassLevelChangesOut]:
        """Show what a change would do, class by class."""
        return [
            cls(
                class_id=klass.id,
                class_name=klass.name,
                changes=[LevelChangeOut.of(change) for change in changes],
            )
            for klass, changes in effects.classes
        ]


class MovesOut(BaseModel):
    """Whose mastery would move: in one's own classes, and how much in those of others."""

    classes: list[ClassLevelChangesOut]
    elsewhere: int

    @classmethod
    def of(cls, effects: Effects) -> MovesOut:
        """Show what moves; classes in which nothing does are left out."""
        return cls(
            classes=[one for one in ClassLevelChangesOut.all_of(effects) if one.changes],
            elsewhere=effects.elsewhere,
        )
