"""sealpacket: the command line. Only the module of the command that was typed is loaded."""

from __future__ import annotations

import gc
import json
import os
import sys
import textwrap
from typing import Any

from sealpacket import __version__
from sealpacket.cli.commands import ABOUT, EXIT_CODES, GROUPS

_WIDTH, _NAMES = 100, 16
AWAY = 5
"""The exit code when the service cannot be reached."""


def run() -> None:
    """Run what was typed. A failure prints what happened and what to do, and ends with 1."""
    words = sys.argv[1:]
    if words == ["--version"]:
        print(f"sealpacket {__version__}")
    elif words in ([], ["--help"]) and "_SEALPACKET_COMPLETE" not in os.environ:
        print(help_text())
        sys.exit(0 if words else 2)
    else:
        _run(*words[:2])


def help_text() -> str:
    """All commands, each with a line of help."""
    parts = ["Usage: sealpacket [OPTIONS] COMMAND [ARGS]...", textwrap.fill(ABOUT, _WIDTH)]
    for title, commands in GROUPS:
        lines = [
            textwrap.fill(
                one.help,
                _WIDTH,
                initial_indent=f"  {one.name:{_NAMES}}",
                subsequent_indent=" " * (_NAMES + 2),
            )
            for one in commands
        ]
        parts.append("\n".join([f"{title}:", *lines]))
    parts.append(
        "`sealpacket COMMAND --help` says more. `sealpacket --version` prints the version."
    )
    parts.append(textwrap.fill(EXIT_CODES, _WIDTH))
    return "\n\n".join(parts)


def _run(name: str = "", part: str = "") -> None:
    gc.set_threshold(50_000)  # loading code makes many objects and no garbage
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # looking for them takes a while
    from sealpacket.cli.program import build
    from sealpacket.client import ClientError, NoService
    from sealpacket.core.errors import ProblemError

    try:
        build(name, part)()
    except (ClientError, ProblemError) as error:
        _say(error)
        raise SystemExit(AWAY if isinstance(error, NoService) else 1) from error
    except ModuleNotFoundError as error:
        if (error.name or "").startswith("sealpacket."):
            raise
        print(f"This command needs {error.name}, which is not installed.", file=sys.stderr)
        print("Install the offline engine with it: pip install sealpacket[redact]", file=sys.stderr)
        raise SystemExit(1) from error
    except KeyboardInterrupt:
        sys.exit(130)


def _say(error: Any) -> None:
    """Print what happened and what to do; as JSON where JSON is asked for."""
    from sealpacket.cli.show import errors

    words = sys.argv[1:]
    if "--json" in (words[: words.index("--")] if "--" in words else words):
        body = {**getattr(error, "facts", {}), "detail": error.detail, "remedy": error.remedy}
        body["code"] = getattr(error, "code", "")
        print(json.dumps(body, ensure_ascii=False, default=str), file=sys.stderr)
        return
    errors().print(error.detail, style="bold red")
    errors().print(error.remedy)


if __name__ == "__main__":
    run()
