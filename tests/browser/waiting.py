"""Waiting for what was asked to have happened, never for a time."""

from __future__ import annotations

from playwright.sync_api import Page


def quiet(page: Page) -> None:
    """The page has done what it began: loaded, its scripts run, no request of its own under way, nothing settling."""
    page.wait_for_function(
        """() => document.readyState === "complete" && !document.querySelector(".htmx-request, .htmx-settling, .htmx-swapping")"""
    )


def drawn(page: Page) -> None:
    """What the pointer did is drawn: two animation frames have passed since."""
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
