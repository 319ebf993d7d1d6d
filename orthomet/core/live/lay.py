"""First points on a drawing: the plan's own lines registered to the drawn ones, from crown and chin.

A feature's score at a shift, a size and an aspect is the mean closeness under its own lines' points. Eyes come first; the sides of a
pair vote for each other; what a feature explains is withdrawn from the others, so that nose and mouth do not take one line. Then its
points step along their normals to the nearest line of their direction, and a damped affine map follows. Each landmark's spread says
how flat the score was, and how few points found a line.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import cv2
import numpy as np

from ..errors import LandmarkError
from ..features.choices import PLAIN, FeatureChoices
from ..head import features as curves
from ..head.by_feature import lines_by_feature
from ..head.outline import half_width
from ..kinds import Array
from ..landmarks.points import State
from ..landmarks.register import register
from ..landmarks.schema import FRONT
from ..picture import Ink
from .carry import LEAST_HEAD
from .closeness import Ground, channel_of, closeness
from .lay_outline import outline_landmarks
from .linemap import HALF, line_map, working_factor
from .regions import UNDRAWN, parts_of

FAR = 0.075
"""Heads a feature is looked for about where the plan has it (own)."""
STEP = 2
"""Pixels of the channels between the shifts that are tried (own)."""
SIZES = tuple((s, r) for s in (0.82, 0.9, 1.0, 1.1, 1.22) for r in (0.8, 1.0, 1.25))
"""Sizes and aspects that are tried."""
SHIFT_SD, SIZE_SD, ASPECT_SD = 0.045, 0.16, 0.22
"""How far drawings stray from their plans (own)."""
SHIFT_COST, SIZE_COST, BROW_COST, VOTE = 0.025, 0.025, 0.025, 0.5
WITHDRAWN = 0.85
FLAT = 0.03
"""Scores within so much of the best are as good (own)."""
FEATURES = ("eye_l", "eye_r", "brow_l", "brow_r", "mouth", "nose", "ear_l", "ear_r")
POINT = 0.006
"""Heads between the points a line is compared by (own)."""
CLICKED = 0.005
"""Heads a clicked anchor is uncertain by (own)."""
WEIGHTS = {Ink.DETAIL: 0.5, Ink.DARK: 0.8}


@dataclass(frozen=True, eq=False)
class Laid:
    """Landmarks ``(n, 2)`` and their spreads ``(n,)``, pixels of the picture."""

    points: Array
    spread: Array


@dataclass(frozen=True, eq=False)
class _Lines:
    """A feature's lines as points, directions (radians) and weights, heads."""

    p: Array
    angle: Array
    weight: Array

    @property
    def centre(self) -> Array:
        return np.asarray((self.p.min(0) + self.p.max(0)) / 2)


@dataclass(frozen=True, eq=False)
class _Found:
    map: Array
    """Heads of the plan → heads on the drawing, ``(2, 3)``."""
    shift: Array
    spread: float
    share: float
    """How much of the feature found a line."""


