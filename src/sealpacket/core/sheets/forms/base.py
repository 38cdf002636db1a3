"""What every form of answer can do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from random import Random
from typing import Any, ClassVar

from sealpacket.core.sheets.asking import Question


@dataclass(frozen=True)
class Known:
    """What an answer may have to be looked up in: people by key, other answers by question, facts by path."""

    people: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    values: Mapping[str, str] = field(default_factory=dict)
    facts: Mapping[str, Any] = field(default_factory=dict)

    def look_up(self, name: str) -> str:
        """The answer to a question, or else the fact of that name."""
        fact = self.facts.get(name)
        return str(self.values.get(name) or getattr(fact, "value", fact) or "")


class AnswerForm:
    """One form. `parts` are what a sheet may take of an answer: answers.ID.part."""

    parts: ClassVar[frozenset[str]] = frozenset()

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """What is wrong with the answer, as a sentence; None if it can stand."""
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """What a sheet can take: the whole under "", and each part under its name."""
        return {"": value}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """An answer as it may be."""
        raise NotImplementedError
