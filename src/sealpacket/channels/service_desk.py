"""Report ticket status to our own service desk: JSON posted to the one configured address."""

from __future__ import annotations

import httpx

from sealpacket.channels.wire import open_wire
from sealpacket.core.errors import Unavailable


def post(address: str, token: str, body: dict[str, object], timeout: float) -> None:
    """Post a report. No redirects, no proxies; certificates are verified. Raises Unavailable if it is not taken."""
    try:
        wire = open_wire(address, timeout, token=token)
    except httpx.InvalidURL as error:
        raise _away(error) from None
    try:
        answer = wire.request("POST", address, json=body)
    except httpx.HTTPError as error:
        raise _away(error) from None
    finally:
        wire.close()
    if not answer.is_success:
        raise Unavailable(
            f"Our service desk answered with HTTP {answer.status_code}.",
            "Check SEALPACKET_SERVICE_DESK and its token.",
            code="service-desk",
        )


def _away(error: Exception) -> Unavailable:
    return Unavailable(
        f"Our service desk cannot be reached: {str(error)[:160] or type(error).__name__}.",
        "Check SEALPACKET_SERVICE_DESK.",
        code="service-desk",
    )
