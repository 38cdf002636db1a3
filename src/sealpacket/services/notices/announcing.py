"""Make notices, and end them, in the transaction that changes what they are about.

The lines of packets say which states hold. What differs between a line and the one before decides who is notified, and
which notices are gone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from sqlalchemy import delete, select, text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import ACTOR
from sealpacket.core.notices import (
    FOR_INFORMED,
    Noticed,
    NoticeKind,
    NoticeWay,
    Recipient,
    events,
    over,
    ways_for,
)
from sealpacket.services.notices.recipients import recipients
from sealpacket.store.models import Notice, PacketInformed, PacketLine

CHANNEL = "sealpacket_notices"
"""The channel of PostgreSQL on which it is said whose notices have changed."""
_OWN_ACTS = frozenset(
    {NoticeKind.HANDED_OVER, NoticeKind.LODGED, NoticeKind.SETTLED, NoticeKind.REPLIED}
)
"""Nobody is notified of these where it was their own act."""


@dataclass(frozen=True)
class _Change:
    packet_id: str
    number: str
    now: Noticed
    begun: frozenset[NoticeKind]
    gone: frozenset[NoticeKind]
    moved: bool


def before(session: Session, ids: Iterable[str]) -> dict[str, Noticed]:
    """The packets, by their ids, as they were before their lines are written."""
    query = select(
        PacketLine.packet_id, PacketLine.owner, PacketLine.vendor, PacketLine.site,
        PacketLine.life, PacketLine.heard, PacketLine.causes,
    ).where(PacketLine.packet_id.in_(list(ids)))  # fmt: skip
    return {row["packet_id"]: _noticed(row) for row in session.execute(query).mappings()}


def _noticed(line: Mapping[Any, Any]) -> Noticed:
    return Noticed(
        owner=line["owner"],
        vendor=line["vendor"],
        site=line["site"],
        life=line["life"],
        heard=line["heard"],
        causes=frozenset(NoticeKind(one) for one in line["causes"]),
    )


def follow(
    session: Session, was: Mapping[str, Noticed], lines: Sequence[Mapping[str, Any]]
) -> None:
    """Make and end notices as lines differ from what was before."""
    changes = [change for line in lines if (change := _change(was.get(line["packet_id"]), line))]
    if not changes:
        return
    everybody = recipients(session)
    informed = _informed(session, [one.packet_id for one in changes])
    touched: set[str] = set()
    for change in changes:
        touched |= _announce(session, change, everybody, informed.get(change.packet_id, set()))
    announce_to(session, touched)


def _change(was: Noticed | None, line: Mapping[str, Any]) -> _Change | None:
    now = _noticed(line)
    begun = events(was, now)
    gone = frozenset(over(now)) - frozenset(over(was) if was else ())
    moved = was is not None and was.owner != now.owner
    if not begun and not moved and not (was and gone):
        return None
    return _Change(line["packet_id"], line["number"], now, begun, gone, moved)


def _informed(session: Session, ids: Sequence[str]) -> dict[str, set[str]]:
    found: dict[str, set[str]] = {}
    query = select(PacketInformed.packet_id, PacketInformed.person_id)
    for packet, person in session.execute(query.where(PacketInformed.packet_id.in_(ids))):
        found.setdefault(packet, set()).add(person)
    return found


def _announce(
    session: Session,
    change: _Change,
    everybody: Sequence[tuple[Recipient, str | None]],
    persons: set[str],
) -> set[str]:
    """Make and end the notices of one packet; the ids of the accounts whose notices change."""
    own = frozenset(who.id for who, person in everybody if person in persons)
    packet = replace(change.now, informed=own)
    touched = _drop(session, change.number, change.begun | change.gone)
    if change.moved:
        touched |= _drop_of_others(session, change, [who for who, _ in everybody], packet)
    new = change.begun | (change.now.causes if change.moved else frozenset())
    actor = session.info.get(ACTOR)

    def row(kind: NoticeKind, ways: Iterable[NoticeWay], **to: str) -> dict[str, Any]:
        return {
            "kind": kind, "subject": change.number, "packet_id": change.packet_id, "ways": [*ways],
            "account_id": None, "person_id": None, **to,
        }  # fmt: skip

    rows = [
        row(kind, ways, account_id=who.id)
        for kind in sorted(new)
        for who, _ in everybody
        if not (kind in _OWN_ACTS and who.name == actor)
        if (ways := ways_for(who, kind, packet))
    ]
    strangers = persons - {person for _, person in everybody if person}
    rows += [
        row(kind, (NoticeWay.MAIL,), person_id=one)
        for kind in FOR_INFORMED
        if kind in change.begun
        for one in sorted(strangers)
    ]
    return touched | _add(session, rows)


def _add(session: Session, rows: list[dict[str, Any]]) -> set[str]:
    if rows:
        session.execute(insert(Notice).values(rows).on_conflict_do_nothing())
    return {row["account_id"] for row in rows if row["account_id"]}


def _drop(session: Session, subject: str, kinds: Iterable[NoticeKind]) -> set[str]:
    named = [*kinds]
    if not named:
        return set()
    gone = delete(Notice).where(Notice.subject == subject, Notice.kind.in_(named))
    return {one for one in session.scalars(gone.returning(Notice.account_id)) if one}


def _drop_of_others(
    session: Session, change: _Change, everybody: Iterable[Recipient], packet: Noticed
) -> set[str]:
    """End the notices of those whom a packet concerns no more, now that it is somebody else's."""
    known = {who.id: who for who in everybody}
    there = select(Notice.id, Notice.account_id, Notice.kind).where(
        Notice.packet_id == change.packet_id, Notice.account_id.is_not(None)
    )
    gone = {
        row.id: str(row.account_id)
        for row in session.execute(there)
        if row.account_id not in known or not ways_for(known[row.account_id], row.kind, packet)
    }
    if gone:
        session.execute(delete(Notice).where(Notice.id.in_(gone)))
    return set(gone.values())


def announce(
    session: Session,
    kind: NoticeKind,
    subject: str,
    concerns: Callable[[Recipient], bool] = lambda who: who.works,
    vendor: str | None = None,
) -> None:
    """Notify of something that belongs to no packet."""
    rows = [
        {"kind": kind, "subject": subject, "account_id": who.id, "ways": [*ways]}
        for who, _ in recipients(session)
        if concerns(who) and (ways := ways_for(who, kind, Noticed(vendor=vendor)))
    ]
    announce_to(session, _add(session, rows))


def end(session: Session, kind: NoticeKind, subject: str) -> None:
    """End the notices of something that belongs to no packet."""
    announce_to(session, _drop(session, subject, [kind]))


def announce_to(session: Session, accounts: Iterable[str]) -> None:
    """Tell open consoles, once this is committed, that the notices of these accounts have changed."""
    ids = sorted(accounts)
    if ids:
        said = text("SELECT pg_notify(:channel, one) FROM unnest(CAST(:ids AS text[])) AS one")
        session.execute(said, {"channel": CHANNEL, "ids": ids})
