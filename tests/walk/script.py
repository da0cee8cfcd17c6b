"""The calls of a walk, by which it can be walked again, and what was untrue at its end."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from datetime import datetime
from pathlib import Path
from typing import Any

from tests.walk.asking import Call, School, the_same_each_time
from tests.walk.school import START
from tests.walk.truths import TRUTHS
from tests.walk.trying import TRIED
from tests.walk.walking import HANDED_BACK, Walk

_ABOUT = ("at", "tried")
"""What stands in a line beside its call."""


def write_script(script: Sequence[dict[str, Any]], untrue: str) -> str:
    """Write a script: what is untrue after it, and a line for each call."""
    first = json.dumps({"untrue": untrue}, ensure_ascii=False)
    return "\n".join((first, *(json.dumps(line, ensure_ascii=False) for line in script))) + "\n"


def read_script(text: str) -> tuple[str, list[dict[str, Any]]]:
    """Read a script."""
    first, *lines = (json.loads(line) for line in text.splitlines() if line.strip())
    return first["untrue"], lines


def walk_again(
    template: Path, folder: Path, script: Sequence[dict[str, Any]], only: str = ""
) -> None:
    """Do the calls of a script, and hold all at its end, or only one truth; raises Untrue."""
    steps = only not in {*TRUTHS, *TRIED, HANDED_BACK}
    with the_same_each_time():
        school = School.copied(template, folder, START)
        walk = Walk(school)
        try:
            for line in script:
                school.now = datetime.fromisoformat(line["at"])
                if only in ("", HANDED_BACK):
                    walk.look_at_what_was_handed_back()
                call = Call.read({name: line[name] for name in line if name not in _ABOUT})
                if "tried" in line:
                    walk.try_(line["tried"], call)
                else:
                    walk.do(call, held=steps)
            if only in ("", HANDED_BACK):
                walk.look_at_what_was_handed_back()
            walk.check([name for name in TRUTHS if only in ("", name)])
        finally:
            school.close()


def shrunk(
    script: list[dict[str, Any]], fails: Callable[[Sequence[dict[str, Any]]], bool]
) -> list[dict[str, Any]]:
    """A script that fails the same way and has no call that could be left out."""
    size = max(1, len(script) // 2)
    while True:
        at = 0
        while at < len(script):
            fewer = script[:at] + script[at + size :]
            if fewer != script and fails(fewer):
                script = fewer
            else:
                at += size
        if size == 1:
            return script
        size = max(1, size // 2)
