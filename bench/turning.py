"""Turning the head: pose to picture description against Qt painting the same picture, and random heads at random turns."""

from __future__ import annotations

import itertools

import numpy as np
from PySide6.QtGui import QImage, QPainter

from orthomet.app import render
from orthomet.app.application import make_application
from orthomet.app.looks import screen_looks
from orthomet.app.theme.tokens import theme
from orthomet.core.head.body import body
from orthomet.core.head.drawn import picture
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene, scene_of
from orthomet.core.landmarks.turn import Turn
from tests.faces import random_table

from .timing import alternating, report

HEADS = 700
TURNS_EACH = 3


def run() -> None:
    make_application()
    table = random_table(np.random.default_rng(0), 0.5)
    b = body(table, plan_points(table))
    grid = [Turn(yaw=float(y), pitch=float(p)) for y in range(-90, 91, 6) for p in (-40, -15, 0, 20, 45)]
    turns = itertools.cycle(grid)
    target = QImage(1280, 800, QImage.Format.Format_ARGB32_Premultiplied)
    drawn = picture(scene_of(b, Turn(yaw=35)))

    def ours() -> None:
        picture(scene_of(b, next(turns)))

    def qt() -> None:
        target.fill(0xFFFFFFFF)
        p = QPainter(target)
        p.translate(640, 380)
        render.paint(p, drawn, 480, screen_looks(theme.t), 1.0)
        p.end()

    mine, base = alternating(ours, qt, len(grid))
    ms, ratio = 1e3 * np.median(mine), float(np.median(mine) / np.median(base))
    report("turn: pose to picture description, median", f"{ms:.1f} ms", "≤ 8 ms", ms <= 8)
    report("the same against Qt painting it", f"{ratio:.2f}", "≤ 1", ratio <= 1)
    rng, broken, tried = np.random.default_rng(4), 0, 0
    for _ in range(HEADS):
        table = random_table(rng, 1.0)
        points = plan_points(table)
        for _ in range(TURNS_EACH):
            tried += 1
            turn = Turn(yaw=float(rng.uniform(-100, 100)), pitch=float(rng.uniform(-60, 60)), roll=float(rng.uniform(-180, 180)))
            s = scene(table, points, turn)
            picture(s)
            n = len(s.outline) // 2
            right, left = s.outline[:n], s.outline[n:][::-1]
            broken += not (
                np.isfinite(s.outline).all() and (right[:, 0] >= left[:, 0] - 1e-9).all() and (np.diff(right[:, 1]) > 0).all()
            )
    report("random heads at random turns with a crossed contour", f"{broken} of {tried}", "0", broken == 0)
