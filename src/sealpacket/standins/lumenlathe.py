"""Lumenlathe's care desk, simulated: it reads mails of a fixed form and answers by mail.

It behaves like a strict desk written by someone else. Run it with

    python -m sealpacket.standins.lumenlathe --port 8503 --control-port 8513 --folder var/lumenlathe \
        --answers-to 127.0.0.1:8525

Its control (HTTP) is not part of the desk: with it a person makes it ask, ship, close, refuse, be slow or be down.
"""

from __future__ import annotations

import argparse
import asyncio
import email
import email.policy
import io
import json
import re
import smtplib
import threading
import zipfile
from datetime import UTC, datetime
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid, parseaddr
from pathlib import Path
from typing import Any

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session
from flask import Flask
from werkzeug.serving import make_server

from sealpacket.standins.control import add_control

MAILBOX = "care@lumenlathe.example"
CUSTOMERS = {"branches@quillmere.example", "ines.harrowgate@quillmere.example"}
LARGEST_ZIP = 20_000_000
LARGEST_MAIL = 40_000_000
SUBJECT = re.compile(r"LL-CARE / (LK-40|BS-8) / (\S+) / (E\d{3}|none)")
SERIALS = {"LK-40": re.compile(r"LK40-\d{4}-\d{4}"), "BS-8": re.compile(r"BS8-\d{4}-\d{2}")}
NEEDED = (
    "customer reference", "request", "model", "serial", "error code", "what happens", "site", "address",
    "contact on site", "contact phone",
)  # fmt: skip
NEEDED_OF_A_VISIT = ("since", "may enter")
ALLOWED = {
    *NEEDED,
    *NEEDED_OF_A_VISIT,
    "tried",
    "contract",
    "firmware",
    "access notes",
    "also tell",
    "return reason",
}
REQUESTS = {"repair", "question", "exchange"}


class Desk:
    """The desk's memory; what matters is written to its folder at once."""

    def __init__(self, folder: Path, answers_to: tuple[str, int]) -> None:
        self.folder, self.answers_to = folder, answers_to
        self.lock = threading.RLock()
        self.mood: dict[str, Any] = {"down": False, "slow": 0.0, "refuse": None, "mute": False}
        folder.mkdir(parents=True, exist_ok=True)
        self._file = folder / "desk.json"
        self.state: dict[str, Any] = {"next": 55012, "cases": {}, "turned_away": [], "outbox": []}
        if self._file.exists():
            self.state = json.loads(self._file.read_text())
        self._written = threading.Event()
        threading.Thread(target=self._post_all, daemon=True).start()

    def keep(self) -> None:
        """Write the memory down."""
        part = self._file.with_suffix(".part")
        part.write_text(json.dumps(self.state))
        part.replace(self._file)
        self._written.set()

    def _post_all(self) -> None:
        """Post what is in the outbox, to each address the oldest first.

        A mail that the other server does not take now stays, and holds up only those to the same address.
        """
        while True:
            self._written.clear()
            waiting: set[str] = set()
            for text in list(self.state["outbox"]):
                address = email.message_from_string(text)["To"]
                if address in waiting:
                    continue
                if _post(self.answers_to, text):
                    with self.lock:
                        self.state["outbox"].remove(text)
                        self.keep()
                else:
                    waiting.add(address)
            self._written.wait(1 if waiting else 60)

    def read(self, data: bytes) -> None:
        """A mail has come: a new case, or an answer to one."""
        mail = email.message_from_bytes(data, policy=email.policy.default)
        assert isinstance(mail, EmailMessage)
        with self.lock:
            if any(mail["Message-ID"] in one["mails"] for one in self.state["cases"].values()):
                return
            answered = re.search(r"LL-\d{5}", str(mail["Subject"] or ""))
            if answered and answered[0] in self.state["cases"]:
                self._hear(answered[0], mail)
            else:
                self._take(mail)
            self.keep()

    def _hear(self, reference: str, mail: EmailMessage) -> None:
        one = self.state["cases"][reference]
        one["mails"].append(str(mail["Message-ID"]))
        one["heard"].append(_text(mail))
        faults = [words for _, words in _file_faults(mail)]
        if faults:
            self.say(reference, one["status"], f"The file was not taken. {faults[0]}", asks=True)
            return
        one["files"] += [part.get_filename() or "" for part in mail.iter_attachments()]
        wish = re.search(r"^Action: ([A-Z ]+)$", _text(mail).replace("\r\n", "\n"), re.M)
        if wish is not None:
            self._act(reference, wish[1])
            return
        if one["status"] == "OVER TO YOU":
            one["status"] = "IN WORK"

    def _act(self, reference: str, wish: str) -> None:
        """Do what a customer asks for in a line of its own, or say that it cannot be done."""
        one = self.state["cases"][reference]
        if wish == "CLOSE" and one["status"] != "CLOSED":
            self.say(reference, "CLOSED", "The case is closed, as you asked.")
        elif wish == "NOT SOLVED" and one["status"] == "SOLVED":
            self.say(reference, "IN WORK", "We look at it again.")
        elif wish == "OPEN AGAIN" and one["status"] == "CLOSED":
            self.say(reference, "OPEN", "The case is open again.")
        else:
            self.say(reference, one["status"], f"{wish.capitalize()} is not possible now.")

    def _take(self, mail: EmailMessage) -> None:
        fields = _block(_text(mail))
        faults = list(_faults(mail, fields))
        if self.mood["refuse"]:
            faults, self.mood["refuse"] = [(self.mood["refuse"], "The case was not taken.")], None
        if faults:
            lines = [
                ("Your reference", fields.get("customer reference", "")),
                ("Status", "NOT TAKEN"),
            ]
            lines += [("Reason", f"{code} - {words}") for code, words in faults[:1]]
            self.state["turned_away"].append({"fields": fields, "faults": faults})
            self.write(
                mail,
                lines,
                "Your mail could not be read as a care case. " + " ".join(w for _, w in faults),
            )
            return
        reference = f"LL-{self.state['next']}"
        self.state["next"] += 1
        zips = [part.get_filename() or "" for part in mail.iter_attachments()]
        self.state["cases"][reference] = {
            "reference": reference,
            "status": "OPEN",
            "fields": fields,
            "files": zips,
            "heard": [],
            "mails": [str(mail["Message-ID"])],
            "back": str(mail["Reply-To"] or mail["From"]),
            "from": parseaddr(str(mail["From"]))[1],
        }
        self.say(reference, "OPEN", "Thank you. An engineer will look at it.")

    def say(
        self,
        reference: str,
        status: str,
        text: str,
        *,
        asks: bool = False,
        more: tuple[tuple[str, str], ...] = (),
    ) -> None:
        """Write the status of a case to the customer."""
        one = self.state["cases"][reference]
        one["status"] = status
        lines = [
            ("Case", reference),
            ("Your reference", one["fields"]["customer reference"]),
            ("Status", status),
            *more,
        ]
        lines += [("Answer wanted", "yes")] if asks else []
        mail = EmailMessage()
        mail["Message-ID"] = one["mails"][0]
        mail["Reply-To"], mail["Subject"] = one["back"], f"care case {reference}"
        self.write(mail, lines, text)

    def write(self, about: EmailMessage, lines: list[tuple[str, str]], text: str) -> None:
        """Put a mail into the outbox, back to where one came from."""
        if self.mood["mute"]:
            return
        answer = EmailMessage()
        answer["From"], answer["To"] = MAILBOX, str(about["Reply-To"] or about["From"])
        answer["Subject"] = f"Re: {about['Subject']}"
        answer["Date"], answer["Message-ID"] = (
            format_datetime(datetime.now(UTC)),
            make_msgid(domain="lumenlathe.example"),
        )
        answer["In-Reply-To"] = str(about["Message-ID"])
        answer.set_content(
            "\n".join(f"{label}: {value}" for label, value in lines) + f"\n\n{text}\n"
        )
        self.state["outbox"].append(answer.as_string())


