"""Where things should be, as faint outlines: a face's own strokes, a profile's contour, a figure's limbs."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..features.choices import PLAIN, FeatureChoices
from ..head.by_feature import lines_by_feature
from ..kinds import Array, there
from ..landmarks.schema import FRONT
from ..picture import Ink, Trace
from .groups import Anatomy, rim_path
from .ribbon import ribbon

HALF = {
    "upper_arm": (0.17, 0.13),
    "forearm": (0.14, 0.09),
    "hand": (0.11, 0.05),
    "thigh": (0.26, 0.17),
    "shin": (0.17, 0.10),
    "foot": (0.10, 0.06),
}
"""Half of how wide a limb usually is at its inner and its outer end, heads (own)."""


def ghosts(
    points: Array,
    cured: Array,
    which: dict[str, list[int]],
    wide: float,
    hh: float,
    body: Anatomy,
    choices: FeatureChoices = PLAIN,
) -> list[Trace]:
    """Outlines of the pieces that move, where they should be: landmarks as they are and cured, ``(n, 2)``, ``wide`` a line's width and
    ``hh`` a head, all in pixels."""
    view = body.schema.view
    own = {"front": _face, "profile": _profile, "figure": _figure}[view]
    traces = list(own(cured, which, wide, hh, body, choices))
    for rim, at in body.rims.items():
        if rim in which:
            traces += _contour(points, cured, at, wide)
    return traces


def _contour(points: Array, cured: Array, rim: tuple[int, ...], wide: float) -> Iterator[Trace]:
    """Those stretches of a contour that come to lie elsewhere."""
    path, now = rim_path(cured, rim), rim_path(points, rim)
    if path.shape != now.shape or len(path) < 3:
        return
    off = np.linalg.norm(path - now, axis=1) > 0.5 * wide
    keep = np.flatnonzero(np.convolve(off, np.ones(9), "same") > 0)
    for run in np.split(keep, np.flatnonzero(np.diff(keep) > 1) + 1):
        if len(run) > 3:
            yield ribbon(path[run], wide, Ink.REDLINE, 0.12)


def _face(
    cured: Array, which: dict[str, list[int]], wide: float, hh: float, body: Anatomy, choices: FeatureChoices
) -> Iterator[Trace]:
    for g, p, _, closed, filled in lines_by_feature(cured, choices):
        small = g.startswith("eye") and filled  # an iris is told by its ring, a pupil not at all
        if g in which and not small and len(p) > 1:
            yield ribbon(np.vstack([p, p[:1]]) if closed or filled else p, wide * (0.75 if filled else 1.0), Ink.REDLINE)
    for s in "lr":
        at = [FRONT.index[f"{n}_{s}"] for n in ("superaurale", "subaurale")]
        if f"ear_{s}" in which and there(cured)[at].all():
            a, b = cured[at]
            yield _ear(a, b, 1.0 if a[0] > float(np.nanmean(cured[:, 0])) else -1.0, wide)


def _ear(top: Array, lobe: Array, way: float, wide: float) -> Trace:
    """An ear's outer rim between its ends, bowed to one side."""
    t = np.linspace(0, 1, 30)[:, None]
    bow = np.array([way, 0.0]) * 0.22 * np.linalg.norm(lobe - top)
    return ribbon(top + (lobe - top) * t + bow * np.sin(np.pi * t**0.8), wide, Ink.REDLINE, 0.15)


def _profile(
    cured: Array, which: dict[str, list[int]], wide: float, hh: float, body: Anatomy, choices: FeatureChoices
) -> Iterator[Trace]:
    at = {n: cured[i] for n, i in body.schema.index.items() if np.isfinite(cured[i]).all()}
    front = [p[0] for n in ("pronasale", "subnasale", "glabella") if (p := at.get(n)) is not None]
    back = [p[0] for n in ("tragion", "gonion", "opisthocranion", "exocanthion") if (p := at.get(n)) is not None]
    way = 1.0 if not front or not back or np.mean(front) > np.mean(back) else -1.0
    if "eye" in which and "exocanthion" in at:
        c, long = at["exocanthion"], 0.085 * hh
        t = np.linspace(0, 1, 24)[:, None]
        for lid, tall in ((-1, 0.034), (1, 0.020)):
            yield ribbon(c + t * [way * long, 0] + np.array([0, lid * tall * hh]) * np.sin(np.pi * t**0.7 / 2), wide, Ink.REDLINE)
    if "brow" in which and "brow_peak" in at:
        t = np.linspace(-1, 1, 24)[:, None]
        yield ribbon(at["brow_peak"] + t * [0.075 * hh, 0] + np.array([0, 0.022 * hh]) * t**2, 1.3 * wide, Ink.REDLINE)
    if "ear" in which and {"superaurale", "subaurale"} <= set(at):
        yield _ear(at["superaurale"], at["subaurale"], -way, wide)
    if "jaw" in which and "gonion" in at:
        turn = np.linspace(0, 2 * np.pi, 30)
        yield ribbon(at["gonion"] + 0.02 * hh * np.stack([np.cos(turn), np.sin(turn)], 1), wide, Ink.REDLINE)


def _figure(
    cured: Array, which: dict[str, list[int]], wide: float, hh: float, body: Anatomy, choices: FeatureChoices
) -> Iterator[Trace]:
    for g in which:
        ends = cured[list(body.bones.get(g, ()))]
        if len(ends) and there(ends).all():
            if g == "head":
                yield _oval(ends, 0.36)
            else:
                inner, outer = HALF[g[:-2]]
                yield from _limb(ends[0], ends[1], inner * hh, outer * hh, wide)
    for pair in ("acromion", "trochanterion") if "trunk" in which else ():
        line = cured[[body.schema.index[f"{pair}_{s}"] for s in "rl"]]
        if there(line).all():
            yield ribbon(line, wide, Ink.REDLINE)


def _oval(ends: Array, share: float) -> Trace:
    """A head between crown and chin."""
    middle, half = ends.mean(0), (ends[1] - ends[0]) / 2
    side = np.array([-half[1], half[0]]) * 2 * share
    t = np.linspace(0, 2 * np.pi, 60)[:, None]
    return Trace(
        middle + half * np.cos(t) + side * np.sin(t), Ink.REDLINE, True, widths=np.full(60, 0.02 * float(np.hypot(*half)))
    )


def _limb(a: Array, b: Array, inner: float, outer: float, wide: float) -> Iterator[Trace]:
    """Both edges of a limb, round at its end, and its joint."""
    d = b - a
    far = float(np.hypot(*d))
    if far < 1e-6:
        return
    u = d / far
    n = np.array([-u[1], u[0]])
    t = np.linspace(0.06, 1, 20)[:, None]
    edge = inner + (outer - inner) * t
    turn = np.linspace(0, np.pi, 14)[:, None]
    end = b + outer * (n * np.cos(turn) + u * 0.8 * np.sin(turn))
    yield ribbon(np.vstack([a + d * t + n * edge, end[1:-1], (a + d * t - n * edge)[::-1]]), wide, Ink.REDLINE, 0.10)
    ring = np.linspace(0, 2 * np.pi, 24)
    yield Trace(b + 2.2 * wide * np.stack([np.cos(ring), np.sin(ring)], 1), Ink.REDLINE, True, widths=np.full(24, 0.7 * wide))
