"""Defects made from a sheet alone: a good packet with one thing wrong, to measure whether checks stop it in time."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, cast

from sealpacket.core.coverage import Need, Route, Ruling
from sealpacket.core.sheets.answers import Answer, Fact, answers_for
from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.checks import ExhibitState
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.sampling import PERSON, SAMPLE_PEOPLE, sample_facts, sample_packet
from sealpacket.core.sheets.sending import Attachments


@dataclass(frozen=True)
class Draft:
    """A packet as the checks see it. `files` are its exhibits: name and bytes.

    `cover` says what is wrong with its cover, `state` with the redaction of its files; empty where nothing is.
    """

    name: str
    typed: Mapping[str, str]
    facts: Mapping[str, Fact]
    people: Mapping[str, Mapping[str, Any]] = field(default_factory=lambda: SAMPLE_PEOPLE)
    files: tuple[tuple[str, int], ...] = ()
    cover: str = ""
    state: str = ""

    @property
    def exhibits(self) -> tuple[ExhibitState, ...]:
        """The files as exhibits."""
        state, leaks = ("ready", 2) if self.state == "leaks" else (self.state or "ready", 0)
        return tuple(
            ExhibitState(name=name, state=state, size=size, leaks=leaks)
            for name, size in self.files
        )

    def ruling(self) -> Ruling | None:
        """The ruling as its facts say it, with what is wrong with the cover."""
        need, route = (
            cast(Need, self.facts["packet.need"].value),
            cast(Route, self.facts["ruling.route"].value),
        )
        contract = self.facts["contract.number"].value if "contract.number" in self.facts else None
        ruling = Ruling(
            route=route,
            holds=self.cover != "lapsed",
            need=need,
            day=date(2026, 11, 23),
            entitlement="E-1",
            contract=contract,
            level="Care",
            reasons=(self.cover or "Listed.",),
            passed_over=(),
            cures=(),
        )
        match self.cover:
            case "no thing":
                return None
            case "another route":
                return ruling.model_copy(
                    update={"route": "units" if route != "units" else "support"}
                )
            case "another need":
                return ruling.model_copy(update={"need": "tie"})
            case _:
                return ruling

    def answers(self, sheet: Sheet) -> tuple[Answer, ...]:
        """Its answers to the sheet's questions."""
        return answers_for(sheet, self.typed, self.facts)


def good_draft(sheet: Sheet, known: Mapping[str, str] | None = None, seed: int = 0) -> Draft:
    """A draft that a desk would take, with as many questions answered as its conditions allow."""
    facts = sample_facts(sheet, known)
    best: dict[str, str] = {}
    for number in range(seed, seed + 40):
        sample = sample_packet(sheet, number, known)
        typed = {a.question: a.value for a in sample.answers if a.shown and a.value and a.typed}
        shown = sum(a.shown and a.value is not None for a in sample.answers)
        if not best or shown > sum(
            a.shown and a.value is not None for a in answers_for(sheet, best, facts)
        ):
            best = typed
    return Draft("good", best, facts)


def defects(sheet: Sheet, known: Mapping[str, str] | None = None) -> Iterator[Draft]:
    """Drafts with one thing wrong each, named by what it is."""
    good = good_draft(sheet, known)
    for answer in good.answers(sheet):
        question = sheet.question(answer.question)
        if question is None or not answer.shown:
            continue
        yield from (
            draft
            for draft in _left_out(good, question, answer)
            if any(
                a.question == question.id and a.shown and a.value is None
                for a in draft.answers(sheet)
            )
        )
        if not answer.fixed:
            for name, value in _wrong(question):
                yield replace(
                    good, name=f"{question.id}: {name}", typed={**good.typed, question.id: value}
                )
        else:
            yield from _wrong_facts(good, question)
        yield from _wrong_people(good, question, answer)
    yield from _wrong_duties(sheet, good)
    yield from _wrong_cover(sheet, good)
    yield from _wrong_files(good, sheet.attachments)


def _left_out(good: Draft, question: Question, answer: Answer) -> Iterator[Draft]:
    if not answer.required:
        return
    typed = {ident: value for ident, value in good.typed.items() if ident != question.id}
    taken = {prefill.take for prefill in question.prefill}
    facts = {
        path: fact
        for path, fact in good.facts.items()
        if path not in taken or path == "packet.need"
    }
    if answer.question in good.typed or facts != good.facts:
        yield replace(good, name=f"{question.id}: left out", typed=typed, facts=facts)
        blank = {**typed, question.id: " \n\t "}
        yield replace(good, name=f"{question.id}: only blanks", typed=blank, facts=facts)


def _wrong_facts(good: Draft, question: Question) -> Iterator[Draft]:
    for prefill in question.prefill[:1]:
        if prefill.take in good.facts:
            wrong = Fact(value="???", source="a defect")
            yield replace(
                good,
                name=f"{question.id}: wrong in the register",
                facts={**good.facts, prefill.take: wrong},
            )


