"""Opening the console as someone, and asking axe about it."""

from __future__ import annotations

from weakref import WeakKeyDictionary

from playwright.sync_api import Browser, Page, StorageState, expect

from sealpacket.demo.house import RunningHouse
from tests.conftest import ROOT

BROWSER = "/usr/bin/chromium-headless-shell"
"""Debian's; it needs half of what the whole browser takes without a window."""
AXE = ROOT / "console/node_modules/axe-core/axe.min.js"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync",
         "--no-first-run"]  # fmt: skip

IN_HAND = 120_000
"""Milliseconds for what a worker has in hand (pictures are read, say): machines are slow when much else is tested."""

_SIGNED_IN: WeakKeyDictionary[RunningHouse, dict[str, StorageState]] = WeakKeyDictionary()
"""By house and name, the cookie of someone who has signed in once: guessing is made slow, and signing in with it."""


def open_page(browser: Browser, house: RunningHouse, name: str | None = "marit") -> Page:
    """An empty page of its own, signed in as someone; the test goes where it wants to be."""
    kept = _SIGNED_IN.setdefault(house, {})
    context = browser.new_context(
        viewport={"width": 1280, "height": 800},
        locale="en-GB",
        reduced_motion="reduce",
        storage_state=kept.get(name or ""),
    )
    if name and name not in kept:
        person = {"name": name, "password": house.sign_ins[name]}
        said = context.request.post(f"{house.address}/api/v1/sign-in", data=person)
        assert said.ok, said.text()
        kept[name] = context.storage_state()
    page = context.new_page()
    page.set_default_timeout(30_000)
    return page


def open_today(page: Page, house: RunningHouse) -> None:
    """Go to Today, where all keys work."""
    page.goto(house.address)
    expect(page.get_by_role("heading", name="Our turn")).to_be_visible()


def go_on(page: Page, path: str) -> None:
    """Go to another page of the console as its links do, without loading all of it again."""
    before = page.locator("main").element_handle()
    page.evaluate("path => history.pushState(null, '', path)", path)
    page.wait_for_function("before => !before.isConnected", arg=before)


def sign_in(page: Page, house: RunningHouse, name: str) -> None:
    """Sign in by name and password, on the page that asks for them."""
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(house.sign_ins[name])
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Our turn")).to_be_visible()


def paste(page: Page, text: str) -> None:
    """Paste over all that stands in the field with the focus, as one does with a sheet written elsewhere.

    Typed over a selection, the browser itself tries to keep its colours by a style, which the page's policy refuses.
    """
    page.keyboard.press("Control+a")
    page.evaluate(
        """text => {
            const clipboardData = new DataTransfer();
            clipboardData.setData("text/plain", text);
            const paste = new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true });
            document.activeElement.dispatchEvent(paste);
        }""",
        text,
    )


def faults(page: Page, *, dark: bool = False) -> list[str]:
    """What axe finds on the page as it stands; where asked for, of its colours in the dark as well."""
    expect(page.get_by_role("status")).to_have_count(0)
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    if dark:
        page.evaluate("document.documentElement.dataset.theme = 'dark'")
        contrast = page.evaluate(
            "axe.run(document, {resultTypes: ['violations'], runOnly: ['color-contrast']})"
        )
        page.evaluate("document.documentElement.dataset.theme = 'light'")
        found["violations"] += contrast["violations"]
    return [f"{v['id']}: {node['html'][:160]}" for v in found["violations"] for node in v["nodes"]]
