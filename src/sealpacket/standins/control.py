"""The control of a simulated desk: with it a person, or a test, makes it ask, answer, refuse, be slow or be down.

It is no part of the desk itself. Neither is its vendor's page of health, which is there for everybody, also while the
desk is down: as JSON and as an Atom feed.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Protocol

from flask import Flask, Response, jsonify, request
from lxml import etree

_ATOM = "{http://www.w3.org/2005/Atom}"
OPEN = ("/control", "/health.json", "/health.atom")
"""Paths that are no part of a desk."""


class Steered(Protocol):
    """A desk: its lock, its mood (such as down, slow or refuse), and keeping what has changed."""

    @property
    def lock(self) -> Any:
        """Held while its state is read or changed."""

    mood: dict[str, Any]
    folder: Path

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
    it gives beside the mood; the cases, if nothing else is named. {"report": {"id": …}} is published on the page of
    health, in place of the one of that id; {"unlist": id} takes it off.
    """
    _add_health(app, desk)

    @app.get("/control")
    def look() -> Response:
        with desk.lock:
            return jsonify({"mood": desk.mood, **(shown() if shown else {"cases": cases()})})

    @app.post("/control")
    def steer() -> Response:
        wish = request.get_json()
        with desk.lock:
            desk.mood.update({k: v for k, v in wish.items() if k in desk.mood})
            if "report" in wish:
                _publish(desk, wish["report"])
            if "unlist" in wish:
                left = {name: one for name, one in _reports(desk).items() if name != wish["unlist"]}
                (desk.folder / "health.json").write_text(json.dumps(left))
            one = cases().get(wish.get("case"))
            if one is not None:
                act(one, wish)
                desk.keep()
            return jsonify(desk.mood)


def _reports(desk: Steered) -> dict[str, dict[str, Any]]:
    file = desk.folder / "health.json"
    read: dict[str, dict[str, Any]] = json.loads(file.read_text()) if file.exists() else {}
    return read


def _publish(desk: Steered, report: dict[str, Any]) -> None:
    reports = _reports(desk)
    reports.pop(report["id"], None)
    now = datetime.now(UTC).isoformat(timespec="seconds")
    newest = {report["id"]: {**report, "changed": now}}
    (desk.folder / "health.json").write_text(json.dumps(newest | reports))


def _add_health(app: Flask, desk: Steered) -> None:
    @app.get("/health.json")
    def health() -> Response:
        with desk.lock:
            return jsonify({"reports": [*_reports(desk).values()]})

    @app.get("/health.atom")
    def health_feed() -> Response:
        with desk.lock:
            reports = [*_reports(desk).values()]
        return Response(_feed(app.name, reports), content_type="application/atom+xml")


def _feed(vendor: str, reports: list[dict[str, Any]]) -> bytes:
    """The reports as such feeds have them: states and times in their texts."""
    feed = etree.Element(f"{_ATOM}feed", nsmap={None: _ATOM[1:-1]})
    for one in reports:
        entry = etree.SubElement(feed, f"{_ATOM}entry")
        times = " – ".join(filter(None, [one.get("from"), one.get("until")]))
        said = [f"{one['state']}.", times, ", ".join(one.get("places", [])), one.get("text")]
        work = "Planned maintenance: " if one.get("kind") == "work" else ""
        for tag, text in (
            ("id", f"urn:{vendor}:{one['id']}"),
            ("title", work + one["title"]),
            ("summary", " ".join(filter(None, said))),
            ("updated", one["changed"]),
        ):
            etree.SubElement(entry, f"{_ATOM}{tag}").text = text
    return etree.tostring(feed, xml_declaration=True, encoding="UTF-8")
