"""Requests and answers on the wire."""

from __future__ import annotations

import ssl
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache, partial
from pathlib import Path
from typing import Any, TypeVar
from urllib.parse import quote
from uuid import uuid4

import httpx
from pydantic import BaseModel

from sealpacket.client.errors import NoService, Refused

M = TypeVar("M", bound=BaseModel)
_PREFIX = "/api/v1"
_BLOCK = 1 << 18


@cache
def _trusted(tls: bool) -> ssl.SSLContext:
    """The authorities that certificates are checked with. Reading them takes a while; without TLS none is trusted."""
    return httpx.create_ssl_context() if tls else ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)


class Wire:
    """One connection to the service. Times out after `timeout` seconds without a byte."""

    def __init__(self, address: str, token: str | None, timeout: float) -> None:
        headers = {"Authorization": f"Bearer {token}"} if token else {}
        self.address = address.rstrip("/")
        tls = self.address.startswith("https:")
        self._client = httpx.Client(
            base_url=self.address,
            headers=headers,
            timeout=timeout,
            trust_env=False,
            verify=_trusted(tls),
        )

    def close(self) -> None:
        """Give the connections back."""
        self._client.close()

    def call(self, kind: type[M], method: str, path: str, **arguments: Any) -> M:
        """One request; its answer as a model."""
        return kind.model_validate(self.send(method, path, **arguments).json())

    def send(
        self,
        method: str,
        path: str,
        *,
        version: int | None = None,
        key: str | None = None,
        **arguments: Any,
    ) -> httpx.Response:
        """One request. `version` goes out as If-Match, `key` as Idempotency-Key. Raises Refused or NoService.

        Every POST has a key, so that it can be sent again when the connection breaks, and still is done once.
        """
        headers = dict(arguments.pop("headers", {}))
        if version is not None:
            headers["If-Match"] = f'"{version}"'
        if method == "POST":
            headers["Idempotency-Key"] = key or uuid4().hex
        ask = partial(self._client.request, method, _PREFIX + path, headers=headers, **arguments)
        with self._spoken():
            try:
                response = ask()
            except (httpx.ReadError, httpx.RemoteProtocolError):
                if method not in ("GET", "POST") or "content" in arguments:
                    raise
                response = (
                    ask()
                )  # the other side closed a kept connection just then; nothing is done twice
        if response.is_error:
            raise refused(response)
        return response

    def send_file(self, kind: type[M], path: str, file: Path, params: dict[str, Any]) -> M:
        """Post a file as it is, block by block; its answer as a model."""
        headers = {
            "Content-Type": "application/octet-stream",
            "Content-Length": str(file.stat().st_size),
        }
        return self.call(kind, "POST", path, params=params, content=_blocks(file), headers=headers)

    @contextmanager
    def stream(self, path: str, params: dict[str, Any] | None = None) -> Iterator[httpx.Response]:
        """An answer that is read in pieces."""
        with self._spoken(), self._client.stream("GET", _PREFIX + path, params=params) as response:
            if response.is_error:
                response.read()
                raise refused(response)
            yield response

    def save(self, path: str, target: Path, params: dict[str, Any] | None = None) -> Path:
        """Write an answer to `target`, whole or not at all."""
        unfinished = target.with_name(target.name + ".part")
        try:
            with self.stream(path, params) as response, unfinished.open("wb") as file:
                for block in response.iter_bytes(_BLOCK):
                    file.write(block)
            unfinished.replace(target)
        finally:
            unfinished.unlink(missing_ok=True)
        return target

    @contextmanager
    def _spoken(self) -> Iterator[None]:
        try:
            yield
        except httpx.TimeoutException as error:
            raise NoService(
                f"{self.address} did not answer in time.", "Try again in a moment."
            ) from error
        except httpx.HTTPError as error:
            raise NoService(
                f"The service at {self.address} cannot be reached.",
                "Check the address, and that it runs: make demo",
            ) from error


def refused(response: httpx.Response) -> Refused:
    """The problem of an answer."""
    try:
        body = response.json()
    except ValueError:
        body = {}
    return Refused(response.status_code, body if isinstance(body, dict) else {})


def part(text: str) -> str:
    """One part of a path."""
    return quote(text, safe="")


def _blocks(file: Path) -> Iterator[bytes]:
    with file.open("rb") as opened:
        while block := opened.read(_BLOCK):
            yield block
