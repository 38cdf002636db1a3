"""Entity tags (RFC 9110) on a desk's answers, so that nobody has to read the same thing twice."""

from __future__ import annotations

from flask import Flask, Response, request


def add_marks(app: Flask) -> None:
    """Mark every answer to a GET, and answer 304 to those who have it already."""

    @app.after_request
    def mark(response: Response) -> Response:
        if request.method == "GET" and response.status_code == 200 and not response.is_streamed:
            response.add_etag()
            response.make_conditional(request)
        return response
