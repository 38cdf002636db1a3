"""Parts of the register on their own, against the real database: copying rows, references, what agrees."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Any
from uuid import uuid4

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.core.errors import Invalid
from sealpacket.demo.house import RunningHouse
from sealpacket.services.register import KINDS, Narrow
from sealpacket.services.register.agreement import agree
from sealpacket.services.register.columns import fields_of, natural_key, records_by_key
from sealpacket.services.register.forms import AssetForm, ContractForm, EntitlementForm
from sealpacket.services.register.referred import Referred
from sealpacket.store.copying import copy_rows
from sealpacket.store.database import Database
from sealpacket.store.models import Asset, RecordVersion, Site


@pytest.fixture
def session(house: RunningHouse) -> Iterator[Session]:
    """A session that keeps nothing."""
    database = Database(house.cluster.service_url)
    with database.transaction() as opened:
        yield opened
        opened.rollback()
    database.engine.dispose()


def test_rows_are_copied_with_their_defaults_lists_and_json(session: Session) -> None:
    array = session.scalars(select(Asset).where(Asset.serial == "TN9-44120-A")).one()
    fields = {"vendor_id": array.vendor_id, "product_id": array.product_id, "shipped_on": None}
    names = [["a\tb", 'q"uote'], [], ["{brace}", "back\\slash"]]
    rows = [
        {"id": str(uuid4()), "serial": f"COPY-{n}", "host_names": hosts, **fields}
        for n, hosts in enumerate(names)
    ]
    copy_rows(session, Asset, rows)
    found = session.scalars(
        select(Asset).where(Asset.serial.like("COPY-%")).order_by(Asset.serial)
    ).all()
    assert [row.host_names for row in found] == names
    assert {(row.version, row.status, row.notes) for row in found} == {(1, "in_use", "")}
    assert all(row.created_at.tzinfo and "copy-" in row.search_text for row in found)
    body = {"quote": '"', "line": "a\nb", "none": None}
    copy_rows(
        session,
        RecordVersion,
        [{"kind": "asset", "record_id": "x", "version": 1, "by": "b", "act": "a", "body": body}],
    )
    assert (
        session.scalars(select(RecordVersion).where(RecordVersion.record_id == "x")).one().body
        == body
    )
    copy_rows(session, Asset, [])


@pytest.mark.parametrize("many", [False, True])
def test_references_are_found_by_what_people_write(session: Session, many: bool) -> None:
    refs = Referred(session, many=many)
    vendor = refs.vendor("tarnfell")
    assert refs.product(vendor, "TN9")
    assert refs.contract(vendor, "T-2210", "contract") == refs.contract(
        vendor, "T-2210", "contract"
    )
    assert refs.person("marit", "person")
    assert len(refs.assets(vendor, ["TN9-44120-A", "TN9-44121-B"], "serials")) == 2
    assert refs.carrier(refs.vendor("pellwick"), "tarnfell:TN9-44120-A") == refs.asset(
        vendor, "TN9-44120-A", "x"
    )
    assert [
        refs.key_of("site", text) for text in ("Quay Street", "QUAY-STREET", "quay street")
    ] == ["quay-street"] * 3
    assert refs.key_of("vendor", "Tarnfell Storage") == "tarnfell"
    wrong: list[tuple[Any, str]] = [
        (lambda: refs.vendor("none"), "vendor"), (lambda: refs.product(vendor, "none"), "product"),
        (lambda: refs.contract(vendor, "88-4107", "contract"), "contract"), (lambda: refs.site("none"), "site"),
        (lambda: refs.assets(vendor, ["TN9-44120-A", "none"], "serials"), "serials"),
        (lambda: refs.carrier(vendor, "pellwick:none"), "carrier"), (lambda: refs.key_of("contact", "none"), "contact"),
    ]  # fmt: skip
    for call, field in wrong:
        with pytest.raises(Invalid) as caught:
            call()
        assert (caught.value.code, caught.value.facts["field"]) == ("no-such", field)
        assert caught.value.remedy


def test_a_record_is_found_again_by_what_tells_it_apart(session: Session) -> None:
    refs = Referred(session)
    bodies = {
        "asset": {"vendor": "tarnfell", "serial": "TN9-44120-A"}, "vendor": {"key": "tarnfell"},
        "contract": {"vendor": "tarnfell", "number": "T-2210"}, "site": {"key": "book-store"},
        "login": {"vendor": "tarnfell", "name": "marit.oswin@quillmere.example"}, "person": {"key": "marit"},
        "product": {"vendor": "tarnfell", "part_number": "TN9"},
    }  # fmt: skip
    for name, body in bodies.items():
        key = natural_key(KINDS[name], refs, body)
        found = records_by_key(
            session, KINDS[name], [key, ("not", "there") if len(key) == 2 else ("nowhere",)]
        )
        assert list(found) == [key], name
    entitlement = KINDS["entitlement"].body(KINDS["entitlement"].find(session, "TSE-301877"))
    key = natural_key(KINDS["entitlement"], refs, entitlement)
    assert records_by_key(session, KINDS["entitlement"], [key])[key].reference == "TSE-301877"
    assert records_by_key(session, KINDS["asset"], []) == {}


def test_the_fields_that_a_column_may_fill_are_those_of_the_form() -> None:
    fields = fields_of("asset")
    assert (fields["serial"].required, fields["site"].required, fields["host_names"].kind) == (
        True,
        False,
        "list",
    )
    assert fields["status"].choices == ("ordered", "in_use", "spare", "repair", "retired")
    assert (fields_of("contract")["cost"].kind, fields_of("contract")["ends_on"].kind) == (
        "money",
        "date",
    )
    kinds = {name: item.kind for name, item in fields_of("entitlement").items()}
    assert (kinds["needs"], kinds["listings"], kinds["serials"], kinds["co_term"], kinds["rank"]) == (
        "choices", "listings", "list", "yes", "whole",
    )  # fmt: skip


TERM = {"starts_on": date(2026, 1, 1), "ends_on": date(2026, 12, 31)}


@pytest.mark.parametrize(
    ("form", "field"),
    [
        (ContractForm(vendor="v", number="n", starts_on=date(2027, 1, 1), ends_on=date(2026, 1, 1)), "ends_on"),
        (ContractForm(vendor="v", number="n", notice_on=date(2027, 1, 1), **TERM), "ends_on"),
        (ContractForm(vendor="v", number="n", cost_minor=5, **TERM), "currency"),
        (ContractForm(vendor="v", number="n", currency="GBP", **TERM), "currency"),
        (AssetForm(vendor="v", product="p", serial="s", shipped_on=date(2026, 2, 1), installed_on=date(2026, 1, 1)),
         "installed_on"),
        (EntitlementForm(vendor="v", contract="c", reference="r", level="l", needs=["fault"], **TERM,
                         listings=[{"serial": "s", "from_on": "2026-03-01", "until_on": "2026-02-01"}]), "listings"),
    ],
)  # fmt: skip
def test_fields_that_contradict_one_another_are_told_in_a_preview(form: Any, field: str) -> None:
    with pytest.raises(Invalid) as caught:
        agree(form)
    assert caught.value.facts["field"] == field


def test_fields_that_agree_are_left_alone() -> None:
    agree(
        ContractForm(
            vendor="v",
            number="n",
            cost_minor=5,
            currency="GBP",
            notice_on=date(2026, 12, 31),
            **TERM,
        )
    )
    agree(AssetForm(vendor="v", product="p", serial="s", installed_on=date(2026, 1, 1)))


def test_lists_are_narrowed_by_what_each_kind_has(session: Session) -> None:
    kind = KINDS["asset"]
    query = Narrow("kiosk", "lumenlathe", "fennel-lane", "in_use").of(kind, select(Asset))
    assert {row.serial for row in session.scalars(query)} == {"LK40-7731-0926", "LK40-7731-0927"}
    odd = Narrow("100% \\ _").of(kind, select(Asset))
    assert session.scalars(odd).all() == []
    with pytest.raises(Invalid):
        Narrow(site="book-store").of(KINDS["site"], select(Site))
