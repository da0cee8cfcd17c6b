"""The command line, jade-ladder: serve, demo, backup, restore, verify, export, calculate …"""

from __future__ import annotations

from jade_ladder.cli import calculating, exporting, keeping, serving
from jade_ladder.cli.common import app

__all__ = ["app", "calculating", "exporting", "keeping", "serving"]
