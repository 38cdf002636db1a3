"""Values that stand on another line, in another element or in another cell than what tells of them."""

from __future__ import annotations

import io
import zipfile

import openpyxl
import pytest

from sealpacket.core.redact import Catalogue, Placeholders
from sealpacket.core.redact.readers import Work, copy_file
from tests.core.seeds import make_zip

CATALOGUE = Catalogue.build(domains=["quillmere.example"])
GOES: list[tuple[str, str, list[str]]] = [
    ("a.log", "env:\n  - name: DB_PASSWORD\n    value: blue-Kettle9\n  - name: DB_USER\n    value: odile.m\n", ["blue-Kettle9", "odile.m"]),
    ("a.yaml", "env:\n  - name: DB_PASSWORD\n    value: blue-Kettle9\n", ["blue-Kettle9"]),
    ("a.json", '{"env":[\n {\n  "name": "DB_PASSWORD",\n  "value": "blue-Kettle9"\n }\n]}\n', ["blue-Kettle9"]),
    ("a.xml", "<dict>\n<key>password</key>\n<string>blue-Kettle9</string>\n<key>user</key>\n<string>odile</string></dict>\n", ["blue-Kettle9", "odile"]),
    ("a.xml", '<entry key="password">\n  blue-Kettle9\n</entry>\n', ["blue-Kettle9"]),
    ("a.xml", '<setting name="DbPassword" serializeAs="String">\n<value>blue-Kettle9</value>\n</setting>\n', ["blue-Kettle9"]),
    ("a.yaml", "password: |\n  blue-Kettle9\nuser: x\n", ["blue-Kettle9"]),
    ("a.yaml", "password: >-\n  blue-Kettle9\nuser: x\n", ["blue-Kettle9"]),
    ("a.ldif", "dn: uid=odile,ou=p\nuserPassword:: Ymx1ZS1LZXR0bGU5\nsn: Marchmont\ngivenName: Odile\n", ["Ymx1ZS1LZXR0bGU5", "Marchmont", "Odile"]),
    ("a.vcf", "BEGIN:VCARD\nN:Marchmont;Odile;;;\nFN:Odile Marchmont\nADR;TYPE=home:;;12 Fennel Lane;Quillmere;;QM1 3FD;\nBDAY:1987-03-14\nEND:VCARD\n",
     ["Marchmont", "Fennel Lane", "1987-03-14"]),
    ("a.log", "Password:\nblue-Kettle9\n", ["blue-Kettle9"]),
    ("a.log", "Authorization: Basic\n  b2RpbGU6Ymx1ZS1LZXR0bGU5\n", ["b2RpbGU6"]),
    ("a.log", "Enter password for odile: blue-Kettle9\n", ["blue-Kettle9", "odile"]),
    ("a.log", "[db]\nuser=odile\npassword=\n  blue-Kettle9\n", ["blue-Kettle9"]),
    ("a.html", "<tr><td>Name</td><td>Odile Marchmont</td></tr><tr><td>Password</td><td>blue-Kettle9</td></tr>\n", ["Marchmont", "blue-Kettle9"]),
    ("a.html", "<tr>\n<td>Password</td>\n<td>blue-Kettle9</td>\n</tr>\n", ["blue-Kettle9"]),
    ("a.html", "<dt>Password</dt><dd>blue-Kettle9</dd>\n", ["blue-Kettle9"]),
]  # fmt: skip
GOES += [
    ("a.html", "<table><tr><th>User</th><th>Password</th></tr>\n<tr><td>odile</td><td><code>blue-Kettle9</code></td></tr>\n<tr>\n<td>bruno</td>\n<td>green pan</td></tr></table>\n",
     ["odile", "blue-Kettle9", "bruno", "green pan"]),
    ("a.html", "<TABLE><TR><TH scope=col>Hostname<TH>Serial number<TH>State<TR><TD>qcl-sw1<TD>QX441189K<TD>up</TABLE>\n", ["qcl-sw1", "QX441189K"]),
]  # fmt: skip
TABLES: list[tuple[str, str, list[str]]] = [
    ("a.csv", 'host,user,password,card\npc1,odile,blue-Kettle9,21160007731404\n"pc2","bruno","green, Pan8",21160007731412\n',
     ["pc1", "odile", "blue-Kettle9", "21160007731404", "pc2", "bruno", "Pan8", "21160007731412"]),
    ("a.csv", "First name;Last name;E-mail;Date of birth;Phone\nOdile;Marchmont;;14/03/1987;01632 960321\n", ["Odile", "Marchmont", "14/03/1987", "960321"]),
    ("a.tsv", "hostname\tserial\tip\nqcl-sw1\tQX441189K\t10.40.1.1\n", ["qcl-sw1", "QX441189K", "10.40.1.1"]),
    ("a.log", "| user  | password     |\n|-------|--------------|\n| odile | blue-Kettle9 |\n", ["blue-Kettle9", "odile"]),
    ("a.log", " username |   password   \n----------+--------------\n odile    | blue-Kettle9\n(1 row)\n", ["blue-Kettle9", "odile"]),
    ("a.log", "+-------+--------------+\n| user  | password     |\n+-------+--------------+\n| odile | blue-Kettle9 |\n+-------+--------------+\n", ["blue-Kettle9", "odile"]),
    ("a.log", "UserName     Password\n--------     --------\nodile        blue-Kettle9\nbruno        green-Pan8x\n", ["blue-Kettle9", "odile", "bruno", "green-Pan8x"]),
    ("a.log", "NAME        STATUS   NODE       USER\nloans-7d    Running  tiller04   odile\nloans-8e    Pending  tiller05   bruno\n\ndone\n", ["tiller04", "tiller05", "odile", "bruno"]),
    ("a.log", "Username         Port     From             Latest\nodile            pts/0    10.40.3.9        Mon Nov 23 08:40\nbruno                                      **Never logged in**\n", ["odile", "bruno", "10.40.3.9"]),
    ("a.log", "Slot\tSerial number\tState\r\n1\tQX441189K\tok\r\n2\tQX441190K\tok\r\n", ["QX441189K", "QX441190K"]),
]  # fmt: skip


