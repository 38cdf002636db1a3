"""Values of a telling shape that stand near a telling word, whatever grammar is between: all of them doubtful, so that a
person looks at them first."""

from __future__ import annotations

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.detectors.base import GROUPS, Detector, digits_of, has_digit
from sealpacket.core.redact.detectors.credentials import is_odd
from sealpacket.core.redact.detectors.network import is_called, same_host

PASSWORD = rb"(?:pass(?:word|wort|wd|phrase|code|key)s?|kennwort|wachtwoord|\bpwd|\bpw\b|\bcreds?\b|\bcredentials?\b|\bsecrets?\b|\bpsk\b|\bauth\b|mot de passe|contrase[^ ]{1,2}a|(?:backup|recovery) codes?|\b(?:api|access|auth|bearer|service|deploy|refresh|sandbox)[ _-]?(?:token|key)s?)"
_THING = rb"(?:serial[a-z]*|s/n|chassis|(?:processor|system|mother|base)[ -]?board|asset|inventory|inventar[a-z]*|equipment|(?:service|property|security) tag|enclosure|identifying|fru|imei|udid|meid)"
_PARTS = rb"(?:disk|drive|unit|psu|module|battery|controller|fan|board|blade|node|switch|tape|printer|scanner|kiosk|ssd|hdd|part|router|gate|array|shelf)"
_CHANGED = (
    rb"(?:replac|swapp|remov|fail|exchang|install|return|insert|fitt)(?:ed|ing|s)?[ \t]+(?:the |a |new |old |spare )?"
    + _PARTS
    + rb"[ \t]+"
)
"""What is said of a part before its number."""
_PAPER = rb"(?:contract|agreement|entitlement|subscription|vertrags?[a-z]*|contrat|contrato|contratto|maintenance|warranty|purchase order|invoice|sla)"
_PLACE = rb"(?:gps|position|location|standort|koordinaten|coord(?:s|inates)?|site|place|geo|fix|lat(?:itude)?|posici(?:o|\xc3\xb3)n|emplacement|plaats)"

_RECORD = rb"(?:patron|borrower|reader|member|lender)(?:'?s)?[ \t](?:record|account|file|ticket|entry|profile|row|key|ref(?:erence)?|with card|having)|(?:patron|borrower)[ \t](?:lookup|search|checkout|query|request|sync|update)"

_BEFORE = rb"[ \t\"'=:,;(\[<>|/#@.]"
BEHIND = rb"(?:[ \t\"',.;:)\]}<>|&]|\r?(?m:$))"

_NO_PASSWORD = native.Pattern(
    rb"(?i)(?:[0-9a-f]+|(?:s?sha|s?md|aes|rsa|dsa|ecdsa|pkcs|pbkdf|rfc|utf|iso|base|argon|curve|secp|ed|tls|ssl|ssh|oauth|ntlm|mschap|ipv|http|rc|log|crc|des|wpa|wep|version|port|line|eth|err|error|code|step|"
    rb"attempt|re?try|thread|worker|job|node|level|tty|pts|vlan|slot|host|server|user|test|group|page|table|column|str|int|uint|float|win|python|perl|java|xfree|update|latin|charset|cp|python|grade|type|class|mode)[-_]?\d+[a-z]?)"
)
_NO_NUMBER = native.Pattern(
    rb"(?:RFC|ISO|CVE|PEP|ORA|ERR|IEC|ITU|UTF|SHA|AES|ANSI|IEEE|REV|VER|BUILD|KB|HF|SP|INC|CHG|REQ|TKT|CASE|MSG|E|W|I|F)-?\d[A-Z0-9-]*|(?:19|20)\d\d(?:0[1-9]|1[0-2])(?:[0-2]\d|3[01])(?:[0-2]\d[0-5]\d(?:[0-5]\d)?)?|1[5-9]\d{8}(?:\d{3})?|(?:19|20)\d\d-(?:(?:19|20)\d\d|\d\d(?:-\d\d)?)|[0-9A-F]{16,}"
)
"""A standard, an error, an update, a ticket, a date, a moment, a certificate's number."""


