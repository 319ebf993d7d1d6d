"""A set of landmarks as a value: positions, states and uncertainties, and the checks that make it measurable."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cached_property

import numpy as np

from ..errors import LandmarkError, quoted
from ..kinds import Array, there
from .own import MAX_SPANS, OwnSpan
from .schema import FRONT, Schema
from .turn import Turn
from .views import SCHEMAS, own_ends, schema_with


class State(StrEnum):
    PLACED = "placed"
    ESTIMATED = "estimated"  # seeded, not yet confirmed by a person
    HIDDEN = "hidden"  # under hair or beyond the page edge; its place is an estimate
    ABSENT = "absent"  # not there by design


MOST = 1e9
"""Coordinates beyond this many pixels are no picture's (own)."""
TOUCH = 1e-6
"""Points nearer than this share of the set's extent count as one spot (own)."""


@dataclass(frozen=True)
class Landmarks:
    """Named points in picture coordinates (x right, y down, pixels).

    ``points`` maps a landmark's name to ``(x, y)``; names that are not there are merely missing. ``states`` holds only
    what is not *placed*. ``spread`` holds a point's own uncertainty (one standard deviation, pixels) where it is known
    to exceed that of the hand, such as a crown under hair.
    """

    view: str
    points: Mapping[str, tuple[float, float]]
    states: Mapping[str, State] = field(default_factory=dict)
    spread: Mapping[str, float] = field(default_factory=dict)
    size: tuple[int, int] | None = None
    spans: tuple[OwnSpan, ...] = ()
    """The artist's own spans, measured beside the view's readings."""
    turn: Turn | None = None
    """How the head is turned on the picture; the points are as seen (:func:`orthomet.core.references.straight` undoes it)."""
    undone: Turn | None = None
    """The turn these points had before it was undone."""
    shared: Array | None = field(default=None, compare=False, repr=False)
    """Errors that points share, as shifts of one standard deviation, ``(shifts, n, 2)`` pixels in schema order."""

    @cached_property
    def schema(self) -> Schema:
        """The view's landmarks, and behind them the artist's own points that are here."""
        return schema_with(self.view, own_ends({*self.points, *self.states}))

    def state(self, name: str) -> State | None:
        """State of a landmark; ``None`` when it is neither there nor absent by design."""
        if name in self.states and (name in self.points or self.states[name] is State.ABSENT):
            return self.states[name]
        return State.PLACED if name in self.points else None

    def unknown(self, name: str) -> bool:
        """Whether a landmark says nothing yet: estimated or hidden, and nobody knows by how much."""
        return self.state(name) in (State.ESTIMATED, State.HIDDEN) and not self.spread.get(name)

    def array(self, schema: Schema | None = None) -> Array:
        """Positions in the order of a schema (its own by default), shape ``(n, 2)``; nan where missing or absent by design."""
        s = schema or self.schema
        out = np.full((len(s.names), 2), np.nan)
        here = {s.index[n]: xy for n, xy in self.points.items() if n in s.index and self.states.get(n) is not State.ABSENT}
        if here:
            out[list(here)] = list(here.values())
        return out

    def spreads(self, schema: Schema | None = None) -> Array:
        """Own uncertainty of every landmark in schema order (pixels, 0 where none is stated)."""
        s = schema or self.schema
        out = np.zeros(len(s.names))
        for name, v in self.spread.items():
            if name in s.index:
                out[s.index[name]] = v
        return out


def shared_in(marks: Landmarks, schema: Schema) -> Array | None:
    """Shared errors of landmarks in the order of a schema, ``(shifts, n, 2)``; points it has beside them do not move."""
    if marks.shared is None or marks.schema is schema or marks.schema.names == schema.names:
        return marks.shared
    out = np.zeros((len(marks.shared), len(schema.names), 2))
    for k, name in enumerate(marks.schema.names):
        if name in schema.index:
            out[:, schema.index[name]] = marks.shared[:, k]
    return out


def from_array(xy: Array, schema: Schema = FRONT, **kw: object) -> Landmarks:
    """Landmarks from an ``(n, 2)`` array in schema order; nan rows are left out."""
    keep = there(xy)
    pts = {n: (float(p[0]), float(p[1])) for n, p, k in zip(schema.names, xy, keep, strict=True) if k}
    return Landmarks(schema.view, pts, **kw)  # type: ignore[arg-type]


