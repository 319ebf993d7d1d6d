"""Eight invented figures written down as plain shapes: name of a part, kind, middle, width and height, own numbers, turn; floor at y = 0."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from orthomet.core.kinds import Array
from orthomet.core.shapes.masks import filled
from orthomet.core.shapes.plain import Plain, made

Row = tuple[str, str, float, float, float, float, tuple[float, ...], float]


def pair(
    name: str, kind: str, x: float, y: float, w: float, h: float, own: tuple[float, ...] = (), turn: float = 0.0
) -> list[Row]:
    return [(f"{name}, left", kind, x, y, w, h, own, turn), (f"{name}, right", kind, -x, y, w, h, own, -turn)]


ROWS: Mapping[str, list[Row]] = {
    "stoker": [*pair("boot", "ellipse", 16, -5, 26, 12), *pair("arm", "capsule", 36, -52, 14, 46, (), -22), ("body", "egg", 0, -44, 64, 74, (0.3,), 0),
               ("head", "circle", 0, -92, 34, 34, (), 0), ("cap", "rounded-rectangle", 0, -112, 26, 14, (0.4,), 0)],
    "heron": [("leg, left", "capsule", 7, -20, 4, 40, (), 0), ("leg, right", "capsule", -6, -20, 4, 40, (), 0), ("body", "egg", 0, -58, 38, 60, (-0.2,), 70),
              ("neck", "capsule", 24, -94, 8, 52, (), 12), ("head", "circle", 30, -122, 20, 20, (), 0), ("bill", "triangle", 58, -119, 10, 44, (0.0, 0.1), 98)],
    "bollard": [("foot", "trapezoid", 0, -8, 60, 16, (0.2, 0.1), 0), ("post", "rectangle", 0, -50, 34, 80, (), 0), ("knob", "ellipse", 0, -94, 56, 30, (), 0)],
    "tent": [("cloak", "triangle", 0, -55, 64, 108, (0.0, 0.06), 0), ("head", "circle", 0, -112, 24, 24, (), 0), ("staff", "rectangle", 40, -66, 4, 132, (), 0),
             ("lamp", "kite", 40, -140, 20, 26, (-0.2, 0.06), 0)],
    "crate": [*pair("leg", "rectangle", 18, -15, 22, 30), ("box", "rounded-rectangle", 0, -62, 80, 68, (0.25,), 0), *pair("fist", "circle", 50, -40, 20, 20),
              ("head", "rounded-rectangle", 0, -108, 32, 28, (0.35,), 0)],
    "star": [*[(f"spike {k + 1}", "triangle", 46 * float(np.sin(np.radians(a))), -44 - 46 * float(np.cos(np.radians(a))), 16, 34, (0.0, 0.05), float(a))
               for k, a in enumerate((-72, -36, 0, 36, 72))], *pair("foot", "capsule", 15, -7, 12, 17), ("body", "circle", 0, -44, 66, 66, (), 0)],
    "dandy": [*pair("shoe", "ellipse", 13, -4, 22, 8), *pair("leg", "trapezoid", 10, -28, 11, 50, (-0.35, 0.1), -3), ("coat", "trapezoid", 0, -78, 46, 60, (-0.45, 0.1), 0),
              *pair("arm", "capsule", 36, -76, 9, 52, (), -18), ("head", "egg", 0, -121, 25, 32, (0.15,), 0), ("plume", "kite", 13, -142, 24, 46, (-0.3, 0.2), 60)],
    "teapot": [("belly", "ellipse", 0, -38, 84, 68, (), 0), ("spout", "trapezoid", 52, -48, 14, 44, (0.3, 0.1), -130), ("lid", "ellipse", 0, -74, 46, 16, (), 0),
               ("knob", "circle", 0, -86, 13, 13, (), 0), *pair("foot", "rectangle", 22, -3, 12, 10)],
}  # fmt: skip


def creature(name: str) -> list[tuple[str, Plain]]:
    """Its parts from the back to the front."""
    return [(n, made(kind, x, y, w, h, own, turn)) for n, kind, x, y, w, h, own, turn in ROWS[name]]


def mask_of(name: str, scale: float = 3.0, room: int = 12) -> tuple[Array, Array]:
    """Filled black, and where the figure's (0, 0) lies on it."""
    outlines = [s.outline(240) for _, s in creature(name)]
    every = np.vstack(outlines)
    low = every.min(0)
    w, h = (np.ceil(np.ptp(every, 0) * scale) + 2 * room).astype(int)
    m = np.zeros((h, w), bool)
    for o in outlines:
        m |= filled((o - low) * scale + room, (h, w))
    return m, -low * scale + room
