"""Files on their way in, kept, shown, swept, and copied with the database."""

from __future__ import annotations

import hashlib
import os
import shutil
from datetime import timedelta

import pytest

from jade_ladder.core.errors import (
    BeingPrepared,
    NotFound,
    Refused,
    Stale,
    StoreError,
    Unavailable,
)
from jade_ladder.core.passage import Place, Shape, ShapeKind
from jade_ladder.formats.files.document import MOST_SHOWN
from jade_ladder.formats.files.kind import FileKind
from jade_ladder.outside import clock, conversion
from jade_ladder.service.files import preparing, showing, uploads
from jade_ladder.service.files.sweeping import sweep
from jade_ladder.service.marking import passages
from jade_ladder.service.marking.passages import NewPassage
from jade_ladder.service.reports.work_archive import work_archive
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import parts
from jade_ladder.store.files import contents as content_store
from jade_ladder.store.files import files as file_store
from jade_ladder.store.files import preparation
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.files.files import FileRow
from jade_ladder.store.files.keeping import copy_files, file_faults
from jade_ladder.store.shared.backup import back_up
from jade_ladder.store.shared.rows import fetch
from tests.builders import Small, arrived, at, small
from tests.samples import docx, jpeg, png

KEY = "a-key-of-mine"


@pytest.fixture
def made(caller: Teacher) -> Small:
    return small(caller)


def take(caller: Teacher, upload_id: int, at: int, piece: bytes) -> None:
    _, receiving = uploads.receive(caller, upload_id, at)
    with receiving as write:
        write(piece)


def named(caller: Teacher, name: str, content: bytes) -> FileRow:
    """A file that was brought in and named, and made ready to be shown."""
    number = waiting(caller, name, content).id
    preparing.prepare_all(caller.database, caller.now)
    with caller.reading() as db:
        (row,) = fetch(
            db, FileRow, "SELECT id, hash, size, kind, media_type FROM file WHERE id = ?", (number,)
        )
    return row


def waiting(caller: Teacher, name: str, content: bytes) -> FileRow:
    """A file that was brought in and named, and waits to be made ready."""
    brought = uploads.bring_in(caller, arrived(caller, name, content))
    with caller.transaction() as db:
        return brought.named(db, caller)


def test_a_file_arrives_in_pieces_and_is_resumed_where_it_was(caller: Teacher) -> None:
    begun = uploads.begin_upload(caller, KEY, "../leg.txt", 7)
    assert uploads.begin_upload(caller, KEY, "../leg.txt", 7) == begun, "begun twice is one"
    take(caller, begun.row.id, 0, b"Leg")
    with pytest.raises(Stale) as stale:
        take(caller, begun.row.id, 0, b"XXX")
    assert stale.value.current == 3
    with pytest.raises(Stale):
        uploads.bring_in(caller, begun.row.id)
    again = uploads.begin_upload(caller, KEY, "../leg.txt", 7)
    assert again.received == 3
    take(caller, begun.row.id, 3, b" one")
    kept = uploads.bring_in(caller, begun.row.id)
    assert (kept.name, kept.type.kind, kept.size) == ("leg.txt", FileKind.TEXT, 7)
    place = Contents.of(caller.database).path(kept.hash)
    assert place.read_bytes() == b"Leg one"
    assert place.stat().st_mode & 0o777 == 0o600
    assert kept.sent_hash == kept.hash
    assert uploads.bring_in(caller, begun.row.id) == kept, "repeated, it is one"


@pytest.mark.parametrize(
    ("key", "name", "size", "field"),
    [
        ("short", "a.txt", 1, "key"),
        ("a/../../key", "a.txt", 1, "key"),
        (KEY, "a.txt", 0, "size"),
        (KEY, "a.txt", uploads.LARGEST_FILE + 1, "size"),
        (KEY, "a.ZIP", uploads.LARGEST_ARCHIVE + 1, "size"),
    ],
)
def test_what_cannot_be_sent_is_refused_before_it_is(
    caller: Teacher, key: str, name: str, size: int, field: str
) -> None:
    with pytest.raises(Refused) as refused:
        uploads.begin_upload(caller, key, name, size)
    assert refused.value.field == field


