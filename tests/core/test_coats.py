"""Values in every coat: what is beneath is masked, the coat stays a coat, and what is plain stays plain."""

from __future__ import annotations

import base64
import html
import quopri
import re
import unicodedata
from email.header import decode_header, make_header
from urllib.parse import quote, unquote

import pytest

from sealpacket.core.redact import (
    Catalogue,
    Outcome,
    Placeholders,
    Term,
    host_terms,
    leak_check,
    person_terms,
    redact,
)
from sealpacket.core.redact.encodings.coats import views_of
from sealpacket.core.redact.encodings.tokens import tokens_in

CATALOGUE = Catalogue.build(
    [*person_terms("Ines Harrowgate"), *person_terms("José Ibáñez"), *host_terms(["br07-kiosk2.quillmere.example"]),
     Term("asset", "LK40-7731-0931", "lk40-7731-0931")],
    domains=["quillmere.example"],
)  # fmt: skip
VALUES = [
    "ines.harrowgate@quillmere.example", "10.40.7.22", "Ines Harrowgate", "br07-kiosk2.quillmere.example",
    "password=Tr0ub4dor-77", "LK40-7731-0931", "+44 1632 960114", "02:1a:bb:cc:dd:ee", "4111 1111 1111 1111",
]  # fmt: skip


def redacted(data: bytes) -> tuple[bytes, Outcome]:
    outcome = Outcome()
    return b"".join(redact([data], CATALOGUE, Placeholders(b"k" * 32), outcome)), outcome


def secret_of(value: str) -> str:
    return value.partition("=")[2] or value


def percent(text: str) -> str:
    return "".join(
        f"%{byte:02X}" if not chr(byte).isalnum() else chr(byte) for byte in text.encode()
    )


def entities(text: str) -> str:
    return "".join(f"&#{ord(c)};" if c in "@.:- =" else c for c in text)


def json_escapes(text: str) -> str:
    return "".join(f"\\u{ord(c):04x}" if c in "@.:- =" else c for c in text)


