"""A terminal in which sealpacket is run as someone would type it."""

from __future__ import annotations

import atexit
import json
import os
import subprocess
import sys
import tempfile
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any

BINARY = Path(sys.executable).with_name("sealpacket")
_LOOKS = {"COLUMNS": "160", "NO_COLOR": "1"}

_READY = """
import json, os, sys
import sealpacket.client.client
from sealpacket.cli import main
from sealpacket.cli.program import build

build()

for line in sys.stdin:
    wish = json.loads(line)
    child = os.fork()
    if child == 0:
        os.environ.update(wish["environment"])
        for number, name in enumerate(("in", "out", "err")):
            os.dup2(os.open(wish[name], os.O_RDONLY if name == "in" else os.O_WRONLY), number)
        sys.stdin, sys.stdout, sys.stderr = open(0), open(1, "w"), open(2, "w")
        sys.argv = ["sealpacket", *wish["arguments"]]
        code = 0
        try:
            main.run()
        except SystemExit as end:
            code = end.code if isinstance(end.code, int) else 0 if end.code is None else 1
        except BaseException:
            import traceback
            traceback.print_exc()
            code = 99
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(code)
    print(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), flush=True)
"""


@cache
def _ready() -> subprocess.Popen[str]:
    """A process that has read the program already, and forks for each command: reading it takes most of a second."""
    process = subprocess.Popen(
        [sys.executable, "-c", _READY], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
        env={**os.environ, **_LOOKS},
    )  # fmt: skip
    atexit.register(process.kill)
    return process


@dataclass
class Terminal:
    """Runs sealpacket with a config folder of its own, each command in a process of its own."""

    folder: Path
    environment: dict[str, str] = field(default_factory=dict)

    def run(self, *arguments: str, code: int = 0, stdin: str | None = None) -> str:
        """What came back; the exit code has to be `code`."""
        process = _ready()
        assert process.stdin is not None and process.stdout is not None
        with tempfile.TemporaryDirectory() as name:
            paths = {key: Path(name, key) for key in ("in", "out", "err")}
            for path in paths.values():
                path.touch()
            paths["in"].write_text(stdin or "")
            environment = {"SEALPACKET_CONFIG": str(self.folder), **self.environment}
            wish = {"arguments": arguments, "environment": environment}
            process.stdin.write(
                json.dumps({**wish, **{key: str(path) for key, path in paths.items()}}) + "\n"
            )
            process.stdin.flush()
            ended = int(process.stdout.readline())
            out, err = paths["out"].read_text(), paths["err"].read_text()
        assert ended == code, f"{arguments}: {ended}\n{out}\n{err}"
        assert "Traceback" not in err
        return out + err

    def json(self, *arguments: str, code: int = 0) -> Any:
        """The same with --json, parsed."""
        return json.loads(self.run(*arguments, "--json", code=code))
