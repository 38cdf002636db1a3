"""The contents of a bag other than exhibits, and the leak check of all of it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import rfc8785
from sqlalchemy.orm import Session

from sealpacket import __version__
from sealpacket.app.context import AppContext
from sealpacket.core.errors import Conflict
from sealpacket.core.redact import Blind, Catalogue, Legend
from sealpacket.core.redact.typed import TextRedactor
from sealpacket.core.redact.verify import IsPublic, Leaking, check_texts, mend
from sealpacket.core.sheets import Case, Sheet, write_case
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.exhibits import leaving
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.redaction.catalogues import (
    catalogue_for,
    packet_plan,
    placeholders_of,
)
from sealpacket.services.packets.redaction.decisions import without_values

_NAMES = "bag-info.txt"


@dataclass(frozen=True)
class BagTexts:
    """The documents of a bag by path, and its tags. None of them holds an original."""

    documents: Mapping[str, bytes]
    info: Mapping[str, str]


def bag_texts(app: AppContext, session: Session, bench: Workbench, sheet: Sheet) -> BagTexts:
    """Case, answers, ruling and report of a packet that is being sealed.

    Everything in words is redacted, then all of it is searched for what the exhibits and the typed texts hold. Raises
    Conflict where an original is left, with the document that holds it.
    """
    _, plan = packet_plan(app, session, bench.packet)
    catalogue = catalogue_for(app, session, bench, plan, of_files=False)
    placeholders = placeholders_of(app, bench.packet, plan)
    legend, keep = (
        typed_text.whole_legend(app, bench.packet),
        _meant_to_go(bench, sheet, catalogue),
    )
    decided = without_values(bench.packet)

    def written(known: Catalogue) -> BagTexts:
        redactor = TextRedactor(known, placeholders, plan.whole_floor)
        return _written(bench, sheet, decided, redactor)

    texts, leaks = written(catalogue), dict[str, list[tuple[str, bytes, str]]]()

    def check_all() -> Leaking | None:
        nonlocal leaks
        leaks = leaks_of(texts, legend, keep, catalogue.is_public)
        found = {pair for pairs in leaks.values() for pair in pairs}
        return {(kind, original) for kind, original, _ in found} or None

    def redact_all(wider: Catalogue) -> None:
        nonlocal texts
        texts = written(wider)

    if mend(catalogue, check_all, redact_all):
        return texts
    path, pairs = next(iter(leaks.items()))
    raise Conflict(
        f"{path} of the bag would still hold a value that is masked elsewhere: {pairs[0][2]}.",
        "Open the letter and the exhibits: mask the value there, or let it go out with a reason.",
        code="bag-leaks",
    )


def leaks_of(
    texts: BagTexts, legend: Legend, keep: Iterable[bytes], is_public: IsPublic
) -> dict[str, list[tuple[str, bytes, str]]]:
    """By document, originals of the legend that are still in it: kind, original, placeholder. Raises Conflict if a
    canary is missed."""
    names = "\n".join([*texts.documents, *texts.info.values()]).encode()
    try:
        documents = {**texts.documents, _NAMES: names}
        reports = check_texts(documents, legend, exempt=keep, is_public=is_public)
    except Blind as blind:
        raise Conflict(
            f"The leak check of the bag cannot be trusted: {blind}.",
            "Report it to the operator of the service.",
            code="leak-check-blind",
        ) from blind
    return {
        path: [(leak.kind, leak.original, leak.placeholder.decode()) for leak in report.leaks]
        for path, report in reports.items()
        if not report.clean
    }


def _written(
    bench: Workbench, sheet: Sheet, decided: list[dict[str, Any]], redactor: TextRedactor
) -> BagTexts:
    packet = bench.packet
    if packet.sealed_at is None:
        raise AssertionError("only a packet that is being sealed has a bag")
    title = redacted(packet.title, redactor)
    cases = [one.written for one in packet.cases]
    documents = {
        "case.json": _json(cases[0]["body"] if len(cases) == 1 else cases),
        "ruling.json": _json(redacted(packet.ruling, redactor)),
        "answers.json": _json(
            {
                "desk": sheet.desk,
                "sheet": packet.sheet.number if packet.sheet else 0,
                "answers": _answers(bench, sheet),
            }
        ),
        "redaction-report.json": _json(
            {**_report(bench, redactor), "decisions": redacted(decided, redactor)}
        ),
    }
    for number, case in enumerate(cases, 1):
        folder = f"written/{number}/" if len(cases) > 1 else "written/"
        written = write_case(sheet, Case.model_validate(case))
        documents |= {folder + name: content for name, content in written.documents.items()}
    info = {
        "Bag-Software-Agent": f"sealpacket {__version__}",
        "Bagging-Date": packet.sealed_at.date().isoformat(),
        "External-Identifier": packet.number,
        "External-Description": title,
        "Contact-Name": packet.sealed_by or "",
    }
    return BagTexts(documents, info)


def redacted(node: Any, redactor: TextRedactor) -> Any:
    """A tree with every text in it redacted, whatever it is a part of; keys stay."""
    if isinstance(node, str):
        return str(redactor.redact(node).outgoing(node))
    if isinstance(node, Mapping):
        return {key: redacted(inner, redactor) for key, inner in node.items()}
    if isinstance(node, list | tuple):
        return [redacted(inner, redactor) for inner in node]
    return node


def _answers(bench: Workbench, sheet: Sheet) -> list[dict[str, Any]]:
    """The answers as they leave."""
    outgoing = bench.typed.outgoing()
    shown = (answer for answer in bench.answers if answer.shown)
    return [
        {
            **answer.model_dump(mode="json", exclude={"shown", "fact", "source", "because"}),
            "value": outgoing.get(f"answers.{answer.question}", answer.value),
        }
        for answer in shown
    ]


def _meant_to_go(bench: Workbench, sheet: Sheet, catalogue: Catalogue) -> list[bytes]:
    """Values allowed in the case although an exhibit has them masked: kept ones, and the register's own fields."""
    texts = bench.typed.texts
    written = {one.path for one in texts}
    kept = {one.value for text in texts for one in bench.typed.found[text.path].kept}
    values = bench.values(sheet)
    plain = {
        text for path, value in values.items() if path not in written for text in _texts_in(value)
    }
    return [*catalogue.kept_values(), *(one.casefold().encode() for one in kept | plain)]


