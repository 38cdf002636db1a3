"""Exhibits against the desk's limits, and against what it wants to see."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from datetime import timedelta
from pathlib import PurePath
from typing import Literal

from pydantic import BaseModel, ConfigDict, InstanceOf

from sealpacket.core.evidence.completeness import Expected, Fault, faults_of
from sealpacket.core.evidence.inspection import Look
from sealpacket.core.patterns import compiled
from sealpacket.core.sheets.answers import Answer, Facts
from sealpacket.core.sheets.checks.result import Check, passed, say_size
from sealpacket.core.sheets.conditions import holds
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.sending import Attachments, Evidence
from sealpacket.core.words import joined

_ZIP_OVERHEAD = 300
"""Bytes that a ZIP needs for each file beside its content, and a little more."""
_CMS_OVERHEAD = 2_000


class ExhibitState(BaseModel):
    """The state of an exhibit for the checks. Sizes are bytes of the outgoing copy, or of the original before there
    is one.

    `packed` is its size in a ZIP, where it is known; `blank` where it holds nothing but blank space; `look` what it
    holds, and `expected` what it should be like.
    """

    model_config = ConfigDict(frozen=True)

    name: str
    state: str
    size: int
    leaks: int = 0
    still: tuple[str, ...] = ()
    """Placeholders of the originals that leak, each with its place."""
    released: bool = False
    reason: str = ""
    packed: int | None = None
    blank: bool = False
    look: Look | None = None
    expected: InstanceOf[Expected] | None = None

    def faults(
        self, before: timedelta = timedelta(), after: timedelta = timedelta()
    ) -> list[Fault]:
        """Faults of its content, if it should cover the time from `before` to `after` the event."""
        if self.look is None or self.expected is None:
            return []
        wanted = replace(self.expected, before=before, after=after)
        return list(faults_of(self.name, self.look, wanted))


def check_exhibits(
    limits: Attachments, exhibits: Sequence[ExhibitState], desk: str, *, wanted: bool = True
) -> Iterator[Check]:
    """Number, sizes, endings and states."""
    if not exhibits and wanted and limits.max_files:
        yield Check(
            code="no-exhibit",
            level="hint",
            sentence="There is no evidence in the packet yet.",
            remedy="Add a log or a configuration",
            act="add_exhibit",
        )
    for exhibit in exhibits:
        yield from _check_exhibit(limits, exhibit, desk)
    if len(exhibits) > limits.max_files:
        yield Check(
            code="too-many",
            level="stop",
            act="open_exhibits",
            sentence=f"{desk} takes {limits.max_files} attachments, and there are {len(exhibits)}.",
            remedy="Take out what says the least",
        )
    together = sum(_going_out(limits, exhibit) for exhibit in exhibits)
    if together > limits.max_total:
        packed = " packed" if limits.naming.archive else ""
        yield Check(
            code="too-large-together",
            level="stop",
            act="open_exhibits",
            sentence=f"{desk} takes {say_size(limits.max_total)} in all, and there are {say_size(together)}{packed}.",
            remedy="Cut the logs to the hours that matter",
        )


def _going_out(limits: Attachments, exhibit: ExhibitState) -> int:
    size = exhibit.size
    if limits.naming.archive:
        size = (
            (size if exhibit.packed is None else exhibit.packed)
            + _ZIP_OVERHEAD
            + 2 * len(exhibit.name.encode())
        )
    return size + (_CMS_OVERHEAD if limits.encrypt_to else 0)


def _check_exhibit(limits: Attachments, exhibit: ExhibitState, desk: str) -> Iterator[Check]:
    def stop(code: str, sentence: str, remedy: str, act: str = "open_exhibit") -> Check:
        return Check(
            code=code, level="stop", sentence=sentence, remedy=remedy, act=act, target=exhibit.name
        )

    name = exhibit.name
    faults: list[Check] = []
    if exhibit.size == 0 or exhibit.blank:
        what = "is empty" if exhibit.size == 0 else "holds nothing but blank space"
        faults.append(stop("empty", f"{name} {what}.", "Collect it again, or take it out"))
    if exhibit.size + (_CMS_OVERHEAD if limits.encrypt_to else 0) > limits.max_size:
        faults.append(
            stop(
                "too-large",
                f"{name} has {say_size(exhibit.size)}; {desk} takes {say_size(limits.max_size)}.",
                "Cut it to the hours that matter",
            )
        )
    if limits.endings and PurePath(name).suffix.lower() not in limits.endings:
        faults.append(
            stop(
                "ending",
                f"{desk} takes {_list(limits.endings)}, and {name} is something else.",
                "Take it out",
            )
        )
    match exhibit.state:
        case "ready" if exhibit.leaks:
            faults.append(
                stop(
                    "leak",
                    _still_there(exhibit),
                    _TAKE_OUT if exhibit.still else "Redact it again",
                    "redact",
                )
            )
        case "held" if not exhibit.released:
            faults.append(
                stop(
                    "held",
                    f"{name} is held: {exhibit.reason}",
                    "A releaser can let it go as it is, with a reason",
                    "release_exhibit",
                )
            )
        case "ready" | "held":
            pass
        case "failed":
            faults.append(
                stop(
                    "failed",
                    f"Redacting {name} failed: {exhibit.reason}",
                    "Redact it again",
                    "redact",
                )
            )
        case _:
            faults.append(stop("unfinished", f"{name} is still being redacted.", "Wait a moment"))
    if not faults:
        yield passed(
            "exhibit", f"{name} is within the desk's limits, redacted and checked for leaks."
        )
    yield from faults


def wanted_evidence(sheet: Sheet, answers: Sequence[Answer], facts: Facts) -> list[Evidence]:
    """The evidence that the desk wants of this packet."""
    values = {
        answer.question: answer.value
        for answer in answers
        if answer.value is not None and answer.shown
    }
    return [rule for rule in sheet.evidence if holds(rule.when, values, facts)]


def check_evidence(
    sheet: Sheet, answers: Sequence[Answer], exhibits: Sequence[ExhibitState], facts: Facts
) -> Iterator[Check]:
    """Whether each thing that the desk wants to see is there."""
    blamed: set[str] = set()
    for rule in wanted_evidence(sheet, answers, facts):
        best = best_for(rule, exhibits)
        if best is not None and not best.blank:
            faults = faults_for(rule, best)
            if not faults:
                yield passed("evidence", f"There is something for: {rule.what}.")
            elif best.name not in blamed:
                blamed.add(best.name)
                yield from _faulty(best, faults, "stop" if rule.required else "warn")
            continue
        hours = _span(rule)
        kit = f" The diagnostic kit {rule.kit} gathers it." if rule.kit else ""
        yield Check(
            code="evidence",
            level="stop" if rule.required else "warn",
            act="add_exhibit",
            target=rule.kit,
            sentence=f"{sheet.name} wants to see: {rule.what}{hours}.",
            remedy=f"Add it.{kit}",
        )


def faults_for(rule: Evidence, exhibit: ExhibitState) -> list[Fault]:
    """Faults of an exhibit as the evidence that a rule wants."""
    hours = timedelta(hours=rule.hours_before), timedelta(hours=rule.hours_after)
    found = exhibit.faults(*hours)
    return found if any(hours) else [one for one in found if one.code not in _OF_HOURS]


_OF_HOURS = ("wrong-hours", "other-hours")


def best_for(rule: Evidence, exhibits: Sequence[ExhibitState]) -> ExhibitState | None:
    """The exhibit that serves a rule best, if any serves it."""
    serving = [one for one in exhibits if _serves(rule, one.name)]
    return min(serving, key=lambda one: (one.blank, len(faults_for(rule, one))), default=None)


def _faulty(
    exhibit: ExhibitState, faults: Sequence[Fault], level: Literal["stop", "warn"]
) -> Iterator[Check]:
    for fault in faults:
        yield Check(
            code=f"evidence-{fault.code}",
            level=level,
            act="open_exhibit",
            target=exhibit.name,
            sentence=fault.sentence,
            remedy=fault.remedy,
        )


def check_others(
    sheet: Sheet, answers: Sequence[Answer], exhibits: Sequence[ExhibitState], facts: Facts
) -> Iterator[Check]:
    """Faults of exhibits that no rule wants: empty, broken, or from another machine."""
    rules = wanted_evidence(sheet, answers, facts)
    asked = {best.name for rule in rules if (best := best_for(rule, exhibits)) is not None}
    for exhibit in exhibits:
        if exhibit.name not in asked and not exhibit.blank:
            faults = [one for one in exhibit.faults() if one.code not in _OF_HOURS]
            yield from _faulty(exhibit, faults, "warn")


def _span(rule: Evidence) -> str:
    parts = []
    if rule.hours_before:
        parts.append(f"from {_hours(rule.hours_before)} before it began")
    if rule.hours_after:
        parts.append(f"to {_hours(rule.hours_after)} after")
    return ", " + " ".join(parts) if parts else ""


def _hours(number: int) -> str:
    return "an hour" if number == 1 else f"{number} hours"


def _serves(rule: Evidence, name: str) -> bool:
    if rule.endings and PurePath(name).suffix.lower() not in rule.endings:
        return False
    return not rule.names or compiled(rule.names).search(name) is not None


def _list(items: Iterable[str]) -> str:
    return ", ".join(items)


_MOST_TOLD = 5
_TAKE_OUT = (
    "Look up in the legend which value that is, take it out of the file, and add the file again"
)


def _still_there(exhibit: ExhibitState) -> str:
    name, leaks = exhibit.name, exhibit.leaks
    said = (
        f"An original is still in {name}"
        if leaks == 1
        else f"{leaks} originals are still in {name}"
    )
    return f"{said}: {joined(exhibit.still[:_MOST_TOLD])}." if exhibit.still else f"{said}."
