"""A factorial planned, printed and followed to its first condition by keyboard; a late part seen on the line of dates."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.tools import application_of, choose, log_in, open_fresh_application, press, reach, samples, write

pytestmark = [pytest.mark.browser, pytest.mark.slow]


def test_a_factorial_is_planned_printed_and_followed_by_keyboard(page: Page) -> None:
    log_in(page, "mara")
    base = open_fresh_application(page, "rev plan")
    page.goto(f"{base}/plan")
    press(page, "a.strong[href$='/plan/card']")
    choose(page, "#design", "Factorial, every combination once")
    reach(page, "main details > summary")
    page.keyboard.press("Enter")
    write(page, "#factor_1", "Throttle bore")
    write(page, "#levels_1", "Heron stock throttle body\nPetrel 66 mm throttle body rev plan")
    write(page, "#minutes_1", "35")
    write(page, "#factor_2", "Spacer")
    write(page, "#levels_2", "none\n12 mm")
    write(page, "#minutes_2", "15")
    write(page, "#factor_3", "Controller")
    write(page, "#levels_3", "low\nmiddle\nhigh")
    write(page, "#minutes_3", "2")
    write(page, "#pulls_per_set", "2")
    write(page, "#effect_wanted", "4 lb-ft")
    write(page, "#held", "4th gear, bonnet shut, fan on")
    write(page, "#also_changed", "nothing")
    press(page, "main form.form button.strong")
    expect(page.locator("h1")).to_contain_text("factorial of 12, 26 pulls")
    expect(page.locator(".filling")).to_contain_text("0 of 12 conditions are filled")
    first = page.locator(".tokens li").first.inner_text()
    assert first.startswith("A")
    with page.expect_response(re.compile("/print")) as printed:
        page.evaluate("url => fetch(url)", page.get_by_role("link", name="Print").get_attribute("href"))
    assert printed.value.headers["content-type"] == "application/pdf"
    press(page, "#drawer a.strong")
    press(page, "a[href$='/sessions/new']")
    write(page, "#temperature", "20 C")
    write(page, "#pressure", "1010 hPa")
    write(page, "#humidity", "50")
    press(page, "main form button.strong")
    expect(page.locator(".tokens li")).to_have_count(26)
    page.set_input_files("input[type=file]", samples(3)[:2])
    page.get_by_role("button", name="Take them in").click()
    page.wait_for_url(re.compile("/mapping$"))
    expect(page.locator("select[name$=-label]").first.locator("option")).to_have_count(13)
    for select in page.locator("select[name$=-label]").all():
        select.select_option("A")
    page.get_by_role("button", name="Record").click()
    page.goto(f"{base}/plan")
    expect(page.locator(".filling")).to_contain_text("1 of 12 conditions are filled")
    expect(page.locator(".filling .is-next")).to_have_count(1)


def test_a_late_part_moves_a_publishing_day_and_the_line_works_by_keyboard(page: Page) -> None:
    log_in(page, "mara")
    page.goto("/programme")
    expect(page.locator("svg.dates")).to_be_visible()
    links = page.locator("svg.dates a")
    assert links.count() > 10
    links.nth(2).focus()
    assert links.nth(2).get_attribute("aria-label")
    page.locator("select[name=late]").select_option(index=0)
    page.get_by_label("days later").fill("21")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile("late="))
    expect(page.locator("#late p").last).to_contain_text(re.compile("later moves"))
    page.get_by_role("link", name="All that is owed").click()
    expect(page.locator("h1")).to_contain_text("things owed")


@pytest.mark.long
def test_verdicts_to_expect_come_from_a_worker_while_the_page_waits(page: Page, working: None) -> None:
    log_in(page, "mara")
    base = application_of(page, "Gannet").removesuffix("/measure")
    page.goto(f"{base}/plan")
    page.get_by_role("button", name="Simulate it").click()
    expect(page.locator("#forecast table")).to_be_visible(timeout=60_000)
    expect(page.locator("#forecast")).to_contain_text("the card as it stands")
