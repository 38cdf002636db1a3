"""Webhooks of desks: a signed call triggers a look at the case; its content is not trusted."""

from __future__ import annotations

import hmac
import json
from typing import Any

from sqlalchemy import select

from sealpacket.app.context import AppContext
from sealpacket.core.errors import NotAllowed, NotFound
from sealpacket.core.life import OPEN
from sealpacket.services.desks import parsed
from sealpacket.services.packets.follow.cases import ask
from sealpacket.store.models import Desk, Packet, PacketCase, VendorLogin

LARGEST_CALL = 64_000


def called(app: AppContext, key: str, headers: dict[str, str], body: bytes) -> None:
    """A desk calls. Raises NotFound for a desk that never does, NotAllowed if a call is not signed with our secret."""
    with app.database.transaction() as session:
        desk = session.scalars(select(Desk).where(Desk.key == key)).one_or_none()
        sheet = parsed(desk.sheets[-1]) if desk and desk.sheets else None
        if desk is None or sheet is None or sheet.replies.arrive != "webhook":
            raise NotFound("No desk calls here.", "Check the address.", code="no-hook")
        given = headers.get(sheet.replies.signature.lower(), "").removeprefix("sha256=")
        sealed = session.scalars(
            select(VendorLogin.secret_sealed).where(
                VendorLogin.vendor_id == desk.vendor_id, VendorLogin.secret_sealed.is_not(None)
            )
        )
        secrets = [app.open_value(value, "login secret") for value in sealed if value]
        signed = [hmac.new(secret.encode(), body, "sha256").hexdigest() for secret in secrets]
        if not any(
            hmac.compare_digest(given.encode("utf-8", "replace"), one.encode()) for one in signed
        ):
            raise NotAllowed(
                "The call is not signed with the secret of a login of ours.", "Check both secrets."
            )
        reference = _reference(sheet.replies.reference, body)
        if reference:
            has_it = Packet.cases.any(PacketCase.reference == reference)
            query = select(Packet).where(Packet.life.in_(OPEN), has_it).with_for_update()
            for packet in session.scalars(query):
                if packet.asset and packet.asset.vendor_id == desk.vendor_id:
                    ask(app, session, packet)


def _reference(path: str, body: bytes) -> str:
    import jsonpath

    try:
        tree: Any = json.loads(body)
        match = jsonpath.match(path, tree)
    except (ValueError, RecursionError, jsonpath.JSONPathError):
        return ""
    return "" if match is None else str(match.obj)
