"""What a turn does to the features: their widths as they are seen, beside their widths from the front."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..kinds import Array
from ..landmarks.schema import FRONT
from .scene import Scene


@dataclass(frozen=True)
class Share:
    """What a turn does to one width: its share of the front width, 1 when nothing."""

    words: str
    share: float | None


def shares(front: Array, s: Scene) -> list[Share]:
    """Widths of features at this turn beside the front's landmarks; ``None`` where an end is out of sight."""
    out = []
    rows = (
        ("Eye at the left", "exocanthion_r", "endocanthion_r"), ("Gap between the eyes", "endocanthion_r", "endocanthion_l"),
        ("Eye at the right", "endocanthion_l", "exocanthion_l"), ("Mouth", "cheilion_r", "cheilion_l"), ("Nose base", "alare_r", "alare_l"),
    )  # fmt: skip
    for words, a, b in rows:
        here, there = s.landmarks[a], s.landmarks[b]
        seen = here[1] and there[1]
        out.append(Share(words, _far(here[0], there[0]) / _far(front[FRONT.index[a]], front[FRONT.index[b]]) if seen else None))
    return out


def _far(a: Sequence[float] | Array, b: Sequence[float] | Array) -> float:
    return float(max(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5, 1e-9))
