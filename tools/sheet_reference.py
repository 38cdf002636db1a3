"""The reference page of the sheet language, written from the same models that read sheets."""

from __future__ import annotations

import json
from typing import Any

from sealpacket.core.sheets.facts import ALSO, FACTS, MESSAGE
from sealpacket.core.sheets.forms import FORMS
from sealpacket.core.sheets.model import sheet_schema
from sealpacket.core.sheets.sending import FORMS_OF_CHANNELS

ORDER = (
    "Sheet", "Kind", "Before", "Hours", "Question", "Choice", "Column", "HighestBy", "Prefill", "Condition", "Severity",
    "Level", "Escalation", "Evidence", "Attachments", "Naming", "Redaction", "KeptQuestion", "SplitBy", "AsJson",
    "AsForm", "AsXml", "AsMail", "AsPdf", "Table", "HttpJson", "HttpForm", "HttpXml", "ByMail", "BySftp", "Replies",
    "StatusWord", "Messages", "Refusals", "Cure", "Told",
)  # fmt: skip
HEAD = """# The sheet language

Generated from the models that read sheets by `make generate`; do not edit. [Desk sheets](../desk-sheets.md) teaches
writing one; this page says every field. The same as [JSON Schema](desk-sheet.schema.json).

Fields in **bold** have to be there.
"""


def page() -> str:
    """The whole page, in Markdown."""
    document = sheet_schema()
    parts = {"Sheet": document, **document["$defs"]}
    missing = [name for name in parts if name not in ORDER]
    if missing:
        raise SystemExit(f"tools/sheet_reference.py does not order {missing}")
    return "\n".join(
        [HEAD, *(_part(name, parts[name]) for name in ORDER), _forms(), _facts(), _channels()]
    )


def _part(name: str, part: dict[str, Any]) -> str:
    lines = [
        f"## {name}",
        "",
        " ".join(part.get("description", "").split()),
        "",
        "| field | is | |",
        "|---|---|---|",
    ]
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
    rows = [
        "## Forms of answers",
        "",
        "| form | an answer is | parts, taken as `answers.ID.part` |",
        "|---|---|---|",
    ]
    for name, form in FORMS.items():
        words = " ".join((type(form).__doc__ or "").split())
        rows.append(
            f"| `{name}` | {words} | {', '.join(f'`{part}`' for part in sorted(form.parts))} |"
        )
    return "\n".join(rows) + "\n"


def _facts() -> str:
    begin = "What `take`, `{…}` and conditions can look at beside `answers.ID`:"
    rows = ["## Facts", "", begin, "", "| fact | |", "|---|---|"]
    rows += [f"| `{path}` | {words} |" for path, words in {**FACTS, **ALSO, **MESSAGE}.items()]
    return "\n".join(rows) + "\n"


def _channels() -> str:
    rows = ["## Channels", "", "| `send.channel` | `write.form` |", "|---|---|"]
    rows += [f"| `{channel}` | `{form}` |" for channel, form in FORMS_OF_CHANNELS.items()]
    return "\n".join(rows) + "\n"
