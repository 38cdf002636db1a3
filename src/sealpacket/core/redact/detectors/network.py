"""Names and addresses on a network: IPv4, IPv6 (RFC 4291), MAC, host names (RFC 1123)."""

from __future__ import annotations

import ipaddress
from functools import lru_cache

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.detectors.base import GIVES, LEAVE, OPENS, TELLS, Detector, has_digit
from sealpacket.core.redact.detectors.credentials import names_a_secret
from sealpacket.core.redact.ordinary import is_ordinary

_OCTET = rb"(?:25[0-5]|2[0-4]\d|1\d\d|[1-9]?\d)"
_H = rb"[0-9A-Fa-f]{1,4}"
_TELLS_NOTHING = frozenset({b"0.0.0.0", b"127.0.0.1", b"::", b"::1"})
_IP4 = _OCTET + rb"(?:\." + _OCTET + rb"){3}"


def _is_ipv4(value: bytes) -> bool:
    return value not in _TELLS_NOTHING and not value.startswith((b"255.255.", b"0.0.0."))


def _is_ipv6(value: bytes) -> bool:
    """A real address; not `std::add`, and not the loopback."""
    if value in _TELLS_NOTHING or not has_digit(value):
        return False
    if value.endswith(b"::") and value.count(b":") == 2 and len(value) < 6:
        return False  # the last fields of a line of a user list: 99999:7:::
    try:
        ipaddress.IPv6Address(value.decode("ascii"))
    except ValueError:
        return False
    return True


def _same_ipv6(value: bytes) -> bytes:
    return ipaddress.IPv6Address(value.decode("ascii")).compressed.encode()


def _with_dots(value: bytes) -> bytes:
    """An IPv4 address as it is usually written."""
    return value.translate(bytes.maketrans(b",-", b".."))


def same_mac(value: bytes) -> bytes:
    """A MAC address without what stands between its digits."""
    return value.lower().translate(None, b":-.")


def _is_mac(value: bytes) -> bool:
    return same_mac(value) not in (b"000000000000", b"ffffffffffff")


_TOP = (
    rb"com|net|org|edu|gov|mil|int|info|biz|cloud|dev|online|site|tech|example|test|invalid|local|localdomain|internal|lan"
    rb"|corp|intra|intranet|home|private|arpa|eu|uk|de|fr|nl|es|it|ch|at|be|dk|se|no|fi|pl|ie|pt|cz|ca|us|au|nz|jp|br|mx|za"
)
_NAME = rb"[A-Za-z0-9-]{1,63}(?:\.[A-Za-z0-9-]{1,63}){1,8}"
_STANDARDS = rb"(?:schemas?|xmlns|dtds?)(?:\.[A-Za-z0-9-]{1,63}){1,6}|(?:www\.)?w3\.org|purl\.org|(?:www\.)?ietf\.org|tools\.ietf\.org|xml\.org|oasis-open\.org|docs\.oasis-open\.org|relaxng\.org|json-schema\.org|iana\.org|openxmlformats\.org"


@lru_cache(4096)
def is_host(value: bytes) -> bool:
    """A name with a dot, a hyphen or a digit, and no number, file or word about hosts."""
    lower = value.lower().rstrip(b".")
    if lower in _NO_HOSTS or lower == b"localhost.localdomain" or lower.replace(b".", b"").isdigit():
        return False
    return (
        not lower.isalpha()
        and not names_a_secret(lower)
        and any(97 <= byte <= 122 for byte in lower)
        and not lower.endswith(_FILES)
        and not _is_of_a_program(value)
    )


def is_called(value: bytes) -> bool:
    """A host where only one can stand: also a plain word, as machines are called, that is no ordinary one."""
    lower = value.lower()
    word = (
        len(value) >= 4
        and value.isalpha()
        and not is_ordinary(lower)
        and lower not in _NO_HOSTS
        and lower not in _NO_MACHINES
    )
    return word or is_host(value)


