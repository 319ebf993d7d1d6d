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
from .faces import warped

Points = dict[str, tuple[float, float]]


@dataclass(frozen=True)
class _Window:
    """A part of the working picture in CIELAB, as far as it is looked at: turning all of it over would cost more than the rest."""

    lab: Array
    bare: Array
    """Lightness alone."""
    grey: Array
    """The same, a little softened."""
    corner: Array


@dataclass(frozen=True)
class _Face:
    """A picture turned upright about the face and brought to one size: ``scale`` working pixels a picture pixel."""

    rgb: Array
    to_work: Array
    back: Array

    @property
    def size(self) -> int:
        return int(self.rgb.shape[0])

    def window(self, low: Array, high: Array) -> _Window:
        """The part between two corners, widened so that softening finds its neighbours."""
        x0, y0 = np.clip(np.floor(low).astype(int) - MARGIN, 0, self.size - 2)
        x1, y1 = np.clip(np.ceil(high).astype(int) + MARGIN, [x0 + 2, y0 + 2], self.size)
        lab = _lab(self.rgb[y0:y1, x0:x1])
        bare = np.ascontiguousarray(lab[..., 0])
        return _Window(lab, bare, cv2.GaussianBlur(bare, (0, 0), 1.2), np.array([x0, y0], float))

    def along(self, x: Array, y: Array) -> Array:
        """CIELAB at places ``(n, m)``, shape ``(n, m, 3)``."""
        seen = cv2.remap(self.rgb, x.astype(np.float32), y.astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        return _lab(seen)

    def work(self, xy: tuple[float, float] | Array) -> Array:
        return np.asarray(self.to_work[:, :2] @ np.asarray(xy, float) + self.to_work[:, 2])

    def picture(self, xy: Array) -> tuple[float, float]:
        p = self.back[:, :2] @ np.asarray(xy, float) + self.back[:, 2]
        return float(p[0]), float(p[1])


MARGIN = 6


def _lab(rgb: Array) -> Array:
    return np.asarray(cv2.cvtColor(rgb.astype(np.float32) * np.float32(1 / 255), cv2.COLOR_RGB2LAB))


def _sample(plane: Array, x: Array, y: Array) -> Array:
    """Values of a float plane at places of any shape, between pixels by their neighbours, beyond the edge by the edge."""
    grid = (len(x), -1) if x.ndim > 1 else (1, -1)
    xs, ys = (np.asarray(v, np.float32).reshape(grid) for v in (x, y))
    return np.asarray(cv2.remap(plane, xs, ys, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).reshape(x.shape))


EYES_APART = 110.0
"""Working pixels between the two eyes' centres: finer ones read no better over thirteen portraits (own, tried 96–150)."""


CROP = 5.2
"""The working picture's side in eye distances: a head with its hair (own)."""


def _eye_centre(points: Mapping[str, tuple[float, float]], side: str) -> Array:
    return (np.array(points[f"endocanthion_{side}"]) + np.array(points[f"exocanthion_{side}"])) / 2


def _prepare(rgb: Array, points: Mapping[str, tuple[float, float]]) -> _Face | None:
    r, left = _eye_centre(points, "r"), _eye_centre(points, "l")
    d = left - r
    apart = float(np.linalg.norm(d))
    if apart < 8:
        return None
    k, c, s = EYES_APART / apart, d[0] / apart, d[1] / apart
    middle = (r + left) / 2
    side = int(EYES_APART * CROP)
    m = np.array([[c * k, s * k, 0.0], [-s * k, c * k, 0.0]])
    m[:, 2] = np.array([side / 2, side * 0.5]) - m[:, :2] @ middle
    back = np.linalg.inv(np.vstack([m, [0, 0, 1]]))[:2]
    return _Face(np.ascontiguousarray(warped(rgb, m, side, k)), m, back)


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
    face = _prepare(rgb, points)
    if face is None:
        return {}
    at: Points = {n: (float(p[0]), float(p[1])) for n, p in ((n, face.work(xy)) for n, xy in points.items())}
    out: Points = {}
    for step in (_eyes, _mouth, _nose, _chin, _cheeks, _hair):
        out |= step(face, {**at, **out})
    return {n: face.picture(np.array(xy)) for n, xy in out.items()}


# ---- eyes


LIKE = 0.68
"""Openings less alike in width than this are not both right, a turned head's included (own)."""


def _eyes(face: _Face, at: Points) -> Points:
    """Both eyes; where their openings are too unlike, the one that left its seed farther is not believed."""
    found = {s: _eye(face, at, s) for s in "rl"}
    wide = {s: _opening_width(p) for s, p in found.items()}
    if all(wide.values()) and min(wide.values()) < LIKE * max(wide.values()):
        left = {s: abs(np.log(wide[s] / _opening_width(at, s))) for s in "rl"}
        found[max(left, key=lambda s: left[s])] = {}
    return found["r"] | found["l"]


def _opening_width(points: Points, side: str = "") -> float:
    """Corner to corner, of the only eye in ``points`` or of one side; 0 where the corners are not there."""
    for s in side or "rl":
        if f"endocanthion_{s}" in points:
            return float(np.linalg.norm(np.subtract(points[f"exocanthion_{s}"], points[f"endocanthion_{s}"])))
    return 0.0


LEAST_JUMP = 3.0
"""Weakest step of lightness (CIELAB) that counts as an edge of pupil or iris (own)."""


_ARCS = np.radians(np.concatenate([np.arange(-40, 41, 10), np.arange(140, 221, 10)]))
_RING = np.stack([np.cos(_ARCS), np.sin(_ARCS)], -1)
"""Directions in which the lids leave an iris free: nine to the right, nine to the left."""


DARKER = 0.5
"""Of all places a pupil's centre is looked for among the darker half: it is never the lightest of its eye (own)."""


def _pupil(grey: Array, centre: Array, reach: float, radii: Array) -> tuple[Array, float, float]:
    """Centre, radius and contrast of the dark disc near a point; lids may cover its top and bottom."""
    steps = np.arange(-reach, reach + 1e-6, 2.0)
    cx: Array
    cy: Array
    cx, cy = (a.ravel() for a in np.meshgrid(centre[0] + steps, centre[1] + steps * 0.7))
    tone = _sample(grey, cx, cy)
    dark = tone <= np.quantile(tone, DARKER)
    cx, cy, tone = cx[dark], cy[dark], tone[dark]
    rr = np.concatenate([radii - 2.5, [radii[-1] + 2.5]])
    x = cx[:, None, None] + rr[None, :, None] * _RING[None, None, :, 0]
    y = cy[:, None, None] + rr[None, :, None] * _RING[None, None, :, 1]
    v = _sample(grey, x, y)
    left, right = v[..., 9:].mean(-1), v[..., :9].mean(-1)
    jump = np.minimum(left[:, 1:] - left[:, :-1], right[:, 1:] - right[:, :-1])
    score = jump - 0.10 * tone[:, None]
    i, j = np.unravel_index(int(score.argmax()), score.shape)
    return np.array([cx[i], cy[i]]), float(radii[j]), float(jump[i, j])


def _eye(face: _Face, at: Points, side: str) -> Points:
    seed = _eye_centre(at, side)
    wide = float(np.linalg.norm(np.array(at[f"exocanthion_{side}"]) - np.array(at[f"endocanthion_{side}"])))
    room = np.array([0.36 * wide + max(0.6 * EYES_APART, 0.55 * wide), 0.26 * wide + max(0.45 * EYES_APART, 0.45 * wide)])
    part = face.window(seed - room, seed + room)
    centre, r, jump = _pupil(part.grey, seed - part.corner, 0.35 * wide, np.arange(0.06, 0.52, 0.025) * wide)
    centre = centre + part.corner
    if jump < LEAST_JUMP:
        return {}
    out: dict[str, Array] = {f"pupil_{side}": centre}
    opening = _opening(face, part, centre, r, side)
    if opening is not None:
        inner, outer, top, bottom, there = opening
        out |= {
            f"endocanthion_{side}": inner, f"exocanthion_{side}": outer,
            f"palpebrale_superius_{side}": top, f"palpebrale_inferius_{side}": bottom,
        }  # fmt: skip
        edges = _iris_edges(part, centre, r, there)
        if edges is not None:
            left, right = edges
            medial, lateral = (left, right) if side == "l" else (right, left)
            middle = np.array([(left + right) / 2, centre[1]])
            out |= {
                f"iris_medial_{side}": np.array([medial, centre[1]]), f"iris_lateral_{side}": np.array([lateral, centre[1]]),
                f"pupil_{side}": middle,
            }  # fmt: skip
    return {n: (float(p[0]), float(p[1])) for n, p in out.items()}


KEEPS = 0.72
"""An opening that loses more of its width as the threshold rises has lost its white (own)."""


CROSS = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))


