"""Masses that grow out of one another, joined smoothly by moving their points.

A point whose distance to the other mass is g goes out along its normal by h²k/4, h = 1 − |g − δ|/k, so that both masses, which both move,
meet on one smooth surface; normals are mixed on both alike, so that a contour of one runs on in the other. k shrinks where the two
surfaces run alike, for there both would only swell. Distances are to the tangent planes of the nearest three points.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from ..kinds import Array

NEAREST, ROUNDS = 3, 3
BELOW = 0.25
"""Share of k a point that lies inside the other mass, near its skin, goes out by."""


@dataclass(frozen=True, eq=False)
class Skin:
    """A mass's grid ``(rows, spokes, 3)`` and its outward unit normals."""

    points: Array
    normals: Array


@dataclass(frozen=True, eq=False)
class Pair:
    """Two masses that meet: the second's rows that take part, and how wide the blend is at each of them, heads."""

    one: str
    other: str
    blend: Array
    rows: Array
    within: Array | None = None
    """The first's rows that may take part; all without it."""


def tube_normals(points: Array) -> Array:
    """Outward unit normals of a closed tube ``(rows, spokes, 3)``."""
    down = np.empty_like(points)
    down[1:-1] = points[2:] - points[:-2]
    down[0], down[-1] = points[1] - points[0], points[-1] - points[-2]
    round_ = np.roll(points, -1, 1) - np.roll(points, 1, 1)
    n = np.cross(round_, down)
    n /= np.maximum(np.linalg.norm(n, axis=-1, keepdims=True), 1e-12)
    out = points - points.mean(1, keepdims=True)
    return np.asarray(n if float((out * n).sum()) >= 0 else -n)


def joined(skins: Mapping[str, Skin], pairs: Iterable[Pair], mirrored: Iterable[str] = ()) -> dict[str, Skin]:
    """Skins with every pair joined. Of masses named ``mirrored`` what happens on one side happens on the other, too."""
    moves = {k: (np.zeros_like(s.points), np.zeros_like(s.normals)) for k, s in skins.items()}
    for pair in pairs:
        a, b = skins[pair.one], skins[pair.other]
        rows = np.flatnonzero(pair.rows)
        pb, nb = b.points[rows].reshape(-1, 3), b.normals[rows].reshape(-1, 3)
        blend = np.repeat(pair.blend[rows], b.points.shape[1])
        most = float(blend.max(initial=0.0))
        if most <= 0:
            continue
        pa = a.points.reshape(-1, 3)
        close = ((pa > pb.min(0) - most) & (pa < pb.max(0) + most)).all(1)
        if pair.within is not None:
            close &= np.repeat(pair.within, a.points.shape[1])
        near = np.flatnonzero(close)
        if not len(near):
            continue
        na = a.normals.reshape(-1, 3)[near]
        for key, at, found in (
            (pair.one, near, _pulled(pa[near], na, pb, nb, blend, None)),
            (pair.other, _flat(rows, b.points.shape[1]), _pulled(pb, nb, pa[near], na, None, blend)),
        ):
            if found is not None:
                which, dp, dn = found
                moves[key][0].reshape(-1, 3)[at[which]] += dp
                moves[key][1].reshape(-1, 3)[at[which]] += dn
    out = {}
    both = set(mirrored)
    for key, s in skins.items():
        dp, dn = moves[key]
        if key in both:
            dp, dn = dp + mirror(dp), dn + mirror(dn)
        n = s.normals + dn
        out[key] = Skin(s.points + dp, n / np.maximum(np.linalg.norm(n, axis=-1, keepdims=True), 1e-9))
    return out


def mirror(grid: Array) -> Array:
    """A tube's grid of vectors on the other side of the body: its spokes run the other way round."""
    turned = np.roll(grid[:, ::-1], 1, 1)
    return np.asarray(turned * np.array([-1.0, 1.0, 1.0]))


def _flat(rows: Array, spokes: int) -> Array:
    return np.asarray((rows[:, None] * spokes + np.arange(spokes)).ravel())


def _pulled(
    p: Array, n: Array, q: Array, nq: Array, blend_of_q: Array | None, own: Array | None
) -> tuple[Array, Array, Array] | None:
    """Points near another mass: which they are, how far each moves, and what its normal gains."""
    from scipy.spatial import cKDTree

    blend = own if blend_of_q is None else blend_of_q
    assert blend is not None
    reach = 1.2 * float(blend.max()) + 0.01
    k = min(NEAREST, len(q))
    far, j = cKDTree(q, balanced_tree=False, compact_nodes=False).query(p, k=k, distance_upper_bound=reach)
    far, j = far.reshape(len(p), k), j.reshape(len(p), k)
    which = np.flatnonzero(np.isfinite(far[:, 0]))
    if not len(which):
        return None
    p, n, far, j = p[which], n[which], far[which], j[which]
    there = np.isfinite(far)
    j, far = np.where(there, j, j[:, :1]), np.where(there, far, 9.0)
    weight = 1 / (far + 0.01)
    weight /= weight.sum(1, keepdims=True)
    normal = (nq[j] * weight[..., None]).sum(1)
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-9)
    g = (((p[:, None] - q[j]) * nq[j]).sum(-1) * weight).sum(1)
    # where the true distance is much larger than that to the tangent plane
    aside = np.sqrt(np.maximum(far[:, 0] ** 2 - g**2, 0))
    g = np.where(g >= 0, np.maximum(g, far[:, 0] - 0.5 * aside - 0.01), g)
    width = (blend[j] * weight).sum(1) if blend_of_q is not None else blend[which]
    width = np.maximum(width * np.clip(1.15 * (1 - (n * normal).sum(1)), 0, 1), 1e-5)
    move = np.zeros_like(g)
    for i in range(ROUNDS):
        h = np.clip(1 - np.abs(g - move) / width, 0, 1)
        move = h * h * width / 4 if i == 0 else 0.5 * move + 0.5 * h * h * width / 4
    least = BELOW * width * np.clip(1 + g / width, 0, 1)
    move = np.where(g < BELOW * width, np.maximum(move, least), move)
    share = np.clip(1 - np.abs(g - move) / width, 0, 1) * 0.5
    return which, n * move[:, None], share[:, None] * (normal - n)
