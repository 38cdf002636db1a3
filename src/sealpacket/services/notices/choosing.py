"""How somebody wants to be notified: by kind of event, for which packets, and by which ways."""

from __future__ import annotations

import secrets
from collections.abc import Sequence

from pydantic import BaseModel, Field
from sqlalchemy import delete
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.notices import DigestBy, NoticeKind, NoticeScope, NoticeWay
from sealpacket.services import webhooks
from sealpacket.services.notices.announcing import announce_to
from sealpacket.services.notices.recipients import choices_of
from sealpacket.services.register.referred import Referred
from sealpacket.services.sign_in import hash_of
from sealpacket.store.models import Account, Notice, NoticeSettings

SECRET_PURPOSE = "notice webhook secret"  # noqa: S105 - a name


class ChoiceShown(BaseModel):
    """A kind of notice: of which packets you are notified, and how."""

    kind: NoticeKind
    scope: NoticeScope = Field(
        description="`mine`: packets that you look after, of which you are kept informed, or that nobody looks after."
    )
    ways: list[NoticeWay] = Field(description="How you are notified; a digest is a mail a day.")


class NoticeSettingsShown(BaseModel):
    """How you are notified."""

    choices: list[ChoiceShown]
    sites: list[str] = Field(description="Keys of the sites that count; empty: all.")
    vendors: list[str] = Field(description="Keys of the vendors that count; empty: all.")
    digest_by: DigestBy
    digest_hour: int = Field(description="The hour of your day at which digests are sent.")
    mail: str | None = Field(description="Your mail address; null: your account has no person.")
    mail_configured: bool = Field(description="Whether a mail server is configured.")
    mail_trouble: str = Field(description="Why the last mail could not be sent; empty: it could.")
    feed: bool = Field(description="Whether there is a private address of a feed.")
    webhook: str = Field(description="The address to which notices are posted; empty: none.")
    webhook_trouble: str = Field(description="Why the last notice could not be posted.")


class NewFeed(BaseModel):
    """The private address of a feed, shown this once. Whoever has it can read the feed."""

    address: str


class NewNoticeWebhook(BaseModel):
    """Your webhook for notices, with its secret."""

    webhook: str
    secret: str = Field(description="Checks signatures; it is shown this once.")


def settings(app: AppContext, actor: Actor) -> NoticeSettingsShown:
    """How whoever asks is notified."""
    with app.database.transaction() as session:
        return _show(app, session, actor)


def change(
    app: AppContext,
    actor: Actor,
    *,
    choices: Sequence[ChoiceShown] = (),
    sites: Sequence[str] | None = None,
    vendors: Sequence[str] | None = None,
    digest_by: DigestBy | None = None,
    digest_hour: int | None = None,
) -> NoticeSettingsShown:
    """Change how whoever asks is notified; what is not given stays. Notices of kinds that are no longer wanted go.

    Raises NotFound for an unknown site or vendor, Invalid for a way that does not work for this account.
    """
    with app.transaction(actor, "notices chosen", f"account {actor.name}") as tx:
        refs = Referred(tx.session)
        for key in sites or ():
            refs.site(key, "sites")
        for key in vendors or ():
            refs.vendor(key, "vendors")
        own = _own(tx.session, actor)
        kept = dict(own.choices)
        for one in choices:
            _need_way(tx.session, actor, own, one)
            kept[one.kind] = {"scope": one.scope, "ways": list(dict.fromkeys(one.ways))}
            if one.scope is NoticeScope.NONE or NoticeWay.CONSOLE not in one.ways:
                unwanted = (Notice.account_id == actor.account_id) & (Notice.kind == one.kind)
                tx.session.execute(delete(Notice).where(unwanted))
        own.choices = kept
        own.sites = own.sites if sites is None else [*sites]
        own.vendors = own.vendors if vendors is None else [*vendors]
        own.digest_by = digest_by or own.digest_by
        own.digest_hour = own.digest_hour if digest_hour is None else digest_hour
        tx.detail["kinds"] = [one.kind for one in choices]
        tx.session.flush()
        announce_to(tx.session, [actor.account_id])
        return _show(app, tx.session, actor)


