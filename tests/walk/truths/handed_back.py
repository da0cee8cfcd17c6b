"""What was handed back is seen as it was handed back, until it is handed back again."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from tests.walk.truths.pages import Pages, agree

Seen = dict[str, Any]


@dataclass(slots=True)
class Kept:
    """What students saw of what was handed back, by student, task and attempt, and when it was."""

    seen: dict[tuple[int, int, int], tuple[str, Seen]] = field(default_factory=dict)

    def look(self, pages: Pages) -> None:
        """Hold what students see against what they saw, and remember it."""
        for student, line in pages.own_tasks():
            newest = pages.may_see(student, f"/my/tasks/{line['id']}/results")
            for attempt in newest["attempts"] if newest else ():
                place = student, line["id"], attempt
                result = pages.see(student, f"/my/tasks/{line['id']}/results/{attempt}")
                at, said = result["handed_back_at"], _said(result)
                if place in self.seen and self.seen[place][0] == at:
                    agree(f"what was handed back at {place}", then=self.seen[place][1], now=said)
                self.seen[place] = at, said


def _said(result: dict[str, Any]) -> Seen:
    """Levels, words, what was moved, and the lines of the total that belong to the mark. Points and
    late rule are the task's, and the words of a rubric can be changed in place.
    """
    total = result["total"] or {"lines": [], "by_hand": None, "waived": None}
    return {
        "choices": sorted(result["choices"], key=lambda one: one["criterion_id"]),
        "remarks": result["remarks"],
        "passages": [
            {name: one[name] for name in ("key", "text", "number") if name in one}
            for one in result["passages"]
        ],
        "lines": [one for one in total["lines"] if one["kind"] in ("bonus-by-hand", "other")],
        "by_hand": total["by_hand"],
        "waived": total["waived"],
        "moved": [
            {
                "id": one["id"],
                **{when: (one[when]["value"], one[when]["state"]) for when in ("before", "after")},
            }
            for one in result["moved"]
        ],
        "handed_in_at": result["handed_in_at"],
    }
