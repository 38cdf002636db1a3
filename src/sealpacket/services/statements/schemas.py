"""Response models of vendor statements."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal

from pydantic import BaseModel

from sealpacket.core.statement import CoverLine, SlipKind

DifferenceSort = Literal["only_ours", "only_theirs", "differs", "mistyped"]


Decision = Literal["ours", "theirs", "packet"]


class DifferenceCounts(BaseModel):
    """How many lines agree, and how many differ in which way."""

    agreeing: int
    only_ours: int
    only_theirs: int
    differs: int
    mistyped: int


class StatementShown(BaseModel):
    """A vendor's statement as of a day."""

    id: str
    vendor: str
    vendor_name: str
    as_of: date
    name: str
    size: int
    state: Literal["reading", "ready", "failed", "dropped"]
    status_text: str
    headings: list[str]
    mapping: dict[str, str]
    counts: DifferenceCounts
    undecided: int
    by: str
    at: datetime


class SlipShown(BaseModel):
    """Where two serials differ: characters counted from 1, and the slip as a sentence."""

    kind: SlipKind
    at: int
    ours: str
    theirs: str
    words: str


class DecidedBefore(BaseModel):
    """A decision about a similar difference in an earlier statement."""

    decision: Decision
    by: str
    at: datetime
    reason: str
    packet: str | None


class DifferenceShown(BaseModel):
    """One difference, and what was decided of it."""

    number: int
    sort: DifferenceSort
    serial: str
    asset_id: str | None
    ours: CoverLine | None
    theirs: CoverLine | None
    fields: list[str]
    slips: list[SlipShown]
    sentence: str
    decision: Decision | None
    reason: str
    decided_by: str | None
    decided_at: datetime | None
    packet: str | None
    before: DecidedBefore | None


class Differences(BaseModel):
    """Differences by serial; `next` is the number to go on above."""

    items: list[DifferenceShown]
    next: int | None
