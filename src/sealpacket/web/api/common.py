"""Shared parts of the API."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import Annotated, Any
from urllib.parse import quote

from flask import Response, request
from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field
from werkzeug.exceptions import ClientDisconnected

from sealpacket.core.controls import one_line
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.web.bodies import expect_upload

_BLOCK = 1 << 18


OneLine = Annotated[str, AfterValidator(one_line)]
"""Text of one line; line breaks become spaces."""


class Strict(BaseModel):
    """Refuses what it does not know."""

    model_config = ConfigDict(extra="forbid", str_strip_whitespace=True)


LONGEST_TEXT = 20_000
"""Characters of what a person writes to a desk, or notes of what it said."""
Words = Field("", max_length=LONGEST_TEXT)
Case = Field("", max_length=300, description="A label or reference; empty where there is one.")


class Handle(BaseModel):
    """A record by its id or by what people call it."""

    handle: str = Field(max_length=300)


_NUMBER = r"^[Pp]-\d{4,12}$"


def _known_form(value: Any) -> Any:
    if isinstance(value, str) and re.fullmatch(_NUMBER, value) is None:
        raise NotFound(
            f"There is no packet {value[:40]}: its number looks like P-0142.",
            "List the packets, then name one of them.",
        )
    return value


class Number(BaseModel):
    """A packet by its number."""

    number: Annotated[str, BeforeValidator(_known_form)] = Field(
        pattern=_NUMBER, description="Packet number, for example P-0142."
    )


class ListQuery(Strict):
    """How much of a list, from where."""

    limit: int = Field(50, ge=1, le=200)
    cursor: str = Field("", max_length=500)


class Done(BaseModel):
    """Nothing more to say."""

    done: bool = True


def blocks_sent(name: str) -> Iterator[bytes]:
    """The body of a request, block by block. Raises Invalid if it breaks off."""
    expect_upload()
    try:
        while block := request.stream.read(_BLOCK):
            yield block
    except (ClientDisconnected, OSError) as error:
        raise Invalid(
            f"The upload of {name} was interrupted.", "Send it again.", code="upload-broken"
        ) from error


def as_file(
    name: str, blocks: Iterator[bytes] | bytes, kind: str = "application/octet-stream"
) -> Response:
    """A file to save under a name."""
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(blocks, mimetype=kind, headers=headers)


def json_texts(text: str, field: str) -> dict[str, str]:
    """A JSON object of texts, as queries hold it. Raises Invalid that names the field."""
    try:
        body = json.loads(text or "{}")
    except (ValueError, RecursionError) as error:
        raise Invalid(
            f"{field} is not a JSON object.", 'Write it as {"field": "text"}.', field=field
        ) from error
    if not isinstance(body, dict) or not all(isinstance(value, str) for value in body.values()):
        raise Invalid(
            f"{field} is not a JSON object with text values.",
            'Write it as {"field": "text"}.',
            field=field,
        )
    return body
