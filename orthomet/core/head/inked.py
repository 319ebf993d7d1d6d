"""A head made ready for ink: its surfaces with hair, ears, neck and shoulders, and every line a face has."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np

from ..features.pens import HEAD_MM, LinePlan
from ..hair.dressed import Hair
from ..hair.style import Big
from ..ink.contours import Curves
from ..ink.drawing import whole
from ..ink.shape import Lines, Shape
from ..ink.stroke import Weights
from ..ink.surface import Line, Pen, Stuff, Surface, smooth_step
from ..kinds import Array
from ..landmarks.turn import Turn
from ..picture import Ink, Trace
from .ears import ear_lines, ear_surface
from .neck import neck_of
from .outline import knots
from .solid import Solid, solid, surface_normals
from .strokes import RIDGE, Stroke

RINGS, SPOKES = 77, 116
NO_EARS, RIM_ONLY = 2, 1
FEW = 0.4
"""Fewer inner lines than this share: none on neck and ears."""
COVERED = 0.10
"""Skull this far within the hair's ground is never seen."""
FEATURE_LIFT = 0.010
FAR_WING = 24.0
"""Yaw from which the far wing of the nose is no line of its own (own)."""
RIDGE_FROM, RIDGE_TO = 14.0, 66.0
"""Yaw between which the nose is drawn by its profile; before that by its lit side, beyond by the contour itself."""


def with_jaw_shut(head: Solid) -> Solid:
    """The same head with its jaw shut: neck and ears know nothing of an open one."""
    return solid(head.table, replace(head.make, drop=0.0)) if head.make.drop else head


@lru_cache(maxsize=10)
def skin(head: Solid) -> Surface:
    """The head itself, its jaw as far open as it is."""
    t = (1 - np.cos(np.pi * np.linspace(0.0, 1.0, RINGS))) / 2
    v = np.linspace(-1, 1, SPOKES + 1)
    phi = np.pi * np.sign(v) * np.abs(v) ** 1.2
    points = head.posed(head.around(phi[None, :], np.clip(t, 1e-6, 1 - 1e-6)[:, None]))
    normals = surface_normals(points)
    normals[0], normals[-1] = (0.0, -1.0, 0.0), (0.0, 1.0, 0.0)
    return Surface("head", points, normals, Stuff.SKIN, True)


@lru_cache(maxsize=10)
def shape_of(head: Solid, hair: Hair | None, ears: int) -> Shape:
    """Everything of a head that hides something. Kept while all of it is the same."""
    whole_head = skin(head)
    if hair is not None:
        free = hair.covers(whole_head.points)
        fade = np.where(free > 0.02, -1.0, 1.0)
        hidden = (free > COVERED).astype(float) if hair.style.big is not Big.CURLY else None
        whole_head = Surface("head", whole_head.points, whole_head.normals, Stuff.SKIN, True, fade=fade, hidden=hidden)
    rest = with_jaw_shut(head)
    surfaces = [whole_head, neck_of(rest).surface]
    if ears != NO_EARS:
        for side in (1, -1):
            ear = ear_surface(rest, side)
            if hair is not None and hair.over_ears:
                ear = Surface(ear.name, hair.pressed(ear.points), ear.normals, ear.stuff, True)
            surfaces.append(ear)
    return Shape((*surfaces, *(hair.surfaces if hair is not None else ())))


@lru_cache(maxsize=10)
def head_lines(head: Solid, hair: Hair | None, ears: int, within: float = 1.0) -> tuple[Line, ...]:
    """Lines that are no features: jaw, neck, ears, hair."""
    rest = with_jaw_shut(head)
    out: list[Line] = [*_jaw(head), *(neck_of(rest).lines if within >= FEW else ())]
    if ears != NO_EARS:
        for side in (1, -1):
            for x in ear_lines(rest, side, ears != RIM_ONLY and within >= FEW):
                points = hair.pressed(x.points) if hair is not None else x.points
                out.append(Line(points, x.pen, x.profile, x.surface, name=x.name, lift=x.lift))
    return (*out, *(hair.lines if hair is not None else ()))


