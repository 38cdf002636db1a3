"""The interface of every form of answer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from random import Random
from typing import Any, ClassVar

from sealpacket.core.sheets.asking import Question


@dataclass(frozen=True)
class Known:
    """Everything that an answer may be looked up in: people by key, other answers by question, facts by path."""

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
    words: ClassVar[bool] = False
    """Whether a person writes it freely, so that it may hold anything and is redacted."""
    asks_for: ClassVar[frozenset[str]] = frozenset()
    """Kinds of sensitive value (as redaction names them) that such an answer has to hold: they go out in it."""

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """The fault of an answer, as a sentence; None if it is valid."""
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """The values that a sheet can take: the whole under "", and each part under its name."""
        return {"": value}

    def cells(self, question: Question, value: str) -> list[tuple[int, int, str]]:
        """Parts of the answer that have a label of their own: where each begins and ends, and the label."""
        return [(0, len(value), question.id)] if "\n" not in value else []

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """An answer as it may be."""
        raise NotImplementedError
