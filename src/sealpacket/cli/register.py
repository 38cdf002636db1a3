"""The register on the command line: the same verbs for each kind of record."""

from __future__ import annotations

import json as jsonlib
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer
from pydantic import BaseModel

from sealpacket.cli import agreed, session, show
from sealpacket.cli.packet_options import vendors
from sealpacket.client import ClientError
from sealpacket.core.words import a, count

if TYPE_CHECKING:
    from sealpacket.client import SealPacket
    from sealpacket.client.fields import RenewFields
    from sealpacket.client.register import Records

_COLUMNS: dict[str, tuple[str, tuple[str, ...]]] = {
    "vendor": ("vendors", ("key", "name", "notes")),
    "contract": ("contracts", ("number", "vendor", "title", "starts_on", "ends_on", "notice_on")),
    "entitlement": (
        "entitlements",
        ("reference", "contract", "level", "hours", "needs", "starts_on", "ends_on"),
    ),
    "product": ("products", ("part_number", "vendor", "name", "warranty_months")),
    "asset": ("assets", ("serial", "name", "product_name", "site_name", "status", "host_names")),
    "site": ("sites", ("key", "name", "address", "country", "time_zone", "contact")),
    "person": ("people", ("key", "name", "mail", "phone", "hours", "on_call")),
    "login": ("logins", ("name", "vendor", "person", "contracts", "mailbox_read", "id")),
    "limit": ("limits", ("vendor", "region", "resource", "granted", "used", "unit", "as_of_on")),
    "level": (
        "levels",
        ("name", "contract", "rank", "needs", "hours", "answer_minutes", "cost_minor", "currency"),
    ),
    "lot": (
        "lots",
        ("reference", "contract", "units", "used", "held", "left", "bought_on", "lapses_on"),
    ),
    "price": ("prices", ("item", "vendor", "name", "units", "during", "notice_days", "most")),
    "licence": ("licences", ("name", "asset", "sort", "has_key", "starts_on", "ends_on", "id")),
    "release": ("releases", ("number", "product", "status", "released_on", "mends")),
}


_EXAMPLES = {
    "vendor": 'key=tarnfell "name=Tarnfell Storage"',
    "contract": "vendor=tarnfell number=T-2210 starts_on=2026-01-05 ends_on=2027-01-04",
    "entitlement": "vendor=tarnfell contract=T-2210 reference=TSE-301877 level=Priority "
    "'needs=[\"fault\"]' starts_on=2026-01-05 ends_on=2027-01-04",
    "product": 'vendor=tarnfell part_number=TN9 "name=TN9 array"',
    "asset": "vendor=tarnfell product=TN9 serial=TN9-44120-A site=fennel-lane",
    "site": 'key=fennel-lane "name=Fennel Lane" country=GB time_zone=Europe/London',
    "person": 'key=marit "name=Marit Oswin" mail=marit@quillmere.example',
    "login": "vendor=tarnfell name=marit@quillmere.example person=marit",
    "limit": "vendor=pellwick region=larch-east resource=HV4 granted=192 used=180",
    "level": "vendor=tarnfell contract=T-2210 name=Priority 'needs=[\"fault\"]' hours=24x7",
    "lot": "vendor=tarnfell contract=T-2210 reference=LOT-1 units=40 bought_on=2026-01-05 lapses_on=2027-01-04",
    "price": 'vendor=tarnfell item=TX-VISIT "name=Engineer on site" units=4',
    "licence": "vendor=tarnfell asset=TN9-44120-A name=replication activation_code=AC-11",
    "release": "vendor=tarnfell product=TN9 number=7.2.4 status=current",
}
_MERGED = ("asset", "contract", "product", "site", "person")


