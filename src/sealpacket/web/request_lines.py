"""The application's part of a request's line in the log: route, account and packet, and nothing that was typed."""

from __future__ import annotations

import json
import re
from contextlib import ExitStack

import structlog
from flask import Flask, Response, g, request

from sealpacket.traces import span
from sealpacket.web.problems import REQUEST_ID
from sealpacket.web.serving.application import LINE_OF

_NUMBER = re.compile(r"P-\d{1,12}")


def add_request_lines(app: Flask) -> None:
    """Give every line that a request writes its id, and every answer what belongs into the line of the request."""

    @app.before_request
    def _bind() -> None:
        structlog.contextvars.clear_contextvars()
        if ident := request.environ.get(REQUEST_ID):
            structlog.contextvars.bind_contextvars(request=ident)
        g.trace = ExitStack()
        g.span = g.trace.enter_context(
            span(
                request.method,
                {"request": ident or "", "http.request.method": request.method},
                {"traceparent": request.headers.get("traceparent", "")},
            )
        )

    @app.after_request
    def _line(response: Response) -> Response:
        line = {"route": request.url_rule.rule if request.url_rule else "none"}
        if who := g.get("actor"):
            line["account"] = who.name
        number = str((request.view_args or {}).get("number", ""))
        if _NUMBER.fullmatch(number):
            line["packet"] = number
        response.headers[LINE_OF] = json.dumps(line)
        g.span.rename(f"{request.method} {line['route']}")
        g.span.note({**line, "http.response.status_code": response.status_code})
        return response

    @app.teardown_request
    def _ended(_error: BaseException | None) -> None:
        if trace := g.pop("trace", None):
            trace.close()
