"""From candidates to a ruling: which entitlement serves this need today, and why not the others."""

from __future__ import annotations

import calendar
from collections.abc import Iterable, Iterator
from datetime import date, timedelta
from functools import lru_cache
from typing import NamedTuple

from sealpacket.core.coverage.model import (
    Basis,
    Candidate,
    Carrier,
    Cure,
    HostCover,
    Login,
    Need,
    PassedOver,
    Question,
    Ruling,
    Thing,
)

NEED_WORDS: dict[Need, str] = {
    "fault": "faults",
    "question": "questions",
    "change": "changes of level",
    "capacity": "capacity requests",
    "return": "returns",
    "help": "help and training",
    "improvement": "wishes for improvement",
    "tie": "ties of contracts to logins",
    "reading": "meter readings",
}


@lru_cache(maxsize=4096)
def say_day(day: date) -> str:
    """A date as people here write it: 31 Mar 2027."""
    return f"{day.day} {calendar.month_abbr[day.month]} {day.year}"


@lru_cache(maxsize=16_384)
def add_months(start: date, months: int) -> date:
    """The same day of the month, `months` later, or the month's last day where it is shorter."""
    year, month = divmod(start.month - 1 + months, 12)
    year, month = start.year + year, month + 1
    return date(year, month, min(start.day, calendar.monthrange(year, month)[1]))


def warranty_end(thing: Thing) -> date | None:
    """The last day of the maker's warranty, from the ship date or else the install date; None if neither is known."""
    start = thing.shipped_on or thing.installed_on
    if start is None or not thing.warranty_months:
        return None
    return add_months(start, thing.warranty_months) - timedelta(days=1)


class Touch(NamedTuple):
    """One way in which a candidate is about a thing: the smaller `distance`, the more directly."""

    distance: int
    serial: str | None = None
    carrier: Carrier | None = None
    beyond: str = ""


def touches(thing: Thing, candidate: Candidate) -> Iterator[Touch]:
    """Every way in which a candidate is about the thing, the most direct first; none: it does not concern it."""
    if thing.serial is not None and _names(candidate, thing.serial):
        yield Touch(0, thing.serial)
    if thing.product in candidate.products:
        yield Touch(1)
    needed: list[str] = []
    for carrier in thing.carriers:
        needed.append("software" if carrier.how == "software" else "parts")
        beyond = next((reach for reach in needed if reach not in candidate.reach), "")
        if _names(candidate, carrier.serial):
            yield Touch(2, carrier.serial, carrier, beyond)
        if carrier.product in candidate.products:
            yield Touch(3, None, carrier, beyond)
    if candidate.everything:
        yield Touch(4)


def rule(question: Question, thing: Thing, candidates: Iterable[Candidate]) -> Ruling:
    """Decide the route for `thing` and give every reason. The order of the candidates never matters.

    Candidates that do not concern the thing are left aside: they change nothing. Precedence: a running warranty that
    takes this need; then support, then units. Among entitlements that serve: one tied to the login, then the higher
    level, then the one that names the serial, its product, what it sits in, or everything, in this order; then the
    one that ends last, then contract number and entitlement as text.
    """
    eligible: list[tuple[Candidate, Touch]] = []
    passed: list[PassedOver] = []
    near: list[Candidate] = []
    for candidate in candidates:
        ways = list(touches(thing, candidate))
        if not ways:
            near += [candidate] if thing.product in candidate.models else []
            continue
        fault, way = _why_not(question, thing, candidate, ways)
        if fault is None:
            eligible.append((candidate, way))
        else:
            passed.append(_pass(candidate, *fault))
    if len(eligible) > 1:
        _sort(eligible, question.login)

    warranty = _warranty_ruling(question, thing, [c for c, _ in eligible], passed)
    if warranty is not None:
        return warranty
    if not eligible:
        return _no_cover(question, thing, passed, best_near(question, near))
    chosen, *others = eligible
    passed += [
        _pass(other, "weaker", _why_weaker((other, way), chosen, question.login))
        for other, way in others
    ]
    return _entitled(question, thing, *chosen, passed)


