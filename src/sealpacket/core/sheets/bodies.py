"""The closed set of body nodes: texts with facts in braces, values, conditions, groups."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Annotated, Any

from pydantic import BeforeValidator, Discriminator, Field, Tag
from typing_extensions import TypeAliasType

from sealpacket.core.sheets.asking import Condition, Part
from sealpacket.core.sheets.conversion import Layout, ValueType
from sealpacket.core.sheets.reading import constant

Scalar = Annotated[str | int | float | bool | None, BeforeValidator(constant)]


class Take(Part):
    """A fact, an answer or a part of one: `{take: asset.serial}`."""

    take: str = Field(
        description="Its path: a fact, answers.ID, answers.ID.part, row.column or item.part."
    )
    type: ValueType | None = Field(None, description="The type in which it is written.")
    layout: Layout = Field("", description="Of a date or time: how the desk writes it.")
    map: dict[str, Scalar] | None = Field(None, description="From our value to the desk's.")
    split: str | None = Field(None, description="The separator that splits a text into a list.")
    join: str | None = Field(
        None, description="Make a text of a list: what goes between its items."
    )
    items: Node | None = Field(
        None, description="The node written for each item of a list, taken as item or item.part."
    )
    otherwise: Node | None = Field(None, description="The value written if nothing is known.")


class Conditional(Part):
    """Something that is written only under a condition: `{when: …, value: …}`."""

    when: bool | Condition = Field(description="The condition.")
    value: Node = Field(description="The node written if the condition holds.")
    otherwise: Node | None = Field(None, description="The node written if it does not hold.")


class Joined(Part):
    """One text of several parts; a part without a value is left out: `{parts: […], join: ", "}`."""

    parts: tuple[Node, ...] = Field(description="The parts, in order.")
    join: str = Field(description="The separator.")


ESCAPE = "\\"
"""Before a field of the desk's that is called like an operator."""


def kind_of(value: Any) -> str:
    """Which sort of node a value is: take, when, parts, group, list or scalar."""
    match value:
        case Take() | Conditional() | Joined():
            return {"Take": "take", "Conditional": "when", "Joined": "parts"}[type(value).__name__]
        case Mapping():
            if isinstance(value.get("take"), str):
                return "take"
            if "when" in value and "value" in value:
                return "when"
            return "parts" if "parts" in value and "join" in value else "group"
        case list() | tuple():
            return "list"
        case _:
            return "scalar"


Node = TypeAliasType(
    "Node",
    Annotated[
        Annotated[Take, Tag("take")]
        | Annotated[Conditional, Tag("when")]
        | Annotated[Joined, Tag("parts")]
        | Annotated["dict[str, Node]", Tag("group")]
        | Annotated["tuple[Node, ...]", Tag("list")]
        | Annotated[Scalar, Tag("scalar")],
        Discriminator(kind_of),
    ],
)
"""The content of a body field. Texts may hold facts in braces: "Array {asset.serial}"."""
NODE_TAGS = frozenset({"take", "when", "parts", "group", "list", "scalar"})
Group = dict[str, Node]

for _model in (Take, Conditional, Joined):
    _model.model_rebuild()


def walk(
    node: Any, place: tuple[str | int, ...] = ()
) -> Iterator[tuple[tuple[str | int, ...], Any]]:
    """Every node of a body with its place, outer ones first."""
    yield place, node
    match node:
        case Take():
            inner: Any = {"items": node.items, "otherwise": node.otherwise}.items()
        case Conditional():
            inner = {"value": node.value, "otherwise": node.otherwise}.items()
        case Joined():
            inner = (("parts", node.parts),)
        case Mapping():
            inner = node.items()
        case list() | tuple():
            inner = enumerate(node)
        case _:
            return
    for name, one in inner:
        if one is not None:
            yield from walk(one, (*place, name))