COATS = {
    "percent": (lambda t: f"/cb?q={percent(t)}&n=1", lambda s: unquote(s)),
    "tags in its midst": (lambda t: f"<p>{t[:3]}<b>{t[3:-2]}</b><wbr>{t[-2:]}</p>", lambda s: re.sub("<[^>]*>", "", s)),
    "percent twice": (lambda t: f"/cb?q={quote(percent(t), safe='')}&n=1", lambda s: unquote(unquote(s))),
    "entities": (lambda t: f"<b>{entities(t)}</b>", html.unescape),
    "json": (lambda t: f'{{"t": "{json_escapes(t)}"}}', lambda s: s.encode().decode("unicode_escape")),
    "backslash x": (lambda t: "b'" + "".join(f"\\x{b:02x}" for b in t.encode()) + "'",
                    lambda s: s.encode().decode("unicode_escape")),
    "base64": (lambda t: "data " + base64.b64encode(f"saw {t} here".encode()).decode() + " end",
               lambda s: base64.b64decode(s.split()[1]).decode()),
    "base64 in urls": (lambda t: "t " + base64.urlsafe_b64encode(f"~~~ {t} ???".encode()).decode().rstrip("=") + " end",
                       lambda s: base64.urlsafe_b64decode(s.split()[1] + "===").decode()),
    "base64 of UTF-16": (lambda t: "run " + base64.b64encode(f"saw {t} here".encode("utf-16-le")).decode() + " end",
                         lambda s: base64.b64decode(s.split()[1]).decode("utf-16-le")),
    "base64 twice": (lambda t: "x " + base64.b64encode(base64.b64encode(f"saw {t} here".encode())).decode() + " y",
                     lambda s: base64.b64decode(base64.b64decode(s.split()[1])).decode()),
    "hex": (lambda t: "raw " + f"saw {t} here".encode().hex() + " end", lambda s: bytes.fromhex(s.split()[1]).decode()),
    "hex with colons": (lambda t: "raw " + f"saw {t} here".encode().hex(":") + " end",
                        lambda s: bytes.fromhex(s.split()[1].replace(":", "")).decode()),
    "quoted-printable": (lambda t: quopri.encodestring(t.encode(), quotetabs=True).decode().replace("@", "=40").replace(".", "=2E"),
                         lambda s: quopri.decodestring(s).decode()),
    "colours": (lambda t: t[:4] + "\x1b[31m" + t[4:7] + "\x1b[0m" + t[7:], lambda s: s),
    "latin-1 letters apart": (lambda t: "\x00".join(t), lambda s: s.replace("\x00", "")),
    "carriage returns": (lambda t: f"a {t}\r\nb\r\n", lambda s: s),
    "octal": (lambda t: "'" + "".join(f"\\{b:03o}" for b in t.encode()) + "'", lambda s: s.encode().decode("unicode_escape")),
    "percent, four digits": (lambda t: "".join(f"%u{ord(c):04x}" for c in t),
                             lambda s: re.sub(r"%u([0-9a-f]{4})", lambda hit: chr(int(hit[1], 16)), s)),
    "escapes of a style sheet": (lambda t: "".join(f"\\{ord(c):06x}" for c in t),
                                 lambda s: re.sub(r"\\([0-9a-f]{6})", lambda hit: chr(int(hit[1], 16)), s)),
    "quoted-printable, all of it": (lambda t: "".join(f"={b:02X}" for b in t.encode()),
                                    lambda s: quopri.decodestring(s).decode()),
    "numbers with blanks": (lambda t: " ".join(str(b) for b in f"saw {t} here".encode()),
                            lambda s: bytes(int(n) for n in s.removeprefix("before ").removesuffix(" after").split()).decode()),
    "wide letters": (lambda t: "".join(chr(ord(c) + 0xFEE0) if c > " " else "\u3000" for c in t),
                     lambda s: unicodedata.normalize("NFKC", s)),
    "signs without a width": (lambda t: t[:3] + "\u200b" + t[3:6] + "\u00ad" + t[6:], lambda s: s),
    "blanks that hold words together": (lambda t: t.replace(" ", "\u00a0"), lambda s: s.replace("\u00a0", " ")),
    "numbers": (lambda t: str(list(f"saw {t} here".encode())),
                lambda s: bytes(int(n) for n in s.split("[")[1].split("]")[0].split(",")).decode()),
    "hex with commas": (lambda t: "raw " + f"saw {t} here".encode().hex(",") + " end",
                        lambda s: bytes.fromhex(s.split()[1].replace(",", "")).decode()),
    "hex with dashes": (lambda t: "raw " + f"saw {t} here".encode().hex("-").upper() + " end",
                        lambda s: bytes.fromhex(s.split()[1].replace("-", "")).decode()),
    "hex with a sign": (lambda t: "raw 0x" + f"saw {t} here".encode().hex() + " end",
                        lambda s: bytes.fromhex(s.split()[1][2:]).decode()),
    "hex with a sign before each": (lambda t: "{" + ", ".join(f"0x{b:02X}" for b in f"saw {t} here".encode()) + "}",
                                    lambda s: bytes(int(n, 16) for n in s.split("{")[1].split("}")[0].split(",")).decode()),
    "hex of UTF-16": (lambda t: "raw " + f"saw {t} here".encode("utf-16-le").hex() + " end",
                      lambda s: bytes.fromhex(s.split()[1]).decode("utf-16-le")),
    "a mail's header": (lambda t: "Subject: =?utf-8?Q?" + f"saw {t} here".replace("=", "=3D").replace(" ", "_") + "?= end",
                        lambda s: str(make_header(decode_header(s.split(": ")[1])))),
}  # fmt: skip


@pytest.mark.parametrize("coat", COATS)
def test_a_value_in_a_coat_is_masked_and_the_coat_stays(coat: str) -> None:
    put_on, take_off = COATS[coat]
    for value in VALUES:
        line = f"before {put_on(value)} after"
        if coat in ("json", "backslash x") or coat.startswith(("base64", "hex")):
            line = put_on(value)
        copy, outcome = redacted(line.encode())
        plain = take_off(copy.decode())
        assert secret_of(value) not in plain
        assert secret_of(value) not in copy.decode()
        assert sum(outcome.counts.values()) >= 1
        assert "[" in plain, line
        assert leak_check([copy], outcome.legend).clean, line


