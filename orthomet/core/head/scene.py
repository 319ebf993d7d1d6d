"""A head as it is seen: a body turned, its guides and landmarks with what of them is visible, and its drawing."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property, partial

import numpy as np

from ..ink.drawing import Drawing, Sight, drawn, sight
from ..ink.shape import CENTRE, stacked
from ..ink.stroke import Stroke
from ..ink.surface import Stuff
from ..ink.tones import whole_of
from ..ink.view import Buffer, View, as_steps, cell_of
from ..kinds import Array
from ..landmarks.schema import FRONT
from ..landmarks.turn import Turn
from .body import BARE, Body, Part, Wear, body
from .inked import second_nose, wanted, weights_of
from .schooling import Wrapped
from .turned import Curve, TurnedHead

BOX = (-0.80, -0.72, 1.60, 1.72)
"""x, y, width and height of a drawing about the head's centre, in heads."""


@dataclass(frozen=True, eq=False)
class Scene:
    """Everything of one view: what a picture, a file or a stage takes its lines from."""

    view: TurnedHead
    body: Body
    guides: tuple[tuple[Part, Curve], ...]
    landmarks: dict[str, tuple[tuple[float, float], bool]]
    sight: Sight
    moving: bool = False
    """Drawn as while it moves: quickly."""

    @cached_property
    def outline(self) -> Array:
        """The closed outer outline of the head without hair, ``(n, 2)``."""
        return self.view.outline()

    @cached_property
    def drawing(self) -> Drawing:
        """Strokes, fills and tones of the view."""
        lines = self.body.lines
        hush = partial(second_nose, head=self.body.head, turn=self.view.turn)
        return drawn(self.sight, lines, wanted(lines, self.view.turn), hush, weights_of(self.body.wear.pens), BOX, self.moving)

    @cached_property
    def silhouette(self) -> list[Array]:
        """The closed outline of all that is seen (even–odd)."""
        low, high = np.array(BOX[:2]), np.array(BOX[:2]) + BOX[2:]
        return [np.clip(p, low, high) for p in whole_of(self.sight.buffer, self.drawing.strokes)]

    @cached_property
    def skull(self) -> list[Stroke]:
        """Outline of the skull where hair covers it."""
        bare = sight(self.body.bare, self.sight.view)
        if self.body.hair is None or bare.contours is None:
            return []
        whole = drawn(bare, stacked((), self.body.bare), frame=BOX).strokes
        return [part for s in whole for part in _under(s, self.sight.buffer, self.body)]


def _under(s: Stroke, buffer: Buffer, b: Body) -> list[Stroke]:
    """The stretches of a stroke that lie under hair or wear."""
    label = buffer.flat[cell_of(s.points[:, 0].astype(np.float32), s.points[:, 1].astype(np.float32))]
    gone = b.shape.stuff_of_label[label] != Stuff.SKIN
    gone &= label >= 0
    change = np.flatnonzero(np.diff(np.concatenate([[0], gone.astype(np.int8), [0]])))
    return [
        replace(s, points=s.points[i:j], widths=s.widths[i:j], closed=False)
        for i, j in zip(change[::2], change[1::2], strict=True)
        if j - i >= 4
    ]


def scene(table: Mapping[str, float], points: Array, turn: Turn, wear: Wear = BARE, distance: float | None = None) -> Scene:
    """A head with these traits and front landmarks (head units, schema order) at a turn."""
    return scene_of(body(table, points, wear), turn, distance)


def scene_of(b: Body, turn: Turn, distance: float | None = None, moving: bool = False) -> Scene:
    """A body at a turn, seen from a distance in heads (``None``: without perspective).

    Landmarks keep their front place exactly; the solid gives them their depth.
    """
    view = TurnedHead.of(b.head, turn, distance)
    now = sight(b.shape, View(turn, distance), moving)
    q = view.seen(b.xyz)
    seen = view.visible(b.xyz, b.lift)
    if b.hair is not None:
        seen[seen] = ~_covered(now, b.xyz[seen], b.lift[seen])
    guides: list[tuple[Part, Curve]] = []
    landmarks: dict[str, tuple[tuple[float, float], bool]] = {}
    for part in b.parts:
        at = q[part.at]
        shown = seen[part.at] if part.on_skin else np.ones(len(at), bool)
        if part.kind == "landmark":
            rows = zip(FRONT.names, at[:, :2].tolist(), shown.tolist(), strict=True)
            landmarks = {n: ((x, y), v) for n, (x, y), v in rows}
        else:
            guides.append((part, Curve(part.name, at[:, :2], at[:, 2], shown)))
    guides += [(Part("guide", w.name, slice(0), w.step, w.key, False), _ball(view, w)) for w in b.balls]
    return Scene(view, b, tuple(guides), landmarks, now, moving)


def _covered(now: Sight, xyz: Array, lift: Array) -> Array:
    """Whether hair, ears or neck lie before points of the head."""
    q = now.view.seen((xyz - CENTRE).T)
    at = cell_of(q[0].astype(np.float32), q[1].astype(np.float32))
    return np.asarray(now.buffer.lowest[at] > as_steps(q[2] + lift + 0.006))


def _ball(view: TurnedHead, w: Wrapped) -> Curve:
    """A ball's outline: a circle at any turn."""
    assert w.ball is not None
    centre, r = w.ball
    q = view.seen(centre[None])[0]
    grown = 1.0 if view.distance is None else view.distance / max(view.distance - float(q[2]), 0.1)
    a = np.linspace(0, 2 * np.pi, 97)
    ring = q[:2] + r * grown * np.column_stack([np.cos(a), np.sin(a)])
    return Curve(w.name, ring, np.full(97, q[2]), np.ones(97, bool))
