"""Rules as data: what is read from a file of rules, checked, and turned into detectors."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable, Iterator
from dataclasses import replace
from functools import lru_cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from sealpacket.core.kinds import KINDS
from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules.detector import LEAVE, Detector
from sealpacket.core.redact.rules.judging import BadJudgement, all_hold
from sealpacket.core.redact.rules.ordinary import is_ordinary
from sealpacket.core.redact.rules.spellings import SPELLINGS
from sealpacket.core.redact.rules.vocabulary import UnknownPiece, grammar, pattern_of

OPENS, CLOSES = "«", "»"
"""What stands around a value in an example."""
_Text = Annotated[str, Field(min_length=1, max_length=4000)]
_Examples = Annotated[tuple[_Text, ...], Field(min_length=1, max_length=60)]


class BadRule(ValueError):
    """A rule that cannot be used, with the reason."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Shape(_Part):
    """One form in which the values of a rule are written."""

    pattern: _Text = Field(
        description="RE2 syntax with one group, the value. {{name}} stands for a piece; a line end and the blanks "
        "behind it mean nothing."
    )
    anchors: tuple[_Text, ...] = Field(
        (),
        max_length=20,
        description="Short patterns, of which one is in every match: only there it is looked for.",
    )
    about: str = Field(
        "", max_length=200, description="What it is, where the rule has several shapes."
    )
    also: str = Field("", max_length=400, description="What must hold of its values besides.")
    over_lines: bool = Field(False, description="Whether a match may go over the ends of lines.")


class Rule(_Part):
    """Finds values of one kind, in one shape or several."""

    id: str = Field(pattern=r"^[a-z][a-z0-9-]{1,119}$")
    kind: str = Field(
        description="What the values are; `leave` for what looks like a value and is none."
    )
    confidence: Literal["high", "low"] = Field(
        "high", description="low: a person should look at what it finds."
    )
    validator: str = Field(
        "",
        max_length=400,
        description="What must hold of a value, such as `secret and digits >= 2`.",
    )
    same: str = Field(
        "", description="How spellings of one value are brought together: lower, digits, host …"
    )
    says: tuple[_Text, ...] = Field(
        (),
        max_length=200,
        description="Labels that tell of a value, a star before one that may end a word; the shapes are then those of "
        "the value alone.",
    )
    grammars: tuple[_Text, ...] = Field(
        ("assigned", "element", "pair", "option"),
        description="Where a value stands beside its label.",
    )
    match: _Examples = Field(description="Texts with the values that the rule finds in « ».")
    leave: _Examples = Field(description="Texts in which the rule finds nothing.")
    origin: str = Field(
        "", max_length=400, description="Where it is from, if not where its file is from."
    )
    shape: tuple[Shape, ...] = Field(min_length=1, max_length=60)

    def detectors(self) -> Iterator[Detector]:
        """One detector for each shape. Raises BadRule."""
        if self.kind not in KINDS and self.kind != LEAVE:
            raise BadRule(
                f"{self.id}: there is no kind “{self.kind}”; there are {', '.join(KINDS)}"
            )
        if self.same not in SPELLINGS:
            raise BadRule(
                f"{self.id}: same is one of {', '.join(name for name in SPELLINGS if name)}"
            )
        for shape in self.shape:
            try:
                yield from self._of_shape(shape)
            except (BadJudgement, UnknownPiece) as error:
                raise BadRule(f"{self.id}: {error}") from error

    def _of_shape(self, shape: Shape) -> Iterator[Detector]:
        judged_by = tuple(one for one in (self.validator, shape.also) if one)
        form = Detector(
            self.kind,
            shape.about or self.id,
            pattern_of(shape.pattern),
            tuple(pattern_of(one) for one in shape.anchors),
            all_hold(judged_by),
            SPELLINGS[self.same],
            self.confidence == "high",
            shape.over_lines,
            judged_by=judged_by,
        )
        if not self.says:
            yield form
            return
        for one in map(grammar, self.grammars):
            anchor = rb"(?i)" + one.anchor_lead + rb"(?:" + self._labels(b"") + rb")" + one.anchor
            cue = one.lead + rb"(?i:" + self._labels(rb"[a-z]{0,12}") + rb")"
            yield replace(form, pattern=one.between + form.pattern, anchors=(anchor,), cue=cue)

    def _labels(self, before: bytes) -> bytes:
        """Any of the labels; between the words of one may be a blank, a stroke, a dot, or nothing.

        What may be stuck to the beginning of a label with a star is `before`.
        """
        return rb"|".join(
            before * label.startswith("*")
            + rb"[ _.-]?".join(re.escape(word).encode() for word in label.lstrip("*").split())
            for label in self.says
        )


class RuleFile(_Part):
    """A file of rules."""

    origin: str = Field("", max_length=400, description="Where the rules are from.")
    licence: str = Field("", max_length=200, description="Under what they may be used.")
    rule: tuple[Rule, ...] = Field(max_length=400)


