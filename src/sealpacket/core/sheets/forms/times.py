"""Dates (RFC 3339), moments with their offset, and names of time zones."""

from __future__ import annotations

import zoneinfo
from datetime import UTC, date, datetime, timedelta
from functools import cache
from random import Random
from typing import Any, ClassVar

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known

_TODAY = "packet.sealed_on"
"""The fact that is today while a packet is a draft."""


class Date(AnswerForm):
    """A day: 2026-11-23."""

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        try:
            day = date.fromisoformat(value)
        except ValueError:
            return "Give the day as 2026-11-23."
        return (
            _misplaced(question, day, known) if len(value) == 10 else "Give the day as 2026-11-23."
        )

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return _sample_day(question, chance, known).isoformat()


class Moment(AnswerForm):
    """Date, time and offset."""

    parts: ClassVar[frozenset[str]] = frozenset({"date", "time", "offset", "full"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        try:
            moment = datetime.fromisoformat(value)
        except ValueError:
            return "Give date and time, such as 2026-11-23T08:40+00:00 (RFC 3339)."
        if moment.tzinfo is None:
            return "The time needs its offset, such as +00:00."
        return _misplaced(question, moment.astimezone(UTC).date(), known)

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        try:
            moment = datetime.fromisoformat(value)
        except ValueError:
            return {"": value}
        offset = moment.isoformat()[-6:] if moment.utcoffset() is not None else ""
        full = moment.isoformat(timespec="seconds")
        return {
            "": full,
            "full": full,
            "date": moment.date().isoformat(),
            "time": moment.strftime("%H:%M"),
            "offset": offset,
        }

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return f"{_sample_day(question, chance, known)}T{chance.randint(0, 23):02d}:40+00:00"


def _misplaced(question: Question, day: date, known: Known) -> str | None:
    """The fault of a day that is too early or too late, seen from the day of sending; None if that is not known."""
    today = known.look_up(_TODAY)
    if question.time == "past" and today and day.isoformat() > today:
        return "That is still to come."
    if question.time == "future" and today and day.isoformat() < today:
        return "That day is past."
    return None


def _sample_day(question: Question, chance: Random, known: Known) -> date:
    today = date.fromisoformat(known.look_up(_TODAY) or "2026-11-23")
    days = timedelta(days=chance.randint(1, 13))
    return today + days if question.time == "future" else today - days


@cache
def _zones() -> frozenset[str]:
    return frozenset(zoneinfo.available_timezones())


class Zone(AnswerForm):
    """The name of a time zone, as in the IANA database."""

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        return None if value in _zones() else f"“{value}” is not a time zone name."

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return "Europe/London"
