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


_ARCS = np.radians(np.concatenate([np.arange(-40, 41, 16), np.arange(140, 221, 16)]))
_RING = np.stack([np.cos(_ARCS), np.sin(_ARCS)], -1)
"""Directions in which the lids leave an iris free: six to the right, six to the left."""


_SIXTHS = np.full(6, 1 / 6, np.float32)
"""Means over the six directions of each side."""
DARK_MIDDLE, DARK_RIM = 0.10, 0.25
"""What lightness at a disc's centre and just inside its rim costs, in steps at the rim: a step alone also fits a disc laid from
an iris' edge to the corner of the eye (own, tried on 90 painted portraits)."""


def _pupil(grey: Array, centre: Array, reach: float, radii: Array) -> tuple[Array, float, float]:
    """Centre, radius and contrast of the dark disc near a point; lids may cover its top and bottom.

    Its centre is looked for among the darker third of all places: it is never the lightest of its eye.
    """
    steps = np.arange(-reach, reach + 1e-6, 2.0, dtype=np.float32)
    cx: Array
    cy: Array
    cx, cy = (a.ravel() for a in np.meshgrid(steps + np.float32(centre[0]), steps * np.float32(0.7) + np.float32(centre[1])))
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


def _eye(face: Face, at: Points, side: str) -> Points:
    seed = eye_centre(at, side)
    wide = float(np.linalg.norm(np.array(at[f"exocanthion_{side}"]) - np.array(at[f"endocanthion_{side}"])))
    room = np.array([0.36 * wide + max(0.6 * EYES_APART, 0.55 * wide), 0.26 * wide + max(0.45 * EYES_APART, 0.45 * wide)])
    part = face.window(seed - room, seed + room)
    centre, r, jump = _pupil(part.grey, seed - part.corner, 0.35 * wide, np.arange(0.06, 0.52, 0.025) * wide)
    centre = centre + part.corner
    if jump < LEAST_JUMP:
        return {}
    out: dict[str, Array] = {f"pupil_{side}": centre}
    opening = _opening(face, part, centre, r, side, LEAST * wide)
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


LEAST = 0.55
"""An opening narrower than this share of its seed is an iris alone: the network draws toward an average, but not so far (own)."""
TILTED, OFF = 0.34, 0.20
"""Eye widths one corner, or the middle of both, may lie above or below the pupil (own: lids tilted by 25° and a raised gaze pass)."""
LASH = 0.14
"""The thickest line along a lid, in eye widths (own)."""
TAPER = 0.3
"""How far a drawn lid line runs beyond the corner it is centred on, in its own thickness: it tapers (own, 90 painted portraits)."""
CROSS = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))


def _blob(mask: Array, at: Array) -> Array:
    """The piece of a mask at a place, crumbs taken off and holes filled; uint8."""
    out = np.zeros_like(mask)
    outer, _ = cv2.findContours(cv2.morphologyEx(mask, cv2.MORPH_OPEN, CROSS), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    here = (float(np.clip(round(at[0]), 0, mask.shape[1] - 1)), float(np.clip(round(at[1]), 0, mask.shape[0] - 1)))
    for piece in outer:
        if len(piece) > 8 and cv2.pointPolygonTest(piece, here, False) >= 0:
            return np.asarray(cv2.drawContours(out, [piece], -1, 1, cv2.FILLED))
    return out


def _opening(
    face: Face, part: Window, centre: Array, r: float, side: str, least: float
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
    weight = np.array([0.45, 1, 1]) / np.maximum(loose, [3.0, 1.6, 1.6])
    d = cv2.transform(lab, np.column_stack([np.diag(weight), -weight * skin]))
    far = np.sqrt(np.einsum("ijk,ijk->ij", d, d))
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
        if runs_out or not max(least, 0.16 * EYES_APART) < wide < 0.98 * EYES_APART or tall > 0.8 * wide + 2:
            continue
        rows = np.array([_row_of(blob, bx), _row_of(blob, bx + wide)]) - c[1]
        if np.abs(rows).max() > TILTED * wide or abs(rows.mean()) > OFF * wide:
            continue  # it has run into the brow
        widest = max(widest, wide)
        if wide < KEEPS * widest:
            break  # only the iris is left
        rim = blob - cv2.erode(blob, CROSS, borderValue=0)
        sharp = float(np.atleast_1d(cv2.mean(steep, rim))[0])
        if sharp > best:
            best, here = sharp, blob
    if here is None:
        return None
    left, _, across, _ = cv2.boundingRect(here)
    right = left + across - 1

    rows = np.flatnonzero(here[:, round(float(c[0]))])
    line = _lash(lab[..., 0], here, right - left)
    top = rows.min() + line / 2
    high, low = np.array([centre[0], top + y0]), np.array([centre[0], rows.max() + y0])
    inset = TAPER * line
    a, b = (np.array([x + i + x0, _row_of(here, x) + y0]) for x, i in ((left, inset), (right, -inset)))
    inner, outer = (a, b) if side == "l" else (b, a)
    return inner, outer, high, low, (float(left + x0), float(right + x0))


def _lash(light: Array, blob: Array, wide: int) -> float:
    """How thick the dark line along the upper lid is: from a piece's upper edge down to where its white begins.

    The median over the columns in which one steps clearly from dark to light; 0 where no such line is drawn.
    """
    x, y, w, h = cv2.boundingRect(blob)
    part, inside = light[y : y + h, x : x + w], blob[y : y + h, x : x + w].astype(bool)
    rise = np.where(inside[1:] & inside[:-1], np.diff(part, axis=0), 0.0)
    first = inside.argmax(0)
    below = np.arange(h - 1)[:, None] - first
    rise[(below < 0) | (below > LASH * wide)] = 0.0
    at, strong = rise.argmax(0) + 0.5 - first, rise.max(0)
    ok = strong > LEAST_JUMP
    return float(np.median(at[ok])) if ok.sum() > w // 5 else 0.0


def _row_of(blob: Array, x: int) -> float:
    """Mean row of a piece within two columns of ``x``."""
    near = blob[:, max(0, x - 2) : x + 3]
    return float(np.nonzero(near)[0].mean())


def _iris_edges(part: Window, centre: Array, r: float, ends: tuple[float, float]) -> tuple[float, float] | None:
    """Left and right edge of the iris on the pupil's row: the outermost step from darker to lighter inside the opening."""
    out = []
    for step, end in ((-1.0, ends[0]), (1.0, ends[1])):
        room = abs(end - centre[0])
        x = np.arange(max(0.6 * r, 1.0), 0.93 * room, 0.5)
        if len(x) < 8:
            return None
        rows = centre[1] + np.arange(-2, 5, 1.0)
        gx, gy = np.meshgrid(centre[0] + step * x, rows)
        v = sample(part.bare, gx - part.corner[0], gy - part.corner[1]).mean(0)
        rise = softened(v, 2.5, steep=True)
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
    middle = _middle(rim)
    return middle, 1.48 * _middle(np.abs(rim - middle))


def _middle(values: Array) -> Array:
    """The upper median of each column; NumPy's own takes twice as long over the mean of two."""
    k = len(values) // 2
    return np.asarray(np.partition(np.ascontiguousarray(values.T), k, axis=1)[:, k])
