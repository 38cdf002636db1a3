"""The legend: replies in clear, every opening noted, and its end. And plans that keep shapes, for one vendor."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import ARRAY, NOTE, Tarnfell, add

LOG = b"peer 10.40.9.9 joined 10.40.9.12\npassword = hunter22-again\n"


@pytest.fixture
def own_plan(marit: SealPacket) -> Iterator[SealPacket]:
    """The organisation's plan is as it was afterwards."""
    before = marit.redaction_plan().yaml
    yield marit
    marit.put_redaction_plan(before, marit.redaction_plan().number)


def copy_of(client: SealPacket, number: str, folder: Path) -> str:
    client.packets.wait(number)
    return client.exhibits.fetch_outgoing(number, "a.log", folder / "out").read_text()


def test_a_reply_is_read_in_clear_and_the_log_says_by_whom_and_why(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, tmp_path: Path
) -> None:
    bag = marit.exhibits.fetch_outgoing(lodged.number, "array.cfg", tmp_path / "out").read_text()
    label = re.findall(r"\[secret:[a-z2-7]{10}\]", bag)[0]
    tarnfell.steer(case=lodged.reference, say=f"Is {label} still set?")
    marit.packets.follow(lodged.number)
    assert label in marit.packets.get(lodged.number).messages[-1].text
    opened = marit.exhibits.open_legend(lodged.number, reason="the desk asks about it")
    assert opened.messages[-1].text == "Is thrush-in-the-reeds still set?"
    assert {one.value for one in opened.placeholders} == {"thrush-in-the-reeds"}
    entry = next(one for one in marit.custody(limit=200) if one.action == "legend opened")
    assert (entry.actor, entry.detail["reason"]) == ("marit", "the desk asks about it")
    assert "thrush" not in str(entry)


def test_a_legend_is_destroyed_only_when_all_is_over_and_that_can_be_proved(
    marit: SealPacket, pauli: SealPacket, teo: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    with pytest.raises(Refused, match="is lodged"):
        marit.exhibits.destroy_legend(lodged.number)
    tarnfell.steer(case=lodged.reference, state="CLOSED", say="Solved.")
    assert marit.packets.follow(lodged.number).life == "settled"
    with pytest.raises(Refused):
        teo.exhibits.destroy_legend(lodged.number)
    marit.packets.follow(lodged.number)
    gone = pauli.exhibits.destroy_legend(lodged.number)
    assert marit.packets.get(lodged.number).legend_destroyed_at == gone.destroyed_at
    for act in (lambda: marit.exhibits.open_legend(lodged.number, reason="once more"),
                lambda: marit.exhibits.values(lodged.number, "array.cfg")):  # fmt: skip
        with pytest.raises(Refused):
            act()
    entries = [one for one in marit.custody(limit=200) if one.subject == f"packet {lodged.number}"]
    end = next(one for one in entries if one.action == "legend key destroyed")
    begin = next(one for one in entries if one.action == "packet noted")
    assert end.detail["fingerprint"] == begin.detail["legend_key"] == gone.fingerprint
    assert marit.verify_custody().entries >= len(entries)


@pytest.mark.parametrize("scope", ["packet", "vendor"])
def test_a_scope_of_one_vendor_gives_the_same_placeholder_in_the_next_packet(
    own_plan: SealPacket, tmp_path: Path, scope: str
) -> None:
    own_plan.put_redaction_plan(
        f"plan: 1\nscope: {scope}\nstyle: shapes\n", own_plan.redaction_plan().number
    )
    copies = []
    for _ in range(2):
        number = own_plan.packets.note("Slow", NOTE, asset=ARRAY).number
        add(own_plan, number, tmp_path / "a.log", LOG)
        copies.append(copy_of(own_plan, number, tmp_path))
        assert own_plan.packets.get(number).exhibits[0].leaks == 0
        assert {one.kind for one in own_plan.exhibits.values(number, "a.log").values} == {
            "ip",
            "secret",
        }
    assert all("[" not in copy and "peer 240." in copy for copy in copies)
    assert (copies[0] == copies[1]) == (scope == "vendor")


def test_times_that_are_moved_are_shown_as_they_go_out(
    own_plan: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    own_plan.put_redaction_plan("plan: 1\nshift_times: -P36D\n", own_plan.redaction_plan().number)
    text = b"".join(
        b"2026-11-%02d 08:40 peer 10.9.8.%d at 2026-12-01\n" % (n % 28 + 1, n % 200)
        for n in range(400)
    )
    add(own_plan, noted.number, tmp_path / "a.log", text)
    copy = copy_of(own_plan, noted.number, tmp_path).splitlines()
    for line in (1, 200, 395):
        shown = own_plan.exhibits.review(noted.number, "a.log", line=line, lines=5).lines
        for one in shown[:5]:
            goes = "".join(span.placeholder or span.goes or span.text for span in one.spans)
            assert goes == copy[one.number - 1] != "".join(span.text for span in one.spans)


def test_a_file_that_the_plan_leaves_out_cannot_be_released(
    own_plan: SealPacket, pauli: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    own_plan.put_redaction_plan(
        "plan: 1\nkinds: {card: drop-file}\n", own_plan.redaction_plan().number
    )
    packet = add(own_plan, noted.number, tmp_path / "a.log", b"card 4111111111111111\n")
    assert (packet.exhibits[0].state, "card" in packet.exhibits[0].reason) == ("held", True)
    with pytest.raises(Refused, match="leaves out"):
        pauli.exhibits.release(noted.number, "a.log", "send it anyway")
