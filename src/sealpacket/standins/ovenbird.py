"""Ovenbird Networks' support desk, simulated: a form with files over HTTP, signed in by name and secret, polled.

It behaves like a strict desk written by someone else. Run it with

    python -m sealpacket.standins.ovenbird --port 8502 --folder var/ovenbird --token-file secret

Its `/control` is not part of the desk: with it a person makes it ask, answer, close, refuse, be slow or be down.
"""

from __future__ import annotations

import argparse
import hmac
import json
import re
import threading
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from flask import Flask, Response, jsonify, request
from werkzeug.exceptions import RequestEntityTooLarge
from werkzeug.serving import make_server

from sealpacket.standins.control import OPEN, add_control
from sealpacket.standins.marks import add_marks

LARGEST_FILE = 10_000_000
MOST_FILES = 5
FILE_TYPES = (".log", ".txt", ".cfg", ".zip", ".pcap")
LINKED = {
    "teo.valcourt@quillmere.example": {"4388"},
    "marit.oswin@quillmere.example": {"4388", "4471"},
}
"""Which contracts Ovenbird has linked to which account."""
COVERED = {"4388": r"OBS4-\d{6}", "4471": r"OBF2-\d{6}"}
"""Which serials Ovenbird believes to be on which contract."""
WORDS = {
    "kind": {"hw_fault", "sw_fault", "how_to"},
    "effect": {"site_down", "degraded", "minor", "none"},
    "line": {"switch", "firewall"},
    "reply_by": {"mail", "phone"},
}
"""Allowed values of some fields."""
NEEDED = ("your_reference", "kind", "subject", "description", "line", "serial_no", "contract_no", "effect",
          "contact_name", "contact_email", "reply_by")  # fmt: skip
ALLOWED = {*NEEDED, "os_version", "error_text", "contact_phone", "since"}
STATES = {"Received", "In work", "Waiting for you", "Solved", "Closed"}


class Desk:
    """The desk's memory; what matters is written to its folder at once."""

    def __init__(self, folder: Path, secret: str) -> None:
        self.folder, self.secret = folder, secret
        self.lock = threading.RLock()
        self.mood: dict[str, Any] = {"down": False, "slow": 0.0, "refuse": None}
        (folder / "files").mkdir(parents=True, exist_ok=True)
        self._file = folder / "desk.json"
        self.state: dict[str, Any] = {"next": 77120, "requests": {}}
        if self._file.exists():
            self.state = json.loads(self._file.read_text())

    def keep(self) -> None:
        """Write the memory down."""
        unfinished = self._file.with_suffix(".part")
        unfinished.write_text(json.dumps(self.state))
        unfinished.replace(self._file)


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def _no(status: int, kind: str, at: str, message: str) -> tuple[Response, int]:
    return jsonify({"problems": [{"kind": kind, "at": at, "message": message}]}), status


def make_desk(folder: Path, secret: str) -> Flask:
    """The desk's web application."""
    app = Flask("ovenbird")
    add_marks(app)
    app.config["MAX_CONTENT_LENGTH"] = MOST_FILES * LARGEST_FILE + (1 << 20)
    desk = Desk(folder, secret)

    @app.before_request
    def at_the_door() -> Response | tuple[Response, int] | None:
        if request.path in OPEN:
            return None
        if desk.mood["slow"]:
            time.sleep(float(desk.mood["slow"]))
        if desk.mood["down"]:
            return _no(503, "closed", "", "The portal is closed for maintenance.")
        who = request.authorization
        known = who is not None and who.type == "basic" and (who.username or "") in LINKED
        given = (who.password or "").encode() if who is not None else b""
        if not known or not hmac.compare_digest(given, desk.secret.encode()):
            answer = Response(status=401, headers={"WWW-Authenticate": 'Basic realm="Ovenbird"'})
            answer.data = json.dumps(
                {"problems": [{"kind": "sign_in", "at": "", "message": "Unknown account."}]}
            )
            answer.content_type = "application/json"
            return answer
        return None

    @app.errorhandler(RequestEntityTooLarge)
    def too_large(_error: RequestEntityTooLarge) -> tuple[Response, int]:
        return _no(413, "files_too_large", "file", "The form is too large.")

    _add_requests(app, desk)
    _add_notes(app, desk)
    _add_acts(app, desk)
    add_control(app, desk, lambda: desk.state["requests"], _steer)
    return app


