"""What services and workers do all day, done once before they are forked: each would have to compile it for itself.

SQLAlchemy keeps what it compiles with the engine, so the forked processes share that; each connects to its own house.
"""

from __future__ import annotations

import json
from typing import Any

from flask.testing import FlaskClient
from sqlalchemy import Engine, event, make_url, select

from sealpacket.app.context import AppContext
from sealpacket.services import sign_in, tokens
from sealpacket.services.packets.lodge import deliveries
from sealpacket.services.packets.redaction import redactions, warming
from sealpacket.settings import Settings
from sealpacket.store import database
from sealpacket.store.models import Exhibit
from sealpacket.web.app import make_app

_PACKET = {
    "title": "Volumes are slow",
    "note": "Searches time out since this morning.",
    "need": "fault",
    "asset": "TN9-44120-A",
}
_ANSWERS = {
    "category": "volume/latency", "severity": "2", "began_at": "2026-11-20T07:40+00:00",
    "impact": "Catalogue searches take half a minute.", "tried": "Moved the catalogue volume: no change.",
}  # fmt: skip
_FILE = b"serial = TN9-44120-A\npassword = thrush-in-the-reeds\n"


def rehearse(password: str) -> None:
    """Note, answer, redact and seal a packet in the house of the environment, whose database is up; then share."""
    settings = Settings()
    warming.warm_up(settings)
    app = AppContext(settings, lambda *_arguments, **_more: None)
    try:
        _one_packet(app, password)
    finally:
        app.database.engine.dispose()
    _share(app.database.engine)


def _one_packet(app: AppContext, password: str) -> None:
    origin = sign_in.From("127.0.0.1")
    token = tokens.create_token(app, "marit", password, "rehearsal", origin).token
    web = make_app(app).test_client()
    web.environ_base["HTTP_AUTHORIZATION"] = f"Bearer {token}"
    number = _done(web, "POST", "packets", json=_PACKET)["number"]
    at = f"packets/{number}"
    _done(web, "GET", at)
    _done(web, "PUT", f"{at}/answers", json={"answers": _ANSWERS})
    _done(web, "POST", f"{at}/exhibits", json={"name": "array.cfg", "size": len(_FILE)})
    binary = "application/octet-stream"
    _done(web, "PUT", f"{at}/exhibits/array.cfg/content", data=_FILE, content_type=binary)
    with app.database.transaction() as session:
        exhibit, packet = session.execute(select(Exhibit.id, Exhibit.packet_id)).one()
    redactions.redact_exhibit(app, exhibit)
    _done(web, "GET", f"{at}/letter")
    _done(web, "POST", f"{at}/seal")
    _done(web, "GET", at)
    _done(web, "GET", f"{at}/letter")
    _done(web, "POST", f"{at}/lodge")
    deliveries.deliver(app, packet, 0)
    _done(web, "GET", at)
    for page in ("packets", "assets", "today"):
        _done(web, "GET", page)


def _done(web: FlaskClient, method: str, path: str, **body: Any) -> Any:
    answer = web.open(f"/api/v1/{path}", method=method, **body)
    assert answer.status_code < 300, f"{method} {path}: {answer.status} {answer.text}"
    return json.loads(answer.data)


def _share(engine: Engine) -> None:
    """Have every context that is made from now on use this engine, and connect where its own address says."""
    own: dict[str, Any] = {}

    def shared(url: str, **_options: Any) -> Engine:
        own.update(engine.dialect.create_connect_args(make_url(url))[1])
        return engine

    event.listen(engine, "do_connect", lambda _dialect, _record, _a, address: address.update(own))
    database.create_engine = shared  # type: ignore[assignment]
