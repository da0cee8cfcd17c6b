"""Collecting: whose a file is, archives, putting in at once, and undoing that."""

from __future__ import annotations

import io
import zipfile
from datetime import date, datetime, timedelta

import pytest

from jade_ladder.core.errors import NotFound, Refused, Stale
from jade_ladder.service.files import uploads
from jade_ladder.service.marking import desk
from jade_ladder.service.reports.work_archive import work_archive
from jade_ladder.service.shared.caller import Student, Teacher
from jade_ladder.service.work import attempts, collecting, handing_in, parts
from jade_ladder.service.work.matching import match_file
from jade_ladder.store.classes.students import StudentRow
from tests.builders import Small, arrived, everything, small
from tests.samples import zipped

BATCH = "a-batch-of-files"


def student(number: int, given: str, family: str, identifier: str | None = None) -> StudentRow:
    return StudentRow(number, given, family, identifier, date(2026, 9, 1), None)


CLASS = [
    student(1, "Farida", "Nasser", "T914"),
    student(2, "Thị Mai", "Phan", "T917"),
    student(3, "Zofia", "Żuraw-Brzozowska", "0042"),
    student(4, "Kaia", "Mwangi"),
    student(5, "Kaia", "Mwangi", "T999"),
    student(6, "Leif", "Aasen"),
    student(7, "Ann", "Lee"),
    student(8, "Mary Ann", "Lee"),
    student(9, "Bo", "Ek"),
]


@pytest.mark.parametrize(
    ("name", "folder", "ids", "sure"),
    [
        ("Farida Nasser.docx", "", (1,), True),
        ("nasser_farida-final v2.pdf", "", (1,), True),
        ("NasserFarida.pdf", "", (1,), True),
        ("nasserfarida_card.pdf", "", (1,), True),
        ("route card t914.docx", "", (1,), True),
        ("Phan, Thi Mai.txt", "", (2,), True),
        ("Zuraw Brzozowska Zofia.jpg", "", (3,), True),
        ("0042.jpg", "", (3,), True),
        ("42.jpg", "", (), False),
        ("kaia mwangi.txt", "", (4, 5), False),
        ("kaia mwangi T999.txt", "", (5,), True),
        ("nasser.txt", "", (1,), False),
        ("lee.txt", "", (7, 8), False),
        ("Ann Lee.txt", "", (7,), True),
        ("Mary Ann Lee.txt", "", (8,), True),
        ("T914 T917.txt", "", (1, 2), False),
        ("card.docx", "Nasser Farida (T914)", (1,), True),
        ("Leif Aasen.docx", "work of the class", (6,), True),
        ("Leif Aasen.docx", "Nasser Farida", (1,), True),
        ("essay.docx", "", (), False),
        ("ebook.docx", "", (), False),
        (".docx", "", (), False),
    ],
)
def test_whose_a_file_is(name: str, folder: str, ids: tuple[int, ...], sure: bool) -> None:
    found = match_file(name, folder, CLASS)
    assert (found.student_ids, found.sure) == (ids, sure)
    said = any(one.isdigit() for one in f"{name} {folder}") and bool(ids) and "v2" not in name
    assert found.by_identifier is said


@pytest.fixture
def made(caller: Teacher) -> Small:
    return small(caller)


def at_desk(made: Small, which: int) -> list[str | None]:
    work = desk.work_at_desk(made.caller, made.task_id, made.students[which])
    return [part.file_name for part in work.parts]


def collect(
    made: Small, upload_id: int, entry: int, which: int, done: datetime | None = None
) -> int:
    whose = made.students[which]
    return collecting.collect_file(
        made.caller, made.task_id, whose, upload_id, entry, BATCH, done
    ).id


