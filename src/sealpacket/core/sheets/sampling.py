"""Sample packets made from a sheet alone: to look at what it writes, and to try it against a stand-in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from random import Random
from typing import Any

from sealpacket.core.sheets.answers import Answer, Fact, answers_for
from sealpacket.core.sheets.checks import answer_fault
from sealpacket.core.sheets.model import Question, Sheet
from sealpacket.core.sheets.rendering import render

PERSON: Mapping[str, Any] = {
    "key": "sample", "name": "Sam Sample", "mail": "sam.sample@quillmere.example", "phone": "+441632960199",
    "language": "en", "time_zone": "Europe/London", "hours": "Mo–Fr 08:30–17:00", "on_call": True,
}  # fmt: skip
_FACTS: Mapping[str, str] = {
    "packet.number": "P-0001", "packet.title": "A sample of what goes wrong",
    "packet.note": "Since this morning it does not do what it should; nothing was changed before.",
    "packet.need": "fault", "packet.noted_at": "2026-11-23T08:40+00:00", "asset.serial": "SAMPLE-0001",
    "asset.name": "Sample", "asset.software_version": "1.2.3", "asset.product": "SAMPLE",
    "asset.product_name": "Sample", "vendor.name": "Sample vendor", "site.key": "sample",
    "site.name": "Sample site", "site.address": "1 Sample Street",
    "site.postcode": "QM1 1AA", "site.country": "GB", "site.time_zone": "Europe/London", "site.contact": "sample",
    "login.name": "sam.sample@quillmere.example", "login.person": "sample", "contract.number": "C-0001",
    "entitlement.reference": "E-0001", "entitlement.level": "Care",
}  # fmt: skip
_PROSE = (
    "since the morning the display shows a line and after a restart it comes back on ports hosts and volumes while "
    "others of its kind are well we looked at cables power and logs and found no reason the effect is felt by all"
)


@dataclass(frozen=True)
class Sample:
    """A packet that the sheet would let through: its answers, and what is written for the desk."""

    answers: tuple[Answer, ...]
    body: dict[str, Any]

    @property
    def typed(self) -> int:
        """How many answers a person would have typed."""
        return sum(answer.typed for answer in self.answers)


def sample_packet(sheet: Sheet, seed: int = 0, known: Mapping[str, str] | None = None) -> Sample:
    """A good packet for a desk: the same seed makes the same one. `known` are facts that matter to the desk.

    Raises ValueError if a question has a pattern and no example that fits: nothing can be made up for it.
    """
    chance = Random(seed)  # noqa: S311 - samples, no secrets
    facts = {path: Fact(value=value, source="a sample") for path, value in {**_FACTS, **(known or {})}.items()}
    typed: dict[str, str] = {}
    for question in sheet.questions:
        answer = next(a for a in answers_for(sheet, typed, facts) if a.question == question.id)
        if not answer.shown:
            continue
        fits = answer.value is not None and answer_fault(question, answer.value, {"sample": PERSON}) is None
        if fits and chance.random() < 0.6:
            continue
        if answer.required or answer.value is not None or chance.random() < 0.5:
            typed[question.id] = _made_up(question, chance)
    answers = answers_for(sheet, typed, facts)
    return Sample(answers, render(sheet.write.body, _values(sheet, answers, facts)))


def _values(sheet: Sheet, answers: tuple[Answer, ...], facts: Mapping[str, Fact]) -> dict[str, Any]:
    values: dict[str, Any] = {path: fact.value for path, fact in facts.items()}
    for answer in answers:
        values[f"answers.{answer.question}"] = answer.value
        question = sheet.question(answer.question)
        if question and question.form == "person" and answer.value:
            values |= {f"answers.{answer.question}.{field}": value for field, value in PERSON.items()}
    return values


def _made_up(question: Question, chance: Random) -> str:
    match question.form:
        case "choice" | "tree":
            return chance.choice([path for path, _ in question.leaves()])
        case "person":
            return "sample"
        case "moment":
            return f"2026-11-{chance.randint(10, 23)}T{chance.randint(0, 23):02d}:40+00:00"
        case "zone":
            return "Europe/London"
        case _:
            return question.example if question.pattern else _text(question, chance)


def _text(question: Question, chance: Random) -> str:
    """Words between the fewest and the most characters, sometimes right at either."""
    most = min(question.at_most, max(question.at_least, 5) + 400)
    wanted = chance.choice([max(question.at_least, 5), most, chance.randint(max(question.at_least, 5), most)])
    text, words = "", _PROSE.split()
    while len(text) < wanted:
        text += chance.choice(words) + " "
    return (text[:wanted].rstrip() + "." * wanted)[:wanted]
