"""Linting how a sheet sends, what it reads from replies, its limits and its hours."""

from __future__ import annotations

import re
import zoneinfo
from collections.abc import Iterator

import re2

from sealpacket.core.sheets.hours import has_holidays, span_fault
from sealpacket.core.sheets.lint.asked import broken_pattern
from sealpacket.core.sheets.lint.findings import Told, hint, is_it, nearest, stop, warn
from sealpacket.core.sheets.lint.reachable import Scope
from sealpacket.core.sheets.lint.written import lint_acts, lint_answer_body
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reading import Place
from sealpacket.core.sheets.reply_rules import Replies
from sealpacket.core.sheets.sending import ByMail, BySftp, Files, OverHttp

_IN_PATH = re.compile(r"\{([^}]*)\}?")


def lint_sent(sheet: Sheet, scope: Scope) -> Iterator[Told]:
    """How it is sent and answered."""
    send = sheet.send
    match send:
        case OverHttp():
            yield from _over_http(sheet, send)
        case ByMail():
            yield from _path(send.answer_opening, ("send", "answer_opening"), ("reference",))
        case BySftp():
            place: Place
            yield from _path(send.answer_name, ("send", "answer_name"), ("reference", "message"))
            place = ("send", "more_files_name")
            yield from _path(send.more_files_name, place, ("reference", "name"), ("name",))
    yield from lint_answer_body(sheet, scope)
    yield from lint_acts(sheet, scope)
    for act, telling in sheet.acts.items():
        yield from _path(telling.path, ("acts", act, "path"), ("reference",), ("reference",))
    yield from _way_back(sheet)
    yield from _replies(sheet.replies)
    yield from _limits(sheet)
    yield from _opening(sheet)


def _path(
    path: str, place: Place, known: tuple[str, ...], wanted: tuple[str, ...] = ()
) -> Iterator[Told]:
    """The braces of a path or name: only these, and at least those."""
    found = _IN_PATH.findall(path)
    for name in found:
        if name not in known:
            near = nearest(name, known)
            there = (
                f"There are {', '.join(f'{{{one}}}' for one in known)}."
                if known
                else "It holds no braces."
            )
            yield stop(
                "brace",
                place,
                f"There is no {{{name}}} here.",
                is_it(near, there),
                word=name,
                near=near,
            )
    for name in wanted:
        if path and name not in found:
            yield stop(
                "no-reference",
                place,
                f"The path needs {{{name}}}.",
                "Without it every case or file would be the same.",
            )


def _over_http(sheet: Sheet, send: OverHttp) -> Iterator[Told]:
    yield from _path(send.lodge, ("send", "lodge"), ())
    yield from _path(send.follow, ("send", "follow"), ("reference",), ("reference",))
    yield from _path(send.answer, ("send", "answer"), ("reference",), ("reference",))
    yield from _path(send.find, ("send", "find"), ("number",), ("number",))
    if send.find and not send.found:
        yield stop(
            "no-found",
            ("send",),
            "It is not said where the reference stands in what `find` answers.",
            "Say it in `found`: $.cases[0].reference",
            name=True,
        )
    if send.found:
        yield from json_path(send.found, ("send", "found"))
    if not send.follow:
        yield stop(
            "no-follow",
            ("send",),
            "It is not said where a case is read.",
            "Add `follow`, with {reference}.",
            name=True,
        )
    takes_files = sheet.attachments.max_files > 0
    if send.files is None:
        if takes_files:
            yield stop(
                "no-files",
                ("send",),
                "The desk takes attachments, and `files` does not say how.",
                "Add `files`, or take `attachments` out.",
                name=True,
            )
    elif not takes_files:
        yield warn(
            "no-files",
            ("send", "files"),
            "It is said how files go, and the desk takes none.",
            "Say in `attachments` how many it takes.",
            name=True,
        )
    for name in ("files", "more_files"):
        files = getattr(send, name)
        if files is not None:
            yield from _files(sheet, files, ("send", name))


