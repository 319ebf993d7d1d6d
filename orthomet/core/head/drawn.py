"""A head as it is drawn: the curves of a view as paths in layers."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np

from ..kinds import Array
from ..picture import Ink, Layer, Picture, Trace, line
from .scene import Scene
from .schooling import FRONT_PITCH, FRONT_YAW
from .turned import CRUMB, Curve

BOX = (-0.72, -0.66, 1.44, 1.52)
"""x, y, width and height of the drawing about the head's centre, in heads."""


HAIR_CRUMB = 0.05
"""Bits of hair shorter than this many heads, seen between neck and jaw, are left out (own)."""
CLOSE = 0.012
"""Where points lie closer than this, in heads, a visible run is drawn one point further, to meet what hides it."""


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
            part = c.points[a:b]
            steps = np.hypot(*(part[1:] - part[:-1]).T)
            if steps.sum() >= CRUMB / 2:
                grow = 0 if hidden or steps.mean() > CLOSE else 1
                out.append(line(c.points[max(a - grow, 0) : b + grow], role, c.name))
    return out


def _long(p: Trace) -> float:
    return float(np.hypot(*(p.points[1:] - p.points[:-1]).T).sum())


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


def picture(s: Scene, guides: bool = True, hidden: bool = True, skull: bool = False, steps: range | None = None) -> Picture:
    """Layers: hidden lines, guides (one layer a step where a school draws them), the skull under hair, outline, features, hair.

    ``steps`` are the steps of the school that are shown; all without it.
    """
    far: list[Trace] = []
    outline: list[Trace] = []
    for c in s.contour:
        outline += runs(smooth_flags(c, 3), Ink.CONTOUR, least=4)
    for c in s.jaw:
        outline += runs(smooth_flags(c), Ink.DETAIL, least=4)
    for c in s.neck:
        outline += runs(smooth_flags(c), Ink.FEATURE, least=4)
    for ear in s.ears:
        for k, c in enumerate(map(smooth_flags, ear)):
            outline += runs(c, Ink.CONTOUR if k == 0 else Ink.DETAIL, least=3)
            if k == 0 and s.body.hair is None:
                far += runs(c, Ink.HIDDEN, hidden=True, least=4)
    layers = [*_guide_layers(s, far, guides, steps)]
    layers.insert(0, Layer("hidden", "Hidden lines", tuple(far), hidden))
    if s.body.hair is not None:
        under = [p for c in s.skull for p in runs(smooth_flags(c, 3), Ink.SKULL, least=4)]
        layers.append(Layer("skull", "Skull under the hair", tuple(under), skull))
    layers += [Layer("outline", "Head outline", tuple(outline)), Layer("features", "Features", tuple(_feature_lines(s)))]
    if s.body.hair is not None:
        locks = [p for role, c in s.hair for p in runs(smooth_flags(c, 3), role, least=4)]
        layers.append(Layer("hair", "Hair", tuple(p for p in locks if _long(p) >= HAIR_CRUMB)))
    return Picture(tuple(layers), BOX, "Head")


def _guide_layers(s: Scene, far: list[Trace], shown: bool, steps: range | None) -> list[Layer]:
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
        if part.on_skin and (steps is None or k in steps) and s.body.hair is None:
            far += runs(c, Ink.HIDDEN, hidden=True, least=4)
    return [
        Layer(i, title, tuple(group), shown and (steps is None or k in steps))
        for k, ((i, title), group) in enumerate(zip(names, groups, strict=True))
    ]


def _feature_lines(s: Scene) -> list[Trace]:
    out: list[Trace] = []
    for p, c in s.features:
        if p.filled:
            if c.visible.mean() > 0.5:
                seen = c.points[c.visible] if not c.visible.all() else c.points
                out.append(line(seen, p.role, p.name, closed=True, filled=True))
        elif p.closed and c.visible.all():
            out.append(line(c.points, p.role, p.name, closed=True))
        else:
            out += runs(smooth_flags(c), p.role, least=3)
    return out