def _is_of_a_program(value: bytes) -> bool:
    """`node.value`, `self.target`, `utf-8`: what a program calls something, or a standard."""
    if _STANDARD.is_whole(value) or value.startswith((b"self.", b"cls.", b"os.")):
        return True
    return b"." in value and is_ordinary(value) and value.lower().rsplit(b".", 1)[-1] not in _ENDINGS


_ENDINGS = frozenset(_TOP.split(b"|"))
_STANDARD = native.Pattern(
    rb"(?i)base(?:16|32|64)|scram-sha-\d+(?:-plus)?|hmac-sha-?\d*-?\d*|aes-?\d{3}(?:-[a-z]+)?|utf-?(?:8|16|32)(?:-?[lb]e)?|rfc ?\d{3,5}|sha-?\d{1,3}|md[245]|iso-?8859-\d{1,2}|latin-?1"
)
_NO_HOSTS = frozenset(
    b"amd64 arm64 armhf i386 i686 x86_64 x86-64 noarch aarch64 s390x localhost host hostname server example path www sandbox default null none self".split()
)
_FILES = (b".log", b".txt", b".conf", b".cfg", b".json", b".xml", b".yaml", b".yml", b".gz", b".zip", b".py", b".sh", b".so",
          b".dll", b".exe", b".jar", b".js", b".html", b".php", b".c", b".h", b".go", b".rs", b".java", b".db", b".tmp",
          b".pid", b".sock", b".service", b".bin", b".img", b".csv", b".md")  # fmt: skip


_NO_MACHINES = frozenset(
    b"apache nginx lighttpd caddy iis jetty tomcat gunicorn uvicorn squid envoy haproxy express werkzeug cloud remote localdomain production staging development testing primary secondary tertiary"
    b" master slave replica standby active passive online offline ready running stopped healthy unhealthy unreachable refused crashed connecting idle busy leader follower manager agent hostname nodename"
    b" debug release ethernet wireless broadcast multicast unicast anycast loopback any nowhere everywhere undefined unspecified unset auto automatic manual dynamic postgres postgresql mysql mariadb oracle"
    b" sqlite redis kafka rabbitmq elasticsearch docker kubernetes podman vmware xen kvm qemu hyperv virtualbox windows linux darwin macos android ubuntu debian fedora centos redhat suse freebsd openbsd netbsd solaris"
    b" browser mobile tablet desktop laptop phone printer scanner switch router firewall gateway bridge proxy relay mirror cluster server client peer neighbor neighbour member target initiator portal".split()
)
"""What may stand behind the name of a host and is none: software, states, roles, kinds of machines."""


def same_host(value: bytes) -> bytes:
    """A host's bare name: with and without its domain it is one host."""
    return value.lower().split(b".", 1)[0]


def _is_domain(value: bytes) -> bool:
    """Two labels only under an ending that no file or method has; three or more under any; standards' own are no one's."""
    labels = value.lower().split(b".")
    if value.isupper() or any(not label for label in labels) or labels[0].isdigit():
        return False
    if len(labels) == 2:
        return labels[1] in _PLAIN_TOP
    return True


_PLAIN_TOP = frozenset(
    b"com net org edu gov mil internal example test invalid local localdomain lan corp intra intranet uk de fr nl ch".split()
)


_WORD = rb"([A-Za-z]{4,24})"
_ENDS = rb"(?:[\s\"',;&)\]}:<\\]|(?m:$))"

_OF_A_SERVICE = rb"(?:pg|smtp|imap|pop|mail|ldap|db|sql|my|redis|ftp|proxy|log|rabbit|mongo|es|amqp|mqtt|web|app|remote|file|print|backup|ntp|dns|ssh|bind|master|primary|sip|vpn|nfs|smb|radius|licen[cs]e)"
"""What a host is for, where its label is one word (`PGHOST`)."""

