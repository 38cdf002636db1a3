"""The forms of the register's records: what a person may give, and what they get to see."""

from __future__ import annotations

import ipaddress
import re
import zoneinfo
from datetime import date, datetime
from functools import cache
from importlib.resources import files
from typing import Annotated, Literal

import phonenumbers
from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    StringConstraints,
    model_validator,
)

from sealpacket.core.controls import CONTROL, one_line
from sealpacket.core.coverage import Listing, Need, Reach


class Form(BaseModel):
    """The base of request models. Unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", str_strip_whitespace=True)


class Shown(BaseModel):
    """The base of response models of records: `version` is the ETag."""

    id: str
    version: int
    updated_at: datetime


def _phone(value: str) -> str:
    """E.164, from any spelling with a country code."""
    try:
        number = phonenumbers.parse(value, None)
    except phonenumbers.NumberParseException as error:
        raise ValueError(
            "write the number with its country code, such as +44 1632 960123"
        ) from error
    return phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164)


def _day(value: object) -> object:
    """A day as ISO 8601 writes it; a bare number would be taken for seconds since 1970."""
    if not isinstance(value, date) and not re.fullmatch(r"\d{4}-\d\d-\d\d", str(value)):
        raise ValueError("is not a day; write it as 2027-03-31")
    return value


def _plain(value: str) -> str:
    """Text without control characters: an imported row may hold what no request would."""
    if found := CONTROL.search(value):
        raise ValueError(f"holds a control character (U+{ord(found[0]):04X}); take it out")
    return value


def _line(value: str) -> str:
    return one_line(_plain(value))


def _zone(value: str) -> str:
    if value not in zoneinfo.available_timezones():
        raise ValueError("is not a time zone name, such as Europe/London")
    return value


@cache
def _countries() -> frozenset[str]:
    table = files("tzdata").joinpath("zoneinfo/iso3166.tab").read_text("utf-8")
    return frozenset(line[:2] for line in table.splitlines() if line and not line.startswith("#"))


def _country(value: str) -> str:
    if value.upper() not in _countries():
        raise ValueError("is not a country code of ISO 3166, such as GB")
    return value.upper()


def _host(value: str) -> str:
    if len(value) > 253 or not re.fullmatch(r"[A-Za-z0-9_]([A-Za-z0-9_.-]*[A-Za-z0-9_])?", value):
        raise ValueError("is not a host name")
    return value.lower()


def _address(value: str) -> str:
    return str(ipaddress.ip_address(value))


Key = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9-]{0,59}$")]
Short = Annotated[str, StringConstraints(min_length=1, max_length=200), AfterValidator(_line)]
Words = Annotated[str, StringConstraints(max_length=4000), AfterValidator(_plain)]
Line = Annotated[str, StringConstraints(max_length=400), AfterValidator(_line)]
Phone = Annotated[str, AfterValidator(_phone)]
Zone = Annotated[str, AfterValidator(_zone)]
Country = Annotated[str, AfterValidator(_country)]
Host = Annotated[str, AfterValidator(_host)]
Address = Annotated[str, AfterValidator(_address)]
Mail = Annotated[str, StringConstraints(pattern=r"^[^@\s]{1,64}@[^@\s]+\.[^@\s]+$", max_length=254)]
Language = Annotated[str, StringConstraints(pattern=r"^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$")]
Currency = Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")]
Day = Annotated[date, BeforeValidator(_day)]
AssetStatus = Literal["ordered", "in_use", "spare", "repair", "retired"]


class VendorForm(Form):
    """A vendor. `key` is the short name used in addresses and commands, `customer_number` our number with them."""

    key: Key
    name: Short
    sells_paid_help: bool = False
    customer_number: Line = ""
    notes: Words = ""


class PersonForm(Form):
    """A person who can be named in packets."""

    key: Key
    name: Short
    mail: Mail
    phone: Phone | None = None
    second_phone: Phone | None = None
    language: Language = "en"
    time_zone: Zone = "Europe/London"
    hours: Line = ""
    on_call: bool = False
    reach_by: Literal["mail", "phone", "either"] = "either"
    access_needs: Line = ""
    instructions: Line = ""
    away_from_on: Day | None = None
    away_until_on: Day | None = None

    @model_validator(mode="after")
    def _away_in_order(self) -> PersonForm:
        if self.away_from_on and self.away_until_on and self.away_until_on < self.away_from_on:
            raise ValueError("away_until_on is before away_from_on")
        return self


class SiteForm(Form):
    """A place where assets are; `contact` is a person's key.

    Goods go to the `ship_…` address, or to the first one if there is none. `hours` as people write them, `instructions`
    for whoever comes.
    """

    key: Key
    name: Short
    address: Line = ""
    postcode: Line = ""
    town: Line = ""
    state: Line = ""
    country: Country
    time_zone: Zone
    ship_address: Line = ""
    ship_postcode: Line = ""
    ship_town: Line = ""
    hours: Line = ""
    instructions: Line = ""
    contact: Key | None = None


class ProductForm(Form):
    """A model of a vendor's. `needs_registration`: its cover counts only once a thing is registered with the vendor."""

    vendor: Key
    part_number: Short
    name: Short
    sort: Literal["hardware", "software"] = "hardware"
    needs_registration: bool = False
    warranty_months: int | None = Field(None, ge=1, le=600)
    warranty_needs: list[Need] = []


