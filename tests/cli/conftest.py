"""Commands as they are typed, run in this process; servers are processes of their own."""

from __future__ import annotations

from dataclasses import dataclass

from typer.testing import CliRunner

from jade_ladder.cli import app


@dataclass(frozen=True, slots=True)
class Done:
    """How a command ended, and what it said."""

    code: int
    stdout: str
    stderr: str


def run(*options: str) -> Done:
    """Run a command to its end. What it raises beyond its own one line fails the test."""
    result = CliRunner().invoke(app, options, catch_exceptions=False)
    return Done(result.exit_code, result.stdout, result.stderr)
