"""What a character's story asks of its body: whether it can, what is missing, shown as a pose, and the nearest changes that would help.

Everything follows from the planned lengths and girths. How far joints go is in :mod:`.limits`; what counts as done is told with each action.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields, replace
from functools import partial

import numpy as np

from ..errors import FormatError, UnknownName
from ..figure.build import Build
from ..figure.skeleton import PALM_IN, Skeleton, standing
from ..kinds import Array
from .bones import posed
from .library import pose as library_pose
from .limits import root_angles
from .model import Hold, Pose
from .reach import Reached, reach
from .turns import bone_frame

TIPTOE = 0.30
"""On its toes a figure stands higher by this share of its foot (own)."""
EYES = 0.5
"""Station the eyes lie at where nobody says (common practice)."""
SEES = 0.03
"""The eyes are this far over what one looks over, heads."""
MOST_LONGER, FINEST = 4.0, 0.005
"""Arms and heads are tried changed by up to this factor, and the answer is as fine as this share."""
STEP_FORWARD = 100.0
"""Degrees the thigh is lifted at most for a step that carries (own; without weight the hip goes further)."""
TOUCHES = 0.02
"""Fingertips this near to the floor touch it, heads."""
STRAIGHT_LEAN = (82.0, 46.0)
"""Pelvis and spine, degrees, of who reaches for the floor with straight knees (own)."""
CROUCHED_LEAN = (38.0, 40.0)
"""And of who bends the knees for it (own)."""
ON_TOES: dict[str, tuple[float, ...]] = {"foot_l": (-26.0, 8.0), "toes_l": (26.0,), "foot_r": (-26.0, -8.0), "toes_r": (26.0,)}
"""Feet of who stands on its toes, degrees (own)."""


@dataclass(frozen=True)
class Change:
    """The least change of the plan that would make an action possible."""

    reading: str
    by: float
    """Of the reading's value, heads."""
    words: str
    also: tuple[tuple[str, float], ...] = ()
    """Readings that go along."""


@dataclass(frozen=True, eq=False)
class Outcome:
    """Whether a figure can do something."""

    action: str
    amount: float | None
    reachable: bool
    short_by: float
    """What is missing, heads; 0 where it can."""
    pose: Pose
    """As it does it, or as near as it comes."""
    note: str = ""
    changes: tuple[Change, ...] = ()

    @property
    def words(self) -> str:
        told = title(self.action, self.amount)
        if self.reachable:
            return f"{told}: yes{', ' + self.note if self.note else ''}."
        short = f"short by {self.short_by:.2f} heads" if self.short_by >= 0.005 else self.note or "its joints do not go that far"
        return f"{told}: no, {short}."


Can = tuple[bool, float, Pose, str]


@dataclass(frozen=True)
class Action:
    name: str
    asks: str = ""
    """What its amount is; none without."""
    usual: Callable[[Build], float] | None = None
    arm: bool = False
    """Longer arms would help."""


ACTIONS: dict[str, Action] = {
    a.name: a
    for a in (
        Action("reach crown", arm=True), Action("reach mouth", arm=True), Action("reach opposite shoulder", arm=True), Action("reach own back", arm=True),
        Action("reach floor", arm=True), Action("reach shelf", "its height in heads", lambda b: b.heads, arm=True), Action("clap overhead", arm=True),
        Action("cross arms", arm=True), Action("sit", "height of the seat in heads", lambda b: b.ankle_height + b.leg_bones[1] - 0.35 * b.thigh_girth),
        Action("step", "height of the step in heads", lambda b: 0.5 * (b.ankle_height + b.leg_bones[1])),
        Action("look over rail", "height of the rail in heads", lambda b: b.heads - b.shoulder_line),
    )
}  # fmt: skip


def title(name: str, amount: float | None) -> str:
    """An action in words."""
    head = name[0].upper() + name[1:]
    return head if amount is None else f"{head} at {amount:.3g} heads" if name != "step" else f"Step {amount:.3g} heads high"


def asked(text: str) -> tuple[Action, float | None]:
    """An action out of ``NAME`` or ``NAME=X``; dashes may stand for spaces, “reach” may be left out.

    Raises
    ------
    FormatError
    """
    name, eq, value = text.partition("=")
    plain = " ".join(name.replace("-", " ").replace("_", " ").casefold().split())
    known = {k.removeprefix("reach ").replace("own ", ""): k for k in ACTIONS} | {k: k for k in ACTIONS}
    key = known.get(plain) or known.get(plain.removeprefix("reach ").replace("own ", "").replace("the ", ""))
    if key is None:
        raise UnknownName("action", name.strip(), list(ACTIONS))
    action = ACTIONS[key]
    if not eq:
        return action, None
    if not action.asks:
        raise FormatError(f"“{key}” takes no amount.")
    try:
        amount = float(value)
    except ValueError:
        raise FormatError(f"“{key}” takes a number: {action.asks}.") from None
    if not 0 < amount <= 40:
        raise FormatError(f"“{key}” takes {action.asks}, over 0 up to 40.")
    return action, amount


