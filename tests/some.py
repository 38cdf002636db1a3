"""What several tests need.

Of a long list each run tries another part, chosen by a seed that the run prints; `make fuzz` sets SEALPACKET_SAMPLES
and so tries all of it. Repeat a run with SEALPACKET_SEED.
"""

from __future__ import annotations

import os
from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime, timedelta
from ipaddress import ip_address
from pathlib import Path
from typing import TypeVar

from cryptography import x509
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat
from cryptography.x509.oid import NameOID

One = TypeVar("One")
SAMPLES = int(os.environ.get("SEALPACKET_SAMPLES", "8"))
ALL = SAMPLES >= 200
SEED = int(os.environ.get("SEALPACKET_SEED", "0"))
SOON = (datetime.now(UTC) + timedelta(days=20)).date().isoformat()
"""A day that is still to come, whenever the tests run."""


def today() -> date:
    """The day, as the service counts it; asked where it is needed, since a run may go on past midnight."""
    return datetime.now(UTC).date()


def share_of(total: int, most: float) -> float:
    """How many of so many may fail: of a whole list that share; a part of it may hold a few more than its share."""
    return most * total + (0 if ALL else 4)


def some_of(many: Sequence[One], share: int, turn: int = 0) -> Sequence[One]:
    """One in `share` of them; which ones, the seed and the turn decide: all turns together try all of them."""
    return many if ALL else many[(turn + SEED) % share :: share]


def examples(many: int) -> int:
    """How many examples a property is tried with: a quarter of those that all of them are."""
    return many if ALL else many // 4


def in_batches(many: Iterable[One], size: int = 50) -> list[list[One]]:
    """The same in groups, for one test item each: thousands of items take longer to collect than to run."""
    rows = list(many)
    return [rows[start : start + size] for start in range(0, len(rows), size)]


def certificate(folder: Path, name: str = "127.0.0.1") -> tuple[Path, Path]:
    """A certificate for a loopback server that signs itself, and its key."""
    key = Ed25519PrivateKey.generate()
    who = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(who)
        .issuer_name(who)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + timedelta(hours=1))
        .add_extension(
            x509.SubjectAlternativeName([x509.IPAddress(ip_address(name))]), critical=False
        )
        .add_extension(x509.BasicConstraints(ca=True, path_length=None), critical=True)
        .sign(key, None)
    )
    chain, secret = folder / "chain.pem", folder / "key.pem"
    chain.write_bytes(made.public_bytes(Encoding.PEM))
    secret.write_bytes(key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption()))
    return chain, secret
