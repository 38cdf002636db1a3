"""A process that forks others. It is forked from the worker before that has threads, so nothing is imported again.

The worker sends it orders and gets back how each child ended. If the worker ends, however it does, so do the children.
"""

from __future__ import annotations

import itertools
import multiprocessing
import os
import signal
import threading
from collections.abc import Callable
from concurrent.futures import Future
from contextlib import suppress
from multiprocessing.connection import Connection, wait
from multiprocessing.process import BaseProcess

AGAIN = os.EX_TEMPFAIL
"""Exit code of a child that could not reach the database."""

_FORK = multiprocessing.get_context("fork")
Act = Callable[[str, int], None]


class ForkServerLost(Exception):
    """The process that forks others has ended."""


class ForkServer:
    """Starts children and waits for them; may be used by several threads. Make it before there are any."""

    def __init__(self, prepare: Callable[[], None]) -> None:
        """`prepare` runs in the new process before its first child."""
        self._connection, theirs = _FORK.Pipe()
        self._process = _FORK.Process(
            target=_serve, args=(theirs, self._connection, prepare), daemon=False
        )
        self._process.start()
        theirs.close()
        self._tickets = itertools.count()
        self._waiting: dict[int, Future[int]] = {}
        self._lock = threading.Lock()
        threading.Thread(target=self._listen, daemon=True).start()

    def run(self, act: Act, ident: str, memory: int) -> int:
        """The exit code of a child that runs `act(ident, memory)`; negative for a signal. Raises ForkServerLost."""
        ticket, ended = next(self._tickets), Future[int]()
        with self._lock:
            self._waiting[ticket] = ended
            try:
                self._connection.send((ticket, act, ident, memory))
            except OSError as error:
                del self._waiting[ticket]
                raise ForkServerLost from error
        return ended.result()

    def stop(self) -> None:
        """End all children, and the process itself; `run` then returns what became of them."""
        with suppress(OSError):
            os.kill(self._process.pid or 0, signal.SIGTERM)

    def _listen(self) -> None:
        with suppress(EOFError, OSError):
            while True:
                ticket, code = self._connection.recv()
                with self._lock:
                    ended = self._waiting.pop(ticket)
                ended.set_result(code)
        with self._lock:
            self._connection.close()
            for ended in self._waiting.values():
                ended.set_exception(ForkServerLost())
            self._waiting.clear()


def _serve(orders: Connection, theirs: Connection, prepare: Callable[[], None]) -> None:
    """Fork a child for each order and report how it ended, until the worker stops or is gone."""
    theirs.close()
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C reaches the worker, which then stops this
    running: dict[int, tuple[int, BaseProcess]] = {}
    signal.signal(signal.SIGTERM, lambda *_: _stop(running))
    prepare()
    while True:
        for ready in wait([orders, *running]):
            if isinstance(ready, int):
                ticket, child = running.pop(ready)
                child.join()
                with suppress(OSError):
                    orders.send((ticket, child.exitcode))
                child.close()
                continue
            try:
                ticket, act, ident, memory = orders.recv()
            except (EOFError, OSError):
                _stop(running)
            child = _FORK.Process(target=_child, args=(act, ident, memory, orders))
            child.start()
            running[child.sentinel] = (ticket, child)


def _stop(running: dict[int, tuple[int, BaseProcess]]) -> None:
    for _, child in running.values():
        child.terminate()
    for _, child in running.values():
        child.join()
    os._exit(0)


def _child(act: Act, ident: str, memory: int, orders: Connection) -> None:
    orders.close()
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    act(ident, memory)
