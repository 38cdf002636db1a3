"""A labelled corpus: values of every kind planted in many contexts; all of them are masked, and nothing else is."""

from __future__ import annotations

import base64
import random
import string
from collections.abc import Callable
from dataclasses import dataclass

import pytest
from stdnum import luhn

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

PEOPLE = [
    "Marit Oswin",
    "Teo Valcourt",
    "Ines Harrowgate",
    "Pauli Brandreth",
    "Anneke van der Wold",
    "José Ibáñez",
]
HOSTS = [f"br{branch:02d}-kiosk{n}.quillmere.example" for branch in range(1, 15) for n in (1, 2)]
SERIALS = [f"LK40-7731-{number:04d}" for number in range(926, 946)]
CATALOGUE = Catalogue.build(
    [
        *(term for name in PEOPLE for term in person_terms(name)),
        *host_terms(HOSTS),
        *(Term("asset", serial, serial.casefold()) for serial in SERIALS),
    ],
    keep={SERIALS[0]: "the packet is about it"},
    domains=["quillmere.example"],
)


def word(r: random.Random, alphabet: str, low: int, high: int) -> str:
    """A random word."""
    return "".join(r.choices(alphabet, k=r.randint(low, high)))


def card(r: random.Random) -> str:
    """A number that passes Luhn."""
    digits = r.choice("3456") + "".join(r.choices(string.digits, k=14))
    return next(digits + last for last in string.digits if luhn.is_valid(digits + last))


def secret(r: random.Random) -> str:
    """A password of the kind that people and programs make."""
    return (
        word(r, string.ascii_lowercase, 3, 6)
        + word(r, string.digits + "-_.!#%", 2, 6)
        + word(r, string.ascii_letters, 3, 8)
    )


@dataclass(frozen=True)
class Kind:
    """A kind of value, how to make one, and the contexts in which it stands ({} is the value)."""

    name: str
    make: Callable[[random.Random], str]
    contexts: tuple[str, ...]


PLAIN = (
    "saw {} here",
    "from={}",
    "({})",
    "'{}'",
    '"{}"',
    "<{}>",
    "{}: done",
    "at end {}",
    "[{}]",
    "a,{},b",
    "{}\tcolumn",
)
KINDS = (
    Kind("mail", lambda r: f"{word(r, string.ascii_lowercase, 2, 9)}.{word(r, string.ascii_lowercase, 2, 9)}@"
                           f"{word(r, string.ascii_lowercase, 3, 9)}.example", PLAIN),
    Kind("ip", lambda r: ".".join(str(r.randint(1, 254)) for _ in range(4)), (*PLAIN, "{}:8443 refused", "{}/24 routed")),
    Kind("ip", lambda r: "fd40::" + ":".join(f"{r.randint(1, 65535):x}" for _ in range(r.randint(2, 4))) + ":7",
         ("saw {} here", "from={} port", "({})", "dst {} up")),
    Kind("mac", lambda r: ":".join(f"{r.randint(0, 255):02x}" for _ in range(6)), PLAIN),
    Kind("phone", lambda r: f"+44 1632 960{r.randint(100, 999)}", PLAIN),
    Kind("card", card, PLAIN),
    Kind("person", lambda r: r.choice(PEOPLE), PLAIN),
    Kind("person", lambda r: r.choice(PEOPLE).upper(), PLAIN),
    Kind("host", lambda r: r.choice(HOSTS), (*PLAIN, "ssh {} failed", "{}:22")),
    Kind("host", lambda r: r.choice(HOSTS).split(".")[0], (*PLAIN, "kiosk {} offline")),
    Kind("host", lambda r: f"{word(r, string.ascii_lowercase, 3, 8)}.quillmere.example", PLAIN),
    Kind("asset", lambda r: r.choice(SERIALS[1:]), PLAIN),
    Kind("secret", secret, ("password={}", "PASSWORD = {}", "db.passwd: {}", "api_key={}", '"client_secret": "{}"',
                            "token='{}'", "--token {} --quiet", "<password>{}</password>", "x&access_key={}&y=1",
                            "SNMP_COMMUNITY={}", "Authorization: Bearer {}", "X-Api-Key: {}", "psk = {}")),
    Kind("secret", lambda r: base64.b64encode(f"{word(r, string.ascii_lowercase, 4, 9)}:{secret(r)}".encode()).decode(),
         ("Authorization: Basic {}", "proxy-authorization: basic {}")),
    Kind("secret", lambda r: f"{word(r, string.ascii_lowercase, 3, 8)}:{word(r, string.ascii_letters + string.digits, 5, 12)}",
         ("postgresql://{}@db/x", "https://{}@files.example:8443/a")),
    Kind("token", lambda r: ".".join(["eyJ" + word(r, string.ascii_letters + string.digits + "-_", 10, 40) for _ in range(2)]
                                     + [word(r, string.ascii_letters + string.digits + "-_", 10, 40)]),
         ("jwt {} end", "session {}")),
)  # fmt: skip

