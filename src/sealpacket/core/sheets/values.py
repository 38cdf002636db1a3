"""The values that a case is written from. Nothing else reaches a case: what a person typed was redacted before."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any


class OutgoingValues(Mapping[str, Any]):
    """All that a sheet may take, by dotted path, as it may leave. `outgoing_values` makes it.

    `answers` are the answers as they were typed: conditions look at them, and nothing of them is written.
    """

    def __init__(self, values: Mapping[str, Any], answers: Mapping[str, str]) -> None:
        self._values, self.answers = dict(values), dict(answers)

    def __getitem__(self, path: str) -> Any:
        return self._values[path]

    def __iter__(self) -> Iterator[str]:
        return iter(self._values)

    def __len__(self) -> int:
        return len(self._values)

    def with_parts(self, parts: Mapping[str, Any]) -> OutgoingValues:
        """The same with parts of one of its values, such as the columns of a row, under names of their own."""
        return OutgoingValues({**self._values, **parts}, self.answers)
