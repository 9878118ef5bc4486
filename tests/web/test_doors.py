"""Who may come in where: every address against every role and standing, and what signing in keeps and does not tell."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from itertools import product
from typing import Any

import pytest
from flask import Flask, Response
from flask.testing import FlaskClient

from lift_crate.core.crew.rights import Person, fewest_leads
from lift_crate.core.crew.secrets import FREE_BY_ADDRESS, BadSecret, checked_password, wait_s
from lift_crate.store.crew import CrewStore, NameTaken, NoSignIn, NothingGained, TooManyTries
from lift_crate.store.jobs import JobStore
from lift_crate.web.app import create_app
from lift_crate.web.doors import COOKIE, NEEDS, WORD

OPERA = "dry-dock-opera"
# Written down once more, by hand: what a role goes to in its own job, and a standing in the house.
IN_JOB = {
    "lead": {"read", "rig", "note", "plan", "pack", "crew"},
    "operator": {"read", "rig", "note"},
    "keeper": {"read", "note", "pack"},
    "viewer": {"read"},
}
IN_HOUSE = {
    "lead": {"anyone", "signed in", "read shelf", "keep shelf", "make jobs", "house"},
    "keeper": {"anyone", "signed in", "read shelf", "keep shelf"},
    "member": {"anyone", "signed in", "read shelf"},
}
LOOKS = {
    "live.look_at",
    "bench.preview_bench",
    "patterns.preview_pattern",
    "propose.grow_proposal",
    "shelf.measure",
    "shelf.preview_model",
    "drill.look_at_drill",
    "drill.end_drill",
}
"""They are sent something and change nothing that is kept; the end of a drill is one's own progress."""


@pytest.fixture
def app(jobs: JobStore) -> Flask:
    return create_app(jobs.pool)


@pytest.fixture
def crew(jobs: JobStore) -> CrewStore:
    return CrewStore(jobs.pool)


def signed_in(app: Flask, crew: CrewStore, person: Person) -> tuple[FlaskClient, dict[str, str]]:
    client = app.test_client()
    token = crew.begin(person, "a browser", "127.0.0.1").token
    client.set_cookie(COOKIE, token)
    session = crew.session(token)
    assert session
    return client, {WORD: session.word}


def made(crew: CrewStore, name: str, house: Any, role: Any = None, works_as: str = "") -> Person:
    lead = Person(id="", name="the house", house="lead")
    word, _ = crew.invite(lead, house=house, job=OPERA if role else None, role=role, works_as=works_as)
    return crew.accept(word, name, "four words nobody says", None)


def routes(app: Flask) -> Iterator[tuple[str, str, str]]:
    for rule in app.url_map.iter_rules():
        if rule.rule.startswith("/api/") and "static" not in rule.endpoint:
            (method,) = (rule.methods or set()) & {"GET", "POST", "PUT", "DELETE"}
            path = rule.rule.replace("<string:job>", OPERA).replace("<string:rig>", "quay")
            for kind, value in (("<int:", "1"), ("<string:", "x"), ("<path:", "x")):
                while kind in path:
                    at = path.index(kind)
                    path = path[:at] + value + path[path.index(">", at) + 1 :]
            yield rule.endpoint, method, path


def test_every_address_is_open_to_whom_it_should_be_and_to_nobody_else(app: Flask, crew: CrewStore) -> None:
    for name in app.view_functions:
        app.view_functions[name] = lambda **_: Response("in", 299)
    every = list(routes(app))
    assert {name for name, _, _ in every} >= set(NEEDS) - {"openapi.static"}
    people = {
        (house, role): made(crew, f"{house} and {role}", house, role)
        for house, role in product(IN_HOUSE, (*IN_JOB, None))
    }
    nobody = app.test_client()
    for name, method, path in every:
        status = nobody.open(path, method=method).status_code
        assert status == (299 if NEEDS[name] == "anyone" else 401), name
    for (house, role), person in people.items():
        client, word = signed_in(app, crew, person)
        for name, method, path in every:
            right = NEEDS[name]
            got = client.open(path, method=method, headers=word)
            of_job = OPERA in path
            may = right in (IN_JOB.get(role or "", set()) if of_job else IN_HOUSE[house])
            if of_job and right == "keep shelf":
                # A figure of the Shelf that a job's log teaches.
                may = role is not None and right in IN_HOUSE[house]
            if right == "rig" and role == "operator":
                may = False  # nobody here is named in a cell of the day
            expected = 299 if may else 404 if of_job and role is None else 403
            assert got.status_code == expected, (house, role, name, got.get_data(as_text=True))
            if of_job and role is None:
                ghost = client.open(path.replace(OPERA, "ghost"), method=method, headers=word)
                assert ghost.status_code == 404
                assert ghost.get_data(as_text=True).replace("ghost", OPERA) == got.get_data(as_text=True)


