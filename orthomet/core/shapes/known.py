"""How near a silhouette is to others, and which part keeps it apart from them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from ..kinds import Array
from .masks import filled
from .model import stem_of

GRID = 72
SIZES = (0.85, 0.92, 1.0, 1.09, 1.18)
SIDE = 260
"""Longest side of the masks silhouettes are compared by, pixels."""


def mask_of(outlines: Sequence[Array], side: int = SIDE) -> Array:
    """A silhouette of several outlines as a mask that fills its picture."""
    every = np.vstack(list(outlines))
    low, high = every.min(0), every.max(0)
    f = (side - 8) / max(float((high - low).max()), 1e-9)
    shape = (int((high - low)[1] * f) + 9, int((high - low)[0] * f) + 9)
    m = np.zeros(shape, bool)
    for o in outlines:
        m |= filled((o - low) * f + 4, shape)
    return m


def _standard(mask: Array) -> Array:
    """The mask at a standard area about its centre, on a grid."""
    y, x = np.nonzero(mask)
    s = float(np.sqrt(0.16 * GRID * GRID / max(len(y), 1)))
    m = np.array([[s, 0, GRID / 2 - s * x.mean()], [0, s, GRID / 2 - s * y.mean()]])
    return np.clip(cv2.warpAffine(mask.astype(np.float32), m, (GRID, GRID), flags=cv2.INTER_AREA), 0, 1)


def _variants(mask: Array) -> list[tuple[Array, float]]:
    """Transforms of a mask and its mirror image in several sizes, and their areas."""
    out = []
    one = _standard(mask)
    for flipped in (one, one[:, ::-1]):
        for s in SIZES:
            m = np.array([[s, 0, GRID / 2 * (1 - s)], [0, s, GRID / 2 * (1 - s)]])
            b = cv2.warpAffine(np.ascontiguousarray(flipped), m, (GRID, GRID))
            out.append((np.conj(np.fft.rfft2(b, (2 * GRID, 2 * GRID))), float(b.sum())))
    return out


def likeness(a: Array, b: Array) -> float:
    """Best intersection over union of two masks over shifts (by correlation), five sizes and the mirror; 0…1."""
    return _likeness(_standard(a), _variants(b))


def _likeness(a: Array, variants: list[tuple[Array, float]]) -> float:
    f, whole = np.fft.rfft2(a, (2 * GRID, 2 * GRID)), float(a.sum())
    best = 0.0
    for conj, area in variants:
        both = float(np.fft.irfft2(f * conj).max())
        best = max(best, both / (whole + area - both))
    return best


@dataclass(frozen=True)
class KnownBy:
    """How far the silhouette is from the nearest other one (0…1), whose that is, and every part's share in it, the largest first."""

    apart: float
    nearest: str
    shares: Mapping[str, float]
    changes: Mapping[str, float]
    """By how much the outline changes when a part is left out: 1 − overlap with the whole."""


def known_by(parts: Mapping[str, Array], others: Mapping[str, Array]) -> KnownBy:
    """What keeps a silhouette apart from others.

    A part's share is how much nearer the figure comes to any other when the part is left out, or is blunted to its disc: some parts, a body,
    only make it the more unlike when they are gone.

    Parameters
    ----------
    parts
        Name → outline; names alike but for a number or a side are one part.
    others
        Name → mask of another silhouette.
    """
    stems: dict[str, list[str]] = {}
    for n in parts:
        stems.setdefault(stem_of(n), []).append(n)
    full = mask_of(list(parts.values()))
    variants = {n: _variants(m) for n, m in others.items()}
    near = {n: _likeness(_standard(full), v) for n, v in variants.items()}
    nearest = max(near, key=lambda n: near[n]) if near else ""
    shares: dict[str, float] = {}
    changes: dict[str, float] = {}
    for stem, names in stems.items():
        rest = [o for n, o in parts.items() if n not in names]
        if not rest:
            continue
        without = mask_of(rest)
        changes[stem] = 1 - _likeness(_standard(full), _variants(without))
        if near:
            blunt = mask_of([_disc(o) if n in names else o for n, o in parts.items()])
            gain = [max(_likeness(_standard(m), v) for v in variants.values()) for m in (without, blunt)]
            shares[stem] = max(max(gain) - near[nearest], 0.0)
    if not near:
        shares = dict(changes)
    whole = sum(shares.values()) or 1.0
    order = sorted(shares, key=lambda n: -shares[n])
    return KnownBy(1 - near.get(nearest, 0.0), nearest, {n: shares[n] / whole for n in order}, changes)


def _disc(o: Array) -> Array:
    from .contour import centroid, size_of

    t = np.linspace(0, 2 * np.pi, 64, endpoint=False)
    r = size_of(o) / float(np.sqrt(np.pi))
    return np.asarray(centroid(o) + r * np.column_stack([np.cos(t), np.sin(t)]))