def test_nobody_fills_the_disk_with_files_that_go_nowhere(caller: Teacher) -> None:
    for number in range(6):
        uploads.begin_upload(caller, f"{KEY}{number}", "a.bin", uploads.LARGEST_FILE)
    with pytest.raises(Refused, match="on their way"):
        uploads.begin_upload(caller, KEY, "a.bin", 1)


def test_an_upload_is_its_senders_alone(caller: Teacher, other_teacher: Teacher) -> None:
    number = arrived(caller, "leg.txt", b"Leg one")
    for operation in (uploads.standing_upload, uploads.bring_in, uploads.give_up):
        with pytest.raises(NotFound):
            operation(other_teacher, number)
    uploads.give_up(caller, number)
    assert not Contents.of(caller.database).incoming(number).exists()


def test_two_senders_at_once_never_mix_a_file(caller: Teacher) -> None:
    number = uploads.begin_upload(caller, KEY, "leg.txt", 7).row.id
    _, first = uploads.receive(caller, number, 0)
    _, second = uploads.receive(caller, number, 0)
    with first as write:
        with pytest.raises(Unavailable), second:
            pass
        write(b"Leg one")
    # It may be kept under another name by now: it is never written over.
    _, late = uploads.receive(caller, number, 0)
    with pytest.raises(Stale), late:
        pass


def test_a_full_disk_keeps_what_has_arrived_and_is_told(
    caller: Teacher, monkeypatch: pytest.MonkeyPatch
) -> None:
    number = uploads.begin_upload(caller, KEY, "leg.txt", 7).row.id
    take(caller, number, 0, b"Leg")

    def full(*_: object) -> int:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr(content_store.os, "write", full)
        with pytest.raises(Unavailable, match="the disk is full"):
            take(caller, number, 3, b" one")
    assert uploads.standing_upload(caller, number).received == 3
    take(caller, number, 3, b" one")
    with monkeypatch.context() as patch:
        patch.setattr(content_store, "sync", full)
        with pytest.raises(Unavailable, match="the disk is full"):
            uploads.bring_in(caller, number)
    assert list(Contents.of(caller.database).hashes()) == [], "nothing half is left"
    assert uploads.bring_in(caller, number).size == 7


def test_a_photograph_is_kept_upright_and_the_receipt_is_of_what_was_sent(made: Small) -> None:
    caller = made.caller
    sent = jpeg(size=(40, 20), turned=6, camera="A camera")
    part = parts.add_work_file(
        caller, made.task_id, made.students[0], arrived(caller, "map.jpg", sent)
    )
    assert part.file_kind is FileKind.PICTURE
    # Until it is written anew it is neither served, nor marked, nor taken along.
    assert parts.part_shown(caller, part.id).preparing
    with pytest.raises(BeingPrepared):
        parts.part_file(caller, part.id)
    box = Place(shape=Shape(ShapeKind.BOX, 1, 1, 1, 9, 9, 40, 20))
    drawn = NewPassage(part.id, None, "Where is north?", box)
    with pytest.raises(BeingPrepared):
        passages.remark_on_passage(
            caller, made.task_id, made.students[0], "a-first-passage", drawn, 0
        )
    with pytest.raises(BeingPrepared), work_archive(caller, made.task_id):
        pass
    # A process that was killed in the middle of it leaves it waiting.
    with pytest.raises(Unavailable):
        preparing.prepare(
            caller.database, preparing.waiting(caller.database)[1], caller.now, lambda: True
        )
    assert parts.part_shown(caller, part.id).preparing
    preparing.prepare_all(caller.database, caller.now)
    kept = parts.part_file(caller, part.id).path.read_bytes()
    assert b"A camera" in sent
    assert b"A camera" not in kept
    with caller.reading() as db:
        hashes = db.execute("SELECT sent_hash FROM work_part").fetchone()
        named_now = set(file_store.named_hashes(db))
    assert hashes == (hashlib.sha256(sent).hexdigest(),)
    assert hashes[0] not in named_now, "what was sent is swept"


