"""jade-ladder backup, restore and verify: keeping a school's data."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from jade_ladder.cli.common import SCHOOL_DATA, Data, app, stopping
from jade_ladder.core.errors import JadeLadderError, StoreError
from jade_ladder.outside import clock
from jade_ladder.service.people.sessions import set_password
from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.files.keeping import beside, copy_files, file_faults
from jade_ladder.store.shared.backup import back_up
from jade_ladder.store.shared.backup import restore as put_back
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.shared.file import FILE_NAME, check_file
from jade_ladder.store.shared.migrations import is_newest
from jade_ladder.store.shared.verify import faults

NOT_USABLE, NOT_WHOLE = 1, 2


@app.command()
def backup(
    to: Annotated[Path, typer.Argument(help="The file to write; it must not be there yet.")],
    data: Data = SCHOOL_DATA,
) -> None:
    """Write a consistent copy of the data, while the server runs too: the database as one file, and
    the folder of its files beside it, into which each is copied once, however often this is done.
    """
    try:
        path = _there(data)
        database = Database(path, read_only=True)
        try:
            # The database first: every file that it names is there already, and stays meanwhile.
            with Contents.of(database).unswept():
                back_up(database, to)
                _copy_files_of(to, beside(path), beside(to))
        finally:
            database.close()
    except JadeLadderError as error:
        raise stopping(str(error)) from None
    typer.echo(f"The data of {data} is in {to}")


@app.command()
def reset_password(
    email: Annotated[str, typer.Argument(help="The e-mail that the teacher signs in with.")],
    data: Data = SCHOOL_DATA,
    password: Annotated[
        str, typer.Option(prompt="New password", hide_input=True, confirmation_prompt=True)
    ] = "",
) -> None:
    """Set another password for a teacher who is locked out, and sign them out everywhere."""
    try:
        database = Database(_there(data))
        try:
            name = set_password(database, email, password, clock.now())
        finally:
            database.close()
    except JadeLadderError as error:
        raise stopping(str(error)) from None
    typer.echo(f"{name} signs in with the new password now")


@app.command()
def restore(
    source: Annotated[Path, typer.Argument(help="A file that backup wrote.")],
    data: Data = SCHOOL_DATA,
) -> None:
    """Check a backup and put it in place; what stood there is kept beside it."""
    try:
        aside = put_back(
            source,
            data / FILE_NAME,
            clock.now().astimezone(),
            lambda: _copy_files_back(source, data / FILE_NAME),
        )
    except JadeLadderError as error:
        raise stopping(str(error)) from None
    typer.echo(f"{source} is the data of {data} now")
    if aside is not None:
        typer.echo(f"What stood there is kept as {aside}")


@app.command()
def verify(
    data: Data = SCHOOL_DATA,
    file: Annotated[Path | None, typer.Option(help="A backup to look at, instead.")] = None,
) -> None:
    """Check that the data is whole. Exit code 0: it is; 1: it cannot be opened; 2: it is not."""
    try:
        path = _there(data) if file is None else file
        if not check_file(path):
            raise stopping(f"there is no file {path}", NOT_USABLE)
        found = faults(path) or [*file_faults(path), *_evidence_faults(path)]
    except JadeLadderError as error:
        raise stopping(str(error), NOT_USABLE) from None
    for fault in found:
        typer.echo(f"jade-ladder: {fault}", err=True)
    if found:
        raise typer.Exit(NOT_WHOLE)
    typer.echo(f"{path} is whole")


def _copy_files_back(source: Path, target: Path) -> None:
    missing = file_faults(source)
    if missing:
        raise StoreError(f"The backup {source} is not whole: {missing[0]}")
    copy_files(source, beside(source), beside(target))


def _copy_files_of(copy: Path, source: Contents, target: Contents) -> None:
    try:
        copy_files(copy, source, target)
    except StoreError:
        # A copy of the database without its files is no backup.
        copy.unlink()
        raise


def _evidence_faults(path: Path) -> list[str]:
    database = Database(path, read_only=True)
    try:
        with database.reading() as db:
            return evidence_faults(db) if is_newest(db) else []
    finally:
        database.close()


def _there(data: Path) -> Path:
    path = data / FILE_NAME
    if not check_file(path):
        raise stopping(f"there is no data in {data}", NOT_USABLE)
    return path
