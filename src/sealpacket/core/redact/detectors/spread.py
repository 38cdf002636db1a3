"""Values that stand on another line, or in another element, than what tells of them."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import GROUPS, Detector, has_digit
from sealpacket.core.redact.detectors.credentials import (
    NAME_OF_A_SECRET,
    NAMES_OF_SECRETS,
    is_odd,
    is_password,
    is_secret,
)
from sealpacket.core.redact.detectors.people import NAME, TWO_NAMES, USER, are_names, is_someone, is_user

_USERS = rb"(?i:[A-Za-z0-9_.-]*(?:user|login|account|owner)(?:[_ -]?name|[_ -]?id)?)"
_PEOPLE = rb"(?i:(?:(?:full|first|last|display|contact|patron|reader|borrower|customer|real|owner|registered)[ _-]?)?name|patron|borrower|reader|customer|contact|technician|engineer)"
_SECRETS = rb"(?:" + NAME_OF_A_SECRET + rb"|(?i:[a-z0-9_.-]*[_.-](?:pass|pw|pin)))"
_MORE = rb"[a-z0-9_.-]{0,12}"

_PAIR = rb"(?i:\b(?:name|key|id|field|label)\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?)"
_VALUE = rb"(?:\\?[\"'])?,?[ \t]*\r?\n[ \t]*\\?[\"']?(?i:value|content|val|text)\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?"
_CELL = rb"<(?:key|name|td|th|dt|label|b|strong|span)(?:[ \t][^<>\r\n]*)?>\s*(?:<(?:b|strong|span)>)?"
_NEXT = rb"[ \t]*:?\s*(?:</[a-z]+>\s*){1,3}<(?:string|value|td|dd|span|data|b|i|code)(?:[ \t][^<>\r\n]*)?>\s*"
_CLOSED = rb"[ \t]*:?[ \t]*</"


def _ends_with(words: bytes) -> tuple[bytes, ...]:
    """An anchor for a name with which a line ends, in quotes or not."""
    return (rb"(?i)(?:" + words + rb")" + _MORE + rb"\\?[\"']?,?[ \t]*\r?(?m:$)",)


def _is_closed(words: bytes) -> tuple[bytes, ...]:
    """An anchor for a name that fills an element."""
    return (rb"(?i)(?:" + words + rb")" + _MORE + _CLOSED,)


SPREAD = (
    Detector("secret", "value below its name", _PAIR + _SECRETS + _VALUE + rb"([^\"'\r\n\\,}]+)", _ends_with(NAMES_OF_SECRETS + rb"|[_.-](?:pass|pw|pin)"), is_secret, lines=True),
    Detector("licence", "licence below its name", _PAIR + rb"(?i:[a-z0-9_.-]*(?:licen[cs]e|activation|registration)[a-z0-9_.-]*)" + _VALUE + rb"(" + GROUPS + rb")", _ends_with(rb"licen[cs]e|activation|registration"), has_digit, bytes.lower, lines=True),
    Detector("user", "user below his label", _PAIR + _USERS + _VALUE + USER, _ends_with(rb"user|login|account|owner"), is_user, bytes.lower, lines=True),
    Detector("secret", "secret in the next element", _CELL + NAME_OF_A_SECRET + _NEXT + rb"([^<\s][^<\r\n]*)", _is_closed(NAMES_OF_SECRETS), is_secret, lines=True),
    Detector("person", "two names in the next element", _CELL + _USERS + _NEXT + rb"(" + TWO_NAMES + rb")", _is_closed(rb"user|login|account|owner"), are_names, bytes.lower, lines=True, sure=False),
    Detector("user", "user in the next element", _CELL + _USERS + _NEXT + USER, _is_closed(rb"user|login|account|owner"), is_user, bytes.lower, lines=True),
    Detector(
        "person", "someone in the next element", _CELL + _PEOPLE + _NEXT + rb"(" + NAME + rb",? " + NAME + rb"(?:[ -]" + NAME + rb")?)",
        (rb"(?i)(?:name|patron|borrower|reader|customer|contact|technician|engineer)" + _CLOSED,), is_someone, bytes.lower, lines=True, sure=False,
    ),
    Detector(
        "secret", "secret within the element that names it", rb"<[A-Za-z][^<>\r\n]*?[ \t](?i:key|name|id)=[\"']" + NAME_OF_A_SECRET + rb"[\"'](?:[^<>\r\n]*[^/<>\r\n])?>\s*(?:<[vV]alue>\s*)?([^<\s][^<\r\n]*)",
        (rb"(?i)=[\"'][a-z0-9_.-]{0,40}(?:" + NAMES_OF_SECRETS + rb")" + _MORE + rb"[\"']",), is_secret, lines=True,
    ),
    Detector(
        "secret", "secret in a block of text", rb"[\"']?" + NAME_OF_A_SECRET + rb"[\"']?:[ \t]+[|>][+-]?[0-9]?[ \t]*\r?\n[ \t]+([^\r\n]*[^\s])",
        (rb"(?i)(?:" + NAMES_OF_SECRETS + rb")" + _MORE + rb"[\"']?:[ \t]+[|>]",), is_secret, lines=True,
    ),
    Detector(
        "secret", "secret on the line below", NAME_OF_A_SECRET + rb"[ \t]*[:=][ \t]*\r?\n[ \t]*([^\s:=<>{}\[\]#-][^\s]{3,})[ \t]*\r?(?m:$)",
        (rb"(?i)(?:" + NAMES_OF_SECRETS + rb")" + _MORE + rb"[ \t]*[:=][ \t]*\r?(?m:$)",), is_odd, lines=True, sure=False,
    ),
    Detector(
        "secret", "credential of a folded header", rb"(?i:\bauthorization:[ \t]*(?:basic|bearer|token|digest|negotiate)[ \t]*)\r?\n[ \t]+([A-Za-z0-9._~+/=-]{6,})",
        (rb"(?i)authorization:[ \t]*[a-z]{5,9}[ \t]*\r?(?m:$)",), lines=True,
    ),
    Detector(
        "secret", "value within the block that its name opens", rb"[\"']?" + NAME_OF_A_SECRET + rb"[\"']?[ \t]*[:=]?[ \t]*\{\s*[\"']?(?i:value|default|content|data|text)[\"']?[ \t]*[:=][ \t]*[\"']?([^\"'\r\n,}]+)",
        (rb"(?i)(?:" + NAMES_OF_SECRETS + rb")" + _MORE + rb"[\"']?[ \t]*[:=]?[ \t]*\{[ \t]*\r?(?m:$)",), is_secret, lines=True,
    ),
    Detector(
        "secret", "value within the element that its name opens", rb"<" + NAME_OF_A_SECRET + rb"(?:[ \t][^<>\r\n]*)?>\s*<(?:[A-Za-z]+:)?(?i:value|text|content|data|string)>([^<\r\n]+)<",
        (rb"(?i)<[a-z0-9_.:-]{0,40}(?:" + NAMES_OF_SECRETS + rb")" + _MORE + rb"(?:[ \t][^<>\r\n]{0,80})?>",), is_secret, lines=True,
    ),
    Detector(
        "secret", "list of accounts with their passwords", rb"chpasswd:[ \t]*\r?\n(?:[ \t]+expire:[^\r\n]*\r?\n)?[ \t]+list:[ \t]*[|>]?[-+]?[ \t]*\r?\n([ \t]+[^\s:]+:[^\r\n]+(?:\r?\n[ \t]+[^\s:]+:[^\s][^\r\n]*)*)",
        (rb"chpasswd:[ \t]*\r?(?m:$)",), lines=True,
    ),
    Detector("user", "administrator of a device", rb"config[ \t]+(?:system admin|user local)[ \t]*\r?\n[ \t]*edit[ \t]+\"" + USER + rb"\"", (rb"config[ \t]+(?:system admin|user local)",), is_user, bytes.lower, lines=True),
    Detector("user", "user above his password", rb"(?m:^)[ \t]*login[ \t]+" + USER + rb"[ \t]*\r?\n[ \t]*password[ \t]", (rb"(?m:^)[ \t]*login[ \t]+[A-Za-z_]",), is_user, bytes.lower, lines=True),
    Detector("user", "user on the line below", rb"(?m:^)[ \t]*[\"']?(?i:[a-z_.-]*(?:user(?:[ _-]?(?:name|id))?|uid|login|account(?:[ _-]?name)?))[\"']?[ \t]*:[ \t]*\r?\n[ \t]+[\"']?" + USER + rb"[\"']?[ \t]*\r?(?m:$)",
             (rb"(?i)(?:user|name|id|login|account)[\"']?[ \t]*:[ \t]*\r?(?m:$)",), is_user, bytes.lower, lines=True, sure=False),
    Detector("secret", "number that opens something, on the line below", rb"(?m:^)[ \t]*(?i:pin|puk|cvv|cvc|otp|passcode)[ \t]*[:=][ \t]*\r?\n[ \t]*(\d{3,8})[ \t]*\r?(?m:$)", (rb"(?i)(?m:^)[ \t]*(?:pin|puk|cvv|cvc|otp|passcode)[ \t]*[:=][ \t]*\r?(?m:$)",), lines=True),
    Detector("secret", "secret in base64 of a directory", rb"(?m:^)" + NAME_OF_A_SECRET + rb":: ([A-Za-z0-9+/]+={0,2})", (rb":: [A-Za-z0-9]",)),
    Detector("secret", "password that a prompt got", rb"(?i:\b(?:password|passphrase|passcode|pin) for [^\s:]+:[ \t]+)([^\s]+)", (rb"(?i)(?:password|passphrase|passcode|pin) for ",), is_password),
    Detector(
        "secret", "answer to a mail server that asks for user or password",
        rb"\b334 (?:UGFzc3dvcmQ6|VXNlcm5hbWU6)[^\r\n]*\r?\n(?:[^\r\n]*[ \t>\]])?([A-Za-z0-9+/]{4,}={0,2})[ \t]*\r?(?m:$)", (rb"(?:UGFzc3dvcmQ6|VXNlcm5hbWU6)",), lines=True,
    ),
    Detector(
        "person", "someone who signs a letter", rb"(?m:^)[ \t>]*(?i:(?:(?:best|kind|kindest|warm|many) )?(?:regards|thanks|wishes)|(?:yours )?(?:sincerely|faithfully|truly)|thank you|cheers|best|all the best|thx|ta|br|kr|mfg|vg|lg|mit freundlichen gr(?:\xc3\xbc\xc3\x9f|u|ue)[a-z]*|viele gr\xc3\xbc\xc3\x9fe|cordialement|saludos|groeten)[,.!]?[ \t]*\r?\n(?:[ \t>]*\r?\n){0,2}[ \t>]*(" + NAME + rb"(?:[ ][A-Z]\.)?(?:[ -]" + NAME + rb"){0,2})[ \t]*\r?(?m:$)",
        (rb"(?i)(?:regards|thanks|wishes|sincerely|faithfully|truly|thank you|cheers|best|thx|ta|br|kr|mfg|vg|lg|gr\xc3\xbc\xc3\x9f[a-z]{1,3}|gru(?:ss|\xc3\x9f)[a-z]{0,3}|gruess[a-z]{0,2}|cordialement|saludos|groeten)[,.!]?[ \t]*\r?(?m:$)",),
        is_someone, bytes.lower, lines=True, sure=False,
    ),
    Detector("person", "name of a card", rb"(?m:^)(?:N|FN|NICKNAME)(?:;[^:\r\n]*)?:([^\r\n]*[^\r\n;])", (rb"(?m:^)(?:N|FN|NICKNAME)[;:]",), lambda value: any(byte > 64 for byte in value), bytes.lower),
    Detector("birth", "day of birth of a card", rb"(?m:^)BDAY(?:;[^:\r\n]*)?:([0-9-]{6,10})", (rb"(?m:^)BDAY",)),
    Detector("address", "place of a date in a calendar", rb"(?m:^)LOCATION(?:;[^:\r\n]*)?:([^\r\n]*[^\r\n;])", (rb"(?m:^)LOCATION[;:]",), has_digit, bytes.lower, sure=False),
    Detector("address", "address of a card", rb"(?m:^)(?:ADR|LABEL)(?:;[^:\r\n]*)?:([^\r\n]*[^\r\n;])", (rb"(?m:^)(?:ADR|LABEL)[;:]",), canonical=bytes.lower),
    Detector("user", "account in a list of accounts", rb"(?m:^)[ \t]*-?[ \t]*[\"']?(?:name|login|id)[\"']?:[ \t]+[\"']?" + USER + rb"[\"']?[ \t]*\r?\n[ \t]+[\"']?(?:full|full_?name|real_?name|mail|e-?mail|groups?|uid|gid|shell|gecos|sudo|ssh_[a-z_]+|phone|home|comment|lock_passwd)[\"']?:",
             (rb"(?m:^)[ \t]*-?[ \t]*[\"']?(?:name|login|id)[\"']?:[ \t]",), is_user, bytes.lower, lines=True, sure=False),
    Detector("hash", "hash below an account", rb"(?m:^)[ \t]*[\"']?(?i:login|user|user_?name|account|name)[\"']?:[ \t]+\S+[ \t]*\r?\n[ \t]*[\"']?(?i:hash|digest|pw|pw_?hash)[\"']?:[ \t]+[\"']?([0-9A-Fa-f]{32,128})\b", (rb"(?i)(?m:^)[ \t]*[\"']?(?:login|user|user_?name|account|name)[\"']?:[ \t]",), lines=True),
)  # fmt: skip
