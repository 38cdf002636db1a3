"""Commands for packets at their desk: messages, acts, replies, ownership."""

from __future__ import annotations

import sys
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Literal

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import IfVersion, Number
from sealpacket.cli.packet_shown import (
    TURNS,
    open_questions,
    show_cases,
    show_messages,
    tell_packet,
    typed_text,
)
from sealpacket.cli.packets import app
from sealpacket.client import ClientError
from sealpacket.core.thread_sorts import ThreadSort

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.models import (
        ConsequenceShown,
        HandCase,
        HandGuide,
        PacketShown,
        ThreadEntry,
    )

__all__ = ["app"]

TogetherAct = Literal["hand_over", "take_over", "comment", "settle"]
Words = Annotated[str, typer.Argument(help="Message text.")]
Beside = Annotated[str, typer.Option("--text", help="Message text.")]
Case = Annotated[str, typer.Option(help="Case label or reference.")]
Files = Annotated[
    list[Path] | None,
    typer.Option(
        "--file", exists=True, dir_okay=False, help="File to send along; may be repeated."
    ),
]
Yes = Annotated[bool, typer.Option("--yes", help="Send it without asking, whatever is masked.")]
At = Annotated[datetime | None, typer.Option(help="When, such as 2026-11-23T08:40; default: now.")]
SpokeTo = Annotated[str, typer.Option(help="Person at the desk.")]


@app.command()
def follow(number: Number, json: show.Json = False, if_version: IfVersion = None) -> None:
    """Ask the desk for news now."""
    with session.client() as client:
        packet = client.packets.follow(number, version=if_version)
    if json:
        show.as_json(packet)
        return
    show.line(f"{packet.number}: {packet.status_text}. {TURNS.get(packet.turn, '')}".rstrip())
    show_cases(packet)
    show_messages(packet)


@app.command()
def reply(
    number: Number,
    text: Words = "",
    question: Annotated[
        list[int] | None,
        typer.Option(help="Question number (see `packet show`); default: all open ones."),
    ] = None,
    file: Files = None,
    case: Case = "",
    preview: Annotated[bool, typer.Option("--preview", help="Only show what would leave.")] = False,
    yes: Yes = False,
    if_version: IfVersion = None,
) -> None:
    """Answer what the desk asks. What is sensitive in text and files is masked, and shown before it is sent.

    Example: `sealpacket packet reply P-0001 "Both controllers run 7.4.2." --file controller-b.log`
    """
    with session.client() as client:
        if not _looked_over(client, number, text, preview=preview, yes=yes):
            return
        chosen = _questions(client, number, question) if question else None
        names = _send_in(client, number, file)
        show_messages(
            client.packets.reply(
                number, text, questions=chosen, files=names, case=case, version=if_version
            )
        )


@app.command()
def comment(
    number: Number,
    text: Words = "",
    file: Files = None,
    case: Case = "",
    yes: Yes = False,
    if_version: IfVersion = None,
) -> None:
    """Send a comment or files to the desk, without answering a question.

    Example: `sealpacket packet comment P-0001 "The log of the other controller." --file controller-b.log`
    """
    with session.client() as client:
        if _looked_over(client, number, text, preview=False, yes=yes):
            names = _send_in(client, number, file)
            show_messages(
                client.packets.comment(number, text, files=names, case=case, version=if_version)
            )


def _looked_over(client: SealPacket, number: str, text: str, *, preview: bool, yes: bool) -> bool:
    """Show what is masked in words for the desk; whether they are to be sent. Raises ClientError where not."""
    if not text.strip():
        return not preview
    found = client.packets.preview_reply(number, text)
    masked = any(part.masked for part in found.parts)
    if preview or masked:
        typed_text(number, found)
    if preview:
        return False
    if any(part.stops for part in found.parts):
        raise ClientError(
            "It was not sent.", "Take the value out, or have it masked for a reason; see above."
        )
    if masked and not yes and not (sys.stdin.isatty() and typer.confirm("Send it so?")):
        raise ClientError(
            "It was not sent: values are masked in it.", "Send it as shown with --yes."
        )
    return True


