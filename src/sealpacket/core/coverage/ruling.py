"""From candidates to a ruling: which entitlement serves this need today, and why not the others."""

from __future__ import annotations

import calendar
from collections.abc import Iterable
from datetime import date, timedelta

from sealpacket.core.coverage.model import Candidate, Cure, Login, Need, PassedOver, Question, Ruling, Thing

NEED_WORDS: dict[Need, str] = {
    "fault": "faults",
    "question": "questions",
    "change": "changes of level",
    "capacity": "capacity requests",
    "return": "returns",
    "help": "help and training",
}


def say_day(day: date) -> str:
    """A date as people here write it: 31 Mar 2027."""
    return f"{day.day} {calendar.month_abbr[day.month]} {day.year}"


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


def rule(question: Question, thing: Thing, candidates: Iterable[Candidate]) -> Ruling:
    """Decide the route for `thing` and give every reason. The order of the candidates never matters.

    Precedence: a running warranty that takes this need; then support, then units. Among entitlements that serve:
    one tied to the login, then the higher level, then one that names the serial, then the one that ends last,
    then contract number and entitlement as text.
    """
    eligible: list[Candidate] = []
    passed: list[PassedOver] = []
    for candidate in candidates:
        fault = _why_not(question, thing, candidate)
        if fault is None:
            eligible.append(candidate)
        else:
            passed.append(_pass(candidate, *fault))
    eligible.sort(key=lambda c: _precedence(c, question.login, thing))

    warranty = _warranty_ruling(question, thing, eligible, passed)
    if warranty is not None:
        return warranty
    if not eligible:
        return _no_cover(question, thing, passed)
    chosen, *others = eligible
    passed += [_pass(other, "weaker", _why_weaker(other, chosen, question.login, thing)) for other in others]
    return _entitled(question, thing, chosen, passed)


def _why_not(question: Question, thing: Thing, candidate: Candidate) -> tuple[str, str] | None:
    """The first reason for which this candidate cannot serve, as (code, sentence); None if it can."""
    day = question.day
    if candidate.serials and thing.serial not in candidate.serials and not candidate.products:
        return "other_serial", "It lists other serial numbers."
    if candidate.products and thing.product not in candidate.products and thing.serial not in candidate.serials:
        return "other_product", "It covers other products."
    if candidate.sites and thing.site not in candidate.sites:
        return "other_site", "It covers other sites."
    if candidate.countries and thing.country not in candidate.countries:
        return "other_country", "It covers other countries."
    if day < candidate.starts_on:
        return "not_yet", f"It starts on {say_day(candidate.starts_on)}."
    if day > candidate.ends_on + timedelta(days=candidate.grace_days):
        ago = (day - candidate.ends_on).days
        grace = f", its {candidate.grace_days} days of grace included" if candidate.grace_days else ""
        return "ended", f"It ended on {say_day(candidate.ends_on)}, {ago} day{'s' if ago != 1 else ''} ago{grace}."
    if question.need not in candidate.needs:
        return "need_excluded", f"It does not include {NEED_WORDS[question.need]}."
    return None


def _is_tied(candidate: Candidate, login: Login | None) -> bool:
    return login is None or candidate.contract in login.tied


def _names_serial(candidate: Candidate, thing: Thing) -> bool:
    return thing.serial is not None and thing.serial in candidate.serials


def _precedence(candidate: Candidate, login: Login | None, thing: Thing) -> tuple[object, ...]:
    return (
        candidate.route != "support",
        not _is_tied(candidate, login),
        -candidate.rank,
        not _names_serial(candidate, thing),
        -candidate.ends_on.toordinal(),
        candidate.contract,
        candidate.entitlement,
        candidate.model_dump_json(),
    )


def _why_weaker(other: Candidate, chosen: Candidate, login: Login | None, thing: Thing) -> str:
    if other.route != chosen.route:
        return "It would use up units, and support serves this."
    if _is_tied(chosen, login) and not _is_tied(other, login):
        return f"It would serve, but its contract is not tied to {login.name if login else 'this login'}."
    if other.rank != chosen.rank:
        return f"It would serve, but {chosen.level} is the higher level."
    if _names_serial(chosen, thing) and not _names_serial(other, thing):
        return "It would serve, but the chosen one names this serial."
    if other.ends_on != chosen.ends_on:
        return f"It would serve, but it ends earlier, on {say_day(other.ends_on)}."
    return "It would serve as well; the lower contract number is taken so that the choice is always the same."


def _pass(candidate: Candidate, code: str, sentence: str) -> PassedOver:
    return PassedOver(entitlement=candidate.entitlement, contract=candidate.contract, code=code, sentence=sentence)


