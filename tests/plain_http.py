"""Plain HTTP for tests: no proxy of the environment, no certificates read, and a minute for each answer."""

from __future__ import annotations

import ssl
from functools import partial
from typing import Any

import httpx

_NO_TLS = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
"""For calls without TLS: reading whom this machine trusts takes longer than most of them."""
_SETTINGS: dict[str, Any] = {"trust_env": False, "verify": _NO_TLS, "timeout": 60}

request = partial(httpx.request, **_SETTINGS)
get = partial(httpx.get, **_SETTINGS)
post = partial(httpx.post, **_SETTINGS)
put = partial(httpx.put, **_SETTINGS)
patch = partial(httpx.patch, **_SETTINGS)
client = partial(httpx.Client, **_SETTINGS)
