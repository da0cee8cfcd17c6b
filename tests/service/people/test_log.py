"""What the log says: a sentence for each kind of change, with names, and with what is gone."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from jade_ladder.service.people.log_sentences import sentences
from jade_ladder.store.shared.log import LogRow, LogSubject

NOW = datetime(2027, 3, 30, 20, 0, tzinfo=UTC)
ZONE = ZoneInfo("Pacific/Auckland")
THERE = {
    "person": {1: "Ola Reef", 4: "Aino Berg", 5: "Kai Nord", 6: "Uma Reef", 7: "Zoe Anders"},
    "class": {1: "Chart Room"},
    "outcome": {1: "W1", 2: "W2"},
    "scale": {1: "Four steps", 2: "Two steps"},
    "rubric": {1: "Route card"},
    "task": {1: "Sketch"},
    "attempt": {1: "Aino Berg at “Sketch”"},
    "note": {1: "Kai Nord on W1"},
    "judgement": {1: "Kai Nord on W1"},
    "entry": {1: "Chart Room"},
}
LEVELS = {"levels": [["Start", "S", 100, 50, ""], ["Sure", "U", 200, 150, ""]], "mastery_level": 1}
HIGHER = {"levels": [["Start", "S", 100, 50, ""], ["Sure", "U", 200, 175, ""]], "mastery_level": 0}
LATEST = {"method": ["latest", 60, 3], "before": []}
DECAYING = {"method": ["decaying-average", 60, 3], "before": []}
S = LogSubject
SAID: list[tuple[LogSubject, int, Any, Any, str]] = [
    (S.ACCOUNT, 4, None, {"name": "Aino Berg"}, "made an account for Aino Berg"),
    (S.ACCOUNT_ENDED, 4, None, None, "ended the account of Aino Berg"),
    (S.ACCOUNT_RESTORED, 99, None, None, "let somebody who was removed sign in again"),
    (S.ADMINISTRATOR, 4, False, True, "made Aino Berg an administrator"),
    (S.ADMINISTRATOR, 4, True, False, "let Aino Berg be an administrator no longer"),
    (
        *(S.OWN_ACCOUNT, 1, {"email": None}, {"email": "ola@tern.example"}),
        "changed their own account: e-mail none → ola@tern.example",
    ),
    (S.OWN_ACCOUNT, 1, {"email": None}, {"email": ""}, "saved their own account"),
    (S.PASSWORD, 1, None, None, "set their own password"),
    (S.PASSWORD, 4, None, None, "set the password of Aino Berg, on the machine itself"),
    (S.PASSWORD_LINK, 4, None, None, "made Aino Berg a link for a password"),
    (S.CLASS_TEACHER, 1, None, {"name": "Mei Tan"}, "let Mei Tan teach Chart Room"),
    (
        *(S.CLASS_TEACHER, 1, {"name": "Mei Tan"}, None),
        "took Mei Tan out of the teachers of Chart Room",
    ),
    (
        *(S.CLASS_RESPONSIBLE, 1, {"name": ""}, {"name": "Mei Tan"}),
        "made Mei Tan responsible for Chart Room",
    ),
    (S.CLASS_SET_ASIDE, 1, False, True, "set Chart Room aside"),
    (S.CLASS_SET_ASIDE, 1, True, False, "took Chart Room up again"),
    (S.SAMPLE_CLASS, 9, None, {}, "made a sample class"),
    (S.SAMPLE_CLASS_DELETED, 9, None, None, "deleted a sample class with all that came with it"),
    (S.OUTCOME_OWNER, 1, {"school": False}, {"school": True}, "gave W1 to the school"),
    (S.OUTCOME_OWNER, 1, {"school": True}, {"school": False}, "took W1 back from the school"),
    (S.CLASS_COPIED, 2, {"class": 1}, {"name": "Next"}, "copied Chart Room as Next"),
    (
        *(S.CLASS_METHOD, 1, DECAYING, ["recent-mean", 60, 3]),
        "changed the method of Chart Room: decaying average (60% the newest) → mean of the last 3",
    ),
    (
        *(S.CLASS_SCALE, 1, 1, 2),
        "put Chart Room on the scale “Two steps”, before on the scale “Four steps”",
    ),
    (
        *(S.COMBINING, 1, "mean", "lowest"),
        "let criteria of Chart Room combine by the lowest, before by the mean",
    ),
    (
        *(S.STRAND_ROLL_UP, 1, "lowest", "mean"),
        "let strands of Chart Room say the mean, before the lowest",
    ),
    (
        *(S.CLASS_LIST, 1, None, {"members": [4, 5], "again": [6], "made": []}),
        "imported a list into Chart Room: Aino Berg, Kai Nord and Uma Reef",
    ),
    (S.CLASS_LIST_UNDONE, 1, None, None, "undid the import into Chart Room"),
    (S.MEMBERSHIP, 4, None, {"class": 1}, "took Aino Berg into Chart Room"),
    (
        *(S.MEMBERSHIP, 4, 1, {"until": "2027-04-02"}),
        "said that Aino Berg left Chart Room on 2 April 2027",
    ),
    (S.MEMBERSHIP, 4, 1, {"until": None}, "took Aino Berg into Chart Room again"),
    (
        *(S.JOINING_UNDONE, 1, {"members": [4]}, None),
        "took Aino Berg out of Chart Room, as if they had never come",
    ),
    (S.SLIP, 4, None, {"class": 1}, "made Aino Berg a slip for a password"),
    (S.SLIP_GRANTED, 4, None, {"to": 1}, "let Ola Reef make Aino Berg a slip"),
    (
        *(S.OUTCOME_METHOD, 1, {"method": None, "before": []}, LATEST),
        "changed the method of W1 in Chart Room: that of the class → latest",
    ),
    (
        S.OUTCOME_SCALE,
        1,
        1,
        9,
        "put W1 on a scale that was removed, before on the scale “Four steps”",
    ),
    (
        *(S.NOT_EXPECTED, 1, None, {"student": 4, "reason": "Ill"}),
        "does not expect W1 of Aino Berg: “Ill”",
    ),
    (S.NOT_EXPECTED, 1, {"student": 4, "reason": "Ill"}, None, "expects W1 of Aino Berg again"),
    (
        *(S.JUDGEMENT, 1, {"cut": []}, {"made": [1], "levels": [[4, 1, 2]], "reason": "Spoke"}),
        "judged Aino Berg on W1, level 3 from below: “Spoke”",
    ),
    (
        *(S.JUDGEMENT, 1, {}, {"levels": [[n, 1, 2] for n in (4, 5, 6, 7)], "reason": "Seen"}),
        "judged Aino Berg, Kai Nord and 2 more students on W1: “Seen”",
    ),
    (
        *(S.JUDGEMENT_LIFTED, 9, None, {"until": "2027-03-30", "student": 4, "outcome": 1}),
        "lifted the judgement of Aino Berg on W1 from 30 March 2027 on",
    ),
    (
        *(S.JUDGEMENT_KEPT, 1, {"seen": "[]"}, None),
        "kept the judgement of Kai Nord on W1 although the evidence changed",
    ),
    (S.JUDGEMENT_UNDONE, 1, {"levels": [[4, 1, 2]]}, None, "undid judging Aino Berg"),
    (
        *(S.JUDGEMENT_UNDONE, 1, {"lifted": 1, "until": "2027-03-30"}, None),
        "undid lifting the judgement of Kai Nord on W1",
    ),
    (
        *(S.SCALE, 1, LEVELS, HIGHER),
        "changed the scale “Four steps”: cut score of Sure 1.50 → 1.75; mastery begins at Start",
    ),
    (S.SCALE, 1, LEVELS, LEVELS, "changed the scale “Four steps”: words of it"),
    (
        *(S.FRAMEWORK, 1, None, {"outcomes": [1, 2], "joined": [], "rubrics": [1]}),
        "imported outcomes into Chart Room: 2 new, 1 rubric",
    ),
    (S.FRAMEWORK_TAKEN_BACK, 1, None, None, "undid the import of outcomes into Chart Room"),
    (
        *(S.RUBRIC_WORDING, 1, {"title": "Route"}, {"title": "Route card"}),
        "changed words of the rubric “Route card” (before: “Route”)",
    ),
    (
        *(S.TASK_REVISION, 1, {"revision": 1}, {"revision": 2, "stay": [3]}),
        "put “Sketch” on revision 2 of its rubric, before on 1; 1 mark stayed on the earlier one",
    ),
    (
        *(S.TASK_HANDED_BACK, 1, None),
        {"students": [4], "from": "2027-04-04 11:30:00+00:00", "total": False},
        "handed “Sketch” back to Aino Berg, to be seen from 4 April 2027, 23:30, without the total",
    ),
    (
        *(S.TASK_TAKEN_BACK, 9, {"students": []}, None),
        "took back what was handed back of a task that was deleted to nobody",
    ),
    (
        *(S.OWN_TIMES, 1, None, {"student": 4, "due": "2027-04-03T11:30:00+00:00"}),
        "gave Aino Berg until 4 April 2027, 00:30 at “Sketch”",
    ),
    (
        *(S.OWN_TIMES, 1, None, {"student": 4, "due": None}),
        "let the times of “Sketch” hold for Aino Berg",
    ),
    (
        *(S.ATTEMPT_OPENED, 1, None, {"due": None, "carries": True}),
        "opened another attempt for Aino Berg at “Sketch”",
    ),
    (
        *(S.ATTEMPT_WITHDRAWN, 9, None, None),
        "closed the attempt that was opened for work that was deleted",
    ),
    (
        *(S.ATTEMPT_TIME, 1, "2027-03-30 20:00:00+00:00", None),
        "let Aino Berg at “Sketch” count by its own time again",
    ),
    (S.WISH, 1, None, {"granted": False}, "declined another attempt for Aino Berg at “Sketch”"),
    (
        *(S.EVIDENCE_SET_ASIDE, 1, None, {"students": "[4, 5]", "reason": "Copied"}),
        "set evidence of Aino Berg and Kai Nord at “Sketch” aside: “Copied”",
    ),
    (
        *(S.EVIDENCE_SET_ASIDE, 1, {"students": "[4]"}, None),
        "let evidence of Aino Berg at “Sketch” count again",
    ),
    (S.NOTE_SHOWN, 1, False, True, "showed the note of Kai Nord on W1 to its student"),
    (S.NOTE_SHOWN, 1, True, False, "hid the note of Kai Nord on W1 from its student"),
    (S.NOTE_FILE, 1, {"file": 3}, None, "deleted a file of the note of Kai Nord on W1"),
    (S.THIN, 1, 3, 2, "calls evidence thin below 2 pieces, before below 3"),
    (S.LANGUAGE, 1, "en", "mi", "sorts names by the language “mi”, before “en”"),
]


@pytest.mark.parametrize(("subject", "number", "before", "after", "said"), SAID)
def test_each_change_is_said_in_a_sentence(
    subject: LogSubject, number: int, before: Any, after: Any, said: str
) -> None:
    class_id = 1 if subject is S.OUTCOME_METHOD else None
    row = LogRow(1, NOW, 1, "Ola Reef", subject, class_id, number, before, after)
    assert sentences([row], ZONE, there) == [said]


def test_no_kind_of_change_is_forgotten() -> None:
    assert {line[0] for line in SAID} == set(LogSubject)


def there(kind: str, numbers: Iterable[int]) -> dict[int, str]:
    return {number: THERE[kind][number] for number in numbers if number in THERE[kind]}
