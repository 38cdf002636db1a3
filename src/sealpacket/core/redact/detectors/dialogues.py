"""What programs say to each other and to databases: sign-ins of mail and file transfer, statements, lists of accounts."""

from __future__ import annotations

import re

from sealpacket.core.redact.detectors.base import Detector, has_digit
from sealpacket.core.redact.detectors.credentials import NAMES_OF_SECRETS, is_secret
from sealpacket.core.redact.detectors.network import is_called, is_host, same_host
from sealpacket.core.redact.detectors.people import NAME, USER, is_someone, is_user

_SAID = rb"(?:(?m:^)|[>:\]][ \t]*|[CS]: ?|\"|[-=]{2,3}> ?)"
"""What a transcript puts before a line that one side said."""
_MOMENT = re.compile(rb"(?:19|20)\d\d(?:0[1-9]|1[0-2])(?:[0-2]\d|3[01])[0-2]\d[0-5]\d")
"""Fourteen digits that are a moment."""
_MADE = rb"(?i:\b(?:create|alter|drop|rename) (?:user|role|login) (?:if (?:not )?exists )?)"
_TEST = re.compile(rb"::|\.(?:py|js|ts|go|rs|rb|java|t|sh)$|^\d+$|/.+/")
"""What a run of tests says has passed."""
_HOME = rb":(?:/home/|/Users/|/export/)[^:\r\n]*:"

_FIXED = rb"(?:(?m:^)|[^A-Za-z0-9|])\d\d[0-9YNU ]{8,60}"
_MESSAGE = rb"(?:(?m:^)|[^A-Za-z0-9|])\d\d[0-9YNU ]{0,60}[A-Z]{2}[^\r\n]*?\|"
"""A message of a self-service desk up to one of its fields: its number, fixed fields, and others before."""

_FIELDS = (
    (b"AA", "reader"),
    (b"AD", "secret"),
    (b"AC", "secret"),
    (b"CO", "secret"),
    (b"CN", "user"),
    (b"AE", "person"),
    (b"BD", "address"),
    (b"BE", "mail"),
    (b"BF", "phone"),
    (b"PB", "birth"),
)
"""The fields of such a message that tell of someone."""
_IN_BASE64 = rb"(?:[A-Za-z0-9+/]{8,}={0,2}|[A-Za-z0-9+/]{2,}={1,2})"


def _same_hosts(value: bytes) -> bytes:
    """One host by its bare name, several as they stand."""
    return value.lower() if b"," in value else same_host(value)


