"""Capacity, levels, prepaid units, licence keys and versions on the command line."""

from __future__ import annotations

import sys
from datetime import datetime
from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import vendors
from sealpacket.cli.renewals import ask_renewal, compare_renewal, decide_renewal
from sealpacket.cli.vendor_health import vendor_health
from sealpacket.client import ClientError
from sealpacket.core.money import say_money
from sealpacket.core.tables import open_table
from sealpacket.core.words import count

Handle = Annotated[str, typer.Argument(help="Its id, or how it is called.")]
Vendor = Annotated[str, typer.Option(help="The vendor (its key).", autocompletion=vendors)]
OfVendor = Annotated[
    str, typer.Option(help="Only of this vendor (its key).", autocompletion=vendors)
]
Day = Annotated[
    datetime | None, typer.Option(formats=["%Y-%m-%d"], help="The day; default: today.")
]


def add_to(groups: dict[str, typer.Typer]) -> None:
    """Add these commands to the groups of their kinds of record."""
    groups["limit"].command("plan")(plan_capacity)
    groups["limit"].command("ask")(ask_capacity)
    groups["limit"].command("requests")(limit_requests)
    groups["contract"].command("levels")(compare_levels)
    groups["contract"].command("renewal")(compare_renewal)
    groups["contract"].command("decide-renewal")(decide_renewal)
    groups["contract"].command("ask-renewal")(ask_renewal)
    groups["lot"].command("balance")(unit_balance)
    groups["lot"].command("cost")(unit_cost)
    groups["lot"].command("entries")(lot_entries)
    groups["lot"].command("use")(use_units)
    groups["lot"].command("statement")(compare_statement)
    groups["licence"].command("key")(licence_key)
    groups["licence"].command("expiring")(expiring)
    groups["release"].command("behind")(assets_behind)
    groups["vendor"].command("health")(vendor_health)


def plan_capacity(
    file: Annotated[
        str, typer.Argument(help="A spreadsheet, a text file with a message, or - for the input.")
    ],
    vendor: Vendor,
    headroom: Annotated[int, typer.Option(min=0, max=500, help="Percent to ask for on top.")] = 0,
    region: Annotated[
        list[str] | None, typer.Option(help="Only this region, for what may be in any.")
    ] = None,
    json: show.Json = False,
) -> None:
    """Compare a plan, or the message of a failed start, with the limits of a vendor.

    A plan is a table with the columns count, size, resource, region and when. Without region it is compared with each;
    `when` names the failure in which a row would start.

    Example: `sealpacket limit plan failover.csv --vendor hollowmere --headroom 20`
    """
    with session.client() as client:
        plan = client.limits.plan_capacity(
            vendor, _text(file), headroom=headroom, regions=region or ()
        )
    if json:
        show.as_json(plan)
        return
    show.table(
        ("Resource", "Region", ">Need", ">Used", ">Granted", ">Missing", ">Ask for", "If"),
        (
            (
                x.resource, x.region, x.need, x.used, "unknown" if x.granted is None else x.granted, x.missing or "",
                x.ask or "", x.when,
            )
            for x in plan.lines
        ),
        nothing="The plan needs nothing.",
    )  # fmt: skip
    for one in plan.said:
        show.line(one, "yellow")
    if plan.fits:
        show.line("Everything fits.", "green")
    else:
        show.line(f"For the desk: {plan.purpose}")


def _text(file: str) -> str:
    """The text of a file: a spreadsheet as a table with tabs."""
    if file == "-":
        return sys.stdin.read()
    path = Path(file)
    if path.suffix.lower() in (".xlsx", ".ods"):
        table = open_table(path)
        rows = [table.headings, *(cells for _, cells in table.rows)]
        return "\n".join("\t".join("" if c is None else str(c) for c in row) for row in rows)
    try:
        return path.read_text("utf-8", errors="replace")
    except OSError as error:
        raise ClientError(f"{file} cannot be read: {error.strerror}.", "Check its name.") from error


