"""Packets and exhibits through the client."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple, Unpack

from sealpacket.client.errors import ClientError, Refused
from sealpacket.client.following import Following
from sealpacket.client.models import (
    CountList,
    DecisionList,
    DecisionShown,
    Done,
    DrawnBoxes,
    DrawnBoxShown,
    ExhibitShown,
    LegendDestroyed,
    LegendShown,
    Letter,
    OriginalsDeleted,
    PacketBrief,
    PacketCount,
    PacketPage,
    PacketShown,
    PageList,
    Replay,
    Review,
    SheetChanges,
    Similar,
    Summary,
    TriedShown,
    ValueList,
)
from sealpacket.client.polling import poll
from sealpacket.client.wire import Wire, part

if TYPE_CHECKING:
    from sealpacket.client.fields import PacketChanges, PacketNarrow

Progress = Callable[[int, int], None]
_BLOCK = 1 << 18
_A_HICCUP = timedelta(seconds=10)
PAGE = 200
"""Packets that are asked for at once."""


class PageBox(NamedTuple):
    """A box to draw on a page (from 1): its edges in parts of the page's width and height, from the upper left."""

    page: int
    left: float
    top: float
    right: float
    bottom: float


class Packets(Following):
    """From the note to the settled end. Acts take the `version` of the packet that you have read; see Following."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def note(
        self,
        title: str,
        note: str = "",
        *,
        need: str = "fault",
        asset: str | None = None,
        began_at: datetime | None = None,
        ticket: str = "",
        our_reference: str = "",
        key: str | None = None,
    ) -> PacketShown:
        """Note what happened; `asset` by id or serial, `ticket` its number at our own service desk.

        `our_reference` is its name in a system of yours, such as an alert: unique for good. Raises Refused
        (reference-taken) with the `number` of the packet that has it. With `key` a repetition within a day notes
        nothing new.
        """
        body = {"title": title, "note": note, "need": need, "asset": asset, "ticket": ticket}
        body["our_reference"] = our_reference
        body["began_at"] = began_at.isoformat() if began_at else None
        return self._wire.call(PacketShown, "POST", "/packets", json=body, key=key)

    def note_context(self, context: Mapping[str, Any], *, key: str | None = None) -> PacketShown:
        """Note a packet from a program's context, in the format of program-context.schema.json."""
        body = {"context": 1, **context}
        return self._wire.call(PacketShown, "POST", "/packets/from-context", json=body, key=key)

    def tried(
        self,
        number: str,
        step: str,
        result: str = "",
        *,
        at: datetime | None = None,
        exhibit: str = "",
        version: int | None = None,
    ) -> TriedShown:
        """Note what was tried on a packet's thing, and what it showed."""
        body = {"step": step, "result": result, "exhibit": exhibit}
        body |= {"at": at.isoformat()} if at else {}
        return self._wire.call(
            TriedShown, "POST", f"/packets/{part(number)}/tried", json=body, version=version
        )

    def untry(self, ident: str) -> None:
        """Take back what was noted as tried."""
        self._wire.call(Done, "DELETE", f"/tried/{part(ident)}")

    def get(self, number: str) -> PacketShown:
        """Show a packet with its answers, exhibits and checks."""
        return self._call("GET", number)

    def similar(
        self, title: str = "", note: str = "", *, asset: str | None = None, number: str = ""
    ) -> Similar:
        """Find packets and articles similar to a note, or to the draft `number`."""
        query = {"title": title, "note": note, "asset": asset, "number": number}
        parameters = {key: value for key, value in query.items() if value}
        return self._wire.call(Similar, "GET", "/similar", params=parameters)

    def end_as_solved(
        self, number: str, *, packet: str = "", article: str = "", version: int | None = None
    ) -> PacketShown:
        """End a draft that a packet or an article has solved."""
        body = {"packet": packet, "article": article}
        return self._call("POST", number, "/solved", json=body, version=version)

    def replay(self, number: str) -> Replay:
        """The ruling of a sealed packet, made again from its stored inputs."""
        return self._wire.call(Replay, "GET", f"/packets/{part(number)}/ruling")

    def count(self, by: str) -> list[PacketCount]:
        """Count the open packets by vendor, asset, product, site, contract, login or owner, the most first."""
        return self._wire.call(CountList, "GET", "/packets/counts", params={"by": by}).items

    def list(
        self, *, sort: str = "", most: int | None = None, **which: Unpack[PacketNarrow]
    ) -> list[PacketBrief]:
        """All packets, or `most` of them: the newest first, or by the column `sort` (`-due_at`: downwards)."""
        found: list[PacketBrief] = []
        parameters = narrowed(which, sort)
        while most is None or len(found) < most:
            parameters["limit"] = PAGE if most is None else min(most - len(found), PAGE)
            page = self._wire.call(PacketPage, "GET", "/packets", params=parameters)
            found += page.items
            parameters["cursor"] = page.next
            if not page.next:
                break
        return found

    def export(
        self,
        target: Path,
        form: str = "csv",
        *,
        sort: str = "",
        **which: Unpack[PacketNarrow],
    ) -> Path:
        """Save a list of packets as csv, xlsx or jsonl."""
        parameters = {**narrowed(which, sort), "form": form}
        return self._wire.save("/packets/export", target, parameters)

    def change(
        self, number: str, version: int | None = None, **fields: Unpack[PacketChanges]
    ) -> PacketShown:
        """Change a draft; without `version`, whatever it is."""
        headers = {"If-Match": "*"} if version is None else {}
        return self._call("PATCH", number, json=fields, version=version, headers=headers)

    def answer_foreseen(
        self, number: str, ident: str, answer: str = "", *, version: int | None = None
    ) -> PacketShown:
        """Answer a question of `foreseen` before the desk asks it, by its id; without an answer it is dismissed."""
        body = {"id": ident, "answer": answer}
        return self._call("POST", number, "/foreseen", json=body, version=version)

    def name_unlisted(
        self,
        number: str,
        *,
        vendor: str,
        model: str = "",
        serial: str = "",
        name: str = "",
        site: str = "",
        version: int | None = None,
    ) -> PacketShown:
        """Make it about something that is not in the register, which is added with what is known of it."""
        body = {"vendor": vendor, "model": model, "serial": serial, "name": name, "site": site}
        return self._call("POST", number, "/unlisted", json=body, version=version)

    def answer(
        self, number: str, version: int | None = None, /, **answers: str | None
    ) -> PacketShown:
        """Answer questions of the desk's; None goes back to what the register says."""
        return self._call("PUT", number, "/answers", json={"answers": answers}, version=version)

    def letter(self, number: str) -> Letter:
        """The case as the desk will read it."""
        return self._wire.call(Letter, "GET", f"/packets/{part(number)}/letter")

    def seal(self, number: str, *, version: int | None = None) -> PacketShown:
        """Seal it. Raises Refused (code stops-left) while something stops it."""
        return self._call("POST", number, "/seal", version=version)

    def lodge(self, number: str, *, version: int | None = None) -> PacketShown:
        """Deliver it to its desk; `wait` for the reference."""
        return self._call("POST", number, "/lodge", version=version)

    def follow(self, number: str, *, wait: bool = True, version: int | None = None) -> PacketShown:
        """Ask the desk for the status now; the worker does it. Raises Refused (desk-away) if the desk cannot be
        reached."""
        packet = self._call("POST", number, "/follow", version=version)
        if not wait:
            return packet
        packet = self.wait(number)
        if packet.follow_state == "failed":
            raise Refused(
                503,
                {
                    "code": "desk-away",
                    "detail": packet.follow_status_text,
                    "remedy": "Try again later.",
                },
            )
        return packet

    def sheet_changes(self, number: str) -> SheetChanges:
        """The changes that the newer sheet would make to a draft. Raises Refused if there is no newer sheet."""
        return self._wire.call(SheetChanges, "GET", f"/packets/{part(number)}/sheet")

    def bring_along(self, number: str, *, version: int | None = None) -> PacketShown:
        """Bring a draft along to the newer sheet of its desk."""
        return self._call("POST", number, "/sheet", version=version)

    def reopen(self, number: str, *, version: int | None = None) -> PacketShown:
        """Take it back to drafting."""
        return self._call("POST", number, "/reopen", version=version)

    def ask_release(self, number: str, *, version: int | None = None) -> PacketShown:
        """Ask for a second person to seal it. Raises Refused (no-second-person) if no rule asks for one."""
        return self._call("POST", number, "/release/ask", version=version)

    def withdraw(self, number: str, reason: str, *, version: int | None = None) -> PacketShown:
        """Give it up."""
        return self._call("POST", number, "/withdraw", json={"reason": reason}, version=version)

    def fetch_bag(self, number: str, target: Path) -> Path:
        """Write the sealed bag to `target`, whole or not at all."""
        return self._wire.save(f"/packets/{part(number)}/bag", target)

    def seal_later(self, number: str, *, version: int | None = None) -> PacketShown:
        """Seal what came after the last bag. Raises Refused (nothing-new) if there is nothing."""
        return self._call("POST", number, "/later-bags", version=version)

    def fetch_later_bag(self, number: str, place: int, target: Path, *, reason: str = "") -> Path:
        """Write a later bag to `target`; one in clear needs a reason, which the custody log keeps."""
        path = f"/packets/{part(number)}/later-bags/{place}"
        if not reason:
            return self._wire.save(path, target)
        return self._wire.save(f"{path}/in-clear", target, body={"reason": reason})

    def wait(
        self,
        number: str,
        *,
        seconds: float = 600,
        progress: Callable[[PacketShown], None] | None = None,
    ) -> PacketShown:
        """Wait until nothing of the packet is being redacted, delivered or asked for any more. Raises ClientError."""
        return poll(
            lambda: self.get(number),
            lambda packet: not busy(packet),
            seconds=seconds,
            overdue=lambda _: ClientError(
                f"{number} is still busy after {seconds:.0f} seconds.",
                "Look whether the worker runs.",
            ),
            progress=progress,
            has_worker=self._wire.has_worker,
        )


