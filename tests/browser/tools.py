"""What the browser tests share: logging in, opening an application, the sample files."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import FilePayload, Page, expect

from longbreath.demo.anew import another
from tests.made.people import PASSWORD

ROLLERS = "Roller dyno, cell 1, at the wheel"
"""The demo's dyno whose scatter from set to set is known."""
_FILES = Path(__file__).parents[2] / "demo" / "files"


def samples(seed: int) -> list[FilePayload]:
    """The sample files of the Petrel's day, pulled anew: each test brings pulls of its own."""
    paths = enumerate(sorted(_FILES.glob("petrel-*.csv")), start=100 * seed)
    made = ((path.name, another(path.name, path.read_bytes(), number)) for number, path in paths)
    return [{"name": name, "mimeType": "text/csv", "buffer": data} for name, data in made]


def log_in(page: Page, who: str) -> None:
    """Log in as one of the demo's people by first name."""
    page.goto("/account/login")
    page.fill("#email", f"{who}@windlass.example.test")
    page.fill("#password", PASSWORD)
    page.click("button.strong")
    page.wait_for_url("**/")


def log_out(page: Page) -> None:
    """Log out."""
    page.get_by_role("button", name="log out").click()
    page.wait_for_url("**/account/login")


def application_of(page: Page, product: str) -> str:
    """Address of the demo's application of a product."""
    link = page.locator("table.coverage tr", has_text=product).locator("th a").first
    return str(link.get_attribute("href"))


def open_fresh_application(page: Page, revision: str) -> str:
    """Add a revision of the Petrel and open its application on the Heron; its address."""
    page.goto("/library")
    page.locator("tr", has_text="Petrel 66").get_by_role("link", name="add a revision").click()
    page.get_by_label("Revision", exact=True).fill(revision)
    page.fill("#state", "machined")
    page.get_by_role("button", name="Save").click()
    page.goto("/applications/new")
    page.get_by_label("Product and revision").select_option(label=f"Petrel 66 mm throttle body {revision}")
    page.get_by_label("Vehicle", exact=True).select_option(label="Brackwater Heron 2.0")
    page.get_by_label("Stock part").select_option(label="Heron stock throttle body")
    page.get_by_role("button", name="Open the application").click()
    page.wait_for_url(re.compile("/measure$"))
    return page.url.removesuffix("/measure")


def write_builds(page: Page, base: str) -> None:
    """Build sheets of A and of B that differ in nothing but the part; the second begins with the lines of the first."""
    for title in ("shop Heron, stock", "shop Heron, product"):
        page.goto(f"{base}/measure/builds/new")
        page.fill("#title", title)
        if title.endswith("stock"):
            page.fill("#line_vehicle", "shop Heron, mark 41")
            page.fill("#line_fuel", "98, one delivery")
            page.fill("#line_part_state", "as delivered")
            page.fill("#line_machining", "none")
            page.fill("#line_coating", "none")
        else:
            page.fill("#line_part_state", "machined")
            page.fill("#line_serial", "TB-0007")
        page.get_by_role("button", name="Keep").click()
        page.wait_for_url(re.compile("/builds$"))


def say_besides(page: Page, base: str) -> None:
    """State that there is no approval, and what a sheet says of the part besides; back to the claims."""
    page.goto(f"{base}/claim/road")
    page.get_by_label("Emission devices").select_option("keeps")
    page.get_by_label("Road use").select_option("closed_course")
    page.get_by_role("button", name="Save the status").click()
    expect(page.locator("h1")).to_contain_text("Closed course only")
    for name in ("sold", "rules", "idle", "noise", "life", "relation"):
        page.fill(f"#{name}", "all that are machined" if name == "sold" else "not recorded")
    page.get_by_role("button", name="Keep these").click()
    expect(page.locator("#relation")).to_have_value("not recorded")
    page.goto(f"{base}/claim")


def approve(page: Page) -> None:
    """Read what the bundle lets out, and approve."""
    page.locator(".discloses summary").click()
    page.get_by_label("I have read what the bundle lets out").check()
    page.get_by_role("button", name="Approve and publish").click()


def take_in(page: Page, base: str, files: list[str] | list[FilePayload]) -> None:
    """Open a dyno session and take files in, up to the mapping."""
    page.goto(f"{base}/pull/sessions/new")
    for field, text in {"temperature": "68 F", "pressure": "1011 hPa", "humidity": "50"}.items():
        page.fill(f"#{field}", text)
    page.get_by_role("button", name="Open").click()
    page.set_input_files("#files", files)
    page.get_by_role("button", name="Take them in").click()


def reach(page: Page, selector: str) -> None:
    """Press Tab until the focus is on what the selector names."""
    page.locator(selector).first.wait_for(state="attached")
    for _ in range(160):
        if page.evaluate("s => document.activeElement?.matches(s) ?? false", selector):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"the keyboard never reached {selector}")


def write(page: Page, selector: str, text: str) -> None:
    """Go to a field and type over what stands in it."""
    reach(page, selector)
    page.keyboard.press("Control+A")
    page.keyboard.type(text)


def choose(page: Page, selector: str, text: str) -> None:
    """Go to a select and type the beginning of the option."""
    reach(page, selector)
    page.keyboard.type(text)


def press(page: Page, selector: str) -> None:
    """Go to a button or link and press Enter; wait for the page that follows."""
    reach(page, selector)
    with page.expect_navigation():
        page.keyboard.press("Enter")
