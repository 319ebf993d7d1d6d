"""A hairstyle as the artist decides it: big shape, parting, hairline, fringe, sides, back, ends, wave, ties, wear."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from enum import IntEnum


class Big(IntEnum):
    """The first decision."""

    NONE = 0
    LOOSE = 1
    COMBED = 2
    TIED = 3
    CURLY = 4
    CROPPED = 5


class Tie(IntEnum):
    TAIL = 0
    KNOT = 1
    BRAIDS = 2
    TUFTS = 3


class Worn(IntEnum):
    NOTHING = 0
    CAP = 1
    KNITTED = 2
    BRIM = 3


@dataclass(frozen=True)
class Style:
    """The parameters of the feature table, by the same names; their ranges stand there."""

    kind: float = 1
    lift: float = 0.06
    """Over the crown, heads."""
    volume: float = 0.05
    """At the sides and behind, heads."""
    parted: float = 0
    """0 falls from the whorl, 1 parts."""
    parting: float = 0.0
    """Azimuth of the parting, radians toward the character's left."""
    recede: float = 0.0
    peak: float = 0.0
    """How far the hairline comes down in its middle, heads."""
    fringe: float = 0.0
    """0 none, 1 the brow, 1.5 the lashes."""
    sway: float = 0.0
    """Fringe and ends lean: −1…1."""
    sides: float = 0.0
    """0 the ear, 1 the jaw, 2 the shoulder, 3 the chest."""
    back: float = 0.0
    """0 the nape, then as the sides."""
    open: float = 1.0
    """Where the sides begin, of the temple's azimuth."""
    swept: float = 0.0
    clumps: float = 5
    """How many over the back."""
    point: float = 0.55
    """Share of the length from which ends draw in: early is pointed, late is blunt."""
    sharp: float = 1.0
    cup: float = 0.3
    """How far the mass draws in under its widest place; under 0 it flares."""
    wave: float = 0.0
    waves: float = 2.2
    over: float = 0
    """The length falls over this shoulder: −1 the character's right, 1 the left, 0 neither."""
    tie: float = 0
    high: float = 0.35
    """Station of the tie."""
    curl: float = 0.08
    """Radius of a curl, heads."""
    wear: float = 0
    strands: float = 1.0
    """How many inner lines, of the usual."""
    seed: float = 3

    @property
    def big(self) -> Big:
        return Big(round(self.kind))

    @property
    def tied(self) -> Tie:
        return Tie(round(self.tie))

    @property
    def worn(self) -> Worn:
        return Worn(round(self.wear))

    @property
    def part(self) -> float | None:
        """Azimuth of the parting; ``None``: the hair falls from the whorl."""
        return self.parting if self.parted >= 0.5 else None

    @property
    def blunt(self) -> bool:
        return self.point > 0.75


def style_of(values: Mapping[str, float]) -> Style:
    """The style of a row of the feature table."""
    known = {f.name for f in fields(Style)}
    return Style(**{k: float(v) for k, v in values.items() if k in known})


def scattered(seed: float, *k: float) -> float:
    """A fixed number in −1…1 for a clump: the same for the same seed."""
    from math import floor, sin

    x = sin(seed * 12.9898 + sum((i + 1) * 78.233 * v for i, v in enumerate(k))) * 43758.5453
    return 2 * (x - floor(x)) - 1
