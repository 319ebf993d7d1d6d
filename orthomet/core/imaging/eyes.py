"""Eyes moved onto the picture: the dark disc of pupil and iris, then the opening about it by its colour, then the iris' edges."""

from __future__ import annotations

import cv2
import numpy as np

from ..kinds import Array
from .working import EYES_APART, Face, Points, Window, eye_centre, sample, softened

LIKE = 0.68
"""Openings less alike in width than this are not both right, a turned head's included (own)."""


def eyes(face: Face, at: Points) -> Points:
    """Both eyes; where their openings are too unlike, the one that left its seed farther is not believed."""
    seeds = {s: eye_centre(at, s) for s in "rl"}
    wide = {s: _opening_width(at, s) for s in "rl"}
    room = 0.12 * min(max(wide.values()), EYES_APART) + np.array([0.56, 0.43]) * EYES_APART
    part = face.window(np.minimum(*seeds.values()) - room, np.maximum(*seeds.values()) + room)
    soft = cv2.GaussianBlur(part.lab, (0, 0), 1.0)
    found = {s: _eye(part, soft, seeds[s], wide[s], s) if 4 < wide[s] < EYES_APART else {} for s in "rl"}
    read = {s: _opening_width(p) for s, p in found.items()}
    if all(read.values()) and min(read.values()) < LIKE * max(read.values()):
        left = {s: abs(np.log(read[s] / wide[s])) for s in "rl"}
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


_ARCS = np.radians(np.concatenate([np.arange(-40, 41, 16), np.arange(140, 221, 16)]))
_RING = np.stack([np.cos(_ARCS), np.sin(_ARCS)], -1)
"""Directions in which the lids leave an iris free: six to the right, six to the left."""


_SIXTHS = np.full(6, 1 / 6, np.float32)
"""Means over the six directions of each side."""
DARK_MIDDLE, DARK_RIM = 0.16, 0.40
"""What lightness at a disc's centre and just inside its rim costs, in steps at the rim: a step alone also fits a disc laid from
an iris' edge to the corner of the eye (own, tried on 90 painted portraits)."""


def _pupil(grey: Array, centre: Array, reach: float, radii: Array) -> tuple[Array, float, float]:
    """Centre, radius and contrast of the dark disc near a point; lids may cover its top and bottom.

    Its centre is looked for among the darker third of all places: it is never the lightest of its eye.
    """
    steps = np.arange(-reach, reach + 1e-6, 2.0, dtype=np.float32)
    cx: Array
    cy: Array
    cx, cy = (a.ravel() for a in np.meshgrid(steps + np.float32(centre[0]), steps * np.float32(0.45) + np.float32(centre[1])))
    tone = sample(grey, cx, cy)
    dark = tone <= np.partition(tone, len(tone) // 3)[len(tone) // 3]
    cx, cy, tone = cx[dark], cy[dark], tone[dark]
    rr = np.append(radii - 2.5, radii[-1] + 2.5).astype(np.float32)
    ring = (rr[:, None, None] * _RING).astype(np.float32)  # radii, directions, x and y
    v = sample(grey, cx[:, None, None] + ring[..., 0], cy[:, None, None] + ring[..., 1])
    sides = v.reshape(len(cx), len(rr), 2, -1) @ _SIXTHS  # right and left
    jump = np.diff(sides, axis=1).min(-1)
    score = jump - DARK_MIDDLE * tone[:, None] - DARK_RIM * sides[:, :-1].max(-1)
    i, j = np.unravel_index(int(score.argmax()), score.shape)
    return np.array([cx[i], cy[i]], float), float(radii[j]), float(jump[i, j])


def _eye(part: Window, soft: Array, seed: Array, wide: float, side: str) -> Points:
    """Points of one eye; ``soft`` is the window's CIELAB, softened."""
    centre, r, jump = _pupil(part.grey, seed - part.corner, 0.35 * wide, np.arange(0.10, 0.52, 0.04) * wide)
    centre = centre + part.corner
    if jump < LEAST_JUMP:
        return {}
    opening = _opening(part, soft, centre, r, side, LEAST * wide)
    if opening is None:
        return {}  # a dark disc alone may be a lash or a brow
    inner, outer, top, bottom, there = opening
    out: dict[str, Array] = {
        f"pupil_{side}": centre, f"endocanthion_{side}": inner, f"exocanthion_{side}": outer,
        f"palpebrale_superius_{side}": top, f"palpebrale_inferius_{side}": bottom,
    }  # fmt: skip
    edges = _iris_edges(part, centre, r, there)
    if edges is not None:
        left, right = edges
        medial, lateral = (left, right) if side == "l" else (right, left)
        out |= {
            f"iris_medial_{side}": np.array([medial, centre[1]]), f"iris_lateral_{side}": np.array([lateral, centre[1]]),
            f"pupil_{side}": np.array([(left + right) / 2, centre[1]]),
        }  # fmt: skip
    return {n: (float(p[0]), float(p[1])) for n, p in out.items()}


KEEPS = 0.72
"""An opening that loses more of its width as the threshold rises has lost its white (own)."""


LEAST = 0.55
"""An opening narrower than this share of its seed is an iris alone: the network draws toward an average, but not so far (own)."""
TILTED, OFF = 0.27, 0.18
"""Eye widths one corner, or the middle of both, may lie above or below the pupil (own: lids tilted by 25° and a raised gaze pass)."""
LASH = 0.14
"""The thickest line along a lid, in eye widths (own)."""
TAPER = 0.3
"""How far a drawn lid line runs beyond the corner it is centred on, in its own thickness: it tapers (own, 90 painted portraits)."""
CROSS = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))


