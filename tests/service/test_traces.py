"""Traces: requests, jobs and calls arrive at a collector by OTLP, with ids and without values."""

from __future__ import annotations

from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread
from typing import Any

import httpx
import pytest
from opentelemetry.proto.collector.trace.v1.trace_service_pb2 import ExportTraceServiceRequest

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.cluster import free_port
from sealpacket.demo.house import RunningHouse
from sealpacket.services.doctor import first_needs
from sealpacket.settings import Settings
from tests.conftest import authorization, until

PORT = free_port()
HOUSE = {"TRACES": f"http://127.0.0.1:{PORT}/v1/traces"}
CALLER = "4bf92f3577b34da6a3ce929d0e0e4736"


class Collector:
    """Takes spans, as OpenTelemetry's own collector does."""

    def __init__(self) -> None:
        self.spans: list[Any] = []
        self.written = b""
        taken = self

        class Handler(BaseHTTPRequestHandler):
            def do_POST(self) -> None:
                body = self.rfile.read(int(self.headers["Content-Length"]))
                if self.headers.get("Content-Encoding") == "gzip":
                    raise AssertionError("it is packed")
                taken.take(body)
                self.send_response(200)
                self.send_header("Content-Type", "application/x-protobuf")
                self.end_headers()

            def log_message(self, *_arguments: object) -> None:
                pass

        self.server = ThreadingHTTPServer(("127.0.0.1", PORT), Handler)
        Thread(target=self.server.serve_forever, daemon=True).start()

    def take(self, body: bytes) -> None:
        self.written += body
        for resource in ExportTraceServiceRequest.FromString(body).resource_spans:
            for scope in resource.scope_spans:
                self.spans += scope.spans

    def named(self, name: str, trace: str = "") -> dict[str, Any]:
        """The names of things of the first span that is called so (in a trace); empty if there is none."""
        for span in [*self.spans]:
            if span.name == name and trace in ("", span.trace_id.hex()):
                values = {one.key: one.value for one in span.attributes}
                return {k: getattr(v, v.WhichOneof("value")) for k, v in values.items()}
        return {}


@pytest.fixture
def collector() -> Iterator[Collector]:
    """A collector at the address that the house is configured with."""
    there = Collector()
    yield there
    there.server.shutdown()
    there.server.server_close()


def test_requests_jobs_and_calls_arrive(
    collector: Collector, house: RunningHouse, marit: SealPacket, lodged: PacketShown
) -> None:
    said = httpx.get(
        f"{house.address}/api/v1/packets/{lodged.number}", trust_env=False,
        headers={**authorization(marit), "traceparent": f"00-{CALLER}-00f067aa0ba902b7-01", "X-Request-ID": "caller-17"},
    )  # fmt: skip
    assert said.status_code == 200
    asked = until(lambda: collector.named("GET /api/v1/packets/<number>", CALLER))
    assert (asked["packet"], asked["account"]) == (lodged.number, "marit")
    assert (asked["request"], asked["http.response.status_code"]) == ("caller-17", 200)
    sent = until(lambda: collector.named("call 127.0.0.1"))
    assert sent["http.request.method"] in ("GET", "POST", "PUT")
    tasks = until(lambda: {one.name for one in collector.spans if one.name.startswith("job ")})
    assert tasks
    for value in (lodged.title, marit.me().person, "TN9-44120-A"):
        assert value.encode() not in collector.written


def test_without_the_packages_it_does_not_begin(
    house: RunningHouse, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("sealpacket.services.doctor.find_spec", lambda _name: None)
    for name, value in house.environment().items():
        if name.startswith("SEALPACKET_"):
            monkeypatch.setenv(name, value)
    (fault,) = first_needs(Settings())
    assert fault.endswith("Run: pip install sealpacket[traces]")
