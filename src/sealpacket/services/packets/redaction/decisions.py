"""The decisions about a packet's values, as redaction needs them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

from sealpacket.app.context import AppContext
from sealpacket.core.redact.rules import canonical_forms
from sealpacket.store.models import Packet, RedactionDecision

Action = Literal["keep", "mask", "drop-line", "drop-file"]
PURPOSE = "redaction decision"


@dataclass
class Decided:
    """Values and kinds to keep, with the reasons; (kind, value) and kinds to mask; kinds to drop lines or files for."""

    keep_values: dict[str, str] = field(default_factory=dict)
    keep_kinds: dict[str, str] = field(default_factory=dict)
    mask_values: list[tuple[str, str]] = field(default_factory=list)
    mask_kinds: set[str] = field(default_factory=set)
    drops: dict[str, Action] = field(default_factory=dict)


def decided(app: AppContext, packet: Packet) -> Decided:
    """All that was decided about a packet's values, for its catalogue."""
    made = Decided()
    for decision, value in decisions_of(app, packet):
        if decision.action == "keep":
            reason = f"{decision.by}: {decision.reason}"
            if not value:
                made.keep_kinds[decision.kind] = reason
            for form in {value, *canonical_forms(decision.kind, value)} if value else ():
                made.keep_values[form] = reason
        elif value:
            made.mask_values.append((decision.kind, value))
        elif decision.action == "mask":
            made.mask_kinds.add(decision.kind)
        else:
            made.drops[decision.kind] = (
                "drop-line" if decision.action == "drop-line" else "drop-file"
            )
    return made


def decisions_of(app: AppContext, packet: Packet) -> Iterator[tuple[RedactionDecision, str]]:
    """Every decision about a packet with its value (empty: the whole kind), the newest first."""
    for row in packet.decisions:
        yield row, app.open_value(row.value_sealed, PURPOSE) if row.value_sealed else ""


def without_values(packet: Packet) -> list[dict[str, Any]]:
    """The decisions as the bag holds them: values by placeholder; the reasons are in the custody log."""
    return [
        {"action": row.action, "kind": row.kind, "value": row.label or "all", "by": row.by}
        for row in reversed(packet.decisions)
    ]
