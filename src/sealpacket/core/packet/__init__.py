"""The sealed packet: a BagIt bag with a detached signature, and its verification."""

from sealpacket.core.packet.bag import FOLLOWS, BagFile, SealedBag, write_bag
from sealpacket.core.packet.signing import SealKey, SealKeys
from sealpacket.core.packet.verify import Verdict, check_chain, verify_bag

__all__ = [
    "FOLLOWS",
    "BagFile",
    "SealKey",
    "SealKeys",
    "SealedBag",
    "Verdict",
    "check_chain",
    "verify_bag",
    "write_bag",
]
