"""A walk: calls one after the other, some of the truths after each, and all of them at the end."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

from tests.walk.asking import Answer, Call, School, chance
from tests.walk.steps import Before, StepUntrue, held_by_a_step
from tests.walk.truths import TRUTHS, Pages
from tests.walk.truths.handed_back import Kept
from tests.walk.trying import tried
from tests.walk.ways import OPERATIONS, WAYS, NothingThere, Walker, call_of
from tests.walk.ways.walker import ZONE, Dice

SLOW = {"read_own_marked_work", "read_marked_work", "read_class_export"}
ELSEWHERE = {"make_first_teacher", "sign_in_to_demo"}
"""What is only done in a school without teachers, or in the demo: here it is always refused."""
SELDOM = {
    *("set_class_aside", "end_account", "set_administrator", "sign_in", "sign_out", "join"),
    *("make_first_teacher", "sign_in_to_demo", "read_invited", "add_colleagues", "make_link"),
    *("change_school", "work_out_cuts", "read_grid", "delete_task", "delete_rubric"),
    *("delete_strand", "remove_scale", "change_own_password", "change_students_password"),
    *("end_own_session", "end_students_session", "copy_class", "make_class", "hand_over_class"),
    *("remove_class_teacher", "assign_class", "make_sample_class", "change_own_email"),
}
OFTEN = {
    *("choose", "finish", "hand_back", "open_attempts", "hand_in", "take_tap", "enter_work"),
    *("write_notes", "excuse", "set_left", "correct_times", "finish_observed", "make_task"),
    *("change_task", "ask_again", "take_back", "adjust_total", "judge", "set_evidence_aside"),
    *("save_own_draft", "take_own_work_back", "save_draft", "make_final", "revise"),
    *("apply_revision", "change_outcome", "change_class_method", "set_own_times", "add_student"),
}
FOLLOWS: dict[str, tuple[str, ...]] = {
    "choose": ("choose", "choose", "finish"),
    "finish": ("hand_back", "hand_back", "open_attempts", "set_evidence_aside"),
    "hand_back": ("say_read", "ask_again", "open_attempts", "choose", "take_back", "set_left"),
    "ask_again": ("answer_wish", "open_attempts"),
    "open_attempts": ("hand_in", "choose", "take_tap", "withdraw_attempt", "save_own_draft"),
    "save_own_draft": ("hand_in",),
    "hand_in": ("take_own_work_back", "choose", "hand_in", "set_own_times"),
    "take_own_work_back": ("undo_taking_back", "hand_in", "save_own_draft"),
    "take_tap": ("take_tap", "finish_observed", "take_tap"),
    "enter_work": ("choose", "delete_entry", "enter_work"),
    "begin_upload": ("send_bytes",),
    "begin_own_upload": ("send_own_bytes",),
    "send_bytes": ("add_work_file", "collect_file", "attach_file", "attach_feedback"),
    "send_own_bytes": ("add_own_file",),
    "add_own_file": ("hand_in", "remove_own_part"),
    "attach_file": ("detach_file", "copy_task"),
    "attach_feedback": ("change_feedback", "finish"),
    "attach_to_note": ("delete_note_file", "show_note"),
    "collect_file": ("undo_collecting", "collect_file", "choose"),
    "remove_own_part": ("put_own_part_back",),
    "revise": ("save_draft",),
    "save_draft": ("make_final", "save_draft"),
    "make_final": ("apply_revision", "read_effects"),
    "judge": ("lift_judgement", "undo_judging", "keep_judgement"),
    "lift_judgement": ("undo_lifting",),
    "set_left": ("bring_back_student", "choose", "hand_back"),
    "add_student": ("ask_for_slips", "choose", "hand_in", "set_own_times"),
    "ask_for_slips": ("grant_slips",),
    "make_slips": ("join",),
    "sign_in": ("end_own_session",),
    "set_administrator": ("set_schools_outcome", "change_strand", "set_administrator"),
    "make_sample_class": ("delete_sample_class",),
    "add_strand": ("place_outcome", "delete_strand"),
    "set_evidence_aside": ("count_evidence_again",),
    "make_task": ("hand_in", "choose", "enter_work", "take_tap"),
    "set_class_aside": ("set_class_aside",),
    "lift_outcome": ("expect_again",),
}
HANDED_BACK = "what_was_handed_back_stays"
_CODES = re.compile(rb'"(?:code|token)":"([^"]+)"')


class Untrue(AssertionError):
    """Something that should be true is not, after the calls of a script."""


@dataclass(slots=True)
class Met:
    """What was met in walks: steps, operations, and pairs that followed each other."""

    steps: int = 0
    done: Counter[str] = field(default_factory=Counter)
    refused: Counter[str] = field(default_factory=Counter)
    pairs: set[tuple[str, str]] = field(default_factory=set)
    checked: Counter[str] = field(default_factory=Counter)


@dataclass(slots=True)
class Walk:
    """A walk through a school that is its own."""

    school: School
    met: Met = field(default_factory=Met)
    script: list[dict[str, Any]] = field(default_factory=list)
    last: str = ""
    at: tuple[int, datetime] | None = None
    kept: Kept = field(default_factory=Kept)

    def do(self, call: Call, held: bool = True) -> Answer:
        """Do one call, now, and hold what is true of every step."""
        self._one_after_the_other(call.who)
        line = {"at": self.school.now.isoformat(), **call.written()}
        chance.seed(f"{line} {self.script.count(line)}")
        self.script.append(line)
        before = Before.of(self.school, call)
        try:
            answer = self.school.send(call)
        except Exception as error:
            raise Untrue(f"the server made a mistake: {error!r}") from error
        self.met.steps += 1
        self.met.checked["steps"] += 1
        if held:
            try:
                held_by_a_step(self.school, call, answer, before)
            except StepUntrue as error:
                raise Untrue(str(error)) from error
        if answer.done:
            self.met.done[call.operation] += 1
            if self.last:
                self.met.pairs.add((self.last, call.operation))
            self.last = call.operation
        else:
            self.met.refused[call.operation] += 1
        return answer

    def try_(self, kind: str, call: Call) -> None:
        """Try something with a call, on a copy; only what is untrue stands in the script."""
        self._one_after_the_other(call.who)
        found = tried(self.school, kind, call)
        if found:
            at = self.school.now.isoformat()
            self.script.append({"at": at, "tried": kind, **call.written()})
            raise Untrue(found)

    def _one_after_the_other(self, who: int) -> None:
        """What one person does is done one after the other, however quickly."""
        if self.at == (who, self.school.now):
            self.school.now += timedelta(microseconds=1)
        self.at = who, self.school.now

    def tick(self, seconds: int) -> None:
        """A little time passes, or none: what two people do at once has one time."""
        self.school.now += timedelta(seconds=seconds)

    def check(self, names: Sequence[str]) -> None:
        """Hold some truths of what is there now."""
        pages = Pages(self.school)
        for name in names:
            self.met.checked[name] += 1
            try:
                TRUTHS[name](pages)
            except Exception as error:
                raise Untrue(f"{name}: {str(error) or repr(error)}") from error

    def look_at_what_was_handed_back(self) -> None:
        """What students saw once, they see."""
        try:
            self.kept.look(Pages(self.school))
        except AssertionError as error:
            raise Untrue(f"{HANDED_BACK}: {error}") from error


def operations_now(dice: Dice, last: str) -> str:
    """Which operation somebody does next: one that follows the last, or any; those seldom that
    stand in the way of others.
    """
    if last in FOLLOWS and dice.number(0, 99) < 40:
        options: Sequence[str] = FOLLOWS[last]
    else:
        options = _ANY
    return options[dice.number(0, len(options) - 1)]


def _any() -> Iterator[str]:
    for name in sorted(WAYS):
        if name in SLOW:
            continue
        reads = OPERATIONS[name][0] == "GET"
        often = 1 if reads or name in SELDOM else 12 if name in OFTEN else 4
        yield from [name] * often


_ANY = tuple(_any())


def step(walk: Walk, walker: Walker) -> Answer | None:
    """Let somebody do something that can be done now; None where there was nothing."""
    operation = operations_now(walker.dice, walk.last)
    try:
        plan = WAYS[operation](walker)
    except NothingThere:
        return None
    call = call_of(operation, plan)
    if walker.chance(6):
        call = spoiled(walker, call)
    answer = walk.do(call)
    if answer.done:
        walker.codes += [found.decode() for found in _CODES.findall(answer.content)]
        walker.remember(plan)
    return answer


def spoiled(walker: Walker, call: Call) -> Call:
    """A call that is wrong in one place: somebody else's, about something else, stale, or odd."""
    match walker.dice.number(0, 3):
        case 0:
            who = walker.one("SELECT id FROM person WHERE ended_at IS NULL ORDER BY id")
            return Call(**{**_parts(call), "who": who})
        case 1:
            path = re.sub(r"\d+", lambda number: str(int(number[0]) + 1), call.path, count=1)
            return Call(**{**_parts(call), "path": path})
    if not isinstance(call.json, dict) or not call.json:
        return call
    body = dict(call.json)
    if "version" in body and walker.chance(60):
        body["version"] = max(0, body["version"] - 1)
    else:
        name = walker.pick(sorted(body))
        body[name] = walker.pick([None, "", "x" * 6000, -1, 10**12, [], "9999-12-31"])
    return Call(**{**_parts(call), "json": body})


