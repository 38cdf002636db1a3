"""What the tools of a system print: files and their owners, processes, who is signed in, ways through the network."""

from __future__ import annotations

import re

from sealpacket.core.redact.detectors.base import Detector, has_digit
from sealpacket.core.redact.detectors.network import is_called, is_host, same_host
from sealpacket.core.redact.detectors.people import USER, is_user

_SYSTEM = frozenset(
    b"adm backup bin bind colord daemon dbus dhcpcd dialout disk dnsmasq ftp games gdm git gnats halt http irc kmem kvm libvirt"
    b" lp mail man mysql named netdev news nfsnobody ntp openldap plugdev polkitd postfix proxy puppet rabbitmq redis rpc rpcuser rtkit"
    b" shadow shutdown src staff statd sudo sync sys syslog systemd tape tcpdump tomcat tss tty usbmux utmp uucp uuidd video vcsa voice wheel www".split()
)
IP = rb"(?:\d{1,3}\.){3}\d{1,3}"
_DAY = rb"(?m:^)(?:<\d{1,3}>)?\d{4}-\d\d-\d\d[T ][0-9:.,]+[Z0-9:+-]*"
_FULL_TIME = rb"(?m:^)(?:<\d{1,3}>)?\d{4}-\d\d-\d\d[T ]\d\d:\d\d:\d\d(?:[.,]\d{1,9})?(?:Z| ?[+-]\d\d:?\d\d)? "
HOST = rb"([A-Za-z0-9][A-Za-z0-9_.-]*)"
_ACCOUNT = re.compile(rb"[a-z]{1,15}[._][a-z]{3,20}")
_NO_HOST = re.compile(rb"(?i)\d+|error|info|warn(?:ing)?|debug|notice|fatal|localhost|the|a|an|to|of|on|in|is|at")


def _is_person(value: bytes) -> bool:
    """An account that some person may have."""
    lower = value.lower()
    return is_user(value) and lower not in _SYSTEM and not lower.startswith((b"_", b"gnome-"))


def is_named(value: bytes) -> bool:
    """A host by its place on a line: no word that stands there too."""
    return len(value) >= 2 and not _NO_HOST.fullmatch(value) and not value.replace(b".", b"").isdigit()


_WORDS = frozenset(
    b"more a an any each every this that these those now later review approval example good days hours minutes seconds use reasons business sale"
    b" interface data session input output mode agent account profile group experience defined request requests name id count list table database"
    b" directory manual guide error space process state status role policy store pool info details settings preferences property field key keys limit"
    b" quota token access rights permissions service services server host client thread code config file files folder level type class object".split()
)
_ENDINGS = (b"ing", b"tion", b"ment", b"ness", b"ance", b"ence", b"ity")


ACTORS = frozenset(
    b"cron systemd scheduler timer watchdog script installer kernel vendor user users operator remote package default design mistake hand peer controller"
    b" system host server client firmware software policy rule us you them others staff support everyone it device desk monitor backup replication kiosk"
    b" issuer responder owner side ca subject holder reader patron borrower member customer visitor"
    b" successfully already not cannot now been was is are session connection".split()
)
"""What acts without being someone."""


def is_no_word(value: bytes) -> bool:
    """Someone where a word of the sentence may stand as well."""
    lower = value.lower()
    return _is_person(value) and not value.istitle() and lower not in _WORDS and not lower.endswith(_ENDINGS)


def _has_home(value: bytes) -> bool:
    """Someone whose home `~name` is: `~j.harrow`, and not `~os.path` as programs are written about."""
    return _is_person(value) and value.find(b".") < 3


def _may_be_host(value: bytes) -> bool:
    """Whether it is rather a machine than an account; `j.harrow` has the form of an account."""
    return is_host(value) and not _ACCOUNT.fullmatch(value)


