"""A request that is sent twice with the same key is done once, and answered twice alike."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from psycopg.errors import LockNotAvailable
from sqlalchemy import delete, text
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.store.models import SettledRequest

LONGEST_KEY = 200
KEPT = timedelta(days=1)
WAIT_SECONDS = 10
ANSWER_PURPOSE = "answer to a request"


@dataclass(frozen=True)
class Answer:
    """The answer to a request: JSON as text, the HTTP status, and the ETag if it has one; or an earlier one again."""

    body: str
    status: int
    etag: str | None = None
    is_replay: bool = False


def answer_once(
    app: AppContext, actor: Actor, key: str, fingerprint: str, act: Callable[[], Answer]
) -> Answer:
    """Do `act` unless this account has sent the same request with the same key before; then give that answer again.

    What `act` changes and the note that it is done are committed together: there is no moment at which a repetition
    would do it again. `fingerprint` is what makes a request the same. Notes are kept for a day.

    A repetition waits for the first request. Raises Conflict if the key was used for another request, or if the first
    one takes longer than WAIT_SECONDS.
    """
    if len(key) > LONGEST_KEY:
        raise Invalid(
            f"The Idempotency-Key is longer than {LONGEST_KEY} characters.",
            "Take a shorter one, such as a UUID.",
        )
    with app.database.joined() as session:
        _take_turn(session, f"{actor.account_id} {key}")
        before = session.get(SettledRequest, (actor.account_id, key))
        if before is not None:
            if before.fingerprint != fingerprint:
                raise Conflict(
                    "This Idempotency-Key was used for another request.",
                    "Take a new key.",
                    code="key-used",
                )
            body = app.open_value(before.body_sealed, ANSWER_PURPOSE)
            return Answer(body, before.status, before.etag, is_replay=True)
        answer = act()
        session.execute(delete(SettledRequest).where(SettledRequest.at < datetime.now(UTC) - KEPT))
        sealed = app.seal_value(answer.body, ANSWER_PURPOSE)
        session.add(
            SettledRequest(
                account_id=actor.account_id,
                key=key,
                fingerprint=fingerprint,
                status=answer.status,
                body_sealed=sealed,
                etag=answer.etag,
            )
        )
        return answer


def _take_turn(session: Session, name: str) -> None:
    """Wait for requests with the same key. Raises Conflict after WAIT_SECONDS."""
    lock = text("SELECT pg_advisory_xact_lock(hashtextextended(:name, 0))")
    session.execute(text(f"SET LOCAL lock_timeout = '{WAIT_SECONDS}s'"))
    try:
        session.execute(lock, {"name": name})
    except OperationalError as error:
        if not isinstance(error.orig, LockNotAvailable):
            raise
        raise Conflict(
            "The first request with this key is still under way.", "Send it again.", code="key-busy"
        ) from error
    session.execute(text("SET LOCAL lock_timeout TO DEFAULT"))
