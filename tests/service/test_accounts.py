"""Signing in: sessions with their CSRF token, API tokens, and guessing made slow."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta

import httpx
import pytest

from sealpacket.client import NoService, Refused, SealPacket, make_token
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import HouseError, RunningHouse
from tests import plain_http
from tests.conftest import ARRAY, NOTE

RIGHT = "four-quiet-herons-here"


@pytest.fixture
def browser(house: RunningHouse) -> Iterator[httpx.Client]:
    """What a browser does: it keeps the cookie."""
    with plain_http.client(base_url=f"{house.address}/api/v1") as client:
        yield client


def enter(house: RunningHouse, browser: httpx.Client, name: str = "marit") -> httpx.Response:
    """Sign in with the right password."""
    return browser.post("/sign-in", json={"name": name, "password": house.sign_ins[name]})


def test_a_session_cookie_is_kept_from_scripts_and_other_sites(
    house: RunningHouse, browser: httpx.Client
) -> None:
    cookie = enter(house, browser).headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    assert house.sign_ins["marit"] not in cookie


def test_who_is_signed_in(house: RunningHouse, browser: httpx.Client) -> None:
    me = enter(house, browser).json()
    assert (me["name"], me["person"]) == ("marit", "Marit Oswin")
    assert me["roles"] == ["admin", "keeper", "preparer", "releaser"]
    assert browser.get("/me").json()["csrf"] == me["csrf"]


def test_a_change_needs_the_csrf_token(house: RunningHouse, browser: httpx.Client) -> None:
    me = enter(house, browser).json()
    note = {"title": "Nothing in particular", "asset": ARRAY}
    assert browser.post("/packets", json=note).json()["code"] == "csrf"
    assert browser.post("/packets", json=note, headers={"X-CSRF-Token": "wrong"}).status_code == 403
    assert (
        browser.post("/packets", json=note, headers={"X-CSRF-Token": me["csrf"]}).status_code == 201
    )
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
    alike = [{k: v for k, v in one.json().items() if k != "request_id"} for one in (wrong, unknown)]
    assert alike[0] == alike[1]
    assert wrong.json()["code"] == "wrong-sign-in"


def known_account(house: RunningHouse, name: str) -> str:
    """An account of its own; its password."""
    house._service("account", name, "--role", "reader", stdin=RIGHT + "\n")
    return RIGHT


def test_guessing_is_made_slow_even_with_the_right_password(
    house: RunningHouse, browser: httpx.Client
) -> None:
    known_account(house, "guessed")
    for _ in range(5):
        assert (
            browser.post("/sign-in", json={"name": "guessed", "password": "wrong"}).status_code
            == 401
        )
    answer = browser.post("/sign-in", json={"name": "guessed", "password": RIGHT})
    assert (answer.status_code, answer.json()["code"]) == (429, "too-many-tries")
    assert enter(house, browser).status_code == 200, "others are not held up"


def test_nobody_can_lock_another_person_out_of_a_browser_they_use(
    house: RunningHouse, browser: httpx.Client
) -> None:
    known_account(house, "beset")
    assert browser.post("/sign-in", json={"name": "beset", "password": RIGHT}).status_code == 200
    with plain_http.client(base_url=f"{house.address}/api/v1") as stranger:
        for _ in range(6):
            stranger.post("/sign-in", json={"name": "beset", "password": "wrong"})
        assert (
            stranger.post("/sign-in", json={"name": "beset", "password": RIGHT}).status_code == 429
        )
    assert browser.post("/sign-in", json={"name": "beset", "password": RIGHT}).status_code == 200
    for _ in range(5):
        browser.post("/sign-in", json={"name": "beset", "password": "wrong"})
    assert browser.post("/sign-in", json={"name": "beset", "password": RIGHT}).status_code == 429, (
        "nor guess in it"
    )


def test_many_guesses_at_once_are_no_more_than_a_few(house: RunningHouse) -> None:
    known_account(house, "rushed")

    def guess(number: int) -> int:
        body = {"name": "rushed", "password": f"wrong {number}"}
        url = f"{house.address}/api/v1/sign-in"
        return plain_http.post(url, json=body).status_code

    with ThreadPoolExecutor(30) as pool:
        answers = list(pool.map(guess, range(30)))
    assert set(answers) <= {401, 429}
    assert answers.count(401) <= 5


def test_wrong_sign_ins_leave_no_trace_that_stays(
    house: RunningHouse, browser: httpx.Client, marit: SealPacket
) -> None:
    before = marit.verify_custody().entries
    for name in ("nobody-here", "worker\u202e", "service command"):
        assert browser.post("/sign-in", json={"name": name, "password": "wrong"}).status_code in (
            401,
            422,
        )
    assert marit.verify_custody().entries == before


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
        hashes = [
            row[0] for row in connection.execute("SELECT password_hash FROM account").fetchall()
        ]
        tokens = [
            row[0] for row in connection.execute("SELECT token_hash FROM api_token").fetchall()
        ]
    assert all(value.startswith("$argon2id$") for value in hashes if value)  # programs have none
    assert token not in tokens
    logs = "".join(path.read_text() for path in (house.folder / "log").glob("*.log"))
    assert token not in logs
    assert house.sign_ins["teo"] not in logs


@pytest.mark.parametrize(
    ("roles", "password", "says"),
    [
        (["owner"], "a-long-right-password", "no role owner"),
        (["reader"], "short", "fewer than 12 characters"),
    ],
)
def test_weak_passwords_and_unknown_roles_are_refused(
    house: RunningHouse, roles: list[str], password: str, says: str
) -> None:
    options = [part for role in roles for part in ("--role", role)]
    with pytest.raises(HouseError, match=says):
        house._service("account", "someone", *options, stdin=password + "\n")


@pytest.mark.parametrize(
    ("password", "says"),
    [("aaaaaaaaaaaa", "hardly any different"), ("someone-likes-tea", "holds the account's name")],
)
def test_easy_passwords_are_refused(house: RunningHouse, password: str, says: str) -> None:
    with pytest.raises(HouseError, match=says):
        house._service("account", "someone", "--role", "reader", stdin=password + "\n")


class Someone:
    """An account with everything by which one comes in."""

    def __init__(self, house: RunningHouse, marit: SealPacket, name: str) -> None:
        self.house, self.name = house, name
        marit.accounts.add(name, RIGHT, ["reader"])
        self.browser = plain_http.client(base_url=f"{house.address}/api/v1")
        self.me = self.browser.post("/sign-in", json={"name": name, "password": RIGHT}).json()
        self.client = SealPacket(
            house.address, make_token(house.address, name, RIGHT, "laptop").token
        )
        self.calendar = self.client.new_calendar()

    def ways_in(self) -> list[bool]:
        """Whether session, token and calendar address still open."""
        try:
            token = bool(self.client.me())
        except Refused:
            token = False
        feed = plain_http.get(self.calendar)
        return [self.browser.get("/me").status_code == 200, token, feed.status_code == 200]


def test_whoever_leaves_is_out_at_once(house: RunningHouse, marit: SealPacket) -> None:
    leaver = Someone(house, marit, "leaver")
    assert leaver.ways_in() == [True, True, True]
    shown = next(one for one in marit.accounts.list() if one.name == "leaver")
    assert (shown.sessions, shown.tokens, shown.active) == (1, 1, True)
    assert not marit.accounts.change("leaver", active=False).active
    assert leaver.ways_in() == [False, False, False]
    with pytest.raises(Refused) as caught:
        make_token(house.address, "leaver", RIGHT, "again")
    assert caught.value.code == "wrong-sign-in"
    assert marit.accounts.change("leaver", active=True).active
    assert make_token(house.address, "leaver", RIGHT, "again").token


def test_a_new_password_ends_what_the_old_one_opened(
    house: RunningHouse, marit: SealPacket
) -> None:
    lost = Someone(house, marit, "lost")
    with pytest.raises(Refused) as caught:
        lost.client.change_password("not the password", "another-long-secret")
    assert caught.value.code == "wrong-sign-in"
    assert lost.ways_in() == [True, True, True]
    lost.client.change_password(RIGHT, "another-long-secret")
    assert lost.ways_in() == [False, False, False]
    assert make_token(house.address, "lost", "another-long-secret", "again").token


def test_signed_out_everywhere_by_oneself_or_an_administrator(
    house: RunningHouse, marit: SealPacket, teo: SealPacket
) -> None:
    roamer = Someone(house, marit, "roamer")
    with pytest.raises(Refused) as caught:
        teo.accounts.sign_out_everywhere("roamer")
    assert caught.value.code == "not-allowed"
    roamer.client.accounts.sign_out_everywhere("roamer")
    assert roamer.ways_in() == [False, False, False]


def test_tokens_are_listed_with_their_last_use_and_revoked_one_by_one(
    house: RunningHouse, marit: SealPacket
) -> None:
    keeper = Someone(house, marit, "tokens")
    other = SealPacket(
        house.address, make_token(house.address, "tokens", RIGHT, "script", rights=["read"]).token
    )
    found = {one.purpose: one for one in keeper.client.tokens.list()}
    assert (found["script"].rights, found["script"].seen_at) == (["read"], None)
    assert found["laptop"].seen_at
    assert {one.purpose for one in marit.tokens.list("tokens")} == {"laptop", "script"}
    with pytest.raises(Refused):
        other.tokens.list("marit")
    keeper.client.tokens.revoke(found["script"].id)
    with pytest.raises(Refused):
        other.me()
    assert keeper.client.me().name == "tokens"


def test_a_token_that_may_only_read_changes_nothing(house: RunningHouse) -> None:
    token = make_token(
        house.address, "teo", house.sign_ins["teo"], "dashboards", rights=["read"]
    ).token
    with SealPacket(house.address, token) as reads:
        assert reads.today().day
        with pytest.raises(Refused) as caught:
            reads.packets.note("Nothing in particular", asset=ARRAY)
    assert caught.value.code == "token-rights"


def test_a_token_does_what_it_was_made_for(
    house: RunningHouse, marit: SealPacket, sealed: PacketShown
) -> None:
    def come_with(*rights: str) -> SealPacket:
        token = make_token(house.address, "marit", house.sign_ins["marit"], "limits", rights=rights)
        assert token.rights == [
            one for one in ("read", "prepare", "send", "keep") if one in {"read", *rights}
        ]
        return SealPacket(house.address, token.token)

    def refused(act: Callable[[], object]) -> bool:
        try:
            act()
        except Refused as problem:
            assert problem.code == "token-rights", problem
            return True
        return False

    lodge, note, keep = come_with("send"), come_with("prepare"), come_with("keep")
    number = sealed.number
    assert refused(lambda: note.packets.lodge(number))
    assert refused(lambda: keep.packets.note("Not by this token", NOTE, asset=ARRAY))
    assert refused(lambda: lodge.packets.note("Not by this token", NOTE, asset=ARRAY))
    assert refused(lambda: lodge.sites.change("fennel-lane", 1, name="Elsewhere"))
    assert not refused(lambda: note.packets.note("By this one", NOTE, asset=ARRAY))
    assert not refused(lambda: keep.accounts.list())
    assert not refused(lambda: lodge.packets.lodge(number))


def test_a_program_comes_in_by_tokens_only(house: RunningHouse, marit: SealPacket) -> None:
    made = marit.accounts.add("nightly-report", None, ["reader"], kind="program")
    assert (made.kind, made.ways) == ("program", [])
    token = marit.tokens.add("nightly-report", "reports", ["read"], days=366)
    assert (token.expires_at - datetime.now(UTC)).days >= 364
    with SealPacket(house.address, token.token) as program:
        assert program.me().name == "nightly-report"
        with pytest.raises(Refused) as caught:
            program.tokens.add("nightly-report", "one more", ["read"])
        assert caught.value.code in ("not-allowed", "token-rights")
    for act in (
        lambda: marit.accounts.change("nightly-report", password="a-password-for-a-program"),
        lambda: marit.accounts.add(
            "another-program", "a-password-for-it", ["reader"], kind="program"
        ),
        lambda: marit.accounts.add("somebody-without", None, ["reader"]),
        lambda: make_token(house.address, "nightly-report", "", "by nothing"),
        lambda: marit.tokens.add("teo", "for somebody else"),
        lambda: marit.tokens.add("marit", "by a token"),
    ):
        with pytest.raises(Refused):
            act()
    marit.accounts.change("nightly-report", active=False)
    with pytest.raises(Refused), SealPacket(house.address, token.token) as program:
        program.me()


def test_a_session_makes_tokens_for_itself(house: RunningHouse, browser: httpx.Client) -> None:
    csrf = enter(house, browser, "teo").json()["csrf"]
    made = browser.post(
        "/accounts/teo/tokens",
        json={"purpose": "from the console", "rights": ["prepare"], "days": 400},
        headers={"X-CSRF-Token": csrf},
    )
    assert made.status_code == 422
    made = browser.post(
        "/accounts/teo/tokens",
        json={"purpose": "from the console", "rights": ["prepare"], "days": 300},
        headers={"X-CSRF-Token": csrf},
    )
    assert made.status_code == 201
    assert made.json()["rights"] == ["read", "prepare"]
    ends = datetime.fromisoformat(made.json()["expires_at"])
    assert ends - datetime.now(UTC) < timedelta(days=91)


def test_the_last_administrator_stays_one(house: RunningHouse, marit: SealPacket) -> None:
    for other in [
        one.name for one in marit.accounts.list() if "admin" in one.roles and one.name != "marit"
    ]:
        marit.accounts.change(other, roles=["reader"])
    for change in ({"roles": ["keeper"]}, {"active": False}):
        with pytest.raises(Refused) as caught:
            marit.accounts.change("marit", **change)
        assert caught.value.code == "last-admin"
    assert marit.me().name == "marit"


def test_a_session_that_lies_idle_ends(house: RunningHouse, browser: httpx.Client) -> None:
    import psycopg

    enter(house, browser, "pauli")
    with psycopg.connect(house.cluster.owner_url.replace("+psycopg", "")) as connection:
        connection.execute("UPDATE session SET seen_at = now() - interval '3 hours'")
    assert browser.get("/me").status_code == 401


def test_no_service_is_told_as_such() -> None:
    with pytest.raises(NoService) as caught:
        SealPacket("http://127.0.0.1:9", "x").me()
    assert "make demo" in caught.value.remedy


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
    answer = plain_http.get(house.address)
    policy = answer.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self';" in policy
    assert "frame-ancestors 'none'" in policy
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    assert plain_http.get(f"{house.address}/api/v1/health").headers["Cache-Control"] == "no-store"


@pytest.mark.parametrize(
    "path",
    [
        "/../pyproject.toml",
        "/static/../../package.json",
        "/%2e%2e/%2e%2e/etc/passwd",
        "/static/nothing.js",
    ],
)
def test_only_the_console_is_served(house: RunningHouse, path: str) -> None:
    answer = plain_http.get(house.address + path)
    assert answer.status_code in (200, 404)
    assert "sealpacket-console" not in answer.text
    assert "root:" not in answer.text
