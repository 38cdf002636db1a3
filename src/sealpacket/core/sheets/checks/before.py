"""Preconditions of a desk."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets.answers import Answer, Facts
from sealpacket.core.sheets.checks.result import Check, passed
from sealpacket.core.sheets.model import Required, Sheet


def check_before(
    sheet: Sheet, answers: Sequence[Answer], ruling: Ruling | None, facts: Facts
) -> Iterator[Check]:
    """Each requirement of the sheet."""
    if ruling is None:
        return
    for rule in sheet.requirements:
        if rule.requirement == "purpose" and not any(
            a.question == rule.question and a.shown for a in answers
        ):
            continue
        found = _broken(rule, answers, ruling, facts)
        if found is None:
            yield passed(rule.requirement.replace("_", "-"), f"{_SAID[rule.requirement]}.")
        else:
            sentence, remedy, act, target = found
            words = f" {rule.because}" if rule.because else ""
            yield Check(
                code=rule.requirement.replace("_", "-"),
                level=rule.level,
                sentence=sentence + words,
                remedy=remedy,
                act=act,
                target=target,
            )


_SAID = {
    "mailbox_read": "Someone reads the mailbox of the login",
    "contract_tied": "The contract is tied to the login",
    "product_registered": "The product is registered",
    "warranty_elsewhere": "It is not a matter of warranty",
    "purpose": "The purpose is said",
}


def _fact(facts: Facts, path: str) -> Any:
    fact = facts.get(path)
    return None if fact is None else fact.value


Broken = tuple[str, str, str, str] | None
"""Sentence, remedy, act and target of what is not so."""


def _broken(rule: Required, answers: Sequence[Answer], ruling: Ruling, facts: Facts) -> Broken:
    match rule.requirement:
        case "mailbox_read":
            return _mailbox(facts)
        case "contract_tied":
            return _tie(ruling, facts)
        case "product_registered":
            if _fact(facts, "asset.registered_on"):
                return None
            serial = str(_fact(facts, "asset.serial") or "")
            return (
                "The product is not registered with the vendor.",
                "Register it, and note the day.",
                "mend_asset",
                serial,
            )
        case "warranty_elsewhere":
            if ruling.route != "warranty":
                return None
            return (
                "This is in warranty: a support case would be refused.",
                "Make it a return: the claim goes to the desk for warranty.",
                "change_need",
                "return",
            )
        case "purpose":
            if any(a.question == rule.question and a.value for a in answers):
                return None
            return (
                "The purpose is missing.",
                "Say it in a sentence.",
                "answer",
                rule.question,
            )


def _mailbox(facts: Facts) -> Broken:
    login = str(_fact(facts, "login.name") or "")
    if login and _fact(facts, "login.mailbox_read") == "yes":
        return None
    found = f"Nobody reads the mailbox of {login}." if login else "The packet has no login yet."
    return found, "Choose a login whose mailbox is read, or have it read.", "use_login", ""


def _tie(ruling: Ruling, facts: Facts) -> Broken:
    tied = str(_fact(facts, "login.contracts") or "").split(", ")
    if ruling.contract is None or ruling.contract in tied:
        return None
    login = str(_fact(facts, "login.name") or "") or "The login"
    return (
        f"{login} is not tied to contract {ruling.contract}.",
        "Have the vendor tie it, or use a login that has it.",
        "open_ruling",
        ruling.contract,
    )
