"""Saddlewick Power's claims desk, simulated: a filled form and a packing list left by SFTP; acknowledgements lie there.

It behaves like a strict desk written by someone else. Run it with

    python -m sealpacket.standins.saddlewick --port 8506 --control-port 8516 --folder var/saddlewick --token-file secret

Its host key is in its folder (host.pub). Its control (HTTP) is not part of the desk.
"""

from __future__ import annotations

import argparse
import asyncio
import csv
import hmac
import io
import json
import re
import threading
import time
from collections.abc import Callable
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

import asyncssh
from flask import Flask
from pypdf import PdfReader
from pypdf.errors import PyPdfError
from werkzeug.serving import make_server

from sealpacket.standins.control import add_control

LARGEST = 5_000_000
CUSTOMERS = {"quillmere-libraries"}
FIELDS = ("ClaimNo", "Customer", "Model", "Serial", "Shipped", "Fault", "Since", "Load", "Return", "Contact", "Phone",
          "Collect", "Safe")  # fmt: skip
HEADINGS = ["Line", "Part", "Serial", "Quantity", "Weight kg"]
MODELS = {"SP-3000": re.compile(r"SW3K-\d{5}")}
WARRANTY_DAYS = 3 * 365 + 1


class Desk:
    """The desk's folders and memory."""

    def __init__(self, folder: Path, secret: str) -> None:
        self.folder, self.secret = folder, secret
        self.lock = threading.RLock()
        self.mood: dict[str, Any] = {"down": False, "slow": 0.0, "refuse": None, "mute": False}
        self.inbox, self.outbox = folder / "files/in", folder / "files/out"
        self.inbox.mkdir(parents=True, exist_ok=True)
        self.outbox.mkdir(parents=True, exist_ok=True)
        self._file = folder / "desk.json"
        self.state: dict[str, Any] = {"next": 70312, "claims": {}, "papers": 0}
        if self._file.exists():
            self.state = json.loads(self._file.read_text())

    def keep(self) -> None:
        """Write the memory down."""
        part = self._file.with_suffix(".part")
        part.write_text(json.dumps(self.state))
        part.replace(self._file)

    def tell(self, claim: str, lines: list[tuple[str, str]], text: str = "") -> None:
        """Leave a paper for the customer."""
        if self.mood["mute"]:
            return
        self.state["papers"] += 1
        name = f"{claim}-{self.state['papers']:04d}.txt"
        body = "".join(f"{label}: {value}\r\n" for label, value in lines) + f"\r\n{text}\r\n"
        part = self.outbox / f".{name}"
        part.write_text(
            f"Paper: {self.state['papers']}\r\nYour claim: {claim}\r\n{body}", newline=""
        )
        part.rename(self.outbox / name)

    def look(self) -> None:
        """Read what has come: each form with its list, and answers."""
        with self.lock:
            before = json.dumps(self.state)
            for path in sorted(self.inbox.glob("*.pdf")):
                if path.stem not in self.state["claims"] or path.stem in self.state.get(
                    "again", []
                ):
                    self._claim(path)
            for path in sorted(self.inbox.glob("RMA-*.txt")):
                rma = path.name.split("_")[0]
                one = next((c for c in self.state["claims"].values() if c.get("rma") == rma), None)
                if one is not None and path.name not in one["heard"]:
                    one["heard"][path.name] = path.read_text()
                    if self._act(one, path.read_text()):
                        continue
                    one["state"] = "AUTHORISED" if one["state"] == "QUERY" else one["state"]
            if json.dumps(self.state) != before:
                self.keep()

    def _act(self, one: dict[str, Any], text: str) -> bool:
        """Do what the first line of an answer asks for, if it asks for something."""
        first = text.splitlines()[0] if text.splitlines() else ""
        if first not in ("Action: CLOSE", "Action: NOT SOLVED"):
            return False
        lines = [("RMA", one["rma"])]
        if first == "Action: CLOSE" and one["state"] in ("SENT", "RECEIVED"):
            one["state"] = "CLOSED"
            self.tell(one["claim"], [*lines, ("State", "CLOSED")], "The claim is closed.")
        else:
            said = "This can be done once the new part was sent."
            self.tell(one["claim"], [*lines, ("State", one["state"])], said)
        return True

    def _claim(self, path: Path) -> None:
        faults, fields, rows = _read(path)
        if self.mood["refuse"]:
            faults, self.mood["refuse"] = [(self.mood["refuse"], "The claim was not taken.")], None
        claim = fields.get("ClaimNo") or path.stem
        if faults:
            told = [("State", "REFUSED"), ("Reason", f"{faults[0][0]} - {faults[0][1]}")]
            self.tell(claim, told, "\r\n".join(words for _, words in faults))
            self.state.setdefault("refused", []).append({"claim": claim, "faults": faults})
            for old in (path, path.with_suffix(".csv")):
                old.unlink(missing_ok=True)
            return
        rma = f"RMA-{self.state['next']}"
        self.state["next"] += 1
        self.state["claims"][path.stem] = {
            "claim": claim,
            "rma": rma,
            "state": "AUTHORISED",
            "fields": fields,
            "rows": rows,
            "heard": {},
        }
        self.tell(
            claim,
            [("RMA", rma), ("State", "AUTHORISED")],
            "The return is authorised. Put the RMA on the parcel.",
        )


