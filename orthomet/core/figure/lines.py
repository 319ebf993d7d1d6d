"""Planned inner lines of a figure: places on its masses, each with a weight profile and the detail it asks for; and the suit's edges.

Which lines a body has is common practice; how much detail each asks for is own.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..ink.surface import Line, Pen
from ..kinds import Array
from .ends import FOOT_ROWS
from .mannequin import Mannequin
from .profile import SPOKES
from .skeleton import SIDES

SOFTLY = 0.18
"""Detail over which a line comes in."""
LIFT = 0.016
LIGHTEST = 0.05
NECK_LINE = 0.52
"""The suit's neck line lies this share of the neck's length above the shoulder line at the sides, lower in front."""
WRIST_AT, ANKLE_AT = 1.96, 1.955


@dataclass(frozen=True)
class Planned:
    """A line's places on a mass, and how heavy it is there."""

    mass: str
    row: Array
    spoke: Array
    weight: Array
    name: str


def taper(n: int, head: float = 0.35, tail: float = 0.35) -> Array:
    """A weight profile that comes from and goes to nothing over shares of its length."""
    u = np.linspace(0, 1, n)
    return np.asarray(np.clip(u / max(head, 1e-6), 0, 1) ** 0.8 * np.clip((1 - u) / max(tail, 1e-6), 0, 1) ** 0.8)


def inner_places(m: Mannequin, detail: float | None = None) -> tuple[Planned, ...]:
    """Where lines within a figure's forms lie on its masses, as many as its detail (or ``detail``) wants."""
    f = m.build.form
    has = (f.detail if detail is None else detail) * (1 - 0.30 * f.feminine) * (1 - 0.25 * f.softness * (1 - f.feminine))
    return (*_on_torso(m, has), *_on_limbs(m, has))


def inner_lines(m: Mannequin, detail: float | None = None) -> tuple[Line, ...]:
    """Lines within a figure's forms; heads, in the figure's own place."""
    out = []
    for p in inner_places(m, detail):
        skin, left = m.skins[p.mass], m.fades.get((p.mass, p.name), 1.0)
        if left * float(p.weight.max()) < LIGHTEST:
            continue
        out.append(
            Line(_at(skin.points, p.row, p.spoke), Pen.STRAND, left * p.weight, p.mass, name=p.name, lift=LIFT,
                 normals=_at(skin.normals, p.row, p.spoke))
        )  # fmt: skip
    return tuple(out)


def suit_places(m: Mannequin) -> list[tuple[str, Array, Array, str]]:
    """Where the plain suit ends: mass, row, spoke and name, round the neck, the wrists and the ankles."""
    turn = np.linspace(0, SPOKES, 4 * SPOKES + 1)
    out = [("torso", neck_row(m, turn), turn, "neck line")]
    for side, _ in SIDES:
        out.append((f"arm_{side}", np.full_like(turn, _row(m.arm.v, WRIST_AT)), turn, f"wrist line {side}"))
        out.append((f"leg_{side}", np.full_like(turn, _row(m.leg.v, ANKLE_AT)), turn, f"ankle line {side}"))
    return out


def suit_lines(m: Mannequin) -> tuple[Line, ...]:
    """The suit's edges."""
    lines = []
    for mass, row, turn, name in suit_places(m):
        points = _at(m.skins[mass].points, row, turn)
        lines.append(Line(points, Pen.DETAIL, np.full(len(points), 1.25), mass, name=name, lift=0.02, closed=True))
    return tuple(lines)


def neck_row(m: Mannequin, spoke: Array) -> Array:
    """Row of the suit's neck line at every spoke: it lies lower in front."""
    b = m.build
    ahead = (0.5 + 0.5 * np.cos(2 * np.pi * spoke / SPOKES)) ** 1.6
    y = b.shoulder_line - b.neck_length * (NECK_LINE - 0.36 * ahead) + 0.02 * b.trunk / 2.54
    return np.asarray(np.interp(y, m.torso.height, np.arange(len(m.torso.height))))


def _row(v: Array, at: float) -> float:
    return float(np.interp(at, v, np.arange(len(v))))


def _at(grid: Array, row: Array, spoke: Array) -> Array:
    """Values of a tube's grid between its rows and spokes, ``(n, 3)``."""
    h, w = grid.shape[:2]
    r = np.clip(row, 0, h - 1.001)
    i, c = r.astype(int), np.mod(spoke, w)
    f, j = (r - i)[:, None], c.astype(int) % w
    e, k = (c - np.floor(c))[:, None], (j + 1) % w
    return np.asarray((grid[i, j] * (1 - e) + grid[i, k] * e) * (1 - f) + (grid[i + 1, j] * (1 - e) + grid[i + 1, k] * e) * f)


def _shown(has: float, need: float) -> float:
    return float(np.clip((has - need) / SOFTLY, 0, 1))


