"""What the demo says: names, outcomes, rubrics, tasks, work and remarks. All made up."""

from __future__ import annotations

import random
from dataclasses import dataclass

COURSES: dict[str, tuple[float, float]] = {
    "climbs": (1.3, 3.7),
    "strong": (3.0, 4.0),
    "steady": (2.5, 3.1),
    "stalls": (1.9, 2.2),
    "slips": (3.5, 2.1),
    "absent": (2.2, 2.7),
}
"""How a student's skill goes over the term, in levels: from, to."""

SIGNING_IN = {"Farida": "farida", "Hana": "hana", "Dafne": "dafne"}
"""Students who have a password and whom the demo lets in, with their names to sign in with."""

FILES = "Route card for Gull Head"
"""The task to which some hand in files."""
AGAIN = "Which path floods first?"
"""The task at which one of them may try again."""

STUDENTS: tuple[tuple[str, str, str], ...] = (
    ("Leif", "Aasen", "slips"),
    ("Juno", "Abara", "stalls"),
    ("Mirela", "Cosma", "climbs"),
    ("Ilir", "Dema", "absent"),
    ("Ximena", "Etxarri", "steady"),
    ("Tomasz", "Figura", "steady"),
    ("Noor", "Haddad", "absent"),
    ("Aino", "Ilvesmäki", "strong"),
    ("Rūta", "Jankauskė", "climbs"),
    ("Bettina", "Lund", "slips"),
    ("Tevita", "Manukia", "steady"),
    ("Kaia", "Mwangi", "steady"),
    ("Farida", "Nasser", "climbs"),
    ("Chidi", "Okafor", "strong"),
    ("Goran", "Petrov", "stalls"),
    ("Thị Mai", "Phan", "strong"),
    ("Amaru", "Quispe", "climbs"),
    ("Dafne", "Rossi", "stalls"),
    ("Hana", "Sato", "steady"),
    ("Eirik", "Solheim", "climbs"),
    ("Anahit", "Terteryan", "steady"),
    ("Odhrán", "Uasal", "stalls"),
    ("Wairimu", "Wekesa", "climbs"),
    ("Dilnoza", "Xolmatova", "strong"),
    ("Emre", "Yıldırım", "steady"),
    ("Zofia", "Żuraw-Brzozowska", "slips"),
)
"""Given name, family name, and the course they take."""

OUTCOMES: dict[str, tuple[tuple[str, str, str], ...]] = {
    "Reading maps": (
        ("R1", "I can read relief from contours", "Slope, form and height from contour lines."),
        ("R2", "I can use scale and measure distance", "Along straight and winding lines."),
        ("R3", "I can give and find a grid position", "To a hundred metres and closer."),
    ),
    "Finding the way": (
        ("W1", "I can plot and follow a bearing", "On paper and on the ground."),
        ("W2", "I can correct for variation", "Between grid, true and magnetic north."),
        ("W3", "I can plan a safe route", "With timing and a way out for each leg."),
    ),
    "Making maps": (
        ("M1", "I can draw a clear map", "Symbols, lettering, a legend that is needed."),
        ("M2", "I can survey to a stated accuracy", "By pacing, tape and compass."),
        ("M3", "I can choose what to leave out", "For a reader and a purpose."),
    ),
    "Arguing": (
        ("A1", "I can support a claim with what is on the map", ""),
        ("A2", "I can credit my sources", "Sheets, tables, people asked."),
    ),
}


@dataclass(frozen=True, slots=True)
class DemoCriterion:
    """A criterion's words: levels as name, points, descriptor, from the lowest."""

    title: str
    codes: tuple[str, ...]
    levels: tuple[tuple[str, int, str], ...]
    weight: int | None = None
    yes_no: bool = False
    bonus: bool = False
    half_way: bool = False


_NAMES = ("Setting out", "On the way", "Arrived", "Beyond")


def _four(*descriptors: str) -> tuple[tuple[str, int, str], ...]:
    return tuple(
        (name, points, text)
        for points, (name, text) in enumerate(zip(_NAMES, descriptors, strict=True), start=1)
    )


def _yes_no(no: str, yes: str) -> tuple[tuple[str, int, str], ...]:
    return ("No", 0, no), ("Yes", 1, yes)


_CREDITS = DemoCriterion(
    "Credits sources",
    ("A2",),
    _four(
        "Maps and tables are used without a word of where they come from",
        "Some sources are named, so that a reader finds one of them",
        "Every map and table is credited, so that a reader finds each",
        "Credits each source and says how far it can be trusted",
    ),
    weight=15,
)

SCALE = DemoCriterion(
    "Keeps to scale",
    ("R2", "M2"),
    _four(
        "Distances are by eye",
        "A scale is given; some distances are far off",
        "Distances hold to the accuracy that is stated",
        "States the accuracy and shows how it was checked",
    ),
)

SCALE_REVISED = DemoCriterion(
    "Keeps to the scale that it states",
    ("R2",),
    (
        ("Setting out", 0, "Distances are by eye"),
        ("On the way", 2, "A scale is given; some distances are far off"),
        ("Arrived", 3, "Distances hold to the accuracy that is stated"),
        ("Beyond", 4, "States the accuracy and shows how it was checked"),
    ),
)

