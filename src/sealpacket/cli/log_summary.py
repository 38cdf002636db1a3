"""Summaries of logs, and several logs as one timeline; offline."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta, tzinfo
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer
from rich.text import Text

from sealpacket.cli import show
from sealpacket.cli.logs import (
    Around,
    Boot,
    Files,
    From,
    Hours,
    To,
    Zone,
    app,
    moment,
    short,
    span,
    whole_or_not,
    zone_of,
)
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.core.evidence.series import LogSeries
    from sealpacket.core.evidence.summary.model import MessageFound, Summary

_BARS = " ▁▂▃▄▅▆▇█"
_WIDTH = 60
_STYLES = {"critical": "bold red", "error": "red", "warning": "yellow", "debug": "dim"}
_LONGEST_TEXT = 110


@app.command("summary")
def summary(
    files: Files,
    around: Annotated[
        str, typer.Option(help="When it happened, to show what is new or more frequent.")
    ] = "",
    hours: Hours = 1,
    known: Annotated[
        Path | None,
        typer.Option(exists=True, dir_okay=False, help="Known issues to look for, as YAML."),
    ] = None,
    most: Annotated[int, typer.Option(min=1, max=120, help="Messages to show of each sort.")] = 8,
    zone: Zone = "",
    boot: Boot = "",
    json: show.Json = False,
) -> None:
    """Summarise logs: hours, gaps, restarts, levels over time, and what they repeat or say for the first time.

    Rotated files (app.log, app.log.1, app.log.2.gz) are one log.

    Example: `sealpacket log summary array-a.log --around 2026-11-23T08:40 --hours 2`
    """
    from sealpacket.core.evidence.summary import read_known_file, summarise

    there = zone_of(zone)
    window = span("", "", around, hours, there) if around else None
    issues = read_known_file(known) if known else []
    found = [summarise(log, issues, window) for log in logs_of(files, there, boot)]
    if json:
        show.as_json(found)
        return
    for one in found:
        show_summary(one, there, most)


@app.command("merge")
def merge(
    files: Files,
    out: show.Out,
    start: From = "",
    end: To = "",
    around: Around = "",
    hours: Hours = 1,
    correct: Annotated[
        bool,
        typer.Option("--correct", help="Adjust the times of all logs to the clock of the first."),
    ] = False,
    zone: Zone = "",
    boot: Boot = "",
) -> None:
    """Merge logs into one timeline, for you to read: each line with its moment in UTC and its log's name.

    The logs stay as they are. With --correct, moments are corrected by what the logs have in common.

    Example: `sealpacket log merge array-a.log array-b.log --around 2026-11-23T08:40Z --out timeline.log`
    """
    from sealpacket.core.evidence.series import timeline

    there = zone_of(zone)
    logs = logs_of(files, there, boot)
    if any(out.exists() and out.samefile(path) for path in files):
        raise ClientError("That is one of the logs.", "Name another file with --out.")
    first, last = span(start, end, around, hours, there) if start or end or around else (None, None)
    offsets = _offsets(logs) if correct else []
    names = _names(logs)
    count = 0
    with whole_or_not(out) as written:
        for at, number, line in timeline(logs, first, last, offsets):
            stamp = at.astimezone(UTC).isoformat(timespec="milliseconds")
            written.write(f"{stamp.replace('+00:00', 'Z')}  {names[number]}  ".encode())
            written.write(line if line.endswith(b"\n") else line + b"\n")
            count += 1
        if not count:
            raise ClientError("The logs have nothing in these hours.", "Name other hours.")
    show.line(f"{out}: {count:,} lines of {len(logs)} logs.")
    for log, offset in zip(logs[1:], offsets[1:], strict=False):
        if offset:
            show.line(f"{log.name}: {offset.total_seconds():+.0f} s added to its moments.", "dim")


def logs_of(files: Sequence[Path], zone: tzinfo, boot: str) -> list[LogSeries]:
    """The logs in these files; rotated ones are one."""
    from sealpacket.core.evidence.logfile import LogFile
    from sealpacket.core.evidence.series import series_of

    started = moment(boot, UTC) if boot else None
    return series_of([LogFile(path, zone, boot=started) for path in files])


def _offsets(logs: Sequence[LogSeries]) -> list[timedelta]:
    """The offset to add to the times of each log, so that they fit the first one's."""
    from sealpacket.core.evidence.clocks import clock_error

    added = [timedelta()]
    for log in logs[1:]:
        found = clock_error(logs[0].lines(), log.lines())
        if found is None or len(found.stretches) > 1:
            raise ClientError(
                f"The clock of {log.name} cannot be corrected by {logs[0].name}'s.",
                "Look at both with `sealpacket log clocks`, and merge them without --correct.",
            )
        added.append(timedelta(seconds=found.stretches[0].offset))
    return added


def _names(logs: Sequence[LogSeries]) -> list[str]:
    width = max(len(log.name) for log in logs)
    return [log.name.ljust(width) for log in logs]


