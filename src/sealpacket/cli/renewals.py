"""Renewals of contracts on the command line."""

from __future__ import annotations

from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.client import ClientError
from sealpacket.client.models import RenewalCompared, TermCost
from sealpacket.core.money import say_money, to_minor
from sealpacket.core.words import count

Contract = Annotated[str, typer.Argument(help="The contract: its number, or its id.")]
DECISIONS = {"renew": "renew it", "cancel": "cancel it", "let_end": "let it end"}


def compare_renewal(contract: Contract, json: show.Json = False) -> None:
    """Compare a contract's term with the one before and with what was used of it.

    Example: `sealpacket contract renewal T-2210`
    """
    with session.client() as client:
        found = client.contracts.compare_renewal(contract)
    show.as_json(found) if json else _tell(found)


def _tell(found: RenewalCompared) -> None:
    show.heading(f"Contract {found.contract}, until {found.term.ends_on}")
    terms = [("This term", found.term), *((("Before", found.former),) if found.former else ())]
    show.table(
        ("", "From", "Until", ">Cost", ">A month"),
        ((name, *_term(term)) for name, term in terms),
        nothing="",
    )
    needs = ", ".join(f"{one.packets} {one.need}" for one in found.packets) or "none"
    show.line(f"Packets in this term: {needs}.")
    if found.units_used or found.units_left:
        show.line(f"Units: {found.units_used} used, {found.units_left} left.")
    show.line(
        f"{count(found.assets, 'asset')}, of which {found.assets_asked} had a packet; "
        f"{found.uncovered} would be covered by nothing else."
    )
    if found.retired:
        show.line(f"Retired, and still listed: {', '.join(found.retired)}.", "yellow")
    if found.gap_days:
        show.line(f"{count(found.gap_days, 'day')} without cover between its terms.", "yellow")
    if found.days_to_notice is not None:
        late = found.days_to_notice < 0
        days = count(abs(found.days_to_notice), "day")
        when = f"{days} ago" if late else f"in {days}"
        show.line(f"Notice by {found.notice_on}, {when}.", "red" if late else "")
    for asked in found.asked:
        where = asked.reference or asked.life
        show.line(f"{asked.wanted.capitalize()} asked for in {asked.packet} ({where}).")
    decided = found.decision
    if decided is None:
        show.line("Nothing is decided yet.")
        return
    quote = say_money(decided.quote_minor, decided.currency)
    more = f", {found.quote_percent:+.1f} %" if found.quote_percent is not None else ""
    words = f"Decided: {DECISIONS[decided.decision]}"
    quoted = f"; the quote is {quote}{more}" if quote else ""
    show.line(f"{words}{quoted}. {decided.reason}".rstrip(), "green")


def _term(term: TermCost) -> tuple[str, ...]:
    return (
        str(term.starts_on),
        str(term.ends_on),
        say_money(term.cost_minor, term.currency),
        say_money(term.a_month_minor, term.currency),
    )


def decide_renewal(
    contract: Contract,
    decision: Annotated[str, typer.Argument(help="renew, cancel or let_end.")],
    quote: Annotated[float | None, typer.Option(min=0, help="The quoted cost.")] = None,
    currency: Annotated[str, typer.Option(help="Its currency, such as GBP.")] = "",
    reason: Annotated[str, typer.Option(help="Why.")] = "",
    json: show.Json = False,
) -> None:
    """Decide about the end of a contract's term: to renew it, to cancel it, or to let it end.

    Example: `sealpacket contract decide-renewal T-2210 renew --quote 9400 --currency GBP`
    """
    if decision not in DECISIONS:
        raise ClientError(f"“{decision}” is no decision.", f"Say {', '.join(DECISIONS)}.")
    if (quote is None) != (not currency):
        raise ClientError(
            "A quote has a currency.", "Give both --quote and --currency, or neither."
        )
    with session.client() as client:
        found = client.contracts.decide_renewal(
            contract,
            decision,
            quote_minor=None if quote is None else to_minor(quote, currency),
            currency=currency or None,
            reason=reason,
        )
    show.as_json(found) if json else _tell(found)


def ask_renewal(
    contract: Contract,
    wanted: Annotated[str, typer.Argument(help="quote or cancellation.")],
    json: show.Json = False,
) -> None:
    """Note a packet that asks the vendor for a quote, or that cancels a contract at the end of its term.

    Example: `sealpacket contract ask-renewal T-2210 quote`
    """
    if wanted not in ("quote", "cancellation"):
        raise ClientError(f"“{wanted}” cannot be asked for.", "Say quote or cancellation.")
    with session.client() as client:
        packet = client.contracts.ask_renewal(contract, wanted)
    if json:
        show.as_json(packet)
        return
    show.line(f"{packet.number}: {packet.title}. {packet.status_text}.")
