"""What traces, tables of the kernel, directories and scripts show."""

from __future__ import annotations

import ipaddress

from sealpacket.core.redact.detectors.base import Detector, has_digit
from sealpacket.core.redact.detectors.credentials import is_odd, is_password, is_secret
from sealpacket.core.redact.detectors.listings import is_named, is_no_word
from sealpacket.core.redact.detectors.network import same_host
from sealpacket.core.redact.detectors.people import USER, is_user

_HOST = rb"([A-Za-z][A-Za-z0-9_.-]*)"
_WORD = rb"[0-9A-F]{8}"
_WORDS = rb"((?:[0-9A-F]{8}){4}|[0-9A-F]{8})"
_PORT = rb":[0-9A-F]{4}"
_TEXT = rb"(?:[\"'][^\r\n\"']+[\"']|[A-Za-z_][\w.]*),[ \t]*"


def _dotted(value: bytes) -> bytes:
    """An address as it is usually written, of words as they lie in memory, or of digits in their order (IPv6)."""
    data = bytes.fromhex(value.decode())
    if value == value.upper():
        data = b"".join(data[at : at + 4][::-1] for at in range(0, len(data), 4))
    return str(ipaddress.ip_address(data)).encode()


def _tells(value: bytes) -> bool:
    address = ipaddress.ip_address(_dotted(value).decode())
    return not (address.is_unspecified or address.is_loopback or address.packed.endswith(b"\x7f\0\0\x01"))


def _is_numbered(value: bytes) -> bool:
    """Digits among letters, as in a serial number."""
    return has_digit(value) and any(byte > 64 for byte in value)


def _address(name: str, pattern: bytes, anchor: bytes) -> Detector:
    return Detector("ip", name, pattern, (anchor,), _tells, _dotted)


