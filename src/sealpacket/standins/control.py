"""The control of a simulated desk: with it a person, or a test, makes it ask, answer, refuse, be slow or be down.

It is no part of the desk itself.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Protocol

from flask import Flask, Response, jsonify, request


class Steered(Protocol):
    """A desk: its lock, its mood (such as down, slow or refuse), and keeping what has changed."""

    @property
    def lock(self) -> Any:
        """Held while its state is read or changed."""

    mood: dict[str, Any]

    def keep(self) -> None:
        """Write its state down."""


Case = dict[str, Any]
Wish = dict[str, Any]


def add_control(
    app: Flask,
    desk: Steered,
    cases: Callable[[], Mapping[str, Case]],
    act: Callable[[Case, Wish], None],
    shown: Callable[[], dict[str, Any]] | None = None,
) -> None:
    """Add `/control` to an application.

    A wish changes the mood: {"down": true}, {"slow": 2}, {"refuse": word}. With {"case": id} it is about one of the
    `cases`, and `act` does what else it says: {"ask": text}, {"say": text}, {"state": word}. `shown` is what a look at
    it gives beside the mood; the cases, if nothing else is named.
    """

    @app.get("/control")
    def look() -> Response:
        with desk.lock:
            return jsonify({"mood": desk.mood, **(shown() if shown else {"cases": cases()})})

    @app.post("/control")
    def steer() -> Response:
        wish = request.get_json()
        with desk.lock:
            desk.mood.update({k: v for k, v in wish.items() if k in desk.mood})
            one = cases().get(wish.get("case"))
            if one is not None:
                act(one, wish)
                desk.keep()
            return jsonify(desk.mood)
