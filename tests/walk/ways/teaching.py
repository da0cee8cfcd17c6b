"""How classes, outcomes, scales, methods and judgements are asked for."""

from __future__ import annotations

import json
from typing import Any

from tests.walk.school import FIRST, LAST
from tests.walk.ways.walker import NothingThere, Plan, Walker, way


def _class(w: Walker) -> tuple[int, int, int]:
    """A teacher, a class of theirs, and its version."""
    klass = w.klass()
    (version,) = w.school.rows("SELECT version FROM school_class WHERE id = ?", klass)
    return w.teacher(klass), klass, version


@way()
def make_class(w: Walker) -> Plan:
    days = {"first_day": FIRST.isoformat(), "last_day": LAST.isoformat()}
    return Plan(w.any_teacher(), {"name": "Reef & rock", **days})


@way()
def change_class(w: Walker) -> Plan:
    who, klass, version = _class(w)
    days = {"first_day": w.pick(["2027-02-01", "2027-01-20"]), "last_day": LAST.isoformat()}
    body = {"name": w.pick(["Chart Room", "Map Room"]), **days, "version": version}
    return Plan(who, body, numbers={"class_id": klass})


@way()
def change_strand_roll_up(w: Walker) -> Plan:
    who, klass, version = _class(w)
    body = {"strand_roll_up": w.pick(["lowest", "mean"]), "version": version}
    return Plan(who, body, numbers={"class_id": klass})


@way()
def add_student(w: Walker) -> Plan:
    """Somebody new, or somebody of the other class."""
    who, klass, _ = _class(w)
    body = w.pick(
        [
            {"given_name": "Ines", "family_name": "Moana", "identifier": w.key("S")},
            {"given_name": "Aino", "family_name": "Berg", "identifier": "S1"},
            {"given_name": "Zoe", "family_name": "Anders", "identifier": "S4"},
        ]
    )
    return Plan(who, body, numbers={"class_id": klass})


