"""The register over the real service: every kind of record, its rules, and two people at once."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any
from uuid import uuid4

import httpx
import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import authorization
from tests.some import today


def fresh(prefix: str) -> str:
    """A name that nothing has yet."""
    return f"{prefix}-{uuid4().hex[:8]}"


def refusal(call: Callable[[], Any]) -> Refused:
    """The problem of a call that has to fail."""
    with pytest.raises(Refused) as caught:
        call()
    assert caught.value.remedy
    return caught.value


@pytest.fixture
def vendor(marit: SealPacket) -> str:
    """A vendor of this test's own, with one product."""
    key = fresh("v")
    marit.vendors.add(key=key, name=f"Vendor {key}")
    marit.products.add(vendor=key, part_number="PN-1", name="Thing One")
    return key


def test_the_demo_world_is_there(marit: SealPacket) -> None:
    assert {v.key for v in marit.vendors.list()} >= {
        "tarnfell",
        "ovenbird",
        "lumenlathe",
        "pellwick",
        "saddlewick",
    }
    assert len(list(marit.sites.list())) >= 15
    kiosks = {f"LK40-7731-{number:04d}" for number in range(926, 943)}
    assert {asset.serial for asset in marit.assets.list(vendor="lumenlathe")} >= {
        "BS8-2204-01",
        "LK40-5502-0117",
    } | kiosks


def test_every_kind_of_record_can_be_added_read_listed_and_changed(
    marit: SealPacket, vendor: str
) -> None:
    person, site = fresh("p"), fresh("s")
    records: list[tuple[Any, dict[str, Any], dict[str, Any]]] = [
        (marit.people, {"key": person, "name": "Una Person", "mail": "una@quillmere.example", "phone": "+44 1632 960120"},
         {"hours": "Mo–Fr"}),
        (marit.sites, {"key": site, "name": "Site", "country": "gb", "time_zone": "Europe/London", "contact": person},
         {"address": "1 Lane"}),
        (marit.products, {"vendor": vendor, "part_number": "PN-2", "name": "Two", "warranty_months": 24,
                          "warranty_needs": ["fault"]}, {"name": "Two B"}),
        (marit.assets, {"vendor": vendor, "product": "PN-2", "serial": fresh("SN"), "site": site,
                        "host_names": ["H-1.quillmere.example"], "addresses": ["10.40.1.2", "fd40:0::1"]},
         {"status": "spare"}),
        (marit.assets, {"vendor": vendor, "product": "PN-2", "serial": "SN-L"}, {"name": "Licensed"}),
        (marit.contracts, {"vendor": vendor, "number": "C-1", "starts_on": "2026-01-01", "ends_on": "2026-12-31",
                           "cost_minor": 100, "currency": "GBP"}, {"title": "Named"}),
        (marit.entitlements, {"vendor": vendor, "contract": "C-1", "reference": "E-1", "level": "L", "needs": ["fault"],
                              "starts_on": "2026-01-01", "ends_on": "2026-12-31", "products": ["PN-2"], "sites": [site]},
         {"level": "M"}),
        (marit.logins, {"vendor": vendor, "name": "una@quillmere.example", "person": person, "contracts": ["C-1"]},
         {"mailbox_read": False}),
        (marit.limits, {"vendor": vendor, "region": "east-1", "resource": "cores", "granted": 192, "used": 180,
                        "as_of_on": "2026-11-02"}, {"granted": 256}),
        (marit.levels, {"vendor": vendor, "contract": "C-1", "name": "M", "needs": ["fault"], "hours": "24x7",
                        "answer_minutes": 30, "cost_minor": 9000, "currency": "GBP"}, {"repair_minutes": 240}),
        (marit.lots, {"vendor": vendor, "contract": "C-1", "reference": "LOT-1", "units": 40, "bought_on": "2026-01-01",
                      "lapses_on": "2046-12-31"}, {"units": 60}),
        (marit.prices, {"vendor": vendor, "item": "VISIT", "name": "Engineer on site", "units": 4, "countries": ["gb"],
                        "during": "in_hours", "hours": "Mo–Fr 08:00–18:00", "notice_days": 5}, {"most": 3}),
        (marit.licences, {"vendor": vendor, "asset": "SN-L", "name": "replication", "activation_code": "AC-11",
                          "key": "XK-2210-778", "ends_on": "2027-01-01"}, {"sort": "feature_key"}),
        (marit.releases, {"vendor": vendor, "product": "PN-2", "number": "7.2.4", "status": "current",
                          "mends": ["mirror-link"], "sha256": "A" * 64}, {"status": "previous"}),
        (marit.vendors, {"key": fresh("w"), "name": "W"}, {"notes": "Calls back."}),
    ]  # fmt: skip
    for kind, fields, change in records:
        made = kind.add(**fields)
        assert kind.get(made.id) == made
        changed = kind.change(made.id, made.version, **change)
        assert changed.version == made.version + 1
        for name, value in change.items():
            assert getattr(changed, name) == value
        assert changed.id in {row.id for row in kind.list()}


