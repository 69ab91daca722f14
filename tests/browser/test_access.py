"""Accessibility of each main view, in both lights, by axe-core; and the drawer, the units and the understood line."""

from __future__ import annotations

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.browser.tools import application_of, log_in, log_out

pytestmark = [pytest.mark.browser, pytest.mark.slow]

STEPS = ("measure", "reckon", "plan", "pull", "weigh", "claim")
PAGES = (
    "/words/1",
    "/claims/check",
    "/reckoner/bench_flow",
    "/library",
    "/log",
    "/method",
    "/programme",
    "/applications/1/pull/sessions/1/conditions",
    "/applications/7/plan/card",
    "/applications/12/weigh/boost",
    "/applications/11/weigh/differences?session=14",
)
"""One of each kind of page: report, drop, reckoner, register, log, text, line of dates, table of questions, form, charts, ledger."""
LIT = ("/", "/components")
"""Looked at in the light of the cell as well, which changes colours alone: the home page, and the page that shows every part once."""
MORE = (
    "/claims",
    "/claims/rules",
    "/approvals",
    "/applications/1/claim/road",
    "/library/vehicles/new",
    "/library/benches/1",
    "/predictions",
    "/programme/calendar",
    "/library/dynos/1",
    "/library/health/engines/1",
    "/applications/7/pull",
    "/applications/2/plan/cards/2/day",
    "/applications/8/weigh/kits",
    "/applications/3/weigh/trials",
    "/applications/3/measure/trials/new/fuel",
    "/tour",
    "/words",
    "/words/all",
    "/claims/kinds",
    "/claims/moved",
    "/account/code",
    "/applications/1/claim",
    "/reckoner",
    "/applications/new",
    "/timings",
    "/programme?application=2",
    "/programme/owed",
    "/programme/owed/new",
    "/programme/work",
    "/library/shop/sensors",
    "/library/shop/outside/1",
    "/applications/4/pull",
    "/applications/1/pull/pulls/7",
    "/applications/1/pull/sessions/1/typed",
    "/applications/7/plan",
    "/applications/7/plan/variants",
    "/applications/7/plan/variants/new",
    "/applications/2/plan/cards/2/checklist",
    "/applications/12/weigh/several",
    "/applications/8/weigh/several/weights",
    "/applications/8/weigh/kits/edit",
    "/applications/3/weigh/stack",
    "/applications/3/weigh/table",
    "/applications/3/measure/trials",
)
BENCH = ("traces/19/desk", "path", "faces/1", "timing", "builds")
MORE_BENCH = (
    *("curves", "fit", "builds/headroom?duty=62+%25"),
    *("maps", "faces", "stacks", "parts", "maps/1", "porting", "porting/1", "sessions/1", "sessions/new"),
    *("path?side=exhaust&try-16=40+mm", "path/elements/new", "path/elements/3/readings", "faces/trace"),
    *("timing/1", "timing/new?kind=poppet", "builds/new"),
)
RECKON = ("ask/tuned", "candidates")
MORE_RECKON = (
    "predictions",
    "sections?side=exhaust",
    "bores",
    "target",
    "candidates/new",
    "predictions/torque/draw",
    "ask/quotes",
)
RULES = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]}
CONTRAST = {"runOnly": ["color-contrast"]}
LIGHT = "name => { document.documentElement.dataset.theme = name; }"


def violations(page: Page, address: str, lit: bool = False) -> list[str]:
    """What is found by all rules; and where asked for, by those of contrast in the light of the cell, which changes colours alone."""
    page.goto(address)
    if page.locator("[data-chart]").count():
        page.locator("[data-drawn]").first.wait_for()
    found = Axe().run(page, options=RULES).response["violations"]
    if lit:
        page.evaluate(LIGHT, "cell")
        found += Axe().run(page, options=CONTRAST).response["violations"]
    if any(v["id"] == "target-size" for v in found):
        # a link that lies under the strip until one scrolls is no small target: looked at again without the strip
        page.evaluate("document.querySelector('.strip')?.remove()")
        again = Axe().run(page, options={"runOnly": {"type": "rule", "values": ["target-size"]}}).response["violations"]
        found = [v for v in found if v["id"] != "target-size"] + again
    return [
        f"{address}: {v['id']} {v['nodes'][0]['html'][:120]} {v['nodes'][0]['failureSummary'][:200]}" for v in found
    ]


