"""The marking pile: all that waits to be marked in a class."""

from __future__ import annotations

from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work.tasks import TaskLine, class_tasks


def pile(caller: Teacher, class_id: int) -> list[TaskLine]:
    """List the tasks of a class in which something waits to be marked, the oldest due first."""
    return [line for line in class_tasks(caller, class_id, waiting=True) if line.to_mark]
