"""Plan with projection over 2,000 random faces; baseline: the same plans without projection's need (e = 1, s = 0)."""

from __future__ import annotations

import numpy as np

from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.feasible import allow, worst
from orthomet.core.plan.plan import basis, make_plan
from orthomet.core.plan.space import face_space
from orthomet.core.proportions.measure import measure
from orthomet.core.styles.library import style, styles
from tests.faces import marks_of, random_table

from .timing import once, report


def run() -> None:
    rng, space, names = np.random.default_rng(0), face_space(), sorted(styles())
    times, left, projected = [], 0, 0
    faces = [measure(marks_of(random_table(rng, 1.2))) for _ in range(2000)]
    make_plan(faces[0], Decisions())
    for m in faces:
        name = names[int(rng.integers(len(names)))]
        e = {k: float(rng.choice([0, 0.5, 1, 1.5, 2, 3])) for k in space.keys}
        d = Decisions(style=name, style_weight=float(rng.random()), emphasis=e)
        basis("adult", style(name))
        times.append(once(lambda m=m, d=d: make_plan(m, d)))
        p = make_plan(m, d)
        projected += bool(p.limits)
        allowance = allow(space, space.encode(m.values[space.in_registry]), basis("adult", style(name)).allowance)
        left += worst(space, space.encode(p.traits), allowance) < -1e-5
    ms = np.array(times) * 1e3
    report(
        "plan with projection, median of 2,000 faces",
        f"{np.median(ms):.2f} ms (p95 {np.percentile(ms, 95):.2f})",
        "≤ 2 ms",
        bool(np.median(ms) <= 2),
    )
    report("plans left infeasible", f"{left} of 2,000 ({projected} met a limit)", "0", left == 0)
    plain = np.array([once(lambda m=m: make_plan(m, Decisions(style_weight=0))) for m in faces[:500]]) * 1e3
    report(
        "… against the same plan where nothing binds", f"ratio {np.median(ms) / np.median(plain):.2f}", "(for information)", True
    )
