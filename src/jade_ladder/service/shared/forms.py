"""What every form is checked for, and all of its errors at once."""

from __future__ import annotations

import re
from collections.abc import Callable

from jade_ladder.core.errors import Problem, Refused, RefusedMany, Stale

_KEY = re.compile(r"[A-Za-z0-9._-]{8,64}", re.ASCII)


def check_version(based_on: int, current: int, what: str) -> None:
    """Raise Stale when somebody saved after the version a change was based on."""
    if based_on != current:
        raise Stale(
            f"{what} was changed in the meantime, perhaps in another tab. Nothing of yours was "
            "saved over it; look at what is there now.",
            current,
        )


def needed(text: str, field: str, what: str, longest: int = 200) -> str:
    """Give a text trimmed; refuse an empty or overlong one, naming the field."""
    trimmed = text.strip()
    if not trimmed:
        raise Refused(f"{what} is needed", field)
    if len(trimmed) > longest:
        raise Refused(f"{what} has more than {longest} characters", field)
    return trimmed


def check_key(key: str) -> None:
    """Refuse what is no key, by which a client makes that what it sends twice is one."""
    if not _KEY.fullmatch(key):
        raise Refused("A key is 8 to 64 letters, digits, dots, - or _", "key")


def check_order(given: list[int], known: set[int]) -> None:
    """Refuse an order that does not name each once."""
    if len(given) != len(set(given)) or set(given) != known:
        raise Refused("The order must name each once; reload to see what was added", "order")


def collect_errors(*checks: Callable[[], object]) -> None:
    """Run the checks of a form; when several refuse, raise RefusedMany with all of their fields."""
    problems = []
    for check in checks:
        try:
            check()
        except RefusedMany as error:
            problems += error.problems
        except Refused as error:
            problems.append(Problem(error.field, error.message))
    if problems:
        raise RefusedMany(problems[0].message, problems)
