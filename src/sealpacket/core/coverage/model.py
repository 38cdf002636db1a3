"""The input and the result of a ruling."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import BaseModel, ConfigDict

Need = Literal[
    "fault", "question", "change", "capacity", "return", "help", "improvement", "tie", "reading"
]
Route = Literal["support", "warranty", "units", "paid", "none"]
Reach = Literal["parts", "software"]
How = Literal["part", "software"]


class Value(BaseModel):
    """Compared by what it holds, and never changed."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Carrier(Value):
    """The carrier of an asset: what it sits in (`part`: a node in its cluster, a module in its chassis) or runs on
    (`software`)."""

    serial: str
    product: str
    product_name: str
    how: How = "part"


class HostCover(Value):
    """Another vendor's machine on which a software runs, under a contract that reaches the software on it."""

    serial: str
    vendor: str
    contract: str
    level: str
    ends_on: date


class Thing(Value):
    """The asset or product that needs help, as it was on the day that is asked about.

    A product alone has no serial, site or dates. `carriers` from the nearest outwards. `registered` is false where
    the vendor wants the product registered and it is not. `host` is looked for only where nothing else serves.
    """

    vendor: str
    product: str
    product_name: str
    serial: str | None = None
    site: str | None = None
    country: str | None = None
    shipped_on: date | None = None
    installed_on: date | None = None
    warranty_months: int | None = None
    warranty_needs: tuple[Need, ...] = ()
    carriers: tuple[Carrier, ...] = ()
    status: str = "in_use"
    registered: bool = True
    host: HostCover | None = None


class Login(Value):
    """The vendor login that would send the packet: the contracts tied to it, and what it may do there.

    Empty `needs`: it may ask for everything. `for_others`: it may send on behalf of someone else.
    """

    name: str
    tied: tuple[str, ...] = ()
    needs: tuple[Need, ...] = ()
    for_others: bool = True
    mailbox_read: bool = True


class Listing(Value):
    """A serial that was on an entitlement for only a part of its term; both days included, None: open."""

    serial: str
    from_on: date | None = None
    until_on: date | None = None


class Candidate(Value):
    """One dated version of an entitlement of this vendor's, with what matters of its contract.

    It covers what it names by serial or product, or `everything` of the vendor's. Empty `countries` or `sites`:
    everywhere.
    `listings` are serials that were listed for a part of the term. `reach`: whether cover of a thing also covers the
    parts in it and the software that runs on it. `models`: part numbers of the listed serials. `replaced_on`: the day
    from which a later version of the same entitlement counts instead.
    """

    entitlement: str
    contract: str
    level: str
    rank: int = 0
    route: Literal["support", "units"] = "support"
    starts_on: date
    ends_on: date
    grace_days: int = 0
    needs: tuple[Need, ...]
    serials: tuple[str, ...] = ()
    products: tuple[str, ...] = ()
    everything: bool = False
    countries: tuple[str, ...] = ()
    sites: tuple[str, ...] = ()
    hours: str = ""
    listings: tuple[Listing, ...] = ()
    reach: tuple[Reach, ...] = ("parts",)
    models: tuple[str, ...] = ()
    replaced_on: date | None = None


class Question(Value):
    """A question about cover: for this need, on this day, through this login (if one is chosen).

    `on_behalf_of`: the person for whom the login's owner would send it, if it is someone else.
    """

    need: Need
    day: date
    login: Login | None = None
    other_logins: tuple[Login, ...] = ()
    on_behalf_of: str | None = None
    sells_paid_help: bool = False


class PassedOver(Value):
    """A candidate that was not chosen, and why."""

    entitlement: str
    contract: str
    code: str
    sentence: str


class Cure(Value):
    """Something that would mend the ruling; `act` is what the interfaces can lead to, `target` what it acts on."""

    code: str
    sentence: str
    act: str
    target: str | None = None


class Ruling(Value):
    """The reasoned decision on cover. `holds` is false if the route exists but cannot be used at present."""

    route: Route
    holds: bool
    need: Need
    day: date
    entitlement: str | None = None
    contract: str | None = None
    level: str | None = None
    hours: str | None = None
    ends_on: date | None = None
    reasons: tuple[str, ...]
    warnings: tuple[str, ...] = ()
    passed_over: tuple[PassedOver, ...]
    cures: tuple[Cure, ...]


class Basis(Value):
    """All that a ruling was made from, stored beside it so that it can be replayed."""

    question: Question
    thing: Thing
    candidates: tuple[Candidate, ...]
