"""The reference page of the sheet language, written from the same models that read sheets."""

from __future__ import annotations

import inspect
import json
from typing import Any

from sheet_examples import EXAMPLES

from sealpacket.core.sheets.facts import ALSO, FACTS, FILE, MESSAGE, TOLD
from sealpacket.core.sheets.forms import FORMS
from sealpacket.core.sheets.model import sheet_schema
from sealpacket.core.sheets.sending import FORMATS

ORDER = (
    "Sheet", "Kind", "Required", "Hours", "AskedBack", "Question", "Choice", "Column", "MaximumBy", "Prefill",
    "Condition", "Severity", "Level", "Computed", "Escalation", "Promises",
    "Evidence", "Attachments", "Naming", "Redaction", "KeptQuestion",
    "SplitBy", "UnitsBy", "LimitsBy", "AsJson", "AsForm", "AsXml", "AsMail", "AsPdf", "AsFields", "Table", "Node",
    "Take", "Conditional",
    "Joined", "OverHttp", "OwnHeader", "Files", "ByMail", "BySftp", "ByHand", "AlsoBy", "Pace", "UpdateRule", "Replies",
    "TextPart", "Status", "Messages",
    "Refusals", "Remedy", "DeskFact", "Consequence",
)  # fmt: skip
HEAD = """# The sheet language

Generated from the models that read sheets by `make generate`; do not edit. [Desk sheets](../desk-sheets.md) teaches
writing one; this page lists every field and, behind them, every word with an example. The same as
[JSON Schema](desk-sheet.schema.json).

Fields in **bold** have to be there.
"""


NODE = """What a field of a body holds: a text, in which facts may stand in braces; a number, `true` or `false`; a
list of such; a group of further fields; or one of the operators Take, Conditional and Joined. A field of the desk's
that is called take, when or otherwise is written with a backslash before it."""


def page() -> str:
    """The whole page, in Markdown."""
    document = sheet_schema()
    parts = {"Sheet": document, **document["$defs"]}
    parts["Node"]["description"] = inspect.cleandoc(NODE)
    missing = [name for name in parts if name not in ORDER]
    if missing:
        raise SystemExit(f"tools/sheet_reference.py does not order {missing}")
    return "\n".join(
        [
            HEAD,
            *(_part(name, parts[name]) for name in ORDER),
            _forms(),
            *_words_of_the_language(),
            _channels(),
        ]
    )


def _part(name: str, part: dict[str, Any]) -> str:
    lines = [
        f"## {name}",
        "",
        " ".join(part.get("description", "").split()),
        "",
    ]
    if "properties" not in part:
        return "\n".join(lines)
    lines += ["| field | is | |", "|---|---|---|"]
    needed = set(part.get("required", []))
    for field, schema in part["properties"].items():
        shown = f"**{field}**" if field in needed else field
        lines.append(f"| {shown} | {_type(schema)} | {_words(schema)} |")
    return "\n".join(lines) + "\n"


def _words(schema: dict[str, Any]) -> str:
    words = " ".join(schema.get("description", "").split()).replace("|", "\\|")
    default = schema.get("default")
    plain = (
        isinstance(default, str | int | float)
        and default not in ("", None)
        and default is not False
    )
    return f"{words}{' ' if words else ''}Otherwise `{json.dumps(default)}`." if plain else words


_PLAIN: dict[Any, str] = {
    "boolean": "true, false",
    "string": "text",
    "integer": "number",
    "number": "number",
}


def _type(schema: dict[str, Any]) -> str:
    if "$ref" in schema:
        return _link(schema["$ref"])
    if "const" in schema:
        return f"`{schema['const']}`"
    if "enum" in schema:
        return ", ".join(f"`{value}`" for value in schema["enum"])
    for name in ("anyOf", "oneOf"):
        if name in schema:
            found = [_type(one) for one in schema[name] if one.get("type") != "null"]
            return " or ".join(dict.fromkeys(found))
    match schema.get("type"):
        case "array":
            return f"list of {_type(schema.get('items', {}))}"
        case "object":
            inner = schema.get("additionalProperties")
            return f"by name, {_type(inner)}" if isinstance(inner, dict) and inner else "a mapping"
        case "string" if schema.get("format") == "date":
            return "a day"
        case kind:
            return _PLAIN.get(kind, "anything")


def _link(ref: str) -> str:
    name = ref.rsplit("/", 1)[1]
    return f"[{name}](#{name.lower()})"


def _forms() -> str:
    begin = "An answer is kept as text. Its parts are taken as `answers.ID.part`, or written by `to: {part: field}`."
    rows = [
        "## Forms of answers",
        "",
        begin,
        "",
        "| form | an answer is | parts | example |",
        "|---|---|---|---|",
    ]
    for name, form in FORMS.items():
        words = " ".join((type(form).__doc__ or "").split()).replace("|", "\\|")
        parts = ", ".join(f"`{part}`" for part in sorted(form.parts))
        rows.append(f"| `{name}` | {words} | {parts} | {_code(EXAMPLES['forms'][name])} |")
    return "\n".join(rows) + "\n"


