"""People beside a label: names, users, home folders, days of birth."""

from __future__ import annotations

import re

from sealpacket.core.redact.detectors.base import GIVES, LEAVE, OPENS, TELLS, Detector, has_digit, named
from sealpacket.core.redact.detectors.credentials import is_the_name_of_a_secret, names_a_secret
from sealpacket.core.redact.detectors.given_names import is_someones_name
from sealpacket.core.redact.ordinary import is_ordinary

_NOBODY = frozenset(
    b"root nobody daemon system service guest public default unknown none null anonymous www-data apache nginx postgres mysql"
    b" administrator everyone all shared any user users username admin operator support test local localsystem console tty"
    b" created deleted changed ok failed failure success successful succeeded started stopped closed opened expired locked unlocked enabled disabled active"
    b" inactive missing required updated removed added rejected accepted denied granted pid reboot error errors info warn warning debug notice fatal critical interface keine aus ja nein online offline"
    b" authpriv authnopriv noauthnopriv login logout logon logoff polkitd messagebus sshd dbus avahi chrony"
    b" of to by at as a an be it or host hostname password from for on in is was has with not and the true false yes no id name agent invalid session data group groups role you me him her us them it all each every".split()
)


_THINGS = frozenset(
    b"card cards smart barcode usb rfid device devices driver error not no service services group account accounts type module scanner"
    b" support portal care id number name centre center relations experience success data record records status added removed"
    b" management manager desk edition mode list system client server team admin console database import export login host remote package agent controller process kernel scheduler watchdog daemon storage network task job".split()
)
"""Words that stand behind "reader" and the like where no one is meant."""


NO_PART_OF_A_NAME = frozenset(
    b"channel array ethernet gigabit fibre fiber smart studio visual plugin editor notebook desktop workstation laptop cluster fabric spanning tree rapid"
    b" storage snapshot shadow directory hyper threading elliptic curve texts unified supplement foundation university institute school college library libraries"
    b" branch street road lane avenue square court park inc ltd llc gmbh ag corporation corp company microsystems networks technologies solutions systems services society association"
    b" north south east west northern southern eastern western central european american asian english german french spanish italian dutch standard daylight pacific atlantic"
    b" failed failure critical fatal exception unable access denied connection refused card reader printer scanner kiosk gate sorter conveyor belt shelf loan return patron borrower"
    b" serial attached solid drive optical magnetic power supply fan sensor module controller adapter bridge router switch firewall gateway tunnel proxy balancer"
    b" scheduled planned head deputy chief circulation acquisitions catalogue reference lending desk counter reading room floor ms mr mrs dr prof office community guide handbook manual project team board basement ground upper lower main old new".split()
)
"""Words that stand with a capital where no one is meant."""


_LABELS = frozenset(
    b"vorname nachname rufname nombre nombres apellido apellidos prenom pr\xc3\xa9nom nom nome cognome sobrenome voornaam achternaam forename surname lastname firstname geboren geburtsdatum".split()
)
"""Words that tell of the next part of a name."""


def may_be_someone(value: bytes) -> bool:
    """Whether a word of what a label tells of can be a part of a name: it is none that any text has, and none of them
    tells of the next part."""
    words = value.replace(b",", b" ").split()
    if any(word.lower() in _LABELS for word in words):
        return False
    return any(not is_ordinary(word) and word.lower() not in NO_PART_OF_A_NAME for word in words)


def is_someone(value: bytes) -> bool:
    """Whether names behind "reader", "customer" and the like are someone's, and not a word about readers."""
    return not _THINGS & set(value.lower().replace(b",", b" ").split())


_NO_NAMES = frozenset(
    b"ERROR WARN WARNING INFO DEBUG OK NOT NONE NULL UNKNOWN TRUE FALSE YES NO MISSING INVALID EMPTY READY OFFLINE ONLINE FAILED FOUND CARD READER"
    b" CUSTOMER SERVICE SUPPORT DESK DEVICE USB RFID ID THE OF AND STATUS STATE DOWN UP DEFAULT SYSTEM ADMIN TEST NAME NA N/A".split()
)
"""Words in capitals that stand where a name might."""
_OF_A_REGISTRY = frozenset(
    b"SOFTWARE SYSTEM CURRENTCONTROLSET CLASSES RUN POLICIES HARDWARE SECURITY AUTHORITY SERVICES CONTROL MICROSOFT WINDOWS PARAMETERS".split()
)
_ESCAPE = re.compile(rb"u[0-9a-f]{4}|x[0-9a-f]{2}")
"""What stands behind a backslash in an escape and not in a name."""


def is_user(value: bytes) -> bool:
    """Someone's account, and not one that every system has, nor a number or a word about users."""
    lower = value.lower().replace(b"\xef\xbf\xbd", b"").strip(b".-_")
    return (
        2 <= len(lower) <= 64
        and lower not in _NOBODY
        and not lower.startswith(b"systemd-")
        and not lower.isdigit()
        and not is_the_name_of_a_secret(lower)
    )