def _read(path: Path) -> tuple[list[tuple[str, str]], dict[str, str], list[dict[str, str]]]:
    """The desk's own reasons against a claim, its fields and its list."""
    try:
        reader = PdfReader(path)
        fields = {
            name: str(field.get("/V") or "").strip()
            for name, field in (reader.get_fields() or {}).items()
        }
    except (PyPdfError, OSError, ValueError) as error:
        return [("not_a_form", f"The form cannot be read: {error}")], {}, []
    fields = {name: value.removeprefix("/") for name, value in fields.items()}
    faults = [("missing", f"{name} is empty.") for name in FIELDS if not fields.get(name)]
    faults += [
        ("strange_field", f"{name} is not a field of this form.")
        for name in fields
        if name not in FIELDS
    ]
    if fields.get("ClaimNo") != path.stem:
        faults.append(("file_name", "The file is not called like its claim number."))
    faults += _field_faults(fields)
    rows: list[dict[str, str]] = []
    try:
        text = path.with_suffix(".csv").read_text("utf-8")
        table = csv.DictReader(io.StringIO(text))
        rows = list(table)
        if table.fieldnames != HEADINGS:
            faults.append(("list_headings", "The list has other headings."))
        elif not rows:
            faults.append(("list_empty", "The list is empty."))
        else:
            faults += _row_faults(rows, fields)
    except (OSError, UnicodeDecodeError):
        faults.append(("no_list", "There is no packing list beside the form."))
    return faults, fields, rows


def _is_day(text: str) -> bool:
    return re.fullmatch(r"\d{4}-\d\d-\d\d", text) is not None


FIELD_RULES: tuple[tuple[str, Callable[[str], object], str, str], ...] = (
    ("Since", _is_day, "bad_date", "Since is a date: 2026-11-23."),
    ("Load", re.compile(r"\d{1,5} (VA|kVA|W)").fullmatch, "bad_load", "Load is a number with VA, kVA or W."),
    ("Return", {"battery", "module", "whole"}.__contains__, "bad_return", "Return is battery, module or whole."),
    ("Phone", re.compile(r"\+\d{7,15}").fullmatch, "bad_phone", "The phone needs its country code."),
    ("Fault", lambda text: 15 <= len(text) <= 500, "fault_length", "Fault has from 15 to 500 characters."),
    ("Safe", "Yes".__eq__, "not_safe", "The battery has to be declared safe to carry."),
    ("Collect", lambda text: "\n" in text or "\r" in text, "bad_address",
     "The address for collecting needs two lines."),
)  # fmt: skip
"""Fields of the form: whether what is in one is right, and what is said if it is not."""


def _field_faults(fields: dict[str, str]) -> list[tuple[str, str]]:
    faults = []
    model = MODELS.get(fields.get("Model", ""))
    if model is None:
        faults.append(("unknown_model", "The model is not one of ours."))
    elif not model.fullmatch(fields.get("Serial", "")):
        faults.append(("unknown_serial", "The serial is not one of this model."))
    try:
        if (
            datetime.now(UTC).date() - date.fromisoformat(fields.get("Shipped", ""))
        ).days > WARRANTY_DAYS:
            faults.append(("out_of_warranty", "The warranty has ended."))
    except ValueError:
        faults.append(("bad_date", "Shipped is a date: 2026-11-23."))
    return faults + [
        (code, words) for name, right, code, words in FIELD_RULES if not right(fields.get(name, ""))
    ]


