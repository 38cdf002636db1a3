"""Pictures and PDFs page by page: what lies beneath each box, and boxes that a person draws.

A drawn box is a decision about one exhibit, for a reason; the exhibit is redacted again with it burnt in.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any, Literal

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.redact import Held
from sealpacket.core.redact.boxes import Box
from sealpacket.core.redact.pseudonyms import as_written
from sealpacket.services.packets import workbench
from sealpacket.services.packets.exhibits import changeable, find_exhibit, queue_redaction
from sealpacket.services.packets.redaction import legend_keys
from sealpacket.services.packets.redaction.schemas import (
    CoveredShown,
    DrawnBoxes,
    DrawnBoxShown,
    PageList,
)
from sealpacket.store.models import DrawnBox, Exhibit, Packet

MOST = 500
"""Maximum number of boxes drawn on one exhibit."""
_LEAST = 0.001
"""A box is at least so wide and high, in parts of its page."""


def drawn_by_page(exhibit: Exhibit) -> dict[int, list[Box]]:
    """The drawn boxes of an exhibit by page, from 1."""
    by_page: dict[int, list[Box]] = {}
    for one in exhibit.boxes:
        by_page.setdefault(one.page, []).append(Box(one.left, one.top, one.right, one.bottom))
    return by_page


def pages(app: AppContext, number: str, name: str) -> PageList:
    """The pages of a picture or PDF with all that is covered on them, and the boxes that were drawn."""
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        exhibit = _with_pages(find_exhibit(packet, name))
        known = _originals(app, packet, exhibit)
        return PageList(
            pages=[
                {
                    "width": page["width"],
                    "height": page["height"],
                    "covered": [
                        _covered(row, known) for row in page["covered"] if row[4] != "drawn"
                    ],
                }
                for page in exhibit.pages or ()
            ],
            drawn=[_shown(one) for one in exhibit.boxes],
        )


def page_image(
    app: AppContext, number: str, name: str, page: int, side: Literal["original", "outgoing"]
) -> bytes:
    """One page (from 1) of the original, or of the outgoing copy, as PNG. Raises NotFound for an unknown page,
    Conflict if there is no copy, or no original any more."""
    from sealpacket.core.redact.readers.pages import page_picture

    with app.database.transaction() as session:
        exhibit = _with_pages(find_exhibit(workbench.find_packet(session, number), name))
        blob = exhibit.original_blob if side == "original" else exhibit.outgoing_blob
    if blob is None:
        raise Conflict(
            f"There is no outgoing copy of {name} yet.", "Wait for its redaction.", code="no-copy"
        )
    try:
        with app.blobs.as_file(blob) as path, path.open("rb") as source:
            return page_picture(source, page)
    except IndexError as error:
        raise NotFound(f"{name} has no page {page}.", "Count from 1.") from error
    except Held as held:
        raise Conflict(str(held), "Open the file itself.", code="not-drawable") from held


def draw(
    app: AppContext,
    actor: Actor,
    number: str,
    name: str,
    boxes: Sequence[tuple[int, Box]],
    reason: str,
) -> DrawnBoxes:
    """Cover stretches of pages (from 1) in an exhibit of a draft. Raises Invalid for a box that is off its page."""
    with app.transaction(actor, "boxes drawn", f"packet {number}", name=name, reason=reason) as tx:
        exhibit = _with_pages(changeable(tx.session, number, name)[1])
        count = len(exhibit.pages or ())
        if len(exhibit.boxes) + len(boxes) > MOST:
            raise Invalid(
                f"{name} would have more than {MOST} boxes.", "Draw larger ones.", field="boxes"
            )
        for page, box in boxes:
            if not 1 <= page <= count:
                raise Invalid(
                    f"{name} has no page {page}.", f"Choose from 1 to {count}.", field="boxes"
                )
            if (
                box.right - box.left < _LEAST
                or box.bottom - box.top < _LEAST
                or min(box) < 0
                or max(box) > 1
            ):
                raise Invalid(
                    "Give a box within its page: left less than right, top less than bottom, all from 0 to 1.",
                    "Draw it again.",
                    code="no-box",
                    field="boxes",
                )
            exhibit.boxes.append(DrawnBox(page=page, reason=reason, by=actor.name, **box._asdict()))
        tx.detail |= {"boxes": len(boxes), "pages": sorted({page for page, _ in boxes})}
        queue_redaction(app, tx.session, exhibit)
        tx.session.flush()
        return DrawnBoxes(drawn=[_shown(one) for one in exhibit.boxes])


def rub_out(app: AppContext, actor: Actor, number: str, name: str, ident: str) -> DrawnBoxes:
    """Take a drawn box back; the exhibit is redacted again. Raises NotFound."""
    with app.transaction(actor, "box taken back", f"packet {number}", name=name) as tx:
        _, exhibit = changeable(tx.session, number, name)
        box = next((one for one in exhibit.boxes if one.id == ident), None)
        if box is None:
            raise NotFound("There is no such box.", "Open the exhibit again.")
        tx.detail["page"] = box.page
        exhibit.boxes.remove(box)
        queue_redaction(app, tx.session, exhibit)
        tx.session.flush()
        return DrawnBoxes(drawn=[_shown(one) for one in exhibit.boxes])


def _with_pages(exhibit: Exhibit) -> Exhibit:
    if exhibit.original_blob is None or not exhibit.pages:
        raise Conflict(
            f"{exhibit.name} has no pages that could be looked at.",
            "Pictures and PDFs have, once they are redacted; of anything else, see its values.",
            code="no-pages",
        )
    return exhibit


def _originals(app: AppContext, packet: Packet, exhibit: Exhibit) -> dict[str, str]:
    """The original values by placeholder, as written; empty once the legend is destroyed."""
    if exhibit.values_blob is None:
        return {}
    rows = json.loads(
        b"".join(legend_keys.read(app, legend_keys.key_of(app, packet), exhibit.values_blob))
    )
    return {
        as_written(label.encode("latin-1")).decode(): value.encode("latin-1").decode(
            "utf-8", "replace"
        )
        for label, value, _ in rows
    }


def _covered(row: list[Any], known: dict[str, str]) -> CoveredShown:
    left, top, right, bottom, kind, placeholder, sure = row
    return CoveredShown(
        left=left,
        top=top,
        right=right,
        bottom=bottom,
        kind=kind,
        placeholder=placeholder,
        value=known.get(placeholder, ""),
        sure=sure,
    )


def _shown(one: DrawnBox) -> DrawnBoxShown:
    return DrawnBoxShown.model_validate(one, from_attributes=True)
