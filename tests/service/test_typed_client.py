"""The client by itself: a package without a compiler, typed, and tolerant of a newer service."""

from __future__ import annotations

import json
import os
import re
import shutil
import subprocess
import sys
import tomllib
from pathlib import Path
from typing import Any

import pytest

from sealpacket.client import SealPacket, models
from sealpacket.client.models import PacketShown
from tests.conftest import ROOT, token_of
from tests.wheels import install


@pytest.fixture(scope="module")
def python(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An environment with the package of the client and what it needs; no compiler was there."""
    folder = tmp_path_factory.mktemp("client")
    ignored = shutil.ignore_patterns("__pycache__", "*.so", "*.egg-info", "build")
    shutil.copytree(ROOT / "client", folder / "client", ignore=ignored)
    shutil.copytree(
        ROOT / "src/sealpacket/client", folder / "src/sealpacket/client", ignore=ignored
    )
    made = install(folder, folder / "client", dependencies(), CC="/bin/false", CXX="/bin/false")
    (built,) = folder.glob("*.whl")
    assert built.name.endswith("-py3-none-any.whl")
    return made


def dependencies() -> list[str]:
    project = tomllib.loads((ROOT / "client/pyproject.toml").read_text())["project"]
    assert (
        project["version"]
        == tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"]
    )
    return list(project["dependencies"])


def test_the_package_works_by_itself(python: Path, marit: SealPacket, tmp_path: Path) -> None:
    program = tmp_path / "alert.py"
    program.write_text(
        "import sys\n"
        "from sealpacket.client import SealPacket\n"
        "with SealPacket(sys.argv[1], sys.argv[2]) as client:\n"
        "    packet = client.packets.note('The array is slow', our_reference='ALERT-package')\n"
        "    print(packet.number, packet.life)\n"
        "assert 'sealpacket.core' not in sys.modules and 'typer' not in sys.modules\n"
    )
    token = token_of(marit)
    environment = {name: value for name, value in os.environ.items() if name != "PYTHONPATH"}
    done = subprocess.run(
        [python, program, marit._wire.address, token],
        check=True, capture_output=True, text=True, env=environment,
    )  # fmt: skip
    number, life = done.stdout.split()
    assert life == "drafting"
    assert marit.packets.get(number).our_reference == "ALERT-package"


def example(name: str) -> dict[str, Any]:
    document = json.loads((ROOT / "docs/reference/openapi.json").read_text())
    found: dict[str, Any] = document["components"]["examples"][name]["value"]
    return found


def test_what_only_a_newer_service_knows_is_taken_as_it_is() -> None:
    newer = {**example("PacketShown"), "life": "paused", "turn": "nobody", "mood": "well"}
    packet = PacketShown.model_validate(newer)
    assert (packet.life, packet.turn) == ("paused", "nobody")
    with pytest.raises(ValueError, match="life"):
        PacketShown.model_validate({**newer, "life": 7})


def test_every_answer_of_the_reference_is_understood() -> None:
    document = json.loads((ROOT / "docs/reference/openapi.json").read_text())
    for name, one in document["components"]["examples"].items():
        if hasattr(models, name):
            getattr(models, name).model_validate(one["value"])


def test_a_type_checker_holds_what_is_given_and_got(tmp_path: Path) -> None:
    (tmp_path / "right.py").write_text(
        "from datetime import date\n"
        "from sealpacket.client import SealPacket\n"
        "def work(client: SealPacket) -> str:\n"
        "    asset = client.assets.add(vendor='tarnfell', product='TN9', serial='T-1')\n"
        "    client.assets.change(asset.id, asset.version, site=None, installed_on=date(2026, 1, 1))\n"
        "    name: str = asset.name\n"
        "    return name + client.packets.get('P-0001').checks[0].remedy\n"
    )
    wrong = {
        "assets.add(vendr='tarnfell')": "vendr",
        "assets.change('a', 1, vendor=None)": "vendor",
        "assets.list(sitee='moon')": "sitee",
        "packets.change('P-0001', titel='x')": "titel",
        "accounts.change('teo', roles=['king'])": "king",
        "kits.nothing()": "nothing",
    }
    (tmp_path / "wrong.py").write_text(
        "from sealpacket.client import SealPacket\ndef work(client: SealPacket) -> None:\n"
        + "".join(f"    client.{call}\n" for call in wrong)
    )
    command = [sys.executable, "-m", "mypy", "--strict", "--config-file", os.devnull]
    environment = {**os.environ, "MYPYPATH": str(ROOT / "src")}
    checked = subprocess.run(
        [*command, "--cache-dir", str(tmp_path / "cache"), "right.py", "wrong.py"],
        capture_output=True, text=True, cwd=tmp_path, env=environment, check=False,
    )  # fmt: skip
    mine = [
        line
        for line in checked.stdout.splitlines()
        if re.match(r"(right|wrong)\.py:\d+: error", line)
    ]
    assert not [line for line in mine if line.startswith("right")], checked.stdout
    assert {int(line.split(":")[1]) for line in mine} == set(range(3, 3 + len(wrong)))
