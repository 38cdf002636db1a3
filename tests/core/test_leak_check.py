"""The leak check finds originals wherever they are left, and nothing else."""

from __future__ import annotations

import base64
import gzip
import io
import lzma
import random
import tarfile
import zipfile
from email.message import EmailMessage
from urllib.parse import quote

import pytest

from sealpacket.core.redact import Blind, Legend, check_file, leak_check
from sealpacket.core.redact.pseudonyms import legend as legend_module
from sealpacket.core.redact.verify import leaks as module


def legend(*originals: bytes) -> Legend:
    """A legend with one placeholder for each original."""
    made = Legend()
    for number, original in enumerate(originals):
        made.add(b"[secret:%s]" % bytes([97 + number % 26]) * 1 + b"", original)
    return made


def found(outgoing: bytes, *originals: bytes, exempt: tuple[bytes, ...] = ()) -> list[bytes]:
    """The originals that are found."""
    return [
        leak.original for leak in leak_check([outgoing], legend(*originals), exempt=exempt).leaks
    ]


@pytest.mark.parametrize(
    ("outgoing", "original", "leaks"),
    [
        (b"say hunter22 here", b"hunter22", True),
        (b"say HUNTER22 here", b"hunter22", True),
        (b"xhunter22x", b"hunter22", True),
        (b"hunter2", b"hunter22", False),
        (b"torv at start", b"torv", True),
        (b"at the end torv", b"torv", True),
        (b"chtorv and torved", b"torv", False),
        (b"the_torv_of", b"torv", False),
        (b"a torv-level thing", b"torv", True),
        (b"abc", b"abc", False),
        (b"", b"hunter22", False),
        ("grün-12345".encode(), "grün-12345".encode(), True),
        (b"new\nline-secret", b"new\nline-secret", True),
        (b"of =?charset?q?Hello?= and =?utf-8?b?!!!!?= and hunter22", b"hunter22", True),
    ],
)
def test_what_counts_as_a_leak(outgoing: bytes, original: bytes, leaks: bool) -> None:
    assert found(outgoing, original) == ([original] if leaks else [])


@pytest.mark.parametrize(
    ("kind", "original", "is_searched"),
    [
        ("secret", b"string", False),
        ("user", b"Optional", False),
        ("secret", b"Name.Variable:", False),
        ("secret", b"keyPassword", False),
        ("secret", b"RSAPrivateKey", False),
        ("secret", b"sunken-ferry", True),
        ("secret", b"string7", True),
        ("secret", b"Kettle", True),
        ("user", b"odile", True),
        ("host", b"printer", False),
        ("host", b"printer.example", True),
        ("asset", b"serial", True),
    ],
)
def test_ordinary_words_are_not_searched_and_counted(
    kind: str, original: bytes, is_searched: bool
) -> None:
    made = Legend()
    made.add(f"[{kind}:aaaaaaaaaa]".encode(), original)
    report = leak_check([b"all of " + original + b" here"], made)
    assert (report.searched, report.too_short, report.clean) == (
        int(is_searched),
        int(not is_searched),
        not is_searched,
    )


@pytest.mark.parametrize("around", [b"", b"\n" * 3, b" filler" * 900, b"line\n" * 900])
def test_a_coat_is_taken_off_wherever_its_marks_stand(around: bytes) -> None:
    outgoing = (
        around
        + b"p=s%65cret%2Dvalue-07"
        + around
        + b"other&#45;value&#x2d;08"
        + around
        + b"a&lt;b %41"
        + around
    )
    leaks = leak_check([outgoing], legend(b"secret-value-07", b"other-value-08")).leaks
    assert {leak.original for leak in leaks} == {b"secret-value-07", b"other-value-08"}


def test_values_too_short_to_search_are_counted() -> None:
    report = leak_check([b"abc abcd"], legend(b"abc", b"abcd"))
    assert (report.searched, report.too_short, report.clean) == (1, 1, False)


def test_nothing_to_search_is_clean() -> None:
    assert leak_check([b"anything"], Legend()).clean


def test_what_the_plan_keeps_is_no_leak() -> None:
    assert found(b"TN9-44120-A", b"TN9-44120-A", exempt=(b"tn9-44120-a",)) == []


