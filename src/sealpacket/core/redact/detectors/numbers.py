"""Numbers with a check digit: payment cards (ISO/IEC 7812), IBAN (ISO 13616), and national identifiers by rule.

Which national identifiers are looked for is data: one row each, with the module of python-stdnum that checks it.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from importlib import import_module
from typing import Any

from sealpacket.core.redact.detectors.base import GIVES, LEAVE, OPENS, TELLS, Detector, digits_of, named


def luhn_holds(digits: str) -> bool:
    """Whether the last digit checks (ISO/IEC 7812-1, annex B)."""
    total = 0
    for place, digit in enumerate(reversed(digits)):
        value = int(digit) * (2 if place % 2 else 1)
        total += value - 9 if value > 9 else value
    return total % 10 == 0


def is_card(value: bytes) -> bool:
    """Whether a value can be the number of a payment card."""
    digits = digits_of(value).decode()
    return 13 <= len(digits) <= 19 and len(set(digits)) > 1 and luhn_holds(digits)


def _is_iban(value: bytes) -> bool:
    """ISO 13616: letters count from ten, the first four come last, and the rest by 97 is one."""
    text = value.replace(b" ", b"").upper().decode("ascii")
    if not 15 <= len(text) <= 34:
        return False
    return int("".join(str(int(sign, 36)) for sign in text[4:] + text[:4])) % 97 == 1


def _close(value: bytes) -> bytes:
    return value.upper().translate(None, b" -./")


@dataclass(frozen=True)
class NationalRule:
    """One national identifier: how it is written, what checks it (empty: its form alone), and the words before it.

    Without `words` it is looked for everywhere, which needs a form that nothing else has.
    """

    country: str
    name: str
    pattern: bytes
    check: str
    words: bytes = b""
    anchor: bytes = b""

    def holds(self, value: bytes) -> bool:
        """Whether the number checks."""
        if not self.check:
            return True
        module: Any = import_module(f"stdnum.{self.check}")
        return bool(module.is_valid(value.decode("ascii", "replace")))

    def detector(self) -> Detector:
        """The detector of this rule."""
        if not self.words:
            return Detector("national", self.name, rb"\b(" + self.pattern + rb")\b", (self.anchor,), self.holds, _close)
        before = (
            rb"(?i:\b(?:"
            + self.words
            + rb")(?:[ _.-]?(?:no|nr|number|id))?\.?\\?[\"']?[ \t]*(?:=>|:=|[=:>])?[ \t]*\\?[\"']?)"
        )
        anchor = rb"(?i)(?:" + self.words + rb")[ _a-z.\"'\\=:>-]{0,14}[a-z0-9]"
        return Detector("national", self.name, before + rb"(" + self.pattern + rb")\b", (anchor,), self.holds, _close)


NATIONAL_RULES = (
    NationalRule("GB", "national insurance number", rb"[A-CEGHJ-PR-TW-Z][A-CEGHJ-NPR-TW-Z] ?\d{2} ?\d{2} ?\d{2} ?[A-D]", "",
                 anchor=rb"\d{2} ?\d{2} ?\d{2} ?[A-D]\b"),
    NationalRule("GB", "health number", rb"\d{3}[ -]?\d{3}[ -]?\d{4}", "gb.nhs", rb"nhs"),
    NationalRule("US", "social security number", rb"\d{3}-\d{2}-\d{4}", "us.ssn", anchor=rb"\b\d{3}-\d{2}-\d{4}\b"),
    NationalRule("US", "labelled social security number", rb"\d{3}[- ]?\d{2}[- ]?\d{4}", "", rb"ssn|social[ _.-]?security(?:[ _.-]?(?:number|no))?"),
    NationalRule("DE", "tax number of a person", rb"\d{2} ?\d{3} ?\d{3} ?\d{3}", "de.idnr", rb"steuer-?id|steueridentifikationsnummer|idnr|tax[ _.-]?id"),
    NationalRule("FR", "number of social insurance", rb"[12] ?\d{2} ?\d{2} ?\d[\dAB] ?\d{3} ?\d{3} ?\d{2}", "fr.nir",
                 anchor=rb"\d{3} ?\d{3} ?\d{2}\b"),
    NationalRule("ES", "identity number", rb"\d{8}-?[A-HJ-NP-TV-Z]", "es.dni", anchor=rb"\b\d{8}-?[A-Z]\b"),
    NationalRule("IT", "tax code", rb"[A-Z]{6}\d{2}[A-EHLMPRST]\d{2}[A-Z]\d{3}[A-Z]", "it.codicefiscale", anchor=rb"[A-Z]{6}\d{2}[A-Z]\d{2}[A-Z]\d{3}[A-Z]"),
    NationalRule("NL", "citizen service number", rb"\d{9}", "nl.bsn", rb"bsn|burgerservicenummer|sofinummer"),
    NationalRule("SE", "personal number", rb"(?:19|20)?\d{6}[-+]\d{4}", "se.personnummer", anchor=rb"\d{6}[-+]\d{4}\b"),
    NationalRule("PL", "personal number", rb"\d{11}", "pl.pesel", rb"pesel"),
    NationalRule("FI", "personal code", rb"\d{6}[-+A]\d{3}[0-9A-Y]", "fi.hetu", anchor=rb"\b\d{6}[-+A]\d{3}[0-9A-Y]\b"),
    NationalRule("IN", "identity number", rb"\d{4} ?\d{4} ?\d{4}", "in_.aadhaar", rb"aadhaar|uidai"),
    NationalRule("BR", "taxpayer number", rb"\d{3}\.\d{3}\.\d{3}-\d{2}", "br.cpf", anchor=rb"\.\d{3}-\d{2}"),
    NationalRule("CH", "insurance number", rb"756\.?\d{4}\.?\d{4}\.?\d{2}", "ch.ssn", anchor=rb"\b756\.?\d{4}\.?\d{4}\.?\d{2}\b"),
)  # fmt: skip

_LABELS = rb"\\?[\"']?[ \t]*(?:=>|:=|[=:#])?[ \t]*\\?[\"']?"
_NATIONAL = (
    rb"ssn|social[ _.-]?security|nino|national[ _.-]?insurance|nhs|steuer-?id(?:nr)?|idnr|sozialversicherungs-?(?:nummer|nr)|ahv|avs|nir|insee|s(?:e|\xc3\xa9)curit(?:e|\xc3\xa9) sociale"
    rb"|codice[ _.-]?fiscale|pesel|person(?:nummer|[ _.-]?number)|cpr|hetu|henkil(?:o|\xc3\xb6)tunnus|bsn|burgerservicenummer|sofinummer|rijksregisternummer|cpf|dni|nif|curp|cnp|egn|oib|jmbg|emso|rodne cislo|aadhaar"
    rb"|national[ _.-]?id(?:entity)?|identity[ _.-]?number|tax[ _.-]?(?:id|payer|number|file)|cedula|fiscal[ _.-]?(?:code|number)"
)
"""What the number of a person is called, here and there."""

_OF_SOMEONE = rb"card|acct|account|patron|borrower|reader|customer|member(?:ship)?|loyalty|barcode|[a-z]*ausweis|mitglied(?:s|er)?|konto|carte|tarjeta"
"""What numbers of people's cards and records are called."""