def _add_requests(app: Flask, desk: Desk) -> None:
    @app.post("/requests")
    def take() -> Response | tuple[Response, int]:
        account = (request.authorization.username if request.authorization else None) or ""
        with desk.lock:
            if desk.mood["refuse"]:
                kind, desk.mood["refuse"] = desk.mood["refuse"], None
                return _no(422, kind, "", "The request was not taken.")
            problems = list(_problems(account))
            if problems:
                told = [
                    {"kind": kind, "at": at, "message": message} for kind, at, message in problems
                ]
                return jsonify({"problems": told}), 422
            ident = f"OBR-{desk.state['next']}"
            desk.state["next"] += 1
            files = []
            for place, file in enumerate(request.files.getlist("file")):
                path = desk.folder / "files" / f"{ident}-{place}"
                file.save(path)
                files.append({"name": file.filename, "size": path.stat().st_size})
            one = {
                "id": ident,
                "account": account,
                "state": "Received",
                "fields": request.form.to_dict(),
                "files": files,
                "notes": [],
            }
            desk.state["requests"][ident] = one
            desk.keep()
            return jsonify(_shown(one)), 201


def _add_notes(app: Flask, desk: Desk) -> None:
    @app.get("/requests")
    def listed() -> Response:
        account = (request.authorization.username if request.authorization else None) or ""
        wanted = request.args.get("your_reference", "")
        with desk.lock:
            found = [
                _shown(one)
                for one in desk.state["requests"].values()
                if (one["account"], one["fields"]["your_reference"]) == (account, wanted)
            ]
            return jsonify({"requests": found})

    @app.get("/requests/<ident>")
    def see(ident: str) -> Response | tuple[Response, int]:
        with desk.lock:
            one = desk.state["requests"].get(ident)
            return (
                jsonify(_shown(one))
                if one
                else _no(404, "unknown", "", f"There is no request {ident}.")
            )

    @app.post("/requests/<ident>/notes")
    def hear(ident: str) -> Response | tuple[Response, int]:
        with desk.lock:
            one = desk.state["requests"].get(ident)
            if one is None:
                return _no(404, "unknown", "", f"There is no request {ident}.")
            body, key = request.form.get("body", "").strip(), request.form.get("key", "")
            problems = [
                {"kind": kind, "at": at, "message": message}
                for kind, at, message in _note_problems(one, body, key)
            ]
            if problems:
                return jsonify({"problems": problems}), 422
            new = request.files.getlist("file")
            if all(note["no"] != key for note in one["notes"]):
                one["files"] += [{"name": f.filename, "size": 0} for f in new]
                _note(one, "You", body, needs_reply=False, number=key)
                if one["state"] in ("Waiting for you", "Solved"):
                    one["state"] = "In work"
                desk.keep()
            return jsonify(_shown(one)), 201


def _note_problems(one: dict[str, Any], body: str, key: str) -> Any:
    """The desk's objections to a note."""
    if not body or not key:
        yield "missing", "body", "A note needs a body and a key."
    if one["state"] == "Closed":
        yield "closed", "", "The request is closed."
    new = len(request.files.getlist("file"))
    if len(one["files"]) + new > MOST_FILES:
        said = f"A request holds {MOST_FILES} files, and has {len(one['files'])}."
        yield "too_many_files", "file", said
    yield from _file_problems()


def _add_acts(app: Flask, desk: Desk) -> None:
    """Acts of a customer other than notes: closing, and reopening within ten days."""

    @app.post("/requests/<ident>/closing")
    @app.post("/requests/<ident>/reopening")
    def act(ident: str) -> Response | tuple[Response, int]:
        what = request.path.rpartition("/")[2]
        with desk.lock:
            one = desk.state["requests"].get(ident)
            if one is None:
                return _no(404, "unknown", "", f"There is no request {ident}.")
            if request.form.get("key") in one.setdefault("done", []):
                return jsonify(_shown(one))
            problem = _act(one, what)
            if problem is not None:
                return _no(422, *problem)
            one["done"].append(request.form.get("key"))
            desk.keep()
            return jsonify(_shown(one))


