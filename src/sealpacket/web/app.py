"""The application: API, console, and the headers that keep both safe."""

from __future__ import annotations

from pathlib import Path
from secrets import token_urlsafe
from typing import Any

from flask import Response, abort, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from pydantic import BaseModel
from werkzeug.middleware.proxy_fix import ProxyFix
from werkzeug.routing import PathConverter

from sealpacket import __version__
from sealpacket.app.bootstrap import bootstrap
from sealpacket.app.context import AppContext
from sealpacket.settings import Settings
from sealpacket.traces import set_up_traces
from sealpacket.web.api import add_api
from sealpacket.web.api.ahead import add_calendar
from sealpacket.web.api.notices import add_streams
from sealpacket.web.api.packets import add_hooks
from sealpacket.web.bodies import timed_bodies
from sealpacket.web.guard import ANY_ROLE, ANYONE, add_guard, requires_role
from sealpacket.web.json import Json, refuse_controls
from sealpacket.web.probes import add_probes
from sealpacket.web.problems import add_handlers, invalid_request
from sealpacket.web.provider import add_provider
from sealpacket.web.reference import answer_reference
from sealpacket.web.request_lines import add_request_lines
from sealpacket.web.scim import add_scim

_POLICY = (
    "default-src 'none'; script-src 'self'; style-src {styles}; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)

PACKAGED = Path(__file__).with_name("console")
"""Where a release has the built console."""
CONSOLE_PAGES = (
    "", "accounts", "ahead", "articles", "assets", "batches", "contracts", "custody", "desks", "entitlements",
    "imports", "kits", "known-issues", "logins", "notices", "order-documents", "overview", "packets", "people",
    "products", "redaction-plan", "safe", "sites", "statements", "vendors", "webhooks", "you",
)  # fmt: skip
"""First segments of the addresses of the console's pages; at others it says that there is no such page."""


class _Page(PathConverter):
    """An address of the console's; those of the API answer for themselves."""

    regex = "(?!api/)[^/].*?"


class _App(OpenAPI):
    json_provider_class = Json

    def make_response(self, rv: Any) -> Response:
        """As Flask does it; a view may return a model too, alone or with a status."""
        body = rv[0] if isinstance(rv, tuple) else rv
        if not isinstance(body, BaseModel):
            return super().make_response(rv)
        response: Response = self.json.response(body)  # type: ignore[assignment]
        if isinstance(rv, tuple):
            response.status_code = rv[1]
        return response


def make_app(context: AppContext) -> OpenAPI:
    """The WSGI application of one house."""
    app = _App(
        "sealpacket",
        info=Info(title="Seal Packet", version=__version__),
        validation_error_callback=invalid_request,
        doc_ui=False,
        static_folder=None,
    )
    app.config["APP_CONTEXT"] = context
    app.config["MAX_CONTENT_LENGTH"] = 8 << 20
    app.wsgi_app = timed_bodies(app.wsgi_app)  # type: ignore[method-assign]
    if context.settings.proxies:
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=context.settings.proxies, x_proto=0, x_host=0)  # type: ignore[method-assign]
    add_handlers(app)
    add_request_lines(app)
    app.before_request(refuse_controls)
    add_guard(app)
    add_api(app)
    add_calendar(app)
    add_streams(app)
    add_hooks(app)
    add_provider(app)
    add_scim(app)
    add_probes(app, context)
    _add_console(app, context.settings.console or PACKAGED)

    @app.get("/openapi.json", doc_ui=False)
    @requires_role(ANYONE if context.settings.public_reference else ANY_ROLE)
    def openapi() -> Response:
        return answer_reference()

    @app.after_request
    def _safe_headers(response: Response) -> Response:
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "no-referrer")
        response.headers.setdefault("X-Frame-Options", "DENY")
        response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
        response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        response.headers.setdefault(
            "Permissions-Policy", "camera=(), geolocation=(), microphone=(), payment=()"
        )
        response.headers.setdefault("Content-Security-Policy", _POLICY.format(styles="'self'"))
        if context.settings.address.startswith("https:"):
            response.headers.setdefault("Strict-Transport-Security", "max-age=31536000")
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response

    return app


def _add_console(app: OpenAPI, folder: Path) -> None:
    """Serve the built console: its files as they are, and its page for every other address."""
    if not (folder / "index.html").exists():
        return
    root = folder.resolve()
    front = (root / "index.html").read_text("utf-8")

    @requires_role(ANYONE)
    def console(path: str = "") -> Response:
        if path.startswith("static/"):
            return send_from_directory(root, path, max_age=31_536_000)
        if path in ("icon.svg",):
            return send_from_directory(root, path)
        is_page = path.split("/", 1)[0] in CONSOLE_PAGES
        if not is_page and "text/html" not in request.headers.get("Accept", ""):
            abort(404)
        nonce = token_urlsafe(16)
        body, status = front.replace("{style-nonce}", nonce), 200 if is_page else 404
        page = Response(body, status, mimetype="text/html")
        page.headers["Cache-Control"] = "no-store"
        page.headers["Content-Security-Policy"] = _POLICY.format(styles=f"'self' 'nonce-{nonce}'")
        return page

    app.add_url_rule("/", view_func=console)
    app.url_map.converters["page"] = _Page
    app.add_url_rule("/<page:path>", view_func=console)


def wsgi() -> OpenAPI:
    """For gunicorn: the application with settings from the environment."""
    settings = Settings()
    set_up_traces(settings, "service")
    return make_app(bootstrap(settings))
