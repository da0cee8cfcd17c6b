"""The words of what is handed out and goes out."""

from __future__ import annotations

from jade_ladder.core.marking import DeskState
from jade_ladder.core.names import level_words
from jade_ladder.core.result_word import ResultWord
from jade_ladder.service.marking.choices import Choice
from jade_ladder.store.rubrics.criteria import StoredCriterion

STATES = {
    DeskState.WAITING: "to mark",
    DeskState.STARTED: "begun",
    DeskState.CHANGED: "to finish again",
    DeskState.DONE: "marked",
    DeskState.MISSING: "missing",
    DeskState.NOT_YET: "not yet",
    DeskState.EXCUSED: "excused",
    DeskState.ABSENT: "absent",
}
"""Where a student stands with a task."""


def chosen_level(stored: StoredCriterion, choice: Choice | None) -> str:
    """Say what was chosen on a criterion."""
    if choice is None:
        return ""
    if choice.not_assessed:
        return "not assessed"
    if choice.level_id is None:
        return ""
    name = stored.criterion.levels[stored.level_ids.index(choice.level_id)].name
    return level_words(name, choice.half_way)


def result_word(word: ResultWord | None) -> str:
    """Say a task's result in a word; None: nothing is said."""
    return "" if word is None else f"{word.text[0].upper()}{word.text[1:]}"
