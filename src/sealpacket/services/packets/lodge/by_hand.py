"""Lodging by hand: what a person enters at the desk, field by field, and the reference that comes back."""

from __future__ import annotations

from datetime import UTC, datetime

import re2
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.life import ON_ITS_WAY, OPEN, Event, Life, Turn
from sealpacket.core.sheets import ByHand, Case, Sheet
from sealpacket.core.sheets.by_hand import fields_of, way_of
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import packet_act
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.lodge.deliveries import references
from sealpacket.services.packets.lodge.parcels import file_names
from sealpacket.services.packets.lodge.schemas import (
    HandCase,
    HandField,
    HandFile,
    HandGuide,
    HandWayShown,
)
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Contract, DeskSheet, Packet, PacketCase

_LONGEST = 200


def hand_guide(app: AppContext, number: str, by: str = "") -> HandGuide:
    """Guide for entering a packet by hand: the desk's fields in its order, ready to copy, and the files.

    `by` is one of its ways, such as telephone; empty: its first.
    """
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        sheet, first = _by_hand(packet)
        way = way_of(first, by)
        bench = workbench.evaluate(app, session, packet)
        cases = bench.cases()
        entered = {one.label: one for one in packet.cases}
        called = file_names(bench, sheet).files
        there = [one for one in packet.exhibits if not one.later]
        return HandGuide(
            by=way.by,
            where=way.where,
            closing=way.closing,
            ways=[HandWayShown(by=one.by, where=one.where) for one in (first, *first.also)],
            cases=[_case(sheet, case, entered.get(case.label), way.by) for case in cases],
            files=[
                HandFile(
                    name=name, exhibit=exhibit.name, size=exhibit.outgoing_size or exhibit.size
                )
                for name, exhibit in zip(called, there, strict=True)
            ],
            reference_example=sheet.replies.reference_example,
            reference_form=sheet.replies.reference_form,
            passcode_of=_passcode_of(session, bench),
        )


def _passcode_of(session: Session, bench: Workbench) -> str:
    """The id of the contract that the packet goes by, if it has a passcode."""
    number, asset = bench.facts.get("contract.number"), bench.packet.asset
    if number is None or asset is None:
        return ""
    query = select(Contract.id).where(
        Contract.vendor_id == asset.vendor_id,
        Contract.number == str(number.value),
        Contract.passcode_sealed.is_not(None),
    )
    return session.scalar(query) or ""


def _case(sheet: Sheet, case: Case, kept: PacketCase | None, by: str) -> HandCase:
    ticked = set(kept.entered) if kept else set()
    others = sheet.send.also if isinstance(sheet.send, ByHand) else ()
    place = next((place for place, one in enumerate(others) if one.by == by), None)
    return HandCase(
        label=case.label,
        opening=case.opening if place is None else case.openings[place],
        reference=kept.reference if kept else None,
        fields=[
            HandField(**dict(one), entered=one.label in ticked)
            for one in fields_of(sheet, case, by)
        ],
    )


def _by_hand(packet: Packet) -> tuple[Sheet, ByHand]:
    sheet = parsed(packet.sheet) if packet.sheet else None
    if sheet is None or not isinstance(sheet.send, ByHand):
        raise Conflict(
            f"The desk of {packet.number} is not reached by hand.",
            "Lodge it; the service sends it.",
            code="not-by-hand",
        )
    return sheet, sheet.send


def tick_field(
    app: AppContext,
    actor: Actor,
    number: str,
    field: str,
    *,
    done: bool = True,
    case: str = "",
    by: str = "",
) -> HandGuide:
    """Note that a field was entered at the desk, or was not after all: a colleague goes on where one stopped. Raises
    NotFound for an unknown field."""
    with app.acting(actor) as session:
        packet = workbench.find_packet(session, number, lock=True)
        sheet, _ = _by_hand(packet)
        one = _case_named(packet, case)
        labels = [f.label for f in fields_of(sheet, Case.model_validate(one.written))]
        if field not in labels:
            raise NotFound(f"The desk has no field {field}.", f"There are {', '.join(labels)}.")
        one.entered = [
            label
            for label in labels
            if (label in one.entered and label != field) or (label == field and done)
        ]
    return hand_guide(app, number, by)


def _case_named(packet: Packet, name: str) -> PacketCase:
    if not packet.cases:
        raise Conflict(f"{packet.number} is not sealed.", "Seal it first.", code="not-sealed")
    return workbench.case_named(packet, name)


def enter_reference(
    app: AppContext,
    actor: Actor,
    number: str,
    reference: str,
    *,
    case: str = "",
    at: datetime | None = None,
    spoke_to: str = "",
) -> PacketShown:
    """Keep the reference that a desk gave to a person, since when (`at`, now where it is empty), and by whom there.

    Raises Invalid for one that does not look like this desk's, Conflict for one that another packet has.
    """
    reference = " ".join(reference.split())
    moment = at or datetime.now(UTC)
    with packet_act(
        app, actor, "packet entered by hand", number, reference=reference, spoke_to=spoke_to
    ) as act:
        packet = act.packet
        sheet = parsed(packet.sheet) if packet.sheet else None
        if sheet is None or packet.life not in (Life.SEALED, *OPEN):
            raise Conflict(
                f"{packet.number} is {packet.life}.", "Seal it first.", code="not-sealed"
            )
        if packet.delivery.state in ON_ITS_WAY:
            raise Conflict(
                f"{packet.number} is being delivered by the service.",
                "Wait for its reference, or cancel it first.",
                code="on-its-way",
            )
        if moment > datetime.now(UTC):
            raise Invalid("That moment is still to come.", "Say when it was.", field="at")
        _fits(sheet, reference)
        one = _case_named(packet, case)
        _used_before(act.session, packet, one, reference)
        one.reference, one.sent = reference, True
        one.life, one.turn = one.life or Life.LODGED, Turn.VENDOR
        packet.reference = references(packet)
        if all(other.sent for other in packet.cases) and packet.life == Life.SEALED:
            packet.advance(Event.DELIVERED, moment)
    return act.shown


def _fits(sheet: Sheet, reference: str) -> None:
    form, example = sheet.replies.reference_form, sheet.replies.reference_example
    if not reference or len(reference) > _LONGEST:
        raise Invalid("There is no reference.", "Enter what the desk gave you.", field="reference")
    if form and re2.fullmatch(form, reference) is None:
        looks = f"one looks like {example}" if example else "it has another form"
        raise Invalid(
            f"“{reference}” is no reference of {sheet.name}: {looks}.",
            "Compare it with what you were given, letter by letter.",
            code="reference-form",
            field="reference",
        )


def _used_before(session: Session, packet: Packet, case: PacketCase, reference: str) -> None:
    """Raise Conflict if another case at the same desk has the reference."""
    if packet.sheet is None:
        return
    query = (
        select(Packet.number)
        .join(Packet.cases)
        .join(Packet.sheet)
        .where(PacketCase.reference == reference, PacketCase.id != case.id)
        .where(DeskSheet.desk_id == packet.sheet.desk_id)
    )
    number = session.scalar(query.limit(1))
    if number is not None:
        raise Conflict(
            f"{number} has the reference {reference} already.",
            "Compare it with what you were given; if the desk put both together, write a comment there.",
            code="reference-used",
        )
