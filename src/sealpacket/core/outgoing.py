"""Outgoing text: the only form of what a person typed that may leave the house."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class OutgoingText(str):
    """Text after redaction. What reaches a desk, a bag or a preview has this type; what a person typed has not."""

    __slots__ = ()


class HiddenValue(BaseModel):
    """One sensitive value: its kind, its placeholder, the name of that in the legend, and the original."""

    model_config = ConfigDict(frozen=True)

    kind: str
    placeholder: str
    noted: str
    original: str


class TextFinding(BaseModel):
    """A range of a typed text (in characters) that is replaced. Encoded text may hide several values at once."""

    model_config = ConfigDict(frozen=True)

    start: int
    end: int
    replacement: str
    sure: bool
    values: tuple[HiddenValue, ...]


class KeptValue(BaseModel):
    """A sensitive value that goes out as it is, and why."""

    model_config = ConfigDict(frozen=True)

    value: str
    reason: str


class RedactedText(BaseModel):
    """The findings of one typed text, in order and without overlap."""

    model_config = ConfigDict(frozen=True)

    findings: tuple[TextFinding, ...] = ()
    kept: tuple[KeptValue, ...] = ()

    def outgoing(self, typed: str) -> OutgoingText:
        """The typed text with every finding replaced."""
        parts, done = [], 0
        for finding in self.findings:
            parts += [typed[done : finding.start], finding.replacement]
            done = finding.end
        return OutgoingText("".join([*parts, typed[done:]]))
