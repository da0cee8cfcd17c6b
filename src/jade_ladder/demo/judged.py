"""What the teacher of the demo judged, and a method that was chosen in the middle of the term."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.service.mastery.judgements import Judged, judge
from jade_ladder.service.outcomes import methods
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.store.outcomes import outcomes as outcome_store

# So many school days from today; given name; the outcome's code; the level from 1; why.
JUDGEMENTS = (
    (
        -18,
        "Noor",
        "R3",
        3,
        "Read three new sheets aloud without a slip; the task was hurried.",
    ),
    (-4, "Tevita", "M1", 3, "Drew the yard again at the table, to scale, while I watched."),
    (-2, "Ilir", "A1", 2, "Argued for the inner channel in conversation; nothing written yet."),
)
LATEST_FROM = -17
LATEST = "A2"


def judged_by_the_teacher(
    at: Callable[[int], Teacher], class_id: int, people: Mapping[str, int]
) -> None:
    """Judge a few levels, one of which newer evidence came for, and work one outcome out by its
    latest evidence from a day on; `at` gives the teacher so many school days from today.
    """
    caller = at(LATEST_FROM)
    with caller.reading() as db:
        codes = {one.code: one.id for one in outcome_store.class_outcomes(db, class_id)}
        day = today(db, caller)
    latest = Method(MethodKind.LATEST)
    methods.change_outcome_method(caller, class_id, codes[LATEST], latest, 1, day)
    for days, name, code, level, why in JUDGEMENTS:
        judge(at(days), class_id, [Judged(people[name], codes[code], level - 1)], why)