def read_rules(text: str) -> RuleFile:
    """The rules of a file in TOML. Raises BadRule with what is wrong and where."""
    try:
        return RuleFile.model_validate(tomllib.loads(text))
    except tomllib.TOMLDecodeError as error:
        raise BadRule(f"this is no TOML: {error}") from error
    except ValidationError as error:
        first = error.errors()[0]
        raise BadRule(f"{'.'.join(str(part) for part in first['loc'])}: {first['msg']}") from error


_compiled = lru_cache(64)(native.Pattern)
"""Patterns of the rules in hand: each is looked for in many texts."""


def finds(detector: Detector, text: bytes) -> list[tuple[int, int]]:
    """Where the values lie that a detector alone finds in a text. Raises BadRule."""
    try:
        pattern = _compiled(detector.whole)
    except ValueError as error:
        raise BadRule(f"{detector.name}: {error}") from error
    return [
        (start, end)
        for start, end in pattern.values(text)
        if end > start and _counts(detector, text[start:end])
    ]


def _counts(detector: Detector, value: bytes) -> bool:
    if not detector.sure and is_ordinary(value):
        return False
    return detector.accept is None or detector.accept(value)


def faults_of(rule: Rule) -> list[str]:
    """What is wrong with a rule: patterns that cannot be read, examples that it does not keep."""
    try:
        detectors = list(rule.detectors())
        faults = [fault for one in detectors for fault in _faults_of_shape(rule, one)]
        return faults or [*_faults_of_matches(rule, detectors), *_faults_of_leaves(rule, detectors)]
    except BadRule as error:
        return [str(error)]


def _faults_of_shape(rule: Rule, detector: Detector) -> Iterator[str]:
    try:
        pattern = _compiled(detector.whole)
    except ValueError as error:
        yield f"{detector.name}: the pattern cannot be read: {error}"
        return
    if pattern.groups != 1:
        yield f"{detector.name}: the pattern has {pattern.groups} groups; one is the value, make others (?:…)"
    if pattern.is_whole(b""):
        yield f"{detector.name}: the pattern matches where nothing is, and so everywhere"
    mine = [text for text, _ in map(unmarked, rule.match) if finds(detector, text)]
    if not mine and not rule.says:
        yield f"{detector.name}: it is found in none of the rule's examples"
    try:
        anchors = [native.Pattern(anchor) for anchor in detector.anchors]
    except ValueError as error:
        yield f"{detector.name}: an anchor cannot be read: {error}"
        return
    yield from (
        f"{detector.name}: none of its anchors is in “{text.decode()}”, where it finds something"
        for text in mine
        if anchors and not any(anchor.count(text) for anchor in anchors)
    )


def _faults_of_matches(rule: Rule, detectors: list[Detector]) -> Iterator[str]:
    for example in rule.match:
        text, marked = unmarked(example)
        found = found_by(detectors, text)
        if not marked:
            yield f"{rule.id}: no value is marked with {OPENS} {CLOSES} in “{example}”"
        elif found != marked:
            said = ", ".join(text[start:end].decode() for start, end in found) or "nothing"
            yield f"{rule.id}: in “{example}” it finds {said}"


def _faults_of_leaves(rule: Rule, detectors: list[Detector]) -> Iterator[str]:
    for example in rule.leave:
        text = example.encode()
        for start, end in found_by(detectors, text):
            yield f"{rule.id}: it finds “{text[start:end].decode()}” in “{example}”, which it has to leave"


def found_by(detectors: Iterable[Detector], text: bytes) -> list[tuple[int, int]]:
    """Where the values lie that some detectors find, in order; of two that overlap the longer stays, and of the other
    what sticks out. Raises BadRule."""
    spans = [span for one in detectors for span in finds(one, text)]
    chosen: list[tuple[int, int]] = []
    for start, end in sorted(spans, key=lambda span: (span[0], -span[1])):
        free = chosen[-1][1] if chosen else 0
        if end > free:
            chosen.append((max(start, free), end))
    return chosen


def unmarked(example: str) -> tuple[bytes, list[tuple[int, int]]]:
    """The text of an example, and where the values lie that are marked in it."""
    text, spans, begins = b"", [], 0
    for part in example.replace(OPENS, f"\0{OPENS}").replace(CLOSES, f"\0{CLOSES}").split("\0"):
        if part.startswith(OPENS):
            begins = len(text)
        elif part.startswith(CLOSES):
            spans.append((begins, len(text)))
        text += part.removeprefix(OPENS).removeprefix(CLOSES).encode()
    return text, spans


def families() -> dict[str, RuleFile]:
    """All files of rules that ship with the product, by their names."""
    folder = resources.files(__package__) / "families"
    files = (one for one in folder.iterdir() if one.name.endswith(".toml"))
    read: dict[str, RuleFile] = {}
    for file in sorted(files, key=lambda one: one.name):
        try:
            read[file.name.removesuffix(".toml")] = read_rules(file.read_text("utf-8"))
        except BadRule as error:
            raise BadRule(f"{file.name}: {error}") from error
    return read