def done(s: Skeleton, action: Action, amount: float | None = None, changes: bool = True) -> Outcome:
    """Whether a figure can do it. ``changes``: the nearest ones are looked for where it cannot."""
    if action.usual is not None and amount is None:
        amount = round(action.usual(s.build), 3)
    ok, short, pose, note = _can(s, action.name, amount)
    found = tuple(_changes(s, action, amount)) if changes and not ok else ()
    if not ok and short < FINEST and found:  # in reach, yet blocked: what longer arms would add tells how much
        short = found[0].by + sum(v for _, v in found[0].also)
    named = pose.model_copy(update={"name": title(action.name, amount)})
    return Outcome(action.name, amount, ok, 0.0 if ok else short, named, note, found)


def _can(s: Skeleton, name: str, x: float | None) -> Can:
    b = s.build
    kz = b.chest / 0.9
    shoulder = s.joints["shoulder_l"]
    if name == "reach crown":
        return _touch(s, np.array([0.0, -0.005, -0.03]), np.array([0.0, -1.0, 0.0]))
    if name == "reach mouth":
        return _touch(s, np.array([0.0, 0.785, b.neck_axis + 0.505]), np.array([0.0, 0.0, 1.0]))
    if name == "reach opposite shoulder":
        to = np.array(
            [-shoulder[0] - 0.05 * b.shoulder, shoulder[1] - 0.1 * b.upper_arm_girth, shoulder[2] + 0.75 * b.upper_arm_girth]
        )
        return _touch(s, to, np.array([-0.4, 0.0, 0.9]))
    if name == "reach own back":
        return _touch(s, np.array([0.0, b.shoulder_line + 0.42 * b.trunk, -0.08 * kz - b.chest / 2]), np.array([0.0, 0.0, -1.0]))
    if name == "reach floor":
        return _floor(s)
    if name == "reach shelf":
        assert x is not None
        if x < b.heads - float(s.joints["fingertip_l"][1]):
            return _down_to(s, x)
        to = np.array([0.8 * shoulder[0], b.heads - x, shoulder[2] + 0.25 * b.chest])
        flat = _touch(s, to, None)
        if flat[0]:
            return flat
        ok, short, pose, _ = _touch(s, to, None, raised=TIPTOE * b.foot)
        return ok, short, pose.with_angles(ON_TOES), "on its toes" if ok else ""
    if name == "clap overhead":
        return _both(_touch(s, np.array([0.04 * b.hand_width, -0.30, 0.05]), None, hand=0.5))
    if name == "cross arms":
        to = np.array([-0.62 * b.ribcage / 2, shoulder[1] + 0.72 * s.arm.upper, b.chest / 2 + 0.30 * b.forearm_girth])
        ok, short, pose, note = _touch(s, to, None, hand=0.6)
        return (True, 0.0, library_pose("arms crossed"), "") if ok else _both((ok, short, pose, note))
    assert x is not None
    return {"sit": _sit, "step": _step, "look over rail": _rail}[name](s, x)


def _touch(s: Skeleton, to: Array, normal: Array | None, hand: float = 1.0, raised: float = 0.0) -> Can:
    r = reach(s, to, normal, hand=hand, raised=raised)
    return r.ok, r.missing, arm_pose(s, r, to + np.array([0.0, raised, 0.0]), hand), ""


def arm_pose(s: Skeleton, r: Reached, to: Array, hand: float = 1.0) -> Pose:
    """The left arm as it reaches, or stretched toward what it does not."""
    if r.elbow is not None and r.wrist is not None and r.shoulder is not None:
        t, f, u = r.elbow - r.shoulder, r.wrist - r.elbow, to - r.wrist
        t, f, u = (v / max(float(np.linalg.norm(v)), 1e-9) for v in (t, f, u))
        frame = bone_frame(t, f - t * float(f @ t))
        bend = float(np.degrees(np.arccos(np.clip(t @ f, -1, 1))))
        lower = np.stack([frame[:, 0], f, np.cross(frame[:, 0], f)], 1)
        angles = {
            "arm_l": root_angles(frame),
            "elbow_l": (bend,),
            "wrist_l": _wrist(lower.T @ u),
            "clavicle_l": r.shrug,
            "fingers_l": (8.0,),
        }
        return Pose(angles=angles)
    base = s.joints["shoulder_l"]
    way = (to - base) / max(float(np.linalg.norm(to - base)), 1e-9)
    return Pose(angles={"arm_l": root_angles(bone_frame(way, np.array([0.0, 0.0, 1.0]))), "elbow_l": (2.0,), "fingers_l": (4.0,)})


