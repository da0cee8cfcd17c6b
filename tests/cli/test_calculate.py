"""jade-ladder calculate: the spreadsheet's way to the same calculations."""

from __future__ import annotations

import random
import socket
import subprocess
import sys
from collections import defaultdict
from fractions import Fraction
from pathlib import Path

import pytest

from jade_ladder.core.numbers import round_half_up, write_hundredths
from tests.cli.conftest import Done, run

HEAD = "student,outcome,date,value\n"


def calculate(tmp_path: Path, text: str | bytes, *options: str) -> Done:
    source = tmp_path / "evidence.csv"
    source.write_bytes(text if isinstance(text, bytes) else text.encode())
    return run("calculate", str(source), *options)


def calculated(tmp_path: Path, text: str | bytes, *options: str) -> str:
    out = tmp_path / "out.csv"
    done = calculate(tmp_path, text, *options, "--output", str(out))
    assert done.code == 0, done.stderr
    return out.read_text()


ROWS = HEAD + "\n".join(
    f"Eirik,W1,{day},{value}"
    for day, value in [
        ("2026-09-09", "1"),
        ("2026-11-20", "3.5"),
        ("2026-09-30", "3"),
        ("2026-10-21", "2"),
        ("2026-11-06", "3.00"),
    ]
)


@pytest.mark.parametrize(
    ("options", "value"),
    [
        (["latest"], "3.50"),
        (["highest"], "3.50"),
        (["decaying-average"], "3.15"),
        (["decaying-average", "--newest", "75"], "3.32"),
        (["mean"], "2.50"),
        (["recent-mean"], "2.83"),
        (["recent-mean", "--last", "2"], "3.25"),
        (["most-frequent", "--levels", "1,2,3,4"], "3.00"),
        (["most-frequent", "--levels", "1,2,3,4", "--cuts", "1,1.75,2.75,3.5"], "3.00"),
        (["latest", "--as-of", "2026-11-19"], "3.00"),
    ],
)
def test_every_method(tmp_path: Path, options: list[str], value: str) -> None:
    evidence = "4" if "--as-of" in options else "5"
    found = calculated(tmp_path, ROWS, "--method", *options)
    assert found == f"student,outcome,value,evidence\nEirik,W1,{value},{evidence}\n"


def test_pieces_of_one_day_keep_the_files_order_and_output_is_by_first_appearance(
    tmp_path: Path,
) -> None:
    text = (
        HEAD
        + "B,W2,2026-01-02,1\nA,W1,2026-01-01,2\nB,W1,2026-01-01,4\nB,W2,2026-01-02,3\n"
        + "B,W2,2026-01-01,4\n"
    )
    found = calculated(tmp_path, text, "--method", "latest").splitlines()[1:]
    assert found == ["B,W2,3.00,3", "A,W1,2.00,1", "B,W1,4.00,1"]


def test_columns_in_another_order_semicolons_and_a_mark_at_the_start(tmp_path: Path) -> None:
    text = "\ufeffValue;Date;Student;Outcome;Note\n2,5;2026-01-01;Żuraw;A1;x\n\n"
    found = calculated(tmp_path, text, "--method", "mean")
    assert found.splitlines()[1:] == ["Żuraw,A1,2.50,1"]


def test_plain_and_quoted_lines_are_read_alike(tmp_path: Path) -> None:
    """Lines without quotes are read by a quicker way, until the first that has some."""
    text = (
        HEAD
        + "A,W1,2026-01-01,1\r\nB,W1,2026-01-01,2\n"
        + '"A",W1,2026-01-02,3\n\n"C, D","W""1",2026-01-01,"4"\nA,W1,2026-01-03,2,more\n'
    )
    found = calculated(tmp_path, text, "--method", "latest").splitlines()[1:]
    assert found == ["A,W1,2.00,3", "B,W1,2.00,1", '"C, D","W""1",4.00,1']


