"""Every kind of file: what is planted is masked wherever it hides, the file still opens, and what is unreadable is held."""

from __future__ import annotations

import bz2
import csv
import gzip
import io
import json
import lzma
import sqlite3
import struct
import tarfile
import zipfile
from collections.abc import Callable
from email.message import EmailMessage
from email.parser import BytesParser
from email.policy import default
from pathlib import Path
from xml.etree import ElementTree

import openpyxl
import pytest
import yaml
import zstandard
from hypothesis import given, settings
from hypothesis import strategies as st

from sealpacket.core.redact import Catalogue, Held, Placeholders, Term, host_terms, leak_check, person_terms
from sealpacket.core.redact.readers import Limits, Work, copy_file
from sealpacket.core.redact.readers.capture import packets_of
from sealpacket.core.redact.shapes import Shapes

CATALOGUE = Catalogue.build(
    [*person_terms("Ines Harrowgate"), *host_terms(["br07-kiosk2.quillmere.example"]),
     Term("asset", "LK40-7731-0931", "lk40-7731-0931")],
    keep={"LK40-7731-0929": "the packet is about it"}, domains=["quillmere.example"],
)  # fmt: skip
TEXT = ("E0417 on LK40-7731-0929 at 2026-11-23T08:40:12Z fw 7.4.2\n"
        "client=10.40.7.22 host=br07-kiosk2.quillmere.example by Ines Harrowgate\n"
        "mail ines.harrowgate@quillmere.example password=Tr0ub4dor-77 card 4111111111111111 near LK40-7731-0931\n")  # fmt: skip
SECRETS = ("10.40.7.22", "kiosk2", "Harrowgate", "harrowgate@", "Tr0ub4dor", "4111111111111111", "LK40-7731-0931")
KEPT = ("E0417", "LK40-7731-0929", "2026-11-23T08:40:12Z", "7.4.2")


def copied(data: bytes, name: str, limits: Limits | None = None) -> tuple[bytes, Work]:
    work = Work(CATALOGUE, Placeholders(b"k" * 32), limits=limits or Limits())
    target = io.BytesIO()
    copy_file(io.BytesIO(data), target, work, name)
    return target.getvalue(), work


def clean(text: str, secrets: tuple[str, ...] = SECRETS) -> None:
    """Nothing secret is left, and what the vendor needs is there."""
    assert [one for one in secrets if one.lower() in text.lower()] == []
    assert [one for one in KEPT if one not in text] == []


PACKERS: dict[str, tuple[Callable[[bytes], bytes], Callable[[bytes], bytes]]] = {
    "gz": (gzip.compress, gzip.decompress),
    "bz2": (bz2.compress, bz2.decompress),
    "xz": (lzma.compress, lzma.decompress),
    "zst": (zstandard.compress, lambda d: zstandard.ZstdDecompressor().decompressobj().decompress(d)),
}


@pytest.mark.parametrize("kind", PACKERS)
def test_what_is_packed_is_unpacked_redacted_and_packed_again(kind: str) -> None:
    pack, unpack = PACKERS[kind]
    copy, work = copied(pack(TEXT.encode()), f"a.log.{kind}")
    clean(unpack(copy).decode())
    assert leak_check([unpack(copy)], work.outcome.legend).clean
    assert copied(pack(TEXT.encode()), f"a.log.{kind}")[0] == copy, "the same again, byte for byte"


