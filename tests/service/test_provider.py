"""Signing in by an OpenID provider: the way there and back, its lies, and leaving from both sides."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any
from urllib.parse import parse_qs, urlsplit

import httpx
import pytest

from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from tests import plain_http

PROVIDER = True


@pytest.fixture
def browser(house: RunningHouse) -> Iterator[httpx.Client]:
    """What a browser does: it keeps cookies and follows nothing by itself."""
    with plain_http.client(base_url=house.address) as client:
        yield client


@pytest.fixture(autouse=True)
def honest(house: RunningHouse) -> Iterator[None]:
    """The provider tells the truth again after each test."""
    yield
    steer(house, down=False, clock=0, claims={}, unsigned=False)


def steer(house: RunningHouse, **wish: Any) -> dict[str, Any]:
    answer: dict[str, Any] = httpx.post(f"{house.provider}/control", json=wish).json()
    return answer


def at_provider(browser: httpx.Client, who: str) -> str:
    """Go to the provider and come in as somebody; where it sends the browser."""
    there = browser.get("/sign-in/provider")
    assert there.status_code == 302, there.text
    back = httpx.get(f"{there.headers['Location']}&as={who}")
    return back.headers["Location"]


def come_in(browser: httpx.Client, who: str) -> str:
    """The whole way; the code with which the console says why it was refused, or nothing."""
    answer = browser.get(at_provider(browser, who))
    assert answer.status_code == 303
    return parse_qs(urlsplit(answer.headers["Location"]).query).get("refused", [""])[0]


def me(browser: httpx.Client) -> dict[str, Any] | None:
    answer = browser.get("/api/v1/me")
    found: dict[str, Any] | None = answer.json() if answer.status_code == 200 else None
    return found


def test_people_come_in_with_the_roles_of_their_groups(
    house: RunningHouse, browser: httpx.Client, marit: SealPacket
) -> None:
    ways = browser.get("/api/v1/sign-in")
    assert ways.status_code == 200, ways.text
    assert ways.json()["provider"] == "Quillmere"
    assert come_in(browser, "odd") == ""
    who = me(browser)
    assert who is not None
    assert (who["name"], who["roles"]) == ("odd.fenwick", ["keeper", "preparer", "releaser"])
    (account,) = [one for one in marit.accounts.list() if one.name == "odd.fenwick"]
    assert account.ways == ["provider"]
    # Another group there is another role here, from the next sign-in on.
    steer(house, claims={"groups": ["library-it"]})
    assert come_in(browser, "odd") == ""
    assert (me(browser) or {})["roles"] == ["preparer"]


def test_the_way_is_guarded(browser: httpx.Client, house: RunningHouse) -> None:
    there = urlsplit(browser.get("/sign-in/provider").headers["Location"])
    asked = {name: values[0] for name, values in parse_qs(there.query).items()}
    assert asked["code_challenge_method"] == "S256" and asked["response_type"] == "code"
    back = at_provider(browser, "sanna")
    with plain_http.client(base_url=house.address) as another:
        assert "refused=sign-in-gone" in another.get(back).headers["Location"], "not its own"
    answer = browser.get(back)
    assert answer.headers["Location"] == "/"
    assert "SameSite=Strict" in ",".join(answer.headers.get_list("Set-Cookie"))
    assert "refused=sign-in-gone" in browser.get(back).headers["Location"], "only once"
    forged = at_provider(browser, "sanna").replace("state=", "state=x")
    assert "refused=sign-in-gone" in browser.get(forged).headers["Location"]
    mixed = at_provider(browser, "sanna").replace("iss=http", "iss=https")
    assert "refused=sign-in-gone" in browser.get(mixed).headers["Location"]


@pytest.mark.parametrize(
    "lie",
    [
        {"claims": {"aud": "another-service"}},
        {"claims": {"iss": "https://another.example"}},
        {"claims": {"nonce": "of another sign-in"}},
        {"claims": {"aud": ["seal-packet", "another"], "azp": "another"}},
        {"claims": {"sub": ""}},
        {"claims": {"exp": "tomorrow"}},
        {"clock": 3600},
        {"clock": -3600},
        {"unsigned": True},
    ],
)
def test_a_provider_that_lies_lets_nobody_in(
    house: RunningHouse, browser: httpx.Client, lie: dict[str, Any]
) -> None:
    steer(house, **lie)
    assert come_in(browser, "sanna") == "provider-unbelieved"
    assert me(browser) is None


def test_new_keys_are_asked_for(house: RunningHouse, browser: httpx.Client) -> None:
    assert come_in(browser, "sanna") == ""
    steer(house, new_key=True)
    assert come_in(browser, "sanna") == ""


def test_a_provider_that_is_away_leaves_a_way_in(
    house: RunningHouse, browser: httpx.Client
) -> None:
    back = at_provider(browser, "sanna")
    steer(house, down=True)
    assert "refused=provider-away" in browser.get(back).headers["Location"]
    local = browser.post(
        "/api/v1/sign-in", json={"name": "marit", "password": house.sign_ins["marit"]}
    )
    assert local.status_code == 200


def test_nobody_without_a_group_or_under_another_s_name(
    house: RunningHouse, browser: httpx.Client, marit: SealPacket
) -> None:
    assert come_in(browser, "guest") == "no-role"
    assert not [one for one in marit.accounts.list() if one.name == "guest"]
    steer(house, claims={"preferred_username": "marit", "sub": "somebody else"})
    assert come_in(browser, "sanna") == "name-taken"
    steer(house, claims={"preferred_username": "../../etc", "sub": "somebody else"})
    assert come_in(browser, "sanna") == "no-name"
    assert come_in(browser, "nobody-at-all") == "provider-refused"


def test_a_disabled_account_stays_out(browser: httpx.Client, marit: SealPacket) -> None:
    assert come_in(browser, "sanna") == ""
    marit.accounts.change("sanna.weir", active=False)
    try:
        assert me(browser) is None
        assert come_in(browser, "sanna") == "disabled"
    finally:
        marit.accounts.change("sanna.weir", active=True)


def test_leaving_here_leads_to_the_provider(house: RunningHouse, browser: httpx.Client) -> None:
    assert come_in(browser, "sanna") == ""
    csrf = (me(browser) or {})["csrf"]
    left = browser.post("/api/v1/sign-out", headers={"X-CSRF-Token": csrf}).json()
    assert left["next"].startswith(f"{house.provider}/leave?")
    assert me(browser) is None


def test_leaving_there_ends_the_sessions_here(house: RunningHouse, browser: httpx.Client) -> None:
    assert come_in(browser, "sanna") == ""
    assert me(browser)
    # What is no logout token for us ends nothing.
    for said in ({"nonce": "x"}, {"events": {}}, {"aud": "another"}, {"jti": ""}):
        assert steer(house, left="sanna", said=said)["status"] == 400
    assert me(browser)
    told = steer(house, left="sanna")
    assert told["status"] == 200
    assert me(browser) is None
    again = httpx.post(
        f"{house.address}/sign-in/provider/left", data={"logout_token": told["token"]}
    )
    assert again.status_code == 400, "a token counts once"


SCHEMA = "urn:ietf:params:scim:api:messages:2.0:PatchOp"


@pytest.fixture
def directory(house: RunningHouse, marit: SealPacket) -> httpx.Client:
    """The organisation's directory, with a token of its own."""
    if not [one for one in marit.accounts.list() if one.name == "directory"]:
        marit.accounts.add("directory", None, ["admin"], kind="program")
    token = marit.tokens.add("directory", "accounts", ["keep"]).token
    return httpx.Client(
        base_url=f"{house.address}/scim/v2", headers={"Authorization": f"Bearer {token}"}
    )


