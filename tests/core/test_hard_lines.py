"""Lines as devices, systems and people really write them: what must go, and lines of which nothing may be touched."""

from __future__ import annotations

from pathlib import Path

import pytest

from sealpacket.core.redact import Catalogue, Outcome, Placeholders
from sealpacket.core.redact import _native as native
from sealpacket.core.redact.engine import Run
from sealpacket.core.redact.rules import REGISTRY
from tests.some import in_batches, some_of

CATALOGUE = Catalogue.build(domains=["quillmere.example"])

GOES: list[tuple[str, list[str]]] = [
    (
        "Nov  3 08:12:12 br07-kiosk2 sudo: moswin : TTY=pts/0 ; PWD=/home/moswin ; USER=root",
        ["br07", "moswin"],
    ),
    (
        'patron card=21234000123456 name="Elsie Thornbury" phone=01632 960142',
        ["21234", "Elsie", "960142"],
    ),
    ("Borrower: Thornbury, Elsie (card 21234000123456)", ["Thornbury", "Elsie", "21234"]),
    ('"patronName": "Oswald Pike", "patronBarcode": "21234000654321"', ["Oswald", "21234"]),
    ("library card no 2 1234 00012 3456 was blocked", ["00012"]),
    (r'{"username":"elsie","password":"p\"w,d\\9","pin":4821}', ["elsie", "w,d", "4821"]),
    (r"{\"email\":\"e.t@readers.example\",\"password\":\"inner-pw1\"}", ["e.t@", "inner-pw1"]),
    ("smtp_pass: 'mail pw 1'", ["mail pw"]),
    ("set password to Summer2026!", ["Summer"]),
    ("The password is Summer2026! for now", ["Summer"]),
    ('new password "Winter2026" accepted', ["Winter"]),
    ("guest wifi key is Read1ngR00m", ["Read1ng"]),
    ("passphrase for key '/etc/backup/id': open sesame", ["sesame"]),
    ("docker login -u bob -p dockerpw reg.quillmere.example", ["bob", "dockerpw", "reg."]),
    ("machine git.quillmere.example login elsie password netrcPw90", ["git.", "elsie", "netrc"]),
    ('cmd="net user ethorn N3wPass! /add"', ["N3wPass"]),
    (r"schtasks /create /ru QCL\svc07 /rp T4skPw!", ["svc07", "T4sk"]),
    ("openssl enc -aes-256-cbc -k sslPw80 -in a", ["sslPw80"]),
    ("keytool -storepass ksPw83 -keypass ksPw84", ["ksPw83", "ksPw84"]),
    ('ConvertTo-SecureString "psPw87" -AsPlainText -Force', ["psPw87"]),
    (r"HKLM\Software\X\Password REG_SZ RegPw123", ["RegPw"]),
    ('<input type="password" name="pw" value="formPw99">', ["formPw"]),
    ('variable "db_password" { default = "tf-s3cret-9" }', ["tf-s3cret"]),
    ("Mot de passe : été2026!", ["2026"]),
    (' pre-shared-key ascii-text "$9$abcXYZ"', ["abcXYZ"]),
    (" standby 1 authentication md5 key-string hsrpK3y", ["hsrpK3y"]),
    (" ppp chap password 0 chapPw1", ["chapPw1"]),
    ("ip ftp password ftpPw22", ["ftpPw22"]),
    ("aaa-server RAD host 10.1.1.2 key r4dPw", ["10.1.1.2", "r4dPw"]),
    ("config wlan security wpa akm psk set-key ascii WlanPw123 1", ["WlanPw"]),
    ("radius server RAD1 key R4d1us!", ["R4d1us"]),
    ("license key: 1234-5678-90AB-CDEF", ["90AB"]),
    ("abc-123456789012-1234567890123-zkvbtqwmrplsndfhgcxy sent", ["zkvbt"]),
    ("card 4111 1111 1111 1111 exp 12/28 cvv 123", ["4111", "123"]),
    ("Account number 12345678 sort code 20-00-00", ["12345678", "20-00"]),
    ("passport no 123456789", ["123456789"]),
    (
        "(01632) 960123 or 0044 1632 960 124 or call on 01632 960555",
        ["960123", "960 124", "960555"],
    ),
    ("client ::ffff:10.40.7.31 connected", ["40.7.31"]),
    ("reach 10.40.7[.]31 at hxxp://kiosk-7.quillmere[.]example", ["10.40", "kiosk-7"]),
    ("redis://:redispw@cache07:6379/0", ["redispw", "cache07"]),
    ("Server=tcp:sql01;Database=lib;User Id=sa7;Password=Pa$$w0rd;", ["sql01", "sa7", "w0rd"]),
    (
        "DHCPACK on 10.40.7.31 to 02:1a:de:ad:be:ef (kiosk-fennel) via eth0",
        ["10.40", "02:1a", "fennel"],
    ),
    (
        "<Data Name='TargetUserName'>ethorn</Data><Data Name='WorkstationName'>WS-0412</Data>",
        ["ethorn", "WS-0412"],
    ),
    ("<Computer>ws-0412</Computer>", ["ws-0412"]),
    ('"DefaultUserName"="svc-kiosk"', ["svc-kiosk"]),
    ("logon S-1-5-21-3623811015-3361044348-30300820-1013 ok", ["3623811015"]),
    ("elsie@laptop-4:~/work$ ls", ["elsie", "laptop-4"]),
    ('From: "Ines Harrowgate" <sip:ines@voip.quillmere.example>', ["Ines", "voip"]),
    ("sn: Thornbury", ["Thornbury"]),
    ("serial number: LL-K7-009812 S/N: TN9-44120-A", ["009812", "44120"]),
    ("contract no. QCL-2024-0091", ["0091"]),
    ("12 Fennel Lane, Quillmere QM3 7AB", ["Fennel", "7AB"]),
    ("Lieferung an Mühlenstraße 12", ["straße 12"]),
]

