"""Placeholders that keep their shape: addresses that keep their networks, so that a vendor's own parser still works.

Two hosts of one network stay in one network: each bit of an address is turned or not by a keyed hash of all the bits
before it (the scheme of Xu, Fan, Ammar and Moon, 2002). The private ranges of IPv4 (RFC 1918, RFC 6598) and the public
space each get a part of 240.0.0.0/4 (RFC 1112, reserved), so that no placeholder is an address that anyone has. Private
IPv6 ranges are mapped into themselves, where two never meet by chance, all others into 2001:db8::/32 (RFC 3849,
documentation).
"""

from __future__ import annotations

import hashlib
import ipaddress

_KEPT4 = tuple(
    ipaddress.ip_network(text)
    for text in ("0.0.0.0/8", "127.0.0.0/8", "169.254.0.0/16", "224.0.0.0/4", "255.255.255.255/32")
)
_PRIVATE4 = tuple(
    ipaddress.ip_network(text)
    for text in ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "100.64.0.0/10")
)
_FOR_PRIVATE4 = tuple(
    ipaddress.ip_network(text)
    for text in ("240.0.0.0/8", "241.0.0.0/12", "241.16.0.0/16", "241.64.0.0/10")
)
_KEPT6 = tuple(ipaddress.ip_network(text) for text in ("::/127", "ff00::/8"))
_PRIVATE6 = tuple(ipaddress.ip_network(text) for text in ("fc00::/7", "fe80::/10"))
_FOR4 = ipaddress.ip_network("248.0.0.0/5")
_FOR6 = ipaddress.ip_network("2001:db8::/32")
Address = ipaddress.IPv4Address | ipaddress.IPv6Address


class Shapes:
    """Shape-keeping placeholders of one scope. The same key gives the same ones; two keys cannot be joined."""

    def __init__(self, key: bytes) -> None:
        self._base = hashlib.blake2b(key=key, digest_size=1)
        self._bits: dict[tuple[int, int, int], int] = {}
        self._key = key

    def address(self, address: Address) -> Address:
        """The address that stands for this one; loopback, multicast and unspecified ones stay."""
        four = address.version == 4
        if any(address in network for network in (_KEPT4 if four else _KEPT6)):
            return address
        home = next((n for n in (_PRIVATE4 if four else _PRIVATE6) if address in n), None)
        width = 32 if four else 128
        network = home or (_FOR4 if four else _FOR6)
        if home is not None and four:
            network = _FOR_PRIVATE4[_PRIVATE4.index(home)]
        left = width - network.prefixlen
        value = int(address) & ((1 << left) - 1)
        salt = 0 if home is None else 1 + (_PRIVATE4 if four else _PRIVATE6).index(home)
        if home is None and not four:
            value = int(address) >> 32
        made = int(network.network_address) | self._turned(value, left, address.version << 4 | salt)
        return ipaddress.IPv4Address(made) if four else ipaddress.IPv6Address(made)

    def mac(self, mac: bytes) -> bytes:
        """Six bytes, locally administered and not multicast; broadcast and multicast stay as they are."""
        if mac[0] & 1 or mac == bytes(6):
            return mac
        made = bytearray(hashlib.blake2b(b"mac" + mac, key=self._key, digest_size=6).digest())
        made[0] = made[0] & 0xFC | 0x02
        return bytes(made)

    def _turned(self, value: int, bits: int, salt: int) -> int:
        made = 0
        for place in range(bits - 1, -1, -1):
            made = made << 1 | (
                (value >> place & 1) ^ self._bit(value >> (place + 1), bits - 1 - place, salt)
            )
        return made

    def _bit(self, before: int, length: int, salt: int) -> int:
        known = self._bits.get((before, length, salt))
        if known is None:
            hasher = self._base.copy()
            hasher.update(b"%d/%d/%x" % (salt, length, before))
            known = hasher.digest()[0] & 1
            if len(self._bits) < 1_000_000:
                self._bits[before, length, salt] = known
        return known
