"""Secrets in configurations of network devices: communities, shared keys, hashed and reversible lines, Wi-Fi keys."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector, has_digit
from sealpacket.core.redact.detectors.credentials import is_secret, is_told_word
from sealpacket.core.redact.detectors.network import same_host, same_mac
from sealpacket.core.redact.detectors.people import USER, is_user

_LEAD = rb"(?:[ \t]+(?:\d{1,2}|ascii(?:-text)?|hex(?:adecimal)?|text|plain|plaintext|plain-text|cleartext|clear|encrypted|cipher|simple|hash(?:ed)?|md5|sha\d*|aes(?:[ \t]\d+)?|des|3des))*[ \t]+"
"""What may stand between the word and the secret: a type, an encoding."""
_VALUE = rb"[\"']?([^\s\"';<]+)"


def _line(words: bytes) -> bytes:
    return rb"(?i:\b" + words + _LEAD + rb")" + _VALUE


def _is_device_secret(value: bytes) -> bool:
    """No word of the configuration language itself."""
    return is_secret(value) and value.lower() not in _WORDS


def _is_no_word(value: bytes) -> bool:
    """No word of a sentence about one either."""
    return _is_device_secret(value) and not value.strip(b".,;:!?()").isalpha()


def is_mixed(value: bytes) -> bool:
    """Letters and digits, or a sign that no word has."""
    text = value.rstrip(b".,:;!?)")
    return any(48 <= b <= 57 for b in text) and any(b > 64 for b in text) and not text.startswith((b"/", b"-", b"0x"))


_WORDS = frozenset(
    b"pre-shared-secret pre-shared-key pre-share rsa-sig id mode key-string key-chain set-key level type use chain rollover encryption address timeout length minimum policy history lifetime change check for from"
    b" in to ro rw view prompt authentication authorization local line aaa mode was will has been with by at this that user"
    b" md5 sha aes des priv auth of and or the a an is it as are not all no still already yet again never now only".split()
)

DEVICES = (
    Detector("secret", "SNMP community", _line(rb"(?:snmp(?:-server|-agent)?[ \t]+|set[ \t]+|v[12]c?[ \t]+)community(?:[ \t]+(?:name|string|read|write))?"),
             (rb"(?i)(?:snmp|snmp-server|snmp-agent|set|v[12]c?)[ \t]+community[ \t]",), _is_device_secret),
    Detector("secret", "SNMP community on a line of its own", rb"(?m:^)[ \t]*(?i:community(?:[ \t]+(?:name|string|read|write))?[ \t]+)[\"']?([^\s\"';<{]+)[\"']?[ \t]*(?:\{|;|\r?(?m:$)|[ \t](?i:ro|rw|view|read|write|authorization|clients)\b)",
             (rb"(?i)(?m:^)[ \t]*community[ \t]",), lambda v: _is_device_secret(v) and not v.istitle()),
    Detector("secret", "secret that a device has encrypted", rb"\bENC[ \t]+\"?([A-Za-z0-9+/]{8,}={0,2})", (rb"\bENC[ \t]",), has_digit),
    Detector("secret", "SNMP community that is no word", _line(rb"community(?:[ \t]+(?:name|string|read|write))?"),
             (rb"(?i)community[ \t]",), _is_no_word),
    Detector(
        "secret", "SNMP user's keys",
        rb"(?i:\bauth[ \t]+(?:md5|sha\d*)[ \t]+(?:0x)?)([^\s<]+)", (rb"(?i)auth[ \t]+(?:md5|sha)",), _is_device_secret,
    ),
    Detector("secret", "SNMP user's privacy key", rb"(?i:\bpriv[ \t]+(?:des|3des|aes)(?:[ \t]+\d{3})?[ \t]+(?:0x)?)([^\s<]+)",
             (rb"(?i)priv[ \t]+(?:des|3des|aes)",), _is_device_secret),
    Detector("secret", "line of an enabling or user's secret",
             _line(rb"(?:enable|username[ \t]+\S+(?:[ \t]+privilege[ \t]+\d+)?|user[ \t]+\S+|line[ \t]+\S+|login|admin)[ \t]+(?:secret|password)"),
             (rb"(?i)(?:secret|password)[ \t]",), _is_device_secret),
    Detector("secret", "password of a line", rb"(?m:^)[ \t]*(?i:(?:password|authentication)" + _LEAD + rb")" + _VALUE,
             (rb"(?i)(?:password|authentication)[ \t]",), _is_no_word),
    Detector("secret", "password of a neighbour",
             rb"(?i:\b(?:neighbor|peer|chap|pap|standby|vrrp|glbp)[ \t]\S+[ \t]+(?:password|authentication)" + _LEAD + rb")" + _VALUE,
             (rb"(?i)(?:password|authentication)[ \t]",), lambda v: _is_no_word(v) or is_told_word(v)),
    Detector("secret", "key of a server or a chain",
             _line(rb"(?:(?:tacacs|radius)(?:-server)?[ \t]+(?:(?:host|server)[ \t]+\S+[ \t]+)?key|key-string|pre-shared-key|authentication-key"
                   rb"|message-digest-key[ \t]+\d+[ \t]+md5|shared-secret|isakmp[ \t]+key|wpa-psk|wpa2-psk|wpa-passphrase|psk(?:-key)?"
                   rb"|encrypted-password|secret-key)"),
             (rb"(?i)(?:key|key-string|-key|md5|shared-secret|-psk|-passphrase|psk|encrypted-password)[ \t]",), _is_device_secret),
    Detector("secret", "password in a configuration", rb"(?i:\b(?:password|passwd|pwd)[ \t]+(?:[0-9][ \t]+)?)([^\s;<\"']{5,})",
             (rb"(?i)(?:password|passwd|pwd)[ \t]+[^\s]{1,}",), lambda v: _is_device_secret(v) and is_mixed(v) and not v.startswith(b"value="), sure=False),
    Detector("secret", "key of a server that is named by its address",
             rb"(?i:\b(?:host|server|server-private)[ \t]+\S+[ \t]+(?:\S+[ \t]+){0,2}?key[ \t]+(?:\d[ \t]+)?)([^\s<]{3,})", (rb"(?i)key[ \t]",), _is_device_secret),
    Detector("secret", "key of a wireless network", rb"(?i:\bset-key[ \t]+(?:(?:ascii|hex)[ \t]+)?(?:\d[ \t]+)?)([^\s<]{5,})", (rb"(?i)set-key[ \t]",), _is_device_secret),
    Detector("secret", "key with a type", rb"(?i:\bkey[ \t]+[0-9]{1,2}[ \t]+)([^\s<]{4,})", (rb"(?i)key[ \t]+[0-9]",)),
    Detector("secret", "key on a line of its own", rb"(?m:^)(?i:[ \t]+key[ \t]+)([^\s<]{5,})[ \t]*\r?(?m:$)",
             (rb"(?i)(?m:^)[ \t]+key[ \t]+[^\s<]{5}",), lambda v: _is_no_word(v) and not v.isdigit(), sure=False),
    Detector("secret", "key for an address", rb"(?i:\b(?:address|peer|host)[ \t]+\S+(?:[ \t]+\d\S*)?[ \t]+key[ \t]+(?:\d[ \t]+)?)([^\s<]{4,})", (rb"(?i)key[ \t]",),
             _is_no_word),
    Detector("user", "user of a device", rb"(?i:\b(?:username|snmp-server user|set system login user|user)[ \t]+)" + USER + rb"[ \t]+(?i:privilege|password|secret|nopassword|role|group|class|authentication|sshkey|auth|[a-z0-9_-]+[ \t]+v[123])\b",
             (rb"(?i)user(?:name)?[ \t]+[a-z]",), is_user, bytes.lower),
    Detector("host", "name of a managed device by its number", rb"(?:\b(?:1|iso)\.3\.6\.1\.2\.1\.1\.5\.0 = (?:STRING: )?\"?)([A-Za-z0-9][A-Za-z0-9._-]*)", (rb"1\.5\.0 = ",), canonical=same_host),
    Detector("person", "contact of a managed device by its number", rb"(?:\b(?:1|iso)\.3\.6\.1\.2\.1\.1\.4\.0 = (?:STRING: )?\"?)([^<\r\n\"]*[^<\r\n\" ])", (rb"1\.4\.0 = ",), canonical=bytes.lower),
    Detector("address", "place of a managed device by its number", rb"(?:\b(?:1|iso)\.3\.6\.1\.2\.1\.1\.6\.0 = (?:STRING: )?\"?)([^\r\n\"]+)", (rb"1\.6\.0 = ",), canonical=bytes.lower),
    Detector("mac", "address of a managed device", rb"(?i:(?:physaddress|macaddr(?:ess)?|hwaddr)[^=\r\n]{0,24}= ?(?:hex-)?string: ?\"?)([0-9A-Fa-f]{1,2}(?:[: ][0-9A-Fa-f]{1,2}){5})", (rb"(?i)string: ?\"?[0-9a-f]{1,2}[: ]",), canonical=same_mac),
    Detector("secret", "content of a wireless key", rb"(?i:\bkey content[ \t]*:[ \t]*)(\S[^\r\n<]*)", (rb"(?i)key content",)),
)  # fmt: skip
