"""The table of commands, which is shown without loading any of them, against the commands themselves."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
import typer.main
from typer.testing import CliRunner

from sealpacket.cli import show
from sealpacket.cli.commands import COMMANDS
from sealpacket.cli.main import help_text
from sealpacket.cli.packet_app import JOURNEY
from sealpacket.cli.program import build
from sealpacket.service import cli as service

ROOT = Path(__file__).parents[2]


@pytest.mark.parametrize("name", COMMANDS)
def test_each_command_of_the_table_is_there(name: str) -> None:
    done = CliRunner().invoke(build(name), [name, "--help"])
    assert (done.exit_code, f"sealpacket {name}" in done.output or f" {name} " in done.output) == (
        0,
        True,
    )


def test_the_commands_about_packets_are_listed_by_their_journey() -> None:
    shown = CliRunner().invoke(build("packet"), ["packet", "--help"]).output
    places = [shown.index(part.partition(" (")[0]) for part in JOURNEY]
    assert places == sorted(places)
    listed = [line.split()[1] for line in shown.splitlines() if re.match(r"│ [a-z-]+ +[A-Z]", line)]
    assert listed == [name for names in JOURNEY.values() for name in names]


def test_the_help_names_every_command_and_no_other() -> None:
    known = set(getattr(typer.main.get_command(build()), "commands", {}))
    assert known == set(COMMANDS)
    shown = {line.split()[0] for line in help_text().splitlines() if line.startswith("  ")}
    assert shown == known


def test_help_and_version_load_no_command() -> None:
    program = (
        "import sys; sys.argv = ['sealpacket', sys.argv[1]]\n"
        "from sealpacket.cli.main import run\n"
        "try:\n    run()\nexcept SystemExit:\n    pass\n"
        "print(sorted({'typer', 'pydantic', 'rich', 'httpx'} & set(sys.modules)))\n"
    )
    for option in ("--help", "--version"):
        done = subprocess.run(
            [sys.executable, "-c", program, option], capture_output=True, text=True, check=True
        )
        assert done.stdout.splitlines()[-1] == "[]"


NAMED = re.compile(r"(?<![\w/.'-])(sealpacket(?:-service)?) ([a-z][a-z_-]*)(?: ([a-z][a-z_-]*))?")


def words_of_the_project() -> Iterator[tuple[str, str]]:
    """Every text in which a person may read the name of a command, with where it stands."""
    for path in [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]:
        yield path.name, path.read_text("utf-8")
    for path in (ROOT / "src").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                yield f"{path.name}:{node.lineno}", node.value


def test_each_command_that_a_text_names_is_there() -> None:
    programs = {
        "sealpacket": typer.main.get_command(build()),
        "sealpacket-service": typer.main.get_command(service),
    }
    found = [
        (place, match) for place, text in words_of_the_project() for match in NAMED.finditer(text)
    ]
    wrong = []
    for place, match in found:
        command = getattr(programs[match[1]], "commands", {}).get(match[2])
        below = getattr(command, "commands", None)
        if command is None or (below is not None and match[3] and match[3] not in below):
            wrong.append((place, match[0]))
    assert wrong == []
    assert len(found) > 100


def test_a_word_that_is_no_command_is_answered_with_the_nearest() -> None:
    done = CliRunner().invoke(build("fnd"), ["fnd", "array"])
    assert done.exit_code == 2
    assert "Did you mean 'find'" in done.output


def test_a_place_in_a_file_is_printed_as_it_is(capsys: pytest.CaptureFixture[str]) -> None:
    """`:100:` is a picture to whoever reads it as one, and brackets are styles."""
    for show_it in (show.line, show.heading):
        show_it("a.yaml:100:16: [red]stop[/] :smile:")
        assert "a.yaml:100:16: [red]stop[/] :smile:" in capsys.readouterr().out
    show.table(("What",), [("a.yaml:100:16: [red]",)], nothing="")
    assert "a.yaml:100:16: [red]" in capsys.readouterr().out
