"""The end of a contract's term: compared with its use, decided, and asked for in packets."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from typing import Any
from zlib import crc32

import pytest

from sealpacket.client import Refused, SealPacket
from tests.some import today


def year_from(first: date) -> dict[str, Any]:
    return {"starts_on": first, "ends_on": first + timedelta(days=364)}


@pytest.fixture
def number(marit: SealPacket, request: pytest.FixtureRequest) -> str:
    """A contract of its own in its second term, that covers a switch and has paid for a retired one."""
    called = f"R-{crc32(request.node.name.encode()):010}"
    begun = today() - timedelta(days=300)
    made = marit.contracts.add(
        vendor="ovenbird", number=called, title="Spare switches", cost_minor=100_000, currency="GBP",
        notice_on=begun - timedelta(days=60), **year_from(begun - timedelta(days=375)),
    )  # fmt: skip
    marit.products.add(vendor="ovenbird", part_number=f"{called}-P", name="Ovenbird spare")
    serials = [f"{called}-A", f"{called}-B"]
    for serial in serials:
        marit.assets.add(vendor="ovenbird", product=f"{called}-P", serial=serial, site="book-store")
    marit.entitlements.add(
        vendor="ovenbird", contract=called, reference=f"{called}-E", level="Care", needs=["fault"],
        serials=serials, **year_from(begun - timedelta(days=375)),
    )  # fmt: skip
    marit.contracts.renew(
        made.id, made.version, cost_minor=112_000, notice_on=today() + timedelta(days=9), **year_from(begun)
    )  # fmt: skip
    old = marit.assets.get(serials[1])
    marit.assets.change(old.id, old.version, status="retired")
    return called


def test_a_term_beside_the_one_before_and_its_use(marit: SealPacket, number: str) -> None:
    marit.packets.note("The spare switch is dead", asset=f"{number}-A")
    marit.packets.note("It is dead again", asset=f"{number}-A")
    found = marit.contracts.compare_renewal(number)
    assert found.former is not None
    assert (found.term.cost_minor, found.former.cost_minor) == (112_000, 100_000)
    assert found.term.a_month_minor == pytest.approx(112_000 / 12, rel=0.02)
    assert found.days_to_notice == 9
    assert [(one.need, one.packets) for one in found.packets] == [("fault", 2)]
    assert (found.assets, found.assets_asked) == (2, 1)
    assert found.retired == [f"{number}-B"]
    assert (found.uncovered, found.uncovered_serials) == (1, [f"{number}-A"])
    assert found.gap_days == 10
    assert found.decision is None


def test_what_is_decided_stands_until_the_next_term(
    marit: SealPacket, teo: SealPacket, number: str
) -> None:
    with pytest.raises(Refused) as caught:
        teo.contracts.decide_renewal(number, "renew")
    assert caught.value.code == "not-allowed"
    with pytest.raises(Refused, match="A quote has a currency"):
        marit.contracts.decide_renewal(number, "renew", quote_minor=120_000)
    found = marit.contracts.decide_renewal(
        number, "renew", quote_minor=123_200, currency="GBP", reason="The price is fair."
    )
    assert found.decision is not None
    assert (found.decision.decision, found.decision.by) == ("renew", "marit")
    assert found.quote_percent == 10.0
    ending = next(one for one in marit.today().ending if one.contract == number)
    assert ending.decision == "renew"
    later = marit.contracts.decide_renewal(number, "let_end", reason="They are not used.")
    assert later.decision is not None
    assert (later.decision.decision, later.decision.quote_minor) == ("let_end", None)

    contract = marit.contracts.get(number)
    marit.contracts.renew(
        contract.id, contract.version, **year_from(contract.ends_on + timedelta(days=1))
    )
    assert marit.contracts.compare_renewal(number).decision is None, "another term, not decided"


def test_a_quote_and_a_cancellation_are_packets_of_their_own(
    marit: SealPacket, number: str, cli: Callable[..., str]
) -> None:
    quote = marit.contracts.ask_renewal(number, "quote")
    assert quote.title == "Quote for the renewal of our contract"
    assert quote.asset is not None
    assert quote.asset.serial == f"{number}-A", "the retired one is not asked about"
    given = {one.id: one.answer.value for one in quote.questions}
    assert given["contract"] == number, "whichever contract a fault would go by"
    with pytest.raises(Refused, match=f"{quote.number} asks for it already"):
        marit.contracts.ask_renewal(number, "quote")
    cancelled = marit.contracts.ask_renewal(number, "cancellation")
    assert "We cancel this contract at the end of its present term" in cancelled.note
    found = marit.contracts.compare_renewal(number)
    assert found.packets == [], "asking about it is no use of it"
    asked = found.asked
    assert {(one.packet, one.wanted, one.life) for one in asked} == {
        (quote.number, "quote", "drafting"),
        (cancelled.number, "cancellation", "drafting"),
    }
    marit.packets.withdraw(quote.number, "Not needed.")
    again = marit.contracts.ask_renewal(number, "quote")
    assert again.number != quote.number

    said = cli("contract", "renewal", number)
    assert f"Quote asked for in {again.number} (drafting)" in said
    assert "1 would be covered by nothing else" in said
    assert "Nothing is decided yet" in said
    said = cli("contract", "decide-renewal", number, "cancel", "--reason", "Too dear.")
    assert "Decided: cancel it. Too dear." in said


def test_a_contract_without_assets_asks_for_nothing(marit: SealPacket) -> None:
    marit.contracts.add(vendor="ovenbird", number="R-EMPTY", **year_from(today()))
    with pytest.raises(Refused) as caught:
        marit.contracts.ask_renewal("R-EMPTY", "quote")
    assert caught.value.code == "no-thing"
    found = marit.contracts.compare_renewal("R-EMPTY")
    assert (found.assets, found.uncovered, found.former, found.quote_percent) == (0, 0, None, None)
