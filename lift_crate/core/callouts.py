"""Findings and the one catalogue of all call-outs: code, title, why it matters, usual cures."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import IntEnum
from typing import Literal

__all__ = [
    "CALL_OUTS",
    "About",
    "CallOut",
    "Finding",
    "Input",
    "Level",
    "Working",
    "by_weight",
    "count_levels",
    "place_of",
]


class Level(IntEnum):
    """How serious: a Stop must not go out, a Watch is checked before it goes out."""

    CLEAR = 0
    NOTE = 1
    WATCH = 2
    STOP = 3


@dataclass(frozen=True, kw_only=True)
class About:
    """What a finding is about: units, and a port or joint by its child where it has one."""

    units: tuple[str, ...]
    port: str | None = None
    rig: str | None = None


@dataclass(frozen=True, kw_only=True)
class Input:
    """One figure that went into a computation, and where it came from."""

    name: str
    value: str
    source: Literal["measured", "catalogue", "assumed", "setting", "computed", "job"]


@dataclass(frozen=True, kw_only=True)
class Working:
    """A formula, the same with its numbers, and the inputs."""

    formula: str
    numbers: str
    inputs: tuple[Input, ...] = ()


@dataclass(frozen=True, kw_only=True)
class CallOut:
    """An entry of the catalogue."""

    code: str
    title: str
    why: str
    cures: str


@dataclass(frozen=True, kw_only=True)
class Finding:
    """One verdict on one thing: value against limit, in ``unit``, with the working.

    ``spread`` is one standard deviation of the value.
    """

    code: str
    level: Level
    about: About
    text: str
    value: float | None = None
    limit: float | None = None
    unit: str = ""
    spread: float | None = None
    working: tuple[Working, ...] = ()

    @property
    def key(self) -> str:
        """Stable name within a build: the code and what it is about, whichever way round its ends are."""
        return ":".join((self.code, *sorted(self.about.units), self.about.port or "")).rstrip(":")

    @property
    def call_out(self) -> CallOut:
        """Title, why and cures from the catalogue."""
        return CALL_OUTS[self.code]


PlaceOf = Literal["bench", "balance", "power"]
_PLACES: dict[str, PlaceOf] = {
    "gimbal": "balance",
    "support": "balance",
    "head": "balance",
    "hold": "balance",
    "stand": "balance",
    "mount": "balance",
    "power": "power",
}


def place_of(code: str) -> PlaceOf:
    """The place of the application where a call-out is worked on, beside the Bench, which shows them all."""
    return _PLACES.get(code.partition(".")[0], "bench")


def by_weight(findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """Most serious first, then by code and what they are about."""
    return tuple(sorted(findings, key=lambda f: (-f.level, f.code, f.about.units)))


def count_levels(findings: tuple[Finding, ...]) -> dict[str, int]:
    """How many Stops, Watches and Notes."""
    return {
        name: sum(f.level is level for f in findings)
        for name, level in (("stops", Level.STOP), ("watches", Level.WATCH), ("notes", Level.NOTE))
    }


def _catalogue(*entries: tuple[str, str, str, str]) -> dict[str, CallOut]:
    return {code: CallOut(code=code, title=title, why=why, cures=cures) for code, title, why, cures in entries}


# A table that people read.
# fmt: off
CALL_OUTS: dict[str, CallOut] = _catalogue(
    ("fit.interface", "Does not join",
     "Parts that do not mate cannot be mounted, however well everything else works out.",
     "An adapter between the two, another port, another part."),
    ("fit.occupied", "Port already taken",
     "A port holds one thing; the second is found out at the bench, or on the day.",
     "Another free port, a bracket or arm that adds one, or leave one of the two off."),
    ("fit.rail_full", "Clamps overlap on the rail",
     "Two clamps cannot hold the same length of a rail or rod.",
     "Slide one along, or use a longer rail."),
    ("fit.slide", "Beyond the end of its slide",
     "A part that hangs off the end of its rail is not held.",
     "Slide it back within its travel."),
    ("fit.spin", "Turned a way it cannot go",
     "This interface goes together in some turns only.",
     "Turn it to one of the turns allowed."),
    ("fit.load", "Joint carries too much",
     "A port loaded beyond its rating pulls out, with the weight of everything on it.",
     "A stronger port, a lighter part, a second point of support, a second catch."),
    ("fit.bending", "Joint bent too hard",
     "The lever of a part standing far off bends or breaks its mount before its weight does.",
     "Shorter arm, mount nearer to its mass, stronger port, support at the far end."),
    ("fit.twist", "Single screw can turn",
     "One screw without locating pins holds by friction alone and works loose under a load off its axis.",
     "Locating pins, a rosette, a second screw, or bring the mass over the screw."),
    ("front.idle", "Ring with nothing on it",
     "Step-up rings belong to a filter or matte box; left on, they make a light rig a heavy one and the next lens does not fit them.",
     "Take it off with what was on it; keep a ring on each filter, not on each lens."),
    ("joint.one_catch", "One clamp holds it",
     "A release that is quick for the hand is quick for an accident: without a second catch one lever drops the camera.",
     "A clamp with a safety pin or second catch; a stop screw in the plate; a line above people. Kept tight by hand, and checked at every part."),
    ("fit.rail_short", "Rail shorter than its clamp",
     "A clamp that does not lie on its rail all along is not held.",
     "A longer rail, a shorter clamp."),
    ("rods.height", "Rods at the wrong height",
     "Lens support, motors and matte boxes are made for rods at the standard height; elsewhere they miss the lens.",
     "A riser or another base plate that brings the rods to their height."),
    ("fit.sag", "Arm sags",
     "A friction arm that carries more than it holds sinks during the take, and takes the monitor with it.",
     "A shorter or stronger arm, a mount with pins, a lighter thing at its end."),
    ("clash.parts", "Parts run into each other",
     "Two things cannot be in the same place; on the bench the second one does not go on.",
     "Slide or turn one of them, another port, a riser or a longer rod."),
    ("clear.blocked", "Door, fan or release is blocked",
     "A card, a pack or a release that cannot be reached makes a swap of seconds one of minutes; a covered fan ends in heat.",
     "Move what stands in front of it, or plan the swap with the time it takes."),
    ("clear.plug", "No room for the plug",
     "A plug pressed aside works loose or breaks its socket.",
     "An angled plug, another socket, move what is in the way."),
    ("clear.screen_plug", "Plug in the way of the screen",
     "A hinged screen cannot flip out with a plug in its way: flip first, then plug.",
     "Flip the screen before plugging; an angled plug; another monitor."),
    ("lens.missing", "No lens on the body",
     "There is no picture without a lens.",
     "Mount a lens; the lens port lists what fits."),
    ("lens.flange", "Cannot reach infinity",
     "The lens must sit at its flange distance; with no room for an adapter it focuses near only.",
     "An adapter with optics made for the pair, another body, another lens."),
    ("lens.adapter_off", "Adapter thickness is off",
     "A few hundredths of a millimetre move the focus marks and the far focus of wide lenses.",
     "Shim the adapter or use one that measures right."),
    ("lens.adapter_loses", "Adapter loses functions",
     "What an adapter does not carry on must be done by hand or done without.",
     "Plan for it, or use an adapter with contacts."),
    ("lens.circle", "Image circle too small",
     "The corners of the recorded picture stay dark.",
     "Record a smaller area, or a lens that covers this one."),
    ("lens.width", "Does it fit in the frame",
     "From where a camera may stand, the lens decides whether everybody is in the picture.",
     "A shorter focal length, a larger recorded area, a wider lens, more distance."),
    ("lens.close_focus", "Too near to focus",
     "Nearer than its close focus a lens stays soft, however good it is.",
     "More distance, another lens, a close-up lens."),
    ("lens.face", "Face too near",
     "Perspective stretches a face that is near, and no lens takes that back.",
     "Step back and use a longer focal length."),
    ("lens.depth", "Depth of field",
     "Thinner than a head it needs a focus puller, deep it shows the whole dock.",
     "Stop down and add light or sensitivity; step back; a shorter lens."),
    ("lens.zoom_light", "Light lost on zooming",
     "A picture that darkens as it is zoomed cannot be mended afterwards without noise.",
     "The long end's aperture over the whole range; no zoom in the take; a zoom of constant aperture."),
    ("lens.zoom_focus", "Focus moves with the zoom",
     "What was sharp at one end is soft at the other, and a small screen does not show it.",
     "Focus after every zoom; zoom before the take and not in it; a zoom that holds focus."),
    ("body.iso", "Sensitivity the body does not have",
     "A picture profile has a lowest and a highest sensitivity; light worked out for another one is wrong.",
     "The nearest sensitivity it has, with ND or aperture for the difference; another profile."),
    ("body.mode", "Area and frame rate do not go together",
     "Many bodies record their whole area at usual rates only; fast ones take a smaller area, and the lens frames tighter.",
     "A rate this area has; the area this rate has, with a wider lens; another body."),
    ("body.shutter", "Nearest shutter the body offers",
     "Another time than the half of a frame changes blur and light a little, and under lamps it may flicker.",
     "Set the nearest time and allow for its stops; set the same on every camera."),
    ("focus.auto", "Autofocus must be trusted",
     "Nobody's hand is free for focus there, and nobody sees it when it drifts.",
     "A body and a lens with dependable autofocus in this light; an operator; a locked-off frame focused by hand, stopped down, its ring taped."),
    ("lens.light", "Light at this setting",
     "Too much light is burnt out, too little is noise; the shutter angle is no remedy.",
     "ND or aperture against too much; aperture, sensitivity or light against too little."),
    ("filter.polariser", "What a polariser takes",
     "A polariser takes light by its direction: the stops on its ring are not what it takes in every direction of the frame.",
     "Leave it off on a wide lens under a clear sky; a fixed ND with it rather than a variable one; turn it for each frame."),
    ("filter.hand", "Nobody's hand on the ND",
     "A variable ND is only worth its ring when a hand can reach it; one that holds the rig cannot.",
     "A fixed ND for this part and the aperture for the rest; a motor on the ring; a second operator."),
    ("filter.corner", "Filters in the corners",
     "A stack of filters in front of a wide lens shows as dark corners, and only on the large screen.",
     "Fewer or thinner filters, larger ones on a step-up ring, a longer focal length."),
    ("filter.pupil_missing", "Corners cannot be told",
     "Without the place of the entrance pupil the corners cannot be checked.",
     "Measure the entrance pupil behind the rim, or shoot a test at the widest."),
    ("focus.no_gear", "No focus gear on the lens",
     "A follow focus or motor without a toothed ring turns nothing.",
     "A gear ring around the lens, or another lens."),
    ("focus.pitch", "Gear pitches differ",
     "Teeth of unlike pitch climb over each other and slip in the take.",
     "A gear of the lens's pitch, 0.8 mm as a rule."),
    ("focus.reach", "Gear does not meet the ring",
     "A gear that is beside its ring, or stands off, turns nothing.",
     "Slide the motor along its rods; swing it to the ring; another place on the rods."),
    ("lens.support", "Heavy lens without support",
     "A heavy lens on its mount alone bends the mount and moves the picture.",
     "A lens support on rods under the lens."),
    ("mass.missing", "Mass is not known",
     "A total that silently counts a part as nothing is wrong exactly when it matters.",
     "Weigh the part and enter its mass."),
    ("mass.cg_outside", "CG outside the part",
     "A CG with the wrong sign moves the balance twice as far the wrong way, and nobody sees why.",
     "Measure it again from the reference of its model; correct it on the Shelf."),
    ("link.connector", "Cable does not mate",
     "A cable that fits neither socket carries nothing.",
     "A cable with the right plug at both ends, or an adapter."),
    ("link.roles", "Two outputs, or two inputs",
     "Between two outputs nothing runs, and the monitor stays dark.",
     "The other socket at one end."),
    ("link.length", "Cable too short",
     "A taut cable pulls its plug out, or pulls the gimbal off balance, exactly when the camera moves furthest.",
     "A longer cable, a socket nearer, the device nearer."),
    ("link.stiff", "Stiff cable over moving axes",
     "The cable that survives on a tripod ruins a gimbal's balance.",
     "A thin, slack cable; wireless; balance with it plugged in."),
    ("link.thin", "Thin cable where it is shaken",
     "A cable is right or wrong by its place: what a gimbal needs thin and loose, a vehicle tears out of its socket.",
     "A stout cable that locks; clamps at both ends and a tie along the rig; less handling."),
    ("link.clamp", "Plug does not lock",
     "A plug without a lock comes out at the first tug.",
     "A cable clamp or a locking plug; tape at the least."),
    ("link.rate", "Link too slow for the picture",
     "A link that does not carry the picture's rate shows nothing, or sparkles and drops out.",
     "A slower picture, a faster cable or socket."),
    ("audio.phantom", "No phantom power",
     "A microphone that needs 48 V and gets none records silence.",
     "An input or an adapter that gives phantom power; another microphone."),
    ("audio.level", "Levels do not match",
     "Line into a microphone input distorts; a microphone into a line input drowns in noise.",
     "Set the output or the input to the other level; a pad or an attenuating cable."),
    ("gimbal.payload", "Gimbal payload",
     "Beyond its rating a gimbal shakes, drains its battery and can burn its motors; keep fingers clear when switching it on.",
     "Take off what need not be on the camera, hang it on the gimbal's own ports, lighter equivalents, another gimbal."),
    ("gimbal.payload_low", "Too light for the gimbal",
     "Below its least payload a gimbal oscillates, because its motors are tuned for more inertia.",
     "Add mass near the axis, or use a smaller gimbal."),
    ("gimbal.travel.fore_aft", "Tilt fore-aft slide",
     "When the slide ends before it balances, the lens keeps falling and the tilt motor holds it all the time.",
     "Move the rig on its plate, a counterweight, less in front, another gimbal."),
    ("gimbal.travel.vertical", "Tilt vertical slide",
     "Level can be right and lens-up still fall: height is a slide of its own.",
     "Riser or lower plate, shorter stack on top, a counterweight."),
    ("gimbal.travel.lateral", "Roll slide",
     "The camera leans to one side and the roll motor holds it all the time.",
     "Move what stands out at one side, offset plate, counterweight."),
    ("gimbal.travel.pan", "Pan slide",
     "With the handle leaning the camera swings nose-down or tail-down.",
     "Bring the mass nearer to the pan axis."),
    ("gimbal.motor", "Motor load",
     "What is not balanced is held by a motor, which costs battery hours, heat and steadiness.",
     "Balance on the axis named; thinner, slacker cables."),
    ("gimbal.moves", "Starting a move",
     "A motor that cannot start the move it is asked for lags, twitches and loses the horizon, and most of all while the operator walks.",
     "Softer moves; mass nearer to the axis; balance on the axis named; a lighter build, a larger gimbal."),
    ("gimbal.follow", "Mode that follows",
     "A gimbal set to hold, or to follow too slowly, loses who walks past, and the operator pulls against its motors.",
     "Another mode; further away; let this position hold its frame."),
    ("gimbal.control", "Who starts the recording",
     "A finger on the body's button pushes a balanced camera, and on a pole or above the head nobody reaches it.",
     "A thin control cable from the gimbal; start it before it is balanced in the hand, and let it run."),
    ("gimbal.clearance.tilt", "Camera hits the gimbal when tilted",
     "Balanced and blocked are two things: a finder or a battery that meets the arm stops the move in the middle of the take.",
     "A smaller tilt range, a riser, move the part that hits, a larger gimbal."),
    ("gimbal.clearance.roll", "Camera hits the gimbal when rolled",
     "Vertical format and rolled moves need room that the camera may fill.",
     "Keep roll small, move the part that hits, a larger gimbal."),
    ("gimbal.clearance.pan", "Camera hits the handle when panned",
     "A long lens or a wide rig that meets the handle cannot follow what walks past.",
     "Turn with the body, a shorter build, move the part that hits, a larger gimbal."),
    ("gimbal.zoom", "Zooming on the gimbal",
     "A zoom moves its mass as it lengthens: balanced at one end, the motors hold the difference at the other, and the battery lasts less.",
     "Balance at the point between the two ends; zoom less; a zoom that stays inside its barrel; a prime."),
    ("gimbal.zoom_ring", "Stiff ring turned by hand",
     "A hand that turns a stiff zoom ring pushes the camera, and the motors answer; it shows however well it is balanced.",
     "A motor on the zoom ring; zoom before the take and not in it; a lens whose ring turns lightly."),
    ("gimbal.wind", "Wind on the gimbal",
     "A gust on a long lens or a wide monitor turns the camera harder than a motor can hold; it twitches, then goes limp.",
     "Lee of a wall or a person, a shorter build, the monitor off the camera, a larger gimbal, sticks. Above people and on lines, stop before that."),
    ("gimbal.no_body", "Nothing on the gimbal",
     "A gimbal without a camera on its plate cannot be judged.",
     "Mount the camera on the gimbal's camera port."),
    ("hold.long", "Longest hold by hand",
     "The longest take counts, not the sum: arms that give way shake, drop the frame, and can be hurt. The minutes are a rule of thumb; people differ.",
     "A support that carries it, a lighter build, a grip nearer to the body, a second operator, a shorter take. Put it down when it hurts."),
    ("hold.steady", "What keeps the picture steady",
     "Handheld without a stabiliser or enough mass every breath and step is in the picture. The rating is a rule of thumb.",
     "A body or lens with a stabiliser; mass that is spread out and level; a shoulder rig, a gimbal, sticks."),
    ("build.look", "How large it looks",
     "A rig larger than the place wants draws eyes and blocks seats; a small one may not look like work. The rating is a rule of thumb.",
     "Leave the matte box, rods and monitor off for a discreet one; a shorter lens; another position."),
    ("head.drift", "Head does not hold the tilt",
     "A rig that drifts when the bar is let go is fought all night, and falls on a finger when the lock is opened.",
     "Slide the plate until the CG is over the pivot; another step of the counterbalance; more drag; a stronger head. Lock the tilt before you let go."),
    ("stand.monopod", "Long lens follows on a monopod",
     "A monopod shares its sway with a long lens; what is locked off can do with it, what follows cannot.",
     "Sticks with a fluid head; a shorter lens; let this position hold its frame."),
    ("stand.tips", "Sticks in the wind",
     "A camera that goes over falls on people, and is gone for the night.",
     "Spread the legs and lower it, a bag of water or sand at the centre, tie it down, the lee of a wall; take it down before the wind the crew has agreed on."),
    ("mount.pull_off", "Pull-off of magnets, cups and clamps",
     "What holds at rest lets go when it is shaken, on paint, rust, dust or wet.",
     "More or stronger points, further apart, a level face, a lighter rig nearer to the face; test each by hand on the very surface."),
    ("mount.points", "Too few points",
     "One point alone has nothing to share with; two can turn about the line between them.",
     "Three points, or two with a moment rating."),
    ("mount.speed", "Faster than the mount is rated",
     "Air and bumps grow with the square of speed; vehicle work is for licensed crews under local traffic law, nobody leans out.",
     "Drive slower, a mount rated for it."),
    ("mount.line", "No safety line",
     "Magnets, cups and clamps let go without warning; above people, on a vehicle or over water nothing hangs by one thing alone.",
     "A rated line to a point of its own, short enough that it never reaches a head."),
    ("support.payload", "Support payload",
     "A head or pad loaded beyond its rating creeps, slips or breaks.",
     "Take off what is not needed, or use a stronger support. Secondary retention above people, always."),
    ("power.not_named", "Not named for this slot",
     "A body may refuse a pack or dummy pack that it does not know, or run on it without telling its charge.",
     "A pack that the maker names, an input meant for outside power, a trial of some hours before the day."),
    ("power.mains", "Mains in reach",
     "A lead that is stretched across a way is a trip and pulls plugs; a position without mains has none on the night either.",
     "A longer lead of full section, laid flat and off walkways; outdoors only behind a residual-current device and out of the wet. Local rules and a licensed electrician decide."),
    ("power.mains_alone", "Nothing behind the mains",
     "One breaker or one foot on a lead ends the take; a pack behind the mains carries on.",
     "A hot-swap plate with a backup cell, a body with a pack and a second input, a pack ready beside it."),
    ("power.mains_wet", "Mains in the rain",
     "Water in a mains plug or adapter can kill, and a tripped breaker ends the take.",
     "Run it from packs in the rain. Otherwise: adapters and plug joints under cover and off the ground, behind a residual-current device. Local rules and a licensed electrician decide."),
    ("power.fed_recording", "Does not record while fed",
     "Some bodies charge or run from their socket but refuse to record; it is found out when the button does nothing.",
     "A pack in its slot for the take; a dummy pack; another body."),
    ("screen.none", "Nobody sees the picture",
     "A frame that nobody sees is out of focus, crooked, or not running.",
     "A monitor on the rig; a receiver and monitor elsewhere; a body with a screen."),
    ("screen.bright", "Screen in this light",
     "In the sun a dim screen is a mirror: focus and exposure are guessed. The limit is a rule of thumb.",
     "A brighter monitor, a hood, shade, an eyepiece; the body's own screen where that is brighter."),
    ("screen.late", "Picture comes late",
     "Who frames or pulls focus by a late picture is late himself; sound and lips part on the set.",
     "A cable in place of radio; a monitor with less delay; judge by the finder and keep this one for others."),
    ("screen.phone", "A phone as monitor",
     "A phone is a bright small screen until it rings, warms up or runs empty.",
     "A monitor made for it; shade and air; its cable clamped, calls off, a power bank."),
    ("screen.touch", "Touch focus stays on the body",
     "Whoever looks at the monitor and focuses on the body looks at two places at once.",
     "A monitor that focuses by touch; marks and a motor; look at the body's own screen."),
    ("record.gain", "What the recorder gains",
     "A recorder costs grams, watts and a cable; it is worth them only where it keeps more than the body does.",
     "Leave it off where it gains nothing and no second copy is wanted; put out a finer picture."),
    ("power.over_voltage", "Voltage too high",
     "Above its maximum a device can be destroyed as it is plugged in. Check polarity and voltage with a meter before you bridge unknown plugs.",
     "A regulated outlet, a converter, or a pack of fewer cells."),
    ("power.under_voltage", "Voltage too low",
     "Below its minimum a device does not start, or stops before the pack is empty.",
     "A pack of more cells, a thicker or shorter cable, a regulated outlet."),
    ("power.connector", "Plug does not mate",
     "A cable that fits neither socket carries nothing; one of unlike polarity kills what it feeds.",
     "A cable with the right plug at both ends and the right polarity."),
    ("power.current", "Current beyond a rating",
     "An outlet, cable or pack pushed beyond its current cuts out or gets hot.",
     "Another outlet, a thicker cable, a stronger pack, fewer devices on one source."),
    ("power.unfed", "Nothing feeds it",
     "A device without a source is dead weight.",
     "A cable from a free outlet, or a pack in its slot."),
    ("power.two_sources", "Two sources on one cable",
     "Two sources joined drive current into each other: packs vent, fuses blow, adapters burn.",
     "Take the cable off; each source feeds its own input, or a plate made for two packs."),
    ("power.loop", "Power goes in a circle",
     "A source that feeds itself feeds nothing.",
     "Take one of the cables of the circle away."),
    ("power.hours", "Hours on this pack",
     "A camera that must be re-powered while the moment happens has failed, whatever its picture.",
     "A larger or fresher pack, a pack kept warm, fewer devices on it, swap at the break before."),
    ("power.backup", "Backup cell bridges a swap",
     "The small cell behind the plate carries the camera while the brick is changed, for minutes only.",
     "Have the fresh pack in hand before pulling the old one."),
    ("power.figure_missing", "A power figure is missing",
     "Without the power draw there are no hours.",
     "Measure the draw, or enter it from the maker's sheet."),
    ("swap.short", "Packs are short",
     "What is out, empty or on a charger cannot be put on a camera; the shortage shows at the swap, in the dark.",
     "Bring or hire packs, charge longer or elsewhere, turn off what need not run, a larger pack before the long stretch."),
    ("swap.dies", "Dark before the next swap",
     "A camera that may not be touched and has nothing left stops in the middle of what happens once.",
     "A larger pack, less on it, a break to swap in, mains at the position."),
    ("swap.two_each", "Fewer than two packs each",
     "One on, one on the charger: spares are counted over what is in use at once, or there are none.",
     "More packs of that type; types in common, so that any spare serves anywhere."),
    ("swap.ageing", "Ageing pack in a critical part",
     "An old cell gives up early and without warning.",
     "A fresher pack there, the old one where a swap is possible."),
    ("swap.hands", "More swaps than people",
     ("Two cameras that need a pack within one walk's time need two people, in a break too where it is too short for both;"
     " otherwise one of them loses power."),
     "One more person on packs, a break between the two, a larger pack so that one of them can wait, packs kept at the position."),
    ("swap.rate", "Charge read against charge computed",
     "A pack that comes out emptier than computed tells that its thing draws more, that it is colder, or that the pack is older than it is booked.",
     "Measure the draw, enter the pack's health, bring one more; the plan goes on with the rate that was read."),
    ("pack.carriage", "Carriage of lithium packs",
     "Carriers limit lithium by energy; what they do not take stays at the counter. Damaged or swollen packs stay at home.",
     "Send by road, hire there, smaller packs; ask the carrier in writing."),
    ("charge.single", "One charger for all",
     "One charger that fails ends a plan that charges.",
     "A second charger, or packs enough without."),
    ("gear.incomplete", "Figures missing",
     "A figure that is not entered cannot be checked, and what was not checked is not clear.",
     "Enter the figures on the Shelf, from the maker's sheet or measured; until then check it by hand."),
    ("gear.unconfirmed", "Ratings not confirmed",
     "Gear of the starter shelf has the figures of its kind; the thing in hand may take less voltage, current or load.",
     "Read the plate or the maker's sheet, then confirm or change the figures of the model on the Shelf."),
    ("unit.condition", "Condition of a unit",
     "A thing with a known fault fails again, and on the day that matters.",
     "Another unit of the same kind; have it seen to, and say so on the shelf."),
    ("day.change", "Change between two parts",
     "A change that does not fit its gap starts the next part without a camera, or with one that was put together in haste.",
     "A second pair of hands, what is ready laid out beforehand, quick releases, another build that is nearer to the one before, or no change."),
    ("day.short", "Planned and not there",
     "A thing that is out with somebody else, broken, or hired for other days is missing when the camera is built.",
     "Another unit or model that goes in its place, the camera that has it taking another, one more hired, another build."),
    ("media.short", "Cards for the day",
     "A camera without a card records nothing, and a card that is not copied yet is not free.",
     "A larger card, a smaller mode, relay for what can be repeated, copy and return after a part, one more on the hire list."),
    ("media.slow", "Card too slow for the mode",
     "A card that cannot keep up stops the recording in the middle of a take.",
     "A faster card, a mode of fewer megabits."),
    ("media.single", "Recorded once only",
     "A card fails without warning, and what cannot be repeated is gone with it.",
     "A body with two slots, a recorder on its output, a second camera on the same moment."),
    ("media.change", "Card is full before the end",
     "A card that fills up in the middle ends the take.",
     "A larger card, two slots in turn, a smaller mode, a change in the break."),
    ("media.take_limit", "Longest take against the limit",
     "A body that stops by itself does so in the take that matters.",
     "Another body, an outside recorder, a cut where one can be made."),
    ("media.heat", "Too hot before the end",
     "A body that is too hot stops by itself, in the sun sooner than its maker says.",
     "Shade, a mode of fewer frames or megabits, another body, a cut where one can be made, switching off between takes."),
    ("media.loose", "Drive on a lead",
     "A drive that hangs on a lead comes loose on the run, and what it was writing is lost with it.",
     "Cards in the body on what moves; the drive where the camera stands still, its lead clamped at both ends."),
    ("media.copies", "Copies in three places",
     "A card is wiped only when what is on it is in three places; copying takes longer than one thinks.",
     "More readers, faster drives, copying in the breaks, enough cards not to need them back."),
    ("pool.single", "No spare for it",
     "What is there once and fails takes its camera with it.",
     "One more on the hire list, another of its kind that goes in its place, a fallback that is agreed beforehand."),
    ("pool.companion", "It goes without its companion",
     "A pack without a charger is empty on the second day, a card without a reader is full for good.",
     "Take the charger or the reader along, hire one, or leave the thing at home."),
    ("day.no_time", "Task that does not fit",
     "A start that stands fast waits for nobody; what is not done by then is missing from the part.",
     "A second person, in parallel, prepared the evening before or in a longer break, left out, least wanted first."),
    ("day.angles", "Cameras on what happens once",
     "What happens once and is had by one camera is lost with that camera.",
     "A second camera told to see it, one locked off on it, another place for a camera that something hides it from."),
    ("day.two_places", "One person at two cameras",
     "Nobody works two cameras at once; one of them stands still or runs unwatched.",
     "Another operator, the camera unattended on a locked frame, or not there in that part."),
    ("day.unattended", "Camera that nobody works",
     "Nobody reframes it, changes its pack or sees that it went soft or stopped.",
     "A frame with room, a pack or mains for the whole part, a deep field or dependable autofocus, somebody who looks in."),
    ("sound.sources", "Sources of a voice",
     "A microphone falls silent without a sign; a voice that is heard once is lost with it, and two sources that hang on one thing are lost together.",
     "A second source on another pack, in another pocket, into another recorder; the venue's desk as one more."),
    ("sound.broken", "Source that leads nowhere",
     "A chain with a link missing is silent, and is found out when it is played back.",
     "The cable that is missing, the radio's channel, a recorder at the end."),
    ("sound.twice", "More sources than it takes",
     "A microphone on two people is on neither, and a full recorder takes no more.",
     "Another unit of the same kind, a recorder or receiver with more inputs."),
    ("sound.wire", "Cable shorter than its way",
     "The straight distance is not the way: a cable runs round what stands there, along walls and over ramps.",
     "A longer cable, a radio, a recorder on the spot."),
    ("sound.wind", "Wind on a microphone",
     "Wind rumbles in every bare microphone, and nothing takes it out afterwards.",
     "A wind cover, a place in the lee, a microphone under cloth."),
    ("sound.clip", "Place on the wearer",
     "A dress may have neither pocket nor seam; that is found out in the wings, when there is no time.",
     "Agree with wardrobe where pack and microphone sit, a belt under the dress, tape."),
    ("sound.place", "Seen, or ringing",
     "A microphone in the picture cannot be taken out of it, and the ring of a room cannot be taken out of a voice.",
     "Hide it, hang blankets, go nearer, or record a pass of sound alone after the take."),
    ("sound.level", "Nobody at the level",
     "A level set in the morning is wrong at the first shout.",
     "A second track that records 12 dB lower, somebody who rides it, a limiter."),
    ("sound.house", "Feed from the venue's desk",
     "The desk shows the connector that nobody brought, and its sound stops when the venue says so.",
     "Leads for every connector it may show, own microphones beside a loudspeaker."),
    ("sound.radio", "Radio channels that disturb each other",
     "Two transmitters make new frequencies between them; one that falls on a third channel is heard there as noise.",
     "The nearest free set, fewer radios on the air at once, a recorder on the person instead. Local rules decide which bands may be used."),
    ("sound.sync", "Kept in step",
     "Clocks run apart, and pictures and sound without a common mark are lined up by eye, take by take.",
     "A timecode box, jamming again in the break, guide sound on every camera, a clap that all can see."),
    ("sound.guide", "Guide sound comes late",
     "Sound takes its time: what a far camera hears is frames late.",
     "Line it up by so many frames, or feed the camera by radio."),
    ("sound.consent", "Agreed to be recorded",
     "A microphone that rolls all the time catches what is private.",
     "Ask, write it down, say where it can be switched off."),
    ("money.skipped", "A must that is skipped",
     "What is nice to have takes the money that what must be there needs.",
     "Decide for the must first, or say that it is none."),
    ("money.until", "It ends before the job",
     "A licence or an insurance that has run out covers nothing, and nobody asks until something happens.",
     "Have it extended before the first day, and note until when."),
    ("share.unit_taken", "Unit is in two rigs at once",
     "One thing cannot be in two places; it is found missing when the second camera is built.",
     "Another unit of the same kind, or another build for one of the cameras."),
)
# fmt: on
