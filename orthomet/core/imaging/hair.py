"""Hair on a picture: what is not the ground about the head is its mass; the hairline is the edge over the brows."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np

from ..kinds import Array
from .edges import Ray, heaviest, looked_along
from .working import Face, Points

CELL = 6
"""Working pixels a cell of the mask (own)."""
PLAIN = 9.0
"""The most a ground may vary about its own slope of colour, CIELAB, for a mask to be made of it (own)."""
MOSTLY = 0.65
"""Share of the frame that has to be ground (own)."""
APART, LEAST_APART = 4.0, 7.0
"""How far a colour lies from the ground's to be the head's: in the ground's own spread, and at least, CIELAB (own)."""
FRINGE = 0.62
"""A hairline nearer the brows than this share of what the norm expects is a fringe: the line is hidden, its seed stays (own)."""


@dataclass(frozen=True)
class Mass:
    """Head and hair as one mask of cells, and how far every cell's colour lies from the ground's (1 at the threshold)."""

    mask: Array
    far: Array

    def end(self, band: tuple[slice, slice], down: bool, start: int, way: int) -> float | None:
        """Where the mask ends along a band of cells, from ``start`` up or down (``down``) or sideways, between cells.

        ``None`` where it meets the frame or never begins.
        """
        line, far = ((a[band] if down else a[band].T).mean(1) for a in (self.mask, self.far))
        inside = np.flatnonzero(line[start:] > 0.5) if way > 0 else np.flatnonzero(line[start::-1] > 0.5)
        last = start + way * int(inside[-1]) if len(inside) else 0
        if not 0 < last < len(line) - 1:
            return None
        inward = far[last + way :: -way][: 2 * SOFT + 1]  # the cell beyond, the last one, and those further in
        edge = max(1.0, 0.5 * float(np.median(inward[SOFT + 1 :]))) if len(inward) > SOFT + 1 else 1.0
        k = int((inward >= edge).argmax())
        if not k:
            return float(last)
        a, b = float(inward[k - 1]), float(inward[k])
        return last + way * (1 - k + (b - edge) / (b - a))


SOFT = 2
"""Cells over which an outline is softened: it lies where a colour is half the way from the ground's to the hair's."""


@cache
def _window(n: int) -> tuple[Array, Array]:
    """What a plane is made of at every cell of a square window, ``(n², 3)``, and which cells are its frame.

    The frame leaves out the lower part, where neck and shoulders are.
    """
    y, x = np.mgrid[0:n, 0:n].astype(np.float32) / n
    edge = 2 / n
    frame = (y < edge) | ((y < 0.55) & ((x < edge) | (x >= 1 - edge)))
    return np.stack([np.ones_like(x), x, y], -1).reshape(-1, 3), np.flatnonzero(frame)


