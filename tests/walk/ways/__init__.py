"""How each operation of the API is asked for, drawn from what is there."""

from tests.walk.ways import marking, rubrics, school, student, teaching, work
from tests.walk.ways.walker import OPERATIONS, WAYS, NothingThere, Plan, Walker, call_of

__all__ = [
    "OPERATIONS",
    "WAYS",
    "NothingThere",
    "Plan",
    "Walker",
    "call_of",
    "marking",
    "rubrics",
    "school",
    "student",
    "teaching",
    "work",
]
school.pages_have_ways()
