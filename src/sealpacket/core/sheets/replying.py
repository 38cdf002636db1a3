"""Replies as a desk of a sheet would write them: to try a sheet before its desk has ever answered.

The inverse of `replies`: a tree in which the sheet's paths find what they look for, written as the sheet reads it.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Mapping
from typing import Any

import re2
from pydantic import BaseModel, ConfigDict

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reply_rules import WORDS
from sealpacket.core.sheets.writing.table import csv_of
from sealpacket.core.sheets.writing.xml import to_xml

_STEP = re.compile(
    r"\.(?P<name>[A-Za-z_][A-Za-z0-9_-]*)|\[(?P<quote>['\"])(?P<quoted>[^'\"]+)(?P=quote)\]|\[(?P<index>\d{1,3})\]"
    r"|(?P<all>\[\*\]|\.\*)"
    r"|\[\?\s*@(?:\.(?P<field>[A-Za-z_][A-Za-z0-9_-]*)|\[['\"](?P<qfield>[^'\"]+)['\"]\])\s*==\s*"
    r"(?:['\"](?P<value>[^'\"]*)['\"]|(?P<bare>true|false|\d+))\s*\]"
)


class Said(BaseModel):
    """One message of a desk's, as it would be said."""

    model_config = ConfigDict(frozen=True)

    id: str
    text: str
    at: str
    asks: bool = False
    author: str = "Desk"


class Saying(BaseModel):
    """A desk's answer about a case; any part may be empty."""

    model_config = ConfigDict(frozen=True)

    reference: str = ""
    our_number: str = ""
    status: str = ""
    messages: tuple[Said, ...] = ()
    refused_as: str = ""
    refused_words: str = ""


def reply_for(sheet: Sheet, saying: Saying) -> bytes:
    """A reply that says so, in the form that the sheet reads. Raises Invalid for a path that is too odd for that."""
    return written(sheet, tree_for(sheet, saying))


def tree_for(sheet: Sheet, saying: Saying) -> Any:
    """The tree of a reply that says so."""
    rules = sheet.replies
    tree: Any = {}
    for path, value in (
        (rules.reference, saying.reference),
        (rules.our_number, saying.our_number),
        (rules.status, saying.status),
    ):
        if path and value and path != WORDS:
            tree = _put_value(sheet, tree, path, value)
    if rules.messages and saying.messages:
        one = rules.messages
        fields = (
            (one.id, "id"),
            (one.text, "text"),
            (one.at, "at"),
            (one.author, "author"),
            (one.asks, "asks"),
        )
        last = saying.messages[-1]
        if rules.status == WORDS and saying.status:
            spoken = last.model_copy(update={"text": f"{saying.status}. {last.text}"})
            saying = saying.model_copy(update={"messages": (*saying.messages[:-1], spoken)})
        items = [
            _item((path, getattr(said, name)) for path, name in fields) for said in saying.messages
        ]
        tree = _put_all(tree, one.list, items)
    if rules.refusals and saying.refused_as:
        words = (
            (rules.refusals.code, saying.refused_as),
            (rules.refusals.text, saying.refused_words),
        )
        tree = _put_all(tree, rules.refusals.list, [_item(words)])
    return tree


def _put_value(sheet: Sheet, tree: Any, path: str, value: str) -> Any:
    """The tree with a value that the path finds; of a part of a text, the text of its example with the value in it."""
    name = path.removeprefix("$.parts.") if path.startswith("$.parts.") else ""
    rule = next(
        (one for one in sheet.replies.parts if name and f"(?P<{name}>" in one.pattern), None
    )
    if rule is None:
        return _put(tree, path, value)
    compiled, text = re2.compile(rule.pattern), rule.example
    match, group = compiled.search(text), compiled.groupindex[name]
    if match and match[group]:
        text = f"{text[: match.start(group)]}{value}{text[match.end(group) :]}"
    return _put(tree, rule.at, text if re2.search(rule.pattern, text) else rule.example)


def _item(fields: Iterable[tuple[str, Any]]) -> Any:
    item: Any = {}
    for path, value in fields:
        if path and value not in (None, "", False):
            item = _put(item, path, value)
    return item


def _steps(path: str) -> list[re.Match[str]]:
    found, at = [], 1
    while at < len(path):
        match = _STEP.match(path, at)
        if match is None:
            raise Invalid(
                f"No reply can be made up for the path {path}.",
                "Read a reply of the desk's with the sheet: it says what it would do.",
                code="odd-path",
            )
        found.append(match)
        at = match.end()
    return found


def _put(tree: Any, path: str, value: Any) -> Any:
    """The tree with a value at a path, which finds it there."""
    return _set(tree, _steps(path), value)


