"""The command line: judge a job file without browser or database, serve, and remake generated files."""

from __future__ import annotations

import fcntl
import json
import math
import os
import re
import socket
import sys
import tempfile
import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import ExitStack, contextmanager, nullcontext
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any, NoReturn, TypeVar

import click

T = TypeVar("T")

if TYPE_CHECKING:
    from .core.crew.rights import House, Role
    from .core.day.laid_out import LaidOut
    from .core.job.job import Job
    from .core.power.checks import PackRun
    from .formats.job_file import JobFile, Problem

# Each command imports what it runs: a process that only starts others need not load the numerics.

__all__ = ["main"]

_ROOT = Path(__file__).parent.parent
_FILE = click.Path(exists=True, dir_okay=False, path_type=Path)


@click.group()
def main() -> None:
    """Lift Crate: camera rigs that fit, balance and stay powered."""


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="For machines.")
def check(file: Path, as_json: bool) -> None:
    """Judge a job FILE: exit 0 without Stops, 1 with, 2 when it cannot be read."""
    report = _report(_read(file, as_json))
    click.echo(json.dumps(report, indent=1, ensure_ascii=False, allow_nan=False) if as_json else _as_text(report))
    sys.exit(1 if report["stops"] else 0)


def _read(file: Path, as_json: bool) -> JobFile:
    """The job of a file; ends the program with 2 where it cannot be read."""
    from .formats.job_file import BadJobFile, Problem, parse

    try:
        return parse(file.read_bytes())
    except OSError as error:
        _unreadable([Problem("$", f"{file} cannot be read: {error.strerror}")], as_json)
    except BadJobFile as error:
        _unreadable(error.problems, as_json)


def _unreadable(problems: Iterable[Problem], as_json: bool) -> NoReturn:
    if as_json:
        click.echo(json.dumps({"problems": [{"path": p.path, "message": p.message} for p in problems]}, indent=1))
    else:
        for problem in problems:
            click.echo(str(problem), err=True)
    sys.exit(2)


def _report(file: JobFile) -> dict[str, Any]:
    """Every rig in every part of the day: figures and call-outs, with value, limit, unit, spread and working."""
    from pydantic import TypeAdapter

    from .core.drawings.figures import Figures, figures_of
    from .core.job.job import evaluate_job
    from .formats.job_file import catalogue_of

    plain = TypeAdapter(Figures)
    rigs: list[dict[str, Any]] = []
    for part, rig, build, judged in evaluate_job(file.job, catalogue_of(file)):
        held, first = judged.stand.carried, judged.stand.first_empty
        rigs.append(
            {
                "part": part.id,
                "rig": rig.id,
                "camera": rig.number,
                "build": build.id,
                "mass_g": round(held.total.mass_g, 1),
                "payload_g": round(held.payload.mass_g, 1),
                "payload_sd_g": round(held.payload.mass_sd_g, 1),
                "cg_mm": [round(float(v), 2) for v in held.payload.cg_mm],
                "front_nm": round(held.front_nm, 3),
                "draw_w": round(judged.stand.draw_w, 2),
                **_hours(first),
                "hours_needed": part.conditions.untouched_h,
                **plain.dump_python(figures_of(judged), mode="json", exclude={"draw_w"}),
            }
        )
    counts = [c["level"] for r in rigs for c in r["call_outs"]]
    return {
        "job": file.job.id,
        "title": file.job.title,
        "stops": counts.count("stop"),
        "watches": counts.count("watch"),
        "rigs": rigs,
    }


def _hours(first: PackRun | None) -> dict[str, Any]:
    """Hours of the pack that ends first, or why there are none to tell."""
    if first is None:
        return {"hours": None, "ends_first": None, "hours_missing": "no pack"}
    if not math.isfinite(first.hours):
        return {"hours": None, "ends_first": None, "hours_missing": f"{first.pack} feeds nothing that draws"}
    return {"hours": round(first.hours, 3), "ends_first": first.pack, "hours_missing": None}


