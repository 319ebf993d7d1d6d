"""The head's outline and hairline on a drawing: offsets along the planned outline's normals, kept smooth by dynamic programming."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..head import features as curves
from ..head.construct import outline_path
from ..head.outline import half_width
from ..kinds import Array
from ..landmarks.schema import FRONT
from .closeness import Ground, channel_of

FAR, JUMP, STEP_COST, HELD = 0.055, 2, 0.06, 0.075
"""Heads an outline is looked for; places it may step from point to point; what a step costs; what leaving the plan costs (own)."""
HAIR_HELD = 2.5
"""How much more firmly it is held to the plan where hair lies over it (own)."""
LANDMARKS = ("vertex", "gnathion", *(f"{n}_{s}" for n in ("zygion", "gonion", "euryon", "chin_side") for s in "lr"))
HAIRLINE_FAR, HAIRLINE_SD, MIDDLE = 0.06, 0.03, 0.15


def outline_landmarks(out: Array, spread: Array, table: Mapping[str, float], plan: Array, ground: Ground) -> None:
    """Put the outline's landmarks and the hairline's where they are drawn; written into the first two, heads."""
    path, normal, off, strength = _followed(table, ground)
    for n in LANDMARKS:
        i = FRONT.index[n]
        near = np.argsort(np.linalg.norm(path - plan[i], axis=1))[:5]
        d = float(np.median(off[near]))
        across = normal[near].mean(0)
        across = across / np.linalg.norm(across)
        axis = np.array([0.0, 1.0]) if n in ("vertex", "gnathion") else np.array([1.0, 0.0])
        along = float(across @ axis)
        out[i] = plan[i] + (d / along * axis if abs(along) > 0.45 else d * across)
        weak = 0.012 * (1 - min(float(strength[near].mean()), 1.0))
        spread[i] = 0.003 + weak + 0.15 * abs(d) + (0.008 if plan[i, 1] < 0.35 else 0.0)
    for s in "lr":
        i, cheek = FRONT.index[f"frontotemporale_{s}"], FRONT.index[f"zygion_{s}"]
        out[i] = plan[i] + 0.6 * (out[cheek] - plan[cheek])
        spread[i] = 0.012
    i = FRONT.index["trichion"]
    down, spread[i] = _hairline(table, ground)
    out[i] = plan[i] + [0, down]


def _followed(table: Mapping[str, float], ground: Ground) -> tuple[Array, Array, Array, Array]:
    """The planned outline, its normals outward, how far off it is drawn at every point (heads), and how strongly."""
    path = np.asarray(outline_path(half_width(table)), float)[::3]
    t = np.roll(path, -1, 0) - np.roll(path, 1, 0)
    angle = np.arctan2(t[:, 1], t[:, 0])
    normal = np.column_stack([np.sin(angle), -np.cos(angle)])
    if (normal * (path - [0, 0.5])).sum() < 0:
        normal = -normal
    maps = ground.near.middle
    k = int(FAR * ground.near.unit)
    off = np.arange(-k, k + 1) / ground.near.unit
    at = (
        np.round(ground((path[:, None] + off[None, :, None] * normal[:, None]).reshape(-1, 2)))
        .astype(int)
        .reshape(len(path), -1, 2)
    )
    col, row = np.clip(at[..., 0], 0, maps.shape[2] - 1), np.clip(at[..., 1], 0, maps.shape[1] - 1)
    close = maps[channel_of(angle, ground.turn)[:, None], row, col]
    under_hair = np.clip((0.45 - path[:, 1]) / 0.15, 0, 1)
    cost = -close + HELD * (off**2 / 0.04**2)[None] * (1 + HAIR_HELD * under_hair[:, None])
    chosen = _cheapest(cost)
    n = np.arange(len(path))
    return path, normal, off[chosen], close[n, chosen]


def _cheapest(cost: Array) -> Array:
    """The way through a table of costs ``(points, places)`` that is cheapest, steps paid by their square."""
    total: Array = cost[0].copy()
    came: list[Array] = []
    for row in cost[1:]:
        best: Array = np.full(len(total), np.inf)
        step: Array = np.zeros(len(total), int)
        for d in range(-JUMP, JUMP + 1):
            moved: Array = np.full(len(total), np.inf)
            if d >= 0:
                moved[d:] = total[: len(total) - d]
            else:
                moved[:d] = total[-d:]
            moved = moved + STEP_COST * d * d
            better = moved < best
            best[better], step[better] = moved[better], d
        total = best + row
        came.append(step)
    j = int(total.argmin())
    way = [j]
    for step in came[::-1]:
        j = j - int(step[j])
        way.append(j)
    return np.array(way[::-1])


def _hairline(table: Mapping[str, float], ground: Ground) -> tuple[float, float]:
    """How far down from its plan the hairline is drawn in the middle, and its spread, heads."""
    line = np.asarray(curves.hairline(table["hairline_station"], half_width(table), table["ear_top_station"]), float)
    line = line[np.abs(line[:, 0]) < MIDDLE]
    if len(line) < 3:
        return 0.0, 0.03
    angle = np.arctan2(np.gradient(line[:, 1]), np.gradient(line[:, 0]))
    maps = ground.near.middle
    k = int(HAIRLINE_FAR * ground.near.unit)
    y = np.arange(-k, k + 1) / ground.near.unit
    at = np.round(ground((line[:, None] + np.stack([0 * y, y], -1)[None]).reshape(-1, 2))).astype(int).reshape(len(line), -1, 2)
    col, row = np.clip(at[..., 0], 0, maps.shape[2] - 1), np.clip(at[..., 1], 0, maps.shape[1] - 1)
    score = maps[channel_of(angle, ground.turn)[:, None], row, col].mean(0) - 0.03 * (y / HAIRLINE_SD) ** 2
    j = int(score.argmax())
    as_good = np.exp((score - score.max()) / 0.03)
    away = float((as_good * (y - y[j]) ** 2).sum() / as_good.sum())
    return float(y[j]), float(np.hypot(np.sqrt(away), 0.004))
