"""Debian's Chromium and a page of Marit's; a terminal where she is signed in."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from sealpacket.demo.house import RunningHouse
from tests.journeys.browsing import BROWSER, FLAGS, open_page
from tests.journeys.terminal import Terminal


@pytest.fixture(scope="module")
def browser() -> Iterator[Browser]:
    """Debian's Chromium."""
    expect.set_options(timeout=30_000)
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=BROWSER, args=FLAGS)
        yield chromium
        chromium.close()


@pytest.fixture
def page(browser: Browser, house: RunningHouse) -> Iterator[Page]:
    """Marit's page; an error in its script, or a style that the policy refuses, fails the test."""
    opened = open_page(browser, house)
    errors: list[str] = []
    opened.on("pageerror", lambda error: errors.append(str(error)))
    opened.on(
        "console",
        lambda said: errors.append(said.text) if "Content Security Policy" in said.text else None,
    )
    yield opened
    opened.context.close()
    assert errors == []


@pytest.fixture(scope="module")
def shell(house: RunningHouse, tmp_path_factory: pytest.TempPathFactory) -> Terminal:
    """A terminal where Marit is signed in."""
    terminal = Terminal(tmp_path_factory.mktemp("config") / "sealpacket")
    said = terminal.run("sign-in", house.address, "marit", stdin=house.sign_ins["marit"] + "\n")
    assert "Signed in as Marit Oswin: admin, keeper, preparer, releaser." in said
    return terminal
