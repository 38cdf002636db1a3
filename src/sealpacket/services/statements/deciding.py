"""Deciding differences: our side is right, theirs is, or the vendor is asked by a packet."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from typing import Any, Literal

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, ProblemError
from sealpacket.core.statement import CoverLine, Difference
from sealpacket.services.packets.draft import drafts
from sealpacket.services.register.acts import added, checked, keep_version, rewrite, touch
from sealpacket.services.register.dated import later_version
from sealpacket.services.register.kinds import KINDS
from sealpacket.services.statements.comparing import Held, held
from sealpacket.services.statements.keeping import find_statement, read_difference, show
from sealpacket.services.statements.schemas import StatementShown
from sealpacket.store.models import (
    Asset,
    Contract,
    Entitlement,
    Product,
    Statement,
    StatementDifference,
)

Verdict = Literal["ours", "theirs"]
_DAY = timedelta(days=1)
_MOST_TOLD = 60


def decide(
    app: AppContext, actor: Actor, ident: str, numbers: list[int], verdict: Verdict, reason: str
) -> StatementShown:
    """Accept differences either way, all or none. `theirs` changes the register as of the statement's day."""
    with app.transaction(
        actor, f"statement's differences decided: {verdict}", f"statement {ident}"
    ) as tx:
        statement = find_statement(tx.session, ident, lock=True)
        rows = _chosen(tx.session, statement, numbers)
        for row in rows:
            if verdict == "theirs":
                try:
                    _Taking(app, tx.session, actor, statement).take(read_difference(row))
                except ProblemError as problem:
                    problem.detail = f"{row.serial}: {problem.detail} Nothing was decided."
                    problem.args = (problem.detail,)
                    raise
            _close(row, verdict, actor, reason)
        tx.detail = {
            "serials": [row.serial for row in rows][:_MOST_TOLD],
            "count": len(rows),
            "why": reason,
        }
        tx.session.flush()
        return show(tx.session, statement)


def ask(app: AppContext, actor: Actor, ident: str, numbers: list[int]) -> str:
    """Turn differences into a packet to the vendor. Returns its number."""
    with app.database.transaction() as session:
        statement = find_statement(session, ident)
        rows = _chosen(session, statement, numbers)
        told = [read_difference(row).say("your") for row in rows]
        about = next((row.asset_id for row in rows if row.asset_id), None)
        vendor, as_of = statement.vendor.name, statement.as_of
    count = len(told)
    text = (
        f"We have compared your statement of {as_of:%d %B %Y} with our records. "
        f"{'This differs' if count == 1 else f'These {count} things differ'}; please correct yours, or tell us why:\n\n"
    )
    text += "\n".join(f"- {sentence}" for sentence in told[:_MOST_TOLD])
    if count > _MOST_TOLD:
        text += f"\n- and {count - _MOST_TOLD} more, which we can send as a list."
    title = f"{vendor}'s records of our cover: {'one thing differs' if count == 1 else f'{count} things differ'}"
    packet = drafts.note(app, actor, title=title, text=text, need="question", asset=about)
    number = packet.number
    drafts.by_hand_if_uncovered(app, actor, number)
    with app.transaction(
        actor, "statement's differences asked about", f"statement {ident}", packet=number
    ) as tx:
        statement = find_statement(tx.session, ident, lock=True)
        for row in _chosen(tx.session, statement, numbers):
            _close(row, "packet", actor, "")
            row.packet = number
    return number


def _chosen(
    session: Session, statement: Statement, numbers: list[int]
) -> list[StatementDifference]:
    """The selected differences. Raises Conflict if one of them is decided already."""
    if statement.state != "ready":
        raise Conflict(
            f"The statement is {statement.state}.", "Wait until it is compared.", code="not-ready"
        )
    query = select(StatementDifference).where(
        StatementDifference.statement_id == statement.id, StatementDifference.number.in_(numbers)
    )
    rows = list(session.scalars(query.order_by(StatementDifference.number)))
    if len(rows) != len(set(numbers)) or not rows:
        raise Conflict(
            "Not all of these differences are there.",
            "Open the statement again.",
            code="no-such",
        )
    done = next((row for row in rows if row.decision), None)
    if done is not None:
        raise Conflict(
            f"{done.serial} is decided already, by {done.decided_by}.",
            "Leave it out.",
            code="decided",
        )
    return rows


