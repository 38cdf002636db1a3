"""Response models of redaction: findings, decisions, legend."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field


class MaskedValue(BaseModel):
    """A value that is masked in a typed text."""

    kind: str
    placeholder: str
    original: str


class TextPart(BaseModel):
    """A part of a typed text: `text` as it was typed, `goes` as it leaves. `masked` is empty where both are the same.

    `sure` is false for a finding of low confidence; `stops` is true for a secret or its like about which nobody has
    decided yet.
    """

    text: str
    goes: str
    masked: list[MaskedValue]
    sure: bool
    stops: bool


class KeptShown(BaseModel):
    """A sensitive value that goes out as it is, and why."""

    value: str
    reason: str


class TypedShown(BaseModel):
    """A typed text beside what leaves of it. `in_clear` says why some kinds of value are not masked in it."""

    path: str
    ask: str
    question: str
    parts: list[TextPart]
    outgoing: str
    kept: list[KeptShown]
    in_clear: str


class Span(BaseModel):
    """A part of a line; `placeholder` is set if it is masked, `kind` says as what. `goes` is the outgoing form of a
    part that is not masked, if the times in it are shifted."""

    text: str
    kind: str | None = None
    placeholder: str | None = None
    goes: str | None = None


class ReviewLine(BaseModel):
    """One line of an exhibit, original beside outgoing."""

    number: int
    spans: list[Span]


class PlaceholderShown(BaseModel):
    """A placeholder and its original."""

    placeholder: str
    value: str


class ClearMessage(BaseModel):
    """A message with its placeholders resolved."""

    id: str
    text: str


class LegendShown(BaseModel):
    """The legend of a packet, or the beginning of a long one, and what was said in clear."""

    total: int
    placeholders: list[PlaceholderShown]
    messages: list[ClearMessage]


class LegendDestroyed(BaseModel):
    """The proof: the custody log has this fingerprint of the key from its making and from its end."""

    number: str
    destroyed_at: datetime
    fingerprint: str


class FindingShown(BaseModel):
    """One finding: the original, and the outgoing text. `sure` is false for a finding of low confidence."""

    kind: str
    value: str
    placeholder: str
    sure: bool


class Review(BaseModel):
    """A window on an exhibit around one finding. Findings are numbered from 0; `at` is the one in the middle, `focus`.

    `doubtful` is how many of all are not certain: these had better be looked at first.
    """

    findings: int
    doubtful: int
    at: int | None
    line: int
    all_lines: int
    focus: FindingShown | None
    lines: list[ReviewLine]
    counts: dict[str, int]


class ValueShown(BaseModel):
    """One value that was masked in an exhibit, and how often."""

    placeholder: str
    kind: str
    value: str
    times: int


class ValueList(BaseModel):
    """The values of an exhibit, the most frequent first; `total` is how many there are."""

    total: int
    values: list[ValueShown]


class CoveredShown(BaseModel):
    """One box on a page as it goes out, in parts of its width and height, and the value beneath.

    `placeholder` and `value` are empty for a code that says nothing, `value` also once the legend is destroyed.
    """

    left: float
    top: float
    right: float
    bottom: float
    kind: str
    placeholder: str
    value: str
    sure: bool


class PageShown(BaseModel):
    """One page: its size in pixels, and what is covered on it."""

    width: int
    height: int
    covered: list[CoveredShown]


class DrawnBoxShown(BaseModel):
    """A box that a person drew on a page (from 1), in parts of its width and height, and why."""

    id: str
    page: int
    left: float
    top: float
    right: float
    bottom: float
    reason: str
    by: str
    at: datetime


class DrawnBoxes(BaseModel):
    """All boxes that were drawn on an exhibit."""

    drawn: list[DrawnBoxShown]


class PageList(DrawnBoxes):
    """The pages of a picture or PDF."""

    pages: list[PageShown]


class DecisionShown(BaseModel):
    """That a value (or, where it is empty, a whole kind) is kept or masked everywhere in a packet, and why.

    Of a whole kind the lines or files can be left out, too.
    """

    id: str
    action: Literal["keep", "mask", "drop-line", "drop-file"]
    kind: str
    value: str
    label: str
    reason: str
    by: str
    at: datetime


class DecisionList(BaseModel):
    """All that was decided about a packet's values, the newest first."""

    decisions: list[DecisionShown]


class RedactionPlanShown(BaseModel):
    """The organisation's redaction plan as YAML; `floor` are the kinds that nothing can have kept."""

    number: int
    yaml: str
    floor: list[str]
    by: str
    at: datetime | None


class RuleLine(BaseModel):
    """A line of a sample in which a rule finds something."""

    number: int = Field(description="The line, from 1.")
    text: str = Field(description="The line, with each value in « ».")


class RuleTried(BaseModel):
    """The findings of one rule; only its faults if it has any."""

    rule: str = Field(description="The rule's id.")
    faults: list[str] = Field(description="Why it cannot be used.")
    lines: list[RuleLine] = Field(description="The first lines of the sample with a value.")
    values: int = Field(description="How many values it finds in the sample.")
    frozen_values: int = Field(
        description="How many values it finds that are marked in the frozen files."
    )
    frozen_others: int = Field(description="How many other places it finds there.")


class RulesTried(BaseModel):
    """The findings of each rule of a file."""

    rules: list[RuleTried] = Field(description="The rules, in the order of the file.")
