"""Every screen against the rules that screen readers, keyboards and thumbs need, by axe-core."""

from __future__ import annotations

from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page

from tests.conftest import LiveServer

SCREENS = (
    "/jobs",
    "/crew/dry-dock-opera",
    "/me",
    "/sign-in",
    "job/dress/quay",
    "bench/dress/quay",
    "bench/dress/dock-floor",
    "shelf/dress/quay",
    "compare/dress/quay",
    "sheet/dress/quay",
    "lenses/dress/quay",
    "balance/act-3/stage-rail",
    "balance/dress/quay",
    "balance/dress/stage-rail",
    "balance/arrival/stage-rail",
    "power/dress/quay",
    "swaps/arrival/quay",
    "day/dress/quay",
    *(
        f"day/acts-1-2/stage-rail#{view}"
        for view in ("People", "Run sheet", "Cards", "Cards/As it is", "Sound", "Gear", "Money")
    ),
)
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
RULES = {"runOnly": {"type": "tag", "values": TAGS}, "resultTypes": ["violations"]}
SETTLED = """() => new Promise((done) => {
  const over = () => (watch.disconnect(), done())
  let quiet = setTimeout(over, 300)
  const watch = new MutationObserver(() => (clearTimeout(quiet), (quiet = setTimeout(over, 300))))
  watch.observe(document.body, { subtree: true, childList: true, attributes: true })
  setTimeout(over, 5000)
})"""
"""What is loaded is there: nothing on the page has changed for a moment."""
BY_NIGHT = {"runOnly": ["color-contrast"], "resultTypes": ["violations"]}
"""What night changes of a screen: its colours."""


@pytest.mark.parametrize(
    ("width", "height", "appearance", "rules"),
    [(1280, 800, "day", RULES), (1280, 800, "night", BY_NIGHT), (390, 844, "day", RULES)],
    ids=["day", "night", "phone"],
)
def test_no_screen_shuts_anybody_out(
    live: LiveServer, page: Page, width: int, height: int, appearance: str, rules: dict[str, Any]
) -> None:
    page.set_viewport_size({"width": width, "height": height})
    page.add_init_script(f"localStorage.setItem('appearance', '{appearance}')")
    found = []
    for screen in SCREENS:
        place, _, view = screen.partition("#")
        page.goto(f"{live.address}{place if place.startswith('/') else f'/dry-dock-opera/{place}'}")
        page.get_by_role("main").locator("h1").first.wait_for(state="attached")
        for button in filter(None, view.split("/")):
            page.get_by_role("button", name=button, exact=True).click()
        page.evaluate(SETTLED)
        while (folded := page.locator("details:not([open]) > summary")).count():
            folded.first.click()
        for broken in Axe().run(page, options=rules).response["violations"]:
            found += [f"{screen}: {broken['id']}: {node['html'][:120]}" for node in broken["nodes"]]
    assert found == []
