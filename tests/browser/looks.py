"""What any page is held to."""

from __future__ import annotations

from playwright.sync_api import Page

from tests.conftest import PROJECT

RULES = ("wcag2a", "wcag2aa", "wcag21aa", "wcag22aa")
COLOURS = ("color-contrast", "link-in-text-block")
"""Those of the rules that another theme can break."""


def found_by_axe(page: Page, only: tuple[str, ...] = RULES) -> list[str]:
    """What the usual rule set for WCAG 2.2 AA finds on the page as it stands."""
    if page.evaluate("typeof axe") == "undefined":
        page.evaluate((PROJECT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text())
    found: list[str] = page.evaluate(
        f"async () => (await axe.run(document, {{runOnly: {list(only)}}}))"
        ".violations.map(v => v.id + ' ' + v.nodes.map(n => n.target.join(' ')).slice(0, 3).join(', '))"
    )
    return found
