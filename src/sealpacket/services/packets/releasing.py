"""Two people: whoever seals a packet to which a rule applies has not prepared it; the second is asked on Today."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime

from pydantic import BaseModel, Field
from sqlalchemy import or_, select
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import Actor
from sealpacket.core.errors import NotAllowed
from sealpacket.core.life import Life
from sealpacket.core.sheets import severity_of
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.schemas import SecondPersonShown
from sealpacket.store.models import (
    Account,
    Asset,
    CustodyEntry,
    Packet,
    PacketRelease,
    RedactionDecision,
    ReleaseRule,
)

_PREPARING = (
    "packet noted", "packet changed", "exhibit announced", "exhibit received", "exhibit attached", "exhibit cut",
    "exhibit taken out", "exhibit released", "value to keep", "kind to keep", "box taken back", "colleague named",
)  # fmt: skip
"""Entries of the custody log after which somebody has had a part in what leaves. Masking more is none."""


class ReleaseAsked(BaseModel):
    """A draft that waits for a second person."""

    number: str
    title: str
    vendor_name: str = Field(description="The vendor's name; empty while no asset is named.")
    asked_by: str = Field(description="The account that asks.")
    asked_at: datetime = Field(description="When it was asked for.")


def release_of(session: Session, bench: Workbench) -> SecondPersonShown | None:
    """Which rules ask for a second person, and who has prepared the draft; None if no rule applies."""
    packet = bench.packet
    if packet.life != Life.DRAFTING:
        return None
    rules = applying(session, bench)
    if not rules:
        return None
    asked = session.get(PacketRelease, packet.id)
    return SecondPersonShown(
        reasons=[rule.reason for rule in rules],
        prepared_by=sorted(prepared_by(session, packet)),
        asked_by=asked.asked_by if asked else None,
        asked_at=asked.asked_at if asked else None,
    )


def applying(session: Session, bench: Workbench) -> list[ReleaseRule]:
    """The rules that apply to a draft."""
    rules = session.scalars(select(ReleaseRule).order_by(ReleaseRule.created_at)).all()
    if not rules:
        return []
    packet = bench.packet
    severity = severity_of(bench.sheet, bench.answers) if bench.sheet else None
    kinds = _kinds(session, packet) if any(rule.kind for rule in rules) else frozenset()
    vendor = packet.asset.vendor_id if packet.asset else None
    return [
        rule
        for rule in rules
        if (rule.vendor_id in (None, vendor))
        and (rule.severity in (None, severity))
        and (rule.kind is None or rule.kind in kinds)
    ]


def _kinds(session: Session, packet: Packet) -> frozenset[str]:
    """The kinds of sensitive values that were found in exhibits, or that somebody has decided about."""
    found: set[str] = set()
    for exhibit in packet.exhibits:
        found.update((exhibit.report or {}).get("counts", {}))
    kept = select(RedactionDecision.kind).where(RedactionDecision.packet_id == packet.id)
    return frozenset(found | set(session.scalars(kept)))


def prepared_by(session: Session, packet: Packet) -> set[str]:
    """The accounts that have prepared a packet, by the custody log."""
    return {packet.noted_by, *(actor for _, actor in _preparing(session, [packet]))}


def _preparing(session: Session, packets: Sequence[Packet]) -> set[tuple[str, str]]:
    """The subjects of packets in the custody log, each with an account that has prepared it."""
    entry = CustodyEntry.entry
    about = or_(*(entry.contains({"subject": _subject(one)}) for one in packets))
    query = select(entry["subject"].astext, entry["actor"].astext).distinct()
    rows = session.execute(query.where(about, entry["action"].astext.in_(_PREPARING)))
    return {(subject, actor) for subject, actor in rows}


def _subject(packet: Packet) -> str:
    return f"packet {packet.number}"


def refuse_the_same(session: Session, bench: Workbench, actor: Actor) -> None:
    """Raise NotAllowed if a rule asks for a second person, and this is not one."""
    rules = applying(session, bench)
    packet = bench.packet
    if rules and actor.name in (prepared := prepared_by(session, packet)):
        others = ", ".join(_releasers(session, prepared)) or "somebody with the role releaser"
        raise NotAllowed(
            f"{packet.number} needs a second person ({rules[0].reason}), and you have prepared it.",
            f"Ask for the release: {others} can seal it.",
            code="second-person",
        )


def _releasers(session: Session, prepared: Iterable[str]) -> list[str]:
    query = select(Account.name).where(Account.active, Account.roles.contains(["releaser"]))
    query = query.where(Account.kind == "person", Account.name.not_in([*prepared]))
    return [*session.scalars(query.order_by(Account.name))]


def waiting_for(session: Session, actor: Actor) -> list[ReleaseAsked]:
    """Drafts whose release was asked for and that this actor may seal, the longest wait first."""
    if "releaser" not in actor.roles:
        return []
    query = (
        select(Packet, PacketRelease)
        .join(PacketRelease, PacketRelease.packet_id == Packet.id)
        .where(Packet.life == Life.DRAFTING, Packet.noted_by != actor.name)
        .options(joinedload(Packet.asset).joinedload(Asset.vendor))
        .order_by(PacketRelease.asked_at)
        .limit(100)
    )
    found = [(packet, asked) for packet, asked in session.execute(query)]
    preparing = _preparing(session, [packet for packet, _ in found]) if found else set()
    return [
        ReleaseAsked(
            number=packet.number,
            title=packet.title,
            vendor_name=packet.vendor_name,
            asked_by=asked.asked_by,
            asked_at=asked.asked_at,
        )
        for packet, asked in found
        if (_subject(packet), actor.name) not in preparing
    ]
