"""Recordings and files of a mark: whose they are to hear, by version, and what is none."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.demo.files import recording
from jade_ladder.outside import clock
from jade_ladder.service.files.sweeping import sweep
from jade_ladder.service.marking import desk, handing_back, history
from jade_ladder.service.marking.feedback_files import (
    NewFeedback,
    attach,
    change_feedback,
    feedback_file,
)
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.student import results
from jade_ladder.store.marking.feedback_files import FeedbackKind
from tests.builders import Small, arrived, at, small

KEY = "a-recording"


@pytest.fixture
def made(caller: Teacher) -> Small:
    return replace(small(at(caller, -10)), caller=caller)


def record(
    made: Small,
    content: bytes | None = None,
    name: str = "voice.wav",
    key: str = KEY,
    seconds: int = 3,
    kind: FeedbackKind = FeedbackKind.RECORDING,
) -> int:
    upload = arrived(made.caller, name, recording() if content is None else content)
    criterion = desk.desk(made.caller, made.task_id).criteria[0].id
    new = NewFeedback(upload, kind, criterion, None, " Listen ", seconds)
    return attach(made.caller, made.task_id, made.students[0], key, new).version


def there(made: Small) -> list[tuple[str, str]]:
    found = desk.work_at_desk(made.caller, made.task_id, made.students[0]).feedback
    return [(one.key, one.words) for one in found]


def number(made: Small) -> int:
    return desk.work_at_desk(made.caller, made.task_id, made.students[0]).feedback[0].id


def change(made: Small, words: str | None, based_on: int) -> int:
    args = (made.caller, made.task_id, made.students[0], KEY, words, based_on)
    return change_feedback(*args).version


def test_a_recording_is_kept_with_its_words_and_sent_twice_is_one(made: Small) -> None:
    seen = record(made)
    assert record(made) == seen
    assert there(made) == [(KEY, "Listen")]
    (found,) = desk.work_at_desk(made.caller, made.task_id, made.students[0]).feedback
    assert (found.criterion_key, found.seconds, found.size) == ("a", 3, len(recording()))
    assert feedback_file(made.caller, found.id).path.read_bytes() == recording()
    changed = change(made, "Listen to the end", seen)
    with pytest.raises(Stale):
        change(made, "Other words", seen)
    gone = change(made, None, changed)
    assert there(made) == []
    assert change(made, None, gone) == gone
    with pytest.raises(Stale, match="deleted in another tab"):
        change(made, "Still?", gone)
    # The history brings it back.
    args = (made.caller, made.task_id, made.students[0])
    history.go_back(*args, changed, gone)
    assert there(made) == [(KEY, "Listen to the end")]


@pytest.mark.parametrize(
    ("bad", "says"),
    [
        ({"seconds": 0}, "is empty"),
        ({"seconds": 7200}, "at most 10 minutes"),
        ({"content": b"only words", "name": "voice.webm"}, "no recording that browsers can play"),
        ({"key": "Short"}, "A key is"),
    ],
)
def test_what_is_no_recording_is_refused(made: Small, bad: dict[str, object], says: str) -> None:
    with pytest.raises(Refused, match=says):
        record(made, **bad)  # type: ignore[arg-type]
    assert there(made) == []


def test_any_file_can_be_given_back_and_none_is_swept(made: Small) -> None:
    record(made, b"See the second leg", "marked.txt", kind=FeedbackKind.FILE, seconds=99)
    later = timedelta(days=3)
    sweep(made.caller.database, made.caller.now + later, clock.device_time() + later)
    file = feedback_file(made.caller, number(made))
    assert (file.name, file.path.read_bytes()) == ("marked.txt", b"See the second leg")


def test_a_student_hears_what_was_handed_back_and_nothing_else(
    made: Small, other_teacher: Teacher
) -> None:
    own, other = (Student(made.caller.database, one, made.caller.now) for one in made.students)
    seen = record(made)
    first = number(made)
    for anybody in (own, other, other_teacher):
        with pytest.raises(NotFound):
            feedback_file(anybody, first)
    made.mark(made.students[0], 3, 3)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    assert feedback_file(own, first).name == "voice.wav"
    with pytest.raises(NotFound):
        feedback_file(other, first)
    # Changed since: the words that were handed back are seen, and the new ones are not.
    change(made, "Changed", seen)
    (shown,) = results.own_result(own, made.task_id).feedback
    assert (shown.words, shown.id) == ("Listen", first)
    with pytest.raises(NotFound):
        feedback_file(own, number(made))
    handing_back.take_back(made.caller, made.task_id, [made.students[0]])
    with pytest.raises(NotFound):
        feedback_file(own, first)
