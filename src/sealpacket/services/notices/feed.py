"""The private feed of a person's notices, in Atom. Nothing that somebody typed is in it."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import select

from sealpacket.app.context import AppContext
from sealpacket.core.errors import NotFound
from sealpacket.core.feeds import Entry, write_feed
from sealpacket.core.notices import NoticeWay
from sealpacket.services.notices.reading import NoticeShown, shown
from sealpacket.services.sign_in import hash_of
from sealpacket.store.models import Account, Notice, NoticeSettings

MOST = 100


def feed(app: AppContext, token: str) -> bytes:
    """The feed behind a private address: the newest notices that were chosen for it. Raises NotFound."""
    with app.database.snapshot() as session:
        query = select(NoticeSettings.account_id).join(
            Account, Account.id == NoticeSettings.account_id
        )
        account = session.scalar(
            query.where(NoticeSettings.feed_hash == hash_of(token), Account.active)
        )
        if account is None:
            raise NotFound("There is no such feed.", "Make a new address under Notices.")
        which = (Notice.account_id == account) & Notice.ways.contains([NoticeWay.FEED])
        rows = session.scalars(select(Notice).where(which).order_by(Notice.id.desc()).limit(MOST))
        notices = shown(session, rows)
    updated = max((one.at for one in notices), default=datetime.now(UTC))
    entries = [_entry(app, one) for one in notices]
    return write_feed("Notices", f"urn:uuid:{account}", updated, entries)


def _entry(app: AppContext, one: NoticeShown) -> Entry:
    where = f"{app.settings.address.rstrip('/')}{one.place}"
    known = ", ".join(filter(None, [one.vendor, one.reference]))
    title = f"{one.packet}: {one.words}" if one.packet else one.words
    return Entry(f"{where}#notice-{one.id}", title, known, where, one.at)
