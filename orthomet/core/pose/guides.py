"""A pose as lines: bones and joints, the tilt of shoulders against hips, line of action, plumb line and what carries the weight."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..figure.construct import ROUND, Guide
from ..figure.skeleton import SIDES
from ..kinds import Array
from ..landmarks.turn import Turn, rotation
from ..picture import Ink, Layer, line
from .balance import balance
from .bones import Posed

CHAINS = (
    ("spine", ("crown", "neck", "chest", "waist", "pelvis")),
    *((f"arm {s}", (f"shoulder_{s}", f"elbow_{s}", f"wrist_{s}", f"fingertip_{s}")) for s, _ in SIDES),
    *((f"leg {s}", (f"hip_{s}", f"knee_{s}", f"ankle_{s}")) for s, _ in SIDES),
    *((f"foot {s}", (f"heel_{s}", f"toe_{s}")) for s, _ in SIDES),
)
PAST = 0.16
"""Shoulder and hip line go on by this share."""
LAYERS = ("Bones", "Tilt", "Line of action", "Balance")


def on_picture(points: Array, turn: Turn) -> Array:
    """Places ``(n, 3)`` as they are seen, heads."""
    return np.asarray((np.atleast_2d(points) @ rotation(turn).T)[:, :2])


def tilt(p: Posed, turn: Turn) -> tuple[float, float]:
    """How far shoulder and hip line slope on the picture, degrees; positive falls to the picture's right."""
    out = []
    for name in ("shoulder", "hip"):
        a, c = on_picture(np.stack([p.joints[f"{name}_r"], p.joints[f"{name}_l"]]), turn)
        d = c - a if c[0] >= a[0] else a - c
        out.append(float(np.degrees(np.arctan2(d[1], max(float(d[0]), 1e-9)))))
    return out[0], out[1]


def line_of_action(p: Posed, turn: Turn) -> Array:
    """One curve from the crown through the trunk to the leg that carries the weight."""
    b = p.rest.build
    low = {s: float(p.joints[f"heel_{s}"][1]) for s, _ in SIDES}
    middle = balance(p).centre
    carrying = [s for s, v in low.items() if v > b.heads - 0.15] or [max(low, key=lambda s: low[s])]
    near = min(carrying, key=lambda s: abs(float(p.joints[f"ankle_{s}"][0] - middle[0])))
    j = p.joints
    leg = [j[f"knee_{near}"], j[f"ankle_{near}"]]
    if len(carrying) == 2 and abs(float(j["ankle_l"][0] + j["ankle_r"][0]) / 2 - float(middle[0])) < 0.3 * b.hip:
        leg = [(j["knee_l"] + j["knee_r"]) / 2, (j["ankle_l"] + j["ankle_r"]) / 2]
    places = on_picture(np.stack([j["crown"], j["neck"], j["chest"], j["waist"], j["pelvis"], *leg]), turn)
    far = np.append(0.0, np.hypot(*np.diff(places, axis=0).T).cumsum())
    fine = np.linspace(0, far[-1], 97)
    path = np.stack([np.interp(fine, far, v) for v in places.T], 1)
    kernel = np.hanning(41)[1:-1]
    kernel /= kernel.sum()
    wide = np.concatenate([2 * path[:1] - path[19:0:-1], path, 2 * path[-1:] - path[-2:-21:-1]])
    return np.stack([np.convolve(v, kernel, "valid") for v in wide.T], 1)


def _lines(p: Posed, turn: Turn) -> tuple[list[Guide], ...]:
    return (
        list(_bones(p, turn)),
        list(_tilt(p, turn)),
        [Guide(line_of_action(p, turn), Ink.AXIS, "line of action")],
        [*_seat(p, turn), *_balance(p, turn)],
    )


