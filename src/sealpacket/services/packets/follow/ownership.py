"""Who looks after a packet, what was said on the telephone, how it ended, and what follows it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.life import AT_DESK, OPEN, OVER, Event, Life, Turn
from sealpacket.core.sheets.replies import wanted
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.acting import packet_act, show
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.exhibits import taken_along
from sealpacket.services.packets.follow.news import note_words, questions_of
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Account, Message, Packet, PacketInformed, Person


def hand_over(app: AppContext, actor: Actor, number: str, to: str, note: str = "") -> PacketShown:
    """Give a packet into a colleague's care (`to` is the name of an account), with a word about what is next."""
    with packet_act(app, actor, "packet handed over", number, to=to, note=note) as act:
        packet = act.packet
        _need_account(act.session, to)
        packet.owner = to
        packet.handed = {
            "by": actor.name,
            "to": to,
            "note": note,
            "at": datetime.now(UTC).isoformat(),
        }
    return act.shown


def take_over(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Take over a packet."""
    with packet_act(app, actor, "packet taken over", number) as act:
        packet = act.packet
        act.detail["from"], packet.owner, packet.handed = packet.owner, actor.name, None
    return act.shown


MOST_INFORMED = 50


def keep_informed(app: AppContext, actor: Actor, number: str, people: Sequence[str]) -> PacketShown:
    """Name those of our own house who are kept informed of a packet, instead of those named before; none: nobody.

    They are notified of what happens, never of what is in it. Raises Invalid for people who are not in the register.
    """
    with packet_act(app, actor, "kept informed", number, people=[*people]) as act:
        packet = act.packet
        query = select(Person).where(Person.key.in_(people))
        known = {one.key: one for one in act.session.scalars(query)}
        strange = next((one for one in people if one not in known), None)
        if strange is not None or len(set(people)) > MOST_INFORMED:
            raise Invalid(
                f"“{strange}” is not a person in the register."
                if strange is not None
                else f"{MOST_INFORMED} people can be kept informed at most.",
                "Name people of the register.",
                code="no-such" if strange is not None else "people",
                field="people",
            )
        wanted = {one.id for one in known.values()}
        packet.informed = [one for one in packet.informed if one.person_id in wanted]
        named = {one.person_id for one in packet.informed}
        for ident in sorted(wanted - named):
            packet.informed.append(PacketInformed(person_id=ident, by=actor.name))
    return act.shown


def _need_account(session: Session, name: str) -> None:
    query = select(Account).where(Account.name == name, Account.active)
    account = session.scalars(query).one_or_none()
    if account is None or not {"preparer", "releaser", "keeper"} & set(account.roles):
        raise NotFound(
            f"Nobody called {name} can look after packets here.",
            "Name the account of a preparer.",
            field="to",
        )


def record_call(
    app: AppContext,
    actor: Actor,
    number: str,
    text: str,
    *,
    at: datetime | None = None,
    spoke_to: str = "",
    asks: bool = False,
    case: str = "",
) -> PacketShown:
    """Keep what was said on the telephone, since when (`at`) and with whom. With `asks` they wait for an answer.
    Raises Invalid for a future call, Conflict if the packet is not at a desk."""
    moment = at or datetime.now(UTC)
    if moment > datetime.now(UTC):
        raise Invalid("That moment is still to come.", "Say when the call was.", field="at")
    with packet_act(app, actor, "call recorded", number, spoke_to=spoke_to) as act:
        packet = act.packet
        if packet.life not in AT_DESK:
            raise Conflict(
                f"{packet.number} is {packet.life}; the desk cannot have called about it.",
                "Write it into the packet's note.",
                code="not-lodged",
            )
        vendor = packet.vendor_name or "the desk"
        message = Message(
            direction="in", how="call", text=text, at=moment, asks=asks,
            by=spoke_to or vendor, case=workbench.case_named(packet, case),
        )  # fmt: skip
        message.questions = questions_of(wanted(text, asks=asks) if asks else ())
        packet.messages.append(message)
        packet.update_turn()
        if packet.sheet is not None:
            note_words(packet, parsed(packet.sheet), message.case, text)
        act.session.flush()
        act.session.expire(packet, ["messages"])
    return act.shown


def settle(
    app: AppContext, actor: Actor, number: str, *, cause: str = "", cure: str = ""
) -> PacketShown:
    """Settle a packet; record cause and cure. If its desk settles cases itself, only cause and cure are recorded.

    Raises Conflict while such a desk has not settled it.
    """
    with packet_act(app, actor, "packet settled", number) as act:
        packet = act.packet
        was_open = packet.life in OPEN
        packet.advance(Event.SETTLE)
        by_us = packet.sheet is not None and parsed(packet.sheet).replies.settled_by == "us"
        if was_open and not by_us:
            raise Conflict(
                f"The desk of {packet.number} settles cases itself.",
                "Accept its answer, or ask it to close the case.",
                code="desk-settles",
            )
        packet.cause, packet.cure = cause or packet.cause, cure or packet.cure
        if was_open:
            for case in packet.cases:
                case.life, case.turn, case.settle_on = Life.SETTLED, Turn.VENDOR, None
            packet.update_turn()
    return act.shown


def claim(app: AppContext, actor: Actor, number: str, text: str = "") -> PacketShown:
    """Note a claim that goes on from a packet: its thing is to be returned.

    Answers that the claims desk asks for as well and exhibits go along; the packet itself goes on as it was. Raises
    Conflict for one that is about no asset, or is a return itself.
    """
    with app.transaction(actor, "packet noted", "packet", follows=number) as tx:
        before = workbench.find_packet(tx.session, number)
        if before.asset is None or before.need == "return":
            raise Conflict(
                f"{before.number} is a return already."
                if before.asset
                else f"{before.number} is about no asset.",
                "Go on with it." if before.asset else "Name the asset first.",
                code="no-claim",
            )
        reference = f", {before.reference}" if before.reference else ""
        whole = "\n\n".join(filter(None, (text, before.note)))
        noted = Packet(
            title=before.title, note=f"{whole}\n\nIt goes on from {before.number}{reference}.", need="return",
            began_at=before.began_at, follows=before,
        )  # fmt: skip
        made = drafts.new_packet(app, tx, actor, noted, before.asset.id)
        tx.session.flush()
        made.answers = drafts.that_fit(tx.session, made, before.answers)
        for exhibit in before.exhibits:
            if exhibit.original_blob is not None:
                taken_along(app, tx.session, made, exhibit)
        tx.detail["exhibits"] = len(made.exhibits)
        return show(app, tx.session, made)


def follow_up(
    app: AppContext, actor: Actor, number: str, title: str = "", text: str = ""
) -> PacketShown:
    """Note a follow-up to a packet that is over: about the same asset, with the findings in its note.

    Raises Conflict if the packet is not over.
    """
    with app.transaction(actor, "packet noted", "packet", follows=number) as tx:
        before = workbench.find_packet(tx.session, number)
        if before.life not in OVER:
            raise Conflict(
                f"{before.number} is {before.life}.",
                "Write to its desk instead; only what is over is followed by another packet.",
                code="not-settled",
            )
        said = f"It follows {before.number}" + (f", {before.reference}" if before.reference else "")
        said += f": {before.cause} {before.cure}".rstrip() if before.cause or before.cure else ""
        whole = "\n\n".join(part for part in (text, f"{said.rstrip('.')}.") if part)
        noted = Packet(
            title=title or before.title, note=whole, need=before.need, follows=before, ticket=None
        )
        asset = before.asset.id if before.asset else None
        return show(app, tx.session, drafts.new_packet(app, tx, actor, noted, asset))
