"""Diagnostic kits: kept, offered for a packet, run by the worker; the safe, and how devices are reached."""

from typing import Annotated, Any

from pydantic import BaseModel, Field, StringConstraints

from sealpacket.services import kits, reach, safe
from sealpacket.services.kits import KitBrief, KitShown
from sealpacket.services.packets import kit_runs
from sealpacket.services.packets.kit_runs import KitsOffered
from sealpacket.services.packets.schemas import KitRunShown
from sealpacket.services.reach import ReachShown
from sealpacket.services.safe import SecretShown
from sealpacket.web.api.common import Done, Handle, Number, OneLine, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("kits", "Diagnostic kits: what to collect from a thing. They only read.")

_NAME = r"^[a-z0-9][a-z0-9-]{0,40}$"
SecretName = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9./-]{0,60}$")]


class Kits(BaseModel):
    """All kits, by name."""

    items: list[KitBrief]


class KitPath(Strict):
    """A kit by its name."""

    name: str = Field(pattern=_NAME)


class KitText(Strict):
    """A kit in YAML."""

    yaml: str = Field(max_length=1 << 18)


class Confirmed(Strict):
    """A kit and the version of it that a person has seen."""

    kit: str = Field(pattern=_NAME)
    seen: int = Field(ge=1, description="The version of the kit that was looked at.")


class Secrets(BaseModel):
    """The names of all secrets, without their values."""

    items: list[SecretShown]


class SecretPath(Strict):
    """A secret by its name."""

    name: SecretName


class SecretBody(Strict):
    """A secret: a password, a token, or a private key (PEM). It is never shown again."""

    value: str = Field(min_length=1, max_length=20_000)
    what: OneLine = Field("", max_length=200)


class ReachBody(Strict):
    """How a device is reached."""

    target: str = Field(
        pattern=r"^[A-Za-z0-9]([A-Za-z0-9.-]{0,250}[A-Za-z0-9])?$|^[0-9a-fA-F:]{2,45}$",
        description="Its host name or address.",
    )
    port: int = Field(22, ge=1, le=65535, description="Of SSH and SFTP.")
    https_port: int = Field(443, ge=1, le=65535)
    user: OneLine = Field("", max_length=60, description="The user there; else the kit's.")
    host_key: OneLine = Field(
        "",
        max_length=4000,
        description="Its public host key as OpenSSH writes it: ssh-ed25519 AAAA…",
    )
    authority: str | None = Field(
        None,
        max_length=100_000,
        description="A certificate authority for https, as PEM, beside the system's; null: as before.",
    )
    secrets: dict[str, SecretName] = Field(
        {}, max_length=40, description="Names in the safe of a kit's secrets, if they differ."
    )


@api.get("/kits", summary="List kits", responses={200: Kits}, does=kits.listed)
@requires_role(ANY_ROLE)
def list_kits() -> dict[str, Any]:
    return {"items": kits.listed(current_app())}


@api.get(
    "/kits/<name>",
    summary="Get a kit with everything that it would run",
    responses={200: KitShown},
    does=kits.get,
)
@requires_role(ANY_ROLE)
def get_kit(path: KitPath) -> KitShown:
    return kits.get(current_app(), path.name)


@api.post(
    "/kits",
    summary="Save a kit; a changed one becomes a new version",
    responses={200: KitShown},
    does=kits.put,
)
@requires_role("keeper")
@idempotent
def put_kit(body: KitText) -> KitShown:
    return kits.put(current_app(), actor(), body.yaml)


@api.delete("/kits/<name>", summary="Retire a kit", responses={200: Done}, does=kits.retire)
@requires_role("keeper")
def retire_kit(path: KitPath) -> dict[str, Any]:
    kits.retire(current_app(), actor(), path.name)
    return {"done": True}


@api.get(
    "/packets/<number>/kits",
    summary="List kits for a packet's asset, with everything that they would run",
    responses={200: KitsOffered},
    does=kit_runs.offered,
)
@requires_role(ANY_ROLE)
def list_offered_kits(path: Number) -> KitsOffered:
    return kit_runs.offered(current_app(), path.number.upper())


@api.post(
    "/packets/<number>/kits",
    summary="Run a confirmed kit on the worker",
    responses={202: KitRunShown},
    does=kit_runs.collect,
    problems=(413,),
)
@requires_role("preparer")
@idempotent
def collect_by_kit(path: Number, body: Confirmed) -> KitRunShown:
    number = path.number.upper()
    return kit_runs.collect(current_app(), actor(), number, body.kit, body.seen)


@api.get(
    "/safe",
    summary="List the secrets in the safe, by name",
    responses={200: Secrets},
    does=safe.listed,
)
@requires_role("keeper")
def list_secrets() -> dict[str, Any]:
    return {"items": safe.listed(current_app())}


@api.put("/safe/<path:name>", summary="Save a secret", responses={200: SecretShown}, does=safe.keep)
@requires_role("keeper")
def keep_secret(path: SecretPath, body: SecretBody) -> SecretShown:
    return safe.keep(current_app(), actor(), path.name, body.value, body.what)


@api.delete("/safe/<path:name>", summary="Delete a secret", responses={200: Done}, does=safe.remove)
@requires_role("keeper")
def remove_secret(path: SecretPath) -> dict[str, Any]:
    safe.remove(current_app(), actor(), path.name)
    return {"done": True}


@api.get(
    "/assets/<handle>/reach",
    summary="Get the access settings of a device",
    responses={200: ReachShown},
    does=reach.get,
)
@requires_role("keeper", "preparer")
def get_reach(path: Handle) -> ReachShown:
    return reach.get(current_app(), path.handle)


@api.put(
    "/assets/<handle>/reach",
    summary="Set the access settings of a device",
    responses={200: ReachShown},
    does=reach.put,
)
@requires_role("keeper")
def put_reach(path: Handle, body: ReachBody) -> ReachShown:
    return reach.put(current_app(), actor(), path.handle, **body.model_dump())


@api.delete(
    "/assets/<handle>/reach",
    summary="Delete the access settings of a device",
    responses={200: Done},
    does=reach.remove,
)
@requires_role("keeper")
def remove_reach(path: Handle) -> dict[str, Any]:
    reach.remove(current_app(), actor(), path.handle)
    return {"done": True}
