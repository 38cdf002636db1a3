"""Facts that a desk may ask for, from the register, and the people who can be named."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, object_session

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets import (
    FACTS,
    Fact,
)
from sealpacket.services.coverage import login_value
from sealpacket.services.packets.expectations import zone_of
from sealpacket.store.models import Asset, Packet, Person, Site
from sealpacket.store.register_cache import of_register


def people_of(session: Session) -> dict[str, dict[str, Any]]:
    """Those who can be named in a packet, by key. Shared; do not change it."""
    today = datetime.now(UTC).date()
    return of_register(session, ("people", today), lambda: _people(session, today))


def _people(session: Session, today: date) -> dict[str, dict[str, Any]]:
    fields = (
        "key",
        "name",
        "mail",
        "phone",
        "language",
        "time_zone",
        "hours",
        "on_call",
        "reach_by",
        "access_needs",
        "second_phone",
        "instructions",
    )
    return {
        p.key: {**{field: getattr(p, field) for field in fields}, "away": _away(p, today)}
        for p in session.scalars(select(Person))
    }


def _away(person: Person, today: date) -> str:
    """Until when someone is away who is so today."""
    if person.away_until_on is None or person.away_until_on < today:
        return ""
    if person.away_from_on and person.away_from_on > today:
        return ""
    return person.away_until_on.isoformat()


def facts_of(
    packet: Packet,
    ruling: Ruling | None,
    people: dict[str, dict[str, Any]],
    around: Iterable[tuple[str, str, str]] = (),
) -> dict[str, Fact]:
    """All that a sheet may take of what we know, each with the words for its source.

    `around` is what is known around the thing: path, value and source.
    """
    facts: dict[str, Fact] = {}

    def know(path: str, value: Any, source: str) -> None:
        if path not in FACTS:
            raise KeyError(path)
        if value not in (None, "", []):
            facts[path] = Fact(value=value, source=source)

    know("packet.number", packet.number, "the packet")
    know("packet.title", packet.title, "the packet's title")
    know("packet.note", packet.note, "your note")
    know("packet.need", packet.need, "the packet's kind of need")
    know("packet.noted_at", packet.created_at.isoformat(timespec="minutes"), "when it was noted")
    if packet.began_at is not None:
        began = packet.began_at.astimezone(zone_of(packet)).isoformat(timespec="minutes")
        know("packet.began_at", began, "when it began")
    know(
        "packet.sealed_on",
        (packet.sealed_at or datetime.now(UTC)).date().isoformat(),
        "the day of the seal",
    )
    know("packet.ticket", packet.ticket.number if packet.ticket else "", "the ticket")
    for path, lines, source in around:
        know(path, lines, source)
    _context_facts(packet.context or {}, know)
    know("house.name", _organisation(packet), "the settings")
    if packet.asset:
        _asset_facts(packet.asset, know)
    if packet.login:
        know("login.name", packet.login.name, "the vendor login")
        know(
            "login.mailbox_read",
            "yes" if packet.login.mailbox_read else "no",
            f"login {packet.login.name}",
        )
        tied = login_value(packet.login).tied
        know("login.contracts", ", ".join(tied), f"login {packet.login.name}")
        if packet.login.person:
            know("login.person", packet.login.person.key, f"the person behind {packet.login.name}")
    _cover_facts(packet, ruling, know)
    return facts


def _cover_facts(packet: Packet, ruling: Ruling | None, know: Any) -> None:
    """Facts of the ruling; of a packet that is about a contract, that one."""
    know("ruling.route", ruling.route if ruling else "", "the ruling")
    if ruling and ruling.contract:
        know("contract.number", ruling.contract, "the ruling")
        know("entitlement.reference", ruling.entitlement, "the ruling")
        know("entitlement.level", ruling.level, "the ruling")
    if packet.for_contract:
        know("contract.number", packet.for_contract.number, "the contract that it is about")


def _context_facts(context: dict[str, Any], know: Any) -> None:
    """Facts from a program's context."""
    source = f"what {context.get('program') or 'a program'} told"
    for name in ("program", "system", "user", "screen", "stack"):
        know(f"context.{name}", context.get(name), source)
    for name, value in context.get("message", {}).items():
        know(f"context.message_{name}", value, source)
    know("context.rights", "\n".join(context.get("rights", ())), source)


def _organisation(packet: Packet) -> str:
    session = object_session(packet)
    return str(session.info.get("organisation", "")) if session else ""


NO_NAME = "not in the register"
"""The name of what is not in the register; never sent to a desk."""


_OF_SITE = (
    "key", "name", "address", "postcode", "town", "state", "country", "time_zone", "hours", "instructions",
)  # fmt: skip


def _mailing(site: Site) -> str:
    """The whole address of a site, as on an envelope: one whose town is not known goes by its name."""
    town = " ".join(part for part in (site.town or site.name, site.state, site.postcode) if part)
    return "\n".join(part for part in (site.address, town) if part)


def _shipping(site: Site) -> str:
    """The address to which goods go: the second one, or that of the site if it has none."""
    if not site.ship_address:
        return _mailing(site)
    town = " ".join(part for part in (site.ship_town or site.town, site.ship_postcode) if part)
    return "\n".join(part for part in (site.ship_address, town) if part)


def _asset_facts(asset: Asset, know: Any) -> None:
    source = f"asset {asset.serial}"
    know("asset.serial", "" if asset.made_up else asset.serial, source)
    know("asset.name", "" if asset.name == NO_NAME else asset.name, source)
    for field in (
        "status",
        "software_version",
        "notes",
        "shipped_on",
        "installed_on",
        "registered_on",
    ):
        know(f"asset.{field}", getattr(asset, field), source)
    know("asset.host_name", asset.host_names[0] if asset.host_names else "", source)
    if asset.carrier:
        know("carrier.serial", asset.carrier.serial, source)
    if not asset.product.made_up:
        know("asset.product", asset.product.part_number, source)
        know("asset.product_name", asset.product.name, source)
    know("vendor.name", asset.vendor.name, source)
    know("vendor.customer_number", asset.vendor.customer_number, f"vendor {asset.vendor.name}")
    if asset.site:
        source = f"site {asset.site.name}"
        for field in _OF_SITE:
            know(f"site.{field}", getattr(asset.site, field), source)
        know("site.mailing", _mailing(asset.site), source)
        know("site.shipping", _shipping(asset.site), source)
        if asset.site.contact:
            know("site.contact", asset.site.contact.key, source)