def _groups() -> dict[str, typer.Typer]:
    """One group of commands for each kind of record."""
    made = {name: _group(name, plural, columns) for name, (plural, columns) in _COLUMNS.items()}
    made["asset"].command("move")(move_asset)
    made["asset"].command("duplicates")(list_duplicates)
    made["asset"].command("reach")(put_reach)
    made["asset"].command("context")(show_context)
    made["asset"].command("transfer")(transfer_asset)
    made["entitlement"].command("amend")(amend_entitlement)
    made["entitlement"].command("unread-hours")(list_unread_hours)
    made["entitlement"].command("convert-hours")(convert_hours)
    made["contract"].command("renew")(renew_contract)
    made["contract"].command("passcode")(show_passcode)
    agreed.add_to(made)
    return made


def records_of(client: SealPacket, plural: str) -> Records[Any]:
    """The client's part for a kind of record."""
    found: Records[Any] = getattr(client, plural)
    return found


def _list(plural: str, columns: tuple[str, ...]) -> Callable[..., None]:
    def command(
        query: Annotated[
            list[str] | None, typer.Argument(help="Search words; all must match.")
        ] = None,
        vendor: Annotated[
            str, typer.Option(help="Only of this vendor (its key).", autocompletion=vendors)
        ] = "",
        site: Annotated[str, typer.Option(help="Only at this site (its key; assets).")] = "",
        status: Annotated[str, typer.Option(help="Only in this status (assets).")] = "",
        most: Annotated[
            int | None, typer.Option(min=1, help="Maximum number; default: all.")
        ] = None,
        json: show.Json = False,
    ) -> None:
        with session.client() as client:
            found = list(
                records_of(client, plural).list(
                    " ".join(query or []), vendor=vendor, site=site, status=status, most=most
                )
            )
        if json:
            show.as_json(found)
            return
        heads = [column.removesuffix("_name").replace("_", " ").capitalize() for column in columns]
        show.table(
            heads,
            ([as_text(getattr(row, c)) for c in columns] for row in found),
            nothing=f"No {plural}.",
        )

    return command


def _show(plural: str) -> Callable[..., None]:
    def command(
        handle: Annotated[str, typer.Argument(help="Id or name.")],
        json: show.Json = False,
    ) -> None:
        with session.client() as client:
            record = records_of(client, plural).get(handle)
        if json:
            show.as_json(record)
            return
        show.table(("", ""), ((k.replace("_", " "), as_text(v)) for k, v in record), nothing="")

    return command


def _add(name: str, plural: str) -> Callable[..., None]:
    def command(
        fields: Annotated[list[str], typer.Argument(help="FIELD=VALUE, lists as JSON.")],
    ) -> None:
        with session.client() as client:
            record = records_of(client, plural).add_record(as_fields(fields))
        show.line(f"Added {name} {record.id}.")

    return command


def _change(name: str, plural: str) -> Callable[..., None]:
    def command(
        handle: Annotated[str, typer.Argument(help="Id or name.")],
        fields: Annotated[
            list[str], typer.Argument(help="FIELD=VALUE, lists as JSON, FIELD= for none.")
        ],
    ) -> None:
        with session.client() as client:
            record = records_of(client, plural).get(handle)
            records_of(client, plural).change_record(record.id, record.version, as_fields(fields))
        show.line(f"Changed {name} {handle}.")

    return command


def _history(plural: str) -> Callable[..., None]:
    def command(
        handle: Annotated[str, typer.Argument(help="Id or name.")],
        json: show.Json = False,
    ) -> None:
        with session.client() as client:
            found = records_of(client, plural).history(handle)
        if json:
            show.as_json(found)
            return
        for version in found.items:
            show.heading(
                f"Version {version.version}, {version.act}",
                f"{version.by}, {show.moment(version.at)}",
            )
            for item in version.changes:
                show.line(
                    f"  {item.field}: {as_text(item.old) or '–'} → {as_text(item.new) or '–'}"
                )

    return command


