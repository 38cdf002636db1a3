"""Tarnfell Storage's support desk, simulated: JSON over HTTP with a bearer token, attachments by tus 1.0.

It behaves like a strict desk written by someone else. Run it with

    python -m sealpacket.standins.tarnfell --port 8501 --folder var/tarnfell --token-file token

Its `/control` is not part of the desk: with it a person makes it ask, answer, close, refuse, be slow or be down.
"""

from __future__ import annotations

import argparse
import base64
import binascii
import contextlib
import hashlib
import hmac
import json
import threading
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from urllib.parse import quote
from urllib.request import ProxyHandler, Request, build_opener
from uuid import uuid4

from flask import Flask, Response, jsonify, request
from jsonschema import Draft202012Validator
from werkzeug.serving import make_server

from sealpacket.standins.control import OPEN, add_control
from sealpacket.standins.marks import add_marks

LARGEST_FILE = 200_000_000
MOST_FILES = 12
FIRMWARE_QUESTION = "Which firmware do both controllers run?"

CASE_SCHEMA: dict[str, Any] = {
    "type": "object",
    "required": ["case"],
    "properties": {
        "case": {
            "type": "object",
            "required": ["headline", "details", "type", "category", "priority", "array_serial", "support_id", "contact",
                         "customer_ref"],
            "additionalProperties": False,
            "properties": {
                "headline": {"type": "string", "minLength": 5, "maxLength": 120},
                "details": {"type": "string", "minLength": 20, "maxLength": 8000},
                "type": {"enum": ["FAULT", "QUERY"]},
                "category": {"type": "array", "items": {"type": "string"}, "minItems": 2, "maxItems": 2},
                "priority": {"enum": ["1", "2", "3", "4"]},
                "array_serial": {"type": "string", "pattern": "^TN[0-9]-[0-9]{5}-[A-Z]$"},
                "support_id": {"type": "string", "pattern": "^TSE-[0-9]{6}$"},
                "release": {"type": "string"},
                "began_at": {"type": "string", "pattern": "^[0-9]{4}-[0-9]{2}-[0-9]{2}T.*([+-][0-9]{2}:[0-9]{2}|Z)$"},
                "time_zone": {"type": "string"},
                "business_effect": {"type": "string", "maxLength": 2000},
                "steps_taken": {"type": "string", "maxLength": 8000},
                "customer_ref": {"type": "string", "maxLength": 40},
                "contact": {
                    "type": "object",
                    "required": ["name", "mail", "phone"],
                    "additionalProperties": False,
                    "properties": {
                        "name": {"type": "string", "minLength": 2},
                        "mail": {"type": "string", "pattern": "^[^@ ]+@[^@ ]+$"},
                        "phone": {"type": "string", "pattern": "^\\+[0-9]{7,15}$"},
                        "language": {"type": "string"},
                        "day_and_night": {"type": "boolean"},
                    },
                },
            },
        },
        "attachments": {
            "type": "array",
            "maxItems": MOST_FILES,
            "items": {
                "type": "object",
                "required": ["upload", "name", "sha256"],
                "properties": {
                    "upload": {"type": "string"},
                    "name": {"type": "string"},
                    "size": {"type": "integer"},
                    "sha256": {"type": "string", "pattern": "^[0-9a-f]{64}$"},
                },
            },
        },
    },
    "additionalProperties": False,
}  # fmt: skip

CATEGORIES = {
    "volume": {"latency", "offline", "capacity"},
    "controller": {"failover", "restart", "clock"},
    "drive": {"failed", "predicted"},
    "connection": {"path-lost", "login"},
    "software": {"upgrade", "question"},
}

ENTITLED = {
    "TN9-44120-A": {"TSE-301877"},
    "TN9-44121-B": {"TSE-301877"},
    "TN4-20933-C": {"TSE-288410"},
}
"""Which serials Tarnfell believes to cover, and under which support ids."""


