"""Texts typed into a packet: redacted once for each change, and stored under the key of the packet's legend.

Everything that leaves in words (case, letter, bag, messages) is made from what is found here.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Sequence
from typing import Any

from pydantic import BaseModel, ConfigDict
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.outgoing import OutgoingText, RedactedText
from sealpacket.core.redact import Catalogue, Legend, leak_check
from sealpacket.core.redact.search import ENGINE
from sealpacket.core.redact.typed import TextRedactor, legend_of
from sealpacket.core.redact.verify import IsPublic, Leak, Leaking, mend
from sealpacket.core.secretbox import decrypt, encrypt
from sealpacket.core.sheets import Typed, TypedText, typed_texts
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.redaction import legend_keys
from sealpacket.services.packets.redaction.catalogues import (
    catalogue_for,
    kept_in_words,
    kept_values,
    packet_plan,
    placeholders_of,
)
from sealpacket.services.packets.redaction.decisions import decided
from sealpacket.services.packets.redaction.schemas import TextPart, TypedShown
from sealpacket.store.database import unless_taken
from sealpacket.store.models import Packet, TypedRecord

_PURPOSE = "typed text"
UNKEPT = "typed texts unkept"
"""Set in a session that keeps nothing of what is found."""


class Looked(BaseModel):
    """One typed text, and what was found in it."""

    model_config = ConfigDict(frozen=True)

    text: TypedText
    found: RedactedText


class Record(BaseModel):
    """All typed texts of a packet as they were looked at last.

    `thorough`: what the exhibits hold was searched for in them, too; `leaking` are placeholders of what is still there.
    """

    model_config = ConfigDict(frozen=True)

    texts: tuple[Looked, ...]
    thorough: bool = False
    leaking: tuple[str, ...] = ()


def look(app: AppContext, session: Session, bench: Workbench, *, thorough: bool = False) -> Typed:
    """The typed texts of a draft with what is found in them: as stored, or redacted again if anything has changed.

    With `thorough` it is looked at in any case, with the register as it is now, and what is masked in the exhibits is
    searched for in the texts.
    """
    if bench.sheet is None:
        return Typed()
    texts = typed_texts(bench.sheet, bench.answers, bench.facts)
    number, plan = packet_plan(app, session, bench.packet)
    stamp = _stamp(bench, texts, number)
    kept = bench.packet.typed_record
    if kept is not None and kept.stamp == stamp and not thorough:
        record = _opened(app, bench.packet, kept.found_sealed)
    else:
        record = _looked_at(app, session, bench, texts, thorough=thorough)
        _keep(app, session, bench.packet, stamp, record)
    return _as_typed(app, bench.packet, record, plan.whole_floor)


def sealed_texts(app: AppContext, packet: Packet) -> Typed:
    """The typed texts of a sealed packet, as found at the seal; empty once the legend is destroyed."""
    kept = packet.typed_record
    if kept is None or packet.legend.destroyed_at is not None:
        return Typed()
    return _as_typed(app, packet, _opened(app, packet, kept.found_sealed), frozenset())


def message_text(
    app: AppContext, session: Session, bench: Workbench, text: str, naming: Sequence[str] = ()
) -> Typed:
    """A message to the desk, looked at with all that is known of its packet; under the path `message`.

    `naming` are keys of people whom it names to the desk.
    """
    piece = TypedText(path="message", ask="The message", text=text)
    _, plan = packet_plan(app, session, bench.packet)
    before = typed_legend(app, bench.packet)
    record = _looked_at(app, session, bench, (piece,), thorough=True, before=before, naming=naming)
    return _as_typed(app, bench.packet, record, plan.whole_floor)


def seal_found(app: AppContext, packet: Packet, found: RedactedText) -> bytes:
    """The findings of a message, encrypted under the packet's legend key."""
    return encrypt(legend_keys.key_of(app, packet), found.model_dump_json().encode(), _PURPOSE)


def whole_legend(app: AppContext, packet: Packet) -> Legend:
    """The legend of all exhibits, of what was typed, and of our messages together."""
    key = legend_keys.key_of(app, packet)
    legend = legend_keys.of_exhibits(app, key, packet)
    legend.merge(typed_legend(app, packet))
    return legend


def typed_legend(app: AppContext, packet: Packet) -> Legend:
    """The legend of what was typed, messages included."""
    key = legend_keys.key_of(app, packet)
    found = _kept(app, packet) + [
        RedactedText.model_validate_json(decrypt(key, message.found_sealed, _PURPOSE))
        for message in packet.messages
        if message.found_sealed is not None
    ]
    return legend_of(found)


def forget(packet: Packet) -> None:
    """Forget what was found: with the legend's key nobody could read it any more."""
    packet.typed_record = None
    for message in packet.messages:
        message.found_sealed = None


def originals(typed: Typed) -> frozenset[str]:
    """Everything sensitive that was typed."""
    return _originals(typed.found.values())


def _originals(texts: Iterable[RedactedText]) -> frozenset[str]:
    return frozenset(
        value.original for found in texts for finding in found.findings for value in finding.values
    )


def kept_originals(app: AppContext, packet: Packet) -> frozenset[str]:
    """Everything sensitive that was found in typed texts when they were looked at last."""
    return _originals(_kept(app, packet))


def _kept(app: AppContext, packet: Packet) -> list[RedactedText]:
    kept = packet.typed_record
    return [one.found for one in _opened(app, packet, kept.found_sealed).texts] if kept else []