def _blob(mask: Array, at: Array) -> Array:
    """The piece of a mask at a place, crumbs taken off and holes filled; uint8."""
    h, w = mask.shape
    whole = cv2.copyMakeBorder(cv2.morphologyEx(mask, cv2.MORPH_OPEN, CROSS), 1, 1, 1, 1, cv2.BORDER_CONSTANT)
    _, ground = cv2.connectedComponents(1 - whole, connectivity=4)
    full = (ground != ground[0, 0]).astype(np.uint8)
    _, piece = cv2.connectedComponents(full, connectivity=4)
    here = piece[int(np.clip(at[1], 0, h - 1)) + 1, int(np.clip(at[0], 0, w - 1)) + 1]
    return np.ascontiguousarray((piece == here)[1:-1, 1:-1]).view(np.uint8) if here else np.zeros((h, w), np.uint8)


def _opening(
    face: _Face, part: _Window, centre: Array, r: float, side: str
) -> tuple[Array, Array, Array, Array, tuple[float, float]] | None:
    """Inner and outer corner, upper and lower lid of the opening around a pupil and its ends; ``None`` when it runs out of its window."""
    size = face.size
    reach_x, up, down = 0.55 * EYES_APART, 0.42 * EYES_APART, 0.40 * EYES_APART
    x0, x1 = int(max(0, centre[0] - reach_x)), int(min(size - 1, centre[0] + reach_x))
    y0, y1 = int(max(0, centre[1] - up)), int(min(size - 1, centre[1] + down))
    ox, oy = part.corner.astype(int)
    x0, y0, x1, y1 = max(x0, ox), max(y0, oy), min(x1, ox + part.lab.shape[1]), min(y1, oy + part.lab.shape[0])
    lab = cv2.GaussianBlur(part.lab[y0 - oy : y1 - oy, x0 - ox : x1 - ox], (0, 0), 1.0)
    c = centre - [x0, y0]
    skin, loose = _skin_near(lab)
    # shadow is no feature: lightness counts half as much as hue
    d = (lab - skin.astype(np.float32)) * (np.array([0.45, 1, 1]) / np.maximum(loose, [3.0, 1.6, 1.6])).astype(np.float32)
    far = np.sqrt((d * d).sum(-1))
    yy, xx = np.ogrid[0 : lab.shape[0], 0 : lab.shape[1]]
    disc = (xx - c[0]) ** 2 + (yy - c[1]) ** 2 < max(0.8 * r, 3.0) ** 2
    soft = cv2.GaussianBlur(far, (0, 0), 1.0)
    steep = cv2.magnitude(cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1))
    best, here, widest = 0.0, None, 0
    for threshold in (2.6, 3.4, 4.4, 5.7, 7.4):
        blob = _blob(((far > threshold) | disc).astype(np.uint8), c)
        bx, by, bw, bh = cv2.boundingRect(blob)
        if not bw:
            continue
        wide, tall = bw - 1, bh - 1
        runs_out = bx <= 1 or bx + wide >= far.shape[1] - 2 or by <= 1 or by + tall >= far.shape[0] - 2
        if runs_out or not 0.16 * EYES_APART < wide < 0.98 * EYES_APART or tall > 0.8 * wide + 2:
            continue
        widest = max(widest, wide)
        if wide < KEEPS * widest:
            break  # only the iris is left
        rim = blob - cv2.erode(blob, CROSS, borderValue=0)
        sharp = float(np.atleast_1d(cv2.mean(steep, rim))[0])
        if sharp > best:
            best, here = sharp, blob
    if here is None:
        return None
    ys, xs = np.nonzero(here)
    left, right = int(xs.min()), int(xs.max())

    def corner(x: int) -> Array:
        near = ys[np.abs(xs - x) <= 2]
        return np.array([x + x0, float(near.mean()) + y0])

    rows = np.flatnonzero(here[:, round(float(c[0]))])
    high, low = np.array([centre[0], rows.min() + y0]), np.array([centre[0], rows.max() + y0])
    a, b = corner(left), corner(right)
    inner, outer = (a, b) if side == "l" else (b, a)
    return inner, outer, high, low, (float(left + x0), float(right + x0))


