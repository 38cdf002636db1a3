"""Telling our own service desk how its tickets stand: JSON posted to the one configured address."""

from __future__ import annotations

import httpx

from sealpacket.channels.deadline import Deadline, DeadlineTransport
from sealpacket.channels.wire import TooMuch, Wire
from sealpacket.core.errors import Unavailable


def post(address: str, token: str, body: dict[str, object], timeout: float) -> None:
    """Post a report. No redirects, no proxies; certificates are verified. Raises Unavailable if it is not taken."""
    deadline = Deadline()
    client = httpx.Client(
        headers={"Authorization": f"Bearer {token}"} if token else {},
        timeout=timeout,
        follow_redirects=False,
        trust_env=False,
        transport=DeadlineTransport(deadline, httpx.create_ssl_context()),
    )
    wire = Wire(client, deadline, timeout)
    try:
        answer = wire.request("POST", address, json=body)
    except (httpx.HTTPError, httpx.InvalidURL, TooMuch) as error:
        raise Unavailable(
            f"Our service desk cannot be reached: {str(error)[:160] or type(error).__name__}.",
            "Check SEALPACKET_SERVICE_DESK.",
            code="service-desk",
        ) from None
    finally:
        wire.close()
    if not answer.is_success:
        raise Unavailable(
            f"Our service desk answered with HTTP {answer.status_code}.",
            "Check SEALPACKET_SERVICE_DESK and its token.",
            code="service-desk",
        )
