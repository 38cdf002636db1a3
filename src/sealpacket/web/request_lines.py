"""The application's part of a request's line in the log: route, account and packet, and nothing that was typed."""

from __future__ import annotations

import json
import re

import structlog
from flask import Flask, Response, g, request

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

    @app.after_request
    def _line(response: Response) -> Response:
        line = {"route": request.url_rule.rule if request.url_rule else "none"}
        if who := g.get("actor"):
            line["account"] = who.name
        number = str((request.view_args or {}).get("number", ""))
        if _NUMBER.fullmatch(number):
            line["packet"] = number
        response.headers[LINE_OF] = json.dumps(line)
        return response