def _parts(call: Call) -> dict[str, Any]:
    return {name: getattr(call, name) for name in Call.__slots__}


def let_time_pass(walker: Walker) -> None:
    """Minutes, hours, a day, a weekend, a change of the clock, or just past what is due."""
    school = walker.school
    local = school.now.astimezone(ZONE)
    match walker.dice.number(0, 6):
        case 0:
            school.now += timedelta(minutes=walker.dice.number(1, 50))
        case 1:
            school.now += timedelta(hours=walker.dice.number(1, 9))
        case 2:
            school.now = (local + timedelta(days=1)).astimezone(school.now.tzinfo)
        case 3:
            days = (7 - local.weekday()) % 7 or 7
            monday = (local + timedelta(days=days)).replace(hour=8, minute=30)
            school.now = monday.astimezone(school.now.tzinfo)
        case 4:
            midnight = (local + timedelta(days=1)).replace(hour=0, minute=0, second=0)
            school.now = midnight.astimezone(school.now.tzinfo)
        case 5:
            _past_what_is_due(walker)
        case _:
            # An hour before the clock is put back, on the first Sunday of April, or after.
            changes = datetime(2027, 4, 3, 13, 30, tzinfo=school.now.tzinfo)
            if school.now < changes:
                school.now = changes
            else:
                school.now += timedelta(hours=1)


def _past_what_is_due(walker: Walker) -> None:
    """To the last moment of something, or the first one after it."""
    school = walker.school
    moments = school.rows(
        "SELECT due_at FROM task WHERE due_at > ?1 UNION SELECT closes_at FROM task WHERE "
        "closes_at > ?1 UNION SELECT due_at FROM task_student WHERE due_at > ?1 UNION "
        "SELECT due_at FROM wish WHERE due_at > ?1 UNION SELECT visible_at FROM hand_back WHERE "
        "visible_at > ?1 UNION SELECT set_at FROM task WHERE set_at > ?1 ORDER BY 1 LIMIT 3",
        school.now.isoformat(timespec="microseconds"),
    )
    if moments:
        to = datetime.fromisoformat(walker.pick(moments))
        school.now = to + timedelta(microseconds=walker.pick([1, 0]))
