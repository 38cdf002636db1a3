"""Passwords, tokens and credentials beside a telling name: in headers, URLs, configurations and sentences."""

from __future__ import annotations

import base64
import binascii
import math
import re
from collections import Counter

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.detectors.base import GIVES, OPENS, TAGGED, TELLS, Detector, has_digit, named
from sealpacket.core.redact.detectors.keys import looks_random
from sealpacket.core.redact.ordinary import ORDINARY, is_ordinary

NO_SECRET = (
    rb"(?i)(?:[\[\](){}<>]+|none|null|nil|true|false|yes|no|on|off|ok|not|is|was|and|or|the|set|unset|empty|required|missing|invalid|"
    rb"passwords?|passwd|users?|authentication|failed|failure|error|expired|expires|refused|rejected|changed|accepted|default|enabled|disabled|(?:scram-|hmac-)?(?:sha-?\d{1,3}|md5)(?:-plus)?|prompt|hidden|redacted|masked|"
    rb"undefined|n/a|(?:convertto|convertfrom|get|new|read|set|import)-[a-z]+|nopasswd:?|[a-z]+(?:-[a-z]+)*:|rotated|updated|reset|revoked|renewed|valid|weak|strong|stored|loaded|generated|created|deleted|removed|present|x{3,}|\*+|-+|\.+|<[^>]*>|\[[a-z _-]{0,20}\]"
    rb"|\[[a-z]{2,12}:[a-z2-7]{10}\]?|\$\{[^}]*\}|\$\([^)]*\)|\{\{[^}]*\}\}|%[A-Za-z_]+%|\$[A-Z_]{2,40})"
)
FOLDER = rb"/(?:home|var|opt|usr|root|etc|tmp|srv|mnt|run|app|data)(?:/[A-Za-z0-9._/-]*)?|~/[A-Za-z0-9._/-]*"
_IN_A_PLACEHOLDER = native.Pattern(rb"[a-z]{2,12}:[a-z2-7]{10}")

is_secret = native.Secrets(NO_SECRET, FOLDER, ORDINARY)
"""Whether the value beside a telling name can be a secret, and not a word about one, nor a folder (PWD=/home)."""


def is_told(value: bytes) -> bool:
    """What a sentence says of a password is one only if it is no word: a digit or a sign is in it."""
    return is_secret(value) and len(value.strip(b".,;:!?")) >= 4 and not value.strip(b".,;:!?)").isalpha()


def _is_bearer(value: bytes) -> bool:
    """A bearer credential (RFC 6750) has a digit or is longer than any word."""
    return len(value) >= 24 or (len(value) >= 8 and has_digit(value))


def _is_basic(value: bytes) -> bool:
    """A basic credential (RFC 7617) is base64 of something with a colon."""
    if len(value) < 8:
        return False
    try:
        return b":" in base64.b64decode(value + b"=" * (-len(value) % 4), validate=True)
    except (binascii.Error, ValueError):
        return False


def is_odd(value: bytes) -> bool:
    """What a short or doubtful name gives is a secret only if it is no word and no plain number."""
    return is_secret(value) and len(value) >= 5 and not value.isalpha() and not value.replace(b".", b"").isdigit()


_SAID_OF_IT = frozenset(
    b"wrong blank known unknown sent weak same secure plain safe stale incorrect mandatory optional expiry lifetime policy manager protected strength hashes"
    b" dialog dialogue field fields form page entry login logins hello bearer basic kerberos ldap digest anonymous guest radius mismatch rejected gone there".split()
)
"""Words that are said of a password and are none."""
HOW_IT_IS = tuple(
    b"ed ing able ible ous ory ive al ic ful less ent ant ly ect nly ary tion sion ment ness zero".split()
)
"""How words end that say how something is."""


def is_word(value: bytes) -> bool:
    """A plain word that is a password, where a name or a command leaves no doubt that one stands there."""
    word = value.strip(b".,;:!?").lower()
    return len(word) >= 5 and word.isalpha() and is_secret(word) and not is_ordinary(word) and word not in _SAID_OF_IT


def is_password(value: bytes) -> bool:
    """What a short name gives where nothing but a password can stand: also a plain word, as people choose them."""
    return is_odd(value) or is_word(value)


def is_told_word(value: bytes) -> bool:
    """A plain word that a sentence gives as a password, and that does not say how one is: outdated, missing, optional."""
    return is_word(value) and not value.strip(b".,;:!?").lower().endswith(HOW_IT_IS)


def is_said(value: bytes) -> bool:
    """What a sentence says of a password, be it a word or none."""
    return is_told(value) or is_told_word(value)


def is_given(value: bytes) -> bool:
    """What stands alone behind an account or a word for a password: odd, or a plain word."""
    return is_odd(value) or is_told_word(value)


def entropy(value: bytes) -> float:
    """Shannon's entropy in bits for each byte, of how often each occurs in the value."""
    total = len(value)
    return -sum(n / total * math.log2(n / total) for n in Counter(value).values())


