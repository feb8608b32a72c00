"""Waiting for what the page itself shows, never for a length of time."""

from __future__ import annotations

from playwright.sync_api import Page

_CLOCKS = """seconds => [...document.querySelectorAll('[role=timer]')].some(timer => {
  const [minutes, rest] = timer.textContent.split(':')
  return 60 * Number(minutes) + Number(rest) >= seconds
})"""


def clock_reaches(page: Page, seconds: float) -> None:
    """Wait until the clock of some lane shows this many seconds."""
    page.wait_for_function(_CLOCKS, arg=seconds)
