"""Reading a sheet: from YAML, or from its parsed form."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.lint.shape import shape_faults
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reading import SheetText


def load_sheet(text: str) -> Sheet:
    """A sheet from YAML. Raises Invalid that names the place."""
    return parse_sheet(SheetText(text).tree)


def parse_sheet(body: Any) -> Sheet:
    """A sheet from its parsed form. Raises Invalid that names the place and what was expected."""
    try:
        return Sheet.model_validate(body)
    except ValidationError as error:
        first = next(iter(shape_faults(error, body)))
        place = ".".join(map(str, first.place)) or "the sheet"
        raise Invalid(
            f"{place}: {first.sentence}", first.remedy or "Correct that place.", code="sheet-shape"
        ) from error
