"""Levels of service compared, licence keys, versions behind, and what ends soon."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from tests.conftest import add


def test_levels_are_compared_with_cost_and_what_depends_on_them(
    marit: SealPacket, cli: Callable[..., str]
) -> None:
    found = marit.contracts.compare_levels("HC-1180")
    assert [(one.name, one.is_now) for one in found.levels] == [
        ("Basic", False),
        ("Care", True),
        ("Extended care", False),
    ]
    basic, care, extended = found.levels
    assert (extended.gains, basic.loses) == (["help"], ["capacity", "change", "fault"])
    assert (care.more_minor, (basic.more_minor or 0) < 0 < (extended.more_minor or 0)) == (0, True)
    assert [one.reference for one in found.entitlements] == ["HCE-1180"]
    ruled = {one.name: {(x.need, x.route): x.assets for x in one.rulings} for one in found.levels}
    assert ruled["Care"] == {
        ("capacity", "support"): 1,
        ("change", "support"): 1,
        ("fault", "support"): 1,
        ("help", "none"): 1,
    }
    assert ruled["Basic"][("fault", "none")] == 1
    assert ruled["Extended care"][("help", "support")] == 1
    assert "On the level depend HCE-1180" in cli("contract", "levels", "HC-1180")


def test_a_licence_key_is_shown_to_who_may_and_never_leaves(
    marit: SealPacket, pauli: SealPacket, cli: Callable[..., str], tmp_path: Path
) -> None:
    licence = next(
        one for one in marit.licences.list("Remote mirror") if one.asset == "TN9-44120-A"
    )
    assert (licence.has_key, "key" in licence.model_dump()) == (True, False)
    assert marit.licences.licence_key(licence.id) == "TFK9-MIRROR-55A1-88C0-2210"
    assert "TFK9-MIRROR" in cli("licence", "key", licence.id)
    with pytest.raises(Refused, match="needs the role"):
        pauli.licences.licence_key(licence.id)
    shown = [entry.action for entry in marit.custody(subject=f"licence {licence.id}")]
    assert "licence key shown" in shown
    noted = marit.packets.note("Mirror", "The mirror is off.", asset="TN9-44120-A")
    content = b"key TFK9-MIRROR-55A1-88C0-2210 of TFA-7781-0042 is loaded\n"
    add(marit, noted.number, tmp_path / "mirror.log", content)
    marit.packets.wait(noted.number)
    marit.exhibits.fetch_outgoing(noted.number, "mirror.log", tmp_path / "out.log")
    out = (tmp_path / "out.log").read_text()
    assert "TFK9" not in out
    assert "TFA-7781" not in out


def test_assets_behind_the_current_version_and_what_an_update_mends(
    marit: SealPacket, cli: Callable[..., str]
) -> None:
    found = {one.asset: one for one in marit.releases.assets_behind(vendor="tarnfell")}
    one = found["TN9-44120-A"]
    assert (one.runs, one.current, one.status, one.mends) == (
        "7.4.2",
        "7.4.3",
        "previous",
        ["mirror-link"],
    )
    assert marit.releases.assets_behind(product="TN9") == list(found.values())
    assert "7.4.3" in cli("release", "behind", "--vendor", "tarnfell")


def test_what_ends_and_lapses_is_listed(marit: SealPacket, cli: Callable[..., str]) -> None:
    found = marit.expiring(days=60)
    assert ("feature_key", "Remote mirror") in [(one.what, one.name) for one in found]
    assert [one.ends_on for one in found] == sorted(one.ends_on for one in found)
    assert all(one.days <= 60 for one in found)
    assert "Remote mirror" in cli("licence", "expiring", "--days", "60")


def test_the_licence_key_lies_encrypted(marit: SealPacket, inside: AppContext) -> None:
    with inside.database.transaction() as session:
        rows = (
            session.connection().exec_driver_sql("SELECT key_sealed FROM licence").scalars().all()
        )
    kept = [bytes(row) for row in rows if row]
    assert kept
    assert not any(b"MIRROR" in row for row in kept)