_UNITS = frozenset(
    b"port vlan slot bay disk drive channel lane unit node pool volume lun tier level page line step phase stage day week month year event error code rack shelf fan psu temp cpu core eth"
    b" thread worker job task queue track item part block chunk segment shard partition group build version rev revision release firmware mode option test case round try attempt"
    b" index row column field bit byte sector head tape cartridge raid http tcp udp ipv utf sha md aes tls ssl ext fat ntfs smb nfs usb pci sas sata nvme gen ge te xe so serial com lpt tty pts".split()
)


def is_machine(value: bytes) -> bool:
    """A name with a number that is no port, disk or algorithm: sda1, port-17, sha-256."""
    return is_host(value) and not set(value.lower().rstrip(b"0123456789").rstrip(b"-").split(b"-")) & _UNITS


_ROLE = rb"(?:srv|server|sw|switch|rtr|router|fw|firewall|ap|wap|pc|ws|nb|laptop|nas|san|dc|esx|hv|vm|db|sql|web|mail|mx|print|printer|prn|mfp|copier|kiosk|tc|k8s|kube|dns|dhcp|ntp|proxy|vpn|gw|core|backup|bkp|file|fs|app|radius|ldap|ups|pdu|cam|ipcam|wlc|scanner|desk|till|pos|dist|acc|edge|agg|spine|leaf|idf|mdf|asw|csw|dsw|bastion|jump|nms|nvr|dvr|opac|ils|pbx|vdi|rds|lt|dt|wks|wkst|stor|iscsi|tape|lb|relay|term|wks|thin|hyp|esxi|bmc|ipmi|ilo|drac|oob|mgmt)"
"""What a machine is for, in its name."""