def lay(
    grey: Array,
    table: Mapping[str, float],
    plan: Array,
    clicked: Mapping[str, tuple[float, float]],
    choices: FeatureChoices = PLAIN,
) -> Laid:
    """A front plan's landmarks on a drawing ``(h, w)`` uint8, from clicked anchors: crown and chin, and what else there is.

    Raises
    ------
    LandmarkError
        Crown and chin are missing, or too near each other.
    """
    if "vertex" not in clicked or "gnathion" not in clicked:
        raise LandmarkError("Crown and chin have to be clicked before the plan can be laid on a drawing.")
    top, chin = (np.array(clicked[n], float) for n in ("vertex", "gnathion"))
    tall = float(np.hypot(*(chin - top)))
    if tall < LEAST_HEAD:
        raise LandmarkError("Crown and chin lie too near each other to find lines between them.")
    lines = line_map(grey, working_factor(tall))
    f = lines.factor
    near = closeness(lines, tall * f)
    down = (chin - top) / tall
    m = np.array([[down[1], down[0]], [-down[0], down[1]]])
    ground = Ground(near, np.column_stack([m * near.unit, (top + 0.5) * f / HALF - 0.5]), float(np.arctan2(m[1, 0], m[0, 0])))
    found = _features(ground, _planned(table, plan, choices))
    out = plan.copy()
    spread: Array = np.full(len(plan), 0.03)
    for part in parts_of("front"):
        got = found.get(part.name)
        if got is None:
            continue
        at = list(part.at)
        out[at] = plan[at] @ got.map[:, :2].T + got.map[:, 2]
        spread[at] = min(got.spread, 0.04) * (1.5 if got.share < 0.45 else 1.0) + (0.004 if got.share < 0.6 else 0.001)
        spread[[i for i in at if FRONT.names[i] in UNDRAWN]] += 0.004
    outline_landmarks(out, spread, table, plan, ground)
    brows = [found[g].shift for g in ("brow_l", "brow_r") if g in found]
    if brows:
        out[FRONT.index["glabella"]] += np.mean(brows, 0)
    px = (ground(out) + 0.5) * HALF / f - 0.5
    spread = spread * tall
    for n, xy in clicked.items():
        if n in FRONT.index:
            px[FRONT.index[n]], spread[FRONT.index[n]] = xy, CLICKED * tall
    return Laid(px, spread)


def anchors_from(found: Array, plan: Array) -> dict[str, tuple[float, float]]:
    """Where a front plan's crown and chin would lie, were it laid on landmarks somebody or something else found ``(n, 2)``, pixels: a robust
    similarity over all of them, since a crown is the least surely found.

    Raises
    ------
    LandmarkError
        Fewer than three in common.
    """
    back = register(found, plan).inverse()
    ends = back(plan[[FRONT.index[n] for n in ("vertex", "gnathion")]])
    return {n: (float(x), float(y)) for n, (x, y) in zip(("vertex", "gnathion"), ends, strict=True)}


def laid_states(
    laid: Laid, clicked: Mapping[str, tuple[float, float]]
) -> tuple[dict[str, tuple[float, float]], dict[str, State], dict[str, float]]:
    """Points, states and spreads as marks keep them: everything but what was clicked is estimated, within its spread."""
    points, states, spread = {}, {}, {}
    for i, n in enumerate(FRONT.names):
        if np.isfinite(laid.points[i]).all():
            points[n] = (float(laid.points[i, 0]), float(laid.points[i, 1]))
            if n not in clicked:
                states[n], spread[n] = State.ESTIMATED, float(laid.spread[i])
    return points, states, spread


def _planned(table: Mapping[str, float], plan: Array, choices: FeatureChoices) -> dict[str, _Lines]:
    """What is looked for of every feature."""
    rows: dict[str, list[tuple[Array, float]]] = {}
    for x in lines_by_feature(plan, choices):
        if not (x.filled and x.role is Ink.TONE):
            rows.setdefault(x.feature, []).append(
                (np.vstack([x.points, x.points[:1]]) if x.closed else x.points, WEIGHTS.get(x.role, 1.0))
            )
    half = half_width(table)
    for side, k in ((1, "l"), (-1, "r")):
        ear = curves.ear(side, float(table["ear_top_station"]), float(table["ear_bottom_station"]), half)
        rows[f"ear_{k}"] = [(np.asarray(ear.rim, float), 1.0), (np.asarray(ear.inner, float), WEIGHTS[Ink.DETAIL])]
    return {g: made for g, some in rows.items() if (made := _sampled(some)) is not None}


