"""Probes for monitoring: whether the process lives, whether it can serve, its version, its measures.

They are outside the API. The first two tell anyone no more than yes or no for each part; the others answer only those
whose address is among the monitors of the settings.
"""

from __future__ import annotations

from ipaddress import ip_address
from typing import Any

from flask import Flask, Response, abort, jsonify, request
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, generate_latest

from sealpacket import __version__
from sealpacket.app.context import AppContext
from sealpacket.app.measures import measures
from sealpacket.core.errors import ProblemError
from sealpacket.services import liveness
from sealpacket.services.measures import measured
from sealpacket.web.guard import ANYONE, requires_role

QUIET = ("/healthz", "/readyz", "/metrics")
"""Routes that are asked again and again: their requests are in the log at the level debug only."""


class _House:
    """The measures of the database, as a collector."""

    def __init__(self, app: AppContext) -> None:
        self._app = app

    def collect(self) -> list[Any]:
        return measured(self._app)


def add_probes(app: Flask, context: AppContext) -> None:
    """Add /healthz, /readyz, /version and /metrics."""
    proxies = context.settings.proxies

    def monitors_only() -> None:
        """A request that came through a proxy counts by the address that the proxy names."""
        unnamed = not proxies and {"X-Forwarded-For", "Forwarded"} & set(request.headers.keys())
        address = ip_address(request.remote_addr or "0.0.0.0")  # noqa: S104 - nobody's
        if unnamed or not any(address in one for one in context.settings.monitors):
            abort(404)

    @app.get("/healthz")
    @requires_role(ANYONE)
    def healthz() -> Response:
        return jsonify({"alive": True})

    @app.get("/readyz")
    @requires_role(ANYONE)
    def readyz() -> Response:
        found = liveness.ready(context)
        response = jsonify(found)
        response.status_code = 200 if found.ready else 503
        return response

    @app.get("/version")
    @requires_role(ANYONE)
    def version() -> Response:
        monitors_only()
        return jsonify({"version": __version__, "tables": liveness.tables(context)})

    @app.get("/metrics")
    @requires_role(ANYONE)
    def metrics() -> Response:
        monitors_only()
        body = generate_latest(measures().registry)
        house = CollectorRegistry(auto_describe=False)
        try:
            house.register(_House(context))
            body += generate_latest(house)
            reachable = 1
        except ProblemError:
            reachable = 0
        body += (
            "# HELP sealpacket_database_reachable Whether the database answered.\n"
            "# TYPE sealpacket_database_reachable gauge\n"
            f"sealpacket_database_reachable {reachable}\n"
            "# HELP sealpacket_build_info The version that runs.\n"
            "# TYPE sealpacket_build_info gauge\n"
            f'sealpacket_build_info{{version="{__version__}"}} 1\n'
        ).encode()
        return Response(body, content_type=CONTENT_TYPE_LATEST)