Corners = tuple[Array, Array, Array, Array, tuple[float, float]]
"""Inner and outer corner, upper and lower lid of an opening, and its left and right end."""


def _opening(part: Window, soft: Array, centre: Array, r: float, side: str, least: float) -> Corners | None:
    """The opening around a pupil, wider than ``least``; ``None`` where none stands out from the skin."""
    reach_x, up, down = 0.55 * EYES_APART, 0.42 * EYES_APART, 0.40 * EYES_APART
    ox, oy = part.corner.astype(int)
    x0, x1 = max(ox, int(centre[0] - reach_x)), min(ox + soft.shape[1], int(centre[0] + reach_x))
    y0, y1 = max(oy, int(centre[1] - up)), min(oy + soft.shape[0], int(centre[1] + down))
    lab = soft[y0 - oy : y1 - oy, x0 - ox : x1 - ox]
    c = centre - [x0, y0]
    here = _sharpest(_unlike_skin(lab), c, max(0.8 * r, 3.0), least)
    if here is None:
        return None
    left, _, across, _ = cv2.boundingRect(here)
    right = left + across - 1
    rows = np.flatnonzero(here[:, round(float(c[0]))])
    line = _lash(lab[..., 0], here)
    high, low = np.array([centre[0], rows.min() + line / 2 + y0]), np.array([centre[0], rows.max() + y0])
    inset = TAPER * line
    a, b = (np.array([x + i + x0, _row_of(here, x) + y0]) for x, i in ((left, inset), (right, -inset)))
    inner, outer = (a, b) if side == "l" else (b, a)
    return inner, outer, high, low, (float(left + x0), float(right + x0))


def _unlike_skin(lab: Array) -> Array:
    """How far every colour lies from the skin about an eye, in the skin's own spread; shadow is no feature."""
    skin, loose = _skin_near(lab)
    weight = np.array([0.45, 1, 1]) / np.maximum(loose, [3.0, 1.6, 1.6])  # lightness counts half as much as hue
    d: Array = cv2.transform(lab, np.column_stack([np.diag(weight), -weight * skin]))
    return np.asarray(np.sqrt(np.einsum("ijk,ijk->ij", d, d)))