def _as_text(report: dict[str, Any]) -> str:
    from .core.wording import signed

    lines = [f"{report['title']}: {report['stops']} Stops, {report['watches']} Watches"]
    for rig in report["rigs"]:
        hours = rig["hours_missing"] if rig["hours"] is None else f"{rig['hours']:.2f} h of {rig['hours_needed']:.2f} h"
        lines.append(
            f"\n{rig['part']} · camera {rig['camera']} {rig['rig']} · {rig['build']}: {rig['payload_g']:.0f} g ±"
            f" {rig['payload_sd_g']:.0f} g, CG ({', '.join(f'{v:.1f}' for v in rig['cg_mm'])}) mm, front"
            f" {signed(rig['front_nm'], 2)} N·m, {rig['draw_w']:.1f} W, {hours}"
        )
        lines += [f"  {c['level'].capitalize():5}  {c['code']}: {c['text']}" for c in rig["call_outs"]] or ["  clear"]
    return "\n".join(lines)


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--part", default="", help="Only the day of this part; without it every day.")
@click.option("--json", "as_json", is_flag=True, help="For machines.")
def plan(file: Path, part: str, as_json: bool) -> None:
    """Plan the swaps of a job FILE: exit 0 when every day holds, 1 when one does not, 2 when it cannot be read."""
    from .core.job.job import NotInJob

    job_file = _read(file, as_json)
    try:
        days = _plans(job_file, part)
    except NotInJob as error:
        raise click.UsageError(str(error)) from None
    report = {"job": job_file.job.id, "title": job_file.job.title, "days": days}
    click.echo(json.dumps(report, indent=1, ensure_ascii=False, allow_nan=False) if as_json else _plans_as_text(days))
    sys.exit(0 if all(day["holds"] for day in days) else 1)


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="For machines.")
def day(file: Path, as_json: bool) -> None:
    """Lay out the days of a job FILE: changes, cards, sound, run sheets (without packs swapped: 'swaps' plans those).

    Exit 0 without Stops, 1 with, 2 unreadable.
    """
    from dataclasses import asdict

    from .core.callouts import Level
    from .core.day.laid_out import RunAsked, lay_out, plan_the_run
    from .core.drawings.figures import call_out_figures
    from .formats.job_file import catalogue_of

    job_file = _read(file, as_json)
    job = job_file.job
    catalogue = catalogue_of(job_file)
    found = lay_out(job, catalogue)
    sheets = plan_the_run(job, catalogue, RunAsked(late_part="", late_min=0.0), lambda *_: False).sheets
    against = [f for f in (*found.findings, *(f for sheet in sheets for f in sheet.findings)) if f.level > Level.CLEAR]
    tasks: list[dict[str, Any]] = [
        {
            "starts": t.starts.isoformat() if t.starts else None,
            "minutes": t.minutes,
            "task": t.kind,
            "camera": t.rig,
            "voice": t.voice,
            "part": t.part,
            "what": t.told,
            "who": list(t.who),
        }
        for sheet in sheets
        for t in sheet.tasks
    ]
    if as_json:
        report = {
            "job": job.id,
            "title": job.title,
            "changes": [
                {
                    "camera": b.rig.id,
                    "into": b.after.id,
                    "gap_min": b.change.gap_min,
                    "alone_min": b.change.alone_min,
                    "two_min": b.change.two_min,
                    "fits": b.change.fits,
                }
                for b in found.table.between
                if b.change.tasks
            ],
            "cards": [
                {"camera": x.rig.id, "part": x.part.id, "slot": p.slot, "card": p.card, "gb": p.gb, "share": p.share}
                for x in found.media.lines
                for p in x.pieces
            ],
            "sound": _sound_told(job, found),
            "run_sheet": tasks,
            "call_outs": [asdict(call_out_figures(f)) for f in against],
        }
        click.echo(json.dumps(report, indent=1, ensure_ascii=False, allow_nan=False))
    else:
        for t in tasks:
            at = f"{t['starts'][:10]} {t['starts'][11:16]}" if t["starts"] else "no time for it "
            click.echo(f"{at}  {t['task']} {t['camera'] or t['voice']}: {t['what']} ({' and '.join(t['who'])})")
        for f in against:
            click.echo(f"{f.level.name.capitalize():5}  {f.code}: {f.text}")
    sys.exit(1 if any(f.level is Level.STOP for f in against) else 0)


