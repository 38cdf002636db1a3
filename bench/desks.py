"""Desks: how long form and checks take on a large sheet, alone and in a whole request."""

from __future__ import annotations

import json
import statistics
import time
from datetime import date
from pathlib import Path
from typing import Any

import httpx
from figures import figure, house_of_its_own

from sealpacket.client import SealPacket, make_token
from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets import (
    Fact,
    Sheet,
    answers_for,
    check_packet,
    holds,
    lint,
    load_sheet,
    sample_values,
)
from sealpacket.core.sheets.sampling import SAMPLE_PEOPLE, sample_facts
from sealpacket.core.sheets.yaml_text import sheet_yaml

QUESTIONS, LEAVES, ROUNDS = 300, 2000, 60
BOUND_MS = 50.0


def large_sheet() -> Sheet:
    """A sheet of 300 questions, a tree of 2,000 leaves among them; a third are shown under conditions."""
    tree = [
        {
            "value": f"g{g}",
            "label": f"Group {g}",
            "choices": [
                {
                    "value": f"s{s}",
                    "label": f"Sort {s}",
                    "choices": [
                        {"value": f"l{n}", "label": f"Leaf {n}"} for n in range(LEAVES // 100)
                    ],
                }
                for s in range(10)
            ],
        }
        for g in range(10)
    ]
    questions: list[dict[str, Any]] = [
        {"id": "tree", "ask": "Where?", "form": "tree", "required": True, "choices": tree}
    ]
    for n in range(QUESTIONS - 1):
        form = ("text", "long", "date", "version", "person", "choice")[n % 6]
        question: dict[str, Any] = {
            "id": f"q{n}",
            "ask": f"Question {n}?",
            "form": form,
            "required": n % 2 == 0,
        }
        if form == "choice":
            question["choices"] = [{"value": str(c), "label": f"Choice {c}"} for c in range(8)]
        if form == "text":
            question["pattern"], question["example"] = "[a-z ]{3,40}", "some words"
        if n % 3 == 0 and n > 6:
            question["shown"] = {
                "any": [
                    {"question": f"q{n - 5}", "answered": True},
                    {"question": "tree", "one_of": ["g1"]},
                ]
            }
        questions.append(question)
    for n, question in enumerate(questions):
        question["to"] = f"part{n % 7}.f{n}"
    questions[0]["type"] = "list"
    return load_sheet(sheet_yaml(_around(questions)))


def _around(questions: list[dict[str, Any]]) -> dict[str, Any]:
    """A whole sheet that asks these questions."""
    return {
        "sheet": 2,
        "desk": "large",
        "vendor": "large",
        "name": "Large",
        "kinds": [{"need": "fault", "routes": ["support"]}],
        "questions": questions,
        "write": {"format": "json", "body": {"number": {"take": "packet.number"}}},
        "send": {
            "channel": "http",
            "lodge": "/a",
            "follow": "/a/{reference}",
            "answer": "/a/{reference}/m",
            "answer_body": {"t": {"take": "message.text"}},
        },
        "replies": {
            "reference": "$.r",
            "status": "$.s",
            "statuses": {"done": "settled", "asks": "asked"},
            "messages": {"list": "$.m[*]", "id": "$.i", "text": "$.t"},
        },
    }


def _answers(sheet: Sheet) -> dict[str, str]:
    given = {
        "text": "some words",
        "long": "many words about it",
        "date": "2026-11-23",
        "version": "1.2.3",
        "person": "sample",
        "choice": "3",
    }
    return {q.id: given[q.form] for q in sheet.questions if q.form in given} | {"tree": "g1/s4/l19"}


def _ms(act: Any) -> float:
    times = []
    for _ in range(ROUNDS):
        begin = time.perf_counter()
        act()
        times.append((time.perf_counter() - begin) * 1000)
    return statistics.quantiles(times, n=20)[-1]


def measure() -> list[dict[str, Any]]:
    """Answers, checks and writing together, 95th of 100 parts, in milliseconds."""
    sheet = large_sheet()
    typed = _answers(sheet)
    facts: dict[str, Fact] = sample_facts(sheet)
    ruling = Ruling(
        route="support",
        holds=True,
        need="fault",
        day=date(2026, 11, 23),
        entitlement="E",
        contract="C",
        level="L",
        reasons=("Listed.",),
        passed_over=(),
        cures=(),
    )

    def form_and_checks() -> None:
        answers = answers_for(sheet, typed, facts)
        check_packet(sheet, answers, ruling, [], SAMPLE_PEOPLE, facts)
        sample_values(sheet, answers, facts, SAMPLE_PEOPLE)

    assert sum(a.shown for a in answers_for(sheet, typed, facts)) > 250
    assert holds(True, {})
    stored = sheet.model_dump(mode="json", exclude_defaults=True) | {"sheet": 2}
    text = Path("src/sealpacket/demo/sheets/pellwick-intake.yaml").read_text("utf-8")
    return [
        figure(
            "form and checks of 300 questions and 2,000 leaves, p95",
            _ms(form_and_checks),
            "ms",
            BOUND_MS,
        ),
        figure(
            "reading that sheet from its store, p95",
            _ms(lambda: Sheet.model_validate(stored)),
            "ms",
            None,
        ),
        figure("linting the largest sheet that ships, p95", _ms(lambda: lint(text)), "ms", None),
    ]


def whole_request() -> list[dict[str, Any]]:
    """The same sheet in a house: a packet on it asked for over HTTP; ruling, database and JSON are in it."""
    sheet = large_sheet().model_dump(mode="json", exclude_defaults=True) | {
        "sheet": 2,
        "vendor": "tarnfell",
    }
    with house_of_its_own() as house:
        token = make_token(house.address, "marit", house.sign_ins["marit"], "bench").token
        marit = SealPacket(house.address, token)
        marit.put_sheet(json.dumps(sheet | {"desk": "tarnfell-support"}))
        packet = marit.packets.note("A large sheet", "Everything is asked.", asset="TN9-44120-A")
        address = f"{house.address}/api/v1/packets/{packet.number}"
        with httpx.Client(headers={"Authorization": f"Bearer {token}"}, trust_env=False) as http:

            def ask() -> httpx.Response:
                return http.get(address).raise_for_status()

            for _ in range(20):
                ask()
            return [
                figure("the whole request for a packet on it, p95", _ms(ask), "ms", BOUND_MS),
                figure("what it answers, in kB", len(ask().content) / 1000, "kB", None),
            ]


def figures() -> list[dict[str, Any]]:
    """Everything about desks."""
    return [*measure(), *whole_request()]
