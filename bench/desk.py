"""From the capture key to the figure on the screen, in Chromium, as a ratio to a bare request on the same page.

Run: bench/desk.sh
"""

from __future__ import annotations

import os
from contextlib import suppress

from playwright.sync_api import Error, sync_playwright

from longbreath.devices.standin import command
from longbreath.devices.standin_bench import SimulatedBench
from tests.made.people import PASSWORD, PEOPLE

CAPTURES = 15
TIME_A_CAPTURE = """() => new Promise((done, refuse) => {
  const start = performance.now();
  const watch = new MutationObserver(() => {
    const board = document.querySelector("#board");
    if (!board || !(board.dataset.done || board.dataset.refused)) return;
    watch.disconnect();
    if (board.dataset.refused) refuse(new Error(board.innerText.slice(0, 200)));
    done(performance.now() - start);
  });
  setTimeout(() => refuse(new Error("no answer")), 10000);
  document.querySelector("#board").removeAttribute("data-done");
  watch.observe(document.querySelector("#desk"), { childList: true, subtree: true, attributes: true });
  document.body.dispatchEvent(new KeyboardEvent("keydown", { key: " ", bubbles: true }));
})"""
TIME_A_REQUEST = """async () => {
  const start = performance.now();
  await (await fetch("/static/dist/mark.svg", { cache: "no-store" })).text();
  return performance.now() - start;
}"""
LINE_TO_SCREEN = """() => new Promise((done) => {
  const place = document.querySelector("[data-live=column]");
  const times = [];
  const watch = new MutationObserver(() => {
    times.push(performance.now());
    if (times.length > 40) { watch.disconnect(); done((times.at(-1) - times[0]) / (times.length - 1)); }
  });
  watch.observe(place, { childList: true, characterData: true, subtree: true });
})"""


def middle(values: list[float]) -> float:
    """Median."""
    return sorted(values)[len(values) // 2]


def main() -> None:
    base, line = os.environ["BENCH_PAGE"], os.environ["BENCH_LINE"]
    model = SimulatedBench(motor=0.9, lift=5.0, part="B")
    motor = 0.9 * (28.0 / model.resting_column()) ** 0.5
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )
        page = browser.new_page(base_url=base)
        page.goto("/account/login")
        page.fill("#email", PEOPLE[0].email)
        page.fill("#password", PASSWORD)
        page.click("button.strong")
        page.wait_for_url("**/")
        desk = "/applications/1/measure/traces/19/desk?rung=0.005"
        page.goto(desk)
        page.locator("#stand-in").wait_for()
        for words in ("part B", "lift 5.0", "range 3", f"motor {motor:.4f}"):
            command(line, words)
        captures = []
        for _ in range(3 * CAPTURES):
            page.get_by_text("Settled.").wait_for()
            with suppress(Error):  # refused while the line held its breath: press again
                captures.append(page.evaluate(TIME_A_CAPTURE))
            page.goto(desk)
            if len(captures) == CAPTURES:
                break
        page.get_by_text("Settled.").wait_for()
        bare = middle([page.evaluate(TIME_A_REQUEST) for _ in range(CAPTURES)])
        took, pace = middle(captures), page.evaluate(LINE_TO_SCREEN)
        browser.close()
    print(f"capture key to figure on the screen: {took:.0f} ms; bare request {bare:.1f} ms, ratio {took / bare:.0f}")
    print(f"live column drawn anew every {pace:.0f} ms")


if __name__ == "__main__":
    main()