def test_a_placeholder_is_no_leak_of_its_own_kind() -> None:
    made = Legend()
    made.add(b"[mail:aaaaaaaaaa]", b"mail")
    made.add(b"[user:cccccccccc]", b"aaaaaaaaaa")
    made.add(b"[user:dddddddddd]", b"bbbbbbbbbb")
    assert leak_check([b"see [mail:aaaaaaaaaa] there"], made).clean
    assert [one.original for one in leak_check([b"see [mail:bbbbbbbbbb] there"], made).leaks] == [
        b"bbbbbbbbbb"
    ]
    assert not leak_check([b"see [mail:x] there"], made).clean


def test_a_placeholder_of_a_shape_hides_what_is_in_it_but_no_original_does() -> None:
    made = Legend()
    made.add(b"[host:aaaaaaaaaa]qx7.redacted.invalid", b"redacted")
    made.add(b"[ip:bbbbbbbbbb]240.1.2.3", b"10.40.7.22")
    assert leak_check([b"see qx7.redacted.invalid and 240.1.2.3."], made).clean
    assert not leak_check([b"see qx8.redacted.invalid there"], made).clean
    made.add(b"[user:cccccccccc]x", b"QX7.redacted.invalid")
    originals = {
        one.original for one in leak_check([b"see qx7.redacted.invalid there"], made).leaks
    }
    assert originals == {b"redacted", b"QX7.redacted.invalid"}


@pytest.mark.parametrize("most", [1, 3, 1000])
def test_more_originals_than_memory_holds_are_searched_for_in_several_passes(
    monkeypatch: pytest.MonkeyPatch, most: int
) -> None:
    monkeypatch.setattr(legend_module, "IN_MEMORY", 0)
    values = [b"secret-value-%02d" % number for number in range(40)]
    made = Legend()
    for value in values:
        made.add(b"[secret:aaaaaaaaaa]", value)
        made.make_room()
    made.add(b"[secret:aaaaaaaaaa]", b"abc")
    monkeypatch.setattr(module, "AT_ONCE", most)
    report = check_file(
        io.BytesIO(b"see SECRET-value-07 and secret-value-31, secret-value-07"), made
    )
    assert [(one.original, one.offset, one.times) for one in report.leaks] == [
        (b"secret-value-07", 4, 2),
        (b"secret-value-31", 24, 1),
    ]
    assert (report.searched, report.too_short) == (40, 1)


def test_the_place_and_the_number_of_leaks_are_told() -> None:
    leak = leak_check([b"x" * 100 + b" hunter22 hunter22"], legend(b"hunter22")).leaks[0]
    assert (leak.offset, leak.times) == (101, 2)


@pytest.mark.parametrize("split", range(1, 30))
def test_a_leak_across_blocks_is_found_once(monkeypatch: pytest.MonkeyPatch, split: int) -> None:
    monkeypatch.setattr(module, "_WINDOW", 4)
    text = b"filler hunter22 and torv too"
    report = leak_check([text[:split], text[split:]], legend(b"hunter22", b"torv"))
    assert sorted((leak.original, leak.offset, leak.times) for leak in report.leaks) == [
        (b"hunter22", 7, 1),
        (b"torv", 20, 1),
    ]


def test_many_originals_in_a_large_copy() -> None:
    r = random.Random(5)
    originals = [f"value-{number:04d}-{r.getrandbits(32):08x}".encode() for number in range(1000)]
    made = Legend()
    for number, original in enumerate(originals):
        made.add(b"[secret:%010d]" % number, original)
    planted = r.sample(originals, 20)
    blocks = [b"clean words " * 20_000 + value + b" " for value in planted]
    report = leak_check(blocks, made)
    assert report.searched == 1000
    assert sorted(leak.original for leak in report.leaks) == sorted(planted)


SECRET = b"Harrowgate-77-quiet"


@pytest.mark.parametrize(
    "copy",
    [
        quote(SECRET.decode(), safe="").replace("-", "%2D").encode(), base64.b64encode(b"it is " + SECRET + b"!"),
        base64.urlsafe_b64encode(b"\xfb\xff" + SECRET).rstrip(b"="), SECRET.hex().encode(), SECRET.hex(" ").upper().encode(),
        b"".join(b"&#x%x;" % byte for byte in SECRET), SECRET.decode().encode("utf-16"), SECRET.decode().encode("utf-16-be"),
        b"Harrow=\r\ngate-77-quiet", b"Harrowgate-\n   77-quiet", SECRET.replace(b"-", b"=2D"), b"Harrow\x1b[31mgate-77-quiet",
        SECRET.replace(b"-", b"\\u002d"), base64.b64encode(base64.b64encode(b"twice " + SECRET)),
        base64.b64encode(quote(SECRET.decode()).replace("-", "%2D").encode()),
    ],
)  # fmt: skip
def test_an_original_in_any_coat_is_a_leak(copy: bytes) -> None:
    assert found(b"before " + copy + b" after\n", SECRET) == [SECRET]


