"""What the strip under the head shows: seven views, the variants of a feature, the expressions; each on this very head."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from ....core.features.expression import expressions
from ....core.features.table import feature
from ....core.head.body import Body, Wear, body
from ....core.head.drawn import picture
from ....core.head.points import sizes
from ....core.head.scene import BOX, scene_of
from ....core.kinds import Array
from ....core.landmarks.turn import Turn
from ....core.picture import Picture
from ..tile_strip import Box, Tile

VIEWS = (
    ("profile", Turn(yaw=-90)), ("three-quarter", Turn(yaw=-40)), ("front", Turn()), ("three-quarter", Turn(yaw=40)),
    ("profile", Turn(yaw=90)), ("from below", Turn(pitch=-28)), ("from above", Turn(pitch=28)),
)  # fmt: skip
HAIR_TURN, EAR_TURN = Turn(yaw=30), Turn(yaw=60)
"""Seen so that a feature shows what it is."""


def _plain(b: Body, turn: Turn) -> Picture:
    return picture(scene_of(b, turn), guides=False, hidden=False)


def _worn(table: dict[str, float], points: Array, wear: Wear, turn: Turn) -> Picture:
    return _plain(body(table, points, wear), turn)


def view_tiles(b: Body) -> list[Tile]:
    return [Tile(words, turn, partial(_plain, b, turn), BOX) for words, turn in VIEWS]


def variant_tiles(key: str, table: dict[str, float], points: Array, wear: Wear) -> list[Tile]:
    """Every variant of a feature, drawn close up on the head as it is otherwise."""
    turn = HAIR_TURN if key == "hair" else EAR_TURN if key == "ears" else Turn()
    box = _close_up(key, table)
    out = []
    for v in feature(key).variants:
        choices = wear.choices.with_values(key, v.set).with_absent(key, False)
        worn = replace(wear, choices=choices, school="", settings={}, hair=key == "hair")
        out.append(Tile(v.name, v.name, partial(_worn, table, points, worn, turn), box))
    return out


def expression_tiles(table: dict[str, float], points: Array, wear: Wear, turn: Turn) -> list[Tile]:
    out = []
    for name, e in expressions().items():
        worn = replace(wear, expression=e, school="", settings={})
        out.append(Tile(name, name, partial(_worn, table, points, worn, turn), BOX))
    return out


def _close_up(key: str, table: dict[str, float]) -> Box:
    """What part of the drawing shows a feature, heads about the head's centre."""
    s = sizes(table)
    half = table["face_width_hh"] / 2
    eye, brow, nose, mouth = (table[k] - 0.5 for k in ("eye_station", "brow_station", "nose_base_station", "mouth_station"))
    across = s.eye_x + 0.9 * s.ew
    if key in ("eyes", "brows"):
        return (-across, min(brow, eye - s.opening) - 0.05, 2 * across, eye + 0.6 * s.opening - brow + 0.12)
    if key == "nose":
        return (-0.6 * half, eye - 0.05, 1.2 * half, nose - eye + 0.12)
    if key == "mouth":
        return (-0.75 * half, nose - 0.03, 1.5 * half, mouth - nose + 0.16)
    return BOX