def _is_dense(value: bytes) -> bool:
    """Long and random: digits and letters, three and a half bits to each character; no path, no name of words."""
    mixed = any(48 <= b <= 57 for b in value) and any(b > 64 for b in value)
    return (
        20 <= len(value) <= 512 and mixed and value.count(b"/") < 3 and value.count(b".") < 3 and entropy(value) >= 3.4
    )


NAMES_OF_SECRETS = (
    rb"passwords?|passwd|passphrase|passcode|passwort|kennwort|wachtwoord|mot[ _]?de[ _]?passe|contrasena|contrase\xc3\xb1a"
    rb"|senha|pwd|secret[_ .-]?key|secrets?|token|api[_ .-]?key|access[_ .-]?key|account[_ .-]?key|private[_ .-]?key|priv[_-]key|auth[_ .-]?key"
    rb"|(?:encryption|decryption|validation|signing|hmac|crypto|wep|wpa)[_ .-]?key|cipher[_ .-]?value|shared[_ .-]?key|master[_ .-]?key|session[_ .-]?key|licen[sc]e[_ .-]?key|product[_ .-]?key"
    rb"|serial[_ .-]?key|recovery[_ .-]?key|key[_ .-]?material|activation[_ .-]?(?:key|code)|pre-?shared-?(?:key|secret)|psk|ssid[_ .-]?key|community(?:[_ .-]?string)?|snmp-community|credentials?|session[_.-]?id|sessid"
    rb"|bindpw|bind[_.-]?pw|auth[_.-]?tok|keystorepass|storepass|key content|security key|xsrf|csrf|otp|one[_.-]?time[_.-]?code"
)
NAME_OF_A_SECRET = (
    rb"(?i:[A-Za-z0-9_.-]*(?:" + NAMES_OF_SECRETS + rb")(?:[_ .-]?(?:key|value|hash|text|id))?[0-9]{0,2})"
)
_MORE_NAMES = re.compile(rb"[&;,][A-Za-z_][A-Za-z0-9_. -]*[=:]")
"""Further names behind a value: of a query, of a connection, of a list."""
_ANCHOR = (named(rb"(?:" + NAMES_OF_SECRETS + rb")(?: (?:key|value|hash|text|id))?"),)
_TAG = rb"(?:!{1,2}[a-z]+[ \t]+)?"
"""The tag of a value in YAML."""
_BARE = rb"(\[[a-z]{2,12}:[a-z2-7]{10}\]|\{[A-Za-z0-9-]+\}[^\s,;\"'&<>]+|[^\s,;\"'&<>)}\]\\][^\s,;\"'&<>)}\]]*)"

_NAMES = native.Pattern(NAME_OF_A_SECRET)


def names_a_secret(value: bytes) -> bool:
    """Whether a text is itself the name of a secret, so that what follows it must still be looked at."""
    return _NAMES.is_whole(value)


_WHOSE = rb"(?:auth|priv|enable|router|login|sudo|ssh|key|root|store|db|smtp|ftp|my|pg|admin|user|bind|trust|ldap|mail|vpn|sa)"
"""What a password is for, where its name is one word (`authpass`)."""
_IN_WORDS = native.Pattern(
    rb"(?i:(?:[A-Za-z0-9]+[_ .-]+|"
    + _WHOSE
    + rb")*(?:"
    + NAMES_OF_SECRETS
    + rb")(?:[_ .-]?(?:key|value|hash|text|id))?[0-9]{0,2})"
)


def is_the_name_of_a_secret(value: bytes) -> bool:
    """As `names_a_secret`, but word by word: an account may end like one by chance (`votp73`)."""
    return _IN_WORDS.is_whole(value)


_BEHIND_ANOTHER = rb"[,;/(][ \t]*|\b(?:login|user(?:name)?|account)[ \t]+[^\s:,]+[ \t]+"
_LEADS = rb"(?:" + _BEHIND_ANOTHER + rb"|[ \t](?:and|und|et|y|en|e|with|mit|avec)[ \t]+)"
"""What stands before a word for a password that is not all of its sentence."""
_WORDS_FOR_IT = rb"(?:pw|pwd|passw|password|passcode|passphrase|passwort|kennwort|wachtwoord|senha|clave|mdp|p/w)"

