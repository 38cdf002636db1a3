"""The safe: secrets that kits use by name. What is put in is encrypted and never shown again."""

from __future__ import annotations

from datetime import UTC, datetime

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import NotFound
from sealpacket.store.models import SafeSecret

SAFE_PURPOSE = "vault secret"
"""The purpose of the encryption; values stored under a former name of the safe stay readable."""
MOST = 1000


class SecretShown(BaseModel):
    """A secret of the safe, without its value."""

    name: str
    what: str
    by: str
    at: datetime


def listed(app: AppContext) -> list[SecretShown]:
    """All secrets by name, without their values."""
    with app.database.transaction() as session:
        query = select(SafeSecret).order_by(SafeSecret.name).limit(MOST)
        return [_show(one) for one in session.scalars(query)]


def keep(app: AppContext, actor: Actor, name: str, value: str, what: str) -> SecretShown:
    """Keep a secret under its name; a former value is gone."""
    with app.transaction(actor, "secret kept", f"secret {name}") as tx:
        secret = tx.session.get(SafeSecret, name) or SafeSecret(name=name)
        secret.value_sealed = app.seal_value(value, SAFE_PURPOSE)
        secret.what, secret.by, secret.at = what, actor.name, datetime.now(UTC)
        tx.session.add(secret)
        tx.session.flush()
        return _show(secret)


def remove(app: AppContext, actor: Actor, name: str) -> None:
    """Delete a secret. Raises NotFound."""
    with app.transaction(actor, "secret removed", f"secret {name}") as tx:
        secret = tx.session.get(SafeSecret, name)
        if secret is None:
            raise NotFound(
                f"There is no secret {name}.", "List the secrets, then name one of them."
            )
        tx.session.delete(secret)


def names_in(session: Session) -> frozenset[str]:
    """The names of all secrets."""
    return frozenset(session.scalars(select(SafeSecret.name)))


def value_of(app: AppContext, session: Session, name: str) -> str:
    """A secret in clear; empty if there is none of that name."""
    secret = session.get(SafeSecret, name)
    return app.open_value(secret.value_sealed, SAFE_PURPOSE) if secret else ""


def _show(secret: SafeSecret) -> SecretShown:
    return SecretShown(name=secret.name, what=secret.what, by=secret.by, at=secret.at)
