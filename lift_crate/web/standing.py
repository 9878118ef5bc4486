"""What stands against the places of a job that are not of one rig: the counts at their places in the strap."""

from __future__ import annotations

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.callouts import count_levels
from . import present
from . import schema as s
from .answers import READ, answer
from .day import read_against
from .described import PlaceApi
from .log import open_in
from .pack import known_against
from .run import known_against_run
from .schema import Told

__all__ = ["api"]

api = PlaceApi(
    "standing",
    __name__,
    url_prefix="/api/jobs/<string:job>/standing",
    abp_tags=[Tag(name="standing", description="Counts at the places that are of no one rig")],
)


class StandingView(Told):
    """Open call-outs of places; pack: null where nobody has had it packed as the job is now."""

    day: s.CountsView
    pack: s.CountsView | None
    log: s.CountsView


@api.get("", responses={200: StandingView, **READ}, operation_id="readStanding")
def read_standing(path: s.JobPath) -> Response:
    """How many call-outs are open at the Day, in Pack, and in the Log; nothing is begun for it."""
    packed = known_against(path.job)
    return answer(
        StandingView(
            day=present.counts_view(count_levels((*read_against(path.job), *known_against_run(path.job)))),
            pack=None if packed is None else present.counts_view(count_levels(packed)),
            log=present.counts_view({"stops": 0, "watches": open_in(path.job), "notes": 0}),
        )
    )
