"""The OpenAPI document: made by `make generate` from what the operations declare, shipped as a file, and served."""

from __future__ import annotations

import gzip
import inspect
import json
import re
import tomllib
from collections.abc import Iterator
from functools import cache
from importlib import resources
from typing import Any

from flask import Response, request
from pydantic import BaseModel
from pydantic.json_schema import GenerateJsonSchema, JsonSchemaMode, models_json_schema

from sealpacket import __version__
from sealpacket.app.idempotency import LONGEST_KEY
from sealpacket.web.guard import ANY_ROLE, ANYONE
from sealpacket.web.idempotency import HEADER, REPLAY
from sealpacket.web.operations import Api, Content, Operation
from sealpacket.web.problems import Problem

_DESCRIPTION = """The API of Seal Packet: the register of what support was bought, and packets to vendors.

Sign in for a token with `POST /api/v1/tokens` and send it as `Authorization: Bearer …`. Every error is a problem
document (RFC 9457) with a stable `code` and a `remedy`. What people edit has an ETag: send it back as If-Match.
What must not happen twice takes an Idempotency-Key.

Whatever an operation lists, any of them may also answer 400 (not HTTP as we understand it), 405 (no such method at this
address), 408 (a body that does not arrive), 414 and 431 (an address or a header that is too long), 500, and 503 with
Retry-After (the database or the disk is away): the `default` answer, a problem document like every other."""

_ERRORS = {
    401: "Not signed in, the sign-in has ended, or name and password do not match.",
    403: "The account's roles do not include this, or the token may only read.",
    404: "There is no such record.",
    408: "The upload did not arrive in time.",
    409: "It does not fit the present state; `remedy` says what to do.",
    411: "The upload has no Content-Length.",
    412: "The record has changed since the version in If-Match.",
    413: "The body is larger than allowed here.",
    415: "The body is not JSON.",
    422: "A path, query or body value is invalid; `field` names the first, `faults` all.",
    428: "If-Match is missing.",
    429: "Too many tries; Retry-After says when to come back.",
    503: "A part that this needs is away; nothing was changed. Retry-After says when to come back.",
    507: "The disk for exhibits is full; nothing was kept.",
}
_REFS = "#/components/schemas/{model}"


@cache
def served() -> bytes:
    """The document as shipped, compact."""
    shipped = (resources.files("sealpacket.web") / "openapi.json").read_bytes()
    return json.dumps(json.loads(shipped), ensure_ascii=False, separators=(",", ":")).encode()


@cache
def compressed() -> bytes:
    """The document as shipped, by gzip."""
    return gzip.compress(served(), mtime=0)


def answer_reference() -> Response:
    """Answer with the document: compressed for who takes that, with an ETag."""
    packed = request.accept_encodings["gzip"] > 0
    response = Response(compressed() if packed else served(), mimetype="application/json")
    response.headers["Vary"] = "Accept-Encoding"
    if packed:
        response.headers["Content-Encoding"] = "gzip"
    response.headers["Cache-Control"] = "private, no-cache"
    response.add_etag()
    response.make_conditional(request)
    return response


def reference(parts: tuple[Api, ...]) -> dict[str, Any]:
    """The OpenAPI document of these parts of the API; each operation with its roles (`x-needs`)."""
    operations = [operation for part in parts for operation in part.operations]
    schemas = _Schemas(operations)
    paths: dict[str, dict[str, Any]] = {}
    for operation in operations:
        address = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", operation.path)
        paths.setdefault(address, {})[operation.method.lower()] = _operation(operation, schemas)
    return {
        "openapi": "3.1.0",
        "info": {"title": "Seal Packet", "version": __version__, "description": _DESCRIPTION},
        "servers": [{"url": "/", "description": "The house that serves this document."}],
        "tags": [{"name": part.name, "description": part.words} for part in parts],
        "paths": paths,
        "components": {
            "schemas": schemas.components(),
            "examples": schemas.examples(),
            "securitySchemes": {"token": {"type": "http", "scheme": "bearer"}},
            "parameters": _PARAMETERS,
            "headers": _HEADERS,
            "responses": {
                **{f"Problem{status}": _problem(status) for status in sorted(_ERRORS)},
                "ProblemAny": _problem_answer("Any other problem, such as 503: see above."),
            },
        },
    }


