"""Hollowmere Cloud's desk, simulated: JSON over HTTP for limits, levels and bills, one request for each region.

It behaves like a strict desk written by someone else. Run it with

    python -m sealpacket.standins.hollowmere --port 8505 --folder var/hollowmere --token-file secret

Its `/control` is not part of the desk: with it a person makes it ask, grant, close, refuse, be slow or be down.
"""

from __future__ import annotations

import argparse
import hmac
import json
import threading
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from flask import Flask, Response, jsonify, request
from jsonschema import Draft202012Validator
from werkzeug.serving import make_server

from sealpacket.standins.control import OPEN, add_control

ACCOUNTS = {"HM-204471": {"HC-1180", "HC-1204"}}
REGIONS = ["north-1", "north-2", "west-1", "east-1"]
FAMILIES = ["general cores", "memory cores", "fast disks (TB)", "addresses"]
LARGEST = {"general cores": 512, "memory cores": 256, "fast disks (TB)": 200, "addresses": 64}
STATES = {"new", "looked_at", "needs_reply", "granted", "declined", "closed"}
_TEXT = {"type": "string", "minLength": 1, "maxLength": 4000}
_PERSON = {
    "type": "object", "required": ["name", "email"], "additionalProperties": False,
    "properties": {"name": _TEXT, "email": {"type": "string", "pattern": "^[^@ ]+@[^@ ]+$"},
                   "phone": {"type": "string", "pattern": "^\\+[0-9]{7,15}$"}},
}  # fmt: skip
_COMMON = {"account": _TEXT, "contract": _TEXT, "customerTicket": _TEXT, "requester": _PERSON,
           "copied_to": {"type": "array", "maxItems": 4, "items": {"type": "string", "pattern": "^[^@ ]+@[^@ ]+$"}},
           "country": {"type": "string", "pattern": "^[A-Z]{2}$"}, "state": {"type": "string"}}  # fmt: skip
SCHEMAS = {
    "quota": Draft202012Validator({
        "type": "object", "additionalProperties": False,
        "required": ["kind", "account", "customerTicket", "requester", "region", "resource", "newLimit", "neededBy"],
        "properties": {**_COMMON, "kind": {"const": "quota"}, "region": {"enum": REGIONS},
                       "resource": {"enum": FAMILIES}, "currentLimit": {"type": "integer", "minimum": 0},
                       "newLimit": {"type": "integer", "minimum": 1}, "neededBy": {"type": "string", "format": "date",
                       "pattern": "^\\d{4}-\\d\\d-\\d\\d$"}, "purpose": _TEXT},
    }),
    "level": Draft202012Validator({
        "type": "object", "additionalProperties": False,
        "required": ["kind", "account", "contract", "customerTicket", "requester", "newLevel", "from"],
        "properties": {**_COMMON, "kind": {"const": "level"}, "newLevel": {"enum": ["basic", "care", "extended"]},
                       "from": {"type": "string", "pattern": "^\\d{4}-\\d\\d-\\d\\d$"}, "purpose": _TEXT,
                       "termsAccepted": {"const": True}},
    }),
    "billing": Draft202012Validator({
        "type": "object", "additionalProperties": False,
        "required": ["kind", "account", "customerTicket", "requester", "subject", "text", "topic"],
        "properties": {**_COMMON, "kind": {"const": "billing"}, "subject": {"type": "string", "maxLength": 80},
                       "text": {"type": "string", "minLength": 20, "maxLength": 2000},
                       "topic": {"enum": ["invoice", "credit", "tax", "other"]},
                       "invoice": {"type": "string", "pattern": "^HMI-[0-9]{6}$"}, "purpose": _TEXT},
    }),
}  # fmt: skip


class Desk:
    """The desk's memory."""

    def __init__(self, folder: Path, secret: str) -> None:
        self.folder, self.secret = folder, secret
        self.lock = threading.RLock()
        self.mood: dict[str, Any] = {
            "down": False,
            "slow": 0.0,
            "refuse": None,
            "refuse_region": None,
        }
        folder.mkdir(parents=True, exist_ok=True)
        self._file = folder / "desk.json"
        self.state: dict[str, Any] = {"next": 90411, "cases": {}}
        if self._file.exists():
            self.state = json.loads(self._file.read_text())

    def keep(self) -> None:
        """Write the memory down."""
        part = self._file.with_suffix(".part")
        part.write_text(json.dumps(self.state))
        part.replace(self._file)