@pytest.mark.parametrize("kind", PACKERS)
def test_a_packed_file_that_is_cut_off_is_held(kind: str) -> None:
    data = PACKERS[kind][0](TEXT.encode() * 50)
    with pytest.raises(Held):
        copied(data[: len(data) // 2], f"a.{kind}")


@pytest.mark.parametrize("encoding", ["utf-16", "utf-16-le", "utf-16-be", "utf-32"])
def test_text_with_wide_letters_comes_back_so(encoding: str) -> None:
    copy, _ = copied(TEXT.encode(encoding), "a.log")
    clean(copy.decode(encoding))


def make_zip(**members: bytes) -> bytes:
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w") as archive:
        archive.comment = b"from ines.harrowgate@quillmere.example"
        for name, content in members.items():
            info = zipfile.ZipInfo(name.replace("__", "/"))
            info.comment = b"on 10.40.7.22"
            archive.writestr(info, content)
    return data.getvalue()


def test_archives_in_archives_are_rebuilt_with_clean_names() -> None:
    inner = make_zip(**{"br07-kiosk2.quillmere.example.log": TEXT.encode()})
    data = io.BytesIO()
    with tarfile.open(fileobj=data, mode="w:gz") as archive:
        for name, content in (("home/ines.harrowgate/diag.zip", inner), ("plain.log", TEXT.encode())):
            info = tarfile.TarInfo(name)
            info.size, info.uname, info.gname, info.uid = len(content), "iharrowgate", "quillmere", 1007
            archive.addfile(info, io.BytesIO(content))
        link = tarfile.TarInfo("latest")
        link.type, link.linkname = tarfile.SYMTYPE, "/home/iharrowgate/10.40.7.22.log"
        archive.addfile(link)
    copy, work = copied(data.getvalue(), "diag.tar.gz")
    with tarfile.open(fileobj=io.BytesIO(copy)) as archive:
        members = archive.getmembers()
        assert [m.uname + m.gname for m in members] == ["", "", ""]
        clean(" ".join(m.name + m.linkname for m in members) + " ".join(KEPT), (*SECRETS, "iharrowgate"))
        nested = archive.extractfile(members[0])
        assert nested is not None
        with zipfile.ZipFile(nested) as again:
            clean(again.comment.decode() + again.infolist()[0].comment.decode() + again.namelist()[0] + " ".join(KEPT))
            clean(again.read(again.namelist()[0]).decode())
    assert work.outcome.counts["mail"] >= 3


def test_a_member_cannot_leave_its_folder() -> None:
    copy, _ = copied(make_zip(**{"..__..__etc__passwd": b"x", "/abs.log": b"y", "a__..__b": b"z"}), "a.zip")
    with zipfile.ZipFile(io.BytesIO(copy)) as archive:
        assert all(".." not in name and not name.startswith("/") for name in archive.namelist())
        assert len(set(archive.namelist())) == 3


def test_bombs_are_held() -> None:
    data = gzip.compress(b"0" * 30_000_000)
    with pytest.raises(Held, match="unpacks to more"):
        copied(data, "a.gz", Limits(free=1 << 20, ratio=100))
    deep = TEXT.encode()
    for level in range(9):
        deep = make_zip(**{f"l{level}.zip": deep})
    with pytest.raises(Held, match="deep"):
        copied(deep, "deep.zip")
    with pytest.raises(Held, match="more than 50 files"):
        copied(make_zip(**{f"f{n}": b"x" for n in range(60)}), "many.zip", Limits(members=50))


def test_an_encrypted_or_unknown_member_holds_the_archive() -> None:
    data = bytearray(make_zip(**{"a.log": b"x"}))
    for mark in (b"PK\x03\x04", b"PK\x01\x02"):
        place = data.index(mark) + (6 if mark == b"PK\x03\x04" else 8)
        data[place] |= 1
    with pytest.raises(Held, match="encrypted"):
        copied(bytes(data), "a.zip")
    with pytest.raises(Held, match=r"core\.dump: It is of a kind"):
        copied(make_zip(**{"core.dump": bytes(range(256)) * 40}), "a.zip")


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"%PDF-1.7 ...", "PDF"), (b"PK\x03\x04rest", "zip"), (b"\x1f\x8b\x08rest", "gzip"), (b"\x89PNG\r\n", "picture"),
        (b"\xff\xfea\x00b", "UTF-16"), (b"SQLite format 3\0" + bytes(90), "SQLite"), (b"{\\rtf1", "older kind"),
        (b"plain \0 not so plain", "kind that cannot be read"), (bytes(range(256)), "kind that cannot be read"),
        (b"text\n" * 300_000 + bytes(range(32)) * 3000, "bytes that no text has"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_is_held(data: bytes, words: str) -> None:
    with pytest.raises(Held, match=words):
        copied(data, "thing")


DOCUMENT = {
    "host": "br07-kiosk2.quillmere.example", "peer": "10.40.7.22", "port": 9100, "card": 4111111111111111,
    "who": {"name": "Ines Harrowgate", "mail": "ines.harrowgate@quillmere.example"}, "password": "Tr0ub4dor-77",
    "authorization": 'Digest username="jo", response="8f2"', "list": ["LK40-7731-0931", 1.5, None, True],
    "code": "E0417", "serial": "LK40-7731-0929", "at": "2026-11-23T08:40:12Z", "fw": "7.4.2",
}  # fmt: skip


@pytest.mark.parametrize("indent", [None, 2])
def test_json_stays_json_and_numbers_stay_numbers(indent: int | None) -> None:
    copy, _ = copied(json.dumps(DOCUMENT, indent=indent).encode(), "a.json")
    read = json.loads(copy)
    clean(copy.decode())
    assert read.keys() == DOCUMENT.keys()
    assert isinstance(read["card"], int)
    assert len(str(read["card"])) == 16
    assert (read["port"], read["list"][1:]) == (9100, [1.5, None, True])


def test_json_lines_stay_so() -> None:
    text = "\n".join(json.dumps(DOCUMENT) for _ in range(5))
    copy, _ = copied(text.encode(), "a.ndjson")
    assert [json.loads(line).keys() == DOCUMENT.keys() for line in copy.splitlines()] == [True] * 5
    clean(copy.decode())


def test_yaml_stays_yaml() -> None:
    text = ("server: 10.40.7.22:9100\nhosts:\n  - br07-kiosk2.quillmere.example\n  - kiosk up\npassword: Tr0ub4dor-77\n"
            "code: E0417  # seen\nserial: LK40-7731-0929\nat: '2026-11-23T08:40:12Z'\nfw: \"7.4.2\"\nowner: Ines Harrowgate\n")  # fmt: skip
    copy, _ = copied(text.encode(), "a.yaml")
    read = yaml.safe_load(copy)
    clean(copy.decode())
    assert list(read) == ["server", "hosts", "password", "code", "serial", "at", "fw", "owner"]
    assert read["server"].endswith(":9100")
    assert isinstance(read["password"], str)


def test_tables_keep_their_cells() -> None:
    rows = [["host", "mail", "note", "card"], ["br07-kiosk2.quillmere.example", "ines.harrowgate@quillmere.example",
            "Cookie: a=b; c=d, and, more", "4111111111111111"], ["E0417", "LK40-7731-0929", "2026-11-23T08:40:12Z", "7.4.2"]]  # fmt: skip
    text = io.StringIO()
    csv.writer(text).writerows(rows)
    copy, _ = copied(text.getvalue().encode(), "a.csv")
    read = list(csv.reader(io.StringIO(copy.decode())))
    assert [len(row) for row in read] == [4, 4, 4]
    assert read[2] == rows[2]
    clean(copy.decode())


def test_xml_stays_valid() -> None:
    text = ('<?xml version="1.0"?><a xmlns="http://www.w3.org/2001/XMLSchema"><host n="br07-kiosk2.quillmere.example"/>'
            "<password>Tr0ub4dor-77</password><h>Cookie: sid=abc</h><m>ines.harrowgate&#64;quillmere.example</m>"
            "<k>E0417 LK40-7731-0929 2026-11-23T08:40:12Z 7.4.2</k><ip>10.40.7.22</ip></a>")  # fmt: skip
    copy, _ = copied(text.encode(), "a.xml")
    root = ElementTree.fromstring(copy)
    assert len(root) == 6
    clean("".join(root.itertext()) + copy.decode())


def test_a_mail_with_its_parts() -> None:
    mail = EmailMessage()
    mail["From"], mail["To"] = "Ines Harrowgate <ines.harrowgate@quillmere.example>", "care@lumenlathe.example"
    mail["Subject"], mail["Received"] = "LK40-7731-0929 E0417", "from br07-kiosk2.quillmere.example (10.40.7.22)"
    mail.set_content(TEXT)
    mail.add_alternative(f"<p>{TEXT}</p>", subtype="html")
    mail.add_attachment(gzip.compress(TEXT.encode()), maintype="application", subtype="gzip",
                        filename="br07-kiosk2.quillmere.example.log.gz")  # fmt: skip
    copy, _ = copied(mail.as_bytes(), "a.eml")
    read = BytesParser(policy=default).parsebytes(copy)
    parts = [part for part in read.walk() if not part.is_multipart()]
    assert len(parts) == 3
    clean(gzip.decompress(parts[2].get_content()).decode())
    clean(parts[0].get_content() + str(read["From"]) + str(read["Received"]) + str(parts[2].get_filename()))
    assert "LK40-7731-0929" in read["Subject"]


def test_an_office_document_cut_into_runs() -> None:
    word = ('<w:document xmlns:w="http://w"><w:body><w:p><w:r><w:t>call 10.4</w:t></w:r><w:r><w:t>0.7.22 and Ines Harr</w:t></w:r>'
            "<w:r><w:t>owgate E0417 LK40-7731-0929 2026-11-23T08:40:12Z 7.4.2</w:t></w:r></w:p>"
            '<w:p><w:del w:author="Ines Harrowgate"><w:r><w:delText>password=Tr0ub4dor-77</w:delText></w:r></w:del></w:p>'
            "</w:body></w:document>")  # fmt: skip
    rels = ('<Relationships xmlns="r"><Relationship Target="word/document.xml"/>'
            '<Relationship Target="docProps/core.xml"/></Relationships>')  # fmt: skip
    data = make_zip(**{"[Content_Types].xml": b"<Types xmlns='t'><Override PartName='/docProps/core.xml'/></Types>",
                       "_rels__.rels": rels.encode(), "word__document.xml": word.encode(),
                       "word__media__a.txt": TEXT.encode(), "docProps__core.xml": b"<a>Ines Harrowgate</a>"})  # fmt: skip
    copy, _ = copied(data, "a.docx")
    with zipfile.ZipFile(io.BytesIO(copy)) as archive:
        assert "docProps/core.xml" not in archive.namelist()
        assert b"docProps" not in archive.read("_rels/.rels") + archive.read("[Content_Types].xml")
        text = archive.read("word/document.xml").decode()
        clean("".join(ElementTree.fromstring(text).itertext()) + text)
        clean(archive.read("word/media/a.txt").decode())


def test_a_workbook_opens_and_its_hidden_sheet_is_clean(tmp_path: Path) -> None:
    book = openpyxl.Workbook()
    book.active.append(["E0417", "LK40-7731-0929", "2026-11-23T08:40:12Z", "7.4.2", 4111111111111111, 17])
    hidden = book.create_sheet("more")
    hidden.sheet_state = "hidden"
    hidden.append(["ines.harrowgate@quillmere.example", "10.40.7.22"])
    book.save(tmp_path / "a.xlsx")
    copy, _ = copied((tmp_path / "a.xlsx").read_bytes(), "a.xlsx")
    read = openpyxl.load_workbook(io.BytesIO(copy))
    cells = [cell for sheet in read for row in sheet.values for cell in row]
    clean(" ".join(map(str, cells)))
    assert isinstance(cells[4], int)
    assert cells[5] == 17


def test_a_database_is_built_anew(tmp_path: Path) -> None:
    with sqlite3.connect(tmp_path / "a.db") as old:
        old.execute("CREATE TABLE loans (id INTEGER PRIMARY KEY, patron TEXT, password TEXT, card INTEGER, raw BLOB)")
        old.execute("CREATE INDEX by_patron ON loans (patron)")
        old.execute("INSERT INTO loans VALUES (1, 'Ines Harrowgate', 'Tr0ub4dor-77', 4111111111111111, ?)",
                    (gzip.compress(TEXT.encode()),))  # fmt: skip
        old.execute("INSERT INTO loans VALUES (2, 'gone: 10.40.7.22', 'x', 3, NULL)")
        old.commit()
        old.execute("DELETE FROM loans WHERE id = 2")
    old.close()
    copy, _ = copied((tmp_path / "a.db").read_bytes(), "a.db")
    assert b"10.40.7.22" not in copy
    assert b"Tr0ub" not in copy
    (tmp_path / "b.db").write_bytes(copy)
    read = sqlite3.connect(tmp_path / "b.db").execute("SELECT * FROM loans").fetchall()
    assert [row[0] for row in read] == [1]
    assert "Harrowgate" not in str(read)
    assert isinstance(read[0][3], int)
    clean(gzip.decompress(read[0][4]).decode())


def ethernet(source: str, goes: str, payload: bytes) -> bytes:
    addresses = b"".join(bytes(map(int, ip.split("."))) for ip in (source, goes))
    tcp = struct.pack(">HHIIBBHHH", 40123, 9100, 1, 2, 0x50, 0x18, 512, 0xBEEF, 0)
    ip = struct.pack(">BBHHHBBH", 0x45, 0, 40 + len(payload), 7, 0, 64, 6, 0) + addresses
    return bytes.fromhex("021abbccddee021abbccddef0800") + ip + tcp + payload


def capture(*packets: bytes) -> bytes:
    head = struct.pack("<IHHiIII", 0xA1B2C3D4, 2, 4, 0, 0, 65535, 1)
    return head + b"".join(struct.pack("<IIII", 1, n, len(p), len(p)) + p for n, p in enumerate(packets))


def test_a_capture_keeps_headers_and_networks_only() -> None:
    data = capture(
        ethernet("10.40.7.22", "10.40.7.99", b"password=Tr0ub4dor-77"), ethernet("10.40.7.22", "192.0.2.9", b"x")
    )
    copy, work = copied(data, "a.pcap")
    assert b"Tr0ub4dor" not in copy
    one, other = list(packets_of(copy))
    came, goes, out = one[26:30], one[30:34], other[30:34]
    assert came == other[26:30], "one host stays one host"
    assert (came[:3], came) != (bytes([10, 40, 7]), bytes([10, 40, 7, 22]))
    assert came[:3] == goes[:3], "two hosts of a network stay in one"
    assert came[0] == 240, "in a range that nobody has"
    assert out[0] >> 4 == 15
    assert one[0] & 3 == 2, "locally administered"
    assert len(one) == 54
    assert one[34:38] == data[74:78], "ports stay"
    assert sum(struct.unpack(">10H", one[14:34])) % 0xFFFF == 0, "the checksum of the header is right"
    assert work.outcome.counts == {"mac": 4, "ip": 4}


@given(st.integers(0, 2**32 - 1), st.integers(0, 32), st.integers(0, 2**32 - 1))
@settings(max_examples=60, deadline=None)
def test_addresses_keep_as_many_bits_in_common_as_they_had(address: int, bits: int, other: int) -> None:
    import ipaddress

    one = ipaddress.IPv4Address(0x0A000000 | address & 0xFFFFFF)
    two = ipaddress.IPv4Address(int(one) ^ (other & ((1 << min(bits, 24)) - 1)))
    shapes = Shapes(b"s" * 32)
    made = int(shapes.address(one)) ^ int(shapes.address(two))
    assert made.bit_length() == (int(one) ^ int(two)).bit_length()
    assert shapes.address(one) == Shapes(b"s" * 32).address(one)


@given(
    st.binary(max_size=400),
    st.sampled_from(["a.zip", "a.tar", "a.json", "a.eml", "a.pcap", "a.png", "a.db", "a.pdf", "a.csv"]),
)
@settings(max_examples=150, deadline=None)
def test_any_bytes_end_as_a_copy_or_held(data: bytes, name: str) -> None:
    try:
        copied(data, name)
    except Held:
        return


HEADS = {
    "gzip": gzip.compress(TEXT.encode()), "zip": make_zip(**{"a.log": TEXT.encode()}), "pcap": capture(ethernet("10.1.2.3", "10.1.2.4", b"x")),
    "json": json.dumps(DOCUMENT).encode(), "utf-16": TEXT.encode("utf-16"),
}  # fmt: skip


@given(st.sampled_from(sorted(HEADS)), st.integers(0, 400), st.binary(min_size=1, max_size=6))
@settings(max_examples=150, deadline=None)
def test_a_damaged_file_ends_as_a_clean_copy_or_held(kind: str, place: int, damage: bytes) -> None:
    data = bytearray(HEADS[kind])
    data[place : place + len(damage)] = damage
    try:
        copied(bytes(data), f"a.{kind}")
    except Held:
        return
