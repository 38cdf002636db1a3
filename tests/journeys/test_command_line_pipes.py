"""The command line in a pipe: JSON and silence where asked for, standard input, exit codes, whole lists."""

from __future__ import annotations

import json
import os
import subprocess
from pathlib import Path

import pytest

from sealpacket.cli.commands import COMMANDS
from sealpacket.cli.program import build
from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import ARRAY
from tests.journeys.terminal import BINARY, Terminal


def test_acts_print_the_record_as_json(shell: Terminal, marit: SealPacket, tmp_path: Path) -> None:
    number = shell.json("packet", "note", "The array is slow", "--asset", ARRAY)["number"]
    answered = shell.json("packet", "answer", number, "category=volume/latency")
    assert answered["number"] == number
    stopped = shell.json("packet", "seal", number, code=3)
    assert stopped["life"] == "drafting"
    log = tmp_path / "array.log"
    log.write_text("all is well\n")
    added = shell.json("exhibit", "add", number, str(log))
    assert [one["name"] for one in added["exhibits"]] == ["array.log"]
    assert shell.json("safe", "keep", "pipe/secret", "--file", str(log))["name"] == "pipe/secret"
    assert shell.json("safe", "remove", "pipe/secret") == {"done": True}
    assert (
        shell.json("packet", "withdraw", number, "--reason", "It was the cable.")["life"]
        == "withdrawn"
    )


def test_quiet_prints_nothing_but_faults(shell: Terminal) -> None:
    assert shell.run("packet", "note", "The array is slow", "--quiet") == ""
    assert "P-9999" in shell.run("packet", "show", "P-9999", "--quiet", code=1)


def test_faults_are_json_where_json_is_asked_for(shell: Terminal) -> None:
    fault = json.loads(shell.run("packet", "show", "P-9999", "--json", code=1))
    assert (fault["code"], fault["status"]) == ("not-found", 404)
    assert fault["detail"].startswith("There is no packet P-9999")
    assert fault["remedy"]


def test_a_service_that_is_away_has_an_exit_code_of_its_own(tmp_path: Path) -> None:
    lost = Terminal(
        tmp_path, {"SEALPACKET_ADDRESS": "http://127.0.0.1:1", "SEALPACKET_TOKEN": "spk_none"}
    )
    assert "cannot be reached" in lost.run("packet", "list", code=5)
    assert "cannot be reached" in json.loads(lost.run("packet", "list", "--json", code=5))["detail"]


def test_a_dash_is_standard_input(shell: Terminal, noted: PacketShown) -> None:
    shell.run("exhibit", "add", noted.number, "-", "--name", "piped.log", stdin="all is well\n")
    shown = shell.json("packet", "show", noted.number)
    assert [one["name"] for one in shown["exhibits"]] == ["piped.log"]
    shell.run("packet", "change", noted.number, "--text", "-", stdin="Slow\nsince nine.\n")
    assert shell.json("packet", "show", noted.number)["note"] == "Slow\nsince nine."
    assert "1 line" in shell.run("log", "summary", "-", stdin="2026-11-23 08:40:00 up\n")


def test_what_is_piped_is_neither_wrapped_nor_cut(shell: Terminal, marit: SealPacket) -> None:
    title = "The array loses a drive shelf " + "and another one " * 9
    number = marit.packets.note(title.strip()).number
    environment = {
        name: value for name, value in os.environ.items() if name not in ("COLUMNS", "NO_COLOR")
    }
    environment |= {"SEALPACKET_CONFIG": str(shell.folder), **shell.environment}
    listed = subprocess.run(
        [BINARY, "packet", "list", "--query", "another one"],
        capture_output=True, text=True, check=True, env=environment,
    ).stdout  # fmt: skip
    (line,) = (line for line in listed.splitlines() if number in line)
    assert title.strip() in line
    assets = shell.json("asset", "list")
    assert len(assets) == len(list(marit.assets.list()))


@pytest.mark.parametrize("name", sorted(COMMANDS))
def test_every_command_has_both_options(name: str) -> None:
    for one in build(name).registered_groups:
        assert one.typer_instance is not None
        for command in one.typer_instance.registered_commands:
            assert hasattr(command.callback, "is_everywhere"), command.name
    for command in build(name).registered_commands:
        assert hasattr(command.callback, "is_everywhere"), command.name
