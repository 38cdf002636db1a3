"""Notices: the list, how each person is notified, and the stream that an open console listens to."""

from __future__ import annotations

import json
from typing import Annotated

from flask import Response
from flask_openapi3 import OpenAPI
from pydantic import BaseModel, Field

from sealpacket.core.notices import DigestBy
from sealpacket.services import vendor_health
from sealpacket.services.notices import choosing, feed, news, reading
from sealpacket.services.notices.choosing import (
    ChoiceShown,
    NewFeed,
    NewNoticeWebhook,
    NoticeSettingsShown,
)
from sealpacket.services.notices.news import News
from sealpacket.services.notices.reading import NoticePage
from sealpacket.services.vendor_health import VendorHealth
from sealpacket.web.api.common import Strict
from sealpacket.web.guard import ANY_ROLE, ANYONE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api
from sealpacket.web.serving.application import STREAM_OF

api = Api("notices", "Notices of what concerns you, and how you are notified.")

_KEY = Annotated[str, Field(max_length=60)]


class NoticesQuery(Strict):
    """Which notices."""

    unread: bool = Field(False, description="Without those that were read.")
    limit: int = Field(50, ge=1, le=200)
    cursor: str = Field("", pattern=r"^\d{0,18}$")


class MarkBody(Strict):
    """Which notices were read, or are to count as not read."""

    ids: list[Annotated[int, Field(ge=1, lt=1 << 62)]] = Field([], max_length=1000)
    everything: bool = Field(False, description="All of them, whatever `ids` says.")
    read: bool = True


class ChoicesBody(Strict):
    """How you are notified; what is left out stays."""

    choices: list[ChoiceShown] = Field([], max_length=50)
    sites: list[_KEY] | None = Field(None, max_length=500, description="Empty: all sites.")
    vendors: list[_KEY] | None = Field(None, max_length=500, description="Empty: all vendors.")
    digest_by: DigestBy | None = None
    digest_hour: int | None = Field(None, ge=0, le=23)


class NoticeWebhookBody(Strict):
    """An address to which your notices are posted."""

    address: str = Field(
        pattern=r"^https?://[^\s/]+",
        max_length=500,
        description="The house allows some (SEALPACKET_WEBHOOK_ADDRESSES).",
        examples=["https://hooks.quillmere.example/marit"],
    )


class NewsQuery(Strict):
    """Which news."""

    vendor: str = Field("", max_length=60, description="Only of this vendor, by its key.")


@api.get("/notices", summary="List your notices", responses={200: NoticePage}, does=reading.listed)
@requires_role(ANY_ROLE)
def list_notices(query: NoticesQuery) -> NoticePage:
    return reading.listed(
        current_app(), actor(), unread=query.unread, limit=query.limit, cursor=query.cursor
    )


@api.post(
    "/notices/read",
    summary="Mark notices as read or unread",
    responses={200: NoticePage},
    does=reading.mark,
)
@requires_role(ANY_ROLE)
@idempotent
def mark_notices(body: MarkBody) -> NoticePage:
    return reading.mark(
        current_app(), actor(), body.ids, everything=body.everything, read=body.read
    )


@api.get(
    "/notices/settings",
    summary="Get how you are notified",
    responses={200: NoticeSettingsShown},
    does=choosing.settings,
)
@requires_role(ANY_ROLE)
def get_notice_settings() -> NoticeSettingsShown:
    return choosing.settings(current_app(), actor())


@api.put(
    "/notices/settings",
    summary="Choose how you are notified",
    responses={200: NoticeSettingsShown},
    does=choosing.change,
)
@requires_role(ANY_ROLE)
def put_notice_settings(body: ChoicesBody) -> NoticeSettingsShown:
    return choosing.change(
        current_app(),
        actor(),
        choices=body.choices,
        sites=body.sites,
        vendors=body.vendors,
        digest_by=body.digest_by,
        digest_hour=body.digest_hour,
    )


@api.post(
    "/notices/feed",
    summary="Create a new private feed address",
    responses={200: NewFeed},
    does=choosing.new_feed,
)
@requires_role(ANY_ROLE)
def new_feed() -> NewFeed:
    return choosing.new_feed(current_app(), actor())


@api.delete(
    "/notices/feed",
    summary="Revoke the private feed address",
    responses={200: NoticeSettingsShown},
    does=choosing.end_feed,
)
@requires_role(ANY_ROLE)
def end_feed() -> NoticeSettingsShown:
    return choosing.end_feed(current_app(), actor())


@api.put(
    "/notices/webhook",
    summary="Have your notices posted to an address",
    responses={200: NewNoticeWebhook},
    does=choosing.set_webhook,
)
@requires_role(ANY_ROLE)
@idempotent
def set_notice_webhook(body: NoticeWebhookBody) -> NewNoticeWebhook:
    return choosing.set_webhook(current_app(), actor(), body.address)


@api.delete(
    "/notices/webhook",
    summary="Have your notices posted no more",
    responses={200: NoticeSettingsShown},
    does=choosing.end_webhook,
)
@requires_role(ANY_ROLE)
def end_notice_webhook() -> NoticeSettingsShown:
    return choosing.end_webhook(current_app(), actor())


@api.get(
    "/news",
    summary="List vendors' news about your products",
    responses={200: News},
    does=news.listed,
)
@requires_role(ANY_ROLE)
def list_news(query: NewsQuery) -> News:
    return news.listed(current_app(), vendor=query.vendor)


class HealthQuery(Strict):
    """Which reports."""

    vendor: str = Field("", max_length=60, description="Only of this vendor, by its key.")
    asset: str = Field("", max_length=200, description="Only what may concern this asset.")
    packet: str = Field("", max_length=60, description="Only what may explain this packet.")
    over: bool = Field(False, description="Also what is over.")


@api.get(
    "/vendor-health",
    summary="List trouble and maintenance that vendors report",
    responses={200: VendorHealth},
    problems=(404,),
    does=vendor_health.vendor_health,
)
@requires_role(ANY_ROLE)
def list_vendor_health(query: HealthQuery) -> VendorHealth:
    return vendor_health.vendor_health(
        current_app(), vendor=query.vendor, asset=query.asset, packet=query.packet, over=query.over
    )


class FeedPath(BaseModel):
    """The secret part of a private address."""

    token: str = Field(max_length=100)


def add_streams(app: OpenAPI) -> None:
    """The private feeds, for whoever has the address; and the stream of a console that is open."""

    @app.get("/feed/<token>.atom", doc_ui=False)
    @requires_role(ANYONE)
    def notice_feed(path: FeedPath) -> Response:
        return Response(
            feed.feed(current_app(), path.token),
            content_type="application/atom+xml; charset=utf-8",
            headers={"Cache-Control": "private"},
        )

    @app.get("/api/v1/notices/stream", doc_ui=False)
    @requires_role(ANY_ROLE)
    def stream() -> Response:
        account = actor().account_id
        unread = reading.counted(current_app(), [account])[account]
        return Response(
            iter((f"retry: 3000\n{unread_event(unread)}",)),  # without a length: it goes on
            content_type="text/event-stream",
            headers={STREAM_OF: account, "X-Accel-Buffering": "no"},
        )


def unread_event(unread: int) -> str:
    """How many notices were not read, as a server-sent event."""
    return f"event: notices\ndata: {json.dumps({'unread': unread})}\n\n"
