"""Passkeys with a real browser and a simulated authenticator: added, signed in with, removed, and replayed in vain."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Iterator

import httpx
import pytest
from playwright.sync_api import Browser, Page, Request, expect

from sealpacket.client import SealPacket
from sealpacket.demo.cluster import free_port, wait_for_port
from sealpacket.demo.house import RunningHouse
from tests.journeys.browsing import faults


@pytest.fixture
def address(house: RunningHouse) -> Iterator[str]:
    """The same house at a name: browsers have no passkeys for numbers."""
    port = free_port()
    address = f"http://localhost:{port}"
    command = [
        sys.executable,
        "-m",
        "sealpacket.service",
        "serve",
        "--port",
        str(port),
        "--workers",
        "1",
    ]
    process = subprocess.Popen(
        command,
        env={**house.environment(), "SEALPACKET_ADDRESS": address},
        stderr=subprocess.DEVNULL,
    )
    try:
        assert wait_for_port(port)
        yield address
    finally:
        process.terminate()
        process.wait(20)


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    """A browser with an authenticator that is always unlocked."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    page = context.new_page()
    page.set_default_timeout(30_000)
    session = context.new_cdp_session(page)
    session.send("WebAuthn.enable")
    session.send(
        "WebAuthn.addVirtualAuthenticator",
        {
            "options": {
                "protocol": "ctap2",
                "transport": "internal",
                "hasResidentKey": True,
                "hasUserVerification": True,
                "isUserVerified": True,
            }
        },
    )
    yield page
    context.close()


def test_a_passkey_is_a_way_in(
    house: RunningHouse, address: str, page: Page, marit: SealPacket
) -> None:
    page.goto(address)
    page.get_by_label("Name").fill("teo")
    page.get_by_label("Password", exact=True).fill(house.sign_ins["teo"])
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_role("heading", name="Our turn")).to_be_visible()
    page.goto(f"{address}/you")
    page.get_by_label("This device").fill("Teo's laptop")
    page.get_by_role("button", name="Add a passkey").click()
    row = page.get_by_role("row").filter(has_text="Teo's laptop")
    expect(row).to_contain_text("never")
    assert faults(page) == []
    (account,) = [one for one in marit.accounts.list() if one.name == "teo"]
    assert account.ways == ["password", "passkey"]

    page.context.clear_cookies()
    page.goto(address)
    sent: list[Request] = []
    page.on(
        "request", lambda one: sent.append(one) if one.url.endswith("/sign-in/passkey") else None
    )
    page.get_by_role("button", name="Sign in with a passkey").click()
    expect(page.get_by_role("heading", name="Our turn")).to_be_visible()
    page.goto(f"{address}/you")
    expect(row).not_to_contain_text("never")

    # What was sent opens nothing a second time, nor at another address of the service.
    body = json.loads(sent[0].post_data or "")
    for place in (address, house.address):
        again = httpx.post(f"{place}/api/v1/sign-in/passkey", json=body)
        assert (again.status_code, again.json()["code"]) == (401, "wrong-passkey")

    page.get_by_role("button", name="Remove the passkey Teo's laptop").click()
    expect(page.get_by_text("There is no passkey.")).to_be_visible()
    page.context.clear_cookies()
    page.goto(address)
    page.get_by_role("button", name="Sign in with a passkey").click()
    expect(page.get_by_role("alert")).to_contain_text("This passkey opens nothing here")
    assert faults(page) == []


@pytest.mark.parametrize(
    "credential",
    [
        {},
        {"id": "x"},
        {"id": "x", "response": {"clientDataJSON": "!!"}},
        {"id": "x", "response": {"clientDataJSON": "e30"}},
        {"id": ["x"], "response": [1, 2]},
        {"id": "x", "response": {"clientDataJSON": "eyJjaGFsbGVuZ2UiOiJBQUFBIn0"}},
    ],
)
def test_what_is_no_passkey_opens_nothing(
    house: RunningHouse, credential: dict[str, object]
) -> None:
    answer = httpx.post(f"{house.address}/api/v1/sign-in/passkey", json={"credential": credential})
    assert (answer.status_code, answer.json()["code"]) == (401, "wrong-passkey")


def test_a_token_adds_no_passkey(house: RunningHouse, marit: SealPacket) -> None:
    token = marit._wire._client.headers["Authorization"]
    answer = httpx.post(
        f"{house.address}/api/v1/me/passkeys/begin", headers={"Authorization": token}
    )
    assert (answer.status_code, answer.json()["code"]) == (409, "needs-a-session")
    assert marit.passkeys.list() == []