def _no(status: int, *faults: tuple[str, str, str]) -> tuple[Response, int]:
    return jsonify(
        {
            "status": "rejected",
            "violations": [{"rule": r, "path": p, "detail": d} for r, p, d in faults],
        }
    ), status


def make_desk(folder: Path, secret: str) -> Flask:
    """The desk's web application."""
    app = Flask("hollowmere")
    app.config["MAX_CONTENT_LENGTH"] = 64_000
    desk = Desk(folder, secret)

    @app.before_request
    def at_the_door() -> tuple[Response, int] | None:
        if request.path in OPEN:
            return None
        if desk.mood["slow"]:
            time.sleep(float(desk.mood["slow"]))
        if desk.mood["down"]:
            return _no(503, ("maintenance", "", "Come back later."))
        given = request.headers.get("Authorization", "").removeprefix("Bearer ")
        if not hmac.compare_digest(given.encode(), desk.secret.encode()):
            return _no(401, ("credentials", "", "The key is not valid."))
        return None

    _add_requests(app, desk)
    _add_replies(app, desk)
    _add_decisions(app, desk)
    add_control(app, desk, lambda: desk.state["cases"], _steer)
    return app


def _violations(desk: Desk, body: Any) -> list[tuple[str, str, str]]:
    kind = body.get("kind") if isinstance(body, dict) else None
    schema = SCHEMAS.get(str(kind))
    if schema is None:
        return [("unknown_kind", "kind", "kind is quota, level or billing.")]
    found = [("schema", "/".join(map(str, e.path)), e.message) for e in schema.iter_errors(body)]
    if found:
        return found
    if body["account"] not in ACCOUNTS:
        return [("unknown_account", "account", "There is no such account.")]
    if body.get("contract") and body["contract"] not in ACCOUNTS[body["account"]]:
        return [("contract_not_of_account", "contract", "The contract is not of this account.")]
    if kind == "quota":
        if body["newLimit"] <= body.get("currentLimit", 0):
            return [("not_more", "newLimit", "The new limit is not above the current one.")]
        if body["newLimit"] > LARGEST[body["resource"]]:
            return [
                ("over_largest", "newLimit", f"At most {LARGEST[body['resource']]} can be had.")
            ]
    if kind == "level" and not body.get("termsAccepted"):
        return [("terms", "termsAccepted", "The terms of the new level have to be accepted.")]
    return []


def _add_requests(app: Flask, desk: Desk) -> None:
    @app.post("/v2/requests")
    def take() -> tuple[Response, int]:
        key = request.headers.get("Idempotency-Key", "")
        body = request.get_json(silent=True)
        with desk.lock:
            before = next(
                (one for one in desk.state["cases"].values() if key and one["key"] == key), None
            )
            if before:
                return jsonify(_shown(before)), 200
            region = body.get("region") if isinstance(body, dict) else None
            if desk.mood["refuse"] or (
                desk.mood["refuse_region"] and region == desk.mood["refuse_region"]
            ):
                rule = desk.mood["refuse"] or "no_room"
                desk.mood["refuse"] = desk.mood["refuse_region"] = None
                return _no(422, (rule, "region", "This cannot be had now."))
            faults = _violations(desk, body)
            if faults:
                return _no(422, *faults)
            ident = f"HMR-{desk.state['next']}"
            desk.state["next"] += 1
            one: dict[str, Any] = {
                "id": ident,
                "key": key,
                "state": "new",
                "body": body,
                "thread": [],
            }
            if body is not None and not body.get("purpose") and body["kind"] == "quota":
                one["state"] = "needs_reply"
                _say(one, "hollowmere", "What is the new limit for?", needs_reply=True)
            desk.state["cases"][ident] = one
            desk.keep()
            return jsonify(_shown(one)), 201


