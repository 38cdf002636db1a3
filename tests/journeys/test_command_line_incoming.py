"""What comes in from outside, on the command line."""

from __future__ import annotations

import json
from datetime import timedelta
from pathlib import Path
from uuid import uuid4

import pypdfium2
import pytest

from sealpacket.client import SealPacket
from sealpacket.demo.order_documents import kiosk_renewal
from sealpacket.demo.world import sheet_text
from tests.conftest import ARRAY
from tests.journeys.terminal import Terminal
from tests.some import today


def test_an_order_document_from_its_reading_to_its_contract(
    shell: Terminal, tmp_path: Path
) -> None:
    file, number = tmp_path / f"order-{uuid4().hex[:6]}.pdf", f"88-{uuid4().int % 10**6:06d}"
    file.write_bytes(
        kiosk_renewal(today() + timedelta(days=800 + uuid4().int % 500), f"LK40-9002-{number[-4:]}")
    )
    said = shell.run("order-document", "read", str(file))
    assert "88-3316" in said and "Nothing is in the register yet" in said
    assert "60-7781" not in said
    assert shell.run("order-document", "passcode", file.name).strip() == "60-7781"
    change = (f"contract={number}", f"reference=FC-{number}")
    left = shell.run("order-document", "enter", file.name, *change, stdin="n\n")
    assert f"new       contract {number}" in left and "Nothing was entered." in left
    assert f"attached to contract {number}" in shell.run(
        "order-document", "enter", file.name, *change, "--yes"
    )
    assert shell.run("contract", "passcode", number).strip() == "60-7781"
    shell.run("order-document", "save", file.name, "--out", str(tmp_path / "back.pdf"))
    assert (tmp_path / "back.pdf").read_bytes() == file.read_bytes()
    [listed] = [
        one
        for one in json.loads(shell.run("order-document", "list", "--json"))
        if one["name"] == file.name
    ]
    assert listed["state"] == "entered"


def test_an_order_document_that_says_too_little_is_told_what_is_missing(
    shell: Terminal, tmp_path: Path
) -> None:
    path = tmp_path / f"{uuid4().hex}.eml"
    path.write_text(f"From: a@ovenbird.example\nSubject: {uuid4()}\n\nContract number: 77-1\n")
    shell.run("order-document", "read", str(path))
    assert "The order document does not say: vendor, starts_on, ends_on." in shell.run(
        "order-document", "enter", path.name, code=1
    )
    assert "is set aside" in shell.run("order-document", "aside", path.name)
    (tmp_path / "no.pdf").write_bytes(b"%PDF-" + uuid4().bytes)
    assert "The PDF is damaged." in shell.run(
        "order-document", "read", str(tmp_path / "no.pdf"), code=1
    )


@pytest.fixture
def vendor(marit: SealPacket) -> str:
    """A vendor of its own with one covered thing."""
    key = f"c{uuid4().hex[:8]}"
    marit.vendors.add(key=key, name=f"Clock maker {key}")
    marit.products.add(vendor=key, part_number="C-1", name="Clock")
    marit.assets.add(vendor=key, product="C-1", serial=f"{key.upper()}-100")
    days = {
        "starts_on": str(today() - timedelta(days=9)),
        "ends_on": str(today() + timedelta(days=99)),
    }
    marit.contracts.add(vendor=key, number=f"N-{key}", **days)
    marit.entitlements.add(vendor=key, contract=f"N-{key}", reference=f"E-{key}", level="Care", needs=["fault"],
                           serials=[f"{key.upper()}-100"], **days)  # fmt: skip
    return key


def test_a_statement_is_compared_accepted_and_asked_about(
    shell: Terminal, vendor: str, tmp_path: Path
) -> None:
    path, serial = tmp_path / "cover.csv", f"{vendor.upper()}-100"
    path.write_text(f"Unit;Agreement;Plan\n{serial};N-{vendor};Basic\nZZ-9;N-{vendor};Care\n")
    assert "No column holds serials; there are Unit" in shell.run(
        "statement", "compare", vendor, str(path), code=1
    )
    said = shell.run("statement", "compare", vendor, str(path), "--column", "serial=Unit", code=3)
    assert f"{serial}: level: Care by our records, Basic on their statement." in said.replace(
        "\n", " "
    )
    [ident] = [
        one["id"]
        for one in json.loads(shell.run("statement", "list", "--json"))
        if one["vendor"] == vendor and one["state"] == "ready"
    ]
    assert "1 accepted; 1 still open." in shell.run(
        "statement", "accept", ident[:8], "1", "--theirs"
    )
    assert "asks about it" in shell.run("statement", "ask", ident[:8], "2")
    assert "decided by marit: packet (P-" in shell.run("statement", "show", ident[:8])
    assert "decided already" in shell.run("statement", "accept", ident[:8], "2", "--ours", code=1)
    assert shell.run("statement", "drop", ident[:8]).strip() == "Forgotten."


def test_labels_are_printed_and_read_back(shell: Terminal, tmp_path: Path) -> None:
    out, photo = tmp_path / "labels.pdf", tmp_path / "photo.png"
    assert ": 1 label." in shell.run("label", "print", ARRAY, "--out", str(out), "--skip", "3")
    pypdfium2.PdfDocument(out)[0].render(scale=2).to_pil().save(photo)
    assert ARRAY in shell.run("label", "read", str(photo))
    photo.write_bytes(b"no picture")
    assert "This is not a readable picture." in shell.run("label", "read", str(photo), code=1)


def test_twins_are_found_and_merged(shell: Terminal, marit: SealPacket, vendor: str) -> None:
    right, wrong = f"{vendor.upper()}-100", f"{vendor.upper()}-1OO"
    marit.assets.add(vendor=vendor, product="C-1", serial=wrong, name="Tower clock")
    assert wrong in shell.run("asset", "duplicates")
    assert "name: Tower clock" in shell.run("asset", "merge", right, wrong, stdin="n\n")
    assert marit.assets.get(wrong).serial == wrong
    assert f"{wrong} finds {right} from now on" in shell.run(
        "asset", "merge", right, wrong, "--yes"
    )
    assert f"merged with {wrong}" in shell.run("asset", "history", wrong)


def test_a_sheet_is_linted_without_a_service(tmp_path: Path) -> None:
    alone, sheet = Terminal(tmp_path / "no-config"), tmp_path / "ovenbird.yaml"
    sheet.write_text(sheet_text("ovenbird-support"))
    assert "no findings" in alone.run("desk", "lint", str(sheet))
    sheet.write_text(
        sheet_text("ovenbird-support").replace("prefill: packet.title", "prefill: packet.titel")
    )
    said = alone.run("desk", "lint", str(sheet), code=3).replace("\n", "")
    assert "stop subject: There is no fact packet.titel. Is it packet.title?" in said
    [finding] = alone.json("desk", "lint", str(sheet), code=3)[str(sheet)]
    assert (finding["code"], sheet.read_text().splitlines()[finding["line"] - 1].strip()) == (
        "unknown-fact", "prefill: packet.titel",
    )  # fmt: skip
