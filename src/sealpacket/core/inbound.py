"""Looking at a file that a vendor sent, before anybody opens it: a name that is safe, and what it is by its content."""

from __future__ import annotations

import re
import unicodedata
from pathlib import PurePath

from pydantic import BaseModel, ConfigDict

HEAD = 600
"""Bytes of a file's beginning that are looked at."""
_SIGNS: tuple[tuple[bytes, str], ...] = (
    (b"MZ", "program"), (b"\x7fELF", "program"), (b"\xfe\xed\xfa", "program"), (b"\xcf\xfa\xed\xfe", "program"),
    (b"\xca\xfe\xba\xbe", "program"), (b"#!", "program"),
    (b"%PDF-", "PDF"), (b"\x89PNG", "picture"), (b"\xff\xd8\xff", "picture"), (b"GIF8", "picture"),
    (b"PK\x03\x04", "archive"), (b"\x1f\x8b", "archive"), (b"7z\xbc\xaf", "archive"), (b"Rar!", "archive"),
    (b"\xfd7zXZ", "archive"), (b"BZh", "archive"), (b"\x28\xb5\x2f\xfd", "archive"),
    (b"\xd0\xcf\x11\xe0", "older office document"), (b"{\\rtf", "document"),
)  # fmt: skip
_RUNS = frozenset({
    ".exe", ".dll", ".msi", ".bat", ".cmd", ".com", ".scr", ".ps1", ".vbs", ".vbe", ".js", ".jse", ".wsf", ".hta",
    ".jar", ".sh", ".py", ".lnk", ".reg", ".apk", ".deb", ".rpm", ".dmg", ".pkg", ".iso", ".img", ".docm", ".xlsm",
    ".pptm",
})  # fmt: skip
"""Endings of what runs, or opens something that does."""


class Inspected(BaseModel):
    """The kind of a file by its content, and a warning; empty for files that are only viewed."""

    model_config = ConfigDict(frozen=True)

    name: str
    kind: str
    warning: str = ""


def inspect(name: str, head: bytes) -> Inspected:
    """Look at a file's name and its first bytes."""
    clean = safe_name(name)
    kind = next((kind for sign, kind in _SIGNS if head.startswith(sign)), "")
    if not kind:
        kind = "text" if _is_text(head) else "data"
    ending = PurePath(clean).suffix.lower()
    warning = ""
    if kind == "program" or ending in _RUNS:
        warning = "It runs when it is opened. Have it checked before you do."
    elif kind in ("archive", "older office document"):
        warning = "What is in it was not looked at."
    return Inspected(name=clean, kind=kind, warning=warning)


def _is_text(head: bytes) -> bool:
    if b"\0" in head:
        return False
    return not head or sum(byte < 9 or 13 < byte < 32 for byte in head) / len(head) < 0.02


_UNSAFE = re.compile(r'[/\\<>:"|?*\x00-\x1f\x7f]')


def safe_name(name: str) -> str:
    """A name without a path, without control and direction characters, that every system can keep."""
    last = re.split(r"[/\\]", unicodedata.normalize("NFC", name))[-1]
    kept = "".join(c for c in _UNSAFE.sub("-", last) if unicodedata.category(c)[0] != "C")
    kept = kept.strip(" .-")
    stem, dot, ending = kept.rpartition(".")
    if len(kept.encode()) > 160:
        kept = f"{(stem or kept)[:100]}{dot}{ending[:20]}" if dot else kept[:100]
    return kept or "file"
