"""Machines that are called by a plain word or in capitals (fennel, SRVAPP01), where what stands around leaves no doubt that
one is named there."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector, has_digit
from sealpacket.core.redact.detectors.credentials import HOW_IT_IS
from sealpacket.core.redact.detectors.listings import IP, is_machine
from sealpacket.core.redact.detectors.network import is_called, same_host
from sealpacket.core.redact.ordinary import is_ordinary

_X = rb"([A-Za-z][A-Za-z0-9-]{3,30})"
_KINDS = frozenset(
    b"kiosk gw gate sorter prn printer sw switch rtr router fw firewall srv server host node array lib library ctl controller app desk cam camera sensor reader tablet till nas store web db mail dc vm esx".split()
)
"""Words for what a machine is, with which its name may begin."""
_TAILS = rb"(?:nas|fw|pdu|pbx|wlc|nvr|rtr|esx|srv|prn)"
"""How the name of a machine ends that says what it does."""
_OF_ONE = rb"ip|ipv[46]|ip_?addr(?:ess)?|address|addr|mgmt|mac|fqdn|hostname"
_BESIDE = rb"(?i:" + _OF_ONE + rb"|ssh_?host|bmc|sn|serial(?:_?(?:no|number))?)"
"""Names of what stands beside the name of a machine in its record."""
_END = rb"(?:[\s\"',.;:)\]}<]|(?m:$))"
_REACHED = (
    rb"(?:could not resolve(?: host(?:name)?)?:?|unable to resolve(?: host(?:name)?)?:?|unknown ?host(?:exception)?:?|enotfound|eai_again|connect(?:ion)? to (?:host|server)(?: at)?|failed to (?:connect to|reach|contact)|(?:cannot|can't|could not|couldn't) (?:reach|contact|ping|connect to)"
    rb"|traceroute (?:to|from)|tracing route to|scan report for|reply from|pinging|nslookup|lost (?:contact|connection) (?:to|with)|failover (?:to|from)|(?:ssh|rdp|vnc|telnet)(?:ed|ing)? (?:in ?)?to|remot(?:ed? in ?|ing in ?|ed )to)"
)
_DID = rb"(?:re-?boot(?:ed|ing|s)|power(?:ed|ing) (?:on|off)|crashed|migrated|(?:is|was|went|came|has gone|still) (?:now )?(?:down|up|offline|unreachable|back)|is not (?:ready|responding|reachable)|not responding|(?:has )?(?:joined|left) the (?:domain|cluster|mesh|ring|stack)|resolves to|failed over|lost power|does not answer|status is now)"
_REACHES = rb"(?i)(?:to resolve|not resolve|unknown ?host|enotfound|eai_again|to (?:host|server)|failed to (?:con|reach)|(?:cannot|can't|could not|couldn't) (?:reach|contact|ping|connect)|traceroute|tracing route|scan report|reply from|pinging|nslookup|lost con|failover|(?:ssh|rdp|vnc|telnet)(?:ed|ing)?[ ](?:in ?)?to|remot(?:ed? in ?|ing in ?|ed )to)"
_DOES = rb"(?i)(?:re-?boot|power(?:ed|ing) o|crashed|migrated|is (?:now )?(?:down|up|off|unre|back|not)|(?:went|came|gone|was|still) (?:now )?(?:down|up|off|unre|back)|not (?:ready|resp)|joined the|left the|resolves to|failed over|lost power|not answer|status is)"
_PORT = rb"(?i)[a-z]{3}-?\d{0,3}:\d{2}"


def _is_named(value: bytes) -> bool:
    """A machine's name where a sentence may have a word about one as well: affected, unreachable."""
    return is_called(value) and not (value.isalpha() and value.lower().endswith(HOW_IT_IS))


