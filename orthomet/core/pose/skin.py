"""A pose on a figure's masses: the trunk bent, limbs on their bones, hips and shoulders joined again where they grow out of it.

Ankles, wrists and fingers keep the joints they have on the standing figure: they move with their bone.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..figure import ends
from ..figure.frames import about_plumb, swung
from ..figure.join import Pair, Skin, joined, mirror, tube_normals
from ..figure.limbs import Mass
from ..figure.mannequin import ARMS_JOIN, FINGERS, Mannequin, Placed, placed
from ..figure.profile import COS
from ..figure.skeleton import PALM_IN, SIDES
from ..ink.surface import smooth_step
from ..kept import remembered
from ..kinds import Array
from .bones import Posed
from .turns import flip

TRUNK = ("head", "neck", "chest", "waist", "pelvis")
SEAT_FOLLOWS, SEAT_FROM = 0.48, 70.0
"""The seat goes with the thigh by this share, less where that is swung further than so many degrees (own)."""
HOLLOW = 0.42
"""How much of its inner side a raised arm loses at the armpit."""
WRIST_FROM, ANKLE_FROM = 1.70, 1.84
"""From here on a limb moves with what the standing figure's wrist and ankle are joined to."""


@dataclass(frozen=True, eq=False)
class _Rest:
    """What a mannequin's skin owes each of its bones: how much of the trunk follows what, and what joining did at wrists and ankles."""

    bones: Array
    """``(rows, 5)``: share of each trunk bone."""
    shoulder: Array
    """``(rows, spokes)``: how far it goes along with the shoulder of its side."""
    seat: Array
    arm: Array
    """What joining added to the arm, in its rows' frames; the same for the leg, hands in their own frame and feet in theirs."""
    leg: Array
    trunk: Array
    hand: dict[str, Array]
    foot: Array


@remembered(24)
def _rest(m: Mannequin) -> _Rest:
    b, t = m.build, m.torso.station
    y = m.torso.height
    ax = np.abs(m.torso.points[..., 0])
    s = smooth_step
    pelvis = s((t - 0.52) / 0.28)
    waist = s((t - 0.33) / 0.25) * (1 - pelvis)
    chest = s((t + 0.12) / 0.14) * (1 - s((t - 0.33) / 0.25))
    above = np.clip(1 - pelvis - waist - chest, 0, 1)
    head = above * s((0.96 - y) / 0.16) * 0.8
    bones = np.stack([head, above - head, chest, waist, pelvis], -1)
    neck, (corner_x, corner_y), hip = b.neck_width / 2, m.torso.corner, b.hip / 2
    begin = b.shoulder_line - (0.78 - 0.16 * b.form.feminine) * b.neck_length
    out = s((ax - 0.55 * neck - 0.10 * corner_x) / max(0.80 * corner_x - 0.3 * neck, 0.05))
    fall = np.clip(1 - (y - corner_y) / (0.30 * b.trunk), 0, 1) ** 1.2
    shoulder = np.where((y < corner_y)[:, None], out, out * fall[:, None]) * s((y - begin) / (0.5 * (corner_y - begin)))[:, None]
    seat = SEAT_FOLLOWS * s((t - 0.74) / 0.16)[:, None] * np.clip(-COS * 1.6, 0, 1)[None] * s(ax / (0.35 * hip))
    by = (m.skins["finger0_l"].points[-1] - m.unjoined["finger0_l"].points[-1]).mean(0)
    gained = {k: m.skins[k].points - s_.points for k, s_ in m.unjoined.items()}
    turned = m.arm_at.frames[-1] @ about_plumb(PALM_IN) if b.rubber else m.skeleton.hand
    hand = {k: (gained[f"{k}_l"] - by) @ turned for k in ("palm", *FINGERS, "thumb")}
    return _Rest(
        bones, shoulder, seat, np.einsum("rsi,rij->rsj", gained["arm_l"] - by, m.arm_at.frames),
        np.einsum("rsi,rij->rsj", gained["leg_l"], m.leg_at.frames), gained["torso"], hand, gained["foot_l"] @ m.skeleton.foot,
    )  # fmt: skip