def replay(basis: Basis) -> Ruling:
    """The ruling again, from its stored inputs."""
    return rule(basis.question, basis.thing, basis.candidates)


def best_near(question: Question, near: Iterable[Candidate]) -> Candidate | None:
    """Of entitlements that list other serials of the same model: the one on which this serial had best be listed."""
    return min(
        (c for c in near if would_list(c, question.day, question.need)), key=nearness, default=None
    )


def would_list(candidate: Candidate, day: date, need: Need) -> bool:
    """Whether it runs on the day and serves the need, so that a serial might be listed on it."""
    runs = candidate.starts_on <= day <= candidate.ends_on and not _is_replaced(candidate, day)
    return runs and need in candidate.needs


def nearness(candidate: Candidate) -> tuple[object, ...]:
    """The order in which entitlements are proposed for listing a serial."""
    return (
        -candidate.rank,
        -candidate.ends_on.toordinal(),
        candidate.contract,
        candidate.entitlement,
    )


def _names(candidate: Candidate, serial: str) -> bool:
    return serial in candidate.serials or any(
        listing.serial == serial for listing in candidate.listings
    )


def _is_replaced(candidate: Candidate, day: date) -> bool:
    return candidate.replaced_on is not None and day >= candidate.replaced_on


def _why_not(
    question: Question, thing: Thing, candidate: Candidate, ways: list[Touch]
) -> tuple[tuple[str, str] | None, Touch]:
    """The first reason why this candidate cannot serve, as (code, sentence), None if it can; and how it touches."""
    first: tuple[tuple[str, str] | None, Touch] | None = None
    for way in ways:
        fault = _way_fault(question.day, candidate, way)
        if fault is None:
            return _term_fault(question, thing, candidate), way
        first = first or (fault, way)
    return first or (None, ways[0])


def _way_fault(day: date, candidate: Candidate, way: Touch) -> tuple[str, str] | None:
    if way.carrier is not None and way.beyond:
        what = "the software on it" if way.beyond == "software" else "the parts in it"
        return (
            "beyond_reach",
            f"It covers {way.carrier.product_name} {way.carrier.serial}, but not {what}.",
        )
    if way.serial is None or way.serial in candidate.serials:
        return None
    listings = [listing for listing in candidate.listings if listing.serial == way.serial]
    if any(
        (x.from_on is None or x.from_on <= day) and (x.until_on is None or day <= x.until_on)
        for x in listings
    ):
        return None
    later = min(
        (x.from_on for x in listings if x.from_on is not None and x.from_on > day), default=None
    )
    if later is not None:
        return "not_listed_yet", f"Serial {way.serial} is on it only from {say_day(later)}."
    last = max(x.until_on for x in listings if x.until_on is not None)
    return "taken_off", f"Serial {way.serial} was on it until {say_day(last)}."


def _term_fault(question: Question, thing: Thing, candidate: Candidate) -> tuple[str, str] | None:
    day = question.day
    if candidate.replaced_on is not None and _is_replaced(candidate, day):
        return "replaced", f"A later version of it counts since {say_day(candidate.replaced_on)}."
    if candidate.sites and thing.site not in candidate.sites:
        return "other_site", "It covers other sites."
    if candidate.countries and thing.country not in candidate.countries:
        return "other_country", "It covers other countries."
    if question.need not in candidate.needs:
        return "need_excluded", f"It does not include {NEED_WORDS[question.need]}."
    if day < candidate.starts_on:
        return "not_yet", f"It starts on {say_day(candidate.starts_on)}."
    if day > candidate.ends_on + timedelta(days=candidate.grace_days):
        ago = (day - candidate.ends_on).days
        grace = (
            f", its {candidate.grace_days} days of grace included" if candidate.grace_days else ""
        )
        return (
            "ended",
            f"It ended on {say_day(candidate.ends_on)}, {ago} day{'s' if ago != 1 else ''} ago{grace}.",
        )
    return None


