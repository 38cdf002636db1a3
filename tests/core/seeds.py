"""One well-formed file of every kind, with things in them that must go and things that must stay."""

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
import tempfile
import zipfile
from email.message import EmailMessage
from pathlib import Path

import openpyxl
import zstandard
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from sealpacket.core.redact import Catalogue, Term, host_terms, person_terms

CATALOGUE = Catalogue.build(
    [*person_terms("Ines Harrowgate"), *host_terms(["br07-kiosk2.quillmere.example"]),
     Term("asset", "LK40-7731-0931", "lk40-7731-0931")],
    keep={"LK40-7731-0929": "the packet is about it"}, domains=["quillmere.example"],
)  # fmt: skip
TEXT = ("E0417 on LK40-7731-0929 at 2026-11-23T08:40:12Z fw 7.4.2\n"
        "client=10.40.7.22 host=br07-kiosk2.quillmere.example by Ines Harrowgate\n"
        "mail ines.harrowgate@quillmere.example password=Tr0ub4dor-77 card 4111111111111111 near LK40-7731-0931\n")  # fmt: skip
SECRETS = (
    "10.40.7.22",
    "kiosk2",
    "Harrowgate",
    "harrowgate@",
    "Tr0ub4dor",
    "4111111111111111",
    "LK40-7731-0931",
)
KEPT = ("E0417", "LK40-7731-0929", "2026-11-23T08:40:12Z", "7.4.2")


def make_zip(**members: bytes) -> bytes:
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w") as archive:
        archive.comment = b"from ines.harrowgate@quillmere.example"
        for name, content in members.items():
            info = zipfile.ZipInfo(name.replace("__", "/"))
            info.comment = b"on 10.40.7.22"
            archive.writestr(info, content)
    return data.getvalue()


def ethernet(source: str, goes: str, payload: bytes) -> bytes:
    addresses = b"".join(bytes(map(int, ip.split("."))) for ip in (source, goes))
    tcp = struct.pack(">HHIIBBHHH", 40123, 9100, 1, 2, 0x50, 0x18, 512, 0xBEEF, 0)
    ip = struct.pack(">BBHHHBBH", 0x45, 0, 40 + len(payload), 7, 0, 64, 6, 0) + addresses
    return bytes.fromhex("021abbccddee021abbccddef0800") + ip + tcp + payload


def capture(*packets: bytes) -> bytes:
    head = struct.pack("<IHHiIII", 0xA1B2C3D4, 2, 4, 0, 0, 65535, 1)
    return head + b"".join(
        struct.pack("<IIII", 1, n, len(p), len(p)) + p for n, p in enumerate(packets)
    )


DOCUMENT = {
    "host": "br07-kiosk2.quillmere.example", "peer": "10.40.7.22", "port": 9100, "card": 4111111111111111,
    "who": {"name": "Ines Harrowgate", "mail": "ines.harrowgate@quillmere.example"}, "password": "Tr0ub4dor-77",
    "authorization": 'Digest username="jo", response="8f2"', "list": ["LK40-7731-0931", 1.5, None, True],
    "code": "E0417", "serial": "LK40-7731-0929", "at": "2026-11-23T08:40:12Z", "fw": "7.4.2",
}  # fmt: skip


TOML = (
    'server = "10.40.7.22:9100"\nhosts = ["br07-kiosk2.quillmere.example", \'kiosk up\']\npassword = "Tr0ub4dor-77"\n'
    'code = "E0417"\nserial = "LK40-7731-0929"\nat = 2026-11-23T08:40:12Z\nfw = "7.4.2"\ncard = 4111111111111111\n'
    'owner = {name = "Ines Harrowgate", dob = 1979-05-27, mail = "ines.harrowgate@quillmere.example"}\n'
)
YAML = ("server: 10.40.7.22:9100\nhosts:\n  - br07-kiosk2.quillmere.example\n  - kiosk up\npassword: Tr0ub4dor-77\n"
        "code: E0417  # seen\nserial: LK40-7731-0929\nat: '2026-11-23T08:40:12Z'\nfw: \"7.4.2\"\nowner: Ines Harrowgate\n")  # fmt: skip
XML = ('<?xml version="1.0"?><a xmlns="http://www.w3.org/2001/XMLSchema"><host n="br07-kiosk2.quillmere.example"/>'
       "<password>Tr0ub4dor-77</password><h>Cookie: sid=abc</h><m>ines.harrowgate&#64;quillmere.example</m>"
       "<k>E0417 LK40-7731-0929 2026-11-23T08:40:12Z 7.4.2</k><ip>10.40.7.22</ip></a>")  # fmt: skip
ROWS = [["host", "mail", "note", "card"], ["br07-kiosk2.quillmere.example", "ines.harrowgate@quillmere.example",
        "Cookie: a=b; c=d, and, more", "4111111111111111"], ["", "", "E0417 LK40-7731-0929 2026-11-23T08:40:12Z 7.4.2", ""]]  # fmt: skip


def make_table() -> bytes:
    text = io.StringIO()
    csv.writer(text).writerows(ROWS)
    return text.getvalue().encode()


def make_tar(**members: bytes) -> bytes:
    data = io.BytesIO()
    with tarfile.open(fileobj=data, mode="w") as archive:
        for name, content in members.items():
            info = tarfile.TarInfo(name)
            info.size, info.uname = len(content), "iharrowgate"
            archive.addfile(info, io.BytesIO(content))
    return data.getvalue()


