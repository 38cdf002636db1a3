"""A request that is sent twice with the same key is done once, and answered twice alike."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from sqlalchemy import delete, text

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.store.models import SettledRequest

LONGEST_KEY = 200
KEPT = timedelta(days=1)
ANSWER_PURPOSE = "answer to a request"


@dataclass(frozen=True)
class Answer:
    """The answer to a request: JSON as text, the HTTP status, and the ETag if it has one."""

    body: str
    status: int
    etag: str | None = None


def answer_once(
    app: AppContext, actor: Actor, key: str, fingerprint: str, act: Callable[[], Answer]
) -> Answer:
    """Do `act` unless this account has sent the same request with the same key before; then give that answer again.

    What `act` changes and the note that it is done are committed together: there is no moment at which a repetition
    would do it again. `fingerprint` is what makes a request the same. Notes are kept for a day.

    Raises Conflict if the key was used for another request, or if the first one is still under way.
    """
    if len(key) > LONGEST_KEY:
        raise Invalid(
            f"The Idempotency-Key is longer than {LONGEST_KEY} characters.",
            "Take a shorter one, such as a UUID.",
        )
    with app.database.joined() as session:
        free = session.scalar(
            text("SELECT pg_try_advisory_xact_lock(hashtextextended(:name, 0))"),
            {"name": f"{actor.account_id} {key}"},
        )
        if not free:
            raise Conflict(
                "The first request with this key is still under way.",
                "Wait for it.",
                code="key-busy",
            )
        before = session.get(SettledRequest, (actor.account_id, key))
        if before is not None:
            if before.fingerprint != fingerprint:
                raise Conflict(
                    "This Idempotency-Key was used for another request.",
                    "Take a new key.",
                    code="key-used",
                )
            return Answer(
                app.open_value(before.body_sealed, ANSWER_PURPOSE), before.status, before.etag
            )
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
