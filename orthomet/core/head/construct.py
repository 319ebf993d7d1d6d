"""The construction drawing of a plan, front view: outline, features, plan lines and a school's guides, in head units."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..features.choices import PLAIN, FeatureChoices
from ..kinds import Array
from ..landmarks.schema import FRONT
from ..landmarks.turn import Turn
from ..picture import Ink, Layer, Picture, Text, Trace, line, moved
from ..styles.schools import School, school_layers
from . import features
from .body import Wear
from .drawn import picture
from .outline import STATIONS, half_width
from .scene import scene
from .strokes import RIDGE, strokes

BOX = (-0.66, -0.14, 1.32, 1.42)
"""x, y, width and height of the drawing in heads."""
PLAN_LINES = (
    ("hairline_station", "hairline"), ("brow_station", "brow"), ("eye_station", "eyes"),
    ("nose_base_station", "nose base"), ("mouth_station", "mouth"),
)  # fmt: skip
SIDE_BOX = (-0.66, -0.14, 1.40, 1.42)
EAR_KINDS = ("full", "rim only", "none")


def outline_path(a: Array) -> Array:
    """Closed outline from the half widths: crown, the character's left, chin, the right."""
    right = np.column_stack([a, STATIONS])
    return np.vstack([right, (right * np.array([-1, 1]))[-2:0:-1]])


def head_layers(table: Mapping[str, float], points: Array, choices: FeatureChoices = PLAIN) -> tuple[Layer, ...]:
    """Outline and features of a head with these traits and landmarks (head units, schema order)."""
    a = half_width(table)

    def at(name: str) -> Array:
        out: Array = points[FRONT.index[name]]
        return out

    outline: list[Trace] = [line(outline_path(a), Ink.CONTOUR, "outline", closed=True)]
    for s, k in ((1, "l"), (-1, "r")):
        e = features.ear(s, float(at(f"superaurale_{k}")[1]), float(at(f"subaurale_{k}")[1]), a)
        kind = EAR_KINDS[round(choices.of("ears")["kind"])] if choices.drawn("ears") else "none"
        if kind != "none":
            outline.append(line(e.rim, Ink.CONTOUR, f"ear {k}"))
        if kind == "full":
            outline.append(line(e.inner, Ink.DETAIL, f"inner ear {k}"))
    necks = features.neck(float(at("neck_side_l")[0] - at("neck_side_r")[0]) / 2, a)
    outline += [line(n, Ink.FEATURE, "neck") for n in necks]
    hair = features.hairline(table["hairline_station"], a, table["ear_top_station"])
    outline.append(line(hair, Ink.DETAIL, "hairline"))
    return (
        Layer("outline", "Head outline", tuple(outline)),
        Layer("features", "Features", tuple(feature_paths(points, choices))),
    )


def feature_paths(points: Array, choices: FeatureChoices = PLAIN) -> list[Trace]:
    """Eyes, brows, nose and mouth through the landmarks that are there (head units or pixels alike)."""
    return [s.path for s in strokes(points, choices) if s.path.name != RIDGE]


def plan_lines(table: Mapping[str, float]) -> Layer:
    """The plan's own lines: where each feature sits, the centre line, crown and chin."""
    reach = 0.5 * table["face_width_hh"] + 0.10
    items: list[Trace | Text] = [line([(0, -0.05), (0, 1.08)], Ink.PLAN_LINE, "centre line")]
    for key, words in PLAN_LINES:
        t = table[key]
        items += [line([(-reach, t), (reach, t)], Ink.PLAN_LINE, words), Text((reach + 0.015, t + 0.008), words)]
    for t, words in ((0.0, "crown"), (1.0, "chin")):
        items += [line([(-reach, t), (reach, t)], Ink.PLAN_LINE, words), Text((reach + 0.015, t + 0.008), words)]
    return Layer("plan-lines", "Plan lines", tuple(items))


def construction(
    table: Mapping[str, float],
    points: Array,
    school: School | None = None,
    settings: Mapping[str, float] | None = None,
    choices: FeatureChoices = PLAIN,
) -> Picture:
    """The whole drawing: school steps (one layer each), plan lines, outline, features; from the side for a profile school."""
    steps = school_layers(school, table, settings or {}) if school else ()
    title = f"Construction, {school.title}" if school else "Construction"
    if school is not None and school.view == "profile":
        side = picture(scene(table, points, Turn(yaw=90), Wear(choices=choices, hair=False)), guides=False, hidden=False)
        side = moved(side.without("hidden", "guides"), 1.0, 0.0, 0.5)
        return Picture((*steps, *side.layers), SIDE_BOX, title)
    return Picture((*steps, plan_lines(table), *head_layers(table, points, choices)), BOX, title)