def test_the_same_picture_sent_twice_is_one_file_wherever_it_is_named(made: Small) -> None:
    caller, sent = made.caller, jpeg(size=(40, 20), camera="A camera")
    for which, name in enumerate(("map.jpg", "again.jpg")):
        parts.add_work_file(caller, made.task_id, made.students[which], arrived(caller, name, sent))
        if which == 0:
            preparing.prepare_all(caller.database, caller.now)
    preparing.prepare_all(caller.database, caller.now)
    with caller.reading() as db:
        assert db.execute("SELECT count(*), count(DISTINCT hash) FROM file").fetchone() == (1, 1)
        assert db.execute("SELECT count(DISTINCT file_id) FROM work_part").fetchone() == (1,)


def test_every_place_where_a_file_is_named_is_known(caller: Teacher) -> None:
    with caller.reading() as db:
        tables = [
            name for (name,) in db.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")
        ]
        named_in = {
            (table, key[3])
            for table in tables
            for key in db.execute(f"PRAGMA foreign_key_list({table})")
            if key[2] == "file"
        }
    assert named_in == {
        *preparation.REFERENCES,
        ("shown_document", "file_id"),
        ("preparation", "file_id"),
    }


def test_a_picture_that_is_damaged_is_there_to_download(caller: Teacher) -> None:
    kept = named(caller, "map.png", png()[:40])
    assert (kept.kind, kept.media_type) == (FileKind.OTHER, "application/octet-stream")
    assert showing.ready_path(caller.database, kept).read_bytes() == png()[:40]


def test_a_document_is_worked_out_once_and_anew_by_another_converter(
    caller: Teacher, monkeypatch: pytest.MonkeyPatch
) -> None:
    sent = docx("Leg one", picture=png())
    row = waiting(caller, "card.docx", sent)
    assert showing.shown_of(caller, row) == showing.Shown(preparing=True)
    preparing.prepare_all(caller.database, caller.now)
    found = showing.shown_of(caller, row)
    assert (found.words, found.notes, found.problem, found.preparing) == (2, (), "", False)
    assert waiting(caller, "again.docx", sent).id == row.id
    assert preparing.waiting(caller.database) == {}, "the same document is ready already"
    with monkeypatch.context() as patch:
        patch.setattr(showing, "CONVERTER", 99)
        assert showing.shown_of(caller, row).preparing
        patch.setattr(preparing, "CONVERTER", 99)
        preparing.prepare_all(caller.database, caller.now)
        assert showing.shown_of(caller, row).html == found.html
    picture = showing.picture_of(caller.database, row, 1)
    assert Contents.of(caller.database).path(picture.hash).read_bytes() == png()
    with pytest.raises(NotFound):
        showing.picture_of(caller.database, row, 2)


def test_markdown_that_takes_for_ever_is_shown_as_it_is_written(
    caller: Teacher, monkeypatch: pytest.MonkeyPatch
) -> None:
    row = waiting(caller, "notes.md", b"[" * 300_000)
    assert showing.shown_of(caller, row).preparing
    monkeypatch.setattr(conversion, "LONGEST_WAIT", 0.5)
    preparing.prepare_all(caller.database, caller.now)
    found = showing.shown_of(caller, row)
    assert (found.html, found.problem, found.text) == ("", "", "[" * 300_000)


def test_a_document_that_cannot_be_shown_says_so(caller: Teacher) -> None:
    kept = named(caller, "card.docx", docx("Leg", body="<w:p><w:x"))
    assert "downloaded" in showing.shown_of(caller, kept).problem


