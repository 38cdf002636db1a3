"""Redactions and kits in processes of their own: what one does to its memory concerns no other; each can be ended."""

from __future__ import annotations

from collections.abc import Callable

from sealpacket.core.errors import DatabaseUnreachable, Unavailable
from sealpacket.jobs import child
from sealpacket.jobs.fork_server import AGAIN, Act, ForkServer, ForkServerLost
from sealpacket.services.packets.redaction.warming import warm_up
from sealpacket.settings import Settings


class ChildDied(Exception):
    """A child took its process down with it."""


class ChildStopped(Exception):
    """A child was ended because the worker is to stop; its work has to be done again."""


class Children:
    """Starts redactions and kits as processes, forked from one with the detectors compiled.

    Make it before the worker has threads. `lost` is called if that one ends unexpectedly: then so must the worker.
    """

    def __init__(self, settings: Settings) -> None:
        self._memory = settings.redaction_memory
        self._server = ForkServer(lambda: warm_up(settings))
        self._stopped = False
        self.lost: Callable[[], object] = lambda: None

    def redact(self, exhibit_id: str) -> None:
        """Redact an exhibit and wait for it.

        Raises DatabaseUnreachable if it has to wait for the database, ChildStopped if the worker stops, ChildDied if
        the process was killed, and Unavailable if the redaction failed; the exhibit then says so.
        """
        self._do(child.redact, exhibit_id)

    def collect(self, run_id: str) -> None:
        """Run a kit and wait for it. Raises as `redact`; the run says what failed."""
        self._do(child.collect, run_id)

    def _do(self, act: Act, ident: str) -> None:
        try:
            code = self._server.run(act, ident, self._memory)
        except ForkServerLost as error:
            if not self._stopped:
                self.lost()
            raise ChildStopped from error
        if code == 0:
            return
        if self._stopped:
            raise ChildStopped
        if code == AGAIN:
            raise DatabaseUnreachable(
                "The database cannot be reached.", "It will be retried automatically."
            )
        if code < 0:
            raise ChildDied(f"ended by signal {-code}")
        raise Unavailable(
            "A child of the worker failed.", "Look into the worker's log.", code="child-failed"
        )

    def stop(self) -> None:
        """End what runs; nothing new is begun."""
        self._stopped = True
        self._server.stop()
