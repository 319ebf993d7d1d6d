"""Construction of a figure in the order an artist takes it: each step's lines at any turn, and the ladder of heads beside it.

Which steps and in which order is common practice; the volumes' sizes against what they stand for are own.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import floor

import cv2
import numpy as np

from ..head.drawn import stretches
from ..kinds import Array
from ..landmarks.turn import Turn, rotation
from ..picture import Ink, Layer, Text, Trace, line
from .mannequin import Mannequin
from .skeleton import SIDES

TWO_CIRCLES = "two-circles"
STEPS = (
    "Head", "Shoulder line", "Rib cage and pelvis", "Where the feet stand", "An envelope a limb", "The limb in it", "Joints, hands, feet", "Centre line",
)  # fmt: skip
ROUND = np.linspace(0, 2 * np.pi, 73)
HEAD_DEEP = 0.87
"""Depth of the skull's egg by the head's height (own)."""


@dataclass(frozen=True, eq=False)
class Guide:
    """One line of a step, on the picture, heads from the crown."""

    points: Array
    role: Ink
    name: str


def construction(m: Mannequin, turn: Turn, school: str = "") -> tuple[tuple[Guide, ...], ...]:
    """Lines of every step of :data:`STEPS` at a turn; a school draws its own masses."""
    v = rotation(turn)
    build = _Lines(m, v)
    pear = school == TWO_CIRCLES
    return tuple(
        tuple(g)
        for g in (build.head(pear), build.shoulders(), build.pear() if pear else build.volumes(), build.feet(), build.envelopes(), build.limbs(),
                  build.joints(), build.centre())
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class _Lines:
    m: Mannequin
    v: Array

    def at(self, p: Array) -> Array:
        return np.asarray((np.atleast_2d(p) @ self.v.T)[:, :2])

    def head(self, circle: bool) -> Iterator[Guide]:
        b = self.m.build
        if circle:
            yield from self._ball(np.array([0, 0.5, 0.0]), 0.5, "head circle")
            return
        radii = np.array([b.head_width / 2, 0.5, HEAD_DEEP / 2])
        yield from self._egg(np.array([0.0, 0.5, -0.02]), radii, -0.12, "head", (0.0,))

    def shoulders(self) -> Iterator[Guide]:
        left, right = (self._shoulder(sign) for _, sign in SIDES)
        yield Guide(self.at(self._past(right, left)), Ink.TILT, "shoulder line")

    def _shoulder(self, sign: int) -> Array:
        b = self.m.build
        place = self.m.skeleton.arm.root * [sign, 1, 1]
        return np.asarray(np.array([place[0], b.shoulder_line, place[2]]))

    @staticmethod
    def _past(a: Array, c: Array, share: float = 0.16) -> Array:
        d = (c - a) * share
        return np.stack([a - d, c + d])

    def volumes(self) -> Iterator[Guide]:
        b = self.m.build
        radii = np.array([0.485 * b.ribcage, 0.30 * b.trunk, 0.47 * b.chest])
        yield from self._egg(np.array([0, b.shoulder_line + 0.28 * b.trunk, -0.10 * b.chest]), radii, 0.16, "rib cage", (0.22,))
        yield from self._basin()

    def pear(self) -> Iterator[Guide]:
        """A small circle over a bigger one."""
        b = self.m.build
        upper, lower = 0.46 * b.ribcage, 0.50 * b.hip
        yield from self._ball(np.array([0, b.shoulder_line + 0.9 * upper, -0.04]), upper, "upper circle")
        yield from self._ball(np.array([0, b.crotch - 0.95 * lower, 0.0]), lower, "lower circle")

    def feet(self) -> Iterator[Guide]:
        b = self.m.build
        for side, sign in SIDES:
            flip = np.array([sign, 1.0, 1.0])
            ankle, frame = self.m.skeleton.leg.tip, self.m.skeleton.foot
            half, top = b.foot_width / 2, b.ankle_girth / 2
            sole = np.array(
                [
                    (-0.55 * half, -0.265),
                    (0.6 * half, -0.265),
                    (half, 0.30),
                    (0.5 * half, 0.735),
                    (-0.6 * half, 0.735),
                    (-half, 0.35),
                ]
            )
            points = np.stack([sole[:, 0], np.full(6, b.ankle_height), sole[:, 1] * b.foot], -1)
            instep = np.array(
                [
                    (-top, 0.1 * b.ankle_height, -top),
                    (top, 0.1 * b.ankle_height, -top),
                    (top, 0.1 * b.ankle_height, top),
                    (-top, 0.1 * b.ankle_height, top),
                ]
            )
            yield Guide(
                _hull(self.at((np.concatenate([points, instep]) @ frame.T + ankle) * flip)), Ink.GUIDE_KEY, f"foot {side}"
            )
            shape = self.at((points @ frame.T + ankle) * flip)
            yield Guide(np.vstack([shape, shape[:1]]), Ink.GUIDE, f"sole {side}")
        wide = 0.75 * b.hip
        yield Guide(np.array([[-wide, b.heads * self.v[1, 1]], [wide, b.heads * self.v[1, 1]]]), Ink.TILT, "floor")

    def envelopes(self) -> Iterator[Guide]:
        b, s = self.m.build, self.m.skeleton
        for side, sign in SIDES:
            flip = np.array([sign, 1.0, 1.0])
            for name, joints, widths in (
                ("arm", (s.arm.root, s.arm.joint, s.arm.tip), (1.12 * b.upper_arm_girth, 0.95 * b.forearm_girth, b.wrist_girth)),
                ("leg", (s.leg.root, s.leg.joint, s.leg.tip), (1.02 * b.thigh_girth, 1.02 * b.knee_girth, b.ankle_girth)),
            ):
                p = self.at(np.stack(joints) * flip)
                for i in (0, 1):
                    way = p[i + 1] - p[i]
                    long = float(np.hypot(*way))
                    if long < 0.05:
                        continue
                    across = np.array([-way[1], way[0]]) / long
                    a, c = across * widths[i] / 2, across * widths[i + 1] / 2
                    box = np.stack([p[i] + a, p[i + 1] + c, p[i + 1] - c, p[i] - a, p[i] + a])
                    yield Guide(box, Ink.GUIDE, f"envelope {name} {side}")

    def limbs(self) -> Iterator[Guide]:
        for side, sign in SIDES:
            for name, at in (("arm", self.m.arm_at), ("leg", self.m.leg_at)):
                yield Guide(self.at(at.centres * [sign, 1, 1]), Ink.GUIDE_KEY, f"{name} {side}")

    def joints(self) -> Iterator[Guide]:
        b, s = self.m.build, self.m.skeleton
        for side, sign in SIDES:
            flip = np.array([sign, 1.0, 1.0])
            for name, place, r in (
                ("shoulder", s.arm.root, 0.30 * b.upper_arm_girth), ("elbow", s.arm.joint, 0.30 * b.forearm_girth),
                ("wrist", s.arm.tip, 0.30 * b.wrist_girth), ("hip", s.leg.root, 0.22 * b.thigh_girth), ("knee", s.leg.joint, 0.30 * b.knee_girth),
                ("ankle", s.leg.tip, 0.30 * b.ankle_girth),
            ):  # fmt: skip
                middle = self.at(place * flip)[0]
                yield Guide(middle + r * np.column_stack([np.cos(ROUND), np.sin(ROUND)]), Ink.GUIDE_KEY, f"{name} {side}")
            palm = np.array([(-0.5, 0.05), (0.5, 0.05), (0.45, 0.52), (0.25, 1.0), (-0.3, 0.95), (-0.5, 0.5), (-0.5, 0.05)])
            hand = np.stack([palm[:, 0] * b.hand_width, palm[:, 1] * b.hand, np.zeros(len(palm))], -1)
            yield Guide(self.at((hand @ s.hand.T + s.arm.tip) * flip), Ink.GUIDE, f"hand {side}")

    def centre(self) -> Iterator[Guide]:
        """The body's middle, front and back, where it is seen; and the plumb line from the pit of the neck."""
        b, skin = self.m.build, self.m.skins["torso"]
        rows = self.m.torso.height > b.shoulder_line + 0.04 * b.trunk
        for spoke, name in ((0, "centre line"), (skin.points.shape[1] // 2, "centre line, back")):
            facing = skin.normals[rows, spoke] @ self.v[2] > 0.02
            p = self.at(skin.points[rows, spoke])
            for i, j in stretches(facing):
                if j - i > 1:
                    yield Guide(p[i:j], Ink.AXIS, name)
        top = self.at(np.array([0, b.shoulder_line, 0.0]))[0]
        yield Guide(np.array([top, [top[0], b.heads * self.v[1, 1]]]), Ink.AXIS, "plumb line")

    def _ball(self, centre: Array, r: float, name: str) -> Iterator[Guide]:
        yield Guide(self.at(centre)[0] + r * np.column_stack([np.cos(ROUND), np.sin(ROUND)]), Ink.GUIDE_KEY, name)

    def _egg(self, centre: Array, radii: Array, broader: float, name: str, rings: tuple[float, ...]) -> Iterator[Guide]:
        """An egg's outline as seen, and the front of rings at heights of it (−1 top … 1)."""
        toward = radii * self.v[2]
        toward = toward / np.linalg.norm(toward)
        a = np.cross(toward, [0.0, 1.0, 0.01])
        a /= np.linalg.norm(a)
        u = np.cos(ROUND)[:, None] * a + np.sin(ROUND)[:, None] * np.cross(toward, a)

        def put(unit: Array) -> Array:
            wide = 1 + broader * unit[:, 1]
            return self.at(centre + unit * radii * np.stack([wide, np.ones(len(unit)), wide], 1))

        yield Guide(put(u), Ink.GUIDE_KEY, name)
        for y in rings:
            r = np.sqrt(1 - y * y)
            c = np.stack([r * np.sin(ROUND), np.full(len(ROUND), y), r * np.cos(ROUND)], 1)
            p = put(c)
            for i, j in stretches(c @ (self.v[2] / radii) > -0.02):
                if j - i > 1:
                    yield Guide(p[i:j], Ink.GUIDE, f"{name}, across")

    def _basin(self) -> Iterator[Guide]:
        """The pelvis: a box that tapers to the crotch; the edges that face the viewer."""
        b = self.m.build
        top, low, deep = 0.46 * b.pelvis, 0.27 * b.hip, 0.36 * b.chest
        y0, y1, z = b.shoulder_line + 0.70 * b.trunk, b.shoulder_line + 0.985 * b.trunk, -0.07 * b.chest / 0.9
        corners = np.array([
            [x * (top if k == 0 else low), y0 if k == 0 else y1, z + s * deep * (1 if k == 0 else 0.72)]
            for k in (0, 1) for x, s in ((-1, 1), (1, 1), (1, -1), (-1, -1))
        ])  # fmt: skip
        p = corners @ self.v.T
        middle = p.mean(0)
        seen: set[tuple[int, int]] = set()
        for f in ((0, 1, 2, 3), (4, 5, 6, 7), (0, 1, 5, 4), (1, 2, 6, 5), (2, 3, 7, 6), (3, 0, 4, 7)):
            n = np.cross(p[f[1]] - p[f[0]], p[f[2]] - p[f[0]])
            n = n * np.sign(n @ (p[list(f)].mean(0) - middle))
            if n[2] > 1e-9:
                seen |= {(min(f[i], f[(i + 1) % 4]), max(f[i], f[(i + 1) % 4])) for i in range(4)}
        for i, j in sorted(seen):
            yield Guide(p[[i, j], :2], Ink.GUIDE_KEY, "pelvis")


def _hull(points: Array) -> Array:
    """The closed outline around a few points."""
    found = cv2.convexHull(points.astype(np.float32))[:, 0].astype(float)
    return np.vstack([found, found[:1]])


def ladder(heads: float, left: float, right: float, down: float = 1.0) -> Layer:
    """Head units from crown to floor with their halves, and their numbers; ``down`` is how far a head reaches down the picture."""
    items: list[Trace | Text] = []
    size = min(0.15, 0.022 * heads + 0.02)
    for k in range(floor(heads) + 1):
        items.append(line([(left, k * down), (right, k * down)], Ink.PLAN_LINE, f"head {k}"))
        items.append(Text((left - 0.06, k * down + size / 3), str(k), size=size, align=1))
        if k + 0.5 < heads:
            items.append(line([(left, (k + 0.5) * down), (left + 0.16, (k + 0.5) * down)], Ink.PLAN_LINE, f"head {k}½"))
    if heads - floor(heads) > 1e-6:
        items.append(line([(left, heads * down), (right, heads * down)], Ink.PLAN_LINE, "floor"))
        if heads - floor(heads) > 0.12:
            items.append(Text((left - 0.06, heads * down + size / 3), f"{heads:.3g}", size=size, align=1))
    items.append(line([(left, 0.0), (left, heads * down)], Ink.PLAN_LINE, "ladder"))
    return Layer("ladder", "Heads", tuple(items))


def layers(steps: tuple[tuple[Guide, ...], ...], shown: range | None = None) -> list[Layer]:
    """A layer a step; ``shown`` are those that are visible (all without it)."""
    return [
        Layer(
            f"step-{k}",
            f"{k}. {STEPS[k - 1]}",
            tuple(line(g.points, g.role, g.name) for g in guides),
            shown is None or k - 1 in shown,
        )
        for k, guides in enumerate(steps, 1)
    ]
