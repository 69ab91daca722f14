"""Claims in the browser: a package with its reasons, a null result, and an approval of what has changed meanwhile."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import FilePayload, Page, expect

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
from tests.made import standin

pytestmark = [pytest.mark.browser, pytest.mark.slow]


def pull_all(page: Page, base: str, files: list[str] | list[FilePayload]) -> None:
    take_in(page, base, files)
    page.get_by_role("button", name="Record the pulls").click()
    expect(page.locator("h1")).to_have_text("The card is fulfilled.")


def draft(page: Page, base: str) -> None:
    page.goto(f"{base}/weigh")
    page.get_by_role("button", name="Draft a claim from this").click()
    expect(page.locator("h1")).to_have_text("A draft: torque and power")


def failed_gates(page: Page) -> list[str]:
    return page.locator(".gates .is-failed b").all_inner_texts()


def write_card(page: Page, base: str) -> None:
    page.goto(f"{base}/plan/card")
    page.locator("#dyno_id").select_option(label=ROLLERS)
    page.fill("#held", "4th gear")
    page.fill("#also_changed", "nothing")
    page.fill("#effect_wanted", "2 lb-ft")
    page.get_by_role("button", name="Save the card").click()
    expect(page.locator(".tokens li")).to_have_text(["A3", "B3", "A3"])


def submit_and_read_as_joss(page: Page, base: str) -> None:
    page.get_by_role("button", name="Submit for approval").click()
    expect(page.locator("#drawer")).to_contain_text("A second person")
    log_out(page)
    log_in(page, "joss")
    page.goto(f"{base}/claim")


def test_the_half_way_application_goes_out_only_as_a_package_with_its_reasons(page: Page) -> None:
    log_in(page, "mara")
    base = "/applications/2"  # the demo's half-way one; others of the Petrel are opened by other tests
    page.goto(f"{base}/plan")
    expect(page.locator(".card-sheet")).to_contain_text("Bonnet, fan, air feed: A open, fan on, B shut, fan on")
    pull_all(page, base, samples(4))
    page.goto(f"{base}/weigh")
    expect(page.locator(".differing")).to_contain_text("coil of cylinder 3 fading")
    draft(page, base)
    say_besides(page, base)
    assert failed_gates(page) == ["what else differed has a reason"]
    expect(page.locator(".gates .is-failed")).to_contain_text("Engine health; Fuel and batch; Bonnet, fan, air feed")
    expect(page.get_by_role("button", name="Submit for approval")).to_have_count(0)
    page.get_by_role("link", name="Write the reasons").click()
    page.fill("#reason_health", "the coil faded unnoticed; it gained power")
    page.fill("#reason_fuel", "the tank was filled in between")
    page.get_by_role("button", name="Keep the ledger").click()
    expect(page.locator("#reason_health-error")).to_contain_text("“gained”")
    expect(page.locator("#reason_fuel")).to_have_value("the tank was filled in between")
    page.fill("#reason_health", "the coil faded unnoticed and was renewed afterwards")
    page.fill("#reason_bonnet", "found shut afterwards")
    page.get_by_role("button", name="Keep the ledger").click()
    expect(page.locator("#reason_bonnet-error")).to_have_count(0)
    page.goto(f"{base}/claim")
    expect(page.locator(".gates")).to_be_visible()
    expect(page.locator(".gates .is-failed")).to_have_count(0)
    expect(page.locator(".statement-text")).to_contain_text("the package around the Petrel 66 mm throttle body")
    page.get_by_label("Description of the part").fill("Machined from billet. Outflows everything.")
    page.get_by_role("button", name="Keep this").click()
    expect(page.locator("#description-error")).to_contain_text("“Outflows”")
    page.get_by_label("Description of the part").fill("Machined from billet, with a stainless shaft.")
    page.get_by_role("button", name="Keep this").click()
    expect(page.locator("#description-error")).to_have_count(0)
    submit_and_read_as_joss(page, base)
    page.get_by_role("link", name="the sheet as it will be published").last.click()
    expect(page.locator(".withdrawn")).to_contain_text("Preview")
    page.go_back()
    approve(page)
    address = page.locator(".address a").get_attribute("href")
    page.goto(str(address))
    expect(page.locator(".verdict-line")).to_contain_text("The result of a package.")
    expect(page.locator(".description")).to_contain_text("not a measured statement")
    expect(page.locator("main")).to_contain_text("found shut afterwards")
    expect(page.locator("main")).not_to_contain_text("bonnet shut, fan on")


@pytest.mark.long
def test_a_null_result_is_published(page: Page, tmp_path: Path) -> None:
    files = []
    for place, label in enumerate("AAABBBAAA", start=1):
        path = tmp_path / f"{place:02}-{'stock' if label == 'A' else 'petrel'}.csv"
        path.write_bytes(standin.as_us_csv(standin.pull(700 + place, None, place), f"pull {place}"))
        files.append(str(path))
    log_in(page, "mara")
    base = open_fresh_application(page, "rev null")
    write_card(page, base)
    write_builds(page, base)
    pull_all(page, base, files)
    draft(page, base)
    expect(page.locator(".statement-text")).not_to_contain_text("gained")
    expect(page.locator(".statement-text")).to_contain_text(re.compile("no meaningful difference|no proven difference"))
    say_besides(page, base)
    submit_and_read_as_joss(page, base)
    approve(page)
    expect(page.locator("h1")).to_have_text("Published: torque and power")


@pytest.mark.long
def test_a_claim_that_was_returned_and_changed_is_not_approved_on_the_old_page(page: Page) -> None:
    log_in(page, "mara")
    base = open_fresh_application(page, "rev returned")
    write_card(page, base)
    write_builds(page, base)
    pull_all(page, base, samples(5))
    draft(page, base)
    first = page.locator("input[name=fact]").first.get_attribute("value")
    page.locator(f"#down-{first}").click()
    expect(page.locator(".compose .flag")).to_have_text("not kept yet")
    expect(page.locator("#drawer")).to_contain_text("not kept yet")
    expect(page.locator("input[name=fact]").nth(1)).to_have_value(str(first))
    page.locator(f"#short-{first}").check()
    page.get_by_role("button", name="Keep this").click()
    expect(page.locator(".compose .flag")).to_have_count(0)
    say_besides(page, base)
    submit_and_read_as_joss(page, base)
    old = page.context.new_page()
    old.goto(f"{base}/claim")
    page.get_by_role("button", name="Give it back").click()
    log_out(page)
    log_in(page, "mara")
    page.goto(f"{base}/claim")
    page.locator(f"#up-{first}").click()
    expect(page.locator("input[name=fact]").first).to_have_value(str(first))
    page.get_by_role("button", name="Keep this").click()
    submit_and_read_as_joss(page, base)
    token = old.locator("input[name=csrf_token]").first.get_attribute("value")
    for one in old.locator("input[name=csrf_token]").all():
        one.evaluate(
            "(field, value) => field.value = value", page.locator("input[name=csrf_token]").first.get_attribute("value")
        )
    assert token
    approve(old)
    expect(old.locator("[role=alert]").first).to_contain_text("Somebody else saved this page")
    expect(old.locator("h1")).to_have_text("Waiting for a second person: torque and power")
    page.reload()
    approve(page)
    expect(page.locator("h1")).to_have_text("Published: torque and power")
