"""The day's swaps as iCalendar and CSV, for phones and spreadsheets."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

from ..core.swaps.card import Swap
from .text import harmless

__all__ = ["swaps_csv", "swaps_ics"]

_COLUMNS = ("at", "slot", "pack out", "pack in", "bring from", "take to", "charge left when taken out", "person")
_LASTS = timedelta(minutes=5)


def swaps_ics(job: str, title: str, swaps: Sequence[Swap], stamp: datetime) -> bytes:
    """An iCalendar with an event for every swap (RFC 5545); the same swap has the same UID in every export."""
    from icalendar import Calendar, Event  # noqa: PLC0415 - a calendar is rarely asked for, and long to load

    calendar = Calendar()
    calendar.add("prodid", "-//Lift Crate//swaps//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"{title}: swaps")
    for swap in swaps:
        event = Event()
        event.add("uid", f"{job}-{swap.slot}-{swap.at:%Y%m%dT%H%M}@lift-crate".replace(" ", ""))
        event.add("dtstamp", stamp.astimezone(UTC))
        event.add("dtstart", swap.at)
        event.add("dtend", swap.at + _LASTS)
        event.add("summary", f"{swap.label}: {swap.pack_in} in" + (f", {swap.pack_out} out" if swap.pack_out else ""))
        event.add(
            "description",
            f"{swap.pack_in} from {swap.bring_from}"
            + (f"; {swap.pack_out} to {swap.take_to}" if swap.pack_out else "")
            + "."
            + (f" {swap.person}." if swap.person else ""),
        )
        calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def swaps_csv(swaps: Sequence[Swap]) -> str:
    """One line a swap, times in ISO 8601."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(_COLUMNS)
    for swap in swaps:
        writer.writerow(
            (
                swap.at.isoformat(),
                *(
                    harmless(text)
                    for text in (swap.label, swap.pack_out or "", swap.pack_in, swap.bring_from, swap.take_to)
                ),
                "" if swap.left is None else f"{swap.left:.2f}",
                harmless(swap.person),
            )
        )
    return out.getvalue()
