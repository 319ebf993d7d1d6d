"""Hair drawn together: tail, knot, two braids, two tufts."""

from __future__ import annotations

import numpy as np

from ..ink.surface import Line, Pen, Stuff, Surface, smooth_step, unit
from ..kinds import Array
from .chart import PI
from .masses import Masses, swept_normals
from .style import Tie

TIGHT = 0.75


def tied(masses: Masses) -> None:
    masses.tight = TIGHT
    masses.cap()
    {Tie.TAIL: _tail, Tie.KNOT: _knot, Tie.BRAIDS: _braids, Tie.TUFTS: _tufts}[masses.style.tied](masses)
    for side in (1, -1):
        _wisp(masses, side)


def _behind(masses: Masses) -> tuple[Array, Array]:
    """Where hair is tied at the back, and which way it leaves."""
    high = masses.style.high
    m = masses.chart.m_of(high, PI)
    root = masses.on_cap(np.array([m]), np.array([PI]))[0]
    out = unit((root - masses.skull.centre) * np.array([0, 1, 1]))
    return root, unit(np.array([0, min(out[1], 0.1) - (0.25 if high < 0.3 else 0.0), out[2]]))


def _gathered(masses: Masses, target: Array, n: int = 13, over: float = 0.12) -> None:
    """Strands from the hairline to where the hair is tied."""
    for i, az in enumerate(np.linspace(-2.9, 2.9, round(n * masses.style.strands)).tolist()):
        r = masses.random(i, 4)
        az += 0.1 * r
        start = masses.chart.at(float(masses.chart.hairline(az)), az) - masses.skull.centre
        m, azimuth = masses.chart.great(start, target, 40, over if abs(az) < 2 else 0.0)
        low, high = 0.12 + 0.06 * r, 0.76 - 0.14 * masses.random(i, 8)
        if i % 3 == 1:
            low, high = 0.42, 0.95
        at = slice(int(low * 39), int(high * 39))
        masses.strand(masses.on_cap(m[at], azimuth[at]), lift=0.010)


def _tail(masses: Masses) -> None:
    root, out = _behind(masses)
    style, skull = masses.style, masses.skull
    _gathered(masses, root - skull.centre)
    masses.ball(root + 0.035 * out, (0.050, 0.050, 0.040), "band", stuff=Stuff.WEAR)
    long = max(skull.hang(style.back, skull.nape) - style.high, 0.18)
    for i, (dx, wide, share, sway) in enumerate(
        ((0.0, 0.105, 1.0, 0.0), (0.045, 0.062, 0.90, 0.5), (-0.05, 0.070, 0.95, -0.4), (0.0, 0.05, 0.80, 0.2))
    ):
        drop = long * share
        knots = np.array([0, 0.10, 0.28, 0.6, 1.0])
        x = np.array([0, dx * 0.6, dx * 1.1, dx * 1.2 + 0.02 * sway, dx * 0.9 + 0.05 * sway])
        y = root[1] + np.array([0, out[1] * 0.10 - 0.02, 0.05, 0.45 * drop, drop])
        z = (
            root[2]
            + np.array([0, out[2] * 0.09, out[2] * 0.19, out[2] * 0.17 + 0.02, out[2] * 0.05 + 0.02])
            - (0.02 if i == 3 else 0)
        )
        s = np.linspace(0.04, 1, 40)
        middle = _spline(knots, np.stack([x, y, z], -1), s)
        swells = 0.42 + 0.58 * smooth_step(s / 0.28)
        w = np.maximum(wide * swells * np.clip(1 - np.clip((s - 0.5) / 0.5, 0, 1) ** 1.7, 0, 1) ** 0.85, 0.001)
        middle[:, 0] += sway * 0.05 * np.sin(2 * PI * s) * s
        across, up = masses.tube(middle, w, 0.72 * w, f"tail {i}", fade_from=0.0 if i == 0 else 0.45)
        if i == 0:
            for turn in (-2.2, -1.5, -0.9, 1.0, 1.7, 2.3, 0.3)[: round(7 * min(style.strands, 1.0))]:
                low = 0.20 + 0.1 * masses.random(int(turn * 10))
                u = np.linspace(low, low + 0.35 + 0.1 * masses.random(int(turn * 7)), 24)
                c, b, n = (np.stack([np.interp(u, s, v[:, k]) for k in range(3)], -1) for v in (middle, across, up))
                r = 1.03 * np.interp(u, s, w)[:, None]
                masses.strand(c - b * r * np.sin(turn) + n * r * 0.72 * np.cos(turn))


