"""Work of several kinds in the demo: who has handed in what, put in as any teacher puts it in."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping
from datetime import datetime

from jade_ladder.demo import files
from jade_ladder.service.files import uploads
from jade_ladder.service.files.preparing import prepare_all
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import attempts, parts

Work = Mapping[str, bytes]

_LEGS = (
    ("leg", "bearing", "minutes", "way out"),
    ("1", "044", "25", "back along the wall"),
    ("2", "071", "40", "down to the road"),
    ("3", "012", "35", "none before the light"),
)
_CARD = (
    "Leg one leaves the slipway on 042° grid, 044° magnetic. The wall on the left leads as far as "
    "the stile, so nobody can miss it in mist.",
    "Leg two crosses the saddle. The contours crowd on the far side, so I planned forty minutes "
    "for 1.2 km and turn back before them if fog comes down.",
    "Leg three keeps the burn on the right. From the light I measured 224° back to the saddle: "
    "the leg agrees from both ends.",
    "Sources: Gull Head sheet, 2019 edition; tide table for Tern Island.",
)


def route_cards() -> dict[str, tuple[bool, Work]]:
    """By given name, what students handed in as a route card, and whether with a text beside."""
    card = files.document("Route card for Gull Head", _CARD, _LEGS)
    pages = [
        ["Route card for Gull Head", "Leg 1: slipway to stile, 044 magnetic, 25 minutes"],
        ["Leg 2", "Stile to saddle, 071 magnetic, 40 minutes", "Way out: down to the road"],
        ["Leg 3", "Saddle to light, 012 magnetic, 35 minutes", "Checked back from the light: 224"],
    ]
    return {
        "Chidi": (False, {"route card.docx": card, "legs.csv": files.table(_LEGS)}),
        "Goran": (
            True,
            {
                "sketch.jpg": files.sketch("Gull Head, legs 1 to 3", 2.4),
                "sketch 2.jpg": files.sketch("The way back", 3.4),
            },
        ),
        "Thị Mai": (False, {"route plan.pdf": files.plan(pages)}),
        "Dafne": (True, {"the bell at the saddle.wav": files.recording()}),
    }


def tide_notes() -> dict[str, Work]:
    """By given name, what the students of the year below handed in from the tide walk."""
    note = "# Tide walk\n\n- ebb at **10:40**\n- the step at the slip stood dry for two hours\n"
    heights = (("time", "height in m"), ("09:00", "2.4"), ("10:00", "1.7"), ("11:00", "1.2"))
    pages = [["Notes from the tide walk", "The lower path was under water until 09:50."]]
    seen = (
        "The lower path lay under water until ten to ten, the upper one never did.",
        "On the map both look equally high, but the five-metre line runs between them.",
    )
    return {
        "Ida": {"tide walk.docx": files.document("Notes from the tide walk", seen, heights)},
        "Mateo": {"slip at ebb.jpg": files.sketch("The slip at ebb", 0.4)},
        "Saga": {"tide walk.pdf": files.plan(pages)},
        "Yusuf": {"tide walk.md": note.encode()},
        "Pavel": {"heights.csv": files.table(heights)},
    }


TALKS = (
    ("Ida", -3, "Said that the lower path drowns first, and showed it on the five-metre line.", 3),
    ("Mateo", -3, "Spoke of the slip only; of the map nothing.", 1),
    ("Ida", -1, "Answered Saga: high water at springs lies above the line, too.", 4),
    (
        "Saga",
        -1,
        "Asked why both paths look equally high, and measured it at once.",
        None,
    ),
)
"""What was heard when the class talked of the tide walk: by whom, on which day from today, and on
which level (1 the lowest) it was marked, if it was."""


def talk(teacher_on: Callable[[int], Teacher], task_id: int, members: Mapping[str, int]) -> None:
    """Enter what was heard in a talk, entry by entry, and mark most of it."""
    numbers: Counter[int] = Counter()
    for given, day, heard, level in TALKS:
        caller, student_id = teacher_on(day), members[given]
        numbers[student_id] += 1
        number = numbers[student_id]
        attempts.enter_work(caller, task_id, student_id, heard, number=number)
        if level is None:
            continue
        for stored in desk.desk(caller, task_id).criteria:
            choice = Choice(stored.level_ids[level - 1])
            saving.choose(caller, task_id, student_id, stored.id, choice, 10_000, number)
        saving.finish(caller, task_id, student_id, number)


def sent(caller: Teacher, key: str, name: str, content: bytes) -> int:
    """Send a file whole; gives the number of its upload."""
    upload = uploads.begin_upload(caller, key, name, len(content)).row
    _, receiving = uploads.receive(caller, upload.id, 0)
    with receiving as take:
        take(content)
    return upload.id


def put_in(
    caller: Teacher, task_id: int, student_id: int, work: Work, done_at: datetime, with_text: bool
) -> None:
    """Put files into a student's work, in place of its text or beside it."""
    for place, (name, content) in enumerate(work.items()):
        key = f"demo-{task_id}-{student_id}-{place}"
        parts.add_work_file(caller, task_id, student_id, sent(caller, key, name, content), done_at)
    prepare_all(caller.database, done_at)
    if not with_text:
        attempts.enter_work(caller, task_id, student_id, "", done_at=done_at)
