"""The kinds of task, and what each is like, in one table that every floor reads: the store makes
its conditions of it (`store/work/kinds.py`), and the front end has it as a file (`make types`).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class TaskKind(StrEnum):
    """How the work reaches the teacher: handed in; observed in the room; or, as other evidence,
    entered by the teacher as what was seen, several entries for a student.
    """

    HANDED_IN = "handed-in"
    OBSERVED = "observed"
    OTHER_EVIDENCE = "other-evidence"

    @property
    def hands_in(self) -> bool:
        """Whether students hand it in, so that it can be late and is dated by that."""
        return KINDS[self].hands_in

    @property
    def collects(self) -> bool:
        """Whether there is work to look at: what is handed in, or what the teacher enters."""
        return KINDS[self].collects

    @property
    def watched(self) -> bool:
        """Whether it is marked while it is done: once it is due it waits, but of who is absent."""
        return KINDS[self].watched

    @property
    def entries(self) -> bool:
        """Whether each attempt is an entry of its own, of which every one counts: nobody owes one,
        several can be open, and none is opened after another.
        """
        return KINDS[self].entries

    @property
    def rubric(self) -> bool:
        """Whether it has a rubric to mark by; without one, work that is there is done."""
        return KINDS[self].rubric


@dataclass(frozen=True, slots=True)
class KindOfTask:
    """What a kind of task is like; its fields are told of in `TaskKind`."""

    hands_in: bool = False
    collects: bool = False
    watched: bool = False
    entries: bool = False
    rubric: bool = True


KINDS = {
    TaskKind.HANDED_IN: KindOfTask(hands_in=True, collects=True),
    TaskKind.OBSERVED: KindOfTask(watched=True),
    TaskKind.OTHER_EVIDENCE: KindOfTask(collects=True, entries=True),
}
