"""Geometry by hand: twelve elements by keyboard, a wall dragged, two faces laid over each other, a timing that does not add up."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.tools import application_of, choose, log_in, open_fresh_application, press, write

pytestmark = [pytest.mark.browser, pytest.mark.slow]

PATH = (
    ("air box", "air box", "190 mm", "70 mm"),
    ("tube", "inlet tube", "230 mm", "66.4 mm"),
    ("tube", "second tube", "90 mm", "60 mm"),
    ("bend", "hose", "150 mm", "66 mm"),
    ("throttle", "throttle body", "58 mm", "62 mm"),
    ("plenum", "plenum", "330 mm", "62 mm"),
    ("runner", "runner", "302 mm", "42 mm"),
    ("port", "port", "92 mm", "41 mm"),
    ("primary", "primaries", "460 mm", "38 mm"),
    ("merge", "merge", "130 mm", "60 mm"),
    ("pipe", "front pipe", "720 mm", "50 mm"),
    ("tip", "tip", "170 mm", "60 mm"),
)


def test_a_path_of_twelve_elements_by_keyboard(page: Page) -> None:
    log_in(page, "mara")
    base = open_fresh_application(page, "rev K")
    page.goto(f"{base}/measure/path")
    for number, (kind, name, length, diameter) in enumerate(PATH):
        press(page, "a[href$='path/elements/new']")
        choose(page, "#kind", kind)
        write(page, "#name", name)
        if number == 8:
            choose(page, "#side", "exhaust")
        write(page, "#length", length)
        if kind in ("runner", "port", "primary"):
            write(page, "#branches", "4")
        write(page, "#diameter", diameter)
        write(page, "#tool", "calliper")
        choose(page, "#provenance", "measured")
        if kind in ("air box", "plenum"):
            write(page, "#volume", "3 L")
        press(page, "form button.strong")
        page.wait_for_url(re.compile(r"/measure/path\?element="))
    expect(page.locator(".airline .piece")).to_have_count(12)
    page.goto(f"{base}/measure/path?side=intake")
    expect(page.locator(".long-section .block")).to_have_count(8)
    expect(page.locator("h1")).to_contain_text("Most is lost in")
    expect(page.locator(".path-table")).to_contain_text("step against the flow, 0.126 in a side")


def total(page: Page) -> str:
    return page.locator(".conditions .fig").first.inner_text()


def test_a_wall_is_dragged_and_moved_by_keys(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Parcel")
    page.goto(f"{base}/measure/path")
    before = total(page)
    grip = page.locator(".wall-grip").nth(1)
    key = grip.get_attribute("data-drag")
    place = grip.bounding_box()
    assert place is not None
    page.mouse.move(place["x"] + place["width"] / 2, place["y"] + place["height"] / 2)
    page.mouse.down()
    page.mouse.move(place["x"] + place["width"] / 2, place["y"] + place["height"] / 2 + 6, steps=4)
    with page.expect_navigation():
        page.mouse.up()
    expect(page.locator(".conditions")).to_contain_text("with the trial")
    tried = page.locator(f"#try-{key}").input_value()
    assert re.fullmatch(r"\d+\.\d mm", tried)
    assert total(page) == before  # what was measured is not touched
    grip = page.locator(f".wall-grip[data-drag='{key}']")
    grip.focus()
    page.keyboard.press("ArrowDown")
    with page.expect_navigation():
        page.keyboard.press("Enter")
    assert float(page.locator(f"#try-{key}").input_value().split()[0]) == pytest.approx(
        float(tried.split()[0]) - 0.1, abs=0.051
    )
    page.get_by_role("link", name="drop the trial").click()
    expect(page.locator(".conditions")).not_to_contain_text("with the trial")


def test_two_faces_are_laid_over_each_other(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Crest")
    page.goto(f"{base}/measure/faces")
    for name, width in (("manifold", "56 mm"), ("head", "54 mm")):
        page.locator("a[href$='faces/new']").first.click()
        page.get_by_label("Name", exact=True).fill(name)
        expect(page.locator("#diameter")).not_to_be_visible()
        page.get_by_label("Width").fill(width)
        page.get_by_label("Height").fill("34 mm")
        page.get_by_label("Corner radius").fill("8 mm")
        page.get_by_label("Least wall around it").fill("5 mm")
        page.get_by_label("Taken with").fill("calliper")
        page.get_by_label("These are").select_option("measured")
        page.get_by_role("button", name="Save").click()
    expect(page.locator("h1")).to_contain_text("Re-machine. An edge of 0.039 in")
    moving = page.locator(".overlay .moves")
    moving.focus()
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    with page.expect_navigation():
        page.keyboard.press("Enter")
    expect(page.locator("h1")).to_contain_text("An edge of 0.059 in")
    expect(page.locator(".two-one tr", has_text="left")).to_contain_text("against the flow")
    page.get_by_role("button", name="Keep this match").click()
    expect(page.locator(".flash")).to_contain_text("Kept: re-machine")


def test_a_timing_that_does_not_add_up(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Skim")
    page.goto(f"{base}/measure/timing/new?kind=disc")
    page.get_by_label("Name").fill("disc, third reading")
    page.get_by_label("Inlet opens, before top dead centre").fill("140")
    page.get_by_label("Inlet closes, after top dead centre").fill("66")
    page.get_by_label("Noted total, intake").fill("200")
    page.get_by_role("button", name="Put it on the wheel").click()
    error = page.locator("#total_intake-error")
    expect(error).to_contain_text("The parts add up to 206.0°, the noted total is 200.0°")
    expect(page.get_by_label("Inlet opens, before top dead centre")).to_have_value("140")
    page.get_by_label("Inlet opens, before top dead centre").fill("134")
    page.get_by_role("button", name="Put it on the wheel").click()
    expect(page.locator("h1")).to_have_text("disc, third reading")
    expect(page.locator(".wheel .arc")).to_have_count(1)


def test_a_face_is_traced_on_a_photo(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Gannet")
    page.goto(f"{base}/measure/faces/trace")
    photo = page.locator("#tracing svg")
    photo.locator("image").wait_for()
    box = photo.bounding_box()
    assert box is not None
    scale = box["width"] / 1000
    for x, y in ((140, 640), (860, 640), (200, 90), (752, 90), (752, 493), (200, 493)):
        page.mouse.click(box["x"] + x * scale, box["y"] + y * scale)
    expect(page.locator("#trace-says")).to_contain_text("4 points on the rim")
    page.get_by_label("Name").fill("traced")
    page.get_by_label("The two scale points are apart").fill("60 mm")
    page.get_by_role("button", name="Keep the outline").click()
    expect(page.locator("h1")).to_have_text("traced")
    page.goto(f"{base}/measure/faces")
    expect(page.locator("tr", has_text="photo, 4 points")).to_have_count(1)
