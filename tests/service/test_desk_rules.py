"""Defects made from each desk's own rules: whatever it refuses, we stop before, or nobody but the desk could know.

The stand-in's source is read for what its rules are made of: numbers become lengths and amounts at the bound, one
below and one above; words become answers. Every question and fact gets each of them in turn. Prints a table.
"""

from __future__ import annotations

import ast
import importlib
import inspect
import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise
from uuid import uuid4

import pytest

from sealpacket.channels import desk as channels
from sealpacket.client import SealPacket
from sealpacket.core.sheets import Fact, Sheet
from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.defects import Draft, good_draft
from sealpacket.demo.house import STANDINS, RunningHouse
from tests.service.desk_numbers import (
    NOT_SENT,
    SPOKEN,
    against,
    facts_for,
    said_soon,
    sheet_of,
    stopped,
    way_to,
)
from tests.some import ALL, SEED, some_of

ONLY_THE_DESK_KNOWS = {
    "tarnfell": {"unknown_serial", "not_entitled"},
    "ovenbird": {"contract_not_linked", "serial_not_covered", "sign_in"},
    "pellwick": {"unknown_licence", "not_covered", "no_units"},
    "hollowmere": {"unknown_account", "contract_not_of_account"},
    "lumenlathe": {"unknown_sender", "unknown_serial"},
    "saddlewick": {"unknown_serial", "unknown_model"},
}
"""What a desk believes of us, whatever a sheet says: whom it knows, what is on which contract. The register keeps it."""


def literals(vendor: str) -> tuple[set[int], set[str]]:
    """The numbers and words that a stand-in's source is made of, those inside its schemas and patterns among them."""
    source = inspect.getsource(importlib.import_module(f"sealpacket.standins.{vendor}"))
    numbers: set[int] = set()
    words: set[str] = set()
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            numbers |= {int(n) for n in re.findall(r"(?<![\w.-])\d{1,5}(?![\w.-])", node.value)}
            words |= {node.value} if len(node.value) <= 40 and "\n" not in node.value else set()
            words |= set(re.findall(r'enumeration value="([^"]+)"', node.value))
        elif (
            isinstance(node, ast.Constant) and type(node.value) is int and 0 < node.value <= 10_000
        ):
            numbers.add(node.value)
    return numbers, words - {""}


def of_length(text: str, length: int) -> str:
    """The text repeated, or cut, to exactly so many characters, none of them blank at the end."""
    return (text + " and again").ljust(length, "x")[:length].rstrip().ljust(length, "x")


def variations(
    question: Question, draft: Draft, now: str | None, numbers: set[int], words: set[str]
) -> Iterator[tuple[str, Draft]]:
    """The draft with this question answered by everything that the desk's rules could turn on."""

    def typed(name: str, value: str) -> tuple[str, Draft]:
        return name, replace(draft, typed={**draft.typed, question.id: value})

    bounds = sorted({n + step for n in numbers for step in (-1, 0, 1) if n + step > 0})
    yield (
        "left out",
        replace(draft, typed={k: v for k, v in draft.typed.items() if k != question.id}),
    )
    match question.form:
        case "text" | "long" | "steps" | "error" | "address" | "product":
            yield from (typed(f"{n} characters", of_length(now or "thing", n)) for n in bounds)
            yield from (typed(word, word) for word in sorted(words))
        case "number":
            units = question.units or ("",)
            yield from (typed(f"{n} {u}", f"{n} {u}".strip()) for n in bounds for u in units)
        case "choice" | "tree":
            yield from (typed(path, path) for path, _ in question.leaves())
            yield from (typed(word, word) for word in sorted(words))
            yield from (typed("/".join(two), "/".join(two)) for two in pairwise(sorted(words)))
        case "several":
            yield from (typed(path, path) for path, _ in question.leaves())
        case "consent":
            yield from (typed(word, word) for word in ("yes", "no"))
        case "rows":
            yield from (typed(*one) for one in rows_of(question, now or "", bounds, words))
        case "people" | "person":
            yield from people(question, draft, bounds)
        case _:
            yield from (typed(word, word) for word in sorted(words))


def rows_of(
    question: Question, now: str, bounds: list[int], words: set[str]
) -> Iterator[tuple[str, str]]:
    """The first row with each value in each column; and so many of it."""
    good = now.split("\n", maxsplit=1)[0].split(" | ")
    for place, _ in enumerate(question.columns):
        for value in [*map(str, bounds), *sorted(words)]:
            yield f"column {place}: {value}", " | ".join([*good[:place], value, *good[place + 1 :]])
    yield from ((f"{n} rows", "\n".join([" | ".join(good)] * n)) for n in bounds if n < 70)


