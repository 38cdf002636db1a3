"""Rulings, one situation after the other."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.coverage import Candidate, Login, Question, Thing, rule
from sealpacket.core.coverage.ruling import add_months, say_day, warranty_end

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
    return Candidate(**{**fields, **changes})


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
    passed: dict[str, str] = field(default_factory=dict)
    says: str = ""
    thing: Thing = KIOSK
    question: Question = field(default_factory=question)
    holds: bool | None = None


CASES = [
    Case("serial is listed", (candidate(),), "support", "88-4107", says="Serial LK40-0926 is listed"),
    Case("another serial is listed", (candidate(serials=("LK40-0927",)),), "none", passed={"FC-1": "other_serial"}),
    Case("product is covered", (candidate(serials=(), products=("LK-40",)),), "support", "88-4107",
         says="covers every Lending kiosk"),
    Case("another product", (candidate(serials=(), products=("BS-8",)),), "none", passed={"FC-1": "other_product"}),
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
    Case("a product without a serial, serials listed", (candidate(),), "none", passed={"FC-1": "other_serial"},
         thing=Thing(vendor="lumenlathe", product="LK-40", product_name="Lending kiosk")),
]  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_ruling(case: Case) -> None:
    ruling = rule(case.question, case.thing, case.candidates)
    assert (ruling.route, ruling.contract) == (case.route, case.contract)
    passed = {item.entitlement: item.code for item in ruling.passed_over}
    assert passed == case.passed or not case.passed
    assert case.says in " ".join(ruling.reasons)
    if case.holds is not None:
        assert ruling.holds is case.holds
    assert ruling.holds or ruling.cures or case.name == "nothing at all is known" or ruling.route == "none"


def in_warranty(**changes: Any) -> Thing:
    """A battery whose maker's warranty of three years began on the ship date."""
    fields = {"shipped_on": date(2025, 9, 1), "warranty_months": 36, "warranty_needs": ("fault", "return")}
    return KIOSK.model_copy(update={**fields, **changes})


def test_a_running_warranty_goes_first() -> None:
    ruling = rule(question(), in_warranty(), [candidate()])
    assert ruling.route == "warranty"
    assert ruling.ends_on == date(2028, 8, 31)
    assert [item.code for item in ruling.passed_over] == ["weaker"]


def test_a_warranty_that_does_not_take_the_need_is_passed_over() -> None:
    ruling = rule(question(), in_warranty(warranty_needs=("return",)), [candidate()])
    assert ruling.route == "support"
    assert {item.entitlement: item.code for item in ruling.passed_over} == {"warranty": "need_excluded"}


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
        other_logins=(Login(name="zoe", tied=("88-4107",)), Login(name="ines", tied=("88-4107",)), Login(name="al")),
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


def test_an_unlisted_serial_is_cured_by_having_it_listed() -> None:
    ruling = rule(question(), KIOSK, [candidate(serials=("LK40-0001",))])
    assert ("list_serial", "LK40-0926") in [(cure.act, cure.target) for cure in ruling.cures]


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
        serials=st.sampled_from([(), ("LK40-0926",), ("LK40-0001",)]),
        products=st.sampled_from([(), ("LK-40",), ("BS-8",)]),
    ),
    max_size=6,
)


@given(candidates, st.randoms())
def test_the_order_of_rows_never_changes_a_ruling(rows: list[Candidate], random: Any) -> None:
    asked = question(login=Login(name="ines", tied=("C1", "C2")))
    shuffled = list(rows)
    random.shuffle(shuffled)
    assert rule(asked, KIOSK, rows) == rule(asked, KIOSK, shuffled)


@given(candidates)
def test_every_candidate_is_chosen_or_passed_over_with_a_reason(rows: list[Candidate]) -> None:
    ruling = rule(question(), KIOSK, rows)
    assert len(ruling.passed_over) + (ruling.entitlement is not None) == len(rows)
    assert all(item.sentence for item in ruling.passed_over)


@given(candidates)
def test_an_entitlement_of_another_serial_changes_nothing(rows: list[Candidate]) -> None:
    with_stranger = [*rows, candidate(entitlement="X", serials=("LK40-9999",), products=())]
    plain, more = rule(question(), KIOSK, rows), rule(question(), KIOSK, with_stranger)
    assert (plain.route, plain.entitlement, plain.contract) == (more.route, more.entitlement, more.contract)


@given(candidates)
def test_a_ruling_can_be_stored_and_read_again(rows: list[Candidate]) -> None:
    ruling = rule(question(), KIOSK, rows)
    assert type(ruling).model_validate_json(ruling.model_dump_json()) == ruling
