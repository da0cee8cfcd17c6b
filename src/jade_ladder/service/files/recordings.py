"""What is said or shown beside words: recordings, photographs and other files that arrive."""

from __future__ import annotations

from jade_ladder.core.errors import Refused
from jade_ladder.formats.files.kind import FileKind
from jade_ladder.service.files.uploads import BroughtIn, bring_in
from jade_ladder.service.shared.caller import Caller

LONGEST_SECONDS = 600
LARGEST_RECORDING = 30_000_000


def check_length(seconds: int) -> None:
    """Refuse a recording of so many seconds that is empty or too long."""
    if seconds < 1:
        raise Refused("This recording is empty", "seconds")
    if seconds > LONGEST_SECONDS:
        raise Refused(f"A recording lasts at most {LONGEST_SECONDS // 60} minutes", "seconds")


def bring_in_recording(caller: Caller, upload_id: int) -> BroughtIn:
    """Keep a recording that has arrived, as `bring_in` does; Refused for what is none, or is too
    large.
    """
    brought = bring_in(caller, upload_id)
    # A browser's recording may be told as a film without pictures.
    if brought.type.kind not in (FileKind.AUDIO, FileKind.VIDEO):
        raise Refused("This is no recording that browsers can play", "upload_id")
    if brought.size > LARGEST_RECORDING:
        raise Refused(f"A recording has at most {LARGEST_RECORDING // 1_000_000} MB", "upload_id")
    return brought
