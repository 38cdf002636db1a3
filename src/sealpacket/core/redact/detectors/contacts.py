"""How people and places are reached: mail (RFC 5322, the usual part), telephone (ITU-T E.164), post, coordinates."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import GIVES, OPENS, TELLS, Detector, digits_of, has_digit, named

MAIL = rb"[A-Za-z0-9_\x80-\xff][A-Za-z0-9._%+'\x80-\xff-]*@[A-Za-z0-9\x80-\xff][A-Za-z0-9\x80-\xff-]*(?:\.[A-Za-z0-9\x80-\xff-]+)*\.[A-Za-z\x80-\xff][A-Za-z0-9\x80-\xff-]+"


_UNITS = (b".service", b".target", b".socket", b".timer", b".mount", b".slice", b".scope", b".device", b".path")


def _is_mail(value: bytes) -> bool:
    """Not the name of a unit of the system: getty@tty1.service."""
    return not value.endswith(_UNITS)


def _is_phone(value: bytes) -> bool:
    """E.164 allows 15 digits at most; fewer than 9 with a country code is no subscriber's number."""
    return 9 <= len(digits_of(value)) <= 15


def _is_address(value: bytes) -> bool:
    """A line of an address has words and a number; an address in memory or on a network is none."""
    text = value.strip()
    return (
        6 <= len(text) <= 120
        and b" " in text
        and any(48 <= byte <= 57 for byte in text)
        and sum(bytes([byte]).isalpha() for byte in text) >= 4
        and not text.lower().startswith((b"0x", b"::"))
        and text.count(b"=") == 0
        and b"(" not in text
    )


_STREET = rb"Street|Road|Lane|Avenue|Drive|Close|Square|Court|Terrace|Gardens|Crescent|Boulevard|Parade|Quay|Mews|Row|Walk|Grove"

_POSTCODE = rb"[A-Z]{1,2}\d[A-Z\d]? \d[ABD-HJLNP-UW-Z]{2}"

