"""The HTTP server: gunicorn, whose processes are forked from one that has read all code already."""

from __future__ import annotations

import logging
import os
import tempfile
from pathlib import Path
from typing import Any

from gunicorn.app.base import BaseApplication
from gunicorn.glogging import Logger

from sealpacket.app.measures import ended, share
from sealpacket.web.app import wsgi
from sealpacket.web.serving.worker import LoopWorker


class _Log(Logger):  # type: ignore[misc]
    """Gunicorn's own lines go to the log of the process, as those of other libraries do."""

    def setup(self, cfg: Any) -> None:
        """See Logger: without handlers of its own."""
        self.cfg = cfg
        self._access_log_enabled = False
        self.error_log.propagate = True
        self.error_log.setLevel(logging.WARNING)


class Server(BaseApplication):  # type: ignore[misc]
    """Serves API and console on a loopback port. Each process opens its own context after the fork."""

    def __init__(self, port: int | None, workers: int, socket: int | None = None) -> None:
        """`socket` is the number of one that listens already, instead of a port."""
        self._settings: dict[str, Any] = {
            "bind": f"fd://{socket}" if socket is not None else f"127.0.0.1:{port}",
            "workers": workers,
            "worker_class": LoopWorker,
            "threads": 8,
            "timeout": 120,
            "graceful_timeout": 5,
            "loglevel": "warning",
            "logger_class": _Log,
            "child_exit": lambda _server, worker: ended(worker.pid),
            "control_socket_disable": True,
            "worker_tmp_dir": "/dev/shm",  # noqa: S108 - gunicorn's own advice
        }
        # gunicorn takes the socket that systemd hands over by itself: it would be opened twice
        os.environ.pop("LISTEN_FDS", None)
        super().__init__()

    def run(self) -> None:
        """Serve until a signal asks for the end. Its processes count together."""
        with tempfile.TemporaryDirectory(prefix="sealpacket-measures-") as folder:
            share(Path(folder))
            super().run()

    def load_config(self) -> None:
        """Take our settings; no file, no environment variable and no argument adds to them."""
        for name, value in self._settings.items():
            self.cfg.set(name, value)

    def load(self) -> Any:
        """The application of one process."""
        return wsgi()
