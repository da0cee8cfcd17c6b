"""Photographs: turned upright, and without what a camera writes into them. Made for a process of
its own.
"""

from __future__ import annotations

import warnings
from pathlib import Path
from typing import Any

from jade_ladder.core.errors import Refused

MOST_PIXELS = 40_000_000
_FORMATS = {"image/png": "PNG", "image/jpeg": "JPEG", "image/webp": "WEBP"}
_ORIENTATION = 0x0112


def upright(source: Path, media_type: str, target: Path) -> bool:
    """Write a picture anew as it is meant to be seen, with no place, time or camera in it; gives
    whether there is one at `target`: of more than MOST_PIXELS there is none.

    Raises Refused for what is damaged or none.
    """
    from PIL import Image, ImageOps

    form = _FORMATS[media_type]
    # How large it is, is looked at here.
    Image.MAX_IMAGE_PIXELS = None
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(source, formats=[form]) as picture:
                if picture.width * picture.height > MOST_PIXELS:
                    return False
                options: dict[str, Any] = {"icc_profile": picture.info.get("icc_profile")}
                turned: Image.Image = picture
                if picture.getexif().get(_ORIENTATION, 1) != 1:
                    turned = ImageOps.exif_transpose(picture)
                    options["quality"] = 92
                elif form != "PNG":
                    # What stands upright is not made worse.
                    options["quality"] = "keep" if form == "JPEG" else 92
                # Comments, dates and thumbnails that stand beside the picture.
                turned.load()
                for name in [name for name in turned.info if name != "transparency"]:
                    del turned.info[name]
                turned.save(target, form, exif=b"", **options)
        return True
    except Exception as error:
        # Pillow tells of torn and made-up pictures in any of these ways.
        raise Refused("This picture is damaged, or none: it can be downloaded", "file") from error
