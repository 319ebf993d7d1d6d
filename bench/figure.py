"""The figure: turned, its body dragged, drawn in full, against Qt painting it; random plans at random turns; the match."""

from __future__ import annotations

import itertools
import os
from dataclasses import replace
from functools import cache

import numpy as np
from PySide6.QtGui import QImage, QPainter

from orthomet.app import render
from orthomet.app.application import make_application
from orthomet.app.looks import screen_looks
from orthomet.app.shell import Window
from orthomet.app.theme.tokens import theme
from orthomet.core.figure.build import build_of
from orthomet.core.figure.canons import canon, canon_names
from orthomet.core.figure.choices import FORM_BOUNDS, FigureChoices
from orthomet.core.figure.mannequin import mannequin, roughly
from orthomet.core.figure.match import matched
from orthomet.core.figure.quick import Quick
from orthomet.core.figure.scene import Figure, picture
from orthomet.core.figure.seen import seen
from orthomet.core.figure.values import values_of
from orthomet.core.ink.surface import Pen
from orthomet.core.landmarks.turn import Turn
from orthomet.core.people import head_of_canon, person
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.figure import FigurePlan, figure_space, plan_figure
from orthomet.core.styles.library import style
from tests.bodies import crosses, off, read_back

from .opened import demo
from .timing import alternating, once, report

PLANS = int(os.environ.get("PLANS", "300"))
CRUMB = 0.02
SHOWN = Turn(yaw=25)


def _random_plan(rng: np.random.Generator) -> FigurePlan:
    form = {k: float(rng.uniform(*v)) for k, v in FORM_BOUNDS.items()} if rng.random() < 0.5 else {}
    heads = None if rng.random() < 0.5 else float(rng.uniform(1.5, 10))
    offsets = {k: float(rng.normal(0, 0.25)) for k in figure_space().keys if rng.random() < 0.4}
    head = {"head_width_hh": float(rng.uniform(0.5, 1.1)), "neck_width_hw": float(rng.uniform(0.25, 1.0))}
    choices = FigureChoices(canon=str(rng.choice(canon_names())), heads=heads, form=form)
    return plan_figure({}, Decisions(style_weight=0.0, offsets=offsets), choices, 30, style("measured-adult"), head)


def _painted(target: QImage, f: Figure, turn: Turn) -> None:
    target.fill(0xFFFFFFFF)
    p = QPainter(target)
    p.translate(640, 60)
    render.paint(p, picture(f, turn, guides=False).without("ladder"), 92, screen_looks(theme.t), 1.0)
    p.end()


def run() -> None:
    make_application()
    target = QImage(1280, 800, QImage.Format.Format_ARGB32_Premultiplied)
    for name in ("measured", "feminine"):
        c = canon(name)
        head = head_of_canon(c)
        f = person(build_of(c.readings, c.form), head)
        quick, turns = f.quick, itertools.cycle(Turn(yaw=float(y)) for y in range(-180, 180, 7))
        picture(f, SHOWN)
        ours, qt = alternating(lambda quick=quick, turns=turns: quick.at(next(turns)), lambda f=f: _painted(target, f, SHOWN), 40)
        ms, ratio = 1e3 * np.median(ours), float(np.median(ours) / np.median(qt))
        report(f"{name} with head and hair turned, median", f"{ms:.1f} ms", "≤ 8 ms", ms <= 8)
        report("the same against Qt painting it", f"{ratio:.2f}", "≤ 1", ratio <= 1)
        full = 1e3 * float(
            np.median([once(lambda f=f, t=t: seen(f.ink, t, f.weights, f.head)) for t in itertools.islice(turns, 12)])
        )
        report("drawn in full, median", f"{full:.0f} ms", "(for information)", True)
        steps = itertools.count()
        b = f.build

        def dragged(f: Figure = f) -> None:
            moved = replace(f.build, shoulder=f.build.shoulder + 0.002 * (next(steps) % 60))  # noqa: B023
            roughly(moved, f.mannequin)

        ms = 1e3 * float(np.median([once(dragged) for _ in range(30)]))
        report("a body gauge dragged: the body built, in the background", f"{ms:.1f} ms", "(for information)", True)
        exact = 1e3 * float(
            np.median([once(lambda k=k, b=b: mannequin(replace(b, hip=b.hip + 0.003 * k))) for k in range(1, 10)])
        )
        report("built exactly, when it is let go", f"{exact:.0f} ms", "(for information)", True)
    ms = 1e3 * float(np.median([_frame_of_a_gauge(k) for k in range(24)]))
    report("a body gauge dragged: what the interface thread does a frame, median", f"{ms:.1f} ms", "≤ 8 ms", ms <= 8)
    values = values_of(dict(head.table), {**canon("measured").readings, "shoulder_hw": 3.0, "ribcage_hw": 1.8})
    ms = 1e3 * float(np.median([once(lambda: matched(values)) for _ in range(200)]))
    report("match", f"{ms:.2f} ms", "≤ 1 ms", ms <= 1)
    _random()


def _random() -> None:
    rng = np.random.default_rng(7)
    far, crossing, crumbs, strokes, bad = [], 0, 0, 0, 0
    for _ in range(PLANS):
        plan = _random_plan(rng)
        f = person(plan.build, None)
        far.append(max(abs(v) for v in off(plan.build, read_back(f.mannequin), plan.readings).values()))
        s = f.at(Turn(yaw=float(rng.uniform(-180, 180))))
        q = Quick(f.ink, None, f.weights).at(Turn(yaw=float(rng.uniform(-180, 180))))
        bad += not all(np.isfinite(x.points).all() and np.isfinite(x.widths).all() for x in (*s.strokes, *q.strokes))
        for x in s.strokes:
            if x.pen is Pen.CONTOUR:
                strokes += 1
                crossing += crosses(x)
                crumbs += float(np.hypot(*np.diff(x.points, axis=0).T).sum()) < CRUMB
    within = float(np.mean(np.array(far) <= 0.005))
    report(
        f"{PLANS} random plans: every reading within 0.5 % of a head",
        f"{within:.1%}, worst {100 * max(far):.2f} %",
        "all",
        within == 1,
    )
    report(
        "at random turns: contours crossing themselves, crumbs", f"{crossing}, {crumbs} of {strokes}", "0", crossing + crumbs == 0
    )
    report("numbers that are none", f"{bad}", "0", bad == 0)


def _frame_of_a_gauge(k: int) -> float:
    """Seconds of one frame of the interface thread while a trait's mark moves: the figure itself is made elsewhere."""
    window = _window()
    station, d = window.desk.station, window.desk.document
    if not d.dragging:
        d.begin("Shoulders")

    def frame() -> None:
        station.edits.trait("shoulder_hh", 1.7 + 0.01 * k)
        window.desk.flush()

    return once(frame)


@cache
def _window() -> Window:
    return demo("Figure", 1)


if __name__ == "__main__":
    run()
