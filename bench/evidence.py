"""Logs: how much is read of a large one to take an hour out of it, and how fast one is read whole."""

from __future__ import annotations

import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from figures import figure, seconds

from sealpacket.core.evidence.logfile import LogFile, Window

SIZE = 10_000_000_000
WHOLE = 50_000_000
_START = datetime(2026, 11, 1, tzinfo=UTC)
_WORDS = b"kiosk-07 INFO [shelf.reader] page timeout retry handshake link state up flush queue depth commit volume"


def _write(path: Path, size: int) -> datetime:
    """A log in order, of so many bytes, 2,000 lines a minute; gives the moment of its last lines."""
    minute = b"".join(
        b"@%02d.%03dZ %s %d\n" % (of // 34, of % 34 * 29, _WORDS, of) for of in range(60 * 34)
    )
    written, at = 0, _START
    with path.open("wb") as file:
        while written < size:
            written += file.write(minute.replace(b"@", f"{at:%Y-%m-%dT%H:%M:}".encode()))
            at += timedelta(minutes=1)
    return at


def figures() -> list[dict[str, Any]]:
    """Everything about logs."""
    with tempfile.TemporaryDirectory(prefix="sealpacket-bench-") as folder:
        path = Path(folder, "large.log")
        last = _write(path, SIZE)
        middle = _START + (last - _START) / 2
        log, found = LogFile(path), Window()
        took = seconds(lambda: _take(log, middle, timedelta(hours=1), found))
        size, read = path.stat().st_size, log.octets_read
        path.unlink()
        small = Path(folder, "small.log")
        _write(small, WHOLE)
        whole = seconds(lambda: _take(LogFile(small), _START, timedelta(days=9), Window()))
    return [
        figure(
            f"an hour ({found.octets / 1e6:.0f} MB) out of a log of {size / 1e9:.1f} GB", took, "s"
        ),
        figure("  read for it", read / 1e6, "MB", 50),
        figure("a log read line by line", WHOLE / 1e6 / whole, "MB/s"),
    ]


def _take(log: LogFile, start: datetime, span: timedelta, found: Window) -> None:
    for _ in log.window(start, start + span, found):
        pass