def _code(text: str) -> str:
    return f"`{text}`".replace("|", "\\|")


def _listed(title: str, begin: str, category: str, meanings: dict[str, str] | None = None) -> str:
    """A table of the words of a category, each with an example."""
    rows = [f"## {title}", "", begin, "", "| | | example |", "|---|---|---|"]
    for name, example in EXAMPLES[category].items():
        rows.append(f"| `{name}` | {(meanings or {}).get(name, '')} | {_code(example)} |")
    return "\n".join(rows) + "\n"


_OPERATORS = {
    "text with braces": "Facts and answers in a text; `{{` is a brace. Left out where none of them is known.",
    "number, true, false": "Written without quotes; in quotes they are texts.",
    "list": "What has no value is left out of it.",
    "group": "Further fields; left out where nothing is in it.",
    "take": "A fact, an answer, a part of one, a column of a row, a part of an item.",
    "otherwise": "What is written where nothing is known, or a condition does not hold.",
    "map": "From our value to the desk's.",
    "type": "What the desk reads it as (Types).",
    "layout": "Of a date or moment, in CLDR symbols: yyyy yy MM dd HH mm ss xxx.",
    "split": "A text as a list.",
    "join": "A list as a text.",
    "items": "What is written of each item of a list.",
    "when": "Written under a condition.",
    "parts": "One text of several parts; those without a value are left out.",
    "escape": "A field that the desk calls take, when or otherwise.",
}
_CONDITIONS = {
    "one_of": "It is one of these; an upper part of a tree counts for all below it.",
    "answered": "It is answered (of a fact: known), or it is not.",
    "minimum": "It is a number and not below this one.",
    "fact": "Looks at a fact instead of a question.",
    "all": "All of these hold.",
    "any": "At least one of these holds.",
    "none": "None of these holds.",
}
_STATUSES = {
    "lodged": "Taken; their turn.",
    "asked": "Taken; our turn.",
    "answered": "They say that it is solved; our turn.",
    "settled": "Over.",
    "refused": "Not taken; our turn.",
    "life and turn": "Both said, where no word fits.",
}
_TYPES = {
    "text": "As it is, with its unit.",
    "number": "A number; of `3 kg` 3.",
    "whole": "A number without a fraction.",
    "boolean": "true or false.",
    "date": "2026-11-23.",
    "time": "08:40:00.",
    "datetime": "RFC 3339: 2026-11-23T08:40:00+00:00. A moment is written so without a type.",
    "label": "The words of a choice.",
    "list": "The parts of a tree's path, or the lines of a text.",
}


def _words_of_the_language() -> list[str]:
    facts = {**FACTS, **ALSO}
    return [
        _listed(
            "Operators of a body", "What a field of `write.body` may hold.", "operators", _OPERATORS
        ),
        _listed(
            "Conditions",
            "`shown`, `required`, `fixed` and every `when`.",
            "conditions",
            _CONDITIONS,
        ),
        _listed("Types", "`type` of a question or a `take`: what the desk reads.", "types", _TYPES),
        _listed(
            "Lives and turns", "What a status word of the desk's means.", "statuses", _STATUSES
        ),
        _listed(
            "Acts", "`act` of a remedy: what a person is offered to do about a refusal.", "acts"
        ),
        _listed("Duties", "What a choice or level obliges the contact to.", "duties"),
        _listed("Needs", "`need` of a kind: what somebody wants.", "needs"),
        _listed("Routes", "`routes` of a kind: how a packet may be covered.", "routes"),
        _listed("Requirements", "What has to be so before a packet is sent.", "requirements"),
        _listed("Days", "`hours.week`.", "days"),
        _listed("Ways of files", "`send.files`.", "files"),
        _listed(
            "Facts",
            f"What `take`, braces and conditions can look at. Beside these: {_also()}.",
            "facts",
            facts,
        ),
        _listed("Facts of an answer of ours", "In `send.answer_body`.", "message", MESSAGE),
        _listed(
            "Acts after the reference",
            "`acts`: what a desk is told later, and how it is written for it. One that is not named goes out as a "
            "message in our own words.",
            "tells",
        ),
        _listed("Facts of an act", "In `acts`, beside those of an answer of ours.", "told", TOLD),
        _listed("Facts of a file", "In `send.files.entry`.", "file", FILE),
    ]


def _also() -> str:
    return "; ".join(f"`{path}` ({words})" for path, words in ALSO.items())


def _channels() -> str:
    rows = ["## Channels", "", "| `send.channel` | `write.format` |", "|---|---|"]
    rows += [
        f"| `{channel}` | {', '.join(f'`{name}`' for name in names)} |"
        for channel, names in FORMATS.items()
    ]
    return "\n".join(rows) + "\n"
