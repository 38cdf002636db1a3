"""Webhooks: events are posted to receivers of the organisation's own, signed, in order, until they are taken.

A receiver that is away or not well is tried again, later and later, and gets everything in order once it is back. An
event that a receiver refuses three times is put aside, so that the others wait no longer.
"""

from __future__ import annotations

import base64
import secrets
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from functools import partial

import structlog
from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.channels import receiver
from sealpacket.core.errors import Conflict, Invalid, NotFound, Unavailable
from sealpacket.services import events
from sealpacket.services.events import EventShown
from sealpacket.store.models import CustodyEntry, RefusedEvent, Webhook

WEBHOOK_PURPOSE = "webhook secret"
AT_ONCE = 100
"""Events that a receiver gets in one round."""
REFUSALS = 3
"""So often an event is refused before it is put aside."""
FIRST_PAUSE, LONGEST_PAUSE = timedelta(seconds=10), timedelta(hours=1)
MOST = 100
SIDE_BY_SIDE = 8
"""How many receivers are posted to at once: one that hangs does not keep the others waiting."""
_SECRET_BYTES = 32
log = structlog.get_logger()


class WebhookShown(BaseModel):
    """A receiver of events, without its secret."""

    name: str
    address: str
    packets_only: bool = Field(description="Whether it gets only events of packets.")
    by: str = Field(description="The account that added it.")
    at: datetime = Field(description="When it was added.")
    waiting: int = Field(description="How many events wait for it.")
    refused: int = Field(description="How many events it has refused.")
    trouble: str = Field(description="Why the last event could not be posted; empty: it could.")
    next_try_at: datetime | None = Field(description="When it is tried again; null: at once.")


class NewWebhook(WebhookShown):
    """A receiver that was just added, with its secret."""

    secret: str = Field(description="Checks signatures; it is shown this once.")


class RefusedShown(BaseModel):
    """An event that a receiver refused."""

    event: EventShown = Field(description="The event.")
    reason: str
    at: datetime = Field(description="When it was refused last.")
    again: bool = Field(description="Whether it is about to be sent again.")


def listed(app: AppContext) -> list[WebhookShown]:
    """All receivers of events, by name."""
    with app.database.transaction() as session:
        query = select(Webhook).order_by(Webhook.name).limit(MOST)
        return [_show(session, one) for one in session.scalars(query)]


def add(
    app: AppContext, actor: Actor, name: str, address: str, *, packets_only: bool = True
) -> NewWebhook:
    """Add a receiver; it gets what happens from now on.

    Raises Conflict for a name that is taken, Invalid for an address that the house does not allow.
    """
    need_allowed(app, address)
    secret = new_secret()
    with app.transaction(actor, "webhook added", f"webhook {name}", address=address) as tx:
        if tx.session.get(Webhook, name) is not None:
            raise Conflict(
                f"There is a webhook {name} already.", "Take another name.", code="already-there"
            )
        one = Webhook(
            name=name,
            address=address,
            secret_sealed=app.seal_value(secret, WEBHOOK_PURPOSE),
            packets_only=packets_only,
            by=actor.name,
            after=events.newest_in(tx.session),
        )
        tx.session.add(one)
        tx.session.flush()
        return NewWebhook(**_show(tx.session, one).model_dump(), secret=secret)


def remove(app: AppContext, actor: Actor, name: str) -> None:
    """Remove a receiver, and the list of what it refused. Raises NotFound."""
    with app.transaction(actor, "webhook removed", f"webhook {name}") as tx:
        tx.session.delete(_find(tx.session, name))


def refused(app: AppContext, name: str) -> list[RefusedShown]:
    """Events that a receiver refused, the oldest first. Raises NotFound."""
    with app.database.transaction() as session:
        _find(session, name)
        query = select(RefusedEvent).where(RefusedEvent.webhook == name).order_by(RefusedEvent.seq)
        return [_show_refused(session, one) for one in session.scalars(query.limit(MOST))]


def resend(app: AppContext, actor: Actor, name: str, seq: int) -> RefusedShown:
    """Send a refused event again, in the worker's next round. Raises NotFound."""
    with app.transaction(actor, "event sent again", f"webhook {name}", event=seq) as tx:
        one = tx.session.get(RefusedEvent, (name, seq))
        if one is None:
            raise NotFound(
                f"{name} has not refused an event {seq}.", "List those that it has refused."
            )
        one.again = True
        tx.session.flush()
        return _show_refused(tx.session, one)


def send_all(app: AppContext) -> None:
    """Post to every receiver what waits for it. The worker calls this, one round at a time."""
    with app.database.transaction() as session:
        due = (Webhook.next_try_at.is_(None)) | (Webhook.next_try_at <= datetime.now(UTC))
        names = session.scalars(select(Webhook.name).where(due).order_by(Webhook.name)).all()
    if names:
        with ThreadPoolExecutor(min(len(names), SIDE_BY_SIDE), "webhook") as pool:
            list(pool.map(partial(_send_to_one, app), names))


def _send_to_one(app: AppContext, name: str) -> None:
    """Post to one receiver; whatever fails there keeps no other from its events."""
    try:
        _send_to(app, name)
    except Exception:
        log.exception("events could not be posted", webhook=name)


