"""Key rotation for operators: a new master key, re-encrypting with it, a new seal key."""

from __future__ import annotations

import base64
import math
import secrets
import time
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, inspect, not_, select, update
from sqlalchemy.orm import InstrumentedAttribute

from sealpacket.app.context import LASTING_PURPOSE, AppContext
from sealpacket.app.idempotency import ANSWER_PURPOSE
from sealpacket.app.key_file import KeyFile, write_secret
from sealpacket.core.errors import Conflict
from sealpacket.core.keyring import KEY, KeyRing, key_id
from sealpacket.core.secretbox import current_head, decrypt, encrypt, is_current
from sealpacket.services.accounts import COMMAND
from sealpacket.services.notices.choosing import SECRET_PURPOSE as NOTICE_WEBHOOK_PURPOSE
from sealpacket.services.order_documents.keeping import PASSCODES_PURPOSE
from sealpacket.services.packets.redaction.decisions import PURPOSE as DECISION_PURPOSE
from sealpacket.services.packets.redaction.legend_keys import (
    LEGEND_KEY_PURPOSE,
    PLACEHOLDER_KEY_PURPOSE,
)
from sealpacket.services.redaction_plan import PLAN_PURPOSE
from sealpacket.services.register.agreed import LICENCE_KEY
from sealpacket.services.register.judging import IMPORT_PURPOSE
from sealpacket.services.register.kinds import LOGIN_SECRET, PASSCODE
from sealpacket.services.safe import SAFE_PURPOSE
from sealpacket.services.webhooks import WEBHOOK_PURPOSE
from sealpacket.store.models import (
    Contract,
    IntakeRow,
    LastingKey,
    Licence,
    NoticeSettings,
    OrderDocument,
    PacketLegend,
    RedactionDecision,
    RedactionPlan,
    SafeSecret,
    SettledRequest,
    Vendor,
    VendorLogin,
    Webhook,
)

SEALED: tuple[tuple[InstrumentedAttribute[Any], str], ...] = (
    (PacketLegend.placeholder_key_sealed, PLACEHOLDER_KEY_PURPOSE),
    (PacketLegend.key_sealed, LEGEND_KEY_PURPOSE),
    (OrderDocument.passcodes_sealed, PASSCODES_PURPOSE),
    (RedactionPlan.body_sealed, PLAN_PURPOSE),
    (RedactionDecision.value_sealed, DECISION_PURPOSE),
    (Contract.passcode_sealed, PASSCODE.purpose),
    (VendorLogin.secret_sealed, LOGIN_SECRET.purpose),
    (Licence.key_sealed, LICENCE_KEY.purpose),
    (SettledRequest.body_sealed, ANSWER_PURPOSE),
    (LastingKey.key_sealed, LASTING_PURPOSE),
    (SafeSecret.value_sealed, SAFE_PURPOSE),
    (Webhook.secret_sealed, WEBHOOK_PURPOSE),
    (NoticeSettings.secret_sealed, NOTICE_WEBHOOK_PURPOSE),
)
"""Columns that are encrypted with the master key, each for its purpose. What was found in typed texts, and legends, are
encrypted with the keys of their packets."""
_BATCH, _DAY = 500, 86_400


@dataclass
class Reencrypted:
    """Counts of re-encrypted values and files."""

    values: int = 0
    files: int = 0


def new_master_key(app: AppContext) -> str:
    """Put a new master key on top of the key file; gives its id. What was encrypted before stays readable.

    Raises Conflict while a former key is still in the file: one change at a time.
    """
    ring = app.ring
    if len(ring.keys) > 1:
        raise Conflict(
            "The key file still holds a former key.",
            "Finish that change first: sealpacket-service re-encrypt --forget",
            code="former-key",
        )
    _make_lasting(app)
    fresh = secrets.token_bytes(KEY)
    with app.transaction(COMMAND, "master key added", "house", key=key_id(fresh).hex()):
        KeyFile(app.settings.key_file).replace(KeyRing((fresh, *ring.keys)))
    return key_id(fresh).hex()


