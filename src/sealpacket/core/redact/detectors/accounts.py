"""Accounts in the files that list them, in the commands and the statements that name them, and in what people write."""

from __future__ import annotations

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.detectors.base import Detector
from sealpacket.core.redact.detectors.listings import ACTORS, is_no_word
from sealpacket.core.redact.detectors.people import USER, is_user
from sealpacket.core.redact.ordinary import is_ordinary

_LIST = rb"([@+&%]{0,2}(?:[A-Za-z_][A-Za-z0-9._-]*)(?:[ ,]+[@+&%]{0,2}[A-Za-z_][A-Za-z0-9._-]*)*)"
_GROUPS = frozenset(b"all none wheel users sudo admins administrators staff everyone nobody root".split())
_MANY = rb"(?:(?:(?:[a-z]+_)?allow_?users|(?:[a-z]+_)?deny_?users|require user)[ \t]*[=:]?|(?:valid users|invalid users|write list|read list|admin users|force user|trusted users|allowed[_ ]users|denied[_ ]users|superusers|sudo_?users)[ \t]*[=:])"
_AT_PROMPT = rb"(?:(?m:^)|[$#>] ?)(?:sudo[ \t]+)?"
_THING_OF_ONE = rb"(?:(?:user|ad|domain|e-?mail|windows|network|staff) account|acct|a/c|mailbox|profile|login|log-?on|home ?(?:dir(?:ectory)?|folder|drive|share)|vpn|password|pw|pwd|passwd|inbox|calendar|sso|mfa|2fa|badge|laptop|roaming profile)"
_STATE = rb"(?:disabled|enabled|locked|unlocked|expired|created|deleted|removed|suspended|reactivated|renamed|terminated|moved|migrated|reset|blocked|provisioned|onboarded|offboarded|archived|restored|added|not found|does not exist|unknown|exceeded|over quota|cannot|can't|could not|couldn't|failed to)"
_ACTION = rb"(?:unlock|lock|disable|enable|re-?enable|delete|create|reset|suspend|remove|restore|archive|migrate|renew|provision|offboard|onboard|terminate)(?:ed|d|s|ing)?"


def is_one(value: bytes) -> bool:
    """Someone's account where what is behind may be a word as well."""
    value = value.rstrip(b".")
    known = value.lower() in ACTORS or value.lower() in _GROUPS or is_ordinary(value)
    return len(value) > 3 and (len(value) > 4 or not value.isupper()) and not known and is_no_word(value)


def _are_users(value: bytes) -> bool:
    """Whether some account of a list is someone's."""
    return any(is_user(one) and one.lower() not in _GROUPS for one in value.replace(b",", b" ").split())


def _is_someone(value: bytes) -> bool:
    """Whether an account is someone's where a group may stand as well."""
    return is_user(value) and value.lower() not in _GROUPS


_CALLS = native.Pattern(
    rb"svc_(?:accept|add|auth|call|change|close|connect|create|deferred|destroy|dg|disp|drop|dup|exit|export|fd|find|generic|get|i3c|listen|max|pool|process|program|raw|rdma|recv|reg|rqst|run|send|seq|serv|set|simple|soc|stat|tcp|thread|tli|udp|unreg|vc|wake|xprt)[a-z0-9_]*"
)
"""What programs for calls over a network name so."""


def _is_of_a_service(value: bytes) -> bool:
    return not _CALLS.is_whole(value)


def _is_of_parts(value: bytes) -> bool:
    """Where a word may stand as well: not one of which each part is an ordinary one, as in write-only."""
    parts = value.strip(b".").replace(b"_", b"-").replace(b".", b"-").split(b"-")
    return is_one(value) and any(part and not is_ordinary(part) for part in parts)


