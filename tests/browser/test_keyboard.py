"""The whole job once more, by keyboard alone: tab, type, Enter, and the step keys 1 to 6."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.tools import ROLLERS, choose, press, reach, samples, write
from tests.made.people import PASSWORD

pytestmark = [pytest.mark.browser, pytest.mark.slow]

LIFTS = (("1 mm", "11.0"), ("2 mm", "21.2"), ("4 mm", "39.1"), ("6 mm", "51.0"), ("8 mm", "56.8"), ("10 mm", "59.2"))


def step(page: Page, number: str) -> None:
    """Go to a step by its key, from outside any field."""
    page.evaluate("document.activeElement.blur()")
    with page.expect_navigation():
        page.keyboard.press(number)


def log_in(page: Page, who: str) -> None:
    page.goto("/account/login")
    write(page, "#email", f"{who}@windlass.example.test")
    write(page, "#password", PASSWORD)
    with page.expect_navigation():
        page.keyboard.press("Enter")


def open_application(page: Page) -> None:
    page.goto("/library")
    press(page, "a[href$='/products/4/revisions/new']")
    write(page, "#name", "rev keys")
    write(page, "#state", "machined")
    press(page, "main button.strong")
    page.goto("/applications/new")
    choose(page, "#revision_id", "Petrel 66 mm throttle body rev keys")
    page.keyboard.press("Tab")
    reach(page, "#vehicle_id")
    page.keyboard.press("Home")  # the first Heron, not the turbocharged one that begins alike
    choose(page, "#stock_revision_id", "Heron stock throttle")
    press(page, "main button.strong")


def measure(page: Page) -> None:
    press(page, "main a.strong")
    for selector, text in (
        ("#test_pressure", "28"),
        ("#temperature", "19C"),
        ("#pressure", "1010 hPa"),
        ("#humidity", "45"),
        ("#leak_percent", "2.1"),
        ("#leak_pressure", "28"),
        ("#port", "cylinder 1"),
        ("#mouth", "clay"),
    ):
        write(page, selector, text)
    press(page, "main button.strong")
    for trace in ("A", "B"):
        if trace == "B":
            press(page, ".headline-row a")
        for lift, percent in LIFTS:
            write(page, "#lift", lift)
            choose(page, "#range_id", "4")
            write(page, "#percent", percent)
            page.wait_for_timeout(80)  # a hand, not a tool that types and ends with Enter at once
            with page.expect_navigation():
                page.keyboard.press("Enter")
    step(page, "1")
    press(page, "a[href$='/path']")
    press(page, "a[href$='path/elements/new']")
    choose(page, "#kind", "runner")
    write(page, "#name", "runner")
    write(page, "#length", "11.9 in")
    write(page, "#diameter", "43 mm")
    write(page, "#tool", "calliper")
    choose(page, "#provenance", "measured")
    press(page, "main form button.strong")
    page.keyboard.press("w")
    expect(page.locator("#drawer h2").first).to_have_text("Working")


def write_builds(page: Page, here: str) -> None:
    for title in ("stock", "product"):
        page.goto(f"{here}/measure/builds/new")
        write(page, "#title", title)
        if title == "stock":
            write(page, "#line_vehicle", "shop Heron, mark 41")
        else:
            write(page, "#line_serial", "TB-0008")
        write(page, "#line_part_state", "as delivered" if title == "stock" else "machined")
        for line in ("machining", "coating"):
            write(page, f"#line_{line}", "none")
        press(page, "main button.strong")


def reckon_plan_and_pull(page: Page) -> None:
    step(page, "2")
    press(page, "#drawer a.strong")
    press(page, "a[href$='/predictions/torque/draw']")
    for band in range(3):
        for part, text in (("low", "-2"), ("middle", "0.5"), ("high", "3")):
            write(page, f"#band{band}_{part}", text)
    write(page, "#expects", "Nothing below 5,000 rpm.")
    press(page, "main button.strong")
    step(page, "3")
    press(page, "main a.strong")
    choose(page, "#dyno_id", ROLLERS)
    write(page, "#held", "4th gear")
    write(page, "#also_changed", "nothing")
    write(page, "#effect_wanted", "2")
    press(page, "main button.strong")
    step(page, "4")
    press(page, "main a.strong")
    for selector, text in (("#temperature", "20C"), ("#pressure", "1011 hPa"), ("#humidity", "50")):
        write(page, selector, text)
    press(page, "main button.strong")
    # asked for before the Tabs: a page that is busy drawing would hear Space before the wish to be told
    with page.expect_file_chooser() as chooser:
        reach(page, "#files")
        page.keyboard.press("Space")
    chooser.value.set_files(samples(2))
    press(page, ".upload button")
    press(page, "button[name=record]")
    expect(page.locator("h1")).to_have_text("The card is fulfilled.")


@pytest.mark.long
def test_whole_job_by_keyboard(page: Page) -> None:
    log_in(page, "mara")
    open_application(page)
    here = page.url.removesuffix("/measure")
    measure(page)
    write_builds(page, here)
    reckon_plan_and_pull(page)
    step(page, "5")
    press(page, "#drawer a[href$='/reckon/predictions']")
    expect(page.locator(".prediction .mark")).to_have_count(3)
    expect(page.locator(".prediction")).to_contain_text("sealed")
    step(page, "5")
    expect(page.locator("h1")).to_contain_text("at the top")
    press(page, "#drawer button.strong")
    press(page, ".gates a[href$='/claim/road']")
    choose(page, "#tampering", "leaves")
    choose(page, "#approval", "closed")
    press(page, "form:has(#tampering) button")
    write(page, "#sold", "all that are machined")
    for name in ("rules", "idle", "noise", "life", "relation"):
        write(page, f"#{name}", "not recorded")
    press(page, ".notes-form button.strong")
    step(page, "6")
    press(page, "#drawer button.strong")
    press(page, "form[action$='logout'] button")
    log_in(page, "joss")
    page.goto(f"{here}/claim")
    reach(page, ".discloses summary")
    page.keyboard.press("Enter")
    expect(page.locator(".discloses li").first).to_be_visible()
    reach(page, "#discloses")
    page.keyboard.press("Space")
    press(page, "#drawer button.strong")
    expect(page.locator("h1")).to_have_text("Published: torque and power")


def test_keys_of_the_frame(page: Page) -> None:
    log_in(page, "mara")
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("gannet")
    expect(page.locator("#find-results li").first).to_contain_text("Gannet")
    page.keyboard.press("Escape")
    expect(page.locator("#find")).to_be_hidden()
    expect(page.locator("#units-switch")).to_contain_text("US")
    with page.expect_navigation():
        page.keyboard.press("u")
    expect(page.locator("#units-switch")).to_contain_text("metric")
    with page.expect_navigation():
        page.keyboard.press("u")
    with page.expect_navigation():
        page.keyboard.press("t")
    expect(page.locator("html")).to_have_attribute("data-theme", "cell")
    with page.expect_navigation():
        page.keyboard.press("t")