def _post(server: tuple[str, int], text: str) -> bool:
    """Whether the other mail server has taken it, or refused it for good."""
    mail = email.message_from_string(text, policy=email.policy.default)
    try:
        with smtplib.SMTP(*server, timeout=10) as connection:
            connection.send_message(mail)
    except smtplib.SMTPRecipientsRefused as refused:
        return all(code >= 500 for code, _words in refused.recipients.values())
    except smtplib.SMTPResponseException as refused:
        return refused.smtp_code >= 500
    except (OSError, smtplib.SMTPException):
        return False
    return True


def _text(mail: EmailMessage) -> str:
    body = mail.get_body(("plain",))
    return str(body.get_content()) if body is not None else ""


def _block(text: str) -> dict[str, str]:
    """The labelled lines between the two marks."""
    inside = re.search(
        r"^== CARE CASE ==$(.*?)^== END ==$", text.replace("\r\n", "\n"), re.M | re.S
    )
    fields: dict[str, str] = {}
    last = ""
    for line in (inside[1] if inside else "").split("\n"):
        if line.startswith("  ") and last:
            fields[last] += "\n" + line.strip()
        elif ":" in line:
            last, _, value = line.partition(":")
            last = last.strip().lower()
            fields[last] = value.strip()
    return fields


def _faults(mail: EmailMessage, fields: dict[str, str]) -> Any:
    """The desk's own reasons for not taking a mail."""
    if parseaddr(str(mail["From"]))[1].lower() not in CUSTOMERS:
        yield "unknown_sender", "This address is not known to us."
        return
    subject = SUBJECT.fullmatch(str(mail["Subject"] or "").strip())
    if subject is None:
        yield "bad_subject", "The subject has to be: LL-CARE / model / serial / error code."
        return
    if not fields:
        yield "no_block", "There is no block between == CARE CASE == and == END ==."
        return
    for name in NEEDED if fields.get("request") == "question" else (*NEEDED, *NEEDED_OF_A_VISIT):
        if not fields.get(name):
            yield "missing", f"{name} is missing."
    for name in fields:
        if name not in ALLOWED:
            yield "unknown_line", f"{name} is not a line of a care case."
    if (fields.get("model"), fields.get("serial"), fields.get("error code")) != subject.groups():
        yield "subject_differs", "Subject and block do not say the same."
    pattern = SERIALS.get(subject[1])
    if pattern and not pattern.fullmatch(subject[2]):
        yield "unknown_serial", f"{subject[2]} is not a serial of a {subject[1]}."
    yield from _field_faults(fields)
    yield from _file_faults(mail)


