"""A desk's stand-in and its sheet side by side: what a draft would say, what we say against it, what the desk says."""

from __future__ import annotations

import time

from sealpacket.channels import Desk, DeskRefused, Login, Outgoing, Parcel, open_desk
from sealpacket.client import SealPacket
from sealpacket.core.sheets import (
    Sheet,
    cases_of,
    check_packet,
    load_sheet,
    names_of,
    sample_values,
    seal_to,
)
from sealpacket.core.sheets.defects import Draft
from sealpacket.demo.house import STANDINS, RunningHouse
from tests.conftest import Standin

KNOWN = {
    "tarnfell": {
        "asset.serial": "TN9-44120-A",
        "entitlement.reference": "TSE-301877",
        "asset.software_version": "7.4.2",
    },
    "ovenbird": {
        "asset.serial": "OBS4-551203",
        "asset.product": "OB-S48",
        "contract.number": "4388",
        "login.name": "teo.valcourt@quillmere.example",
        "asset.software_version": "12.1.0.8",
    },
    "lumenlathe": {
        "asset.serial": "LK40-7731-0929",
        "asset.product": "LK-40",
        "login.name": "branches@quillmere.example",
    },
    "pellwick": {
        "asset.serial": "PW-LIC-5520",
        "contract.number": "PW-7781",
        "asset.software_version": "9.3.1",
    },
    "hollowmere": {"asset.serial": "HM-204471", "contract.number": "HC-1180"},
    "saddlewick": {
        "asset.serial": "SW3K-70455",
        "asset.product": "SP-3000",
        "login.name": "quillmere-libraries",
        "asset.shipped_on": "2025-11-02",
    },
}
"""What each vendor knows of us."""
UNITS = {"pellwick": {"help": {"contract.number": "PW-7790"}}}
LARGEST_SENT = 30_000_000
NOT_SENT = "not sent"
SPOKEN = {"lumenlathe", "saddlewick"}
"""Desks that answer of their own accord: what they say is looked up in their memory."""


def sheet_of(marit: SealPacket, vendor: str) -> Sheet:
    return load_sheet(marit.desk(STANDINS[vendor].desk).yaml)


def way_to(house: RunningHouse, sheet: Sheet, vendor: str) -> Desk:
    port = house.mail_port if vendor == "lumenlathe" else 0
    login = Login(
        KNOWN[vendor].get("login.name", ""), (house.folder / f"keys/{vendor}.token").read_text(), 10,
        f"smtp+plain://127.0.0.1:{port}" if port else "", "cases@quillmere.example", str(house.folder / "known_hosts"),
    )  # fmt: skip
    return open_desk(
        sheet, STANDINS[vendor].address.format(port=house.standin_ports[vendor]), login
    )


def facts_for(vendor: str, sheet: Sheet, number: str, place: int) -> dict[str, str]:
    """The facts of one sample: every kind of request in turn."""
    kind = sheet.kinds[place % len(sheet.kinds)]
    more = UNITS.get(vendor, {}).get(kind.need, {})
    return {
        **KNOWN[vendor],
        **more,
        "packet.need": kind.need,
        "ruling.route": kind.routes[0],
        "packet.number": number,
    }


def said_of(standin: Standin, numbers: list[str]) -> dict[str, str]:
    """By packet, what a desk that answers of its own accord has against it; it is waited for."""
    end = time.monotonic() + 60
    while True:
        taken, away = seen_by(standin)
        if all(number in taken | set(away) for number in numbers):
            return {number: away[number] for number in numbers if number in away}
        assert time.monotonic() < end, [n for n in numbers if n not in taken | set(away)]
        time.sleep(0.2)


def stopped(sheet: Sheet, draft: Draft) -> list[str]:
    """The stops against a draft."""
    tied = (
        {"login.contracts": draft.facts["contract.number"]}
        if "contract.number" in draft.facts
        else {}
    )
    facts = {**draft.facts, **tied}
    found = check_packet(
        sheet, draft.answers(sheet), draft.ruling(), draft.exhibits, draft.people, facts
    )
    return [check.code for check in found if check.level == "stop"]


def against(desk: Desk, sheet: Sheet, draft: Draft, number: str) -> str:
    """What a desk says at once against a defect that is sent all the same; empty if it takes it."""
    if draft.cover or draft.state or sum(size for _, size in draft.files) > LARGEST_SENT:
        return NOT_SENT
    files = [outgoing(sheet, name, size) for name, size in draft.files]
    names = names_of(
        sheet.attachments.naming.file, [file.name for file in files], {"packet.number": number}
    )
    if not sheet.attachments.encrypt_to:
        files = [
            Outgoing(name, f.size, f.sha256, f.blocks, None, f.remember)
            for name, f in zip(names, files, strict=True)
        ]
    values = sample_values(sheet, draft.answers(sheet), draft.facts, draft.people)
    try:
        for place, case in enumerate(cases_of(sheet, values)):
            desk.lodge(Parcel(f"{number}/{place}", number, case, files))
    except DeskRefused as refusal:
        return str(refusal.body)[:2000] or "refused"
    return ""


def outgoing(sheet: Sheet, name: str, size: int) -> Outgoing:
    content = b"x" * size
    if sheet.attachments.encrypt_to:
        content, name = seal_to(sheet.attachments.encrypt_to, content), f"PF-01-{name}.p7m"
    return Outgoing(
        name, len(content), "0" * 64, lambda start: iter([content[start:]]), None, lambda _: None
    )


def said_soon(house: RunningHouse, vendor: str, waiting: dict[str, int]) -> dict[str, str]:
    """What a desk that answers of its own accord has against these, as soon as it has seen them all.

    What names no packet of ours shows nowhere; that is waited for in vain, for a few seconds.
    """
    end = time.monotonic() + 5
    while waiting:
        taken, told = seen_by(Standin(house, vendor))
        if taken.union(told).issuperset(waiting) or time.monotonic() > end:
            return {number: told[number] for number in waiting if number in told}
        time.sleep(0.2)
    return {}


def seen_by(standin: Standin) -> tuple[set[str], dict[str, str]]:
    """The packets that a desk has taken, and what it has against others."""
    known = standin.look()
    cases = known["cases"].values()
    taken = {one.get("claim") or one["fields"].get("customer reference", "") for one in cases}
    told = {
        one["fields"].get("customer reference", ""): str(one["faults"])
        for one in known.get("turned_away", [])
    }
    return taken, told | {one["claim"]: str(one["faults"]) for one in known.get("refused", [])}
