"""The whole job as a user does it, with the mouse: from an empty application to a public sheet and its withdrawal."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.tools import (
    ROLLERS,
    approve,
    log_in,
    log_out,
    open_fresh_application,
    samples,
    say_besides,
    take_in,
    write_builds,
)

pytestmark = [pytest.mark.browser, pytest.mark.slow]

STOCK = ((1, 11.0), (2, 21.2), (4, 39.1), (6, 51.0), (8, 56.8), (10, 59.2))
"""Lift in mm and percentage of the largest range."""
SHARES = {"A": 1.0, "B": 1.02}


def add_element(page: Page, base: str, kind: str, name: str, length: str, **fields: str) -> None:
    page.goto(f"{base}/measure/path/elements/new")
    page.select_option("#kind", kind)
    page.fill("#name", name)
    page.select_option("#belongs_to", fields.pop("of", "both"))
    page.fill("#length", length)
    if "width" in fields:
        page.get_by_label("rounded rectangle").check()
    for field, text in fields.items():
        page.fill(f"#{field}", text)
    page.fill("#tool", "calliper")
    page.select_option("#provenance", "measured")
    page.get_by_role("button", name="Save").click()
    expect(page.locator("main table").get_by_text(name).first).to_be_visible()


def measure(page: Page, base: str) -> None:
    page.goto(f"{base}/measure")
    page.get_by_role("link", name="Set up the bench").click()
    for field, text in {
        "test_pressure": "28 inH2O",
        "temperature": "19C",
        "pressure": "1010 hPa",
        "humidity": "45 %",
        "port": "cylinder 1",
        "mouth": "radius plate",
        "leak_percent": "2.1",
        "leak_pressure": "28",
    }.items():
        page.fill(f"#{field}", text)
    page.get_by_role("button", name="Go to the desk").click()
    for trace, share in SHARES.items():
        if trace == "B":
            page.get_by_role("link", name="Go over to B").click()
            page.wait_for_url(re.compile("/desk$"))
        for lift, percent in STOCK:
            page.fill("#lift", f"{lift} mm")
            page.locator("#range_id").select_option(index=3)
            page.fill("#percent", f"{percent * share:.1f}")
            page.get_by_role("button", name="Capture").click()
            expect(page.locator(f"tr[data-mm='{float(lift)}'] .fig").first).to_be_visible()
    add_element(page, base, "plenum", "plenum", "350 mm", diameter="70 mm", volume="5.1 L")
    add_element(
        page, base, "runner", "stock runner", "11 in", width="1.9 in", height="1.45 in", corner_radius="8 mm", of="A"
    )
    add_element(
        page, base, "runner", "Petrel runner", "9-1/4 in", width="2 in", height="1.5 in", corner_radius="8 mm", of="B"
    )
    page.goto(f"{base}/measure")
    expect(page.locator(".airline svg polygon")).to_have_count(2)
    for label in ("A", "B"):
        form = page.locator("form.inline-form", has_text=f"{label} is ")
        form.locator("select").select_option(index=2)
        form.get_by_role("button").click()
    expect(page.locator("table.ladder tbody tr")).to_have_count(len(STOCK))
    page.locator("table.ladder .fig").first.click()
    expect(page.locator("#drawer")).to_contain_text("full-scale flow of the range")
    expect(page).to_have_url(re.compile("working=flow-A-0"))


def reckon_and_plan(page: Page, base: str) -> None:
    page.goto(f"{base}/reckon")
    expect(page.locator(".question", has_text="How long should the runner be?")).to_contain_text("rests on")
    page.get_by_role("link", name="Predict what the test will find").click()
    page.get_by_role("link", name="torque", exact=True).click()
    for band, said in enumerate((("-3", "-1", "1"), ("-1", "0", "1.5"), ("1", "3", "6"))):
        for part, text in zip(("low", "middle", "high"), said, strict=True):
            page.fill(f"#band{band}_{part}", text)
    page.get_by_label("What does it rest on, and why?").fill("Less below 3,000 rpm: the runner is shorter and larger.")
    page.get_by_role("button", name="Keep this prediction").click()
    expect(page.locator(".flash.is-done")).to_contain_text("The first pull of its card will seal it")
    expect(page.locator(".prediction")).to_contain_text("say it anew")
    page.goto(f"{base}/plan")
    page.get_by_role("link", name="Write the test card").click()
    page.locator("#dyno_id").select_option(label=ROLLERS)
    page.fill("#held", "4th gear, bonnet shut, same fuel")
    page.fill("#also_changed", "nothing")
    page.fill("#effect_wanted", "2 lb-ft")
    page.get_by_role("button", name="Save the card").click()
    expect(page.locator(".tokens li")).to_have_text(["A3", "B3", "A3"])
    slider = page.get_by_label("Pulls in each set")
    slider.fill("5")
    slider.dispatch_event("change")
    expect(page.locator(".provable .statement")).to_contain_text("15")


def pull(page: Page, base: str) -> None:
    take_in(page, base, samples(1))
    expect(page.locator(".source-block")).to_have_count(2)
    expect(page.locator("body")).to_contain_text("decimal comma")
    expect(page.locator(".flag", has_text="will not count")).to_have_count(1)
    page.get_by_role("button", name="Record the pulls").click()
    expect(page.locator("h1")).to_have_text("The card is fulfilled.")
    expect(page.locator(".tokens .is-out")).to_have_count(1)
    expect(page.locator("[data-drawn]")).to_be_visible()


def weigh_and_claim(page: Page, base: str) -> str:
    page.goto(f"{base}/weigh")
    expect(page.locator("h1")).to_contain_text("more at the top")
    expect(page.locator("[data-drawn] svg")).to_be_visible()
    page.get_by_label("From", exact=True).fill("6000 rpm")
    page.get_by_label("to", exact=True).fill("6800 rpm")
    page.get_by_role("button", name="Ask").click()
    expect(page.locator(".verdicts.peaks")).to_contain_text("Gain")
    page.get_by_role("link", name="Said and found, band by band").click()
    expect(page.locator(".prediction")).to_contain_text("sealed")
    expect(page.locator(".prediction tr", has_text="top").locator(".mark")).to_have_text("hit")
    page.go_back()
    page.get_by_role("button", name="Draft a claim from this").click()
    expect(page.locator(".statement-text")).to_contain_text("stated at the wheel")
    expect(page.locator(".gates .is-failed")).to_have_count(3)
    expect(page.get_by_role("button", name="Submit for approval")).to_have_count(0)
    say_besides(page, base)
    expect(page.locator(".gates .is-met")).to_have_count(26)
    expect(page.locator(".gates .is-failed")).to_have_count(0)
    page.get_by_role("button", name="Submit for approval").click()
    expect(page.locator("#drawer")).to_contain_text("A second person")
    return f"{base}/claim"


def test_whole_job_by_mouse(page: Page) -> None:
    log_in(page, "mara")
    base = open_fresh_application(page, "rev mouse")
    measure(page, base)
    write_builds(page, base)
    reckon_and_plan(page, base)
    pull(page, base)
    claim = weigh_and_claim(page, base)
    log_out(page)
    log_in(page, "joss")
    page.goto(claim)
    approve(page)
    address = page.locator(".address a").get_attribute("href")
    log_out(page)
    page.goto(address)
    expect(page.locator(".closed-course")).to_contain_text("Closed course only")
    expect(page.locator(".sheet-chart svg")).to_be_visible()
    page.locator("details.working summary").first.click()
    expect(page.locator("details.working[open]")).to_contain_text("Least squares")
    log_in(page, "joss")
    page.goto(claim)
    page.get_by_role("link", name="Withdraw the claim").click()
    page.get_by_label("Reason").fill("the rollers were found out of calibration")
    page.get_by_role("button", name="Withdraw it").click()
    page.goto(address)
    expect(page.locator(".withdrawn")).to_contain_text("out of calibration")