OF_FORMATS = (
    ("namespace of a standard", rb"\bhttps?:(?:\\?/){2}", _STANDARDS, rb"\b"),
    ("name of a namespace", rb"\bxmlns(?::[\w.-]{1,60})?\s?=\s?[\"']https?://", _NAME, rb""),
    (
        "document that describes a format",
        rb"\bhttps?://",
        _NAME,
        rb"(?::\d+)?(?:/[\w.~%+-]+){1,20}\.(?:xsd|dtd|rng|ent)\b",
    ),
    (
        "namespace before the schema that describes it",
        rb"\bhttps?://",
        _NAME,
        rb"[^\s\"'<>]{0,200}\s{1,40}https?://[^\s\"'<>]{1,200}\.xsd\b",
    ),
)
"""Where a name is that of a format and no host, unless it is under our own domains: what it is, before, name, behind."""

NETWORK = (
    Detector(
        LEAVE,
        "version that looks like an address",
        rb"(?i:\b(?:version|ver|firmware|release|build|rev|os|v)\.?\"?[ :=/\"]{0,3}v?|\bfw\"?[ :=/\"]{0,3}v|\bfw[ :/]{1,2})(\d+(?:\.\d+){3,5})\b",
    ),
    Detector(
        LEAVE,
        "object identifier that looks like an address",
        rb"(?i:\b(?:object[ _]?identifier|oid)\(?[\"']?[ :=]{0,3}[\"']?)(\d+(?:\.\d+){3,})\b",
    ),
    Detector(
        "ip",
        "address with its port behind a dot",
        rb"\b(" + _IP4 + rb")\.\d{1,5} ?(?:>|<|->) ",
        (rb"\.\d{1,5} ?(?:>|<|->)",),
        _is_ipv4,
    ),
    Detector(
        "ip",
        "address that is sent to, with its port behind a dot",
        rb"(?:>|<|->) (" + _IP4 + rb")\.\d{1,5}(?::|\s|(?m:$))",
        (rb"(?:>|<) \d{1,3}\.\d{1,3}\.\d{1,3}\.\d{1,3}\.\d",),
        _is_ipv4,
    ),
    Detector(
        "ip",
        "address with commas",
        rb"(?:\bPORT |\bPassive Mode[^\r\n(]{0,20}\()(\d{1,3},\d{1,3},\d{1,3},\d{1,3}),\d{1,3},\d{1,3}\b",
        (rb"(?:PORT |Passive Mode)",),
        canonical=_with_dots,
    ),
    Detector(
        "ip",
        "address with hyphens in a name",
        rb"\b(?i:ip|host|pc|dhcp|static|dyn|dynamic|client|node|pool|cpe|ppp)-(" + _IP4.replace(rb"\.", b"-") + rb")\b",
        (rb"-\d{1,3}-\d{1,3}-\d{1,3}-\d",),
        canonical=_with_dots,
    ),
    Detector(
        "mac",
        "address in three groups",
        rb"(?i:\b(?:mac|hwaddr|address|addr|station|sta|client)[ \t:=]+)([0-9A-Fa-f]{4}-[0-9A-Fa-f]{4}-[0-9A-Fa-f]{4})\b",
        (rb"[0-9A-Fa-f]{4}-[0-9A-Fa-f]{4}-[0-9A-Fa-f]{4}",),
        canonical=same_mac,
    ),
    Detector(
        LEAVE,
        "version of a package, with its revision",
        rb"(?:[A-Za-z]?[_(]|\b)([1-9](?:\.\d{1,3}){3}[-+~][0-9a-z][0-9A-Za-z.+~]*)",
    ),
    Detector(LEAVE, "dotted number longer than an address", rb"\b(\d+(?:\.\d+){4,})\b"),
    Detector(
        LEAVE,
        "name of a package, which is a domain backwards",
        rb"\b((?:com|org|net|edu|gov|io|javax?|jdk|sun)(?:\.[A-Za-z0-9_$]+){2,})",
    ),
    *(Detector(LEAVE, says, before + rb"(" + name + rb")" + behind) for says, before, name, behind in OF_FORMATS),
    Detector(
        "ip",
        "IPv4 address in an IPv6 one",
        rb"(?i:::(?:ffff:)?(?:0{1,4}:)?)(" + _IP4 + rb")\b",
        (rb"(?i)::(?:ffff:)?(?:0{1,4}:)?\d{1,3}\.\d",),
        _is_ipv4,
    ),
    Detector(
        "ip",
        "IPv6 address of a reverse look-up",
        rb"\b((?:[0-9A-Fa-f]\.){8,32})(?i:ip6\.(?:arpa|int))",
        (rb"(?i)\.ip6\.",),
        canonical=bytes.lower,
    ),
    Detector(LEAVE, "IPv4 address that tells nothing", rb"\b(0\.0\.\d+\.\d+|127\.0\.0\.1|255\.255\.\d+\.\d+)\b"),
    Detector("ip", "IPv4 address", rb"\b(" + _IP4 + rb")\b", (rb"\d\.\d{1,3}\.\d{1,3}\.\d",)),
    Detector(
        "ip",
        "network that is told with a sign for any",
        rb"\b((?:10\.\d{1,3}|192\.168|172\.(?:1[6-9]|2\d|3[01]))\.(?:\d{1,3}\.(?:\*|x)|(?:\*|x)\.(?:\*|x))|\d{1,3}(?:\.\d{1,3}){1,2}\.%)(?:[^\w.]|(?m:$))",
        (rb"\d\.(?:\*|x|%)",),
    ),
    Detector(
        "ip",
        "IPv4 address in a name",
        rb"(?:[A-Za-z]_|_)(" + _IP4 + rb")(?:_|\b)",
        (rb"_\d{1,3}\.\d{1,3}\.\d{1,3}\.\d",),
        _is_ipv4,
    ),
    Detector(
        "mac",
        "identity on a fast network, in pairs",
        rb"(?i:\b(?:infiniband|hw_?addr|lladdr|(?:port_?|node_?|sys_?|[ds])?g?u?id)[ \t:=]+|\bMAC=)([0-9A-Fa-f]{2}(?::[0-9A-Fa-f]{2}){14,19}|[0-9A-Fa-f]{2}(?::[0-9A-Fa-f]{2}){7})\b",
        (rb"[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}",),
        canonical=same_mac,
    ),
    Detector(LEAVE, "sum or number in pairs of digits", rb"\b([0-9A-Fa-f]{2}(?::[0-9A-Fa-f]{2}){14,})\b"),
    Detector(
        "mac",
        "world-wide name or identity in eight pairs",
        rb"\b([0-9A-Fa-f]{2}(?::[0-9A-Fa-f]{2}){7})\b",
        (rb"[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}",),
        canonical=same_mac,
    ),
    Detector(
        "mac",
        "MAC address",
        rb"\b([0-9A-Fa-f]{2}(?::[0-9A-Fa-f]{2}){5}|[0-9A-Fa-f]{2}(?:-[0-9A-Fa-f]{2}){5}"
        rb"|[0-9A-Fa-f]{4}\.[0-9A-Fa-f]{4}\.[0-9A-Fa-f]{4})\b",
        (
            rb"[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}:[0-9A-Fa-f]{2}",
            rb"[0-9A-Fa-f]{2}-[0-9A-Fa-f]{2}-[0-9A-Fa-f]{2}-[0-9A-Fa-f]{2}",
            rb"[0-9A-Fa-f]{4}\.[0-9A-Fa-f]{4}\.[0-9A-Fa-f]{4}",
        ),
        _is_mac,
        canonical=same_mac,
    ),
    Detector(
        "mac",
        "labelled MAC address without marks",
        rb"(?i:\b(?:[a-z]*mac|hwaddr|ether|wwn|wwpn|bssid|host_?id|physical[ _]address)(?:[ _]?addr(?:ess)?)?(?:"
        + GIVES
        + rb"|[ \t]+))"
        + OPENS
        + rb"<?([0-9A-Fa-f]{12}(?:[0-9A-Fa-f]{4})?)\b",
        (
            rb"(?i)(?:mac|hwaddr|ether|wwn|wwpn|bssid|host_?id|addr|address)(?:[\"'\\\]\s]{0,4}[=:>]|[ \t]+[0-9A-Fa-f]{12})",
        ),
        canonical=same_mac,
    ),
    Detector(
        "ip",
        "IPv6 address",
        rb"(\b" + _H + rb"(?::" + _H + rb"){7}\b"
        rb"|\b" + _H + rb"(?::" + _H + rb")*::(?:" + _H + rb"(?::" + _H + rb")*\b)?"
        rb"|::" + _H + rb"(?::" + _H + rb")*\b)",
        (rb"[0-9A-Fa-f]::", rb"::[0-9A-Fa-f]", rb":[0-9A-Fa-f]{1,4}:[0-9A-Fa-f]{1,4}:[0-9A-Fa-f]{1,4}:[0-9A-Fa-f]"),
        _is_ipv6,
        _same_ipv6,
    ),
    Detector(
        "host",
        "host of a system log",
        rb"(?m:^)(?:<\d{1,3}>)?(?:[A-Z][a-z]{2} [ \d]\d \d\d:\d\d:\d\d|<\d{1,3}>1 \S+) ([A-Za-z0-9][A-Za-z0-9._-]*) [^\s:\[]+(?:\[|:| )",
        (rb"\d:\d\d:\d\d [A-Za-z0-9]", rb"<\d{1,3}>1 "),
        lambda value: (
            len(value) >= 2 and value.lower() not in (b"localhost", b"last", b"kernel") and not value.isdigit()
        ),
        canonical=same_host,
    ),
    Detector(
        "host",
        "host that got an address",
        rb"[ \t]\(([A-Za-z0-9][A-Za-z0-9_.-]*)\)[ \t]+via[ \t]",
        (rb"\)[ \t]+via[ \t]",),
        canonical=same_host,
    ),
    Detector(
        "host",
        "host in an element",
        rb"(?i:<(?:[a-z]+:)?(?:host|hostname|host_name|computer|computername|server|servername|machine|machinename|workstation|fqdn|sysname)(?:[ \t][^<>\r\n]*)?>)([A-Za-z0-9_][A-Za-z0-9_.-]*)</",
        (rb"(?i)<(?:[a-z]+:)?(?:host|computer|server|machine|workstation|fqdn|sysname)",),
        lambda value: len(value) > 2 and not value.isdigit() and value.lower() not in _NO_HOSTS,
        canonical=same_host,
    ),
    Detector(
        "host",
        "host in an element with a name",
        rb"(?i:\bname=[\"'][a-z]*(?:host|hostname|computer|computername|server|servername|machine|machinename|workstation|workstationname)[\"']>)([A-Za-z0-9_][A-Za-z0-9_.-]*)</",
        (rb"(?i)name=[\"'][a-z]+[\"']>[a-z0-9]",),
        lambda value: len(value) > 2 and not value.isdigit() and value.lower() not in _NO_HOSTS,
        canonical=same_host,
    ),
    Detector(
        "host",
        "host of a shared folder",
        rb"(?m:^|[ \t\"'=(])\\{2,4}([A-Za-z0-9][A-Za-z0-9.-]*)\\{1,2}[A-Za-z0-9]",
        (rb"\\\\[A-Za-z0-9]",),
        lambda value: len(value) >= 3 and not value.isdigit(),
        canonical=same_host,
    ),
    Detector(
        "host",
        "host of a prompt",
        rb"@([A-Za-z0-9][A-Za-z0-9.-]*)[: ][~/][^\s#$%>]*\]?[#$%>](?: |(?m:$))",
        (rb"@[A-Za-z0-9.-]+[: ][~/]",),
        canonical=same_host,
    ),
    Detector(
        "host",
        "labelled host name",
        rb"(?i:\b(?:[a-z0-9_-]*[_-])?(?:"
        + _OF_A_SERVICE
        + rb"?(?:host|server)|hostname|host[ _.-]?name|node|computer|machine|fqdn|workstation|dhcp-client|peer|sysname|target|endpoint|upstream|broker|gateway|relay|smart_?host|proxy|kdc|data[ _]?source|node[ _.-]?name|vm[ _.-]?name|net ?bios[ _.-]?name|short_?name|ap[ _.-]?name|access[ _.-]?point(?:[ _.-]?name)?|device[ _.-]id|neighbou?r(?:[ _.-]?id)?|workstation[ _.-]?name|computer[ _.-]?name|machine[ _.-]?name|server[ _.-]?name|caller[ _]computer)"
        + GIVES
        + rb")"
        + OPENS
        + rb"(?:[a-z]+://|(?:tcp|udp|np|lpc|admin):)?([A-Za-z0-9_][A-Za-z0-9_-]*(?:\.[A-Za-z0-9_-]+)*)\b",
        (
            rb"(?i)(?:host|hostname|host[ _.-]?name|server|node|computer|machine|fqdn|workstation|dhcp-client|peer|sysname|target|endpoint|upstream|broker|gateway|relay|proxy|kdc|source|name|access[ _.-]?point|device[ _.-]id|neighbou?r|neighbou?r[ _.-]?id)"
            + TELLS,
        ),
        is_host,
        canonical=same_host,
    ),
    Detector(
        "host",
        "word under the name of a host's name",
        rb"(?i:\b(?:[a-z0-9_-]*[_.-])?(?:(?:host|computer|machine|server|node|device|sys(?:tem)?|net ?bios|workstation)[ _.-]?name|hostname|workstation|fqdn|(?:src|dst|source|client|remote|caller|local|peer)[ _.-]?host(?:name)?|dvc_?host|[sd]host|source workstation|caller computer name)"
        + GIVES
        + rb")[ \t]*"
        + OPENS
        + _WORD
        + _ENDS,
        (
            rb"(?i)(?:host|computer|machine|server|node|device|sys|system|bios|workstation|fqdn)[ _.-]?(?:name)?"
            + TELLS,
        ),
        is_called,
        same_host,
        sure=False,
    ),
    Detector(
        "host",
        "word that a setting gives for a host",
        rb"(?:\b(?i:(?:[a-z0-9_-]*[_.-])?(?:host|server|node|computer|machine|data[ _]source|proxy|relay|smart_?host|broker|upstream|kdc|vm|vm[ _.-]?name|hypervisor|domain[ _]?controller)|[a-z]{2,10}(?:host|server))|\b[a-z][A-Za-z0-9]*(?:Host|Hostname|HostName|Server|ServerName|Computer|ComputerName|MachineName|WorkstationName|NodeName|DeviceName))"
        rb"(?:=|[ \t]*(?:=>|:=)[ \t]*|\\?[\"']?[ \t]*(?:=>|[:=])[ \t]*\\?[\"'])(?:[a-z]+://|(?:tcp|udp|np|lpc|admin):)?\\?[\"']?"
        + _WORD
        + _ENDS,
        (
            rb"(?i)(?:host|hostname|server|node|computer|machine|source|proxy|relay|broker|upstream|kdc|vm|hypervisor|controller|name)(?:=|[ \t]?(?:=>|:=)|\\?[\"']?[ \t]{0,2}(?:=>|[:=])[ \t]{0,2}\\?[\"'])",
        ),
        is_called,
        same_host,
        sure=False,
    ),
    Detector(
        "host",
        "word that is all that stands behind a host's label",
        rb"(?:(?:(?m:^)|[,{;|(\[][ \t]*)[ \t]*(?:-[ \t]+)?(?:[A-Za-z]+ )??(?:(?i:[a-z0-9_.-]*(?:host|computer|machine|relay|proxy|broker|kdc|vm|hypervisor)(?:[ _.-]?name)?|node|hosted on|machine account)|[A-Za-z0-9_.-]*[Ss]ervers?)[ \t]*:[ \t]+|(?m:^)[ \t]*(?i:[a-z0-9_.-]*(?:host|hostname|server|computer|machine|vm|vm_?name|hypervisor|controller))[ \t]*=[ \t]*)"
        + _WORD
        + rb"(?:[ \t]*[,;}|)\]]|[ \t]*\r?(?m:$))",
        (
            rb"(?i)(?:host|computer|machine|node|relay|proxy|broker|upstream|kdc|vm|hypervisor|name|hosted on|account|servers?)[ \t]*:[ \t]+[a-z]{4}",
            rb"(?i)(?:host|hostname|server|computer|machine|vm|vm_?name|hypervisor|controller)[ \t]*=[ \t]*[a-z]{4}",
        ),
        is_called,
        same_host,
        sure=False,
    ),
    Detector(
        "host",
        "host under a name of several words",
        rb"\b[A-Za-z][A-Za-z0-9]*(?:Host|Hostname|HostName|Server|ServerName|Computer|ComputerName|Machine|MachineName|Workstation|WorkstationName|Node|NodeName|Fqdn|FQDN|DeviceName|eviceName)"
        + GIVES
        + OPENS
        + rb"([A-Za-z0-9_][A-Za-z0-9_-]*(?:\.[A-Za-z0-9_-]+)*)\b",
        (
            rb"(?:Host|Hostname|HostName|Server|Computer|Machine|Workstation|Node|Name|Fqdn|FQDN)\\?[\"']?[ \t]{0,2}[=:]",
        ),
        is_host,
        same_host,
    ),
    Detector(
        "host",
        "host in another language",
        rb"(?i:\b(?:rechner(?:name)?|h(?:o|\xc3\xb4|\xf4)te|serveur|servidor|equipo|computernaam|machinenaam|ger(?:\xc3\xa4|\xe4)t(?:ename)?)"
        + GIVES
        + rb")"
        + OPENS
        + rb"([A-Za-z0-9_][A-Za-z0-9_-]*(?:\.[A-Za-z0-9_-]+)*)\b",
        (
            rb"(?i)(?:rechner(?:name)?|h(?:o|\xc3\xb4|\xf4)te|serveur|servidor|equipo|inenaam|ernaam|ger(?:\xc3\xa4|\xe4)t(?:ename)?)"
            + TELLS,
        ),
        is_called,
        same_host,
    ),
    Detector(
        "host",
        "host in a URL",
        rb"\b[A-Za-z][A-Za-z0-9+.-]*:(?:\\?/){2}(?:[^\s/@\"'<>]*@)?([A-Za-z0-9_][A-Za-z0-9_-]*(?:\.[A-Za-z0-9_-]+)*)(?:[:/?#\s\"'<>,;)\]]|(?m:$))",
        (rb":\\?/\\?/[^\s/]",),
        lambda value: (
            (is_host(value) if b"." not in value else not value.replace(b".", b"").isdigit())
            or (value.isalpha() and len(value) > 2 and value.lower() not in _NO_HOSTS)
        ),
        canonical=same_host,
        sure=False,
    ),
    Detector(
        "host",
        "host behind credentials, with its port",
        rb"@(?://)?([A-Za-z0-9_][A-Za-z0-9_-]*(?:\.[A-Za-z0-9_-]+)*):\d{2,5}(?:[/?\s\"'<>,;]|:[A-Za-z]|(?m:$))",
        (rb"@(?://)?[A-Za-z0-9_.-]+:\d",),
        lambda value: len(value) > 2 and value.lower() not in _NO_HOSTS and not value.replace(b".", b"").isdigit(),
        canonical=same_host,
        sure=False,
    ),
    Detector(
        "host",
        "full domain name",
        rb"\b((?:[A-Za-z0-9_][A-Za-z0-9_-]*\.)+(?:(?i:" + _TOP + rb")))\b\.?",
        (rb"(?i)\.(?:" + _TOP + rb")\b",),
        _is_domain,
        canonical=same_host,
        sure=False,
    ),
)
