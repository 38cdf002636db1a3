"""What came after a packet was sealed: later bags, each chained to the one before it, verified without the service."""

from __future__ import annotations

import json
import shutil
import zipfile
from pathlib import Path

import pytest
from typer.testing import CliRunner

from sealpacket.app.context import WORKER, AppContext
from sealpacket.cli.program import build
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.packet import SealKeys, check_chain, verify_bag
from sealpacket.services.packets.redaction import legends
from tests.conftest import Tarnfell, add, until

QUESTION = "Which firmware do both controllers run?"
ADDRESS = "10.40.77.7"


def told(bag: Path) -> list[dict[str, str]]:
    """The entries of the thread in a later bag."""
    with zipfile.ZipFile(bag) as archive:
        name = next(one for one in archive.namelist() if one.endswith("data/thread.json"))
        found: list[dict[str, str]] = json.loads(archive.read(name))
    return found


def texts(bag: Path) -> list[str]:
    return [one["text"] for one in told(bag)]


@pytest.fixture
def talked(marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell) -> PacketShown:
    """A packet about which both sides have said something."""
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    marit.packets.reply(lodged.number, f"7.4.2 on both, also on {ADDRESS}.")
    return until(lambda: (p := marit.packets.get(lodged.number)).turn == "vendor" and p)


def test_later_bags_hold_what_came_and_follow_each_other(
    marit: SealPacket, teo: SealPacket, talked: PacketShown, tmp_path: Path
) -> None:
    number = talked.number
    with pytest.raises(Refused):
        teo.packets.seal_later(number)
    first = marit.packets.seal_later(number).later_bags[0]
    assert talked.seal
    assert first.follows == talked.seal.tag_manifest
    marit.packets.record_call(
        number, "They ring tomorrow.", spoke_to="Ada", at=talked.lodged_at
    )  # as long ago as it was lodged, and entered only now
    second = marit.packets.seal_later(number).later_bags[1]
    assert second.follows == first.tag_manifest
    with pytest.raises(Refused, match="Nothing came after"):
        marit.packets.seal_later(number)
    files = [
        marit.packets.fetch_bag(number, tmp_path / "first.zip"),
        marit.packets.fetch_later_bag(number, 1, tmp_path / "1.zip"),
        marit.packets.fetch_later_bag(number, 2, tmp_path / "2.zip"),
    ]
    assert QUESTION in texts(files[1])
    assert not any(ADDRESS in one for one in texts(files[1])), "as it was sent"
    assert texts(files[2]) == ["They ring tomorrow."]
    keys = SealKeys.read(marit.seal_keys().model_dump_json())
    bags = [verify_bag(one, keys) for one in files]
    assert [one.faults for one in bags] == [[], [], []]
    assert check_chain(bags) == []
    assert "was not given" in check_chain([bags[0], bags[2]])[0]
    assert check_chain([bags[0], bags[1], bags[1]]), "two follow the same"
    with pytest.raises(Refused, match="no later bag 3"):
        marit.packets.fetch_later_bag(number, 3, tmp_path / "3.zip")


def test_files_that_went_out_later_are_in_it_as_they_left(
    marit: SealPacket, talked: PacketShown, tmp_path: Path
) -> None:
    number = talked.number
    add(marit, number, tmp_path / "more.log", f"peer {ADDRESS} joined\n".encode())
    marit.packets.wait(number)
    marit.packets.comment(number, "Here is more.", files=["more.log"])
    until(lambda: all(one.sent for one in marit.packets.get(number).messages))
    marit.packets.seal_later(number)
    bag = marit.packets.fetch_later_bag(number, 1, tmp_path / "later.zip")
    with zipfile.ZipFile(bag) as archive:
        name = f"{number}-later-1/data/sent/01-more.log"
        assert ADDRESS.encode() not in archive.read(name)
    marit.packets.record_call(number, "Thanks.", spoke_to="Ada")
    marit.packets.seal_later(number)
    with zipfile.ZipFile(marit.packets.fetch_later_bag(number, 2, tmp_path / "2.zip")) as archive:
        assert not [one for one in archive.namelist() if "/sent/" in one], "once is enough"


def test_the_command_verifies_a_chain_offline(
    marit: SealPacket, talked: PacketShown, tmp_path: Path
) -> None:
    marit.packets.seal_later(talked.number)
    first = marit.packets.fetch_bag(talked.number, tmp_path / "first.zip")
    later = marit.packets.fetch_later_bag(talked.number, 1, tmp_path / "later.zip")
    keys = tmp_path / "keys.jwks"
    keys.write_text(marit.seal_keys().model_dump_json())

    def verify(*files: Path) -> tuple[int, str]:
        done = CliRunner().invoke(build(), ["verify", *map(str, files), "--key", str(keys)])
        return done.exit_code, done.output

    assert verify(first, later)[0] == 0
    assert verify(later)[0] == 0
    other = tmp_path / "other.zip"
    shutil.copy(later, other)
    with zipfile.ZipFile(other, "a") as archive:
        archive.writestr(f"{talked.number}-later-1/data/more.txt", "added")
    assert verify(first, other)[0] == 4
    assert verify(later, other)[0] == 4


def test_a_packet_without_a_seal_has_none(marit: SealPacket, noted: PacketShown) -> None:
    with pytest.raises(Refused, match="is not sealed"):
        marit.packets.seal_later(noted.number)


def test_the_thread_is_kept_when_the_legend_is_destroyed(
    marit: SealPacket, pauli: SealPacket, talked: PacketShown, tarnfell: Tarnfell, tmp_path: Path
) -> None:
    tarnfell.steer(case=talked.reference, state="CLOSED", say="Solved.")
    until(lambda: marit.packets.follow(talked.number).life == "settled")
    pauli.exhibits.destroy_legend(talked.number)
    kept = marit.packets.get(talked.number).later_bags
    assert [(one.place, one.form) for one in kept] == [(1, "sent")]
    bag = marit.packets.fetch_later_bag(talked.number, 1, tmp_path / "kept.zip")
    assert QUESTION in texts(bag)
    entry = next(one for one in marit.custody(limit=50) if one.action == "legend key destroyed")
    assert entry.detail["thread"] is True


@pytest.mark.parametrize(("rule", "kept"), [("nothing", False), ("clear", True)])
def test_the_house_chooses_in_which_form(
    marit: SealPacket,
    talked: PacketShown,
    tarnfell: Tarnfell,
    inside: AppContext,
    monkeypatch: pytest.MonkeyPatch,
    tmp_path: Path,
    *,
    rule: str,
    kept: bool,
) -> None:
    monkeypatch.setattr(inside.settings, "thread_kept", rule)
    tarnfell.steer(case=talked.reference, state="CLOSED", say="Solved.")
    until(lambda: marit.packets.follow(talked.number).life == "settled")
    legends.destroy(inside, WORKER, talked.number)
    assert bool(marit.packets.get(talked.number).later_bags) is kept
    if kept:
        with pytest.raises(Refused, match="holds originals"):
            marit.packets.fetch_later_bag(talked.number, 1, tmp_path / "kept.zip")
        reason = "The auditors ask."
        bag = marit.packets.fetch_later_bag(talked.number, 1, tmp_path / "kept.zip", reason=reason)
        entry = next(one for one in marit.custody(limit=20) if one.action == "legend opened")
        assert (entry.actor, entry.detail["reason"]) == ("marit", reason)
        assert any(ADDRESS in one for one in texts(bag)), "in clear"
