"""The demo world, loaded through the client as a user would."""

from __future__ import annotations

import re
import tempfile
from datetime import UTC, date, datetime, timedelta
from importlib.resources import files
from pathlib import Path
from textwrap import indent
from typing import Any

import yaml

from sealpacket.client import SealPacket
from sealpacket.demo import order_documents

_DAY = re.compile(r"([+-]\d+)([dmy])(?:([+-]\d+)d)?")


def world() -> dict[str, Any]:
    """The world as written, dates still relative."""
    body: dict[str, Any] = yaml.safe_load(
        files("sealpacket.demo").joinpath("world.yaml").read_text("utf-8")
    )
    return body


def sheet_text(desk: str) -> str:
    """The desk sheet that ships for a desk, as YAML."""
    return files("sealpacket.demo").joinpath(f"sheets/{desk}.yaml").read_text("utf-8")


def _shipped(name: str) -> str:
    """A text of the house's know-how."""
    return files("sealpacket.demo").joinpath(f"know-how/{name}").read_text("utf-8")


def kit_text(name: str) -> str:
    """A diagnostic kit that ships, as YAML."""
    return files("sealpacket.demo").joinpath(f"kits/{name}.yaml").read_text("utf-8")


def reached(ports: dict[str, int], host_key: str, authority: str) -> dict[str, dict[str, Any]]:
    """How to reach the simulated devices at these ports, by serial."""
    return {
        SWITCH_SERIAL: {
            "port": ports["switch"],
            "user": "reader",
            "host_key": host_key,
            "secrets": {"console": "read-only"},
        },
        ARRAY_SERIAL: {
            "https_port": ports["array"],
            "authority": authority,
            "secrets": {"token": "read-only"},
        },
        KIOSK_SERIAL: {
            "port": ports["kiosk"],
            "user": "service",
            "host_key": host_key,
            "secrets": {"service": "read-only"},
        },
    }


def day(text: str, today: date) -> str:
    """A date such as -4y+9d or +38d, counted from today; anything else as it is."""
    match = _DAY.fullmatch(text)
    if match is None:
        return text
    number, unit, more = int(match[1]), match[2], int(match[3] or 0)
    days = {"d": 1, "m": 30.44, "y": 365.25}[unit] * number
    return (today + timedelta(days=round(days) + more)).isoformat()


_CERTIFICATE = re.compile(r"( *)-----BEGIN CERTIFICATE-----.*?-----END CERTIFICATE-----\n", re.S)
DESKS = (
    "tarnfell-support", "ovenbird-support", "lumenlathe-care", "pellwick-intake", "hollowmere-requests",
    "saddlewick-claims",
)  # fmt: skip
"""Vendors with a simulated desk."""
BY_HAND = ("thornbeck-service", "chimewell-hotline")
"""Those that a person reaches: a web form, a hotline."""
KITS = ("lumenlathe-kiosk", "ovenbird-switch", "tarnfell-array")
"""The diagnostic kits that ship."""
SWITCH_SERIAL, ARRAY_SERIAL, KIOSK_SERIAL = "OBS4-551203", "TN9-44120-A", "LK40-7731-0926"
"""Assets with a simulated device."""
OTHER_DESKS = ("thornbeck-lifts", "catmere-software", "kestling-lines", "dovelatch-doors", "inkharrow-leasing",
               "chimewell-telephony")  # fmt: skip
"""Those whose sheets show other shapes; nothing answers at their address."""


def with_certificate(sheet: str, certificate: str) -> str:
    """A sheet with the certificate that its vendor has now."""
    return (
        _CERTIFICATE.sub(lambda match: indent(certificate, match[1]), sheet)
        if certificate
        else sheet
    )


def load(house: SealPacket, secrets: dict[str, str], certificates: dict[str, str]) -> int:
    """Fill an empty register; `secrets` are what each vendor's desk asks for, `certificates` what it has published.

    Returns how many records there are.
    """
    body, today = world(), datetime.now(UTC).date()

    def records(name: str) -> list[dict[str, Any]]:
        return [
            {
                k: day(v, today) if isinstance(v, str) and k.endswith("_on") else v
                for k, v in record.items()
            }
            for record in body[name]
        ]

    agreed = ("limits", "levels", "lots", "prices", "licences", "releases")
    groups = (
        "people",
        "vendors",
        "sites",
        "products",
        "contracts",
        "entitlements",
        "logins",
        *agreed,
    )
    assets = records("assets") + _counted(body["kiosks"], "lumenlathe", "kiosk", today)
    assets += _counted(body["switches"], "ovenbird", "switch", today)
    rows = {name: records(name) for name in groups} | {"assets": assets}
    rows["sites"] = [
        {"country": "GB", "time_zone": "Europe/London", **site} for site in rows["sites"]
    ]
    rows["logins"] = [{**login, "secret": secrets.get(login["vendor"])} for login in rows["logins"]]
    for name in (
        "people",
        "vendors",
        "sites",
        "products",
        "assets",
        "contracts",
        "entitlements",
        "logins",
        *agreed,
    ):
        for row in rows[name]:
            getattr(house, name).add(**row)
    for desk in (*DESKS, *BY_HAND):
        house.put_sheet(with_certificate(sheet_text(desk), certificates.get(desk, "")))
    for issue in yaml.safe_load(_shipped("known-issues.yaml")):
        house.known_issues.put(**issue)
    house.articles.put(
        "mirror-link",
        title="Volumes of an array are slow and its mirror link retrains",
        text=_shipped("mirror-link.md"),
        sort="how-to",
        vendor="tarnfell",
        models=["TN9"],
    )
    for kit in KITS:
        house.kits.put(kit_text(kit))
    if "devices" in secrets:
        house.safe.keep("read-only", secrets["devices"], what="whoever only reads at our devices")
    _send_documents(house, today)
    return sum(map(len, rows.values()))


def _send_documents(house: SealPacket, today: date) -> None:
    """Incoming items from vendors that wait for a person."""
    with tempfile.TemporaryDirectory() as folder:
        for document in order_documents.write(Path(folder), today):
            house.order_documents.send(document)
        statement = Path(folder, "lumenlathe-cover.csv")
        statement.write_bytes(order_documents.kiosk_statement(today))
        house.statements.send("lumenlathe", statement)


def _counted(row: dict[str, Any], vendor: str, what: str, today: date) -> list[dict[str, Any]]:
    """One asset for each site named, serials counting up, host names by branch."""
    seen: dict[str, int] = {}
    branches = list(dict.fromkeys(row["sites"]))
    assets = []
    for place, site in enumerate(row["sites"]):
        seen[site] = seen.get(site, 0) + 1
        branch = branches.index(site) + 1
        assets.append(
            {
                "vendor": vendor,
                "product": row["product"],
                "serial": row["serial"].format(number=row["first"] + place),
                "name": f"{what.capitalize()} {seen[site]}",
                "site": site,
                "host_names": [f"br{branch:02d}-{what}{seen[site]}.quillmere.example"],
                "addresses": [
                    f"10.40.{100 + branch}.{10 + seen[site] + (20 if what == 'switch' else 0)}"
                ],
                "installed_on": day("-3y", today),
            }
        )
    return assets
