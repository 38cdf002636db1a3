"""Read a desk's answer about a case: its reference, status and messages."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from typing import Any

import re2
from pydantic import BaseModel, ConfigDict

from sealpacket.core.errors import Invalid
from sealpacket.core.life import Life, Turn
from sealpacket.core.patterns import compiled
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.refusing import Refusal, read_refusals, refused
from sealpacket.core.sheets.reply_rules import WORDS, Messages, Status
from sealpacket.core.sheets.trees import all_at, facts_in, read_at, read_reply, with_parts
from sealpacket.core.wants import Want, wants_in


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True)


class SentFile(_Value):
    """A file that a desk attached: its name, and where it is at the desk."""

    name: str
    at: str


class Message(_Value):
    """One message of the desk's; `asks` if it waits for our answer. `author` and `at` may be empty.

    `wants` are the single things that it asks for; each is doubtful where only its words say so.
    """

    id: str
    text: str
    at: str
    asks: bool
    author: str = ""
    wants: tuple[Want, ...] = ()
    files: tuple[SentFile, ...] = ()


class CaseNews(_Value):
    """The status of a case at the desk; not `listed`: the desk's word for it is not in the sheet."""

    status: str
    life: Life
    turn: Turn
    messages: tuple[Message, ...]
    facts: dict[str, str] = {}
    listed: bool = True
    settle_after_days: int = 0


class ReadReply(_Value):
    """The effect of one reply of the desk's, and what of it was not understood."""

    name: str = ""
    reference: str
    our_number: str
    news: CaseNews
    refusals: tuple[Refusal, ...]
    not_understood: tuple[str, ...]


def read_ours(sheet: Sheet, body: Any) -> str:
    """Our own number in something that a desk sent unasked; empty if it has none."""
    return str(read_at(sheet.replies.our_number, with_parts(sheet, body)) or "")


_OURS = re.compile(r"(?<![A-Z0-9])[A-Z]-[0-9]{4,12}(?![0-9])")
"""The pattern of our packet numbers in a text."""
MAIL_DOMAIN = "sealpacket.invalid"
"""The domain of our Message-IDs."""
_OUR_MAIL = re.compile(rf"<([A-Z]-[0-9]{{4,12}})[^@<>]*@{re.escape(MAIL_DOMAIN)}>")
"""The Message-ID of a mail of ours, which has our number in it."""


def find_number(sheet: Sheet, body: Any, name: str = "") -> str:
    """The number of the packet that a reply is about: as the desk repeats it, from the mail that it answers, from its
    subject, or from its file name. Empty if none of these has it."""
    replies = sheet.replies
    found = read_ours(sheet, body)
    mail = body.get("mail", {}) if isinstance(body, Mapping) else {}
    for way in replies.match:
        if found:
            break
        if way in ("in_reply_to", "references"):
            match = _OUR_MAIL.search(str(mail.get(way, "")))
            found = match[1] if match else ""
        elif way in ("subject", "name"):
            found = _number_in(
                str(mail.get("subject", "")) if way == "subject" else name, replies.number_in
            )
    return found


def number_of_text(text: str) -> str:
    """The first of our numbers in a text; empty if it has none."""
    match = _OURS.search(text)
    return match[0] if match else ""


def _number_in(text: str, pattern: str) -> str:
    if pattern:
        found = compiled(pattern).search(text)
        return str(found[1]) if found else ""
    match = _OURS.search(text)
    return match[0] if match else ""


def has_reference(sheet: Sheet, body: Any) -> bool:
    """Whether an answer of the desk's holds its reference."""
    return body is not None and _reference(sheet, body) != ""


def _reference(sheet: Sheet, body: Any) -> str:
    """The desk's reference in its answer; empty if it does not match `reference_form`."""
    found = _said_reference(sheet, body)
    form = sheet.replies.reference_form
    return found if not form or compiled(form).fullmatch(found) else ""


def _said_reference(sheet: Sheet, body: Any) -> str:
    return str(read_at(sheet.replies.reference, with_parts(sheet, body)) or "").strip()


def read_reference(sheet: Sheet, body: Any) -> str:
    """The desk's reference in its answer to a case, whatever its form. Raises Invalid if it holds none."""
    reference = _said_reference(sheet, body)
    if not reference:
        raise Invalid(
            f"{sheet.name} took the packet but gave no reference.",
            "Ask the desk by telephone, and check replies.reference in its sheet.",
            code="no-reference",
        )
    return reference


