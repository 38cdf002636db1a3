"""Numbers that a label names: of readers and customers, of devices, of contracts."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import GIVES, OPENS, Detector, digits_of
from sealpacket.core.redact.detectors.numbers import is_card

_PARTS = rb"\\?[\"']?(?:[ \t]*\.{3,}|(?:[ \t]\.)+)?[ \t]*(?:=>|:=|[=:#>]|is[ \t]|was[ \t])?[ \t]*\\?[\"']?"
"""What may stand between a label of several words and its number."""


def _is_number(value: bytes) -> bool:
    """Six signs or more, with digits among them."""
    return len(value) >= 6 and len(digits_of(value)) >= 3 and not value.startswith((b"0x", b"0X"))


def _bare(value: bytes) -> bytes:
    return value.translate(None, b" -").lower()


IDENTIFIERS = (
    Detector(
        "reader",
        "number of a reader or a customer",
        rb"(?i:\b(?:(?:patron|borrower|reader|library|membership|member|customer|cust\.?|client|subscriber|student|pupil|patient|visitor|employee|staff|personnel|payroll|badge|user[ _.-]?(?:identifier|barcode)|account[ _.-]?holder)"
        rb"[ _.-]?(?:card[ _.-]?)?(?:id|no|nr|num|number|card|barcode|ref(?:erence)?)?|(?:card|ticket)[ _.-]?(?:no|nr|num|number|barcode|id)|patron[ _.-]?barcode|card)\.?"
        + _PARTS
        + rb")(\d(?:[ -]?\d){4,18})\b",
        (
            rb"(?i)(?:patron|borrower|reader|library|member|membership|customer|cust\.?|client|subscriber|student|pupil|patient|visitor|employee|staff|personnel|payroll|badge|identifier|holder|card|ticket|barcode)[ _.-]?(?:card[ _.-]?)?(?:id|no|nr|num|number|card|barcode|value|ref(?:erence)?)?(?:[ .\"'\\=:#>-]{0,6}| (?:is|was) )\d(?:[ -]?\d){4}",
        ),
        lambda value: _is_number(value) and not (len(digits_of(value)) in (15, 16) and is_card(value)),
        digits_of,
    ),
    Detector(
        "reader",
        "labelled code of a reader or a customer",
        rb"(?i:\b(?:patron|borrower|reader|library|membership|member|customer|client|subscriber|student|patient|employee|staff|badge)[ _.-]?(?:card[ _.-]?)?(?:id|no|nr|num|number|card|barcode)\.?"
        + _PARTS
        + rb")([A-Z]{1,4}-?\d[A-Z0-9-]{3,18})\b",
        (
            rb"(?i)(?:patron|borrower|reader|library|member|membership|customer|client|subscriber|student|patient|employee|staff|badge)[ _.-]?(?:card[ _.-]?)?(?:id|no|nr|num|number|card|barcode)[ .\"'\\=:#>-]{0,8}[a-z]{1,4}-?\d",
        ),
        _is_number,
        _bare,
        sure=False,
    ),
    Detector(
        "asset",
        "labelled serial number",
        rb"(?i:\b[a-z0-9_-]*?(?:[a-z]+[ _-])?(?:serial[ _.-]?(?:number|num|no|nr|short)|serial|s/n|(?:\b|[_-])sn\\?[\"']?[ \t]*[:=#]|asset[ _.-]?(?:tag|number|no|id)|service[ _.-]?tag|chassis[ _.-]?(?:serial|id)|identifying[ _.-]?number|(?:inventory|equipment)[ _.-]?(?:number|no|nr|id)|sernum)\.?"
        + _PARTS
        + rb")\.?([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)\b",
        (
            rb"(?i)(?:serial[ _.-]?(?:number|num|no|nr|short)?|s/n|sn|asset[ _.-]?(?:tag|number|no|id)|service[ _.-]?tag|chassis[ _.-]?id|identifying[ _.-]?number|(?:inventory|equipment)[ _.-]?(?:number|no|nr|id)|sernum)[ .\"'\\=:#>-]+[a-z0-9]",
        ),
        lambda value: (
            _is_number(value)
            and any(bytes([byte]).isalpha() for byte in value)
            and (
                8 <= len(value) <= (20 if value.isupper() else 15)
                or not all(byte in b"0123456789abcdefABCDEF" for byte in value)
            )
            and not all(byte in b"0123456789abcdef" for byte in value)
        ),
        bytes.lower,
        sure=False,
    ),
    Detector(
        "contract",
        "contract in a sentence",
        rb"(?i:\b(?:contract|entitlement|agreement|subscription)[ \t]+)([A-Z]{1,4}-?\d[0-9A-Z]*(?:-[0-9A-Z]+)+)\b",
        (rb"(?i)(?:contract|entitlement|agreement|subscription)[ \t]+[a-z]{1,4}-?\d",),
        _is_number,
        bytes.lower,
        sure=False,
    ),
    Detector(
        "asset",
        "asset in a sentence",
        rb"(?i:\basset[ \t]+)([A-Z]{2,5}-?\d{4,}[A-Z0-9-]*)\b",
        (rb"(?i)asset[ \t]+[a-z]{2,5}-?\d{4}",),
        canonical=bytes.lower,
        sure=False,
    ),
    *(
        Detector(
            kind,
            f"several behind a label: {kind}",
            rb"(?i:\b(?:"
            + words
            + rb")[ \t]*[:=][ \t]*\[?)((?:\"?[A-Z0-9][A-Z0-9/.-]{3,}\"?(?:,[ \t]*|;[ \t]*| and ))+\"?[A-Z0-9][A-Z0-9/.-]{3,})\b",
            (rb"(?i)(?:" + words + rb")[ \t]*[:=]",),
            lambda value: len(digits_of(value)) >= 6,
            bytes.lower,
            sure=False,
        )
        for kind, words in (
            ("asset", rb"serials|serial numbers|serial nos?|s/ns|asset tags|assets|asset numbers"),
            ("contract", rb"contracts|contract numbers|contract nos?|agreements|entitlements"),
            ("reader", rb"cards|card numbers|barcodes|readers|borrowers|patrons|members"),
        )
    ),
    Detector(
        "asset",
        "serial number in a sentence",
        rb"(?i:\b(?:unit|enclosure|chassis|appliance|array|shelf|device|replacement|spare|drive|disk)[ \t]+)([A-Z]{2,4}\d{4,}[A-Z0-9]*|[A-Z0-9]{3,}\d{4,}[A-Z])\b",
        (
            rb"(?i:unit|enclosure|chassis|appliance|array|shelf|device|replacement|spare|drive|disk)[ \t]+[A-Z0-9]{2,12}\d{4}",
        ),
        lambda value: len(value) >= 7 and any(65 <= byte <= 90 for byte in value),
        bytes.lower,
        sure=False,
    ),
    Detector(
        "asset",
        "world-wide name in groups",
        rb"(?i:\bwwn[a-z ]{0,12}[ \t]*[:=][ \t]*)([0-9a-f][ -][0-9a-f]{4,6}[ -][0-9a-f]{8,9})\b",
        (rb"(?i)wwn",),
        canonical=bytes.lower,
    ),
    Detector(
        "reader",
        "barcode of a reader",
        rb"(?i:\b(?:barcode|card|library card|borrower|reader|patron|ticket)(?:[ _.-]?(?:no|nr|number|id)|[ ](?:scanned|read|entered))?"
        + _PARTS
        + rb")(2\d{13})\b",
        (
            rb"(?i)(?:barcode|card|borrower|reader|patron|ticket)(?:[ _.-]?(?:no|nr|number|id)|[ ](?:scanned|read|entered))?[ .\"'\\=:#>\t]{1,8}2\d{13}",
        ),
        canonical=digits_of,
        sure=False,
    ),
    Detector(
        "reader",
        "number of someone in an element with a type",
        rb"(?i:\b(?:type|name|key|id|kind)=[\"'](?:[a-z]+[_ .-]?)?(?:barcode|card(?:_?(?:no|number))?|patron[_ .-]?(?:id|no)|reader[_ .-]?(?:id|no)|member[_ .-]?(?:id|no)|customer[_ .-]?(?:id|no))[\"'][^<>\r\n]*>)[ \t]*(\d{6,18})[ \t]*<",
        (rb"(?i)=[\"'](?:[a-z]+[_ .-]?)?(?:barcode|card|patron|reader|member|customer)",),
        canonical=digits_of,
    ),
    Detector(
        "asset",
        "serial number in another language",
        rb"(?i:\b(?:serien(?:nummer|-?nr)|ger(?:\xc3\xa4|\xe4)te(?:nummer|-?nr)|n(?:um(?:e|\xc3\xa9|\xe9)ro|\xc2\xb0|\xb0)[ _]de[ _]s(?:e|\xc3\xa9|\xe9)rie|numero_?serie|n(?:u|\xc3\xba|\xfa)mero de serie|serienummer|numero di serie|inv(?:entar)?\.?[ -]?(?:nummer|nr))\.?"
        + _PARTS
        + rb")([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)\b",
        (rb"(?i)(?:serien|nummer|rie|serie|nr)[ .\"'\\=:#>\t]{1,8}[a-z0-9]",),
        _is_number,
        bytes.lower,
        sure=False,
    ),
    Detector(
        "reader",
        "number of someone in another language",
        rb"(?i:\b(?:kunden|leser|mitglieds|benutzer|ausweis|karten)(?:nummer|-?nr)|\b(?:num(?:e|\xc3\xa9|\xe9)ro (?:de )?(?:client|lecteur|adh(?:e|\xc3\xa9|\xe9)rent)|klantnummer|lidnummer|n(?:u|\xc3\xba|\xfa)mero de (?:cliente|socio|lector))\.?)"
        + _PARTS
        + rb"([A-Z]{0,3}\d(?:[ -]?\d){4,18})\b",
        (
            rb"(?i)(?:kunden|leser|mitglieds|benutzer|ausweis|karten|klant|lid)-?(?:nummer|nr)[ .\"'\\=:#>\t]{1,8}[a-z0-9]",
            rb"(?i)ro (?:de )?(?:client|lecteur|adh[^ ]{1,2}rent|cliente|socio|lector)[ .\"'\\=:#>\t]{1,8}[a-z0-9]",
        ),
        canonical=_bare,
        sure=False,
    ),
    Detector(
        "asset",
        "serial number without letters",
        rb"(?i:\b[a-z0-9_-]*?(?:serial[ _.-]?(?:number|num|no|nr)|s/n|service[ _.-]?tag|\bsn[ \t]*[:=#])\.?"
        + _PARTS
        + rb")(\d{6,20})\b",
        (rb"(?i)(?:serial[ _.-]?(?:number|num|no|nr)|s/n|tag|sn)[ .\"'\\=:#>\t]{1,8}\d{6}",),
        sure=False,
    ),
    Detector(
        "contract",
        "contract by its number alone",
        rb"(?i:\b(?:contract|entitlement|agreement|support[ _.-]?id|site[ _.-]?id|vertrag(?:s-?(?:nummer|nr))?)\\?[\"']?[ \t]*[:=#][ \t]*\\?[\"']?|\bsupport id )([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)\b",
        (
            rb"(?i)(?:contract|entitlement|agreement|id|vertrag|nummer|nr)[\"'\\ \t]{0,4}[:=#][ \t]*[\"'\\]{0,2}[a-z0-9]",
            rb"(?i)support id ",
        ),
        lambda value: _is_number(value) and not (len(value) == 36 and value.count(b"-") == 4),
        bytes.lower,
        sure=False,
    ),
    Detector(
        "reader",
        "code of someone in a line about him",
        rb"(?i:\b(?:patrons?|borrower|reader|member|customer|subscriber|student)\b[^\r\n]{0,120}?\b(?:barcode|card|card_?(?:no|number)|number|id)"
        + GIVES
        + rb")"
        + OPENS
        + rb"(\d{8,16})\b",
        (rb"(?i)(?:barcode|card|card_?(?:no|number)|number|id)\\?[\"']?[ \t]*(?:=>|=|:)[ \t]*\\?[\"']?\d{8}",),
        lambda value: not is_card(value) or len(value) not in (15, 16),
        digits_of,
        sure=False,
    ),
    Detector(
        "contract",
        "labelled contract number",
        rb"(?i:\b(?:[a-z]+[_-]|(?:support|service|maintenance)[ _.-]?)?(?:(?:contract|agreement|entitlement|subscription|purchase[ _.-]?order|order|invoice|po|customer)[ _.-]?(?:number|nummer|num|no|nr|id|ref)|(?:support|service|maintenance)[ _.-]?contract|purchase[ _.-]?order)\.?"
        + _PARTS
        + rb")([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)\b",
        (
            rb"(?i)(?:contract|agreement|entitlement|subscription|order|invoice|po|customer)[ _.-]?(?:number|nummer|num|no|nr|id|ref)?[ .\"'\\=:#>-]{1,8}[a-z0-9]",
        ),
        lambda value: _is_number(value) and not (len(value) == 36 and value.count(b"-") == 4),
        bytes.lower,
        sure=False,
    ),
)
