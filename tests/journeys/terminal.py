"""A terminal in which sealpacket is run as someone would type it."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path
from typing import Any

BINARY = Path(sys.executable).with_name("sealpacket")


@dataclass
class Terminal:
    """Runs sealpacket with a config folder of its own."""

    folder: Path

    def run(self, *arguments: str, code: int = 0, stdin: str | None = None) -> str:
        """What came back; the exit code has to be `code`."""
        done = subprocess.run(
            [str(BINARY), *arguments],
            env={**os.environ, "SEALPACKET_CONFIG": str(self.folder), "COLUMNS": "160", "NO_COLOR": "1"},
            input=stdin, text=True, capture_output=True, check=False,
        )  # fmt: skip
        assert done.returncode == code, f"{arguments}: {done.returncode}\n{done.stdout}\n{done.stderr}"
        assert "Traceback" not in done.stderr
        return done.stdout + done.stderr

    def json(self, *arguments: str, code: int = 0) -> Any:
        """The same with --json, parsed."""
        return json.loads(self.run(*arguments, "--json", code=code))
