"""Idempotency-Key: a request that is sent twice with the same key is done once, and answered twice alike."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import Any

from flask import json, request
from sqlalchemy import text

from sealpacket.core.errors import Conflict, Invalid
from sealpacket.store.models import SettledRequest
from sealpacket.web.guard import actor, the_house

HEADER = "Idempotency-Key"


def once(act: Callable[[], Any], status: int) -> tuple[Any, int]:
    """Do `act` unless this account has sent the same request with the same key before; then give that answer again.

    Raises Conflict if the key was used for another request, or if the first one is still under way.
    """
    key = request.headers.get(HEADER)
    if not key:
        return act(), status
    if len(key) > 200:
        raise Invalid("The Idempotency-Key is longer than 200 characters.", "Take a shorter one, such as a UUID.")
    house, account = the_house(), actor().account_id
    seal = hashlib.sha256(f"{request.method} {request.full_path}\n".encode() + request.get_data(cache=True)).hexdigest()
    with house.database.transaction() as session:
        free = session.scalar(
            text("SELECT pg_try_advisory_xact_lock(hashtextextended(:name, 0))"), {"name": f"{account} {key}"}
        )
        if not free:
            raise Conflict("The first request with this key is still under way.", "Wait for it.", code="key-busy")
        before = session.get(SettledRequest, (account, key))
        if before is not None:
            if before.fingerprint != seal:
                raise Conflict("This Idempotency-Key was used for another request.", "Take a new key.", code="key-used")
            return before.body, before.status
        result = act()
        body = json.loads(json.dumps(result))
        session.add(SettledRequest(account_id=account, key=key, fingerprint=seal, status=status, body=body))
        return body, status
