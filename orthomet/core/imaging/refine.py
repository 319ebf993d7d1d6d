"""Seeds moved onto what the picture shows, feature by feature: iris, lids, mouth, nose wings, chin and cheeks, hair.

The mesh regresses to an average face, so it says where a feature is, not how large. Each step here looks only near its seed
and leaves the seed alone where the picture tells nothing. What it moves stays *estimated* until a person confirms it.

Iris: the circle at which brightness jumps most between inside and outside, on the arcs the lids leave free (after
Daugman, *IEEE PAMI* 15(11), 1993). Lids and corners: what is not skin around the iris, filled. Mouth line: the darkest path
between the lips. Outline: the strongest edge across the contour.
"""

from __future__ import annotations

from collections.abc import Mapping

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


def _edge(face: Face, start: Array, along: Array, reach: float, expected: float, spread: float, wide: int) -> float | None:
    """How far from ``start`` along a unit vector the picture steps most, near an expected distance; ``None`` for no step.

    The step is averaged over ``wide`` working pixels across, so that hair and freckles do not count.
    """
    steps = np.arange(1.0, reach, 1.0)
    across = np.array([-along[1], along[0]])
    lanes = np.arange(-wide, wide + 1, 2.0)
    x = start[0] + steps[:, None] * along[0] + lanes[None] * across[0]
    y = start[1] + steps[:, None] * along[1] + lanes[None] * across[1]
    inside = (x > 0) & (x < face.size - 1) & (y > 0) & (y < face.size - 1)
    seen = face.along(x, y).mean(1)
    slope = softened(seen, 1.6, steep=True)
    jump = np.sqrt(np.einsum("ij,ij->i", slope, slope))
    prior = np.exp(-(((steps - expected) / spread) ** 2) / 2)
    score = np.where(inside.all(1), jump * prior, 0.0)
    k = int(score.argmax())
    typical = float(np.partition(jump, len(jump) // 2)[len(jump) // 2]) + 1e-6
    return float(steps[k]) if 0 < k < len(steps) - 1 and jump[k] > 2.0 * typical and jump[k] > 0.5 else None


def _nose(face: Face, at: Points) -> Points:
    """Wings: the edge beside each nostril."""
    out: Points = {}
    if "subnasale" not in at:
        return out
    base = np.array(at["subnasale"])
    for side, step in (("r", -1.0), ("l", 1.0)):
        seed = np.array(at.get(f"alare_{side}", (np.nan, np.nan)))
        half = step * float(seed[0] - base[0])
        if not half > 4:
            continue
        found = _edge(
            face,
            np.array([base[0] + step * 0.45 * half, seed[1]]),
            np.array([step, 0.0]),
            1.4 * half,
            0.55 * half,
            0.30 * half,
            4,
        )
        if found is not None:
            out[f"alare_{side}"] = (base[0] + step * (0.45 * half + found), float(seed[1]))
    return out


def _chin(face: Face, at: Points) -> Points:
    """Where the face ends below the mouth."""
    if "gnathion" not in at or "stomion" not in at:
        return {}
    mouth, chin = np.array(at["stomion"]), np.array(at["gnathion"])
    tall = float(chin[1] - mouth[1])
    if tall < 6:
        return {}
    found = _edge(face, mouth + [0, 0.55 * tall], np.array([0.0, 1.0]), 0.9 * tall, 0.50 * tall, 0.22 * tall, 8)
    return {} if found is None else {"gnathion": (float(chin[0]), float(mouth[1] + 0.55 * tall + found))}


def _cheeks(face: Face, at: Points) -> Points:
    """Cheek and jaw corner: the face's edge level with their seeds."""
    out: Points = {}
    middle = (np.array(at["endocanthion_l"]) + np.array(at["endocanthion_r"])) / 2
    for base in ("zygion", "gonion"):
        for side, step in (("r", -1.0), ("l", 1.0)):
            seed = np.array(at.get(f"{base}_{side}", (np.nan, np.nan)))
            half = step * float(seed[0] - middle[0])
            if not half > 10:
                continue
            found = _edge(
                face,
                np.array([middle[0] + step * 0.75 * half, seed[1]]),
                np.array([step, 0.0]),
                0.6 * half,
                0.25 * half,
                0.09 * half,
                6,
            )
            if found is not None:
                out[f"{base}_{side}"] = (middle[0] + step * (0.75 * half + found), float(seed[1]))
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
        found = _edge(face, brow - [0, 0.30 * rise], up, 1.5 * rise, 0.70 * rise, 0.35 * rise, 6)
        if found is not None:
            out["trichion"] = (float(brow[0]), float(brow[1] - 0.30 * rise - found))
    found = _edge(face, crown + [0, 0.06 * hh], up, 0.26 * hh, 0.12 * hh, 0.06 * hh, 10)
    if found is not None:
        out["hair_top"] = (float(crown[0]), float(crown[1] + 0.06 * hh - found))
    for side, step in (("r", -1.0), ("l", 1.0)):
        seed = at.get(f"euryon_{side}")
        if seed is None:
            continue
        half = step * (seed[0] - float(crown[0]))
        found = _edge(
            face,
            np.array([crown[0] + step * 0.95 * half, seed[1]]),
            np.array([step, 0.0]),
            0.45 * half,
            0.18 * half,
            0.12 * half,
            8,
        )
        if found is not None:
            out[f"hair_side_{side}"] = (float(crown[0] + step * (0.95 * half + found)), float(seed[1]))
    return out