def _field_faults(fields: dict[str, str]) -> Any:
    if fields.get("request", "repair") not in REQUESTS:
        yield "bad_request", f"Request is one of {', '.join(sorted(REQUESTS))}."
    if fields.get("request") == "exchange" and not fields.get("return reason"):
        yield "missing", "return reason is missing."
    if not re.fullmatch(r"\+\d{7,15}", fields.get("contact phone", "+441632960000")):
        yield "bad_phone", "The phone needs its country code."
    if not re.fullmatch(r"\d{4}-\d\d-\d\d \d\d:\d\d", fields.get("since", "2026-01-01 00:00")):
        yield "bad_since", "Since is a date and a time: 2026-11-23 08:40."
    if len(fields.get("what happens", "x" * 30)) < 20:
        yield "too_short", "What happens needs twenty characters."
    if len(fields.get("what happens", "")) > 3000:
        yield "too_long", "What happens has at most 3000 characters."
    if fields.get("may enter", "yes") not in ("yes", "no"):
        yield "bad_entry", "May enter is yes or no."
    if fields.get("address", "x\ny").count("\n") < 1:
        yield "bad_address", "The address needs street and town on lines of their own."
    if len([p for p in fields.get("also tell", "").split(",") if p.strip()]) > 3:
        yield "too_many_told", "At most three people are told as well."


def _file_faults(mail: EmailMessage) -> Any:
    files = list(mail.iter_attachments())
    if len(files) > 1:
        yield "too_many_files", "One file only."
    for part in files:
        content = part.get_content()
        data = content if isinstance(content, bytes) else str(content).encode()
        if not (part.get_filename() or "").lower().endswith(".zip"):
            yield "not_a_zip", f"{part.get_filename()} is not a zip."
        elif len(data) > LARGEST_ZIP:
            yield "zip_too_large", "The zip has more than 20 MB."
        else:
            try:
                with zipfile.ZipFile(io.BytesIO(data)) as archive:
                    names = archive.namelist()
                    if archive.testzip() or not names:
                        yield "bad_zip", "The zip is broken or empty."
                    if any(name.startswith("/") or ".." in name for name in names):
                        yield "bad_zip", "The zip holds paths."
            except zipfile.BadZipFile:
                yield "bad_zip", "The zip cannot be opened."


class Postbox:
    """The SMTP side."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk

    async def handle_RCPT(  # noqa: N802 - its interface
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        """Mails for the one mailbox only."""
        if self._desk.mood["down"]:
            return "451 Try again later"
        if address.lower() != MAILBOX:
            return "550 No such mailbox"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
        """Take it, and read it a moment later."""
        await asyncio.sleep(float(self._desk.mood["slow"]))
        data = envelope.original_content or b""
        await asyncio.to_thread(self._desk.read, data)
        return "250 Taken"


def make_control(desk: Desk) -> Flask:
    """The control."""
    app = Flask("lumenlathe-control")

    def steer(one: dict[str, Any], wish: dict[str, Any]) -> None:
        reference = wish["case"]
        if "ask" in wish:
            desk.say(reference, "OVER TO YOU", wish["ask"], asks=True)
        if "ship" in wish:
            more = (("Part", "card reader"), ("Tracking", wish["ship"]))
            desk.say(reference, "PARTS SENT", "The part is on its way.", more=more)
        if "state" in wish:
            words = wish.get("say", f"The case is {wish['state'].lower()}.")
            desk.say(reference, wish["state"], words)

    add_control(
        app,
        desk,
        lambda: desk.state["cases"],
        steer,
        lambda: {name: desk.state[name] for name in ("cases", "turned_away")},
    )
    return app


def main() -> None:
    """Run the desk on loopback until interrupted."""
    parser = argparse.ArgumentParser(description="Lumenlathe's care desk, simulated.")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--control-port", type=int, required=True)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument(
        "--answers-to",
        required=True,
        help="Host and port of the mail server that takes its answers.",
    )
    arguments, _ = parser.parse_known_args()
    host, _, port = arguments.answers_to.partition(":")
    desk = Desk(arguments.folder, (host, int(port)))
    mail = Controller(
        Postbox(desk), hostname="127.0.0.1", port=arguments.port, data_size_limit=LARGEST_MAIL
    )
    mail.start()
    try:
        make_server(
            "127.0.0.1", arguments.control_port, make_control(desk), threaded=True
        ).serve_forever()
    finally:
        mail.stop()


if __name__ == "__main__":
    main()
