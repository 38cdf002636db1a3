"""The forms of limits, levels, lots of units, prices, licences and releases."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field, StringConstraints

from sealpacket.core.coverage import Need
from sealpacket.services.register.forms import (
    Country,
    Currency,
    Day,
    Form,
    Key,
    Line,
    Short,
    Shown,
    Words,
)

Count = Annotated[int, Field(ge=0, le=10**15)]
Digest = Annotated[
    str,
    StringConstraints(pattern="^([0-9a-f]{64})?$"),
    BeforeValidator(lambda value: value.lower() if isinstance(value, str) else value),
]
During = Literal["any", "in_hours", "out_of_hours"]
LicenceSort = Literal["licence", "feature_key", "certificate"]
ReleaseStatus = Literal["coming", "current", "previous", "withdrawn"]


class LimitForm(Form):
    """A limit: how much of a resource a vendor grants in a region, and how much is used.

    `provider` is the account or subscription in which it counts, `as_of_on` the day on which both numbers were read.
    """

    vendor: Key
    provider: Line = ""
    region: Short
    resource: Short
    unit: Line = ""
    granted: Count
    used: Count = 0
    as_of_on: Day | None = None
    notes: Words = ""


class LevelForm(Form):
    """A level of service that a contract offers. Promises in minutes, `cost_minor` for a month in minor units."""

    vendor: Key
    contract: Short
    name: Short
    rank: int = Field(0, ge=0, le=100)
    needs: list[Need] = Field(min_length=1)
    hours: Line = ""
    answer_minutes: int | None = Field(None, ge=1, le=10**6)
    repair_minutes: int | None = Field(None, ge=1, le=10**6)
    cost_minor: int | None = Field(None, ge=0)
    currency: Currency | None = None
    notes: Words = ""


class LotForm(Form):
    """A lot of prepaid units; `lapses_on` is the last day on which they can be used."""

    vendor: Key
    contract: Short
    reference: Short
    units: int = Field(ge=1, le=10**9)
    bought_on: Day
    lapses_on: Day
    cost_minor: int | None = Field(None, ge=0)
    currency: Currency | None = None
    notes: Words = ""


class PriceForm(Form):
    """The price of a service in units for one piece.

    `countries` where it can be had (none: everywhere), `during` and `hours` at what times, `notice_days` how long
    before, `most` how many at once.
    """

    vendor: Key
    item: Short
    name: Short
    units: int = Field(ge=1, le=10**9)
    countries: list[Country] = []
    during: During = "any"
    hours: Line = ""
    notice_days: int = Field(0, ge=0, le=365)
    most: int | None = Field(None, ge=1, le=10**6)
    notes: Words = ""


class LicenceForm(Form):
    """A licence, feature key or certificate of an asset (its serial). `key` goes in and is never listed."""

    vendor: Key
    asset: Short
    name: Short
    sort: LicenceSort = "licence"
    activation_code: Line = ""
    key: str | None = Field(None, max_length=20_000)
    starts_on: Day | None = None
    ends_on: Day | None = None
    notes: Words = ""


class ReleaseForm(Form):
    """A version of a product (its part number). `mends` are identifiers of known issues."""

    vendor: Key
    product: Short
    number: Short
    released_on: Day | None = None
    status: ReleaseStatus = "previous"
    mends: list[Short] = Field([], max_length=500)
    file_name: Line = ""
    sha256: Digest = ""
    notes: Words = ""


class LimitShown(Shown, LimitForm):
    """A limit as kept, with the name by which it is called."""

    called: str


class LevelShown(Shown, LevelForm):
    """A level as kept."""


class LotShown(Shown, LotForm):
    """A lot as kept, and what became of its units."""

    used: int
    held: int
    left: int
    """Those that can still be asked for; none once it has lapsed."""


class PriceShown(Shown, PriceForm):
    """A price as kept."""


class LicenceShown(Shown, LicenceForm):
    """A licence as kept; of the key only whether there is one."""

    key: None = Field(None, exclude=True)
    has_key: bool


class ReleaseShown(Shown, ReleaseForm):
    """A release as kept."""

    product_name: str
