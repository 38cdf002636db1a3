"""The overview on the command line: how packets went, in numbers."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Annotated, Any

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import vendors

if TYPE_CHECKING:
    from sealpacket.client.models import OverviewNumber, OverviewTable

_TITLES = {
    "open": "Open, by vendor and age",
    "flow": "Noted, lodged and settled",
    "promises": "Promised against actual",
    "questions": "How often vendors ask back",
    "refusals": "Why desks refused",
    "answers": "Contested answers",
    "ratings": "Ratings",
    "contracts": "What contracts were used for in their term",
}
_DAY = ["%Y-%m-%d"]


def overview(
    part: Annotated[str, typer.Argument(help=f"Only one part: {', '.join(_TITLES)}.")] = "",
    since: Annotated[
        datetime | None, typer.Option(formats=_DAY, help="First day; default: a year ago.")
    ] = None,
    until: Annotated[
        datetime | None, typer.Option(formats=_DAY, help="Last day; default: today.")
    ] = None,
    vendor: Annotated[str, typer.Option(help="Vendor key.", autocompletion=vendors)] = "",
    site: Annotated[str, typer.Option(help="Site key.")] = "",
    out: show.ListOut = None,
    json: show.Json = False,
) -> None:
    """Show how packets went in a period, and what is open now.

    Example: `sealpacket overview promises --since 2026-01-01 --vendor tarnfell`
    """
    asked: dict[str, Any] = {
        "since": since.date() if since else None,
        "until": until.date() if until else None,
        "vendor": vendor,
        "site": site,
        "part": part,
    }
    with session.client() as client:
        if out is not None:
            client.export_overview(out, show.form_of(out), **asked)
            show.line(f"Written to {out}.")
            return
        found = client.overview(**asked)
    if json:
        show.as_json(found)
    else:
        show.line(f"{found.since} to {found.until}", "dim")
        for one in found.parts:
            _show(one)


def _show(table: OverviewTable) -> None:
    show.heading(_TITLES.get(table.part, table.part))
    names = [one.name for one in table.rows[0].numbers] if table.rows else []
    remarks = any(row.remark for row in table.rows)
    show.table(
        ("", *(f">{name}" for name in names), *([""] if remarks else [])),
        (
            (row.name, *map(_say, row.numbers), *([row.remark] if remarks else []))
            for row in table.rows
        ),
        nothing="Nothing in this period.",
    )


def _say(number: OverviewNumber) -> str:
    if number.value is None:
        return "–"
    said = f"{number.value:g}"
    return {"%": f"{said} %", "hours": f"{said} h"}.get(number.unit, said)
