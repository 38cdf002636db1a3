"""From a vendor's fields to the text of a sheet."""

from __future__ import annotations

import re
from typing import Any

from sealpacket.core.sheets.beginning.fields import Begun, Field, words_of
from sealpacket.core.sheets.yaml_text import sheet_yaml

_FORMS = {
    "number": "number", "whole": "number", "boolean": "consent", "datetime": "moment", "several": "several",
    "choice": "choice", "date": "date", "mail": "mail", "phone": "phone", "long": "long",
}  # fmt: skip
_KNOWN: tuple[tuple[frozenset[str], str], ...] = (
    (frozenset({"serial"}), "asset.serial"),
    (frozenset({"serialnumber"}), "asset.serial"),
    (frozenset({"model"}), "asset.product"),
    (frozenset({"product"}), "asset.product"),
    (frozenset({"firmware"}), "asset.software_version"),
    (frozenset({"version"}), "asset.software_version"),
    (frozenset({"release"}), "asset.software_version"),
    (frozenset({"contract"}), "contract.number"),
    (frozenset({"title"}), "packet.title"),
    (frozenset({"subject"}), "packet.title"),
    (frozenset({"summary"}), "packet.title"),
    (frozenset({"headline"}), "packet.title"),
    (frozenset({"description"}), "packet.note"),
    (frozenset({"details"}), "packet.note"),
    (frozenset({"symptom"}), "packet.note"),
    (frozenset({"problem"}), "packet.note"),
    (frozenset({"address"}), "site.mailing"),
    (frozenset({"country"}), "site.country"),
    (frozenset({"zone"}), "site.time_zone"),
    (frozenset({"timezone"}), "site.time_zone"),
)
"""Words of a field's name, and the fact that it is probably about."""
_OUR_NUMBER = (
    {"your", "reference"}, {"customer", "reference"}, {"customer", "ref"}, {"your", "number"}, {"our", "number"},
    {"customer", "ticket"}, {"external", "id"}, {"claim", "no"},
)  # fmt: skip
_PEOPLE = {"contact", "caller", "requester", "reporter", "person", "submitter"}
_OF_PERSON = {
    "name": "name", "mail": "mail", "email": "mail", "phone": "phone", "telephone": "phone", "tel": "phone",
    "mobile": "phone", "language": "language",
}  # fmt: skip
_READS = {"json": "json", "form": "json", "xml": "xml", "mail": "labels", "pdf": "labels"}
_ARRIVE = {"mail": "mail", "pdf": "folder"}


def sheet_of(begun: Begun, name: str) -> str:
    """The sheet, with a mark at everything that the vendor's file did not say."""
    key = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "a-desk"
    key = key if key[0].isalpha() else f"desk-{key}"[:40]
    tree: dict[str, Any] = {
        "sheet": 2,
        "desk": key,
        "vendor": "a-vendor",
        "name": name.replace("-", " ").replace("_", " ").capitalize()[:60],
        "kinds": [{"need": "fault", "routes": ["support"]}],
    }
    notes = {
        ("desk",): "its short name",
        ("vendor",): "its vendor's short name in the register",
        ("kinds",): "which kinds of request it takes, and by which routes",
        **begun.notes,
    }
    body, questions = _asked(begun)
    tree["questions"] = questions
    if begun.files:
        tree["attachments"] = {"max_files": 5, "max_size": "10 MB", "max_total": "30 MB"}
        notes[("attachments",)] = "its limits"
    tree["write"] = {"format": begun.format, **begun.write} | ({"body": body} if body else {})
    for long in ("blank", "xsd"):
        if long in tree["write"]:
            tree["write"][long] = tree["write"].pop(long)
    tree["send"] = _sent(begun, notes)
    tree["replies"] = _replies(begun, notes)
    return f"# Begun from {name}. Lines with # ? are to be filled in or confirmed.\n{sheet_yaml(tree, notes)}"


def _asked(begun: Begun) -> tuple[dict[str, Any], list[dict[str, Any]]]:
    body: dict[str, Any] = {}
    questions: list[dict[str, Any]] = []
    people: dict[str, dict[str, Any]] = {}
    taken: set[str] = set()
    flat = begun.format in ("form", "mail", "pdf")
    for one in begun.fields:
        words = set(words_of(one.path))
        if any(pair <= words for pair in _OUR_NUMBER):
            _put(body, [one.path] if flat else one.path.split("."), {"take": "packet.number"})
            continue
        whose, part = _person(one)
        if whose:
            person = people.get(whose)
            if person is None:
                person = people[whose] = {
                    "id": _ident(whose, taken), "ask": f"Who is the {whose}?", "form": "person", "to": {},
                    "required": one.required, "prefill": ["login.person", "site.contact"],
                }  # fmt: skip
                questions.append(person)
            person["to"].setdefault(part, one.path)
            person["required"] = person["required"] or one.required
            continue
        questions.append(_question(one, _ident(one.path, taken)))
    return body, [
        {n: v for n, v in one.items() if v not in (None, "", False, [])} for one in questions
    ]


