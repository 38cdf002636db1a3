"""Whom the desk of a packet speaks to in our house, and how they want to be reached."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import object_session

from sealpacket.core.sheets import Sheet
from sealpacket.services.desks import parsed
from sealpacket.services.packets.facts import people_of
from sealpacket.store.models import Packet


def contacts_of(packet: Packet, sheet: Sheet) -> list[str]:
    """Keys of the people who must meet the duties of a level: as last sent to the desk, else as answered."""
    if changed := _as_changed(packet):
        return [changed]
    answers = {one["question"]: one.get("value") for one in packet.sealed_answers or []}
    named = [answers.get(q.id) for q in sheet.questions if q.id in sheet.on_duty]
    return [key for key in named if key]


def contact_of(packet: Packet) -> dict[str, Any] | None:
    """The person whom the desk speaks to, as the register has them; None if none is named."""
    session = object_session(packet)
    if packet.sheet is None or session is None:
        return None
    known = people_of(session)
    named = contacts_of(packet, parsed(packet.sheet))
    return next((known[key] for key in named if key in known), None)


def _as_changed(packet: Packet) -> str:
    """The key of the contact that was last sent to the desk; empty if none was."""
    for message in reversed(packet.messages):
        if message.act == "contact" and message.taken_back_at is None:
            return str(message.act_values.get("person", ""))
    return ""
