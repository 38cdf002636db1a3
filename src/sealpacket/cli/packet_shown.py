"""How a packet is shown on the command line."""

from __future__ import annotations

import shlex
from typing import TYPE_CHECKING

from rich.text import Text

from sealpacket.cli import show
from sealpacket.cli.coverage import show_ruling

if TYPE_CHECKING:
    from sealpacket.client.models import (
        AskedShown,
        ExhibitShown,
        MessageShown,
        PacketShown,
        TypedShown,
    )

_COMMANDS = {"no-desk": "sealpacket desk put FILE"}
"""The command that cures a check, if its remedy does not name it."""
TURNS = {"ours": "Our turn.", "vendor": "Their turn."}


def tell_packet(packet: PacketShown, clear: dict[str, str] | None = None) -> None:
    """Show a packet; `clear` are messages whose placeholders are resolved, by id."""
    show.heading(
        f"{packet.number}  {packet.title}",
        f"{packet.life} · {packet.status_text} · version {packet.version}",
    )
    if packet.asset:
        where = f" at {packet.asset.site}" if packet.asset.site else ""
        show.line(
            f"About {packet.asset.product} {packet.asset.serial}{where}, {packet.asset.vendor_name}"
        )
    if packet.login:
        show.line(f"Through {packet.login} to {packet.desk_name}")
    others = [one.key for one in packet.desks if one.key != packet.desk]
    if others:
        show.line(
            f"Another desk: sealpacket packet change {packet.number} --desk {'|'.join(others)}",
            "dim",
        )
    show_severity(packet)
    names = {"Our reference": packet.our_reference, "Ticket": packet.ticket}
    for name, value in names.items():
        if value:
            show.line(f"{name} {value}")
    _show_care(packet)
    if packet.lodged_at:
        show.line(f"Lodged {show.moment(packet.lodged_at)} as {packet.reference or 'nothing yet'}")
    if packet.ruling:
        show_ruling(packet.ruling)
    if packet.exhibits:
        show.heading("Exhibits")
        show.table(
            ("Name", "State", ">Original", ">Outgoing", "Masked"),
            (
                (
                    e.name,
                    _state(e),
                    show.size(e.size),
                    show.size(e.outgoing_size),
                    _counts(e.counts),
                )
                for e in packet.exhibits
            ),
            nothing="",
        )
    show_checks(packet)
    _show_release(packet)
    show_cases(packet)
    show_messages(packet, clear)


def _show_others(packet: PacketShown) -> None:
    """The packets that it follows, asks for, or waits for."""
    if packet.follows:
        show.line(f"It follows {packet.follows}")
    if packet.asks_for:
        show.line(f"{packet.asks_for} waits for what it asks for")
    for cure in packet.cures:
        if cure.packet:
            show.line(f"{cure.packet} asks the vendor for {cure.code}: {cure.life}")
    for number in packet.followed_by:
        show.line(f"Followed by {number}")


def _show_care(packet: PacketShown) -> None:
    """Who looks after it, what it follows, how it ended, and what it waits for."""
    if packet.owner:
        show.line(f"Looked after by {packet.owner}", "dim")
    if packet.handed:
        when = show.moment(packet.handed.at)
        show.line(f"Handed over by {packet.handed.by}, {when}: {packet.handed.note or 'no words'}")
    _show_others(packet)
    if packet.cause or packet.cure:
        show.line(f"Cause: {packet.cause or '–'}  Cure: {packet.cure or '–'}")
    for grant in packet.access:
        if grant.ended_at is None:
            show.line(f"{grant.who} may come into {grant.what} until {show.moment(grant.until_at)}")
    for one in packet.shipments:
        state = f"arrived {one.arrived_on}" if one.arrived_on else f"due {one.due_on or 'some day'}"
        show.line(f"{one.what} {one.way.replace('_', ' ')}: {state} {one.tracking}".rstrip())
    if packet.next_try_at:
        show.line(f"{packet.waits_because} Next try {show.moment(packet.next_try_at)}.", "yellow")


def show_severity(packet: PacketShown) -> None:
    """The severity with its words, and what the desk does about it as time goes on."""
    rule = packet.severity
    if rule is None:
        return
    if rule.label:
        show.line(f"Severity {rule.label}. {rule.raising}".rstrip())
    elif rule.set_by == "desk":
        show.line("The desk sets the severity.")
    if packet.life in ("lodged", "answered") and rule.levels:
        show.line("  " + "; ".join(f"{one.value}: {one.label}" for one in rule.levels), "dim")
    for step in rule.escalation:
        show.line(f"  {step.trigger}: {step.action}, {step.contact}".rstrip(", "), "dim")


def show_cases(packet: PacketShown) -> None:
    """Show the status of each case if there are several, and other facts from the desk."""
    for case in packet.cases:
        if len(packet.cases) > 1:
            show.line(
                f"  {case.label}: {case.reference or 'not sent yet'} {case.desk_status}".rstrip()
            )
        for label, value in case.desk_facts.items():
            show.line(f"{'    ' if case.label else '  '}{label}: {value}")


def _state(exhibit: ExhibitShown) -> str:
    if not exhibit.later:
        return exhibit.state
    return "added later, sent" if exhibit.sent else f"added later, {exhibit.state}"


def _counts(counts: dict[str, int]) -> str:
    return ", ".join(f"{count} {kind}" for kind, count in counts.items())


