"""What is on record: the log, and what is kept of evidence."""

from __future__ import annotations

import re
from datetime import datetime

from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.shared.verify import faults
from tests.walk.truths.pages import Pages, agree, truth
from tests.walk.ways.walker import ZONE

# What a sentence must not show: numbers and signs as they are kept.
_RAW = re.compile(r"[{}\[\]_]|None|True|False|\d{4}-\d\d-\d\d|\d:\d\d:\d\d|\+00:00")


@truth
def the_log_says_what_it_is_about(pages: Pages) -> None:
    """Each line says in a sentence what was changed, by whom, at a time that has come; the newest
    stands first. Of one person, kind and day they are all there are.
    """
    who = pages.administrator()
    found = pages.see(who, "/log")
    lines = found["entries"]
    order = [(datetime.fromisoformat(line["at"]), line["id"]) for line in lines]
    assert order == sorted(order, reverse=True), order
    for line in lines:
        assert datetime.fromisoformat(line["at"]) <= pages.school.now, line
        assert line["person"], line
        assert line["said"], line
        assert not _RAW.search(line["said"]), line
    if lines:
        first = lines[0]
        person = next(one["id"] for one in found["people"] if one["name"] == first["person"])
        day = datetime.fromisoformat(first["at"]).astimezone(ZONE).date().isoformat()
        query = f"subject={first['subject']}&person_id={person}&since={day}&until={day}"
        only = pages.see(who, f"/log?{query}")["entries"]
        among = [
            line
            for line in lines
            if (line["subject"], line["person"]) == (first["subject"], first["person"])
            and datetime.fromisoformat(line["at"]).astimezone(ZONE).date().isoformat() == day
        ]
        agree(f"lines of {query}", all=among, alone=only[: len(among)])


@truth
def what_is_kept_is_what_verify_works_out(pages: Pages) -> None:
    school = pages.school
    with school.database.reading() as db:
        agree("evidence", kept=evidence_faults(db), anew=[])
    agree("the file", faults=faults(school.folder / "jade-ladder.sqlite3"), anew=[])