TAGS = {
    "route": ("route finding", "written"),
    "map": ("map making", "written"),
    "walk": ("route finding", "outdoors"),
    "argument": ("argument", "written"),
    "tide": (),
}

RUBRICS: dict[str, tuple[str, tuple[DemoCriterion, ...]]] = {
    "route": (
        "Route card",
        (
            DemoCriterion(
                "Reads the ground from contours",
                ("R1",),
                _four(
                    "Names high and low ground",
                    "Finds slopes; how steep is guessed",
                    "Reads steepness and form from the spacing",
                    "Foresees what the ground will hide from view",
                ),
                weight=25,
                half_way=True,
            ),
            DemoCriterion(
                "Plots each leg on a bearing",
                ("W1", "W2"),
                _four(
                    "Directions are told in words only",
                    "Legs are plotted; the correction is missing or reversed",
                    "Every leg is plotted and corrected for variation",
                    "Bearings agree from both ends and the error is estimated",
                ),
                weight=35,
                half_way=True,
            ),
            DemoCriterion(
                "Plans for trouble",
                ("W3",),
                (
                    ("Nothing planned", 0, "No way out is named"),
                    ("One way out", 2, "One way out for the whole walk"),
                    ("A way out for each leg", 5, "A way out for each leg, with a reason"),
                ),
                weight=25,
            ),
            _CREDITS,
        ),
    ),
    "map": (
        "Map of a place",
        (
            DemoCriterion(
                "Draws so that a stranger can read it",
                ("M1",),
                _four(
                    "Shapes are there; what they mean has to be asked",
                    "Most symbols can be told apart; lettering collides",
                    "Symbols, lettering and legend serve the reader",
                    "Every line earns its place; it reads at arm's length",
                ),
                half_way=True,
            ),
            SCALE,
            DemoCriterion(
                "Leaves out what does not serve",
                ("M3",),
                _four(
                    "Everything seen is drawn",
                    "Some clutter is gone",
                    "What is shown fits reader and purpose",
                    "Gives a reason for what was left out",
                ),
            ),
            DemoCriterion(
                "Has north, scale and date",
                (),
                _yes_no("One of the three is missing", "All three are there"),
                yes_no=True,
            ),
            DemoCriterion(
                "Drawn by lamplight",
                (),
                (("Not tried", 0, "By day"), ("Tried", 1, "Holds together in the dark")),
                bonus=True,
            ),
        ),
    ),
    "walk": (
        "Bearing walk",
        (
            DemoCriterion(
                "Follows a bearing on the ground",
                ("W1",),
                _four(
                    "Sets off in the right half of the compass",
                    "Holds the line until something is in the way",
                    "Arrives within ten metres of the mark",
                    "Arrives, and corrects drift on the way",
                ),
                half_way=True,
            ),
            DemoCriterion(
                "Corrects for variation",
                ("W2",),
                _yes_no("Not corrected, or the wrong way round", "Corrected the right way"),
                yes_no=True,
            ),
            DemoCriterion(
                "Gives the position at the mark",
                ("R3",),
                _four(
                    "Names the field or bay",
                    "Gives the square",
                    "Gives the position to a hundred metres",
                    "Gives it to ten metres and says how sure",
                ),
            ),
        ),
    ),
    "argument": (
        "Argument from a map",
        (
            DemoCriterion(
                "Supports the claim",
                ("A1",),
                _four(
                    "A claim stands alone",
                    "The map is mentioned beside the claim",
                    "Each claim rests on something a reader can find on the map",
                    "Weighs what speaks against the claim too",
                ),
                weight=55,
                half_way=True,
            ),
            DemoCriterion(
                "Reads the map rightly",
                ("R1", "R3"),
                _four(
                    "Reads names only",
                    "Reads some signs rightly",
                    "Reads relief and position rightly throughout",
                    "Reads what the map implies but does not draw",
                ),
                weight=30,
            ),
            _CREDITS,
        ),
    ),
    "tide": (
        "Tide table check",
        (
            DemoCriterion(
                "Measures the crossing",
                ("R2",),
                _four(
                    "Guesses the distance",
                    "Measures it as the gull flies",
                    "Measures it along the line that is walked",
                    "Measures it and says how far off it may be",
                ),
                weight=60,
            ),
            DemoCriterion("Times the crossing", ("W3",), _four("", "", "", "")),
        ),
    ),
}


@dataclass(frozen=True, slots=True)
class DemoTask:
    """A task: `due` in school days from today, `marked` the share of the class that is marked."""

    title: str
    rubric: str
    due: int
    instructions: str
    observed: bool = False
    marked: float = 1.0
    practice: bool = False


