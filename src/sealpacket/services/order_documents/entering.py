"""Entering an order document: contract, entitlement, products and assets in one transaction, as a person has said."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime
from typing import Any

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.coverage import Need
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.services.order_documents.keeping import find_order_document, passcodes, show
from sealpacket.services.order_documents.schemas import OrderDocumentShown
from sealpacket.services.register.acts import added, checked, keep_version, rewrite
from sealpacket.services.register.columns import natural_key, records_by_key
from sealpacket.services.register.dated import RenewForm, begin_term, later_version
from sealpacket.services.register.forms import AssetStatus, Currency, Form, Key, Line, Short
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Contract, Entitlement, OrderDocument


class OrderDocumentItem(Form):
    """A thing on an order document. `product` is its part number, `name` its name; both only if it is new."""

    serial: Short
    product: Short | None = None
    name: Line = ""
    site: Key | None = None
    status: AssetStatus = "in_use"


class OrderDocumentEntry(Form):
    """The values that a person has confirmed. `cost_minor` in minor units of `currency` (ISO 4217).

    `keep_passcode`: the passcode that was found is kept with the contract, unless another one is given. Without
    `reference` nothing is said of what the contract grants. `everything`: it covers all of the vendor's things. Left
    out, `needs` of a new entitlement are faults and questions.
    """

    vendor: Key
    contract: Short
    title: Line = ""
    starts_on: date
    ends_on: date
    notice_on: date | None = None
    cost_minor: int | None = Field(None, ge=0)
    currency: Currency | None = None
    passcode: str | None = Field(None, max_length=200)
    keep_passcode: bool = False
    reference: Short | None = None
    level: Short | None = None
    hours: Line = ""
    needs: list[Need] | None = None
    products: list[Short] = []
    everything: bool = False
    items: list[OrderDocumentItem] = Field([], max_length=2000)


Outcome = dict[str, Any]


def preview(app: AppContext, actor: Actor, ident: str, entry: OrderDocumentEntry) -> list[Outcome]:
    """Preview what entering would do to each record: it is done and rolled back, so it is exact."""
    with app.database.transaction() as session:
        document = find_order_document(session, ident)
        trial = session.begin_nested()
        try:
            return _Entering(app, session, actor, entry, _passcode(app, document, entry)).outcomes
        finally:
            trial.rollback()


def enter(
    app: AppContext, actor: Actor, ident: str, entry: OrderDocumentEntry
) -> OrderDocumentShown:
    """Put the confirmed entry into the register, all of it or nothing, and attach the document to the contract.
    Raises Conflict if it was entered already, or is not read yet."""
    with app.transaction(actor, "order document entered", f"order document {ident}") as tx:
        document = find_order_document(tx.session, ident, lock=True)
        if document.state not in ("read", "aside", "failed"):
            raise Conflict(
                f"The order document is {document.state}.",
                "Change the contract itself.",
                code="entered",
            )
        done = _Entering(app, tx.session, actor, entry, _passcode(app, document, entry))
        document.state, document.contract_id = "entered", done.contract.id
        document.entered_by, document.entered_at = actor.name, datetime.now(UTC)
        document.entered = [
            {name: item[name] for name in ("kind", "called", "outcome", "record_id")}
            for item in done.outcomes
        ]
        tx.detail = {
            "name": document.name,
            "contract": entry.contract,
            "records": [
                f"{item['outcome']} {item['kind']} {item['called']}"
                for item in done.outcomes
                if item["outcome"] != "unchanged"
            ],
        }
        tx.session.flush()
        return show(document)


def _passcode(app: AppContext, document: OrderDocument, entry: OrderDocumentEntry) -> str | None:
    if entry.passcode:
        return entry.passcode
    return passcodes(app, document)[0] if entry.keep_passcode else None


class _Entering:
    """One order document on its way into the register."""

    def __init__(
        self,
        app: AppContext,
        session: Session,
        actor: Actor,
        entry: OrderDocumentEntry,
        passcode: str | None,
    ) -> None:
        self._app, self._session, self._actor, self._entry = app, session, actor, entry
        self._refs = Referred(session)
        self.outcomes: list[Outcome] = []
        if entry.ends_on < entry.starts_on:
            raise Invalid(
                "The contract would end before it starts.", "Check both dates.", field="ends_on"
            )
        for item in entry.items:
            self._item(item)
        self.contract = self._contract(passcode)
        if entry.reference:
            self._entitlement(entry.reference)

    def _item(self, item: OrderDocumentItem) -> None:
        """An asset that is known stays as it is, but for a site that it lacks; a new one needs its product."""
        entry = self._entry
        there = self._find("asset", {"vendor": entry.vendor, "serial": item.serial})
        if there is not None:
            self._settle(
                "asset", there, {"site": item.site} if item.site and there.site_id is None else {}
            )
            return
        if not item.product:
            raise Invalid(
                f"{item.serial} is new, and its part number is not given.",
                "Give its part number.",
                field="items",
            )
        if self._find("product", {"vendor": entry.vendor, "part_number": item.product}) is None:
            name = item.name or item.product
            self._add(
                "product", {"vendor": entry.vendor, "part_number": item.product, "name": name}
            )
        self._add("asset", {"vendor": entry.vendor, **item.model_dump(exclude={"name"})})

    def _contract(self, passcode: str | None) -> Contract:
        entry = self._entry
        terms = entry.model_dump(
            include={"starts_on", "ends_on", "notice_on", "cost_minor", "currency"}
        )
        fields = {name: value for name, value in terms.items() if value is not None}
        fields |= {"title": entry.title} if entry.title else {}
        fields |= {"passcode": passcode} if passcode else {}
        there: Contract | None = self._find(
            "contract", {"vendor": entry.vendor, "number": entry.contract}
        )
        if there is None:
            new: Contract = self._add(
                "contract", {"vendor": entry.vendor, "number": entry.contract, **fields}
            )
            return new
        verb = "changed"
        before = KINDS["contract"].body(there)
        if entry.starts_on > there.ends_on:
            days = {
                name: terms[name]
                for name in ("starts_on", "ends_on", "notice_on")
                if terms[name] is not None
            }
            form = RenewForm.model_validate(days)
            begin_term(self._session, self._actor, there, form)
            verb = "renewed"
        self._settle("contract", there, fields, verb=verb, before=before)
        return there

    def _entitlement(self, reference: str) -> None:
        entry, kind = self._entry, KINDS["entitlement"]
        serials = [item.serial for item in entry.items]
        if not (serials or entry.products or entry.everything):
            raise Invalid(
                "Nothing says what this contract covers.",
                "Name serials or products, or say that it covers everything.",
                field="items",
            )
        given = {
            "level": entry.level,
            "hours": entry.hours,
            "needs": entry.needs,
            "products": entry.products,
        }
        fields = {name: value for name, value in given.items() if value}
        fields |= {"serials": serials} if serials else {}
        query = select(Entitlement).where(
            Entitlement.contract_id == self.contract.id,
            Entitlement.reference == reference,
            Entitlement.starts_on <= entry.starts_on,
            Entitlement.ends_on >= entry.starts_on,
        )
        running = self._session.scalars(
            query.order_by(Entitlement.starts_on.desc()).options(*kind.eager)
        ).first()
        if running is None:
            if not entry.level:
                raise Invalid("The level of service is not given.", "Give its name.", field="level")
            fields = {"needs": ["fault", "question"], **fields}
            days = {"starts_on": entry.starts_on, "ends_on": entry.ends_on}
            self._add(
                "entitlement",
                {
                    "vendor": entry.vendor,
                    "contract": entry.contract,
                    "reference": reference,
                    **days,
                    **fields,
                },
            )
            return
        if running.starts_on == entry.starts_on:
            self._settle("entitlement", running, {**fields, "ends_on": entry.ends_on})
            return
        before = kind.body(running)
        fields |= (
            {"serials": sorted({*before["serials"], *serials})}
            if serials and not running.everything
            else {}
        )
        if running.everything:
            fields.pop("serials", None)
        later = later_version(self._session, running, entry.starts_on, entry.ends_on)
        self._session.refresh(later)
        self._settle("entitlement", later, fields, verb="amended", before=before)

    def _find(self, name: str, fields: Mapping[str, Any]) -> Any:
        kind = KINDS[name]
        key = natural_key(kind, self._refs, fields)
        return records_by_key(self._session, kind, [key]).get(key)

    def _add(self, name: str, fields: dict[str, Any]) -> Any:
        kind = KINDS[name]
        row = added(self._app, self._session, kind, checked(kind, fields))
        self._note(kind, row, {}, "new", "added", secret=bool(set(fields) & set(kind.secrets)))
        self._refs = Referred(self._session)
        return row

    def _settle(
        self,
        name: str,
        row: Any,
        fields: dict[str, Any],
        *,
        verb: str = "changed",
        before: dict[str, Any] | None = None,
    ) -> None:
        """Bring a record to what the order document says of it."""
        kind = KINDS[name]
        now = kind.body(row)
        before = before or now
        asked = {
            key: value
            for key, value in fields.items()
            if key in kind.secrets or _plain(value) != now.get(key)
        }
        if asked:
            rewrite(self._app, self._session, kind, row, asked)
        outcome = verb if asked or before != kind.body(row) else "unchanged"
        self._note(kind, row, before, outcome, verb, secret=bool(set(asked) & set(kind.secrets)))

    def _note(
        self,
        kind: Kind,
        row: Any,
        before: dict[str, Any],
        outcome: str,
        verb: str,
        *,
        secret: bool = False,
    ) -> None:
        self._session.flush()
        self._session.refresh(row)
        body = kind.body(row)
        if outcome != "unchanged":
            keep_version(
                self._session, kind, row, self._actor.name, f"{verb} from an order document"
            )
        changes = [
            {"field": name, "old": before.get(name), "new": value}
            for name, value in body.items()
            if before.get(name) != value and (before or value not in (None, "", [], False, 0))
        ]
        changes += [{"field": name, "old": None, "new": "•••"} for name in kind.secrets if secret]
        called = row.reference if kind.name == "entitlement" else body[kind.natural[-1]]
        self.outcomes.append(
            {
                "kind": kind.name,
                "called": called,
                "outcome": outcome,
                "record_id": row.id,
                "changes": changes,
            }
        )


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value
