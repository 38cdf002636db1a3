"""Write what is generated: the OpenAPI reference, the desk sheets' schema, two reference pages, the client's models.

The console's types are made from the same OpenAPI document by `npm run types`.
"""

import json
import re
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

import life_reference
import sheet_reference
from pydantic import BaseModel

from sealpacket.app.context import AppContext
from sealpacket.core.context import ProgramContext
from sealpacket.core.evidence.kits import Kit
from sealpacket.core.evidence.summary.known import KnownIssue
from sealpacket.core.sheets import sheet_schema
from sealpacket.core.sheets.facts import ALSO, FACTS, FILE, MESSAGE
from sealpacket.core.sheets.forms import FORMS
from sealpacket.settings import Settings
from sealpacket.web import reference

ROOT = Path(__file__).parent.parent
REFERENCE = ROOT / "docs/reference"
MODELS = ROOT / "src/sealpacket/client/models.py"
OPENAPI = ROOT / "src/sealpacket/web/openapi.json"
PUBLISHED: dict[str, type[BaseModel]] = {
    "kit": Kit,
    "known-issue": KnownIssue,
    "program-context": ProgramContext,
}
"""Formats of ours beside the desk sheet."""
LANGUAGE = ROOT / "console/src/sheets/language.json"


def openapi() -> str:
    """The OpenAPI document of the service. Raises RuntimeError if the API was loaded before, without its schemas."""
    if "sealpacket.web.api" in sys.modules and not reference.collect:
        raise RuntimeError("run tools/generate.py in a process of its own")
    reference.collect = True
    from sealpacket.web.app import make_app

    with tempfile.TemporaryDirectory() as folder:
        key = Path(folder, "key")
        key.write_text("A" * 43 + "=")
        settings = Settings(
            database_url="postgresql+psycopg://nobody@127.0.0.1:1/none",
            key_file=key,
            seal_key_file=key,
            blobs=folder,
        )
        document = reference.reference(make_app(AppContext(settings, lambda *_args, **_more: None)))
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def schema() -> str:
    """The published JSON Schema of desk sheets."""
    return json.dumps(sheet_schema(), indent=1, ensure_ascii=False) + "\n"


def language() -> str:
    """What the console's editor of sheets completes and explains: the schema, the facts, the parts of answers."""
    facts = {**FACTS, **ALSO, **MESSAGE, **FILE}
    parts = {name: sorted(form.parts) for name, form in FORMS.items()}
    return (
        json.dumps({"schema": sheet_schema(), "facts": facts, "parts": parts}, ensure_ascii=False)
        + "\n"
    )


def answers_only(document: dict[str, Any]) -> dict[str, Any]:
    """Only the schemas that answers use, without the limits that are the server's to keep."""
    schemas = document["components"]["schemas"]
    answers = [
        operation["responses"] for path in document["paths"].values() for operation in path.values()
    ]
    wanted: set[str] = set()
    queue = set(re.findall(r"#/components/schemas/([A-Za-z0-9_]+)", json.dumps(answers)))
    while queue:
        name = queue.pop()
        wanted.add(name)
        queue |= (
            set(re.findall(r"#/components/schemas/([A-Za-z0-9_]+)", json.dumps(schemas[name])))
            - wanted
        )

    def plain(node: Any, *, names: bool = False) -> Any:
        if isinstance(node, list):
            return [plain(item) for item in node]
        if not isinstance(node, dict):
            return node
        return {
            key: plain(value, names=key == "properties")
            for key, value in node.items()
            if names or (key not in _LIMITS and value is not False)
        }

    body = {"schemas": {name: plain(schemas[name]) for name in sorted(wanted)}}
    return {"openapi": "3.1.0", "info": document["info"], "paths": {}, "components": body}


_LIMITS = ("title", "pattern", "minLength", "maxLength", "minimum", "maximum")


def models() -> str:
    """The client library's models."""
    with tempfile.TemporaryDirectory() as folder:
        out, source = Path(folder, "models.py"), Path(folder, "answers.json")
        source.write_text(json.dumps(answers_only(json.loads(OPENAPI.read_text()))))
        program = [str(Path(sys.executable).with_name("datamodel-codegen"))]
        subprocess.run(
            [
                *program,
                "--input",
                str(source),
                "--input-file-type",
                "openapi",
                "--base-class",
                "sealpacket.client.base.FromService",
                "--output",
                str(out),
                "--output-model-type",
                "pydantic_v2.BaseModel",
                "--target-python-version",
                "3.11",
                "--use-standard-collections",
                "--use-union-operator",
                "--use-annotated",
                "--enum-field-as-literal",
                "all",
                "--disable-timestamp",
                "--use-schema-description",
                "--collapse-root-models",
                "--custom-file-header",
                '"""Models of the API, generated by tools/generate.py; do not edit."""',
            ],
            check=True,
            capture_output=True,
        )
        return out.read_text()


def main() -> None:
    """Write all of it; with --openapi only print the OpenAPI document."""
    REFERENCE.mkdir(parents=True, exist_ok=True)
    if sys.argv[1:] == ["--openapi"]:
        print(openapi(), end="")
        return
    OPENAPI.write_text(openapi())
    (REFERENCE / "desk-sheet.schema.json").write_text(schema())
    for name, kind in PUBLISHED.items():
        body = {
            "$schema": "https://json-schema.org/draft/2020-12/schema",
            **kind.model_json_schema(),
        }
        text = json.dumps(body, indent=1, ensure_ascii=False)
        (REFERENCE / f"{name}.schema.json").write_text(f"{text}\n")
    (REFERENCE / "desk-sheet.md").write_text(sheet_reference.page())
    (REFERENCE / "packet-life.md").write_text(life_reference.page())
    LANGUAGE.write_text(language())
    MODELS.write_text(models())


if __name__ == "__main__":
    main()
