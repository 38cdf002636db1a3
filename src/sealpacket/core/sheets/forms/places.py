"""Addresses, countries (ISO 3166-1), their states (ISO 3166-2) and languages (BCP 47)."""

from __future__ import annotations

import re
from functools import cache
from random import Random
from typing import Any, ClassVar

import pycountry

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known


class Address(AnswerForm):
    """A postal address as on an envelope, a line each."""

    words, asks_for = True, frozenset({"address", "place", "person"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        lines = [line for line in value.splitlines() if line.strip()]
        return (
            None
            if len(lines) >= 2
            else "Give the address as on an envelope: street, then town with its postcode."
        )

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        return {"": "\n".join(line.strip() for line in value.splitlines() if line.strip())}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return f"{chance.randint(1, 90)} Fennel Lane\nQuillmere QM1 3FD"


class Country(AnswerForm):
    """A country by its two letters."""

    parts: ClassVar[frozenset[str]] = frozenset({"name", "alpha3"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        if value != value.upper() or pycountry.countries.get(alpha_2=value) is None:
            return f"“{value}” is not a country by ISO 3166: two letters, as GB."
        if question.countries and value not in question.countries:
            return f"The desk serves {', '.join(question.countries)}, not {value}."
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        country = pycountry.countries.get(alpha_2=value)
        return (
            {"": value, "name": country.name, "alpha3": country.alpha_3} if country else {"": value}
        )

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return chance.choice(question.countries or ("GB", "IE", "FR", "US"))


@cache
def states_of(country: str) -> dict[str, str]:
    """The upper subdivisions of a country by ISO 3166-2 code; empty where an address has none.

    Source: ISO 3166-2. Addresses name a state only in the countries whose post asks for it.
    """
    if country not in _WITH_STATES:
        return {}
    found: list[Any] = pycountry.subdivisions.get(country_code=country) or []  # type: ignore[no-untyped-call]
    return {
        one.code: one.name for one in sorted(found, key=lambda one: one.name) if not one.parent_code
    }


_WITH_STATES = frozenset(
    {"US", "CA", "AU", "BR", "MX", "IN", "MY", "CN", "JP", "IT", "ES", "AR", "NG", "VE"}
)


class State(AnswerForm):
    """A state of the country that another answer names, by ISO 3166-2: US-OH."""

    parts: ClassVar[frozenset[str]] = frozenset({"name", "short"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        country = known.look_up(question.country or "")
        states = states_of(country)
        if country and not states:
            return f"An address in {country} has no state: leave it empty."
        if value not in states:
            return f"“{value}” is not a state of {country or 'a country that is not said yet'} (ISO 3166-2, as US-OH)."
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        return {"": value, "name": states_of(value[:2]).get(value, ""), "short": value[3:]}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """Empty where the country has none."""
        return chance.choice(sorted(states_of(known.look_up(question.country or ""))) or [""])


_LANGUAGE = re.compile(r"([a-z]{2,3})(-[A-Z][a-z]{3})?(-[A-Z]{2}|-\d{3})?")


class Language(AnswerForm):
    """A language by its tag: en, de-CH."""

    parts: ClassVar[frozenset[str]] = frozenset({"name"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        if not language_exists(value):
            return f"“{value}” is not a language tag (BCP 47), as en or de-CH."
        if (
            question.languages
            and value not in question.languages
            and value.partition("-")[0] not in question.languages
        ):
            return f"The desk speaks {', '.join(question.languages)}."
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        found = _language(value.split("-", maxsplit=1)[0])
        return {"": value, "name": found.name if found else value}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return chance.choice(question.languages or ("en",))


def language_exists(tag: str) -> bool:
    """Whether a tag (BCP 47) names a language that there is."""
    match = _LANGUAGE.fullmatch(tag)
    return match is not None and _language(match[1]) is not None


def _language(code: str) -> Any:
    return (
        pycountry.languages.get(alpha_2=code)
        if len(code) == 2
        else pycountry.languages.get(alpha_3=code)
    )