def read_case(sheet: Sheet, body: Any) -> CaseNews:
    """Status and messages of a case. A status word that is not listed makes it our turn, and is shown.

    A mail without the desk's own labels is somebody's free words: whether it waits for us is read from them.
    """
    body = with_parts(sheet, body)
    status = _status(sheet, body)
    refusals = sheet.replies.refusals
    refused = refusals is not None and any(
        read_at(refusals.code, item) for item in all_at(refusals.list, body)
    )
    unlabelled = sheet.replies.arrive == "mail" and not status and not refused
    listed = not status or status in sheet.replies.statuses
    silent = Status(life="lodged", turn="vendor" if listed else "ours")
    meaning = sheet.replies.statuses.get(status, silent)
    waiting = listed and meaning.turn == "ours" and meaning.life == "lodged"
    messages = tuple(_messages(sheet, body, unlabelled=unlabelled, waiting=waiting))
    return CaseNews(
        status=status,
        life=Life(meaning.life),
        turn=Turn(meaning.turn),
        messages=messages,
        facts=facts_in(sheet, body),
        listed=listed,
        settle_after_days=meaning.settle_after_days,
    )


def _status(sheet: Sheet, body: Any) -> str:
    """The desk's status word: from the sheet's path, or from the latest message or a mail's subject."""
    path, rules = sheet.replies.status, sheet.replies.messages
    if path != WORDS:
        return str(read_at(path, body) or "")
    items = all_at(rules.list, body) if rules else []
    texts = [str(read_at(rules.text, items[-1]) or "")] if rules and items else []
    mail = body.get("mail", {}) if isinstance(body, Mapping) else {}
    texts += [str(mail.get("subject", ""))]
    return next((word for word in (word_in(sheet, text) for text in texts) if word), "")


def word_in(sheet: Sheet, text: str) -> str:
    """The first of the sheet's status words in a text; empty if it has none."""
    for word in sheet.replies.statuses:
        if re2.search(rf"(?i)(^|[^\pL\pN]){re2.escape(word)}($|[^\pL\pN])", text):
            return word
    return ""


def _messages(sheet: Sheet, body: Any, *, unlabelled: bool, waiting: bool) -> Iterator[Message]:
    rules = sheet.replies.messages
    if rules is None:
        return
    items = all_at(rules.list, body)
    for number, item in enumerate(items, 1):
        attached = all_at(rules.files, item) if rules.files else []
        files = tuple(_sent_files(rules, attached))
        names = [
            read_at(rules.file_name, one) if rules.file_name else one
            for one in attached
            if not files
        ]
        text = _with_files(str(read_at(rules.text, item) or ""), names)
        at = str(read_at(rules.at, item) or "")
        last = waiting and number == len(items)
        asks = _truth(read_at(rules.asks, item)) if rules.asks else last
        known = read_at(rules.id, item)
        wants = wanted(text, asks=asks, unlabelled=unlabelled)
        yield Message(
            id=str(known) if known not in (None, "") else _named(f"{at} {text}"),
            text=text,
            at=at,
            asks=bool(wants),
            wants=wants,
            files=files,
            author=str(read_at(rules.author, item) or ""),
        )


def _sent_files(rules: Messages, attached: list[Any]) -> Iterator[SentFile]:
    """The files of a message that can be fetched."""
    for item in attached if rules.file_at else ():
        at = str(read_at(rules.file_at, item) or "")
        name = str((read_at(rules.file_name, item) if rules.file_name else "") or "")
        if at:
            yield SentFile(name=name or at.rpartition("/")[2], at=at[:1000])


def wanted(text: str, *, asks: bool, unlabelled: bool = False) -> tuple[Want, ...]:
    """The questions in a message, from the desk's own flag (`asks`) and from its words.

    Where the desk says so, it is what is asked for surely, or else all of it. Where it does not, words that surely ask
    are doubtful; in an `unlabelled` mail, where a desk says nothing but words, they count as they are.
    """
    found = wants_in(text)
    sure = tuple(one for one in found if not one.doubtful)
    if asks:
        return sure or (Want(text=text[:400]),)
    if unlabelled:
        return found
    return tuple(one.model_copy(update={"doubtful": True}) for one in sure)


