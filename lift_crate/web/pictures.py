"""Pictures of units and venues: given once, kept small, asked for by their name."""

from __future__ import annotations

import gevent
from flask import Response, request
from flask_openapi3.models.tag import Tag

from ..core.job.job import NotInJob
from ..formats.pictures import KeptPicture, kept_picture
from ..store.database import picture_queries, reading, writing
from ..store.jobs import keep_pictures, pictures_on
from . import schema as s
from .answers import Responses, answer
from .described import PlaceApi
from .identity import knows
from .services import services

__all__ = ["api", "drawn_anew", "seen_picture"]

api = PlaceApi("pictures", __name__, url_prefix="/api", abp_tags=[Tag(name="pictures", description="Pictures")])
_ERRORS: Responses = {404: s.ProblemView, 413: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}


class PicturePath(s.Strict):
    """Names a picture."""

    picture: str


class PictureKept(s.Told):
    """A picture that is kept, and its size in pixels."""

    id: str
    width: int
    height: int


def drawn_anew(content: bytes) -> KeptPicture:
    """A picture as it is kept. To draw a large one takes seconds, in which nobody else is to wait: it is done in a
    thread of the system.
    """
    picture: KeptPicture = gevent.get_hub().threadpool.apply(kept_picture, (content,))
    return picture


def seen_picture(name: str) -> KeptPicture:
    """A picture that whoever asks may look at: that of a log belongs to the crews of the jobs in whose logs it is.
    Raises NotInJob.
    """
    with reading(services().jobs.pool) as connection:
        found = pictures_on(connection, [name])
        in_logs = [row["job_id"] for row in picture_queries.in_logs_of(connection, id=name)]
    if not found or (in_logs and not any(knows(job) for job in in_logs)):
        raise NotInJob("picture", name)
    return found[0]


@api.post("/pictures", responses={201: PictureKept, **_ERRORS}, operation_id="keepPicture")
def keep_picture() -> Response:
    """Keep a picture; the body is the file. It is made smaller and loses what it tells of place and time."""
    picture = drawn_anew(request.get_data())
    with writing(services().jobs.pool) as connection:
        keep_pictures(connection, [picture])
    return answer(PictureKept(id=picture.id, width=picture.width, height=picture.height), 201)


@api.get("/pictures/<string:picture>", responses={200: PictureKept, **_ERRORS}, operation_id="readPicture")
def read_picture(path: PicturePath) -> Response:
    """A picture; under its name it never changes."""
    found = seen_picture(path.picture)
    response = Response(found.jpeg, mimetype="image/jpeg")
    response.cache_control.private = True
    response.cache_control.max_age = 31_536_000
    response.cache_control.immutable = True
    return response
