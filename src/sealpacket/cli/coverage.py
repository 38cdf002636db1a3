"""Cover on the terminal: of one asset, of some, of everything on a day, and over time."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from datetime import date, datetime
from typing import TYPE_CHECKING, Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import vendors
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.models import Covered, Ruling, Timeline

Day = Annotated[datetime | None, typer.Option(formats=["%Y-%m-%d"], help="Default: today.")]
_WIDTH = 60


def show_ruling(ruling: Ruling) -> None:
    """Route, reasons, who was passed over and why, and what would cure it."""
    head = (
        ruling.route
        if ruling.holds or ruling.route == "none"
        else f"{ruling.route}, but not as things stand"
    )
    what = f"contract {ruling.contract}, {ruling.level}, {ruling.hours}" if ruling.contract else ""
    show.heading(f"Ruling: {head}", what)
    for reason in ruling.reasons:
        show.line(f"  {reason}")
    for warning in ruling.warnings or ():
        show.line(f"  {warning}", "yellow")
    for cure in ruling.cures:
        show.line(f"  → {cure.sentence}", "yellow")
    if ruling.passed_over:
        show.line("Passed over", "dim")
        for item in ruling.passed_over:
            name = f"{item.contract} {item.entitlement}".strip()
            show.line(f"  {name}: {item.sentence}", "dim")


def coverage(
    assets: Annotated[
        list[str] | None, typer.Argument(help="Serials or ids; none with --everything.")
    ] = None,
    need: show.Need = "fault",
    day: Day = None,
    login: Annotated[
        str | None, typer.Option(help="Vendor login that would ask (one asset).")
    ] = None,
    everything: Annotated[
        bool, typer.Option("--everything", help="All assets that are not retired.")
    ] = False,
    vendor: Annotated[
        str, typer.Option(help="With --everything: of this vendor.", autocompletion=vendors)
    ] = "",
    site: Annotated[str, typer.Option(help="With --everything: at this site.")] = "",
    status: Annotated[str, typer.Option(help="With --everything: in this status.")] = "",
    route: Annotated[
        str, typer.Option(help="With --everything: support, warranty, units, paid or none.")
    ] = "",
    since: Day = None,
    until: Day = None,
    out: show.ListOut = None,
    json: show.Json = False,
) -> None:
    """Show what covers an asset and why, some assets, everything, or one asset over time.

    Examples: `sealpacket coverage TN9-44120-A --day 2026-03-03` · `sealpacket coverage --everything --route none`
    · `sealpacket coverage TN9-44120-A --since 2024-01-01 --until 2027-12-31`

    Ends with 3 if nothing covers the one asset that was asked about.
    """
    on, named = day.date() if day else None, assets or []
    if bool(named) == everything:
        raise ClientError(
            "Name some assets, or ask for everything.",
            "sealpacket coverage SERIAL, or --everything",
        )
    with session.client() as client:
        if everything and out is not None:
            client.export_coverage(
                out, show.form_of(out), need=need, day=on, vendor=vendor, site=site, status=status,
                route=route,
            )  # fmt: skip
            show.line(f"Written to {out}.")
        elif everything:
            rows = client.cover_everything(
                need, day=on, vendor=vendor, site=site, status=status, route=route
            )
            _show_many(rows, json)
        elif since or until:
            _show_over_time(client, named, need, since, until, json)
        elif len(named) == 1:
            ruling = client.coverage(named[0], need, day=on, login=login)
            if not json:
                asset = client.assets.get(named[0])
                show.line(
                    f"{asset.name or asset.product_name} {asset.serial}, {asset.site_name or 'no site'}, "
                    f"{asset.vendor_name}"
                )
            _show_one(ruling, json)
        else:
            found = client.coverage_list(named, need, day=on)
            _show_many(found.items, json)
            for handle in found.unknown:
                show.errors().print(f"The register has no asset {handle}.", style="yellow")
            if found.unknown:
                raise typer.Exit(1)


def _show_one(ruling: Ruling, json: bool) -> None:
    if json:
        show.as_json(ruling)
    else:
        show_ruling(ruling)
    if not ruling.holds:
        raise typer.Exit(3)


def _show_many(rows: Iterable[Covered], json: bool) -> None:
    if json:
        for row in rows:
            typer.echo(row.model_dump_json())
        return
    routes: Counter[str] = Counter()

    def cells() -> Iterator[tuple[object, ...]]:
        for row in rows:
            routes[row.route] += 1
            yield (
                row.serial,
                row.product_name,
                row.site or "",
                row.route,
                row.contract or "",
                row.ends_on,
            )

    show.table(
        ("Serial", "Model", "Site", "Route", "Contract", "Until"), cells(), nothing="No asset."
    )
    counts = ", ".join(
        f"{count} by {name}" if name != "none" else f"{count} not covered"
        for name, count in routes.most_common()
    )
    if counts:
        show.line(f"{sum(routes.values())} assets: {counts}.", "dim")


def _show_over_time(
    client: SealPacket,
    named: list[str],
    need: str,
    since: datetime | None,
    until: datetime | None,
    json: bool,
) -> None:
    if len(named) != 1:
        raise ClientError("A timeline is of one asset.", "Name one serial.")
    first = since.date() if since else date.today().replace(month=1, day=1)  # noqa: DTZ011 - the user's own day
    last = until.date() if until else first.replace(year=first.year + 2)
    found = client.timeline(named[0], need, since=first, until=last)
    if json:
        show.as_json(found)
        return
    show.heading(f"{named[0]}, {need}", f"{first} to {last}")
    show.table(
        ("From", "Until", ">Days", "Route", "Contract", "Level", ""),
        (
            (
                span.starts_on,
                span.ends_on,
                (span.ends_on - span.starts_on).days + 1,
                span.route
                if span.holds
                else f"{span.route}, not as things stand"
                if span.route != "none"
                else "gap",
                span.contract,
                span.level,
                f"also {', '.join(span.also)}" if span.also else "",
            )
            for span in found.spans
        ),
        nothing="",
    )
    _draw(found, first, last)


def _draw(found: Timeline, first: date, last: date) -> None:
    """A bar for each entitlement, with the gaps below, over the width of the terminal's line."""
    days = (last - first).days + 1

    def bar(start: date, end: date, mark: str) -> str:
        left = max(0, (start - first).days) * _WIDTH // days
        right = max(left + 1, ((min(end, last) - first).days + 1) * _WIDTH // days)
        return " " * left + mark * (right - left) + " " * (_WIDTH - right)

    show.line("")
    for item in found.bars:
        show.line(
            f"{bar(item.starts_on, item.ends_on, '▬')}  {item.contract} {item.entitlement}, {item.level}"
        )
    gaps = [span for span in found.spans if span.route in ("none", "paid")]
    marks = list(" " * _WIDTH)
    for span in gaps:
        for place, mark in enumerate(bar(span.starts_on, span.ends_on, "×")):
            marks[place] = mark if mark != " " else marks[place]
    if gaps:
        show.line(f"{''.join(marks)}  not covered", "bold red")
