"""What a reviewer decides about values, and the organisation's plan."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests.conftest import ARRAY, NOTE, add

LOG = b"""peer 10.40.9.9 joined gw.tarnfell.example
peer 10.40.9.9 left; Project Heron waits, project heron too
password = hunter22-again
"""


@pytest.fixture
def packet(marit: SealPacket, noted: PacketShown, tmp_path: Path) -> PacketShown:
    """A packet with one log."""
    return add(marit, noted.number, tmp_path / "a.log", LOG)


def copy_of(client: SealPacket, number: str, folder: Path, name: str = "a.log") -> str:
    """The outgoing copy, once it is there."""
    client.packets.wait(number)
    return client.exhibits.fetch_outgoing(number, name, folder / "out").read_text()


@pytest.fixture
def own_plan(marit: SealPacket) -> Iterator[SealPacket]:
    """The organisation's plan is as it was afterwards."""
    before = marit.redaction_plan().yaml
    yield marit
    marit.put_redaction_plan(before, marit.redaction_plan().number)


def test_a_value_is_kept_everywhere_and_in_what_comes_later(
    marit: SealPacket, packet: PacketShown, tmp_path: Path
) -> None:
    assert "gw.tarnfell.example" not in copy_of(marit, packet.number, tmp_path)
    [made] = marit.exhibits.decide(
        packet.number, "keep", "host", "gw.tarnfell.example", reason="it is the vendor's own"
    )
    assert (made.action, made.value, made.by) == ("keep", "gw.tarnfell.example", "marit")
    assert "joined gw.tarnfell.example\n" in copy_of(marit, packet.number, tmp_path)
    add(marit, packet.number, tmp_path / "b.log", b"again GW.tarnfell.example\n")
    assert copy_of(marit, packet.number, tmp_path, "b.log") == "again GW.tarnfell.example\n"
    shown = marit.packets.get(packet.number)
    assert all(exhibit.leaks == 0 and exhibit.state == "ready" for exhibit in shown.exhibits)
    assert marit.exhibits.undo_decision(packet.number, made.id) == []
    assert "tarnfell.example" not in copy_of(marit, packet.number, tmp_path)


