"""The model of a log summary."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

Level = Literal["", "critical", "error", "warning", "info", "debug"]
LEVELS: tuple[Level, ...] = ("", "critical", "error", "warning", "info", "debug")
"""By their numbers in the native part; the first is that of messages that say none."""
Mark = Literal["frequent", "rare", "new", "more"]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True)


class MessageFound(_Part):
    """A message that a log repeats; `*` in its text marks the changing parts."""

    text: str
    level: Level
    count: int
    first: datetime
    last: datetime
    example: str
    marks: list[Mark] = Field(
        description="frequent or rare in the log; new in the window, or more frequent there"
    )
    factor: float | None = Field(
        default=None, description="How much more frequent it is in the window than before"
    )
    counts: list[int] = Field(description="Occurrences in equal parts of the log's span")


class GapFound(_Part):
    """A time in which nothing was written, although the log usually writes more often."""

    start: datetime
    end: datetime
    line: int = Field(description="The first line after it")


class StepBack(_Part):
    """A place where the clock was set back."""

    before: datetime
    after: datetime
    line: int


class RestartFound(_Part):
    """A line that says that a machine or a program started or stopped."""

    at: datetime
    text: str


class FactFound(_Part):
    """A version or a reading that a line states; the last one that the log has."""

    name: str
    value: str
    at: datetime


class IssueFound(_Part):
    """A known issue whose pattern the log has."""

    key: str
    title: str
    meaning: str
    advice: str
    fixed_in: str = ""
    link: str = ""
    count: int
    first: datetime
    last: datetime
    example: str


class WriterFound(_Part):
    """One of several writers of a log whose clocks differ, by the word that its lines have."""

    name: str
    ahead: float = Field(description="Seconds that its clock is ahead of the first writer's")


class LevelCounts(_Part):
    """Lines of one level in equal parts of the log's span."""

    level: Level
    total: int
    counts: list[int]


class SpanLooked(_Part):
    """From one moment to another."""

    start: datetime
    end: datetime


class Summary(_Part):
    """An overview of a log."""

    names: list[str] = Field(description="Its files, in the order of their times")
    octets: int = Field(description="Bytes, unpacked")
    lines: int
    untimed: int = Field(description="Lines without a time of their own")
    first: datetime
    last: datetime
    example: str = Field(description="How it writes a time")
    notes: list[str] = Field(description="Warnings about its times")
    levels: list[LevelCounts]
    gaps: list[GapFound]
    restarts: list[RestartFound]
    steps_back: list[StepBack]
    steps_back_total: int
    writers: list[WriterFound]
    window: SpanLooked | None = Field(
        description="The time around the event, for which new and more frequent messages are listed"
    )
    kinds: int = Field(description="Different messages")
    messages: list[MessageFound]
    issues: list[IssueFound]
    facts: list[FactFound]
