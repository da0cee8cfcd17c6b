"""What is tried on a copy, since it needs a look before and after."""

from collections.abc import Callable
from typing import NamedTuple

from tests.walk.asking import Call, School
from tests.walk.trying.imagined import (
    NotSo,
    some_attempt_imagined,
    some_trail,
    try_another_attempt,
    try_next_piece,
)
from tests.walk.trying.needs import some_further_attempt, try_needs
from tests.walk.trying.previews import PREVIEWS, something_previewed, try_preview
from tests.walk.trying.undo import UNDO, something_undone, try_undo
from tests.walk.ways import NothingThere, Walker


class Trial(NamedTuple):
    """Something that is tried: the truth it is about, how a call is drawn for it, and how that is
    tried: it gives what came otherwise, or nothing.
    """

    truth: str
    drawn: Callable[[Walker], Call]
    tried: Callable[[School, Call], str]


_REACHES = "what_would_reach_mastery_does"
TRIALS = {
    "undo": Trial("undo_leaves_all_as_before", something_undone, try_undo),
    "preview": Trial("a_preview_says_what_happens", something_previewed, try_preview),
    "next piece": Trial(_REACHES, some_trail, try_next_piece),
    "another attempt": Trial(_REACHES, some_attempt_imagined, try_another_attempt),
    "needs": Trial(_REACHES, some_further_attempt, try_needs),
}
"""What is tried, by its name in a script."""
TRIED = tuple(sorted({trial.truth for trial in TRIALS.values()}))
"""The truths that are held here."""


def tried(school: School, name: str, call: Call) -> str:
    """Try something with a call. Gives what is untrue, or nothing."""
    trial = TRIALS[name]
    try:
        found = trial.tried(school, call)
    except NothingThere:
        return ""
    except NotSo as error:
        found = str(error)
    return f"{trial.truth}: {found}" if found else ""


__all__ = ["PREVIEWS", "TRIALS", "TRIED", "UNDO", "tried"]
