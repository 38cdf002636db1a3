"""What is wrong with a kit: above all, what it must not do. Kits only read."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Literal
from urllib.parse import urlsplit

import re2

from sealpacket.core.errors import Invalid
from sealpacket.core.evidence.kits.model import Kit, Step

_VERBS = (
    "reboot re-boot reload re-load restart re-start reset re-set halt poweroff power-off shutdown shut-down init kill "
    "killall rm rmdir unlink del delete erase format dd wipe write copy move mv cp tee install upgrade update "
    "configure conf set no commit edit chmod chown passwd useradd userdel sudo su enable disable start stop clear "
    "debug undebug factory restore import put post patch apt apt-get dnf yum pip npm curl wget nc ssh scp"
)
_CHANGING = re.compile(
    rf"(?i)(?<![\w/.-])(?:{'|'.join(_VERBS.split())}|mkfs\S*|config(?:ure)? t\w*)(?![\w/.-])"
)
_SHELL = re.compile(r"[;&|><`]|\$\(|\n")
_SHELLS = {"sh", "bash", "dash", "zsh", "ksh", "cmd", "cmd.exe", "powershell", "pwsh"}
_SHELLS |= {"python", "python3", "perl", "ruby", "env"}
_SECRET_FILES = re.compile(
    r"(?i)(?:^|/)(?:\.ssh|\.gnupg|\.aws|\.kube)(?:/|$)|/etc/(?:shadow|gshadow|ssl/private)|"
    r"/etc/ssh/ssh_host_\w+_key$|"
    r"\.(?:key|pem|pfx|p12|jks|kdbx)$|(?:^|/)id_(?:rsa|ecdsa|ed25519)$|^/(?:proc/\d+/environ|dev/|\*\*?)"
)
_LOOKS = (
    "show display get list cat type print dump tail head more df free uptime uname ps ls stat top dmesg journalctl "
    "version status sensors smartctl ip netstat ss nvme lspci lsusb lsblk mount date hostname id who sysinfo tech "
    "support"
)
_LOOKING = re.compile(rf"(?i)^\s*(?:{'|'.join(_LOOKS.split())})\b")


@dataclass(frozen=True)
class Finding:
    """Something about a kit: `stop` forbids it, `warn` is for the person who confirms it."""

    level: Literal["stop", "warn"]
    step: str
    sentence: str
    remedy: str


def lint(kit: Kit) -> list[Finding]:
    """Everything that is wrong with a kit, stops first."""
    found = [finding for step in kit.steps for finding in _step(kit, step)]
    for kind, names in (
        ("id", [step.id for step in kit.steps]),
        ("file", [step.name for step in kit.steps]),
    ):
        for name, count in Counter(names).items():
            if count > 1:
                found.append(
                    Finding("stop", name, f"Two steps have the {kind} {name}.", "Rename one")
                )
    used = {step.secret for step in kit.steps}
    for name in kit.secrets:
        if name not in used:
            found.append(
                Finding("warn", "", f"No step uses the secret {name}.", "Take it out of secrets")
            )
    return sorted(found, key=lambda one: one.level != "stop")


def refuse_stops(kit: Kit) -> None:
    """Raise Invalid, with the first of them, for a kit that has stops."""
    for finding in lint(kit):
        if finding.level == "stop":
            raise Invalid(finding.sentence, f"{finding.remedy}.", code="kit-refused")


def _step(kit: Kit, step: Step) -> Iterator[Finding]:
    yield from _WAYS[step.way](step)
    if step.secret and step.secret not in kit.secrets:
        near = get_close_matches(step.secret, kit.secrets, 1)
        meant = f"Say secret: {near[0]}" if near else "List it under secrets"
        yield _stop(step, f"needs the secret {step.secret}, which the kit does not list", meant)
    if step.secret and step.way in ("run", "files"):
        yield _stop(step, "needs no secret: it runs on this machine", "Take the secret out")
    for answer in step.answers:
        if re2.compile(answer.pattern).groups != 1:
            yield _stop(
                step,
                f"fills {answer.question} by a pattern without exactly one group",
                "Put the answer in one pair of parentheses",
            )


def _stop(step: Step, words: str, remedy: str) -> Finding:
    return Finding("stop", step.id, f"Step {step.id} {words}.", remedy)


def _run(step: Step) -> Iterator[Finding]:
    yield from _command(step, " ".join(step.run))
    if step.run[0].rsplit("/", 1)[-1].lower() in _SHELLS:
        yield _stop(step, f"runs {step.run[0]}, which could do anything", "Name the command itself")


def _ssh(step: Step) -> Iterator[Finding]:
    yield from _command(step, step.ssh)
    if not _LOOKING.match(step.ssh):
        sentence = f"Step {step.id} runs “{step.ssh}”, which is no usual word for looking."
        yield Finding("warn", step.id, sentence, "See whether it only reads")


def _paths(step: Step) -> Iterator[Finding]:
    for path in step.files or step.sftp:
        if _SECRET_FILES.search(path):
            yield _stop(step, f"would take {path}, where secrets are", "Leave it out")


def _command(step: Step, words: str) -> Iterator[Finding]:
    if _SHELL.search(words):
        yield _stop(
            step, f"joins commands or writes files: “{words}”", "Give one command that only reads"
        )
    only_shows = re.match(r"(?i)\s*(?:show|display)\s", words)
    changing = None if only_shows else _CHANGING.search(words)
    if changing is not None:
        yield _stop(
            step,
            f"would change something: “{changing[0]}” in “{words}”",
            "Give a command that only reads",
        )


def _address(step: Step) -> Iterator[Finding]:
    parts = urlsplit(step.get.replace("{target}", "device.example"))
    if parts.scheme not in ("http", "https") or not parts.hostname:
        yield _stop(
            step,
            f"gets “{step.get}”, which is no address of HTTP",
            "Write it as https://{target}/path",
        )
    if parts.username or parts.password:
        yield _stop(step, "has a secret in its address", "Name it as secret")
    if parts.scheme == "http":
        level: Literal["stop", "warn"] = "stop" if step.secret else "warn"
        yield Finding(level, step.id, f"Step {step.id} is not encrypted.", "Write https")


_WAYS: dict[str, Callable[[Step], Iterator[Finding]]] = {
    "run": _run, "ssh": _ssh, "get": _address, "files": _paths, "sftp": _paths,
}  # fmt: skip
