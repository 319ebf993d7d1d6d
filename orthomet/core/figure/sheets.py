"""A figure's sheets: four views on one floor with the ladder, and the construction step by step."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from ..landmarks.turn import Turn
from ..picture import Ink, Layer, Picture, Text, Trace, shifted
from .construct import STEPS, ladder
from .scene import LEVEL, UNDER, VIEWS, Figure, picture

WORDS = 0.17


def views_sheet(f: Figure) -> Picture:
    """Front, three-quarter, side and back on one floor, heads marked beside and behind them."""
    return row_of(f, VIEWS)


def row_of(
    f: Figure, views: Sequence[tuple[str, float]], guides: bool = False, steps: range | None = None, tones: bool = True,
    tints: Mapping[Ink, str] | None = None, body: bool = True, quick: int = 0,
) -> Picture:  # fmt: skip
    """Named turns side by side on one floor; the first ``quick`` of them drawn quickly, as while they move."""
    wide = 2 * f.half
    shots = [
        (picture(f, Turn(yaw=yaw), guides, steps, tones, tints, body, k < quick), k * wide, words)
        for k, (words, yaw) in enumerate(views)
    ]
    return replace(_together(f, shots, wide, "Views"), tints=tuple((tints or {}).items()))


def steps_sheet(f: Figure, turn: Turn = LEVEL) -> Picture:
    """Every step with those before it, then the figure itself."""
    wide = 2 * f.half
    shots = [
        (picture(f, turn, steps=range(k), body=False), (k - 1) * wide, f"{k}. {STEPS[k - 1]}") for k in range(1, len(STEPS) + 1)
    ]
    shots.append((picture(f, turn, guides=False), len(STEPS) * wide, "The figure"))
    return _together(f, shots, wide, "Construction")


def _together(f: Figure, shots: list[tuple[Picture, float, str]], wide: float, title: str) -> Picture:
    found: dict[str, tuple[str, list[Trace | Text], bool]] = {}
    words: list[Trace | Text] = []
    heads = f.build.heads
    for p, x, name in shots:
        words.append(Text((x, heads + 0.27), name, size=WORDS, align=0))
        for ly in p.layers:
            if ly.id == "ladder" or not ly.visible:
                continue
            _, items, _ = found.setdefault(ly.id, (ly.title, [], ly.visible))
            items += [shifted(i, np.array([x, 0.0])) if isinstance(i, Trace) else i for i in ly.items]
    left, right = -wide / 2, wide * (len(shots) - 0.5)
    order = [k for k in found if k.startswith("tones")] + [k for k in found if not k.startswith("tones")]
    layers = [ladder(heads, left + 0.25, right - 0.05)]
    layers += [Layer(k, found[k][0], tuple(found[k][1]), found[k][2]) for k in order]
    layers.append(Layer("names", "Names", tuple(words)))
    return Picture(tuple(layers), (left, -f.over, right - left, heads + f.over + UNDER), title)
