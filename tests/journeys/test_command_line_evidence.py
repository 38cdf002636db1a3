"""Kits, secrets, devices, and notes that begin with a picture, on the command line."""

from __future__ import annotations

import json
import os
import shlex
import sys
from dataclasses import replace
from pathlib import Path

import pytest

from sealpacket.client import SealPacket
from sealpacket.demo import world
from sealpacket.demo.house import RunningHouse
from tests.journeys.terminal import Terminal

pytestmark = pytest.mark.usefixtures("devices")

PICTURE = bytes.fromhex(
    "89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c4890000000d49444154789c6364f8cf500f00038601805a347d6b"
    "0000000049454e44ae426082"
)


def test_a_kit_is_offered_and_collects(shell: Terminal, tmp_path: Path) -> None:
    number = shell.json("packet", "note", "Ports flap", "--asset", world.SWITCH_SERIAL)["number"]
    offered = shell.run("kit", "offered", number)
    assert "on 127.0.0.1 by SSH: print full report" in offered
    assert "ovenbird-switch" in shell.run("kit", "list")
    assert "say --yes" in shell.run("kit", "collect", number, "ovenbird-switch", code=1)
    collected = shell.run("kit", "collect", number, "ovenbird-switch", "--yes")
    assert collected.count(" got ") == 4
    assert "switch.log" in shell.run("exhibit", "list", number)
    kept = tmp_path / "kit.yaml"
    kept.write_text(shell.run("kit", "get", "ovenbird-switch"))
    assert "version 1" in shell.run("kit", "put", str(kept))


def test_what_a_machine_collected_by_itself_is_attached_later(
    shell: Terminal, tmp_path: Path
) -> None:
    (tmp_path / "lendd.log").write_text("2026-11-28T08:00:00Z br01-kiosk2 lendd[1]: kept\n")
    (tmp_path / "reader.txt").write_text("result E417\n")
    kit = tmp_path / "kiosk.yaml"
    kit.write_text(
        "kit: 1\nname: own\ntitle: On the kiosk itself\nsteps:\n"
        f"  - {{id: lendd, what: log, files: ['{tmp_path}/lendd.log']}}\n"
        f"  - {{id: reader, what: reader, files: ['{tmp_path}/reader.txt'],\n"
        '     answers: [{question: error_code, pattern: "result (E\\\\d{3})"}]}\n'
        "  - {id: gone, what: nothing, files: ['/nowhere/*'], optional: true}\n"
    )
    out = tmp_path / "out"
    shell.run("kit", "run", str(kit), "--out", str(out), "--yes")
    number = shell.json("packet", "note", "Cards", "--asset", world.KIOSK_SERIAL)["number"]
    assert "It answers error_code: E417" in shell.run("kit", "attach", number, str(out))
    packet = shell.json("packet", "show", number)
    assert {one["name"]: one["collected"]["step"] for one in packet["exhibits"]} == {
        "lendd.log": "lendd", "reader.txt": "reader",
    }  # fmt: skip
    assert "was not made by" in shell.run("kit", "attach", number, str(tmp_path), code=1)
    manifest = out / "kit.json"
    manifest.write_text(manifest.read_text().replace('"E417"', '"E0417"'))
    another = shell.json("packet", "note", "Cards", "--asset", world.KIOSK_SERIAL)["number"]
    said = " ".join(shell.run("kit", "attach", another, str(out)).split())
    assert "error_code stays open; it was found to be E0417." in said
    asked = {one["id"]: one["answer"] for one in shell.json("packet", "show", another)["questions"]}
    assert not asked["error_code"]["typed"]


