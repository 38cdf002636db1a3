"""The way to a desk, against desks that misbehave: nothing goes where it was not configured to go."""

from __future__ import annotations

import gzip
import json
import socket
import threading
from collections.abc import Callable, Iterator
from contextlib import suppress
from typing import Any

import pytest
from flask import Flask, Response, jsonify, redirect, request
from werkzeug.serving import make_server

from sealpacket.channels import (
    Desk,
    DeskAway,
    DeskRefused,
    Login,
    Outgoing,
    Parcel,
    Update,
    open_desk,
    wire,
)
from sealpacket.channels.http import HttpDesk
from sealpacket.core.errors import Conflict
from sealpacket.core.outgoing import OutgoingText
from sealpacket.core.sheets import Case, Sheet, load_sheet
from sealpacket.demo.cluster import free_port
from sealpacket.demo.world import sheet_text

SHEET = load_sheet(sheet_text("tarnfell-support"))


class BadDesk:
    """A desk on a real socket whose answers a test decides; it notes what it was asked."""

    def __init__(self) -> None:
        self.port = free_port()
        self.asked: list[tuple[str, str, dict[str, str], bytes]] = []
        self.answer: Callable[[], Any] = lambda: jsonify({})
        app = Flask("bad-desk")

        @app.route("/", defaults={"path": ""}, methods=["GET", "POST", "PUT", "PATCH", "HEAD"])
        @app.route("/<path:path>", methods=["GET", "POST", "PUT", "PATCH", "HEAD"])
        def anything(path: str) -> Any:
            self.asked.append(
                (request.method, "/" + path, dict(request.headers), request.get_data())
            )
            return self.answer()

        self._server = make_server("127.0.0.1", self.port, app, threaded=True)
        threading.Thread(target=self._server.serve_forever, daemon=True).start()

    @property
    def address(self) -> str:
        """Where it listens."""
        return f"http://127.0.0.1:{self.port}"

    def close(self) -> None:
        """No more."""
        self._server.shutdown()


@pytest.fixture
def bad() -> Iterator[BadDesk]:
    """A desk that misbehaves."""
    desk = BadDesk()
    yield desk
    desk.close()


@pytest.fixture
def other() -> Iterator[BadDesk]:
    """Somebody else's machine."""
    desk = BadDesk()
    yield desk
    desk.close()


def way(bad: BadDesk, timeout: float = 5.0) -> Desk:
    """The way to it."""
    return open_desk(SHEET, bad.address, Login("us", "the-token", timeout))


def parcel(body: dict[str, Any], files: list[Outgoing]) -> Parcel:
    """A case of packet P-0001."""
    return Parcel("P-0001", "P-0001", Case(body=body), files)


def outgoing(content: bytes, already: str | None = None) -> tuple[Outgoing, list[str]]:
    """A file that goes out, and what was to be remembered of it."""
    remembered: list[str] = []

    def blocks(start: int) -> Iterator[bytes]:
        yield content[start:]

    return Outgoing("a.log", len(content), "0" * 64, blocks, already, remembered.append), remembered


def send(desk: Desk, content: bytes, already: str | None = None) -> tuple[str, list[str]]:
    """Upload some content; its location, and what was to be remembered."""
    file, remembered = outgoing(content, already)
    assert isinstance(desk, HttpDesk)
    files = desk._way.files
    assert files is not None
    return desk._tus(files, file), remembered


def test_the_case_goes_with_token_and_key(bad: BadDesk) -> None:
    bad.answer = lambda: jsonify({"case": {"reference": "TS-1"}})
    with way(bad) as desk:
        assert desk.lodge(parcel({"case": {}}, [])) == {"case": {"reference": "TS-1"}}
    method, path, headers, body = bad.asked[0]
    assert (method, path) == ("POST", "/cases")
    assert headers["Authorization"] == "Bearer the-token"
    assert headers["Idempotency-Key"] == "P-0001"
    assert body == b'{"case":{}}'


def test_a_reference_cannot_lead_to_another_path(bad: BadDesk) -> None:
    with way(bad) as desk:
        desk.follow("../../admin?x=1#y")
    assert bad.asked[0][1] == "/cases/../../admin?x=1#y"
    assert len(bad.asked) == 1


def test_what_has_not_changed_is_not_read_again(bad: BadDesk) -> None:
    tag = '"a-7"'
    bad.answer = lambda: Response('{"case": {"status": "OPEN"}}', headers={"ETag": tag})
    with way(bad) as desk:
        said = desk.follow("TS-1")
        assert (said.body, said.mark) == ({"case": {"status": "OPEN"}}, tag)
        bad.answer = lambda: Response(status=304)
        again = desk.follow("TS-1", said.mark)
    assert (again.body, again.mark) == (None, tag)
    assert bad.asked[-1][2]["If-None-Match"] == tag


