"""The version of a packet moves with everything that is seen of it, and acts are bound to the one that was read."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.client.packets import PageBox
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import ARRAY, Tarnfell, add, authorization

ADDRESS = "k.weber@quillmere.example"


@pytest.fixture
def ready(marit: SealPacket, answered: PacketShown, tmp_path: Path) -> PacketShown:
    """A draft that can be sealed, with one exhibit."""
    return add(marit, answered.number, tmp_path / "array.log", f"mail from {ADDRESS}\n".encode())


def changed(client: SealPacket, number: str, act: Callable[[], object]) -> tuple[int, int]:
    """The packet's version before and after an act and whatever the worker does because of it."""
    before = client.packets.get(number)
    act()
    after = client.packets.wait(number)
    assert (after.version > before.version) == (after.updated_at > before.updated_at)
    return before.version, after.version


def test_each_visible_change_moves_the_version(
    marit: SealPacket, ready: PacketShown, tmp_path: Path
) -> None:
    number, log = ready.number, tmp_path / "second.log"
    log.write_bytes(b"all is well\n")
    tomorrow = datetime.now(UTC) + timedelta(days=1)
    decided: list[str] = []
    acts: dict[str, Callable[[], object]] = {
        "exhibit added": lambda: marit.exhibits.add(number, log),
        "value kept": lambda: decided.append(
            marit.exhibits.decide(number, "keep", "mail", ADDRESS, reason="known to them")[0].id
        ),
        "decision undone": lambda: marit.exhibits.undo_decision(number, decided[0]),
        "step tried": lambda: marit.packets.tried(number, "Restarted it", "no change"),
        "access granted": lambda: marit.packets.grant_access(number, "Ida", "array A", tomorrow),
        "shipment noted": lambda: marit.packets.note_shipment(number, "to_us", "a drive"),
        "ticket": lambda: marit.packets.change(number, ticket="SD-8841"),
        "exhibit removed": lambda: marit.exhibits.remove(number, "second.log"),
        "handed over": lambda: marit.packets.hand_over(number, "teo", "Ring them."),
    }
    for name, act in acts.items():
        before, after = changed(marit, number, act)
        assert after > before, name


def test_a_finished_redaction_moves_it_again(marit: SealPacket, ready: PacketShown) -> None:
    marit.exhibits.redact(ready.number, "array.log")
    redacted = marit.packets.wait(ready.number)
    assert redacted.exhibits[0].state == "ready"
    assert redacted.version >= ready.version + 2, "once when it is queued, once when it is done"


def test_drafts_that_share_what_was_tried_do_not_wait_in_a_circle(marit: SealPacket) -> None:
    drafts = [marit.packets.note(f"The array is slow {n}", asset=ARRAY) for n in range(4)]

    def work_on(packet: PacketShown) -> None:
        for n in range(8):
            marit.packets.tried(packet.number, f"Restarted it, {n}", "no change")

    with ThreadPoolExecutor(4) as threads:
        list(threads.map(work_on, drafts))
    for packet in drafts:
        assert marit.packets.get(packet.number).version >= packet.version + 32


def test_a_box_moves_it(marit: SealPacket, noted: PacketShown, tmp_path: Path) -> None:
    from PIL import Image

    Image.new("RGB", (200, 80), "white").save(tmp_path / "panel.png")
    marit.exhibits.add(noted.number, tmp_path / "panel.png")
    marit.packets.wait(noted.number)
    box = PageBox(1, 0.1, 0.1, 0.4, 0.4)
    before, after = changed(
        marit, noted.number,
        lambda: marit.exhibits.draw_boxes(noted.number, "panel.png", [box], reason="a face"),
    )  # fmt: skip
    assert after > before


def test_an_act_fits_the_version_that_was_read(marit: SealPacket, ready: PacketShown) -> None:
    """What somebody else lets go out after the review cannot be sealed with it."""
    number = ready.number
    marit.exhibits.decide(number, "keep", "mail", ADDRESS, reason="wrongly believed to be known")
    now = marit.packets.wait(number)
    for act in (
        lambda: marit.packets.seal(number, version=ready.version),
        lambda: marit.packets.answer(number, ready.version, severity="3"),
        lambda: marit.exhibits.remove(number, "array.log", version=ready.version),
        lambda: marit.exhibits.decide(
            number, "mask", "mail", ADDRESS, reason="better", version=ready.version
        ),
        lambda: marit.packets.withdraw(number, "not needed", version=ready.version),
    ):
        with pytest.raises(Refused) as caught:
            act()
        assert (caught.value.status, caught.value.code) == (412, "stale")
        assert f"you saw version {ready.version}, it is at {now.version}" in caught.value.detail
    assert marit.packets.get(number) == now, "what was refused has changed nothing"
    sealed = marit.packets.seal(number, version=now.version)
    assert sealed.seal is not None
    assert sealed.seal.version == now.version
    entry = next(one for one in marit.custody(f"packet {number}") if one.action == "packet sealed")
    assert entry.detail["version"] == now.version


