"""Heavy reads: what reads and calculates much is worked out apart from what saves."""

from __future__ import annotations

import functools
import gc
import importlib
import inspect
import os
import signal
import threading
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, fields
from multiprocessing import get_context
from pathlib import Path
from typing import Any, ParamSpec, TypeVar, cast

from fastapi import Request, Response
from fastapi.encoders import jsonable_encoder
from fastapi.responses import JSONResponse
from pydantic import BaseModel

from jade_ladder.core.errors import JadeLadderError, Unavailable
from jade_ladder.service.shared.caller import Caller, Guest
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.shared.problems import answer

Args = ParamSpec("Args")
Found = TypeVar("Found")
NICENESS = 5
SELDOM = 100_000
"""After so many new objects the collector looks round, in the worker."""
_CALLER, _REQUEST = "caller", "the_request"


@dataclass(frozen=True, slots=True)
class _Call:
    """A heavy read as it goes to the worker: the endpoint's names, who calls, and its arguments."""

    module: str
    name: str
    long: bool
    kind: type[Caller] | type[Guest]
    who: dict[str, Any]
    arguments: dict[str, Any]

    def done_on(self, database: Database) -> _Answered:
        """Do it on a database."""
        endpoint = inspect.unwrap(getattr(importlib.import_module(self.module), self.name))
        caller = self.kind(database, **self.who)
        try:
            found = endpoint(**self.arguments, **{_CALLER: caller})
        except JadeLadderError as error:
            found = answer(error)
        return _Answered.of(found)


@dataclass(frozen=True, slots=True)
class _Answered:
    """An answer as it comes from the worker: ready to be sent."""

    status: int
    body: bytes
    headers: dict[str, str]

    @classmethod
    def of(cls, found: object) -> _Answered:
        """Write what an endpoint found."""
        if isinstance(found, BaseModel):
            headers = {"content-type": "application/json"}
            return cls(200, found.model_dump_json().encode(), headers)
        done = found if isinstance(found, Response) else JSONResponse(jsonable_encoder(found))
        headers = {name: value for name, value in done.headers.items() if name != "content-length"}
        return cls(done.status_code, bytes(done.body), headers)

    def response(self) -> Response:
        """Give it to be sent."""
        return Response(self.body, self.status, self.headers)


def heavy(endpoint: Callable[Args, Found]) -> Callable[Args, Found]:
    """Let an endpoint that only reads, and reads much, be worked out by the application's
    HeavyReads. Its arguments go to another process and are plain data, but for its `caller`.
    """
    return _apart(endpoint, long=False)


def heaviest(endpoint: Callable[Args, Found]) -> Callable[Args, Found]:
    """Let an endpoint that reads for many seconds be worked out as `heavy` ones are, in a process
    of its own, which ends with it: the heavy ones do not wait for it.
    """
    return _apart(endpoint, long=True)


def _apart(endpoint: Callable[Args, Found], long: bool) -> Callable[Args, Found]:
    @functools.wraps(endpoint)
    def apart(**arguments: Any) -> Response:
        request: Request = arguments.pop(_REQUEST)
        caller: Caller | Guest = arguments.pop(_CALLER)
        who = {one.name: getattr(caller, one.name) for one in fields(caller)}
        database: Database = who.pop("database")
        call = _Call(
            endpoint.__module__,
            endpoint.__name__,
            long,
            type(caller),
            who,
            arguments,
        )
        reads: HeavyReads = request.app.state.heavy
        return reads.do(call, database)

    # The request is asked for beside what the endpoint itself asks for.
    signature = inspect.signature(endpoint)
    asked = inspect.Parameter(_REQUEST, inspect.Parameter.KEYWORD_ONLY, annotation=Request)
    parameters = [one.replace(kind=one.KEYWORD_ONLY) for one in signature.parameters.values()]
    apart.__signature__ = signature.replace(parameters=[*parameters, asked])  # type: ignore[attr-defined]
    return cast(Callable[Args, Found], apart)


class HeavyReads:
    """Works out heavy reads in one process of its own, which only reads, and long ones in another.
    In a thread beside them a save of a millisecond would wait a hundred for its turn at the
    interpreter.

    Without a worker (in tests) they are worked out where they are called.
    """

    def __init__(self, worker_on: Path | None = None) -> None:
        """`worker_on` is the database that the worker reads; None: no worker."""
        self._path = worker_on
        self._lock = threading.Lock()
        # By whether reads are long.
        self._pools: dict[bool, ProcessPoolExecutor] = {}

    def do(self, call: _Call, database: Database) -> Response:
        """Do a call, here on `database` where there is no worker, and give its answer.

        Raises Unavailable when the worker was killed; the next call has a new one.
        """
        if self._path is None:
            return call.done_on(database).response()
        pool = self._started(self._path, call.long)
        try:
            return pool.submit(_in_worker, call).result().response()
        except BrokenProcessPool as error:
            with self._lock:
                if self._pools.get(call.long) is pool:
                    del self._pools[call.long]
            raise Unavailable("This could not be worked out now. Try again in a moment.") from error

    def begin(self) -> None:
        """Start the worker, so that the first who asks need not wait for it."""
        if self._path is not None:
            self._started(self._path, long=False).submit(os.getpid)

    def close(self) -> None:
        """Let the workers go."""
        with self._lock:
            for pool in self._pools.values():
                pool.shutdown(cancel_futures=True)
            self._pools.clear()

    def _started(self, path: Path, long: bool) -> ProcessPoolExecutor:
        with self._lock:
            if long not in self._pools:
                self._pools[long] = ProcessPoolExecutor(
                    1,
                    get_context("spawn"),
                    initializer=_begin,
                    initargs=(path, os.getpid()),
                    # What a long read took of memory goes with its process.
                    max_tasks_per_child=1 if long else None,
                )
            return self._pools[long]


_reading: Database | None = None


def _begin(path: Path, server: int) -> None:
    """Begin a worker: it yields to what saves, and ends with the server, however that ends."""
    global _reading
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(NICENESS)
    _reading = Database(path, read_only=True)
    threading.Thread(target=_end_with, args=(server,), daemon=True).start()
    gc.freeze()
    # A wall makes tens of thousands of objects that are in no ring: the collector is to walk them
    # rarely.
    gc.set_threshold(SELDOM)


def _end_with(server: int) -> None:
    while os.getppid() == server:
        time.sleep(1)
    os._exit(0)


def _in_worker(call: _Call) -> _Answered:
    if _reading is None:
        raise RuntimeError("the worker has no database")
    return call.done_on(_reading)