def _knot(masses: Masses) -> None:
    root, out = _behind(masses)
    _gathered(masses, root - masses.skull.centre)
    r = 0.10 + masses.style.volume * 1.8
    radii = np.array([1.08, 0.98, 0.80]) * r
    centre = root + out * (0.62 * r)
    axes = np.stack([np.array([1.0, 0, 0]), np.cross(out, [1.0, 0, 0]), out], 1)
    masses.ball(centre, (radii[0], radii[1], radii[2]), "knot", axes=axes, rings=17, spokes=33)
    for a0, a1, t0, t1 in ((0.3, 5.6, 0.30, 1.05), (3.0, 6.0, 0.95, 1.35), (5.6, 8.2, 1.00, 1.45), (0.9, 2.9, 0.75, 1.25)):
        q = np.linspace(0, 1, 50)  # the coil: a spiral over its outer half, and folds
        a, t = a0 + (a1 - a0) * q, t0 + (t1 - t0) * q
        u = np.stack([np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t)], -1)
        masses.line(centre + (u * radii * 1.015) @ axes.T, 1.25 * np.sin(PI * q**0.9) ** 0.6, "coil", "knot", 0.010, False)


def _parted_behind(masses: Masses) -> None:
    """A parting from the forehead over the crown down the back."""
    part = masses.style.parting
    m = np.linspace(0.97 * float(masses.chart.hairline(part)), 0.02, 30)
    run = np.concatenate([
        masses.on_cap(m, part * smooth_step(m / 0.3)),
        masses.on_cap(np.linspace(0.03, 0.35, 12), np.full(12, PI)),
    ])  # fmt: skip
    masses.line(run + [0, -0.004, 0], 1.25 * np.clip((1 - np.linspace(0, 1, 42)) / 0.35, 0, 1), "parting")


def _drawn_to(masses: Masses, side: int, root: Array) -> None:
    line = masses.chart.hairline
    target = root - masses.skull.centre
    places = (
        (0.95 * float(line(0.35)), 0.35), (0.35, 0.06), (0.22, 1.0), (0.12, 2.4), (0.55, 2.9), (0.97 * float(line(0.8)), 0.8), (0.9, 2.75),
    )  # fmt: skip
    for i, (m0, az) in enumerate(places[: round(7 * min(masses.style.strands, 1.0))]):
        start = masses.chart.at(m0, side * az) - masses.skull.centre
        m, azimuth = masses.chart.great(start, target, 30, 0.10 if az < 1.5 else 0.0)
        at = slice(3 + int(2 * (1 + masses.random(i))), 26 - int(3 * (1 + masses.random(i, 2))))
        masses.strand(masses.on_cap(m[at], azimuth[at]), lift=0.010)


def _braids(masses: Masses) -> None:
    _parted_behind(masses)
    low = masses.skull.head.table["ear_bottom_station"]
    for side in (1, -1):
        m = masses.chart.m_of(low - 0.055, side * 1.92)
        root = masses.on_cap(np.array([m]), np.array([side * 1.92]))[0]
        _drawn_to(masses, side, root)
        _plait(masses, root, side)


def _plait(masses: Masses, root: Array, side: int) -> None:
    """A plait as a tube whose sides are scalloped in turn, with the lines where strands cross."""
    skull, name = masses.skull, f"braid {side}"
    long = max(skull.hang(masses.style.back, skull.nape) - 0.08 - root[1], 0.22)
    x = root[0] + side * np.array([0, 0.030, 0.045, 0.045, 0.035])
    y = root[1] + long * np.array([0, 0.12, 0.32, 0.65, 1.0])
    z = root[2] + np.array([0, 0.030, 0.11, 0.19, 0.225])
    s = np.linspace(0, 1, 90)
    middle = _spline(np.array([0, 0.12, 0.32, 0.65, 1.0]), np.stack([x, y, z], -1), s)
    n = max(round(long / 0.082), 3)
    wide = 0.066 * (0.82 + 0.18 * np.sin(PI * np.clip(1.3 * s, 0, 1))) * (1 - 0.30 * s) * (0.55 + 0.45 * smooth_step(s / 0.10))
    along = unit(np.gradient(middle, axis=0))
    across = unit(np.cross(along, unit(np.array([side * 0.35, 0, 1.0]))))
    up = np.cross(across, along)
    a = np.linspace(0, 2 * PI, 29)
    right, left = (wide * (0.72 + 0.28 * np.abs(np.sin(PI * (n * s + phase))) ** 0.7) for phase in (0.0, 0.5))
    mix = (1 + np.cos(a)) / 2
    reach = right[:, None] * mix + left[:, None] * (1 - mix)
    p = (
        middle[:, None]
        + across[:, None] * (reach * np.cos(a))[..., None]
        + up[:, None] * (0.74 * wide[:, None] * np.sin(a))[..., None]
    )
    masses.surfaces.append(Surface(name, p, swept_normals(p, middle), Stuff.HAIR, True))

    def on(u: Array, angle: Array) -> Array:
        c, b, k = (np.stack([np.interp(u, s, v[:, d]) for d in range(3)], -1) for v in (middle, across, up))
        r, ell, w = (np.interp(u, s, v) for v in (right, left, wide))
        share = (1 + np.cos(angle)) / 2
        return np.asarray(
            c + 1.03 * (b * ((r * share + ell * (1 - share)) * np.cos(angle))[:, None] + k * (0.74 * w * np.sin(angle))[:, None])
        )

    q = np.linspace(0, 1, 22)
    for half in (1, -1):
        for j in range(2 * n):
            u = j / 2 / n + 0.88 / n * (0.15 * q + 0.85 * q**1.7)
            turn = (0.02 + 0.64 * q**0.9) * PI  # from the notch at one side to past the middle
            if u[-1] <= 1:
                points = on(u, half * (turn if j % 2 == 0 else PI - turn))
                weight = 1.35 * (1 - 0.75 * smooth_step((q - 0.55) / 0.45))
                masses.lines.append(Line(points, Pen.STRAND, weight, name, name="plait", lift=0.010))
    _brush(masses, middle[-1], along[-1], side)