def people(question: Question, draft: Draft, bounds: list[int]) -> Iterator[tuple[str, Draft]]:
    """The people of the draft with other numbers, addresses, nights; and more of them."""
    changes = [("phone", f"+{'4' * n}") for n in bounds if n < 20]
    changes += [
        ("phone", None),
        ("phone", "4416"),
        ("mail", "no address"),
        ("mail", "a b@c"),
        ("name", "X"),
        ("on_call", False),
    ]
    for part, value in changes:
        yield (
            f"{part} {value}",
            replace(draft, people={k: {**p, part: value} for k, p in draft.people.items()}),
        )
    for count in (n for n in bounds if n < 20 and question.form == "people"):
        more = {
            f"p{n}": {**draft.people["sample"], "key": f"p{n}", "mail": f"p{n}@quillmere.example"}
            for n in range(count)
        }
        both = {**draft.people, **more}
        yield (
            f"{count} people",
            replace(draft, people=both, typed={**draft.typed, question.id: ", ".join(more)}),
        )


def from_rules(vendor: str, sheet: Sheet, known: dict[str, str]) -> Iterator[tuple[str, Draft]]:
    """Every variation of a good draft of one kind of request, named."""
    numbers, words = literals(vendor)
    good = good_draft(sheet, known)
    for answer in good.answers(sheet):
        question = sheet.question(answer.question)
        if question is None or not answer.shown:
            continue
        for name, draft in variations(question, good, answer.value, numbers, words):
            yield f"{question.id}: {name}", draft
    for fact in known:
        if fact in ("packet.need", "ruling.route", "packet.number"):
            continue
        without = {path: f for path, f in good.facts.items() if path != fact}
        yield f"{fact}: unknown", replace(good, facts=without)
        for word in sorted(w for w in words if re.search(r"\d", w)):
            yield (
                f"{fact}: {word}",
                replace(
                    good, facts={**good.facts, fact: Fact(value=word, source="a rule of the desk")}
                ),
            )


_CODE = re.compile(
    r"""["']@?(?:code|kind|rule)["']: ["']([a-z_]+)["']|\[\[?["']([a-z_]+)["'], ["']"""
)


def code_of(told: str) -> set[str]:
    """The codes in what a desk has told, however it tells them."""
    return {one or other for one, other in _CODE.findall(told)} or {told[:30]}


@pytest.mark.parametrize("vendor", some_of(sorted(STANDINS), 2))
def test_what_the_desks_rules_refuse_is_stopped_before(
    house: RunningHouse, marit: SealPacket, vendor: str
) -> None:
    sheet = sheet_of(marit, vendor)
    # A part of the values, and of desks that answer by mail or by files a smaller one.
    every = (4 if ALL else 64) if vendor in SPOKEN else (1 if ALL else 24)
    rows: dict[str, tuple[str, list[str], str]] = {}
    with way_to(house, sheet, vendor) as desk:
        for place, kind in enumerate(sheet.kinds):
            known = facts_for(vendor, sheet, "R-0", place)
            for turn, (name, draft) in enumerate(from_rules(vendor, sheet, known)):
                if turn % every != SEED % every:
                    continue
                number = f"R-{uuid4().hex[:8]}"
                facts = {**draft.facts, "packet.number": Fact(value=number, source="a rule")}
                theirs = refusal(desk, sheet, replace(draft, facts=facts), number)
                rows[number] = (f"{kind.need}: {name}", stopped(sheet, draft), theirs)
    if vendor in SPOKEN:
        late = said_soon(house, vendor, dict.fromkeys((n for n in rows if not rows[n][2]), 0))
        rows |= {number: (*rows[number][:2], told) for number, told in late.items()}
    report(vendor, list(rows.values()))
    through = [(name, theirs[:200]) for name, ours, theirs in rows.values()
               if theirs not in ("", NOT_SENT) and not ours and not code_of(theirs) <= ONLY_THE_DESK_KNOWS[vendor]]  # fmt: skip
    print(*through, sep="\n")
    assert through == []
    refused = [row for row in rows.values() if row[2] not in ("", NOT_SENT)]
    assert len(refused) >= 10, "rules that refuse nothing measure nothing"


def refusal(desk: channels.Desk, sheet: Sheet, draft: Draft, number: str) -> str:
    """What the desk says; NOT_SENT where the sheet itself cannot write such a thing."""
    try:
        return against(desk, sheet, draft, number)
    except channels.DeskAway:
        return NOT_SENT


def report(vendor: str, rows: list[tuple[str, list[str], str]]) -> None:
    """Both ways: what the desk refuses and whether we stopped it; and what we stop that it would take."""
    tried = Counter(
        code for _, _, theirs in rows if theirs not in ("", NOT_SENT) for code in code_of(theirs)
    )
    ours = Counter(
        code
        for _, our, theirs in rows
        if our and theirs not in ("", NOT_SENT)
        for code in code_of(theirs)
    )
    print(f"\n{vendor}: {len(rows)} tries from its own rules")
    for code, count in sorted(tried.items()):
        only = "  only the desk can know" if code in ONLY_THE_DESK_KNOWS[vendor] else ""
        print(
            f"  {code:26} refused by the desk {count:5}   stopped by us before {ours[code]:5}{only}"
        )
    taken = [name for name, our, theirs in rows if our and not theirs]
    print(
        f"  stopped by us, taken by the desk: {len(taken)}; taken by both: {sum(not o and not t for _, o, t in rows)}"
    )
