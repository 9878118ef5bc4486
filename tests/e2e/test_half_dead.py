"""A note outlives whatever the net does, whatever becomes of the session, tab closed or not; and a device that was
signed out from elsewhere has nothing any more.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from lift_crate.core.crew.rights import Person
from lift_crate.store.crew import CrewStore
from lift_crate.store.database import open_pool
from tests.conftest import LiveServer
from tests.e2e.net import Relay, is_kept
from tests.e2e.test_shelf import get
from tests.kit import until

JOB = "dry-dock-opera"
LOG = f"/{JOB}/log/dress/quay"
WAITING = """() => new Promise((done) => {
  const opening = indexedDB.open('lift-crate')
  opening.onsuccess = () => {
    const all = opening.result.transaction('noted').objectStore('noted').getAll()
    all.onsuccess = () => done(all.result.map((n) => JSON.parse(n.body).text))
  }
})"""
"""What this device keeps that the server has not said to have."""


@pytest.fixture
def phone(browser: Browser) -> Iterator[BrowserContext]:
    context = browser.new_context(viewport={"width": 390, "height": 844}, service_workers="allow", has_touch=True)
    yield context
    context.close()


def log_on(phone: BrowserContext, address: str) -> Page:
    page = phone.new_page()
    page.goto(f"{address}{LOG}")
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.goto(f"{address}{LOG}")
    expect(page.get_by_role("list", name="Planned and happened")).to_contain_text("SDI-1", timeout=90_000)
    return page


def say(page: Page, words: str, begun: Callable[[], None] = lambda: None) -> None:
    """Type a note, do what happens meanwhile, and note it."""
    pad = page.get_by_role("region", name="Note something")
    pad.get_by_role("button", name="Note", exact=True).tap()
    pad.locator("textarea").fill(words)
    begun()
    pad.get_by_role("button", name="Note it").tap()


def said(server: LiveServer) -> Counter[str]:
    return Counter(x["text"] for x in get(server, f"/jobs/{JOB}/log?part=dress")["lines"] if x["kind"] == "note")


def test_a_note_outlives_every_kind_of_net(phone: BrowserContext, live: LiveServer) -> None:
    relay = Relay(int(live.address.rpartition(":")[2]))
    page = log_on(phone, relay.address)
    tape = page.get_by_role("list", name="Planned and happened")
    ways: dict[str, Callable[[], None]] = {
        "it swallows everything": relay.swallow,
        "it cuts every answer": relay.cut_answers,
        "it answers by itself": relay.answer_itself,
        "it is slow": lambda: setattr(relay, "slow_s", 3.0),
    }
    for words, begins in ways.items():
        begins()
        say(page, words)
        # On the device at once, and on the tape as soon as the net is given up; the pad is free for the next one.
        until(lambda words=words: words in page.evaluate(WAITING) or said(live)[words] == 1, words)  # type: ignore[misc]
        expect(tape).to_contain_text(words)
        expect(page.get_by_role("alert")).to_have_count(0)
        expect(page.get_by_role("region", name="Note something").locator("textarea")).to_have_count(0)
        relay.back()
        until(lambda: page.evaluate(WAITING) == [], f"{words}: it was never sent")
        assert said(live)[words] == 1, "it arrived, and once"
    # Gone into a net that swallows everything, and the tab closed the moment it is on the device.
    relay.swallow()
    say(page, "and the tab is closed")
    until(lambda: page.evaluate(WAITING) == ["and the tab is closed"])
    page.close()
    assert said(live)["and the tab is closed"] == 0
    relay.back()
    page = log_on(phone, relay.address)
    until(lambda: page.evaluate(WAITING) == [])
    assert {said(live)[words] for words in (*ways, "and the tab is closed")} == {1}
    relay.door.close()


@pytest.fixture
def house(
    new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path
) -> Iterator[tuple[LiveServer, CrewStore, Person]]:
    """The program where everybody signs in, and who keeps its accounts."""
    url = new_database(templates["demo"])
    with open_pool(url, size=2) as pool:
        crew = CrewStore(pool)
        host = Person(id="", name="the house", house="lead")
        word, _ = crew.invite(host, house="lead", job=JOB, role="lead")
        who = crew.accept(word, "Keel Hand", "four words nobody says", None)
        server = LiveServer(url, tmp_path / "server.log", demo=False, sign_in=True)
        server.start()
        yield server, crew, who
        server.stop()


def come_in(page: Page) -> None:
    page.get_by_label("Your name").fill("Keel Hand")
    page.get_by_label("Password").fill("four words nobody says")
    page.get_by_role("button", name="Sign in").click()


def test_a_session_ended_from_elsewhere_loses_no_note_and_leaves_nothing_on_the_device(
    phone: BrowserContext, house: tuple[LiveServer, CrewStore, Person]
) -> None:
    server, crew, who = house
    first = phone.new_page()
    first.goto(f"{server.address}{LOG}")
    come_in(first)
    expect(first.get_by_role("list", name="Planned and happened")).to_contain_text("SDI-1", timeout=90_000)
    first.close()
    page = log_on(phone, server.address)
    is_kept(page, f"/jobs/{JOB}/log?part=dress")
    say(page, "noted as it ended", begun=lambda: crew.end_session(who.id, None))
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    assert page.evaluate(WAITING) == ["noted as it ended"]
    kept = "caches.open('lift-crate-read-2').then(c => c.keys()).then(keys => keys.map(k => k.url))"
    until(lambda: all("/api/me" in url for url in page.evaluate(kept)), "it still keeps what it read")
    phone.set_offline(True)
    page.goto(f"{server.address}{LOG}")
    expect(page.get_by_text("SDI-1")).to_have_count(0)
    phone.set_offline(False)
    page.goto(f"{server.address}/sign-in")
    come_in(page)
    until(lambda: page.evaluate(WAITING) == [], "it was never sent")
    page.goto(f"{server.address}{LOG}")
    expect(page.get_by_role("list", name="Planned and happened").get_by_text("noted as it ended")).to_have_count(1)
