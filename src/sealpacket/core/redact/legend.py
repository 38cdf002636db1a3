"""The legend: from placeholders back to the originals they stand for."""

from __future__ import annotations

import json
from collections.abc import Iterator


class Legend:
    """For each placeholder the originals, in every spelling that was met."""

    def __init__(self) -> None:
        self._spellings: dict[bytes, set[bytes]] = {}

    def add(self, placeholder: bytes, original: bytes) -> None:
        """Note one spelling of an original."""
        known = self._spellings.get(placeholder)
        if known is None:
            self._spellings[placeholder] = {original}
        else:
            known.add(original)

    def merge(self, other: Legend) -> None:
        """Take over all that another legend knows."""
        for placeholder, originals in other._spellings.items():
            self._spellings.setdefault(placeholder, set()).update(originals)

    def originals(self) -> Iterator[tuple[bytes, bytes]]:
        """Every (placeholder, original), in a fixed order."""
        for placeholder in sorted(self._spellings):
            for original in sorted(self._spellings[placeholder]):
                yield placeholder, original

    def placeholders(self) -> frozenset[bytes]:
        """All placeholders."""
        return frozenset(self._spellings)

    def __len__(self) -> int:
        return len(self._spellings)

    def resolve(self, text: str) -> str:
        """The text with known placeholders replaced by the first spelling of what they stand for."""
        for placeholder, original in self.first_spellings().items():
            text = text.replace(placeholder, original)
        return text

    def first_spellings(self) -> dict[str, str]:
        """One readable original for each placeholder."""
        return {
            placeholder.decode("ascii"): min(spellings).decode("utf-8", "replace")
            for placeholder, spellings in self._spellings.items()
        }

    def to_bytes(self) -> bytes:
        """JSON; the originals as Latin-1 text, so that every byte comes back as it was."""
        body = {
            placeholder.decode("ascii"): sorted(original.decode("latin-1") for original in spellings)
            for placeholder, spellings in sorted(self._spellings.items())
        }
        return json.dumps(body, ensure_ascii=True, separators=(",", ":")).encode()

    @classmethod
    def from_bytes(cls, data: bytes) -> Legend:
        """The legend that `to_bytes` wrote."""
        legend = cls()
        for placeholder, spellings in json.loads(data).items():
            for original in spellings:
                legend.add(placeholder.encode("ascii"), original.encode("latin-1"))
        return legend