def test_values_are_brought_into_their_standard_form(marit: SealPacket, vendor: str) -> None:
    person = marit.people.add(
        key=fresh("p"), name="Una", mail="una@quillmere.example", phone="+44 (1632) 960-121"
    )
    assert person.phone == "+441632960121"
    asset = marit.assets.add(vendor=vendor, product="PN-1", serial=f"  {fresh('S')} ", host_names=["UPPER.Example"],
                             addresses=["FD40:0:0::1"])  # fmt: skip
    assert asset.host_names == ["upper.example"]
    assert asset.addresses == ["fd40::1"]
    assert asset.serial == asset.serial.strip()


@pytest.mark.parametrize(
    ("kind", "fields", "field"),
    [
        ("people", {"key": "x", "name": "X", "mail": "no mail"}, "mail"),
        ("people", {"key": "x", "name": "X", "mail": "a@b.example", "phone": "01632 960112"}, "phone"),
        ("people", {"key": "x", "name": "X", "mail": "a@b.example", "language": "English please"}, "language"),
        ("people", {"key": "X Y", "name": "X", "mail": "a@b.example"}, "key"),
        ("sites", {"key": "x", "name": "X", "country": "XX", "time_zone": "Europe/London"}, "country"),
        ("sites", {"key": "x", "name": "X", "country": "GB", "time_zone": "Moon/Base"}, "time_zone"),
        ("sites", {"key": "x", "name": "X", "country": "GB"}, "time_zone"),
        ("vendors", {"key": "x", "name": "X", "colour": "red"}, "colour"),
        ("vendors", {"key": "x", "name": ["X"]}, "name"),
        ("vendors", {"key": "x", "name": "y" * 201}, "name"),
        ("contracts", {"vendor": "tarnfell", "number": "x", "starts_on": "soon", "ends_on": "2026-01-01"}, "starts_on"),
        ("contracts", {"vendor": "tarnfell", "number": "x", "starts_on": "2026-01-01", "ends_on": "2026-01-02",
                       "grace_days": 999}, "grace_days"),
        ("contracts", {"vendor": "nobody", "number": "x", "starts_on": "2026-01-01", "ends_on": "2026-01-02"}, "vendor"),
        ("assets", {"vendor": "tarnfell", "product": "TN9", "serial": ""}, "serial"),
        ("assets", {"vendor": "tarnfell", "product": "TN77", "serial": "x"}, "product"),
        ("assets", {"vendor": "tarnfell", "product": "TN9", "serial": "x", "addresses": ["10.40.1.300"]}, "addresses.0"),
        ("assets", {"vendor": "tarnfell", "product": "TN9", "serial": "x", "host_names": ["no host!"]}, "host_names.0"),
        ("assets", {"vendor": "tarnfell", "product": "TN9", "serial": "x", "site": "nowhere"}, "site"),
        ("entitlements", {"vendor": "tarnfell", "contract": "T-2210", "reference": "x", "level": "L", "needs": [],
                          "starts_on": "2026-01-01", "ends_on": "2026-01-02"}, "needs"),
        ("logins", {"vendor": "tarnfell", "name": "x", "contracts": ["4388"]}, "contracts"),
        ("limits", {"vendor": "tarnfell", "region": "x", "resource": "x", "granted": -1}, "granted"),
        ("levels", {"vendor": "tarnfell", "contract": "4388", "name": "x", "needs": ["fault"]}, "contract"),
        ("lots", {"vendor": "tarnfell", "contract": "T-2210", "reference": "x", "units": 0, "bought_on": "2026-01-01",
                  "lapses_on": "2026-01-02"}, "units"),
        ("prices", {"vendor": "tarnfell", "item": "x", "name": "x", "units": 1, "countries": ["XX"]}, "countries.0"),
        ("licences", {"vendor": "tarnfell", "asset": "nothing", "name": "x"}, "asset"),
        ("releases", {"vendor": "tarnfell", "product": "TN9", "number": "x", "sha256": "abc"}, "sha256"),
    ],
)  # fmt: skip
def test_wrong_values_are_refused_with_their_field(
    marit: SealPacket, kind: str, fields: dict[str, Any], field: str
) -> None:
    problem = refusal(lambda: getattr(marit, kind).add(**fields))
    assert problem.status == 422
    assert problem.facts["field"] == field


