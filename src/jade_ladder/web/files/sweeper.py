"""Sweeping in a thread of the server."""

from __future__ import annotations

import logging
import threading

from jade_ladder.core.errors import StoreError
from jade_ladder.outside import clock
from jade_ladder.service.files.sweeping import sweep
from jade_ladder.store.shared.connection import Database

EVERY = 3600
"""Seconds between sweepings; the first is as long after the start."""
_log = logging.getLogger(__name__)


class Sweeper:
    """Removes the files that nothing names any more, now and then."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._stopping = threading.Event()
        self._thread = threading.Thread(target=self._run, name="sweeper", daemon=True)

    def begin(self) -> None:
        """Begin."""
        self._thread.start()

    def close(self) -> None:
        """Stop."""
        self._stopping.set()
        self._thread.join(timeout=10)

    def _run(self) -> None:
        while not self._stopping.wait(EVERY):
            try:
                sweep(self._database, clock.now(), clock.device_time())
            except (StoreError, OSError) as error:
                _log.warning("Files were not swept: %s", error)