def _header(
    name: str, description: str, schema: dict[str, Any], *, required: bool = False
) -> dict[str, Any]:
    return {
        "name": name,
        "in": "header",
        "required": required,
        "schema": schema,
        "description": description,
    }


_VERSION = "The ETag that the caller has read; `*` fits any version. "
_PARAMETERS: dict[str, Any] = {
    "IdempotencyKey": _header(
        HEADER,
        "A repeated request with the same key is not done again; it gets the same answer for a day.",
        {"type": "string", "maxLength": LONGEST_KEY, "examples": ["alert-77120"]},
    ),
    "IfMatch": _header(
        "If-Match",
        f"{_VERSION}The act is refused with 412 if the packet has changed since.",
        {"type": "string", "examples": ['"7-0c4f1e9a77d2"']},
    ),
    "IfMatchNeeded": _header(
        "If-Match",
        f"{_VERSION}The change is refused with 412 if the record has changed since.",
        {"type": "string", "examples": ['"7-0c4f1e9a77d2"']},
        required=True,
    ),
    "IfNoneMatch": _header(
        "If-None-Match",
        "The ETag that the caller has; if it still fits, the answer is 304 without a body.",
        {"type": "string", "examples": ['"7-0c4f1e9a77d2"']},
    ),
}
_HEADERS: dict[str, Any] = {
    "ETag": {
        "description": "Version and hash of the answer; send it back as If-Match or If-None-Match.",
        "schema": {"type": "string", "examples": ['"7-0c4f1e9a77d2"']},
    },
    "Location": {
        "description": "The address of what was made.",
        "schema": {"type": "string", "examples": ["/api/v1/packets/P-0142"]},
    },
    "RetryAfter": {
        "description": "Seconds after which it makes sense to come back.",
        "schema": {"type": "integer", "examples": [2]},
    },
    "Replay": {
        "description": "`true` if the key was used before, and this is the answer of that time.",
        "schema": {"type": "string", "enum": ["true"]},
    },
    "Disposition": {
        "description": "The name of the file.",
        "schema": {"type": "string", "examples": ["attachment; filename*=UTF-8''array.log"]},
    },
}
_COMES_BACK = (429, 503)


def _problem(status: int) -> dict[str, Any]:
    made = _problem_answer(_ERRORS[status])
    if status in _COMES_BACK:
        made["headers"] = {"Retry-After": _at("headers", "RetryAfter")}
    return made


def _problem_answer(description: str) -> dict[str, Any]:
    return {
        "description": description,
        "content": {"application/problem+json": {"schema": _at("schemas", "Problem")}},
    }


def _at(kind: str, name: str) -> dict[str, str]:
    return {"$ref": f"#/components/{kind}/{name}"}


def _operation(operation: Operation, schemas: _Schemas) -> dict[str, Any]:
    parameters = [*schemas.parameters(operation, "path"), *schemas.parameters(operation, "query")]
    if operation.is_once:
        parameters.append(_at("parameters", "IdempotencyKey"))
    if operation.takes_version:
        name = "IfMatchNeeded" if operation.version_needed else "IfMatch"
        parameters.append(_at("parameters", name))
    if operation.etag and operation.method == "GET":
        parameters.append(_at("parameters", "IfNoneMatch"))
    made: dict[str, Any] = {
        "tags": [operation.tag],
        "summary": operation.summary,
        "operationId": operation.name,
        "description": _description(operation),
        "x-needs": list(operation.roles),
        "x-token-right": operation.right,
        "security": [] if operation.roles == (ANYONE,) else [{"token": []}],
    }
    if operation.deprecated_on:
        made["deprecated"] = True
    if parameters:
        made["parameters"] = parameters
    if "body" in operation.inputs:
        made["requestBody"] = {
            "required": True,
            "content": {
                "application/json": schemas.content(operation.inputs["body"], "validation")
            },
        }
    elif operation.takes:
        made["requestBody"] = {
            "required": True,
            "description": "The file as it is.",
            "content": {operation.takes: {"schema": {"format": "binary"}}},
        }
    made["responses"] = {
        str(operation.status): _answer(operation, schemas),
        **_not_modified(operation),
        **{str(one): _at("responses", f"Problem{one}") for one in sorted(operation.statuses)},
        "default": _at("responses", "ProblemAny"),
    }
    return made


