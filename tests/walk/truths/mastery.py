"""What is said of mastery: the same wherever it stands."""

from __future__ import annotations

import csv
import io
import zipfile
from datetime import datetime
from typing import Any

from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.scale import Scale, ScaleLevel
from jade_ladder.formats.evidence_csv import calculate
from tests.walk.truths.pages import Pages, agree, truth

Cell = dict[str, Any]


def cells(wall: dict[str, Any]) -> dict[tuple[int, int], Cell]:
    """The cells of a wall, by student and outcome."""
    columns = ("state", "value", "level", "pieces", "direction", "slipped", "expected")
    width = len(wall["outcomes"])
    return {
        (student["id"], outcome["id"]): {name: wall[name][row * width + column] for name in columns}
        for row, student in enumerate(wall["students"])
        for column, outcome in enumerate(wall["outcomes"])
    }


def _said(mastery: dict[str, Any]) -> tuple[Any, ...]:
    return tuple(mastery[name] for name in ("state", "value", "level", "pieces"))


@truth
def mastery_is_the_same_wherever_it_stands(pages: Pages) -> None:
    for who, klass in pages.classes():
        at = f"/classes/{klass['id']}"
        wall = pages.see(who, f"{at}/mastery")
        there = cells(wall)
        for student in wall["students"]:
            _of_a_student(pages, who, at, wall, there, student)
        for column, outcome in enumerate(wall["outcomes"]):
            _of_an_outcome(pages, who, at, wall, there, column, outcome)


def _of_a_student(
    pages: Pages,
    who: int,
    at: str,
    wall: dict[str, Any],
    there: dict[tuple[int, int], Cell],
    student: dict[str, Any],
) -> None:
    page = pages.see(who, f"{at}/mastery/{student['id']}")
    agree(f"what {student['name']} has in {at}", wall=student, page=page["count"])
    agree(
        "which outcomes",
        wall=[one["id"] for one in wall["outcomes"]],
        page=[one["id"] for one in page["outcomes"]],
    )
    expected = [one for key, one in there.items() if key[0] == student["id"] and one["expected"]]
    agree(
        f"the count of {student['name']}",
        wall=tuple(student[name] for name in ("mastered", "of", "without", "needing")),
        cells=(
            sum(one["state"] == "mastered" for one in expected),
            len(expected),
            sum(one["state"] == "no-evidence" for one in expected),
            sum(one["state"] == "needs-evidence" for one in expected),
        ),
    )
    for outcome in page["outcomes"]:
        cell = there[student["id"], outcome["id"]]
        trail = pages.see(who, f"{at}/mastery/{student['id']}/{outcome['id']}")
        agree(
            f"{student['name']} on {outcome['code']} in {at}",
            wall=_said(cell),
            page=_said(outcome["mastery"]),
            trail=_said(trail["mastery"]),
        )
        agree(
            f"which way {student['name']} went on {outcome['code']}",
            wall=(cell["direction"], cell["slipped"], cell["expected"]),
            page=(outcome["direction"], outcome["slipped"], outcome["expected"]),
            trail=(
                trail["direction"],
                trail["slipped_at"] is not None,
                trail["not_expected"] is None,
            ),
        )
        _trail_within(trail)


def _trail_within(trail: dict[str, Any]) -> None:
    """A trail ends where its page says that one stands, and counts the pieces it shows."""
    if trail["points"]:
        last = trail["points"][-1]
        agree(
            "the end of a trail",
            page=(trail["mastery"]["value"], trail["mastery"]["state"]),
            point=(last["value"], last["state"]),
        )
    counted = [piece for piece in trail["pieces"] if piece["counted"]]
    assert trail["mastery"]["judged"] or trail["mastery"]["pieces"] == len(counted), (
        "pieces",
        trail["mastery"],
        counted,
    )
    times = [datetime.fromisoformat(piece["at"]) for piece in trail["pieces"]]
    assert times == sorted(times, reverse=True), (
        f"pieces are not in the order of their times: {times}"
    )
    chosen = next((one for one in trail["methods"] if one["chosen"]), None)
    if chosen is not None and counted and not trail["methods_before"]:
        agree(
            "the method that holds",
            methods=chosen["value"],
            calculated=trail["calculated"]["value"],
        )


