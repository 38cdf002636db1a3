"""Linting how a sheet sends, its limits and its hours."""

from __future__ import annotations

import re
import zoneinfo
from collections.abc import Iterator

from sealpacket.core.sheets.facts import MESSAGE, TOLD
from sealpacket.core.sheets.hours import has_holidays, span_fault
from sealpacket.core.sheets.lint.findings import Fault, is_it, nearest, stop, warn
from sealpacket.core.sheets.lint.reachable import Scope
from sealpacket.core.sheets.lint.replied import json_path
from sealpacket.core.sheets.lint.writing import lint_acts, lint_answer_body
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reading import Place
from sealpacket.core.sheets.rendering import braces_in
from sealpacket.core.sheets.sending import AsPdf, ByMail, BySftp, Files, OverHttp

_IN_NAMES: tuple[str, ...] = ("reference", "packet.number", "message", "count")
_IN_PATH = re.compile(r"\{([^}]*)\}?")


def lint_sent(sheet: Sheet, scope: Scope) -> Iterator[Fault]:
    """How it is sent."""
    send = sheet.send
    match send:
        case OverHttp():
            yield from _over_http(sheet, send)
        case ByMail():
            yield from _path(send.answer_opening, ("send", "answer_opening"), ("reference",))
        case BySftp():
            place: Place
            yield from _path(send.answer_name, ("send", "answer_name"), _IN_NAMES)
            place = ("send", "more_files_name")
            in_name = ("reference", "packet.number", "name")
            yield from _path(send.more_files_name, place, in_name, ("name",))
            if send.answer_name and not {"message", "count"} & {
                *_IN_PATH.findall(send.answer_name)
            }:
                yield stop(
                    "no-reference",
                    ("send", "answer_name"),
                    "The name needs {message} or {count}.",
                    "Without it the second answer would take the place of the first.",
                )
    yield from lint_answer_body(sheet, scope)
    yield from lint_acts(sheet, scope)
    for act, rule in sheet.acts.items():
        known = ("reference", *MESSAGE, *TOLD)
        yield from _path(rule.path, ("acts", act, "path"), known, ("reference",))
    yield from _limits(sheet)
    yield from _opening(sheet)


def _path(
    path: str, place: Place, known: tuple[str, ...], wanted: tuple[str, ...] = ()
) -> Iterator[Fault]:
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


def _over_http(sheet: Sheet, send: OverHttp) -> Iterator[Fault]:
    yield from _path(send.lodge, ("send", "lodge"), ())
    yield from _path(send.follow, ("send", "follow"), ("reference",), ("reference",))
    yield from _path(send.answer, ("send", "answer"), ("reference",), ("reference",))
    yield from _path(send.find, ("send", "find"), ("number",), ("number",))
    if send.find and not send.found:
        yield stop(
            "no-found",
            ("send",),
            "The path of the reference in the answer of `find` is missing.",
            "Say it in `found`: $.cases[0].reference",
            name=True,
        )
    if send.found:
        yield from json_path(send.found, ("send", "found"))
    if not send.follow:
        yield stop(
            "no-follow",
            ("send",),
            "The path at which a case is read is missing.",
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


def _files(sheet: Sheet, files: Files, place: Place) -> Iterator[Fault]:
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


def _limits(sheet: Sheet) -> Iterator[Fault]:
    limits = sheet.attachments
    naming = limits.naming.file
    if limits.max_files > 1 and not {"name", "stem", "number"} & {*braces_in(naming)}:
        yield stop(
            "same-name",
            ("attachments", "naming", "file"),
            f"All files would be called {naming}.",
            "Add {number}, {stem} or {name}.",
        )
    write = sheet.write
    if isinstance(write, AsPdf) and write.table and write.table.name == write.name:
        yield stop(
            "same-name",
            ("write", "table", "name"),
            "The list and the form have the same name: one would take the place of the other.",
            "Give the list a name of its own.",
        )
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


def _opening(sheet: Sheet) -> Iterator[Fault]:
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
                f"“{span}” is not a time range.",
                "Write them as 08:00-18:00.",
                word=span,
            )