def test_what_changes_something_is_no_look() -> None:
    for name, right in NEEDS.items():
        if right in {"read", "read shelf"}:
            said = name.partition(".")[2]
            assert name in LOOKS or said.split("_")[0] in {
                "read",
                "export",
                "compare",
                "list",
                "find",
                "count",
                "draw",
                "pattern",
                "listen",
            }, name


def test_an_operator_changes_the_rigs_of_his_own_cameras_alone(app: Flask, crew: CrewStore) -> None:
    keel = made(crew, "Keel Hand", "member", "operator", works_as="Op 1")
    client, word = signed_in(app, crew, keel)
    job: Any = client.get(f"/api/jobs/{OPERA}/frame").json
    own = {c["rig"] for c in job["job"]["plan"] if c.get("operator") == "Op 1"}
    assert own
    for cell in job["job"]["plan"]:
        at = f"/api/jobs/{OPERA}/parts/{cell['part']}/rigs/{cell['rig']}"
        bench: Any = client.get(at).json
        got = client.post(
            f"{at}/edits", headers=word, json={"version": bench["version"], "operations": [{"op": "strip"}]}
        )
        assert (got.status_code == 403) == (cell["rig"] not in own), got.get_data(as_text=True)
    history: Any = client.get(
        f"/api/jobs/{OPERA}/parts/{job['job']['plan'][0]['part']}/rigs/{next(iter(own))}/history"
    ).json
    assert history["edits"][0]["actor"] == "Keel Hand"
    # What somebody calls himself makes no camera his.
    other, its_word = signed_in(app, crew, made(crew, "Op 2", "member", "operator"))
    at = f"/api/jobs/{OPERA}/parts/{job['job']['plan'][0]['part']}/rigs/{next(iter(own))}"
    theirs = next(c for c in job["job"]["plan"] if c.get("operator") == "Op 2")
    for where in (at, f"/api/jobs/{OPERA}/parts/{theirs['part']}/rigs/{theirs['rig']}"):
        assert other.post(f"{where}/undo", headers=its_word, json={"version": 1}).status_code == 403
    lead = Person(id="", name="the house", house="lead")
    crew.set_works_as(OPERA, keel.id, "", lead)
    got = client.post(f"{at}/edits", headers=word, json={"version": 1, "operations": [{"op": "strip"}]})
    assert got.status_code == 403, "what a lead takes back is gone at once"


def test_of_a_job_without_a_role_nothing_is_told_anywhere(app: Flask, crew: CrewStore, jobs: JobStore) -> None:
    client, word = signed_in(app, crew, made(crew, "Somebody", "lead"))
    assert client.get("/api/jobs").json["jobs"] == []  # type: ignore[index]
    mine: Any = client.post("/api/jobs", headers=word, json={"title": "Mine", "zone": "UTC", "day": "2027-03-20"}).json
    assert [j["title"] for j in mine["jobs"]] == ["Mine"]
    spied = {"title": "Spied", "day": "2027-03-20", "settings_of": OPERA}
    assert client.post("/api/jobs", headers=word, json=spied).status_code == 404
    told = [
        "/api/jobs",
        "/api/shelf",
        "/api/shelf/units/C6-1",
        "/api/shelf/units/PACK-01",
        f"/api/jobs/{mine['made']}/elsewhere",
        f"/api/jobs/{mine['made']}/day",
        f"/api/jobs/{mine['made']}/day/gear",
        f"/api/jobs/{mine['made']}/crew",
    ]
    for path in told:
        text = client.get(path).get_data(as_text=True)
        assert "Dry-dock" not in text, path
        assert "Caisson" not in text, path
    assert "another job" in client.get("/api/shelf/units/C6-1").get_data(as_text=True)
    for path in (f"/api/shelf?job={OPERA}&part=dress", f"/api/jobs/{OPERA}"):
        assert client.get(path).status_code == 404
    held = client.delete("/api/shelf/units/C6-1?seen=0", headers=word)
    assert held.status_code in (409, 422)
    assert "Dry-dock" not in held.get_data(as_text=True)
    file = jobs.export(OPERA)
    from lift_crate.formats.job_file import dump

    over = client.post("/api/import?replace=true", headers=word, data=dump(file), content_type="application/json")
    assert over.status_code == 403


