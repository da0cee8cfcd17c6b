"""What was noted in passing in the demo."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import timedelta

from jade_ladder.service.notes import notes
from jade_ladder.service.notes.notes import NoteWords
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.store.outcomes import outcomes as outcome_store

# So many school days from today; given names; the outcome’s code; the level from 1, and a half;
# words.
NOTES = (
    (-6, ("Chidi", "Bettina"), "W3", 2, True, "Judged the tide on the way to the slip, aloud."),
    (-4, ("Mirela",), "W1", 4, False, "Took a bearing on the beacon for two others, unasked."),
    (-2, ("Kaia",), "R2", 2, False, "Read the saddle as a summit, and saw it herself."),
)
LATER = "Read the saddle as a summit, and saw it herself; explained it to Tevita the day after."
SHOWN = "Mirela"


def noted_in_passing(
    at: Callable[[int], Teacher], class_id: int, people: Mapping[str, int]
) -> None:
    """Write a few notes, one of several students, one that was changed the day after, and one that
    its student sees; `at` gives the teacher so many school days from today, people are by given
    name.
    """
    caller = at(0)
    with caller.reading() as db:
        codes = {one.code: one.id for one in outcome_store.class_outcomes(db, class_id)}
    for number, (days, names, code, level, half_way, words) in enumerate(NOTES):
        then = at(days)
        said = NoteWords(level - 1, half_way, words, then.now - timedelta(minutes=40))
        whom = [people[name] for name in names]
        rows = notes.write_notes(then, class_id, f"in-passing-{number}", whom, codes[code], said)
        if SHOWN in names:
            notes.show_note(then, rows[0].id, True)
        if number == len(NOTES) - 1:
            changed = NoteWords(level - 1, True, LATER, None)
            notes.change_note(at(days + 1), rows[0].id, changed, 1)
