"""Linting how a sheet reads replies: its paths, its patterns, its words, and how a reply finds its packet."""

from __future__ import annotations

import re
from collections.abc import Iterator

import re2

from sealpacket.core.sheets.lint.findings import Fault, hint, is_it, nearest, stop, warn
from sealpacket.core.sheets.lint.questions import broken_pattern
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reading import Place
from sealpacket.core.sheets.reply_rules import CONSEQUENCE_FIELDS, WORDS, Replies
from sealpacket.core.sheets.sending import ByMail, BySftp


def lint_replied(sheet: Sheet) -> Iterator[Fault]:
    """How it is answered."""
    yield from _way_back(sheet)
    yield from _matched(sheet.replies)
    yield from _text_parts(sheet.replies)
    yield from _known_keys(sheet.replies)
    yield from _replies(sheet.replies)
    yield from _consequences(sheet)


def _consequences(sheet: Sheet) -> Iterator[Fault]:
    """Changes of the register: of fields that can change, from values that are there, with words that the desk says."""
    questions, facts = sorted(sheet.by_name), [one.label for one in sheet.replies.facts]
    known = [*(f"answers.{one}" for one in questions), *(f"facts.{one}" for one in facts)]
    for number, one in enumerate(sheet.replies.consequences):
        place: Place = ("replies", "consequences", number)
        fields = sorted(CONSEQUENCE_FIELDS[one.record])
        if one.field not in fields:
            near = nearest(one.field, fields)
            yield stop(
                "no-field", (*place, "field"), f"No answer of a desk changes {one.field} of a record of this kind.",
                is_it(near, f"There are {', '.join(fields)}."), word=one.field, near=near,
            )  # fmt: skip
        for name in ("take", "from_on"):
            value = getattr(one, name)
            if value and value not in known:
                near = nearest(value, known)
                yield stop(
                    "no-value", (*place, name), f"There is no {value}.",
                    is_it(near, "Take answers.QUESTION, or facts.LABEL."), word=value, near=near,
                )  # fmt: skip
        for word in one.when:
            if word not in sheet.replies.statuses:
                near = nearest(word, sheet.replies.statuses)
                yield stop(
                    "no-status", (*place, "when"), f"{word} is none of `statuses`.",
                    is_it(near, "Add the word there, or correct it here."), word=word, near=near,
                )  # fmt: skip


_MATCHES: dict[str, tuple[str, ...]] = {
    "mail": ("our_number", "in_reply_to", "references", "subject"),
    "folder": ("our_number", "name"),
}
"""How a reply can identify its packet, by the way on which replies arrive."""


def _matched(replies: Replies) -> Iterator[Fault]:
    for number, way in enumerate(replies.match):
        known = _MATCHES.get(replies.arrive, ("our_number",))
        if way not in known:
            yield stop(
                "no-match", ("replies", "match", number), f"Replies on this way have no {way}.",
                f"There are {', '.join(known)}.", word=way,
            )  # fmt: skip
    example, form = replies.reference_example, replies.reference_form
    if example and form and not broken_pattern(form) and re2.fullmatch(form, example) is None:
        yield stop(
            "example", ("replies", "reference_example"), f"{example} does not fit `reference_form`.",
            "Correct one of them.", word=example,
        )  # fmt: skip


_OF_A_MAIL = (
    "id", "from", "subject", "date", "in_reply_to", "references", "text", "files", "to", "automatic",
)  # fmt: skip
"""The parts of a mail that a path can find under `mail`."""
_STEPS = re.compile(r"\$\.([A-Za-z_][A-Za-z0-9_]*)(?:\.([A-Za-z_][A-Za-z0-9_]*))?$")
_IN_SMALL_LETTERS = ("labels", "pairs", "csv")