@remembered(12)
def posed_mannequin(m: Mannequin, p: Posed) -> Mannequin:
    """A standing figure's skin in a pose."""
    if p.pose.plain:
        return m
    rest = _rest(m)
    grids: dict[str, Array] = {"torso": _bent(m, p, rest, m.torso.points)}
    raised: dict[str, float] = {}
    for side, sign in SIDES:
        arm, leg = p.limbs[f"arm_{side}"], p.limbs[f"leg_{side}"]
        chest = flip(p.frames["chest"], sign)
        up = raised[side] = float(smooth_step(np.asarray((0.25 - float(chest[:, 1] @ arm.frame[:, 1])) / 1.0)))
        turn = p.pose.angles.get(f"wrist_{side}", (PALM_IN,))[0]
        arm_at = placed(_hollow(m.arm, up), arm, m.build.rubber, True, (turn - PALM_IN + 180) % 360 - 180)
        leg_at = placed(m.leg, leg, m.build.rubber, False)
        for kind, mass, at, gained, start in (
            ("arm", m.arm, arm_at, rest.arm, WRIST_FROM), ("leg", m.leg, leg_at, rest.leg, ANKLE_FROM),
        ):  # fmt: skip
            share = smooth_step((mass.v - start) / 0.08)
            grids[f"{kind}_{side}"] = at.points + np.einsum("rsj,rij->rsi", gained, at.frames) * share[:, None, None]
        foot = ends.bent_toes(ends.foot(m.build) + rest.foot, m.build, p.pose.angles.get(f"toes_{side}", (0.0,))[0])
        grids[f"foot_{side}"] = foot @ p.feet[side].T + (leg_at.centres[_row(m.leg.v)] if m.build.rubber else leg.tip)
        _hand(m, p, rest, side, arm_at, grids)
    skins = {}
    for name, grid in grids.items():
        here = mirror(grid) if name.endswith("_r") else grid
        skins[name] = Skin(here, tube_normals(here))
    skins = joined(skins, _pairs(m, p, raised))
    return replace(m, skins={k: skins[k] for k in m.skins}, fades=_fades(p, raised))


def _row(v: Array) -> int:
    return int(np.argmin(np.abs(v - 2.0)))


def _bent(m: Mannequin, p: Posed, rest: _Rest, grid: Array) -> Array:
    """A trunk's grid in a pose."""
    x = grid[..., 0]
    for side, sign in SIDES:
        shift = p.shift[side]
        if float(np.abs(shift).max()) > 1e-9:
            grid = grid + (rest.shoulder * (x * sign > 0))[..., None] * flip(shift, sign)
    for side, sign in SIDES:
        thigh = flip(p.limbs[f"leg_{side}"].frame, sign)
        pelvis = p.frames["pelvis"]
        was = swung(np.eye(3), flip(m.skeleton.leg.frame, sign)[:, 1])
        turn = pelvis.T @ swung(pelvis, thigh[:, 1]) @ was.T
        angle = float(np.degrees(np.arccos(np.clip((np.trace(turn) - 1) / 2, -1, 1))))
        if angle > 1:
            hip = flip(m.skeleton.leg.root, sign)
            share = (rest.seat * (x * sign > 0))[..., None] * min(1.0, (SEAT_FROM / angle) ** 1.6)
            grid = grid + share * ((grid - hip) @ (turn - np.eye(3)).T)
    moves = [p.moved(k) for k in TRUNK]
    turns = np.einsum("rb,bij->rij", rest.bones, np.stack([r for r, _ in moves]))
    shifts = rest.bones @ np.stack([c for _, c in moves])
    return np.asarray(np.matmul(grid, turns.transpose(0, 2, 1)) + shifts[:, None])


def _hollow(arm: Mass, up: float) -> Mass:
    """A raised arm's inner side gives way: the armpit."""
    if up <= 0:
        return arm
    share = 1 - HOLLOW * up * (1 - smooth_step((arm.v - 0.05) / 0.32))[:, None]
    return replace(arm, across=np.where(arm.across < 0, arm.across * share, arm.across))


def _hand(m: Mannequin, p: Posed, rest: _Rest, side: str, arm_at: Placed, grids: dict[str, Array]) -> None:
    (curl,) = p.pose.angles.get(f"fingers_{side}", (ends.CURL,))
    made = ends.hand(m.build, curl)
    rubber = m.build.rubber
    wrist = arm_at.centres[-1] if rubber else p.limbs[f"arm_{side}"].tip
    turned = arm_at.frames[-1] @ about_plumb(PALM_IN) if rubber else p.hands[side]
    for name, grid in (("palm", made.palm), *zip(FINGERS, made.fingers, strict=True), ("thumb", made.thumb)):
        grids[f"{name}_{side}"] = (grid + rest.hand[name]) @ turned.T + wrist


def _pairs(m: Mannequin, p: Posed, raised: dict[str, float]) -> list[Pair]:
    """Hips and shoulders: the further a limb is lifted, the wider it blends."""
    b = m.build
    soft = 0.8 + 0.4 * b.form.softness
    out = []
    for side, sign in SIDES:
        d = flip(p.frames["pelvis"], sign).T @ p.limbs[f"leg_{side}"].frame[:, 1]
        bent = float(smooth_step(np.asarray((0.95 - float(d[1])) / 0.9)))
        v = m.leg.v
        fade = 1 - smooth_step((v - 0.07 - 0.08 * bent) / (0.17 + 0.22 * bent))
        out.append(Pair("torso", f"leg_{side}", (0.34 + 0.26 * bent) * b.thigh_girth * soft * fade, v < 0.25 + 0.30 * bent))
        up, v = raised[side], m.arm.v
        fade = 1 - smooth_step((v - 0.06 - 0.06 * up) / (0.26 + 0.14 * up))
        out.append(
            Pair(
                "torso",
                f"arm_{side}",
                0.42 * b.upper_arm_girth * (soft + 0.9 * up) * fade,
                v < 0.36 + 0.2 * up,
                m.torso.station < ARMS_JOIN,
            )
        )
    return out