def show_summary(found: Summary, zone: tzinfo, most: int) -> None:
    """Print a summary for people, with moments in a zone."""
    names = ", ".join(found.names)
    size = f"{show.size(found.octets)}, {found.lines:,} lines, {found.kinds:,} different messages"
    show.heading(names, size)
    show.line(f"{_at(found.first, zone)} to {_at(found.last, zone)}, as in {found.example}")
    for note in found.notes:
        show.line(note, "yellow")
    _show_levels(found, zone)
    for gap in found.gaps[:most]:
        length = _length(gap.end - gap.start)
        show.line(
            f"Nothing for {length}: {_at(gap.start, zone)} to {_at(gap.end, zone)}, line {gap.line:,}"
        )
    _show_clocks(found, zone)
    for restart in found.restarts[-most:]:
        show.line(f"Start or stop at {_at(restart.at, zone)}: {_cut(restart.text)}")
    for fact in found.facts[:most]:
        show.line(f"{fact.name}: {fact.value}", "dim")
    _show_issues(found, zone)
    _show_messages(
        "New around the event", [m for m in found.messages if "new" in m.marks], zone, most
    )
    _show_messages(
        "More frequent around the event",
        [m for m in found.messages if "more" in m.marks],
        zone,
        most,
    )
    _show_messages(
        "Most frequent", [m for m in found.messages if "frequent" in m.marks], zone, most
    )
    rare = [m for m in found.messages if "rare" in m.marks and "new" not in m.marks]
    _show_messages("Rare", rare, zone, most)


def _show_clocks(found: Summary, zone: tzinfo) -> None:
    for writer in found.writers[1:]:
        way = "ahead of" if writer.ahead > 0 else "behind"
        apart = _length(timedelta(seconds=abs(writer.ahead)))
        if abs(writer.ahead) >= 1:
            show.line(
                f"The clock of {writer.name} is {apart} {way} that of {found.writers[0].name}."
            )
    if found.writers:
        return
    for step in found.steps_back[:3]:
        back = _length(step.before - step.after)
        show.line(f"The clock goes back by {back} at {_at(step.before, zone)}, line {step.line:,}")
    if found.steps_back_total > 3:
        show.line(f"… and {found.steps_back_total - 3:,} times more.", "dim")


def _show_levels(found: Summary, zone: tzinfo) -> None:
    """One row of bars for each level, and the hours below."""
    show.line("")
    for level in found.levels:
        columns = _squeezed(level.counts, _WIDTH)
        top = max(columns)
        bars = "".join(_BARS[-(-count * 8 // top) if count else 0] for count in columns)
        name = level.level or "no level"
        show.out().print(
            Text.assemble(f"{name:>9} ", (bars, _STYLES.get(level.level, "")), f" {level.total:,}")
        )
    if found.window is not None:
        show.out().print(Text(" " * 10 + _marked(found), "dim"))
    first, last = found.first.astimezone(zone), found.last.astimezone(zone)
    form = "%H:%M" if first.date() == last.date() else "%d %b %H:%M"
    middle = first + (last - first) / 2
    left, centre, right = (f"{one:{form}}" for one in (first, middle, last))
    gap = _WIDTH - len(left) - len(right) - len(centre)
    show.out().print(
        Text(" " * 10 + left + " " * (gap // 2) + centre + " " * (gap - gap // 2) + right, "dim")
    )


def _marked(found: Summary) -> str:
    """A line below the bars where the window is."""
    assert found.window is not None
    whole = (found.last - found.first) / _WIDTH or timedelta(microseconds=1)
    begin, end = ((one - found.first) // whole for one in (found.window.start, found.window.end))
    return "".join("━" if begin <= place <= end else " " for place in range(_WIDTH))


def _squeezed(counts: Sequence[int], width: int) -> list[int]:
    return [
        sum(counts[len(counts) * place // width : len(counts) * (place + 1) // width])
        for place in range(width)
    ]


def _show_issues(found: Summary, zone: tzinfo) -> None:
    for issue in found.issues:
        show.heading(f"Known issue: {issue.title}", f"{issue.count:,} lines")
        show.line(
            f"{_at(issue.first, zone)} to {_at(issue.last, zone)}: {_cut(issue.example)}", "dim"
        )
        for text in (issue.meaning, issue.advice):
            if text:
                show.line(text)
        if issue.fixed_in:
            show.line(f"Fixed in {issue.fixed_in}.")
        if issue.link:
            show.line(issue.link, "dim")


def _show_messages(title: str, messages: Sequence[MessageFound], zone: tzinfo, most: int) -> None:
    if not messages:
        return
    show.heading(
        title, f"{len(messages)}" if len(messages) <= most else f"{most} of {len(messages)}"
    )
    rows = [
        [
            f"{message.count:,}",
            _more(message),
            message.level,
            f"{message.first.astimezone(zone):%H:%M:%S}",
            f"{message.last.astimezone(zone):%H:%M:%S}",
            _cut(message.text),
        ]
        for message in messages[:most]
    ]
    show.table([">times", ">more", "level", "first", "last", "message"], rows, nothing="")


def _more(message: MessageFound) -> str:
    return f"{message.factor:g}×" if message.factor else ""


def _cut(text: str) -> str:
    return text if len(text) <= _LONGEST_TEXT else f"{text[: _LONGEST_TEXT - 1]}…"


def _at(at: datetime, zone: tzinfo) -> str:
    return short(at.astimezone(zone))


def _length(time: timedelta) -> str:
    seconds = round(time.total_seconds())
    parts = [
        (seconds // 86400, "d"),
        (seconds // 3600 % 24, "h"),
        (seconds // 60 % 60, "min"),
        (seconds % 60, "s"),
    ]
    said = [f"{count} {unit}" for count, unit in parts if count]
    return " ".join(said[:2]) or "0 s"
