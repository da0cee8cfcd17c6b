"""What the sample class says: students, outcomes, a rubric, tasks, work and marks. All made up."""

from __future__ import annotations

from dataclasses import dataclass

NAME = "Lantern Room (sample)"

STUDENTS: tuple[tuple[str, str], ...] = (
    ("Ama", "Birk"),
    ("Jonas", "Ceder"),
    ("Lupe", "Dorn"),
    ("Mika", "Eide"),
    ("Rafa", "Fenn"),
    ("Sunniva", "Grey"),
    ("Taro", "Hollis"),
    ("Yara", "Innes"),
)
"""Given and family name."""

OUTCOMES: dict[str, tuple[tuple[str, str, str], ...]] = {
    "Sample: finding the way": (
        ("L1", "I can plan a way from landmarks", "Each leg begins and ends at something seen."),
        ("L2", "I can estimate how long a way takes", "By distance, slope and ground."),
    ),
    "Sample: telling the way": (
        ("L3", "I can tell a way so that a stranger finds it", "In words, in order, complete."),
    ),
}
"""Strands, and in each: code, title, description."""


@dataclass(frozen=True, slots=True)
class SampleCriterion:
    """A criterion: its outcome, and what each level looks like, from the lowest."""

    title: str
    outcome: str
    descriptors: tuple[str, str, str, str]


RUBRIC = "Way card (sample)"
LEVELS = ("Starting out", "Under way", "There", "Further on")
CRITERIA = (
    SampleCriterion(
        "Chooses landmarks",
        "L1",
        (
            "Names places, but not what is seen from the way",
            "Some legs begin or end at a landmark",
            "Each leg begins and ends at a landmark",
            "Landmarks hold in fog and at dusk, too",
        ),
    ),
    SampleCriterion(
        "Estimates the time",
        "L2",
        (
            "One time for the whole way, by guessing",
            "A time for each leg, by distance alone",
            "A time for each leg, by distance and slope",
            "Says how far each time can be off, and why",
        ),
    ),
    SampleCriterion(
        "Tells the way",
        "L3",
        (
            "A stranger would ask at the first turn",
            "A stranger would get half the way",
            "A stranger would arrive",
            "A stranger would arrive, and notice a wrong turn early",
        ),
    ),
)


@dataclass(frozen=True, slots=True)
class SampleTask:
    """A task, due so many days from today; for each student the level of each criterion (from 1),
    nothing where it is not marked yet, and None where nothing was handed in.
    """

    title: str
    instructions: str
    due: int
    levels: tuple[tuple[int, ...] | None, ...]


TASKS = (
    SampleTask(
        "From the school to the harbour",
        "Write a way card of four legs, for somebody who has never been here.",
        -28,
        ((2, 2, 3), (1, 2, 2), (3, 3, 3), (2, 1, 2), (2, 2, 2), (3, 2, 3), (1, 1, 2), None),
    ),
    SampleTask(
        "Round the headland",
        "Write a way card of five legs. Give a time for each.",
        -7,
        ((3, 3, 3), (2, 2, 3), (4, 3, 4), (3, 2, 3), (), (), None, ()),
    ),
    SampleTask(
        "To the lighthouse and back",
        "Write a way card there, and another one for the way back.",
        10,
        (),
    ),
)

WORK = (
    "1. From the gate to the tall pine, 400 m, 6 minutes.\n"
    "2. From the pine down to the boathouse, 700 m, 9 minutes.\n"
    "3. Along the wall to the crane, 300 m, 4 minutes.\n"
    "4. From the crane to the last bollard, 150 m, 2 minutes."
)
REMARKS = {
    1: "Begin with what can be seen from where one stands.",
    2: "Half of it holds. Look at the leg you would lose your way on.",
    3: "This works. Try it on somebody who has not been there.",
    4: "I would walk by this card at night.",
}
"""What is said of the first criterion, by its level."""
