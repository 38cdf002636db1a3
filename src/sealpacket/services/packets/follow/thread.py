"""The thread of a packet: what both sides said, files, states, shipments, access and decisions, in one order."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from typing import Any

from pydantic import BaseModel, Field
from sqlalchemy import and_, literal, or_, select, union_all
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, selectinload

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.thread_sorts import ThreadSort
from sealpacket.services.packets import serialize, workbench
from sealpacket.services.packets.follow.schemas import MessageShown
from sealpacket.store.models import (
    AccessGrant,
    CustodyEntry,
    Exhibit,
    Message,
    Packet,
    PacketLook,
    PacketRefusal,
    Shipment,
)


class ThreadEntry(BaseModel):
    """An entry of the thread."""

    id: str
    sort: ThreadSort
    at: datetime = Field(description="When it happened.")
    by: str = Field(description="Who did it: an account, or the vendor; empty: the service.")
    words: str = Field(description="It in a line.")
    text: str = Field(description="More about it, such as a reason or a note.")
    message: MessageShown | None = Field(description="The message, for words of either side.")
    exhibit: str | None = Field(description="The name of the exhibit, for a file.")
    new: bool = Field(description="Whether it came after you looked last, and not from you.")


class Thread(BaseModel):
    """A part of the thread, the newest first."""

    items: list[ThreadEntry]
    looked_at: datetime | None = Field(description="When you looked last; null: never.")
    next: str | None = Field(description="Send it as `cursor` to get what was before.")


_STATES = (
    "packet noted", "packet sealed", "lodging asked for", "lodging cancelled", "packet lodged", "packet reopened",
    "packet settled", "packet solved by what was known", "packet withdrawn", "packet handed over",
    "packet taken over", "kept informed", "serial swapped", "kit confirmed", "step tried", "sheet renewed",
)  # fmt: skip
_DECISIONS = (
    "value to keep", "value to mask", "kind to keep", "kind to mask", "decision taken back", "boxes drawn",
    "box taken back", "exhibit released", "exhibit taken out", "legend opened", "legend key destroyed",
    "originals deleted",
)  # fmt: skip
"""Acts of the custody log that are shown; the others show in what they made."""
_SAID = ("note", "reason", "text", "cause")


def thread(
    app: AppContext,
    actor: Actor,
    number: str,
    *,
    sorts: Sequence[ThreadSort] = (),
    limit: int = 100,
    cursor: str = "",
) -> Thread:
    """The thread of a packet, the newest first; only entries of some sorts, if they are named. Raises NotFound."""
    with app.database.snapshot() as session:
        packet = workbench.find_packet(session, number)
        looked = session.get(PacketLook, (packet.id, actor.account_id))
        entries, following = _page(session, packet, sorts, limit, cursor)
        since = looked.at if looked else None
        for one in entries:
            one.new = since is not None and one.at > since and one.by != actor.name
        return Thread(items=entries, looked_at=since, next=following)


def look(app: AppContext, actor: Actor, number: str) -> Thread:
    """Note that whoever asks has looked at the thread now; gives its newest part as it is after that."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        values = {"packet_id": packet.id, "account_id": actor.account_id, "at": datetime.now(UTC)}
        made = insert(PacketLook).values(values)
        keys = ["packet_id", "account_id"]
        session.execute(made.on_conflict_do_update(index_elements=keys, set_=values))
    return thread(app, actor, number)


def all_entries(session: Session, packet: Packet) -> list[ThreadEntry]:
    """The whole thread of a packet, the oldest first."""
    entries, _ = _page(session, packet, (), 1_000_000, "")
    return entries[::-1]


