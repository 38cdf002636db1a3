"""Every answer that a service gives in a test is compared with what its operation declares; see openapi.json.

The launcher has all its services do so. What does not fit is written to a file beside its socket, and fails the run.
"""

from __future__ import annotations

import json
import os
from functools import cache
from importlib import resources
from pathlib import Path
from typing import Any

from flask import Response, request
from jsonschema import Draft202012Validator
from jsonschema.protocols import Validator
from referencing import Registry, Resource

ANY_MAY = {400, 405, 408, 414, 431, 500, 503}
"""Statuses of problems that the reference has under `default`."""
_DOCUMENT = "urn:openapi"
_looked_at: set[str] = set()


def report(socket_path: str) -> Path:
    """The file with what did not fit, beside the launcher's socket."""
    return Path(socket_path).with_name("contract.txt")


def watch(socket_path: str) -> None:
    """Have each application that this process and its children make compare its answers."""
    from sealpacket.web import app as module
    from sealpacket.web.api import PARTS

    make, path = module.make_app, report(socket_path)
    operations = {operation.name: operation for part in PARTS for operation in part.operations}

    def watched(*given: Any) -> Any:
        application = make(*given)

        @application.after_request
        def _compare(response: Response) -> Response:
            operation = operations.get((request.endpoint or "").rpartition(".")[2])
            if operation is not None:
                for fault in _faults(operation, response):
                    with path.open("a") as file:
                        file.write(f"{operation.name}: {fault}\n")
            return response

        return application

    module.make_app = watched


def _faults(operation: Any, response: Response) -> list[str]:
    """What of an answer its operation does not declare."""
    if response.status_code == 304:
        return [] if operation.etag else ["304 is not declared"]
    if response.status_code >= 400:
        declared = operation.statuses | ANY_MAY
        code = json.loads(response.get_data() or "{}").get("code")
        said = f"{response.status_code} ({code}) is not declared"
        return [] if response.status_code in declared else [said]
    found = []
    if response.status_code != operation.status:
        found.append(f"{response.status_code} instead of {operation.status}")
    for header, declared in (("ETag", operation.etag), ("Location", bool(operation.location))):
        if (header in response.headers) != declared:
            found.append(f"{header} is {'declared' if declared else 'not declared'}")
    return [*found, *_body_faults(operation, response)]


def _body_faults(operation: Any, response: Response) -> list[str]:
    types = getattr(operation.gives, "types", None)
    if types is not None:
        return (
            []
            if response.mimetype in types or "application/octet-stream" in types
            else [f"it is {response.mimetype}"]
        )
    if operation.name in _looked_at:
        return []
    _looked_at.add(operation.name)
    return [
        f"{'/'.join(map(str, error.absolute_path))}: {error.message[:200]}"
        for error in _validator(operation.name).iter_errors(json.loads(response.get_data()))
    ]


@cache
def _validator(name: str) -> Validator:
    document = _document()
    answers = next(
        one["responses"]
        for path in document["paths"].values()
        for one in path.values()
        if one["operationId"] == name
    )
    good = next(answer for status, answer in answers.items() if status[0] == "2")
    return validator(good["content"]["application/json"]["schema"]["$ref"])


def validator(reference: str) -> Validator:
    """The validator of a schema of the reference, such as `#/components/schemas/Me`."""
    contents = {"$schema": "https://json-schema.org/draft/2020-12/schema", **_document()}
    registry: Registry[Any] = Registry().with_resource(_DOCUMENT, Resource.from_contents(contents))
    return Draft202012Validator({"$ref": _DOCUMENT + reference}, registry=registry)


@cache
def _document() -> dict[str, Any]:
    text = (resources.files("sealpacket.web") / "openapi.json").read_text("utf-8")
    found: dict[str, Any] = json.loads(text)
    return found


def broken() -> list[str]:
    """What did not fit in this run so far, each once."""
    path = report(os.environ["SEALPACKET_LAUNCHER"])
    return sorted(set(path.read_text().splitlines())) if path.exists() else []
