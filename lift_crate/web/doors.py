"""Who may come in where: every address of the API with the right that it takes, asked before its view.

The rights themselves, and who has them, are ``core.crew.rights``. An address that is not in the table is shut.
"""

from __future__ import annotations

import re
import secrets
from collections.abc import Mapping

from flask import Flask, abort, current_app, g, request

from ..core.crew.rights import NotYours, Person, Right, Role, allowed, own_cameras
from ..core.job.job import BESIDE, NotInJob
from ..store.crew import SignedOut
from ..store.database import acting, doing, sent_as
from .identity import AT_THE_BENCH, current_browser, current_session, knows
from .services import services

__all__ = ["COOKIE", "DEVICE", "INSIDE", "NEEDS", "cookie_name", "device_cookie_name", "doors", "nobody_signs_in"]

COOKIE = "lift-crate"
SECURE_COOKIE = f"__Host-{COOKIE}"
"""Over TLS: a name that browsers take from this very host only."""
WORD = "X-Session-Word"
"""Header in which a page sends the word of its session with everything that changes something."""
ONCE = "X-Once"
"""Header with the word under which something is taken once, however often it is sent."""
DEVICE = "lift-crate-device"
"""The cookie by which a device that somebody signed in from is known again; it lets nobody in."""
_KEY = re.compile(r"[A-Za-z0-9-]{8,64}")
INSIDE = "lift_crate.inside"
"""Set in the environment of a request that the server asks itself; no client can set it."""
_READS = ("GET", "HEAD", "OPTIONS")

_SCREENS = ("screen", "screen_file")
"""The built pages tell nothing; what is asked by them under /api/ is nowhere."""
_OPEN = "openapi.doc_url openapi.openapi openapi.static"
_ANYONE = (
    "crew.read_me crew.make_first crew.sign_in crew.sign_out crew.try_as crew.read_invitation crew.accept_invitation"
    " passkeys.ask_for_sign_in passkeys.sign_in_by_passkey"
)
_SIGNED_IN = (
    "passkeys.read_passkeys passkeys.ask_for_passkey passkeys.make_passkey passkeys.drop_passkey"
    " devices.read_devices devices.read_scanned"
    " crew.read_sessions crew.end_session crew.end_sessions crew.change_password jobs.list_jobs jobs.read_choices"
)
_READ_SHELF = """
    patterns.pattern_template_file patterns.preview_pattern patterns.read_patterns patterns.read_starter
    pictures.read_picture recipes.export_recipe recipes.list_recipes shelf.export_units shelf.preview_model
    shelf.measure shelf.read_fields shelf.read_interfaces shelf.read_model shelf.read_scale shelf.read_shelf
    shelf.read_unit
"""
_KEEP_SHELF = """
    patterns.add_by_pattern patterns.add_starter patterns.import_models pictures.keep_picture recipes.change_recipe
    recipes.keep_recipe recipes.read_recipes
    log.take_unit_figure shelf.add_units shelf.import_units shelf.put_interface shelf.put_model
    shelf.put_unit shelf.remove_interface shelf.remove_model shelf.remove_unit
"""
_MAKE_JOBS = "jobs.import_job jobs.load_demo jobs.make_job"
_HOUSE = "crew.read_house crew.set_house crew.reset_password crew.invite_to_house crew.take_back_house_invitation"
_READ = """
    balance.read_balance balance.read_levellers balance.read_supports bench.preview_bench
    bench.read_accessories bench.read_adds bench.read_bench bench.read_exchanges bench.read_figures bench.read_fit
    bench.read_history bench.read_places bench.read_port bench.read_remedies bench.read_space cards.export_custody_csv
    cards.read_custody cards.read_station compare.compare_builds cures.read_cures cures.read_deal cures.read_run_cures
    day.export_cards_csv day.export_gear_csv day.read_change day.read_day day.read_gear jobs.count_job jobs.export_job
    jobs.find jobs.read_frame jobs.read_job jobs.read_job_history jobs.read_part jobs.read_replaced lenses.read_lenses
    money.export_budget_csv money.read_budget money.read_wantable package.read_package power.read_bricks
    power.read_power propose.grow_proposal propose.read_starts recipes.read_elsewhere run.export_day_calendar
    run.export_day_pdf
    run.export_run_calendar run.export_run_csv run.read_run sheet.draw_pdf sheet.draw_svg sheet.read_sheet
    sound.export_sound_csv sound.export_sound_log_csv sound.read_free_channels sound.read_sound swaps.export_calendar
    swaps.export_csv swaps.read_charger swaps.read_swaps venue.read_venue crew.read_crew live.listen live.look_at
    record.read_record bench.read_earlier along.export_along pack.read_packing pack.export_pack_csv pack.export_pack_pdf
    pack.export_labels_pdf log.read_log log.read_weather log.export_log_csv log.export_report_pdf
    standing.read_standing safety.read_safety safety.export_safety_pdf
    drill.read_practice drill.look_at_drill drill.end_drill
"""
_RIG = """
    balance.read_gimbal balance.record_balance balance.remove_balance balance.touch_balance bench.edit_bench
    bench.redo_bench bench.undo_bench bench.bring_build_back power.read_meter
"""
_NOTE = """
    cards.copy_at_station cards.note_card_step cards.note_from_station cards.put_card_in_reader
    cards.take_back_card_step cards.take_card_from_reader sound.note_at_source sound.take_back_at_source swaps.drop_swap
    swaps.note_swap pack.note_pack_steps pack.take_back_pack_step log.note_entry log.take_back_entry
"""
_PLAN = """
    jobs.archive_job jobs.bring_back jobs.copy_job jobs.edit_job jobs.redo_job jobs.remove_job jobs.undo_job
    jobs.bring_back_frame recipes.dress_recipe log.take_setting_figure
"""
_PACK = "jobs.edit_packing jobs.undo_packing drill.keep_drill drill.drop_drill"
_CREW = "crew.invite crew.take_back_invitation crew.set_role crew.set_works_as"

