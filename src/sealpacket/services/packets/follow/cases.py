"""Following: ask the desk for the status of its cases, on request and periodically."""

from __future__ import annotations

import hashlib
from contextlib import suppress
from datetime import UTC, datetime, timedelta

from sqlalchemy import and_, func, or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.channels import Desk, DeskAway, DeskRefused
from sealpacket.core.errors import Conflict, DatabaseUnreachable, Invalid, NotFound, Unavailable
from sealpacket.core.life import AT_DESK, OPEN, FollowingState, Life, Turn
from sealpacket.core.sheets import (
    find_number,
    read_reply,
)
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import show
from sealpacket.services.packets.follow.news import note_news, take_in
from sealpacket.services.packets.follow.tray import put_paper
from sealpacket.services.packets.follow.vendor_files import fetch_waiting
from sealpacket.services.packets.lodge import health, waiting
from sealpacket.services.packets.lodge.deliveries import desk_of
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Packet, PacketCase, PacketFollowing, PickedUp

FOLLOW = "follow_packet"


_SETTLED_EVERY = timedelta(hours=1)


_REOPENED_WITHIN = timedelta(days=90)


def follow(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Ask the worker to look at the desk. `follow_state` says whether it has, `follow_status_text` what went wrong.
    Raises Conflict if no case is at a desk, or if the desk is reached by hand."""
    with app.acting(actor) as session:
        packet = workbench.find_packet(session, number, lock=True)
        if packet.life not in AT_DESK:
            raise Conflict(
                f"{packet.number} is {packet.life}; there is no case to follow.",
                "Lodge it first."
                if packet.life in (Life.DRAFTING, Life.SEALED, Life.REFUSED)
                else "Nothing is left to be done.",
                code="not-lodged",
            )
        if packet.sheet and parsed(packet.sheet).send.channel == "hand":
            raise Conflict(
                f"{parsed(packet.sheet).name} is reached by hand; nobody but you can look there.",
                "Enter its text as a reply of the desk's.",
                code="by-hand",
            )
        ask(app, session, packet)
        return show(app, session, packet)


def ask(app: AppContext, session: Session, packet: Packet) -> None:
    """Put a look at the desk into the queue, unless one is on its way already."""
    if packet.following.state != FollowingState.ASKING:
        packet.following.state, packet.following.status_text = FollowingState.ASKING, ""
        app.enqueue(session, FOLLOW, {"number": packet.number}, packet.id)


def look(app: AppContext, number: str, *, asked_for: bool = True) -> None:
    """Read the status of a case from its desk. The worker calls this; an unreachable desk is recorded.

    In rounds (not `asked_for`) a desk that is left alone is not called.
    """
    if not asked_for and _left_alone(app, number):
        return
    words = ""
    try:
        _look(app, number)
    except (Unavailable, Conflict, Invalid, NotFound) as problem:
        if isinstance(problem, DatabaseUnreachable):
            raise
        words = f"{problem.detail} {problem.remedy}"
    except Exception:
        _looked(app, number, "Looking at the desk met an error that was not foreseen.")
        raise
    _looked(app, number, words)


def _left_alone(app: AppContext, number: str) -> bool:
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        sheet = parsed(packet.sheet) if packet.sheet else None
        if sheet is None or sheet.replies.arrive == "hand":
            return True
        return health.closed_until(session, sheet.desk) is not None


def give_up_looking(app: AppContext, number: str) -> None:
    """Stop looking for now: it took the worker down with it."""
    _looked(app, number, "Looking at the desk broke off several times, each time unforeseen.")


def _looked(app: AppContext, number: str, words: str) -> None:
    with app.database.transaction() as session, suppress(NotFound):
        packet = workbench.find_packet(session, number, lock=True)
        following = packet.following
        following.followed_at, following.status_text = datetime.now(UTC), words
        following.state = FollowingState.FAILED if words else None


def _look(app: AppContext, number: str) -> None:
    """One look. Raises Unavailable if the desk cannot be asked."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.life not in AT_DESK:
            raise Conflict(
                f"{packet.number} is {packet.life}; there is no case to follow.",
                "Lodge it first.",
                code="not-lodged",
            )
        desk, packet_id = desk_of(app, packet), packet.id
        newest = packet.sheet.desk.sheets[-1].number if packet.sheet else 0
        marks = {
            one.reference: _of_sheet(newest, one.desk_mark) for one in packet.cases if one.reference
        }
    try:
        with health.turn_at(app, desk.sheet), desk:
            if desk.sheet.replies.arrive == "folder":
                _pick_up(app, WORKER, desk)
            told = {one: desk.follow(one, mark) for one, mark in marks.items()}
            for reference, said in told.items():
                if said.body is not None:
                    note_news(app, WORKER, packet_id, desk.sheet, said.body, reference)
                    if said.mark:
                        _keep_mark(app, packet_id, reference, f"{newest} {said.mark}")
            fetch_waiting(app, packet_id, desk)
    except DeskAway as away:
        health.was_away(app, desk.sheet.desk, str(away))
        raise Unavailable(str(away), "Try again later.", code="desk-away") from away
    except DeskRefused as refusal:
        # A desk that refuses has answered: the looks of other packets need not wait.
        waiting.reached(app, desk.sheet.desk)
        raise Unavailable(
            f"The desk gives no status for {', '.join(marks)} ({refusal.status}).",
            "Check the secret of the vendor login, then look again.",
            code="desk-refused",
        ) from refusal
    waiting.reached(app, desk.sheet.desk)


def _of_sheet(number: int, mark: str) -> str:
    """The entity tag of a desk's last answer, if it was read by this version of the sheet; else empty."""
    of, _, tag = mark.partition(" ")
    return tag if of == str(number) else ""


def _keep_mark(app: AppContext, packet_id: str, reference: str, mark: str) -> None:
    with app.database.transaction() as session:
        packet = session.get_one(Packet, packet_id, with_for_update=True)
        for case in packet.cases:
            if case.reference == reference:
                case.desk_mark = mark


def _id_of(app: AppContext, number: str) -> str:
    with app.database.transaction() as session:
        return workbench.find_packet(session, number).id


def _pick_up(app: AppContext, actor: Actor, desk: Desk) -> None:
    """Read what the desk has left in its folder, whichever packet it is about; each paper once."""
    key = desk.sheet.desk
    with app.database.transaction() as session:
        known = set(session.scalars(select(PickedUp.name).where(PickedUp.desk == key)))
    for paper in desk.papers(lambda name: name in known):
        body = read_reply(desk.sheet, paper.content)
        number = find_number(desk.sheet, body, paper.name) if body is not None else ""
        packet_id = None
        with suppress(NotFound, Conflict):
            if number:
                take_in(app, actor, number, body)
                packet_id = _id_of(app, number)
        if packet_id is None and body is not None:
            put_paper(app, key, paper.name, paper.content)
        sha256 = hashlib.sha256(paper.content).hexdigest()
        picked = insert(PickedUp).values(
            desk=key, name=paper.name, sha256=sha256, packet_id=packet_id
        )
        with app.database.transaction() as session:
            # Somebody else may have picked it up in the meantime: then it is read already.
            session.execute(picked.on_conflict_do_nothing())


def follow_all(app: AppContext) -> None:
    """Look at every open case that was not lodged or looked at lately; one desk that is away stops no other.

    A settled one is looked at now and then for a while: its desk may open it again.
    """
    remind_to_settle(app)
    now = datetime.now(UTC)
    since = now - timedelta(seconds=app.settings.follow_every)
    settled = and_(
        Packet.life == Life.SETTLED,
        PacketFollowing.followed_at < min(since, now - _SETTLED_EVERY),
        Packet.lodged_at > now - _REOPENED_WITHIN,
    )
    last = func.coalesce(PacketFollowing.followed_at, Packet.lodged_at)
    with app.database.transaction() as session:
        due = or_(and_(Packet.life.in_(OPEN), or_(last.is_(None), last < since)), settled)
        query = select(Packet.number).join(Packet.following).where(due)
        order = PacketFollowing.followed_at.nulls_first()
        numbers = list(session.scalars(query.order_by(order).limit(200)))
    for number in numbers:
        look(app, number, asked_for=False)


def remind_to_settle(app: AppContext) -> None:
    """Make it our turn where a case that its desk never closes has been as it is for as long as it has to be."""
    due = Packet.cases.any(PacketCase.settle_on <= datetime.now(UTC).date())
    query = select(Packet).where(Packet.life.in_(OPEN), Packet.turn == Turn.VENDOR, due)
    with app.database.transaction() as session:
        for packet in session.scalars(query.with_for_update(skip_locked=True)):
            packet.update_turn()
