"""Requests and answers on the wire."""

from __future__ import annotations

import json
import ssl
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date
from functools import cache, partial
from pathlib import Path
from typing import Any, TypeVar
from urllib.parse import quote
from uuid import uuid4

import httpx
from pydantic import BaseModel

from sealpacket.client.errors import BadAnswer, NoService, Refused, TlsFault

M = TypeVar("M", bound=BaseModel)
_PREFIX = "/api/v1"
_BLOCK = 1 << 18
LONGEST_PAUSE = 10
"""Seconds: whoever is asked to wait longer gets the refusal instead."""


@cache
def _trusted(tls: bool) -> ssl.SSLContext:
    """The authorities that certificates are checked with. Reading them takes a while; without TLS none is trusted."""
    return httpx.create_ssl_context() if tls else ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)


class Wire:
    """Connections to the service; several threads may use them. Times out after `timeout` seconds without a byte.

    What the service cannot do just now (503, 429) is tried again `retries` times, after longer and longer pauses.
    """

    def __init__(
        self,
        address: str,
        token: str | None,
        timeout: float,
        *,
        retries: int = 2,
        verify: ssl.SSLContext | None = None,
        proxy: str | None = None,
    ) -> None:
        self._retries = retries
        self.last_answer: BaseModel | None = None
        self.on_saving: Callable[[int | None], None] | None = None
        """Called with the bytes that are saved so far while a file is; with None when it is done or has failed."""
        headers = {"Authorization": f"Bearer {token}"} if token else {}
        self.address = address.rstrip("/")
        tls = self.address.startswith("https:")
        self._client = httpx.Client(
            base_url=self.address,
            headers=headers,
            timeout=timeout,
            trust_env=False,
            verify=verify or _trusted(tls),
            proxy=proxy,
        )

    def close(self) -> None:
        """Give the connections back."""
        self._client.close()

    def has_worker(self) -> bool:
        """Whether a worker of the service was seen lately."""
        return bool(self.send("GET", "/health").json().get("worker"))

    def call(self, kind: type[M], method: str, path: str, **arguments: Any) -> M:
        """One request; its answer as a model. Raises BadAnswer for any other answer."""
        response = self.send(method, path, **arguments)
        try:
            made = kind.model_validate(response.json())
        except ValueError as error:
            raise self._not_ours(response) from error
        self.last_answer = made
        return made

    def send(
        self,
        method: str,
        path: str,
        *,
        version: int | None = None,
        key: str | None = None,
        **arguments: Any,
    ) -> httpx.Response:
        """One request. `version` goes out as If-Match, `key` as Idempotency-Key. Raises ClientError.

        Every POST has a key, so that it can be sent again when the connection breaks, and still is done once.
        """
        headers = dict(arguments.pop("headers", {}))
        if version is not None:
            headers["If-Match"] = f'"{version}"'
        if method == "POST":
            headers["Idempotency-Key"] = key or uuid4().hex
        if "json" in arguments:
            arguments["content"] = json.dumps(arguments.pop("json"), default=_as_json)
            headers["Content-Type"] = "application/json"
            may_repeat = method in ("GET", "POST")
        else:
            may_repeat = method in ("GET", "POST") and "content" not in arguments
        ask = partial(self._client.request, method, _PREFIX + path, headers=headers, **arguments)
        with self._spoken():
            try:
                response = ask()
            except (httpx.ReadError, httpx.RemoteProtocolError):
                if not may_repeat:
                    raise
                # the other side closed a kept connection just then; nothing is done twice
                response = ask()
            for attempt in range(self._retries if may_repeat else 0):
                pause = _pause(response, attempt)
                if pause is None:
                    break
                time.sleep(pause)
                response = ask()
        if response.is_error:
            raise refused(response)
        if response.is_redirect:
            raise self._not_ours(response)
        return response

    def _not_ours(self, response: httpx.Response) -> BadAnswer:
        kind = response.headers.get("Content-Type", "no content")
        return BadAnswer(
            f"{self.address} answered with HTTP {response.status_code} and {kind}, not as Seal Packet does.",
            "Check the address; a proxy may have answered instead, or the service may be of another version.",
        )

    def send_file(self, kind: type[M], path: str, file: Path, params: dict[str, Any]) -> M:
        """Post a file as it is, block by block; its answer as a model."""
        headers = {
            "Content-Type": "application/octet-stream",
            "Content-Length": str(file.stat().st_size),
        }
        return self.call(kind, "POST", path, params=params, content=_blocks(file), headers=headers)

    @contextmanager
    def stream(
        self, path: str, params: dict[str, Any] | None = None, body: Any = None
    ) -> Iterator[httpx.Response]:
        """An answer that is read in pieces; with a body it is asked for by POST."""
        method = "GET" if body is None else "POST"
        asked = self._client.stream(method, _PREFIX + path, params=params, json=body)
        with self._spoken(), asked as response:
            if response.is_error:
                response.read()
                raise refused(response)
            yield response

    def save(
        self, path: str, target: Path, params: dict[str, Any] | None = None, body: Any = None
    ) -> Path:
        """Write an answer to `target`, whole or not at all; with a body it is asked for by POST."""
        unfinished = target.with_name(target.name + ".part")
        try:
            with self.stream(path, params, body) as response, unfinished.open("wb") as file:
                for block in response.iter_bytes(_BLOCK):
                    file.write(block)
                    self._tell_saved(file.tell())
            unfinished.replace(target)
        finally:
            self._tell_saved(None)
            unfinished.unlink(missing_ok=True)
        return target

    def _tell_saved(self, octets: int | None) -> None:
        if self.on_saving is not None:
            self.on_saving(octets)

    @contextmanager
    def _spoken(self) -> Iterator[None]:
        try:
            yield
        except httpx.TimeoutException as error:
            raise NoService(
                f"{self.address} did not answer in time.", "Try again in a moment."
            ) from error
        except httpx.HTTPError as error:
            if _is_tls(error):
                raise TlsFault(
                    f"The certificate of {self.address} is not trusted: {error}.",
                    "Give the authority that signed it: verify=ssl.create_default_context(cafile=…), or SSL_CERT_FILE.",
                ) from error
            raise NoService(
                f"The service at {self.address} cannot be reached.",
                "Check the address, and that it runs: make demo",
            ) from error


def _pause(response: httpx.Response, attempt: int) -> float | None:
    """Seconds until a refused request is sent again; None, if it is not."""
    if response.status_code not in (429, 503):
        return None
    asked = _retry_after(response) or 0
    return max(asked, 0.5 * 3**attempt) if asked <= LONGEST_PAUSE else None


def _retry_after(response: httpx.Response) -> int | None:
    value = response.headers.get("Retry-After", "")
    return int(value) if value.isdecimal() else None


def _is_tls(error: BaseException | None) -> bool:
    while error is not None and not isinstance(error, ssl.SSLError):
        error = error.__cause__ or error.__context__
    return error is not None


def refused(response: httpx.Response) -> Refused:
    """The problem of an answer."""
    try:
        body = response.json()
    except ValueError:
        body = {}
    facts = body if isinstance(body, dict) else {}
    return Refused(response.status_code, facts, _retry_after(response))


def _as_json(value: Any) -> str:
    if isinstance(value, date):
        return value.isoformat()
    raise TypeError(f"{type(value).__name__} cannot be sent as JSON")


def part(text: str) -> str:
    """One part of a path."""
    return quote(text, safe="")


def _blocks(file: Path) -> Iterator[bytes]:
    with file.open("rb") as opened:
        while block := opened.read(_BLOCK):
            yield block
