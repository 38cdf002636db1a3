"""Records that forms refer to by name, each looked up once."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.core.errors import Invalid
from sealpacket.store.models import Asset, Contract, Person, Product, Site, Vendor

_BATCH = 5000


class Referred:
    """Ids of the records that forms name, read in one session. Every method raises Invalid that names the field."""

    KEYED: Mapping[str, Any] = {
        "vendor": Vendor,
        "site": Site,
        "sites": Site,
        "contact": Person,
        "person": Person,
    }
    """Fields that hold keys, with the records that the keys are of."""

    def __init__(self, session: Session, *, many: bool = False) -> None:
        """With `many`, what is asked for once is read with all of its kind, for forms that come by the thousand."""
        self._session = session
        self._many = many
        self._read: set[tuple[str, ...]] = set()
        self._known: dict[tuple[str, ...], str | None] = {}
        self._keys: dict[str, dict[str, str]] = {}

    def key_of(self, field: str, text: str) -> str:
        """The key of the record that people call so in full, in whatever case. Raises Invalid that names the field."""
        if field not in self._keys:
            model = self.KEYED[field]
            rows = self._session.execute(select(model.key, model.name)).all()
            names = {row.name.casefold(): row.key for row in rows}
            self._keys[field] = names | {row.key.casefold(): row.key for row in rows}
        found = self._keys[field].get(text.casefold())
        if found is None:
            raise _unknown(self.KEYED[field].__tablename__, text, field)
        return found

    def vendor(self, key: str, field: str = "vendor") -> str:
        """The vendor of this key."""
        return self._one(
            "vendor",
            key,
            field,
            ("vendor", key),
            lambda: select(Vendor.id).where(Vendor.key == key),
        )

    def person(self, key: str, field: str) -> str:
        """The person of this key."""
        return self._one(
            "person",
            key,
            field,
            ("person", key),
            lambda: select(Person.id).where(Person.key == key),
        )

    def site(self, key: str, field: str = "site") -> str:
        """The site of this key."""
        return self._one(
            "site", key, field, ("site", key), lambda: select(Site.id).where(Site.key == key)
        )

    def product(self, vendor_id: str, part: str, field: str = "product") -> str:
        """The product of a vendor's by part number."""

        def query() -> Any:
            return select(Product.id).where(
                Product.vendor_id == vendor_id, Product.part_number == part
            )

        return self._one("product", part, field, ("product", vendor_id, part), query)

    def contract(self, vendor_id: str, number: str, field: str) -> str:
        """The contract of a vendor's by number."""

        def query() -> Any:
            return select(Contract.id).where(
                Contract.vendor_id == vendor_id, Contract.number == number
            )

        return self._one("contract", number, field, ("contract", vendor_id, number), query)

    def asset(self, vendor_id: str, serial: str, field: str) -> str:
        """The asset of a vendor's by serial."""
        return self.assets(vendor_id, (serial,), field)[0]

    def assets(self, vendor_id: str, serials: Iterable[str], field: str) -> list[str]:
        """The assets of a vendor's by serial, in their order."""
        wanted = list(serials)
        self.prefetch(vendor_id, wanted)
        for serial in wanted:
            if self._known[("asset", vendor_id, serial)] is None:
                raise _unknown("asset", serial, field)
        return [self._known[("asset", vendor_id, serial)] or "" for serial in wanted]

    def prefetch(self, vendor_id: str, serials: Iterable[str]) -> None:
        """Read the ids of many assets at once."""
        missing = [
            serial
            for serial in dict.fromkeys(serials)
            if ("asset", vendor_id, serial) not in self._known
        ]
        for start in range(0, len(missing), _BATCH):
            part = missing[start : start + _BATCH]
            query = select(Asset.serial, Asset.id).where(
                Asset.vendor_id == vendor_id, Asset.serial.in_(part)
            )
            found: dict[str, str] = {row.serial: row.id for row in self._session.execute(query)}
            self._known |= {("asset", vendor_id, serial): found.get(serial) for serial in part}

    def carrier(self, vendor_id: str, text: str) -> str:
        """The carrier of an asset: a serial of the same vendor, or vendor:serial."""
        key, colon, serial = text.partition(":")
        if colon and ("vendor", key) not in self._known:
            self._known[("vendor", key)] = self._session.scalar(
                select(Vendor.id).where(Vendor.key == key)
            )
        other = self._known.get(("vendor", key)) if colon else None
        return (
            self.asset(other, serial, "carrier")
            if other
            else self.asset(vendor_id, text, "carrier")
        )

    def within(self, session: Session) -> Referred:
        """The same, with all that is known, in another session."""
        self._session = session
        return self

    def _read_all(self, what: str, vendor_id: str) -> None:
        """Read all records of a kind; of one vendor if the vendor is part of the identity."""
        if (what, vendor_id) in self._read:
            return
        self._read.add((what, vendor_id))
        if what in ("product", "contract"):
            model, name = (
                (Product, Product.part_number) if what == "product" else (Contract, Contract.number)
            )
            found = self._session.execute(
                select(name, model.id).where(model.vendor_id == vendor_id)
            )
            self._known |= {(what, vendor_id, text): ident for text, ident in found}
        else:
            keyed: Any = {"vendor": Vendor, "person": Person, "site": Site}[what]
            self._known |= {
                (what, key): ident
                for key, ident in self._session.execute(select(keyed.key, keyed.id))
            }

    def _one(
        self, what: str, name: str, field: str, key: tuple[str, ...], query: Callable[[], Any]
    ) -> str:
        if key not in self._known and self._many:
            self._read_all(what, key[1] if len(key) == 3 else "")
            self._known.setdefault(key, None)
        if key not in self._known:
            self._known[key] = self._session.scalar(query())
        found = self._known[key]
        if found is None:
            raise _unknown(what, name, field)
        return found


def _unknown(what: str, name: str, field: str) -> Invalid:
    return Invalid(
        f"There is no {what} {name} in the register.",
        f"Add the {what} first.",
        code="no-such",
        field=field,
    )
