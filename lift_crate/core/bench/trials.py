"""What may help against a call-out, by its kind and from the shelf; whether it does is not asked here."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from ..balance.report import balance_report
from ..callouts import Finding
from ..gear.model import Port, mates
from ..lens.coverage import filters_on
from ..lens.mount import area_in_use, lens_chain
from ..rig.edits import Adjust, Attach, Detach, Disconnect, Move, OffBetween, Operation, Replace, SlideTo, Turn
from .bench import Bench, free_ports, is_socket, same_ends, through, ways_on, ways_to_link, ways_to_move
from .feeding import ways_to_feed, ways_to_replace_pack
from .levellers import level_slides

__all__ = ["Trial", "trials_for"]

Trial = tuple[Operation, ...]


def trials_for(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Changes that may help against a call-out, in the order in which they are tried; some may come twice."""
    for prefix, generate in _GENERATORS:
        if finding.code.startswith(prefix):
            yield from generate(bench, finding)


def _joins(bench: Bench, finding: Finding) -> Iterator[Trial]:
    unit = finding.about.units[0]
    joint = bench.build.joint_of(unit)
    if joint:
        port = bench.catalogue.model_of(joint.parent).port(joint.parent_port)
        own = bench.catalogue.model_of(unit).port(joint.child_port)
        chain = bench.chain(port, own)
        if chain and (steps := through(chain, joint.parent, joint.parent_port)):
            onto, onto_port = steps[1]
            yield (
                *steps[0],
                Move(unit=unit, unit_port=own.id, onto=onto, onto_port=onto_port, spin_deg=joint.spin_deg),
            )
    yield from _elsewhere(bench, finding)


