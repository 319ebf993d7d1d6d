"""Profiles and figures checked against a project on disk, as the window checks them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from ..derived import Supposed
from ..errors import FormatError
from ..figure.mannequin import mannequin
from ..figure.skeleton import Skeleton
from ..landmarks.points import Landmarks
from ..plan.side import targets
from ..pose.model import Pose
from ..project.store import read
from ..resolve import find_character, is_project, split_project_name
from .figure import FigureCheck, check_figure
from .profile import ProfileCheck, check_profile, profile_plan


@dataclass(frozen=True, eq=False)
class OtherViews:
    """What a character's profiles and figures are checked against."""

    side: dict[str, float]
    skeleton: Skeleton
    readings: Mapping[str, float]
    poses: tuple[Pose, ...]


@lru_cache(maxsize=2)
def _views(path: str, name: str, state: tuple[int, int]) -> OtherViews:
    """A character's planned side and body, as the window has them; ``state`` is the file's time and size, so that a newer one is read anew."""
    stored = read(path)
    who = find_character(stored, name)
    planned = Supposed(stored.project, who.id, "")
    body = planned.figure_plan_of("")
    side = profile_plan(planned.plan_of("").table, dict(targets(planned.side_plans())))
    return OtherViews(side, mannequin(body.build, False).skeleton, body.readings, tuple(who.posing.all))


def _state(path: str) -> tuple[int, int]:
    try:
        found = Path(path).stat()
    except OSError:
        return 0, 0  # reading it will say what is wrong
    return found.st_mtime_ns, found.st_size


def checked_view(
    marks: Landmarks, project: str, meant: tuple[str, ...] = (), noise: float | None = None
) -> FigureCheck | ProfileCheck:
    """A profile or a figure against a planned character; ``project`` as ``--against`` takes it.

    Raises
    ------
    FormatError, LandmarkError
        No project, or it cannot be judged.
    """
    if not project or not is_project(project):
        raise FormatError(f"A drawn {marks.view} is checked against a planned character: --against PROJECT[:CHARACTER].")
    path, name = split_project_name(project)
    planned = _views(path, name, _state(path))
    if marks.view == "profile":
        return check_profile(marks, planned.side, meant, noise)
    return check_figure(marks, planned.skeleton, planned.readings, meant, noise, None, planned.poses)
