"""Changing keys under a house that works: everything stays readable, and nothing hangs on the former key any more."""

from __future__ import annotations

import os
import re
import time
from pathlib import Path

import pytest
from sqlalchemy import LargeBinary, select

from sealpacket.app.context import AppContext
from sealpacket.app.key_file import KeyFile
from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.errors import Conflict, Unavailable
from sealpacket.core.keyring import KeyRing
from sealpacket.core.packet import verify_bag
from sealpacket.core.secretbox import is_current
from sealpacket.demo.house import RunningHouse
from sealpacket.services import keys, soundness
from sealpacket.services.packets.lodge.reply_addresses import packet_of, reply_address
from sealpacket.store.models import Base
from tests.conftest import add
from tests.service.test_sealing_and_lodging import fetch, key_of

OF_A_PACKET = {"typed_record.found_sealed", "message.found_sealed"}
"""Encrypted with the key of their packet, not with the master key."""


def columns() -> dict[str, object]:
    """Every column that holds something encrypted."""
    return {
        f"{table.name}.{column.name}": column
        for table in Base.metadata.sorted_tables
        for column in table.columns
        if isinstance(column.type, LargeBinary) and column.name.endswith("_sealed")
    }


def not_current(inside: AppContext) -> list[str]:
    """What is still encrypted with a former key, in the database and among the files."""
    found = []
    with inside.database.transaction() as session:
        for name, column in columns().items():
            if name not in OF_A_PACKET:
                values = [bytes(value) for value in session.scalars(select(column)) if value]  # type: ignore[call-overload]
                found += [name for value in values if not is_current(inside.ring, value)]
    for path in Path(inside.settings.blobs.removeprefix("file://")).rglob("*"):
        if path.is_file() and not is_current(inside.ring, path.read_bytes()[:64]):
            found.append(path.name)
    return found


def test_every_column_that_is_encrypted_is_encrypted_anew() -> None:
    known = {f"{column.class_.__tablename__}.{column.key}" for column, _ in keys.SEALED}
    assert known == set(columns()) - OF_A_PACKET


def test_a_new_master_key_takes_over_while_the_house_works(
    marit: SealPacket, inside: AppContext, house: RunningHouse, lodged: PacketShown, tmp_path: Path
) -> None:
    before = marit.exhibits.fetch_outgoing(
        lodged.number, "array.cfg", tmp_path / "before"
    ).read_bytes()
    address = reply_address(inside, lodged.number)
    first = inside.ring.current
    fresh = keys.new_master_key(inside)
    assert not_current(inside)
    with pytest.raises(Conflict, match="still holds a former key"):
        keys.new_master_key(inside)

    done = keys.re_encrypt(inside)
    assert done.values > 10
    assert done.files > 5
    assert not_current(inside) == []
    with pytest.raises(Conflict, match="younger than a day"):
        keys.forget_former(inside)
    os.utime(house.folder / "keys/master.key", (time.time() - 172_800,) * 2)
    assert len(keys.forget_former(inside)) == 1
    assert inside.ring.keys == (inside.ring.current,)
    assert inside.ring.current != first

    after = marit.exhibits.fetch_outgoing(
        lodged.number, "array.cfg", tmp_path / "after"
    ).read_bytes()
    again = marit.packets.note("Volumes are slow again", "Searches time out.", asset="TN9-44120-A")
    later = add(marit, again.number, tmp_path / "array.cfg", b"password = thrush-in-the-reeds\n")
    opened = marit.exhibits.open_legend(lodged.number, reason="reading after the change")
    assert after == before
    assert later.exhibits[0].state == "ready"
    assert [one.value for one in opened.placeholders] == ["thrush-in-the-reeds"]
    assert packet_of(inside, address) == lodged.number
    assert soundness.check(inside).faults == []
    entries = {one.action: one for one in marit.custody(limit=200)}
    assert entries["master key added"].detail["key"] == fresh
    assert "former master key forgotten" in entries


def test_a_new_seal_key_leaves_old_bags_verifiable(marit: SealPacket, inside: AppContext, tmp_path: Path,
                                                   sealed: PacketShown) -> None:  # fmt: skip
    old = fetch(marit, sealed.number, tmp_path)
    former = key_of(marit).current.name
    fresh = keys.new_seal_key(inside)
    marit.packets.reopen(sealed.number)
    marit.packets.seal(sealed.number)
    old = old.rename(tmp_path / "old.zip")
    new = fetch(marit, sealed.number, tmp_path)
    public = key_of(marit)
    verdicts = [verify_bag(path, public) for path in (old, new)]
    assert [verdict.faults for verdict in verdicts] == [[], []]
    assert [verdict.key for verdict in verdicts] == [former, fresh]
    assert '"d"' not in public.public_set()


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "does not hold keys"),
        ("c2hvcnQ=\n", "does not hold keys"),
        ("not base64!\n", "does not hold keys"),
    ],
)
def test_a_damaged_key_file_is_told(tmp_path: Path, text: str, said: str) -> None:
    path = tmp_path / "master.key"
    path.write_text(text)
    with pytest.raises(Unavailable, match=said):
        KeyFile(path).ring()
    with pytest.raises(Unavailable, match="cannot be read"):
        KeyFile(tmp_path / "none").ring()


def test_a_key_file_is_read_again_when_it_changes_and_stays_private(tmp_path: Path) -> None:
    path = tmp_path / "master.key"
    path.write_text(KeyRing((b"a" * 32,)).written())
    file = KeyFile(path)
    assert file.ring().current == b"a" * 32
    KeyFile(path).replace(KeyRing((b"b" * 32, b"a" * 32)))
    assert file.ring().current == b"b" * 32
    assert path.stat().st_mode & 0o777 == 0o600
    assert re.fullmatch(r"(\S{44}\n){2}", path.read_text())