USER = rb"([A-Za-z_\x80-\xff][A-Za-z0-9._$\x80-\xff-]*)"
_SHARED = rb"(?:Public|Default|All Users|Shared|lost\+found)"
_REST = rb"[a-z\x80-\xff']+(?:[A-Z][a-z\x80-\xff]+)?"
NAME = rb"[A-Z\xc3-\xdf]" + _REST + rb"(?:-[A-Z\xc3-\xdf]?" + _REST + rb")*"
"""One part of a name, in UTF-8 or Latin-1: Zo\u00eb, O'Connor, McAllister, Jean-Luc."""
CAPITALS = rb"[A-Z\xc0-\xdf][A-Z\x80-\xdf'-]+"
_WHO = rb"(?:[A-Z]\.? ?)+" + NAME + rb"|" + NAME + rb"(?: " + NAME + rb"){1,2}"
_MONTH = rb"(?:Jan|Feb|Mar|M\xc3\xa4r|Mrt|Apr|Avr|Abr|May|Mai|Mei|Maj|Mag|Jun|Juin|Jul|Juil|Giu|Lug|Aug|Ao\xc3\xbb|Ago|Sep|Set|Okt|Oct|Ott|Nov|Dec|Dez|D\xc3\xa9c|Dic|Ene|Gen|F\xc3\xa9v)[a-z\x80-\xff]*"
DATE = (
    rb"\d{4}[-/.]\d{1,2}[-/.]\d{1,2}|\d{1,2}[-/. ]\d{1,2}[-/. ]\d{2,4}|\d{1,2}(?:st|nd|rd|th)?\.?(?:[ /-]| de | of )" + _MONTH + rb"(?:\.?,?[ /-]| de )\d{2,4}|"
    + _MONTH + rb"\.? \d{1,2}(?:st|nd|rd|th)?,? \d{4}|\d{4}[ -]" + _MONTH + rb"[ -]\d{1,2}"
)  # fmt: skip


def _is_part(value: bytes) -> bool:
    """What can be a part of a name: letters, and not many."""
    return len(value) < 60 and not has_digit(value)


_SHARES = frozenset(
    b"admin ipc print profiles profile home homes users user data scans scan netlogon sysvol fax public share shares install software backup backups apps common temp".split()
)
_ADDRESSED = frozenset(
    b"customer customers sir madam colleague colleagues all team support user users reader readers member everyone folks there again world kitty valued partner".split()
)
ACCOUNT = rb"(?i:\b(?:[a-z0-9_.-]*[_.-])?(?:user|username|user[_.-]?name|user[_ .-]?id|uid|userid|login|log[io]n[_.-]?name|logon|account[_.-]?name|upn|run[_.-]?as|[a-z]{2,8}user|logname|account|acct|owner|samaccountname|principal|uname|operator_?id|ruser|author|benutzer(?:name)?|nutzer|kennung|anmeldename|utilisateur|gebruiker(?:snaam)?|usuario|utente|utilizador|(?:user|account|logon|login)[ -]name|(?:anonymous_)?identity)"
OF_ACCOUNT = (
    rb"(?i)(?:user|name|logon|upn|run[_.-]?as|id|identity|login|account|acct|owner|principal|author|benutzer|nutzer|kennung|utilisateur|gebruiker|gebruikersnaam|usuario|utente|utilizador)"
    + TELLS
)
"""The names of what holds an account, and what is looked for first."""
OF_SEVERAL_WORDS = (
    rb"\b[A-Za-z]*(?:[a-z](?:User|Login|Account|Logon|Owner)(?:Name|name|Id|ID|Login)?|[Uu]ser(?:Name|Id|ID|Login)|[Ll]ogon(?:Name|Id))"
    + GIVES
    + OPENS
    + rb"(?:[A-Za-z0-9.-]+\\+)?"
)
SIGNED_IN = (
    rb"(?i:\b(?:password for(?: invalid user| illegal user)?|publickey for|keyboard-interactive/pam for|(?:invalid|illegal) user|for user|by user"
    rb"|session (?:opened|closed) for user|logged in as|login by|authentication failure for|authenticating user)[ \t]+[\"']?|\b(?:username|user name|identity)[ \t]+[\"'])"
)
OF_SIGN_IN = rb"(?i)(?:for|user|in as|login by|failure for|username|user name|identity)[ \t]+[\"']?[a-z]"
"""What is said of someone who signs in."""
WRITTEN_NAMES = (
    NAME
    + rb"(?:(?: [A-Z]\.)? "
    + NAME
    + rb"){1,2}|"
    + NAME
    + rb", (?:"
    + NAME
    + rb"|[A-Z]\.)|[A-Z]\.(?: ?[A-Z]\.)? ?"
    + NAME
)
TWO_NAMES = WRITTEN_NAMES + rb"|" + NAME + rb"(?:\+" + NAME + rb"){1,2}|" + CAPITALS + rb",? " + CAPITALS
"""Someone's two names or three, in whatever order."""