def _of_an_outcome(
    pages: Pages,
    who: int,
    at: str,
    wall: dict[str, Any],
    there: dict[tuple[int, int], Cell],
    column: int,
    outcome: dict[str, Any],
) -> None:
    expected = [one for key, one in there.items() if key[1] == outcome["id"] and one["expected"]]
    enough = [one for one in expected if one["state"] in ("mastered", "not-yet")]
    levels = len(next(one for one in wall["scales"] if one["id"] == outcome["scale_id"])["levels"])
    counts = {
        "at_level": [sum(one["level"] == level for one in enough) for level in range(levels)],
        "mastered": sum(one["state"] == "mastered" for one in expected),
        "needing": sum(one["state"] == "needs-evidence" for one in expected),
        "without": sum(one["state"] == "no-evidence" for one in expected),
    }
    term = pages.see(who, f"{at}/over-term/outcomes")
    over = term["outcomes"][column]
    agree(
        f"how {outcome['code']} stands in {at}",
        cells=counts,
        wall={name: outcome[name] for name in counts},
        term={name: over["now"][name] for name in counts},
    )
    agree("its median and mean", wall=_middle(outcome), term=_middle(over))
    everywhere = pages.see(who, f"{at}/over-term/outcomes/{outcome['id']}/all-classes")
    here = next((one for one in everywhere["classes"] if f"/classes/{one['class_id']}" == at), None)
    if here is None:
        # One that is set aside is not among them.
        assert pages.see(who, at)["set_aside"], everywhere
        return
    agree("one outcome over all classes", term=over["now"], all=here["over_term"]["now"])
    for one in here["students"]:
        cell = there[one["id"], outcome["id"]]
        names = ("state", "value", "level", "direction", "slipped", "expected")
        agree(
            f"{one['name']} over all classes",
            all=[one[name] for name in names],
            wall=[cell[name] for name in names],
        )


def _middle(outcome: dict[str, Any]) -> tuple[Any, Any]:
    return outcome["median"], outcome["mean"]


@truth
def an_outcome_is_known_by_its_code(pages: Pages) -> None:
    """In a class no two outcomes have the same code, whatever the size of its letters."""
    for who, klass in pages.classes():
        outcomes = pages.see(who, f"/classes/{klass['id']}/outcomes")["outcomes"]
        codes = [one["code"].casefold() for one in outcomes]
        twice = sorted({code for code in codes if codes.count(code) > 1})
        assert not twice, f"in class {klass['id']}: {twice}"


@truth
def each_day_of_the_term_is_that_days_wall(pages: Pages) -> None:
    for who, klass in pages.classes():
        at = f"/classes/{klass['id']}"
        term = pages.see(who, f"{at}/over-term/outcomes")
        if not term["days"]:
            continue
        # One of its days, another one at each time of the day: all of them would take long.
        place = pages.school.now.minute % len(term["days"])
        wall = pages.see(who, f"{at}/mastery?as_of={term['days'][place]}")
        by_id = {one["id"]: one for one in wall["outcomes"]}
        for outcome in term["outcomes"]:
            if outcome["id"] not in by_id:
                continue
            that_day = outcome["over_term"][place]
            agree(
                f"{outcome['code']} on {term['days'][place]}",
                wall={name: by_id[outcome["id"]][name] for name in that_day},
                term=that_day,
            )
        for student in wall["students"][:1]:
            page = pages.see(who, f"{at}/mastery/{student['id']}")
            if page["left_on"] is None:
                for outcome in wall["outcomes"]:
                    path = f"{at}/mastery/{student['id']}/{outcome['id']}"
                    trail = pages.see(who, f"{path}?as_of={term['days'][place]}")
                    cell = cells(wall)[student["id"], outcome["id"]]
                    agree(f"{path} then", wall=_said(cell), trail=_said(trail["mastery"]))


# On paper and in files.


def _printed(cell: dict[str, Any], brackets: bool = True) -> str:
    """How a value stands on paper."""
    if not cell["expected"]:
        return "n.e."
    if cell["value"] is None:
        return ""
    return f"({cell['value']})" if cell["state"] == "needs-evidence" else str(cell["value"])


@truth
def paper_and_files_say_what_the_screen_says(pages: Pages) -> None:
    for who, klass in pages.classes():
        at = f"/classes/{klass['id']}"
        wall = pages.see(who, f"{at}/mastery")
        there = cells(wall)
        judged = {(one["student_id"], one["outcome_id"]) for one in wall["judged"]}
        printed = pages.see(who, f"{at}/sheets/mastery")
        assert printed["day"] == wall["as_of"]
        rows = list(csv.reader(io.StringIO(pages.text(who, f"{at}/sheets/mastery.csv"))))
        for place, student in enumerate(wall["students"]):
            row = printed["rows"][place]
            assert row[0]["text"] == student["name"]
            for column, outcome in enumerate(wall["outcomes"], 1):
                key = student["id"], outcome["id"]
                cell = there[key]
                shown = row[column]
                want = _printed(cell)
                if key in judged and cell["expected"]:
                    assert want in shown["text"], (key, want, shown)
                    assert "judged" in shown["text"], (key, shown)
                else:
                    agree(f"{student['name']} on paper", paper=shown["text"], wall=want)
                mastered = cell["expected"] and cell["state"] == "mastered"
                agree("mastered on paper", paper=shown["mastered"], wall=mastered)
                assert _same_text(rows, student["name"], column, shown), (key, shown)
            agree(
                "mastered of",
                paper=row[-1]["text"],
                wall=f"{student['mastered']} of {student['of']}",
            )


def _same_text(rows: list[list[str]], name: str, column: int, shown: dict[str, Any]) -> bool:
    """Whether a row of the CSV file has what stands on paper, whatever signs it adds."""
    return any(
        row
        and row[0] == name
        and column < len(row)
        and row[column].replace("✓", "").strip() == shown["text"].replace("✓", "").strip()
        for row in rows
    )


