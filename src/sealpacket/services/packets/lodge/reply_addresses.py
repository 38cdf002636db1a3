"""Reply addresses and Message-IDs with a tag that proves that a mail answers ours.

Each packet has a reply address, and each mail of ours a Message-ID, with a tag of 80 bits in it.
"""

from __future__ import annotations

import base64
import hmac
import re

from sealpacket.app.context import AppContext
from sealpacket.channels import as_key
from sealpacket.core.sheets.replies import MAIL_DOMAIN

_TAGGED = re.compile(r"[^+@]+\+(p-\d{4,9})\.([a-z2-7]{16})@[^@]+")
_OUR_MAIL = re.compile(rf"<([A-Za-z0-9.-]{{1,80}})\.([a-z2-7]{{16}})@{re.escape(MAIL_DOMAIN)}>")


def reply_address(app: AppContext, number: str) -> str:
    """The packet's own address at the mail gate: cases+p-0012.abcdefghijklmnop@…; empty if there is no gate."""
    if not app.settings.mail_gate:
        return ""
    local, _, domain = app.settings.mail_gate.partition("@")
    return f"{local}+{number.lower()}.{_tag(app, number.upper())}@{domain}"


def packet_of(app: AppContext, address: str) -> str | None:
    """The packet that an address belongs to; None if it is no address of ours, or its tag was made up."""
    match = _TAGGED.fullmatch(address.strip().lower())
    if match is None:
        return None
    number = match[1].upper()
    return number if hmac.compare_digest(match[2], _tag(app, number)) else None


def message_id(app: AppContext, key: str) -> str:
    """The Message-ID of a mail of ours: the same key (a case's, a message's) gives the same one."""
    key = as_key(key)
    return f"<{key}.{_tag(app, f'mail {key}')}@{MAIL_DOMAIN}>"


def keys_in(app: AppContext, heads: str) -> list[str]:
    """Keys of our mails whose Message-IDs are in the headers of another one; forged ones are left out."""
    return [
        key
        for key, tag in _OUR_MAIL.findall(heads)
        if hmac.compare_digest(tag, _tag(app, f"mail {key}"))
    ]


def _tag(app: AppContext, of: str) -> str:
    digest = hmac.new(app.lasting_key("mail gate"), of.encode(), "sha256").digest()
    return base64.b32encode(digest[:10]).decode().lower()