def _brush(masses: Masses, end: Array, way: Array, side: int) -> None:
    """A band and what stands out under it."""
    masses.ball(end + 0.012 * way, (0.045, 0.034, 0.042), f"band {side}", stuff=Stuff.WEAR)
    q = np.linspace(0, 1, 24)
    for i, (dx, long, wide) in enumerate(((0.0, 0.15, 0.046), (0.022, 0.10, 0.026))):
        middle = end + 0.02 * way + np.outer(q * long, way) + np.outer(dx * np.sin(0.7 * PI * q) + 0.012 * side * q**2, [1, 0, 0])
        w = wide * (0.55 + 0.45 * smooth_step(q / 0.3)) * np.clip(1 - np.clip((q - 0.3) / 0.7, 0, 1) ** 1.6, 0, 1)
        w = np.maximum(w, 0.0008)
        masses.tube(middle, w, 0.7 * w, f"brush {side} {i}", fade_from=0.0 if i == 0 else 0.3)


def _tufts(masses: Masses) -> None:
    """Two short tails that stand off at the sides."""
    _parted_behind(masses)
    style, skull = masses.style, masses.skull
    for side in (1, -1):
        m = masses.chart.m_of(style.high, side * 1.75)
        root = masses.on_cap(np.array([m]), np.array([side * 1.75]))[0]
        _drawn_to(masses, side, root)
        out = unit((root - skull.centre) * np.array([1, 0.4, 0.6]))
        masses.ball(root + 0.025 * out, (0.046, 0.046, 0.046), f"band {side}", stuff=Stuff.WEAR)
        drop = max(skull.hang(style.back, skull.nape) - style.high, 0.16)
        for i, (wide, share, swing) in enumerate(((0.088, 1.0, 0.0), (0.055, 0.86, 0.5), (0.050, 0.92, -0.6))):
            q = np.array([0, 0.25, 0.6, 1.0])
            way = np.array([0, 0.10, 0.15, 0.13]) + 0.02 * swing * q
            points = (
                root
                + np.outer(way, out * np.array([1.25, 0, 1]))
                + np.outer(np.array([0, -0.01, 0.40, 1.0]) * drop * share, [0, 1, 0])
            )
            points[:, 2] += 0.05 * swing * q
            s = np.linspace(0.06, 1, 36)
            middle = _spline(q, points, s)
            w = wide * (0.40 + 0.60 * smooth_step(s / 0.35)) * np.clip(1 - np.clip((s - 0.45) / 0.55, 0, 1) ** 1.7, 0, 1) ** 0.85
            w = np.maximum(w, 0.001)
            masses.tube(middle, w, 0.8 * w, f"tuft {side} {i}", fade_from=0.0 if i == 0 else 0.45)


def _wisp(masses: Masses, side: int) -> None:
    """A short lock that got away at the temple."""
    chart, p = masses.chart, masses.skull.head.table
    az = side * (masses.skull.temple + 0.10)
    m0 = float(chart.hairline(az)) - 0.06
    end = chart.m_of(p["nose_base_station"] - 0.07, side * 1.02)
    s = np.linspace(0, 1, 30)
    azimuth = az + side * (0.11 * np.sin(PI * s) + 0.06 * s)
    masses.ribbon(
        m0 + (end - m0) * s,
        azimuth,
        0.026,
        f"wisp {side}",
        lift=0.004,
        bow=0.004,
        tip=0.35,
        fade_from=0.12,
        sway=-0.6 * side,
        lead=0.4 * side,
    )


def _spline(at: Array, points: Array, s: Array) -> Array:
    from scipy.interpolate import CubicSpline

    return np.asarray(CubicSpline(at, points)(s))
