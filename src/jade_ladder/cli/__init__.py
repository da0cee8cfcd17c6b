"""The command line: jade-ladder serve, demo, backup, restore, verify, calculate, openapi."""

from __future__ import annotations

from jade_ladder.cli import calculating, keeping, serving
from jade_ladder.cli.common import app

__all__ = ["app", "calculating", "keeping", "serving"]
