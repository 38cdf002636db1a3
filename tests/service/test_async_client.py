"""The asynchronous client does what the other one does, and waits for many things at once."""

from __future__ import annotations

import asyncio
import inspect
from pathlib import Path

import pytest

from sealpacket.client import AsyncSealPacket, Refused, SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import ARRAY, token_of


def public(kind: type) -> set[str]:
    return {name for name, _ in inspect.getmembers(kind) if not name.startswith("_")}


def test_it_has_every_method_of_the_other(marit: SealPacket) -> None:
    twin = AsyncSealPacket("http://127.0.0.1:1")
    assert public(AsyncSealPacket) == public(SealPacket)
    parts = {name for name in vars(marit) if not name.startswith("_")}
    assert {name for name in vars(twin) if not name.startswith("_")} == parts
    for name in parts:
        assert public(type(getattr(twin, name))) == public(type(getattr(marit, name)))


def test_many_things_at_once(marit: SealPacket, tmp_path: Path) -> None:
    log = tmp_path / "array.log"
    log.write_bytes(b"all is well\n")
    token = token_of(marit)

    async def work() -> tuple[list[PacketShown], list[str]]:
        async with AsyncSealPacket(marit._wire.address, token) as client:
            begin = (await client.custody(limit=1))[0].seq
            titles = [f"The array is slow {n}" for n in range(6)]
            noted = await asyncio.gather(
                *(client.packets.note(title, asset=ARRAY) for title in titles)
            )
            await asyncio.gather(*(client.exhibits.add(one.number, log) for one in noted))
            ready = await asyncio.gather(*(client.packets.wait(one.number) for one in noted))
            seen: list[str] = []
            async for event in client.events(begin, follow=True):
                seen += [event.packet] if event.action == "packet noted" and event.packet else []
                if len(seen) == len(titles):
                    break
            with pytest.raises(Refused) as refused:
                await client.packets.seal(noted[0].number, version=1)
            assert refused.value.status == 412
            assert [one.serial async for one in client.assets.list(most=3)]
            return list(ready), seen

    ready, seen = asyncio.run(work())
    assert {one.exhibits[0].state for one in ready} == {"ready"}
    assert sorted(seen) == sorted(one.number for one in ready)