def _wrist(u: Array) -> tuple[float, float, float]:
    """Turn and bend of a hand that points along a direction in the forearm's frame."""
    bend = float(np.degrees(np.arccos(np.clip(u[1], -1, 1))))
    if bend < 3:
        return PALM_IN, bend, 0.0
    turn = float(np.degrees(np.arctan2(u[0], u[2])))
    options = [((turn + k), bend * sign) for k, sign in ((0, 1), (-360, 1), (180, -1), (-180, -1)) if -190 <= turn + k <= 20]
    best = min(options, key=lambda o: abs(o[0] - PALM_IN), default=(PALM_IN, 0.0))
    return best[0], best[1], 0.0


def _both(can: Can) -> Can:
    """The right arm as the left one."""
    ok, short, pose, note = can
    other = {k[:-1] + "r": v for k, v in pose.angles.items() if k.endswith("_l")}
    return ok, short, pose.with_angles(other), note


def _floor(s: Skeleton) -> Can:
    return _down_to(s, TOUCHES)


def _down_to(s: Skeleton, x: float) -> Can:
    """A stoop or a crouch until hanging fingertips are so many heads over the floor."""
    gap, pose = _over_floor(s, STRAIGHT_LEAN, 0.985)
    if gap <= x:
        return True, 0.0, pose, "with straight knees"
    low, high = 0.22, 0.95
    gap, pose = _over_floor(s, CROUCHED_LEAN, low)
    if gap > x:
        return False, gap - x, pose, ""
    for _ in range(4):  # no lower than it has to
        middle = (low + high) / 2
        gap, there = _over_floor(s, CROUCHED_LEAN, middle)
        low, high, pose = (middle, high, there) if gap <= x else (low, middle, pose)
    return True, 0.0, pose, "with bent knees"


def _over_floor(s: Skeleton, lean: tuple[float, float], height: float) -> tuple[float, Pose]:
    """How far hanging fingertips stay over the floor, and the pose."""
    pose = _stooped(*lean, height)
    p = posed(s, pose)
    return s.build.heads - max(float(p.joints[f"fingertip_{side}"][1]) for side in "lr"), pose


def _stooped(pelvis: float, spine: float, height: float) -> Pose:
    lean = pelvis + spine
    back = -0.10 - 0.16 * (1 - height)
    arms = {
        f"{k}_{side}": v
        for side in "lr"
        for k, v in (("arm", (lean, 4.0, 0.0)), ("elbow", (3.0,)), ("fingers", (6.0,)), ("wrist", (PALM_IN, 0.0, 0.0)))
    }
    return Pose(
        angles={"pelvis": (pelvis, 0, 0), "spine": (spine, 0, 0), "neck": (-15, 0, 0), "head": (-10, 0, 0), **arms},
        holds={
            f"ankle_{side}": Hold(of="floor", at=(x, 0.0, 0.0), toward=(x, -0.3 * (1 - height), 1.0)) for side, x in (("l", 0.26), ("r", -0.26))
        },
        root=(0.0, height, back), yaw=58,
    )  # fmt: skip


def _sit(s: Skeleton, x: float) -> Can:
    """It gets its seat up there from its toes; whether the feet then reach the floor is told."""
    b = s.build
    crotch = b.heads - b.crotch
    most = crotch + TIPTOE * b.foot
    under_knee = b.ankle_height + s.leg.lower - 0.35 * b.thigh_girth
    long = s.leg.upper + s.leg.lower
    height = min((x + 0.5 * b.thigh_girth - b.ankle_height) / long, 0.98)
    arms = {f"{k}_{side}": v for side in "lr" for k, v in (("arm", (24.0, 6.0, 0.0)), ("elbow", (42.0,)))}
    trunk = {"pelvis": (6.0, 0.0, 0.0), "spine": (10.0, 0.0, 0.0), "neck": (-4.0, 0.0, 0.0), "head": (-6.0, 0.0, 0.0)}
    hang = x - under_knee
    if hang > 0.02:
        legs = {f"{k}_{side}": v for side in "lr" for k, v in (("thigh", (92.0, 8.0, 0.0)), ("knee", (86.0,)))}
        pose = Pose(angles=trunk | arms | legs, seat=True, yaw=42, air=max(hang, 0.0) / long)
        note = f"its feet {hang:.1f} heads above the floor"
    else:
        ahead = 0.92 * np.sqrt(max(s.leg.upper**2 - max(height * long - s.leg.lower, 0.0) ** 2, 0.05)) / long
        holds = {
            f"ankle_{side}": Hold(of="floor", at=(k * 0.32, 0.0, float(ahead)), toward=(k * 0.2, -1.0, 0.6))
            for side, k in (("l", 1), ("r", -1))
        }
        pose = Pose(angles=trunk | arms, holds=holds, root=(0.0, height, 0.0), seat=True, yaw=42)
        note = "its feet on the floor"
    return x <= most, max(x - most, 0.0), pose, note if x <= most else ""