def _send_in(client: SealPacket, number: str, files: list[Path] | None) -> list[str]:
    """Add files to a packet and wait until they are redacted; their names."""
    for path in files or ():
        client.exhibits.add(number, path)
    if not files:
        return []
    packet = client.packets.wait(number)
    names = [path.name for path in files]
    for exhibit in packet.exhibits:
        if exhibit.name in names:
            many = sum(exhibit.counts.values())
            show.line(f"{exhibit.name}: {many} values masked", "dim")
    return names


@app.command("no-question")
def dismiss_question(
    number: Number,
    question: Annotated[int, typer.Argument(help="Question number (see `packet show`).")],
    if_version: IfVersion = None,
) -> None:
    """Dismiss a question that needs no answer."""
    with session.client() as client:
        (ident,) = _questions(client, number, [question])
        show_messages(client.packets.dismiss_question(number, ident, version=if_version))


def _questions(client: SealPacket, number: str, places: list[int]) -> list[str]:
    """The ids of open questions by their numbers in `packet show`. Raises ClientError for one that is not there."""
    asked = open_questions(client.packets.get(number))
    for place in places:
        if not 1 <= place <= len(asked):
            raise ClientError(
                f"There is no open question {place}.", f"See: sealpacket packet show {number}"
            )
    return [asked[place - 1].id for place in places]


Which = Annotated[int, typer.Argument(min=1, help="Its number in `packet consequences`.")]


@app.command("consequences")
def list_consequences(
    number: Annotated[
        str | None, typer.Argument(help="Packet number; default: all that wait for a keeper.")
    ] = None,
    json: show.Json = False,
) -> None:
    """List changes of the register that follow from answers.

    Example: `sealpacket packet consequences P-0012`
    """
    with session.client() as client:
        if number is None:
            offered = client.packets.consequences()
            rows = [(one.packet, one.consequence) for one in offered]
        else:
            packet = client.packets.get(number)
            rows = [(packet.number, one) for one in packet.consequences]
    if json:
        show.as_json([one for _, one in rows])
        return
    show.table(
        ("", "Packet", "What", "Record", "Now", "Then", "From", "State"),
        (
            (str(place), packet, one.what, f"{one.record} {one.name}", one.now, one.value, str(one.from_on or ""),
             one.state)
            for place, (packet, one) in enumerate(rows, 1)
        ),
        nothing="Nothing follows for the register.",
    )  # fmt: skip


@app.command("take-consequence")
def take_consequence(number: Number, place: Which = 1, if_version: IfVersion = None) -> None:
    """Take a change that follows from an answer into the register.

    Example: `sealpacket packet take-consequence P-0012 1`
    """
    with session.client() as client:
        one = _consequence(client, number, place)
        client.packets.take_consequence(number, one.id, version=if_version)
    show.line(f"{one.field} of {one.record} {one.name} is {one.value}.")


@app.command("dismiss-consequence")
def dismiss_consequence(number: Number, place: Which = 1, if_version: IfVersion = None) -> None:
    """Dismiss a change that follows from an answer; the register stays as it is."""
    with session.client() as client:
        one = _consequence(client, number, place)
        client.packets.dismiss_consequence(number, one.id, version=if_version)
    show.line("It is dismissed; the register stays as it is.")


@app.command("undo-consequence")
def undo_consequence(number: Number, place: Which = 1, if_version: IfVersion = None) -> None:
    """Undo a change that was taken or dismissed."""
    with session.client() as client:
        one = _consequence(client, number, place)
        client.packets.undo_consequence(number, one.id, version=if_version)
    show.line("It is undone.")


def _consequence(client: SealPacket, number: str, place: int) -> ConsequenceShown:
    found = client.packets.get(number).consequences
    if place > len(found):
        raise ClientError(
            f"{number} has no change number {place}.",
            f"See: sealpacket packet consequences {number}",
        )
    return found[place - 1]


