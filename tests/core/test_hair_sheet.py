"""Every style on six heads all round: nothing open, nothing stray, no line that ends in the air at full weight.

Each head takes a sixth of the twenty-four turns here, another sixth for every style; ``make bench`` takes them all.
"""

from __future__ import annotations

import numpy as np
import pytest
from shapely.geometry import LineString, MultiLineString, Point, Polygon
from shapely.strtree import STRtree

from orthomet.core.features.choices import FeatureChoices
from orthomet.core.features.table import feature
from orthomet.core.head.body import Wear, body
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import BOX, scene_of
from orthomet.core.ink.drawing import Drawing
from orthomet.core.ink.stroke import Stroke, Weights
from orthomet.core.ink.surface import Pen
from orthomet.core.landmarks.turn import Turn
from orthomet.demo.cast import BERTA, LORN, WICK
from tests.extremes import EXTREMES

STYLES = {v.name: v.set for v in feature("hair").variants if v.name != "skull only"}
HEADS = {"berta": BERTA, "lorn": LORN, "wick": WICK, **EXTREMES}
TURNS = [(yaw, pitch) for pitch in (-30, 0, 30) for yaw in range(-180, 180, 45)]
STRAY, TOUCH = 0.01, 0.02
"""Heads: a shorter stroke that touches nothing within the second is a stray mark."""
LINES = (Pen.CONTOUR, Pen.EDGE)


def ends_in_air(s: Stroke, others: MultiLineString, blunt: float) -> list[tuple[float, float]]:
    """Ends of a form's line at nearly its full weight that lie on nothing."""
    if s.closed or s.pen not in LINES:
        return []
    out = []
    for k in (0, -1):
        p = s.points[k]
        alone = others.is_empty or Point(p).distance(others) > TOUCH
        if s.widths[k] > blunt and alone and _inside(p):
            out.append((float(p[0]), float(p[1])))
    return out


def _inside(p: np.ndarray) -> bool:
    x, y, w, h = BOX
    return bool(x + 0.1 < p[0] < x + w - 0.1 and y + 0.1 < p[1] < y + h - 0.1)


def faults(d: Drawing) -> list[str]:
    """What is wrong with a drawing, in words."""
    out = []
    lines = [LineString(s.points) for s in d.strokes]
    tree = STRtree(lines)
    for i, (s, line) in enumerate(zip(d.strokes, lines, strict=True)):
        near = [j for j in tree.query(line.buffer(TOUCH)) if j != i and lines[j].distance(line) < TOUCH]
        if line.length < STRAY and not near and s.pen in LINES:
            out.append(f"stray {s.name or s.pen}")
        for place in ends_in_air(s, MultiLineString([lines[j] for j in near]), 0.45 * Weights().edge):
            out.append(f"{s.name or s.pen} ends at {place[0]:.2f}, {place[1]:.2f}")
    for name in ("hair", "wear"):
        for p in d.tones.get(name, []):
            shape = Polygon(p)
            if shape.area > 0.001 and not shape.is_valid and shape.buffer(0).area < 0.97 * shape.area:
                out.append(f"{name} crosses itself")
    out += open_mass(d)
    return out


def open_mass(d: Drawing) -> list[str]:
    """Hair whose outline is not all drawn: stretches of its edge farther from any form's line than a line is wide."""
    ink = [LineString(s.points) for s in d.strokes if s.pen in LINES]
    if not ink or any(s.name == "stubble" for s in d.strokes):
        return []
    tree = STRtree(ink)
    out = []
    for p in d.tones.get("hair", []):
        ring = Polygon(p).exterior
        bare, longest = 0.0, 0.0
        places = [ring.interpolate(t) for t in np.arange(0, ring.length, 0.01)]
        for q in places:
            j = tree.nearest(q)
            free = ink[j].distance(q) > 0.016 and _inside(np.array(q.coords[0]))
            bare = bare + 0.01 if free else 0.0
            longest = max(longest, bare)
        if longest > 0.05:
            out.append(f"the mass is open over {longest:.2f}")
    return out


@pytest.mark.parametrize("style", STYLES)
def test_no_style_on_any_head_at_any_turn_has_a_fault(style: str) -> None:
    found: dict[str, list[str]] = {}
    for k, (who, table) in enumerate(HEADS.items(), list(STYLES).index(style)):
        b = body(table, plan_points(table), Wear(choices=FeatureChoices().with_values("hair", STYLES[style])))
        for yaw, pitch in TURNS[k % 6 :: 6]:
            wrong = faults(scene_of(b, Turn(yaw=yaw, pitch=pitch)).drawing)
            if wrong:
                found[f"{who} {yaw:+d} {pitch:+d}"] = wrong
    assert not found, f"{len(found)} drawings: {dict(list(found.items())[:6])}"