def busy(packet: PacketShown) -> bool:
    """Whether the worker has something of this packet in hand; what waits longer for its desk is not."""
    redacting = any(exhibit.state in ("waiting", "redacting") for exhibit in packet.exhibits)
    soon = datetime.now(UTC) + _A_HICCUP
    waits = packet.next_try_at is not None and packet.next_try_at > soon
    lodging = packet.lodge_state == "sending" or (packet.lodge_state == "queued" and not waits)
    return redacting or lodging or packet.follow_state == "asking"


class Exhibits:
    """Evidence of a packet. Acts take the `version` of the packet that you have read."""

    def __init__(self, wire: Wire) -> None:
        self._wire = wire

    def add(
        self,
        number: str,
        path: Path,
        *,
        name: str | None = None,
        collected: Mapping[str, str] | None = None,
        progress: Progress | None = None,
    ) -> ExhibitShown:
        """Send a file; `progress` gets bytes sent and bytes in all. It is redacted by the worker afterwards.

        `collected` names the kit, the step and the state of what a kit has brought.
        """
        size = path.stat().st_size
        shown = name or path.name
        body = {"name": shown, "size": size, **({"collected": collected} if collected else {})}
        self._wire.call(ExhibitShown, "POST", f"/packets/{part(number)}/exhibits", json=body)
        return self._wire.call(
            ExhibitShown,
            "PUT",
            f"{self._path(number, shown)}/content",
            content=_blocks(path, size, progress),
            headers={"Content-Type": "application/octet-stream", "Content-Length": str(size)},
        )

    def attach(
        self, number: str, source: str, name: str, *, version: int | None = None
    ) -> ExhibitShown:
        """Attach an exhibit of the packet `source` without copying it; it is redacted again for this packet."""
        body = {"packet": source, "name": name}
        return self._wire.call(
            ExhibitShown, "POST", f"/packets/{part(number)}/attached", json=body, version=version
        )

    def delete_originals(
        self, number: str, reason: str, *, version: int | None = None
    ) -> OriginalsDeleted:
        """Delete the originals of a packet that is over, for good; the sealed bag stays."""
        return self._wire.call(
            OriginalsDeleted,
            "POST",
            f"/packets/{part(number)}/originals/delete",
            json={"reason": reason},
            version=version,
        )

    def remove(self, number: str, name: str, *, version: int | None = None) -> None:
        """Take an exhibit out."""
        self._wire.call(Done, "DELETE", self._path(number, name), version=version)

    def review(
        self,
        number: str,
        name: str,
        at: int = 0,
        *,
        kind: str = "",
        lines: int = 14,
        placeholder: str = "",
        line: int = 0,
    ) -> Review:
        """Original beside outgoing copy, around finding `at` (from 0) of a kind or one value, or from a line on."""
        parameters: dict[str, Any] = {
            "at": at,
            "kind": kind,
            "lines": lines,
            "placeholder": placeholder,
            "line": line,
        }
        return self._wire.call(
            Review, "GET", f"{self._path(number, name)}/review", params=parameters
        )

    def summarise(
        self, number: str, name: str, start: datetime | None = None, end: datetime | None = None
    ) -> Summary:
        """The summary of a log, and what is new or more frequent in a time range or around the moment when it began."""
        window = {"start": start, "end": end} if start and end else {}
        parameters = {key: moment.isoformat() for key, moment in window.items() if moment}
        return self._wire.call(
            Summary, "GET", f"{self._path(number, name)}/summary", params=parameters
        )

    def cut(
        self, number: str, name: str, start: datetime, end: datetime, *, version: int | None = None
    ) -> ExhibitShown:
        """Keep only the lines of a log between two moments; it is redacted again."""
        body = {"start": start.isoformat(), "end": end.isoformat()}
        return self._wire.call(
            ExhibitShown, "POST", f"{self._path(number, name)}/cut", json=body, version=version
        )

    def values(
        self, number: str, name: str, *, kind: str = "", q: str = "", limit: int = 200
    ) -> ValueList:
        """The masked values of an exhibit, the most frequent first."""
        parameters: dict[str, Any] = {"kind": kind, "q": q, "limit": limit}
        return self._wire.call(
            ValueList, "GET", f"{self._path(number, name)}/values", params=parameters
        )

    def pages(self, number: str, name: str) -> PageList:
        """The pages of a picture or PDF, what is covered on them, and the boxes that were drawn."""
        return self._wire.call(PageList, "GET", f"{self._path(number, name)}/pages")

    def page(self, number: str, name: str, page: int = 1, *, side: str = "outgoing") -> bytes:
        """One page (from 1) as PNG: as it goes, or as it came (`original`)."""
        return self._wire.send(
            "GET", f"{self._path(number, name)}/pages/{page}/{part(side)}"
        ).content

    def draw_boxes(
        self,
        number: str,
        name: str,
        boxes: Sequence[PageBox],
        *,
        reason: str,
        version: int | None = None,
    ) -> list[DrawnBoxShown]:
        """Cover areas of pages; the exhibit is redacted again."""
        body = {"boxes": [box._asdict() for box in boxes], "reason": reason}
        return self._wire.call(
            DrawnBoxes, "POST", f"{self._path(number, name)}/boxes", json=body, version=version
        ).drawn

    def rub_out_box(
        self, number: str, name: str, ident: str, *, version: int | None = None
    ) -> list[DrawnBoxShown]:
        """Take a drawn box back."""
        return self._wire.call(
            DrawnBoxes, "DELETE", f"{self._path(number, name)}/boxes/{part(ident)}", version=version
        ).drawn

    def decisions(self, number: str) -> list[DecisionShown]:
        """The decisions about a packet's values, the newest first."""
        return self._wire.call(DecisionList, "GET", f"/packets/{part(number)}/decisions").decisions

    def decide(
        self,
        number: str,
        action: str,
        kind: str,
        value: str = "",
        *,
        reason: str,
        as_term: bool = False,
        version: int | None = None,
    ) -> list[DecisionShown]:
        """Keep or mask a value, or without one a whole kind, everywhere in a packet; it is redacted again."""
        body = {
            "action": action,
            "kind": kind,
            "value": value,
            "reason": reason,
            "as_term": as_term,
        }
        return self._wire.call(
            DecisionList, "POST", f"/packets/{part(number)}/decisions", json=body, version=version
        ).decisions

    def open_legend(self, number: str, *, reason: str, version: int | None = None) -> LegendShown:
        """Show the originals of placeholders, and the messages in clear; the custody log records it with the reason."""
        return self._wire.call(
            LegendShown,
            "POST",
            f"/packets/{part(number)}/legend",
            json={"reason": reason},
            version=version,
        )

    def destroy_legend(self, number: str, *, version: int | None = None) -> LegendDestroyed:
        """Destroy the legend of a settled packet, now. Nobody can read its placeholders any more."""
        return self._wire.call(
            LegendDestroyed, "DELETE", f"/packets/{part(number)}/legend", version=version
        )

    def undo_decision(
        self, number: str, ident: str, *, version: int | None = None
    ) -> list[DecisionShown]:
        """Take a decision back."""
        return self._wire.call(
            DecisionList,
            "DELETE",
            f"/packets/{part(number)}/decisions/{part(ident)}",
            version=version,
        ).decisions

    def redact(self, number: str, name: str, *, version: int | None = None) -> ExhibitShown:
        """Redact an exhibit again with the current register."""
        return self._wire.call(
            ExhibitShown, "POST", f"{self._path(number, name)}/redact", version=version
        )

    def release(
        self, number: str, name: str, reason: str, *, version: int | None = None
    ) -> ExhibitShown:
        """Let a held exhibit go out as it is."""
        return self._wire.call(
            ExhibitShown,
            "POST",
            f"{self._path(number, name)}/release",
            json={"reason": reason},
            version=version,
        )

    def fetch_outgoing(self, number: str, name: str, target: Path) -> Path:
        """Write the outgoing copy to `target`."""
        return self._wire.save(f"{self._path(number, name)}/outgoing", target)

    @staticmethod
    def _path(number: str, name: str) -> str:
        return f"/packets/{part(number)}/exhibits/{part(name)}"


def _blocks(path: Path, size: int, progress: Progress | None) -> Iterator[bytes]:
    sent = 0
    with path.open("rb") as file:
        while block := file.read(_BLOCK):
            yield block
            sent += len(block)
            if progress:
                progress(sent, size)


def narrowed(which: PacketNarrow, sort: str = "") -> dict[str, Any]:
    """The parameters of a narrowed list of packets; what is empty narrows nothing."""
    found: dict[str, Any] = {"sort": sort, **which}
    found["q"] = found.pop("query", "")
    return {
        name: value.astimezone().isoformat() if isinstance(value, datetime) else value
        for name, value in found.items()
        if value
    }