def _merge(plural: str) -> Callable[..., None]:
    def command(
        handle: Annotated[str, typer.Argument(help="The record to keep.")],
        other: Annotated[str, typer.Argument(help="The duplicate to merge into it.")],
        yes: Annotated[bool, typer.Option("--yes", help="Skip the confirmation.")] = False,
    ) -> None:
        with session.client() as client:
            record = records_of(client, plural).get(handle)
            would = records_of(client, plural).preview_merge(handle, other)
            moving = ", ".join(
                f"{count} of {table.replace('_', ' ')}" for table, count in would["moving"].items()
            )
            show.line(f"{handle} stays and {other} goes. To move: {moving or 'nothing'}.")
            for field, value in would["takes"].items():
                show.line(f"  {field}: {as_text(value)}")
            if not yes and not typer.confirm("Merge them?"):
                show.line("Nothing was changed.")
                return
            records_of(client, plural).merge(record.id, record.version, other=other)
        show.line(f"Merged. {other} finds {handle} from now on.")

    return command


def _group(name: str, plural: str, columns: tuple[str, ...]) -> typer.Typer:
    app = typer.Typer(no_args_is_help=True, help=f"{plural.capitalize()} in the register.")
    if name in _MERGED:
        _register(app, "merge", _merge(plural), f"Make one {name} of two, keeping both histories.")
    example = f"Example: `sealpacket {name}"
    for verb, command, words in (
        ("list", _list(plural, columns), f"List {plural}.\n\n{example} list --json`"),
        ("show", _show(plural), f"Show one {name}."),
        ("add", _add(name, plural), f"Add {a(name)}.\n\n{example} add {_EXAMPLES[name]}`"),
        ("change", _change(name, plural), f"Change fields of {a(name)}."),
        ("history", _history(plural), f"All versions of {a(name)}, the newest first."),
    ):
        _register(app, verb, command, words)
    return app


From = Annotated[
    datetime, typer.Option("--from", formats=["%Y-%m-%d"], help="First day on which it applies.")
]
Handle = Annotated[str, typer.Argument(help="Id or name.")]


def move_asset(
    handle: Handle,
    from_on: From,
    site: Annotated[str | None, typer.Option(help="The site's key.")] = None,
    status: Annotated[
        str | None, typer.Option(help="ordered, in_use, spare, repair or retired.")
    ] = None,
) -> None:
    """Move an asset to another site or status from a day on; where it was before stays known.

    Example: `sealpacket asset move LK40-7731-0926 --site quay-street --from 2026-12-01`
    """
    with session.client() as client:
        asset = client.assets.get(handle)
        moved = client.assets.move(
            asset.id, asset.version, from_on=from_on.date(), site=site, status=status
        )
    show.line(
        f"{moved.serial}: {moved.status}, at {moved.site or 'no site'}, since {moved.placed_on}."
    )


def show_context(handle: Handle, json: show.Json = False) -> None:
    """Show what is known around an asset: versions, neighbours, changes, open packets, what was tried.

    Example: `sealpacket asset context LK40-7731-0927`
    """
    with session.client() as client:
        found = client.assets.context(handle)
    if json:
        show.as_json(found)
        return
    if found.software_version:
        show.line(f"It runs {found.software_version}.")
    parts: list[tuple[str, list[str]]] = [
        ("Open on it", [f"{one.number}  {one.title}, {one.life}" for one in found.open]),
        (
            "Tried",
            [f"{show.moment(one.at)}  {one.step}: {one.result} ({one.by})" for one in found.tried],
        ),
        (
            "Changed",
            [
                f"{one.at:%Y-%m-%d}  {one.field.replace('_', ' ')}: {one.old or '–'} → {one.new or '–'}"
                for one in found.changes
            ],
        ),
        (
            "Installed on it",
            [f"{one.serial}  {one.product} {one.software_version}" for one in found.carries],
        ),
        (
            "Same site",
            [f"{one.serial}  {one.name or one.product}" for one in found.neighbours],
        ),
    ]
    for title, lines in parts:
        if lines:
            show.heading(title)
            for line in lines:
                show.line(line)