def _warranty_ruling(
    question: Question, thing: Thing, eligible: list[Candidate], passed: list[PassedOver]
) -> Ruling | None:
    """The ruling where the maker's warranty runs and takes this need; else None, with the warranty passed over."""
    end = warranty_end(thing)
    if end is None:
        return None
    if question.day > end:
        passed.append(
            PassedOver(entitlement="warranty", contract="", code="ended", sentence=f"Warranty ended {say_day(end)}.")
        )
        return None
    if question.need not in thing.warranty_needs:
        passed.append(
            PassedOver(
                entitlement="warranty",
                contract="",
                code="need_excluded",
                sentence=f"Warranty runs to {say_day(end)} but does not take {NEED_WORDS[question.need]}.",
            )
        )
        return None
    over = [_pass(c, "weaker", "The warranty still runs and goes first.") for c in eligible]
    return Ruling(
        route="warranty",
        holds=True,
        need=question.need,
        day=question.day,
        ends_on=end,
        reasons=(
            f"The maker's warranty runs to {say_day(end)}.",
            f"It takes {NEED_WORDS[question.need]} of {thing.product_name}.",
        ),
        passed_over=_sorted(passed + over),
        cures=(),
    )


def _entitled(question: Question, thing: Thing, chosen: Candidate, passed: list[PassedOver]) -> Ruling:
    reasons = [_cover_reason(chosen, thing)]
    reasons.append(f"{NEED_WORDS[question.need].capitalize()} are included.")
    if question.day > chosen.ends_on:
        last = chosen.ends_on + timedelta(days=chosen.grace_days)
        reasons.append(f"It ended on {say_day(chosen.ends_on)}; grace runs to {say_day(last)}.")
    else:
        reasons.append(f"The day is inside the term, which ends on {say_day(chosen.ends_on)}.")
    cures: list[Cure] = []
    tied = _is_tied(chosen, question.login)
    if question.login and tied:
        reasons.append(f"{question.login.name} is tied to contract {chosen.contract}.")
    elif question.login:
        reasons.append(f"{question.login.name} is not tied to contract {chosen.contract}: the desk would refuse it.")
        cures = _tie_cures(question, chosen)
    return Ruling(
        route=chosen.route,
        holds=tied,
        need=question.need,
        day=question.day,
        entitlement=chosen.entitlement,
        contract=chosen.contract,
        level=chosen.level,
        hours=chosen.hours,
        ends_on=chosen.ends_on,
        reasons=tuple(reasons),
        passed_over=_sorted(passed),
        cures=tuple(cures),
    )


def _cover_reason(chosen: Candidate, thing: Thing) -> str:
    if _names_serial(chosen, thing):
        return f"Serial {thing.serial} is listed on contract {chosen.contract}."
    if chosen.products:
        return f"Contract {chosen.contract} covers every {thing.product_name}."
    return f"Contract {chosen.contract} covers everything of this vendor's."


def _tie_cures(question: Question, chosen: Candidate) -> list[Cure]:
    cures = [
        Cure(
            code="use_login",
            sentence=f"Use {other.name}, which is tied to contract {chosen.contract}.",
            act="use_login",
            target=other.name,
        )
        for other in sorted(question.other_logins, key=lambda item: item.name)
        if chosen.contract in other.tied
    ]
    name = question.login.name if question.login else ""
    cures.append(
        Cure(
            code="tie_contract",
            sentence=f"Ask the vendor to tie contract {chosen.contract} to {name}, then note the tie in the register.",
            act="tie_contract",
            target=chosen.contract,
        )
    )
    return cures


def _no_cover(question: Question, thing: Thing, passed: list[PassedOver]) -> Ruling:
    cures: list[Cure] = []
    for item in _sorted(passed):
        if item.code == "ended" and item.contract:
            cures.append(
                Cure(
                    code="renew",
                    sentence=f"Renew contract {item.contract}. {item.sentence}",
                    act="renew",
                    target=item.contract,
                )
            )
    if any(item.code == "other_serial" for item in passed) and thing.serial:
        cures.append(
            Cure(
                code="list_serial",
                sentence=f"If {thing.serial} was bought with cover, have the vendor list it and note it here.",
                act="list_serial",
                target=thing.serial,
            )
        )
    if not passed:
        cures.append(
            Cure(
                code="add_entitlement",
                sentence="Nothing of this vendor's is in the register. Add the contract and what it grants.",
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
        passed_over=_sorted(passed),
        cures=tuple(cures),
    )


def _sorted(passed: list[PassedOver]) -> tuple[PassedOver, ...]:
    return tuple(sorted(passed, key=lambda item: (item.contract, item.entitlement, item.code, item.sentence)))
