"""Secrets in configurations of network devices: communities, shared keys, hashed and reversible lines, Wi-Fi keys."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector
from sealpacket.core.redact.detectors.credentials import is_secret

_LEAD = rb"(?:[ \t]+(?:\d{1,2}|ascii|hex|text|plain|plaintext|plain-text|cleartext|clear|encrypted|cipher|simple|hash(?:ed)?|md5|sha\d*|aes(?:[ \t]\d+)?|des|3des))*[ \t]+"
"""What may stand between the word and the secret: a type, an encoding."""
_VALUE = rb"[\"']?([^\s\"';<]+)"


def _line(words: bytes) -> bytes:
    return rb"(?i:\b" + words + _LEAD + rb")" + _VALUE


def _is_device_secret(value: bytes) -> bool:
    """No word of the configuration language itself."""
    return is_secret(value) and value.lower() not in _WORDS


_WORDS = frozenset(
    b"level type use chain rollover encryption address timeout length minimum policy history lifetime change check for from"
    b" in to ro rw view prompt authentication authorization local line aaa mode was will has been with by at this that user"
    b" md5 sha aes des priv auth of and or the a an is it as are not all no".split()
)

DEVICES = (
    Detector("secret", "SNMP community", _line(rb"(?:snmp-server[ \t]+)?community(?:[ \t]+(?:name|string|read|write))?"),
             (rb"(?i)community[ \t]",), _is_device_secret),
    Detector(
        "secret", "SNMP user's keys",
        rb"(?i:\bauth[ \t]+(?:md5|sha\d*)[ \t]+(?:0x)?)([^\s<]+)", (rb"(?i)auth[ \t]+(?:md5|sha)",), _is_device_secret,
    ),
    Detector("secret", "SNMP user's privacy key", rb"(?i:\bpriv[ \t]+(?:des|3des|aes)(?:[ \t]+\d{3})?[ \t]+(?:0x)?)([^\s<]+)",
             (rb"(?i)priv[ \t]+(?:des|3des|aes)",), _is_device_secret),
    Detector("secret", "line of an enabling or user's secret",
             _line(rb"(?:enable|username[ \t]+\S+(?:[ \t]+privilege[ \t]+\d+)?|user[ \t]+\S+|line[ \t]+\S+|login|admin)[ \t]+(?:secret|password)"),
             (rb"(?i)(?:secret|password)[ \t]",), _is_device_secret),
    Detector("secret", "password of a line or a neighbour",
             rb"(?i:(?:^[ \t]*|[ \t](?:neighbor|peer|chap|pap|standby)[ \t]\S+[ \t]+)(?:password|authentication)" + _LEAD + rb")" + _VALUE,
             (rb"(?i)(?:password|authentication)[ \t]",), lambda v: _is_device_secret(v) and not v.isalpha()),
    Detector("secret", "key of a server or a chain",
             _line(rb"(?:(?:tacacs|radius)(?:-server)?[ \t]+(?:host[ \t]+\S+[ \t]+)?key|key-string|pre-shared-key|authentication-key"
                   rb"|message-digest-key[ \t]+\d+[ \t]+md5|shared-secret|isakmp[ \t]+key|wpa-psk|wpa2-psk|wpa-passphrase|psk"
                   rb"|encrypted-password|secret-key)"),
             (rb"(?i)(?:key|key-string|-key|md5|shared-secret|-psk|-passphrase|psk|encrypted-password)[ \t]",), _is_device_secret),
    Detector("secret", "key with a type", rb"(?i:\bkey[ \t]+[0-9]{1,2}[ \t]+)([^\s<]{4,})", (rb"(?i)key[ \t]+[0-9]",)),
    Detector("secret", "content of a wireless key", rb"(?i:\bkey content[ \t]*:[ \t]*)(\S[^\r\n<]*)", (rb"(?i)key content",)),
)  # fmt: skip