def test_acts_after_the_seal_are_bound_too(
    marit: SealPacket, sealed: PacketShown, tarnfell: Tarnfell
) -> None:
    with pytest.raises(Refused, match="has been changed since"):
        marit.packets.lodge(sealed.number, version=sealed.version - 1)
    marit.packets.lodge(sealed.number, version=sealed.version)
    marit.packets.wait(sealed.number)
    with pytest.raises(Refused, match="has been changed since"):
        marit.packets.follow(sealed.number, version=sealed.version)
    lodged = marit.packets.follow(sealed.number)
    with pytest.raises(Refused, match="has been changed since"):
        marit.packets.comment(sealed.number, "It is worse.", version=sealed.version)
    looked = marit.packets.follow(sealed.number)
    assert looked.version == lodged.version, "a look that brings nothing changes nothing"


def test_a_change_without_effect_leaves_no_trace(marit: SealPacket, ready: PacketShown) -> None:
    number = ready.number
    log = len(marit.custody(f"packet {number}"))
    same = marit.packets.change(number, title=ready.title, need=ready.need, asset=ARRAY, ticket="")
    again = marit.packets.answer(number, severity="2")
    assert same.version == again.version == ready.version
    assert len(marit.custody(f"packet {number}")) == log
    asset = marit.assets.get(ARRAY)
    history = len(marit.assets.history(ARRAY).items)
    kept = marit.assets.change(ARRAY, asset.version, name=asset.name, site=asset.site)
    assert (kept.version, kept.updated_at) == (asset.version, asset.updated_at)
    assert len(marit.assets.history(ARRAY).items) == history


def test_etags_are_strong_and_spare_what_is_known(
    house: RunningHouse, marit: SealPacket, ready: PacketShown
) -> None:
    path = f"{house.address}/api/v1/packets/{ready.number}"
    headers = authorization(marit)
    first = plain_http.get(path, headers=headers)
    etag = first.headers["ETag"]
    assert etag.startswith(f'"{ready.version}-')
    known = plain_http.get(path, headers={**headers, "If-None-Match": etag})
    assert (known.status_code, known.content) == (304, b"")
    marit.packets.tried(ready.number, "Restarted it", "no change")
    assert plain_http.get(path, headers={**headers, "If-None-Match": etag}).status_code == 200

    def patch(match: str) -> int:
        body = {"title": "Volumes on the array are slow again"}
        return plain_http.patch(path, headers={**headers, "If-Match": match}, json=body).status_code

    assert patch(f"W/{etag}") == 412, "RFC 9110, 13.1.1: a strong comparison"
    assert patch(etag) == 412
    assert patch("5") == 422
    assert patch("") == 428
    assert patch("*") == 200, "any version"
    assert patch(plain_http.get(path, headers=headers).headers["ETag"]) == 200


def test_a_reference_of_ours_makes_one_packet(marit: SealPacket, teo: SealPacket) -> None:
    """Also when an alert is sent eight times at once."""

    def note(_: int) -> str:
        try:
            return marit.packets.note("Array A is slow", our_reference="ALERT-3cfa").number
        except Refused as refused:
            assert (refused.status, refused.code) == (409, "reference-taken")
            return str(refused.facts["number"])

    with ThreadPoolExecutor(8) as threads:
        assert len(set(threads.map(note, range(8)))) == 1
    (found,) = teo.packets.list(our_reference="ALERT-3cfa")
    assert found.our_reference == "ALERT-3cfa"
    assert [one.number for one in teo.packets.list(query="alert-3CFA")] == [found.number]
    marit.packets.withdraw(found.number, "a test")
    with pytest.raises(Refused, match=f"{found.number} has the reference ALERT-3cfa already"):
        teo.packets.note("Array A is slow", our_reference="ALERT-3cfa")


def test_lists_are_narrowed(marit: SealPacket, teo: SealPacket) -> None:
    before = datetime.now(UTC)
    mine = marit.packets.note("Array A is slow", asset=ARRAY, ticket="SD-4711").number
    other = teo.packets.note("Who may ask?", need="question").number

    def numbers(**which: object) -> set[str]:
        return {one.number for one in marit.packets.list(updated_since=before, **which)}  # type: ignore[arg-type]

    assert numbers() == {mine, other}
    assert numbers(ticket="SD-4711") == numbers(vendor="tarnfell") == {mine}
    assert numbers(owner="teo") == numbers(need="question") == {other}
    site = marit.assets.get(ARRAY).site
    assert numbers(site=site) == {mine}
    assert numbers(query="sd-4711") == {mine}
    assert before <= marit.packets.get(mine).turn_since <= datetime.now(UTC)
    for wrong in ({"vendor": "nobody"}, {"site": "moon"}, {"need": "nothing"}, {"turn": "our"}):
        with pytest.raises(Refused):
            numbers(**wrong)
    withdrawn = marit.packets.withdraw(other, "answered on the telephone")
    assert withdrawn.turn_since > marit.packets.get(mine).turn_since
