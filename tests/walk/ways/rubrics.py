"""How rubrics are asked for: written, revised, shared, applied."""

from __future__ import annotations

from typing import Any

from tests.walk.ways.walker import NothingThere, Plan, Walker, way

_IS_DRAFT = "EXISTS (SELECT 1 FROM revision v WHERE v.rubric_id = rubric.id AND v.final_at IS NULL)"


@way("set_tags")
def set_tags(w: Walker) -> Plan:
    rubric, who, _ = w.rubric()
    return Plan(who, {"tags": w.pick([["Maps"], []])}, numbers={"rubric_id": rubric})


@way()
def archive_rubric(w: Walker) -> Plan:
    rubric, who, _ = w.rubric()
    return Plan(who, {"archived": w.chance(40)}, numbers={"rubric_id": rubric})


@way()
def share_rubric(w: Walker) -> Plan:
    rubric, who, _ = w.rubric()
    return Plan(who, {"shared": w.chance(70)}, numbers={"rubric_id": rubric})


@way("copy_for_class", "read_fit")
def copy_for_class(w: Walker) -> Plan:
    """One's own rubric, or one that a colleague shares."""
    klass = w.klass()
    who = w.teacher(klass)
    rubric = w.one("SELECT id FROM rubric WHERE owner_id = ? OR shared = 1 ORDER BY id", who)
    return Plan(who, numbers={"class_id": klass, "rubric_id": rubric})


@way()
def make_rubric(w: Walker) -> Plan:
    return Plan(w.any_teacher(), {"title": w.pick(["Compass", "Stars & tides"])})


@way()
def read_grid(w: Walker) -> Plan:
    return Plan(w.any_teacher(), {"text": "\tNot yet\tYes\nPlots it\tno\tyes\n"})


def _written(page: dict[str, Any]) -> list[dict[str, Any]]:
    """The criteria of a rubric's page as they are sent."""
    taken = ("key", "title", "kind", "bonus", "half_way", "weight", "remarks", "any_order")
    return [
        {name: one[name] for name in taken}
        | {
            "levels": [
                {name: level[name] for name in ("key", "name", "points", "descriptor")}
                for level in one["levels"]
            ],
            "alignments": [
                {
                    "outcome_id": tie["outcome_id"],
                    "weight": tie["weight"],
                    "cells": [
                        {"value": cell["value"]} if cell["by_hand"] else None
                        for cell in tie["cells"]
                    ],
                }
                for tie in one["alignments"]
            ],
        }
        for one in page["criteria"]
    ]


def _new_criterion(w: Walker, outcome: int) -> dict[str, Any]:
    key = w.key("c")
    levels = [
        {"key": f"{key}-{n}", "name": f"Step {n}", "points": str(n), "descriptor": ""}
        for n in range(1, w.pick([4, 3]) + 1)
    ]
    tie = {"outcome_id": outcome, "weight": 1, "cells": [None] * len(levels)}
    return {
        "key": key,
        "title": "Criterion new",
        "kind": "levels",
        "weight": None,
        "bonus": False,
        "half_way": w.chance(50),
        "remarks": True,
        "any_order": False,
        "levels": levels,
        "alignments": [tie],
    }


@way()
def save_draft(w: Walker) -> Plan:
    """Words, points, order, alignments, a criterion more or less."""
    rubric, who, version = w.rubric(_IS_DRAFT)
    page = w.school.get(who, f"/rubrics/{rubric}")
    if page is None:
        raise NothingThere
    criteria = _written(page)
    outcome = w.one(
        "SELECT DISTINCT co.outcome_id FROM class_outcome co JOIN membership m "
        "ON m.class_id = co.class_id AND m.role = 'teacher' AND m.until IS NULL "
        "WHERE m.person_id = ? ORDER BY co.outcome_id",
        who,
    )
    match w.dice.number(0, 6) if criteria else 6:
        case 0:
            w.pick(criteria)["title"] = w.word()
        case 1:
            w.pick(criteria)["levels"][-1]["points"] = w.pick(["7", "4.5"])
        case 2:
            criteria.reverse()
        case 3:
            chosen = w.pick(criteria)
            chosen["half_way"] = chosen["kind"] == "levels" and not chosen["half_way"]
        case 4:
            criteria.remove(w.pick(criteria))
        case 5:
            tied = [tie for one in criteria for tie in one["alignments"]]
            w.pick(tied)["cells"][0] = {"value": w.pick(["1.5", None, "2"])}
        case _:
            criteria.append(_new_criterion(w, outcome))
    body = {
        "version": version,
        "title": page["title"],
        "criteria": criteria,
        "points_shown": w.pick([True, False]),
    }
    return Plan(who, body, numbers={"rubric_id": rubric})


@way("delete_rubric", "copy_rubric")
def delete_rubric(w: Walker) -> Plan:
    rubric, who, _ = w.rubric()
    return Plan(who, numbers={"rubric_id": rubric})


@way()
def share_weights(w: Walker) -> Plan:
    rubric, who, version = w.rubric(_IS_DRAFT)
    body = {"version": version, "how": w.pick(["equal", "missing"])}
    return Plan(who, body, numbers={"rubric_id": rubric})


@way()
def make_final(w: Walker) -> Plan:
    rubric, who, version = w.rubric(_IS_DRAFT)
    return Plan(who, {"version": version}, numbers={"rubric_id": rubric})


@way()
def revise(w: Walker) -> Plan:
    rubric, who, version = w.rubric(f"NOT {_IS_DRAFT}")
    return Plan(who, {"version": version}, numbers={"rubric_id": rubric})


@way()
def discard_revision(w: Walker) -> Plan:
    rubric, who, version = w.rubric(_IS_DRAFT)
    return Plan(who, query={"version": version}, numbers={"rubric_id": rubric})


def _revision(w: Walker) -> tuple[int, int, int, int, list[int]]:
    """A rubric with several revisions, its owner and version, a revision (a draft, which becomes
    final by it, or an earlier one), and tasks of it.
    """
    rubric, who, version = w.rubric(
        "(SELECT count(*) FROM revision v WHERE v.rubric_id = rubric.id) > 1"
    )
    number = w.one(
        "SELECT number FROM revision WHERE rubric_id = ? ORDER BY number DESC",
        rubric,
    )
    tasks = w.school.rows(
        "SELECT t.id FROM task t JOIN revision v ON v.id = t.revision_id "
        "WHERE v.rubric_id = ? AND v.number <> ? ORDER BY t.id",
        rubric,
        number,
    )
    return rubric, who, version, number, w.some(tasks) if tasks else []


@way()
def apply_revision(w: Walker) -> Plan:
    rubric, who, version, number, tasks = _revision(w)
    numbers = {"rubric_id": rubric, "number": number}
    return Plan(who, {"version": version, "tasks": tasks}, numbers=numbers)


@way()
def read_effects(w: Walker) -> Plan:
    rubric, who, _, number, tasks = _revision(w)
    numbers = {"rubric_id": rubric, "number": number}
    return Plan(who, {"tasks": w.pick([None, tasks])}, numbers=numbers)


@way()
def read_exemplars(w: Walker) -> Plan:
    task, klass = w.task()
    return Plan(w.teacher(klass), numbers={"task_id": task})
