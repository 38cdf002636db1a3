"""Commands for the care of packets: their thread and record, who looks after them, acts on several."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Literal

import typer

from sealpacket.cli import session, show
from sealpacket.cli.by_hand import app
from sealpacket.cli.packet_options import IfVersion, Number
from sealpacket.core.thread_sorts import ThreadSort

if TYPE_CHECKING:
    from sealpacket.client.models import (
        ThreadEntry,
    )


__all__ = ["app"]

TogetherAct = Literal["hand_over", "take_over", "comment", "settle"]


@app.command("together")
def act_together(
    act: Annotated[TogetherAct, typer.Argument(help="The act.")],
    numbers: Annotated[
        list[str], typer.Argument(help="Packet numbers; - reads them from standard input.")
    ],
    to: Annotated[str, typer.Option(help="Account to hand them over to.")] = "",
    text: Annotated[str, typer.Option(help="Words for that account, or for the desks.")] = "",
    json: show.Json = False,
) -> None:
    """Do one thing to many packets; of each it is said whether it is done.

    Example: `sealpacket packet together hand_over P-0142 P-0147 --to marit --text "I am away until Monday"`
    """
    named = sys.stdin.read().split() if numbers == ["-"] else numbers
    with session.client() as client:
        found = client.packets.act_together(act, named, to=to, text=text)
    if json:
        show.as_json(found)
    else:
        show.table(
            ("Packet", ""),
            ((one.number, one.problem or "done") for one in found),
            nothing="No packets.",
        )
    if any(one.problem for one in found):
        raise typer.Exit(3)


@app.command("thread")
def thread(
    number: Number,
    sort: Annotated[
        list[ThreadSort] | None, typer.Option(help="Only entries of this sort; may be repeated.")
    ] = None,
    most: Annotated[int, typer.Option(min=1, help="Maximum number of entries.")] = 100,
    json: show.Json = False,
) -> None:
    """Show all that happened about a packet, the oldest first; what is new to you is marked."""
    entries: list[ThreadEntry] = []
    with session.client() as client:
        cursor: str | None = ""
        while cursor is not None and len(entries) < most:
            page = client.packets.thread(
                number, sorts=sort or [], limit=min(most - len(entries), 500), cursor=cursor
            )
            entries += page.items
            cursor = page.next
        if not sort:
            client.packets.look(number)
    if json:
        show.as_json(entries)
        return
    show.table(
        ("", "At", "Sort", "By", ""),
        (
            (
                "•" if one.new else "",
                show.moment(one.at),
                one.sort,
                one.by,
                f"{one.words} ({one.text})" if one.text else one.words,
            )
            for one in reversed(entries)
        ),
        nothing="Nothing yet.",
    )


@app.command("record")
def record(
    number: Number,
    out: Annotated[Path, typer.Option("--out", help="File to write: .pdf or .html.")],
    because: Annotated[
        str, typer.Option(help="In clear, for this reason; without it as it was sent.")
    ] = "",
) -> None:
    """Save a packet as a document, with all that both sides said.

    Example: `sealpacket packet record P-0142 --out P-0142.pdf`
    """
    form = out.suffix.lstrip(".").lower()
    if form not in ("pdf", "html"):
        raise typer.BadParameter("The file ends in .pdf or .html.", param_hint="--out")
    with session.client() as client:
        if because:
            client.packets.record_in_clear(number, out, because, form=form)
        else:
            client.packets.record(number, out, form=form)
    show.line(f"Written to {out}.")


@app.command("hand-over")
def hand_over(
    number: Number,
    to: Annotated[str, typer.Argument(help="The name of a colleague's account.")],
    note: Annotated[str, typer.Argument(help="Note for the new owner.")] = "",
    if_version: IfVersion = None,
) -> None:
    """Hand a packet over to a colleague."""
    with session.client() as client:
        packet = client.packets.hand_over(number, to, note, version=if_version)
    show.line(f"{packet.number} is looked after by {packet.owner} now.")


@app.command("inform")
def keep_informed(
    number: Number,
    people: Annotated[
        list[str] | None, typer.Argument(help="Keys of people; none: nobody any more.")
    ] = None,
    if_version: IfVersion = None,
) -> None:
    """Name who of your own house is kept informed."""
    with session.client() as client:
        packet = client.packets.keep_informed(number, people or [], version=if_version)
    names = ", ".join(one.name for one in packet.informed)
    show.line(f"{packet.number}: {names or 'nobody'} kept informed.")


@app.command("take-over")
def take_over(number: Number, if_version: IfVersion = None) -> None:
    """Take over a packet."""
    with session.client() as client:
        packet = client.packets.take_over(number, version=if_version)
    show.line(f"{packet.number} is looked after by {packet.owner} now.")
