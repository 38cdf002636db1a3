"""The legend of a packet: kept under a key of its own, opened with a reason, gone for good after settlement.

What is kept under the packet's own key cannot be read by anyone once that key is destroyed, whatever copies of the
files there are. The custody log has the key's fingerprint from its making and from its end.
"""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterable, Iterator
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import func, select

from sealpacket.core.errors import Conflict
from sealpacket.core.redact import Legend
from sealpacket.core.secretbox import decrypt, decrypt_range, encrypt, encrypt_stream
from sealpacket.services.house import WORKER, Actor, House
from sealpacket.services.packets import workbench
from sealpacket.store.models import Packet, RedactionDecision

_KEY = "legend key"
_CONTENT = "legend"
_PLAIN = (b"{", b"[")
"""How legends begin that were written before each packet had a key: JSON, under the house's key alone."""
MOST_SHOWN = 20_000


def new_key(house: House) -> tuple[bytes, str]:
    """A packet's key, sealed for the database, and its fingerprint (SHA-256, the first 16 bytes in hex)."""
    key = secrets.token_bytes(32)
    return encrypt(house.settings.master_key, key, _KEY), fingerprint(key)


def fingerprint(key: bytes) -> str:
    """What tells a key without telling anything of it."""
    return hashlib.sha256(b"sealpacket legend key" + key).hexdigest()[:32]


def key_of(house: House, packet: Packet) -> bytes:
    """The packet's legend key. Raises Conflict once it is destroyed."""
    if packet.legend_destroyed_at is not None:
        raise Conflict(
            f"The legend of {packet.number} is destroyed, since {packet.legend_destroyed_at:%d %B %Y}.",
            "Nobody can tell what a placeholder of this packet stands for any more; the custody log has the proof.",
            code="legend-destroyed",
        )
    if packet.legend_key_sealed is None:  # a packet from before there were such keys
        packet.legend_key_sealed, _ = new_key(house)
    return decrypt(house.settings.master_key, packet.legend_key_sealed, _KEY)


def put(house: House, key: bytes, blocks: Iterable[bytes]) -> str:
    """Keep a part of a legend under the packet's key; gives the blob's name."""
    return house.blobs.put(encrypt_stream(key, blocks, _CONTENT)).name


def read(house: House, key: bytes, blob: str) -> Iterator[bytes]:
    """A part of a legend in clear, in blocks."""
    with house.blobs.as_file(blob) as path, path.open("rb") as kept:
        if kept.peek(1).startswith(_PLAIN):
            yield kept.read()
            return

        def read_at(offset: int, length: int) -> bytes:
            kept.seek(offset)
            return kept.read(length)

        yield from decrypt_range(key, read_at, path.stat().st_size, purpose=_CONTENT)


def whole(house: House, key: bytes, packet: Packet) -> Legend:
    """The legend of all exhibits together."""
    legend = Legend()
    for exhibit in packet.exhibits:
        if exhibit.legend_blob:
            legend.merge(Legend.read(read(house, key, exhibit.legend_blob)))
    return legend


def open_legend(house: House, actor: Actor, number: str, reason: str) -> dict[str, Any]:
    """What each placeholder stands for, and what the desk said in clear; the custody log notes who, and why."""
    with house.act(actor, "legend opened", f"packet {number}", reason=reason) as act:
        packet = workbench.find_packet(act.session, number)
        legend = whole(house, key_of(house, packet), packet)
        act.detail["placeholders"] = total = len(legend)
        texts = legend.resolve(message.text for message in packet.messages)
        return {
            "total": total,
            "placeholders": [
                {"placeholder": placeholder, "value": value}
                for placeholder, value in legend.first_spellings(MOST_SHOWN).items()
            ],
            "messages": [
                {"id": message.id, "text": text} for message, text in zip(packet.messages, texts, strict=True)
            ],
        }


def destroy(house: House, actor: Actor, number: str) -> dict[str, Any]:
    """Destroy the legend of a packet that is over, now. Raises Conflict for one that is not, or has none any more."""
    with house.act(actor, "legend key destroyed", f"packet {number}") as act:
        packet = workbench.find_packet(act.session, number, lock=True)
        key = key_of(house, packet)
        if packet.life != "settled":
            raise Conflict(
                f"{packet.number} is {packet.life}: its legend is needed to read what the desk answers.",
                "Destroy it when the packet is settled.", code="not-over",
            )  # fmt: skip
        act.detail = _forget(house, act.session, packet, key)
        return {"number": packet.number, "destroyed_at": packet.legend_destroyed_at, "fingerprint": fingerprint(key)}


def _forget(house: House, session: Any, packet: Packet, key: bytes) -> dict[str, Any]:
    """Forget the keys and all that was kept under them; what stays for the custody log."""
    packet.legend_key_sealed, packet.placeholder_key_sealed = None, b""
    packet.legend_destroyed_at = datetime.now(UTC).replace(microsecond=0)
    for exhibit in packet.exhibits:
        for blob in (exhibit.legend_blob, exhibit.values_blob):
            house.blobs.remove(blob)
        exhibit.legend_blob = exhibit.values_blob = None
    for decision in session.scalars(select(RedactionDecision).where(RedactionDecision.packet_id == packet.id)):
        decision.value_sealed = None
    return {"fingerprint": fingerprint(key), "exhibits": len(packet.exhibits)}


def destroy_due(house: House) -> int:
    """Destroy the legends of packets that were settled longer ago than the house keeps them; gives how many."""
    before = datetime.now(UTC) - timedelta(days=house.settings.legend_days)
    ended = func.coalesce(Packet.settled_at, Packet.followed_at, Packet.lodged_at)
    with house.database.transaction() as session:
        due = Packet.life == "settled", ended < before, Packet.legend_destroyed_at.is_(None)
        numbers = list(session.scalars(select(Packet.number).where(*due).order_by(ended).limit(500)))
    done = 0
    for number in numbers:
        with suppress(Conflict):  # its desk opened it again meanwhile, or a person was faster
            destroy(house, WORKER, number)
            done += 1
    return done
