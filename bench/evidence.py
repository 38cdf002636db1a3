"""Logs: how much is read of a large one to take an hour out of it, and how fast one is read whole."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from figures import figure, seconds

from sealpacket.core.evidence.logfile import LogFile, Window
from sealpacket.demo.evidence import write_controller_log

SIZE = 10_000_000_000
WHOLE = 50_000_000
GIGABYTE = 1000
MAKE_LOG = str(Path(__file__).with_name("make_log.py"))
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
        noisy = Path(folder, "noisy.log")
        with noisy.open("wb") as file:
            subprocess.run([sys.executable, MAKE_LOG, str(GIGABYTE)], stdout=file, check=True)
        summary = _summary_in_its_own_process(noisy)
        noisy.unlink()
        write_controller_log(noisy, size=300_000_000)
        calm = _summary_in_its_own_process(noisy)
    return [
        figure(
            f"an hour ({found.octets / 1e6:.0f} MB) out of a log of {size / 1e9:.1f} GB", took, "s"
        ),
        figure("  read for it", read / 1e6, "MB", 50),
        figure("a log read line by line", WHOLE / 1e6 / whole, "MB/s"),
        figure("summary of 1 GB, hardly two messages alike", summary[0], "MB/s", at_least=60),
        figure("  memory of its process", summary[1], "MB", 300),
        figure("summary of 300 MB of an array's log", calm[0], "MB/s", at_least=60),
    ]


_SUMMARISE = """
import resource, sys, time
from pathlib import Path
from sealpacket.core.evidence.logfile import LogFile
from sealpacket.core.evidence.series import LogSeries
from sealpacket.core.evidence.summary import summarise
begun = time.perf_counter()
found = summarise(LogSeries([LogFile(Path(sys.argv[1]))]))
took = time.perf_counter() - begun
print(found.octets / 1e6 / took, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000)
"""


def _summary_in_its_own_process(path: Path) -> tuple[float, float]:
    """Megabytes a second, and the most memory that its process had (MB)."""
    done = subprocess.run(
        [sys.executable, "-c", _SUMMARISE, str(path)], capture_output=True, text=True, check=True
    )
    speed, memory = map(float, done.stdout.split())
    return speed, memory


def _take(log: LogFile, start: datetime, span: timedelta, found: Window) -> None:
    for _ in log.window(start, start + span, found):
        pass
