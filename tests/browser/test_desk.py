"""The bench desk as an operator uses it, without touching the mouse, on the stand-in bench."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

from longbreath.devices.standin import StandIn
from longbreath.devices.standin_bench import SimulatedBench
from tests.browser.tools import application_of, log_in, log_out

pytestmark = [pytest.mark.browser, pytest.mark.slow]

SETTLED = 60_000


@pytest.fixture
def bench(page: Page, served: str) -> Iterator[StandIn]:
    """A stand-in bench on a port of its own, written on the card of the demo's bench."""
    found = StandIn(SimulatedBench()).start()
    log_in(page, "tam")
    page.goto("/library/instruments")
    page.get_by_label("Address").fill(found.url)
    page.get_by_role("button", name="List it").click()
    choose(page, found.url)
    log_out(page)
    log_in(page, "mara")
    yield found
    found.stop()
    choose(page, "")


def choose(page: Page, address: str) -> None:
    """Choose where the demo's bench answers."""
    page.goto("/library/benches/1/change")
    page.get_by_label("Live bench").select_option(address)
    page.get_by_role("button", name="Save").click()


def open_desk(page: Page, title: str, ladder: str, label: str = "") -> None:
    """Add a part to the newest session of the Gannet and go to its desk."""
    page.goto("/")
    page.goto(application_of(page, "Gannet"))
    page.keyboard.press("1")
    page.get_by_role("link", name="11 May 2026").click()
    page.get_by_role("link", name="the session").click()
    page.get_by_role("link", name="Add a part").click()
    page.get_by_label("Name").fill(title)
    page.get_by_label("It is").select_option(label)
    page.get_by_label("Lifts planned").fill(ladder)
    page.get_by_role("button", name="Go to the desk").click()
    page.wait_for_url(re.compile("/desk$"))
    page.evaluate("document.activeElement.blur()")


def settle(page: Page) -> None:
    """Wait until the desk says that the reading is settled."""
    expect(page.locator("[data-live=finding]")).to_have_text("Settled.", timeout=SETTLED)


def rest_at(bench: StandIn, inches: float) -> None:
    """Turn the motor as an operator does: until the column rests at the test pressure on this part."""
    bench.device.motor = (inches / (bench.device.resting_column() / bench.device.motor**2)) ** 0.5


def rungs_read(page: Page) -> int:
    """How many lifts have a figure."""
    return page.locator("#board tbody td:nth-child(3) .fig").count()


def capture(page: Page, bench: StandIn, inches: float = 28.0) -> None:
    """Bring the column to rest for the lift that is up, and press the capture key."""
    page.evaluate("document.activeElement.blur()")
    page.wait_for_timeout(300)  # the stand-in's lift follows the ladder
    rest_at(bench, inches)
    page.wait_for_timeout(900)  # the water takes its time
    for _ in range(60):
        settle(page)
        page.keyboard.press("Space")
        page.wait_for_timeout(700)
        if "Captured" in page.locator("#board .said").inner_text():
            break  # else the line held its breath just then: wait, and press again
    expect(page.locator("#board .said")).to_contain_text("Captured")


