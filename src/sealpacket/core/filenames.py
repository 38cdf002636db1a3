"""Names of files that every system can keep."""

from __future__ import annotations

import re

_RESERVED = re.compile(
    r"(?i)(?:con|prn|aux|nul|conin\$|conout\$|com[1-9¹²³]|lpt[1-9¹²³])(?:\..*)?\Z", re.S
)
"""Names of devices on Windows, whatever ending they have (Microsoft, "Naming Files, Paths, and Namespaces")."""
UNKEEPABLE = re.compile(r'[<>:"|?*\x00-\x1f\x7f]')
"""Characters that some system refuses in a name."""


def is_reserved(name: str) -> bool:
    """Whether a name, without its path, means a device on some system."""
    return _RESERVED.match(name.strip()) is not None


def keepable(part: str) -> str:
    """One part of a path, changed as little as needed so that every system can keep it."""
    made = UNKEEPABLE.sub("-", part)
    return f"_{made}" if is_reserved(made) else made
