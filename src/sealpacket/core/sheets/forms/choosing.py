"""Choices: one, several, one out of a tree, and a consent."""

from __future__ import annotations

from random import Random
from typing import Any, ClassVar

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known


class Choosing(AnswerForm):
    """One of the desk's values; in a tree, the path to a leaf."""

    parts: ClassVar[frozenset[str]] = frozenset({"label"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        return None if value in question.ways else f"“{value}” is not one of the desk's choices."

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        return {"": value, "label": " › ".join(question.labels(value))}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return chance.choice([*question.ways])


class Several(AnswerForm):
    """Several of the desk's values, with commas between."""

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        offered = question.ways
        chosen = split_commas(value)
        strange = [one for one in chosen if one not in offered]
        if strange:
            return f"“{strange[0]}” is not one of the desk's choices."
        if len(chosen) > question.max_items:
            return f"There are {len(chosen)} chosen; the desk takes {question.max_items}."
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """The values as a list."""
        return {"": split_commas(value)}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        offered = [path for path, _ in question.leaves()]
        return ", ".join(
            chance.sample(offered, chance.randint(1, min(len(offered), question.max_items)))
        )


class Consent(AnswerForm):
    """Yes or no to a wording."""

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        if value not in ("yes", "no"):
            return "Answer yes or no."
        if question.must_agree and value == "no":
            return "Without this consent the desk takes no packet."
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """True or False."""
        return {"": value == "yes"}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return "yes" if question.must_agree else chance.choice(["yes", "no"])


def split_commas(value: str) -> list[str]:
    """The parts between commas, without empty ones."""
    return [part.strip() for part in value.split(",") if part.strip()]
