"""Post an event to a receiver, signed as Standard Webhooks 1.0 says: an identifier, a time, and an HMAC of both and the
body."""

from __future__ import annotations

import base64
import hashlib
import hmac
import re
import time

import httpx

from sealpacket.channels.wire import post_once
from sealpacket.core.errors import Conflict, Unavailable

SECRET_PREFIX = "whsec_"  # noqa: S105 - it begins each secret
_TRY_AGAIN = (408, 425, 429)


def signature(secret: str, ident: str, timestamp: int, body: bytes) -> str:
    """The signature of a body: `v1,` and HMAC-SHA256 of `ident.timestamp.body` in base64."""
    key = base64.b64decode(secret.removeprefix(SECRET_PREFIX))
    signed = f"{ident}.{timestamp}.".encode() + body
    return "v1," + base64.b64encode(hmac.new(key, signed, hashlib.sha256).digest()).decode()


def post(address: str, secret: str, ident: str, body: bytes, timeout: float) -> None:
    """Post a body of JSON. Raises Conflict if the receiver refuses it, Unavailable if it is away or not well."""
    moment = int(time.time())
    headers = {
        "Content-Type": "application/json",
        "webhook-id": ident,
        "webhook-timestamp": str(moment),
        "webhook-signature": signature(secret, ident, moment, body),
    }
    try:
        answer = post_once(address, timeout, content=body, headers=headers)
    except (httpx.HTTPError, httpx.InvalidURL) as error:
        said = re.sub(r"^\[Errno -?\d+\] ", "", str(error))[:160] or type(error).__name__
        raise Unavailable(f"It cannot be reached: {said}.", "Check that it runs.") from None
    if answer.status_code >= 500 or answer.status_code in _TRY_AGAIN:
        raise Unavailable(f"It answered with HTTP {answer.status_code}.", "Check that it is well.")
    if not answer.is_success:
        raise Conflict(f"It refused the event with HTTP {answer.status_code}.", "See its log.")
