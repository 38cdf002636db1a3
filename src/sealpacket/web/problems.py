"""Problem details (RFC 9457): every error leaves as one, with a stable code and a remedy."""

from __future__ import annotations

from typing import Any

import structlog
from flask import Flask, Response, json, request
from pydantic import BaseModel, Field, ValidationError
from werkzeug.exceptions import HTTPException, MethodNotAllowed

from sealpacket.core import errors
from sealpacket.core.faults import FieldFault, faults_of
from sealpacket.web.bodies import SlowBody

log = structlog.get_logger()
REQUEST_ID = "sealpacket.request_id"
"""Key of a request's id in its environ."""

STATUS: dict[type[errors.ProblemError], int] = {
    errors.Invalid: 422,
    errors.NotSignedIn: 401,
    errors.NotAllowed: 403,
    errors.NotFound: 404,
    errors.Conflict: 409,
    errors.Stale: 412,
    errors.TooLarge: 413,
    errors.TooManyTries: 429,
    errors.DiskFull: 507,
    errors.Unavailable: 503,
    errors.Damaged: 500,
}


class Problem(BaseModel):
    """Problem details (RFC 9457): `code` is stable, `detail` is a sentence, `remedy` says what to do.

    Fields that do not apply are left out.
    """

    type: str = Field(description="A URN that ends with `code`.")
    title: str = Field(description="The kind of problem, in words.")
    status: int = Field(description="The HTTP status.")
    code: str = Field(description="A stable name, for programs.")
    detail: str = Field(description="The fault, as a sentence.")
    remedy: str = Field(description="The remedy.")
    field: str | None = Field(None, description="The first value that is wrong.")
    faults: list[FieldFault] | None = Field(None, description="All values that are wrong.")
    stops: list[str] | None = Field(None, description="Codes of the checks that stop it.")
    number: str | None = Field(None, description="The packet that prevents it.")
    retry_after: int | None = Field(None, description="Seconds after which to come back.")
    request_id: str | None = Field(
        None, description="The id of the request, as in the service's log."
    )


def answer(error: errors.ProblemError) -> Response:
    """The problem document of a ProblemError."""
    status = next((STATUS[kind] for kind in type(error).__mro__ if kind in STATUS), 500)
    return problem(status, error.code, error.title, error.detail, error.remedy, **error.facts)


def document_of(
    status: int, code: str, title: str, detail: str, remedy: str, **facts: Any
) -> dict[str, Any]:
    """The fields of a problem document."""
    return {
        "type": f"urn:sealpacket:problem:{code}",
        "title": title,
        "status": status,
        "code": code,
        "detail": detail,
        "remedy": remedy,
        **facts,
    }


def problem(status: int, code: str, title: str, detail: str, remedy: str, **facts: Any) -> Response:
    """A problem document as a response."""
    if ident := request.environ.get(REQUEST_ID):
        facts["request_id"] = ident
    body = json.dumps(document_of(status, code, title, detail, remedy, **facts))
    response = Response(body, status, mimetype="application/problem+json")
    if "retry_after" in facts:
        response.headers["Retry-After"] = str(facts["retry_after"])
    if status == 401:
        response.headers["WWW-Authenticate"] = "Bearer"
    return response


def invalid_request(error: ValidationError) -> Response:
    """All faults in a request's path, query or body; `detail` and `field` are those of the first."""
    faults = faults_of(error)
    first = faults[0]
    if request.content_length and not request.is_json and not first.field:
        return problem(
            415,
            "not-json",
            "Send JSON",
            "The body is not JSON.",
            "Send JSON with Content-Type: application/json.",
        )
    if not first.field:
        return problem(
            422,
            "bad-json",
            "Send valid JSON",
            "The body is missing or is not valid JSON.",
            "Correct the body.",
        )
    unknown = error.errors()[0]["type"] == "extra_forbidden"
    return problem(
        422,
        "unknown-field" if unknown else "invalid",
        "An unknown field" if unknown else "This cannot be taken as it is",
        first.detail,
        first.remedy,
        field=first.field,
        faults=[one.model_dump() for one in faults],
    )


_HTTP_WORDS = {
    404: (
        "not-found",
        "There is nothing at this address.",
        "Look at /openapi.json for what there is.",
    ),
    405: (
        "method",
        "This address does not take that method.",
        "Look at /openapi.json for what it takes.",
    ),
    413: ("too-large", "The body is larger than allowed here.", "Send less."),
    415: ("not-json", "The body is not JSON.", "Send JSON with Content-Type: application/json."),
    400: ("bad-request", "The request cannot be read.", "Mend the request."),
}


def add_handlers(app: Flask) -> None:
    """Make every error a problem document, whatever raised it."""

    @app.errorhandler(errors.ProblemError)
    def _expected(error: errors.ProblemError) -> Response:
        return answer(error)

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response | HTTPException:
        if error.response is not None:
            return error
        status = error.code or 500
        code, detail, remedy = _HTTP_WORDS.get(
            status, ("http", str(error.description), "Mend the request.")
        )
        response = problem(status, code, error.name, detail, remedy)
        if isinstance(error, MethodNotAllowed):
            response.headers["Allow"] = ", ".join(sorted(error.valid_methods or ()))
        return response

    @app.errorhandler(SlowBody)
    def _slow(error: OSError) -> Response:
        return problem(
            408,
            "too-slow",
            "The request took too long",
            "The body did not arrive in time.",
            "Send it again.",
        )

    @app.errorhandler(Exception)
    def _unforeseen(error: Exception) -> Response:
        log.exception("unforeseen error", route=str(request.url_rule), error=type(error).__name__)
        return problem(
            500,
            "unforeseen",
            "Something broke in the service",
            "The service met an error that it did not foresee.",
            "Nothing half-done was kept. Try again; if it comes back, look into the service's log.",
        )