def _act(one: dict[str, Any], what: str) -> tuple[str, str, str] | None:
    closed = one["state"] == "Closed"
    if what == "closing":
        if len(request.form.get("remark", "").strip()) < 3:
            return "missing", "remark", "Say why it can be closed."
        one["state"] = "Closed"
        return None
    if not closed:
        return "not_closed", "", "The request is not closed."
    one["state"] = "In work"
    return None


def _problems(account: str) -> Any:
    """The desk's own reasons for refusing: kind, field, message."""
    form = request.form
    for name in NEEDED:
        if not form.get(name, "").strip():
            yield "missing", name, f"{name} is needed."
    for name in form:
        if name not in ALLOWED:
            yield "unknown_field", name, f"{name} is not a field of this form."
        if len(form.getlist(name)) > 1:
            yield "twice", name, f"{name} came twice."
    for name, words in WORDS.items():
        if form.get(name, "") not in words | {""}:
            yield "not_allowed", name, f"{name} is one of {', '.join(sorted(words))}."
    yield from _content_problems(form)
    yield from _cover_problems(account, form.get("contract_no", ""), form.get("serial_no", ""))
    yield from _file_problems()


def _content_problems(form: Any) -> Any:
    if form.get("reply_by") == "phone" and not re.fullmatch(
        r"\+\d{7,15}", form.get("contact_phone", "")
    ):
        yield "missing", "contact_phone", "A number is needed to be called, as +441632960000."
    if len(form.get("subject", "")) > 100:
        yield "too_long", "subject", "subject has more than 100 characters."
    if not 30 <= len(form.get("description", "").strip()) <= 4000:
        yield "length", "description", "description has from 30 to 4000 characters."
    if form.get("kind") == "sw_fault" and not re.fullmatch(
        r"\d+\.\d+\.\d+(\.\d+)?", form.get("os_version", "")
    ):
        yield (
            "missing",
            "os_version",
            "A fault of the software needs its version, such as 12.1.0.8.",
        )


def _cover_problems(account: str, contract: str, serial: str) -> Any:
    if contract and contract not in LINKED.get(account, set()):
        yield (
            "contract_not_linked",
            "contract_no",
            f"Contract {contract} is not linked to {account}.",
        )
    elif contract and serial and not re.fullmatch(COVERED.get(contract, "$^"), serial):
        yield "serial_not_covered", "serial_no", f"{serial} is not on contract {contract}."


def _file_problems() -> Any:
    files = request.files.getlist("file")
    if len(files) > MOST_FILES:
        yield "too_many_files", "file", f"At most {MOST_FILES} files."
    for file in files:
        if not (file.filename or "").lower().endswith(FILE_TYPES):
            yield "file_type", "file", f"{file.filename}: only {', '.join(FILE_TYPES)}."
        file.stream.seek(0, 2)
        size = file.stream.tell()
        file.stream.seek(0)
        if not 0 < size <= LARGEST_FILE:
            yield "file_size", "file", f"{file.filename}: from 1 to {LARGEST_FILE} bytes."
    for name in request.files:
        if name != "file":
            yield "unknown_field", name, f"{name} is not a field of this form."


def _note(
    one: dict[str, Any], author: str, body: str, *, needs_reply: bool, number: str = ""
) -> None:
    number = number or f"n{len(one['notes']) + 1}"
    one["notes"].append(
        {"no": number, "author": author, "body": body, "time": _now(), "needs_reply": needs_reply}
    )
    if needs_reply:
        one["state"] = "Waiting for you"


def _shown(one: dict[str, Any]) -> dict[str, Any]:
    return {"request_id": one["id"], "state": one["state"], "notes": one["notes"]}


def _steer(one: dict[str, Any], wish: dict[str, Any]) -> None:
    if wish.get("state") in STATES:
        one["state"] = wish["state"]
    if "ask" in wish:
        _note(one, "Ovenbird", wish["ask"], needs_reply=True)
    if "say" in wish:
        _note(one, "Ovenbird", wish["say"], needs_reply=False)


def main() -> None:
    """Run the desk on loopback until interrupted."""
    parser = argparse.ArgumentParser(description="Ovenbird Networks' support desk, simulated.")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument(
        "--token-file", type=Path, required=True, help="File with the secret of its accounts."
    )
    arguments, _ = parser.parse_known_args()
    app = make_desk(arguments.folder, arguments.token_file.read_text().strip())
    make_server("127.0.0.1", arguments.port, app, threaded=True).serve_forever()


if __name__ == "__main__":
    main()
