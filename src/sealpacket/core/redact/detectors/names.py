"""Names of people where no list has them: by their capitals, and by what stands before and behind them. Doubtful, most of
them: a person looks at them first."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import GIVES, OPENS, TELLS, Detector, has_digit
from sealpacket.core.redact.detectors.people import (
    ACCOUNT,
    CAPITALS,
    NAME,
    NO_PART_OF_A_NAME,
    OF_ACCOUNT,
    OF_SEVERAL_WORDS,
    OF_SIGN_IN,
    SIGNED_IN,
    TWO_NAMES,
    WRITTEN_NAMES,
    are_names,
)
from sealpacket.core.redact.ordinary import is_ordinary


def are_odd_names(value: bytes) -> bool:
    """Whether two words with capitals are names where no label tells of someone: no word of them is an ordinary one."""
    words = value.replace(b",", b" ").split()
    return are_names(value) and not any(is_ordinary(word) or word.lower() in NO_PART_OF_A_NAME for word in words)


def is_odd_name(value: bytes) -> bool:
    """The same for one word behind a label."""
    return len(value) > 2 and are_odd_names(value)


_BEFORE = rb"(?:from|with|by|for|to|via|told|asked|says|that|and|when|if|because|where|met|meet|see|saw|tell|ask|call|phone|ring|e?mail|contact|inform|reach)"
_SAID = (
    rb"(?:wrote|said|says|called|calls|reports?|reported|asked|asks|signed|returned|borrowed|needs|wants|confirmed|replied|answered|told|complains?|complained|visited|rang|phoned|e?mailed"
    rb"|logged|opened|closed|joined|left|works|worked|came|went|tried|saw|found|noticed|mentioned|requested|approved|suggested|installed|replaced|rebooted|restarted|changed|was on|were on|is on|will be|is away|is ill)"
)
_ONE = rb"(" + NAME + rb"|" + CAPITALS + rb")(?:[\"'<,;|)\\&\]}]|[ \t]*\r?(?m:$)|[ \t]+[a-z(])"
_ROLES = (
    rb"creator|reviewer|reviewed[_ .-]?by|maintainer|committer|editor|translator|last[_ .-]?modified[_ .-]?by|lastmodifiedby|acked-by|tested-by|co-authored-by|sender|recipient|signatory|attendee|organi[sz]er|presenter|speaker|instructor"
    rb"|teacher|student|pupil|tutor|nurse|doctor|physician|driver|resident|tenant|guest|donor|payee|payer|beneficiary|account[_ .-]?holder|card[_ .-]?holder|key[_ .-]?holder|witness|interviewer|observer|inspector|auditor|officer|clerk|cashier"
    rb"|receptionist|applicant|claimant|candidate|responder|investigator|analyst|developer|manager|director|head|boss|colleague|visitor|caller|keeper|custodian|installer|mitarbeiter(?:in)?|ansprechpartner(?:in)?|bearbeiter(?:in)?|sachbearbeiter(?:in)?"
    rb"|next[_ -]of[_ -]kin|emergency[_ -]contact|guardian|parent|spouse|partner|husband|wife|(?:deliver(?:y|ed)?|ship(?:ped)?|bill(?:ed)?|sold|issued|lent|charged|addressed)[_ -]to|point[_ -]of[_ -]contact|poc|responsible(?:[_ -](?:person|party|owner))?|in[_ -]charge|caller_?id(?:_?name)?|clid|cnam|who|whom"
    rb"|verantwortlich(?:er|e)?|contacto|responsable|interlocuteur|contactpersoon|medewerker|referente|respons(?:a|\xc3\xa1)vel"
)
_LABELS_OF_ONE = (
    rb"surname|last[_ .-]?name|family[_ .-]?name|nachname|familienname|zuname|achternaam|apellidos?|cognome|nazwisko|first[_ .-]?name|given[_ .-]?name|vorname|forename|voornaam|prenom|pr(?:\xc3\xa9|\xe9)nom|nom de famille"
    rb"|contact(?:[_ .-]?person)?|technician|engineer|librarian|patron|borrower|(?:requested|reported|approved|signed|opened|raised|checked|received)[_ .-]?by|assignee|supervisor|card[_ .-]?holder|recipient|visitor|caller"
    rb"|ansprechpartner(?:in)?|bearbeiter(?:in)?|fname|lname|f_name|l_name|fn|ln|[a-z]+_(?:first|last|surname|forename|fname|lname)"
)

_SOMEONE = rb"client|patient|card[_.-]?holder|debtor|creditor|lessee|tenant|policy[_.-]?holder|insured|next[ _.-]?of[ _.-]?kin|emergency[ _.-]?contact|kontakt|known[ _-]as|chair(?:man|woman|person)?|courier|passenger|lender|donor|account[ _.-]?manager|sales[ _.-]?rep(?:resentative)?|line[ _.-]?manager|operator|addressee|consignee|deliver[ _.-]?to|ship[ _.-]?to|bill[ _.-]?to|attn|attention|signature|signatory|uploader|submitter|person|requested[ _.-]?for|on[ _-]behalf[ _-]of|tech(?:nical)?[ _.-]?contact|admin[ _.-]?contact|registrant|loaned[ _.-]?to|lent[ _.-]?to|issued[ _.-]?to|assigned[ _.-]?to|foreman|team[ _.-]?lead(?:er)?|(?:field|service|support)[ _.-]?engineer|bank[ _.-]?account[ _.-]?holder|licensee|organi[sz]er|teilnehmer|empf(?:\xc3\xa4|\xe4)nger|absender|auftraggeber|inhaber|kontoinhaber|client[ _]?nom|destinataire|exp(?:\xc3\xa9|\xe9)diteur|titulaire|cliente|titular|destinatario|klant|ontvanger|translator|maintainer|speaker|driver|teacher|pupil|doctor|physician|nurse|witness|notary|judge|lawyer|landlord|trainee|coach|mentor"
_KINDS_OF_NAMES = (
    rb"legal|birth|nick|preferred|real|common|person|billing|shipping|account|kunden|from|to|salutation|title"
)
_ROLES_OF_SOMEONE = (
    rb"(?i:\b(?:[a-z0-9_.-]*?(?:"
    + _SOMEONE
    + rb")(?:[_ .-]?(?:full[_ .-]?)?name)?|[a-z0-9_.-]*?(?:"
    + _KINDS_OF_NAMES
    + rb")[_ .-]?name)"
)
_OF_A_ROLE = rb"(?i:" + _SOMEONE + rb"|name)[\"'\\\s]{0,4}[=:>]+[\"'\\ \t]{0,4}[A-Z\xc3-\xdf]"
"""What people are to each other and to a house, as the names of fields, and what is looked for first."""

NAMES = (
    Detector(
        "person", "two names where an account is told", ACCOUNT + GIVES + rb")" + OPENS + rb"[<\[]?(?:[A-Za-z0-9.-]+\\+)?(" + TWO_NAMES + rb")(?:[^=A-Za-z0-9\x80-\xff]|(?m:$))",
        (OF_ACCOUNT,), are_names, bytes.lower, sure=False,
    ),
    Detector(
        "person", "two names under the role of someone", _ROLES_OF_SOMEONE + GIVES + rb")" + OPENS + rb"(" + WRITTEN_NAMES + rb")(?:[^=A-Za-z0-9\x80-\xff]|(?m:$))",
        (_OF_A_ROLE,), are_odd_names, bytes.lower, sure=False,
    ),
    Detector(
        "person", "two names of a sign-in", SIGNED_IN + rb"(" + TWO_NAMES + rb")", (OF_SIGN_IN,), are_names, bytes.lower, sure=False,
    ),
    Detector(
        "person", "two names behind what someone is",
        rb"(?i:\b(?:user|account|owner|colleagues?|manager|supervisor|technician|engineer|administrator|admin|operator|employee|librarian|deputy|assistant|director|secretary|chief|teacher|trainee|boss|contact(?: person)?|holder|next of kin|guardian|(?:customer|client|patron|borrower|reader|member|student|staff|guest|visitor)(?: name)?)[ \t]+)[\"'\[(<]?(" + WRITTEN_NAMES + rb")(?:[\"'\])>,.;:|\\]|[ \t]+[a-z(\[<]|[ \t]*\r?(?m:$))",
        (rb"(?i:user|account|owner|colleague|colleagues|manager|visor|technician|engineer|admin|strator|operator|employee|librarian|deputy|assistant|director|secretary|chief|teacher|trainee|boss|contact|person|holder|kin|guardian|customer|client|patron|borrower|reader|member|student|staff|guest|visitor|name)[ \t]+[\"'\[(<]?[A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+,? [A-Z\xc3-\xdf]",),
        are_odd_names, bytes.lower, sure=False,
    ),
    Detector(
        "person", "two names under a name of several words", OF_SEVERAL_WORDS + rb"(" + TWO_NAMES + rb")", (rb"(?:User|Login|Account|Logon|Owner|Name|Id|ID)" + TELLS,), are_names, bytes.lower, sure=False,
    ),
    Detector("person", "two names of a card for an account", rb"(?i:\bgecos\\?[\"']?[ \t]*(?:=>|[:=])[ \t]*\\?[\"']?)([^,:\r\n\"'\\]+)", (rb"(?i)gecos",), lambda value: not has_digit(value), bytes.lower),
    Detector("person", "two names of a caller", rb"\"(" + TWO_NAMES + rb")\\?\"+ *<\+?\d{2,}", (rb"\\?\" *<\+?\d",), are_names, bytes.lower),
    Detector("person", "two names in brackets of a call", rb"(?i:\b(?:caller|call|callback|phone|tel|fax|voicemail|sms)\b)[^\r\n]{0,60}?\((" + NAME + rb", " + NAME + rb")\)", (rb"\([A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+, [A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False),
    Detector(
        "person", "two names of someone who is asked for",
        rb"(?i:\b(?:ask(?:ed|ing)? for|spoke(?:n)? (?:to|with)|speak(?:ing)? (?:to|with)|talk(?:ed|ing)? (?:to|with)|call(?:ed)? back|emailed|phoned|rang|met with|met|reached|attn|attention|on-?call|informed|notified|escalated to|handed to|thanks to|per|courtesy of|c/o)[ \t:.]+)(" + WRITTEN_NAMES + rb")\b",
        (rb"(?i:for|to|with|back|mailed|phoned|rang|met|reached|attn|attention|call|informed|notified|per|of|c/o)[ \t:.]+[A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+,? [A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False,
    ),
    Detector(
        "person", "two names in an attribute of an element", rb"<(?i:[a-z:]*(?:reporter|author|person|employee|patron|borrower|reader|customer|contact|user|owner|staff|member|assignee|student|teacher))\b[^\r\n<>]*?[ \t](?i:name|display_?name|full_?name|value|label)=[\"'](" + TWO_NAMES + rb")[\"']",
        (rb"(?i)[ \t](?:name|display_?name|full_?name|value|label)=[\"'][a-z\xc3-\xdf]",), are_names, bytes.lower, sure=False,
    ),
    Detector("person", "two names that an option gives", rb"[ \t]--?(?i:name|display-?name|full-?name|given-?name|surname|manager|contact|owner|author|comment|user-?name|real-?name)(?:[ \t]+|=)[\"'](" + TWO_NAMES + rb")[\"']", (rb"[ \t]--?[A-Za-z-]{4,12}(?:[ \t]+|=)[\"'][A-Z]",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "two names in brackets", rb"\((" + NAME + rb"(?: [A-Z]\.)? " + NAME + rb")(?:, |\))", (rb"\([A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+ (?:[A-Z]\. )?[A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False),
    Detector(
        "person", "two names in quotes by whom it was done", rb"[ \t](?:by|for|from|to|named|called)[ \t]+[\"'](" + NAME + rb"(?: " + NAME + rb"){1,2}|" + NAME + rb", " + NAME + rb")(?: \([^()\r\n]{1,40}\))?[\"']", (rb"[ \t](?:by|for|from|to|named|called)[ \t]+[\"'][A-Z\xc3-\xdf]",),
        are_odd_names, bytes.lower, sure=False,
    ),
    Detector("person", "two names behind the word full", rb"(?m:^)[ \t]*(?:- )?[\"']?full[\"']?:[ \t]+[\"']?(" + TWO_NAMES + rb")", (rb"(?m:^)[ \t]*(?:- )?[\"']?full[\"']?:",), are_odd_names, bytes.lower, sure=False),
    Detector(
        "person", "two names under what someone is", rb"(?i:\b(?:[a-z_.-]*[_.-])?(?:" + _ROLES + rb")" + GIVES + rb")" + OPENS + rb"(" + TWO_NAMES + rb"|" + NAME + rb", [A-Z]\.?)",
        (rb"(?i)(?:" + _ROLES + rb")" + TELLS,), are_odd_names, bytes.lower, sure=False,
    ),
    Detector("person", "two names under the word name", rb"(?i:\bname" + GIVES + rb")" + OPENS + rb"(" + WRITTEN_NAMES + rb"|[A-Z]\.? " + NAME + rb")", (rb"(?i)\bname" + TELLS,), are_odd_names, bytes.lower, sure=False),
    Detector("person", "one name under its label", rb"(?i:\b(?:" + _LABELS_OF_ONE + rb")" + GIVES + rb")" + OPENS + _ONE, (rb"(?i)(?:" + _LABELS_OF_ONE + rb")" + TELLS,), is_odd_name, bytes.lower, sure=False),
    Detector("person", "first and last of a name", rb"(?i:\b(?:first|last)=)[\"']?" + _ONE, (rb"(?i)\b(?:first|last)=",), is_odd_name, bytes.lower, sure=False),
    Detector("person", "two names behind a small word", rb"\b" + _BEFORE + rb"[ \t]+(" + NAME + rb"(?: [A-Z]\.)? " + NAME + rb")(?:[ \t]+[a-z(]|[,.;:)'\"!?]|[ \t]*\r?(?m:$))", (_BEFORE + rb"[ \t]+[A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+ [A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "someone by whom it was done, the last name first", rb"\b(?:by|for|assigned to|owned by|with) (" + NAME + rb", " + NAME + rb"(?: [A-Z]\.)?)(?: \(|[;|)\]]| on | at |\.?[ \t]*\r?(?m:$))", (rb"(?:by|for|to|with) [A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+, [A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "two names in quotes before an address", rb"\\?\"(" + TWO_NAMES + rb")\\?\" *<(?:sips?:|tel:|mailto:|[A-Za-z0-9._%+-]+@)", (rb"\" *<(?:sips?:|tel:|mailto:|[A-Za-z0-9._%+-]+@)",), are_names, bytes.lower),
    Detector("person", "two names of a box for messages", rb"(?m:^)[ \t]*\d{2,6}[ \t]*=>[^\r\n]{0,12}?,[ \t]*(" + TWO_NAMES + rb"),", (rb"(?m:^)[ \t]*\d{2,6}[ \t]*=>",), are_names, bytes.lower),
    Detector("person", "two names of an owner in an element", rb"(?i:<(?:[a-z0-9]+:)?(?:registered_?owner|registered_?user|full_?name|owner(?:_?name)?|real_?name)>)[ \t]*(" + TWO_NAMES + rb")[ \t]*</", (rb"(?i)(?:owner|user|name)>[^<]",), are_names, bytes.lower),
    Detector("person", "two names that did something", rb"(?:(?m:^)|[ \t:>\"'(])(" + NAME + rb"(?: [A-Z]\.)? " + NAME + rb") " + _SAID + rb"\b", (rb"[A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+ " + _SAID + rb"\b",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "two people", rb"\b(" + NAME + rb" " + NAME + rb" (?:and|und|et|y|&|en|e) " + NAME + rb" " + NAME + rb")\b", (rb"[a-z\x80-\xff] (?:and|und|et|y|&|en|e) [A-Z\xc3-\xdf][A-Za-z\x80-\xff'-]+ [A-Z\xc3-\xdf]",),
             lambda value: all(are_odd_names(b" ".join(pair)) for pair in (value.split()[:2], value.split()[3:])), bytes.lower, sure=False),
    Detector("person", "two names at the beginning of a line", rb"(?m:^)[ \t>]*(?:(?:--|\xe2\x80\x94|\xe2\x80\x93) ?(" + NAME + rb"(?: [A-Z]\.)? " + NAME + rb"))(?:,|[ \t]*\r?(?m:$))", (rb"(?m:^)[ \t>]*(?:--|\xe2\x80\x94|\xe2\x80\x93) ?[A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "two names before a mail address", rb"(?:(?m:^)|[ \t:>,;(])(" + NAME + rb"(?: [A-Z]\.)? " + NAME + rb")(?: <|, <| &lt;| \()[A-Za-z0-9._%+-]+@", (rb"[a-z\x80-\xff](?:,? <| &lt;| \()[A-Za-z0-9._%+-]+@",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "two names in quotes behind a reader", rb"(?i:\b(?:patron|borrower|reader|member|customer|student|employee|visitor|guest|card ?holder|account|user)[ \t]+)[\"'\[(<](" + TWO_NAMES + rb")[\"'\])>]", (rb"(?i:patron|borrower|reader|member|customer|student|employee|visitor|guest|holder|account|user)[ \t]+[\"'\[(<][A-Z\xc3-\xdf]",), are_names, bytes.lower, sure=False),
    Detector("person", "name in brackets behind someone's number", rb"(?i:\b(?:employee|staff|badge|visitor|guest|card|ticket|pager|ext(?:ension)?)\b)[^\r\n()]{0,20}\d[^\r\n()]{0,8}\((" + NAME + rb"(?:,? " + NAME + rb")?)\)", (rb"\([A-Z\xc3-\xdf][a-z\x80-\xff']",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "someone for whom a thing is kept", rb"(?i:\b(?:hold|held|reserved?|reservation|item|pick-?up|waiting|overdue|notice|letter|receipt|loan|request|message)\b)[^\r\n]{0,20}? for (" + CAPITALS + rb",? [A-Z](?:\.|\b)|" + CAPITALS + rb",? " + CAPITALS + rb")", (rb" for [A-Z]{2}",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "owner of a thing", rb"\b(" + NAME + rb")(?:'|\xe2\x80\x99)s (?:(?:new|old|work|own|personal|private|direct|home) )?(?:phone|laptop|pc|desk|tablet|mobile|number|extension|address|user ?name|line|birthday|manager|team|contract|signature|computer|machine|account|mailbox|calendar|office|login|password|badge|card|workstation|desktop|screen|session|profile|printer|email|e-mail|folder|drive|key|room)\b", (rb"[a-z](?:'|\xe2\x80\x99)s (?:new|old|work|own|personal|private|direct|home|number|extension|address|user ?name|line|birthday|manager|team|contract|signature|phone|laptop|pc|desk|tablet|mobile|computer|machine|account|mailbox|calendar|office|login|password|badge|card|workstation|screen|session|profile|printer|e-?mail|folder|drive|key|room)",), is_odd_name, bytes.lower, sure=False),
    Detector("person", "two names of whoever made it", rb"<(?i:(?:[a-z]+:)?(?:creator|author|editor|contributor|owner|contact|person|reviewer|maintainer|last_?modified_?by|manager|reporter|assignee|requester|technician|recipient|sender|librarian|employee|name))(?:[ \t][^\r\n<>]*)?>[ \t]*(" + TWO_NAMES + rb")[ \t]*<", (rb"(?i)(?:creator|author|editor|contributor|owner|contact|person|reviewer|maintainer|modified_?by|manager|reporter|assignee|requester|technician|recipient|sender|librarian|employee|name)(?:[ \t][^\r\n<>]{0,20})?>[ \t]*[A-Z\xc3-\xdf]",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "author in the head of a page", rb"(?i:name=[\"'](?:author|creator|dc\.creator|owner|editor)[\"'][ \t]+content=)[\"']([^\"'\r\n<>]+)[\"']", (rb"(?i)content=[\"']",), lambda value: not has_digit(value) and b"@" not in value, bytes.lower, sure=False),
    Detector("person", "author of a paper", rb"\\(?:author|name|signature)\{(" + TWO_NAMES + rb")\}", (rb"\\(?:author|name|signature)\{",), are_names, bytes.lower),
    Detector("person", "whose copyright it is", rb"(?i:\bcopyright|\(c\)|\xc2\xa9)[ \t]*(?i:\(c\)[ \t]*)?(?:\d{4}(?:[-, ]+\d{4})*[ ,]*)?(?:by )?(" + NAME + rb"(?: [A-Z]\.)? " + NAME + rb")\b", (rb"(?i:copyright|\(c\)|\xc2\xa9)[ \t(]",), are_odd_names, bytes.lower, sure=False),
    Detector("person", "two names in a directory, the last one first", rb"\b(?i:cn)=(" + NAME + rb"\\, " + NAME + rb")", (rb"(?i)cn=[a-z\x80-\xff'-]+\\,",), canonical=bytes.lower),
    Detector("person", "name of a traveller", rb"\b(" + CAPITALS + rb"[/^]" + CAPITALS + rb")(?: (?:MRS?|MS|MISS|DR|MX)\b)", (rb"[A-Z][/^][A-Z]+ (?:MR|MS|MISS|DR|MX)",), canonical=bytes.lower),
    Detector("person", "labelled name in capitals with a sign between", rb"(?i:\b(?:patient|borrower|patron|customer|client|member|reader|student|employee|card ?holder|holder|name)[ \t]*[:=][ \t]*)[\"']?(" + CAPITALS + rb"[/^]" + CAPITALS + rb")", (rb"[A-Z]{2}[/^][A-Z]{2}",), are_names, bytes.lower, sure=False),
    Detector("person", "two names in a query", rb"(?i:\b(?:full_?|first_?|last_?|patron_?|user_?|display_?|contact_?)?name=)(" + NAME + rb"(?:\+" + NAME + rb"){1,2})", (rb"(?i)name=[a-z\x80-\xff'-]+\+",), canonical=bytes.lower, sure=False),
    Detector("person", "someone who signs on the same line", rb"(?i:\b(?:(?:kind |best |warm |many )?(?:regards|thanks|wishes|greetings)|cheers|sincerely|gr(?:\xc3\xbc\xc3\x9f|\xc3\xbcss|uess|uss)e|cordialement|saludos|groeten))[,.]?[ \t]+(?:-+ ?)?(" + NAME + rb"(?: [A-Z]\.)?(?: " + NAME + rb")?)[ \t]*\r?(?m:$)", (rb"(?i:regards|thanks|wishes|greetings|cheers|sincerely|sse|\x9fe|cordialement|saludos|groeten)[,.]?[ \t]+(?:-+ ?)?[A-Z\xc3-\xdf]",), is_odd_name, bytes.lower, sure=False),
)  # fmt: skip
