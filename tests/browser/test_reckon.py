"""Deciding before metal is cut: what-if values that answer at once, candidates with a wanted part; by mouse and by keyboard."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.tools import application_of, choose, log_in, press, reach, write

pytestmark = [pytest.mark.browser, pytest.mark.slow]

WANTED = (
    ("section_width", "44 mm", "supplier’s figure"),
    ("section_height", "34 mm", "supplier’s figure"),
    ("length", "230 mm", "estimated"),
    ("height", "251 mm", "supplier’s figure"),
    ("lip", "0.5 mm", "estimated"),
)


def test_a_what_if_answers_at_once_and_is_saved_only_when_it_is_kept(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Gannet").removesuffix("/measure")
    page.goto(f"{base}/reckon/ask/length")
    first = page.locator("#answer .num").first.inner_text()
    page.get_by_label("Speed to tune for").fill("3000")
    expect(page.locator("#answer .num").first).not_to_have_text(first)
    expect(page.locator("#u-speed")).to_contain_text("what if, in place of 3700")
    expect(page).to_have_url(re.compile("speed=3000"))
    expect(page.locator("#rests")).to_contain_text("1 what if")
    page.reload()
    expect(page.get_by_label("Speed to tune for")).to_have_value("3000")
    page.get_by_label("Speed to tune for").fill("three thousand")
    expect(page.locator("#u-speed .error")).to_contain_text("does not begin with a number")
    page.get_by_label("Speed to tune for").fill("3000")
    expect(page.locator("#u-speed")).to_contain_text("read as 3\u202f000")
    page.get_by_label("Why this one?").fill("for the tow car")
    page.get_by_role("button", name="Keep this answer").click()
    expect(page.locator(".flash.is-done")).to_contain_text("Kept")
    expect(page.locator("#drawer .kept").first).to_contain_text("for the tow car")
    page.locator("#answer .fig").first.click()
    expect(page.locator("#drawer")).to_contain_text("Reflected-wave rule")


def test_a_wanted_part_is_weighed_up_by_mouse(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Gannet").removesuffix("/measure")
    page.goto(f"{base}/reckon")
    page.get_by_role("link", name="Candidates for the target").click()
    measured = page.locator("tr.of-go", has_text="Gannet long-runner manifold rev C")
    expect(measured).to_contain_text("14.61")
    page.get_by_role("link", name="Add a candidate").click()
    page.get_by_label("or what it is called").fill("Whimbrel short manifold")
    for key, text, rests in WANTED:
        page.fill(f"#value_{key}", text)
        page.locator(f"#rests_{key}").select_option(label=rests)
    page.locator("#value_shelf").select_option(label="wanted, not owned yet")
    page.locator("#rests_shelf").select_option(label="nominal")
    page.get_by_role("button", name="Save").click()
    row = page.locator("tr.of-no-go", has_text="Whimbrel short manifold")
    expect(row).to_contain_text("wanted, not owned yet")
    verdict = page.locator("tr.verdict-row", has_text="too high").last
    expect(verdict).to_contain_text("no-go")
    expect(verdict).to_contain_text("By no school does it tune within")
    row.locator("td .fig").first.click()
    expect(page.locator("#drawer")).to_contain_text("Whimbrel short manifold, at the target")


def test_a_wanted_part_is_weighed_up_by_keyboard(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Crest").removesuffix("/measure")
    page.goto(f"{base}/measure")
    page.evaluate("document.activeElement.blur()")
    with page.expect_navigation():
        page.keyboard.press("2")
    press(page, "#drawer a[href$='/reckon/candidates']")
    expect(page.locator("tr.verdict-row")).to_have_count(2)
    press(page, "main a.strong")
    write(page, "#name", "Pratincole dual-plane manifold")
    for key, text in (("area", "15 cm2"), ("length", "390 mm"), ("height", "255 mm")):
        write(page, f"#value_{key}", text)
        choose(page, f"#rests_{key}", "measured")
    press(page, "main button.strong")
    verdict = page.locator("tr.verdict-row").last
    expect(verdict.locator(".mark")).to_have_text("go")
    reach(page, "tr:nth-last-child(2) .fig")
    page.keyboard.press("Enter")
    expect(page.locator("#drawer")).to_contain_text("Pratincole dual-plane manifold")
