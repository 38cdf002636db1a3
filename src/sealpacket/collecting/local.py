"""Commands and files of this machine."""

from __future__ import annotations

import glob
import os
import select
import shutil
import signal
import stat
import subprocess
import time
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path

from sealpacket.collecting.access import StepFailed, too_late
from sealpacket.core.evidence.kits import Step, holds_secrets
from sealpacket.core.evidence.kits.programs import SHARED, base_name, verdict_on

MOST_FILES = 200
_BLOCK = 1 << 16


def run(step: Step, file: Path) -> tuple[int, bool]:
    """Run a command, and keep what it says; gives its result code, and whether it was cut at the limit.

    No shell, nothing to read, a plain environment. Ends it with its children after the time. Raises StepFailed.
    """
    _need_itself(step)
    end = time.monotonic() + step.time.total_seconds()
    environment = {
        "PATH": os.environ.get("PATH", os.defpath),
        "LANG": "C.UTF-8",
        "HOME": "/nonexistent",
    }
    try:
        process = subprocess.Popen(
            step.run,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            env=environment,
            start_new_session=True,
        )
    except OSError as error:
        raise StepFailed(f"{step.run[0]} cannot be run: {error.strerror}") from error
    try:
        cut = _keep(process, file, step.size, end)
        if cut:
            return 0, True
        try:
            return process.wait(max(0.1, end - time.monotonic())), False
        except subprocess.TimeoutExpired:
            raise too_late(step) from None
    except TimeoutError:
        raise too_late(step) from None
    finally:
        _end(process)


def _need_itself(step: Step) -> None:
    """Raise StepFailed where a name that only reads leads to a program that does anything."""
    path = shutil.which(step.run[0])
    actual = Path(path).resolve().name if path else ""
    if not actual or actual in SHARED or actual == base_name(step.run[0]):
        return
    if verdict_on([actual, *step.run[1:]]) in ("changes", "anything"):
        raise StepFailed(f"{step.run[0]} is {actual} here, which could do anything")


def _keep(process: subprocess.Popen[bytes], file: Path, most: int, end: float) -> bool:
    assert process.stdout is not None
    descriptor, kept = process.stdout.fileno(), 0
    with file.open("wb") as written:
        while True:
            left = end - time.monotonic()
            if left <= 0 or not select.select([descriptor], [], [], left)[0]:
                raise TimeoutError
            block = os.read(descriptor, _BLOCK)
            if not block:
                return False
            written.write(block[: most - kept])
            kept += len(block)
            if kept > most:
                return True


def _end(process: subprocess.Popen[bytes]) -> None:
    """End a command and all that it started."""
    with suppress(ProcessLookupError, PermissionError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait()
    if process.stdout is not None:
        process.stdout.close()


def take_files(step: Step, folder: Path) -> tuple[list[Path], datetime | None, bool]:
    """Copy files; gives the copies, when the newest was written, and whether the limit cut them. Raises StepFailed.

    Only plain files: no links, no devices, no pipes.
    """
    found = [
        Path(path)
        for pattern in step.files
        for path in sorted(glob.glob(os.path.expanduser(pattern), recursive=True))  # noqa: PTH111, PTH207
    ]
    plain = [path for path in dict.fromkeys(found) if stat.S_ISREG(path.lstat().st_mode)]
    copies: list[Path] = []
    newest, room, cut = None, step.size, False
    end = time.monotonic() + step.time.total_seconds()
    for path in plain[:MOST_FILES]:
        if holds_secrets(str(path.resolve())):
            raise StepFailed(f"{path} is where secrets are")
        copy = unused(folder, path.name)
        try:
            with path.open("rb") as source, copy.open("wb") as written:
                while room > 0 and (block := source.read(min(_BLOCK, room))):
                    if time.monotonic() > end:
                        raise too_late(step)
                    written.write(block)
                    room -= len(block)
                cut = cut or bool(source.read(1))
        except PermissionError:
            copy.unlink(missing_ok=True)
            raise StepFailed(f"{path} may not be read") from None
        at = datetime.fromtimestamp(path.stat().st_mtime, UTC)
        newest = max(newest or at, at)
        copies.append(copy)
        if room <= 0:
            break
    return copies, newest, cut or len(plain) > MOST_FILES or len(copies) < len(plain[:MOST_FILES])


def unused(folder: Path, name: str) -> Path:
    """A path in a folder that no file has yet, by this name."""
    folder.mkdir(parents=True, exist_ok=True)
    path, number = folder / name, 1
    while path.exists():
        number += 1
        stem, dot, suffix = name.partition(".")
        path = folder / f"{stem}-{number}{dot}{suffix}"
    return path