def _sharpest(far: Array, c: Array, r: float, least: float) -> Array | None:
    """Of the pieces that stand out from the skin about a pupil at several thresholds, the one with the sharpest rim; uint8 mask."""
    soft = cv2.GaussianBlur(far, (0, 0), 1.0)
    steep = cv2.magnitude(cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1))
    h, w = far.shape
    cv2.circle(far, (round(float(c[0])), round(float(c[1]))), round(r), 1e3, cv2.FILLED)
    best, here, widest = 0.0, None, 0
    for threshold in (2.8, 3.9, 5.4, 7.4):
        rim = _rim((far > threshold).view(np.uint8), c)
        if rim is None:
            continue
        x, y, wide, tall = cv2.boundingRect(rim)
        wide, tall = wide - 1, tall - 1
        runs_out = x <= 1 or x + wide >= w - 2 or y <= 1 or y + tall >= h - 2
        if runs_out or not max(least, 0.16 * EYES_APART) < wide < 0.98 * EYES_APART or tall > 0.8 * wide + 2:
            continue
        blob = np.asarray(cv2.drawContours(np.zeros((h, w), np.uint8), [rim], -1, 1, cv2.FILLED))
        rows = _row_of(blob, x) - c[1], _row_of(blob, x + wide) - c[1]
        if max(abs(rows[0]), abs(rows[1])) > TILTED * wide or abs(rows[0] + rows[1]) / 2 > OFF * wide:
            continue  # it has run into the brow
        widest = max(widest, wide)
        if wide < KEEPS * widest:
            break  # only the iris is left
        sharp = float(steep[rim[:, 0, 1], rim[:, 0, 0]].mean())
        if sharp > best:
            best, here = sharp, blob
    return here


def _rim(mask: Array, at: Array) -> Array | None:
    """Outline ``(n, 1, 2)`` of the piece of a mask at a place, crumbs taken off."""
    outer, _ = cv2.findContours(cv2.morphologyEx(mask, cv2.MORPH_OPEN, CROSS), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    here = (float(np.clip(round(at[0]), 0, mask.shape[1] - 1)), float(np.clip(round(at[1]), 0, mask.shape[0] - 1)))
    return next((np.asarray(p) for p in outer if len(p) > 8 and cv2.pointPolygonTest(p, here, False) >= 0), None)


def _lash(light: Array, blob: Array) -> float:
    """How thick the dark line along the upper lid is: from a piece's upper edge down to where its white begins.

    The median over the columns in which one steps clearly from dark to light; 0 where no such line is drawn.
    """
    x, y, w, h = cv2.boundingRect(blob)
    part, inside = light[y : y + h, x : x + w], blob[y : y + h, x : x + w].astype(bool)
    rise = np.where(inside[1:] & inside[:-1], np.diff(part, axis=0), 0.0)
    first = inside.argmax(0)
    below = np.arange(h - 1)[:, None] - first
    rise[(below < 0) | (below > LASH * w)] = 0.0
    at, strong = rise.argmax(0) + 0.5 - first, rise.max(0)
    ok = strong > LEAST_JUMP
    return float(np.median(at[ok])) if ok.sum() > w // 5 else 0.0


def _row_of(blob: Array, x: int) -> float:
    """Mean row of a piece within two columns of ``x``."""
    each = blob[:, max(0, x - 2) : x + 3].sum(1, dtype=np.float32)
    return float(each @ np.arange(len(each), dtype=np.float32) / each.sum())


def _iris_edges(part: Window, centre: Array, r: float, ends: tuple[float, float]) -> tuple[float, float] | None:
    """Left and right edge of the iris on the pupil's row: the outermost step from darker to lighter inside the opening."""
    x = np.arange(ends[0], ends[1], 0.5)
    gx, gy = np.meshgrid(x, centre[1] + np.arange(-2, 5, 1.0))
    slope = softened(sample(part.bare, gx - part.corner[0], gy - part.corner[1]).mean(0), 2.5, steep=True)
    out = []
    for way, end in ((-1.0, ends[0]), (1.0, ends[1])):
        off, rise = way * (x - centre[0]), way * slope
        looked = (off > max(0.6 * r, 1.0)) & (off < 0.87 * abs(end - centre[0]))
        most = float(rise.max(where=looked, initial=0.0))
        looked[1:-1] &= (rise[1:-1] >= rise[:-2]) & (rise[1:-1] >= rise[2:])
        at = np.flatnonzero(looked & (rise > 0.45 * most))
        if most < FAINT_RIM or not len(at):
            return None
        out.append(float(x[at[0 if way < 0 else -1]]))
    left, right = out
    return (left, right) if right - left > 4 else None


FAINT_RIM = 0.12
"""Weakest step from iris to white, lightness a half pixel (own)."""


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
    middle = _middle(rim)
    return middle, 1.48 * _middle(np.abs(rim - middle))


def _middle(values: Array) -> Array:
    """The upper median of each column; NumPy's own takes twice as long over the mean of two."""
    k = len(values) // 2
    return np.asarray(np.partition(np.ascontiguousarray(values.T), k, axis=1)[:, k])
