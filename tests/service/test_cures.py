"""A packet that asks the vendor for what another one lacks."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from sealpacket.client import Refused, SealPacket


def test_the_vendor_is_asked_for_a_tie_in_a_packet_of_its_own(
    teo: SealPacket, marit: SealPacket, cli: Callable[..., str]
) -> None:
    firewall = next(one for one in marit.assets.list(vendor="ovenbird") if one.product == "OB-F220")
    draft = teo.packets.note("VPN is down", "Since this morning.", asset=firewall.serial)
    (lack,) = [one for one in draft.cures if one.code == "tie_contract"]
    assert (lack.packet, lack.life) == ("", None)
    asking = teo.packets.ask_for_cure(draft.number, "tie_contract")
    assert (asking.need, asking.asks_for, asking.asset and asking.asset.serial) == (
        "tie", draft.number, firewall.serial,
    )  # fmt: skip
    assert "4471" in {one.answer.value for one in asking.questions}, "the contract is named"
    assert "4471" not in asking.title + asking.note, "words are redacted, questions are not"
    (lack,) = [one for one in teo.packets.get(draft.number).cures if one.code == "tie_contract"]
    assert (lack.packet, lack.life) == (asking.number, "drafting")
    with pytest.raises(Refused, match="asks for it already"):
        teo.packets.ask_for_cure(draft.number, "tie_contract")
    teo.packets.withdraw(asking.number, "Not needed.")
    said = cli("packet", "ask-for-cure", draft.number, "tie_contract")
    assert "Tie our contract to our login" in said

    login = next(one for one in marit.logins.list(vendor="ovenbird") if one.person == "teo")
    marit.logins.change(login.id, login.version, contracts=[*login.contracts, "4471"])
    cured = teo.packets.get(draft.number)
    assert (cured.ruling and cured.ruling.holds, cured.cures) == (True, [])


def test_a_cure_of_the_register_is_not_asked_for(marit: SealPacket) -> None:
    draft = marit.packets.note("Slow", "Since this morning.", asset="TN9-44120-A")
    with pytest.raises(Refused, match="has no cure tie_contract"):
        marit.packets.ask_for_cure(draft.number, "tie_contract")
