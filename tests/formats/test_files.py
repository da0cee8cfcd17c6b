"""Files from outside: what each is, archives that mean harm, documents and photographs."""

from __future__ import annotations

import io
import struct
import tracemalloc
from pathlib import Path

import pytest
from PIL import Image

from jade_ladder.core.errors import Refused
from jade_ladder.formats.files.archive import Archive, leads_elsewhere
from jade_ladder.formats.files.document import shown_document
from jade_ladder.formats.files.kind import FileKind, type_of
from jade_ladder.formats.files.picture import upright
from tests.samples import docx, jpeg, pdf, png, zipped

KINDS = [
    (png(), "map.png", FileKind.PICTURE, "image/png"),
    (png(), "essay.pdf", FileKind.PICTURE, "image/png"),
    (jpeg(), "map.jpg", FileKind.PICTURE, "image/jpeg"),
    (pdf(["Leg one"]), "plan", FileKind.PDF, "application/pdf"),
    (docx("Leg one"), "card.docx", FileKind.DOCUMENT, "application/octet-stream"),
    (b"Leg one", "card.txt", FileKind.TEXT, "application/octet-stream"),
    (b"# Leg one", "card.MD", FileKind.MARKDOWN, "application/octet-stream"),
    (b"leg,bearing\n1,42\n", "legs.csv", FileKind.TABLE, "application/octet-stream"),
    ("Leg für".encode("utf-16"), "leg.txt", FileKind.TEXT, "application/octet-stream"),
    (b"<script>alert(1)</script>", "a.html", FileKind.TEXT, "application/octet-stream"),
    (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "a.svg", FileKind.TEXT, None),
    (b"ID3\x03\0\0\0\0\0\0", "leg.mp3", FileKind.AUDIO, "audio/mpeg"),
    (b"RIFF\0\0\0\0WAVEfmt ", "leg.wav", FileKind.AUDIO, "audio/wav"),
    (b"\x1aE\xdf\xa3\x01webm A_OPUS", "said.webm", FileKind.AUDIO, "audio/webm"),
    (b"\x1aE\xdf\xa3\x01webm V_VP8 A_OPUS", "film.webm", FileKind.VIDEO, "video/webm"),
    (b"GIF89a\1\0\1\0", "wave.gif", FileKind.OTHER, "application/octet-stream"),
    (b"MZ\x90\0\3\0\0\0", "card.docx", FileKind.OTHER, "application/octet-stream"),
    (b"\0\1\2\3", "card.txt", FileKind.OTHER, "application/octet-stream"),
    (zipped({"a.txt": b"a"}), "all.zip", FileKind.OTHER, "application/octet-stream"),
]


@pytest.mark.parametrize(
    ("head", "name", "kind", "sent_as"), KINDS, ids=[n for _, n, _, _ in KINDS]
)
def test_a_file_is_what_its_content_says(
    head: bytes, name: str, kind: FileKind, sent_as: str | None
) -> None:
    found = type_of(head, name)
    assert found.kind is kind
    assert found.media_type == (sent_as or "application/octet-stream")


# Archives


def test_an_archive_is_read_with_names_as_they_were_meant() -> None:
    content = zipped(
        {
            "Nasser Farida/card.txt": b"Leg one",
            "a\u0308rmel.txt": b"x",
            "__MACOSX/._card.txt": b"junk",
            "Nasser Farida/.DS_Store": b"junk",
            "folder/": b"",
        }
    )
    # In UTF-8, whether its flag says so or not, as some systems pack.
    for packed in (content, content.replace(b"\0\x08\x08\0", b"\0\0\x08\0")):
        names = [one.name for one in Archive(io.BytesIO(packed), 1000).entries]
        assert names == ["Nasser Farida/card.txt", "ärmel.txt"]
    archive = Archive(io.BytesIO(content), 1000)
    assert [one.folder for one in archive.entries] == ["Nasser Farida", ""]
    assert b"".join(archive.read(archive.entries[0])) == b"Leg one"


@pytest.mark.parametrize(
    ("name", "elsewhere"),
    [("../../etc/passwd", True), ("/etc/passwd", True), ("C:/x", True), ("a/b..c", False)],
)
def test_a_name_that_leads_elsewhere_is_known(name: str, elsewhere: bool) -> None:
    assert leads_elsewhere(name) is elsewhere


def overlapping() -> bytes:
    """Two entries of the directory that name the same bytes."""
    content = zipped({"a": b"0" * 1000})
    at = content.index(b"PK\x01\x02")
    end = content.index(b"PK\x05\x06")
    entry = content[at:end]
    tail = struct.pack("<4s4H2IH", b"PK\x05\x06", 0, 0, 2, 2, 2 * len(entry), at, 0)
    return content[:at] + entry * 2 + tail


def more_than_it_says() -> bytes:
    """An entry that unpacks to more than the directory says."""
    content = bytearray(zipped({"a": b"0" * 5000}))
    at = content.index(b"PK\x01\x02")
    content[at + 24 : at + 28] = struct.pack("<I", 10)
    return bytes(content)


def many(count: int, declared: int) -> bytes:
    """A directory of many entries that says it has fewer."""
    entry = struct.pack("<4s6H3I5H2I", b"PK\x01\x02", *[0] * 6, *[0] * 3, 1, *[0] * 4, 0, 0) + b"a"
    tail = struct.pack("<4s4H2IH", b"PK\x05\x06", 0, 0, declared, declared, count * 47, 0, 0)
    return entry * count + tail


