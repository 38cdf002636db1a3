"""Packet captures, classic and next generation: addresses in headers mapped, checksums mended, contents dropped, times
moved where a plan says so."""

from __future__ import annotations

import ipaddress
import struct
from collections.abc import Iterator
from typing import IO

from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.pseudonyms import Shapes
from sealpacket.core.redact.readers.base import Work

_ETHERNET, _RAW, _LOOP, _COOKED, _COOKED2, _RAW4, _RAW6 = 1, 101, 108, 113, 276, 228, 229
_KNOWN = {_ETHERNET, _RAW, 12, 14, _LOOP, 0, _COOKED, _COOKED2, _RAW4, _RAW6}
_LARGEST = 1 << 20


def read_capture(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """The capture with the headers of each packet and nothing else. Raises Held for what is broken."""
    mapper = Headers(Shapes(work.placeholders.key), work)
    magic = source.read(4)
    source.seek(0)
    try:
        if magic == b"\x0a\x0d\x0d\x0a":
            _next_generation(source, target, mapper)
        else:
            _classic(source, target, mapper)
    except struct.error as error:
        raise Held("The capture is cut off.") from error


def _classic(source: IO[bytes], target: IO[bytes], mapper: Headers) -> None:
    head = source.read(24)
    order = "<" if head[:4] in (b"\xd4\xc3\xb2\xa1", b"\x4d\x3c\xb2\xa1") else ">"
    _, _, _, _, _, snap, link = struct.unpack(order + "IHHiIII", head)
    mapper.check(link & 0xFFFF)
    target.write(head)
    while record := source.read(16):
        seconds, fraction, kept, whole = struct.unpack(order + "IIII", record)
        if kept > max(snap, _LARGEST):
            raise Held("The capture is broken: a packet is longer than it may be.")
        data = source.read(kept)
        if len(data) < kept:
            raise Held("The capture is cut off.")
        made = mapper.headers(data, link & 0xFFFF)
        moved = min(max(seconds + mapper.shift, 0), 0xFFFFFFFF)
        target.write(struct.pack(order + "IIII", moved, fraction, len(made), whole) + made)
        mapper.tell(source.tell())


def _next_generation(source: IO[bytes], target: IO[bytes], mapper: Headers) -> None:
    links: list[int] = []
    units: list[int] = []
    order = "<"
    while head := source.read(8):
        kind = struct.unpack("<I", head[:4])[0]
        if kind == 0x0A0D0D0A:
            peek = source.read(4)
            order = "<" if peek == b"\x4d\x3c\x2b\x1a" else ">"
            length = struct.unpack(order + "I", head[4:])[0]
            _rest(source, length - 12)
            links, units = [], []
            body = peek + struct.pack(order + "HHq", 1, 0, -1)
            target.write(_block(order, 0x0A0D0D0A, body))
            continue
        kind, length = struct.unpack(order + "II", head)
        if not 12 <= length <= _LARGEST + 4096:
            raise Held("The capture is broken: a block has a length that cannot be.")
        body = _rest(source, length - 8)[:-4]
        if kind == 1:
            link, _, snap = struct.unpack(order + "HHI", body[:8])
            mapper.check(link)
            links.append(link)
            resolution = _resolution(order, body[8:])
            units.append(_units(resolution))
            target.write(_block(order, 1, struct.pack(order + "HHI", link, 0, snap) + resolution))
        elif kind == 6:
            place, high, low, kept, whole = struct.unpack(order + "IIIII", body[:20])
            made = mapper.headers(body[20 : 20 + kept], _link(links, place))
            moved = min(max((high << 32 | low) + mapper.shift * units[place], 0), (1 << 64) - 1)
            times = moved >> 32, moved & 0xFFFFFFFF
            packed = (
                struct.pack(order + "IIIII", place, *times, len(made), whole)
                + made
                + bytes(-len(made) % 4)
            )
            target.write(_block(order, 6, packed))
        elif kind == 3:
            whole = struct.unpack(order + "I", body[:4])[0]
            made = mapper.headers(body[4 : 4 + whole], _link(links, 0))
            packed = (
                struct.pack(order + "IIIII", 0, 0, 0, len(made), whole)
                + made
                + bytes(-len(made) % 4)
            )
            target.write(_block(order, 6, packed))
        mapper.tell(source.tell())


def _resolution(order: str, options: bytes) -> bytes:
    """Of an interface's options only how its times count (option 9)."""
    place = 0
    while place + 4 <= len(options):
        code, length = struct.unpack(order + "HH", options[place : place + 4])
        if code == 9 and length == 1:
            return options[place : place + 8] + bytes(4)
        if code == 0:
            break
        place += 4 + length + -length % 4
    return b""


def _units(resolution: bytes) -> int:
    """How many units of an interface's times are a second: by its option, or a million."""
    if len(resolution) < 5:
        return 1_000_000
    power = resolution[4] & 0x7F
    if power > (63 if resolution[4] & 0x80 else 18):
        raise Held("The capture is broken: its times are finer than any clock.")
    return int(2**power if resolution[4] & 0x80 else 10**power)


def _link(links: list[int], place: int) -> int:
    if place >= len(links):
        raise Held("The capture is broken: a packet of an interface that it does not have.")
    return links[place]


def _rest(source: IO[bytes], length: int) -> bytes:
    if not 0 <= length <= _LARGEST + 4096:
        raise Held("The capture is broken: a block has a length that cannot be.")
    data = source.read(length)
    if len(data) < length:
        raise Held("The capture is cut off.")
    return data


def _block(order: str, kind: int, body: bytes) -> bytes:
    length = len(body) + 12
    return struct.pack(order + "II", kind, length) + body + struct.pack(order + "I", length)


class Headers:
    """Maps the headers of packets, with one mapping for the whole capture."""

    def __init__(self, shapes: Shapes, work: Work) -> None:
        self._shapes, self._work = shapes, work
        self.shift = work.placeholders.shift.seconds if work.placeholders.shift else 0
        self._goes: dict[bytes, bytes] = {}
        self._came: dict[bytes, bytes] = {}

    def check(self, link: int) -> None:
        """Raises Held for a kind of link whose headers are not known."""
        if link not in _KNOWN:
            raise Held(f"The capture is of a kind of link ({link}) that cannot be read.")

    def tell(self, done: int) -> None:
        """Say how far it is."""
        if self._work.progress:
            self._work.progress(done)

    def headers(self, data: bytes, link: int) -> bytes:
        """The headers of a packet with other addresses. What is no IP or ARP keeps its link header only."""
        if link == _ETHERNET:
            if len(data) < 14:
                return b""
            made = self._mac(data[:6]) + self._mac(data[6:12])
            kind, place = data[12:14], 14
            made += kind
            while kind in (b"\x81\x00", b"\x88\xa8") and len(data) >= place + 4:
                made, kind, place = (
                    made + data[place : place + 4],
                    data[place + 2 : place + 4],
                    place + 4,
                )
            return made + self._network(data[place:], int.from_bytes(kind, "big"))
        if link == _COOKED and len(data) >= 16:
            return (
                data[:6]
                + self._mac(data[6:12])
                + bytes(2)
                + data[14:16]
                + self._network(data[16:], int.from_bytes(data[14:16], "big"))
            )
        if link == _COOKED2 and len(data) >= 20:
            return (
                data[:12]
                + self._mac(data[12:18])
                + bytes(2)
                + self._network(data[20:], int.from_bytes(data[:2], "big"))
            )
        if link in (0, _LOOP):
            return data[:4] + self._network(data[4:], 0)
        return self._network(data, 0)

    def _network(self, data: bytes, kind: int) -> bytes:
        if kind == 0 and data:
            kind = {4: 0x0800, 6: 0x86DD}.get(data[0] >> 4, 0)
        if kind == 0x0800:
            return self._four(data)
        if kind == 0x86DD:
            return self._six(data)
        if kind == 0x0806 and len(data) >= 28 and data[4:6] == b"\x06\x04":
            return (
                data[:8]
                + self._mac(data[8:14])
                + self._ip(data[14:18])
                + self._mac(data[18:24])
                + self._ip(data[24:28])
            )
        return b""

    def _four(self, data: bytes) -> bytes:
        length = (data[0] & 15) * 4 if data else 0
        if length < 20 or len(data) < length:
            return b""
        head = bytearray(data[:20])
        head[0] = 0x45
        head[12:16], head[16:20] = self._ip(data[12:16]), self._ip(data[16:20])
        total = max(int.from_bytes(head[2:4], "big") - length + 20, 20)
        head[2:4] = total.to_bytes(2, "big")
        head[10:12] = b"\0\0"
        head[10:12] = _checksum(bytes(head)).to_bytes(2, "big")
        first = int.from_bytes(data[6:8], "big") & 0x1FFF == 0
        return bytes(head) + (self._transport(data[length:], data[9]) if first else b"")

    def _six(self, data: bytes) -> bytes:
        if len(data) < 40:
            return b""
        return (
            data[:8]
            + self._ip(data[8:24])
            + self._ip(data[24:40])
            + self._transport(data[40:], data[6])
        )

    @staticmethod
    def _transport(data: bytes, kind: int) -> bytes:
        """Ports, flags and numbers. The checksum counted what is dropped: it is zero, which says that there is none."""
        if kind == 6 and len(data) >= 20:
            return data[:12] + b"\x50" + data[13:16] + b"\0\0" + data[18:20]
        if kind == 17 and len(data) >= 8:
            return data[:6] + b"\0\0"
        if kind in (1, 58) and len(data) >= 8:
            return data[:2] + b"\0\0" + data[4:8]
        return b""

    def _mac(self, mac: bytes) -> bytes:
        return self._noted("mac", mac, self._shapes.mac(mac))

    def _ip(self, raw: bytes) -> bytes:
        made = self._goes.get(raw)
        if made is None:
            made = self._shapes.address(ipaddress.ip_address(raw)).packed
        return self._noted("ip", raw, made)

    def _noted(self, kind: str, came: bytes, goes: bytes) -> bytes:
        if came == goes:
            return goes
        if came not in self._goes:
            if self._came.setdefault(goes, came) != came:
                raise Held("Two addresses of the capture would become one.")
            self._goes[came] = goes
            text = _said(kind, came)
            self._work.outcome.legend.add(
                self._work.placeholders.of(kind, text) + _said(kind, goes), text
            )
        self._work.outcome.counts[kind] += 1
        return goes


def _said(kind: str, raw: bytes) -> bytes:
    return (raw.hex(":") if kind == "mac" else str(ipaddress.ip_address(raw))).encode()


def _checksum(data: bytes) -> int:
    """The Internet checksum (RFC 1071)."""
    total = sum(struct.unpack(f">{len(data) // 2}H", data))
    total = (total >> 16) + (total & 0xFFFF)
    return int(~(total + (total >> 16)) & 0xFFFF)


def packets_of(data: bytes) -> Iterator[bytes]:
    """The packets of a classic capture, to look at."""
    order = "<" if data[:4] in (b"\xd4\xc3\xb2\xa1", b"\x4d\x3c\xb2\xa1") else ">"
    place = 24
    while place + 16 <= len(data):
        kept = struct.unpack(order + "I", data[place + 8 : place + 12])[0]
        yield data[place + 16 : place + 16 + kept]
        place += 16 + kept