CONTACTS = (
    Detector(
        "mail",
        "mail address that holds another one, as lists and forwarders write it",
        rb"<([A-Za-z0-9._+-]+[=+-][A-Za-z0-9._=+-]*=[A-Za-z0-9.-]+@[A-Za-z0-9.-]+)>",
        (rb"@[A-Za-z0-9.-]+>",),
        None,
        bytes.lower,
    ),
    Detector("mail", "mail address", rb"(" + MAIL + rb")", (rb"@[A-Za-z0-9]",), _is_mail, bytes.lower),
    Detector(
        "mail",
        "named mail address",
        rb"(?i:\b[a-z0-9_.-]*(?:user|login|account|owner|author|from|to|mail|contact|principal|subject|name)"
        + GIVES
        + rb")"
        + OPENS
        + rb"<?("
        + MAIL
        + rb")",
        (rb"@[A-Za-z0-9]",),
        canonical=bytes.lower,
    ),
    Detector(
        "phone",
        "telephone number",
        rb"(\(?\+\d{1,3}\)?[ ./-]{0,3}(?:\(\d{1,4}\)[ ./-]{0,3})?\d{1,5}(?:(?:[ .-]| ?/ ?)?\d{2,8}){1,5})\b",
        (rb"\+\d{1,3}\)?[ ./(-]{0,4}\d",),
        _is_phone,
        digits_of,
    ),
    Detector(
        "phone",
        "labelled telephone number",
        rb"(?i:\b(?:tel|phone|telephone|telefon|mobile|mobil|cell|fax|call|msisdn|phone_?number|caller_?id|callback|sms(?: sent)? to|sent to|text(?:ed)?(?: to)?|dial(?:l?ed)?|rang|(?:calls?|called|fax|sms|ring|phone|voicemail|message) (?:from|to|for|on|at))\.?\\?[\"']?[ \t]*[:=]?[ \t]*\\?[\"']?)"
        rb"(\(?0\d{1,5}\)?[ /-]{0,2}[\d -]*\d)(?:[^\w.]|\.\D|\.?(?m:$))",  # no part of an address that follows
        (
            rb"(?i)(?:tel|phone|telephone|telefon|mobile|mobil|cell|fax|call|msisdn|number|id|back| to|from| for| on| at|text|texted|dial|dialed|dialled|rang)[.\"'\\\s:=]{0,6}\(?0\d",
        ),
        _is_phone,
        digits_of,
    ),
    Detector(
        "phone",
        "number of a subscriber",
        rb"(?i:\b(?:msisdn|caller_?id|calling_?number|called_?number)\\?[\"']?[ \t]*[:=]?[ \t]*\\?[\"']?)(\+?[1-9]\d{8,14})\b",
        (rb"(?i)(?:msisdn|id|number)[\"'\\\s:=]{0,6}\+?\d",),
        canonical=digits_of,
    ),
    Detector(
        "phone",
        "telephone number with an area code",
        rb"(\(0\d{1,5}\)[ -]?\d{3,8}(?:[ -]\d{2,5}){0,2}|\b00[1-9]\d{0,2}[ .-]\d{2,5}(?:[ .-]\d{2,8}){1,3}|\b0[1-9]\d{1,4}[ ./-]\d{3,4}[ .-]?\d{3,4}|\b0[1-9] \d{4} \d{4})\b",
        (rb"\(0\d{1,5}\)[ -]?\d", rb"\b00[1-9]\d{0,2}[ .-]\d", rb"\b0[1-9]\d{1,4}[ ./-]\d{3}", rb"\b0[1-9] \d{4} \d"),
        lambda value: 9 <= len(digits_of(value)) <= 15,
        digits_of,
        sure=False,
    ),
    Detector(
        "phone",
        "telephone number in digits alone",
        rb"(?:(?m:^)|[\s\"'=:,(>|;/\[])(0[1-9]\d{8,10}|00[1-9]\d{9,12})(?:[\s\"'.,;:)<|\]&?!@]|(?m:$))",
        (rb"\b0[1-9]\d{8}", rb"\b00[1-9]\d{9}"),
        lambda value: value not in (b"0123456789", b"0987654321"),
        digits_of,
        sure=False,
    ),
    Detector(
        "phone",
        "telephone number of a country in digits alone",
        rb"(?i:\b(?:sms|text(?:ed)?|whatsapp|signal|call(?:ed|ing)?|fax|dial(?:l?ed)?|ring|phone|mobile|cell|handy|gsm|tel(?:efon|ephone)?)(?: sent)?(?: message)?(?: (?:from|to|number|no\.?|is))?[ \t:=]+)[\"']?([1-9]\d{9,13})(?:[\s\"'.,;:)<|\]&?!]|(?m:$))",
        (
            rb"(?i)(?:sms|text|texted|whatsapp|signal|call|called|calling|fax|dial|dialed|dialled|ring|phone|mobile|cell|handy|gsm|tel|telefon|telephone|from|to|number|no|is)[ \t:=]+[\"']?[1-9]\d{9}",
        ),
        None,
        digits_of,
        sure=False,
    ),
    Detector(
        "phone",
        "telephone number in a link",
        rb"(?i:\b(?:tel|sms|sip|callto):)(\+?\d[\d.()-]*\d)",
        (rb"(?i)(?:tel|sms|sip|callto):\+?\d",),
        _is_phone,
        digits_of,
    ),
    Detector(
        "address",
        "labelled address",
        rb"(?i:\b(?:[a-z_-]*[_-])?(?:address|street|addr|strasse|address[_-]?line[_-]?\d?|postal[_-]?address|delivery[_-]?address|anschrift|adresse|rue|calle|straat|stra\xc3\x9fe|indirizzo|domicilio|direcci(?:\xc3\xb3|o)n|ulica|adres)"
        + GIVES
        + rb")"
        + OPENS
        + rb"([^\r\n\";|<>\\]+)",
        (
            named(
                rb"address|street|addr|strasse|anschrift|adresse|rue|calle|straat|stra\xc3\x9fe|indirizzo|domicilio|direcci(?:\xc3\xb3|o)n|ulica|adres"
            ),
        ),
        _is_address,
        sure=False,
    ),
    Detector(
        "address",
        "street with a number",
        rb"\b(\d{1,4}[A-Za-z]? (?:[A-Z][a-z]+ )+(?:"
        + _STREET
        + rb")(?:,? (?:(?:[A-Z][a-z]+ ?){1,3},? )?"
        + _POSTCODE
        + rb")?)\b",
        (rb"[a-z] (?:" + _STREET + rb")\b",),
    ),
    Detector(
        "address",
        "street with a number, cut short",
        rb"\b(\d{1,4}[A-Za-z]? (?:[A-Z][a-z]+ ){1,3}(?:St|Rd|Ave|Ln|Cres|Sq|Ct|Tce|Gdns|Blvd|Pde))\b(?:[.,]|\r?(?m:$))",
        (rb"[a-z] (?:St|Rd|Ave|Ln|Cres|Sq|Ct|Tce|Gdns|Blvd|Pde)\b",),
        sure=False,
    ),
    Detector(
        "address",
        "postcode behind a town",
        rb"\b(?:[A-Z][a-z]+,? )(" + _POSTCODE + rb")\b",
        (rb"[A-Z]\d[A-Z\d]? \d[A-Z]{2}\b",),
        sure=False,
    ),
    Detector(
        "address",
        "street in one word, with a number",
        rb"((?:[A-Z\xc3-\xdf][a-z\x80-\xbf\xc3-]+)(?:stra\xc3\x9fe|strasse|str\.|platz|allee|gasse|straat|laan|plein|gracht) \d{1,4}[a-z]?(?:, \d{4,5} ?[A-Z]{0,2} [A-Z][a-z]+)?)",
        (rb"(?:stra\xc3\x9fe|strasse|str\.|platz|allee|gasse|straat|laan|plein|gracht) \d",),
        sure=False,
    ),
    Detector(
        "address",
        "street with its number before it",
        rb"\b(\d{1,4},? (?:bis |ter )?(?:rue|avenue|boulevard|place|chemin|impasse|calle|via|viale|piazza) (?:(?:de|du|des|la|le|les|della|del|l') ?)*[A-Z][A-Za-z\x80-\xff' -]+?)(?:[,;.\r\n\"]|(?m:$))",
        (rb"\d,? (?:bis |ter )?(?:rue|avenue|boulevard|place|chemin|impasse|calle|via|viale|piazza) ",),
        sure=False,
    ),
    Detector(
        "address",
        "labelled postcode",
        rb"(?i:\b(?:post(?:al)?[_ .-]?code|zip(?:[_ .-]?code)?|plz)"
        + GIVES
        + rb")"
        + OPENS
        + rb"([A-Za-z0-9]+(?:[ -][A-Za-z0-9]{3,4})?)\b",
        (named(rb"post|zip|plz"),),
        lambda value: (
            4 <= len(value) <= 10
            and has_digit(value)
            and not value.lower().startswith((b"amd64", b"arm64", b"i386", b"x86"))
        ),
    ),
    Detector(
        "place",
        "labelled coordinate",
        rb"(?i:\b(?:gps[_-]?)?(?:lat|lon|lng|long|latitude|longitude)"
        + GIVES
        + rb")"
        + OPENS
        + rb"([+-]?\d{1,3}\.\d{3,})",
        (rb"(?i)(?:lat|lon|lng|long|latitude|longitude)" + TELLS,),
    ),
    Detector(
        "place",
        "pair of coordinates",
        rb"(?:(?m:^)|[^\d.,-])([+-]?\d{1,2}\.\d{4,9}, ?[+-]?\d{1,3}\.\d{4,9})(?:(?m:$)|[^\d.])",
        (rb"\.\d{4,9}, ?[+-]?\d",),
    ),
    Detector(
        "place", "coordinates of a geo link", rb"\b(?i:geo):(-?\d{1,2}\.\d+[,;]-?\d{1,3}\.\d+)", (rb"(?i)geo:-?\d",)
    ),
    Detector(
        "place",
        "coordinates with their directions",
        rb"\b(\d{1,2}\.\d{3,9} ?[NS][, ]{1,2}\d{1,3}\.\d{3,9} ?[EW])\b",
        (rb"\.\d{3,9} ?[NS]",),
    ),
    Detector(
        "phone",
        "telephone number without an area code",
        rb"(?i:\b(?:[a-z]+[ _-])?(?:phone|telephone|tel|telefon|mobile|fax)(?:[ _.-]?(?:number|no|nr))?\.?"
        + GIVES
        + rb")"
        + OPENS
        + rb"([1-9]\d{2,4}[ -]?\d{2,4}(?:[ -]?\d{1,4})?)\b",
        (rb"(?i)(?:phone|tel|telefon|mobile|fax|number|no|nr)\.?[\"'\\\s]{0,4}[=:>][ \t]*[\"'\\]{0,2}[1-9]\d",),
        lambda value: 6 <= len(digits_of(value)) <= 12,
        digits_of,
    ),
    Detector(
        "phone",
        "telephone number in three groups",
        rb"(?:(?m:^)|[^\w.-])(\(\d{3}\) ?\d{3}-\d{4}|\d{3}-\d{3}-\d{4})(?:[^\w-]|(?m:$))",
        (rb"\d{3}(?:-|\) ?)\d{3}-\d{4}",),
        canonical=digits_of,
        sure=False,
    ),
    Detector(
        "address",
        "postcode by its form",
        rb"\b([A-Z]{1,2}\d[A-Z\d]? \d[ABD-HJLNP-UW-Z]{2})\b",
        (rb"[A-Z]\d[A-Z\d]? \d[A-Z]{2}\b",),
        lambda value: value[-2:] not in (b"GB", b"TB", b"PB", b"EB", b"HZ", b"ST", b"ND", b"RD", b"TH"),
        bytes.lower,
        sure=False,
    ),
    Detector(
        "place",
        "coordinates in words for degrees",
        rb"(\d{1,3} deg \d{1,2}' \d{1,2}(?:\.\d+)?\\?\"(?: ?[NSEW])?)",
        (rb" deg \d",),
    ),
    Detector(
        "place",
        "position of a navigation sentence",
        rb"\$[A-Z]{5},[^\r\n]*?(\d{4}\.\d+,[NS],\d{5}\.\d+,[EW])",
        (rb"\.\d{1,8},[NS],\d",),
    ),
    Detector(
        "place",
        "reference in a grid",
        rb"(?i:\b(?:utm|mgrs|grid[ _.-]?ref(?:erence)?|os grid|map ref(?:erence)?)[ \t:=]+)(\d{1,2}[A-Z](?: ?[A-Z]{2})? \d{4,7} \d{4,8}|[A-Z]{2} ?\d{2,5} ?\d{2,5})\b",
        (rb"(?i)(?:utm|mgrs|grid|ref|reference)[ \t:=]+[0-9a-z]",),
    ),
    Detector(
        "mail",
        "mail address with a sign in brackets",
        rb"\b([A-Za-z0-9][A-Za-z0-9._-]* ?(?:\(at\)|\[at\]|\{at\}) ?[A-Za-z0-9-]+(?: ?(?:\.|\(dot\)|\[dot\]) ?[A-Za-z0-9-]+)+)\b",
        (rb"[(\[{]at[)\]}]",),
        canonical=bytes.lower,
    ),
    Detector(
        "phone",
        "telephone number under a name of several words",
        rb"\b[a-z][A-Za-z0-9]*(?:Phone|Mobile|Fax|Tel|Telephone)(?:Number|No|Nr)?"
        + GIVES
        + OPENS
        + rb"(\+?[0-9(][\d ()./-]{5,18}\d)",
        (rb"(?:Phone|Mobile|Fax|Tel|Telephone|Number|No|Nr)\\?[\"']?[ \t]{0,2}[=:]",),
        lambda value: 7 <= len(digits_of(value)) <= 15,
        digits_of,
    ),
    Detector(
        "phone",
        "telephone number in another language",
        rb"(?i:\b(?:t(?:e|\xc3\xa9|\xe9)l(?:(?:e|\xc3\xa9|\xe9)phone)?|telefono|tel(?:e|\xc3\xa9|\xe9)fono|telefoon|m(?:o|\xc3\xb3|\xf3)vil|portable|handy|rufnummer|durchwahl)"
        + GIVES
        + rb")"
        + OPENS
        + rb"(\+?[0-9(][\d ()./-]{5,18}\d)",
        (
            rb"(?i)(?:t(?:e|\xc3\xa9|\xe9)l|phone|fono|foon|m[^ ]{1,2}vil|portable|handy|rufnummer|durchwahl)[\"'\\\s]{0,4}[=:>][ \t]*[\"'\\]{0,2}[0-9+(]",
        ),
        lambda value: 7 <= len(digits_of(value)) <= 15,
        digits_of,
    ),
    Detector(
        "phone",
        "number of a line that a call came over",
        rb"(?i:\b(?:cli|ddi|ani|dnis|did|caller(?:_?id)?|callee|dialled|called|calling)\\?[\"']?[ \t]*[:=][ \t]*\\?[\"']?(?:[^\r\n<\"']{0,60}[\"']? ?<)?)(\+?0?\d{8,15})\b",
        (rb"(?i)(?:cli|ddi|ani|dnis|did|caller|id|callee|dialled|called|calling)[\"'\\]{0,2}[ \t]*[:=]",),
        canonical=digits_of,
    ),
    Detector(
        "address",
        "box at a post office",
        rb"\b((?:P\.? ?O\.?|Post(?:al)?) ?Box \d+)\b",
        (rb"Box \d",),
        canonical=bytes.lower,
    ),
    Detector(
        "place",
        "place in well-known text",
        rb"(?i:\b(?:point|linestring|polygon|multipoint)(?: z)? ?\(+)(-?\d{1,3}\.\d+ -?\d{1,3}\.\d+[-\d., ]*)",
        (rb"(?i)(?:point|linestring|polygon)(?: z)? ?\(",),
    ),
    Detector(
        "place",
        "code of a place",
        rb"\b([23456789CFGHJMPQRVWX]{8}\+[23456789CFGHJMPQRVWX]{2,3})\b",
        (rb"\+[2-9CFGHJMPQRVWX]{2}",),
        lambda value: 0 < len(digits_of(value)) < 8,
    ),
    Detector(
        "mail",
        "mail address in words",
        rb"\b([a-z0-9][a-z0-9._-]* (?:at|\(at\)|\[at\]) [a-z0-9-]+(?: (?:dot|\(dot\)|\[dot\]) [a-z0-9-]+){0,2} (?:dot|\(dot\)|\[dot\]) (?:com|net|org|edu|gov|info|io|co|eu|uk|ie|de|fr|nl|be|ch|at|it|es|example))\b",
        (rb"(?:dot|\(dot\)|\[dot\]) [a-z]",),
        canonical=bytes.lower,
    ),
    Detector(
        "place",
        "coordinates in degrees and minutes",
        rb"(\d{1,3}(?:\xc2\xb0|\xb0) ?\d{1,2}(?:'|\xe2\x80\xb2) ?(?:\d{1,2}(?:\.\d+)?(?:\"|''|\xe2\x80\xb3) ?)?[NSEW])",
        (rb"(?:\xc2\xb0|\xb0) ?\d",),
    ),
)