def put_reach(
    handle: Handle,
    target: Annotated[str, typer.Option(help="Its host name or address.")] = "",
    port: Annotated[int, typer.Option(min=1, max=65535, help="SSH and SFTP port.")] = 22,
    https_port: Annotated[int, typer.Option(min=1, max=65535)] = 443,
    user: Annotated[str, typer.Option(help="User name; default: the kit's.")] = "",
    host_key: Annotated[
        Path | None,
        typer.Option(exists=True, dir_okay=False, help="Its public host key, a .pub file."),
    ] = None,
    ca: Annotated[
        Path | None,
        typer.Option(exists=True, dir_okay=False, help="A certificate authority, as PEM."),
    ] = None,
    secret: Annotated[
        list[str] | None, typer.Option(help="KIT'S-NAME=SAFE'S-NAME, if they differ.")
    ] = None,
    forget: Annotated[
        bool, typer.Option("--forget", help="Forget how to reach the device.")
    ] = False,
    json: show.Json = False,
) -> None:
    """Say how the worker reaches a device, for diagnostic kits; without options, show it.

    Example: `sealpacket asset reach OBS4-551203 --target 10.40.6.2 --host-key switch.pub --secret console=kw-switch1`
    """
    with session.client() as client:
        if forget:
            client.reach.remove(handle)
            show.line(f"It is forgotten how {handle} is reached.")
            return
        if target:
            client.reach.put(
                handle,
                target,
                port=port,
                https_port=https_port,
                user=user,
                host_key=host_key.read_text().strip() if host_key else "",
                authority=ca.read_text() if ca else None,
                secrets=as_fields(secret or []),
            )
        found = client.reach.get(handle)
    if json:
        show.as_json(found)
        return
    names = {"host_key_print": "host key", "authority": "own authority"}
    rows = ((names.get(k, k.replace("_", " ")), as_text(v)) for k, v in found if k != "host_key")
    show.table(("", ""), rows, nothing="")


def transfer_asset(
    handle: Handle,
    from_on: From,
    out_of: Annotated[str, typer.Option(help="The entitlement that lists it.")],
    into: Annotated[str, typer.Option(help="The entitlement to move it to.")],
) -> None:
    """Take an asset off one entitlement and list it on another, from a day on."""
    with session.client() as client:
        asset = client.assets.get(handle)
        client.assets.transfer(
            asset.id, asset.version, from_on=from_on.date(), out_of=out_of, into=into
        )
    show.line(
        f"{asset.serial} is listed on {into} from {from_on.date()}, on {out_of} until the day before."
    )


def amend_entitlement(
    handle: Handle,
    from_on: From,
    fields: Annotated[list[str], typer.Argument(help="FIELD=VALUE, lists as JSON.")],
) -> None:
    """Change what an entitlement grants from a day on; before it everything stays as it was.

    Example: `sealpacket entitlement amend TSE-301877 level=Standard rank=10 --from 2027-01-01`
    """
    with session.client() as client:
        row = client.entitlements.get(handle)
        changed = client.entitlements.amend(
            row.id, row.version, from_on=from_on.date(), **as_fields(fields)
        )
    show.line(
        f"{changed.reference}: a new version counts from {changed.starts_on} to {changed.ends_on}."
    )


