"""Where one value goes, another of its kind goes too: every value of the hard lines is exchanged for others in other forms.

A line that is found because its value has a lucky form (a host with a number, a password with a sign, a telephone number
with blanks) tells nothing of the next line; this does.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from sealpacket.core.redact import Catalogue, Outcome, Placeholders
from sealpacket.core.redact.engine import Run

CATALOGUE = Catalogue.build(domains=["quillmere.example"])
PLACEHOLDER = re.compile(r"\[([a-z]+):[a-z2-7]{10}\]")
LINES = (Path(__file__).parent / "hard_lines.txt").read_text(encoding="utf-8").splitlines()

OTHERS = [
    ("ip", ["2001:db8:14:3::9", "203.0.113.77", "fe80::1ff:fe23:4567:890a"]),
    ("mac", ["02-5E-11-AA-BB-CC", "025e.11aa.bbcc", "02:5E:11:AA:BB:CC"]),
    ("phone", ["+44 1632 960771", "(01632) 960-771", "01632-960-771", "01632960771", "0431/5550-199"]),
    ("mail", ["o'brien+lib@mail.quillmere.example", "x_y-z@sub.other.test"]),
    ("person", ["Priya Raghunathan", "Hans-Peter Müller"]),
    ("birth", ["14/03/1987", "14 March 1987", "Mar 14, 1987", "14.03.1987", "1987-03-14"]),
    ("iban", ["GB29 NWBK 6016 1331 9268 19", "DE89370400440532013000"]),
    ("reader", ["21160007731404"]),
    ("host", ["weir-lock.quillmere.example", "node3.lan"]),
]


def redacted(text: str) -> str:
    """The text as it goes out."""
    return Run(CATALOGUE, Placeholders(b"k" * 32), Outcome()).text(text.encode()).decode("utf-8", "replace")


def places(kind: str) -> Iterator[tuple[str, int, int]]:
    """Lines with the places of each value of a kind that is masked in them."""
    for line in LINES:
        text = line.split(" ||| ")[0].replace("\\t", "\t")
        out = redacted(text)
        if not text or kind not in [found[1] for found in PLACEHOLDER.finditer(out)] or PLACEHOLDER.search(text):
            continue
        between = re.split(r"\[[a-z]+:[a-z2-7]{10}\]", out)
        whole = re.fullmatch("(.+?)".join(re.escape(part) for part in between), text, re.DOTALL)
        for group, found in enumerate(PLACEHOLDER.finditer(out), 1):
            if whole and found[1] == kind and (kind != "person" or " " in whole[group]):
                yield text, whole.start(group), whole.end(group)


@pytest.mark.parametrize(("kind", "others"), OTHERS, ids=[kind for kind, _ in OTHERS])
def test_another_value_of_its_kind_goes_as_well(kind: str, others: list[str]) -> None:
    tried, stayed = 0, []
    for text, start, end in places(kind):
        for other in others:
            tried += 1
            line = text[:start] + other + text[end:]
            if other in redacted(line):
                stayed.append(line)
    assert tried >= 30
    assert stayed == []


WORDS = """\
password=THIS
password: THIS
SMTP_PASS=THIS
DB_PASS: THIS
{"password":"THIS"}
<password>THIS</password>
define('DB_PASSWORD', 'THIS');
PW: THIS
--password THIS
enable secret THIS
snmp-server community THIS RO
wpa_passphrase=THIS
The password is THIS.
The root password on srv-4 was changed to THIS last night.
We changed the admin password from THIS to Birch#45.
login odile pass THIS
vtp password THIS
net user odile THIS /add
requests.post(url, auth=('odile', 'THIS'))
expect "assword:" { send "THIS\\r" }
SSID quill-staff, key THIS, channel 6
Benutzer kvirtanen, Kennwort THIS
ansible_become_pass: THIS"""


@pytest.mark.parametrize("line", WORDS.splitlines())
@pytest.mark.parametrize("word", ["otterpond", "Lantern", "KESTREL", "77heron"])
def test_a_password_may_be_a_plain_word(line: str, word: str) -> None:
    assert word not in redacted(line.replace("THIS", word))


MACHINES = """\
hostname=HERE
"hostname":"HERE"
host=HERE user=odile
server: HERE
{"deviceName":"HERE"}
Server=HERE;Database=loans
ssh odile@HERE
psexec \\\\HERE -u odile cmd
//HERE/loans /mnt cifs credentials=/etc/c 0 0
PING HERE (10.20.3.14) 56(84) bytes of data.
Received: from HERE (unknown [10.40.3.7]) by mx1.quillmere.example
Received: from pc-1 (unknown [10.40.3.7]) by HERE (Postfix) with ESMTPA id 4F2B1
fatal: [HERE]: UNREACHABLE!
scp x.tar HERE:/tmp
ssh: connect to host HERE port 22: Connection refused
Connecting as loans_app to HERE:5432
Host HERE resolves to 10.20.4.17
10.40.3.7 HERE
tcp 0 0 10.20.30.40:445 HERE:5123 ESTABLISHED
description Uplink to HERE Te1/1/4
Access denied for user 'odile'@'HERE' (using password: YES)"""


@pytest.mark.parametrize("line", MACHINES.splitlines())
@pytest.mark.parametrize("name", ["fennel", "SRVAPP01", "ab-core-sw2"])
def test_a_machine_may_be_called_by_a_plain_word(line: str, name: str) -> None:
    assert name not in redacted(line.replace("HERE", name))


@pytest.mark.parametrize(
    "line",
    [
        "The password is outdated and must be changed.",
        "The password was reset by the helpdesk.",
        "Enter the new password twice.",
        "PASS: objcopy of sections",
        "second pass: breakpoint in first file",
        "'type': ['text', 'password', 'checkbox', 'radio']",
        "Server: Apache",
        "host: localhost, level: info",
        "node is not ready",
        "server=production",
        "the server was rebooted",
    ],
)
def test_words_about_passwords_and_machines_stay(line: str) -> None:
    assert redacted(line) == line
