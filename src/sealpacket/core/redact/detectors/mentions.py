"""What sentences, traces, addresses and tools say of people, their accounts and their numbers."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector, digits_of, has_digit
from sealpacket.core.redact.detectors.credentials import (
    NAME_OF_A_SECRET,
    is_odd,
    is_password,
    is_said,
    is_secret,
    is_told_word,
)
from sealpacket.core.redact.detectors.network import is_called, same_host
from sealpacket.core.redact.detectors.people import CAPITALS, NAME, USER, is_someone, is_user

_READERS = rb"(?i:patrons?|borrowers?|readers?|members?|customers?|students?|patients?|subscribers?)"
_DONE = rb"(?:added|removed|created|deleted|locked|unlocked|disabled|enabled|changed|reset|modified|approved|granted|revoked|assigned)"
_PASSWORD = rb"(?:passwort|kennwort|wachtwoord|mot de passe|contrase(?:\xc3\xb1|\xf1|n)a|senha|has(?:\xc5\x82|l)o|l(?:\xc3\xb6|\xf6)senord|adgangskode|passord|salasana)(?:[ \t][a-z\x80-\xff]{3,14})??"

_FETCHED = rb"(?:HIER_)?(?:DIRECT|NONE|PARENT|SIBLING|CARP|[A-Z]+_PARENT|[A-Z]+_SIBLING)[A-Z_]{0,12}/"
"""From where a proxy had a page."""


def _of_several(value: bytes) -> bool:
    """Two words of capitals or more that can be a name."""
    return is_someone(value) and len(value) >= 6


MENTIONS = (
    Detector("user", "who configures a device", rb"(?i:\bconfigured from [a-z0-9./-]+ by )" + USER, (rb"(?i)configured from ",), is_user, bytes.lower),
    Detector("user", "who does something to another account", rb"(?i:\b(?:user|account|group|role|member|password)\b[^\r\n]{0,60}\b" + _DONE + rb"\b[^\r\n]{0,60}?[ \t]by[ \t]+(?:user[ \t]+)?)[\"']?" + USER + rb"[\"']?(?:[ \t]*(?:[,;.(]|at\b|on\b|from\b)|[ \t]*\r?(?m:$))",
             (rb"(?i)[ \t]by[ \t]",), is_user, bytes.lower, sure=False),
    Detector("user", "folder of someone's on a share", rb"\\{2,4}[A-Za-z0-9._-]+\\{1,2}(?i:profiles?|users|homes?|userdata|roaming|redirect(?:ed)?(?:folders)?)\$?\\{1,2}" + USER, (rb"(?i)\\(?:profiles?|users|homes?|userdata|roaming|redirect)[a-z]{0,10}\$?\\",), is_user, bytes.lower),
    Detector("user", "user of an address", rb"\b(?:smb|cifs|ssh|sftp|ftp|ftps|scp|vnc|rdp|telnet|ldap|ldaps|imap|imaps|smtp|git\+ssh|rsync|afp|nfs|mysql|postgres|postgresql)://" + USER + rb"@", (rb"(?:smb|cifs|ssh|ftp|ftps|scp|vnc|rdp|telnet|ldap|ldaps|imap|imaps|smtp|rsync|afp|nfs|mysql|postgres|postgresql)://",), is_user, bytes.lower),
    Detector("user", "user of a sign-in over a network", rb"\b(?:ssh|slogin|rlogin|rsh|autossh|mosh|scp|sftp|telnet)\b[^\r\n]{0,80}?[ \t]-l[ \t]*" + USER, (rb"[ \t]-l",), is_user, bytes.lower),
    Detector("user", "owner that a command gives", rb"\bchown[ \t]+(?:-[A-Za-z-]+[ \t]+)*" + USER + rb":[A-Za-z0-9._-]*[ \t]", (rb"chown[ \t]",), is_user, bytes.lower),
    Detector("person", "labelled name in capitals, the last one first", rb"(?i:\b(?:patient|borrower|patron|customer|client|member|reader|student|pupil|employee|card ?holder|holder|insured|visitor)[ \t]*[:=][ \t]*)(" + CAPITALS + rb",[ ]?" + CAPITALS + rb"(?:[ ][A-Z]\.?)?)",
             (rb"[A-Z]{2},[ ]?[A-Z]",), _of_several, bytes.lower),
    Detector("person", "letter and name of a card's holder", rb"(?i:\b(?:card ?holder|holder|name(?: on (?:the )?card)?|cust(?:omer)?)[ \t]*:?[ \t]+)([A-Z](?:\. ?| )" + CAPITALS + rb")\b", (rb"[ \t][A-Z](?:\. ?| )[A-Z]{2}",), _of_several, bytes.lower, sure=False),
    Detector("person", "segment about a person (HL7)", rb"(?m:^)\s?(?:PID|NK1|GT1|IN1|MRG)\|([^\r\n]+)", (rb"(?m:^)\s?(?:PID|NK1|GT1|IN1|MRG)\|",)),
    Detector("person", "name in brackets behind a reader", rb"\b" + _READERS + rb"\b[^\r\n()]{0,20}\d[^\r\n()]{0,8}\((" + NAME + rb"(?:,? " + NAME + rb")?)\)", (rb"\([A-Z\xc3-\xdf][a-z\x80-\xff']",), is_someone, bytes.lower, sure=False),
    Detector("person", "in whose care something is sent", rb"\b[cC]/[oO][ \t]+(" + NAME + rb"(?: " + NAME + rb"){0,2})", (rb"[cC]/[oO][ \t]",), is_someone, bytes.lower),
    Detector("address", "street, number, postcode and town", rb"\b([A-Z\xc3-\xdf][a-z\x80-\xff.-]+(?: [A-Z\xc3-\xdf]?[a-z\x80-\xff.-]+){0,3} \d{1,3}[a-z]?, (?:[A-Z]{1,2}-\d{4,5}|\d{5}) [A-Z\xc3-\xdf][A-Za-z\x80-\xff-]+)", (rb", (?:[A-Z]{1,2}-)?\d{4,5} [A-Z\xc3-\xdf]",), canonical=bytes.lower, sure=False),
    Detector("reader", "number of someone in a path", rb"/" + _READERS + rb"/(\d{5,18})\b", (rb"(?i)/(?:patrons?|borrowers?|readers?|members?|customers?|students?|patients?|subscribers?)/\d",), canonical=digits_of),
    Detector("iban", "code of a bank (ISO 9362)", rb"\b(?:BIC|SWIFT|Bic|Swift|bic|swift)(?:[ /_-]?(?i:code|bic))?[\"']?[ \t]*[:=]?[ \t]*[\"']?([A-Z]{6}[A-Z0-9]{2}(?:[A-Z0-9]{3})?)\b", (rb"(?i)(?:bic|swift)(?:[ /_-]?(?:code|bic))?[ \"'\t:=]",)),
    Detector("national", "number of value added tax", rb"(?i:\b(?:vat|ust-?id|tva|btw|iva)(?:[ _-]?(?:no|nr|number|reg|id|nummer))*\.?[ \t]*[:=#]?[ \t]*)([A-Z]{2} ?[0-9A-Z]{2}\d{6,10})\b", (rb"(?i)\b(?:vat|ust-?id|tva|btw|iva)[ _.:=#-]",), sure=False),
    Detector("national", "labelled national insurance number", rb"(?i:\b(?:nino|ni[ ._-]?(?:no|nr|number)|national insurance(?:[ ._-]?(?:no|number))?)\.?(?:[ \t]+(?:is|was))?[ \t]*[:=#]?[ \t]*)([A-Z]{2} ?\d{2} ?\d{2} ?\d{2} ?[A-D])\b", (rb"\d{2} ?\d{2} ?\d{2} ?[A-D]\b",)),
    Detector("asset", "identity of a licensed host", rb"(?:\b(?i:host[ _-]?id)[ \t:=]+\"?|(?m:^)SERVER[ \t]+\S+[ \t]+)([0-9A-Fa-f]{8}(?:[0-9A-Fa-f]{4})?)\b", (rb"(?i)host[ _-]?id[ \t:=]", rb"(?m:^)SERVER[ \t]"), has_digit, bytes.lower, sure=False),
    Detector("user", "user in brackets", rb"(?i:\b(?:user(?:name)?|account|login|principal)[ \t]+)[\[<(]" + USER + rb"[\]>)]", (rb"(?i)(?:user(?:name)?|account|login|principal)[ \t]+[\[<(]",), is_user, bytes.lower, sure=False),
    Detector("user", "user of a folder at home", rb"(?i:\b(?:home_?dir(?:ectory)?|profile_?path|home_?folder)\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?)\\{2,4}[A-Za-z0-9._-]+\\{1,2}(?:[A-Za-z0-9._ $-]+\\{1,2})*([A-Za-z][A-Za-z0-9._-]*\$?)(?:[\s\"',;]|(?m:$))", (rb"(?i)(?:home_?dir|profile_?path|home_?folder)",), is_user, bytes.lower),
    Detector("host", "computer in a directory", rb"\b[cC][nN]=([A-Za-z0-9][A-Za-z0-9-]*),(?:OU|CN|ou|cn)=[^,\r\n]*(?i:pcs|computers|servers|workstations|laptops|clients|kiosks|domain controllers)", (rb"\b[cC][nN]=[A-Za-z0-9]",), canonical=same_host),
    Detector("host", "name of a device in an event", rb"(?i:\b(?:nas-identifier|dev_?name|device[_-]?name|dvc_?host|s_?host|d_?host|src_?host|dst_?host|observer\.name)\\?[\"']?[ \t]*[=:][ \t]*)\\?[\"']?([A-Za-z][A-Za-z0-9._-]+)", (rb"(?i)(?:nas-identifier|dev_?name|device[_-]?name|dvc_?host|[sd]_?host|(?:src|dst)_?host|observer\.name)\\?[\"']?[ \t]*[=:]",), lambda value: has_digit(value) or b"-" in value or is_called(value), same_host, sure=False),
    Detector("asset", "identity of a device in an event", rb"\b(?i:dev_?id|device[_-]?id|dev_?sn)\\?[\"']?[ \t]*[=:][ \t]*\\?[\"']?([A-Z][A-Z0-9-]{9,30})\b", (rb"(?i)(?:dev_?id|device[_-]?id|dev_?sn)[\"'\\ \t]{0,3}[=:]",), lambda value: len(digits_of(value)) >= 4, bytes.lower, sure=False),
    Detector("user", "user of a domain between commas", rb",[A-Za-z][A-Za-z0-9.-]*\\" + USER + rb",", (rb"[A-Za-z0-9.-]\\[A-Za-z_]",), is_user, bytes.lower),
    Detector("user", "user of a tunnel's list", rb"(?m:^)(?:CLIENT_LIST,|ROUTING_TABLE,[^,\r\n]*,)" + USER + rb",", (rb"(?m:^)(?:CLIENT_LIST|ROUTING_TABLE),",), is_user, bytes.lower),
    Detector("user", "user to whom an address was given", rb"-> " + USER + rb"/\d{1,3}(?:\.\d{1,3}){3}\b", (rb"-> [A-Za-z_]",), is_user, bytes.lower),
    Detector("user", "user of a proxy", rb"\b(?:GET|POST|CONNECT|HEAD|PUT|OPTIONS) \S+ " + USER + rb" " + _FETCHED, (rb" " + _FETCHED,), is_user, bytes.lower),
    Detector("user", "user of a printed page", rb"(?:(?m:^)|[:\t] ?)\S+ " + USER + rb" \d+ \[\d{2}/[A-Z][a-z]{2}/\d{4}:", (rb"\d \[\d{2}/[A-Z]",), is_user, bytes.lower),
    Detector("user", "user of a session's tools", rb"\b(?:unix-user:|keyring for |new user: name=|new group: name=|group added: name=|group added to [^\r\n:]{1,40}: name=|new account: )" + USER, (rb"(?:unix-user:|keyring for |: name=|new account: )",), is_user, bytes.lower),
    Detector("user", "who asked for something", rb"(?i:\b(?:requested|created|modified|approved|submitted|opened|closed|assigned|updated|reported|changed|owned|logged|entered)[ _-]?(?:by|to)\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?)([A-Za-z]+\.[A-Za-z][A-Za-z0-9-]*)\b", (rb"(?i)(?:by|to)\\?[\"']?[ \t]*[:=]",), is_user, bytes.lower, sure=False),
    Detector("host", "server of shared files", rb"\bnfs: server ([A-Za-z0-9][A-Za-z0-9._-]*) ", (rb"nfs: server ",), canonical=same_host),
    Detector("asset", "identity of a volume", rb"\((3[0-9a-f]{16}(?:[0-9a-f]{16})?)\)", (rb"\(3[0-9a-f]{4}",)),
    Detector("secret", "value of a secret that a tool is given", rb"(?i:\b(?:config(?:ure)?[ \t]+set|kv[ \t]+put|etcdctl[ \t]+put|secrets?[ \t]+set)[ \t]+)[\w./-]*" + NAME_OF_A_SECRET + rb"[ \t]+[\"']?([^\s\"'<-][^\s\"']*)", (rb"(?i)(?:config(?:ure)?[ \t]+set|kv[ \t]+put|etcdctl[ \t]+put|secrets?[ \t]+set)[ \t]",), is_secret),
    Detector("secret", "password that a statement makes a hash of", rb"(?i:\b(?:old_)?password\([ \t]*)[\"']([^\"'\r\n]+)[\"']", (rb"(?i)password\([ \t]*[\"']",), is_secret),
    Detector("secret", "password of a new sign-in", rb"(?i:\bsp_(?:addlogin|password)[ \t]+)N?'[^'\r\n]*'[ \t]*,[ \t]*N?'([^'\r\n]+)'", (rb"(?i)sp_(?:addlogin|password)[ \t]",)),
    Detector("person", "name that a statement asks for", rb"(?i:\b(?:sur|last|first|fore|given|family|full|display|patron|borrower|reader|customer|member|contact|person|client|holder)_?name[ \t]+(?:i?like|in \()[ \t]*)'%?([^'%\r\n]{2,60})", (rb"(?i)name[ \t]+(?:i?like|in \()",), canonical=bytes.lower),
    Detector("secret", "password that is typed once more", rb"(?i:\b(?:re-?type|re-?enter|repeat|confirm|verify)(?: (?:the )?(?:new )?(?:password|passphrase|pin))?[ \t]*:[ \t]+)([^\s]+)", (rb"(?i)(?:type|enter|repeat|confirm|verify|password|passphrase|pin)[ \t]*:[ \t]",), lambda value: is_odd(value) and has_digit(value), sure=False),
    Detector("user", "user to whom something happens", rb"(?i:\b(?:user|subject|principal|identity)[ \t]+)" + USER + rb"[ \t]+(?i:issued|assigned|connected|disconnected|authenticated|joined|left|attached|logged|signed|requested)\b", (rb"(?i)\b(?:user|subject|principal|identity)[ \t]",), is_user, bytes.lower, sure=False),
    Detector("host", "name of a machine behind its address", rb"\b(?:[0-9A-Fa-f]{2}:){5}[0-9A-Fa-f]{2} \(([A-Za-z][A-Za-z0-9._-]+)\)", (rb":[0-9A-Fa-f]{2} \([A-Za-z]",), canonical=same_host),
    Detector("reader", "card that was read", rb"(?i:\bcard[ \t]+(?:read|scanned|swiped|presented|inserted|tapped)[ \t:]+)(\d{8,16})\b", (rb"(?i)card[ \t]+(?:read|scanned|swiped|presented|inserted|tapped)",), canonical=digits_of),
    Detector("user", "who did something, in a record", rb"\\?[\"'](?i:(?:created|modified|approved|submitted|opened|closed|assigned|updated|reported|changed|owned|deleted|requested|author|owner|editor)(?:_?by|_?to)?)\\?[\"'][ \t]*:[ \t]*\\?[\"']" + USER + rb"\\?[\"']", (rb"(?i)(?:_?by|_?to|author|owner|editor)\\?[\"'][ \t]*:",), is_user, bytes.lower, sure=False),
    Detector("secret", "value beside its name on one line", rb"(?i:\b(?:name|key):[ \t]+)[\"']?" + NAME_OF_A_SECRET + rb"[\"']?,?[ \t]+(?i:value|val):[ \t]+[\"']?([^\s\"',]+)", (rb"(?i)[ \t](?:value|val):[ \t]",), is_secret),
    Detector("secret", "password of the environment", rb"\b[A-Z]{2,12}PASS(?:WD|WORD)?=[\"']?([^\s\"';&]+)", (rb"PASS(?:WD|WORD)?=",), is_secret),
    Detector("secret", "user and password that are tried", rb"[ \t]-a[ \t]*[\"']?(?:[A-Za-z0-9.-]+\\+)?([A-Za-z][A-Za-z0-9._-]*%[^\s\"']+)", (rb"[ \t]-a",), lambda value: has_digit(value.split(b"%", 1)[1]), sure=False),
    Detector("person", "someone addressed in another language", rb"\b(?:Madame|Monsieur|Mme\.?|Mlle|[mM]evrouw|[mM]eneer|[dD]hr\.|[mM]evr\.|Signora?|Sig\.(?:ra)?|Se(?:\xc3\xb1|\xf1)ora?|Sra\.|Sr\.)[ \t]+(" + NAME + rb"(?: " + NAME + rb")?)", (rb"(?:Madame|Monsieur|Mme|Mlle|evrouw|eneer|dhr|Dhr|evr|Sig|Se(?:\xc3\xb1|\xf1)or|Sra?)[a-z.]{0,3}[ \t]",), is_someone, bytes.lower, sure=False),
    Detector("person", "someone behind a longer label", rb"(?i:\b(?:technician|engineer|contact|witness|staff|supervisor|colleague)[ \t][^\r\n:=]{1,20}:[ \t]*)((?:[A-Z]\. ?)+" + NAME + rb"|" + NAME + rb" " + NAME + rb")", (rb"(?i)(?:technician|engineer|contact|witness|staff|supervisor|colleague)[ \t]",), is_someone, bytes.lower, sure=False),
    Detector("secret", "password behind its short label", rb"(?i:\bpw[ \t]+)([^\s\"'<>,;]{6,})", (rb"(?i)\bpw[ \t]",), lambda value: (is_odd(value) and has_digit(value)) or is_told_word(value), sure=False),
    Detector("secret", "value of a secret that is set", rb"(?i:\b(?:password|secret)-value[ \t]+)\"?([^\s\";]+)", (rb"(?i)(?:password|secret)-value[ \t]",)),
    Detector("secret", "user and password to sign in with", rb"(?i:\b(?:log(?:ged)? ?in|login|sign(?:ed)? ?in|connect|authenticate|access|credentials?|creds|account)[ \t]+(?:with|as|using|is|are)[ \t:]+)([A-Za-z][A-Za-z0-9._-]*[ \t]*/[ \t]*[^\s/]{4,})", (rb"(?i)(?:login|in|connect|authenticate|access|credentials?|creds|account)[ \t]+(?:with|as|using|is|are)[ \t:]",), lambda value: is_odd(value) and has_digit(value.rsplit(b"/", 1)[1]), sure=False),
    Detector("secret", "password behind letters that stand for user and password", rb"(?i:\bu(?:ser)?[:=][ \t]?[^\s:=]+[ \t,;/|]+p(?:w|ass)?[:=][ \t]?)([^\s,;]+)", (rb"(?i)[ \t,;/|]p(?:w|ass)?[:=]",), is_password),
    Detector("secret", "password that a sentence in another language tells", rb"(?i:\b" + _PASSWORD + rb"(?: (?:f(?:\xc3\xbc|\xfc)r|de|del|voor|pour|para|van)[^\r\n:]{1,40}?)?[ \t]+(?:lautet|ist|hei(?:\xc3\x9f|ss)t|war|wurde auf|is|est|es|\xc3\xa9|\xc3\xa8|to|\xc3\xa4r|er|on)[ \t:]+)[\"'\x60]?([^\s\"'\x60<>]+)", (rb"(?i)" + _PASSWORD + rb"[ \t]",), is_said),
)  # fmt: skip
