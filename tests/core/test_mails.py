"""Reading mails: who they are from, what nobody wrote, what a trusted server found, and what nothing can be read of."""

from __future__ import annotations

import resource
import subprocess
import sys
from typing import Any

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.mails import address_of, is_authentic, mail_files, read_mail
from tests.core.hostile_mails import MAILS


def read(head: str, body: str = "hi") -> dict[str, Any]:
    """What is read of a mail with these headers."""
    found: dict[str, Any] = read_mail(f"{head}\r\n\r\n{body}".encode())["mail"]
    return found


@pytest.mark.parametrize("name", MAILS)
def test_whatever_comes_is_read_or_refused(name: str) -> None:
    try:
        tree = read_mail(MAILS[name])
    except Invalid as refused:
        assert refused.code == "no-mail"
    else:
        assert len(tree["text"]) < 1_000_000
        assert tree["mail"]["id"]
    mail_files(MAILS[name])


def test_all_of_them_together_take_little() -> None:
    """With 200 MB more than the code itself, and a minute of processor time, as limits that the system keeps."""
    program = (
        "import resource\n"
        "from tests.core.hostile_mails import MAILS\n"
        "from sealpacket.core.sheets.mails import read_mail\n"
        "from sealpacket.core.errors import Invalid\n"
        "has = int(open('/proc/self/statm').read().split()[0]) * resource.getpagesize()\n"
        "resource.setrlimit(resource.RLIMIT_AS, (has + 200_000_000, has + 200_000_000))\n"
        "for name, data in MAILS.items():\n"
        "    try:\n        read_mail(data)\n"
        "    except Invalid as refused:\n        assert not isinstance(refused.__cause__, MemoryError), name\n"
        "print('read')\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", program],
        capture_output=True,
        text=True,
        check=False,
        preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_CPU, (60, 60)),
    )
    assert done.stdout.strip() == "read", done.stderr[-2000:]


@given(st.binary(max_size=3000))
@example(b"From: a\xff <b@c>\n\nx")
def test_no_bytes_break_it(data: bytes) -> None:
    for begin in (b"", b"From: ", b"Content-Type: multipart/mixed; boundary=b\n\n--b\n"):
        try:
            read_mail(begin + data)
        except Invalid as refused:
            assert refused.remedy


@pytest.mark.parametrize(
    ("head", "address"),
    [
        ("From: care@desk.example", "care@desk.example"),
        ("From: Care Desk <Care@Desk.example>", "care@desk.example"),
        ('From: "Desk, Care" <care@desk.example>', "care@desk.example"),
        ("From: =?utf-8?q?M=C3=A4r?= <m@desk.example>", "m@desk.example"),
        ("From: care@desk.example <x@evil.example>", "x@evil.example"),
        ('From: "care@desk.example" <x@evil.example>', "x@evil.example"),
        ("From: =?utf-8?q?care=40desk.example=3E?= <x@evil.example>", "x@evil.example"),
        ("From: <care@desk.example> <x@evil.example>", ""),
        ("From: care@desk.example, x@evil.example", ""),
        ("From: x@evil.example\r\nFrom: care@desk.example", ""),
        ("From: care@desk.example (x@evil.example)", ""),
        ("From: care desk", ""),
        ("Sender: care@desk.example", ""),
    ],
)
def test_a_mail_is_from_the_one_address_that_it_surely_says(head: str, address: str) -> None:
    assert address_of(read(head)["from"]) == address


@pytest.mark.parametrize(
    ("head", "kind"),
    [
        ("Subject: x", ""),
        ("Auto-Submitted: no", ""),
        ("Auto-Submitted: auto-generated", ""),
        ("Auto-Submitted: auto-replied; owner=a@b.example", "reply"),
        ("X-Autoreply: yes", "reply"),
        ("Precedence: auto_reply", "reply"),
        ("Precedence: bulk", "many"),
        ("Precedence: junk", "many"),
        ("List-Id: <a.b.example>", "many"),
    ],
)
def test_what_no_person_wrote_is_told(head: str, kind: str) -> None:
    assert read(head)["automatic"] == kind


@pytest.mark.parametrize(
    ("results", "good"),
    [
        ("mx.quillmere.example; dmarc=pass header.from=desk.example", True),
        ("mx.quillmere.example; spf=pass smtp.mailfrom=care@desk.example", True),
        ("mx.quillmere.example 1; dkim=pass (2048 bits) header.d=desk.example", True),
        ("mx.quillmere.example; dkim=pass header.d=@desk.example", True),
        ("mx.quillmere.example; dmarc=fail; dkim=pass header.d=@desk.example", False),
        ("mx.quillmere.example; spf=pass smtp.mailfrom=x@evil.example", False),
        ("mx.quillmere.example; spf=fail smtp.mailfrom=care@desk.example", False),
        ("mx.quillmere.example; none", False),
        ("mx.evil.example; dmarc=pass", False),
        ("mx.evil.example; dmarc=pass\r\nAuthentication-Results: mx.quillmere.example; dmarc=pass", True),
        ("mx.quillmere.example; dmarc=fail\r\nAuthentication-Results: mx.quillmere.example; dmarc=pass", False),
        ("(mx.quillmere.example; dmarc=pass) x.example; dmarc=pass", False),
    ],
)  # fmt: skip
def test_what_the_trusted_server_found_counts(results: str, good: bool) -> None:
    mail = read(f"Authentication-Results: {results}\r\nFrom: care@desk.example")
    assert is_authentic(mail, "mx.quillmere.example") is good
