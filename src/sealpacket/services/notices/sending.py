"""Notices by mail, one by one or as a digest, and by webhook. Nothing that somebody typed is in them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from functools import partial
from itertools import groupby
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

import structlog
from sqlalchemy import ColumnElement, func, select, update
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.channels import mail, receiver
from sealpacket.core.errors import Conflict, ProblemError
from sealpacket.core.notices import DigestBy, NoticeWay
from sealpacket.services import webhooks
from sealpacket.services.notices.choosing import SECRET_PURPOSE
from sealpacket.services.notices.reading import NoticeShown, shown
from sealpacket.store.models import Account, Notice, NoticeSettings, PacketLine, Person

AT_ONCE = 100
"""Notices that are sent in one round, of each way."""
_LONGEST = timedelta(days=1)
"""How long a single mail is tried."""
_FAILURES = 3
"""Mails in a row that the server does not take before the others wait for the next round."""
_MOST = 200
"""Notices that a digest lists."""
log = structlog.get_logger()


def waiting(way: NoticeWay) -> ColumnElement[bool]:
    """The condition for notices that are still to go a way."""
    return Notice.ways.contains([way]) & ~Notice.sent_by.contains([way])


def send_all(app: AppContext) -> None:
    """Send what waits: single mails, and posts to webhooks. The worker calls this, one round at a time."""
    _send_mails(app)
    _post_all(app)


def _send_mails(app: AppContext) -> None:
    if not app.settings.mail:
        return
    with app.database.transaction() as session:
        fresh = Notice.at > datetime.now(UTC) - _LONGEST
        query = select(Notice).where(waiting(NoticeWay.MAIL), fresh).order_by(Notice.id)
        rows = session.scalars(query.limit(AT_ONCE)).all()
        seen = {one.id: one for one in shown(session, rows)}
        to = {one.id: _mail_of(session, one) for one in rows}
        accounts = {one.id: one.account_id for one in rows}
    failed = 0
    for ident, account in accounts.items():
        if failed == _FAILURES:  # the server is away, most likely: the next round tries again
            return
        address, notice = to[ident], seen.get(ident)
        trouble = ""
        if address and notice:
            trouble = _mailed(app, address, _subject(notice), _line(app, notice) + "\n")
        failed = failed + 1 if trouble else 0
        if not trouble:
            _done(app, [ident], NoticeWay.MAIL)
        _note_mail(app, account, trouble)


def _mail_of(session: Session, one: Notice) -> str | None:
    """The address to which a notice goes by mail."""
    if one.person_id:
        return session.scalar(select(Person.mail).where(Person.id == one.person_id))
    query = select(Person.mail).join(Account, Account.person_id == Person.id)
    return session.scalar(query.where(Account.id == one.account_id, Account.active))


def _mailed(app: AppContext, to: str, subject: str, text: str) -> str:
    """Send a mail; why it could not be sent, or nothing."""
    message = mail.compose(app.settings.mail_from, to, subject, text, automatic=True)
    try:
        mail.send(app.settings.mail, message)
    except ProblemError as problem:
        log.warning("a notice was not sent", reason=problem.code)
        return problem.detail
    return ""


def _done(app: AppContext, ids: Sequence[int], way: NoticeWay) -> None:
    with app.database.transaction() as session:
        added = func.array_append(Notice.sent_by, way.value)
        session.execute(
            update(Notice).where(Notice.id.in_(ids), waiting(way)).values(sent_by=added)
        )


def _note_mail(app: AppContext, account: str | None, trouble: str) -> None:
    with app.database.transaction() as session:
        own = session.get(NoticeSettings, account) if account else None
        if own is not None and own.mail_trouble != trouble:
            own.mail_trouble = trouble


def _subject(notice: NoticeShown) -> str:
    return f"{notice.packet}: {notice.words}" if notice.packet else notice.words


def _line(app: AppContext, notice: NoticeShown) -> str:
    """A notice in a mail: its number and reference, a sentence, and where it leads."""
    known = ", ".join(filter(None, [notice.packet, notice.vendor, notice.reference]))
    where = f"{app.settings.address.rstrip('/')}{notice.place}"
    return f"{known or 'Seal Packet'}: {notice.words}\n  {where}"


def send_digests(app: AppContext) -> int:
    """Send every digest of notices whose hour has come; one that the mail server refuses is tried again. How many."""
    if not app.settings.mail:
        return 0
    with app.database.transaction() as session:
        query = (
            select(NoticeSettings, Person)
            .join(Account, Account.id == NoticeSettings.account_id)
            .join(Person, Person.id == Account.person_id)
            .where(Account.active)
            .order_by(NoticeSettings.account_id)
        )
        due = [
            (own.account_id, person.mail, own.digest_by, today)
            for own, person in session.execute(query)
            if (today := _due(own, person)) is not None
        ]
    sent = 0
    for account, to, by, today in due:
        parts = _digest(app, account, by)
        trouble = ""
        for subject, text, ids in parts:
            trouble = _mailed(app, to, subject, text)
            if trouble:
                break
            _done(app, ids, NoticeWay.DIGEST)
            sent += 1
        with app.database.transaction() as session:
            own = session.get_one(NoticeSettings, account)
            own.mail_trouble = trouble
            own.digest_on = own.digest_on if trouble else today
    return sent


def _due(own: NoticeSettings, person: Person) -> date | None:
    """The person's day, if its digest is to be sent now."""
    try:
        here = datetime.now(ZoneInfo(person.time_zone))
    except (ZoneInfoNotFoundError, ValueError):
        here = datetime.now(UTC)
    sent = own.digest_on is not None and own.digest_on >= here.date()
    return None if sent or here.hour < own.digest_hour else here.date()


