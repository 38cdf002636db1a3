"""Texts, and steps of which each stands on its line."""

from __future__ import annotations

from random import Random
from typing import Any, ClassVar

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known

_PROSE = (
    "since the morning the display shows a line and after a restart it comes back on ports hosts and volumes while "
    "others of its kind are well we looked at cables power and logs and found no reason the effect is felt by all"
)


class Text(AnswerForm):
    """Any text."""

    words = True

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """Words between the fewest and the most characters, sometimes right at either."""
        if question.pattern:
            return question.example
        fewest = max(question.at_least, 5)
        most = max(fewest, min(question.at_most, fewest + 400))
        wanted = chance.choice([fewest, most, chance.randint(fewest, most)])
        text, words = "", _PROSE.split()
        while len(text) < wanted:
            text += chance.choice(words) + " "
        return (text[:wanted].rstrip() + "." * wanted)[:wanted]


class Steps(AnswerForm):
    """Steps in order, one on a line: what was done → what it showed."""

    parts: ClassVar[frozenset[str]] = frozenset({"count"})
    words = True

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        count = len(_lines(value))
        return f"There are {count} steps; the desk takes {question.most}." if count > question.most else None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """The steps as a list; a number that someone wrote before a step is taken off."""
        return {"": _lines(value), "count": len(_lines(value))}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        steps = ["Start it → it starts", "Open the list → it stays empty", "Start it again → the same"]
        text = "\n".join(steps[: chance.randint(1, min(3, question.most))])
        return text if len(text) >= question.at_least else text + " " + "and so on " * (question.at_least // 10 + 1)


def _lines(value: str) -> list[str]:
    found = []
    for line in value.splitlines():
        head, dot, rest = line.strip().partition(".")
        found.append(rest.strip() if dot and head.isdigit() else line.strip())
    return [line for line in found if line]
