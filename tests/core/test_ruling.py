"""Rulings, one situation after the other."""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any, get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.coverage import (
    Basis,
    Candidate,
    CandidateIndex,
    Carrier,
    Listing,
    Login,
    Need,
    Question,
    Thing,
    replay,
    rule,
    timeline,
)
from sealpacket.core.coverage.ruling import NEED_WORDS, add_months, say_day, warranty_end

TODAY = date(2026, 11, 23)
KIOSK = Thing(vendor="lumenlathe", product="LK-40", product_name="Lending kiosk", serial="LK40-0926", site="fennel-lane",
              country="GB")  # fmt: skip


def candidate(**changes: Any) -> Candidate:
    """Full cover of one kiosk for this year, but for what is changed."""
    fields: dict[str, Any] = {
        "entitlement": "FC-1",
        "contract": "88-4107",
        "level": "Full cover",
        "rank": 20,
        "starts_on": date(2026, 1, 1),
        "ends_on": date(2026, 12, 31),
        "needs": ("fault", "question"),
        "serials": ("LK40-0926",),
    }
    fields |= changes
    names = fields["serials"] or fields.get("products") or fields.get("listings")
    return Candidate(**{"everything": not names, **fields})


def question(**changes: Any) -> Question:
    """A fault today, but for what is changed."""
    return Question(**{"need": "fault", "day": TODAY, **changes})


@dataclass(frozen=True)
class Case:
    """A situation and what the ruling has to say."""

    name: str
    candidates: tuple[Candidate, ...]
    route: str
    contract: str | None = None
    passed: dict[str, str] | None = None
    says: str = ""
    thing: Thing = KIOSK
    question: Question = field(default_factory=question)
    holds: bool | None = None


PART = KIOSK.model_copy(update={"carriers": (
    Carrier(serial="CH-1", product="CH", product_name="Chassis"), Carrier(serial="CL-9", product="CL", product_name="Cluster"),
)})  # fmt: skip
SOFTWARE = Thing(vendor="lumenlathe", product="SW", product_name="Catalogue software", serial="LIC-7",
                 carriers=(Carrier(serial="H-1", product="H", product_name="Host", how="software"),))  # fmt: skip


def listing(**days: Any) -> Listing:
    """The kiosk's serial, listed for a part of the term."""
    return Listing(serial="LK40-0926", **days)


