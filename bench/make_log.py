#!/usr/bin/env python3
"""Write a synthetic service log of N megabytes to standard output.

Usage: make_log.py MEGABYTES [SEED]. About one line in six holds a sensitive value.
All values are invented; the same arguments give the same bytes.
"""

import random
import sys

WORDS = (
    "kiosk session checkout item loan return shelf sorter belt jam reader tag rfid timeout retry handshake "
    "link state up down port vlan volume snapshot replica queue depth latency commit flush page cache"
).split()
LEVELS = ("DEBUG", "INFO", "INFO", "INFO", "WARN", "ERROR")


def sensitive(r: random.Random) -> str:
    pick = r.random()
    if pick < 0.55:
        return f" client=10.40.{r.randint(0, 255)}.{r.randint(1, 254)}:{r.randint(1024, 65000)}"
    if pick < 0.75:
        return f" user={r.choice('abcdefgh')}.{r.choice(WORDS)}{r.randint(1, 3000)}@quillmere.example"
    if pick < 0.82:
        return f" Authorization: Bearer {r.getrandbits(160):040x}"
    if pick < 0.88:
        return f" password={r.getrandbits(64):x}"
    if pick < 0.95:
        return " mac=02:1a:" + ":".join(f"{r.randint(16, 255):02x}" for _ in range(4))
    return f" host=br{r.randint(1, 14):02d}-kiosk{r.randint(1, 40)}.quillmere.example"


def main() -> None:
    size = int(sys.argv[1]) * 1_000_000
    r = random.Random(int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    written = i = 0
    while written < size:
        i += 1
        stamp = f"2026-11-{1 + (i // 86400) % 28:02d}T{(i // 3600) % 24:02d}:{(i // 60) % 60:02d}:{i % 60:02d}.{i % 1000:03d}Z"
        line = f"{stamp} kiosk-{i % 37:02d} {r.choice(LEVELS)} [{r.choice(WORDS)}.{r.choice(WORDS)}] {' '.join(r.choices(WORDS, k=r.randint(5, 14)))}"
        if r.random() < 0.16:
            line += sensitive(r)
        sys.stdout.write(line + "\n")
        written += len(line) + 1


if __name__ == "__main__":
    main()
