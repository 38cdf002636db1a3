"""Linting how a sheet sends, what it reads from replies, its limits and its hours."""

from __future__ import annotations

import zoneinfo
from collections.abc import Iterator

from sealpacket.core.sheets.facts import MESSAGE
from sealpacket.core.sheets.hours import span_fault
from sealpacket.core.sheets.lint.asked import _REGULAR
from sealpacket.core.sheets.lint.findings import Place, Told
from sealpacket.core.sheets.lint.written import _takes
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.sending import ByMail, BySftp, HttpJson, HttpXml, OverHttp


def lint_sending(sheet: Sheet) -> Iterator[Told]:
    send = sheet.send
    if isinstance(send, OverHttp):
        yield from _over_http(send)
    if isinstance(send, HttpJson) and send.uploads is None and sheet.attachments.most:
        yield (
            "stop",
            "no-uploads",
            ("send",),
            "The desk takes attachments, and `uploads` does not say where.",
        )
    if isinstance(send, HttpXml) and not ("{reference}" in send.files and "{name}" in send.files):
        yield "stop", "no-reference", ("send", "files"), "The path needs {reference} and {name}."
    yield from _way_back(sheet)


def _over_http(send: OverHttp) -> Iterator[Told]:
    for name in ("follow", "answer"):
        if "{reference}" not in getattr(send, name):
            yield (
                "stop",
                "no-reference",
                ("send", name),
                "The path needs {reference}, or every case would be the same.",
            )
    takes = list(_takes(send.answer_body, ("send", "answer_body")))
    for place, take in takes:
        if take["take"] not in MESSAGE:
            yield (
                "stop",
                "unknown-fact",
                place,
                f"An answer has only {', '.join(sorted(MESSAGE))}.",
            )
    if all(take["take"] != "message.text" for _, take in takes):
        yield (
            "stop",
            "no-text",
            ("send", "answer_body"),
            "Nothing takes message.text: the answer would be empty.",
        )


def _way_back(sheet: Sheet) -> Iterator[Told]:
    send = sheet.send
    wanted = {"mail": "mail", "sftp": "drop"}.get(send.channel)
    if wanted and sheet.replies.by != wanted:
        yield (
            "stop",
            "no-way-back",
            ("replies", "by"),
            f"By {send.channel} the desk answers by {wanted}.",
        )
    if not wanted and sheet.replies.by in ("mail", "drop"):
        yield (
            "stop",
            "no-way-back",
            ("replies", "by"),
            f"By {send.channel} the desk answers by polling or webhook.",
        )
    if isinstance(send, ByMail | BySftp) and not sheet.replies.ours:
        yield (
            "stop",
            "no-way-back",
            ("replies",),
            "Say in `ours` where the desk repeats our number.",
        )
    if sheet.replies.by == "webhook" and not sheet.replies.signature:
        yield (
            "stop",
            "no-signature",
            ("replies",),
            "Say in `signature` which header signs what the desk sends.",
        )


def lint_replies(sheet: Sheet) -> Iterator[Told]:
    import jsonpath

    replies = sheet.replies
    paths: list[tuple[Place, str]] = [
        (("replies", "reference"), replies.reference),
        (("replies", "status"), replies.status),
    ]
    paths += [
        (("replies", "messages", name), getattr(replies.messages, name))
        for name in ("each", "id", "text", "at", "asks")
    ]
    paths += [
        (("replies", "refusals", name), getattr(replies.refusals, name))
        for name in ("each", "code", "text")
    ]
    paths += [(("replies", "told", number), one.take) for number, one in enumerate(replies.told)]
    paths += [(("replies", "ours"), replies.ours)] if replies.ours else []
    for place, path in paths:
        if _REGULAR.search(path):
            yield (
                "stop",
                "jsonpath",
                place,
                f"{path} uses match or search: such patterns can run for ever on a reply.",
            )
        try:
            jsonpath.compile(path)
        except jsonpath.JSONPathError as error:
            yield "stop", "jsonpath", place, f"{path} is not a valid JSONPath (RFC 9535): {error}."
    lives = {word.life for word in replies.words.values()}
    if "settled" not in lives:
        yield (
            "warn",
            "never-settled",
            ("replies", "words"),
            "No status word settles a case: it would stay open for ever.",
        )
    if not any(word.turn == "ours" for word in replies.words.values()):
        yield (
            "hint",
            "never-ours",
            ("replies", "words"),
            "No status word makes it our turn: only messages that ask do.",
        )
    if not replies.refusals.cures:
        yield (
            "hint",
            "no-cures",
            ("replies", "refusals"),
            "No refusal has a cure: say what to do about the usual ones.",
        )


def lint_limits(sheet: Sheet) -> Iterator[Told]:
    limits = sheet.attachments
    if limits.together < limits.each and not limits.naming.archive:
        yield (
            "warn",
            "limits",
            ("attachments", "together"),
            "All together are fewer bytes than one alone may have.",
        )
    wrong = [
        ending
        for ending in limits.endings
        if not ending.startswith(".") or ending != ending.lower()
    ]
    if wrong:
        yield (
            "stop",
            "endings",
            ("attachments", "endings"),
            f"Write endings as .log, in small letters: {', '.join(wrong)}.",
        )


def lint_opening(sheet: Sheet) -> Iterator[Told]:
    hours = sheet.hours
    if hours is None:
        return
    if hours.zone not in zoneinfo.available_timezones():
        yield "stop", "zone", ("hours", "zone"), f"“{hours.zone}” is not a time zone name."
    for day, span in hours.week.items():
        if span_fault(span):
            yield "stop", "hours", ("hours", "week", day), f"“{span}”: write it as 08:00-18:00."
