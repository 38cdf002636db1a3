"""Texts, and steps with one on each line."""

from __future__ import annotations

from random import Random
from typing import Any, ClassVar

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known

_SENTENCES = (
    "Since this morning the display shows a line across the upper third.",
    "A restart helps for about ten minutes, then it comes back.",
    "The other devices of this model at the site work.",
    "We swapped the cable and the power supply, and nothing changed.",
    "The log shows timeouts every few seconds from 07:40 on.",
    "Readers cannot return books at the counter.",
    "It began after the update of last night.",
    "The backup ran through, and all volumes are mounted.",
    "The port counters show no errors.",
    "Two of five branches are affected.",
)


class Text(AnswerForm):
    """Any text."""

    words = True

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """The example, or sentences of no more characters than it may have."""
        fewest = max(question.min_length, 5)
        most = max(fewest, min(question.max_length, fewest + 400))
        if question.pattern:
            return question.example
        if question.example and chance.random() < 0.5 and fewest <= len(question.example) <= most:
            return question.example
        wanted = chance.randint(min(max(fewest, 40), most), most)
        text = ""
        for sentence in chance.sample(_SENTENCES, len(_SENTENCES)):
            longer = f"{text} {sentence}".strip()
            text = longer if len(longer) <= wanted else text
        return text if len(text) >= fewest else _cut(chance, most if most < 40 else wanted)


def _cut(chance: Random, length: int) -> str:
    """Sentences of exactly the given number of characters."""
    text = ""
    while len(text) < length:
        text += chance.choice(_SENTENCES) + " "
    return (text[:length].rstrip() + "..")[:length]


class Steps(AnswerForm):
    """Steps in order, one on a line: what was done → what it showed."""

    parts: ClassVar[frozenset[str]] = frozenset({"count"})
    words = True

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        count = len(_lines(value))
        return (
            f"There are {count} steps; the desk takes {question.max_items}."
            if count > question.max_items
            else None
        )

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """The steps as a list; a number that someone wrote before a step is taken off."""
        return {"": _lines(value), "count": len(_lines(value))}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        steps = [
            "Start it → it starts",
            "Open the list → it stays empty",
            "Start it again → the same",
        ]
        text = "\n".join(steps[: chance.randint(1, min(3, question.max_items))])
        return (
            text
            if len(text) >= question.min_length
            else text + " " + "and so on " * (question.min_length // 10 + 1)
        )


def _lines(value: str) -> list[str]:
    found = []
    for line in value.splitlines():
        head, dot, rest = line.strip().partition(".")
        found.append(rest.strip() if dot and head.isdigit() else line.strip())
    return [line for line in found if line]