def ask_capacity(
    asset: Annotated[str, typer.Argument(help="The account for which it is: serial or id.")],
    rows: Annotated[
        list[str],
        typer.Argument(metavar="ROW...", help="REGION|RESOURCE|LIMIT, one for each limit."),
    ],
    purpose: Annotated[str, typer.Option(help="The purpose, as the desk will read it.")],
    title: Annotated[str, typer.Option(help="The title; default: made up.")] = "",
    by: Annotated[
        datetime | None, typer.Option(formats=["%Y-%m-%d"], help="The day by which it is needed.")
    ] = None,
    json: show.Json = False,
) -> None:
    """Note a packet that asks for limits: a request for each row.

    Example: `sealpacket limit ask HM-204471 "north-1|general cores|160" --purpose "The failover test"`
    """
    wanted = []
    for row in rows:
        cells = [cell.strip() for cell in row.split("|")]
        if len(cells) != 3 or not cells[2].isdigit():
            raise ClientError(f"“{row}” is no row.", "Write it as REGION|RESOURCE|LIMIT.")
        wanted.append({"region": cells[0], "resource": cells[1], "wanted": int(cells[2])})
    with session.client() as client:
        packet = client.limits.ask_capacity(
            asset, wanted, purpose=purpose, title=title, by=by.date() if by else None
        )
    if json:
        show.as_json(packet)
        return
    show.line(
        f"{packet.number} {packet.title}: {count(len(wanted), 'limit')}, {count(packet.stops or 0, 'stop')}."
    )
    show.line(f"Next: sealpacket packet show {packet.number}")


def limit_requests(handle: Handle, json: show.Json = False) -> None:
    """Show requests for a limit and their outcomes."""
    with session.client() as client:
        found = client.limits.limit_requests(handle)
    if json:
        show.as_json(found)
        return
    show.table(
        ("Packet", ">Was", ">Wanted", ">Granted", "State", "Asked", "Reason"),
        (
            (
                x.packet, "" if x.was is None else x.was, x.wanted, "" if x.granted is None else x.granted, x.state,
                show.day(x.asked_at), x.reason,
            )
            for x in found
        ),
        nothing="Nothing was asked for.",
    )  # fmt: skip


def compare_levels(handle: Handle, from_on: Day = None, json: show.Json = False) -> None:
    """Compare the levels of service that a contract offers.

    Example: `sealpacket contract levels HC-1180 --from-on 2027-01-01`
    """
    with session.client() as client:
        found = client.contracts.compare_levels(handle, from_on=from_on.date() if from_on else None)
    if json:
        show.as_json(found)
        return
    show.heading(f"Contract {found.contract}, from {found.from_on} to {found.ends_on}")
    show.table(
        ("Level", "Hours", ">Answer", ">Repair", ">A month", ">Until the end", ">More"),
        (
            (
                x.name, x.hours, _minutes(x.answer_minutes),
                _minutes(x.repair_minutes), say_money(x.cost_minor, x.currency),
                say_money(x.cost_until_end_minor, x.currency),
                "now" if x.is_now else say_money(x.more_minor, x.currency),
            )
            for x in found.levels
        ),
        nothing="No levels are known. Add them: sealpacket level add",
    )  # fmt: skip
    for x in found.levels:
        if x.gains:
            show.line(f"{x.name} also takes {', '.join(x.gains)}.")
        if x.loses:
            show.line(f"{x.name} does not take {', '.join(x.loses)}.", "yellow")
    depending = ", ".join(x.reference for x in found.entitlements) or "no entitlement"
    show.line(f"On the level depend {depending}; {count(found.open_packets, 'open packet')}.")


def _minutes(minutes: int | None) -> str:
    if not minutes:
        return ""
    if minutes % 1440 == 0:
        return f"{minutes // 1440} d"
    return f"{minutes // 60} h" if minutes % 60 == 0 else f"{minutes} min"


def unit_balance(
    vendor: OfVendor = "",
    contract: Annotated[str, typer.Option(help="Only of this contract.")] = "",
    json: show.Json = False,
) -> None:
    """Show how many prepaid units are left, held and used, and what will lapse."""
    with session.client() as client:
        found = client.lots.unit_balance(vendor=vendor, contract=contract)
    if json:
        show.as_json(found)
        return
    show.table(
        ("Lot", "Contract", ">Bought", ">Used", ">Held", ">Left", "Lapses after", ">Will lapse"),
        (
            (x.reference, x.contract, x.units, x.used, x.held, x.left, x.lapses_on, x.will_lapse or "")
            for x in found.lots
        ),
        nothing="No units are known. Add a lot: sealpacket lot add",
    )  # fmt: skip
    show.line(
        f"{count(found.left, 'unit')} left, {found.held} held; {found.used_in_a_year} used in a year, "
        f"{found.will_lapse} will lapse at that pace."
    )


