"""Setting what is drawn and written by hand: the one place that knows the typesetter."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from jade_ladder.core.errors import Refused

_HERE = Path(__file__).parent
FONTS = _HERE / "fonts"


def set_marked_work(job: dict[str, Any], target: Path) -> None:
    """Write what `job_of` gave as a PDF: a page for each layer, those of the parts that are set,
    each with a bookmark, and the pages of remarks.
    """
    import typst

    try:
        typst.compile(
            _HERE / "marked_work.typ",
            output=target,
            # Pictures lie beside the database; nothing of what is set is read as a path.
            root=Path("/"),
            font_paths=[FONTS],
            ignore_system_fonts=True,
            format="pdf",
            sys_inputs={"job": json.dumps(job)},
        )
    except typst.TypstError as error:
        raise Refused("The remarks cannot be set on pages") from error
