"""Passwords, tokens and credentials beside a telling name."""

from __future__ import annotations

import base64
import binascii
import re

from sealpacket.core.redact.detectors.base import Detector

_NOT_A_SECRET = re.compile(
    rb"(?i)(?:none|null|nil|true|false|yes|no|on|off|ok|not|is|was|and|or|the|set|unset|empty|required|missing|invalid|"
    rb"expired|expires|refused|rejected|changed|accepted|default|enabled|disabled|prompt|hidden|redacted|masked|"
    rb"undefined|n/a|x{3,}|\*+|-+|\.+|<[^>]*>|\[[a-z _-]{0,20}\]"
    rb"|\[[a-z]{2,12}:[a-z2-7]{10}\]|\$\{[^}]*\}|\{\{[^}]*\}\})"
)


def _is_secret(value: bytes) -> bool:
    """Whether the value beside a telling name can be a secret, and not a word about one."""
    return len(value) > 1 and _NOT_A_SECRET.fullmatch(value) is None


def _is_bearer(value: bytes) -> bool:
    """A bearer credential (RFC 6750) has a digit or is longer than any word."""
    return len(value) >= 24 or (len(value) >= 8 and any(48 <= byte <= 57 for byte in value))


def _is_basic(value: bytes) -> bool:
    """A basic credential (RFC 7617) is base64 of something with a colon."""
    try:
        return b":" in base64.b64decode(value + b"=" * (-len(value) % 4), validate=True)
    except (binascii.Error, ValueError):
        return False


_NAME = (
    rb"(?i:[A-Za-z0-9_.-]*(?:password|passwd|passphrase|passcode|pwd|secret|token|api[_-]?key|apikey|access[_-]?key"
    rb"|secret[_-]?key|private[_-]?key|auth[_-]?key|encryption[_-]?key|shared[_-]?key|pre-?shared-?key|psk|community"
    rb"|snmp-community|credential|session[_-]?id|sessid))"
)
_GIVES = rb"\\?[\"']?[ \t]*(?:=>|:=|[=:])[ \t]*"

CREDENTIALS = (
    Detector("secret", "credentials in a URL", rb"\b[A-Za-z][A-Za-z0-9+.-]{1,20}://([^\s/@:\"'<>]*:[^\s/@\"'<>]+)@"),
    Detector("secret", "digest authorisation", rb"(?i:\bauthorization[\"']?\s*[:=]\s*[\"']?digest\s+)([^\r\n]+)"),
    Detector(
        "secret",
        "authorisation header",
        rb"(?i:\b(?:proxy-)?authorization\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?(?:[a-z][a-z0-9-]*[ \t]+)?)([^\s\"',;\\]+)",
        _is_secret,
    ),
    Detector("secret", "cookie header", rb"(?i:\b(?:set-)?cookie\\?[\"']?[ \t]*:[ \t]*)([^\r\n]+)", _is_secret),
    Detector("secret", "bearer credential", rb"(?i:\bbearer[ \t]+)([A-Za-z0-9._~+/=-]{8,})", _is_bearer),
    Detector("secret", "basic credential", rb"(?i:\bbasic[ \t]+)([A-Za-z0-9+/=]{8,})", _is_basic),
    Detector("secret", "named secret in double quotes", _NAME + _GIVES + rb'\\?"([^"\r\n\\]+)', _is_secret),
    Detector("secret", "named secret in quotes", _NAME + _GIVES + rb"'([^'\r\n]+)", _is_secret),
    Detector(
        "secret",
        "named secret",
        _NAME + _GIVES + rb"(\[[a-z]{2,12}:[a-z2-7]{10}\]|[^\s,;\"'&<>)}\]\\][^\s,;\"'&<>)}\]]*)",
        _is_secret,
    ),
    Detector("secret", "secret in an element", rb"<" + _NAME + rb"(?:\s[^<>]{0,200})?>([^<\r\n]+)<", _is_secret),
    Detector(
        "secret",
        "secret on a command line",
        rb"(?i:--?(?:password|passwd|token|secret|api-key)[ \t]+)([^\s-]\S*)",
        _is_secret,
    ),
    Detector(
        "secret",
        "device secret",
        rb"(?i:\b(?:snmp-server community|enable (?:secret|password)(?: \d)?|key-string|pre-shared-key)[ \t]+)(\S+)",
        _is_secret,
    ),
)
