"""Who may be notified, and how each wants to be."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.core.notices import (
    DEFAULTS,
    Choice,
    NoticeKind,
    NoticeScope,
    NoticeWay,
    Recipient,
)
from sealpacket.store.models import Account, NoticeSettings

_WORK = {"preparer", "releaser", "keeper"}


def recipients(session: Session) -> list[tuple[Recipient, str | None]]:
    """Everybody with an active account, each with the id of the person behind it."""
    query = (
        select(Account.id, Account.name, Account.roles, Account.person_id, NoticeSettings)
        .outerjoin(NoticeSettings, NoticeSettings.account_id == Account.id)
        .where(Account.active)
        .order_by(Account.id)
    )
    return [
        (
            Recipient(
                id=ident,
                name=name,
                works=bool(_WORK & set(roles)),
                choices=choices_of(chosen),
                sites=frozenset(chosen.sites if chosen else ()),
                vendors=frozenset(chosen.vendors if chosen else ()),
            ),
            person,
        )
        for ident, name, roles, person, chosen in session.execute(query)
    ]


def choices_of(chosen: NoticeSettings | None) -> Mapping[NoticeKind, Choice]:
    """The choices of an account by kind; the default where it has made none."""
    kept: dict[str, Any] = chosen.choices if chosen else {}
    return {kind: _choice(kept.get(kind)) or DEFAULTS[kind] for kind in NoticeKind}


def _choice(kept: dict[str, Any] | None) -> Choice | None:
    if kept is None:
        return None
    return Choice(NoticeScope(kept["scope"]), tuple(NoticeWay(one) for one in kept["ways"]))
