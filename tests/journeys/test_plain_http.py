"""The same journey over plain HTTP, with nothing of ours but the addresses in the reference."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import httpx
import pytest

from sealpacket.demo import evidence
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import Tarnfell, reference_of, until


@pytest.fixture
def http(house: RunningHouse) -> Iterator[httpx.Client]:
    """A client with Marit's token."""
    with plain_http.client(base_url=f"{house.address}/api/v1") as client:
        body = {"name": "marit", "password": house.sign_ins["marit"], "purpose": "curl"}
        client.headers["Authorization"] = (
            f"Bearer {client.post('/tokens', json=body).json()['token']}"
        )
        yield client


def good(answer: httpx.Response, status: int = 200) -> Any:
    """The body of an answer that has to be this."""
    assert answer.status_code == status, answer.text
    return answer.json()


def wait_for(http: httpx.Client, path: str, so: Any) -> Any:
    """Read a packet until it is so."""
    return until(lambda: packet if so(packet := good(http.get(path))) else None)


def test_the_whole_journey(http: httpx.Client, tarnfell: Tarnfell) -> None:
    found = good(http.get("/find", params={"q": "array a"}))
    (asset,) = (
        one for group in found["groups"] for one in group["items"] if one["name"] == "TN9-44120-A"
    )

    note = {
        "title": "Volumes are slow",
        "note": "Volumes answer slowly since this morning.",
        "asset": asset["handle"],
    }
    noted = http.post("/packets", json=note, headers={"Idempotency-Key": "http-journey-1"})
    packet = good(noted, 201)
    path = f"/packets/{packet['number']}"
    assert packet["ruling"]["contract"] == "T-2210"

    answers = {
        "category": "volume/latency",
        "severity": "2",
        "began_at": "2026-11-20T07:40:00Z",
        "impact": "All branches.",
    }
    answered = http.put(
        f"{path}/answers", json={"answers": answers}, headers={"If-Match": noted.headers["ETag"]}
    )
    assert not [c for c in good(answered)["checks"] if c["level"] == "stop"]
    stale = http.put(
        f"{path}/answers", json={"answers": answers}, headers={"If-Match": noted.headers["ETag"]}
    )
    assert good(stale, 412)["code"] == "stale"

    content = evidence.CONFIGURATION.encode()
    good(http.post(f"{path}/exhibits", json={"name": "array.cfg", "size": len(content)}), 201)
    good(http.put(f"{path}/exhibits/array.cfg/content", content=content))
    wait_for(http, path, lambda p: p["exhibits"][0]["state"] == "ready")
    outgoing = http.get(f"{path}/exhibits/array.cfg/outgoing")
    assert b"thrush" not in outgoing.content
    assert outgoing.headers["Content-Disposition"] == "attachment; filename*=UTF-8''array.cfg"
    review = good(http.get(f"{path}/exhibits/array.cfg/review", params={"kind": "key"}))
    assert review["findings"] == 1

    sealed = good(http.post(f"{path}/seal"))
    assert sealed["seal"]["files"] == 5
    bag = http.get(f"{path}/bag")
    assert bag.headers["Content-Type"] == "application/zip"
    assert bag.content.startswith(b"PK")

    good(http.post(f"{path}/lodge"), 202)
    lodged = wait_for(http, path, lambda p: p["life"] == "lodged")
    tarnfell.steer(case=lodged["reference"], ask="Which firmware?")
    good(http.post(f"{path}/follow"), 202)
    assert wait_for(http, path, lambda p: p["follow_state"] is None)["turn"] == "ours"
    good(
        http.post(
            f"{path}/messages",
            json={"text": "7.4.2"},
            headers={"Idempotency-Key": "http-journey-2"},
        ),
        201,
    )
    wait_for(http, path, lambda p: all(m["sent"] for m in p["messages"]))
    assert good(http.get("/custody/chain"))["holds"]
    assert "thrush" not in json.dumps(good(http.get("/custody", params={"limit": 100})))


def test_the_reference_names_what_this_journey_used(house: RunningHouse) -> None:
    paths = reference_of(house)["paths"]
    for path in ("/api/v1/packets", "/api/v1/packets/{number}/answers", "/api/v1/packets/{number}/exhibits/{name}/content",
                 "/api/v1/packets/{number}/seal", "/api/v1/packets/{number}/lodge", "/api/v1/find"):  # fmt: skip
        operation = next(iter(paths[path].values()))
        assert operation["summary"]
        assert {"401", "default"} <= set(operation["responses"])
