"""The walk in short, what it is made of, and what it has found before."""

from __future__ import annotations

import re
from pathlib import Path
from typing import ClassVar

import pytest
from hypothesis import HealthCheck, Phase, Verbosity, seed, settings
from hypothesis.stateful import run_state_machine_as_test

from tests.walk.machine import SchoolWalk
from tests.walk.school import make_school
from tests.walk.script import read_script, walk_again
from tests.walk.steps import ANOTHER_EACH_TIME, READS, STEP_TRUTHS
from tests.walk.truths import TRUTHS
from tests.walk.trying import PREVIEWS, TRIED, UNDO
from tests.walk.walking import ELSEWHERE, HANDED_BACK, SELDOM, SLOW, Met
from tests.walk.ways import OPERATIONS, WAYS

ROOT = Path(__file__).parents[2]
DOCUMENT = (ROOT / "docs/truths.md").read_text()
SCRIPTS = sorted((Path(__file__).parent / "scripts").glob("*.jsonl"))


@pytest.fixture(scope="module")
def template(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return make_school(tmp_path_factory.mktemp("walk") / "school")


def test_every_operation_of_the_api_can_be_walked() -> None:
    """One that has no way fails here; so does what is said of an operation that is none."""
    assert set(OPERATIONS) - set(WAYS) == set()
    said = {*UNDO, *PREVIEWS, *READS, *ANOTHER_EACH_TIME, *SELDOM, *SLOW, *ELSEWHERE}
    assert said - set(OPERATIONS) == set()


def test_every_truth_that_is_written_is_held_by_one_function() -> None:
    written = re.findall(r"^- \*\*`(\w+)`\*\*", DOCUMENT, re.MULTILINE)
    assert sorted(written) == sorted({*TRUTHS, *STEP_TRUTHS, *TRIED, HANDED_BACK})


def test_the_matrix_has_every_kind_of_task_and_no_empty_cell() -> None:
    table = [line for line in DOCUMENT.splitlines() if line.startswith("| ")]
    head, *rows = [[cell.strip() for cell in line.strip("|").split("|")] for line in table]
    assert len(rows) > 10
    assert {"handed in", "observed", "other evidence"} <= set(head)
    assert all(len(row) == len(head) and all(row) for row in rows)
    named = {name for row in rows for cell in row for name in re.findall(r"`(\w+)`", cell)}
    assert named
    assert named <= set(OPERATIONS), named - set(OPERATIONS)


def test_a_short_walk_finds_nothing_untrue(template: Path) -> None:
    class ShortWalk(SchoolWalk):
        looks: ClassVar[int] = 8

    ShortWalk.template, ShortWalk.met = template, Met()
    run_state_machine_as_test(
        seed(31)(ShortWalk),
        settings=settings(
            max_examples=7,
            stateful_step_count=30,
            database=None,
            deadline=None,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
            verbosity=Verbosity.quiet,
        ),
    )
    assert ShortWalk.met.steps > 120
    assert len(ShortWalk.met.done) > 50


@pytest.mark.parametrize("script", SCRIPTS, ids=lambda path: path.stem)
def test_what_a_walk_found_is_mended(script: Path, template: Path, tmp_path: Path) -> None:
    told, calls = read_script(script.read_text())
    walk_again(template, tmp_path / "again", calls, only=told.split(":")[0])
