"""Rules: what sensitive values look like and what tells of them, as data in families/*.toml.

`REGISTRY` has a detector for each form of each rule; `WHEN_ASKED` those that a plan has to ask for, by their kind. The
models of rules are in `rule`, trying them in `trial`.
"""

from __future__ import annotations

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules.detector import LEAVE, Detector, as_it_is
from sealpacket.core.redact.rules.loading import loaded
from sealpacket.core.redact.rules.ordinary import ORDINARY, is_ordinary
from sealpacket.core.redact.rules.parts import in_long_run, parts_of, without_groups
from sealpacket.core.redact.rules.predicates.network import OF_FORMATS, same_host, same_mac
from sealpacket.core.redact.rules.predicates.people import NO_PART_OF_A_NAME
from sealpacket.core.redact.rules.vocabulary import piece

_WHEN_ASKED = "subjects"
"""The family whose kinds are kept unless a plan says otherwise."""
_PUBLIC_HOST = "leave-host-of-a-public-page"
"""The rule that a plan may switch off."""
_ALL = loaded()

REGISTRY: tuple[Detector, ...] = tuple(one.detector for one in _ALL if one.family != _WHEN_ASKED)
WHEN_ASKED: tuple[Detector, ...] = tuple(one.detector for one in _ALL if one.family == _WHEN_ASKED)
PUBLIC_HOSTS: tuple[Detector, ...] = tuple(one.detector for one in _ALL if one.rule == _PUBLIC_HOST)
"""Those of REGISTRY that leave the hosts of pages that anyone can open."""


PUBLIC_HOST = native.Pattern(piece("public-host"))
"""Hosts that are public by their names alone."""


def canonical_forms(kind: str, value: str) -> set[str]:
    """What the rules of a kind take a value for: under these, all its spellings are one."""
    forms: set[str] = set()
    for detector in REGISTRY:
        if detector.kind == kind:
            try:
                forms.add(detector.canonical(value.encode()).decode("utf-8", "replace"))
            except ValueError:
                continue
    return forms


__all__ = [
    "LEAVE",
    "NO_PART_OF_A_NAME",
    "OF_FORMATS",
    "ORDINARY",
    "PUBLIC_HOST",
    "PUBLIC_HOSTS",
    "REGISTRY",
    "WHEN_ASKED",
    "Detector",
    "as_it_is",
    "canonical_forms",
    "in_long_run",
    "is_ordinary",
    "parts_of",
    "same_host",
    "same_mac",
    "without_groups",
]
