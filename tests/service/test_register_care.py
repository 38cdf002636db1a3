"""Care for the register: duplicates merged, views kept, labels read and printed, lists sorted by what may be empty."""

from __future__ import annotations

import io
from collections.abc import Iterator
from pathlib import Path
from uuid import uuid4

import pypdfium2
import pytest
import zxingcpp
from PIL import Image

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import AssetShown
from tests.conftest import ARRAY


@pytest.fixture
def twins(marit: SealPacket) -> tuple[AssetShown, AssetShown]:
    """One thing that was entered twice: O for 0."""
    mark = f"TW{uuid4().int % 10**8:08d}"
    right = marit.assets.add(
        vendor="tarnfell",
        product="TN9",
        serial=f"{mark}-0A",
        host_names=["one.example"],
        site="book-store",
    )
    wrong = marit.assets.add(
        vendor="tarnfell", product="TN9", serial=f"{mark}-OA", host_names=["two.example"], name="Array T",
        installed_on="2025-01-10",
    )  # fmt: skip
    return right, wrong


def test_twins_are_found_whatever_looks_alike(
    marit: SealPacket, twins: tuple[AssetShown, AssetShown]
) -> None:
    groups = [{asset.serial for asset in group} for group in marit.duplicates().items]
    assert {twins[0].serial, twins[1].serial} in groups
    assert not any(ARRAY in group for group in groups)


def test_merging_keeps_what_either_had_and_both_histories(
    marit: SealPacket, twins: tuple[AssetShown, AssetShown]
) -> None:
    stays, goes = twins
    part = marit.assets.add(
        vendor="tarnfell", product="TN4", serial=f"{goes.serial}-P", carrier=goes.serial
    )
    packet = marit.packets.note("Something about it", "It hums.", asset=goes.serial)
    reference = f"M-{uuid4().hex[:6]}"
    marit.entitlements.add(
        vendor="tarnfell", contract="T-2304", reference=reference, level="Care", needs=["fault"],
        starts_on="2026-01-01", ends_on="2027-12-31", serials=[stays.serial, goes.serial],
    )  # fmt: skip
    would = marit.assets.preview_merge(stays.id, goes.serial)
    assert would["moving"] == {"asset": 1, "packet": 1, "entitlement_asset": 1}
    assert set(would["takes"]) == {"name", "host_names", "installed_on"}
    assert marit.assets.get(stays.id).version == stays.version, "a preview changes nothing"

    merged = marit.assets.merge(stays.id, stays.version, other=goes.serial)
    assert (merged.serial, merged.name, merged.host_names) == (
        stays.serial,
        "Array T",
        ["one.example", "two.example"],
    )
    assert marit.assets.get(part.id).carrier == stays.serial
    found = marit.packets.get(packet.number).asset
    assert found is not None and found.serial == stays.serial
    assert marit.entitlements.get(reference).serials == [stays.serial]
    for name in (goes.serial, goes.id):
        assert marit.assets.get(name).id == stays.id, "what it was called still finds it"
    told = [(version.act, version.record_id) for version in marit.assets.history(stays.id).items]
    assert told == [
        (f"merged with {goes.serial}", stays.id),
        ("added", stays.id),
        ("added", goes.id),
    ]
    [entry] = [one for one in marit.custody(f"asset {stays.id}") if one.action == "assets merged"]
    assert entry.detail["merged"] == goes.serial


def test_a_record_merged_twice_over_is_still_found(
    marit: SealPacket, twins: tuple[AssetShown, AssetShown]
) -> None:
    stays, goes = twins
    last = marit.assets.add(vendor="tarnfell", product="TN9", serial=f"{stays.serial}-NEW")
    merged = marit.assets.merge(stays.id, stays.version, other=goes.id)
    marit.assets.merge(last.id, last.version, other=merged.id)
    assert marit.assets.get(goes.serial).id == last.id


def test_what_cannot_be_merged_is_told_and_stays(
    marit: SealPacket, teo: SealPacket, twins: tuple[AssetShown, AssetShown]
) -> None:
    stays, goes = twins
    with pytest.raises(Refused, match="one and the same"):
        marit.assets.merge(stays.id, stays.version, other=stays.serial)
    with pytest.raises(Refused, match="of two vendors"):
        marit.assets.merge(stays.id, stays.version, other="OBF2-118804")
    with pytest.raises(Refused, match="changed since"):
        marit.assets.merge(stays.id, stays.version + 5, other=goes.serial)
    with pytest.raises(Refused, match="needs the role"):
        teo.assets.merge(stays.id, stays.version, other=goes.serial)
    assert marit.assets.get(goes.id).serial == goes.serial


