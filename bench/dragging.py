"""Dragging one landmark: our own computation against what Qt needs to paint the very same window alone."""

from __future__ import annotations

import itertools

import numpy as np
from PySide6.QtCore import QPoint
from PySide6.QtGui import QImage, QPainter
from PySide6.QtTest import QTest

from orthomet.app import render
from orthomet.app.application import make_application
from orthomet.app.looks import screen_looks
from orthomet.app.theme.tokens import theme
from orthomet.core.head.construct import construction
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.plan.plan import make_plan
from orthomet.core.project.edits import place
from orthomet.core.proportions.measure import measure
from orthomet.core.styles.schools import school

from .timing import alternating, report


def run() -> None:
    make_application()
    from orthomet.app.shell import Window

    w = Window()
    desk = w.furnish(keep_journal=False)
    w.show()
    desk.open_demo()
    QTest.qWait(800)
    d = desk.document
    c = d.character
    assert c is not None and c.reference is not None
    marks, rng = c.reference.marks, np.random.default_rng(0)
    target = QImage(1280, 800, QImage.Format.Format_ARGB32_Premultiplied)

    turn = itertools.cycle(FRONT.essential)

    def compute() -> None:
        name = next(turn)
        x, y = marks.points[name]
        moved = place(marks, {name: (x + rng.normal() * 2, y + rng.normal() * 4)})
        m = measure(moved.landmarks())
        p = make_plan(m, c.decisions, c.noticed)
        construction(p.table, p.points, school(c.decisions.school), c.decisions.school_settings)

    def paint() -> None:
        p = QPainter(target)
        w.render(p, QPoint(0, 0))
        p.end()

    plan = d.plan()
    drawing = construction(plan.table, plan.points, school(c.decisions.school), c.decisions.school_settings)

    def paint_drawing() -> None:
        target.fill(0xFFFFFFFF)
        p = QPainter(target)
        p.translate(640, 100)
        render.paint(p, drawing, 560, screen_looks(theme.t), 1.0)
        p.end()

    ours, qt = alternating(compute, paint_drawing, 150)
    value = f"p95 {1e3 * np.percentile(ours, 95):.1f} ms / paint {1e3 * np.median(qt):.1f} ms = {np.percentile(ours, 95) / np.median(qt):.2f}"
    report("drag: the same against painting the bare construction", value, "≤ 1", bool(np.percentile(ours, 95) <= np.median(qt)))
    for name in ("Reference", "Plan"):
        desk.go_named(name)
        QTest.qWait(200)
        ours, qt = alternating(compute, paint, 150)
        value = f"p95 {1e3 * np.percentile(ours, 95):.1f} ms / paint {1e3 * np.median(qt):.1f} ms = {np.percentile(ours, 95) / np.median(qt):.2f}"
        report(
            f"drag: measure, plan, construct against painting {name}",
            value,
            "≤ 1",
            bool(np.percentile(ours, 95) <= np.median(qt)),
        )
    desk.go_named("Plan")
    QTest.qWait(100)
    d.begin("drag")

    def whole() -> None:
        x, y = marks.points["stomion"]
        new = place(marks, {"stomion": (x, y + rng.normal() * 4)})
        from orthomet.core.project.edits import change_reference

        d.preview(change_reference(c.id, c.reference.id, marks=new))
        desk.flush()

    ours, qt = alternating(whole, paint, 100)
    report(
        "… with every row, badge and meter brought up to date",
        f"p95 {1e3 * np.percentile(ours, 95):.1f} ms = {np.percentile(ours, 95) / np.median(qt):.2f} × paint",
        "(for information)",
        True,
    )
    d.cancel()
    d._saved = d.project
    w.close()
