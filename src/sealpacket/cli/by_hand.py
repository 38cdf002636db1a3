"""Commands for desks without a machine: their fields, references and replies, entered by a person."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.consequences import app
from sealpacket.cli.packet_options import At, Case, IfVersion, Number
from sealpacket.cli.packet_shown import (
    TURNS,
    show_messages,
    tell_state,
)
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client.models import (
        HandCase,
        HandGuide,
    )


__all__ = ["app"]

SpokeTo = Annotated[str, typer.Option(help="Person at the desk.")]


@app.command("pass-on")
def pass_on(number: Number, if_version: IfVersion = None) -> None:
    """Note that all waiting messages were passed on to the desk by hand."""
    with session.client() as client:
        packet = client.packets.get(number)
        waiting = [
            m for m in packet.messages
            if m.direction == "out" and m.how == "hand" and not m.sent and not m.taken_back
        ]  # fmt: skip
        if not waiting:
            raise ClientError("Nothing waits to be passed on.", "Write a comment first.")
        for message in waiting:
            packet = client.packets.pass_on(number, message.id, version=if_version)
        show_messages(packet)


@app.command()
def call(
    number: Number,
    text: Annotated[str, typer.Argument(help="Summary of the call.")],
    at: At = None,
    spoke_to: SpokeTo = "",
    asks: Annotated[bool, typer.Option("--asks", help="The desk waits for an answer.")] = False,
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Record a telephone call with the desk."""
    with session.client() as client:
        show_messages(
            client.packets.record_call(
                number, text, at=at, spoke_to=spoke_to, asks=asks, case=case, version=if_version
            )
        )


@app.command("take-reply")
def take_reply(
    number: Number,
    text: Annotated[str, typer.Argument(help="Text of the reply.")] = "",
    file: Annotated[
        Path | None,
        typer.Option(exists=True, dir_okay=False, help="A mail (.eml) or document as it arrived."),
    ] = None,
    by: Annotated[str, typer.Option(help="Author of the reply.")] = "",
    at: At = None,
    asks: Annotated[
        bool | None,
        typer.Option("--asks/--no-question", help="Whether it waits for an answer."),
    ] = None,
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Record a reply that reached you directly: a text, or the mail or document."""
    with session.client() as client:
        packet = client.packets.take_reply(
            number, text, file=file, by=by, at=at, asks=asks, case=case, version=if_version
        )
    show.line(f"{packet.number}: {packet.status_text}. {TURNS.get(packet.turn, '')}".rstrip())
    show_messages(packet)


@app.command()
def hand(
    number: Number,
    tick: Annotated[list[str] | None, typer.Option(help="Field that has been entered.")] = None,
    untick: Annotated[
        list[str] | None, typer.Option(help="Field that has not been entered after all.")
    ] = None,
    files: Annotated[
        Path | None, typer.Option(file_okay=False, help="Folder for the files to upload.")
    ] = None,
    by: Annotated[str, typer.Option(help="Way of lodging: form, telephone, mail or paper.")] = "",
    case: Case = "",
    json: show.Json = False,
) -> None:
    """Show the fields to enter at a desk reached by hand, in its order, and which are done."""
    with session.client() as client:
        guide = client.packets.hand_guide(number, by)
        for done, labels in ((True, tick), (False, untick)):
            for label in labels or ():
                guide = client.packets.tick_field(number, label, done=done, case=case, by=by)
        if files is not None:
            files.mkdir(parents=True, exist_ok=True)
            for one in guide.files:
                client.exhibits.fetch_outgoing(number, one.exhibit, files / one.name)
                show.line(f"Saved {files / one.name}.", "dim")
    if json:
        show.as_json(guide)
        return
    _show_guide(number, guide)


_BY = {
    "form": "Enter it on the desk's page",
    "telephone": "Call the desk",
    "mail": "Write it in a mail of your own",
    "paper": "Write it on the form",
}


def _show_guide(number: str, guide: HandGuide) -> None:
    show.heading(_BY[guide.by], guide.where)
    for other in guide.ways:
        if other.by != guide.by:
            words = f"{_BY[other.by][:1].lower()}{_BY[other.by][1:]}"
            where = f", {other.where}" if other.where else ""
            show.line(f"Or {words}{where}: --by {other.by}", "dim")
    for case in guide.cases:
        _show_fields(case)
    for file in guide.files:
        show.line(f"  file  {file.name}, {show.size(file.size)}")
    if guide.passcode_of:
        show.line(f"Its passcode: sealpacket contract passcode {guide.passcode_of}", "dim")
    if guide.closing:
        show.line(guide.closing)
    example = f" (such as {guide.reference_example})" if guide.reference_example else ""
    show.line(f"Then: sealpacket packet reference {number} REFERENCE{example}", "dim")


def _show_fields(case: HandCase) -> None:
    if case.label:
        show.heading(case.label, case.reference or "")
    if case.opening:
        show.line(case.opening)
    for one in case.fields:
        mark = "✓" if one.entered else "·"
        value = one.value.replace("\n", "\n      ")
        show.line(f"  {mark} {one.label}: {value}")
        if one.spelled:
            show.line(f"      {one.spelled}", "dim")


@app.command("reference")
def enter_reference(
    number: Number,
    reference: Annotated[str, typer.Argument(help="Reference that the desk gave.")],
    at: At = None,
    spoke_to: SpokeTo = "",
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Record the reference that the desk gave you."""
    with session.client() as client:
        packet = client.packets.enter_reference(
            number, reference, at=at, spoke_to=spoke_to, case=case, version=if_version
        )
    tell_state(packet)
