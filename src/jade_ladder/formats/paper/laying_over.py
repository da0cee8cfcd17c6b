"""Laying what was drawn over the pages of a PDF. Made for a process of its own: whoever made the
PDF may have meant it to harm.
"""

from __future__ import annotations

import warnings
from pathlib import Path
from typing import TYPE_CHECKING, Any

from jade_ladder.core.errors import Refused

if TYPE_CHECKING:
    from pypdf import PageObject, PdfReader
    from pypdf.generic import DictionaryObject

MOST_PAGES = 2_000
_ACTING = ("/A", "/AA", "/PA", "/JS", "/AF", "/EF", "/FS", "/MK", "/Action")
"""What a page, an annotation or a field does by itself or when it is touched, and files with it."""
_ACTS = frozenset(
    ("/FileAttachment", "/Sound", "/Movie", "/Screen", "/RichMedia", "/3D", "/Projection")
)
"""Annotations that are nothing else."""
_DEEPEST = 64


def lay_over(job: dict[str, Any], drawn: Path, target: Path) -> int:
    """Write the parts of a job (`job_of`) in their order, each page of a file with its layer over
    it, and the pages of remarks behind them; gives how many pages there are.

    Raises Refused for a PDF that is locked, damaged or too long.
    """
    from pypdf import PdfReader, PdfWriter

    written = PdfWriter()
    layers = {(one["file"], one["page"]): at for at, one in enumerate(job["layers"])}
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        remarks = PdfReader(drawn)
        begins = _begins(remarks, len(job["sets"]))
        for kind, file in job["order"]:
            if kind == "set":
                for page in remarks.pages[begins[file] : begins[file + 1]]:
                    written.add_page(page)
                continue
            path = job["files"][file]
            try:
                source = PdfReader(path)
                if source.is_encrypted and not source.decrypt(""):
                    raise Refused("This PDF opens only with a password: print the page instead")
                if len(source.pages) + len(written.pages) > MOST_PAGES:
                    raise Refused(f"More than {MOST_PAGES:,} pages: print the page instead")
                # All of them first: a page that another one leads to goes along with it.
                for page in source.pages:
                    _take_actions_away(page)
                for number, page in enumerate(source.pages, 1):
                    added = written.add_page(page)
                    at = layers.get((file, number))
                    if at is not None:
                        _merge(added, remarks.pages[at])
            except Refused:
                raise
            except Exception as error:
                # There are as many ways to be damaged.
                raise Refused("This PDF is damaged, or none: print the page instead") from error
        for page in remarks.pages[begins[-1] :]:
            written.add_page(page)
        written.write(target)
    return len(written.pages)


def _begins(remarks: PdfReader, sets: int) -> list[int]:
    """Give the pages, from 0, on which each part that was set begins, and then the remarks, by the
    bookmarks that the typesetter made.
    """
    from pypdf.generic import Destination

    marks = [one for one in remarks.outline if isinstance(one, Destination)]
    pages = [remarks.get_destination_page_number(one) for one in marks[: sets + 1]]
    if len(pages) != sets + 1 or None in pages:
        raise Refused("The remarks cannot be set on pages")
    return [page or 0 for page in pages]


def _take_actions_away(page: PageObject) -> None:
    """Leave of a page what is seen of it: scripts, links and other actions of the page, of its
    annotations and of the fields that they belong to stay behind, attached files with them.
    """
    from pypdf.generic import ArrayObject, DictionaryObject, NameObject

    _strip(page)
    annotations = page.get("/Annots")
    annotations = annotations.get_object() if annotations is not None else None
    if not isinstance(annotations, ArrayObject):
        page.pop("/Annots", None)
        return
    kept = ArrayObject()
    for one in annotations:
        found = one.get_object()
        if isinstance(found, DictionaryObject) and found.get("/Subtype") not in _ACTS:
            _strip_field(found)
            kept.append(one)
    page[NameObject("/Annots")] = kept


def _strip_field(field: DictionaryObject) -> None:
    """Strip an annotation, what it opens, and the fields above it, whose actions are its own."""
    from pypdf.generic import DictionaryObject

    for _ in range(_DEEPEST):
        _strip(field)
        for name in ("/Popup", "/IRT"):
            beside = field.get(name)
            beside = beside.get_object() if beside is not None else None
            if isinstance(beside, DictionaryObject):
                _strip(beside)
        parent = field.get("/Parent")
        parent = parent.get_object() if parent is not None else None
        if not isinstance(parent, DictionaryObject):
            return
        # Only its own place is of use to it: the other fields of a form would go along.
        parent.pop("/Kids", None)
        field = parent
    field.pop("/Parent", None)


def _strip(found: DictionaryObject) -> None:
    for name in _ACTING:
        found.pop(name, None)


def _merge(page: PageObject, layer: PageObject) -> None:
    """Lay a layer over a page, both by their upper left corners as they are shown."""
    from pypdf import Transformation

    left, low, wide, high = _shown_box(page)
    unit = float(page.user_unit) or 1.0
    turned = page.rotation % 360
    shown_high = (wide if turned in (90, 270) else high) * unit
    # From the layer, which counts in points as they are shown, to the page as it is shown, and from
    # that to how it lies in the file.
    shown = Transformation().translate(0, shown_high - float(layer.mediabox.height)).scale(1 / unit)
    lying = {
        90: (0.0, 1.0, -1.0, 0.0, left + wide, low),
        180: (-1.0, 0.0, 0.0, -1.0, left + wide, low + high),
        270: (0.0, -1.0, 1.0, 0.0, left, low + high),
    }.get(turned, (1.0, 0.0, 0.0, 1.0, left, low))
    page.merge_transformed_page(layer, shown.transform(Transformation(lying)))


def _shown_box(page: PageObject) -> tuple[float, float, float, float]:
    """Give what is shown of a page: its left and lower edges, its width and height."""
    media, crop = page.mediabox, page.cropbox
    left, low = max(media.left, crop.left), max(media.bottom, crop.bottom)
    right, top = min(media.right, crop.right), min(media.top, crop.top)
    if right <= left or top <= low:
        left, low, right, top = media.left, media.bottom, media.right, media.top
    return float(left), float(low), float(right - left), float(top - low)
