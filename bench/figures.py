"""What benchmarks share: figures, and timing."""

from __future__ import annotations

import shutil
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sealpacket.demo.cluster import Cluster
from sealpacket.demo.house import RunningHouse

RUNS = 3


def peak_memory() -> float:
    """The most memory (MB) that this program had. Not ru_maxrss: that begins with what started the program had."""
    told = Path("/proc/self/status").read_text()
    line = next(one for one in told.splitlines() if one.startswith("VmHWM:"))
    return int(line.split()[1]) / 1000


def figure(
    name: str, value: float, unit: str, bound: float | None = None, *, at_least: float | None = None
) -> dict[str, Any]:
    """One figure; with a bound, whether it is not above it, or not below `at_least`."""
    words = (
        f"≤ {bound:g}" if bound is not None else f"≥ {at_least:g}" if at_least is not None else ""
    )
    holds = (
        value <= bound if bound is not None else value >= at_least if at_least is not None else None
    )
    return {"name": name, "value": round(value, 2), "unit": unit, "bound": words, "holds": holds}


def seconds(act: Callable[[], Any]) -> float:
    """Seconds of one run."""
    begun = time.perf_counter()
    act()
    return time.perf_counter() - begun


def best(act: Callable[[], Any]) -> float:
    """Seconds of the fastest of some runs."""
    return min(seconds(act) for _ in range(RUNS))


def by_turns(*acts: Callable[[], Any]) -> list[float]:
    """The same for several that are compared, one after the other in each round: machines have slow minutes."""
    rounds = [[seconds(act) for act in acts] for _ in range(RUNS)]
    return [min(taken) for taken in zip(*rounds, strict=True)]


@contextmanager
def house_of_its_own() -> Iterator[RunningHouse]:
    """A house with the demo world in it, gone afterwards."""
    folder = Path(tempfile.mkdtemp(prefix="sealpacket-bench-"))
    folder.chmod(0o755)
    try:
        with RunningHouse(folder / "house", durable=False) as house:
            yield house
    finally:
        Cluster.at(folder / "house/postgres").remove()
        shutil.rmtree(folder, ignore_errors=True)
