"""Desks over HTTP: JSON with uploads, a form with its files, or XML with files put below the case."""

from __future__ import annotations

import ssl
from functools import cache
from types import TracebackType
from typing import Any
from urllib.parse import quote, urlsplit

import httpx

from sealpacket.channels.deadline import Deadline, DeadlineTransport
from sealpacket.channels.desk import Desk, DeskAway, DeskRefused, Login, Outgoing, Parcel
from sealpacket.channels.tus import upload
from sealpacket.channels.wire import TooMuch, Wire
from sealpacket.core.outgoing import OutgoingText
from sealpacket.core.sheets import (
    HttpForm,
    HttpJson,
    HttpXml,
    OverHttp,
    Sheet,
    read_reference,
    read_reply,
    render,
)
from sealpacket.core.sheets.sending import AsXml
from sealpacket.core.sheets.writing import to_xml, write_case


def open_http(sheet: Sheet, send: OverHttp, address: str, login: Login) -> Desk:
    """The way to a desk over HTTP. Redirects are not followed: nothing goes where it was not configured."""
    parts = urlsplit(address)
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise DeskAway(f"The address configured for {sheet.name} is not one of HTTP.")
    basic = send.sign_in == "basic"
    headers = {"User-Agent": "sealpacket", "Accept-Encoding": "identity"}
    headers |= {} if basic else {"Authorization": f"Bearer {login.secret}"}
    deadline = Deadline()
    client = httpx.Client(
        base_url=address.rstrip("/"),
        headers=headers,
        auth=(login.name, login.secret) if basic else None,
        timeout=login.timeout,
        follow_redirects=False,
        trust_env=False,
        transport=DeadlineTransport(deadline, _trusted()),
    )
    wire = Wire(client, deadline, login.timeout)
    match send:
        case HttpForm():
            return FormDesk(sheet, send, wire)
        case HttpXml():
            return XmlDesk(sheet, send, wire)
        case HttpJson():
            return JsonDesk(sheet, send, wire)
        case _:
            raise AssertionError(send)


@cache
def _trusted() -> ssl.SSLContext:
    """The authorities that certificates are checked with; reading them takes a while."""
    return httpx.create_ssl_context()


class _HttpDesk(Desk):
    """What all desks over HTTP have in common."""

    def __init__(self, sheet: Sheet, send: OverHttp, wire: Wire) -> None:
        super().__init__(sheet)
        self._way, self._wire = send, wire

    def close(self) -> None:
        """See Desk.close."""
        self._wire.close()

    def follow(self, reference: str) -> Any:
        """See Desk.follow."""
        body = self._call("GET", _path(self._way.follow, reference))
        if body is None:
            raise DeskAway(f"{self.sheet.name} answers something that cannot be read.")
        return body

    def _answer(self, reference: str, ident: str, text: OutgoingText) -> dict[str, Any]:
        values = {"message.text": text, "message.id": ident, "message.reference": reference}
        body: dict[str, Any] = render(self._way.answer_body, values)
        return body

    def _call(self, method: str, path: str, **arguments: Any) -> Any:
        with _spoken(self.sheet.name):
            response = self._wire.request(method, path, **arguments)
            self._refuse(response)
            return read_reply(self.sheet, response.content)

    def _refuse(self, response: httpx.Response) -> None:
        """Raise DeskAway for what will pass, DeskRefused for what will not."""
        if response.status_code in (408, 425, 429) or response.status_code >= 500:
            raise DeskAway(f"The desk is not well just now (HTTP {response.status_code}).")
        if response.status_code >= 300:
            raise DeskRefused(response.status_code, read_reply(self.sheet, response.content))