@pytest.mark.parametrize(
    "line",
    [
        "GET /a%20b/c%2Fd?x=1%2B2 &amp; &lt;b&gt; \\u00e9 \\x41 =3D 100%25",
        "sum d2hhdCBhIGxvdmVseSBkYXkgaXQgaXM= of 48656c6c6f20776f726c6420616761696e",
        "\x1b[32mINFO\x1b[0m belt 3 runs at 12.5 m/s",
        "sha256 e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855 size=10.2",
    ],
)
def test_a_coat_with_nothing_beneath_stays_as_it_is(line: str) -> None:
    assert redacted(line.encode())[0] == line.encode()


@pytest.mark.parametrize("width", [40, 64, 76, 80, 132])
def test_a_value_broken_over_lines_of_one_width_is_masked(width: int) -> None:
    words = "the belt stops and goes on again without any reason that we know of " * 30
    for value in VALUES[:4]:
        at = width * 7 - len(value) // 2
        text = words[: at - 1] + " " + value + " " + words[at:]
        lines = [text[n : n + width] for n in range(0, len(text), width)]
        copy, outcome = redacted("\n".join(lines).encode())
        assert value.split("@")[-1] not in copy.decode().replace("\n", "")
        assert copy.count(b"\n") == len(lines) - 1
        assert sum(outcome.counts.values()) >= 1


def test_a_soft_break_does_not_hide_a_value() -> None:
    copy, _ = redacted(
        b"write to ines.harro=\nwgate@quillmere.example now\nset host br07-ki\\\nosk2.quillmere.example\n"
    )
    assert b"wgate@" not in copy
    assert b"osk2" not in copy


def test_base64_over_several_lines_is_put_on_again() -> None:
    body = base64.b64encode(
        b"From the desk: ines.harrowgate@quillmere.example called from 10.40.7.22 about it. " * 4
    )
    text = b"\n".join(body[n : n + 76] for n in range(0, len(body), 76))
    copy, outcome = redacted(b"Content:\n" + text + b"\n.\n")
    inner = base64.b64decode(b"".join(copy.split(b"\n")[1:-2]))
    assert b"harrowgate" not in inner
    assert inner.count(b"called from [ip:") == 4
    assert outcome.counts == {"mail": 4, "ip": 4}


def test_a_name_beyond_ascii_is_found_in_both_encodings() -> None:
    text = "for José Ibáñez and JOSÉ IBÁÑEZ kept"
    for encoding in ("utf-8", "latin-1"):
        copy, outcome = redacted(text.encode(encoding))
        assert outcome.counts == {"person": 2}, (encoding, copy)


def test_a_view_says_where_each_byte_came_from() -> None:
    (view,) = views_of(b"a%40b\x1b[1mc")
    assert (view.text, view.places) == (b"a@bc", [0, 1, 4, 9])
    assert view.ends == [1, 4, 5, 10]
    assert list(views_of(b"plain")) == []
    assert [one.text for one in views_of(b"q=10%2E4")] == [b"q=10.4"]


def test_random_bytes_in_base64_are_no_text() -> None:
    assert [one.put_on for one in tokens_in(base64.b64encode(bytes(range(128, 200))))] == [None]


@pytest.mark.parametrize(
    "text",
    [
        "please ask Ines\nHarrowgate about it",
        "please ask Ines\r\n    Harrowgate about it",
        "> please ask Ines\n> Harrowgate about it",
        "von José\nIbáñez an",
        "INES\nHARROWGATE",
    ],
)
def test_someone_who_is_known_is_masked_where_a_line_ends_in_the_name(text: str) -> None:
    copy, outcome = redacted(text.encode())
    assert outcome.counts == {"person": 1}
    assert not any(
        part in copy.decode().casefold() for part in ("harrowgate", "ibáñez", "ines", "josé")
    )
    assert copy.count(b"\n") == text.count("\n")
    assert leak_check([copy], outcome.legend).clean
    assert not leak_check([text.encode()], outcome.legend).clean


def test_a_line_that_ends_with_someones_first_name_alone_stays() -> None:
    text = b"this was Ines\nwho asked\nand Ines\n\nHarrowgate is a street\n"
    assert b"Ines\nwho asked" in redacted(text)[0]
