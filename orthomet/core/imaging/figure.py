"""Edges of a figure on its picture: a mask of what is not the ground, and the sides of trunk and limbs laid on it.

The ground is told by its colour where it is plain, else by GrabCut begun from a box around the figure and from strokes along its bones, both
laid through the points that are there already. What is laid is an estimate until a person confirms it: an arm that lies against the trunk has
no edge of its own, and then its points stay where they were.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from itertools import pairwise

import cv2
import numpy as np

from ..kinds import Array

XY = tuple[float, float]
WORKED_AT = 520
"""Pixels the figure is tall while it is looked at."""
ROUNDS = 5
PLAIN = 14.0
"""Spread of the border's colour, ΔE, up to which a ground is plain (own)."""
APART = 16.0
"""ΔE from a plain ground that is the figure (own)."""
BOX = 0.55
"""Heads around the points that still belong to the box."""
BONES = (
    ("vertex", "gnathion", "suprasternale", "perineum"),
    *((f"acromion_{s}", f"radiale_{s}", f"stylion_{s}") for s in "lr"), *((f"trochanterion_{s}", f"patella_{s}", f"malleolus_{s}") for s in "lr"),
    ("acromion_l", "acromion_r"), ("trochanterion_l", "trochanterion_r"),
)  # fmt: skip
STROKE = 0.12
"""Width of the strokes along the bones, heads."""
SIDES = {
    "shoulder_side": 0.55, "ribcage_side": 0.6, "waist_side": 0.6, "hip_side": 0.5, "neck_side": 0.5, "iliocristale": 0.6,
}  # fmt: skip
"""Points on the trunk's outline, and by what share of their distance from the midline they may move."""
ACROSS = ("upper_arm", "forearm", "wrist", "thigh", "knee", "calf", "ankle", "hand", "foot")
"""Limbs measured across: their outer and inner points are laid on the mask's edges."""
FARTHEST = 0.5
"""Share of a girth by which its ends may move."""
LEAST = 4
"""Points of a figure, with crown and chin, that make a start."""


@dataclass(frozen=True)
class Edges:
    """Points laid on the outline, and how many were looked for."""

    points: dict[str, XY]
    asked: int


