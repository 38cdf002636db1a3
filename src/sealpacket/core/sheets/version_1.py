"""Converting a sheet of version 1 of the language, which stored sheets and files may still have."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.bodies import ESCAPE
from sealpacket.core.sheets.reading import Plain, SheetText, plain_tree
from sealpacket.core.sheets.yaml_text import sheet_yaml

_QUESTION = {
    "at_least": "min_length", "at_most": "max_length", "lowest": "minimum", "highest": "maximum", "when": "time",
    "most": "max_items",
}  # fmt: skip
_COLUMN = {"lowest": "minimum", "highest": "maximum", "highest_by": "maximum_by"}
_WITH_ITEMS = ("people", "several", "steps", "rows")
_STATUSES = {
    ("lodged", "vendor"): "lodged", ("lodged", "ours"): "asked", ("answered", "ours"): "answered",
    ("settled", "vendor"): "settled", ("refused", "ours"): "refused",
}  # fmt: skip
_RESERVED = ("take", "when", "otherwise")


def convert_text(text: str) -> str:
    """A sheet of version 1 as text of version 2; the comments at its beginning stay. Raises Invalid if it is none."""
    tree = SheetText(text).tree
    if not isinstance(tree, Mapping) or tree.get("sheet") != "1":
        raise Invalid(
            "This is not a sheet of version 1.", "Convert files that begin with “sheet: 1”."
        )
    head = []
    for line in text.splitlines():
        if not line.startswith("#"):
            break
        head.append(line)
    return "\n".join([*head, sheet_yaml(convert(tree))])


def convert(old: Mapping[str, Any]) -> dict[str, Any]:
    """The tree of a sheet of version 1 as one of version 2. What is not known stays, for lint to tell."""
    new = {name: _scalars(value) for name, value in old.items() if name not in _PARTS}
    new["sheet"] = 2
    for name, part in _PARTS.items():
        if name in old:
            part(new, old)
    _say_once(new)
    order = [
        "sheet", "desk", "vendor", "name", "kinds", "requirements", "hours", "questions", "severity", "evidence",
        "attachments", "redaction", "split", "write", "send", "replies",
    ]  # fmt: skip
    new["questions"] = [_in_order(one) for one in new.get("questions", ())]
    return {
        name: new[name] for name in [*order, *(n for n in new if n not in order)] if name in new
    }


def _in_order(question: dict[str, Any]) -> dict[str, Any]:
    first = ("id", "ask", "form", "to", "type", "sets")
    return {
        n: question[n] for n in (*first, *(n for n in question if n not in first)) if n in question
    }


def _scalars(node: Any) -> Any:
    """A part without the marks of what was unquoted, every scalar as it was written."""
    if isinstance(node, Mapping):
        return {str(name): _scalars(inner) for name, inner in node.items()}
    if isinstance(node, list | tuple):
        return [_scalars(inner) for inner in node]
    return plain_tree(node) if isinstance(node, Plain) else node


def _renamed(node: Mapping[str, Any], names: Mapping[str, str]) -> dict[str, Any]:
    return {names.get(name, name): value for name, value in _scalars(node).items()}


def _requirements(new: dict[str, Any], old: Mapping[str, Any]) -> None:
    names = {"need": "requirement", "words": "because"}
    new["requirements"] = [_renamed(one, names) for one in old["before"]]


def _questions(new: dict[str, Any], old: Mapping[str, Any]) -> None:
    new["questions"] = [_question(one) for one in old["questions"]]


def _question(old: Mapping[str, Any]) -> dict[str, Any]:
    new = _renamed(old, _QUESTION)
    if new.get("form") not in _WITH_ITEMS:
        new.pop("max_items", None)
    if new.get("time") == "coming":
        new["time"] = "future"
    for name in ("shown", "required", "fixed"):
        if isinstance(new.get(name), Mapping):
            new[name] = _condition(new[name])
    if "choices" in new:
        new["choices"] = [_choice(one) for one in new["choices"]]
    if "columns" in new:
        new["columns"] = [_renamed(one, _COLUMN) for one in new["columns"]]
    if "prefill" in new:
        sources = [one["take"] if set(one) == {"take"} else one for one in new["prefill"]]
        new["prefill"] = sources[0] if len(sources) == 1 else sources
    return new


def _condition(old: Any) -> Any:
    if isinstance(old, list):
        return [_condition(one) for one in old]
    if not isinstance(old, Mapping):
        return old
    return {
        "minimum" if name == "at_least" else name: _condition(value)
        if name in ("all", "any", "none")
        else value
        for name, value in old.items()
    }


def _choice(old: Mapping[str, Any]) -> dict[str, Any]:
    new = _renamed(old, {"words": "meaning"})
    if "choices" in new:
        new["choices"] = [_choice(one) for one in new["choices"]]
    return new


def _severity(new: dict[str, Any], old: Mapping[str, Any]) -> None:
    part = _scalars(old["severity"])
    steps = {"when": "trigger", "do": "action", "by": "contact"}
    found: dict[str, Any] = {}
    if "levels" in part:
        found["levels"] = [_renamed(one, {"words": "meaning"}) for one in part["levels"]]
    if part.get("set_by") == "computed":
        found["computed"] = {name: part.get(name) for name in ("impact", "urgency", "table")}
    if "raising" in part:
        found["raising"] = part["raising"]
    if "escalation" in part:
        found["escalation"] = [_renamed(one, steps) for one in part["escalation"]]
    for question in new.get("questions", ()):
        if part.get("set_by") == "ours" and question.get("id") == part.get("question"):
            question["sets"] = "severity"
    if found:
        new["severity"] = found


def _evidence(new: dict[str, Any], old: Mapping[str, Any]) -> None:
    new["evidence"] = [
        {name: _condition(value) if name == "when" else value for name, value in one.items()}
        for one in _scalars(old["evidence"])
    ]


def _attachments(new: dict[str, Any], old: Mapping[str, Any]) -> None:
    names = {"most": "max_files", "each": "max_size", "together": "max_total"}
    part = _renamed(old["attachments"], names)
    if part.get("max_files") in (0, "0"):
        return
    for name in ("max_size", "max_total"):
        part[name] = _size(part.get(name))
    if "naming" in part:
        part["naming"] = _renamed(part["naming"], {"each": "file"})
    new["attachments"] = part


def _size(value: Any) -> Any:
    """Bytes with a unit, where they are whole."""
    if not isinstance(value, int) or value < 1000 or value % 1000:
        return value
    return f"{value // 10**6} MB" if value % 10**6 == 0 else f"{value // 1000} kB"


def _write(new: dict[str, Any], old: Mapping[str, Any]) -> None:
    part = {("format" if name == "form" else name): value for name, value in old["write"].items()}
    found = {name: _scalars(value) for name, value in part.items() if name not in ("body", "table")}
    if "table" in part:
        table = part["table"]
        found["table"] = {name: _scalars(value) for name, value in table.items()}
        found["table"]["columns"] = _group(table.get("columns", {}))
    found["body"] = _group(part.get("body", {}))
    blank = found.pop("blank", None) or found.pop("xsd", None)
    if blank is not None:
        found["blank" if "blank" in part else "xsd"] = blank
    new["write"] = found


def _group(old: Any) -> dict[str, Any]:
    return {
        f"{ESCAPE}{name}" if name in _RESERVED else str(name): _node(value)
        for name, value in old.items()
    }


def _node(old: Any) -> Any:
    if isinstance(old, list):
        return [_node(one) for one in old]
    if not isinstance(old, Mapping):
        return old.replace("{", "{{").replace("}", "}}") if _is_text(old) else _scalars(old)
    if set(old) == {"text"} and isinstance(old["text"], str):
        return str(old["text"])
    if set(old) == {"when", "write"}:
        return {"when": _condition(_scalars(old["when"])), "value": _node(old["write"])}
    if "take" not in old:
        return _group(old)
    new = {"items" if name == "each" else name: value for name, value in old.items()}
    for name in ("items", "otherwise"):
        if name in new:
            new[name] = _node(new[name])
    return _scalars(new) | {name: new[name] for name in ("items", "otherwise") if name in new}


def _is_text(value: Any) -> bool:
    return isinstance(value, str) and not isinstance(value, Plain)


def _send(new: dict[str, Any], old: Mapping[str, Any]) -> None:
    part = _scalars(old["send"])
    channel = str(part.get("channel", ""))
    if "answer_body" in part:
        part["answer_body"] = _group(old["send"]["answer_body"])
    if channel.startswith("http_"):
        part["channel"] = "http"
        place = part.pop("uploads" if channel == "http_json" else "files", None)
        ways: dict[str, dict[str, Any]] = {
            "http_json": {"sent": "before", "by": "tus", "path": place, "list_in": "attachments"},
            "http_form": {"sent": "with", "by": "multipart", "field": place},
            "http_xml": {"sent": "after", "by": "put", "path": place},
        }
        if place is not None and "attachments" in new:
            part["files"] = ways[channel]
    new["send"] = part


def _replies(new: dict[str, Any], old: Mapping[str, Any]) -> None:
    names = {"by": "arrive", "ours": "our_number", "words": "statuses", "told": "facts"}
    part = _renamed(old["replies"], names)
    if part.get("arrive") == "drop":
        part["arrive"] = "folder"
    part["statuses"] = {
        word: _STATUSES.get((one.get("life"), one.get("turn")), one)
        for word, one in part.get("statuses", {}).items()
    }
    if "messages" in part:
        part["messages"] = _renamed(part["messages"], {"each": "list"})
    if "refusals" in part:
        refusals = _renamed(part["refusals"], {"each": "list", "cures": "remedies"})
        if "remedies" in refusals:
            refusals["remedies"] = {
                code: _renamed(one, {"sentence": "remedy"})
                for code, one in refusals["remedies"].items()
            }
        part["refusals"] = refusals
    if "facts" in part:
        part["facts"] = [_renamed(one, {"take": "path"}) for one in part["facts"]]
    new["replies"] = part


_PARTS: dict[str, Any] = {
    "before": _requirements, "questions": _questions, "severity": _severity, "evidence": _evidence,
    "attachments": _attachments, "write": _write, "send": _send, "replies": _replies,
}  # fmt: skip


def _say_once(new: dict[str, Any]) -> None:
    """Let questions say themselves where they are written, where the body only took their answers."""
    write = new.get("write", {})
    body = write.get("body", {})
    flat = write.get("format") in ("form", "mail", "pdf")
    questions = {one.get("id"): one for one in new.get("questions", ()) if isinstance(one, dict)}
    if flat:
        for name, node in body.items():
            whole = _ONE_ANSWER.fullmatch(node) if isinstance(node, str) else None
            body[name] = {"take": whole[1]} if whole else node
    found: dict[str, list[tuple[list[str], str, dict[str, Any]]]] = {}
    for path, node in _leaves(body, [], flat=flat):
        name, _, part = node["take"].removeprefix("answers.").partition(".")
        found.setdefault(name, []).append((path, part, node))
    for name, taken in found.items():
        question = questions.get(name)
        parts = [part for _, part, _ in taken]
        if question is None or len(set(parts)) < len(parts) or not all(map(_plain_take, taken)):
            continue
        _move(question, taken, flat=flat)
        for path, _, _ in taken:
            _take_out(body, path)


def _leaves(
    node: Any, path: list[str], *, flat: bool
) -> Iterator[tuple[list[str], dict[str, Any]]]:
    for name, inner in node.items():
        here = [*path, name]
        if isinstance(inner, Mapping) and str(inner.get("take", "")).startswith("answers."):
            yield here, dict(inner)
        elif (
            isinstance(inner, Mapping) and "take" not in inner and "value" not in inner and not flat
        ):
            yield from _leaves(inner, here, flat=flat)


_ONE_ANSWER = re.compile(r"\{(answers\.[a-z0-9_.]+)\}")


def _plain_take(taken: tuple[list[str], str, dict[str, Any]]) -> bool:
    path, part, node = taken
    options = set(node) - {"take"}
    simple = not options or (options == {"split"} and node["split"] == "/")
    simple |= options == {"map"} and part == ""
    return simple and not any("." in name or name.startswith(ESCAPE) for name in path)


def _move(
    question: dict[str, Any], taken: list[tuple[list[str], str, dict[str, Any]]], *, flat: bool
) -> None:
    targets = {part: path[0] if flat else ".".join(path) for path, part, _ in taken}
    for _, _, node in taken:
        _translate(question, node.get("map") or {})
    single = {"": None, "full": None, "number": "number", "label": "label"}
    if len(targets) == 1 and (part := next(iter(targets))) in single:
        question["to"] = targets[part]
        kind = "list" if "split" in taken[0][2] else single[part]
        if part == "" and question.get("form") == "number" and question.get("units"):
            kind = "text"
        if kind:
            question["type"] = kind
    else:
        question["to"] = targets


def _translate(question: dict[str, Any], names: Mapping[str, Any]) -> None:
    """Let choices say what is sent for them."""
    for choice in question.get("choices", ()):
        if choice["value"] in names and str(names[choice["value"]]) != choice["value"]:
            choice["sends"] = str(names[choice["value"]])
    if question.get("form") == "consent" and any(name != sent for name, sent in names.items()):
        question["sends"] = {name: str(sent) for name, sent in names.items()}


def _take_out(body: dict[str, Any], path: list[str]) -> None:
    if len(path) > 1:
        _take_out(body[path[0]], path[1:])
        if not body[path[0]]:
            del body[path[0]]
    else:
        del body[path[0]]
