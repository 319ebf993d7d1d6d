"""What a contour reads: area, roundness, convexity, height to width, taper, angularity, straights, corners; and its spikes and lobes."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..kinds import Array
from .contour import area, convexity, corners, resampled, roundness, size_of, smoothed
from .masks import filled
from .pieces import drawn, levels, straight_share
from .push import reduced

STRAIGHTS_IN = (4, 5, 6, 7, 8, 10, 12, 14, 16, 20, 24, 30)
"""The outline is looked at in as few pieces as meet it, of so many, to tell its straights."""
MET = 0.016
"""How near that is, a share of the size."""
SPIKE = 0.62
"""A bump whose outer width is less than this share of its base is pointed (own)."""
LEAST_BUMP = 0.05
"""A bump sticks out by this share of the height at least."""
GRID = 240


def read(c: Array, found: Array | None = None) -> dict[str, float]:
    """Readings of a contour.

    ``area`` in the contour's own unit squared; ``roundness`` 4πA/P² (circle 1, square π/4); ``convexity`` A over its hull's; ``aspect``
    height over width, by spread (a square 1); ``taper`` log of how many times as wide it is a spread below its middle as a spread above,
    halved; ``angularity`` 0 (circle) … 1 (polygon); ``straight_share`` of its length; ``corners`` a count.
    """
    r = reduced(c)
    k = corners(smoothed(resampled(c, 240), 1.4)) if found is None else found
    return {
        "area": abs(area(c)), "roundness": roundness(c), "convexity": convexity(c),
        "aspect": float(np.exp(r.aspect)), "taper": r.taper, "angularity": r.angularity, "straight_share": straights(c), "corners": float(len(k)),
    }  # fmt: skip


def straights(c: Array) -> float:
    """Share of the outline's length that is straight, in as few straights and curves as meet it."""
    q = resampled(c, 240) if len(c) != 240 else c
    found = levels(q, corners(smoothed(q, 1.4)), STRAIGHTS_IN)
    if not found:
        return 0.0
    off = [float(np.hypot(*(drawn(p, len(q)) - q).T).max()) for p in found]
    met = next((p for p, o in zip(found, off, strict=True) if o < max(MET * size_of(q), 1.25 * off[-1])), found[-1])
    return straight_share(met, q)


@dataclass(frozen=True)
class Bump:
    """Something that sticks out: its tip, which way on a clock face, its length and the width of its base in heights, what it is."""

    tip: tuple[float, float]
    clock: int
    length: float
    width: float
    kind: str
    """``spike``, ``lobe`` or ``limb``."""

    @property
    def words(self) -> str:
        return f"{self.kind} at {self.clock} o’clock, {self.length:.2f} of the height"


def bumps(c: Array, more: tuple[Array, ...] = ()) -> list[Bump]:
    """What no disc that fits the body reaches into, for discs up to its own depth, the longest first.

    ``more``: further outlines of the same silhouette.
    """
    everything = np.vstack([c, *more])
    low, high = everything.min(0), everything.max(0)
    f = GRID / max(float((high - low).max()), 1e-9)
    shape = (int(np.ceil((high - low)[1] * f)) + 9, int(np.ceil((high - low)[0] * f)) + 9)
    m = np.zeros(shape, np.uint8)
    for q in (c, *more):
        m |= filled((q - low) * f + 4, shape).view(np.uint8)
    if not m.any():
        return []
    tall = float((high - low)[1]) * f
    d = cv2.distanceTransform(np.pad(m, 1), cv2.DIST_L2, 5)[1:-1, 1:-1]
    middle = np.array(np.unravel_index(int(d.argmax()), d.shape))[::-1]
    top = float(d.max())
    found: list[tuple[Array, float, float, float]] = []
    r = 0.82 * top
    while r > 0.12 * top:
        found += _stick_out(m, r, max(LEAST_BUMP * tall, 0.75 * r), [b[0] for b in found], 0.05 * tall)
        r *= 0.78
    out = []
    for tip, long, base, outer in sorted(found, key=lambda b: -b[1]):
        v = tip - middle
        clock = round(float(np.degrees(np.arctan2(v[0], -v[1]))) / 30) % 12 or 12
        kind = "spike" if outer < SPIKE * base and long > 0.8 * base else "limb" if long > 1.5 * base else "lobe"
        at = (tip - 4) / f + low
        out.append(Bump((float(at[0]), float(at[1])), clock, long / tall, base / tall, kind))
    return out


def _stick_out(m: Array, r: float, least: float, known: list[Array], apart: float) -> list[tuple[Array, float, float, float]]:
    k = int(np.ceil(r))
    y, x = np.mgrid[-k : k + 1, -k : k + 1]
    disc = (x * x + y * y <= r * r).astype(np.uint8)
    opened = cv2.morphologyEx(np.pad(m, k + 2), cv2.MORPH_OPEN, disc)[k + 2 : -k - 2, k + 2 : -k - 2]
    far = cv2.distanceTransform(1 - opened, cv2.DIST_L2, 5)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(m & (1 - opened), connectivity=4)
    out: list[tuple[Array, float, float, float]] = []
    for i in range(1, count):
        piece = labels == i
        long = float(far[piece].max())
        if long < least or stats[i, cv2.CC_STAT_AREA] < 12:
            continue
        ys, xs = np.nonzero(piece & (far >= 0.97 * long))
        tip = np.array([xs.mean(), ys.mean()])
        if any(np.hypot(*(tip - q)) < apart for q in (*known, *(b[0] for b in out))):
            continue
        v = far[piece]

        def width(low: float, high: float, v: Array = v, long: float = long) -> float:
            return max(float(((v >= low * long) & (v < high * long)).sum()) / ((high - low) * long), 0.5)

        out.append((tip, long, width(0.1, 0.4), width(0.62, 0.88)))
    return out
