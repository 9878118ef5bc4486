"""What was looked at and heard at every source before it counts as rolling: four things, none of them the others.

Recording runs; the hold switch is on and the hand off the key; somebody heard it on headphones; it was slated by name.
A source that was stopped begins anew. Formulas: docs/formulas.md §14, 'Rolling'.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..job.job import Job
from ..job.sound import Source, Voice
from ..quantities import Identifier, Label
from ..settings import STRICT

__all__ = ["CHECKS", "Rolling", "SoundStep", "refused_at_source", "rolling_of"]

Check = Literal["runs", "locked", "heard", "slated"]
CHECKS: tuple[Check, ...] = ("runs", "locked", "heard", "slated")


@dataclass(frozen=True, kw_only=True)
class SoundStep:
    """One thing that was done at a source of a voice, and when; the file that it was slated in."""

    __pydantic_config__ = STRICT

    voice: Identifier
    source: Identifier
    act: Literal["runs", "locked", "heard", "slated", "stopped"]
    at: datetime
    file: Label = ""


@dataclass(frozen=True, slots=True)
class Rolling:
    """A source as it is now."""

    voice: str
    source: str
    done: Mapping[Check, SoundStep]
    """Since it was last stopped."""
    file: str
    """In which it was slated."""

    @property
    def missing(self) -> tuple[Check, ...]:
        """What is still to be done before it counts."""
        return tuple(check for check in CHECKS if check not in self.done)

    @property
    def counts(self) -> bool:
        """It counts as rolling."""
        return not self.missing


def rolling_of(job: Job, steps: Iterable[SoundStep]) -> tuple[Rolling, ...]:
    """Every source of a job as it is now, in the order of its voices."""
    done: dict[tuple[str, str], dict[Check, SoundStep]] = {}
    files: dict[tuple[str, str], str] = {}
    for step in sorted(steps, key=lambda s: s.at):
        key = step.voice, step.source
        if step.act == "stopped":
            done[key], files[key] = {}, ""
            continue
        done.setdefault(key, {})[step.act] = step
        if step.act == "slated":
            files[key] = step.file
    return tuple(
        Rolling(voice.id, source.label, done.get(key, {}), files.get(key, ""))
        for voice, source in _sources(job)
        for key in [(voice.id, source.label)]
    )


def refused_at_source(job: Job, steps: Sequence[SoundStep], step: SoundStep) -> str:
    """Why a step cannot be, with those noted already; empty when it can."""
    found = next((pair for pair in _sources(job) if (pair[0].id, pair[1].label) == (step.voice, step.source)), None)
    if found is None:
        return f"There is no source '{step.source}' of a voice '{step.voice}'."
    voice, source = found
    if step.at.tzinfo is None:
        return "Give the time with a time zone, as in 2027-03-20T19:30:00+00:00."
    before = [s for s in steps if s.at <= step.at]
    now = next(r for r in rolling_of(job, before) if (r.voice, r.source) == (voice.id, source.label))
    if step.act == "runs" and voice.wearer and voice.consent == "refused":
        return f"{voice.wearer} does not want to be recorded."
    if step.act == "runs" and "runs" in now.done:
        return f"'{source.label}' of {voice.label} runs already; say that it was stopped first."
    if step.act != "runs" and "runs" not in now.done:
        what = {
            "locked": "a switch that is locked now locks it off",
            "heard": "what is heard now is not what is recorded",
            "slated": "a name that is spoken now is on no recording",
            "stopped": "there is nothing to stop",
        }[step.act]
        return f"'{source.label}' of {voice.label} does not run yet; {what}."
    return ""


def _sources(job: Job) -> Iterator[tuple[Voice, Source]]:
    for voice in job.sound.voices:
        for source in voice.sources:
            yield voice, source
