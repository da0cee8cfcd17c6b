"""python -m jade_ladder."""

from jade_ladder.cli import app

app()
