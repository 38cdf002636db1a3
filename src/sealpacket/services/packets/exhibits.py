"""Exhibits: taking evidence in, looking at what is masked, releasing what cannot be inspected."""

from __future__ import annotations

import unicodedata
from collections.abc import Container, Iterable, Iterator
from datetime import UTC, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound, TooLarge
from sealpacket.core.filenames import UNKEEPABLE, is_reserved
from sealpacket.core.life import OPEN, Life
from sealpacket.core.sheets.checks import say_size
from sealpacket.services.packets import originals, serialize, workbench
from sealpacket.services.packets.schemas import ExhibitShown
from sealpacket.services.packets.workbench import in_draft
from sealpacket.store.models import Exhibit, Packet

REDACT = "redact_exhibit"
_UNFINISHED = timedelta(hours=6)
_BLANK, _BYTE_ORDER = b" \t\r\n\v\f\0", b"\xef\xbb\xbf\xff\xfe"


def clean_name(name: str) -> str:
    """The name of an exhibit. Raises Invalid for paths, control characters and names that some system cannot keep."""
    name = unicodedata.normalize("NFC", name).strip()
    if "/" in name or "\\" in name or name in (".", ".."):
        raise Invalid(
            "The name of an exhibit must not hold a path.",
            "Give the file's own name only.",
            code="bad-name",
        )
    if not name or len(name.encode()) > 200 or any(unicodedata.category(c)[0] == "C" for c in name):
        raise Invalid(
            "The name is empty, too long or holds control characters.",
            "Rename the file.",
            code="bad-name",
        )
    awkward = UNKEEPABLE.search(name) or "%" in name or is_reserved(name)
    if awkward or name.startswith((".", "-")) or name.endswith("."):
        raise Invalid(
            f"“{name}” is a name that some systems cannot keep.",
            "Rename the file.",
            code="bad-name",
        )
    return name


def free_name(wanted: str, taken: Container[str]) -> str:
    """A name for an exhibit like the one wanted, with a number before its ending where that is taken."""
    stem, dot, ending = wanted.partition(".")
    name, number = wanted, 1
    while name in taken:
        number += 1
        name = f"{stem}-{number}{dot}{ending}"
    return name


def takes_evidence(session: Session, number: str) -> Packet:
    """The packet, locked, if files can be added: a draft, or one that is with its desk, to which they follow."""
    packet = workbench.find_packet(session, number, lock=True)
    return packet if packet.life in OPEN else in_draft(session, number)


def changeable(session: Session, number: str, name: str) -> tuple[Packet, Exhibit]:
    """An exhibit that may still be changed: of a draft, or one that came later and goes with no message yet. Raises
    Conflict for any other."""
    packet = takes_evidence(session, number)
    exhibit = find_exhibit(packet, name)
    if not workbench.is_changeable(exhibit):
        raise Conflict(
            f"{exhibit.name} is with the desk, or on its way there.",
            "A file that the desk has cannot be changed; add another one.",
            code="sent-before",
        )
    return packet, exhibit


def announce(
    app: AppContext,
    actor: Actor,
    number: str,
    name: str,
    size: int,
    *,
    collected: dict[str, str] | None = None,
) -> ExhibitShown:
    """Say that a file of this name and size (bytes) will come; refuses at once what could not be kept. Raises
    TooLarge, or Invalid for an empty file or an unusable name.

    `collected` is the step of a kit that brought it, if one did.
    """
    name = clean_name(name)
    if size > app.settings.largest_upload:
        raise TooLarge(
            f"{name} has {say_size(size)}; one exhibit may have {say_size(app.settings.largest_upload)}.",
            "Cut the log to the hours that matter, or split it.",
        )
    if size == 0:
        raise Invalid(
            f"{name} is empty.",
            "Collect it again: an empty diagnostic says nothing.",
            code="empty-file",
        )
    with app.transaction(
        actor, "exhibit announced", f"packet {number}", name=name, size=size
    ) as tx:
        packet = takes_evidence(tx.session, number)
        _forget_unfinished(app, tx.session, packet, name)
        later = packet.life != Life.DRAFTING
        exhibit = Exhibit(name=name, size=size, packet=packet, later=later)
        exhibit.collected = collected
        tx.detail["later"] = later
        tx.session.add(exhibit)
        tx.session.flush()
        return serialize.show_exhibit(exhibit)


def _forget_unfinished(app: AppContext, session: Session, packet: Packet, name: str) -> None:
    """An upload that broke off, or is older than any upload takes, makes room for a new try."""
    old = datetime.now(UTC) - _UNFINISHED
    for exhibit in list(packet.exhibits):
        if exhibit.state == "receiving" and (exhibit.name == name or exhibit.created_at < old):
            _remove(app, session, packet, exhibit)


