"""Tarnfell's stand-in by itself: a strict desk that refuses with its own reasons, and speaks tus 1.0."""

from __future__ import annotations

import ast
import base64
import copy
import hashlib
from typing import Any

import httpx
import pytest

from tests.conftest import ROOT, Tarnfell

GOOD: dict[str, Any] = {
    "case": {
        "headline": "Volumes are slow",
        "details": "Volumes answer slowly since this morning.",
        "type": "FAULT",
        "category": ["volume", "latency"],
        "priority": "2",
        "array_serial": "TN9-44120-A",
        "support_id": "TSE-301877",
        "customer_ref": "P-0000",
        "contact": {
            "name": "Marit Oswin",
            "mail": "marit@quillmere.example",
            "phone": "+441632960112",
        },
    }
}
TUS = {"Tus-Resumable": "1.0.0"}


def changed(path: str, value: Any) -> dict[str, Any]:
    """The good case with one field changed; None takes it out."""
    body = copy.deepcopy(GOOD)
    *above, last = path.split(".")
    node = body
    for name in above:
        node = node[name]
    if value is None:
        del node[last]
    else:
        node[last] = value
    return body


def upload(desk: Tarnfell, content: bytes, name: str = "a.log", length: int | None = None) -> str:
    """Upload a whole file; its location."""
    metadata = f"filename {base64.b64encode(name.encode()).decode()}"
    size = str(len(content) if length is None else length)
    made = desk.call(
        "POST", "/uploads", headers={**TUS, "Upload-Length": size, "Upload-Metadata": metadata}
    )
    assert made.status_code == 201, made.text
    location = made.headers["Location"]
    if content:
        done = patch(desk, location, 0, content)
        assert done.status_code == 204
        assert done.headers["Upload-Offset"] == str(len(content))
    return str(location)


def patch(desk: Tarnfell, location: str, offset: int, content: bytes) -> httpx.Response:
    """One PATCH of tus."""
    headers = {
        **TUS,
        "Upload-Offset": str(offset),
        "Content-Type": "application/offset+octet-stream",
    }
    return desk.call("PATCH", location, headers=headers, content=content)


def attached(location: str, content: bytes, **changes: Any) -> dict[str, Any]:
    """The good case with this attachment."""
    attachment = {
        "upload": location,
        "name": "a.log",
        "sha256": hashlib.sha256(content).hexdigest(),
        **changes,
    }
    return {**GOOD, "attachments": [attachment]}


def test_a_good_case_gets_a_reference(tarnfell: Tarnfell) -> None:
    answer = tarnfell.call("POST", "/cases", json=GOOD)
    assert answer.status_code == 201
    assert answer.json()["case"]["reference"].startswith("TS-")


@pytest.mark.parametrize(
    ("path", "value", "code"),
    [
        ("case.headline", None, "missing_field"),
        ("case.contact.phone", None, "missing_field"),
        ("case.support_id", None, "missing_field"),
        ("case.headline", "x", "bad_field"),
        ("case.details", "slow", "bad_field"),
        ("case.type", "BUG", "bad_field"),
        ("case.priority", "0", "bad_field"),
        ("case.contact.phone", "01632 960112", "bad_field"),
        ("case.began_at", "yesterday", "bad_field"),
        ("case.colour", "red", "bad_field"),
        ("case.array_serial", "44120", "bad_field"),
        ("case.array_serial", "TN9-00000-A", "unknown_serial"),
        ("case.support_id", "TSE-999999", "not_entitled"),
        ("case.category", ["volume", "failed"], "bad_category"),
        ("case.priority", "1", "nobody_at_night"),
    ],
)
def test_the_desk_refuses_with_its_own_reasons(
    tarnfell: Tarnfell, path: str, value: Any, code: str
) -> None:
    before = len(tarnfell.cases())
    answer = tarnfell.call("POST", "/cases", json=changed(path, value))
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["code"] == code
    assert answer.json()["errors"][0]["text"]
    assert len(tarnfell.cases()) == before


def test_the_token_is_asked_for_at_the_door(tarnfell: Tarnfell) -> None:
    for token in ("wrong", "x"):
        answer = tarnfell.call(
            "POST", "/cases", json=GOOD, headers={"Authorization": f"Bearer {token}"}
        )
        assert (answer.status_code, answer.json()["errors"][0]["code"]) == (401, "bad_token")