def test_nobody_is_left_of_whom_nothing_is_before_the_day(tmp_path: Path) -> None:
    found = calculated(tmp_path, ROWS, "--method", "mean", "--as-of", "2025-01-01")
    assert found == "student,outcome,value,evidence\n"


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ("A,W1,2026-01-01,three", "line 3: “three” is not a number"),
        ("A,W1,2026-01-01,2.345", "line 3: “2.345” has more than two decimals"),
        ("A,W1,2026-01-01,-1", "line 3: “-1” is below 0"),
        ("A,W1,2026-01-01,", "line 3: “” is not a number"),
        ("A,W1,2026-02-30,3", "line 3: “2026-02-30” is not a date"),
        ("A,W1,20260101,3", "line 3: “20260101” is not a date"),
        ("A,W1,3", "line 3: only 3 of 4 columns"),
        (",W1,2026-01-01,3", "line 3: the student is missing"),
        ("A,,2026-01-01,3", "line 3: the outcome is missing"),
        ('"A\nB",W1,2026-01-01,x', "line 3: “x” is not a number"),
        ('A,"W1,2026-01-01,3', "line"),
        ('A,W1,2026-01-01,"3', "line"),
    ],
)
def test_a_bad_row_is_named_by_its_line_and_nothing_is_written(
    tmp_path: Path, row: str, says: str
) -> None:
    out = tmp_path / "out.csv"
    out.write_text("what was there before")
    text = f"{HEAD}A,W1,2026-01-01,3\n{row}\nA,W1,2026-01-02,3\n"
    done = calculate(tmp_path, text, "--method", "mean", "--output", str(out))
    assert done.code == 1
    assert says in done.stderr
    assert out.read_text() == "what was there before"
    assert sorted(path.name for path in tmp_path.iterdir()) == ["evidence.csv", "out.csv"]


@pytest.mark.parametrize(
    ("text", "options", "says"),
    [
        ("student,date,value\n", ["--method", "mean"], "missing: outcome"),
        ("", ["--method", "mean"], "line 1"),
        (HEAD.encode() + b"A,W1,2026-01-01,\xff\n", ["--method", "mean"], "not UTF-8"),
        (HEAD, ["--method", "decaying-average", "--newest", "40"], "--newest"),
        (HEAD, ["--method", "recent-mean", "--last", "1"], "--last"),
        (HEAD, ["--method", "most-frequent"], "--levels"),
        (HEAD, ["--method", "most-frequent", "--levels", "1,3,2"], "Values must rise"),
        (HEAD, ["--method", "most-frequent", "--levels", "1,2", "--cuts", "1"], "--cuts has 1"),
        (HEAD, ["--method", "mean", "--as-of", "soon"], "--as-of"),
    ],
)
def test_refusals_are_one_clear_line(
    tmp_path: Path, text: str | bytes, options: list[str], says: str
) -> None:
    done = calculate(tmp_path, text, *options)
    assert done.code == 1
    assert says in done.stderr
    assert "Traceback" not in done.stderr
    assert done.stdout == ""


def test_a_file_that_is_not_there(tmp_path: Path) -> None:
    done = run("calculate", str(tmp_path / "no.csv"), "--method", "mean")
    assert (done.code, "No such file" in done.stderr) == (1, True)


def test_it_is_a_command_of_its_own(tmp_path: Path) -> None:
    source = tmp_path / "evidence.csv"
    source.write_text(ROWS)
    command = [sys.executable, "-m", "jade_ladder", "calculate", str(source), "--method", "latest"]
    done = subprocess.run(command, capture_output=True, text=True, check=True, timeout=60)
    assert done.stdout.splitlines()[1:] == ["Eirik,W1,3.50,5"]


def test_many_rows_agree_with_fractions(tmp_path: Path) -> None:
    luck = random.Random(7)
    kept: dict[tuple[str, str], list[tuple[str, int]]] = defaultdict(list)
    lines = [HEAD]
    for _ in range(20_000):
        place = f"S{luck.randrange(60)}", f"O{luck.randrange(20)}"
        day = f"2026-{luck.randrange(1, 13):02d}-{luck.randrange(1, 29):02d}"
        value = luck.randrange(100, 401)
        kept[place].append((day, value))
        lines.append(f"{place[0]},{place[1]},{day},{write_hundredths(value)}\n")
    found = calculated(tmp_path, "".join(lines), "--method", "decaying-average", "--newest", "77")
    expected = []
    for (student, outcome), rows in kept.items():
        value = Fraction(0)
        for position, (_, one) in enumerate(sorted(rows, key=lambda row: row[0])):
            weight = Fraction(77, 100) if position else Fraction(1)
            value = weight * Fraction(one, 100) + (1 - weight) * value
        result = write_hundredths(round_half_up(value))
        expected.append(f"{student},{outcome},{result},{len(rows)}")
    assert found.splitlines()[1:] == expected


def test_a_taken_port_and_a_folder_that_cannot_be_are_one_line(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        in_the_way = tmp_path / "file"
        in_the_way.write_text("")
        for options, says in [
            (["--port", port, "--data", str(tmp_path / "d")], f"port {port}"),
            (["--port", "0", "--data", str(in_the_way / "d")], "Not a directory"),
        ]:
            done = run("demo", *options)
            assert done.code == 1
            assert says in done.stderr
            assert len(done.stderr.strip().splitlines()) == 1
