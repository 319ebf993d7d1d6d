"""Turning the head: pose to picture description against Qt painting the same picture, and random heads at random turns."""

from __future__ import annotations

import itertools
import time
from functools import cache

import numpy as np
from PySide6.QtGui import QImage, QPainter

from orthomet.app import render
from orthomet.app.application import make_application
from orthomet.app.looks import screen_looks
from orthomet.app.shell import Window
from orthomet.app.theme.tokens import theme
from orthomet.core.export.page import page
from orthomet.core.features.choices import FeatureChoices
from orthomet.core.features.table import feature
from orthomet.core.head.body import Wear, body
from orthomet.core.head.drawn import picture
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene, scene_of
from orthomet.core.head.shadow import Light, with_shadow
from orthomet.core.head.turnaround import turnaround
from orthomet.core.ink.surface import Pen
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Picture
from orthomet.demo.cast import BERTA_FEATURES
from tests.faces import random_table
from tests.geometry import within

from .opened import demo
from .timing import alternating, once, report

HEADS = 600
TURNS_EACH = 3


def dressed_anew(table: dict[str, float], choices: FeatureChoices, k: int) -> None:
    """Hair nobody has built before, and all that a view asks of it."""
    b = body(table, plan_points(table), Wear(choices=choices.with_value("hair", "sway", 0.1 + 0.001 * k)))
    _ = scene_of(b, Turn(yaw=20)).drawing


def frame_of_a_hair_dial(k: int) -> float:
    """Seconds of one frame while the dial moves: the hair made last is drawn at once, the new one is asked for elsewhere."""
    window = _window()
    station, d = window.desk.station, window.desk.document
    if not d.dragging:
        d.begin("Volume")
    start = time.perf_counter()
    station.edits.parameter("hair", "volume", 0.03 + 0.004 * (k % 20))
    window.desk.flush()
    return time.perf_counter() - start


@cache
def _window() -> Window:
    window = demo("Head", 2)
    window.desk.station.features.feature_chosen.emit("hair")
    window.desk.flush()
    return window


def run() -> None:
    make_application()
    table = random_table(np.random.default_rng(0), 0.5)
    b = body(table, plan_points(table))
    grid = [Turn(yaw=float(y), pitch=float(p)) for y in range(-90, 91, 6) for p in (-40, -15, 0, 20, 45)]
    turns = itertools.cycle(grid)
    target = QImage(1280, 800, QImage.Format.Format_ARGB32_Premultiplied)
    drawn = picture(scene_of(b, Turn(yaw=35)))

    def ours() -> None:
        picture(scene_of(b, next(turns), moving=True))

    def qt(shown: Picture = drawn) -> None:
        target.fill(0xFFFFFFFF)
        p = QPainter(target)
        p.translate(640, 380)
        render.paint(p, shown, 480, screen_looks(theme.t), 1.0)
        p.end()

    mine, base = alternating(ours, qt, len(grid))
    ms, ratio = 1e3 * np.median(mine), float(np.median(mine) / np.median(base))
    report("a turn dragged: pose to picture description, median", f"{ms:.1f} ms", "≤ 8 ms", ms <= 8)
    report("the same against Qt painting it", f"{ratio:.2f}", "≤ 1", ratio <= 1)
    bob = BERTA_FEATURES.with_values("hair", next(v.set for v in feature("hair").variants if v.name == "soft bob"))
    dressed = body(table, plan_points(table), Wear(choices=bob))
    hairy = picture(scene_of(dressed, Turn(yaw=35)))

    def haired() -> None:
        picture(scene_of(dressed, next(turns), moving=True))

    mine, base = alternating(haired, lambda: qt(hairy), len(grid))
    ms, ratio = 1e3 * np.median(mine), float(np.median(mine) / np.median(base))
    report("a turn dragged with hair, pose to picture description, median", f"{ms:.1f} ms", "≤ 14 ms", ms <= 14)
    report("the same against Qt painting it", f"{ratio:.2f}", "≤ 1", ratio <= 1)
    for name, worn in (("bare", b), ("with hair", dressed)):
        ms = 1e3 * float(np.median([once(lambda t=t, w=worn: picture(scene_of(w, t))) for t in grid[::3]]))
        report(f"the view at rest, {name}, median", f"{ms:.1f} ms", "(for information)", True)
    dressed = body(table, plan_points(table), Wear(choices=bob, school="circle-and-cross"))
    ms = 1e3 * float(np.median([once(lambda t=t: picture(scene_of(dressed, t))) for t in grid[::3]]))
    report("turn with hair and a school, median", f"{ms:.1f} ms", "(for information)", True)
    built = [once(lambda k=k: dressed_anew(table, bob, k)) for k in range(12)]
    report(
        "hair built anew, in the background while a dial is held", f"{1e3 * np.median(built):.0f} ms", "(for information)", True
    )
    ms = 1e3 * float(np.median([frame_of_a_hair_dial(k) for k in range(14)]))
    report("a hair dial held: what the interface thread does a frame, median", f"{ms:.1f} ms", "≤ 16 ms", ms <= 16)

    dials = itertools.count()

    def dialled() -> None:
        choices = bob.with_value("eyes", "pupil", 0.2 + 0.001 * (next(dials) % 400))
        picture(scene_of(body(table, plan_points(table), Wear(choices=choices)), Turn(yaw=35), moving=True))

    ms = 1e3 * float(np.median([once(dialled) for _ in range(40)]))
    report("a feature's dial dragged, hair and all", f"{ms:.1f} ms", "≤ 16 ms", ms <= 16)

    def whole(turn: Turn) -> None:
        s = scene_of(dressed, turn)
        with_shadow(picture(s), s, Light(-40, 35))

    sheet = page(turnaround(dressed), 120)
    layered = min(once(lambda: render.to_ora(sheet)) for _ in range(2))
    report("seven views in layers at 300 dots per inch, 120 mm heads", f"{layered:.1f} s", "≤ 4 s", layered <= 4)
    full = [once(lambda t=t: whole(t)) for t in grid[::5]]
    ms = 1e3 * float(np.median(full))
    report("full quality: hair, school, shadow, median", f"{ms:.0f} ms", "≤ 60 ms", ms <= 60)
    rng, broken, outside, tried = np.random.default_rng(4), 0, 0, 0
    for _ in range(HEADS):
        table = random_table(rng, 1.0)
        points = plan_points(table)
        for _ in range(TURNS_EACH):
            tried += 1
            turn = Turn(yaw=float(rng.uniform(-100, 100)), pitch=float(rng.uniform(-60, 60)), roll=float(rng.uniform(-180, 180)))
            s = scene(table, points, turn)
            picture(s)
            grown = s.outline.mean(0) + (s.outline - s.outline.mean(0)) * 1.06
            faces = [
                x for x in s.drawing.strokes if x.pen in (Pen.FEATURE, Pen.DETAIL) and not x.name.startswith(("brow", "nose"))
            ]
            outside += not all(within(x.points, grown).all() for x in faces)
            n = len(s.outline) // 2
            right, left = s.outline[:n], s.outline[n:][::-1]
            broken += not (
                np.isfinite(s.outline).all() and (right[:, 0] >= left[:, 0] - 1e-9).all() and (np.diff(right[:, 1]) > 0).all()
            )
    report("random heads at random turns with a crossed contour", f"{broken} of {tried}", "0", broken == 0)
    report("… with a visible feature outside the head", f"{outside} of {tried}", "0", outside == 0)