def receive(
    app: AppContext, actor: Actor, number: str, name: str, blocks: Iterable[bytes]
) -> ExhibitShown:
    """Take in the content of an announced exhibit, encrypt it and put its redaction into the queue. Raises Conflict
    if it was received already, or replaced meanwhile.

    If anything fails, the exhibit is gone again: nothing half-received stays.
    """
    with app.acting(actor) as session:
        exhibit = find_exhibit(takes_evidence(session, number), name)
        if exhibit.state != "receiving":
            raise Conflict(
                f"{name} has been received already.",
                "Take it out first to send another.",
                code="already-there",
            )
        ident, size = exhibit.id, exhibit.size
    try:
        looked = _Looked()
        stored = app.blobs.put(looked.through(_exactly(blocks, size, name)))
    except BaseException:
        with app.database.transaction() as session:
            packet = workbench.find_packet(session, number, lock=True)
            _remove(app, session, packet, find_exhibit(packet, name))
        raise
    try:
        with app.transaction(
            actor,
            "exhibit received",
            f"packet {number}",
            name=name,
            size=size,
            sha256=stored.sha256,
        ) as tx:
            packet = takes_evidence(tx.session, number)
            exhibit = find_exhibit(packet, name)
            if exhibit.id != ident or exhibit.state != "receiving":
                raise Conflict(
                    f"{name} was taken out or sent again meanwhile.",
                    "Open the packet again.",
                    code="stale",
                )
            originals.keep_once(app, tx.session, exhibit, stored)
            exhibit.blank = looked.blank
            queue_redaction(app, tx.session, exhibit)
            tx.session.flush()
            return serialize.show_exhibit(exhibit)
    except BaseException:
        app.blobs.remove(stored.name)
        raise


class _Looked:
    """Whether what goes through holds nothing but blank space, in any encoding of text."""

    def __init__(self) -> None:
        self.blank = True

    def through(self, blocks: Iterable[bytes]) -> Iterator[bytes]:
        for place, block in enumerate(blocks):
            rest = block.lstrip(_BYTE_ORDER) if place == 0 else block
            self.blank = self.blank and not rest.strip(_BLANK)
            yield block


def _exactly(blocks: Iterable[bytes], size: int, name: str) -> Iterator[bytes]:
    """The blocks, if together they have the announced size."""
    seen = 0
    for block in blocks:
        seen += len(block)
        if seen > size:
            raise TooLarge(
                f"{name} is larger than the {say_size(size)} announced.", "Announce its real size."
            )
        yield block
    if seen < size:
        raise Invalid(
            f"Of {name} only {seen} of {size} bytes came.", "Send it again.", code="upload-broken"
        )


def find_exhibit(packet: Packet, name: str) -> Exhibit:
    """The exhibit of that name, or with that id. Raises NotFound."""
    for exhibit in packet.exhibits:
        if name in (exhibit.name, exhibit.id):
            return exhibit
    raise NotFound(f"{packet.number} has no exhibit {name}.", "See what is in the packet.")


def attach(app: AppContext, actor: Actor, number: str, source: str, name: str) -> ExhibitShown:
    """Attach an exhibit of another packet to this one, without copying it; it is redacted again for this packet.
    Raises Conflict if its original was deleted."""
    with app.transaction(
        actor, "exhibit attached", f"packet {number}", name=name, source=source
    ) as tx:
        packet = takes_evidence(tx.session, number)
        other = find_exhibit(workbench.find_packet(tx.session, source), name)
        exhibit = taken_along(app, tx.session, packet, other)
        tx.detail |= {"sha256": other.sha256 or "", "later": exhibit.later}
        return serialize.show_exhibit(exhibit)


def taken_along(app: AppContext, session: Session, packet: Packet, other: Exhibit) -> Exhibit:
    """An exhibit of another packet in this one, in the caller's transaction. Raises Conflict without its original."""
    if other.sha256:
        originals.hold(session, other.sha256)
        session.refresh(other, ["original_blob"])
    if other.original_blob is None:
        raise Conflict(
            f"The original of {other.name} is not there any more."
            if other.original_deleted_at
            else f"{other.name} has not been received yet.",
            "Collect it again." if other.original_deleted_at else "Wait for its upload.",
            code="no-original",
        )
    later = packet.life != Life.DRAFTING
    exhibit = Exhibit(
        name=other.name, size=other.size, packet=packet, later=later, sha256=other.sha256
    )
    exhibit.original_blob, exhibit.blank = other.original_blob, other.blank
    exhibit.collected = other.collected
    session.add(exhibit)
    session.flush()
    queue_redaction(app, session, exhibit)
    session.flush()
    return exhibit


