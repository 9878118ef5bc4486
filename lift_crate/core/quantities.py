"""Physical bounds of what can be entered, one place for all: wide enough for
anything a crew handles, narrow enough that every computation ends.

Units stand in the names of the fields. Texts are checked for control characters at the edge (``formats``).
"""

from __future__ import annotations

import math
from typing import Annotated

from annotated_types import Ge, Gt, Le, MaxLen, MinLen

__all__ = ["Angle", "Coordinate", "Count", "Identifier", "Label", "NotNegative", "Note", "Positive", "Share", "finite"]

Identifier = Annotated[str, MinLen(1), MaxLen(120)]
Label = Annotated[str, MaxLen(200)]
Note = Annotated[str, MaxLen(2000)]
Positive = Annotated[float, Gt(0), Le(1_000_000)]
NotNegative = Annotated[float, Ge(0), Le(1_000_000)]
Share = Annotated[float, Ge(0), Le(1)]
Coordinate = Annotated[float, Ge(-5000), Le(5000)]
"""mm in a part's own frame: nothing that is carried to a camera is longer than 10 m."""
Angle = Annotated[float, Ge(-360), Le(360)]
Count = Annotated[int, Ge(1), Le(999)]


def finite(value: float) -> float | None:
    """A figure that is told; none for what never happens: hours without an end, a wind that is never strong enough."""
    return value if math.isfinite(value) else None
