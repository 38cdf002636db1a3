"""Private keys over several lines (RFC 7468), signed tokens (RFC 7519), and keys that are known by how they begin."""

from __future__ import annotations

from itertools import pairwise

from sealpacket.core.redact.detectors.base import GROUPS, LEAVE, Detector, has_digit

_PEM = (
    rb"(-----BEGIN [A-Z0-9 ]{0,40}PRIVATE KEY(?: BLOCK)?-----"
    rb"(?:[\s\\nr]*(?:Proc-Type|DEK-Info|Version|Comment):[^\r\n\\]{0,200})*"
    rb"[^-]*(?:-----END [A-Z0-9 ]{0,40}PRIVATE KEY(?: BLOCK)?-----)?)"
)


def looks_random(value: bytes) -> bool:
    """Whether a run of letters and digits is nothing that anyone would write: digits and letters well mixed."""
    digits = sum(48 <= byte <= 57 for byte in value)
    changes = sum(_sort(a) != _sort(b) for a, b in pairwise(value))
    return 2 <= digits < len(value) * 0.8 and changes >= len(value) / 6


def _sort(byte: int) -> int:
    return 0 if 48 <= byte <= 57 else 1 if 65 <= byte <= 90 else 2 if 97 <= byte <= 122 else 3


def _is_token(value: bytes) -> bool:
    return 20 <= len(value) <= 80 and looks_random(value)


def _is_access_key(value: bytes) -> bool:
    """Twenty capitals and digits, well mixed: no constant's name, no serial of zeros."""
    return looks_random(value) and any(65 <= byte <= 90 for byte in value[4:])


def _is_licence(value: bytes) -> bool:
    """Groups of five with letters and digits in them; not a number cut in groups, not words."""
    letters = sum(65 <= byte <= 90 for byte in value)
    return letters >= 5 and has_digit(value)


_PACKED = (
    rb"(?:H4sI|UEsDB|JVBERi0|iVBORw0KGgo|/9j/|QlpoO|/Td6WFoA|KLUv/|R0lGODlh|U1FMaXRlIGZvcm1hd|0M8R4KGxGuE|TVqQAAMA)"
)
"""How base64 begins that holds an archive, a document, a picture, a database or a program: nobody looks into it there."""

KEYS = (
    Detector(LEAVE, "a placeholder", rb"(\[[a-z]{2,12}:[a-z2-7]{10}\])"),
    Detector("key", "private key in PEM", _PEM, (rb"-----BEGIN [A-Z0-9 ]{0,40}PRIV",), lines=True),
    Detector(
        "secret",
        "number that opens a box for messages",
        rb"(?m:^)[ \t]*\d{2,6}[ \t]*=>[ \t]*(\d{3,8}),",
        (rb"(?m:^)[ \t]*\d{2,6}[ \t]*=>",),
    ),
    Detector(
        "key",
        "key in base64 that says so",
        rb"(?:[A-Za-z_]*(?:KEY|key|Key|SECRET|secret)[\"']?[ \t]*[=:][ \t]*[\"']?base64:)([A-Za-z0-9+/]{16,}={0,2})",
        (rb"base64:[A-Za-z0-9+/]",),
        sure=True,
    ),
    Detector(
        "token",
        "token instead of a user in an address",
        rb"\bhttps?://([A-Za-z0-9._-]{20,})@[A-Za-z0-9]",
        (rb"//[A-Za-z0-9._-]{20}",),
        has_digit,
    ),
    Detector(
        "key",
        "private lines of a key file",
        rb"(?:Private-Lines:[ \t]*\d+\r?\n)((?:[A-Za-z0-9+/=]+\r?\n){1,80})",
        (rb"Private-Lines:",),
        lines=True,
    ),
    Detector(
        "token",
        "packed content in base64",
        rb"(?:(?m:^)|[^A-Za-z0-9+/])("
        + _PACKED
        + rb"[A-Za-z0-9+/]{16,}(?:\\?\r?\n[ \t]*[A-Za-z0-9+/]{40,})*(?:\r?\n[ \t]*[A-Za-z0-9+/]{2,}={1,2}|={0,2}))",
        (_PACKED + rb"[A-Za-z0-9+/]{8}",),
        lines=True,
        sure=False,
    ),
    Detector("token", "JSON web token", rb"\b(eyJ[A-Za-z0-9_-]+\.[A-Za-z0-9_-]+\.[A-Za-z0-9_-]*)", (rb"eyJ",)),
    Detector(
        "token",
        "token with a prefix",
        rb"\b([a-z]+(?:[_-][a-z]+)?[_-][A-Za-z0-9]+)\b",
        (rb"[a-z][_-][A-Za-z0-9]{20}",),
        lambda value: _is_token(value.replace(b"-", b"_").rsplit(b"_", 1)[1]),
        sure=False,
    ),
    Detector(
        "token",
        "token of a prefix, numbers and a tail",
        rb"\b([a-z]{3,6}(?:-\d{9,16}){1,3}-[A-Za-z0-9]{16,80})\b",
        (rb"[a-z]-\d{9,16}-",),
    ),
    Detector(
        "licence",
        "labelled licence key",
        rb"(?i:\b(?:licen[sc]e|activation|product|serial|registration)[ _-]?(?:key|code)?\\?[\"']?[ \t]*[:=#]?[ \t]*\\?[\"']?)("
        + GROUPS
        + rb")\b",
        (rb"[A-Z0-9]{4}-[A-Z0-9]{4,6}-[A-Z0-9]{4}",),
    ),
    Detector(
        "licence",
        "number of a licence, labelled",
        rb"(?i:\blicen[sc]e(?:[ _.-]?(?:no|nr|number|id|key|code|string))?\\?[\"']?[ \t]*[:=#][ \t]*\\?[\"']?)([A-Z]{2,6}(?:-[A-Z0-9]{2,10}){2,6})\b",
        (rb"(?i)licen[sc]e[a-z_. -]{0,8}[\"'\\]{0,2}[ \t]?[:=#][ \t]?[\"'\\]{0,2}[A-Z]{2}",),
        has_digit,
    ),
    Detector("licence", "signature of a licence", rb"\bSIGN\d?=\"?([0-9A-F][0-9A-F ]{7,}[0-9A-F])", (rb"SIGN\d?=",)),
    Detector("token", "access key", rb"\b([A-Z]{4}[A-Z0-9]{16})\b", (rb"\b[A-Z]{4}[A-Z0-9]{16}\b",), _is_access_key),
    Detector(
        "licence",
        "licence key in groups",
        rb"\b([A-Z0-9]{5}(?:-[A-Z0-9]{5}){3,7})\b",
        (rb"[A-Z0-9]{5}-[A-Z0-9]{5}-[A-Z0-9]{5}-[A-Z0-9]{5}",),
        _is_licence,
    ),
)
