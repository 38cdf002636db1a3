"""What an anchor costs: a line with one is looked at by detectors, so none may be on many lines that hold nothing."""

from __future__ import annotations

import subprocess
import sys

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.detectors import REGISTRY
from tests.conftest import ROOT


def test_no_anchor_is_on_many_lines_of_a_log_that_hold_nothing() -> None:
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
        if hits > 0.05 * lines and not native.Pattern(detector.pattern).count(made.stdout):
            wide[detector.name] = hits
    assert wide == {}