def _close(row: StatementDifference, decision: str, actor: Actor, reason: str) -> None:
    row.decision, row.reason = decision, reason
    row.decided_by, row.decided_at = actor.name, datetime.now(UTC)


class _Taking:
    """Makes the register say what the vendor's statement says of one thing, from the statement's day on.

    Each step looks at the register as it is now: what an earlier one has mended already is left alone.
    """

    def __init__(
        self, app: AppContext, session: Session, actor: Actor, statement: Statement
    ) -> None:
        self._app, self._session, self._actor = app, session, actor
        self._vendor, self._day = statement.vendor, statement.as_of

    def take(self, difference: Difference) -> None:
        """Take one difference over. Raises Conflict where a person has to act on the register itself."""
        if difference.sort == "only_ours":
            self._take_off(difference)
        elif difference.theirs is not None:
            if difference.sort == "mistyped":
                self._rename(difference.serial, difference.theirs.serial)
            if difference.sort == "only_theirs":
                self._list(self._thing(difference.theirs), difference.theirs)
            for field in difference.fields:
                getattr(self, f"_take_{field}")(difference.theirs, difference)

    def _take_off(self, difference: Difference) -> None:
        here = self._held(difference.serial, difference.ours.contract if difference.ours else "")
        if here is None:
            return
        row, item = self._listing(here)
        if self._day <= max(row.starts_on, item.from_on or row.starts_on):
            self._session.delete(item)
        else:
            item.until_on = self._day - _DAY
        self._keep("entitlement", row)

    def _rename(self, ours: str, theirs: str) -> None:
        asset = self._asset(ours)
        if asset is not None:
            rewrite(self._app, self._session, KINDS["asset"], asset, {"serial": theirs})
            self._keep("asset", asset)

    def _take_site(self, theirs: CoverLine, _difference: Difference) -> None:
        asset = self._asset(theirs.serial)
        if asset is not None and (asset.site is None or asset.site.key != theirs.site):
            moved = {"site": theirs.site, "placed_on": self._day}
            rewrite(self._app, self._session, KINDS["asset"], asset, moved)
            self._keep("asset", asset)

    def _take_contract(self, theirs: CoverLine, difference: Difference) -> None:
        self._take_off(difference.model_copy(update={"serial": theirs.serial}))
        self._list(self._thing(theirs), theirs)

    def _take_level(self, theirs: CoverLine, difference: Difference) -> None:
        here = self._held(theirs.serial, self._contract_of(theirs, difference))
        if here is None or here.line.level == theirs.level:
            return
        row = self._session.get_one(Entitlement, here.entitlement_id)
        if row.starts_on < self._day <= row.ends_on:
            row = later_version(self._session, row, self._day, row.ends_on)
            self._session.refresh(row)
        rewrite(self._app, self._session, KINDS["entitlement"], row, {"level": theirs.level})
        self._keep("entitlement", row)

    def _take_ends_on(self, theirs: CoverLine, difference: Difference) -> None:
        """An earlier end takes the thing off its list; a later one is the entitlement's end, and its contract's."""
        here = self._held(theirs.serial, self._contract_of(theirs, difference))
        if here is None or theirs.ends_on is None or here.line.ends_on == theirs.ends_on:
            return
        row = self._session.get_one(Entitlement, here.entitlement_id)
        if theirs.ends_on < row.ends_on:
            row, item = self._listing(here)
            item.until_on = theirs.ends_on
        else:
            contract, ending = row.contract, row.ends_on
            if theirs.ends_on > ending:
                self._change("entitlement", row, {"ends_on": theirs.ends_on})
            if contract.ends_on == ending and theirs.ends_on > ending:
                self._change("contract", contract, {"ends_on": theirs.ends_on})
            for item in row.listed:
                if item.asset_id == here.asset_id:
                    item.until_on = None
        self._keep("entitlement", row)

    def _take_starts_on(self, theirs: CoverLine, difference: Difference) -> None:
        here = self._held(theirs.serial, self._contract_of(theirs, difference))
        if here is None or theirs.starts_on is None or here.line.starts_on == theirs.starts_on:
            return
        row = self._session.get_one(Entitlement, here.entitlement_id)
        if theirs.starts_on > row.starts_on:
            row, item = self._listing(here)
            item.from_on = theirs.starts_on
        else:
            self._change("entitlement", row, {"starts_on": theirs.starts_on})
        self._keep("entitlement", row)

    def _list(self, asset: Asset, theirs: CoverLine) -> None:
        """Put a thing onto the entitlement that the statement means."""
        if self._held(asset.serial, theirs.contract):
            return
        row = self._entitlement(theirs)
        before = KINDS["entitlement"].body(row)
        first = max(theirs.starts_on or self._day, row.starts_on)
        listing = {"serial": asset.serial, "from_on": first if first > row.starts_on else None}
        changes = {"listings": [*before["listings"], listing]} if listing["from_on"] else {}
        changes = changes or {"serials": [*before["serials"], asset.serial]}
        self._change("entitlement", row, changes)

    def _entitlement(self, theirs: CoverLine) -> Entitlement:
        query = (
            select(Entitlement)
            .join(Contract)
            .where(Contract.vendor_id == self._vendor.id, Contract.number == theirs.contract)
            .where(Entitlement.starts_on <= self._day, Entitlement.ends_on >= self._day)
            .where(Entitlement.replaced_on.is_(None) | (Entitlement.replaced_on > self._day))
        )
        rows = list(self._session.scalars(query.options(*KINDS["entitlement"].eager)))
        same = [row for row in rows if row.level.casefold() == theirs.level.casefold()] or rows
        if len(same) != 1 or same[0].everything:
            what = f"contract {theirs.contract}" if theirs.contract else "a contract"
            raise Conflict(
                f"It is not clear which entitlement of {what} lists it: {len(same)} could.",
                "List it on the right one by hand, then mark this as ours.",
                code="not-clear",
            )
        return same[0]

    def _thing(self, theirs: CoverLine) -> Asset:
        """The asset, added if it is not there and its product is known."""
        asset = self._asset(theirs.serial)
        if asset is not None:
            return asset
        query = select(Product).where(
            Product.vendor_id == self._vendor.id, Product.part_number == theirs.product
        )
        product = self._session.scalars(query).one_or_none()
        if product is None:
            raise Conflict(
                "It is not in the register, and the statement does not say which product of ours it is.",
                "Add the asset first.",
                code="no-such",
            )
        kind = KINDS["asset"]
        fields = {
            "vendor": self._vendor.key,
            "product": product.part_number,
            "serial": theirs.serial,
        }
        row: Asset = added(
            self._app, self._session, kind, checked(kind, {**fields, "site": theirs.site or None})
        )
        self._keep("asset", row, "added")
        return row

    def _asset(self, serial: str) -> Asset | None:
        query = select(Asset).where(Asset.vendor_id == self._vendor.id, Asset.serial == serial)
        return self._session.scalars(query.options(*KINDS["asset"].eager)).one_or_none()

    def _contract_of(self, theirs: CoverLine, difference: Difference) -> str:
        return theirs.contract or (difference.ours.contract if difference.ours else "")

    def _held(self, serial: str, contract: str) -> Held | None:
        self._session.flush()
        found = held(self._session, self._vendor.id, self._day, serial)
        return next((item for item in found if item.line.contract == contract), None)

    def _listing(self, here: Held) -> tuple[Entitlement, Any]:
        """The entitlement, and its listing of a thing. Raises Conflict if it covers it without listing it."""
        row = self._session.get_one(
            Entitlement, here.entitlement_id, options=KINDS["entitlement"].eager
        )
        item = next((item for item in row.listed if item.asset_id == here.asset_id), None)
        if item is None:
            raise Conflict(
                f"{row.reference} covers it without naming it, by its product or as everything.",
                "Amend that entitlement by hand, then mark this as ours.",
                code="not-listed",
            )
        return row, item

    def _change(self, name: str, row: Any, changes: Mapping[str, Any]) -> None:
        self._session.expire(row)
        rewrite(self._app, self._session, KINDS[name], row, dict(changes))
        self._keep(name, row)

    def _keep(self, name: str, row: Any, verb: str = "changed") -> None:
        touch(self._session, row)
        keep_version(self._session, KINDS[name], row, self._actor.name, f"{verb} by a statement")