def test_a_host_that_is_kept_is_kept_in_all_its_spellings(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    """Its full name holds its bare one, and that of a shorter host, which is masked where it stands by itself."""
    number = noted.number
    add(
        marit,
        number,
        tmp_path / "a.log",
        b"bs-array-a-c1.quillmere.example up, BS-ARRAY-A-C1 up, bs-array-a down\n",
    )
    add(marit, number, tmp_path / "b.log", b"ping bs-array-a-c1 and bs-array-a\n")
    marit.exhibits.decide(
        number, "keep", "host", "bs-array-a-c1.quillmere.example", reason="the vendor named it"
    )
    first = copy_of(marit, number, tmp_path)
    assert first.startswith("bs-array-a-c1.quillmere.example up, BS-ARRAY-A-C1 up, [host:")
    assert copy_of(marit, number, tmp_path, "b.log").startswith("ping bs-array-a-c1 and [host:")
    assert [exhibit.leaks for exhibit in marit.packets.get(number).exhibits] == [0, 0]


def test_what_nobody_found_is_masked_where_a_reviewer_says_so(
    marit: SealPacket, packet: PacketShown, tmp_path: Path
) -> None:
    assert "Project Heron" in copy_of(marit, packet.number, tmp_path)
    marit.exhibits.decide(packet.number, "mask", "custom", "Project Heron", reason="not public yet")
    copy = copy_of(marit, packet.number, tmp_path)
    assert "heron" not in copy.lower()
    assert copy.count("[custom:") == 2


def test_the_custody_log_tells_who_decided_what_but_no_value(
    marit: SealPacket, packet: PacketShown
) -> None:
    [made] = marit.exhibits.decide(
        packet.number, "mask", "custom", "Project Heron", reason="not public yet"
    )
    entry = next(e for e in marit.custody(f"packet {packet.number}") if e.action == "value to mask")
    assert entry.actor == "marit"
    assert entry.detail["value"] == made.label
    assert entry.detail["reason"] == "not public yet"
    assert "heron" not in str(entry.detail).lower()


def test_a_kind_is_kept_where_the_desk_needs_it_and_the_last_decision_counts(
    marit: SealPacket, packet: PacketShown, tmp_path: Path
) -> None:
    marit.exhibits.decide(packet.number, "keep", "ip", reason="the fault is in the addresses")
    assert "10.40.9.9" in copy_of(marit, packet.number, tmp_path)
    [only] = marit.exhibits.decide(packet.number, "mask", "ip", reason="it is not, after all")
    assert only.action == "mask"
    assert "10.40.9.9" not in copy_of(marit, packet.number, tmp_path)


def test_lines_and_files_with_a_kind_are_left_out_of_one_packet(
    marit: SealPacket, packet: PacketShown, tmp_path: Path
) -> None:
    [made] = marit.exhibits.decide(
        packet.number, "drop-line", "secret", reason="no line with a password leaves"
    )
    assert (made.action, made.value) == ("drop-line", "")
    copy = copy_of(marit, packet.number, tmp_path)
    assert "password" not in copy
    assert "[line left out: it held a secret]" in copy
    [made] = marit.exhibits.decide(
        packet.number, "drop-file", "secret", reason="nor any file with one"
    )
    marit.packets.wait(packet.number)
    [exhibit] = marit.packets.get(packet.number).exhibits
    assert (exhibit.state, "secret" in exhibit.reason) == ("held", True)
    (tmp_path / "other.log").write_bytes(b"nothing in it\n")
    marit.exhibits.add(packet.number, tmp_path / "other.log")
    shown = marit.packets.wait(packet.number)
    assert [one.state for one in shown.exhibits] == ["held", "ready"], (
        "its copy of before does not come back"
    )
    assert marit.exhibits.undo_decision(packet.number, made.id) == []
    assert "password = [secret:" in copy_of(marit, packet.number, tmp_path)


@pytest.mark.parametrize(
    ("action", "kind", "value", "code"),
    [
        ("drop-line", "secret", "hunter22-again", "whole-kind-only"),
        ("keep", "secret", "hunter22-again", "below-floor"),
        ("keep", "secret", "", "below-floor"),
        ("mask", "custom", "abc", "too-short"),
        ("mask", "colour", "Heron", ""),
        ("mask", "custom", "two\nlines", ""),
    ],
)
def test_what_cannot_be_decided(
    marit: SealPacket, packet: PacketShown, action: str, kind: str, value: str, code: str
) -> None:
    with pytest.raises(Refused) as refused:
        marit.exhibits.decide(packet.number, action, kind, value, reason="because")
    assert refused.value.status == 422
    assert not code or refused.value.code == code
    assert marit.exhibits.decisions(packet.number) == []


def test_the_floor_holds_for_a_value_that_is_kept_as_something_else(
    marit: SealPacket, packet: PacketShown, tmp_path: Path
) -> None:
    marit.exhibits.decide(
        packet.number, "keep", "host", "hunter22-again", reason="I say it is a host"
    )
    assert "hunter22" not in copy_of(marit, packet.number, tmp_path)


def test_values_are_listed_by_how_often_they_stand_there(
    marit: SealPacket, packet: PacketShown
) -> None:
    found = marit.exhibits.values(packet.number, "a.log")
    assert found.total == 3
    assert (found.values[0].value, found.values[0].kind, found.values[0].times) == (
        "10.40.9.9",
        "ip",
        2,
    )
    assert {one.kind for one in found.values} == {"ip", "host", "secret"}
    assert marit.exhibits.values(packet.number, "a.log", kind="host").total == 1
    assert [
        one.value for one in marit.exhibits.values(packet.number, "a.log", q="TARN").values
    ] == ["gw.tarnfell.example"]
    seen = marit.exhibits.review(packet.number, "a.log", 1, placeholder=found.values[0].placeholder)
    assert (seen.findings, seen.at, seen.line) == (2, 1, 2)


def test_a_term_of_the_plan_is_masked_in_the_next_packet_too(
    own_plan: SealPacket, packet: PacketShown, tmp_path: Path
) -> None:
    own_plan.exhibits.decide(
        packet.number, "mask", "custom", "Project Heron", reason="not public", as_term=True
    )
    assert "Project Heron" in own_plan.redaction_plan().yaml
    other = own_plan.packets.note("Another packet", NOTE, asset=ARRAY)
    add(own_plan, other.number, tmp_path / "a.log", LOG)
    assert "[custom:" in copy_of(own_plan, other.number, tmp_path)


PLAN = """plan: 1
kinds: {host: keep}
allow: [10.40.9.9]
floor: [ip]
own:
  - {id: ticket, match: [«Q12345»], leave: [Q123], shape: [{pattern: '(Q[0-9]{5})'}]}
"""


def test_the_organisations_plan_holds_in_every_packet_but_not_below_the_floor(
    own_plan: SealPacket, packet: PacketShown, tmp_path: Path
) -> None:
    put = own_plan.put_redaction_plan(PLAN, own_plan.redaction_plan().number)
    assert "ip" in put.floor
    add(own_plan, packet.number, tmp_path / "b.log", LOG + b"see Q12345\n")
    copy = copy_of(own_plan, packet.number, tmp_path, "b.log")
    assert "gw.tarnfell.example" in copy
    assert "10.40.9.9" not in copy, "the floor comes before what the plan allows"
    assert "see [custom:" in copy
    with pytest.raises(Refused, match="is never kept"):
        own_plan.exhibits.decide(packet.number, "keep", "ip", "10.40.9.9", reason="needed")


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("kinds: {colour: keep}", "colour"), ("[1, 2", "YAML"), ("- 1", "no plan"), ("floor: [colour]", "colour"),
        ("own: [{id: x1, match: [«a»], leave: [b], shape: [{pattern: '('}]}]", "cannot be read"), ("plan: 2", "plan"),
    ],
)  # fmt: skip
def test_a_plan_that_is_wrong_is_refused_with_the_place(
    marit: SealPacket, text: str, words: str
) -> None:
    number = marit.redaction_plan().number
    with pytest.raises(Refused, match=words):
        marit.put_redaction_plan(text, number)
    assert marit.redaction_plan().number == number


