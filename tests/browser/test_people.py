"""Signing in, inviting somebody who then works, and ending it, as people do it."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.app.accounts import PASSWORD
from tests.browser.looks import found_by_axe, visit
from tests.browser.serving import serving
from tests.desk.helpers import Bench, new_bench
from true_margin.app.access import Access
from true_margin.desk.access import people
from true_margin.desk.access.rights import LOCAL
from true_margin.desk.book.shelf import SHELF
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture
def guarded(database: Database) -> Iterator[str]:
    """The app where people sign in."""
    with serving(database.url, Access(sign_in=True)) as address:
        yield address


def profile(browser: Browser, base: str, **more: str) -> Page:
    return browser.new_context(base_url=base, locale="en-GB", **more).new_page()  # type: ignore[arg-type]


def use_invitation(page: Page, link: str, name: str, email: str) -> None:
    page.goto(link)
    assert found_by_axe(page) == []
    page.get_by_label("Your name").fill(name)
    page.get_by_label("E-mail address").fill(email)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Make my account").click()
    expect(page.get_by_role("region", name="Shootouts")).to_be_visible()


WITH_FORMS = (
    "lineup",
    "tasks",
    "bench",
    "runs",
    "margins?view=rounds",
    "margins?view=odd",
    "picks",
    "publish",
    "publish?view=cards",
    "publish?view=give",
)
PRESS_ALL = """async () => {
  const pressed = [], alike = {}
  const wait = ms => new Promise(done => setTimeout(done, ms))
  for (const each of document.querySelectorAll('main button, main summary')) {
    if (!each.isConnected || each.disabled || !each.offsetParent) continue
    // A hundred runs are pressed in the same way.
    alike[each.className] = (alike[each.className] || 0) + 1
    if (alike[each.className] > 6) continue
    pressed.push(each.getAttribute('aria-label') || each.textContent)
    each.click()
    await wait(15)
  }
  await wait(300)
  return pressed
}"""
"""Presses everything that can be pressed in a stage, of what looks alike the first few."""


def test_a_reader_is_offered_nothing_that_would_be_refused(
    browser: Browser, guarded: str, database: Database, demo: records.Shootout
) -> None:
    token = people.invite(database, LOCAL, "reader", demo.slug).token
    page = profile(browser, guarded)
    use_invitation(page, f"/invitation/{token}", "Cleo", "cleo-reads@bench.test")
    refused: list[str] = []
    everything: list[str] = []
    page.on(
        "response",
        lambda answer: (
            refused.append(
                f"{answer.request.method} {answer.url.split('/s', 1)[-1]} {answer.status}"
            )
            if answer.status in (403, 404)
            else None
        ),
    )
    book = SHELF.take(database, demo.slug)
    a, b = (setup.id for setup in book.setups[:2])
    notes = [
        f"lineup?machine={book.machines[0].id}",
        "lineup?row=cores",
        f"runs?run={book.runs[0].id}",
        f"margins?a={a}&b={b}",
    ]
    for stage in (*WITH_FORMS, *notes):
        visit(page, f"/s/{demo.slug}/{stage}")
        pressed = page.evaluate(PRESS_ALL)
        assert refused == [], f"{stage}: after {pressed}"
        everything += pressed
    assert len(everything) > 80, "readers still open what there is to read"
    assert not {"Add machine", "Add task", "Add a timer", "Publish edition 1"} & set(everything)
    page.context.close()


def test_an_owner_invites_a_reader_who_sees_and_changes_nothing(
    browser: Browser, guarded: str, database: Database
) -> None:
    bench: Bench = new_bench(database, "With a guest")
    bench.run("A", "6:17")
    owner = profile(browser, guarded)
    token = people.invite(database, LOCAL, "owner").token
    use_invitation(owner, f"/invitation/{token}", "Ada", "ada-owns@bench.test")
    owner.get_by_role("link", name="Ada").click()
    expect(owner.get_by_text("owner of all shootouts")).to_be_visible()
    assert found_by_axe(owner) == []
    owner.get_by_label("For whom").fill("Ben")
    owner.get_by_label("as", exact=True).select_option("reader")
    owner.get_by_label("of", exact=True).select_option(label="With a guest")
    owner.get_by_role("button", name="Make the link").click()
    link = owner.locator("[role=status] code").inner_text()

    guest = profile(browser, guarded, color_scheme="dark")
    use_invitation(guest, link.removeprefix(guarded), "Ben", "ben-reads@bench.test")
    expect(guest.get_by_text("With a guest")).to_be_visible()
    expect(guest.get_by_role("listitem")).to_have_count(1)
    guest.goto(f"/s/{bench.slug}/runs")
    expect(guest.get_by_role("link", name="Ben (reader)")).to_be_visible()
    expect(guest.get_by_text("ask an owner for editor access")).to_be_visible()
    expect(guest.get_by_role("combobox", name="Type a run")).to_have_count(0)

    owner.get_by_role("button", name="End the account of Ben").click()
    owner.get_by_role("button", name="End the account of Ben").click()
    expect(owner.get_by_text("No longer: ")).to_contain_text("Ben")
    guest.reload()
    expect(guest.get_by_role("heading", name="Sign in to True Margin")).to_be_visible()
    assert found_by_axe(guest) == []
    # The place where they were is kept for those who may come back.
    assert "next=%2Fs%2F" in guest.url
    for page in (owner, guest):
        page.context.close()


def test_a_passkey_is_made_and_signs_in(browser: Browser, guarded: str, database: Database) -> None:
    # Browsers make passkeys for names only, of which this machine has one.
    named = guarded.replace("127.0.0.1", "localhost")
    token = people.invite(database, LOCAL, "editor").token
    page = profile(browser, named)
    devices = page.context.new_cdp_session(page)
    devices.send("WebAuthn.enable")
    devices.send(
        "WebAuthn.addVirtualAuthenticator",
        {
            "options": {
                "protocol": "ctap2",
                "transport": "internal",
                "hasResidentKey": True,
                "hasUserVerification": True,
                "isUserVerified": True,
                "automaticPresenceSimulation": True,
            }
        },
    )
    use_invitation(page, f"/invitation/{token}", "Pia", "pia-keys@bench.test")
    page.goto("/people")
    page.get_by_text("Add a passkey").click()
    page.get_by_label("Name", exact=True).fill("work laptop")
    page.get_by_label("Your password", exact=True).fill(PASSWORD)
    page.get_by_role("button", name="Make the passkey").click()
    expect(page.get_by_role("button", name="End the passkey work laptop")).to_be_visible()
    page.get_by_text("Make recovery codes").click()
    page.get_by_label("Your password, for the codes").fill(PASSWORD)
    page.get_by_role("button", name="Make ten codes").click()
    code = page.get_by_role("status").locator("code").first.inner_text()
    expect(page.get_by_text("10 left.")).to_be_visible()
    assert found_by_axe(page) == []

    page.get_by_role("button", name="Sign out", exact=True).click()
    page.goto("/sign-in?next=/people")
    assert found_by_axe(page) == []
    page.get_by_role("button", name="Sign in by a passkey").click()
    expect(page.get_by_role("heading", name="Pia")).to_be_visible()
    expect(page.get_by_text("used ")).to_be_visible()

    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_role("link", name="a recovery code").click()
    assert found_by_axe(page) == []
    page.get_by_label("E-mail address").fill("pia-keys@bench.test")
    page.get_by_label("Recovery code").fill(code)
    page.get_by_label("New password").fill("quite another one")
    page.get_by_role("button", name="Set it and sign in").click()
    expect(page.get_by_role("region", name="Shootouts")).to_be_visible()
    page.goto("/people")
    expect(page.get_by_text("9 left.")).to_be_visible()
