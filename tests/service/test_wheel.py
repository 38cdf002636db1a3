"""The wheel, as a stranger installs it: only the client and the command line, in an empty environment."""

from __future__ import annotations

import shutil
import subprocess
import sys
import sysconfig
from pathlib import Path

import pytest

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import ROOT
from tests.wheels import install

pytestmark = pytest.mark.timeout(600)  # a compiler runs


@pytest.fixture(scope="module")
def program(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The command of the installed wheel. Its dependencies are those that are here already, but no others."""
    folder = tmp_path_factory.mktemp("wheel")
    source = folder / "source"
    ignored = shutil.ignore_patterns("__pycache__", "*.so", "*.egg-info")
    shutil.copytree(ROOT / "src", source / "src", ignore=ignored)
    shutil.copytree(ROOT / "requirements", source / "requirements")
    for name in ("pyproject.toml", "setup.py", "README.md"):
        shutil.copy(ROOT / name, source)
    # The native parts were compiled by the set-up, with the same setup.py: they are not compiled a second time.
    library = f"build/lib.{sysconfig.get_platform()}-{sys.implementation.cache_tag}"
    for native in (ROOT / "src").rglob("_native.*.so"):
        built = source / library / native.relative_to(ROOT / "src")
        built.parent.mkdir(parents=True)
        shutil.copy2(native, built)
    lines = (ROOT / "requirements/client.in").read_text().splitlines()
    needs = [line.partition("#")[0] for line in lines]
    return install(folder, source, needs).with_name("sealpacket")


def run(program: Path, *words: str) -> str:
    environment = {"PATH": "/usr/bin:/bin", "HOME": str(program.parent), "PYTHONPATH": ""}
    done = subprocess.run(
        [str(program), *words], capture_output=True, text=True, env=environment, check=False
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_it_says_its_version_and_its_commands(program: Path) -> None:
    assert run(program, "--version").startswith("sealpacket 0.")
    assert "Verify a sealed bag, offline." in run(program, "--help")


def test_it_verifies_a_bag(
    program: Path, marit: SealPacket, sealed: PacketShown, tmp_path: Path
) -> None:
    bag, keys = tmp_path / "bag.zip", tmp_path / "keys.jwks"
    marit.packets.fetch_bag(sealed.number, bag)
    keys.write_text(marit.seal_keys().model_dump_json())
    assert f"{sealed.number} is whole" in run(program, "verify", str(bag), "--key", str(keys))


def test_what_needs_more_says_how_to_get_it(program: Path, tmp_path: Path) -> None:
    (tmp_path / "a.log").write_text("x\n")
    environment = {"PATH": "/usr/bin:/bin", "HOME": str(tmp_path)}
    words = ["redact", str(tmp_path / "a.log"), "--out", str(tmp_path / "out")]
    done = subprocess.run(
        [str(program), *words], capture_output=True, text=True, env=environment, check=False
    )
    assert done.returncode == 1
    assert "pip install sealpacket[redact]" in done.stderr
