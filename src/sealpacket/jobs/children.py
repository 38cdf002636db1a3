"""Redactions and kits in processes of their own: what one does to its memory concerns no other; each can be ended."""

from __future__ import annotations

import multiprocessing
import os
import resource
import sys
import threading
from collections.abc import Callable
from contextlib import suppress
from multiprocessing.process import BaseProcess

from sealpacket.core.errors import DatabaseUnreachable, Unavailable

AGAIN = os.EX_TEMPFAIL
"""How a child ends that could not reach the database."""


class ChildDied(Exception):
    """A child took its process down with it."""


class ChildStopped(Exception):
    """A child was ended because the worker is to stop; its work has to be done again."""


class Children:
    """Starts redactions and kits as processes, from one that has read all code and compiled the catalogue."""

    def __init__(self, memory: int) -> None:
        """`memory` is how many bytes one of them may take beside what all have in common."""
        self._memory = memory
        self._context = multiprocessing.get_context("forkserver")
        self._context.set_forkserver_preload(["sealpacket.jobs.child"])
        self._running: set[BaseProcess] = set()
        self._lock = threading.Lock()
        self._stopped = False

    def redact(self, exhibit_id: str) -> None:
        """Redact an exhibit and wait for it.

        Raises DatabaseUnreachable if it has to wait for the database, ChildStopped if the worker stops, ChildDied if
        the process was killed, and Unavailable if the redaction failed; the exhibit then says so.
        """
        self._do(redact_in_child, exhibit_id)

    def collect(self, run_id: str) -> None:
        """Run a kit and wait for it. Raises as `redact`; the run says what failed."""
        self._do(collect_in_child, run_id)

    def _do(self, act: Callable[[str, int], None], ident: str) -> None:
        child = self._context.Process(target=act, args=(ident, self._memory), daemon=True)
        with self._lock:
            if self._stopped:
                raise ChildStopped
            child.start()
            self._running.add(child)
        try:
            child.join()
        finally:
            with self._lock:
                self._running.discard(child)
        code = child.exitcode
        child.close()
        if code == 0:
            return
        if self._stopped:
            raise ChildStopped
        if code == AGAIN:
            raise DatabaseUnreachable(
                "The database cannot be reached.", "It will be retried automatically."
            )
        if code is not None and code < 0:
            raise ChildDied(f"ended by signal {-code}")
        raise Unavailable(
            "A child of the worker failed.", "Look into the worker's log.", code="child-failed"
        )

    def stop(self) -> None:
        """End what runs; nothing new is begun."""
        with self._lock:
            self._stopped = True
            for child in self._running:
                with suppress(OSError, ValueError):
                    child.terminate()


def redact_in_child(exhibit_id: str, memory: int) -> None:
    """Redact in a child. Ends the process with 0, AGAIN or 1."""
    from sealpacket.jobs import child

    _act(child.redact, exhibit_id, memory)


def collect_in_child(run_id: str, memory: int) -> None:
    """Run a kit in a child. Ends the process with 0, AGAIN or 1."""
    from sealpacket.jobs import child

    _act(child.collect, run_id, memory)


def _act(act: Callable[[str], None], ident: str, memory: int) -> None:
    _limit(memory)
    try:
        act(ident)
    except DatabaseUnreachable:
        sys.exit(AGAIN)


def _limit(memory: int) -> None:
    """Let this process, and those that it starts, have so many bytes more than it has now."""
    with open("/proc/self/statm") as file:  # noqa: PTH123 - no file of anyone's
        has = int(file.read().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (has + memory, has + memory))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
