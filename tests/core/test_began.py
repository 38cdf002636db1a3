"""When something began, read from what people write."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo

import pytest

from sealpacket.core.evidence.began import read_began

ZONE = ZoneInfo("Europe/London")
NOTED = datetime(2026, 11, 23, 10, 20, tzinfo=ZONE)  # a Monday


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Since 09:00 the reader stays dark.", "2026-11-23T09:00"),
        ("It began around 8.40 this morning", "2026-11-23T08:40"),
        ("Slow since yesterday 16:15", "2026-11-22T16:15"),
        ("since Friday at 7 pm nothing", "2026-11-20T19:00"),
        ("started at 9 am", "2026-11-23T09:00"),
        ("since 23:50 the gate is open", "2026-11-22T23:50"),
        ("From 21 November, 14:05 on", "2026-11-21T14:05"),
        ("as of 2026-11-22 06:30", "2026-11-22T06:30"),
        ("The kiosk went dark last night at 11 pm.", "2026-11-22T23:00"),
        ("since Thursday", "2026-11-19T00:00"),
        ("It has 14 slots and 3 cards, at 10.40.7.22", None),
        ("since we moved it", None),
        ("at 45 degrees since 2019", None),
        ("tomorrow at 14:00 the engineer comes", None),
        ("", None),
    ],
)
def test_when_it_began_is_read(text: str, expected: str | None) -> None:
    found = read_began(text, NOTED, ZONE)
    assert (found.at.isoformat()[:16] if found else None) == expected
    assert found is None or found.words in text.replace("  ", " ")
