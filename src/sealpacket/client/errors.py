"""Errors of the client library."""

from __future__ import annotations

from typing import Any


class ClientError(Exception):
    """Base of all that this library raises. `detail` says what happened, `remedy` what to do."""

    code = "client"

    def __init__(self, detail: str, remedy: str) -> None:
        super().__init__(f"{detail} {remedy}")
        self.detail = detail
        self.remedy = remedy


class NoService(ClientError):
    """The service cannot be reached at all."""

    code = "no-service"


class TlsFault(NoService):
    """The service's certificate is not trusted, or TLS failed otherwise."""

    code = "tls"


class NoWorker(ClientError):
    """The service runs, and no worker does its jobs."""

    code = "no-worker"


class BadAnswer(ClientError):
    """Something else than the service has answered, such as a proxy with a page of its own."""

    code = "bad-answer"


class Refused(ClientError):
    """The service answered with a problem (RFC 9457): its HTTP `status`, stable `code` and further `facts`.

    `retry_after` are the seconds after which to try again, if the service says so.
    """

    def __init__(self, status: int, body: dict[str, Any], retry_after: int | None = None) -> None:
        super().__init__(
            str(body.get("detail") or f"The service answered with HTTP {status}."),
            str(body.get("remedy") or "Try again, or look into the service's log."),
        )
        self.status = status
        self.code = str(body.get("code") or f"http-{status}")
        self.facts = body
        self.retry_after = retry_after
