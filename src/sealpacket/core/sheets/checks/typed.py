"""Checks of typed text: none of the gravest kinds may be in it, and masked text must still fit the desk's form."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from sealpacket.core.kinds import FLOOR
from sealpacket.core.outgoing import OutgoingText, RedactedText
from sealpacket.core.sheets.answers import answer_fault
from sealpacket.core.sheets.checks.result import Check, passed
from sealpacket.core.sheets.forms import Known
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.outgoing import TypedText, redacted_texts
from sealpacket.core.words import joined

WORDS = {
    "secret": "a password or another secret", "token": "an access token", "key": "a key",
    "hash": "the hash of a password", "card": "a card number", "iban": "a bank account",
    "national": "a national identifier", "birth": "a date of birth",
}  # fmt: skip
"""The kinds of the floor, as a person calls them."""


@dataclass(frozen=True)
class Typed:
    """The typed texts of a packet with what was found in each.

    `decided` are values that someone has had masked; `leaking` are placeholders of values that could not be masked.
    """

    texts: tuple[TypedText, ...] = ()
    found: Mapping[str, RedactedText] = field(default_factory=dict)
    floor: frozenset[str] = FLOOR
    decided: frozenset[str] = frozenset()
    leaking: tuple[str, ...] = ()

    def outgoing(self) -> dict[str, OutgoingText]:
        """By path, what leaves. Raises KeyError for a text in which nobody looked."""
        return redacted_texts(self.texts, self.found)

    def distinct(self) -> list[TypedText]:
        """The texts, each once: a note that fills an answer is the same text."""
        seen: dict[tuple[str, RedactedText], TypedText] = {}
        for one in self.texts:
            seen.setdefault((one.text, self.found[one.path]), one)
        return list(seen.values())

    def grave(self) -> Iterator[tuple[TypedText, list[str]]]:
        """Each text that holds something of the floor about which nobody has decided, with the kinds."""
        for one in self.distinct():
            kinds = {
                value.kind
                for finding in self.found[one.path].findings
                for value in finding.values
                if value.kind in self.floor and value.original.casefold() not in self.decided
            }
            if kinds:
                yield one, sorted(kinds)


def check_typed(sheet: Sheet, typed: Typed, known: Known) -> Iterator[Check]:
    """Stops for what must not even be masked unseen; a hint for what is masked."""
    yield from grave_checks(typed)
    if typed.leaking:
        yield Check(
            code="typed-leak",
            level="stop",
            act="open_letter",
            sentence=f"The typed text still holds a value that is masked elsewhere: {joined(typed.leaking)}.",
            remedy="Word it without that value; the exhibits show which one it is",
        )
    yield from _forms(sheet, typed, known)
    if many := sum(len(typed.found[one.path].findings) for one in typed.distinct()):
        values = "1 value is" if many == 1 else f"{many} values are"
        yield Check(
            code="typed-masked",
            level="hint",
            act="open_letter",
            sentence=f"{values} masked in what was typed.",
            remedy="The letter shows which",
        )
    elif typed.texts:
        yield passed("typed-masked", "Nothing sensitive was found in what was typed.")


def grave_checks(typed: Typed) -> Iterator[Check]:
    """A stop for each text that holds something of the floor."""
    for text, kinds in typed.grave():
        yield Check(
            code="typed-secret",
            level="stop",
            act="open_letter",
            target=text.question,
            sentence=f"{quoted(text.ask)} holds {say_kinds(kinds)}.",
            remedy="Take it out, or have it masked for a reason: see the letter",
        )


def _forms(sheet: Sheet, typed: Typed, known: Known) -> Iterator[Check]:
    """Answers that the desk would not take any more once they are masked."""
    for one in typed.texts:
        question = sheet.question(one.question)
        findings = typed.found[one.path].findings
        if question is None or not findings or answer_fault(question, one.text, known):
            continue
        fault = answer_fault(question, typed.found[one.path].outgoing(one.text), known)
        if fault:
            kinds = sorted({value.kind for finding in findings for value in finding.values})
            yield Check(
                code="masked-form",
                level="stop",
                act="open_letter",
                target=question.id,
                sentence=f"{quoted(one.ask)} does not fit any more once its {joined(kinds)} is masked. {fault}",
                remedy="Word it without that, or let it go out for a reason: see the letter",
            )


def say_kinds(kinds: Sequence[str]) -> str:
    """Kinds of the floor as a person calls them."""
    return joined([WORDS.get(kind, f"a value of the kind {kind}") for kind in kinds])


def quoted(ask: str) -> str:
    """The name of a text as the start of a sentence: “Who is hindered?”, but The note."""
    return f"“{ask}”" if ask.endswith("?") else ask


def found_in(texts: Sequence[TypedText]) -> Typed:
    """Texts in which nothing is looked for: of samples."""
    return Typed(tuple(texts), {one.path: RedactedText() for one in texts})