def make_mail() -> bytes:
    """Text, HTML, and a packed log under a telling name."""
    mail = EmailMessage()
    mail["From"], mail["To"] = (
        "Ines Harrowgate <ines.harrowgate@quillmere.example>",
        "care@lumenlathe.example",
    )
    mail["Subject"], mail["Received"] = (
        "LK40-7731-0929 E0417",
        "from br07-kiosk2.quillmere.example (10.40.7.22)",
    )
    mail.set_content(TEXT)
    mail.add_alternative(f"<p>{TEXT}</p>", subtype="html")
    mail.add_attachment(gzip.compress(TEXT.encode()), maintype="application", subtype="gzip",
                        filename="br07-kiosk2.quillmere.example.log.gz")  # fmt: skip
    return mail.as_bytes()


def make_document() -> bytes:
    """A DOCX whose values are cut into runs, with a change, properties and something embedded."""
    word = ('<w:document xmlns:w="http://w"><w:body><w:p><w:r><w:t>call 10.4</w:t></w:r><w:r><w:t>0.7.22 and Ines Harr</w:t></w:r>'
            "<w:r><w:t>owgate E0417 LK40-7731-0929 2026-11-23T08:40:12Z 7.4.2</w:t></w:r></w:p>"
            '<w:p><w:del w:author="Ines Harrowgate"><w:r><w:delText>password=Tr0ub4dor-77</w:delText></w:r></w:del></w:p>'
            "</w:body></w:document>")  # fmt: skip
    rels = ('<Relationships xmlns="r"><Relationship Target="word/document.xml"/>'
            '<Relationship Target="docProps/core.xml"/></Relationships>')  # fmt: skip
    return make_zip(**{"[Content_Types].xml": b"<Types xmlns='t'><Override PartName='/docProps/core.xml'/></Types>",
                       "_rels__.rels": rels.encode(), "word__document.xml": word.encode(),
                       "word__media__a.txt": TEXT.encode(), "docProps__core.xml": b"<a>Ines Harrowgate</a>"})  # fmt: skip


def make_workbook() -> bytes:
    """An XLSX with a hidden sheet."""
    book = openpyxl.Workbook()
    book.active.append(
        ["E0417", "LK40-7731-0929", "2026-11-23T08:40:12Z", "7.4.2", 4111111111111111, 17]
    )
    hidden = book.create_sheet("more")
    hidden.sheet_state = "hidden"
    hidden.append(["ines.harrowgate@quillmere.example", "10.40.7.22"])
    data = io.BytesIO()
    book.save(data)
    return data.getvalue()


def make_database() -> bytes:
    """An SQLite file with a packed cell and a row that was deleted."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "a.db")
        with sqlite3.connect(path) as old:
            old.execute(
                "CREATE TABLE loans (id INTEGER PRIMARY KEY, patron TEXT, password TEXT, card INTEGER, raw BLOB)"
            )
            old.execute("CREATE INDEX by_patron ON loans (patron)")
            old.execute("INSERT INTO loans VALUES (1, 'Ines Harrowgate', 'Tr0ub4dor-77', 4111111111111111, ?)",
                        (gzip.compress(TEXT.encode()),))  # fmt: skip
            old.execute("INSERT INTO loans VALUES (2, 'gone: 10.40.7.22', 'x', 3, NULL)")
            old.commit()
            old.execute("DELETE FROM loans WHERE id = 2")
        old.close()
        return path.read_bytes()


def make_page() -> bytes:
    """A PDF of one page."""
    data = io.BytesIO()
    canvas = Canvas(data)
    canvas.drawString(60, 700, "client 10.40.7.22 refused: E0417")
    canvas.save()
    return data.getvalue()


def make_picture() -> bytes:
    """A PNG."""
    data = io.BytesIO()
    Image.new("RGB", (40, 30), "white").save(data, "PNG")
    return data.getvalue()


def by_kind() -> dict[str, list[bytes]]:
    """By the ending of their names."""
    text, packet = TEXT.encode(), ethernet("10.40.7.22", "192.0.2.9", b"password=Tr0ub4dor-77")
    return {
        "log": [text, text.replace(b"\n", b"\r\n"), TEXT.encode("utf-16"), TEXT.encode("utf-16-be"), TEXT.encode("utf-32")],
        "json": [json.dumps(DOCUMENT).encode(), json.dumps(DOCUMENT, indent=2).encode()],
        "ndjson": [b"\n".join([json.dumps(DOCUMENT).encode()] * 2)], "yaml": [YAML.encode()], "toml": [TOML.encode()], "csv": [make_table()],
        "xml": [XML.encode()], "eml": [make_mail()], "gz": [gzip.compress(text)], "bz2": [bz2.compress(text)],
        "xz": [lzma.compress(text)], "zst": [zstandard.compress(text)],
        "zip": [make_zip(**{"a__b.log": text, "c.json": json.dumps(DOCUMENT).encode()})],
        "tar": [make_tar(**{"home/ines.harrowgate/a.log": text, "b.gz": gzip.compress(text)})],
        "docx": [make_document()], "xlsx": [make_workbook()], "db": [make_database()],
        "pcap": [struct.pack("<IHHiIII", 0xA1B2C3D4, 2, 4, 0, 0, 65535, 1)[:24], capture(packet, packet)],
        "pdf": [make_page()], "png": [make_picture()],
    }  # fmt: skip
