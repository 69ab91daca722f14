"""A first look before every commit: each step of an application that has everything opens in Chromium, and a form answers."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import WORKER, serving, watched
from tests.browser.test_access import violations
from tests.conftest import PASSWORD, copy_with

pytestmark = pytest.mark.browser


@pytest.fixture
def page(chromium: Browser, database_url: str) -> Iterator[Page]:
    """A watched page of a shop that published a claim, and nothing besides."""
    with (
        serving(copy_with("day_published", database_url, f"longbreath_first_{WORKER}")) as address,
        watched(chromium, address) as page,
    ):
        yield page


def test_each_step_opens_and_a_form_answers(page: Page) -> None:
    page.goto("/account/login")
    page.fill("#email", "tester@example.test")
    page.fill("#password", "not this one")
    page.click("button.strong")
    expect(page.locator("main")).to_contain_text("do not belong together")
    page.fill("#password", PASSWORD)
    page.click("button.strong")
    page.wait_for_url("**/")
    for step in ("measure", "reckon", "plan", "pull", "weigh"):
        page.goto(f"/applications/1/{step}")
        expect(page.locator("h1")).to_be_visible()
        for place in page.locator("[data-chart]").all():
            expect(place).to_have_attribute("data-drawn", "yes")
    assert violations(page, "/applications/1/claim") == []
    page.goto("/applications/1/measure/path/elements/new")
    page.fill("#length", "12 in")
    understood = page.locator(".field", has=page.locator("#length")).locator(".understood")
    expect(understood).to_have_text("read as 12 in = 304.8 mm")