def test_the_same_key_opens_one_case(tarnfell: Tarnfell) -> None:
    first = tarnfell.call("POST", "/cases", json=GOOD, headers={"Idempotency-Key": "k-1"}).json()
    assert (
        tarnfell.call("POST", "/cases", json=GOOD, headers={"Idempotency-Key": "k-1"}).json()
        == first
    )


def test_attachments_come_by_tus(tarnfell: Tarnfell) -> None:
    location = upload(tarnfell, b"log line\n")
    assert (
        tarnfell.call("POST", "/cases", json=attached(location, b"log line\n")).status_code == 201
    )


@pytest.mark.parametrize(
    ("content", "changes", "code"),
    [
        (b"x", {"sha256": "0" * 64}, "bad_checksum"),
        (b"x", {"upload": "/uploads/none"}, "unknown_upload"),
    ],
)
def test_attachments_are_checked(
    tarnfell: Tarnfell, content: bytes, changes: dict[str, str], code: str
) -> None:
    body = attached(upload(tarnfell, content), content, **changes)
    assert tarnfell.call("POST", "/cases", json=body).json()["errors"][0]["code"] == code


def test_an_unfinished_upload_is_refused(tarnfell: Tarnfell) -> None:
    location = upload(tarnfell, b"half", length=8)
    assert (
        tarnfell.call("POST", "/cases", json=attached(location, b"half")).json()["errors"][0][
            "code"
        ]
        == "unfinished_upload"
    )


def test_an_upload_tells_its_offset_and_goes_on_from_there(tarnfell: Tarnfell) -> None:
    location = upload(tarnfell, b"12345", length=10)
    assert tarnfell.call("HEAD", location, headers=TUS).headers["Upload-Offset"] == "5"
    assert patch(tarnfell, location, 3, b"45678").status_code == 409, (
        "a gap or an overlap is refused"
    )
    assert patch(tarnfell, location, 5, b"678901").status_code == 413, (
        "more than was announced is refused"
    )
    assert patch(tarnfell, location, 5, b"67890").headers["Upload-Offset"] == "10"
    assert tarnfell.call("HEAD", "/uploads/none", headers=TUS).status_code == 404


@pytest.mark.parametrize(
    ("headers", "status"),
    [({}, 412), ({**TUS}, 400), ({**TUS, "Upload-Length": "x", "Upload-Metadata": "filename YQ=="}, 400),
     ({**TUS, "Upload-Length": "300000000", "Upload-Metadata": "filename YQ=="}, 413)],
)  # fmt: skip
def test_uploads_that_cannot_be_are_refused(
    tarnfell: Tarnfell, headers: dict[str, str], status: int
) -> None:
    assert tarnfell.call("POST", "/uploads", headers=headers).status_code == status


def test_a_fault_is_asked_back_about_after_a_while(tarnfell: Tarnfell) -> None:
    reference = tarnfell.call("POST", "/cases", json=GOOD).json()["case"]["reference"]
    assert tarnfell.call("GET", f"/cases/{reference}").json()["case"]["state"] == "OPEN"
    tarnfell.steer(ask_after=0)
    case = tarnfell.call("GET", f"/cases/{reference}").json()["case"]
    assert (case["state"], case["messages"][0]["asks"]) == ("OVER_TO_YOU", True)
    tarnfell.call("POST", f"/cases/{reference}/messages", json={"text": "7.4.2"})
    again = tarnfell.call("GET", f"/cases/{reference}").json()["case"]
    assert (again["state"], len(again["messages"])) == ("OPEN", 2)


@pytest.mark.parametrize("body", [{}, {"text": ""}, {"text": 5}])
def test_an_empty_message_is_refused(tarnfell: Tarnfell, body: dict[str, Any]) -> None:
    reference = tarnfell.call("POST", "/cases", json=GOOD).json()["case"]["reference"]
    assert tarnfell.call("POST", f"/cases/{reference}/messages", json=body).status_code == 422
    assert tarnfell.call("POST", "/cases/TS-1/messages", json={"text": "x"}).status_code == 404


def test_down_is_down(tarnfell: Tarnfell) -> None:
    tarnfell.steer(down=True)
    assert tarnfell.call("GET", "/cases/TS-1").status_code == 503


def test_a_stand_in_imports_nothing_of_ours() -> None:
    for path in (ROOT / "src/sealpacket/standins").glob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            names = [alias.name for alias in node.names] if isinstance(node, ast.Import) else []
            if isinstance(node, ast.ImportFrom):
                names = [node.module or ""]
            ours = [name for name in names if name.startswith("sealpacket")]
            assert all(name.startswith("sealpacket.standins.") for name in ours), path
