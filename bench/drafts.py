"""A packet while it is written: how long a person waits for each act, over the API."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from figures import figure, house_of_its_own, seconds

from sealpacket.client import SealPacket
from sealpacket.demo import world

EACH, DRAFTS, EXHIBITS = 15, 40, 10
NOTE = "Since this morning readers cannot check out. Ines (+44 1632 960123, ines@quillmere.example) has seen it."


def figures() -> list[dict[str, Any]]:
    """Medians, but for exhibits: the first and the last of a packet."""
    with house_of_its_own() as house:
        client = house.client()
        _warm(client)
        number = _note(client)
        codes = iter(range(100, 999))
        acts: dict[str, Callable[[], Any]] = {
            "a packet is noted": lambda: _note(client),
            "a packet is opened": lambda: client.packets.get(number),
            "a question is answered": lambda: client.packets.answer(
                number, error_code=f"E{next(codes)}"
            ),
        }
        taken = {what: [seconds(act) for _ in range(EACH)] for what, act in acts.items()}
        for _ in range(DRAFTS - EACH - 2):  # one is of the warming, one of the acts
            _note(client)
        taken[f"Today, with {DRAFTS} drafts"] = [seconds(client.today) for _ in range(EACH)]
        exhibits = _exhibits(client, number)
    return [
        *(figure(what, 1000 * statistics.median(all_), "ms") for what, all_ in taken.items()),
        figure("a small log is redacted, the first of a packet", 1000 * exhibits[0], "ms"),
        figure(f"  the {EXHIBITS}th", 1000 * exhibits[-1], "ms"),
    ]


def _warm(client: SealPacket) -> None:
    """The first redaction reads all code and compiles the catalogue; so do both processes of the service."""
    number = _note(client)
    _exhibits(client, number, 2)
    for _ in range(6):
        client.packets.answer(number, error_code="E100")


def _note(client: SealPacket) -> str:
    return client.packets.note(
        "Card reader stays dark", NOTE, need="fault", asset=world.KIOSK_SERIAL
    ).number


def _exhibits(client: SealPacket, number: str, many: int = EXHIBITS) -> list[float]:
    """Seconds from the last byte of each to its outgoing copy."""
    taken = []
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "lendd.log"
        for place in range(many):
            path.write_text(
                f"2026-11-28T08:0{place % 10}:00Z br01-kiosk2 lendd[1]: user=mh{place} from 10.20.30.{place}"
                f" password=larch-{place}-teal\n"
            )
            client.exhibits.add(number, path, name=f"{place}.log")
            begun = time.perf_counter()
            while client.packets.get(number).exhibits[-1].state in ("waiting", "redacting"):
                time.sleep(0.02)
            taken.append(time.perf_counter() - begun)
    return taken
