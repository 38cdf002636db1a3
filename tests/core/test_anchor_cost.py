"""What an anchor costs: a line with one is looked at by detectors, so none may be on many lines that hold nothing."""

from __future__ import annotations

import subprocess
import sys

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules import REGISTRY
from tests.conftest import ROOT


def test_an_anchor_that_is_on_many_lines_of_a_log_finds_something_on_most() -> None:
    made = subprocess.run(
        [sys.executable, str(ROOT / "bench/make_log.py"), "1"],
        capture_output=True,
        check=True,
        timeout=60,
    )
    lines = made.stdout.count(b"\n")
    wide = {}
    for detector in REGISTRY:
        hits = sum(native.Pattern(anchor).count(made.stdout) for anchor in detector.anchors)
        found = native.Pattern(detector.whole).count(made.stdout)
        if hits > 0.05 * lines and found < hits / 2:
            wide[detector.name] = (hits, found)
    assert wide == {}
