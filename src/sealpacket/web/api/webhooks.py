"""Receivers of events."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services import webhooks
from sealpacket.services.webhooks import NewWebhook, RefusedShown, WebhookShown
from sealpacket.web.api.common import Done, Strict
from sealpacket.web.guard import actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("webhooks", "Receivers of events: addresses of ours to which events are posted, signed.")

_NAME = r"^[a-z0-9][a-z0-9-]{0,40}$"


class Webhooks(BaseModel):
    """All receivers, by name."""

    items: list[WebhookShown]


class WebhookBody(Strict):
    """A receiver of events."""

    name: str = Field(pattern=_NAME, description="A name for it.", examples=["status-board"])
    address: str = Field(
        pattern=r"^https?://[^\s/]+",
        max_length=500,
        description="Its address; the house allows some (SEALPACKET_WEBHOOK_ADDRESSES).",
        examples=["https://hooks.quillmere.example/sealpacket"],
    )
    packets_only: bool = Field(True, description="Whether it gets only events of packets.")


class WebhookPath(Strict):
    """A receiver by its name."""

    name: str = Field(pattern=_NAME, description="The receiver's name.")


class RefusedPath(WebhookPath):
    """An event that a receiver refused."""

    seq: int = Field(ge=1, description="The number of the event.")


class RefusedEvents(BaseModel):
    """Events that a receiver refused, the oldest first."""

    items: list[RefusedShown]


@api.get("/webhooks", summary="List webhooks", responses={200: Webhooks}, does=webhooks.listed)
@requires_role("admin")
def list_webhooks() -> dict[str, Any]:
    return {"items": webhooks.listed(current_app())}


@api.post(
    "/webhooks",
    summary="Add a webhook",
    responses={201: NewWebhook},
    does=webhooks.add,
)
@requires_role("admin")
@idempotent
def add_webhook(body: WebhookBody) -> NewWebhook:
    return webhooks.add(
        current_app(), actor(), body.name, body.address, packets_only=body.packets_only
    )


@api.delete(
    "/webhooks/<name>", summary="Remove a webhook", responses={200: Done}, does=webhooks.remove
)
@requires_role("admin")
def remove_webhook(path: WebhookPath) -> Done:
    webhooks.remove(current_app(), actor(), path.name)
    return Done()


@api.get(
    "/webhooks/<name>/refused",
    summary="List events that a webhook refused",
    responses={200: RefusedEvents},
    does=webhooks.refused,
)
@requires_role("admin")
def list_refused_events(path: WebhookPath) -> dict[str, Any]:
    return {"items": webhooks.refused(current_app(), path.name)}


@api.post(
    "/webhooks/<name>/refused/<seq>/resend",
    summary="Send a refused event again",
    responses={202: RefusedShown},
    does=webhooks.resend,
)
@requires_role("admin")
@idempotent
def resend_event(path: RefusedPath) -> RefusedShown:
    return webhooks.resend(current_app(), actor(), path.name, path.seq)
