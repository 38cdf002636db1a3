"""Numbers with a check digit: payment cards (ISO/IEC 7812), IBAN (ISO 13616)."""

from __future__ import annotations

import re
from functools import cache
from importlib import import_module
from typing import Any

from sealpacket.core.redact.rules.predicates.base import digits_of


def is_valid(check: str, number: str) -> bool:
    """Whether a number is valid by a module of python-stdnum, such as `nl.bsn`."""
    return bool(_module(check).is_valid(number))


@cache
def _module(check: str) -> Any:
    return import_module(f"stdnum.{check}")  # it takes 30 ms: loaded when a number is to be checked


def is_card(value: bytes) -> bool:
    """Whether a value can be the number of a payment card."""
    digits = digits_of(value).decode()
    return 13 <= len(digits) <= 19 and len(set(digits)) > 1 and is_valid("luhn", digits)


def is_iban(value: bytes) -> bool:
    """Whether a value can be an IBAN, of whatever country (ISO 13616)."""
    text = value.replace(b" ", b"").upper().decode("ascii")
    return 15 <= len(text) <= 34 and is_valid("iso7064.mod_97_10", text[4:] + text[:4])


def checks(value: bytes) -> bool:
    """Whether the last digit of a number checks, whatever stands between its digits (ISO/IEC 7812-1, annex B)."""
    return is_valid("luhn", digits_of(value).decode())


def close(value: bytes) -> bytes:
    return value.upper().translate(None, b" -./")


def begins_with_a_day(value: bytes) -> bool:
    return re.match(rb"(?:19|20)\d\d-[01]\d-[0-3]\d", value) is not None


def is_card_number(value: bytes) -> bool:
    return is_card(value) and not begins_with_a_day(value)
