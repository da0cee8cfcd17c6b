"""All that anybody sees, so that it can be held against what they see later."""

from __future__ import annotations

from typing import Any

from tests.walk.asking import School
from tests.walk.truths.pages import Pages

Everything = dict[tuple[int, str], Any]
# What tells when or how often something was changed, and not what stands.
_PASSING = {"version", "class_version", "saved_at", "current", "taken_back_at", "corrected_at"}


def everybodys_pages(school: School) -> Everything:
    """All that anybody sees."""
    pages = Pages(school)
    for who in pages.teachers():
        for path in ("/pile", "/today", "/rubrics", "/rubrics/shared", "/scales", "/bank"):
            pages.see(who, path)
        for klass in pages.see(who, "/classes"):
            at = f"/classes/{klass['id']}"
            for path in ("", "/mastery", "/outcomes", "/coverage", "/over-term/tasks", "/tasks"):
                pages.see(who, f"{at}{path}")
            for path in ("/over-term/outcomes", "/slips", "/students"):
                pages.see(who, f"{at}{path}")
            for task in pages.see(who, f"{at}/tasks"):
                one = f"/tasks/{task['id']}"
                for path in ("", "/desk", "/handing-back", "/totals", "/set-aside", "/work"):
                    pages.see(who, f"{one}{path}")
                if task["kind"] == "observed":
                    pages.see(who, f"{one}/observation")
    for student in pages.students():
        for path in ("/my/tasks", "/my/ladder", "/my/account"):
            pages.may_see(student, path)
        for task in pages.see(student, "/my/tasks"):
            pages.see(student, f"/my/tasks/{task['id']}")
            newest = pages.may_see(student, f"/my/tasks/{task['id']}/results")
            for attempt in newest["attempts"] if newest else ():
                pages.see(student, f"/my/tasks/{task['id']}/results/{attempt}")
    return {place: _standing(page) for place, page in pages.read.items()}


def _standing(page: Any) -> Any:
    if isinstance(page, dict):
        # A part of work that was taken back and handed in again has another number.
        aside = _PASSING | {"id"} if "file_kind" in page else _PASSING
        return {name: _standing(one) for name, one in page.items() if name not in aside}
    return [_standing(one) for one in page] if isinstance(page, list) else page