CREDENTIALS = (
    Detector(
        "secret",
        "value in braces of a connection string",
        rb"(?i:(?:;[ \t]*)?\b(?:pwd|password)[ \t]*=[ \t]*)(\{[^}\r\n]+\})[ \t]*(?:;|(?m:$))",
        (rb"(?i)(?:pwd|password)[ \t]*=[ \t]*\{",),
        lambda value: not value.startswith((b"{{", b"{$")),
    ),
    Detector(
        "secret",
        "credentials in a URL",
        rb"\b[A-Za-z][A-Za-z0-9+.-]*:(?:\\?/){2}([^\s/@:\"'<>]*:[^\s/@\"'<>]+)@",
        (rb":\\?/\\?/[^\s@]+@",),
    ),
    Detector(
        "secret",
        "digest authorisation",
        rb"(?i:\bauthorization[\"']?[ \t]*[:=][ \t]*[\"']?digest[ \t]+)((?:[a-z_]+=(?:\\?\"[^\"\\\r\n]*\\?\"|[^\s,\"<>]+)(?:,[ \t]*)?)+)",
        (rb"(?i)digest[ \t]",),
    ),
    Detector(
        "secret",
        "authorisation header",
        rb"(?i:\b(?:proxy-)?authorization\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?(?:[a-z][a-z0-9-]*[ \t]+)?)([^\s\"',;\\<>]+)",
        (rb"(?i)authorization[\"'\\\s]{0,4}[:=]",),
        lambda value: is_secret(value) and value[:1] != b"[",
    ),
    Detector(
        "secret",
        "authorisation header in brackets",
        rb"(?i:\bauthorization\\?[\"']?[ \t]*[:=][ \t]*\[\\?[\"']?(?:[a-z][a-z0-9-]*[ \t]+)?)([^\s\"',;\\<>\[\]]+)\\?[\"']?\]",
        (rb"(?i)authorization\\?[\"']?[ \t]*[:=][ \t]*\[",),
        is_secret,
    ),
    Detector(
        "secret",
        "cookie header",
        rb"(?i:\b(?:set-)?cookie\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?)([^\r\n\"'<]+)",
        (rb"(?i)cookie[\"'\\\s]{0,4}[:=]",),
        is_secret,
    ),
    Detector(
        "secret", "bearer credential", rb"(?i:\bbearer[ \t]+)([A-Za-z0-9._~+/=-]+)", (rb"(?i)bearer[ \t]",), _is_bearer
    ),
    Detector("secret", "basic credential", rb"(?i:\bbasic[ \t]+)([A-Za-z0-9+/=]+)", (rb"(?i)basic[ \t]",), _is_basic),
    Detector(
        "secret",
        "value of a named attribute",
        rb"(?i:\b(?:key|name|id)\\?[\"']?[=:][ \t]*\\?[\"']"
        + NAME_OF_A_SECRET
        + rb"\\?[\"'],?[ \t]*\\?[\"']?(?:value|content|val)\\?[\"']?[=:][ \t]*\\?[\"'])"
        rb"([^\"'\r\n\\]+)",
        (rb"(?i)(?:value|content|val)[\"'\\]{0,2}[=:]",),
        is_secret,
    ),
    Detector(
        "secret",
        "password in a connection string",
        rb"(?i:;[ \t]*(?:password|pwd)[ \t]*=[ \t]*)([^;\r\n\"'<]+)",
        (rb"(?i);[ \t]*(?:password|pwd)[ \t]*=",),
        is_secret,
    ),
    Detector(
        "secret",
        "number that opens something",
        rb"(?:(?i:\b(?:[A-Za-z0-9]+[_-])?(?:pin|puk|cvv|cvc|t?otp|[m2]fa|pin[_ .-]?code|access[_ .-]?code|door[_ .-]?code|mfa[_ .-]?code))|\b[A-Za-z0-9]*[a-z](?:Pin|PIN|Puk|PUK|Cvv|Otp|PinCode|Passcode)"
        + rb")"
        + GIVES
        + OPENS
        + rb"(\d+)\b",
        (named(rb"pin|puk|cvv|cvc|otp|[m2]fa|code"),),
        lambda value: 2 < len(value) < 11,
    ),
    Detector(
        "secret",
        "number on a card's back",
        rb"(?i:\b(?:cvv2?|cvc2?|security[ _-]code)[ \t]+(?:is[ \t]+)?)(\d{3,4})\b",
        (rb"(?i)(?:cvv2?|cvc2?|code)[ \t]+(?:is[ \t]+)?\d",),
    ),
    Detector(
        "secret",
        "named secret in double quotes",
        NAME_OF_A_SECRET + GIVES + rb'[brufBRUF]{0,2}"((?:[^"\r\n\\]|\\[^\r\n])+)',
        _ANCHOR,
        is_secret,
    ),
    Detector(
        "secret",
        "named secret in quotes that are escaped",
        NAME_OF_A_SECRET + GIVES + rb'\\+"((?:[^"\r\n\\]|\\[^"\r\n])+)',
        _ANCHOR,
        is_secret,
    ),
    Detector(
        "secret",
        "named secret in quotes",
        NAME_OF_A_SECRET + GIVES + rb"[brufBRUF]{0,2}'((?:[^'\r\n]|'')+)",
        _ANCHOR,
        is_secret,
    ),
    Detector(
        "secret",
        "named secret that is the rest of a line",
        rb"(?m:^)[ \t]*(?i:export[ \t]+|set[ \t]+|-D)?"
        + NAME_OF_A_SECRET
        + rb"[ \t]*[=:][ \t]*([^\s\"'][^\s]*[&;,\\][^\s]*[^\s,;])[ \t]*\r?(?m:$)",
        _ANCHOR,
        lambda value: is_secret(value) and not _MORE_NAMES.search(value),
    ),
    Detector("secret", "named secret", NAME_OF_A_SECRET + GIVES + _TAG + _BARE, _ANCHOR, is_secret),
    Detector(
        "secret",
        "secret under a short name, in quotes",
        rb"(?i:\b(?:[A-Za-z0-9_-]*[_-])?(?:pass|pw|p/w|pin|puk)" + GIVES + rb")[\"']([^\"'\r\n\\]+)[\"']",
        (named(rb"pass|pw|p/w|pin|puk"),),
        is_secret,
    ),
    Detector(
        "secret",
        "password that a sentence tells",
        rb"(?i:\b(?:passwords?|passwd|pass[ ]?phrase|passcode|pass[ ]?code|pin|pwd?|token|secret|community string|shared secret|(?:wi-?fi|wlan|wireless|network|psk|api|access|guest|backup|recovery|encryption|master|unlock|root|shared|signing|private)[ -]key)"
        rb"(?:[ \t]+(?:for|of|on|at|to)[ \t]+[^\s:]+)?[ \t]+(?:is now|is|was|to|=|are|set to|changed to|reset to|now)[ \t]*:?[ \t]+)"
        rb"[\"'\x60(]?" + TAGGED + rb"([^\s\"'\x60<>]+)",
        (
            rb"(?i)(?:passwords?|passwd|phrase|passcode|pass code|pin|pwd?|token|secret|string|[ -]key)[ \t]+(?:is|was|to|are|now|set|changed|reset|for|of|on|at|=)[ \t:]",
        ),
        is_told,
    ),
    Detector(
        "secret",
        "default of a named variable",
        rb"\bvariable[ \t]+\"" + NAME_OF_A_SECRET + rb"\"[ \t]*\{[^\r\n}]*?\bdefault[ \t]*=[ \t]*\"([^\"\r\n]+)",
        (rb"default[ \t]*=",),
        is_secret,
    ),
    Detector(
        "secret",
        "content of a password's field",
        rb"(?i:\btype=[\"']password[\"'][^<>\r\n]*?\bvalue=)[\"']([^\"'\r\n]+)",
        (rb"(?i)type=[\"']password[\"']",),
        is_secret,
    ),
    Detector(
        "secret",
        "password in quotes that a sentence tells",
        rb"(?i:\b(?:password|passwd|passphrase|passcode|pin)[ \t]+)[\"'\x60]([^\"'\x60\r\n]+)[\"'\x60]",
        (rb"(?i)(?:passw|passp|passc|pin)[a-z]{0,8}[ \t]+[\"'\x60]",),
        lambda value: is_secret(value) and len(value) > 3,
        sure=False,
    ),
    Detector(
        "secret",
        "secret in an element",
        rb"<(?:[A-Za-z0-9]+:)?" + NAME_OF_A_SECRET + rb"(?:[ \t][^<>\r\n]*)?>([^<\r\n]+)<",
        _ANCHOR,
        is_secret,
    ),
    Detector(
        "secret",
        "secret under a name that ends with a word for it",
        rb"\b[A-Za-z0-9]*[a-z0-9](?:Pass|Pwd|Pw|Psk|Secret)" + GIVES + OPENS + rb"([^\s,;\"'&<>)}\]]+)",
        (rb"[a-z0-9](?:Pass|Pwd|Pw|Psk|Secret)" + TELLS,),
        is_password,
    ),
    Detector(
        "secret",
        "secret of a named key",
        rb"(?i:\bsecret[ \t]+)\"([^\s\"]{6,})\"",
        (rb"(?i)secret[ \t]+\"",),
        is_odd,
    ),
    Detector(
        "secret",
        "secret under a short name",
        rb"(?i:\b(?:(?:[A-Za-z0-9_-]*[_-])?(?:pass|pw|p/w|pin|puk|auth|sig|signature|sid|nonce|seed|salt)|"
        + _WHOSE
        + rb"pass)"
        + GIVES
        + rb")"
        + OPENS
        + _BARE,
        (named(rb"pass|pw|p/w|pin|puk|auth|sig|signature|sid|nonce|seed|salt"),),
        is_odd,
        sure=False,
    ),
    Detector(
        "secret",
        "word under a short name for a password",
        rb"(?i:\b(?:[A-Za-z0-9_.-]*[_.-](?:pass|pw)|(?:db|smtp|ftp|proxy|become|ssh|mail|ldap|admin|user|root) pass|"
        + _WHOSE
        + rb"(?:pass|pw)|pw|p/w)"
        + GIVES
        + rb")"
        + OPENS
        + rb"([A-Za-z]{5,30})(?:[\s\"',;&<)}\]]|\\[rn]|(?m:$))",
        (rb"(?i)(?:[_. -]pass|" + _WHOSE + rb"pass|pw|p/w)" + TELLS,),
        is_word,
        sure=False,
    ),
    Detector(
        "secret",
        "word for a user, and the password behind it",
        rb"(?i:\b(?:user(?:[_.-]?name|[_.-]?id)?|login|uid|account|usr)[\"']?[ \t]*[=:][ \t]*[\"']?[^\s\"',;&]+[\"']?[ \t]*(?:[,;&|/]|[ \t])[ \t]*[\"']?(?:pass|pin|p)[\"']?[ \t]*[=:][ \t]*)[\"']?([A-Za-z]{5,30})(?:[\s\"',;&<)}\]]|(?m:$))",
        (rb"(?i)(?:[,;&|/]|[ \t])[\"']?(?:pass|pin|p)[\"']?[ \t]*[=:][ \t]*[\"']?[a-z]",),
        is_word,
        sure=False,
    ),
    Detector(
        "secret",
        "word that a sentence gives as a password",
        rb"(?i:\b(?:passwords?|passwd|pass[ ]?phrase|passcode|pass[ ]?code|pwd?|community string|shared secret|(?:wi-?fi|wlan|wireless|psk|guest)[ -](?:[a-z]+[ -])?(?:key|password))"
        rb"(?:[ \t]+(?:for|of|on|at|to)[ \t]+[^\s:]+(?:[ \t]+[^\s:]+)??)?(?:[ \t]+(?:is now|is still|(?:(?:is|was|has been|got)[ \t]+)?(?:now[ \t]+)?(?:set|changed|reset|switched) to|is|was|=|now)[ \t]*:?|[ \t]*[:=])[ \t]*)"
        rb"[\"'\x60(]?"
        + TAGGED
        + rb"([A-Za-z]{5,30})(?:[\"'\x60),;<]|\.?[ \t]*\r?(?m:$)|\.[ \t]|[ \t]+(?:\(|and\b|but\b|for\b|until\b|if\b|on\b|by\b|last\b|this\b|today\b|yesterday\b|-))",
        (
            rb"(?i)(?:passwords?|passwd|phrase|passcode|pass code|pwd?|string|secret|[ -]key)(?:[ \t]+(?:is|was|now|set|changed|reset|for|of|on|at|to|=)[ \t:]|[ \t]*[:=][ \t]*[\"'\x60(]?[a-z]{5})",
        ),
        is_told_word,
        sure=False,
    ),
    Detector(
        "secret",
        "plain word behind a word for a password",
        rb"(?i:(?:"
        + _LEADS
        + rb"|(?m:^)|[.][ \t]*|[ \t](?:temp|new|old|current|default|root|admin|user|initial)[ \t]+)"
        + _WORDS_FOR_IT
        + rb"|(?:"
        + _BEHIND_ANOTHER
        + rb")pass)(?:[ \t]*:)?[ \t]+[\"'`]?([A-Za-z]{5,30})(?:[\"'`,;)]|\.?[ \t]*\r?(?m:$)|\.[ \t])",
        (
            rb"(?i)(?:pass|pw|pwd|passw|password|passcode|passphrase|passwort|kennwort|wachtwoord|senha|clave|mdp)(?:[ \t]*:)?[ \t]+[\"'`]?[a-z]{5}",
        ),
        is_told_word,
        sure=False,
    ),
    Detector(
        "secret",
        "word that is a password in a configuration",
        rb"(?m:^)(?i:(?:[ \t]*(?:no |set )?(?:vtp|ppp|ip|ipv6|user(?:name)?|local-user|http|ftp|aaa|crypto|wlan|ssid|area|neighbor|peer|stats|line|snmp-agent|system|mail|smtp|ntp|ldap|radius)[ \t][^\r\n]*?|[ \t]{1,4})(?:password|secret|passphrase|pass)[ \t]+(?:(?:\d|cipher|simple|plain|cleartext|clear|irreversible-cipher|encrypted|ascii)[ \t]+)?)\"?([A-Za-z]{5,30})\"?[ \t]*;?[ \t]*\r?(?m:$)",
        (rb"(?i)(?:password|secret|passphrase|pass)[ \t]+\"?[a-z0-9]",),
        is_told_word,
        sure=False,
    ),
    Detector(
        "secret",
        "password that was changed, and what it is now",
        rb"(?i:\b(?:changed|reset|updated|rotated|switched)[ \t][^\r\n:=]{0,30}?(?:password|passphrase|passcode|pin|pw|community|psk)[^\r\n:=]{0,30}?[ \t]from[ \t]+)[\"'`]?([^\s\"'`]{4,40}[\"'`]?[ \t]+to[ \t]+[\"'`]?[^\s\"'`,;]+)",
        (rb"(?i)(?:passw|passp|passc|\bpin|\bpw|community|psk)[a-z]{0,8}[ \t]",),
        lambda value: any(is_said(one) for one in value.split()),
        sure=False,
    ),
    Detector(
        "secret",
        "token in a query",
        rb"(?i:[?&;](?:[a-z_-]*key|tok|tkn|sig|signature|code|auth|sid|ticket|assertion|samlresponse|hmac|x-[a-z]{2,8}-signature)=)([^&\s\"'<>#;]+)",
        (rb"(?i)[?&;][a-z_-]{3,20}=",),
        is_odd,
    ),
    Detector(
        "secret",
        "random value near a telling name",
        rb"(?i:\b[A-Za-z0-9_.-]*(?:key|auth(?:[a-np-z0-9_.-]|\b)|cred|cert|sign|webhook|conn)[A-Za-z0-9_.-]*"
        + GIVES
        + rb")"
        + OPENS
        + rb"([A-Za-z0-9+/_=~.-]+)",
        (named(rb"key|auth|cred|cert|sign|webhook|conn"),),
        _is_dense,
        sure=False,
    ),
    Detector(
        "secret",
        "secret in an attribute of its element",
        rb"<" + NAME_OF_A_SECRET + rb"[ \t][^\r\n<>]*?(?i:value|content|text|data|val)=[\"']([^\"'\r\n]+)",
        (rb"(?i)(?:value|content|text|data|val)=[\"']",),
        is_secret,
    ),
    *(
        Detector(
            "secret",
            f"secret in a list, after {before}",
            NAME_OF_A_SECRET
            + GIVES
            + rb"\[[ \t]*(?:\\?[\"']?[^\r\n\"',\[\]\\]+\\?[\"']?,[ \t]*){%d}\\?[\"']?([^\"',\[\]\s\\]+)" % before,
            (rb"(?i)(?:" + NAMES_OF_SECRETS + rb")[a-z0-9_.-]{0,12}\\?[\"']?[ \t]*[:=>]+[ \t]*\[",),
            lambda value: is_secret(value) and len(value) >= 4 and not _IN_A_PLACEHOLDER.is_whole(value),
        )
        for before in range(5)
    ),
    Detector(
        "hash",
        "labelled hash of a password",
        rb"(?i:\b(?:nt|lm|ntlm|net-?ntlm|md5|sha-?1|password|passwd|user|shadow)[ _.-]?hash(?:es)?\\?[\"']?[ \t:=]+\\?[\"']?)([0-9A-Fa-f]{32,128})\b",
        (rb"(?i)hash(?:es)?[\"'\\ \t:=]{1,6}[0-9a-f]{8}",),
    ),
    Detector(
        "secret",
        "number that opens something, behind a blank",
        rb"(?i:\b(?:pin|puk|passcode)[ \t]+)(\d{4,8})\b",
        (rb"(?i)(?:pin|puk|passcode)[ \t]+\d{4}",),
    ),
    Detector(
        "secret",
        "community of an agent's file",
        rb"(?i:\b(?:ro|rw|trap|r[ow])community6?[ \t]+)([^\s#]+)",
        (rb"(?i)community6?[ \t]",),
        is_secret,
    ),
    Detector(
        "secret",
        "community of an agent's map",
        rb"(?:\bcom2sec6?[ \t]+(?:-Cn[ \t]+\S+[ \t]+)?\S+[ \t]+\S+[ \t]+)(\S+)",
        (rb"com2sec",),
        is_secret,
    ),
    Detector(
        "secret",
        "key of an agent's user",
        rb"(?i:\bcreateuser[ \t]+\S+[ \t]+(?:md5|sha\d*(?:-\d+)?)[ \t]+)[\"']?([^\s\"']+)",
        (rb"(?i)createuser[ \t]",),
    ),
    Detector(
        "secret",
        "privacy key of an agent's user",
        rb"(?i:\bcreateuser[ \t]+\S+[^\r\n]*?[ \t](?:aes\d*|des)[ \t]+)[\"']?([^\s\"']+)",
        (rb"(?i)createuser[ \t]",),
    ),
    Detector(
        "user",
        "user of an agent",
        rb"(?i:\bcreateuser[ \t]+)([A-Za-z_][A-Za-z0-9._-]*)",
        (rb"(?i)createuser[ \t]",),
        canonical=bytes.lower,
    ),
    Detector(
        "secret",
        "secret that peers share",
        rb"(?i:\b(?:pre-shared-(?:secret|key)|shared-secret)[ \t]+(?:(?:local|remote|ascii|ascii-text|hex|plain)[ \t]+)?)[\"']?([^\s\"';{]+)",
        (rb"(?i)(?:pre-shared-|shared-secret)",),
        lambda value: (
            is_secret(value)
            and value.lower()
            not in (b"local", b"remote", b"address", b"key", b"hex", b"ascii-text", b"ascii", b"plain")
        ),
    ),
    Detector(
        "secret",
        "secret in an element with a short name",
        rb"(?i:<(?:[a-z0-9]+:)?(?:pass|pw|pwd|pin|psk|otp)(?:[ \t][^<>\r\n]*)?>)([^<>\r\n]+)</",
        (rb"(?i)<(?:[a-z0-9]+:)?(?:pass|pw|pwd|pin|psk|otp)[ \t>]",),
        is_secret,
    ),
    Detector(
        "secret",
        "second of two arguments",
        rb"(?i:\b(?:auth|basic_?auth|login|log_in|sign_?in|authenticate|credentials?|connect|bind|simple_bind_s?)[ \t]*=?[ \t]*\([ \t]*)[brufBRUF]{0,2}[\"'][^\r\n\"']+[\"'][ \t]*,[ \t]*(?:[a-z_]+=)?[brufBRUF]{0,2}[\"']([^\"'\r\n]+)[\"']",
        (
            rb"(?i)(?:auth|login|log_in|in|authenticate|credentials?|connect|bind|bind_s)[ \t]*=?[ \t]*\([ \t]*[bruf]{0,2}[\"']",
        ),
        is_password,
    ),
    Detector(
        "secret",
        "voucher",
        rb"(?i:\bvoucher(?:[ _.-]?code)?\\?[\"']?[ \t]*[:=#]?[ \t]*\\?[\"']?)([A-Z0-9]{4,}(?:-[A-Z0-9]{3,})*)\b",
        (rb"(?i)voucher",),
        lambda value: len(value) >= 6 and has_digit(value) and any(65 <= byte <= 90 for byte in value),
        sure=False,
    ),
    Detector(
        "secret",
        "statement of an identity provider",
        rb"(?i:\bsaml(?:response|request|art)\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?)([A-Za-z0-9%+/=_-]{16,})",
        (rb"(?i)saml(?:response|request|art)",),
    ),
    Detector(
        "secret",
        "argument behind the name of a secret",
        rb"[\"']" + NAME_OF_A_SECRET + rb"[\"'][ \t]*,[ \t]*[\"']([^\"'\r\n]+)[\"']",
        (rb"(?i)(?:" + NAMES_OF_SECRETS + rb")[a-z0-9_.-]{0,12}[\"'][ \t]*,",),
        is_odd,
    ),
    Detector(
        "secret",
        "word that a call gives to the name of a secret",
        rb"\([ \t]*[\"']" + NAME_OF_A_SECRET + rb"[\"'][ \t]*,[ \t]*[\"']([A-Za-z]{5,30})[\"'][ \t]*\)",
        (rb"(?i)(?:" + NAMES_OF_SECRETS + rb")[a-z0-9_.-]{0,12}[\"'][ \t]*,",),
        is_word,
        sure=False,
    ),
    Detector(
        "secret",
        "password behind a user and a stroke",
        rb"(?i:\b(?:login|user|username|account|user/pass(?:word)?)[ \t]*[:=][ \t]*)(?:\S+[ \t]+/[ \t]+|[^\s/:]+/)([^\s/]+)(?:[ \t,;.]|\r?(?m:$))",
        (rb"(?i)(?:login|user|username|account|pass|password)[ \t]*[:=][ \t]*[^\s/]+[ \t]*/",),
        lambda value: is_password(value) and len(value) >= 6,
        sure=False,
    ),
    Detector(
        "secret",
        "what is used to sign in",
        rb"(?i:\b(?:use|using|try|enter|with)[ \t]+)[\"'\x60]?([^\s\"'\x60]+)[\"'\x60]?(?i:[ \t]+to (?:log|sign|get) ?-?(?:in|on)|[ \t]+to (?:connect|authenticate|unlock|enter)\b)",
        (rb"(?i)[ \t]to (?:log|sign|get|connect|authenticate|unlock|enter)",),
        lambda value: is_odd(value) and has_digit(value) and len(value) >= 6,
        sure=False,
    ),
    Detector(
        "secret",
        "quoted password of an option",
        rb"(?:(?m:^)|[ \t(])-p[\"']([^\"'\r\n]+)[\"']",
        (rb"-p[\"']",),
        is_password,
    ),
    Detector(
        "secret",
        "token of a link that is sent",
        rb"(?i:/(?:reset|verify|confirm|activate|invite|unsubscribe|magic|login|join|recover|password|auth)[^\s?\"'<>]*\?[a-z]{1,4}=)([A-Za-z0-9_-]{12,})",
        (rb"(?i)/(?:reset|verify|confirm|activate|invite|unsubscribe|magic|login|join|recover|password|auth)",),
        has_digit,
    ),
    Detector(
        "secret",
        "user and password in elements that show them",
        rb"(?i:\b(?:login|log-in|user|account|credentials|creds|admin)s?[^\r\n:<]{0,12}:[ \t]*)<[a-z]+>[^<\r\n]+</[a-z]+>[ \t]*[/|][ \t]*<[a-z]+>([^<\r\n]+)<",
        (rb"</[a-z]+>[ \t]*[/|][ \t]*<[a-z]",),
        is_password,
    ),
    Detector(
        "secret",
        "password behind a user, on a line of its own",
        rb"(?m:^)[ \t]*(?:(?i:log-?ins?|users?|accounts?|credentials|creds|admin)[ \t]*:[ \t]*)?[A-Za-z][A-Za-z0-9._@-]*[ \t]+/[ \t]+([^\s/]+)[ \t]*\r?(?m:$)",
        (rb"[a-z0-9][ \t]+/[ \t]+[^\s/]",),
        lambda value: is_odd(value) and has_digit(value) and len(value) >= 6,
        sure=False,
    ),
    Detector(
        "secret",
        "value of a setting that is named after a secret",
        rb"(?i:\"(?:name|key|id)\"[ \t]*:[ \t]*\"[^\"\r\n]*(?:api|key|auth|cred|webhook|dsn|cookie|session|sig)[^\"\r\n]*\",[ \t]*\"value\"[ \t]*:[ \t]*)\"([^\"\r\n]+)\"",
        (rb"\",[ \t]*\"[vV]alue", rb"\",[ \t]*\"VALUE"),
        lambda value: len(value) >= 12 and has_digit(value) and is_odd(value) and b"/" not in value,
        sure=False,
    ),
    Detector(
        "secret",
        "credentials in a sentence",
        rb"(?i:\b(?:creds|credentials?|log-?in details?)[ \t:=]+(?:(?:are|is)[ \t:]+)?)(?:([A-Za-z][\w.@-]*[:/][^\s,;]+))",
        (rb"(?i)(?:creds|credentials?|details?)[ \t:=]+(?:(?:are|is)[ \t:]+)?[a-z][a-z0-9_.@-]*[:/]",),
        lambda value: is_odd(value) and b"://" not in value,
    ),
    Detector(
        "secret",
        "second of two credentials",
        rb"(?i:\b(?:creds|credentials?|log-?in details?) (?:are|is)[ \t:]+\S+ and )[\"'\x60]?([^\s\"'\x60]+)",
        (rb"(?i)(?:creds|credentials?|details?) (?:are|is)[ \t:]",),
        is_said,
    ),
    Detector(
        "secret",
        "what is to be used as a password",
        rb"(?i:\b(?:use|enter|try|type) )[\"'\x60]?([^\s\"'\x60]+)[\"'\x60]?(?i: as (?:the |your |a )?(?:[a-z-]+ )?(?:password|passphrase|pin|passcode|token|key))",
        (rb"(?i) as (?:the |your |a )?(?:[a-z-]+ )?(?:password|passphrase|pin|passcode|token|key)",),
        lambda value: is_secret(value) and (not value.isalpha() or is_told_word(value)),
    ),
    Detector(
        "secret",
        "key of a wireless network in a sentence",
        rb"(?i:\b(?:ssid|wi-?fi|wlan|wireless|hotspot)\b[^\r\n]*?\b(?:key|password|passphrase|psk|pw|code)[ \t:=]+)[\"']?([^\s\"',;]+)",
        (rb"(?i)\b(?:ssid|wi-?fi|wlan|wireless|hotspot)\b",),
        is_said,
    ),
    Detector(
        "secret",
        "code for one sign-in",
        rb"(?i:\b(?:otp|totp|one[ -]time (?:code|password|passcode)|(?:verification|security|login|sign-?in|confirmation|authentication|auth|unlock|reset) code|your code)(?: (?:is|was|of|for \S+ is))?[ \t:=#]+)(\d{3}[ -]?\d{1,5})\b",
        (rb"(?i)(?:otp|code|password|passcode)(?: (?:is|was|of|for \S+ is))?[ \t:=#]+\d",),
    ),
    Detector(
        "secret",
        "random value behind a telling word",
        rb"(?i:\b(?:token|session|ticket|cookie|api key|access key|secret|nonce|licen[sc]e)[ \t]+)([A-Za-z0-9_+/=.-]{12,})(?:[\s,;:)\"']|(?m:$))",
        (rb"(?i)(?:token|session|ticket|cookie|key|secret|nonce|licen[sc]e)[ \t]+[a-z0-9_+/=-]{12}",),
        lambda value: looks_random(value) and not value.startswith(b"eyJ"),
        sure=False,
    ),
    Detector(
        "secret",
        "address that opens a hook",
        rb"(?i:\bhttps?://[^\s/\"'<>]*(?:hook|hooks|webhook)[^\s/\"'<>]*/)([^\s\"'<>]+)",
        (rb"(?i)hook",),
        lambda value: len(value) >= 8 and has_digit(value),
    ),
    Detector("secret", "key of a call", rb"\binline:([A-Za-z0-9+/=]{20,})", (rb"inline:",)),
    Detector(
        "hash",
        "password hash",
        rb"(\$(?:1|2[abxy]?|5|6|7|8|9|y|gy|apr1|argon2[id]{1,2}|pbkdf2[a-z0-9-]{0,8}|scrypt|sha1|md5|bcrypt-sha256)\$[A-Za-z0-9./+=,$*-]{8,})",
        (rb"\$(?:1|2|5|6|7|8|9|y|gy|apr1|argon2|pbkdf2|scrypt|sha1|md5|bcrypt)",),
    ),
    Detector(
        "hash",
        "password hash of a directory",
        rb"(\{(?:S?SHA\d{0,3}|S?MD5|CRYPT|PBKDF2[A-Z0-9-]{0,8})\}[A-Za-z0-9+/=$.]{8,})",
        (rb"\{(?:S?SHA|S?MD5|CRYPT|PBKDF2)",),
    ),
    Detector("hash", "hashes of a user list", rb":([0-9A-Fa-f]{32}:[0-9A-Fa-f]{32}):::", (rb"[0-9A-Fa-f]:::",)),
)