CASES = [
    Case("serial is listed", (candidate(),), "support", "88-4107", says="Serial LK40-0926 is listed"),
    Case("another serial is listed", (candidate(serials=("LK40-0927",)),), "none", passed={}),
    Case("product is covered", (candidate(serials=(), products=("LK-40",)),), "support", "88-4107",
         says="covers every Lending kiosk"),
    Case("another product", (candidate(serials=(), products=("BS-8",)),), "none", passed={}),
    Case("serial listed beside another product", (candidate(products=("BS-8",)),), "support", "88-4107"),
    Case("everything of the vendor's", (candidate(serials=()),), "support", "88-4107", says="everything of this vendor's"),
    Case("first day of the term", (candidate(starts_on=TODAY),), "support", "88-4107"),
    Case("last day of the term", (candidate(ends_on=TODAY),), "support", "88-4107", says="ends on 23 Nov 2026"),
    Case("starts tomorrow", (candidate(starts_on=TODAY + timedelta(1)),), "none", passed={"FC-1": "not_yet"}),
    Case("ended yesterday", (candidate(ends_on=TODAY - timedelta(1)),), "none", passed={"FC-1": "ended"}),
    Case("ended twelve days ago", (candidate(ends_on=TODAY - timedelta(12)),), "none", passed={"FC-1": "ended"},
         says="No entitlement serves faults of serial LK40-0926 on 23 Nov 2026."),
    Case("inside the grace", (candidate(ends_on=TODAY - timedelta(5), grace_days=5),), "support", "88-4107",
         says="grace runs to 23 Nov 2026"),
    Case("grace is over", (candidate(ends_on=TODAY - timedelta(6), grace_days=5),), "none", passed={"FC-1": "ended"}),
    Case("need is not included", (candidate(needs=("question",)),), "none", passed={"FC-1": "need_excluded"}),
    Case("country is covered", (candidate(countries=("GB", "IE")),), "support", "88-4107"),
    Case("another country", (candidate(countries=("IE",)),), "none", passed={"FC-1": "other_country"}),
    Case("site is covered", (candidate(sites=("fennel-lane",)),), "support", "88-4107"),
    Case("another site", (candidate(sites=("harrow-road",)),), "none", passed={"FC-1": "other_site"}),
    Case("the higher level goes first",
         (candidate(entitlement="LOW", rank=5, contract="1"), candidate(entitlement="HIGH", rank=30, contract="2")),
         "support", "2", passed={"LOW": "weaker"}),
    Case("naming the serial goes before the product",
         (candidate(entitlement="P", serials=(), products=("LK-40",), contract="1"), candidate(contract="2")),
         "support", "2", passed={"P": "weaker"}),
    Case("the one that ends last goes first",
         (candidate(entitlement="A", contract="1", ends_on=date(2026, 12, 1)), candidate(entitlement="B", contract="2")),
         "support", "2", passed={"A": "weaker"}),
    Case("a tie goes to the lower number", (candidate(entitlement="B", contract="2"), candidate(contract="1")),
         "support", "1", passed={"B": "weaker"}),
    Case("support goes before units",
         (candidate(entitlement="U", route="units", rank=99, contract="1"), candidate(contract="2")),
         "support", "2", passed={"U": "weaker"}),
    Case("units where nothing else serves", (candidate(route="units"),), "units", "88-4107"),
    Case("the login is tied", (candidate(),), "support", "88-4107", holds=True,
         question=question(login=Login(name="ines", tied=("88-4107",))), says="ines is tied to contract 88-4107"),
    Case("the login is not tied", (candidate(),), "support", "88-4107", holds=False,
         question=question(login=Login(name="teo", tied=("9",))), says="the desk would refuse it"),
    Case("a tied contract goes before a higher level that is not",
         (candidate(entitlement="HIGH", contract="1", rank=90), candidate(contract="2")), "support", "2",
         question=question(login=Login(name="ines", tied=("2",))), passed={"HIGH": "weaker"}, holds=True),
    Case("single help is sold", (), "paid", question=question(sells_paid_help=True), says="sells single pieces of help"),
    Case("nothing at all is known", (), "none", says="No entitlement serves"),
    Case("a product without a serial", (candidate(serials=(), products=("LK-40",)),), "support", "88-4107",
         thing=Thing(vendor="lumenlathe", product="LK-40", product_name="Lending kiosk")),
    Case("a product without a serial, serials listed", (candidate(),), "none", passed={},
         thing=Thing(vendor="lumenlathe", product="LK-40", product_name="Lending kiosk")),
    Case("a part of what is listed", (candidate(serials=("CH-1",)),), "support", "88-4107", thing=PART,
         says="It is part of Chassis CH-1, which is listed on contract 88-4107."),
    Case("a part of a part of what is listed", (candidate(serials=("CL-9",)),), "support", "88-4107", thing=PART,
         says="It is part of Cluster CL-9"),
    Case("a part of what is covered by product", (candidate(serials=(), products=("CH",)),), "support", "88-4107",
         thing=PART, says="covers every Chassis"),
    Case("cover that does not reach the parts", (candidate(serials=("CH-1",), reach=()),), "none", thing=PART,
         passed={"FC-1": "beyond_reach"}),
    Case("the part itself goes before what it sits in",
         (candidate(entitlement="CHASSIS", serials=("CH-1",), contract="1"), candidate(contract="2")), "support", "2",
         thing=PART, passed={"CHASSIS": "weaker"}),
    Case("software on a host whose cover reaches software", (candidate(serials=("H-1",), reach=("software",)),), "support",
         "88-4107", thing=SOFTWARE, says="It runs on Host H-1, which is listed"),
    Case("software on a host whose cover is for the machine", (candidate(serials=("H-1",)),), "none", thing=SOFTWARE,
         passed={"FC-1": "beyond_reach"}),
    Case("software by its licence", (candidate(serials=("LIC-7",)),), "support", "88-4107", thing=SOFTWARE),
    Case("software on a part needs both", (candidate(serials=("CL-9",), reach=("software",)),), "none",
         thing=SOFTWARE.model_copy(update={"carriers": (*SOFTWARE.carriers, PART.carriers[1])}),
         passed={"FC-1": "beyond_reach"}),
    Case("listed later in the term", (candidate(serials=(), listings=(listing(from_on=TODAY + timedelta(2)),)),), "none",
         passed={"FC-1": "not_listed_yet"}),
    Case("listed from today on", (candidate(serials=(), listings=(listing(from_on=TODAY),)),), "support", "88-4107"),
    Case("listed until today", (candidate(serials=(), listings=(listing(until_on=TODAY),)),), "support", "88-4107"),
    Case("taken off yesterday", (candidate(serials=(), listings=(listing(until_on=TODAY - timedelta(1)),)),), "none",
         passed={"FC-1": "taken_off"}),
    Case("replaced by a later version", (candidate(replaced_on=TODAY, grace_days=30), candidate(entitlement="FC-2", rank=1)),
         "support", "88-4107", passed={"FC-1": "replaced"}),
    Case("to be replaced tomorrow", (candidate(replaced_on=TODAY + timedelta(1)),), "support", "88-4107"),
    Case("the login may not ask for this", (candidate(),), "support", "88-4107", holds=False,
         question=question(login=Login(name="teo", tied=("88-4107",), needs=("question",))), says="teo may not ask for faults"),
    Case("the login may not send for others", (candidate(),), "support", "88-4107", holds=False,
         question=question(on_behalf_of="Ines", login=Login(name="teo", tied=("88-4107",), for_others=False)),
         says="teo may not send on behalf of Ines"),
    Case("the login sends for itself", (candidate(),), "support", "88-4107", holds=True,
         question=question(login=Login(name="teo", tied=("88-4107",), for_others=False))),
    Case("not registered with the vendor", (candidate(),), "support", "88-4107", holds=False,
         thing=KIOSK.model_copy(update={"registered": False}), says="is not registered with the vendor"),
]  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_ruling(case: Case) -> None:
    ruling = rule(case.question, case.thing, case.candidates)
    assert (ruling.route, ruling.contract) == (case.route, case.contract)
    passed = {item.entitlement: item.code for item in ruling.passed_over}
    assert case.passed is None or passed == case.passed
    assert case.says in " ".join(ruling.reasons)
    if case.holds is not None:
        assert ruling.holds is case.holds
    assert (
        ruling.holds
        or ruling.cures
        or case.name == "nothing at all is known"
        or ruling.route == "none"
    )