HOSTILE = [
    ("nothing", b"", "no ZIP"),
    ("a text", b"PK but no archive", "no ZIP"),
    ("overlapping", overlapping(), "damaged"),
    ("a million entries", many(1_000_000, 10), "more than"),
    ("entries that are not said", many(30, 10), "damaged"),
    ("larger than allowed", zipped({"a": b"0" * 20_000}), "unpacks to more"),
    ("torn", zipped({"a": b"0" * 100})[:-30], "no ZIP"),
]


@pytest.mark.parametrize(
    ("content", "why"), [case[1:] for case in HOSTILE], ids=[c[0] for c in HOSTILE]
)
def test_an_archive_that_means_harm_is_refused_before_it_is_unpacked(
    content: bytes, why: str
) -> None:
    tracemalloc.start()
    with pytest.raises(Refused, match=why):
        Archive(io.BytesIO(content), 10_000)
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert most < 10_000_000, "nothing is made of each of its entries"


def test_bytes_are_counted_while_an_archive_is_unpacked() -> None:
    archive = Archive(io.BytesIO(more_than_it_says()), 100)
    with pytest.raises(Refused, match=r"damaged|unpacks to more"):
        list(archive.read(archive.entries[0]))


# Documents


def shown(content: bytes) -> tuple[str, tuple[str, ...], dict[int, bytes]]:
    pictures: dict[int, bytes] = {}
    found = shown_document(io.BytesIO(content), pictures.__setitem__)
    return found.html, found.left_out, pictures


def test_a_document_is_shown_with_its_pictures_by_number() -> None:
    html, left_out, pictures = shown(docx("Leg one & two", picture=png()))
    assert html.startswith("<p>Leg one &amp; two</p>")
    assert 'data-picture="1"' in html
    assert "src=" not in html
    assert pictures == {1: png()}
    assert left_out == ()


def test_what_is_not_shown_of_a_document_is_said() -> None:
    body = "<m:oMath><m:r/></m:oMath><w:p><w:commentReference w:id='1'/></w:p>"
    html, left_out, _ = shown(docx("Leg one", body=body, more={"word/header1.xml": "<w:hdr/>"}))
    assert "Leg one" in html
    assert left_out == (
        "1 equation is not shown",
        "1 comment is not shown",
        "Page headers and footers are not shown",
    )


def test_a_document_with_macros_and_outside_pictures_fetches_and_runs_nothing() -> None:
    content = docx(
        "Leg one", picture="https://tern.example/x.png", more={"word/vbaProject.bin": "x"}
    )
    html, left_out, pictures = shown(content)
    assert "tern.example" not in html
    assert pictures == {}
    assert "It has macros, which are not run" in left_out
    assert any("not in the document itself" in one for one in left_out)


BAD_DOCUMENTS = [
    zipped({"a.txt": b"no document"}),
    docx("Leg", more={"word/x.xml": "<!DOCTYPE x [<!ENTITY a 'aaaa'>]><x/>"}),
    docx("Leg", more={"word/big.xml": "0" * 31_000_000}),
    docx("Leg", body="<w:p><w:torn"),
    b"PK\x03\x04 torn",
]


@pytest.mark.parametrize("content", BAD_DOCUMENTS, ids=range(len(BAD_DOCUMENTS)))
def test_a_document_that_is_none_or_means_harm_is_refused(content: bytes) -> None:
    with pytest.raises(Refused):
        shown(content)


def test_a_link_in_a_document_runs_nothing() -> None:
    link = "<w:p><w:hyperlink r:id='rId9'><w:r><w:t>press</w:t></w:r></w:hyperlink></w:p>"
    relation = (
        "<Relationship Id='rId9' Type='http://schemas.openxmlformats.org/officeDocument/2006/"
        "relationships/hyperlink' Target='javascript:alert(1)' TargetMode='External'/>"
    )
    html, _, _ = shown(docx("Leg", body=link, relations=relation))
    assert "press" in html
    assert "javascript" not in html


# Photographs


def test_a_photograph_is_turned_upright_and_says_nothing_of_where_it_was_taken(
    tmp_path: Path,
) -> None:
    source, target = tmp_path / "in", tmp_path / "out"
    source.write_bytes(jpeg(size=(40, 20), turned=6, camera="A camera"))
    assert upright(source, "image/jpeg", target)
    with Image.open(target) as made:
        assert made.size == (20, 40)
        assert dict(made.getexif()) == {}
    assert b"A camera" not in target.read_bytes()


def test_a_picture_that_stands_upright_is_not_made_worse(tmp_path: Path) -> None:
    for content, media_type in ((jpeg(camera="A camera"), "image/jpeg"), (png(), "image/png")):
        source, target = tmp_path / "in", tmp_path / "out"
        source.write_bytes(content)
        assert upright(source, media_type, target)
        with Image.open(source) as before, Image.open(target) as after:
            assert before.tobytes() == after.tobytes()
            assert dict(after.getexif()) == {}


def test_a_picture_that_is_huge_or_damaged_is_not_shown(tmp_path: Path) -> None:
    source = tmp_path / "in"
    Image.new("1", (20_000, 20_000)).save(source, "PNG")
    assert not upright(source, "image/png", tmp_path / "out")
    source.write_bytes(png()[:40])
    with pytest.raises(Refused):
        upright(source, "image/png", tmp_path / "out")
