"""The vault: secrets that kits use by name. What is put in is encrypted and never shown again."""

from __future__ import annotations

from datetime import UTC, datetime

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import NotFound
from sealpacket.store.models import VaultSecret

VAULT_PURPOSE = "vault secret"
MOST = 1000


class SecretShown(BaseModel):
    """A secret of the vault, without its value."""

    name: str
    what: str
    by: str
    at: datetime


def listed(app: AppContext) -> list[SecretShown]:
    """All secrets by name, without their values."""
    with app.database.transaction() as session:
        query = select(VaultSecret).order_by(VaultSecret.name).limit(MOST)
        return [_show(one) for one in session.scalars(query)]


def put(app: AppContext, actor: Actor, name: str, value: str, what: str) -> SecretShown:
    """Keep a secret under its name; a former value is gone."""
    with app.transaction(actor, "secret kept", f"secret {name}") as tx:
        secret = tx.session.get(VaultSecret, name) or VaultSecret(name=name)
        secret.value_sealed = app.seal_value(value, VAULT_PURPOSE)
        secret.what, secret.by, secret.at = what, actor.name, datetime.now(UTC)
        tx.session.add(secret)
        tx.session.flush()
        return _show(secret)


def remove(app: AppContext, actor: Actor, name: str) -> None:
    """Forget a secret."""
    with app.transaction(actor, "secret removed", f"secret {name}") as tx:
        secret = tx.session.get(VaultSecret, name)
        if secret is None:
            raise NotFound(f"There is no secret {name}.", "List them: sealpacket secret list")
        tx.session.delete(secret)


def names_in(session: Session) -> frozenset[str]:
    """The names of all secrets."""
    return frozenset(session.scalars(select(VaultSecret.name)))


def value_of(app: AppContext, session: Session, name: str) -> str:
    """A secret in clear; empty where there is none of that name."""
    secret = session.get(VaultSecret, name)
    return app.open_value(secret.value_sealed, VAULT_PURPOSE) if secret else ""


def _show(secret: VaultSecret) -> SecretShown:
    return SecretShown(name=secret.name, what=secret.what, by=secret.by, at=secret.at)
