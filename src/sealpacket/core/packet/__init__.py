"""The sealed packet: a BagIt bag with a detached signature, and its verification."""

from sealpacket.core.packet.bag import BagFile, SealedBag, write_bag
from sealpacket.core.packet.signing import SealKey, SealKeys
from sealpacket.core.packet.verify import Verdict, verify_bag

__all__ = ["BagFile", "SealKey", "SealKeys", "SealedBag", "Verdict", "verify_bag", "write_bag"]
