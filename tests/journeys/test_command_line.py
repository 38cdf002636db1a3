"""The whole journey on the command line, as someone would type it; and what scripts rely on."""

from __future__ import annotations

import os
import stat
import subprocess
from pathlib import Path
from typing import Any

import pytest

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo import evidence
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.world import sheet_text
from tests.conftest import ARRAY, Tarnfell
from tests.journeys.terminal import BINARY, Terminal
from tests.some import SOON


def test_the_sign_in_is_kept_for_the_user_alone(shell: Terminal, house: RunningHouse) -> None:
    assert stat.S_IMODE(shell.folder.stat().st_mode) == 0o700
    for path in shell.folder.iterdir():
        assert stat.S_IMODE(path.stat().st_mode) == 0o600
        assert house.sign_ins["marit"] not in path.read_text()


def test_the_whole_journey(
    shell: Terminal, house: RunningHouse, tarnfell: Tarnfell, tmp_path: Path
) -> None:
    assert "TN9-44120-A" in shell.run("find", "book", "store", "array")
    assert "Serial TN9-44120-A is listed on contract T-2210." in shell.run(
        "coverage", "TN9-44120-A"
    )

    noted = shell.json("packet", "note", "Volumes on the array are slow", "--asset", "TN9-44120-A", "--text",
                       "Volumes on the book-store array answer slowly since this morning.")  # fmt: skip
    number = noted["number"]
    assert "Since when?" in shell.run("packet", "checks", number, code=3)
    asked = shell.run("packet", "questions", number)
    assert "from asset TN9-44120-A" in asked
    assert "volume/latency" in asked
    said = shell.run("packet", "answer", number, "category=volume/latency", "severity=2",
                     "began_at=2026-11-20T07:40+00:00", "impact=All branches", "tried=Moved a volume: no change")  # fmt: skip
    assert "nothing stops it" in said

    log = evidence.write_controller_log(tmp_path / "controller.log", size=2_000_000)
    configuration = evidence.write_configuration(tmp_path / "array.cfg")
    shown = shell.run("exhibit", "add", number, str(log), str(configuration))
    assert "controller.log" in shown
    assert "ready" in shown
    review = shell.run("exhibit", "review", number, "array.cfg", "--kind", "secret")
    assert "password = thrush-In-the-9-reeds" in review
    assert "password = [secret:" in review
    shell.run("exhibit", "fetch", number, "array.cfg", "--out", str(tmp_path / "out.cfg"))
    assert "thrush" not in (tmp_path / "out.cfg").read_text()

    assert shell.json("packet", "letter", number)["body"]["case"]["priority"] == "2"
    assert "is sealed: 6 files" in shell.run("packet", "seal", number)
    bag = tmp_path / "bag.zip"
    shell.run("packet", "bag", number, "--out", str(bag))
    assert f"{number} is whole: 6 files" in shell.run("verify", str(bag))
    lodged = shell.run("packet", "lodge", number)
    reference = shell.json("packet", "show", number)["reference"]
    assert f"Tarnfell Storage calls it {reference}" in lodged
    assert reference in shell.run("packet", "lodge", number), "lodging again is not a second case"

    tarnfell.steer(case=reference, ask="Which firmware do both controllers run?")
    assert "asks: Which firmware" in shell.run("packet", "follow", number)
    assert "Which firmware" in shell.run("today")
    assert "Both run 7.4.2." in shell.run("packet", "reply", number, "Both run 7.4.2.")
    assert number in shell.run("packet", "list", "--life", "lodged")
    assert "packet lodged" in shell.run("custody", "list", "--subject", f"packet {number}")
    assert "The log is whole" in shell.run("custody", "verify")


def test_only_the_hours_that_matter_are_sent_in(shell: Terminal, tmp_path: Path) -> None:
    number = shell.json("packet", "note", "Volumes are slow again", "--asset", "TN9-44120-A")[
        "number"
    ]
    log = tmp_path / "controller.log"
    log.write_text(
        "".join(f"2026-11-23 {of // 60:02d}:{of % 60:02d}:12 volume 7\n" for of in range(1440))
    )
    words = ("--around", "2026-11-23T08:40", "--hours", "0.5", "--zone", "Europe/London")
    shell.run("exhibit", "add", number, str(log), *words)
    shell.run("exhibit", "fetch", number, "controller.log", "--out", str(tmp_path / "sent.log"))
    assert (tmp_path / "sent.log").read_text().splitlines() == log.read_text().splitlines()[505:535]
    said = shell.run("exhibit", "add", number, str(log), "--around", "2020-01-01T08:00", code=1)
    assert "controller.log has nothing in these hours." in said


