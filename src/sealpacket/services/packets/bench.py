"""A packet with everything that follows from it: what the functions of `workbench` make and others read."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from sealpacket.core.coverage import Basis, Ruling
from sealpacket.core.life import Life
from sealpacket.core.sheets import (
    Answer,
    Case,
    Check,
    ExhibitState,
    Fact,
    OutgoingValues,
    Sheet,
    Typed,
    cases_of,
    outgoing_values,
)
from sealpacket.store.models import Packet


@dataclass
class Workbench:
    """A packet with everything that follows from it and from the current register."""

    packet: Packet
    sheet: Sheet | None
    basis: Basis | None
    ruling: Ruling | None
    answers: tuple[Answer, ...]
    facts: dict[str, Fact]
    people: dict[str, dict[str, Any]]
    typed: Typed = field(default_factory=Typed)
    checks: tuple[Check, ...] = ()
    states: dict[str, ExhibitState] = field(default_factory=dict)
    """How each exhibit of a draft is, and what it should be like, by its name."""

    @property
    def stops(self) -> list[Check]:
        """Checks that prevent sealing."""
        return [check for check in self.checks if check.level == "stop"]

    def values(self, sheet: Sheet) -> OutgoingValues:
        """All that the draft's sheet may take, as it may leave."""
        return outgoing_values(sheet, self.answers, self.facts, self.people, self.typed.outgoing())

    def cases(self) -> tuple[Case, ...]:
        """The cases of the packet: as they were sealed, or as they would be written now."""
        if self.packet.cases and self.packet.life != Life.DRAFTING:
            return tuple(Case.model_validate(one.written) for one in self.packet.cases)
        return cases_of(self.sheet, self.values(self.sheet)) if self.sheet else ()