def in_warranty(**changes: Any) -> Thing:
    """A battery whose maker's warranty of three years began on the ship date."""
    fields = {
        "shipped_on": date(2025, 9, 1),
        "warranty_months": 36,
        "warranty_needs": ("fault", "return"),
    }
    return KIOSK.model_copy(update={**fields, **changes})


def test_a_running_warranty_goes_first() -> None:
    ruling = rule(question(), in_warranty(), [candidate()])
    assert ruling.route == "warranty"
    assert ruling.ends_on == date(2028, 8, 31)
    assert [item.code for item in ruling.passed_over] == ["weaker"]


def test_a_warranty_that_does_not_take_the_need_is_passed_over() -> None:
    ruling = rule(question(), in_warranty(warranty_needs=("return",)), [candidate()])
    assert ruling.route == "support"
    assert {item.entitlement: item.code for item in ruling.passed_over} == {
        "warranty": "need_excluded"
    }


def test_a_warranty_that_has_ended_is_passed_over_with_its_day() -> None:
    ruling = rule(question(), in_warranty(shipped_on=date(2020, 2, 3)), [candidate()])
    assert ruling.route == "support"
    assert ruling.passed_over[0].sentence == "Warranty ended 2 Feb 2023."


@pytest.mark.parametrize(
    ("shipped", "installed", "end"),
    [
        (date(2024, 2, 29), None, date(2025, 2, 27)),
        (None, date(2025, 6, 1), date(2026, 5, 31)),
        (date(2025, 1, 1), date(2025, 6, 1), date(2025, 12, 31)),
        (None, None, None),
    ],
)
def test_warranty_runs_from_the_ship_date_or_else_the_install_date(
    shipped: date | None, installed: date | None, end: date | None
) -> None:
    thing = in_warranty(shipped_on=shipped, installed_on=installed, warranty_months=12)
    assert warranty_end(thing) == end


