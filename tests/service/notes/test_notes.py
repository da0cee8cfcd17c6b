"""Observation notes: evidence at once, changed with their history kept, theirs once shown."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from fractions import Fraction

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.core.evidence import note_value
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.numbers import round_half_up
from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.demo.files import recording
from jade_ladder.service.changes import many_outcomes
from jade_ladder.service.changes.many_outcomes import OutcomeChanges
from jade_ladder.service.changes.times import note_effects, time_effects
from jade_ladder.service.marking import again
from jade_ladder.service.mastery.own_ladder import own_ladder
from jade_ladder.service.mastery.setting_aside import set_evidence_aside
from jade_ladder.service.mastery.trail import trail
from jade_ladder.service.mastery.wall import wall
from jade_ladder.service.notes import note_files, notes
from jade_ladder.service.notes.notes import NoteWords, WholeNote
from jade_ladder.service.outcomes import methods, scales
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.work import attempts
from jade_ladder.store.files import files as file_store
from tests.builders import Small, arrived, at, small, undone

# Of the scale 1, 2, 3, 4 with mastery at 3 (cut 2.75), by the newest piece unless said otherwise.


@pytest.fixture
def made(caller: Teacher) -> Small:
    return replace(small(at(caller, -20)), caller=at(caller, -10))


def write(made: Small, level: int, half_way: bool = False, **more: object) -> WholeNote:
    """A note of the first student on W1, of a level counted from 1."""
    key = f"note-{abs(hash((level, half_way, str(more)))):012d}"
    said = NoteWords(level - 1, half_way, **more)  # type: ignore[arg-type]
    row = notes.write_notes(
        made.caller, made.class_id, key, made.students[:1], made.outcomes[0], said
    )[0]
    return notes.get_note(made.caller, row.id)


def value(made: Small, caller: Teacher | None = None) -> int | None:
    """The first student's mastery of W1; the wall and the last point of the trail agree."""
    caller = caller or made.caller
    seen = wall(caller, made.class_id)
    row = [one.id for one in seen.students].index(made.students[0])
    found = seen.cells[row][0].mastery.value
    told = trail(caller, made.class_id, made.students[0], made.outcomes[0])
    assert found == (told.trail.points[-1].value if told.trail.points else None)
    return found


def shown(made: Small) -> tuple[int | None, list[str]]:
    """What the first student sees of W1: the value, and the words of notes."""
    student = Student(made.caller.database, made.students[0], made.caller.now)
    rung = own_ladder(student)[0].rungs[0]
    return rung.mastery.value, [one.row.words for one in rung.notes]


@pytest.mark.parametrize(
    ("level", "levels", "half_way", "values", "worth"),
    [
        (2, 4, False, (100, 200, 300, 400), 300),
        (2, 4, True, (100, 200, 300, 400), 350),
        (0, 3, True, (100, 175, 400), 138),
        # On another number of levels: the same place between the ends, rounded half up.
        (1, 3, False, (100, 200, 300, 400), 300),
        (1, 3, False, (100, 200, 300, 400, 500), 300),
        (2, 4, False, (0, 100), 100),
        (1, 4, False, (0, 100), 0),
        (0, 2, True, (100, 200, 300), 200),
        (3, 4, False, (1, 2, 3, 4, 5, 6, 7), 7),
    ],
)
def test_what_a_note_is_worth(
    level: int, levels: int, half_way: bool, values: tuple[int, ...], worth: int
) -> None:
    assert note_value(level, levels, half_way, values) == worth


def test_a_note_counts_at_once_and_stands_on_the_trail(made: Small) -> None:
    assert value(made) is None
    note = write(made, 3, True, words=" Kept the line in mist ")
    assert value(made) == 350
    piece = trail(made.caller, made.class_id, made.students[0], made.outcomes[0]).pieces[0]
    assert piece.note is not None
    assert (piece.note.row.words, piece.task_kind, piece.counted) == (
        "Kept the line in mist",
        None,
        True,
    )
    # The same one sent again is one, and of another student another.
    again_ = write(made, 3, True, words=" Kept the line in mist ")
    assert again_.row.id == note.row.id
    both = notes.write_notes(
        made.caller, made.class_id, "for-both", made.students, made.outcomes[0], NoteWords(1)
    )
    assert [one.student_id for one in both] == list(made.students)


