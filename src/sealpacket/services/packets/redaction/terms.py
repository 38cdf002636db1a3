"""Everything that the register keeps and that must not leave, as exact terms for the redaction."""

from __future__ import annotations

from collections.abc import Iterator

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.redact import Term, host_terms, person_terms
from sealpacket.core.redact.search import ANYWHERE
from sealpacket.services.register.agreed import LICENCE_KEY
from sealpacket.services.register.kinds import PASSCODE
from sealpacket.store.models import Asset, Contract, Licence, Person, Site, Vendor
from sealpacket.store.register_cache import of_register


def terms_of_register(app: AppContext, session: Session) -> tuple[list[Term], frozenset[str]]:
    """People, places, hosts, addresses, serials, contract numbers, passcodes, licences; and the domains of our own."""
    terms, domains = of_register(session, ("terms",), lambda: _terms(session))
    return [*terms, *_passcodes(app, session), *_licences(app, session)], domains


def _terms(session: Session) -> tuple[tuple[Term, ...], frozenset[str]]:
    """All but what is not kept in clear."""
    terms: list[Term] = []
    domains: set[str] = set()
    for person in session.scalars(select(Person)):
        terms += person_terms(person.name)
        terms.append(Term("mail", person.mail, person.mail.lower()))
        domains.add(person.mail.rsplit("@", 1)[1])
        terms += [*_phone(person.phone or ""), *_phone(person.second_phone or "")]
    for serial, hosts, addresses in session.execute(
        select(Asset.serial, Asset.host_names, Asset.addresses)
    ):
        terms.append(Term("asset", serial, serial.casefold()))
        terms += host_terms(hosts)
        domains |= {name.split(".", 1)[1] for name in hosts if name.count(".") >= 2}
        terms += [
            Term("mac" if address.count(":") == 5 else "ip", address, address.lower())
            for address in addresses
        ]
    for site in session.scalars(select(Site)):
        terms += _place(site.address, site.postcode)
        terms += _place(site.ship_address, site.ship_postcode)
    for number in (
        *session.scalars(select(Vendor.customer_number)),
        *session.scalars(select(Contract.number)),
    ):
        if _tells(number):
            terms.append(Term("contract", number, number.casefold()))
    return tuple(terms), frozenset(domains)


def _passcodes(app: AppContext, session: Session) -> Iterator[Term]:
    query = select(Contract.passcode_sealed).where(Contract.passcode_sealed.is_not(None))
    for passcode in filter(None, session.scalars(query)):
        secret = app.open_value(passcode, PASSCODE.purpose)
        yield Term("secret", secret, secret, anywhere=len(secret) >= ANYWHERE)


def _licences(app: AppContext, session: Session) -> Iterator[Term]:
    """Licence keys and activation codes; of keys of several lines each line but the ones that mark begin and end."""
    for code, key in session.execute(select(Licence.activation_code, Licence.key_sealed)):
        lines = app.open_value(key, LICENCE_KEY.purpose).splitlines() if key else []
        for secret in filter(_tells, (code, *(line.strip() for line in lines))):
            if not secret.startswith("-----"):
                yield Term("secret", secret, secret, anywhere=len(secret) >= ANYWHERE)


def _phone(number: str) -> Iterator[Term]:
    """An E.164 number as it is kept; the detectors find its other spellings."""
    if number:
        yield Term("phone", number, number.lstrip("+"))


def _place(address: str, postcode: str) -> Iterator[Term]:
    """An address as a whole, its first line alone if that has a number, and its postcode."""
    whole = " ".join(address.split())
    if len(whole) >= 8:
        yield Term("address", whole, whole.casefold())
    first = whole.split(",", 1)[0].strip()
    if first != whole and any(sign.isdigit() for sign in first) and " " in first:
        yield Term("address", first, whole.casefold())
    if len(postcode) >= 5 and any(sign.isdigit() for sign in postcode):
        yield Term("address", postcode, postcode.casefold())


def _tells(number: str) -> bool:
    """Whether a contract number is distinctive enough to be masked anywhere; 4471 is not."""
    return len(number) >= 6 and not (number.isdigit() and len(number) < 8)