@pytest.mark.parametrize(
    ("start", "months", "expected"),
    [
        (date(2026, 1, 31), 1, date(2026, 2, 28)),
        (date(2024, 1, 31), 1, date(2024, 2, 29)),
        (date(2026, 11, 30), 3, date(2027, 2, 28)),
        (date(2026, 12, 1), 12, date(2027, 12, 1)),
    ],
)
def test_months_are_added_as_people_count_them(start: date, months: int, expected: date) -> None:
    assert add_months(start, months) == expected


def test_an_untied_login_is_cured_by_another_login_or_by_tying() -> None:
    asked = question(
        login=Login(name="teo"),
        other_logins=(
            Login(name="zoe", tied=("88-4107",)),
            Login(name="ines", tied=("88-4107",)),
            Login(name="al"),
        ),
    )
    ruling = rule(asked, KIOSK, [candidate()])
    assert [(cure.act, cure.target) for cure in ruling.cures] == [
        ("use_login", "ines"),
        ("use_login", "zoe"),
        ("tie_contract", "88-4107"),
    ]


def test_a_lapsed_contract_is_cured_by_renewing_it() -> None:
    ruling = rule(question(), KIOSK, [candidate(ends_on=TODAY - timedelta(12))])
    assert [(cure.act, cure.target) for cure in ruling.cures] == [("renew", "88-4107")]
    assert "12 days ago" in ruling.cures[0].sentence


def test_what_did_not_include_the_need_is_not_renewed_for_it() -> None:
    ruling = rule(question(need="return"), KIOSK, [candidate(ends_on=TODAY - timedelta(12))])
    assert [item.code for item in ruling.passed_over] == ["need_excluded"]
    assert ruling.cures == ()


def test_what_is_renewed_already_is_waited_for() -> None:
    former = candidate(ends_on=TODAY - timedelta(12))
    later = candidate(starts_on=TODAY + timedelta(7), ends_on=TODAY + timedelta(372))
    elsewhere = candidate(entitlement="X", contract="77-1", ends_on=TODAY - timedelta(3))
    ruling = rule(question(), KIOSK, [former, later, elsewhere])
    assert [(cure.act, cure.target) for cure in ruling.cures] == [
        ("renew", "77-1"),
        ("await_start", "88-4107"),
    ]
    assert "It starts on 30 Nov 2026." in ruling.cures[-1].sentence


@pytest.mark.parametrize("need", get_args(Need))
def test_every_need_has_words_for_cover_and_for_none(need: Need) -> None:
    assert (
        rule(question(need=need), KIOSK, [candidate(needs=(need,))])
        .reasons[1]
        .endswith(" are included.")
    )
    assert (
        NEED_WORDS[need]
        in rule(question(need=need), KIOSK, [candidate(needs=())]).passed_over[0].sentence
    )


def test_an_unlisted_serial_is_cured_by_having_it_listed() -> None:
    others = [candidate(serials=("LK40-0001",), models=("LK-40",)), candidate(entitlement="OLD", models=("LK-40",),
              serials=("LK40-0002",), contract="1", ends_on=TODAY - timedelta(1))]  # fmt: skip
    ruling = rule(question(), KIOSK, others)
    assert [(cure.act, cure.target) for cure in ruling.cures] == [("list_serial", "LK40-0926")]
    assert "Contract 88-4107 covers others of this model" in ruling.cures[0].sentence


