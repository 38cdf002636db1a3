"""Packets at their desk: messages, acts, replies, ownership."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from datetime import date, datetime
from pathlib import Path
from typing import Any

from sealpacket.client import models
from sealpacket.client.models import (
    AccessList,
    AccessShown,
    AssetFiles,
    Gone,
    HandGuide,
    PacketShown,
    Thread,
    TogetherDone,
    TogetherList,
    Tray,
    TrayItemShown,
    TypedShown,
    VendorFileShown,
)
from sealpacket.client.wire import Wire, part


class Following:
    """Answers, files, acts at the desk, and what a person brings in. A part of `Packets`.

    `case` is the label or reference of one of several cases; empty where there is only one. With `key` a repetition
    does nothing new. With `version`, the one that you have read, an act on a packet that has changed since is refused
    (code stale).
    """

    _wire: Wire

    def preview_reply(self, number: str, text: str) -> TypedShown:
        """Preview an answer to the desk: as typed and as it would leave."""
        return self._wire.call(
            TypedShown, "POST", f"/packets/{part(number)}/messages/preview", json={"text": text}
        )

    def reply(
        self,
        number: str,
        text: str = "",
        *,
        case: str = "",
        questions: Sequence[str] | None = None,
        files: Sequence[str] = (),
        key: str | None = None,
        version: int | None = None,
    ) -> PacketShown:
        """Answer the desk; what is sensitive in the text is masked. `questions` are ids, all open ones without it.

        `files` are names of exhibits that were added since the seal. Raises Refused (typed-secret) for a secret,
        (answered-before) where a colleague was faster.
        """
        chosen = None if questions is None else list(questions)
        body = {"text": text, "case": case, "questions": chosen, "files": list(files)}
        return self._call("POST", number, "/messages", json=body, key=key, version=version)

    def comment(
        self,
        number: str,
        text: str = "",
        *,
        case: str = "",
        files: Sequence[str] = (),
        key: str | None = None,
        version: int | None = None,
    ) -> PacketShown:
        """Send a comment to the desk, or files added since the seal."""
        body = {"text": text, "case": case, "files": list(files)}
        return self._call("POST", number, "/comment", json=body, key=key, version=version)

    def dismiss_question(
        self, number: str, question: str, *, version: int | None = None
    ) -> PacketShown:
        """Dismiss a question that needs no answer."""
        return self._call("POST", number, f"/questions/{part(question)}/dismiss", version=version)

    def take_back(self, number: str, message: str, *, version: int | None = None) -> PacketShown:
        """Take back what has not gone to the desk yet. Raises Refused (sent-before) for what has."""
        return self._call("POST", number, f"/messages/{part(message)}/take-back", version=version)

    def mark_unwished(
        self, number: str, message: str, *, unwished: bool = True, version: int | None = None
    ) -> PacketShown:
        """Note of a call that the desk called although mail was asked for; with False, that it did not."""
        path, body = f"/messages/{part(message)}/unwished", {"unwished": unwished}
        return self._call("POST", number, path, json=body, version=version)

    def consequences(self) -> list[models.ConsequenceOffered]:
        """Changes of the register that follow from answers and wait for a keeper, the oldest first."""
        return self._wire.call(models.ConsequenceList, "GET", "/consequences").items

    def take_consequence(
        self, number: str, ident: str, *, version: int | None = None
    ) -> PacketShown:
        """Take a change that follows from an answer into the register. Keepers only."""
        return self._call("POST", number, f"/consequences/{part(ident)}/take", version=version)

    def dismiss_consequence(
        self, number: str, ident: str, *, version: int | None = None
    ) -> PacketShown:
        """Dismiss such a change: the register stays as it is."""
        return self._call("POST", number, f"/consequences/{part(ident)}/dismiss", version=version)

    def undo_consequence(
        self, number: str, ident: str, *, version: int | None = None
    ) -> PacketShown:
        """Undo such a change. Raises Refused (changed-since) if the field was changed meanwhile."""
        return self._call("POST", number, f"/consequences/{part(ident)}/undo", version=version)

    def pass_on(self, number: str, message: str, *, version: int | None = None) -> PacketShown:
        """Note that a message was said, written or entered at a desk that is reached by hand."""
        return self._call("POST", number, f"/messages/{part(message)}/pass-on", version=version)

    def change_severity(
        self, number: str, level: str, text: str = "", *, case: str = "", version: int | None = None
    ) -> PacketShown:
        """Ask for another severity. Raises Refused (duty) where nobody could meet what it obliges to."""
        return self._act(number, "/severity", text, case, level=level, version=version)

    def escalate(
        self, number: str, text: str, *, step: int = 0, case: str = "", version: int | None = None
    ) -> PacketShown:
        """Escalate by a rule of the desk's (from 0). Raises Refused (too-early) before it allows that."""
        return self._act(number, "/escalate", text, case, step=step, version=version)

    def change_contact(
        self,
        number: str,
        person: str,
        text: str = "",
        *,
        case: str = "",
        version: int | None = None,
    ) -> PacketShown:
        """Name somebody else of the register (by key) to whom the desk shall speak."""
        return self._act(number, "/contact", text, case, person=person, version=version)

    def change_told(
        self,
        number: str,
        people: Sequence[str],
        text: str = "",
        *,
        case: str = "",
        version: int | None = None,
    ) -> PacketShown:
        """Name all of the register (by key) whom the desk shall keep informed."""
        return self._act(number, "/told", text, case, people=list(people), version=version)

    def accept(
        self, number: str, text: str = "", *, case: str = "", version: int | None = None
    ) -> PacketShown:
        """Accept the answer that the desk proposes. Raises Refused (no-answer) if the desk proposes nothing."""
        return self._act(number, "/accept", text, case, version=version)

    def contest(
        self, number: str, text: str, *, case: str = "", version: int | None = None
    ) -> PacketShown:
        """Say that the proposed answer does not solve it, and why."""
        return self._act(number, "/contest", text, case, version=version)

    def rate(
        self,
        number: str,
        rating: int,
        text: str = "",
        *,
        case: str = "",
        version: int | None = None,
    ) -> PacketShown:
        """Rate the help from 1 (bad) to 5 (good)."""
        return self._act(number, "/rate", text, case, rating=rating, version=version)

    def close(
        self, number: str, text: str = "", *, case: str = "", version: int | None = None
    ) -> PacketShown:
        """Ask the desk to close a case that needs no more help."""
        return self._act(number, "/close", text, case, version=version)

    def open_again(
        self, number: str, text: str = "", *, case: str = "", version: int | None = None
    ) -> PacketShown:
        """Ask the desk to reopen a settled case. Raises Refused (too-late) once the desk's time for that is over."""
        return self._act(number, "/open-again", text, case, version=version)

    def follow_up(
        self, number: str, title: str = "", note: str = "", *, version: int | None = None
    ) -> PacketShown:
        """Create a follow-up to a packet that is over."""
        return self._call(
            "POST", number, "/follow-up", json={"title": title, "note": note}, version=version
        )

    def name_colleague(
        self,
        number: str,
        question: str,
        *,
        name: str,
        mail: str,
        phone: str,
        version: int | None = None,
    ) -> PacketShown:
        """Answer a question for a person with a colleague; they are kept in the register for the next time."""
        body = {"question": question, "name": name, "mail": mail, "phone": phone}
        return self._call("POST", number, "/colleague", json=body, version=version)

    def claim(self, number: str, note: str = "", *, version: int | None = None) -> PacketShown:
        """Note a claim that goes on from a packet: its thing is to be returned, and answers and exhibits go along."""
        return self._call("POST", number, "/claim", json={"note": note}, version=version)

    def ask_for_cure(self, number: str, cure: str, *, version: int | None = None) -> PacketShown:
        """Note a packet that asks the vendor for a cure of a draft's ruling: a code of its `cures`."""
        return self._call("POST", number, "/ask-for-cure", json={"cure": cure}, version=version)

    def hand_over(
        self, number: str, to: str, note: str = "", *, version: int | None = None
    ) -> PacketShown:
        """Give a packet into a colleague's care: `to` is the name of an account."""
        return self._call(
            "POST", number, "/hand-over", json={"to": to, "note": note}, version=version
        )

    def keep_informed(
        self, number: str, people: Sequence[str], *, version: int | None = None
    ) -> PacketShown:
        """Name those of our own house who are kept informed of a packet, by their keys; none: nobody."""
        return self._call(
            "PUT", number, "/informed", json={"people": list(people)}, version=version
        )

    def thread(
        self, number: str, *, sorts: Sequence[str] = (), limit: int = 100, cursor: str = ""
    ) -> Thread:
        """A part of all that happened about a packet, the newest first.

        `sorts` are of theirs, ours, file, state, shipment, access and decision; `next` of one part is the `cursor` of
        the part before.
        """
        query = {"sort": list(sorts), "limit": limit, "cursor": cursor}
        return self._wire.call(Thread, "GET", f"/packets/{part(number)}/thread", params=query)

    def look(self, number: str) -> Thread:
        """Note that you have looked at the thread now: what comes later is `new`."""
        return self._wire.call(Thread, "PUT", f"/packets/{part(number)}/looked")

    def record(self, number: str, target: Path, *, form: str = "pdf") -> Path:
        """Save a packet as a document (pdf, html), as it was sent: sensitive values are masked."""
        return self._wire.save(f"/packets/{part(number)}/record", target, {"form": form})

    def record_in_clear(self, number: str, target: Path, reason: str, *, form: str = "pdf") -> Path:
        """Save a packet as a document in clear; the custody log keeps the reason."""
        body = {"reason": reason, "form": form}
        path = f"/packets/{part(number)}/record/in-clear"
        return self._wire.save(path, target, body=body)

    def act_together(
        self, act: str, numbers: Sequence[str], *, to: str = "", text: str = ""
    ) -> list[TogetherDone]:
        """Do one thing to many packets: `hand_over`, `take_over`, `comment` or `settle`.

        Of each it is said whether it is done; one that is refused holds up no other.
        """
        body = {"act": act, "numbers": list(numbers), "to": to, "text": text}
        return self._wire.call(TogetherList, "POST", "/packets/together", json=body).items

    def take_over(self, number: str, *, version: int | None = None) -> PacketShown:
        """Take over a packet."""
        return self._call("POST", number, "/take-over", version=version)

    def record_call(
        self,
        number: str,
        text: str,
        *,
        at: datetime | None = None,
        spoke_to: str = "",
        asks: bool = False,
        case: str = "",
        version: int | None = None,
    ) -> PacketShown:
        """Keep what was said on the telephone; with `asks` they wait for an answer."""
        more = {"at": _moment(at), "spoke_to": spoke_to, "asks": asks}
        return self._act(number, "/calls", text, case, **more, version=version)

    def take_reply(
        self,
        number: str,
        text: str = "",
        *,
        file: Path | None = None,
        by: str = "",
        at: datetime | None = None,
        asks: bool | None = None,
        case: str = "",
        version: int | None = None,
    ) -> PacketShown:
        """Take in what a desk said: a text, or a mail or paper as it came. The same thing counts once."""
        data = base64.b64encode(file.read_bytes()).decode() if file else ""
        more = {"data": data, "by": by, "at": _moment(at), "asks": asks}
        return self._act(number, "/replies", text, case, **more, version=version)

    def settle(
        self, number: str, *, cause: str = "", cure: str = "", version: int | None = None
    ) -> PacketShown:
        """Say that it is over, where its desk never does; and what it was."""
        return self._call(
            "POST", number, "/settle", json={"cause": cause, "cure": cure}, version=version
        )

    def hand_guide(self, number: str, by: str = "") -> HandGuide:
        """Guide for entering a packet by hand: the fields in the desk's order; `by` is one of its ways, such as
        telephone."""
        path = f"/packets/{part(number)}/hand"
        return self._wire.call(HandGuide, "GET", path, params={"by": by} if by else None)

    def tick_field(
        self,
        number: str,
        field: str,
        *,
        done: bool = True,
        case: str = "",
        by: str = "",
        version: int | None = None,
    ) -> HandGuide:
        """Note that a field (by its label) was entered, or was not; shows the guide of the way `by`."""
        body = {"field": field, "done": done, "case": case, "by": by}
        return self._wire.call(
            HandGuide, "PUT", f"/packets/{part(number)}/hand/fields", json=body, version=version
        )

    def enter_reference(
        self,
        number: str,
        reference: str,
        *,
        case: str = "",
        at: datetime | None = None,
        spoke_to: str = "",
        version: int | None = None,
    ) -> PacketShown:
        """Keep the reference that the desk gave to a person. Raises Refused (reference-form) for a mistyped one."""
        body = {"reference": reference, "case": case, "at": _moment(at), "spoke_to": spoke_to}
        return self._call("POST", number, "/reference", json=body, version=version)

    def try_now(self, number: str, *, version: int | None = None) -> PacketShown:
        """Try at once what waits for its desk. Raises Refused (nothing-waits) where nothing does."""
        return self._call("POST", number, "/try-now", version=version)

    def cancel(self, number: str, *, version: int | None = None) -> PacketShown:
        """Stop lodging while nothing of it can be with the desk. Raises Refused (may-be-there) after that."""
        return self._call("POST", number, "/cancel", version=version)

    def fetch_mail(self, number: str, message: str, target: Path) -> Path:
        """Write a desk's mail, as it came, to `target`."""
        return self._wire.save(f"/packets/{part(number)}/messages/{part(message)}/original", target)

    def grant_access(
        self,
        number: str,
        who: str,
        what: str,
        until: datetime,
        *,
        asked: str = "",
        version: int | None = None,
    ) -> PacketShown:
        """Note that somebody at the vendor may come into a system of ours, and until when."""
        body = {"who": who, "what": what, "until": _moment(until), "asked": asked}
        return self._call("POST", number, "/access", json=body, version=version)

    def end_access(self, access: str, how: str = "") -> PacketShown:
        """Note that access (by its id) has ended, and how."""
        return self._wire.call(
            PacketShown, "POST", f"/access/{part(access)}/end", json={"how": how}
        )

    def list_access(self, *, asset: str = "", ended: bool = False) -> list[AccessShown]:
        """Who may come into our systems now, the next to end first; of one asset or of all."""
        parameters = {"asset": asset, "ended": ended}
        return self._wire.call(AccessList, "GET", "/access", params=parameters).items

    def note_shipment(
        self,
        number: str,
        way: str,
        what: str,
        *,
        carrier: str = "",
        tracking: str = "",
        sent_on: date | None = None,
        due_on: date | None = None,
        late_cost_minor: int | None = None,
        currency: str | None = None,
        version: int | None = None,
    ) -> PacketShown:
        """Note something on its way `to_us` or `to_vendor`; `due_on` is until when it has to be there.

        `late_cost_minor` is charged after that, in minor units of `currency`.
        """
        body = {
            "way": way, "what": what, "carrier": carrier, "tracking": tracking,
            "sent_on": sent_on and sent_on.isoformat(), "due_on": due_on and due_on.isoformat(),
            "late_cost_minor": late_cost_minor, "currency": currency,
        }  # fmt: skip
        return self._call("POST", number, "/shipments", json=body, version=version)

    def receive_shipment(self, shipment: str, on: date | None = None) -> PacketShown:
        """Note that a shipment (by its id) has arrived, today if not said when."""
        body = {"on": on and on.isoformat()}
        return self._wire.call(
            PacketShown, "POST", f"/shipments/{part(shipment)}/arrived", json=body
        )

    def receive_unit(self, shipment: str, label: str, on: date | None = None) -> PacketShown:
        """Note that a replacement has arrived, check it by its label, and swap it for the packet's asset.

        `label` is the text of a code on the unit, or its serial. Raises Refused if it is not the expected unit.
        """
        body = {"label": label, "on": on and on.isoformat()}
        return self._wire.call(PacketShown, "POST", f"/shipments/{part(shipment)}/unit", json=body)

    def swap_serial(
        self, number: str, serial: str, from_on: date | None = None, *, version: int | None = None
    ) -> PacketShown:
        """Replace the packet's asset in the register by another serial; its cover moves with it."""
        body = {"serial": serial, "from_on": from_on and from_on.isoformat()}
        return self._call("POST", number, "/swap", json=body, version=version)

    def fetch_file(self, number: str, file: str, target: Path) -> Path:
        """Write a file that the vendor sent (by name or id), as it came, to `target`."""
        return self._wire.save(f"/packets/{part(number)}/files/{part(file)}", target)

    def store_with_asset(
        self, number: str, file: str, asset: str = "", *, version: int | None = None
    ) -> PacketShown:
        """Store a vendor's file with an asset, such as a patch; with the packet's own where none is named."""
        return self._call(
            "POST", number, f"/files/{part(file)}/asset", json={"asset": asset}, version=version
        )

    def files_of_asset(self, asset: str) -> list[VendorFileShown]:
        """Files of vendors that are stored with an asset (by id or serial), the newest first."""
        return self._wire.call(AssetFiles, "GET", f"/assets/{part(asset)}/files").items

    def _act(
        self,
        number: str,
        tail: str,
        text: str,
        case: str,
        version: int | None = None,
        **more: Any,
    ) -> PacketShown:
        body = {"text": text, "case": case, **more}
        return self._call("POST", number, tail, json=body, version=version)

    def _call(self, method: str, number: str, tail: str = "", **arguments: Any) -> PacketShown:
        return self._wire.call(PacketShown, method, f"/packets/{part(number)}{tail}", **arguments)


def _moment(at: datetime | None) -> str | None:
    """A moment for the wire; without a zone it is one of this machine's."""
    return None if at is None else at.astimezone().isoformat()


class TrayBox:
    """Incoming mail and documents that match no packet."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def list(self) -> list[TrayItemShown]:
        """All of it, the oldest first."""
        return self._wire.call(Tray, "GET", "/tray").items

    def fetch(self, item: str, target: Path) -> Path:
        """Write something from the tray, as it came, to `target`."""
        return self._wire.save(f"/tray/{part(item)}", target)

    def attach(self, item: str, number: str) -> PacketShown:
        """Attach an item of the tray to a packet, where it is read like any reply."""
        body = {"number": number}
        return self._wire.call(PacketShown, "POST", f"/tray/{part(item)}/attach", json=body)

    def discard(self, item: str, reason: str) -> None:
        """Take it out; it belongs to no packet."""
        self._wire.call(Gone, "POST", f"/tray/{part(item)}/discard", json={"reason": reason})
