"""Views of the register that someone keeps under a name, for themselves or for everyone."""

from __future__ import annotations

from datetime import datetime
from urllib.parse import parse_qsl, urlencode

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Account, View


class ViewShown(BaseModel):
    """A kept view; `mine` can be dropped."""

    id: str
    plural: str
    name: str
    query: str
    shared: bool
    at: datetime
    by: str
    mine: bool


MOST = 200
_PARTS = ("q", "vendor", "site", "status", "sort", "columns")


def listed(app: AppContext, actor: Actor, plural: str = "") -> list[ViewShown]:
    """One's own views and those that are shared, by name."""
    with app.database.transaction() as session:
        query = select(View, Account.name).join(Account, Account.id == View.account_id)
        query = query.where((View.account_id == actor.account_id) | View.shared)
        query = query.where(View.plural == plural) if plural else query
        rows = session.execute(query.order_by(View.plural, View.name).limit(MOST))
        return [_show(view, name, actor) for view, name in rows]


def keep(
    app: AppContext, actor: Actor, *, plural: str, name: str, query: str, shared: bool
) -> ViewShown:
    """Keep a view under a name; one of one's own of that name is replaced. Raises Invalid for what no list has."""
    if plural not in {kind.plural for kind in KINDS.values()}:
        raise Invalid(
            f"There is no list of {plural}.", "Name a list of the register.", field="plural"
        )
    parts = [(key, value) for key, value in parse_qsl(query.lstrip("?")) if value]
    unknown = next((key for key, _ in parts if key not in _PARTS), None)
    if unknown:
        raise Invalid(f"A view has no {unknown}.", f"It has {', '.join(_PARTS)}.", field="query")
    with app.transaction(actor, "view kept", "view", name=name, plural=plural, shared=shared) as tx:
        mine = select(View).where(
            View.account_id == actor.account_id, View.plural == plural, View.name == name
        )
        view = tx.session.scalars(mine).one_or_none()
        if view is None:
            view = View(account_id=actor.account_id, plural=plural, name=name)
            tx.session.add(view)
        view.query, view.shared = urlencode(parts), shared
        tx.session.flush()
        tx.subject = f"view {view.id}"
        return _show(view, actor.name, actor)


def drop(app: AppContext, actor: Actor, ident: str) -> None:
    """Forget one of one's own views. Raises NotFound for another's."""
    with app.transaction(actor, "view dropped", f"view {ident}") as tx:
        tx.session.delete(_own(tx.session, actor, ident))


def _own(session: Session, actor: Actor, ident: str) -> View:
    view = session.scalars(
        select(View).where(View.id == ident, View.account_id == actor.account_id)
    ).one_or_none()
    if view is None:
        raise NotFound("There is no such view of yours.", "Only its keeper can drop a view.")
    return view


def _show(view: View, by: str, actor: Actor) -> ViewShown:
    own = ("id", "plural", "name", "query", "shared", "at")
    return ViewShown(
        **{name: getattr(view, name) for name in own},
        by=by,
        mine=view.account_id == actor.account_id,
    )
