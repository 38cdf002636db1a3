"""Numbers with their unit, and versions."""

from __future__ import annotations

import re
from decimal import Decimal, InvalidOperation
from random import Random
from typing import Any, ClassVar

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known


class Number(AnswerForm):
    """A number, followed by one of the question's units where it has any: `3 kVA`."""

    parts: ClassVar[frozenset[str]] = frozenset({"number", "unit"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        number, unit = _apart(value)
        if number is None:
            return f"Give a number{', as 3 ' + question.units[0] if question.units else ''}."
        if question.units and unit not in question.units:
            return f"Give the unit behind the number: {', '.join(question.units)}."
        if not question.units and unit:
            return "Give the number alone."
        if question.whole and number != number.to_integral_value():
            return "Give a whole number."
        if question.minimum is not None and number < Decimal(str(question.minimum)):
            return f"The desk takes {question.minimum:g} and more."
        if question.maximum is not None and number > Decimal(str(question.maximum)):
            return f"The desk takes {question.maximum:g} at most."
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """The number as int or float."""
        number, unit = _apart(value)
        if number is None:
            return {"": value}
        plain = int(number) if number == number.to_integral_value() else float(number)
        return {"": value if question.units else plain, "number": plain, "unit": unit}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        low = int(question.minimum or 1)
        high = int(question.maximum if question.maximum is not None else low + 40)
        number = str(chance.randint(low, high))
        return f"{number} {chance.choice(question.units)}" if question.units else number


def _apart(value: str) -> tuple[Decimal | None, str]:
    head, _, unit = value.strip().partition(" ")
    try:
        number = Decimal(head)
    except InvalidOperation:
        return None, unit.strip()
    return (
        number if number.is_finite() and abs(number) < Decimal(10) ** 15 else None
    ), unit.strip()


_VERSION = re.compile(r"[0-9A-Za-z][0-9A-Za-z.+_-]{0,59}")


class Version(AnswerForm):
    """A version as the product shows it: 9.3.1, 2026.2-rc1."""

    words = True

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        good = _VERSION.fullmatch(value) and any(c.isdigit() for c in value)
        return None if good else "Give the version alone, as 9.3.1."

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return (
            question.example
            or f"{chance.randint(1, 12)}.{chance.randint(0, 9)}.{chance.randint(0, 40)}"
        )


class Versions(AnswerForm):
    """The versions of components, one on a line: `agent: 9.3.1`."""

    words = True

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        for line in value.splitlines():
            if not line.strip():
                continue
            name, colon, version = (part.strip() for part in line.partition(":"))
            if not colon or Version().fault(question, version, known):
                return f"“{line.strip()}”: write component and version, as agent: 9.3.1."
            if question.components and name not in question.components:
                return f"“{name}” is none of its components: {', '.join(question.components)}."
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """A list of {component, version}."""
        pairs = [line.partition(":") for line in value.splitlines() if line.strip()]
        return {
            "": [
                {"component": name.strip(), "version": version.strip()}
                for name, _, version in pairs
            ]
        }

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        names = question.components or ("agent",)
        chosen = sorted(chance.sample(names, chance.randint(1, len(names))))
        return "\n".join(f"{name}: {Version().sample(question, chance, known)}" for name in chosen)
