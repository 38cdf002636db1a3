"""The connection to PostgreSQL, and what its errors mean to a person."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any, TypeVar

import structlog
from sqlalchemy import create_engine
from sqlalchemy.exc import DataError, DBAPIError, IntegrityError, InterfaceError, OperationalError
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.orm.exc import StaleDataError

from sealpacket.core.errors import (
    Conflict,
    DatabaseUnreachable,
    DiskFull,
    Invalid,
    ProblemError,
    Stale,
)
from sealpacket.store.register_cache import RegisterCache

_WORDS: dict[str, tuple[str, str]] = {
    "ck_lot_never_negative": (
        "More units of this lot are used or held than it would have.", "Look at its entries: sealpacket lot entries",
    ),
    "uq_vendor_limit_vendor_id_provider_region_resource": (
        "This limit is in the register already.", "Change that one instead.",
    ),
    "uq_level_contract_id_name": ("This contract has a level of this name already.", "Change that level instead."),
    "uq_lot_vendor_id_reference": ("This vendor has a lot with this reference already.", "Change that lot instead."),
    "uq_price_vendor_id_item": ("The price list of this vendor has this item already.", "Change that price instead."),
    "uq_licence_asset_id_name": ("This asset has a licence of this name already.", "Change that licence instead."),
    "uq_release_product_id_number": ("This product has this version already.", "Change that version instead."),
    "uq_vendor_key": ("There is a vendor with this key already.", "Choose another key, or change that vendor."),
    "uq_person_key": ("There is a person with this key already.", "Choose another key, or change that person."),
    "uq_site_key": ("There is a site with this key already.", "Choose another key, or change that site."),
    "uq_product_vendor_id_part_number": (
        "This vendor has a product with this part number already.", "Change that product instead.",
    ),
    "uq_asset_vendor_id_serial": (
        "This vendor has an asset with this serial number already.", "Open that asset, or check the serial for a typo.",
    ),
    "uq_contract_vendor_id_number": (
        "This vendor has a contract with this number already.", "Change that contract instead.",
    ),
    "uq_entitlement_contract_id_reference_starts_on": (
        "This contract has an entitlement of this reference from this day already.", "Change that entitlement instead.",
    ),
    "ex_contract_term_one_at_a_time": ("A former term of this contract has some of these days.", "Check the days."),
    "ck_asset_not_its_own_carrier": ("The asset would sit in itself.", "Name what it really sits in or runs on."),
    "ck_entitlement_asset_dates_in_order": ("A serial would be taken off before it is listed.", "Check both days."),
    "uq_vendor_login_vendor_id_name": ("This login is in the register already.", "Change that login instead."),
    "uq_exhibit_packet_id_name": (
        "The packet has an exhibit of this name already.", "Rename the file, or take the other one out.",
    ),
    "ck_contract_dates_in_order": ("The contract would end before it starts.", "Check both dates."),
    "ck_contract_notice_in_order": ("The notice date is after the end.", "Check both dates."),
    "ck_entitlement_dates_in_order": ("The entitlement would end before it starts.", "Check both dates."),
    "ck_asset_dates_in_order": ("The asset would be installed before it was shipped.", "Check both dates."),
    "ck_person_phone_e164": ("The number is not in international form.", "Write it as +441632960123 (E.164)."),
    "ck_contract_cost_with_currency": ("A cost needs its currency, and the other way round.", "Give both or neither."),
}  # fmt: skip

T = TypeVar("T")
log = structlog.get_logger()
_AFTER = "after commit"
_SNAPSHOT = "snapshot"
_JOINED: ContextVar[Session | None] = ContextVar("joined", default=None)
_FULL = ("53100", "53200")
_NOT_SERIAL = "40001"
_COLLIDED = (_NOT_SERIAL, "40P01")


class Database:
    """Sessions on one PostgreSQL database."""

    def __init__(self, url: str, info: dict[Any, Any] | None = None) -> None:
        """`info` is what every session knows beside the database, such as the name of our organisation."""
        self.engine = create_engine(
            url,
            hide_parameters=True,
            pool_pre_ping=True,
            pool_size=10,
            max_overflow=10,
            pool_timeout=10,
            connect_args={
                "connect_timeout": 5,
                "application_name": "sealpacket",
                # A word may be in one packet or in all: a plan for any word is a bad one for most.
                "options": "-c jit=off -c plan_cache_mode=force_custom_plan",
            },
        )
        shared = {**(info or {}), **RegisterCache().info()}
        self._sessions = sessionmaker(self.engine, expire_on_commit=False, info=shared)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session whose work is committed at the end, or undone whole. Database errors become ProblemError.

        Within `joined` it is a part of that one transaction.
        """
        whole = _JOINED.get()
        if whole is None:
            with self._begun() as session:
                yield session
            return
        with translated(), whole.begin_nested():
            yield whole
        whole.expire_all()

    @contextmanager
    def snapshot(self) -> Iterator[Session]:
        """A session that sees all as it was at one moment, whatever is committed meanwhile: for reading.

        What it keeps for the next reader (`unless_taken`) may be refused, and is then left.
        """
        if _JOINED.get() is not None:
            with self.transaction() as session:
                yield session
            return
        with self._begun() as session:
            session.connection(execution_options={"isolation_level": "REPEATABLE READ"})
            session.info[_SNAPSHOT] = True
            yield session

    @contextmanager
    def joined(self) -> Iterator[Session]:
        """One transaction of all that this thread opens meanwhile: all of it is committed at the end, or nothing."""
        with self._begun() as session:
            before = _JOINED.set(session)
            try:
                yield session
            finally:
                _JOINED.reset(before)

    @contextmanager
    def _begun(self) -> Iterator[Session]:
        with translated(), self._sessions.begin() as session:
            yield session
        for act in session.info.pop(_AFTER, ()):
            try:
                act()
            except Exception:
                log.exception("something is left over after a commit")