def _fades(p: Posed, raised: dict[str, float]) -> dict[tuple[str, str], float]:
    """Lines that a pose does away with, by mass and name."""
    out: dict[tuple[str, str], float] = {("torso", "collar bone"): 1 - 0.75 * max(raised.values())}
    groin = 1.0
    for side, sign in SIDES:
        d = flip(p.frames["pelvis"], sign).T @ p.limbs[f"leg_{side}"].frame[:, 1]
        f = float(np.clip(1.25 - np.degrees(np.arctan2(d[2], max(float(d[1]), 1e-3))) / 36, 0, 1))
        out[f"leg_{side}", "fold of the seat"] = f
        out[f"leg_{side}", "hollow of the knee"] = float(np.clip(1 - abs(p.limbs[f"leg_{side}"].bend) / 70, 0, 1))
        groin = min(groin, 0.15 + 0.85 * f)
    return out | {("torso", "groin"): groin}


def coarse_skin(m: Mannequin, p: Posed) -> dict[str, Array]:
    """Every other row and spoke of a posed figure's skin, closed, ``(rows, spokes + 1, 3)`` by mass.

    Hips and shoulders are joined as they are standing.
    """
    c = _coarse(m)
    grids: dict[str, Array] = {"torso": _bent(m, p, c.rest, c.torso + c.rest.trunk)}
    for side, sign in SIDES:
        arm, leg = p.limbs[f"arm_{side}"], p.limbs[f"leg_{side}"]
        up = float(smooth_step(np.asarray((0.25 - float(flip(p.frames["chest"], sign)[:, 1] @ arm.frame[:, 1])) / 1.0)))
        turn = p.pose.angles.get(f"wrist_{side}", (PALM_IN,))[0]
        arm_at = placed(_hollow(c.arm, up), arm, m.build.rubber, True, (turn - PALM_IN + 180) % 360 - 180)
        leg_at = placed(c.leg, leg, m.build.rubber, False)
        grids[f"arm_{side}"] = arm_at.points + c.rest.arm @ arm_at.frames.transpose(0, 2, 1)
        grids[f"leg_{side}"] = leg_at.points + c.rest.leg @ leg_at.frames.transpose(0, 2, 1)
        foot = ends.bent_toes(c.foot, m.build, p.pose.angles.get(f"toes_{side}", (0.0,))[0])
        grids[f"foot_{side}"] = foot @ p.feet[side].T + (leg_at.centres[-1] if m.build.rubber else leg.tip)
        rubber = m.build.rubber
        wrist = arm_at.centres[-1] if rubber else arm.tip
        turned = arm_at.frames[-1] @ about_plumb(PALM_IN) if rubber else p.hands[side]
        hand = _coarse_hand(m, p.pose.angles.get(f"fingers_{side}", (ends.CURL,))[0])
        for name, grid in hand.items():
            grids[f"{name}_{side}"] = grid @ turned.T + wrist
    return {k: np.concatenate([g, g[:, :1]], 1) for k, v in grids.items() for g in (mirror(v) if k.endswith("_r") else v,)}


@dataclass(frozen=True, eq=False)
class _Coarse:
    rest: _Rest
    torso: Array
    arm: Mass
    leg: Mass
    foot: Array


def _every_other(n: int) -> Array:
    return np.asarray(np.unique(np.append(np.arange(0, n, 2), n - 1)))


@remembered(8)
def _coarse(m: Mannequin) -> _Coarse:
    rest = _rest(m)
    t = _every_other(len(m.torso.height))

    def thin(mass: Mass) -> Mass:
        r = _every_other(len(mass.v))
        return Mass(
            mass.v[r],
            mass.along[r],
            mass.across[r][:, ::2],
            mass.ahead[r][:, ::2],
            mass.share[r],
            mass.hinge[r],
            mass.twist[r],
            mass.end[r],
        )

    a, g, f = (_every_other(len(x)) for x in (m.arm.v, m.leg.v, ends.FOOT_ROWS))
    small = _Rest(rest.bones[t], rest.shoulder[t][:, ::2], rest.seat[t][:, ::2], rest.arm[a][:, ::2], rest.leg[g][:, ::2], rest.trunk[t][:, ::2],
                  rest.hand, rest.foot[f][:, ::2])  # fmt: skip
    return _Coarse(small, m.torso.points[t][:, ::2], thin(m.arm), thin(m.leg), (ends.foot(m.build) + rest.foot)[f][:, ::2])


@remembered(16)
def _coarse_hand(m: Mannequin, curl: float) -> dict[str, Array]:
    rest, made = _rest(m), ends.hand(m.build, curl)
    parts = (("palm", made.palm), *zip(FINGERS, made.fingers, strict=True), ("thumb", made.thumb))
    grids: dict[str, Array] = {name: grid + rest.hand[name] for name, grid in parts}
    return {name: grid[_every_other(len(grid))][:, ::2] for name, grid in grids.items()}
