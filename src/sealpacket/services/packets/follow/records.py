"""A packet as a document: what went out, and all that both sides said, as it was sent or in clear."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.record_pages import Record, RecordEntry, to_html, to_pdf
from sealpacket.core.sheets.writing import Case, write_case
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.follow.thread import ThreadEntry, all_entries
from sealpacket.services.packets.redaction import typed_text
from sealpacket.store.models import Packet

RecordForm = Literal["pdf", "html"]
SHORTEST_REASON = 3


def record(
    app: AppContext, actor: Actor, number: str, form: RecordForm = "pdf"
) -> tuple[str, bytes]:
    """Name and content of a packet as a document, as it was sent: sensitive values are masked. Raises NotFound."""
    with app.transaction(actor, "record written", f"packet {number}", form=form) as tx:
        made = as_sent(tx.session, workbench.find_packet(tx.session, number))
    return f"{number}.{form}", _content(made, form)


def record_in_clear(
    app: AppContext, actor: Actor, number: str, reason: str, form: RecordForm = "pdf"
) -> tuple[str, bytes]:
    """Name and content of a packet as a document in clear; the custody log notes who read it and why.

    Raises NotFound, Conflict if its legend is destroyed, Invalid for a reason that says nothing.
    """
    if len(reason.strip()) < SHORTEST_REASON:
        raise Invalid("The reason is missing.", "Say why you read it in clear.", field="reason")
    with app.transaction(actor, "legend opened", f"packet {number}", reason=reason) as tx:
        made = in_clear(app, tx.session, workbench.find_packet(tx.session, number))
    return f"{number}-in-clear.{form}", _content(made, form)


def _content(made: Record, form: RecordForm) -> bytes:
    return to_pdf(made) if form == "pdf" else to_html(made)


def as_sent(
    session: Session, packet: Packet, entries: Sequence[ThreadEntry] | None = None
) -> Record:
    """A packet as it was sent, with sensitive values masked; with some entries of its thread, or all."""
    entries = all_entries(session, packet) if entries is None else entries
    said = [_said(one, in_clear=False) for one in entries]
    return Record(
        title=f"{packet.number} {packet.reference or ''}".strip(),
        remark="As it was sent: sensitive values are masked.",
        facts=_facts(packet),
        texts=_sent(packet),
        files=[one.goes_as for one in packet.exhibits if one.outgoing_sha256],
        thread=_thread(entries, said),
    )


def in_clear(app: AppContext, session: Session, packet: Packet) -> Record:
    """A packet with its originals. Raises Conflict if its legend is destroyed."""
    entries = all_entries(session, packet)
    legend = typed_text.whole_legend(app, packet)
    said = legend.resolve(_said(one, in_clear=True) for one in entries)
    asset = packet.asset
    own = [
        ("Asset", f"{asset.name} {asset.serial}".strip() if asset else ""),
        ("Cause", packet.cause),
        ("Cure", packet.cure),
    ]
    return Record(
        title=f"{packet.number} {packet.title}",
        remark="In clear: with originals.",
        facts=[*_facts(packet), *((name, value) for name, value in own if value)],
        texts=_typed(packet),
        files=[one.goes_as for one in packet.exhibits if one.outgoing_sha256],
        thread=_thread(entries, said),
    )


def _facts(packet: Packet) -> list[tuple[str, str]]:
    facts = [
        ("Packet", packet.number),
        ("State", packet.life.value),
        ("Vendor", packet.vendor_name),
        ("Reference", packet.reference or ""),
        ("Lodged", f"{packet.lodged_at:%d %b %Y %H:%M} UTC" if packet.lodged_at else ""),
        ("Settled", f"{packet.settled_at:%d %b %Y %H:%M} UTC" if packet.settled_at else ""),
    ]
    return [(name, value) for name, value in facts if value]


def _thread(entries: Sequence[ThreadEntry], said: Iterable[str]) -> list[RecordEntry]:
    return [
        RecordEntry(one.sort, one.at, one.by, text) for one, text in zip(entries, said, strict=True)
    ]


def _typed(packet: Packet) -> list[tuple[str, str]]:
    return [(name, text) for name, text in (("Title", packet.title), ("Note", packet.note)) if text]


def _sent(packet: Packet) -> list[tuple[str, str]]:
    """The cases as they were sealed; of a draft nothing has left."""
    if packet.sheet is None:
        return []
    sheet, found = parsed(packet.sheet), []
    for one in packet.cases:
        case = Case.model_validate(one.written)
        found.append((f"Case {case.label}".rstrip(), write_case(sheet, case).text))
    return found


def _said(one: ThreadEntry, *, in_clear: bool) -> str:
    """An entry as it is read. Of what our people typed for themselves only the record in clear has the words."""
    message = one.message
    if message is None:
        return f"{one.words}: {one.text}" if in_clear and one.text else one.words
    ours = message.direction == "out"
    said = message.text if in_clear or not ours else (message.outgoing or "")
    about = f": {message.about}" if message.about and in_clear else ""
    acts = f"[{message.act}{about}] " if ours and message.act != "comment" else ""
    files = [*message.files, *(file.name for file in message.received)]
    attached = f"\nFiles: {', '.join(files)}" if files else ""
    return f"{acts}{said}{attached}"
