"""A standing figure measured on its skin as a viewer in front of it would, without the drawing's own arithmetic."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from orthomet.core.figure.build import Build
from orthomet.core.figure.mannequin import Mannequin
from orthomet.core.ink.stroke import Stroke
from orthomet.core.kinds import Array


def read_back(m: Mannequin) -> dict[str, float]:
    """Readings found on the joined skin (trunk, hands, feet), across each limb (girths), and between joints (lengths)."""
    b, skins = m.build, {k: s.points for k, s in m.skins.items()}
    torso, wide = skins["torso"], np.ptp(skins["torso"][..., 0], axis=1)
    t = m.torso.station
    joints = m.skeleton.joints
    out = {
        "neck_hw": float(np.interp(0.985, m.torso.height, wide)) / b.head_width,
        "ribcage_hh": float(np.interp(0.34, t, wide)),
        "waist_hh": float(np.interp(m.torso.waist, t, wide)),
        "pelvis_hh": float(np.interp(0.76, t, wide)),
        "heads_tall": max(float(skins[f"foot_{s}"][..., 1].max()) for s in "lr"),
    }
    upper = m.arm.v < 0.34
    arms = np.concatenate([skins[f"arm_{s}"][upper].reshape(-1, 3) for s in "lr"])
    out["shoulder_hh"] = float(np.ptp(arms[:, 0]))
    low = np.concatenate([torso.reshape(-1, 3), *(skins[f"leg_{s}"].reshape(-1, 3) for s in "lr")])
    hips = low[(low[:, 1] > b.shoulder_line + 0.84 * b.trunk) & (low[:, 1] < b.crotch + 0.1 * b.trunk)]
    out["hip_hh"] = float(np.ptp(hips[:, 0]))
    middle = torso[:, [0, torso.shape[1] // 2]]
    out["trunk_hh"] = float(middle[..., 1].max()) - b.shoulder_line
    if not b.rubber:
        out |= _girths(m)
    foot = (skins["foot_l"] - m.skeleton.leg.tip) @ m.skeleton.foot
    out["foot_width_hh"], out["foot_hh"] = float(np.ptp(foot[..., 0], axis=1).max()), float(np.ptp(foot[..., 2]))
    out["ankle_height_hh"] = out["heads_tall"] - float(joints["ankle_l"][1])
    hand = m.arm_at.frames[-1] if b.rubber else None
    if hand is None:
        palm = (skins["palm_l"] - m.skeleton.arm.tip) @ m.skeleton.hand
        out["hand_width_hh"] = float(np.ptp(palm[5:, :, 0], axis=1).max())

    def between(a: str, c: str) -> float:
        return float(np.linalg.norm(joints[a] - joints[c]))

    out["upper_arm_hh"] = between("shoulder_l", "elbow_l") + b.shoulder_drop
    out["forearm_hh"], out["hand_hh"] = between("elbow_l", "wrist_l"), between("wrist_l", "fingertip_l")
    out["leg_balance"] = between("hip_l", "knee_l") / between("knee_l", "ankle_l")
    return out


def _girths(m: Mannequin) -> dict[str, float]:
    def across(side: str, which: str) -> Array:
        at = m.arm_at if which == "arm" else m.leg_at
        local = np.einsum("rsj,rjk->rsk", m.skins[f"{which}_{side}"].points - at.centres[:, None], at.frames)
        return np.ptp(local[..., 0], axis=1)

    def over(v: Array, w: Array, a: float, c: float, pick: Callable[[Array], float]) -> float:
        return float(pick(w[(v > a) & (v < c)]))

    arm, leg = across("l", "arm"), across("l", "leg")
    av, lv = m.arm.v, m.leg.v
    return {
        "upper_arm_girth_hh": float(np.interp(0.51, av, arm)), "forearm_girth_hh": over(av, arm, 1.1, 1.45, np.max),
        "wrist_girth_hh": over(av, arm, 1.7, 1.99, np.min), "thigh_girth_hh": float(np.interp(0.25, lv, leg)),
        "knee_girth_hh": float(np.interp(1.0, lv, leg)), "calf_girth_hh": over(lv, leg, 1.1, 1.6, np.max),
        "ankle_girth_hh": over(lv, leg, 1.75, 1.97, np.min),
    }  # fmt: skip


def off(b: Build, found: dict[str, float], wanted: dict[str, float]) -> dict[str, float]:
    """Readings that differ from what was planned, in shares of a head."""
    return {k: v - wanted[k] for k, v in found.items() if k in wanted}


def crosses(s: Stroke) -> bool:
    """Whether an open stroke runs over itself, its ends apart."""
    p = s.points
    if len(p) < 8 or s.closed:
        return False
    a, d = p[:-1], np.diff(p, axis=0)
    i, j = np.triu_indices(len(d), 4)
    near = np.hypot(*(a[i] - a[j]).T) < 2.2 * np.hypot(*d.T).max()
    i, j = i[near], j[near]
    q = a[j] - a[i]
    den = d[i, 0] * d[j, 1] - d[i, 1] * d[j, 0]
    den = np.where(np.abs(den) < 1e-12, 1e-12, den)
    t, u = (q[:, 0] * d[j, 1] - q[:, 1] * d[j, 0]) / den, (q[:, 0] * d[i, 1] - q[:, 1] * d[i, 0]) / den
    ends = (i < 3) & (j > len(d) - 5)
    return bool(((t > 0.02) & (t < 0.98) & (u > 0.02) & (u < 0.98) & ~ends).any())