def mass(face: Face, inside: tuple[float, float]) -> Mass | None:
    """The mass about a place that surely is the head's, working pixels; ``None`` before a ground that is not plain.

    The ground's colour is a plane through the frame of the face's window: it may shade from side to side.
    """
    small = face.reduced(CELL)
    n = len(small)
    terms, frame = _window(n)
    a, b = terms[frame], small.reshape(-1, 3)[frame]
    keep = np.ones(len(a), bool)
    for _ in range(3):  # what stands in the frame, a shoulder or a lock, does not count
        plane = np.linalg.solve(a[keep].T @ a[keep] + 1e-6 * np.eye(3), a[keep].T @ b[keep])
        off = b - a @ plane
        rest = np.sqrt(np.einsum("ij,ij->i", off, off))
        loose = float(np.partition(rest, len(rest) // 2)[len(rest) // 2])
        keep = rest <= 2.5 * max(loose, 1.0)
    if loose > PLAIN or keep.mean() < MOSTLY:
        return None
    off = small - (terms @ plane).reshape(n, n, 3)
    far = np.sqrt(np.einsum("ijk,ijk->ij", off, off)) / max(APART * loose, LEAST_APART)
    _, pieces = cv2.connectedComponents((far > 1).astype(np.uint8), connectivity=4)
    x, y = np.clip((np.array(inside) / CELL).astype(int), 0, n - 1)
    here = pieces[y, x]
    return Mass(pieces == here, far) if here else None


def hair(face: Face, at: Points) -> Points:
    """Hairline over the brows, top of the hair over the crown, its sides level with the temples."""
    if any(n not in at for n in ("glabella", "trichion", "vertex", "gnathion")):
        return {}
    brow, crown = np.array(at["glabella"]), np.array(at["vertex"])
    hh = float(at["gnathion"][1] - crown[1])
    out = _hairline(face, brow, float(brow[1] - at["trichion"][1]), hh)
    solid = mass(face, (float(brow[0]), float(brow[1] - 0.1 * hh)))
    return out | (_by_edges(face, at, crown, hh) if solid is None else _by_mass(solid, at, crown, hh))


UNLIKE_SKIN = 13.0
"""How far, in CIELAB, what lies over the brows is from the skin between them when it is hair (own, over painted portraits and a
photograph)."""


def _fringed(face: Face, brow: Array, rise: float) -> bool:
    """Whether hair begins right over the brows: then the hairline lies hidden somewhere in it, and no edge there is its."""
    down = np.array([[-0.10, 0.0, 0.10, 0.20], [-0.45, -0.38, -0.31, -0.24]]) * rise  # skin between the brows, what is over them
    across = np.linspace(-0.12, 0.12, 7) * rise
    y = brow[1] + np.repeat(down, len(across), 1)
    x = brow[0] + np.tile(across, (2, down.shape[1]))
    skin, over = np.median(face.along(x, y), axis=1)
    return bool(np.linalg.norm(over - skin) > UNLIKE_SKIN)


def _hairline(face: Face, brow: Array, rise: float, hh: float) -> Points:
    if rise < max(0.05 * hh, 4.0) or _fringed(face, brow, rise):
        return {}
    ray = Ray(brow - [0, 0.30 * rise], np.array([0.0, -1.0]), 1.5 * rise, 0.70 * rise, 0.35 * rise, 6)
    found = heaviest(looked_along(face, [ray])[0])
    if found is None or 0.30 * rise + found < FRINGE * rise:
        return {}
    return {"trichion": (float(brow[0]), float(brow[1] - 0.30 * rise - found))}


def _by_mass(solid: Mass, at: Points, crown: Array, hh: float) -> Points:
    """The outline of the mass over the crown and beside the temples."""
    out: Points = {}
    h, w = solid.mask.shape
    x, y = int(np.clip(crown[0] / CELL, 2, w - 3)), int(np.clip((crown[1] + 0.25 * hh) / CELL, 2, h - 3))
    wide = max(2, round(0.04 * hh / CELL))
    top = solid.end((slice(None), slice(max(0, x - wide), x + wide + 1)), True, y, -1)
    if top is not None:
        out["hair_top"] = (float(crown[0]), (top + 0.5) * CELL)
    for side, way in (("r", -1), ("l", 1)):
        seed = at.get(f"euryon_{side}")
        if seed is None:
            continue
        row = int(np.clip(seed[1] / CELL, 2, h - 3))
        end = solid.end((slice(row - 2, row + 3), slice(None)), False, x, way)
        if end is not None and way * ((end + 0.5) * CELL - crown[0]) > 0.8 * way * (seed[0] - crown[0]):
            out[f"hair_side_{side}"] = ((end + 0.5) * CELL, seed[1])
    return out


def _by_edges(face: Face, at: Points, crown: Array, hh: float) -> Points:
    """Before a crowded ground: the strongest edges near where hair usually ends."""
    out: Points = {}
    rays = {"hair_top": Ray(crown + [0, 0.06 * hh], np.array([0.0, -1.0]), 0.26 * hh, 0.12 * hh, 0.06 * hh, 10)}
    for side, way in (("r", -1.0), ("l", 1.0)):
        seed = at.get(f"euryon_{side}")
        half = way * (seed[0] - float(crown[0])) if seed else 0.0
        if seed and half > 0:
            start = np.array([crown[0] + way * 0.95 * half, seed[1]])
            rays[f"hair_side_{side}"] = Ray(start, np.array([way, 0.0]), 0.45 * half, 0.18 * half, 0.12 * half, 8)
    for (name, ray), steps in zip(rays.items(), looked_along(face, list(rays.values())), strict=True):
        d = heaviest(steps)
        if d is not None:
            x, y = ray.start + ray.along * d
            out[name] = (float(x), float(y))
    return out
