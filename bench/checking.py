"""The check and how often it names the true cause; baseline: one registration alone."""

from __future__ import annotations

from functools import partial

import numpy as np

from orthomet.core.check.check import check
from orthomet.core.check.moves import moves
from orthomet.core.errors import LandmarkError
from orthomet.core.landmarks.points import from_array
from orthomet.core.landmarks.register import register
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.plan import make_plan
from orthomet.core.proportions.measure import measure
from tests.faces import as_picture, marks_of, random_table

from .timing import once, report


def run() -> None:
    rng = np.random.default_rng(1)
    plan = make_plan(measure(marks_of(random_table(rng, 0.6))), Decisions(style_weight=0.3)).points
    named = moves(plan)
    for size, goal in ((1, 0.91), (2, 0.82)):
        right = tried = 0
        times, base = [], []
        for _ in range(200):
            chosen = rng.choice(len(named), size, replace=False)
            q = plan.copy()
            for k in chosen:
                q = q + np.nan_to_num(named[k].field) * rng.choice([-1, 1]) * rng.uniform(0.03, 0.06)
            marks = from_array(as_picture(q, 850, 0.04) + rng.normal(size=q.shape) * 0.7)
            try:
                c = check(marks, plan)
            except LandmarkError:
                continue
            tried += 1
            right += {m.name for m in c.fix.moves} == {named[k].name for k in chosen}
            times.append(once(partial(check, marks, plan)))
            base.append(once(partial(register, marks.array(), plan)))
        words = "single" if size == 1 else "double"
        report(
            f"true cause of {words} faults named",
            f"{right / tried:.0%} of {tried}",
            f"≥ {goal:.0%} (greedy, the page)",
            right / tried >= goal,
        )
        ms = 1e3 * np.median(times)
        report(
            f"check of a {words} fault",
            f"{ms:.1f} ms, {np.median(times) / np.median(base):.0f} × registration",
            "(for information)",
            True,
        )