def _digest(app: AppContext, account: str, by: DigestBy) -> list[tuple[str, str, list[int]]]:
    """The mails of a digest: subject, text, and the notices in each."""
    with app.database.transaction() as session:
        which = waiting(NoticeWay.DIGEST) & (Notice.account_id == account)
        rows = session.scalars(select(Notice).where(which).order_by(Notice.id).limit(_MOST)).all()
        notices = shown(session, rows)
        sites = _sites(session, [one.packet for one in notices if one.packet])

    def group(one: NoticeShown) -> str:
        if by is DigestBy.VENDOR:
            return one.vendor
        return sites.get(one.packet or "", "") if by is DigestBy.SITE else ""

    return [
        _mail_with(app, name, [*part]) for name, part in groupby(sorted(notices, key=group), group)
    ]


def _sites(session: Session, numbers: Iterable[str]) -> dict[str, str]:
    query = select(PacketLine.number, PacketLine.site_name)
    rows = session.execute(query.where(PacketLine.number.in_([*numbers])))
    return {number: site or "" for number, site in rows}


def _mail_with(app: AppContext, name: str, part: list[NoticeShown]) -> tuple[str, str, list[int]]:
    about = f" of {name}" if name else ""
    text = "\n".join(_line(app, one) for one in part)
    place = f"{app.settings.address.rstrip('/')}/notices/list"
    many = "1 notice" if len(part) == 1 else f"{len(part)} notices"
    return f"{many}{about}", f"{text}\n\nAll: {place}\n", [one.id for one in part]


def _post_all(app: AppContext) -> None:
    with app.database.transaction() as session:
        due = (NoticeSettings.next_try_at.is_(None)) | (NoticeSettings.next_try_at <= func.now())
        query = select(NoticeSettings.account_id).where(NoticeSettings.webhook != "", due)
        accounts = session.scalars(query.order_by(NoticeSettings.account_id)).all()
    if accounts:
        with ThreadPoolExecutor(min(len(accounts), webhooks.SIDE_BY_SIDE), "notices") as pool:
            list(pool.map(partial(_post_safely, app), accounts))


def _post_safely(app: AppContext, account: str) -> None:
    """Post to one receiver; whatever fails there keeps no other waiting."""
    try:
        _post_to(app, account)
    except Exception:
        log.exception("notices could not be posted")


def _post_to(app: AppContext, account: str) -> None:
    """Post what waits for one account, in order; after a failure it is tried again later."""
    with app.database.transaction() as session:
        own = session.get_one(NoticeSettings, account)
        which = waiting(NoticeWay.WEBHOOK) & (Notice.account_id == account)
        query = select(Notice).where(which).order_by(Notice.id).limit(AT_ONCE)
        notices = shown(session, session.scalars(query).all())
        address, sealed = own.webhook, own.secret_sealed
    if not notices or sealed is None:
        return
    secret = app.open_value(sealed, SECRET_PURPOSE)
    for one in notices:
        trouble, is_refused = _posted(app, address, secret, one)
        if not trouble or is_refused:
            _done(app, [one.id], NoticeWay.WEBHOOK)
        _note_post(app, account, trouble)
        if trouble and not is_refused:
            return


def _posted(app: AppContext, address: str, secret: str, one: NoticeShown) -> tuple[str, bool]:
    """Why a notice was not taken, and whether it was refused: then it is not posted again."""
    body = one.model_copy(update={"title": ""}).model_dump_json().encode()
    try:
        webhooks.need_allowed(app, address)
        receiver.post(address, secret, f"notice-{one.id}", body, app.settings.desk_timeout)
    except ProblemError as problem:
        return problem.detail, isinstance(problem, Conflict)
    return "", False


def _note_post(app: AppContext, account: str, trouble: str) -> None:
    with app.database.transaction() as session:
        own = session.get_one(NoticeSettings, account)
        own.trouble = trouble
        if trouble:
            own.next_try_at = datetime.now(UTC) + webhooks.pause_after(own.tried)
            own.tried += 1
        else:
            own.tried, own.next_try_at = 0, None