class Desk:
    """The desk's memory; what matters is written to its folder at once."""

    def __init__(self, folder: Path, token: str, calls: str) -> None:
        self.folder, self.token, self.calls = folder, token, calls
        self.lock = threading.RLock()
        self.mood: dict[str, Any] = {
            "down": False,
            "slow": 0.0,
            "refuse": None,
            "ask_after": 3.0,
            "mute": False,
            "escalate_after": 0.0,
            "file": "%PDF-1.7 how to set the clock",
        }
        folder.mkdir(parents=True, exist_ok=True)
        (folder / "uploads").mkdir(exist_ok=True)
        self._file = folder / "desk.json"
        self.state: dict[str, Any] = {"next": 400117, "cases": {}, "keys": {}, "uploads": {}}
        if self._file.exists():
            self.state = json.loads(self._file.read_text())

    def call(self, case: dict[str, Any]) -> None:
        """Call the customer's webhook, signed with the token; a failed call is lost."""
        if not self.calls or self.mood["down"]:
            return
        body = json.dumps(
            {"case": {"reference": case["reference"], "state": case["state"]}}
        ).encode()
        signature = hmac.new(self.token.encode(), body, "sha256").hexdigest()
        headers = {"Content-Type": "application/json", "X-Tarnfell-Signature": signature}
        call = Request(self.calls, body, headers)  # noqa: S310 - where its operator said
        threading.Thread(target=_post, args=(call,), daemon=True).start()

    def keep(self) -> None:
        """Write the memory down."""
        unfinished = self._file.with_suffix(".part")
        unfinished.write_text(json.dumps(self.state))
        unfinished.replace(self._file)

    def say(
        self, case: dict[str, Any], text: str, *, asks: bool, files: tuple[str, ...] = ()
    ) -> None:
        """Say something to the customer, with files beside it."""
        said = {"id": uuid4().hex[:12], "from": "desk", "text": text, "asks": asks, "at": _now()}
        where = f"/cases/{case['reference']}/files"
        listed = [{"name": name, "at": f"{where}/{quote(name)}"} for name in files]
        case["messages"].append({**said, "files": listed})
        if asks:
            case["state"] = "OVER_TO_YOU"

    def ask_what_is_missing(self, case: dict[str, Any]) -> None:
        """Ask for the firmware of both controllers, some seconds after a fault came in without it."""
        age = time.time() - case["opened"]
        if case["asked"] or case["state"] != "OPEN" or age < self.mood["ask_after"]:
            return
        if case["body"]["case"]["type"] == "FAULT":
            case["asked"] = True
            self.say(case, FIRMWARE_QUESTION, asks=True)
            self.keep()


def _post(request: Request) -> None:
    with contextlib.suppress(OSError), build_opener(ProxyHandler({})).open(request, timeout=5):
        return


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def _no(status: int, code: str, text: str, field: str = "") -> tuple[Response, int]:
    return jsonify({"errors": [{"code": code, "field": field, "text": text}]}), status


def make_desk(folder: Path, token: str, calls: str = "") -> Flask:
    """The desk's web application."""
    app = Flask("tarnfell")
    add_marks(app)
    app.config["MAX_CONTENT_LENGTH"] = 16 << 20
    desk = Desk(folder, token, calls)
    schema = Draft202012Validator(CASE_SCHEMA)

    @app.before_request
    def at_the_door() -> tuple[Response, int] | None:
        if request.path in OPEN:
            return None
        if desk.mood["slow"]:
            time.sleep(float(desk.mood["slow"]))
        if desk.mood["down"]:
            return _no(503, "down", "The desk is closed for maintenance.")
        given = request.headers.get("Authorization", "")
        if not hmac.compare_digest(given.encode(), f"Bearer {desk.token}".encode()):
            return _no(401, "bad_token", "The token is not known at this desk.")
        return None

    _add_uploads(app, desk)
    _add_continuation(app, desk)
    _add_cases(app, desk, schema)
    _add_messages(app, desk)
    _add_acts(app, desk)
    _add_files(app, desk)
    _add_control(app, desk)
    return app


def _tus(status: int, **headers: str) -> Response:
    return Response(status=status, headers={"Tus-Resumable": "1.0.0", **headers})


def _add_uploads(app: Flask, desk: Desk) -> None:
    """tus 1.0: creation."""

    @app.post("/uploads")
    def create() -> Response | tuple[Response, int]:
        if request.headers.get("Tus-Resumable") != "1.0.0":
            return _tus(412, **{"Tus-Version": "1.0.0"})
        try:
            length = int(request.headers["Upload-Length"])
            pairs = dict(
                item.split(" ", 1)
                for item in request.headers.get("Upload-Metadata", "").split(",")
                if item
            )
            name = base64.b64decode(pairs["filename"], validate=True).decode()
        except (KeyError, ValueError, binascii.Error):
            return _no(
                400, "bad_upload", "Upload-Length and a filename in Upload-Metadata are needed."
            )
        if length > LARGEST_FILE:
            return _no(413, "too_large", f"{name} is larger than {LARGEST_FILE} bytes.")
        ident = uuid4().hex
        with desk.lock:
            (desk.folder / "uploads" / ident).touch()
            desk.state["uploads"][ident] = {"name": name, "length": length}
            desk.keep()
        return _tus(201, Location=f"/uploads/{ident}")


