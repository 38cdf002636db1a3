"""A request that is sent twice is done once, whatever happens between; and a file goes only when its record has gone."""

from __future__ import annotations

import json
import threading
from typing import Any
from uuid import uuid4

import psycopg
import pytest
from sqlalchemy import event, select

from sealpacket.app import idempotency
from sealpacket.app.context import Actor, AppContext
from sealpacket.app.idempotency import Answer
from sealpacket.client import SealPacket
from sealpacket.core.errors import Conflict, Unavailable
from sealpacket.demo.house import RunningHouse
from sealpacket.services.packets import exhibits
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.seal import seals
from sealpacket.store.models import Account, Exhibit
from sealpacket.web.idempotency import is_idempotent
from tests.conftest import ARRAY, NOTE, add
from tests.service.test_roles import application

PROCESSES = 2
READS = {
    "/api/v1/sign-in", "/sign-in/provider/left", "/scim/v2/Users", "/api/v1/sign-out", "/api/v1/tokens", "/api/v1/accounts/<name>/tokens", "/api/v1/me/passkeys/begin",
    "/api/v1/sign-in/passkey", "/api/v1/sign-in/passkey/begin", "/api/v1/digest/calendar", "/api/v1/coverage/list", "/api/v1/notices/feed",
    "/api/v1/contracts/<path:handle>/passcode", "/api/v1/order-documents/<ident>/passcode", "/api/v1/order-documents/<ident>/preview",
    "/api/v1/labels/read", "/api/v1/labels/sheet", "/api/v1/desks/lint", "/api/v1/desks/preview",
    "/api/v1/desks/begin", "/api/v1/desks/read",
    "/api/v1/packets/<number>/messages/preview", "/api/v1/packets/<number>/legend", "/api/v1/packets/<number>/record/in-clear",
    "/api/v1/packets/<number>/later-bags/<place>/in-clear", "/hooks/<key>", "/api/v1/capacity/plan", "/api/v1/batches/preview", "/api/v1/units/statement",
    "/api/v1/licences/<path:handle>/key", "/api/v1/redaction-plan/try",
}  # fmt: skip
"""What a POST only reads, or answers with a secret that must not be kept."""


@pytest.fixture
def somebody(house: RunningHouse, marit: SealPacket, inside: AppContext) -> Actor:
    with inside.database.transaction() as session:
        account = session.scalars(select(Account).where(Account.name == "marit")).one()
        return Actor("marit", frozenset(account.roles), account.id, account.person_id)


def note(inside: AppContext, who: Actor, title: str) -> Answer:
    made = drafts.note(inside, who, title=title, text=NOTE, need="fault", asset=ARRAY)
    return Answer(made.model_dump_json(), 201, '"1"')


def titles(marit: SealPacket, title: str) -> list[str]:
    return [one.number for one in marit.packets.list() if one.title == title]


class Ended(BaseException):
    """The process ends."""


def test_what_breaks_off_between_the_act_and_its_note_leaves_neither(
    marit: SealPacket, inside: AppContext, somebody: Actor
) -> None:
    title, key = f"Once {uuid4().hex[:8]}", uuid4().hex

    def broken() -> Answer:
        note(inside, somebody, title)
        raise Ended

    with pytest.raises(Ended):
        idempotency.answer_once(inside, somebody, key, "f", broken)
    assert titles(marit, title) == []
    first = idempotency.answer_once(
        inside, somebody, key, "f", lambda: note(inside, somebody, title)
    )
    again = idempotency.answer_once(
        inside, somebody, key, "f", lambda: note(inside, somebody, title)
    )
    assert titles(marit, title) == [json.loads(first.body)["number"]]
    assert again.body == first.body
    assert again.etag == '"1"'
    assert marit.verify_custody().holds


@pytest.mark.parametrize("longest", [1, 60])
def test_the_second_of_two_at_once_waits(
    marit: SealPacket,
    inside: AppContext,
    somebody: Actor,
    monkeypatch: pytest.MonkeyPatch,
    longest: int,
) -> None:
    """It gets the first one's answer, or is refused if that takes too long."""
    monkeypatch.setattr(idempotency, "WAIT_SECONDS", longest)
    title, key = f"Both {uuid4().hex[:8]}", uuid4().hex
    under_way, may_end = threading.Event(), threading.Event()

    def slow() -> Answer:
        answer = note(inside, somebody, title)
        under_way.set()
        may_end.wait(20)
        return answer

    one = threading.Thread(target=idempotency.answer_once, args=(inside, somebody, key, "f", slow))
    one.start()
    assert under_way.wait(20)
    if longest == 60:
        threading.Timer(0.5, may_end.set).start()
        again = idempotency.answer_once(
            inside, somebody, key, "f", lambda: note(inside, somebody, title)
        )
        assert again.is_replay
    else:
        with pytest.raises(Conflict) as caught:
            idempotency.answer_once(
                inside, somebody, key, "f", lambda: note(inside, somebody, title)
            )
        assert caught.value.code == "key-busy"
        may_end.set()
    one.join()
    assert len(titles(marit, title)) == 1


def test_a_refused_part_of_an_act_is_undone_alone(inside: AppContext, somebody: Actor) -> None:
    def act() -> Answer:
        noted = drafts.note(
            inside, somebody, title="A part is refused", text="", need="fault", asset=ARRAY
        )
        exhibits.announce(inside, somebody, noted.number, "a.log", 1)
        with pytest.raises(Conflict):
            seals.reopen(inside, somebody, noted.number)
        return Answer(
            json.dumps([one.name for one in drafts.get(inside, noted.number).exhibits]), 201
        )

    made = idempotency.answer_once(inside, somebody, uuid4().hex, "f", act)
    assert json.loads(made.body) == ["a.log"]


def test_what_was_answered_is_kept_encrypted(
    house: RunningHouse, marit: SealPacket, noted: Any
) -> None:
    marit.exhibits.decide(
        noted.number, "keep", kind="host", value="canary-host-77", reason="the desk needs it"
    )
    with psycopg.connect(house.cluster.owner_url.replace("+psycopg", "")) as connection:
        kept = connection.execute("SELECT body_sealed FROM settled_request").fetchall()
    assert kept
    assert not any(
        b"canary" in bytes(row[0]) or noted.number.encode() in bytes(row[0]) for row in kept
    )


def test_every_post_that_creates_or_sends_may_be_repeated() -> None:
    app = application()
    plain = {
        rule.rule
        for rule in app.url_map.iter_rules()
        if "POST" in (rule.methods or ()) and not is_idempotent(app.view_functions[rule.endpoint])
    }
    assert plain == READS


def test_a_file_stays_when_the_record_that_names_it_stays(
    marit: SealPacket, inside: AppContext, somebody: Actor, noted: Any, tmp_path: Any
) -> None:
    content = f"client 10.40.1.1 {uuid4()}\n".encode()  # what others have too stays for them
    add(marit, noted.number, tmp_path / "a.log", content)
    with inside.database.transaction() as session:
        ident = marit.packets.get(noted.number).exhibits[0].id
        blob = session.scalars(select(Exhibit.original_blob).where(Exhibit.id == ident)).one()

    def fail(*_: object) -> None:
        raise Ended

    event.listen(inside.database.engine, "commit", fail)
    with pytest.raises(Ended):
        exhibits.remove(inside, somebody, noted.number, "a.log")
    event.remove(inside.database.engine, "commit", fail)
    assert inside.blobs.read_all(str(blob)) == content
    exhibits.remove(inside, somebody, noted.number, "a.log")
    with pytest.raises(Unavailable):
        inside.blobs.read_all(str(blob))
