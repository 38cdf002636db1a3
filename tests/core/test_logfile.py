"""A log and the hours that matter of it: cut as whoever reads all of it would, and without reading all of it."""

from __future__ import annotations

import gzip
import os
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random

import pytest

from sealpacket.core.errors import Invalid
from sealpacket.core.evidence.logfile import LogFile, Window
from tests.core.log_makers import make_log

START = datetime(2026, 11, 20, tzinfo=UTC)


def written(path: Path, lines: list[str], near: datetime = START) -> Path:
    data = "".join(f"{line}\n" for line in lines).encode()
    path.write_bytes(gzip.compress(data, 1) if path.suffix == ".gz" else data)
    os.utime(path, (near.timestamp(), near.timestamp()))
    return path


def a_week(chance: Random) -> list[tuple[datetime, str]]:
    """A line every four seconds or so, a little out of order, some of them with more lines behind."""
    found = []
    at = START
    while at < START + timedelta(days=7):
        at += timedelta(seconds=chance.randint(1, 8))
        late = at - timedelta(seconds=chance.choice((0, 0, 0, 30)))
        found.append(
            (late, f"{late:%Y-%m-%dT%H:%M:%S}Z kiosk-7 reader {chance.randint(1, 9)} answers again")
        )
        if chance.random() < 0.02:
            found.append((late, "    at shelf.Reader.open(Reader.java:41)"))
    return found


@pytest.mark.parametrize("name", ["week.log", "week.log.gz"])
def test_a_window_is_what_somebody_who_reads_all_would_cut(tmp_path: Path, name: str) -> None:
    lines = a_week(Random(os.environ["SEALPACKET_SEED"]))
    path = written(tmp_path / name, [line for _, line in lines], START + timedelta(days=7))
    for begin in (START, START + timedelta(days=3, hours=7), START + timedelta(days=6, hours=23)):
        end = begin + timedelta(hours=1)
        log, found = LogFile(path), Window()
        cut = b"".join(log.window(begin, end, found)).decode().splitlines()
        assert cut == [line for at, line in lines if begin <= at <= end]
        assert (found.lines, found.octets) == (len(cut), sum(len(line) + 1 for line in cut))
        if name == "week.log":
            assert log.size > 6_500_000
            assert log.octets_read < 3_500_000, "most of it is not read"


@pytest.mark.parametrize(
    "writer", ["sql", "syslog", "md", "halves", "day-first", "epoch-ms", "web", "ctime"]
)
def test_any_form_is_cut(tmp_path: Path, writer: str) -> None:
    made = make_log(writer, "first", int(os.environ["SEALPACKET_SEED"]), 3000)
    path = written(tmp_path / "a.log", made.lines, made.near)
    told = [at if at is None or at.tzinfo else at.replace(tzinfo=UTC) for at in made.told]
    known = sorted(at for at in told if at is not None)
    begin, end = known[1000], known[1900]
    wanted, inside = [], False
    for at, line in zip(told, made.lines, strict=True):
        inside = inside if at is None else begin <= at <= end
        wanted += [line] if inside else []
    assert (
        b"".join(LogFile(path).window(begin, end + timedelta(milliseconds=999)))
        .decode()
        .splitlines()
        == wanted
    )


def test_a_year_that_nobody_told_goes_on_in_a_long_log(tmp_path: Path) -> None:
    first = datetime(2026, 12, 28, tzinfo=UTC)
    moments = [first + timedelta(seconds=60 * n) for n in range(12_000)]
    lines = [f"{at:%b %d %H:%M:%S} host cron[41]: {'x' * 60}" for at in moments]
    path = written(tmp_path / "messages", lines, moments[-1])
    log = LogFile(path)
    assert (log.times().first, log.times().last) == (first, moments[-1])
    begin = datetime(2027, 1, 2, 8, tzinfo=UTC)
    cut = b"".join(log.window(begin, begin + timedelta(hours=1))).splitlines()
    assert (len(cut), cut[0][:15], log.times().ordered) == (61, b"Jan 02 08:00:00", True)


