"""Seeds moved onto what the picture shows, feature by feature: iris, lids, mouth, nose wings, chin and cheeks, hair.

The mesh regresses to an average face, so it says where a feature is, not how large. Each step here looks only near its seed
and leaves the seed alone where the picture tells nothing. What it moves stays *estimated* until a person confirms it.

Iris: the circle at which brightness jumps most between inside and outside, on the arcs the lids leave free (after
Daugman, *IEEE PAMI* 15(11), 1993). Lids and corners: what is not skin around the iris, filled. Mouth line: the darkest path
between the lips. Outline: the strongest edge across the contour.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import cv2
import numpy as np
from scipy import ndimage

from ..kinds import Array
from .eyes import eyes
from .working import Face, Points, prepare, sample, softened


def refine(rgb: Array, points: Mapping[str, tuple[float, float]]) -> Points:
    """Better places for the front landmarks of one face.

    Parameters
    ----------
    rgb
        The picture ``(h, w, 3)``, uint8.
    points
        Seeds in picture pixels; both eyes' corners are needed.

    Returns
    -------
    dict
        Only the landmarks that were moved.
    """
    if any(f"{b}_{s}" not in points for b in ("endocanthion", "exocanthion") for s in "lr"):
        return {}
    face = prepare(rgb, points)
    if face is None:
        return {}
    at = face.work(points)
    out: Points = {}
    for step in (eyes, _mouth, _nose, _chin, _cheeks, _hair):
        out |= step(face, {**at, **out})
    return face.picture(out)


# ---- mouth


def _mouth(face: Face, at: Points) -> Points:
    """Corners and line: the darkest path along the lips, as far as it stays darker than the skin above and below."""
    if any(n not in at for n in ("cheilion_l", "cheilion_r", "stomion")):
        return {}
    mid, r, left = (np.array(at[n]) for n in ("stomion", "cheilion_r", "cheilion_l"))
    half = max(float(left[0] - r[0]) / 2, 8.0)
    reach, tall = int(1.55 * half), int(max(0.30 * half, 8))
    x = np.arange(-reach, reach + 1)
    y = np.arange(-tall, tall + 1)
    gx, gy = np.meshgrid(mid[0] + x, mid[1] + y)
    part = face.window(np.array([gx[0, 0], gy[0, 0]]), np.array([gx[-1, -1], gy[-1, -1]]))
    v = cv2.GaussianBlur(sample(part.bare, gx - part.corner[0], gy - part.corner[1]), (0, 0), 1.4)
    dark = v - (ndimage.uniform_filter1d(v, 2 * (tall // 2) + 1, axis=0, mode="nearest"))
    cost = dark + 0.01 * np.abs(y)[:, None]
    path = _path(cost, reach)
    depth = -dark[path, np.arange(len(x))]
    smooth = softened(depth, 1.5)
    level = 0.38 * float(np.median(smooth[reach - int(0.5 * half) : reach + int(0.5 * half) + 1]))
    if level < 0.6:
        return {}
    out: Points = {}
    ends = {}
    for side, step in (("r", -1), ("l", 1)):
        k = reach
        low = 0
        while 0 < k < len(x) - 1 and low < 3:
            k += step
            low = low + 1 if smooth[k] < level else 0
        ends[side] = k - low * step
    if ends["l"] - ends["r"] < 0.5 * half:
        return {}
    for side in "rl":
        k = ends[side]
        out[f"cheilion_{side}"] = (float(mid[0] + x[k]), float(mid[1] + y[path[k]]))
    centre = (ends["l"] + ends["r"]) // 2
    out["stomion"] = (float(mid[0] + x[centre]), float(mid[1] + y[path[centre]]))
    return out


def _path(cost: Array, start: int) -> Array:
    """Rows of the cheapest path that leaves the start column both ways and steps at most one row a column."""
    h, w = cost.shape
    total = np.full((w, h + 2), np.inf)  # a column a row, walled by infinity on both sides
    total[0, 1:-1] = cost[:, 0]
    columns = np.ascontiguousarray(cost.T)
    for k in range(1, w):
        prev = total[k - 1]
        np.minimum(prev[:-2], prev[1:-1], out=total[k, 1:-1])
        np.minimum(total[k, 1:-1], prev[2:], out=total[k, 1:-1])
        total[k, 1:-1] += columns[k]
    rows = np.zeros(w, int)
    rows[-1] = row = int(total[-1, 1:-1].argmin())
    for k in range(w - 1, 0, -1):
        row += int(total[k - 1, row : row + 3].argmin()) - 1
        rows[k - 1] = row
    return rows


# ---- nose, chin, cheeks: the strongest edge across a contour


FAINT_STEP, FAINT_CREASE = 0.5, 0.02
"""Weakest step (CIELAB a working pixel) and crease (lightness a square pixel) that is believed (own)."""
SLIGHT = 0.1
"""Share of the heaviest step below which another is not weighed against it (own)."""
BOLD = 6.0
"""Steps bolder than this weigh no more: a black collar is no better a chin (own)."""
CREASE = 2.5
"""How wide a crease is, working pixels (own)."""


@dataclass(frozen=True)
class _Ray:
    """Where an edge is looked for: from a point along a unit vector, near an expected distance (all working pixels).

    The step is averaged over ``wide`` working pixels across, so that hair and freckles do not count.
    """

    start: Array
    along: Array
    reach: float
    expected: float
    spread: float
    wide: int
    crease: bool = False
    """Look for the middle of a dark line instead of a step."""

    def steps(self, face: Face) -> tuple[Array, Array]:
        """Distances of the clear steps (or creases), and how much each weighs; the heaviest first."""
        d = np.arange(1.0, self.reach, 1.0)
        lanes = np.arange(-self.wide, self.wide + 1, 2.0)
        x = self.start[0] + d[:, None] * self.along[0] - lanes * self.along[1]
        y = self.start[1] + d[:, None] * self.along[1] + lanes * self.along[0]
        inside = (x > 0) & (x < face.size - 1) & (y > 0) & (y < face.size - 1)
        seen = face.along(x, y).mean(1)
        if self.crease:
            jump = np.maximum(softened(softened(seen[:, 0], CREASE, steep=True), CREASE, steep=True), 0.0)
        else:
            slope = softened(seen, 1.6, steep=True)
            jump = np.sqrt(np.einsum("ij,ij->i", slope, slope))
        weight = np.where(inside.all(1), np.minimum(jump, BOLD) * np.exp(-(((d - self.expected) / self.spread) ** 2) / 2), 0.0)
        typical = float(np.partition(jump, len(jump) // 2)[len(jump) // 2]) + 1e-6
        peak = np.zeros(len(d), bool)
        peak[1:-1] = (weight[1:-1] >= weight[:-2]) & (weight[1:-1] >= weight[2:])
        at = np.flatnonzero(peak & (jump > 2.0 * typical) & (jump > (FAINT_CREASE if self.crease else FAINT_STEP)))
        at = at[np.argsort(-weight[at])]
        at = at[weight[at] > SLIGHT * weight[at[:1]]]
        return d[at], weight[at]

    def edge(self, face: Face) -> float | None:
        """Distance of the step that weighs most; ``None`` for no step."""
        d, _ = self.steps(face)
        return float(d[0]) if len(d) else None


FACE_EVEN, NOSE_EVEN = 0.035, 0.10
"""How unlike both sides may be, one standard deviation in half widths, when the edges of both are chosen (own; the middle of
the nose is less well known)."""


def _pair(face: Face, rays: dict[str, _Ray], halves: dict[str, float], even: float) -> dict[str, float]:
    """Distances of the two edges, one a side, that weigh most together: they lie about as far out in half widths."""
    steps = {s: ray.steps(face) for s, ray in rays.items()}
    if len(steps) < 2 or not all(len(d) for d, _ in steps.values()):
        return {s: float(d[0]) for s, (d, _) in steps.items() if len(d)}
    (dr, wr), (dl, wl) = steps["r"], steps["l"]
    unlike = dr[:, None] / halves["r"] - dl[None] / halves["l"]
    i, j = np.unravel_index(int((np.outer(wr, wl) * np.exp(-((unlike / even) ** 2) / 2)).argmax()), unlike.shape)
    return {"r": float(dr[i]), "l": float(dl[j])}


def _sides(
    face: Face, middle: float, seeds: Points, shares: tuple[float, float, float, float], wide: int, even: float, crease: bool = False
) -> Points:
    """Seeds of both sides moved sideways onto their edges.

    ``shares``: where one starts to look, how far, where the edge is expected from there and how loosely, in half widths.
    """
    start, reach, expected, spread = shares
    out: dict[str, float] = {s: -1.0 if s == "r" else 1.0 for s in seeds}
    half = {s: step * (seeds[s][0] - middle) for s, step in out.items()}
    rays = {
        s: _Ray(np.array([middle + out[s] * start * h, seeds[s][1]]), np.array([out[s], 0.0]), reach * h, expected * h, spread * h, wide, crease)
        for s, h in half.items() if h > 4
    }  # fmt: skip
    found = _pair(face, rays, half, even)
    return {s: (middle + out[s] * (start * half[s] + d), seeds[s][1]) for s, d in found.items()}


def _both(at: Points, base: str) -> Points:
    return {s: at[f"{base}_{s}"] for s in "rl" if f"{base}_{s}" in at}


def _nose(face: Face, at: Points) -> Points:
    """Wings: the crease beside each, or the edge where there is none."""
    if "subnasale" not in at:
        return {}
    middle, seeds = at["subnasale"][0], _both(at, "alare")
    found = _sides(face, middle, seeds, (0.30, 1.4, 0.75, 0.30), 6, NOSE_EVEN, crease=True)
    if len(found) < len(seeds):
        found = _sides(face, middle, seeds, (0.45, 1.4, 0.55, 0.30), 4, NOSE_EVEN)
    return {f"alare_{s}": xy for s, xy in found.items()}


def _chin(face: Face, at: Points) -> Points:
    """Where the face ends below the mouth."""
    if "gnathion" not in at or "stomion" not in at:
        return {}
    mouth, chin = np.array(at["stomion"]), np.array(at["gnathion"])
    tall = float(chin[1] - mouth[1])
    if tall < 6:
        return {}
    found = _Ray(mouth + [0, 0.60 * tall], np.array([0.0, 1.0]), 1.2 * tall, 0.60 * tall, 0.28 * tall, 8).edge(face)
    return {} if found is None else {"gnathion": (float(chin[0]), float(mouth[1] + 0.60 * tall + found))}


def _cheeks(face: Face, at: Points) -> Points:
    """Cheek and jaw corner: the face's edge level with their seeds."""
    middle = (at["endocanthion_l"][0] + at["endocanthion_r"][0]) / 2
    out: Points = {}
    for base in ("zygion", "gonion"):
        found = _sides(face, middle, _both(at, base), (0.75, 0.6, 0.25, 0.09), 6, FACE_EVEN)
        out |= {f"{base}_{s}": xy for s, xy in found.items()}
    return out


