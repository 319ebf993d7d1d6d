"""A head as it is drawn: the strokes and tones of a view as paths in layers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from ..ink.stroke import Stroke
from ..ink.surface import Pen, Stuff
from ..kinds import Array
from ..picture import Ink, Layer, Picture, Trace, line
from .inked import fill_of
from .scene import BOX, Scene
from .schooling import FRONT_PITCH, FRONT_YAW
from .turned import CRUMB, Curve

CLOSE = 0.012
"""Where points lie closer than this, in heads, a visible run is drawn one point further, to meet what hides it."""
ROLES = {
    Pen.CONTOUR: Ink.CONTOUR,
    Pen.EDGE: Ink.CONTOUR,
    Pen.STRAND: Ink.DETAIL,
    Pen.FEATURE: Ink.FEATURE,
    Pen.DETAIL: Ink.DETAIL,
}


def stretches(want: Array) -> list[tuple[int, int]]:
    """Where a run of trues starts and ends in flags ``(n,)``; over bytes, since curves are short and many."""
    raw, out, start = want.tobytes(), [], 0
    while (a := raw.find(b"\x01", start)) >= 0:
        b = raw.find(b"\x00", a)
        start = b if b >= 0 else len(raw)
        out.append((a, start))
        if b < 0:
            break
    return out


def runs(c: Curve, role: Ink, hidden: bool = False, least: int = 2) -> list[Trace]:
    """The visible (or the hidden) stretches of a curve as paths; single stray points are left out."""
    found = stretches(~c.visible if hidden else c.visible)
    if found == [(0, len(c.points))]:
        return [line(c.points, role, c.name)]
    out = []
    for a, b in found:
        if b - a >= least:
            step = c.points[a + 1 : b] - c.points[a : b - 1]
            far = float(np.sqrt(np.einsum("ij,ij->i", step, step)).sum())
            if far >= CRUMB / 2:
                grow = 0 if hidden or far > CLOSE * len(step) else 1
                out.append(line(c.points[max(a - grow, 0) : b + grow], role, c.name))
    return out


def smooth_flags(c: Curve, gap: int = 2) -> Curve:
    """Flickers of a few points in what is visible are closed, so that no stray dash is left."""
    n = len(c.visible)
    found = stretches(c.visible)
    if not found or found == [(0, n)]:
        return c
    short = [(a, b) for a, b in found if b - a <= gap and a > 0 and b < n]
    holes = [(b, c_) for (_, b), (c_, _) in pairwise(found) if c_ - b <= gap]
    if not short and not holes:
        return c
    v = c.visible.copy()
    for a, b in holes:
        v[a:b] = True
    for a, b in short:
        if not v[a - 1] and not v[b]:
            v[a:b] = False
    return replace(c, visible=v)


def inked(s: Stroke, role: Ink | None = None) -> Trace:
    """A stroke as a path with its widths."""
    return Trace(s.points, role or ROLES[s.pen], s.closed, False, s.name or s.pen.value, s.widths)


def toned(name: str, shapes: Sequence[Array], role: Ink) -> list[Trace]:
    """Closed shapes of one tone (even–odd) as one filled path."""
    return [Trace(shapes[0], role, True, True, name, holes=tuple(shapes[1:]))] if shapes else []


def picture(
    s: Scene,
    guides: bool = True,
    hidden: bool = True,
    skull: bool = False,
    steps: range | None = None,
    tints: Mapping[Ink, str] | None = None,
) -> Picture:
    """Layers: hidden lines, guides (one layer a step where a school draws them), features, hair, the skull under it, outline.

    ``steps`` are the steps of the school that are shown; all without it. ``tints`` are flat colours by part instead of paper.
    """
    d = s.drawing
    far: list[Trace] = []
    layers = [*_guide_layers(s, far if hidden or not s.moving else None, guides, steps)]
    layers.insert(0, Layer("hidden", "Hidden lines", tuple(far), hidden))
    if tints and Ink.SKIN in tints:
        layers.insert(0, Layer("skin", "Skin", tuple(toned("skin", s.silhouette, Ink.SKIN))))
    face = [x for x in d.strokes if x.pen in (Pen.FEATURE, Pen.DETAIL) and x.stuff is Stuff.SKIN]
    layers.append(Layer("features", "Features", (*(fill_of(n, p) for n, p in d.fills if len(p) > 2), *map(inked, face))))
    if s.body.hair is not None:
        mass = toned("hair", d.tones.get("hair", []), Ink.HAIR) + toned("inside", d.tones.get("inside", []), Ink.INSIDE)
        mass += toned("wear", d.tones.get("wear", []), Ink.WEAR)
        locks = [inked(x) for x in d.strokes if x.stuff is not Stuff.SKIN]
        layers.append(Layer("hair", "Hair", (*mass, *locks)))
        under = tuple(inked(x, Ink.SKULL) for x in s.skull) if skull else ()
        layers.append(Layer("skull", "Skull under the hair", under, skull))
    lines = [x for x in d.strokes if x.stuff is Stuff.SKIN and x.pen not in (Pen.FEATURE, Pen.DETAIL)]
    layers.append(Layer("outline", "Head outline", tuple(map(inked, lines))))
    return Picture(tuple(layers), BOX, "Head", tints=tuple((tints or {}).items()))


def _guide_layers(s: Scene, far: list[Trace] | None, shown: bool, steps: range | None) -> list[Layer]:
    """Guide lines in layers of their own; what is hidden of them joins ``far``, where that is asked for."""
    school = s.body.school
    names = [("guides", "Guides")]
    if school is not None:
        names = [(f"{school.name}-{k}", f"{school.title} {k}: {st.name}") for k, st in enumerate(school.steps, 1)]
    groups: list[list[Trace]] = [[] for _ in names]
    turn = s.view.turn
    front = abs(turn.yaw) <= FRONT_YAW and abs(turn.pitch) <= FRONT_PITCH
    for part, c in s.guides:
        k = max(part.step, 0)
        if school is not None and school.steps[k].front_only and not front:
            continue
        c = smooth_flags(c)
        groups[k] += runs(c, Ink.GUIDE_KEY if part.key else Ink.GUIDE, least=3)
        if far is not None and part.on_skin and (steps is None or k in steps) and s.body.hair is None:
            far += runs(c, Ink.HIDDEN, hidden=True, least=4)
    return [
        Layer(i, title, tuple(group), shown and (steps is None or k in steps))
        for k, ((i, title), group) in enumerate(zip(names, groups, strict=True))
    ]