def _sampled(rows: list[tuple[Array, float]]) -> _Lines | None:
    p, angle, weight = [], [], []
    for q, w in rows:
        along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(q, axis=0).T))])
        if along[-1] < POINT:
            continue
        u = np.linspace(0, along[-1], max(3, int(along[-1] / POINT)))
        x, y = np.interp(u, along, q[:, 0]), np.interp(u, along, q[:, 1])
        p.append(np.column_stack([x, y]))
        angle.append(np.arctan2(np.gradient(y), np.gradient(x)))
        weight.append(np.full(len(x), w))
    return _Lines(np.vstack(p), np.concatenate(angle), np.concatenate(weight)) if p else None


def _surface(maps: Array, p: Array, channel: Array, weight: Array, reach: int) -> Array:
    """Mean closeness of points at every shift up to ``reach`` pixels, ``(2·reach + 1)²``."""
    h, w = maps.shape[1:]
    x, y = np.round(p).astype(int).T
    inside = (x >= reach) & (y >= reach) & (x + reach < w) & (y + reach < h)
    out = np.zeros((2 * reach + 1, 2 * reach + 1), np.float32)
    for i in np.flatnonzero(inside):
        out += np.float32(weight[i]) * maps[channel[i], y[i] - reach : y[i] + reach + 1, x[i] - reach : x[i] + reach + 1]
    return np.asarray(out / weight.sum())


def _features(ground: Ground, planned: dict[str, _Lines]) -> dict[str, _Found]:
    unit = ground.near.unit
    small = np.array([cv2.resize(g, None, fx=1 / STEP, fy=1 / STEP, interpolation=cv2.INTER_AREA) for g in ground.near.middle])
    reach = max(2, int(FAR * unit / STEP))
    dy, dx = np.mgrid[-reach : reach + 1, -reach : reach + 1] * (STEP / unit)
    shift_cost = SHIFT_COST * (dx**2 + dy**2) / SHIFT_SD**2

    def rated(lines: _Lines, maps: Array) -> Array:
        """Scores over sizes and shifts, ``(sizes, rows, columns)``."""
        channel, out = channel_of(lines.angle, ground.turn), []
        for s, r in SIZES:
            q = (lines.p - lines.centre) * [s * np.sqrt(r), s / np.sqrt(r)] + lines.centre
            cost = SIZE_COST * ((np.log(s) / SIZE_SD) ** 2 + (np.log(r) / ASPECT_SD) ** 2)
            out.append(_surface(maps, ground(q) / STEP, channel, lines.weight, reach) - shift_cost - cost)
        return np.array(out)

    here = [g for g in FEATURES if g in planned]
    first = {g: rated(planned[g], small) for g in here}
    best = {g: s.max(0) for g, s in first.items()}
    kernel = np.ones((2 * int(0.012 * unit / STEP) + 1,) * 2, np.uint8)
    votes = {}
    for g in here:
        other = f"{g[:-1]}{'r' if g.endswith('l') else 'l'}" if g[-2] == "_" else ""
        mirrored = cv2.dilate(np.ascontiguousarray(best[other][:, ::-1]), kernel) if other in best else 0
        votes[g] = VOTE * mirrored
    eyes = [g for g in ("eye_l", "eye_r") if g in first]
    order = eyes + sorted((g for g in here if g not in eyes), key=lambda g: -float((best[g] + votes[g]).max()))
    found: dict[str, _Found] = {}
    left = small.copy()
    for g in order:
        scores = first[g] if g in eyes else rated(planned[g], left)
        total = scores.max(0) + votes[g]
        eye = found.get(f"eye_{g[-1]}")
        if g.startswith("brow") and eye is not None:  # brows keep their order over the eyes
            total = total - BROW_COST * ((dx - eye.shift[0]) ** 2 + (dy - eye.shift[1]) ** 2) / 0.05**2
        found[g] = _settled(ground, planned[g], scores, total, dx, dy)
        taken = np.zeros(left.shape[1:], np.uint8)
        m = found[g].map
        for x, y in np.round(ground(planned[g].p @ m[:, :2].T + m[:, 2]) / STEP).astype(int):
            cv2.circle(taken, (int(x), int(y)), 2, 1, -1)
        left = left * (1 - WITHDRAWN * taken)
    return found


