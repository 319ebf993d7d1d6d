"""Edges across a contour: where the picture steps, or has a dark line, along rays laid from a seed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .working import Face, Points, softened

FAINT_STEP, FAINT_CREASE = 0.5, 0.02
"""Weakest step (CIELAB a working pixel) and crease (lightness a square pixel) that is believed (own)."""
SLIGHT = 0.1
"""Share of the heaviest step below which another is not weighed against it (own)."""
BOLD = 6.0
"""Steps bolder than this weigh no more: a black collar is no better a chin (own)."""
FEWEST, FARTHEST = 3, 600
"""Working pixels a ray has to be long for anything to be found on it, and the most that are looked at."""
CREASE = 2.5
"""How wide a crease is, working pixels (own)."""
STEP = 1.6
"""Over how many working pixels a step is taken (own)."""

Steps = tuple[Array, Array]
"""Distances of the clear steps along a ray, and how much each weighs; the heaviest first."""


@dataclass(frozen=True)
class Ray:
    """Where an edge is looked for: from a point along a unit vector, near an expected distance (all working pixels).

    The picture is averaged over ``wide`` working pixels to either side, so that hair and freckles do not count.
    """

    start: Array
    along: Array
    reach: float
    expected: float
    spread: float
    wide: int
    crease: bool = False
    """Look for the middle of a dark line instead of a step."""

    def places(self) -> Array:
        """Working pixels looked at, shape ``(2, steps, lanes)``: a pixel apart along the ray, two across."""
        d, lanes = np.arange(1.0, min(self.reach, FARTHEST)), np.arange(-self.wide, self.wide + 1, 2.0)
        ways = np.array([[self.along[0], -self.along[1]], [self.along[1], self.along[0]]])
        out: Array = self.start[:, None, None] + ways[:, :1, None] * d[:, None] + ways[:, 1:, None] * lanes
        return out

    def steps(self, seen: Array, inside: Array) -> Steps:
        """What CIELAB along the ray, shape ``(steps, 3)``, tells; only what lies ``inside`` the picture counts."""
        if len(seen) < FEWEST:
            return np.zeros(0), np.zeros(0)
        if self.crease:
            jump = np.maximum(softened(softened(seen[:, 0], CREASE, steep=True), CREASE, steep=True), 0.0)
        else:
            slope = softened(seen, STEP, steep=True)
            jump = np.sqrt(np.einsum("ij,ij->i", slope, slope))
        d = np.arange(1.0, len(jump) + 1)
        weight = np.minimum(jump, BOLD) * np.exp(-(((d - self.expected) / self.spread) ** 2) / 2) * inside
        typical = float(np.partition(jump, len(jump) // 2)[len(jump) // 2]) + 1e-6
        clear = jump > max(2.0 * typical, FAINT_CREASE if self.crease else FAINT_STEP)
        clear[1:-1] &= (weight[1:-1] >= weight[:-2]) & (weight[1:-1] >= weight[2:])
        clear[[0, -1]] = False
        at = np.flatnonzero(clear)
        at = at[np.argsort(-weight[at])]
        at = at[weight[at] > SLIGHT * weight[at[:1]]]
        return d[at], weight[at]


def looked_along(face: Face, rays: Sequence[Ray]) -> list[Steps]:
    """The steps of every ray; the picture is read once for all of them."""
    places = [r.places() for r in rays]
    if not any(p.size for p in places):
        return [(np.zeros(0), np.zeros(0)) for _ in rays]
    x, y = (np.concatenate([p[i].ravel() for p in places])[None] for i in (0, 1))
    seen = face.along(x, y)[0]
    inside = ((x > 0) & (x < face.size - 1) & (y > 0) & (y < face.size - 1))[0]
    out, start = [], 0
    for ray, p in zip(rays, places, strict=True):
        n, m = p.shape[1:]
        part = slice(start, start + n * m)
        out.append(ray.steps(seen[part].reshape(n, m, 3).mean(1), inside[part].reshape(n, m).all(1)))
        start += n * m
    return out


def heaviest(steps: Steps) -> float | None:
    """Distance of the step that weighs most; ``None`` for no step."""
    return float(steps[0][0]) if len(steps[0]) else None


def paired(r: Steps, left: Steps, halves: tuple[float, float], even: float) -> tuple[float | None, float | None]:
    """Distances of the two steps, one a side, that weigh most together.

    They lie about as far out in half widths: ``even`` is the standard deviation of how unlike both are.
    """
    if not len(r[0]) or not len(left[0]):
        return heaviest(r), heaviest(left)
    unlike = r[0][:, None] / halves[0] - left[0][None] / halves[1]
    weigh = np.outer(r[1], left[1]) * np.exp(-((unlike / even) ** 2) / 2)
    i, j = np.unravel_index(int(weigh.argmax()), weigh.shape)
    return float(r[0][i]), float(left[0][j])


@dataclass(frozen=True)
class Sides:
    """How the two edges beside a middle line are looked for, in half widths of their seeds."""

    base: str
    start: float
    reach: float
    expected: float
    """From the start."""
    spread: float
    wide: int
    even: float
    crease: bool = False

    def rays(self, at: Points, middle: float) -> dict[str, tuple[Ray, float, float]]:
        """By side: the ray, the half width and which way it runs."""
        out = {}
        for side, way in (("r", -1.0), ("l", 1.0)):
            seed = at.get(f"{self.base}_{side}")
            half = way * (seed[0] - middle) if seed else 0.0
            if seed and half > LEAST_HALF:
                start = np.array([middle + way * self.start * half, seed[1]])
                ray = Ray(
                    start,
                    np.array([way, 0.0]),
                    self.reach * half,
                    self.expected * half,
                    self.spread * half,
                    self.wide,
                    self.crease,
                )
                out[side] = ray, half, way
        return out


LEAST_HALF = 4.0
"""Working pixels below which a half width is nothing to look beside (own)."""


def moved_sideways(face: Face, at: Points, asked: Sequence[tuple[Sides, float]]) -> Points:
    """Seeds of both sides moved level onto their edges, for several pairs and their middles at once."""
    laid = [(s, s.rays(at, middle)) for s, middle in asked]
    found = iter(looked_along(face, [ray for _, rays in laid for ray, _, _ in rays.values()]) if any(r for _, r in laid) else ())
    out: Points = {}
    for s, rays in laid:
        steps = {side: next(found) for side in rays}
        if len(steps) == 2:
            far = dict(zip("rl", paired(steps["r"], steps["l"], (rays["r"][1], rays["l"][1]), s.even), strict=True))
        else:
            far = {side: heaviest(v) for side, v in steps.items()}
        for side, d in far.items():
            if d is not None:
                ray, _, way = rays[side]
                out[f"{s.base}_{side}"] = (float(ray.start[0]) + way * d, float(ray.start[1]))
    return out
