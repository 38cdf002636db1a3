"""Values of a telling shape that stand near a telling word, whatever grammar is between: all of them doubtful, so that a
person looks at them first."""

from __future__ import annotations

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.detectors.base import Detector, digits_of
from sealpacket.core.redact.detectors.credentials import is_odd

_PASSWORD = rb"(?:pass(?:word|wort|wd|phrase|code|key)s?|kennwort|wachtwoord|\bpwd|\bcreds?\b|\bcredentials?\b|\bsecrets?\b|\bpsk\b|\bauth\b|mot de passe|contrase[^ ]{1,2}a|backup codes?|recovery codes?)"
_THING = rb"(?:serial[a-z]*|s/n|chassis|(?:processor|system|mother|base)[ -]?board|asset|inventory|inventar[a-z]*|equipment|(?:service|property|security) tag|enclosure|identifying|fru|imei|udid|meid)"
_PAPER = rb"(?:contract|agreement|entitlement|subscription|vertrags?[a-z]*|contrat|contrato|contratto|maintenance|warranty|purchase order|invoice|sla)"
_PLACE = rb"(?:gps|position|location|standort|koordinaten|coord(?:s|inates)?|site|place|geo|fix|lat(?:itude)?|posici(?:o|\xc3\xb3)n|emplacement|plaats)"

_BEFORE = rb"[ \t\"'=:,;(\[<>|/#@.]"
_BEHIND = rb"(?:[ \t\"',.;:)\]<>|]|\r?(?m:$))"

_NO_PASSWORD = native.Pattern(
    rb"(?i)(?:[0-9a-f]+|(?:s?sha|s?md|aes|rsa|dsa|ecdsa|pkcs|pbkdf|rfc|utf|iso|base|argon|curve|secp|ed|tls|ssl|ssh|oauth|ntlm|mschap|ipv|http|rc|log|crc|des|wpa|wep|version|port|line|eth|err|error|code|step|"
    rb"attempt|try|thread|worker|job|node|level|tty|pts|vlan|slot|host|server|user|test|group|page|table|column|str|int|uint|float|win|python|perl|java|xfree|update|latin|charset|cp|python|grade|type|class|mode)[-_]?\d+[a-z]?)"
)
_NO_NUMBER = native.Pattern(
    rb"(?:RFC|ISO|CVE|PEP|ORA|ERR|IEC|ITU|UTF|SHA|AES|ANSI|IEEE|REV|VER|BUILD|KB|HF|SP|INC|CHG|REQ|TKT|CASE|MSG|E|W|I|F)-?\d[A-Z0-9-]*|(?:19|20)\d\d(?:0[1-9]|1[0-2])(?:[0-2]\d|3[01])(?:[0-2]\d[0-5]\d(?:[0-5]\d)?)?|1[5-9]\d{8}(?:\d{3})?|[0-9A-F]{16,}"
)
"""A standard, an error, an update, a ticket, a date, a moment, a certificate's number."""


def _is_password(value: bytes) -> bool:
    """A word with digits that is no algorithm, no part of a machine and no digest."""
    return is_odd(value) and len(value) >= 6 and not _NO_PASSWORD.is_whole(value)


def _is_number(value: bytes) -> bool:
    """Seven signs and more, three digits among them, and no standard's name or error's code."""
    return len(value) >= 7 and len(digits_of(value)) >= 3 and not _NO_NUMBER.is_whole(value)


NEARBY = (
    Detector("secret", "word with digits near a word for a password",
             rb"(?i:" + _PASSWORD + rb"[a-z0-9_-]{0,16})[^\r\n]{0,60}?" + _BEFORE + rb"([A-Za-z]{3,}[0-9]{2,}[!$%&*+#?]{0,3}|[A-Za-z][a-z]+[0-9]*[!$%*#][A-Za-z0-9!$%*#]{2,}|[A-Za-z]+[0-9]+[A-Za-z]+[0-9][A-Za-z0-9]*|\d{4}-\d{4})(?:[ \t\"',.;:)<>|]|\r?(?m:$))",
             (rb"(?i)" + _PASSWORD,), _is_password, sure=False),
    Detector("asset", "number near a word for a thing",
             rb"(?i:\b" + _THING + rb"\b)[^\r\n]{0,30}?" + _BEFORE + rb"([A-Z]{1,5}[0-9]{3,}[A-Z0-9]*|[A-Z0-9]*[A-Z][0-9][A-Z0-9]{4,}|[A-Z]{2,4}-[0-9]{4,}(?:-[A-Z0-9]+)*|[0-9A-F]{8}-[0-9A-F]{16})" + _BEHIND,
             (rb"(?i)\b" + _THING + rb"\b",), _is_number, bytes.lower, sure=False),
    Detector("contract", "number near a word for a contract",
             rb"(?i:\b" + _PAPER + rb"\b)[^\r\n]{0,24}?" + _BEFORE + rb"([0-9]{7,14}|[A-Z]{1,5}/[0-9]{2,4}/[0-9]{3,}|[A-Z]{1,5}[0-9]{4,}[A-Z0-9]*|[A-Z]{1,5}-[0-9]{3,}(?:-[A-Z0-9]+)*)" + _BEHIND,
             (rb"(?i)\b" + _PAPER + rb"\b",), _is_number, bytes.lower, sure=False),
    Detector("place", "pair of decimals near a word for a place",
             rb"(?i:\b" + _PLACE + rb"\b)[^\r\n]{0,30}?" + _BEFORE + rb"([+-]?\d{1,2}\.\d{4,9}(?:, ?| ?[/;|] ?| )[+-]?\d{1,3}\.\d{4,9})" + _BEHIND,
             (rb"\.\d{4,9}(?:, ?| ?[/;|] ?| )[+-]?\d{1,3}\.",), sure=False),
    Detector("asset", "number of a thing that replaces another", rb"(?i:\b(?:replaced (?:by|with)|swapped (?:for|with)|instead of|exchanged for)[ \t]+(?:unit |serial |s/n )?)([A-Z]{1,5}[0-9]{3,}[A-Z0-9]*|[A-Z0-9]*[A-Z][0-9][A-Z0-9]{4,})" + _BEHIND, (rb"(?i)(?:replaced (?:by|with)|swapped (?:for|with)|instead of|exchanged for)[ \t]",), _is_number, bytes.lower, sure=False),
    Detector("asset", "number behind two letters for a serial number", rb"\bSN[ \t]+([A-Z0-9]{7,20})" + _BEHIND, (rb"\bSN[ \t]",), lambda value: _is_number(value) and any(65 <= byte <= 90 for byte in value), bytes.lower, sure=False),
    Detector("asset", "digits behind a word for a thing", rb"(?i:\b(?:asset|inventory|inventar|equipment)(?:[ \t]+(?:no|nr|number|tag|id))?\.?[ \t:#]+)(\d{6,10})" + _BEHIND, (rb"(?i)\b(?:asset|inventory|inventar|equipment)(?:[ \t]+(?:no|nr|number|tag|id))?\.?[ \t:#]",), _is_number, sure=False),
    Detector("place", "coordinates that are named", rb"(?i:\b(?:lat|latitude)[ \t:]+)([+-]?\d{1,2}\.\d{3,}[ ,;]+(?i:lon|lng|long|longitude)[ \t:]+[+-]?\d{1,3}\.\d{3,})", (rb"(?i)\b(?:lat|latitude)[ \t:]",)),
)  # fmt: skip