def test_the_first_account_is_made_once_with_the_code_of_the_terminal(app: Flask, crew: CrewStore) -> None:
    client = app.test_client()
    assert client.get("/api/me").json["first"]  # type: ignore[index]
    code = crew.new_first_code()
    body = {"code": code, "name": " Keel  Hand ", "password": "harbour lantern sixpence"}
    assert client.post("/api/me/first", json={**body, "code": "0000-0000-0000"}).status_code == 404
    assert client.post("/api/me/first", json={**body, "password": "short"}).status_code == 422
    assert client.post("/api/me/first", json=body).status_code == 204
    me: Any = client.get("/api/me").json
    assert (me["name"], me["house"], me["roles"]) == ("Keel Hand", "lead", {OPERA: "lead"})
    assert client.post("/api/me/first", json={**body, "name": "Other"}).status_code == 404
    assert crew.new_first_code() is None
    assert client.post("/api/jobs", json={"title": "x"}).status_code == 403, "without the word of the session"
    word = {WORD: me["word"]}
    assert client.post("/api/me/sign-out", headers=word, json={}).status_code == 204
    assert client.get("/api/jobs").status_code == 401
    again = {"name": "keel hand", "password": body["password"]}
    assert client.post("/api/me/sign-in", json=again).status_code == 204
    assert client.get("/api/jobs").status_code == 200


def test_whoever_guesses_waits_and_is_not_told_who_has_an_account(app: Flask, crew: CrewStore) -> None:
    made(crew, "Known", "member")
    client = app.test_client()
    told = {
        name: client.post("/api/me/sign-in", json={"name": name, "password": "wrong words here"}).json
        for name in ("Known", "Unknown")
    }
    assert told["Known"] == told["Unknown"]
    for _ in range(3):
        client.post("/api/me/sign-in", json={"name": "Known", "password": "wrong words here"})
    last = client.post("/api/me/sign-in", json={"name": "Known", "password": "four words nobody says"})
    assert last.status_code == 429, "not even with the right one"
    waits = [wait_s(n) for n in range(40)]
    assert waits == sorted(waits)
    assert (waits[2], waits[3], waits[4], waits[-1]) == (0, 2, 4, 900)
    assert (wait_s(29, FREE_BY_ADDRESS), wait_s(30, FREE_BY_ADDRESS)) == (0, 2), (
        "a crew behind one address is not shut out"
    )


@pytest.mark.parametrize("password", ["short", "aaaaaaaaaaaa", "1234567890", "qwertyuiop", "Known Name", "x" * 201])
def test_passwords_that_are_guessed_at_once_are_refused(password: str) -> None:
    with pytest.raises(BadSecret):
        checked_password(password, "known name")


def test_sessions_are_listed_ended_and_end_with_a_new_password(app: Flask, crew: CrewStore) -> None:
    person = made(crew, "Two Phones", "member")
    (one, word), (other, _) = signed_in(app, crew, person), signed_in(app, crew, person)
    listed: Any = one.get("/api/me/sessions").json
    assert [s["this"] for s in listed["sessions"]].count(True) == 1
    assert len(listed["sessions"]) == 2
    new = {"old": "four words nobody says", "new": "other words altogether"}
    assert one.post("/api/me/password", headers=word, json={**new, "old": "not this"}).status_code == 401
    assert one.post("/api/me/password", headers=word, json=new).status_code == 204
    assert other.get("/api/jobs").status_code == 401
    assert one.get("/api/jobs").status_code == 200
    stranger, _ = signed_in(app, crew, made(crew, "Stranger", "member"))
    mine = one.get("/api/me/sessions").json["sessions"][0]["id"]  # type: ignore[index]
    foreign: Any = stranger.get("/api/me").json
    stranger.delete(f"/api/me/sessions/{mine}", headers={WORD: foreign["word"]})
    assert one.get("/api/jobs").status_code == 200, "nobody ends somebody else's"
    assert app.test_client().get("/api/jobs", headers={"Cookie": f"{COOKIE}=forged"}).status_code == 401


@pytest.mark.parametrize(
    ("roles", "leaves", "becomes", "last"),
    [
        ({"a": "lead"}, "a", None, True),
        ({"a": "lead"}, "a", "viewer", True),
        ({"a": "lead", "b": "lead"}, "a", "viewer", False),
        ({"a": "lead", "b": "viewer"}, "b", None, False),
        ({"a": "viewer"}, "a", "operator", False),
    ],
)
def test_only_the_last_lead_must_stay(roles: dict[str, str], leaves: str, becomes: str | None, *, last: bool) -> None:
    assert fewest_leads(roles, leaves, becomes) == last