def _is_tied(candidate: Candidate, login: Login | None) -> bool:
    return login is None or candidate.contract in login.tied


def _sort(eligible: list[tuple[Candidate, Touch]], login: Login | None) -> None:
    """The best first; what all else leaves equal is sorted by its text, so that the order is always the same."""
    keys = {id(candidate): _precedence(candidate, way, login) for candidate, way in eligible}
    eligible.sort(key=lambda pair: keys[id(pair[0])])
    if len(set(keys.values())) < len(eligible):
        eligible.sort(key=lambda pair: (keys[id(pair[0])], pair[0].model_dump_json()))


def _precedence(candidate: Candidate, way: Touch, login: Login | None) -> tuple[object, ...]:
    return (
        candidate.route != "support",
        not _is_tied(candidate, login),
        -candidate.rank,
        way.distance,
        -candidate.ends_on.toordinal(),
        candidate.contract,
        candidate.entitlement,
        candidate.starts_on,
    )


_NAMES = (
    "names this serial",
    "names this product",
    "names what it sits in",
    "names the product that it sits in",
    "",
)


def _why_weaker(
    pair: tuple[Candidate, Touch], best: tuple[Candidate, Touch], login: Login | None
) -> str:
    (other, way), (chosen, chosen_way) = pair, best
    if other.route != chosen.route:
        return "It would use up units, and support serves this."
    if _is_tied(chosen, login) and not _is_tied(other, login):
        return f"It would serve, but its contract is not tied to {login.name if login else 'this login'}."
    if other.rank != chosen.rank:
        return f"It would serve, but {chosen.level} is the higher level."
    if way.distance != chosen_way.distance:
        return f"It would serve, but the chosen one {_NAMES[chosen_way.distance]}."
    if other.ends_on != chosen.ends_on:
        return f"It would serve, but it ends earlier, on {say_day(other.ends_on)}."
    return "It would serve as well; the lower contract number is taken so that the choice is always the same."


def _pass(candidate: Candidate, code: str, sentence: str) -> PassedOver:
    return _passed_over(candidate.entitlement, candidate.contract, code, sentence)


@lru_cache(maxsize=65_536)
def _passed_over(entitlement: str, contract: str, code: str, sentence: str) -> PassedOver:
    """Many things are passed over by the same candidate for the same reason."""
    return PassedOver(entitlement=entitlement, contract=contract, code=code, sentence=sentence)


def _warranty_ruling(
    question: Question, thing: Thing, eligible: list[Candidate], passed: list[PassedOver]
) -> Ruling | None:
    """The ruling where the maker's warranty runs and takes this need; else None, with the warranty passed over."""
    end = warranty_end(thing)
    if end is None:
        return None
    if question.day > end:
        passed.append(_pass_warranty("ended", f"Warranty ended {say_day(end)}."))
        return None
    if question.need not in thing.warranty_needs:
        sentence = f"Warranty runs to {say_day(end)} but does not take {NEED_WORDS[question.need]}."
        passed.append(_pass_warranty("need_excluded", sentence))
        return None
    over = [_pass(c, "weaker", "The warranty still runs and goes first.") for c in eligible]
    unregistered, cures = _registration(thing)
    return Ruling(
        route="warranty",
        holds=thing.registered,
        need=question.need,
        day=question.day,
        ends_on=end,
        reasons=(
            f"The maker's warranty runs to {say_day(end)}.",
            f"It takes {NEED_WORDS[question.need]} of {thing.product_name}.",
            *unregistered,
        ),
        warnings=_warnings(question, thing),
        passed_over=_sorted(passed + over),
        cures=tuple(cures),
    )


def _pass_warranty(code: str, sentence: str) -> PassedOver:
    return _passed_over("warranty", "", code, sentence)


