"""Plain shapes at random and hands that tremble, for tests and benches of shapes."""

from __future__ import annotations

import numpy as np

from orthomet.core.kinds import Array
from orthomet.core.shapes.contour import perimeter, traced
from orthomet.core.shapes.plain import Plain, made


def random_shape(rng: np.random.Generator, kind: str, size: float = 300.0) -> Plain:
    """One whose kind can be told: an egg leans, a rounded corner is neither sharp nor round, its larger side ``size``."""
    u, sign = rng.uniform, float(rng.choice([-1, 1]))
    own = {
        "egg": lambda: (sign * u(0.1, 0.45),), "rounded-rectangle": lambda: (u(0.25, 0.75),), "triangle": lambda: (0.0, u(0, 0.35)),
        "trapezoid": lambda: (sign * u(0.14, 0.6), u(0, 0.4)), "kite": lambda: (u(-0.5, 0.5), u(0, 0.35)), "heart": lambda: (u(-0.5, 0.1),),
    }.get(kind, lambda: ())()  # fmt: skip
    tall = {
        "circle": lambda: 1.0, "ellipse": lambda: float(np.exp(sign * u(0.12, 0.6))), "capsule": lambda: u(1.3, 3.0), "egg": lambda: u(0.9, 1.8),
        "rectangle": lambda: float(np.exp(sign * u(0, 0.6))), "rounded-rectangle": lambda: float(np.exp(sign * u(0, 0.6))),
    }.get(kind, lambda: u(0.55, 1.8))()  # fmt: skip
    f = size / max(1.0, tall)
    return made(kind, u(-50, 50), u(-50, 50), f, f * tall, own, u(-180, 180))


def trembling(c: Array, rng: np.random.Generator, by: float = 2.0, run: float = 8.0) -> Array:
    """A contour as a hand draws it: off by so many pixels, alike over a run of so many."""
    n = len(c)
    sigma = run * n / perimeter(c)
    r = int(4 * sigma) + 1
    k = np.exp(-0.5 * (np.arange(-r, r + 1) / sigma) ** 2)
    e = np.column_stack([np.convolve(np.pad(v, r, mode="wrap"), k, "valid") for v in rng.normal(size=(2, n))])
    return np.asarray(c + by * e / e.std())


def drawn(rng: np.random.Generator, s: Plain, by: float = 2.0) -> Array:
    """The shape traced by a hand."""
    return traced(trembling(s.outline(900), rng, by))[0]


def blob(seed: int, n: int = 240) -> tuple[Array, Array]:
    """A lobed outline of some 300 pixels, and its corners."""
    rng = np.random.default_rng(seed)
    t = np.arange(400) * 2 * np.pi / 400
    r = 1 + sum(rng.normal() * 0.25 / k * np.cos(k * t + rng.uniform(0, 6.28)) for k in range(1, 7))
    r = np.maximum(r, 0.25)
    return traced(150 * np.column_stack([r * np.cos(t) * rng.uniform(0.6, 1.4), r * np.sin(t)]), n)