def _known_keys(replies: Replies) -> Iterator[Fault]:
    """Paths that can find nothing: into a mail, where all names are known, and to names that have no capitals."""
    for place, path in _paths(replies):
        match = _STEPS.match(path)
        if match is None:
            continue
        first, second = match[1], match[2] or ""
        if replies.arrive == "mail" and first == "mail" and second and second not in _OF_A_MAIL:
            near = nearest(second, _OF_A_MAIL)
            yield stop(
                "no-key", place, f"A mail has no {second}.",
                is_it(near, f"There are {', '.join(_OF_A_MAIL)}."), word=second, near=near,
            )  # fmt: skip
        elif replies.read in _IN_SMALL_LETTERS and first != first.lower():
            yield stop(
                "no-key", place, f"Nothing is ever called {first}: names are read in small letters.",
                is_it(first.lower()), word=first, near=first.lower(),
            )  # fmt: skip
        elif (
            replies.read in ("labels", "pairs")
            and place[-1] == "text" != first
            and nearest(first, ("text",))
        ):
            yield warn(
                "no-key", place, f"{first} is a line of that name; the words are under text.",
                is_it("text"), word=first, near="text",
            )  # fmt: skip


_WAYS_BACK: dict[str, tuple[str, ...]] = {
    "http": ("polling", "webhook"),
    "mail": ("mail",),
    "sftp": ("folder",),
    "hand": ("hand",),
}


def _way_back(sheet: Sheet) -> Iterator[Fault]:
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
            "The way in which a reply finds its packet is missing.",
            "Set `our_number` to where the desk repeats our number, or `match` to another way.",
            name=True,
        )
    if channel != "hand" and not replies.reference:
        yield stop(
            "missing",
            ("replies",),
            "`reference` is missing in `replies`.",
            "Set the path of the desk's reference: $.case.reference",
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
        path = getattr(replies, name)
        yield ("replies", name), "" if name == "status" and path == WORDS else path
    for number, part_ in enumerate(replies.parts):
        yield ("replies", "parts", number, "at"), part_.at
    for status, rules in replies.refusals_by_status.items():
        for name in ("list", "code", "text"):
            yield ("replies", "refusals_by_status", status, name), getattr(rules, name)
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


def _text_parts(replies: Replies) -> Iterator[Fault]:
    """The patterns of `parts`, each held against its example; and paths to parts that no pattern finds."""
    names: set[str] = set()
    for number, part in enumerate(replies.parts):
        place: Place = ("replies", "parts", number, "pattern")
        if broken := broken_pattern(part.pattern):
            yield stop("pattern", place, broken, "Correct the pattern (RE2 syntax).")
            continue
        compiled = re2.compile(part.pattern)
        names |= {*compiled.groupindex}
        match = compiled.search(part.example)
        if not compiled.groupindex:
            yield stop(
                "pattern", place, "The pattern has no named group.",
                "Name what it finds: (?P<reference>[A-Z]{2}-[0-9]{5})",
            )  # fmt: skip
        elif match is None:
            yield stop(
                "pattern", place, f"The pattern finds nothing in “{part.example}”.",
                "Correct the pattern, or the example.",
            )  # fmt: skip
    for place, path in _paths(replies):
        wanted = _PART.match(path)
        if wanted and wanted[1] not in names:
            near = nearest(wanted[1], sorted(names))
            there = f"There are {', '.join(sorted(names))}." if names else "No pattern finds one."
            yield stop(
                "no-part", place, f"No pattern in `parts` finds {wanted[1]}.", is_it(near, there),
                word=wanted[1], near=near,
            )  # fmt: skip


_PART = re.compile(r"\$\.parts\.([A-Za-z_][A-Za-z0-9_]*)")


def _replies(replies: Replies) -> Iterator[Fault]:
    for place, path in _paths(replies):
        if path:
            yield from json_path(path, place)
    if replies.status and not replies.statuses:
        yield stop(
            "no-statuses",
            ("replies", "status"),
            "The meaning of the status words is missing.",
            "List them in `statuses`.",
            name=True,
        )
    if replies.statuses and not replies.status and replies.arrive != "hand":
        yield stop(
            "no-statuses",
            ("replies", "statuses"),
            "The path of the status word is missing.",
            "Say it in `status`; `status: words` looks for them in what the desk writes.",
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


def json_path(path: str, place: Place) -> Iterator[Fault]:
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