def test_an_archive_is_matched_put_in_and_undone_as_one(made: Small) -> None:
    """Aino Berg and Zoe Anders are the class; Zoe's work has been marked meanwhile."""
    content = zipped(
        {
            "Berg Aino/card.txt": b"Leg one",
            "Berg Aino/map.txt": b"North is up",
            "zoe.txt": b"Leg two",
            "../../Aino Berg.txt": b"elsewhere",
            "empty Aino Berg.txt": b"",
            "__MACOSX/Berg Aino/._card.txt": b"junk",
        }
    )
    archive = arrived(made.caller, "all.zip", content)
    alone = arrived(made.caller, "S2.txt", b"By itself")
    before = everything(made.caller.database)
    found = collecting.arrived_files(made.caller, made.task_id, [archive, alone, archive])
    first, second = made.students
    assert [(one.entry, one.name, one.match.student_ids, one.match.sure) for one in found] == [
        (1, "card.txt", (first,), True),
        (2, "map.txt", (first,), True),
        (3, "zoe.txt", (second,), False),
        (4, "Aino Berg.txt", (), False),
        (5, "empty Aino Berg.txt", (), False),
        (0, "S2.txt", (second,), True),
    ]
    assert [bool(one.problem) for one in found] == [False, False, False, True, True, False]
    assert everything(made.caller.database) == before, "nothing is put in by looking"
    when = made.caller.now - timedelta(hours=1)
    number = collect(made, archive, 1, 0, when)
    assert collect(made, archive, 1, 0, when) == number, "sent twice, it is one"
    collect(made, archive, 2, 0)
    collect(made, archive, 3, 1)
    collect(made, alone, 0, 1)
    assert (at_desk(made, 0), at_desk(made, 1)) == (
        ["card.txt", "map.txt"],
        ["zoe.txt", "S2.txt"],
    )
    for entry in (4, 5):
        with pytest.raises(Refused, match="cannot be taken out"):
            collect(made, archive, entry, 0)
    with pytest.raises(NotFound):
        collect(made, archive, 6, 0)
    uploads.give_up(made.caller, archive)
    made.mark(second, 3, 3)
    assert collecting.undo_collecting(made.caller, made.task_id, BATCH) == 4
    assert (at_desk(made, 0), at_desk(made, 1)) == ([], [])
    where = desk.desk(made.caller, made.task_id).task.students
    states = {one.row.student_id: (one.row.attempt_id is not None, one.state) for one in where}
    assert states[first][0] is False, "as before"
    assert states[second] == (True, "done"), "what was marked stays marked"
    assert collecting.undo_collecting(made.caller, made.task_id, BATCH) == 0


def test_undoing_leaves_what_was_there(made: Small) -> None:
    own = Student(made.caller.database, made.students[0], made.caller.now)
    handing_in.hand_in(own, made.task_id, "Leg one", 0)
    attempts.enter_work(made.caller, made.task_id, made.students[1], "On paper")
    for which in (0, 1):
        collect(made, arrived(made.caller, f"{which}.txt", b"More"), 0, which)
    collecting.undo_collecting(made.caller, made.task_id, BATCH)
    for which, text in enumerate(("Leg one", "On paper")):
        work = desk.work_at_desk(made.caller, made.task_id, made.students[which])
        assert [part.text for part in work.parts] == [text]


def test_an_archive_that_cannot_be_read_is_named(made: Small) -> None:
    broken = arrived(made.caller, "all.zip", b"PK\x03\x04 and no more")
    with pytest.raises(Refused, match=r"all\.zip"):
        collecting.arrived_files(made.caller, made.task_id, [broken])
    half = uploads.begin_upload(made.caller, "half-of-a-file", "half.txt", 5).row.id
    with pytest.raises(Refused, match="not arrived whole"):
        collecting.arrived_files(made.caller, made.task_id, [half])
    with pytest.raises(Refused, match="8 to 64"):
        collecting.collect_file(made.caller, made.task_id, made.students[0], half, 0, "b")
    none = uploads.begin_upload(made.caller, "none-of-an-archive", "all.zip", 50).row.id
    for entry in (0, 1):
        with pytest.raises(Stale, match="not arrived whole"):
            collect(made, none, entry, 0)


def test_an_archive_shows_marks_that_would_turn_a_name_round(made: Small) -> None:
    sent = arrived(made.caller, "all.zip", zipped({"S1 plan\u202efdp.exe": b"North"}))
    (one,) = collecting.arrived_files(made.caller, made.task_id, [sent])
    assert one.name == "S1 plan⟨U+202E⟩fdp.exe"
    collect(made, sent, 1, 0)
    (part,) = desk.work_at_desk(made.caller, made.task_id, made.students[0]).parts
    assert part.file_name == "S1 planfdp.exe"


def test_all_work_is_taken_along_as_one_archive(made: Small) -> None:
    first, second = made.students
    attempts.enter_work(made.caller, made.task_id, first, "Leg one")
    for content in (b"a", b"b"):
        upload = arrived(made.caller, "card.txt", content)
        parts.add_work_file(made.caller, made.task_id, first, upload)
    own = Student(made.caller.database, second, made.caller.now)
    link = parts.add_own_link(own, made.task_id, "https://tern.example")
    handing_in.hand_in(own, made.task_id, "", 0, None, [link.id])
    made.mark(first, 3, 3)
    with (
        work_archive(made.caller, made.task_id) as (path, name),
        zipfile.ZipFile(io.BytesIO(path.read_bytes())) as archive,
    ):
        files = {one: archive.read(one) for one in archive.namelist()}
    assert not path.exists(), "it is there only while it is sent"
    assert name == "Route.zip"
    assert b"Aino Berg" in files.pop("marks.csv")
    assert files == {
        "Anders Zoe S2/link.txt": b"https://tern.example",
        "Berg Aino S1/text.txt": b"Leg one",
        "Berg Aino S1/card.txt": b"a",
        "Berg Aino S1/card (2).txt": b"b",
    }
