"""The alert rules and the dashboard in ops/prometheus, with Debian's Prometheus."""

from __future__ import annotations

import re
import subprocess
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
import yaml
from prometheus_client.parser import text_string_to_metric_families as families

from sealpacket.client.models import PacketShown
from sealpacket.demo.cluster import free_port, wait_for_port
from sealpacket.demo.house import RunningHouse
from tests.conftest import ROOT, until

FILES = ROOT / "ops/prometheus"


def test_the_rules_fire_when_they_should() -> None:
    done = subprocess.run(
        ["promtool", "test", "rules", "alerts.test.yml"],
        cwd=FILES,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stdout + done.stderr


def test_rules_and_dashboard_ask_for_measures_that_there_are(
    house: RunningHouse, lodged: PacketShown
) -> None:
    """A measure that was renamed would make a rule that never fires."""
    httpx.post(f"{house.address}/api/v1/sign-in", json={"name": "marit", "password": "wrong"})
    text = httpx.get(f"{house.address}/metrics").text
    known = {
        family.name + end
        for family in families(text)
        for end in ("", "_total", "_count", "_bucket")
    }
    rules = yaml.safe_load((FILES / "alerts.yml").read_text())
    asked = " ".join(rule["expr"] for group in rules["groups"] for rule in group["rules"])
    asked += (FILES / "sealpacket.html").read_text()
    wanted = set(re.findall(r"\bsealpacket_[a-z_]+", asked))
    optional = {"sealpacket_last_backup_timestamp_seconds"}
    assert wanted - optional <= known


@pytest.fixture
def prometheus(house: RunningHouse, tmp_path: Path) -> Iterator[httpx.Client]:
    """A Prometheus that watches the house."""
    (tmp_path / "config.yml").write_text(
        yaml.safe_dump(
            {
                "global": {"scrape_interval": "1s", "evaluation_interval": "1s"},
                "rule_files": [str(FILES / "alerts.yml")],
                "scrape_configs": [
                    {
                        "job_name": "sealpacket",
                        "static_configs": [{"targets": [house.address.removeprefix("http://")]}],
                    }
                ],
            }
        )
    )
    port = free_port()
    process = subprocess.Popen(
        [
            "prometheus",
            f"--config.file={tmp_path / 'config.yml'}",
            f"--storage.tsdb.path={tmp_path / 'data'}",
            f"--web.listen-address=127.0.0.1:{port}",
            f"--web.console.templates={FILES}",
        ],
        stderr=subprocess.DEVNULL,
    )
    try:
        assert wait_for_port(port)
        yield httpx.Client(base_url=f"http://127.0.0.1:{port}")
    finally:
        process.terminate()
        process.wait(20)


def test_prometheus_reads_the_house_and_draws_it(
    prometheus: httpx.Client, lodged: PacketShown
) -> None:
    def packets() -> dict[str, str]:
        found = prometheus.get("/api/v1/query", params={"query": "sealpacket_packets"}).json()
        return {
            one["metric"]["state"]: one["value"][1]
            for one in found.get("data", {}).get("result", ())
        }

    assert int(until(packets)["lodged"]) >= 1
    page = prometheus.get("/consoles/sealpacket.html")
    assert page.status_code == 200, page.text
    assert re.search(r"<td>lodged</td><td class=\"n\">\d+</td>", page.text)