def test_an_unregistered_product_is_cured_by_registering_it() -> None:
    ruling = rule(question(), in_warranty(registered=False), [])
    assert (ruling.route, ruling.holds, ruling.cures[0].act) == (
        "warranty",
        False,
        "register_product",
    )


def test_a_login_that_may_not_is_cured_by_one_that_may() -> None:
    asked = question(
        on_behalf_of="Ines",
        login=Login(name="teo", tied=("88-4107",), needs=("question",), for_others=False),
        other_logins=(
            Login(name="deaf", tied=("88-4107",), needs=("return",)),
            Login(name="own", tied=("88-4107",), for_others=False),
            Login(name="right", tied=("88-4107",)),
        ),
    )
    ruling = rule(asked, KIOSK, [candidate()])
    assert [(cure.code, cure.target) for cure in ruling.cures] == [
        ("use_login", "right"),
        ("allow_need", "teo"),
        ("send_own", "teo"),
    ]


@pytest.mark.parametrize(
    ("status", "mailbox_read", "warnings"),
    [("in_use", True, ()), ("retired", True, ("The register says that it is retired.",)),
     ("ordered", True, ("The register says that it is only ordered.",)),
     ("spare", False, ("Nobody reads the mailbox of ines: the desk's questions would be lost.",))],
)  # fmt: skip
def test_what_is_odd_is_told_and_stops_nothing(
    status: str, mailbox_read: bool, warnings: tuple[str, ...]
) -> None:
    asked = question(login=Login(name="ines", tied=("88-4107",), mailbox_read=mailbox_read))
    ruling = rule(asked, KIOSK.model_copy(update={"status": status}), [candidate()])
    assert ruling.holds
    assert ruling.warnings == warnings


def test_days_are_said_as_people_write_them() -> None:
    assert say_day(date(2027, 3, 31)) == "31 Mar 2027"


day = st.dates(date(2026, 10, 1), date(2027, 1, 31))
candidates = st.lists(
    st.builds(
        candidate,
        entitlement=st.sampled_from(["E1", "E2", "E3", "E4", "E5"]),
        contract=st.sampled_from(["C1", "C2", "C3"]),
        rank=st.integers(0, 3),
        route=st.sampled_from(["support", "units"]),
        starts_on=day,
        ends_on=day,
        grace_days=st.integers(0, 10),
        needs=st.sampled_from([("fault",), ("question",), ("fault", "return")]),
        serials=st.sampled_from(
            [(), ("LK40-0926",), ("LK40-0001",), ("CH-1",), ("LK40-0001", "CH-1", "LK40-0926")]
        ),
        products=st.sampled_from([(), ("LK-40",), ("BS-8",)]),
        models=st.sampled_from([(), ("LK-40",)]),
        reach=st.sampled_from([(), ("parts",)]),
        replaced_on=st.one_of(st.none(), day),
        listings=st.lists(
            st.builds(listing, from_on=day, until_on=st.one_of(st.none(), day)), max_size=2
        ).map(tuple),
    ),
    max_size=6,
)
things = st.builds(
    lambda base, months, shipped: base.model_copy(
        update={"warranty_months": months, "shipped_on": shipped, "warranty_needs": ("fault",)}
    ),
    st.sampled_from([KIOSK, PART, SOFTWARE]),
    st.one_of(st.none(), st.integers(1, 3)),
    day,
)
ASKED = question(login=Login(name="ines", tied=("C1", "C2")))


@given(candidates, things, st.randoms())
def test_the_order_of_rows_never_changes_a_ruling(
    rows: list[Candidate], thing: Thing, random: Any
) -> None:
    shuffled = list(rows)
    random.shuffle(shuffled)
    assert rule(ASKED, thing, rows) == rule(ASKED, thing, shuffled)


