"""The reference (openapi.json) says everything that a program needs, and generators of clients can read it."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tomllib
from collections.abc import Iterator
from datetime import date
from importlib import resources
from pathlib import Path
from typing import Any

import pytest
from pydantic import BaseModel, Field

from sealpacket.demo.house import RunningHouse
from sealpacket.web.api import PARTS
from sealpacket.web.guard import ANYONE, requires_role
from sealpacket.web.operations import Api
from sealpacket.web.reference import reference
from tests import contract, plain_http
from tests.conftest import ROOT, authorization

HOUSE = {"PUBLIC_REFERENCE": "true"}


@pytest.fixture(scope="module")
def document() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((ROOT / "docs/reference/openapi.json").read_text())
    return found


def operations(document: dict[str, Any]) -> Iterator[tuple[str, dict[str, Any]]]:
    for path, methods in document["paths"].items():
        for method, operation in methods.items():
            yield f"{method} {path}", operation


def parameters(document: dict[str, Any], operation: dict[str, Any]) -> list[dict[str, Any]]:
    shared = document["components"]["parameters"]
    return [
        shared[one["$ref"].rpartition("/")[2]] if "$ref" in one else one
        for one in operation.get("parameters", ())
    ]


def test_every_property_and_parameter_is_described(document: dict[str, Any]) -> None:
    silent = [
        f"{name}.{field}"
        for name, schema in document["components"]["schemas"].items()
        for field, one in schema.get("properties", {}).items()
        if not one.get("description", "").strip()
    ]
    silent += [
        f"{name}: {one['name']}"
        for name, operation in operations(document)
        for one in parameters(document, operation)
        if not one.get("description", "").strip()
    ]
    assert silent == []


def test_no_words_are_kept_for_what_is_gone() -> None:
    words = tomllib.loads((resources.files("sealpacket.web") / "words.toml").read_text("utf-8"))
    schemas = reference(PARTS)["components"]["schemas"]
    fields = {field for schema in schemas.values() for field in schema.get("properties", {})}
    names = {parameter for part in PARTS for one in part.operations for parameter in _inputs(one)}
    assert set(words["properties"]) <= fields | names
    assert set(words["examples"]) <= fields
    assert {place.rpartition(".")[2] for place in words["of"]} <= fields
    assert set(words["enumerations"]) <= set(schemas)


def _inputs(operation: Any) -> set[str]:
    return {name for model in operation.inputs.values() for name in model.model_fields}


def test_every_enumeration_has_a_name(document: dict[str, Any]) -> None:
    def enums(node: Any) -> Iterator[Any]:
        if isinstance(node, dict):
            if isinstance(node.get("enum"), list):
                yield node["enum"]
            node = list(node.values())
        if isinstance(node, list):
            for one in node:
                yield from enums(one)

    schemas = document["components"]["schemas"]
    inline = [one for schema in schemas.values() if "enum" not in schema for one in enums(schema)]
    assert inline == [] == list(enums(document["paths"]))
    assert {"Life", "Turn", "Need", "AssetStatus", "EvidenceState"} <= set(schemas)


def test_requests_leave_out_what_answers_always_have(document: dict[str, Any]) -> None:
    schemas = document["components"]["schemas"]
    assert set(schemas["Note"]["required"]) == {"title"}
    assert set(schemas["AssetForm"]["required"]) == {"vendor", "product", "serial"}
    assert "required" not in schemas["AssetChange"]
    assert "anyOf" not in schemas["AssetChange"]["properties"]["vendor"], "null is not taken"
    assert {"type": "null"} in schemas["AssetChange"]["properties"]["site"]["anyOf"]
    for name in ("AssetShown", "PacketShown", "PacketBrief"):
        assert set(schemas[name]["required"]) == set(schemas[name]["properties"])


def test_each_example_fits_its_schema(document: dict[str, Any]) -> None:
    for name, example in document["components"]["examples"].items():
        errors = contract.validator(f"#/components/schemas/{name}").iter_errors(example["value"])
        assert [f"{name}: {error.message}" for error in errors] == []
    for name, operation in operations(document):
        bodies = [operation.get("requestBody", {}), *operation["responses"].values()]
        for body in bodies:
            content = body.get("content", {}).get("application/json")
            assert content is None or content["examples"], name


def test_conditions_and_keys_are_declared(document: dict[str, Any]) -> None:
    found = dict(operations(document))

    def headers(name: str) -> set[str]:
        given = parameters(document, found[name])
        return {one["name"] for one in given if one["in"] == "header"}

    assert headers("patch /api/v1/assets/{handle}") == {"If-Match"}
    assert headers("get /api/v1/packets/{number}") == {"If-None-Match"}
    assert headers("post /api/v1/packets/{number}/seal") == {"If-Match", "Idempotency-Key"}
    noted = found["post /api/v1/packets"]["responses"]["201"]["headers"]
    assert set(noted) == {"ETag", "Location", "Sealpacket-Replay"}
    assert "503" not in found["get /api/v1/packets"]["responses"]
    assert "409" not in found["get /api/v1/packets"]["responses"]
    retry = document["components"]["responses"]["Problem429"]["headers"]
    assert set(retry) == {"Retry-After"}


def test_what_is_made_is_found_where_it_says(house: RunningHouse) -> None:
    client = house.client("marit")
    headers = authorization(client)
    answer = plain_http.post(
        f"{house.address}/api/v1/packets", json={"title": "The array is slow"}, headers=headers
    )
    assert answer.status_code == 201
    place = answer.headers["Location"]
    assert place == f"/api/v1/packets/{answer.json()['number']}"
    assert plain_http.get(house.address + place, headers=headers).json() == answer.json()


def test_it_is_given_to_anybody_if_the_house_says_so(house: RunningHouse) -> None:
    address = f"{house.address}/openapi.json"
    plain = plain_http.get(address, headers={"Accept-Encoding": "identity"})
    packed = plain_http.get(address, headers={"Accept-Encoding": "gzip"})
    assert packed.headers["Content-Encoding"] == "gzip"
    assert plain.headers["Vary"] == packed.headers["Vary"] == "Accept-Encoding"
    assert int(packed.headers["Content-Length"]) * 5 < int(plain.headers["Content-Length"])
    assert plain.json() == packed.json() == reference(PARTS)
    assert b"\n" not in plain.content
    again = plain_http.get(
        address, headers={"If-None-Match": plain.headers["ETag"], "Accept-Encoding": "identity"}
    )
    assert (again.status_code, again.content) == (304, b"")


GENERATORS = ROOT / ".venv/generator/bin"
DOCUMENT = ROOT / "docs/reference/openapi.json"
PROGRAMS = Path(__file__).parent / "generated"
"""Programs that use generated clients."""


def test_a_generated_python_client_holds(tmp_path: Path) -> None:
    generator = GENERATORS / "openapi-python-client"
    made = ("--meta", "none", "--output-path", tmp_path / "generated")
    _run(tmp_path, generator, "generate", "--path", DOCUMENT, *made)
    shutil.copy(PROGRAMS / "program.py", tmp_path)

    mypy = (sys.executable, "-m", "mypy", "--strict", "--no-incremental")
    known = ("--follow-imports=silent", "--python-executable", GENERATORS / "python")
    _run(tmp_path, *mypy, *known, "program.py")


def test_a_generated_go_client_holds(tmp_path: Path) -> None:
    generator = GENERATORS / "openapi-generator-cli"
    parts = (
        "apis,models,supportingFiles,apiTests=false,modelTests=false,apiDocs=false,modelDocs=false"
    )
    made = ("--output", tmp_path / "generated", "--package-name", "generated")
    options = ("--additional-properties=enumClassPrefix=true,withGoMod=false",)
    _run(
        tmp_path, generator, "generate", "-g", "go", "--input-spec", DOCUMENT, *made, *options,
        "--global-property", parts,
    )  # fmt: skip
    shutil.copy(PROGRAMS / "program.go.txt", tmp_path / "program.go")
    (tmp_path / "go.mod").write_text("module program\n\ngo 1.19\n")

    _run(tmp_path, "go", "build", "-o", os.devnull, ".", GOPROXY="off", GOFLAGS="-mod=mod")


def _run(folder: Path, *command: str | Path, **variables: str) -> None:
    """Run a generator or a compiler; it must be content."""
    done = subprocess.run(
        command, capture_output=True, text=True, cwd=folder, timeout=600, check=False,
        env=os.environ | variables,
    )  # fmt: skip
    assert done.returncode == 0, done.stdout + done.stderr


def test_an_answer_that_is_not_declared_is_noticed() -> None:
    from flask import Flask

    one = next(one for part in PARTS for one in part.operations if one.name == "get_packet")
    app = Flask(__name__)
    with app.app_context():
        answer = app.response_class
        json_type = {"content_type": "application/json"}
        assert contract._faults(one, answer('{"code":"x"}', 404, **json_type)) == []
        assert contract._faults(one, answer('{"code":"x"}', 409, **json_type))
        assert any("ETag" in one for one in contract._faults(one, answer("{}", 200, **json_type)))


def test_an_operation_that_will_go_says_so() -> None:
    from flask import Flask

    class Shown(BaseModel):
        """A thing."""

        name: str = Field(description="Its name.")

    part = Api("things", "Things.")

    @part.get("/thing", summary="Get it", responses={200: Shown}, deprecated_on=date(2026, 11, 30))
    @requires_role(ANYONE)
    def get_thing() -> dict[str, str]:
        """Get a thing."""
        return {"name": "one"}

    app = Flask(__name__)
    app.register_blueprint(part)
    answer = app.test_client().get("/api/v1/thing")
    assert answer.json == {"name": "one"}
    assert answer.headers["Deprecation"] == "@1795996800"
    assert answer.headers["Sunset"] == "Tue, 30 Nov 2027 00:00:00 GMT"
