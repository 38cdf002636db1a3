"""Where desks answer by mail: an address for each packet, which nobody can guess."""

from __future__ import annotations

import base64
import hmac
import re

from sealpacket.app.context import AppContext

_TAGGED = re.compile(r"[^+@]+\+(p-\d{4,9})\.([a-z2-7]{16})@[^@]+")


def reply_address(app: AppContext, number: str) -> str:
    """The packet's own address at the mail gate: cases+p-0012.abcdefghijklmnop@…; empty if there is no gate."""
    if not app.settings.mail_gate:
        return ""
    local, _, domain = app.settings.mail_gate.partition("@")
    return f"{local}+{number.lower()}.{_tag(app, number)}@{domain}"


def packet_of(app: AppContext, address: str) -> str | None:
    """The packet that an address belongs to; None if it is no address of ours, or its tag was made up."""
    match = _TAGGED.fullmatch(address.strip().lower())
    if match is None:
        return None
    number = match[1].upper()
    return number if hmac.compare_digest(match[2], _tag(app, number)) else None


def _tag(app: AppContext, number: str) -> str:
    digest = hmac.new(app.lasting_key("mail gate"), number.upper().encode(), "sha256").digest()
    return base64.b32encode(digest[:10]).decode().lower()