def remembered(session: Session, what: tuple[str, str], read: Callable[[], T]) -> T:
    """Cache a value for the session; call `forgotten` after changing it."""
    if what not in session.info:
        session.info[what] = read()
    found: T = session.info[what]
    return found


def forgotten(session: Session, what: tuple[str, str]) -> None:
    """Have something read again that was `remembered`."""
    session.info.pop(what, None)


@contextmanager
def unless_taken(session: Session) -> Iterator[None]:
    """Something to keep that somebody else may be keeping at the same moment; then theirs stays.

    Only a snapshot may be refused; any other transaction waits for its turn.
    """
    if not session.info.get(_SNAPSHOT):
        yield
        return
    try:
        with session.begin_nested():
            yield
    except OperationalError as error:
        if getattr(error.orig, "sqlstate", None) != _NOT_SERIAL:
            raise


def after_commit(session: Session, act: Callable[[], None]) -> None:
    """Have something done once the session's work is committed: what cannot be taken back, such as removing a file."""
    session.info.setdefault(_AFTER, []).append(act)


@contextmanager
def translated() -> Iterator[None]:
    """Turn what the database says into a ProblemError with a remedy."""
    try:
        yield
    except ProblemError:
        raise
    except StaleDataError as error:
        raise Stale(
            "The record has been changed since you read it.",
            "Read it again and repeat your change.",
        ) from error
    except IntegrityError as error:
        raise _broken_rule(error) from error
    except (OperationalError, InterfaceError) as error:
        if getattr(error.orig, "sqlstate", None) in _FULL:
            raise DiskFull(
                "The database has no room left.", "Make room on its disk, then try again."
            ) from error
        if getattr(error.orig, "sqlstate", None) in _COLLIDED:
            log.warning("two changes waited for each other", statement=error.statement)
            raise DatabaseUnreachable(
                "Another change was being made at the same moment.",
                "Nothing was changed. Try again.",
            ) from error
        raise DatabaseUnreachable(
            "The database cannot be reached.",
            "Nothing was changed. Try again in a moment; if it stays away, start PostgreSQL.",
        ) from error
    except DBAPIError as error:
        if isinstance(error, DataError) or (getattr(error.orig, "sqlstate", None) or "").startswith(
            "22"
        ):
            raise Invalid(
                "A value does not have the form that its field needs.", "Check the values."
            ) from error
        raise


def _broken_rule(error: IntegrityError) -> ProblemError:
    name = getattr(getattr(error.orig, "diag", None), "constraint_name", None) or ""
    if name in _WORDS:
        sentence, remedy = _WORDS[name]
        kind: type[ProblemError] = Conflict if name.startswith(("uq_", "ex_")) else Invalid
        return kind(
            sentence,
            remedy,
            code="already-there" if name.startswith(("uq_", "ex_")) else "invalid",
            rule=name,
        )
    if name.startswith("fk_"):
        return Conflict(
            "Something else in the register refers to this, or what it refers to is gone.",
            "Change what refers to it first.",
            code="referred-to",
            rule=name,
        )
    return Invalid(
        f"This breaks a rule of the register: {name or 'unknown'}.", "Check the values.", rule=name
    )


def why_refused(error: BaseException | None) -> str:
    """Why PostgreSQL refuses a sign-in, in its own words; empty for an error that is no refusal."""
    said = [line for line in str(getattr(error, "orig", "")).splitlines() if "FATAL:" in line]
    return said[-1].split("FATAL:", 1)[1].strip() if said else ""
