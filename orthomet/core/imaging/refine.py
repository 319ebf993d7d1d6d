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

from ..kinds import Array
from .edges import Ray, Sides, heaviest, looked_along, moved_sideways
from .eyes import eyes
from .hair import hair
from .working import Face, Points, prepare, softened


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
    for step in (eyes, _mouth, _chin, _outline, hair):
        out |= step(face, {**at, **out})
    return face.picture(out)


# ---- mouth


def _mouth(face: Face, at: Points) -> Points:
    """Corners and line: the darkest path along the lips, as far as it stays darker than the skin above and below."""
    if any(n not in at for n in ("cheilion_l", "cheilion_r", "stomion")):
        return {}
    mid, r, left = (np.array(at[n]) for n in ("stomion", "cheilion_r", "cheilion_l"))
    half = max(float(left[0] - r[0]) / 2, 8.0)
    reach, tall = int(1.55 * half / ACROSS), int(max(0.30 * half, 8))
    x, y = ACROSS * np.arange(-reach, reach + 1), np.arange(-tall, tall + 1)
    gx, gy = np.meshgrid(mid[0] + x, mid[1] + y)
    light = np.ascontiguousarray(face.along(gx, gy)[..., 0])
    v = cv2.GaussianBlur(light, (0, 0), sigmaX=1.4 / ACROSS, sigmaY=1.4)
    dark = v - cv2.blur(v, (1, 2 * (tall // 2) + 1), borderType=cv2.BORDER_REPLICATE)
    path = _path(dark + 0.01 * np.abs(y)[:, None], reach)
    smooth = softened(-dark[path, np.arange(len(x))], 1.5 / ACROSS)
    core = int(0.5 * half / ACROSS)
    level = 0.45 * float(np.median(smooth[reach - core : reach + core + 1]))
    if level < 0.6:
        return {}
    ends = {"r": _ends(smooth, level, reach, -1), "l": _ends(smooth, level, reach, 1)}
    if ACROSS * (ends["l"] - ends["r"]) < 0.5 * half:
        return {}

    def place(k: float) -> tuple[float, float]:
        return float(mid[0] + ACROSS * (k - reach)), float(mid[1] - tall + np.interp(k, np.arange(len(x)), path))

    return {**{f"cheilion_{s}": place(k) for s, k in ends.items()}, "stomion": place((ends["l"] + ends["r"]) / 2)}


ACROSS = 2
"""Working pixels between the columns in which the line of the mouth is looked for: it runs level enough (own)."""
LASTING = 3
"""Working pixels over which the line has to stay faint to have ended (own)."""


def _ends(depth: Array, level: float, start: int, way: int) -> float:
    """Where a line's depth falls below a level for good, between columns."""
    k, low = start, 0
    while 0 < k < len(depth) - 1 and low * ACROSS < LASTING:
        k += way
        low = low + 1 if depth[k] < level else 0
    last = k - low * way
    if not low:
        return float(last)
    a, b = float(depth[last]), float(depth[last + way])
    return last + way * (a - level) / max(a - b, 1e-6)


def _path(cost: Array, middle: int) -> Array:
    """Rows of the cheapest path through every column that steps at most one row a column.

    Both halves are worked out together, from the two ends toward the ``middle`` column, and joined there.
    """
    h, w = cost.shape
    n = max(middle, w - 1 - middle) + 1
    halves = np.zeros((2, n, h))  # from each end inward; a shorter half starts with columns that cost nothing
    halves[0, n - middle - 1 :], halves[1, n - (w - middle) :] = cost.T[: middle + 1], cost.T[middle:][::-1]
    total = np.full((n, 2, h + 2), np.inf)  # walled by infinity on both sides
    total[0, :, 1:-1] = halves[:, 0]
    columns = np.ascontiguousarray(halves.swapaxes(0, 1))
    for k in range(1, n):
        prev, now = total[k - 1], total[k, :, 1:-1]
        np.minimum(prev[:, :-2], prev[:, 1:-1], out=now)
        np.minimum(now, prev[:, 2:], out=now)
        now += columns[k]
    rows = np.zeros(w, int)
    rows[middle] = best = int((total[-1, 0, 1:-1] + total[-1, 1, 1:-1] - cost[:, middle]).argmin())
    for side, step, far in ((0, -1, middle), (1, 1, w - 1 - middle)):
        row = best
        for k in range(far):
            row += int(total[n - 2 - k, side, row : row + 3].argmin()) - 1
            rows[middle + step * (k + 1)] = row
    return rows


# ---- nose, chin, cheeks


FACE_EVEN, NOSE_EVEN = 0.035, 0.10
"""How unlike both sides of a face and of a nose may be, in half widths (own; the middle of the nose is less well known)."""
WINGS = Sides("alare", 0.30, 1.4, 0.75, 0.30, 6, NOSE_EVEN, crease=True)
WING_EDGES = Sides("alare", 0.45, 1.4, 0.55, 0.30, 4, NOSE_EVEN)
OUTLINE = tuple(Sides(base, 0.75, 0.6, 0.25, 0.09, 6, FACE_EVEN) for base in ("zygion", "gonion"))
"""Where nose wings, cheeks and jaw corners are looked for about their seeds (own, tried on 90 painted portraits)."""


def _chin(face: Face, at: Points) -> Points:
    """Where the face ends below the mouth."""
    if "gnathion" not in at or "stomion" not in at:
        return {}
    mouth, chin = np.array(at["stomion"]), np.array(at["gnathion"])
    tall = float(chin[1] - mouth[1])
    if tall < 6:
        return {}
    ray = Ray(mouth + [0, 0.60 * tall], np.array([0.0, 1.0]), 1.2 * tall, 0.60 * tall, 0.28 * tall, 8)
    found = heaviest(looked_along(face, [ray])[0])
    return {} if found is None else {"gnathion": (float(chin[0]), float(mouth[1] + 0.60 * tall + found))}


def _outline(face: Face, at: Points) -> Points:
    """Cheeks and jaw corners: the face's edge level with their seeds; wings of the nose: the crease beside each, or its edge."""
    middle = (at["endocanthion_l"][0] + at["endocanthion_r"][0]) / 2
    asked = [(s, middle) for s in OUTLINE]
    if "subnasale" not in at:
        return moved_sideways(face, at, asked)
    nose = at["subnasale"][0]
    out = moved_sideways(face, at, [*asked, (WINGS, nose)])
    return out if "alare_l" in out and "alare_r" in out else out | moved_sideways(face, at, [(WING_EDGES, nose)])
