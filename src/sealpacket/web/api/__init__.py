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
    packets,
    papers,
    register,
    statements,
)


def add_api(app: OpenAPI) -> None:
    """Register every part under /api/v1."""
    for module in (accounts, register, intake, papers, statements, coverage, ahead, desks, packets, exhibits, house):
        app.register_api(module.api)


__all__ = ["add_api"]
