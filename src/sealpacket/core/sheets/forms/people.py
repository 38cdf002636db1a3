"""People of the register, telephone numbers (E.164) and mail addresses."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache
from random import Random
from typing import Any, ClassVar

import phonenumbers

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known
from sealpacket.core.sheets.forms.choosing import split_commas

FIELDS = frozenset({
    "name", "mail", "phone", "phone_country", "language", "time_zone", "hours", "on_call", "reach_by", "access_needs",
    "second_phone", "instructions",
})  # fmt: skip
"""The fields that a sheet may take of a person who was named in an answer."""


class Person(AnswerForm):
    """Someone of the register, by key."""

    parts: ClassVar[frozenset[str]] = FIELDS

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        person = known.people.get(value)
        if person is None:
            return f"“{value}” is not a person in the register."
        if len(person["name"].strip()) < 2:
            return "The person has no full name in the register."
        phone = person.get("phone")
        if not phone:
            return f"{person['name']} has no telephone number in the register."
        if _number_of(phone) is None:
            return f"The number of {person['name']} in the register is not a number with a country code."
        return _mail_fault(person)

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        return {"": value, **_fields(known.people.get(value, {}))}

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return chance.choice(sorted(known.people))


class People(AnswerForm):
    """Several people of the register, as keys separated by commas: those who are kept informed."""

    parts: ClassVar[frozenset[str]] = frozenset({"mails", "names"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        keys = split_commas(value)
        strange = [key for key in keys if key not in known.people]
        if strange:
            return f"“{strange[0]}” is not a person in the register."
        if len(keys) > question.max_items:
            return f"There are {len(keys)} people; the desk tells {question.max_items} at most."
        if len(set(keys)) < len(keys):
            return "Someone is named twice."
        return next((fault for key in keys if (fault := _mail_fault(known.people[key]))), None)

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """A list of what is known of each; their mails and names alone."""
        found = [_fields(known.people[key]) for key in split_commas(value) if key in known.people]
        return {
            "": found,
            "mails": [one["mail"] for one in found],
            "names": [one["name"] for one in found],
        }

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        keys = sorted(known.people)
        return ", ".join(chance.sample(keys, chance.randint(1, min(len(keys), question.max_items))))


def _fields(person: Mapping[str, Any]) -> dict[str, Any]:
    number = _number_of(person.get("phone") or "")
    code = f"+{number.country_code}" if number else ""
    phone = (
        phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164) if number else ""
    )
    known = {name: person.get(name, "") for name in sorted(FIELDS)}
    return known | {"phone": phone or known["phone"], "phone_country": code}


@lru_cache(maxsize=512)
def _number_of(phone: str) -> phonenumbers.PhoneNumber | None:
    """The number, if it has a country code and as many digits as that country's numbers may have."""
    try:
        number = phonenumbers.parse(phone, None)
    except phonenumbers.NumberParseException:
        return None
    whole = (
        phonenumbers.is_possible_number_with_reason(number)
        == phonenumbers.ValidationResult.IS_POSSIBLE
    )
    return number if whole else None


class Phone(AnswerForm):
    """A telephone number with its country code: +441632960112."""

    parts: ClassVar[frozenset[str]] = frozenset({"country_code", "national"})
    words, asks_for = True, frozenset({"phone"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        if _number_of(value) is None:
            return "Give the number with its country code, as +441632960112."
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        number = _number_of(value)
        if number is None:
            return {"": value}
        whole = phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164)
        return {
            "": whole,
            "country_code": f"+{number.country_code}",
            "national": str(number.national_number),
        }

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return f"+44163296{chance.randint(0, 999):04d}"


_MAIL = re.compile(r"[^@\s<>,;]{1,64}@[A-Za-z0-9-]{1,63}(\.[A-Za-z0-9-]{1,63})+")


def _mail_fault(person: Mapping[str, Any]) -> str | None:
    if not _MAIL.fullmatch(person.get("mail") or ""):
        return f"The mail address of {person['name']} in the register cannot be written to."
    return None


class Mail(AnswerForm):
    """A mail address."""

    words, asks_for = True, frozenset({"mail"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        return (
            None if _MAIL.fullmatch(value) else "Give a mail address, as someone@quillmere.example."
        )

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return "sam.sample@quillmere.example"
