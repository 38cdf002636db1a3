"""Accounts, machines and secrets in settings that one program each writes in a form of its own."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import GIVES, Detector, has_digit
from sealpacket.core.redact.detectors.commands import CONNECTS
from sealpacket.core.redact.detectors.credentials import NAME_OF_A_SECRET, is_given, is_odd, is_secret
from sealpacket.core.redact.detectors.listings import IP, is_machine, is_named
from sealpacket.core.redact.detectors.network import is_called, same_host
from sealpacket.core.redact.detectors.people import USER, is_user

_HOST = rb"([A-Za-z][A-Za-z0-9.-]{2,60})"
_END = rb"[ \t]*\r?(?m:$)"
_NOW_AND_THEN = rb"@(?:reboot|hourly|daily|weekly|monthly|yearly|midnight)[ \t]"
_TIMES = rb"(?m:^)[ \t]*(?:[0-9*/,-]+[ \t]+){5}|(?m:^)[ \t]*" + _NOW_AND_THEN + rb"+"
_PROGRAMS = rb"(?:test|cd|flock|nice|ionice|timeout|python3?|bash|sh|php|perl|curl|wget|rsync)[ \t]"
"""What may stand behind the account for which a timed command runs."""
_TUNNELS = rb"[ \t]+(?:\*|pptpd|l2tpd?|pppd?|sstp|[\"'][\w.*-]+[\"'])[ \t]"
_TUNNELLED = rb"(?m:^)[\"']?[A-Za-z_][A-Za-z0-9._@\\-]*[\"']?" + _TUNNELS
_ADDRESSES = rb"[ \t]+(?:\*|" + IP + rb"(?:/\d+)?)" + _END
"""An account, its server and the addresses of a list for tunnels; its secret stands before the last."""
_MOVED = rb"(?i:\b(?:migrated|moved|moving|migrating|failover|failed over|vmotion(?:ed)?|relocated|transferred|evacuated)[ \t]"
_MOVES = rb"(?i)(?:migrat|mov(?:ed|ing)|failover|failed over|vmotion|relocat|transferr|evacuat)[a-z]{0,3}[ \t]"
_LIST = rb"([A-Za-z_%+][A-Za-z0-9._%+-]*(?:[ \t]*,[ \t]*[A-Za-z_%+][A-Za-z0-9._%+-]*)*)"
_CLIENTS = rb"(?:sqlplus|sqlldr|expdp|impdp|rman)[ \t]+"
_ATTRIBUTE = rb"(?:Cleartext|NT|LM|Crypt|MD5|SHA|SSHA|SHA2|User|LT|Password-With)-(?:Password|Header)"


def _are_machines(value: bytes) -> bool:
    return any(is_called(one.strip()) for one in value.split(b","))


def _are_users(value: bytes) -> bool:
    return any(is_user(one.strip(b"%+ \t")) for one in value.split(b","))


def _is_pair(value: bytes) -> bool:
    """An account and its password with a colon between."""
    name, _, secret = value.partition(b":")
    return is_user(name) and is_secret(secret)


def _is_numbered(value: bytes) -> bool:
    """A machine with a hyphen and a number in its bare name."""
    return is_machine(value) and has_digit(value) and b"-" in value and b"." not in value


SETTINGS = (
    Detector("secret", "password that is all of its line", rb"(?m:^)[ \t]+(?i:password|passwd)[ \t]+([^\s\"'=:;,<>]+)" + _END, (rb"(?m:^)[ \t]+(?i:passw(?:or)?d)[ \t]",), is_given, sure=False),
    Detector("secret", "password below its account", rb"(?m:^)[ \t]*(?:login|user)[ \t]+[^\s\"']+[ \t]*\r?\n[ \t]*password[ \t]+([^\s]+)" + _END, (rb"(?m:^)[ \t]*(?:login|user)[ \t]+[^\s\"']+[ \t]*\r?(?m:$)",), is_secret, lines=True),
    Detector("user", "account of a list for dial-in", rb"(?m:^)[\"']?" + USER + rb"[\"']?[ \t]+" + _ATTRIBUTE + rb"[ \t]*[:=+]", (rb"[ \t]" + _ATTRIBUTE + rb"[ \t]*[:=+]",), is_user, bytes.lower),
    Detector("person", "names of a list for dial-in", rb"(?m:^)\"([A-Za-z\x80-\xff'-]+(?: [A-Za-z\x80-\xff'-]+){1,3})\"[ \t]+" + _ATTRIBUTE + rb"[ \t]*[:=+]", (rb"\"[ \t]+" + _ATTRIBUTE + rb"[ \t]*[:=+]",), None, bytes.lower),
    Detector("user", "account of a list for tunnels", rb"(?m:^)[\"']?" + USER + rb"[\"']?" + _TUNNELS + rb"+[^\s#]+[^\r\n#]*?" + _ADDRESSES, (_TUNNELLED,), is_user, bytes.lower),
    Detector("secret", "secret of a list for tunnels", _TUNNELLED + rb"+(\"[^\"\r\n]+\"|[^\s\"#]+)" + _ADDRESSES, (_TUNNELLED,), lambda value: is_secret(value.strip(b'"'))),
    Detector("user", "account of a list in a balancer", rb"(?m:^)[ \t]*user[ \t]+" + USER + rb"[ \t]+(?:insecure-password|password)[ \t]", (rb"[ \t](?:insecure-)?password[ \t]+[^\s]",), is_user, bytes.lower),
    Detector("secret", "account and password of a page of figures", rb"(?i:\bstats[ \t]+auth[ \t]+)([^\s:]+:[^\s]+)", (rb"(?i)stats[ \t]+auth[ \t]",), _is_pair),
    Detector("host", "machine behind a balancer", rb"(?m:^)[ \t]*(?:server|server-template|peer)[ \t]+" + _HOST + rb"[ \t]+(?:" + IP + rb"|[A-Za-z0-9.-]+:\d|\[)", (rb"(?m:^)[ \t]*(?:server|server-template|peer)[ \t]+[A-Za-z]",), is_called, same_host),
    Detector("host", "realm of tickets, as a setting", rb"(?i:\b(?:default_realm|krb5_realm|realm)[ \t]*=[ \t]*)([A-Z][A-Z0-9-]*(?:\.[A-Z0-9-]+)+)", (rb"(?i)realm[ \t]*=",), None, same_host),
    Detector("host", "realm of tickets, with its settings", rb"(?m:^)[ \t]*([A-Z][A-Z0-9-]*(?:\.[A-Z0-9-]+)+)[ \t]*=[ \t]*\{", (rb"\.[A-Z0-9-]+[ \t]*=[ \t]*\{",), None, same_host),
    Detector("host", "realm of tickets, of a domain", rb"(?m:^)[ \t]*\.?[a-z0-9.-]+[ \t]*=[ \t]*([A-Z][A-Z0-9-]*(?:\.[A-Z0-9-]+)+)" + _END, (rb"[a-z][ \t]*=[ \t]*[A-Z][A-Z0-9-]*\.[A-Z]",), None, same_host),
    Detector("host", "domain of a mounted share", rb"(?i:[,(](?:domain|dom|workgroup)=)([A-Za-z][A-Za-z0-9-]{2,14})[,)\s]", (rb"(?i)[,(](?:domain|dom|workgroup)=",), lambda value: value.lower() != b"workgroup", same_host),
    Detector("user", "account that someone became", rb"(?:\bsu(?:\[\d+\])?: [^\r\n]{0,30}?\(to )" + USER + rb"\)", (rb"\(to [a-z_]",), is_user, bytes.lower),
    Detector("host", "machine of a connection, in a list of open files", rb"\b(?:TCP|UDP)[ \t]+" + _HOST + rb":[\w-]+(?:->|[ \t]+\(LISTEN|" + _END + rb")", (rb"(?:TCP|UDP)[ \t]+[A-Za-z]",), is_called, same_host),
    Detector("user", "account of a slow query", rb"\bUser@Host:[ \t]+" + USER + rb"\[", (rb"User@Host:",), is_user, bytes.lower),
    Detector("user", "account inside brackets of a slow query", rb"\bUser@Host:[ \t]+[^\s\[]*\[" + USER + rb"\]", (rb"User@Host:",), is_user, bytes.lower),
    Detector("user", "account of a database, at the beginning of its line", rb"\] " + USER + rb"@[A-Za-z_][\w-]* (?:LOG|ERROR|FATAL|WARNING|STATEMENT|DETAIL|HINT|NOTICE|PANIC|DEBUG\d?):", (rb"@[A-Za-z_][\w-]* (?:LOG|ERROR|FATAL|WARNING|STATEMENT|DETAIL|HINT|NOTICE|PANIC|DEBUG\d?):",), is_user, bytes.lower),
    Detector("host", "machine of a client of shares", rb"(?:(?m:^)|[ \t])" + _HOST + rb" \(ipv[46]:", (rb" \(ipv[46]:",), is_called, same_host),
    Detector("host", "name that a mail server gave itself", rb"\bH=[^\s()]* ?\(" + _HOST + rb"\)[ :]", (rb"H=[^\s()]* ?\([A-Za-z]",), is_called, same_host),
    Detector("host", "machines of a play or a run", rb"(?m:^)[ \t]*-?[ \t]*(?:hosts|delegate_to|limit|minions?|tgt)[ \t]*:[ \t]+[\"']?([A-Za-z][A-Za-z0-9.-]*(?:[ \t]*[,:][ \t]*[A-Za-z][A-Za-z0-9.-]*)*)[\"']?" + _END, (rb"(?:hosts|delegate_to|limit|minions?|tgt)[ \t]*:[ \t]+[\"']?[A-Za-z]",), lambda value: any(is_called(one.strip()) and not one.isalpha() for one in value.replace(b":", b",").split(b",")), same_host),
    Detector("host", "machine of an inventory in levels", rb"(?m:^)[ \t]+([A-Za-z]+[0-9-][A-Za-z0-9.-]*):[ \t]*\r?\n[ \t]+(?:ansible_|ip:|ip_address:|address:|hostname:|mac:)", (rb"(?m:^)[ \t]+[A-Za-z]+[0-9-][A-Za-z0-9.-]*:[ \t]*\r?(?m:$)",), is_called, same_host, lines=True),
    Detector("user", "account that a play makes", rb"(?:\buser:[ \t]+name=)" + USER, (rb"user:[ \t]+name=",), is_user, bytes.lower),
    Detector("host", "machine with its port whose key is known", rb"(?m:^)\[" + _HOST + rb"\]:\d+(?:,\S+)? (?:ssh|ecdsa|sk)-", (rb" (?:ssh|ecdsa|sk)-[a-z0-9@.-]+ AAAA",), is_called, same_host),
    Detector("user", "account for which a timed command runs", rb"(?:" + _TIMES + rb")" + USER + rb"[ \t]+(?:/|[A-Z_]+=|\[ |" + _PROGRAMS + rb")", (rb"[0-9*][ \t]+[A-Za-z_][\w.-]*[ \t]+(?:/|[A-Z_]{2,20}=|\[ |" + _PROGRAMS + rb")", _NOW_AND_THEN), lambda value: is_user(value) and value not in (b"test", b"cd", b"flock", b"nice", b"timeout"), bytes.lower),
    Detector("user", "accounts of an alias for rights", rb"(?:\b(?:User_Alias|Runas_Alias)[ \t]+[A-Z][A-Z0-9_]*[ \t]*=[ \t]*)" + _LIST, (rb"(?:User|Runas)_Alias[ \t]",), _are_users, bytes.lower),
    Detector("host", "machines of an alias for rights", rb"(?:\bHost_Alias[ \t]+[A-Z][A-Z0-9_]*[ \t]*=[ \t]*)" + _LIST, (rb"Host_Alias[ \t]",), _are_machines, bytes.lower),
    Detector("secret", "shared key that a device is set to", rb"(?i:\bset[ \t]+(?:psksecret|psk|psk-?secret|ppk-secret|passphrase|wpa-?passphrase|sae-?password|auth-pwd|priv-pwd|secondary-secret|tertiary-secret|ppp-password|pass-?word\d?)[ \t]+)(?:ENC[ \t]+)?[\"']?([^\s\"']+)", (rb"(?i)set[ \t]+[a-z-]{0,12}(?:psk|ppk|pass|sae|auth|priv|secret)",), is_secret),
    Detector("user", "account that a router is told of", rb"(?:/(?:ppp[ /]secret|user|user[ -]manager|ip[ /]hotspot[ /]user|tool[ /]user-manager[ /]user)[ \t]+(?:add|set)\b[^\r\n]*?[ \t](?:name|user|username)=)[\"']?" + USER, (rb"/(?:ppp|user|ip|tool)[ /a-z-]{0,24}[ \t](?:add|set)[ \t]",), is_user, bytes.lower),
    Detector("host", "name that a router is given", rb"(?:/system[ /]identity[ \t]+set[ \t]+name=)[\"']?" + _HOST, (rb"identity[ \t]+set[ \t]+name=",), is_called, same_host),
    Detector("user", "account at the end of a tunnel", rb"\.\.\." + IP + rb"\[" + USER + rb"\]", (rb"\d\[[A-Za-z_]",), lambda value: is_user(value) and is_named(value), bytes.lower),
    Detector("user", "account of a ticket that is asked for", rb"\b(?:kinit|kpasswd|kdestroy|ktutil|kvno)[ \t]+(?:-[A-Za-z]+[ \t]+(?:[^\s@-]\S*[ \t]+)??)*" + USER + rb"@", (rb"(?:kinit|kpasswd|kdestroy|ktutil|kvno)[ \t]",), is_user, bytes.lower),
    Detector("user", "account that a client of a database signs in with", rb"\b(?:psql|pg_dump(?:all)?|pg_restore|pg_basebackup|createdb|dropdb|createuser|dropuser|vacuumdb|reindexdb|pgbench|clusterdb)\b[^\r\n|;]*?[ \t](?:-U|--username)[ \t=]*[\"']?" + USER, (rb"[ \t](?:-U|--username)[ \t=]*[\"']?[A-Za-z_]",), is_user, bytes.lower),
    Detector("host", "new name of a machine", rb"(?i:[ \t]-NewName[ \t:]+)[\"']?" + _HOST, (rb"(?i)-newname[ \t:]",), is_called, same_host),
    Detector("user", "account that a directory's command is about", rb"(?i:\b(?:get|set|new|remove|enable|disable|unlock|reset|search)-(?:adaccount|aduser|adaccountpassword|localuser|mailbox|mguser|adserviceaccount|adprincipalgroupmembership|azureaduser)[ \t]+(?:-(?:identity|name|userprincipalname|samaccountname)[ \t]+)?)[\"']?" + USER + rb"(?:[\"'|;)]|[ \t]+[|;-]|[ \t]*\r?(?m:$))", (rb"(?i)-(?:adaccount|aduser|adaccountpassword|localuser|mailbox|mguser|adserviceaccount|adprincipalgroupmembership|azureaduser)[ \t]",), is_user, bytes.lower),
    Detector("user", "account for which a page was sent", rb"(?i:\b(?:job|from|user|for)[ \t]+)" + USER + rb"@[A-Za-z][A-Za-z0-9-]*(?:[ \t]['\"(]|[ \t]*,)", (rb"@[A-Za-z][A-Za-z0-9-]*(?:[ \t]['\"(]|[ \t]*,)",), is_user, bytes.lower, sure=False),
    Detector("host", "machine from which a page was sent", rb"(?i:\b(?:job|from|user|for)[ \t]+)[A-Za-z][\w.-]*@" + _HOST + rb"(?:[ \t]['\"(]|[ \t]*,)", (rb"@[A-Za-z][A-Za-z0-9.-]*(?:[ \t]['\"(]|[ \t]*,)",), lambda value: is_called(value) and b"." not in value, same_host, sure=False),
    Detector("host", "machine that asked for a page", rb"(?m:^)" + _HOST + rb" (?:-|[A-Za-z_][\w.@-]*) (?:-|[A-Za-z_][\w.@-]*) \[\d\d/[A-Z][a-z]{2}/\d{4}:", (rb"(?m:^)[A-Za-z][A-Za-z0-9.-]* \S+ \S+ \[\d\d/[A-Z]",), is_called, same_host),
    Detector("secret", "number that a card in a modem is opened with", rb"\bAT\+(?:CPIN|CLCK|CPWD)=[^\r\n\"]{0,6}\"?(?:[A-Z]{2}\",\d?,?\"?)?(\d{4,8})\b", (rb"AT\+(?:CPIN|CLCK|CPWD)=",)),
    Detector("secret", "key before the host of a URL", rb"\b(?:https?|wss?)://([A-Za-z0-9_~.-]{8,80})@", (rb"(?:https?|wss?)://[A-Za-z0-9_~.-]{8,80}@",), has_digit),
    Detector("secret", "secret that is set", rb"(?i:\bset[ \t]+(?:secret|token|api[ _-]?key|key|cookie)[ \t]+)[\"']?([^\s\"'=]{6,})[\"']?(?:[ \t]*\r?(?m:$))", (rb"(?i)set[ \t]+(?:secret|token|api[ _-]?key|key|cookie)[ \t]",), lambda value: is_odd(value) and has_digit(value), sure=False),
    Detector("secret", "what lets a session in", rb"(?i:\b(?:session|token|cookie|csrf|refresh|credential|api_?key)s?\\?[\"'][ \t]*:[ \t]*\{[^{}\r\n]{0,80}?\\?[\"'](?:id|value|raw|token)\\?[\"'][ \t]*:[ \t]*\\?[\"'])([^\"'\\\r\n]{6,})", (rb"(?i)(?:session|token|cookie|csrf|refresh|credential|key)s?\\?[\"'][ \t]*:[ \t]*\{",), is_odd),
    Detector("secret", "value of an environment that a command sets", rb"(?i:\benv:)" + NAME_OF_A_SECRET + rb"[\"']?[ \t]+(?i:-value[ \t]+)?[\"']?([^\s\"'=-][^\s\"']*)", (rb"(?i)\benv:[a-z]",), is_secret),
    Detector("licence", "key in the section of a licence", rb"(?m:^)\[[^\]\r\n]{0,20}(?i:licen[cs]e|activation|registration)[^\]\r\n]{0,20}\][ \t]*\r?\n(?:[^\[\r\n]*\r?\n){0,4}?[ \t]*(?i:key|code|serial|number)[ \t]*[=:][ \t]*[\"']?([^\s\"';#]{6,})", (rb"(?m:^)\[[A-Za-z_ .-]{0,20}(?i:licen[cs]e|activation|registration)",), has_digit, bytes.lower, lines=True),
    Detector("secret", "key that tokens are signed with", rb"(?i:\\?[\"']?(?:jwt|token|signing|hmac|encryption|crypto|aes|cookie|session)s?\\?[\"']?[ \t]*[:=][ \t]*\{[^{}\r\n]*?\\?[\"']?(?:key|secret|pass)\\?[\"']?[ \t]*[:=][ \t]*\\?[\"'])([^\"'\\\r\n]{6,})", (rb"(?i)(?:jwt|token|signing|hmac|encryption|crypto|aes|cookie|session)s?\\?[\"']?[ \t]*[:=][ \t]*\{",), is_secret),
    Detector("user", "account under the level of a user", rb"(?m:^)[ \t]*(?i:user|account|login|owner|auth|credentials)[ \t]*:[ \t]*\r?\n[ \t]+(?:name|id|login|username)[ \t]*:[ \t]+[\"']?" + USER + rb"[\"']?" + _END, (rb"(?m:^)[ \t]*(?i:user|account|login|owner|auth|credentials)[ \t]*:[ \t]*\r?(?m:$)",), is_user, bytes.lower, lines=True),
    Detector("host", "host that is not known, to a program", rb"(?:\b(?:[a-z]+\.)*)UnknownHostException:[ \t]+" + _HOST + rb"(?:[:\s]|(?m:$))", (rb"UnknownHostException:",), is_called, same_host),
    Detector("host", "machine of a client that came or went", rb"(?:\b(?:[Cc]lient|[Dd]evice|[Aa]gent)[ \t]+|\bconnected from [^\s]+ as )" + _HOST + rb"(?: \((?:p\d|c\d|[cpk]\d+,)|[ \t]+(?:(?:has )?(?:disconnected|connected|timed out|closed|subscribed|exceeded|already|(?:un)?mounted))\b)", (rb" (?:\((?:p\d|c\d)|disconn|connected|has (?:disc|conn)|timed out|closed|subscribed|exceeded|already|(?:un)?mounted)",), lambda value: is_called(value) and not value.isalpha(), same_host, sure=False),
    Detector("user", "account in a client's options", rb"\bk\d+, u'" + USER + rb"'\)", (rb"k\d{1,5}, u'",), is_user, bytes.lower, sure=False),
    Detector("secret", "number of a session in a mail server's line", rb"\bsession=<([A-Za-z0-9+/]{8,})>", (rb"session=<",)),
    Detector("host", "machines between which something moves", _MOVED + rb"+(?:[\w-]+[ \t]+){0,3}?from[ \t]+)[\"']?" + _HOST + rb"[\"']?[ \t]+to[ \t]", (_MOVES,), _is_numbered, same_host, sure=False),
    Detector("host", "machine to which something moves", _MOVED + rb"[^\r\n]{0,40}?[ \t]to[ \t]+)[\"']?" + _HOST + rb"(?:[\s\"',;.)]|(?m:$))", (_MOVES,), _is_numbered, same_host, sure=False),
    Detector("host", "supply or server of a kind, by its name", rb"(?i:\b(?:(?:ups|pdu|media server|backup server|tape library|node|array|library|controller|enclosure|cluster|switch|camera|sensor|gate|kiosk)[ \t]+name)[ \t]*[:=][ \t]*)[\"']?([A-Za-z][A-Za-z0-9]*(?:-[A-Za-z0-9]+)+)", (rb"(?i)(?:ups|pdu|server|library|node|array|controller|enclosure|cluster|switch|camera|sensor|gate|kiosk)[ \t]+name[ \t]*[:=]",), is_called, same_host),
    Detector("host", "server of a kind, with a number", rb"(?i:\b(?:media|backup|print|file|mail|proxy|web|master|name|time|licen[sc]e|terminal|login|jump|database|db)[ -]server[ \t]+)[\"']?([A-Za-z]{2,12}-?\d{1,4})\b", (rb"(?i)[a-z][ -]server[ \t]+[\"']?[a-z]{2,12}-?\d",), is_called, same_host, sure=False),
    Detector("secret", "key of remote support", rb"(?i:\b(?:support|remote|access|service|session|unlock|enrol(?:l?ment)?|pairing|register|registration)[^\r\n]{0,40}?[ ,;:](?:key|code)[ \t:=]+)([A-Z0-9]{2,8}(?:-[A-Z0-9]{2,8}){2,6})\b", (rb"(?i)(?:key|code)[ \t:=]+[A-Z0-9]{2,8}-[A-Z0-9]{2,8}-",), has_digit, sure=False),
    Detector("asset", "tape by its label", rb"(?i:\b(?:tape|cartridge|volume label|vol(?:ume)?ser|barcode)[ \t:=#]+)([A-Z0-9]{6}L[5-9M])\b", (rb"[A-Z0-9]{6}L[5-9M]",), has_digit, bytes.lower),
    Detector("host", "machine that is given an address by its own", rb"\bdhcp-host=(?:[0-9A-Fa-f:*-]+,)+(?:set:[A-Za-z0-9_-]+,)?" + _HOST + rb"(?:,|[ \t]*\r?(?m:$))", (rb"dhcp-host=",), is_called, same_host),
    Detector("host", "machine in the options that a kernel was started with", rb":255\.[0-9.]+:" + _HOST + rb":[a-z0-9]*:", (rb":255\.[0-9.]+:[A-Za-z]",), is_called, same_host),
    Detector("host", "machine that a port is described with", rb"(?i:(?m:^|[ \t\"])description:?[ \t]+[\"']?(?:(?:up|down)?(?:link)?[ _-]?to[ _-]+|\*+ ?)?)([A-Za-z][A-Za-z0-9]*(?:-[A-Za-z0-9]+)*-[A-Za-z0-9]?[0-9]{0,3}|[A-Za-z]{3,10}\d{1,3})(?:[\s\"',;:(]|(?m:$))", (rb"(?i)(?m:^|[ \t\"])description:?[ \t]",), is_machine, same_host, sure=False),
    Detector("host", "machine that has been up for some time", rb"(?m:^)" + _HOST + rb" uptime is ", (rb" uptime is ",), is_called, same_host),
    Detector("user", "account in brackets for a station", rb"(?i:\b(?:user ?name|user|identity|supplicant)(?: entry| name)? )\(" + USER + rb"\)", (rb"(?i)(?:user ?name|user|identity|supplicant)(?: entry| name)? \([a-z]",), is_user, bytes.lower),
    Detector("asset", "tape in a slot", rb"(?i:\b(?:(?:mail)?slot|drive|element|bay|ie)[ \t]+\d+[ \t]*[:=][ \t]*(?:full[ \t]*:?[ \t]*(?:voltag[ \t]*=[ \t]*)?)?)([A-Z0-9]{6}(?:L[1-9M]|M8|CU|JA))\b", (rb"[A-Z0-9]{6}(?:L[1-9M]|M8|CU|JA)\b",), has_digit, bytes.lower),
    Detector("person", "two names in a list with an address", rb"[\"']([A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+(?: [A-Z]\.)?(?: [A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+){1,2})[\"'],[ \t]*[\"'][^\s\"'@]+@", (rb"[a-z][\"'],[ \t]*[\"'][^\s\"'@]+@",), None, bytes.lower),
    Detector("user", "account that a script sets", rb"(?m:^)[ \t]*set[ \t]+:user(?:name)?,[ \t]*[\"']" + USER + rb"[\"']", (rb"set[ \t]+:user",), is_user, bytes.lower),
    Detector("host", "machine that a script is for", rb"(?m:^)[ \t]*(?:server|role :[a-z]+,|host|node)[ \t]+[\"']" + _HOST + rb"[\"'](?:[ \t]*[,{]|[ \t]+do\b|[ \t]*\r?(?m:$))", (rb"(?m:^)[ \t]*(?:server|role :[a-z]+,|host|node)[ \t]+[\"'][A-Za-z]",), is_called, same_host),
    Detector("secret", "secret that is taken where none is set", NAME_OF_A_SECRET + GIVES + rb"[A-Za-z_.]*(?:fetch|get|getenv|env|environ|lookup)\([ \t]*[\"'][^\"'\r\n]+[\"'],[ \t]*[\"']([^\"'\r\n]+)[\"']", (rb"(?:fetch|get|getenv|env|environ|lookup)\([ \t]*[\"'][A-Za-z_]",), is_secret),
    Detector("host", "machine of a database that is connected to", rb"(?i:\b(?:" + CONNECTS + rb"|" + _CLIENTS + rb"(?:-[a-z]+[ \t]+)*)[a-z][^\r\n]*?/[^\s@]+@)(?://)?" + _HOST + rb"(?:[\s\"'/:;]|(?m:$))", (rb"(?i)" + CONNECTS + rb"[a-z][a-z0-9_$#]*/", _CLIENTS), is_called, same_host),
    Detector("host", "machine that another follows", rb"(?i:\b(?:replicaof|slaveof|meet|monitor [A-Za-z0-9_-]+)[ \t]+)" + _HOST + rb"[ \t]+\d{2,5}\b", (rb"(?i)(?:replicaof|slaveof|meet|monitor [a-z0-9_-]+)[ \t]+[a-z]",), is_called, same_host),
    Detector("host", "machines of a list with their ports", rb"(?i:(?:servers?|brokers?|hosts?|nodes|seeds?|members|endpoints?|quorum|connect|cluster|addresses)\\?[\"']?[ \t]*[=:][ \t]*\[?\\?[\"']?)([A-Za-z][A-Za-z0-9.-]{2,}:\d{2,5}(?:[ \t]*,[ \t]*[A-Za-z][A-Za-z0-9.-]{2,}:\d{2,5})*)(?:[\s\"'/;\\\]]|(?m:$))", (rb"(?i)(?:server|broker|host|node|seed|member|endpoint|quorum|connect|cluster|addresse)s?\\?[\"']?[ \t]*[=:][ \t]*\[?\\?[\"']?[a-z][a-z0-9.-]*:\d",), lambda value: is_called(value.split(b":")[0]), bytes.lower),
    Detector("secret", "secret between three quotes", NAME_OF_A_SECRET + GIVES + rb"\"{3}([^\"\r\n]+)\"{3}", (rb"[=:][ \t]*\"\"\"[^\"]",), is_secret),
    Detector("host", "machine in brackets behind what it is", rb"(?i:\b(?:host|server|node|proxy|agent|hostname)[ \t]+)\[" + _HOST + rb"\]", (rb"(?i)(?:host|server|node|proxy|agent|hostname)[ \t]+\[[a-z]",), is_called, same_host),
    Detector("user", "account of someone to be told", rb"(?m:^)[ \t]*(?:contact_name|contacts|notify_user|escalate_to)[ \t]+" + USER + _END, (rb"(?m:^)[ \t]*(?:contact_name|contacts|notify_user|escalate_to)[ \t]",), is_user, bytes.lower),
    Detector("phone", "number of an extension", rb"(?i:\b(?:ext(?:ension|n)?\.?|durchwahl)[ \t:]+)(\d{3,6})\b", (rb"(?i)(?:ext(?:ension|n)?\.?|durchwahl)[ \t:]+\d{3}",), sure=False),
    Detector("key", "number of a private key, as it is printed", rb"(?m:^)[ \t]*(?:privateExponent|prime[12]|exponent[12]|coefficient|priv):[ \t]*\r?\n([ \t]+(?:[0-9a-fA-F]{2}:)*[0-9a-fA-F]{0,2}(?:\r?\n[ \t]+(?:[0-9a-fA-F]{2}:)+[0-9a-fA-F]{0,2})*)", (rb"(?m:^)[ \t]*(?:privateExponent|prime[12]|exponent[12]|coefficient|priv):[ \t]*\r?(?m:$)",), lines=True),
    Detector("user", "account in the argument of a statement", rb"\[\\?[\"'](?i:user(?:_?name)?|login|account|owner|uid)\\?[\"'],[ \t]*\\?[\"']" + USER + rb"\\?[\"']\]", (rb"(?i)\[\\?[\"'](?:user(?:_?name)?|login|account|owner|uid)\\?[\"'],",), is_user, bytes.lower),
    Detector("host", "machine and its port in a message", rb"(?i:\bhost[ \t]+)[\"']?" + _HOST + rb"[\"']?,?[ \t]+(?i:port)[ \t:=]+\d", (rb"(?i)[a-z0-9\"'],?[ \t]+port[ \t:=]+\d",), is_called, same_host),
    Detector("user", "account that a token is for", rb"(?i:\b(?:for|of) subject[ \t]+)[\"']?" + USER, (rb"(?i)(?:for|of) subject[ \t]",), lambda value: is_user(value) and value.islower() and not value.isalpha(), bytes.lower),
    Detector("user", "account that wrote a line in a conversation", rb"(?m:^)\[?\d{1,2}:\d\d(?::\d\d)?\]?[ \t]+(?:<[@+%~&]?)" + USER + rb">[ \t]", (rb"\d\]?[ \t]+<[@+%~&]?[A-Za-z_]",), is_user, bytes.lower),
    Detector("user", "account before a colon in a conversation", rb"(?m:^)\[\d{1,2}:\d\d(?::\d\d)?\][ \t]+" + USER + rb":[ \t]", (rb"(?m:^)\[\d{1,2}:\d\d(?::\d\d)?\][ \t]+[A-Za-z_]",), is_user, bytes.lower, sure=False),
    Detector("user", "account that is shown for someone", rb"(?i:display_?name\\?[\"']?[ \t]*[:=][ \t]*\\?[\"'])([a-z][a-z0-9._-]{2,30})\\?[\"']", (rb"(?i)display_?name\\?[\"']?[ \t]*[:=]",), is_user, bytes.lower),
    Detector("host", "machine that something is done with", rb"(?i:\b(?:restart(?:ed|ing)?|re-?boot(?:ed|ing)?|power[- ]?cycled?|shut(?:ting)? down|drain(?:ed|ing)?|decommission(?:ed|ing)?|reimaged?|rebuild|rebuilt|patched|fail(?:ed)? over|evacuated?|server|host|node|vm|hypervisor|esx|array|switch|kiosk|printer)[ \t]+)([a-z]{3,12}-(?:[a-z]|[0-9]{1,3}))(?:[\s\"',;.:?!)]|(?m:$))", (rb"(?i)(?:restart|re-?boot|cycled?|down|drain|decommission|reimage|rebuil[dt]|patched|over|evacuate|server|host|node|vm|hypervisor|esx|array|switch|kiosk|printer)(?:ed|ing|d)?[ \t]+[a-z]{3,12}-[a-z0-9]",), is_machine, same_host, sure=False),
)  # fmt: skip