def _on_torso(m: Mannequin, has: float) -> Iterator[Planned]:
    b = m.build
    f, trunk, top = b.form, b.trunk, b.shoulder_line
    rib, waist, hip, neck = b.ribcage / 2, b.waist / 2, b.hip / 2, b.neck_width / 2
    corner_x, corner_y = m.torso.corner
    k = trunk / 2.54
    u = np.linspace(0, 1, 22)
    lean = float(np.clip(f.muscle * (1 - 0.75 * f.softness), 0, 1))
    collar = top + 0.055 * trunk
    chest = top + 0.305 * trunk
    rows: list[tuple[Array, Array, float, float, str, bool, float, float, bool]] = [
        (0.10 * k + (0.84 * corner_x - 0.10 * k) * u, collar + (corner_y + 0.035 * k - collar) * u**1.4 - 0.022 * k * np.sin(2 * np.pi * u),
         0.12, 1.15, "collar bone", False, 0.12, 0.5, True),
        (0.02 * k + 0.055 * k * u, collar + 0.03 * k - 0.05 * k * u, 0.25, 0.8, "pit of the neck", False, 0.1, 0.4, True),
        (0.93 * neck + (0.075 * k - 0.93 * neck) * u**1.1, 0.97 + (collar - 0.03 * k - 0.97) * u, 0.35, 0.95, "sternomastoid", False, 0.6, 0.15, True),
        (0.04 * k + 0.72 * rib * u**0.8, top + 0.395 * trunk + 0.185 * trunk * u**2, 0.42, lean, "rib arch", False, 0.25, 0.4, True),
        (0 * u, top + (0.42 + 0.20 * u) * trunk, 0.62, 0.75 * lean, "middle of the belly", False, 0.35, 0.35, False),
        (0.93 * (0.45 * waist + 0.55 * hip) - 0.68 * hip * u**1.15, top + 0.715 * trunk + 0.235 * trunk * u**0.9, 0.38,
         1.05 * min(1.1 - 0.6 * f.softness, 1.0), "groin", False, 0.15, 0.45, True),
        (0 * u, top + (0.04 + 0.28 * u) * trunk, 0.45, 0.8, "spine", True, 0.35, 0.35, False),
        (0 * u, top + (0.36 + 0.42 * u) * trunk, 0.15, 1.05, "small of the back", True, 0.4, 0.35, False),
        (0.30 * rib + 0.10 * rib * u + 0.20 * rib * u**5, top + (0.13 + 0.19 * u - 0.012 * u**6) * trunk, 0.32, 0.95, "shoulder blade", True, 0.45, 0.25, True),
        (0.30 * hip + 0.06 * hip * u, top + (0.745 + 0.028 * u) * trunk, 0.5, 0.8, "dimple", True, 0.35, 0.35, True),
    ]  # fmt: skip
    if f.feminine < 0.75:
        weight = 1.15 * (1 - f.feminine / 0.75) * float(np.clip(f.muscle * 1.1, 0, 1))
        rows.append((0.06 * k + (0.97 * rib - 0.06 * k) * u, chest + (0.012 + 0.020 * np.sin(np.pi * u**0.8) - 0.115 * u**3.2) * trunk, 0.30, weight,
                     "pectoral", False, 0.35, 0.12, True))  # fmt: skip
    if f.bust > 0.18:
        th = np.linspace(-0.72, 1.18, 22)
        weight = 1.15 * min(1.0, 0.5 + f.bust) * float(np.clip((f.bust - 0.18) / 0.2, 0, 1) * np.clip(f.feminine / 0.6, 0, 1))
        rows.append((0.47 * rib + 0.42 * rib * np.sin(th), chest + (0.010 - 0.004) * trunk + 0.082 * trunk * np.cos(th), 0.02, weight, "bust",
                     False, 0.5, 0.45, True))  # fmt: skip
    for x, y, need, weight, name, behind, head, tail, both in rows:
        shown = _shown(has, need) * weight
        if shown < LIGHTEST:
            continue
        for sign in (1, -1) if both else (1,):
            row, spoke = _torso_place(m, sign * x, np.asarray(y, float), behind)
            yield Planned("torso", row, spoke, shown * taper(len(row), head, tail), name)


