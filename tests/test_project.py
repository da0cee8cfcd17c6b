"""The project's own promises: the wheel, the documents, the pictures, the demo."""

from __future__ import annotations

import re
import subprocess
import sys
import sysconfig
import urllib.request
import venv
from pathlib import Path

import pytest
from scripts.schema import SCHEMA, present_schema
from typer.main import get_command

from jade_ladder import __version__
from jade_ladder.cli import app
from jade_ladder.core.marking import DeskState
from jade_ladder.core.mastery import State
from jade_ladder.core.methods import MethodKind
from jade_ladder.core.rubric import CriterionKind
from jade_ladder.core.task_kinds import KINDS
from jade_ladder.demo.scenario import DemoClass
from jade_ladder.service.mastery import trail
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks

ROOT = Path(__file__).parent.parent
DOCS = ROOT / "docs"
README = (ROOT / "README.md").read_text("utf-8")


def test_the_wheel_runs_the_demo_in_an_empty_venv_without_node(tmp_path: Path) -> None:
    build = [sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(tmp_path)]
    subprocess.run(build, cwd=ROOT, check=True, capture_output=True)
    (wheel,) = tmp_path.glob("*.whl")
    home = tmp_path / "venv"
    venv.create(home)
    python = home / "bin" / "python"
    install = ["-m", "pip", "--python", str(python), "install", "--quiet", "--no-index"]
    command = [sys.executable, *install, "--no-deps", str(wheel)]
    subprocess.run(command, check=True, capture_output=True)
    # The packages it depends on, without a network: those the tests run with, after its own.
    (site,) = home.glob("lib/*/site-packages")
    (site / "dependencies.pth").write_text(sysconfig.get_path("purelib"))
    environment = {"PATH": str(home / "bin"), "HOME": str(tmp_path)}
    where = [python, "-c", "import jade_ladder; print(jade_ladder.__file__)"]
    found = subprocess.run(where, env=environment, capture_output=True, text=True, check=True)
    assert found.stdout.startswith(str(home))
    server = subprocess.Popen(
        [home / "bin" / "jade-ladder", "demo", "--port", "0", "--data", tmp_path / "data"],
        env=environment,
        cwd=tmp_path,
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        assert server.stdout is not None
        lines = iter(server.stdout.readline, "")
        address = next(line.split()[-1] for line in lines if line.startswith("Jade Ladder is at"))
        with urllib.request.urlopen(f"{address}/") as answer:
            page = answer.read().decode()
        assert "<title>Jade Ladder</title>" in page
        for asset in re.findall(r'(?:src|href)="(/assets/[^"]+)"', page):
            with urllib.request.urlopen(address + asset) as answer:
                assert answer.status == 200
        with urllib.request.urlopen(f"{address}/api/session") as answer:
            assert b"Ilse Varga" in answer.read()
    finally:
        server.terminate()
        server.wait(timeout=20)
        assert server.stdout is not None
        server.stdout.close()


def test_the_readme_names_every_command_and_option() -> None:
    for name, command in get_command(app).commands.items():  # type: ignore[attr-defined]
        assert f"jade-ladder {name}" in README
        for parameter in command.params:
            for option in parameter.opts:
                if option.startswith("--") and option != "--help":
                    assert f"`{option}`" in README, option


def test_the_readme_names_every_make_target_and_method() -> None:
    makefile = (ROOT / "Makefile").read_text("utf-8")
    targets = makefile.split(".PHONY:", 1)[1].split("\n", 1)[0].split()
    for target in targets:
        if target != "clean":
            assert f"make {target}" in README, target
    for kind in MethodKind:
        assert f"`{kind}`" in README


def test_every_picture_is_linked_and_every_link_is_there() -> None:
    linked = set(re.findall(r"\((docs/[^)#]+)\)", README))
    pictures = {str(path.relative_to(ROOT)) for path in (ROOT / "docs/screenshots").glob("*.png")}
    assert pictures <= linked
    assert 0 < len(pictures) < 20
    assert all((ROOT / path).is_file() for path in linked)


def test_no_registry_or_own_path_is_named_in_the_locks() -> None:
    for name in ("requirements.lock", "requirements-bench.lock", "frontend/package-lock.json"):
        text = (ROOT / name).read_text("utf-8")
        assert "://" not in re.sub(r'"(?:url|funding)": "[^"]*"', "", text), name


def test_the_front_end_asks_nothing_of_other_hosts() -> None:
    """Fonts, styles and scripts ship with it: no address of another host is loaded."""
    static = ROOT / "src" / "jade_ladder" / "web" / "static"
    loading = re.compile(r"(?:src|href)=[\"']?https?:|url\(\s*[\"']?https?:|import\([\"']https?:")
    for path in static.rglob("*"):
        if path.suffix in {".html", ".css", ".js"}:
            assert not loading.search(path.read_text("utf-8")), path.name


def test_the_demo_shows_what_it_should(demo: tuple[Teacher, DemoClass]) -> None:
    caller, made = demo
    wall = mastery.wall(caller, made.class_id)
    assert (len(wall.students), len(wall.outcomes), len(wall.strands)) == (26, 11, 4)
    states = {cell.mastery.state for row in wall.cells for cell in row}
    assert states == set(State)
    assert any(cell.slipped for row in wall.cells for cell in row)
    trails = (
        trail.trail(caller, made.class_id, student.id, outcome.id).trail
        for student in wall.students
        for outcome in wall.outcomes
    )
    assert any(one.back for one in trails)
    kinds = {rules.method.kind for rules in wall.rules}
    assert kinds == {MethodKind.DECAYING_AVERAGE, MethodKind.HIGHEST, MethodKind.LATEST}
    assert {scale.scale.cuts for scale in wall.scales.values()} == {(100, 175, 275, 375)}
    library = [rubrics.get_rubric(caller, row.id) for row in rubrics.rubrics(caller)]
    drafts = [view.row for view in library if view.row.final_at is None]
    assert {(row.final_number, row.number) for row in drafts} == {(None, 1), (1, 2)}
    criteria = [stored.criterion for view in library for stored in view.criteria]
    assert {len(one.levels) for one in criteria} == {2, 3, 4}
    assert {one.kind for one in criteria} == set(CriterionKind)
    assert any(one.bonus for one in criteria)
    views = tasks.class_tasks(caller, made.class_id)
    assert len(views) == 9
    half = next(view for view in views if view.row.title == "Route card for Gull Head")
    assert half.counts[DeskState.STARTED] == 3
    assert half.counts[DeskState.DONE] >= 8
    assert half.counts[DeskState.WAITING] >= 8
    with caller.reading() as db:
        said = db.execute(
            "SELECT DISTINCT json_extract(place, '$[0].type') FROM passage ORDER BY 1"
        )
        assert [kind for (kind,) in said] == ["FragmentSelector", "TextQuoteSelector"]
        assert db.execute("SELECT count(*) FROM bank_remark WHERE uses > 1").fetchone()[0] > 9
        kinds = db.execute("SELECT DISTINCT kind FROM mark_file").fetchall()
        assert kinds == [("recording",)]


DOCUMENTS = ["README.md", "CONTRIBUTING.md", *(f"docs/{one.name}" for one in DOCS.glob("*.md"))]


@pytest.mark.parametrize("name", DOCUMENTS)
def test_the_documents_name_only_paths_there_are(name: str) -> None:
    text = (ROOT / name).read_text("utf-8")
    bases = [ROOT, ROOT / "src" / "jade_ladder", ROOT / "frontend" / "src"]
    for path in re.findall(r"`([\w.]+/[\w./-]*)`", text):
        assert any((base / path.lstrip("/")).exists() for base in bases), path


def test_the_schema_in_the_documents_is_that_of_the_migrations() -> None:
    assert SCHEMA.read_text("utf-8") == present_schema(), "make schema"


def test_the_changelog_begins_with_the_version_there_is() -> None:
    newest = re.search(r"^## (\S+),", (ROOT / "CHANGELOG.md").read_text("utf-8"), re.MULTILINE)
    packaged = re.search(r'^version = "(.+)"', (ROOT / "pyproject.toml").read_text("utf-8"), re.M)
    assert newest is not None
    assert packaged is not None
    assert newest[1] == packaged[1] == __version__


def test_which_mark_counts_and_what_a_kind_of_task_is_like_are_said_once() -> None:
    """The first in a view (a statement that names an index, which takes no view, names its
    condition); the second in a table of the core: no condition is on the name of a kind.
    """
    source = ROOT / "src/jade_ladder"
    named = []
    for path in source.glob("store/**/*.py"):
        for text in re.findall(r'"""(.*?)"""', path.read_text("utf-8"), re.DOTALL):
            marks = set(re.findall(r"(?:FROM|JOIN) mark (\w+)", text))
            marks -= set(re.findall(r"(?:FROM|JOIN) membership (\w+)", text))
            if any(f"{alias}.role" in text for alias in marks) and "INDEXED BY" not in text:
                named.append((path.name, text))
    assert named == []
    kinds = "|".join(KINDS)
    name_of_kind = re.compile(
        rf"kind (?:IS NOT|IS|is not|is|==|!=|=|<>) (?:TaskKind\.|'(?:{kinds})')"
        rf"|kind[\w.]* [!=]== '(?:{kinds})'"
    )
    files = [*source.glob("**/*.py"), *(ROOT / "frontend/src").glob("**/*.ts")]
    for path in [*files, *(ROOT / "frontend/src").glob("**/*.vue")]:
        found = name_of_kind.findall(path.read_text("utf-8"))
        assert found == [], path
