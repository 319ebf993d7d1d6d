"""The outline from one state to the next: one similarity of what stayed, then every point across its own line."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .affine import after, agreed, put, undone
from .keepsake import Keepsake
from .linemap import HALF, LineMap
from .patches import Patches, across_line, find_patches

REDRAWN = 0.0035
"""Heads from which on a line that moved counts as redrawn: its point then only moved with it (own)."""
ARM = 17


@dataclass(frozen=True)
class Landed:
    """A landmark in the new state: pixels, sure of it (2), moved along (1) or lost (0), and its spread in pixels."""

    place: Array
    status: int
    spread: float


SURE, ALONG, LOST = 2, 1, 0


def rim_way(kept: Mapping[str, Keepsake], a: LineMap, b: LineMap, whole: Array) -> Array:
    """Where the outline as a whole went: the whole's way, unless its own stretches agree on another close by."""
    held = [k for k in kept.values() if k.part.holds and k.here and k.lines is a]
    p = np.vstack([k.anchors for k in held]) if held else np.zeros((0, 2))
    if len(p) < 8:
        return whole
    f = find_patches(a.soft, p, b.soft, whole, put(whole, p), 10, 8, 5, 0.08)
    w = np.clip(f.alike - 0.55, 0, None) * np.clip(f.share, 0, 1) * f.inside
    if (w > 0).sum() < 8:
        return whole
    way, _ = agreed(p, f.places, w, whole, 1.2)
    far = float(np.linalg.norm(put(way, p) - put(whole, p), axis=1).max())
    return way if far < 0.05 * held[0].hh else whole


def on_rim(k: Keepsake, b: LineMap, outline: Array) -> Landed:
    """The one landmark of a stretch of outline."""
    i = k.at[0]
    way = after(outline, k.way)
    p = k.points[[i]]
    stood = put(way, p)
    f = _searched(k, b, way, p, stood)
    back = find_patches(b.soft, f.places, k.lines.soft, undone(way), p, ARM, 5, 3, 0.15).places
    there_and_back = float(np.linalg.norm(back - p))
    alike, share, inside = float(f.alike[0]), float(f.share[0]), bool(f.inside[0])
    step = f.places[0] - stood[0]
    place, off = _slid(k, way, stood[0], step, f.places[0])
    found = alike > 0.5 and share > 0.35 and inside
    near = abs(off) < REDRAWN * k.hh
    good = found and alike > 0.70 and share < 2.6 and there_and_back < 2.2 and near
    if k.part.name == "crown" and not near:  # hair is drawn over it: another line there is not the crown
        good = found = False
    if good:
        return Landed(place, SURE, max(0.0015 * k.hh, 0.5 * there_and_back + 0.1 * abs(off)))
    if found and alike > 0.6:
        return Landed(place, ALONG, 0.006 * k.hh + 0.4 * abs(off))
    return Landed(place if found else stood[0], LOST, 0.025 * k.hh)


def _searched(k: Keepsake, b: LineMap, way: Array, p: Array, stood: Array) -> Patches:
    """Close by first; where nothing alike is there, farther off at half size."""
    f = find_patches(k.lines.soft, p, b.soft, way, stood, ARM, 5, 3, 0.15)
    if f.alike[0] >= 0.70 and f.share[0] >= 0.4 and f.inside[0]:
        return f
    low = np.column_stack([way[:, :2], way[:, 2] / HALF])
    far = find_patches(k.lines.half, p / HALF, b.half, low, stood / HALF, 9, 15, 10, 0.15)
    fine = find_patches(k.lines.soft, p, b.soft, way, far.places * HALF, ARM, 3)
    return Patches(fine.places, far.alike, far.share, far.inside)


def _slid(k: Keepsake, way: Array, stood: Array, step: Array, seen: Array) -> tuple[Array, float]:
    """Along one line only the step across it is seen: the point slides along the face's own axis. The place, and the step across."""
    normal = None if k.part.free else across_line(k.lines.soft, k.points[k.at[0]])
    if normal is None:
        return seen, float(np.hypot(*step))
    axis = way[:, :2] @ ([0.0, 1.0] if k.part.down else [1.0, 0.0])
    axis = axis / np.linalg.norm(axis)
    normal = way[:, :2] @ normal
    normal = normal / np.linalg.norm(normal)
    off, along = float(step @ normal), float(normal @ axis)
    return stood + (off / along * axis if abs(along) > 0.45 else off * normal), off
