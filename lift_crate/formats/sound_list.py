"""The sound list of a job, for spreadsheets."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..core.day.rolling import SoundStep
from ..core.day.sound import Sound
from ..core.job.job import Job
from .day_list import written

__all__ = ["sound_csv", "sound_log_csv"]

_HEAD = (
    "part",
    "voice",
    "wearer",
    "source",
    "units",
    "MHz",
    "pocket",
    "clip",
    "cover",
    "rides",
    "second track, dB lower",
    "leads through",
    "hangs on",
)


def sound_csv(sound: Sound) -> str:
    """One line a source and part of the day, in the order of the day."""
    return written(_HEAD, _lines(sound))


def sound_log_csv(job: Job, steps: Sequence[tuple[SoundStep, str, str, str]]) -> str:
    """One line a step at a source, in order of time: the file that a voice was slated in, who wore it, who noted it."""
    labels = {voice.id: voice.label for voice in job.sound.voices}
    return written(
        ("at", "voice", "wearer", "source", "step", "file", "who", "taken back by"),
        (
            (
                step.at.astimezone(job.clock).isoformat(),
                labels.get(step.voice, step.voice),
                wearer,
                step.source,
                step.act,
                step.file,
                who,
                back,
            )
            for step, wearer, who, back in steps
        ),
    )


def _lines(sound: Sound) -> Iterator[tuple[str, ...]]:
    for heard in sound.heard:
        for chain in heard.chains:
            source = chain.source
            yield (
                heard.part.label,
                heard.voice.label,
                heard.voice.wearer,
                source.label,
                " > ".join(source.units),
                f"{source.khz / 1000:.3f}" if source.khz else "",
                source.pocket,
                source.clip,
                "yes" if source.cover else "no",
                source.rides,
                f"{source.safety_db:g}" if source.safety_db else "",
                "yes" if chain.whole else "no",
                ", ".join(sorted(chain.hangs_on)),
            )
