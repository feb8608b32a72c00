"""What any page is held to."""

from __future__ import annotations

from playwright.sync_api import Page

from tests.conftest import PROJECT

RULES = "['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']"


def found_by_axe(page: Page) -> list[str]:
    """What the usual rule set for WCAG 2.2 AA finds on the page as it stands."""
    script = (PROJECT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text()
    page.evaluate(script)
    found: list[str] = page.evaluate(
        f"async () => (await axe.run(document, {{runOnly: {RULES}}}))"
        ".violations.map(v => v.id + ' ' + v.nodes.map(n => n.target.join(' ')).slice(0, 3).join(', '))"
    )
    return found