def renew_contract(
    handle: Handle,
    until: Annotated[
        datetime, typer.Option(formats=["%Y-%m-%d"], help="The last day of the next term.")
    ],
    notice: Annotated[
        datetime | None,
        typer.Option(
            formats=["%Y-%m-%d"],
            help="Last day for notice; default: as long before the end as now.",
        ),
    ] = None,
    cost_minor: Annotated[
        int | None, typer.Option(help="Cost in minor units; default: as before.")
    ] = None,
) -> None:
    """Renew a contract, and what ends with it; its present term stays known.

    Example: `sealpacket contract renew T-2210 --until 2027-12-31 --notice 2027-12-01`
    """
    with session.client() as client:
        row = client.contracts.get(handle)
        terms: RenewFields = {"ends_on": until.date(), "cost_minor": cost_minor}
        if notice:
            terms["notice_on"] = notice.date()
        renewed = client.contracts.renew(row.id, row.version, **terms)
    by = f"; notice is due by {renewed.notice_on}" if renewed.notice_on else ""
    show.line(f"Contract {renewed.number} runs from {renewed.starts_on} to {renewed.ends_on}{by}.")


def list_duplicates(json: show.Json = False) -> None:
    """Assets whose serials only look different: O and 0, I and 1, with and without dashes.

    Example: `sealpacket asset duplicates`
    """
    with session.client() as client:
        found = client.duplicates().items
    if json:
        show.as_json([asset for group in found for asset in group])
        return
    for group in found:
        show.line(" · ".join(f"{asset.serial} ({asset.site or 'no site'})" for asset in group))
    groups = count(len(found), "group")
    show.line(
        f"{groups}. Merge two: sealpacket asset merge STAYS GOES" if found else "None look alike."
    )


def list_unread_hours(json: show.Json = False) -> None:
    """Hours of entitlements that do not say when, such as 9x5: their clocks run in the hours of the desk.

    Example: `sealpacket entitlement unread-hours`
    """
    with session.client() as client:
        found = client.entitlements.unread_hours()
    if json:
        show.as_json(found)
        return
    rows = ([one.text, str(one.entitlements)] for one in found)
    show.table(["Hours", "Entitlements"], rows, nothing="All hours can be read.")
    if found:
        show.line(
            f'Say it once: sealpacket entitlement convert-hours "{found[0].text}" "Mo–Fr 08:30–17:00"'
        )


def convert_hours(
    text: Annotated[str, typer.Argument(help="Hours as the entitlements have them.")],
    hours: Annotated[str, typer.Argument(help="Hours as clocks can read them.")],
) -> None:
    """Convert hours of all entitlements that have them.

    Example: `sealpacket entitlement convert-hours 9x5 "Mo–Fr 08:30–17:00"`
    """
    with session.client() as client:
        done = client.entitlements.convert_hours(text, hours)
    show.line(f"{count(done.entitlements, 'entitlement')}: {text} is now {hours}.")


def show_passcode(handle: Handle) -> None:
    """Show a contract's passcode; the custody log keeps that you asked."""
    with session.client() as client:
        show.line(client.contracts.passcode(handle))


def _register(app: typer.Typer, verb: str, command: Callable[..., None], words: str) -> None:
    app.command(verb, help=words)(command)


def as_fields(given: list[str]) -> dict[str, Any]:
    """Fields given as FIELD=VALUE."""
    fields: dict[str, Any] = {}
    for item in given:
        name, sign, value = item.partition("=")
        if not sign:
            raise ClientError(f"“{item}” is not FIELD=VALUE.", "Write it as name=Book store")
        fields[name] = _value(value)
    return fields


def _value(text: str) -> Any:
    if text == "":
        return None
    if text[0] in "[{" or text in ("true", "false", "null"):
        try:
            return jsonlib.loads(text)
        except ValueError as error:
            raise ClientError(
                f"“{text}” is not valid JSON.", 'Write a list as ["a", "b"].'
            ) from error
    return text


def as_text(value: Any) -> str:
    """A value as a person reads it."""
    if isinstance(value, BaseModel):
        return ", ".join(
            f"{name.replace('_', ' ')} {text}" for name, item in value if (text := as_text(item))
        )
    if isinstance(value, list):
        return ("; " if value and isinstance(value[0], BaseModel) else ", ").join(
            as_text(item) for item in value
        )
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "" if value is None else str(value)


KINDS = _groups()
"""One group of commands for each kind of record."""