def _add_continuation(app: Flask, desk: Desk) -> None:
    """tus 1.0: offset and continuation."""

    @app.route("/uploads/<ident>", methods=["HEAD"])
    def offset(ident: str) -> Response:
        with desk.lock:
            if ident not in desk.state["uploads"]:
                return _tus(404)
            have = (desk.folder / "uploads" / ident).stat().st_size
            length = str(desk.state["uploads"][ident]["length"])
            return _tus(
                200,
                **{
                    "Upload-Offset": str(have),
                    "Upload-Length": length,
                    "Cache-Control": "no-store",
                },
            )

    @app.patch("/uploads/<ident>")
    def patch(ident: str) -> Response:
        if request.content_type != "application/offset+octet-stream":
            return _tus(415)
        with desk.lock:
            upload = desk.state["uploads"].get(ident)
            if upload is None:
                return _tus(404)
            path = desk.folder / "uploads" / ident
            have = path.stat().st_size
            if request.headers.get("Upload-Offset") != str(have):
                return _tus(409)
            data = request.get_data()
            if have + len(data) > upload["length"]:
                return _tus(413)
            with path.open("ab") as file:
                file.write(data)
            return _tus(204, **{"Upload-Offset": str(have + len(data))})


def _add_cases(app: Flask, desk: Desk, schema: Draft202012Validator) -> None:
    @app.post("/cases")
    def open_case() -> Response | tuple[Response, int]:
        key = request.headers.get("Idempotency-Key")
        with desk.lock:
            if key and key in desk.state["keys"]:
                return jsonify({"case": _shown(desk.state["cases"][desk.state["keys"][key]])})
            if desk.mood["refuse"]:
                code, desk.mood["refuse"] = desk.mood["refuse"], None
                return _no(422, code, "The desk does not take this case.")
            body = request.get_json(silent=True)
            fault = _fault_of(body, desk, schema)
            if fault is not None:
                return fault
            reference = f"TS-{desk.state['next']}"
            desk.state["next"] += 1
            case: dict[str, Any] = {
                "reference": reference,
                "state": "OPEN",
                "opened": time.time(),
                "body": body,
                "messages": [],
                "asked": False,
            }
            desk.state["cases"][reference] = case
            if key:
                desk.state["keys"][key] = reference
            desk.keep()
            return (jsonify({}) if desk.mood["mute"] else jsonify({"case": _shown(case)})), 201


def _add_messages(app: Flask, desk: Desk) -> None:
    @app.get("/cases/<reference>")
    def see_case(reference: str) -> Response | tuple[Response, int]:
        with desk.lock:
            case = desk.state["cases"].get(reference)
            if case is None:
                return _no(404, "unknown_case", f"There is no case {reference}.")
            desk.ask_what_is_missing(case)
            return jsonify({"case": _shown(case)})

    @app.post("/cases/<reference>/messages")
    def hear(reference: str) -> Response | tuple[Response, int]:
        with desk.lock:
            case = desk.state["cases"].get(reference)
            if case is None:
                return _no(404, "unknown_case", f"There is no case {reference}.")
            key = request.headers.get("Idempotency-Key") or uuid4().hex
            fault = _hear(desk, case, key, request.get_json(silent=True) or {})
            if fault is not None:
                return fault
            return jsonify({"case": _shown(case)}), 201


def _add_files(app: Flask, desk: Desk) -> None:
    @app.get("/cases/<reference>/files/<path:name>")
    def file(reference: str, name: str) -> Response | tuple[Response, int]:
        with desk.lock:
            case = desk.state["cases"].get(reference, {"messages": []})
            there = [one["name"] for m in case["messages"] for one in m.get("files", ())]
            if name not in there:
                return _no(404, "unknown_file", f"There is no file {name}.")
            content = desk.mood["file"].encode("latin-1")
            return Response(content, mimetype="application/octet-stream")


