"""Diagnostic kits in the house: kept, offered for a model, confirmed, run by the worker; the safe."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import KitRunShown, PacketShown
from sealpacket.core.evidence.kits import read_kit
from sealpacket.demo import world
from sealpacket.demo.house import RunningHouse
from sealpacket.services import reach
from sealpacket.services.packets import kit_runs
from sealpacket.store.models import KitRun
from tests.conftest import add

pytestmark = pytest.mark.usefixtures("devices")

KIT = "kit: 1\nname: {name}\ntitle: A try\nvendor: ovenbird\nmodels: [OB-S48]\nuser: reader\nsecrets: {{console: x}}\nsteps:\n"


def kit(name: str, *steps: str) -> str:
    return KIT.format(name=name) + "".join(f"  - {{{step}}}\n" for step in steps)


@pytest.fixture
def switch(marit: SealPacket) -> PacketShown:
    return marit.packets.note("Ports of the switch flap", asset=world.SWITCH_SERIAL)


def collect(client: SealPacket, number: str, name: str) -> KitRunShown:
    one = next(one for one in client.kits.offered(number) if one.name == name)
    return client.kits.wait(number, client.kits.collect(number, name, one.number).id)


def test_a_kit_collects_from_the_device_and_answers_the_desk(
    marit: SealPacket, teo: SealPacket
) -> None:
    packet = teo.packets.note("Cards are not read", asset=world.KIOSK_SERIAL)
    offered = teo.kits.offered(packet.number)
    assert [(one.name, one.target, one.hindrance) for one in offered] == [
        ("lumenlathe-kiosk", "127.0.0.1", "")
    ]
    assert offered[0].does[0].does == "files of 127.0.0.1 by SFTP: /log/lendd*.log"
    run = collect(teo, packet.number, "lumenlathe-kiosk")
    assert (run.state, run.confirmed_by) == ("done", "teo")
    assert [(one.step, one.state) for one in run.outcomes] == [
        ("lendd", "got"), ("identity", "got"), ("reader", "got"),
    ]  # fmt: skip
    packet = teo.packets.wait(packet.number)
    by = {one.name: one.collected for one in packet.exhibits}
    assert sorted(by) == ["identity.txt", "lendd.log", "reader-selftest.txt"]
    assert by["lendd.log"] is not None
    assert (by["lendd.log"].kit, by["lendd.log"].step) == ("lumenlathe-kiosk", "lendd")
    code = next(one for one in packet.questions if one.id == "error_code")
    assert (code.answer.value, code.answer.source) == ("E417", "kit lumenlathe-kiosk")
    log = [one.action for one in marit.custody(f"packet {packet.number}")]
    assert {"kit confirmed", "kit run"} <= set(log)


def test_an_answer_that_a_person_gave_is_left_alone(marit: SealPacket) -> None:
    packet = marit.packets.note("Cards are not read", asset=world.KIOSK_SERIAL)
    marit.packets.answer(packet.number, error_code="E001")
    collect(marit, packet.number, "lumenlathe-kiosk")
    packet = marit.packets.wait(packet.number)
    code = next(one for one in packet.questions if one.id == "error_code")
    assert (code.answer.value, code.answer.source) == ("E001", None)


def test_the_kits_that_ship_answer_what_their_desks_ask(marit: SealPacket) -> None:
    for one in marit.kits.list():
        assert marit.kits.get(one.name).findings == [], one.name
    text = marit.kits.get("ovenbird-switch").text.replace("os_version", "os_versoin")
    try:
        (finding,) = marit.kits.put(
            text.replace("name: ovenbird-switch", "name: try-typo")
        ).findings
    finally:
        marit.kits.retire("try-typo")
    assert "answers os_versoin, which no desk of ovenbird asks" in finding.sentence
    assert finding.remedy == "Did you mean os_version?"


def test_what_a_kit_finds_answers_the_desk_s_question(
    marit: SealPacket, switch: PacketShown
) -> None:
    marit.packets.answer(switch.number, kind="sw_fault")
    collect(marit, switch.number, "ovenbird-switch")
    packet = marit.packets.wait(switch.number)
    found = next(one for one in packet.questions if one.id == "os_version")
    assert (found.answer.value, found.answer.source) == ("11.2.4", "kit ovenbird-switch")


def test_an_answer_that_does_not_fit_the_question_stays_open(
    marit: SealPacket, switch: PacketShown
) -> None:
    answers = "answers: [{question: kind, pattern: 'Release: (\\S+)'}]"
    marit.kits.put(
        kit("try-answer", f"id: a, what: x, ssh: print model, secret: console, {answers}")
    )
    try:
        run = collect(marit, switch.number, "try-answer")
    finally:
        marit.kits.retire("try-answer")
    assert run.outcomes[0].answers == {"kind": "11.2.4"}
    packet = marit.packets.get(switch.number)
    assert next(one for one in packet.questions if one.id == "kind").answer.value is None


def test_each_step_ends_by_itself_and_says_why(marit: SealPacket, switch: PacketShown) -> None:
    marit.kits.put(
        kit(
            "try-switch",
            "id: nothing, what: x, ssh: print nothing, secret: console",
            "id: hang, what: x, ssh: print hang, secret: console, time: 2 s",
            "id: flood, what: x, ssh: print flood, secret: console, size: 100 kB",
            "id: unknown, what: x, ssh: show elsewhere, secret: console",
            'id: here, what: x, run: ["uptime"]',
            'id: elsewhere, what: x, get: "https://{target}.elsewhere.example/"',
            "id: version, what: x, ssh: print model, secret: console",
        )
    )
    try:
        run = collect(marit, switch.number, "try-switch")
    finally:
        marit.kits.retire("try-switch")
    assert {one.step: one.state for one in run.outcomes} == {
        "nothing": "empty", "hang": "failed", "flood": "cut", "unknown": "failed", "here": "failed", "elsewhere": "failed", "version": "got",
    }  # fmt: skip
    why = {one.step: one.why for one in run.outcomes}
    assert "longer than 2 s" in why["hang"]
    assert "result code is 1" in why["unknown"]
    assert "on the machine itself" in why["here"]
    assert "asks no device" in why["elsewhere"]
    packet = marit.packets.wait(switch.number)
    assert {one.name: one.collected and one.collected.state for one in packet.exhibits} == {
        "flood.txt": "cut", "version.txt": "got",
    }  # fmt: skip
    again = [one.name for one in marit.kits.offered(switch.number)]
    assert again == ["ovenbird-switch"]


def test_the_same_kit_again_adds_files_under_names_of_their_own(
    marit: SealPacket, switch: PacketShown
) -> None:
    collect(marit, switch.number, "ovenbird-switch")
    collect(marit, switch.number, "ovenbird-switch")
    names = {one.name for one in marit.packets.get(switch.number).exhibits}
    assert {"switch.log", "switch-2.log", "version.txt", "version-2.txt"} <= names


def test_a_kit_that_changed_since_it_was_seen_is_not_run(
    marit: SealPacket, switch: PacketShown
) -> None:
    first = marit.kits.put(kit("try-seen", "id: a, what: x, ssh: print model, secret: console"))
    second = marit.kits.put(kit("try-seen", "id: b, what: x, ssh: print model, secret: console"))
    same = marit.kits.put(second.text)
    assert (first.number, second.number, same.number) == (1, 2, 2)
    try:
        with pytest.raises(Refused) as refused:
            marit.kits.collect(switch.number, "try-seen", 1)
        assert refused.value.code == "stale"
    finally:
        marit.kits.retire("try-seen")
    with pytest.raises(Refused) as gone:
        marit.kits.collect(switch.number, "try-seen", 2)
    assert gone.value.code == "not-found"


def test_what_hinders_the_worker_is_said_before(
    marit: SealPacket, inside: AppContext, switch: PacketShown
) -> None:
    known = marit.reach.get(world.SWITCH_SERIAL)
    way = {"port": known.port, "user": known.user, "host_key": known.host_key}

    def hindrance(**changed: Any) -> str:
        marit.reach.put(world.SWITCH_SERIAL, **{"target": "127.0.0.1", **way, **changed})
        one = marit.kits.offered(switch.number)[0]
        with pytest.raises(Refused) as refused:
            marit.kits.collect(switch.number, one.name, one.number)
        assert (refused.value.code, refused.value.facts["detail"]) == ("not-reached", one.hindrance)
        return one.hindrance

    try:
        assert "no secret console" in hindrance()
        good = {"secrets": {"console": "read-only"}}
        assert "host key" in hindrance(host_key="", **good)
        assert "outside the networks" in hindrance(target="10.40.6.2", **good)
        assert "not known by that name" in hindrance(target="no.such.host.invalid", **good)
        marit.reach.remove(world.SWITCH_SERIAL)
        assert "not known how" in marit.kits.offered(switch.number)[0].hindrance
    finally:
        marit.reach.put(world.SWITCH_SERIAL, "127.0.0.1", secrets={"console": "read-only"}, **way)
    inside.settings.devices.clear()
    assert "SEALPACKET_DEVICES" in reach.hindrance(inside, "127.0.0.1")


@pytest.mark.parametrize(
    ("changed", "code"),
    [
        ({"host_key": "ssh-ed25519 nonsense"}, "host-key"),
        ({"authority": "nonsense"}, "authority"),
        ({"target": "a b"}, "invalid"),
        ({"target": "http://host/"}, "invalid"),
        ({"secrets": {"console": "../etc"}}, "invalid"),
    ],
)
def test_a_reach_that_cannot_be_is_refused(
    marit: SealPacket, changed: dict[str, Any], code: str
) -> None:
    with pytest.raises(Refused) as refused:
        marit.reach.put("OBS4-551204", **{"target": "127.0.0.1", **changed})
    assert refused.value.code == code


def test_a_kit_that_changes_something_is_not_kept(marit: SealPacket) -> None:
    with pytest.raises(Refused) as refused:
        marit.kits.put(kit("try-bad", "id: a, what: x, ssh: reload now, secret: console"))
    assert refused.value.code == "kit-refused"


def test_the_vault_keeps_what_it_is_given_and_never_shows_it(
    marit: SealPacket, teo: SealPacket, house: RunningHouse
) -> None:
    marit.safe.keep("kw/console", "pearl-harbour-71", what="of the switch")
    marit.safe.keep("kw/console", "pearl-harbour-72", what="of the switch")
    shown = [one for one in marit.safe.list() if one.name == "kw/console"]
    assert [(one.what, one.by) for one in shown] == [("of the switch", "marit")]
    assert "pearl" not in repr(shown) + repr(marit.custody("secret kw/console"))
    with pytest.raises(Refused) as refused:
        teo.safe.list()
    assert refused.value.code == "not-allowed"
    marit.safe.remove("kw/console")
    assert "kw/console" not in {one.name for one in marit.safe.list()}
    for log in (house.folder / "log").iterdir():
        assert "pearl-harbour" not in log.read_text(errors="replace")


def test_what_was_collected_offline_is_added_with_its_answers(
    marit: SealPacket, tmp_path: Path
) -> None:
    packet = marit.packets.note("Cards are not read", asset=world.KIOSK_SERIAL)
    exhibit = add(marit, packet.number, tmp_path / "reader.txt", b"result E417\n").exhibits[0]
    assert exhibit.collected is None
    path = tmp_path / "lendd.log"
    path.write_bytes(b"2026-11-28T08:00:00Z br01-kiosk1 lendd[1]: card kept\n")
    by = {"kit": "lumenlathe-kiosk", "step": "lendd", "state": "got"}
    kept = marit.exhibits.add(packet.number, path, collected=by)
    assert kept.collected is not None
    assert json.loads(kept.collected.model_dump_json()) == by


def test_every_shipped_kit_reads_the_same_from_the_house(marit: SealPacket) -> None:
    for one in marit.kits.list():
        shown = marit.kits.get(one.name)
        assert read_kit(shown.text).name == one.name
        assert [step.id for step in shown.does] == [step.id for step in read_kit(shown.text).steps]


def test_a_run_that_was_interrupted_goes_on_where_it_was(
    marit: SealPacket, inside: AppContext, switch: PacketShown
) -> None:
    first = collect(marit, switch.number, "ovenbird-switch")
    marit.packets.wait(switch.number)
    before = {one.name for one in marit.packets.get(switch.number).exhibits}
    with inside.database.transaction() as session:
        run = session.get_one(KitRun, first.id)
        run.state, run.outcomes, run.ended_at = "running", run.outcomes[:2], None
    kit_runs.run(inside, first.id)
    packet = marit.packets.get(switch.number)
    assert {one.name for one in packet.exhibits} == before
    run_shown = packet.kit_runs[0]
    assert (run_shown.state, [one.state for one in run_shown.outcomes]) == ("done", ["got"] * 4)


def test_a_run_whose_device_is_reached_otherwise_now_is_not_begun(
    marit: SealPacket, inside: AppContext, switch: PacketShown
) -> None:
    first = collect(marit, switch.number, "ovenbird-switch")
    with inside.database.transaction() as session:
        run = session.get_one(KitRun, first.id)
        run.state, run.outcomes, run.target = "waiting", [], "10.40.6.2"
    kit_runs.run(inside, first.id)
    assert marit.packets.get(switch.number).kit_runs[0].reason == "It is reached another way now."
    kit_runs.give_up(inside, first.id)
    assert marit.packets.get(switch.number).kit_runs[0].reason == "It is reached another way now."
