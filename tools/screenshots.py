"""Takes the pictures in docs/screenshots again, from the demo data: ``make screenshots``."""

from __future__ import annotations

import re

from playwright.sync_api import Page, sync_playwright
from tests.browser.serving import launch, serving, throwaway_cluster
from tests.conftest import PROJECT

from true_margin.app.access import Access
from true_margin.desk.access import people, sign_in
from true_margin.desk.access.rights import LOCAL
from true_margin.desk.bench import lanes
from true_margin.desk.book.shelf import RATES
from true_margin.desk.publish import editions
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.launch.upkeep import load_demo
from true_margin.standins.rates import SIMULATED
from true_margin.store.database import Database

SLUG = "which-machine-for-the-festival-season"
FOLDER = PROJECT / "docs" / "screenshots"
LINK = "LINK"
"""Stands for the secret link of the edition that is published for the picture."""
GUESTS = (
    ("Marit", "owner", None),
    ("Ines", "editor", None),
    ("Jo", "editor", SLUG),
    ("Bela", "reader", SLUG),
)
PASSWORD = "a bench of my own"  # noqa: S105
WIDE, PHONE = (1280, 800), (390, 844)


def wait_for_answers(page: Page) -> None:
    """Wait until every line of the shelf is worked out."""
    page.get_by_text("share first place").wait_for()
    page.get_by_text("Add the first machine").wait_for()


def open_odd(page: Page) -> None:
    """Open the odd result that is off the most."""
    page.get_by_role("button", name="Open").first.click()
    page.get_by_text("Possible causes").wait_for()


def pick_pair(page: Page) -> None:
    """Open the pair of the two that are too close to call."""
    page.get_by_role("button", name="Halyard L 12 cores").click()
    page.get_by_role("button", name="Ferrous T9 overclocked 16").click()
    page.get_by_role("complementary").get_by_text("times as fast").first.wait_for()


def run_lane(page: Page) -> None:
    """Start the lane and let it run a little."""
    page.keyboard.press("Space")
    page.wait_for_timeout(2500)


def run_lanes(page: Page) -> None:
    """Put a proposed sitting on the lanes, start them all, and mark one."""
    page.get_by_text("Plan a session", exact=True).click()
    page.get_by_label("Minutes you have").fill("120")
    page.get_by_role("button", name="Plan this session").click()
    page.get_by_role("button", name=re.compile(r"^Ready \d+ timer")).click()
    page.keyboard.press("a")
    page.wait_for_timeout(3000)
    page.keyboard.press("p")
    page.get_by_label("Done so far").fill("1")
    page.keyboard.press("Enter")
    page.get_by_text("likely done at").wait_for()
    page.get_by_role("heading", level=1).scroll_into_view_if_needed()


def pick_cell(page: Page) -> None:
    """Open a pair out of the triangle."""
    page.get_by_role("button", name="Cairn Brick compared with Halyard S mains").click()
    page.get_by_role("complementary").get_by_text("times as fast").first.wait_for()


def show_card(page: Page) -> None:
    """Wait until the card is drawn."""
    page.get_by_role("region", name="Card as it is exported").get_by_role("img").wait_for()
    page.wait_for_timeout(600)


def ask(page: Page) -> None:
    """Type a time that has two meanings."""
    page.keyboard.type("hal l / render / 18.40 min")
    page.wait_for_timeout(500)
    page.keyboard.press("Enter")
    page.get_by_role("button", name="as a clock").wait_for()


def paste(page: Page) -> None:
    """Paste a bench day's table, of which one column and one cell are asked about."""
    table = (PROJECT / "tests" / "exchange" / "messy" / "bench_day.tsv").read_text()
    page.get_by_label("Paste your table, as it is").fill(table)
    page.get_by_role("button", name="Preview").click()
    page.get_by_role("heading", name="are ready").wait_for()


def show_pebble(page: Page) -> None:
    """Look at the machine that felt better after an update."""
    page.get_by_role("heading", name="Pebble").scroll_into_view_if_needed()


