"""Two people: whoever seals has not prepared, where a rule says so; the second is asked on Today."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import add


@pytest.fixture(autouse=True)
def no_rules(marit: SealPacket) -> Iterator[None]:
    """Each test makes its own rules."""
    yield
    for one in marit.release_rules.list():
        marit.release_rules.remove(one.id)


@pytest.fixture
def ines(signed_in: Callable[[str], SealPacket]) -> SealPacket:
    """Prepares and releases."""
    return signed_in("ines")


def ready(marit: SealPacket, answered: PacketShown, tmp_path: Path) -> PacketShown:
    """A draft by Marit that nothing stops."""
    content = b"serial = TN9-44120-A\npassword = thrush-in-the-reeds\n"
    add(marit, answered.number, tmp_path / "array.cfg", content)
    return marit.packets.get(answered.number)


def code_of(act: Callable[[], object]) -> str:
    with pytest.raises(Refused) as caught:
        act()
    return str(caught.value.code)


def test_whoever_has_prepared_does_not_seal(
    marit: SealPacket, ines: SealPacket, answered: PacketShown, tmp_path: Path
) -> None:
    draft = ready(marit, answered, tmp_path)
    assert draft.release is None
    assert code_of(lambda: marit.packets.ask_release(draft.number)) == "no-second-person"
    marit.release_rules.add("Tarnfell has four eyes", vendor="tarnfell")
    draft = marit.packets.get(draft.number)
    assert draft.release is not None
    assert (draft.release.reasons, draft.release.prepared_by) == (
        ["Tarnfell has four eyes"],
        ["marit"],
    )
    with pytest.raises(Refused) as caught:
        marit.packets.seal(draft.number)
    assert caught.value.code == "second-person"
    assert "ines" in caught.value.remedy and "marit" not in caught.value.remedy

    assert draft.number not in {one.number for one in ines.today().releases}
    version = draft.version
    asked = marit.packets.ask_release(draft.number)
    assert asked.version > version, "it is seen, so its version moves"
    assert asked.release is not None and asked.release.asked_by == "marit"
    assert marit.packets.ask_release(draft.number).version == asked.version
    assert draft.number in {one.number for one in ines.today().releases}
    assert draft.number not in {one.number for one in marit.today().releases}

    assert ines.packets.seal(draft.number).life == "sealed"
    assert draft.number not in {one.number for one in ines.today().releases}


def test_whoever_helps_to_prepare_is_no_second_person(
    marit: SealPacket, ines: SealPacket, answered: PacketShown, tmp_path: Path
) -> None:
    draft = ready(marit, answered, tmp_path)
    marit.release_rules.add("Always four eyes")
    marit.packets.ask_release(draft.number)
    ines.packets.change(draft.number, title="The volumes are slow since Monday")
    assert code_of(lambda: ines.packets.seal(draft.number)) == "second-person"
    assert draft.number not in {one.number for one in ines.today().releases}


@pytest.mark.parametrize(
    ("rule", "applies"),
    [
        ({"severity": "2"}, True),
        ({"severity": "1"}, False),
        ({"kind": "secret"}, True),
        ({"kind": "card"}, False),
        ({"vendor": "ovenbird"}, False),
        ({"vendor": "tarnfell", "severity": "2", "kind": "secret"}, True),
        ({"vendor": "tarnfell", "severity": "2", "kind": "card"}, False),
    ],
)
def test_a_rule_applies_if_all_of_it_does(
    marit: SealPacket, answered: PacketShown, tmp_path: Path, rule: dict[str, str], applies: bool
) -> None:
    draft = ready(marit, answered, tmp_path)
    assert {"secret"} <= set(draft.exhibits[0].counts)
    marit.release_rules.add("By this rule", **rule)
    assert (marit.packets.get(draft.number).release is not None) is applies


def test_rules_are_for_administrators(marit: SealPacket, teo: SealPacket) -> None:
    assert code_of(lambda: teo.release_rules.add("Mine")) == "not-allowed"
    assert code_of(lambda: marit.release_rules.add("x", vendor="nobody")) == "invalid"
    assert code_of(lambda: marit.release_rules.add("x", kind="nothing")) == "invalid"
    assert code_of(lambda: marit.release_rules.remove("none")) == "not-found"
    assert teo.release_rules.list() == []