def packed(name: str) -> bytes:
    """A file of that kind with the secret in it."""
    data = io.BytesIO()
    if name == "zip in tar.gz":
        inner = io.BytesIO()
        with zipfile.ZipFile(inner, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("a.log", b"see " + SECRET)
        with tarfile.open(fileobj=data, mode="w:gz") as tar:
            info = tarfile.TarInfo("a.zip")
            info.size = len(inner.getvalue())
            tar.addfile(info, io.BytesIO(inner.getvalue()))
    elif name == "member's name":
        with zipfile.ZipFile(data, "w") as archive:
            archive.writestr(SECRET.decode() + ".log", b"nothing")
    elif name == "owner":
        with tarfile.open(fileobj=data, mode="w") as tar:
            info = tarfile.TarInfo("a")
            info.uname = SECRET.decode()
            tar.addfile(info)
    elif name == "xz":
        return lzma.compress(b"see " + SECRET)
    elif name == "mail":
        mail = EmailMessage()
        mail["Subject"] = "x"
        mail.add_attachment(
            gzip.compress(SECRET), maintype="application", subtype="gzip", filename="a.gz"
        )
        return mail.as_bytes()
    return data.getvalue()


@pytest.mark.parametrize("name", ["zip in tar.gz", "member's name", "owner", "xz", "mail"])
def test_an_original_inside_any_file_is_a_leak(name: str) -> None:
    report = check_file(io.BytesIO(packed(name)), legend(SECRET))
    assert [leak.original for leak in report.leaks] == [SECRET]


def test_a_check_that_is_blind_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    module.find_canaries(b"any copy\n")
    monkeypatch.setattr(module, "bare", lambda block, around, *, blanks: iter([block]))
    with pytest.raises(Blind, match="base64"):
        check_file(io.BytesIO(b"any copy"), legend(SECRET))


def test_a_part_of_what_is_kept_is_no_leak_and_the_same_by_itself_is() -> None:
    made = legend(b"bs-array-a")
    kept = [b"BS-array-a-c1.quillmere.example"]
    assert leak_check([b"see bs-array-A-c1.quillmere.example now"], made, exempt=kept).clean
    assert not leak_check([b"see bs-array-a-c2.quillmere.example now"], made, exempt=kept).clean
    both = leak_check([b"bs-array-a bs-array-a-c1.quillmere.example bs-array-a"], made, exempt=kept)
    assert [(leak.offset, leak.times) for leak in both.leaks] == [(0, 2)]


@pytest.mark.parametrize(
    "copy",
    [
        b"as Marit\nOswin said",
        b"> as Marit\n> Oswin said",
        b"as Marit\r\n  Oswin said",
        b"4d617269740a\n as Marit%20Oswin",
    ],
)
def test_a_name_is_found_over_a_line_end_beside_originals_without_a_blank(copy: bytes) -> None:
    made = Legend()
    made.add(b"[secret:aaaaaaaaaa]", SECRET)
    made.add(b"[person:bbbbbbbbbb]", b"Marit Oswin")
    assert [leak.original for leak in leak_check([copy], made).leaks] == [b"Marit Oswin"]


def test_files_that_leave_together_are_told_apart() -> None:
    secret, kept = b"larch-4471-teal", b"OBF2-118804"
    zipped = io.BytesIO()
    with zipfile.ZipFile(zipped, "w") as archive:
        archive.writestr("inner.txt", b"key " + base64.b64encode(b"it is " + secret + b" now"))
    texts = {"case.json": b'{"serial": "OBF2-118804"}', "more.zip": zipped.getvalue(), "a": b""}
    reports = module.check_texts(texts, legend(secret, kept), exempt=[kept])
    assert {name for name, report in reports.items() if not report.clean} == {"more.zip"}
    assert [leak.original for leak in reports["more.zip"].leaks] == [secret]


def test_a_check_of_files_that_finds_no_canary_is_blind(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module.LeakCheck, "_search", lambda *_: None)
    with pytest.raises(Blind):
        module.check_texts({"case.json": b"{}"}, legend(b"larch-4471-teal"))
