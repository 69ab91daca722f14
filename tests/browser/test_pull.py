"""A day of files from three sources with a wrong unit found afterwards, a typed pull, a stop; a factorial with a misread figure."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from longbreath.devices.made_engine import pull
from tests.browser.test_claim import write_card
from tests.browser.tools import log_in, open_fresh_application, take_in
from tests.core.compare.made import BREATHING
from tests.made.habits import FULL, LOGGER, METRIC, US, as_measured, as_text

pytestmark = [pytest.mark.browser, pytest.mark.slow]


def ten_files(folder: Path) -> list[str]:
    """Nine pulls of A-B-A from a cell, a meter whose torque is named wrong and a plain dyno; and a logger beside one of them."""
    files = {}
    wrong = (METRIC[0], replace(METRIC[1], unit="lb-ft"), METRIC[3])
    dyno = tuple(c for c in FULL if c.channel in ("time", "rpm", "torque", "power"))
    for n in range(1, 10):
        faults = ("knock",) if n == 9 else ()
        made = pull(BREATHING, 300 + n, None, *faults)
        if n <= 3:
            files[f"{n:02}-stock.mf4"] = as_measured([(made, FULL[1:], 1)])
        elif n <= 6:
            files[f"{n:02}-petrel.csv"] = as_text(made, wrong, delimiter=";", decimal=",")
        elif n < 9:
            files[f"{n:02}-stock.csv"] = as_text(made, dyno)
        else:
            files[f"{n:02}-stock.mf4"] = as_measured([(made, FULL[1:], 1)])
    beside = pull(BREATHING, 307)
    files["vehicle.tsv"] = as_text({**beside, "time": beside["time"] + 3.0}, LOGGER, delimiter="\t")
    for name, data in files.items():
        (folder / name).write_bytes(data)
    return [str(folder / name) for name in files]


def test_a_day_from_three_sources_with_a_wrong_unit_found_afterwards(page: Page, tmp_path: Path) -> None:
    log_in(page, "mara")
    base = open_fresh_application(page, "rev logs")
    write_card(page, base)
    take_in(page, base, ten_files(tmp_path))
    page.wait_for_url(re.compile("/mapping$"))
    expect(page.locator(".source-block")).to_have_count(4)
    page.get_by_label(re.compile("Second file of 07-stock.csv")).select_option(index=1)
    page.get_by_role("button", name="Try this mapping").click()
    expect(page.locator("main")).to_contain_text("the second clock is -3.000 s behind")
    expect(page.locator("svg.logview").first).to_be_visible()
    page.get_by_role("button", name="Record the pulls").click()
    stop = page.locator("[role=alertdialog]")
    expect(stop).to_be_visible()
    assert page.evaluate("document.documentElement.dataset.alarmed") == "stop"
    expect(stop).to_contain_text("Knock")
    box = stop.bounding_box()
    assert box is not None
    assert (box["width"], box["height"]) == (1280, 800)
    page.get_by_role("button", name="Read on").click()
    expect(stop).to_be_hidden()
    expect(page.locator("table.pulls tbody tr")).to_have_count(9)
    here = page.url
    page.get_by_role("link", name="correct how pulls 4, 5, 6 are read").click()
    page.get_by_label("Unit of Torque").select_option("lb-ft")
    page.get_by_label("Why").fill("the meter was set to lb-ft")
    page.get_by_role("button", name="Read them anew").click()
    expect(page.locator("table.mapping .error")).to_contain_text("The header says N·m, and lb-ft is chosen")
    page.get_by_label("why the header is wrong").fill("its export was never set to Nm")
    page.get_by_role("button", name="Read them anew").click()
    expect(page.locator(".flash.is-done")).to_contain_text("3 pulls read anew")
    row = page.locator("table.pulls tbody tr").nth(3)
    expect(row).to_contain_text("read 2 times: the meter was set to lb-ft")
    row.locator("td a").first.click()
    expect(page.locator("svg.logview")).to_be_visible()
    expect(page.locator("main")).to_contain_text("reading 2")
    page.goto(here)
    page.get_by_role("link", name="type one from a sheet").click()
    page.get_by_label("Where it stands").fill("printout on the wall")
    page.get_by_label("Speed, torque, power").fill("4500 rpm  150 lb-ft  128.5 hp\n6000 rpm  140 lb-ft  190 hp")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator("main")).to_contain_text("torque × speed is")
    page.goto(here)
    expect(page.locator("main")).to_contain_text("Typed, never evidence")


def test_a_logger_beside_the_dyno_is_laid_on_it(page: Page, tmp_path: Path) -> None:
    log_in(page, "mara")
    base = open_fresh_application(page, "rev clocks")
    write_card(page, base)
    made = pull(BREATHING, 5)
    dyno = tuple(c for c in FULL if c.channel in ("time", "rpm", "torque", "power"))
    (tmp_path / "dyno-1.csv").write_bytes(as_text(made, dyno))
    (tmp_path / "logger.tsv").write_bytes(as_text({**made, "time": made["time"] + 3.0}, LOGGER, delimiter="\t"))
    take_in(page, base, [str(tmp_path / "dyno-1.csv"), str(tmp_path / "logger.tsv")])
    expect(page.locator("main")).to_contain_text("the second clock is -3.000 s behind")
    page.get_by_role("button", name="Record the pulls").click()
    page.locator("table.pulls td a").first.click()
    page.get_by_role("link", name="Coolant temperature").click()
    expect(page.locator(".channel-nav [aria-current]")).to_have_text("Coolant temperature")


def test_a_misread_figure_in_a_factorial_is_caught_by_its_neighbours(page: Page, tmp_path: Path) -> None:
    log_in(page, "mara")
    base = open_fresh_application(page, "rev misread")
    page.goto(f"{base}/plan/card")
    page.select_option("#design", "factorial")
    page.locator("main details > summary").first.click()
    page.fill("#factor_1", "Throttle bore")
    page.fill("#levels_1", "Heron stock throttle body\nPetrel 66 mm throttle body rev misread")
    page.fill("#factor_2", "Filter")
    page.fill("#levels_2", "paper\nfoam\nnone")
    page.fill("#pulls_per_set", "2")
    page.fill("#effect_wanted", "4 lb-ft")
    page.fill("#held", "4th gear")
    page.fill("#also_changed", "nothing")
    page.get_by_role("button", name="Save the card").click()
    order = [text.strip() for text in page.locator(".tokens li").all_inner_texts()]
    letters = [t[0] for t in order for _ in range(int(re.sub(r"\D", "", t) or 1))]
    files = []
    for place, letter in enumerate(letters, start=1):
        made = pull(BREATHING, 500 + place)
        made["torque"] = made["torque"] + "ABCDEF".index(letter)
        torque = replace(US[1], unit="", shown="lb-ft") if place == len(letters) else US[1]  # N·m under lb-ft
        path = tmp_path / f"{place:02}.csv"
        path.write_bytes(as_text(made, (US[0], torque, US[3])))
        files.append(str(path))
    take_in(page, base, files)
    page.wait_for_url(re.compile("/mapping$"))
    scale = page.locator("input[name$=-mixture-scale]").first
    if not scale.input_value():
        scale.fill("14.7")
    page.get_by_role("button", name="Record the pulls").click()
    last = page.locator("table.pulls tbody tr").last
    expect(last).to_contain_text("where its neighbours let expect")
    expect(last).to_contain_text("was a figure misread?")