def test_contracts_merge_with_their_entitlements_unless_both_have_the_same(
    marit: SealPacket,
) -> None:
    numbers = [f"MC-{uuid4().hex[:6]}" for _ in range(2)]
    for number in numbers:
        marit.contracts.add(
            vendor="saddlewick",
            number=number,
            starts_on="2026-01-01",
            ends_on="2026-12-31",
            title=number if number == numbers[1] else "",
        )
        marit.entitlements.add(
            vendor="saddlewick", contract=number, reference=f"E-{number}", level="Care", needs=["fault"],
            starts_on="2026-01-01", ends_on="2026-12-31", serials=["SW3K-61008"],
        )  # fmt: skip
    stays = marit.contracts.get(numbers[0])
    merged = marit.contracts.merge(stays.id, stays.version, other=numbers[1])
    assert merged.title == numbers[1]
    whole = marit.contracts.whole(numbers[0])
    assert {one.reference for one in whole.entitlements} == {f"E-{number}" for number in numbers}
    clash = marit.contracts.add(
        vendor="saddlewick", number=f"{numbers[0]}x", starts_on="2026-01-01", ends_on="2026-12-31"
    )
    marit.entitlements.add(
        vendor="saddlewick", contract=clash.number, reference=f"E-{numbers[0]}", level="Care", needs=["fault"],
        starts_on="2026-01-01", ends_on="2026-12-31", serials=["SW3K-70455"],
    )  # fmt: skip
    with pytest.raises(Refused, match="has an entitlement of this reference"):
        marit.contracts.merge(clash.id, clash.version, other=numbers[0])


@pytest.fixture
def view_names(marit: SealPacket, teo: SealPacket) -> Iterator[str]:
    name = f"View {uuid4().hex[:6]}"
    yield name
    for client in (marit, teo):
        for view in client.views().items:
            if view.mine and view.name.startswith(name):
                client.drop_view(view.id)


def test_a_view_is_ones_own_until_it_is_shared(
    marit: SealPacket, teo: SealPacket, view_names: str
) -> None:
    kept = marit.keep_view(
        "assets", view_names, "?status=spare&vendor=ovenbird&columns=serial,name"
    )
    assert (kept.query, kept.mine, kept.by) == (
        "status=spare&vendor=ovenbird&columns=serial%2Cname",
        True,
        "marit",
    )
    assert view_names not in [view.name for view in teo.views("assets").items]
    shared = marit.keep_view("assets", view_names, "status=spare", shared=True)
    assert shared.id == kept.id, "the same name is the same view"
    [seen] = [view for view in teo.views("assets").items if view.name == view_names]
    assert (seen.query, seen.mine, seen.by) == ("status=spare", False, "marit")
    assert view_names not in [view.name for view in teo.views("contracts").items]
    with pytest.raises(Refused, match="no such view of yours"):
        teo.drop_view(kept.id)


@pytest.mark.parametrize(
    ("plural", "query", "words"),
    [("wishes", "", "no list of wishes"), ("assets", "evil=1", "A view has no evil")],
)
def test_a_view_of_what_there_is_not_is_refused(
    marit: SealPacket, plural: str, query: str, words: str
) -> None:
    with pytest.raises(Refused, match=words):
        marit.keep_view(plural, "x", query)


def code_of(text: str, path: Path) -> Path:
    picture = zxingcpp.write_barcode_to_image(
        zxingcpp.create_barcode(text, zxingcpp.BarcodeFormat.QRCode), scale=6
    )
    Image.fromarray(picture).save(path)
    return path


def test_a_photo_of_a_label_finds_its_thing_or_says_what_one_would_add(
    teo: SealPacket, tmp_path: Path
) -> None:
    [exact] = teo.read_label(code_of(f"sn: {ARRAY.lower()}", tmp_path / "a.png")).items
    assert ([asset.serial for asset in exact.assets], exact.likely, exact.proposed) == (
        [ARRAY],
        False,
        None,
    )
    [near] = teo.read_label(code_of("TN9-44120-8", tmp_path / "b.png")).items
    assert ARRAY in [asset.serial for asset in near.assets] and near.likely
    [new] = teo.read_label(code_of("LK40-7731-0999", tmp_path / "c.png")).items
    assert new.proposed is not None
    assert (new.proposed.serial, new.proposed.product, new.proposed.vendor) == (
        "LK40-7731-0999",
        "LK-40",
        "lumenlathe",
    )
    (tmp_path / "d.png").write_bytes(b"none")
    with pytest.raises(Refused, match="not a readable picture"):
        teo.read_label(tmp_path / "d.png")