def deeper(page: Page, more: bool) -> list[str]:
    """Addresses in the dossier of the Gannet, and in that of the two-stroke."""
    base = application_of(page, "Gannet")
    found = [*(f"{base}/{step}" for step in STEPS), f"{base}/weigh?working=middle"]
    found += [f"{base}/measure/{at}" for at in (*BENCH, *(MORE_BENCH if more else ()))]
    found += [f"{base}/reckon/{at}" for at in (*RECKON, *(MORE_RECKON if more else ()))]
    duet = application_of(page, "Duet")
    ladder = f"{duet}/measure/timing/ladder"
    return [*found, ladder, *((f"{duet}/measure/timing", f"{ladder}/new") if more else ())]


def test_axe_finds_nothing_in_the_parts_of_which_pages_are_made(page: Page) -> None:
    """In the light of the office by all rules, in the lit cell by contrast; and one page that is full of them."""
    log_in(page, "mara")
    base = application_of(page, "Gannet")
    assert violations(page, "/components", lit=True) + violations(page, f"{base}/weigh") == []


def test_axe_finds_nothing_on_one_page_of_each_kind(page: Page) -> None:
    found = violations(page, "/account/login")
    log_in(page, "mara")
    for address in (*LIT, *PAGES, *deeper(page, more=False)):
        found += violations(page, address, lit=address in LIT)
    assert found == []


@pytest.mark.long
@pytest.mark.parametrize("light", ["paper", "cell"])
def test_axe_finds_nothing_anywhere(page: Page, light: str) -> None:
    log_in(page, "mara")
    addresses = (*LIT, *PAGES, *MORE, *deeper(page, more=True))
    if light == "cell":
        page.locator("#theme-switch").click()
    found = [one for address in addresses for one in violations(page, address)]
    if light == "cell":
        page.locator("#theme-switch").click()
    assert found == []


def test_public_sheet_passes_axe_without_log_in(page: Page) -> None:
    log_in(page, "mara")
    page.goto(f"{application_of(page, 'Gannet')}/claim")
    sheet = page.locator(".headline-row a").get_attribute("href")
    log_out(page)
    assert violations(page, str(sheet)) == []


def test_field_answers_with_what_it_understood(page: Page) -> None:
    log_in(page, "mara")
    page.goto("/library/vehicles/new")
    page.locator("#bore").fill("2-1/4 in")
    expect(page.locator(".field", has=page.locator("#bore")).locator(".understood")).to_have_text(
        "read as 2.25 in = 57.15 mm"
    )
    page.locator("#bore").fill("3 parsec")
    expect(page.locator(".field", has=page.locator("#bore")).locator(".understood")).to_contain_text(
        "not a unit of a length"
    )


def test_working_has_an_address_and_back_works(page: Page) -> None:
    log_in(page, "mara")
    base = application_of(page, "Gannet")
    page.goto(f"{base}/weigh")
    page.locator(".verdicts .fig").first.click()
    expect(page.locator("#drawer h2").first).to_have_text("Working")
    page.reload()
    expect(page.locator("#drawer h2").first).to_have_text("Working")
    page.go_back()
    expect(page.locator("#drawer h2").first).not_to_have_text("Working")


def test_nothing_overflows_on_a_tablet(page: Page) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    log_in(page, "mara")
    base = application_of(page, "Gannet")
    for address in ("/", *(f"{base}/{step}" for step in STEPS)):
        page.goto(address)
        assert page.evaluate("document.documentElement.scrollWidth") <= 820, address
