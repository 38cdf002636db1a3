"""Checks that the fields of a form agree with one another, so that a preview shows it before the database refuses."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import BaseModel

from sealpacket.core.errors import Invalid

_ORDERS = (
    ("starts_on", "ends_on", "It would end before it starts."),
    ("notice_on", "ends_on", "The notice date is after the end."),
    ("bought_on", "lapses_on", "It would lapse before it was bought."),
    ("shipped_on", "installed_on", "It would be installed before it was shipped."),
)


def agree(form: BaseModel) -> None:
    """Raises Invalid that names the field where two fields contradict one another."""
    given: dict[str, Any] = dict(form)
    for first, last, sentence in _ORDERS:
        if given.get(first) and given.get(last) and given[first] > given[last]:
            raise Invalid(sentence, "Check both dates.", field=last)
    if "cost_minor" in given and (given["cost_minor"] is None) != (given["currency"] is None):
        raise Invalid(
            "A cost needs its currency, and the other way round.",
            "Give both or neither.",
            field="currency",
        )
    for listing in given.get("listings", ()):
        if (listing.from_on or date.min) > (listing.until_on or date.max):
            raise Invalid(
                f"Serial {listing.serial} would be taken off before it is listed.",
                "Check both days.",
                field="listings",
            )