def _jaw(head: Solid) -> list[Line]:
    """From under the ear's lobe to the jaw's corner: it swells into the corner and is gone at the lobe."""
    low, jaw = head.table["ear_bottom_station"], knots(head.table).stations[2]
    s = np.linspace(0, 1, 24)
    t = low + 0.006 + (jaw + 0.03 - low) * s
    z = -0.010 + 0.055 * s**1.6
    out = []
    for side, k in ((1, "l"), (-1, "r")):
        points = head.posed(np.column_stack([side * head.side(t, z), t, z]))
        out.append(
            Line(points, Pen.STRAND, 1.1 * np.sin(np.pi * (0.12 + 0.88 * s)) ** 0.8, "head", name=f"jaw line {k}", lift=0.006)
        )
    return out


PENS = {Ink.FEATURE: Pen.FEATURE, Ink.DETAIL: Pen.DETAIL, Ink.CONTOUR: Pen.FEATURE}


def feature_lines(drawn: Sequence[Stroke], xyz: Sequence[Array]) -> list[Line]:
    """A face's strokes, each where it lies on the head, with its weight: lids heavy outward, lashes and ends run out."""
    out = []
    for s, points in zip(drawn, xyz, strict=True):
        p = s.path
        if p.filled:
            out.append(
                Line(points, Pen.FILL, np.ones(len(points)), "head", closed=True, name=f"{p.role}:{p.name}", lift=FEATURE_LIFT)
            )
            continue
        if p.closed:
            points = np.concatenate([points, points[:1]])
        weight = np.ones(len(points)) if p.closed else _weight(p.name, len(points))
        out.append(Line(points, PENS[p.role], weight, "head", closed=p.closed, name=p.name, lift=FEATURE_LIFT))
    return out


def _weight(name: str, n: int) -> Array:
    u = np.linspace(0, 1, n)
    if name.startswith("upper lid"):  # from thin at the inner corner to heavy past the middle
        return np.asarray(1.25 * np.clip(u / 0.5, 0.25, 1) * np.clip((1 - u) / 0.1, 0.3, 1))
    if "lash" in name:
        return np.asarray((1 - u) ** 0.8 + 0.05)
    if name == "mouth line":  # heaviest at the corners' side of the middle, drawn out
        return np.asarray(0.25 + 0.75 * smooth_step(np.minimum(u, 1 - u) / 0.16))
    return np.asarray(np.clip(np.minimum(u, 1 - u) / 0.22, 0, 1) ** 0.7 * 0.9 + 0.1)


def wanted(lines: Lines, turn: Turn) -> Array:
    """Which lines a turn shows: the nose by its ridge in the three-quarter, by its bridge from the front."""
    yaw = abs(turn.yaw)

    def shown(name: str) -> bool:
        if name == RIDGE:
            return RIDGE_FROM <= yaw <= RIDGE_TO
        if name.startswith("nostril wing") and yaw >= FAR_WING:
            return name.endswith("r") == (turn.yaw > 0)  # the far one lies behind the ridge
        return name not in ("bridge", "nose side") or yaw < RIDGE_FROM

    return np.array([shown(x.name) for x in lines.lines], bool)


def second_nose(c: Curves, head: Solid, turn: Turn) -> Array:
    """Contours that are nothing but nose, where its ridge is drawn."""
    if not RIDGE_FROM <= abs(turn.yaw) <= RIDGE_TO:
        return np.zeros(len(c.pen), bool)
    p = head.table
    half = 1.3 * p["nose_width_fw"] * p["face_width_hh"] / 2
    x, t, z = c.home[:, 0], c.home[:, 1] + 0.5, c.home[:, 2]
    base = p["nose_base_station"]
    nose = (np.abs(x) < half) & (t > base - 1.25 * p["nose_length_hh"]) & (t < base + 0.03) & (z > 0)
    return np.asarray((c.surface == 0) & (whole(c, nose) > 0.6))


def weights_of(pens: LinePlan) -> Weights:
    """A character's pens in heads."""
    return Weights(*(mm / HEAD_MM for mm in (pens.outer, pens.edge, pens.inner, pens.feature)))


def fill_of(name: str, points: Array) -> Trace:
    """A closed feature shape as it was named by :func:`feature_lines`."""
    role, _, words = name.partition(":")
    return Trace(points, Ink(role), True, True, words)
