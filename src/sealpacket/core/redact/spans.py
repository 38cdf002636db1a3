"""What is replaced in a text."""

from __future__ import annotations

from typing import NamedTuple


class Span(NamedTuple):
    """A byte range that is replaced. `inner` holds findings in decoded or wrapped text as kind, placeholder and
    original; `kind` is the kind of the first."""

    start: int
    end: int
    instead: bytes
    kind: str
    sure: bool = True
    inner: tuple[tuple[str, bytes, bytes], ...] = ()

    def findings(self, buffer: bytes) -> tuple[tuple[str, bytes, bytes], ...]:
        """Its findings, the one that stands there plainly included."""
        return self.inner or ((self.kind, self.instead, buffer[self.start : self.end]),)
