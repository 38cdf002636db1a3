"""Looking: lists, Today, finding and one thread, with ten packets and with a hundred thousand."""

from __future__ import annotations

import gc
import statistics
import subprocess
import sys
import tempfile
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

import psycopg
from figures import figure, house_of_its_own, seconds

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketPage
from sealpacket.core.tables import Format
from sealpacket.demo import world
from sealpacket.demo.house import RunningHouse

PACKETS, MESSAGES, LONG_THREAD = 100_000, 1_000_000, 500
EACH = 25
P95, TIMES = 40, 1.5
OVERVIEW, EXPORT, EXPORT_MEMORY = 300, 5000, 150
FORMS: tuple[Format, ...] = ("csv", "jsonl", "xlsx")
SORTED_BY = (
    "number", "title", "vendor_name", "site_name", "product", "need", "severity", "owner", "turn_since", "life",
    "due_at", "reference", "created_at", "updated_at",
)  # fmt: skip
MOMENTS = {
    "lodged_at": 1, "answered_at": 2, "answer_due_at": 3, "repaired_at": 20, "repair_due_at": 24, "settled_at": 30,
}  # fmt: skip
"""Columns of the course of a packet, and when they are at the earliest, in hours after it was noted."""
FILTERS: dict[str, dict[str, Any]] = {
    "vendor": {"vendor": "ovenbird"},
    "site": {"site": "book-store", "sort": "title"},
    "open, of an owner": {"open": True, "owner": "teo", "sort": "turn_since"},
    "settled, of a need": {"life": "settled", "need": "fault", "sort": "-updated_at"},
    "a number": {"q": "p-b77777"},
    "a part of a number": {"q": "b7777"},
    "a rare word": {"q": "quince77"},
    "a common word": {"q": "slow"},
    "two words": {"q": "slow quince77"},
    "nothing": {"q": "nothingofthekind"},
}
_LIKE = """
INSERT INTO {table} ({columns})
SELECT {values} FROM {table} t JOIN packet p ON p.id = {key}
    CROSS JOIN generate_series(%(begin)s::int, %(end)s::int) n
WHERE p.number = %(like)s
"""


def figures() -> list[dict[str, Any]]:
    """p95 of each look, in milliseconds, and how much longer it takes with many packets."""
    with house_of_its_own() as house:
        client = house.client()
        template = _begin(client)
        with psycopg.connect(_owner_address(house), autocommit=True) as database:
            _talk_long(database, template)
            few = _measured(client, template)
            _multiply(database, template)
        many = _measured(client, template)
        as_few = _measured(client, template, 10)
        overview = _p95(client.overview)
        exports = {form: _export(client, form) for form in FORMS}
        memory = {form: _memory_of_export(house, form) for form in FORMS}
    rows = [figure(f"overview, {PACKETS:,} packets", overview, "ms", OVERVIEW)]
    for form, rate in exports.items():
        rows.append(
            figure(f"export as {form}, {PACKETS:,} packets", rate, "rows/s", at_least=EXPORT)
        )
        rows.append(figure("  its memory", memory[form], "MB", EXPORT_MEMORY))
    for what, took in many.items():
        rows.append(figure(f"{what}, {PACKETS:,} packets", took, "ms", P95))
        rows.append(
            figure("  ten rows: times what it takes with ten", as_few[what] / few[what], "", TIMES)
        )
    return rows


def _begin(client: SealPacket) -> str:
    """Ten packets; the number of the one that is copied."""
    things = (world.KIOSK_SERIAL, world.SWITCH_SERIAL, "TN9-44120-A")
    notes = [
        client.packets.note("The array is slow", "Searches take long.", asset=things[place % 3])
        for place in range(10)
    ]
    client.packets.withdraw(notes[-1].number, "It was the cable.")
    return notes[-1].number


def _measured(client: SealPacket, template: str, rows: int = 50) -> dict[str, float]:
    """p95 of each look; lists have at most so many rows."""

    def pages(**narrow: Any) -> Callable[[], Any]:
        narrow = {"limit": rows, **narrow}
        return lambda: client._wire.call(PacketPage, "GET", "/packets", params=narrow)

    looks: dict[str, Callable[[], Any]] = {"Today": client.today}
    for column in SORTED_BY:
        looks[f"by {column}"] = pages(sort=column)
        looks[f"by {column}, downwards"] = pages(sort=f"-{column}")
    looks["its last page"] = pages(sort="created_at", cursor=_last(client))
    looks |= {name: pages(**narrow) for name, narrow in FILTERS.items()}
    for query in ("P-B77777", "slow array", "quince77", "TN9-44120-A", "nothingofthekind"):
        looks[f"find {query}"] = partial(client.find, query)
    looks["the newest of a thread"] = lambda: client.packets.thread(template)
    looks["a packet with all its messages"] = lambda: client.packets.get(template)
    looks["counts by vendor"] = lambda: client.packets.count("vendor")
    return {what: _p95(look) for what, look in looks.items()}


