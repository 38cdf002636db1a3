"""Order documents in the house: read, looked at, entered by a person's word, and never their passcodes shown unasked."""

from __future__ import annotations

from datetime import timedelta
from email.message import EmailMessage
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import OrderDocumentShown
from sealpacket.client.order_documents import proposed_entry
from sealpacket.demo.order_documents import kiosk_renewal
from tests.conftest import until
from tests.some import today


@pytest.fixture
def fresh(tmp_path: Path, marit: SealPacket) -> Any:
    """Sends a mail with these lines, and waits until it is read."""

    def send(*lines: str) -> OrderDocumentShown:
        message = EmailMessage()
        message["From"], message["Subject"] = "contracts@ovenbird.example", f"Order {uuid4()}"
        message.set_content("\n".join(lines))
        path = tmp_path / f"{uuid4()}.eml"
        path.write_bytes(message.as_bytes())
        return marit.order_documents.wait(marit.order_documents.send(path).id)

    return send


def order(
    number: str, *more: str, starts: str = "1 January 2031", ends: str = "31 December 2031"
) -> tuple[str, ...]:
    return (
        "Ovenbird Networks",
        f"Contract number: {number}",
        f"Entitlement: {number}-1",
        f"Access code: code-{number}",
        "Level of service: Care",
        f"{starts} to {ends}",
        "Total price: GBP 100.00",
        *more,
    )


def entries(marit: SealPacket, subject: str) -> list[str]:
    return [entry.action for entry in marit.custody(subject=subject)]


def test_the_demos_order_documents_are_read_and_wait_for_a_persons_word(marit: SealPacket) -> None:
    found = until(
        lambda: {
            document.name: document
            for document in marit.order_documents.list(limit=200).items
            if document.state != "reading"
        }
    )
    document = found["lumenlathe-88-3316.pdf"]
    assert (document.state, document.vendor, document.contract, document.items) == (
        "read",
        "lumenlathe",
        "88-3316",
        3,
    )
    effects = marit.order_documents.preview(
        document.id, **proposed_entry(marit.order_documents.get(document.id))
    ).items
    assert [(item.kind, item.called, item.outcome) for item in effects] == [
        ("asset", "LK40-7731-0927", "unchanged"), ("asset", "LK40-7731-0931", "unchanged"),
        ("asset", "LK40-7731-0943", "new"), ("contract", "88-3316", "renewed"), ("entitlement", "FC-3316", "changed"),
    ]  # fmt: skip
    assert marit.contracts.get("88-3316").ends_on < today(), "a preview enters nothing"
    with pytest.raises(Refused, match="no asset"):
        marit.assets.get("LK40-7731-0943")


def test_entering_makes_contract_entitlement_product_and_assets_at_once(
    marit: SealPacket, fresh: Any
) -> None:
    document = fresh(*order("4600", "", "Part no    What                 Serial", "OB-S24     S24 switch           OBS2-000001",
                         "OB-S24     S24 switch           OBS2-000002"))  # fmt: skip
    entry = proposed_entry(document)
    previewed = marit.order_documents.preview(document.id, **entry).items
    done = marit.order_documents.enter(document.id, **entry)
    assert [(item.kind, item.called, item.outcome) for item in done.entered] == [
        (item.kind, item.called, item.outcome) for item in previewed
    ]
    assert (done.state, done.entered_by) == ("entered", "marit")
    contract = marit.contracts.get("4600")
    assert (contract.cost_minor, contract.currency, contract.has_passcode) == (10000, "GBP", True)
    assert marit.contracts.passcode("4600") == "code-4600"
    assert marit.products.get("OB-S24").name == "S24 switch"
    entitlement = marit.entitlements.get("4600-1")
    assert (entitlement.level, entitlement.serials) == ("Care", ["OBS2-000001", "OBS2-000002"])
    assert [one.name for one in marit.contracts.whole("4600").order_documents] == [document.name]
    assert marit.contracts.history("4600").items[0].act == "added from an order document"
    with pytest.raises(Refused, match="The order document is entered"):
        marit.order_documents.enter(document.id, **entry)


def test_an_order_document_for_the_next_term_renews_and_the_old_term_stays(
    marit: SealPacket, fresh: Any
) -> None:
    first = fresh(*order("4601", "Serial: OBT4-300118"))
    marit.order_documents.enter(first.id, **proposed_entry(first))
    second = fresh(
        *order(
            "4601",
            "Serials: OBT4-300118, OBF2-118804",
            starts="1 January 2032",
            ends="31 December 2032",
        )
    )
    done = marit.order_documents.enter(second.id, **proposed_entry(second))
    assert {item.kind: item.outcome for item in done.entered if item.kind != "asset"} == {
        "contract": "renewed", "entitlement": "changed",
    }  # fmt: skip
    contract = marit.contracts.get("4601")
    assert [str(term.ends_on) for term in contract.former_terms] == ["2031-12-31"]
    versions = list(marit.entitlements.list("4601-1"))
    assert {str(row.starts_on): row.serials for row in versions} == {
        "2031-01-01": ["OBT4-300118"], "2032-01-01": ["OBF2-118804", "OBT4-300118"],
    }  # fmt: skip
    assert len(marit.contracts.whole("4601").order_documents) == 2


