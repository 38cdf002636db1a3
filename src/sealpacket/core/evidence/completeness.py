"""Check an exhibit against the hours and machine that the desk wants."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta, tzinfo
from typing import Literal

from sealpacket.core.evidence.inspection import Look

Code = Literal[
    "empty", "truncated", "unsure-days", "wrong-hours", "other-hours", "wrong-machine", "before-restart", "sent-before"
]  # fmt: skip
_SLACK = 0.1
_LEAST_SLACK = timedelta(minutes=10)


@dataclass(frozen=True)
class Fault:
    """A fault of a piece of evidence: `code`, a sentence, and a remedy."""

    code: Code
    sentence: str
    remedy: str


@dataclass(frozen=True)
class Expected:
    """The expectations of a packet's evidence.

    It began at `began`; evidence is wanted from `before` it to `after` it, as far as that is past (`now`). `asset` is
    what the packet is about, `asset_names` names its own and others' for sentences. `restarted` is the last restart
    that other evidence has, `sent` the packet in which the same file was sent before.
    """

    now: datetime
    zone: tzinfo
    began: datetime | None = None
    before: timedelta = timedelta()
    after: timedelta = timedelta()
    asset: str = ""
    asset_name: str = ""
    restarted: datetime | None = None
    sent: str = ""


def faults_of(name: str, look: Look, wanted: Expected) -> Iterator[Fault]:
    """The faults of a piece of evidence, the worst first."""
    if look.empty:
        yield Fault("empty", f"{name} {look.empty}.", "Collect it again, or take it out")
        return
    if look.truncated:
        yield Fault("truncated", f"{name} {look.truncated}.", "Collect the complete file again")
    if look.unsure_days and look.first and look.last:
        yield Fault(
            "unsure-days",
            f"{name} may have day and month swapped: it is read as {_span(look.first, look.last, wanted.zone)}.",
            "Check the day; if it is the other one, collect it with the month in letters or the year first",
        )
    yield from _machine(name, look, wanted)
    yield from _hours(name, look, wanted)
    if wanted.sent:
        yield Fault(
            "sent-before",
            f"{name} was already sent with {wanted.sent}.",
            "Take it out, or collect a newer one",
        )


def _machine(name: str, look: Look, wanted: Expected) -> Iterator[Fault]:
    writers = [one for one in look.machines if one.itself]
    if wanted.asset and writers and all(one.asset != wanted.asset for one in writers):
        yield Fault(
            "wrong-machine",
            f"{name} is from {writers[0].name}, and the packet is about {wanted.asset_name}.",
            f"Collect it from {wanted.asset_name}, or say in the note why it is needed",
        )


def _hours(name: str, look: Look, wanted: Expected) -> Iterator[Fault]:
    if look.first is None or look.last is None:
        return
    covers = f"{name} covers {_span(look.first, look.last, wanted.zone)}"
    began = wanted.began
    if (
        wanted.restarted
        and look.last < wanted.restarted
        and (began is None or began >= wanted.restarted)
    ):
        yield Fault(
            "before-restart",
            f"{name} ends at {_said(look.last, wanted.zone)}, before the restart at "
            f"{_said(wanted.restarted, wanted.zone)}.",
            "Collect it again, after the restart",
        )
        return
    if began is None:
        return
    if not look.first <= began <= look.last + _LEAST_SLACK:
        yield Fault(
            "wrong-hours",
            f"{covers}, and it began at {_said(began, wanted.zone)}.",
            "Collect the hours in which it began",
        )
        return
    slack = max(_LEAST_SLACK, (wanted.before + wanted.after) * _SLACK)
    start, end = began - wanted.before, min(began + wanted.after, wanted.now)
    if look.first > start + slack or look.last < end - slack:
        yield Fault(
            "other-hours",
            f"{covers}; wanted is {_span(start, end, wanted.zone)}.",
            "Collect all of these hours, if they are still there",
        )


def last_restart(looks: Sequence[Look], asset: str) -> datetime | None:
    """The last restart that evidence of this asset has."""
    moments = [
        moment
        for look in looks
        if not look.machines or any(one.asset == asset for one in look.machines)
        for moment in look.restarts
    ]
    return max(moments, default=None)


def _said(moment: datetime, zone: tzinfo) -> str:
    return f"{moment.astimezone(zone):%-d %b %H:%M}"


def _span(start: datetime, end: datetime, zone: tzinfo) -> str:
    a, b = start.astimezone(zone), end.astimezone(zone)
    until = f"{b:%H:%M}" if a.date() == b.date() else _said(end, zone)
    return f"{_said(start, zone)} to {until}"
