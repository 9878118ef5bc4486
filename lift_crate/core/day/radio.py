"""Radio channels: which of those on the air at one time disturb each other, and the nearest set that is free.

Two channels keep apart, and a third-order product of two or three (2f₁ − f₂, f₁ + f₂ − f₃) keeps away from any
further one. Whole kHz. Formulas: docs/formulas.md §14, 'Radio'.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations, permutations

from ..callouts import About, Finding, Input, Level, Working
from ..job.job import Job, PartOfDay
from ..job.sound import Band
from ..job.sound_edits import bands_said, in_bands
from ..settings import Settings

__all__ = ["Channel", "OnAir", "Product", "free_set", "hits", "on_air"]

_EFFORT = 4.0
"""Deterministic time of the solver, which stands for about as many seconds."""
_AROUND_KHZ, _FARTHEST_KHZ = 12_000, 10_000_000
"""Where no band is named: so far around what is used now; and further than any channel is moved."""
_Name = tuple[str, str]


@dataclass(frozen=True, slots=True)
class Channel:
    """A channel in use: of which source of which voice, kHz."""

    voice: str
    source: str
    khz: int

    @property
    def name(self) -> tuple[str, str]:
        """What it is called by."""
        return self.voice, self.source


@dataclass(frozen=True, slots=True)
class Product:
    """A third-order product that falls on a further channel, or two channels too near: from which, at what kHz."""

    of: tuple[Channel, ...]
    khz: int
    on: Channel
    off_khz: int
    """How far from that channel it falls."""


@dataclass(frozen=True, slots=True)
class OnAir:
    """A part of the day: channels on the air in it, and what they disturb."""

    part: PartOfDay
    channels: tuple[Channel, ...]
    near: tuple[Product, ...]
    products: tuple[Product, ...]


def hits(channels: Sequence[Channel], settings: Settings) -> tuple[tuple[Product, ...], tuple[Product, ...]]:
    """Channels too near each other, and products that fall on a further one."""
    near = tuple(
        Product((a,), a.khz, b, abs(a.khz - b.khz))
        for a, b in combinations(channels, 2)
        if abs(a.khz - b.khz) < settings.radio_apart_khz
    )
    return near, tuple(_products(channels, settings.radio_product_khz))


def _products(channels: Sequence[Channel], least: int) -> Iterator[Product]:
    for a, b in permutations(channels, 2):
        at = 2 * a.khz - b.khz
        yield from (Product((a, b), at, c, abs(at - c.khz)) for c in _others(channels, a, b) if abs(at - c.khz) < least)
    for a, b in combinations(channels, 2):
        for c in _others(channels, a, b):
            at = a.khz + b.khz - c.khz
            for d in _others(channels, a, b, c):
                if abs(at - d.khz) < least:
                    yield Product((a, b, c), at, d, abs(at - d.khz))


def _others(channels: Sequence[Channel], *but: Channel) -> Iterator[Channel]:
    return (c for c in channels if all(c is not other for other in but))


def on_air(job: Job) -> tuple[tuple[OnAir, ...], tuple[Finding, ...]]:
    """Every part of the day in which a radio sends, and what stands against it."""
    found: list[OnAir] = []
    findings: list[Finding] = []
    for part in sorted(job.parts, key=lambda p: p.starts):
        channels = tuple(
            Channel(voice.id, source.label, source.khz)
            for voice in job.sound.voices
            if part.id in voice.parts
            for source in voice.sources
            if source.khz is not None
        )
        if channels:
            found.append(OnAir(part, channels, *hits(channels, job.settings)))
            findings += _findings(job, found[-1])
    return tuple(found), tuple(findings)


def _findings(job: Job, air: OnAir) -> Iterator[Finding]:
    labels = {voice.id: voice.label for voice in job.sound.voices}

    def said(channel: Channel) -> str:
        return f"{labels[channel.voice]} ({channel.khz / 1000:.3f})"

    for channel in air.channels:
        if not in_bands(channel.khz, job.sound.bands):
            yield Finding(
                code="sound.radio",
                level=Level.STOP,
                about=About(units=(f"voice {channel.voice}", air.part.id, channel.source, "band")),
                text=f"{said(channel)} MHz lies outside the job's bands, {bands_said(job.sound.bands)}.",
            )
    for hit in air.near:
        yield Finding(
            code="sound.radio",
            level=Level.STOP,
            about=About(units=(f"voice {hit.on.voice}", air.part.id, hit.on.source, hit.of[0].voice, hit.of[0].source)),
            text=f"{said(hit.of[0])} and {said(hit.on)} MHz are {hit.off_khz} kHz apart in {air.part.label}.",
            value=float(hit.off_khz),
            limit=float(job.settings.radio_apart_khz),
            unit="kHz",
        )
    by_victim: dict[tuple[str, str], list[Product]] = {}
    for product in air.products:
        by_victim.setdefault(product.on.name, []).append(product)
    for products in by_victim.values():
        worst = min(products, key=lambda p: p.off_khz)
        signs = "2·{0} − {1}" if len(worst.of) == 2 else "{0} + {1} − {2}"
        sum_of = signs.format(*(f"{c.khz / 1000:.3f}" for c in worst.of))
        yield Finding(
            code="sound.radio",
            level=Level.STOP,
            about=About(units=(f"voice {worst.on.voice}", air.part.id, worst.on.source, "product")),
            text=f"The channels of {' and '.join(dict.fromkeys(labels[c.voice] for c in worst.of))} make {sum_of} ="
            f" {worst.khz / 1000:.3f} MHz, {worst.off_khz} kHz from {said(worst.on)}, in {air.part.label}.",
            value=float(worst.off_khz),
            limit=float(job.settings.radio_product_khz),
            unit="kHz",
            working=(
                Working(
                    formula="2f₁ − f₂ and f₁ + f₂ − f₃ over all channels on the air",
                    inputs=tuple(
                        Input(name=labels[c.voice], value=f"{c.khz / 1000:.3f} MHz", source="job") for c in air.channels
                    ),
                    numbers=f"{sum_of} = {worst.khz / 1000:.3f}",
                ),
            ),
        )


def free_set(
    together: Sequence[Sequence[Channel]], bands: Sequence[Band], settings: Settings
) -> Mapping[tuple[str, str], int] | None:
    """The nearest set of channels in which nothing disturbs anything: the fewest are moved, then by the least sum.

    Parameters
    ----------
    together
        Channels that are on the air at one time, once for each part of the day.
    bands
        Where they may lie; without any within 12 MHz of where the lowest and the highest are.
    settings
        Distances to keep and the step in which a radio is tuned.

    Returns
    -------
        By voice and source the new frequency of every channel, kHz; None where no set was found.

    """
    every = {c.name: c for part in together for c in part}
    if not every:
        return {}
    # The solver comes with the question: it takes long to load, and nothing else here needs it.
    from ortools.sat.python import cp_model  # noqa: PLC0415

    raster = _raster([c.khz for c in every.values()], bands, settings.radio_step_khz)
    m = cp_model.CpModel()
    f: dict[_Name, cp_model.IntVar] = {}
    moved: list[cp_model.IntVar] = []
    away: list[cp_model.IntVar] = []
    for name, channel in every.items():
        here = sorted(raster | ({channel.khz} if in_bands(channel.khz, tuple(bands)) else set()))
        if not here:
            return None
        f[name] = m.new_int_var_from_domain(cp_model.Domain.from_values(here), f"f{len(f)}")
        moved.append(m.new_bool_var(f"m{len(moved)}"))
        m.add(f[name] == channel.khz).only_enforce_if(moved[-1].negated())
        away.append(m.new_int_var(0, _FARTHEST_KHZ, f"a{len(away)}"))
        m.add_abs_equality(away[-1], f[name] - channel.khz)
    for plus, minus, least in _conditions(together, settings):
        # One way or the other they are no less than so much apart.
        above, difference = m.new_bool_var(""), sum(f[n] for n in plus) - sum(f[n] for n in minus)
        m.add(difference >= least).only_enforce_if(above)
        m.add(difference <= -least).only_enforce_if(above.negated())
    m.minimize(sum(moved) * _FARTHEST_KHZ * len(every) + sum(away))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 7
    solver.parameters.max_deterministic_time = _EFFORT
    if solver.solve(m) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    return {name: int(solver.value(f[name])) for name in every}


def _raster(now: Sequence[int], bands: Sequence[Band], step: int) -> set[int]:
    """Frequencies that a radio may be tuned to."""
    wide = [(b.low_khz, b.high_khz) for b in bands] or [(min(now) - _AROUND_KHZ, max(now) + _AROUND_KHZ)]
    return {f for low, high in wide for f in range(-(-low // step) * step, high + 1, step)}


def _conditions(
    together: Sequence[Sequence[Channel]], settings: Settings
) -> Iterator[tuple[tuple[_Name, ...], tuple[_Name, ...], int]]:
    """What keeps apart, each once: sums of channels, and the least difference between them."""
    every: dict[tuple[tuple[_Name, ...], tuple[_Name, ...]], int] = {}
    for part in together:
        names = sorted(c.name for c in part)
        for a, b in combinations(names, 2):
            every[(a,), (b,)] = settings.radio_apart_khz
        for three in combinations(names, 3):
            # 2a − b on c and 2a − c on b are one condition.
            for a, b, c in (three, (three[1], three[0], three[2]), (three[2], three[0], three[1])):
                every[(a, a), (b, c)] = settings.radio_product_khz
        for a, b, c, d in combinations(names, 4):
            for pair in (((a, b), (c, d)), ((a, c), (b, d)), ((a, d), (b, c))):
                every[pair] = settings.radio_product_khz
    return ((plus, minus, least) for (plus, minus), least in every.items() if least > 0)
