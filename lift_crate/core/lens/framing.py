"""What a lens shows on a body: crop, angle, width at a distance, depth of field, blur, corners, and the light it needs.

Formulas: docs/formulas.md §2, 'Crop and framing' and 'Filters'. Lengths in mm,
angles in degrees; distances ``from_plane_mm`` are from the film-plane mark, ``u_mm``
from the lens.
"""

from __future__ import annotations

import math

__all__ = [
    "LIGHT_IN_WORDS",
    "angle_deg",
    "blur_mm",
    "clear_radius_mm",
    "crop_factor",
    "depth_of_field_mm",
    "exposure_ev",
    "from_lens_mm",
    "nd_stops",
    "stop_for",
    "width_at_mm",
]

LIGHT_IN_WORDS: tuple[tuple[str, float], ...] = (
    ("sunshine", 15),
    ("cloudy but bright", 13),
    ("overcast, open shade", 12),
    ("just after sunset", 10),
    ("floodlit stage or pitch", 9),
    ("well-lit hall, bright street at night", 7),
    ("home in the evening", 5),
    ("dim street, candles near", 3),
    ("dim lamps far off", 0),
    ("full moon", -3),
)
"""What people call a light, and its EV at ISO 100 as exposure tables give it, to a stop or so."""
_FULL_DIAGONAL_MM = 43.267
"""Diagonal of 36 × 24 mm, to which crop factors refer."""


def crop_factor(diagonal_mm: float) -> float:
    """How many times narrower than 36 × 24 mm a recorded area is: 43.267 / diagonal."""
    return _FULL_DIAGONAL_MM / diagonal_mm


def angle_deg(width_mm: float, focal_mm: float) -> float:
    """Angle of view over a width of the recorded area: 2·atan(w/2f)."""
    return math.degrees(2 * math.atan(width_mm / (2 * focal_mm)))


def from_lens_mm(from_plane_mm: float, focal_mm: float) -> float | None:
    """Distance from the lens of a thin lens focused there: (D + √(D² − 4Df))/2; None nearer than 4f."""
    inner = from_plane_mm**2 - 4 * from_plane_mm * focal_mm
    return None if inner < 0 else (from_plane_mm + math.sqrt(inner)) / 2


def width_at_mm(width_mm: float, focal_mm: float, from_plane_mm: float) -> float | None:
    """Width that the picture shows at a distance: w·(u − f)/f; None where the lens cannot be focused so near."""
    u_mm = from_lens_mm(from_plane_mm, focal_mm)
    return None if u_mm is None else width_mm * (u_mm - focal_mm) / focal_mm


def depth_of_field_mm(focal_mm: float, stop: float, circle_mm: float, u_mm: float) -> tuple[float, float]:
    """Nearest and farthest sharp distance from the lens, the latter infinite from the hyperfocal distance on.

    H = f²/(N·c) + f;  near u(H−f)/(H+u−2f),  far u(H−f)/(H−u).
    """
    hyperfocal = focal_mm**2 / (stop * circle_mm) + focal_mm
    near = u_mm * (hyperfocal - focal_mm) / (hyperfocal + u_mm - 2 * focal_mm)
    return near, math.inf if u_mm >= hyperfocal else u_mm * (hyperfocal - focal_mm) / (hyperfocal - u_mm)


def blur_mm(focal_mm: float, stop: float, focused_mm: float, point_mm: float) -> float:
    """Diameter on the sensor of a point at a distance from the lens: f²/(N(u−f))·|X−u|/X."""
    return focal_mm**2 / (stop * (focused_mm - focal_mm)) * abs(point_mm - focused_mm) / point_mm


def clear_radius_mm(focal_mm: float, diagonal_mm: float, pupil_mm: float, stack_mm: float) -> float:
    """Clear radius that a stack of filters needs to leave the corners alone: (e + h)·tan θ, focus at infinity."""
    return (pupil_mm + stack_mm) * (diagonal_mm / 2) / focal_mm


def exposure_ev(stop: float, seconds: float, iso: float) -> float:
    """EV at ISO 100 that a setting is right for: log₂(N²/t) − log₂(ISO/100)."""
    return math.log2(stop**2 / seconds) - math.log2(iso / 100)


def stop_for(scene_ev: float, shutter_deg: float, fps: float, iso: float) -> float:
    """Aperture that is right for a light: N = √(2^EV · t · ISO/100), t = angle/360/fps."""
    return math.sqrt(2.0**scene_ev * shutter_deg / 360 / fps * iso / 100)


def nd_stops(
    scene_ev: float, stop: float, shutter_deg: float, fps: float, iso: float, already_stops: float = 0.0
) -> float:
    """Stops to be taken away; negative: light is missing. t = angle/360/fps."""
    return scene_ev - exposure_ev(stop, shutter_deg / 360 / fps, iso) - already_stops