DIALOGUES = (
    Detector(
        "secret", "credentials of a mail sign-in", rb"(?i:\bAUTH(?:ENTICATE)? (?:PLAIN|LOGIN|XOAUTH2|CRAM-MD5|OAUTHBEARER)[ \t]+)(" + _IN_BASE64 + rb"(?:[ \t]+" + _IN_BASE64 + rb")?)",
        (rb"(?i)AUTH(?:ENTICATE)? [A-Z0-9-]{5,11}[ \t]",),
    ),
    Detector(
        "secret", "password of a mailbox", rb"(?:\b[A-Za-z]*\d+ LOGIN (?:\"[^\"\r\n]*\"|[^\s\"\[]+) )\"?([^\s\"]+)", (rb"\d LOGIN [^\r\n]",), is_secret,
    ),
    Detector("user", "user of a mailbox", rb"(?:\b[A-Za-z]*\d+ LOGIN )\"?" + USER, (rb"\d LOGIN [^\r\n]",), is_user, canonical=bytes.lower),
    Detector("user", "user of a file transfer", _SAID + rb"USER " + USER + rb"[ \t]*\"?\r?(?m:$)", (rb"USER [A-Za-z]",), is_user, canonical=bytes.lower),
    Detector("secret", "password of a file transfer", _SAID + rb"PASS ([^\s\"]+)[ \t]*\"?\r?(?m:$)", (rb"PASS [^\s]",), lambda value: is_secret(value) and not _TEST.search(value)),
    Detector(
        "secret", "password of a database's user", rb"(?i:\bidentified (?:with [\"'\x60a-z0-9_]+ )?(?:by|as)(?: password)? )[\"']([^\"'\r\n]+)",
        (rb"(?i)identified [a-z]",), is_secret,
    ),
    Detector(
        "user", "user of a database", _MADE + rb"[\"'\x60\[]" + USER, (rb"(?i)(?:user|role|login) (?:if |[\"'\x60\[])",), is_user, canonical=bytes.lower,
    ),
    Detector(
        "user", "user of a database, unquoted", _MADE + USER + rb"(?i:[ \t]*(?:;|@|identified|with (?:login |password)|password ['\"]))",
        (rb"(?i)(?:create|alter|drop|rename) (?:user|role|login) ",), is_user, canonical=bytes.lower,
    ),
    Detector(
        "secret", "row with a secret in it",
        rb"(?i:\b(?:insert|replace) into [^()\r\n]*\([^()\r\n]*\b[a-z_]*(?:" + NAMES_OF_SECRETS + rb")[a-z_]*\b[^()\r\n]*\)[^()\r\n]*\bvalues[ \t]*\()([^\r\n]+)\)",
        (rb"(?i)values[ \t]*\(",),
    ),
    Detector(
        "secret", "secret of a dumped variable", rb"\[\"(?i:[A-Za-z0-9_.-]*(?:" + NAMES_OF_SECRETS + rb")[A-Za-z0-9_.-]*)\"\]=>[ \t]*string\(\d+\) \"([^\"\r\n]+)",
        (rb"\"\]=>[ \t]*string\(",), is_secret,
    ),
    Detector(
        "user", "user of a dumped variable", rb"\[\"(?i:[a-z_]*(?:user|login|account)(?:_?name)?)\"\]=>[ \t]*string\(\d+\) \"" + USER,
        (rb"\"\]=>[ \t]*string\(",), is_user, canonical=bytes.lower,
    ),
    Detector("user", "user of a sign-in to a file server", rb"(?:(?m:^)|[ \t:])\[" + USER + rb"\] (?:OK|FAIL)[A-Z]* LOGIN", (rb"\] (?:OK|FAIL)",), is_user, canonical=bytes.lower),
    Detector("user", "user who signs in to a file server", rb"\bUSER " + USER + rb":? (?:Login|login|\(Login|no such user)", (rb"USER [A-Za-z]",), is_user, canonical=bytes.lower),
    Detector("user", "user who becomes another", rb"(?:\bsu(?:\[\d+\])?: \(to [^)\r\n]+\) )" + USER + rb" on ", (rb"su(?:\[\d{1,7}\])?: \(to ",), is_user, canonical=bytes.lower),
    Detector("user", "user of a mail server's line", rb"(?:[ \t]A=[a-z_]+:)" + USER, (rb" A=[a-z_]+:",), is_user, canonical=bytes.lower),
    Detector(
        "user", "user of a tunnel", rb"(?:(?m:^)|[ \t\]:])" + USER + rb"/(?:\d{1,3}\.){3}\d{1,3}:\d", (rb"/\d{1,3}\.\d{1,3}\.\d{1,3}\.\d{1,3}:\d",),
        is_user, canonical=bytes.lower, sure=False,
    ),
    Detector("secret", "password that a sign-in server notes", rb"(?i:\blogin (?:ok|incorrect)[^\[\r\n]*\[[^/\]\r\n]+/)([^\]\r\n]+)\]", (rb"(?i)login (?:ok|incorrect)",), is_secret),
    Detector("user", "user that a sign-in server notes", rb"(?i:\blogin (?:ok|incorrect)[^\[\r\n]*\[)" + USER + rb"[/\]]", (rb"(?i)login (?:ok|incorrect)",), is_user, canonical=bytes.lower),
    Detector(
        "secret", "password behind a database's user", rb"(?:\b(?:sqlplus|rman|expdp|impdp|ORA-\d+)\b[^\r\n]*?[ \t][A-Za-z][A-Za-z0-9_$#]*/)([^\s/@\"']+)@", (rb"(?:sqlplus|rman|expdp|impdp|ORA-\d)",), is_secret,
    ),
    Detector(
        "secret", "user and password in a driver's address", rb"\bjdbc:[a-z0-9]+:(?:[a-z0-9]+:)?([^\s/@:\"'<>]+/[^\s/@\"'<>]+)@", (rb"jdbc:[a-z0-9]+:[^\s@]{0,80}/[^\s@]+@",), is_secret,
    ),
    Detector(
        "secret", "password of an archive", rb"(?:\b(?:7z[a-z]?|rar|unrar)\b[^\r\n]*?[ \t]-(?:h?p)|\b(?:un)?zip\b[^\r\n]*?[ \t]-P[ \t]*)[\"']?([^\s\"'-][^\s\"']*)",
        (rb"[ \t]-h?p[^\s-]", rb"zip\b[^\r\n]*-P"), is_secret,
    ),
    Detector("secret", "password behind -P", rb"(?:[ \t]-U[ \t]*\S+[ \t]+-P[ \t]*)[\"']?([^\s\"'-][^\s\"']*)", (rb"[ \t]-U[ \t]*\S+[ \t]+-P",), is_secret),
    Detector("secret", "community on a command line", rb"(?:\bsnmp[a-z]+\b[^\r\n]*?[ \t]-c[ \t]*)([^\s\"'-][^\s\"']*)", (rb"snmp[a-z]{2,12}[ \t]",), is_secret),
    Detector("secret", "keys on a command line", rb"(?:\bsnmp[a-z]+\b[^\r\n]*?[ \t]-A[ \t]*)(\S+(?:[ \t]+-x[ \t]+\S+)?(?:[ \t]+-X[ \t]+\S+)?)", (rb"snmp[a-z]{2,12}[ \t]",), is_secret),
    Detector("secret", "password in a coat of its device's", rb"(?i:\bset (?:passwd|password|psksecret|secret|private-key|key) ENC )(\S+)", (rb" ENC ",), is_secret),
    Detector(
        "host", "host on a command line", rb"(?i:[ \t]-(?:ComputerName|VMName|HostName|CN|Server|SmtpServer|VIServer|Node|Cluster|DomainController)[ \t:]+)[\"']?([A-Za-z0-9][A-Za-z0-9._-]*(?:,[ \t]*[A-Za-z0-9][A-Za-z0-9._-]*)*)", (rb"(?i)-(?:ComputerName|VMName|HostName|CN|Server|SmtpServer|VIServer|Node|Cluster|DomainController)[ \t:]",), lambda value: is_called(value.split(b",")[0]), _same_hosts,
    ),
    Detector(
        "host", "host of a database's tool", rb"(?:\b(?:sqlcmd|bcp|osql)\b[^\r\n]*?[ \t]-S[ \t]*)([A-Za-z0-9][A-Za-z0-9.-]*)", (rb"(?:sqlcmd|bcp|osql)[ \t]",), canonical=same_host,
    ),
    Detector(
        "host", "host of a sentence", rb"(?i:\bthe (?:computer|machine|workstation|server|host|node) )[\"']?([A-Za-z][A-Za-z0-9-]*\d[A-Za-z0-9-]*)", (rb"(?i)the (?:computer|machine|workstation|server|host|node) ",), is_host, same_host, sure=False,
    ),
    Detector("host", "host's own name", rb"(?m:^)[ \t]*(?:set (?:system )?)?(?:hostname|host-name|sysname|switchname) \"?([A-Za-z0-9][A-Za-z0-9._-]*)\"?[ \t]*;?[ \t]*\r?(?m:$)", (rb"(?:hostname|host-name|sysname|switchname) ",), canonical=same_host),
    Detector("host", "host before its address", rb"\b([A-Za-z][A-Za-z0-9]*(?:-[A-Za-z0-9]+)+) [(\[](?:\d{1,3}\.){3}\d{1,3}[)\]]", (rb" [(\[]\d{1,3}\.\d",),
        lambda value: is_host(value) and not value.lower().startswith((b"release", b"version", b"build", b"firmware", b"kernel", b"lib", b"rev")), same_host, sure=False),
    Detector("iban", "bank account beside its label", rb"(?i:\baccount(?: no\.?| number| nr\.?)?[ \t:#]+)(\d{8})\b", (rb"(?i)account[a-z .]{0,8}[ \t:#]+\d",), sure=False),
    Detector("user", "user before an address", rb"\b" + USER + rb"@(?:\d{1,3}\.){3}\d{1,3}\b", (rb"@\d{1,3}\.\d",), is_user, canonical=bytes.lower),
    Detector("user", "user in quotes", rb"(?i:\buser[ \t]+)[\"'\x60]" + USER + rb"[\"'\x60]", (rb"(?i)user[ \t]+[\"'\x60]",), is_user, canonical=bytes.lower),
    Detector("person", "comment of an account", rb"(?:\buser(?:add|mod)\b[^\r\n]*?[ \t](?:-c|--comment|--gecos)[ \t=]+[\"'])([^\"'\r\n]+)", (rb"user(?:add|mod)[ \t]",), canonical=bytes.lower),
    Detector(
        "user", "user of an account's tool", rb"(?:\b(?:useradd|usermod|userdel|adduser|deluser|passwd|chage|gpasswd|su|kinit)\b[^\r\n|;&]*[ \t])" + USER + rb"[ \t]*(?:\r?(?m:$)|&&)",
        (rb"(?:user(?:add|mod|del)|adduser|deluser|passwd|chage|su|kinit)[ \t]",), is_user, canonical=bytes.lower, sure=False,
    ),
    Detector(
        "user", "user whose account was changed", rb"(?i:\b(?:password|passphrase|shell|account|quota|mailbox|home) (?:was )?(?:changed|set|reset|expired|locked|unlocked|created|disabled|enabled) for (?:user )?)[\"']?" + USER,
        (rb"(?i)(?:changed|set|reset|expired|locked|created|disabled|enabled) for ",), is_user, canonical=bytes.lower,
    ),
    Detector("secret", "user and password for a list", rb"(?:\bchpasswd\b[^\r\n]*?[ \t'\"<])([A-Za-z][\w.-]*:[^\s'\"|]+)", (rb"chpasswd",)),
    Detector(
        "secret", "password that is piped", rb"(?:\b(?:echo|printf)[ \t]+(?:-n[ \t]+)?)[\"']?([^\s\"'|]+)[\"']?[ \t]*\|[ \t]*(?:sudo (?:-S|--stdin)|(?:sudo )?(?:passwd|chpasswd)|su\b|kinit|cryptsetup|[a-z]+ login)",
        (rb"\|[ \t]*(?:sudo -|sudo passwd|sudo chpasswd|passwd|chpasswd|su|kinit|cryptsetup|[a-z]+ login)",), is_secret,
    ),
    Detector("host", "host that is signed in to", rb"(?i:\b(?:ssh|scp|sftp|rsync|plink|pscp|psftp|mosh|sshfs)\b[^\r\n]*?@)([A-Za-z0-9][A-Za-z0-9._-]*)", (rb"(?i)(?:ssh|scp|sftp|rsync|plink|pscp|psftp|mosh|sshfs)[^\r\n@]+@",), is_called, same_host),
    Detector("host", "host behind credentials", rb"(?:://[^\r\n\s/@\"'<>]+@)([A-Za-z0-9][A-Za-z0-9._-]*)", (rb"://[^\s/@]+@",), is_called, same_host),
    Detector("host", "host of a share that is mounted", rb"(?:(?m:^)|[ \t\"'])//([A-Za-z0-9][A-Za-z0-9.-]*)/[A-Za-z0-9$._-]+", (rb"(?:(?m:^)|[ \t\"'])//[A-Za-z0-9]",), is_called, same_host),
    Detector(
        "host", "names in a list of hosts", rb"(?m:^)(?:\d{1,3}\.){3}\d{1,3}[ \t]+(?:localhost[ \t]+)?([A-Za-z0-9][A-Za-z0-9.-]*(?:[ \t]+[A-Za-z0-9][A-Za-z0-9.-]*)*)[ \t]*\r?(?m:$)", (rb"(?m:^)\d{1,3}\.\d{1,3}\.\d{1,3}\.\d{1,3}[ \t]+[A-Za-z]",),
        lambda value: (b"." in value or len(value.split()) > 1) and all(is_called(name) for name in value.split()), same_host,
    ),
    Detector("host", "host that a mail came from", rb"(?i:\breceived:[ \t]+from[ \t]+)([A-Za-z0-9][A-Za-z0-9._-]*)", (rb"(?i)received:[ \t]+from",), is_called, same_host),
    Detector("asset", "world-wide name", rb"(?i:\b(?:wwn|wwpn|wwnn|naa|eui)[.: -]{0,2}(?:0x)?)([0-9a-fA-F]{16}(?:[0-9a-fA-F]{16})?)\b", (rb"(?i)(?:ww[pn]?n|naa|eui)[.: -]{0,2}(?:0x)?[0-9a-f]{4}",), canonical=bytes.lower),
    Detector("person", "someone before a number in brackets", rb"\b(" + NAME + rb"(?:[ -]" + NAME + rb"){1,2}) \(\d{10,16}\)", (rb"[a-z] \(\d{10,16}\)",), canonical=bytes.lower),
    Detector("reader", "number in brackets", rb" \((\d{14})\)", (rb" \(\d{14}\)",), lambda value: not _MOMENT.match(value), sure=False),
    Detector("secret", "numbers that opened something, and do now", rb"(?i:\b(?:pin|passcode|password) (?:was )?(?:changed|reset|set|updated) from )([^\s]+ to [^\s.,;]+)", (rb"(?i)(?:changed|reset|set|updated) from ",)),
    Detector("address", "postcode behind its label", rb"(?i:\b(?:post ?code|zip(?: code)?|plz)[ \t:=]+)([A-Z]{1,2}\d[A-Z\d]? ?\d[A-Z]{2}|\d{5}(?:-\d{4})?)\b", (rb"(?i)(?:code|zip|plz)[ \t:=]+[A-Z0-9]",), canonical=bytes.lower),
    Detector(
        "person", "someone who did a thing", rb"\b(?i:(?:raised|reported|requested|approved|created|opened|closed|signed|written|sent|submitted|checked|assigned|escalated|handled|logged|taken|updated|released|delegated|paid|owned|managed|reviewed|completed|resolved|installed|replaced|borrowed) (?:by|to) )(" + NAME + rb"(?: [A-Z]\.)?(?: " + NAME + rb"){1,2})\b",
        (rb"(?i)(?:raised|ed|written|sent|taken) (?:by|to) [A-Z]",), is_someone, canonical=bytes.lower, sure=False,
    ),
    Detector(
        "person", "someone who is to be told", rb"\b(?i:(?:emergency contact|next of kin|guardian|parent|carer|contact person|key ?holder)[ \t]+)(" + NAME + rb"(?: " + NAME + rb"){1,2})\b", (rb"(?i)(?:contact|kin|guardian|parent|carer|person|holder)[ \t]+[A-Z]",),
        is_someone, canonical=bytes.lower, sure=False,
    ),
    Detector(
        "person", "row about someone",
        rb"(?i:\b(?:insert|replace) into [\"'\x60\[]?(?:[a-z_]+\.)?(?:patrons?|users?|readers?|borrowers?|members?|customers?|people|persons?|accounts?|staff|employees?|contacts?)[\"'\x60\]]?[ \t]*(?:\([^()\r\n]*\)[ \t]*)?values[ \t]*\()([^\r\n]+)\)",
        (rb"(?i)values[ \t]*\(",), lambda value: b"'" in value or b'"' in value, sure=False,
    ),
    Detector("person", "author of a file", rb"@author[ \t]+([^<\r\n@]*[^<\r\n@ \t])", (rb"@author",), canonical=bytes.lower),
    Detector("person", "part of a name in a record", rb"\\?\"(?:first|last|given|family|middle|fore|sur)(?:[_ ]?name)?\\?\"[ \t]*:[ \t]*\\?\"(" + NAME + rb"(?:[ -]" + NAME + rb")?)\\?\"", (rb"(?:first|last|given|family|middle|name)\\?\"[ \t]*:",), canonical=bytes.lower, sure=False),
    *(
        Detector(kind, f"field {code.decode()} of a self-service message", _MESSAGE + code + rb"([^|\r\n]{2,})(?:\||\r?(?m:$))", (rb"\|" + code + rb"[^|]",), canonical=bytes.lower)
        for code, kind in _FIELDS
    ),
    *(
        Detector(kind, f"field {code.decode()} of a self-service message, the first of all", _FIXED + code + rb"([^|\r\n]{2,})\|", (rb"\d{6}" + code + rb"[^|]",), canonical=bytes.lower)
        for code, kind in _FIELDS
    ),
    Detector("host", "host between brackets", rb"(?i:\b(?:workstation|host|hostname|computer|server)=)\[([A-Za-z0-9][A-Za-z0-9._-]*)\]", (rb"(?i)=\[[a-z]",), is_called, same_host),
    Detector("asset", "number of a SIM card", rb"(?i:\b(?:i?ccid|eid|meid)[\"']?[ \t]*[:=]?[ \t]*[\"']?)(\d{14,32}F?)\b", (rb"(?i)(?:ccid|eid|meid)",)),
    Detector(
        "user", "user of a structured log", rb"(?i:\[[a-z0-9._-]*user[a-z0-9._-]*@\d+ (?:[^\]\r\n]*? )?(?:name|id|login)=\")" + USER,
        (rb"(?i)user[a-z0-9._-]*@\d",), is_user, canonical=bytes.lower,
    ),
    Detector("user", "user of a list of accounts", rb"(?m:^)" + USER + rb":[^:\s]*:\d+:\d+:[^:\r\n]*" + _HOME, (rb":\d+:\d+:",), is_user, canonical=bytes.lower),
    Detector(
        "person", "someone of a list of accounts", rb":[x*!]?:\d+:\d+:([^:,\r\n]+)[^:\r\n]*" + _HOME, (rb":\d+:\d+:",),
        lambda value: any(byte > 64 for byte in value), canonical=bytes.lower,
    ),
    Detector(
        "user", "user of a list of hashes", rb"(?m:^)" + USER + rb":(?:\$[0-9a-zA-Z]{1,10}\$|\{[A-Z0-9]{3,10}\}|!?\*?\$)", (rb"(?m:^)[A-Za-z][A-Za-z0-9._-]*:[!*]{0,2}[{$]",),
        is_user, canonical=bytes.lower,
    ),
    Detector("user", "user of a timed task", rb"(?i:\bcrond?(?:\[\d+\])?: \()" + USER + rb"\)", (rb"(?i)crond?(?:\[\d{1,7}\])?: \(",), is_user, canonical=bytes.lower),
    Detector(
        "user", "user of a web server's log", rb" " + USER + rb"(?:@[A-Za-z0-9.-]+)? \[\d{2}/[A-Z][a-z]{2}/\d{4}:", (rb" \[\d{2}/[A-Z][a-z]{2}/\d{4}:",),
        is_user, canonical=bytes.lower,
    ),
    Detector(
        "user", "user of an event", rb"(?i:\b(?:[sd]user(?:name)?|sntdom|usrname|subjectusername|targetusername)=)(?:[A-Za-z0-9.-]+\\+)?" + USER,
        (rb"(?i)(?:user|usrname|username)=[A-Za-z]",), is_user, canonical=bytes.lower,
    ),
    Detector("host", "host of an event", rb"(?i:\b(?:[sd]host(?:name)?|dvchost|src_host|dst_host)=)([A-Za-z0-9][A-Za-z0-9._-]*)", (rb"(?i)host(?:name)?=[A-Za-z0-9]",), is_called, same_host),
    Detector("host", "name of a managed device", rb"(?:\bsysName(?:\.\d+)? = (?:STRING: )?\"?)([A-Za-z0-9][A-Za-z0-9._-]*)", (rb"sysName",), canonical=same_host),
    Detector("person", "contact of a managed device", rb"(?:\bsysContact(?:\.\d+)? = (?:STRING: )?\"?)([^<\r\n\"]*[^<\r\n\" ])", (rb"sysContact",), canonical=bytes.lower),
    Detector("address", "place of a managed device", rb"(?:\bsysLocation(?:\.\d+)? = (?:STRING: )?\"?)([^\r\n\"]+)", (rb"sysLocation",), canonical=bytes.lower),
    Detector(
        "host", "host that a lease names", rb"(?i:\b(?:client-hostname|ddns-hostname|option host-name|host-name|hostname)[ \t]+)\"([A-Za-z0-9][A-Za-z0-9._-]*)\"",
        (rb"(?i)host-?name[ \t]+\"",), canonical=same_host,
    ),
    Detector("secret", "community of a receiver of traps", rb"(?i:\bsnmp-server host \S+ (?:(?:traps|informs) )?version \S+ (?:(?:auth|noauth|priv) )?)(\S+)", (rb"(?i)snmp-server host ",), is_secret),
    Detector("secret", "password of a store's tool", rb"(?:\b[a-z]+-cli\b[^\r\n]*?[ \t](?:-a|--pass)[ \t]+)([^\s\"'-][^\s\"']*)", (rb"-cli",), is_secret),
    Detector("secret", "password for a shared folder", rb"(?i:\bnet use [^\r\n]*?\\\\[^\s]+[ \t]+)([^\s/*][^\s]*)(?:[ \t]+/|[ \t]*\r?(?m:$))", (rb"(?i)net use ",), is_secret),
    Detector("secret", "answer to a question for security", rb"(?i:\b(?:security|secret)[ _-]answer(?:[ _-]?\d)?[\"']?[ \t]*[:=][ \t]*[\"']?)([^\r\n\"',;]+)", (rb"(?i)[ _-]answer",), is_secret),
    Detector(
        "secret", "passcode that a sentence gives", rb"(?i:\b(?:passcode|pass code|access code|door code)[ \t]+)([A-Za-z0-9][A-Za-z0-9-]*)", (rb"(?i)(?:pass|access|door)[ ]?code[ \t]",),
        lambda value: is_secret(value) and has_digit(value) and len(value) >= 4, sure=False,
    ),
    Detector(
        "person", "someone with a title", rb"\b(?:Mr|Mrs|Ms|Miss|Mx|Dr|Prof|Herr|Frau|Mme|Mevrouw)\.?[ \t]((?:[A-Z]\.? ?)*(?:(?:van|von|de|der|den|la|di|du|le|ten|ter|zu) ){0,3}" + NAME + rb"(?:[ -]" + NAME + rb"){0,2})",
        (rb"(?:Mrs?|Ms|Miss|Mx|Dr|Prof|Herr|Frau|Mme|Mevrouw)\.?[ \t](?:[A-Z\xc3-\xdf]|(?:van|von|de|der|den|la|di|du|le|ten|ter|zu) )",),
        lambda value: value.lower().split()[0] not in (b"office", b"windows", b"word", b"excel", b"rate", b"ratio", b"watson", b"count", b"penalty"), canonical=bytes.lower, sure=False,
    ),
    Detector(
        "person", "someone who is written to", rb"\b(?:Dear|Liebe|Lieber|Ch\xc3\xa8re?|Beste)[ \t](" + NAME + rb"(?: " + NAME + rb"){0,2}),",
        (rb"(?:Dear|Liebe|Lieber|Ch\xc3\xa8re?|Beste)[ \t][A-Z]",),
        lambda value: not set(value.lower().split()) & {b"customer", b"customers", b"sir", b"madam", b"colleague", b"colleagues", b"all", b"team", b"support", b"user", b"users", b"reader", b"readers", b"member", b"valued", b"partner"},
        canonical=bytes.lower, sure=False,
    ),
)  # fmt: skip