def test_printed_labels_read_back_to_their_things(
    marit: SealPacket, pauli: SealPacket, tmp_path: Path
) -> None:
    sheet = marit.print_labels([ARRAY, "OBF2-118804"], tmp_path / "labels.pdf")
    target = io.BytesIO()
    pypdfium2.PdfDocument(sheet)[0].render(scale=2).to_pil().save(target, "PNG")
    (tmp_path / "sheet.png").write_bytes(target.getvalue())
    read = marit.read_label(tmp_path / "sheet.png").items
    assert {asset.serial for code in read for asset in code.assets} == {ARRAY, "OBF2-118804"}
    with pytest.raises(Refused, match="no asset NO-SUCH"):
        marit.print_labels(["NO-SUCH"], tmp_path / "x.pdf")
    with pytest.raises(Refused, match="needs the role"):
        pauli.print_labels([ARRAY], tmp_path / "x.pdf")


@pytest.mark.parametrize("sort", ["notice_on", "-notice_on", "cost_minor", "-cost_minor"])
def test_lists_sorted_by_what_may_be_empty_are_whole_page_by_page(
    marit: SealPacket, sort: str
) -> None:
    name = sort.removeprefix("-")
    whole = [getattr(row, name) for row in marit.contracts.list(sort=sort)]
    filled = [value for value in whole if value is not None]
    assert filled == sorted(filled, reverse=sort.startswith("-"))
    assert whole == filled + [None] * (len(whole) - len(filled)), (
        "what is empty comes last either way"
    )
    cursor, seen = "", []
    while True:
        page = marit._wire.send(
            "GET", "/contracts", params={"sort": sort, "limit": 3, "cursor": cursor}
        ).json()
        seen += [row["id"] for row in page["items"]]
        cursor = page["next"]
        if not cursor:
            break
    assert sorted(seen) == sorted(row.id for row in marit.contracts.list(sort=sort))
    assert len(seen) == len(set(seen))


def test_people_sites_and_products_merge_with_all_that_names_them(marit: SealPacket) -> None:
    mark = uuid4().hex[:6]
    people = [
        marit.people.add(
            key=f"p{n}-{mark}",
            name=f"Person {n} {mark}",
            mail=f"p{n}@quillmere.example",
            phone=None if n else "+441632960150",
        )
        for n in (0, 1)
    ]
    sites = [
        marit.sites.add(
            key=f"s{n}-{mark}",
            name=f"Site {n} {mark}",
            country="GB",
            time_zone="Europe/London",
            contact=people[1].key,
            postcode="" if n else "QM1 1AA",
        )
        for n in (0, 1)
    ]
    products = [
        marit.products.add(vendor="saddlewick", part_number=f"PR{n}-{mark}", name="UPS")
        for n in (0, 1)
    ]
    asset = marit.assets.add(
        vendor="saddlewick", product=products[1].part_number, serial=f"ME-{mark}", site=sites[1].key
    )
    marit.products.merge(products[0].id, products[0].version, other=products[1].part_number)
    marit.sites.merge(sites[0].id, sites[0].version, other=sites[1].key)
    kept = marit.people.merge(people[0].id, people[0].version, other=people[1].key)
    assert kept.phone == "+441632960150"
    asset = marit.assets.get(asset.id)
    assert (asset.product, asset.site) == (products[0].part_number, sites[0].key)
    site = marit.sites.get(sites[1].key)
    assert (site.key, site.contact, site.postcode) == (sites[0].key, people[0].key, "QM1 1AA")
    assert marit.products.get(products[1].part_number).id == products[0].id


def test_vendors_and_logins_are_not_merged(marit: SealPacket) -> None:
    vendor = marit.vendors.get("tarnfell")
    with pytest.raises(Refused):
        marit.vendors.merge(vendor.id, vendor.version, other="ovenbird")
    assert marit.vendors.get("ovenbird").key == "ovenbird"


def test_a_part_cannot_be_merged_with_what_it_sits_in(marit: SealPacket) -> None:
    mark = uuid4().hex[:6]
    outer = marit.assets.add(vendor="tarnfell", product="TN9", serial=f"OUT-{mark}")
    inner = marit.assets.add(
        vendor="tarnfell", product="TN4", serial=f"IN-{mark}", carrier=outer.serial
    )
    with pytest.raises(Refused, match="would sit in itself"):
        marit.assets.merge(outer.id, outer.version, other=inner.serial)
    assert marit.assets.get(inner.serial).carrier == outer.serial