def _last(client: SealPacket) -> str:
    """The cursor of the page before the last, read from the other end."""
    newest = client._wire.call(PacketPage, "GET", "/packets", params={"limit": 20})
    return newest.next or ""


def _export(client: SealPacket, form: Format) -> float:
    """Rows in a second of a list of all packets as a file."""
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder, f"packets.{form}")
        took = seconds(lambda: client.packets.export(target, form))
    return PACKETS / took


_EXPORT_ALL = """
import sys
sys.path.insert(0, sys.argv[1])
from figures import peak_memory
from sealpacket.app.context import Actor, AppContext
from sealpacket.services.packets import listing
from sealpacket.settings import Settings
house = AppContext(Settings(), lambda *a, **b: None)
_, blocks = listing.exported(house, Actor("bench", frozenset()), which=listing.Which(), form=sys.argv[2])
for block in blocks:
    pass
print(peak_memory())
"""


def _memory_of_export(house: RunningHouse, form: str) -> float:
    """The most memory (MB) that a process of its own needs to write a list of all packets."""
    command = [sys.executable, "-c", _EXPORT_ALL, str(Path(__file__).parent), form]
    done = subprocess.run(
        command, capture_output=True, text=True, check=False, env=house.environment()
    )
    if done.returncode:
        raise RuntimeError(done.stderr[-2000:])
    return float(done.stdout)


def _p95(look: Callable[[], Any]) -> float:
    look()
    gc.collect()
    gc.disable()  # the garbage of this process is not the service's
    try:
        return 1000 * statistics.quantiles([seconds(look) for _ in range(EACH)], n=20)[-1]
    finally:
        gc.enable()


def _multiply(database: psycopg.Connection[Any], like: str) -> None:
    """Copy a packet that is over, with its parts and its line, and give the copies messages."""
    own = {
        "id": "'bench-' || n",
        "packet_id": "'bench-' || n",
        "number": "'P-B' || n",
        "numbers": "ARRAY['p-b' || n]",
        "title": "'The array is slow ' || n",
        "said": "'p-b' || n || ' the array is slow ' || n",
        "words": "to_tsvector('english', 'The array is slow. quince' || n)",
        "created_at": "t.created_at - n * interval '1 minute'",
        "updated_at": "t.updated_at - n * interval '1 minute'",
        "owner": "(ARRAY['marit','teo','ines',''])[1 + n %% 4]",
        "our_reference": "'alert-' || n",
        "renew_at": "NULL",
        "asked": "n %% 3",
        "contested": "(n %% 11 = 0)::int",
        "rating": "CASE WHEN n %% 4 = 0 THEN 1 + n %% 5 END",
        **{
            name: f"t.created_at - n * interval '1 minute' + interval '{hours} hours' * (1 + n %% 7)"
            for name, hours in MOMENTS.items()
        },
    }
    for table, key in (
        ("packet", "t.id"), ("packet_delivery", "t.packet_id"), ("packet_following", "t.packet_id"),
        ("packet_legend", "t.packet_id"), ("packet_line", "t.packet_id"),
    ):  # fmt: skip
        known = database.execute(
            "SELECT column_name FROM information_schema.columns "
            "WHERE table_schema = 'public' AND table_name = %s AND is_generated = 'NEVER'",
            (table,),
        )
        names = [name for (name,) in known]
        values = [own.get(name, f"t.{name}") if f"t.{name}" != key else own["id"] for name in names]
        statement = _LIKE.format(
            table=table, key=key, columns=", ".join(names), values=", ".join(values)
        )
        database.execute(statement, {"begin": 1, "end": PACKETS, "like": like})
    for packets, each in ((PACKETS, MESSAGES // PACKETS),):
        database.execute(_TALK, {"packets": packets, "each": each})
    # As time would have it: without this, the server plans by what it knew of ten packets.
    database.execute("VACUUM (ANALYZE)")


def _talk_long(database: psycopg.Connection[Any], like: str) -> None:
    """Give a packet a long thread."""
    long = "SELECT p.id, n FROM packet p, generate_series(1, %(each)s::int) n WHERE p.number = %(like)s"
    database.execute(_SAID.format(of=long), {"each": LONG_THREAD, "like": like})


_SAID = """
INSERT INTO message (id, packet_id, direction, text, asks, "by", at, how, act, act_values, begun, failure, sender,
    stranger, sent_at)
SELECT gen_random_uuid()::text, one.id, CASE n %% 2 WHEN 0 THEN 'in' ELSE 'out' END,
    'The array answers slowly since the morning, says controller ' || n || ' of quince' || right(one.id, 4), false, 'marit',
    now() - n * interval '1 minute', 'desk', 'comment', '{{}}', false, '', '', false, now()
FROM ({of}) AS one(id, n)
"""
_TALK = _SAID.format(
    of="SELECT 'bench-' || p, n FROM generate_series(1, %(packets)s::int) p, generate_series(1, %(each)s::int) n"
)


def _owner_address(house: RunningHouse) -> str:
    """The address of its database, for its owner, who alone may gather statistics."""
    return house.environment(owner=True)["SEALPACKET_OWNER_URL"].replace("+psycopg", "")
