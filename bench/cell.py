"""From the shut throttle to the verdict on the screen, beside a bare request; how often the trace is drawn with five screens watching.

Run: bench/cell.sh. The stand-in runs in real time; a reader of its own sees when the throttle shuts.
"""

from __future__ import annotations

import os
import re
import socket
import threading
import time
from statistics import median

from playwright.sync_api import Browser, Page, sync_playwright

from longbreath.devices.cell_line import read_cell_line
from longbreath.devices.protocol import LineError
from longbreath.devices.standin import command
from tests.made.people import PASSWORD, PEOPLE

SCREENS, PULLS = 5, 4
TIME_A_REQUEST = """async () => {
  const start = performance.now();
  await (await fetch("/static/dist/mark.svg", { cache: "no-store" })).text();
  return performance.now() - start;
}"""
COUNT_DRAWINGS = """() => {
  window.drawn = [];
  if (window.watched) return;
  window.watched = true;
  new MutationObserver((all) => {
    if (all.some((m) => m.target.id === "trace")) window.drawn.push(performance.now());
  }).observe(document.querySelector("#cell"), { subtree: true, attributes: true, attributeFilter: ["points"] });
}"""


class Shut(threading.Thread):
    """Reads the logger's line beside everybody else, and knows when the throttle was shut last [s, monotonic]."""

    def __init__(self) -> None:
        super().__init__(daemon=True)
        self.at, self._open = 0.0, False

    def run(self) -> None:
        host, _, port = os.environ["BENCH_LOGGER"].partition(":")
        with socket.create_connection((host, int(port))) as line, line.makefile("rb") as lines:
            for data in lines:
                try:
                    throttle = read_cell_line("logger", data).values.get("throttle", 0.0)
                except LineError:
                    continue
                if self._open and throttle < 0.5:
                    self.at = time.monotonic()
                self._open = throttle > 0.9


def entered(browser: Browser) -> Page:
    page = browser.new_context(base_url=os.environ["BENCH_PAGE"]).new_page()
    page.goto("/account/login")
    page.fill("#email", PEOPLE[0].email)
    page.fill("#password", PASSWORD)
    page.click("button.strong")
    page.wait_for_url("**/")
    return page


def until(page: Page, name: str, wanted: str, seconds: float = 60.0) -> None:
    """Press the key until something is next. Ends the run where it is not within so many seconds."""
    ends = time.monotonic() + seconds
    while (found := page.get_attribute("#board", name)) != wanted:
        if time.monotonic() > ends:
            said = " ".join(page.inner_text("#board").split())[:300]
            raise SystemExit(f"after {seconds:.0f} s “{name}” is {found!r}, not {wanted!r}; the cell says: {said}")
        page.keyboard.press(" ")
        time.sleep(0.6)


def main() -> None:
    shut = Shut()
    shut.start()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )
        first = entered(browser)
        first.goto("/applications/2/pull")
        number = re.search(r"sessions/(\d+)", first.content())
        assert number is not None
        here = f"/applications/2/pull/sessions/{number[1]}/cell"
        first.goto(here)
        if first.locator("text=Pull it live").count():  # else it is live since the last run
            first.click("text=Pull it live")
        pages = [first]
        for _ in range(SCREENS - 1):
            page = entered(browser)
            page.goto(here)
            pages.append(page)
        took = []
        for _ in range(PULLS):
            until(first, "data-key", "armed")
            before = first.get_attribute("#board", "data-last")
            for page in pages:
                page.evaluate(COUNT_DRAWINGS)
            asked = time.monotonic()
            command(os.environ["BENCH_DYNO"], "pull")
            while first.get_attribute("#board", "data-last") == before and time.monotonic() < asked + 40:
                time.sleep(0.01)
            took.append(time.monotonic() - shut.at)
            time.sleep(6.0)
        bare = median(first.evaluate(TIME_A_REQUEST) for _ in range(15)) / 1000
        drawn = [page.evaluate("window.drawn") for page in pages]
        rates = [(len(t) - 1) / (t[-1] - t[0]) * 1000 for t in drawn if len(t) > 10]
        verdict = median(took)
        print(f"throttle shut to verdict on the screen, {SCREENS} screens watching: {verdict:.2f} s", end="")
        print(
            f" (from {min(took):.2f} to {max(took):.2f}); a bare request {bare * 1000:.0f} ms, ratio {verdict / bare:.0f}"
        )
        print(f"wanted: under a second; {'met' if verdict < 1.0 else 'MISSED'}")
        print(f"the trace is drawn {min(rates):.0f} to {max(rates):.0f} times a second on each of {len(rates)} screens")
        print(f"wanted: near 20; {'met' if min(rates) > 15 else 'MISSED'}")
        browser.close()


if __name__ == "__main__":
    main()
