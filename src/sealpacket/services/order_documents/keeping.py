"""Order documents as they lie in the house: received, read by the worker, shown without their passcodes."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound, ProblemError
from sealpacket.core.order_documents import (
    DocumentFault,
    Known,
    Place,
    Reading,
    draw_page,
    id_like,
    open_document,
    read_order_document,
)
from sealpacket.core.order_documents import Page as OrderDocumentPage
from sealpacket.services.order_documents.schemas import OrderDocumentBrief, OrderDocumentShown
from sealpacket.services.packets.exhibits import clean_name
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Asset, Contract, OrderDocument, Product, Vendor
from sealpacket.store.paging import Page, after, page_of

READ = "read_order_document"
LARGEST = 25_000_000
PASSCODES_PURPOSE = "paper passcodes"  # bound into what is encrypted: it cannot follow a new name
_BATCH = 2000


def receive(
    app: AppContext, actor: Actor, name: str, blocks: Iterable[bytes]
) -> OrderDocumentShown:
    """Take an order document in and have it read. Raises Conflict if the very same one is here already."""
    stored = app.blobs.put(blocks)
    try:
        if stored.size == 0:
            raise Invalid(
                "The file is empty.",
                "Send the order confirmation as .pdf or .eml.",
                code="empty-file",
            )
        with app.transaction(
            actor,
            "order document received",
            "order document",
            name=name,
            size=stored.size,
            sha256=stored.sha256,
        ) as tx:
            same = tx.session.scalars(
                select(OrderDocument).where(OrderDocument.sha256 == stored.sha256)
            ).one_or_none()
            if same is not None:
                raise Conflict(
                    f"This order document was sent before, as {same.name}.",
                    "Open that one.",
                    code="already-there",
                    document=same.id,
                )
            document = OrderDocument(
                name=clean_name(name),
                blob=stored.name,
                size=stored.size,
                sha256=stored.sha256,
                by=actor.name,
            )
            tx.session.add(document)
            tx.session.flush()
            tx.subject = f"order document {document.id}"
            app.enqueue(
                tx.session, READ, {"document_id": document.id}, f"order document {document.id}"
            )
            return show(document)
    except BaseException:
        app.blobs.remove(stored.name)
        raise


def read(app: AppContext, ident: str) -> None:
    """The job: find what an order document proposes. Passcodes are taken out of what is kept, and encrypted."""
    with app.database.transaction() as session:
        document = find_order_document(session, ident)
        if document.state != "reading":
            return
        blob = document.blob
    try:
        opened = open_document(app.blobs.read_all(blob))
        with app.database.transaction() as session:
            reading = read_order_document(
                opened.pages, _known(session, opened.pages), opened.sender
            )
            passcodes = _take_passcodes(reading)
            _name_sites(session, reading)
        found = {
            "state": "read",
            "kind": opened.kind,
            "pages": [_page(page, reading) for page in opened.pages],
            "reading": reading.model_dump(mode="json"),
            "passcodes_sealed": app.seal_value(json.dumps(passcodes), PASSCODES_PURPOSE)
            if passcodes
            else None,
        }
    except DocumentFault as fault:
        found = {"state": "failed", "status_text": f"{fault} {fault.remedy}"}
    except ProblemError as problem:
        found = {"state": "failed", "status_text": f"{problem.detail} {problem.remedy}"}
    with app.database.transaction() as session:
        session.execute(
            update(OrderDocument)
            .where(OrderDocument.id == ident, OrderDocument.state == "reading")
            .values(**found)
        )


def _known(session: Session, pages: Sequence[OrderDocumentPage]) -> Known:
    """Facts of the register about the words of an order document."""
    words = sorted(id_like(pages))
    serials: set[str] = set()
    products: set[str] = set()
    for start in range(0, len(words), _BATCH):
        some = words[start : start + _BATCH]
        serials |= set(session.scalars(select(Asset.serial).where(Asset.serial.in_(some))))
        products |= set(
            session.scalars(select(Product.part_number).where(Product.part_number.in_(some)))
        )
    vendors = {row.key: row.name for row in session.execute(select(Vendor.key, Vendor.name))}
    return Known(vendors, frozenset(serials), frozenset(products))


def _take_passcodes(reading: Reading) -> list[str]:
    """The passcodes that were found, in order; their proposals keep only the place."""
    found = []
    for proposal in reading.proposals:
        if proposal.field == "passcode":
            found.append(proposal.value)
            proposal.value = proposal.read = ""
    return found


def _name_sites(session: Session, reading: Reading) -> None:
    """Sites are proposed by their keys; what is not a site of ours is proposed as none."""
    refs = Referred(session)
    for item in reading.items:
        if item.site is not None:
            try:
                item.site.value = refs.key_of("site", item.site.read)
            except Invalid:
                item.site.value = ""


def _page(page: OrderDocumentPage, reading: Reading) -> dict[str, Any]:
    """A page as kept: a text page with its lines, in which passcodes are dots."""
    covered = [place for place in reading.covered if place.page == page.number]
    return {
        "kind": page.kind,
        "source": page.source,
        "width": page.height if page.turn % 180 else page.width,
        "height": page.width if page.turn % 180 else page.height,
        "source_page": page.source_page,
        "lines": [_dotted(page, line.words, covered) for line in page.lines]
        if page.kind == "text"
        else [],
    }


def _dotted(page: OrderDocumentPage, words: Sequence[Any], covered: Sequence[Place]) -> str:
    text = ""
    for word in words:
        middle = word.middle / page.height
        hidden = any(
            place.top <= middle <= place.bottom
            and place.left * page.width - 0.5 <= word.left < place.right * page.width
            for place in covered
        )
        text = text.ljust(int(word.left)) + ("•" * len(word.text) if hidden else word.text)
    return text


def get(app: AppContext, ident: str) -> OrderDocumentShown:
    """One order document with all that it proposes."""
    with app.database.transaction() as session:
        return show(find_order_document(session, ident))


def listed(
    app: AppContext, *, state: str = "", limit: int = 50, cursor: str = ""
) -> Page[OrderDocumentBrief]:
    """List order documents, newest first."""
    with app.database.transaction() as session:
        query = select(OrderDocument).options(joinedload(OrderDocument.contract))
        query = query.where(OrderDocument.state == state) if state else query
        rows = session.scalars(
            after(query, OrderDocument.at, OrderDocument.id, cursor, newest_first=True).limit(
                limit + 1
            )
        ).all()
        return page_of(rows, limit, "at", brief)


def order_documents_of(session: Session, contract: Contract) -> list[OrderDocumentBrief]:
    """The order documents that a contract was entered from, the newest first."""
    query = (
        select(OrderDocument)
        .where(OrderDocument.contract_id == contract.id)
        .order_by(OrderDocument.at.desc())
    )
    return [brief(document) for document in session.scalars(query)]


def page_picture(app: AppContext, ident: str, number: int) -> bytes:
    """A page as PNG, its passcodes covered. Raises NotFound for a page that is not there or is text."""
    with app.database.transaction() as session:
        document = find_order_document(session, ident)
        kept = document.pages[number] if 0 <= number < len(document.pages) else None
        if kept is None or kept["kind"] != "picture":
            raise NotFound("There is no such picture of a page.", "Open the order document again.")
        covered = Reading.model_validate(document.reading or {}).covered
        page = OrderDocumentPage(
            number,
            "picture",
            kept["width"],
            kept["height"],
            (),
            kept["source"],
            kept["source_page"],
        )
        blob = document.blob
    try:
        return draw_page(app.blobs.read_all(blob), page, covered)
    except DocumentFault as fault:
        raise Conflict(str(fault), fault.remedy) from fault


def content(app: AppContext, actor: Actor, ident: str) -> tuple[str, Iterator[bytes]]:
    """Name and content of an order document as it came, passcodes and all: the custody log keeps who asked for it."""
    with app.transaction(actor, "order document opened whole", f"order document {ident}") as tx:
        document = find_order_document(tx.session, ident)
        tx.detail = {"name": document.name}
        return document.name, app.blobs.read(document.blob)


def reveal(app: AppContext, actor: Actor, ident: str) -> list[str]:
    """The passcodes that an order document holds, in clear; the custody log keeps who asked for them."""
    with app.transaction(actor, "order document's passcode shown", f"order document {ident}") as tx:
        document = find_order_document(tx.session, ident)
        tx.detail = {"name": document.name}
        return passcodes(app, document)


def passcodes(app: AppContext, document: OrderDocument) -> list[str]:
    """The passcodes of an order document, in clear. Raises Conflict if it holds none."""
    if document.passcodes_sealed is None:
        raise Conflict(
            "No passcode was found on this order document.", "Enter it by hand.", code="no-passcode"
        )
    found: list[str] = json.loads(app.open_value(document.passcodes_sealed, PASSCODES_PURPOSE))
    return found


def set_aside(app: AppContext, actor: Actor, ident: str) -> OrderDocumentShown:
    """Say that nothing of an order document is to be entered; it stays and can be entered later all the same. Raises
    Conflict if it was entered, or is not read yet."""
    with app.transaction(actor, "order document set aside", f"order document {ident}") as tx:
        document = find_order_document(tx.session, ident, lock=True)
        if document.state not in ("read", "failed"):
            raise Conflict(
                f"The order document is {document.state}.",
                "Only what was read and not entered can be set aside.",
            )
        document.state = "aside"
        return show(document)


def find_order_document(session: Session, ident: str, *, lock: bool = False) -> OrderDocument:
    """The order document of this id. Raises NotFound."""
    query = select(OrderDocument).where(OrderDocument.id == ident)
    document = session.scalars(query.with_for_update() if lock else query).one_or_none()
    if document is None:
        raise NotFound(
            f"There is no order document {ident}.",
            "List the order documents, then name one of them.",
        )
    return document


def brief(document: OrderDocument) -> OrderDocumentBrief:
    """An order document in a list."""
    reading = document.reading or {}
    proposed = {item["field"]: item["value"] for item in reversed(reading.get("proposals", []))}
    own = (
        "id",
        "name",
        "kind",
        "size",
        "state",
        "status_text",
        "by",
        "at",
        "entered_by",
        "entered_at",
        "contract_id",
    )
    return OrderDocumentBrief(
        **{name: getattr(document, name) for name in own},
        vendor=proposed.get("vendor"),
        contract=proposed.get("contract"),
        items=len(reading.get("items", [])),
    )


def show(document: OrderDocument) -> OrderDocumentShown:
    """An order document with all that it proposes."""
    reading = document.reading or {}
    return OrderDocumentShown(
        **dict(brief(document)),
        pages=document.pages,
        proposals=reading.get("proposals", []),
        bought=reading.get("items", []),
        entered=document.entered or [],
    )