def _page(
    session: Session, packet: Packet, sorts: Sequence[ThreadSort], limit: int, cursor: str
) -> tuple[list[ThreadEntry], str | None]:
    """Some entries, the newest first, and the cursor of those before."""
    wanted = set(sorts) or set(ThreadSort)
    places = union_all(*_sources(packet, wanted)).subquery()
    query = select(places.c.source, places.c.id, places.c.at)
    if cursor:
        at, ident = _read(cursor)
        query = query.where(or_(places.c.at < at, and_(places.c.at == at, places.c.id < ident)))
    rows = session.execute(
        query.order_by(places.c.at.desc(), places.c.id.desc()).limit(limit + 1)
    ).all()
    more = rows[limit - 1] if len(rows) > limit else None
    found = _entries(session, packet, [(row.source, row.id) for row in rows[:limit]])
    return found, f"{more.at.isoformat()} {more.id}" if more else None


def _read(cursor: str) -> tuple[datetime, str]:
    at, _, ident = cursor.partition(" ")
    try:
        return datetime.fromisoformat(at), ident
    except ValueError as error:
        raise Invalid(
            "The page cursor is invalid.", "Start from the first page.", code="bad-cursor"
        ) from error


def _sources(packet: Packet, wanted: set[ThreadSort]) -> Iterable[Any]:
    """Queries for the source, id and moment of entries."""

    def of(source: str, ident: Any, at: Any, *which: Any) -> Any:
        return select(literal(source).label("source"), ident.label("id"), at.label("at")).where(
            *which
        )

    yield of("none", Message.id, Message.at, Message.id == "")
    directions = {ThreadSort.THEIRS: "in", ThreadSort.OURS: "out"}
    said = [directions[one] for one in directions if one in wanted]
    if said:
        yield of(
            "message",
            Message.id,
            Message.at,
            Message.packet_id == packet.id,
            Message.direction.in_(said),
        )
    if ThreadSort.FILE in wanted:
        yield of("exhibit", Exhibit.id, Exhibit.created_at, Exhibit.packet_id == packet.id)
    if ThreadSort.SHIPMENT in wanted:
        yield of("shipment", Shipment.id, Shipment.at, Shipment.packet_id == packet.id)
    if ThreadSort.ACCESS in wanted:
        own = AccessGrant.packet_id == packet.id
        yield of("access", AccessGrant.id, AccessGrant.from_at, own)
        yield of(
            "access ended",
            AccessGrant.id,
            AccessGrant.ended_at,
            own,
            AccessGrant.ended_at.is_not(None),
        )
    if ThreadSort.STATE in wanted:
        ident = PacketRefusal.id.cast(Message.id.type)
        yield of("refusal", ident, PacketRefusal.at, PacketRefusal.packet_id == packet.id)
    actions = [*(_STATES if ThreadSort.STATE in wanted else ())]
    actions += [*(_DECISIONS if ThreadSort.DECISION in wanted else ())]
    if actions:
        moment = CustodyEntry.entry["at"].astext.cast(Message.at.type)
        yield of(
            "custody", CustodyEntry.seq.cast(Message.id.type), moment,
            CustodyEntry.entry.contains({"subject": f"packet {packet.number}"}),
            CustodyEntry.entry["action"].astext.in_(actions),
        )  # fmt: skip


