"""Guide schools: lists of construction steps with their lines, read from data files.

A line is a shape with expressions for its numbers, worked out over the school's own settings (such as D, the cranium
circle's diameter), its ``let`` values and the head's sizes: ``fw`` ``hw`` ``jw`` ``cw`` (widths of face, skull, jaw and
chin in heads), ``ew`` (eye width), ``front`` (from the axis of the ears to the brow). Adding a school is adding a file.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache, lru_cache
from typing import Literal

import numpy as np

from ..datafiles import Record, load_folder
from ..errors import OrthometError, UnknownName
from ..head.outline import head_front
from ..kinds import Array
from ..names import named
from ..picture import Ink, Layer, Text, Trace
from ..proportions.norms import norm
from ..proportions.registry import front_registry
from .expression import evaluate

Number = float | str


class Setting(Record):
    """A dial of the school."""

    words: str
    default: float
    low: float
    high: float


class Line(Record):
    """One shape of a step. ``reading`` ties a level line to the station it stands for."""

    shape: Literal["level", "plumb", "circle", "ellipse", "polyline", "curve"]
    name: str
    at: Number = 0
    start: Number = 0
    end: Number = 0
    x: Number = 0
    y: Number = 0
    r: Number = 0
    ry: Number | None = None
    points: list[tuple[Number, Number]] = []
    both: bool = False
    key: bool = False
    reading: str | None = None
    wrap: Literal["auto", "box", "flat"] = "auto"
    """On a turned head: as its shape suggests, the edges of a box round the head, or flat in the plane of the ears."""


class Step(Record):
    name: str
    say: str
    lines: list[Line]
    front_only: bool = False
    """The step means nothing on a head that is turned far."""


class School(Record):
    name: str
    title: str
    source: str
    note: str
    settings: dict[str, Setting] = {}
    let: dict[str, Number] = {}
    steps: list[Step]
    view: Literal["front", "profile"] = "front"
    """Which view its numbers are of; in a profile x runs forward from the axis of the ears."""


@cache
def schools() -> dict[str, School]:
    return {s.name: s for s in load_folder("orthomet.core.styles.schools_data", School).values()}


def school(name: str) -> School:
    """A school of the library, by its name or its title.

    Raises
    ------
    UnknownName
    """
    known = schools()
    if name in known:
        return known[name]
    meant = named(name, ((s.name, s.title) for s in known.values()))
    if meant is None:
        raise UnknownName("school", name, list(known))
    return known[meant]


def _sizes(table: Mapping[str, float]) -> dict[str, float]:
    fw = table["face_width_hh"]
    return {
        "fw": fw, "hw": table["head_width_hh"], "jw": table["jaw_width_fw"] * fw,
        "cw": table["chin_width_fw"] * fw, "ew": table["eye_width_fw"] * fw, "front": head_front(table),
    }  # fmt: skip


@cache
def _norm_table() -> dict[str, float]:
    return dict(zip(front_registry().keys, norm().mean.tolist(), strict=True))


def names_of(s: School, table: Mapping[str, float], settings: Mapping[str, float]) -> dict[str, float]:
    """Everything an expression of the school may name.

    Raises
    ------
    OrthometError
        A setting the school does not have, or one outside its range.
    """
    out = _sizes(table)
    for k, d in s.settings.items():
        v = settings.get(k, d.default)
        if not d.low <= v <= d.high:
            raise OrthometError(f"{d.words} of {s.title} runs from {d.low:g} to {d.high:g}; {v:g} is outside.")
        out[k] = v
    for k, e in s.let.items():
        out[k] = evaluate(e, out)
    return out


def stations(
    s: School, table: Mapping[str, float] | None = None, settings: Mapping[str, float] | None = None
) -> dict[str, float]:
    """The stations a school lays down, by reading key."""
    names = names_of(s, table or _norm_table(), settings or {})
    return {ln.reading: evaluate(ln.at, names) for st in s.steps for ln in st.lines if ln.reading}


def school_layers(s: School, table: Mapping[str, float], settings: Mapping[str, float]) -> tuple[Layer, ...]:
    """One layer a step, in head units. Kept while the school, its settings and the head's sizes are the same."""
    names = names_of(s, table, settings)
    return _kept_layers(s.name, tuple(names.items())) if schools().get(s.name) is s else _layers(s, names)


@lru_cache(maxsize=16)
def _kept_layers(school_name: str, values: tuple[tuple[str, float], ...]) -> tuple[Layer, ...]:
    return _layers(school(school_name), dict(values))


def _layers(s: School, names: Mapping[str, float]) -> tuple[Layer, ...]:
    out = []
    for k, step in enumerate(s.steps, 1):
        items: list[Trace | Text] = []
        for ln in step.lines:
            role = Ink.GUIDE_KEY if ln.key else Ink.GUIDE
            for pts, closed in shape_of(ln, names):
                items.append(Trace(pts, role, closed, name=ln.name))
            if ln.reading:
                y = evaluate(ln.at, names)
                items.append(Text((evaluate(ln.start, names) - 0.012, y + 0.008), ln.name, align=1))
        out.append(Layer(f"{s.name}-{k}", f"{s.title} {k}: {step.name}", tuple(items)))
    return tuple(out)


def shape_of(ln: Line, names: Mapping[str, float]) -> list[tuple[Array, bool]]:
    """The polylines of a line, one or, where it is on both sides, two; and whether they close."""

    def v(e: Number) -> float:
        return evaluate(e, names)

    closed = False
    if ln.shape == "level":
        pts = np.array([(v(ln.start), v(ln.at)), (v(ln.end), v(ln.at))])
    elif ln.shape == "plumb":
        pts = np.array([(v(ln.at), v(ln.start)), (v(ln.at), v(ln.end))])
    elif ln.shape in ("circle", "ellipse"):
        a = np.linspace(0, 2 * np.pi, 97)[:-1]
        ry = v(ln.r) if ln.ry is None else v(ln.ry)
        pts, closed = np.column_stack([v(ln.x) + v(ln.r) * np.cos(a), v(ln.y) + ry * np.sin(a)]), True
    else:
        pts = np.array([(v(x), v(y)) for x, y in ln.points])
        if ln.shape == "curve":
            from ..head.features import curve_through

            pts = curve_through(pts, 10)
    out = [(pts, closed)]
    if ln.both:
        out.append((pts * np.array([-1, 1]), closed))
    return out


class Departure(Record):
    """Where a school lays a line, and how far that is from something else, in heads (positive: the school lies lower)."""

    reading: str
    school: float
    other: float

    @property
    def heads(self) -> float:
        return self.school - self.other


def departures(s: School, table: Mapping[str, float], settings: Mapping[str, float] | None = None) -> list[Departure]:
    """How a school's stations differ from a plan's (or, with the norm's table, from the norm)."""
    return [Departure(reading=k, school=v, other=table[k]) for k, v in stations(s, table, settings).items() if k in table]
