"""From the counts of a log to what somebody should know of it."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from datetime import datetime, timedelta

from sealpacket.core.evidence._native import BUCKETS, Scan
from sealpacket.core.evidence.series import LogSeries
from sealpacket.core.evidence.summary import templates, words
from sealpacket.core.evidence.summary.known import KnownIssue
from sealpacket.core.evidence.summary.model import (
    LEVELS,
    FactFound,
    GapFound,
    IssueFound,
    LevelCounts,
    Mark,
    MessageFound,
    RestartFound,
    SpanLooked,
    StepBack,
    Summary,
    WriterFound,
)
from sealpacket.core.evidence.summary.scanning import moment_at, scan_log
from sealpacket.core.evidence.writers import writer_clocks

_MOST_FREQUENT, _MOST_RARE = 300, 150
_RARE = 3
_MOST_RESTARTS, _MOST_FACTS = 60, 40
_SHORT = 300
_HAPPENED_MORE = 3.0
"""Factor by which a message must be more frequent than before to be reported."""
_SHORTEST_GAP = timedelta(minutes=1)
_AS_LONG = 20
"""Minimum length of a gap, as a multiple of the average distance between lines."""
_FIRST_LINES = 1000
_ONE_START = timedelta(seconds=90)
"""Maximum distance between lines that report the same start."""

Row = tuple[bytes, int, int, int, int, int, bytes, bytes, list[int], list[int]]


def summarise(
    log: LogSeries,
    known: Sequence[KnownIssue] = (),
    window: tuple[datetime, datetime] | None = None,
    progress: Callable[[int], None] | None = None,
) -> Summary:
    """Summarise a log. `window` is the time around the event. Raises Invalid for a log without times."""
    times = log.times()
    scan = scan_log(log, [issue.pattern for issue in known], progress)
    rows = sorted(scan.messages(), key=lambda row: (-row[1], row[0]))
    span = (times.first, times.last)
    summary = Summary(
        names=[file.path.name for file in log.files],
        octets=scan.octets,
        lines=scan.lines,
        untimed=scan.untimed,
        first=min(times.first, moment_at(scan.earliest)),
        last=max(times.last, moment_at(scan.latest)),
        example=times.example,
        notes=_notes(log, scan),
        levels=_levels(scan),
        gaps=_gaps(scan, span),
        restarts=_restarts(rows),
        steps_back=[
            StepBack(before=moment_at(a), after=moment_at(b), line=line)
            for a, b, line in scan.back()
        ],
        steps_back_total=scan.steps_back,
        writers=_writers(log) if _has_several_clocks(scan) else [],
        window=None,
        kinds=len(rows),
        messages=_messages(rows),
        issues=_issues(scan, known),
        facts=_facts(rows),
    )
    return in_window(summary, *window) if window is not None else summary


def display(text: bytes) -> str:
    """A skeleton as somebody reads it."""
    return text.replace(templates.GLUE, b"").decode("utf-8", "replace")


def _notes(log: LogSeries, scan: Scan) -> list[str]:
    times = log.times()
    notes = list(times.doubts)
    if not times.told_zone:
        notes.append("The log states no offset from UTC.")
    if _has_several_clocks(scan):
        notes.append("Several clocks write this log: its times go back and forth.")
    elif not times.ordered:
        notes.append("The log is not in the order of its times.")
    if scan.untimed * 2 > scan.lines:
        notes.append("More than half of its lines state no time.")
    if scan.too_long:
        notes.append(f"Lines longer than 64 KB: {scan.too_long:,}. The rest of them was not read.")
    return notes


def _has_several_clocks(scan: Scan) -> bool:
    return scan.steps_back * 100 > scan.lines


def _writers(log: LogSeries) -> list[WriterFound]:
    return [WriterFound(name=one.name, ahead=one.ahead) for one in writer_clocks(log.lines())]


def _levels(scan: Scan) -> list[LevelCounts]:
    columns = zip(*scan.levels, strict=True)
    found = []
    for level, counts in zip(LEVELS, columns, strict=False):
        coarse = [sum(counts[at : at + 3]) for at in range(0, len(counts), 3)]
        if any(coarse):
            found.append(LevelCounts(level=level, total=sum(coarse), counts=coarse))
    return found


def _gaps(scan: Scan, span: tuple[datetime, datetime]) -> list[GapFound]:
    """Times without a line that are long for this log; the longest, in their order."""
    usual = (span[1] - span[0]) / max(1, scan.lines - scan.untimed)
    least = max(_SHORTEST_GAP, usual * _AS_LONG)
    found = [
        GapFound(start=moment_at(a), end=moment_at(b), line=line)
        for a, b, line in scan.gaps()
        if moment_at(b) - moment_at(a) >= least
        and not (_has_several_clocks(scan) and line < _FIRST_LINES)  # the second clock begins
    ]
    longest = sorted(found, key=lambda gap: gap.start - gap.end)[:20]
    return sorted(longest, key=lambda gap: gap.start)


def _restarts(rows: Sequence[Row]) -> list[RestartFound]:
    found = [
        (moment, display(row[0]))
        for row in rows
        if row[8] and words.is_restart(display(row[0]))
        for moment in row[8]
    ]
    kept: list[RestartFound] = []
    for micro, text in sorted(found):
        at = moment_at(micro)
        if not kept or at - kept[-1].at > _ONE_START:
            kept.append(RestartFound(at=at, text=text))
    return kept[-_MOST_RESTARTS:]


def _facts(rows: Sequence[Row]) -> list[FactFound]:
    """The last version and reading of each name."""
    found: dict[str, FactFound] = {}
    for row in sorted(rows, key=lambda one: one[4]):
        line = display(row[7])
        for name, value in words.facts_in(line) if line else ():
            found[name] = FactFound(name=name, value=value, at=moment_at(row[4]))
    return sorted(found.values(), key=lambda fact: fact.name)[:_MOST_FACTS]


def _issues(scan: Scan, known: Sequence[KnownIssue]) -> list[IssueFound]:
    found = [
        IssueFound(
            key=issue.key,
            title=issue.title,
            meaning=issue.meaning,
            advice=issue.advice,
            fixed_in=issue.fixed_in,
            link=issue.link,
            count=count,
            first=moment_at(first),
            last=moment_at(last),
            example=display(example)[:_SHORT],
        )
        for issue, (count, first, last, example) in zip(known, scan.known(), strict=True)
        if count
    ]
    return sorted(found, key=lambda issue: -issue.count)


def in_window(summary: Summary, start: datetime, end: datetime) -> Summary:
    """The same summary, with what is new or more frequent between two moments."""
    span = (summary.first, summary.last)
    width = max((span[1] - span[0]) / BUCKETS, timedelta(microseconds=1))
    begin = max(0, min(BUCKETS, math.floor((start - span[0]) / width)))
    behind = max(begin + 1, min(BUCKETS, math.ceil((end - span[0]) / width)))
    messages = [_marked(message, start, end, begin, behind) for message in summary.messages]
    return summary.model_copy(
        update={"messages": messages, "window": SpanLooked(start=start, end=end)}
    )


def _marked(
    message: MessageFound, start: datetime, end: datetime, begin: int, behind: int
) -> MessageFound:
    """A message with what it is in the buckets from `begin` on, up to `behind`."""
    marks: list[Mark] = [mark for mark in message.marks if mark in ("frequent", "rare")]
    inside, before = sum(message.counts[begin:behind]), sum(message.counts[:begin])
    factor = None
    if inside and start <= message.first <= end:
        marks.append("new")
    elif begin and inside >= 3:
        times = (inside / (behind - begin)) / max(before / begin, 1 / begin)
        # more than chance would do, if they came at random
        by_chance = 3 * math.sqrt(before * (behind - begin) / begin)
        if times >= _HAPPENED_MORE and inside > by_chance:
            marks.append("more")
            factor = round(times, 1)
    return message.model_copy(update={"marks": marks, "factor": factor})


def _messages(rows: Sequence[Row]) -> list[MessageFound]:
    """The most frequent messages, and the rarest, the more severe ones first."""
    marks: dict[int, list[Mark]] = {
        number: ["frequent"] for number in range(min(len(rows), _MOST_FREQUENT))
    }
    rare = [number for number, row in enumerate(rows) if row[1] <= _RARE]
    rare.sort(key=lambda number: (rows[number][5] or 9, rows[number][3], rows[number][0]))
    for number in rare[:_MOST_RARE]:
        marks[number] = ["rare"]
    return [_message(rows[number], marks[number]) for number in sorted(marks)]


def _message(row: Row, marks: list[Mark]) -> MessageFound:
    return MessageFound(
        text=display(row[0]),
        level=LEVELS[row[5]],
        count=row[1],
        first=moment_at(row[3]),
        last=moment_at(row[4]),
        example=display(row[6])[:_SHORT],
        marks=marks,
        counts=list(row[9]),
    )
