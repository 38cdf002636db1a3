"""Private keys over several lines (RFC 7468) and signed tokens (RFC 7519)."""

from sealpacket.core.redact.detectors.base import LEAVE, Detector

_PEM = (
    rb"(-----BEGIN [A-Z0-9 ]{0,40}PRIVATE KEY(?: BLOCK)?-----"
    rb"(?:[\s\\nr]*(?:Proc-Type|DEK-Info):[^\r\n\\]{0,200})*"
    rb"[^-]*(?:-----END [A-Z0-9 ]{0,40}PRIVATE KEY(?: BLOCK)?-----)?)"
)

KEYS = (
    Detector(LEAVE, "a placeholder", rb"(\[[a-z]{2,12}:[a-z2-7]{10}\])"),
    Detector("key", "private key in PEM", _PEM),
    Detector("token", "JSON web token", rb"\b(eyJ[A-Za-z0-9_-]{5,}\.[A-Za-z0-9_-]{5,}\.[A-Za-z0-9_-]*)"),
)