def test_a_note_stands_after_attempts_of_the_same_moment(made: Small) -> None:
    latest = Method(MethodKind.LATEST)
    methods.change_class_method(made.caller, made.class_id, 1, latest)
    made.mark(made.students[0], 4, 4)
    write(made, 2)
    assert value(made) == 200
    moment = made.caller.now
    earlier = write(made, 1, seen_at=moment - timedelta(hours=1))
    assert value(made) == 200
    # The order of one day is changed by its time, and it says so first.
    told = note_effects(
        made.caller, made.class_id, (), 0, NoteWords(0, seen_at=moment), earlier.row.id
    )
    assert [(one.before.value, one.after.value) for one in told.changes] == [(200, 100)]
    notes.change_note(made.caller, earlier.row.id, NoteWords(0, seen_at=moment), 1)
    assert value(made) == 100


def test_a_note_is_previewed_as_it_would_be_written(made: Small) -> None:
    """Among other evidence of the same time, it stands where it will stand."""
    methods.change_class_method(made.caller, made.class_id, 1, Method(MethodKind.LATEST))
    moment = made.caller.now
    write(made, 3, seen_at=moment)
    made.mark(made.students[0], 4, 4)
    before, later = value(made), at(made.caller, 0.1)
    said = NoteWords(0, seen_at=moment)
    told = note_effects(later, made.class_id, made.students[:1], made.outcomes[0], said)
    notes.write_notes(
        later, made.class_id, "no-it-is-not", made.students[:1], made.outcomes[0], said
    )
    assert value(made) == 100
    assert [(one.before.value, one.after.value) for one in told.changes] == [(before, 100)]


def test_what_was_withdrawn_is_restored_before_it_is_changed(made: Small) -> None:
    note = write(made, 2, words="Early")
    notes.withdraw_note(made.caller, note.row.id, 1)
    for change in (
        lambda: notes.change_note(made.caller, note.row.id, NoteWords(0), 2),
        lambda: notes.set_note_aside(made.caller, note.row.id, "Noisy"),
        lambda: notes.show_note(made.caller, note.row.id, True),
    ):
        with pytest.raises(Refused, match="restore it"):
            change()
    restored = notes.withdraw_note(made.caller, note.row.id, 2, withdrawn=False)
    assert notes.change_note(made.caller, note.row.id, NoteWords(0), restored.row.version)


def test_every_version_is_kept_and_a_stale_change_is_told(made: Small) -> None:
    note = write(made, 2, words="Early")
    later = at(made.caller, 1)
    changed = notes.change_note(later, note.row.id, NoteWords(2, words="Later"), 1)
    assert [(one.level, one.words, one.version) for one in changed.versions] == [
        (2, "Later", 2),
        (1, "Early", 1),
    ]
    assert changed.row.seen_at == note.row.seen_at
    with pytest.raises(Stale, match="another tab"):
        notes.change_note(later, note.row.id, NoteWords(0), 1)
    assert notes.change_note(later, note.row.id, NoteWords(2, words="Later"), 1).row.version == 2
    notes.set_note_aside(later, note.row.id, "I mixed them up")
    assert value(made) is None
    assert wall(later, made.class_id).aside == {(made.students[0], made.outcomes[0]): 1}
    (piece,) = trail(later, made.class_id, made.students[0], made.outcomes[0]).pieces
    assert piece.aside is not None
    assert (piece.counted, piece.aside.reason, piece.aside.by) == (
        False,
        "I mixed them up",
        "Ilse Varga",
    )
    assert notes.change_note(later, note.row.id, NoteWords(3), 3).row.aside == "I mixed them up"
    notes.set_note_aside(later, note.row.id, None)
    assert value(made) == 400
    notes.withdraw_note(later, note.row.id, 5)
    assert value(made) is None
    assert trail(later, made.class_id, made.students[0], made.outcomes[0]).pieces == ()
    restored = notes.withdraw_note(later, note.row.id, 6, withdrawn=False)
    assert value(made) == 400
    assert [one.withdrawn for one in restored.versions][:3] == [False, True, False]


