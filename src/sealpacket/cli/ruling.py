"""A ruling on the terminal."""

from __future__ import annotations

from sealpacket.cli import show
from sealpacket.client.models import Ruling


def show_ruling(ruling: Ruling) -> None:
    """Route, reasons, who was passed over and why, and what would cure it."""
    head = ruling.route if ruling.holds else f"{ruling.route}, but not as things stand"
    what = f"contract {ruling.contract}, {ruling.level}, {ruling.hours}" if ruling.contract else ""
    show.heading(f"Ruling: {head}", what)
    for reason in ruling.reasons:
        show.line(f"  {reason}")
    for cure in ruling.cures:
        show.line(f"  → {cure.sentence}", "yellow")
    if ruling.passed_over:
        show.line("Passed over", "dim")
        for item in ruling.passed_over:
            name = f"{item.contract} {item.entitlement}".strip()
            show.line(f"  {name}: {item.sentence}", "dim")