def figure_edges(rgb: Array, points: Mapping[str, XY], say: Callable[[str], bool] = lambda _: True) -> Edges:
    """Floor and sides of a marked figure laid on its outline, picture coordinates; only what was found.

    ``rgb`` is the picture, uint8; ``points`` the landmarks it has, crown and chin among them.
    """
    if not {"vertex", "gnathion"} <= set(points) or len(points) < LEAST:
        return Edges({}, 0)
    head = float(np.hypot(*(np.array(points["gnathion"]) - points["vertex"])))
    all_ = np.array([p for p in points.values()])
    low, high = all_.min(0) - BOX * head, all_.max(0) + BOX * head
    scale = min(1.0, WORKED_AT / max(float(high[1] - low[1]), 1.0))
    h, w = rgb.shape[:2]
    x0, y0 = (int(np.clip(v, 0, n - 2)) for v, n in zip(low, (w, h), strict=True))
    x1, y1 = (int(np.clip(v, a + 2, n)) for v, a, n in zip(high, (x0, y0), (w, h), strict=True))
    part = np.ascontiguousarray(rgb[y0:y1, x0:x1])
    small = cv2.resize(part, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else part
    if min(small.shape[:2]) < 16 or not say("Telling the figure from its ground…"):
        return Edges({}, 0)
    here = {n: ((p[0] - x0) * scale, (p[1] - y0) * scale) for n, p in points.items()}
    mask = _mask(small, here, head * scale)
    if mask is None or not say("Laying the sides on its outline…"):
        return Edges({}, 0)
    found, asked = _laid(mask, here, head * scale)
    return Edges({n: (float(x / scale + x0), float(y / scale + y0)) for n, (x, y) in found.items()}, asked)


def _mask(rgb: Array, points: Mapping[str, XY], head: float) -> Array | None:
    """Where the figure is, ``(h, w)`` of bool."""
    lab = cv2.cvtColor(rgb.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    rim = np.concatenate([lab[:3].reshape(-1, 3), lab[:, :3].reshape(-1, 3), lab[:, -3:].reshape(-1, 3)])
    ground = np.median(rim, axis=0)
    sure = _strokes((rgb.shape[0], rgb.shape[1]), points, head)
    if (
        float(np.median(np.linalg.norm(rim - ground, axis=1))) < PLAIN / 2
        and float(np.quantile(np.linalg.norm(rim - ground, axis=1), 0.9)) < PLAIN
    ):
        mask = (np.linalg.norm(lab - ground, axis=2) > APART) | sure
    else:
        seeds = np.full(rgb.shape[:2], cv2.GC_PR_BGD, np.uint8)
        seeds[cv2.dilate(sure.astype(np.uint8), np.ones((3, 3), np.uint8), iterations=max(1, round(0.10 * head))) > 0] = (
            cv2.GC_PR_FGD
        )
        seeds[sure] = cv2.GC_FGD
        rim_ = max(2, round(0.12 * head))
        seeds[:rim_], seeds[:, :rim_], seeds[:, -rim_:] = cv2.GC_BGD, cv2.GC_BGD, cv2.GC_BGD
        models = np.zeros((1, 65)), np.zeros((1, 65))
        try:
            cv2.grabCut(np.ascontiguousarray(rgb[..., ::-1]), seeds, None, *models, ROUNDS, cv2.GC_INIT_WITH_MASK)  # type: ignore[call-overload]
        except cv2.error:
            return None
        mask = (seeds == cv2.GC_FGD) | (seeds == cv2.GC_PR_FGD)
    clean = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    _, label = cv2.connectedComponents(clean)
    kept = np.unique(label[sure & (clean > 0)])
    return np.asarray(np.isin(label, kept[kept > 0])) if len(kept) else None


def _strokes(size: tuple[int, int], points: Mapping[str, XY], head: float) -> Array:
    """Strokes along the bones that are marked."""
    sure = np.zeros(size, np.uint8)
    for chain in BONES:
        there = [points[n] for n in chain if n in points]
        for a, b in pairwise(there):
            cv2.line(sure, (round(a[0]), round(a[1])), (round(b[0]), round(b[1])), 1, max(1, round(STROKE * head)))
    return sure > 0


def _laid(mask: Array, points: Mapping[str, XY], head: float) -> tuple[dict[str, XY], int]:
    out: dict[str, XY] = {}
    asked = 0
    rows = np.flatnonzero(mask.any(1))
    if "floor" in points and len(rows):
        asked += 1
        low = float(rows[-1] + 1)
        if abs(low - points["floor"][1]) < 0.4 * head and low < mask.shape[0] - 1:
            out["floor"] = (points["floor"][0], low)
    middle = points.get("suprasternale", points["gnathion"])[0]
    for base, share in SIDES.items():
        for s in "lr":
            name = f"{base}_{s}"
            if name in points:
                asked += 1
                x, y = points[name]
                edge = _edge(mask, (middle, y), (x, y), share)
                if edge is not None:
                    out[name] = edge
    for base in ACROSS:
        for s in "lr":
            ends = (f"{base}_outer_{s}", f"{base}_inner_{s}")
            if not all(e in points for e in ends):
                continue
            asked += 2
            a, b = (np.array(points[e]) for e in ends)
            core = (a + b) / 2
            for name, p in zip(ends, (a, b), strict=True):
                edge = _edge(mask, (float(core[0]), float(core[1])), (float(p[0]), float(p[1])), FARTHEST)
                if edge is not None:
                    out[name] = edge
    return out, asked


def _edge(mask: Array, inside: XY, at: XY, share: float) -> XY | None:
    """Where the mask ends along the way from a place inside through a point, no farther from the point than a share of that way."""
    a, b = np.array(inside), np.array(at)
    far = float(np.hypot(*(b - a)))
    if far < 2:
        return None
    way = (b - a) / far
    t: Array = np.arange(0.0, far * (1 + share) + 1.0, 0.5)
    p = np.rint(a + t[:, None] * way).astype(int)
    ok = (p[:, 0] >= 0) & (p[:, 1] >= 0) & (p[:, 0] < mask.shape[1]) & (p[:, 1] < mask.shape[0])
    if not ok.all():
        t, p = t[: int(np.argmin(ok))], p[: int(np.argmin(ok))]
    if not len(t):
        return None
    on = mask[p[:, 1], p[:, 0]]
    if not on[0]:
        return None
    gaps = np.flatnonzero(~on & (t >= far * (1 - share)))
    early = np.flatnonzero(~on & (t < far * (1 - share)))
    if not len(gaps) or len(early):  # it ends too soon, or runs on into an arm
        return None
    x, y = a + float(t[gaps[0]]) * way
    return float(x), float(y)
