"""Notices: of which sorts of events people are notified, about which packets, and by which way."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum


class NoticeKind(StrEnum):
    """A sort of event, or a state that holds for a while."""

    ASKED = "asked"
    REFUSED = "refused"
    OVERDUE = "overdue"
    DUE_SOON = "due_soon"
    MAY_ESCALATE = "may_escalate"
    ANSWERED = "answered"
    BY_HAND = "by_hand"
    ACCESS_OVERDUE = "access_overdue"
    PARCEL_DUE = "parcel_due"
    HANDED_OVER = "handed_over"
    REPLIED = "replied"
    LODGED = "lodged"
    SETTLED = "settled"
    UNPLACED = "unplaced"
    PRODUCT_NEWS = "product_news"
    VENDOR_TROUBLE = "vendor_trouble"


class NoticeScope(StrEnum):
    """The packets of which somebody is notified: none, their own and those of nobody, or all."""

    NONE = "none"
    MINE = "mine"
    ALL = "all"


class NoticeWay(StrEnum):
    """How a notice reaches somebody. The console shows it at once; a digest is a mail a day."""

    CONSOLE = "console"
    MAIL = "mail"
    DIGEST = "digest"
    WEBHOOK = "webhook"
    FEED = "feed"


class DigestBy(StrEnum):
    """How the mails of a digest are divided: one a day, or one for each site or vendor."""

    DAY = "day"
    SITE = "site"
    VENDOR = "vendor"


STATES = frozenset(
    {
        NoticeKind.ASKED,
        NoticeKind.REFUSED,
        NoticeKind.OVERDUE,
        NoticeKind.DUE_SOON,
        NoticeKind.MAY_ESCALATE,
        NoticeKind.ANSWERED,
        NoticeKind.BY_HAND,
        NoticeKind.ACCESS_OVERDUE,
        NoticeKind.PARCEL_DUE,
    }
)
"""Kinds that hold for a while: their notices are gone when they hold no more."""
OF_VENDORS = frozenset({NoticeKind.PRODUCT_NEWS, NoticeKind.VENDOR_TROUBLE})
"""Kinds that belong to no packet and concern whoever wants them."""
FOR_INFORMED = (
    NoticeKind.LODGED,
    NoticeKind.ASKED,
    NoticeKind.REPLIED,
    NoticeKind.ANSWERED,
    NoticeKind.REFUSED,
    NoticeKind.SETTLED,
)
"""Kinds of which people are notified who are kept informed and have no account."""
_SAYS = {
    NoticeKind.ASKED: "{vendor} asks something.",
    NoticeKind.REFUSED: "{vendor} has refused it.",
    NoticeKind.OVERDUE: "What {vendor} promised is overdue.",
    NoticeKind.DUE_SOON: "What {vendor} promised is due soon.",
    NoticeKind.MAY_ESCALATE: "{vendor} is late; its rules let you escalate.",
    NoticeKind.ANSWERED: "{vendor} has proposed an answer.",
    NoticeKind.BY_HAND: "Something has to be passed on by hand.",
    NoticeKind.ACCESS_OVERDUE: "The time of an access of {vendor} is over.",
    NoticeKind.PARCEL_DUE: "A parcel is due.",
    NoticeKind.HANDED_OVER: "It was handed over to you.",
    NoticeKind.REPLIED: "{vendor} has written.",
    NoticeKind.LODGED: "It is lodged with {vendor}.",
    NoticeKind.SETTLED: "It is settled.",
    NoticeKind.UNPLACED: "Something has arrived that matches no packet.",
    NoticeKind.PRODUCT_NEWS: "{vendor} has news of a product.",
    NoticeKind.VENDOR_TROUBLE: "{vendor} reports trouble with something of ours.",
}


def sentence(kind: NoticeKind, vendor: str) -> str:
    """A notice as a sentence, without anything that somebody typed."""
    return _SAYS[kind].format(vendor=vendor or "The vendor")


@dataclass(frozen=True)
class Choice:
    """Of which packets somebody is notified, and how, for one kind of notice."""

    scope: NoticeScope
    ways: tuple[NoticeWay, ...] = (NoticeWay.CONSOLE,)


DEFAULTS: Mapping[NoticeKind, Choice] = {
    kind: Choice(NoticeScope.ALL if kind in OF_VENDORS else NoticeScope.MINE) for kind in NoticeKind
}
"""The choices of whoever has made none."""


@dataclass(frozen=True)
class Recipient:
    """Somebody who may be notified. Without sites or vendors chosen, all count; `works` on packets of nobody."""

    id: str
    name: str
    works: bool
    choices: Mapping[NoticeKind, Choice]
    sites: frozenset[str] = frozenset()
    vendors: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Noticed:
    """A packet as far as its notices depend on it.

    `causes` are the states that hold, `heard` the number of messages from the desk, `informed` the ids of recipients
    who are kept informed.
    """

    owner: str = ""
    vendor: str | None = None
    site: str | None = None
    life: str = ""
    heard: int = 0
    causes: frozenset[NoticeKind] = frozenset()
    informed: frozenset[str] = field(default_factory=frozenset)


def events(before: Noticed | None, after: Noticed) -> frozenset[NoticeKind]:
    """The events of a change, and the states that it begins or about which the desk has said more."""
    was = before or Noticed(owner=after.owner, life=after.life, heard=after.heard)
    found = set(after.causes - was.causes)
    if after.heard > was.heard:
        found.update({NoticeKind.ASKED} & after.causes)
        if not found & {NoticeKind.ASKED, NoticeKind.ANSWERED, NoticeKind.REFUSED}:
            found.add(NoticeKind.REPLIED)
    if after.owner and after.owner != was.owner:
        found.add(NoticeKind.HANDED_OVER)
    if after.life != was.life and after.life in (NoticeKind.LODGED, NoticeKind.SETTLED):
        found.add(NoticeKind(after.life))
    return frozenset(found)


def ways_for(who: Recipient, kind: NoticeKind, packet: Noticed) -> tuple[NoticeWay, ...]:
    """The ways by which somebody is notified of a kind of event of a packet; none if not at all."""
    choice = who.choices.get(kind, DEFAULTS[kind])
    if choice.scope is NoticeScope.NONE or not choice.ways:
        return ()
    if who.vendors and packet.vendor not in who.vendors:
        return ()
    if who.sites and packet.site not in who.sites:
        return ()
    own = packet.owner == who.name or who.id in packet.informed
    if kind is NoticeKind.HANDED_OVER:
        return choice.ways if packet.owner == who.name else ()
    nobodys = not packet.owner and who.works
    return choice.ways if own or nobodys or choice.scope is NoticeScope.ALL else ()


def over(packet: Noticed) -> Iterable[NoticeKind]:
    """The kinds of which notices of a packet are over."""
    ended = set(STATES - packet.causes)
    if packet.life in ("settled", "withdrawn"):
        ended |= {NoticeKind.REPLIED, NoticeKind.LODGED, NoticeKind.HANDED_OVER}
    return ended
