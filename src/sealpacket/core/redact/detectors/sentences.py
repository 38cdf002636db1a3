"""What people write in sentences: tickets, notes, minutes, mails. All of them doubtful, so that a person looks at them
first."""

from __future__ import annotations

import re

from sealpacket.core.redact.detectors.accounts import is_one
from sealpacket.core.redact.detectors.base import Detector, digits_of, has_digit
from sealpacket.core.redact.detectors.listings import is_machine
from sealpacket.core.redact.detectors.names import are_odd_names, is_odd_name
from sealpacket.core.redact.detectors.nearby import BEHIND, PASSWORD, is_told
from sealpacket.core.redact.detectors.people import NAME, TWO_NAMES, USER, is_user
from sealpacket.core.redact.ordinary import is_ordinary

_HOW_IT_IS = tuple(b"ed ing able ible ous ory ive al ic ful less ent ant ly ect nly ary zero".split())
_OPENS = rb"(?:wi-?fi|wlan|wireless|ssid|hotspot|guest|network|door|alarm|gate|safe|entry|access|unlock|master|keypad|lock ?box|lift|garage|bitlocker|hotspot|kiosk|admin|bios|firmware|supervisor)"
_DID = (
    rb"(?:rang|phoned|e?mailed|texted|visited|complained|borrowed|came by|came in|dropped by|called (?:again|back|in|about|to|us|me)|promised|wants|asked (?:me|us|for|if|about|to)|told (?:me|us)|said|wrote"
    rb"|left a message|will (?:call|ring|be in|be away|be back|send|bring)|(?:is|was) (?:ill|away|on leave|on holiday|on site|out of office|off today)|has left|returned (?:the|his|her|a)|confirmed (?:that|by))"
)
_NUMBER = rb"(?:customer|account|client|contract|agreement|reference|support|site|licen[cs]e|membership|subscription)[ \t](?:number|no\.?|id|code|ref(?:erence)?)"
_OF_READER = rb"(?:patron|borrower|reader|member|student|staff|employee|payroll|pupil|visitor|guest|matriculation)[ \t](?:id|number|no\.?|nr\.?|#|card|barcode)"
_LOGIN = rb"(?:try(?: with)?|log ?in|logon|creds?|credentials?|account|user(?:name)?)"
_PAIRED = rb"(?:[A-Za-z]+[A-Za-z0-9-]*[#!$%&*+?][A-Za-z0-9#!$%&*+?-]{2,}|[A-Z][a-z]+[0-9]+[A-Za-z0-9#!$%&*+?-]*|[a-z]+[0-9]+[A-Z#!$%&*+?-][A-Za-z0-9#!$%&*+?-]*|[0-9]+[A-Za-z]+[0-9A-Z#!$%&*+?-]+[a-z0-9#!$%&*+?-]*)"


def _is_account(value: bytes) -> bool:
    """What a sentence says that an account is, and not how it is: mandatory, expired, ambiguous."""
    lower = value.lower().rstrip(b".")
    return len(lower) > 3 and is_user(value) and not is_ordinary(value) and not lower.endswith(_HOW_IT_IS)


def _in_words(value: bytes) -> bool:
    """A mail address as people write it so that nothing finds it: `name [at] house [dot] org`, name AT house DOT org."""
    lower = value.lower()
    words = [one for one in re.split(rb"[^a-z0-9_-]+", lower) if one not in (b"at", b"dot", b"punkt")]
    spelled = re.search(rb"[ \[({<](?:dot|punkt)[ \])}>]|[\[({<] ?at ?[\])}>]|\(@\)", lower)
    ends = len(words[-1]) <= 3 or words[-1] in (b"example", b"info", b"invalid", b"test", b"local", b"name", b"cloud")
    return spelled is not None and ends and len(words) >= 3 and not is_ordinary(words[0])