TRACES = (
    _address("end of a connection, in a table of the kernel", rb"\b" + _WORDS + _PORT + rb" (?:" + _WORD + rb"){1,4}" + _PORT + rb" ",
             rb"[0-9A-F]{8}:[0-9A-F]{4} [0-9A-F]{8}"),
    _address("other end of a connection, in a table of the kernel",
             rb"\b" + _WORDS + _PORT + rb" [0-9A-F]{2} " + _WORD + rb":" + _WORD + rb"\b", rb":[0-9A-F]{4} [0-9A-F]{2} [0-9A-F]{8}:"),
    _address("network of a route, in a table of the kernel",
             rb"(?m:^)[a-z][a-z0-9.@-]*\t(" + _WORD + rb")\t" + _WORD + rb"\t[0-9A-F]{4}\t", rb"(?m:^)[a-z][a-z0-9.@-]*\t[0-9A-F]{8}\t"),
    _address("gateway of a route, in a table of the kernel",
             rb"\t(" + _WORD + rb")\t[0-9A-F]{4}\t\d+\t\d+\t", rb"\t[0-9A-F]{8}\t[0-9A-F]{4}\t\d"),
    _address("address of an interface, in a table of the kernel",
             rb"(?m:^)([0-9a-f]{32}) [0-9a-f]{2} [0-9a-f]{2} [0-9a-f]{2} [0-9a-f]{2} ", rb"(?m:^)[0-9a-f]{32} [0-9a-f]{2} "),
    Detector("secret", "key in a trace of a radio network",
             rb"(?i:\b(?:pmk|ptk|gtk|igtk|kck|kek|tk|psk|msk|emsk|key|secret|passphrase)\b[^\r\n]{0,40}hexdump(?:_ascii)?\(len=\d+\):[ \t]+)"
             rb"([0-9a-f]{2}(?: [0-9a-f]{2})+)", (rb"hexdump(?:_ascii)?\(len=",)),
    Detector("user", "owner of a session's description", rb"(?m:^)o=" + USER + rb" \d+ \d+ IN IP[46] ", (rb"(?m:^)o=[^\s-]",), is_user, bytes.lower),
    Detector("host", "host that is signed in to, in a trace", rb"\bAuthenticating to " + _HOST + rb":\d+ as '",
             (rb"Authenticating to ",), is_named, same_host),
    Detector("user", "user who signs in, in a trace", rb":\d+ as '" + USER + rb"'", (rb":\d+ as '",), is_user, bytes.lower),
    Detector("host", "host whose key is known", rb"(?:(?m:^)|[ \t])" + _HOST + rb"(?:,[^\s]+)? (?:ssh|ecdsa|sk)-[a-z0-9@.-]+ AAAA",
             (rb" (?:ssh|ecdsa|sk)-[a-z0-9@.-]+ AAAA",), is_named, same_host),
    Detector("host", "host that may mount", rb"[ \t]" + _HOST + rb"\((?:rw|ro|a?sync|(?:in)?secure|no_[a-z_]+|sec=[a-z0-9:]+)[,)]", (rb"\((?:rw|ro|a?sync|(?:in)?secure|no_[a-z_]+|sec=[a-z0-9:]+)[,)]",),
             is_named, same_host),
    Detector("host", "realm of a ticket", rb"@ ?([A-Z][A-Z0-9-]{2,}(?:\.[A-Z0-9-]{2,})+)\b", (rb"@ ?[A-Z][A-Z0-9-]{2,}\.",), None, same_host),
    Detector("host", "realm that gives tickets", rb"/([A-Z][A-Z0-9-]*(?:\.[A-Z0-9-]+)+) ?@", (rb"\.[A-Z0-9-]+ ?@",), None, same_host),
    Detector("asset", "serial number of a stick or a disk", rb"(?i:\b(?:id_)?serial_short[ \t]*[=:][ \t]*)[\"']?([A-Z0-9][A-Z0-9._-]{4,})",
             (rb"(?i)serial_short",), None, bytes.lower),
    Detector("user", "owner of a ticket", rb"(?i:\b(?:client|default principal)[ \t]*:[ \t]+)" + USER + rb"[ \t]?@", (rb"(?i)(?:client|principal)[ \t]*:",),
             is_user, bytes.lower),
    Detector("host", "neighbour's name", rb"(?i:\b(?:chassis[._ ]name|sys(?:tem)?[ _.-]?name|neighbou?r[ _.-]name)[ \t]*[:=][ \t]*)[\"']?" + _HOST,
             (rb"(?i)(?:chassis|sys|system|neighbou?r)[ _.-]?name[ \t]*[:=]",), is_named, same_host),
    Detector("host", "workstations that an account may use", rb"(?i:\bworkstations(?: allowed)?[ \t:]+)" + _HOST, (rb"(?i)workstations",),
             lambda value: is_named(value) and value.lower() not in (b"all", b"allowed", b"any", b"none"), same_host),
    Detector("user", "whom a page was printed for", rb"(?m:^)%%For:[ \t]*\(?" + USER, (rb"%%For:",), is_user, bytes.lower),
    Detector("host", "host of a message's name", rb"(?i:\b(?:message-id|in-reply-to|references|content-id):[^\r\n]{0,200}?@)" + _HOST + rb">",
             (rb"(?i)(?:message-id|in-reply-to|references|content-id):",), is_named, same_host),
    Detector("secret", "password among a call's arguments",
             rb"(?i:\b(?:[a-z_.]*connect(?:ion)?|log_?[io]n|authenticate|bind|sign_?in)\([ \t]*)" + _TEXT + rb"(?:" + _TEXT + rb")?[\"']([^\"'\r\n]+)[\"']",
             (rb"(?i)(?:connect|connection|log_?[io]n|authenticate|bind|sign_?in)\([ \t]*[\"'a-z]",), is_password, sure=False),
    Detector("user", "user among a call's arguments",
             rb"(?i:\b[a-z_.]*connect(?:ion)?\([ \t]*)" + _TEXT + rb"[\"']" + USER + rb"[\"'],[ \t]*[\"'$]",
             (rb"(?i)connect(?:ion)?\([ \t]*[\"'a-z]",), is_user, bytes.lower, sure=False),
    Detector("user", "user before a password among a call's arguments",
             rb"(?i:\b(?:pscredential|log_?in|authenticate|sign_?in)\([ \t]*)[\"']" + USER + rb"[\"'],[ \t]*[\"'$]",
             (rb"(?i)(?:pscredential|log_?in|authenticate|sign_?in)\([ \t]*[\"']",), is_user, bytes.lower, sure=False),
    Detector("host", "host among a call's arguments", rb"(?i:\b[a-z_.]*connect\([ \t]*)[\"']" + _HOST + rb"[\"'],", (rb"(?i)connect\([ \t]*[\"']",),
             lambda value: is_named(value) and any(byte in b".-0123456789" for byte in value), same_host, sure=False),
    Detector("host", "host whose password is kept", rb"(?i:\bcmdkey[ \t][^\r\n]*/(?:add|delete|generic):)" + _HOST, (rb"(?i)cmdkey[ \t]",), is_named, same_host),
    Detector("user", "user of an option", rb"(?:(?m:^)|[ \t\"'\[(])--?(?i:(?:[a-z]+-){0,3}user|user-?name|login|account|uid)[ \t=]+[\"']?(?:[A-Za-z0-9.-]+\\+)?" + USER,
             (rb"(?:(?m:^)|[ \t\"'\[(])--?(?i:[a-z-]{0,20}user|user-?name|login|account|uid)[ \t=]+[\"']?[A-Za-z_]",), is_user, bytes.lower, sure=False),
    Detector("secret", "user and password of a telephone", rb"\bsips?:([^:@\s]+:[^@\s]+)@", (rb"sips?:[^:@\s]+:",)),
    Detector("secret", "identifier of a session", rb"(?i:\b(?:session|sid|ticket|nonce|jwt)\\?[\"']?(?:=|:[ \t]?)\\?[\"']?)([A-Za-z0-9]{10,})\b", (rb"(?i)(?:session|sid|ticket|nonce|jwt)\\?[\"']?(?:=|:[ \t]?)\\?[\"']?[a-z0-9]{6}",),
             is_odd, sure=False),
    Detector("secret", "cookie of a list", rb"(?i:\"name\":[ \t]*\"(?:[a-z0-9_.-]*(?:sess|sid|auth|token|csrf|xsrf|jwt)[a-z0-9_.-]*)\",[ \t]*\"value\":[ \t]*)\"([^\"\r\n]{6,})\"",
             (rb"\",[ \t]*\"[vV]alue", rb"\",[ \t]*\"VALUE"), is_secret),
    Detector("secret", "number that opens something, in a sentence", rb"(?i:\b(?:pin|puk|passcode|access code|door code)\b[^\r\n:=]{0,60}?[ \t](?:is|to)[ \t:]+)(\d{4,8})\b",
             (rb"(?i)(?:pin|puk|passcode|access code|door code)[ \t]",)),
    Detector("user", "someone whom a thing was given to", rb"(?i:\b(?:assigned|reassigned|escalated|forwarded|delegated)[ \t]+to[ \t]+)" + USER + rb"(?:[ \t]*(?:(?m:$)|[,.;)]|\r|by\b|on\b|at\b))",
             (rb"(?i)(?:assigned|escalated|forwarded|delegated)[ \t]+to[ \t]+[a-z_]",), is_no_word, bytes.lower, sure=False),
    Detector("user", "someone whom a message is for", rb"(?m:^)[ \t]*(?i:cc|bcc|attn|assignee|reporter)[ \t]*:[ \t]*([a-z]{2,20}\.[a-z]{2,20})[ \t]*\r?(?m:$)",
             (rb"(?i)(?m:^)[ \t]*(?:cc|bcc|attn|assignee|reporter)[ \t]*:",), is_user, bytes.lower, sure=False),
    Detector("person", "name before a marriage", rb"(?i:\bmaiden[ \t]+name[ \t]*(?:is|was|[:=])[ \t]*)([A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+)", (rb"(?i)maiden[ \t]+name",), None, bytes.lower),
    Detector("secret", "text that a command is given", rb"\b(?:sudo|su|passwd|chpasswd|cryptsetup|kinit|ldap[a-z]+)\b[^\r\n]*<<<[ \t]*[\"']?([^\s\"'$]+)",
             (rb"<<<[ \t]*[\"']?[^\s$]",), is_secret),
    Detector("host", "name of a target, an initiator or a subsystem (RFC 3720, NVM Express)", rb"\b([in]qn\.\d{4}-\d{2}\.[A-Za-z0-9.-]+(?::[^\s\"',;()\[\]<>]+)?)",
             (rb"[in]qn\.\d{4}-\d{2}\.",), canonical=bytes.lower),
    Detector("mac", "address of a lease, without marks", rb"\b(?:\d{1,3}\.){3}\d{1,3},[^,\r\n]{0,80},([0-9A-Fa-f]{12})\b",
             (rb"\.\d{1,3},[^,\r\n]{0,80},[0-9A-Fa-f]{12}\b",), canonical=bytes.lower),
    Detector("asset", "number of a disk in its device's name", rb"\b(?:ata|nvme|usb|scsi-S[A-Z]+)-[A-Za-z0-9.+-]+(?:_[A-Za-z0-9.+-]+)*?_([A-Za-z0-9]{6,24})(?:-part\d+|-\d:\d)?\b",
             (rb"(?:ata|nvme|usb|scsi-S[A-Z]{1,8})-[A-Za-z0-9]",), _is_numbered),
    Detector("national", "first line of a travel document (ICAO 9303)", rb"\b[PIVAC][A-Z<][A-Z<]{3}([A-Z]+(?:<[A-Z]+)*<<[A-Z<]*<)", (rb"[A-Z]<<[A-Z<]",)),
    Detector("national", "second line of a travel document (ICAO 9303)", rb"\b([A-Z0-9<]{9}\d[A-Z<]{3}\d{7}[MFX<]\d{7}[A-Z0-9<]{14}[0-9<]\d)",
             (rb"\d[A-Z<]{3}\d{7}[MFX<]\d{7}",)),
)  # fmt: skip
