"""Checks: a packet against desk, register and evidence, before the desk would say it."""

from __future__ import annotations

import zoneinfo
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from pathlib import PurePath
from typing import Any, Literal

import phonenumbers
import re2
from pydantic import BaseModel, ConfigDict

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets.answers import Answer
from sealpacket.core.sheets.model import Attachments, Question, Sheet

Level = Literal["stop", "warn", "hint", "pass"]


class Check(BaseModel):
    """One test. `act` and `target` tell an interface where to lead; `way_out` tells the person."""

    model_config = ConfigDict(frozen=True)

    code: str
    level: Level
    sentence: str
    way_out: str = ""
    act: str = ""
    target: str = ""


class ExhibitState(BaseModel):
    """What the checks need to know of an exhibit. Sizes are bytes of the outgoing copy, or the original's before it."""

    model_config = ConfigDict(frozen=True)

    name: str
    state: str
    size: int
    leaks: int = 0
    released: bool = False
    reason: str = ""


def check_packet(
    sheet: Sheet,
    answers: Sequence[Answer],
    ruling: Ruling | None,
    exhibits: Sequence[ExhibitState],
    people: Mapping[str, Mapping[str, Any]],
) -> tuple[Check, ...]:
    """Every check of the packet, stops first. `people` are those who can be named, by key."""
    checks = [
        *_check_ruling(sheet, ruling),
        *_check_answers(sheet, answers, people),
        *_check_duties(sheet, answers, people),
        *_check_exhibits(sheet.attachments, exhibits, sheet.name),
    ]
    order = {"stop": 0, "warn": 1, "hint": 2, "pass": 3}
    return tuple(sorted(checks, key=lambda check: order[check.level]))


def _passed(code: str, sentence: str) -> Check:
    return Check(code=code, level="pass", sentence=sentence)


def _check_ruling(sheet: Sheet, ruling: Ruling | None) -> Iterator[Check]:
    if ruling is None:
        yield Check(
            code="no-thing", level="stop", sentence="The packet does not say what it is about.",
            way_out="Name the asset.", act="name_thing",
        )  # fmt: skip
        return
    for warning in ruling.warnings:
        yield Check(code="cover-warning", level="warn", sentence=warning, way_out="Read the ruling.", act="open_ruling")
    if not ruling.holds:
        cure = ruling.cures[0] if ruling.cures else None
        yield Check(
            code="cover",
            level="stop",
            sentence=ruling.reasons[-1],
            way_out=cure.sentence if cure else "Find out with the vendor what would cover it.",
            act=cure.act if cure else "",
            target=(cure.target or "") if cure else "",
        )
    elif ruling.route not in sheet.takes.routes:
        yield Check(
            code="wrong-route", level="stop", act="open_ruling",
            sentence=f"This goes by {ruling.route}, and {sheet.name} does not take that.",
            way_out="Choose the desk for this route.",
        )  # fmt: skip
    elif ruling.need not in sheet.takes.needs:
        yield Check(
            code="wrong-need", level="stop", act="open_ruling",
            sentence=f"{sheet.name} does not take requests of the kind {ruling.need}.",
            way_out="Choose another kind of need or another desk.",
        )  # fmt: skip
    else:
        yield _passed("cover", f"Covered by contract {ruling.contract}." if ruling.contract else "The route is open.")


def _check_answers(sheet: Sheet, answers: Sequence[Answer], people: Mapping[str, Mapping[str, Any]]) -> Iterator[Check]:
    for answer in answers:
        question = sheet.question(answer.question)
        if question is None or not answer.shown:
            continue
        if answer.value is None:
            if answer.required:
                yield Check(
                    code="unanswered", level="stop", sentence=f"{sheet.name} wants to know: {question.ask}",
                    way_out="Answer it", act="answer", target=question.id,
                )  # fmt: skip
            continue
        fault = answer_fault(question, answer.value, people)
        if fault:
            yield Check(
                code="answer-form", level="stop", sentence=f"{question.ask} {fault}", way_out="Mend the answer",
                act="answer", target=question.id,
            )  # fmt: skip
        else:
            yield _passed("answer", f"Answered: {question.ask}")


def answer_fault(question: Question, value: str, people: Mapping[str, Mapping[str, Any]]) -> str | None:
    """What is wrong with the form of an answer, as a sentence; None if it can stand."""
    if len(value) > question.at_most:
        return f"The answer has {len(value)} characters; the desk takes {question.at_most}."
    if len(value.strip()) < question.at_least:
        return f"The answer is too short to help: the desk wants at least {question.at_least} characters."
    if question.pattern is not None and re2.fullmatch(question.pattern, value) is None:
        return f"The answer does not have the form {question.pattern}."
    match question.form:
        case "choice" | "tree":
            return None if value in dict(question.leaves()) else f"“{value}” is not one of the desk's choices."
        case "moment":
            return _moment_fault(value)
        case "zone":
            return None if value in zoneinfo.available_timezones() else f"“{value}” is not a time zone name."
        case "person":
            return _person_fault(value, people)
    return None