@app.command("mark-unwished")
def mark_unwished(
    number: Number,
    unwished: Annotated[
        bool, typer.Option("--unwished/--wished", help="Whether mail was asked for.")
    ] = True,
    if_version: IfVersion = None,
) -> None:
    """Note of the last call that the desk called although mail was asked for."""
    with session.client() as client:
        calls = [one for one in client.packets.get(number).messages if one.how == "call"]
        if not calls:
            raise ClientError(
                f"{number} has no call.", f"Record it: sealpacket packet call {number} …"
            )
        packet = client.packets.mark_unwished(
            number, calls[-1].id, unwished=unwished, version=if_version
        )
        show_messages(packet)


@app.command("take-back")
def take_back(number: Number, if_version: IfVersion = None) -> None:
    """Undo your newest act that has not gone to the desk yet."""
    with session.client() as client:
        waiting = [m for m in client.packets.get(number).messages if m.can_take_back]
        if not waiting:
            raise ClientError(
                "Nothing of ours waits; the desk has all of it.",
                "Write a comment that corrects it.",
            )
        show_messages(client.packets.take_back(number, waiting[-1].id, version=if_version))


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
def severity(
    number: Number,
    level: Annotated[str, typer.Argument(help="Severity (see `packet show`).")],
    text: Words = "",
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Ask the desk for another severity."""
    with session.client() as client:
        show_messages(
            client.packets.change_severity(number, level, text, case=case, version=if_version)
        )


@app.command()
def escalate(
    number: Number,
    why: Annotated[str, typer.Argument(help="Reason: what has become worse.")],
    step: Annotated[int, typer.Option(min=1, help="Number of the desk's escalation rule.")] = 1,
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Escalate by one of the desk's rules, once it allows that."""
    with session.client() as client:
        packet = client.packets.escalate(number, why, step=step - 1, case=case, version=if_version)
    show_messages(packet)
    rules = packet.severity.escalation if packet.severity else []
    if rules:
        rule = rules[step - 1]
        show.line(f"Its rule: {rule.action} {rule.contact}".rstrip(), "dim")


@app.command()
def contact(
    number: Number,
    person: Annotated[str, typer.Argument(help="A person of the register, by key.")],
    text: Words = "",
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Change the contact person."""
    with session.client() as client:
        show_messages(
            client.packets.change_contact(number, person, text, case=case, version=if_version)
        )


@app.command()
def told(
    number: Number,
    people: Annotated[list[str], typer.Argument(help="People of the register, by key.")],
    text: Beside = "",
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Set the people whom the desk keeps informed."""
    with session.client() as client:
        show_messages(
            client.packets.change_told(number, people, text, case=case, version=if_version)
        )


@app.command()
def accept(number: Number, text: Words = "", case: Case = "", if_version: IfVersion = None) -> None:
    """Accept the answer that the desk proposes."""
    with session.client() as client:
        show_messages(client.packets.accept(number, text, case=case, version=if_version))


@app.command()
def contest(
    number: Number,
    why: Annotated[str, typer.Argument(help="Reason: what is still wrong.")],
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Contest the proposed answer."""
    with session.client() as client:
        show_messages(client.packets.contest(number, why, case=case, version=if_version))


@app.command()
def rate(
    number: Number,
    rating: Annotated[int, typer.Argument(min=1, max=5, help="From 1 (bad) to 5 (good).")],
    text: Words = "",
    case: Case = "",
    if_version: IfVersion = None,
) -> None:
    """Rate the help."""
    with session.client() as client:
        show_messages(client.packets.rate(number, rating, text, case=case, version=if_version))


@app.command()
def close(number: Number, text: Words = "", case: Case = "", if_version: IfVersion = None) -> None:
    """Ask the desk to close a case that needs no more help."""
    with session.client() as client:
        show_messages(client.packets.close(number, text, case=case, version=if_version))


@app.command("open-again")
def open_again(
    number: Number, text: Words = "", case: Case = "", if_version: IfVersion = None
) -> None:
    """Ask the desk to reopen a settled case."""
    with session.client() as client:
        show_messages(client.packets.open_again(number, text, case=case, version=if_version))


@app.command("name-colleague")
def name_colleague(
    number: Number,
    question: Annotated[str, typer.Argument(help="The question for a person, such as contact.")],
    name: Annotated[str, typer.Option(help="Their full name.")],
    mail: Annotated[str, typer.Option(help="Their mail address.")],
    phone: Annotated[str, typer.Option(help="Their number, with country code.")],
) -> None:
    """Name a colleague who is not in the register; they are kept for the next time.

    Example: `sealpacket packet name-colleague P-0142 contact --name "U. Ray" --mail u@x.example --phone +441632960120`
    """
    with session.client() as client:
        packet = client.packets.name_colleague(number, question, name=name, mail=mail, phone=phone)
    tell_packet(packet)


@app.command("claim")
def claim(
    number: Number,
    text: Annotated[str, typer.Argument(help="Words before the note of the packet.")] = "",
) -> None:
    """Note a claim that goes on from a packet; its answers and exhibits go along.

    Example: `sealpacket packet claim P-0142 "They want it back."`
    """
    with session.client() as client:
        tell_packet(client.packets.claim(number, text))


@app.command("ask-for-cure")
def ask_for_cure(
    number: Number,
    cure: Annotated[str, typer.Argument(help="The code of the cure, such as tie_contract.")],
) -> None:
    """Note a packet that asks the vendor for what a draft lacks.

    Example: `sealpacket packet ask-for-cure P-0142 tie_contract`
    """
    with session.client() as client:
        tell_packet(client.packets.ask_for_cure(number, cure))


@app.command("follow-up")
def follow_up(
    number: Number,
    text: Annotated[str, typer.Argument(help="The note: what happens now.")] = "",
    title: Annotated[str, typer.Option(help="Title; default: the same.")] = "",
    if_version: IfVersion = None,
) -> None:
    """Create a follow-up to a packet that is over."""
    with session.client() as client:
        tell_packet(client.packets.follow_up(number, title, text, version=if_version))


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


@app.command("file")
def fetch_file(
    number: Number,
    name: Annotated[str, typer.Argument(help="File name (see `packet show`).")],
    out: Annotated[Path | None, typer.Option(help="File to write.")] = None,
    asset: Annotated[
        bool, typer.Option("--with-asset", help="Store it with the packet's asset instead.")
    ] = False,
) -> None:
    """Save a file that the vendor sent, or store it with the asset."""
    with session.client() as client:
        if asset:
            packet = client.packets.store_with_asset(number, name)
            where = packet.asset.serial if packet.asset else "the asset"
            show.line(f"{name} is stored with {where}.")
            return
        target = out or Path(Path(name).name)
        client.packets.fetch_file(number, name, target)
    show.line(f"Saved {target}.")


@app.command()
def settle(
    number: Number,
    cause: Annotated[str, typer.Option(help="The cause.")] = "",
    cure: Annotated[str, typer.Option(help="The cure.")] = "",
    if_version: IfVersion = None,
) -> None:
    """Settle a packet whose desk never does; record cause and cure."""
    with session.client() as client:
        packet = client.packets.settle(number, cause=cause, cure=cure, version=if_version)
    show.line(f"{packet.number} is settled.")


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
    _tell(packet)


@app.command("try-now")
def try_now(number: Number, if_version: IfVersion = None) -> None:
    """Retry delivery now."""
    with session.client() as client:
        client.packets.try_now(number, version=if_version)
        packet = client.packets.wait(number)
    _tell(packet)


@app.command()
def cancel(number: Number, if_version: IfVersion = None) -> None:
    """Cancel lodging while nothing can have reached the desk; the packet stays sealed."""
    with session.client() as client:
        _tell(client.packets.cancel(number, version=if_version))


def _tell(packet: PacketShown) -> None:
    show.line(f"{packet.number}: {packet.status_text}")
    if packet.next_try_at:
        show.line(f"Next try {show.moment(packet.next_try_at)}.", "dim")