def _entitled(
    question: Question, thing: Thing, chosen: Candidate, way: Touch, passed: list[PassedOver]
) -> Ruling:
    reasons = [
        _cover_reason(chosen, thing, way),
        f"{NEED_WORDS[question.need].capitalize()} are included.",
    ]
    if question.day > chosen.ends_on:
        last = chosen.ends_on + timedelta(days=chosen.grace_days)
        reasons.append(f"It ended on {say_day(chosen.ends_on)}; grace runs to {say_day(last)}.")
    else:
        reasons.append(f"The day is inside the term, which ends on {say_day(chosen.ends_on)}.")
    unregistered, cures = _registration(thing)
    hindrances, login_cures = _login_hindrances(question, chosen)
    if question.login and _is_tied(chosen, question.login):
        reasons.append(f"{question.login.name} is tied to contract {chosen.contract}.")
    return Ruling(
        route=chosen.route,
        holds=not hindrances and not unregistered,
        need=question.need,
        day=question.day,
        entitlement=chosen.entitlement,
        contract=chosen.contract,
        level=chosen.level,
        hours=chosen.hours,
        ends_on=chosen.ends_on,
        reasons=(*reasons, *hindrances, *unregistered),
        warnings=_warnings(question, thing),
        passed_over=_sorted(passed),
        cures=(*cures, *login_cures),
    )


def _cover_reason(chosen: Candidate, thing: Thing, way: Touch) -> str:
    if way.carrier is not None:
        inside = (
            "It runs on"
            if way.carrier.how == "software" and way.carrier == thing.carriers[0]
            else "It is part of"
        )
        what = f"{way.carrier.product_name} {way.carrier.serial}"
        if way.serial is not None:
            return f"{inside} {what}, which is listed on contract {chosen.contract}."
        return f"{inside} {what}, and contract {chosen.contract} covers every {way.carrier.product_name}."
    if way.serial is not None:
        return f"Serial {thing.serial} is listed on contract {chosen.contract}."
    if way.distance == 1:
        return f"Contract {chosen.contract} covers every {thing.product_name}."
    return f"Contract {chosen.contract} covers everything of this vendor's."


def _registration(thing: Thing) -> tuple[list[str], list[Cure]]:
    """The obstacle for a product that must be registered first, with its cure."""
    if thing.registered:
        return [], []
    what = thing.serial or thing.product_name
    cure = Cure(
        code="register_product",
        sentence=f"Register {what} with the vendor first, then note the day of registration in the register.",
        act="register_product",
        target=thing.serial,
    )
    return [f"{what} is not registered with the vendor: the desk would refuse it."], [cure]


def _warnings(question: Question, thing: Thing) -> tuple[str, ...]:
    warnings = []
    if thing.status == "retired":
        warnings.append("The register says that it is retired.")
    elif thing.status == "ordered":
        warnings.append("The register says that it is only ordered.")
    if question.login and not question.login.mailbox_read:
        warnings.append(
            f"Nobody reads the mailbox of {question.login.name}: the desk's questions would be lost."
        )
    return tuple(warnings)


def _login_hindrances(question: Question, chosen: Candidate) -> tuple[list[str], list[Cure]]:
    """Rights that the chosen login lacks, with cures: another login first, then what to ask of the vendor."""
    login = question.login
    if login is None:
        return [], []
    said: list[str] = []
    asks: list[Cure] = []
    if not _is_tied(chosen, login):
        said.append(
            f"{login.name} is not tied to contract {chosen.contract}: the desk would refuse it."
        )
        asks.append(
            Cure(
                code="tie_contract",
                sentence=f"Ask the vendor to tie contract {chosen.contract} to {login.name}, then note the tie in the "
                "register.",
                act="tie_contract",
                target=chosen.contract,
            )
        )
    if not _may_ask(login, question.need):
        said.append(f"{login.name} may not ask for {NEED_WORDS[question.need]}.")
        asks.append(
            Cure(
                code="allow_need",
                sentence=f"Ask the vendor to let {login.name} ask for {NEED_WORDS[question.need]}, then note it at the "
                "login.",
                act="change_login",
                target=login.name,
            )
        )
    if question.on_behalf_of and not login.for_others:
        said.append(f"{login.name} may not send on behalf of {question.on_behalf_of}.")
        asks.append(
            Cure(
                code="send_own",
                sentence=f"Have {question.on_behalf_of} send it through a login of their own, or name the login's "
                "owner as the contact.",
                act="change_login",
                target=login.name,
            )
        )
    if not said:
        return [], []
    return said, _other_logins(question, chosen) + asks