TASKS: tuple[DemoTask, ...] = (
    DemoTask("Map of the schoolyard", "map", -55, "Draw the yard for someone who comes new."),
    DemoTask("Bearing walk 1", "walk", -47, "From the flagpole to three marks.", observed=True),
    DemoTask("Where is the old quay?", "argument", -40, "Say where it stood, from two maps."),
    DemoTask("Harbour passage plan", "route", -32, "Plan the walk round the harbour at ebb."),
    DemoTask("Survey of the boat field", "map", -24, "Pace, tape and compass; state accuracy."),
    DemoTask("Bearing walk 2", "walk", -16, "As before, in mist if we get any.", observed=True),
    DemoTask("Which path floods first?", "argument", -10, "Argue from contours and the tides."),
    DemoTask(
        "Route card for Gull Head",
        "route",
        -3,
        "Plan a walk from the slipway to the light. Plot each leg on a bearing, corrected for "
        "variation; name a way out for each leg; say which maps and tables you used.",
        marked=0.5,
    ),
    DemoTask("Map for a visitor", "map", 6, "One page, for someone who stays an afternoon."),
)

_OPENINGS = (
    "Leg one leaves the slipway on a bearing of 042° grid, corrected to 044° magnetic because the "
    "sheet gives two degrees of west variation this year.",
    "I start at the slipway, grid position 318 774, and keep the wall on my left as far as the "
    "stile.",
    "From the slipway I go north-east along the shore until the stream comes in.",
    "We begin at the slipway. The light can be seen from there, but not the ground between.",
)
_BODIES = {
    "route": (
        "Leg two crosses the saddle where the contours are close together, so it is steep and I "
        "planned forty minutes for 1.2 km: four kilometres an hour, and one minute more for every "
        "ten metres climbed.",
        "The saddle is between the two closed rings. The lines are far apart on the near side and "
        "crowd on the far side, so going down will be slower than going up.",
        "If fog comes down before the saddle we turn back along the wall, which leads all the way "
        "to the road. After the saddle it is safer to carry on to the light.",
        "I checked the bearing backwards from the light and got 224°, so the leg agrees from both "
        "ends to within two degrees.",
    ),
    "argument": (
        "On the older sheet the shore runs inside the net sheds; on the newer one it runs outside. "
        "So the quay must have stood where the sheds stand now.",
        "The lower path never rises above the five-metre line. The upper one looks closer to the "
        "burn, but the contours show a bank between them.",
        "Against this speaks that the older sheet was drawn after a storm, when the beach had "
        "moved. Even so the church is in the same place on both.",
    ),
    "map": (
        "My legend has six symbols. I left out the bins and the bicycle stand because a visitor "
        "does not look for them.",
        "Scale 1 to 500. I paced each side twice: 62 and 64 paces, so I trust it to about two "
        "metres.",
        "North is by compass, corrected. The pump is drawn larger than it is, since everybody "
        "meets there.",
    ),
}
_CLOSINGS = (
    "Sources: Gull Head sheet, 2019 edition; tide table for Tern Island.",
    "I used the Gull Head sheet and asked Mr. Olander at the harbour.",
    "Source: the map on the wall.",
    "",
)


def work_text(luck: random.Random, task: DemoTask, given: str, skill: float) -> str:
    """Write what a student handed in: the higher the skill, the more of it."""
    bodies = list(_BODIES[task.rubric])
    luck.shuffle(bodies)
    parts = [f"{task.title}, by {given}"]
    if task.rubric == "route":
        parts.append(luck.choice(_OPENINGS))
    parts += bodies[: max(1, min(len(bodies), round(skill)))]
    parts.append(_CLOSINGS[max(0, min(3, 3 - round(skill - 0.6)))])
    return "\n\n".join(part for part in parts if part)


_LOW = (
    "Come and see me with the sheet; we do the first one together.",
    "A start. Say it so that a reader could check it on the map.",
    "I cannot follow this without asking you. What is missing?",
)
_MIDDLE = (
    "Nearly there: check the direction of the correction.",
    "Right in most places. One example more would carry it.",
    "Good, and it holds. Next: say how far off you could be.",
)
_HIGH = (
    "From both ends, well done.",
    "Clear enough to walk by.",
    "I would hand this to a stranger.",
)
ON_THE_WHOLE = (
    "Steady work. Keep the two norths apart and the rest follows.",
    "You plan for others as well as for yourself; that shows.",
    "Shorter next time, and each leg on its own line.",
    "More sure-footed than last time.",
)


def remark(luck: random.Random, share: float) -> str:
    """Write a remark that fits how high the level is (0 the lowest, 1 the highest)."""
    if share < 0.4:
        return luck.choice(_LOW)
    return luck.choice(_MIDDLE if share < 0.9 else _HIGH)


COLLEAGUE = ("Maren", "Holt", "maren@tern.example")
SECOND_OUTCOMES = ("R1", "R3", "W1", "W2")
SECOND_STUDENTS = (
    ("Ida", "Blom"),
    ("Mateo", "Cruz"),
    ("Saga", "Eklund"),
    ("Yusuf", "Karim"),
    ("Nia", "Lewis"),
    ("Pavel", "Novotny"),
    ("Leilani", "Palu"),
    ("Oona", "Salo"),
)
