"""The truths of docs/truths.md, each in one function that reads pages as the people concerned."""

from tests.walk.truths import mastery, record, students, waiting
from tests.walk.truths.pages import TRUTHS, Pages

__all__ = ["TRUTHS", "Pages", "mastery", "record", "students", "waiting"]
