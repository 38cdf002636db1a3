"""Problem documents (RFC 9457) for requests that are refused before the application sees them."""

from __future__ import annotations

import json
from dataclasses import dataclass
from http import HTTPStatus

from sealpacket.web.problems import document_of


@dataclass(frozen=True)
class Refusal:
    """Why a request gets no further. Its connection is closed after the answer."""

    status: HTTPStatus
    code: str
    detail: str
    remedy: str

    def answer(self, ident: str) -> bytes:
        """The whole answer, head and body, to the request with this id."""
        title = "This is not a valid request"
        document = document_of(self.status, self.code, title, self.detail, self.remedy)
        document["request_id"] = ident
        body = json.dumps(document).encode()
        head = (
            f"HTTP/1.1 {self.status.value} {self.status.phrase}\r\nConnection: close\r\nX-Request-ID: {ident}\r\n"
            f"Content-Type: application/problem+json\r\nContent-Length: {len(body)}\r\n\r\n"
        )
        return head.encode() + body


class RefusedRequest(Exception):
    """Raised for a refusal: each time a new one, since an exception keeps what it has passed through."""

    def __init__(self, refusal: Refusal) -> None:
        super().__init__(refusal.detail)
        self.refusal = refusal


UNREADABLE = Refusal(
    HTTPStatus.BAD_REQUEST, "bad-request", "The request cannot be read.", "Correct the request."
)
NOT_SIGNED_IN = Refusal(
    HTTPStatus.UNAUTHORIZED,
    "not-signed-in",
    "Nobody is signed in here.",
    "Sign in, then send it again.",
)
NO_LENGTH = Refusal(
    HTTPStatus.LENGTH_REQUIRED,
    "no-length",
    "The length of the body is missing.",
    "Send its Content-Length.",
)
LONG_ADDRESS = Refusal(
    HTTPStatus.REQUEST_URI_TOO_LONG,
    "too-long",
    "The address is too long.",
    "Send what is long in a body.",
)
LARGE_HEAD = Refusal(
    HTTPStatus.REQUEST_HEADER_FIELDS_TOO_LARGE,
    "too-large",
    "The headers are too large.",
    "Send fewer or shorter headers.",
)
FAILED = Refusal(
    HTTPStatus.INTERNAL_SERVER_ERROR,
    "internal",
    "The request could not be answered.",
    "Try again; if it happens again, look at the log of the service.",
)


def large_body(most: int) -> Refusal:
    """The refusal of a body of more than `most` bytes."""
    return Refusal(
        HTTPStatus.REQUEST_ENTITY_TOO_LARGE,
        "too-large",
        "The body is larger than allowed here.",
        f"Send at most {most} bytes.",
    )
