"""Redacting what a person wrote. It goes through the same catalogue and placeholders as the exhibits, so that a value
has one placeholder everywhere."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from sealpacket.core.kinds import FLOOR
from sealpacket.core.outgoing import HiddenValue, KeptValue, RedactedText, TextFinding
from sealpacket.core.redact.engine import Outcome, Run
from sealpacket.core.redact.pseudonyms import Legend, Placeholders, as_written
from sealpacket.core.redact.search import Catalogue
from sealpacket.core.redact.spans import Span

BY_LABEL = FLOOR | {"reader"}
"""Kinds that a question's own name may give away: more than these, and every part number would be masked."""


class TextRedactor:
    """Redacts typed texts. `keep_kinds` of a call are kinds that this text is asked for; the floor holds all the same.

    `cells` name other labels: (start, end, label) of parts of the text, such as the columns of a row.
    """

    def __init__(
        self, catalogue: Catalogue, placeholders: Placeholders, floor: Iterable[str] = FLOOR
    ) -> None:
        self._catalogue, self._placeholders, self._floor = catalogue, placeholders, frozenset(floor)

    def redact(
        self,
        text: str,
        *,
        label: str = "",
        cells: Sequence[tuple[int, int, str]] = (),
        keep_kinds: Iterable[str] = (),
        because: str = "",
    ) -> RedactedText:
        """What is to be replaced in a text. Of `keep_kinds` all stays, for the reason `because`."""
        data, outcome = text.encode(), Outcome()
        run = Run(self._catalogue, self._placeholders, outcome)
        spans = run.spans(data)
        for start, end, name in [*cells, *([(0, len(text), label)] if label else [])]:
            spans = _with(spans, self._by_label(run, text, start, end, name))
        asked = frozenset(keep_kinds) - self._floor
        findings: list[TextFinding] = []
        kept = dict(sorted(outcome.reasons.items()))
        for span in spans:
            values = tuple(self._hidden(*one) for one in span.findings(data))
            if all(one.kind in asked for one in values):
                kept |= {one.original: because for one in values}
                continue
            findings.append(
                TextFinding(
                    start=_characters(data[: span.start]), end=len(text) - _characters(data[span.end :]),
                    replacement=_text(span.instead), sure=span.sure, values=values,
                )
            )  # fmt: skip
        return RedactedText(
            findings=tuple(findings),
            kept=tuple(KeptValue(value=v, reason=why) for v, why in kept.items()),
        )

    def _by_label(self, run: Run, text: str, start: int, end: int, label: str) -> Iterator[Span]:
        """What only the label of a part of the text gives away."""
        part = text[start:end].encode()
        base = len(text[:start].encode())
        for span in run.spans(part, label.encode()):
            found = span.findings(part)
            if all(kind in BY_LABEL for kind, _, _ in found):
                yield span._replace(start=base + span.start, end=base + span.end, inner=found)

    def _hidden(self, kind: str, placeholder: bytes, original: bytes) -> HiddenValue:
        noted = self._placeholders.noted(kind, placeholder)
        return HiddenValue(
            kind=kind,
            placeholder=_text(as_written(noted)),
            noted=_text(noted),
            original=_text(original),
        )


def legend_of(texts: Iterable[RedactedText]) -> Legend:
    """What the placeholders of typed texts stand for."""
    legend = Legend()
    for text in texts:
        for finding in text.findings:
            for value in finding.values:
                legend.add(value.noted.encode(), value.original.encode())
    return legend


def _with(spans: list[Span], more: Iterator[Span]) -> list[Span]:
    """These, and of the others those that overlap none of them."""
    added = [
        one for one in more if not any(one.start < old.end and old.start < one.end for old in spans)
    ]
    return sorted([*spans, *added], key=lambda one: one.start)


def _characters(data: bytes) -> int:
    """How many whole characters of UTF-8 there are; one that was cut in two is not counted, and so lies in the span."""
    return len(data.decode("utf-8", "ignore"))


def _text(data: bytes) -> str:
    return data.decode("utf-8", "replace")