def _torso_place(m: Mannequin, x: Array, y: Array, behind: bool) -> tuple[Array, Array]:
    """Row and spoke of places of the front or back view; the spoke is found between those of the row's own half."""
    grid = m.torso.points
    row = np.interp(y, m.torso.height, np.arange(len(m.torso.height)))
    quarter = SPOKES // 4
    steps = np.arange(-quarter, quarter + 1)
    at = (SPOKES // 2 - steps) % SPOKES if behind else steps % SPOKES
    i = np.minimum(row.astype(int), len(grid) - 2)
    f = (row - i)[:, None]
    across = grid[i][:, at, 0] * (1 - f) + grid[i + 1][:, at, 0] * f
    step = np.array([np.interp(xx, line, steps) for xx, line in zip(x, across, strict=True)])
    return row, (SPOKES / 2 - step if behind else step)


def _on_limbs(m: Mannequin, has: float) -> Iterator[Planned]:
    b = m.build
    if b.rubber:
        return
    f = b.form
    muscle, drawn = f.muscle, float(np.clip(f.muscle, 0.3, 1))
    u = np.linspace(0, 1, 18)
    arms = float(np.clip(muscle * (1 - 0.7 * f.feminine), 0, 1))
    thigh, _ = b.leg_bones
    fold = (b.crotch - b.hip_line + 0.035 * b.trunk) / thigh
    round_ = np.linspace(-2.0, 2.0, 18)
    rows: list[tuple[str, Array, Array, float, float, str, float, float]] = [
        ("leg", fold + 0.018 * np.sin(np.pi * u) - 0.025 * u, 222 - 62 * u, 0.0, 1.15, "fold of the seat", 0.15, 0.5),
        ("leg", 1.0 + 0.033 * np.cos(round_), 30 * np.sin(round_ * 0.55), 0.18, 0.95, "knee cap", 0.4, 0.4),
        ("leg", 0.955 + 0.05 * u, -34 + 8 * np.sin(np.pi * u), 0.5, 0.8, "knee", 0.4, 0.4),
        ("leg", 0.80 + 0.12 * u, -48 + 22 * u**2, 0.68, 0.9 * min(muscle, 1.0), "thigh over the knee", 0.5, 0.3),
        ("leg", 1.12 + 0.6 * u, -12 - 8 * u, 0.66, 0.7, "shin bone", 0.4, 0.5),
        ("leg", 1.34 + 0.10 * u, 150 + 22 * u, 0.42, 0.85 * drawn, "calf", 0.6, 0.2),
        ("leg", 1.36 + 0.12 * u, 222 - 34 * u, 0.42, 0.85 * drawn, "calf", 0.6, 0.2),
        ("leg", 0.985 + 0.03 * np.sin(np.pi * u), 150 + 60 * u, 0.5, 0.7, "hollow of the knee", 0.4, 0.4),
        ("leg", 1.90 + 0.028 * np.sin(np.pi * u), 70 + 34 * u, 0.45, 0.8, "ankle", 0.4, 0.4),
        ("leg", 1.87 + 0.028 * np.sin(np.pi * u), -70 - 34 * u, 0.45, 0.8, "ankle", 0.4, 0.4),
        ("arm", 0.10 + 0.36 * u, -28 + 92 * u**1.5, 0.40, arms, "deltoid", 0.5, 0.4),
        ("arm", 0.06 + 0.40 * u, 205 - 75 * u**1.4, 0.55, 0.9 * arms, "deltoid", 0.5, 0.4),
        ("arm", 0.965 + 0.03 * np.sin(np.pi * u), -10 + 40 * u, 0.72, 0.6, "inside of the elbow", 0.4, 0.4),
        ("arm", 0.985 + 0.03 * np.cos(np.pi * u), 168 + 34 * u, 0.30, 0.9, "elbow", 0.4, 0.4),
        ("arm", 0.98 + 0.26 * u**1.2, 62 - 34 * u, 0.62, 0.85 * min(muscle, 1.0), "forearm", 0.3, 0.6),
    ]  # fmt: skip
    deg = SPOKES / 360.0
    places = {"arm": m.arm.v, "leg": m.leg.v}
    for kind, v, angle, need, weight, name, head, tail in rows:
        shown = _shown(has, need) * weight
        if shown < LIGHTEST:
            continue
        row = np.interp(v, places[kind], np.arange(len(places[kind])))
        for side, sign in SIDES:
            yield Planned(f"{kind}_{side}", row, sign * angle * deg, shown * taper(len(row), head, tail), name)
    yield from _toes(has, deg, u)


def _toes(has: float, deg: float, u: Array) -> Iterator[Planned]:
    for i, (angle, tip) in enumerate(((-24, 1.0), (6, 0.985), (29, 0.965), (50, 0.945))):
        shown = _shown(has, 0.05 if i == 0 else 0.22) * (1.15 if i == 0 else 0.95)
        if shown < LIGHTEST:
            continue
        place = tip - (0.17 if i == 0 else 0.12) + (0.165 if i == 0 else 0.115) * u
        row = np.interp(place, FOOT_ROWS, np.arange(len(FOOT_ROWS)))
        for side, sign in SIDES:
            yield Planned(f"foot_{side}", row, sign * (angle + 3 * u) * deg, shown * taper(len(row), 0.6, 0.08), f"toe {i + 1}")


def covers(m: Mannequin) -> dict[str, Array]:
    """By mass ``(rows, spokes)``: 1 at the suit's edge and more under it, less where it is bare: neck, hands' and feet's ends."""
    spokes = np.arange(SPOKES, dtype=float)
    rows = np.arange(len(m.torso.height), dtype=float)[:, None]
    out = {"torso": np.clip(1 + rows - neck_row(m, spokes)[None], 0, 2)}
    for side, _ in SIDES:
        for kind, v, at in (("arm", m.arm.v, WRIST_AT), ("leg", m.leg.v, ANKLE_AT)):
            along = np.clip(1 + _row(v, at) - np.arange(len(v)), 0, 2)
            out[f"{kind}_{side}"] = np.broadcast_to(along[:, None], (len(v), SPOKES))
    return out