def test_an_order_document_within_a_term_adds_to_what_is_covered_from_its_first_day(
    marit: SealPacket, fresh: Any
) -> None:
    first = fresh(*order("4602", "Serial: OBT4-300118"))
    marit.order_documents.enter(first.id, **proposed_entry(first))
    later = fresh(*order("4602", "Serial: OBF2-118804", starts="1 June 2031"))
    entry = {**proposed_entry(later), "starts_on": "2031-06-01"}
    changes = {item.kind: item for item in marit.order_documents.preview(later.id, **entry).items}
    assert changes["entitlement"].outcome == "amended"
    marit.order_documents.enter(later.id, **entry)
    versions = {str(row.starts_on): row.serials for row in marit.entitlements.list("4602-1")}
    assert versions["2031-01-01"] == ["OBT4-300118"]
    assert versions["2031-06-01"] == ["OBF2-118804", "OBT4-300118"]


@pytest.mark.parametrize(
    ("more", "changes", "words"),
    [
        (("Serial: QQ-11111",), {}, "part number is not given"),
        (("Serial: OBT4-300118",), {"level": None}, "level of service"),
        ((), {}, "Nothing says what this contract covers"),
        (("Serial: OBT4-300118",), {"vendor": "nobody"}, "no vendor nobody"),
        (("Serial: OBT4-300118",), {"ends_on": "2030-01-01"}, "end before it starts"),
        (
            ("Serial: OBT4-300118",),
            {"items": [{"serial": "NN-1", "product": "N", "site": "nowhere"}]},
            "no site nowhere",
        ),
    ],
)
def test_what_is_missing_is_told_and_nothing_is_entered(
    marit: SealPacket, fresh: Any, more: tuple[str, ...], changes: dict[str, Any], words: str
) -> None:
    number = f"46{uuid4().hex[:6]}"
    document = fresh(*order(number, *more))
    with pytest.raises(Refused, match=words):
        marit.order_documents.enter(document.id, **{**proposed_entry(document), **changes})
    assert marit.order_documents.get(document.id).state == "read"
    with pytest.raises(Refused, match="no contract"):
        marit.contracts.get(number)


def test_passcodes_are_nowhere_but_behind_an_act_that_the_custody_log_keeps(
    marit: SealPacket, fresh: Any
) -> None:
    document = fresh(*order("4603", "Again: code-4603", "Serial: OBT4-300118"))
    assert "code-4603" not in document.model_dump_json()
    assert "•••••••••" in "\n".join(document.pages[0].lines)
    assert "order document's passcode shown" not in entries(marit, f"order document {document.id}")
    assert marit.order_documents.passcodes(document.id) == ("code-4603",)
    assert entries(marit, f"order document {document.id}")[0] == "order document's passcode shown"
    marit.order_documents.enter(document.id, **proposed_entry(document))
    contract = marit.contracts.get("4603")
    assert "code-4603" not in marit.contracts.history("4603").model_dump_json()
    marit.contracts.passcode("4603")
    assert entries(marit, f"contract {contract.id}")[0] == "contract's passcode shown"
    with pytest.raises(Refused, match="has no passcode"):
        marit.contracts.passcode("T-2304")


def test_who_may_not_keep_the_register_sees_no_order_documents_and_readers_no_passcodes(
    teo: SealPacket, pauli: SealPacket
) -> None:
    for act in (
        teo.order_documents.list,
        pauli.order_documents.list,
        lambda: pauli.contracts.passcode("T-2210"),
    ):
        with pytest.raises(Refused, match="needs the role"):
            act()
    assert teo.contracts.passcode("T-2210") == "larch-4471"


def test_the_order_document_comes_back_as_it_was_and_its_pages_with_the_passcode_covered(
    marit: SealPacket, tmp_path: Path
) -> None:
    content = kiosk_renewal(today() + timedelta(days=40))
    (tmp_path / "order-document.pdf").write_bytes(content)
    document = marit.order_documents.wait(
        marit.order_documents.send(tmp_path / "order-document.pdf").id
    )
    assert marit.order_documents.save(document.id, tmp_path / "back.pdf").read_bytes() == content
    assert entries(marit, f"order document {document.id}")[0] == "order document opened whole"
    assert (
        marit.order_documents.save_page(document.id, 0, tmp_path / "page.png")
        .read_bytes()
        .startswith(b"\x89PNG")
    )
    with pytest.raises(Refused, match="no such picture"):
        marit.order_documents.save_page(document.id, 7, tmp_path / "none.png")


def test_the_same_order_document_twice_is_told_and_one_that_cannot_be_read_is_kept(
    marit: SealPacket, tmp_path: Path
) -> None:
    (tmp_path / "odd.pdf").write_bytes(b"%PDF-1.7 " + uuid4().bytes)
    document = marit.order_documents.wait(marit.order_documents.send(tmp_path / "odd.pdf").id)
    assert (document.state, document.status_text) == (
        "failed",
        "The PDF is damaged. Fetch it again.",
    )
    with pytest.raises(Refused, match=r"sent before, as odd\.pdf"):
        marit.order_documents.send(tmp_path / "odd.pdf")
    assert marit.order_documents.set_aside(document.id).state == "aside"
    (tmp_path / "empty.pdf").write_bytes(b"")
    with pytest.raises(Refused, match="empty"):
        marit.order_documents.send(tmp_path / "empty.pdf")


