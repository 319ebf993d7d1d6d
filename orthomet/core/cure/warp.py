"""The drawing bent: a moving feature keeps its shape, a ring about it gives way, what stands near keeps its place.

For each moving piece a region (the hull of its landmarks, grown), its map, and a weight that is 1 inside, 0 where other features
stand and beyond the ring: smoothstep(1 − a / min(ring, a + b)) with a the distance to the region and b to what must stay. The
forward field is inverted on a coarse grid by fixed-point steps. Where the ring is too narrow for the step the field outside the
regions is smoothed until its least Jacobian says that nothing folds.
"""

from __future__ import annotations

import cv2
import numpy as np

from ..kinds import Array
from ..live.regions import mask
from .groups import groups, moving, placed, rim_path, step_map

GRID = 8
"""Pixels between the places the field is known at (own)."""
GROWN = {"mouth": 0.030, "nose": 0.020, "eye_l": 0.026, "eye_r": 0.026, "brow_l": 0.018, "brow_r": 0.018}
STAYING, RING, RIM_WIDE = 0.010, 0.14, 0.014
"""Heads: about what stays; how far about a piece things give way; half the outline's band (own)."""
FOLDS = 0.22
"""Least Jacobian below which the field is smoothed (own)."""
INVERSIONS, SMOOTHINGS = 6, 6