def test_an_invitation_is_used_once_and_the_last_lead_stays(app: Flask, crew: CrewStore) -> None:
    lead, word = signed_in(app, crew, made(crew, "Lead", "lead", "lead"))
    link: Any = lead.post(f"/api/jobs/{OPERA}/crew/invitations", headers=word, json={"role": "viewer"}).json
    assert "<svg" in link["qr"]
    at = f"/api/invitations/{link['link'].rpartition('/')[2]}"
    guest = app.test_client()
    told: Any = guest.get(at).json
    assert (told["title"], told["role"], told["by"]) == ("Dry-dock opera", "viewer", "Lead")
    assert guest.post(at, json={"name": "LEAD", "password": "four words nobody says"}).status_code == 409
    assert guest.post(at, json={"name": "Guest", "password": "four words nobody says"}).status_code == 204
    assert app.test_client().post(at, json={"name": "Two", "password": "four words nobody says"}).status_code == 404
    assert guest.get(f"/api/jobs/{OPERA}").status_code == 200
    crew_now: Any = lead.get(f"/api/jobs/{OPERA}/crew").json
    ids = {m["name"]: m["id"] for m in crew_now["people"]}
    last = lead.post(f"/api/jobs/{OPERA}/crew", headers=word, json={"account": ids["Lead"], "role": "viewer"})
    assert last.status_code == 403
    assert "the last who leads" in last.json["detail"]  # type: ignore[index]
    assert lead.post(f"/api/house/{ids['Lead']}", headers=word, json={"house": None}).status_code == 403
    gone = lead.post(f"/api/jobs/{OPERA}/crew", headers=word, json={"account": ids["Guest"], "role": None})
    assert gone.status_code == 200
    assert guest.get(f"/api/jobs/{OPERA}").status_code == 404, "a role that is taken away is gone at once"
    lines = [line["what"] for line in gone.json["history"]]  # type: ignore[index]
    assert lines[0] == "Guest: viewer → none"
    reset: Any = lead.post(f"/api/house/{ids['Guest']}/password", headers=word, json={}).json
    again = f"/api/invitations/{reset['link'].rpartition('/')[2]}"
    assert app.test_client().post(again, json={"password": "new words altogether"}).status_code == 204
    assert guest.get("/api/jobs").status_code == 401, "signed out by the new password"


def test_a_link_dies_with_the_right_that_made_it(app: Flask, crew: CrewStore) -> None:
    """Whoever is let go, or leads no more, comes back through none of the links he made before."""
    stays, goes = made(crew, "Stays", "lead", "lead"), made(crew, "Goes", "lead", "lead")
    client, word = signed_in(app, crew, goes)

    def link(path: str, body: Any) -> str:
        got: Any = client.post(path, headers=word, json=body).json
        return str(got["link"]).rpartition("/")[2]

    to_house, to_password = (
        link("/api/house/invitations", {"house": "lead"}),
        link(f"/api/house/{stays.id}/password", {}),
    )
    to_job = link(f"/api/jobs/{OPERA}/crew/invitations", {"role": "lead"})
    other, its_word = signed_in(app, crew, stays)
    seen: Any = other.get("/api/house").json
    assert [(w["house"], w["name"], w["by"]) for w in seen["waiting"]] == [
        ("lead", None, "Goes"),
        ("member", "Stays", "Goes"),
    ]
    crew.set_role(OPERA, goes.id, "viewer", stays)
    crew.set_role(OPERA, goes.id, "lead", stays)
    crew.set_house(goes.id, "member", stays)
    crew.set_house(goes.id, "lead", stays)
    for dead in (to_house, to_password, to_job):
        assert app.test_client().get(f"/api/invitations/{dead}").status_code == 404, "also where the right comes back"
    again = link("/api/house/invitations", {"house": "keeper"})
    seen = other.get("/api/house").json
    taken = other.delete(f"/api/house/invitations/{seen['waiting'][0]['id']}", headers=its_word)
    assert (taken.status_code, taken.get_json()["waiting"]) == (200, [])
    assert app.test_client().get(f"/api/invitations/{again}").status_code == 404
    last = link(f"/api/jobs/{OPERA}/crew/invitations", {"role": "lead"})
    crew.set_house(goes.id, None, stays)
    for dead in (to_house, to_password, to_job, last):
        got = app.test_client().post(
            f"/api/invitations/{dead}", json={"name": "Comes Back", "password": "harbour lantern sixpence"}
        )
        assert got.status_code == 404