LISTINGS = (
    Detector(
        "host", "host of a system log with a full time, a process behind it", _FULL_TIME + HOST + rb" [A-Za-z0-9_./-]+\[\d+\]: ",
        (_DAY + rb" [A-Za-z0-9._-]+ [A-Za-z0-9_./-]+\[\d{1,7}\]:",), is_named, same_host,
    ),
    Detector(
        "host", "host of a system log with a full time", _FULL_TIME + HOST + rb" [A-Za-z0-9_./-]+: ", (_DAY + rb" [A-Za-z0-9._-]+ [A-Za-z0-9_./-]+:",),
        lambda value: is_named(value) and is_host(value), same_host,
    ),
    Detector(
        "user", "owner of a file", rb"(?m:^)[ \t]*(?:\d+ +)?(?:\d+ +)?[-dlcbps][-rwxsStT]{9}[.+@]? +\d+ +" + USER + rb" +[A-Za-z0-9_.$-]+ +\d",
        (rb"[-r][-w][-xsStT][.+@]? +\d",), _is_person, bytes.lower, sure=False,
    ),
    Detector(
        "user", "group of a file", rb"(?m:^)[ \t]*(?:\d+ +)?(?:\d+ +)?[-dlcbps][-rwxsStT]{9}[.+@]? +\d+ +[A-Za-z0-9_.$-]+ +" + USER + rb" +\d",
        (rb"[-r][-w][-xsStT][.+@]? +\d",), _is_person, bytes.lower, sure=False,
    ),
    Detector(
        "user", "user of a process", rb"(?m:^)" + USER + rb"\+? +\d+ +(?:\d+\.\d+ +\d+\.\d+ +\d+ +\d+|\d+ +\d+ +\d\d:\d\d) ", (rb"(?m:^)[A-Za-z][A-Za-z0-9._$-]*\+? +\d+ +\d",), _is_person, bytes.lower, sure=False,
    ),
    Detector(
        "user", "user who is signed in", rb"(?m:^)" + USER + rb" +(?:pts/\d+|tty\d+|:\d|rdp-tcp#\d+)[ \t]", (rb" (?:pts/|tty\d|:\d |rdp-tcp#)",), _is_person, bytes.lower, sure=False,
    ),
    Detector("user", "account by its number", rb"(?:\b(?:uid|gid|euid|egid|groups|auid)=|,)\d+\(" + USER + rb"\)", (rb"id=\d{1,9}\(", rb"[=,]\d{1,9}\([A-Za-z]"), _is_person, bytes.lower),
    Detector("user", "user of a rule for others' rights", rb"(?m:^)" + USER + rb"[ \t]+[A-Z0-9_,]+[ \t]*=[ \t]*\([A-Za-z:, ]+\)", (rb"=[ \t]*\([A-Za-z]",), _is_person, bytes.lower),
    Detector("user", "mailbox or timed tasks of a user", rb"(?:/var/(?:spool/)?(?:mail|cron(?:/crontabs|/tabs)?)/|(?m:^|[ \t=:\"'])~)" + USER + rb"(?:[/\s:\"',;]|(?m:$))",
             (rb"/(?:mail|cron|crontabs|tabs)/[A-Za-z]", rb"~[A-Za-z]"), _has_home, bytes.lower),
    Detector("user", "profile of a user", rb"(?i:[\\/](?:profiles|profile|redirected|homes|userdata)[$]?[\\/]{1,2})" + USER + rb"(?:[\\/\s\"',;)]|\.V\d|(?m:$))", (rb"(?i)(?:profiles?|redirected|homes|userdata)\$?[\\/]",), _is_person, bytes.lower, sure=False),
    Detector("user", "user whose session it is",
             rb"(?i:\b(?:session \S{1,40} of user|disconnected from(?: invalid| authenticating)? user|(?:expired|opened|closed|started|ended|terminated|failed|locked|unlocked|granted|denied) for(?: user| account)?|sent by|logged (?:on|off|out) (?:as|by)|signed in as|running as|impersonat(?:e|ing)) )[\"']?" + USER
             + rb"[\"']?(?:[.,;:)]?(?:\s|(?m:$)))",
             (rb"(?i)(?:of user|from user|(?:id|ing) user|(?:expired|opened|closed|started|ended|terminated|failed|locked|unlocked|granted|denied) for|sent by|logged (?:on|off|out)|signed in as|running as|impersonat(?:e|ing)) ",),
             is_no_word, bytes.lower, sure=False),
    Detector("user", "user who did something", rb"(?i:\buser )" + USER + rb"(?i: (?:logged|signed|has|was|is|connected|disconnected|authenticated|from|on|at|added|removed|created|deleted|changed|requested|attempted|tried|failed|exceeded|locked|notified|paged|alerted|session|not found in|does not|successfully))\b",
             (rb"(?i)user [a-z][a-z0-9._$-]* (?:logged|signed|has|was|is|connected|disconnected|auth|from|on|at|added|removed|created|deleted|changed|requested|attempted|tried|failed|exceeded|locked|notified|paged|alerted|session|not|does|success)",),
             is_no_word, bytes.lower, sure=False),
    Detector("user", "user who did a thing", rb"(?i:\b(?:renewed|borrowed|returned|issued|printed|requested|approved|created|changed|started|run|executed|cancelled|deleted|submitted|owned|locked|released|booked|signed in|modified|uploaded|opened|closed|aborted|killed|terminated|stopped|restarted|rebooted|enabled|disabled|granted|revoked|rejected|accepted|acknowledged|confirmed|scheduled|triggered|initiated|edited|updated|added|removed|moved|copied|renamed|viewed|downloaded|exported|imported|restored|reset|suspended|resumed|claimed|assigned|escalated|published|merged|reverted|installed|configured|unlocked|reported) by )[\"']?" + USER + rb"[\"']?(?i: (?:via|on|at|from|was|has|with|for|in)\b|[,.;)]|[ \t]*\r?(?m:$))",
             (rb"(?i)(?:ed|run|in|reset) by [\"']?[a-z_]",), lambda value: is_no_word(value) and not value.endswith(b".") and value.lower() not in ACTORS, bytes.lower, sure=False),
    Detector("user", "user from whom it came", rb"(?i:\b(?:job|request|access-request|login|log-in|logon|sign-in|connection|session|message|document|upload|query|mail|call) from )[\"']?" + USER + rb"[\"']?(?i: (?:on|at|via|for|using|with|over)\b|[,;)]|[ \t]*\r?(?m:$))",
             (rb"(?i)(?:job|request|login|log-in|logon|sign-in|connection|session|message|document|upload|query|mail|call) from [\"']?[a-z_]",), lambda value: is_no_word(value) and value.lower() not in ACTORS and not _may_be_host(value), bytes.lower, sure=False),
    Detector("user", "user at the beginning of a message", rb"(?::[ \t]+|(?m:^))" + USER + rb"(?i: (?:authenticated|logged (?:on|in|off|out)|signed (?:in|out)|connected from|disconnected from|associated|has logged|is locked out))\b",
             (rb"(?i)[a-z0-9_] (?:authenticated|logged (?:on|in|off|out)|signed (?:in|out)|connected from|disconnected from|associated|has logged|is locked out)",), lambda value: is_no_word(value) and value.lower() not in ACTORS, bytes.lower, sure=False),
    Detector("user", "role of a database", rb"(?i:\b(?:role|login|principal|account|owner) )\"" + USER + rb"\"", (rb"(?i)(?:role|login|principal|account|owner) \"",), is_user, bytes.lower),
    Detector("user", "user whose name is taken", rb"(?i:\((?:user|login|username|account|uid|user_?name|owner)\)=\()" + USER + rb"\)", (rb"\)=\(",), is_user, bytes.lower),
    Detector("host", "host of a database's user", rb"'@'([A-Za-z][A-Za-z0-9_.-]*)'", (rb"'@'[A-Za-z]",), is_called, same_host),
    Detector(
        "host", "host that is reached for",
        rb"(?i:\b(?:connect(?:ed|ing|ion)? to(?: host| server)?|could not resolve(?: host(?:name)?)?:?|unable to resolve(?: host)?|(?:name or service not known|unknown host|no such host|enotfound|eai_again):?|lookup|(?:ssh|telnet|ping6?|nslookup|dig|host|traceroute6?|tracert|mtr)(?: -[a-z0-9]+(?: \d+)?)*|traceroute to|tracing route to|pinging|bytes from|reply from|disconnected from|route to host|no route to host|connection (?:to|from)|failed to (?:connect|reach|contact|ping)(?: to)?|unreachable:?|resolving|querying) )[\"'\[(]?"
        + HOST + rb"(?:[\"'\]):,.]|\s|(?m:$))",
        (rb"(?i)(?: to|host|server|resolve|known|host:|enotfound|eai_again|lookup|ssh|telnet|ping6?|nslookup|dig|traceroute6?|tracert|mtr| -[a-z0-9]+| \d|to:|pinging|from|reach|contact|unreachable:?|resolving|querying):? [\"'\[(]?[a-z][a-z0-9_.-]*\d",),
        lambda value: is_named(value.rstrip(b".")) and is_machine(value) and has_digit(value), same_host, sure=False,
    ),
    Detector("host", "host before its address, with a time", rb"(?m:^)(?: *\d+ +|.*? )" + HOST + rb" \(" + IP + rb"\)", (rb" \(\d{1,3}\.\d{1,3}\.\d",), lambda value: is_host(value) and has_digit(value) and not value.startswith((b"vty", b"tty", b"pts")), same_host, sure=False),
    Detector("host", "host of a command", rb"(?:(?m:^)|[|;&$#>] ?)(?:ftp|open|rdesktop|telnet|ping)(?:[ \t]+-[A-Za-z]+(?:[ \t]+[^\s-]\S*)?)*[ \t]+" + HOST + rb"(?:[ \t:<]|\r?(?m:$))", (rb"(?:ftp|open|rdesktop|telnet|ping)[ \t]",), lambda value: is_called(value) and b"." not in value, same_host, sure=False),
    Detector("host", "host that is connected to, with its port", rb"(?:[ \t]-connect[ \t]+|[ \t]/v:)" + HOST, (rb"(?:-connect[ \t]|/v:)[ \t]?",), is_called, same_host),
    Detector(
        "host", "machine of a sentence",
        rb"(?i:\b(?:vm|node|server|host|replica|standby|primary|master|member|peer|target|initiator|guest|hypervisor|appliance|controller|kiosk|workstation|machine|domain controller|backup of|restore of|snapshot of|migrated from|migrated to|replication (?:from|to)|from|to|on) )[\"']?([A-Za-z]{2,12}(?:-[A-Za-z]+)*-?\d{2,4})[\"']?(?i: (?:is|was|has|to|from|and|failed|migrated|rebooted|restarted|down|up|lag|joined|left|not|unreachable|went|lost|back)\b|[,.;]? |(?m:$))",
        (rb"(?i)(?:vm|node|server|host|replica|standby|primary|master|member|peer|target|initiator|guest|hypervisor|appliance|controller|kiosk|workstation|machine|of|from|to|on) [\"']?[a-z][a-z-]*\d\d",),
        is_machine, same_host, sure=False,
    ),
    Detector("host", "name of a host in a record", rb"(?i:\\?[\"'](?:host|computer|server|machine|node|workstation|observer|agent|device)\\?[\"']:[ \t]*\{[^{}\r\n]*?\\?[\"'](?:name|hostname|address)\\?[\"']:[ \t]*\\?[\"'])" + HOST + rb"\\?[\"']",
             (rb"(?i)(?:host|computer|server|machine|node|workstation|observer|agent|device)\\?[\"']:[ \t]*\{",), is_called, same_host),
    Detector("user", "name of a user in a record", rb"(?i:\\?[\"'](?:user|actor|account|principal|subject|client_?user|initiator|reporter|assignee|author|creator|owner|approver|requester)\\?[\"']:[ \t]*\{[^{}\r\n]*?\\?[\"'](?:name|login|username|email|displayname)\\?[\"']:[ \t]*\\?[\"'])" + USER + rb"\\?[\"']",
             (rb"(?i)(?:user|actor|account|principal|subject|initiator|reporter|assignee|author|creator|owner|approver|requester)\\?[\"']:[ \t]*\{",), is_user, bytes.lower),
    Detector("user", "number of a user in a record", rb"(?i:\\?[\"'](?:user|actor|account|principal|subject|client_?user|initiator|reporter|assignee|author|creator|owner|approver|requester)\\?[\"']:[ \t]*\{[^{}\r\n]*?\\?[\"'](?:id|key|uid|userid)\\?[\"']:[ \t]*\\?[\"'])" + USER + rb"\\?[\"']",
             (rb"(?i)(?:user|actor|account|principal|subject|initiator|reporter|assignee|author|creator|owner|approver|requester)\\?[\"']:[ \t]*\{",), is_user, bytes.lower),
    Detector("host", "host of a prompt of a device", rb"(?m:^)" + HOST + rb"(?:\([a-z0-9-]{2,20}\))?[#>] ?(?:show|sh|conf|configure|config|enable|en|ping|copy|write|wr|display|no|interface|exit|end|debug|terminal|reload|get|set|diagnose|diag|execute)(?: |\r?(?m:$))",
             (rb"(?m:^)[A-Za-z0-9][A-Za-z0-9_.-]*(?:\([a-z0-9-]{2,20}\))?[#>] ?[a-z]",), lambda value: (is_named(value) and not value.islower()) or is_called(value), same_host),
    Detector("host", "host under dotted leaders", rb"(?i:\b(?:host ?name|primary dns suffix|computer name|dns suffix search list|connection-specific dns suffix)(?: ?\.)+ ?: ?)" + HOST, (rb"(?i)(?:name|suffix|list)(?: ?\.){2,}",), is_named, same_host),
    Detector("host", "host of a tool's option", rb"(?:\b(?:psql|mysql|mysqldump|pg_dump|createdb|redis-cli|mongo|ldapsearch|ipmitool|smbclient|rpcclient|snmpget|snmpwalk|curl|nc|sqlplus)\b[^\r\n]*?[ \t](?:-h|-H|--host|-r)[ \t=]*)([A-Za-z][A-Za-z0-9_.-]*)(?:[^A-Za-z0-9_.:-]|:[^/]|(?m:$))",
             (rb"[ \t](?:-h|-H|--host|-r)[ \t=]*[A-Za-z]",), is_called, same_host, sure=False),
    Detector("host", "host that is named with two strokes", rb"(?m:^|[ \t\"'=(])\\\\([A-Za-z0-9][A-Za-z0-9.-]*)(?:[ \t\"',;)]|(?m:$))", (rb"\\\\[A-Za-z0-9]",), lambda value: is_host(value) or (value.isupper() and len(value) > 3), same_host),
    Detector("user", "someone in quotes by whom it was done", rb"[ \t]by[ \t]+(?:user[ \t]+)?(?:\"" + USER + rb"\")", (rb"[ \t]by[ \t]+(?:user[ \t]+)?\"[A-Za-z_]",), is_no_word, bytes.lower, sure=False),
    Detector("host", "machine from which a page was printed", rb"\] (?:\d+ \d+ \S+ |total \d+ \S+ )" + HOST + rb" \S", (rb"\] (?:total )?\d{1,7} \d{0,7}",), lambda value: is_machine(value) or (is_named(value) and has_digit(value)), same_host),
    Detector("host", "machine named by what it does", rb"\b((?i:(?:[a-z0-9]+-)+" + _ROLE + rb"-?[0-9]{1,3}(?:-[a-z0-9]{1,8})?(?:(?:\.[a-z][a-z0-9-]*){2,5})?|[a-z]{2,12}(?:srv|nas|sql|esx|kiosk|prn|mfp|rtr)[0-9]{2,3}(?:(?:\.[a-z][a-z0-9-]*){2,5})?)|(?:MFP|PRN|PC|WS|NB|NAS|SRV|SW|FW|AP|KIOSK|PRINTER|COPIER|POS|TILL|LAPTOP)-[0-9]{2,4}(?:-[A-Z0-9]+)*|(?:MFP|PRN|PC|NAS|SRV|KIOSK|PRINTER|COPIER|POS|TILL|LAPTOP|AP)-(?:[A-Z]+-){1,2}[0-9]{1,4}(?:-[A-Z0-9]+)*)\b",
             (rb"(?i)-" + _ROLE + rb"-?[0-9]", rb"(?i)[a-z]{2}(?:srv|nas|sql|esx|kiosk|prn|mfp|rtr)[0-9]{2}", rb"(?:MFP|PRN|PC|WS|NB|NAS|SRV|SW|FW|AP|KIOSK|PRINTER|COPIER|POS|TILL|LAPTOP)-(?:[0-9]|[A-Z]{1,4}[0-9]?-)"), lambda value: is_machine(value.lower().replace(b"-core", b"-")) and not value.startswith(b"lib"), same_host, sure=False),
    Detector("host", "prompt of a device in angle brackets", rb"(?m:^)<" + HOST + rb">(?:display|system-view|ping|save|undo|tracert|reset|reboot|dis|quit)\b", (rb">(?:display|system-view|ping|save|undo|tracert|reset|reboot|dis|quit)\b",), is_named, same_host),
    Detector("host", "machine whose files are mounted", rb"(?:(?m:^)|[ \t=\"'])([A-Za-z][A-Za-z0-9.-]*):/(?:export|home|srv|vol|mnt|data|backup|nfs|share|var|opt|media|pool|tank|storage)", (rb":/(?:export|home|srv|vol|mnt|data|backup|nfs|share|var|opt|media|pool|tank|storage)",), is_called, same_host),
    Detector("host", "machine account", rb"\b([A-Z][A-Z0-9-]{2,14})\$(?:[^A-Za-z0-9{(_]|(?m:$))", (rb"[A-Z0-9]\$",), has_digit, same_host),
    Detector("host", "part of a domain in a directory", rb"(?i:\bdc=)([a-z0-9][a-z0-9-]*)", (rb"(?i)dc=[a-z0-9]",), lambda value: len(value) > 3 and value.lower() not in (b"example", b"local", b"internal", b"test", b"corp", b"info"), bytes.lower),
    Detector("user", "user whose credentials they are", rb"(?i:\b(?:credentials?|token|ticket|certificate|mailbox|quota|home directory) for(?: user| account)? )[\"']?" + USER + rb"[\"']?(?:[.,;:)]?(?:\s|(?m:$)))", (rb"(?i)(?:credentials?|token|ticket|certificate|mailbox|quota|directory) for(?: user| account)? [\"']?[a-z_]",),
             lambda value: is_no_word(value) and value.lower() not in ACTORS and not _may_be_host(value), bytes.lower, sure=False),
    Detector("user", "user whose account is in a state", rb"(?i:\b(?:account|user|login) )" + USER + rb"(?i: (?:is|was|has been) (?:now )?(?:locked|unlocked|disabled|enabled|expired|suspended|deleted|removed|blocked|inactive|unknown|not found))", (rb"(?i) (?:is|was|has been) (?:now )?(?:locked|unlocked|disabled|enabled|expired|suspended|deleted|removed|blocked|inactive|unknown|not found)",),
             is_no_word, bytes.lower, sure=False),
    Detector("user", "user by whom a thing was done", rb"(?i:\b(?:commit|push|merge|build|change|comment|job|ticket|review|request|upload|download|edit|entry|action|deployment|update|reboot|shutdown|login|import|export|release|override|checkout|checkin|print|scan|run) by )" + USER + rb"(?i: (?:on|at|from|via)\b|[,;)]|[ \t]*\r?(?m:$))", (rb"(?i)[a-z] by [a-z_]",),
             lambda value: is_no_word(value) and value.lower() not in ACTORS, bytes.lower, sure=False),
    Detector("host", "domain of a sign-in", rb"(?i:\b(?:account domain|logon domain|user_?domain|domain name|(?:target|subject)_?domain_?name|netbios[ _]domain(?: name)?)\\?[\"']?[ \t]*(?:[:=]|\">)[ \t]*\\?[\"']?)([A-Z][A-Z0-9-]{1,14})\b", (rb"(?i)domain(?:[ _]?name)?\\?[\"']?[ \t]*[:=\"]",), lambda value: value not in (b"NT", b"WORKGROUP", b"NULL", b"BUILTIN", b"NONE", b"N", b"UNKNOWN", b"LOCAL", b"TRUE", b"FALSE"), bytes.lower, sure=False),
    Detector("host", "machine named behind what it is", rb"(?i:\b(?:printer|switch|router|server|host|machine|kiosk|nas|firewall|access point|laptop|pc|workstation|computer|gateway|uplink|uplink to|node)s?[ \t]+)[\"']?([A-Za-z]{1,8}\d{1,4}-[A-Za-z]{2,12}\d{0,3}|[A-Za-z]{2,8}-[A-Za-z]{2,12}\d{1,3})\b", (rb"[A-Za-z]\d{1,4}-[A-Za-z]{2}", rb"-[A-Za-z]{2,12}\d"), lambda value: is_host(value) and value.upper() != value, same_host, sure=False),
)  # fmt: skip
