"""The cases of a packet: one, or one for each row where the desk wants that. They are made of outgoing values only."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel, ConfigDict

from sealpacket.core.sheets.bodies import Joined
from sealpacket.core.sheets.conditions import holds
from sealpacket.core.sheets.conversion import plain
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.rendering import fill, render
from sealpacket.core.sheets.sending import AsFields, AsMail, AsPdf, ByHand
from sealpacket.core.sheets.values import OutgoingValues


class Case(BaseModel):
    """One case as it leaves and is sealed: what it is called among its packet's, its body, and what is around it.

    `openings` are what is said first on the other ways to a desk by hand.
    """

    model_config = ConfigDict(frozen=True)

    label: str = ""
    body: dict[str, Any]
    subject: str = ""
    opening: str = ""
    openings: tuple[str, ...] = ()
    name: str = ""
    list_name: str = ""
    rows: list[dict[str, Any]] = []


def cases_of(sheet: Sheet, values: OutgoingValues) -> tuple[Case, ...]:
    """Every case that is written of a packet, in the order of its rows. Raises TypeError for values of another kind."""
    if not isinstance(values, OutgoingValues):
        raise TypeError("a case is written of outgoing values only")
    if sheet.split is None:
        return (_case(sheet, values, ""),)
    rows = values.get(f"answers.{sheet.split.question}") or [{}]
    cases = []
    for place, row in enumerate(rows, 1):
        here = _in_row(values, place, row)
        label = fill(sheet.split.label, here)
        named = any(
            sign.isalnum() for sign in label
        )  # of a row that says nothing only brackets are left
        cases.append(_case(sheet, here, label if named else str(place)))
    return tuple(cases)


def _in_row(values: OutgoingValues, place: int, row: Any) -> OutgoingValues:
    """The values with those of one row, which may be a table's or one of several choices."""
    parts = row if isinstance(row, Mapping) else {"value": row}
    return values.with_parts(
        {"row.number": place, **{f"row.{name}": part for name, part in parts.items()}}
    )


def _case(sheet: Sheet, values: OutgoingValues, label: str) -> Case:
    write = sheet.write
    body = render(sheet.body_for(str(values.get("packet.need", ""))), values)
    match write:
        case AsMail():
            subject = " ".join(_subject(write.subject, values).split())
            return Case(
                label=label, body=body, subject=subject, opening=fill(write.opening, values)
            )
        case AsPdf():
            rows = []
            listing = write.table is not None and holds(write.table.when, values.answers, values)
            if write.table is not None and listing:
                for place, item in enumerate(values.get(f"answers.{write.table.rows}") or [], 1):
                    here = _in_row(values, place, item)
                    rows.append(
                        {
                            head: render({"": what}, here).get("", "")
                            for head, what in write.table.columns.items()
                        }
                    )
            listed = fill(write.table.name, values) if write.table and listing else ""
            return Case(
                label=label, body=body, name=fill(write.name, values), list_name=listed, rows=rows
            )
        case AsFields():
            ways = (sheet.send, *sheet.send.also) if isinstance(sheet.send, ByHand) else ()
            opening, *others = [fill(way.opening, values) for way in ways] or [""]
            return Case(
                label=label, body=_in_order(write.order, body), opening=opening, openings=(*others,)
            )
        case _:
            return Case(label=label, body=body)


def _subject(subject: str | Joined, values: OutgoingValues) -> str:
    if isinstance(subject, str):
        return fill(subject, values)
    return plain(render({"": subject}, values).get("", ""))


def _in_order(order: tuple[str, ...], body: dict[str, Any]) -> dict[str, Any]:
    """Fields as the desk has them, those that it does not name at the end."""
    return {name: body[name] for name in (*order, *body) if name in body}
