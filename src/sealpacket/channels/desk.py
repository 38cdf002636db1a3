"""A desk over HTTP with JSON and a bearer token (RFC 6750), attachments by tus 1.0."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from types import TracebackType
from typing import Any
from urllib.parse import quote, urlsplit

import httpx

from sealpacket.channels.tus import upload
from sealpacket.core.sheets import Sheet

_LARGEST_ANSWER = 8 << 20


class DeskAway(Exception):
    """The desk cannot be reached, or is not well; trying again makes sense. The message is a whole sentence."""


class DeskRefused(Exception):
    """The desk said no: HTTP status and its parsed answer, if it was JSON."""

    def __init__(self, status: int, body: Any) -> None:
        super().__init__(f"The desk refused with HTTP {status}.")
        self.status, self.body = status, body


def open_desk(sheet: Sheet, address: str, secret: str, timeout: float) -> Desk:
    """The way to a desk. Redirects are not followed: nothing is sent where it was not configured to go."""
    parts = urlsplit(address)
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise DeskAway(f"The address configured for {sheet.name} is not one of HTTP.")
    headers = {"Authorization": f"Bearer {secret}", "User-Agent": "sealpacket"}
    client = httpx.Client(
        base_url=address.rstrip("/"), headers=headers, timeout=timeout, follow_redirects=False, trust_env=False
    )
    return Desk(sheet, client)


class Desk:
    """One open way to a desk; a context manager that closes it."""

    def __init__(self, sheet: Sheet, client: httpx.Client) -> None:
        self.sheet = sheet
        self._client = client

    def __enter__(self) -> Desk:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._client.close()

    def lodge(self, number: str, case: dict[str, Any], uploads: list[dict[str, Any]]) -> Any:
        """Send the case. The packet's number is the Idempotency-Key, so that the desk knows a repetition."""
        body = {**case, "attachments": uploads} if uploads else case
        return self._call("POST", self.sheet.send.lodge, json=body, headers={"Idempotency-Key": number})

    def follow(self, reference: str) -> Any:
        """The desk's description of a case."""
        return self._call("GET", _path(self.sheet.send.follow, reference))

    def answer(self, reference: str, ident: str, body: Any) -> Any:
        """Send an answer; `ident` keeps a repetition from counting twice."""
        return self._call(
            "POST", _path(self.sheet.send.answer, reference), json=body, headers={"Idempotency-Key": ident}
        )

    def upload(
        self,
        name: str,
        size: int,
        blocks: Callable[[int], Iterator[bytes]],
        *,
        already: str | None,
        remember: Callable[[str], None],
    ) -> str:
        """Send an attachment of `size` bytes, going on at `already` if there is one; where it now lies."""
        with _spoken(self.sheet.name):
            return upload(
                self._client, self.sheet.send.uploads, name, size, blocks, already=already, remember=remember,
                refuse=_refuse,
            )  # fmt: skip

    def _call(self, method: str, path: str, **arguments: Any) -> Any:
        with _spoken(self.sheet.name):
            response = self._client.request(method, path, **arguments)
            _refuse(response)
            return _json(response)


def _path(template: str, reference: str) -> str:
    return template.replace("{reference}", quote(reference, safe=""))


class _spoken:  # noqa: N801 - used like a function
    """Turns what goes wrong on the wire into DeskAway."""

    def __init__(self, name: str) -> None:
        self._name = name

    def __enter__(self) -> None:
        return None

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if isinstance(error, httpx.TimeoutException):
            raise DeskAway(f"{self._name} did not answer in time.") from error
        if isinstance(error, httpx.HTTPError):
            raise DeskAway(f"{self._name} cannot be reached.") from error


def _refuse(response: httpx.Response) -> None:
    """Raise DeskAway for what will pass, DeskRefused for what will not."""
    if response.status_code in (408, 425, 429) or response.status_code >= 500:
        raise DeskAway(f"The desk is not well just now (HTTP {response.status_code}).")
    if response.status_code >= 300:
        raise DeskRefused(response.status_code, _json(response))


def _json(response: httpx.Response) -> Any:
    if len(response.content) > _LARGEST_ANSWER:
        return None
    try:
        return response.json()
    except ValueError:
        return None
