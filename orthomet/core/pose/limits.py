"""How far joints go. What lies beyond is brought to the nearest place within; a joint that is waived goes anywhere."""

from __future__ import annotations

from functools import cache
from importlib import resources
from math import asin, atan2, cos, degrees, radians, sin, tan

import numpy as np

from ..datafiles import Record, parse
from ..figure.frames import about_plumb, forward, outward, swung, twist
from ..kinds import Array

Span = tuple[float, float]
MIDDLE = np.array([0.42, 0.42, 0.80])
"""Where an arm can always point: forward, outward, a little down (own). An arm beyond its range is brought toward it."""
HALVINGS = 26
ROOM = 0.12
"""How far an arm that hangs beside the body may point inward, whatever lies before or behind it (own)."""


class Limits(Record):
    """Ranges of motion, degrees; both sides alike."""

    source: str
    spans: dict[str, tuple[Span, ...]]
    arm_twist: Span
    thigh_forward: Span
    thigh_outward: Span
    thigh_twist: Span
    foot_down: float
    foot_up: float
    arm_across: float
    """Past straight ahead, to the other side."""
    arm_back: float
    arm_back_raised: float


@cache
def limits() -> Limits:
    text = resources.files("orthomet.core.pose.data").joinpath("limits.json").read_text(encoding="utf-8")
    return parse(Limits, text, "limits.json")


def within(joint: str, values: tuple[float, ...]) -> tuple[float, ...]:
    """Angles held to their ranges; joints whose range is a cone (arm, thigh, foot) are left as they are."""
    spans = limits().spans.get(joint.removesuffix("_l").removesuffix("_r"))
    if spans is None:
        return values
    return tuple(min(max(v, low), high) for v, (low, high) in zip(values, spans, strict=True))


def arm_excess(d: Array) -> float:
    """How far an upper arm's direction lies past its range, in the trunk's frame of the left side; 0 within."""
    lim = limits()
    x, y, z = (float(v) for v in d)
    across = radians(lim.arm_across)
    out = max(0.0, (-x - max(z, 0.0) * tan(across)) * cos(across) - ROOM)
    if z < 0:
        share = min(max((y + 0.3) / 0.6, 0.0), 1.0)
        back = sin(radians(lim.arm_back_raised + share * (lim.arm_back - lim.arm_back_raised)))
        out = max(out, -z - back)
    if y < 0 and x < -0.35:
        out = max(out, -x - 0.35)
    return out if out > 1e-9 else 0.0


def arm_within(d: Array) -> Array:
    """An upper arm's direction, brought within its range."""
    if arm_excess(d) == 0.0:
        return d
    low, high = 0.0, 1.0
    middle = MIDDLE / np.linalg.norm(MIDDLE)
    angle = float(np.arccos(np.clip(d @ middle, -1, 1)))

    def at(t: float) -> Array:
        if angle > 3.1:
            v = (1 - t) * d + t * middle + t * (1 - t) * np.array([1.0, 0.3, 0.2])
            return np.asarray(v / np.linalg.norm(v))
        return np.asarray((sin((1 - t) * angle) * d + sin(t * angle) * middle) / max(sin(angle), 1e-9))

    for _ in range(HALVINGS):
        t = (low + high) / 2
        low, high = (t, high) if arm_excess(at(t)) > 0 else (low, t)
    return at(high)


def arm_frame_within(frame: Array, parent: Array) -> Array:
    """An upper arm's frame within the trunk's, held to its ranges; the left side."""
    own = parent.T @ frame
    d = own[:, 1]
    allowed = arm_within(d)
    if allowed is not d:
        own = swung(own, allowed)
    plain = swung(np.eye(3), own[:, 1])
    turned = twist(plain, own)
    low, high = limits().arm_twist
    if low <= turned <= high:
        return np.asarray(parent @ own)
    return np.asarray(parent @ plain @ about_plumb(min(max(turned, low), high)))


def thigh_frame_within(frame: Array, parent: Array) -> Array:
    """A thigh's frame within the pelvis', held to its ranges; the left side."""
    lim = limits()
    a, b, c = root_angles(parent.T @ frame)
    swing = [min(max(v, span[0]), span[1]) for v, span in ((a, lim.thigh_forward), (b, lim.thigh_outward))]
    plain = forward(swing[0]) @ outward(swing[1])
    turned = twist(swung(np.eye(3), plain[:, 1]), plain @ about_plumb(c))
    low, high = lim.thigh_twist
    if [a, b] == swing and low <= turned <= high:
        return frame
    to = min(max(turned, low), high)
    return np.asarray(parent @ swung(np.eye(3), plain[:, 1]) @ about_plumb(to))


def root_angles(own: Array) -> tuple[float, float, float]:
    """Forward, outward and twist of a frame, degrees: the inverse of forward · outward · about the plumb."""
    b = asin(min(max(float(own[0, 1]), -1.0), 1.0))
    a = atan2(float(own[2, 1]), float(own[1, 1])) if cos(b) > 1e-9 else 0.0
    rest = (forward(degrees(a)) @ outward(degrees(b))).T @ own
    return degrees(a), degrees(b), degrees(atan2(float(rest[0, 2]), float(rest[0, 0])))
