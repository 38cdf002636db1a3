"""Diagnostic kits: what they may do, how each step ends, and that they run against devices."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path

import pytest
from typer.testing import CliRunner

from sealpacket.cli.program import build
from sealpacket.collecting.access import Access
from sealpacket.collecting.running import run_kit
from sealpacket.core.errors import Invalid
from sealpacket.core.evidence.kits import Kit, Outcome, lint, read_kit, read_kit_file
from sealpacket.standins.devices import Devices
from tests.dripping import dripping

KITS = Path(__file__).parents[2] / "src/sealpacket/demo/kits"
SECRET = "thistle-and-loam-4"


def kit_of(*steps: str, secrets: str = "{}", user: str = "reader") -> Kit:
    rows = "".join(
        f"  - {{id: s{number}, what: A thing, {step}}}\n" for number, step in enumerate(steps)
    )
    return read_kit(f"kit: 1\nname: a\ntitle: A\nsecrets: {secrets}\nuser: {user}\nsteps:\n{rows}")


def states(outcomes: list[Outcome]) -> list[str]:
    return [one.state for one in outcomes]


@pytest.fixture(scope="module")
def devices(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Devices]:
    made = Devices(tmp_path_factory.mktemp("devices"), SECRET).start()
    yield made
    made.stop()


def access(devices: Devices, name: str, **more: object) -> Access:
    secrets = dict.fromkeys(("console", "service", "token"), SECRET)
    target = f"127.0.0.1:{devices.ports[name]}" if name == "array" else "127.0.0.1"
    given = {
        "target": target, "port": devices.ports[name], "user": "service" if name == "kiosk" else "reader",
        "secrets": secrets, "known_hosts": devices.known_hosts, "authorities": devices.certificate, **more,
    }  # fmt: skip
    return Access(**given)  # type: ignore[arg-type]


@pytest.mark.parametrize("path", sorted(KITS.glob("*.yaml")), ids=lambda path: path.stem)
def test_a_shipped_kit_brings_everything(devices: Devices, tmp_path: Path, path: Path) -> None:
    kit = read_kit_file(path)
    assert lint(kit) == []
    name = path.stem.rsplit("-", 1)[-1]
    outcomes = run_kit(kit, tmp_path / "out", access(devices, name), confirmed_by="marit")
    assert [(one.state, one.why) for one in outcomes] == [("got", "")] * len(kit.steps)
    answers = {key: text for one in outcomes for key, text in one.answers.items()}
    assert answers in ({"os_version": "11.2.4"}, {"release": "7.4.2"}, {"error_code": "E417"})
    manifest = json.loads((tmp_path / "out/kit.json").read_text())
    assert (manifest["confirmed_by"], len(manifest["sha256"])) == ("marit", len(kit.steps))
    assert SECRET not in (tmp_path / "out/kit.json").read_text()


@pytest.mark.parametrize(
    ("step", "said"),
    [
        ("run: [rm, -rf, /var/log]", "would change something: “rm -rf /var/log”"),
        ("run: [sh, -c, date]", "could do anything"),
        ("run: [dmesg, '>', /tmp/x]", "joins commands or writes files"),
        ("ssh: reload", "would change something"),
        ("ssh: show version; reload", "joins commands"),
        ("ssh: configure terminal", "would change something"),
        ("files: [/etc/shadow]", "where secrets are"),
        ("files: ['~/.ssh/*']", "where secrets are"),
        ("sftp: [/etc/ssl/private/a.crt]", "where secrets are"),
        ("get: 'ftp://{target}/a'", "no address of HTTP"),
        ("get: 'https://marit:x@{target}/a'", "a secret in its address"),
        ("get: 'http://{target}/a', secret: token", "not encrypted"),
        ("ssh: show version, secret: consle", "needs the secret consle"),
        ("run: [df], secret: console", "needs no secret"),
        ("run: [df], answers: [{question: a, pattern: x}]", "without exactly one group"),
    ],
)
def test_a_kit_that_does_what_it_may_not_is_refused(tmp_path: Path, step: str, said: str) -> None:
    kit = kit_of(step, secrets="{console: a, token: b}")
    stops = [one.sentence for one in lint(kit) if one.level == "stop"]
    assert any(said in one for one in stops)
    with pytest.raises(Invalid) as caught:
        run_kit(kit, tmp_path / "out", Access("127.0.0.1"), confirmed_by="marit")
    assert caught.value.code == "kit-refused"
    assert not (tmp_path / "out").exists()


HARMFUL = [
    "run: [/bin/rm, -rf, some/file]", "run: [/sbin/reboot]", "run: [./rm, x]", "run: [find, /tmp, -delete]",
    "run: [find, /tmp, -exec, cat, '{}', +]", "run: [sed, -i, s/a/b/, f]", "run: [awk, 'BEGIN {system(1)}']",
    "run: [busybox, ash]", "run: [nohup, sh, -c, x]", "run: [timeout, '5', bash, -c, x]", "run: [xargs, rm]",
    "run: [python3.11, -c, x]", "run: [perl5.36, -e, x]", "run: [node, -e, x]", "run: [truncate, -s, '0', f]",
    "run: [systemctl, isolate, rescue]", "run: [mysql, -e, drop]", "run: [cat, /etc/shadow]", "run: [sudo, cat, x]",
    "run: [cat, /root/.ssh/id_ed25519]", "run: [head, -c, '9', /etc//shadow]", "run: [tail, ../../etc/shadow]",
    "run: [dmesg, -C]", "run: [dmesg, --clear]", "run: [date, -s, yesterday]", "run: [hostname, other]",
    "run: [ip, link, set, eth0, down]", "run: [mount, /dev/sda1, /mnt]", "run: [smartctl, -s, 'off', /dev/sda]",
    "run: [nvme, format, /dev/nvme0]", "run: [journalctl, --vacuum-size=1M]", "run: [sysctl, -w, a=b]",
    "run: [ethtool, -s, eth0, speed, '10']", "run: [dpkg, -i, a.deb]", "run: [tar, xf, a.tar]", "run: [dd, if=/dev/sda]",
    "run: [curl, 'http://x.example']", "run: [cat, \"a\\rb\"]", "files: ['/etc/shado?']", "files: [/etc//shadow]",
    "files: [/etc/./shadow]", "files: [/var/../etc/shadow]", "files: ['/root/.s*/id_*']", "files: ['/srv/*/keys/master.k*']",
    "files: [/srv/keys/seal.jwk]", "files: ['/proc/*/environ']", "files: ['~/.pgpass']", "files: ['~/.[a-z]*']",
    "files: ['/etc/[rs]hadow']", "files: ['/**']", "sftp: ['/etc/shad*']", "sftp: [/etc/ssl/private/a.key]",
    "ssh: show version reload", "ssh: 'show tech redirect tftp://x/y'", "ssh: 'show tech append flash:x'",
    "ssh: display current to startup-config", "ssh: \"show version\\rreload\"", "ssh: cat /etc/shadow",
    "ssh: more /root/.ssh/id_rsa", "ssh: copy running-config startup-config", "ssh: drop table x", "ssh: isolate port 3",
    "ssh: 'show version\tshow clock'",
]  # fmt: skip


@pytest.mark.parametrize("step", HARMFUL)
def test_no_harmful_step_is_taken(step: str) -> None:
    assert [one.level for one in lint(kit_of(step))][:1] == ["stop"], step


@pytest.mark.parametrize(
    "step",
    ["run: [df, -h]", "run: [/bin/df]", "run: [ip, addr, show]", "run: [ip, -s, link]", "run: [journalctl, -u, x, --since, today]",
     "run: [dmesg, -T]", "run: [systemctl, status, x]", "run: [find, /var/log, -name, '*.log']", "run: [smartctl, -a, /dev/sda]",
     "run: [date, +%s]", "run: [cat, /var/log/messages]", "run: [grep, start, /var/log/a.log]", "run: [nvme, list]",
     "files: ['/var/log/**/*.log', '~/app/*.txt']", "ssh: show reload cause", "ssh: show tech-support",
     "ssh: show configuration", "ssh: display version", "ssh: show log restart-reasons", "sftp: ['/log/lendd*.log']"],
)  # fmt: skip
def test_a_step_that_only_reads_has_no_finding(step: str) -> None:
    assert lint(kit_of(step)) == []


def test_what_is_not_known_is_confirmed_by_name(tmp_path: Path) -> None:
    report = tmp_path / "lend-report"
    report.write_text("#!/bin/sh\nprintf 'all is well'\n")
    report.chmod(0o755)
    kit = kit_of(f"run: [{report}]")
    (finding,) = lint(kit)
    assert (finding.level, finding.remedy) == ("warn", "Confirm it: --program lend-report")
    with pytest.raises(Invalid) as caught:
        run_kit(kit, tmp_path / "no", Access(), confirmed_by="marit")
    assert caught.value.code == "not-confirmed"
    outcomes = run_kit(
        kit, tmp_path / "out", Access(), confirmed_by="marit", programs=["lend-report"]
    )
    assert states(outcomes) == ["got"]
    path = tmp_path / "kit.yaml"
    path.write_text(f"kit: 1\nname: a\ntitle: A\nsteps: [{{id: a, what: A, run: [{report}]}}]\n")
    command = ["kit", "run", str(path), "--yes", "--out"]
    refused = CliRunner().invoke(build("kit"), [*command, str(tmp_path / "not")])
    assert refused.exit_code != 0
    taken = CliRunner().invoke(
        build("kit"), [*command, str(tmp_path / "taken"), "--program", "lend-report"]
    )
    assert taken.exit_code == 0, taken.output


def test_names_that_lead_elsewhere_are_followed(tmp_path: Path) -> None:
    (tmp_path / "df").symlink_to(sys.executable)
    (tmp_path / "logs").symlink_to("/etc/ssl/private", target_is_directory=True)
    secret = tmp_path / ".ssh"
    secret.mkdir()
    (secret / "notes").write_text("x")
    (tmp_path / "plain").symlink_to(secret, target_is_directory=True)
    kit = kit_of(f"run: [{tmp_path / 'df'}, -c, 'print(1)']", f"files: ['{tmp_path}/plain/notes']")
    outcomes = run_kit(kit, tmp_path / "out", Access(), confirmed_by="marit")
    assert states(outcomes) == ["failed", "failed"]
    assert "could do anything" in outcomes[0].why
    assert "where secrets are" in outcomes[1].why


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("kit: 1\nname: a\ntitle: A\nsteps: [{id: b, what: B}]", "step b does exactly one of"),
        (
            "kit: 1\nname: a\ntitle: A\nsteps: [{id: b, what: B, run: [df], tim: 3}]",
            "tim is no word of a kit",
        ),
        (
            "kit: 1\nname: a\ntitle: A\nsteps: [{id: b, what: B, run: [df], time: soon}]",
            "is no time",
        ),
        (
            "kit: 1\nname: a\ntitle: A\nsteps: [{id: b, what: B, run: [df], size: 3 XB}]",
            "is no size",
        ),
        ("kit: 1\nname: a\ntitle: A", "steps is missing"),
        ("kit: [", "not valid YAML in line"),
        ("- a", "no kit"),
    ],
)
def test_what_is_no_kit_says_why(text: str, said: str) -> None:
    with pytest.raises(Invalid) as caught:
        read_kit(text)
    assert said in caught.value.detail


def test_commands_and_files_of_this_machine_end_as_they_should(tmp_path: Path) -> None:
    data = tmp_path / "data"
    data.mkdir()
    (data / "a.log").write_text("2026-11-23T08:00:00Z a\n" * 9)
    (data / "old.txt").write_text("x")
    os.utime(data / "old.txt", (1_700_000_000, 1_700_000_000))
    (data / "blank.txt").write_text("\n \n")
    (data / "link.txt").symlink_to("/etc/passwd")
    kit = kit_of(
        "run: [printf, 'temperature 41']", "run: ['true']", "run: ['false']", "run: [no-such-command-here]",
        "run: [sleep, '60'], time: 1 s", "run: ['yes'], size: 1 MB", "run: [printf, '{'], expect: {parses: json}",
        f"files: ['{data}/a.log'], expect: {{parses: log}}", f"files: ['{data}/old.txt'], expect: {{newer_than: 2 h}}",
        f"files: ['{data}/blank.txt']", f"files: ['{data}/none*.log']", f"files: ['{data}/link.txt']",
        "run: [printf, 'error 5'], expect: {lacks: error}",
    )  # fmt: skip
    outcomes = run_kit(
        kit, tmp_path / "out", Access(), confirmed_by="marit", programs=["no-such-command-here"]
    )
    assert states(outcomes) == [
        "got", "empty", "failed", "failed", "failed", "cut", "failed",
        "got", "too old", "empty", "empty", "empty", "failed",
    ]  # fmt: skip
    whys = [one.why for one in outcomes]
    assert "result code is 1" in whys[2]
    assert "longer than 1 s" in whys[4]
    assert outcomes[5].octets == 1_000_000
    assert "says “error”" in whys[12]
    with pytest.raises(Invalid) as caught:
        run_kit(
            kit, tmp_path / "out", Access(), confirmed_by="marit", programs=["no-such-command-here"]
        )
    assert caught.value.code == "not-empty"


def test_a_command_is_given_no_environment_and_is_ended_with_its_children(tmp_path: Path) -> None:
    os.environ["SEALPACKET_SECRET_CONSOLE"] = SECRET
    kit = kit_of("run: [printenv]")
    run_kit(kit, tmp_path / "out", Access(), confirmed_by="marit", programs=["printenv"])
    assert SECRET not in (tmp_path / "out/s0.txt").read_text()
    del os.environ["SEALPACKET_SECRET_CONSOLE"]


def test_a_device_that_hangs_floods_or_is_another_ends_in_a_clear_result(
    devices: Devices, tmp_path: Path
) -> None:
    kit = kit_of(
        "ssh: print hang, secret: console, time: 2 s",
        "ssh: print flood, secret: console, size: 1 MB",
        "ssh: print nothing, secret: console",
        "ssh: print what, secret: console",
        secrets="{console: a}",
    )
    outcomes = run_kit(kit, tmp_path / "out", access(devices, "switch"), confirmed_by="marit")
    assert states(outcomes) == ["failed", "cut", "empty", "failed"]
    assert "longer than 2 s" in outcomes[0].why
    one = kit_of("ssh: print model, secret: console", secrets="{console: a}")
    strange = tmp_path / "known_hosts"
    key = "ssh-ed25519 AAAAC3NzaC1lZDI1NTE5AAAAIEf8WQ1uZ9d7m0u3D1bq4n3mYjv6m1lO2lH0dVw0m0aB"
    strange.write_text(f"[127.0.0.1]:{devices.ports['switch']} {key}\n")
    for number, (given, said) in enumerate(
        (
            (access(devices, "switch", known_hosts=strange), "host key"),
            (access(devices, "switch", known_hosts=None), "no device is trusted unseen"),
            (access(devices, "switch", secrets={"console": "wrong"}), "does not let reader in"),
            (access(devices, "switch", secrets={}), "secret console is not given"),
            (access(devices, "switch", port=1), "could not be asked"),
        )
    ):
        outcome = run_kit(one, tmp_path / f"out{number}", given, confirmed_by="marit")[0]
        assert (outcome.state, said in outcome.why) == ("failed", True), outcome


@pytest.mark.parametrize(
    "begin",
    [b"", b"HTTP/1.1 200 OK\r\nX-A: ", b"HTTP/1.1 200 OK\r\nContent-Length: 9999\r\n\r\n"],
    ids=["no head", "half a head", "a body"],
)
def test_an_answer_that_drips_ends_after_the_step_s_time(begin: bytes, tmp_path: Path) -> None:
    with dripping(begin) as port:
        kit = kit_of(f"get: 'http://127.0.0.1:{port}/', time: 2 s")
        (outcome,) = run_kit(kit, tmp_path / "out", Access(), confirmed_by="marit")
    assert (outcome.state, "did not answer in time" in outcome.why) == ("failed", True), outcome


def test_an_address_without_trust_or_sign_in_is_told(devices: Devices, tmp_path: Path) -> None:
    kit = kit_of("get: 'https://{target}/v2/health', secret: token", secrets="{token: a}")
    for number, (given, said) in enumerate(
        (
            (access(devices, "array", authorities=None), "certificate is not trusted"),
            (access(devices, "array", secrets={"token": "wrong"}), "result code is 401"),
            (access(devices, "array", target="127.0.0.1:1"), "could not be asked"),
        )
    ):
        outcome = run_kit(kit, tmp_path / f"out{number}", given, confirmed_by="marit")[0]
        assert (outcome.state, said in outcome.why) == ("failed", True), outcome


def test_a_step_may_not_take_for_ever() -> None:
    with pytest.raises(Invalid) as caught:
        kit_of("run: [df], time: 3 h")
    assert "from 1 s to 2 h" in caught.value.detail
    assert kit_of("run: [df], time: 5 min").steps[0].time == timedelta(minutes=5)


def test_the_command_shows_what_it_would_run_and_asks_first(
    devices: Devices, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = str(KITS / "ovenbird-switch.yaml")
    runner = CliRunner()
    shown = runner.invoke(build("kit"), ["kit", "show", path, "--target", "kw-switch1"])
    assert "on kw-switch1 by SSH: print full report" in shown.output
    refused = runner.invoke(
        build("kit"), ["kit", "run", path, "--out", str(tmp_path / "no"), "--target", "x"]
    )
    assert refused.exit_code == 1
    assert not (tmp_path / "no").exists()
    monkeypatch.setenv("SEALPACKET_SECRET_CONSOLE", SECRET)
    done = runner.invoke(
        build("kit"),
        [
            "kit", "run", path, "--out", str(tmp_path / "out"), "--target", "127.0.0.1", "--yes",
            "--port", str(devices.ports["switch"]), "--known-hosts", str(devices.known_hosts),
        ],
    )  # fmt: skip
    assert done.exit_code == 0, done.output
    assert "It answers os_version: 11.2.4" in done.output
    assert (tmp_path / "out/switch.log").exists()
    assert runner.invoke(build("kit"), ["kit", "lint", path]).exit_code == 0
    assert sys.stdin is not None
