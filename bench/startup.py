"""How long things take to start, in CPU seconds of this process's children; the least of several runs."""

from __future__ import annotations

import os
import subprocess
import sys
from typing import Any

from figures import figure

RUNS = 5
PYTHON = [sys.executable]
COMMAND = [sys.executable, "-m", "sealpacket.cli.main"]
FIND = "import sealpacket.cli.overview, sealpacket.client, sealpacket.client.models"
SERVICE = "import gc; gc.disable(); import sealpacket.web.app"
"""As `sealpacket-service serve` loads it."""


ENVIRONMENT = {
    name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"
}
"""Code is compiled once, as it is where the product is installed."""


def cpu(arguments: list[str]) -> float:
    """User and system time of the fastest of several runs."""
    taken = []
    for _ in range(RUNS):
        before = os.times()
        subprocess.run(arguments, check=True, capture_output=True, env=ENVIRONMENT)
        after = os.times()
        taken.append(
            after.children_user
            + after.children_system
            - before.children_user
            - before.children_system
        )
    return min(taken)


def figures() -> list[dict[str, Any]]:
    """All of them, measured one after the other."""
    plain = cpu([*PYTHON, "-c", "pass"])
    return [
        figure("start: python -c pass", plain, "s", None),
        figure(
            "start: sealpacket --version, times python",
            cpu([*COMMAND, "--version"]) / plain,
            "×",
            6,
        ),
        figure("start: sealpacket --help, times python", cpu([*COMMAND, "--help"]) / plain, "×", 6),
        figure("start: code of sealpacket find", cpu([*PYTHON, "-c", FIND]), "s", 0.6),
        figure("start: code of the service", cpu([*PYTHON, "-c", SERVICE]), "s", 1.5),
    ]
