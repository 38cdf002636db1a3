"""The application: API, console, and the headers that keep both safe."""

from __future__ import annotations

import re
from copy import deepcopy
from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from flask import Response, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from werkzeug.middleware.proxy_fix import ProxyFix
from werkzeug.routing import PathConverter

from sealpacket import __version__
from sealpacket.app.bootstrap import bootstrap
from sealpacket.app.context import AppContext
from sealpacket.app.idempotency import LONGEST_KEY
from sealpacket.logs import set_up_log
from sealpacket.settings import Settings
from sealpacket.web.api import add_api
from sealpacket.web.api.ahead import add_calendar
from sealpacket.web.api.packets import add_hooks
from sealpacket.web.bodies import timed_bodies
from sealpacket.web.guard import ANY_ROLE, ANYONE, add_guard, required_roles, requires_role
from sealpacket.web.idempotency import HEADER, is_idempotent
from sealpacket.web.json import Json, refuse_controls
from sealpacket.web.problems import Problem, add_handlers, invalid_request

_DESCRIPTION = """The API of Seal Packet: the register of what support was bought, and packets to vendors.

Sign in for a token with `POST /api/v1/tokens` and send it as `Authorization: Bearer …`. Every error is a problem
document (RFC 9457) with a stable `code` and a `remedy`. What people edit has an ETag: send it back as If-Match.
What must not happen twice takes an Idempotency-Key."""


_POLICY = (
    "default-src 'none'; script-src 'self'; style-src {styles}; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)


class _Page(PathConverter):
    """An address of the console's; those of the API answer for themselves."""

    regex = "(?!api/)[^/].*?"


class _App(OpenAPI):
    json_provider_class = Json


def make_app(context: AppContext) -> OpenAPI:
    """The WSGI application of one house."""
    app = _App(
        "sealpacket",
        info=Info(title="Seal Packet", version=__version__, description=_DESCRIPTION),
        security_schemes={"token": {"type": "http", "scheme": "bearer"}},
        validation_error_model=Problem,
        validation_error_callback=invalid_request,
        doc_ui=False,
        static_folder=None,
    )
    app.config["APP_CONTEXT"] = context
    app.config["MAX_CONTENT_LENGTH"] = 8 << 20
    app.wsgi_app = timed_bodies(app.wsgi_app)
    if context.settings.proxies:
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=context.settings.proxies, x_proto=0, x_host=0)
    add_handlers(app)
    app.before_request(refuse_controls)
    add_guard(app)
    add_api(app)
    add_calendar(app)
    add_hooks(app)
    _add_console(app, context.settings.console)

    @app.get("/openapi.json", doc_ui=False)
    @requires_role(ANY_ROLE)
    def openapi() -> Any:
        return reference(app)

    @app.after_request
    def _safe_headers(response: Response) -> Response:
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "no-referrer")
        response.headers.setdefault("X-Frame-Options", "DENY")
        response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
        response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        response.headers.setdefault("Permissions-Policy", "camera=(), geolocation=(), microphone=(), payment=()")
        response.headers.setdefault("Content-Security-Policy", _POLICY.format(styles="'self'"))
        if context.settings.address.startswith("https:"):
            response.headers.setdefault("Strict-Transport-Security", "max-age=31536000")
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response

    return app


def reference(app: OpenAPI) -> dict[str, Any]:
    """The OpenAPI document, each operation with the roles that it needs (`x-needs`)."""
    document: dict[str, Any] = deepcopy(app.api_doc)
    document["components"].setdefault("schemas", {})["Problem"] = Problem.model_json_schema()
    document["components"]["parameters"] = {
        "IdempotencyKey": {
            "name": HEADER, "in": "header", "required": False, "schema": {"type": "string", "maxLength": LONGEST_KEY},
            "description": "With the same key the same request is done once, and answered alike for a day.",
        }
    }  # fmt: skip
    document["components"]["responses"] = {
        "Problem": {
            "description": "What went wrong, as a problem document (RFC 9457): `code` is stable.",
            "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
        }
    }
    problem = {"$ref": "#/components/responses/Problem"}
    for rule in app.url_map.iter_rules():
        operations = document["paths"].get(re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", rule.rule), {})
        for method in rule.methods or ():
            if method.lower() in operations:
                operation, roles = operations[method.lower()], required_roles(app.view_functions[rule.endpoint])
                operation["x-needs"] = list(roles)
                if is_idempotent(app.view_functions[rule.endpoint]):
                    operation.setdefault("parameters", []).append({"$ref": "#/components/parameters/IdempotencyKey"})
                good = {code: said for code, said in operation["responses"].items() if code[0] in "23"}
                operation["responses"] = {**good, "4XX": problem, "5XX": problem}
                operation["security"] = [] if roles == (ANYONE,) else [{"token": []}]
    return document


def _add_console(app: OpenAPI, folder: Path | None) -> None:
    """Serve the built console: its files as they are, and its page for every other address."""
    if folder is None or not (folder / "index.html").exists():
        return
    root = folder.resolve()
    front = (root / "index.html").read_text("utf-8")

    @requires_role(ANYONE)
    def console(path: str = "") -> Response:
        if path.startswith("static/"):
            return send_from_directory(root, path, max_age=31_536_000)
        if path in ("icon.svg",):
            return send_from_directory(root, path)
        nonce = token_urlsafe(16)
        page = Response(front.replace("{style-nonce}", nonce), mimetype="text/html")
        page.headers["Cache-Control"] = "no-store"
        page.headers["Content-Security-Policy"] = _POLICY.format(styles=f"'self' 'nonce-{nonce}'")
        return page

    app.add_url_rule("/", view_func=console)
    app.url_map.converters["page"] = _Page
    app.add_url_rule("/<page:path>", view_func=console)


def wsgi() -> OpenAPI:
    """For gunicorn: the application with settings from the environment."""
    set_up_log()
    return make_app(bootstrap(Settings()))
