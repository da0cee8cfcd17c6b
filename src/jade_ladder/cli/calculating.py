"""jade-ladder calculate: mastery from a file of evidence, by the same core as the application."""

from __future__ import annotations

import io
import os
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path
from typing import Annotated, TextIO

import typer

from jade_ladder.cli.common import app, stopping
from jade_ladder.core.errors import Refused, RefusedMany
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.numbers import parse_hundredths
from jade_ladder.core.scale import CutPreset, Scale, ScaleLevel, preset_cuts
from jade_ladder.formats.evidence_csv import calculate as calculate_csv
from jade_ladder.formats.evidence_csv import write_results


@app.command()
def calculate(
    evidence: Annotated[Path, typer.Argument(help="CSV with student,outcome,date,value.")],
    method: Annotated[MethodKind, typer.Option(help="How mastery is worked out.")],
    newest: Annotated[
        int, typer.Option(help="What the newest piece counts, 50 to 95 per cent.")
    ] = 60,
    last: Annotated[int, typer.Option(help="How many pieces a recent mean takes.")] = 3,
    levels: Annotated[str, typer.Option(help="The level values, for most-frequent: 1,2,3,4.")] = "",
    cuts: Annotated[
        str, typer.Option(help="Their cut scores, at the values if not given: 1,1.75,2.75,3.75.")
    ] = "",
    as_of: Annotated[
        str, typer.Option(help="Leave out what is later than this day: 2026-11-25.")
    ] = "",
    output: Annotated[
        Path | None, typer.Option(help="Where the results go; to the screen if not given.")
    ] = None,
) -> None:
    """Work out mastery values from a file of evidence: student,outcome,value,evidence."""
    try:
        chosen = Method(method, newest, last)
        scale = _scale(levels, cuts, needed=method is MethodKind.MOST_FREQUENT)
        with _reading(evidence) as (lines, news):
            results = calculate_csv(lines, chosen, scale, _day(as_of), news)
        with _writing(output) as out:
            write_results(results, out)
    except RefusedMany as error:
        for problem in error.problems:
            typer.echo(f"{evidence}, {problem.field}: {problem.message}", err=True)
        raise stopping(error.message) from None
    except Refused as error:
        where = f"--{error.field}: " if error.field in ("newest", "last") else ""
        raise stopping(f"{where}{error.message}") from None
    except UnicodeDecodeError:
        raise stopping(f"{evidence} is not UTF-8 text; save it as CSV (UTF-8)") from None
    except OSError as error:
        raise stopping(f"{error.filename}: {error.strerror}") from None


def _scale(levels: str, cuts: str, needed: bool) -> Scale:
    if not levels:
        if needed:
            raise Refused("most-frequent needs --levels, such as --levels 1,2,3,4")
        levels = "1,2"
    values = [parse_hundredths(text) for text in levels.split(",")]
    at = (
        tuple(parse_hundredths(text) for text in cuts.split(","))
        if cuts
        else preset_cuts(values, CutPreset.AT_THE_VALUE)
    )
    if len(at) != len(values):
        raise Refused(f"--cuts has {len(at)} values, --levels has {len(values)}")
    pairs = enumerate(zip(values, at, strict=True), start=1)
    steps = tuple(ScaleLevel(f"Level {n}", str(n), value, cut) for n, (value, cut) in pairs)
    return Scale(steps, mastery_level=len(steps) - 1)


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text) if text else None
    except ValueError:
        raise Refused(f"--as-of: “{text}” is not a date like 2026-11-25") from None


@contextmanager
def _reading(path: Path) -> Iterator[tuple[TextIO, Callable[[], None] | None]]:
    """Open the evidence; on a terminal, with a progress bar that the news moves on."""
    with path.open("rb") as file, io.TextIOWrapper(file, "utf-8-sig", newline="") as lines:
        if not sys.stderr.isatty():
            yield lines, None
            return
        from rich.console import Console
        from rich.progress import Progress

        with Progress(console=Console(stderr=True), transient=True) as progress:
            bar = progress.add_task("Reading", total=path.stat().st_size)
            yield lines, lambda: progress.update(bar, completed=file.tell())


@contextmanager
def _writing(path: Path | None) -> Iterator[TextIO]:
    """Write beside the target and put it in place when all is written."""
    if path is None:
        yield sys.stdout
        return
    written = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        with written.open("w", encoding="utf-8", newline="") as out:
            yield out
        written.replace(path)
    finally:
        written.unlink(missing_ok=True)
