"""The tests of long lists with all of each list; in the suite each tries a part, another one in each form."""

from __future__ import annotations

import os
import subprocess
import sys
from typing import Any

TESTS = ("test_hard_lines.py", "test_shipped_lines.py", "test_exchanged_values.py")


def figures() -> list[dict[str, Any]]:
    """No figures: it fails if one of them does."""
    command = [sys.executable, "-m", "pytest", "-q", *(f"tests/core/{name}" for name in TESTS)]
    subprocess.run(command, check=True, env={**os.environ, "SEALPACKET_SAMPLES": "200"})
    return []
