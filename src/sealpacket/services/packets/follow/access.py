"""A vendor's access to our systems: who, to what, until when, how it was asked for, and how it ended."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.services.packets import serialize
from sealpacket.services.packets.acting import packet_act, show
from sealpacket.services.packets.follow.schemas import AccessShown
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register import KINDS
from sealpacket.store.models import AccessGrant, lock_part

_LONGEST = timedelta(days=92)


def grant_access(
    app: AppContext,
    actor: Actor,
    number: str,
    who: str,
    what: str,
    until: datetime,
    *,
    asked: str = "",
) -> PacketShown:
    """Note that somebody at the vendor may come into a system of ours, until when, and how it was asked for.

    Raises Invalid for a time that is past or longer than three months.
    """
    now = datetime.now(UTC)
    if not now < until <= now + _LONGEST:
        raise Invalid(
            "Access has an end, within three months from now.", "Say until when.", field="until"
        )
    with packet_act(
        app, actor, "access granted", number, who=who, what=what, until=until.isoformat()
    ) as act:
        packet = act.packet
        for one in packet.access_grants:
            if (one.who, one.what) == (who, what) and one.ended_at is None:
                raise Conflict(
                    f"{who} may come into {what} already, until {one.until_at:%d %b %Y %H:%M} UTC.",
                    "End that first, then grant it again.",
                    code="granted-before",
                )
        packet.access_grants.append(
            AccessGrant(
                asset_id=packet.asset_id, who=who, what=what, asked=asked, until_at=until,
                granted_by=actor.name,
            )
        )  # fmt: skip
    return act.shown


def end_access(app: AppContext, actor: Actor, ident: str, how: str = "") -> PacketShown:
    """Note that access has ended, and how: switched off, or not needed any more. Raises NotFound, or Conflict if it
    has ended already."""
    with app.transaction(actor, "access ended", "access", how=how) as tx:
        one = lock_part(tx.session, AccessGrant, ident)
        if one is None:
            raise NotFound(
                "There is no such access.", "List the access that was granted, then name one."
            )
        if one.ended_at is not None:
            raise Conflict(
                f"{one.ended_by} has ended it already.", "Look at it again.", code="ended-before"
            )
        one.ended_at, one.ended_by, one.ended_how = datetime.now(UTC), actor.name, how
        tx.subject = f"packet {one.packet.number}"
        tx.detail |= {"who": one.who, "what": one.what}
        return show(app, tx.session, one.packet)


def list_access(app: AppContext, asset: str = "", *, ended: bool = False) -> list[AccessShown]:
    """Who may come into our systems now, the next to end first; with `ended` also who could; of one asset or all."""
    with app.database.transaction() as session:
        query = select(AccessGrant).order_by(AccessGrant.until_at)
        if asset:
            query = query.where(AccessGrant.asset_id == KINDS["asset"].find(session, asset).id)
        if not ended:
            query = query.where(AccessGrant.ended_at.is_(None))
        return [serialize.show_access(one) for one in session.scalars(query.limit(500))]


def overdue(session: Session) -> list[AccessShown]:
    """Access whose time is over and that nobody has ended."""
    query = select(AccessGrant).where(
        AccessGrant.ended_at.is_(None), AccessGrant.until_at < datetime.now(UTC)
    )
    return [serialize.show_access(one) for one in session.scalars(query.limit(100))]
