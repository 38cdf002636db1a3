"""Something that answers a byte now and then: no timeout between two bytes ever passes."""

from __future__ import annotations

import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress


@contextmanager
def dripping(begin: bytes, port: int = 0) -> Iterator[int]:
    """Give the port of a server that begins each answer with these bytes, then sends one ten times a second."""
    over = threading.Event()
    answers: list[threading.Thread] = []

    def drip(line: socket.socket) -> None:
        with line, suppress(OSError):
            line.sendall(begin)
            while not over.wait(0.1):
                line.sendall(b"X")

    def answer(listener: socket.socket) -> None:
        with suppress(OSError):
            while True:
                answers.append(threading.Thread(target=drip, args=(listener.accept()[0],)))
                answers[-1].start()

    with socket.create_server(("127.0.0.1", port)) as listener:
        threading.Thread(target=answer, args=(listener,), daemon=True).start()
        try:
            yield listener.getsockname()[1]
        finally:
            over.set()
            listener.shutdown(socket.SHUT_RDWR)  # nothing else wakes what waits in accept
    for one in answers:
        one.join()
