"""Dates (RFC 3339), moments with their offset, and names of time zones."""

from __future__ import annotations

import zoneinfo
from datetime import date, datetime
from functools import cache
from random import Random
from typing import Any, ClassVar

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known


class Date(AnswerForm):
    """A day: 2026-11-23."""

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        try:
            date.fromisoformat(value)
        except ValueError:
            return "Give the day as 2026-11-23."
        return None if len(value) == 10 else "Give the day as 2026-11-23."

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return f"2026-11-{chance.randint(10, 23)}"


class Moment(AnswerForm):
    """Date, time and offset."""

    parts: ClassVar[frozenset[str]] = frozenset({"date", "time", "offset", "full"})

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        try:
            moment = datetime.fromisoformat(value)
        except ValueError:
            return "Give date and time, such as 2026-11-23T08:40+00:00 (RFC 3339)."
        return None if moment.tzinfo else "The time needs its offset, such as +00:00."

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """See AnswerForm."""
        try:
            moment = datetime.fromisoformat(value)
        except ValueError:
            return {"": value}
        offset = moment.isoformat()[-6:] if moment.utcoffset() is not None else ""
        return {
            "": value,
            "full": moment.isoformat(timespec="seconds"),
            "date": moment.date().isoformat(),
            "time": moment.strftime("%H:%M"),
            "offset": offset,
        }

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        return f"2026-11-{chance.randint(10, 22)}T{chance.randint(0, 23):02d}:40+00:00"


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