def _step(s: Skeleton, x: float) -> Can:
    """A foot comes up flat, the shin plumb, the other leg straight on its toes at most."""
    b = s.build
    hip = b.heads - float(s.leg.root[1])
    a = np.radians(STEP_FORWARD)
    most = hip - s.leg.upper * np.cos(a) - s.leg.lower - b.ankle_height + TIPTOE * b.foot * 0.5
    long = s.leg.upper + s.leg.lower
    lift = min(x, most)
    ahead = np.sqrt(max(s.leg.upper**2 - max(hip - lift - b.ankle_height - s.leg.lower, -0.3 * s.leg.upper) ** 2, 0.01)) / long
    holds = {
        "ankle_l": Hold(of="floor", at=(0.20, float(-lift / long), float(ahead)), toward=(0.1, -0.6, 1.0)),
        "ankle_r": Hold(of="floor", at=(-0.18, 0.0, 0.0), toward=(0.0, 0.0, 1.0)),
    }
    angles = {"spine": (8.0, 0.0, -8.0), "arm_l": (-18.0, 8.0, 0.0), "arm_r": (24.0, 8.0, 0.0), "elbow_r": (26.0,)}
    pose = Pose(angles=angles, holds=holds, root=(-0.08, 0.985, 0.02), yaw=58)
    return x <= most, max(x - most, 0.0), pose, ""


def _rail(s: Skeleton, x: float) -> Can:
    b = s.build
    flat, toes = b.heads - EYES - SEES, b.heads - EYES - SEES + TIPTOE * b.foot
    stretch = x > flat
    angles: dict[str, tuple[float, ...]] = {"neck": (4.0, 0.0, 0.0), "head": (8.0, 0.0, 0.0)}
    if stretch:
        angles |= ON_TOES | {"neck": (-8.0, 0.0, 0.0), "head": (-8.0, 0.0, 0.0)}
    return x <= toes, max(x - toes, 0.0), Pose(angles=angles, yaw=40), "on its toes" if stretch and x <= toes else ""


def _changes(s: Skeleton, action: Action, amount: float | None) -> Iterator[Change]:
    tries: list[tuple[str, Callable[[float], Skeleton]]] = []
    if action.arm:
        tries.append(("arms", partial(_longer_arms, s)))
    else:
        tries.append(("legs", partial(_longer_legs, s)))
    tries.append(("head", partial(_smaller_head, s)))
    for what, make in tries:
        k = _least(make, action.name, amount)
        if k is None:
            continue
        b = s.build
        if what == "arms":
            more = (k - 1) * b.upper_arm, (k - 1) * b.forearm
            yield Change("upper_arm_hh", more[0], f"arms {sum(more):.2f} heads longer", (("forearm_hh", more[1]),))
        elif what == "legs":
            more_leg = (k - 1) * (b.heads - b.hip_line)
            yield Change("heads_tall", more_leg, f"legs {more_leg:.2f} heads longer")
        else:
            yield Change("heads_tall", (b.heads - 1) * (k - 1), f"the head {100 * (1 - 1 / k):.0f} % smaller")


def _least(make: Callable[[float], Skeleton], name: str, amount: float | None) -> float | None:
    """The least factor with which it can; ``None`` where not even the largest helps."""
    high = 1.05
    while not _can(make(high), name, amount)[0]:
        high = 1 + 1.7 * (high - 1)
        if high > MOST_LONGER:
            return None
    low = 1.0
    while high - low > FINEST:
        middle = (low + high) / 2
        low, high = (low, middle) if _can(make(middle), name, amount)[0] else (middle, high)
    return high


def _longer_arms(s: Skeleton, k: float) -> Skeleton:
    b = s.build
    return standing(replace(b, upper_arm=k * b.upper_arm, forearm=k * b.forearm), s.shoulder_x, s.hip_x)


def _longer_legs(s: Skeleton, k: float) -> Skeleton:
    b = s.build
    return standing(replace(b, heads=b.heads + (k - 1) * (b.heads - b.hip_line)), s.shoulder_x, s.hip_x)


_OF_THE_HEAD = {"heads", "head_width", "form", "limbs", "neck_axis", "leg_balance"}


def _smaller_head(s: Skeleton, k: float) -> Skeleton:
    """The same body under a head smaller by the factor: in heads, all of it grows."""
    b = s.build
    grown = {f.name: k * getattr(b, f.name) for f in fields(b) if f.name not in _OF_THE_HEAD}
    return standing(replace(b, heads=1 + k * (b.heads - 1), **grown), k * s.shoulder_x, k * s.hip_x)