def unit_cost(
    item: Annotated[str, typer.Argument(help="An item of the vendor's price list.")],
    vendor: Vendor,
    quantity: Annotated[int, typer.Option(min=1, help="How many.")] = 1,
    on: Day = None,
    contract: Annotated[str, typer.Option(help="Only lots of this contract.")] = "",
    country: Annotated[str, typer.Option(help="The country where it is wanted.")] = "",
    json: show.Json = False,
) -> None:
    """Show how many units a service costs, and of which lots they would be taken.

    Example: `sealpacket lot cost on-site --vendor pellwick --quantity 2 --on 2026-12-12`
    """
    with session.client() as client:
        found = client.lots.unit_cost(
            vendor, item, quantity=quantity, on=on.date() if on else None, contract=contract, country=country
        )  # fmt: skip
    if json:
        show.as_json(found)
        return
    show.line(f"{quantity} × {found.name}: {count(found.units, 'unit')}, {found.each} each.")
    for x in found.lots:
        show.line(f"  {x.units} of lot {x.lot}, which lapses after {x.lapses_on}")
    for fault in found.faults:
        show.line(fault, "red")
    if found.short:
        show.line(f"{count(found.short, 'unit is', 'units are')} missing.", "red")
    else:
        show.line(f"{count(found.left, 'unit')} would be left.")


def lot_entries(handle: Handle, json: show.Json = False) -> None:
    """Show the units of a lot that were held, used and freed."""
    with session.client() as client:
        found = client.lots.lot_entries(handle)
    if json:
        show.as_json(found)
        return
    show.table(
        ("When", ">Units", "State", "Packet", "By", "Reason"),
        ((show.moment(x.at), x.units, x.state, x.packet, x.by, x.text) for x in found),
        nothing="Nothing was taken of it.",
    )


def use_units(
    handle: Handle,
    units: Annotated[int, typer.Argument(min=1, help="How many units.")],
    text: Annotated[str, typer.Argument(help="The reason.")],
) -> None:
    """Enter units that were used without a packet.

    Example: `sealpacket lot use PWL-31 2 "Help by telephone, by Pellwick's statement"`
    """
    with session.client() as client:
        lot = client.lots.use_units(handle, units, text)
    show.line(f"Lot {lot.reference}: {lot.used} used, {lot.held} held, {lot.left} left.")


def compare_statement(
    file: Annotated[
        Path, typer.Argument(exists=True, help="A table with the columns lot and used.")
    ],
    vendor: Vendor,
    json: show.Json = False,
) -> None:
    """Compare a vendor's statement of used units with ours.

    Example: `sealpacket lot statement pellwick-units.csv --vendor pellwick`
    """
    table = open_table(file)
    heads = [head.casefold() for head in table.headings]
    if not {"lot", "used"} <= set(heads):
        raise ClientError(f"{file} lacks a column.", "It needs the columns lot and used.")
    at_lot, at_used = heads.index("lot"), heads.index("used")
    used: dict[str, int] = {}
    for number, cells in table.rows:
        value = str(cells[at_used]).strip()
        if not value.isdigit():
            raise ClientError(f"Row {number}: “{value}” is not a whole number.", "Correct it.")
        used[str(cells[at_lot]).strip()] = int(value)
    with session.client() as client:
        found = client.lots.compare_statement(vendor, used)
    if json:
        show.as_json(found)
        return
    show.table(
        ("Lot", ">Used by us", ">By the vendor", ">Held"),
        (
            (x.lot, "unknown" if x.ours is None else x.ours, "not named" if x.theirs is None else x.theirs, x.held)
            for x in found
        ),
        nothing="The statement and we agree.",
    )  # fmt: skip


def licence_key(handle: Handle) -> None:
    """Show the key of a licence; the custody log keeps that you asked."""
    with session.client() as client:
        show.line(client.licences.licence_key(handle))


def expiring(
    vendor: OfVendor = "",
    days: Annotated[int, typer.Option(min=1, help="Within how many days.")] = 90,
    json: show.Json = False,
) -> None:
    """Show licences that end and prepaid units that would lapse."""
    with session.client() as client:
        found = client.expiring(vendor=vendor, days=days)
    if json:
        show.as_json(found)
        return
    show.table(
        ("Ends", ">In", "What", "Name", "Of", "Vendor", ">Units"),
        (
            (x.ends_on, f"{x.days} d", x.what.replace("_", " "), x.name, x.about, x.vendor, x.units or "")
            for x in found
        ),
        nothing="Nothing ends in this time.",
    )  # fmt: skip


def assets_behind(
    vendor: OfVendor = "",
    product: Annotated[str, typer.Option(help="Only this product (its part number).")] = "",
    json: show.Json = False,
) -> None:
    """Show assets that do not run the current version of their product."""
    with session.client() as client:
        found = client.releases.assets_behind(vendor=vendor, product=product)
    if json:
        show.as_json(found)
        return
    show.table(
        ("Asset", "Name", "Product", "Runs", "Current", "State", "An update mends"),
        (
            (x.asset, x.name, x.product, x.runs or "unknown", x.current, x.status, ", ".join(x.mends))
            for x in found
        ),
        nothing="Everything runs its current version.",
    )  # fmt: skip
