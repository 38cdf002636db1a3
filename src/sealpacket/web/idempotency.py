"""Idempotency-Key: which requests may be repeated, and what makes two of them the same."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

import flask
from flask import Response, request

from sealpacket.app.idempotency import Answer, answer_once
from sealpacket.web.guard import actor, current_app

HEADER = "Idempotency-Key"
REPLAY = "Sealpacket-Replay"
"""Set on an answer that was given before."""

F = TypeVar("F", bound=Callable[..., Any])


def idempotent(view: F) -> F:
    """Mark a view that creates or sends something: with an Idempotency-Key it does so once."""
    view.idempotent = True  # type: ignore[attr-defined]
    return view


def is_idempotent(view: Any) -> bool:
    """Whether a view takes an Idempotency-Key."""
    return bool(getattr(view, "idempotent", False))


def once(view: F) -> F:
    """The view, answering a repeated request with the same key as it did the first time, for a day."""

    @wraps(view)
    def wrapped(*args: Any, **kwargs: Any) -> Any:
        key = request.headers.get(HEADER)
        if not key:
            return view(*args, **kwargs)

        def act() -> Answer:
            made: Response = flask.current_app.make_response(view(*args, **kwargs))
            return Answer(made.get_data(as_text=True), made.status_code, made.headers.get("ETag"))

        done = answer_once(current_app(), actor(), key, _fingerprint(), act)
        response = Response(done.body, done.status, mimetype="application/json")
        if done.etag:
            response.headers["ETag"] = done.etag
        if done.is_replay:
            response.headers[REPLAY] = "true"
        return response

    return wrapped  # type: ignore[return-value]


def _fingerprint() -> str:
    """Hash of method, address and body; for an uploaded file, its size instead of the body."""
    asked = f"{request.method} {request.full_path}\n".encode()
    body = request.get_data(cache=True) if request.is_json else str(request.content_length).encode()
    return hashlib.sha256(asked + body).hexdigest()
