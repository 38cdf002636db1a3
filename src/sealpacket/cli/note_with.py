"""Starting a note with pictures, or with a program's context."""

from __future__ import annotations

import json
import os
import shlex
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from typing import Any

from sealpacket.client import ClientError

COMMAND = "SEALPACKET_SCREENSHOT"
_ENDINGS = {b"\x89PNG": ".png", b"\xff\xd8\xff": ".jpg", b"RIFF": ".webp", b"BM": ".bmp"}
_LARGEST, _SECONDS = 50_000_000, 60


@contextmanager
def taken_pictures(given: Sequence[str]) -> Iterator[list[Path]]:
    """The pictures that are meant, as files: each a file, `-` for standard input, or `now` to take one."""
    with tempfile.TemporaryDirectory(prefix="sealpacket-") as folder:
        yield [_picture(one, Path(folder), place) for place, one in enumerate(given, 1)]


def _picture(given: str, folder: Path, place: int) -> Path:
    if given == "-":
        return _kept(sys.stdin.buffer.read(_LARGEST + 1), folder, place)
    if given == "now":
        return _kept(_taken(), folder, place)
    path = Path(given)
    if not path.is_file():
        raise ClientError(f"There is no file {given}.", "Name a picture, - or now.")
    return path


def _taken() -> bytes:
    """A picture of the screen, by the configured command."""
    command = shlex.split(os.environ.get(COMMAND, ""))
    if not command:
        raise ClientError(
            "No command is set that takes a picture of the screen.",
            f"Set {COMMAND} to one that writes it to standard output.",
        )
    try:
        done = subprocess.run(command, capture_output=True, timeout=_SECONDS, check=False)
    except (OSError, subprocess.TimeoutExpired) as error:
        raise ClientError(
            f"{command[0]} could not take a picture: {type(error).__name__}.", f"Check {COMMAND}."
        ) from error
    if done.returncode:
        raise ClientError(
            f"{command[0]} ended with {done.returncode}.", f"Try it by itself, and check {COMMAND}."
        )
    return done.stdout


def _kept(content: bytes, folder: Path, place: int) -> Path:
    ending = next((e for sign, e in _ENDINGS.items() if content.startswith(sign)), "")
    if not ending or len(content) > _LARGEST:
        raise ClientError(
            "What came is no picture." if content else "No picture came.",
            "Give a PNG, JPEG, WebP or BMP of at most 50 MB.",
        )
    now = datetime.now().astimezone()
    more = f"-{place}" if place > 1 else ""
    path = folder / f"screen-{now:%Y%m%d-%H%M%S}{more}{ending}"
    path.write_bytes(content)
    return path


def read_context(path: Path) -> dict[str, Any]:
    """Read a program's context from a JSON file. Raises ClientError."""
    try:
        found = json.loads(path.read_text("utf-8"))
    except (ValueError, RecursionError) as error:
        raise ClientError(f"{path} is no JSON.", "See program-context.schema.json.") from error
    if not isinstance(found, dict):
        raise ClientError(f"{path} is no JSON object.", "See program-context.schema.json.")
    return found
