"""Hints that a good colleague would give before a packet goes out. Never a stop: a person may know better."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any

from pydantic import BaseModel, ConfigDict

from sealpacket.core.sheets.answers import Answer, Facts, People
from sealpacket.core.sheets.checks.result import Check
from sealpacket.core.sheets.hours import is_outside
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.words import joined


class Seen(BaseModel):
    """Facts from outside the packet that hints use.

    `serial_fits` is another model whose serials look like this one, `elsewhere` by exhibit the packet of another vendor
    that it was attached to, `closed` says until when the desk is closed, `at` is this moment.
    """

    model_config = ConfigDict(frozen=True)

    serial_fits: str = ""
    elsewhere: dict[str, str] = {}
    closed: str = ""
    at: datetime | None = None


_EMPTY = frozenset({
    "the", "a", "an", "my", "our", "new", "urgent", "please", "help", "hi", "hello", "again", "still",
    "some", "there", "is", "it", "its", "has", "does", "do", "not", "no", "with", "of", "on", "at",
    "problem", "problems", "issue", "issues", "error", "errors", "fault", "faults", "broken", "question",
    "questions", "request", "ticket", "case", "test", "working", "work", "works", "doesn", "isn", "t", "s",
    "failure", "failed", "fails", "fail", "kiosk", "switch", "array", "firewall", "ups", "printer",
    "server", "asap", "fix", "now", "link", "something", "wrong", "machine", "device", "down",
})  # fmt: skip
"""Words that say nothing of what it is about, even together."""
_SAYS: Mapping[str, tuple[re.Pattern[str], str]] = {
    "what": (re.compile(r"\w{3,}[^\w\n]+(?:\w+[^\w\n]+){4,}\w+"), "what is seen"),
    "since": (
        re.compile(
            r"(?i)\b(since|after|until|before|yesterday|today|this (morning|afternoon|week)|last|ago|at \d|"
            r"\d{1,2}:\d\d|"
            r"(mon|tues|wednes|thurs|fri|satur|sun)day|\d{4}-\d\d|january|february|march|april|may|june|july|august|"
            r"september|october|november|december|always|night)\b"
        ),
        "since when",
    ),
    "changed": (
        re.compile(
            r"(?i)\b(chang\w*|updat\w*|upgrad\w*|replac\w*|mov(?:ed|ing)|new|install\w*|nothing was|no change|"
            r"configur\w*)\b"
        ),
        "what changed before",
    ),
    "tried": (
        re.compile(r"(?i)\b(tried|restart\w*|reboot\w*|swap\w*|reset|check\w*|looked|test\w*|cleaned|reseat\w*|without)\b"),
        "what was tried",
    ),
}  # fmt: skip


def check_as_colleague(
    sheet: Sheet, answers: Sequence[Answer], people: People, facts: Facts, seen: Seen
) -> Iterator[Check]:
    """Everything that would be said over the shoulder."""
    kind = sheet.kind(_text(facts, "packet.need"))
    if kind is None or kind.technical:
        yield from _description(sheet, answers, facts)
    yield from _title(facts)
    yield from _thing(seen, facts)
    yield from _zone(sheet, answers, facts)
    yield from _contacts(sheet, answers, people, seen.at)
    yield from _category(sheet, answers, facts)
    if _text(facts, "login.mailbox_read") == "no" and all(
        rule.requirement != "mailbox_read" for rule in sheet.requirements
    ):
        yield Check(
            code="mailbox",
            level="warn",
            act="use_login",
            sentence=f"Nobody reads the mailbox of {_text(facts, 'login.name')}: what the desk asks would wait there.",
            remedy="Use a login whose mailbox is read",
        )
    for name, packet in sorted(seen.elsewhere.items()):
        yield Check(
            code="file-of-another",
            level="warn",
            act="open_exhibit",
            target=name,
            sentence=f"{name} was attached to {packet}, which goes to another vendor.",
            remedy="Make sure that it is about this thing; take it out if not",
        )
    if seen.closed:
        yield Check(
            code="desk-closed",
            level="hint",
            sentence=f"{sheet.name} is closed until {seen.closed}.",
            remedy="It can be sent now; nobody answers before.",
        )


def _text(facts: Facts, path: str) -> str:
    fact = facts.get(path)
    return "" if fact is None else str(fact.value)


def _description(sheet: Sheet, answers: Sequence[Answer], facts: Facts) -> Iterator[Check]:
    """Hints if the description lacks what happened, since when, what changed, or what was tried."""
    told: list[str] = [_text(facts, "packet.note")]
    target, since = "", False
    for answer in answers:
        question = sheet.question(answer.question)
        if question is None or not answer.value or not answer.shown:
            continue
        if question.form in ("text", "long", "steps"):
            told.append(answer.value)
            target = target or (question.id if question.form == "long" else "")
        since = since or question.form in ("moment", "date")
    text = "\n".join(told)
    missing = [
        words
        for key, (pattern, words) in _SAYS.items()
        if not pattern.search(text) and not (key == "since" and since)
    ]
    if missing:
        yield Check(
            code="thin",
            level="warn" if len(missing) > 2 else "hint",
            act="answer" if target else "mend_note",
            target=target,
            sentence=f"The description does not say {joined(missing)}.",
            remedy="Add it: it is what a desk asks back first",
        )


def _title(facts: Facts) -> Iterator[Check]:
    title = _text(facts, "packet.title").strip()
    words = re.findall(r"[a-z0-9]+", title.casefold())
    if title and all(word in _EMPTY for word in words):
        yield Check(
            code="empty-title",
            level="warn",
            act="mend_title",
            sentence=f"The title “{title}” says nothing.",
            remedy="Name the thing and what it does: Kiosk 2 does not read cards",
        )


def _thing(seen: Seen, facts: Facts) -> Iterator[Check]:
    if seen.serial_fits:
        yield Check(
            code="serial-model",
            level="warn",
            act="mend_asset",
            target=_text(facts, "asset.serial"),
            sentence=f"Serial {_text(facts, 'asset.serial')} looks like one of {seen.serial_fits}, and the register "
            f"says {_text(facts, 'asset.product_name')}.",
            remedy="Compare both with the label",
        )


def _zone(sheet: Sheet, answers: Sequence[Answer], facts: Facts) -> Iterator[Check]:
    site = _text(facts, "site.time_zone")
    for answer in answers:
        question = sheet.question(answer.question)
        if question and question.form == "zone" and answer.value and site and answer.value != site:
            yield Check(
                code="zone",
                level="warn",
                act="answer",
                target=question.id,
                sentence=f"It says {answer.value}, and {_text(facts, 'site.name')} is in {site}.",
                remedy="Check the asset's site: calls follow this time zone",
            )


def _contacts(
    sheet: Sheet, answers: Sequence[Answer], people: People, at: datetime | None
) -> Iterator[Check]:
    by_phone = [
        a.question
        for a in answers
        if a.value == "phone" and (q := sheet.question(a.question)) and q.choices
    ]
    for answer in answers:
        question = sheet.question(answer.question)
        if question is None or question.form != "person" or not answer.value or not answer.shown:
            continue
        person: Mapping[str, Any] = people.get(answer.value, {})
        if person.get("away"):
            yield Check(
                code="contact-away",
                level="warn",
                act="answer",
                target=question.id,
                sentence=f"{person['name']} is away until {person['away']}.",
                remedy="Name someone who is there",
            )
        for ident in by_phone if person.get("reach_by") == "mail" else []:
            yield Check(
                code="reach",
                level="hint",
                act="answer",
                target=ident,
                sentence=f"{person['name']} wants to be written to, and this asks for a call.",
                remedy="Choose mail",
            )
        works, zone = person.get("hours") or "", person.get("time_zone") or "UTC"
        if by_phone and at is not None and is_outside(works, zone, at):
            yield Check(
                code="contact-hours",
                level="warn",
                act="answer",
                target=question.id,
                sentence=f"This asks for a call, and {person['name']} works {works}: nobody would answer it now.",
                remedy="Name someone who is there, or choose mail",
            )


def _category(sheet: Sheet, answers: Sequence[Answer], facts: Facts) -> Iterator[Check]:
    need = _text(facts, "packet.need")
    for answer in answers:
        question = sheet.question(answer.question)
        if (
            question is None
            or not answer.value
            or not answer.shown
            or question.form not in ("choice", "tree")
        ):
            continue
        way = question.ways.get(answer.value)
        for choice in way.whole if way else ():
            if choice.needs and need not in choice.needs:
                yield Check(
                    code="category-kind",
                    level="warn",
                    act="answer",
                    target=question.id,
                    sentence=f"“{choice.label}” is for {joined(choice.needs)}, and this packet is about: {need}.",
                    remedy="Choose another, or change the kind of need",
                )
