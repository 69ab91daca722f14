"""A dyno day by keyboard and foot switch against the stand-ins, with faults; practice with its score; a calliper that writes."""

from __future__ import annotations

import os
import re
import threading
from collections.abc import Iterator
from dataclasses import dataclass

import pytest
from playwright.sync_api import Browser, Page, expect
from sqlalchemy import select
from werkzeug.serving import make_server

from longbreath.app import create_app
from longbreath.devices.kinds import TOOL
from longbreath.devices.standin import StandIn
from longbreath.devices.standin_tool import SimulatedTool
from longbreath.dossier import practice
from longbreath.jobs.gateway import Gateway
from longbreath.store.database import Database
from longbreath.store.models import Owed, Pull, TestCard
from longbreath.store.unit_of_work import working
from tests.conftest import PASSWORD, shop_on
from tests.databases import ready
from tests.jobs.cell_tools import Place, lay, listed

pytestmark = [pytest.mark.browser, pytest.mark.slow]

AFTER = 90_000
TYPED = """() => {
  for (const key of [..."41.27", "Enter"]) {
    document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
  }
}"""


@dataclass
class Cell:
    """A page on the cell of a session, and the place it stands for."""

    page: Page
    place: Place
    tool: SimulatedTool

    @property
    def address(self) -> str:
        """The cell's page."""
        return f"/applications/{self.place.application_id}/pull/sessions/{self.place.session_id}/cell"

    def key(self) -> str:
        """What is next."""
        return self.page.get_attribute("#board", "data-key") or ""

    def space(self, wanted: str, then: str) -> None:
        """Press the foot switch when something is next, and wait for what follows."""
        expect(self.page.locator("#board")).to_have_attribute("data-key", wanted, timeout=AFTER)
        self.page.keyboard.press(" ")
        expect(self.page.locator("#board")).to_have_attribute("data-key", then, timeout=AFTER)

    def pull(self, fault: str = "none") -> str:
        """Arm by foot, open the throttle, wait for the verdict; returns it."""
        before = self.page.get_attribute("#board", "data-last")
        self.space("arm", "armed")
        self.place.until(lambda: not self.place.simulated.pulling)
        self.place.simulated.take(f"fault {fault}")
        self.place.simulated.take("pull")
        self.page.locator(f"#board[data-last]:not([data-last='{before or ''}'])").wait_for(timeout=AFTER)
        return self.page.get_attribute("#board", "data-verdict") or ""

    def traced_by(self, key: str) -> bool:
        """Whether a pull that a key begins is drawn; pressed again where one went by while the machine was busy elsewhere."""
        if not self.place.simulated.pulling:
            self.page.keyboard.press(key)
        return len((self.page.get_attribute("#trace", "points") or "").split()) > 20

    def good(self, pulls: int) -> None:
        """Pulls that count; what is said of one that does not stands in the failure."""
        for _ in range(pulls):
            assert self.pull() == "good", self.page.inner_text(".last-verdict")


@pytest.fixture(scope="module")
def server(database_url: str) -> Iterator[tuple[str, Place, SimulatedTool]]:
    """A server with one application, a cell of stand-ins, a calliper and a gateway."""
    kept: list[Database] = []
    own = ready(database_url, f"longbreath_cell_{os.environ.get('PYTEST_XDIST_WORKER', 'alone')}")
    database = Database(own)
    place = lay(own, database, shop_on(database))
    tool = SimulatedTool()
    place.servers[TOOL] = StandIn(tool).start()
    with working(database.session) as work:
        listed(work, {TOOL: place.servers[TOOL]})
        card = work.scalars(select(TestCard)).one()
        card.limits = {"knock": "any"}
    app = create_app({"SECRET_KEY": "browser", "DATABASE_URL": own}, database)
    found = make_server("127.0.0.1", 0, app, threaded=True)
    threading.Thread(target=found.serve_forever, daemon=True).start()
    stopping = threading.Event()
    kept += [database, Database(own)]
    gateway = threading.Thread(target=Gateway(kept[1]).run, args=(stopping,))
    gateway.start()
    yield f"http://127.0.0.1:{found.server_port}", place, tool
    stopping.set()
    gateway.join()
    found.shutdown()
    place.clear()
    for one in kept:
        one.engine.dispose()


def entered(
    chromium: Browser, server: tuple[str, Place, SimulatedTool], role: str = "tester", width: int = 1280
) -> Page:
    """A page of somebody who is logged in."""
    context = chromium.new_context(base_url=server[0], viewport={"width": width, "height": 800})
    page = context.new_page()
    page.goto("/account/login")
    page.fill("#email", f"{role}@example.test")
    page.fill("#password", PASSWORD)
    page.click("button.strong")
    page.wait_for_url("**/")
    return page


@pytest.fixture
def cell(chromium: Browser, server: tuple[str, Place, SimulatedTool]) -> Iterator[Cell]:
    page = entered(chromium, server)
    yield Cell(page, server[1], server[2])
    page.context.close()


