"""The work of a child process: one redaction or one kit, with a context of its own."""

from __future__ import annotations

import resource
import sys
from collections.abc import Callable

from sealpacket.app.bootstrap import bootstrap
from sealpacket.app.context import AppContext
from sealpacket.core.errors import DatabaseUnreachable
from sealpacket.jobs.fork_server import AGAIN
from sealpacket.services.packets import kit_runs
from sealpacket.services.packets.redaction import redactions
from sealpacket.services.packets.redaction.warming import enqueue_nothing
from sealpacket.settings import Settings


def redact(exhibit_id: str, memory: int) -> None:
    """Redact one exhibit with at most `memory` bytes more than now. Exits with AGAIN without the database."""
    _act(_redact, exhibit_id, memory)


def collect(run_id: str, memory: int) -> None:
    """Run a kit that was confirmed, limited likewise. Exits with AGAIN without the database."""
    _act(_collect, run_id, memory)


def _redact(exhibit_id: str) -> None:
    redactions.redact_exhibit(AppContext(Settings(), enqueue_nothing), exhibit_id)


def _collect(run_id: str) -> None:
    """Collected files are queued for redaction."""
    kit_runs.run(bootstrap(Settings()), run_id)


def _act(act: Callable[[str], None], ident: str, memory: int) -> None:
    _limit(memory)
    try:
        act(ident)
    except DatabaseUnreachable:
        sys.exit(AGAIN)


def _limit(memory: int) -> None:
    """Limit the memory of this process, and of each that it starts, to `memory` bytes above its present size."""
    with open("/proc/self/statm") as file:  # noqa: PTH123 - no file of anyone's
        has = int(file.read().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (has + memory, has + memory))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
