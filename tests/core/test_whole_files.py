"""Files as they are sent in, each of a sort: nothing that was put into them is left, and they are what they were."""

from __future__ import annotations

import csv
import io
import json
import plistlib
import re
import tomllib
from collections.abc import Iterable
from email import message_from_bytes
from pathlib import Path
from xml.etree import ElementTree

import pytest
import yaml

from sealpacket.core.redact import Catalogue, Placeholders
from sealpacket.core.redact.readers import Work, copy_file
from tests.some import in_batches

FOLDER = Path(__file__).parent / "whole_files"
VALUES: dict[str, list[str]] = json.loads((FOLDER / "values.json").read_text("utf-8"))["values"]
MARKED = {
    name: body
    for name, _, body in (
        block.partition("\n")
        for block in re.split(
            r"(?m)^=== ", (FOLDER.parent / "marked_files.txt").read_text("utf-8")
        )[1:]
    )
}
"""Short files as programs write them, by name; what must go stands between marks."""
CATALOGUE = Catalogue.build(domains=["quillmere.example"])


def copied(name: str, content: bytes | None = None) -> str:
    target = io.BytesIO()
    work = Work(CATALOGUE, Placeholders(b"k" * 32))
    copy_file(io.BytesIO(content or (FOLDER / name).read_bytes()), target, work, name)
    return target.getvalue().decode()


def left_of(values: Iterable[str], copy: str) -> list[str]:
    return [one for one in values if re.search(rf"(?<!\w){re.escape(one)}(?!\w)", copy)]


@pytest.mark.parametrize("name", VALUES)
def test_nothing_is_left(name: str) -> None:
    copy = copied(name)
    assert left_of(VALUES[name], copy) == [], copy
    if not name.endswith(
        ".eml"
    ):  # its parts are encoded afresh; test_they_can_still_be_read reads it
        assert copy.count("\n") == (FOLDER / name).read_text("utf-8").count("\n")


@pytest.mark.parametrize("names", in_batches(MARKED))
def test_nothing_between_marks_is_left(names: list[str]) -> None:
    left = {}
    for name in names:
        values = set(re.findall("«(.+?)»", MARKED[name]))
        assert values, name
        copy = copied(name, re.sub("[«»]", "", MARKED[name]).encode())
        if found := left_of(values, copy):
            left[name] = (found, copy)
    assert left == {}


def test_they_can_still_be_read() -> None:
    for name in ("tickets.json", "lshw.json", "har.json", "tfstate.json", "inspect.json"):
        json.loads(copied(name))
    for line in (copied("journal.json") + copied("mongo.log")).splitlines():
        json.loads(line)
    for name in ("compose.yml", "k8s.yaml"):
        assert list(yaml.safe_load_all(copied(name)))
    for name in ("event.xml", "ncip.xml", "unattend.xml", "web.config"):
        assert (
            ElementTree.fromstring(copied(name)).tag
            == ElementTree.parse(FOLDER / name).getroot().tag
        )
    assert tomllib.loads(copied("conf.toml"))["nodes"][0]["hostname"]
    assert plistlib.loads(copied("prefs.plist").encode())["HostName"]
    assert {len(row) for row in csv.reader(io.StringIO(copied("patrons.csv")))} == {12}
    assert message_from_bytes(copied("mail.eml").encode())["Subject"] == "Gate at Alder Street"


@pytest.mark.parametrize(
    ("name", "kept"),
    [
        ("event.xml", ["4625", "0xc000006d", "TargetUserName"]), ("ipconfig.txt", ["27 November 2026 07:01:12"]),
        ("switch.cfg", ["255.255.255.0", "interface Gi0/1", "privilege 15"]), ("lshw.json", ["X4-77", "e1000", "eth0"]),
        ("patrons.csv", ["Borrower No", "Category", "AD"]), ("sip.log", ["080009", "AOQM", "941"]),
        ("dump.sql", ["INSERT INTO patrons", "`password`"]), ("strace.txt", ["htons(5432)", "openat(AT_FDCWD"]),
    ],
)  # fmt: skip
def test_what_the_vendor_reads_stays(name: str, kept: list[str]) -> None:
    copy = copied(name)
    assert [one for one in kept if one not in copy] == []