def _need_way(session: Session, actor: Actor, own: NoticeSettings, one: ChoiceShown) -> None:
    account = session.get(Account, actor.account_id)
    by_mail = {NoticeWay.MAIL, NoticeWay.DIGEST} & set(one.ways)
    if by_mail and (account is None or account.person is None):
        raise Invalid(
            "Your account belongs to no person, so it has no mail address.",
            "Have one named for it.",
            field="choices",
        )
    if NoticeWay.WEBHOOK in one.ways and not own.webhook:
        raise Invalid("You have no webhook yet.", "Set its address first.", field="choices")


def new_feed(app: AppContext, actor: Actor) -> NewFeed:
    """A new private address for the feed of your notices, shown this once; an older one ends."""
    token = secrets.token_urlsafe(32)
    with app.transaction(actor, "feed address made", f"account {actor.name}") as tx:
        _own(tx.session, actor).feed_hash = hash_of(token)
    return NewFeed(address=f"{app.settings.address.rstrip('/')}/feed/{token}.atom")


def end_feed(app: AppContext, actor: Actor) -> NoticeSettingsShown:
    """End the private address of the feed."""
    with app.transaction(actor, "feed address ended", f"account {actor.name}") as tx:
        _own(tx.session, actor).feed_hash = None
        tx.session.flush()
        return _show(app, tx.session, actor)


def set_webhook(app: AppContext, actor: Actor, address: str) -> NewNoticeWebhook:
    """Have notices posted to an address, signed with a new secret. Raises Invalid for one that the house does not
    allow."""
    webhooks.need_allowed(app, address)
    secret = webhooks.new_secret()
    with app.transaction(
        actor, "notice webhook set", f"account {actor.name}", address=address
    ) as tx:
        own = _own(tx.session, actor)
        own.webhook, own.secret_sealed = address, app.seal_value(secret, SECRET_PURPOSE)
        own.tried, own.next_try_at, own.trouble = 0, None, ""
    return NewNoticeWebhook(webhook=address, secret=secret)


def end_webhook(app: AppContext, actor: Actor) -> NoticeSettingsShown:
    """Have no more notices posted."""
    with app.transaction(actor, "notice webhook ended", f"account {actor.name}") as tx:
        own = _own(tx.session, actor)
        own.webhook, own.secret_sealed = "", None
        own.tried, own.next_try_at, own.trouble = 0, None, ""
        tx.session.flush()
        return _show(app, tx.session, actor)


def _own(session: Session, actor: Actor) -> NoticeSettings:
    own = session.get(NoticeSettings, actor.account_id, with_for_update=True)
    if own is None:
        own = NoticeSettings(
            account_id=actor.account_id, choices={}, sites=[], vendors=[], webhook="",
            digest_by=DigestBy.DAY, digest_hour=7,
        )  # fmt: skip
        session.add(own)
    return own


def _show(app: AppContext, session: Session, actor: Actor) -> NoticeSettingsShown:
    own = session.get(NoticeSettings, actor.account_id)
    account = session.get(Account, actor.account_id)
    person = account.person if account else None
    return NoticeSettingsShown(
        choices=[
            ChoiceShown(kind=kind, scope=one.scope, ways=[*one.ways])
            for kind, one in choices_of(own).items()
        ],
        sites=own.sites if own else [],
        vendors=own.vendors if own else [],
        digest_by=own.digest_by if own else DigestBy.DAY,
        digest_hour=own.digest_hour if own else 7,
        mail=person.mail if person else None,
        mail_configured=bool(app.settings.mail),
        mail_trouble=own.mail_trouble if own else "",
        feed=bool(own and own.feed_hash),
        webhook=own.webhook if own else "",
        webhook_trouble=own.trouble if own else "",
    )
