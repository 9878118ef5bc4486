"""How units are set in a build, in words."""

from __future__ import annotations

from .build import Catalogue, UnitSetting

__all__ = ["setting_text"]


def setting_text(setting: UnitSetting, catalogue: Catalogue) -> str:
    """How a unit is set, in a line for people."""
    body, gimbal = (model := catalogue.model_of(setting.unit)).body, model.gimbal
    area = next((a.label for a in body.areas if a.id == setting.area), None) if body else None
    picture = next((f.label for f in body.formats if f.id == setting.picture), None) if body else None
    said = (
        area,
        f"{setting.focal_mm:g} mm" if setting.focal_mm else None,
        f"f/{setting.stop:g}" if setting.stop else None,
        f"{setting.fps:g} fps" if setting.fps else None,
        f"{setting.shutter_deg:g}°" if setting.shutter_deg else None,
        f"ISO {setting.iso:.0f}" if setting.iso else None,
        picture,
        next((m.label for m in gimbal.modes if m.id == setting.mode), None) if gimbal else None,
    )
    return ", ".join(part for part in said if part)
