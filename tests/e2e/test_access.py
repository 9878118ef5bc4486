"""Every screen against the rules that screen readers, keyboards and thumbs need, by axe-core."""

from __future__ import annotations

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
RULES = {
    "runOnly": {"type": "tag", "values": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]}
}


@pytest.mark.parametrize(
    ("width", "height", "appearance"), [(1280, 800, "day"), (1280, 800, "night"), (390, 844, "day")]
)
def test_no_screen_shuts_anybody_out(live: LiveServer, page: Page, width: int, height: int, appearance: str) -> None:
    page.set_viewport_size({"width": width, "height": height})
    page.add_init_script(f"localStorage.setItem('appearance', '{appearance}')")
    found = []
    for screen in SCREENS:
        place, _, view = screen.partition("#")
        page.goto(f"{live.address}{place if place.startswith('/') else f'/dry-dock-opera/{place}'}")
        page.get_by_role("main").locator("h1").first.wait_for(state="attached")
        if view:
            for button in view.split("/"):
                page.get_by_role("button", name=button, exact=True).click()
            page.wait_for_timeout(700)
        page.wait_for_timeout(300)
        while (folded := page.locator("details:not([open]) > summary")).count():
            folded.first.click()
        for broken in Axe().run(page, options=RULES).response["violations"]:
            found += [f"{screen}: {broken['id']}: {node['html'][:120]}" for node in broken["nodes"]]
    assert found == []