class JsonDesk(_HttpDesk):
    """JSON, with attachments uploaded before by tus 1.0."""

    def lodge(self, parcel: Parcel) -> Any:
        """See Desk.lodge."""
        uploads = [self._upload(file) for file in parcel.files]
        body = {**parcel.case.body, "attachments": uploads} if uploads else parcel.case.body
        return self._call(
            "POST", self._way.lodge, json=body, headers={"Idempotency-Key": parcel.key}
        )

    def answer(self, reference: str, number: str, ident: str, text: OutgoingText) -> None:
        """See Desk.answer."""
        body = self._answer(reference, ident, text)
        self._call(
            "POST",
            _path(self._way.answer, reference),
            json=body,
            headers={"Idempotency-Key": ident},
        )

    def _upload(self, file: Outgoing) -> dict[str, Any]:
        """Send one file, going on where an earlier try broke off."""
        where = self._way.uploads if isinstance(self._way, HttpJson) else None
        if where is None:
            raise DeskRefused(0, None)
        with _spoken(self.sheet.name):
            location = upload(
                self._wire,
                where,
                file.name,
                file.size,
                file.blocks,
                already=file.already,
                remember=file.remember,
                refuse=self._refuse,
            )
        return {"upload": location, "name": file.name, "size": file.size, "sha256": file.sha256}


class FormDesk(_HttpDesk):
    """One form with its attachments."""

    def lodge(self, parcel: Parcel) -> Any:
        """See Desk.lodge. The files are within the desk's limits, so they are held in memory for the one request."""
        field = self._way.files if isinstance(self._way, HttpForm) else "file"
        parts = [(field, (file.name, file.whole())) for file in parcel.files]
        headers = {"Idempotency-Key": parcel.key}
        fields = {name: str(value) for name, value in parcel.case.body.items()}
        return self._call(
            "POST", self._way.lodge, data=fields, files=parts or _NO_FILES, headers=headers
        )

    def answer(self, reference: str, number: str, ident: str, text: OutgoingText) -> None:
        """See Desk.answer."""
        fields = {name: str(value) for name, value in self._answer(reference, ident, text).items()}
        headers = {"Idempotency-Key": ident}
        self._call(
            "POST",
            _path(self._way.answer, reference),
            data=fields,
            files=_NO_FILES,
            headers=headers,
        )


class XmlDesk(_HttpDesk):
    """An XML document; its attachments are put below the case that the desk has made of it."""

    def lodge(self, parcel: Parcel) -> Any:
        """See Desk.lodge. Files that an earlier try has put are put again: PUT (RFC 9110) may be repeated."""
        document = write_case(self.sheet, parcel.case).documents["case.xml"]
        answer = self._send("POST", self._way.lodge, document, {"Idempotency-Key": parcel.key})
        reference = read_reference(self.sheet, answer)
        where = self._way.files if isinstance(self._way, HttpXml) else ""
        for file in parcel.files:
            path = _path(where, reference).replace("{name}", quote(file.name, safe=""))
            self._call(
                "PUT",
                path,
                content=file.whole(),
                headers={"Content-Type": "application/octet-stream"},
            )
        return answer

    def answer(self, reference: str, number: str, ident: str, text: OutgoingText) -> None:
        """See Desk.answer."""
        root = self._way.answer_root if isinstance(self._way, HttpXml) else "answer"
        namespace = self.sheet.write.namespace if isinstance(self.sheet.write, AsXml) else ""
        document = to_xml(root, namespace, self._answer(reference, ident, text))
        self._send("POST", _path(self._way.answer, reference), document, {"Idempotency-Key": ident})

    def _send(self, method: str, path: str, document: bytes, headers: dict[str, str]) -> Any:
        kind = {"Content-Type": "application/xml; charset=utf-8", "Accept": "application/xml"}
        return self._call(method, path, content=document, headers={**kind, **headers})


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
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        if isinstance(error, httpx.TimeoutException):
            raise DeskAway(f"{self._name} did not answer in time.") from error
        if isinstance(error, TooMuch):
            raise DeskAway(f"{self._name} answers more than we read: {error}.") from error
        if isinstance(error, httpx.HTTPError):
            raise DeskAway(f"{self._name} cannot be reached.") from error