def remove(app: AppContext, actor: Actor, number: str, name: str) -> None:
    """Take an exhibit out of a draft; original and copy are deleted."""
    with app.transaction(actor, "exhibit taken out", f"packet {number}", name=name) as tx:
        packet, exhibit = changeable(tx.session, number, name)
        tx.detail["sha256"] = exhibit.sha256 or ""
        _remove(app, tx.session, packet, exhibit)


def _remove(app: AppContext, session: Session, packet: Packet, exhibit: Exhibit) -> None:
    originals.let_go(app, session, exhibit)
    app.forget(
        session,
        exhibit.outgoing_blob,
        exhibit.findings_blob,
        exhibit.values_blob,
        exhibit.legend_blob,
        exhibit.summary_blob,
    )
    list(
        exhibit.boxes
    )  # read now: once it is out of the packet, nothing may be read before it is gone
    packet.exhibits.remove(exhibit)
    session.delete(exhibit)
    session.flush()


def redact_again(app: AppContext, actor: Actor, number: str, name: str) -> ExhibitShown:
    """Put an exhibit's redaction into the queue once more, with the register as it is now. Raises Conflict if it has
    not been received yet."""
    with app.transaction(actor, "redaction asked for", f"packet {number}", name=name) as tx:
        _, exhibit = changeable(tx.session, number, name)
        if exhibit.original_blob is None:
            raise Conflict(
                f"{name} has not been received yet.", "Wait for its upload.", code="not-received"
            )
        queue_redaction(app, tx.session, exhibit)
        tx.session.flush()
        return serialize.show_exhibit(exhibit)


def queue_redaction(app: AppContext, session: Session, exhibit: Exhibit) -> None:
    """Have the worker redact an exhibit; what was decided about the copy before does not hold for the new one."""
    exhibit.state, exhibit.done, exhibit.reason, exhibit.released_by = "waiting", 0, "", None
    app.enqueue(session, REDACT, {"exhibit": exhibit.id}, exhibit.packet_id)


def unpacked_name(exhibit: Exhibit) -> str:
    """The name of an exhibit once it is no longer packed, unless another one has it."""
    name = exhibit.name.removesuffix(".gz")
    taken = any(other.name == name for other in exhibit.packet.exhibits)
    return exhibit.name if taken or not name else name


def release(app: AppContext, actor: Actor, number: str, name: str, reason: str) -> ExhibitShown:
    """Let a held exhibit go out as it is. A releaser answers for it with a reason, which the custody log keeps.
    Raises Conflict if it is not held, or if the plan drops it."""
    with app.transaction(
        actor, "exhibit released", f"packet {number}", name=name, reason=reason
    ) as tx:
        _, exhibit = changeable(tx.session, number, name)
        if (exhibit.report or {}).get("dropped"):
            raise Conflict(
                exhibit.reason,
                "Take it out of the packet, or have the plan changed.",
                code="dropped-by-plan",
            )
        if exhibit.state != "held":
            raise Conflict(
                f"{name} is not held.",
                "Only what could not be inspected needs a release.",
                code="not-held",
            )
        exhibit.released_by = actor.name
        tx.detail["sha256"] = exhibit.sha256 or ""
        tx.session.flush()
        return serialize.show_exhibit(exhibit)


def outgoing(app: AppContext, number: str, name: str) -> tuple[str, int, Iterator[bytes]]:
    """The copy that would go out: its name, size (bytes) and blocks."""
    with app.database.transaction() as session:
        exhibit = find_exhibit(workbench.find_packet(session, number), name)
        blob, size, _ = leaving(exhibit)
        return exhibit.name, size, app.blobs.read(blob)


def leaving(exhibit: Exhibit) -> tuple[str, int, str]:
    """Blob, size and SHA-256 of what goes out: the outgoing copy, or the original where a releaser said so. Raises
    Conflict if there is no outgoing copy yet."""
    if exhibit.state == "ready" and exhibit.outgoing_blob and exhibit.outgoing_sha256:
        return exhibit.outgoing_blob, exhibit.outgoing_size or 0, exhibit.outgoing_sha256
    if exhibit.state == "held" and exhibit.released_by and exhibit.original_blob and exhibit.sha256:
        return exhibit.original_blob, exhibit.size, exhibit.sha256
    raise Conflict(
        f"There is no outgoing copy of {exhibit.name} yet.",
        "Wait for its redaction.",
        code="no-copy",
    )


def forget_broken_uploads(app: AppContext) -> int:
    """Remove what was announced long ago and never came; how many there were."""
    old = datetime.now(UTC) - _UNFINISHED
    query = select(Exhibit).where(Exhibit.state == "receiving", Exhibit.created_at < old)
    with app.transaction(WORKER, "broken uploads forgotten", "exhibits") as tx:
        broken = list(tx.session.scalars(query))
        for exhibit in broken:
            _remove(app, tx.session, exhibit.packet, exhibit)
        tx.audited = bool(broken)
        tx.detail = {"count": len(broken)}
        return len(broken)
