"""A contact sheet of three heads at five turns, plain and dressed, kept in ``out/`` to be looked at after every change."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PySide6.QtGui import QImage, QPainter

from orthomet.app.looks import screen_looks
from orthomet.app.render import paint
from orthomet.app.theme.tokens import theme
from orthomet.core.features.expression import expression
from orthomet.core.head.body import Wear
from orthomet.core.head.drawn import picture
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene
from orthomet.core.landmarks.turn import Turn
from orthomet.core.resolve import plan_of_style
from orthomet.demo.cast import BERTA, BERTA_FEATURES, LORN_FEATURES, WICK, WICK_FEATURES

OUT = Path(__file__).resolve().parent.parent.parent / "out"
TURNS = (Turn(), Turn(yaw=35), Turn(yaw=90), Turn(yaw=35, pitch=18), Turn(yaw=-50, pitch=-15))
CELL, HEAD = (230, 270), 134.0
WEARS = (
    (Wear(), Wear(choices=BERTA_FEATURES)),
    (Wear(), Wear(choices=WICK_FEATURES, expression=expression("glad"))),
    (Wear(school="halves"), Wear(choices=LORN_FEATURES)),
)


def test_three_heads_at_five_turns(qapp: Any) -> None:
    """Every cell is inked inside and empty at its rim, and both sides of a front view weigh the same."""
    theme.use("day")
    heads = (BERTA, WICK, dict(plan_of_style("low-lantern").table))
    image = QImage(CELL[0] * len(TURNS), CELL[1] * 2 * len(heads), QImage.Format.Format_RGB32)
    image.fill(theme.t.c("sheet"))
    p = QPainter(image)
    try:
        for row, (table, wear) in enumerate((h, w) for h, wears in zip(heads, WEARS, strict=True) for w in wears):
            for column, turn in enumerate(TURNS):
                p.save()
                p.translate((column + 0.5) * CELL[0], (row + 0.44) * CELL[1])
                paint(p, picture(scene(table, plan_points(table), turn, wear)), HEAD, screen_looks(theme.t), 0.7)
                p.restore()
    finally:
        p.end()
    OUT.mkdir(exist_ok=True)
    assert image.save(str(OUT / "contact-sheet.png"))
    w, h = image.width(), image.height()
    grey = np.frombuffer(image.constBits(), np.uint8).reshape(h, image.bytesPerLine() // 4, 4)[:, :w, 1].astype(int)
    ink = np.abs(grey - grey[0, 0]) > 30
    for row in range(2 * len(heads)):
        for column in range(len(TURNS)):
            cell = ink[row * CELL[1] : (row + 1) * CELL[1], column * CELL[0] : (column + 1) * CELL[0]]
            assert cell.mean() > 0.02, (row, column)
            assert not cell[:3].any() and not cell[:, :3].any() and not cell[:, -3:].any(), (row, column)
            if column == 0 and row in (0, 2):
                left, right = cell[:, : CELL[0] // 2].sum(), cell[:, CELL[0] // 2 :].sum()
                assert left == pytest.approx(right, rel=0.12)