def _files(sheet: Sheet, files: Files, place: Place) -> Iterator[Told]:
    known = ("reference", "name") if place[-1] == "more_files" else ("name",)
    match files.sent:
        case "with":
            if files.by != "multipart" or sheet.write.format != "form":
                yield stop(
                    "files",
                    (*place, "by"),
                    "With the case, files go in a form: multipart.",
                    "Write `by: multipart`, and the case as a form.",
                )
            if files.path:
                yield stop(
                    "files",
                    (*place, "path"),
                    "Files that go with the case have no path of their own.",
                )
            return
        case "before":
            yield from _path(files.path, (*place, "path"), known)
            if not files.list_in:
                yield stop(
                    "files",
                    place,
                    "The case does not say which files belong to it.",
                    "Name in `list_in` the field that lists them.",
                    name=True,
                )
        case "after":
            yield from _path(files.path, (*place, "path"), ("reference", "name"), ("reference",))
    if not files.path:
        yield stop("files", place, "It is not said where files go.", "Add `path`.", name=True)
    if files.by == "put" and "{name}" not in files.path:
        yield stop(
            "no-reference",
            (*place, "path"),
            "By PUT the path needs {name}.",
            "Without it every file would be the same.",
        )


_WAYS_BACK: dict[str, tuple[str, ...]] = {
    "http": ("polling", "webhook"),
    "mail": ("mail",),
    "sftp": ("folder",),
    "hand": ("hand",),
}


def _way_back(sheet: Sheet) -> Iterator[Told]:
    channel, replies = sheet.send.channel, sheet.replies
    wanted = _WAYS_BACK[channel]
    if replies.arrive not in wanted:
        yield stop(
            "no-way-back",
            ("replies", "arrive"),
            f"By {channel} the desk answers by {' or '.join(wanted)}.",
            word=replies.arrive,
        )
    if isinstance(sheet.send, ByMail | BySftp) and not (replies.our_number or replies.match):
        yield stop(
            "no-way-back",
            ("replies",),
            "It is not said how a reply finds its packet.",
            "Say in `our_number` where the desk repeats our number, or in `match` what else tells.",
            name=True,
        )
    if channel != "hand" and not replies.reference:
        yield stop(
            "missing",
            ("replies",),
            "`reference` is missing in `replies`.",
            "Say where the desk's reference stands: $.case.reference",
            name=True,
        )
    if channel == "hand" and not replies.reference_form:
        yield hint(
            "no-form",
            ("replies",),
            "A mistyped reference cannot be noticed.",
            "Say in `reference_form` what one looks like: [A-Z]{2}[0-9]{5}",
            name=True,
        )
    if replies.arrive == "webhook" and not replies.signature:
        yield stop(
            "no-signature",
            ("replies",),
            "Nothing says which header signs what the desk sends.",
            "Name it in `signature`.",
            name=True,
        )
    if replies.reference_form and (broken := broken_pattern(replies.reference_form)):
        yield stop(
            "pattern", ("replies", "reference_form"), broken, "Correct the pattern (RE2 syntax)."
        )
    if replies.number_in:
        broken = broken_pattern(replies.number_in)
        if broken:
            yield stop(
                "pattern", ("replies", "number_in"), broken, "Correct the pattern (RE2 syntax)."
            )
        elif re2.compile(replies.number_in).groups != 1:
            yield stop(
                "pattern",
                ("replies", "number_in"),
                "The pattern needs one group that is our number.",
                "Put our number into brackets: case ([A-Z]-[0-9]+).",
            )


def _paths(replies: Replies) -> Iterator[tuple[Place, str]]:
    for name in ("reference", "our_number", "status"):
        yield ("replies", name), getattr(replies, name)
    for part in ("messages", "refusals"):
        rules = getattr(replies, part)
        for name in (
            "list",
            "id",
            "text",
            "at",
            "author",
            "asks",
            "files",
            "file_name",
            "file_at",
            "code",
        ):
            yield ("replies", part, name), getattr(rules, name, "") or ""
    for number, one in enumerate(replies.facts):
        yield ("replies", "facts", number, "path"), one.path


_REGULAR = re.compile(r"\b(match|search)\s*\(|=~")
"""JSONPath's own patterns are not RE2's: what a desk sends could keep one busy for ever."""


