"""Files that vendors send: fetched from their desks, taken out of mails, looked at, and kept encrypted as they came."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.channels import Desk, DeskAway, DeskRefused
from sealpacket.core.errors import Conflict, NotFound
from sealpacket.core.inbound import HEAD, inspect, safe_name
from sealpacket.core.sheets.replies import SentFile
from sealpacket.services.packets import serialize, workbench
from sealpacket.services.packets.acting import show
from sealpacket.services.packets.follow.schemas import VendorFileShown
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register import KINDS
from sealpacket.store.models import Message, VendorFile, lock_part

MOST = 30
"""Files of one message that are kept."""


@dataclass(frozen=True)
class Attached:
    """A file that came with a mail, stored already."""

    name: str
    blob: str
    size: int
    sha256: str
    head: bytes


def store(app: AppContext, files: Iterable[tuple[str, bytes]]) -> list[Attached]:
    """Put what came with a mail into the store. The caller removes it again if nothing takes it."""
    kept: list[Attached] = []
    try:
        for name, content in files:
            stored = app.blobs.put((content,))
            kept.append(Attached(name, stored.name, len(content), stored.sha256, content[:HEAD]))
    except BaseException:
        forget(app, kept)
        raise
    return kept


def forget(app: AppContext, attached: Sequence[Attached]) -> None:
    """Remove what nothing took."""
    for one in attached:
        app.blobs.remove(one.blob)


def keep(message: Message, attached: Sequence[Attached]) -> None:
    """Keep what came with a mail beside its message."""
    for one in attached[:MOST]:
        seen = inspect(one.name, one.head)
        message.received.append(
            VendorFile(
                packet=message.packet, name=seen.name, state="kept", size=one.size, sha256=one.sha256,
                blob=one.blob, kind=seen.kind, warning=seen.warning,
            )
        )  # fmt: skip


def note(message: Message, files: Sequence[SentFile]) -> None:
    """Note what a desk attached, to be fetched."""
    for one in files[:MOST]:
        message.received.append(
            VendorFile(packet=message.packet, name=safe_name(one.name), address=one.at)
        )


def fetch_waiting(app: AppContext, packet_id: str, desk: Desk) -> None:
    """Fetch what a desk has attached and is not here yet. What cannot be had says why; a desk that is away is left."""
    with app.database.transaction() as session:
        query = select(VendorFile).where(
            VendorFile.packet_id == packet_id, VendorFile.state == "waiting"
        )
        waiting = [(one.id, one.name, one.address) for one in session.scalars(query)]
    for ident, name, address in waiting:
        try:
            head: list[bytes] = []
            stored = app.blobs.put(_heading(desk.fetch(address), head))
        except DeskAway:
            continue  # the next look tries again
        except (DeskRefused, Conflict) as problem:
            words = problem.detail if isinstance(problem, Conflict) else str(problem)
            with app.database.transaction() as session:
                one = session.get_one(VendorFile, ident)
                one.state, one.failure = "failed", words
            continue
        seen = inspect(name, b"".join(head)[:HEAD])
        with app.transaction(WORKER, "vendor's file kept", "packet", name=name) as tx:
            kept = lock_part(tx.session, VendorFile, ident)
            assert kept is not None
            tx.subject = f"packet {kept.packet.number}"
            tx.detail["sha256"] = stored.sha256
            kept.state, kept.blob = "kept", stored.name
            kept.size, kept.sha256 = stored.size, stored.sha256
            kept.kind, kept.warning = seen.kind, seen.warning


def _heading(blocks: Iterator[bytes], head: list[bytes]) -> Iterator[bytes]:
    for block in blocks:
        if sum(map(len, head)) < HEAD:
            head.append(block)
        yield block


def find_file(session: Session, number: str, ident: str) -> VendorFile:
    """The file of that id or name, the newest of several. Raises NotFound."""
    packet = workbench.find_packet(session, number)
    query = select(VendorFile).where(VendorFile.packet_id == packet.id)
    found = [
        one
        for one in session.scalars(query.order_by(VendorFile.created_at))
        if ident in (one.id, one.name)
    ]
    if not found:
        raise NotFound(
            f"{packet.number} has no file {ident} of its vendor's.", "See the packet's messages."
        )
    return found[-1]


def fetch_file(
    app: AppContext, actor: Actor, number: str, ident: str
) -> tuple[str, int, Iterator[bytes]]:
    """A vendor's file as it came: its name, size in bytes and blocks. Raises Conflict if it has not been fetched from
    the desk."""
    with app.transaction(actor, "vendor's file fetched", f"packet {number}") as tx:
        one = find_file(tx.session, number, ident)
        tx.detail["name"] = one.name
        if one.blob is None:
            raise Conflict(
                one.failure or f"{one.name} has not been fetched yet.",
                "Look at the desk again, or ask for it once more.",
                code="not-here",
            )
        return one.name, one.size, app.blobs.read(one.blob)


def store_with_asset(
    app: AppContext, actor: Actor, number: str, ident: str, asset: str = ""
) -> PacketShown:
    """Store a vendor's file with an asset, such as a patch or a label; with the packet's own where none is named.
    Raises Conflict if the packet has no asset and none is named."""
    with app.transaction(actor, "file stored with asset", f"packet {number}") as tx:
        one = find_file(tx.session, number, ident)
        found = KINDS["asset"].find(tx.session, asset) if asset else one.packet.asset
        if found is None:
            raise Conflict("The packet is about no asset.", "Name one.", code="no-thing")
        one.asset_id = found.id
        tx.detail |= {"name": one.name, "asset": found.serial}
        return show(app, tx.session, one.packet)


def files_of_asset(app: AppContext, asset: str) -> list[VendorFileShown]:
    """Files stored with an asset, the newest first."""
    with app.database.transaction() as session:
        found = KINDS["asset"].find(session, asset)
        query = select(VendorFile).where(VendorFile.asset_id == found.id)
        return [
            serialize.show_file(one)
            for one in session.scalars(query.order_by(VendorFile.created_at.desc()))
        ]
