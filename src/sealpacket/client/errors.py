"""What can go wrong for a caller."""

from __future__ import annotations

from typing import Any


class ClientError(Exception):
    """Base of all that this library raises. `sentence` says what happened, `way_out` what to do."""

    code = "client"

    def __init__(self, sentence: str, way_out: str) -> None:
        super().__init__(f"{sentence} {way_out}")
        self.sentence = sentence
        self.way_out = way_out


class NoService(ClientError):
    """The service cannot be reached at all."""

    code = "no-service"


class Refused(ClientError):
    """The service answered with a problem (RFC 9457): its HTTP `status`, stable `code` and further `facts`."""

    def __init__(self, status: int, body: dict[str, Any]) -> None:
        super().__init__(
            str(body.get("detail") or f"The service answered with HTTP {status}."),
            str(body.get("way_out") or "Try again, or look into the service's log."),
        )
        self.status = status
        self.code = str(body.get("code") or f"http-{status}")
        self.facts = body
