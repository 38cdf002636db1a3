"""Addresses over HTTP."""

from __future__ import annotations

import ssl
from collections.abc import Generator
from pathlib import Path

import httpx

from sealpacket.collecting.access import Access, StepFailed
from sealpacket.core.evidence.kits import Step
from sealpacket.deadline import Deadline, DeadlineTransport


def get(step: Step, access: Access, file: Path) -> tuple[int, bool]:
    """Get an address and keep the body; gives the status as result code (0 for 200), and whether the limit cut it.

    No redirects, no proxies; certificates are verified. A secret is a bearer token, or `name:password`.
    Raises StepFailed.
    """
    address = access.address(step)
    seconds = step.time.total_seconds()
    deadline = Deadline()
    deadline.begin(seconds)
    kept, cut = 0, False
    try:
        with (
            httpx.Client(
                transport=DeadlineTransport(deadline, _verify(access)),
                trust_env=False,
                timeout=min(seconds, 30),
            ) as client,
            client.stream("GET", address, auth=_signed(step, access)) as answer,
            file.open("wb") as written,
        ):
            for block in answer.iter_bytes():
                written.write(block[: step.size - kept])
                kept += len(block)
                if kept > step.size:
                    cut = True
                    break
            code = 0 if answer.status_code == 200 else answer.status_code
    except httpx.TimeoutException:
        raise StepFailed(f"{access.target or address} did not answer in time") from None
    except httpx.HTTPError as error:
        raise StepFailed(
            f"{access.target or address} could not be asked: {_plain(error)}"
        ) from None
    except httpx.InvalidURL:
        raise StepFailed(f"{address} is no address") from None
    return code, cut


def _verify(access: Access) -> ssl.SSLContext:
    context = ssl.create_default_context()
    if access.authorities is not None:
        context.load_verify_locations(access.authorities)
    return context


def _signed(step: Step, access: Access) -> httpx.Auth | None:
    secret = access.secrets.get(step.secret, "") if step.secret else ""
    if not secret:
        return None
    name, colon, password = secret.partition(":")
    return httpx.BasicAuth(name, password) if colon else _Bearer(secret)


class _Bearer(httpx.Auth):
    """A bearer token (RFC 6750)."""

    def __init__(self, token: str) -> None:
        self._token = token

    def auth_flow(self, request: httpx.Request) -> Generator[httpx.Request, httpx.Response, None]:
        request.headers["Authorization"] = f"Bearer {self._token}"
        yield request


def _plain(error: httpx.HTTPError) -> str:
    said = str(error)
    if "CERTIFICATE_VERIFY_FAILED" in said:
        return "its certificate is not trusted"
    return said[:160] or type(error).__name__