@given(candidates, things)
def test_every_candidate_that_concerns_it_is_chosen_or_passed_over_with_a_reason(
    rows: list[Candidate], thing: Thing
) -> None:
    ruling = rule(question(), thing, rows)
    concerned = CandidateIndex(rows).for_thing(thing, TODAY, "fault")
    told = len([item for item in ruling.passed_over if item.entitlement != "warranty"])
    assert 0 <= len(concerned) - told - (ruling.entitlement is not None) <= 1, (
        "but for one near candidate"
    )
    assert all(item.sentence for item in ruling.passed_over)


@given(candidates, things, st.sampled_from([{"serials": ("LK40-9999",)}, {"serials": (), "products": ("ZZ",)},
                                            {"serials": ("ZZ-1",), "models": ("ZZ",)}]))  # fmt: skip
def test_an_entitlement_about_something_else_changes_nothing(
    rows: list[Candidate], thing: Thing, about: dict[str, Any]
) -> None:
    stranger = candidate(entitlement="X", rank=99, **about)
    assert rule(ASKED, thing, [*rows, stranger]) == rule(ASKED, thing, rows)


@given(candidates, things)
def test_the_index_gives_the_ruling_that_all_rows_give(rows: list[Candidate], thing: Thing) -> None:
    assert CandidateIndex(rows).rule(ASKED, thing) == rule(ASKED, thing, rows)


@given(candidates, things)
def test_a_ruling_is_replayed_from_its_stored_inputs(rows: list[Candidate], thing: Thing) -> None:
    basis = CandidateIndex(rows).basis(ASKED, thing)
    stored = Basis.model_validate_json(basis.model_dump_json())
    assert replay(stored) == CandidateIndex(rows).rule(ASKED, thing)


@given(candidates, things, st.one_of(st.none(), day))
def test_each_day_has_exactly_one_ruling_and_the_timeline_shows_it(
    rows: list[Candidate], thing: Thing, moved_on: date | None
) -> None:
    start, end = date(2026, 9, 20), date(2027, 2, 20)

    def thing_on(day: date) -> Thing:
        return (
            thing.model_copy(update={"site": "elsewhere"})
            if moved_on and day >= moved_on
            else thing
        )

    asked = question(day=start)
    spans = timeline(asked, thing_on, tuple(rows), end, (moved_on,) if moved_on else ())
    assert (spans[0].starts_on, spans[-1].ends_on) == (start, end)
    assert all(
        one.ends_on + timedelta(1) == two.starts_on for one, two in itertools.pairwise(spans)
    )
    for span in spans:
        for offset in range(span.days):
            day = span.starts_on + timedelta(offset)
            ruling = rule(asked.model_copy(update={"day": day}), thing_on(day), rows)
            assert (ruling.route, ruling.contract, ruling.entitlement) == (
                span.route,
                span.contract,
                span.entitlement,
            )


def test_a_timeline_shows_gaps_and_overlaps() -> None:
    rows = (
        candidate(
            entitlement="A", contract="1", starts_on=date(2026, 1, 1), ends_on=date(2026, 3, 31)
        ),
        candidate(
            entitlement="B",
            contract="2",
            starts_on=date(2026, 3, 1),
            ends_on=date(2026, 4, 30),
            rank=30,
        ),
        candidate(
            entitlement="C", contract="3", starts_on=date(2026, 6, 1), ends_on=date(2026, 12, 31)
        ),
    )
    spans = timeline(question(day=date(2026, 1, 1)), lambda _day: KIOSK, rows, date(2026, 12, 31))
    assert [(str(s.starts_on)[5:], s.route, s.contract, s.also) for s in spans] == [
        ("01-01", "support", "1", ()),
        ("03-01", "support", "2", ("1 A",)),
        ("04-01", "support", "2", ()),
        ("05-01", "none", None, ()),
        ("06-01", "support", "3", ()),
    ]
    assert [span.days for span in spans if span.route == "none"] == [31]
