"""Documents of several writers in which nothing is sensitive: nothing is masked, and none is held."""

from __future__ import annotations

import io
from pathlib import Path

import pytest

from sealpacket.core.redact import Catalogue, Outcome, Placeholders, check_file, redact
from sealpacket.core.redact.readers import Work, copy_file

FOLDER = Path(__file__).parent / "documents"
CATALOGUE = Catalogue.build(domains=["quillmere.example"])


@pytest.mark.parametrize("name", sorted(path.name for path in FOLDER.iterdir()))
def test_an_innocent_document_goes_as_it_is(name: str) -> None:
    work, target = Work(CATALOGUE, Placeholders(b"k" * 32)), io.BytesIO()
    with (FOLDER / name).open("rb") as source:
        copy_file(source, target, work, name)
    assert dict(work.outcome.counts) == {}
    assert check_file(target, work.outcome.legend).clean


def masked(text: str) -> str:
    return b"".join(redact([text.encode()], CATALOGUE, Placeholders(b"k" * 32), Outcome())).decode()


@pytest.mark.parametrize(
    "text",
    [
        "<a xmlns=\"http://format.example/a\" xmlns:b = 'https://other.example/b'>",
        '<!DOCTYPE a SYSTEM "http://format.example/dtd/a.dtd">',
        '<!DOCTYPE a PUBLIC "-//X//DTD A//EN" "http://dtd.format.example/a">',
        'x:schemaLocation="http://a.example/a http://b.example/a.xsd  http://c.example/c http://d.example/c.xsd"',
        "http://schemas.microsoft.com/office/word",
    ],
)
def test_what_a_format_is_called_is_no_host(text: str) -> None:
    assert masked(text) == text


@pytest.mark.parametrize(
    "text",
    [
        '<a xmlns="http://files.quillmere.example/a">',
        "http://files.quillmere.example/a.xsd",
        "http://schemas.quillmere.example/a",
        '<a href="http://intra.other.example/b">',
        '<a xmlns="http://format.example/a" at="http://intra.other.example/b">',
    ],
)
def test_our_own_hosts_and_others_are_still_hosts(text: str) -> None:
    assert "[host:" in masked(text)