def test_a_link_never_lowers_anybody_and_no_job_is_left_without_a_lead(app: Flask, crew: CrewStore) -> None:
    lead = made(crew, "Lead", "member", "lead")
    client, word = signed_in(app, crew, lead)
    for lesser in ("viewer", "keeper", "operator", "lead"):
        got: Any = client.post(f"/api/jobs/{OPERA}/crew/invitations", headers=word, json={"role": lesser}).json
        at = f"/api/invitations/{got['link'].rpartition('/')[2]}"
        refused = client.post(at, headers=word, json={})
        assert refused.status_code == 409
        assert f"You are lead of this job; this link makes somebody {lesser}" in refused.get_json()["detail"]
        assert app.test_client().get(at).status_code == 200, "it is still good for whom it was made"
    assert crew.roles_of(lead.id) == {OPERA: "lead"}
    keeper = made(crew, "Keeper", "member", "keeper")
    bench = Person(id="", name="the house", house="lead")
    across, _ = crew.invite(bench, house="member", job=OPERA, role="operator")
    with pytest.raises(NothingGained, match="You are keeper of this job"):
        crew.accept(across, "", "", keeper)
    up, _ = crew.invite(bench, house="keeper", job=None, role=None)
    assert crew.accept(up, "", "", keeper).house == "keeper"
    assert crew.member(keeper.id).house == "keeper", "a link to the house gives who is signed in what it says"
    with pytest.raises(NothingGained, match="You are keeper of the house"):
        crew.accept(crew.invite(bench, house="keeper", job=None, role=None)[0], "", "", keeper)


@pytest.mark.parametrize(
    "alike", ["Op\u200b 1", "\u041ep 1", "op l", "0p 1", "OP  1", "\uff2fp 1", "\u041e\u0440 1", "Óp 1"]
)
def test_nobody_takes_a_name_that_looks_like_another_s(crew: CrewStore, alike: str) -> None:
    made(crew, "Op 1", "member")
    with pytest.raises((NameTaken, BadSecret)):
        made(crew, alike, "member")
    for name in ("Op 2", "Ола", "O'Pine", "小林 まさき"):
        assert made(crew, name, "member").name == name


@pytest.mark.parametrize("weak", ["password12", "Liftcrate1", "Summer2026!", "Keel Hand the First", "qwertyuiop"])
def test_what_is_guessed_soon_is_no_password(crew: CrewStore, weak: str) -> None:
    made(crew, "Keel Hand the First", "member")
    word, _ = crew.invite(Person(id="", name="the house", house="lead"), house="member", job=None, role=None)
    with pytest.raises(BadSecret, match="guessed too soon"):
        crew.accept(word, "Somebody Else", weak, None)
    assert crew.accept(word, "Somebody Else", "harbour lantern sixpence", None).name == "Somebody Else"


def test_sixty_at_once_guess_no_more_than_three(crew: CrewStore) -> None:
    """Counted before they are tried; and from a device that he signed in from before its owner is not locked out."""
    made(crew, "Keel Hand", "member")
    known = crew.begin(crew.sign_in("Keel Hand", "four words nobody says", "10.0.0.9"), "a phone", "10.0.0.9").device
    tried: list[int] = []
    told: list[int] = []

    def guess(n: int) -> None:
        try:
            crew.sign_in("keel hand", f"guess number {n}", "10.0.0.1")
        except (NoSignIn, TooManyTries) as error:
            (tried if isinstance(error, NoSignIn) else told).append(n)

    with ThreadPoolExecutor(20) as many:
        list(many.map(guess, range(60)))
    assert (len(tried), len(told)) == (3, 57)
    with pytest.raises(TooManyTries):
        crew.sign_in("Keel Hand", "four words nobody says", "10.0.0.2")
    assert crew.sign_in("Keel Hand", "four words nobody says", "10.0.0.9", known).name == "Keel Hand"
    with pytest.raises(NoSignIn):
        crew.sign_in("Keel Hand", "wrong words here", "10.0.0.9", known)
    with pytest.raises(TooManyTries):
        crew.sign_in("Keel Hand", "four words nobody says", "10.0.0.9", "a device that nobody knows")


def test_nobody_is_let_in_over_the_network_without_signing_in(jobs: JobStore) -> None:
    """Where nobody has to sign in on this machine, whoever comes over TLS has to."""
    app = create_app(jobs.pool, nobody_signs_in=True)
    assert app.test_client().get("/api/jobs").status_code == 200
    for path in ("/api/jobs", f"/api/jobs/{OPERA}", "/api/shelf"):
        assert app.test_client().get(path, base_url="https://localhost").status_code == 401
