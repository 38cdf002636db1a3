"""Later bags: what came after a packet was sealed, sealed itself and chained to the bag before it by its digest."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Literal, NamedTuple

import rfc8785
from sqlalchemy.orm import Session

from sealpacket import __version__
from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.filenames import keepable
from sealpacket.core.packet import FOLLOWS, BagFile
from sealpacket.core.record_pages import Record, to_html
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import packet_act
from sealpacket.services.packets.follow.records import SHORTEST_REASON, as_sent, in_clear
from sealpacket.services.packets.follow.thread import ThreadEntry, all_entries
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.packets.seal.seals import reader, stored
from sealpacket.store.models import LaterBag, Packet


def seal_later(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Seal what came after a packet's last bag: replies, files, decisions and states, as they were sent.

    Raises Conflict if the packet is not sealed, or nothing has come since.
    """
    blob = ""
    try:
        with packet_act(app, actor, "later bag sealed", number) as act:
            packet = act.packet
            new = _since(act.session, packet)
            if not new.ids:
                raise Conflict(
                    f"Nothing came after the last bag of {packet.number}.",
                    "Seal it again when there is something new.",
                    code="nothing-new",
                )
            made = as_sent(act.session, packet, new.entries)
            blob = _keep(app, packet, actor.name, new, made, "sent")
            bag = packet.later_bags[-1]
            act.detail = {"place": bag.place, "tag_manifest": bag.tag_manifest}
        return act.shown
    except BaseException:
        app.blobs.remove(blob or None)
        raise


def keep_before_destroying(app: AppContext, session: Session, packet: Packet, by: str) -> str:
    """Seal the thread of a packet whose legend is about to be destroyed, in the form that the house has chosen; the
    blob's name, or empty."""
    form = app.settings.thread_kept
    if form == "nothing" or not packet.seal:
        return ""
    new = _since(session, packet)
    if form == "clear":
        return _keep(app, packet, by, new, in_clear(app, session, packet), form)
    if not new.ids:
        return ""
    return _keep(app, packet, by, new, as_sent(session, packet, new.entries), form)


class _File(NamedTuple):
    """A file that went out or came in after the seal, as it left or arrived."""

    id: str
    folder: str
    name: str
    blob: str
    sha256: str | None


class _New(NamedTuple):
    """Entries of the thread and files that no bag of a packet holds."""

    entries: list[ThreadEntry]
    files: list[_File]

    @property
    def ids(self) -> list[str]:
        return [*(one.id for one in self.entries), *(one.id for one in self.files)]


def _since(session: Session, packet: Packet) -> _New:
    """Entries and files that no bag holds, by their ids: a call may be entered days after it was made.

    Raises Conflict if the packet is not sealed.
    """
    sealed_at = packet.sealed_at
    if not packet.seal or sealed_at is None:
        raise Conflict(f"{packet.number} is not sealed.", "Seal it first.", code="not-sealed")
    held = {one for bag in packet.later_bags for one in bag.held}
    entries = [
        one
        for one in all_entries(session, packet)
        if one.id not in held and (one.message or one.at > sealed_at)
    ]
    return _New(entries, [one for one in _files(packet) if one.id not in held])


def _files(packet: Packet) -> Iterator[_File]:
    for one in packet.exhibits:
        if one.later and one.message_id and one.outgoing_blob:
            yield _File(
                f"file-{one.id}", "sent", one.goes_as, one.outgoing_blob, one.outgoing_sha256
            )
    for message in packet.messages:
        for file in message.received:
            if file.blob and file.state == "kept":
                yield _File(f"file-{file.id}", "received", file.name, file.blob, file.sha256)


def _keep(
    app: AppContext,
    packet: Packet,
    by: str,
    new: _New,
    made: Record,
    form: Literal["sent", "clear"],
) -> str:
    """Write the next later bag of a packet; gives its blob's name, to be removed if what it is for fails."""
    bags = packet.later_bags
    before = bags[-1].tag_manifest if bags else str((packet.seal or {})["tag_manifest"])
    place, now = len(bags) + 1, datetime.now(UTC).replace(microsecond=0)
    told = [
        {"sort": one.sort, "at": one.at.isoformat(), "by": one.by, "text": one.text}
        for one in made.thread
    ]
    payload = [
        BagFile.of("thread.html", to_html(made)),
        BagFile.of("thread.json", bytes(rfc8785.dumps(told))),
    ]
    for number, one in enumerate(new.files, 1):
        path = f"{one.folder}/{number:02}-{_part(one.name)}"
        payload.append(BagFile(path, reader(app, one.blob), one.sha256))
    info = {
        "Bag-Software-Agent": f"sealpacket {__version__}",
        "Bagging-Date": now.date().isoformat(),
        "External-Identifier": packet.number,
        "External-Description": "What came after the packet was sealed",
        "Bag-Group-Identifier": packet.number,
        "Bag-Count": f"{place + 1} of ?",
        FOLLOWS: f"sha256:{before}",
        "Contact-Name": by,
    }
    blob, digest, sealed = stored(app, f"{packet.number}-later-{place}", info, payload)
    bags.append(
        LaterBag(
            place=place, form=form, blob=blob, sha256=digest, tag_manifest=sealed.tag_manifest, follows=before,
            files=sealed.files, octets=sealed.octets, at=now, by=by, held=new.ids,
        )
    )  # fmt: skip
    return blob


def _part(name: str) -> str:
    """A name as a part of a path that every system can keep."""
    return keepable(name.replace("/", "-").replace("\\", "-"))[-150:] or "file"


def later_bag(
    app: AppContext, actor: Actor, number: str, place: int
) -> tuple[str, Iterator[bytes]]:
    """A later bag for download: its SHA-256 (hex) and its blocks. Raises NotFound, Conflict for one in clear."""
    with app.transaction(actor, "bag fetched", f"packet {number}", place=place) as tx:
        found = _bag(tx.session, number, place)
        if found.form == "clear":
            raise Conflict(
                f"Later bag {place} of {number} holds originals.",
                "Fetch it in clear, with the reason.",
                code="in-clear",
            )
        return found.sha256, app.blobs.read(found.blob)


def later_bag_in_clear(
    app: AppContext, actor: Actor, number: str, place: int, reason: str
) -> tuple[str, Iterator[bytes]]:
    """A later bag that holds originals; the custody log keeps who fetched it and why. Raises NotFound, Invalid for a
    reason that says nothing."""
    if len(reason.strip()) < SHORTEST_REASON:
        raise Invalid("The reason is missing.", "Say why you fetch it in clear.", field="reason")
    with app.transaction(actor, "legend opened", f"packet {number}", reason=reason) as tx:
        found = _bag(tx.session, number, place)
        return found.sha256, app.blobs.read(found.blob)


def _bag(session: Session, number: str, place: int) -> LaterBag:
    packet = workbench.find_packet(session, number)
    found = next((one for one in packet.later_bags if one.place == place), None)
    if found is None:
        raise NotFound(f"{packet.number} has no later bag {place}.", "See its bags on the packet.")
    return found
