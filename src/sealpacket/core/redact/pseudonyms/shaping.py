"""Placeholders that keep the shape of what they stand for, so that a vendor's own parser goes on working.

Addresses keep their networks (shapes.py), mail goes to redacted.invalid (RFC 6761), MACs are locally administered, and
numbers keep their length: their letters and digits are permuted by a Feistel network (as in NIST SP 800-38G, with keyed
BLAKE2b as its round function), so that two numbers of one form never become one.
"""

from __future__ import annotations

import hashlib
import ipaddress
import re
from collections.abc import Callable

from sealpacket.core.redact.pseudonyms.shapes import Shapes

_NUMBERS = frozenset(
    {
        "phone",
        "card",
        "iban",
        "national",
        "reader",
        "asset",
        "contract",
        "licence",
        "place",
        "custom",
    }
)
_ROUNDS = 10
_LONGEST = 80
_DIGITS = re.compile(rb"[0-9][0-9 .+-]*")
_ENOUGH = 10**5
"""A number of fewer possibilities than this gets a word: too many others would look like it."""


class Shaped:
    """What is written for a value, by kind. `label` gives the label whose letters become a word where no shape is kept.

    With `check_digits`, numbers of cards and readers get a last digit that checks (ISO/IEC 7812-1).
    """

    def __init__(
        self, key: bytes, label: Callable[[str, bytes], bytes], *, check_digits: bool = False
    ) -> None:
        self._key, self._label, self._check_digits = key, label, check_digits
        self._shapes = Shapes(key)

    def __call__(self, kind: str, canonical: bytes, value: bytes) -> bytes:
        """The placeholder for one spelling of a value."""
        if kind == "ip":
            return self._address(value) or self._word(kind, canonical)
        if kind == "mac":
            return self._mac(value) or self._word(kind, canonical)
        if kind == "mail":
            return self._word("m", canonical) + b"@redacted.invalid"
        if kind == "host":
            return self._word("h", canonical) + (b".redacted.invalid" if b"." in value else b"")
        if kind in _NUMBERS or (kind == "secret" and _DIGITS.fullmatch(value)):
            return self._number(kind, canonical, value) or self._word(kind, canonical)
        return self._word(kind, canonical)

    def _word(self, kind: str, canonical: bytes) -> bytes:
        return kind.encode() + b"-" + self._label(kind, canonical).split(b":", 1)[1].rstrip(b"]")

    def _address(self, value: bytes) -> bytes | None:
        text, dot = value.decode("ascii", "replace"), value.endswith(b".")
        try:
            return str(self._shapes.address(ipaddress.ip_address(text))).encode()
        except ValueError:
            parts = text.strip(".").split(".")
        try:  # the four parts of a reverse look-up, or with marks of another kind
            made = self._shapes.address(ipaddress.IPv4Address(".".join(parts[:4])))
        except ValueError:
            return None
        return str(made).encode() + (b"." if dot else b"")

    def _mac(self, value: bytes) -> bytes | None:
        plain = value.translate(None, b":-. ")
        if len(plain) != 12:
            return None
        made = self._shapes.mac(bytes.fromhex(plain.decode())).hex()
        return _like(value, made.upper() if plain.isupper() else made)

    def _number(self, kind: str, canonical: bytes, value: bytes) -> bytes | None:
        signs = _signs(canonical)
        if len(signs) != len(_signs(value)):
            signs = _signs(value).lower()
        if not 4 <= len(signs) <= _LONGEST or not any(48 <= sign <= 57 for sign in signs):
            return None
        checked = self._check_digits and kind in ("card", "reader") and signs.isdigit()
        head = signs[:-1] if checked else signs
        radixes = [10 if 48 <= sign <= 57 else 26 for sign in head]
        size = 1
        for radix in radixes:
            size *= radix
        if size < _ENOUGH:
            return None
        made = _written(
            _permuted(_number_of(head, radixes), size, self._key, kind.encode()), head, radixes
        )
        return _like(value, made + luhn_digit(made) if checked else made)


def luhn_digit(digits: str) -> str:
    """The digit that, put behind these, makes them check."""
    from stdnum import luhn  # takes a while, and few plans ask for it

    return str(luhn.calc_check_digit(digits))


def _signs(value: bytes) -> bytes:
    return bytes(sign for sign in value if 48 <= sign <= 57 or 97 <= (sign | 32) <= 122).lower()


def _number_of(signs: bytes, radixes: list[int]) -> int:
    number = 0
    for sign, radix in zip(signs, radixes, strict=True):
        number = number * radix + (sign - 48 if radix == 10 else sign - 97)
    return number


def _written(number: int, signs: bytes, radixes: list[int]) -> str:
    made = []
    for _, radix in zip(reversed(signs), reversed(radixes), strict=True):
        number, place = divmod(number, radix)
        made.append(chr((48 if radix == 10 else 97) + place))
    return "".join(reversed(made))


def _permuted(number: int, size: int, key: bytes, tweak: bytes) -> int:
    """One of `size` numbers for another, each once: a Feistel network over a power of four, walked until inside."""
    half = ((size - 1).bit_length() + 1) // 2
    mask = (1 << half) - 1
    while True:
        left, right = number >> half, number & mask
        for turn in range(_ROUNDS):
            told = b"%d/%d/%d/%s" % (turn, size, right, tweak)
            digest = hashlib.blake2b(
                told, key=key, digest_size=(half + 7) // 8, person=b"sealpacket-shape"
            ).digest()
            left, right = right, left ^ (int.from_bytes(digest, "big") & mask)
        number = left << half | right
        if number < size:
            return number


def _like(value: bytes, signs: str) -> bytes:
    """The signs set into a value in place of its own, its marks kept, and its capitals."""
    made, place = bytearray(value), 0
    for at, sign in enumerate(value):
        if 48 <= sign <= 57 or 97 <= (sign | 32) <= 122:
            new = signs[place]
            made[at] = ord(new.upper() if 65 <= sign <= 90 else new)
            place += 1
    return bytes(made)
