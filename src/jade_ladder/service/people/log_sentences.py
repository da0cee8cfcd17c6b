"""What an entry of the log says, in a sentence without its person: “took Kai into Chart Room”."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from jade_ladder.core.methods import MethodKind
from jade_ladder.store.shared.log import LogRow, LogSubject

Ask = Callable[[str, int], str]
"""Gives the name of a thing of a kind (`store/shared/log.names`), by its number."""
GONE = {
    "person": "somebody who was removed",
    "class": "a class that was deleted",
    "outcome": "an outcome that was deleted",
    "scale": "a scale that was removed",
    "rubric": "a rubric that was deleted",
    "task": "a task that was deleted",
    "attempt": "work that was deleted",
    "note": "somebody",
    "judgement": "somebody",
    "entry": "a class",
}
"""What is said for a thing that is not there any more."""
_METHODS = {
    MethodKind.DECAYING_AVERAGE: "decaying average",
    MethodKind.LATEST: "latest",
    MethodKind.HIGHEST: "highest",
    MethodKind.MEAN: "mean of all",
    MethodKind.RECENT_MEAN: "mean of the last few",
    MethodKind.MOST_FREQUENT: "most frequent",
}
_MOST_NAMED = 3


def sentences(
    rows: Iterable[LogRow],
    zone: ZoneInfo,
    names: Callable[[str, Iterable[int]], Mapping[int, str]],
) -> list[str]:
    """Say what each entry changed; `names` gives the names of things of a kind, by number, and is
    asked once for each kind. Times are the school's.
    """
    rows = list(rows)
    asked: defaultdict[str, set[int]] = defaultdict(set)

    def note(kind: str, number: int) -> str:
        asked[kind].add(number)
        return ""

    for row in rows:
        _Said(row, zone, note).sentence()
    found = {kind: names(kind, numbers) for kind, numbers in asked.items()}

    def name(kind: str, number: int) -> str:
        return found[kind].get(number, GONE[kind])

    return [_Said(row, zone, name).sentence() for row in rows]


class _Said:
    """One entry, being put into words."""

    def __init__(self, row: LogRow, zone: ZoneInfo, ask: Ask) -> None:
        self.row, self.zone, self.ask = row, zone, ask
        self.was: Any = row.before
        self.now: Any = row.after
        self.id = row.subject_id

    def sentence(self) -> str:
        """Say it."""
        return _SENTENCES[self.row.subject](self)

    @property
    def person(self) -> str:
        return self.ask("person", self.id)

    @property
    def klass(self) -> str:
        return self.ask("class", self.id)

    @property
    def task(self) -> str:
        return _quoted(self.ask("task", self.id), "task")

    @property
    def attempt(self) -> str:
        return self.ask("attempt", self.id)

    @property
    def outcome(self) -> str:
        return self.ask("outcome", self.id)

    def scale(self, number: int) -> str:
        """A scale by its name."""
        name = self.ask("scale", number)
        return name if name == GONE["scale"] else f"the scale “{name}”"

    def people(self, numbers: Iterable[int]) -> str:
        """Some people by name, many by number."""
        every = [self.ask("person", number) for number in dict.fromkeys(numbers)]
        return _listed(every, "students") or "nobody"

    def time(self, text: str) -> str:
        """A time or a day as it is read."""
        if len(text) == len("2026-12-02"):
            return _day(date.fromisoformat(text))
        moment = datetime.fromisoformat(text).astimezone(self.zone)
        return f"{_day(moment.date())}, {moment:%H:%M}"


def _day(day: date) -> str:
    return f"{day.day} {day:%B %Y}"


def _quoted(name: str, kind: str) -> str:
    return name if name == GONE[kind] else f"“{name}”"


def _listed(names: list[str], what: str) -> str:
    if len(names) > _MOST_NAMED:
        return (
            f"{', '.join(names[: _MOST_NAMED - 1])} and {len(names) - _MOST_NAMED + 1} more {what}"
        )
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


def _because(reason: object) -> str:
    return f": “{reason}”" if reason else ""


def _changed(was: object, now: object) -> str:
    return f"{was or 'none'} → {now or 'none'}"


def _own_account(it: _Said) -> str:
    was, now = it.was or {}, it.now or {}
    parts = [
        f"{what} {_changed(was.get(key), now.get(key))}"
        for key, what in (("name", "name"), ("email", "e-mail"))
        if (was.get(key) or "") != (now.get(key) or "")
    ]
    return f"changed their own account: {', '.join(parts)}" if parts else "saved their own account"


def _password(it: _Said) -> str:
    if it.row.person_id == it.id:
        return "set their own password"
    return f"set the password of {it.person}, on the machine itself"


def _class_teacher(it: _Said) -> str:
    if it.now:
        return f"let {it.now['name']} teach {it.klass}"
    return f"took {it.was['name']} out of the teachers of {it.klass}"


def _responsible(it: _Said) -> str:
    before = f" (before: {it.was['name']})" if it.was and it.was["name"] else ""
    return f"made {it.now['name']} responsible for {it.klass}{before}"


def _owner(it: _Said) -> str:
    if it.now["school"]:
        return f"gave {it.outcome} to the school"
    return f"took {it.outcome} back from the school"


def _method(written: Any) -> str:
    held = written["method"] if isinstance(written, dict) else written
    if held is None:
        return "that of the class"
    kind = MethodKind(held[0])
    if kind is MethodKind.DECAYING_AVERAGE:
        return f"{_METHODS[kind]} ({held[1]}% the newest)"
    return f"mean of the last {held[2]}" if kind is MethodKind.RECENT_MEAN else _METHODS[kind]


def _membership(it: _Said) -> str:
    if it.now and "class" in it.now:
        return f"took {it.person} into {it.ask('class', it.now['class'])}"
    klass = it.ask("class", it.was) if isinstance(it.was, int) else "a class"
    until = (it.now or {}).get("until")
    if until is None:
        return f"took {it.person} into {klass} again"
    return f"said that {it.person} left {klass} on {it.time(until)}"


def _class_list(it: _Said) -> str:
    came = [*it.now.get("members", ()), *it.now.get("again", ())]
    return f"imported a list into {it.klass}: {it.people(came)}"


def _not_expected(it: _Said) -> str:
    said = it.now or it.was
    student = it.ask("person", said["student"])
    if it.now:
        return f"does not expect {it.outcome} of {student}{_because(said['reason'])}"
    return f"expects {it.outcome} of {student} again"


def _judged(it: _Said) -> str:
    levels = it.now["levels"]
    outcomes = [it.ask("outcome", number) for number in dict.fromkeys(one[1] for one in levels)]
    at = f", level {levels[0][2] + 1} from below" if len(levels) == 1 else ""
    who = it.people(one[0] for one in levels)
    return f"judged {who} on {_listed(outcomes, 'outcomes')}{at}{_because(it.now['reason'])}"


def _whose(it: _Said) -> str:
    said = it.now or {}
    if "student" in said:
        return f"{it.ask('person', said['student'])} on {it.ask('outcome', said['outcome'])}"
    return it.ask("judgement", it.id)


def _judging_undone(it: _Said) -> str:
    if "lifted" in it.was:
        return f"undid lifting the judgement of {it.ask('judgement', it.was['lifted'])}"
    return f"undid judging {it.people(one[0] for one in it.was.get('levels', ()))}"


def _scale(it: _Said) -> str:
    was, now = it.was["levels"], it.now["levels"]
    parts = []
    if [one[0] for one in was] != [one[0] for one in now]:
        parts.append(f"levels {', '.join(one[0] for one in now)}")
    for before, after in zip(was, now, strict=False):
        for at, what in ((2, "value"), (3, "cut score")):
            if before[at] != after[at]:
                moved = f"{before[at] / 100:.2f} → {after[at] / 100:.2f}"
                parts.append(f"{what} of {after[0]} {moved}")
    if it.was["mastery_level"] != it.now["mastery_level"]:
        parts.append(f"mastery begins at {now[it.now['mastery_level']][0]}")
    return f"changed {it.scale(it.id)}: {'; '.join(parts) or 'words of it'}"


def _framework(it: _Said) -> str:
    words = {
        "outcomes": "new",
        "joined": "taught now",
        "brought_back": "brought back",
        "changed": "changed",
        "retired": "retired",
    }
    counts = [f"{len(it.now[key])} {word}" for key, word in words.items() if it.now.get(key)]
    rubrics = len(it.now.get("rubrics", ()))
    more = [f"{rubrics} rubric{'s' if rubrics > 1 else ''}"] if rubrics else []
    return f"imported outcomes into {it.klass}: {', '.join([*counts, *more]) or 'nothing new'}"


def _wording(it: _Said) -> str:
    name = _quoted(it.ask("rubric", it.id), "rubric")
    was, now = it.was["title"], it.now["title"]
    return f"changed words of the rubric {name}" + (f" (before: “{was}”)" if was != now else "")


def _revision(it: _Said) -> str:
    stay = len(it.now.get("stay", ()))
    rest = f"; {stay} mark{'s' if stay > 1 else ''} stayed on the earlier one" if stay else ""
    moved = f"revision {it.now['revision']} of its rubric, before on {it.was['revision']}"
    return f"put {it.task} on {moved}{rest}"


def _handed_back(it: _Said) -> str:
    said = f"handed {it.task} back to {it.people(it.now['students'])}"
    seen = it.now.get("from")
    if seen and datetime.fromisoformat(seen) > it.row.at:
        said += f", to be seen from {it.time(seen)}"
    return said if it.now.get("total", True) else f"{said}, without the total"


def _own_times(it: _Said) -> str:
    student, due = it.ask("person", it.now["student"]), it.now.get("due")
    if due is None:
        return f"let the times of {it.task} hold for {student}"
    return f"gave {student} until {it.time(due)} at {it.task}"


def _opened(it: _Said) -> str:
    due = it.now.get("due")
    return f"opened another attempt for {it.attempt}" + (f", due {it.time(due)}" if due else "")


def _attempt_time(it: _Said) -> str:
    if it.now is None:
        return f"let {it.attempt} count by its own time again"
    return f"let {it.attempt} count by {it.time(it.now)}, before by {it.time(it.was)}"


def _set_aside(it: _Said) -> str:
    said = it.now or it.was
    students = said.get("students", [])
    who = it.people(json.loads(students) if isinstance(students, str) else students)
    if it.now:
        return f"set evidence of {who} at {it.task} aside{_because(it.now.get('reason'))}"
    return f"let evidence of {who} at {it.task} count again"


_SENTENCES: dict[LogSubject, Callable[[_Said], str]] = {
    LogSubject.ACCOUNT: lambda it: f"made an account for {it.person}",
    LogSubject.ACCOUNT_ENDED: lambda it: f"ended the account of {it.person}",
    LogSubject.ACCOUNT_RESTORED: lambda it: f"let {it.person} sign in again",
    LogSubject.ADMINISTRATOR: lambda it: (
        f"made {it.person} an administrator"
        if it.now
        else f"let {it.person} be an administrator no longer"
    ),
    LogSubject.OWN_ACCOUNT: _own_account,
    LogSubject.PASSWORD: _password,
    LogSubject.PASSWORD_LINK: lambda it: f"made {it.person} a link for a password",
    LogSubject.CLASS_TEACHER: _class_teacher,
    LogSubject.CLASS_RESPONSIBLE: _responsible,
    LogSubject.CLASS_SET_ASIDE: lambda it: (
        f"set {it.klass} aside" if it.now else f"took {it.klass} up again"
    ),
    LogSubject.SAMPLE_CLASS: lambda _: "made a sample class",
    LogSubject.SAMPLE_CLASS_DELETED: lambda _: "deleted a sample class with all that came with it",
    LogSubject.OUTCOME_OWNER: _owner,
    LogSubject.CLASS_COPIED: lambda it: (
        f"copied {it.ask('class', it.was['class'])} as {it.now['name']}"
    ),
    LogSubject.CLASS_METHOD: lambda it: (
        f"changed the method of {it.klass}: {_method(it.was)} → {_method(it.now)}"
    ),
    LogSubject.CLASS_SCALE: lambda it: (
        f"put {it.klass} on {it.scale(it.now)}, before on {it.scale(it.was)}"
    ),
    LogSubject.COMBINING: lambda it: (
        f"let criteria of {it.klass} combine by the {it.now}, before by the {it.was}"
    ),
    LogSubject.STRAND_ROLL_UP: lambda it: (
        f"let strands of {it.klass} say the {it.now}, before the {it.was}"
    ),
    LogSubject.CLASS_LIST: _class_list,
    LogSubject.CLASS_LIST_UNDONE: lambda it: f"undid the import into {it.ask('entry', it.id)}",
    LogSubject.MEMBERSHIP: _membership,
    LogSubject.JOINING_UNDONE: lambda it: (
        f"took {it.people(it.was['members'])} out of {it.klass}, as if they had never come"
    ),
    LogSubject.SLIP: lambda it: f"made {it.person} a slip for a password",
    LogSubject.SLIP_GRANTED: lambda it: (
        f"let {it.ask('person', it.now['to'])} make {it.person} a slip"
    ),
    LogSubject.OUTCOME_METHOD: lambda it: (
        f"changed the method of {it.outcome} in {it.ask('class', it.row.class_id or 0)}: "
        f"{_method(it.was)} → {_method(it.now)}"
    ),
    LogSubject.OUTCOME_SCALE: lambda it: (
        f"put {it.outcome} on {it.scale(it.now)}, before on {it.scale(it.was)}"
    ),
    LogSubject.NOT_EXPECTED: _not_expected,
    LogSubject.JUDGEMENT: _judged,
    LogSubject.JUDGEMENT_LIFTED: lambda it: (
        f"lifted the judgement of {_whose(it)} from {it.time(it.now['until'])} on"
    ),
    LogSubject.JUDGEMENT_KEPT: lambda it: (
        f"kept the judgement of {_whose(it)} although the evidence changed"
    ),
    LogSubject.JUDGEMENT_UNDONE: _judging_undone,
    LogSubject.SCALE: _scale,
    LogSubject.FRAMEWORK: _framework,
    LogSubject.FRAMEWORK_TAKEN_BACK: lambda it: (
        f"undid the import of outcomes into {it.ask('entry', it.id)}"
    ),
    LogSubject.RUBRIC_WORDING: _wording,
    LogSubject.TASK_REVISION: _revision,
    LogSubject.TASK_HANDED_BACK: _handed_back,
    LogSubject.TASK_TAKEN_BACK: lambda it: (
        f"took back what was handed back of {it.task} to {it.people(it.was['students'])}"
    ),
    LogSubject.OWN_TIMES: _own_times,
    LogSubject.ATTEMPT_OPENED: _opened,
    LogSubject.ATTEMPT_WITHDRAWN: lambda it: f"closed the attempt that was opened for {it.attempt}",
    LogSubject.ATTEMPT_TIME: _attempt_time,
    LogSubject.WISH: lambda it: f"declined another attempt for {it.attempt}",
    LogSubject.EVIDENCE_SET_ASIDE: _set_aside,
    LogSubject.NOTE_SHOWN: lambda it: (
        f"showed the note of {it.ask('note', it.id)} to its student"
        if it.now
        else f"hid the note of {it.ask('note', it.id)} from its student"
    ),
    LogSubject.NOTE_FILE: lambda it: f"deleted a file of the note of {it.ask('note', it.id)}",
    LogSubject.THIN: lambda it: f"calls evidence thin below {it.now} pieces, before below {it.was}",
    LogSubject.LANGUAGE: lambda it: f"sorts names by the language “{it.now}”, before “{it.was}”",
}
