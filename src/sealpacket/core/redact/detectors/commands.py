"""Secrets on command lines, and in the files that commands read."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector, has_digit
from sealpacket.core.redact.detectors.credentials import (
    NAME_OF_A_SECRET,
    is_given,
    is_odd,
    is_password,
    is_secret,
    is_told,
    is_word,
)
from sealpacket.core.redact.detectors.people import USER, is_user

CONNECTS = rb"conn(?:ect(?:s|ed|ing)?)?(?:[ \t]+(?:to|as|with|using))?[ \t:]+"
"""What stands before an account, its password and a database."""


def _is_sign_in(value: bytes) -> bool:
    """A user and a password with a stroke between, the password no word of a sentence."""
    secret = value.partition(b"/")[2]
    return is_secret(secret) and (not secret.isalpha() or is_word(secret))


COMMANDS = (
    Detector(
        "secret",
        "secret that an option names and another gives",
        rb"(?:[ \t](?:-n|-k|--name|--key)[ \t=]+)"
        + NAME_OF_A_SECRET
        + rb"[ \t]+(?:-v|--value)[ \t=]+[\"']?([^\s\"']+)",
        (rb"[ \t](?:-v|--value)[ \t=]",),
        is_secret,
    ),
    Detector(
        "secret",
        "secret in a registry",
        rb"\b" + NAME_OF_A_SECRET + rb"[\"']?[ \t]+REG_(?:MULTI_|EXPAND_)?(?:SZ|BINARY)[ \t]+([^\s\"']+)",
        (rb"REG_[A-Z_]{2,12}[ \t]",),
        is_secret,
    ),
    Detector(
        "secret",
        "new password of an account",
        rb"(?i:\bnet[ \t]+user[ \t]+[^\s/]+[ \t]+)([^\s/*][^\s]*)",
        (rb"(?i)net[ \t]+user[ \t]",),
        lambda value: is_told(value) or is_word(value),
    ),
    Detector(
        "secret",
        "password of a task or a sign-in",
        rb"(?i:(?:(?m:^)|[ \t])/(?:(?:rp|pw|pass|password)[ \t:]+|p:))[\"']?([^\s\"'/*][^\s\"']*)",
        (rb"(?i)(?:(?m:^)|[ \t])/(?:(?:rp|pw|pass|password)[ \t:]|p:)",),
        lambda value: is_told(value) or is_word(value),
    ),
    Detector(
        "secret",
        "key of an encrypting command",
        rb"(?:\bopenssl\b[^\r\n]*?[ \t](?:-k|-K|-pass(?:in|out)?)[ \t]+)(?:pass:)?([^\s\"'-][^\s\"']*)",
        (rb"openssl",),
        lambda value: is_secret(value) and not value.startswith((b"env:", b"file:", b"fd:", b"stdin")),
    ),
    Detector(
        "secret",
        "text made a secret",
        rb"(?i:\bConvertTo-SecureString[ \t]+(?:-String[ \t]+)?)[\"']??([\"'][^\"'\r\n$]+[\"']|[^\s\"'$-][^\s\"']*)",
        (rb"(?i)securestring[ \t]",),
        lambda value: is_secret(value.strip(b"\"'")),
    ),
    Detector(
        "secret",
        "password of a list of sign-ins",
        rb"(?:\b(?:machine[ \t]+\S+[ \t]+)?login[ \t]+\S+[ \t]+password[ \t]+)(\S+)",
        (rb"password[ \t]+\S",),
        is_secret,
    ),
    Detector(
        "secret",
        "passphrase of a key",
        rb"(?i:\bpassphrase for [^:\r\n]{1,120}:[ \t]+)(\S[^\r\n]*)",
        (rb"(?i)passphrase for ",),
        is_secret,
    ),
    Detector(
        "secret",
        "secret on a command line",
        rb"(?i:(?m:^|[ \t\"'])--?[a-z-]*?(?:password|passwd|pass|pw|token|secret|api-?key|passphrase|(?:src|dest)?storepass|keypass)[ \t]+)[\"']?([^\s\"'<(-][^\s\"'<]*)",
        (rb"(?i)-[a-z-]*(?:password|passwd|pass|pw|token|secret|api-?key|passphrase)[ \t]",),
        is_secret,
    ),
    Detector(
        "secret",
        "password stuck to its option",
        rb"(?:[ \t]-p)([^\s\"'=-][^\s\"']*)",
        (rb"[ \t]-p[A-Za-z0-9]",),
        lambda value: len(value) >= 6 and is_odd(value) and any(65 <= b <= 90 for b in value) and not value.isupper(),
        sure=False,
    ),
    Detector(
        "secret",
        "password behind a user of a domain",
        rb"(?i:/user:[^\s]+[ \t]+)([^\s/][^\s]*)",
        (rb"(?i)/user:[^\s]+[ \t]",),
        is_password,
    ),
    Detector(
        "secret",
        "password of a directory's tool",
        rb"(?:\b(?:ldap[a-z]+|sshpass)\b[^\r\n]*?[ \t]-[wp][ \t]*)([^\s-][^\s]*)",
        (rb"(?:ldap[a-z]+|sshpass)[ \t]",),
        is_secret,
    ),
    Detector(
        "secret",
        "user and password on a command line",
        rb"(?:(?m:^|[ \t])(?:-u|--user|-U|--auth)[ \t=]*)[\"']?([A-Za-z0-9._@\\-]+:[^\s\"':]+)",
        (rb"(?:(?m:^)|[ \t])(?:-u|--user|-U|--auth)",),
    ),
    Detector(
        "secret",
        "password of a sign-in on a command line",
        rb"(?:\b(?:login|mysql|mysqldump|mariadb|smbclient|wget|curl|psexec|winexe|rdesktop|xfreerdp)\b[^\r\n]*?[ \t](?:-p[ \t]*|/p:|--(?:http-)?pass(?:word)?[ \t=]+))[\"']?([^\s\"'-][^\s\"']*)",
        (rb"[ \t](?:-p[ \t]*|/p:|--(?:http-)?pass(?:word)?[ \t=]+)[\"']?[^\s-]",),
        lambda value: is_secret(value) and not value.isdigit() and not value.startswith((b"/", b".")),
        sure=False,
    ),
    Detector(
        "secret",
        "password behind a user who signs in",
        rb"(?m:^)[ \t]*(?i:login|signin|auth)[ \t]+[A-Za-z][A-Za-z0-9._@-]*[ \t]+([^\s]+)[ \t]*\r?(?m:$)",
        (rb"(?i)(?:login|signin|auth)[ \t]+[a-z]",),
        is_given,
        sure=False,
    ),
    Detector(
        "secret",
        "password before its user on a command line",
        rb"(?:[ \t]|(?m:^))-[pP][ \t]+([^\s-]\S*)[ \t]+-[uU][ \t]",
        (rb"-[pP][ \t]+[^\s-]\S*[ \t]+-[uU]",),
        lambda value: is_secret(value) and not value.isdigit(),
    ),
    Detector(
        "secret",
        "variable that a command sets",
        rb"(?i:\b(?:set -x|set -gx|setx|setenv|export)[ \t]+)(?:"
        + NAME_OF_A_SECRET
        + rb"|(?i:[A-Za-z0-9_]*_(?:pw|pass|pin)))[ \t]+[\"']?([^\s\"'=][^\s\"']*)",
        (rb"(?i)(?:set -x|set -gx|setx|setenv|export)[ \t]",),
        is_secret,
    ),
    Detector(
        "secret",
        "sign-in of a script",
        rb"(?m:^)[ \t]*user[ \t]+[A-Za-z][A-Za-z0-9._@-]*[ \t]+([^\s]+)[ \t]*\r?(?m:$)",
        (rb"(?m:^)[ \t]*user[ \t]+[A-Za-z]",),
        is_given,
        sure=False,
    ),
    Detector(
        "secret",
        "user and password with a comma between",
        rb"(?:[ \t]-u[ \t]+)[\"']?([A-Za-z][A-Za-z0-9._-]*,[^\s\"']+)",
        (rb"[ \t]-u[ \t]+[\"']?[A-Za-z][A-Za-z0-9._-]*,",),
    ),
    Detector(
        "secret",
        "password behind a file and a user",
        rb"(?:\bhtpasswd[ \t]+-[A-Za-z]*b[A-Za-z]*[ \t]+\S+[ \t]+\S+[ \t]+)(\S+)",
        (rb"htpasswd[ \t]",),
    ),
    Detector(
        "secret",
        "password of a pair on a command line",
        rb"(?:[ \t]-[uU][ \t]*[^\s-]\S*[ \t]+-[pPw][ \t]*)[\"']?([^\s\"'-][^\s\"']*)",
        (rb"[ \t]-[uU][ \t]*[^\s-]\S*[ \t]+-[pPw]",),
        is_secret,
    ),
    Detector(
        "user",
        "user of a pair on a command line",
        rb"(?:[ \t]-[uU][ \t]*)(?:[A-Za-z0-9.-]+\\+)?" + USER + rb"[ \t]+-[pPw]",
        (rb"[ \t]-[uU][ \t]*[^\s-]\S*[ \t]+-[pPw]",),
        is_user,
        bytes.lower,
    ),
    Detector(
        "secret",
        "user and password with a percent sign between",
        rb"(?:[ \t]-U[ \t]*[\"']?(?:[A-Za-z0-9.-]+\\+)?)([A-Za-z][A-Za-z0-9._-]*%[^\s\"']+)",
        (rb"[ \t]-U[^\r\n%]{1,60}%",),
    ),
    Detector(
        "secret",
        "line of a file of passwords",
        rb":(?:\d{4,5}|\*):[^:\s]+:([A-Za-z][A-Za-z0-9_.\\-]*:(?:\\[:\\]|[^\s:]){4,})[ \t]*\r?(?m:$)",
        (rb":(?:\d{4,5}|\*):[^:\s]+:[^:\s]+:",),
        lambda value: is_password(value.partition(b":")[2]),
    ),
    Detector(
        "secret",
        "user and password of a database's sign-in",
        rb"(?i:\b" + CONNECTS + rb")([A-Za-z][A-Za-z0-9_$#]*/[^\s/@\"']+)",
        (rb"(?i)" + CONNECTS + rb"[a-z][a-z0-9_$#]*/",),
        _is_sign_in,
    ),
    Detector(
        "secret",
        "text that a script types",
        rb"(?:\bsend(?:_user)?[ \t]+(?:--[ \t]+)?\")([^\"\\\r\n]+)\\[rn]\"",
        (rb"send(?:_user)?[ \t]",),
        is_password,
        sure=False,
    ),
    Detector(
        "secret",
        "password of a command in its second option",
        rb"(?i:[ \t]/u(?:ser)?(?:[ \t]+|:)\S+[ \t]+/p(?:ass(?:word)?)?(?:[ \t]+|:))[\"']?([^\s\"'/][^\s\"']*)",
        (rb"(?i)[ \t]/p(?:ass(?:word)?)?(?:[ \t]+|:)",),
        is_secret,
    ),
    Detector(
        "secret",
        "odd value of an option for a key",
        rb"[ \t]--?(?:[a-z-]*-)?(?:key|auth|creds?|credentials?|signature|sig|code)(?:=|[ \t]+)[\"']?([^\s\"'/=-][^\s\"'/=]*)(?:[\s\"';&|)]|(?m:$))",
        (rb"[ \t]--?[a-z-]{0,12}(?:key|auth|cred|sig|code)",),
        lambda value: is_odd(value) and has_digit(value) and len(value) >= 8,
        sure=False,
    ),
)
