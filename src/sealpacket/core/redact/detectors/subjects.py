"""Subjects of certificates (RFC 4514), only where a plan asks for them."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector

SUBJECTS = (
    Detector(
        "subject",
        "subject of a certificate",
        rb"(?i:\b(?:subject|issuer)[ \t]*[:=][ \t]*)((?i:(?:/?(?:CN|O|OU|L|ST|C|DC|E|emailAddress|serialNumber)[ \t]*=[ \t]*[^,/\r\n+]{1,80}[,/+]?[ \t]*)){1,12})",
        (rb"(?i)(?:subject|issuer)[ \t]{0,4}[:=]",),
    ),
)
