"""A cache of values read from the register, valid until the register changes.

Triggers of the database note every transaction that writes to one of these tables. A session asks once which have been
noted; what it then reads is kept for the next session that gets the same answer. A session that has written to the
register itself reads everything afresh.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any, TypeVar, cast

from sqlalchemy import delete, event, func, select
from sqlalchemy.orm import ORMExecuteState, Session

from sealpacket.store.models import RegisterChange

REGISTER_TABLES = frozenset({
    "vendor", "person", "site", "product", "asset", "asset_stay", "contract", "contract_term", "entitlement",
    "entitlement_asset", "entitlement_product", "entitlement_site", "vendor_login", "login_tie", "desk", "desk_sheet",
    "redaction_plan", "vendor_limit", "lot", "unit_entry", "price", "licence",
})  # fmt: skip
"""Tables whose values may be cached; migrations 0005 and 0016 give each its trigger."""
MOST = 2000
"""Maximum number of values kept; the one that was used least recently makes room."""
KEPT = 100
"""Minimum number of noted transactions that stay; older ones are of no use any more."""
Revision = tuple[int, int]
What = tuple[Hashable, ...]
T = TypeVar("T")
_CACHE, _REVISION, _WRITTEN = "register cache", "register revision", "register written"
_VENDORS, _RENAMED = "register vendors", "vendors themselves written"
_OWNERS = ("contract", "entitlement", "asset", "desk", "login", "lot")
"""Relationships by which records lead to their vendor."""


class RegisterCache:
    """Values of one revision of the register. Threads share it."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._revision: Revision | None = None
        self._values: OrderedDict[What, Any] = OrderedDict()

    def info(self) -> dict[str, Any]:
        """The session info by which it is found."""
        return {_CACHE: self}

    def get(self, revision: Revision, what: What, read: Callable[[], T]) -> T:
        """A value of a revision: as it was kept, else as it is read now. It is shared, so do not change it."""
        with self._lock:
            if self._revision == revision and what in self._values:
                self._values.move_to_end(what)
                return cast(T, self._values[what])
        value = read()
        with self._lock:
            if self._revision != revision:
                self._revision, self._values = revision, OrderedDict()
            self._values[what] = value
            while len(self._values) > MOST:
                self._values.popitem(last=False)
        return value


def of_register(session: Session, what: What, read: Callable[[], T]) -> T:
    """A value that depends on the register alone, called `what`. It is shared, so do not change it.

    It must not hold rows of a session, nor passwords, passcodes or tokens in clear.
    """
    cache = session.info.get(_CACHE)
    revision = revision_of(session)
    if cache is None or revision is None:
        return read()
    return cast(T, cache.get(revision, what, read))


def revision_of(session: Session) -> Revision | None:
    """The revision of the register that a session reads; None for one that has written to it itself."""
    if session.info.get(_WRITTEN):
        return None
    if _REVISION not in session.info:
        query = select(func.count(), func.coalesce(func.max(RegisterChange.id), 0))
        session.info[_REVISION] = tuple(session.execute(query).one())
    return cast(Revision, session.info[_REVISION])


def read_again(session: Session) -> None:
    """Forget which revision a session reads: what others have committed meanwhile counts from now on."""
    session.info.pop(_REVISION, None)


def note_written(session: Session) -> None:
    """Say that a session has written to the register in a way that SQLAlchemy does not see."""
    session.info[_WRITTEN] = True
    session.info[_VENDORS] = None


def vendors_written(session: Session) -> set[str] | None:
    """The ids of the vendors whose records a session has written; None: of any. Empty if it wrote none."""
    return cast("set[str] | None", session.info.get(_VENDORS, set()))


def forget_old_changes(session: Session) -> int:
    """Remove noted transactions that are of no use any more; gives how many."""
    oldest = select(RegisterChange.id).order_by(RegisterChange.id.desc()).offset(KEPT).limit(1)
    old = delete(RegisterChange).where(RegisterChange.id <= oldest.scalar_subquery())
    return int(session.execute(old).rowcount)  # type: ignore[attr-defined]


def vendors_renamed(session: Session) -> set[str]:
    """The ids of the vendors whose own records a session has written: they may have another name."""
    return cast("set[str]", session.info.setdefault(_RENAMED, set()))


def _note(session: Session, vendor: str | None) -> None:
    session.info[_WRITTEN] = True
    known = session.info.setdefault(_VENDORS, set())
    if vendor is None:
        session.info[_VENDORS] = None
    elif known is not None:
        known.add(vendor)


def _vendor_of(record: Any) -> str | None:
    """The id of the vendor that a record belongs to; None for one that belongs to none, or where that is not read."""
    if record.__table__.name == "vendor":
        return cast(str, record.id)
    vendor = getattr(record, "vendor_id", None)
    if vendor is not None:
        return cast(str, vendor)
    owners = (record.__dict__.get(name) for name in _OWNERS)
    return next((_vendor_of(one) for one in owners if one is not None), None)


@event.listens_for(Session, "after_flush")
def _flushed(session: Session, _context: Any) -> None:
    changed = (*session.new, *session.deleted, *filter(session.is_modified, session.dirty))
    vendors_renamed(session).update(one.id for one in changed if one.__table__.name == "vendor")
    for one in changed:
        if one.__table__.name in REGISTER_TABLES and vendors_written(session) is not None:
            _note(session, _vendor_of(one))


@event.listens_for(Session, "do_orm_execute")
def _executed(state: ORMExecuteState) -> None:
    if state.is_insert or state.is_update or state.is_delete:
        table = getattr(state.statement, "table", None)
        if getattr(table, "name", "") in REGISTER_TABLES:
            _note(state.session, None)