def test_a_device_is_reached_with_a_secret_that_is_never_shown(
    shell: Terminal, house: RunningHouse, tmp_path: Path
) -> None:
    value = tmp_path / "value"
    value.write_text("gannet-71\n")
    shell.run("safe", "keep", "try/token", "--what", "a try", "--file", str(value))
    listed = shell.run("safe", "list")
    assert "try/token" in listed
    assert "gannet" not in listed
    key = house.folder / "standins/devices/host_key.pub"
    shown = shell.run("asset", "reach", "OBS4-551209", "--target", "10.40.6.9", "--host-key", str(key),
                      "--secret", "console=try/token")  # fmt: skip
    assert "SHA256:" in shown
    assert "10.40.6.9" in shell.run("asset", "reach", "OBS4-551209")
    shell.run("asset", "reach", "OBS4-551209", "--forget")
    assert "not known how" in shell.run("asset", "reach", "OBS4-551209", code=1)
    shell.run("safe", "remove", "try/token")


def test_a_note_begins_with_a_picture(shell: Terminal, marit: SealPacket, tmp_path: Path) -> None:
    picture = tmp_path / "screen.png"
    picture.write_bytes(PICTURE)
    taken = shlex.join([sys.executable, "-c", f"import sys; sys.stdout.buffer.write({PICTURE!r})"])
    taking = replace(shell, environment={"SEALPACKET_SCREENSHOT": taken})
    noted = taking.json("packet", "note", "It shows this", "--ticket", "IT-40711", "--screenshot", str(picture),
                       "--screenshot", "now")  # fmt: skip
    packet = marit.packets.wait(noted["number"])
    names = sorted(one.name for one in packet.exhibits)
    assert names[-1] == "screen.png"
    assert names[0].startswith("screen-20")
    assert packet.ticket == "IT-40711"
    wrong = shlex.join([sys.executable, "-c", "print('x')"])
    failing = replace(shell, environment={"SEALPACKET_SCREENSHOT": wrong})
    said = failing.run("packet", "note", "It shows this", "--screenshot", "now", code=1)
    assert "no picture" in said
    assert "SEALPACKET_SCREENSHOT" in shell.run("packet", "note", "Once more", "--screenshot", "now", code=1)  # fmt: skip
    assert "There is no file" in shell.run("packet", "note", "Once more", "--screenshot", "nothing.png", code=1)  # fmt: skip
    assert [one.title for one in marit.packets.list(query="Once more")] == []


def test_a_note_begins_with_what_a_program_tells(shell: Terminal, tmp_path: Path) -> None:
    told = tmp_path / "told.json"
    told.write_text(
        json.dumps(
            {"message": {"code": "LN-0417", "text": "not kept"}, "thing": {"host": "br01-kiosk2"}}
        )
    )
    noted = shell.json("packet", "note", "--context", str(told), "--text", "Every second card.")
    assert noted["title"] == "LN-0417 not kept"
    assert noted["asset"]["serial"] == "LK40-7731-0927"
    told.write_text("{")
    assert "is no JSON" in shell.run("packet", "note", "--context", str(told), code=1)


def test_what_was_tried_is_shown_around_a_thing(shell: Terminal) -> None:
    number = shell.json("packet", "note", "Dark", "--asset", "LK40-7731-0935")["number"]
    shell.run("packet", "tried", number, "Switched it off and on", "--result", "It stays dark")
    around = shell.run("asset", "context", "LK40-7731-0935")
    assert "Switched it off and on: It stays dark (marit)" in around
    assert number in around


def test_an_exhibit_is_attached_and_originals_are_deleted(shell: Terminal, tmp_path: Path) -> None:
    numbers = [
        shell.json("packet", "note", f"Array {n}", "--asset", "TN9-44120-A")["number"] for n in "12"
    ]
    log = tmp_path / "c.log"
    log.write_text(f"2026-11-28T08:00:00Z c0 {os.urandom(4).hex()}\n")
    shell.run("exhibit", "add", numbers[0], str(log))
    assert "ready" in shell.run("exhibit", "attach", numbers[1], "c.log", "--from", numbers[0])
    shell.run("packet", "withdraw", numbers[0], "--reason", "one is enough")
    said = shell.run("exhibit", "delete-originals", numbers[0], "--reason", "no need")
    assert "1 original of" in said
    assert "1 stay" in said