def _named(text: str) -> str:
    """The identity of a message without an id: the same words at the same time are one message."""
    return hashlib.sha256(text.encode()).hexdigest()[:32]


def read_all(sheet: Sheet, body: Any) -> ReadReply:
    """Read all of a reply, and what of it was not understood."""
    if body is None:
        wanted = _READS[sheet.replies.read]
        nothing = CaseNews(status="", life=Life.LODGED, turn=Turn.VENDOR, messages=())
        return ReadReply(
            reference="", our_number="", news=nothing, refusals=(),
            not_understood=(f"It cannot be read as {wanted}.",),
        )  # fmt: skip
    news = read_case(sheet, body)
    refusals = tuple(
        one
        for one in read_refusals(sheet, body)
        if one.code != "unknown" or one.text or news.life == Life.REFUSED
    )
    strange: list[str] = []
    if not news.listed:
        strange.append(f"The status “{news.status}” is not listed: it is shown, and waits for us.")
    strange += [
        f"The refusal “{one.code}” has no remedy in the sheet." for one in refusals if not one.known
    ]
    body = with_parts(sheet, body)
    reference = _reference(sheet, body)
    said = _said_reference(sheet, body)
    if said and not reference:
        strange.append(
            f"“{said[:80]}” does not match reference_form, so it is not used as a reference."
        )
    if not (reference or news.status or news.messages or refusals or news.facts):
        strange.append("Nothing that the sheet looks for is in it.")
    return ReadReply(
        reference=reference,
        our_number=read_ours(sheet, body),
        news=news,
        refusals=refusals,
        not_understood=tuple(strange),
    )


_MAIL_HEAD = re.compile(
    rb"(?i)\A(?:[!-9;-~]+:[^\n]*\n(?:[ \t][^\n]*\n)*)*?(?:from|message-id|subject):"
)


def is_mail(data: bytes) -> bool:
    """Whether a text begins as mails do."""
    return _MAIL_HEAD.match(data.replace(b"\r\n", b"\n")) is not None


def read_given(sheet: Sheet, name: str, data: bytes, status: int = 0) -> ReadReply:
    """Read a file or pasted text from a desk: a mail, a document, or an HTTP answer.

    With a `status` of 400 or above it is a refusal; the name of a file may begin with one: 422-error.json.
    """
    from sealpacket.core.sheets.mails import read_mail

    tree: Any = None
    if sheet.replies.arrive == "mail" and is_mail(data):
        with suppress(Invalid):
            tree = read_mail(data)
    else:
        tree = read_reply(sheet, data)
    found = read_all(sheet, tree)
    status = status or _status_of_name(sheet, name)
    if status >= 400:
        reasons = refused(sheet, tree, status)
        news = found.news.model_copy(
            update={"life": Life.REFUSED, "turn": Turn.OURS, "messages": ()}
        )
        strange = [f"The answer {status} is none of the sheet's refusals."] * any(
            one.code == f"http-{status}" and not one.known for one in reasons
        )
        return found.model_copy(
            update={
                "name": name, "news": news, "refusals": reasons, "not_understood": tuple(strange),
            }
        )  # fmt: skip
    number = find_number(sheet, tree, name) if tree is not None else ""
    strange = list(found.not_understood)
    if sheet.replies.arrive in ("mail", "folder") and tree is not None and not number:
        strange.append("Nothing in it says which of our packets it is about.")
    return found.model_copy(
        update={"name": name, "our_number": number, "not_understood": tuple(strange)}
    )


def _status_of_name(sheet: Sheet, name: str) -> int:
    """The HTTP status with which the name of a kept answer begins; 0 where it begins with none."""
    match = re.match(r"([1-5]\d\d)(?!\d)", name) if sheet.send.channel == "http" else None
    return int(match[1]) if match else 0


_READS = {
    "json": "JSON",
    "xml": "XML",
    "labels": "labelled lines",
    "pairs": "lines of KEY=value",
    "csv": "CSV",
}


def _with_files(text: str, names: Iterable[Any]) -> str:
    """The text, and below it the names of what is attached."""
    told = [f"[attached: {name}]" for name in names]
    return "\n\n".join(part for part in (text, "\n".join(told)) if part)


def _truth(value: Any) -> bool:
    if isinstance(value, str):
        return value.strip().lower() not in ("", "no", "none", "nothing", "false", "0")
    return bool(value)