def test_an_older_plan_does_not_overwrite_a_newer_one(own_plan: SealPacket) -> None:
    number = own_plan.redaction_plan().number
    own_plan.put_redaction_plan("forbid: [Project Egret]", number)
    with pytest.raises(Refused) as refused:
        own_plan.put_redaction_plan("forbid: [Project Heron]", number)
    assert refused.value.status == 412
    assert "Egret" in own_plan.redaction_plan().yaml


def test_only_a_keeper_may_put_the_plan_and_no_reader_sees_values(
    teo: SealPacket, packet: PacketShown
) -> None:
    with pytest.raises(Refused) as refused:
        teo.put_redaction_plan("{}", 0)
    assert refused.value.status == 403


def test_values_of_plan_and_decisions_are_encrypted_in_the_database(
    own_plan: SealPacket, packet: PacketShown, house: RunningHouse
) -> None:
    own_plan.exhibits.decide(
        packet.number, "mask", "custom", "Project Heron", reason="not public", as_term=True
    )
    from sqlalchemy import create_engine, text

    with create_engine(house.cluster.owner_url).connect() as link:
        for table in ("redaction_plan", "redaction_decision", "custody_entry"):
            query = f"SELECT row_to_json(t)::text FROM {table} t"  # noqa: S608 - names of ours
            rows = link.execute(text(query)).all()
            assert rows
            assert "heron" not in str(rows).lower()
            assert b"heron".hex() not in str(rows).lower(), "as bytes"


def test_all_that_the_register_keeps_is_masked_wherever_it_stands(
    marit: SealPacket, noted: PacketShown, tmp_path: Path
) -> None:
    site = next(one for one in marit.sites.list() if one.postcode and one.key != "book-store")
    marit.contracts.add(
        vendor="ovenbird",
        number="OB-77-4120-X",
        starts_on="2026-01-01",
        ends_on="2026-12-31",
        passcode="wren-in-the-ivy",
    )
    text = f"at {site.address.split(',')[0]} near {site.postcode}\nsaid Wren-In-The-Ivy-2, on ob-77-4120-x\n"
    add(marit, noted.number, tmp_path / "a.log", text.encode())
    copy = copy_of(marit, noted.number, tmp_path)
    assert not any(
        one.lower() in copy.lower()
        for one in (site.postcode, "wren-in", "4120", site.address.split(",")[0])
    )
