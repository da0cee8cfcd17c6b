"""What was done again in the demo, and what does not count."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import timedelta

from jade_ladder.service.marking import again, desk, handing_back, saving
from jade_ladder.service.marking.choices import NOTHING, Choice
from jade_ladder.service.mastery.setting_aside import set_evidence_aside
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts

WHAT_TO_DO = "Name both maps, with their years, and say what speaks against it."
DOUBT = (
    "Against this speaks that the older sheet was drawn after a storm, when the beach had moved; "
    "but the church is in the same place on both."
)
SOURCES = "Sources: Gull Head sheets, 1931 and 2019."
NOT_COUNTED = "Walked with a compass that sticks; it is being mended."


def attempt_again(opening: Teacher, marking: Teacher, task_id: int, student_id: int) -> None:
    """Open another attempt, and mark what was not met a level higher, in the work that came."""
    again.open_attempts(opening, task_id, [student_id], WHAT_TO_DO)
    work = desk.work_at_desk(marking, task_id, student_id)
    title, *middle, _ = work.parts[0].text.split("\n\n")
    text = "\n\n".join([f"{title}, once more", *middle, DOUBT, SOURCES])
    handed_in = marking.now - timedelta(days=1)
    attempts.enter_work(marking, task_id, student_id, text, done_at=handed_in)
    second = desk.work_at_desk(marking, task_id, student_id, 2).mark
    for stored in desk.desk(marking, task_id).criteria:
        if stored.id in second.choices:
            continue
        was = work.mark.choices.get(stored.id, NOTHING)
        at = 0 if was.level_id is None else stored.level_ids.index(was.level_id) + 1
        level = stored.level_ids[min(at, len(stored.level_ids) - 1)]
        saving.choose(marking, task_id, student_id, stored.id, Choice(level), 10_000, 2)
    saving.finish(marking, task_id, student_id, 2)
    handing_back.hand_back(marking, task_id, [student_id], True)


def done_again(
    at: Callable[[int], Teacher], tasks: Mapping[str, int], people: Mapping[str, int]
) -> None:
    """Let two students do a task again, and set a piece aside; `at` gives the teacher so many
    school days from today, tasks are by title and people by given name.
    """
    quay = tasks["Where is the old quay?"]
    for name in ("Amaru", "Anahit"):
        attempt_again(at(-34), at(-29), quay, people[name])
    set_evidence_aside(at(-43), tasks["Bearing walk 1"], [people["Odhrán"]], NOT_COUNTED)