def _show_release(packet: PacketShown) -> None:
    """Say why a draft needs a second person, and whether one was asked."""
    if (release := packet.release) is None:
        return
    asked = f" {release.asked_by} has asked for the release." if release.asked_by else ""
    show.line(
        f"  A second person seals it: {'; '.join(release.reasons)}. "
        f"Prepared by {', '.join(release.prepared_by)}.{asked}",
        "yellow",
    )


def show_checks(packet: PacketShown) -> None:
    """Show the checks of a draft."""
    if packet.life != "drafting":
        return
    show.heading("Before it can be sealed")
    for check in packet.checks:
        if check.level != "pass":
            command = f": {_COMMANDS[check.code]}" if check.code in _COMMANDS else ""
            remedy = f" → {check.remedy}{command}" if check.remedy else ""
            show.line(f"  {check.level:5} {check.sentence}{remedy}", show.LEVEL_STYLES[check.level])
    passed = sum(check.level == "pass" for check in packet.checks)
    stops = sum(check.level == "stop" for check in packet.checks)
    show.line(
        f"  {passed} checks passed" + ("" if stops else "; nothing stops it"),
        "green" if not stops else "dim",
    )


def show_messages(packet: PacketShown, clear: dict[str, str] | None = None) -> None:
    """Show the messages, the oldest first; open questions are numbered."""
    marks = {one.id: number for number, one in enumerate(open_questions(packet), 1)}
    for message in packet.messages:
        _show_message(message, marks, clear or {})


def open_questions(packet: PacketShown) -> list[AskedShown]:
    """All that waits for our answer, the oldest first."""
    return [one for message in packet.messages for one in message.questions if one.open]


def _show_message(message: MessageShown, marks: dict[str, int], clear: dict[str, str]) -> None:
    if message.stranger:
        show.line(
            f"  from {message.sender}, not proven to be the desk's answer: it changed nothing in the packet",
            "bold red",
        )
    said = message.outgoing if message.outgoing is not None else message.text
    said = clear.get(message.id, said)
    if message.about or not said:
        told = ": ".join(one for one in (_ACTS.get(message.act, ""), message.about) if one)
        said = f"{told}. {said}".strip() if said else told
    by = f"{message.by} ({message.case})" if message.case else message.by
    show.line(f"  {show.moment(message.at)}  {by} {_verb(message)}: {said}{_on_its_way(message)}")
    if message.files:
        show.line(f"      with {', '.join(message.files)}", "dim")
    for file in message.received:
        state = f"{show.size(file.size)}, {file.kind}" if file.state == "kept" else file.state
        show.line(f"      file: {file.name} ({state}) {file.warning or file.failure}".rstrip())
    for one in message.questions:
        if one.open:
            doubt = "perhaps a question" if one.doubtful else "question"
            show.line(f"      {marks[one.id]}. {doubt}: {one.text}", "yellow")


_ACTS = {
    "severity": "another severity", "escalate": "escalation", "contact": "another contact",
    "told": "other people to be told", "accept": "the answer is accepted", "contest": "the answer is contested",
    "rate": "a rating", "close": "please close it", "open_again": "please open it again",
}  # fmt: skip


def _verb(message: MessageShown) -> str:
    if message.direction == "out":
        act = _ACTS.get(message.act)
        return f"wrote ({act})" if act else "wrote"
    if message.how == "call":
        remarks = [
            "outside the hours of our contact" if message.outside_hours else "",
            "although mail was asked for" if message.unwished else "",
        ]
        return ", ".join(["said on the telephone", *filter(None, remarks)])
    return "asks" if message.asks and not message.answered else "says"


def _on_its_way(message: MessageShown) -> str:
    if message.taken_back:
        return "  (taken back)"
    if message.sent:
        return ""
    if message.failure:
        return f"  (not sent: {message.failure})"
    return "  (to be passed on by hand)" if message.how == "hand" else "  (being sent)"


def typed_text(number: str, text: TypedShown) -> None:
    """A typed text with its values marked, what goes out instead of each, and how to decide otherwise."""
    if not any(part.masked for part in text.parts) and not text.kept:
        return
    show.heading(f"Typed: {text.ask}", text.in_clear)
    show.out().print(
        Text.assemble(*((p.text, "reverse" if p.masked else "") for p in text.parts)),
        soft_wrap=True,
    )
    values = [(part, value) for part in text.parts for value in part.masked]
    show.table(
        ("Masked", "Kind", "Goes out as", ""),
        (
            (
                value.original,
                value.kind,
                value.placeholder,
                "stops it" if part.stops else "" if part.sure else "doubtful",
            )
            for part, value in values
        ),
        nothing="Nothing is masked.",
    )
    for kept in text.kept:
        show.line(f"goes out: {kept.value} ({kept.reason})", "dim")
    if values:
        part, value = next((one for one in values if one[0].stops), values[0])
        verb = "mask" if part.stops else "keep"
        show.line(
            f"sealpacket exhibit {verb} {number} {value.kind} {shlex.quote(value.original)} --reason …",
            "dim",
        )


def tell_state(packet: PacketShown) -> None:
    """Show the state of a packet, and when its next try is."""
    show.line(f"{packet.number}: {packet.status_text}")
    if packet.next_try_at:
        show.line(f"Next try {show.moment(packet.next_try_at)}.", "dim")
