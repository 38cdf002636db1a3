"""Mails that nobody would write who means well: broken, endless, deep, or of someone who pretends."""

from __future__ import annotations

import base64

_HEAD = b"From: a@b.example\r\nSubject: x\r\nMessage-ID: <1@b.example>\r\n"
_HTML = _HEAD + b"MIME-Version: 1.0\r\nContent-Type: text/html; charset=utf-8\r\n\r\n"


def _with(head: bytes, body: bytes = b"hi") -> bytes:
    return b"From: a@b.example\r\n" + head + b"\r\n\r\n" + body


def _nested(kind: bytes, depth: int) -> bytes:
    if kind == b"message/rfc822":
        return b"Content-Type: message/rfc822\r\n\r\n" * depth + b"Subject: deep\r\n\r\nhi"
    heads = b"".join(
        b'Content-Type: multipart/mixed; boundary="%d"\r\n\r\n--%d\r\n' % (n, n)
        for n in range(depth)
    )
    return b"From: a@b.example\r\n" + heads + b"\r\nhi\r\n"


def _parts(count: int) -> bytes:
    part = b'--b\r\nContent-Disposition: attachment; filename="x"\r\n\r\n\r\n'
    return (
        _HEAD + b'Content-Type: multipart/mixed; boundary="b"\r\n\r\n' + part * count + b"--b--\r\n"
    )


MAILS: dict[str, bytes] = {
    "nothing": b"",
    "zeros": bytes(4000),
    "no head": b"\r\n\r\nhi",
    "only a head": b"From: a@b.example\r\n",
    "Message-ID <": _with(b"Message-ID: <"),
    "Message-ID <a@[": _with(b"Message-ID: <a@["),
    "Message-ID of a megabyte": _with(b"Message-ID: <" + b"x" * 1_000_000 + b">"),
    "From <": b"From: <\r\n\r\nhi",
    'From "': b'From: "\r\n\r\nhi',
    "From a@[": b"From: a@[\r\n\r\nhi",
    "From of brackets": b"From: " + b"(" * 3000 + b"\r\n\r\nhi",
    "From of a megabyte": b"From: " + b"a@b.example, " * 80_000 + b"\r\n\r\nhi",
    "From with bytes": b"From: \xff\xfe\x00@\xc3\x28\r\n\r\nhi",
    "To of a megabyte": _with(b"To: " + b'"a, b" <c@d.example>, ' * 40_000),
    "folded without end": _with(b"Subject: x" + b"\r\n " * 100_000 + b"y"),
    "words of no charset": _with(b"Subject: =?nothing-7?q?=41?="),
    "words that break": _with(b"Subject: =?utf-8?b?" + b"=" * 5000 + b"?="),
    "many encoded words": _with(b"Subject: " + b"=?utf-8?q?=41?= " * 20_000),
    "ten thousand headers": b"".join(b"X-%d: y\r\n" % n for n in range(10_000)) + b"\r\nhi",
    "Date of another world": _with(b"Date: Mon, 99 Foo 99999999999999 99:99:99 +9999"),
    "Date far away": _with(b"Date: Mon, 01 Jan 9999 23:59:59 -2359"),
    "References of a megabyte": _with(b"References: " + b"<a@b> " * 170_000),
    "Content-Type of nothing": _with(b"Content-Type: ;;;=;\"", b"hi"),
    "charset of nothing": _HEAD + b"Content-Type: text/plain; charset=none-such\r\n\r\nhi",
    "charset with a null": _HEAD + b'Content-Type: text/plain; charset="a\x00b"\r\n\r\nhi',
    "text that is no base64": _HEAD + b"Content-Transfer-Encoding: base64\r\n\r\n" + b"\xff=" * 5000,
    "coded in an unknown way": _HEAD + b"Content-Transfer-Encoding: nothing\r\n\r\nhi",
    "text in UTF-7": _HEAD + b"Content-Type: text/plain; charset=utf-7\r\n\r\n+AAA-+2AD-x",
    "boundary of nothing": _HEAD + b'Content-Type: multipart/mixed; boundary=""\r\n\r\n--\r\n\r\nhi',
    "no boundary": _HEAD + b"Content-Type: multipart/mixed\r\n\r\n--b\r\n\r\nhi",
    "a boundary that never ends": _HEAD + b'Content-Type: multipart/mixed; boundary="b"\r\n\r\n--b\r\n\r\nhi',
    "multipart 2,000 deep": _nested(b"multipart/mixed", 2000),
    "multipart 90 deep": _nested(b"multipart/mixed", 90),
    "mails 3,000 deep": b"From: a@b.example\r\n" + _nested(b"message/rfc822", 3000),
    "5,000 parts": _parts(5000),
    "a file without a name": _parts(1),
    "a name of a path": _parts(1).replace(b'"x"', b'"../../etc/passwd"'),
    "a name in pieces": _parts(1).replace(b'filename="x"', b"filename*0*=utf-8''%ff; filename*9=a"),
    "a page of <![": _HTML + b"<![" * 50_000,
    "a page of <": _HTML + b"<" * 2_000_000,
    "a page of <p>": _HTML + b"<p>" * 2_700_000,
    "a page of <!--": _HTML + b"<!--" * 200_000,
    "a page of &#": _HTML + b"&#" * 500_000,
    "a page of quotes": _HTML + b'<a b="' * 100_000,
    "a page of scripts": _HTML + b"<script>" * 100_000,
    "a report about nothing": _HEAD + b"Content-Type: multipart/report; report-type=delivery-status\r\n\r\nhi",
    "a report in a report": _HEAD
    + b'Content-Type: multipart/report; report-type=delivery-status; boundary="b"\r\n\r\n'
    + b"--b\r\nContent-Type: message/delivery-status\r\n\r\nDiagnostic-Code: smtp; " + b"5" * 500_000
    + b"\r\n\r\n--b\r\nContent-Type: message/rfc822\r\n\r\nMessage-ID: <\r\n\r\n--b--\r\n",
    "results without end": _with(b"Authentication-Results: " + b"a; dmarc=pass " * 50_000),
    "results of brackets": _with(b"Authentication-Results: a; " + b"(" * 100_000),
    "text of labels": _HEAD + b"\r\n" + b"A: b\r\n" * 200_000,
    "text on one line": _HEAD + b"\r\n" + b"a" * 8_000_000,
    "text in base64": _HEAD + b"Content-Transfer-Encoding: base64\r\n\r\n" + base64.encodebytes(b"a" * 4_000_000),
    "text with controls": _HEAD + b"\r\n\x1b]0;x\x07\x9b31m\x00\xe2\x80\xae",
}  # fmt: skip
