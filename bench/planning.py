"""Plan with projection over 2,000 random faces; baseline: the same plans without projection's need (e = 1, s = 0)."""

from __future__ import annotations

import warnings
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.feasible import allow, worst
from orthomet.core.plan.plan import basis, make_plan
from orthomet.core.plan.space import face_space
from orthomet.core.plan.versions import Version, decisions_of
from orthomet.core.proportions.measure import Measured, measure
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
    scores_follow_the_style_weight(faces[:500])
    with ProcessPoolExecutor(2) as two:
        failed = [f for part in two.map(_without_exception, range(CAMPAIGN // EACH)) for f in part]
    report(
        f"faces × styles × emphases × offsets × versions, {CAMPAIGN:,} plans: exceptions",
        f"{len(failed)} {failed[:1] if failed else ''}",
        "0",
        not failed,
    )


CAMPAIGN, EACH = 100_000, 5_000


def _without_exception(part: int) -> list[str]:
    """Plans of one share of the campaign; what went wrong, in words."""
    warnings.simplefilter("error")
    rng, names, failed = np.random.default_rng(1000 + part), sorted(styles()), []
    space = face_space()
    for k in range(EACH):
        if k % 20 == 0:
            m = measure(marks_of(random_table(rng, float(rng.choice([0.7, 1, 1.5, 2.5])))))
        kind = int(rng.integers(3))
        decided = Decisions(
            style=names[int(rng.integers(len(names)))],
            style_weight=float(rng.choice([0, 0.5, 1, rng.random()])),
            emphasis={key: float(rng.choice([-2, 0, 0.5, 1, 1.5, 2, 3, 5])) for key in space.keys} if kind else {},
            offsets={key: float(rng.normal() * 0.5) for key in space.keys if rng.random() < 0.15} if kind == 2 else {},
            emphasis_all=float(rng.choice([1, 2, 3, -1])),
            overlap=bool(rng.random() < 0.2),
        )
        age = float(rng.choice([4, 30, 60]))
        kinds = (("younger", 8.0), ("older", 30.0), ("milder", 0.4), ("stronger", 2.0), ("edition", 1.0))
        what, amount = kinds[int(rng.integers(len(kinds)))]
        version = Version.model_validate({"id": "v", "title": "v", "kind": what, "amount": amount, "style": names[0]})
        try:
            for d in (decided, decisions_of(decided, version, age)):
                assert np.isfinite(make_plan(m, d).traits).all()
        except Exception as e:
            failed.append(f"{part}/{k}: {type(e).__name__} {e}"[:120])
    return failed


def scores_follow_the_style_weight(faces: list[Measured]) -> None:
    """Likeness must fall and style rise as the style weight grows, to one point, over 500 random references and every style."""
    weights = np.linspace(0, 1, 6)
    wrong = {"likeness rises": 0, "style falls": 0}
    ends = []
    for k, m in enumerate(faces):
        name = sorted(styles())[k % len(styles())]
        plans = [make_plan(m, Decisions(style=name, style_weight=float(s))) for s in weights]
        wrong["likeness rises"] += bool((np.diff([p.likeness.score for p in plans]) > 1.0).any())
        toward = [p.style for p in plans]
        wrong["style falls"] += bool(None not in toward and (np.diff(toward) < -1.0).any())  # type: ignore[arg-type]
        ends.append((plans[0].likeness.score, plans[-1].likeness.score))
    first, last = np.mean(ends, 0)
    for what, n in wrong.items():
        report(f"references whose {what} with the style weight", f"{n} of {len(faces)} ({first:.0f} → {last:.0f})", "0", n == 0)
