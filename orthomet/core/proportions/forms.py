"""Linear forms over levelled landmarks: what a length, a span or a height *is*.

Every length a face reading needs is a weighted sum of coordinates (``x`` to the right, ``y`` down), so a reading is
a quotient of two such forms and all readings of many faces are two matrix products.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

import numpy as np

from ..kinds import Array
from ..landmarks.schema import Schema


@dataclass(frozen=True)
class Form:
    """A weighted sum of landmark coordinates; keys are ``(landmark, axis)`` with axis 0 = x, 1 = y."""

    terms: Mapping[tuple[str, int], float]
    lengths: Mapping[tuple[str, str], float] = field(default_factory=lambda: MappingProxyType({}))
    """Weights of straight distances between two landmarks, for limbs and own spans, which lie along no axis."""

    def __add__(self, other: Form) -> Form:
        out, far = dict(self.terms), dict(self.lengths)
        for k, v in other.terms.items():
            out[k] = out.get(k, 0.0) + v
        for pair, v in other.lengths.items():
            far[pair] = far.get(pair, 0.0) + v
        return Form(MappingProxyType(out), MappingProxyType(far))

    def __mul__(self, k: float) -> Form:
        return Form(
            MappingProxyType({n: v * k for n, v in self.terms.items()}),
            MappingProxyType({n: v * k for n, v in self.lengths.items()}),
        )

    def __sub__(self, other: Form) -> Form:
        return self + other * -1

    @property
    def needs(self) -> frozenset[str]:
        """Landmarks that must be there, those that cancel included."""
        return frozenset(n for n, _ in self.terms) | frozenset(n for pair in self.lengths for n in pair)

    def row(self, schema: Schema) -> Array:
        """Coefficients over the flattened ``(n, 2)`` array of landmarks."""
        out = np.zeros(2 * len(schema.names))
        for (name, axis), v in self.terms.items():
            out[2 * schema.index[name] + axis] += v
        return out


def x(name: str) -> Form:
    return Form({(name, 0): 1.0})


def y(*names: str) -> Form:
    """Mean height of the named points."""
    return Form({(n, 1): 1.0 / len(names) for n in names})


def distance(a: str, b: str) -> Form:
    """Straight distance between two points, whichever way it runs."""
    return Form({}, {(a, b): 1.0})


def along(a: str, b: str) -> Form:
    """Straight distance between two points of a pair's side, mean of both sides."""
    return (distance(f"{a}_l", f"{b}_l") + distance(f"{a}_r", f"{b}_r")) * 0.5


def both(base: str) -> tuple[str, str]:
    return f"{base}_l", f"{base}_r"


def span(base: str) -> Form:
    """Distance across between a pair's two points."""
    return x(f"{base}_l") - x(f"{base}_r")


def centre(base: str) -> Form:
    return (x(f"{base}_l") + x(f"{base}_r")) * 0.5


def width(outer: str, inner: str, side: str = "") -> Form:
    """Distance across from an inner to an outer point, on one side or as the mean of both."""
    left, right = x(f"{outer}_l") - x(f"{inner}_l"), x(f"{inner}_r") - x(f"{outer}_r")
    return {"l": left, "r": right, "": (left + right) * 0.5}[side]


def height(upper: str, lower: str, side: str = "") -> Form:
    """Distance down from one point of a pair to another, on one side or as the mean of both."""
    sides = side or "lr"
    return y(*(f"{lower}_{s}" for s in sides)) - y(*(f"{upper}_{s}" for s in sides))


HH = y("gnathion") - y("vertex")  # head height
FW = span("zygion")  # face width
HW = span("euryon")  # head width
EW = width("exocanthion", "endocanthion")  # eye width
AXIS = centre("zygion")  # the face's own centre line
