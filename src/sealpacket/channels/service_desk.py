"""Report ticket status to our own service desk: JSON posted to the one configured address."""

from __future__ import annotations

import httpx

from sealpacket.channels.wire import post_once
from sealpacket.core.errors import Unavailable


def post(address: str, token: str, body: dict[str, object], timeout: float) -> None:
    """Post a report. No redirects, no proxies; certificates are verified. Raises Unavailable if it is not taken."""
    try:
        answer = post_once(address, timeout, token=token, json=body)
    except (httpx.HTTPError, httpx.InvalidURL) as error:
        said = str(error)[:160] or type(error).__name__
        raise Unavailable(
            f"Our service desk cannot be reached: {said}.",
            "Check SEALPACKET_SERVICE_DESK.",
            code="service-desk",
        ) from None
    if not answer.is_success:
        raise Unavailable(
            f"Our service desk answered with HTTP {answer.status_code}.",
            "Check SEALPACKET_SERVICE_DESK and its token.",
            code="service-desk",
        )
