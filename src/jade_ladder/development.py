"""The application for make dev: the demo school, remade by nobody, reloaded by uvicorn."""

from __future__ import annotations

import os
from pathlib import Path

from fastapi import FastAPI

from jade_ladder.demo.scenario import open_demo
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.application import Settings, create_app


def app() -> FastAPI:
    """Make the application on the development data, filled with the demo at the first start."""
    folder = Path(os.environ.get("JADE_LADDER_DATA", ".dev-data"))
    database = Database.in_folder(folder)
    open_demo(database)
    return create_app(Settings(database, demo=True))
