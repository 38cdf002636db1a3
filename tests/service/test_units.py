"""Prepaid units, from the price to the end of the packet."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from random import Random

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import LotShown, PacketShown
from tests.conftest import Standin, lodge, stops
from tests.some import SOON, examples, today

VENDOR = "pellwick"
LICENCE = "PW-LIC-5520"


def lot(marit: SealPacket, units: int, reference: str, lapses: int = 200) -> LotShown:
    """A new lot of the contract of the days of help."""
    return marit.lots.add(
        vendor="pellwick",
        contract="PW-7790",
        reference=reference,
        units=units,
        bought_on=today() - timedelta(days=10),
        lapses_on=today() + timedelta(days=lapses),
    )


def only(marit: SealPacket, units: int) -> LotShown:
    """A new lot with all the units that can be had: every other one is used up."""
    for one in marit.lots.unit_balance(contract="PW-7790").lots:
        if one.left:
            marit.lots.use_units(one.id, one.left, "Emptied for a test")
    return lot(marit, units, f"LOT-{datetime.now(UTC):%H%M%S%f}")


def wish(marit: SealPacket, days: int, service: str = "on-site") -> PacketShown:
    """A draft that asks for days of help."""
    packet = marit.packets.note(
        "Help", "Help to bring all agents of the branches to version 9.4.", asset=LICENCE, need="help"
    )  # fmt: skip
    return marit.packets.answer(packet.number, service=service, days=f"{days} days", wanted=SOON)


def left(marit: SealPacket) -> int:
    return marit.lots.unit_balance(contract="PW-7790").left


def test_they_are_held_when_sealed_freed_when_reopened_and_used_at_the_end(
    marit: SealPacket, desk: Standin
) -> None:
    mine = only(marit, 20)
    draft = wish(marit, 2)
    told = next(check for check in draft.checks if check.code == "units")
    assert f"costs 4 units: 4 of lot {mine.reference}. 16 are left then." in told.sentence
    sealed = marit.packets.seal(draft.number)
    assert [(one.lot, one.units, one.state) for one in sealed.units] == [
        (mine.reference, 4, "held")
    ]
    assert left(marit) == 16
    opened = marit.packets.reopen(draft.number)
    assert ([one.state for one in opened.units], left(marit)) == (["freed"], 20)
    packet = lodge(marit, draft.number)
    assert left(marit) == 16
    desk.steer(case=packet.reference, state="done")
    done = marit.packets.follow(packet.number)
    assert (done.life, [one.state for one in done.units]) == ("settled", ["freed", "used"])
    entries = marit.lots.lot_entries(mine.id)
    assert (entries[0].state, entries[0].packet, entries[0].by) == ("used", draft.number, "marit")


def test_a_withdrawn_packet_frees_them(marit: SealPacket) -> None:
    only(marit, 5)
    draft = wish(marit, 1)
    marit.packets.seal(draft.number)
    gone = marit.packets.withdraw(draft.number, "Not needed any more.")
    assert ([one.state for one in gone.units], left(marit)) == (["freed"], 5)


def test_too_few_units_and_a_day_that_cannot_be_had_are_stops(marit: SealPacket) -> None:
    only(marit, 12)
    draft = wish(marit, 10)
    assert "units-short" in stops(draft)
    early = (today() + timedelta(days=2)).isoformat()
    draft = marit.packets.answer(draft.number, days="1 days", wanted=early)
    assert "units-terms" in stops(draft)
    sunday = today() + timedelta(days=30)
    sunday += timedelta(days=6 - sunday.weekday())
    draft = marit.packets.answer(draft.number, service="training", wanted=sunday.isoformat())
    (said,) = [one.sentence for one in draft.checks if one.code == "units-terms"]
    assert "Sunday is not among them" in said


def test_a_draft_is_stopped_when_its_units_are_gone(marit: SealPacket) -> None:
    mine = only(marit, 20)
    draft = wish(marit, 10)
    assert stops(draft) == []
    marit.lots.use_units(mine.id, 1, "One of them by telephone")
    again = marit.packets.get(draft.number)
    assert stops(again) == ["units-short"]
    line = next(one for one in marit.packets.list(q=draft.number))
    assert line.stops == 1, "the list knows it, too"


def test_of_two_who_seal_at_once_for_the_last_units_one_is_refused(marit: SealPacket) -> None:
    mine = only(marit, 3)
    drafts = [wish(marit, 1).number for _ in range(2)]

    def seal(number: str) -> bool:
        try:
            marit.packets.seal(number)
        except Refused as refused:
            assert refused.code in ("units-short", "stops-left")
            return False
        return True

    with ThreadPoolExecutor(2) as threads:
        assert sorted(threads.map(seal, drafts)) == [False, True]
    assert marit.lots.get(mine.id).left == 1


@pytest.mark.parametrize("turn", range(examples(4)))
def test_no_lot_gives_more_than_it_has_however_many_ask_at_once(
    marit: SealPacket, turn: int
) -> None:
    chance = Random(turn)
    mine = lot(marit, chance.randint(1, 40), f"DRAWN-{turn}-{datetime.now(UTC):%H%M%S%f}")
    wishes = [chance.randint(1, 12) for _ in range(chance.randint(2, 12))]

    def use(units: int) -> bool:
        try:
            marit.lots.use_units(mine.id, units, "drawn")
        except Refused as refused:
            assert refused.status == 422
            return False
        return True

    with ThreadPoolExecutor(6) as threads:
        given = dict(enumerate(threads.map(use, wishes)))
    used = sum(units for place, units in enumerate(wishes) if given[place])
    kept = marit.lots.get(mine.id)
    assert (kept.used, kept.left) == (used, mine.units - used)
    refused = [units for place, units in enumerate(wishes) if not given[place]]
    assert all(units > kept.left for units in refused), (
        "whoever was refused would not fit now either"
    )


def test_a_lot_cannot_shrink_below_what_was_taken(marit: SealPacket) -> None:
    mine = lot(marit, 5, f"SHRINK-{datetime.now(UTC):%H%M%S%f}")
    mine = marit.lots.use_units(mine.id, 4, "four")
    with pytest.raises(Refused, match="More units of this lot are used"):
        marit.lots.change(mine.id, mine.version, units=3)


def test_a_statement_is_compared(
    marit: SealPacket, cli: Callable[..., str], tmp_path: Path
) -> None:
    name = f"SAID-{datetime.now(UTC):%H%M%S%f}"
    mine = lot(marit, 5, name)
    marit.lots.use_units(mine.id, 2, "two")
    used = {one.reference: one.used for one in marit.lots.list(vendor="pellwick")}
    assert marit.lots.compare_statement("pellwick", used) == []
    (odd,) = marit.lots.compare_statement("pellwick", used | {name: 3})
    assert (odd.lot, odd.ours, odd.theirs) == (name, 2, 3)
    file = tmp_path / "said.csv"
    file.write_text("lot,used\n" + "\n".join(f"{lot},{n}" for lot, n in used.items()))
    assert "agree" in cli("lot", "statement", str(file), "--vendor", "pellwick")


def test_the_cost_is_told_before_anything_is_noted(
    marit: SealPacket, cli: Callable[..., str]
) -> None:
    lot(marit, 30, f"COST-{datetime.now(UTC):%H%M%S%f}")
    found = marit.lots.unit_cost("pellwick", "on-site", quantity=2, on=date.fromisoformat(SOON))
    assert (found.units, found.short, found.faults) == (4, 0, [])
    abroad = marit.lots.unit_cost("pellwick", "on-site", country="DE")
    assert abroad.faults == ["A day of work on site cannot be had in DE, only in GB."]
    said = cli("lot", "cost", "on-site", "--vendor", "pellwick", "--quantity", "2", "--on", SOON)
    assert "4 units, 2 each" in said
    with pytest.raises(Refused, match="has no visit"):
        marit.lots.unit_cost("pellwick", "visit")
    assert "left" in cli("lot", "balance", "--vendor", "pellwick")