def _elsewhere(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Move either thing it is about to another port, or leave it off."""
    for unit in finding.about.units:
        for move in ways_to_move(bench, unit):
            yield (move,)
        joint = bench.build.joint_of(unit)
        if joint and unit == finding.about.units[0]:
            yield (Detach(unit=unit),)
        elif unit in {link.cable for link in bench.build.links}:
            yield (Disconnect(cable=unit),)


def _expanded(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """A bracket, cage, arm or plate of the shelf that gives the port more room: on it
    with both moved over, or elsewhere with the second moved there.
    """
    holder, port_id = finding.about.units[1], finding.about.port
    held = [bench.build.joint_of(j.child) for j in bench.build.joints if (j.parent, j.parent_port) == (holder, port_id)]
    joints = [joint for joint in held if joint]
    if not joints or port_id is None:
        return
    taken = bench.catalogue.model_of(holder).port(port_id)
    own = [bench.catalogue.model_of(joint.child).port(joint.child_port) for joint in joints]
    places = [(unit, port) for unit, port in free_ports(bench.stand.assembly) if not is_socket(bench.catalogue, port)]
    seen: set[str] = set()
    for unit in bench.sound():
        model = bench.catalogue.model_of(unit)
        if model.id in seen or model.is_cable or len(model.ports) < 2:
            continue
        seen.add(model.id)
        for near in model.ports:
            beyond = [port for port in model.ports if port.id != near.id and mates(own[-1], port)]
            if beyond and mates(near, taken) and len(beyond) >= len(joints):
                yield (
                    Attach(unit=unit, unit_port=near.id, onto=holder, onto_port=port_id),
                    *(
                        Move(unit=j.child, unit_port=j.child_port, onto=unit, onto_port=far.id, spin_deg=j.spin_deg)
                        for j, far in zip(joints, beyond, strict=False)
                    ),
                )
            behind = set(bench.build.subtree(joints[-1].child))
            for onto, port in places if beyond else ():
                if onto not in behind and mates(near, port):
                    last = joints[-1]
                    yield (
                        Attach(unit=unit, unit_port=near.id, onto=onto, onto_port=port.id),
                        Move(
                            unit=last.child,
                            unit_port=last.child_port,
                            onto=unit,
                            onto_port=beyond[0].id,
                            spin_deg=last.spin_deg,
                        ),
                    )


def _along(bench: Bench, finding: Finding) -> Iterator[Trial]:
    for unit in finding.about.units:
        joint = bench.build.joint_of(unit)
        if joint is None:
            continue
        travel = bench.catalogue.travel(joint)
        if travel:
            step = max(5.0, finding.value or 0.0)
            for mm in (joint.slide_mm - step, joint.slide_mm + step, travel.min_mm, travel.max_mm, joint.slide_mm):
                yield (SlideTo(unit=unit, to_mm=round(min(max(mm, travel.min_mm), travel.max_mm), 1)),)


def _turned(bench: Bench, finding: Finding) -> Iterator[Trial]:
    yield (Turn(unit=finding.about.units[0], steps=1),)
    yield (Turn(unit=finding.about.units[0], steps=-1),)


def _another_lens(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Every other lens, on the mount that stands in front of the body today, by the adapters it needs."""
    body = bench.build.body
    chain = lens_chain(bench.stand.assembly)
    plates = [unit for unit in chain if bench.catalogue.model_of(unit).kind == "mount plate"]
    beyond = [unit for unit in chain if unit not in plates]
    off: Trial = (Detach(unit=beyond[0]),) if beyond else ()
    inner = plates[-1] if plates else body
    mount = next((p for p in bench.catalogue.model_of(inner).ports if _is_front_mount(bench, inner, p)), None)
    if mount is None:
        return
    seen: set[str] = set()
    for unit in bench.sound():
        model = bench.catalogue.model_of(unit)
        own = next((p for p in model.ports if bench.catalogue.interfaces[p.interface].kind == "lens"), None)
        if not model.lens or own is None or model.id in seen:
            continue
        seen.add(model.id)
        adapters = bench.chain(mount, own)
        if adapters and (steps := through(adapters, inner, mount.id)):
            onto, onto_port = steps[1]
            yield (*off, *steps[0], Attach(unit=unit, unit_port=own.id, onto=onto, onto_port=onto_port))


def _is_front_mount(bench: Bench, unit: str, port: Port) -> bool:
    joint = bench.build.joint_of(unit)
    return bench.catalogue.interfaces[port.interface].kind == "lens" and not (joint and joint.child_port == port.id)


def _other_setting(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Focal lengths from long to short, apertures, and pictures of a lower rate."""
    for unit in finding.about.units:
        if unit not in bench.stand.assembly.row:
            continue
        model = bench.catalogue.model_of(unit)
        if model.lens and finding.code == "lens.width" and model.lens.zooms:
            low, high = model.lens.focal_mm
            for focal in sorted(
                {round(low + (high - low) * share) for share in (0, 0.1, 0.2, 0.35, 0.5, 0.7)}, reverse=True
            ):
                yield (Adjust(unit=unit, focal_mm=min(max(focal, low), high)),)
        if model.lens and finding.code == "lens.light":
            for stop in (1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0):
                if stop >= model.lens.stop:
                    yield (Adjust(unit=unit, stop=stop),)
        if model.body and finding.code == "link.rate":
            for picture in sorted(model.body.formats, key=lambda f: -f.gbps):
                yield (Adjust(unit=unit, picture=picture.id),)


def _off_between(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Switched off between takes, where it does not roll all the time."""
    del finding
    if bench.stand.conditions.rolling < 1 and not bench.build.off_between:
        yield (OffBetween(off=True),)


def _other_mode(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Every mode of the gimbal."""
    for unit in finding.about.units:
        gimbal = bench.catalogue.model_of(unit).gimbal if unit in bench.stand.assembly.row else None
        for mode in gimbal.modes if gimbal else ():
            yield (Adjust(unit=unit, mode=mode.id),)


def _filters(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Filters of the shelf in front of what is on the lens, by the rings they need, one or two of them."""
    lens = finding.about.units[0]
    outermost = [
        (unit, port)
        for unit in reversed(bench.build.subtree(lens))
        for port in bench.catalogue.model_of(unit).ports
        if bench.catalogue.interfaces[port.interface].kind == "front"
        and port in [p for u, p in free_ports(bench.stand.assembly) if u == unit]
    ]
    singles: list[tuple[str, Trial, tuple[str, str]]] = []
    seen: set[str] = set()
    for unit in bench.sound():
        model = bench.catalogue.model_of(unit)
        if model.filter is None or model.id in seen:
            continue
        seen.add(model.id)
        own = model.ports[0]
        for onto, port in outermost:
            chain = bench.chain(port, own)
            if chain and (steps := through(chain, onto, port.id)):
                trial: Trial = (*steps[0], Attach(unit=unit, unit_port=own.id, onto=steps[1][0], onto_port=steps[1][1]))
                singles.append((unit, trial, (unit, "front")))
                yield trial
                break
    for first, with_first, (onto, onto_port) in singles:
        for second, _, _ in singles:
            own = bench.catalogue.model_of(second).ports[0]
            fronts = [p for p in bench.catalogue.model_of(onto).ports if p.id == onto_port and mates(own, p)]
            if first != second and fronts:
                yield (*with_first, Attach(unit=second, unit_port=own.id, onto=onto, onto_port=onto_port))


def _filters_off(bench: Bench, finding: Finding) -> Iterator[Trial]:
    for unit, _ in filters_on(bench.stand.assembly, finding.about.units[0]):
        yield (Detach(unit=unit),)


def _turned_each(bench: Bench, finding: Finding) -> Iterator[Trial]:
    for unit in finding.about.units:
        if bench.build.joint_of(unit) and unit != bench.stand.carried.support:
            yield (Turn(unit=unit, steps=1),)
            yield (Turn(unit=unit, steps=-1),)


def _slide_to_ring(bench: Bench, finding: Finding) -> Iterator[Trial]:
    unit = finding.about.units[0]
    joint = bench.build.joint_of(unit)
    if joint and finding.value is not None:
        for sign in (-1, 1):
            yield (SlideTo(unit=unit, to_mm=round(joint.slide_mm + sign * finding.value, 1)),)


def _other_cable(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Another cable between the same sockets, or from either of them to another; the present one off first."""
    link = next((k for k in bench.build.links if k.cable == finding.about.units[0]), None)
    if link is None:
        link = next((k for k in bench.build.links if {k.from_unit, k.to_unit} & set(finding.about.units)), None)
    if link is None:
        return
    without = bench.after((Disconnect(cable=link.cable),))
    for unit, port_id in ((link.from_unit, link.from_port), (link.to_unit, link.to_port)):
        for way in ways_to_link(without, unit, bench.catalogue.model_of(unit).port(port_id, unit)):
            yield (Disconnect(cable=link.cable), way)


def _other_of_kind(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Another model of the same kind in the place of a part it is about: a stronger arm, a shorter clamp."""
    for unit in finding.about.units:
        if bench.build.joint_of(unit) is None:
            continue
        model = bench.catalogue.model_of(unit)
        seen = {model.id}
        for other in bench.sound():
            others = bench.catalogue.model_of(other)
            if others.kind == model.kind and others.id not in seen and same_ends(bench, unit, other):
                seen.add(others.id)
                yield (Replace(unit=unit, by=other),)


def _other_area(bench: Bench, finding: Finding) -> Iterator[Trial]:
    body = bench.build.body
    data = bench.catalogue.model_of(body).body
    now = area_in_use(bench.stand.assembly, body)
    if data and now:
        for area in data.areas:
            if area.id != now.id:
                yield (Adjust(unit=body, area=area.id),)


def _put_on(kind: str) -> Callable[[Bench, Finding], Iterator[Trial]]:
    def generate(bench: Bench, finding: Finding) -> Iterator[Trial]:
        seen: set[str] = set()
        for unit in bench.sound():
            model = bench.catalogue.model_of(unit)
            if model.kind != kind or model.id in seen:
                continue
            seen.add(model.id)
            for onto, port in free_ports(bench.stand.assembly):
                if not is_socket(bench.catalogue, port):
                    for way in ways_on(bench, unit, onto, port)[:1]:
                        yield (way,)

    return generate


def _leave_off(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Take off what is neither the picture, nor the way to the support, nor what feeds the body."""
    build, assembly = bench.build, bench.stand.assembly
    keep = {build.body, *lens_chain(assembly)}
    support = assembly.find_support()
    at = build.joint_of(support) if support else None
    if support:
        keep |= {support, *(unit for unit in build.subtree(support) if bench.catalogue.model_of(unit).stand)}
    while at:
        keep.add(at.parent)
        at = build.joint_of(at.parent)
    feed = bench.stand.graph.feed_of(build.body)
    while feed:
        keep.add(feed.source)
        feed = bench.stand.graph.feed_of(feed.source)
    free = [unit for unit in assembly.units if not keep & set(build.subtree(unit))]
    for unit in free:
        yield (Detach(unit=unit),)
    # Several at once, heaviest first, as far as it goes: one part alone may not be enough.
    tops = [unit for unit in free if (joint := build.joint_of(unit)) and joint.parent not in free]
    tops.sort(key=lambda unit: -sum(bench.catalogue.mass_of(u)[0] or 0.0 for u in build.subtree(unit)))
    for count in range(2, len(tops) + 1):
        yield tuple(Detach(unit=unit) for unit in tops[:count])


def _lighter(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """A lighter unit of the same kind on the same ports."""
    masses = bench.catalogue.mass_of
    seen: set[tuple[str, str]] = set()
    for unit in bench.stand.assembly.units:
        if bench.build.joint_of(unit) is None:
            continue
        kind, mass_g = bench.catalogue.model_of(unit).kind, masses(unit)[0] or 0.0
        for other in bench.sound():
            model = bench.catalogue.model_of(other)
            lighter = masses(other)[0]
            if model.kind != kind or lighter is None or lighter >= mass_g or (unit, model.id) in seen:
                continue
            seen.add((unit, model.id))
            if same_ends(bench, unit, other):
                yield (Replace(unit=unit, by=other),)


def _slide_rig(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Move the rig on the plates between body and support, by what is missing and to the ends."""
    support = bench.stand.assembly.find_support()
    solution = bench.stand.carried.solution
    unit: str | None = support
    while unit and (joint := bench.build.joint_of(unit)):
        travel = bench.catalogue.travel(joint)
        if travel and solution:
            missing = solution.fore_aft.ideal_mm - solution.fore_aft.set_mm
            wanted = {joint.slide_mm + sign * missing * share for sign in (-1, 1) for share in (1.0, 1.5)}
            for mm in sorted({*wanted, travel.min_mm, travel.max_mm}):
                yield (SlideTo(unit=unit, to_mm=round(min(max(mm, travel.min_mm), travel.max_mm), 1)),)
        unit = joint.parent


def _plate_between(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """A riser or another plate of the shelf put in at a joint between
    body and support, what is above it moved onto it.
    """
    unit: str | None = bench.stand.assembly.find_support()
    seen: set[tuple[str, str]] = set()
    while unit and (joint := bench.build.joint_of(unit)):
        port = bench.catalogue.model_of(joint.parent).port(joint.parent_port)
        own = bench.catalogue.model_of(unit).port(joint.child_port)
        for other in bench.sound():
            model = bench.catalogue.model_of(other)
            if model.kind not in ("plate", "riser") or (unit, model.id) in seen:
                continue
            for near in model.ports:
                far = next((p for p in model.ports if p.id != near.id and mates(own, p)), None)
                if far is None or not mates(near, port):
                    continue
                seen.add((unit, model.id))
                yield (
                    Attach(
                        unit=other,
                        unit_port=near.id,
                        onto=joint.parent,
                        onto_port=joint.parent_port,
                        spin_deg=joint.spin_deg,
                    ),
                    Move(
                        unit=unit,
                        unit_port=joint.child_port,
                        onto=other,
                        onto_port=far.id,
                        spin_deg=0.0,
                        slide_mm=joint.slide_mm,
                    ),
                )
        unit = joint.parent


def _balance_focal(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """The zoom set to the point between its two ends, to be balanced there."""
    report = balance_report(bench.stand)
    if report and report.zoom and report.zoom_unit and report.zoom.best.focal_mm:
        yield (Adjust(unit=report.zoom_unit, focal_mm=round(report.zoom.best.focal_mm, 1)),)


def _level_slides(bench: Bench, finding: Finding) -> Iterator[Trial]:
    yield from level_slides(bench)


def _other_support(bench: Bench, finding: Finding) -> Iterator[Trial]:
    support = bench.stand.assembly.find_support()
    joint = bench.build.joint_of(support) if support else None
    if not (support and joint):
        return
    port = bench.catalogue.model_of(joint.parent).port(joint.parent_port)
    wanted = bench.catalogue.model_of(support).kind
    for unit in bench.sound():
        if bench.catalogue.model_of(unit).kind == wanted:
            for way in ways_on(bench, unit, joint.parent, port)[:1]:
                yield (Detach(unit=support), replace(way, slide_mm=joint.slide_mm, spin_deg=joint.spin_deg))


def _other_pack(bench: Bench, finding: Finding) -> Iterator[Trial]:
    for unit in finding.about.units:
        pack = unit if bench.catalogue.model_of(unit).pack else None
        joint = bench.build.joint_of(pack) if pack else None
        if not (pack and joint):
            continue
        for other in bench.sound():
            if bench.catalogue.model_of(other).pack and same_ends(bench, pack, other):
                yield (Replace(unit=pack, by=other),)


def _fewer_on_pack(bench: Bench, finding: Finding) -> Iterator[Trial]:
    for feed in bench.stand.graph.feeds:
        if feed.cable and feed.sink != bench.build.body:
            yield (Detach(unit=feed.sink),)


def _feed_otherwise(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """Feed the device by another cable, outlet or pack, through a converter or dummy pack, or exchange two feeds."""
    sink = finding.about.units[-1] if finding.code == "power.connector" else finding.about.units[0]
    if sink in bench.stand.assembly.row:
        yield from ways_to_feed(bench, sink)


def _dummy_for_pack(bench: Bench, finding: Finding) -> Iterator[Trial]:
    for unit in finding.about.units:
        if bench.catalogue.model_of(unit).pack:
            yield from ways_to_replace_pack(bench, unit)


def _off_the_mains(bench: Bench, finding: Finding) -> Iterator[Trial]:
    """What hangs on the mains fed otherwise, and the adapter left behind."""
    for feed in bench.stand.graph.fed_by(finding.about.units[0]):
        for steps in ways_to_feed(bench, feed.sink):
            yield (*steps, Detach(unit=feed.source))


def _cable_off(bench: Bench, finding: Finding) -> Iterator[Trial]:
    yield (Disconnect(cable=finding.about.units[0]),)


def _alike(bench: Bench, finding: Finding) -> Iterator[Trial]:
    unit = finding.about.units[0]
    model = bench.catalogue.unit(unit).model
    for other in bench.sound():
        if bench.catalogue.unit(other).model == model:
            yield (Replace(unit=unit, by=other),)


_GENERATORS: tuple[tuple[str, Callable[[Bench, Finding], Iterator[Trial]]], ...] = (
    ("fit.interface", _joins),
    ("fit.occupied", _elsewhere),
    ("fit.occupied", _expanded),
    ("fit.occupied", _other_cable),
    ("fit.rail_full", _along),
    ("fit.slide", _along),
    ("fit.spin", _turned),
    ("fit.load", _elsewhere),
    ("fit.bending", _elsewhere),
    ("fit.twist", _elsewhere),
    ("fit.sag", _elsewhere),
    ("fit.rail_short", _elsewhere),
    ("fit.", _other_of_kind),
    ("clash.", _along),
    ("clash.", _turned_each),
    ("clash.", _elsewhere),
    ("clear.", _along),
    ("clear.", _turned_each),
    ("clear.", _elsewhere),
    ("clear.plug", _other_cable),
    ("clear.screen_plug", _other_cable),
    ("rods.height", _elsewhere),
    ("focus.reach", _slide_to_ring),
    ("focus.", _other_of_kind),
    ("focus.", _elsewhere),
    ("link.", _other_setting),
    ("link.", _other_cable),
    ("audio.", _other_cable),
    ("lens.width", _other_setting),
    ("lens.width", _other_area),
    ("lens.width", _another_lens),
    ("lens.close_focus", _another_lens),
    ("lens.light", _other_setting),
    ("lens.light", _filters),
    ("lens.light", _filters_off),
    ("filter.corner", _filters_off),
    ("filter.corner", _other_area),
    ("lens.missing", _another_lens),
    ("lens.flange", _another_lens),
    ("lens.circle", _other_area),
    ("lens.circle", _another_lens),
    ("lens.adapter_off", _another_lens),
    ("lens.support", _put_on("lens support")),
    ("gimbal.clearance.", _along),
    ("gimbal.clearance.", _turned_each),
    ("gimbal.clearance.", _elsewhere),
    ("gimbal.clearance.", _plate_between),
    ("gimbal.travel.", _plate_between),
    ("gimbal.zoom", _balance_focal),
    ("gimbal.zoom", _another_lens),
    ("gimbal.follow", _other_mode),
    ("gimbal.control", _other_cable),
    ("gimbal.", _slide_rig),
    ("gimbal.", _lighter),
    ("gimbal.", _leave_off),
    ("gimbal.", _put_on("counterweight")),
    ("gimbal.", _other_support),
    ("head.drift", _level_slides),
    ("head.drift", _leave_off),
    ("head.drift", _put_on("counterweight")),
    ("head.drift", _other_support),
    ("stand.", _other_of_kind),
    ("stand.monopod", _another_lens),
    ("stand.tips", _lighter),
    ("stand.tips", _leave_off),
    ("mount.line", _put_on("safety line")),
    ("mount.", _lighter),
    ("mount.", _leave_off),
    ("mount.", _other_support),
    ("support.", _lighter),
    ("support.", _leave_off),
    ("support.", _other_support),
    ("power.two_sources", _cable_off),
    ("power.mains", _off_the_mains),
    ("power.over_voltage", _feed_otherwise),
    ("power.under_voltage", _feed_otherwise),
    ("power.connector", _feed_otherwise),
    ("power.unfed", _feed_otherwise),
    ("power.current", _feed_otherwise),
    ("power.", _other_pack),
    ("power.hours", _off_between),
    ("power.hours", _dummy_for_pack),
    ("power.hours", _fewer_on_pack),
    ("power.current", _fewer_on_pack),
    ("power.over_voltage", _elsewhere),
    ("share.unit_taken", _alike),
    ("unit.condition", _alike),
    ("unit.condition", _other_of_kind),
)