_LABELLED = (
    rb"(?i:\b(?:[a-z]+[_.-])*(?:"
    + _OF_SOMEONE
    + rb")(?:[ _.-]?(?:number|nummer|num|no|nr|id|code|barcode|card))*)"
    + GIVES
    + OPENS
    + rb"(\d(?:[ -]?\d){5,23})\b"
)
_LABELLED_ANCHORS = (rb"(?i)(?:" + _OF_SOMEONE + rb")[a-z0-9_. -]{0,14}" + TELLS,)


_CARD = rb"\b(?:[a-z]*card|carte|tarjeta|[a-z]*karte|[a-z]*kaart|pan)(?:[ _.-]?(?:number|nummer|num|no|nr))?\.?"


def _begins_with_a_day(value: bytes) -> bool:
    return re.match(rb"(?:19|20)\d\d-[01]\d-[0-3]\d", value) is not None


def _is_card_number(value: bytes) -> bool:
    return is_card(value) and not _begins_with_a_day(value)


NUMBERS = (
    Detector(
        LEAVE,
        "unique identifier",
        rb"\b([0-9A-Fa-f]{8}-[0-9A-Fa-f]{4}-[0-9A-Fa-f]{4}-[0-9A-Fa-f]{4}-[0-9A-Fa-f]{12})\b",
    ),
    Detector(
        "card",
        "card number",
        rb"\b([2-6]\d{12,18}|\d{4}(?:[ -]\d{4}){2}[ -]\d{1,7}|3\d{3}[ -]\d{6}[ -]\d{5})\b",
        (rb"\b[2-6]\d{12}", rb"\b\d{4}[ -]\d{4}[ -]\d{4}[ -]\d", rb"\b3\d{3}[ -]\d{6}[ -]\d{5}"),
        is_card,
        digits_of,
    ),
    Detector("card", "track of a card's stripe", rb"B(\d{13,19}\^[^\^\r\n]{2,30}\^\d{4,40})", (rb"B\d{13,19}\^",)),
    Detector(
        "iban",
        "account number",
        rb"\b([A-Z]{2}\d{2}(?:[A-Z0-9]{11,30}|(?: [A-Z0-9]{4}){2,7}(?: [A-Z0-9]{1,3})?))\b",
        (rb"\b[A-Z]{2}\d{2}[A-Z0-9]{11}", rb"\b[A-Z]{2}\d{2} [A-Z0-9]{4} [A-Z0-9]{4}"),
        _is_iban,
        lambda value: value.replace(b" ", b""),
    ),
    Detector(
        "iban",
        "account number in small letters",
        rb"(?i:\biban" + GIVES + rb")" + OPENS + rb"([A-Za-z]{2}\d{2}[A-Za-z0-9 ]{11,40})\b",
        (named(rb"iban"),),
        _is_iban,
        lambda value: value.replace(b" ", b"").upper(),
    ),
    *(rule.detector() for rule in NATIONAL_RULES),
    Detector(
        "national",
        "labelled number of a person, whether it checks or not",
        rb"(?i:\b(?:"
        + _NATIONAL
        + rb")(?:[ _.-]?(?:number|numero|nummer|num|no|nr|id|code|card))*\.?(?:[ \t]+(?:is|was|ist|est|es))?"
        + _LABELS
        + rb")([A-Z]{0,6}\d[\dA-Z]*(?:[ ./-]?\d[\dA-Z]*){0,7}(?:-?[A-Z])?)\b",
        (rb"(?i)\b(?:" + _NATIONAL + rb")\b",),
        lambda value: len(digits_of(value)) >= 6 and len(value) <= 24,
        _close,
        sure=False,
    ),
    Detector(
        "iban",
        "labelled bank account",
        rb"(?i:\b(?:bank[ _.-]?)?(?:account|acct|konto)[ _.-]?(?:number|nummer|num|no|nr)\.?"
        + _LABELS
        + rb"|\b(?:acct|konto|kto|kontonr|rekening|compte|cuenta)\.?[ \t:]+)(\d{6,12})\b",
        (
            rb"(?i)(?:account|acct|konto|kto|kontonr|rekening|compte|cuenta)[ _.-]?(?:number|nummer|num|no|nr|\.|[ \t:]+\d)",
        ),
        sure=False,
    ),
    Detector(
        "card",
        "labelled number that checks",
        _LABELLED,
        _LABELLED_ANCHORS,
        _is_card_number,
        digits_of,
    ),
    Detector(
        "card",
        "number that checks right behind the word for a card",
        rb"(?i:" + _CARD + rb")[ \t]{1,3}#?(\d(?:[ -]?\d){12,18})\b",
        (rb"(?i)" + _CARD + rb"[ \t]{1,3}#?\d",),
        _is_card_number,
        digits_of,
    ),
    Detector(
        "reader",
        "number of a card, an account or a member, whatever it begins with and whether it checks or not",
        _LABELLED,
        _LABELLED_ANCHORS,
        lambda value: not _begins_with_a_day(value),
        digits_of,
        sure=False,
    ),
    Detector(
        "iban",
        "sort code",
        rb"(?i:\b(?:sort(?:[ _.-]?code)?|blz|bankleitzahl|routing[ _.-]?(?:number|no))"
        + _LABELS
        + rb")(\d{2}[- ]?\d{2}[- ]?\d{2,5})\b",
        (rb"(?i)(?:sort(?:[ _.-]?code)?|blz|bankleitzahl|routing[ _.-]?(?:number|no))[\"'\\ \t=:#>]{0,6}\d",),
    ),
    Detector(
        "national",
        "labelled plate of a car",
        rb"(?i:\b(?:(?:car|vehicle|van|bus)[ _.-]?(?:reg(?:istration)?|number|plate)|(?:licen[sc]e|number)[ _.-]?plate|plate|registration[ _.-]?plate|kennzeichen|vrm|vrn)(?:[ _.-]?(?:number|no|nr))?\.?"
        + _LABELS
        + rb")([A-Z0-9]{1,4}[ -]?[A-Z0-9]{1,4}(?:[ -]?[A-Z0-9]{1,4})?)\b",
        (
            rb"(?i)(?:reg|registration|plate|kennzeichen|vrm|vrn|number)(?:[ _.-]?(?:number|no|nr))?[ .\"'\\=:#>\t]{1,8}[a-z0-9]",
        ),
        lambda value: len(value) >= 5 and 0 < len(digits_of(value)) < len(value) and value.upper() == value,
        _close,
        sure=False,
    ),
    Detector(
        "national",
        "labelled papers of a person",
        rb"(?i:\b(?:passport|driving[ _.-]?licen[sc]e|driver'?s?[ _.-]?licen[sc]e|identity[ _.-]?card|id[ _.-]?card|personalausweis|reisepass|pass[ _.-]?nummer)[ _.-]?\(?(?:number|num|no|nr|id)?\.?"
        + _LABELS
        + rb"(?:[A-Z]{3} )?)([A-Z0-9]{6,18})\b",
        (rb"(?i)(?:passport|licen[sc]e|card|ausweis|reisepass|nummer)[ _a-z0-9.\"'\\=:#>-]",),
        lambda value: len(digits_of(value)) >= 4,
        _close,
        sure=False,
    ),
)
