"""Lens, filters, gears and cables on small rigs: what is said, and when it is not."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.cables import cabling_findings, routes
from lift_crate.core.callouts import Finding, Level
from lift_crate.core.lens.coverage import view_of, viewing_findings
from lift_crate.core.lens.follow_focus import follow_focus_findings
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Build, Conditions, Target, UnitSetting
from lift_crate.core.settings import Settings
from lift_crate.core.support.load import carried
from tests.kit import X, Y, Z, build, catalogue, joint, model, port

SETTINGS = Settings()
BACK = (-1, 0, 0)
FRONT = {"n": X, "u": Z}


def lens(name: str, focal: tuple[float, float], **more: object) -> dict[str, object]:
    return {"image_circle_mm": 44, "focal_mm": focal, "stop": 2.8, "pupil_mm": 22, **more}


SHELF = catalogue(
    model(
        "body",
        1000,
        (0, 0, 0),
        port("mount", "near", "female", (19, 0, 0), **FRONT),
        port("rods", "rail", "male", (0, 0, -85), Z, X, slide={"axis": X, "min_mm": -200, "max_mm": 200}, takes=3),
        port("out", "tap", "female", (0, 40, 0), Y, Z, signal={"role": "out", "what": "picture", "max_gbps": 12}),
        port("mic", "barrel", "female", (0, 40, 20), Y, Z, signal={"role": "in", "what": "sound", "level": ["mic"]}),
        port("side", "screw", "female", (0, 40, -20), Y, Z),
        body={
            "areas": [
                {"id": "super", "label": "super", "width_mm": 24.9, "height_mm": 14.0},
                {"id": "full", "label": "full", "width_mm": 36, "height_mm": 19},
            ],
            "formats": [{"id": "uhd", "label": "UHD", "gbps": 6}, {"id": "hd", "label": "HD", "gbps": 1.5}],
        },
    ),
    *(
        model(
            name,
            500,
            (30, 0, 0),
            port("mount", "near", "male", (0, 0, 0), n=BACK, u=Z),
            port("front", "shoe", "female", (60, 0, 0), **FRONT),
            shapes=[{"barrel": ((0, 0, 0), (60, 0, 0)), "radius_mm": 40}],
            lens=data,
            kind="lens",
        )
        for name, data in {
            "wide": lens("wide", (16, 16), close_focus_mm=280),
            "zoom": lens("zoom", (24, 70), t_stop=3.0, gears=[{"control": "focus", "at_mm": 30, "radius_mm": 40}]),
        }.items()
    ),
    *(
        model(
            name,
            60,
            (4, 0, 0),
            port("back", "shoe", "male", (0, 0, 0), n=BACK, u=Z),
            port("front", "shoe", "female", (h, 0, 0), **FRONT),
            shapes=[{"barrel": ((0, 0, 0), (h, 0, 0)), "radius_mm": 42}],
            filter={"kind": "nd", "stops": stops, "height_mm": h, "clear_mm": 60},
            kind="filter",
        )
        for name, stops, h in (("nd3", (3, 3), 4), ("nd9", (9, 9), 9), ("vnd", (2, 8), 9))
    ),
    model(
        "motor",
        180,
        (0, 0, 20),
        port("clamp", "rail", "female", (0, 0, 0), (0, 0, -1), X, grip_mm=20),
        follow_focus={"at": (0, 0, 25), "radius_mm": 20, "swing_mm": 3},
        kind="lens motor",
    ),
    model(
        "monitor",
        300,
        (0, 0, 0),
        port("foot", "screw", "male", (0, 0, 0), (0, 0, -1), X),
        port("in", "tap", "female", (0, 0, 300), signal={"role": "in", "what": "picture", "max_gbps": 3}),
    ),
    model(
        "mixer",
        300,
        (0, 0, 0),
        port("foot", "screw", "male", (0, 0, 0), (0, 0, -1), X),
        port(
            "out",
            "barrel",
            "female",
            (0, 0, 20),
            signal={"role": "out", "what": "sound", "level": ["line"], "phantom": "needs"},
        ),
    ),
    model(
        "cord", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), cable={"length_mm": 400, "max_gbps": 6}
    ),
    model("lead", 40, None, port("a", "barrel", "male"), port("b", "barrel", "male"), cable={"length_mm": 400}),
)


def seen(rig: Build, target: Target | None = None, light_ev: float | None = None) -> dict[str, Finding]:
    at = assemble(rig, SHELF)
    view = view_of(at)
    found = (
        *viewing_findings(at, view, target, Conditions(light_ev=light_ev), SETTINGS),
        *follow_focus_findings(at, view),
    )
    return {f.code: f for f in found}


def wired(rig: Build) -> dict[str, Finding]:
    put = assemble(rig, SHELF)
    return {f.code: f for f in cabling_findings(put, routes(put, carried(put, SETTINGS), SETTINGS), SETTINGS)}


def test_a_lens_as_it_is_set() -> None:
    view = view_of(
        assemble(
            build(
                "body",
                "zoom.mount > body.mount",
                settings=(UnitSetting(unit="zoom", focal_mm=35, stop=5.6), UnitSetting(unit="body", area="full")),
            ),
            SHELF,
        )
    )
    assert view
    assert (view.focal_mm, view.stop, view.area.id) == (35, 5.6, "full")
    assert view.t_stop == pytest.approx(6.0)
    assert view.crop == pytest.approx(43.267 / (36**2 + 19**2) ** 0.5)
    assert view_of(assemble(build("body"), SHELF)) is None


@pytest.mark.parametrize(
    ("focal", "width_m", "level", "says"),
    [
        (35, 2.7, Level.CLEAR, "shows 2.80 m"),
        (35, 3.0, Level.WATCH, "3.00 m wide at 4.00 m fits in at about 33 mm or wider"),
        (35, 4.5, Level.STOP, "shows at most 4.10 m at 4.00 m, even at 24 mm"),
    ],
)
def test_does_it_fit_in_that_room(focal: float, width_m: float, level: Level, says: str) -> None:
    rig = build("body", "zoom.mount > body.mount", settings=(UnitSetting(unit="zoom", focal_mm=focal),))
    finding = seen(rig, Target(distance_mm=4000, width_mm=width_m * 1000))["lens.width"]
    assert finding.level is level
    assert says in finding.text


def test_nearness_and_depth() -> None:
    rig = build("body", "wide.mount > body.mount")
    near = seen(rig, Target(distance_mm=9000, nearest_mm=250))
    assert near["lens.close_focus"].level is Level.WATCH
    assert near["lens.face"].level is Level.WATCH
    assert "to infinity" in near["lens.depth"].text
    assert seen(rig, Target(distance_mm=200))["lens.close_focus"].level is Level.STOP


@pytest.mark.parametrize(
    ("filters", "light_ev", "level", "says"),
    [
        ((), 6, Level.CLEAR, "exposure is right as it is"),
        ((), 15, Level.WATCH, "9.4 stops too bright; ND 2.8 is missing."),
        ((), 4, Level.WATCH, "1.6 stops of light are missing"),
        (("nd9",), 15, Level.CLEAR, "exposure is right with nd9"),
        (("vnd",), 12, Level.CLEAR, "right with vnd"),
        (("vnd", "nd3"), 15, Level.CLEAR, "right with vnd, nd3"),
        (("vnd",), 6, Level.WATCH, "vnd takes 2.0"),
    ],
)
def test_light_and_what_the_filters_take(filters: tuple[str, ...], light_ev: float, level: Level, says: str) -> None:
    """At T2.8, 180°, 25 fps, ISO 800 the wide lens is right at EV 5.6."""
    under = ["wide", *filters]
    rig = build(
        "body", "wide.mount > body.mount", *(f"{f}.back > {on}.front" for f, on in zip(filters, under, strict=False))
    )
    finding = seen(rig, light_ev=light_ev)["lens.light"]
    assert finding.level is level
    assert says in finding.text


def test_a_stack_in_the_corners() -> None:
    """16 mm, pupil 22 mm behind the rim, 9 mm stacked: 27.67 mm; shading from 30.5 mm on; the clear radius is 30 mm."""
    shaded = seen(build("body", "wide.mount > body.mount", "nd9.back > wide.front"))["filter.corner"]
    assert shaded.level is Level.WATCH
    assert shaded.limit == pytest.approx(27.67 + 16 / 5.6, abs=5e-3)
    cut = seen(build("body", "wide.mount > body.mount", "nd9.back > wide.front", "nd3.back > nd9.front"))[
        "filter.corner"
    ]
    assert cut.level is Level.STOP
    assert "filter.corner" not in seen(build("body", "zoom.mount > body.mount", "nd9.back > zoom.front"))


@pytest.mark.parametrize(
    ("slide", "says"), [(49, None), (60, "it sits 11 mm in front of the ring"), (40, "it sits 9 mm behind the ring")]
)
def test_a_gear_meets_its_ring(slide: float, says: str | None) -> None:
    """The ring is 49 mm in front of the film plane at 40 mm radius, the
    gear stands 60 mm below the axis with 20 mm radius.
    """
    finding = seen(build("body", "zoom.mount > body.mount", joint("motor.clamp > body.rods", slide=slide))).get(
        "focus.reach"
    )
    assert (says is None and finding is None) or (finding and says and says in finding.text)


def test_a_lens_without_gear() -> None:
    assert "focus.no_gear" in seen(build("body", "wide.mount > body.mount", "motor.clamp > body.rods"))


def test_a_cable_runs_from_socket_to_socket() -> None:
    """The monitor stands 300 mm off the side: (0, 340, −20) to (0, 40, 0), 300.7 mm apart; 391 mm with slack."""
    rig = build("body", "monitor.foot > body.side", links=["cord: body.out > monitor.in"])
    route = routes(assemble(rig, SHELF), carried(assemble(rig, SHELF), SETTINGS), SETTINGS)[0]
    assert route.straight_mm == pytest.approx((300**2 + 20**2) ** 0.5)
    assert "link.length" not in wired(rig)
    assert wired(rig)["link.rate"].text == "UHD runs at 6 Gb/s; 'in' of monitor carries 3 Gb/s."
    assert "link.rate" not in wired(replace(rig, settings=(UnitSetting(unit="body", picture="hd"),)))


@pytest.mark.parametrize(("length_mm", "level"), [(250, Level.STOP), (380, Level.WATCH), (392, None)])
def test_slack(length_mm: float, level: Level | None) -> None:
    models = {m.id: m for m in SHELF.models.values()}
    cord = models["cord"]
    assert cord.cable
    models["cord"] = replace(cord, cable=replace(cord.cable, length_mm=length_mm))
    put = assemble(
        build("body", "monitor.foot > body.side", links=["cord: body.out > monitor.in"]), catalogue(*models.values())
    )
    found = {f.code: f.level for f in cabling_findings(put, routes(put, carried(put, SETTINGS), SETTINGS), SETTINGS)}
    assert found.get("link.length") is level


def test_sound_has_levels_and_phantom_power() -> None:
    found = wired(build("body", "mixer.foot > body.side", links=["lead: mixer.out > body.mic"]))
    assert found["audio.level"].text == "mixer gives line level, 'mic' of body takes mic level: it will distort."
    assert found["audio.phantom"].level is Level.STOP


def test_plugs_that_do_not_mate_and_two_of_a_kind() -> None:
    assert "link.connector" in wired(build("body", "mixer.foot > body.side", links=["cord: body.out > mixer.out"]))
    assert (
        "joins two outputs"
        in wired(build("body", "mixer.foot > body.side", links=["cord: body.out > mixer.out"]))["link.roles"].text
    )


def test_eyes_and_ears_and_what_is_behind_them() -> None:
    """T35: at portrait aperture the depth is thinner than a head."""
    rig = build("body", "zoom.mount > body.mount")
    near = replace(rig, settings=(UnitSetting(unit="zoom", focal_mm=70, stop=2.8),))
    face = Target(distance_mm=1500, nearest_mm=1500)
    told = seen(near, face)["lens.depth"]
    assert "the ears are soft" in told.text
    # f²/(N(u−f))·|2u−u|/2u over 24.9 mm, u = 1426.6 mm from the lens: 1.29 mm is half of it away: 2.59 %.
    u = (1500 + (1500**2 - 4 * 1500 * 70) ** 0.5) / 2
    assert f"{70**2 / (2.8 * (u - 70)) / 2 / 24.9 * 100:.1f} % of the picture's width" in told.text
    deep = replace(rig, settings=(UnitSetting(unit="zoom", focal_mm=24, stop=8),))
    assert "eyes and ears are sharp" in seen(deep, face)["lens.depth"].text
    assert "face" not in seen(deep, Target(distance_mm=1500))["lens.depth"].text