def _sound_told(job: Job, day: LaidOut) -> dict[str, Any]:
    """Voices by part with what their sources hang on, channels and what they disturb, and what is kept in step how."""
    from .core.day.radio import free_set

    sound = day.sound
    free = free_set([air.channels for air in sound.air], job.sound.bands, job.settings)
    return {
        "voices": [
            {
                "voice": h.voice.id,
                "part": h.part.id,
                "wanted": h.wanted,
                "independent": list(h.independent),
                "sources": [
                    {"source": c.source.label, "whole": c.whole, "hangs_on": sorted(c.hangs_on)} for c in h.chains
                ],
            }
            for h in sound.heard
        ],
        "radio": [
            {
                "part": air.part.id,
                "channels_khz": {" ".join(c.name): c.khz for c in air.channels},
                "too_near": [sorted((hit.of[0].khz, hit.on.khz)) for hit in air.near],
                "products": [
                    {"of_khz": [c.khz for c in hit.of], "at_khz": hit.khz, "on_khz": hit.on.khz} for hit in air.products
                ],
            }
            for air in sound.air
        ],
        "free_khz": None if free is None else {" ".join(name): khz for name, khz in free.items()},
        "in_step": [
            {
                "part": d.part.id,
                "unit": d.unit,
                "method": d.method,
                "drift_frames": d.drift_frames,
                "jam_again_h": d.jam_again_h,
            }
            for d in sound.devices
        ],
        "guide": [
            {"part": g.part.id, "camera": g.rig, "voice": g.voice, "far_m": g.far_m, "frames_late": g.frames}
            for g in sound.guides
        ],
    }


def _plans(file: JobFile, part: str) -> list[dict[str, Any]]:
    """Every day of a job, or that of a part, planned: packs, swaps, charging, what stands against it and cures."""
    from dataclasses import asdict

    from .core.callouts import Level
    from .core.drawings.figures import call_out_figures
    from .core.swaps.card import swaps_of
    from .core.swaps.day import days_of
    from .core.swaps.what_if import WhatIf, day_asked, plan_the_day, verdict_of
    from .formats.job_file import catalogue_of

    catalogue, found = catalogue_of(file), []
    for first in [part] if part else [day[0].id for day in days_of(file.job)]:
        day = plan_the_day(file.job, catalogue, day_asked(file.job, first, WhatIf()), (), lambda *_: False)
        if day.plan is None:
            continue
        verdict = verdict_of(day)
        found.append(
            {
                "part": day_asked(file.job, first, WhatIf()).part,
                "verdict": verdict.text,
                "holds": verdict.level < Level.STOP,
                "packs": day.plan.packs,
                "least_packs": day.plan.least,
                "proven": day.plan.proven,
                "bring": dict(day.plan.bring),
                "swaps": [{**asdict(swap), "at": swap.at.isoformat()} for swap in swaps_of(day.problem, day.plan)],
                "charges": [asdict(charge) for charge in day.plan.charges],
                "step_min": day.problem.step_min,
                "call_outs": [asdict(call_out_figures(f)) for f in day.findings if f.level > Level.CLEAR],
                "cures": [asdict(cure) for cure in day.cures],
            }
        )
    return found


