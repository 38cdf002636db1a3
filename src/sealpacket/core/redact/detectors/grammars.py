"""Secrets in files that have a grammar of their own: of tunnels, relays, containers, sources, directories."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector, digits_of, has_digit
from sealpacket.core.redact.detectors.credentials import NAME_OF_A_SECRET, is_odd, is_secret, is_word
from sealpacket.core.redact.detectors.listings import HOST, is_named
from sealpacket.core.redact.detectors.network import same_host
from sealpacket.core.redact.detectors.people import USER, is_user

_SECRET_NAME = rb"(?i:[A-Za-z0-9_]*(?:passwords?|passwd|passphrase|passwort|pass|pwd|secret|token|psk|api_?key|private_?key|auth_?key|pin))"
"""The name of a secret in capitals with strokes, as sources and containers have it."""
_HOST_WITH_PORT = (
    rb"(?m:^)[ \t]*(?:\[[A-Za-z0-9-]+(?:\.[A-Za-z0-9-]+)+\](?::\d+)?|[A-Za-z0-9-]+(?:\.[A-Za-z0-9-]+)+:\d+)[ \t]+"
)


def _is_no_kind(value: bytes) -> bool:
    """What a statement says of a password besides it."""
    return is_secret(value) and value.upper() not in (
        b"PASSWORD",
        b"VALUES",
        b"EXTERNALLY",
        b"GLOBALLY",
        b"RANDOM",
        b"BY",
    )


GRAMMARS = (
    Detector("secret", "secret of a dialled line", rb"[ \t]\*[ \t]+\"?([^\s\"*]{4,})\"?[ \t]+(?:\*|\"\*\"|\d{1,3}(?:\.\d{1,3}){3})[ \t]*\r?(?m:$)",
             (rb"[ \t]\*[ \t]",), lambda value: (is_odd(value) and has_digit(value)) or is_word(value), sure=False),
    Detector("secret", "secret of a tunnel", rb":[ \t]*(?:PSK|EAP|XAUTH|NTLM|PIN|PKCS12|RSA|ECDSA)[ \t]+(?:[^\s\"]+[ \t]+)?\"([^\"\r\n]+)\"",
             (rb"(?:PSK|EAP|XAUTH|NTLM|PIN|PKCS12|RSA|ECDSA)[ \t]",)),
    Detector("secret", "password that is kept in plain letters", rb"\{(?i:plain|clear|cleartext|plaintext|noop|cram-md5|digest-md5|scram-sha-\d+)\}([^\s:,;\"'<>(){}]{3,})",
             (rb"\{(?i:plain|clear|cleartext|plaintext|noop|cram-md5|digest-md5|scram-sha-\d+)\}",)),
    Detector("secret", "secret that is kept encrypted", rb"\{(?i:cipher|aes(?:-?\d+)?|3?des|rsa|encrypted|enc|xor|base64|vault)\}([A-Za-z0-9+/=_.$:-]{8,})",
             (rb"\{(?i:cipher|aes|3?des|rsa|encrypted|enc|xor|base64|vault)[-0-9]{0,4}\}",)),
    Detector("secret", "secret that is kept encrypted, in brackets", rb"\b(?:ENC|DEC|ENCRYPTED|CRYPT|Encrypted|encrypted)\(([A-Za-z0-9+/=_.-]{8,})\)",
             (rb"(?:ENC|DEC|ENCRYPTED|CRYPT|Encrypted|encrypted)\(",), lambda value: has_digit(value) or value.endswith(b"=")),
    Detector("secret", "user and password of a relay", _HOST_WITH_PORT + rb"([A-Za-z0-9._%+@-]+:[^\s:]+)[ \t]*\r?(?m:$)", (rb"[A-Za-z]:\d{2,5}[ \t]+[A-Za-z0-9._%+@-]", rb"(?m:^)[ \t]*\[[A-Za-z0-9-]+\."), lambda value: b"://" not in value),
    Detector("hash", "hashed password of a controller", rb"\b(?i:hashed[a-z]*password)[ \t]+(\d{1,2}:[0-9A-Fa-f]{32,})\b", (rb"(?i)hashed[a-z]{0,12}password[ \t]",)),
    Detector("secret", "secret that a source defines", rb"(?m:^)[ \t]*#[ \t]*define[ \t]+" + _SECRET_NAME + rb"[ \t]+[LuU8]{0,2}\"([^\s\"]+)\"", (rb"#[ \t]*define[ \t]",), lambda value: is_secret(value) and has_digit(value)),
    Detector("secret", "secret of a container", rb"(?m:^)[ \t]*(?i:env|arg)[ \t]+" + _SECRET_NAME + rb"[ \t]+[\"']?([^\s\"'=][^\s\"']*)", (rb"(?i)(?m:^)[ \t]*(?:env|arg)[ \t]",), is_secret),
    Detector("secret", "password of a statement, without quotes", rb"\bIDENTIFIED[ \t]+BY[ \t]+([^\s\"';,()]{3,})", (rb"IDENTIFIED[ \t]+BY[ \t]",), _is_no_kind),
    Detector("secret", "password of a statement in small letters", rb"(?i:\bidentified[ \t]+by[ \t]+)([^\s\"';,()%][^\s\"';,()]{3,})", (rb"(?i)identified[ \t]+by[ \t]",), lambda value: is_odd(value) and has_digit(value)),
    Detector("secret", "word that a statement gives to an account", rb"(?i:\b(?:alter|create|grant)\b[^\r\n]{0,80}?\bidentified[ \t]+by[ \t]+)\"?([A-Za-z]{5,30})\"?(?:[ \t;,]|\r?(?m:$))", (rb"(?i)identified[ \t]+by[ \t]",), is_word),
    Detector("secret", "password of a store of keys and values", rb"(?m:^)[ \t]*(?i:requirepass|masterauth|sentinel[ \t]+auth-pass[ \t]+\S+)[ \t]+\"?([^\s\"]+)", (rb"(?i)(?:requirepass|masterauth|auth-pass)[ \t]",)),
    Detector("secret", "password in a list of rights", rb"(?m:^)[ \t]*(?i:acl[ \t]+setuser|user)[ \t]+\S+[ \t][^\r\n]*?(?:[ \t]|^)[>#]([^\s>#]{4,})", (rb"(?i)(?m:^)[ \t]*(?:acl[ \t]+setuser|user)[ \t]",), is_secret, sure=False),
    Detector("host", "hash of a known host", rb"(\|1\|[A-Za-z0-9+/]{27}=\|[A-Za-z0-9+/]{27}=)", (rb"\|1\|[A-Za-z0-9+/]{8}",)),
    Detector("secret", "password that a command writes for another", rb"(?i:pass(?:word)?-?file[ \t=]+<\([ \t]*(?:echo|printf)[ \t]+(?:-n[ \t]+)?)[\"']?([^\s\"')]+)", (rb"<\([ \t]*(?:echo|printf)",)),
    Detector("secret", "user and password behind a domain", rb"(?:\bsmbclient\b[^\r\n]*?)?[ \t]-U[ \t]*[\"']?[A-Za-z0-9._-]+[/\\]+([A-Za-z][A-Za-z0-9._-]*%[^\s\"']+)", (rb"[ \t]-U",)),
    Detector("secret", "password behind a user, at a prompt", rb"(?i:(?:(?m:^)|[ \t])(?:[ls]?ftps?|lftp)>[ \t]*(?:user|login|open -u)[ \t]+)[^\s,]+[ \t,]+([^\s,]+)", (rb"(?i)ftps?>[ \t]*(?:user|login|open)",)),
    Detector("user", "user at a prompt", rb"(?i:(?:(?m:^)|[ \t])(?:[ls]?ftps?|lftp)>[ \t]*(?:user|login|open -u)[ \t]+)" + USER, (rb"(?i)ftps?>[ \t]*(?:user|login|open)",), is_user, bytes.lower),
    Detector("secret", "code of a sign-in", rb"\bcode=([A-Za-z0-9/_%.~-]{12,})&(?:state|scope|session_state|redirect_uri|iss|client_id)=", (rb"\bcode=",)),
    Detector("secret", "number of a lock", rb"(?i:\b(?:combination|lock[ -]?code|safe[ -]?code|alarm:?[ -]{0,12}code|gate[ -]?code|key ?pad(?: code)?)(?: for [^\r\n:]{1,40}?)?[ \t]*(?:is|=|:|#|[ \t])[ \t]*)(\d{1,2}(?:[ -]\d{1,2}){2,3}|\d{4,8})\b",
             (rb"(?i)(?:combination|(?:lock|safe|alarm|gate):?[ -]{0,12}code|key ?pad)",)),
    Detector("secret", "user and password of a tunnel", rb"<auth-user-pass>[ \t]*\r?\n([^\r\n<]+\r?\n[^\r\n<]+)", (rb"<auth-user-pass>",), lines=True),
    Detector("key", "key of many lines that is no standard's", rb"(-----BEGIN [A-Za-z0-9 ]{0,40}(?i:static key|secret key|shared key)[A-Za-z0-9 ]{0,20}-----[^-]*(?:-----END [A-Za-z0-9 ]{0,60}-----)?)",
             (rb"(?i)(?:static|secret|shared) key",), lines=True),
    Detector("hash", "hash of a database's password", rb"\b(md5[0-9a-f]{32})\b", (rb"\bmd5[0-9a-f]{4}",)),
    Detector("hash", "hash of a database's password, with a salt", rb"(SCRAM-SHA-\d{1,3}\$\d+:[A-Za-z0-9+/=]+\$[A-Za-z0-9+/=:]+)", (rb"SCRAM-SHA-\d{1,3}\$",)),
    Detector("secret", "value of a named attribute without quotes", rb"(?i:\b(?:key|name|id)=)" + NAME_OF_A_SECRET + rb"[ \t]+(?i:value|content|val)=([^\s\"'<>]+)",
             (rb"(?i)[ \t](?:value|content|val)=[^\s\"'<>]",), is_secret),
    Detector("key", "key that recovers a disk", rb"\b(\d{6}(?:-\d{6}){7})\b", (rb"\d-\d{6}-\d{6}-\d",)),
    Detector("secret", "content of an authentication", rb"<(?:[A-Za-z0-9]+:)?AuthenticationInputData>([^<\r\n]+)<", (rb"AuthenticationInputData>",)),
    Detector("reader", "someone's identifier in an element", rb"<(?:[A-Za-z0-9]+:)?(?:User|Patron|Borrower|Customer|Member)Identifier(?:Value|Primary)?>([^<\r\n]+)<", (rb"Identifier(?:Value|Primary)?>[^<]",)),
    Detector("asset", "serial number of a managed device", rb"(?i:\b[a-z0-9]*serial(?:num(?:ber)?|no)?(?:\.\d+)*[ \t]*=[ \t]*(?:string:[ \t]*)\"?)([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)", (rb"(?i)=[ \t]*string:",),
             has_digit, bytes.lower),
    Detector("asset", "serial number of a managed device by its number", rb"(?:\b(?:1|iso)\.3\.6\.1\.2\.1\.(?:47\.1\.1\.1\.1\.11|43\.5\.1\.1\.17)(?:\.\d+)+ = (?:STRING: )?\"?)([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)", (rb"(?:1|iso)\.3\.6\.1\.2\.1\.4[37]\.",),
             has_digit, bytes.lower),
    Detector("asset", "serial number behind a remark in brackets", rb"(?i:\bserial[ _-]?(?:number|no)?[ \t]*\([a-z0-9 ]{1,24}\)[ \t]*[:=][ \t]*)([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)", (rb"(?i)serial[ _-]?(?:number|no)?[ \t]*\(",),
             has_digit, bytes.lower),
    Detector("asset", "serial number below its name", rb"(?m:^)[ \t]*(?i:serial[ _-]?(?:number|no)?|identifying[ _-]?number|service[ _-]?tag|asset[ _-]?tag)[ \t]*\r?\n(?:[ \t]*\r?\n)?[ \t]*([A-Z0-9]+(?:[-/.][A-Z0-9]+)*)[ \t]*\r?(?m:$)",
             (rb"(?i)(?m:^)[ \t]*(?:serial|identifying|service|asset)[ _-]?(?:number|no|tag)?[ \t]*\r?(?m:$)",), has_digit, bytes.lower, lines=True),
    Detector("asset", "identity of a machine", rb"(?i:\b(?:hardware|system|machine|platform|product|bios|host)[ _-]?(?:uuid|guid|id)\\?[\"']?(?:[ \t]*[:=]|[ \t]+reg_sz|[ \t])[ \t]*\\?[\"']?\{?)([0-9A-Fa-f]{8}-(?:[0-9A-Fa-f]{4}-){3}[0-9A-Fa-f]{12}|[0-9a-f]{32})\b",
             (rb"(?i)(?:hardware|system|machine|platform|product|bios|host)[ _-]?(?:uuid|guid|id)[\"'\\ \t:=]",), canonical=bytes.lower),
    Detector("asset", "identity of a machine in its tables", rb"(?m:^)[ \t]*UUID:[ \t]+([0-9A-Fa-f]{8}-(?:[0-9A-Fa-f]{4}-){3}[0-9A-Fa-f]{12})[ \t]*\r?(?m:$)", (rb"(?m:^)[ \t]*UUID:",), canonical=bytes.lower),
    Detector("phone", "number in someone's remarks", rb",([0-9+][0-9 +()/-]{4,}),?[^:,\r\n]*(?:,[^:,\r\n]*)?:/(?:home|root|var|usr|srv|export|opt|nonexistent|Users)\b", (rb":/(?:home|root|var|usr|srv|export|opt|nonexistent|Users)\b",)),
    Detector("host", "name of a zone's record", rb"(?m:^)" + HOST + rb"[ \t]+(?:\d+[smhdw]?[ \t]+)?(?:IN[ \t]+(?:A|AAAA|CNAME|MX|SRV|TXT|NS|PTR|SSHFP|HINFO)[ \t]+\S|A[ \t]+\d+\.\d+\.\d|CNAME[ \t]+\S)", (rb"[ \t]IN[ \t]+[A-Z]", rb"[ \t]A[ \t]+\d+\.\d", rb"[ \t]CNAME[ \t]"), is_named, same_host),
    Detector("host", "target of a zone's record", rb"[ \t]IN[ \t]+(?:CNAME|NS|PTR|MX[ \t]+\d+|SRV[ \t]+\d+[ \t]+\d+[ \t]+\d+)[ \t]+" + HOST, (rb"IN[ \t]+(?:CNAME|NS|PTR|MX|SRV)[ \t]",), is_named, same_host),
    Detector("host", "neighbour in a table of a switch", rb"(?m:^)" + HOST + rb"[ \t]+(?:Gi|Fa|Te|Et|Fo|Hu|Tw|Po|ge-|xe-|et-)[A-Za-z]*[ -]?\d+(?:/\d+)+[ \t]", (rb"[ \t](?:Gi|Fa|Te|Et|Fo|Hu|Tw|Po|ge-|xe-|et-)[A-Za-z]{0,16}[ -]?\d+/\d",), is_named, same_host),
    Detector("asset", "world-wide name in parts", rb"(?i:\bwwn\b[a-z ]{0,12}[ \t]*[:=][ \t]*)([0-9a-f] [0-9a-f]{4} [0-9a-f] [0-9a-f]{8,10})\b", (rb"(?i)\bwwn",), canonical=bytes.lower),
    Detector("asset", "identity of a hand-held device", rb"(?i:\budid\b[\"']?[ \t:=]+[\"']?)([0-9A-Fa-f]{8}-[0-9A-Fa-f]{16}|[0-9a-f]{40})\b", (rb"(?i)udid",), canonical=bytes.lower),
    Detector("secret", "codes for when a second factor is lost", rb"(?i:\b(?:backup|recovery|scratch|emergency|rescue) codes?\\?[\"']?[ \t]*[:=]?[ \t]*\[?[ \t]*)((?:\\?[\"']?[A-Za-z0-9]{4,10}(?:[- ][A-Za-z0-9]{3,10})?\\?[\"']?[, \t]*)*[A-Za-z0-9]*\d[A-Za-z0-9-]*)",
             (rb"(?i)(?:backup|recovery|scratch|emergency|rescue) code",), lambda value: len(digits_of(value)) >= 4),
    Detector("secret", "token of a negotiated sign-in", rb"(?i:\b(?:negotiate|ntlm|kerberos|gssapi)[ \t]+)((?:YI|oY|oR|TlRM)[A-Za-z0-9+/]{6,}={0,2})", (rb"(?i)(?:negotiate|ntlm|kerberos|gssapi)[ \t]+(?:YI|oY|oR|TlRM)",)),
    Detector("place", "coordinates with their directions before", rb"\b([NS] ?\d{1,2}[ \xc2]?[ \xb0]?[ ]?\d{1,2}(?:\.\d+)?'?[, ]{1,2}[EW] ?\d{1,3}[ \xc2]?[ \xb0]? ?\d{1,2}(?:\.\d+)?)", (rb"[NS] ?\d{1,2}[ \xc2\xb0]",)),
    Detector("user", "account of a self-service desk", rb"(?m:^|[ \t:<>\]])93\d\dCN([^|\r\n]{2,})\|", (rb"CN[^|\r\n]",), canonical=bytes.lower),
)  # fmt: skip