def _is_password(value: bytes) -> bool:
    """A word with digits that is no algorithm, no part of a machine and no digest."""
    return len(value) >= 6 and is_told(value)


_NO_VALUE = native.Pattern(
    rb"(?i)\d{1,4}[-/.:]\d{1,2}(?:[-/.:]\d.*)?|v?\d+(?:\.\d+)+[a-z0-9.-]*|\d+(?:[a-z]{1,4}|%|x\d+)?|(?:tls|ssl|sha|md|aes|rsa|utf|ipv|http|rfc|nt|ntlm|base)[-_v]?\d.*|/.*|.*\(.*|https?:.*|0x[0-9a-f]+|(?-i:[a-z-]*)#\d+|[a-z]+\d*(?:#|\+)[a-z-]+"
)
"""A date, a version, a number with its unit, an algorithm, a path, a call, an address."""


def is_told(value: bytes) -> bool:
    """What a sentence says that a password is: with a digit, and nothing that is told of passwords beside it."""
    value = value.rstrip(b".!?:)")
    return is_odd(value) and not _NO_VALUE.is_whole(value) and not _NO_PASSWORD.is_whole(value)


def _is_licence(value: bytes) -> bool:
    """Letters and digits in groups, and no name of a unit, a series or an identifier in a standard's form."""
    return any(48 <= byte <= 57 for byte in value) and any(byte > 64 for byte in value)


def _is_card(value: bytes) -> bool:
    return not _NO_NUMBER.is_whole(value)


def _is_number(value: bytes) -> bool:
    """Seven signs and more, three digits among them, and no standard's name or error's code."""
    return len(value) >= 7 and len(digits_of(value)) >= 3 and not _NO_NUMBER.is_whole(value)