def test_a_student_sees_it_once_it_is_shown(made: Small) -> None:
    note = write(made, 3, words="Well paced")
    assert shown(made) == (None, [])
    notes.show_note(made.caller, note.row.id, True)
    assert shown(made) == (300, ["Well paced"])
    notes.set_note_aside(made.caller, note.row.id, "Not theirs")
    assert shown(made) == (None, [])
    notes.set_note_aside(made.caller, note.row.id, None)
    notes.show_note(made.caller, note.row.id, False)
    assert shown(made) == (None, [])


@pytest.mark.parametrize(
    ("said", "match", "field"),
    [
        ({"level": 4}, "Choose a level", "level"),
        ({"level": -1}, "Choose a level", "level"),
        ({"level": 3, "half_way": True}, "no half-way", "half_way"),
        ({"level": 0, "words": "x" * 5001}, "At most 5,000", "words"),
        ({"level": 0, "seen_at": datetime(2027, 1, 1)}, "has not come", "seen_at"),
        ({"level": 0, "seen_at": datetime(2026, 8, 31)}, "began on 2026-09-01", "seen_at"),
        ({"level": 0, "seen_at": datetime(1996, 1, 1)}, "slip of the keyboard", "seen_at"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(
    made: Small, said: dict[str, object], match: str, field: str
) -> None:
    words = NoteWords(**said)  # type: ignore[arg-type]
    args = (made.caller, made.class_id, "a-note-key", made.students[:1], made.outcomes[0], words)
    with pytest.raises(Refused, match=match) as refused:
        notes.write_notes(*args)
    assert refused.value.field == field
    note = write(made, 2)
    with pytest.raises(Refused, match=match):
        notes.change_note(made.caller, note.row.id, words, 1)


def test_whose_and_of_what_it_can_be(made: Small, other_teacher: Teacher) -> None:
    said = NoteWords(1)
    for students, outcome, match in (
        ((), made.outcomes[0], "Choose the students"),
        (made.students, 99, "does not teach"),
    ):
        with pytest.raises(Refused, match=match):
            notes.write_notes(made.caller, made.class_id, "a-note-key", students, outcome, said)
    with pytest.raises(NotFound):
        notes.write_notes(made.caller, made.class_id, "a-note-key", [1], made.outcomes[0], said)
    note = write(made, 2).row.id
    for call in (
        lambda: notes.get_note(other_teacher, note),
        lambda: notes.change_note(other_teacher, note, said, 1),
        lambda: notes.show_note(other_teacher, note, True),
    ):
        with pytest.raises(NotFound, match="no such note in your classes"):
            call()


def test_recordings_and_photographs_are_kept_while_the_note_names_them(made: Small) -> None:
    note = write(made, 2).row.id
    caller = made.caller
    voice = arrived(caller, "said.wav", recording())
    found = note_files.attach_to_note(caller, note, "a-recording", voice, True, 3)
    assert [(one.kind, one.seconds) for one in found.files] == [("recording", 3)]
    # Sent twice it is one; an empty one, and one that is none, are refused.
    assert len(note_files.attach_to_note(caller, note, "a-recording", voice, True, 3).files) == 1
    with pytest.raises(Refused, match="This recording is empty"):
        note_files.attach_to_note(caller, note, "another-one", voice, True, 0)
    text = arrived(caller, "said.txt", b"no sound")
    with pytest.raises(Refused, match="no recording that browsers can play"):
        note_files.attach_to_note(caller, note, "another-one", text, True, 3)
    file = found.files[0].id
    student = Student(caller.database, made.students[0], caller.now)
    with pytest.raises(NotFound):
        note_files.note_file(student, file)
    notes.show_note(caller, note, True)
    assert note_files.note_file(student, file).name == "said.wav"
    assert note_files.note_file(caller, file).path.is_file()
    assert note_files.delete_note_file(caller, note, file).files == ()
    with caller.transaction() as db:
        assert len(file_store.all_files(db)) == 1
        file_store.forget_unnamed(db, caller.now + timedelta(days=2))
        assert file_store.all_files(db) == [], "nothing names it any more"


@pytest.mark.parametrize(
    ("values", "half_way", "worth"),
    [((0, 100, 300), True, 100), ((0, 100, 200, 300, 900), False, 100), ((0, 10), True, 10)],
)
def test_a_note_keeps_its_place_on_another_scale_and_the_preview_says_so(
    made: Small, values: tuple[int, ...], half_way: bool, worth: int
) -> None:
    """Level 2 of 4 stands a third of the way up, half-way above it in the middle."""
    write(made, 2, half_way)
    levels = tuple(ScaleLevel(f"Step {one}", str(one), one, one) for one in values)
    other = scales.add_scale(made.caller, "Other steps", Scale(levels, 1))
    changes = OutcomeChanges(scale_id=other)
    args = (made.caller, made.class_id, [made.outcomes[0]], changes)
    (told,) = many_outcomes.preview_changes(*args)
    assert (told.before.value, told.after.value) == (250 if half_way else 200, worth)
    many_outcomes.change_outcomes(*args)
    assert value(made) == worth


_PIECES = st.lists(
    st.tuples(st.integers(1, 4), st.booleans(), st.integers(0, 3), st.integers(0, 5)), max_size=6
)


@settings(
    max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(_PIECES, st.lists(st.tuples(st.integers(1, 4), st.integers(0, 3)), max_size=3))
def test_notes_attempts_and_corrected_times_give_what_exact_fractions_give(
    made: Small, several: list[tuple[int, bool, int, int]], marked: list[tuple[int, int]]
) -> None:
    """Decaying average at 60% over any order of notes and tasks, some of them set aside."""
    student = made.students[0]
    with undone(made.caller.database):
        pieces: list[tuple[datetime, datetime, int, int, Fraction]] = []
        for n, (level, half_way, day, aside) in enumerate(several):
            half_way = half_way and level < 4
            now = at(made.caller, 5 + n / 100)
            seen = at(made.caller, day).now
            row = notes.write_notes(
                now,
                made.class_id,
                f"note-number-{n}",
                [student],
                made.outcomes[0],
                NoteWords(level - 1, half_way, "", seen),
            )[0]
            if aside == 0:
                notes.set_note_aside(now, row.id, "Not this one")
            else:
                worth = Fraction(level) + Fraction(half_way, 2)
                pieces.append((seen, now.now, 1, row.id, worth))
        later = at(made.caller, 6)
        for n, (level, day) in enumerate(marked):
            task_id = replace(made, caller=at(made.caller, -1)).new_task(f"Task {n}")
            when = at(made.caller, 5.5 + n / 100)
            made.mark(student, level, level, task_id=task_id, caller=when)
            done = at(made.caller, day).now
            told = time_effects(later, task_id, [student], done)
            before = value(made, later)
            attempts.correct_times(later, task_id, [student], done)
            after = value(made, later)
            moved = [one for one in told.changes if one.outcome.id == made.outcomes[0]]
            assert [(one.before.value, one.after.value) for one in moved] == (
                [] if before == after else [(before, after)]
            )
            pieces.append((done, when.now, 0, n, Fraction(level)))
        found: Fraction | None = None
        for *_, worth in sorted(pieces):
            found = worth if found is None else Fraction(3, 5) * worth + Fraction(2, 5) * found
        expected = None if found is None else round_half_up(found)
        assert value(made, later) == expected


def test_an_attempt_whose_note_has_its_number_is_no_note(made: Small) -> None:
    """Attempts and notes are numbered apart: what is said of one is not said of the other."""
    note = write(made, 2)
    made.mark(made.students[0], 4, 4)
    with made.caller.reading() as db:
        (attempt,) = db.execute("SELECT id FROM attempt").fetchone()
    assert attempt == note.row.id == 1
    set_evidence_aside(made.caller, made.task_id, [made.students[0]], "Noisy")
    assert value(made) == 200
    again.who_again(made.caller, made.task_id)
    (tried, noted) = trail(made.caller, made.class_id, made.students[0], made.outcomes[0]).pieces
    assert (noted.aside, noted.counted) == (None, True)
    assert tried.aside is not None
