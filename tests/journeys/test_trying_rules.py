"""Rules of one's own are tried on a sample before they go into the plan: in the console and on the command line."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from sealpacket.client import Refused, SealPacket
from sealpacket.demo.house import RunningHouse
from tests.journeys.browsing import faults, open_today
from tests.journeys.terminal import Terminal

RULES = """
[[rule]]
id = "shelf-mark"
kind = "custom"
match = ["shelf «SM-0012»"]
leave = ["shelf none"]

  [[rule.shape]]
  pattern = '(?i:shelf[ :]+)(SM-[0-9]{4})'
"""
SAMPLE = "first line\nshelf SM-2044 fell over, and shelf: SM-2045\n"


def test_the_console_shows_what_rules_would_find(page: Page, house: RunningHouse) -> None:
    open_today(page, house)
    page.goto(f"{house.address}/redaction-plan")
    page.get_by_label("Rules, in TOML").fill(RULES)
    page.get_by_label("Sample to search").fill(SAMPLE)
    page.get_by_role("button", name="Try", exact=True).click()
    told = page.get_by_role("region", name="shelf-mark")
    expect(told).to_contain_text("shelf «SM-2044» fell over, and shelf: «SM-2045»")
    expect(told).to_contain_text("2 found in the sample")
    page.get_by_label("Rules, in TOML").fill(RULES.replace("(SM-", "SM-").replace("})'", "}'"))
    page.get_by_role("button", name="Try", exact=True).click()
    expect(told).to_contain_text("the pattern has 0 groups")
    assert faults(page) == []


def test_the_command_line_shows_what_rules_would_find(shell: Terminal, tmp_path: Path) -> None:
    rules, log = tmp_path / "rules.toml", tmp_path / "app.log"
    rules.write_text(RULES, "utf-8")
    log.write_text(SAMPLE, "utf-8")
    said = shell.run("redaction-plan", "try", str(rules), "--on", str(log))
    assert "2 found in app.log" in said
    assert "shelf «SM-2044» fell over" in said
    assert "In the frozen files: 0 marked values" in said
    rules.write_text(RULES.replace("SM-0012", "SM-12"), "utf-8")
    assert "found in none" in shell.run("redaction-plan", "try", str(rules), code=1)
    rules.write_text("no rules", "utf-8")
    assert "cannot be read" in shell.run("redaction-plan", "try", str(rules), code=1)


def test_the_client_is_told_why_rules_cannot_be_tried(marit: SealPacket) -> None:
    with pytest.raises(Refused, match="Try at most 50"):
        marit.try_redaction_rules("".join(RULES.replace("mark", f"mark{n}") for n in range(51)))
    tried = marit.try_redaction_rules(RULES)
    assert [(one.rule, one.faults, one.values) for one in tried.rules] == [("shelf-mark", [], 0)]