def _row_faults(rows: list[dict[str, str]], fields: dict[str, str]) -> list[tuple[str, str]]:
    faults = []
    for number, row in enumerate(rows, 1):
        if row["Line"] != str(number):
            faults.append(("list_lines", "The lines are not numbered from 1."))
        if not row["Quantity"].isdigit() or not 1 <= int(row["Quantity"]) <= 20:
            faults.append(("list_quantity", f"Line {number}: from 1 to 20 pieces."))
        if not row["Weight kg"].isdigit() or int(row["Weight kg"]) > 60:
            faults.append(("list_weight", f"Line {number}: the weight in whole kg, 60 at most."))
        if not row["Part"].strip():
            faults.append(("list_part", f"Line {number} names no part."))
        if row["Serial"] != fields.get("Serial"):
            faults.append(("list_serial", f"Line {number}: the serial is not the claim's."))
    if len(rows) > 8:
        faults.append(("list_long", "Eight lines at most."))
    return faults


class Door(asyncssh.SSHServer):
    """Who may come in."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk

    def begin_auth(self, username: str) -> bool:
        """Everybody has to show a password."""
        return True

    def password_auth_supported(self) -> bool:
        """By password."""
        return True

    def validate_password(self, username: str, password: str) -> bool:
        """The customer's own."""
        return username in CUSTOMERS and hmac.compare_digest(
            password.encode(), self._desk.secret.encode()
        )


class Folder(asyncssh.SFTPServer):
    """One folder, and no way out of it; slow or shut as the mood is."""

    def __init__(self, desk: Desk, channel: Any) -> None:
        if desk.mood["down"]:
            raise asyncssh.SFTPError(asyncssh.FX_FAILURE, "closed")
        time.sleep(float(desk.mood["slow"]))
        super().__init__(channel, chroot=str(desk.folder / "files").encode())


def make_control(desk: Desk) -> Flask:
    """The control."""
    app = Flask("saddlewick-control")

    def shown() -> dict[str, Any]:
        claims = {one["claim"]: one for one in desk.state["claims"].values()}
        return {"cases": claims, "refused": desk.state.get("refused", [])}

    def steer(one: dict[str, Any], wish: dict[str, Any]) -> None:
        if "ask" in wish:
            _tell(desk, one, "QUERY", wish["ask"], ("Answer", "wanted"))
        if "ship" in wish:
            words = "The new battery is on its way."
            told = (("Serial", wish.get("serial")), ("Return by", wish.get("return_by")))
            carried = (
                ("Carrier", "Marram Freight"),
                ("Tracking", wish["ship"]),
                *((name, value) for name, value in told if value),
            )
            _tell(desk, one, "SENT", words, *carried)
        if "state" in wish:
            _tell(desk, one, wish["state"], wish.get("say", ""))

    add_control(app, desk, lambda: desk.state["claims"], steer, shown)
    return app


def _tell(desk: Desk, one: dict[str, Any], state: str, words: str, *more: tuple[str, str]) -> None:
    one["state"] = state
    desk.tell(one["claim"], [("RMA", one["rma"]), ("State", state), *more], words)


async def _serve(desk: Desk, port: int) -> None:
    key_file = desk.folder / "host.key"
    if not key_file.exists():
        key = asyncssh.generate_private_key("ssh-ed25519")
        key_file.touch(mode=0o600)
        key.write_private_key(str(key_file))
        key.write_public_key(str(desk.folder / "host.pub"))
    await asyncssh.create_server(
        lambda: Door(desk),
        "127.0.0.1",
        port,
        server_host_keys=[str(key_file)],
        allow_scp=False,
        sftp_factory=lambda channel: Folder(desk, channel),
    )
    while True:
        await asyncio.sleep(0.3)
        await asyncio.to_thread(desk.look)


def main() -> None:
    """Run the desk on loopback until interrupted."""
    parser = argparse.ArgumentParser(description="Saddlewick Power's claims desk, simulated.")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--control-port", type=int, required=True)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument("--token-file", type=Path, required=True)
    arguments, _ = parser.parse_known_args()
    desk = Desk(arguments.folder, arguments.token_file.read_text().strip())
    control = make_server("127.0.0.1", arguments.control_port, make_control(desk), threaded=True)
    threading.Thread(target=control.serve_forever, daemon=True).start()
    asyncio.run(_serve(desk, arguments.port))


if __name__ == "__main__":
    main()