def _plans_as_text(days: list[dict[str, Any]]) -> str:
    lines: list[str] = []
    for day in days:
        proven = "the fewest" if day["proven"] else f"best found, at least {day['least_packs']} are needed"
        lines.append(f"{day['part']}: {day['verdict']}; {day['packs']} packs ({proven})")
        lines += [f"  bring {count} × {name}" for name, count in day["bring"].items()]
        for swap in day["swaps"]:
            out = f", {swap['pack_out']} out to {swap['take_to']}" if swap["pack_out"] else ""
            who = f" ({swap['person']})" if swap["person"] else ""
            at = f"{swap['at'][:10]} {swap['at'][11:16]}"
            lines.append(f"  {at}  {swap['label']}: {swap['pack_in']} in from {swap['bring_from']}{out}{who}")
        lines += [f"  {c['level'].capitalize():5}  {c['code']}: {c['text']}" for c in day["call_outs"]]
        lines += [
            f"  Fix    {c['title']}: {'works' if c['works'] else str(c['bring']) + ' short'}" for c in day["cures"]
        ]
        lines.append("")
    return "\n".join(lines) or "Nothing runs on packs."


@main.command("demo-file")
def demo_file() -> None:
    """Print the demo job as a job file."""
    from .demo import demo_job_file
    from .formats.job_file import dump

    click.echo(dump(demo_job_file()), nl=False)


@main.command("create-database", hidden=True)
def create_database() -> None:
    """Make the role and database that DATABASE_URL names, if they are not there, with the powers of ADMIN_URL."""
    from .store.setup import create_database as create

    admin = os.environ.get("ADMIN_URL")
    create(_database_url(), admin or _database_url())


def _database_url() -> str:
    url = os.environ.get("DATABASE_URL")
    if not url:
        raise click.ClickException("DATABASE_URL is not set; './run demo' starts a PostgreSQL and sets it.")
    return url


@main.command()
@click.option("--port", default=8470, show_default=True)
@click.option("--demo", is_flag=True, help="Load the demo job when the database has none.")
@click.option("--web", default=2, show_default=True, help="Processes that answer browsers.")
@click.option(
    "--workers", default=1, show_default=True, help="Processes that plan days of swaps; others may run elsewhere."
)
@click.option("--open", "open_", is_flag=True, help="Nobody signs in: whoever is at this machine may do all.")
@click.option("--lan", is_flag=True, help="Answer in the local network too, over TLS, for those who have accounts.")
@click.option("--lan-port", default=8443, show_default=True)
@click.option("--name", default="lift-crate", show_default=True, help="Name in the local network: NAME.local.")
@click.option("--cert", type=_FILE, help="A certificate from elsewhere, in the place of one of our own.")
@click.option("--key", type=_FILE, help="The key of --cert.")
@click.option("--nightly", "nightly_", metavar="FOLDER", help="Back up every night into FOLDER.")
def serve(
    *,
    port: int,
    demo: bool,
    web: int,
    workers: int,
    open_: bool,
    lan: bool,
    lan_port: int,
    name: str,
    cert: Path | None,
    key: Path | None,
    nightly_: str | None,
) -> None:
    """Serve the application on loopback, and with --lan in the local network."""
    from .processes import Processes

    if lan and (demo or open_):
        raise click.ClickException("Where nobody signs in, only this machine is answered; leave --open or --lan out.")
    if (cert is None) != (key is None):
        raise click.ClickException("A certificate and its key belong together: give --cert and --key.")
    if demo or open_:
        os.environ["LIFT_CRATE_NOBODY_SIGNS_IN"] = "yes"
    _require_free(port)
    url = _database_url()
    if demo:
        _start_stand_ins()
    commands = [
        [sys.executable, "-m", "lift_crate.web.serving", str(port), str(web)],
        *([[sys.executable, "-m", "lift_crate.cli", "work"]] * workers),
    ]
    if nightly_:
        commands.append([sys.executable, "-m", "lift_crate.cli", "nightly", nightly_])
    outside = _outside(name, lan_port, cert, key) if lan else None
    if outside:
        commands.append(
            [sys.executable, "-m", "lift_crate.web.serving", str(lan_port), str(web), "--tls", *outside.tls]
        )
    # The server loads what it needs while the database is made ready, and listens after that.
    with Processes(commands).begun() as processes:
        from .store.database import migrate
        from .store.errors import DatabaseAway

        try:
            migrate(url)
        except DatabaseAway as error:
            raise click.ClickException(f"PostgreSQL does not answer at DATABASE_URL: {error.__cause__}") from None
        code = _make_ready(demo=demo, open_=demo or open_)
        if code and outside:
            raise click.ClickException(
                "Nobody has an account here yet, and without accounts only this machine is answered. Start it without"
                " --lan once and make the first account."
            )
        if code:
            click.echo(f"Nobody has an account here yet. Make the first one with this code: {code}")
        click.echo(f"Lift Crate is at http://127.0.0.1:{port}/  (Ctrl+C ends it)")
        with outside.announced() if outside else nullcontext():
            sys.exit(processes.run())


