"""The drawing bent: a moving feature keeps its shape, a ring about it gives way, what stands near keeps its place.

For each moving piece a region (the hull of its landmarks, grown), its map, and a weight that is 1 inside, 0 where other features
stand and beyond the ring: smoothstep(1 − a / min(ring, a + b)) with a the distance to the region and b to what must stay. The
forward field is inverted on a coarse grid by fixed-point steps. Where the ring is too narrow for the step the field outside the
regions is smoothed until its least Jacobian says that nothing folds.
"""

from __future__ import annotations

import cv2
import numpy as np

from ..kinds import Array, there
from ..live.regions import mask
from .groups import Anatomy, anatomy, moving, placed, rim_path, step_map

GRID, FINEST, SHARE = 8, 2, 0.02
"""Pixels between the places the field is known at: at most, at least, and as a share of a head (own)."""
STAYING, RIM_STAYS, RIM_WIDE = 0.010, 0.008, 0.014
"""Heads: about what stays, a feature and a contour; half the band of a contour that moves (own)."""
FOLDS = 0.22
"""Least Jacobian below which the field is smoothed (own)."""
INVERSIONS, SMOOTHINGS = 6, 6


class Warp:
    """Prepared once a cure; :meth:`at` renders any share of it. ``box`` is all of the picture that changes, ``None`` for nothing."""

    def __init__(self, picture: Array, points: Array, step: Array, hh: float, body: Anatomy | None = None):
        self.picture, self.hh, self.body = picture, hh, body or anatomy()
        self.points, self.step = points, np.nan_to_num(step)
        self.grid = int(np.clip(round(SHARE * hh), FINEST, GRID))
        self.moving = {g: at for g, at in moving(points, step, hh, self.body).items() if at}
        self.box: tuple[int, int, int, int] | None = None
        self.smoothed, self.least = 0, 1.0
        if not self.moving:
            return
        h, w = picture.shape[:2]
        far = (self.body.ring + 0.05) * hh + 2.5 * float(np.abs(self.step).max())
        every = np.vstack([points[at] for at in self.moving.values()])
        every = np.vstack([every, every + np.vstack([self.step[at] for at in self.moving.values()])])
        x0, y0 = np.clip(np.floor(every.min(0) - far), 0, [w - 1, h - 1]).astype(int)
        x1, y1 = np.clip(np.ceil(every.max(0) + far), [x0 + 1, y0 + 1], [max(w, x0 + 1), max(h, y0 + 1)]).astype(int)
        self.box = int(x0), int(y0), int(x1), int(y1)
        self._shape = (-(-int(y1 - y0) // self.grid) + 2, -(-int(x1 - x0) // self.grid) + 2)
        self._origin = np.array([x0, y0]) - 0.5 * self.grid + 0.5  # grid place k lies at origin + k·self.grid
        rows, cols = np.mgrid[0 : self._shape[0], 0 : self._shape[1]].astype(np.float32)
        self._cols, self._rows = cols, rows
        self._field = self._forward()

    # ---- the field

    def _on_grid(self, p: Array) -> Array:
        return (p - self._origin) / self.grid

    def _canvas(self) -> Array:
        return np.zeros(self._shape, np.uint8)

    def _piece(self, g: str, grown: float) -> Array:
        if g in self.body.rims:
            out, path = self._canvas(), np.round(self._on_grid(rim_path(self.points, self.body.rims[g]))).astype(np.int32)
            cv2.polylines(out, [path], False, 255, max(1, int(grown * self.hh / self.grid)))
            return out
        out = mask(
            self._shape, self._on_grid(placed(self.points, self.body.pieces[g])), 0.0 if g in self.body.bones else self._px(grown)
        )
        ends = self.points[list(self.body.bones.get(g, ()))]
        if len(ends) and there(ends).all():
            a, b = (tuple(int(v) for v in p) for p in np.round(self._on_grid(ends)))
            cv2.line(out, a, b, 255, max(1, round(2 * self._px(grown))))
        return out

    def _px(self, heads: float) -> float:
        return heads * self.hh / self.grid

    def _still(self, g: str) -> float:
        """How far about a piece that stays everything stays, heads."""
        return RIM_STAYS if g in self.body.rims else 0.6 * self.body.grown[g] if g in self.body.bones else STAYING

    def _forward(self) -> Array:
        still = [g for g in self.body.pieces if g not in self.moving and g not in self.body.stays]
        stay = self._canvas()
        for g in still:
            stay = np.maximum(stay, self._piece(g, self._still(g)))
        close = self._canvas()
        for g in still:
            if g not in self.body.rims:
                close = np.maximum(close, self._piece(g, 0.004))
        pieces = {g: self._region(g, close) for g in self.moving}
        ring = max(self.body.ring * self.hh, 2.6 * float(np.abs(self.step).max()))
        total, weights = np.zeros((*self._shape, 2), np.float32), np.zeros(self._shape, np.float32)
        for g in self.moving:
            if not pieces[g].any():
                continue  # it lies beside the picture
            others = self._others(g, stay, pieces)
            near = cv2.distanceTransform(255 - pieces[g], cv2.DIST_L2, 5) * self.grid
            apart = cv2.distanceTransform(255 - others, cv2.DIST_L2, 5) * self.grid if others.any() else np.full_like(near, 1e6)
            t = np.clip(1 - near / np.maximum(np.minimum(ring, near + apart), 1), 0, 1)
            weight = cv2.GaussianBlur(t * t * (3 - 2 * t), (0, 0), max(0.8, 0.008 * self.hh / self.grid))
            total += weight[..., None] * self._own(g)
            weights += weight
        return self._unfolded(total / np.maximum(weights, 1)[..., None], pieces)

    def _region(self, g: str, close: Array) -> Array:
        """A piece's region; a neighbour that stands close keeps its own half of the gap."""
        out = self._piece(g, RIM_WIDE if g in self.body.rims else self.body.grown.get(g, 0.02))
        if g not in self.body.rims and close.any():
            own = self._piece(g, 0.004)
            a, b = (cv2.distanceTransform(255 - m, cv2.DIST_L2, 5) for m in (own, close))
            out[(b < a) & (own == 0)] = 0
        return out

    def _others(self, g: str, stay: Array, pieces: dict[str, Array]) -> Array:
        others = stay.copy()
        if g in ("ear_l", "ear_r"):  # an ear slides along the outline and takes it with it
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
        return bool(np.hypot(*gap) < 0.002 * self.hh) and not {a, b} & set(self.body.rims)

    def _own(self, g: str) -> Array:
        """The step of a piece at every place of the grid, pixels."""
        at = self.moving[g]
        x, y = self._cols * self.grid + self._origin[0], self._rows * self.grid + self._origin[1]
        if g in self.body.bones and there(self.points[list(self.body.bones[g])]).all() and g != "head":
            return self._along(g, x, y).astype(np.float32)
        if g in self.body.rims:
            near = np.stack([(x - p[0]) ** 2 + (y - p[1]) ** 2 for p in self.points[at]]) + (0.03 * self.hh) ** 2
            pull = near**-1.5
            u = [(pull * self.step[at][:, c][:, None, None]).sum(0) / pull.sum(0) for c in (0, 1)]
        else:
            m = step_map(self.points[at], self.points[at] + self.step[at])
            u = [m[0, 0] * x + m[0, 1] * y + m[0, 2] - x, m[1, 0] * x + m[1, 1] * y + m[1, 2] - y]
        return np.stack(u, -1).astype(np.float32)

    def _along(self, g: str, x: Array, y: Array) -> Array:
        """A bone's step: what lies along it goes by its share, and away from it as far as its edges do."""
        inner, outer = self.body.bones[g]
        a, b = self.points[[inner, outer]]
        way = (b - a) / max(float(np.hypot(*(b - a))), 1e-9)
        side = np.array([-way[1], way[0]])
        t = np.clip(((x - a[0]) * way[0] + (y - a[1]) * way[1]) / max(float(np.hypot(*(b - a))), 1e-9), 0, 1)[..., None]
        u = (1 - t) * self.step[inner] + t * self.step[outer]
        edges = [i for i in self.moving[g] if i not in (inner, outer)]
        far = (self.points[edges] - a) @ side
        share = np.clip((self.points[edges] - a) @ way / max(float(np.hypot(*(b - a))), 1e-9), 0, 1)[:, None]
        by = (self.step[edges] - (1 - share) * self.step[inner] - share * self.step[outer]) @ side
        grow = float(far @ by / max(float(far @ far), 1e-9)) if len(edges) else 0.0
        return np.asarray(u + grow * ((x - a[0]) * side[0] + (y - a[1]) * side[1])[..., None] * side)

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
            soft = cv2.GaussianBlur(field, (0, 0), (0.012 + 0.006 * k) * self.hh / self.grid)
            field = hold * wanted + (1 - hold) * soft
        self.least = self._least_jacobian(field)
        return np.asarray(field, np.float32)

    def _least_jacobian(self, field: Array) -> float:
        """Below 0 the forward map folds."""
        dy, dx = np.gradient(field / self.grid, axis=(0, 1))
        return float(((1 + dx[..., 0]) * (1 + dy[..., 1]) - dx[..., 1] * dy[..., 0]).min())

    def _backward(self, share: float) -> Array:
        u = (self._field * np.float32(share)).astype(np.float32)
        x, y = self._cols, self._rows
        for _ in range(INVERSIONS):
            v = cv2.remap(u, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE) / self.grid
            x, y = self._cols - v[..., 0], self._rows - v[..., 1]
        return np.stack([x - self._cols, y - self._rows], -1).astype(np.float32) * self.grid

    # ---- the picture

    def at(self, share: float = 1.0, out: Array | None = None) -> Array:
        """The picture with so much of the cure done; into ``out`` where a copy of the picture is at hand."""
        out = self.picture.copy() if out is None else out
        if self.box is None:
            return out
        x0, y0, x1, y1 = self.box
        fine = cv2.resize(
            self._backward(share), (self._shape[1] * self.grid, self._shape[0] * self.grid), interpolation=cv2.INTER_LINEAR
        )
        fine = np.ascontiguousarray(fine[self.grid : self.grid + y1 - y0, self.grid : self.grid + x1 - x0])
        part = self.picture[y0:y1, x0:x1]
        how = cv2.INTER_LINEAR | cv2.WARP_RELATIVE_MAP
        out[y0:y1, x0:x1] = cv2.remap(part, fine, None, how, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
        return out