def test_a_mark_that_could_not_be_sent_back_is_none(bad: BadDesk) -> None:
    for tag in ("a-7", '"' + "a" * 300 + '"', 'W/"a b"'):
        bad.answer = lambda tag=tag: Response("{}", headers={"ETag": tag})  # type: ignore[misc]
        with way(bad) as desk:
            assert desk.follow("TS-1").mark == ""


def test_not_changed_for_one_who_has_seen_nothing_is_a_fault(bad: BadDesk) -> None:
    bad.answer = lambda: Response(status=304)
    with way(bad) as desk, pytest.raises(DeskRefused):
        desk.follow("TS-1")


def test_redirects_are_not_followed(bad: BadDesk, other: BadDesk) -> None:
    bad.answer = lambda: redirect(other.address + "/steal", 307)
    with way(bad) as desk, pytest.raises(DeskRefused) as caught:
        desk.lodge(parcel({"case": {}}, []))
    assert caught.value.status == 307
    assert other.asked == []


def test_an_upload_is_not_sent_to_another_host(bad: BadDesk, other: BadDesk) -> None:
    bad.answer = lambda: Response(status=201, headers={"Location": other.address + "/uploads/1"})
    with way(bad) as desk, pytest.raises(DeskAway):
        send(desk, b"content")
    assert other.asked == []


@pytest.mark.parametrize("status", [408, 425, 429, 500, 502, 503])
def test_what_will_pass_is_told_apart(bad: BadDesk, status: int) -> None:
    bad.answer = lambda: ("later", status)
    with way(bad) as desk, pytest.raises(DeskAway, match=str(status)):
        desk.follow("TS-1")


@pytest.mark.parametrize("status", [300, 400, 401, 403, 404, 409, 413, 422])
def test_from_what_will_not(bad: BadDesk, status: int) -> None:
    bad.answer = lambda: (jsonify({"errors": [{"code": "no"}]}), status)
    with way(bad) as desk, pytest.raises(DeskRefused) as caught:
        desk.follow("TS-1")
    assert (caught.value.status, caught.value.body) == (status, {"errors": [{"code": "no"}]})


@pytest.mark.parametrize("text", ["not json", "", "<html>", " " * 2000, "[" * 5000])
def test_an_answer_that_cannot_be_read_is_told(bad: BadDesk, text: str) -> None:
    bad.answer = lambda: text
    with way(bad) as desk, pytest.raises(DeskAway, match="cannot be read"):
        desk.follow("TS-1")


def test_an_answer_without_end_is_not_read(bad: BadDesk) -> None:
    bad.answer = lambda: '{"a": "' + "x" * (9 << 20) + '"}'
    with way(bad) as desk, pytest.raises(DeskAway, match="more than 8 MB"):
        desk.follow("TS-1")


def test_an_answer_that_is_packed_is_not_unpacked(bad: BadDesk) -> None:
    packed = gzip.compress(b"{}" + b" " * (64 << 20))
    bad.answer = lambda: Response(
        packed, headers={"Content-Encoding": "gzip"}, content_type="application/json"
    )
    with way(bad) as desk, pytest.raises(DeskAway, match="packed"):
        desk.follow("TS-1")
    assert bad.asked[0][2]["Accept-Encoding"] == "identity"


@pytest.mark.parametrize(
    "drops",
    [
        b"HTTP/1.1 200 OK\r\nX-Slow: " + b"x" * 400,
        b"HTTP/1.1 200 OK\r\nContent-Length: 4000\r\n\r\n" + b" " * 400,
        b"HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n" + b"1\r\n \r\n" * 100,
    ],
    ids=["head", "body", "chunks"],
)
@pytest.mark.parametrize("ask", ["a case", "a file"])
def test_a_desk_that_drips_is_given_up_in_time(drops: bytes, ask: str) -> None:
    """One byte now and then keeps every timeout between two bytes from passing; the call as a whole ends all the same."""
    over, sent = threading.Event(), []
    with socket.create_server(("127.0.0.1", 0)) as server:

        def drip() -> None:
            with suppress(OSError):
                client, _ = server.accept()
                client.recv(65536)
                for byte in drops:
                    if over.wait(0.1):
                        break
                    client.send(bytes([byte]))
                    sent.append(byte)

        threading.Thread(target=drip, daemon=True).start()
        address = f"http://127.0.0.1:{server.getsockname()[1]}"
        with (
            open_desk(SHEET, address, Login("us", "x", 0.5)) as desk,
            pytest.raises(DeskAway, match="in time"),
        ):
            desk.follow("TS-1") if ask == "a case" else list(desk.fetch("/files/1"))
        over.set()
    assert len(sent) < len(drops), "it is not the desk that ended it"