@dataclass(frozen=True)
class _Outside:
    """How this server is reached in the local network: its name, addresses, certificate and key."""

    host: str
    port: int
    addresses: tuple[str, ...]
    tls: tuple[str, str]
    fingerprint: str

    @contextmanager
    def announced(self) -> Iterator[None]:
        """Told in the network and in the terminal, with a picture to be scanned and how a phone trusts it."""
        import segno

        from .beyond import announced

        address = f"https://{self.host}:{self.port}/"
        click.echo(f"In the local network it is at {address}")
        for each in self.addresses:
            click.echo(f"  where names do not work: https://{each}:{self.port}/")
        segno.make_qr(address).terminal(compact=True)
        if self.fingerprint:
            click.echo(
                f"A phone trusts it once: open {address}authority.crt, go on past the warning, and put what is loaded"
                " among the authorities it trusts: on some phones under Settings, Profile, then Certificate trust; on"
                " others under Security, Install a CA certificate.\nCompare what the phone shows with this before you"
                f" do:\n  {self.fingerprint}"
            )
        with ExitStack() as told:
            try:
                told.enter_context(announced(self.host, self.port, self.addresses))
            except OSError as error:
                click.echo(f"The name could not be told in the network ({error}); use an address.", err=True)
            yield


def _outside(name: str, port: int, cert: Path | None, key: Path | None) -> _Outside:
    from .beyond import Authority, own_addresses, private

    if not re.fullmatch(r"[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?", name):
        raise click.ClickException(f"'{name}' is no name in a network; take letters and digits, as in lift-crate.")
    _require_free(port)
    host, addresses = f"{name}.local", tuple(own_addresses())
    known = os.environ.get("LIFT_CRATE_HOSTS", "")
    os.environ["LIFT_CRATE_HOSTS"] = ",".join(filter(None, [known, host, *addresses]))
    if cert and key:
        return _Outside(host, port, addresses, (str(cert), str(key)), "")
    authority = Authority(Path(os.environ.get("LIFT_CRATE_DATA") or _ROOT / ".data") / "authority")
    tls = authority.vouch(host, addresses)
    os.environ["LIFT_CRATE_AUTHORITY"] = str(authority.certificate)
    return _Outside(host, port, private(addresses), (str(tls[0]), str(tls[1])), authority.fingerprint())


_DEMO_CREW: tuple[tuple[str, House, Role], ...] = (
    ("Op 2", "member", "operator"),
    ("Loader", "keeper", "keeper"),
    ("Stage manager", "member", "viewer"),
)
"""Whom one can be in the demo, to see what each may do."""


