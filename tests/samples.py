"""Small files of work, made by the tests."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping, Sequence

from PIL import Image

from jade_ladder.demo.files import pages_of

_W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
_R = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
_PACKAGE = "http://schemas.openxmlformats.org/package/2006"


def png(size: tuple[int, int] = (8, 4)) -> bytes:
    """A picture."""
    return _saved(Image.new("RGB", size, "navy"), "PNG")


def jpeg(size: tuple[int, int] = (8, 4), turned: int = 1, camera: str = "") -> bytes:
    """A photograph as a camera writes it: lying on its side, with what took it."""
    made = Image.new("RGB", size, "teal")
    exif = made.getexif()
    if turned != 1:
        exif[0x0112] = turned
    if camera:
        exif[0x010F] = camera
    return _saved(made, "JPEG", exif=exif)


def _saved(made: Image.Image, form: str, **options: object) -> bytes:
    out = io.BytesIO()
    made.save(out, form, **options)
    return out.getvalue()


def zipped(files: Mapping[str, bytes]) -> bytes:
    """A ZIP archive of files by name."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            # By name alone it would be dated now.
            archive.writestr(zipfile.ZipInfo(name), content, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def docx(
    text: str,
    body: str = "",
    picture: bytes | str | None = None,
    relations: str = "",
    more: Mapping[str, str] | None = None,
) -> bytes:
    """A word-processor document of a paragraph, with more of the format's XML behind it; a picture
    is in it, or (an address) somewhere else.
    """
    escaped = text.replace("&", "&amp;").replace("<", "&lt;")
    drawing = ""
    files: dict[str, bytes] = {}
    if picture is not None:
        kind = "r:embed" if isinstance(picture, bytes) else "r:link"
        drawing = (
            "<w:p><w:r><w:drawing><wp:inline xmlns:wp='http://schemas.openxmlformats.org/"
            "drawingml/2006/wordprocessingDrawing'><a:graphic xmlns:a='http://schemas."
            "openxmlformats.org/drawingml/2006/main'><a:graphicData><pic:pic xmlns:pic='http://"
            "schemas.openxmlformats.org/drawingml/2006/picture'><pic:blipFill><a:blip "
            f"{kind}='rId1'/></pic:blipFill></pic:pic></a:graphicData></a:graphic></wp:inline>"
            "</w:drawing></w:r></w:p>"
        )
        inside = isinstance(picture, bytes)
        place = "media/1.png" if inside else picture
        mode = "" if inside else " TargetMode='External'"
        relations += f"<Relationship Id='rId1' Type='{_R}/image' Target='{place}'{mode}/>"
        if isinstance(picture, bytes):
            files["word/media/1.png"] = picture
    document = (
        f"<w:document xmlns:w='{_W}' xmlns:r='{_R}' xmlns:m='http://schemas.openxmlformats.org/"
        f"officeDocument/2006/math'><w:body><w:p><w:r><w:t>{escaped}</w:t></w:r></w:p>{drawing}"
        f"{body}</w:body></w:document>"
    )
    types = (
        f"<Types xmlns='{_PACKAGE}/content-types'><Default Extension='xml' ContentType="
        "'application/xml'/><Default Extension='png' ContentType='image/png'/></Types>"
    )
    top = (
        f"<Relationships xmlns='{_PACKAGE}/relationships'><Relationship Id='rId1' "
        f"Type='{_R}/officeDocument' Target='word/document.xml'/></Relationships>"
    )
    own = f"<Relationships xmlns='{_PACKAGE}/relationships'>{relations}</Relationships>"
    return zipped(
        {
            "[Content_Types].xml": types.encode(),
            "_rels/.rels": top.encode(),
            "word/document.xml": document.encode(),
            "word/_rels/document.xml.rels": own.encode(),
            **files,
            **{name: content.encode() for name, content in (more or {}).items()},
        }
    )


def pdf(pages: Sequence[str], more: str = "") -> bytes:
    """A PDF with a line of text on each page, and more in its catalogue."""
    return pages_of([f"BT /F1 18 Tf 60 760 Td ({text}) Tj ET\n" for text in pages], more)


def locked_pdf() -> bytes:
    """A PDF that opens only with a password (which nobody knows)."""
    lock = "<< /Filter /Standard /V 1 /R 2 /P -4 /O <{0}> /U <{0}> >>".format("41" * 32)
    whole = pdf(["Nobody reads this"])
    return whole.replace(b"trailer <<", f"trailer << /Encrypt {lock} /ID [<00> <00>]".encode(), 1)
