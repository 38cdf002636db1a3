"""Traces by OpenTelemetry, if an address for them is configured: requests, jobs, and calls to desks.

A span names things (route, account, packet, task, desk) and never holds what people typed or what a file contains.
"""

from __future__ import annotations

import os
from collections.abc import Iterator, Mapping
from contextlib import contextmanager, nullcontext
from typing import TYPE_CHECKING, Any

from sealpacket import __version__
from sealpacket.settings import Settings

if TYPE_CHECKING:
    from contextlib import AbstractContextManager

    from opentelemetry.trace import Tracer

_tracer: Tracer | None = None


def set_up_traces(settings: Settings, part: str) -> None:
    """Send the spans of this process to `TRACES`, if that is set; once in each, after it was forked."""
    global _tracer
    if settings.traces is None:
        return
    from opentelemetry.exporter.otlp.proto.http.trace_exporter import OTLPSpanExporter
    from opentelemetry.sdk.resources import Resource
    from opentelemetry.sdk.trace import TracerProvider
    from opentelemetry.sdk.trace.export import BatchSpanProcessor

    about = {
        "service.name": "sealpacket",
        "service.version": __version__,
        "service.instance.id": f"{part} {os.getpid()}",
    }
    provider = TracerProvider(resource=Resource(about))
    provider.add_span_processor(BatchSpanProcessor(OTLPSpanExporter(settings.traces)))
    _tracer = provider.get_tracer("sealpacket", __version__)


@contextmanager
def _traced(
    tracer: Tracer, name: str, names: Mapping[str, Any], caller: Mapping[str, str] | None
) -> Iterator[Span]:
    from opentelemetry.propagate import extract
    from opentelemetry.trace import Status, StatusCode

    with tracer.start_as_current_span(
        name,
        extract(caller) if caller is not None else None,
        attributes=names,
        record_exception=False,  # its text may hold a value
        set_status_on_exception=False,
    ) as span:
        try:
            yield Span(span)
        except BaseException as error:
            span.set_status(Status(StatusCode.ERROR, type(error).__name__))
            raise


class Span:
    """The span that is open; does nothing where no traces are sent."""

    def __init__(self, span: Any = None) -> None:
        self._span = span

    def rename(self, name: str) -> None:
        """Call it otherwise: what a request is about is known only later."""
        if self._span is not None:
            self._span.update_name(name)

    def note(self, names: Mapping[str, Any]) -> None:
        """Add names of things."""
        if self._span is not None:
            self._span.set_attributes(names)


def span(
    name: str, names: Mapping[str, Any], caller: Mapping[str, str] | None = None
) -> AbstractContextManager[Span]:
    """Measure what is done within, with the names of what it is about. `caller`: headers with a traceparent (W3C)."""
    if _tracer is None:
        return nullcontext(Span())
    return _traced(_tracer, name, names, caller)
