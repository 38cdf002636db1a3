"""Being notified: 200 open consoles, and the time from an event to the last of them that hears of it."""

from __future__ import annotations

import asyncio
import json
import statistics
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from urllib.parse import urlsplit

from figures import figure, house_of_its_own

from sealpacket.client import SealPacket, make_token
from sealpacket.demo import world
from sealpacket.demo.house import RunningHouse

CONSOLES, ACCOUNTS, EVENTS = 200, 10, 20
WITHIN = 1000
_PASSWORD = "a-bench-has-no-secrets-42"


def figures() -> list[dict[str, object]]:
    """Milliseconds until the first, the middle and the last of 200 consoles hear of an event, of 20 events."""
    with house_of_its_own() as house:
        tokens = _accounts(house)
        found = asyncio.run(_measured(house, tokens))
    slowest = [1000 * max(one) for one in found]
    middle = [1000 * statistics.median(one) for one in found]
    return [
        figure(
            f"of {CONSOLES} consoles the middle one, median of {EVENTS}",
            statistics.median(middle),
            "ms",
            WITHIN,
        ),
        figure(f"the last one, worst of {EVENTS}", max(slowest), "ms", WITHIN),
    ]


def _accounts(house: RunningHouse) -> list[str]:
    """Tokens of several accounts, each notified of everything."""
    client = house.client()
    found = []
    for place in range(ACCOUNTS):
        name = f"bench{place}"
        client.accounts.add(name, _PASSWORD, ["preparer"])
        token = make_token(house.address, name, _PASSWORD, "bench").token
        with SealPacket(house.address, token) as own:
            own.notices.choose({"parcel_due": ("all", ["console"])})
        found.append(token)
    return found


async def _measured(house: RunningHouse, tokens: list[str]) -> list[list[float]]:
    """By event, the seconds after which each console heard of it."""
    heard: asyncio.Queue[tuple[int, float]] = asyncio.Queue()
    consoles = [
        asyncio.create_task(_console(house, tokens[place % ACCOUNTS], place, heard))
        for place in range(CONSOLES)
    ]
    for _ in consoles:
        await heard.get()  # what each begins with
    client, loop = house.client(), asyncio.get_running_loop()
    found = []
    with ThreadPoolExecutor(1) as pool:
        for _ in range(EVENTS):
            await asyncio.sleep(0.5)
            while not heard.empty():  # said twice, as when listening begins
                heard.get_nowait()
            number = await loop.run_in_executor(pool, _draft, client)
            begun = time.perf_counter()
            await loop.run_in_executor(pool, _parcel, client, number)
            done = [await asyncio.wait_for(heard.get(), 30) for _ in consoles]
            found.append([at - begun for _, at in done])
    for one in consoles:
        one.cancel()
    return found


def _draft(client: SealPacket) -> str:
    return client.packets.note("The array is slow", "It is.", asset=world.SWITCH_SERIAL).number


def _parcel(client: SealPacket, number: str) -> None:
    """A parcel that is due today: everybody who chose so is notified at once."""
    today = datetime.now(UTC).date()
    client.packets.note_shipment(number, "to_vendor", "A switch", due_on=today)


async def _console(
    house: RunningHouse, token: str, place: int, heard: asyncio.Queue[tuple[int, float]]
) -> None:
    """Listen as a browser does."""
    where = urlsplit(house.address)
    reader, writer = await asyncio.open_connection(where.hostname, where.port)
    head = f"GET /api/v1/notices/stream HTTP/1.1\r\nHost: {where.netloc}\r\nAuthorization: Bearer {token}\r\n\r\n"
    writer.write(head.encode())
    while line := await reader.readline():
        if line.startswith(b"data:"):
            json.loads(line.removeprefix(b"data:"))
            await heard.put((place, time.perf_counter()))