def _settled(ground: Ground, lines: _Lines, scores: Array, total: Array, dx: Array, dy: Array) -> _Found:
    """The best place and size, stepped to the lines, and how flat the score about it was."""
    i, j = np.unravel_index(int(total.argmax()), total.shape)
    s, r = SIZES[int(scores[:, i, j].argmax())]
    shift = np.array([dx[i, j], dy[i, j]])
    grow = np.array([s * np.sqrt(r), s / np.sqrt(r)])
    start = np.column_stack([np.diag(grow), lines.centre + shift - lines.centre * grow])
    as_good = np.exp((total - total.max()) / FLAT)
    away = (as_good * ((dx - shift[0]) ** 2 + (dy - shift[1]) ** 2)).sum() / as_good.sum()
    m, share = _stepped(ground, lines, start)
    return _Found(m, shift, float(np.hypot(np.sqrt(max(float(away), 1e-8) / 2), 0.003)), share)


def _stepped(ground: Ground, lines: _Lines, m: Array) -> tuple[Array, float]:
    """Points step along their normals to the nearest line of their direction; a damped affine map follows, thrice."""
    share = 0.0
    c = lines.centre
    normal = np.column_stack([-np.sin(lines.angle), np.cos(lines.angle)])
    channel = channel_of(lines.angle, ground.turn)
    arm = float(np.abs(lines.p - c).max()) + 1e-6
    x, y = ((lines.p - c) / arm).T
    nx, ny = normal.T
    ways = np.column_stack([nx, ny, nx * x + ny * y, ny * x - nx * y, nx * x - ny * y, nx * y + ny * x])
    for maps, far in ((ground.near.middle, 0.022), (ground.near.middle, 0.014), (ground.near.fine, 0.008)):
        q = lines.p @ m[:, :2].T + m[:, 2]
        k = int(far * ground.near.unit) + 1
        off = np.arange(-k, k + 1) / ground.near.unit
        at = (
            np.round(ground((q[:, None] + off[None, :, None] * normal[:, None]).reshape(-1, 2)))
            .astype(int)
            .reshape(len(q), len(off), 2)
        )
        col, row = np.clip(at[..., 0], 0, maps.shape[2] - 1), np.clip(at[..., 1], 0, maps.shape[1] - 1)
        profile = maps[channel[:, None], row, col] - 0.10 * (off / far) ** 2
        j, n = profile.argmax(1), np.arange(len(q))
        value = profile[n, j]
        weight = lines.weight * np.clip(value - 0.25, 0, None)
        share = float((lines.weight * (value > 0.35)).sum() / lines.weight.sum())
        if (weight > 0).sum() < 6:
            break
        inner = np.clip(j, 1, len(off) - 2)
        lo, mid, hi = profile[n, inner - 1], profile[n, inner], profile[n, inner + 1]
        between = np.clip(0.5 * (lo - hi) / (lo + hi - 2 * mid - 1e-6), -0.5, 0.5)
        step = off[j] + np.where(j == inner, between, 0) / ground.near.unit
        took = weight
        for _ in range(3):
            held = np.diag([0.02, 0.02, 0.06, 0.08, 0.12, 0.16]) * took.sum()
            d = np.linalg.solve((ways * took[:, None]).T @ ways + held, (ways * took[:, None]).T @ step)
            rest = np.abs(step - ways @ d)
            took = weight * np.clip(1 - (rest / max(3 * float(np.median(rest)), 0.004)) ** 2, 0, None)
            if took.sum() <= 0:
                break
        a = np.array([[d[2] + d[4], d[5] - d[3]], [d[5] + d[3], d[2] - d[4]]]) / arm
        m = np.column_stack([m[:, :2] + a, m[:, 2] + d[:2] - a @ c])
    return m, share
