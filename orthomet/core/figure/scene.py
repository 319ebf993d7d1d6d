"""A whole figure: its body with the planned head on top, at any turn, as a picture in layers."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..head.body import Body
from ..head.drawn import inked as inked_trace
from ..head.drawn import toned
from ..head.inked import fill_of, weights_of
from ..ink.stroke import USUAL, Weights
from ..kept import remembered
from ..kinds import Array
from ..landmarks.turn import Turn
from ..picture import Ink, Layer, Picture
from ..pose.bones import Posed
from ..pose.guides import layers as pose_layers
from .build import Build
from .construct import construction, ladder, layers
from .heads import Worn, worn, worn_roughly
from .inked import Inked, inked
from .mannequin import Mannequin, mannequin, roughly
from .quick import Quick
from .seen import Seen, seen

LEVEL = Turn()
TONES = (("suit", Ink.SUIT), ("skin", Ink.SKIN), ("hair", Ink.HAIR), ("inside", Ink.INSIDE), ("wear", Ink.WEAR))
VIEWS = (("front", 0.0), ("three-quarter", 35.0), ("side", 90.0), ("back", 180.0))
"""The views a figure is shown from, and how it is turned."""
SIDE_ROOM, OVER, UNDER = 0.34, 0.22, 0.36
"""Around the masses, over the hair and under the floor, heads."""


@dataclass(frozen=True, eq=False)
class Figure:
    """A body ready to be seen, with or without its head."""

    mannequin: Mannequin
    ink: Inked
    head: Worn | None
    weights: Weights
    school: str = ""
    posed: Posed | None = None
    """Its bones in a pose; ``None``: standing."""
    live: Callable[[Turn], Seen] | None = None
    """How it is seen quickly while it is being posed."""

    @property
    def build(self) -> Build:
        return self.mannequin.build

    def at(self, turn: Turn) -> Seen:
        """The figure at a turn about its plumb."""
        return self._views(turn)

    @cached_property
    def _views(self) -> Callable[[Turn], Seen]:
        """Kept by the figure itself, so that they go when it goes."""
        ink, weights, head = self.ink, self.weights, self.head

        @remembered(6)
        def view(turn: Turn) -> Seen:
            return seen(ink, turn, weights, head)

        return view

    @cached_property
    def quick(self) -> Quick:
        """For quick views."""
        return Quick(self.ink, self.head, self.weights)

    def quickly(self, turn: Turn) -> Seen:
        """The figure at a turn while it moves."""
        return self.live(turn) if self.live is not None else self.quick.at(turn)

    @property
    def half(self) -> float:
        """Half the width its picture needs at any turn."""
        return _room(self.mannequin)[0] + SIDE_ROOM

    @property
    def over(self) -> float:
        """How far its picture reaches over the crown: as hair, hats and raised hands do."""
        tops = [_room(self.mannequin)[1]]
        if self.head is not None:
            tops += [self.head.top]
        return OVER + max(0.0, -min(tops))


@remembered(12)
def _room(m: Mannequin) -> tuple[float, float]:
    """How far a body reaches to any side, and its highest place."""
    points = np.concatenate([s.points.reshape(-1, 3) for s in m.skins.values()])
    return max(float(np.hypot(points[:, 0], points[:, 2]).max()), 0.62), float(points[:, 1].min())


@remembered(8)
def figure(
    b: Build, head: Body | None = None, head_turn: Turn = LEVEL, detail: float | None = None, exact: bool = True, school: str = ""
) -> Figure:
    """A build with a head on it, the head turned against the body."""
    m = mannequin(b, exact)
    on = worn(head, m, head_turn) if head is not None else None
    ink = inked(m, detail, on.surfaces if on is not None else ())
    return Figure(m, ink, on, weights_of(head.wear.pens) if head is not None else USUAL, school)


def rough_figure(b: Build, like: Figure, head: Body | None, head_turn: Turn) -> Figure:
    """A build near another one's, made ready in a moment and for quick views, while a dial is held."""
    m = roughly(b, like.mannequin)
    on = worn_roughly(head, m, head_turn, like.head) if head is not None else None
    return Figure(m, inked(m, None, ()), on, like.weights, like.school)


def picture(
    f: Figure,
    turn: Turn = LEVEL,
    guides: bool = True,
    steps: range | None = None,
    tones: bool = True,
    tints: Mapping[Ink, str] | None = None,
    body: bool = True,
    quick: bool = False,
) -> Picture:
    """Layers: the ladder, the steps of the construction, tones, head, body. ``steps`` are those shown, all without it; ``quick``: as while it moves."""
    half, heads = f.half, f.build.heads
    out = [
        ladder(heads, -half + 0.25, half - 0.05),
        *(_guide_layers(f, turn, steps if guides else range(0)) if guides or not quick else ()),
    ]
    s = f.quickly(turn) if quick else f.at(turn)
    fills = [t for name, ink in TONES for t in toned(name, s.tones[name], ink)]
    out.insert(0, Layer("tones", "Tones", tuple(fills), tones and body))
    out.append(Layer("head", "Head", (*(fill_of(n, p) for n, p in s.fills), *map(inked_trace, s.head)), body))
    out.append(Layer("body", "Body", tuple(map(inked_trace, s.strokes)), body))
    box = (-half, -f.over, 2 * half, heads + f.over + UNDER)
    return Picture(tuple(out), box, "Figure", tints=tuple((tints or {}).items()))


def _guide_layers(f: Figure, turn: Turn, steps: range | None) -> list[Layer]:
    """The standing figure's construction; of a posed one the bones and what they say."""
    if f.posed is not None:
        return pose_layers(f.posed, turn, steps if steps is None or not len(steps) else None)
    return layers(construction(f.mannequin, turn, f.school), steps)


def outlines(f: Figure, turn: Turn = LEVEL) -> list[Array]:
    """Closed outlines (even–odd) of all that is seen, heads from the crown."""
    return f.at(turn).silhouette
