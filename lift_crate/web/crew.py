"""Who works here: signing in, invitations, a job's crew, the accounts of the house."""

from __future__ import annotations

import io
from datetime import datetime
from typing import Annotated

from annotated_types import MaxLen
from flask import Response, request
from flask_openapi3.models.tag import Tag

from ..core.crew.rights import House, Person, Role
from ..core.errors import NotAllowed
from ..core.quantities import Label
from ..store.crew import MOST_H, NoSignIn
from . import schema as s
from .answers import READ, Responses, answer
from .described import PlaceApi
from .doors import cookie_name, device_cookie_name, nobody_signs_in
from .identity import current_person, current_session
from .schema import Told
from .services import services

__all__ = ["api", "begin"]

api = PlaceApi(
    "crew", __name__, url_prefix="/api", abp_tags=[Tag(name="crew", description="Accounts, roles and invitations")]
)
_SIGN: Responses = {**READ, 401: s.ProblemView, 429: s.ProblemView}
Secret = Annotated[str, MaxLen(1000)]
_DEVICE_H = 24 * 365


class TryView(Told):
    """Somebody of the demo whom one can be without a password."""

    id: str
    name: str
    house: House


class MeView(Told):
    """Who is asking: his name and standing, his roles by job, and the word that his edits carry."""

    name: str
    signed_in: bool
    house: House | None
    roles: dict[str, Role]
    word: str
    first: bool
    """Nobody has an account yet: the first is to be made with the code from the terminal."""
    open: bool
    """Nobody need sign in on this machine."""
    tries: list[TryView]


class FirstAccount(s.Strict):
    """The first account, with the code that the terminal told."""

    code: Secret
    name: Label
    password: Secret


class SignIn(s.Strict):
    """A name and a password."""

    name: Label
    password: Secret


class TryAs(s.Strict):
    """Somebody of the demo; empty: nobody, as it was."""

    account: Label


class NewPassword(s.Strict):
    """The password so far and a new one."""

    old: Secret
    new: Secret


def _me() -> Response:
    session, crew = current_session(), services().crew
    open_ = nobody_signs_in()
    person = current_person() if session or open_ else None
    return answer(
        MeView(
            name=person.name if person else "",
            signed_in=session is not None,
            house=person.house if person else None,
            roles=crew.roles_of(person.id) if person and person.id else {},
            word=session.word if session else "",
            first=not open_ and not crew.anybody(),
            open=open_,
            tries=[TryView(id=m.id, name=m.name, house=m.house) for m in crew.everybody() if m.demo] if open_ else [],
        )
    )


def begin(person: Person) -> Response:
    """A new session, in the place of the one that this browser had."""
    before = request.cookies.get(cookie_name(), "")
    agent, device = request.headers.get("User-Agent", ""), request.cookies.get(device_cookie_name(), "")
    made = services().crew.begin(person, agent, request.remote_addr or "", before, device)
    response = Response(status=204)
    for name, value, hours in ((cookie_name(), made.token, MOST_H), (device_cookie_name(), made.device, _DEVICE_H)):
        response.set_cookie(
            name,
            value,
            max_age=hours * 3600,
            httponly=True,
            samesite="Strict",
            secure=request.is_secure,
            path="/",
        )
    return response


@api.get("/me", responses={200: MeView, **READ}, operation_id="readMe")
def read_me() -> Response:
    """Who is asking, and what of this house he may know."""
    return _me()


@api.post("/me/first", responses={204: None, **_SIGN}, operation_id="makeFirst")
def make_first(body: FirstAccount) -> Response:
    """Make the first account; it leads the house and every job that is there."""
    return begin(services().crew.make_first(body.code, body.name, body.password, request.remote_addr or ""))


@api.post("/me/sign-in", responses={204: None, **_SIGN}, operation_id="signIn")
def sign_in(body: SignIn) -> Response:
    """Sign this browser in."""
    device = request.cookies.get(device_cookie_name(), "")
    return begin(services().crew.sign_in(body.name, body.password, request.remote_addr or "", device))


@api.post("/me/sign-out", responses={204: None, **_SIGN}, operation_id="signOut")
def sign_out() -> Response:
    """Sign this browser out."""
    services().crew.sign_out(request.cookies.get(cookie_name(), ""))
    response = Response(status=204)
    response.delete_cookie(cookie_name(), path="/", secure=request.is_secure, httponly=True, samesite="Strict")
    return response


@api.post("/me/try", responses={204: None, **_SIGN}, operation_id="tryAs")
def try_as(body: TryAs) -> Response:
    """Be somebody of the demo, without a password; only where nobody need sign in."""
    if not nobody_signs_in():
        raise NoSignIn
    member = services().crew.member(body.account)
    if not member.demo:
        raise NotAllowed(f"{member.name} has a password; sign in with it.")
    return begin(Person(id=member.id, name=member.name, house=member.house))


class SessionLine(Told):
    """A browser that is signed in."""

    id: int
    made_at: datetime
    seen_at: datetime
    agent: str
    address: str
    this: bool