def _hear(
    desk: Desk, case: dict[str, Any], key: str, said: dict[str, Any]
) -> tuple[Response, int] | None:
    text, files = said.get("text"), said.get("attachments", [])
    if not isinstance(text, str) or not text.strip():
        return _no(422, "missing_field", "A message needs a text.", "text")
    if case["state"] == "CLOSED":
        return _no(409, "closed", "The case is closed; have it opened again first.")
    if desk.mood["refuse"]:
        code, desk.mood["refuse"] = desk.mood["refuse"], None
        return _no(422, code, "The desk does not take this message.")
    faults = (_attachment_fault(attachment, desk) for attachment in files)
    fault = next((one for one in faults if one is not None), None)
    if fault is not None:
        return fault
    have = len(case["body"].get("attachments", [])) + len(case.get("more", []))
    if have + len(files) > MOST_FILES:
        return _no(422, "too_many", f"A case has {MOST_FILES} attachments at most.")
    if all(message["id"] != key for message in case["messages"]):
        case["messages"].append(
            {"id": key, "from": "customer", "text": text, "asks": False, "at": _now()}
        )
        case.setdefault("more", []).extend(one["name"] for one in files)
        if case["state"] == "OVER_TO_YOU":
            case["state"] = "OPEN"
        desk.keep()
    return None


def _add_acts(app: Flask, desk: Desk) -> None:
    """Everything else that a customer can do about a case, each at a path of its own."""

    @app.route("/cases/<reference>", methods=["PATCH"], defaults={"act": "priority"})
    @app.route("/cases/<reference>/<act>", methods=["POST", "PUT"])
    def do(reference: str, act: str) -> Response | tuple[Response, int]:
        if act not in ACTS:
            return _no(404, "unknown", f"There is no {act} here.")
        with desk.lock:
            case = desk.state["cases"].get(reference)
            if case is None:
                return _no(404, "unknown_case", f"There is no case {reference}.")
            key = request.headers.get("Idempotency-Key") or uuid4().hex
            if key not in case.setdefault("done", []):
                fault = ACTS[act](desk, case, request.get_json(silent=True) or {})
                if fault is not None:
                    return _no(*fault)
                case["done"].append(key)
                desk.keep()
            return jsonify({"case": _shown(case)})


Fault = tuple[int, str, str] | None


def _set_priority(_desk: Desk, case: dict[str, Any], body: dict[str, Any]) -> Fault:
    wanted = str(body.get("priority", ""))
    if wanted not in ("1", "2", "3", "4"):
        return 422, "bad_field", "priority is from 1 to 4."
    if case["state"] == "CLOSED":
        return 409, "closed", "The case is closed."
    if wanted == "1" and not case["body"]["case"]["contact"].get("day_and_night"):
        return 422, "nobody_at_night", "Priority 1 needs a contact reachable day and night."
    case["body"]["case"]["priority"] = wanted
    return None


def _escalate(desk: Desk, case: dict[str, Any], body: dict[str, Any]) -> Fault:
    if not str(body.get("why", "")).strip():
        return 422, "missing_field", "An escalation says why."
    if time.time() - case["opened"] < desk.mood["escalate_after"]:
        return 409, "too_early", "The first answer is not due yet."
    case["escalated"] = body["why"]
    return None


def _set_contact(_desk: Desk, case: dict[str, Any], body: dict[str, Any]) -> Fault:
    if not body.get("name") or "@" not in str(body.get("mail", "")):
        return 422, "bad_field", "A contact has a name and a mail address."
    case["body"]["case"]["contact"] = {**case["body"]["case"]["contact"], **body}
    return None


def _verdict(_desk: Desk, case: dict[str, Any], body: dict[str, Any]) -> Fault:
    if case["state"] != "REMEDY_SENT":
        return 409, "no_solution", "No solution is offered."
    case["state"] = "CLOSED" if body.get("accepted") else "OPEN"
    case["verdict"] = body
    return None


def _rate(_desk: Desk, case: dict[str, Any], body: dict[str, Any]) -> Fault:
    if body.get("stars") not in (1, 2, 3, 4, 5):
        return 422, "bad_field", "stars is from 1 to 5."
    case["stars"] = body["stars"]
    return None