def _may_ask(login: Login, need: Need) -> bool:
    return not login.needs or need in login.needs


def _other_logins(question: Question, chosen: Candidate) -> list[Cure]:
    return [
        Cure(
            code="use_login",
            sentence=f"Use {other.name}, which is tied to contract {chosen.contract}.",
            act="use_login",
            target=other.name,
        )
        for other in sorted(question.other_logins, key=lambda item: item.name)
        if chosen.contract in other.tied
        and _may_ask(other, question.need)
        and (other.for_others or not question.on_behalf_of)
    ]


def _no_cover(
    question: Question, thing: Thing, passed: list[PassedOver], near: Candidate | None
) -> Ruling:
    ended, begins = _by_contract(passed, "ended"), _by_contract(passed, "not_yet")
    cures = [_by_host(thing.host)] if thing.host else []
    cures += [
        Cure(
            code="renew",
            sentence=f"Renew contract {contract}. {sentence}",
            act="renew",
            target=contract,
        )
        for contract, sentence in ended.items()
        if contract not in begins
    ]
    cures += [
        Cure(
            code="await_start",
            sentence=f"Wait for contract {contract}, or ask the vendor to let it begin earlier. {sentence}",
            act="await_start",
            target=contract,
        )
        for contract, sentence in begins.items()
    ]
    if near is not None and thing.serial:
        sentence = (
            f"Contract {near.contract} covers others of this model: if {thing.serial} was bought with cover, "
            "have the vendor list it there, and note it here."
        )
        cures.append(
            Cure(code="list_serial", sentence=sentence, act="list_serial", target=thing.serial)
        )
    if not passed and near is None and thing.host is None:
        cures.append(
            Cure(
                code="add_entitlement",
                sentence="No entitlement in the register is about it. Add the contract and what it grants.",
                act="add_entitlement",
            )
        )
    subject = f"serial {thing.serial}" if thing.serial else thing.product_name
    reason = f"No entitlement serves {NEED_WORDS[question.need]} of {subject} on {say_day(question.day)}."
    paid = question.sells_paid_help
    return Ruling(
        route="paid" if paid else "none",
        holds=paid,
        need=question.need,
        day=question.day,
        reasons=(reason, "The vendor sells single pieces of help.") if paid else (reason,),
        warnings=_warnings(question, thing),
        passed_over=_sorted(passed),
        cures=tuple(cures),
    )


def _by_contract(passed: list[PassedOver], code: str) -> dict[str, str]:
    """By contract, the first sentence of those that were passed over for this reason."""
    found: dict[str, str] = {}
    for item in _sorted(passed):
        if item.code == code and item.contract:
            found.setdefault(item.contract, item.sentence)
    return found


def _by_host(host: HostCover) -> Cure:
    sentence = (
        f"It runs on {host.serial}, and {host.vendor}'s contract {host.contract} ({host.level}, until "
        f"{say_day(host.ends_on)}) takes the software on it, too: make the packet about {host.serial}."
    )
    return Cure(code="use_host", sentence=sentence, act="use_asset", target=host.serial)


def _sorted(passed: list[PassedOver]) -> tuple[PassedOver, ...]:
    return tuple(
        sorted(passed, key=lambda item: (item.contract, item.entitlement, item.code, item.sentence))
    )