def _moment_fault(value: str) -> str | None:
    try:
        moment = datetime.fromisoformat(value)
    except ValueError:
        return "Give date and time, such as 2026-11-23T08:40+00:00 (RFC 3339)."
    return None if moment.tzinfo else "The time needs its offset, such as +00:00."


def _person_fault(value: str, people: Mapping[str, Mapping[str, Any]]) -> str | None:
    person = people.get(value)
    if person is None:
        return f"“{value}” is not a person in the register."
    phone = person.get("phone")
    if not phone:
        return f"{person['name']} has no telephone number in the register."
    try:
        phonenumbers.parse(phone, None)
    except phonenumbers.NumberParseException:
        return f"The number of {person['name']} has no country code."
    return None


def _check_duties(sheet: Sheet, answers: Sequence[Answer], people: Mapping[str, Mapping[str, Any]]) -> Iterator[Check]:
    named = [a for a in answers if a.value and (q := sheet.question(a.question)) and q.form == "person"]
    for answer in answers:
        question = sheet.question(answer.question)
        if question is None or not answer.value or question.form not in ("choice", "tree"):
            continue
        choice = dict(question.leaves()).get(answer.value)
        if choice is None or "reachable_day_and_night" not in choice.duties:
            continue
        for contact in named:
            person = people.get(contact.value or "")
            if person and not person.get("on_call"):
                standby = sorted(p["name"] for p in people.values() if p.get("on_call"))
                yield Check(
                    code="duty",
                    level="stop",
                    sentence=f"“{choice.label}” needs a person reachable day and night, and {person['name']} is not.",
                    way_out=f"Name {standby[0]} as contact" if standby else "Choose a lower severity",
                    act="answer",
                    target=contact.question if standby else question.id,
                )
            elif person:
                yield _passed("duty", f"{person['name']} is reachable day and night.")


def _check_exhibits(limits: Attachments, exhibits: Sequence[ExhibitState], desk: str) -> Iterator[Check]:
    if not exhibits:
        yield Check(
            code="no-exhibit", level="hint", sentence="There is no evidence in the packet yet.",
            way_out="Add a log or a configuration", act="add_exhibit",
        )  # fmt: skip
    for exhibit in exhibits:
        yield from _check_exhibit(limits, exhibit, desk)
    if len(exhibits) > limits.most:
        yield Check(
            code="too-many", level="stop", act="open_exhibits",
            sentence=f"{desk} takes {limits.most} attachments, and there are {len(exhibits)}.",
            way_out="Take out what says the least",
        )  # fmt: skip
    together = sum(exhibit.size for exhibit in exhibits)
    if together > limits.together:
        yield Check(
            code="too-large-together", level="stop", act="open_exhibits",
            sentence=f"{desk} takes {say_size(limits.together)} in all, and there are {say_size(together)}.",
            way_out="Cut the logs to the hours that matter",
        )  # fmt: skip


def _check_exhibit(limits: Attachments, exhibit: ExhibitState, desk: str) -> Iterator[Check]:
    def stop(code: str, sentence: str, way_out: str, act: str = "open_exhibit") -> Check:
        return Check(code=code, level="stop", sentence=sentence, way_out=way_out, act=act, target=exhibit.name)

    name = exhibit.name
    faults: list[Check] = []
    if exhibit.size == 0:
        faults.append(stop("empty", f"{name} is empty.", "Collect it again, or take it out"))
    if exhibit.size > limits.each:
        faults.append(
            stop("too-large", f"{name} has {say_size(exhibit.size)}; {desk} takes {say_size(limits.each)}.",
                 "Cut it to the hours that matter")
        )  # fmt: skip
    if limits.endings and PurePath(name).suffix.lower() not in limits.endings:
        faults.append(
            stop("ending", f"{desk} takes {_list(limits.endings)}, and {name} is something else.", "Take it out")
        )
    match exhibit.state:
        case "ready" if exhibit.leaks:
            faults.append(stop("leak", f"{exhibit.leaks} originals are still in {name}.", "Redact it again", "redact"))
        case "held" if not exhibit.released:
            faults.append(
                stop("held", f"{name} is held: {exhibit.reason}", "A releaser can let it go as it is, with a reason",
                     "release_exhibit")
            )  # fmt: skip
        case "ready" | "held":
            pass
        case "failed":
            faults.append(stop("failed", f"Redacting {name} failed: {exhibit.reason}", "Redact it again", "redact"))
        case _:
            faults.append(stop("unfinished", f"{name} is still being redacted.", "Wait a moment"))
    if not faults:
        yield _passed("exhibit", f"{name} is within the desk's limits, redacted and checked for leaks.")
    yield from faults


def say_size(size: int) -> str:
    """Bytes in decimal units: 30.1 MB."""
    value = float(size)
    for unit in ("bytes", "kB", "MB", "GB"):
        if value < 1000 or unit == "GB":
            return f"{value:.0f} bytes" if unit == "bytes" else f"{value:.1f} {unit}"
        value /= 1000
    raise AssertionError


def _list(items: Iterable[str]) -> str:
    return ", ".join(items)
