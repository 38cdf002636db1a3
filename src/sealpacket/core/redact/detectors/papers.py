"""Numbers that a label names: of readers and customers, of devices, of contracts."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector, digits_of
from sealpacket.core.redact.detectors.numbers import is_card

_PARTS = rb"\\?[\"']?[ \t]*(?:=>|:=|[=:#>])?[ \t]*\\?[\"']?"
"""What may stand between a label of several words and its number."""


def _is_number(value: bytes) -> bool:
    """Six signs or more, with digits among them."""
    return len(value) >= 6 and len(digits_of(value)) >= 3 and not value.startswith((b"0x", b"0X"))


def _bare(value: bytes) -> bytes:
    return value.translate(None, b" -").lower()


PAPERS = (
    Detector(
        "reader",
        "number of a reader or a customer",
        rb"(?i:\b(?:(?:patron|borrower|reader|library|membership|member|customer|client|subscriber|student|pupil|patient|visitor|account[ _-]?holder)"
        rb"[ _-]?(?:card[ _-]?)?(?:id|no|nr|num|number|card|barcode|ref(?:erence)?)?|(?:card|ticket)[ _-]?(?:no|nr|num|number|barcode|id)|patron[ _-]?barcode|card)\.?"
        + _PARTS
        + rb")(\d(?:[ -]?\d){5,18})\b",
        (
            rb"(?i)(?:patron|borrower|reader|library|member|membership|customer|client|subscriber|student|pupil|patient|visitor|holder|card|ticket|barcode)[ _-]?(?:card[ _-]?)?(?:id|no|nr|num|number|card|barcode|ref(?:erence)?)?[ .\"'\\=:#>-]{0,6}\d(?:[ -]?\d){4}",
        ),
        lambda value: _is_number(value) and not (len(digits_of(value)) in (15, 16) and is_card(value)),
        digits_of,
    ),
    Detector(
        "reader",
        "labelled code of a reader or a customer",
        rb"(?i:\b(?:patron|borrower|reader|library|membership|member|customer|client|subscriber|student|patient)[ _-]?(?:card[ _-]?)?(?:id|no|nr|num|number|card|barcode)\.?"
        + _PARTS
        + rb")([A-Z]{1,4}-?\d[A-Z0-9-]{3,18})\b",
        (
            rb"(?i)(?:patron|borrower|reader|library|member|membership|customer|client|subscriber|student|patient)[ _-]?(?:card[ _-]?)?(?:id|no|nr|num|number|card|barcode)[ .\"'\\=:#>-]{0,8}[a-z]{1,4}-?\d",
        ),
        _is_number,
        _bare,
        sure=False,
    ),
    Detector(
        "asset",
        "labelled serial number",
        rb"(?i:\b(?:[a-z]+[ _-])?(?:serial[ _-]?(?:number|num|no|nr)|serial|s/n|asset[ _-]?(?:tag|number|no|id)|service[ _-]?tag|chassis[ _-]?(?:serial|id)|sernum)\.?"
        + _PARTS
        + rb")([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)\b",
        (
            rb"(?i)(?:serial[ _-]?(?:number|num|no|nr)?|s/n|asset[ _-]?(?:tag|number|no|id)|service[ _-]?tag|chassis[ _-]?id|sernum)[ .\"'\\=:#>-]{1,8}[a-z0-9]",
        ),
        lambda value: (
            _is_number(value)
            and any(bytes([byte]).isalpha() for byte in value)
            and not all(byte in b"0123456789abcdefABCDEF" for byte in value)
        ),
        bytes.lower,
        sure=False,
    ),
    Detector(
        "contract",
        "labelled contract number",
        rb"(?i:\b(?:(?:support|service|maintenance)[ _-])?(?:contract|agreement|entitlement|subscription|purchase[ _-]order|order|invoice)[ _-]?(?:number|num|no|nr|id|ref)\.?"
        + _PARTS
        + rb")([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)\b",
        (
            rb"(?i)(?:contract|agreement|entitlement|subscription|order|invoice)[ _-]?(?:number|num|no|nr|id|ref)[ .\"'\\=:#>-]{0,8}[a-z0-9]",
        ),
        lambda value: _is_number(value) and not (len(value) == 36 and value.count(b"-") == 4),
        bytes.lower,
        sure=False,
    ),
)
