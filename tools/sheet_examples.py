"""An example of every word of the sheet language. tests/core/test_reference.py lints each within a whole sheet."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, get_args

from sealpacket.core.coverage import Need, Route
from sealpacket.core.sheets.asking import Duty
from sealpacket.core.sheets.facts import FACTS, FILE, MESSAGE, TOLD
from sealpacket.core.sheets.model import Day, Requirement
from sealpacket.core.sheets.reading import SheetText, plain_tree
from sealpacket.core.sheets.reply_rules import Act

FORMS = {
    "text": "{id: code, ask: Which code?, form: text, to: code, pattern: 'E[0-9]{3}', example: E417}",
    "long": "{id: what, ask: What happens?, form: long, to: what, min_length: 20, prefill: packet.note}",
    "steps": "{id: tried, ask: What was tried?, form: steps, to: tried, max_items: 12}",
    "choice": "{id: kind, ask: Of which kind?, form: choice, to: kind, choices: [{value: hw, label: Hardware}]}",
    "several": "{id: floors, ask: Which floors?, form: several, to: floors, choices: [{value: '1', label: First}]}",
    "tree": "{id: area, ask: Where?, form: tree, to: area, type: list, choices: [{value: disk, label: Disks, choices: "
    "[{value: slow, label: Slow}]}]}",
    "number": "{id: load, ask: What load?, form: number, to: load, type: number, units: [kVA, VA], minimum: 1}",
    "date": "{id: day, ask: Since which day?, form: date, to: day, time: past}",
    "moment": "{id: since, ask: Since when?, form: moment, to: since, time: past}",
    "zone": "{id: zone, ask: In which time zone?, form: zone, to: zone, prefill: site.time_zone}",
    "version": "{id: release, ask: Which release?, form: version, to: release, prefill: asset.software_version}",
    "versions": "{id: parts, ask: Which versions?, form: versions, to: parts, components: [agent, server]}",
    "consent": "{id: enter, ask: May we enter?, form: consent, to: enter, wording: The engineer may enter., "
    "sends: {yes: Y, no: N}}",
    "address": "{id: place, ask: Where does it stand?, form: address, to: place, prefill: site.mailing}",
    "country": "{id: country, ask: In which country?, form: country, to: country, countries: [GB, IE]}",
    "state": "{id: state, ask: In which state?, form: state, to: state, country: site.country}",
    "phone": "{id: phone, ask: At which number?, form: phone, to: phone}",
    "mail": "{id: mail, ask: At which address?, form: mail, to: mail}",
    "language": "{id: language, ask: In which language?, form: language, to: language, languages: [en, de]}",
    "person": "{id: contact, ask: Who can be asked?, form: person, to: {name: caller, phone: phone}}",
    "people": "{id: told, ask: Who is told as well?, form: people, to: copied_to, max_items: 3}",
    "rows": "{id: goods, ask: What is in it?, form: rows, to: goods, columns: [{id: part, ask: Part}, "
    "{id: pieces, ask: Pieces, number: true}]}",
}
TYPES = {
    "text": "{id: load, ask: What load?, form: number, units: [kg], to: load, type: text}",
    "number": "{id: load, ask: What load?, form: number, units: [kg], to: load, type: number}",
    "whole": "{id: users, ask: How many users?, form: number, whole: true, to: users, type: whole}",
    "boolean": "{id: agreed, ask: Is it agreed?, form: consent, wording: We agree., to: agreed, type: boolean}",
    "date": "{id: since, ask: Since when?, form: moment, to: day, type: date}",
    "time": "{id: since, ask: Since when?, form: moment, to: time, type: time}",
    "datetime": "{id: since, ask: Since when?, form: moment, to: since, type: datetime}",
    "label": "{id: kind, ask: Which?, form: choice, to: kind, type: label, choices: [{value: a, label: An alarm}]}",
    "list": "{id: what, ask: What happens?, form: long, to: lines, type: list}",
}
OPERATORS = {
    "text with braces": "field: 'Array {asset.serial} at {site.name}'",
    "number, true, false": "field: 5",
    "list": "field: [fixed, '{asset.serial}']",
    "group": "field: {inner: '{asset.serial}'}",
    "take": "field: {take: asset.serial}",
    "otherwise": "field: {take: asset.host_name, otherwise: {take: asset.name}}",
    "map": "field: {take: packet.need, map: {fault: F}, otherwise: X}",
    "type": "field: {take: packet.noted_at, type: date}",
    "layout": "field: {take: packet.sealed_on, layout: dd.MM.yyyy}",
    "split": "field: {take: login.contracts, split: ', '}",
    "join": "field: {take: answers.tried, join: '; '}",
    "items": "field: {take: answers.goods, items: '{item.pieces} x {item.part}', join: '; '}",
    "when": "field: {when: {question: kind, one_of: [hw]}, value: '{asset.serial}', otherwise: none}",
    "parts": "field: {parts: ['{site.name}', '{site.address}'], join: ', '}",
    "escape": "'\\when': '{packet.noted_at}'",
}
CONDITIONS = {
    "one_of": "{question: kind, one_of: [hw]}",
    "answered": "{question: tried, answered: false}",
    "minimum": "{question: load, minimum: 3}",
    "fact": "{fact: site.country, one_of: [US, CA]}",
    "all": "{all: [{question: kind, answered: true}, {fact: packet.need, one_of: [fault]}]}",
    "any": "{any: [{question: kind, one_of: [hw]}, {question: load, minimum: 3}]}",
    "none": "{none: [{question: kind, one_of: [hw]}]}",
}
STATUSES = {
    "lodged": "OPEN: lodged",
    "asked": "WAITING: asked",
    "answered": "SOLVED: answered",
    "settled": "CLOSED: settled",
    "refused": "REJECTED: refused",
    "life and turn": "SENT: {life: answered, turn: vendor}",
}
ACTS = {act: f"late: {{remedy: Look at it., act: {act}}}" for act in get_args(Act)}
_BAD = (
    "{{id: bad, ask: How bad?, form: choice, to: bad, sets: severity, "
    "choices: [{{value: '1', label: Down, duties: [{}]}}]}}"
)
DUTIES = {duty: _BAD.format(duty) for duty in get_args(Duty)}
NEEDS = {need: f"{{need: {need}, routes: [support]}}" for need in get_args(Need)}
ROUTES = {route: f"{{need: fault, routes: [{route}]}}" for route in get_args(Route)}
REQUIREMENTS = {
    one: f"{{requirement: {one}{', question: what' if one == 'purpose' else ''}}}"
    for one in get_args(Requirement)
}
DAYS = {day: f"{{zone: Europe/London, week: {{{day}: '08:00-18:00'}}}}" for day in get_args(Day)}
TAKEN = {path: f"field: {{take: {path}}}" for path in FACTS}
ANSWERED = {path: f"field: {{take: {path}}}" for path in MESSAGE}
SENT = {path: f"field: {{take: {path}}}" for path in FILE}
FILES = {
    "before": "{sent: before, by: tus, path: /uploads, list_in: attachments}",
    "with": "{sent: with, by: multipart, field: file}",
    "after": "{sent: after, by: put, path: '/cases/{reference}/files/{name}'}",
}


_TELLS = {
    "comment": "words: 'To our case: {message.text}'",
    "severity": "path: '/cases/{reference}', method: PATCH, body: {priority: {take: act.level}}",
    "escalate": "path: '/cases/{reference}/escalations', body: {rule: {take: act.trigger}, why: {take: message.text}}",
    "contact": "path: '/cases/{reference}/contact', method: PUT, body: {name: {take: act.name}}",
    "told": "words: 'Copy to {act.people}. {message.text}'",
    "accept": "path: '/cases/{reference}/verdict', body: {accepted: true, remark: {take: message.text}}",
    "contest": "path: '/cases/{reference}/verdict', body: {accepted: false, remark: {take: message.text}}",
    "rate": "path: '/cases/{reference}/rating', body: {stars: {take: act.rating}}",
    "close": "words: 'Please close it. {message.text}'",
    "open_again": "path: '/cases/{reference}/again', within_days: 14, body: {why: {take: message.text}}",
}
TELLS = {act: f"{act}: {{{told}}}" for act, told in _TELLS.items()}
TOLDS = {path: f"severity: {{words: 'It is {{{path}}}.'}}" for path in TOLD}


def _read(fragment: str) -> Any:
    return plain_tree(SheetText(fragment).tree)


def base() -> dict[str, Any]:
    """A whole sheet with a question of every sort that examples look at."""
    asked = {name: _read(FORMS[name]) for name in ("choice", "number", "steps", "rows", "long")}
    return {
        "sheet": 2, "desk": "example-desk", "vendor": "example", "name": "Example",
        "kinds": [{"need": "fault", "routes": ["support"]}],
        "questions": list(asked.values()),
        "attachments": {"max_files": 2, "max_size": "8 MB", "max_total": "16 MB"},
        "write": {"format": "json", "body": {"number": {"take": "packet.number"}}},
        "send": {
            "channel": "http", "lodge": "/cases", "follow": "/cases/{reference}", "answer": "/cases/{reference}/notes",
            "answer_body": {"text": {"take": "message.text"}}, "files": _read(FILES["before"]),
        },
        "replies": {
            "reference": "$.id", "status": "$.state", "statuses": {"WAIT": "asked", "DONE": "settled"},
            "messages": {"list": "$.notes", "text": "$.text"},
            "refusals": {"list": "$.errors", "code": "$.code", "text": "$.text", "remedies": {}},
        },
        "acts": {},
    }  # fmt: skip


def within(category: str, fragment: str) -> dict[str, Any]:
    """A whole sheet with an example in its place."""
    tree, part = base(), _read(fragment)
    _PUT[category](tree, part)
    return tree


def _question(tree: dict[str, Any], part: Any) -> None:
    tree["questions"] = [*(one for one in tree["questions"] if one["id"] != part["id"]), part]


def _files(tree: dict[str, Any], part: Any) -> None:
    tree["send"]["files"] = part
    if part["sent"] == "with":
        tree["write"]["format"] = "form"


def _condition(tree: dict[str, Any], part: Any) -> None:
    _question(tree, {"id": "last", "ask": "Else?", "form": "text", "to": "last", "shown": part})


def _at(*path: str) -> Callable[[dict[str, Any], Any], None]:
    """Puts a part where a path leads: into a group that is there, or in its place."""

    def put(tree: dict[str, Any], part: Any) -> None:
        for name in path[:-1]:
            tree = tree[name]
        there = tree.get(path[-1])
        tree[path[-1]] = {**there, **part} if isinstance(there, dict) else part

    return put


_PUT: dict[str, Callable[[dict[str, Any], Any], None]] = {
    "forms": _question, "types": _question, "duties": _question, "conditions": _condition, "files": _files,
    "operators": _at("write", "body"), "facts": _at("write", "body"), "statuses": _at("replies", "statuses"),
    "acts": _at("replies", "refusals", "remedies"), "days": _at("hours"), "message": _at("send", "answer_body"),
    "file": _at("send", "files", "entry"), "tells": _at("acts"), "told": _at("acts"),
    "needs": lambda tree, part: tree.update(kinds=[part]), "routes": lambda tree, part: tree.update(kinds=[part]),
    "requirements": lambda tree, part: tree.update(requirements=[part]),
}  # fmt: skip


EXAMPLES: dict[str, dict[str, str]] = {
    "forms": FORMS, "types": TYPES, "operators": OPERATORS, "conditions": CONDITIONS, "statuses": STATUSES,
    "acts": ACTS, "duties": DUTIES, "needs": NEEDS, "routes": ROUTES, "requirements": REQUIREMENTS, "days": DAYS,
    "facts": TAKEN, "message": ANSWERED, "file": SENT, "files": FILES,
    "tells": TELLS, "told": TOLDS,
}  # fmt: skip