def test_a_mail_with_a_pdf_is_entered_from_the_pdf_and_its_page_drawn(
    marit: SealPacket, tmp_path: Path
) -> None:
    message = EmailMessage()
    message["From"], message["Subject"] = "contracts@lumenlathe.example", f"Order {uuid4()}"
    message.set_content("Please find your confirmation attached.")
    message.add_attachment(
        kiosk_renewal(today()), maintype="application", subtype="pdf", filename="order.pdf"
    )
    (tmp_path / "mail.eml").write_bytes(message.as_bytes())
    document = marit.order_documents.wait(marit.order_documents.send(tmp_path / "mail.eml").id)
    assert [(page.kind, page.source) for page in document.pages] == [
        ("text", ""),
        ("picture", "order.pdf"),
    ]
    assert proposed_entry(document)["contract"] == "88-3316"
    assert (
        marit.order_documents.save_page(document.id, 1, tmp_path / "page.png").stat().st_size
        > 10_000
    )
    with pytest.raises(Refused, match="no such picture"):
        marit.order_documents.save_page(document.id, 0, tmp_path / "text.png")


def test_an_asset_that_stands_nowhere_gets_the_order_documents_site_and_one_that_stands_somewhere_keeps_its_own(
    marit: SealPacket, fresh: Any
) -> None:
    serials = [f"SI-{uuid4().int % 10**8:08d}" for _ in range(2)]
    marit.assets.add(vendor="ovenbird", product="OB-S48", serial=serials[0])
    marit.assets.add(vendor="ovenbird", product="OB-S48", serial=serials[1], site="book-store")
    number = f"47{uuid4().hex[:6]}"
    document = fresh(
        *order(
            number,
            "",
            "Part no    Serial             Site",
            *(f"OB-S48     {one}        Bellfield" for one in serials),
        )
    )
    assert [item["site"] for item in proposed_entry(document)["items"]] == [
        "bellfield",
        "bellfield",
    ]
    marit.order_documents.enter(document.id, **proposed_entry(document))
    assert [marit.assets.get(one).site for one in serials] == ["bellfield", "book-store"]


def test_a_site_that_is_not_ours_is_proposed_as_none(fresh: Any) -> None:
    document = fresh(
        *order(
            "4610", "", "Part no    Serial        Site", "OB-S48     OBX-12345     Somewhere else"
        )
    )
    [item] = document.bought
    assert item.site is not None
    assert (item.site.read, item.site.value) == ("Somewhere else", "")
    assert "site" not in proposed_entry(document)["items"][0]


@pytest.mark.parametrize(
    ("covers", "everything", "products"),
    [({"products": ["OB-S48"]}, False, ["OB-S48"]), ({"everything": True}, True, [])],
)
def test_a_contract_may_cover_models_or_all_of_a_vendors(
    marit: SealPacket, fresh: Any, covers: dict[str, Any], everything: bool, products: list[str]
) -> None:
    number = f"48{uuid4().hex[:6]}"
    document = fresh(*order(number, starts="1 January 2041", ends="31 December 2041"))
    marit.order_documents.enter(document.id, **{**proposed_entry(document), **covers})
    kept = marit.entitlements.get(f"{number}-1")
    assert (kept.products, kept.serials, not (kept.products or kept.serials)) == (
        products,
        [],
        everything,
    )


def test_what_was_set_aside_can_still_be_entered_and_a_typed_passcode_counts_more(
    marit: SealPacket, fresh: Any
) -> None:
    number = f"49{uuid4().hex[:6]}"
    document = fresh(*order(number, "Serial: OBT4-300118"))
    marit.order_documents.set_aside(document.id)
    with pytest.raises(Refused, match="The order document is aside"):
        marit.order_documents.set_aside(document.id)
    marit.order_documents.enter(
        document.id, **{**proposed_entry(document), "passcode": "by-hand-7"}
    )
    assert marit.contracts.passcode(number) == "by-hand-7"


def test_a_running_contract_that_is_confirmed_again_is_changed_not_renewed(
    marit: SealPacket, fresh: Any
) -> None:
    number = f"50{uuid4().hex[:6]}"
    first = fresh(*order(number, "Serial: OBT4-300118"))
    marit.order_documents.enter(first.id, **proposed_entry(first))
    again = fresh(*order(number, "Serial: OBT4-300118", "Notice by: 30 September 2031"))
    done = marit.order_documents.enter(again.id, **proposed_entry(again))
    assert {item.kind: item.outcome for item in done.entered} == {
        "asset": "unchanged",
        "contract": "changed",
        "entitlement": "unchanged",
    }
    contract = marit.contracts.get(number)
    assert (str(contract.notice_on), contract.former_terms) == ("2031-09-30", [])