@pytest.mark.parametrize(
    ("kind", "fields", "rule"),
    [
        ("contracts", {"number": "x", "starts_on": "2026-02-01", "ends_on": "2026-01-01"}, "ck_contract_dates_in_order"),
        ("contracts", {"number": "x", "starts_on": "2026-01-01", "ends_on": "2026-02-01", "notice_on": "2026-03-01"},
         "ck_contract_notice_in_order"),
        ("contracts", {"number": "x", "starts_on": "2026-01-01", "ends_on": "2026-02-01", "cost_minor": 5},
         "ck_contract_cost_with_currency"),
        ("assets", {"product": "PN-1", "serial": "x", "shipped_on": "2026-02-01", "installed_on": "2026-01-01"},
         "ck_asset_dates_in_order"),
    ],
)  # fmt: skip
def test_the_database_itself_keeps_the_rules(
    marit: SealPacket, vendor: str, kind: str, fields: dict[str, Any], rule: str
) -> None:
    problem = refusal(lambda: getattr(marit, kind).add(vendor=vendor, **fields))
    assert (problem.status, problem.facts["rule"]) == (422, rule)


def test_a_serial_is_unique_within_its_vendor_only(marit: SealPacket, vendor: str) -> None:
    serial, other = fresh("SN"), fresh("v")
    marit.assets.add(vendor=vendor, product="PN-1", serial=serial)
    problem = refusal(lambda: marit.assets.add(vendor=vendor, product="PN-1", serial=serial))
    assert (problem.status, problem.code) == (409, "already-there")
    marit.vendors.add(key=other, name="Other")
    marit.products.add(vendor=other, part_number="PN-1", name="Same number")
    marit.assets.add(vendor=other, product="PN-1", serial=serial)
    assert refusal(lambda: marit.assets.get(serial)).code == "ambiguous"


def test_a_tie_never_crosses_vendors(house: RunningHouse) -> None:
    import psycopg

    address = house.cluster.owner_url.replace("+psycopg", "")
    with psycopg.connect(address) as connection, pytest.raises(psycopg.errors.ForeignKeyViolation):
        connection.execute(
            "INSERT INTO login_tie (vendor_id, login_id, contract_id) SELECT l.vendor_id, l.id, c.id "
            "FROM vendor_login l, contract c WHERE l.vendor_id <> c.vendor_id LIMIT 1"
        )


def test_two_people_changing_one_record(marit: SealPacket, vendor: str) -> None:
    first = marit.vendors.get(vendor)
    marit.vendors.change(vendor, first.version, notes="mine")
    problem = refusal(lambda: marit.vendors.change(vendor, first.version, notes="theirs"))
    assert (problem.status, problem.code) == (412, "stale")
    assert marit.vendors.get(vendor).notes == "mine"


def test_a_change_says_which_version_it_changes(
    house: RunningHouse, marit: SealPacket, vendor: str
) -> None:
    token = authorization(marit)["Authorization"]
    address = f"{house.address}/api/v1/vendors/{vendor}"

    def patch(**headers: str) -> httpx.Response:
        return plain_http.patch(
            address,
            json={"notes": "x"},
            headers={"Authorization": token, **headers},
        )

    assert patch().status_code == 428
    assert patch(**{"If-Match": "nonsense"}).json()["code"] == "bad-etag"
    etag = plain_http.get(address, headers={"Authorization": token}).headers["ETag"]
    assert patch(**{"If-Match": etag}).status_code == 200
    assert patch(**{"If-Match": etag}).status_code == 412


