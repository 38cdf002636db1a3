"""The API, one module for each part of the house."""

from flask_openapi3 import OpenAPI

from sealpacket.web.api import (
    accounts,
    ahead,
    coverage,
    desks,
    exhibits,
    house,
    intake,
    labels,
    packets,
    papers,
    register,
    statements,
    views,
)

_PARTS = (
    accounts, register, views, labels, intake, papers, statements, coverage, ahead, desks, packets, exhibits, house,
)  # fmt: skip


def add_api(app: OpenAPI) -> None:
    """Register every part under /api/v1."""
    for module in _PARTS:
        app.register_api(module.api)


__all__ = ["add_api"]
