"""Views of lists that someone keeps under a name, for themselves or for everyone."""

from __future__ import annotations

from dataclasses import fields
from datetime import datetime
from urllib.parse import parse_qsl, urlencode

from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.services.packets.listing import Which
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
    gone: list[str] = Field(
        description="Parts of it that its list has no more; they narrow nothing."
    )
    mine: bool


MOST = 200
_PARTS = {"q", "vendor", "site", "status", "sort", "columns"}
_PACKETS = "packets"
_PARTS_OF_PACKETS = {"q", "sort", "columns"} | {one.name for one in fields(Which)} - {"query"}


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
    if plural not in {_PACKETS, *(kind.plural for kind in KINDS.values())}:
        raise Invalid(
            f"There is no list of {plural}.",
            "Name packets, or a list of the register.",
            field="plural",
        )
    parts = [(key, value) for key, value in parse_qsl(query.lstrip("?")) if value]
    gone = _gone(plural, query)
    if gone:
        has = ", ".join(sorted(_parts(plural)))
        raise Invalid(f"A view has no {gone[0]}.", f"It has {has}.", field="query")
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


def _parts(plural: str) -> set[str]:
    return _PARTS_OF_PACKETS if plural == _PACKETS else _PARTS


def _gone(plural: str, query: str) -> list[str]:
    """Parts of a view that its list does not have."""
    return [key for key, _ in parse_qsl(query.lstrip("?")) if key not in _parts(plural)]


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
        gone=_gone(view.plural, view.query),
        mine=view.account_id == actor.account_id,
    )
