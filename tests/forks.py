"""Processes of the product, forked from one that has imported all of it: importing takes seconds in each process.

There is one launcher for a whole test run. The process in which pytest was started starts it; workers of pytest-xdist
find its socket in SEALPACKET_LAUNCHER. It imports nothing until it is first asked, and kills everything that it has
started when the test run is over, however that ends.
"""

from __future__ import annotations

import fcntl
import gc
import json
import os
import pkgutil
import runpy
import selectors
import signal
import socket
import subprocess
import sys
import traceback
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import IO, Any, cast

SOCKET = "SEALPACKET_LAUNCHER"
_LONGEST_REQUEST = 1 << 17
_MOST_FILES = 8
_LOW = 512
"""Lowest file descriptor for what a child is given, out of the way of those that it puts in their places."""
_LEFT_OUT = ("sealpacket.store.migrations.",)
"""Packages that do more than define something when they are imported."""


class Forked:
    """A process that the launcher has started, with the methods of subprocess.Popen that we use."""

    def __init__(self, arguments: Sequence[str], connection: socket.socket) -> None:
        self.args = list(arguments)
        self.returncode: int | None = None
        self._connection = connection
        self.pid = _number(connection)

    def poll(self) -> int | None:
        """The exit code, or None while the process runs."""
        with suppress(subprocess.TimeoutExpired):
            self.wait(0)
        return self.returncode

    def wait(self, timeout: float | None = None) -> int:
        """The exit code, as soon as there is one. Raises subprocess.TimeoutExpired."""
        if self.returncode is None:
            with selectors.DefaultSelector() as selector:
                selector.register(self._connection, selectors.EVENT_READ)
                if not selector.select(timeout):
                    raise subprocess.TimeoutExpired(self.args, timeout or 0)
            self.returncode = _number(self._connection)
            self._connection.close()
        return self.returncode

    def send_signal(self, number: int) -> None:
        """Send a signal, unless the process has ended."""
        if self.poll() is None:
            with suppress(ProcessLookupError):
                os.kill(self.pid, number)

    def terminate(self) -> None:
        """Send SIGTERM."""
        self.send_signal(signal.SIGTERM)

    def kill(self) -> None:
        """Send SIGKILL."""
        self.send_signal(signal.SIGKILL)


def _number(connection: socket.socket) -> int:
    data = connection.recv(64)
    if not data:
        raise RuntimeError("The launcher of the tests has ended; its error is in the output above.")
    return int(data)


def popen(
    arguments: Sequence[str],
    *,
    env: Mapping[str, str],
    stdin: int | IO[Any],
    stdout: int | IO[Any],
    stderr: int | IO[Any],
    start_new_session: bool = True,
    pass_fds: Sequence[int] = (),
) -> subprocess.Popen[bytes]:
    """Start `python -m MODULE …` as subprocess.Popen would, by a fork of the launcher."""
    python, option, module, *rest = arguments
    if (python, option) != (sys.executable, "-m") or not start_new_session:
        raise ValueError(f"only {sys.executable} -m in a session of its own, not {arguments}")
    request = {
        "module": module,
        "arguments": rest,
        "environment": dict(env),
        "folder": str(Path.cwd()),
        "places": [0, 1, 2, *pass_fds],
    }
    with Path(os.devnull).open("rb") as nothing:
        files = [nothing if one == subprocess.DEVNULL else one for one in (stdin, stdout, stderr)]
        numbers = [one if isinstance(one, int) else one.fileno() for one in files]
        connection = _ask(request, [*numbers, *pass_fds])
    return cast("subprocess.Popen[bytes]", Forked(arguments, connection))


def rehearse(environment: Mapping[str, str], password: str) -> None:
    """Have the launcher do once what its children will; the database of this environment has to be up."""
    _number(_ask({"environment": dict(environment), "password": password}, []))


def import_all() -> None:
    """Have the launcher import all there is, and wait for it: in a fresh clone one process compiles it, not each."""
    _number(_ask({}, []))


def _ask(request: Mapping[str, Any], numbers: Sequence[int]) -> socket.socket:
    connection = socket.socket(socket.AF_UNIX, socket.SOCK_SEQPACKET)
    connection.connect(os.environ[SOCKET])
    socket.send_fds(connection, [json.dumps(request).encode()], list(numbers))
    return connection


