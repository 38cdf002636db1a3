"""Random acts on real packets: each is done whole, or refused with a remedy and without a trace."""

from __future__ import annotations

import random
from collections.abc import Callable
from pathlib import Path

import pytest
from sqlalchemy import func, select

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.life import Event, Life, State, possible
from sealpacket.store.models import CustodyEntry
from tests.conftest import add, stops
from tests.some import SAMPLES, SEED

LIFT = "TB-2207-C"
ACTS = 40
Act = Callable[[SealPacket, str], object]
ACTS_BY_NAME: dict[str, Act] = {
    "seal": lambda client, number: client.packets.seal(number),
    "lodge": lambda client, number: client.packets.lodge(number),
    "cancel": lambda client, number: client.packets.cancel(number),
    "reopen": lambda client, number: client.packets.reopen(number),
    "withdraw": lambda client, number: client.packets.withdraw(number, "no longer needed"),
    "enter reference": lambda client, number: client.packets.enter_reference(number, f"26/4{number[-4:]}"),
    "ask": lambda client, number: client.packets.take_reply(number, "When may a fitter come?"),
    "comment": lambda client, number: client.packets.comment(number, "It stopped again."),
    "answer": lambda client, number: client.packets.answer(number, state="level"),
    "settle": lambda client, number: client.packets.settle(number, cause="dust", cure="cleaned"),
    "open again": lambda client, number: client.packets.open_again(number, "It is back."),
    "follow": lambda client, number: client.packets.follow(number),
    "try now": lambda client, number: client.packets.try_now(number),
    "note a step": lambda client, number: client.packets.tried(number, "Switched it off and on"),
    "note a shipment": lambda client, number: client.packets.note_shipment(number, "to_us", "a belt"),
    "mask": lambda client, number: (
        client.exhibits.decide(number, "mask", "custom", "E31", reason="not public"), client.packets.wait(number),
    ),
}  # fmt: skip
EVENTS = {
    "seal": Event.SEAL, "lodge": Event.LODGE_BY_HAND, "cancel": Event.CANCEL, "reopen": Event.REOPEN, "withdraw": Event.WITHDRAW,
    "settle": Event.SETTLE, "open again": Event.OPEN_AGAIN,
}  # fmt: skip
"""What the acts are called in the table of transitions; the others depend on more than the state."""


@pytest.fixture
def lift(marit: SealPacket, tmp_path: Path) -> PacketShown:
    """A draft about a lift, ready to be sealed; its desk is reached by hand, so nothing happens by itself."""
    packet = marit.packets.note("Lift stops beside the floor", "Since this morning.", asset=LIFT)
    marit.packets.answer(
        packet.number, inside="no", state="level", since="2026-11-20T07:40+00:00", caller="ines"
    )
    packet = add(marit, packet.number, tmp_path / "display.txt", b"display shows E31\n")
    assert stops(packet) == []
    return packet


def content(packet: PacketShown) -> PacketShown:
    """A packet without what only says when it was last looked at or changed."""
    return packet.model_copy(update={"version": 0, "updated_at": None, "followed_at": None})


def entries_of(inside: AppContext, number: str) -> int:
    """How many entries of the custody log are about a packet."""
    with inside.database.transaction() as session:
        about = CustodyEntry.entry["subject"].astext == f"packet {number}"
        return session.scalar(select(func.count()).where(about)) or 0


@pytest.mark.parametrize("turn", range(max(3, SAMPLES // 4)))
def test_random_acts_are_done_whole_or_not_at_all(
    marit: SealPacket, inside: AppContext, lift: PacketShown, turn: int
) -> None:
    chance = random.Random(f"{SEED} {turn}")
    number, before = lift.number, marit.packets.get(lift.number)
    for _ in range(ACTS):
        name = chance.choice(list(ACTS_BY_NAME))
        entries = entries_of(inside, number)
        event = EVENTS.get(name)
        state = State(Life(before.life), before.lodge_state)
        legal = event is None or possible(state, event) is not None
        try:
            ACTS_BY_NAME[name](marit, number)
        except Refused as refused:
            assert refused.remedy, (name, before.life)
            assert marit.packets.get(number) == before, (name, before.life, refused.code)
            assert entries_of(inside, number) == entries, "what was not done is not in the log"
        else:
            assert legal, (name, state)
        after = marit.packets.get(number)
        assert content(after) == content(before) or after.version > before.version, name
        before = after
        if before.life == "drafting":
            assert (before.seal, before.lodge_state) == (None, None)
        if before.life not in ("drafting", "withdrawn"):
            assert before.seal, "what left drafting has its seal"
        if before.life == "withdrawn":
            assert before.turn == "none"
            break
    assert marit.verify_custody().holds