class AssetForm(Form):
    """A thing with a serial number; `product` is a part number, `site` a site's key.

    `carrier` is the serial of what it sits in or runs on (vendor:serial for another vendor's). `placed_on` is the day
    since which it stands at its site in its status: where it was before stays known.
    """

    vendor: Key
    product: Short
    serial: Short
    name: Line = ""
    site: Key | None = None
    status: AssetStatus = "in_use"
    placed_on: Day | None = None
    carrier: Short | None = None
    software_version: Line = ""
    host_names: list[Host] = Field([], max_length=50)
    addresses: list[Address] = Field([], max_length=50)
    shipped_on: Day | None = None
    installed_on: Day | None = None
    registered_on: Day | None = None
    notes: Words = ""


class ContractForm(Form):
    """A contract. `cost_minor` in minor units of `currency` (ISO 4217). A passcode goes in and is never listed."""

    vendor: Key
    number: Short
    title: Line = ""
    starts_on: Day
    ends_on: Day
    notice_on: Day | None = None
    grace_days: int = Field(0, ge=0, le=365)
    cost_minor: int | None = Field(None, ge=0)
    currency: Currency | None = None
    passcode: str | None = Field(None, max_length=200)


class EntitlementForm(Form):
    """An entitlement of a contract. Without serials and products it covers everything of the vendor's.

    `listings` are serials that are listed for a part of the term only. `co_term`: it is renewed with its contract.
    `reach`: whether it also covers the parts in what it lists, and the software on it.
    """

    vendor: Key
    contract: Short
    reference: Short
    level: Short
    rank: int = Field(0, ge=0, le=100)
    route: Literal["support", "units"] = "support"
    needs: list[Need] = Field(min_length=1)
    hours: Line = ""
    starts_on: Day
    ends_on: Day
    co_term: bool = True
    reach: list[Reach] = ["parts"]
    countries: list[Country] = []
    serials: list[Short] = []
    listings: list[Listing] = []
    products: list[Short] = []
    sites: list[Key] = []


class LoginForm(Form):
    """An identity of ours at a vendor. `secret` is what its desk asks for; it goes in and never comes out.

    `needs`: what it may ask for there (none named: everything). `for_others`: it may send on behalf of someone else.
    """

    vendor: Key
    name: Short
    person: Key | None = None
    mailbox_read: bool = True
    needs: list[Need] = []
    for_others: bool = True
    contracts: list[Short] = []
    secret: str | None = Field(None, max_length=4000)


class VendorShown(Shown, VendorForm):
    """A vendor as kept."""


class PersonShown(Shown, PersonForm):
    """A person as kept."""


class SiteShown(Shown, SiteForm):
    """A site as kept."""


class ProductShown(Shown, ProductForm):
    """A product as kept."""


class AssetShown(Shown, AssetForm):
    """An asset as kept, with the names of what it refers to."""

    product_name: str
    vendor_name: str
    site_name: str | None
    stays: list[StayShown]


class StayShown(BaseModel):
    """Where an asset was before, both days included."""

    from_on: date | None
    until_on: date
    site: str | None
    status: AssetStatus


class ContractShown(Shown, ContractForm):
    """A contract as kept; of the passcode only whether there is one."""

    passcode: None = Field(None, exclude=True)
    has_passcode: bool
    former_terms: list[TermShown]


class TermShown(BaseModel):
    """A former term of a contract."""

    starts_on: date
    ends_on: date
    notice_on: date | None
    grace_days: int
    cost_minor: int | None
    currency: str | None


class EntitlementShown(Shown, EntitlementForm):
    """One dated version of an entitlement as kept; `replaced_on` is the first day of the version that follows."""

    replaced_on: date | None


class LoginShown(Shown, LoginForm):
    """A login as kept; of the secret only whether there is one."""

    secret: None = Field(None, exclude=True)
    has_secret: bool