def _bones(p: Posed, turn: Turn) -> Iterator[Guide]:
    b = p.rest.build
    for name, names in CHAINS:
        yield Guide(on_picture(np.stack([p.joints[n] for n in names]), turn), Ink.GUIDE_KEY, name)
    for joint, r in (
        ("shoulder", 0.30 * b.upper_arm_girth), ("elbow", 0.30 * b.forearm_girth), ("wrist", 0.30 * b.wrist_girth), ("hip", 0.22 * b.thigh_girth),
        ("knee", 0.30 * b.knee_girth), ("ankle", 0.30 * b.ankle_girth),
    ):  # fmt: skip
        for side, _ in SIDES:
            at = on_picture(p.joints[f"{joint}_{side}"], turn)[0]
            yield Guide(at + r * np.column_stack([np.cos(ROUND), np.sin(ROUND)]), Ink.GUIDE_KEY, f"{joint} {side}")


def _tilt(p: Posed, turn: Turn) -> Iterator[Guide]:
    for name in ("shoulder", "hip"):
        a, c = on_picture(np.stack([p.joints[f"{name}_r"], p.joints[f"{name}_l"]]), turn)
        d = (c - a) * PAST
        yield Guide(np.stack([a - d, c + d]), Ink.TILT, f"{name} line")


def _balance(p: Posed, turn: Turn) -> Iterator[Guide]:
    b, at = p.rest.build, balance(p)
    top = on_picture((p.joints["clavicle_l"] + p.joints["clavicle_r"]) / 2, turn)[0]
    yield Guide(np.array([top, [top[0], b.heads]]), Ink.AXIS, "plumb line")
    if len(at.support):
        flat = np.column_stack([at.support[:, 0], np.full(len(at.support), b.heads), at.support[:, 1]])
        ring = on_picture(np.concatenate([flat, flat[:1]]), Turn(yaw=turn.yaw, pitch=0))
        x = (float(ring[:, 0].min()), float(ring[:, 0].max()))
        yield Guide(np.array([[x[0], b.heads + 0.05], [x[1], b.heads + 0.05]]), Ink.GUIDE_KEY, "what carries the weight")
    middle = on_picture(at.centre, turn)[0]
    r = 0.07
    yield Guide(middle + r * np.column_stack([np.cos(ROUND), np.sin(ROUND)]), Ink.AXIS, "the weight’s middle")
    yield Guide(np.array([middle, [middle[0], b.heads]]), Ink.AXIS, "the weight’s plumb line")


def _seat(p: Posed, turn: Turn) -> Iterator[Guide]:
    """The block a seated figure sits on."""
    if not p.pose.seat:
        return
    b, j = p.rest.build, p.joints
    ahead = (j["knee_l"] + j["knee_r"] - j["hip_l"] - j["hip_r"]) / 2 * [1, 0, 1]
    deep = float(np.linalg.norm(ahead))
    z = ahead / deep if deep > 0.1 else np.array([0.0, 0.0, 1.0])
    x = np.array([z[2], 0.0, -z[0]])
    top = float(j["pelvis"][1]) + 0.5 * b.thigh_girth
    middle = j["pelvis"] * [1, 0, 1]
    thigh = p.rest.leg.upper
    corners = [middle + s * 0.62 * b.hip * x + t * thigh * z for s, t in ((-1, -0.42), (1, -0.42), (1, 0.55), (-1, 0.55))]
    low = [np.array([c[0], b.heads, c[2]]) for c in corners]
    high = [np.array([c[0], top, c[2]]) for c in corners]
    seen = on_picture(np.array([*low, *high]), turn)
    left, right = float(seen[:, 0].min()), float(seen[:, 0].max())
    yield Guide(np.array([[left, b.heads], [left, top], [right, top], [right, b.heads]]), Ink.GUIDE, "seat")
    depth = (np.array(low) @ rotation(turn).T)[:, 2]
    near = seen[int(np.argmax(depth)), 0]
    if left + 0.02 < near < right - 0.02:
        yield Guide(np.array([[near, top], [near, b.heads]]), Ink.GUIDE, "seat, edge")


def layers(p: Posed, turn: Turn, shown: range | None = None) -> list[Layer]:
    """A layer each of :data:`LAYERS`; ``shown`` are those that are visible (all without it)."""
    return [
        Layer(f"pose-{k}", name, tuple(line(g.points, g.role, g.name) for g in guides), shown is None or k in shown)
        for k, (name, guides) in enumerate(zip(LAYERS, _lines(p, turn), strict=True))
    ]