def test_a_change_is_checked_like_a_new_record(marit: SealPacket, vendor: str) -> None:
    asset = marit.assets.add(vendor=vendor, product="PN-1", serial=fresh("SN"))
    assert (
        refusal(lambda: marit.assets.change(asset.id, asset.version, serial="")).facts["field"]
        == "serial"
    )
    assert (
        refusal(lambda: marit.assets.change(asset.id, asset.version, colour="red")).code
        == "unknown-field"
    )
    assert (
        refusal(lambda: marit.assets.change(asset.id, asset.version, status="lost")).status == 422
    )
    cleared = marit.assets.change(asset.id, asset.version, installed_on="2026-01-01")
    assert marit.assets.change(asset.id, cleared.version, installed_on=None).installed_on is None


def test_secrets_go_in_and_never_come_out(
    house: RunningHouse, marit: SealPacket, vendor: str
) -> None:
    contract = marit.contracts.add(vendor=vendor, number="C-9", starts_on="2026-01-01", ends_on="2026-02-01",
                                   passcode="larch-in-the-fog")  # fmt: skip
    login = marit.logins.add(vendor=vendor, name="x@quillmere.example", secret="token-in-the-fog")
    assert contract.has_passcode
    assert login.has_secret
    assert "in-the-fog" not in contract.model_dump_json() + login.model_dump_json()
    changed = marit.logins.change(login.id, login.version, mailbox_read=False)
    assert changed.has_secret, "a change of something else must not lose the secret"
    import psycopg

    with psycopg.connect(house.cluster.owner_url.replace("+psycopg", "")) as connection:
        stored = connection.execute(
            "SELECT secret_sealed FROM vendor_login WHERE id = %s", (login.id,)
        ).fetchone()
    assert stored
    assert b"in-the-fog" not in bytes(stored[0])
    logs = "".join(path.read_text() for path in (house.folder / "log").glob("*.log"))
    assert "in-the-fog" not in logs


def test_a_record_can_be_named_as_people_call_it(marit: SealPacket) -> None:
    assert marit.contracts.get("T-2210").vendor == "tarnfell"
    assert marit.assets.get("TN9-44120-A").name == "Array A"
    assert marit.people.get("ines").on_call
    assert refusal(lambda: marit.assets.get("TN9-00000-Z")).status == 404


@pytest.mark.parametrize(
    "query",
    ["TN9-44120-A", "tn9-44120", "bs-array-a-c1", "10.40.20.11", "book store array a", "tarnfell 9", "digitised papers",
     "TN9-44l20-A", "array a book-store"],
)  # fmt: skip
def test_the_array_is_found_by_whatever_is_known_of_it(marit: SealPacket, query: str) -> None:
    assert "TN9-44120-A" in [one.name for group in marit.find(query).groups for one in group.items]


@pytest.mark.parametrize("query", ["%", "_", "\\", "'; DROP TABLE asset; --", "zzzzqqqq"])
def test_a_search_reads_its_words_as_words(marit: SealPacket, query: str) -> None:
    assert list(marit.assets.list(query)) == []


def test_a_renamed_site_is_found_under_its_new_name(marit: SealPacket, vendor: str) -> None:
    site = marit.sites.add(key=fresh("s"), name="Grimsel", country="GB", time_zone="Europe/London")
    asset = marit.assets.add(vendor=vendor, product="PN-1", serial=fresh("SN"), site=site.key)
    marit.sites.change(site.id, site.version, name="Zephyrton")
    assert [found.id for found in marit.assets.list("zephyrton")] == [asset.id]
    assert asset.id not in {found.id for found in marit.assets.list("grimsel")}


def test_pages_follow_one_another_without_gap_or_repetition(
    house: RunningHouse, marit: SealPacket, vendor: str
) -> None:
    serials = [f"PAGE-{number:03d}-{vendor}" for number in range(25)]
    for serial in serials:
        marit.assets.add(vendor=vendor, product="PN-1", serial=serial)
    seen, cursor, pages = [], "", 0
    while True:
        page = marit._wire.send(
            "GET", "/assets", params={"vendor": vendor, "limit": 10, "cursor": cursor}
        ).json()
        seen += [item["serial"] for item in page["items"]]
        pages += 1
        cursor = page["next"]
        if not cursor:
            break
    assert (seen, pages) == (serials, 3)
    assert len(list(marit.assets.list(vendor=vendor, most=12))) == 12


