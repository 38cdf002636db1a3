"""How many stops drafts have, kept from one look to the next."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

from sqlalchemy import select, text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket import __version__
from sealpacket.app.context import AppContext
from sealpacket.services.packets import workbench
from sealpacket.store.database import unless_taken
from sealpacket.store.models import Packet, PacketStanding
from sealpacket.store.register_cache import revision_of

_ROWS = text("""
    SELECT p.id, concat_ws('|', p.xmin::text,
        (SELECT string_agg(e.xmin::text, ',' ORDER BY e.id) FROM exhibit e WHERE e.packet_id = p.id),
        (SELECT string_agg(d.xmin::text, ',' ORDER BY d.id) FROM redaction_decision d WHERE d.packet_id = p.id),
        (SELECT string_agg(t.xmin::text, ',' ORDER BY t.id) FROM tried_step t WHERE t.asset_id = p.asset_id))
    FROM packet p WHERE p.id = ANY(:ids)
""")
"""The rows on which the stops of drafts depend, beside the register: by the transactions that wrote them last."""


def stops_of(app: AppContext, session: Session, drafts: Sequence[Packet]) -> dict[str, int]:
    """The number of stops of each draft, by its id: as it was kept, else as it is found now.

    What is kept counts for as long as neither the draft, its exhibits, what was tried, nor the register has changed, at
    most until the end of the hour: some checks look at the clock.
    """
    ids = [one.id for one in drafts]
    stamps = _stamps(session, ids)
    query = select(PacketStanding).where(PacketStanding.packet_id.in_(ids))
    kept = {one.packet_id: one for one in session.scalars(query)}
    found: dict[str, int] = {}
    for draft in drafts:
        known, stamp = kept.get(draft.id), stamps.get(draft.id)
        if known is not None and known.stamp == stamp:
            found[draft.id] = known.stops
            continue
        stops = len(workbench.evaluate(app, session, draft, stops_only=True).stops)
        found[draft.id] = stops
        if stamp is not None:
            _keep(session, draft, stamp, stops)
    return found


def _stamps(session: Session, ids: Sequence[str]) -> dict[str, str]:
    """A hash of everything each draft's number of stops depends on; empty for a session that has changed the
    register."""
    revision = revision_of(session)
    if revision is None:
        return {}
    now = f"{__version__}|{revision}|{datetime.now(UTC):%Y-%m-%dT%H}"
    rows = session.execute(_ROWS, {"ids": list(ids)})
    return {ident: f"{now}|{written}" for ident, written in rows}


def _keep(session: Session, draft: Packet, stamp: str, stops: int) -> None:
    values = {"stamp": stamp, "stops": stops}
    statement = insert(PacketStanding).values(packet_id=draft.id, **values)
    with unless_taken(session):
        session.execute(
            statement.on_conflict_do_update(index_elements=["packet_id"], set_=values),
            execution_options={"synchronize_session": False},
        )