def test_a_directory_makes_changes_and_closes_accounts(
    directory: httpx.Client, browser: httpx.Client, marit: SealPacket
) -> None:
    made = directory.post(
        "/Users",
        json={"userName": "odd.fenwick", "externalId": "17", "roles": [{"value": "library-leads"}], "name": {"givenName": "Odd"}},
    )  # fmt: skip
    if made.status_code == 409:  # came in by himself in another test
        (one,) = directory.get("/Users", params={"filter": 'userName eq "odd.fenwick"'}).json()[
            "Resources"
        ]
    else:
        assert made.status_code == 201, made.text
        one = made.json()
        assert made.headers["Location"].endswith(one["id"])
        assert one["roles"] == [{"value": "keeper"}, {"value": "releaser"}]
    at = f"/Users/{one['id']}"
    assert directory.post("/Users", json={"userName": "odd.fenwick"}).status_code == 409
    assert come_in(browser, "odd") == ""
    off = {
        "schemas": [SCHEMA],
        "Operations": [{"op": "Replace", "path": "active", "value": "False"}],
    }
    assert directory.patch(at, json=off).json()["active"] is False
    assert me(browser) is None, "what was signed in ends at once"
    assert come_in(browser, "odd") == "disabled"
    assert directory.put(at, json={"userName": "odd.fenwick", "active": True}).json()["roles"] == []
    assert come_in(browser, "odd") == ""
    assert directory.delete(at).status_code == 204
    assert directory.get(at).status_code == 404
    assert come_in(browser, "odd") == "disabled"
    again = directory.post("/Users", json={"userName": "odd.fenwick"})
    assert again.status_code == 201 and again.json()["id"] == one["id"]
    assert come_in(browser, "odd") == ""


def test_a_directory_touches_no_local_account(
    directory: httpx.Client, marit: SealPacket, house: RunningHouse
) -> None:
    names = {one["userName"] for one in directory.get("/Users").json()["Resources"]}
    assert "marit" not in names and "directory" not in names
    assert (
        directory.get("/Users", params={"filter": 'userName eq "marit"'}).json()["totalResults"]
        == 0
    )
    assert directory.post("/Users", json={"userName": "marit"}).status_code == 409
    for wish in (
        directory.post("/Users", json={"userName": "../x"}),
        directory.post("/Users", json=["no", "object"]),
        directory.get("/Users", params={"filter": 'userName sw "m"'}),
        directory.get("/Users", params={"startIndex": "first"}),
    ):
        assert wish.status_code == 400
        assert wish.json()["schemas"] == ["urn:ietf:params:scim:api:messages:2.0:Error"]
    for path in ("/ServiceProviderConfig", "/ResourceTypes", "/Schemas"):
        assert directory.get(path).headers["Content-Type"] == "application/scim+json"
    assert httpx.get(f"{house.address}/scim/v2/Users").status_code == 401
    assert marit.me().name == "marit"
