"""Work of several kinds, made here: a document, a plan on pages, a sketch, a table, a recording."""

from __future__ import annotations

import io
import math
import struct
import wave
import zipfile
from collections.abc import Sequence

from PIL import Image, ImageDraw

_PACKAGE = "http://schemas.openxmlformats.org/package/2006"
_OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
_WORDS = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
_INK, _SEA, _LAND = "#23352e", "#cfdfe6", "#efe9d6"


def document(title: str, paragraphs: Sequence[str], table: Sequence[Sequence[str]] = ()) -> bytes:
    """A word-processor document (DOCX) with a heading, paragraphs and a table."""
    body = _paragraph(title, "Heading1") + "".join(_paragraph(text) for text in paragraphs)
    if table:
        cell = "<w:tc><w:tcPr/>{}</w:tc>"
        rows = (
            "<w:tr>" + "".join(cell.format(_paragraph(text)) for text in row) + "</w:tr>"
            for row in table
        )
        body += f"<w:tbl><w:tblPr/><w:tblGrid/>{''.join(rows)}</w:tbl>"
    types = (
        "<Default Extension='rels' ContentType='application/vnd.openxmlformats-package."
        "relationships+xml'/><Default Extension='xml' ContentType='application/xml'/>"
        "<Override PartName='/word/document.xml' ContentType='application/vnd.openxmlformats-"
        "officedocument.wordprocessingml.document.main+xml'/><Override PartName='/word/styles.xml' "
        "ContentType='application/vnd.openxmlformats-officedocument.wordprocessingml.styles+xml'/>"
    )
    styles = (
        "<w:style w:type='paragraph' w:styleId='Heading1'><w:name w:val='Heading 1'/><w:rPr><w:b/>"
        "<w:sz w:val='32'/></w:rPr></w:style>"
    )
    parts = {
        "[Content_Types].xml": f"<Types xmlns='{_PACKAGE}/content-types'>{types}</Types>",
        "_rels/.rels": _relations("officeDocument", "word/document.xml"),
        "word/document.xml": f"<w:document xmlns:w='{_WORDS}'><w:body>{body}</w:body></w:document>",
        "word/_rels/document.xml.rels": _relations("styles", "styles.xml"),
        "word/styles.xml": f"<w:styles xmlns:w='{_WORDS}'>{styles}</w:styles>",
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in parts.items():
            archive.writestr(name, f"<?xml version='1.0' encoding='UTF-8'?>{content}")
    return out.getvalue()


def _relations(kind: str, target: str) -> str:
    one = f"<Relationship Id='rId1' Type='{_OFFICE}/{kind}' Target='{target}'/>"
    return f"<Relationships xmlns='{_PACKAGE}/relationships'>{one}</Relationships>"


def _paragraph(text: str, style: str = "") -> str:
    escaped = text.replace("&", "&amp;").replace("<", "&lt;")
    look = f"<w:pPr><w:pStyle w:val='{style}'/></w:pPr>" if style else ""
    return f"<w:p>{look}<w:r><w:t xml:space='preserve'>{escaped}</w:t></w:r></w:p>"


def plan(pages: Sequence[Sequence[str]]) -> bytes:
    """A plan (PDF) with lines of text on each page, and the route beside them."""
    drawn_pages = []
    for lines in pages:
        drawn = "".join(
            f"BT /F1 {20 if at == 0 else 13} Tf 60 {760 - 26 * at} Td ({_escaped(line)}) Tj ET\n"
            for at, line in enumerate(lines)
        )
        drawn_pages.append(
            f"{drawn}0.14 0.21 0.18 RG 2 w 80 220 m 190 330 l 320 300 l 430 440 l S\n"
        )
    return pages_of(drawn_pages)


def pages_of(drawn_pages: Sequence[str], more: str = "") -> bytes:
    """A PDF of pages that are drawn by its operators, with more in its catalogue."""
    kids = " ".join(f"{4 + 2 * place} 0 R" for place in range(len(drawn_pages)))
    objects = [
        f"<< /Type /Catalog /Pages 2 0 R {more} >>",
        f"<< /Type /Pages /Kids [{kids}] /Count {len(drawn_pages)} >>",
        "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>",
    ]
    for place, drawn in enumerate(drawn_pages):
        objects.append(
            "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Resources "
            f"<< /Font << /F1 3 0 R >> >> /Contents {5 + 2 * place} 0 R >>"
        )
        objects.append(f"<< /Length {len(drawn)} >>\nstream\n{drawn}endstream")
    out, places = "%PDF-1.4\n", []
    for number, one in enumerate(objects, start=1):
        places.append(len(out))
        out += f"{number} 0 obj\n{one}\nendobj\n"
    table = "".join(f"{place:010d} 00000 n \n" for place in places)
    out += f"xref\n0 {len(objects) + 1}\n0000000000 65535 f \n{table}"
    out += f"trailer << /Size {len(objects) + 1} /Root 1 0 R >>\nstartxref\n{len(out)}\n%%EOF"
    return out.encode("cp1252")


def _escaped(line: str) -> str:
    return line.replace("\\", "\\\\").replace("(", "\\(").replace(")", "\\)")


def sketch(name: str, turn: float) -> bytes:
    """A sketch of the way on a photograph (JPEG): shore, contours, and the legs of the route."""
    made = Image.new("RGB", (1200, 800), _SEA)
    draw = ImageDraw.Draw(made)
    for ring in range(7):
        across, up = 480 - 62 * ring, 330 - 44 * ring
        middle_x, middle_y = 640 + 14 * ring, 400 - 9 * ring
        box = (middle_x - across, middle_y - up, middle_x + across, middle_y + up)
        draw.ellipse(box, outline=_INK, width=2, fill=_LAND if ring == 0 else None)
    legs = [
        (640 + 430 * math.cos(turn + leg), 400 + 270 * math.sin(turn + 1.6 * leg))
        for leg in (0.0, 0.5, 1.1, 1.9)
    ]
    draw.line(legs, fill="#8a2f1b", width=6)
    for at, (x, y) in enumerate(legs):
        draw.ellipse((x - 9, y - 9, x + 9, y + 9), fill="#8a2f1b")
        draw.text((x + 16, y - 8), f"{at + 1}", fill=_INK, font_size=30)
    draw.text((40, 730), name, fill=_INK, font_size=34)
    out = io.BytesIO()
    made.save(out, "JPEG", quality=80)
    return out.getvalue()


def table(rows: Sequence[Sequence[str]]) -> bytes:
    """A table (CSV)."""
    return "".join(",".join(row) + "\r\n" for row in rows).encode()


def recording(seconds: float = 2.0) -> bytes:
    """A recording (WAV): the buoy's bell, twice."""
    rate = 8000
    samples = [
        int(9000 * math.exp(-3 * (at / rate % 1)) * math.sin(2 * math.pi * 620 * at / rate))
        for at in range(int(seconds * rate))
    ]
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(rate)
        file.writeframes(struct.pack(f"<{len(samples)}h", *samples))
    return out.getvalue()
