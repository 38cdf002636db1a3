"""The sign-in of the command line, kept in the user's config folder for the user alone."""

from __future__ import annotations

import json
import os
import re
import sys
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, TypeVar

import typer

from sealpacket.cli import show
from sealpacket.client import ClientError

if TYPE_CHECKING:
    from pydantic import BaseModel

    from sealpacket.client import SealPacket

Whole = TypeVar("Whole")
_MADE: list[SealPacket] = []


May = Annotated[
    list[str] | None,
    typer.Option(
        help="Rights of the token: read, prepare, send or keep; may be repeated. Default: all."
    ),
]


def typed(words: str) -> str:
    """A password or token, typed unseen or read from standard input."""
    return (
        str(typer.prompt(words, hide_input=True))
        if sys.stdin.isatty()
        else sys.stdin.readline().rstrip("\n")
    )


def folder() -> Path:
    """Where the command line keeps its sign-in: $SEALPACKET_CONFIG, or below the user's config folder."""
    own = os.environ.get("SEALPACKET_CONFIG")
    return Path(own) if own else Path(typer.get_app_dir("sealpacket"))


def _file() -> Path:
    return folder() / "sign-in.json"


def key_file() -> Path:
    """Where the service's public seal key is kept, for verifying offline."""
    return folder() / "seal-keys.jwks"


def keep(address: str, token: str, key: str) -> None:
    """Keep a sign-in; nobody but the user may read it."""
    _write(_file(), json.dumps({"address": address, "token": token}))
    keep_keys(key)


def keep_keys(keys: str) -> None:
    """Keep the service's public seal keys, for verifying offline."""
    _write(key_file(), keys)


def _write(path: Path, content: str) -> None:
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    path.parent.chmod(0o700)
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(descriptor, "w") as file:
        file.write(content)
    path.chmod(0o600)


def forget() -> None:
    """Forget the sign-in."""
    _file().unlink(missing_ok=True)


def client() -> SealPacket:
    """The service, signed in. $SEALPACKET_ADDRESS and $SEALPACKET_TOKEN go before what is kept."""
    address, token = os.environ.get("SEALPACKET_ADDRESS"), os.environ.get("SEALPACKET_TOKEN")
    if not (address and token):
        try:
            kept = json.loads(_file().read_text())
            address, token = kept["address"], kept["token"]
        except (OSError, ValueError, KeyError) as error:
            raise ClientError(
                "You are not signed in.", "Sign in first: sealpacket sign-in ADDRESS NAME"
            ) from error
    from sealpacket.client import SealPacket

    made = SealPacket(str(address), str(token))
    made._wire.on_saving = show.saving
    _MADE.append(made)
    return made


def last_answer() -> BaseModel | None:
    """The newest answer of the service; None if it was not asked."""
    return _MADE[-1].last_answer if _MADE else None


def find(
    ident: str, get: Callable[[str], Whole], listed: Callable[[], Iterable[Any]], what: str
) -> Whole:
    """The one of this id; else the newest whose id begins so, or whose file is called so. Raises ClientError."""
    if not re.fullmatch(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}", ident):
        found = (
            item.id
            for item in listed()
            if item.id.startswith(ident) or getattr(item, "name", "") == ident
        )
        ident = next(found, "")
        if not ident:
            raise ClientError(f"There is no such {what}.", f"List them: sealpacket {what} list")
    return get(ident)


def whole_id(ident: str, listed: Iterable[Any], what: str) -> str:
    """The id of the one whose id begins so, or that is called so; `ident` itself if there is none.

    Raises ClientError for several.
    """
    found = [
        one.id for one in listed if one.id.startswith(ident) or getattr(one, "name", "") == ident
    ]
    if len(found) > 1:
        raise ClientError(
            f"Several are meant by {ident}.", f"Give more of the id: sealpacket {what} list"
        )
    return found[0] if found else ident
