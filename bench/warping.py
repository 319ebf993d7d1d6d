"""The picture moved to the plan: against scikit-image's thin-plate warp, and against one bare remap with ready maps."""

from __future__ import annotations

import cv2
import numpy as np
from skimage.transform import ThinPlateSplineTransform, warp

from orthomet.core.imaging.warp import anchored, oval, shifts, spline, warped
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.resolve import plan_of_character
from orthomet.demo.project import demo_project
from tests.portraits import shipped

from .timing import alternating, once, report

LIVE = 8


def run() -> None:
    project = demo_project().project
    c = project.characters[0]
    source = c.references[0].marks.landmarks().array()
    top, chin = source[FRONT.index["vertex"]], source[FRONT.index["gnathion"]]
    target = plan_of_character(c, project).points * (chin[1] - top[1]) + top
    full = shipped("berta")
    k = 0.45
    small = cv2.resize(full, None, fx=k, fy=k, interpolation=cv2.INTER_AREA)
    t, s = anchored(target * k, source * k)
    h, w = small.shape[:2]
    (x0, y0, x1, y1), shift = shifts(spline(t, s), oval(target * k, source * k), (w, h), LIVE)
    mx, my = np.meshgrid(np.arange(w, dtype=np.float32), np.arange(h, dtype=np.float32))
    mx[y0:y1, x0:x1] += shift[..., 0]
    my[y0:y1, x0:x1] += shift[..., 1]
    ours, bare = alternating(
        lambda: warped(small, target * k, source * k, LIVE), lambda: cv2.remap(small, mx, my, cv2.INTER_LINEAR), 20
    )
    ok = np.isfinite(t).all(1) & np.isfinite(s).all(1)
    general = ThinPlateSplineTransform()
    general.estimate(t[ok], s[ok])
    theirs = once(lambda: warp(small, general, order=1))
    mine = float(np.median(ours))
    report(
        "moved picture, live size, against scikit-image",
        f"{1e3 * mine:.1f} ms, {theirs / mine:.0f} × faster",
        "≥ 100 ×",
        theirs >= 100 * mine,
    )
    report("the same against one bare remap", f"{mine / np.median(bare):.2f}", "≤ 1.5", mine <= 1.5 * float(np.median(bare)))
    report(
        "moved picture, full size",
        f"{1e3 * min(once(lambda: warped(full, target, source)) for _ in range(3)):.0f} ms",
        "(for information)",
        True,
    )