def _make_ready(*, demo: bool, open_: bool) -> str | None:
    """The open standards on the shelf; with ``demo`` its job, where there is none, and its crew.

    The code for the first account, where nobody has one and somebody has to sign in.
    """
    from .formats.standards import standard_interfaces
    from .store.crew import CrewStore
    from .store.database import has_jobs, open_pool
    from .store.jobs import JobStore

    with open_pool(_database_url(), size=1) as pool:
        jobs = JobStore(pool)
        jobs.know_standards(standard_interfaces())
        if demo and not has_jobs(pool):
            from .demo import demo_job_file

            jobs.import_file(demo_job_file())
        crew = CrewStore(pool)
        if demo:
            crew.add_demo(_DEMO_CREW, "dry-dock-opera")
        if open_:
            return None
        if not demo:
            crew.lead_what_nobody_leads()
        return crew.new_first_code()


@main.command()
@click.option("--until-empty", is_flag=True, help="End when there is nothing left to plan.")
def work(until_empty: bool) -> None:
    """Plan days of swaps for all servers on DATABASE_URL."""
    from .store.database import open_pool
    from .worker.queue import work as carry_on

    with open_pool(_database_url(), size=3) as pool:
        carry_on(_database_url(), pool, wait=not until_empty)


@main.command()
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
def backup(file: Path) -> None:
    """Write everything there is to FILE, read back before it counts."""
    from .store.backup import back_up

    rows = _told(lambda: back_up(_database_url(), file))
    click.echo(f"{file}: {sum(rows.values())} rows of {len(rows)} tables, read back and compared.")


@main.command()
@click.argument("folder", type=click.Path(path_type=Path, file_okay=False))
@click.option("--at", default="04:15", show_default=True, help="When, by this machine's clock.")
@click.option("--keep", default=14, show_default=True, help="So many are kept; older ones go when a new one counts.")
@click.option("--now", is_flag=True, help="One at once, and end.")
def nightly(folder: Path, at: str, keep: int, now: bool) -> None:
    """Back up every night into FOLDER."""
    from .store.backup import back_up_in

    try:
        hour, minute = (int(part) for part in at.split(":"))
        datetime.now().astimezone().replace(hour=hour, minute=minute)
    except ValueError:
        raise click.ClickException(f"'{at}' is no time of day; write it as in 04:15.") from None
    while True:
        if not now:
            time.sleep(_until(datetime.now().astimezone(), hour, minute))
        try:
            made, gone = back_up_in(_database_url(), folder, keep)
        except Exception as error:  # tomorrow is another night
            if now:
                raise click.ClickException(str(error)) from None
            click.echo(f"The backup of this night was not made: {error}", err=True)
        else:
            click.echo(f"{made} is made, read back and compared; {gone} older ones are gone.")
        if now:
            return


def _until(now: datetime, hour: int, minute: int) -> float:
    """Seconds until a time of day comes next."""
    then = now.replace(hour=hour, minute=minute, second=0, microsecond=0)
    if then <= now:
        then += timedelta(days=1)
    return max(1.0, (then - now).total_seconds())


@main.command()
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@click.option("--yes", is_flag=True, help="Do not ask.")
def restore(file: Path, yes: bool) -> None:
    """Put what FILE has in the place of what is here; that is kept beside it."""
    from .store.backup import restore as put_back

    if not yes:
        click.confirm(
            f"Everything here becomes as it was in {file}; what is here now is kept beside it. Go on?", abort=True
        )
    kept = _told(lambda: put_back(_database_url(), file))
    click.echo(f"{file} is in use. What was here is kept as the database {kept}.")


def _told(doing: Callable[[], T]) -> T:
    from .core.errors import LiftCrateError

    try:
        return doing()
    except LiftCrateError as error:
        raise click.ClickException(str(error)) from None


_STATION_SPEED = 400.0
"""The demo's copies are done while one looks."""