def _add_replies(app: Flask, desk: Desk) -> None:
    @app.get("/v2/requests/<ident>")
    def see(ident: str) -> tuple[Response, int]:
        with desk.lock:
            one = desk.state["cases"].get(ident)
            return (
                (jsonify(_shown(one)), 200)
                if one
                else _no(404, ("unknown", "", "There is no such request."))
            )

    @app.post("/v2/requests/<ident>/replies")
    def hear(ident: str) -> tuple[Response, int]:
        with desk.lock:
            one = desk.state["cases"].get(ident)
            body = request.get_json(silent=True)
            if one is None:
                return _no(404, ("unknown", "", "There is no such request."))
            if (
                not isinstance(body, dict)
                or set(body) != {"replyId", "message"}
                or not body["message"]
            ):
                return _no(422, ("schema", "", "A reply has replyId and message."))
            if all(said["id"] != body["replyId"] for said in one["thread"]):
                _say(one, "customer", body["message"], needs_reply=False, ident=body["replyId"])
                one["state"] = "looked_at" if one["state"] == "needs_reply" else one["state"]
                desk.keep()
            return jsonify(_shown(one)), 201


def _add_decisions(app: Flask, desk: Desk) -> None:
    """Decisions of a customer: about a grant, and withdrawing a request."""

    @app.post("/v2/requests/<ident>/decision")
    @app.post("/v2/requests/<ident>/cancellation")
    def decide(ident: str) -> tuple[Response, int]:
        what = request.path.rpartition("/")[2]
        body = request.get_json(silent=True) or {}
        with desk.lock:
            one = desk.state["cases"].get(ident)
            if one is None:
                return _no(404, ("unknown", "", "There is no such request."))
            if body.get("actId") in one.setdefault("acts", []):
                return jsonify(_shown(one)), 200
            fault = _decided(one, what, body)
            if fault is not None:
                return _no(409, fault)
            one["acts"].append(body.get("actId"))
            desk.keep()
            return jsonify(_shown(one)), 200


def _decided(one: dict[str, Any], what: str, body: dict[str, Any]) -> tuple[str, str, str] | None:
    if what == "cancellation":
        if one["state"] in ("granted", "closed"):
            return ("too_late", "", "What is granted cannot be cancelled; ask for less instead.")
        one["state"], one["cancelled"] = "closed", body.get("reason", "")
        return None
    if one["state"] not in ("granted", "declined"):
        return ("no_decision", "", "Nothing was granted or declined yet.")
    one["state"] = "closed" if body.get("accepted") else "looked_at"
    one["decision"] = body
    return None


def _say(one: dict[str, Any], by: str, text: str, *, needs_reply: bool, ident: str = "") -> None:
    now = datetime.now(UTC).isoformat(timespec="seconds")
    one["thread"].append(
        {
            "id": ident or f"m{len(one['thread']) + 1}",
            "author": by,
            "message": text,
            "sentAt": now,
            "needsReply": needs_reply,
        }
    )


def _shown(one: dict[str, Any]) -> dict[str, Any]:
    return {
        "request": {
            "id": one["id"],
            "state": one["state"],
            "thread": one["thread"],
            "granted": one.get("granted"),
        }
    }


def _steer(one: dict[str, Any], wish: dict[str, Any]) -> None:
    if wish.get("state") in STATES:
        one["state"] = wish["state"]
    if "granted" in wish:
        one["granted"] = wish["granted"]
    if "ask" in wish:
        one["state"] = "needs_reply"
        _say(one, "hollowmere", wish["ask"], needs_reply=True)
    if "say" in wish:
        _say(one, "hollowmere", wish["say"], needs_reply=False)


def main() -> None:
    """Run the desk on loopback until interrupted."""
    parser = argparse.ArgumentParser(description="Hollowmere Cloud's desk, simulated.")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument("--token-file", type=Path, required=True)
    arguments, _ = parser.parse_known_args()
    app = make_desk(arguments.folder, arguments.token_file.read_text().strip())
    make_server("127.0.0.1", arguments.port, app, threaded=True).serve_forever()


if __name__ == "__main__":
    main()