PICTURES = (
    ("shelf", "/", WIDE, "light", wait_for_answers),
    ("all-time", "/all-time", WIDE, "light", None),
    ("line-up", f"/s/{SLUG}/lineup", WIDE, "light", None),
    ("tasks", f"/s/{SLUG}/tasks", WIDE, "light", None),
    ("bench", f"/s/{SLUG}/bench", WIDE, "light", run_lanes),
    ("runs", f"/s/{SLUG}/runs", WIDE, "light", ask),
    ("runs-paste", f"/s/{SLUG}/runs?focus=import", WIDE, "light", paste),
    ("margins", f"/s/{SLUG}/margins", WIDE, "light", pick_pair),
    ("margins-pairs", f"/s/{SLUG}/margins?task=mix&view=pairs", WIDE, "light", pick_cell),
    ("margins-odd", f"/s/{SLUG}/margins?view=odd", WIDE, "dark", open_odd),
    ("margins-phone", f"/s/{SLUG}/margins", PHONE, "light", None),
    ("picks", f"/s/{SLUG}/picks", WIDE, "light", None),
    ("publish", f"/s/{SLUG}/publish", WIDE, "light", None),
    ("publish-cards", f"/s/{SLUG}/publish?view=cards", WIDE, "light", show_card),
    ("publish-shots", f"/s/{SLUG}/publish?view=shots", WIDE, "light", None),
    ("editing-log", f"/s/{SLUG}/bench?view=log", WIDE, "dark", show_pebble),
    ("public-page", f"/p/{LINK}", (1280, 800), "light", None),
    ("bench-phone", f"/s/{SLUG}/bench?focus=", PHONE, "dark", run_lane),
)


def take_all(address: str, focus: str, link: str, database: Database) -> None:
    """Take every picture."""
    with sync_playwright() as playwright:
        browser = launch(playwright)
        for name, where, (width, height), scheme, steps in PICTURES:
            page = browser.new_page(
                base_url=address,
                viewport={"width": width, "height": height},
                color_scheme="dark" if scheme == "dark" else "light",
                locale="en-GB",
            )
            clear_bench(database)
            path = where.replace(LINK, link)
            page.goto(path.replace("focus=", f"focus={focus}") if path.endswith("focus=") else path)
            page.wait_for_load_state("networkidle")
            if steps is not None:
                steps(page)
            page.wait_for_timeout(400)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
        browser.close()


def take_people(address: str, database: Database) -> None:
    """Take the picture of who gets in, as an owner sees it."""
    for name, role, slug in GUESTS:
        made = people.invite(database, LOCAL, role, slug)
        people.accept(database, made.token, f"{name.lower()}@bench.test", name, PASSWORD)
    owner = sign_in.sign_in(database, f"{GUESTS[0][0].lower()}@bench.test", PASSWORD, "", "here")
    people.invite(database, LOCAL, "editor", SLUG, note="Tomas, for the weekend")
    with sync_playwright() as playwright:
        browser = launch(playwright)
        page = browser.new_page(
            base_url=address, viewport={"width": WIDE[0], "height": WIDE[1]}, locale="en-GB"
        )
        page.context.add_cookies(
            [{"name": Access(sign_in=True).cookie, "value": owner.token, "url": address}]
        )
        page.goto("/people")
        page.wait_for_load_state("networkidle")
        page.screenshot(path=FOLDER / "people.png")
        browser.close()


def main() -> None:
    """Take the pictures on a throwaway database."""
    # As in the demo, which these pictures show.
    RATES.use(SIMULATED)
    FOLDER.mkdir(parents=True, exist_ok=True)
    with throwaway_cluster("pictures") as cluster:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, PROJECT / "demo")
        focus = first_cell(database)
        view = editions.publish_edition(database, SLUG, "The autumn edition.", "Marit")
        with serving(cluster.url) as address:
            take_all(address, focus, view.links[0].token, database)
        with serving(cluster.url, Access(sign_in=True)) as address:
            take_people(address, database)
        database.close()


def clear_bench(database: Database) -> None:
    """Take the lanes of the picture before away: a bench is shared by all who look at it."""
    at = database.clocks.bench_ms()
    events = [
        lanes.NewEvent(f"pictures-{at:.0f}", place, "removed", at, {**each.lane, "phase": "gone"})
        for place, each in enumerate(lanes.show_lanes(database, SLUG).lanes)
        if each.lane["phase"] != "gone"
    ]
    lanes.put_events(database, SLUG, events)


def first_cell(database: Database) -> str:
    """The lane to show: what the next strip proposes."""
    things = show_sheet(database, SLUG).next
    return next((n.action.search["focus"] for n in things if n.action.stage == "bench"), "")


if __name__ == "__main__":
    main()
