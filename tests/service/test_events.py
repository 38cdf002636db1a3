"""Events: what happens, in order, for programs that follow along."""

from __future__ import annotations

import random
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from sealpacket.client import SealPacket, make_token
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import ARRAY, add, authorization
from tests.some import SEED

MANY = 30
"""More than the process has threads."""


def now(client: SealPacket) -> int:
    """The number of the newest event."""
    return client._wire.send("GET", "/events").json()["next"]  # type: ignore[no-any-return]


def test_events_come_in_order_and_once(marit: SealPacket, tmp_path: Path) -> None:
    begin = now(marit)
    number = marit.packets.note("Volumes on the array are slow", asset=ARRAY).number
    add(marit, number, tmp_path / "array.log", b"all is well\n")
    marit.packets.withdraw(number, "it was a test")
    found = list(marit.events(begin))
    assert [one.seq for one in found] == list(range(begin + 1, begin + 1 + len(found)))
    mine = [one.action for one in found if one.packet == number]
    assert mine[0] == "packet noted"
    assert mine[-1] == "packet withdrawn"
    assert "exhibit received" in mine
    assert [one.action for one in marit.events(begin, packet=number)] == mine
    assert list(marit.events(found[-1].seq)) == []


def test_a_mirror_misses_nothing(marit: SealPacket, signed_in) -> None:  # type: ignore[no-untyped-def]
    """Random changes by several people at once; the mirror reads a packet again whenever an event names it."""
    chance = random.Random(SEED)
    begin = now(marit)
    numbers = [marit.packets.note(f"Draft {turn}").number for turn in range(5)]
    plan = [(chance.choice(("marit", "teo")), chance.choice(numbers), turn) for turn in range(60)]

    def change(one: tuple[str, str, int]) -> None:
        who, number, turn = one
        client: SealPacket = signed_in(who)
        if turn % 3:
            client.packets.hand_over(number, "pauli" if turn % 2 else "teo", f"Note {turn}")
        else:
            client.packets.note_shipment(number, "to_us", f"Part {turn}")

    with ThreadPoolExecutor(4) as threads:
        list(threads.map(change, plan))
    mirror: dict[str, int] = {}
    for one in marit.events(begin):
        if one.packet:
            mirror[one.packet] = marit.packets.get(one.packet).version
    assert {number: mirror[number] for number in numbers} == {
        number: marit.packets.get(number).version for number in numbers
    }


def test_waiting_holds_no_thread_and_ends_with_the_next_event(
    house: RunningHouse, marit: SealPacket
) -> None:
    headers = authorization(marit)
    number = marit.packets.note("Something happens").number
    begin = now(marit)
    seen: list[list[str]] = []

    def wait() -> None:
        query = {"after": begin, "packet": number, "wait": 25}
        answer = plain_http.get(f"{house.address}/api/v1/events", headers=headers, params=query)
        seen.append([one["action"] for one in answer.json()["items"]])

    waiting = [threading.Thread(target=wait) for _ in range(MANY)]
    for one in waiting:
        one.start()
    for _ in range(5):
        assert marit.me().name == "marit"
    assert not seen
    marit.packets.withdraw(number, "it was a test")
    for one in waiting:
        one.join()
    assert seen == [["packet withdrawn"]] * MANY


def test_a_wait_without_an_event_ends_in_time(house: RunningHouse, marit: SealPacket) -> None:
    headers = authorization(marit)
    query = {"after": now(marit), "packet": "P-9999", "wait": 1}
    begin = time.monotonic()
    answer = plain_http.get(f"{house.address}/api/v1/events", headers=headers, params=query)
    assert time.monotonic() - begin >= 1
    assert answer.json()["items"] == []
    assert "Ask-Again" not in str(answer.headers)


def test_followers_get_each_event(marit: SealPacket) -> None:
    begin = now(marit)
    number = marit.packets.note("One").number
    stream = marit.events(begin, packet=number, follow=True)
    assert next(stream).action == "packet noted"
    marit.packets.withdraw(number, "it was a test")
    assert next(stream).action == "packet withdrawn"


def test_who_only_reads_sees_what_happens_to_packets(
    house: RunningHouse, marit: SealPacket
) -> None:
    marit.accounts.add("screen", "a-long-enough-password", roles=["reader"])
    token = make_token(house.address, "screen", "a-long-enough-password", "a wall screen").token
    begin = now(marit)
    marit.assets.change(ARRAY, marit.assets.get(ARRAY).version, notes="seen by keepers")
    marit.packets.note("One")
    with SealPacket(house.address, token) as screen:
        seen = list(screen.events(begin))
    assert "packet noted" in {one.action for one in seen}
    assert all(one.packet for one in seen)
    assert {"asset changed", "packet noted"} <= {one.action for one in marit.events(begin)}
