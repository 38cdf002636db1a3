"""A sheet in sentences: what the desk takes, how packets reach it, what leaves with them, and how replies are read."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator

import re2

from sealpacket.core.coverage.ruling import NEED_WORDS
from sealpacket.core.sheets.checks.result import say_size
from sealpacket.core.sheets.conditions import sentence
from sealpacket.core.sheets.facts import MESSAGE, TOLD
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.rendering import render
from sealpacket.core.sheets.reply_rules import WORDS, Replies, Status
from sealpacket.core.sheets.sending import (
    AlsoBy,
    AsPdf,
    AsXml,
    ByHand,
    ByMail,
    BySftp,
    Files,
    OverHttp,
    OwnHeader,
)
from sealpacket.core.sheets.updates import UpdateRule
from sealpacket.core.words import joined


def explain(sheet: Sheet) -> list[str]:
    """A sheet in sentences: what it does other than asking and writing, in order."""
    return [
        *_kinds(sheet),
        *_sending(sheet),
        *_told_later(sheet),
        *_attachments(sheet),
        *_redaction(sheet),
        *_replies(sheet),
    ]


def _kinds(sheet: Sheet) -> Iterator[str]:
    for kind in sheet.kinds:
        cover = ", whether covered or not" if kind.cover == "not_wanted" else ""
        technical = "" if kind.technical else "; no diagnostics"
        yield f"Takes {NEED_WORDS[kind.need]} by {joined(kind.routes, 'or')}{cover}{technical}."
    for one in sheet.requirements:
        yield (
            f"Before sending ({one.level}): {one.requirement.replace('_', ' ')} {one.question}".rstrip()
            + "."
        )
    if sheet.split:
        yield f"Each row of {sheet.split.question} becomes a case, called {sheet.split.label}."
    if isinstance(sheet.write, AsXml):
        yield f"Written as XML, checked against the desk’s schema ({_mark(sheet.write.xsd)})."
    if isinstance(sheet.write, AsPdf):
        yield f"Written into the desk’s PDF form ({_mark(sheet.write.blank)})."


def _sending(sheet: Sheet) -> Iterator[str]:
    match sheet.send:
        case OverHttp() as way:
            yield from _over_http(sheet, way)
        case ByMail() as mail:
            yield "Sent as a mail from the vendor login, answered to an address of the packet’s own."
            yield f"Our answers are mails that begin: {mail.answer_opening or 'with their text'}."
        case BySftp() as sftp:
            yield f"Left in {sftp.drop} by SFTP; its papers are picked up in {sftp.pick_up}."
            name = sftp.answer_name
            yield f"Our answers are left there as {name}." if name else _MUTE
            if sftp.more_files_name:
                yield f"Files that follow are left there as {sftp.more_files_name}."
        case ByHand() as hand:
            yield from _entered(hand)


def _over_http(sheet: Sheet, way: OverHttp) -> Iterator[str]:
    who = (
        f"the header {way.sign_in.header}: {way.sign_in.value}"
        if isinstance(way.sign_in, OwnHeader)
        else _SIGN_IN[way.sign_in]
    )
    yield f"POST {way.lodge}, signed in as the vendor login by {who}."
    yield f"Asked how it stands by GET {way.follow}."
    if way.find:
        yield f"Before a second try it is asked at {way.find} ({way.found})."
    if way.files:
        yield _files(way.files)
    if way.more_files:
        yield _files(way.more_files).replace("the case", "an answer")
    body = render(
        way.answer_body,
        {"message.text": "TEXT", "message.id": "ID", "message.reference": "REF"},
    )
    root = f" as {way.answer_root}" if isinstance(sheet.write, AsXml) else ""
    shown = json.dumps(body, ensure_ascii=False)
    yield f"Our answers: POST {way.answer}{root} with {shown}." if way.answer else _MUTE


def _entered(hand: ByHand) -> Iterator[str]:
    """The ways on which a person enters a packet."""
    for by in (hand, *hand.also):
        which = "Entered by a person" if by is hand else "Or"
        yield f"{which}: {_BY_HAND[by.by]}{f', {by.where}' if by.where else ''}."
        if isinstance(by, AlsoBy) and by.opening:
            yield f"It begins: {by.opening}"
        if isinstance(by, AlsoBy) and by.order:
            yield f"It asks for {joined(by.order)}."
        if by.closing:
            yield f"At the end: {by.closing}"


def _told_later(sheet: Sheet) -> Iterator[str]:
    """How often it is called, when it is escalated, and how acts are written."""
    pace = sheet.pace
    if pace.at_once or pace.in_a_minute:
        most = [f"{pace.at_once} at once"] if pace.at_once else []
        most += [f"{pace.in_a_minute} in a minute"] if pace.in_a_minute else []
        yield f"Called at most {joined(most, 'and')}."
    for step in sheet.severity.escalation if sheet.severity else ():
        after = f" after {step.after_hours} hours" if step.after_hours else ""
        yield f"Escalated{after} when {step.trigger}: {step.action} {step.contact}".rstrip() + "."
    for act, rule in sheet.acts.items():
        within = f", for {rule.within_days} days" if rule.within_days else ""
        yield f"{act.replace('_', ' ')}: {_told(sheet, rule)}{within}."


_BY_HAND = {
    "form": "a web form",
    "telephone": "a telephone call",
    "mail": "a mail of one’s own",
    "paper": "a form on paper",
}


_SIGN_IN = {"bearer": "its bearer token", "basic": "its name and secret"}


def sample_act(sheet: Sheet) -> dict[str, str]:
    """By fact what belongs to an act, as it may be: of the severity the first level that the desk has."""
    values = {path: path.rpartition(".")[2].upper() for path in TOLD}
    for value, level in [*sheet.severities.items()][:1]:
        values |= {"act.level": value, "act.label": level.label}
    rules = sheet.severity.escalation if sheet.severity else ()
    return values | {"act.rating": "4"} | ({"act.trigger": rules[0].trigger} if rules else {})


def _told(sheet: Sheet, rule: UpdateRule) -> str:
    if not rule.path:
        return f"“{rule.words}”" if rule.words else "in our own words"
    values = {path: path.rpartition(".")[2].upper() for path in MESSAGE} | sample_act(sheet)
    if not rule.body and rule.method == "DELETE":
        return f"{rule.method} {rule.path}"
    body = json.dumps(render(rule.body, values), ensure_ascii=False)
    root = f" as {rule.root}" if rule.root != "answer" else ""
    return f"{rule.method} {rule.path}{root} with {body}"


_MUTE = "It takes no answers of ours."


def _files(files: Files) -> str:
    way = {
        "tus": "tus 1.0",
        "post": "POST",
        "put": "PUT",
        "multipart": f"a form (field {files.field})",
    }[files.by]
    to = f" to {files.path}" if files.path else ""
    values = {
        "file.location": "LOCATION",
        "file.name": "NAME",
        "file.size": 1,
        "file.sha256": "SHA256",
    }
    listed = (
        f"; the case lists them in {files.list_in} as {json.dumps(render(files.entry, values))}"
        if files.list_in
        else ""
    )
    named = f", called what the answer says at {files.id}" if files.id else ""
    return f"Files go {files.sent} the case by {way}{to}{named}{listed}."


def _attachments(sheet: Sheet) -> Iterator[str]:
    limits = sheet.attachments
    if not limits.max_files:
        yield "Takes no files."
        return
    kinds = f", {', '.join(limits.endings)}" if limits.endings else ""
    sizes = f"{say_size(limits.max_size)} each, {say_size(limits.max_total)} in all"
    yield f"At most {limits.max_files} files of {sizes}{kinds}; called {limits.naming.file}."
    if limits.naming.archive:
        yield f"All in one ZIP, {limits.naming.archive}."
    if limits.encrypt_to:
        yield f"Each file is encrypted to the desk’s certificate ({_mark(limits.encrypt_to)})."
    for one in sheet.evidence:
        when = "" if isinstance(one.when, bool) else f" when {sentence(one.when, sheet.by_name)}"
        hours = (
            f", from {one.hours_before} hours before to {one.hours_after} after"
            if one.hours_before
            else ""
        )
        must = "Has to see" if one.required else "Wants to see"
        yield f"{must} {one.what}{when}{hours} {one.names} {', '.join(one.endings)}".rstrip() + "."


def _redaction(sheet: Sheet) -> Iterator[str]:
    rules = sheet.redaction
    if rules.kept_kinds:
        yield f"Not masked here: {', '.join(rules.kept_kinds)}, because {rules.because}."
    for kept in rules.kept_questions:
        kinds = f" ({', '.join(kept.kinds)})" if kept.kinds else ""
        yield f"Sent in clear: {kept.question}{kinds}, because {kept.because}."
    if rules.style:
        yield f"Placeholders look like {rules.style}."
    for words, dropped in (("Lines", rules.drop_lines), ("Files", rules.drop_files)):
        if dropped:
            yield f"{words} with {', '.join(dropped)} are left out."


_ARRIVE = {
    "polling": "We ask the desk",
    "webhook": "The desk calls us, and we ask",
    "mail": "The desk writes mails",
    "folder": "The desk leaves papers",
    "hand": "A person enters what it says",
}


def _replies(sheet: Sheet) -> Iterator[str]:
    replies = sheet.replies
    signed = f", signed in {replies.signature}" if replies.signature else ""
    at = replies.reference or "what a person enters"
    yield f"{_ARRIVE[replies.arrive]}{signed}; read as {replies.read}, reference at {at}."
    if replies.reference_form:
        yield f"A reference looks like {replies.reference_example or replies.reference_form}."
    found = [f"our number at {replies.our_number}"] if replies.our_number else []
    found += [way.replace("_", " ") for way in replies.match]
    if found:
        within = f" (as {replies.number_in})" if replies.number_in else ""
        yield f"A reply finds its packet by {joined(found, 'or')}{within}."
    for part in replies.parts:
        names = joined([*re2.compile(part.pattern).groupindex], "and")
        yield f"In what stands at {part.at} it looks for {names}, as in “{part.example}” ({part.pattern})."
    for word, meaning in replies.statuses.items():
        yield f"{word}: {_meaning(meaning)}."
    if replies.settled_by == "us":
        yield "The desk never says that a case is over: we settle it."
    yield from _parts(replies)


def _parts(replies: Replies) -> Iterator[str]:
    if replies.status == WORDS or (replies.arrive == "hand" and replies.statuses):
        yield "The status is the first of these words that its latest message holds."
    else:
        yield f"Status at {replies.status}." if replies.status else "It has no status words."
    for status, rules in replies.refusals_by_status.items():
        opening = f", after “{rules.opening}”" if rules.opening else ""
        yield f"Refused with {status}: reasons at {rules.list}, their words at {rules.text}{opening}."
    for name, part in (("Messages", replies.messages), ("Refusals", replies.refusals)):
        if part is None:
            yield f"{name} are not read."
            continue
        paths = part.model_dump(exclude={"remedies"}, exclude_defaults=True)
        yield f"{name}: {', '.join(f'{field} at {path}' for field, path in paths.items())}."
    if replies.refusals and replies.refusals.remedies:
        yield f"It knows what to do about {', '.join(replies.refusals.remedies)}."
    for one in replies.facts:
        yield f"{one.label} at {one.path}."


def _meaning(meaning: Status) -> str:
    whose = "our turn" if meaning.turn == "ours" else "their turn"
    later = meaning.settle_after_days
    then = f"; after {later} working days it is for us to settle it" if later else ""
    return f"{meaning.life}, {whose}{then}"


def _mark(text: str) -> str:
    """A short hash that names a document in a sheet."""
    return hashlib.sha256("".join(text.split()).encode()).hexdigest()[:8]
