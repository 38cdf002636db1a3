"""sealpacket-demo: the whole product with its demo world, on this machine."""

from __future__ import annotations

import json
import os
import shutil
import signal
import sys
import threading
from functools import partial
from pathlib import Path

from sealpacket.demo import morning, year
from sealpacket.demo.cluster import Cluster
from sealpacket.demo.house import HouseError, RunningHouse

PORT = 8400


def run() -> None:
    """`sealpacket-demo [up|reset] FOLDER [CONSOLE]`."""
    verb, folder = (
        (sys.argv[1], Path(sys.argv[2])) if len(sys.argv) > 2 else ("up", Path("var/demo"))
    )
    console = Path(sys.argv[3]).absolute() if len(sys.argv) > 3 else None
    try:
        if verb == "reset":
            reset(folder)
        else:
            up(folder, console)
    except HouseError as problem:
        print(problem, file=sys.stderr)
        raise SystemExit(1) from problem


def up(folder: Path, console: Path | None) -> None:
    """Start everything, say where it is, and stay until Ctrl-C."""
    over = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda *_: over.set())
    print("Starting the database, the stand-ins, the worker and the service …", flush=True)
    say = partial(print, flush=True)
    with RunningHouse(folder, port=PORT, console=console, tell=say) as house:
        for note in house.notes:
            print(note)
        look_at = at_work(house)
        print(f"\nSeal Packet is at {house.address}\n")
        for name, password in house.sign_ins.items():
            print(f"  sign in as {name:6} with {password}")
        print(
            "\nMarit keeps the register, prepares and releases; Teo prepares; Ines prepares and releases;"
        )
        print("Pauli releases and reads. The passwords are in", house.folder / "sign-ins.json")
        print(f"\n{look_at}\n")
        print("Ctrl-C ends everything; the data stays. `make demo-reset` starts over.", flush=True)
        while not over.wait(1.0):
            gone = house.ended()
            if gone:
                raise HouseError(
                    f"The {gone} has ended by itself; everything else is ended too. See {house.folder}/log."
                )
        print("\nEnding …", flush=True)
    print("All processes have ended, the database cleanly.")


def at_work(house: RunningHouse) -> str:
    """Bring a new house into the middle of its work, once; what to look at first."""
    done = house.folder / "morning.json"
    if not done.exists():
        packets = int(os.environ.get("SEALPACKET_DEMO_PACKETS", year.PACKETS))
        if packets:
            print(
                f"A year of {packets} packets is being played in it; that takes a minute or two …",
                flush=True,
            )
            year.fill(house, packets)
        print("A morning's work is being done in it …", flush=True)
        done.write_text(json.dumps(morning.play(house), indent=1) + "\n")
    return morning.where_to_look(json.loads(done.read_text()))


def reset(folder: Path) -> None:
    """Forget the demo's data, unless a copy is running from it."""
    house = RunningHouse(folder)
    if folder.exists():
        house._take_lock()
    Cluster.at(folder.absolute() / "postgres").remove()
    shutil.rmtree(folder, ignore_errors=True)
    print(f"The demo's data in {folder} is gone.")


if __name__ == "__main__":
    run()
