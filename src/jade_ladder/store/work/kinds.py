"""Kinds of task as SQL asks for them: by what they are like, never by name."""

from __future__ import annotations

from jade_ladder.core.task_kinds import KINDS


def _of(trait: str, kind: str = "t.kind") -> str:
    names = [f"'{name}'" for name, like in KINDS.items() if getattr(like, trait)]
    return f"{kind} IN ({', '.join(names)})"


HANDS_IN = _of("hands_in")
"""Whether students hand task t in."""
WATCHED = _of("watched", "kind")
"""Whether a task is marked while it is done."""
ENTRIES = _of("entries")
"""Whether each attempt at task t is an entry of its own."""