def _wrong(question: Question) -> Iterator[tuple[str, str]]:
    """Invalid answers, by their defect."""
    if question.max_length < 20_000 and question.form in ("text", "long"):
        yield "too long", "x" * (question.max_length + 1)
    if question.min_length > 1 and question.form in ("text", "long"):
        yield "too short", "x" * (question.min_length - 1)
    if question.pattern:
        yield "of another form", "??"
    if question.form == "choice" and question.choices[0].value.swapcase() not in {
        c.value for c in question.choices
    }:
        yield "in another spelling", question.choices[0].value.swapcase()
    yield from {
        "choice": [("not offered", "??")],
        "tree": [
            ("not offered", "??"),
            ("no leaf", question.choices[0].value if question.choices else "??"),
        ],
        "several": [("not offered", "??")],
        "moment": [("no moment", "this morning"), ("without offset", "2026-11-23T08:40")],
        "date": [("no date", "next week"), ("another order", "23.11.2026")],
        "zone": [("no zone", "Quillmere time")],
        "version": [("no version", "the newest one")],
        "versions": [("no versions", "all new"), ("unknown component", "kettle: 1.2")],
        "number": [
            ("no number", "many"),
            ("without unit", "3") if question.units else ("with unit", "3 kg"),
        ],
        "consent": [
            ("neither yes nor no", "perhaps"),
            *([("not agreed", "no")] if question.must_agree else []),
        ],
        "address": [("one line", "12 Fennel Lane")],
        "country": [("no country", "UK")],
        "state": [("no state", "XX-YY")],
        "phone": [("without country code", "01632 960112")],
        "language": [("no language", "english")],
        "steps": [("too many", "\n".join(f"step {n}" for n in range(question.max_items + 1)))],
        "people": [("nobody we know", "nobody"), ("twice", "sample, sample")],
        "person": [("nobody we know", "nobody")],
        "rows": list(_wrong_rows(question)),
    }.get(question.form, [])
    if question.form == "number":
        unit = f" {question.units[0]}" if question.units else ""
        yield from (
            [("below the lowest", f"{question.minimum - 1:g}{unit}")]
            if question.minimum is not None
            else []
        )
        yield from (
            [("above the highest", f"{question.maximum + 1:g}{unit}")]
            if question.maximum is not None
            else []
        )


def _wrong_rows(question: Question) -> Iterator[tuple[str, str]]:
    good = [
        str(max(column.minimum, 1 + place))
        if column.number
        else column.one_of[0]
        if column.one_of
        else "thing"
        for place, column in enumerate(question.columns)
    ]
    yield "a column is missing", " | ".join(good[:-1])
    yield "too many rows", "\n".join(" | ".join(good) for _ in range(question.max_items + 1))
    for place, column in enumerate(question.columns):
        wrong = ["" if column.one_of or not column.number else "many"]
        wrong += ["??"] if column.one_of else []
        wrong += [str(column.maximum + 1)] if column.maximum is not None else []
        wrong += [str(column.minimum - 1)] if column.number and column.minimum > 0 else []
        wrong += ["0"] if column.more_than else []
        wrong += [str(max(column.maximum_by.limits.values()) + 1)] if column.maximum_by else []
        for value in wrong:
            said = value or "nothing"
            yield f"{column.id} is {said}", " | ".join([*good[:place], value, *good[place + 1 :]])


def _wrong_people(good: Draft, question: Question, answer: Answer) -> Iterator[Draft]:
    if question.form == "people" and question.max_items < 40:
        keys = [f"p{n}" for n in range(question.max_items + 1)]
        many = {key: {**PERSON, "key": key, "mail": f"{key}@quillmere.example"} for key in keys}
        typed = {**good.typed, question.id: ", ".join(many)}
        yield replace(
            good, name=f"{question.id}: too many", typed=typed, people={**good.people, **many}
        )
    if question.form != "person":
        return
    for name, phone in (("without a number", None), ("number without country", "01632 960112")):
        people = {key: {**person, "phone": phone} for key, person in good.people.items()}
        yield replace(good, name=f"{question.id}: {name}", people=people)


def _wrong_duties(sheet: Sheet, good: Draft) -> Iterator[Draft]:
    asleep = {key: {**person, "on_call": False} for key, person in good.people.items()}
    for question in sheet.questions:
        for path, leaf in question.leaves():
            if leaf.duties:
                typed = {**good.typed, question.id: path}
                yield replace(
                    good, name=f"{question.id}: nobody for {path}", typed=typed, people=asleep
                )


def _wrong_cover(sheet: Sheet, good: Draft) -> Iterator[Draft]:
    kind = sheet.kind(str(good.facts["packet.need"].value))
    yield replace(good, name="cover: no thing is named", cover="no thing")
    yield replace(good, name="cover: a need that the desk does not take", cover="another need")
    if kind is not None and kind.cover == "wanted":
        yield replace(good, name="cover: lapsed", cover="lapsed")
        yield replace(good, name="cover: by another route", cover="another route")


def _wrong_files(good: Draft, limits: Attachments) -> Iterator[Draft]:
    ending = limits.endings[0] if limits.endings else ".log"
    yield replace(
        good,
        name="files: too many",
        files=tuple((f"f{n}{ending}", 10) for n in range(limits.max_files + 1)),
    )
    if limits.max_files == 0:
        return
    for state, words in (
        ("redacting", "not redacted yet"),
        ("failed", "its redaction failed"),
        ("held", "held"),
        ("leaks", "with leaks"),
    ):
        yield replace(good, name=f"files: {words}", files=((f"a{ending}", 10),), state=state)
    yield replace(good, name="files: an empty one", files=((f"a{ending}", 0),))
    yield replace(good, name="files: one too large", files=((f"a{ending}", limits.max_size + 1),))
    count = min(limits.max_files, limits.max_total // limits.max_size + 1)
    if count * limits.max_size > limits.max_total:
        many = tuple((f"f{n}{ending}", limits.max_size - 5000) for n in range(count))
        yield replace(good, name="files: too large together", files=many)
    if limits.endings:
        yield replace(good, name="files: of another sort", files=(("a.exe", 10),))
