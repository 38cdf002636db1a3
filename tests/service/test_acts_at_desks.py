"""The acts after the reference at every stand-in, each in its own way and with its own refusals."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import stories
from sealpacket.demo.house import RunningHouse
from tests.conftest import Standin, add, until
from tests.storm import STORIES, Storm


@dataclass(frozen=True)
class Desk:
    """A vendor's words for an answer and an end, a file that it takes later, and where that is found."""

    answered: dict[str, Any]
    ended: str
    again: str
    file: str = ""
    files: str = ""


DESKS = {
    "ovenbird": Desk({"state": "Solved"}, "Closed", "In work", "more.log", "files"),
    "lumenlathe": Desk({"state": "SOLVED"}, "CLOSED", "IN WORK", "more.log", "files"),
    "pellwick": Desk({"state": "proposed"}, "done", "assigned", "more.log", "files"),
    "hollowmere": Desk({"state": "granted", "granted": 128}, "closed", "looked_at"),
    "saddlewick": Desk({"ship": "MF-1"}, "CLOSED", "SENT", "photo.txt"),
}


def state(case: dict[str, Any]) -> str:
    return str(case.get("state") or case.get("status"))


def case_of(standin: Standin, reference: str | None) -> dict[str, Any]:
    """Its case by the desk's reference; Saddlewick keeps claims by our number."""
    for key, case in standin.look()["cases"].items():
        if reference in (key, case.get("rma")):
            return dict(case)
    raise KeyError(reference)


@pytest.fixture
def begun(marit: SealPacket, house: RunningHouse, request: pytest.FixtureRequest) -> PacketShown:
    """A packet with its reference at the desk that is asked for."""
    vendor = request.getfixturevalue("vendor")
    storm = Storm(house, marit, 0)
    story, now = STORIES[vendor], datetime.now(UTC)
    noted = marit.packets.note(story.title, story.note, need=story.need, asset=story.asset)
    answers = {name: stories.answer(text, now) for name, text in story.answers.items()}
    if vendor == "hollowmere":
        answers["wanted"] = "north-1 | general cores | 64 | 160"
    marit.packets.answer(noted.number, **answers)
    marit.packets.seal(noted.number)
    marit.packets.lodge(noted.number)
    storm.numbers = {noted.number: vendor}
    assert storm.until_all(lambda packet: bool(packet.reference)) == {}
    return marit.packets.get(noted.number)


def sent(client: SealPacket, number: str) -> PacketShown:
    """The packet once nothing of ours is on its way any more."""

    def all_sent() -> PacketShown | None:
        packet = client.packets.get(number)
        return packet if all(m.sent or m.failure for m in packet.messages) else None

    return until(all_sent)


def follow(client: SealPacket, number: str, life: str) -> PacketShown:
    """Look until the case is so far; mails and papers take their time."""

    def looked() -> PacketShown | None:
        client.packets.follow(number)
        packet = client.packets.get(number)
        return packet if packet.life == life else None

    return until(looked)


@pytest.mark.parametrize("vendor", DESKS)
def test_a_case_goes_its_whole_way(
    marit: SealPacket, house: RunningHouse, begun: PacketShown, vendor: str, tmp_path: Path
) -> None:
    desk, standin, number = DESKS[vendor], Standin(house, vendor), begun.number
    about = number if vendor == "saddlewick" else begun.reference
    if desk.file:
        add(marit, number, tmp_path / desk.file, b"12:00 all is quiet at 10.40.3.7\n")
        marit.packets.comment(number, "One file more.", files=[desk.file])
        after = sent(marit, number)
        assert after.messages[-1].failure == ""
        if desk.files:
            until(lambda: len(case_of(standin, begun.reference)[desk.files]) == 1)
        else:
            left = house.folder / "standins/saddlewick/files/in"
            until(
                lambda: any(
                    path.name.startswith(f"file_{begun.reference}") for path in left.iterdir()
                )
            )
    standin.steer(case=about, **desk.answered)
    follow(marit, number, "answered")
    marit.packets.contest(number, "It is not better.")
    said = sent(marit, number).messages[-1]
    if (
        vendor == "saddlewick"
    ):  # it takes no contest of a part that is on its way, and says so on paper
        follow(marit, number, "answered")
    else:
        assert said.failure == "", said.failure
        until(lambda: state(case_of(standin, begun.reference)) == desk.again)
        standin.steer(case=about, **desk.answered)
        follow(marit, number, "answered")
    marit.packets.accept(number, "That was it.")
    done = sent(marit, number)
    assert [m.failure for m in done.messages if m.failure] == []
    until(lambda: state(case_of(standin, begun.reference)) == desk.ended)
    assert follow(marit, number, "settled").turn == "none"


@pytest.mark.parametrize("vendor", ["hollowmere"])
def test_what_cannot_be_done_any_more_is_said(
    marit: SealPacket, house: RunningHouse, begun: PacketShown, vendor: str
) -> None:
    standin = Standin(house, vendor)
    standin.steer(case=begun.reference, state="granted", granted=160)
    marit.packets.close(begun.number, "We need none after all.")
    failed = sent(marit, begun.number).messages[-1]
    assert "cannot be cancelled" in failed.failure
    assert "Ask in a new packet" in failed.failure
    assert marit.packets.get(begun.number).turn == "ours"