CLEAN = (
    "2026-11-02T10:20:30.123Z kiosk INFO [loan.return] queue depth 17 latency 4.75 ms E-417",
    "volume papers-1920 read 7.4 ms write 8.0 ms queue 435, release 7.4.2, fw 3.11.2.4",
    "LK40-7731-0926 self test passed at 08:58:14, code 0x1f3a, 14 of 20 pages",
    "drive 23 temperature 41 C, 2026-11-02, build 20261102.4, oid 1.3.6.1.2.1.1",
    "retry in 30 s; timeout=250 retries=3 level=WARN thread-12 5f0c7a52-9d0f-4e58-b1c5-0d5f4f6a7b8c",
)


def corpus(seed: int, lines: int) -> tuple[bytes, list[tuple[str, str]]]:
    """A log, and (kind, value) of everything planted in it."""
    r = random.Random(seed)
    out, planted = [], []
    for _ in range(lines):
        if r.random() < 0.4:
            out.append(r.choice(CLEAN))
            continue
        kind = r.choice(KINDS)
        value = kind.make(r)
        out.append(f"{r.choice(CLEAN)[:40]} {r.choice(kind.contexts).replace('{}', value)}")
        planted.append((kind.name, value))
    return "\n".join(out).encode() + b"\n", planted


@pytest.mark.parametrize("seed", range(6))
def test_everything_planted_is_masked(seed: int) -> None:
    text, planted = corpus(seed, 1500)
    outcome = Outcome()
    copy = b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), outcome))
    left = [(kind, value) for kind, value in planted if value.encode() in copy and len(value) > 7]
    assert left == []
    assert leak_check([copy], outcome.legend).clean


@pytest.mark.parametrize("seed", range(6))
def test_lines_keep_their_number_and_clean_lines_their_bytes(seed: int) -> None:
    text, _ = corpus(seed, 1500)
    copy = b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), Outcome()))
    before, after = text.splitlines(), copy.splitlines()
    assert len(before) == len(after)
    clean = {line.encode() for line in CLEAN}
    assert all(new == old for old, new in zip(before, after, strict=True) if old in clean)


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.name)
def test_every_context_of_a_kind(kind: Kind) -> None:
    r = random.Random(kind.name)
    for context in kind.contexts:
        value = kind.make(r)
        line = context.replace("{}", value)
        outcome = Outcome()
        copy = b"".join(
            redact([line.encode()], CATALOGUE, Placeholders(b"k" * 32), outcome)
        ).decode()
        assert value not in copy, (context, value, copy)
        assert kind.name in outcome.counts, (context, value, copy)


def test_a_json_document_stays_one() -> None:
    import json

    document = {
        "host": HOSTS[0],
        "password": "pa ss",
        "n": 3,
        "nested": {"token": "abc123", "mails": ["a@b.example"]},
    }
    for indent in (None, 2):
        text = json.dumps(document, indent=indent).encode()
        copy = json.loads(b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), Outcome())))
        assert copy["n"] == 3
        assert copy["password"].startswith("[secret:")
        assert copy["nested"]["token"].startswith("[secret:")
        assert copy["nested"]["mails"][0].startswith("[mail:")


def test_an_ini_file_stays_one() -> None:
    import configparser

    text = f"[db]\nhost = {HOSTS[3]}\npassword = s3cret-9\nport = 5432\n[mail]\nto = a@b.example\n".encode()
    parser = configparser.ConfigParser()
    parser.read_string(
        b"".join(redact([text], CATALOGUE, Placeholders(b"k" * 32), Outcome())).decode()
    )
    assert parser["db"]["port"] == "5432"
    assert parser["db"]["password"].startswith("[secret:")