def test_a_clock_that_was_set_back_is_noticed_and_all_is_read(tmp_path: Path) -> None:
    moments = [START + timedelta(seconds=n % 9000) for n in range(18_000)]
    path = written(tmp_path / "a.log", [f"{at:%Y-%m-%d %H:%M:%S} {'x' * 60}" for at in moments])
    log = LogFile(path)
    begin = START + timedelta(seconds=4000)
    cut = b"".join(log.window(begin, begin + timedelta(seconds=9))).splitlines()
    assert (log.times().ordered, len(cut)) == (False, 20)


def test_a_line_without_an_end_is_kept_whole(tmp_path: Path) -> None:
    endless = "y" * 3_000_000
    lines = [f"2026-11-20 08:00:00 {endless}", "2026-11-20 09:00:00 b", "2026-11-20 10:00:00 c"]
    log, found = LogFile(written(tmp_path / "a.log", lines)), Window()
    begin = START + timedelta(hours=7)
    cut = b"".join(log.window(begin, begin + timedelta(hours=2), found))
    assert cut.decode().splitlines() == lines[:2]
    assert found.lines == 2


@pytest.mark.parametrize(
    ("content", "code"),
    [
        (b"", "empty"),
        (b"hello\nworld\n", "no-times"),
        (b"\x00\x01\x02" * 1000, "no-text"),
        (gzip.compress(b"2026-11-20 08:00:00 a\n" * 9000)[:-40], "broken"),
        (b"[    1.000000] started\n", "boot-wanted"),
    ],
)
def test_what_cannot_be_read_says_why(tmp_path: Path, content: bytes, code: str) -> None:
    path = tmp_path / "a.log"
    path.write_bytes(content)
    with pytest.raises(Invalid) as caught:
        LogFile(path).times()
    assert caught.value.code == code


def test_seconds_since_a_start_are_told_from_it(tmp_path: Path) -> None:
    path = written(tmp_path / "dmesg", ["[    1.000000] started", "[ 3600.000000] usb gone"])
    times = LogFile(path, boot=START).times()
    assert (times.first, times.last) == (START + timedelta(seconds=1), START + timedelta(hours=1))


@pytest.mark.parametrize("encoding", ["utf-16", "utf-16-le", "utf-16-be"])
def test_utf_16_is_read_and_cut_as_utf_8(tmp_path: Path, encoding: str) -> None:
    lines = [f"2026-11-20 {hour:02d}:00:00 lås {hour}\r\n" for hour in range(24)]
    path = tmp_path / "a.log"
    path.write_bytes("".join(lines).encode(encoding))
    start = datetime(2026, 11, 20, 9, tzinfo=UTC)
    cut = b"".join(LogFile(path).window(start, start + timedelta(hours=1)))
    assert cut.decode() == "".join(lines[9:11])


def test_of_a_packed_log_only_the_window_is_unpacked_again(tmp_path: Path) -> None:
    day = datetime(2026, 11, 20, tzinfo=UTC)
    moments = [day + timedelta(milliseconds=300 * number) for number in range(288_000)]
    lines = [
        f"{at.isoformat()} line {number} {number * 7919:x} {number**3:x}\n".encode()
        for number, at in enumerate(moments)
    ]
    path = tmp_path / "a.log.gz"
    half = len(lines) // 2  # two members, as logs have that were packed in parts
    path.write_bytes(gzip.compress(b"".join(lines[:half])) + gzip.compress(b"".join(lines[half:])))
    log = LogFile(path)
    start = day + timedelta(hours=18)
    assert log.times().ordered
    before = log.octets_read
    cut = b"".join(log.window(start, start + timedelta(minutes=5)))
    assert cut == b"".join(
        line
        for line, at in zip(lines, moments, strict=True)
        if start <= at <= start + timedelta(minutes=5)
    )
    assert log.octets_read - before < 2_000_000
