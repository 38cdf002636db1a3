"""Hours of entitlements that no clock can read: listed once each, and converted for all that have them."""

from __future__ import annotations

from datetime import UTC, datetime

from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.core.sheets.hours import read_week
from sealpacket.services.register.acts import keep_version, rewrite
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Entitlement


class UnreadHours(BaseModel):
    """Hours that say how much is covered, but not when."""

    text: str = Field(description="The hours as the entitlements have them, such as 9x5.")
    entitlements: int = Field(description="How many entitlements that have not ended have them.")


class ConvertedHours(BaseModel):
    """The result of converting hours."""

    entitlements: int = Field(
        description="How many entitlements were changed, those that have ended, too."
    )


def unread_hours(app: AppContext) -> list[UnreadHours]:
    """Hours of entitlements that do not say at which days and times, the most frequent first.

    The clocks of such entitlements run in the hours of the desk.
    """
    with app.database.snapshot() as session:
        query = (
            select(Entitlement.hours, func.count())
            .where(Entitlement.hours != "", Entitlement.ends_on >= datetime.now(UTC).date())
            .group_by(Entitlement.hours)
            .order_by(func.count().desc(), Entitlement.hours)
        )
        rows = session.execute(query)
        return [UnreadHours(text=text, entitlements=n) for text, n in rows if not _is_read(text)]


def convert_hours(app: AppContext, actor: Actor, text: str, hours: str) -> ConvertedHours:
    """Give all entitlements with a text of hours other ones, which the clocks can read.

    Packets that are sealed keep the hours of their ruling. Raises Invalid for hours that do not say when, NotFound if
    no entitlement has the text.
    """
    try:
        read_week(hours)
    except ValueError as error:
        raise Invalid(
            f"These hours cannot be read: {error}.",
            "Write them like Mo–Fr 08:30–17:00, or 24x7.",
            field="hours",
        ) from error
    with app.transaction(actor, "hours converted", "register", text=text, hours=hours) as tx:
        rows = _with(tx.session, text)
        for row in rows:
            kind = KINDS["entitlement"]
            rewrite(app, tx.session, kind, row, {"hours": hours})
            tx.session.refresh(row)
            keep_version(tx.session, kind, row, actor.name, "changed")
        tx.detail["entitlements"] = len(rows)
        return ConvertedHours(entitlements=len(rows))


def _with(session: Session, text: str) -> list[Entitlement]:
    query = select(Entitlement).where(Entitlement.hours == text).order_by(Entitlement.id)
    if rows := list(session.scalars(query)):
        return rows
    raise NotFound(
        f"No entitlement has the hours “{text}”.",
        "Write them as the list of unread hours has them.",
        field="text",
    )


def _is_read(text: str) -> bool:
    try:
        read_week(text)
    except ValueError:
        return False
    return True
