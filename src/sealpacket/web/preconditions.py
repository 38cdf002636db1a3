"""If-Match and ETag: which version of a record its caller has read (RFC 9110, 8.8.3 and 13.1)."""

from __future__ import annotations

import hashlib
import re
from typing import NoReturn

from flask import Response, abort, request

from sealpacket.core.errors import Invalid, Stale
from sealpacket.web.problems import problem

_ETAG = re.compile(r'"(\d{1,9})(?:-[0-9a-f]{12})?"')


def seen_version() -> int | None:
    """The version that the caller has read, from If-Match; None, if it names none.

    Raises Invalid for what is not one of our ETags, Stale for a weak one, which never matches.
    """
    header = request.headers.get("If-Match", "").strip()
    if header in ("", "*"):
        return None
    if header.startswith("W/"):
        raise Stale(
            "If-Match has a weak ETag, which matches nothing.",
            "Send the ETag as it came, without W/.",
        )
    match = _ETAG.fullmatch(header)
    if match is None:
        raise Invalid(
            "If-Match is not an ETag of ours.", "Send the ETag unchanged.", code="bad-etag"
        )
    return int(match[1])


def need_if_match() -> None:
    """Abort with 428 if the request has no If-Match; `*` means any version."""
    if not request.headers.get("If-Match", "").strip():
        _abort_without_version()


def read_version() -> int:
    """The version from If-Match. Raises Invalid if it is malformed; aborts with 428 if it names none."""
    version = seen_version()
    if version is None:
        _abort_without_version()
    return version


def _abort_without_version() -> NoReturn:
    abort(
        problem(
            428,
            "version-missing",
            "Say which version you changed",
            "The change came without If-Match.",
            "Read the record first and send its ETag as If-Match.",
        )
    )


def with_version(response: Response, version: int) -> Response:
    """The answer with its ETag: the version and a hash of the body. A GET that has it already gets 304 without body."""
    digest = hashlib.sha256(response.get_data()).hexdigest()[:12]
    response.set_etag(f"{version}-{digest}")
    if request.method in ("GET", "HEAD"):
        response.make_conditional(request)
    return response