def _texts_in(node: Any) -> Iterable[str]:
    if isinstance(node, str):
        yield from (node, *node.splitlines())
    elif isinstance(node, Mapping):
        for inner in node.values():
            yield from _texts_in(inner)
    elif isinstance(node, list | tuple):
        for inner in node:
            yield from _texts_in(inner)


def _report(bench: Workbench, redactor: TextRedactor) -> dict[str, Any]:
    """The redaction report of exhibits and typed texts, without originals."""
    packet = bench.packet
    exhibits = []
    for exhibit in packet.exhibits:
        report = {
            k: v
            for k, v in (exhibit.report or {}).items()
            if exhibit.state == "ready" and k != "goes_as"
        }
        exhibits.append(
            {
                "name": exhibit.goes_as,
                "original_size": exhibit.size,
                "outgoing_sha256": leaving(exhibit)[2],
                "released": exhibit.state == "held",
                "released_by": redacted(exhibit.released_by or "", redactor),
                **report,
            }
        )
    return {"packet": packet.number, "exhibits": exhibits, "typed": _typed_report(bench)}


def _typed_report(bench: Workbench) -> list[dict[str, Any]]:
    """By text, how many values of each kind were masked in what was typed, and why others were kept."""
    rows = []
    for text in bench.typed.texts:
        found = bench.typed.found[text.path]
        counts: dict[str, int] = {}
        for finding in found.findings:
            for value in finding.values:
                counts[value.kind] = counts.get(value.kind, 0) + 1
        if counts or found.kept:
            rows.append(
                {
                    "text": text.path,
                    "counts": dict(sorted(counts.items())),
                    "kept_because": sorted({one.reason for one in found.kept}),
                }
            )
    return rows


def _json(value: Any) -> bytes:
    """Canonical JSON (RFC 8785), so that the same content gives the same bytes."""
    return bytes(rfc8785.dumps(value))
