"""Conditions: whether they hold, and said in a sentence. The console's tests read the same cases."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from sealpacket.core.sheets import Condition, Question, holds, sentence

CASES: list[dict[str, Any]] = json.loads((Path(__file__).parent / "conditions.json").read_text())


def parsed(condition: Any) -> bool | Condition:
    return condition if isinstance(condition, bool) else Condition.model_validate(condition)


@pytest.mark.parametrize("case", CASES, ids=lambda case: json.dumps(case["condition"])[:60])
def test_the_service_holds_it(case: dict[str, Any]) -> None:
    assert holds(parsed(case["condition"]), case["values"], case["facts"]) is case["holds"]


QUESTIONS = [
    Question.model_validate({"id": "kind", "ask": "What is it?", "form": "choice",
                             "choices": [{"value": "f", "label": "A fault"}, {"value": "q", "label": "A question"}]}),
    Question.model_validate({"id": "load", "ask": "What load?", "form": "number"}),
]  # fmt: skip


@pytest.mark.parametrize(
    ("condition", "said"),
    [
        ({"question": "kind", "one_of": ["f"]}, "“What is it?” is A fault"),
        ({"question": "kind", "one_of": ["f", "q"]}, "“What is it?” is A fault or A question"),
        ({"fact": "site.country", "one_of": ["US", "CA", "AU"]}, "the site’s country is US, CA or AU"),
        ({"fact": "packet.need", "one_of": ["fault"]}, "the kind of need is fault"),
        ({"fact": "asset.software_version", "answered": False}, "the asset’s software version is not known"),
        ({"question": "load", "minimum": 3}, "“What load?” is 3 or more"),
        ({"all": [{"question": "kind", "one_of": ["f"]}, {"question": "load", "answered": True}]},
         "“What is it?” is A fault, and “What load?” is answered"),
        ({"any": [{"question": "kind", "one_of": ["f"]}, {"question": "load", "answered": True}]},
         "“What is it?” is A fault or “What load?” is answered"),
        ({"none": [{"question": "kind", "one_of": ["q"]}]}, "it is not so that “What is it?” is A question"),
        (True, ""),
    ],
)  # fmt: skip
def test_a_condition_is_said_in_a_sentence(condition: Any, said: str) -> None:
    assert sentence(parsed(condition), {question.id: question for question in QUESTIONS}) == said


def test_a_condition_looks_at_one_thing() -> None:
    with pytest.raises(ValueError, match="not at both"):
        Condition.model_validate({"question": "a", "fact": "b", "answered": True})
