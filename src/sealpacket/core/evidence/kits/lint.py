"""Lint a kit: above all for commands that it must not run. Kits only read."""

from __future__ import annotations

import fnmatch
import posixpath
import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Literal
from urllib.parse import urlsplit

import re2

from sealpacket.core.controls import one_line
from sealpacket.core.errors import Invalid
from sealpacket.core.evidence.kits.model import Kit, Step
from sealpacket.core.evidence.kits.programs import READERS_OF_FILES, base_name, verdict_on

_VERBS = (
    "reboot re-boot reload re-load restart re-start reset re-set halt poweroff power-off shutdown shut-down init kill "
    "killall rm rmdir unlink del delete erase format dd wipe write copy move mv cp tee install upgrade update "
    "configure conf set no commit edit chmod chown passwd useradd userdel sudo su enable disable start stop clear "
    "debug undebug factory restore import put post patch drop truncate alter insert isolate "
    "apt apt-get dnf yum pip npm curl wget nc ssh scp"
)
_CHANGING = re.compile(
    rf"(?i)(?<![\w/.-])(?:{'|'.join(_VERBS.split())}|mkfs\S*|config(?:ure)? t\w*)(?![\w/.-])"
)
_JOINING = re.compile(r"[;&|><`]|\$\(|[\x00-\x1f\x7f]")
_WRITING = re.compile(
    r"(?i)(?<![\w/.-])(?:redirect|append|tee|save)(?![\w/.-])|\b(?:in)?to\s+\S*(?:startup|running|file|flash|disk|usb|ftp)\S*|\b(?:tftp|ftp|scp|sftp|https?|flash|disk\d|bootflash|usb):"
)
"""Words and places by which what is shown is written somewhere."""
_SECRET_FILES = re.compile(
    r"(?i)(?:^|/)\.(?:ssh|gnupg|aws|azure|kube|docker|password-store)(?:/|$)|(?:^|/)\.(?:pgpass|netrc|my\.cnf|git-credentials|vault-token)$|"
    r"/etc/(?:shadow|gshadow|sudoers|ssl/private|krb5\.keytab)|/etc/ssh/ssh_host_\w+_key$|"
    r"\.(?:key|pem|pfx|p12|jks|kdbx|keytab|jwk)$|(?:^|/)id_(?:rsa|dsa|ecdsa|ed25519)$|"
    r"^/(?:proc/[^/]+/(?:environ|mem|maps|cmdline)|proc/kcore|dev/|\*\*?)"
)
_PLACES = (
    "/etc/shadow", "/etc/shadow-", "/etc/gshadow", "/etc/sudoers", "/etc/ssl/private/server.key", "/etc/krb5.keytab",
    "/etc/ssh/ssh_host_ed25519_key", "/root/.ssh/id_rsa", "/root/.ssh/id_ed25519", "/home/someone/.ssh/id_rsa",
    "/home/someone/.pgpass", "/home/someone/.netrc", "~/.ssh/id_ed25519", "~/.pgpass", "~/.netrc", "~/.aws/credentials",
    "/srv/sealpacket/keys/master.key", "/srv/sealpacket/keys/seal.jwk", "/proc/1/environ", "/proc/self/environ",
    "/dev/mem",
)  # fmt: skip
_EXAMPLES = (*_PLACES, *(posixpath.basename(place) for place in _PLACES))
"""Such files, with and without their folders; a pattern that takes one of them takes others of its sort."""
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
    words = " ".join(step.run)
    program = base_name(step.run[0])
    yield from _joined(step, words)
    named = step.run[1:]
    if program not in READERS_OF_FILES:  # a disk is looked at by its name
        named = [word for word in named if not word.startswith("/dev/")]
    yield from _secrets(step, named)
    match verdict_on(step.run):
        case "changes":
            yield _stop(
                step, f"would change something: “{words}”", "Give a command that only reads"
            )
        case "anything":
            yield _stop(step, f"runs {program}, which could do anything", "Name the command itself")
        case "unknown":
            sentence = f"Step {step.id} runs {program}, which is not known to only read."
            yield Finding("warn", step.id, sentence, f"Confirm it: --program {program}")


def unknown_programs(kit: Kit) -> list[str]:
    """The programs of this machine that a person has to confirm by name."""
    runs = [step.run for step in kit.steps if step.run]
    return sorted({base_name(one[0]) for one in runs if verdict_on(one) == "unknown"})


def _ssh(step: Step) -> Iterator[Finding]:
    yield from _joined(step, step.ssh)
    yield from _secrets(step, step.ssh.split()[1:])
    shown = re.match(r"(?i)\s*(?:show|display)\s+\S+(.*)", step.ssh, re.DOTALL)
    told = shown[1] if shown else step.ssh
    changing = _CHANGING.search(told) or (_WRITING.search(told) if shown else None)
    if changing is not None:
        yield _stop(
            step,
            f"would change something: “{changing[0]}” in “{step.ssh}”",
            "Give a command that only reads",
        )
    if not _LOOKING.match(step.ssh):
        sentence = f"Step {step.id} runs “{step.ssh}”, which is no usual word for looking."
        yield Finding("warn", step.id, sentence, "See whether it only reads")


def _paths(step: Step) -> Iterator[Finding]:
    yield from _secrets(step, step.files or step.sftp)


def _secrets(step: Step, words: Iterable[str]) -> Iterator[Finding]:
    for word in words:
        if holds_secrets(word):
            yield _stop(step, f"would take {word}, where secrets are", "Leave it out")


def holds_secrets(path: str) -> bool:
    """Whether a path or a pattern of paths, however it is written, is one where secrets are."""
    home, rest = ("~", path[1:]) if path.startswith("~/") else ("", path)
    plain = home + posixpath.normpath(rest.replace("\\", "/")) if rest else path
    plain = "/" + plain.lstrip("/") if plain.startswith("//") else plain
    if _SECRET_FILES.search(plain):
        return True
    if not any(sign in plain for sign in "*?["):
        return False
    pattern = re.compile(fnmatch.translate(plain.replace("**/", "*")))
    return any(pattern.match(one) for one in _EXAMPLES)


def _joined(step: Step, words: str) -> Iterator[Finding]:
    if _JOINING.search(words):
        yield _stop(
            step,
            f"joins commands or writes files: “{one_line(words)}”",
            "Give one command that only reads",
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
