"""Accounts in the console: somebody comes, keeps their own things in order, and leaves."""

from __future__ import annotations

from uuid import uuid4

from playwright.sync_api import Browser, Page, expect

from sealpacket.client import make_token
from sealpacket.demo.house import RunningHouse
from tests.journeys.browsing import faults, open_page, open_today


def test_somebody_comes_and_leaves(browser: Browser, page: Page, house: RunningHouse) -> None:
    open_today(page, house)
    name, first, second = f"guest-{uuid4().hex[:6]}", "linden cinder yarrow", "barley vetch heather"
    page.get_by_role("button", name="Marit Oswin").click()
    page.get_by_role("menuitem", name="Accounts").click()
    expect(page.get_by_role("heading", name="Accounts")).to_be_visible()
    page.keyboard.press("+")
    page.get_by_label("Name").fill(name)
    page.get_by_role("checkbox", name="reader").check()
    page.get_by_label("Password").fill("too short")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_role("alert")).to_contain_text("fewer than 12 characters")
    page.get_by_label("Password").fill(first)
    page.get_by_role("button", name="Add it").click()
    row = page.get_by_role("row").filter(has_text=name)
    expect(row).to_contain_text("nowhere")
    assert faults(page) == []

    theirs = open_page(browser, house, None)
    theirs.goto(house.address)
    enter(theirs, name, first)
    theirs.goto(f"{house.address}/you")
    theirs.get_by_label("Password now").fill(first)
    theirs.get_by_label("New password").fill(second)
    theirs.get_by_role("button", name="Change the password").click()
    enter(theirs, name, second)
    make_token(house.address, name, second, "a script of theirs", rights=["read"])
    theirs.goto(f"{house.address}/you")
    expect(theirs.get_by_role("row").filter(has_text="a script of theirs")).to_contain_text("read")
    assert faults(theirs) == []
    theirs.get_by_role("button", name="Revoke the token for a script of theirs").click()
    expect(theirs.get_by_text("There is no token.")).to_be_visible()

    page.reload()
    row.get_by_role("button", name="Disable or sign out").click()
    page.get_by_role("button", name="Disable", exact=True).click()
    expect(row).to_contain_text("disabled")
    theirs.reload()
    expect(theirs.get_by_label("Password")).to_be_visible()
    theirs.context.close()


def enter(page: Page, name: str, password: str) -> None:
    """Sign in with what one was given."""
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password", exact=True).fill(password)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Our turn")).to_be_visible()