def test_a_refusal_ends_with_three_and_says_what_to_do(
    shell: Terminal, marit: SealPacket, sealed: Any, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(refuse="not_entitled")
    said = shell.run("packet", "lodge", sealed.number, code=3)
    assert "Nothing was lost" in said
    assert "Ask Tarnfell which support id covers this array" in said
    assert f"sealpacket packet reopen {sealed.number}" in said
    assert "drafting" in shell.run("packet", "reopen", sealed.number)
    assert "is withdrawn" in shell.run(
        "packet", "withdraw", sealed.number, "--reason", "It was a loose cable."
    )


def test_a_bag_that_was_altered_ends_with_four(
    shell: Terminal, marit: SealPacket, sealed: Any, tmp_path: Path
) -> None:
    import zipfile

    bag, altered = (
        marit.packets.fetch_bag(sealed.number, tmp_path / "bag.zip"),
        tmp_path / "altered.zip",
    )
    with zipfile.ZipFile(bag) as old, zipfile.ZipFile(altered, "w") as new:
        for name in old.namelist():
            new.writestr(name, old.read(name).replace(b"serial", b"cereal"))
    assert "has been altered" in shell.run("verify", str(altered), code=4)
    assert shell.json("verify", str(altered), code=4)["holds"] is False
    key = tmp_path / "key.jwk"
    key.write_text(shell.run("seal-keys"))
    assert shell.json("verify", str(bag), "--key", str(key))["holds"] is True


@pytest.mark.parametrize(
    "arguments",
    [("today",), ("find", "array"), ("coverage", "TN9-44120-A"), ("packet", "list"), ("desk", "list"), ("custody", "list"),
     ("custody", "verify"), ("vendor", "list"), ("contract", "list"), ("entitlement", "list"), ("product", "list"),
     ("asset", "list", "kiosk"), ("site", "list"), ("person", "list"), ("login", "list"), ("asset", "show", "TN9-44120-A")],
)  # fmt: skip
def test_every_reading_command_speaks_to_people_and_to_scripts(
    shell: Terminal, noted: PacketShown, arguments: tuple[str, ...]
) -> None:
    assert shell.run(*arguments).strip()
    assert shell.json(*arguments)


def test_what_is_found_is_not_called_nothing(shell: Terminal, lodged: PacketShown) -> None:
    said = shell.run("find", str(lodged.reference))
    assert lodged.number in said
    assert "matches" not in said
    assert 'Nothing matches "10.4.2.1".' in shell.run("find", "10.4.2.1")


def test_a_packet_shows_when_it_was_lodged_and_how_it_may_be_raised(
    shell: Terminal, lodged: PacketShown
) -> None:
    said = shell.run("packet", "show", lodged.number)
    assert f"as {lodged.reference}" in said
    assert "Severity 2 · badly hindered" in said
    assert "call the duty manager" in said
    assert f"{ARRAY}, Book store, Tarnfell Storage" in shell.run("coverage", ARRAY)


def test_one_is_not_many_and_values_are_for_people(shell: Terminal, tmp_path: Path) -> None:
    assert "Add an asset." in shell.run("asset", "--help")
    assert "1 label." in shell.run("label", "print", ARRAY, "--out", str(tmp_path / "l.pdf"))
    shell.run("vendor", "add", "key=onevendor", "name=One Vendor")
    shell.run("contract", "add", "vendor=onevendor", "number=ONE-1", "starts_on=2026-01-05", "ends_on=2027-01-04",
              "notice_on=2026-12-05")  # fmt: skip
    assert "notice is due by 2027-12-05" in shell.run(
        "contract", "renew", "ONE-1", "--until", "2028-01-04"
    )
    shown = " ".join(shell.run("contract", "show", "ONE-1").split())
    assert "former terms starts on 2026-01-05, ends on 2027-01-04, notice on 2026-12-05" in shown


def test_the_register_is_kept_from_the_command_line(shell: Terminal) -> None:
    shell.run("vendor", "add", "key=shellvendor", "name=Shell Vendor")
    shell.run("product", "add", "vendor=shellvendor", "part_number=PN", "name=Thing")
    shell.run(
        "asset",
        "add",
        "vendor=shellvendor",
        "product=PN",
        "serial=SHELL-0001",
        'host_names=["shell-1.example"]',
    )
    shell.run("asset", "change", "SHELL-0001", "status=spare", "site=harrow-road")
    shown = shell.json("asset", "show", "SHELL-0001")
    assert (shown["status"], shown["site_name"], shown["host_names"]) == (
        "spare",
        "Harrow Road",
        ["shell-1.example"],
    )
    shell.run("asset", "change", "SHELL-0001", "site=")
    assert shell.json("asset", "show", "SHELL-0001")["site"] is None


@pytest.mark.parametrize(
    ("arguments", "code", "says"),
    [
        (("packet", "show", "P-999999"), 1, "There is no packet P-999999. List the packets"),
        (("packet", "show", "NOPE"), 1, "There is no packet NOPE: its number looks like P-0142."),
        (("packet", "answer", "P-999999", "severity"), 1, "is not QUESTION=VALUE"),
        (("packet", "change", "P-999999"), 1, "Nothing to change was given"),
        (("vendor", "add", "key=Not Good", "name=x"), 1, "key:"),
        (("vendor", "add", "colour"), 1, "is not FIELD=VALUE"),
        (("asset", "add", "host_names=[broken"), 1, "is not valid JSON"),
        (("coverage", "LK40-7731-0927"), 3, "Renew contract 88-3316"),
        (("exhibit", "add", "P-999999", "/nowhere/file"), 2, "does not exist"),
        (("no-such-command",), 2, "No such command"),
        (("verify", "/nowhere.zip"), 2, "does not exist"),
    ],
)
def test_what_goes_wrong_is_said_with_a_remedy(
    shell: Terminal, arguments: tuple[str, ...], code: int, says: str
) -> None:
    said = " ".join(shell.run(*arguments, code=code).split())
    assert says in said


def test_without_a_sign_in_one_is_asked_for(tmp_path: Path) -> None:
    assert "sealpacket sign-in ADDRESS NAME" in Terminal(tmp_path / "none").run("today", code=1)


def test_a_wrong_password_and_a_dead_address_are_told(house: RunningHouse, tmp_path: Path) -> None:
    terminal = Terminal(tmp_path / "none")
    assert "Name or password is wrong." in terminal.run(
        "sign-in", house.address, "teo", code=1, stdin="wrong\n"
    )
    assert "cannot be reached" in terminal.run(
        "sign-in", "http://127.0.0.1:9", "teo", code=5, stdin="x\n"
    )
    assert not (tmp_path / "none").exists()


def test_signing_out_ends_and_forgets_the_token(house: RunningHouse, tmp_path: Path) -> None:
    terminal = Terminal(tmp_path / "own")
    terminal.run("sign-in", house.address, "teo", stdin=house.sign_ins["teo"] + "\n")
    terminal.run("sign-out")
    assert "Sign in first" in terminal.run("today", code=1)


@pytest.mark.parametrize(
    "words", [(), ("packet",), ("exhibit", "add"), ("coverage",), ("packet", "answer"), ("verify",)]
)
def test_help_has_examples(words: tuple[str, ...], tmp_path: Path) -> None:
    text = Terminal(tmp_path).run(*words, "--help")
    assert "Usage:" in text
    if len(words) == 2 or words in (("coverage",), ("verify",)):
        assert "Example" in text


@pytest.mark.parametrize(
    ("words", "wanted"),
    [
        ("packet reo", "reopen"),
        ("asset list --vendor ove", "ovenbird"),
        ("statement compare ove", "ovenbird"),
        ("packet list --life dra", "drafting"),
    ],
)
def test_the_shell_completes(shell: Terminal, words: str, wanted: str) -> None:
    asked = {
        "_SEALPACKET_COMPLETE": "complete_bash",
        "COMP_WORDS": f"sealpacket {words}",
        "COMP_CWORD": str(len(words.split())),
    }
    done = subprocess.run(
        [str(BINARY)], capture_output=True, text=True, check=False,
        env={**os.environ, "SEALPACKET_CONFIG": str(shell.folder), **asked},
    )  # fmt: skip
    assert done.stdout.split() == [wanted]


def test_a_sheet_is_shown_looked_at_and_tried(shell: Terminal, tmp_path: Path) -> None:
    file = tmp_path / "sheet.yaml"
    file.write_text(shell.run("desk", "show", "ovenbird-support"))
    assert file.read_text() == sheet_text("ovenbird-support")
    said = shell.run("desk", "preview", str(file), "--need", "question", "--seed", "2")
    assert "Ovenbird Networks support" in said and "kind: how_to" in said
    assert "The stand-in takes it. OBR-" in shell.run(
        "desk", "try", str(file), "--asset", "OBS4-551203"
    )
    refused = shell.run("desk", "try", str(file), "--asset", "OBF2-118804", code=3)
    assert "contract_not_linked" in refused


def test_a_capacity_request_is_three_cases_on_the_command_line(shell: Terminal) -> None:
    shell.run(
        "packet",
        "note",
        "Cores for the failover test",
        "--asset",
        "HM-204471",
        "--need",
        "capacity",
    )
    number = shell.json("packet", "list")[0]["number"]
    asked = shell.run("packet", "questions", number)
    assert "a line each: region | what | now | wanted" in asked
    assert "asked because the kind of need is capacity" in asked
    rows = "north-1 | general cores | 64 | 160\nwest-1 | memory cores | 16 | 64"
    shell.run(
        "packet",
        "answer",
        number,
        f"wanted={rows}",
        f"by={SOON}",
        "purpose=The failover test of December.",
    )
    written = shell.run("packet", "letter", number)
    assert "north-1 general cores" in written and '"newLimit": 64' in written
    shell.run("packet", "seal", number)
    assert "calls it HMR-" in shell.run("packet", "lodge", number)
    assert "west-1 memory cores: HMR-" in shell.run("packet", "follow", number)
    assert "has the newest sheet" in shell.run("packet", "sheet", number, code=1)
