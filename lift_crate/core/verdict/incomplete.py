"""Checks that could not be made, and the figures that are missing for them: what was not judged is not clear."""

from __future__ import annotations

from collections.abc import Iterator

from ..callouts import About, Finding, Level
from ..gear.model import GearModel
from ..power.feeds import Feed, PowerGraph, power_graph
from ..rig.layout import Layout

__all__ = ["incomplete_findings", "unconfirmed_findings"]

_MOST_NAMED = 4
Missing = tuple[str, str]
"""A figure, and what could not be judged without it."""
_OUTLINE: Missing = ("outline", "room, reach and wind")
"""The one that is often left out knowingly, of small things."""


def incomplete_findings(layout: Layout) -> tuple[Finding, ...]:
    """One finding a unit that lacks what a check on it needs; missing masses and draws have call-outs of their own."""
    graph, found = layout.once(power_graph), []
    for unit in (*layout.every_unit, *(link.cable for link in layout.every_link)):
        model = layout.catalogue.model_of(unit)
        missing = list(_of_kind(model, unit == layout.body))
        if unit == layout.support:
            missing += _of_support(model)
        if feed := graph.feed_of(unit):
            missing += _of_power(graph, feed)
        if missing:
            said = "; ".join(f"no {figure}: {check} not judged" for figure, check in missing)
            found.append(
                Finding(
                    code="gear.incomplete",
                    level=Level.NOTE if missing == [_OUTLINE] else Level.WATCH,
                    about=About(units=(unit,)),
                    text=f"{unit} has {said}. Enter it on the Shelf.",
                )
            )
    return tuple(found)


def _of_kind(model: GearModel, is_body: bool) -> Iterator[Missing]:
    if is_body and model.body is None:
        yield "recorded areas", "lens, framing and light"
    if model.kind == "lens" and model.lens is None:
        yield "focal length, aperture and image circle", "coverage, framing and light"
    if model.kind == "pack" and model.pack is None:
        yield "cells and capacity", "hours and voltage"
    if model.kind == "gimbal" and model.gimbal is None:
        yield "stages, slides and torques", "balance and motors"
    if not model.shapes and not model.is_cable and model.stand is None:
        yield _OUTLINE


def _of_support(model: GearModel) -> Iterator[Missing]:
    data = model.support
    if data is None:
        return
    if model.gimbal is None and data.payload_limit_g is None and data.kind == "head":
        yield "rated payload", "payload"
    if data.kind == "head" and data.head is None:
        yield "tilt range and drag", "whether it holds the tilt"
    if data.kind == "mount" and data.mount is None:
        yield "points and pull-off", "whether it holds"
    if data.mount and data.mount.along_face and any(point.at is None for point in data.mount.points):
        yield "place of its points", "peeling off the face"
    if model.gimbal and not model.stages:
        yield "outline of its arms", "reach"
    if model.gimbal and model.gimbal.base_w is None:
        yield "power draw", "hours of its own pack"


def _of_power(graph: PowerGraph, feed: Feed) -> Iterator[Missing]:
    if graph.electrical(feed.sink, feed.inlet).max_v is None:
        yield (
            f"largest voltage of input '{graph.layout.catalogue.model_of(feed.sink).port(feed.inlet).label}'",
            "over-voltage",
        )


def unconfirmed_findings(layout: Layout) -> tuple[Finding, ...]:
    """One finding for all units whose voltages, currents and ratings are those of a kind of thing, not their own."""
    units = tuple(
        unit
        for unit in (*layout.every_unit, *(link.cable for link in layout.every_link))
        if layout.catalogue.model_of(unit).unconfirmed
    )
    if not units:
        return ()
    named = ", ".join(units[:_MOST_NAMED]) + (
        f" and {len(units) - _MOST_NAMED} more" if len(units) > _MOST_NAMED else ""
    )
    return (
        Finding(
            code="gear.unconfirmed",
            level=Level.WATCH,
            about=About(units=units),
            text=f"Ratings not confirmed: {named}. Voltages, currents and loads are usual ones; read them off the thing"
            " and confirm them on the Shelf.",
        ),
    )