def test_a_file_that_is_too_large_is_refused_once(
    bad: BadDesk, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(wire, "LARGEST_FILE", 1_000_000)
    bad.answer = lambda: Response(b"x" * 1_000_001)
    with way(bad) as desk, pytest.raises(Conflict, match="more than 1 MB") as refused:
        list(desk.fetch("/files/1"))
    assert refused.value.code == "too-large"
    bad.answer = lambda: Response(b"x" * 1_000_000)
    with way(bad) as desk:
        assert sum(map(len, desk.fetch("/files/1"))) == 1_000_000


def test_a_slow_desk_is_given_up(bad: BadDesk) -> None:
    given_up = threading.Event()

    def slowly() -> str:
        given_up.wait(60)
        return "{}"

    bad.answer = slowly
    with way(bad, timeout=0.3) as desk, pytest.raises(DeskAway, match="did not answer in time"):
        desk.follow("TS-1")
    given_up.set()


def test_a_dead_desk_is_told() -> None:
    with (
        open_desk(SHEET, f"http://127.0.0.1:{free_port()}", Login("us", "x", 2)) as desk,
        pytest.raises(DeskAway, match="cannot be reached"),
    ):
        desk.follow("TS-1")


@pytest.mark.parametrize(
    "address", ["file:///etc/passwd", "ftp://127.0.0.1/", "http://", "nonsense"]
)
def test_only_http_addresses_are_ways_to_a_desk(address: str) -> None:
    with pytest.raises(DeskAway, match="not one of HTTP"):
        open_desk(SHEET, address, Login("us", "x", 2))


def tus(bad: BadDesk, offsets: list[str], head: Response | None = None) -> None:
    """A tus server that answers PATCHes with these offsets, one after the other."""

    def answer() -> Response:
        if request.method == "POST":
            return Response(status=201, headers={"Location": "/uploads/1"})
        if request.method == "HEAD":
            return head or Response(status=404)
        return Response(status=204, headers={"Upload-Offset": offsets.pop(0)})

    bad.answer = answer


def test_an_upload_is_begun_and_remembered(bad: BadDesk) -> None:
    tus(bad, ["7"])
    with way(bad) as desk:
        location, remembered = send(desk, b"content")
    assert remembered == [location] == [bad.address + "/uploads/1"]
    assert [(m, h.get("Upload-Offset")) for m, _, h, _ in bad.asked] == [
        ("POST", None),
        ("PATCH", "0"),
    ]


def test_an_upload_goes_on_at_the_offset_that_the_desk_tells(bad: BadDesk) -> None:
    tus(bad, ["7"], Response(status=200, headers={"Upload-Offset": "4"}))
    with way(bad) as desk:
        _, remembered = send(desk, b"content", already=bad.address + "/uploads/1")
    assert remembered == []
    assert (bad.asked[-1][2]["Upload-Offset"], bad.asked[-1][3]) == ("4", b"ent")


def test_an_upload_that_the_desk_has_forgotten_is_begun_again(bad: BadDesk) -> None:
    tus(bad, ["7"])
    with way(bad) as desk:
        _, remembered = send(desk, b"content", already=bad.address + "/uploads/old")
    assert len(remembered) == 1


@pytest.mark.parametrize("offset", ["3", "", "x", "99"])
def test_an_upload_that_did_not_arrive_whole_is_no_upload(bad: BadDesk, offset: str) -> None:
    tus(bad, [offset])
    with way(bad) as desk, pytest.raises(DeskAway):
        send(desk, b"content")


def test_a_large_attachment_goes_in_pieces(bad: BadDesk) -> None:
    size = 9 << 20
    tus(bad, [str(4 << 20), str(8 << 20), str(size)])
    with way(bad) as desk:
        send(desk, b"x" * size)
    assert [len(body) for method, _, _, body in bad.asked if method == "PATCH"] == [
        4 << 20,
        4 << 20,
        1 << 20,
    ]


def test_a_refused_upload_is_a_refusal(bad: BadDesk) -> None:
    bad.answer = lambda: (jsonify({"errors": [{"code": "too_large"}]}), 413)
    with way(bad) as desk, pytest.raises(DeskRefused) as caught:
        send(desk, b"content")
    assert caught.value.status == 413


def files_sent(**files: Any) -> Sheet:
    """Tarnfell's sheet with its files sent in another way."""
    text = sheet_text("tarnfell-support")
    old = "  files: {sent: before, by: tus, path: /uploads, list_in: attachments}\n"
    assert old in text
    return load_sheet(text.replace(old, f"  files: {json.dumps(files)}\n"))


@pytest.mark.parametrize(
    ("files", "method", "path", "listed"),
    [
        ({"by": "post", "path": "/blobs", "id": "$.key"}, "POST", "/blobs", "k-1"),
        ({"by": "post", "path": "/blobs/{name}"}, "POST", "/blobs/a.log", "/blobs/l-1"),
        ({"by": "put", "path": "/blobs/{name}"}, "PUT", "/blobs/a.log", "/blobs/l-1"),
        ({"by": "multipart", "path": "/blobs", "field": "part", "id": "$.key"}, "POST", "/blobs", "k-1"),
    ],
)  # fmt: skip
def test_files_go_before_the_case_that_lists_them(
    bad: BadDesk, files: dict[str, str], method: str, path: str, listed: str
) -> None:
    bad.answer = lambda: Response(
        json.dumps({"key": "k-1", "case": {"reference": "TS-1"}}), 201, {"Location": "/blobs/l-1"}
    )
    sheet = files_sent(
        sent="before", list_in="evidence", entry={"at": {"take": "file.location"}}, **files
    )
    file, remembered = outgoing(b"content")
    with open_desk(sheet, bad.address, Login("us", "x", 5)) as desk:
        desk.lodge(parcel({"a": 1}, [file]))
    assert [(one[0], one[1]) for one in bad.asked] == [(method, path), ("POST", "/cases")]
    assert b"content" in bad.asked[0][3]
    assert json.loads(bad.asked[1][3]) == {"a": 1, "evidence": [{"at": listed}]}
    assert remembered == [listed]


@pytest.mark.parametrize(
    ("by", "method"), [("put", "PUT"), ("post", "POST"), ("multipart", "POST")]
)
def test_files_go_below_the_case_after_it(bad: BadDesk, by: str, method: str) -> None:
    bad.answer = lambda: jsonify({"case": {"reference": "TS/1"}})
    sheet = files_sent(sent="after", by=by, path="/cases/{reference}/files/{name}")
    with open_desk(sheet, bad.address, Login("us", "x", 5)) as desk:
        desk.lodge(parcel({"a": 1}, [outgoing(b"content")[0]]))
    assert [(one[0], one[1]) for one in bad.asked] == [
        ("POST", "/cases"),
        (method, "/cases/TS/1/files/a.log"),
    ]
    assert b"content" in bad.asked[1][3]
    assert json.loads(bad.asked[0][3]) == {"a": 1}


def test_a_desk_that_does_not_say_what_it_calls_a_file_is_tried_again(bad: BadDesk) -> None:
    sheet = files_sent(sent="before", by="post", path="/blobs", list_in="evidence")
    with (
        open_desk(sheet, bad.address, Login("us", "x", 5)) as desk,
        pytest.raises(DeskAway, match="did not say what it calls it"),
    ):
        desk.lodge(parcel({"a": 1}, [outgoing(b"content")[0]]))


FORM = load_sheet(sheet_text("ovenbird-support"))


def test_a_form_goes_in_one_request_with_name_and_secret(bad: BadDesk) -> None:
    said: dict[str, Any] = {}

    def read() -> Response:
        said["fields"] = request.form.to_dict()
        said["files"] = [(file.filename, file.read()) for file in request.files.getlist("file")]
        said["who"] = (
            (request.authorization.username, request.authorization.password)
            if request.authorization
            else None
        )
        return jsonify({"request_id": "OBR-1"})

    bad.answer = read
    with open_desk(FORM, bad.address, Login("teo@quillmere.example", "söcret", 5)) as desk:
        assert desk.lodge(parcel({"subject": "Größe", "none": 3}, [outgoing(b"content")[0]])) == {
            "request_id": "OBR-1"
        }
        first = dict(said)
        values = {"message.text": OutgoingText("It is 12.1.")}
        desk.tell(Update("key-1", "P-0001", "OBR-1", "comment", values))
    assert first == {
        "fields": {"subject": "Größe", "none": "3"},
        "files": [("a.log", b"content")],
        "who": ("teo@quillmere.example", "söcret"),
    }
    assert said["fields"] == {"body": "It is 12.1.", "key": "key-1"}
    assert [(method, path) for method, path, _, _ in bad.asked] == [
        ("POST", "/requests"),
        ("POST", "/requests/OBR-1/notes"),
    ]
    assert all(
        headers["Content-Type"].startswith("multipart/form-data") for _, _, headers, _ in bad.asked
    )


def test_a_form_desk_that_says_no_is_told_with_its_reasons(bad: BadDesk) -> None:
    bad.answer = lambda: (
        jsonify({"problems": [{"kind": "missing", "message": "serial_no is needed."}]}),
        422,
    )
    with (
        open_desk(FORM, bad.address, Login("us", "x", 5)) as desk,
        pytest.raises(DeskRefused) as caught,
    ):
        desk.lodge(parcel({"subject": "x"}, []))
    assert caught.value.body["problems"][0]["kind"] == "missing"
