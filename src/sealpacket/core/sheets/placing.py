"""Where answers are written: what questions say with `to`, merged into the template of a body."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.bodies import Take

_WHOLE = {"person": "name", "people": "mails"}
"""By form, the part that is written where the whole is meant: nobody outside knows our keys of people."""


def body_of(
    template: Mapping[str, Any],
    questions: Iterable[Question],
    *,
    flat: bool,
    by_hand: bool = False,
) -> dict[str, Any]:
    """The template with every answer that a question writes. `flat`: fields are whole names, not paths.

    `by_hand`: a person reads and copies it, so choices are written by their labels.
    """
    body = dict(template)
    for question in questions:
        for field, node in written_by(question):
            shown = _readable(question, node) if by_hand else node
            _put(body, [field] if flat else field.split("."), shown)
    return body


def _readable(question: Question, node: Take) -> Take:
    """The value that a question writes, as people read it on the desk's page."""
    plain = node.type is None and node.map is None and node.take == f"answers.{question.id}"
    if plain and question.form in ("choice", "tree"):
        return Take(take=f"{node.take}.label")
    if plain and question.form == "several":
        labels = {path: " › ".join(question.labels(path)) for path in question.ways}
        return Take(take=node.take, items=Take(take="item", map=dict(labels)), join=", ")
    return node


def written_by(question: Question) -> Iterator[tuple[str, Take]]:
    """Each field that a question writes, with what it writes there."""
    for named, field in question.targets.items():
        part = named or _WHOLE.get(question.form, "label" if question.type == "label" else "")
        path = f"answers.{question.id}{'.' if part else ''}{part}"
        translation = question.translation if part in ("", "label") else {}
        kind = None if question.type == "label" else question.type
        yield (
            field,
            Take(take=path, type=kind, layout=question.layout, map=dict(translation) or None),
        )


def collisions(template: Mapping[str, Any], question: Question, *, flat: bool) -> Iterator[str]:
    """The fields that a question writes, and that the template or its own parts write already."""
    for field in question.targets.values():
        path = [field] if flat else field.split(".")
        node: Any = template
        for name in path:
            if not isinstance(node, Mapping):
                yield field
                break
            if name not in node:
                break
            node = node[name]
        else:
            yield field


def _put(body: dict[str, Any], path: list[str], node: Take) -> None:
    for name in path[:-1]:
        inner = body.get(name)
        body[name] = dict(inner) if isinstance(inner, Mapping) else {}
        body = body[name]
    body.setdefault(path[-1], node)
