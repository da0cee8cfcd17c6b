"""What all commands have in common."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

app = typer.Typer(
    name="jade-ladder",
    help="For teachers who grade against standards.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)

Data = Annotated[Path, typer.Option(envvar="DATA", help="The folder the data is kept in.")]
SCHOOL_DATA = Path("jade-ladder-data")


def stopping(message: str, code: int = 1) -> typer.Exit:
    """Say in one line why it does not go on; gives what to raise."""
    typer.echo(f"jade-ladder: {message}", err=True)
    return typer.Exit(code)