def _start_stand_ins() -> None:
    """The simulated devices, and the application pointed at them, unless others are named."""
    from .devices.simulated_gimbal import SimulatedGimbal
    from .devices.simulated_power import SimulatedCharger, SimulatedMeter
    from .devices.simulated_reader import SimulatedReader
    from .devices.simulated_scale import SimulatedScale
    from .devices.simulated_station import SimulatedStation
    from .devices.simulated_weather import SimulatedWeather

    if not os.environ.get("LIFT_CRATE_SCALE"):
        scale = SimulatedScale()
        scale.start()
        scale.answer("P 1652")
        os.environ["LIFT_CRATE_SCALE"] = scale.address
    if not os.environ.get("LIFT_CRATE_GIMBAL"):
        gimbal = SimulatedGimbal()
        gimbal.start()
        os.environ["LIFT_CRATE_GIMBAL"] = gimbal.address
    if not os.environ.get("LIFT_CRATE_METER"):
        meter = SimulatedMeter()
        meter.start()
        os.environ["LIFT_CRATE_METER"] = meter.address
    if not os.environ.get("LIFT_CRATE_CHARGER"):
        charger = SimulatedCharger()
        charger.start()
        charger.answer("P 1 98 0.34")
        charger.answer("P 3 98 0.91")
        os.environ["LIFT_CRATE_CHARGER"] = charger.address
    if not os.environ.get("LIFT_CRATE_STATION"):
        station = SimulatedStation(speed=_STATION_SPEED, failing=("WIDE-08",))
        station.start()
        os.environ["LIFT_CRATE_STATION"] = station.address
    if not os.environ.get("LIFT_CRATE_READER"):
        reader = SimulatedReader(scanned=("C6-1", "R2-1", "ZOOM-2"))
        reader.start()
        os.environ["LIFT_CRATE_READER"] = reader.address
    if not os.environ.get("LIFT_CRATE_WEATHER"):
        weather = SimulatedWeather()
        weather.start()
        os.environ["LIFT_CRATE_WEATHER"] = weather.address


_HELD: list[IO[str]] = []
"""Open as long as this server lives: what says that a port is its own."""


def _require_free(port: int, wait_s: float = 8.0) -> None:
    """Wait for a port: what a server that was killed had begun is answered first, and holds it so long. Of two that
    are started at once one has it, before it listens.
    """
    ends = time.monotonic() + wait_s
    ours = (Path(tempfile.gettempdir()) / f"lift-crate-{os.getuid()}-{port}").open("a")
    _HELD.append(ours)
    try:
        fcntl.flock(ours, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        raise click.ClickException(
            f"Lift Crate is being started on port {port} already, or runs there: http://127.0.0.1:{port}/. Stop it"
            " first, or choose another with LIFT_CRATE_PORT=… ./run start"
        ) from None
    while True:
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                if time.monotonic() > ends:
                    raise click.ClickException(
                        f"Port {port} is taken by another program; choose one with LIFT_CRATE_PORT=… ./run demo"
                    ) from None
            else:
                return
        time.sleep(0.2)


@main.command(hidden=True)
def contracts() -> None:
    """Remake docs/openapi.json, docs/job-file.schema.json and docs/call-outs.md."""
    for name, content in generated_documents().items():
        (_ROOT / "docs" / name).write_text(content, encoding="utf-8")


def generated_documents() -> dict[str, str]:
    """Documents made from the code, by their name under docs/."""
    from .core.callouts import CALL_OUTS
    from .formats.job_file import json_schema
    from .web.app import create_app

    table = "\n".join(
        f"| `{c.code}` | {c.title} | {c.why} | {c.cures} |" for c in sorted(CALL_OUTS.values(), key=lambda c: c.code)
    )
    return {
        "openapi.json": json.dumps(create_app(None).api_doc, indent=1, sort_keys=True, default=str) + "\n",
        "job-file.schema.json": json.dumps(json_schema(), indent=1, sort_keys=True) + "\n",
        "call-outs.md": (
            "# Call-outs\n\nMade from `lift_crate/core/callouts.py` by `./run contracts`.\n\n| code | call-out | why"
            f" it matters | usual cures |\n| --- | --- | --- | --- |\n{table}\n"
        ),
    }


if __name__ == "__main__":
    main()