MACHINES = (
    Detector("host", "machine before its address in brackets", rb"(?:(?m:^)|[ \t\"'=<(\[,])" + _X + rb" ?[(\[][1-9]\d{1,2}(?:\.\d{1,3}){3}[)\]]", (rb" [(\[]\d{1,3}\.\d", rb"[a-z0-9]\[\d{1,3}\.\d"), _is_named, same_host, sure=False),
    Detector("host", "machine that something is wanted of", rb"(?i:\b" + _REACHED + rb"[ \t]+)[\"'\[(]?" + _X + _END, (_REACHES,), _is_named, same_host, sure=False),
    Detector("host", "machine that did what machines do", rb"(?i:\b(?:vm|node|host|server|machine|computer|workstation|switch|router|firewall|guest|hypervisor|appliance|controller|kiosk|member|peer|instance|esx)[ \t]+)[\"']?" + _X + rb"[\"']?[ \t]+(?i:" + _DID + rb")\b", (_DOES,), _is_named, same_host, sure=False),
    Detector("host", "machine behind a small word, with its port", rb"(?i:[ \t](?:to|on|at|via|is|from|against|with)[ \t]+)[\"']?" + _X + rb":\d{2,5}(?:[\s\"',.;/)\]]|(?m:$))", (_PORT,), _is_named, same_host, sure=False),
    Detector("host", "machine behind two strokes, with its port", rb"//" + _X + rb":\d{2,5}(?:[\s\"',;/)\]]|(?m:$))", (_PORT,), is_called, same_host),
    Detector("host", "machine that is copied to or from", rb"(?i:\b(?:scp|rsync|sftp|pscp)[ \t][^\r\n]*?[ \t@])" + _X + rb":(?:[/~.]|[ \t]*\r?(?m:$))", (rb"(?i)(?:scp|rsync|sftp)[ \t]",), is_called, same_host),
    Detector("host", "machine of a connection in a table", rb"(?m:^)[ \t]*(?i:tcp|udp)[46]?[ \t][^\r\n]*?[ \t]" + _X + rb":(?:\d{1,5}|[a-z-]{3,16})[ \t]+(?:ESTABLISHED|TIME_WAIT|CLOSE_WAIT|FIN_WAIT|SYN_|LISTEN|LAST_ACK)", (rb"(?:ESTABLISHED|TIME_WAIT|CLOSE_WAIT|FIN_WAIT|SYN_|LISTEN|LAST_ACK)",), is_called, same_host),
    Detector("host", "own side of a connection in a table", rb"(?m:^)[ \t]*(?i:tcp|udp)[46]?[ \t]+(?:\d+[ \t]+\d+[ \t]+)?" + _X + rb":(?:\d{1,5}|[a-z-]{3,16})[ \t]", (rb"(?m:^)[ \t]*(?i:tcp|udp)[46]?[ \t]",), is_called, same_host),
    Detector("host", "machine of a play", rb"\b(?:ok|changed|fatal|failed|skipping|unreachable|rescued|ignored): \[" + _X + rb"(?:\]| ->)", (rb"(?:ok|ed|al|ng|le): \[[A-Za-z]",), is_called, same_host),
    Detector("host", "machine of a play's end, or of an inventory", rb"(?:(?m:^)|[:,][ \t]+)[ \t]*" + _X + rb"(?:[ \t]+:[ \t]+ok=\d|[ \t]+ansible_[a-z_]+=)", (rb"[ \t]:[ \t]+ok=\d", rb"[ \t]ansible_[a-z]"), is_called, same_host),
    Detector("host", "machine that took a mail", rb"\bby[ \t]+" + _X + rb"[ \t]+(?:\([A-Za-z0-9. -]+\)[ \t]+)?with[ \t]+(?i:e?smtp|lmtp|local|http|mapi|utf8)", (rb"[ \t]with[ \t]+(?i:e?smtp|lmtp|http|mapi|utf8)",), is_called, same_host),
    Detector("host", "machine to which a line leads", rb"(?i:\b(?:(?:up)?link|trunk|cable|patch(?:ed)?|port-?channel|connected|connects)[ \t]+to[ \t]+)" + _X + rb"(?i:[ \t]+(?:port|po|te|gi|fa|eth|ge|xe|et|hu|slot|bay|nic|lag|e)[ \t]?\d)", (rb"(?i)(?:link|trunk|cable|patch|patched|channel|connected|connects)[ \t]+to[ \t]",), _is_named, same_host, sure=False),
    Detector("host", "machine that a command is for", rb"(?i:(?:[ \t]/(?:node|server|computer|s)[: \t]|(?:(?m:^)|[$#>|;&][ \t]*|[ \t]sudo[ \t]+)(?:nc|ncat|telnet|nslookup|dig|host|tracert|mtr|wol|whois)(?:[ \t]+-[a-z0-9]+)*[ \t])[ \t]*\\{0,2})" + _X + rb"(?:[ \t]+(?:\d{1,5}\b|" + IP + rb")|[ \t]+/|[ \t]*\r?(?m:$))", (rb"(?i)[ \t]/(?:node|server|computer|s)[: \t]", rb"(?:nc|ncat|telnet|nslookup|dig|host|tracert|mtr|wol|whois)[ \t]"), is_called, same_host, sure=False),
    Detector("host", "machine whose name is told", rb"(?i:\bhost ?name[ \t]+(?:is[ \t]+)?)[\"']?([A-Za-z][A-Za-z0-9]*(?:-[A-Za-z0-9]+)+|[A-Za-z]+[0-9][A-Za-z0-9]*)(?:[\s\"',;.)]|(?m:$))", (rb"(?i)host ?name[ \t]+(?:is[ \t]+)?[\"']?[a-z]",), is_called, same_host, sure=False),
    Detector("host", "machine for which something is", rb"(?i:\bfor (?:node|host|server|machine|computer|switch)[ \t]+)" + _X + rb"(?:[:;,]|[ \t]*\r?(?m:$))", (rb"(?i)for (?:node|host|server|machine|computer|switch)[ \t]",), _is_named, same_host, sure=False),
    Detector("host", "machine named by what it is, its place and a number", rb"\b((?i:(?:kiosk|printer|prn|mfp|copier|sorter|selfcheck|till|esx|nas|tablet|laptop)-[a-z]{2,12}-[0-9]{1,3}[a-z]?|prn-[a-z]{2,12}-[0-9a-z]{1,4}))\b", (rb"(?i)(?:kiosk|printer|prn|mfp|copier|sorter|selfcheck|till|esx|nas|tablet|laptop)-[a-z]{2}",), has_digit, bytes.lower, sure=False),
    Detector("host", "machine of another system's tool", rb"(?i:\b(?:psexec|paexec|winexe|sc|net view|qwinsta|quser|shutdown|wmic|reg|schtasks|tasklist|systeminfo|mstsc)\b[^\r\n]*?[ \t:])\\\\" + _X + rb"(?:[\s\\\"',]|(?m:$))", (rb"\\\\[A-Za-z0-9]",), is_called, same_host),
    Detector("host", "machine of a system log's line that stands behind something", rb"[ \t:|>\"'(\[][A-Z][a-z]{2} [ \d]\d \d\d:\d\d:\d\d ([A-Za-z][A-Za-z0-9._-]+) [A-Za-z0-9_./-]+\[\d+\]: ", (rb"\d:\d\d:\d\d [A-Za-z0-9]",), None, same_host),
    Detector("host", "machine of a certificate", rb"(?i:\b(?:subject|depth=\d)\b[^\r\n]{0,80}?\bCN[ \t]?=[ \t]?|\bDNS:)" + _X + rb"(?:[,/'\"\s]|(?m:$))", (rb"(?i)CN[ \t]?=[ \t]?[a-z]", rb"\bDNS:"), lambda value: is_called(value) and (value.islower() or has_digit(value)), same_host, sure=False),
    Detector("host", "machine of a list of hosts, alone behind its address", rb"(?m:^)" + IP + rb"[ \t]+" + _X + rb"[ \t]*(?:#[^\r\n]*)?\r?(?m:$)", (rb"(?m:^)\d{1,3}\.\d{1,3}\.\d{1,3}\.\d{1,3}[ \t]+[A-Za-z]",), is_called, same_host, sure=False),
    Detector("host", "machine of an account, after its name", rb" @ " + _X + _END, (rb" @ [A-Za-z]",), is_called, same_host, sure=False),
    Detector("host", "machine from which someone signed in", rb"(?i:\blast (?:failed )?login:[ \t][^\r\n]{10,60}?[ \t]from[ \t]+|\(from client[ \t]+)" + _X + rb"(?:[ \t]|\r?(?m:$))", (rb"(?i)(?:login:|\(from client)[ \t]",), is_called, same_host),
    Detector("host", "machine of a shared folder", rb"(?m:^|[ \t=(:])\\\\" + _X + rb"\\", (rb"\\\\[A-Za-z0-9]",), lambda value: is_called(value) and (has_digit(value) or b"-" in value or value.isupper()), same_host),
    Detector("host", "machine that something goes to, with an arrow", rb"(?i:\b(?:(?:replicat|sync|mirror|transfer|migrat)[a-z]{0,4}|replica|failover|tunnel|backup|vmotion)\b[^\r\n]{0,60}? (?:->|=>|-->|to) |\b(?:link|copy|copying|session|move|moving)\b[^\r\n]{0,60}? (?:->|=>|-->) )" + _X + rb"(?:[\s\"',;.:)]|(?m:$))", (rb" (?:->|=>|-->|to) [A-Za-z][A-Za-z0-9]{0,11}-[a-z0-9]",), lambda value: _is_named(value) and not value.isalpha() and b"-" in value, same_host, sure=False),
    Detector("host", "machine with a number at which or from which something was done", rb"(?i:\b(?:from|on|at)[ \t]+)([a-z]{2,12}(?:-[a-z]+)*-[0-9])(?:[ \t]*[,;)]|[ \t]*\.?[ \t]*\r?(?m:$)|[ \t]+(?:by|to|at|and|as|for|with|via|is|was|has|failed|since)\b)", (rb"(?:from|on|at|From|On|At)[ \t]+[a-z]{2,12}-[a-z0-9]",), is_machine, same_host, sure=False),
    Detector("host", "machine of a kind, by its name", rb"(?i:\b(?:kiosk|gateway|gate|sorter|printer|switch|router|firewall|server|host|node|array|library|controller|appliance|desk|camera|sensor|reader|tablet|till)[ \t]+)\"?([a-z]{2,12}-[a-z]{3,12}(?:-[a-z0-9]{1,4})?)\"?(?:[ \t]*[,;)]|[ \t]*\.?[ \t]*\r?(?m:$)|[ \t]+(?:is|was|has|does|did|lost|failed|offline|online|down|up|rebooted|restarted|unreachable|via|at)\b)", (rb"(?i)(?:kiosk|gateway|gate|sorter|printer|switch|router|firewall|server|host|node|array|library|controller|appliance|desk|camera|sensor|reader|tablet|till)[ \t]+\"?[a-z]{2,12}-[a-z]",), lambda value: is_machine(value) and (value.split(b"-")[0].lower() in _KINDS or has_digit(value)), same_host, sure=False),
    Detector("host", "machine on the way to an address", rb"[ \t]via[ \t]+" + _X + rb"(?:[ \t,;]|\r?(?m:$))", (rb"[ \t]via[ \t]+[a-z]{2,12}-",), lambda value: is_machine(value) and (value.split(b"-")[0].lower() in _KINDS or has_digit(value)), same_host, sure=False),
    Detector("host", "machine from which someone is signed in", rb" (?:pts/\d+|tty\w*|:\d) +([A-Za-z][A-Za-z0-9.-]{2,30}) +(?:Mon|Tue|Wed|Thu|Fri|Sat|Sun) ", (rb" (?:Mon|Tue|Wed|Thu|Fri|Sat|Sun) [A-Z][a-z]{2} ",), is_called, same_host),
    Detector("host", "machine beside its address in a record", rb"(?:[{,][ \t]*\\?[\"']?(?:name|label|id|alias)\\?[\"']?[ \t]*:[ \t]*\\?[\"']?)" + _X + rb"\\?[\"']?,[ \t]*\\?[\"']?" + _BESIDE + rb"\\?[\"']?[ \t]*:", (rb",[ \t]*\\?[\"']?" + _BESIDE + rb"\\?[\"']?[ \t]*:",), is_called, same_host),
    Detector("host", "machine beside its address in an element", rb"<(?i:name|host|label|id|alias|caption)>[ \t]*" + _X + rb"[ \t]*</[A-Za-z]+>\s*<(?i:" + _OF_ONE + rb"|bmc)\b", (rb"</[A-Za-z]+>[ \t]*<(?i:" + _OF_ONE + rb"|bmc)\b",), is_called, same_host),
    Detector("host", "machine in the cell before its address", rb"<t[dh](?:[ \t][^<>\r\n]*)?>[ \t]*" + _X + rb"[ \t]*</t[dh]>[ \t]*<t[dh](?:[ \t][^<>\r\n]*)?>[ \t]*" + IP, (rb"</t[dh]>[ \t]*<t[dh][^<>\r\n]{0,40}>[ \t]*\d",), _is_named, same_host, sure=False),
    Detector("host", "machine before its address, with a sign between", rb"[(\[ \t\"'`]" + _X + rb"[\"'`]?(?:,| /| -|;| at| is| on)[ \t]+[\"'`]?" + IP, (rb"[a-z0-9][\"'`]?(?:,| /| -|;| at| is| on)[ \t]+[\"'`]?\d{1,3}\.\d{1,3}\.\d",), lambda value: is_machine(value) and (has_digit(value) or b"-" in value), same_host, sure=False),
    Detector("host", "machine at the other end of a line", rb"(?i:\b(?:up|down)link[ \t:]+(?:to[ \t]+)?)[\"']?([A-Za-z][A-Za-z0-9]*(?:-[A-Za-z0-9]+)+)" + _END, (rb"(?i)(?:up|down)link[ \t:]",), is_called, same_host, sure=False),
    Detector("host", "machine that someone signed in to as someone", rb"(?i:\b(?:log(?:ged|ging)?|sign(?:ed|ing)?)[ -]?(?:in|on)[ \t]?(?:to|at|on)[ \t]+)[\"'`]?([A-Za-z]+(?:-[A-Za-z0-9]+)+|[A-Za-z]+[0-9]+)[\"'`]?[ \t]+(?i:as|with|using|via|over|from|and)\b", (rb"(?i)(?:log|logged|logging|sign|signed|signing)[ -]?(?:in|on)[ \t]?(?:to|at|on)[ \t]",), is_machine, same_host, sure=False),
    Detector("host", "machine before the sign of a prompt", rb"(?m:^)([A-Za-z][A-Za-z0-9]*(?:-[A-Za-z0-9]+)*):(?:~|/[A-Za-z0-9./_-]*) ?[#$%]", (rb"(?m:^)[A-Za-z][A-Za-z0-9-]*:[~/][A-Za-z0-9./_-]* ?[#$%]",), is_called, same_host, sure=False),
    Detector("host", "machine of a kind, by the end of its name", rb"(?:(?m:^)|[ \t(\"'`=:,])([a-z]{2,12}-" + _TAILS + rb")" + _END, (rb"[a-z]-" + _TAILS + rb"(?:[^A-Za-z0-9_-]|(?m:$))",), lambda value: is_machine(value) and not is_ordinary(value.split(b"-")[0]), same_host, sure=False),
    Detector("host", "machine by the number of a client", rb"(?i:\bclient[ _-]?id[ \t:=]+)[\"']?([A-Za-z]+(?:-[A-Za-z0-9]+)*-[0-9]+(?:-[A-Za-z0-9]+)*)" + _END, (rb"(?i)client[ _-]?id[ \t:=]",), is_machine, same_host, sure=False),
    Detector("host", "machine with a number that starts or stops", rb"(?i:\b(?:vm|node|host|server|machine|computer|instance|controller|kiosk|member|appliance)[ \t]+)[\"']?([A-Za-z][A-Za-z0-9-]*[0-9])[\"']?[ \t]+(?i:start(?:ed|ing|s)|stopp(?:ed|ing)|boot(?:ed|ing))\b", (rb"[0-9][\"']?[ \t](?i:start(?:ed|ing|s)|stopp(?:ed|ing)|boot(?:ed|ing))",), _is_named, same_host, sure=False),
    Detector("host", "machine above its address in a record", rb"(?m:^)[ \t]*(?:-[ \t]+)?[\"']?(?:name|label|id|alias)[\"']?[ \t]*:[ \t]+[\"']?" + _X + rb"[\"']?,?[ \t]*\r?\n[ \t]+[\"']?(?i:ip|ipv[46]|ip_?addr(?:ess)?|addr|mgmt|mac|fqdn|ssh_?host|bmc)[\"']?[ \t]*:", (rb"(?:name|label|id|alias)[\"']?[ \t]*:[ \t]+[\"']?[A-Za-z][A-Za-z0-9-]*[\"']?,?[ \t]*\r?(?m:$)",), is_called, same_host, lines=True),
    Detector("host", "machine that a program is to talk to", rb"(?i:\b[a-z_.]*(?:client|connection|session|server|transport|proxy|redis|ssh|telnet|ftp|smtp|imap|ldap)\([ \t]*)[\"']" + _X + rb"[\"'][ \t]*[,)]", (rb"(?i)(?:client|connection|session|server|transport|proxy|redis|ssh|telnet|ftp|smtp|imap|ldap)\([ \t]*[\"'][a-z]",), lambda value: is_called(value) and (has_digit(value) or b"-" in value or b"." in value), same_host, sure=False),
    Detector("host", "other names of a web server", rb"(?m:^)[ \t]*(?:ServerAlias|server_name|serveralias)[ \t]+([A-Za-z*][A-Za-z0-9.*-]*(?:[ \t]+[A-Za-z*][A-Za-z0-9.*-]*)*)", (rb"(?:ServerAlias|server_name|serveralias)[ \t]",), lambda value: any(is_called(one) for one in value.split()), bytes.lower),
    Detector("host", "machines that a script goes through", rb"\bfor \w+ in[ \t]+([A-Za-z][A-Za-z0-9.-]*(?:[ \t]+[A-Za-z][A-Za-z0-9.-]*)+)[ \t]*(?:;|\r?\n)?[ \t]*do\b[^\r\n]*?(?:ssh|scp|ping|rsync|curl)[ \t]", (rb"for \w+ in[ \t]+[A-Za-z][A-Za-z0-9.-]*[ \t]+[A-Za-z]",), lambda value: any(is_called(one) and not one.isalpha() for one in value.split()), bytes.lower, sure=False),
    Detector("host", "machine of which a line tells", rb"(?:(?m:^)|[\]\d] )(?:Server|Host|Node|Machine|Computer|VM|Switch|Kiosk|Printer|Router|Firewall|Station|server|host|node|machine|switch|kiosk)[ \t]+[\"']?" + _X + rb"[\"']?: ", (rb"(?:erver|ost|ode|achine|omputer|VM|witch|iosk|rinter|outer|irewall|tation)[ \t]+[\"']?[A-Za-z][A-Za-z0-9-]+[\"']?: ",), _is_named, same_host, sure=False),
    Detector("host", "machine for a protocol, as a setting", rb"(?m:^)[ \t]*(?i:smtp|imap|pop3?|ldaps?|ntp|syslog|acs|sip2?|mx|dc|dns|nfs|smb|ftp|sftp|tftp|radius|tacacs)[ \t]*=[ \t]*[\"']?" + _X + rb"[\"']?[ \t]*\r?(?m:$)", (rb"(?m:^)[ \t]*(?i:smtp|imap|pop3?|ldaps?|ntp|syslog|acs|sip2?|mx|dc|dns|nfs|smb|ftp|sftp|tftp|radius|tacacs)[ \t]*=[ \t]*[\"']?[A-Za-z]",), is_called, same_host, sure=False),
)  # fmt: skip
