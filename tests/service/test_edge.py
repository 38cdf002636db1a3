"""What comes in at the edge: control characters, depth, methods and headers; what is refused says so and is no 500."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any
from uuid import uuid4

import httpx
import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import ARRAY, NOTE, authorization, reference_of

CANARY = "CANARY-hunter2-secret"


@pytest.fixture
def api(house: RunningHouse, marit: SealPacket) -> httpx.Client:
    """A plain client with Marit's token."""
    token = authorization(marit)["Authorization"]
    return plain_http.client(
        base_url=f"{house.address}/api/v1",
        headers={"Authorization": token},
    )


def log_of(house: RunningHouse) -> str:
    return "".join(
        path.read_text("utf-8", "replace") for path in Path(house.folder, "log").glob("*.log")
    )


@pytest.mark.parametrize(
    ("method", "path", "body", "field"),
    [
        ("POST", "/packets", {"title": "Bell", "note": f"password {CANARY}\0 and more"}, "note"),
        ("POST", "/packets", {"title": "Bell\7ringer"}, "title"),
        ("POST", "/sign-in", {"name": "nul\0byte", "password": "x"}, "name"),
        ("POST", "/tokens", {"name": "marit", "password": "x", "purpose": "a\x9bb"}, "purpose"),
        ("POST", "/vendors", {"key": "ctl1", "name": "Bell\7 Ltd"}, "name"),
        ("POST", "/coverage/list", {"assets": ["a\0"]}, "assets.0"),
        ("PUT", "/packets/P-0001/answers", {"answers": {"im\0pact": "x"}}, "answers"),
        ("GET", "/packets?q=%00", None, "q"),
        ("GET", "/packets?asset=%00", None, "asset"),
        ("GET", "/find?q=%07", None, "q"),
        ("GET", "/vendors/%00", None, "the address"),
        ("GET", "/coverage?asset=a%00", None, "asset"),
    ],
)  # fmt: skip
def test_control_characters_are_refused_by_name(
    api: httpx.Client, house: RunningHouse, method: str, path: str, body: Any, field: str
) -> None:
    answer = api.request(method, path, json=body)
    assert (answer.status_code, answer.json()["code"]) == (422, "control-character"), answer.text
    assert answer.json()["field"] == field
    assert answer.json()["remedy"]
    assert CANARY not in log_of(house)


@pytest.mark.parametrize(
    "content",
    [
        "[" * 200_000,
        '{"a":' * 200_000,
        '"a text"',
        '{"name": NaN, "password": "x"}',
        '"{\\"name\\": \\"a\\\\u0000\\"}"',
    ],
)
def test_a_body_that_no_parser_should_follow_is_refused(api: httpx.Client, content: str) -> None:
    if len(content) > 60_000:
        content = content[:60_000]
    answer = api.post("/sign-in", content=content, headers={"Content-Type": "application/json"})
    assert (answer.status_code, answer.json()["code"]) == (422, "bad-json"), answer.text


def test_half_a_character_is_refused(api: httpx.Client) -> None:
    body = r'{"title": "Half \ud800 a letter"}'
    answer = api.post("/packets", content=body, headers={"Content-Type": "application/json"})
    assert answer.json()["code"] == "control-character"


def test_what_the_database_refuses_leaves_no_value_in_a_log(house: RunningHouse) -> None:
    from sqlalchemy import text

    from sealpacket.core.errors import Invalid
    from sealpacket.store.database import Database

    with (
        pytest.raises(Invalid) as caught,
        Database(house.cluster.service_url).transaction() as session,
    ):
        session.execute(text("SELECT :it"), {"it": f"{CANARY}\0"})
    assert CANARY not in str(caught.value.__cause__)


def test_lines_stay_lines(marit: SealPacket) -> None:
    noted = marit.packets.note("Two\r\nlines of a  title", NOTE, asset=ARRAY)
    assert noted.title == "Two lines of a  title"
    vendor = marit.vendors.add(key=f"v{uuid4().hex[:8]}", name="Lines of a vendor")
    login = marit.logins.add(vendor=vendor.key, name="crlf@x.example\r\nX: y", contracts=[])
    assert login.name == "crlf@x.example X: y"