def are_names(value: bytes) -> bool:
    """Whether two words with capitals are someone's names, and not what is said of an account."""
    words = value.replace(b",", b"").split()
    return is_someone(value) and not any(word.upper() in _NO_NAMES or word.lower() in _NOBODY for word in words)


PEOPLE = (
    Detector(LEAVE, "shared home", rb"(?i:[/\\]users[/\\])(" + _SHARED + rb")\b"),
    Detector(
        "person",
        "name before an address",
        rb"(?i:\b(?:from|to|cc|bcc|sender|reply-to|contact|remote-party-id|p-asserted-identity|author|committer|maintainer|signed-off-by|co-authored-by|reviewed-by|acked-by|tested-by|reported-by)\\?[\"']?[ \t]*[:=][ \t]*)\\?[\"']?(" + NAME + rb"(?:,? " + NAME + rb"){1,3})\\?[\"']?[ \t]*(?:\([^()<\r\n]*\)[ \t]*)?(?:<|&lt;)",
        (rb"[a-z\x80-\xff)][\"'\\]{0,2}[ \t]*(?:<|&lt;)[a-zA-Z0-9]",),
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "labelled person",
        rb"(?i:\b(?:[a-z_.-]*[_.-])?(?:full[_ .-]?name|first[_ .-]?name|fore[_ .-]?name|middle[_ .-]?name|last[_ .-]?name|given[_ .-]?name|surname|family[_ .-]?name|display[_ .-]?name|maiden[_ .-]?name|patron(?:[_ .-]?name)?|borrower(?:[_ .-]?name)?|(?:user|staff|member|student|child|parent|guardian|(?:registered[_ .-]?)?owner|author|sender|recipient|signer)[_ .-]?name"
        rb"|reader[_ .-]?name|customer[_ .-]?name|contact[_ .-]?(?:name|person)?|cardholder|holder|employee|engineer|technician|(?:requested|reported|approved|created|modified|updated|opened|closed|raised|logged|checked|received|resolved|signed)[_ .-]?by|assignee|requester|requestor|approver|supervisor|librarian|signed(?:[ -]off[ -]by)?|assigned[_ -]to|author|cn|apellidos?|sobrenomes?|nachname|familienname|zuname|achternaam|cognome|nazwisko)"
        + GIVES + rb")" + OPENS + rb"((?:(?:Mrs?|Ms|Dr|Prof)\.? )?(?:" + NAME + rb", " + NAME + rb"(?:[ -]" + NAME + rb")?|" + NAME + rb"(?: (?:[A-Z]\.|van|von|de|der|den|la|di|al|bin|O')){0,3}(?:[ -]" + NAME + rb"){1,3}|[A-Z]\.? ?" + NAME + rb"))",
        (rb"(?i)(?:name|surname|patron|borrower|contact|person|holder|employee|engineer|technician|by|assignee|requester|requestor|approver|supervisor|librarian|signed|to|author|cn|apellidos?|sobrenomes?|zuname|naam|cognome|nazwisko)" + TELLS,),
        may_be_someone,
        sure=False,
        canonical=bytes.lower,
    ),
    Detector(
        "user",
        "home folder with blanks in its name",
        rb"[A-Za-z]:\\{1,2}(?i:users)\\{1,2}([A-Za-z0-9\x80-\xff][A-Za-z0-9._\x80-\xff-]*(?: [A-Za-z0-9._\x80-\xff-]+)+)\\",
        (rb"(?i):\\{1,2}users\\",),
        is_user,
        canonical=bytes.lower,
    ),
    Detector(
        "user",
        "home folder",
        rb"(?:/home/|/Users/|/export/home/|/var/home/|/usr/home/|[A-Za-z]:\\{1,2}(?i:users|documents and settings)\\{1,2}|[A-Za-z]:/(?i:users)/|\\{1,2}home\$?\\{1,2}|\\{1,2}(?i:users)\\{1,2})([A-Za-z0-9\x80-\xff][A-Za-z0-9._\x80-\xff-]*)",
        (rb"(?i)[/\\](?:home\$?|users|documents and settings)[/\\]",),
        is_user,
        canonical=bytes.lower,
    ),
    Detector(
        "user",
        "labelled user",
ACCOUNT + GIVES + rb")" + OPENS + rb"[<\[]?(?:[A-Za-z0-9.-]+\\+)?" + USER,
        (OF_ACCOUNT,),
        is_user,
        canonical=bytes.lower,
    ),
    Detector(
        "user",
        "user under a name of several words",
        OF_SEVERAL_WORDS + USER,
        (rb"(?:User|Login|Account|Logon|Owner|Name|name|Id|ID)" + TELLS,),
        is_user,
        canonical=bytes.lower,
    ),
    Detector(
        "user",
        "user of a list of sign-ins",
        rb"(?:\blogin[ \t]+)" + USER + rb"[ \t]+(?:password|passwd)\b",
        (rb"login[ \t]+[A-Za-z]",),
        is_user,
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "name on a line about someone",
        rb"(?i:\b(?:patron|borrower|reader|member|customer|card|mail|email|phone|dob|birth|loan)\b[^\r\n]*?\bname"
        + GIVES + rb")" + OPENS + rb"(" + NAME + rb"(?: [A-Z]\.)?(?:[ -]" + NAME + rb"){1,3})",
        (rb"(?i)(?:(?m:^)|[^a-z])name[\"'\\\s]{0,4}[=:][ \t]*[\"'\\]{0,2}[a-z]+ [a-z]",),
        sure=False,
        canonical=bytes.lower,
    ),
    Detector(
        "user",
        "user in an element with a name",
        rb"(?i:\bname=[\"'][a-z]*(?:user|username|userid|account|accountname|logonname|samaccountname)[\"']>)([^<>\r\n]+)</",
        (rb"(?i)name=[\"'][a-z]+[\"']>[^<]",),
        is_user,
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "surname in a directory",
        rb"(?m:^)(?:sn|SN):[ \t]+(" + NAME + rb")[ \t]*\r?(?m:$)",
        (rb"(?i)(?m:^)sn:[ \t]",),
        canonical=bytes.lower,
    ),
    Detector(
        "user",
        "user in an element",
        rb"(?i:<(?:[a-z0-9]+:)?(?:user|username|user_?name|login|account|owner|userid|user_?id)>)([^<>\r\n]+)</",
        (rb"(?i)(?:user|username|login|account|owner|userid)>[^<]",),
        is_user,
        canonical=bytes.lower,
    ),
    Detector(
        "user",
        "user of a sign-in",
SIGNED_IN + USER,
        (OF_SIGN_IN,),
        is_user,
        canonical=bytes.lower,
    ),
    Detector("user", "user by his number", rb"(?i:\buser[ \t]+[\"']?)" + USER + rb"[\"']?[ \t]*\(uid", (rb"\(uid",), is_user, canonical=bytes.lower),
    Detector("user", "user who acts for another", rb"(?i:\bsudo(?:\[\d+\])?:[ \t]+)" + USER + rb"[ \t]:", (rb"sudo(?:\[\d{1,7}\])?:[ \t]",),
             is_user, canonical=bytes.lower),
    Detector(
        "user", "user of a domain", rb"\b[A-Z][A-Z0-9-]+\\{1,2}([a-z][a-z0-9._-]+)\b", (rb"[A-Z0-9]\\{1,2}[a-z]",),
        lambda value: is_user(value) and not _ESCAPE.match(value) and (b"." in value or value[-1:].isdigit() or len(value) >= 5), canonical=bytes.lower, sure=False,
    ),
    Detector(
        "user", "user of a domain in capitals", rb"(?:(?m:^)|[\s\"'=:(\[,/])[A-Z][A-Z0-9-]{1,14}\\{1,2}([A-Z][A-Z0-9._-]{3,20})(?:[\s\"',;:)\]<|]|\.?(?m:$))", (rb"[A-Z0-9]\\{1,2}[A-Z]",),
        lambda value: is_user(value) and not is_ordinary(value) and value not in _OF_A_REGISTRY, canonical=bytes.lower, sure=False,
    ),
    Detector("user", "security identifier of an account", rb"\b(S-1-5-21(?:-\d{1,10}){3,4})\b", (rb"S-1-5-21-",)),
    Detector(
        "user", "user of a prompt", rb"(?m:^)\[?" + USER + rb"@[A-Za-z0-9][A-Za-z0-9.-]*[: ][^\s#$%>]{1,60}\]?[#$%>](?: |(?m:$))", (rb"(?m:^)\[?[A-Za-z][A-Za-z0-9._$-]*@[A-Za-z0-9]",),
        is_user, canonical=bytes.lower,
    ),
    Detector(
        "user", "owner of a public key", rb"(?:ssh-[a-z0-9]+|ecdsa-sha2-[a-z0-9-]+) AAAA[A-Za-z0-9+/=]+ " + rb"([A-Za-z][A-Za-z0-9._$-]*(?:@[A-Za-z0-9._-]+)?)", (rb" AAAA[A-Za-z0-9+/]",),
        is_user, canonical=bytes.lower,
    ),
    Detector(
        "user",
        "user of a sign-in on a command line",
        rb"(?:\b(?:login|mysql|mysqldump|mariadb|psql|smbclient|winexe|rdesktop|xfreerdp|snmpget|snmpwalk)\b[^\r\n]*?[ \t](?:-[uUl][ \t]*|--user(?:name)?[ \t=]+|/u:)[\"']?(?:[A-Za-z0-9.-]+\\{1,2})?)" + USER + rb"(?:[^A-Za-z0-9._$%\\-]|(?m:$))",
        (rb"[ \t](?:-[uUl][ \t]*|--user(?:name)?[ \t=]+|/u:)[\"']?[A-Za-z]",),
        is_user,
        canonical=bytes.lower,
        sure=False,
    ),
    Detector(
        "user", "user before a host", rb"(?i:\b(?:ssh|scp|sftp|rsync|plink|pscp|psftp|mosh|sshfs)\b[^\r\n@]*[ \t])" + USER + rb"@", (rb"(?i)(?:ssh|scp|sftp|rsync|plink|pscp|psftp|mosh|sshfs)[^\r\n@]+@",),
        is_user, canonical=bytes.lower,
    ),
    Detector(
        "person",
        "one of the public by name",
        rb"(?i:\b(?:reader|borrower|patron|customer|member|student|pupil|guest|visitor|caller|librarian)" + GIVES + rb")" + OPENS
        + rb"(" + NAME + rb", " + NAME + rb"|" + NAME + rb"(?: [A-Z]\.)?(?:[ -]" + NAME + rb"){1,3})",
        (rb"(?i)(?:reader|borrower|patron|customer|member|student|pupil|guest|visitor|caller|librarian)" + TELLS,),
        is_someone,
        sure=False,
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "one of the public in a sentence",
        rb"\b(?:[Rr]eader|[Bb]orrower|[Pp]atron|[Cc]ustomer|[Ss]tudent|[Pp]upil|[Gg]uest|[Vv]isitor|[Cc]aller)[ \t](" + NAME + rb"(?: [A-Z]\.)?(?: " + NAME + rb"){1,2})\b",
        (rb"(?:eader|orrower|atron|ustomer|tudent|upil|uest|isitor|aller)[ \t][A-Z][a-z]",),
        is_someone,
        sure=False,
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "someone to whom a thing is lent",
        rb"\b(?i:(?:issued|lent|loaned|checked out|borrowed) (?:to|by) )((?:[A-Z]\. ?)+" + NAME + rb"|" + NAME + rb"(?: " + NAME + rb"){1,2})\b",
        (rb"(?i)(?:issued|lent|loaned|out|borrowed) (?:to|by) [A-Z]",),
        is_someone,
        sure=False,
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "name under a letter",
        rb"(?i:\b(?:regards|wishes|greetings|yours(?: sincerely| faithfully)?|gr\xc3\xbc\xc3\x9fe|cordialement|groeten)[,!]?[ \t]+)(" + NAME + rb"(?:[ -]" + NAME + rb"){1,2})\b",
        (rb"(?i)(?:regards|wishes|greetings|yours|sincerely|faithfully|\xc3\x9fe|cordialement|groeten)[,!]?[ \t]",),
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "name of someone in a record",
        rb"(?i:\b(?:user|patron|customer|borrower|reader|person|contact|employee|owner|author|member|staff)\\?[\"']?[ \t]*[:=][ \t]*\{[^{}\r\n]*?\\?[\"']?name\\?[\"']?[ \t]*[:=][ \t]*)"
        + OPENS + rb"([^\"'{}\r\n\\]+)",
        (rb"(?i)name" + TELLS,),
        lambda value: 3 <= len(value) <= 80 and b" " in value.strip(),
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "someone before a day of birth",
        rb"((?:" + NAME + rb" )+" + NAME + rb"),? (?:born|DOB|geb\.|\(born)",
        (rb"(?:born|DOB|geb\.)",),
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "labelled single name",
        rb"(?i:\b(?:(?:first|fore|middle|given|christian|baptismal)[_ .-]?names?|(?:last|family)[_ .-]?name|surnames?|vornamen?|nachname|familienname|pr(?:e|\xc3\xa9|\xe9)nom|apellidos?|cognome|achternaam|voornaam)" + GIVES + rb")" + OPENS
        + rb"([^\s\"'<>,;&=\\]+)",
        (rb"(?i)(?:names?|surnames|vornamen|nom|apellidos?|cognome|naam)" + TELLS,),
        lambda value: value.lower() not in _NOBODY and not value.isdigit(),
        canonical=bytes.lower,
    ),
    Detector(
        "person",
        "person in an element",
        rb"(?i:<(?:[a-z0-9]+:)?(?:full_?name|first_?name|last_?name|fore_?name|middle_?name|display_?name|sur_?name|given_?name|family_?name|patron_?name|user_?full_?name|patron|borrower|contact|contact_?name|customer_?name|person)>)([^<>\r\n]+)</",
        (rb"(?i)(?:name|patron|borrower|contact|person)>[^<]",),
        lambda value: not value.strip().isdigit() and value.lower() not in _NOBODY,
        canonical=bytes.lower,
    ),
    Detector(
        "person", "someone with a given name", rb"\b(" + NAME + rb"(?: [A-Z]\.)?(?: (?:van|von|de|der|den|la|di|al|bin|ter)){0,2} " + NAME + rb"(?:[ -]" + NAME + rb")?)\b",
        (rb"(?:[a-z\x80-\xbf]| [A-Z]\.) [A-Z][a-z\xc3]",), is_someones_name, bytes.lower, sure=False,
    ),
    Detector(
        "person", "someone with a given name behind", rb"\b(" + NAME + rb", " + NAME + rb"(?: [A-Z]\.)?)(?:[^\w ]|[ \t]*(?:[^\w\s]|\r?(?m:$)))", (rb"[a-z\x80-\xbf], [A-Z][a-z\xc3]",),
        lambda value: is_someones_name(value.split(b", ")[1]), bytes.lower, sure=False,
    ),
    Detector(
        "person", "someone in base64 of a directory", rb"(?m:^)(?i:cn|sn|givenname|displayname|gecos|uid|mail|telephonenumber|mobile|street|streetaddress|postaladdress|homephone|initials|description)(?:;[a-z-]+)?:: ([A-Za-z0-9+/]+={0,2})",
        (rb":: [A-Za-z0-9]",),
    ),
    Detector(
        "person", "labelled person in capitals",
        rb"(?i:\b(?:[a-z_.-]*[_.-])?(?:full[_ .-]?name|first[_ .-]?name|last[_ .-]?name|surname|display[_ .-]?name|patron(?:[_ .-]?name)?|borrower(?:[_ .-]?name)?|(?:user|staff|member|student|customer|reader|contact|owner|card)[_ .-]?name|cardholder(?:[_ .-]?name)?|card ?holder|holder|reader|customer|name on card|account holder)"
        + GIVES + rb")" + OPENS + rb"((?:[A-Z]\.? )*" + CAPITALS + rb"(?:,? (?:" + CAPITALS + rb"|[A-Z]\.?)){0,3})(?:[\s\"'<,;|)\\]|(?m:$))",
        (rb"(?i)(?:name|patron|borrower|holder|reader|customer|card)" + TELLS,),
        lambda value: len(value) >= 4 and not set(value.replace(b",", b" ").split()) & _NO_NAMES and not names_a_secret(value), bytes.lower, sure=False,
    ),
    Detector(
        "person", "labelled person, in another language",
        rb"(?i:\b(?:ansprechpartner(?:in)?|kunde|kundin|sachbearbeiter(?:in)?|bearbeiter(?:in)?|mitarbeiter(?:in)?|leser(?:in)?|nombre(?: completo)?|nom complet|nome|naam|contatto|contacto|persona)" + GIVES + rb")" + OPENS
        + rb"(" + NAME + rb"(?:,? " + NAME + rb"){1,3})",
        (rb"(?i)(?:partner|partnerin|kunde|kundin|arbeiter|arbeiterin|leser|leserin|nombre|completo|nom|complet|nome|naam|contatto|contacto|persona)" + TELLS,), canonical=bytes.lower, sure=False,
    ),
    Detector(
        "person", "name before what tells of someone", rb"(?i:\bname" + GIVES + rb")" + OPENS + rb"(" + NAME + rb"(?: [A-Z]\.)?(?:[ -]" + NAME + rb"){1,3})[\"']?[^\r\n]{0,40}?(?i:\bcard[ _.-]?(?:no|number)?[\"']?[ :=]+[\"']?\d|\b(?:barcode|patron|born|dob|e-?mail|phone|tel|borrower)\b)",
        (rb"(?i)(?:^|[^a-z])name[\"'\\\s]{0,4}[=:][ \t]*[\"'\\]{0,2}[a-z\x80-\xff]+ [a-z\x80-\xff]",), is_someone, bytes.lower, sure=False,
    ),
    Detector("user", "user with his host", rb"'" + USER + rb"'@'", (rb"'@'",), is_user, bytes.lower),
    Detector(
        "user", "first of two arguments", rb"(?i:\b(?:auth|basic_?auth|login|log_in|sign_?in|authenticate|credentials?)[ \t]*=?[ \t]*\([ \t]*)[brufBRUF]{0,2}[\"']" + USER + rb"[\"'][ \t]*,[ \t]*(?:[a-z_]+=)?[brufBRUF]{0,2}[\"']",
        (rb"(?i)(?:auth|login|log_in|in|authenticate|credentials?)[ \t]*=?[ \t]*\([ \t]*[bruf]{0,2}[\"']",), is_user, bytes.lower,
    ),
    Detector("user", "user of a configuration in braces", rb"\buser[ \t]+" + USER + rb"[ \t]*\{", (rb"user[ \t]+[A-Za-z_\x80-\xff][A-Za-z0-9._$\x80-\xff-]*[ \t]*\{",), is_user, bytes.lower),
    Detector(
        "user", "user whom a command is about", rb"(?:[$#][ \t]+(?:id|finger|su)|(?:(?m:^)|[$#>|;&][ \t]*)(?:getent[ \t]+(?:passwd|shadow)|net[ \t]+user|crontab[ \t]+-u|sudo[ \t]+-u|su[ \t]+-|chage[ \t]+-l))[ \t]+" + USER + rb"(?:[ \t]|\r?(?m:$))",
        (rb"[$#][ \t]+(?:id|finger|su)[ \t]+[A-Za-z_]", rb"(?:getent[ \t]+(?:passwd|shadow)|net[ \t]+user|crontab[ \t]+-u|sudo[ \t]+-u|su[ \t]+-|chage[ \t]+-l)[ \t]+[A-Za-z_]"), lambda value: is_user(value) and len(value) > 3 and not is_ordinary(value), bytes.lower, sure=False,
    ),
    Detector("person", "name in French", rb"(?i:\bnom" + GIVES + rb")" + OPENS + rb"(" + NAME + rb" " + NAME + rb")(?:[\"'<,;|)\\]|[ \t]*\r?(?m:$))", (rb"(?i)nom" + TELLS,), canonical=bytes.lower, sure=False),
    Detector("person", "surname in French", rb"(?i:\bnom" + GIVES + rb")" + OPENS + rb"([A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+)(?:[\s\"'<,;|)\\]|(?m:$))", (rb"(?i)nom" + TELLS,), lambda value: value.lower() not in _NOBODY, bytes.lower, sure=False),
    Detector("user", "user whom an identity provider names", rb"(?i:<(?:[a-z0-9]+:)?(?:nameid|nameidentifier|subjectid|principal)(?:[ \t][^<>\r\n]*)?>)([^<>\r\n]+)</", (rb"(?i)<(?:[a-z0-9]+:)?(?:nameid|nameidentifier|subjectid|principal)",), is_user, bytes.lower),
    Detector(
        "person", "attribute of someone", rb"(?i:\bname=[\"'](?:[a-z0-9:/.#_-]*[:/#.])?(?:givenname|surname|sn|displayname|cn|fullname|first_?name|last_?name)[\"'][^\r\n<>]*>[ \t]*<(?:[a-z0-9]+:)?attributevalue(?:[ \t][^<>\r\n]*)?>)([^<\r\n]+)<", (rb"(?i)attributevalue",), canonical=bytes.lower,
    ),
    Detector(
        "person", "names of a list of people", rb"(?i:\b(?:(?:cc|bcc|present|contacts|members|staff|on call)[ \t]*[:=]|(?:attendees|participants|invitees|apologies|reviewers|approvers|assignees)[ \t]*[:=]?)[ \t]*)((?:" + _WHO + rb")(?:(?:,|;| and) (?:" + _WHO + rb"))+)",
        (rb"(?i)(?:present|contacts|cc|on call|members|staff)[ \t]*[:=]", rb"(?i)(?:attendees|participants|invitees|apologies|reviewers|approvers|assignees)[ \t:=]"), canonical=bytes.lower, sure=False,
    ),
    Detector(
        "user", "user in an attribute", rb"<(?i:user|account|login|principal|credential|connection)\b[^\r\n<>]*?[ \t](?i:name|id|login|user|username|uid)=[\"']" + USER + rb"[\"']", (rb"<(?i:user|account|login|principal|credential|connection)",), is_user, bytes.lower,
    ),
    Detector(
        "birth",
        "day of birth",
        rb"(?i:\b(?:dob|d\.o\.b\.?|date[ _.-]?of[ _.-]?birth|[a-z_]*dob(?:[ _.-]?date)?|date[ _.-]?de[ _.-]?naissance|fecha[ _.-]?(?:de[ _.-]?)?nacimiento|birth[ _.-]?(?:date|day)|b-?day|born(?:[ _-]on)?|geburtsdatum|geburtstag|geboortedatum|geboren(?:[ _-]am)?|geb\.|naissance|nacimiento|n(?:\xc3\xa9|\xe9)(?:e|\(e\))? le|(?:data di )?nascita|nato il|(?:data de )?nascimento|f(?:\xc3\xb6|\xf6)delsedatum|f(?:\xc3\xb8|\xf8)dselsdato|data urodzenia|synt?ym(?:\xc3\xa4|\xe4)aika)(?: ?\([^()\r\n]{1,24}\))?\\?[\"']?[ \t]*(?:=>|:=|[=:>])?[ \t]*\\?[\"']?)"
        rb"((?i:" + DATE + rb"))",
        (rb"(?i)(?:dob|d\.o\.b|birth|b-?day|born|geburts|geboorte|geboren|geb\.|naissance|nacimiento|nascita|nato il|nascimento|delsedatum|dselsdato|urodzenia|aika)", rb"(?i)n(?:\xc3\xa9|\xe9)(?:e|\(e\))? le"),
    ),
    Detector("birth", "compact day of birth", rb"(?i:\b(?:dob|date_?of_?birth|birth_?date)" + GIVES + rb")" + OPENS + rb"((?:19|20)\d{6})\b", (named(rb"dob|birth"),)),
    Detector("birth", "day of birth behind an age", rb"(?i:\b(?:age|aged|alter|\xc3\xa2ge|edad)[ \t]*:?[ \t]+\d{1,3} ?[(,] ?(?:born |b\. ?)?)(" + DATE + rb")", (rb"(?i)(?:age|aged|alter|\xc3\xa2ge|edad)[ \t]*:?[ \t]+\d",)),
    Detector("person", "part of a name in an element", rb"(?i:<(?:[a-z0-9]+:)?(?:first|last|given|family|middle|fore|sur|maiden)[_.-]?names?(?:[ \t][^<>\r\n]*)?>)[ \t]*([^<>\r\n]*[A-Za-z\x80-\xff][^<>\r\n]*)<", (rb"(?i)<(?:[a-z0-9]+:)?(?:first|last|given|family|middle|fore|sur|maiden)[_.-]?name",),
             _is_part, bytes.lower),
    *(
        Detector("person", f"{which} of two parts of a name in elements{where}", pattern, (rb"(?i)<(?:first|last|given|family)>",), _is_part, bytes.lower, lines=lines)
        for where, gap, lines in ((" of one line", rb"[ \t]*", False), ("", rb"[ \t]*\r?\n\s*", True))
        for which, pattern in (
            ("first", rb"<(?:first|last|given|family)>([^\r\n<>]+)</(?:first|last|given|family)>" + gap + rb"<(?:first|last|given|family|middle)>"),
            ("second", rb"<(?:first|last|given|family|middle)>[^\r\n<>]{1,60}</(?:first|last|given|family|middle)>" + gap + rb"<(?:first|last|given|family)>([^\r\n<>]+)<"),
        )
    ),
    Detector("person", "someone greeted", rb"\b(?:Hi|Hello|Hallo|Hey|Moin|Bonjour|Hola|Ciao|Good morning|Good afternoon|Guten Morgen|Guten Tag)[ \t]+(" + NAME + rb"(?: " + NAME + rb"){0,2})(?:[,!.:]| [-\xe2])", (rb"(?:Hi|Hello|Hallo|Hey|Moin|Bonjour|Hola|Ciao|ing|oon|Morgen|Tag)[ \t]+[A-Z]",),
             lambda value: not set(value.lower().split()) & _ADDRESSED, bytes.lower, sure=False),
    Detector("user", "someone to whom it was passed on", rb"(?i:\b(?:routed|forwarded|delivered|assigned|escalated|transferred|addressed|mailed|allocated|reassigned) to[ \t:]+)[\"']?([a-z]{1,12}\.[a-z-]{3,})[\"']?(?:[\s,;:)]|\.[ \t]|\.?\r?(?m:$))", (rb"(?i)[a-z] to[ \t:]+[\"']?[a-z]{1,12}\.[a-z]",),
             is_user, bytes.lower, sure=False),
    Detector("user", "someone by whom a session was opened", rb"[ \t](?:by|for user)[ \t]+" + USER + rb"\(uid=\d", (rb"\(uid=\d",), is_user, bytes.lower),
    Detector("user", "someone at a machine", rb"(?:(?m:^)|[ \t(\[-])" + USER + rb" @ [A-Za-z][A-Za-z0-9.]*-[A-Za-z0-9.-]*\d", (rb" @ [A-Za-z]",), is_user, bytes.lower, sure=False),
    Detector("user", "user under a rarer label", rb"(?i:\b(?:usr|actor|principal_?name|ack(?:ed|nowledged)?(?:[ _]?by)?|assignee|reporter|creator|submitter|uploader|identifiant|initiator|performer|member_?uid|requester|requested[_.]?by|changed[_.]?by|locked[_.]?by|performed[_.]?by|invoker|impersonator|caller_?name|login_?id|net_?id|nick(?:[ _-]?name)?|handle|screen_?name|v3_?user|snmp_?user|staff(?:[_ .-]?(?:id|user|login|name))?|clerk|cashier|x-sender|x-auth-user|x-remote-user|remote_?user)" + GIVES + rb")" + OPENS + USER + rb"(?:@[A-Za-z][A-Za-z0-9-]*)?(?:[\s\"',;<>)\]}&|]|\\|(?m:$))",
             (named(rb"usr|actor|principal_?name|ack|acked|acknowledged|assignee|reporter|creator|submitter|uploader|identifiant|initiator|performer|member_?uid|requester|by|invoker|impersonator|caller_?name|login_?id|net_?id|nick|handle|screen_?name|staff|staff[_ .-]?(?:id|user|login|name)|clerk|cashier|x-sender|user"),), lambda value: is_user(value) and (len(value) > 4 or not value.isupper()), bytes.lower, sure=False),
    Detector("user", "user on this machine", rb"\b" + USER + rb"@localhost\b", (rb"@localhost",), is_user, bytes.lower),
    Detector("user", "share of a user's own", rb"\\([A-Za-z][A-Za-z0-9._-]*)\$(?:[\\\s\"',;)]|\r?(?m:$))", (rb"\\[A-Za-z][A-Za-z0-9._-]*\$",), lambda value: is_user(value) and len(value) > 1 and value.lower() not in _SHARES, bytes.lower, sure=False),
    Detector("person", "surname in an element of a directory", rb"<(?:sn|givenName|cn)>(" + NAME + rb"(?:[ -]" + NAME + rb"){0,2})</", (rb"<(?:sn|givenName|cn)>",), canonical=bytes.lower),
    Detector("user", "account that binds to a directory", rb"(?i:\b(?:bind_?_?dn|root_?dn|manager_?dn|bind_?user|binddn)\\?[\"']?[ \t]*[:=]?[ \t]*\\?[\"']?(?:cn|uid)=)([A-Za-z0-9._-]+)", (rb"(?i)(?:bind_?_?dn|root_?dn|manager_?dn|bind_?user)",), is_user, bytes.lower),
)  # fmt: skip
