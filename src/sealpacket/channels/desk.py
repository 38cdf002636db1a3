"""A desk over HTTP: signed in by token or by name and secret, answering in JSON."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from types import TracebackType
from typing import Any
from urllib.parse import quote, urlsplit

import httpx

from sealpacket.channels.tus import upload
from sealpacket.core.sheets import HttpForm, HttpJson, Sheet

_LARGEST_ANSWER = 8 << 20


class DeskAway(Exception):
    """The desk cannot be reached, or is not well; trying again makes sense. The message is a whole sentence."""


class DeskRefused(Exception):
    """The desk said no: HTTP status and its parsed answer, if it was JSON."""

    def __init__(self, status: int, body: Any) -> None:
        super().__init__(f"The desk refused with HTTP {status}.")
        self.status, self.body = status, body


@dataclass(frozen=True)
class Outgoing:
    """A file that goes out: `size` in bytes, `sha256` in hex; `blocks(start)` gives its content from an offset on.

    `already` is where an earlier try has put a part of it, `remember` keeps such a place for the next try.
    """

    name: str
    size: int
    sha256: str
    blocks: Callable[[int], Iterator[bytes]]
    already: str | None
    remember: Callable[[str], None]


def open_desk(sheet: Sheet, address: str, name: str, secret: str, timeout: float) -> Desk:
    """The way to a desk, signed in as `name`. Redirects are not followed: nothing goes where it was not configured."""
    parts = urlsplit(address)
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise DeskAway(f"The address configured for {sheet.name} is not one of HTTP.")
    basic = sheet.send.sign_in == "basic"
    headers = {"User-Agent": "sealpacket"} | ({} if basic else {"Authorization": f"Bearer {secret}"})
    client = httpx.Client(
        base_url=address.rstrip("/"), headers=headers, auth=(name, secret) if basic else None, timeout=timeout,
        follow_redirects=False, trust_env=False,
    )  # fmt: skip
    match sheet.send:
        case HttpJson():
            return JsonDesk(sheet, sheet.send, client)
        case HttpForm():
            return FormDesk(sheet, sheet.send, client)


class Desk:
    """One open way to a desk; a context manager that closes it."""

    def __init__(self, sheet: Sheet, send: HttpJson | HttpForm, client: httpx.Client) -> None:
        self.sheet, self._send, self._client = sheet, send, client

    def __enter__(self) -> Desk:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._client.close()

    def lodge(self, number: str, case: dict[str, Any], files: Sequence[Outgoing]) -> Any:
        """Send the case with its files. The packet's number lets the desk know a repetition. Returns its answer."""
        raise NotImplementedError

    def answer(self, reference: str, ident: str, body: dict[str, Any]) -> Any:
        """Send an answer; `ident` keeps a repetition from counting twice."""
        raise NotImplementedError

    def follow(self, reference: str) -> Any:
        """The desk's description of a case."""
        return self._call("GET", _path(self._send.follow, reference))

    def _call(self, method: str, path: str, **arguments: Any) -> Any:
        with _spoken(self.sheet.name):
            response = self._client.request(method, path, **arguments)
            _refuse(response)
            return _json(response)


class JsonDesk(Desk):
    """JSON, with attachments uploaded before by tus 1.0."""

    _send: HttpJson

    def lodge(self, number: str, case: dict[str, Any], files: Sequence[Outgoing]) -> Any:
        """See Desk.lodge."""
        uploads = [self._upload(file) for file in files]
        body = {**case, "attachments": uploads} if uploads else case
        return self._call("POST", self._send.lodge, json=body, headers={"Idempotency-Key": number})

    def answer(self, reference: str, ident: str, body: dict[str, Any]) -> Any:
        """See Desk.answer."""
        return self._call("POST", _path(self._send.answer, reference), json=body, headers={"Idempotency-Key": ident})

    def _upload(self, file: Outgoing) -> dict[str, Any]:
        """Send one file, going on where an earlier try broke off."""
        with _spoken(self.sheet.name):
            location = upload(
                self._client, self._send.uploads, file.name, file.size, file.blocks, already=file.already,
                remember=file.remember, refuse=_refuse,
            )  # fmt: skip
        return {"upload": location, "name": file.name, "size": file.size, "sha256": file.sha256}


class FormDesk(Desk):
    """One form with its attachments."""

    _send: HttpForm

    def lodge(self, number: str, case: dict[str, Any], files: Sequence[Outgoing]) -> Any:
        """See Desk.lodge. The files are within the desk's limits, so they are held in memory for the one request."""
        parts = [(self._send.files, (file.name, b"".join(file.blocks(0)))) for file in files]
        headers = {"Idempotency-Key": number}
        fields = {name: str(value) for name, value in case.items()}
        return self._call("POST", self._send.lodge, data=fields, files=parts or _NO_FILES, headers=headers)

    def answer(self, reference: str, ident: str, body: dict[str, Any]) -> Any:
        """See Desk.answer."""
        fields = {name: str(value) for name, value in body.items()}
        headers = {"Idempotency-Key": ident}
        return self._call("POST", _path(self._send.answer, reference), data=fields, files=_NO_FILES, headers=headers)


class _NoFiles(dict[str, Any]):
    """No files, and yet a multipart form: httpx would write fields alone as another kind of form."""

    def __bool__(self) -> bool:
        return True


_NO_FILES = _NoFiles()


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