_ENDINGS_OF_FILES = tuple(
    b".conf .json .yaml .yml .html .txt .log .xml .conf .cfg .ini .properties .java .class .js .py .sh .pl .pm .so .lib .dll .exe .service .socket .target .tar .zip .bak .pem .key .crt .example .local .invalid .test .internal .com .net .org".split()
)


SENTENCES = (
    Detector("secret", "what a sentence says that a password is",
             rb"(?i:" + PASSWORD + rb"[a-z0-9_-]{0,16}\b[^\r\n:=]{0,50}?(?:[ \t](?:(?:changed|set|reset|updated|rotated|switched|back) to|is now|is still|will be|is|was|are|now)[ \t]*:?|[:=])[ \t]+)[\"'`]?([^\s\"'`,;<>]*\d[^\s\"'`,;<>]*)",
             (rb"(?i)" + PASSWORD,), is_told, sure=False),
    Detector("secret", "what opens a door, a network or a thing",
             rb"(?i:\b" + _OPENS + rb"[ _-](?:[a-z]+[ _-])?(?:key|code|pin|pass(?:word|phrase|code)?|combination)s?\b[^\r\n:=]{0,40}?(?:[:=]|[ \t](?:is|was|to|now)\b)[ \t]*:?[ \t]*)[\"'`]?([^\s\"'`,;<>]*\d[^\s\"'`,;<>]*)",
             (rb"(?i)" + _OPENS + rb"[ _-](?:[a-z]+[ _-])?(?:key|code|pin|pass|comb)",), lambda value: is_told(value) or (4 <= len(value) <= 10 and value.isdigit()), sure=False),
    Detector("user", "what a sentence says that an account is", rb"(?i:\b(?:user ?name|user ?id|login(?: name)?|log ?on(?: name)?|account(?: name)?)[ \t]+(?:is|was|changed to|should be)[ \t]+(?:now )?)[\"'`]?" + USER + rb"(?:[ \t\"'`,;)]|\.?[ \t]*\r?(?m:$))",
             (rb"(?i)(?:user ?name|user ?id|login|login name|log ?on|logon name|account|account name)[ \t]+(?:is|was|changed to|should be)[ \t]",), _is_account, bytes.lower, sure=False),
    Detector("secret", "words that open a network", rb"(?i:\b(?:wi-?fi|wlan|wireless|hotspot)[ _-](?:[a-z]+[ _-])?(?:key|password|passphrase|code)\b[^\r\n:=]{0,40}?(?:[:=]|[ \t](?:is|was|to|now))[ \t]+)[\"'`]?((?:[a-z]{2,12} ){1,5}\d{1,6})" + BEHIND, (rb"(?i)(?:wi-?fi|wlan|wireless|hotspot)[ _-]",), None, sure=False),
    Detector("user", "account that someone works with", rb"(?i:\b(?:(?:log(?:ged|ging|s)?|sign(?:ed|ing|s)?)[ -]?(?:back )?(?:in|on|into|onto)|connect(?:ed|ing|s)?|authenticat(?:ed|ing|es)|impersonat(?:ed|ing)) as[ \t]+(?:user )?)[\"'`]?(?:[A-Za-z0-9.-]+\\+)?" + USER + rb"(?:[ \t\"'`,;:)]|\.?[ \t]*\r?(?m:$))", (rb"(?i)(?:in|on|to|connect|connects|ed|ing|es) as[ \t]",), is_one, bytes.lower, sure=False),
    Detector("user", "account that is told with its password", rb"(?i:\b" + _LOGIN + rb"\b[ \t:=]*(?:is|are|was|as|with)?[ \t:=]*)[\"'`]?" + USER + rb"[\"'`]?(?: ?/ ?| with | and | : )[\"'`]?(?:[A-Za-z]+[0-9#!$%&*+?]|[0-9]+[A-Za-z])", (rb"(?: ?/ ?| with | and | : )[\"'`]?[A-Za-z0-9]+[0-9#!$%&*+?]",), is_user, bytes.lower, sure=False),
    Detector("secret", "password that is told with its account", rb"(?i:\b" + _LOGIN + rb"\b)[^\r\n]{0,40}?[A-Za-z0-9\"'`\]](?: ?/ ?| with | and | : )[\"'`]?(" + _PAIRED + rb")" + BEHIND, (rb"(?: ?/ ?| with | and | : )[\"'`]?[A-Za-z0-9]+[0-9#!$%&*+?]",), lambda value: is_told(value) and len(value) >= 6, sure=False),
    Detector("secret", "answer to a question that only one can answer", rb"(?i:\b(?:security|secret|challenge|memorable|hint)[ _-]?(?:question|answer|word|place|name|date)\b[^\r\n:=]{0,40}[:=][ \t]*)[\"']?([^\s\"'][^\r\n\"';|]{2,60})", (rb"(?i)(?:security|secret|challenge|memorable|hint)[ _-]?(?:question|answer|word|place|name|date)",), lambda value: not is_ordinary(value.strip()) and b"?" not in value, sure=False),
    Detector("person", "someone who did what people do", rb"(?:(?m:^)|[.!?] |[:>\]-] |\d )(" + NAME + rb") (?:again |also |just |then )?" + _DID + rb"\b", (_DID,), is_odd_name, bytes.lower, sure=False),
    Detector("person", "someone at an extension", rb"\b(" + NAME + rb")(?:,| on| at| \()? ?(?:(?:on|at) )?(?i:ext|extension|tel|phone|mobile|dect)\b\.?:? ?(?:\+?\d|\[)", (rb"(?i)(?:ext|extension|tel|phone|mobile|dect)\.?:? ?(?:\+?\d|\[)",), is_odd_name, bytes.lower, sure=False),
    Detector("person", "name before a marriage, without a verb", rb"(?i:\bmaiden[ \t]+name[ \t]+)([A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+)", (rb"(?i)maiden[ \t]+name[ \t]",), is_odd_name, bytes.lower, sure=False),
    Detector("person", "one name behind a small word and a thing of people", rb"\b(?:with|by|from|for|to|ask|tell|told|per|via|and|or|met) (?:Mrs?|Ms|Mx|Dr|Prof|Miss|Herr|Frau|Mme|colleague|our colleague|my colleague)\.? (" + NAME + rb")\b", (rb"(?:Mrs?|Ms|Mx|Dr|Prof|Miss|Herr|Frau|Mme|colleague)\.? [A-Z\xc3-\xdf]",), is_odd_name, bytes.lower, sure=False),
    Detector("contract", "number that a sentence says we have", rb"(?i:\b" + _NUMBER + rb"\b[^\r\n:=\d]{0,30}?(?:[:=]|[ \t](?:is|was|now))[ \t]*)[\"'`]?((?:[A-Z]{1,5}[-/ ]?)?\d[0-9A-Z]*(?:[-/][0-9A-Z]+)*)" + BEHIND, (rb"(?i)" + _NUMBER,), lambda value: len(digits_of(value)) >= 5, bytes.lower, sure=False),
    Detector("reader", "number that someone has", rb"(?i:\b" + _OF_READER + rb"(?:[ \t]?[:=#]|[ \t]is)?[ \t]*)[\"'`]?([A-Za-z]{0,3}-?\d{4,12})" + BEHIND, (rb"(?i)" + _OF_READER + rb"[ \t:=#\"]",), has_digit, bytes.lower, sure=False),
    Detector("national", "number of a licence to drive", rb"(?i:\bdriv(?:ing|er'?s?)[ _-]?licen[cs]e(?:[ _-]?(?:no\.?|number|#))?[ \t]*[:=#]?[ \t]*)([A-Z]{1,5}[ -]?\d{4,8}[ -]?[A-Z0-9]{2,6})\b", (rb"(?i)driv(?:ing|er'?s?)[ _-]?licen[cs]e",), None, bytes.lower, sure=False),
    Detector("secret", "word behind a word for a password", rb"(?i:(?:(?m:^)|[,;./(][ \t]*|[ \t](?:and|und|et|y|en|e|with|mit|avec|temp|new|old|current|default|root|admin|user|initial)[ \t]+)(?:pass|pw|pwd|password|passwort|passw|kennwort|wachtwoord|senha|clave|mdp|pin)[ \t]+)[\"'`]?([^\s\"'`,;<>()]*\d[^\s\"'`,;<>()]*)" + BEHIND, (rb"(?i)(?:pass|pw|pwd|password|passwort|passw|kennwort|wachtwoord|senha|clave|mdp|pin)[ \t]+[\"'`]?[a-z0-9]",), lambda value: is_told(value) and len(value) >= 6, sure=False),
    Detector("user", "account behind a word for it in another language", rb"(?i:\b(?:benutzer(?:name|kennung|konto)?|utilisateur|gebruiker(?:snaam)?|usuario|utente|nutzer(?:name)?|kennung|anv\xc3\xa4ndare|bruger|bruker|identifiant|compte)[ \t]+)[\"'`]?([a-z][a-z0-9._-]{3,30})(?:[,;:.)\"'`]|[ \t]*\r?(?m:$)|[ \t]+(?:kann|ist|hat|wurde|est|a|ne|is|kan|no|non|und|et|en|y|e|mit|avec)\b)", (rb"(?i)(?:benutzer|benutzername|benutzerkennung|benutzerkonto|utilisateur|gebruiker|gebruikersnaam|usuario|utente|nutzer|nutzername|kennung|ndare|bruger|bruker|identifiant|compte)[ \t]+[\"'`]?[a-z]",), is_one, bytes.lower, sure=False),
    Detector("asset", "serial number in another language, in groups", rb"(?i:\b(?:seriennummer|serien-?nr|ger\xc3\xa4tenummer|ger\xc3\xa4te-?nr|num\xc3\xa9ro de s\xc3\xa9rie|n[o\xc2\xb0.]* ?de s\xc3\xa9rie|serienummer|n\xc3\xbamero de serie|numero di serie|matricola|n\xc3\xbamero de s\xc3\xa9rie|serial(?: number| no\.?)?|s/n)\.?[ \t:=#]*)([A-Z]{1,4}[0-9]{1,4}(?: [A-Z0-9]{2,5}){1,4})\b", (rb"(?i)(?:serien|ger\xc3\xa4te|s\xc3\xa9rie|serienummer|serie|matricola|serial|serial number|serial no|s/n)[a-z-]*\.?[ \t:=#]+[a-z]{1,4}[0-9]",), lambda value: len(digits_of(value)) >= 4, bytes.lower, sure=False),
    Detector("asset", "number of what takes another's place", rb"(?i:\b(?:replacement|spare|new (?:unit|disk|drive|one|serial)|ersatz|ersatzger\xc3\xa4t|remplacement|successor|loaner)(?: unit| drive| disk| serial| s/n| sn| is| was)*[ \t:=#]+)([A-Z]{1,5}[0-9]{3,}[A-Z0-9]*|[A-Z0-9]*[A-Z][0-9][A-Z0-9]{4,}|[0-9]+[A-Z]+[0-9][A-Z0-9]{2,})" + BEHIND, (rb"(?i)(?:replacement|spare|new (?:unit|disk|drive|one|serial)|ersatz|ersatzger\xc3\xa4t|remplacement|successor|loaner)(?: unit| drive| disk| serial| s/n| sn| is| was)*[ \t:=#]",), lambda value: len(value) >= 7 and len(digits_of(value)) >= 2, bytes.lower, sure=False),
    Detector("birth", "day of birth behind a letter", rb"\((?:b\.?|\*|geb|n\.)[ \t]*(\d{1,2}[./-]\d{1,2}[./-]\d{2,4}|\d{4}-\d{2}-\d{2})\b", (rb"\((?:b\.?|\*|geb|n\.)[ \t]*\d",)),
    Detector("national", "number of an insurance or a tax office", rb"(?i:\b(?:insurance|versicherungs|sozialversicherungs|rentenversicherungs|krankenversicherungs|steuer|tax|vat id|fiscal|social insurance|health insurance)[ -]?(?:number|nummer|no\.?|nr\.?|id)[ \t]*[:=#]?[ \t]*)((?:[A-Z]{1,2} ?)?\d{1,3}(?:[ /.-]?\d{2,6}){1,4}(?:[ /-]?[A-Z] ?\d{0,4})?)\b", (rb"(?i)(?:insurance|versicherungs|steuer|tax|vat id|fiscal)[ -]?(?:number|nummer|no|nr|id)",), lambda value: len(digits_of(value)) >= 7, digits_of, sure=False),
    Detector("mail", "mail address in words", rb"(?i:\b)([A-Za-z0-9._-]{2,40} ?(?:[\[({<] ?(?i:at) ?[\])}>]| (?i:at) |\(@\)) ?[A-Za-z0-9-]{2,40}(?: ?(?:[\[({<] ?(?i:dot|punkt) ?[\])}>]| (?i:dot|punkt) |\.) ?[A-Za-z]{2,20}){1,4})\b", (rb"(?i)(?: (?:dot|punkt) |[\[({<] ?(?:at|dot|punkt) ?[\])}>]|\(@\))",), _in_words, bytes.lower, sure=False),
    Detector("user", "name on a service for messages", rb"(?i:\b(?:skype|telegram|wechat|discord|mastodon|twitter|instagram|github|gitlab|icq|jabber|linkedin|facebook|line id|viber)(?: ?(?:id|name|handle|user))?[ \t]*:[ \t]*)@?([A-Za-z0-9][A-Za-z0-9._:-]{3,40})", (rb"(?i)(?:skype|telegram|wechat|discord|mastodon|twitter|instagram|github|gitlab|icq|jabber|linkedin|facebook|line id|viber)(?: ?(?:id|name|handle|user))?[ \t]*:",), is_one, bytes.lower, sure=False),
    Detector("user", "handle behind a service for messages", rb"(?i:\b(?:twitter|mastodon|instagram|telegram|github|gitlab|slack|teams|discord|x)(?: (?:user|account|handle|name))?[ \t]+)@([A-Za-z0-9_][A-Za-z0-9._-]{2,30})", (rb"(?i)[a-z][ \t]+@[a-z0-9_]",), is_one, bytes.lower, sure=False),
    Detector("person", "surname and given name in capitals", rb"(?i:\b(?:for|by|to|from|of|with|patron|reader|borrower|member|holds?|loans?|account|customer)[ \t]+)([A-Z\xc3-\xdf][A-Z\x80-\xdf'-]{2,}, [A-Z\xc3-\xdf][A-Z\x80-\xdf'-]{2,})\b", (rb"(?i:for|by|to|from|of|with|patron|reader|borrower|member|hold|holds|loan|loans|account|customer)[ \t]+[A-Z\xc3-\xdf][A-Z\x80-\xdf'-]+, [A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "someone who says who it is", rb"(?i:\b(?:this is|my name is|here is|i am|i'm|ich bin|mein name ist|je suis|je m'appelle|ik ben|spoke to|speaking to|name's)[ \t]+)(" + NAME + rb"(?: (?:[A-Z]\. )?" + NAME + rb"){1,2})(?: (?i:from|at|in|of|here|and|calling|speaking|aus|von|de|van|with)\b|[,.;!]|[ \t]*\r?(?m:$))", (rb"(?i:this is|my name is|here is|i am|i'm|ich bin|mein name ist|je suis|je m'appelle|ik ben|spoke to|speaking to|name's)[ \t]+[A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "one name behind what someone does", rb"(?i:\b(?:our|my|the|your|their|his|her)[ \t]+(?:[a-z-]+[ \t]+)?(?:sysadmin|admin(?:istrator)?|colleague|engineer|technician|librarian|manager|trainee|apprentice|intern|boss|supervisor|janitor|caretaker|it (?:guy|person|lead|contact)|contact|electrician)[ \t]+)(" + NAME + rb")(?:[ \t]+[a-z(]|[,.;:)]|[ \t]*\r?(?m:$))", (rb"(?i:admin|administrator|colleague|engineer|technician|librarian|manager|trainee|apprentice|intern|boss|supervisor|janitor|caretaker|guy|person|lead|contact|electrician)[ \t]+[A-Z\xc3-\xdf]",), is_odd_name, bytes.lower, sure=False),
    Detector("host", "machine that something is on", rb"(?i:\b(?:on|host|server|from|to|machine|box|node|vm|via|against|onto|reboot(?:ed|ing)?|ping(?:ed|ing)?|traceroute (?:from|to))[ \t]+)[\"'`]?([a-z]{2,12}(?:srv|server|host|db|app|web|nas|dc|gw|fw|sw)\d{1,3})" + BEHIND, (rb"(?i)[a-z]{2}(?:srv|server|host|db|app|web|nas|dc|gw|fw|sw)\d",), is_machine, bytes.lower, sure=False),
    Detector("user", "accounts that are put among others", rb"(?i:\b(?:add|added|adding|remove|removed|removing|invite|invited|grant|enable|disable|unlock|move)[ \t]+(?:[a-z]{1,15}\.[a-z]{3,20}(?:,| and)[ \t]+)?)([a-z]{1,15}\.[a-z]{3,20})(?:(?:,|[ \t]+and)[ \t]+[a-z]{1,15}\.[a-z]{3,20})?[ \t]+(?:to|from|in|into)[ \t]+(?:the |our )?[A-Za-z0-9 _-]{0,30}(?i:group|team|role|list|admins?|users|members|staff|channel)\b", (rb"(?i)(?:add|added|adding|remove|removed|removing|invite|invited|grant|enable|disable|unlock|move)[ \t]+[a-z]{1,15}\.[a-z]",), lambda value: is_one(value) and not value.lower().endswith(_ENDINGS_OF_FILES), bytes.lower, sure=False),
    Detector("user", "account in the name of a directory", rb"(?i:\bcn\\{0,2}=)([a-z][a-z0-9._-]{2,30}),[ ]?(?i:ou|dc|cn|o)\\{0,2}=", (rb"(?i)cn\\{0,2}=[a-z0-9._-]+, ?(?:ou|dc|cn|o)",), is_one, bytes.lower, sure=False),
    Detector("host", "machine named by what it does, without a number", rb"(?i:\b(?:from|to|host|on|via|at|behind|reboot(?:ed|ing)?|ping(?:ed|ing)?|device|switch|router|firewall|server|reach)[ \t]+)[\"'`]?([a-z]{3,12}-(?:gw|fw|rtr|nas|san|dc|esx|sw|srv|db|mx|vpn|proxy|ldap|pbx|ups|pdu|wlc|nvr))" + BEHIND, (rb"[a-z]-(?:gw|fw|rtr|nas|san|dc|esx|sw|srv|db|mx|vpn|proxy|ldap|pbx|ups|pdu|wlc|nvr)[^a-z0-9-]",), lambda value: not is_ordinary(value.partition(b"-")[0]), bytes.lower, sure=False),
    Detector("secret", "number of a session that lets someone in", rb"(?i:\b(?:[a-z]*viewer|[a-z]*session|partner|remote|[a-z]*desk|assist|meeting|conference|webinar)[ _-]?(?:session )?id[ \t]*[:=]?[ \t]*)(\d{1,3}(?:[ -]?\d{3,4}){2,3})" + BEHIND, (rb"(?i)(?:viewer|session|partner|remote|desk|assist|meeting|conference|webinar)[ _-]?(?:session )?id[ \t:=]",), lambda value: 9 <= len(digits_of(value)) <= 12, sure=False),
    Detector("person", "someone to call at a number", rb"(?i:\b(?:call|ring|phone|text|contact|reach|ask|tell|e-?mail)[ \t]+)(" + NAME + rb"(?: " + NAME + rb")?) (?:on|at|under|via) (?:\(?\+?\d|\[)", (rb"(?i:call|ring|phone|text|contact|reach|ask|tell|mail)[ \t]+[A-Z\xc3-\xdf]",), is_odd_name, bytes.lower, sure=False),
    Detector("secret", "code with a key behind it", rb"(?i:\b(?:code|pin)[ \t]*(?:is|:|=)?[ \t]*)(\d{4,8}[#*]|[#*]\d{4,8}[#*]?)", (rb"\d{4}[#*]", rb"[#*]\d{4}"), None, sure=False),
    Detector("user", "account by whom a thing was made", rb"(?i:\b(?:(?:generated|created|built|compiled|executed|started|stopped|installed|triggered|scheduled)[ \t]+(?:on|at)\b|(?:exported|printed|saved|edited|uploaded|scanned|ordered|rebooted|deployed|committed|imported|downloaded|archived|shredded)\b)[^\r\n]{0,50}?[ \t]by[ \t]+(?:user )?)[\"'`]?([a-z][a-z0-9._-]{3,30})(?:[,;.)\]<\"'`]|[ \t]+(?:at|on|from|in|via|using|with|for|and)\b|[ \t]*(?:-->)?[ \t]*\r?(?m:$))", (rb"[ \t]by[ \t]+[\"'`]?[a-z]|[ \t]by user [a-z]",), is_one, bytes.lower, sure=False),
    Detector("user", "account that a process says it serves", rb"\b(?:sshd|sftp|postgres|ftpd|vsftpd|proftpd|imapd?|smbd|in\.telnetd|login|su|dovecot)(?:-session)?: (?:[a-z_]+ )??([a-z_][a-z0-9._-]{1,30})(?: \[(?:priv|net|accepted|preauth|pam|local)\]|@(?:pts/\d+|tty\w+|notty|internal-sftp)| ils\b)", (rb"(?:priv|net|accepted|preauth|pam|local)\]", rb"@(?:pts/|tty|notty|internal-sftp)"), is_user, bytes.lower),
    Detector("user", "account that did something, of a note", rb"(?:\\*[\"']|\b)by\\*[\"'][ \t]*:[ \t]*\\*[\"']([A-Za-z][A-Za-z0-9._-]{2,40})\\*[\"']", (rb"by\\*[\"'][ \t]*:",), is_one, bytes.lower, sure=False),
    Detector("asset", "tag of a thing in capitals", rb"(?i:\b(?:asset[_ -]?|property[_ -]?|inventory[_ -]?)?tag)\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?([A-Z]{2,6}-?\d{3,10})" + BEHIND, (rb"(?i)tag\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?[a-z]{2}",), None, bytes.lower, sure=False),
    Detector("contract", "number of a warranty", rb"(?i:\bwarranty[_ -]?(?:ref(?:erence)?|no|nr|number|id|contract|cert(?:ificate)?)\.?)\\?[\"']?[ \t]*[:=]?[ \t]*\\?[\"']?([A-Z0-9]{1,6}(?:[-/][A-Z0-9]{2,8}){1,4}|[A-Z]{0,4}\d{5,12})" + BEHIND, (rb"(?i)warranty[_ -]?(?:ref|no|nr|number|id|contract|cert)",), has_digit, bytes.lower, sure=False),
    Detector("person", "two names that a link to write to someone shows", rb"(?i:mailto:[^\r\n\"'>]{3,100}[\"'][^\r\n<>]{0,100}>[ \t]*)(" + TWO_NAMES + rb")[ \t]*</", (rb"(?i)mailto:",), are_odd_names, bytes.lower, sure=False),
)  # fmt: skip
