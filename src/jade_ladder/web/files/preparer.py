"""Making files ready to be shown in threads of the server, which wait for processes."""

from __future__ import annotations

import logging
import threading

from jade_ladder.core.errors import StoreError
from jade_ladder.outside import clock
from jade_ladder.service.files import preparing
from jade_ladder.store.files.files import FileRow
from jade_ladder.store.shared.connection import Database

AT_ONCE = 2
PAUSE, AFTER_TROUBLE = 0.3, 5.0
"""Seconds after which it looks again where nothing waits, and where something went wrong."""
_log = logging.getLogger(__name__)


class Preparer:
    """Makes a few files ready at a time, and one of a person: whoever sent many keeps nobody else
    waiting, since people take turns.
    """

    def __init__(self, database: Database) -> None:
        self._database = database
        self._stopping = threading.Event()
        self._lock = threading.Lock()
        self._busy: set[int] = set()
        self._turns: dict[int, int] = {}
        self._threads = [
            threading.Thread(target=self._run, name=f"preparer {number}", daemon=True)
            for number in range(AT_ONCE)
        ]

    def begin(self) -> None:
        """Begin."""
        for thread in self._threads:
            thread.start()

    def close(self) -> None:
        """Stop, what is being made too: it is begun again at the next start."""
        self._stopping.set()
        for thread in self._threads:
            thread.join(timeout=10)

    def _run(self) -> None:
        pause = PAUSE
        while not self._stopping.wait(pause):
            try:
                pause = 0.0 if self._one() else PAUSE
            except (StoreError, OSError) as error:
                if not self._stopping.is_set():
                    _log.warning("A file was not made ready: %s", error)
                pause = AFTER_TROUBLE

    def _one(self) -> bool:
        """Make one file ready, if one waits whose person has none in hand."""
        taken = self._take()
        if taken is None:
            return False
        person_id, row = taken
        try:
            preparing.prepare(self._database, row, clock.now(), self._stopping.is_set)
        finally:
            with self._lock:
                self._busy.discard(person_id)
        return True

    def _take(self) -> tuple[int, FileRow] | None:
        with self._lock:
            waiting = {
                person_id: row
                for person_id, row in preparing.waiting(self._database).items()
                if person_id not in self._busy
            }
            if not waiting:
                return None
            # Who had the last turn longest ago; the turns of who waits for nothing are forgotten.
            self._turns = {one: turn for one, turn in self._turns.items() if one in waiting}
            person_id = min(waiting, key=lambda one: (self._turns.get(one, 0), one))
            self._turns[person_id] = max(self._turns.values(), default=0) + 1
            self._busy.add(person_id)
            return person_id, waiting[person_id]
