"""The result of a check."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from pydantic import BaseModel, ConfigDict

CheckLevel = Literal["stop", "warn", "hint", "pass"]


class Check(BaseModel):
    """One check. `act` and `target` are for interfaces, `remedy` is for people."""

    model_config = ConfigDict(frozen=True)

    code: str
    level: CheckLevel
    sentence: str
    remedy: str = ""
    act: str = ""
    target: str = ""


def in_order(checks: Iterable[Check]) -> tuple[Check, ...]:
    """Checks with stops first, and those that passed last."""
    levels = ("stop", "warn", "hint", "pass")
    return tuple(sorted(checks, key=lambda check: levels.index(check.level)))


def passed(code: str, sentence: str) -> Check:
    """A check that found nothing."""
    return Check(code=code, level="pass", sentence=sentence)


def say_size(size: int) -> str:
    """Bytes in decimal units: 30.1 MB."""
    value = float(size)
    for unit in ("bytes", "kB", "MB", "GB"):
        if value < 1000 or unit == "GB":
            return (
                f"{value:.0f} byte{'s' * (size != 1)}" if unit == "bytes" else f"{value:.1f} {unit}"
            )
        value /= 1000
    raise AssertionError
