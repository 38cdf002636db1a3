"""The benchmarks: `make bench`. Prints a table and writes bench/latest.json; every ratio is measured in one run.

`python bench/run.py register` measures one part only.
"""

from __future__ import annotations

import json
import sys
import traceback
from pathlib import Path

import desks
import drafts
import evidence
import finding
import lodging
import looking
import notifying
import redaction
import register
import startup

PARTS = {
    "startup": startup.figures,
    "redaction": redaction.figures,
    "finding": finding.figures,
    "register": register.figures,
    "desks": desks.figures,
    "drafts": drafts.figures,
    "evidence": evidence.figures,
    "lodging": lodging.figures,
    "looking": looking.figures,
    "notifying": notifying.figures,
}


def main() -> int:
    """Measure, print, write: each part as soon as it is measured. 1 if a part failed; the others are kept."""
    figures, failed = [], []
    for name in sys.argv[1:] or PARTS:
        try:
            measured = PARTS[name]()
        except Exception:
            traceback.print_exc()
            failed.append(name)
            continue
        for row in measured:
            kept = {True: "holds", False: "DOES NOT HOLD", None: ""}[row["holds"]]
            print(
                f"{row['name']:66}{row['value']:12,.2f} {row['unit']:8}{row['bound']:10}{kept}",
                flush=True,
            )
        figures += measured
        Path(__file__).with_name("latest.json").write_text(
            json.dumps({"figures": figures}, indent=1, ensure_ascii=False) + "\n"
        )
    if failed:
        print(f"failed: {', '.join(failed)}", file=sys.stderr)
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