@pytest.mark.parametrize(
    ("name", "content", "what"),
    [
        ("a.md", b"# Leg\n\n<script>x</script>![p](http://x.example/p.png)", "html"),
        ("a.csv", "leg;bearing\n1;42\n".encode("utf-16"), "rows"),
        ("a.txt", b"Leg <b>one</b>", "text"),
        ("a.txt", "slippen på".encode("cp1252"), "text"),
        ("a.txt", b"word " * 300_000, "text"),
        ("a.csv", b"1,2\n" * 900, "rows"),
    ],
)
def test_what_is_text_is_shown_as_that(
    caller: Teacher, name: str, content: bytes, what: str
) -> None:
    kept = named(caller, name, content)
    found = showing.shown_of(caller, kept)
    given = {"html": found.html, "text": found.text, "rows": found.rows}
    assert [one for one, value in given.items() if value] == [what]
    assert "<script" not in found.html
    assert "<img" not in found.html
    large = len(content) > MOST_SHOWN or content.count(b"\n") > showing.MOST_ROWS
    assert bool(found.notes) is large
    assert "på" in found.text or "p\xe5".encode("cp1252") not in content


def test_a_text_that_is_none_says_so(caller: Teacher) -> None:
    kept = named(caller, "a.txt", b"\xff\xfe\x00")
    found = showing.shown_of(caller, kept)
    assert found.problem == "This text cannot be read here: download it"


# Sweeping, and copies of the data


def test_what_nothing_names_is_swept_after_a_day_and_nothing_else_is(made: Small) -> None:
    caller = made.caller
    contents = Contents.of(caller.database)
    part = parts.add_work_file(
        caller,
        made.task_id,
        made.students[0],
        arrived(caller, "card.docx", docx("Leg", picture=png())),
    )
    named(caller, "gone.docx", docx("Gone", picture=png((9, 9))))
    preparing.prepare_all(caller.database, caller.now)
    begun = uploads.begin_upload(caller, KEY, "half.txt", 9).row.id
    take(caller, begun, 0, b"half")
    there = set(contents.hashes())
    assert len(there) == 4
    assert sweep(caller.database, caller.now, clock.device_time()) == 0
    left = contents.folder / "incoming" / "work-killed"
    left.mkdir()
    (left / "page.html").write_text("half a page")
    # As if two days had passed.
    for place in contents.folder.rglob("*"):
        os.utime(place, (0, 0))
    later = at(caller, 2).now
    with contents.unswept():
        assert sweep(caller.database, later, later) == 0, "not while a backup is made"
    assert sweep(caller.database, later, later) == 6, (
        "a document, its picture, three that arrived, and what a killed conversion worked in"
    )
    assert not left.exists()
    with caller.reading() as db:
        assert set(contents.hashes()) == set(file_store.named_hashes(db))
    assert parts.part_file(caller, part.id).path.is_file()
    assert len(list(contents.hashes())) == 2
    assert not contents.incoming(begun).exists()


def test_a_copy_of_the_data_has_its_files_and_says_what_is_missing(made: Small) -> None:
    caller, database = made.caller, made.caller.database
    source = Contents.of(database)
    folder = database.path.parent / "copies"
    folder.mkdir()
    for day, content in enumerate((b"Leg one", b"Leg two")):
        number = arrived(caller, f"{day}.txt", content)
        parts.add_work_file(caller, made.task_id, made.students[0], number)
        copy = folder / f"{day}.sqlite3"
        back_up(database, copy)
        target = Contents(folder / "jade-ladder-files")
        assert copy_files(copy, source, target) == 1, "each file is copied once"
        assert file_faults(copy) == []
    first, second = target.hashes()
    target.place(first).write_bytes(b"Leg six")
    target.place(second).unlink()
    assert [fault.split(":")[0] for fault in file_faults(copy)] == [
        "a file is damaged",
        "a file is missing",
    ]
    with pytest.raises(StoreError, match="missing"):
        copy_files(copy, target, Contents(folder / "elsewhere"))
    # What a restoring has put aside keeps its files, for as long as it is there.
    aside = database.path.with_name("jade-ladder-before-1.sqlite3")
    shutil.copy(copy, aside)
    with caller.transaction() as db:
        db.execute("DELETE FROM work_part")
    for place in source.folder.rglob("*"):
        os.utime(place, (0, 0))
    later = caller.now + timedelta(days=3)
    sweep(database, later, later)
    assert len(list(source.hashes())) == 2
    aside.write_bytes(b"torn")
    assert sweep(database, later, later) == 0
    aside.unlink()
    assert sweep(database, later, later) == 2