_TABLE: tuple[tuple[Right, str], ...] = (
    ("anyone", f"{_OPEN} {_ANYONE}"),
    ("signed in", _SIGNED_IN),
    ("read shelf", _READ_SHELF),
    ("keep shelf", _KEEP_SHELF),
    ("make jobs", _MAKE_JOBS),
    ("house", _HOUSE),
    ("read", _READ),
    ("rig", _RIG),
    ("note", _NOTE),
    ("plan", _PLAN),
    ("pack", _PACK),
    ("crew", _CREW),
)
NEEDS: Mapping[str, Right] = {name: right for right, names in _TABLE for name in names.split()}


_WITHOUT_WORD = frozenset(
    {
        "crew.make_first",
        "crew.sign_in",
        "crew.sign_out",
        "crew.try_as",
        "passkeys.ask_for_sign_in",
        "passkeys.sign_in_by_passkey",
    }
)
"""A page that does not know who it is any more can still sign in anew."""


def nobody_signs_in() -> bool:
    """Whether whoever is at this machine may do all, as in the demo; never over the network."""
    return bool(current_app.config.get("NOBODY_SIGNS_IN")) and not request.is_secure


def cookie_name() -> str:
    """What the cookie of a session is called on the way that this request came."""
    return SECURE_COOKIE if request.is_secure else COOKIE


def device_cookie_name() -> str:
    """The same of the cookie by which a device is known."""
    return f"__Host-{DEVICE}" if request.is_secure else DEVICE


def doors(app: Flask) -> None:
    """Ask before every view of the API whether who asks may."""
    app.before_request(_door)
    app.teardown_request(_nobody_acts)


def _nobody_acts(error: BaseException | None) -> None:
    del error
    acting.set("")


def _door() -> None:
    """Raises NotYours, SignedOut, and NotInJob for a job that who asks does not learn of."""
    name = request.endpoint
    doing.set(current_browser())
    sent_as.set(_key())
    if name is None or name in _SCREENS or not request.path.startswith("/api/"):
        return
    right = NEEDS.get(name)
    if right is None:
        raise NotYours("Nobody may do this: it is in no table of rights.")
    job, other = (request.view_args or {}).get("job"), request.args.get("job")
    person, role = _who(job)
    acting.set(person.name if person else "")
    if person is None and right != "anyone":
        raise SignedOut
    # Whoever has no role in a job does not learn that it exists.
    if job is not None and role is None:
        raise NotInJob("job", job)
    if other is not None and person is not None and not knows(other):
        raise NotInJob("job", other)
    if not allowed(right, person, role, own=right != "rig" or _is_own(str(job), person)):
        raise NotYours(f"{_WHY[right]} Nothing was changed.")


def _key() -> str:
    """Under what a window sends something that it may send again."""
    key = request.headers.get(ONCE, "")
    if key and not _KEY.fullmatch(key):
        abort(422, f"{ONCE} is a word of 8 to 64 letters, digits and hyphens. Nothing was changed.")
    return key


def _who(job: str | None) -> tuple[Person | None, Role | None]:
    """Who asks, and his role in the job; raises NotYours where what changes something comes from a page that was signed
    in as somebody else.
    """
    token = request.cookies.get(cookie_name())
    session = services().crew.session(token, job, used=request.endpoint != "live.listen") if token else None
    if session is None:
        if nobody_signs_in() or request.environ.get(INSIDE):
            g.person = AT_THE_BENCH
            return AT_THE_BENCH, "lead"
        return None, None
    g.session, g.person = session, session.person
    g.roles = services().crew.roles_of(session.person.id)
    if (
        request.method not in _READS
        and request.endpoint not in _WITHOUT_WORD
        and not secrets.compare_digest(request.headers.get(WORD, ""), session.word)
    ):
        raise NotYours("This page was signed in as somebody else, or not any more. Load it again; nothing was changed.")
    return session.person, session.role


def _is_own(job: str, person: Person | None) -> bool:
    rig, session = str((request.view_args or {}).get("rig", "")).partition(BESIDE)[0], current_session()
    if session is None:
        return person is not None
    return rig in own_cameras(services().jobs.read(job)[0], session.works_as)


_WHY: Mapping[Right, str] = {
    "anyone": "",
    "signed in": "Sign in to go on.",
    "read shelf": "Sign in to see the shelf.",
    "keep shelf": "The shelf is changed by its keeper; ask a lead of the house to make you one.",
    "make jobs": "Jobs are made by a lead of the house.",
    "house": "Accounts are kept by a lead of the house.",
    "read": "Ask a lead of this job to let you in.",
    "rig": "A rig is changed by a lead, or by the operator whom a lead has named for this camera (Crew, works as).",
    "note": "You may look here; ask a lead of this job to make you an operator or a keeper.",
    "pack": "The packing is changed by a lead or a keeper of this job.",
    "plan": "The job itself is changed by its leads.",
    "crew": "Who works on a job is said by its leads.",
}
