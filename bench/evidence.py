"""Logs: how much is read of a large one to take an hour out of it, and how fast one is read whole."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from datetime import UTC, datetime, timedelta
from functools import partial
from pathlib import Path
from typing import Any

from figures import best, figure, house_of_its_own, seconds
from sqlalchemy import create_engine, text

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
        *similar_figures(),
    ]


_PACKETS = """
    INSERT INTO packet (id, number, version, created_at, updated_at, title, note, need, life, turn, noted_by, asset_id,
                        answers, bag_blob, cause, cure, desk_status)
    SELECT 'made-' || n, 'P-' || (1000000 + n), 1, now() - n * interval '1 minute', now(),
           initcap(w[1 + n % 24]) || ' ' || w[1 + (n * 7) % 24] || ' ' || w[1 + (n * 13) % 24] || ' ' || n % 977,
           'Since the night the ' || w[1 + (n * 5) % 24] || ' shows E-' || 1000 + n % 900 || ' and ' || w[1 + (n * 11) % 24],
           'fault', 'settled', 'none', 'marit', a.ids[1 + n % array_length(a.ids, 1)], '{}', 'none', 'worn',
           'the ' || w[1 + (n * 3) % 24] || ' was replaced', ''
    FROM generate_series(1, 100000) n, (SELECT array_agg(id) AS ids FROM asset) a,
         (SELECT string_to_array('reader belt shelf mirror link volume latency port switch lamp gate sorter queue backup '
          'battery loader image drive kiosk card tape lift console clock', ' ') AS w) words
"""
_PARTS = (
    "INSERT INTO packet_delivery (packet_id) SELECT id FROM packet WHERE id LIKE 'made-%'",
    "INSERT INTO packet_following (packet_id) SELECT id FROM packet WHERE id LIKE 'made-%'",
    "INSERT INTO packet_legend (packet_id, placeholder_key_sealed) SELECT id, '' FROM packet WHERE id LIKE 'made-%'",
)


def similar_figures() -> list[dict[str, Any]]:
    """Packets like a note, among a hundred thousand."""
    with house_of_its_own() as house:
        engine = create_engine(house.cluster.owner_url, isolation_level="AUTOCOMMIT")
        with engine.connect() as connection:
            for statement in (_PACKETS, *_PARTS):
                connection.execute(text(statement))
            connection.execute(text("VACUUM ANALYZE packet"))
        engine.dispose()
        client = house.client()
        notes = (
            (
                "Mirror link retrains on the array",
                "The log says E-1312 since the night",
                "TN9-44120-A",
            ),
            ("Card reader of the kiosk stays dark", "since the night", "LK40-7731-0929"),
            ("Belt of the sorter stops", "E-1444 and the queue grows", None),
        )
        took = [
            best(partial(client.packets.similar, title, note, asset=asset))
            for title, note, asset in notes
        ]
    return [figure("packets like a note among 100,000, over the API", max(took) * 1000, "ms", 50)]


_SUMMARISE = """
import sys, time
sys.path.insert(0, sys.argv[2])
from figures import peak_memory
from pathlib import Path
from sealpacket.core.evidence.logfile import LogFile
from sealpacket.core.evidence.series import LogSeries
from sealpacket.core.evidence.summary import summarise
begun = time.perf_counter()
found = summarise(LogSeries([LogFile(Path(sys.argv[1]))]))
took = time.perf_counter() - begun
print(found.octets / 1e6 / took, peak_memory())
"""


def _summary_in_its_own_process(path: Path) -> tuple[float, float]:
    """Megabytes a second, and the most memory that its process had (MB)."""
    done = subprocess.run(
        [sys.executable, "-c", _SUMMARISE, str(path), str(Path(__file__).parent)],
        capture_output=True,
        text=True,
        check=True,
    )
    speed, memory = map(float, done.stdout.split())
    return speed, memory


def _take(log: LogFile, start: datetime, span: timedelta, found: Window) -> None:
    for _ in log.window(start, start + span, found):
        pass
