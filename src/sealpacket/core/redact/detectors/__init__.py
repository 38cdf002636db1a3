"""One family of detectors a file; the registry joins them in the order in which they are tried at one place."""

from sealpacket.core.redact.detectors.base import LEAVE, Detector
from sealpacket.core.redact.detectors.contacts import CONTACTS
from sealpacket.core.redact.detectors.credentials import CREDENTIALS
from sealpacket.core.redact.detectors.keys import KEYS
from sealpacket.core.redact.detectors.network import NETWORK
from sealpacket.core.redact.detectors.numbers import NUMBERS

REGISTRY: tuple[Detector, ...] = (*KEYS, *CREDENTIALS, *CONTACTS, *NETWORK, *NUMBERS)

__all__ = ["LEAVE", "REGISTRY", "Detector"]