@pytest.mark.parametrize("cursor", ["nonsense", "WyJhIl0", "eyJhIjoxfQ", "WzEsIDJd"])
def test_a_made_up_cursor_is_refused(marit: SealPacket, cursor: str) -> None:
    problem = refusal(lambda: marit._wire.send("GET", "/assets", params={"cursor": cursor}))
    assert problem.code == "bad-cursor"


def test_a_repeated_request_adds_nothing_twice(marit: SealPacket) -> None:
    key, name = fresh("v"), fresh("key")
    first = marit.vendors.add(key_once=name, key=key, name="Once")
    again = marit.vendors.add(key_once=name, key=key, name="Once")
    assert first == again
    assert (
        refusal(lambda: marit.vendors.add(key_once=name, key=fresh("v"), name="Other")).code
        == "key-used"
    )


def test_cover_is_ruled_on_over_the_api(marit: SealPacket) -> None:
    ruling = marit.coverage("TN9-44120-A")
    assert (ruling.route, ruling.contract, ruling.holds) == ("support", "T-2210", True)
    assert {item.code for item in ruling.passed_over} == {"ended", "need_excluded"}
    before = marit.coverage("TN9-44120-A", day=today() - timedelta(days=400))
    assert before.contract == "T-1987"
    lapsed = marit.coverage("LK40-7731-0927")
    assert (lapsed.route, lapsed.cures[0].act) == ("none", "renew")
    ended = marit.contracts.get(str(lapsed.cures[0].target)).ends_on
    assert f"{(today() - ended).days} days ago" in lapsed.cures[0].sentence
    untied = marit.coverage("TN9-44120-A", login="teo.valcourt@quillmere.example")
    assert not untied.holds
    assert [(cure.act, cure.target) for cure in untied.cures][0] == (
        "use_login",
        "marit.oswin@quillmere.example",
    )
    assert refusal(lambda: marit.coverage("TN9-44120-A", login="nobody")).facts["field"] == "login"
    assert marit.coverage("SW3K-70455").route == "warranty"
    assert marit.coverage("OBS4-551200", "help").route == "none"


def test_lists_are_sorted_and_narrowed_page_by_page(marit: SealPacket, vendor: str) -> None:
    for number in range(7):
        marit.assets.add(vendor=vendor, product="PN-1", serial=f"S-{number}", name=f"N-{9 - number}",
                         site="book-store" if number % 2 else "quay-street", status="spare" if number < 4 else "in_use")  # fmt: skip

    def serials(**narrow: str) -> list[str]:
        return [asset.serial for asset in marit.assets.list(vendor=vendor, **narrow)]  # type: ignore[arg-type]

    assert serials(sort="-serial") == [f"S-{n}" for n in range(6, -1, -1)]
    assert serials(sort="name") == serials(sort="-serial")
    assert serials(site="book-store") == ["S-1", "S-3", "S-5"]
    assert serials(site="book-store", status="spare") == ["S-1", "S-3"]
    seen: list[str] = []
    cursor = ""
    while True:
        query = {"vendor": vendor, "sort": "-name", "limit": 3, "cursor": cursor}
        page = marit._wire.send("GET", "/assets", params=query).json()
        seen += [item["serial"] for item in page["items"]]
        cursor = page["next"]
        if not cursor:
            break
    assert seen == [f"S-{n}" for n in range(7)]
    assert refusal(lambda: serials(sort="notes")).facts["field"] == "sort"
    assert refusal(lambda: list(marit.sites.list(status="spare"))).facts["field"] == "status"


def test_a_contract_is_shown_with_all_that_belongs_to_it(marit: SealPacket) -> None:
    found = marit.contracts.whole("T-2210")
    assert found.vendor_name == "Tarnfell Storage"
    assert {item.reference for item in found.entitlements} == {"TSE-301877", "TSE-301878"}
    assert {asset.serial for asset in found.assets} >= {"TN9-44120-A", "TN9-44121-B"}
    assert [login.name for login in found.logins] == ["marit.oswin@quillmere.example"]
    assert found.asset_count == len(found.assets)
