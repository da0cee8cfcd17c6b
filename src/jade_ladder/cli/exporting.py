"""jade-ladder export: a class, or a task of it, as a workbook or as CSV files."""

from __future__ import annotations

import os
from contextlib import closing
from datetime import date
from pathlib import Path
from typing import Annotated

import typer

from jade_ladder.cli.common import SCHOOL_DATA, Data, app, stopping
from jade_ladder.core.errors import JadeLadderError
from jade_ladder.outside import clock

ENDINGS = {".xlsx": "a workbook", ".zip": "CSV files in an archive"}


@app.command()
def export(
    to: Annotated[Path, typer.Argument(help="The file to write: .xlsx, or .zip for CSV files.")],
    school_class: Annotated[str, typer.Option("--class", help="The class, by name or number.")],
    task: Annotated[int, typer.Option(help="One task of it, by number; all of the class.")] = 0,
    as_of: Annotated[str, typer.Option(help="As of an earlier day: 2026-11-25.")] = "",
    decimal_comma: Annotated[
        bool, typer.Option("--decimal-comma", help="CSV with decimal commas and semicolons.")
    ] = False,
    data: Data = SCHOOL_DATA,
) -> None:
    """Write a class as data: the wall, each cell of it, the outcomes, the evidence, totals, remarks
    and judgements; while the server runs, too.
    """
    # Imported here: calculate starts in a fraction of the time without them.
    from jade_ladder.formats.exported.writing import Form, write_export
    from jade_ladder.service.reports.exports import class_at_hand, class_export, task_export
    from jade_ladder.service.shared.caller import Teacher
    from jade_ladder.store.shared.connection import Database
    from jade_ladder.store.shared.file import FILE_NAME, check_file

    if to.suffix.lower() not in ENDINGS:
        known = "; ".join(f"{ending} for {what}" for ending, what in ENDINGS.items())
        raise stopping(f"{to} says by its ending what it is to be: {known}")
    form = Form(to.suffix.lower()[1:])
    try:
        path = data / FILE_NAME
        if not check_file(path):
            raise stopping(f"there is no data in {data}")
        with closing(Database(path, read_only=True)) as database:
            found = class_at_hand(database, school_class)
            caller = Teacher(database, found.teacher_id, clock.now())
            made = (
                task_export(caller, task, found.id)
                if task
                else class_export(caller, found.id, _day(as_of) if as_of else None)
            )
            written = to.with_name(f".{to.name}.{os.getpid()}.part")
            try:
                with made as tables, written.open("wb") as target:
                    write_export(tables, form, target, decimal_comma)
                written.replace(to)
            finally:
                written.unlink(missing_ok=True)
    except JadeLadderError as error:
        raise stopping(str(error)) from None
    except OSError as error:
        raise stopping(f"{error.filename}: {error.strerror}") from None
    typer.echo(f"{tables.file_name} is in {to}")


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise stopping(f"--as-of is a day like 2026-11-25, not {text}") from None