class SessionsView(Told):
    """Where somebody is signed in."""

    sessions: list[SessionLine]


class SessionPath(s.Strict):
    """One of them."""

    session: int


def _sessions() -> Response:
    own = current_session()
    rows = services().crew.sessions(current_person().id)
    return answer(SessionsView(sessions=[SessionLine(**row, this=bool(own and row["id"] == own.id)) for row in rows]))  # type: ignore[arg-type]


@api.get("/me/sessions", responses={200: SessionsView, **_SIGN}, operation_id="readSessions")
def read_sessions() -> Response:
    """Where one is signed in."""
    return _sessions()


@api.delete("/me/sessions/<int:session>", responses={200: SessionsView, **_SIGN}, operation_id="endSession")
def end_session(path: SessionPath) -> Response:
    """Sign one of one's browsers out."""
    services().crew.end_session(current_person().id, path.session)
    return _sessions()


@api.delete("/me/sessions", responses={200: SessionsView, **_SIGN}, operation_id="endSessions")
def end_sessions() -> Response:
    """Sign all others of one's browsers out."""
    own = current_session()
    services().crew.end_session(current_person().id, None, but=own.id if own else None)
    return _sessions()


@api.post("/me/password", responses={204: None, **_SIGN}, operation_id="changePassword")
def change_password(body: NewPassword) -> Response:
    """Another password; all other browsers are signed out."""
    own = current_session()
    keep = own.id if own else None
    services().crew.change_password(current_person(), body.old, body.new, keep, request.remote_addr or "")
    return Response(status=204)


class InvitationPath(s.Strict):
    """The word of an invitation."""

    word: Annotated[str, MaxLen(100)]


class InvitationView(Told):
    """What a link leads to: into a job, into the house, or to a new password for somebody."""

    name: str | None
    job: str | None
    title: str | None
    role: Role | None
    works_as: str
    by: str


class Acceptance(s.Strict):
    """The name and password of whoever accepts; without them, whoever is signed in does."""

    name: Label = ""
    password: Secret = ""


@api.get("/invitations/<string:word>", responses={200: InvitationView, **_SIGN}, operation_id="readInvitation")
def read_invitation(path: InvitationPath) -> Response:
    """What a link leads to."""
    found = services().crew.invitation(path.word)
    return answer(
        InvitationView(
            name=found.name,
            job=found.job,
            title=found.title,
            role=found.role,
            works_as=found.works_as,
            by=found.by,
        )
    )


@api.post("/invitations/<string:word>", responses={204: None, **_SIGN}, operation_id="acceptInvitation")
def accept_invitation(path: InvitationPath, body: Acceptance) -> Response:
    """Use a link, once: with a new account, or as whoever is signed in."""
    session = current_session()
    signed_in = session.person if session and not body.password else None
    return begin(services().crew.accept(path.word, body.name, body.password, signed_in))


class MemberView(Told):
    """Somebody of a job's crew or of the house."""

    id: str
    name: str
    house: House
    role: Role | None
    works_as: str = ""
    """The name in the job's plan whose cameras are his."""


class WaitingView(Told):
    """A link that nobody has used yet: with a role into a job, with a name to a new password, else into the house."""

    id: int
    role: Role | None
    house: House
    works_as: str
    name: str | None
    by: str
    ends: datetime


class CrewLine(Told):
    """What was changed of a crew."""

    at: datetime
    actor: str
    what: str


class CrewView(Told):
    """A job's crew, what may be changed of it by who asks, links that wait, and what was changed."""

    people: list[MemberView]
    others: list[MemberView]
    """Who has an account and no role here; told to leads."""
    waiting: list[WaitingView]
    history: list[CrewLine]
    own_role: Role | None
    cameras: dict[str, list[str]]
    """By operator the labels of his cameras."""


class Invited(Told):
    """A link that is used once, with its picture to be scanned."""

    link: str
    qr: str
    ends: datetime


class Invite(s.Strict):
    """A role to be given to whoever uses the link."""

    role: Role
    house: House = "member"
    works_as: Label = ""
    """The name in the plan whose cameras are those of whoever uses it."""


class InviteToHouse(s.Strict):
    """A standing in the house to be given to whoever uses the link."""

    house: House


class SetRole(s.Strict):
    """Another role; none: he has nothing to do with the job any more."""

    account: Label
    role: Role | None


class WorksAs(s.Strict):
    """As whom of the plan somebody works; empty: as nobody."""

    account: Label
    works_as: Label


class WaitingPath(s.JobPath):
    """A link of a job."""

    invitation: int


def _crew(job_id: str) -> Response:
    crew, session = services().crew, current_session()
    job, _, _ = services().jobs.read(job_id)
    labels = {r.id: r.label for r in job.rigs}
    cameras: dict[str, dict[str, None]] = {}
    for cell in job.plan:
        if cell.operator:
            cameras.setdefault(cell.operator, {})[labels[cell.rig]] = None
    people = crew.crew_of(job_id)
    role = session.role if session else "lead"
    leads = role == "lead"
    known = {m.id for m in people}
    return answer(
        CrewView(
            people=[MemberView(id=m.id, name=m.name, house=m.house, role=m.role, works_as=m.works_as) for m in people],
            others=[
                MemberView(id=m.id, name=m.name, house=m.house, role=None)
                for m in (crew.everybody() if leads else ())
                if m.id not in known
            ],
            waiting=_waiting(job_id) if leads else [],
            history=[CrewLine(**line) for line in crew.history(job_id)] if leads else [],  # type: ignore[arg-type]
            own_role=role,
            cameras={who: list(which) for who, which in cameras.items()},
        )
    )