class Launcher:
    """The launcher, as the process sees it that starts it. It ends with that process at the latest."""

    def __init__(self, folder: Path) -> None:
        path = str(folder / "launcher")
        listener = socket.socket(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        listener.bind(path)
        listener.listen(64)
        self._process = subprocess.Popen(
            [sys.executable, "-m", "tests.forks", str(listener.fileno()), path],
            stdin=subprocess.PIPE,
            pass_fds=[listener.fileno()],
            start_new_session=True,
            cwd=Path(__file__).parent.parent,
        )
        listener.close()
        os.environ[SOCKET] = path

    def close(self) -> None:
        """End the launcher and all that it has started."""
        assert self._process.stdin is not None
        self._process.stdin.close()
        self._process.wait(30)


class _Serving:
    """The launcher itself: a single thread that imports, forks, and tells how children end."""

    def __init__(self, listener: socket.socket, path: str) -> None:
        self._listener, self._path = listener, path
        self._running: dict[int, socket.socket] = {}
        self._imported = False

    def serve(self) -> None:
        """Serve until standard input ends; then kill what still runs."""
        ended, wake = os.pipe()
        os.set_blocking(wake, False)
        signal.set_wakeup_fd(wake)
        signal.signal(signal.SIGCHLD, lambda *_: None)
        with selectors.DefaultSelector() as selector:
            for file in (self._listener, 0, ended):
                selector.register(file, selectors.EVENT_READ)
            while True:
                ready = {key.fileobj for key, _ in selector.select()}
                if ended in ready:
                    os.read(ended, 4096)
                    self._report()
                if 0 in ready:
                    break
                if self._listener in ready:
                    self._answer(selector, (ended, wake))
        for pid in self._running:
            with suppress(ProcessLookupError):
                os.killpg(pid, signal.SIGKILL)

    def _answer(self, selector: selectors.BaseSelector, pipe: tuple[int, int]) -> None:
        connection, _ = self._listener.accept()
        data, numbers, _, _ = socket.recv_fds(connection, _LONGEST_REQUEST, _MOST_FILES)
        request = json.loads(data)
        self._import()
        if "module" not in request:
            if request:
                _rehearse(**request)
            connection.send(b"0")
            connection.close()
            return
        pid = os.fork()
        if pid == 0:
            signal.set_wakeup_fd(-1)
            signal.signal(signal.SIGCHLD, signal.SIG_DFL)
            given = [fcntl.fcntl(number, fcntl.F_DUPFD, _LOW) for number in numbers]
            selector.close()
            for number in (*numbers, *pipe):
                os.close(number)
            for one in (connection, self._listener, *self._running.values()):
                one.close()
            _become(request, given)
        for number in numbers:
            os.close(number)
        self._running[pid] = connection
        connection.send(str(pid).encode())

    def _report(self) -> None:
        with suppress(ChildProcessError):
            while (ended := os.waitpid(-1, os.WNOHANG))[0]:
                pid, status = ended
                with self._running.pop(pid) as connection, suppress(OSError):
                    connection.send(str(os.waitstatus_to_exitcode(status)).encode())

    def _import(self) -> None:
        if self._imported:
            return
        self._imported = True
        gc.disable()
        import sealpacket
        from tests import contract

        for module in pkgutil.walk_packages(sealpacket.__path__, "sealpacket."):
            if not module.name.startswith(_LEFT_OUT):
                __import__(module.name)
        contract.watch(self._path)
        gc.freeze()
        gc.enable()


def _rehearse(environment: dict[str, str], password: str) -> None:
    from tests.rehearsal import rehearse as rehearse_here

    before = dict(os.environ)
    os.environ.update(environment)
    rehearse_here(password)
    os.environ.clear()
    os.environ.update(before)
    gc.freeze()


def _become(request: dict[str, Any], given: Sequence[int]) -> None:
    """Run the module in this process, as python -m does, and end."""
    code = 1
    try:
        os.setsid()
        Path("/proc/self/comm").write_text(
            " ".join((request["module"].rpartition(".")[2], *request["arguments"]))
        )
        for place, number in zip(request["places"], given, strict=True):
            os.dup2(number, place)
            os.close(number)
        os.environ.clear()
        os.environ.update(request["environment"])
        os.chdir(request["folder"])
        sys.stdin = os.fdopen(0)
        sys.stdout, sys.stderr = os.fdopen(1, "w"), os.fdopen(2, "w", buffering=1)
        sys.argv = [request["module"], *request["arguments"]]
        sys.modules.pop(request["module"], None)
        runpy.run_module(request["module"], run_name="__main__", alter_sys=True)
        code = 0
    except SystemExit as end:
        code = end.code if isinstance(end.code, int) else 0 if end.code is None else 1
        if isinstance(end.code, str):
            print(end.code, file=sys.stderr)
    except BaseException:
        traceback.print_exc()
    with suppress(OSError):
        sys.stdout.flush()
    sys.exit(code)


if __name__ == "__main__":
    _Serving(socket.socket(fileno=int(sys.argv[1])), sys.argv[2]).serve()