def _iris_edges(part: _Window, centre: Array, r: float, ends: tuple[float, float]) -> tuple[float, float] | None:
    """Left and right edge of the iris on the pupil's row: the outermost step from darker to lighter inside the opening."""
    out = []
    for step, end in ((-1.0, ends[0]), (1.0, ends[1])):
        room = abs(end - centre[0])
        x = np.arange(max(0.6 * r, 1.0), 0.93 * room, 0.5)
        if len(x) < 8:
            return None
        rows = centre[1] + np.arange(-2, 5, 1.0)
        gx, gy = np.meshgrid(centre[0] + step * x, rows)
        v = _sample(part.bare, gx - part.corner[0], gy - part.corner[1]).mean(0)
        rise = ndimage.gaussian_filter1d(v, 2.5, order=1)
        strong = rise > 0.45 * rise.max()
        if rise.max() < 0.12:
            return None
        peaks = np.flatnonzero(strong & (rise >= np.roll(rise, 1)) & (rise >= np.roll(rise, -1)))
        if not len(peaks):
            return None
        out.append(centre[0] + step * float(x[peaks[-1]]))
    left, right = out
    return (left, right) if right - left > 4 else None


def _skin_near(lab: Array) -> tuple[Array, Array]:
    """Mean and spread of the skin's colour, from a window's rim: its median, and what lies near that."""
    h, w = lab.shape[:2]
    rim = np.concatenate(
        [
            lab[-max(2, h // 8) :].reshape(-1, 3),
            lab[h // 3 :, : max(2, w // 14)].reshape(-1, 3),
            lab[h // 3 :, -max(2, w // 14) :].reshape(-1, 3),
        ]
    )
    middle = np.median(rim, axis=0)
    off = np.abs(rim - middle)
    return middle, 1.48 * np.median(off, axis=0)


# ---- mouth


def _mouth(face: _Face, at: Points) -> Points:
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
    v = cv2.GaussianBlur(_sample(part.bare, gx - part.corner[0], gy - part.corner[1]), (0, 0), 1.4)
    dark = v - (ndimage.uniform_filter1d(v, 2 * (tall // 2) + 1, axis=0, mode="nearest"))
    cost = dark + 0.01 * np.abs(y)[:, None]
    path = _path(cost, reach)
    depth = -dark[path, np.arange(len(x))]
    smooth = ndimage.gaussian_filter1d(depth, 1.5)
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


def _edge(face: _Face, start: Array, along: Array, reach: float, expected: float, spread: float, wide: int) -> float | None:
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
    jump = np.linalg.norm(ndimage.gaussian_filter1d(seen, 1.6, axis=0, order=1), axis=1)
    prior = np.exp(-(((steps - expected) / spread) ** 2) / 2)
    score = np.where(inside.all(1), jump * prior, 0.0)
    k = int(score.argmax())
    typical = float(np.median(jump)) + 1e-6
    return float(steps[k]) if 0 < k < len(steps) - 1 and jump[k] > 2.0 * typical and jump[k] > 0.5 else None


def _nose(face: _Face, at: Points) -> Points:
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


def _chin(face: _Face, at: Points) -> Points:
    """Where the face ends below the mouth."""
    if "gnathion" not in at or "stomion" not in at:
        return {}
    mouth, chin = np.array(at["stomion"]), np.array(at["gnathion"])
    tall = float(chin[1] - mouth[1])
    if tall < 6:
        return {}
    found = _edge(face, mouth + [0, 0.55 * tall], np.array([0.0, 1.0]), 0.9 * tall, 0.50 * tall, 0.22 * tall, 8)
    return {} if found is None else {"gnathion": (float(chin[0]), float(mouth[1] + 0.55 * tall + found))}


def _cheeks(face: _Face, at: Points) -> Points:
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


def _hair(face: _Face, at: Points) -> Points:
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
