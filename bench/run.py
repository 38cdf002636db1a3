"""The benchmarks: `make bench`. Prints a table and writes bench/latest.json; every ratio is measured in one run.

`python bench/run.py register` measures one part only.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import desks
import lists
import redaction
import register

PARTS = {"redaction": redaction.figures, "register": register.figures, "desks": desks.figures,
         "lists": lists.figures}  # fmt: skip


def main() -> None:
    """Measure, print, write."""
    figures = [row for name in sys.argv[1:] or PARTS for row in PARTS[name]()]
    for row in figures:
        kept = {True: "holds", False: "DOES NOT HOLD", None: ""}[row["holds"]]
        print(f"{row['name']:52}{row['value']:12,.2f} {row['unit']:8}{row['bound']:10}{kept}")
    Path(__file__).with_name("latest.json").write_text(
        json.dumps({"figures": figures}, indent=1, ensure_ascii=False) + "\n"
    )


if __name__ == "__main__":
    main()
