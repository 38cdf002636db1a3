"""What a child's own process reads before it is needed: all code, and the catalogue compiled once."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from sealpacket.app.bootstrap import bootstrap
from sealpacket.app.context import AppContext
from sealpacket.core.errors import ProblemError
from sealpacket.core.redact import Catalogue, Placeholders
from sealpacket.core.redact.typed import TextRedactor
from sealpacket.logs import set_up_log
from sealpacket.services.packets import collecting
from sealpacket.services.packets.redaction import redactions
from sealpacket.services.packets.redaction.terms import terms_of_register
from sealpacket.settings import Settings

_USUAL = """2026-11-28T08:00:00.000Z hostname-1 program[123]: user=somebody from 10.0.0.1 port 22 password=something1
<34>Nov 28 08:00:00 hostname-1 su: failed for somebody on /dev/pts/8, somebody@hostname-1.example, id 0123456789abcdef
{"time": "2026-11-28T08:00:00Z", "level": "error", "token": "Bearer abc.def.ghi", "url": "https://hostname-1/a?key=b"}
"""
"""What most logs look like: what the automata learn from it, every child has learnt."""


def _compile() -> None:
    """Compile the catalogue with our own domains, which are a part of it; what differs later is only its terms."""
    context = AppContext(Settings(), _enqueue_nothing)
    try:
        with context.database.transaction() as session:
            domains = terms_of_register(context, session)[1]
    except ProblemError:
        domains = set()
    context.database.engine.dispose()
    catalogue = Catalogue.build(domains=domains)
    TextRedactor(catalogue, Placeholders(bytes(32)), frozenset()).redact(_USUAL)


def redact(exhibit_id: str) -> None:
    """Redact one exhibit, with a context of this process's own."""
    set_up_log()
    redactions.redact_exhibit(AppContext(Settings(), _enqueue_nothing), exhibit_id)


def collect(run_id: str) -> None:
    """Run a kit that was confirmed, with a context of this process's own; what it brings is put into the queue."""
    set_up_log()
    collecting.run(bootstrap(Settings()), run_id)


def _enqueue_nothing(
    session: Session, task: str, arguments: dict[str, Any], lock: str, wait: int = 0
) -> None:
    raise AssertionError(f"a redaction enqueues nothing, and this one wanted {task}")


_compile()
