"""The wheel, as a stranger installs it: only the client and the command line, in an empty environment."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import sysconfig
import venv
from importlib.metadata import distribution
from pathlib import Path

import pytest
from packaging.requirements import Requirement

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import ROOT

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
    environment = {name: value for name, value in os.environ.items() if name != "PYTHONPATH"}
    pip = [sys.executable, "-m", "pip", "--disable-pip-version-check", "--quiet"]
    subprocess.run(
        [*pip, "wheel", "--no-deps", "--no-build-isolation", "--wheel-dir", str(folder), str(source)],
        check=True, env=environment, capture_output=True, timeout=500,
    )  # fmt: skip
    venv.create(folder / "env", with_pip=False)
    python = folder / "env/bin/python"
    (wheel,) = folder.glob("sealpacket-*.whl")
    site = next((folder / "env/lib").glob("python*/site-packages"))
    command = [*pip, "--python", str(python), "install", "--no-deps", "--no-index", str(wheel)]
    subprocess.run(command, check=True, capture_output=True, env=environment)
    lines = (ROOT / "requirements/client.in").read_text().splitlines()
    _bring_along(site, [Requirement(line.partition("#")[0]).name for line in lines])
    return folder / "env/bin/sealpacket"


def _bring_along(site: Path, names: list[str]) -> None:
    """What the bare package names, and what that needs in turn, from this environment."""
    wanted, done = list(names), set[str]()
    while wanted:
        found = distribution(wanted.pop())
        if found.name in done:
            continue
        done.add(found.name)
        for file in found.files or ():
            top = file.parts[0]
            source = Path(str(found.locate_file(top)))
            if (
                top not in ("..", "bin", "__pycache__")
                and source.exists()
                and not (site / top).exists()
            ):
                (site / top).symlink_to(source)
        needs = (Requirement(need) for need in found.requires or ())
        wanted += [
            need.name
            for need in needs
            if need.marker is None or need.marker.evaluate({"extra": ""})
        ]


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