def without_own(marks: Landmarks) -> Landmarks:
    """The view's own landmarks alone, the artist's own points left out."""
    base = SCHEMAS[marks.view].index
    if all(n in base for n in marks.points):
        return marks
    points, states, spread = ({n: v for n, v in each.items() if n in base} for each in (marks.points, marks.states, marks.spread))
    kept = replace(marks, points=points, states=states, spread=spread, spans=(), shared=None)  # type: ignore[arg-type]
    return replace(kept, shared=shared_in(marks, kept.schema))


def problem(marks: Landmarks) -> str | None:
    """The sentence that says why these landmarks cannot be measured, or ``None``."""
    schema = marks.schema
    own = own_ends({*marks.points, *marks.states})
    if len(own) > 2 * MAX_SPANS:
        return f"There are {len(own)} own points; up to {2 * MAX_SPANS} can be measured."
    unknown = [n for n in (*marks.points, *marks.states, *marks.spread) if n not in schema.index and n not in own]
    if unknown:
        return f"{quoted(unknown[0])} is not a landmark of the {schema.view} view."
    names = list(marks.points)
    xy = np.array([marks.points[n] for n in names], float).reshape(-1, 2)
    wild = ~there(xy) | (np.abs(xy) > MOST).any(1)
    if wild.any():
        return f"The {schema[names[int(wild.argmax())]].words} has no proper place: its coordinates must be ordinary numbers."
    for name, s in marks.spread.items():
        if not (np.isfinite(s) and s >= 0):
            return f"The uncertainty of the {schema[name].words} must be a number of pixels, zero or more."
    all_xy = marks.array()
    here = {schema.names[i] for i in np.flatnonzero(there(all_xy))}
    if len(here) < 2:
        return None
    dx, dy = (np.abs(v[:, None] - v[None]) for v in np.ascontiguousarray(all_xy.T))
    gap = np.maximum(dx, dy)  # nan where a point is not there: never near
    near = (gap <= np.nanmax(gap) * TOUCH) & schema.must_differ
    if near.any():
        i, j = (int(k) for k in np.argwhere(near)[0])
        a, b = schema.landmarks[i].words, schema.landmarks[j].words
        return f"The {a} and the {b} lie on the same spot; move one of them."
    if "vertex" in here and "gnathion" in here:
        top, chin = marks.points["vertex"], marks.points["gnathion"]
        if chin[1] <= top[1]:
            return "The chin lies above the crown; turn the picture upright or swap the two points."
    sides = [n[:-2] for n in here if n.endswith("_l") and n[:-2] + "_r" in here] if schema.view == "front" else []
    swapped = [b for b in sides if marks.points[b + "_l"][0] < marks.points[b + "_r"][0]]
    if len(sides) >= 3 and len(swapped) == len(sides):
        return "Left and right look swapped: “_l” is the character's own left, at the picture's right."
    return None


def require_measurable(marks: Landmarks) -> None:
    """Raise :class:`LandmarkError` with a sentence when :func:`problem` finds one."""
    sentence = problem(marks)
    if sentence:
        raise LandmarkError(sentence)


ORDINARY_HAND = 0.003
"""How well an ordinary hand marks a point, one standard deviation in heads (own, after marking noise measured on drawings)."""


def hand_spread(points: Mapping[str, tuple[float, float]], screen_px: float) -> float:
    """Uncertainty to keep with a point placed where one screen pixel is ``screen_px`` picture pixels, in picture pixels.

    0 where that is no more than an ordinary hand's own, as it is unless the picture was zoomed far out.
    """
    if not points:
        return 0.0
    xy = np.array(list(points.values()), float)
    top, chin = points.get("vertex"), points.get("gnathion")
    head = abs(chin[1] - top[1]) if top and chin else float(np.ptp(xy, axis=0).max())
    return screen_px if screen_px > ORDINARY_HAND * head > 0 else 0.0


def require_front(marks: Landmarks, what: str) -> None:
    """Refuse a view that ``what`` (the sentence's subject: “A plan”) is not made of.

    Raises
    ------
    LandmarkError
    """
    if marks.view != "front":
        raise LandmarkError(f"{what} needs a face from the front; these landmarks show a {marks.view}.")


def mirrored(marks: Landmarks, width: float) -> Landmarks:
    """The same face in a mirror: x reversed within ``width``, left and right names exchanged."""
    s = marks.schema

    def swap(table: Mapping[str, object]) -> dict[str, object]:
        return {s[n].partner: v for n, v in table.items()}

    pts = {s[n].partner: (width - x, y) for n, (x, y) in marks.points.items()}
    return replace(marks, points=pts, states=swap(marks.states), spread=swap(marks.spread))  # type: ignore[arg-type]
