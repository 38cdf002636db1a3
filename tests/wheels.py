"""A package of ours as a wheel, in an environment of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import venv
from collections.abc import Sequence
from importlib.metadata import distribution
from pathlib import Path

from packaging.requirements import Requirement


def install(folder: Path, source: Path, needs: Sequence[str], **variables: str) -> Path:
    """Build the package in `source`, install it below `folder`, and give the Python of that environment.

    Its dependencies, by the requirements `needs`, are those that are here already, but no others.
    """
    environment = {name: value for name, value in os.environ.items() if name != "PYTHONPATH"}
    environment |= variables
    pip = [sys.executable, "-m", "pip", "--disable-pip-version-check", "--quiet"]
    subprocess.run(
        [*pip, "wheel", "--no-deps", "--no-build-isolation", "--wheel-dir", str(folder), str(source)],
        check=True, env=environment, capture_output=True, timeout=500,
    )  # fmt: skip
    venv.create(folder / "env", with_pip=False)
    python = folder / "env/bin/python"
    (wheel,) = folder.glob("sealpacket*.whl")
    site = next((folder / "env/lib").glob("python*/site-packages"))
    command = [*pip, "--python", str(python), "install", "--no-deps", "--no-index", str(wheel)]
    subprocess.run(command, check=True, capture_output=True, env=environment)
    _bring_along(site, [Requirement(line).name for line in needs])
    return python


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
