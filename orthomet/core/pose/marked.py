"""A posed figure's landmarks: where a picture of it would have them."""

from __future__ import annotations

import numpy as np

from ..figure.skeleton import SIDES
from ..kinds import Array
from ..landmarks.turn import Turn, rotation
from .bones import Posed
from .turns import flip


def landmarks_of(p: Posed) -> dict[str, Array]:
    """Figure landmarks in space, heads, ``(3,)`` each."""
    b, j, s = p.rest.build, p.joints, p.rest
    at: dict[str, Array] = {"vertex": j["crown"], "gnathion": j["crown"] + p.frames["head"][:, 1]}
    chest = p.frames["chest"]
    rest = s.joints["chest"]
    at["suprasternale"] = p.origins["chest"] + chest @ (np.array([0.0, b.shoulder_line, 0.4 * b.chest]) - rest)
    pelvis = p.frames["pelvis"]
    at["perineum"] = p.origins["pelvis"] + pelvis @ np.array([0.0, b.crotch - b.hip_line, 0.0])
    for side, sign in SIDES:
        up = flip(chest, sign)[:, 1] * -b.shoulder_drop
        at[f"acromion_{side}"] = flip(p.limbs[f"arm_{side}"].root + up, sign)
        at |= {
            f"{mark}_{side}": j[f"{joint}_{side}"]
            for mark, joint in (
                ("radiale", "elbow"), ("stylion", "wrist"), ("dactylion", "fingertip"), ("trochanterion", "hip"), ("patella", "knee"),
                ("malleolus", "ankle"), ("heel", "heel"), ("toe_tip", "toe"),
            )
        }  # fmt: skip
    return at


def marked(p: Posed, turn: Turn) -> dict[str, Array]:
    """Figure landmarks as seen at a turn, heads, ``(2,)`` each."""
    v = rotation(turn)
    out = {k: (v @ q)[:2] for k, q in landmarks_of(p).items()}
    if p.pose.air == 0:
        out["floor"] = np.array([0.0, p.rest.build.heads])
    return out


def depths(p: Posed, turn: Turn) -> dict[str, float]:
    """By limb segment, how far it is turned out of the picture's plane, degrees."""
    v, j = rotation(turn), p.joints
    out = {}
    for side, sign in SIDES:
        chest = flip(p.frames["chest"], sign)
        top = flip(p.limbs[f"arm_{side}"].root - chest[:, 1] * p.rest.build.shoulder_drop, sign)
        ends = {
            "upper_arm": (top, j[f"elbow_{side}"]), "forearm": (j[f"elbow_{side}"], j[f"wrist_{side}"]), "hand": (j[f"wrist_{side}"], j[f"fingertip_{side}"]),
            "thigh": (j[f"hip_{side}"], j[f"knee_{side}"]), "shin": (j[f"knee_{side}"], j[f"ankle_{side}"]), "foot": (j[f"heel_{side}"], j[f"toe_{side}"]),
        }  # fmt: skip
        for name, (a, c) in ends.items():
            d = v @ (c - a)
            out[f"{name}_{side}"] = float(np.degrees(np.arctan2(abs(d[2]), np.hypot(d[0], d[1]))))
    return out
