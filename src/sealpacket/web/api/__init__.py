"""The API, one module per noun."""

from flask_openapi3 import OpenAPI

from sealpacket.web.api import (
    accounts,
    ahead,
    coverage,
    custody,
    desks,
    exhibits,
    intake,
    labels,
    overview,
    packets,
    papers,
    register,
    statements,
    views,
)

_PARTS = (
    accounts, register, views, labels, intake, papers, statements, coverage, ahead, desks, packets, exhibits, overview,
    custody,
)  # fmt: skip


def add_api(app: OpenAPI) -> None:
    """Register every part under /api/v1."""
    for module in _PARTS:
        app.register_api(module.api)


__all__ = ["add_api"]
