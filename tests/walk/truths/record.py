"""What is on record: the log, and what is kept of evidence."""

from __future__ import annotations

import re
from datetime import datetime
from functools import cache
from pathlib import Path

from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.shared.verify import faults
from tests.walk.truths.pages import Pages, agree, truth

_LOG_PAGE = Path(__file__).parents[3] / "frontend/src/features/people/SchoolLog.vue"


# What can be deleted has no name any more.
_GO = {
    "sample-class",
    "sample-class-deleted",
    "attempt-opened",
    "attempt-withdrawn",
    "attempt-time",
}
_GO |= {"own-times", "scale", "class-list-undone", "wish", "rubric-wording", "task-revision"}


@cache
def _kinds_of_change() -> frozenset[str]:
    """The kinds of change that the page of the log has words for."""
    words = _LOG_PAGE.read_text().split("const WORDS", 1)[1].split("\n}", 1)[0]
    return frozenset(re.findall(r"^  '?([a-z-]+)'?:", words, re.MULTILINE))


@truth
def the_log_says_what_it_is_about(pages: Pages) -> None:
    """Each line has words for its kind, the name of what it is about as long as that is there, who
    did it, and a time that has come; lines stand in the order in which they were written.
    """
    who = pages.administrator()
    lines = pages.see(who, "/log")
    numbers = [line["id"] for line in lines]
    assert numbers == sorted(numbers, reverse=True), numbers
    for line in lines:
        kind = line["subject"].split("/")[0]
        assert kind in _kinds_of_change(), line
        assert datetime.fromisoformat(line["at"]) <= pages.school.now, line
        assert line["person"], line
        assert line["name"] or kind in _GO, line
    if lines:
        kind = lines[0]["subject"].split("/")[0]
        only = pages.see(who, f"/log?subject={kind}")
        among = [line for line in lines if line["subject"].split("/")[0] == kind]
        agree(f"lines of {kind}", all=among, alone=only[: len(among)])


@truth
def what_is_kept_is_what_verify_works_out(pages: Pages) -> None:
    school = pages.school
    with school.database.reading() as db:
        agree("evidence", kept=evidence_faults(db), anew=[])
    agree("the file", faults=faults(school.folder / "jade-ladder.sqlite3"), anew=[])
