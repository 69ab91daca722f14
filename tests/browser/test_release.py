"""From a brochure to proof: selling text resolved, claims published, evidence withdrawn, the sheet turned, the bundle checked."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.tools import application_of, log_in, log_out

pytestmark = [pytest.mark.browser, pytest.mark.slow]
BROCHURE = """Gannet long-runner manifold for the Heron 2.0
Gains 2 lb-ft between 3000 and 5200 rpm.
Up to 12 hp more at the peak!
More power everywhere, with no drawback.
Street legal.
"""


@pytest.mark.usefixtures("working")
def test_a_brochure_is_resolved_claims_go_out_and_turn_and_a_stranger_checks_the_bundle(
    page: Page, chromium: Browser, served: str, tmp_path: Path
) -> None:
    log_in(page, "mara")
    page.get_by_role("link", name="Words").click()
    page.fill("#title", "Autumn brochure")
    page.fill("#text", BROCHURE)
    page.get_by_role("button", name="Lay it beside the evidence").click()
    said = page.locator(".sentence")
    expect(said).to_have_count(5)
    expect(said.nth(1)).to_contain_text("supported")
    for place in (2, 3, 4):
        expect(said.nth(place)).to_contain_text("contradicted")
    expect(said.nth(2)).to_contain_text("What may be said")

    page.goto("/")
    base = application_of(page, "Bittern downpipe 80")
    page.goto(f"{base}/claim")
    expect(page.locator("h1")).to_have_text("Waiting for a second person: torque and power")
    page.select_option("#on", index=page.locator("#on option").all_inner_texts().index(_noise(page)))
    page.get_by_role("button", name="Draft a claim").click()
    expect(page.locator("h1")).to_have_text("A draft: noise")
    expect(page.locator(".statement-text")).to_contain_text("dB louder")
    page.get_by_role("button", name="Submit for approval").click()
    expect(page.locator("h1")).to_have_text("Waiting for a second person: noise")
    log_out(page)

    log_in(page, "joss")
    sheets = []
    for title in ("Noise", "Torque and power"):
        page.goto(f"{base}/claim")
        page.locator(".tabs a", has_text=title).first.click()
        page.locator(".discloses summary").click()
        page.get_by_label("I have read what the bundle lets out").check()
        page.get_by_role("button", name="Approve and publish").click()
        expect(page.locator("h1")).to_have_text(f"Published: {title.lower()}")
        sheets.append(str(page.locator(".address a").get_attribute("href")))

    stranger = chromium.new_context(base_url=served, accept_downloads=True)
    other = stranger.new_page()
    other.goto(sheets[1])
    expect(other.locator(".statement-text")).to_contain_text("Compared at equal boost")
    expect(other.locator("main")).to_contain_text("dB louder")
    for _ in range(60):
        if other.get_by_role("link", name="Evidence bundle").count():
            break
        other.wait_for_timeout(1000)
        other.reload()
    with other.expect_download() as waiting:
        other.get_by_role("link", name="Evidence bundle").click()
    bundle = tmp_path / "bundle.zip"
    waiting.value.save_as(bundle)
    other.get_by_role("link", name="Check a bundle").click()
    other.set_input_files("#bundle", bundle)
    other.get_by_role("button", name="Check it").click()
    expect(other.locator("h1")).to_have_text("Everything agrees.")
    expect(other.locator(".gates")).to_contain_text("Word for word.")
    key = other.request.get("/claims/keys.json").json()["keys"][0]["public_key"]
    done = subprocess.run(
        [sys.executable, "-m", "longbreath.cli.main", "verify", str(bundle), "--key", key],
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stdout

    log_out(page)
    log_in(page, "mara")
    _judge_a_pull(page, base, "take out", "slip heard")
    other.goto(sheets[1])
    expect(other.locator(".is-stale")).to_contain_text("a pull was taken out")
    expect(other.locator(".is-stale")).to_contain_text("withdrawn by itself")
    log_out(page)
    log_in(page, "joss")
    page.goto(f"{base}/claim")
    page.locator(".tabs a", has_text="Torque and power").first.click()
    page.get_by_role("link", name="Withdraw the claim").click()
    page.fill("#reason", "a pull slipped")
    page.get_by_role("button", name="Withdraw it").click()
    other.reload()
    expect(other.locator(".withdrawn").first).to_contain_text("a pull slipped")
    assert other.context.cookies() == []
    stranger.close()
    log_out(page)
    log_in(page, "mara")
    _judge_a_pull(page, base, "let count", "it was the wind")  # as it was found: others look at this day


def _noise(page: Page) -> str:
    return next(text for text in page.locator("#on option").all_inner_texts() if text.strip().startswith("Noise"))


def _judge_a_pull(page: Page, base: str, how: str, reason: str) -> None:
    page.goto(f"{base}/pull")
    page.get_by_role("link", name=how).first.click()
    page.fill("#reason", reason)
    page.get_by_role("button", name="Save the judgement").click()
    expect(page.locator("main")).to_contain_text(reason)


def test_the_map_is_walked_by_the_keyboard_and_the_tour_by_its_bar(page: Page) -> None:
    log_in(page, "ines")
    first = page.locator(".map a.spot").first
    first.focus()
    page.keyboard.press("ArrowDown")
    assert page.evaluate("document.activeElement.className").startswith("spot")
    assert page.evaluate("document.documentElement.scrollWidth <= window.innerWidth")
    page.get_by_role("link", name="Three-minute tour").click()
    page.get_by_role("button", name="Begin").click()
    expect(page.locator(".tour-bar")).to_contain_text("1 of 8: The bench.")
    page.get_by_role("button", name="Next").click()
    expect(page.locator(".tour-bar")).to_contain_text("2 of 8: The path.")
    page.get_by_role("button", name="Leave it here").click()
    expect(page.locator(".tour-bar")).to_have_count(0)
    page.goto("/tour")
    page.get_by_role("button", name="Take it up at stop 2").click()
    expect(page.locator(".tour-bar")).to_contain_text("2 of 8")
    page.get_by_role("button", name="Leave it here").click()
