"""How the worker reaches a device: its address, host key, certificate authority, user, and which secrets."""

from __future__ import annotations

import ipaddress
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory

from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.collecting.access import Access
from sealpacket.collecting.trust import host_key_print, read_authority
from sealpacket.core.errors import NotFound
from sealpacket.core.evidence.kits import Kit
from sealpacket.services import safe
from sealpacket.services.register import KINDS
from sealpacket.store.models import Asset, DeviceReach


class ReachShown(BaseModel):
    """How a device is reached. `host_key_print` is the fingerprint of its host key, as OpenSSH prints it."""

    asset: str
    target: str
    port: int
    https_port: int
    user: str
    host_key: str
    host_key_print: str
    authority: bool = Field(description="Whether a certificate authority of its own is trusted.")
    secrets: dict[str, str]
    by: str
    at: datetime


def get(app: AppContext, handle: str) -> ReachShown:
    """How a device is reached. Raises NotFound if nobody has said so."""
    with app.database.transaction() as session:
        asset = KINDS["asset"].find(session, handle)
        found = session.get(DeviceReach, asset.id)
        if found is None:
            raise NotFound(
                f"It is not known how {asset.serial} is reached.",
                "Say first how the asset is reached.",
                code="no-reach",
            )
        return _show(asset, found)


def put(
    app: AppContext,
    actor: Actor,
    handle: str,
    *,
    target: str,
    port: int,
    https_port: int,
    user: str,
    host_key: str,
    authority: str | None,
    secrets: dict[str, str],
) -> ReachShown:
    """Say how a device is reached. Without an `authority` the one that is known stays; an empty one is forgotten."""
    if host_key:
        host_key_print(host_key)
    if authority:
        read_authority(authority)
    with app.transaction(actor, "reach kept", "asset") as tx:
        asset = KINDS["asset"].find(tx.session, handle)
        found = tx.session.get(DeviceReach, asset.id) or DeviceReach(
            asset_id=asset.id, authority=""
        )
        found.target, found.port, found.https_port = target, port, https_port
        found.user, found.host_key, found.secrets = user, host_key.strip(), secrets
        if authority is not None:
            found.authority = authority
        found.by, found.at = actor.name, datetime.now(UTC)
        tx.session.add(found)
        tx.session.flush()
        tx.subject = f"asset {asset.serial}"
        tx.detail = {"target": target, "secrets": sorted(secrets.values())}
        return _show(asset, found)


def remove(app: AppContext, actor: Actor, handle: str) -> None:
    """Forget how a device is reached. Raises NotFound."""
    with app.transaction(actor, "reach removed", "asset") as tx:
        asset = KINDS["asset"].find(tx.session, handle)
        tx.subject = f"asset {asset.serial}"
        found = tx.session.get(DeviceReach, asset.id)
        if found is None:
            raise NotFound(f"It is not known how {asset.serial} is reached.", "Nothing is left.")
        tx.session.delete(found)


def secret_name(reach: DeviceReach, name: str) -> str:
    """The name of a kit's secret in the safe."""
    return str(reach.secrets.get(name, name))


def hindrance(app: AppContext, target: str) -> str:
    """Why a device must not be asked by the worker; empty if it may: it has to be within the configured networks."""
    if not app.settings.devices:
        return "The worker may reach no device: SEALPACKET_DEVICES names no network"
    try:
        found = {info[4][0] for info in socket.getaddrinfo(target, None, type=socket.SOCK_STREAM)}
    except (OSError, UnicodeError):
        return f"{target} is not known by that name here"
    for address in found:
        one = ipaddress.ip_address(str(address).split("%", 1)[0])
        if not any(one in network for network in app.settings.devices):
            return f"{target} is {one}, outside the networks that SEALPACKET_DEVICES names"
    return ""


def secrets_for(app: AppContext, session: Session, reach: DeviceReach, kit: Kit) -> dict[str, str]:
    """The secrets of a kit by its own names; those that the safe does not have are left out."""
    found = {name: safe.value_of(app, session, secret_name(reach, name)) for name in kit.secrets}
    return {name: value for name, value in found.items() if value}


@contextmanager
def access_to(reach: DeviceReach, kit: Kit, secrets: dict[str, str]) -> Iterator[Access]:
    """Access to a device for a kit; trusted keys and certificates are in temporary files meanwhile."""
    with TemporaryDirectory(prefix="sealpacket-") as folder:
        known_hosts, authority = Path(folder, "known_hosts"), Path(folder, "authority.pem")
        if reach.host_key:
            known_hosts.write_text(f"[{reach.target}]:{reach.port} {reach.host_key}\n")
        if reach.authority:
            authority.write_text(reach.authority)
        yield Access(
            target=reach.target,
            port=reach.port,
            https_port=reach.https_port,
            user=reach.user or kit.user,
            secrets=secrets,
            known_hosts=known_hosts if reach.host_key else None,
            authorities=authority if reach.authority else None,
        )


def _show(asset: Asset, found: DeviceReach) -> ReachShown:
    fields = ("target", "port", "https_port", "user", "host_key", "secrets", "by", "at")
    return ReachShown(
        **{field: getattr(found, field) for field in fields},
        asset=asset.serial,
        host_key_print=host_key_print(found.host_key) if found.host_key else "",
        authority=bool(found.authority),
    )
