"""Commands for packets at their desk: messages, acts, replies, ownership."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import Case, IfVersion, Number, Words
from sealpacket.cli.packet_shown import (
    TURNS,
    open_questions,
    show_cases,
    show_messages,
    tell_packet,
    tell_state,
    typed_text,
)
from sealpacket.cli.sealing import app
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket

__all__ = ["app"]

Beside = Annotated[str, typer.Option("--text", help="Message text.")]
Files = Annotated[
    list[Path] | None,
    typer.Option(
        "--file", exists=True, dir_okay=False, help="File to send along; may be repeated."
    ),
]
Yes = Annotated[bool, typer.Option("--yes", help="Send it without asking, whatever is masked.")]


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


@app.command("try-now")
def try_now(number: Number, if_version: IfVersion = None) -> None:
    """Retry delivery now."""
    with session.client() as client:
        client.packets.try_now(number, version=if_version)
        packet = client.packets.wait(number)
    tell_state(packet)


@app.command()
def cancel(number: Number, if_version: IfVersion = None) -> None:
    """Cancel lodging while nothing can have reached the desk; the packet stays sealed."""
    with session.client() as client:
        tell_state(client.packets.cancel(number, version=if_version))