class Warp:
    """Prepared once a cure; :meth:`at` renders any share of it. ``box`` is all of the picture that changes, ``None`` for nothing."""

    def __init__(self, picture: Array, points: Array, step: Array, hh: float):
        self.picture, self.hh = picture, hh
        self.points, self.step = points, np.nan_to_num(step)
        self.moving = {g: at for g, at in moving(points, step, hh).items() if at}
        self.box: tuple[int, int, int, int] | None = None
        self.smoothed, self.least = 0, 1.0
        if not self.moving:
            return
        h, w = picture.shape[:2]
        far = (RING + 0.05) * hh + 2.5 * float(np.abs(self.step).max())
        every = np.vstack([points[at] for at in self.moving.values()])
        every = np.vstack([every, every + np.vstack([self.step[at] for at in self.moving.values()])])
        x0, y0 = np.clip(np.floor(every.min(0) - far), 0, [w - 1, h - 1]).astype(int)
        x1, y1 = np.clip(np.ceil(every.max(0) + far), [x0 + 1, y0 + 1], [max(w, x0 + 1), max(h, y0 + 1)]).astype(int)
        self.box = int(x0), int(y0), int(x1), int(y1)
        self._shape = (-(-int(y1 - y0) // GRID) + 2, -(-int(x1 - x0) // GRID) + 2)
        self._origin = np.array([x0, y0]) - 0.5 * GRID + 0.5  # grid place k lies at origin + k·GRID
        rows, cols = np.mgrid[0 : self._shape[0], 0 : self._shape[1]].astype(np.float32)
        self._cols, self._rows = cols, rows
        self._field = self._forward()

    # ---- the field

    def _on_grid(self, p: Array) -> Array:
        return (p - self._origin) / GRID

    def _canvas(self) -> Array:
        return np.zeros(self._shape, np.uint8)

    def _piece(self, g: str, grown: float) -> Array:
        out = self._canvas()
        if g == "outline":
            path = np.round(self._on_grid(rim_path(self.points))).astype(np.int32)
            cv2.polylines(out, [path], False, 255, max(1, int(grown * self.hh / GRID)))
        else:
            out = mask(self._shape, self._on_grid(placed(self.points, g)), grown * self.hh / GRID)
        return out

    def _forward(self) -> Array:
        still = [g for g in groups() if g not in self.moving and g != "hairline"]
        stay = self._canvas()
        for g in still:
            stay = np.maximum(stay, self._piece(g, 0.008 if g == "outline" else STAYING))
        close = self._canvas()
        for g in still:
            if g != "outline":
                close = np.maximum(close, self._piece(g, 0.004))
        pieces = {g: self._region(g, close) for g in self.moving}
        ring = max(RING * self.hh, 2.6 * float(np.abs(self.step).max()))
        total, weights = np.zeros((*self._shape, 2), np.float32), np.zeros(self._shape, np.float32)
        for g in self.moving:
            others = self._others(g, stay, pieces)
            near = cv2.distanceTransform(255 - pieces[g], cv2.DIST_L2, 5) * GRID
            apart = cv2.distanceTransform(255 - others, cv2.DIST_L2, 5) * GRID if others.any() else np.full_like(near, 1e6)
            t = np.clip(1 - near / np.maximum(np.minimum(ring, near + apart), 1), 0, 1)
            weight = cv2.GaussianBlur(t * t * (3 - 2 * t), (0, 0), max(0.8, 0.008 * self.hh / GRID))
            total += weight[..., None] * self._own(g)
            weights += weight
        return self._unfolded(total / np.maximum(weights, 1)[..., None], pieces)

    def _region(self, g: str, close: Array) -> Array:
        """A piece's region; a neighbour that stands close keeps its own half of the gap."""
        out = self._piece(g, RIM_WIDE if g == "outline" else GROWN.get(g, 0.02))
        if g != "outline" and close.any():
            own = self._piece(g, 0.004)
            a, b = (cv2.distanceTransform(255 - m, cv2.DIST_L2, 5) for m in (own, close))
            out[(b < a) & (own == 0)] = 0
        return out

    def _others(self, g: str, stay: Array, pieces: dict[str, Array]) -> Array:
        others = stay.copy()
        if g.startswith("ear"):  # an ear slides along the outline and takes it with it
            others[:] = 0
            for o in ("eye_l", "eye_r", "brow_l", "brow_r"):
                if o not in self.moving:
                    others = np.maximum(others, self._piece(o, STAYING))
        for o in self.moving:
            if o != g and not self._as_one(g, o):
                others = np.maximum(others, pieces[o])
        others[pieces[g] > 0] = 0
        return others

    def _as_one(self, a: str, b: str) -> bool:
        gap = self.step[self.moving[a]].mean(0) - self.step[self.moving[b]].mean(0)
        return bool(np.hypot(*gap) < 0.002 * self.hh) and "outline" not in (a, b)

    def _own(self, g: str) -> Array:
        """The step of a piece at every place of the grid, pixels."""
        at = self.moving[g]
        x, y = self._cols * GRID + self._origin[0], self._rows * GRID + self._origin[1]
        if g == "outline":
            near = np.stack([(x - p[0]) ** 2 + (y - p[1]) ** 2 for p in self.points[at]]) + (0.03 * self.hh) ** 2
            pull = near**-1.5
            u = [(pull * self.step[at][:, c][:, None, None]).sum(0) / pull.sum(0) for c in (0, 1)]
        else:
            m = step_map(self.points[at], self.points[at] + self.step[at])
            u = [m[0, 0] * x + m[0, 1] * y + m[0, 2] - x, m[1, 0] * x + m[1, 1] * y + m[1, 2] - y]
        return np.stack(u, -1).astype(np.float32)

    def _unfolded(self, field: Array, pieces: dict[str, Array]) -> Array:
        hold: Array = np.zeros(self._shape, np.float32)
        for m in pieces.values():
            hold = np.maximum(hold, (cv2.erode(m, np.ones((3, 3), np.uint8)) > 0).astype(np.float32))
        hold = cv2.GaussianBlur(hold, (0, 0), 1.0)[..., None]
        wanted = field
        for k in range(SMOOTHINGS):
            self.least = self._least_jacobian(field)
            if self.least > FOLDS:
                break
            self.smoothed += 1
            soft = cv2.GaussianBlur(field, (0, 0), (0.012 + 0.006 * k) * self.hh / GRID)
            field = hold * wanted + (1 - hold) * soft
        self.least = self._least_jacobian(field)
        return np.asarray(field, np.float32)

    @staticmethod
    def _least_jacobian(field: Array) -> float:
        """Below 0 the forward map folds."""
        dy, dx = np.gradient(field / GRID, axis=(0, 1))
        return float(((1 + dx[..., 0]) * (1 + dy[..., 1]) - dx[..., 1] * dy[..., 0]).min())

    def _backward(self, share: float) -> Array:
        u = (self._field * np.float32(share)).astype(np.float32)
        x, y = self._cols, self._rows
        for _ in range(INVERSIONS):
            v = cv2.remap(u, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE) / GRID
            x, y = self._cols - v[..., 0], self._rows - v[..., 1]
        return np.stack([x - self._cols, y - self._rows], -1).astype(np.float32) * GRID

    # ---- the picture

    def at(self, share: float = 1.0, out: Array | None = None) -> Array:
        """The picture with so much of the cure done; into ``out`` where a copy of the picture is at hand."""
        out = self.picture.copy() if out is None else out
        if self.box is None:
            return out
        x0, y0, x1, y1 = self.box
        fine = cv2.resize(self._backward(share), (self._shape[1] * GRID, self._shape[0] * GRID), interpolation=cv2.INTER_LINEAR)
        fine = np.ascontiguousarray(fine[GRID : GRID + y1 - y0, GRID : GRID + x1 - x0])
        part = self.picture[y0:y1, x0:x1]
        how = cv2.INTER_LINEAR | cv2.WARP_RELATIVE_MAP
        out[y0:y1, x0:x1] = cv2.remap(part, fine, None, how, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
        return out
