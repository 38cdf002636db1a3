"""A desk of a sheet over HTTP."""

from __future__ import annotations

import re
import threading
from collections.abc import Callable
from typing import Any
from uuid import uuid4

from flask import Flask, Request, Response, request
from werkzeug.serving import WSGIRequestHandler, make_server

from sealpacket.channels.sheet_desk.base import SheetDesk, pattern_of
from sealpacket.core.sheets import OverHttp, Sheet
from sealpacket.core.sheets.replying import reply_for
from sealpacket.core.sheets.sending import OwnHeader

_LARGEST = 64 << 20
_METHODS = ["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE"]
_TYPES = {"json": "application/json", "xml": "application/xml"}


class _Quiet(WSGIRequestHandler):
    """Writes nothing into the worker's log."""

    def log(self, type: str, message: str, *args: Any) -> None:
        """Nothing."""


class HttpSheetDesk(SheetDesk):
    """Takes cases, files and answers at the paths of the sheet, and says how a case is where the sheet asks."""

    def __init__(self, sheet: Sheet) -> None:
        super().__init__(sheet)
        assert isinstance(sheet.send, OverHttp)
        self._way = sheet.send
        self._uploads: dict[str, bytearray] = {}
        self._names: dict[str, str] = {}

    def _start(self) -> None:
        app = Flask("a desk of a sheet")
        app.config["MAX_CONTENT_LENGTH"] = _LARGEST

        @app.route("/", defaults={"path": ""}, methods=_METHODS)
        @app.route("/<path:path>", methods=_METHODS)
        def anything(path: str) -> Response:
            return self._take(request, f"/{path}")

        self._server = make_server("127.0.0.1", 0, app, threaded=True, request_handler=_Quiet)
        self.address = f"http://127.0.0.1:{self._server.server_port}"
        threading.Thread(target=self._server.serve_forever, daemon=True).start()

    def _stop(self) -> None:
        self._server.shutdown()
        self._server.server_close()

    def _take(self, asked: Request, path: str) -> Response:
        sign_in = self._way.sign_in
        header = sign_in.header if isinstance(sign_in, OwnHeader) else "Authorization"
        if not asked.headers.get(header):
            return self._said(401)
        for pattern, methods, take in self._ways():
            match = re.fullmatch(pattern, path)
            if match and asked.method in methods:
                return take(asked, path)
        return Response(f"There is nothing at {asked.method} {path}.", 404)

    def _ways(self) -> list[tuple[str, tuple[str, ...], Callable[[Request, str], Response]]]:
        files = self._way.files
        found: list[tuple[str, tuple[str, ...], Callable[[Request, str], Response]]] = [
            (self._pattern(self._way.lodge), ("POST",), self._case),
            (r"/uploads-of-the-trial/[0-9a-f]+", ("HEAD", "PATCH"), self._piece),
        ]
        for one in (files, self._way.more_files):
            if one is not None and one.path:
                found.append((self._pattern(one.path), ("POST", "PUT"), self._file))
        if self._way.answer:
            found.append((self._pattern(self._way.answer), ("POST",), self._answer))
        for rule in self.sheet.acts.values():
            if rule.path:
                path = rule.path.partition("?")[0]
                found.append((self._pattern(path), (rule.method,), self._answer))
        follow = self._pattern(self._way.follow)
        return [*found, (follow, ("GET",), lambda asked, path: self._said(200))]

    def _pattern(self, path: str) -> str:
        """A path of the sheet as a pattern: the reference is the case's, other values in braces are free."""
        parts = path.split("{reference}")
        return re.escape(self.reference).join(pattern_of(part, "[^/]+") for part in parts)

    def _case(self, asked: Request, path: str) -> Response:
        for file in asked.files.values():
            self.note("file", file.filename or "", file.read())
        content = asked.get_data() or repr(asked.form.to_dict()).encode()
        self.note("case", path, content)
        return self._said(422 if self.refusing else 201)

    def _file(self, asked: Request, path: str) -> Response:
        if self._way.files is not None and self._way.files.by == "tus":
            return self._begin(asked)
        given = [*asked.files.values()]
        name = given[0].filename if given else path.rpartition("/")[2]
        self.note("file", name or "", given[0].read() if given else asked.get_data())
        headers = {"Location": f"/uploads-of-the-trial/{uuid4().hex}"}
        ident = self._way.files.id if self._way.files is not None else ""
        body = f'{{"{ident.rpartition(".")[2]}": "FILE-{self.count("file")}"}}' if ident else "{}"
        return Response(body, 201, headers, content_type="application/json")

    def _begin(self, asked: Request) -> Response:
        name = uuid4().hex
        self._uploads[name] = bytearray()
        self._names[name] = asked.headers.get("Upload-Metadata", "")
        headers = {"Location": f"/uploads-of-the-trial/{name}", "Tus-Resumable": "1.0.0"}
        return Response(status=201, headers=headers)

    def _piece(self, asked: Request, path: str) -> Response:
        name = path.rpartition("/")[2]
        upload = self._uploads.get(name)
        if upload is None:
            return Response(status=404)
        if asked.method == "PATCH":
            upload += asked.get_data()
            self.note("file", self._names[name], bytes(upload))
        return Response(
            status=204, headers={"Upload-Offset": str(len(upload)), "Tus-Resumable": "1.0.0"}
        )

    def _answer(self, asked: Request, path: str) -> Response:
        for file in asked.files.values():
            self.note("file", file.filename or "", file.read())
        said = asked.get_data() or repr({**asked.form.to_dict(), **asked.args.to_dict()}).encode()
        self.note("answer", f"{asked.method} {path}", said)
        return self._said(201)

    def _said(self, status: int) -> Response:
        kind = _TYPES.get(self.sheet.replies.read, "text/plain; charset=utf-8")
        body = b"" if status == 401 else reply_for(self.sheet, self.saying)
        return Response(body, status, content_type=kind)