def _entries(
    session: Session, packet: Packet, places: Sequence[tuple[str, str]]
) -> list[ThreadEntry]:
    """The entries at some places, in the same order."""
    ids: dict[str, list[str]] = {}
    for source, ident in places:
        ids.setdefault(source, []).append(ident)
    made: dict[tuple[str, str], ThreadEntry] = {}
    if "message" in ids:
        query = select(Message).where(Message.id.in_(ids["message"]))
        found = session.scalars(query.options(selectinload(Message.case))).all()
        shown = serialize.show_messages(packet, found)
        for said, message in zip(found, shown, strict=True):
            made["message", said.id] = _of_message(packet, said, message)
    for exhibit in session.scalars(select(Exhibit).where(Exhibit.id.in_(ids.get("exhibit", ())))):
        made["exhibit", exhibit.id] = _entry(
            exhibit.id, ThreadSort.FILE, exhibit.created_at, words=exhibit.name,
            text=exhibit.state, exhibit=exhibit.name,
        )  # fmt: skip
    for parcel in session.scalars(select(Shipment).where(Shipment.id.in_(ids.get("shipment", ())))):
        made["shipment", parcel.id] = _of_parcel(parcel)
    grants = [*ids.get("access", ()), *ids.get("access ended", ())]
    for grant in session.scalars(select(AccessGrant).where(AccessGrant.id.in_(grants))):
        made["access", grant.id] = _entry(
            grant.id, ThreadSort.ACCESS, grant.from_at, by=grant.granted_by,
            words=f"{grant.who} has access to {grant.what}", text=f"until {grant.until_at:%d %b %Y %H:%M} UTC",
        )  # fmt: skip
        made["access ended", grant.id] = _entry(
            f"{grant.id}-ended", ThreadSort.ACCESS, grant.ended_at or grant.from_at, by=grant.ended_by,
            words=f"The access of {grant.who} is ended", text=grant.ended_how,
        )  # fmt: skip
    refusals = map(int, ids.get("refusal", ()))
    for refusal in session.scalars(select(PacketRefusal).where(PacketRefusal.id.in_(refusals))):
        made["refusal", str(refusal.id)] = _entry(
            f"refusal-{refusal.id}", ThreadSort.STATE, refusal.at, by=packet.vendor_name,
            words=f"refused: {refusal.code}", text=refusal.text,
        )  # fmt: skip
    seqs = map(int, ids.get("custody", ()))
    for kept in session.scalars(select(CustodyEntry).where(CustodyEntry.seq.in_(seqs))):
        made["custody", str(kept.seq)] = _of_custody(kept)
    return [made[place] for place in places if place in made]


def _entry(
    ident: str,
    sort: ThreadSort,
    at: datetime,
    *,
    words: str,
    by: str = "",
    text: str = "",
    message: MessageShown | None = None,
    exhibit: str | None = None,
) -> ThreadEntry:
    return ThreadEntry(
        id=ident, sort=sort, at=at, by=by, words=words, text=text, message=message, exhibit=exhibit, new=False
    )  # fmt: skip


def _of_message(packet: Packet, said: Message, shown: MessageShown) -> ThreadEntry:
    ours = said.direction == "out"
    by = said.by if ours else (said.sender or said.by or packet.vendor_name)
    how = {"call": "by telephone", "hand": "entered by hand"}.get(said.how, "")
    return _entry(
        said.id,
        ThreadSort.OURS if ours else ThreadSort.THEIRS,
        said.at,
        by=by,
        words=" ".join(said.text.split())[:200],
        text=how,
        message=shown,
    )


def _of_parcel(parcel: Shipment) -> ThreadEntry:
    way = "comes to us" if parcel.way == "to_us" else "goes to the vendor"
    known = [
        " ".join(filter(None, [parcel.carrier, parcel.tracking])),
        f"due {parcel.due_on}" if parcel.due_on else "",
        f"arrived {parcel.arrived_on}" if parcel.arrived_on else "",
    ]
    return _entry(
        parcel.id, ThreadSort.SHIPMENT, parcel.at, by=parcel.by, words=f"{parcel.what} {way}",
        text=", ".join(filter(None, known)),
    )  # fmt: skip


def _of_custody(kept: CustodyEntry) -> ThreadEntry:
    entry, detail = kept.entry, kept.entry.get("detail") or {}
    said = [str(detail[name]) for name in _SAID if detail.get(name)]
    to = f" to {detail['to']}" if entry["action"] == "packet handed over" else ""
    sort = ThreadSort.DECISION if entry["action"] in _DECISIONS else ThreadSort.STATE
    return _entry(
        f"custody-{kept.seq}", sort, datetime.fromisoformat(entry["at"]), by=entry["actor"],
        words=f"{entry['action']}{to}", text=" ".join(said),
    )  # fmt: skip
