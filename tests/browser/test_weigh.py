"""Weighing as a user does it: the downpipe by both schools, three kits that cannot be told apart, a day that went wrong."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.tools import application_of, log_in

pytestmark = [pytest.mark.browser, pytest.mark.slow]


def test_the_downpipe_is_clearly_better_as_set_and_hardly_at_equal_boost(page: Page) -> None:
    log_in(page, "mara")
    base = "/applications/12"
    page.goto(f"{base}/pull")
    expect(page.locator("h1")).to_contain_text("The card is fulfilled")
    page.goto(f"{base}/weigh")
    expect(page.locator("h1")).to_contain_text("Clearly more")
    page.get_by_role("navigation", name="Parts of Weigh").get_by_role("link", name="Boost").click()
    expect(page.locator("[data-chart][data-drawn] svg")).to_be_visible()
    rows = page.locator("table.schools tbody tr")
    expect(rows).to_have_count(3)
    expect(rows.nth(1)).to_contain_text("gain")
    share = rows.nth(1).locator("td").last.inner_text()
    assert int("".join(c for c in share if c.isdigit())) > 60
    rows.nth(1).locator("a.fig").nth(1).click()
    expect(page.locator("#drawer")).to_contain_text("Analysis of covariance")
    expect(page.locator("#main")).to_contain_text("never “at equal boost”")
    expect(page.locator("#main")).to_contain_text("sooner")


def test_three_kits_cannot_be_told_apart_and_what_is_in_the_box_decides(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Dyke inlet kit")
    page.goto(f"{base}/weigh/several")
    expect(page.locator("svg.ranking .together")).to_have_count(1)
    page.get_by_role("link", name="Kits").click()
    expect(page.locator("h1")).to_contain_text("cannot be told apart: the cheaper wins, Fell")
    page.get_by_label("An hour of fitting costs").fill("80")
    page.get_by_role("button", name="Count fitting").click()
    expect(page.locator("h1")).to_contain_text("the cheaper wins, Dyke")
    page.goto(f"{base}/weigh/several/weights")
    page.get_by_label("Ratios of the gears").fill("3.1 1.8 1.4 1.0")
    page.get_by_role("button", name="Keep the weights").click()
    expect(page.locator(".conditions")).to_contain_text("through gears 3.1 / 1.8")


def test_the_day_that_went_wrong_from_pulls_to_net(page: Page) -> None:
    log_in(page, "mara")
    base = "/applications/11"
    page.goto(f"{base}/weigh")
    expect(page.locator("h1")).to_contain_text("by the part or by drift")
    expect(page.locator(".differing")).to_contain_text("measured")
    page.get_by_role("link", name="To the ledger").click()
    expect(page.locator("svg.waterfall")).to_have_count(3)
    page.locator("#kind_bonnet").select_option("unknown")
    page.get_by_role("button", name="Keep the ledger").click()
    expect(page.locator(".lead").first).to_contain_text("Until then this is the result of a package")
    page.goto(f"{base}/weigh")
    expect(page.locator(".conditions").first).to_contain_text("result of a package")
    page.get_by_text("The picture: single pulls, to take away").click()
    page.locator('details.picture input[name="off"]').first.check()
    page.get_by_role("button", name="Draw anew").click()
    page.wait_for_url("**off=*")
    expect(page.locator("[data-chart][data-drawn]")).to_be_visible()
    with page.expect_download() as taken:
        page.get_by_text("The picture: single pulls, to take away").click()
        page.get_by_role("link", name="PNG with its conditions").click()
    assert taken.value.suggested_filename.endswith(".png")
