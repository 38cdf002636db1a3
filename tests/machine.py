"""A Debian machine of its own, as a test sees it: systemd on a copy of this one's files, with a network of its own."""

from __future__ import annotations

import os
import shutil
import subprocess
import time
from collections.abc import Sequence
from pathlib import Path

_BOOT = r"""
mount -t tmpfs -o size=3g tmpfs "$PLACE"
mkdir "$PLACE/upper" "$PLACE/work" "$PLACE/root"
mount -t overlay overlay -o "lowerdir=/,upperdir=$PLACE/upper,workdir=$PLACE/work" "$PLACE/root"
cd "$PLACE/root"
mount -t proc proc proc
mount -t sysfs -o ro sysfs sys
mount -t tmpfs tmpfs sys/fs/cgroup
mkdir sys/fs/cgroup/systemd sys/fs/cgroup/unified
mount -t cgroup -o none,name=systemd cgroup sys/fs/cgroup/systemd
mount -t cgroup2 cgroup2 sys/fs/cgroup/unified
for folder in run tmp dev; do mount -t tmpfs tmpfs $folder; done
for device in null zero full random urandom tty; do
  touch dev/$device
  mount --bind /dev/$device dev/$device
done
mkdir dev/pts dev/shm
mount -t devpts devpts dev/pts
mount -t tmpfs tmpfs dev/shm
ln -s /proc/self/fd dev/fd
ln -s pts/ptmx dev/ptmx
chmod 666 dev/pts/ptmx
: >etc/machine-id
for unit in $MASKED; do ln -sf /dev/null etc/systemd/system/$unit; done
ip link set lo up
pivot_root . mnt
umount --lazy /mnt
exec env -i container=other PATH="$PATH" /lib/systemd/systemd --system --unit=multi-user.target
"""
_OTHERS = (
    "console-getty.service",
    "dovecot.service",
    "prometheus.service",
    "apt-daily.timer",
    "apt-daily-upgrade.timer",
)
"""What the packages of the tests would start."""


class Machine:
    """Boots at once; the programs of Debian are those that are installed here, and nothing that it does stays."""

    def __init__(self, place: Path) -> None:
        self._place = place
        place.mkdir()
        self._process = subprocess.Popen(
            ["unshare", "--mount", "--pid", "--net", "--uts", "--ipc", "--cgroup", "--fork", "--kill-child",
             "bash", "-euc", _BOOT],
            env={"PATH": os.environ["PATH"], "PLACE": str(place), "MASKED": " ".join(_OTHERS)},
            stdin=subprocess.DEVNULL, start_new_session=True,
        )  # fmt: skip
        deadline = time.monotonic() + 120
        while not self._is_up():
            assert self._process.poll() is None, "the machine does not boot"
            assert time.monotonic() < deadline, "the machine is not up in time"
            time.sleep(0.2)

    def _is_up(self) -> bool:
        """Whether systemd is there and has started what it starts."""
        if not self._first:
            return False
        return self.run("systemctl is-system-running").stdout.strip() in ("running", "degraded")

    @property
    def _first(self) -> str:
        """The number of its first process, as this machine counts; empty before there is one."""
        pid = self._process.pid
        return Path(f"/proc/{pid}/task/{pid}/children").read_text().strip()

    def command(self, text: str, *, outside: bool = False) -> Sequence[str]:
        """What runs a shell command there as root; `outside`: with the network of this machine."""
        spaces = ["--mount", "--pid", "--uts", "--ipc", "--cgroup", "--root", "--wd"]
        if not outside:
            spaces.append("--net")
        bash = ["bash", "-euo", "pipefail", "-c", f"cd /root/release 2>/dev/null || cd /; {text}"]
        return ["nsenter", f"--target={self._first}", *spaces, *bash]

    def run(
        self, text: str, *, given: str = "", outside: bool = False
    ) -> subprocess.CompletedProcess[str]:
        """Run a shell command there, with a text on its standard input."""
        environment = {k: v for k, v in os.environ.items() if not k.startswith("SEALPACKET_")}
        path = "/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin"
        return subprocess.run(
            self.command(text, outside=outside), input=given, capture_output=True, text=True, check=False,
            env={**environment, "PATH": path, "HOME": "/root"},
        )  # fmt: skip

    def bring(self, folder: Path, to: str) -> None:
        """Copy a folder of this machine there."""
        root = Path(f"/proc/{self._first}/root")
        shutil.copytree(folder, root / to.lstrip("/"))

    def end(self) -> None:
        """Stop it; its files are gone with it."""
        self._process.kill()
        self._process.wait()
