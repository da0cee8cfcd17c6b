"""What is tried on a copy, since it needs a look before and after."""

from tests.walk.trying.imagined import NotSo, try_another_attempt, try_next_piece
from tests.walk.trying.previews import PREVIEWS, try_preview
from tests.walk.trying.undo import UNDO, try_undo

TRIED = (
    "undo_leaves_all_as_before",
    "a_preview_says_what_happens",
    "what_would_reach_mastery_does",
)
"""The truths that are held here."""

__all__ = [
    "PREVIEWS",
    "TRIED",
    "UNDO",
    "NotSo",
    "try_another_attempt",
    "try_next_piece",
    "try_preview",
    "try_undo",
]
