"""A borrowed body: what to find on it before it rolls, in plain words beside the technical ones."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..errors import NotAllowed
from ..gear.model import GearModel, Port
from ..rig.build import Catalogue
from .score import Lesson, Result, points

__all__ = ["ToFind", "orient_result", "to_find"]


@dataclass(frozen=True, kw_only=True)
class ToFind:
    """One thing to find and try on the body; ``known``: its figure was entered, it need not be looked up."""

    id: str
    plain: str
    technical: str
    why: str
    known: bool = True


def to_find(catalogue: Catalogue, unit: str) -> tuple[ToFind, ...]:
    """Everything to find on a body; raises NoSuchUnit, and NotAllowed for what is no body."""
    model = catalogue.model_of(unit)
    if model.body is None:
        raise NotAllowed(f"{unit} is no camera body.")
    return tuple(_all(model))


def _all(model: GearModel) -> Iterator[ToFind]:
    body = model.body
    if body is None:
        return
    switch = " · ".join(body.switch)
    yield ToFind(
        id="switch",
        plain=f"Switch it on and off again: {switch}" if switch else "Switch it on and off again: how many positions?",
        technical="power switch",
        why="It may have more than on and off: one position locks, or plays back, or leaves it asleep.",
        known=bool(switch),
    )
    yield ToFind(
        id="magnify",
        plain=f"Magnify the picture, then leave it: {body.magnify}" if body.magnify else "Magnify, then leave it again",
        technical="focus magnifier",
        why="The magnified picture is not the recording: framed in it, the shot is wider than you saw.",
        known=bool(body.magnify),
    )
    yield ToFind(
        id="iris",
        plain=f"Open and close the iris: {body.iris_push or 'what does a push on its dial do?'}",
        technical="iris dial, push for automatic",
        why="A push while it rolls sets the exposure anew, and the shot jumps.",
        known=bool(body.iris_push),
    )
    for port in model.ports:
        found = _jack(port)
        if found is not None:
            yield found
    recording = model.recording
    if recording is not None and recording.slots:
        slots = ", ".join(f"{s.id} ({s.takes})" for s in recording.slots)
        limit = f"; a take ends by itself after {recording.take_limit_min:g} min" if recording.take_limit_min else ""
        yield ToFind(
            id="slots",
            plain=f"Open the card doors, put a card in, look that it is read: {slots}",
            technical=f"slots{limit}",
            why="A card that is not read, or a door that is not shut, is found when it should roll.",
        )
    if body.stabilised != "none":
        yield ToFind(
            id="steady",
            plain="Switch its stabiliser off and on",
            technical=f"{body.stabilised} stabiliser",
            why="On a gimbal or a head it works against what carries it.",
        )


def _jack(port: Port) -> ToFind | None:
    signal = port.signal
    if signal is None or signal.what != "sound":
        return None
    levels = " or ".join(signal.level) or "level not known"
    phantom = {"gives": ", gives 48 V", "needs": ", needs 48 V", "no": ""}[signal.phantom]
    way = {"in": "takes", "out": "gives", "both": "takes and gives"}[signal.role]
    return ToFind(
        id=f"jack {port.id}",
        plain=f"Plug into {port.label} and hear it on headphones",
        technical=f"{port.interface}: {way} sound at {levels}{phantom}",
        why="One size of jack serves headphones, microphone and line; what is written on the body misleads.",
    )


def orient_result(found: Sequence[ToFind], ticked: Sequence[str], hints: int) -> Result:
    """How it ended: what was found and tried by hand, of all there is."""
    got = set(ticked)
    share = sum(x.id in got for x in found) / len(found) if found else 1.0
    return Result(
        points=points(share, hints=hints),
        won=share >= 1,
        said=f"{sum(x.id in got for x in found)} of {len(found)} found",
        best="all of them, before it goes on the rig",
        lessons=tuple(
            Lesson(
                plain=x.plain,
                technical=x.technical,
                why=x.why,
                cure="" if x.known else "Enter it with the model, so that the next one knows.",
                got=x.id in got,
            )
            for x in found
        ),
    )