@truth
def the_sheet_of_a_student_is_their_page(pages: Pages) -> None:
    """Of who left, too: both are of the same day and say the same."""
    for who, klass in pages.classes():
        at = f"/classes/{klass['id']}"
        for member in pages.see(who, f"{at}/students"):
            page = pages.see(who, f"{at}/mastery/{member['id']}")
            sheet = pages.see(who, f"{at}/students/{member['id']}/sheets/outcomes")
            agree(f"the day of {member['name']}", page=page["as_of"], sheet=sheet["day"])
            if page["left_on"] is not None:
                assert page["as_of"] < page["left_on"], (page["as_of"], page["left_on"])
            by_code = {row[1]["text"]: row for row in sheet["rows"]}
            expected = [one for one in page["outcomes"] if one["expected"]]
            if page["count"] is not None:
                agree("how many outcomes", page=page["count"]["of"], shown=len(expected))
            for outcome in page["outcomes"]:
                row = by_code.get(outcome["code"])
                if row is None:
                    assert not sheet["rows"], (outcome["code"], member)
                    continue
                mastery = outcome["mastery"]
                if outcome["expected"]:
                    want = _printed({**mastery, "expected": True})
                    assert want in row[3]["text"], (member["name"], want, row)
                    agree("pieces on the sheet", sheet=row[5]["text"], page=str(mastery["pieces"]))
                    if mastery["state"] == "no-evidence":
                        assert row[3]["text"] == "", row


@truth
def what_goes_out_is_what_stands_there(pages: Pages) -> None:
    """The CSV files of a class have the wall's cells, and from their evidence `calculate` comes to
    the same values.
    """
    for who, klass in pages.classes():
        at = f"/classes/{klass['id']}"
        wall = pages.see(who, f"{at}/mastery")
        answer = pages.school.look(who, f"{at}/export", form="zip")
        assert answer.done, answer.content
        files = {}
        with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
            for name in archive.namelist():
                text = archive.read(name).decode("utf-8-sig")
                files[name.rsplit("/", 1)[-1]] = list(csv.DictReader(io.StringIO(text)))
        _exported_cells(wall, files)
        _calculated(wall, files)


def _table(files: dict[str, list[dict[str, str]]], name: str) -> list[dict[str, str]]:
    return next(rows for file, rows in files.items() if file.endswith(f"{name}.csv"))


def _exported_cells(wall: dict[str, Any], files: dict[str, list[dict[str, str]]]) -> None:
    there = cells(wall)
    rows = _table(files, "Mastery")
    places = [(student, outcome) for student in wall["students"] for outcome in wall["outcomes"]]
    agree("cells in the files", wall=len(places), files=len(rows))
    for (student, outcome), row in zip(places, rows, strict=True):
        cell = there[student["id"], outcome["id"]]
        state = cell["state"].replace("-", " ") if cell["expected"] else "not expected"
        agree(
            f"{student['name']} on {outcome['code']} in the files",
            wall=(student["name"], outcome["code"], state, str(cell["pieces"])),
            files=(row["Student"], row["Outcome"], row["State"], row["Pieces"]),
        )
        value, level = cell["value"], cell["level"]
        agree(
            "its value",
            wall=(None if value is None else float(value), "" if level is None else level + 1),
            files=(
                float(row["Value"]) if row["Value"] else None,
                int(row["Level number"]) if row["Level number"] else "",
            ),
        )


def _calculated(wall: dict[str, Any], files: dict[str, list[dict[str, str]]]) -> None:
    """From the evidence that counts, as it stands in the file, `calculate` makes the values."""
    there = cells(wall)
    judged = {(one["student_id"], one["outcome_id"]) for one in wall["judged"]}
    evidence = _table(files, "Evidence")
    for outcome in wall["outcomes"]:
        scale = next(one for one in wall["scales"] if one["id"] == outcome["scale_id"])
        kind, newest, last = (outcome["method"][name] for name in ("kind", "newest", "last"))
        for student in wall["students"]:
            key = student["id"], outcome["id"]
            rows = [
                row
                for row in evidence
                if (row["Student"], row["Identifier"], row["Outcome"])
                == (student["name"], student["identifier"] or "", outcome["code"])
            ]
            taken = key in judged or not there[key]["expected"]
            if taken or any("mean of" in row["Counts"] for row in rows):
                continue
            lines = [
                f"s,o,{row['Done at'][:10]},{row['Value']}\n"
                for row in rows
                if row["Counts"] == "yes"
            ]
            text = io.StringIO("student,outcome,date,value\n" + "".join(lines))
            method = Method(MethodKind(kind), newest, last)
            found = calculate(text, method, _scale(scale))
            agree(
                f"{student['name']} on {outcome['code']} by calculate",
                wall=there[key]["value"],
                calculate=found[0][2] if found else None,
            )


def _scale(scale: dict[str, Any]) -> Scale:
    def hundredths(text: str) -> int:
        return round(float(text) * 100)

    return Scale(
        tuple(
            ScaleLevel(
                one["name"],
                one["code"],
                hundredths(one["value"]),
                hundredths(one["cut"]),
                one["description"],
            )
            for one in scale["levels"]
        ),
        scale["mastery_level"],
    )
