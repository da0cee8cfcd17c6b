"""The server that is measured, as a process of its own."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


@contextmanager
def serving(folder: Path) -> Iterator[str]:
    """Serve the data of a folder; gives the server's address, as host and port."""
    server = subprocess.Popen(
        [sys.executable, "-m", "jade_ladder", "serve", "--port", "0", "--data", str(folder)],
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        assert server.stdout is not None
        yield server.stdout.readline().strip().rsplit("/", 1)[1]
    finally:
        server.terminate()
        server.wait()
