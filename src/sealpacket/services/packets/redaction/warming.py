"""Compile the detectors in a process that forks others, so that each of them starts with the work done."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.errors import ProblemError
from sealpacket.core.redact import Catalogue, Placeholders
from sealpacket.core.redact.readers import load_all
from sealpacket.core.redact.typed import TextRedactor
from sealpacket.services.packets.redaction.terms import terms_of_register
from sealpacket.settings import Settings

_TYPICAL = """2026-11-28T08:00:00.000Z hostname-1 program[123]: user=somebody from 10.0.0.1 port 22 password=something1
<34>Nov 28 08:00:00 hostname-1 su: failed for somebody on /dev/pts/8, somebody@hostname-1.example, id 0123456789abcdef
{"time": "2026-11-28T08:00:00Z", "level": "error", "token": "Bearer abc.def.ghi", "url": "https://hostname-1/a?key=b"}
"""
"""Typical log lines, to warm up the matcher before forking."""


def warm_up(settings: Settings) -> None:
    """Load every reader, compile the detectors together with our own domains, and run them once over typical lines.

    Without the database the domains are missing; the detectors are then compiled again when they are first needed.
    """
    app = AppContext(settings, enqueue_nothing)
    try:
        with app.database.transaction() as session:
            domains = terms_of_register(app, session)[1]
    except ProblemError:
        domains = frozenset()
    app.database.engine.dispose()
    catalogue = Catalogue.build(domains=domains)
    load_all()
    TextRedactor(catalogue, Placeholders(bytes(32)), frozenset()).redact(_TYPICAL)


def enqueue_nothing(
    session: Session, task: str, arguments: dict[str, Any], lock: str, wait: int = 0
) -> None:
    """The queue of a context whose work enqueues nothing."""
    raise AssertionError(f"nothing is to be enqueued here, and this was: {task}")
