"""A float RGB canvas in head units: soft fills, soft lines, brushwork."""

from __future__ import annotations

import cv2
import numpy as np

from orthomet.core.kinds import Array


class Canvas:
    """``px`` pixels per head; the crown at row ``crown``, the midline at column ``mid``."""

    def __init__(self, width: int, height: int, px: float, mid: float, crown: float):
        self.w, self.h, self.px, self.mid, self.crown = width, height, px, mid, crown
        self.image = np.ones((height, width, 3))
        self.effort = 1.0
        """Share of the strands of hair that are painted."""

    def to_px(self, points: object) -> Array:
        p = np.asarray(points, float)
        return np.column_stack([p[:, 0] * self.px + self.mid, p[:, 1] * self.px + self.crown])

    def grid(self) -> tuple[Array, Array]:
        """Head coordinates of every pixel's centre."""
        x = (np.arange(self.w) + 0.5 - self.mid) / self.px
        t = (np.arange(self.h) + 0.5 - self.crown) / self.px
        gx, gt = np.meshgrid(x, t)
        return gx, gt

    def mask(self, points: object, width: float | None = None, blur: float = 0.0, closed: bool = False) -> Array:
        m = np.zeros((self.h, self.w), np.uint8)
        q = np.round(self.to_px(points) * 16).astype(np.int32)
        if width is None:
            cv2.fillPoly(m, [q], 255, cv2.LINE_AA, 4)
        else:
            cv2.polylines(m, [q], closed, 255, max(1, round(width)), cv2.LINE_AA, 4)
        out: Array = m / 255.0
        return cv2.GaussianBlur(out, (0, 0), blur) if blur else out

    def lay(self, mask: Array, colour: object, alpha: float = 1.0) -> None:
        a = (mask * alpha)[..., None]
        self.image = self.image * (1 - a) + a * np.asarray(colour, float)

    def fill(self, points: object, colour: object, blur: float = 0.0, alpha: float = 1.0) -> None:
        self.lay(self.mask(points, None, blur), colour, alpha)

    def line(self, points: object, colour: object, width: float, blur: float = 0.0, alpha: float = 1.0) -> None:
        self.lay(self.mask(points, width, blur), colour, alpha)

    def multiply(self, mask: Array, colour: object, alpha: float = 1.0) -> None:
        a = (mask * alpha)[..., None]
        self.image = self.image * (1 - a + a * np.asarray(colour, float))


def smooth(points: object, n: int = 80, closed: bool = False) -> Array:
    """A spline through the points."""
    from scipy.interpolate import splev, splprep

    p = np.asarray(points, float)
    if closed:
        p = np.vstack([p, p[:1]])
    tck, _ = splprep(p.T, s=0, per=closed, k=min(3, len(p) - 1))
    return np.array(splev(np.linspace(0, 1, n), tck)).T


def brushwork(source: Array, rng: np.random.Generator) -> Array:
    """Repaint a picture in strokes that follow its forms, coarse to fine; measured edges stay crisp."""
    h, w = source.shape[:2]
    canvas = cv2.GaussianBlur(source, (0, 0), 12)
    for radius, threshold, steps in ((10, 0.030, 9), (5, 0.020, 8), (3, 0.013, 7)):
        blurred = cv2.GaussianBlur(source, (0, 0), max(0.7, radius * 0.36))
        grey = cv2.cvtColor(blurred.astype(np.float32), cv2.COLOR_RGB2GRAY)
        grey = cv2.GaussianBlur(grey, (0, 0), radius * 1.2)
        gx, gy = cv2.Sobel(grey, cv2.CV_32F, 1, 0), cv2.Sobel(grey, cv2.CV_32F, 0, 1)
        error = cv2.GaussianBlur(np.abs(canvas - blurred).sum(2), (0, 0), radius * 0.6)
        gap = radius * 1.15
        ys, xs = np.meshgrid(np.arange(0, h, gap), np.arange(0, w, gap), indexing="ij")
        starts = np.column_stack([xs.ravel(), ys.ravel()]) + rng.uniform(-0.6, 0.6, (xs.size, 2)) * gap
        starts = np.clip(starts, 0, [w - 1, h - 1])
        starts = starts[error[starts[:, 1].astype(int), starts[:, 0].astype(int)] > threshold]
        rng.shuffle(starts)
        for x, y in starts:
            _stroke(canvas, blurred, gx, gy, float(x), float(y), radius, steps, rng)
    fine = cv2.GaussianBlur(source, (0, 0), 0.7)
    edges = np.abs(cv2.Laplacian(cv2.cvtColor(fine.astype(np.float32), cv2.COLOR_RGB2GRAY), cv2.CV_32F))
    keep = np.clip(cv2.GaussianBlur(edges, (0, 0), 2.2) * 50, 0, 0.8)[..., None]
    out = canvas * (1 - keep) + fine * keep
    grain = cv2.GaussianBlur(rng.standard_normal((h, w)), (0, 0), 1.1)[..., None]
    result: Array = np.clip(out * (1 + 0.018 * grain), 0, 1)
    return result


def _stroke(
    canvas: Array, aim: Array, gx: Array, gy: Array, x: float, y: float, radius: float, steps: int, rng: np.random.Generator
) -> None:
    h, w = aim.shape[:2]
    colour = aim[int(y), int(x)].copy()
    points, dx, dy = [(x, y)], 1.0, 0.35
    for k in range(steps):
        i, j = int(y), int(x)
        a, b = -float(gy[i, j]), float(gx[i, j])
        m = (a * a + b * b) ** 0.5
        if m > 4e-3:
            a, b = a / m, b / m
            if a * dx + b * dy < 0:
                a, b = -a, -b
            dx, dy = 0.4 * dx + 0.6 * a, 0.4 * dy + 0.6 * b
        x, y = x + dx * radius * 0.9, y + dy * radius * 0.9
        if not (0 <= x < w and 0 <= y < h):
            break
        here = aim[int(y), int(x)]
        if k > 1 and np.abs(here - colour).sum() > np.abs(canvas[int(y), int(x)] - here).sum() + 0.05:
            break
        points.append((x, y))
    if len(points) < 2:
        return
    colour = np.clip(colour * (1 + rng.normal(0, 0.018)) + rng.normal(0, 0.005, 3), 0, 1)
    q = np.round(np.array(points) * 16).astype(np.int32)
    cv2.polylines(canvas, [q], False, colour.tolist(), max(1, int(radius * 1.5)), cv2.LINE_AA, 4)