def _waiting(job_id: str | None) -> list[WaitingView]:
    return [
        WaitingView(id=w.id, role=w.role, house=w.house, works_as=w.works_as, name=w.name, by=w.by, ends=w.ends)
        for w in services().crew.waiting(job_id)
    ]


def _invited(word: str, ends: datetime) -> Response:
    import segno  # noqa: PLC0415 - loaded when the first link is given

    link = f"{request.host_url}come/{word}"
    picture = io.BytesIO()
    segno.make_qr(link, error="m").save(picture, kind="svg", scale=5, border=2, xmldecl=False, svgns=True)
    return answer(Invited(link=link, qr=picture.getvalue().decode(), ends=ends), 201)


@api.get("/jobs/<string:job>/crew", responses={200: CrewView, **_SIGN}, operation_id="readCrew")
def read_crew(path: s.JobPath) -> Response:
    """Who works on a job, as what, and which cameras are whose."""
    return _crew(path.job)


@api.post("/jobs/<string:job>/crew/invitations", responses={201: Invited, **_SIGN}, operation_id="invite")
def invite(path: s.JobPath, body: Invite) -> Response:
    """A link into the job; only a lead of the house gives more than that."""
    person = current_person()
    house: House = body.house if person.house == "lead" else "member"
    made = services().crew.invite(person, house=house, job=path.job, role=body.role, works_as=body.works_as)
    return _invited(*made)


@api.delete(
    "/jobs/<string:job>/crew/invitations/<int:invitation>",
    responses={200: CrewView, **_SIGN},
    operation_id="takeBackInvitation",
)
def take_back_invitation(path: WaitingPath) -> Response:
    """A link is good for nothing any more."""
    services().crew.take_back(path.job, path.invitation, current_person())
    return _crew(path.job)


@api.post("/jobs/<string:job>/crew", responses={200: CrewView, **_SIGN}, operation_id="setRole")
def set_role(path: s.JobPath, body: SetRole) -> Response:
    """Give somebody another role in a job, or none; the last who leads it stays."""
    services().crew.set_role(path.job, body.account, body.role, current_person())
    return _crew(path.job)


@api.post("/jobs/<string:job>/crew/works-as", responses={200: CrewView, **_SIGN}, operation_id="setWorksAs")
def set_works_as(path: s.JobPath, body: WorksAs) -> Response:
    """Say as whom of the plan somebody works: those cameras are his own."""
    services().crew.set_works_as(path.job, body.account, body.works_as, current_person())
    return _crew(path.job)


class HouseView(Told):
    """Everybody who has an account here, and links to accounts and passwords that wait."""

    people: list[MemberView]
    waiting: list[WaitingView]


class HouseLinkPath(s.Strict):
    """A link of the house."""

    invitation: int


class HousePath(s.Strict):
    """Somebody."""

    account: Label


class SetHouse(s.Strict):
    """Another standing; none: the account goes, what he did stays under his name."""

    house: House | None


def _house() -> Response:
    people = services().crew.everybody()
    return answer(
        HouseView(
            people=[MemberView(id=m.id, name=m.name, house=m.house, role=None) for m in people],
            waiting=_waiting(None),
        )
    )


@api.get("/house", responses={200: HouseView, **_SIGN}, operation_id="readHouse")
def read_house() -> Response:
    """Everybody who has an account here."""
    return _house()


@api.post("/house/<string:account>", responses={200: HouseView, **_SIGN}, operation_id="setHouse")
def set_house(path: HousePath, body: SetHouse) -> Response:
    """Give somebody another standing in the house, or end his account; the last who leads it stays."""
    services().crew.set_house(path.account, body.house, current_person())
    return _house()


@api.post("/house/<string:account>/password", responses={201: Invited, **_SIGN}, operation_id="resetPassword")
def reset_password(path: HousePath) -> Response:
    """A link with which somebody sets a new password."""
    return _invited(*services().crew.reset(current_person(), path.account))


@api.post("/house/invitations", responses={201: Invited, **_SIGN}, operation_id="inviteToHouse")
def invite_to_house(body: InviteToHouse) -> Response:
    """A link to an account of this house."""
    return _invited(*services().crew.invite(current_person(), house=body.house, job=None, role=None))


@api.delete(
    "/house/invitations/<int:invitation>", responses={200: HouseView, **_SIGN}, operation_id="takeBackHouseInvitation"
)
def take_back_house_invitation(path: HouseLinkPath) -> Response:
    """A link to an account or a new password is good for nothing any more."""
    services().crew.take_back(None, path.invitation, current_person())
    return _house()
