"""The road: its stages in their order.

A stage that is not available yet has its place here, and a pipeline that names it is refused when
it is checked. To build it: a module with a `Stage`, its effect's applier in the service, and the
module's function in the row.
"""

from dataclasses import dataclass
from typing import Final

from veridox.core.pipeline.stages.check import check
from veridox.core.pipeline.stages.desk import desk
from veridox.core.pipeline.stages.end import end
from veridox.core.pipeline.stages.outcome import Stage
from veridox.core.pipeline.stages.post import post
from veridox.core.pipeline.stages.wait import wait


@dataclass(frozen=True, kw_only=True, slots=True)
class Place:
    """One place on the road.

    Attributes:
        name: as the trace shows it, and as the section of a pipeline file is called.
        stage: what is done there; None while it is not available yet.
        under_way: whether a document whose posting is on its way is still looked at here.
    """

    name: str
    stage: Stage | None = None
    under_way: bool = False


ROAD: Final = (
    Place(name="end", stage=end),
    Place(name="check", stage=check),
    Place(name="back"),
    Place(name="wait", stage=wait),
    Place(name="desk", stage=desk),
    Place(name="ask"),
    Place(name="approve"),
    Place(name="post", stage=post, under_way=True),
    Place(name="keep"),
)

NOT_YET: Final = tuple(place.name for place in ROAD if place.stage is None)
"""Sections of a pipeline file whose stage is not available yet."""