def _set(node: Any, steps: list[re.Match[str]], value: Any) -> Any:
    if not steps:
        return (
            value
            if not isinstance(value, Mapping) or not isinstance(node, Mapping)
            else {**node, **value}
        )
    step, rest = steps[0], steps[1:]
    name = step["name"] or step["quoted"]
    if name:
        node = node if isinstance(node, dict) else {}
        return {**node, name: _set(node.get(name), rest, value)}
    items = [*node] if isinstance(node, list) else []
    at = int(step["index"] or 0)
    items += [{} for _ in range(at + 1 - len(items))]
    items[at] = _set(items[at], rest, value)
    field = step["field"] or step["qfield"]
    if field and isinstance(items[at], dict):
        items[at] = {field: _wanted(step), **items[at]}
    return items


def _wanted(step: re.Match[str]) -> Any:
    """The value that a filter looks for."""
    bare = step["bare"]
    if bare is None:
        return step["value"]
    return bare == "true" if bare in ("true", "false") else int(bare)


def _put_all(tree: Any, path: str, items: list[Any]) -> Any:
    """The tree with items where a path looks for a list."""
    steps = _steps(path)
    last = steps[-1] if steps else None
    if last is not None and (last["all"] or last["field"] or last["qfield"]):
        field = last["field"] or last["qfield"]
        if field:
            items = [{field: _wanted(last), **item} for item in items]
        return _set(tree, steps[:-1], items)
    if last is None or last["index"]:
        return _set(tree, steps, items[-1])
    return _set(tree, steps, items)


def written(sheet: Sheet, tree: Any) -> bytes:
    """A tree in the form that the sheet reads."""
    match sheet.replies.read:
        case "json":
            return json.dumps(tree, indent=2, ensure_ascii=False).encode()
        case "xml":
            root, body = next(iter(tree.items()), ("reply", {}))
            return to_xml(root, "", _texts(body) if isinstance(body, Mapping) else {"#text": body})
        case "labels":
            return _labels(tree).encode()
        case "pairs":
            lines = [f"{name.upper()}={_text(value)}" for name, value in tree.items()]
            return ("\n".join(lines) + "\n").encode()
        case "csv":
            return _csv(tree)


def _texts(node: Any) -> Any:
    if isinstance(node, Mapping):
        return {name: _texts(inner) for name, inner in node.items()}
    if isinstance(node, list):
        return [_texts(inner) for inner in node]
    return _text(node)


def _text(value: Any) -> str:
    return ("yes" if value else "no") if isinstance(value, bool) else str(value)


def _labels(tree: Mapping[str, Any]) -> str:
    lines = []
    for name, value in tree.items():
        if name in ("text", "mail") or name.endswith("_words"):
            continue
        label = name.removesuffix("_code").replace("_", " ").capitalize()
        words = f" - {tree.get(name[:-5] + '_words', '')}" if name.endswith("_code") else ""
        lines.append(f"{label}: {_text(value)}{words}")
    return "\n".join([*lines, "", _text(tree.get("text", ""))]) + "\n"


def _csv(tree: Mapping[str, Any]) -> bytes:
    rows = [row for row in tree.get("rows", []) if isinstance(row, Mapping)]
    heads = [*dict.fromkeys(name for row in rows for name in row)]
    return csv_of(heads, [{head: _text(row.get(head, "")) for head in heads} for row in rows])


def status_for(sheet: Sheet, life: str, turn: str = "") -> str:
    """The first status word of the sheet with this meaning; empty if it has none."""
    return next(
        (
            word
            for word, meaning in sheet.replies.statuses.items()
            if meaning.life == life and (not turn or meaning.turn == turn)
        ),
        "",
    )


def sample_replies(sheet: Sheet) -> list[tuple[str, str]]:
    """A reply for each status word, and a refusal, each with what it says. Empty where none can be made."""
    found: list[tuple[str, str]] = []
    number = "P-0001" if sheet.replies.our_number else ""
    try:
        for word, meaning in sheet.replies.statuses.items():
            text = "Which firmware does it run?" if meaning.turn == "ours" else "We have it."
            asks = meaning.turn == "ours" and meaning.life == "lodged"
            said = Said(id="m-1", text=text, at="2026-11-23T09:15:00+00:00", asks=asks)
            refused = meaning.life == "refused"
            saying = Saying(
                reference="" if refused else reference_for(sheet),
                our_number=number,
                status=word,
                messages=() if refused else (said,),
                refused_as=_first_code(sheet) if refused else "",
                refused_words="It is not right.",
            )
            found.append((word, reply_for(sheet, saying).decode("utf-8", "replace")))
        if sheet.replies.refusals and not any(
            m.life == "refused" for m in sheet.replies.statuses.values()
        ):
            saying = Saying(
                our_number=number, refused_as=_first_code(sheet), refused_words="It is not right."
            )
            found.append(("refused", reply_for(sheet, saying).decode("utf-8", "replace")))
    except Invalid:
        return []
    return found


def reference_for(sheet: Sheet) -> str:
    """A reference as this desk would give one."""
    return sheet.replies.reference_example or "CASE-1001"


def _first_code(sheet: Sheet) -> str:
    rules = sheet.replies.refusals
    return next(iter(rules.remedies), "refused").replace("*", "x") if rules else ""