@pytest.mark.long
def test_an_a_b_a_day_by_foot_switch_with_three_faults(
    cell: Cell, chromium: Browser, server: tuple[str, Place, SimulatedTool]
) -> None:
    page, place = cell.page, cell.place
    page.goto(cell.address)
    page.get_by_role("button", name="Pull it live").click()
    page.evaluate("document.addEventListener('longbreath:verdict', (e) => { (window.heard ??= []).push(e.detail); })")
    page.evaluate("document.addEventListener('longbreath:sound', (e) => { (window.sounds ??= []).push(e.detail); })")
    phone = entered(chromium, server, "viewer", 390)
    phone.goto(cell.address)  # somebody follows the day on a phone
    cell.space("fit", "arm")
    cell.good(1)
    assert cell.pull("slip") == "out"
    expect(page.locator(".last-verdict")).to_contain_text("slip")
    expect(phone.locator(".last-verdict")).to_contain_text("slip")
    assert phone.evaluate("document.documentElement.scrollWidth <= 392")
    cell.good(2)
    page.get_by_role("button", name="B is on").wait_for()
    place.simulated.take("part B")
    cell.space("fit", "arm")
    cell.good(1)
    assert cell.pull("lean") in ("out", "stop")
    if page.get_attribute("#board", "data-verdict") == "stop":
        inspect(page)
    cell_again(cell)
    assert cell.pull("knock") == "stop"
    expect(page.get_by_role("heading", name="Stop and inspect", exact=True)).to_be_visible()
    assert page.evaluate("document.documentElement.dataset.alarmed") == "stop"
    inspect(page)
    cell_again(cell)
    cell.good(2)
    place.simulated.take("part A")
    cell.space("fit", "arm")
    for _ in range(2):
        cell.good(1)
    expect(page.locator("h1")).to_contain_text("Ready for pull")
    with place.database.session() as work:
        pulls = list(work.scalars(select(Pull).where(Pull.session_id == place.session_id).order_by(Pull.sequence)))
        assert "".join(p.label if p.is_valid else p.label.lower() for p in pulls) == "AaAABbbBBAA"
    phone.context.close()


def cell_again(cell: Cell) -> None:
    """Back in the cell after a judgement."""
    cell.page.wait_for_url(re.compile("/cell$"))
    expect(cell.page.locator("#board")).to_have_attribute("data-key", "arm", timeout=AFTER)


def inspect(page: Page) -> None:
    """Judge the pull that says stop, by keyboard alone: the link is lit already."""
    expect(page.get_by_role("link", name="Inspected: judge the pull")).to_be_focused()
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile("/judge$"))
    page.get_by_label("does not count").check()
    page.get_by_label("Reason").fill("Plugs and bores looked at.")
    page.keyboard.press("Enter")


@pytest.mark.long
def test_the_day_is_closed_with_one_pull_owed(cell: Cell) -> None:
    page = cell.page
    page.goto(cell.address)
    page.get_by_role("link", name="Close the session").first.click()
    expect(page.locator("h1")).to_contain_text("missing")
    for field in page.locator("input[name^=reason-]").all():
        field.fill("The cell closed at five.")
    page.get_by_role("button", name="Close the session").click()
    expect(page.locator("#main")).to_contain_text("1 of 6 pulls of A are missing")
    with cell.place.database.session() as work:
        owed = work.scalars(select(Owed).where(Owed.kind == "retest")).all()
        assert any("1 of 6 pulls of A are missing" in thing.what for thing in owed)
    page.goto(cell.address)
    expect(page.locator("h1")).to_contain_text("not pulled live")  # the instruments were let go


def test_large_figures_and_tones_by_key(cell: Cell) -> None:
    page, place = cell.page, cell.place
    page.goto(cell.address)
    page.get_by_role("button", name="Pull it live").click()
    expect(page.locator("[data-live=speed]")).to_contain_text("rpm", timeout=AFTER)
    size = "parseFloat(getComputedStyle(document.querySelector('h1')).fontSize)"  # in one go: the board is drawn anew all the time
    small = page.evaluate(size)
    page.keyboard.press("b")
    assert page.evaluate(size) > 2 * small
    page.keyboard.press("m")
    expect(page.locator("#tone")).to_have_attribute("aria-pressed", "true")
    place.servers["dyno"].device.line = "silent"
    expect(page.locator("#board")).to_have_attribute("data-key", "line", timeout=AFTER)
    place.servers["dyno"].device.line = "well"
    expect(page.locator("#board")).not_to_have_attribute("data-key", "line", timeout=AFTER)
    place.until(lambda: cell.traced_by("p"))
    expect(page.locator("#board")).to_contain_text("not armed", timeout=AFTER)


def test_a_practice_round_with_its_score(cell: Cell) -> None:
    page = cell.page
    page.goto("/practice")
    page.get_by_role("button", name="A pull in the cell").click()
    page.wait_for_url(re.compile(r"/practice/cell/\d+$"))
    seed = int(page.url.rsplit("/", 1)[1])
    cell.place.until(lambda: len((page.get_attribute("#trace", "points") or "").split()) > 20)
    page.get_by_label(practice.FAULTS["cell"][practice.fault_of("cell", seed)], exact=True).check()
    page.keyboard.press("Enter")
    expect(page.locator(".told")).to_contain_text("Named.")
    page.get_by_role("link", name="Your score").click()
    expect(page.locator("#main")).to_contain_text("named")


def test_a_calliper_writes_into_the_field_that_is_lit(cell: Cell) -> None:
    page, place = cell.page, cell.place
    page.goto(f"/applications/{place.application_id}/measure/path/elements/new")
    page.locator("#hand-tool-choice").select_option(index=1)
    expect(page.locator("#hand-tool-words")).to_contain_text("there", timeout=AFTER)
    fields = page.locator("main input[data-dimension=length]:visible")
    fields.first.focus()
    name = fields.first.get_attribute("name")
    cell.tool.press(57.15)
    expect(fields.first).to_have_value("57.150 mm", timeout=AFTER)
    assert page.evaluate("document.activeElement.name") != name  # the next one is lit
    lit = page.evaluate("document.activeElement.name")
    page.keyboard.type("12")
    page.evaluate(TYPED)  # a tool that types like a keyboard, its keys at once
    assert page.evaluate("document.activeElement.name") != lit
    assert page.url.endswith("/new")
    page.locator("select").first.focus()
    cell.tool.press(10.0)
    expect(page.locator("#hand-tool-words")).to_contain_text("no field is lit", timeout=AFTER)
