"""The frame of everything that a person does to a packet: lock it, act, write the custody entry, and show it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext, AuditedTransaction
from sealpacket.core.life import Life
from sealpacket.services.packets import serialize, workbench
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.exhibits import queue_redaction
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.redaction.catalogues import kept_values
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Packet


class PacketAct:
    """An act on a packet under way: the packet, locked, and the transaction that ends with a custody entry.

    `shown` is the packet as it is after the act; it is there once the act is over. `bench` is a draft with its answers
    before the act, which only draft_act sets.
    """

    shown: PacketShown
    bench: Workbench

    def __init__(self, tx: AuditedTransaction, packet: Packet) -> None:
        self.tx, self.packet = tx, packet

    @property
    def session(self) -> Session:
        """The session of the transaction."""
        return self.tx.session

    @property
    def detail(self) -> dict[str, Any]:
        """Details of the custody entry; the act may add to them."""
        return self.tx.detail

    @detail.setter
    def detail(self, detail: dict[str, Any]) -> None:
        self.tx.detail = detail

    @property
    def audited(self) -> bool:
        """Whether the act gets a custody entry; not, if it changes nothing."""
        return self.tx.audited

    @audited.setter
    def audited(self, audited: bool) -> None:
        self.tx.audited = audited


@contextmanager
def packet_act(
    app: AppContext, actor: Actor, action: str, number: str, **detail: Any
) -> Iterator[PacketAct]:
    """Act on the packet of that number; any error undoes the act whole.

    Raises NotFound if there is none, Stale if the actor has seen another version of it.
    """
    with _begun(app, actor, action, number, detail) as act:
        yield act
        act.shown = show(app, act.session, act.packet)


@contextmanager
def _begun(
    app: AppContext, actor: Actor, action: str, number: str, detail: dict[str, Any]
) -> Iterator[PacketAct]:
    """Begin an act. Its custody entry names the packet, even if the act also changes records of the register."""
    with app.transaction(actor, action, f"packet {number}", **detail) as tx:
        act = PacketAct(tx, workbench.find_packet(tx.session, number, lock=True))
        yield act
        tx.subject = f"packet {act.packet.number}"


@contextmanager
def draft_act(
    app: AppContext, actor: Actor, action: str, number: str, **detail: Any
) -> Iterator[PacketAct]:
    """Act on a draft; its exhibits are redacted again if other values are masked after it.

    Raises Conflict for a packet that is a draft no more, Stale if the actor has seen another version of it.
    """
    with _begun(app, actor, action, number, detail) as act:
        workbench.need_draft(act.packet)
        act.bench = workbench.answered(act.session, act.packet)
        before = _masking(act.bench, typed_text.kept_originals(app, act.packet))
        yield act
        act.session.flush()
        bench = workbench.with_texts(app, act.session, act.packet)
        masking = _masking(bench, typed_text.originals(bench.typed))
        if act.packet.life == Life.DRAFTING and masking.changes(before):
            for exhibit in act.packet.exhibits:
                if exhibit.original_blob is not None:
                    queue_redaction(app, act.session, exhibit)
            act.session.flush()
        act.shown = serialize.show(workbench.checked(act.session, bench))


@dataclass(frozen=True)
class Masking:
    """The values on which the redaction of a packet's exhibits depends: those kept, and those masked in typed texts."""

    kept: dict[str, str]
    masked: frozenset[str]

    def changes(self, before: Masking) -> bool:
        """Whether exhibits have to be redacted again that were redacted with the one before."""
        return self.kept != before.kept or bool(self.masked - before.masked)


def _masking(bench: Workbench, masked: frozenset[str]) -> Masking:
    return Masking(kept_values(bench), masked)


def show(app: AppContext, session: Session, packet: Packet) -> PacketShown:
    """The packet as it is now, with what was changed in this session."""
    session.flush()
    return serialize.show(workbench.evaluate(app, session, packet))