def _send_to(app: AppContext, name: str) -> None:
    with app.database.transaction() as session:
        hook = session.get(Webhook, name)
        if hook is None:
            return
        try:
            need_allowed(app, hook.address)
        except Invalid as problem:
            _note(hook, hook.after, problem.detail)
            return
        secret = app.open_value(hook.secret_sealed, WEBHOOK_PURPOSE)
        address, after, packets_only = hook.address, hook.after, hook.packets_only
        asked = select(RefusedEvent.seq).where(RefusedEvent.webhook == name, RefusedEvent.again)
        again = [_event(session, seq) for seq in session.scalars(asked.order_by(RefusedEvent.seq))]
    page = events.page_of(app, after=after, packets_only=packets_only, limit=AT_ONCE)

    def post(event: EventShown) -> None:
        body = event.model_dump_json().encode()
        receiver.post(address, secret, f"event-{event.seq}", body, app.settings.desk_timeout)

    for event in again:
        _once_more(app, name, event, post)
    for event in page.items:
        if not _next(app, name, event, post):
            return
    with app.database.transaction() as session:
        hook = session.get(Webhook, name)
        if hook is not None:
            _note(hook, page.next, trouble="")


def _once_more(
    app: AppContext, name: str, event: EventShown, post: Callable[[EventShown], None]
) -> None:
    """Post a refused event again; it leaves the list if it is taken."""
    trouble, _ = _posted(event, post)
    with app.database.transaction() as session:
        one = session.get(RefusedEvent, (name, event.seq))
        if one is None:
            return
        if trouble:
            one.reason, one.again, one.at = trouble, False, datetime.now(UTC)
        else:
            session.delete(one)


def _next(
    app: AppContext, name: str, event: EventShown, post: Callable[[EventShown], None]
) -> bool:
    """Post the next event; whether the one after it may follow at once. After its last refusal it goes to the list."""
    trouble, is_refused = _posted(event, post)
    with app.database.transaction() as session:
        hook = session.get(Webhook, name)
        if hook is None:
            return False
        hook.refusals += is_refused
        if hook.refusals >= REFUSALS:
            session.add(RefusedEvent(webhook=name, seq=event.seq, reason=trouble))
            trouble = ""
        _note(hook, event.seq, trouble)
    return not trouble


def _posted(event: EventShown, post: Callable[[EventShown], None]) -> tuple[str, bool]:
    """Why an event was not taken, and whether it was refused; empty if it was taken."""
    try:
        post(event)
    except (Conflict, Unavailable) as problem:
        return problem.detail, isinstance(problem, Conflict)
    return "", False


def _note(hook: Webhook, seq: int, trouble: str) -> None:
    """Note that a receiver is through with an event, or when it is tried again."""
    if not trouble:
        hook.after, hook.tried, hook.refusals = seq, 0, 0
        hook.next_try_at, hook.trouble = None, ""
        return
    hook.next_try_at = datetime.now(UTC) + pause_after(hook.tried)
    hook.trouble, hook.tried = trouble, hook.tried + 1


def pause_after(tried: int) -> timedelta:
    """How long a receiver is left alone after a failure, by the number of failures before it."""
    grown: timedelta = FIRST_PAUSE * 3 ** min(tried, 10)
    return min(grown, LONGEST_PAUSE)


def new_secret() -> str:
    """A new secret for checking signatures."""
    return receiver.SECRET_PREFIX + base64.b64encode(secrets.token_bytes(_SECRET_BYTES)).decode()


def need_allowed(app: AppContext, address: str) -> None:
    """Raise Invalid for an address outside those that the house allows."""
    allowed = app.settings.webhook_addresses
    inside = "/.." not in address
    if inside and any(
        address == one or address.startswith(one.rstrip("/") + "/") for one in allowed
    ):
        return
    raise Invalid(
        f"The house allows no webhook to {address[:200]}.",
        "An operator may allow it: SEALPACKET_WEBHOOK_ADDRESSES lists what addresses begin with.",
        field="address",
    )


def _find(session: Session, name: str) -> Webhook:
    one = session.get(Webhook, name)
    if one is None:
        raise NotFound(f"There is no webhook {name}.", "List the webhooks, then name one of them.")
    return one


def _event(session: Session, seq: int) -> EventShown:
    return events.shown(session.get_one(CustodyEntry, seq))


def _show_refused(session: Session, one: RefusedEvent) -> RefusedShown:
    event = _event(session, one.seq)
    return RefusedShown(event=event, reason=one.reason, at=one.at, again=one.again)


def _show(session: Session, one: Webhook) -> WebhookShown:
    waiting = events.how_many(session, after=one.after, packets_only=one.packets_only)
    counted = select(func.count()).select_from(RefusedEvent)
    return WebhookShown(
        name=one.name,
        address=one.address,
        packets_only=one.packets_only,
        by=one.by,
        at=one.at,
        waiting=waiting,
        refused=session.scalar(counted.where(RefusedEvent.webhook == one.name)) or 0,
        trouble=one.trouble,
        next_try_at=one.next_try_at,
    )