def test_an_imported_row_with_a_control_character_is_a_fault_of_that_row(
    marit: SealPacket, tmp_path: Path
) -> None:
    path = tmp_path / "people.csv"
    path.write_text(
        'key,name,mail\nbell,"Bell\7 Ringer",b@quillmere.example\nall,All Right,a@quillmere.example\n'
    )
    read = marit.imports.wait(marit.imports.begin("person", path).id)
    rows = {row.row: row for row in marit.imports.rows(read.id)}
    assert "control character (U+0007)" in rows[2].faults[0].sentence
    assert rows[3].outcome == "new"


def test_one_bad_record_breaks_no_workbook() -> None:
    from openpyxl import load_workbook

    from sealpacket.core.tables import write_table

    file = b"".join(
        write_table([{"key": "bell", "name": "Bell\7\0 Ltd"}], ["key", "name"], "xlsx", "vendors")
    )
    assert load_workbook(io.BytesIO(file)).active["B2"].value == "Bell\ufffd\ufffd Ltd"


def test_long_and_strange_addresses(house: RunningHouse) -> None:
    with plain_http.client(base_url=house.address) as client:
        assert client.get("/packets/" + "a" * 300).status_code == 200
        assert client.get("/" + "a" * 300).status_code == 404
        assert client.get("/api/v1/nothing").json()["code"] == "not-found"
        wrong = client.request("DELETE", "/api/v1/tokens")
        assert wrong.status_code == 405
        assert "POST" in wrong.headers["Allow"]
        options = client.request("OPTIONS", "/api/v1/packets")
        assert options.status_code == 200
        assert {"GET", "POST"} <= set(options.headers["Allow"].replace(" ", "").split(","))


def test_headers_keep_the_page_to_itself(house: RunningHouse) -> None:
    with plain_http.client(base_url=house.address) as client:
        page, again = client.get("/"), client.get("/")
    policy = page.headers["Content-Security-Policy"]
    assert "unsafe" not in policy
    nonce = policy.split("'nonce-")[1].split("'")[0]
    assert f'content="{nonce}"' in page.text
    assert policy != again.headers["Content-Security-Policy"]
    assert (
        page.headers["Cross-Origin-Opener-Policy"]
        == page.headers["Cross-Origin-Resource-Policy"]
        == "same-origin"
    )
    assert "camera=()" in page.headers["Permissions-Policy"]
    assert "gunicorn" not in page.headers["Server"]


def test_a_plan_is_read_with_the_same_guards_as_a_sheet(marit: SealPacket) -> None:
    number = marit.redaction_plan().number
    for text in ("name: 2026-99-99", "name: " + "1" * 900_000, "forbid: [" + "a," * 400_000 + "a]", "a: &x 1\nb: *x",
                 "[" * 100_000, 'forbid: ["a\\0b"]'):  # fmt: skip
        with pytest.raises(Refused) as caught:
            marit.put_redaction_plan(text, number)
        assert caught.value.code in (
            "plan-yaml",
            "plan-too-large",
            "plan-alias",
            "plan-nested",
            "invalid",
        )
    assert marit.redaction_plan().number == number


def test_errors_are_declared_as_what_they_are(house: RunningHouse) -> None:
    reference = reference_of(house)
    responses = reference["components"]["responses"]
    assert {tuple(one["content"]) for one in responses.values()} == {("application/problem+json",)}
    for path, operations in reference["paths"].items():
        for method, operation in operations.items():
            answers = operation["responses"]
            assert answers["default"] == {"$ref": "#/components/responses/ProblemAny"}
            wrong = {status: body for status, body in answers.items() if status[0] in "45"}
            assert wrong == {
                status: {"$ref": f"#/components/responses/Problem{status}"} for status in wrong
            }
            assert {f"Problem{status}" for status in wrong} <= set(responses)
            assert "404" in wrong or "{" not in path, (method, path)
    sent = reference["paths"]["/api/v1/packets/{number}/exhibits/{name}/content"]["put"][
        "responses"
    ]
    assert {"408", "413"} <= set(sent), "an upload can be too large or too slow"


@pytest.mark.parametrize("day", ["0", "1e9", "20261128", "2026-13-01", "tomorrow"])
def test_a_day_is_a_day(api: httpx.Client, day: str) -> None:
    answer = api.get("/coverage", params={"asset": ARRAY, "day": day})
    assert (answer.status_code, answer.json()["field"]) == (422, "day")