def copied_bytes(name: str, data: bytes) -> bytes:
    target = io.BytesIO()
    copy_file(io.BytesIO(data), target, Work(CATALOGUE, Placeholders(b"k" * 32)), name)
    return target.getvalue()


def copied(name: str, text: str) -> str:
    return copied_bytes(name, text.encode()).decode()


@pytest.mark.parametrize(
    ("name", "text", "values"), [*GOES, *TABLES], ids=[text[:30] for _, text, _ in [*GOES, *TABLES]]
)
def test_what_is_told_from_elsewhere_goes(name: str, text: str, values: list[str]) -> None:
    copy = copied(name, text)
    assert [value for value in values if value in copy] == [], copy
    assert copy.count("\n") == text.count("\n"), "each line stays a line"


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("a.csv", "level,component,code\nINFO,replica,E0417\nWARN,cache,E3312\n"),
        ("a.csv", "at,value,unit\n2026-11-23T08:40:12Z,17,ms\n2026-11-23T08:40:13Z,18,ms\n"),
        ("a.csv", "12,13\n14,15\n"),
        ("a.log", "disk   state   errors\n----   -----   ------\nsda    ok      0\nsdb    failed  17\n"),
        ("a.log", "Filesystem      Size  Used  Avail  Mounted on\n/dev/sda1       20G   12G   8G     /\n"),
        ("a.log", "Module    Size    Used by\nnvme      4096    3\n"),
        ("a.log", "User  Host  Password\n\nnothing here\n"),
        ("a.log", "Volume    Owner       State\nthe rest of this line is a sentence\nvol1      pool2       ok\n"),
        ("a.log", "| code | meaning |\n|---|---|\n| E0417 | reader dead |\n"),
        ("a.log", "name: cache\nvalue: 17\n"),
        ("a.log", "password:\n\nnothing follows\n"),
        ("a.html", "<td>Version</td><td>7.4.2</td>\n<dt>State</dt><dd>ready</dd>\n"),
    ],
)  # fmt: skip
def test_tables_that_tell_of_nothing_stay_as_they_are(name: str, text: str) -> None:
    assert copied(name, text) == text


def test_a_table_goes_on_over_the_end_of_a_block() -> None:
    row = "| odile{0:06d} | blue-Kettle{0:06d} | a row that fills the block a little more, and more |\n"
    text = "| user | password | note |\n|---|---|---|\n" + "".join(row.format(number) for number in range(20_000))
    copy = copied("a.log", text)
    assert len(text) > 1_500_000
    assert "odile0" not in copy
    assert "blue-Kettle0" not in copy