def test_ten_lifts_by_keyboard_with_a_sag_a_range_change_a_pulled_plug_and_a_repeat(page: Page, bench: StandIn) -> None:
    bench.device.motor, bench.device.range_label = 0.79, "3"
    open_desk(page, "ten lifts", "1, 2, 3, 4, 5, 6, 7, 8, 9, 10 mm")
    expect(page.locator("#desk")).to_have_attribute("data-state", re.compile("."), timeout=SETTLED)
    expect(page.locator("#stand-in")).to_be_visible()
    for lift in range(1, 5):
        expect(page.locator("tr.is-now")).to_have_attribute("data-mm", f"{lift:.1f}")
        capture(page, bench)
        expect(page.locator("#board tbody td:nth-child(3) .fig")).to_have_count(lift)
    # a freer place: the column sags, a capture is refused with what to do, and taken as referred on the second key
    expect(page.locator("[data-live=finding]")).to_contain_text("The column has dropped to", timeout=SETTLED)
    page.keyboard.press("Space")
    expect(page.locator("#board .said.is-refused")).to_contain_text("Turn the motor up")
    assert rungs_read(page) == 4
    expect(page.locator("[data-live=settling]")).to_contain_text(re.compile(r"0\.\d of 1.0"), timeout=SETTLED)
    page.keyboard.press("r")
    expect(page.locator("#board tbody tr").nth(4).locator(".flag").first).to_contain_text("referred")
    # the range comes to its end: refused, the next range, captured
    rest_at(bench, 28.0)
    bench.device.range_label = "2"
    expect(page.locator("[data-live=finding]")).to_contain_text(
        re.compile("off its scale|near its end"), timeout=SETTLED
    )
    page.keyboard.press("Space")
    expect(page.locator("#board .said.is-refused")).to_contain_text("larger range")
    bench.device.range_label = "4"
    for read in (6, 7):
        capture(page, bench)
        expect(page.locator("#board tbody td:nth-child(3) .fig")).to_have_count(read)
    # the plug is pulled: shown, the next lift is typed, nothing is lost
    before = rungs_read(page)
    bench.device.unplugged_until = time.monotonic() + 6
    expect(page.locator("#desk")).to_have_attribute("data-state", "lost", timeout=SETTLED)
    expect(page.locator("#by-hand")).to_have_attribute("open", "")
    page.keyboard.press("Space")
    expect(page.locator("#board .said.is-refused")).to_contain_text("Nothing was captured")
    page.locator("#percent").focus()
    page.keyboard.type("58.0")
    page.wait_for_timeout(80)  # a hand, not a tool that types and ends with Enter at once
    page.keyboard.press("Enter")
    expect(page.locator("#board tbody td:nth-child(3) .fig")).to_have_count(before + 1)
    # it comes back by itself
    expect(page.locator("#desk")).to_have_attribute("data-state", re.compile("good|wait"), timeout=SETTLED)
    for read in (9, 10):
        capture(page, bench)
        expect(page.locator("#board tbody td:nth-child(3) .fig")).to_have_count(read)
    expect(page.locator("tr.is-now")).to_have_count(0)
    # one lift again: the mean of both is kept; and taken back
    page.keyboard.press("ArrowDown")
    bench.device.range_label = "2"
    capture(page, bench)
    expect(page.locator("#board .said")).to_contain_text("the mean of 2 is kept")
    expect(page.locator("#board tbody tr").first).to_contain_text("mean of 2")
    page.keyboard.press("z")
    expect(page.locator("#board .said")).to_contain_text("taken back")
    expect(page.locator("#board tbody tr").first).not_to_contain_text("mean of 2")
    page.reload()
    expect(page.locator("#board tbody td:nth-child(3) .fig")).to_have_count(10)


def test_a_trace_on_another_fixture_is_laid_over_with_a_warning(page: Page, bench: StandIn) -> None:
    open_desk(page, "one lift", "4 mm")
    other = page.locator("#ref option", has_text="exhaust port with stub").first.get_attribute("value")
    page.goto(page.url + f"?ref={other}")
    expect(page.get_by_role("note")).to_contain_text("Different fixtures cannot back one claim")
    expect(page.get_by_role("note")).to_contain_text("outlet")


def test_silence_and_garbage_on_the_line_are_told_and_survived(page: Page, bench: StandIn) -> None:
    bench.device.motor = 0.79
    open_desk(page, "bad line", "4 mm")
    expect(page.locator("[data-live=column]")).not_to_have_text("–", timeout=SETTLED)
    for fault, words in (("silent", "says nothing"), ("garbage", "cannot be read")):
        bench.device.line = fault
        expect(page.locator("#desk")).to_have_attribute("data-state", "lost", timeout=SETTLED)
        expect(page.locator("[data-live=advice]")).to_contain_text(words)
        bench.device.line = "well"
        expect(page.locator("[data-live=column]")).not_to_have_text("–", timeout=SETTLED)
    bench.device.fault = "blocked"
    expect(page.locator("[data-live=finding]")).to_contain_text("no flow", timeout=SETTLED)


def test_large_figures_tone_and_knobs_by_key(page: Page, bench: StandIn) -> None:
    open_desk(page, "keys", "4 mm")
    expect(page.locator("#stand-in")).to_be_visible(timeout=SETTLED)
    page.keyboard.press("b")
    expect(page.locator("body")).to_have_class(re.compile("is-stand-off"))
    size = page.locator(".huge").evaluate("e => parseFloat(getComputedStyle(e).fontSize)")
    assert size >= 110  # about 25 mm high on a 24 inch screen: readable from three metres at 1/120 (common practice)
    page.keyboard.press("b")
    page.keyboard.press("m")
    expect(page.locator("#tone")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("]")
    page.wait_for_timeout(400)
    assert bench.device.motor == pytest.approx(0.7)
    page.keyboard.press("h")
    expect(page.locator("#percent")).to_be_focused()
