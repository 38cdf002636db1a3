"""Desks over HTTP: cases as JSON, a form or XML; files before, with or after them."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from types import TracebackType
from typing import Any
from urllib.parse import quote, urljoin, urlsplit

import httpx

from sealpacket.channels.desk import (
    Desk,
    DeskAway,
    DeskRefused,
    Login,
    Outgoing,
    Parcel,
    Said,
    Update,
)
from sealpacket.channels.tus import upload
from sealpacket.channels.wire import TooMuch, Wire, open_wire
from sealpacket.core.errors import Conflict
from sealpacket.core.sheets import OverHttp, Sheet, read_reference, read_reply, render, words_of
from sealpacket.core.sheets.conversion import plain
from sealpacket.core.sheets.rendering import BRACES
from sealpacket.core.sheets.sending import AsXml, Files, OwnHeader
from sealpacket.core.sheets.trees import read_at
from sealpacket.core.sheets.writing import to_xml, write_case


def open_http(sheet: Sheet, send: OverHttp, address: str, login: Login) -> Desk:
    """The way to a desk over HTTP. Redirects are not followed: nothing goes where it was not configured."""
    parts = urlsplit(address)
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise DeskAway(f"The address configured for {sheet.name} is not one of HTTP.")
    match send.sign_in:
        case OwnHeader() as own:
            value = own.value.replace("{name}", login.name).replace("{secret}", login.secret)
            wire = open_wire(address, login.timeout, header=(own.header, value))
        case "basic":
            wire = open_wire(address, login.timeout, basic=(login.name, login.secret))
        case _:
            wire = open_wire(address, login.timeout, token=login.secret)
    return HttpDesk(sheet, send, wire)


class HttpDesk(Desk):
    """A desk over HTTP: its cases as JSON, a form or XML; files before the case, with it, or below it."""

    def __init__(self, sheet: Sheet, send: OverHttp, wire: Wire) -> None:
        super().__init__(sheet)
        self._way, self._wire = send, wire

    def close(self) -> None:
        """See Desk.close."""
        self._wire.close()

    def lodge(self, parcel: Parcel) -> Any:
        """See Desk.lodge. Files that an earlier try has put below a case are put again: PUT may be repeated."""
        files = self._way.files
        body = parcel.case.body
        if files is not None and files.sent == "before" and parcel.files:
            body = {**body, files.list_in: [self._before(files, file) for file in parcel.files]}
        key = {"Idempotency-Key": parcel.key}
        together = files if files is not None and files.sent == "with" else None
        answer = self._post(
            self._way.lodge, body, key, self._document(parcel), together, parcel.files
        )
        if files is not None and files.sent == "after" and parcel.files:
            reference = read_reference(self.sheet, answer)
            for file in parcel.files:
                self._one_file(files, file, reference)
        return answer

    def tell(self, update: Update) -> None:
        """Send the update; see Desk.tell. An act with a path of its own goes there, any other as an answer in words."""
        rule = self.sheet.acts.get(update.act)
        key = {"Idempotency-Key": update.ident}
        if rule is not None and rule.path:
            facts = update.facts
            if not facts.get("message.text"):  # somebody said nothing: then in our words
                facts["message.text"] = words_of({}, update.act, facts)
            body = render(rule.body, facts)
            path = _path(rule.path, update.reference, facts)
            self._post(path, body, key, self._as_xml(rule.root, body), method=rule.method)
            if not update.files:
                return
        if not self._way.answer:
            raise Conflict(
                f"{self.sheet.name} takes no answers.",
                "Call the desk, and record the call.",
                code="no-answers",
            )
        self._answer(update, key)

    def _answer(self, update: Update, key: dict[str, str]) -> None:
        files = self._way.more_files if update.files else None
        if update.files and files is None:
            raise Conflict(
                f"{self.sheet.name} takes no files later.",
                "Send the words alone, or ask the desk how it wants the files.",
                code="no-files",
            )
        facts = {**update.facts, "message.text": self.words(update)}
        body: dict[str, Any] = render(self._way.answer_body, facts)
        if files is not None and files.sent == "before":
            entries = [self._before(files, file, update.reference) for file in update.files]
            body = {**body, files.list_in: entries} if files.list_in else body
        if files is not None and files.sent == "after":
            for file in update.files:
                self._one_file(files, file, update.reference)
        together = files if files is not None and files.sent == "with" else None
        path, document = (
            _path(self._way.answer, update.reference),
            self._as_xml(self._way.answer_root, body),
        )
        self._post(path, body, key, document, together, update.files)

    def _as_xml(self, root: str, body: dict[str, Any]) -> bytes | None:
        write = self.sheet.write
        return to_xml(root, write.namespace, body) if isinstance(write, AsXml) else None

    def find(self, number: str) -> str | None:
        """See Desk.find."""
        if not self._way.find:
            return None
        body = self._call("GET", self._way.find.replace("{number}", quote(number, safe="")))
        found = read_at(self._way.found, body) if body is not None else None
        return None if found in (None, "") else str(found)

    def follow(self, reference: str, mark: str = "") -> Said:
        """See Desk.follow."""
        asked = {"If-None-Match": mark} if mark else {}
        path = _path(self._way.follow, reference)
        with _spoken(self.sheet.name):
            response = self._wire.request("GET", path, headers=asked)
            if mark and response.status_code == 304:
                return Said(mark=mark)
            self._refuse(response)
        body = read_reply(self.sheet, response.content)
        if body is None:
            raise DeskAway(f"{self.sheet.name} answers something that cannot be read.")
        return Said(body, _mark(response.headers.get("ETag", "")))

    def fetch(self, at: str) -> Iterator[bytes]:
        """See Desk.fetch. It has to be on the desk's own host: nothing is fetched from elsewhere."""
        here = urlsplit(self._wire.address)
        there = urlsplit(urljoin(f"{self._wire.address}/", at))
        if (there.scheme, there.netloc) != (here.scheme, here.netloc):
            raise Conflict(
                f"{self.sheet.name} keeps the file at another host.",
                "Fetch it there yourself, and store it with the asset.",
                code="another-host",
            )
        with _spoken(self.sheet.name):
            try:
                yield from self._wire.stream(there.geturl(), self._refuse)
            except TooMuch as error:
                raise Conflict(
                    f"The file is not taken: {error}.",
                    "Fetch it there yourself, and store it with the asset.",
                    code="too-large",
                ) from error

    def _document(self, parcel: Parcel) -> bytes | None:
        if not isinstance(self.sheet.write, AsXml):
            return None
        return write_case(self.sheet, parcel.case).documents["case.xml"]

    def _post(
        self,
        path: str,
        body: dict[str, Any],
        headers: dict[str, str],
        document: bytes | None,
        together: Files | None = None,
        files: Sequence[Outgoing] = (),
        method: str = "POST",
    ) -> Any:
        """Post a body in the desk's format, with files where they go in the same request."""
        if method == "DELETE" and not body:
            return self._call(method, path, headers=headers)
        if document is not None:
            kind = {"Content-Type": "application/xml; charset=utf-8", "Accept": "application/xml"}
            return self._call(method, path, content=document, headers={**kind, **headers})
        if self.sheet.write.format == "json":
            return self._call(method, path, json=body, headers=headers)
        # The files are within the desk's limits, so they are held in memory for the one request.
        field = together.field if together else ""
        parts = [(field, (file.name, file.whole())) for file in files if together]
        fields = {name: plain(value) for name, value in body.items()}
        return self._call(method, path, data=fields, files=parts or _NO_FILES, headers=headers)

    def _before(self, files: Files, file: Outgoing, reference: str = "") -> Any:
        """Send one file before the case or answer; gives what that says of it."""
        if files.by == "tus":
            location = self._tus(files, file, _path(files.path, reference))
        elif file.already:
            location = file.already
        else:
            location = self._one_file(files, file, reference)
            file.remember(location)
        file.arrived()
        values = {
            "file.location": location,
            "file.name": file.name,
            "file.size": file.size,
            "file.sha256": file.sha256,
        }
        return render(files.entry, values)

    def _tus(self, files: Files, file: Outgoing, path: str = "") -> str:
        """Send one file by tus, going on where an earlier try broke off."""
        with _spoken(self.sheet.name):
            return upload(
                self._wire,
                path or files.path,
                file.name,
                file.size,
                file.blocks,
                already=file.already,
                remember=file.remember,
                refuse=self._refuse,
            )

    def _one_file(self, files: Files, file: Outgoing, reference: str) -> str:
        """Send one file in a request of its own; gives what the desk calls it."""
        path = _path(files.path, reference).replace("{name}", quote(file.name, safe=""))
        if files.by == "tus":
            return self._tus(files, file, path)
        arguments: dict[str, Any] = {
            "content": file.whole(),
            "headers": {"Content-Type": "application/octet-stream"},
        }
        if files.by == "multipart":
            arguments = {"files": [(files.field, (file.name, file.whole()))]}
        response = self._request("PUT" if files.by == "put" else "POST", path, **arguments)
        if files.sent == "after":
            file.arrived()
            return ""
        found = read_at(files.id, read_reply(self.sheet, response.content)) if files.id else None
        location = str(found or response.headers.get("Location") or "")
        location = location or (path if files.by == "put" else "")
        if not location:
            raise DeskAway(f"{self.sheet.name} took {file.name} and did not say what it calls it.")
        return location

    def _call(self, method: str, path: str, **arguments: Any) -> Any:
        return read_reply(self.sheet, self._request(method, path, **arguments).content)

    def _request(self, method: str, path: str, **arguments: Any) -> httpx.Response:
        with _spoken(self.sheet.name):
            response = self._wire.request(method, path, **arguments)
            self._refuse(response)
            return response

    def _refuse(self, response: httpx.Response) -> None:
        """Raise DeskAway for what will pass, DeskRefused for what will not."""
        if response.status_code in (408, 425, 429) or response.status_code >= 500:
            raise DeskAway(f"The desk is not well just now (HTTP {response.status_code}).")
        if response.status_code >= 300:
            raise DeskRefused(response.status_code, read_reply(self.sheet, response.content))


class _NoFiles(dict[str, Any]):
    """Empty but truthy, so that httpx sends a multipart form without files."""

    def __bool__(self) -> bool:
        return True


_NO_FILES = _NoFiles()


def _mark(tag: str) -> str:
    """An entity tag, if it is one that can be sent back."""
    return tag if _TAG.fullmatch(tag) else ""


_TAG = re.compile(r'(?:W/)?"[\x21\x23-\x7e]{1,200}"')


def _path(template: str, reference: str, facts: Mapping[str, Any] | None = None) -> str:
    """A path with the reference and other values in braces filled in, each quoted."""
    known = {"reference": reference, **(facts or {})}
    return BRACES.sub(
        lambda match: (
            quote(plain(known[match[1]]), safe="") if match[1] and match[1] in known else match[0]
        ),
        template,
    )


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