def _reopen(_desk: Desk, case: dict[str, Any], body: dict[str, Any]) -> Fault:
    if case["state"] != "CLOSED":
        return 409, "not_closed", "The case is not closed."
    case["state"], case["reopened"] = "OPEN", str(body.get("why", ""))
    return None


ACTS = {
    "priority": _set_priority,
    "escalations": _escalate,
    "contact": _set_contact,
    "verdict": _verdict,
    "rating": _rate,
    "reopening": _reopen,
}


def _fault_of(body: Any, desk: Desk, schema: Draft202012Validator) -> tuple[Response, int] | None:
    """The desk's own reasons for refusing, one after the other."""
    error = next(iter(sorted(schema.iter_errors(body), key=lambda e: list(e.path))), None)
    if error is not None:
        place = "/".join(str(part) for part in error.path)
        code = "missing_field" if error.validator == "required" else "bad_field"
        return _no(422, code, f"{place or 'body'}: {error.message[:200]}", place)
    case = body["case"]
    if case["array_serial"] not in ENTITLED:
        return _no(
            422,
            "unknown_serial",
            f"No array {case['array_serial']} is known here.",
            "case/array_serial",
        )
    if case["support_id"] not in ENTITLED[case["array_serial"]]:
        return _no(
            422,
            "not_entitled",
            f"{case['support_id']} does not cover {case['array_serial']}.",
            "case/support_id",
        )
    group, leaf = case["category"]
    if leaf not in CATEGORIES.get(group, set()):
        return _no(422, "bad_category", f"There is no category {group} / {leaf}.", "case/category")
    if case["priority"] == "1" and not case["contact"].get("day_and_night"):
        return _no(
            422,
            "nobody_at_night",
            "Priority 1 needs a contact reachable day and night.",
            "case/contact",
        )
    for attachment in body.get("attachments", []):
        fault = _attachment_fault(attachment, desk)
        if fault is not None:
            return fault
    return None


def _attachment_fault(attachment: dict[str, Any], desk: Desk) -> tuple[Response, int] | None:
    ident = attachment["upload"].rsplit("/", 1)[-1]
    known = desk.state["uploads"].get(ident)
    path = desk.folder / "uploads" / ident
    if known is None or not path.exists():
        return _no(
            422, "unknown_upload", f"{attachment['name']} was never uploaded.", "attachments"
        )
    if path.stat().st_size != known["length"] or path.stat().st_size == 0:
        return _no(
            422, "unfinished_upload", f"{attachment['name']} did not arrive whole.", "attachments"
        )
    with path.open("rb") as file:
        if hashlib.file_digest(file, "sha256").hexdigest() != attachment["sha256"]:
            return _no(
                422,
                "bad_checksum",
                f"{attachment['name']} does not match its checksum.",
                "attachments",
            )
    return None


def _shown(case: dict[str, Any]) -> dict[str, Any]:
    return {"reference": case["reference"], "state": case["state"], "messages": case["messages"]}


def _add_control(app: Flask, desk: Desk) -> None:
    def shown() -> dict[str, Any]:
        told = ("escalated", "verdict", "stars", "reopened", "more")
        cases = {
            ref: {"body": c["body"], **_shown(c), **{k: c[k] for k in told if k in c}}
            for ref, c in desk.state["cases"].items()
        }
        return {"cases": cases, "uploads": desk.state["uploads"]}

    def steer(case: dict[str, Any], wish: dict[str, Any]) -> None:
        if "state" in wish:
            case["state"] = wish["state"]
        if "ask" in wish:
            desk.say(case, wish["ask"], asks=True)
        if "say" in wish:
            desk.say(case, wish["say"], asks=False, files=tuple(wish.get("attach", ())))
        desk.keep()
        desk.call(case)

    add_control(app, desk, lambda: desk.state["cases"], steer, shown)


def main() -> None:
    """Run the desk on loopback until interrupted."""
    parser = argparse.ArgumentParser(description="Tarnfell Storage's support desk, simulated.")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument(
        "--token-file", type=Path, required=True, help="File with the token that it takes."
    )
    parser.add_argument("--calls", default="", help="Where it calls its customer back.")
    arguments, _ = parser.parse_known_args()
    app = make_desk(arguments.folder, arguments.token_file.read_text().strip(), arguments.calls)
    make_server("127.0.0.1", arguments.port, app, threaded=True).serve_forever()


if __name__ == "__main__":
    main()
