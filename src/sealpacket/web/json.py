"""JSON at the edge: what comes in is refused where no record can hold it, what goes out says dates as RFC 3339."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any, NoReturn

from flask import request
from flask.json.provider import DefaultJSONProvider
from pydantic import BaseModel

from sealpacket.core.controls import control_in
from sealpacket.core.errors import Invalid


class Json(DefaultJSONProvider):
    """JSON with dates as RFC 3339 and pydantic models as they say themselves."""

    sort_keys = False

    @staticmethod
    def default(value: Any) -> Any:
        if isinstance(value, BaseModel):
            return value.model_dump(mode="json")
        if isinstance(value, date | datetime):
            return value.isoformat()
        return DefaultJSONProvider.default(value)

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        """The body of a request. Raises Invalid for nesting without end, a bare text and control characters."""
        try:
            body = super().loads(s, parse_constant=_no_number, **kwargs)
            found = control_in(body)
        except RecursionError as error:
            raise Invalid(
                "The body is nested too deeply.", "Send it flatter.", code="bad-json"
            ) from error
        if isinstance(body, str):
            raise ValueError("a bare text")
        if found:
            raise _has_control(*found)
        return body


def refuse_controls() -> None:
    """Before every request: no address and no parameter holds a control character."""
    for name, value in (("the address", request.path), *request.args.items(multi=True)):
        if found := control_in({name: value}):
            raise _has_control(*found)


def _has_control(field: str, which: str) -> Invalid:
    return Invalid(
        f"{field} holds a control character ({which}).",
        "Take it out; tabs and line ends may stay.",
        code="control-character",
        field=field,
    )


def _no_number(name: str) -> NoReturn:
    raise ValueError(f"{name} is not a number")