ACCOUNTS = (
    Detector("user", "account of a service, by its name", rb"(?:(?m:^)|[ \t\"'`=:(,;>])(svc_[a-z][a-z0-9_]{2,20})(?:\.?[ \t]|[\"'`,;:)\]<&|]|\.?\r?(?m:$))", (rb"\bsvc_[a-z]",), _is_of_a_service, bytes.lower, sure=False),
    Detector("user", "account at a machine with a number", rb"(?:(?m:^)|[ \t(\"'`=:,])([a-z][a-z0-9._-]{2,30})@[a-z][a-z0-9]{1,12}(?:-[a-z0-9]{1,12})*-[a-z]{0,8}[0-9]{1,4}(?:[\s\"'`),;:]|\.?(?m:$))", (rb"[a-z0-9]@[a-z][a-z0-9]{1,12}-[a-z0-9]",), is_one, bytes.lower, sure=False),
    Detector("user", "account of several parts at the end of a line", rb"(?i:\b(?:user|account|login)[ \t]+)[\"']?([A-Za-z][A-Za-z0-9]*[._-][A-Za-z0-9._-]{2,30})[\"']?[ \t]*\r?(?m:$)", (rb"(?i)(?:user|account|login)[ \t]+[\"']?[a-z][a-z0-9]*[._-][a-z0-9._-]+[\"']?[ \t]*\r?(?m:$)",), _is_of_parts, bytes.lower, sure=False),
    Detector("user", "account of a folder that is kept elsewhere", rb"\b(?:sftp|ssh|rsync|scp):([A-Za-z_][A-Za-z0-9._-]{2,30})@[A-Za-z0-9]", (rb"(?:sftp|ssh|rsync|scp):[A-Za-z_][A-Za-z0-9._-]*@",), is_user, bytes.lower),
    Detector("user", "account that is signed in, with a label", rb"(?i:\b(?:logged|signed)[ _-]?(?:in|on)(?:[ _-](?:user|as|by))?[ \t.]*[:=][ \t]*)(?:[A-Za-z0-9.-]+\\{1,2})?" + USER + rb"[ \t]*\r?(?m:$)", (rb"(?i)(?:logged|signed)[ _-]?(?:in|on)",), is_one, bytes.lower, sure=False),
    Detector("user", "members of a group", rb"(?m:^)[a-z_][a-z0-9_.-]*:[x!*]{0,2}:\d+:" + _LIST + rb"[ \t]*\r?(?m:$)", (rb"(?m:^)[a-z_][a-z0-9_.-]*:[x!*]{0,2}:\d",), _are_users, bytes.lower),
    Detector("user", "accounts that may or may not", rb"(?i:\b" + _MANY + rb"[ \t]*)" + _LIST, (rb"(?i)" + _MANY,), _are_users, bytes.lower),
    Detector("user", "account that a rule is for", rb"(?m:^)[ \t]*(?i:match user)[ \t]+" + USER, (rb"(?i)match user[ \t]",), _is_someone, bytes.lower),
    Detector("user", "account that a command is about", _AT_PROMPT + rb"(?:smbpasswd|pdbedit|finger|chage|userdel|chfn|chsh|id|groups|passwd|usermod|lastlog|deluser|adduser|gpasswd|faillock|pinky)(?:[ \t]+-[A-Za-z-]+(?:[ \t]+[a-z]+(?:,[a-z]+)*)??)*[ \t]+" + USER + rb"[ \t]*\r?(?m:$)",
             (_AT_PROMPT + rb"(?:smbpasswd|pdbedit|finger|chage|userdel|chfn|chsh|id|groups|passwd|usermod|lastlog|deluser|adduser|gpasswd|faillock|pinky)[ \t]",), lambda value: is_no_word(value) and value.lower() not in _GROUPS, bytes.lower, sure=False),
    Detector("user", "account that is given a right", rb"(?i:\b(?:grant|revoke)\b[^\r\n;]{1,80}?[ \t](?:to|from)[ \t]+)[\"'\x60]?" + USER + rb"[\"'\x60]?(?:[ \t]*[;@,]|[ \t]+(?i:with|identified|cascade)|[ \t]*\r?(?m:$))", (rb"(?i)(?:grant|revoke)[ \t]",), _is_someone, bytes.lower, sure=False),
    Detector("user", "account that a statement changes", rb"(?i:\b(?:alter|create|drop|rename|lock|comment on)[ \t]+(?:role|user|login)[ \t]+(?:if[ \t]+(?:not[ \t]+)?exists[ \t]+)?)[\"'\x60\[]?" + USER, (rb"(?i)(?:role|user|login)[ \t]",), _is_someone, bytes.lower, sure=False),
    Detector("user", "account that owns a table", rb"(?i:\bowner to[ \t]+)[\"'\x60]?" + USER + rb"[\"'\x60]?[ \t]*(?:;|\r?(?m:$))", (rb"(?i)owner to[ \t]",), _is_someone, bytes.lower),
    Detector("user", "account that a prompt connects as", rb"(?:(?m:^)|[#>] ?)\\c(?:onnect)?[ \t]+[A-Za-z_][A-Za-z0-9_-]*[ \t]+" + USER, (rb"\\c(?:onnect)?[ \t]",), _is_someone, bytes.lower),
    Detector("user", "account that made a view", rb"(?i:definer[ \t]*=[ \t]*)[\"'\x60]?" + USER + rb"[\"'\x60]?@", (rb"(?i)definer[ \t]*=",), _is_someone, bytes.lower),
    Detector("user", "account of a rule for a database", rb"(?m:(?:^|[:\"'])[ \t]*)(?:local|host(?:no)?(?:ssl|gssenc)?)[ \t]+[A-Za-z0-9_,-]+[ \t]+" + USER + rb"[ \t]+(?:[0-9a-f:.]+(?:/\d+)?[ \t]+|samehost[ \t]+|samenet[ \t]+)?(?:md5|peer|trust|scram-sha-256|ident|ldap|cert|gss|password|reject|pam|radius)", (rb"[ \t](?:md5|peer|trust|scram-sha-256|ident|ldap|cert|gss|password|reject|pam|radius)[ \t\"']*\r?(?m:$)",), _is_someone, bytes.lower),
    Detector("user", "account at a terminal", rb"\b(?:tty\d+|pts/\d+|console)[ \t]+" + USER + rb"[ \t]+\d", (rb"(?:tty\d+|pts/\d+|console)[ \t]+[a-z]",), _is_someone, bytes.lower, sure=False),
    Detector("user", "account of a directory's realm", rb"(?i:\b(?:gssapi|kerberos|ldap|radius|sasl|smb|nfs|sftp|vpn|ftp)[ \t]+(?:client|user|peer|login|account)[ \t]+)[\"']?" + USER, (rb"(?i)(?:gssapi|kerberos|ldap|radius|sasl|smb|nfs|sftp|vpn|ftp)[ \t]+(?:client|user|peer|login|account)[ \t]",), is_no_word, bytes.lower, sure=False),
    Detector("user", "account that is asked at the beginning of a line", rb"(?:(?m:^)|[\"'>\]][ \t]*)@([A-Za-z][A-Za-z0-9._-]{2,})[ \t,:]+(?i:can|could|please|pls|(?:have|did|do|are|will|would) you|fyi|thanks|thx|you)\b", (rb"@[A-Za-z][A-Za-z0-9._-]+[ \t,:]+(?i:can|could|ple|pls|have|did|do|are|will|would|fyi|th|you)",), is_no_word, bytes.lower, sure=False),
    Detector("user", "account of a credential that a program makes", rb"(?i:\b(?:ps|network|user(?:name)?password)credentials?)(?:[ \t]*\([ \t]*|[ \t]+(?i:-ArgumentList)[ \t]+\(?)[\"'](?:[A-Za-z0-9.-]+\\+)?" + USER + rb"[\"']", (rb"(?i)credentials?(?:[ \t]*\(|[ \t]+-arg)",), is_user, bytes.lower),
    Detector("user", "account that wrote a version of a file", rb"\$(?:Id|Header):[^$\r\n]{0,200}? \d\d:\d\d:\d\d[ \t]+" + USER + rb"[ \t]", (rb"\$(?:Id|Header):",), is_user, bytes.lower),
    Detector("user", "account of a seed for one-time codes", rb"(?i:otpauth://[a-z]+/)(?:[^:?/\s]*(?::|%3[Aa])(?:%20)?)?" + USER + rb"\?", (rb"(?i)otpauth://",), is_user, bytes.lower),
    Detector("user", "account whose settings a device is given", rb"(?i:\bedit[ \t]+)\"" + USER + rb"\"[ \t]*\r?\n?[ \t]*(?i:set (?:passwo?r?d|accprofile|type password|email-to|two-factor|ldap-server|radius-server))\b", (rb"(?i)edit[ \t]+\"[a-z]",), is_user, bytes.lower, lines=True),
    Detector("user", "account of a secret for a tunnel", rb"(?m:^)[ \t]*" + USER + rb"[ \t]*:[ \t]*(?:EAP|XAUTH|NTLM|PSK|RSA|ECDSA|PIN|PKCS12)[ \t]+(?:[\"%]|0[xs]|[A-Za-z0-9_-]+\.(?:pem|key|der))", (rb":[ \t]*(?:EAP|XAUTH|NTLM|PSK|RSA|ECDSA|PIN|PKCS12)",), is_user, bytes.lower),
    Detector("user", "account on a line of its own", rb"(?m:^)[ \t]*(?i:user|loginuser|remoteuser|runas|run_as|user_?name)[ \t]+" + USER + rb";?[ \t]*\r?(?m:$)", (rb"(?m:^)[ \t]*(?i:user|loginuser|remoteuser|runas|run_as|user_?name)[ \t]+[a-z]",), lambda value: is_one(value) and not value.endswith(b"."), bytes.lower, sure=False),
    Detector("user", "account for a machine on the way", rb"(?i:\b(?:proxyjump|proxycommand|ssh|jump|bastion|rsync|scp|sftp|target|remote|connect)\b[^\r\n]{0,40}?[ \t=])" + USER + rb"@(?:[a-z0-9]+-)+[a-z]*\d{1,3}\b", (rb"@[a-z0-9]+-[a-z0-9]",), is_user, bytes.lower),
    Detector("user", "account under the name of a role", rb"(?i:(?:\b|_)(?:admin|owner|deployer|submitter)(?:_?(?:user|name|login|account|id))?)(?:\\?[\"'])?[ \t]*[=:][ \t]*(?:\\?[\"'])?([a-z][a-z0-9._-]{3,30})(?:[\s\"',;<)|}&\\]|(?m:$))", (rb"(?i)(?:admin|owner|deployer|submitter)(?:_?(?:user|name|login|account|id))?[\"'\\]{0,2}[ \t]*[=:]",), is_one, bytes.lower, sure=False),
    Detector("user", "account that a call is charged to", rb"(?i:\baccount_?code)(?:\\?[\"'])?[ \t]*[=:][ \t]*(?:\\?[\"'])?" + USER, (rb"(?i)account_?code",), is_user, bytes.lower, sure=False),
    Detector("user", "account before what failed", rb"(?i:\buser[ \t]+)[\"']?" + USER + rb"[\"']?:[ \t]+(?i:authentication|authorization|login|password|auth|bind|access|quota|permission|account|session)\b", (rb"(?i)user[ \t]+[\"']?[a-z0-9._-]+[\"']?:[ \t]+[a-z]",), is_user, bytes.lower),
    Detector("user", "account that a client of a database is given", rb"\b(?:sqlplus|sqlldr|expdp|impdp|exp|imp|rman)[ \t]+(?:-[A-Za-z]+[ \t]+)*(?:userid=)?[\"']?" + USER + rb"/", (rb"(?:sqlplus|sqlldr|expdp|impdp|exp|imp|rman)[ \t]",), is_user, bytes.lower),
    Detector("user", "account that is asked over SNMP", rb"\bsnmp[a-z]+[ \t][^\r\n]{0,80}?[ \t]-u[ \t]+" + USER, (rb"snmp[a-z]+[ \t]",), is_user, bytes.lower),
    Detector("user", "account of a list of passwords for the web", rb"\bhtpasswd[ \t]+(?:-[A-Za-z]+[ \t]+)*[^\r\n\t ]+[ \t]+" + USER + rb"(?:[ \t]|\r?(?m:$))", (rb"htpasswd[ \t]",), is_user, bytes.lower),
    Detector("user", "account at a proxy", rb"--(?:proxy|preproxy)-user[ \t=]+[\"']?" + USER + rb":", (rb"proxy-user[ \t=]",), is_user, bytes.lower),
    Detector("user", "account that someone is called by", rb"(?i:\b(?:cc|ping|thanks|thx|ask|hi|hey|by|for|from|to|assign(?:ed)?|review)[ \t:,]+)@([A-Za-z][A-Za-z0-9_-]*[._-]?[A-Za-z0-9_-]{2,})(?:[\s,.;:!?)]|(?m:$))", (rb"[ \t:,]@[A-Za-z]",), is_no_word, bytes.lower, sure=False),
    Detector("user", "account in brackets behind names", rb"(?:by|for|from|user|owner|contact|assignee|reporter|requester|engineer|technician)[ \t:=]+[A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+ [A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+[^\r\n()]{0,2}[\[(<]([a-z][a-z0-9._-]{2,30})[\])>]", (rb"[a-z\x80-\xff] [\[(<][a-z]",), is_no_word, bytes.lower, sure=False),
    Detector("user", "account with a dot before an address", rb"(?:(?m:^)|[ \t:\"'])([a-z]{1,15}\.[a-z]{3,20}) \(\d{1,3}\.\d{1,3}\.\d", (rb" \(\d{1,3}\.\d{1,3}\.\d",), is_user, bytes.lower, sure=False),
    Detector("user", "account that came or went", rb"(?:(?m:^)|: |\] )" + USER + rb"(?i: has (?:left|joined|quit|disconnected|connected|logged))\b", (rb"(?i)[a-z0-9] has (?:left|joined|quit|disconnected|connected|logged)",), is_no_word, bytes.lower, sure=False),
    Detector("user", "account in brackets before what it did", rb"(?:(?m:^)|[0-9Z] )[\[<]([a-z][a-z0-9._-]{2,20})[\]>] (?:su|sudo|ran|opened|logged|closed|deleted|changed|uploaded|downloaded|joined|left)\b", (rb"[a-z0-9][\]>] (?:su|sudo|ran|opened|logged|closed|deleted|changed|uploaded|downloaded|joined|left)\b",), is_no_word, bytes.lower, sure=False),
    Detector("user", "someone by whom it was asked", rb"(?i:\b(?:requested|reported|approved|created|modified|opened|closed|submitted|assigned|raised|checked|changed|updated)[ _-]?(?:by|to)\\?[\"']?[ \t]*(?:=>|:=|[:=])[ \t]*\\?[\"']?)([a-z][a-z0-9_-]{2,24})(?:[\s\"',;<)|}&\\]|(?m:$))", (rb"(?i)ed[ _-]?(?:by|to)\\?[\"']?[ \t]*[:=]",), is_no_word, bytes.lower, sure=False),
    Detector("user", "account for which it was asked", rb"(?i:\b(?:lookup|bind|auth(?:entication)?|log-?in|attempt|requested|reset|session|home|mail|profile|logon) for )[\"']?" + USER + rb"[\"']?(?:(?i: (?:by|took|failed|returned|timed|succeeded|was|is|has|denied|refused|completed|changed|expired))\b|[ \t]*\r?(?m:$))", (rb"(?i)(?:lookup|bind|auth|authentication|log-?in|attempt|requested|reset|session|home|mail|profile|logon) for [\"']?[a-z_]",),
             lambda value: is_no_word(value) and value.lower() not in ACTORS, bytes.lower, sure=False),
    Detector("user", "account for which a password was changed", rb"(?i:\bpassword for )[\"']?" + USER + rb"[\"']?(?i: (?:changed|reset|expired|set|updated|rejected|accepted))\b", (rb"(?i)password for ",), is_no_word, bytes.lower, sure=False),
    Detector("user", "account whose thing it is", rb"(?:(?m:^)|[ \t\"'(])([a-z][a-z0-9._-]{2,30})(?:'|\xe2\x80\x99)s (?:session|account|password|mailbox|profile|home|token|login|certificate|quota|desktop|credentials|permissions|rights|phone|laptop|pc)\b", (rb"[a-z0-9](?:'|\xe2\x80\x99)s (?:session|account|password|mailbox|profile|home|token|login|certificate|quota|desktop|credentials|permissions|rights|phone|laptop|pc)\b",),
             lambda value: is_no_word(value) and value.lower() not in ACTORS, bytes.lower, sure=False),
    Detector("user", "account whose state is told", rb"(?i:\b(?:account|acct|user|mailbox|profile|user id)[ \t]+)[\"'(]?" + USER + rb"[\"')]?(?i:[ \t]+(?:(?:is|was|has been|got|has|will be)[ \t]+(?:now |already |being )?)?" + _STATE + rb")\b", (rb"(?i)(?:account|acct|user|mailbox|profile|user id)[ \t]+[\"'(]?[a-z]",), is_one, bytes.lower, sure=False),
    Detector("user", "account that something is done to", rb"(?i:\b" + _ACTION + rb"[ \t]+(?:(?:the|an?|user|ad|ldap|domain|windows|email|e-mail|network|staff|old|new|their|my|ils|local) )*(?:accounts?|" + _THING_OF_ONE + rb")[ \t]+(?:(?:of|for|on|to|from)[ \t]+(?:user )?)?)[\"'(]?" + USER + rb"(?:[\"'),;:!?]|[ \t]+(?:-[ \t]|(?:and|on|in|at|from|to|as|please|asap|after|before|until|by|via|is|was)\b)|\.?[ \t]*\r?(?m:$))", (rb"(?i)\b" + _ACTION + rb"[ \t]",), is_one, bytes.lower, sure=False),
    Detector("user", "account whose thing is told of", rb"(?i:\b" + _THING_OF_ONE + rb"[ \t]+(?:of|for)[ \t]+(?:user |account )?)[\"'(]?([a-z][a-z0-9_-]*(?:\.[a-z0-9_-]+)?)(?:[\"'),;:!?]|[ \t]+(?:-[ \t]|(?:and|on|in|at|from|to|as|please|asap|after|before|until|by|via|is|was|has|had|had been|needs|moved|expired|failed|full|locked|exceeded|migrated|does|cannot|can't|won't|will|must|should)\b)|\.?[ \t]*\r?(?m:$))",
             (rb"(?i)" + _THING_OF_ONE + rb"[ \t]+(?:of|for)[ \t]+[\"'(]?[a-z]",), is_one, bytes.lower, sure=False),
    Detector("user", "account that is put among others", rb"(?i:(?:(?m:^)|[ \t:])(?:removed|added|invited|enrolled|banned|unlocked|kicked) )[\"']?([a-z][a-z0-9._-]{2,30})[\"']?(?i: (?:from|to) (?:the )?[a-z0-9_-]*(?:admins?|users?|group|staff|team|role|ops|operators|sudoers|wheel)\b)", (rb"(?i)(?:removed|added|invited|enrolled|banned|unlocked|kicked) [\"']?[a-z]",),
             lambda value: is_no_word(value) and value.lower() not in ACTORS, bytes.lower, sure=False),
    Detector("user", "account that may not do so", rb"(?:(?m:^)|[ \t]|: )" + USER + rb" ?: ?(?:command not allowed|user NOT in sudoers|a password is required|\d+ incorrect password)", (rb": ?(?:command not allowed|user NOT in sudoers|a password is required|\d{1,3} incorrect password)",), is_user, bytes.lower),
    Detector("user", "account as which someone or something came in", rb"(?i:\b(?:connect(?:ed|ing)?|authenticat(?:ed|ing)|logg(?:ed|ing) (?:in|on)|log-?[io]n|bound|bind(?:ing)?|mount(?:ed|ing)?|running|executed|started|opened|registered|signed in)\b[^\r\n]{0,60}?[ \t]as[ \t]+(?:user[ \t]+)?)[\"']?" + USER + rb"[\"']?(?:[ \t]*[,;.)]?[ \t]*\r?(?m:$)|[,;)]|(?i:[ \t]+(?:from|on|via|with|using|at|failed|denied|refused|rejected|succeeded)\b))", (rb"[ \t]as[ \t]+(?:user[ \t]+)?[\"']?[a-z]",), is_one, bytes.lower, sure=False),
    Detector("user", "account whose session it was", rb"(?i:\b(?:session|login|logon|sign-?in|connection|tunnel|lease|mailbox|homedir)[ \t]+(?:of|for)[ \t]+(?:user[ \t]+)?)[\"']?" + USER + rb"[\"']?[ \t]+(?:(?i:from|on|at|via|with|over|closed|opened|expired|ended|started|timed)\b|\(|\d)", (rb"(?i)(?:session|login|logon|sign-?in|connection|tunnel|lease|mailbox|homedir)[ \t]+(?:of|for)[ \t]+",), is_one, bytes.lower, sure=False),
    Detector("user", "account before its password in a sentence", rb"(?i:\b(?:login|log-?in|account|user(?:name)?|sign-?in)[ \t]+(?:is[ \t]+|as[ \t]+)?)[\"']?" + USER + rb"[\"']?(?:,[ \t]*|[ \t]+(?i:and|with|und|et)[ \t]+)(?:the[ \t]+)?(?i:password|passwd|passphrase|pw|pwd|pass|passwort|kennwort)\b", (rb"(?i)(?:,[ \t]?|[ \t](?:and|with|und|et)[ \t]+)(?:the[ \t]+)?(?:password|passwd|passphrase|pw|pwd|pass|passwort|kennwort)\b",), is_user, bytes.lower, sure=False),
    Detector("user", "account whose settings stand in braces", rb"(?m:^)[ \t]+[\"']?" + USER + rb"[\"']?:[ \t]*\{[^{}\r\n]*?[\"']?(?:pw|pwd|pass|password|passwd|mail|email|uid|groups?|shell|role|sudo)[\"']?:", (rb"[A-Za-z0-9_.-][\"']?:[ \t]*\{[ \t]*[\"']?(?:pw|pwd|pass|mail|email|uid|group|shell|role|sudo)",), is_one, bytes.lower, sure=False),
    Detector("user", "account by whom a note was made, in an attribute", rb"[ \t](?i:by|author|owner|creator|modifier|editor|reporter|assignee)=[\"']" + USER + rb"[\"']", (rb"[ \t](?i:by|author|owner|creator|modifier|editor|reporter|assignee)=[\"'][A-Za-z_]",), is_user, bytes.lower),
    Detector("user", "account for whom a password did not match", rb"(?i: for[ \t]+)[\"']?" + USER + rb"[\"']?: (?i:(?:wrong |bad |no |invalid )?(?:password|passwd|credentials?|secret|authentication|auth|login|account))\b", (rb" for[ \t]+[\"']?[A-Za-z0-9._-]+[\"']?: [a-z]",), is_one, bytes.lower, sure=False),
    Detector("user", "account of which a line tells", rb"(?:(?m:^)|[\]\d] )(?:User|Account|Login|user|account)[ \t]+[\"']?" + USER + rb"[\"']?: ", (rb"(?:User|Account|Login|user|account)[ \t]+[\"']?[A-Za-z0-9._-]+[\"']?: ",), is_one, bytes.lower, sure=False),
    Detector("user", "account of whoever serves, as a setting", rb"(?m:^)[ \t]*(?i:operator|clerk|cashier)[ \t]*=[ \t]*" + USER + rb"[ \t]*\r?(?m:$)", (rb"(?m:^)[ \t]*(?i:operator|clerk|cashier)[ \t]*=",), is_one, bytes.lower, sure=False),
)  # fmt: skip
