"""Judging rows: what each would do to the register, and what is wrong with those that cannot."""

from __future__ import annotations

import base64
from typing import Any
from uuid import uuid4

from pydantic import ValidationError
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.money import to_minor
from sealpacket.core.tables import CellFault, DateOrder, Field, understand
from sealpacket.services.register.agreement import agree
from sealpacket.services.register.columns import Key, fields_of, natural_key, records_by_key
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Asset

Faults = list[dict[str, str]]

IMPORT_PURPOSE = "import secret"


class Judge:
    """Says of rows what each would do: new, changed (field by field), unchanged, or rejected with its faults."""

    def __init__(
        self,
        app: AppContext,
        kind: Kind,
        headings: list[str],
        mapping: dict[str, str],
        fixed: dict[str, str],
        order: DateOrder,
        intake: str,
    ) -> None:
        self._app, self._kind, self._order, self._intake = app, kind, order, intake
        fields = fields_of(kind.name)
        self._columns = [
            (fields[name], headings.index(heading), heading) for name, heading in mapping.items()
        ]
        self._fixed = [
            (fields[name], value) for name, value in fixed.items() if name not in mapping
        ]
        self._seen: set[int] = set()
        self._refs: Referred | None = None
        self.serials: set[str] = set()

    def rows(self, session: Session, chunk: list[tuple[int, list[Any]]]) -> list[dict[str, Any]]:
        """Rows of the preview, for the database."""
        self._refs = refs = (
            self._refs.within(session) if self._refs else Referred(session, many=True)
        )
        read = [(number, cells, *self._read(cells)) for number, cells in chunk]
        for _, _, given, faults in read:
            self._name_keys(refs, given, faults)
        keyed: list[tuple[int, list[Any], dict[str, Any], Faults, Key | None]] = []
        for number, cells, given, faults in read:
            key = None if faults else self._key(refs, given, faults)
            keyed.append((number, cells, given, faults, key))
        there = records_by_key(session, self._kind, [key for *_, key in keyed if key is not None])
        if self._kind.name == "entitlement":
            prefetch_serials(refs, [given for _, _, given, _, key in keyed if key])
        return [
            self.judged(refs, number, cells, given, faults, there.get(key) if key else None)
            for number, cells, given, faults, key in keyed
        ]

    def _read(self, cells: list[Any]) -> tuple[dict[str, Any], Faults]:
        given: dict[str, Any] = {}
        faults: Faults = []
        for field_, place, heading in self._columns:
            cell = cells[place] if place < len(cells) else None
            self._take(given, faults, field_, cell, heading)
        for field_, value in self._fixed:
            self._take(given, faults, field_, value, "")
        if "cost" in given:
            given["cost_minor"] = to_minor(given.pop("cost"), str(given.get("currency", "")))
        return given, faults

    def _take(
        self, given: dict[str, Any], faults: Faults, field_: Field, cell: Any, heading: str
    ) -> None:
        try:
            value = understand(cell, field_, self._order)
        except CellFault as fault:
            faults.append(_fault(field_.name, heading, f"{heading or field_.name} {fault}."))
            return
        if value is not None:
            given[field_.name] = value

    @staticmethod
    def _name_keys(refs: Referred, given: dict[str, Any], faults: Faults) -> None:
        """Files name vendors, sites and people as people do: their keys take the place of their names."""
        for name in set(refs.KEYED) & set(given):
            value = given[name]
            try:
                keys = [
                    refs.key_of(name, item)
                    for item in (value if isinstance(value, list) else [value])
                ]
            except Invalid as problem:
                faults.append(_fault_of(problem))
                continue
            given[name] = keys if isinstance(value, list) else keys[0]

    def _key(self, refs: Referred, given: dict[str, Any], faults: Faults) -> Key | None:
        fields = self._kind.form.model_fields
        missing = [
            name
            for name in self._kind.natural
            if fields[name].is_required() and given.get(name) in (None, "")
        ]
        faults += [
            _fault(name, "", f"{name} is missing: it tells the {self._kind.name} apart.")
            for name in missing
        ]
        if missing:
            return None
        try:
            key = natural_key(self._kind, refs, given)
        except Invalid as problem:
            faults.append(_fault_of(problem))
            return None
        mark = hash(key)
        if mark in self._seen:
            name = self._kind.natural[-1]
            faults.append(_fault(name, "", f"An earlier row is about {given[name]} already."))
            return None
        self._seen.add(mark)
        return key

    def judged(
        self,
        refs: Referred,
        number: int,
        cells: list[Any],
        given: dict[str, Any],
        faults: Faults,
        there: Any,
    ) -> dict[str, Any]:
        """The effect of one row; `there` is the existing record, if any."""
        kind = self._kind
        called = str(
            given.get(kind.natural[-1] if kind.name != "entitlement" else "reference") or ""
        )[:300]
        row: dict[str, Any] = {
            "intake_id": self._intake,
            "row": number,
            "called": called,
            "outcome": "rejected",
            "record_id": None,
            "body": None,
            "before": None,
            "sealed": None,
            "faults": None,
            "cells": None,
        }
        secrets = {name: given.pop(name) for name in kind.secrets if name in given}
        before = kind.body(there) if there is not None else {}
        if not faults:
            body = self._body(refs, before | given, faults)
            if body is not None:
                changes = (
                    [name for name in body if before.get(name) != body[name]]
                    if there is not None
                    else []
                )
                sealed = {
                    name: self._sealed(value)
                    for name, value in secrets.items()
                    if self._differs(there, name, value)
                }
                outcome = (
                    "new" if there is None else "changed" if changes or sealed else "unchanged"
                )
                moves = (
                    kind.name == "asset" and there is not None and {"site", "status"} & set(changes)
                )
                stays = {"stays": _stays(there), "placed_on": before["placed_on"]} if moves else {}
                return row | {
                    "outcome": outcome,
                    "record_id": there.id if there is not None else str(uuid4()),
                    "body": None if outcome == "unchanged" else body,
                    "before": {name: before[name] for name in changes} | stays
                    if outcome == "changed"
                    else None,
                    "sealed": sealed or None,
                }
        return row | {
            "faults": faults,
            "cells": [None if cell is None else str(cell) for cell in cells],
        }

    def _body(
        self, refs: Referred, fields: dict[str, Any], faults: Faults
    ) -> dict[str, Any] | None:
        kind = self._kind
        try:
            form = kind.form.model_validate(fields)
            body = form.model_dump(mode="json", exclude=set(kind.secrets))
            agree(form)
            carrier = getattr(form, "carrier", None)
            if carrier in self.serials:
                form = form.model_copy(update={"carrier": None})
            kind.links(refs, form, kind.columns(self._app, refs, form))
        except ValidationError as error:
            for item in error.errors():
                name = str(item["loc"][0]) if item["loc"] else ""
                what = (
                    "is missing"
                    if item["type"] == "missing"
                    else item["msg"].removeprefix("Value error, ")
                )
                faults.append(_fault(name, "", f"{name}: {what}."))
            return None
        except Invalid as problem:
            faults.append(_fault_of(problem))
            return None
        return body

    def _sealed(self, value: str) -> str:
        return base64.b64encode(self._app.seal_value(value, IMPORT_PURPOSE)).decode()

    def _differs(self, there: Any, name: str, value: str) -> bool:
        if there is None:
            return True
        secret = self._kind.secrets[name]
        kept = getattr(there, secret.column)
        return kept is None or self._app.open_value(kept, secret.purpose) != value


def _fault(name: str, heading: str, sentence: str) -> dict[str, str]:
    return {"field": name, "column": heading, "sentence": sentence}


def _fault_of(problem: Invalid) -> dict[str, str]:
    return _fault(str(problem.facts.get("field", "")), "", f"{problem} {problem.remedy}")


def _stays(row: Asset) -> list[dict[str, Any]]:
    return [
        {
            "from_on": stay.from_on.isoformat() if stay.from_on else None,
            "until_on": stay.until_on.isoformat(),
            "site_id": stay.site_id,
            "status": stay.status,
        }
        for stay in row.stays
    ]


def prefetch_serials(refs: Referred, given: list[dict[str, Any]]) -> None:
    """Read the ids of all serials that many entitlements name at once."""
    by_vendor: dict[str, list[str]] = {}
    for body in given:
        serials = [*body.get("serials", []), *(item["serial"] for item in body.get("listings", []))]
        by_vendor.setdefault(body["vendor"], []).extend(serials)
    for vendor, serials in by_vendor.items():
        refs.prefetch(refs.vendor(vendor), serials)