NEARBY = (
    Detector("secret", "word with digits near a word for a password",
             rb"(?i:" + PASSWORD + rb"[a-z0-9_-]{0,16})[^\r\n]{0,60}?" + _BEFORE + rb"([A-Za-z]{3,}[0-9]{2,}[!$%&*+#?]{0,3}|[A-Za-z][a-z]+[0-9]*[!$%*#][A-Za-z0-9!$%*#]{2,}|[A-Za-z]+[0-9]+[A-Za-z]+[0-9][A-Za-z0-9]*|\d{4}-\d{4}|(?:[a-z0-9]+[-_]){0,3}[A-Za-z0-9]*[A-Z][a-z]+[A-Za-z0-9]*[-_][A-Za-z0-9_-]*[0-9]|[0-9][A-Za-z]+[-_][A-Z][A-Za-z0-9_-]*)(?:[ \t\"',.;:)<>|]|\r?(?m:$))",
             (rb"(?i)" + PASSWORD,), _is_password, sure=False),
    Detector("licence", "groups of letters and digits near a word for a licence",
             rb"(?i:\b(?:activation|activate|licen[cs]e|product|registration|register(?:ed)?|unlock|install(?:ation)?|upgrade|voucher|coupon|redeem|subscription|entitlement)\b)[^\r\n]{0,30}?" + _BEFORE + rb"(" + GROUPS + rb")" + BEHIND,
             (rb"[A-Z0-9]{4}-[A-Z0-9]{4,6}-[A-Z0-9]{4}",), _is_licence, bytes.lower, sure=False),
    Detector("mac", "address of the host that a licence is for", rb"(?i:\bhost_?id[\"']?[ \t]*[:=][ \t]*[\"']?|\bSERVER[ \t][^\r\n]{1,60}?[ \t])([0-9A-Fa-f]{12})\b", (rb"(?i)host_?id[\"']?[ \t]*[:=]", rb"\bSERVER[ \t]"), None, bytes.lower),
    Detector("reader", "number of a reader's record", rb"(?i:" + _RECORD + rb")[ \t]*[:=#(]?[ \t]*(\d{8,16})" + BEHIND, (rb"(?i)" + _RECORD,), _is_card, sure=False),
    Detector("phone", "number that was called, in a name", rb"(?i:\b(?:sip|pjsip|dahdi|iax2?|local|trunk|out|in|call|called|dial(?:ed)?|rec(?:ording)?|from|to|src|dst)(?:/[a-z0-9_-]+)?[-_/])(0[1-9]\d{8,9}|\+[1-9]\d{9,13})(?:[-_.@\s,;)\"']|\r?(?m:$))", (rb"[-_/](?:0[1-9]|\+[1-9])\d{8}",), None, digits_of, sure=False),
    Detector("secret", "password at a proxy", rb"--(?:proxy|preproxy)-user[ \t=]+[\"']?[^\r\n\t :\"']+:([^\s\"']+)", (rb"proxy-user[ \t=]",)),
    Detector("host", "proxy that a command goes over", rb"(?:[ \t]--(?:proxy|preproxy|socks[45][a-z]*)[ \t=]+)[\"']?(?:[a-z0-9]+://)?(?:[^\s@/]+@)?([A-Za-z][A-Za-z0-9.-]*)(?::\d+)?(?:[\s\"'/]|(?m:$))", (rb"[ \t]--(?:proxy|preproxy|socks[45])",), is_called, same_host),
    Detector("phone", "number of a side of a call", rb"(?i:\b(?:src|dst|source|dest(?:ination)?|ani|dnis|clid|cli|calling|called|caller|callee|[ab]-?(?:number|party)|orig|term)[\"']?[ \t]*[=:][ \t]*[\"']?)(0\d{9,11}|\+\d{9,14}|00\d{9,13})" + BEHIND, (rb"[=:][ \t]{0,2}[\"']?(?:0[1-9]|00|\+)\d{8}",), None, digits_of, sure=False),
    Detector("host", "printer by its name", rb"(?i:\bprinter[\"']?[ \t]*[=:][ \t]*[\"']?)([A-Za-z][A-Za-z0-9]*(?:[-_][A-Za-z0-9]+)+)" + BEHIND, (rb"(?i)\bprinter[\"']?[ \t]*[=:]",), has_digit, bytes.lower, sure=False),
    Detector("asset", "code of a maker's service", rb"(?i:\b(?:(?:express[ _-])?(?:service|svc)|express)[ _-]code[\"']?[ \t]*[:=]?[ \t]*[\"']?)(\d{8,14})" + BEHIND, (rb"(?i)(?:service|svc|express)[ _-]code[\"']?[ \t:=]",)),
    Detector("phone", "number in brackets that begins like one of a telephone", rb" \((0[1-9]\d{8,9}|\+[1-9]\d{9,13})\)", (rb" \((?:0[1-9]|\+[1-9])\d{7}",), None, digits_of, sure=False),
    Detector("phone", "number of a card for a telephone", rb"(?i:\b(?:e?sim|iccid|usim)(?: card)?(?: no\.?| number| id)?[\"']?[ \t:=#]*[\"']?)(89\d{16,18})\b", (rb"[ \t:=#\"']89\d{16}",)),
    Detector("asset", "number near a word for a thing",
             rb"(?i:\b" + _THING + rb"\b)[^\r\n]{0,30}?" + _BEFORE + rb"([A-Z]{1,5}[0-9]{3,}[A-Z0-9]*|[A-Z0-9]*[A-Z][0-9][A-Z0-9]{4,}|[A-Z]{2,5}(?:-[A-Z]{1,5}){0,2}-[0-9]{4,}[A-Z0-9]*(?:-[A-Z0-9]+)*|[0-9A-F]{8}-[0-9A-F]{16})" + BEHIND,
             (rb"(?i)\b" + _THING + rb"\b",), _is_number, bytes.lower, sure=False),
    Detector("contract", "number near a word for a contract",
             rb"(?i:\b" + _PAPER + rb"\b)[^\r\n]{0,48}?" + _BEFORE + rb"([0-9]{7,14}|[0-9]{4,8}-[0-9]{2,6}|[A-Z]{1,5}/[0-9]{2,4}/[0-9]{3,}|[A-Z]{1,5}[0-9]{4,}[A-Z0-9]*|[A-Z]{1,5}-[0-9]{3,}(?:-[A-Z0-9]+)*)" + BEHIND,
             (rb"(?i)\b" + _PAPER + rb"\b",), _is_number, bytes.lower, sure=False),
    Detector("contract", "number of an order", rb"\b(?:P\.?O\.?|(?i:purchase order|order (?:no|number|ref)|invoice(?: no| number)?|quote(?: no| number)?|quotation))(?: ?#|[ \t:]| ?\()[ \t]*((?:[A-Z]{1,4}-?)?\d{5,12})" + BEHIND, (rb"\bP\.?O\.?[ #:]", rb"(?i)(?:order|order no|order number|order ref|invoice|invoice no|invoice number|quote|quote no|quote number|quotation)[ \t:#(]"), lambda value: _is_number(value) or len(digits_of(value)) == 6, bytes.lower, sure=False),
    Detector("place", "pair of decimals near a word for a place",
             rb"(?i:\b" + _PLACE + rb"\b)[^\r\n]{0,30}?" + _BEFORE + rb"([+-]?\d{1,2}\.\d{4,9}(?:, ?| ?[/;|] ?| )[+-]?\d{1,3}\.\d{4,9})" + BEHIND,
             (rb"\.\d{4,9}(?:, ?| ?[/;|] ?| )[+-]?\d{1,3}\.",), sure=False),
    Detector("asset", "number of a thing that replaces another", rb"(?i:\b(?:(?:replac|swapp)(?:ed|ing)\b[^\r\n]{0,60}?[ \t](?:by|with|for)|instead of|exchanged for)[ \t]+(?:(?:unit|serial|s/n|new|with|number) ){0,2})([A-Z]{1,5}[0-9]{3,}[A-Z0-9]*|[A-Z0-9]*[A-Z][0-9][A-Z0-9]{4,}|[A-Z0-9]{2,}(?:-[A-Z0-9]+)+)" + BEHIND, (rb"(?i)(?:replac|swapp)(?:ed|ing)[ \t]", rb"(?i)(?:instead of|exchanged for)[ \t]"), _is_number, bytes.lower, sure=False),
    Detector("asset", "number of a part that was changed", rb"(?i:\b" + _CHANGED + rb")([A-Z]{1,5}[0-9]{3,}[A-Z0-9]*|[A-Z0-9]*[A-Z][0-9][A-Z0-9]{4,}|[A-Z0-9]{2,}(?:-[A-Z0-9]+)+)" + BEHIND, (rb"(?i)" + _CHANGED + rb"(?-i:[A-Z0-9])",), _is_number, bytes.lower, sure=False),
    Detector("asset", "number behind two letters for a serial number", rb"\b(?:SN|sn)[ \t:#]+([A-Z0-9]{7,20}|[A-Z0-9]{2,10}(?:-[A-Z0-9]{2,10}){1,4})" + BEHIND, (rb"\b(?:SN|sn)[ \t:#]",), lambda value: _is_number(value) and any(65 <= byte <= 90 for byte in value), bytes.lower, sure=False),
    Detector("asset", "digits behind a word for a thing", rb"(?i:\b(?:asset|inventory|inventar|equipment)(?:[ \t]+(?:no|nr|number|tag|id))?\.?[ \t:#]+)(\d{6,10})" + BEHIND, (rb"(?i)\b(?:asset|inventory|inventar|equipment)(?:[ \t]+(?:no|nr|number|tag|id))?\.?[ \t:#]",), _is_number, sure=False),
    Detector("place", "coordinates that are named", rb"(?i:\b(?:lat|latitude)[ \t:]+)([+-]?\d{1,2}\.\d{3,}[ ,;]+(?i:lon|lng|long|longitude)[ \t:]+[+-]?\d{1,3}\.\d{3,})", (rb"(?i)\b(?:lat|latitude)[ \t:]",)),
)  # fmt: skip