def _file(kind: str) -> dict[str, str]:
    is_text = kind.startswith("text/") or kind.endswith("ndjson")
    return {"type": "string"} if is_text else {"type": "string", "format": "binary"}


def _not_modified(operation: Operation) -> dict[str, Any]:
    if not operation.etag or operation.method != "GET":
        return {}
    return {"304": {"description": "The caller has this version already (If-None-Match)."}}


def _answer(operation: Operation, schemas: _Schemas) -> dict[str, Any]:
    headers = {}
    if operation.etag:
        headers["ETag"] = _at("headers", "ETag")
    if operation.location:
        headers["Location"] = _at("headers", "Location")
    if operation.is_once:
        headers[REPLAY] = _at("headers", "Replay")
    if isinstance(operation.gives, Content):
        headers["Content-Disposition"] = _at("headers", "Disposition")
        content = {kind: {"schema": _file(kind)} for kind in operation.gives.types}
        made: dict[str, Any] = {"description": "The file.", "content": content}
    else:
        words = inspect.cleandoc(operation.gives.__doc__ or operation.summary).split("\n\n")[0]
        content = {"application/json": schemas.content(operation.gives, "serialization")}
        made = {"description": words, "content": content}
    if headers:
        made["headers"] = headers
    return made


def _description(operation: Operation) -> str:
    """The docstrings of the services' functions, and who may call it."""
    said = [inspect.getdoc(one) for one in (operation.view, *operation.does)]
    if operation.roles == (ANYONE,):
        who = "Anyone may call this."
    elif operation.roles == (ANY_ROLE,):
        who = "Needs a sign-in with any role."
    else:
        who = f"Needs the role {' or '.join(operation.roles)}."
    return "\n\n".join([*filter(None, said), who])


class _Generator(GenerateJsonSchema):
    """Schemas of pydantic, but an answer has all its fields."""

    def field_is_required(self, field: Any, total: bool) -> bool:
        return self.mode == "serialization" or super().field_is_required(field, total)


class _Words:
    """The words of words.toml, for properties and parameters whose models have none."""

    def __init__(self) -> None:
        read = tomllib.loads((resources.files("sealpacket.web") / "words.toml").read_text("utf-8"))
        self._properties, self._of = read["properties"], read["of"]
        self._parameters, self._examples = read["parameters"], read["examples"]
        self.enumerations: dict[str, str] = read["enumerations"]

    def of_property(self, schema: str, name: str) -> str:
        """The description of a property. Raises KeyError if there is none."""
        found: str = self._of.get(f"{schema}.{name}") or self._properties[name]
        return found

    def of_parameter(self, operation: str, name: str, described: str) -> str:
        """The description of a parameter."""
        for known in (f"{operation}.{name}", name):
            if known in self._parameters:
                return str(self._parameters[known])
        return described

    def example(self, schema: str, name: str) -> Any:
        """An example of a property; None if there is none."""
        return self._examples.get(f"{schema}.{name}", self._examples.get(name))


