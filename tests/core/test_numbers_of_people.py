"""Numbers of cards, accounts and members: the name before them is enough, whatever they begin with."""

from __future__ import annotations

import io
import random

import pytest
from stdnum import luhn

from sealpacket.core.redact import Catalogue, Outcome, Placeholders
from sealpacket.core.redact.engine import Run
from sealpacket.core.redact.readers import Work, copy_file

CATALOGUE = Catalogue.build(domains=["quillmere.example"])
NAMES = ["card", "card no", "card_number", "acct", "account", "account id", "account_number", "patron", "patron no",
         "patron_barcode", "borrower", "member", "member_id", "membership", "membership number", "barcode", "customer no",
         "loyalty card", "library card"]  # fmt: skip


def masked(text: str) -> str:
    return Run(CATALOGUE, Placeholders(b"k" * 32), Outcome()).text(text.encode()).decode()


def copied(name: str, text: str) -> str:
    target = io.BytesIO()
    copy_file(io.BytesIO(text.encode()), target, Work(CATALOGUE, Placeholders(b"k" * 32)), name)
    return target.getvalue().decode()


def numbers(name: str) -> list[str]:
    """Numbers of six to sixteen digits that begin with every digit and check by nothing in particular."""
    chance = random.Random(name)
    return [
        f"{first}{chance.randrange(10 ** (length - 1)):0{length - 1}d}"
        for first in range(10)
        for length in (7, 10, 14, 16)
    ]


@pytest.mark.parametrize("name", NAMES)
def test_a_column_of_that_name_lets_none_through(name: str) -> None:
    given = numbers(name)
    copy = copied("a.csv", f"{name},branch\n" + "".join(f"{number},fennel\n" for number in given))
    assert [number for number in given if number in copy] == []
    assert copy.count("fennel") == len(given)


@pytest.mark.parametrize("name", NAMES)
def test_a_label_of_that_name_lets_none_through(name: str) -> None:
    for number in numbers(name):
        for given in (number, f"{number[:4]} {number[4:]}", f"{number[:2]}-{number[2:]}"):
            for text in (f"{name}: {given}", f"{name}={given} blocked", f'{{"{name}": "{given}"}}'):
                assert given not in masked(text), text


@pytest.mark.parametrize(
    "number", ["1234 5678 9012 3452", "9876-5432-1098-7658", "0000 1111 2222 3337"]
)
def test_groups_of_four_that_check_are_a_card_wherever_they_stand(number: str) -> None:
    assert number not in masked(f"she read out {number} twice")


@pytest.mark.parametrize(
    "text",
    ["card slot 3", "cards: 100000", "accounts migrated: 1234567", "account: 2026-11-27 08:40", "member: 4 of 123456",
     "patron count: 123456", "8116 0007 7314 0445 blocks", "account locked after 300000 ms"],
)  # fmt: skip
def test_what_only_looks_like_one_stays(text: str) -> None:
    assert masked(text) == text


@pytest.mark.parametrize(
    "name", ["payment card", "card", "Card no", "carte", "Kreditkarte", "creditcard"]
)
def test_a_number_that_checks_is_a_card_right_behind_the_word(name: str) -> None:
    """The label decides, not the first digit: that of a network that does not exist is as good."""
    chance = random.Random(name)
    for first in range(10):
        digits = f"{first}{chance.randrange(10**14):014d}"
        check = next(str(last) for last in range(10) if luhn.is_valid(f"{digits}{last}"))
        for number in (
            f"{digits}{check}",
            " ".join((digits[:4], digits[4:8], digits[8:12], digits[12:] + check)),
        ):
            assert number not in masked(f"{name} {number} declined"), number
    assert (
        masked("card 7 of 12 is dark, cards 1 to 4 are fine")
        == "card 7 of 12 is dark, cards 1 to 4 are fine"
    )