def test_the_heads_of_a_workbook_tell_of_its_cells() -> None:
    book = openpyxl.Workbook()
    sheet = book.active
    sheet.append(["Host", "Password", "Card number", "Code", "Born", "Date of birth"])
    sheet.append(["qcl-sw1", "blue-Kettle9", 21160007731404, "E0417", "x", "14/03/1987"])
    sheet.append(["qcl-sw2", "green pan", 21160007731412, "E0417", "y", "1987-03-15"])
    data = io.BytesIO()
    book.save(data)
    read = openpyxl.load_workbook(io.BytesIO(copied_bytes("a.xlsx", data.getvalue())))
    cells = [[str(cell) for cell in row] for row in read.active.values]
    text = " ".join(cell for row in cells for cell in row)
    gone = ["qcl-sw1", "qcl-sw2", "blue-Kettle9", "green pan", "21160007731404", "21160007731412", "1987"]
    assert [value for value in gone if value in text] == []
    assert cells[0] == ["Host", "Password", "Card number", "Code", "Born", "Date of birth"]
    assert [row[3] for row in cells[1:]] == ["E0417", "E0417"]


def test_texts_that_sheets_share_are_told_by_the_heads_too() -> None:
    shared = "".join(f"<si><t>{text}</t></si>" for text in ("Password", "Code", "green pan", "E0417", "Card number"))
    sheet = "".join(
        f'<row r="{row}">'
        + "".join(f'<c r="{cell}{row}" t="s"><v>{number}</v></c>' for cell, number in cells)
        + "</row>"
        for row, cells in ((1, (("A", 0), ("B", 1), ("C", 4))), (2, (("A", 2), ("B", 3))))
    )
    sheet = sheet.removesuffix("</row>") + '<c r="C2"><v>21160007731404</v></c></row>'
    data = make_zip(**{
        "[Content_Types].xml": b"<Types xmlns='t'/>", "xl__sharedStrings.xml": f'<sst xmlns="m">{shared}</sst>'.encode(),
        "xl__worksheets__sheet1.xml": f'<worksheet xmlns="m"><sheetData>{sheet}</sheetData></worksheet>'.encode(),
    })  # fmt: skip
    with zipfile.ZipFile(io.BytesIO(copied_bytes("a.xlsx", data))) as archive:
        text = archive.read("xl/sharedStrings.xml").decode()
        cells = archive.read("xl/worksheets/sheet1.xml").decode()
    assert "green pan" not in text
    assert "E0417" in text
    assert "21160007731404" not in cells, "a number below a head that is shared"


def word(*rows: tuple[str, ...]) -> bytes:
    """A document with one table."""
    cells = "".join(
        "<w:tr>" + "".join(f"<w:tc><w:p><w:r><w:t>{cell}</w:t></w:r></w:p></w:tc>" for cell in row) + "</w:tr>"
        for row in rows
    )
    body = f'<w:document xmlns:w="http://w"><w:body><w:tbl>{cells}</w:tbl></w:body></w:document>'
    return make_zip(**{"[Content_Types].xml": b"<Types xmlns='t'/>", "word__document.xml": body.encode()})


@pytest.mark.parametrize(
    ("rows", "gone", "stays"),
    [
        ([("User", "Password"), ("odile", "blue-Kettle9"), ("bruno", "green pan")], ["odile", "blue-Kettle9", "bruno", "green pan"], ["User", "Password"]),
        ([("Patron", "Odile Marchmont"), ("Password", "blue-Kettle9"), ("Error", "E0417")], ["Marchmont", "blue-Kettle9"], ["E0417", "Patron"]),
    ],
)  # fmt: skip
def test_the_heads_of_a_documents_table_tell_of_its_cells(
    rows: list[tuple[str, ...]], gone: list[str], stays: list[str]
) -> None:
    with zipfile.ZipFile(io.BytesIO(copied_bytes("a.docx", word(*rows)))) as archive:
        text = archive.read("word/document.xml").decode()
    assert [value for value in gone if value in text] == []
    assert [value for value in stays if value not in text] == []
