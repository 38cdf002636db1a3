"""The API, one module per noun."""

from flask_openapi3 import OpenAPI

from sealpacket.web.api import (
    accounts,
    agreed,
    ahead,
    batches,
    brought,
    coverage,
    custody,
    desks,
    events,
    exhibits,
    following,
    intake,
    kits,
    knowledge,
    known_issues,
    labels,
    notices,
    order_documents,
    overview,
    packets,
    parts,
    passkeys,
    register,
    release_rules,
    saved_views,
    statements,
    threads,
    today,
    webhooks,
)

_MODULES = (
    accounts,
    passkeys,
    register,
    saved_views,
    labels,
    intake,
    order_documents,
    statements,
    coverage,
    agreed,
    ahead,
    desks,
    packets,
    batches,
    following,
    threads,
    brought,
    parts,
    exhibits,
    kits,
    knowledge,
    known_issues,
    today,
    overview,
    custody,
    events,
    notices,
    webhooks,
    release_rules,
)


PARTS = tuple(module.api for module in _MODULES)
"""All parts of the API."""


def add_api(app: OpenAPI) -> None:
    """Register every part under /api/v1."""
    for part in PARTS:
        app.register_api(part)


__all__ = ["PARTS", "add_api"]
