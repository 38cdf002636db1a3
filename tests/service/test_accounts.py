"""Signing in: sessions with their CSRF token, API tokens, and guessing made slow."""

from __future__ import annotations

from collections.abc import Iterator

import httpx
import pytest

from sealpacket.client import NoService, Refused, SealPacket, make_token
from sealpacket.demo.house import HouseTrouble, RunningHouse
from tests.conftest import ARRAY, NO_TLS


@pytest.fixture
def browser(house: RunningHouse) -> Iterator[httpx.Client]:
    """What a browser does: it keeps the cookie."""
    with httpx.Client(base_url=f"{house.address}/api/v1", trust_env=False) as client:
        yield client


def enter(house: RunningHouse, browser: httpx.Client, name: str = "marit") -> httpx.Response:
    """Sign in with the right password."""
    return browser.post("/sign-in", json={"name": name, "password": house.sign_ins[name]})


def test_a_session_cookie_is_kept_from_scripts_and_other_sites(house: RunningHouse, browser: httpx.Client) -> None:
    cookie = enter(house, browser).headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    assert house.sign_ins["marit"] not in cookie


def test_who_is_signed_in(house: RunningHouse, browser: httpx.Client) -> None:
    me = enter(house, browser).json()
    assert (me["name"], me["person"]) == ("marit", "Marit Oswin")
    assert me["roles"] == ["keeper", "preparer", "releaser"]
    assert browser.get("/me").json()["csrf"] == me["csrf"]


def test_a_change_needs_the_csrf_token(house: RunningHouse, browser: httpx.Client) -> None:
    me = enter(house, browser).json()
    note = {"title": "Nothing in particular", "asset": ARRAY}
    assert browser.post("/packets", json=note).json()["code"] == "csrf"
    assert browser.post("/packets", json=note, headers={"X-CSRF-Token": "wrong"}).status_code == 403
    assert browser.post("/packets", json=note, headers={"X-CSRF-Token": me["csrf"]}).status_code == 201
    assert browser.get("/packets").status_code == 200


def test_signing_out_ends_the_session(house: RunningHouse, browser: httpx.Client) -> None:
    me = enter(house, browser).json()
    cookie = browser.cookies["sealpacket_session"]
    assert browser.post("/sign-out", headers={"X-CSRF-Token": me["csrf"]}).status_code == 200
    assert browser.get("/me", headers={"Cookie": f"sealpacket_session={cookie}"}).status_code == 401


@pytest.mark.parametrize("cookie", ["", "nonsense", "a" * 5000])
def test_a_made_up_cookie_is_nobody(browser: httpx.Client, cookie: str) -> None:
    assert browser.get("/me", headers={"Cookie": f"sealpacket_session={cookie}"}).status_code == 401


def test_a_wrong_password_and_an_unknown_name_look_alike(browser: httpx.Client) -> None:
    wrong = browser.post("/sign-in", json={"name": "pauli", "password": "wrong"})
    unknown = browser.post("/sign-in", json={"name": "nobody-at-all", "password": "wrong"})
    assert (wrong.status_code, unknown.status_code) == (401, 401)
    assert wrong.json() == unknown.json()
    assert wrong.json()["code"] == "wrong-sign-in"


def test_guessing_is_made_slow_even_with_the_right_password(house: RunningHouse, browser: httpx.Client) -> None:
    house._service("account", "guessed", "--role", "reader", stdin="a-long-right-password\n")
    for _ in range(5):
        assert browser.post("/sign-in", json={"name": "guessed", "password": "wrong"}).status_code == 401
    answer = browser.post("/sign-in", json={"name": "guessed", "password": "a-long-right-password"})
    assert (answer.status_code, answer.json()["code"]) == (429, "too-many-tries")
    assert enter(house, browser).status_code == 200, "others are not held up"


def test_a_token_works_until_it_is_ended(house: RunningHouse) -> None:
    token = make_token(house.address, "teo", house.sign_ins["teo"], "test")
    assert token.token.startswith("spk_")
    with SealPacket(house.address, token.token) as client:
        assert client.me().name == "teo"
        client.sign_out()
        with pytest.raises(Refused) as caught:
            client.me()
    assert caught.value.code == "not-signed-in"


def test_passwords_and_tokens_are_stored_as_hashes_only(house: RunningHouse) -> None:
    import psycopg

    token = make_token(house.address, "teo", house.sign_ins["teo"], "test").token
    with psycopg.connect(house.cluster.owner_url.replace("+psycopg", "")) as connection:
        hashes = [row[0] for row in connection.execute("SELECT password_hash FROM account").fetchall()]
        tokens = [row[0] for row in connection.execute("SELECT token_hash FROM api_token").fetchall()]
    assert all(value.startswith("$argon2id$") for value in hashes)
    assert token not in tokens
    logs = "".join(path.read_text() for path in (house.folder / "log").glob("*.log"))
    assert token not in logs
    assert house.sign_ins["teo"] not in logs


@pytest.mark.parametrize(
    ("roles", "password", "says"),
    [(["owner"], "a-long-right-password", "no role owner"), (["reader"], "short", "fewer than 12 characters")],
)
def test_weak_passwords_and_unknown_roles_are_refused(
    house: RunningHouse, roles: list[str], password: str, says: str
) -> None:
    options = [part for role in roles for part in ("--role", role)]
    with pytest.raises(HouseTrouble, match=says):
        house._service("account", "someone", *options, stdin=password + "\n")


def test_no_service_is_told_as_such() -> None:
    with pytest.raises(NoService) as caught:
        SealPacket("http://127.0.0.1:9", "x").me()
    assert "make demo" in caught.value.way_out


@pytest.mark.parametrize(
    ("content", "kind", "code"),
    [
        ("{", "application/json", "bad-json"),
        ("name=marit", "application/x-www-form-urlencoded", "not-json"),
        ('{"name": 5, "password": "x"}', "application/json", "invalid"),
        ('{"name": "marit", "password": "x", "admin": true}', "application/json", "unknown-field"),
        ('["marit"]', "application/json", "bad-json"),
    ],
)
def test_bodies_that_cannot_be_read_are_refused_by_name(
    browser: httpx.Client, content: str, kind: str, code: str
) -> None:
    answer = browser.post("/sign-in", content=content, headers={"Content-Type": kind})
    assert answer.json()["code"] == code
    assert answer.headers["Content-Type"] == "application/problem+json"


def test_the_page_is_kept_from_frames_and_foreign_scripts(house: RunningHouse) -> None:
    answer = httpx.get(house.address, trust_env=False, verify=NO_TLS)
    policy = answer.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self';" in policy
    assert "frame-ancestors 'none'" in policy
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    assert (
        httpx.get(f"{house.address}/api/v1/health", trust_env=False, verify=NO_TLS).headers["Cache-Control"]
        == "no-store"
    )


@pytest.mark.parametrize(
    "path", ["/../pyproject.toml", "/static/../../package.json", "/%2e%2e/%2e%2e/etc/passwd", "/static/nothing.js"]
)
def test_only_the_console_is_served(house: RunningHouse, path: str) -> None:
    answer = httpx.get(house.address + path, trust_env=False, verify=NO_TLS)
    assert answer.status_code in (200, 404)
    assert "sealpacket-console" not in answer.text
    assert "root:" not in answer.text