def _put(body: dict[str, Any], path: list[str], value: Any) -> None:
    for name in path[:-1]:
        body = body.setdefault(name, {})
    body[path[-1]] = value


def _person(one: Field) -> tuple[str, str]:
    """Whose field it is and which part of that person, if it is about one."""
    words = words_of(one.path)
    whose = next((word for word in words if word in _PEOPLE), "")
    part = next((_OF_PERSON[word] for word in reversed(words) if word in _OF_PERSON), "")
    if whose and not part and words[-1] == whose and one.kind == "text":
        part = "name"
    return (whose, part) if whose and part and one.kind in ("text", "mail", "phone") else ("", "")


def _ident(path: str, taken: set[str]) -> str:
    words = words_of(path)
    ident = "_".join(words[-2:] if len("_".join(words[-1:])) < 4 else words[-1:])[:36] or "field"
    ident = ident if ident[0].isalpha() else f"f_{ident}"[:36]
    found, number = ident, 1
    while found in taken:
        number += 1
        found = f"{ident}_{number}"
    taken.add(found)
    return found


def _question(one: Field, ident: str) -> dict[str, Any]:
    label = one.label.strip() or " ".join(words_of(one.path)[-3:]).capitalize()
    question: dict[str, Any] = {
        "id": ident,
        "ask": (label if label.endswith("?") else f"{label.rstrip(':.*').strip()}?")[:300],
        "form": _FORMS.get(one.kind, "text"),
        "guide": one.guide[:400],
        "to": one.path,
        "required": one.required,
    }
    if one.kind in ("number", "whole"):
        question |= {"whole": one.kind == "whole", "minimum": one.minimum, "maximum": one.maximum}
    if one.kind == "boolean":
        question["wording"] = label
    if one.kind in ("choice", "several"):
        question["choices"] = [
            {"value": value.replace("/", "-")[:100], "label": (text or value)[:200]}
            | ({"sends": value} if "/" in value else {})
            for value, text in one.choices
        ]
    if one.kind in ("text", "long"):
        question |= {
            "min_length": one.min_length,
            "max_length": one.max_length,
            "pattern": one.pattern,
        }
    question["example"] = one.example[:400] if one.kind in ("text", "number", "whole") else ""
    question["prefill"] = _fact_for(one)
    return question


def _fact_for(one: Field) -> str:
    words = set(words_of(one.path.rpartition(".")[2]))
    if one.kind not in ("text", "long", "datetime", "date"):
        return ""
    return next((fact for wanted, fact in _KNOWN if wanted <= words), "")


def _sent(begun: Begun, notes: dict[tuple[str | int, ...], str]) -> dict[str, Any]:
    match begun.format:
        case "mail":
            return {"channel": "mail"}
        case "pdf":
            notes |= {
                ("send", "drop"): "the folder for our files",
                ("send", "pick_up"): "the folder with its papers",
            }
            return {"channel": "sftp", "drop": "in", "pick_up": "out"}
    send = {"channel": "http", "lodge": "/cases", "follow": "/cases/{reference}", **begun.send}
    for name, words in (("lodge", "where a case is posted"), ("follow", "where it is read")):
        if name not in begun.send:
            notes[("send", name)] = words
    if begun.files and "files" not in send:
        send["files"] = {"sent": "after", "by": "put", "path": "/cases/{reference}/files/{name}"}
        notes[("send", "files")] = "how files are sent"
    return send


def _replies(begun: Begun, notes: dict[tuple[str | int, ...], str]) -> dict[str, Any]:
    xml = begun.format == "xml"
    labels = begun.format in ("mail", "pdf")
    root = f"$.{begun.write.get('root', 'reply')}" if xml else "$"
    replies: dict[str, Any] = {
        "arrive": _ARRIVE.get(begun.format, "polling"),
        "read": _READS[begun.format],
        "reference": f"{root}['@id']" if xml else "$.reference",
        "status": f"{root}['@status']" if xml else "$.status",
        "statuses": {
            "open": "lodged",
            "question": "asked",
            "solved": "answered",
            "closed": "settled",
        },
    }
    if labels:
        replies["our_number"] = "$.your_reference"
        notes[("replies", "our_number")] = "the label behind which it repeats our number"
    messages = (
        {"list": f"{root}.message", "text": "$['#text']"}
        if xml
        else {"list": "$.messages[*]", "text": "$.text"}
    )
    replies["messages"] = {"list": "$", "text": "$.text"} if labels else messages
    for name in ("reference", "status", "statuses", "messages"):
        notes[("replies", name)] = "as the desk answers"
    return replies