def _hair(face: Face, at: Points) -> Points:
    """Hairline over the brows, top of the hair over the crown, its sides level with the temples."""
    out: Points = {}
    if any(n not in at for n in ("glabella", "trichion", "vertex", "gnathion")):
        return out
    brow, crown = np.array(at["glabella"]), np.array(at["vertex"])
    hh = float(at["gnathion"][1] - crown[1])
    up = np.array([0.0, -1.0])
    rise = float(brow[1] - at["trichion"][1])
    if rise > 0.05 * hh:
        found = _Ray(brow - [0, 0.30 * rise], up, 1.5 * rise, 0.70 * rise, 0.35 * rise, 6).edge(face)
        if found is not None:
            out["trichion"] = (float(brow[0]), float(brow[1] - 0.30 * rise - found))
    found = _Ray(crown + [0, 0.06 * hh], up, 0.26 * hh, 0.12 * hh, 0.06 * hh, 10).edge(face)
    if found is not None:
        out["hair_top"] = (float(crown[0]), float(crown[1] + 0.06 * hh - found))
    for side, step in (("r", -1.0), ("l", 1.0)):
        seed = at.get(f"euryon_{side}")
        if seed is None:
            continue
        half = step * (seed[0] - float(crown[0]))
        found = _Ray(np.array([crown[0] + step * 0.95 * half, seed[1]]), np.array([step, 0.0]), 0.45 * half, 0.18 * half, 0.12 * half, 8).edge(face)
        if found is not None:
            out[f"hair_side_{side}"] = (float(crown[0] + step * (0.95 * half + found)), float(seed[1]))
    return out