def _replies(replies: Replies) -> Iterator[Told]:
    for place, path in _paths(replies):
        if path:
            yield from json_path(path, place)
    if replies.status and not replies.statuses:
        yield stop(
            "no-statuses",
            ("replies", "status"),
            "It is not said what the status words mean.",
            "List them in `statuses`.",
            name=True,
        )
    if replies.statuses and not replies.status:
        yield stop(
            "no-statuses",
            ("replies", "statuses"),
            "It is not said where the status word stands.",
            "Say it in `status`.",
            name=True,
        )
    lives = {meaning.life for meaning in replies.statuses.values()}
    if "settled" not in lives and replies.settled_by == "desk":
        yield warn(
            "never-settled",
            ("replies",),
            "No status word settles a case: it would stay open for ever.",
            "Add one, or write `settled_by: us`.",
            name=True,
        )
    if replies.arrive == "hand":
        return
    if replies.messages is None and not replies.statuses:
        yield warn(
            "mute",
            ("replies",),
            "Nothing of what the desk says is read.",
            "Add `messages` or `statuses`.",
            name=True,
        )
    asks = replies.messages is not None and replies.messages.asks
    if not asks and not any(meaning.turn == "ours" for meaning in replies.statuses.values()):
        yield hint(
            "never-ours",
            ("replies",),
            "Nothing says that it is our turn.",
            "A status word (asked), or `asks` of a message, can.",
            name=True,
        )
    if replies.refusals is not None and not replies.refusals.remedies:
        yield hint(
            "no-remedies",
            ("replies", "refusals"),
            "No refusal has a remedy.",
            "Say what to do about the usual ones.",
            name=True,
        )


def json_path(path: str, place: Place) -> Iterator[Told]:
    """Whether a JSONPath (RFC 9535) is one, begins where it has to, and cannot run for ever."""
    import jsonpath

    if not path.startswith("$"):
        yield stop(
            "jsonpath",
            place,
            f"“{path}” is no path.",
            f"A path begins with $: $.{path.lstrip('.')}",
            word=path,
            near=f"$.{path.lstrip('.')}",
        )
        return
    if _REGULAR.search(path):
        yield stop(
            "jsonpath",
            place,
            f"{path} uses match or search: such patterns can run for ever on a reply.",
            "Compare with == instead.",
        )
    try:
        jsonpath.compile(path)
    except jsonpath.JSONPathError:
        yield stop(
            "jsonpath",
            place,
            f"{path} is not a valid JSONPath (RFC 9535).",
            "Write it as $.case.status or $.list[?@.from == 'desk'].",
        )


def _limits(sheet: Sheet) -> Iterator[Told]:
    limits = sheet.attachments
    for name in ("max_size", "max_total"):
        if limits.max_files and name not in limits.model_fields_set:
            yield stop(
                "missing",
                ("attachments",),
                f"`{name}` is missing in `attachments`.",
                "Write it as 8 MB.",
                name=True,
            )
    if limits.max_total < limits.max_size and not limits.naming.archive:
        yield warn(
            "limits",
            ("attachments", "max_total"),
            "All together are fewer bytes than one alone may have.",
        )
    for ending in limits.endings:
        if not ending.startswith(".") or ending != ending.lower():
            near = f".{ending.lower().lstrip('.')}"
            yield stop(
                "endings",
                ("attachments", "endings"),
                f"“{ending}” is no ending.",
                f"Write {near}, in small letters.",
                word=ending,
                near=near,
            )


def _opening(sheet: Sheet) -> Iterator[Told]:
    hours = sheet.hours
    if hours is None:
        return
    zones = zoneinfo.available_timezones()
    if hours.zone not in zones:
        near = nearest(hours.zone, zones)
        yield stop(
            "zone",
            ("hours", "zone"),
            f"“{hours.zone}” is not a time zone name.",
            is_it(near, "Write it as Europe/London."),
            word=hours.zone,
            near=near,
        )
    if hours.holidays_of and not has_holidays(hours.holidays_of):
        yield stop(
            "holidays",
            ("hours", "holidays_of"),
            f"No holidays are known of {hours.holidays_of}.",
            "Write a country (GB) or a part of one (GB-ENG), or the days in `closed_on`.",
        )
    for day, span in hours.week.items():
        if span_fault(span):
            yield stop(
                "hours",
                ("hours", "week", day),
                f"“{span}” are no hours.",
                "Write them as 08:00-18:00.",
                word=span,
            )