def re_encrypt(app: AppContext) -> Reencrypted:
    """Encrypt with the newest master key all that is not yet. May be broken off, and go on while the house works."""
    done = Reencrypted()
    for column, purpose in SEALED:
        while count := _re_encrypt_values(app, column, purpose):
            done.values += count
    done.values += _re_encrypt_imports(app)
    for name in app.blobs.names():
        done.files += app.blobs.re_encrypt(name)
    if done.values or done.files:
        with app.transaction(
            COMMAND, "encrypted anew", "house", key=key_id(app.ring.current).hex()
        ) as tx:
            tx.detail |= {"values": done.values, "files": done.files}
    return done


def forget_former(app: AppContext) -> list[str]:
    """Re-encrypt the rest and remove former master keys from the key file. Returns their ids.

    Raises Conflict within a day of the newest key: a long upload may have begun before it, and still be under way.
    """
    ring = app.ring
    age = time.time() - app.settings.key_file.stat().st_mtime
    if len(ring.keys) > 1 and age < _DAY:
        raise Conflict(
            "The newest master key is younger than a day: something may still be encrypted with the former one.",
            f"Try again in {math.ceil((_DAY - age) / 3600)} hours.",
            code="too-early",
        )
    re_encrypt(app)
    former = [key_id(key).hex() for key in ring.keys[1:]]
    with app.transaction(COMMAND, "former master key forgotten", "house", keys=former) as tx:
        tx.audited = bool(former)
        KeyFile(app.settings.key_file).replace(KeyRing((ring.current,)))
    return former


def new_seal_key(app: AppContext) -> str:
    """Make a new seal key; gives its name. Of the former one the public part stays, to verify its bags with."""
    keys = app.seal_keys.renewed()
    with app.transaction(
        COMMAND, "seal key changed", "house", key=keys.current.name, former=keys.former[0].name
    ):
        write_secret(app.settings.seal_key_file, keys.private_set())
    return keys.current.name


def _make_lasting(app: AppContext) -> None:
    """Make sure that what others have in hand, such as reply addresses, hangs on no master key."""
    app.lasting_key("mail gate")
    with app.database.transaction() as session:
        vendors = list(session.scalars(select(Vendor.id)))
    for vendor in vendors:
        app.lasting_key(f"placeholders of vendor {vendor}")


def _re_encrypt_values(app: AppContext, column: InstrumentedAttribute[Any], purpose: str) -> int:
    """Re-encrypt some values of a column; one that is changed meanwhile is left alone."""
    model = column.class_
    keys = [getattr(model, key.key) for key in inspect(model).primary_key]
    head = current_head(app.ring)
    with app.database.transaction() as session:
        rows = session.execute(
            select(column, *keys)
            .where(column.is_not(None), not_(func.substring(column, 1, len(head)) == head))
            .limit(_BATCH)
        ).all()
        for old, *ident in rows:
            fresh = encrypt(app.ring, decrypt(app.ring, old, purpose), purpose)
            same = [key == value for key, value in zip(keys, ident, strict=True)]
            session.execute(
                update(model).where(*same, column == old).values({column.key: fresh}),
                execution_options={"synchronize_session": False},
            )
    return len(rows)


def _re_encrypt_imports(app: AppContext) -> int:
    """Secrets in the rows of imports that are not applied yet."""
    count = 0
    with app.database.transaction() as session:
        for row in session.scalars(
            select(IntakeRow).where(IntakeRow.sealed.is_not(None)).with_for_update()
        ):
            sealed = {name: base64.b64decode(value) for name, value in (row.sealed or {}).items()}
            old = {name: value for name, value in sealed.items() if not is_current(app.ring, value)}
            if old:
                fresh = {
                    name: encrypt(
                        app.ring, decrypt(app.ring, value, IMPORT_PURPOSE), IMPORT_PURPOSE
                    )
                    for name, value in old.items()
                }
                row.sealed = {
                    **(row.sealed or {}),
                    **{n: base64.b64encode(v).decode() for n, v in fresh.items()},
                }
                count += len(old)
    return count
