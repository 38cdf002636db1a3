"""The seal key: Ed25519 (RFC 8037), and detached JWS over the tag manifest (RFC 7515, appendix F)."""

from __future__ import annotations

import base64
import json
import re
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
from joserfc import jws
from joserfc.errors import JoseError
from joserfc.jwk import OKPKey

from sealpacket.core.errors import Invalid

ALGORITHM = "EdDSA"


@contextmanager
def _as_rfc_8037() -> Iterator[None]:
    """The library would rather have the newer name of RFC 9864; verifiers that only know RFC 8037 need this one."""
    with warnings.catch_warnings():
        warnings.filterwarnings("ignore", message="EdDSA is deprecated")
        yield


class SealKey:
    """An Ed25519 key, with its private part or without. Its name is the thumbprint of RFC 7638."""

    def __init__(self, key: OKPKey) -> None:
        self._key = key
        self.name = key.thumbprint()

    @classmethod
    def generate(cls) -> SealKey:
        """A new key pair."""
        return cls(OKPKey.generate_key("Ed25519"))

    @classmethod
    def from_seed(cls, seed: bytes) -> SealKey:
        """The key pair of a 32-byte seed."""
        Ed25519PrivateKey.from_private_bytes(seed)
        public = Ed25519PrivateKey.from_private_bytes(seed).public_key().public_bytes_raw()
        body: dict[str, str | list[str]] = {
            "kty": "OKP",
            "crv": "Ed25519",
            "x": _b64(public),
            "d": _b64(seed),
        }
        return cls(OKPKey.import_key(body))

    @classmethod
    def from_jwk(cls, text: str | bytes) -> SealKey:
        """Read a key from a JSON Web Key (RFC 7517). Raises Invalid if it is not one."""
        try:
            body = json.loads(text)
            if not isinstance(body, dict) or body.get("crv") != "Ed25519":
                raise ValueError("not an Ed25519 key")
            return cls(OKPKey.import_key({k: str(v) for k, v in body.items()}))
        except (ValueError, JoseError, RecursionError) as error:
            raise Invalid(
                "This is not an Ed25519 key in JSON Web Key form.",
                "Get it from the service: GET /api/v1/seal-keys, or `sealpacket seal-keys`.",
                code="seal-key",
            ) from error

    def private_jwk(self) -> str:
        """The whole key as a JSON Web Key; to be kept secret."""
        return json.dumps(self._key.as_dict(private=True), sort_keys=True)

    def public_jwk(self) -> dict[str, Any]:
        """The public part as a JSON Web Key, with its name."""
        return {
            **{k: v for k, v in self._key.as_dict(private=False).items() if k != "d"},
            "kid": self.name,
        }

    def sign(self, payload: bytes) -> bytes:
        """A compact JWS with its payload taken out. The same payload gives the same bytes."""
        header = {"alg": ALGORITHM, "kid": self.name}
        with _as_rfc_8037():
            token = jws.serialize_compact(header, payload, self._key, algorithms=[ALGORITHM])
        head, _, signature = token.split(".")
        return f"{head}..{signature}".encode()

    def holds(self, payload: bytes, signature: bytes) -> bool:
        """Whether the detached signature is this key's, over exactly this payload."""
        parts = signature.decode("ascii", "replace").strip().split(".")
        if len(parts) != 3 or parts[1]:
            return False
        try:
            with _as_rfc_8037():
                jws.deserialize_compact(
                    f"{parts[0]}.{_b64(payload)}.{parts[2]}", self._key, algorithms=[ALGORITHM]
                )
        except (JoseError, ValueError):
            return False
        return True


def name_in(signature: bytes) -> str:
    """The name of the key that a signature says it is made with; empty if it says none. Nothing proves it."""
    try:
        head = signature.split(b".", 1)[0]
        body = json.loads(base64.urlsafe_b64decode(head + b"=" * (-len(head) % 4)))
    except (ValueError, RecursionError):
        return ""
    name = body.get("kid") if isinstance(body, dict) else None
    return name if isinstance(name, str) and re.fullmatch(r"[\w-]{10,100}", name) else ""


@dataclass(frozen=True)
class SealKeys:
    """The key that seals now, and those that sealed before."""

    current: SealKey
    former: tuple[SealKey, ...] = ()

    @classmethod
    def read(cls, text: str | bytes) -> SealKeys:
        """Keys from a JSON Web Key, or a set of them (RFC 7517) with the current one first. Raises Invalid."""
        try:
            body = json.loads(text)
        except (ValueError, RecursionError):
            body = None
        if not isinstance(body, dict) or "keys" not in body:
            return cls(SealKey.from_jwk(text))
        keys = (
            [SealKey.from_jwk(json.dumps(key)) for key in body["keys"]]
            if isinstance(body["keys"], list)
            else []
        )
        if not keys:
            return cls(SealKey.from_jwk("{}"))
        return cls(keys[0], tuple(keys[1:]))

    @property
    def all(self) -> tuple[SealKey, ...]:
        """All of them, the newest first."""
        return (self.current, *self.former)

    def renewed(self) -> SealKeys:
        """The same with a new key that seals from now on."""
        return SealKeys(SealKey.generate(), self.all)

    def private_set(self) -> str:
        """The current key whole, of former ones the public part: they seal nothing any more. To be kept secret."""
        former = [key.public_jwk() for key in self.former]
        return (
            json.dumps({"keys": [json.loads(self.current.private_jwk()), *former]}, indent=1) + "\n"
        )

    def public_set(self) -> dict[str, Any]:
        """The public parts as a JSON Web Key Set."""
        return {"keys": [key.public_jwk() for key in self.all]}

    def of(self, signature: bytes) -> SealKey | None:
        """The key that a signature names; None if it is not among these."""
        name = name_in(signature)
        return next((key for key in self.all if key.name == name), None)


def _b64(data: bytes) -> str:
    return base64.urlsafe_b64encode(data).rstrip(b"=").decode()
