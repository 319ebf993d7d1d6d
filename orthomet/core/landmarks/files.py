"""The landmark file: one face's points as JSON. Its layout is written out in ``docs/format.md``."""

from __future__ import annotations

import json
import math
from pathlib import Path

from pydantic import ConfigDict, Field, field_validator

from ..datafiles import Record, parse, read_text
from ..errors import FormatError, LandmarkError, quoted
from .own import MAX_SPANS, OwnSpan, spans_problem
from .points import Landmarks, State, require_measurable
from .turn import Turn
from .views import SCHEMAS, known_somewhere

MAX_BYTES = 4_000_000


class LandmarkFile(Record):
    model_config = ConfigDict(frozen=True, extra="ignore", allow_inf_nan=True)

    view: str = "front"
    size: tuple[int, int] | None = None
    points: dict[str, tuple[float, float] | None]
    states: dict[str, State] = {}
    spread: dict[str, float] = Field(default={}, description="own uncertainty of a point, pixels")
    spans: tuple[OwnSpan, ...] = Field((), max_length=MAX_SPANS)
    turn: Turn | None = Field(None, description="how the head is turned, degrees; undone before the face is measured")

    @field_validator("view")
    @classmethod
    def _known_view(cls, v: str) -> str:
        if v not in SCHEMAS:
            raise ValueError(f"the view {quoted(v)} is not known (there is: {', '.join(SCHEMAS)})")
        return v


def landmarks_from_text(text: str, where: str = "The landmark file") -> Landmarks:
    """Parse and check a landmark file.

    Raises
    ------
    FormatError
        Not JSON, or not laid out as a landmark file.
    LandmarkError
        Points that cannot be measured.
    """
    f = parse(LandmarkFile, text, where)
    points = {k: v for k, v in f.points.items() if v is not None}
    sentence = spans_problem(f.spans)
    if sentence:
        raise FormatError(f"{where}: {sentence}")
    marks = Landmarks(f.view, points, f.states, f.spread, f.size, f.spans, f.turn)
    for name, xy in points.items():
        if not (math.isfinite(xy[0]) and math.isfinite(xy[1])) and not known_somewhere(name):
            raise LandmarkError(f"{quoted(name)} has no proper place.")
    require_measurable(marks)
    return marks


def read_landmarks(path: str | Path) -> Landmarks:
    """Read a landmark file from disk.

    Raises
    ------
    FormatError, LandmarkError
    """
    return landmarks_from_text(read_text(path, MAX_BYTES, "a landmark file"), Path(path).name)


def landmarks_to_text(marks: Landmarks) -> str:
    body = {
        "view": marks.view,
        "size": list(marks.size) if marks.size else None,
        "points": {n: list(marks.points[n]) for n in marks.schema.names if n in marks.points},
        "states": {n: str(s) for n, s in marks.states.items()},
        "spread": dict(marks.spread),
        "spans": [s.model_dump() for s in marks.spans],
        "turn": marks.turn.model_dump() if marks.turn else None,
    }
    return json.dumps({k: v for k, v in body.items() if v or k in ("view", "points")}, indent=1) + "\n"