def show_text(typed: Typed, one: TypedText) -> TypedShown:
    """A typed text beside its outgoing form, as parts that are either unchanged or masked."""
    found = typed.found[one.path]
    parts: list[TextPart] = []
    done = 0
    for finding in found.findings:
        if finding.start > done:
            parts.append(_part(one.text[done : finding.start]))
        values = [
            value.model_dump(include={"kind", "placeholder", "original"})
            for value in finding.values
        ]
        stops = any(
            v.kind in typed.floor and v.original.casefold() not in typed.decided
            for v in finding.values
        )
        parts.append(
            _part(
                one.text[finding.start : finding.end],
                finding.replacement,
                values,
                finding.sure,
                stops,
            )
        )
        done = finding.end
    if done < len(one.text):
        parts.append(_part(one.text[done:]))
    return TypedShown(
        path=one.path,
        ask=one.ask,
        question=one.question,
        parts=parts,
        outgoing=found.outgoing(one.text),
        kept=[kept.model_dump() for kept in found.kept],
        in_clear=one.because if one.keep_kinds else "",
    )


def _part(
    text: str,
    goes: str | None = None,
    values: Iterable[dict[str, Any]] = (),
    sure: bool = True,
    stops: bool = False,
) -> TextPart:
    return TextPart(
        text=text, goes=text if goes is None else goes, masked=list(values), sure=sure, stops=stops
    )


def _as_typed(app: AppContext, packet: Packet, record: Record, floor: frozenset[str]) -> Typed:
    made = decided(app, packet)
    return Typed(
        texts=tuple(one.text for one in record.texts),
        found={one.text.path: one.found for one in record.texts},
        floor=floor - made.mask_kinds,
        decided=frozenset(value.casefold() for _, value in made.mask_values),
        leaking=record.leaking,
    )


def _stamp(bench: Workbench, texts: Iterable[TypedText], plan: int) -> str:
    """Hash of everything that the result depends on, beside the register."""
    parts = [
        ENGINE,
        str(plan),
        bench.packet.sheet_id,
        sorted(one.id for one in bench.packet.decisions),
        sorted({**kept_in_words(bench), **kept_values(bench)}.items()),
        [one.model_dump_json() for one in texts],
    ]
    return hashlib.sha256(repr(parts).encode()).hexdigest()


def _looked_at(
    app: AppContext,
    session: Session,
    bench: Workbench,
    texts: tuple[TypedText, ...],
    *,
    thorough: bool,
    before: Legend | None = None,
    naming: Sequence[str] = (),
) -> Record:
    """Look at texts. `before` is what is masked elsewhere, beside the exhibits; `naming` whom they name to the desk."""
    _, plan = packet_plan(app, session, bench.packet)
    catalogue = catalogue_for(app, session, bench, plan, of_files=False, naming=naming)
    placeholders = placeholders_of(app, bench.packet, plan)

    def looked(known: Catalogue) -> list[Looked]:
        redactor = TextRedactor(known, placeholders, plan.whole_floor)
        return [
            Looked(
                text=one,
                found=redactor.redact(
                    one.text, cells=one.cells, keep_kinds=one.keep_kinds, because=one.because
                ),
            )
            for one in texts
        ]

    found = looked(catalogue)
    if not thorough:
        return Record(texts=tuple(found))
    legend = legend_of(one.found for one in found)
    if before is not None:
        legend.merge(before)
    legend.merge(legend_keys.of_exhibits(app, legend_keys.key_of(app, bench.packet), bench.packet))
    keep = catalogue.kept_values()
    left: tuple[Leak, ...] = ()

    def check_all() -> Leaking | None:
        nonlocal left
        texts = [one.found.outgoing(one.text.text) for one in found]
        left = leaks_in(texts, legend, keep, catalogue.is_public)
        return {(leak.kind, leak.original) for leak in left} or None

    def redact_all(wider: Catalogue) -> None:
        nonlocal found
        found = looked(wider)

    mend(catalogue, check_all, redact_all)
    return Record(
        texts=tuple(found),
        thorough=True,
        leaking=tuple(sorted({leak.placeholder.decode() for leak in left})),
    )


def leaks_in(
    texts: Iterable[OutgoingText], legend: Legend, keep: Iterable[bytes], is_public: IsPublic
) -> tuple[Leak, ...]:
    """Originals of a legend that are still in outgoing texts; each text is checked separately."""
    blocks = [text.encode() + b"\n\n" for text in texts]
    return leak_check(blocks, legend, exempt=keep, is_public=is_public).leaks


def _opened(app: AppContext, packet: Packet, sealed: bytes) -> Record:
    return Record.model_validate_json(decrypt(legend_keys.key_of(app, packet), sealed, _PURPOSE))


def _keep(app: AppContext, session: Session, packet: Packet, stamp: str, record: Record) -> None:
    if session.info.get(UNKEPT):
        return
    sealed = encrypt(legend_keys.key_of(app, packet), record.model_dump_json().encode(), _PURPOSE)
    values = {"stamp": stamp, "found_sealed": sealed}
    session.flush()
    statement = insert(TypedRecord).values(packet_id=packet.id, **values)
    with unless_taken(session):
        session.execute(statement.on_conflict_do_update(index_elements=["packet_id"], set_=values))
    if packet.typed_record is not None:
        session.expire(packet.typed_record)
    else:
        session.expire(packet, ["typed_record"])
