"""Programs of one's own machine: which of them only read, and with what behind them.

What is not in this list may be as good; a person has to confirm it by name.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal

Verdict = Literal["reads", "changes", "anything", "unknown"]
_ANY = r"(?s:.*)"
_NO_DASH_WORDS = r"(?:-\S+ ?)*"
_WITH_ANYTHING = """
    arch basename cat cksum column comm cut df diff dirname du echo egrep false fgrep file findmnt free getconf
    getent grep groups head hexdump id iostat last lastlog ldd ls lsb_release lscpu lshw lsmem lsmod lsns lsof
    lspci lsusb md5sum mpstat netstat nl nproc od paste pgrep pidstat pmap printf ps pstree pwd readlink
    realpath sar sensors sha1sum sha256sum sha512sum sleep ss stat strings sum tac tail top tr true tty uname
    uniq uptime users vmstat w wc which who whoami xxd yes zcat zgrep
"""
READS: dict[str, str] = {
    **dict.fromkeys(_WITH_ANYTHING.split(), _ANY),
    "blkid": _NO_DASH_WORDS + r"(?:/dev/\S+ ?)*",
    "date": r"(?:(?:-u|-R|-I\S*|--utc|--iso-8601\S*|--rfc-\S+|\+.*) ?)*",
    "dmesg": r"(?!.*(?:-[a-zA-Z]*[cCDEn]|--(?:clear|read-clear|console))).*",
    "dpkg": r"(?:-l|-L|-s|-S|--list|--listfiles|--status|--search|--audit)\b.*",
    "ethtool": r"(?:-[ikSacgnTmdP]|--driver|--statistics|--show-\S+)\b.*|[\w.-]+",
    "find": r"(?!.*-(?:exec|execdir|ok|okdir|delete|fprint|fprint0|fprintf|fls)\b).*",
    "hostname": r"(?:-\S+ ?)*",
    "hostnamectl": r"(?:status)?",
    "ip": r"(?:-\S+ )*(?:a|addr|address|l|link|r|route|n|neigh|rule|maddr|netns|-V)(?: (?:show|list|ls)\b.*)?",
    "journalctl": r"(?!.*--(?:vacuum|rotate|flush|sync|relinquish|smart|setup|update|new-id)\S*).*",
    "lsblk": r"(?!.*--\S*(?:exec)).*",
    "mdadm": r"(?:-D|-E|-Q|--detail|--examine|--query)\b.*",
    "mount": r"(?:-l)?",
    "nvme": r"(?:list|list-subsys|smart-log|error-log|id-ctrl|id-ns|fw-log)\b.*",
    "rpm": r"-q\S*\b.*",
    "smartctl": r"(?!.*(?:-[sotXF]|--(?:set|smart|offlineauto|saveauto|test|abort))).*",
    "sysctl": r"(?!.*(?:=|-w|--write|-p|--load|--system)).*",
    "systemctl": r"(?:--\S+ )*(?:status|show|list-\S+|is-\S+|cat)\b.*",
    "timedatectl": r"(?:status|show)?\b.*",
}
"""Allowed arguments by program name (a regular expression over the rest of the line)."""
READERS_OF_FILES = frozenset(
    ["cat", "head", "tail", "tac", "nl", "od", "xxd", "hexdump", "strings", "cut", "grep", "zcat"]
)
_ANYTHING = re.compile(
    r"(?i)(?:ba|da|z|k|c|tc|fi|a)?sh|cmd(?:\.exe)?|powershell(?:\.exe)?|pwsh|busybox|toybox|"
    r"(?:python|perl|ruby|node|nodejs|lua|php|tclsh|wish|guile|java|expect)[\d.]*|[gmn]?awk|sed|ed|ex|vi|vim|emacs|"
    r"(?:mysql|mariadb|psql|sqlite3?|sqlplus|mongo(?:sh)?|redis-cli)|"
    r"env|nohup|timeout|xargs|parallel|nice|ionice|chrt|setsid|stdbuf|chroot|unshare|nsenter|sudo|doas|su|runuser|"
    r"watch|time|strace|ltrace|gdb|script|screen|tmux|at|batch|crontab|make|eval|exec|source|ssh|scp|sftp|rsync|"
    r"curl|wget|nc|ncat|netcat|socat|telnet|ftp|tftp|docker|podman|kubectl|ansible\S*"
)
"""Programs that run others, connect to others, or execute arbitrary instructions."""
_CHANGES = re.compile(
    r"(?i)reboot|halt|poweroff|shutdown|init|telinit|kill(?:all)?|pkill|rm|rmdir|unlink|shred|dd|mkfs\S*|mkswap|fdisk|"
    r"parted|wipefs|cp|mv|ln|install|tee|truncate|touch|chmod|chown|chgrp|chattr|setfacl|passwd|chpasswd|user(?:add|del|mod)|"
    r"group(?:add|del|mod)|apt(?:-get)?|dnf|yum|zypper|snap|pip[\d.]*|npm|umount|swapo(?:n|ff)|modprobe|insmod|rmmod|"
    r"iptables|nft|ufw|service|loginctl|update-\S+|dpkg-reconfigure|debconf\S*|tar|zip|gzip|gunzip|bzip2|xz|split|sync"
)


def verdict_on(command: Sequence[str]) -> Verdict:
    """The effect of a command, by the base name of its program and its arguments."""
    name, rest = base_name(command[0]), " ".join(command[1:])
    if name in READS:
        return "reads" if re.fullmatch(READS[name], rest) else "changes"
    if _ANYTHING.fullmatch(name):
        return "anything"
    return "changes" if _CHANGES.fullmatch(name) else "unknown"


def base_name(program: str) -> str:
    """The name of a program without its folder."""
    return program.replace("\\", "/").rstrip("/").rsplit("/", 1)[-1]


SHARED = frozenset({"busybox", "toybox", "coreutils", "uutils"})
"""Files that are many programs: which one follows from the name by which they are called."""
