"""A pose on paper: stick figures to choose from, and the chosen one large with its line of action and its balance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..figure.scene import Figure, picture
from ..figure.skeleton import Skeleton
from ..landmarks.turn import Turn
from ..picture import Ink, Layer, Picture, Text, Trace, line, shifted
from .balance import balance
from .bones import Posed, posed
from .figure import posed_figure
from .guides import CHAINS, on_picture, tilt
from .model import Pose

SMALL = 0.42
"""Alternatives are drawn at this share of the chosen one's size."""
WORDS = 0.17
ROUND = np.linspace(0, 2 * np.pi, 49)


def stick(p: Posed, turn: Turn) -> list[Trace]:
    """A stick figure as one doodles it: head, shoulders and hips as lines, limbs as lines."""
    b, j = p.rest.build, p.joints
    out = [
        line(on_picture(np.stack([j[n] for n in names]), turn), Ink.CONTOUR, name) for name, names in CHAINS if name != "spine"
    ]
    out.append(line(on_picture(np.stack([j[n] for n in ("neck", "chest", "waist", "pelvis")]), turn), Ink.CONTOUR, "spine"))
    for name in ("shoulder", "hip"):
        out.append(line(on_picture(np.stack([j[f"{name}_r"], j[f"{name}_l"]]), turn), Ink.CONTOUR, f"{name} line"))
    head = p.frames["head"]
    middle = j["crown"] + 0.5 * head[:, 1]
    ring = middle + 0.5 * b.head_width * np.cos(ROUND)[:, None] * head[:, 0] + 0.5 * np.sin(ROUND)[:, None] * head[:, 1]
    seen = on_picture(ring, turn)
    wide = 0.43 * np.abs(np.sin(np.radians(turn.yaw)))
    if wide > 0.5 * b.head_width * abs(np.cos(np.radians(turn.yaw))):  # from the side a head is as deep as it is long
        ring = middle + 0.43 * np.cos(ROUND)[:, None] * head[:, 2] + 0.5 * np.sin(ROUND)[:, None] * head[:, 1]
        seen = on_picture(ring, turn)
    out.append(line(seen, Ink.CONTOUR, "head"))
    nose = on_picture(np.stack([middle + 0.30 * head[:, 2], middle + 0.47 * head[:, 2] + 0.08 * head[:, 1]]), turn)
    out.append(line(nose, Ink.DETAIL, "where it looks"))
    return out


def stick_picture(s: Skeleton, pose: Pose, turn: Turn | None = None) -> Picture:
    """A pose as a stick figure on its floor."""
    p = posed(s, pose)
    traces = stick(p, turn or pose.turn)
    at = np.concatenate([t.points for t in traces])
    low, high = at.min(0), at.max(0)
    half = max(abs(float(low[0])), abs(float(high[0]))) + 0.2
    top = min(float(low[1]), 0.0) - 0.15
    floor = line([(-half, s.build.heads), (half, s.build.heads)], Ink.GUIDE, "floor")
    box = (-half, top, 2 * half, s.build.heads - top + 0.25)
    return Picture((Layer("stick", "Stick figure", (floor, *traces)),), box, pose.name or "Pose")


def told(p: Posed, turn: Turn, name: str = "the figure") -> list[str]:
    """What a pose says in words: balance, tilt, what does not reach, what is held at its limit."""
    shoulders, hips = tilt(p, turn)
    out = [balance(p).words(name)]
    against = " against one another" if shoulders * hips < -1 else ""
    out.append(f"Shoulders {_slope(shoulders)}, hips {_slope(hips)}{against}.")
    for end, off in p.missed.items():
        kind, side = end.split("_")
        words = {"wrist": "hand", "ankle": "foot"}[kind]
        out.append(f"The {'left' if side == 'l' else 'right'} {words} is held {off:.2f} heads beyond its reach.")
    if p.limited:
        names = ", ".join(dict.fromkeys(joint_words(j) for j in p.limited))
        out.append(f"At its limit: {names}.")
    return out


def joint_words(joint: str) -> str:
    """A joint in the artist's words."""
    kind, _, side = joint.partition("_")
    words = {"thigh": "hip", "arm": "shoulder", "foot": "ankle", "clavicle": "collar bone"}.get(kind, kind)
    return f"{'left' if side == 'l' else 'right'} {words}" if side else words


def _slope(degrees: float) -> str:
    if abs(degrees) < 1:
        return "level"
    return f"fall {abs(degrees):.0f}° to the picture’s {'right' if degrees > 0 else 'left'}"


def pose_sheet(f: Figure, pose: Pose, others: Sequence[Pose], name: str = "") -> Picture:
    """The chosen pose large with its guides, the alternatives small beside it, what it says under it."""
    shown = posed_figure(f, pose)
    turn = pose.turn
    main = picture(shown, turn, True)
    x0, y0, wide, _ = main.box
    heads = f.build.heads
    layers = [ly for ly in main.layers if ly.id != "ladder"]
    words: list[Trace | Text] = []
    p = shown.posed or posed(f.mannequin.skeleton, pose)
    y = heads + 0.35
    for sentence in ((pose.name or "The pose").capitalize(), *told(p, turn, name or "the figure")):
        words.append(Text((x0, y), sentence, size=WORDS))
        y += 1.5 * WORDS
    small: list[Trace | Text] = []
    right = x0 + wide + 0.2
    x, row, least = right, 0.0, y0
    widest = right
    for k, other in enumerate(others):
        pic = stick_picture(f.mannequin.skeleton, other)
        bx, by, bw, bh = pic.box
        if k and k % 4 == 0:
            x, row = right, row + SMALL * (heads + 1.2)
        move = np.array([x - SMALL * bx, row - SMALL * by])
        for item in pic.layers[0].items:
            if isinstance(item, Trace):
                small.append(shifted(_scaled(item, SMALL), move))
        small.append(
            Text((x + SMALL * bw / 2, row + SMALL * (bh + 0.35)), other.name or f"alternative {k + 1}", size=0.8 * WORDS, align=0)
        )
        x += SMALL * bw + 0.15
        widest = max(widest, x)
        least = min(least, row)
    low = max(y, row + SMALL * (heads + 1.2)) + 0.1
    layers.append(Layer("words", "What it says", tuple(words)))
    if small:
        layers.append(Layer("alternatives", "Alternatives", tuple(small)))
    return Picture(tuple(layers), (x0, y0, max(widest - x0, wide), low - y0), "Poses", tints=main.tints)


def _scaled(t: Trace, k: float) -> Trace:
    return replace(t, points=np.asarray(t.points) * k, widths=None if t.widths is None else np.asarray(t.widths) * k)
