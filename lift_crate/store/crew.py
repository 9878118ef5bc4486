"""Accounts, roles, sessions and invitations: who works here, and as whom a browser is signed in."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from typing import TYPE_CHECKING, TypeVar

from ..core.crew.rights import House, NotYours, Person, Role, fewest_leads, raises, raises_in_house
from ..core.crew.secrets import FREE_BY_ADDRESS, FREE_BY_NAME, checked_name, checked_password, look_alike, wait_s
from ..core.errors import LiftCrateError
from ..core.gear.labels import fresh_id
from ..core.job.job import NotInJob
from .database import Connection, Pool, crew_queries, reading, writing
from .errors import Conflict

if TYPE_CHECKING:
    from argon2 import PasswordHasher

__all__ = [
    "IDLE_H",
    "MOST_H",
    "Aside",
    "BadLink",
    "CrewStore",
    "Invitation",
    "Member",
    "NoSignIn",
    "NothingGained",
    "Session",
    "SignedIn",
    "SignedOut",
    "TooManyTries",
    "Waiting",
]

IDLE_H, MOST_H = 24 * 7, 24 * 30
"""A session ends when nobody used it for so long, and in any case after so long."""
_INVITED_H = 72
R = TypeVar("R")


class Aside:
    """Does what computes long, where it holds nobody else; this one at once. Raises TooManyTries where many wait."""

    def __call__(self, work: Callable[[], R]) -> R:
        """What ``work`` gives."""
        return work()


class NoSignIn(LiftCrateError):
    """The name or the password is wrong; which one is not told."""

    code = "crew.sign_in"

    def __str__(self) -> str:
        return "The name or the password is not right."


class SignedOut(LiftCrateError):
    """Nobody is signed in, or not any more."""

    code = "crew.signed_out"

    def __str__(self) -> str:
        return "Sign in to go on; nothing was changed."


class TooManyTries(LiftCrateError):
    """Wrong so often that one waits."""

    code = "crew.wait"

    def __init__(self, wait: float, why: str = "Wrong several times.") -> None:
        self.wait, self.why = wait, why

    def __str__(self) -> str:
        return f"{self.why} Wait {max(1.0, self.wait):.0f} s and try again."


class BadLink(LiftCrateError, LookupError):
    """A link or a code that was used, has run out or never was."""

    code = "crew.link"

    def __str__(self) -> str:
        return "This link or code was used, has run out, or is mistyped. Ask who gave it to you for a new one."


class NameTaken(Conflict):
    """Somebody goes by that name."""

    code = "crew.name"

    def __init__(self, name: str) -> None:
        self.name = name

    def __str__(self) -> str:
        return f"Somebody here goes by the name {self.name}, or by one that looks like it; take another."


class NothingGained(Conflict):
    """A link that gives who opens it nothing, or less than he has."""

    code = "crew.link_for_less"

    def __init__(self, why: str) -> None:
        self.why = why

    def __str__(self) -> str:
        return f"{self.why} The link was not used and is still good for somebody else."


@dataclass(frozen=True, kw_only=True)
class Session:
    """A browser that is signed in: who, his role in the job that was asked about, and the word that its edits carry."""

    id: int
    word: str
    person: Person
    role: Role | None
    demo: bool
    works_as: str = ""
    """The name in the plan of that job whose cameras are his."""


@dataclass(frozen=True, kw_only=True)
class SignedIn:
    """Somebody who has just signed in, the token that his browser keeps, and the one by which it is known again."""

    person: Person
    token: str
    device: str


@dataclass(frozen=True, kw_only=True)
class Member:
    """Somebody in a job or in the house."""

    id: str
    name: str
    house: House
    role: Role | None = None
    works_as: str = ""
    demo: bool = False


@dataclass(frozen=True, kw_only=True)
class Invitation:
    """What a link leads to: a role in a job, a standing in the house, or a new password for somebody."""

    id: int
    account: str | None
    name: str | None
    house: House | None
    job: str | None
    title: str | None
    role: Role | None
    works_as: str
    by: str


@dataclass(frozen=True, kw_only=True)
class Waiting:
    """A link that nobody has used yet: into a job, into the house, or to a new password for somebody (``name``)."""

    id: int
    role: Role | None
    house: House
    works_as: str = ""
    name: str | None = None
    by: str
    ends: datetime


def _digest(secret: str) -> bytes:
    return hashlib.sha256(secret.encode()).digest()


class CrewStore:
    """Keeps who works here. Tokens and codes are kept as digests, passwords with argon2id, hashed ``aside``."""

    def __init__(self, pool: Pool, aside: Aside | None = None) -> None:
        self.pool, self._aside = pool, aside or Aside()

    def anybody(self) -> bool:
        """Whether there is an account at all."""
        with reading(self.pool) as connection:
            return bool(crew_queries.any_account(connection)["found"])

    # The first account

    def new_first_code(self) -> str | None:
        """A code with which the first account can be made until the next start; None where there is one already."""
        code = "-".join(secrets.token_hex(2) for _ in range(3))
        with writing(self.pool) as connection:
            if crew_queries.any_account(connection)["found"]:
                return None
            crew_queries.put_first_code(connection, code=_digest(code))
        return code

    def make_first(self, code: str, name: str, password: str, address: str) -> Person:
        """The first account, which leads every job that is there; raises BadLink, BadSecret, TooManyTries."""
        said = checked_name(name)
        checked_password(password, said)
        tried = self._try("the first account", address)
        hashed = self._hash(password)
        with writing(self.pool) as connection:
            list(crew_queries.lock_accounts(connection))
            row = crew_queries.first_code(connection)
            right = row is not None and secrets.compare_digest(row["code"], _digest(code.strip().lower()))
            if not right or crew_queries.any_account(connection)["found"]:
                raise BadLink
            person = self._add(connection, said, "lead", hashed)
            crew_queries.lead_all_jobs(connection, account=person.id)
            crew_queries.drop_first_code(connection)
            crew_queries.uncount_try(connection, names=list(tried))
            self._note(connection, person.name, None, f"{person.name} made the first account")
            return person

    # Signing in and out

    def sign_in(self, name: str, password: str, address: str, device: str = "") -> Person:
        """Who that is; raises NoSignIn, TooManyTries. Whoever guesses wrong waits longer and longer, by name and by
        address; every try is counted before it is made. A device that he signed in from before (``device``) is counted
        by itself: whoever guesses elsewhere does not lock him out there.
        """
        with reading(self.pool) as connection:
            row = crew_queries.account_named(connection, name=" ".join(name.split()))
            known = bool(
                row
                and device
                and crew_queries.knows_device(connection, token=_digest(device), account=row["id"])["known"]
            )
        tried = self._try(name, address, device if known else "")
        if not self._aside(lambda: _fits(row["password"] if row else None, password)):
            raise NoSignIn
        anew = self._hash(password) if _hasher().check_needs_rehash(row["password"]) else None
        with writing(self.pool) as connection:
            by_who, *by_where = tried
            crew_queries.forget_failures(connection, names=[by_who])
            crew_queries.uncount_try(connection, names=by_where)
            if anew:
                crew_queries.set_password(connection, id=row["id"], password=anew)
        return Person(id=row["id"], name=row["name"], house=row["house"])

    def begin(self, person: Person, agent: str, address: str, before: str = "", device: str = "") -> SignedIn:
        """A new session; one that the browser had before ends with it."""
        token, device = secrets.token_urlsafe(32), device or secrets.token_urlsafe(32)
        with writing(self.pool) as connection:
            crew_queries.forget_sessions(connection, idle_h=IDLE_H, most_h=MOST_H)
            self._end(connection, before)
            crew_queries.know_device(connection, token=_digest(device), account=person.id)
            crew_queries.add_session(
                connection,
                token=_digest(token),
                account=person.id,
                word=secrets.token_urlsafe(16),
                agent=agent[:200],
                address=address[:60],
            )
        return SignedIn(person=person, token=token, device=device)

    def session(self, token: str, job: str | None = None, *, used: bool = True) -> Session | None:
        """Who a token belongs to, and his role in a job; None where it stands no more.

        ``used``: by somebody; a window that only listens keeps no session alive.
        """
        with reading(self.pool) as connection:
            row = crew_queries.session(connection, token=_digest(token), job=job, idle_h=IDLE_H, most_h=MOST_H)
        if row is None:
            return None
        if used and row["unseen"]:
            with writing(self.pool) as connection:
                crew_queries.seen(connection, id=row["session"])
        return Session(
            id=row["session"],
            word=row["word"],
            person=Person(id=row["id"], name=row["name"], house=row["house"]),
            role=row["role"],
            demo=row["demo"],
            works_as=row["works_as"] or "",
        )

    def sign_out(self, token: str) -> None:
        """The session ends."""
        with writing(self.pool) as connection:
            self._end(connection, token)

    def _end(self, connection: Connection, token: str) -> None:
        row = crew_queries.session(connection, token=_digest(token), job=None, idle_h=IDLE_H, most_h=MOST_H)
        if row:
            crew_queries.end_session(connection, id=row["session"], account=row["id"])

    def sessions(self, account: str) -> list[dict[str, object]]:
        """Where somebody is signed in: number, since when, last used, browser, address."""
        with reading(self.pool) as connection:
            return list(crew_queries.sessions_of(connection, account=account, idle_h=IDLE_H, most_h=MOST_H))

    def end_session(self, account: str, session: int | None, but: int | None = None) -> None:
        """Sign out one of somebody's browsers, or all but one."""
        with writing(self.pool) as connection:
            if session is not None:
                crew_queries.end_session(connection, id=session, account=account)
            else:
                crew_queries.end_sessions(connection, account=account, but=but)

    def change_password(self, person: Person, old: str, new: str, keep: int | None, address: str) -> None:
        """Another password; every other browser is signed out. Raises NoSignIn, BadSecret, TooManyTries."""
        tried = self._try(person.name, address)
        with reading(self.pool) as connection:
            row = crew_queries.account(connection, id=person.id)
        if not self._aside(lambda: _fits(row["password"] if row else None, old)):
            raise NoSignIn
        hashed = self._hash(checked_password(new, person.name, self._names()))
        with writing(self.pool) as connection:
            crew_queries.uncount_try(connection, names=list(tried))
            self._set_password(connection, person, hashed, keep)

    def _set_password(self, connection: Connection, person: Person, hashed: str, keep: int | None) -> None:
        """Another password: browsers, known devices and waiting links to a new one go with the old."""
        crew_queries.set_password(connection, id=person.id, password=hashed)
        crew_queries.end_sessions(connection, account=person.id, but=keep)
        crew_queries.forget_devices(connection, account=person.id)
        crew_queries.take_back_passwords_of(connection, account=person.id, by=person.name)

    def _names(self) -> list[str]:
        return [member.name for member in self.everybody()]

    def _hash(self, password: str) -> str:
        return self._aside(lambda: _hasher().hash(password))

    # Invitations

    def invite(
        self, by: Person, *, house: House, job: str | None, role: Role | None, works_as: str = ""
    ) -> tuple[str, datetime]:
        """A link that is used once, into a job or the house; its word and when it runs out. ``works_as``: the name in
        the job's plan whose cameras are those of whoever uses it.
        """
        return self._invite(by, account=None, house=house, job=job, role=role, works_as=works_as)

    def reset(self, by: Person, account: str) -> tuple[str, datetime]:
        """A link to a new password for somebody; raises NotInJob where he is not there."""
        self.member(account)
        return self._invite(by, account=account, house=None, job=None, role=None)

    def _invite(
        self,
        by: Person,
        *,
        account: str | None,
        house: House | None,
        job: str | None,
        role: Role | None,
        works_as: str = "",
    ) -> tuple[str, datetime]:
        token = secrets.token_urlsafe(24)
        with writing(self.pool) as connection:
            row = crew_queries.add_invitation(
                connection,
                token=_digest(token),
                account=account,
                house=house,
                job=job,
                role=role,
                works_as=works_as,
                by=by.name,
                owner=by.id or None,
                hours=_INVITED_H,
            )
            what = f"invited a {role}" if role else "gave a link to a new password" if account else "invited somebody"
            self._note(connection, by.name, job, what)
        return token, row["ends_at"]

    def invitation(self, token: str) -> Invitation:
        """What a link leads to; raises BadLink."""
        with reading(self.pool) as connection:
            return self._invitation(connection, token)

    def _invitation(self, connection: Connection, token: str) -> Invitation:
        row = crew_queries.invitation(connection, token=_digest(token))
        if row is None:
            raise BadLink
        return Invitation(
            id=row["id"],
            account=row["account_id"],
            name=row["name"],
            house=row["house"],
            job=row["job_id"],
            title=row["title"],
            role=row["role"],
            works_as=row["works_as"],
            by=row["made_by"],
        )

    def accept(self, token: str, name: str, password: str, signed_in: Person | None) -> Person:
        """Use a link: a new account, or the one that is signed in, has what it gives; or a password is set anew.

        Raises BadLink, BadSecret, NameTaken, and NothingGained where it would give who is signed in nothing more, or
        take something away.
        """
        asked = self.invitation(token)
        new = asked.account is not None or not (signed_in and signed_in.id)
        said = asked.name or (checked_name(name) if new else "")
        hashed = self._hash(checked_password(password, said, self._names())) if new else ""
        with writing(self.pool) as connection:
            list(crew_queries.lock_accounts(connection))
            asked = self._invitation(connection, token)
            if asked.account:
                row = crew_queries.account(connection, id=asked.account)
                person = Person(id=row["id"], name=row["name"], house=row["house"])
                self._set_password(connection, person, hashed, None)
            elif signed_in and signed_in.id:
                person = self._raised(connection, signed_in, asked)
            else:
                person = self._add(connection, said, asked.house or "member", hashed)
                self._in_job(connection, person, asked)
            if crew_queries.use_invitation(connection, id=asked.id, account=person.id) is None and not asked.account:
                raise BadLink
        return person

    def _raised(self, connection: Connection, person: Person, asked: Invitation) -> Person:
        """Somebody who has an account with what a link gives besides; never with less than he had."""
        row = crew_queries.account(connection, id=person.id)
        house: House = row["house"]
        roles = {each["job_id"]: each["role"] for each in crew_queries.roles_of(connection, account=person.id)}
        now = roles.get(asked.job or "")
        higher = asked.house is not None and raises_in_house(house, asked.house)
        more = asked.role is not None and raises(now, asked.role)
        if not higher and not more:
            if asked.role:
                raise NothingGained(f"You are {now} of this job; this link makes somebody {asked.role}.")
            raise NothingGained(f"You are {house} of the house; this link makes somebody {asked.house}.")
        if higher:
            crew_queries.set_house(connection, id=person.id, house=asked.house)
            self._note(connection, person.name, None, f"{person.name}: {house} → {asked.house}")
        if more:
            self._in_job(connection, person, asked)
        return Person(id=person.id, name=person.name, house=asked.house if higher and asked.house else house)

    def _in_job(self, connection: Connection, person: Person, asked: Invitation) -> None:
        if asked.job and asked.role:
            crew_queries.set_role(connection, job=asked.job, account=person.id, role=asked.role)
            if asked.works_as:
                crew_queries.works_as(connection, job=asked.job, account=person.id, works_as=asked.works_as)
            self._note(connection, person.name, asked.job, f"{person.name} came as {asked.role}")

    def waiting(self, job: str | None) -> list[Waiting]:
        """Links into a job, or to accounts and passwords of the house, that nobody has used yet."""
        with reading(self.pool) as connection:
            if job is None:
                return [
                    Waiting(
                        id=r["id"],
                        role=None,
                        house=r["house"] or "member",
                        name=r["name"],
                        by=r["made_by"],
                        ends=r["ends_at"],
                    )
                    for r in crew_queries.invitations_to_house(connection)
                ]
            return [
                Waiting(
                    id=r["id"],
                    role=r["role"],
                    house=r["house"] or "member",
                    works_as=r["works_as"],
                    by=r["made_by"],
                    ends=r["ends_at"],
                )
                for r in crew_queries.invitations_of(connection, job=job)
            ]

    def take_back(self, job: str | None, invitation: int, by: Person) -> None:
        """A link, into a job or the house, is good for nothing any more; raises NotInJob where it was not waiting."""
        with writing(self.pool) as connection:
            if crew_queries.take_back_invitation(connection, id=invitation, job=job, by=by.name) is None:
                raise NotInJob("waiting link", str(invitation))
            self._note(connection, by.name, job, "took an invitation back")

    # Roles and accounts

    def roles_of(self, account: str) -> dict[str, Role]:
        """By job the role that somebody has there."""
        with reading(self.pool) as connection:
            return {row["job_id"]: row["role"] for row in crew_queries.roles_of(connection, account=account)}

    def crew_of(self, job: str) -> list[Member]:
        """Everybody with a role in a job."""
        with reading(self.pool) as connection:
            return [Member(**row) for row in crew_queries.roles_in(connection, job=job)]

    def history(self, job: str) -> list[dict[str, object]]:
        """What was changed of a job's crew, by whom and when, latest first."""
        with reading(self.pool) as connection:
            return list(crew_queries.crew_lines(connection, job=job))

    def everybody(self) -> list[Member]:
        """Everybody who has an account."""
        with reading(self.pool) as connection:
            return [
                Member(id=r["id"], name=r["name"], house=r["house"], demo=r["demo"])
                for r in crew_queries.accounts(connection)
            ]

    def member(self, account: str) -> Member:
        """Somebody; raises NotInJob where he is not there."""
        found = next((m for m in self.everybody() if m.id == account), None)
        if found is None:
            raise NotInJob("account", account)
        return found

    def lead(self, person: Person, job: str) -> None:
        """Whoever makes a job leads it; where nobody signs in, nobody does."""
        if person.id:
            with writing(self.pool) as connection:
                crew_queries.set_role(connection, job=job, account=person.id, role="lead")

    def set_role(self, job: str, account: str, role: Role | None, by: Person) -> None:
        """Another role in a job, or none; raises NotYours where nobody would lead it then, NotInJob."""
        member = self.member(account)
        with writing(self.pool) as connection:
            list(crew_queries.lock_accounts(connection))
            roles = {row["id"]: row["role"] for row in crew_queries.roles_in(connection, job=job)}
            if fewest_leads(roles, account, role):
                raise NotYours(f"{member.name} is the last who leads this job; make somebody else a lead first.")
            if role is None:
                crew_queries.drop_role(connection, job=job, account=account)
            else:
                crew_queries.set_role(connection, job=job, account=account, role=role)
            if role != "lead":
                crew_queries.take_back_links_of(connection, owner=account, job=job, by=by.name)
            self._note(connection, by.name, job, f"{member.name}: {roles.get(account, 'none')} → {role or 'none'}")

    def set_works_as(self, job: str, account: str, works_as: str, by: Person) -> None:
        """As whom of a job's plan somebody works, which makes those cameras his own; empty: as nobody.

        Raises NotInJob.
        """
        member = self.member(account)
        with writing(self.pool) as connection:
            list(crew_queries.lock_accounts(connection))
            if account not in {row["id"] for row in crew_queries.roles_in(connection, job=job)}:
                raise NotInJob("member of this crew", member.name)
            crew_queries.works_as(connection, job=job, account=account, works_as=works_as)
            self._note(connection, by.name, job, f"{member.name} works as {works_as or 'nobody named'}")

    def lead_what_nobody_leads(self) -> None:
        """Jobs that were made where nobody signs in are led by those who lead the house."""
        with writing(self.pool) as connection:
            list(crew_queries.lock_accounts(connection))
            leads = [
                row["id"] for row in crew_queries.accounts(connection) if row["house"] == "lead" and not row["demo"]
            ]
            for row in list(crew_queries.jobs_without_a_lead(connection)) if leads else ():
                for account in leads:
                    crew_queries.set_role(connection, job=row["id"], account=account, role="lead")

    def set_house(self, account: str, house: House | None, by: Person) -> None:
        """Another standing in the house; None: the account goes. Raises NotYours for the last who leads, NotInJob."""
        member = self.member(account)
        with writing(self.pool) as connection:
            list(crew_queries.lock_accounts(connection))
            houses = {m["id"]: m["house"] for m in crew_queries.accounts(connection)}
            if fewest_leads(houses, account, house):
                raise NotYours(f"{member.name} is the last who leads the house; make somebody else a lead first.")
            if house is None:
                alone = self._leads_alone(connection, account)
                if alone:
                    raise NotYours(f"{member.name} is the last who leads {alone} of the jobs; give them to somebody.")
                crew_queries.end_sessions(connection, account=account, but=None)
                crew_queries.drop_roles(connection, account=account)
                crew_queries.let_go(connection, id=account)
                crew_queries.forget_devices(connection, account=account)
                for row in crew_queries.job_ids(connection):
                    crew_queries.take_back_links_of(connection, owner=account, job=row["id"], by=by.name)
            else:
                crew_queries.set_house(connection, id=account, house=house)
            if house != "lead":
                crew_queries.take_back_links_of(connection, owner=account, job=None, by=by.name)
            self._note(connection, by.name, None, f"{member.name}: {member.house} → {house or 'gone'}")

    @staticmethod
    def _leads_alone(connection: Connection, account: str) -> int:
        led = [r["job_id"] for r in crew_queries.roles_of(connection, account=account) if r["role"] == "lead"]
        crews = [{r["id"]: r["role"] for r in crew_queries.roles_in(connection, job=job)} for job in led]
        return sum(fewest_leads(crew, account, None) for crew in crews)

    def add_demo(self, members: tuple[tuple[str, House, Role], ...], job: str) -> None:
        """Made-up people of the demo, whom one tries without a password; those that are there stay."""
        with writing(self.pool) as connection:
            list(crew_queries.lock_accounts(connection))
            known = {row["name"] for row in crew_queries.accounts(connection)}
            for name, house, role in members:
                if name not in known:
                    person = self._add(connection, name, house, None, demo=True)
                    crew_queries.set_role(connection, job=job, account=person.id, role=role)
                    if role == "operator":
                        crew_queries.works_as(connection, job=job, account=person.id, works_as=name)

    def _add(
        self, connection: Connection, name: str, house: House, hashed: str | None, *, demo: bool = False
    ) -> Person:
        if alike := next((r for r in crew_queries.accounts(connection) if look_alike(r["name"], name)), None):
            raise NameTaken(alike["name"])
        found = fresh_id(name, {row["id"] for row in crew_queries.account_ids(connection)}, "person")
        crew_queries.add_account(connection, id=found, name=name, house=house, password=hashed, demo=demo)
        return Person(id=found, name=name, house=house)

    @staticmethod
    def _note(connection: Connection, actor: str, job: str | None, what: str) -> None:
        crew_queries.add_crew_line(connection, actor=actor, job=job, what=what)

    def _try(self, name: str, address: str, device: str = "") -> list[str]:
        """Count a try before it is made, whoever tries at the same time; what it is counted by, who first. Raises
        TooManyTries for one that has to wait, which is not counted.
        """
        free = _tried(name, address, device)
        names = list(free)
        with writing(self.pool) as connection:
            crew_queries.begin_try(connection, names=names)
            list(crew_queries.hold_tries(connection, names=names))
            rows = list(crew_queries.failures(connection, names=names))
            left = max((wait_s(row["failures"], free[row["at_what"]]) - row["ago_s"] for row in rows), default=0.0)
            if left > 0:
                raise TooManyTries(left)
            crew_queries.count_try(connection, names=names)
        return names


def _tried(name: str, address: str, device: str = "") -> dict[str, int]:
    """What wrong tries are counted by, who first, and how many of each are free."""
    said = " ".join(name.split()).casefold()[:200]
    by_who = f"device {_digest(device).hex()}" if device else f"name {said}"
    return {by_who: FREE_BY_NAME, f"address {address}": FREE_BY_ADDRESS}


@cache
def _hasher() -> PasswordHasher:
    # Loaded when the first password is seen: a server is up sooner.
    from argon2 import PasswordHasher  # noqa: PLC0415

    return PasswordHasher()


@cache
def _nobodys() -> str:
    """Of nobody's password: whoever is unknown is told so as late as who is known."""
    return _hasher().hash(secrets.token_hex(16))


def _fits(hashed: str | None, password: str) -> bool:
    from argon2.exceptions import InvalidHashError, VerificationError  # noqa: PLC0415

    try:
        return _hasher().verify(hashed or _nobodys(), password[:1000]) and hashed is not None
    except (VerificationError, InvalidHashError):
        return False
