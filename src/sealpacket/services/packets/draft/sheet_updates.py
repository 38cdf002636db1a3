"""Bringing a draft along to the newer sheet of its desk: what would change, and doing it."""

from __future__ import annotations

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict
from sealpacket.core.sheets import Sheet, SheetDifference, differences, known_for
from sealpacket.core.sheets.difference import dropped
from sealpacket.core.sheets.forms import Known
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import draft_act
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.schemas import PacketShown, SheetChanges
from sealpacket.store.models import DeskSheet, Packet


def what_changes(app: AppContext, number: str) -> SheetChanges:
    """The changes that the newer sheet would make to a draft. Raises Conflict if there is no newer sheet."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        newest, new, known = _newest(workbench.answered(session, packet))
        return SheetChanges(
            have=packet.sheet.number if packet.sheet else 0,
            newest=newest.number,
            differences=_told(packet, new, known),
        )


def bring_along(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Move a draft to the newer sheet. Answers that no longer fit are dropped and recorded in the custody log."""
    with draft_act(app, actor, "sheet renewed", number) as act:
        packet = act.packet
        newest, new, known = _newest(act.bench)
        gone = dropped(new, packet.answers, known)
        act.detail = {"version": newest.number, "dropped": gone}
        packet.answers = {
            ident: value for ident, value in packet.answers.items() if ident not in gone
        }
        packet.sheet = newest
    return act.shown


def _newest(bench: Workbench) -> tuple[DeskSheet, Sheet, Known]:
    packet = bench.packet
    newest = packet.sheet.desk.sheets[-1] if packet.sheet else None
    if newest is None or packet.sheet is None or newest.number <= packet.sheet.number:
        raise Conflict(
            f"{packet.number} has the newest sheet of its desk.",
            "No update is needed.",
            code="newest-sheet",
        )
    return newest, parsed(newest), known_for(bench.answers, bench.facts, bench.people)


def _told(packet: Packet, new: Sheet, known: Known) -> tuple[SheetDifference, ...]:
    return differences(parsed(packet.sheet), new, packet.answers, known) if packet.sheet else ()
