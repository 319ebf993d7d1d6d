"""Random poses and the landmarks a picture of them has."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from orthomet.core.figure.build import build_of
from orthomet.core.figure.canons import canon
from orthomet.core.figure.scene import Figure
from orthomet.core.kinds import Array
from orthomet.core.landmarks.points import Landmarks
from orthomet.core.people import head_of_canon, person
from orthomet.core.pose.model import Pose

SCALE = 83.0
"""Pixels a head."""


def figure_of(name: str, head: bool = True) -> Figure:
    """A canon as a person; kept by what it is made of."""
    c = canon(name)
    return person(build_of(c.readings, c.form, c.limbs), head_of_canon(c) if head else None, school=c.school)


def random_pose(rng: np.random.Generator) -> Pose:
    """Every joint of trunk and limbs somewhere within its range."""

    def u(low: float, high: float) -> float:
        return float(rng.uniform(low, high))

    angles: dict[str, tuple[float, ...]] = {
        "pelvis": (u(-10, 25), u(-10, 10), u(-20, 20)), "spine": (u(-15, 30), u(-15, 15), u(-20, 20)), "neck": (u(-15, 15), u(-10, 10), u(-20, 20)),
        "head": (u(-10, 15), u(-8, 8), u(-20, 20)),
    }  # fmt: skip
    for s in "lr":
        angles |= {f"arm_{s}": (u(-30, 120), u(0, 80), u(-40, 40)), f"elbow_{s}": (u(2, 120),), f"thigh_{s}": (u(-20, 80), u(0, 30), u(-10, 20)),
                   f"knee_{s}": (u(2, 100),)}  # fmt: skip
    return Pose(angles=angles)


def on_page(at: Mapping[str, Array], rng: np.random.Generator | None = None, noise: float = 0.0) -> Landmarks:
    """Figure landmarks (heads) as they are marked on a picture, each off by so many heads."""
    px = {k: (v + (rng.normal(0, noise, 2) if rng is not None else 0.0)) * SCALE + [400, 50] for k, v in at.items()}
    return Landmarks("figure", {k: (float(v[0]), float(v[1])) for k, v in px.items()}, {}, {})
