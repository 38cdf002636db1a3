"""Whether a sheet's condition holds for the answers as they stand."""

from __future__ import annotations

from collections.abc import Mapping

from sealpacket.core.sheets.model import Condition


def holds(condition: bool | Condition, values: Mapping[str, str]) -> bool:
    """Evaluate a condition over answered values. A tree's answer also counts as each of its upper parts."""
    if isinstance(condition, bool):
        return condition
    verdicts: list[bool] = []
    if condition.question is not None:
        value = values.get(condition.question)
        if condition.one_of is not None:
            verdicts.append(
                value is not None and any(value == v or value.startswith(v + "/") for v in condition.one_of)
            )
        if condition.answered is not None:
            verdicts.append(bool(value) == condition.answered)
    if condition.all is not None:
        verdicts.append(all(holds(inner, values) for inner in condition.all))
    if condition.any is not None:
        verdicts.append(any(holds(inner, values) for inner in condition.any))
    if condition.none is not None:
        verdicts.append(not any(holds(inner, values) for inner in condition.none))
    return all(verdicts)