class _Schemas:
    """The schemas of all models of some operations; those of requests and of answers apart where they differ."""

    def __init__(self, operations: list[Operation]) -> None:
        wanted: list[tuple[type[BaseModel], JsonSchemaMode]] = [(Problem, "validation")]
        for operation in operations:
            wanted += [(model, "validation") for model in operation.inputs.values()]
            if not isinstance(operation.gives, Content):
                wanted.append((operation.gives, "serialization"))
        self._refs, made = models_json_schema(
            list(dict.fromkeys(wanted)), ref_template=_REFS, schema_generator=_Generator
        )
        self._words = _Words()
        self._all = {_name(name): _tidy(schema) for name, schema in made["$defs"].items()}
        self._name_enumerations()
        for name, schema in self._all.items():
            for field, one in schema.get("properties", {}).items():
                if "description" not in one:
                    one["description"] = self._words.of_property(name, field)
        self._used: set[str] = set()
        self._examples: dict[str, Any] = {}

    def _name_enumerations(self) -> None:
        """Have one schema for each enumeration, wherever it occurs. Raises ValueError for one without a name."""
        names: dict[tuple[Any, ...], str] = {}
        for name, place in self._words.enumerations.items():
            schema, _, field = place.partition(".")
            (values,) = {
                tuple(one["enum"]) for one in _enums(self._all[schema]["properties"][field])
            }
            names[values] = name
        for owner, schema in self._all.items():
            for one in () if "enum" in schema else _enums(schema):
                values = tuple(one.pop("enum"))
                if values not in names:
                    raise ValueError(
                        f"the enumeration {values} in {owner} needs a name in words.toml"
                    )
                one.pop("type")
                one["$ref"] = _REFS.format(model=names[values])
        for values, name in names.items():
            self._all[name] = {"type": "string", "enum": list(values)}

    def parameters(self, operation: Operation, place: str) -> Iterator[dict[str, Any]]:
        """The parameters of an operation in its path or query."""
        model = operation.inputs.get(place)
        if model is None:
            return
        schema = self._all[self._model_name(model, "validation")]
        for name, one in schema["properties"].items():
            plain = _without_null({key: it for key, it in one.items() if key != "description"})
            self._use(plain)
            said = self._words.of_parameter(operation.name, name, one["description"])
            yield {
                "name": name,
                "in": place,
                "required": name in schema.get("required", ()),
                "description": said,
                "schema": plain,
            }

    def content(self, model: type[BaseModel], mode: JsonSchemaMode) -> dict[str, Any]:
        """A body of JSON, with an example."""
        name = self._model_name(model, mode)
        schema = _at("schemas", name)
        self._use(schema)
        self._examples[name] = self._example(schema, ())
        return {"schema": schema, "examples": {"one": _at("examples", name)}}

    def components(self) -> dict[str, Any]:
        """All schemas that are used."""
        self._use(_at("schemas", "Problem"))
        return {name: self._all[name] for name in sorted(self._used)}

    def examples(self) -> dict[str, Any]:
        """An example of each body."""
        return {name: {"value": self._examples[name]} for name in sorted(self._examples)}

    def _model_name(self, model: type[BaseModel], mode: JsonSchemaMode) -> str:
        return _name(self._refs[model, mode]["$ref"].rpartition("/")[2])

    def _use(self, schema: Any) -> None:
        for name in _names_in(schema):
            if name not in self._used:
                self._used.add(name)
                self._use(self._all[name])

    def _example(self, schema: dict[str, Any], within: tuple[str, ...]) -> Any:
        """A value that fits a schema, made of the examples of its properties; _NOTHING where it would go round."""
        if "$ref" in schema:
            name = schema["$ref"].rpartition("/")[2]
            return _NOTHING if name in within else self._example(self._all[name], (*within, name))
        if "examples" in schema:
            return schema["examples"][0]
        if "const" in schema or "enum" in schema:
            return schema["const"] if "const" in schema else schema["enum"][0]
        for one in schema.get("anyOf", schema.get("oneOf", ())):
            value = self._example(one, within)
            if value is not _NOTHING:
                return value
        if "properties" in schema:
            return self._example_object(schema, within)
        if schema.get("type") == "array":
            if "prefixItems" in schema:
                return [self._example(one, within) for one in schema["prefixItems"]]
            item = self._example(schema.get("items", {}), within)
            return [] if item is _NOTHING else [item] * max(1, schema.get("minItems", 0))
        if schema.get("type") == "object":
            return {}
        plain = _PLAIN.get(schema.get("format", ""), _PLAIN.get(schema.get("type", ""), _NOTHING))
        return max(plain, schema.get("minimum", plain)) if isinstance(plain, int) else plain

    def _example_object(self, schema: dict[str, Any], within: tuple[str, ...]) -> dict[str, Any]:
        made = {}
        for name, one in schema["properties"].items():
            value = self._words.example(within[-1] if within else "", name)
            if not _takes(one, value):
                value = self._example(one, within)
            if value is _NOTHING and name in schema.get("required", ()):
                value = [] if one.get("type") == "array" else None
            if value is not _NOTHING:
                made[name] = value
        return made


