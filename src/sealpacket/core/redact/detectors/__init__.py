"""One family of detectors a file; the registry joins them in the order in which they are tried at one place."""

from sealpacket.core.redact.detectors.accounts import ACCOUNTS
from sealpacket.core.redact.detectors.base import LEAVE, Detector
from sealpacket.core.redact.detectors.commands import COMMANDS
from sealpacket.core.redact.detectors.contacts import CONTACTS
from sealpacket.core.redact.detectors.credentials import CREDENTIALS
from sealpacket.core.redact.detectors.devices import DEVICES
from sealpacket.core.redact.detectors.dialogues import DIALOGUES
from sealpacket.core.redact.detectors.grammars import GRAMMARS
from sealpacket.core.redact.detectors.identifiers import IDENTIFIERS
from sealpacket.core.redact.detectors.keys import KEYS
from sealpacket.core.redact.detectors.languages import LANGUAGES
from sealpacket.core.redact.detectors.listings import LISTINGS
from sealpacket.core.redact.detectors.machines import MACHINES
from sealpacket.core.redact.detectors.mentions import MENTIONS
from sealpacket.core.redact.detectors.names import NAMES
from sealpacket.core.redact.detectors.nearby import NEARBY
from sealpacket.core.redact.detectors.network import NETWORK
from sealpacket.core.redact.detectors.numbers import NUMBERS
from sealpacket.core.redact.detectors.people import PEOPLE
from sealpacket.core.redact.detectors.sentences import SENTENCES
from sealpacket.core.redact.detectors.settings import SETTINGS
from sealpacket.core.redact.detectors.spread import SPREAD
from sealpacket.core.redact.detectors.subjects import SUBJECTS
from sealpacket.core.redact.detectors.traces import TRACES

REGISTRY: tuple[Detector, ...] = (
    *KEYS, *SPREAD, *SETTINGS, *GRAMMARS, *CREDENTIALS, *COMMANDS, *DEVICES, *DIALOGUES, *LISTINGS, *TRACES, *LANGUAGES, *MENTIONS, *ACCOUNTS, *CONTACTS, *NAMES, *PEOPLE, *NUMBERS, *IDENTIFIERS, *NETWORK, *MACHINES, *NEARBY, *SENTENCES
)  # fmt: skip
WHEN_ASKED: tuple[Detector, ...] = SUBJECTS
"""Detectors that a plan has to ask for, by their kind."""


def canonical_forms(kind: str, value: str) -> set[str]:
    """What the detectors of a kind take a value for: under these, all its spellings are one."""
    forms: set[str] = set()
    for detector in REGISTRY:
        if detector.kind == kind:
            try:
                forms.add(detector.canonical(value.encode()).decode("utf-8", "replace"))
            except ValueError:
                continue
    return forms


__all__ = ["LEAVE", "REGISTRY", "WHEN_ASKED", "Detector", "canonical_forms"]
