"""Logs on this machine, without the service: their time formats, and cutting them to hours."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta, tzinfo
from pathlib import Path
from typing import IO, TYPE_CHECKING, Annotated, Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

import typer

from sealpacket.cli import show
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.core.evidence.logfile import LogFile, LogTimes, Window

app = typer.Typer(no_args_is_help=True, help="Summarise, cut and merge logs, offline.")

Files = Annotated[
    list[Path], typer.Argument(exists=True, dir_okay=False, help="Logs, plain or gzip.")
]
Zone = Annotated[
    str,
    typer.Option(
        help="Zone for times without an offset, such as Europe/Berlin; default: this machine's."
    ),
]
From = Annotated[str, typer.Option("--from", help="Start of the window: 2026-11-23T08:00+00:00.")]
To = Annotated[str, typer.Option("--to", help="End of the window.")]
Around = Annotated[str, typer.Option(help="Centre of the window, instead of --from and --to.")]
Hours = Annotated[
    float, typer.Option(min=0.01, max=10_000, help="Hours before and after the centre.")
]
Boot = Annotated[
    str,
    typer.Option(help="Start time for logs with seconds since a start: 2026-11-23T08:00+00:00."),
]


@app.command("times")
def times(files: Files, zone: Zone = "", boot: Boot = "", json: show.Json = False) -> None:
    """Show the time formats of logs and the hours that they cover.

    Example: `sealpacket log times kiosk.log array-a.log.gz`
    """
    from sealpacket.core.evidence.logfile import LogFile

    there, started = zone_of(zone), moment(boot, UTC) if boot else None
    looked = [(path, LogFile(path, there, boot=started).times()) for path in files]
    if json:
        show.as_json([_as_json(path, one, there) for path, one in looked])
        return
    for path, one in looked:
        show.heading(path.name, "; ".join(_notes(one, there)))
        show.line(f"{short(one.first)} to {short(one.last)}, as in {one.example}")


def _as_json(path: Path, looked: LogTimes, zone: tzinfo) -> dict[str, Any]:
    return {
        "file": str(path),
        "example": looked.example,
        "from": looked.first.isoformat(),
        "to": looked.last.isoformat(),
        "ordered": looked.ordered,
        "untimed": round(looked.untimed, 3),
        "notes": _notes(looked, zone),
    }


def _notes(looked: LogTimes, zone: tzinfo) -> list[str]:
    """Warnings about the times of a log."""
    notes = list(looked.doubts)
    notes += [] if looked.told_zone else [f"no offset told, read as {_called(zone)}"]
    notes += [] if looked.ordered else ["not in the order of its times"]
    return notes


@app.command("cut")
def cut(
    file: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="A log, plain or gzip.")
    ],
    out: show.Out,
    start: From = "",
    end: To = "",
    around: Around = "",
    hours: Hours = 1,
    zone: Zone = "",
    boot: Boot = "",
    json: show.Json = False,
) -> None:
    """Cut the hours that matter out of a log. Of a log in order, only the needed part is read.

    Lines stay as they are; those without a time go with the line before them.

    Example: `sealpacket log cut array-a.log --around 2026-11-23T08:40Z --hours 2 --out window.log`
    """
    from sealpacket.core.evidence.logfile import LogFile

    there = zone_of(zone)
    first, last = span(start, end, around, hours, there)
    if out.exists() and out.samefile(file):
        raise ClientError("That is the log itself.", "Name another file with --out.")
    log = LogFile(file, there, boot=moment(boot, UTC) if boot else None)
    _tell(log, _write(log, out, first, last), out, json)


def cut_around(files: list[Path], folder: Path, around: str, hours: float, zone: str) -> list[Path]:
    """Cut each log to some hours around a moment, into files of the same names in a folder.

    Raises ClientError for one that has nothing in these hours, Invalid for one that tells no times.
    """
    from sealpacket.core.evidence.logfile import LogFile

    there = zone_of(zone)
    first, last = span("", "", around, hours, there)
    made = []
    for file in files:
        log = LogFile(file, there)
        made.append(folder / (file.stem if log.packed and file.suffix == ".gz" else file.name))
        _write(log, made[-1], first, last)
    return made


def _write(log: LogFile, out: Path, first: datetime, last: datetime) -> Window:
    """Write the lines from one moment to another, whole or not at all."""
    from sealpacket.core.evidence.logfile import Window

    found = Window()
    with whole_or_not(out) as written:
        written.writelines(log.window(first, last, found))
        if not found.lines:
            covers = log.times()
            raise ClientError(
                f"{log.path.name} has nothing in these hours.",
                f"It covers {short(covers.first)} to {short(covers.last)}.",
            )
    return found


@contextmanager
def whole_or_not(out: Path) -> Iterator[IO[bytes]]:
    """A file to write, which is there only once all of it is written."""
    part = out.with_name(f"{out.name}.part")
    try:
        with part.open("wb") as written:
            yield written
        part.replace(out)
    finally:
        part.unlink(missing_ok=True)


@app.command("clocks")
def clocks(
    first: Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="The reference log.")],
    second: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="The log to compare.")
    ],
    zone: Zone = "",
    json: show.Json = False,
) -> None:
    """Show the clock difference between two logs, from events that are in both.

    Lines are matched by words that are rare in both, such as numbers of sessions. Nothing is changed.

    Example: `sealpacket log clocks array-a.log array-b.log`
    """
    from sealpacket.core.evidence.clocks import clock_error
    from sealpacket.core.evidence.logfile import LogFile

    there = zone_of(zone)
    found = clock_error(LogFile(first, there).lines(), LogFile(second, there).lines())
    if found is None:
        raise ClientError(
            f"{first.name} and {second.name} tell of too little that is the same.",
            "Compare logs in which the same numbers occur: of sessions, requests or parts.",
        )
    if json:
        rows = [
            {
                "from": one.start.isoformat(),
                "seconds_to_add": round(one.offset, 3),
                "drift": one.drift,
                "lines": [one.first + 1, one.last + 1],
            }
            for one in found.stretches
        ]
        show.as_json({"matched": found.matched, "stretches": rows})
        return
    show.heading(second.name, f"compared with {first.name}: {found.matched:,} lines matched")
    for one in found.stretches:
        drift = one.drift * 86_400
        more = (
            f", {abs(drift):.1f} s a day {'more' if drift > 0 else 'less'}"
            if abs(drift) > 0.5
            else ""
        )
        show.line(f"from {short(one.start)}: {_apart(one.offset)}{more}")


def _apart(seconds: float) -> str:
    """How far a clock is behind or ahead."""
    if abs(seconds) < 1:
        return "right to the second"
    whole = round(abs(seconds))
    parts = [(whole // 3600, "h"), (whole // 60 % 60, "min"), (whole % 60, "s")]
    told = " ".join(f"{count} {unit}" for count, unit in parts if count)
    return f"{told} {'behind' if seconds > 0 else 'ahead'}"


def _tell(log: LogFile, found: Window, out: Path, json: bool) -> None:
    first, last = found.first, found.last
    assert first is not None and last is not None
    if json:
        told = {"lines": found.lines, "octets": found.octets}
        told |= {"octets_read": log.octets_read, "octets_of_log": log.size}
        show.as_json({**told, "from": first.isoformat(), "to": last.isoformat()})
        return
    size = show.size(found.octets)
    show.line(f"{out}: {found.lines:,} lines, {size}, {short(first)} to {short(last)}.")
    if log.octets_read < log.size:
        show.line(f"{show.size(log.octets_read)} of {show.size(log.size)} were read.", "dim")


def span(
    start: str, end: str, around: str, hours: float, zone: tzinfo
) -> tuple[datetime, datetime]:
    """The hours from one moment to another, or around one."""
    if around and not start and not end:
        middle = moment(around, zone)
        return middle - timedelta(hours=hours / 2), middle + timedelta(hours=hours / 2)
    if around or not (start and end):
        raise ClientError("The time range is missing.", "Give --from and --to, or --around.")
    first, last = moment(start, zone), moment(end, zone)
    if last < first:
        raise ClientError("--to is before --from.", "Swap them.")
    return first, last


def moment(text: str, zone: tzinfo) -> datetime:
    """A moment that somebody typed."""
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        raise ClientError(f"{text} is no moment.", "Write it as 2026-11-23T08:40+00:00.") from None
    return moment if moment.tzinfo else moment.replace(tzinfo=zone)


def zone_of(name: str) -> tzinfo:
    """The zone of a name, or this machine's."""
    if not name:
        return datetime.now().astimezone().tzinfo or UTC
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise ClientError(
            f"There is no zone {name}.", "Name one such as Europe/Berlin or UTC."
        ) from None


def _called(zone: tzinfo) -> str:
    return getattr(zone, "key", None) or str(zone)


def short(at: datetime) -> str:
    """A moment to the second, with its offset."""
    offset = at.isoformat()[-6:]
    return f"{at:%Y-%m-%d %H:%M:%S} {'UTC' if offset == '+00:00' else offset}"
