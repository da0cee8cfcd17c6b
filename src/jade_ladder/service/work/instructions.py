"""Instructions of a task, which are Markdown, as HTML: made when they are saved."""

from __future__ import annotations

import sqlite3
from functools import lru_cache

from jade_ladder.core.errors import Refused
from jade_ladder.formats.markdown import to_html
from jade_ladder.outside.conversion import render_markdown
from jade_ladder.store.work import tasks as store

SHORT = 2_000
"""Characters that are rendered in milliseconds, whatever they are."""


@lru_cache(maxsize=256)
def rendered(text: str) -> str:
    """Give instructions as HTML that is safe to show: long ones from a process of its own, since
    some texts take far longer than others. Raises Refused for what takes too long.
    """
    text = text.strip()
    if len(text) <= SHORT:
        return to_html(text)
    try:
        return render_markdown(text)
    except Refused:
        message = "These instructions cannot be shown: use fewer brackets and signs of emphasis"
        raise Refused(message, "instructions") from None


def shown_instructions(db: sqlite3.Connection, task_id: int, text: str) -> str:
    """Give the instructions of a task as they were kept. Part of a reading."""
    kept = store.kept_instructions(db, task_id)
    return rendered(text) if kept is None else kept
