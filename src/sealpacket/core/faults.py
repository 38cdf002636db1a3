"""All that is wrong with values that pydantic has refused, each with its place and a remedy."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel, ValidationError

_REMEDIES = {
    "missing": "Send this field.",
    "extra_forbidden": "Leave it out.",
    "literal_error": "Send {expected}.",
    "enum": "Send {expected}.",
    "string_too_short": "Send at least {min_length} characters.",
    "string_too_long": "Send at most {max_length} characters.",
    "too_long": "Send at most {max_length} values.",
    "too_short": "Send at least {min_length} values.",
    "greater_than_equal": "Send {ge} or more.",
    "less_than_equal": "Send {le} or less.",
    "greater_than": "Send more than {gt}.",
    "less_than": "Send less than {lt}.",
    "timezone_aware": "Send it with an offset: 2026-11-23T08:40:00+00:00.",
    "datetime_parsing": "Send it as 2026-11-23T08:40:00+00:00.",
    "datetime_from_date_parsing": "Send it as 2026-11-23T08:40:00+00:00.",
    "date_parsing": "Send it as 2026-11-23.",
    "date_from_datetime_parsing": "Send it as 2026-11-23.",
    "string_type": "Send text.",
    "int_type": "Send a whole number.",
    "int_parsing": "Send a whole number.",
    "bool_type": "Send true or false.",
    "bool_parsing": "Send true or false.",
    "list_type": "Send a list.",
    "dict_type": "Send an object.",
}
"""By pydantic's kind of error; the braces are filled with the limits of the field."""


class FieldFault(BaseModel):
    """One value that is wrong: `pointer` is its place (JSON Pointer, RFC 6901), `field` the same with dots."""

    pointer: str
    field: str
    detail: str
    remedy: str


def faults_of(error: ValidationError) -> list[FieldFault]:
    """All faults that pydantic has found."""
    return [_fault(one) for one in error.errors()]


def _fault(error: Mapping[str, Any]) -> FieldFault:
    place = [str(part) for part in error["loc"]]
    field = ".".join(place)
    is_unknown = error["type"] == "extra_forbidden"
    detail = f"There is no field {field} here." if is_unknown else f"{field}: {error['msg']}."
    remedy = _REMEDIES.get(error["type"], "Correct this field.")
    return FieldFault(
        pointer="".join("/" + part.replace("~", "~0").replace("/", "~1") for part in place),
        field=field,
        detail=detail,
        remedy=remedy.format_map(error.get("ctx", {})),
    )
