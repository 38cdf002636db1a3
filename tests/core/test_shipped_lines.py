"""Lines as they are shipped: in a text of JSON, in an element or an attribute, in a cell, in YAML. What goes plainly goes
there as well, but for very few, and every one of these files can still be read."""

from __future__ import annotations

import csv
import html
import io
import json
from collections.abc import Callable
from pathlib import Path
from xml.etree import ElementTree

import pytest
import yaml

from sealpacket.core.redact import Catalogue, Outcome, Placeholders
from sealpacket.core.redact.engine import Run
from sealpacket.core.redact.readers.text import CellRun, JsonRun, YamlRun
from tests.some import share_of, some_of

CATALOGUE = Catalogue.build(domains=["quillmere.example"])
LINES = [
    (text, values)
    for line in (Path(__file__).parent / "hard_lines.txt").read_text("utf-8").splitlines()
    if not line.startswith("#")
    for text, *values in [line.replace("\\t", "\t").split(" ||| ")]
    if all(sign >= " " or sign == "\t" for sign in text)
]

SHIPPED = [
    "json",
    "json in json",
    "element",
    "attribute",
    "cell",
    "yaml",
    "yaml as it is dumped",
    "yaml in quotes",
]


class MarkupRun(Run):
    """As files that begin like XML are read."""

    markup = True


def in_cell(text: str) -> str:
    row = io.StringIO()
    csv.writer(row, lineterminator="\n").writerow(["2026-11-27", text, "5"])
    return row.getvalue()


def from_cell(row: str) -> str:
    _, text, five = next(csv.reader(io.StringIO(row)))
    assert five == "5"
    return text


def from_json(text: str) -> str:
    read = json.loads(text)
    assert read["n"] == 5
    return str(read["message"])


def from_element(text: str) -> str:
    read = ElementTree.fromstring(text)
    assert read.findtext("n") == "5"
    return read.findtext("m") or ""


def from_attribute(text: str) -> str:
    read = ElementTree.fromstring(text)
    assert read.get("n") == "5"
    return read.get("m") or ""


def from_yaml(text: str) -> str:
    read = yaml.safe_load(text)
    assert read["a"]["n"] == 5
    return str(read["a"]["m"])


@pytest.mark.parametrize(
    ("run", "write", "read", "most"),
    [
        (JsonRun, lambda text: json.dumps({"message": text, "n": 5}) + "\n", from_json, 0.03),
        (JsonRun, lambda text: json.dumps({"n": 5, "message": json.dumps({"m": text})}) + "\n", from_json, 0.03),
        (MarkupRun, lambda text: f"<r>\n <m>{html.escape(text, quote=False)}</m>\n <n>5</n>\n</r>\n", from_element, 0.03),
        (MarkupRun, lambda text: f'<r m="{html.escape(text)}" n="5"/>\n', from_attribute, 0.03),
        (CellRun, in_cell, from_cell, 0.06),
        (YamlRun, lambda text: f"a:\n  m: {text}\n  n: 5\n", from_yaml, 0.06),
        (YamlRun, lambda text: yaml.safe_dump({"a": {"m": text, "n": 5}}, width=10_000, allow_unicode=True), from_yaml, 0.06),
        (YamlRun, lambda text: f'a:\n  m: {json.dumps(text, ensure_ascii=False)}\n  n: 5\n', from_yaml, 0.03),
    ],
    ids=SHIPPED,
)  # fmt: skip
def test_what_goes_plainly_goes_when_it_is_shipped(
    run: type[Run],
    write: Callable[[str], str],
    read: Callable[[str], str],
    most: float,
    request: pytest.FixtureRequest,
) -> None:
    reader = run(CATALOGUE, Placeholders(b"k" * 32), Outcome())
    total, held = 0, []
    for text, values in some_of(LINES, 6, SHIPPED.index(request.node.callspec.id)):
        shipped = write(text)
        try:
            if read(shipped) != text and not read(shipped).startswith('{"m": '):
                continue
        except (yaml.YAMLError, AssertionError, ValueError, TypeError, KeyError):
            continue  # not every line can be written plainly
        copy = read(reader.text(shipped.encode()).decode())
        total += len(values)
        held += [(value, copy) for value in values if value in copy]
    assert total > 300
    assert len(held) <= share_of(total, most), held[:20]


@pytest.mark.parametrize(
    ("text", "gone"),
    [
        ("<r><m>set password ENC kestrel77</m><n>5</n></r>", "kestrel77"),
        ('<r m="set password ENC kestrel77" n="5"/>', "kestrel77"),
        ("<r m='login: odile / kestrel77' n='5'/>", "kestrel77"),
        (
            '<r><m at="snmp-server host 10.9.8.7 version 2c kestrel77" host="br07-pc12"/></r>',
            "br07-pc12",
        ),
    ],
)
def test_nothing_that_is_replaced_goes_over_a_tag_or_a_quote(text: str, gone: str) -> None:
    copy = MarkupRun(CATALOGUE, Placeholders(b"k" * 32), Outcome()).text(text.encode()).decode()
    assert gone not in copy
    before, after = ElementTree.fromstring(text), ElementTree.fromstring(copy)
    assert [(one.tag, sorted(one.attrib)) for one in before.iter()] == [
        (one.tag, sorted(one.attrib)) for one in after.iter()
    ]


def test_names_of_yaml_stay_names() -> None:
    text = 'hosts:\n  vq-db1:\n    address: 10.20.30.40\n  "vq-db2": {up: yes}\n  10.20.30.42: up\n  odile@elsewhere.example: admin\n'
    copy = YamlRun(CATALOGUE, Placeholders(b"k" * 32), Outcome()).text(text.encode()).decode()
    assert [value for value in ("vq-db1", "vq-db2", "10.20.30", "odile@") if value in copy] == []
    hosts = yaml.safe_load(copy)["hosts"]
    assert [type(one) for one in hosts] == [str] * 4
    assert isinstance(hosts[next(iter(hosts))], dict)


def test_brackets_of_json_are_no_secret() -> None:
    text = '{"secrets":[{"name":"db","value":"kestrel77"}],"token":{"kind":"none"}}\n'
    copy = JsonRun(CATALOGUE, Placeholders(b"k" * 32), Outcome()).text(text.encode()).decode()
    assert "kestrel77" not in copy
    assert json.loads(copy)["secrets"][0]["name"] == "db"