STAYS = """\
[    0.512331] ACPI: PM-Timer IO Port: 0x608
[ 1234.567893] RIP: 0010:__schedule+0x2e8/0x8b0
[ 1234.567895] Code: 48 8b 05 00 00 00 00 48 85 c0 74 05 48 8b 00
\tat org.catalog.loans.LoanService.renew(LoanService.java:142)
\tat com.kiosk.internal.Loan$Bar.lambda$0(Loan.java:12)
Caused by: java.sql.SQLException: Connection is not available, request timed out after 30000ms.
error code 0x80070005 (E_ACCESSDENIED) at 0x00007ff6a1b2c3d4
%LINEPROTO-5-UPDOWN: Line protocol on Interface GigabitEthernet1/0/12, changed state to down
checksum sha256:e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855
uuid=123e4567-e89b-12d3-a456-426614174000 state=ok
trace_id=4bf92f3577b34da6a3ce929d0e0e4736 span_id=00f067aa0ba902b7
Firmware Version: 12.5.3.0 released 2026-05-01
TCP: Possible SYN flooding on port 443. Sending cookies.
Authentication failure: password expired
The password is incorrect. Try again.
password authentication disabled
Token is invalid or has expired
Password for user root:
key exchange algorithm curve25519-sha256 chosen
pass 12 of 14 tests, fail 2
auth=none retries=3
lodash@4.17.21 types@20.1.0 next@latest
Killed process 4211 (java) total-vm:8123456kB, anon-rss:4012345kB
disk sda: 512110190592 bytes, 1000215216 sectors
block 1234567890123 offset 4096 length 65536
route default via gateway metric 100
cipher TLS_AES_256_GCM_SHA384 protocol TLSv1.3
partition key=3 offset=120
session id 12 closed
order id 5 shipped
serial console ttyS0 at 115200
serial number of the volume is missing
contract: none
card reader not responding (code RDR-1042)
card slot 0000123 empty
library version 2.14
member 3 of group 12 joined
Exit code: -1073741819
time=1730621531 ts=1730621531123 epoch 1730621531.123
pin 7 of connector J4 high
root:*:19000:0:99999:7:::
""".splitlines()


HERE = Path(__file__).parent
for _line in (HERE / "hard_lines.txt").read_text("utf-8").splitlines():
    if not _line.startswith("#"):
        _text, *_values = _line.replace("\\t", "\t").split(" ||| ")
        GOES.append((_text, _values))
STAYS += [
    line
    for line in (HERE / "clean_lines.txt").read_text("utf-8").splitlines()
    if not line.startswith("#")
]


def redacted(line: str) -> str:
    """The line redacted, the same alone and among others."""
    alone, among = (
        Run(CATALOGUE, Placeholders(b"k" * 32), Outcome()).text(text.encode()).decode()
        for text in (line, f"INFO\n{line}\nINFO\n")
    )
    assert among.removeprefix("INFO\n").removesuffix("\nINFO\n") == alone
    return alone


@pytest.mark.parametrize("rows", in_batches(GOES))
def test_what_must_go_goes(rows: list[tuple[str, list[str]]]) -> None:
    left = {}
    for line, values in rows:
        copy = redacted(line)
        if any(value in copy for value in values):
            left[line] = copy
    assert left == {}


@pytest.mark.parametrize("lines", in_batches(STAYS))
def test_nothing_of_a_clean_line_is_touched(lines: list[str]) -> None:
    assert [redacted(line) for line in lines] == lines


def test_what_one_detector_refuses_another_may_take_at_the_same_place_or_behind_it() -> None:
    assert "lhm#83" not in redacted("GET /x?a=b x&access_key=lhm#83-cOqaWEKu&y=1")
    assert "zkvbt" not in redacted("abc-123456789012-1234567890123-zkvbtqwmrplsndfhgcxy")


def test_no_line_is_found_worse_after_many_others() -> None:
    """More sets of detectors are asked for than are kept ready, and again in another order."""
    run = Run(CATALOGUE, Placeholders(b"k" * 32), Outcome())
    lines = some_of(GOES, 3)
    for turn in (lines, lines[::-1]):
        for line, values in turn:
            copy = run.text(line.encode() + b" ").decode()
            assert [value for value in values if value in copy] == [], copy


def without_anchor(lines: list[str]) -> set[str]:
    """Lines on which a detector finds something though none of its anchors is there."""
    found: set[str] = set()
    for detector in some_of([one for one in REGISTRY if one.anchors and not one.lines], 8):
        anchors = [native.Pattern(anchor) for anchor in detector.anchors]
        pattern = native.Pattern(detector.whole)
        found |= {
            line for line in lines
            if pattern.count(line.encode()) and not any(one.count(line.encode()) for one in anchors)
        }  # fmt: skip
    return found


def test_no_anchor_hides_anything_on_any_of_these_lines() -> None:
    everywhere = Catalogue.build(domains=["quillmere.example"], everywhere=True)
    whole, few = (Run(one, Placeholders(b"k" * 32), Outcome()) for one in (everywhere, CATALOGUE))
    lines = [*(line for line, _ in GOES), *STAYS]
    for line in without_anchor(lines).union(some_of(lines, 64)):
        assert few.text(line.encode()).decode() == whole.text(line.encode()).decode()
