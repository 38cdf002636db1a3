"""Sample packets made from a sheet alone: to see what it writes, and to try it at a simulated desk."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from random import Random
from typing import Any

from sealpacket.core.sheets.answers import (
    Answer,
    Fact,
    Facts,
    People,
    answer_fault,
    answer_to,
    answers_for,
)
from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms import FORMS, Known
from sealpacket.core.sheets.made_up import like
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.outgoing import invented_texts, outgoing_values, typed_texts
from sealpacket.core.sheets.values import OutgoingValues
from sealpacket.core.sheets.writing import Case, cases_of

PERSON: Mapping[str, Any] = {
    "key": "sample", "name": "Sam Sample", "mail": "sam.sample@quillmere.example", "phone": "+441632960199",
    "language": "en", "time_zone": "Europe/London", "hours": "Mo–Fr 08:30–17:00", "on_call": True,
    "reach_by": "mail", "access_needs": "", "second_phone": "+441632960198", "instructions": "Ask for the desk",
}  # fmt: skip
SAMPLE_PEOPLE: Mapping[str, Mapping[str, Any]] = {
    "sample": PERSON,
    "second": {
        **PERSON,
        "key": "second",
        "name": "Sol Second",
        "mail": "sol.second@quillmere.example",
    },
}
_FACTS: Mapping[str, str] = {
    "packet.number": "P-0001", "packet.title": "A sample of what goes wrong",
    "packet.note": "Since this morning it does not do what it should; nothing was changed before, a restart was tried.",
    "packet.need": "fault", "packet.noted_at": "2026-11-23T08:40+00:00", "packet.began_at": "2026-11-23T08:10+00:00",
    "packet.sealed_on": "2026-11-23", "packet.ticket": "IT-40711",
    "thing.tried": "2026-11-23 08:50 switched off and on: no change\n2026-11-23 09:05 other cable: no change",
    "thing.carries": "Sample system 4.1", "thing.neighbours": "Sample SAMPLE-0002 (same model)",
    "thing.changes": "2026-11-20: software version 1.2.2 → 1.2.3", "thing.open": "P-0002: Another sample",
    "context.program": "Sample desk 4.2", "context.system": "sample-prod", "context.user": "sample",
    "context.screen": "Loans", "context.message_code": "LN-0417", "context.message_text": "The loan was not kept",
    "context.stack": "at loans.keep", "context.rights": "loans: read",
    "asset.serial": "SAMPLE-0001", "asset.name": "Sample", "asset.status": "in_use",
    "asset.software_version": "1.2.3", "asset.product": "SAMPLE", "asset.product_name": "Sample",
    "asset.host_name": "sample.quillmere.example", "asset.shipped_on": "2025-11-02", "asset.installed_on": "2025-11-20",
    "asset.registered_on": "2025-11-21", "vendor.name": "Sample vendor",
    "vendor.customer_number": "C-100", "site.town": "Quillmere", "site.state": "", "site.key": "sample",
    "site.name": "Sample site", "site.address": "1 Sample Street", "site.mailing": "1 Sample Street\nQuillmere QM1 1AA",
    "site.shipping": "2 Sample Yard\nQuillmere QM1 2AA", "site.hours": "Mo–Fr 08:30–17:00",
    "site.instructions": "Ring at the yard",
    "site.postcode": "QM1 1AA", "site.country": "GB", "site.time_zone": "Europe/London", "site.contact": "sample",
    "login.name": "sam.sample@quillmere.example", "login.person": "sample", "login.mailbox_read": "yes",
    "login.contracts": "C-0001", "contract.number": "C-0001", "entitlement.reference": "E-0001",
    "entitlement.level": "Care", "ruling.route": "support", "house.name": "Quillmere County Libraries",
}  # fmt: skip


@dataclass(frozen=True)
class Sample:
    """A packet that the sheet would let through: its answers, and the cases written of it."""

    answers: tuple[Answer, ...]
    cases: tuple[Case, ...]
    values: OutgoingValues

    @property
    def body(self) -> dict[str, Any]:
        """The body of the first case."""
        return self.cases[0].body

    @property
    def typed(self) -> int:
        """How many answers a person would have typed."""
        return sum(answer.typed for answer in self.answers)


def sample_facts(sheet: Sheet, known: Mapping[str, str] | None = None) -> dict[str, Fact]:
    """The facts of a sample; its need is the first kind that the desk takes unless `known` says another."""
    first = {"packet.need": sheet.kinds[0].need, "ruling.route": sheet.kinds[0].routes[0]}
    merged = {**_FACTS, **first, **(known or {})}
    return {
        path: Fact(value=value, source="a sample") for path, value in merged.items() if value != ""
    }


def sample_packet(sheet: Sheet, seed: int = 0, known: Mapping[str, str] | None = None) -> Sample:
    """A good packet for a desk: the same seed makes the same one. `known` are facts that matter to the desk."""
    chance = Random(seed)  # noqa: S311 - samples, no secrets
    facts = sample_facts(sheet, known)
    typed: dict[str, str] = {}
    values: dict[str, str] = {}
    here = Known(people=SAMPLE_PEOPLE, values=values, facts=facts)
    for question in sheet.questions:
        answer = answer_to(sheet, question, None, values, facts)
        if _draw(question, answer, chance, here, typed, facts):
            answer = answer_to(sheet, question, typed.get(question.id), values, facts)
        if answer.value is not None:
            values[question.id] = answer.value
    answers = answers_for(sheet, typed, facts)
    outgoing = sample_values(sheet, answers, facts)
    return Sample(answers, cases_of(sheet, outgoing), outgoing)


def _draw(
    question: Question,
    answer: Answer,
    chance: Random,
    here: Known,
    typed: dict[str, str],
    facts: dict[str, Fact],
) -> bool:
    """Make an answer up where one is wanted: typed, or a fact that nobody may type over. Whether there is a new one."""
    if not answer.shown:
        return False
    fits = answer.value is not None and _stands(question, answer.value, here)
    need = str(facts["packet.need"].value)
    if answer.fixed:
        if not fits:
            made = made_up(question, chance, here, need)
            facts[answer.fact] = Fact(value=made, source="a sample")
        return not fits
    if fits and chance.random() < 0.6:
        return False
    if answer.required or answer.value is not None or chance.random() < 0.5:
        typed[question.id] = made_up(question, chance, here, need)
        return True
    return False


def sample_values(
    sheet: Sheet, answers: Sequence[Answer], facts: Facts, people: People = SAMPLE_PEOPLE
) -> OutgoingValues:
    """The values of a packet that nobody typed."""
    texts = invented_texts(typed_texts(sheet, answers, facts))
    return outgoing_values(sheet, answers, facts, people, texts)


def made_up(question: Question, chance: Random, known: Known, need: str) -> str:
    """A valid sample answer; choices fit the need. Empty if none can be made up, as for an unusual pattern."""
    if question.example and chance.random() < 0.5 and _stands(question, question.example, known):
        return question.example
    for _ in range(40):
        value = FORMS[question.form].sample(question, chance, known)
        if value and answer_fault(question, value, known) is not None:
            value = like(question.pattern, chance) if question.pattern else value
        if value and not _stands(question, value, known):
            continue
        if question.form == "tree" and not _fits(question, value, need):
            continue
        return value
    return question.example


def _stands(question: Question, value: str, known: Known) -> bool:
    return answer_fault(question, value, known) is None


def _fits(question: Question, path: str, need: str) -> bool:
    way = question.ways.get(path)
    return way is not None and all(not one.needs or need in one.needs for one in way.whole)
