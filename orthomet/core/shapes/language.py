"""What shapes speak: how much of a character is round, square or pointed, by what is seen of it and along its outline; a sentence of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from shapely.ops import unary_union

from ..kinds import Array
from .contour import polygon
from .model import stem_of
from .plain import Plain

WORDS = ("round", "square", "pointed")
HEART_ROUND = 0.45


def speaks(s: Plain) -> Array:
    """Round, square and pointed share of one plain shape, which add up to one (own table; rounded corners move it toward round)."""
    own = s.own
    if s.kind in ("circle", "ellipse", "egg"):
        return np.array([1.0, 0.0, 0.0])
    if s.kind == "capsule":
        straight = min(0.5, 0.18 * max(s.height / s.width - 1, 0.0))
        return np.array([1 - straight, straight, 0.0])
    if s.kind == "rectangle":
        return np.array([0.0, 1.0, 0.0])
    if s.kind == "rounded-rectangle":
        return np.array([own[0], 1 - own[0], 0.0])
    if s.kind == "trapezoid":
        r = min(max(own[1], 0.0), 0.9)
        point = min(max((abs(own[0]) - 0.18) / 0.6, 0.0), 1.0)
        return np.array([r, (1 - r) * (1 - point), (1 - r) * point])
    r = 0.8 * (HEART_ROUND if s.kind == "heart" else min(max(own[1], 0.0), 0.75) / 0.75)
    return np.array([r, 0.0, 1 - r])


@dataclass(frozen=True)
class Spoken:
    """Shares of round, square and pointed: by area seen, by length of the outline, and of every part with the area seen of it."""

    by_area: tuple[float, float, float]
    by_line: tuple[float, float, float]
    parts: tuple[tuple[str, tuple[float, float, float], float], ...]


def spoken(parts: Sequence[tuple[str, Plain, Array]]) -> Spoken:
    """Of parts from the back to the front: name, plain shape, outline as it is drawn."""
    shapes = [polygon(o) for _, _, o in parts]
    whole = unary_union(shapes)
    edge = whole.boundary.buffer(0.02 * float(np.sqrt(max(whole.area, 1e-12))))
    area, line, each = np.zeros(3), np.zeros(3), []
    for i, ((name, s, _), g) in enumerate(zip(parts, shapes, strict=True)):
        seen = g.difference(unary_union(shapes[i + 1 :])) if i + 1 < len(shapes) else g
        v = speaks(s)
        area += v * seen.area
        line += v * g.boundary.intersection(edge).length
        each.append((name, _three(v), float(seen.area)))
    return Spoken(_three(area / max(area.sum(), 1e-12)), _three(line / max(line.sum(), 1e-12)), tuple(each))


def _three(v: Array) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])


def sentence(s: Spoken) -> str:
    """What it is built of, what its outline speaks, and the odd shape out."""
    a, ln = np.array(s.by_area), np.array(s.by_line)
    i, j = int(np.argmax(a)), int(np.argmax(ln))
    second, second_line = int(np.argsort(a)[-2]), int(np.argsort(ln)[-2])
    if a[i] > 0.9:
        said = f"All {WORDS[i]}"
    elif a[second] > 0.38:
        said = f"Half {WORDS[i]}, half {WORDS[second]}"
    else:
        said = f"Mostly {WORDS[i]}"
    if j != i and ln[j] > 0.45:
        said += f", {WORDS[j]} along its outline"
    elif ln[second_line] > 0.18 and second_line != i:
        said += f", {WORDS[second_line]} here and there along its outline"
    whole = sum(area for *_, area in s.parts)
    odd: dict[str, tuple[float, str]] = {}
    for name, v, area in s.parts:
        if v[i] < 0.3:
            stem = stem_of(name)
            odd[stem] = odd.get(stem, (0.0, ""))[0] + area, WORDS[int(np.argmax(v))]
    if odd:
        name = max(odd, key=lambda n: odd[n][0])
        many = sum(stem_of(n) == name for n, *_ in s.parts) > 1
        share, word = odd[name]
        if share < 0.4 * whole:
            said += f"; {word} where the {name}{'s are' if many else ' is'}"
    return said + "."