_NOTHING = object()
_PLAIN: dict[str, Any] = {
    "date": "2026-11-30",
    "date-time": "2026-11-30T08:40:00+00:00",
    "binary": "",
    "base64": "bG9n",
    "string": "text",
    "integer": 1,
    "number": 0.5,
    "boolean": True,
    "null": None,
}


def _takes(schema: dict[str, Any], value: Any) -> bool:
    """Whether an example is of one of the types that a property may have, and of its form."""
    for one in schema.get("anyOf", [schema]):
        if "enum" in one or "$ref" in one or value is None:
            continue
        if isinstance(value, int) and one.get("type") == "integer":
            return True
        if isinstance(value, str) and one.get("type") == "string":
            form = _FORMS.get(one.get("format", ""), one.get("pattern", ""))
            return re.search(form, value) is not None
    return False


_FORMS = {"date": r"^[\d-]{10}$", "date-time": r"^[\d-]{10}T", "base64": r"^$"}


def _name(definition: str) -> str:
    """The name of a schema: requests that differ from answers say so."""
    return definition.replace("-Output", "").replace("-Input", "Input")


def _tidy(schema: Any, *, of_names: bool = False) -> Any:
    """A schema of pydantic's without titles and defaults; generators take what has a default for always there.

    A default that says something is said in the description.
    """
    if isinstance(schema, list):
        return [_tidy(one) for one in schema]
    if not isinstance(schema, dict):
        return _renamed(schema) if isinstance(schema, str) else schema
    if of_names:
        return {name: _tidy(one) for name, one in schema.items()}
    made = {
        key: _tidy(value, of_names=key in ("properties", "$defs"))
        for key, value in schema.items()
        if key not in ("title", "default")
    }
    default = schema.get("default")
    if default and "description" in made and isinstance(default, str | int):
        made["description"] += f" Default: {default}."
    return made


def _renamed(text: str) -> str:
    return _name(text) if text.startswith("#/components/schemas/") else text


def _without_null(schema: dict[str, Any]) -> dict[str, Any]:
    """The schema of a parameter, which cannot be null: it is left out."""
    kinds = [one for one in schema.get("anyOf", ()) if one != {"type": "null"}]
    if len(kinds) != 1 or len(kinds) == len(schema.get("anyOf", ())):
        return schema
    return {**{key: value for key, value in schema.items() if key != "anyOf"}, **kinds[0]}


def _enums(schema: Any) -> Iterator[dict[str, Any]]:
    """The enumerations within a schema."""
    if isinstance(schema, list):
        for one in schema:
            yield from _enums(one)
    if isinstance(schema, dict):
        if isinstance(schema.get("enum"), list) and "type" in schema:
            yield schema
        for one in list(schema.values()):
            yield from _enums(one)


def _names_in(schema: Any) -> Iterator[str]:
    """The names of the schemas to which a schema refers."""
    if isinstance(schema, list):
        for one in schema:
            yield from _names_in(one)
    if isinstance(schema, dict):
        if isinstance(schema.get("$ref"), str):
            yield schema["$ref"].rpartition("/")[2]
        for one in schema.values():
            yield from _names_in(one)
