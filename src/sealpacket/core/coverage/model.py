"""What a ruling is made from, and what it says."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import BaseModel, ConfigDict

Need = Literal["fault", "question", "change", "capacity", "return", "help"]
Route = Literal["support", "warranty", "units", "paid", "none"]


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Thing(_Value):
    """The asset or product that needs help. A product alone has no serial, site or dates."""

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


class Login(_Value):
    """The vendor login that would send the packet, and the numbers of the contracts tied to it."""

    name: str
    tied: tuple[str, ...] = ()


class Candidate(_Value):
    """One entitlement of this vendor, with what matters of its contract.

    Empty `serials` and `products` both: everything of the vendor's. Empty `countries` or `sites`: everywhere.
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
    countries: tuple[str, ...] = ()
    sites: tuple[str, ...] = ()
    hours: str = ""


class Question(_Value):
    """What is asked: cover for this need, on this day, through this login (if one is chosen)."""

    need: Need
    day: date
    login: Login | None = None
    other_logins: tuple[Login, ...] = ()
    sells_paid_help: bool = False


class PassedOver(_Value):
    """A candidate that was not chosen, and why."""

    entitlement: str
    contract: str
    code: str
    sentence: str


class Cure(_Value):
    """Something that would mend the ruling; `act` is what the interfaces can lead to, `target` what it acts on."""

    code: str
    sentence: str
    act: str
    target: str | None = None


class Ruling(_Value):
    """The reasoned decision on cover. `holds` is false where the route exists but cannot be used as things stand."""

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
    passed_over: tuple[PassedOver, ...]
    cures: tuple[Cure, ...]