@way()
def change_student(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    student = w.student(klass)
    fields = ("given_name", "family_name", "identifier", "email")
    (now,) = w.school.rows(f"SELECT {', '.join(fields)} FROM person WHERE id = ?", student)
    body = {name: value or "" for name, value in zip(fields, now, strict=True)}
    if w.chance(30):
        who = w.administrator()
    if w.chance(60):
        body["family_name"] = w.pick(["Nord-Reef", "O’Shea"])
    return Plan(who, body, numbers={"class_id": klass, "student_id": student})


@way()
def set_left(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    body = {"left_on": w.pick([w.day(0, 0), w.day(-4, 0), None])}
    return Plan(who, body, numbers={"class_id": klass, "student_id": w.student(klass)})


@way()
def bring_back_student(w: Walker) -> Plan:
    klass, student = w.one(
        "SELECT class_id, person_id FROM membership WHERE role = 'student' AND until IS NOT NULL"
    )
    return Plan(w.teacher(klass), numbers={"class_id": klass, "student_id": student})


LIST = "Given name,Family name,ID\nAino,Berg,S1\nZoe,Anders,S4\nTama,Wai,S9\n"


@way("preview_class_list", "import_class_list")
def import_class_list(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    return Plan(who, form={"text": LIST}, numbers={"class_id": klass})


def _entry(w: Walker, subject: str) -> tuple[int, int]:
    """An entry of the log and the class that it is of."""
    found = w.one("SELECT id, subject_id FROM log WHERE subject = ? ORDER BY id DESC", subject)
    return found[0], found[1]


@way()
def undo_class_list(w: Walker) -> Plan:
    entry, klass = _entry(w, "class-list")
    return Plan(w.teacher(klass), numbers={"class_id": klass, "entry_id": entry})


def _strand(w: Walker, more: str = "1") -> tuple[int, int]:
    found = w.one(f"SELECT id, owner_id FROM strand WHERE {more} ORDER BY id")
    return found[0], found[1] or w.pick([w.any_teacher(), w.administrator()])


@way()
def add_strand(w: Walker) -> Plan:
    who = w.any_teacher()
    parents = w.school.rows("SELECT id FROM strand WHERE owner_id = ? ORDER BY id", who)
    return Plan(who, {"title": w.key("Strand"), "parent_id": w.pick([None, *parents])})


@way()
def order_strands(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    page = w.school.get(who, f"/classes/{klass}/outcomes")
    order = [one["id"] for one in page["strands"]]
    return Plan(who, {"order": order[::-1]})


@way()
def change_strand(w: Walker) -> Plan:
    strand, who = _strand(w)
    body = {"title": w.pick(["Bearings", "Lines"]), "parent_id": None}
    return Plan(who, body, numbers={"strand_id": strand})


@way()
def delete_strand(w: Walker) -> Plan:
    """Mostly of one with nothing in it."""
    empty = (
        "NOT EXISTS (SELECT 1 FROM outcome o WHERE o.strand_id = strand.id) "
        "AND NOT EXISTS (SELECT 1 FROM strand s WHERE s.parent_id = strand.id)"
    )
    strand, who = _strand(w, "1" if w.chance(15) else empty)
    return Plan(who, numbers={"strand_id": strand})


@way()
def add_outcome(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    codes = w.school.rows("SELECT code FROM outcome ORDER BY id")
    code = w.pick([w.key("X"), w.pick(codes)])
    body = {"code": code, "title": "I can steer", "description": "", "strand_id": None}
    return Plan(who, body, numbers={"class_id": klass})


@way()
def order_outcomes(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    order = w.school.rows(
        "SELECT outcome_id FROM class_outcome WHERE class_id = ? AND active_until IS NULL "
        "ORDER BY position",
        klass,
    )
    return Plan(who, {"order": order[::-1]}, numbers={"class_id": klass})


@way("teach_outcomes", "copy_outcomes")
def teach_outcomes(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    return Plan(
        who,
        {"outcome_ids": [w.one("SELECT id FROM outcome ORDER BY id")]},
        numbers={"class_id": klass},
    )


@way()
def place_outcome(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    outcome = w.outcome(klass)
    strands = w.school.rows("SELECT id FROM strand WHERE owner_id = ? ORDER BY id", who)
    body = {
        "strand_id": w.pick([None, *strands]),
        "before_id": w.pick([None, *(one for one in w.outcomes(klass) if one != outcome)]),
    }
    return Plan(who, body, numbers={"class_id": klass, "outcome_id": outcome})


@way()
def set_schools_outcome(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    numbers = {"class_id": klass, "outcome_id": w.outcome(klass)}
    if w.chance(85):
        who = w.one(
            "SELECT p.id FROM person p JOIN membership m ON m.person_id = p.id AND m.class_id = ? "
            "AND m.role = 'teacher' AND m.until IS NULL WHERE p.administrator = 1 ORDER BY p.id",
            klass,
        )
    return Plan(who, {"schools": w.chance(50)}, numbers=numbers)


@way()
def retire_outcome(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    outcome = w.one("SELECT outcome_id FROM class_outcome WHERE class_id = ? ORDER BY 1", klass)
    numbers = {"class_id": klass, "outcome_id": outcome}
    return Plan(who, {"retired": w.chance(50)}, numbers=numbers)


@way("change_outcomes", "preview_outcomes")
def change_outcomes(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    body: dict[str, Any] = {"outcome_ids": w.some(w.outcomes(klass))}
    match w.dice.number(0, 3):
        case 0:
            body["minimum"] = w.dice.number(1, 3)
        case 1:
            body |= {"method": w.method(), "method_since": w.pick([None, w.day(-5, 0)])}
        case 2:
            body["scale_id"] = w.one("SELECT id FROM scale ORDER BY id")
        case _:
            body["retired"] = w.chance(50)
    return Plan(who, body, numbers={"class_id": klass})


def _rules(w: Walker) -> dict[str, Any]:
    return {
        "method": w.pick([None, w.method()]),
        "minimum": w.dice.number(1, 3),
        "scale_id": w.one("SELECT id FROM scale ORDER BY id"),
    }


@way()
def change_outcome(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    outcome = w.outcome(klass)
    code, title, description, strand, scale, version = w.school.rows(
        "SELECT code, title, description, strand_id, scale_id, version FROM outcome WHERE id = ?",
        outcome,
    )[0]
    rules = _rules(w)
    if w.chance(60):
        rules["scale_id"] = scale
    body = {
        **rules,
        "code": w.pick([code, code, *w.school.rows("SELECT code FROM outcome ORDER BY id")]),
        "title": w.pick([title, "I can find my way"]),
        "description": description,
        "strand_id": strand,
        "version": version,
        "method_since": w.pick([None, w.day(-5, 0)]),
    }
    return Plan(who, body, numbers={"class_id": klass, "outcome_id": outcome})


@way()
def preview_outcome(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    return Plan(who, _rules(w), numbers={"class_id": klass, "outcome_id": w.outcome(klass)})


@way()
def change_class_method(w: Walker) -> Plan:
    who, klass, version = _class(w)
    since = w.pick([None, w.day(-10, 0)])
    body = {"method": w.method(), "version": version, "since": since}
    return Plan(who, body, numbers={"class_id": klass})


@way()
def preview_class_method(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    return Plan(who, w.method(), numbers={"class_id": klass})


@way()
def change_outcome_methods(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    which = [
        {"id": one, "version": w.school.rows("SELECT version FROM outcome WHERE id = ?", one)[0]}
        for one in w.some(w.outcomes(klass))
    ]
    body = {
        "outcomes": which,
        "method": w.pick([w.method(), None]),
        "since": w.pick([None, w.day(-10, 0)]),
    }
    return Plan(who, body, numbers={"class_id": klass})


@way()
def undo_method_changes(w: Walker) -> Plan:
    entry, subject, number = w.one(
        "SELECT id, subject, subject_id FROM log WHERE subject = 'class-method' "
        "OR subject LIKE 'outcome-method/%' ORDER BY id DESC"
    )
    klass = number if subject == "class-method" else int(subject.split("/")[1])
    return Plan(w.teacher(klass), {"entries": [entry]}, numbers={"class_id": klass})


@way()
def preview_combining(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    combining = w.pick(["highest", "lowest", "mean"])
    return Plan(who, {"combining": combining}, numbers={"class_id": klass})


@way()
def change_combining_of_class(w: Walker) -> Plan:
    who, klass, version = _class(w)
    body = {"combining": w.pick(["highest", "lowest", "mean"]), "version": version}
    return Plan(who, body, numbers={"class_id": klass})


@way("preview_outcome_list", "import_outcome_list")
def import_outcome_list(w: Walker) -> Plan:
    who, klass, _ = _class(w)
    text = "Code,Title,Strand\nW1,I can plot a bearing,Bearings\nL7,I can light a fire,Night\n"
    return Plan(who, form={"text": text}, numbers={"class_id": klass})


@way("preview_framework", "import_framework")
def import_framework(w: Walker) -> Plan:
    """A class's own framework, or the other class's."""
    who, klass, _ = _class(w)
    of = w.klass()
    page = w.school.get(w.teacher(of), f"/classes/{of}/framework.json")
    if page is None:
        raise NothingThere
    return Plan(who, file=("framework.json", json.dumps(page)), numbers={"class_id": klass})


@way()
def undo_framework_import(w: Walker) -> Plan:
    entry, klass = _entry(w, "framework")
    return Plan(w.teacher(klass), numbers={"class_id": klass, "entry_id": entry})


def _scale(w: Walker) -> tuple[int, dict[str, Any]]:
    """A scale that somebody may change, as it is sent."""
    number, owner = w.one("SELECT id, owner_id FROM scale ORDER BY id")
    who = owner or w.administrator()
    page = next(one for one in w.school.get(who, "/scales") if one["id"] == number)
    names = ("name", "levels", "mastery_level", "version")
    return who, {"id": number, **{name: page[name] for name in names}}


@way()
def add_scale(w: Walker) -> Plan:
    _, page = _scale(w)
    body = {name: page[name] for name in ("levels", "mastery_level")}
    return Plan(w.any_teacher(), {"name": w.key("Scale"), **body})


@way()
def work_out_cuts(w: Walker) -> Plan:
    body = {"values": ["1", "2", "3"], "preset": w.pick(["at-the-value", "three-quarters"])}
    return Plan(w.any_teacher(), body)


@way()
def remove_scale(w: Walker) -> Plan:
    who, page = _scale(w)
    return Plan(who, numbers={"scale_id": page["id"]})


@way("change_scale", "preview_scale")
def change_scale(w: Walker) -> Plan:
    """Another name, another top, other cuts, another mastery level."""
    who, page = _scale(w)
    number = page.pop("id")
    levels = page["levels"]
    match w.dice.number(0, 3):
        case 0:
            levels[-1]["value"] = w.pick(["5", "4", "4.5"])
        case 1:
            for level in levels:
                level["cut"] = level["value"]
        case 2:
            page["mastery_level"] = w.dice.number(1, len(levels) - 1)
        case _:
            levels[0]["name"] = w.pick(["Beginning", "Start"])
    return Plan(who, {**page, "cells": []}, numbers={"scale_id": number})


@way()
def choose_class_scale(w: Walker) -> Plan:
    who, klass, version = _class(w)
    body = {"scale_id": w.one("SELECT id FROM scale ORDER BY id"), "version": version}
    return Plan(who, body, numbers={"class_id": klass})


# Mastery: judgements, what is not expected, what is imagined.


@way()
def imagine(w: Walker) -> Plan:
    who, klass, student, outcome = w.cell()
    tasks = w.school.rows(
        "SELECT DISTINCT task_id FROM evidence WHERE student_id = ? AND outcome_id = ? "
        "AND task_id IS NOT NULL ORDER BY 1",
        student,
        outcome,
    )
    pieces = [
        {
            "level": w.dice.number(0, 3),
            "half_way": w.chance(20),
            "task_id": w.pick([None, *tasks]),
        }
        for _ in range(w.dice.number(1, 2))
    ]
    numbers = {"class_id": klass, "student_id": student, "outcome_id": outcome}
    return Plan(who, {"pieces": pieces}, numbers=numbers)


@way()
def lift_outcome(w: Walker) -> Plan:
    who, klass, student, outcome = w.cell()
    numbers = {"class_id": klass, "student_id": student, "outcome_id": outcome}
    return Plan(who, {"reason": "Another programme"}, numbers=numbers)


@way()
def expect_again(w: Walker) -> Plan:
    student, outcome, klass = w.one(
        "SELECT n.student_id, n.outcome_id, c.class_id FROM not_expected n "
        "JOIN class_outcome c ON c.outcome_id = n.outcome_id WHERE n.until IS NULL"
    )
    numbers = {"class_id": klass, "student_id": student, "outcome_id": outcome}
    return Plan(w.teacher(klass), numbers=numbers)


@way()
def judge(w: Walker) -> Plan:
    who, klass, student, outcome = w.cell()
    level = {"student_id": student, "outcome_id": outcome, "level": w.dice.number(0, 3)}
    body = {"levels": [level], "reason": w.word(), "since": w.pick([None, w.day(-6, 0)])}
    return Plan(who, body, numbers={"class_id": klass})


def _judged(w: Walker, more: str = "1") -> tuple[int, int]:
    """A judgement and a class that it shows in."""
    found = w.one(
        "SELECT j.id, c.class_id FROM judgement j JOIN class_outcome c "
        f"ON c.outcome_id = j.outcome_id WHERE {more} ORDER BY j.id DESC"
    )
    return found[0], found[1]


@way()
def lift_judgement(w: Walker) -> Plan:
    number, klass = _judged(w, "j.until IS NULL")
    body = {"until": w.pick([None, w.day(-2, 0)])}
    return Plan(w.teacher(klass), body, numbers={"class_id": klass, "judgement_id": number})


@way()
def keep_judgement(w: Walker) -> Plan:
    number, klass = _judged(w)
    return Plan(w.teacher(klass), numbers={"class_id": klass, "judgement_id": number})


@way()
def undo_judging(w: Walker) -> Plan:
    entry, klass = _entry(w, "judgement")
    return Plan(w.teacher(klass), {"entry": entry}, numbers={"class_id": klass})


@way()
def undo_lifting(w: Walker) -> Plan:
    entry, number = _entry(w, "judgement-lifted")
    klass = w.one(
        "SELECT c.class_id FROM judgement j JOIN class_outcome c ON c.outcome_id = j.outcome_id "
        "WHERE j.id = ?",
        number,
    )
    return Plan(w.teacher(klass), {"entry": entry}, numbers={"class_id": klass})
